"""A session: what a rig shot in one night, what of it was kept, why the rest was lost, and which marks worked."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta
from typing import Annotated, Literal

from pydantic import AwareDatetime, Field, ValidationInfo, model_validator

from dravel.core.model.base import Document, Evening, Identifier, Model, Name, Note, Quantity, YesNo, is_kept

FAR_DAYS = 3  # a session begins nearer than this to its evening, whatever the zone
LONGEST = timedelta(hours=36)  # a polar night's session; Dravel's own


class SessionFrame(Model):
    """One sub: taken or not, kept or not, and why not. Seconds from noon; star size in pixels, 0 where it is not known."""

    start_s: float
    sub_s: float
    target: str
    filter: str
    taken: bool
    kept: bool
    why: str
    fwhm_px: float = 0.0


class SessionSubs(Model):
    """Subs of one kind: planned, taken, kept. `target` is the target's id, or else its name; `name` as people say it. No
    more are kept than were taken.
    """

    target: Name
    name: Annotated[str, Field(title="Target's name", max_length=120)] = ""
    filter: Annotated[str, Field(title="Filter", max_length=120)] = ""
    sub_s: Annotated[float, Quantity("Sub", "s", 0, 86_400)]
    planned: Annotated[int, Quantity("Planned", "", 0, 100_000)]
    taken: Annotated[int, Quantity("Taken", "", 0, 100_000)]
    kept: Annotated[int, Quantity("Kept", "", 0, 100_000)]

    @model_validator(mode="after")
    def _no_more_kept_than_taken(self, info: ValidationInfo) -> "SessionSubs":
        if not is_kept(info) and self.kept > self.taken:
            raise ValueError(f"kept: {self.kept} subs cannot be accepted of {self.taken} taken")
        return self


class SessionLoss(Model):
    """Subs lost for one reason."""

    why: Annotated[str, Field(title="Why", max_length=120)]
    count: Annotated[int, Quantity("Subs rejected", "", 1, 100_000)]


class SessionEvent(Model):
    """Something that happened, and when."""

    at: AwareDatetime
    what: Annotated[str, Field(title="What", max_length=300)]


class SessionConditions(Model):
    """How the night was, as far as anybody noted it."""

    temperature_c: Annotated[float | None, Quantity("Temperature", "°C", -60, 45)] = None
    seeing_arcsec: Annotated[float | None, Quantity("Seeing", "″", 0.2, 15)] = None
    wind_m_s: Annotated[float | None, Quantity("Wind", "m/s", 0, 60)] = None
    humidity: Annotated[float | None, Quantity("Humidity", "share", 0, 1)] = None
    sky_mag_arcsec2: Annotated[float | None, Quantity("Sky brightness", "mag/arcsec²", 14, 22.5)] = None
    words: Annotated[str, Field(title="In words", max_length=300)] = ""


MarkSort = Literal[
    "weight", "saddle", "drawtube", "focuser", "guide_camera", "guide_helical", "camera_angle", "guide_exposure",
    "guide_rms", "polar_error",
]  # fmt: skip


@dataclass(frozen=True)
class SortOfMark:
    """What a mark is read in, and in which range."""

    title: str
    unit: str
    low: float
    high: float


SORTS: Mapping[MarkSort, SortOfMark] = {
    "weight": SortOfMark("Counterweight inner face from the shaft shoulder", "mm", 0, 3000),
    "saddle": SortOfMark("Saddle ahead of the rear shoulder", "mm", 0, 5000),
    "drawtube": SortOfMark("Drawtube at focus", "mm", 0, 500),
    "focuser": SortOfMark("Motor focuser at focus", "steps", -1_000_000, 1_000_000),
    "guide_camera": SortOfMark("Guide camera position", "mm", 0, 120),
    "guide_helical": SortOfMark("Guide helical extension", "mm", 0, 60),
    "camera_angle": SortOfMark("Camera angle, north through east", "°", 0, 360),
    "guide_exposure": SortOfMark("Guide exposure", "s", 0.01, 60),
    "guide_rms": SortOfMark("Guiding RMS, total", "″", 0.01, 60),
    "polar_error": SortOfMark("Residual polar error", "′", 0, 600),
}


class WorkedMark(Model):
    """A mark that worked: where something stood. `of` names the weight, filter or target it belongs to; the value lies in
    the range of its sort. `at` is when it was read.
    """

    sort: Annotated[MarkSort, Field(title="Mark")]
    value: Annotated[float, Quantity("Read as", "", -1_000_000, 1_000_000)]
    of: Annotated[str, Field(title="Of", max_length=120)] = ""
    temperature_c: Annotated[float | None, Quantity("Temperature", "°C", -60, 45)] = None
    at: AwareDatetime | None = None

    @model_validator(mode="after")
    def _lies_in_the_range_of_its_sort(self, info: ValidationInfo) -> "WorkedMark":
        sort = SORTS[self.sort]
        if not is_kept(info) and not sort.low <= self.value <= sort.high:
            raise ValueError(
                f"value: {sort.title} cannot be {self.value:g} {sort.unit}; allowed {sort.low:g} to {sort.high:g}"
            )
        return self


Origin = Literal["run", "rehearsed", "frames", "typed"]


class SessionRecord(Document):
    """One rig's night. `simulated`: played by stand-ins, no light was collected; `seed` brings the same night again.

    `night` is the date of the evening it began on, and it begins within three days of it. It ends after it began, and within a day and a half.
    """

    night: Evening
    site: Name
    rig_id: Identifier
    rig: Name
    rig_revision: Annotated[int, Quantity("Revision of the rig", "", 0, 1_000_000)] = 0
    simulated: Annotated[YesNo, Field(title="Rehearsed")] = False
    origin: Annotated[Origin, Field(title="Came from")] = "run"
    seed: Annotated[int | None, Quantity("Seed", "", 0, 2**31)] = None
    began: AwareDatetime
    ended: AwareDatetime
    subs: Annotated[tuple[SessionSubs, ...], Field(title="Subs", max_length=400)] = ()
    losses: Annotated[tuple[SessionLoss, ...], Field(title="Losses", max_length=100)] = ()
    events: Annotated[tuple[SessionEvent, ...], Field(title="Events", max_length=2000)] = ()
    conditions: SessionConditions = SessionConditions()
    marks: Annotated[tuple[WorkedMark, ...], Field(title="Marks", max_length=200)] = ()
    people: Annotated[tuple[Name, ...], Field(title="People", max_length=40)] = ()
    note: Note = ""

    @model_validator(mode="after")
    def _ends_after_it_began(self, info: ValidationInfo) -> "SessionRecord":
        if not is_kept(info) and abs((self.began.date() - self.night).days) > FAR_DAYS:
            raise ValueError(f"began: more than {FAR_DAYS} days from the night it is said to be of")
        if not is_kept(info) and not timedelta(0) <= self.ended - self.began <= LONGEST:
            raise ValueError("ended: a session ends after it began, and within a day and a half")
        return self

    @property
    def kept_s(self) -> float:
        """Seconds of light kept."""
        return sum(sub.kept * sub.sub_s for sub in self.subs)

    @property
    def counts(self) -> bool:
        """Whether light was collected: rehearsals count for nothing."""
        return not self.simulated
