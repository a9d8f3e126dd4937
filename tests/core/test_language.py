"""A second language is possible: every template of the core is looked up when it is read, its values stay in their places."""

import re
from collections.abc import Iterator
from datetime import date

import pytest

from dravel.catalogue.demo import scenario
from dravel.core.model import Practice
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
    found = STEPS.evaluate(rig, Practice(), shelf=scenario().parts, tonight=date(2026, 11, 25))
    for one in found.findings:
        yield from (one.title, one.reason, one.limit, *(mend.label for mend in one.mends))
    yield from found.headlines.values()


@pytest.mark.parametrize("name", sorted(RIGS))
def test_no_sentence_is_left_behind(pseudo, name):
    left = [str(one) for one in sentences(RIGS[name]) if isinstance(one, Text) and one and not str(one).startswith("⟦")]
    assert left == []


def test_values_stay_in_their_places(pseudo):
    made = text("Back focus {now}, required {asked}.", now="54.7 mm", asked="55.7 mm")
    assert str(made).startswith("⟦Back focus 54.7 mm, required 55.7 mm.·") and not PLACE.search(str(made))


def test_the_language_of_the_house_is_plain_again():
    assert str(text("Back focus {now}.", now="54.7 mm")) == "Back focus 54.7 mm."


def test_what_is_said_of_the_demo_is_in_the_catalogue():
    known = {str(one.id) for one in catalogue() if not one.context}

    def templates(said):
        yield said.template
        for part in said.parts.values():
            if isinstance(part, Text):
                yield from templates(part)

    said = {template for rig in RIGS.values() for one in sentences(rig) for template in templates(one)}
    left = {one for one in said if one not in known and re.search(r"[a-z]{3}.* .*[a-z]{3}", PLACE.sub("", one))}
    assert left == set()
