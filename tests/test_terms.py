"""Terms of the web: each said once, each used, each place in braces filled where it is used."""

import re
from collections import Counter
from collections.abc import Iterator

from tests.terms import FOLDER, WORDS

SOURCES = {path: path.read_text() for path in FOLDER.parent.rglob("*.ts*") if path.parent != FOLDER}
PLACE = re.compile(r"\{(\w+)\}")


def home(text: str, alias: str) -> str:
    """The place whose terms a source calls so; empty where it has none of that name."""
    named = r"terms as common" if alias == "common" else "terms"
    match = re.search(rf'import \{{ {named} \}} from "[./]*terms/(\w+)"', text)
    return match[1] if match else ""


def test_no_term_is_written_twice():
    """Within a place; another place may need another word for it in another language."""
    for name, place in WORDS.items():
        times = Counter(place.values())
        assert not [words for words, many in times.items() if many > 1], name


def test_every_term_is_used():
    unused = []
    for name, place in WORDS.items():
        alias = "common" if name == "common" else "terms"
        users = "\n".join(text for text in SOURCES.values() if re.search(rf'terms/{name}"', text))
        unused += [f"{name}.{term}" for term in place if not re.search(rf"\b{alias}\.{term}\b|\"{term}\"", users)]
    assert not unused


def given(text: str, at: int) -> str:
    """What is handed over with a term: what stands in the braces that open next, to where they close."""
    start = text.index("{", at)
    depth = 0
    for end in range(start, len(text)):
        depth += {"{": 1, "}": -1}.get(text[end], 0)
        if depth == 0:
            return text[start:end]
    return ""


def uses(text: str) -> Iterator[tuple[str, str, str | None]]:
    """Each use of a term in a source: its place, its key, and what is handed over to fill it (None where nothing is)."""
    for result in re.finditer(r"\b(terms|common)\.(\w+)\b", text):
        name, before = home(text, result[1]), text[: result.start()]
        if result[2] in WORDS.get(name, {}):
            filled = re.search(r"(\bphrase\(|<Phrase\s+of=\{)[^()<>{}]*$", before)
            yield (
                name,
                result[2],
                given(text, text.index("}" if "<" in filled[1] else ",", result.end()) + 1) if filled else None,
            )


def test_places_in_braces_are_filled():
    """A term with places is only ever handed to a phrase, with something for each of them."""
    seen = 0
    for path, text in SOURCES.items():
        for name, term, handed in uses(text):
            for place in PLACE.findall(WORDS[name][term]):
                assert handed is not None and re.search(rf"\b{place}\b", handed), (path.name, term, place)
                seen += 1
    assert seen > 500
