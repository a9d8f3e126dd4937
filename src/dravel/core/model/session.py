"""A session: what a rig shot in one night, what of it was kept, and why the rest was lost."""

from datetime import date
from typing import Annotated

from pydantic import AwareDatetime, Field

from dravel.core.model.base import Document, Identifier, Model, Name, Note, Quantity, YesNo


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
    """Subs of one kind: planned, taken, kept."""

    target: Name
    filter: Annotated[str, Field(title="Filter", max_length=120)] = ""
    sub_s: Annotated[float, Quantity("Sub", "s", 0, 86_400)]
    planned: Annotated[int, Quantity("Planned", "", 0, 100_000)]
    taken: Annotated[int, Quantity("Taken", "", 0, 100_000)]
    kept: Annotated[int, Quantity("Kept", "", 0, 100_000)]


class SessionLoss(Model):
    """Subs lost for one reason."""

    why: Annotated[str, Field(title="Why", max_length=120)]
    count: Annotated[int, Quantity("Subs lost", "", 1, 100_000)]


class SessionEvent(Model):
    """Something that happened, and when."""

    at: AwareDatetime
    what: Annotated[str, Field(title="What", max_length=300)]


class SessionRecord(Document):
    """One rig's night. `simulated`: played by stand-ins, no light was collected; `seed` brings the same night again."""

    night: Annotated[date, Field(title="Night")]
    site: Name
    rig_id: Identifier
    rig: Name
    rig_revision: Annotated[int, Quantity("Revision of the rig", "", 0, 1_000_000)] = 0
    simulated: Annotated[YesNo, Field(title="Rehearsed")] = False
    seed: Annotated[int | None, Quantity("Seed", "", 0, 2**31)] = None
    began: AwareDatetime
    ended: AwareDatetime
    subs: Annotated[tuple[SessionSubs, ...], Field(title="Subs", max_length=400)] = ()
    losses: Annotated[tuple[SessionLoss, ...], Field(title="Losses", max_length=100)] = ()
    events: Annotated[tuple[SessionEvent, ...], Field(title="Events", max_length=2000)] = ()
    note: Note = ""

    @property
    def kept_s(self) -> float:
        """Seconds of light kept."""
        return sum(one.kept * one.sub_s for one in self.subs)
