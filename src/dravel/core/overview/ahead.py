"""The fortnight ahead: which night for which target, by usable hours and moonlight."""

from collections.abc import Sequence
from datetime import date, timedelta

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model import Site
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, text
from dravel.core.overview.night_targets import AHEAD_NIGHTS, worth_of
from dravel.core.sky.evenings import named
from dravel.core.sky.night import night_of, passing_on
from dravel.core.steps.exposure.facts import Exposing


class AheadCell(Model):
    """A target on a night: usable hours, moonlight in mag, and its worth as a share of the target's best night here."""

    hours: float
    moonlight_mag: float
    share: float
    best: bool
    words: Text


class AheadRow(Model):
    """A target over the nights ahead, one cell each."""

    rig_id: str
    rig: str
    target: str
    name: str
    cells: tuple[AheadCell, ...]


class AheadNight(Model):
    """A night ahead, with the lit share of its moon and its dark hours."""

    day: date
    words: Text
    lit: float
    dark_hours: float


class Ahead(Model):
    """Nights across, targets down."""

    nights: tuple[AheadNight, ...]
    rows: tuple[AheadRow, ...]


def ahead(rigs: Sequence[tuple[str, Context]], site: Site, day: date) -> Ahead:
    """The nights from `day` on, and what each gives the targets of some rigs."""
    days = [day + timedelta(days=k) for k in range(AHEAD_NIGHTS)]
    darkness = rigs[0][1].preferences.darkness if rigs else "astronomical"
    nights = []
    for item in days:
        night = night_of(site, item)
        dark = night.dark(darkness)
        nights.append(AheadNight(day=item, words=named(item, day), lit=night.lit, dark_hours=night.hours(dark)))
    rows = []
    for rig_id, context in rigs:
        own = context.of(Exposing)
        colours = {id(shot.framing): own.moon_colour(shot) for shot in reversed(own.shots)}
        for _, framing, _ in own.framings:
            seen = [passing_on(framing.target, site, entry, context.preferences) for entry in days]
            worths = np.array([worth_of(entry, colours.get(id(framing), 1.0)) for entry in seen])
            best = float(worths.max(initial=0.0))
            cells = tuple(
                AheadCell(
                    hours=entry.hours,
                    moonlight_mag=entry.moonlight_mag,
                    share=float(worth / best) if best > 0 else 0.0,
                    best=best > 0 and worth >= best * 0.999,
                    words=text(
                        "{hours}, moon {moonlight_mag} mag",
                        hours=Value(entry.hours, form="long"),
                        moonlight_mag=Value(entry.moonlight_mag, digits=1),
                    )
                    if entry.hours
                    else "not up in darkness",
                )
                for entry, worth in zip(seen, worths, strict=True)
            )
            rows.append(
                AheadRow(
                    rig_id=rig_id, rig=context.rig.name, target=framing.target.key,
                    name=framing.target.name, cells=cells,
                )
            )  # fmt: skip
    return Ahead(nights=tuple(nights), rows=tuple(rows))
