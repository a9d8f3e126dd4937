"""Everything a user reads speaks the field's words: what is banned, how titles, limits, units and signs are written."""

import ast
import json
import re
from pathlib import Path

import pytest

import dravel
from dravel.core.steps import STEPS

SOURCE = Path(dravel.__file__).parent
TOP = Path(__file__).parents[1]
TERMS = sorted((TOP / "web/src/terms").glob("*.json"))
PAGES = sorted([*(TOP / "docs/guide").glob("*.md"), *(TOP / "docs/tutorials").glob("*.md"), TOP / "README.md"])

BANNED = re.compile(
    r"\b(wished|mends?|mended|ledger|put away|puts away|anew|reckon\w*|by itself|whatever|wise|firm|firmly"
    r"|hydrogen light|signal to noise|by the clock|hop card|solved frame|heating band|Dravel's own|from memory"
    r"|stand-ins|the shelf|the preferences|rule book|footprint|Lay the|Lay a)\b",
    re.I,
)
# Names of the trade, and words that are meant.
MEANT = re.compile(r"wise load|counter-clockwise|clockwise|[Ww]ish list|speed of light|back light")
SPACED = re.compile(r"\d (%|°|′|″)(?![\w/])")
MINUS = re.compile(r"(?<![\w}]) -\d")


def sentences():
    """Every term of the web, and every template and text of rules in the core, with where it stands."""
    for path in TERMS:
        for key, words in json.loads(path.read_text(encoding="utf-8")).items():
            yield f"{path.name}:{key}", words
    for path in sorted((SOURCE / "core").rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if (
                isinstance(node, ast.Call)
                and isinstance(node.func, ast.Name)
                and node.func.id in ("text", "rule", "Attempt", "School")
            ):
                for item in ast.walk(node):
                    if isinstance(item, ast.Constant) and isinstance(item.value, str) and " " in item.value.strip():
                        yield f"{path.relative_to(SOURCE)}:{item.lineno}", item.value


def found(pattern, texts):
    return [
        f"{where}: {words}" for where, words in texts if pattern.search(MEANT.sub("", re.sub(r"\{\w+\}", "x", words)))
    ]


def test_no_banned_word_in_the_application():
    assert found(BANNED, sentences()) == []


def test_units_stand_close_and_minus_is_a_minus():
    assert found(SPACED, sentences()) == [] and found(MINUS, sentences()) == []


@pytest.mark.parametrize("document", PAGES, ids=lambda path: path.stem)
def test_no_banned_word_in_the_documents(document):
    lines = (
        (f"{document.name}:{i}", line) for i, line in enumerate(document.read_text(encoding="utf-8").splitlines(), 1)
    )
    prose = [(where, re.sub(r"`[^`]*`|\]\([^)]*\)", "", line)) for where, line in lines]
    assert found(BANNED, prose) == []


def test_titles_of_findings_are_short_and_say_a_state():
    long = [
        f"{code} {item}"
        for code, rule in STEPS.rules.items()
        for item in (rule.title,)
        if len(item.split()) > 6 or item.endswith(".") or not item[0].isupper()
    ]
    assert long == []


def test_limits_have_a_sign_a_number_and_both_levels():
    for code, rule in STEPS.rules.items():
        for limit in rule.limits:
            if limit.page:
                assert re.fullmatch(r"(warning|problem) [<>] [\d.,e+]+.*", str(limit.page)), (code, limit.page)
