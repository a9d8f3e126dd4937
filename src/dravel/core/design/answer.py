"""What a design answers: rigs with their scores, what they ask for and what is to be bought; reasons; how it was found."""

from collections import Counter

from pydantic import Field

from dravel.core.design import axes
from dravel.core.design.axes import Scores, TargetFit
from dravel.core.design.front import Outcome
from dravel.core.design.screen import Screen
from dravel.core.design.shop import price_of
from dravel.core.model import Part, Rig
from dravel.core.model.base import Model
from dravel.core.model.inventory import HAD, parts_of
from dravel.core.model.words import Text
from dravel.core.overview.strip import LightStrip, lay_out
from dravel.core.steps import STEPS


class Buy(Model):
    """Parts to buy, so many of a kind, and what they cost together."""

    name: str
    kind: str
    count: int
    amount: float


class Strained(Model):
    """A rule that strains."""

    code: str
    title: str


class TargetInField(Model):
    """A target of the request in a rig's field: its outline in degrees, turned from north through east, and what it counts."""

    name: str
    major_deg: float
    minor_deg: float
    turned_deg: float
    tiles: int
    counts: float
    words: Text


class Designed(Model):
    """A whole rig of the front. `row` names it as long as shelf, targets and site stay as they are."""

    row: int
    name: str
    rig: Rig
    scores: Scores
    warnings: tuple[Strained, ...]
    ok: int
    trips: int
    burdens: tuple[str, ...] = Field(description="What lowers ease of use")
    facts: tuple[str, ...]
    field_deg: tuple[float, float]
    focal_mm: float
    targets: tuple[TargetInField, ...]
    buys: tuple[Buy, ...]
    strip: LightStrip


class Point(Model):
    """A rig of the front in the plane of trade-offs."""

    row: int
    name: str
    camera: str
    guided: str
    scores: Scores
    warnings: int
    trips: int


class Reason(Model):
    """One of the things said about an answer; `row` is the rig it speaks of."""

    key: str
    title: Text
    words: Text
    row: int | None = None
    rig: Rig | None = Field(default=None, description="A rig shown besides the best trade-offs")


class RuledOut(Model):
    """A rule that broke assembled rigs, and how many."""

    code: str
    title: str
    count: int


class DesignAnswer(Model):
    """The whole answer. `rows` are the rigs of the front, the most promising first and of those that strain least, all judged by every rule."""

    rows: tuple[int, ...]
    choices: int = Field(description="Trains there are to choose from, whether they can be joined or not")
    trains: int = Field(description="Trains that can be joined and break no rule of their own")
    combinations: int = Field(description="Trains on mounts, supports and supplies that were looked at")
    allowed: int = Field(description="Combinations that no necessary condition and no request rules out")
    judged: int = Field(description="Rigs that were assembled and judged by every rule")
    ruled_out: tuple[RuledOut, ...] = ()
    reasons: tuple[Reason, ...] = ()
    conflict: tuple[Text, ...] = Field(default=(), description="A smallest set of constraints that leaves no rig")
    nearest: Designed | None = None
    notes: tuple[Text, ...] = ()


def point(screen: Screen, row: int, said: Outcome) -> Point:
    """A row that was judged, in short."""
    rig = said.whole
    train, mount = screen.trains[screen.train[row]], screen.mounts[screen.mount[row]]
    return Point(
        row=row,
        name=rig.name,
        camera=train.choice.camera.name,
        guided=train.method,
        scores=axes.score(rig, train, mount, screen.aims, screen.brief, screen.share),
        warnings=len(dict.fromkeys(said.warnings)),
        trips=said.trips,
    )


def designed(screen: Screen, row: int, said: Outcome) -> Designed:
    """A row that was judged, told whole. Raises `ValueError` where it makes no rig."""
    rig, train, mount = said.whole, screen.trains[screen.train[row]], screen.mounts[screen.mount[row]]
    fits = axes.fits(train, screen.aims, screen.brief)
    scores = axes.score(rig, train, mount, screen.aims, screen.brief, screen.share)
    burdens = (*axes.train_burdens(train), *axes.mount_burdens(mount))
    return Designed(
        row=row,
        name=rig.name,
        rig=rig,
        scores=scores,
        warnings=tuple(Strained(code=code, title=title) for code, title in dict.fromkeys(said.warnings)),
        ok=said.ok,
        trips=said.trips,
        burdens=burdens,
        facts=_facts(screen, rig),
        field_deg=train.field_deg,
        focal_mm=train.focal_mm,
        targets=tuple(_in_field(item) for item in fits),
        buys=buys_of(rig, screen.share),
        strip=lay_out(rig, screen.brief.preferences),
    )


def _in_field(one: TargetFit) -> TargetInField:
    target = one.target
    major = (target.major_arcmin or 0.0) / 60
    return TargetInField(
        name=target.name,
        major_deg=major,
        minor_deg=(target.minor_arcmin or target.major_arcmin or 0.0) / 60,
        turned_deg=target.position_angle_deg,
        tiles=one.fit.tiles if one.fit is not None else 0,
        counts=one.counts,
        words=one.fit.words if one.fit is not None else "target size unknown",
    )


def buys_of(rig: Rig, share: float) -> tuple[Buy, ...]:
    """What of a rig is to be bought, dearest first."""
    wanted: list[Part] = [part for part in parts_of(rig) if part.status not in HAD]
    many = Counter(part.id or part.name for part in wanted)
    first = {part.id or part.name: part for part in reversed(wanted)}
    lines = [
        Buy(
            name=part.name, kind=getattr(part, "kind", "part"), count=many[key],
            amount=round(price_of(part, share) * many[key], 2),
        )
        for key, part in first.items()
    ]  # fmt: skip
    return tuple(sorted(lines, key=lambda item: (-item.amount, item.name)))


def _facts(screen: Screen, rig: Rig) -> tuple[str, ...]:
    """What a practitioner asks first, in the words of the steps."""
    context = STEPS.context(rig, screen.brief.preferences)
    lines = [STEPS[key].headline(context) for key in ("optics", "spacing", "mount", "guiding", "power")]
    return tuple(str(words) for words in lines if words)
