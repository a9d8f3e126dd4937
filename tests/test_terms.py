"""Terms of the web: each said once, each used, each place in braces filled where it is used."""

import re
from collections import Counter

from tests.terms import FOLDER, WORDS

SOURCES = {path: path.read_text() for path in FOLDER.parent.rglob("*.ts*") if path.parent != FOLDER}


def test_no_term_is_written_twice():
    twice = [
        words for words, times in Counter(w for place in WORDS.values() for w in place.values()).items() if times > 1
    ]
    assert not twice


def test_every_term_is_used():
    unused = []
    for name, place in WORDS.items():
        alias = "common" if name == "common" else "terms"
        users = "\n".join(text for text in SOURCES.values() if re.search(rf'terms/{name}"', text))
        unused += [f"{name}.{term}" for term in place if not re.search(rf"\b{alias}\.{term}\b|\"{term}\"", users)]
    assert not unused


def test_places_in_braces_are_filled():
    """A term with places is only ever handed to a phrase, which fills them."""
    for path, text in SOURCES.items():
        for alias, term in re.findall(r"(?<!of=\{)(?<!phrase\()\b(terms|common)\.(\w+)", text):
            names = re.findall(r'terms as common \} from "[./]*terms/(\w+)"' if alias == "common" else
                               r'\{ terms \} from "[./]*terms/(\w+)"', text)  # fmt: skip
            for name in names:
                words = WORDS[name].get(term, "")
                assert "{" not in words or re.search(rf"(phrase\(\s*|of=\{{[^}}]*){alias}\.{term}\b", text), (
                    path,
                    term,
                )
