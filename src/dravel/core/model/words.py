"""Sentences that carry their values: a template, what stands in its places, and how a number is written.

A `Text` reads as plain text wherever text is wanted, on paper and on the command line; whoever wants more finds its
template, which is what a translation is looked up by, and its values, each with the key that leads to its calculation.
"""

import re
import sys
from collections.abc import Callable, Iterable, Iterator, Mapping
from datetime import date, datetime
from functools import lru_cache
from math import floor, isfinite, isnan, log10
from types import CodeType
from typing import TYPE_CHECKING, Any, Literal, NamedTuple

from pydantic import BaseModel, GetCoreSchemaHandler
from pydantic_core import CoreSchema, core_schema

Form = Literal["", "signed", "time", "exposure", "long", "integration", "share", "about"]

MINUS = "−"
DASH = "—"
CLOSE = frozenset({"°", "′", "″", "%", "×", "″/px", "″/h", "°/h"})  # written close to their number; others stand apart
PLACE = re.compile(r"\{(\w+)\}")
LEAST_SHARE = 0.01  # of a hundredth: less is said to be less


class Value(NamedTuple):
    """A number in a sentence. `digits` are its decimals; None is as many as it has, of three figures at most.

    `form` is how it is written: ``signed`` with its sign, ``time`` as a duration of so many seconds (9 min 25 s),
    ``exposure`` as a length of sub, always in seconds (0.012 s, 180 s, 1,020 s),
    ``long`` as one of so many hours (3 h 30 min), ``integration`` as hours of light that are known to a few hundredths
    (45 min, 3 h 30 min, 61 h), ``share`` in hundredths, ``about`` in two figures at most.
    `off` is what it may be wrong by, `to` the other end of a range. A value without a key leads to the function that
    says the sentence.
    """

    number: float | None
    unit: str = ""
    digits: int | None = None
    key: str = ""
    form: Form = ""
    off: float | None = None
    to: float | None = None
    origin: str = ""

    def __str__(self) -> str:
        return shown(self)


def number(value: float, digits: int | None = None) -> str:
    """A number as it is written: ``1,240``, ``−0.7``, ``55``; what rounds to nothing has no sign."""
    if not isfinite(value):
        return DASH if isnan(value) else "∞" if value > 0 else f"{MINUS}∞"
    if digits is None:
        digits = 0 if abs(value) >= 100 else 1 if abs(value) >= 10 else 2
        written = f"{value:,.{digits}f}"
        written = written.rstrip("0").rstrip(".") if digits else written
    else:
        written = f"{value:,.{digits}f}"
    return written.lstrip("-") if not written.strip("-0.,") else written.replace("-", MINUS)


def about(value: float) -> str:
    """A number that is known to two figures at most: ``1,200``, ``84``, ``3.5``, ``0.07``."""
    if not value or not isfinite(value):
        return number(value, 0)
    places = 1 - floor(log10(abs(value)))
    written = number(round(value, places), max(places, 0))
    return written.rstrip("0").rstrip(".") if places > 0 else written


def with_unit(written: str, unit: str) -> str:
    """A written number with its unit: signs stand close, all others a space apart."""
    if unit in CLOSE or unit.startswith("×"):
        return written + unit
    return f"{written} {unit}" if unit else written


def duration(seconds: float) -> str:
    """So long, in two parts at most: ``0.5 s``, ``45 s``, ``9 min 25 s``, ``3 h 30 min``, ``237 h``."""
    if not isfinite(seconds):
        return number(seconds)
    if seconds < 0:
        return MINUS + duration(-seconds)
    if seconds == 0:
        return "0 min"
    if seconds < 59.5:
        return f"{number(seconds, 0) if seconds >= 9.95 else about(seconds)} s"
    if seconds < 3599.5:
        minutes, rest = divmod(round(seconds), 60)
        return f"{minutes} min {rest} s" if rest else f"{minutes} min"
    hours, minutes = divmod(round(seconds / 60), 60)
    if hours >= 100:
        return f"{number(seconds / 3600, 0)} h"
    return f"{hours} h {minutes} min" if minutes else f"{hours} h"


def integration(hours: float) -> str:
    """Hours of light: ``45 min``, ``3 h 30 min``, ``61 h``; nobody knows them to the minute."""
    if not isfinite(hours) or hours >= 10:
        return f"{number(hours, 0)} h"
    minutes = hours * 60
    return (
        "<1 min"
        if minutes < 0.5
        else duration(round(minutes if minutes < 60 else minutes / 5) * (60 if minutes < 60 else 300))
    )


def exposure(seconds: float) -> str:
    """A length of sub as it is set: ``0.012 s``, ``2.5 s``, ``180 s``."""
    return f"{about(seconds) if 0 < seconds < 9.95 else number(seconds, 0)} s"


def shown(value: Value) -> str:
    """A value as it is written, with unit, tolerance or range; a dash where it is not known."""
    if value.number is None:
        return DASH
    write, unit = _writer(value)
    written = write(value.number)
    if value.form == "signed" and value.number > 0 and written.strip("0.,"):
        written = f"+{written}"
    if value.to is not None and (end := write(value.to)) != written:
        written = f"{written}–{end}"
    if value.off is not None:
        written = f"{written} ± {write(value.off)}"
    return with_unit(written, unit)


def _writer(value: Value) -> tuple[Callable[[float], str], str]:
    if value.form == "time":
        return duration, ""
    if value.form == "exposure":
        return exposure, ""
    if value.form == "long":
        return lambda hours: duration(hours * 3600), ""
    if value.form == "integration":
        return integration, ""
    if value.form == "share":
        return lambda part: _hundredths(part, value.digits or 0), "%"
    if value.form == "about":
        return about, value.unit
    return lambda item: number(item, value.digits), value.unit


def _hundredths(part: float, digits: int) -> str:
    """What is there is never nought: ``<1``."""
    written = number(part * 100, digits)
    return f"<{10.0**-digits:g}" if part > 0 and not written.strip("0.") else written


_words: Callable[[str], str] = str


def speak(words: Callable[[str], str]) -> None:
    """Have sentences said in other words from here on: `words` gives a template in another language."""
    global _words
    _words = words


def said(words: str) -> str:
    """Plain words as they are said now: a title, a question."""
    return _words(words)


class Text:
    """A sentence: its template and what stands in its places. It is rendered when it is read, not when it is made: a
    search for better rigs makes thousands that nobody reads.

    `home` is where values without a key of their own lead: the code of a rule, or the function that says it.
    """

    __slots__ = ("_home", "_read", "code", "parts", "template")

    def __init__(
        self, template: str, parts: "Mapping[str, Part] | None" = None, home: "str | CodeType" = "", code: str = ""
    ) -> None:
        self.template = template
        self.code = code
        self.parts: Mapping[str, Part] = parts or {}
        self._home = home
        self._read: str | None = None

    @property
    def home(self) -> str:
        """Where its values lead."""
        if isinstance(self._home, str):
            return self._home
        return f"{_module(self._home.co_filename)}.{self._home.co_qualname}"

    def __str__(self) -> str:
        if self._read is None:
            words = _words(self.template)
            self._read = PLACE.sub(lambda place: str(self.parts[place[1]]), words) if self.parts else words
        return self._read

    def __repr__(self) -> str:
        return repr(str(self))

    def __format__(self, spec: str) -> str:
        return format(str(self), spec)

    def __eq__(self, other: object) -> bool:
        return str(self) == str(other) if isinstance(other, Text | str) else NotImplemented

    def __hash__(self) -> int:
        return hash(str(self))

    def __bool__(self) -> bool:
        return bool(self.template)

    if not TYPE_CHECKING:  # for tests and scripts: to the type checker no code of ours may look for words in a text

        def __contains__(self, words: str) -> bool:
            return words in str(self)

    def __add__(self, other: "Words") -> "Text":
        return joined("", (self, other))

    def __radd__(self, other: "Words") -> "Text":
        return joined("", (other, self))

    def at(self, home: str) -> "Text":
        """The same, its values and those of sentences in it led to another home."""
        return Text(self.template, self.parts, home, self.code) if self.parts else self

    def within(self) -> "Iterator[Text]":
        """The sentence itself and those in it."""
        yield self
        for part in self.parts.values():
            if isinstance(part, Text):
                yield from part.within()

    def value(self, name: str) -> Value:
        """The value that stands in a place. Raises `KeyError` where there is none."""
        part = self.parts[name]
        if not isinstance(part, Value):
            raise KeyError(name)
        return part

    def values(self, home: str = "") -> Iterator[tuple[str, Value]]:
        """All values of the sentence and of those in it, each with the key it leads to."""
        given = home or (self._home if isinstance(self._home, str) else "")
        for name, part in self.parts.items():
            if isinstance(part, Value):
                yield part.key or f"{given or self.home}.{name}", part
            elif isinstance(part, Text):
                yield from part.values(given)

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        sent = handler.generate_schema(Sentence)
        return core_schema.no_info_plain_validator_function(
            as_text,
            json_schema_input_schema=sent,
            serialization=core_schema.plain_serializer_function_ser_schema(_sent, return_schema=sent),
        )


class SentencePart(BaseModel):
    """What stands in a place of a sentence; `key` leads to its calculation, `inside` is there of a sentence in it."""

    text: str
    key: str = ""
    inside: "Sentence | None" = None


class Sentence(BaseModel):
    """A sentence as it is sent: as it reads, and its template with what stands in its places. `code` is the same in every
    language and wording; only what is told apart by machines has one.
    """

    text: str
    code: str = ""
    template: str = ""
    parts: dict[str, SentencePart] = {}


Part = Value | Text | str | int
Words = Text | Value | str


@lru_cache(maxsize=1024)
def _module(path: str) -> str:
    """A module's name below the core, from its file."""
    parts = path.removesuffix(".py").replace("\\", "/").split("/")
    below = parts[len(parts) - parts[::-1].index("core") :] if "core" in parts else parts[-1:]
    return ".".join(below)


def as_text(given: object) -> Text:
    """A text from what came as words, or as it was sent. Raises `ValueError` for anything else."""
    if isinstance(given, Text):
        return given
    if isinstance(given, Value):
        return Text("{value}", {"value": given})
    if isinstance(given, str):
        return Text("{words}", {"words": given}) if "{" in given else Text(given)
    if isinstance(given, dict) and isinstance(given.get("text"), str):
        return as_text(given["text"])
    raise ValueError("must be a text")


def _sent(text: Text, home: str = "") -> Sentence:
    text = as_text(text)  # a copy of a model may have taken plain words
    if not text.parts:
        return Sentence(text=str(text), code=text.code)
    home = home or (text._home if isinstance(text._home, str) else "")
    parts = {name: _part(part, text, name, home) for name, part in text.parts.items()}
    return Sentence(text=str(text), code=text.code, template=_words(text.template), parts=parts)


def _part(part: Part, text: Text, name: str, home: str) -> SentencePart:
    if isinstance(part, Value):
        return SentencePart(text=shown(part), key=part.key or f"{home or text.home}.{name}")
    if isinstance(part, Text) and (part.parts or part.code):
        return SentencePart(text=str(part), inside=_sent(part, home))
    return SentencePart(text=str(part))


def text(template: str, code: str = "", /, **parts: Part | None) -> Text:
    """A sentence; what is None leaves its place empty. Its values without a key lead to the function that calls this.

    `code` names what it says, whatever its words: programs and tests go by it.
    """
    given = {name: "" if part is None else part for name, part in parts.items()}
    return Text(template, given, sys._getframe(1).f_code, code)


def clock(at: datetime) -> str:
    """A time of day: ``21:05``."""
    return f"{at:%H:%M}"


def month(on: date) -> str:
    """A month: ``November``."""
    return f"{on:%B}"


def day(on: date) -> str:
    """A day: ``29 Nov 2026``."""
    return f"{on.day} {on:%b %Y}"


def joined(between: str, texts: Iterable[Words]) -> Text:
    """Texts one after another, each with its values; empty ones are left out."""
    pieces = {f"p{i}": item for i, item in enumerate(one for one in texts if one)}
    return Text(between.join(f"{{{name}}}" for name in pieces), pieces)
