"""Rules of the Power step: energy, current, cables, outlets, dew, mains."""

from collections.abc import Iterator
from itertools import chain

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Accessory, Cable, DewHeater, Placed, PowerSource, Rider, Telescope, Verdict
from dravel.core.model.edit import Edit
from dravel.core.moves.shelf import ready_parts
from dravel.core.physics import energy
from dravel.core.steps.power.facts import DC_OUT, DEW_OUT, Powering
from dravel.core.steps.power.limits import DROP, ENERGY, PEAK

WORDS = {DC_OUT: "12 V outlet", DEW_OUT: "dew outlet", "usb": "data port"}
MOST = 3


def _sources(context: Context, least_wh: float) -> Iterator[Attempt]:
    now = context.rig.supply.source
    found = [p for p in ready_parts(context, PowerSource) if not p.mains and (p.energy_wh or 0) > least_wh]
    for part in sorted(found, key=lambda p: p.energy_wh or 0)[:MOST]:
        label = f"Take the {part.name}" if now is None else f"Take the {part.name} instead"
        yield Attempt(label, (Edit("replace", ("supply", "source"), part),))
    for part in ready_parts(context, PowerSource):
        if part.mains:
            yield Attempt(f"Run it from the {part.name}", (Edit("replace", ("supply", "source"), part),))


@rule(
    "P1",
    "Energy for the night",
    checks="What is drawn over the hours against what the battery gives, with cold and reserve taken off.",
    why="A battery that is empty at three ends the night; in the cold it is empty sooner.",
    formula="p̄ · t ≤ Q · u · k · (1 − z)",
    source="definition; what is left in the cold is Dravel's own order of magnitude",
    mend="A larger source from the shelf, fewer hours, or mains.",
    needs=("mean_w", "hours_on"),
    limits=(ENERGY,),
)
def night_energy(context: Context) -> Iterator[Judgement]:
    """P1: energy short of the night."""
    power, source = context.of(Powering), context.rig.supply.source
    needed = context.value("power.energy_needed_wh")
    figures = ("power.energy_needed_wh", "power.energy_had_wh", "power.hours_left_h")
    if source is None:
        judgement = Judgement(
            "strains", "No supply named", f"{needed:.0f} Wh are needed over {power.hours[0]:.1f} h.", "a supply",
            f"{needed:.0f} Wh", figures,
        )  # fmt: skip
        yield with_attempts(judgement, _sources(context, 0.0))
        return
    if source.mains:
        yield Judgement("holds", "Runs from the mains", f"{power.mean_w:.0f} W on average.", "mains", "mains", figures)
        return
    if "had_wh" not in context.known:
        return
    had, lasts = context.value("had_wh"), context.value("power.hours_left_h")
    verdict = ENERGY.times(needed, "Wh").verdict(had)
    title = "Battery lasts the night" if verdict == "holds" else "Battery ends before the night"
    reason = f"{needed:.0f} Wh over {power.hours[0]:.1f} h ({power.hours[1]}); the {source.name} gives {had:.0f} Wh at {power.temperature[0]:.0f} °C with the reserve kept: {lasts:.1f} h."
    judgement = Judgement(verdict, title, reason, f"{had:.0f} Wh", f"{needed:.0f} Wh", figures)
    shorter = Attempt(f"Be on for {lasts:.1f} h", (Edit("replace", ("supply", "hours"), int(lasts * 10) / 10),))
    yield with_attempts(judgement, chain(_sources(context, source.energy_wh or 0.0), (shorter,)))


@rule(
    "P2",
    "Largest current",
    checks="Everything at its worst at once against the largest current of the source.",
    why="A fuse or a battery's own protection ends the night in one click.",
    formula="p̂ / U ≤ I_max",
    source="Ohm's law",
    mend="A source that gives more, or mains.",
    needs=("peak_w", "volts", "max_a"),
    limits=(PEAK,),
)
def peak_current(context: Context) -> Iterator[Judgement]:
    """P2: peak current over supply or fuse."""
    current, most = context.value("peak_a"), context.value("max_a")
    verdict = PEAK.times(most, "A").verdict(current)
    title = "Current is within the source" if verdict == "holds" else "Draws more than the source gives"
    reason = f"{context.value('peak_w'):.0f} W at {context.value('volts'):g} V."
    judgement = Judgement(verdict, title, reason, f"{most:g} A", f"{current:.1f} A", ("power.peak_a",))
    yield with_attempts(judgement, _stronger(context, most))


def _stronger(context: Context, least_a: float) -> Iterator[Attempt]:
    """Sources that give more current, of the kind there is first."""
    now = context.rig.supply.source
    found = [part for part in ready_parts(context, PowerSource) if (part.max_a or 0) > least_a]
    for part in sorted(found, key=lambda p: (p.mains != bool(now and now.mains), p.max_a or 0))[:MOST]:
        yield Attempt(f"Take the {part.name}", (Edit("replace", ("supply", "source"), part),))


@rule(
    "P3",
    "Voltage at the far end",
    checks="What a cable loses at the largest current.",
    why="Mounts stall and cameras drop out below eleven volts, long before the battery is empty.",
    formula="ΔU = 2 · L · R · I ≤ 5 % of U",
    source="IEC 60228 conductor resistance; five per cent is common practice",
    mend="A thicker or a shorter cable from the shelf.",
    needs=("peak_w", "volts", "drop"),
    limits=(DROP,),
)
def voltage_drop(context: Context) -> Iterator[Judgement]:
    """P3: voltage drop in a thin cable."""
    volts, drop = context.value("volts"), context.value("drop")
    share = drop / volts
    current = context.value("peak_a")
    verdict = DROP.verdict(share)
    title = "Cables lose little" if verdict == "holds" else "A thin cable loses voltage"
    reason = f"{drop:.2f} V of {volts:g} V at {current:.1f} A: {volts - drop:.1f} V arrive."
    judgement = Judgement(verdict, title, reason, f"{DROP.words} of {volts:g} V", f"{drop:.2f} V", ("power.drop_v",))
    yield with_attempts(judgement, _cables(context, current))


def _cables(context: Context, current: float) -> Iterator[Attempt]:
    laid = context.rig.supply.cables
    worst = max(range(len(laid)), key=lambda i: energy.voltage_drop_v(laid[i], current) or 0.0)
    now = energy.voltage_drop_v(laid[worst], current) or 0.0
    names = {cable.id for cable in laid}
    for part in context.shelf:
        if not isinstance(part, Cable) or part.carries != "power" or part.id in names or part.status == "retired":
            continue
        if (energy.voltage_drop_v(part, current) or 1e9) < now:
            yield Attempt(f"Use the {part.name}", (Edit("replace", ("supply", "cables", worst), part),))


@rule(
    "P4",
    "Outlets",
    checks="12 V outlets, dew outlets and data ports: wanted against there.",
    why="The plug that is missing is found out in the dark.",
    formula="consumers ≤ outlets, by kind",
    source="counting",
    mend="A power box or a hub from the shelf.",
    needs=("mean_w",),
)
def outlets(context: Context) -> Iterator[Judgement]:
    """P4: ports short."""
    if context.rig.supply.source is None:
        return
    wanted, had = context.of(Powering).ports
    if not any(wanted.values()):
        return
    short = {name: count - had.get(name, 0) for name, count in wanted.items() if count > had.get(name, 0)}
    told = "; ".join(
        f"{wanted[name]} {WORDS[name]}{'s' if wanted[name] != 1 else ''} wanted, {had.get(name, 0)} there"
        for name in wanted
        if wanted[name]
    )
    title = "Outlets for everything" if not short else "Outlets short"
    missing = sum(short.values())
    judgement = Judgement(
        "strains" if short else "holds", title, f"{told}.", "an outlet each", f"{missing} short" if short else "enough"
    )
    yield with_attempts(judgement, _hubs(context))


def _wh(source: PowerSource | None) -> float:
    return (source.energy_wh or 0.0) if source else 0.0


def _hubs(context: Context) -> Iterator[Attempt]:
    """A box or hub with outlets, then all of them."""
    hubs = [part for part in ready_parts(context, Rider) if part.ports]
    place = ("riders", len(context.rig.riders))
    for part in hubs:
        yield Attempt(f"Carry the {part.name}", (Edit("add", place, Placed(part=part, off_mm=90)),))
    if len(hubs) > 1:
        both = tuple(Edit("add", place, Placed(part=part, off_mm=90)) for part in hubs)
        yield Attempt(f"Carry the {' and the '.join(part.name for part in hubs)}", both)


@rule(
    "P5",
    "Dew on the glass",
    checks="How far the coldest glass stays above the dew point, and whether it is heated.",
    why="Glass under the open sky cools below the air; at the dew point it fogs.",
    formula="θ − κ − θ_d against the practice's margin",
    source="Alduchov & Eskridge 1996; how far glass cools below the air is Dravel's own order of magnitude",
    mend="A heating band or a dew shield from the shelf.",
    needs=("air", "dew_point"),
)
def dew_margin(context: Context) -> Iterator[Judgement]:
    """P5: dew margin small and no heater."""
    power, telescope = context.of(Powering), context.light.telescope
    if telescope is None:
        return
    margin, dew_c = context.value("power.dew_margin_k"), context.value("dew_point")
    wanted = context.practice.dew_margin_k
    bare = power.dews_over(margin)
    verdict: Verdict = "strains" if bare else "holds"
    title = "Will dew over" if bare else "Heated against dew" if margin < wanted else "Stays dry"
    reason = f"Dew point {dew_c:.0f} °C at {power.humidity[0]:.0%} humidity; glass at {dew_c + margin:.0f} °C."
    figures = ("power.dew_margin_k", "power.dew_point_c")
    judgement = Judgement(verdict, title, reason, f"{wanted:g} K above the dew point", f"{margin:+z.1f} K", figures)
    yield with_attempts(judgement, _bands(context, telescope))


def _bands(context: Context, telescope: Telescope) -> Iterator[Attempt]:
    """A heating band that goes round the front, or a shield, the smallest first."""
    bands = [part for part in ready_parts(context, DewHeater) if part.aperture_mm >= telescope.aperture_mm]
    front = min(round((telescope.tube_length_mm or 200.0) - telescope.mark_mm - 20), 3000)  # as far as riders go
    place = ("riders", len(context.rig.riders))
    for part in sorted(bands, key=lambda part: part.aperture_mm)[:2]:
        lay = Edit("add", place, Placed(part=part, along_mm=front))
        yield Attempt(f"Put on the {part.name}", (lay,))
        # A band draws all night: where the battery then ends early, a larger one comes with it.
        for source in _sources(context, _wh(context.rig.supply.source)):
            words = f"Put on the {part.name}; {source.label[0].lower()}{source.label[1:]}"
            yield Attempt(words, (lay, *source.edits))
    for shield in ready_parts(context, Accessory):
        if shield.function == "dew_shield":
            yield Attempt(f"Put on the {shield.name}", (Edit("add", ("extras", 0), shield),))


@rule(
    "P6",
    "Mains and batteries",
    checks="Whether the supply is one that calls for cautions.",
    why="Mains in wet grass kills; a short-circuited lithium battery burns.",
    formula="source = mains, or lithium",
    source="common practice; local electrical codes and the maker's instructions decide",
    mend="A residual-current device and weatherproof connections; a licensed electrician for fixed wiring.",
)
def cautions(context: Context) -> Iterator[Judgement]:
    """P6: mains outdoors; what batteries ask for."""
    source = context.rig.supply.source
    if source is None:
        return
    if source.mains:
        words = (
            "Outdoors only through a residual-current device, with weatherproof connections, per local electrical code; "
            "fixed wiring is for a licensed electrician."
        )
        yield Judgement("strains", "Mains outdoors", words, "local electrical code decides", "mains")
        return
    if source.max_a is None:
        words = "Its largest current is not given: put a fuse near the battery that suits the thinnest cable."
    elif source.chemistry == "lead":
        words = "Fuse it near the poles, keep it upright and aired while charging."
    else:
        words = "Charge it within its maker's temperatures, fuse it, and use no home-made pack without protection."
    yield Judgement("holds", "Battery with care", words, "as its maker says", source.chemistry.replace("_", " "))
