"""What every model shares: frozen, closed to unknown fields, and numbers that know their unit and range."""

import re
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Annotated, Any, ClassVar

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    GetCoreSchemaHandler,
    GetJsonSchemaHandler,
    Strict,
    ValidationError,
    ValidationInfo,
    model_validator,
)
from pydantic_core import CoreSchema, PydanticCustomError, core_schema


class Model(BaseModel):
    """Frozen base of all documents. Raises `pydantic.ValidationError` on unknown fields and on NaN or infinity."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


MANY_LINES = "notes"  # the only field whose text may have several lines
_BREAKS = re.compile("\r\n?|[\x0b\x0c\x1c-\x1e\x85\u2028\u2029]")
_UNSPEAKABLE = re.compile("[\x00-\x08\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufdd0-\ufdef\ufffe\uffff]")


def clean(text: str, *, lines: bool = False) -> str:
    """A text without what no file format can carry: controls, lone surrogates, what is no character.

    Line breaks of every kind become plain ones where `lines` are wanted, spaces elsewhere, as do tabs.
    """
    if text.isprintable():
        return text
    text = _UNSPEAKABLE.sub("", _BREAKS.sub("\n", text))
    return text if lines else text.replace("\n", " ").replace("\t", " ")


MOST_UNKNOWN = 20  # fields that are told one by one


class Document(Model):
    """Base of what is typed, imported and kept. Texts are cleaned at every door, old ones too; a list longer than any
    is refused before its items are looked at, as is an object of fields that nobody knows.

    `earlier` names the fields that had another name in earlier versions: what those wrote is still read.
    """

    earlier: ClassVar[dict[str, str]] = {}

    @model_validator(mode="before")
    @classmethod
    def _fit_to_be_read(cls, given: Any) -> Any:
        if not isinstance(given, dict):
            return given
        if len(given) > len(cls.model_fields) + MOST_UNKNOWN:
            raise ValueError(f"has {len(given):,} fields, more than anything here; none was looked at")
        if cls.earlier and not cls.earlier.keys().isdisjoint(given):
            today = {key: cls.earlier.get(key, key) for key in given}
            given = {key if today[key] in given else today[key]: value for key, value in given.items()}
        result: dict[str, Any] = {}
        for key, value in given.items():
            if isinstance(value, str):
                if not value.isprintable():
                    result[key] = clean(value, lines=key == MANY_LINES)
            elif isinstance(value, list | tuple):
                most = _longest(cls).get(key)
                if most is not None and len(value) > most:
                    raise ValueError(f"{key}: holds {len(value):,} entries; at most {most} are accepted")
                if any(isinstance(item, str) for item in value):
                    result[key] = type(value)(clean(item) if isinstance(item, str) else item for item in value)
        return given | result if result else given


@lru_cache(maxsize=256)
def _longest(model: type[BaseModel]) -> dict[str, int]:
    """How many entries the lists of a model may hold, by field."""
    marks = ((name, mark) for name, field in model.model_fields.items() for mark in field.metadata)
    return {name: most for name, mark in marks if isinstance(most := getattr(mark, "max_length", None), int)}


SHARE = "share"  # the unit of a part of a whole; read and typed in hundredths


@dataclass(frozen=True)
class Quantity:
    """Annotation of a number: what it is called, its unit, and the range a real one lies in.

    Used as ``Annotated[float, Quantity("Pixel size", "µm", 0.5, 30)]``; also on ``float | None`` and ``int``.
    A value outside the range, or text, raises one error that names reason and accepted range together, so
    that form and API can show both without looking anything up.
    """

    title: str
    unit: str
    low: float
    high: float

    def takes(self, number: float) -> bool:
        """Whether a number lies in the range."""
        return self.low <= number <= self.high

    @property
    def accepted(self) -> str:
        """The accepted range in words, e.g. ``0.5 to 30 µm``."""
        if self.unit == SHARE:
            return f"a share of {self.low:g} to {self.high:g}"
        return f"{self.low:g} to {self.high:g} {self.unit}".strip()

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        def check(value: Any, inner: core_schema.ValidatorFunctionWrapHandler) -> Any:
            if isinstance(value, str | bool):
                raise self._error("{title} must be a number, not {given}", given=f"'{value}'"[:60])
            try:
                number = inner(value)
            except ValidationError:
                given = "empty" if value is None else f"'{value}'"[:60]
                raise self._error("{title} must be a number, not {given}", given=given) from None
            if number is not None and not self.takes(number):
                raise self._error(
                    "{title} cannot be {given}",
                    given=f"{_spoken(number)} {'' if self.unit == SHARE else self.unit}".strip(),
                )
            return number

        return core_schema.no_info_wrap_validator_function(check, handler(source))

    def _error(self, template: str, given: str) -> PydanticCustomError:
        return PydanticCustomError(
            "quantity",
            template + "; allowed {accepted}",
            {"title": self.title, "given": given, "accepted": self.accepted},
        )

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        described = handler(schema)
        branches = described.get("anyOf", [described])
        for branch in branches:
            if branch.get("type") in ("number", "integer"):
                branch.update(minimum=self.low, maximum=self.high)
        described.update(title=self.title, unit=self.unit)
        return described


def _spoken(number: float) -> str:
    try:
        return f"{number:g}"
    except OverflowError:
        return f"a number of {len(str(number))} digits"


# Given as validation context for what was kept before: checks made since are not held against it, so that it opens.
KEPT = {"kept": True}


def is_kept(info: ValidationInfo) -> bool:
    """Whether a document is read back from where it was kept."""
    return bool(info.context and info.context.get("kept"))


@lru_cache(maxsize=64)
def quantities(model: type[BaseModel]) -> dict[str, Quantity]:
    """The numeric fields of a model, by name."""
    marks = ((name, mark) for name, field in model.model_fields.items() for mark in field.metadata)
    return {name: mark for name, mark in marks if isinstance(mark, Quantity)}


_WRITTEN_DAY = re.compile(r"\d{4}-\d\d-\d\d")


def _day(given: Any) -> Any:
    """A day is written as one; a number, as text too, would be taken for seconds. Raises `ValueError`."""
    if isinstance(given, int | float) or (isinstance(given, str) and not _WRITTEN_DAY.fullmatch(given)):
        raise ValueError(f"a day is written as 2026-11-25, not {given!r:.60}")
    return given


def _whole(given: Any) -> Any:
    """A whole number is given as a number; ``3.0`` is one too. Raises `ValueError`."""
    if isinstance(given, bool | str):
        raise ValueError(f"a whole number is needed, not {given!r:.60}")
    return given


class _Tagged:
    """Annotation of a union told apart by `kind`: its schema says, as the server does, that `kind` must be there."""

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        return {**handler(schema), "required": ["kind"]}


TAGGED = _Tagged()
Day = Annotated[date, BeforeValidator(_day)]
WHOLE = BeforeValidator(_whole)  # last of the annotations, so that bounds before it are in the schema
YesNo = Annotated[bool, Strict()]
# The theories of sun and moon hold for these years.
Evening = Annotated[
    Day,
    Field(
        title="Evening of the night", ge=date(1950, 1, 1), le=date(2099, 12, 31), description="1950-01-01 to 2099-12-31"
    ),
]
Name = Annotated[str, Field(title="Name", min_length=1, max_length=120, pattern=r"\S")]
Note = Annotated[str, Field(title="Notes", max_length=4000)]
Identifier = Annotated[str, Field(title="Identifier", min_length=1, max_length=80, pattern=r"^[A-Za-z0-9._-]+$")]
