"""The Power step: the night as a charge curve, what draws, what the cables lose, and the dew margin beneath."""

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model import Rig
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.physics import dew, energy
from dravel.core.steps.power.cabling import Carrying, lost_v, run_of
from dravel.core.steps.power.facts import Powering
from dravel.core.train.layout import part_key

POINTS = 49


class PowerConsumer(Model):
    """One part that draws: watts on average and at worst."""

    key: str
    name: str
    kind: str
    mean_w: float
    peak_w: float
    share: float
    wh: float
    note: Text


class PowerCable(Model):
    """A supply cable: what it carries at worst, what is lost up to its end, and what arrives; None when not known.

    `key` is its part's, `behind` that of the cable it is plugged into, `feeds` those of the parts said to hang on it.
    """

    key: str
    name: str
    behind: str | None
    feeds: tuple[str, ...]
    carries: tuple[str, ...]
    current_a: float | None
    drop_v: float | None
    arrives_v: float | None
    words: Text


class PowerOutlets(Model):
    """Outlets or plugs of one kind, wanted and there."""

    name: str
    wanted: int
    had: int
    short: bool


class PowerView(Model):
    """The night from dusk on. `left_wh` is the usable energy left at each hour; empty for mains or without a source."""

    hours_on: float
    hours_words: Text
    hours: tuple[float, ...]
    left_wh: tuple[float, ...]
    needed_wh: float
    usable_wh: float | None
    lasts_h: float | None
    ends_early: bool
    peak_a: float | None
    consumers: tuple[PowerConsumer, ...]
    cables: tuple[PowerCable, ...]
    outlets: tuple[PowerOutlets, ...]
    plugs: tuple[PowerOutlets, ...]
    air_c: tuple[float, ...]
    glass_c: tuple[float, ...]
    dew_c: float
    settles: Text
    margin_k: float
    dews_over: bool
    heated: bool
    notes: tuple[Text, ...]


def power_view(context: Context) -> PowerView:
    """A rig's power over a night."""
    rig, power, known = context.rig, context.of(Powering), context.known
    hours_on, words = power.hours
    hours = np.linspace(0, hours_on, POINTS)
    usable, mean = known.get("had_wh"), power.mean_w
    lasts = known.get("power.hours_left_h")
    left = np.maximum(usable - mean * hours, 0) if usable is not None else np.array([])
    air = dew.night_air(power.temperature[0], hours, hours_on)
    margin = context.value("power.dew_margin_k")
    wanted, had = power.ports
    titles = {"dc_out": "12 V outlets", "dew_out": "dew outlets", "usb": "data ports"}
    return PowerView(
        hours_on=hours_on,
        hours_words=words,
        hours=_told(hours),
        left_wh=_told(left),
        needed_wh=mean * hours_on,
        usable_wh=usable,
        lasts_h=lasts,
        ends_early=lasts is not None and lasts < hours_on,
        peak_a=known.get("peak_a"),
        consumers=tuple(
            PowerConsumer(
                key=draw.key, name=draw.name, kind=draw.kind, mean_w=draw.mean_w, peak_w=draw.peak_w,
                share=draw.mean_w / mean if mean else 0.0, wh=draw.mean_w * hours_on, note=draw.note,
            )
            for draw in power.draws
        ),
        cables=tuple(_cable(power, item) for item in power.cabling),
        outlets=tuple(PowerOutlets(name=titles[k], wanted=n, had=had[k], short=n > had[k]) for k, n in wanted.items()),
        plugs=tuple(PowerOutlets(name=name, wanted=n, had=has, short=n > has) for name, n, has in power.plugs),
        air_c=_told(air),
        glass_c=_told(air - dew.open_sky_k(power.shielded)),
        dew_c=power.condenses[0],
        settles=power.condenses[1],
        margin_k=margin,
        dews_over=power.dews_over(margin),
        heated=power.heated,
        notes=_notes(rig, power.draws),
    )  # fmt: skip


def _cable(power: Powering, one: Carrying) -> PowerCable:
    volts, run = power.volts, run_of(power.rig, one.cable)
    current = one.peak_w / volts if one.peak_w is not None and volts else None
    drop = lost_v(one.way, power.cabling, volts) if volts else None
    words: Words = "conductor not specified"
    if one.peak_w is None:
        words = "consumer not assigned"
    elif not volts:
        words = "supply voltage not specified"
    elif drop is not None:
        words = text(
            "{current}, {drop} voltage drop, {volts} at the consumer",
            current=Value(current, "A", 1),
            drop=Value(drop, "V", 2),
            volts=Value(volts - drop, "V", 1),
        )
    return PowerCable(
        key=part_key(one.cable),
        name=one.cable.name,
        behind=run.behind if run else None,
        feeds=run.feeds if run else (),
        carries=one.feeds,
        current_a=current,
        drop_v=drop,
        arrives_v=volts - drop if volts and drop is not None else None,
        words=words,
    )


def _told(values: "np.ndarray[tuple[int, ...], np.dtype[np.float64]]") -> tuple[float, ...]:
    return tuple(round(float(value), 2) for value in values)


def _notes(rig: Rig, draws: tuple[energy.Draw, ...]) -> tuple[Words, ...]:
    phrases: list[Words] = []
    source = rig.supply.source
    if source is None:
        phrases.append("No power supply yet.")
    elif source.voltage_v is None:
        phrases.append(text("{source}: voltage not specified, so currents and losses are unknown.", source=source.name))
    if source is not None and not source.mains and source.energy_wh is None:
        phrases.append(text("{source}: capacity not specified, so run time is unknown.", source=source.name))
    if not draws:
        phrases.append("No part has a power consumption specified.")
    return tuple(phrases)
