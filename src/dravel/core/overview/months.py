"""Which rig a month suits: how many objects fit each rig's field and stand high enough, month by month."""

from calendar import month_name
from collections.abc import Sequence
from datetime import date

import numpy as np

from dravel.core.model import Preferences, Site, Target
from dravel.core.model.base import Model
from dravel.core.model.cancellation import check_cancelled
from dravel.core.model.words import Text, text
from dravel.core.sky.night import night_of
from dravel.core.sky.ranking import SMALLEST
from dravel.core.sky.search import ENOUGH_HOURS, FITS_AT_MOST
from dravel.core.sky.standing import facts_of, standing

BRIGHT_ENOUGH = 12.5
LARGE_ENOUGH_ARCMIN = 5.0  # nebulae often have no magnitude; those of some size count all the same
PLATES = frozenset({"Lynds 1965", "Lynds 1962"})  # hundreds of faint patches that hardly anybody sets out for
SHORT_SHARE = 0.4
GALAXY_SHARE = 0.75


class RigMonths(Model):
    """One rig: objects that suit it, month by month."""

    rig_id: str
    name: str
    counts: tuple[int, ...]


class Months(Model):
    """Twelve months from the first: objects by rig, which rig each month suits best, and what to make of it."""

    months: tuple[str, ...]
    rows: tuple[RigMonths, ...]
    suits: tuple[str | None, ...]
    galaxy_share: tuple[float, ...]
    words: tuple[Text, ...]


def months(
    rigs: Sequence[tuple[str, str, tuple[float, float], float]],
    targets: tuple[Target, ...],
    site: Site,
    first: date,
    preferences: Preferences,
) -> Months:
    """Count, for each rig (id, name, field in degrees, least share of it wanted), the objects that fit it and are usable for
    two hours on the night of the fifteenth, moon or no moon. A month suits the rig that has the largest share of its
    own best month. Bounds are Dravel's own convention.
    """
    everything = facts_of(targets)
    seen_on_plates = np.array([target.size_source in PLATES for target in targets], dtype=bool)
    large = everything.lines & (everything.major >= LARGE_ENOUGH_ARCMIN) & ~seen_on_plates
    worth = (everything.magnitude <= BRIGHT_ENOUGH) | large
    worth &= everything.major > 0
    facts = everything.part(worth)
    galaxy = np.array([target.kind == "galaxy" for target in targets], dtype=bool)[worth]
    firsts = [date(first.year + (first.month - 1 + k) // 12, (first.month - 1 + k) % 12 + 1, 15) for k in range(12)]
    up = np.array([standing(facts, night_of(site, day), preferences).hours >= ENOUGH_HOURS for day in firsts])
    rows = []
    for rig_id, name, field, least in rigs:
        check_cancelled()
        span = facts.span(field)
        fits = (span >= max(least, preferences.small_target_share / SMALLEST)) & (span <= FITS_AT_MOST)
        rows.append(RigMonths(rig_id=rig_id, name=name, counts=tuple(int(n) for n in (up & fits).sum(axis=1))))
    names = tuple(month_name[day.month] for day in firsts)
    shares = np.array([[n / max(1, *row.counts) for n in row.counts] for row in rows]).reshape(len(rows), 12)
    suits = tuple(rows[int(np.argmax(shares[:, k]))].rig_id if len(rows) and shares[:, k].any() else None
                  for k in range(12))  # fmt: skip
    share = tuple(float(galaxy[seen].mean()) if seen.any() else 0.0 for seen in up)
    return Months(months=names, rows=tuple(rows), suits=suits, galaxy_share=share,
                  words=tuple(_words(names, rows, shares, share)))  # fmt: skip


def _words(
    names: tuple[str, ...], rows: list[RigMonths], shares: "np.ndarray[tuple[int, int], np.dtype[np.float64]]",
    galaxy: tuple[float, ...],
) -> list[Text]:  # fmt: skip
    """For each rig that runs short: when, against which month, and which rig to take then."""
    said = []
    for i, row in enumerate(rows):
        low, high = int(np.argmin(row.counts)), int(np.argmax(row.counts))
        if row.counts[high] == 0 or shares[i, low] > SHORT_SHARE:
            continue
        sentence = text(
            "{row} has few targets in {names}: {counts} objects, {counts_2} in {names_2}.",
            row=row.name,
            names=names[low],
            counts=row.counts[low],
            counts_2=row.counts[high],
            names_2=names[high],
        )
        if galaxy[low] >= GALAXY_SHARE:
            sentence += " A galaxy month"
            other = max((j for j in range(len(rows)) if j != i), key=lambda j: shares[j, low], default=None)
            if other is not None and shares[other, low] > shares[i, low] and rows[other].counts[low] > 0:
                sentence += text("; {rows} has {counts} then", rows=rows[other].name, counts=rows[other].counts[low])
            sentence += "."
        said.append(sentence)
    return said
