"""Sentences of the core hold together: places and values match, what is said twice is said alike, numbers are values."""

import ast
import re
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

import pytest

import dravel.core
from dravel.core.model.words import (
    PLACE,
    Text,
    Value,
    about,
    as_text,
    exposure,
    integration,
    joined,
    number,
    shown,
    text,
    with_unit,
)

CORE = Path(dravel.core.__file__).parent
FILES = sorted(CORE.rglob("*.py"))


def calls():
    """Every call of `text` with a template that stands there as it is: file, line, template, names handed over."""
    for path in FILES:
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "text"):
                continue
            if node.args and isinstance(node.args[0], ast.Constant) and isinstance(node.args[0].value, str):
                yield (
                    path.relative_to(CORE),
                    node.lineno,
                    node.args[0].value,
                    {keyword.arg for keyword in node.keywords},
                )


CALLS = list(calls())


def test_there_are_templates_to_look_at():
    assert len(CALLS) > 800


def test_every_place_of_a_template_is_filled():
    missing = [
        f"{path}:{line} {set(PLACE.findall(template)) - given}"
        for path, line, template, given in CALLS
        if None not in given and set(PLACE.findall(template)) - given
    ]
    assert missing == []


def test_no_template_holds_a_stray_brace():
    stray = [f"{path}:{line}" for path, line, template, _ in CALLS if re.search(r"[{}]", PLACE.sub("", template))]
    assert stray == []


def test_no_template_ends_in_two_stops_or_begins_with_one():
    odd = [f"{path}:{line} {item}" for path, line, item, _ in CALLS if re.search(r"\.\.$|\s\.$|  ", item)]
    assert odd == []


def test_a_sentence_is_at_most_thirty_words():
    """Reasons are read in the dark; cautions and beliefs may be longer."""
    long = defaultdict(list)
    for path, line, template, _ in CALLS:
        if "build" in str(path) or "beliefs" in str(path) or "design" in str(path):
            continue
        for sentence in re.split(r"(?<=[.;:])\s", template):
            if len(sentence.split()) > 30:
                long[str(path)].append((line, sentence))
    assert not long


@pytest.mark.parametrize(
    ("value", "words"),
    [
        (Value(0.05, form="share"), "5%"),
        (Value(0.0004, form="share"), "<1%"),
        (Value(0.0, form="share"), "0%"),
        (Value(1.245, "mm", 1), "1.2 mm"),
        (Value(-1.25, "mm", 2), "−1.25 mm"),
        (Value(1.25, "mm", 2, form="signed"), "+1.25 mm"),
        (Value(0.0, "mm", 1, form="signed"), "0.0 mm"),
        (Value(55.7, "mm", 1, off=0.2), "55.7 ± 0.2 mm"),
        (Value(2.8, "h", form="about", to=13), "2.8–13 h"),
        (Value(3, "h", form="about", to=3.04), "3 h"),
        (Value(None, "mm"), "—"),
        (Value(12.5, "″/px", 1), "12.5″/px"),
        (Value(12.5, "× integration time", 1), "12.5× integration time"),
        (Value(1240, "m"), "1,240 m"),
        (Value(565, form="time"), "9 min 25 s"),
        (Value(565, form="exposure"), "565 s"),
        (Value(0.0125, form="exposure"), "0.013 s"),
        (Value(2.5, form="exposure"), "2.5 s"),
        (Value(3.5, form="long"), "3 h 30 min"),
        (Value(61.35, form="integration"), "61 h"),
        (Value(5.83, form="integration"), "5 h 50 min"),
        (Value(0.7, form="integration"), "42 min"),
        (Value(0.001, form="integration"), "<1 min"),
        (Value(12345, "e⁻", form="about"), "12,000 e⁻"),
    ],
)
def test_a_value_is_written_one_way(value, words):
    assert shown(value) == words == str(value) == f"{as_text(value)}"


@pytest.mark.parametrize(
    ("write", "given", "words"),
    [
        (number, 0.049, "0.05"),
        (number, 99.96, "100"),
        (number, 123.4, "123"),
        (number, float("inf"), "∞"),
        (number, float("-inf"), "−∞"),
        (number, float("nan"), "—"),
        (about, 0.0, "0"),
        (about, 0.0712, "0.071"),
        (about, 84.4, "84"),
        (exposure, 180, "180 s"),
        (exposure, 1020, "1,020 s"),
        (exposure, 0, "0 s"),
        (integration, float("inf"), "∞ h"),
        (integration, 9.99, "10 h"),
        (integration, 1.0, "1 h"),
    ],
)
def test_numbers_are_written_one_way(write, given, words):
    assert write(given) == words


def test_signs_stand_close_and_units_apart():
    assert with_unit("5", "%") == "5%" and with_unit("5", "mm") == "5 mm" and with_unit("5", "") == "5"


def test_texts_add_up_and_keep_their_values():
    first = text("Focus needs {needed}.", needed=Value(95.3, "mm", 1, key="spacing.focuser_position_mm"))
    both = first + text(" Travel is {travel}.", travel=Value(85, "mm", 0))
    assert both == "Focus needs 95.3 mm. Travel is 85 mm."
    assert [value.number for _, value in both.values()] == [95.3, 85]
    assert next(iter(both.values()))[0] == "spacing.focuser_position_mm"
    listed = joined(", ", (first, "", "and more"))
    assert listed == "Focus needs 95.3 mm., and more"


def test_a_text_is_as_its_words_are():
    item, other = text("Back focus {now}.", now="55 mm"), Text("Back focus 55 mm.")
    assert item == other == "Back focus 55 mm." and hash(item) == hash("Back focus 55 mm.")
    assert item in {"Back focus 55 mm."} and "55" in item and item != "Back focus 56 mm."
    assert not Text("") and bool(item)


def test_a_name_with_braces_stays_a_name():
    part = as_text("ring {M48}")
    assert part == "ring {M48}" and text("Add {part}", part="ring {M48}") == "Add ring {M48}"


def _compared(tree: ast.AST) -> Iterator[ast.Constant]:
    """Constants that something is compared with, or looked for in a text."""
    for node in ast.walk(tree):
        beside: list[ast.expr] = []
        if isinstance(node, ast.Compare):
            beside = [node.left, *node.comparators]
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
            beside = node.args if node.func.attr in ("startswith", "endswith", "find", "count") else []
        for item in beside:
            yield from (k for k in ast.walk(item) if isinstance(k, ast.Constant) and isinstance(k.value, str))


def test_no_rule_of_the_job_hangs_on_words():
    """What is said may be said otherwise, and in another language: only codes and values are compared."""
    allowed = {"by hand", "stays: "}  # tools of cards, names of conflicts: not what a reader sees
    results = [
        f"{path.relative_to(CORE)}:{item.lineno} {item.value!r}"
        for path in sorted(CORE.rglob("*.py"))
        for item in _compared(ast.parse(path.read_text(encoding="utf-8")))
        if " " in str(item.value).strip() and item.value not in allowed
    ]
    assert not results
