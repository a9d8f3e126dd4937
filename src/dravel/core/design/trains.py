"""The table of exact trains: every path with its way of guiding and its gear, and the facts that mounts ask of it.

It hangs on the parts, what they are for, the site and the preferences; not on targets, money or what else is wished. So it is
made once a shelf and kept.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property

from dravel.core.design.gear import Outfitter
from dravel.core.design.paths import Brief, Choice, Path, Paths
from dravel.core.design.shop import Shop
from dravel.core.engine.context import Context
from dravel.core.model import Mount, Part, PowerSource, Rig, Support
from dravel.core.model.cancellation import check_cancelled
from dravel.core.model.inventory import parts_of
from dravel.core.overview.depth import Yield, yield_of
from dravel.core.steps import STEPS
from dravel.core.steps.guiding.facts import Guiding
from dravel.core.steps.guiding.limits import RATIO
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.mount.wind import sail_of
from dravel.core.steps.power.facts import USB_VOLTS, Powering
from dravel.core.train.facts import Spacing

# Rules whose word on a train without a mount is their word on the whole rig: they read nothing else of it.
OF_THE_TRAIN = ("C3", "C4", "C6")
MOST_PATHS = 4000  # laid of a very large shelf, those at hand and the cheapest of every telescope first
MOST_TRAINS = 1200  # a bound of memory, as is the next
MOST_ROWS = 1_000_000  # combinations of trains with what carries and feeds them
SAMPLED = {"ok": 1.0, "warning": 0.5, "problem": 0.0}


@dataclass(frozen=True)
class Train:
    """A train and its gear, without a mount. Lengths in mm along the tube from its rear shoulder and up from the saddle."""

    choice: Choice
    rig: Rig
    spacing: Spacing
    field_deg: tuple[float, float]
    scale: float
    focal_mm: float
    pixel_um: float
    diagonal_mm: float
    sampled: float
    flexure: float | None
    gained: Yield
    carried_kg: float
    mass_kg: float
    along_mm: float
    along_off_mm: float
    up_mm: float
    derating: float
    sail_m2: float
    sail_up_mm: float
    sail_long_mm: float
    sized: bool
    mean_w: float
    peak_w: float
    keys: frozenset[str]
    parts: tuple[Part, ...]

    @property
    def method(self) -> str:
        """How it is guided."""
        return self.rig.guide.method

    @cached_property
    def computer(self) -> str:
        """The computer it needs in the field; empty without one."""
        own = [placed.part for placed in self.rig.riders]
        brains = [
            part for part in (*own, *self.rig.extras) if getattr(part, "function", "") in ("controller", "computer")
        ]
        return next((part.name for part in brains), "")

    @cached_property
    def leads(self) -> bool:
        """Whether anything of it takes more volts than a data plug gives."""
        return any(part.power is not None and part.power.voltage_v > USB_VOLTS for part in self.parts)

    @property
    def mono(self) -> bool:
        """Whether its camera sees no colours by itself."""
        return self.choice.camera.sensor.colour == "mono"


@dataclass
class Table:
    """All trains of a shop for a brief, with what stands, carries and feeds them."""

    shop: Shop
    brief: Brief
    trains: list[Train] = field(default_factory=list)
    choices: int = 0
    unlaid: int = 0

    @property
    def mounts(self) -> list[Mount]:
        """Mounts that follow the sky."""
        return [item for item in self.shop.kind(Mount) if item.driven_axes > 0]

    @property
    def supports(self) -> list[Support]:
        """Tripods and piers."""
        return self.shop.kind(Support)

    @property
    def supplies(self) -> list[PowerSource | None]:
        """Batteries and mains adapters; nothing at all for what draws nothing."""
        return [None, *self.shop.kind(PowerSource)]


def fill(table: Table) -> Iterator[tuple[int, int]]:
    """Lay and judge all trains into a table, telling how many paths of how many are done; short ones first.

    A telescope's first paths come before any telescope's last, so that a search over a part of the table sees some of each.
    """
    paths = Paths(table.shop, table.brief)
    outfitter = Outfitter(table.shop, table.brief, paths.guide_camera)
    every = list(paths.choices())
    ways = 1 + len(outfitter.scopes)
    table.choices = sum(1 if item.guider is not None else ways for item in every)
    able = _dealt([item for item in every if paths.may_work(item)])
    table.unlaid = max(len(able) - MOST_PATHS, 0)
    able = able[:MOST_PATHS]
    most = min(MOST_TRAINS, MOST_ROWS // max(len(table.mounts) * len(table.supports) * len(table.supplies), 1))
    yield 0, len(able)
    for done, choice in enumerate(able, 1):
        check_cancelled()
        if len(table.trains) >= most:
            table.unlaid += len(able) - done + 1
            yield len(able), len(able)
            return
        path = paths.laid(choice)
        if path is not None:
            table.trains += _trains(path, outfitter, table.brief)
        yield done, len(able)


def _dealt(choices: list[Choice]) -> list[Choice]:
    """Choices dealt out telescope by telescope."""
    piles: dict[str | None, list[Choice]] = {}
    for choice in choices:
        piles.setdefault(choice.telescope.id, []).append(choice)
    deep = max(map(len, piles.values()), default=0)
    return [pile[k] for k in range(deep) for pile in piles.values() if k < len(pile)]


def _trains(path: Path, outfitter: Outfitter, brief: Brief) -> list[Train]:
    """A path guided in every way there is. What the optics do is the same in all of them, and asked once."""
    if not _is_known(path.context):
        return []
    results = []
    for scope in [None] if path.choice.guider is not None else [None, *outfitter.scopes]:
        rig = outfitter.fitted(path, scope)
        if rig is None or (scope is None and _has_problem(brief.context(rig))):
            return []
        made = _facts(path, rig, brief)
        if made is not None:
            results.append(made)
    return results


def _is_known(context: Context) -> bool:
    known = context.known
    asked = ("pixel_scale", "focal_length", "pixel", "sensor_diagonal")
    return context.field_deg is not None and all(name in known for name in asked)


def _has_problem(context: Context) -> bool:
    return any(
        judgement.verdict == "problem" for code in OF_THE_TRAIN for judgement in STEPS.rules[code].judgements(context)
    )


def _facts(path: Path, rig: Rig, brief: Brief) -> Train | None:
    """What is asked of a train; None where its field is not known or its guide scope is far too coarse.

    Its optics and its spacing are those of its path, and were asked there.
    """
    base = path.context
    known, size = base.known, base.field_deg
    if size is None:
        return None
    # What a filter lets through may not be known: then its speed counts as none, and the rig as a rig.
    gained = yield_of(base, of_line=brief.lines) or Yield((), 0.0, known.value("pixel_scale"), 0.0, 0.0)
    spacing, preferences = base.of(Spacing), base.preferences
    setup = Guiding(rig, known, spacing, preferences).setup[0]
    if setup is not None and RATIO.verdict(setup.scale / known.value("pixel_scale")) == "problem":
        return None
    load, power = Load(rig, spacing, preferences), Powering(rig, preferences, None)
    held = load.carried
    sail, (low, high) = sail_of(held, 0.0), held.ends
    code = "V2" if brief.planets else "O2"
    said = [judgement.verdict for judgement in STEPS.rules[code].judgements(base)]
    parts = tuple(parts_of(rig))
    return Train(
        choice=path.choice,
        rig=rig,
        spacing=spacing,
        field_deg=size,
        scale=known.value("pixel_scale"),
        focal_mm=known.value("focal_length"),
        pixel_um=known.value("pixel"),
        diagonal_mm=known.value("sensor_diagonal"),
        sampled=SAMPLED[said[0]] if said else 1.0,
        flexure=setup.flexure_arcsec_h if setup else None,
        gained=gained,
        carried_kg=held.mass,
        mass_kg=sum((part.used("mass_g") or 0.0) for part in parts) / 1000,
        along_mm=held.saddle_mm + float(held.centre[0]),
        along_off_mm=load.centre_off_mm,
        up_mm=float(held.centre[2]),
        derating=load.derating[0],
        sail_m2=sail.area_m2,
        sail_up_mm=sail.arm_mm,
        sail_long_mm=high - low,
        sized=not load.size_words,
        mean_w=power.mean_w,
        peak_w=power.peak_w,
        keys=frozenset(part.id for part in parts if part.id),
        parts=parts,
    )
