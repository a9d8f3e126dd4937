"""What a sentence says, by its code and its values: tests ask this, so that other words break none of them."""

from collections.abc import Iterable
from typing import Any

from dravel.core.model.words import Text, Value


def says(words: object, code: str, *values: object) -> bool:
    """Whether a text (or one of several) is a sentence of that code, or holds one, with these values among its own, as they
    are written. As it is sent by the API it may be given too.
    """
    if isinstance(words, dict):
        return any(item == code and {str(v) for v in values} <= given for item, given in _sent(words))
    if isinstance(words, Text):
        return any(item.code == code and {str(v) for v in values} <= _values(item) for item in words.within())
    return (
        not isinstance(words, str | Value)
        and isinstance(words, Iterable)
        and any(says(word, code, *values) for word in words)
    )


def _values(one: Text) -> set[str]:
    return {str(part) for inside in one.within() for part in inside.parts.values()}


def _sent(words: dict[str, Any]) -> Iterable[tuple[str, set[str]]]:
    yield words.get("code", ""), {part["text"] for part in words.get("parts", {}).values()}
    for part in words.get("parts", {}).values():
        if part.get("inside"):
            yield from _sent(part["inside"])


def parts(words: Text, code: str) -> list[str]:
    """What stands in the places of the sentence of that code, as it is written."""
    return [str(part) for one in words.within() if one.code == code for part in one.parts.values()]
