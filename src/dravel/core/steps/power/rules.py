"""Rules of the Power step: energy, current, cables, outlets, dew, mains."""

from collections.abc import Iterator
from itertools import chain

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Accessory, Cable, CableRun, DewHeater, Placed, PowerSource, Rider, Telescope, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, joined, text
from dravel.core.moves.shelf import ready_parts
from dravel.core.physics import energy
from dravel.core.steps.power.facts import DC_OUT, DEW_OUT, LOOSEST, Powering
from dravel.core.steps.power.limits import DROP, ENERGY, PEAK
from dravel.core.train.layout import part_key

WORDS = {DC_OUT: "12 V outlet", DEW_OUT: "dew outlet", "usb": "data port"}
MOST = 3


def _sources(context: Context, least_wh: float) -> Iterator[Attempt]:
    now = context.rig.supply.source
    results = [p for p in ready_parts(context, PowerSource) if not p.mains and (p.energy_wh or 0) > least_wh]
    for part in sorted(results, key=lambda p: p.energy_wh or 0)[:MOST]:
        label = (
            text("Add the {part}", "add", part=part.name)
            if now is None
            else text("Replace with the {part}", "replace", part=part.name)
        )
        yield Attempt(label, (Edit("replace", ("supply", "source"), part),))
    for part in ready_parts(context, PowerSource):
        if part.mains:
            yield Attempt(text("Power from the {part}", part=part.name), (Edit("replace", ("supply", "source"), part),))


@rule(
    "P1",
    "Energy for the night",
    checks="Energy used over the night against usable battery energy, after cold and reserve.",
    why="An empty battery ends the session; in the cold sooner.",
    formula="p̄ · t ≤ Q · u · k · (1 − z)",
    source="definition; capacity in the cold is an estimate (order of magnitude)",
    fix="A larger battery, fewer hours, or mains.",
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
            "warning", text("No power supply", "no_power_supply"), text("Required {needed} over {hours}.", needed=Value(needed, 'Wh', 0), hours=Value(power.hours[0], form='long')), "a supply",
            Value(needed, 'Wh', 0), figures,
        )  # fmt: skip
        yield with_attempts(judgement, _sources(context, 0.0))
        return
    if source.mains:
        yield Judgement(
            "ok",
            text("Mains power OK"),
            text("Average {mean_w}.", mean_w=Value(power.mean_w, "W", 0)),
            "mains",
            "mains",
            figures,
        )
        return
    if "had_wh" not in context.known:
        return
    had, lasts = context.value("had_wh"), context.value("power.hours_left_h")
    verdict = ENERGY.times(needed, "Wh").verdict(had)
    title = text("Battery OK") if verdict == "ok" else text("Battery too small")
    reason = text(
        "Required {needed} over {hours} ({hours_2}); the {source} provides {had} at {temperature} after reserve: {lasts}.",
        needed=Value(needed, "Wh", 0),
        hours=Value(power.hours[0], form="long"),
        hours_2=power.hours[1],
        source=source.name,
        had=Value(had, "Wh", 0),
        temperature=Value(power.temperature[0], "°C", 0),
        lasts=Value(lasts, form="long"),
    )
    limit = text(
        "warning < {hours}, problem < {short}",
        hours=Value(power.hours[0], form="long"),
        short=Value(power.hours[0] * (ENERGY.problem or 0.0), form="long"),
    )
    judgement = Judgement(verdict, title, reason, limit, Value(lasts, form="long"), figures)
    shorter = Attempt(
        text("Set the night length to {lasts}", lasts=Value(lasts, form="long")),
        (Edit("replace", ("supply", "hours"), int(lasts * 10) / 10),),
    )
    yield with_attempts(judgement, chain(_sources(context, source.energy_wh or 0.0), (shorter,)))


@rule(
    "P2",
    "Peak current",
    checks="All peak currents together against the limit of the power supply.",
    why="A fuse or the battery protection trips and ends the session.",
    formula="p̂ / U ≤ I_max",
    source="Ohm's law",
    fix="A stronger power supply, or mains.",
    needs=("peak_w", "volts", "max_a"),
    limits=(PEAK,),
)
def peak_current(context: Context) -> Iterator[Judgement]:
    """P2: peak current over supply or fuse."""
    current, most = context.value("peak_a"), context.value("max_a")
    verdict = PEAK.times(most, "A").verdict(current)
    title = text("Peak current OK") if verdict == "ok" else text("Peak current too high")
    reason = text("{peak_w} at {volts}.", peak_w=context.shown("peak_w"), volts=context.shown("volts"))
    judgement = Judgement(
        verdict, title, reason, PEAK.times(most, "A").words, Value(current, "A", 1), ("power.peak_a",)
    )
    yield with_attempts(judgement, _stronger(context, most))


def _stronger(context: Context, least_a: float) -> Iterator[Attempt]:
    """Sources that give more current, of the kind there is first."""
    now = context.rig.supply.source
    results = [part for part in ready_parts(context, PowerSource) if (part.max_a or 0) > least_a]
    for part in sorted(results, key=lambda p: (p.mains != bool(now and now.mains), p.max_a or 0))[:MOST]:
        yield Attempt(text("Add the {part}", "add", part=part.name), (Edit("replace", ("supply", "source"), part),))


@rule(
    "P3",
    "Voltage drop",
    checks="Voltage lost in all cables from the supply to each consumer, at its current.",
    why="Mounts stall and cameras fail below 11 V, long before the battery is empty.",
    formula="ΔU = Σ 2 · L · R · I ≤ 5% of U",
    source="IEC 60228 conductor resistance; 5% is common practice",
    fix="A thicker or shorter cable.",
    needs=("volts", "drop"),
    limits=(DROP,),
)
def voltage_drop(context: Context) -> Iterator[Judgement]:
    """P3: voltage drop in thin cables, those in series added up."""
    volts, drop = context.value("volts"), context.value("drop")
    way = context.of(Powering).worst_way
    verdict = DROP.verdict(drop / volts)
    title = text("Voltage drop OK") if verdict == "ok" else text("Voltage drop too large")
    sentence = joined(
        " and ",
        (
            text(
                "{peak_a} through the {cable}",
                "through",
                peak_a=Value((item.peak_w or 0) / volts, "A", 1),
                cable=item.cable.name,
            )
            for item in way
        ),
    )
    reason = text(
        "{drop} of {volts}: {told}; {volts_2} at the consumer.",
        drop=Value(drop, "V", 2),
        volts=Value(volts, "V"),
        told=sentence,
        volts_2=Value(volts - drop, "V", 1),
    )
    unsaid = [item.cable.name for item in context.of(Powering).cabling if item.peak_w is None]
    if unsaid:
        reason += text(
            " Not judged: the {unsaid} has no consumer assigned.",
            "cable_unassigned",
            unsaid=joined(" and the ", unsaid),
        )
    judgement = Judgement(
        verdict,
        title,
        reason,
        text("≤ {DROP} of {volts}", DROP=DROP.bound, volts=Value(volts, "V")),
        Value(drop, "V", 2),
        ("power.drop_v",),
    )
    yield with_attempts(judgement, _cables(context))


def _cables(context: Context) -> Iterator[Attempt]:
    """Another cable in place of the one that loses most on the worst way."""
    power, laid = context.of(Powering), context.rig.supply.cables
    volts = power.volts or 1.0

    def lost(cable: Cable, peak: float | None) -> float:
        return energy.voltage_drop_v(cable, (peak or 0.0) / volts) or 0.0

    worst = max(power.worst_way, key=lambda item: lost(item.cable, item.peak_w))
    now, names = lost(worst.cable, worst.peak_w), {cable.id for cable in laid}
    at = next(i for i, cable in enumerate(laid) if cable is worst.cable)
    for part in context.shelf:
        if not isinstance(part, Cable) or part.carries != "power" or part.id in names or part.status == "retired":
            continue
        if part.conductor_mm2 is not None and lost(part, worst.peak_w) < now:
            key, other = part_key(worst.cable), part_key(part)
            runs = tuple(_renamed(run, key, other) for run in context.rig.supply.runs)
            swap = Edit("replace", ("supply", "cables", at), part)
            yield Attempt(
                text("Replace the cable with the {part}", "replace_cable", part=part.name),
                (swap, Edit("replace", ("supply", "runs"), runs)) if runs else (swap,),
            )


def _renamed(run: CableRun, key: str, other: str) -> CableRun:
    """A run with one cable taken for another."""
    change = {"cable": other if run.cable == key else run.cable, "behind": other if run.behind == key else run.behind}
    return run.model_copy(update=change)


@rule(
    "P4",
    "Ports and outlets",
    checks="12 V outlets, dew outlets and data ports: required against available.",
    why="A missing outlet is noticed in the dark.",
    formula="consumers ≤ outlets, by kind",
    source="counting",
    fix="A power box or a hub.",
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
    sentence = joined(
        "; ",
        (
            text(
                "{kind}s: {wanted} required, {available} available",
                kind=WORDS[name],
                wanted=wanted[name],
                available=had.get(name, 0),
            )
            for name in wanted
            if wanted[name]
        ),
    )
    title = text("Outlets OK") if not short else text("Outlets missing")
    missing = sum(short.values())
    judgement = Judgement(
        "warning" if short else "ok",
        title,
        text("{told}.", told=sentence),
        text("one outlet each"),
        text("{missing} missing", "missing", missing=missing) if short else "enough",
    )
    yield with_attempts(judgement, _hubs(context))


def _wh(source: PowerSource | None) -> float:
    return (source.energy_wh or 0.0) if source else 0.0


def _hubs(context: Context) -> Iterator[Attempt]:
    """A box or hub with outlets, then all of them."""
    hubs = [part for part in ready_parts(context, Rider) if part.ports]
    place = ("riders", len(context.rig.riders))
    for part in hubs:
        yield Attempt(
            text("Add the {part}", "add", part=part.name), (Edit("add", place, Placed(part=part, off_mm=90)),)
        )
    if len(hubs) > 1:
        both = tuple(Edit("add", place, Placed(part=part, off_mm=90)) for part in hubs)
        yield Attempt(text("Add the {hubs}", "add", hubs=joined(" and the ", (part.name for part in hubs))), both)


@rule(
    "P5",
    "Dew and frost",
    checks="Margin of the coldest optical surface above the dew point, and heating.",
    why="Optics under the open sky cool below air temperature and fog at the dew point.",
    formula="θ − κ − θ_d (θ_f, over ice, below 0 °C) against the margin in Preferences",
    source="Alduchov & Eskridge 1996; radiative cooling of the optics is an estimate (order of magnitude)",
    fix="A dew heater or a dew shield.",
    needs=("air", "dew_point"),
    lapses=True,
)
def dew_margin(context: Context) -> Iterator[Judgement]:
    """P5: dew margin small and no heater."""
    power, telescope = context.of(Powering), context.light.telescope
    if telescope is None:
        return
    margin, (point, what) = context.value("power.dew_margin_k"), power.condenses
    wanted = context.preferences.dew_margin_k
    for name, size, heated in power.glasses:
        bare = margin < wanted and not heated
        main = name == telescope.name
        if not main and not bare:
            continue  # a guide scope is told of only where it will fog
        verdict: Verdict = "warning" if bare else "ok"
        fog = text("Dew") if what == "dew" else text("Frost")
        title = (
            text("{fog} expected", "expected", fog=fog)
            if bare
            else text("Dew heater OK", what=what)
            if margin < wanted
            else text("Dew margin OK")
        )
        reason = text(
            "{fog} point {point} at {humidity} humidity; optics at {glass}.",
            f"{what}_point",
            fog=fog,
            point=Value(point, "°C", 0),
            humidity=Value(power.humidity[0], form="share"),
            glass=Value(point + margin, "°C", 0),
        )
        loose = [p.part for p in context.rig.riders if isinstance(p.part, DewHeater)]
        if bare and loose and not any(on for _, _, on in power.glasses):
            reason += text(" The {loose} does not fit {size}.", loose=loose[0].name, size=Value(size, "mm", 0))
        figures = ("power.dew_margin_k", "power.dew_point_c", "power.frost_point_c")
        limit = text("≥ {wanted} above the {what} point", wanted=Value(wanted, "K"), what=what)
        judgement = Judgement(
            verdict, title, reason, limit, Value(margin, "K", 1, form="signed"), figures, subject=None if main else name
        )
        yield with_attempts(judgement, _bands(context, telescope, size))


def _bands(context: Context, telescope: Telescope, size_mm: float) -> Iterator[Attempt]:
    """A dew heater that goes round the glass, or a shield, the smallest first."""
    bands = [p for p in ready_parts(context, DewHeater) if size_mm <= p.aperture_mm <= LOOSEST * size_mm]
    front = min(round((telescope.tube_length_mm or 200.0) - telescope.mark_mm - 20), 3000)  # as far as riders go
    place = ("riders", len(context.rig.riders))
    for part in sorted(bands, key=lambda part: part.aperture_mm)[:2]:
        lay = Edit("add", place, Placed(part=part, along_mm=front))
        yield Attempt(text("Add the {part}", "add", part=part.name), (lay,))
        # A band draws all night: where the battery then ends early, a larger one comes with it.
        for source in _sources(context, _wh(context.rig.supply.source)):
            yield Attempt(text("Add the {part}", "add", part=part.name), (lay, *source.edits), then=source.changes)
    for shield in ready_parts(context, Accessory):
        if shield.function == "dew_shield":
            yield Attempt(text("Add the {shield}", "add", shield=shield.name), (Edit("add", ("extras", 0), shield),))


@rule(
    "P6",
    "Mains and battery safety",
    checks="Whether the power supply requires safety precautions.",
    why="Mains on wet ground can kill; a short-circuited lithium battery burns.",
    formula="source = mains, or lithium",
    source="common practice; local electrical codes and manufacturer's instructions apply",
    fix="A residual-current device and weatherproof connections; a licensed electrician for fixed wiring.",
)
def cautions(context: Context) -> Iterator[Judgement]:
    """P6: mains outdoors; what batteries ask for."""
    source = context.rig.supply.source
    if source is None:
        return
    if source.mains:
        words = text(
            "Outdoors only through a residual-current device, with weatherproof connections, per local electrical code; "
            "fixed wiring is for a licensed electrician.",
            "residual_current_device",
        )
        yield Judgement("warning", text("Mains outdoors"), words, text("local electrical code"), "mains")
        return
    if source.max_a is None:
        words = text(
            "Maximum current not specified: fuse near the battery for the thinnest cable.", "fuse_near_battery"
        )
    elif source.chemistry == "lead":
        words = text("Fuse near the terminals; keep upright and ventilated while charging.", "upright_and_ventilated")
    else:
        words = text(
            "Charge within the specified temperatures, use a fuse, and no home-made pack without protection.",
            "no_home_made_pack",
        )
    yield Judgement(
        "ok", text("Battery safety"), words, text("manufacturer's instructions"), source.chemistry.replace("_", " ")
    )
