"""What rules and views see of one rig: the document, its facts, the preferences, the night and what may fix it."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import TYPE_CHECKING, Any, Protocol, Self, TypeVar, cast

from dravel.core.engine.known import Known
from dravel.core.frames.reading import FrameReading
from dravel.core.model import Part, Preferences, Rig, Site
from dravel.core.model.words import Value
from dravel.core.train.light_path import LightPath

if TYPE_CHECKING:
    from dravel.core.engine.step import Steps


class Facts(Protocol):
    """The facts of one subject: made from a context, each of them computed when first asked for."""

    @classmethod
    def of(cls, context: Context) -> Self:
        """The facts of a context's rig."""
        ...


F = TypeVar("F", bound=Facts)


@dataclass(frozen=True)
class OtherRig:
    """Another rig as rules may point to it: its field in degrees (width, height), and the least share of it wanted."""

    rig_id: str
    name: str
    field: tuple[float, float]
    least: float


@dataclass(frozen=True)
class Context:
    """One rig under one preferences. `tonight` is the night where a target names none; without either none is asked. `evidence` are
    frames it took, the newest last.
    """

    rig: Rig
    light: LightPath
    known: Known
    preferences: Preferences
    steps: Steps
    shelf: tuple[Part, ...] = ()
    tonight: date | None = None
    sites: tuple[Site, ...] = ()
    others: tuple[OtherRig, ...] = ()
    evidence: tuple[FrameReading, ...] = ()
    _made: dict[type, Any] = field(default_factory=dict, repr=False, compare=False)

    def of(self, facts: type[F]) -> F:
        """The facts of one subject, made when first asked for and shared from then on."""
        if facts not in self._made:
            self._made[facts] = facts.of(self)
        return cast(F, self._made[facts])

    def shares(self, facts: Facts) -> None:
        """Take facts that were worked out for another rig, alike in all that they read."""
        self._made[type(facts)] = facts

    def value(self, name: str) -> float:
        """A known value by name; a rule lists in `needs` what it asks for here."""
        return self.known.value(name)

    def shown(self, name: str) -> Value:
        """A known value as a sentence has it. Raises `KeyError` when it is not known."""
        return self.known.shown(name)

    @property
    def field_deg(self) -> tuple[float, float] | None:
        """Width and height of the field, degrees; None when it is not known."""
        width, height = self.known.get("field_width"), self.known.get("field_height")
        return None if width is None or height is None else (width, height)

    def changed(self, rig: Rig, *, fixing: bool = False) -> Context:
        """Another rig under the same preferences and night, with nothing to fix it unless the shelf is asked for."""
        return self.steps.context(
            rig, self.preferences, self.shelf if fixing else (), tonight=self.tonight, evidence=self.evidence
        )
