"""Every key that the interface gives a number leads to a place in the code and to an account of how it is worked out."""

import re
from pathlib import Path

import pytest

import dravel.api.app  # noqa: F401  its models are answers too
from dravel.api.makers import answered, makers, model_of
from dravel.core.overview.calculation import calculation
from dravel.core.steps import STEPS
from dravel.where import where

WEB = Path(__file__).parents[1] / "web/src"
KEY = re.compile(r'<(?:Num|Says)\b[^<>]*?\sof="([^"$]+)"|data-figure="([^"$]+)"|keyed\("([^"]+)"\)')
TYPED = {"Target", "Framing", "Sensor", "Site", "Price"}  # given by the user or a list: many places make them


def keys():
    result = {}
    for path in sorted(item for item in WEB.rglob("*.tsx") if not item.name.endswith(".test.tsx")):
        for match in KEY.finditer(path.read_text(encoding="utf-8")):
            result.setdefault(next(filter(None, match.groups())), path.name)
    return result


def test_the_interface_has_keys():
    assert len(keys()) > 100


@pytest.mark.parametrize("key", sorted(keys()))
def test_a_key_of_the_interface_leads_home(key):
    made = answered(key) if key[0].isupper() else calculation(STEPS, key)
    assert made.title and made.key == key
    places = where(key)
    assert places and all(re.fullmatch(r"dravel/[\w/]+\.py:\d+", at) for at, _ in places)
    if key[0].isupper():
        model = model_of(key.partition(".")[0])
        assert any(maker.name for maker in makers(model.__name__)), key


@pytest.mark.parametrize(
    "key", ["NoSuch.field", "ExposureSub.no_such", "no.such", "Z9.x", "steps.exposure.view.nothing.x", "X"]
)
def test_another_key_leads_nowhere(key):
    with pytest.raises(KeyError):
        where(key)
