"""A second language is possible: every template of the core is looked up when it is read, its values stay in their places."""

import re
from collections.abc import Iterator
from datetime import date

import pytest

from dravel.catalogue.demo import scenario
from dravel.core.model import Preferences
from dravel.core.model.words import PLACE, Text, speak, text
from dravel.core.steps import STEPS
from tools.catalogue import catalogue

RIGS = dict(scenario().rigs)


@pytest.fixture
def pseudo() -> Iterator[None]:
    """A language that lengthens every template and marks its ends; places stay as they are."""
    speak(lambda template: f"⟦{template}·{'~' * (len(template) // 3)}⟧")
    yield
    speak(str)


def sentences(rig):
    evaluation = STEPS.evaluate(rig, Preferences(), shelf=scenario().parts, tonight=date(2026, 11, 25))
    for finding in evaluation.findings:
        yield from (finding.title, finding.reason, finding.limit, *(fix.label for fix in finding.fixes))
    yield from evaluation.headlines.values()


@pytest.mark.parametrize("name", sorted(RIGS))
def test_no_sentence_is_left_behind(pseudo, name):
    left = [
        str(sentence)
        for sentence in sentences(RIGS[name])
        if isinstance(sentence, Text) and sentence and not str(sentence).startswith("⟦")
    ]
    assert left == []


def test_values_stay_in_their_places(pseudo):
    made = text("Back focus {now}, required {asked}.", now="54.7 mm", asked="55.7 mm")
    assert str(made).startswith("⟦Back focus 54.7 mm, required 55.7 mm.·") and not PLACE.search(str(made))


def test_the_language_of_the_house_is_plain_again():
    assert str(text("Back focus {now}.", now="54.7 mm")) == "Back focus 54.7 mm."


def test_what_is_said_of_the_demo_is_in_the_catalogue():
    known = {str(item.id) for item in catalogue() if not item.context}

    def templates(said):
        yield said.template
        for part in said.parts.values():
            if isinstance(part, Text):
                yield from templates(part)

    said = {template for rig in RIGS.values() for sentence in sentences(rig) for template in templates(sentence)}
    left = {item for item in said if item not in known and re.search(r"[a-z]{3}.* .*[a-z]{3}", PLACE.sub("", item))}
    assert left == set()
