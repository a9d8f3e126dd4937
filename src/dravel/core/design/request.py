"""A request: what to photograph, from where, for how much, carried how, and what stays or is not wanted."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dravel.core.model import Purpose, Site, Target
from dravel.core.model.base import WHOLE, Document, Model, Quantity, YesNo
from dravel.core.model.rig import PartKey
from dravel.core.sky.glow import shines_in_lines

About = Literal["galaxies_in_spring", "wide_nebulae", "planets", "a_bit_of_all", "list"]
NotWanted = Literal["computer", "guiding", "off_axis", "collimation", "mono", "colour", "counterweights", "alt_azimuth"]
MOST_TARGETS = 60
STAYS = (
    "telescope", "corrector", "camera", "filter_holder", "guide_scope", "off_axis_guider", "mount", "support",
    "power_source",
)  # fmt: skip
Weight = Annotated[float, Field(ge=0, le=1)]


class Goals(Model):
    """How much each goal counts, 0 to 1: it orders the answers, and leaves none of them out."""

    fit: Annotated[float, Quantity("Weight of framing score", "", 0, 1)] = 0.9
    money: Annotated[float, Quantity("Weight of budget", "", 0, 1)] = 0.6
    mass: Annotated[float, Quantity("Weight of carried mass", "", 0, 1)] = 0.4
    speed: Annotated[float, Quantity("Weight of imaging speed", "", 0, 1)] = 0.5
    ease: Annotated[float, Quantity("Weight of ease of use", "", 0, 1)] = 0.4


class RequestTerms(Document):
    """What a request says beside its targets and its site. Nothing said sets no limit.

    `money` is new money; parts that are owned or borrowed cost nothing. `stays` and `case` name parts of the shelf by id.
    """

    money: Annotated[float | None, Quantity("Budget, at most", "", 0, 10_000_000)] = None
    currency: Annotated[str, Field(title="Currency", pattern=r"^[A-Z]{3}$")] = "EUR"
    second_hand: Annotated[YesNo, Field(title="Bought second-hand")] = False
    carried_kg: Annotated[float | None, Quantity("Carried mass, at most", "kg", 0.5, 2000)] = None
    trips: Annotated[int | None, Field(title="Trips on foot, at most", ge=1, le=50), WHOLE] = None
    case: Annotated[PartKey | None, Field(title="Case the tube must fit")] = None
    stays: Annotated[tuple[PartKey, ...], Field(title="Stays", max_length=20)] = ()
    not_wanted: Annotated[tuple[NotWanted, ...], Field(title="Excluded", max_length=8)] = ()
    mains: Annotated[YesNo, Field(title="Mains power")] = False
    narrowband: Annotated[YesNo, Field(title="Through narrowband filters")] = False
    steady: Annotated[YesNo, Field(title="Mount within recommended payload")] = True
    goals: Goals = Goals()


class RigRequest(RequestTerms):
    """A request with its targets and its site.

    `months` counts for each target the months in which it can be had; without them each counts the same.
    """

    targets: Annotated[tuple[Target, ...], Field(title="Targets", min_length=1, max_length=MOST_TARGETS)]
    months: Annotated[tuple[Annotated[int, Field(ge=0, le=12), WHOLE], ...], Field(max_length=MOST_TARGETS)] = ()
    purposes: Annotated[tuple[Purpose, ...], Field(title="Purposes", max_length=6)] = ()
    site: Site | None = None

    @model_validator(mode="after")
    def _months_go_with_targets(self) -> "RigRequest":
        if self.months and len(self.months) != len(self.targets):
            raise ValueError("months: one number for each target, or none at all")
        return self

    @property
    def counts(self) -> tuple[int, ...]:
        """How much each target counts: its months, or one each."""
        return self.months or (1,) * len(self.targets)


WIDE_ARCMIN = 90.0  # a target this large wants a wide field. Dravel's own convention
KIND_PURPOSE: dict[str, Purpose] = {
    "galaxy": "galaxy",
    "open_cluster": "cluster",
    "globular": "cluster",
    "emission": "nebula",
    "reflection": "nebula",
    "dark": "nebula",
    "supernova_remnant": "nebula",
    "mixed": "nebula",
    "planetary": "nebula",
    "other": "nebula",
}


def in_lines(targets: tuple[Target, ...]) -> bool:
    """Whether all targets shine in lines, so that a line filter is worth having in the light."""
    return bool(targets) and all(shines_in_lines(target) for target in targets)


def purposes_of(targets: tuple[Target, ...]) -> tuple[Purpose, ...]:
    """What a rig for these targets is for: by their kinds, and wide fields where half of them are that large."""
    if targets and all(target.body is not None for target in targets):
        return ("planetary",)
    skies = [target for target in targets if target.body is None]
    results = {KIND_PURPOSE[target.kind] for target in skies}
    wide = sum((target.major_arcmin or 0) >= WIDE_ARCMIN for target in skies)
    order: tuple[Purpose, ...] = ("wide_field", "nebula", "galaxy", "cluster")
    return tuple(item for item in order if item in results or (item == "wide_field" and 2 * wide >= len(skies)))
