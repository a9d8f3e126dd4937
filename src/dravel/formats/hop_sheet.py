"""The hop card on paper: a chart from a bright star to the target, and the steps in words. One page of A4."""

from collections.abc import Iterator

import numpy as np

from dravel.core.sky.altaz import Array
from dravel.core.sky.hop import HopCard
from dravel.formats import paper
from dravel.formats.paper import MARGIN, WIDTH, Box, Dot, Stroke, Text

CHART = WIDTH - 2 * MARGIN
TOP = MARGIN + 62
MOST_STEPS = 24


def as_svg(card: HopCard, stars: Array) -> str:
    """The card as SVG. `stars` (n, 3): plane x and y in degrees around the card's middle, magnitude."""
    return paper.as_svg(_title(card), [list(_page(card, stars))])


def as_pdf(card: HopCard, stars: Array) -> bytes:
    """The card as PDF."""
    return paper.as_pdf(_title(card), [list(_page(card, stars))])


def _title(card: HopCard) -> str:
    return f"Hop card, {card.target}"


def _page(card: HopCard, stars: Array) -> Iterator[paper.Mark]:
    yield Text(MARGIN, MARGIN + 14, f"Hop card: {card.target}", 16, True)
    start = card.stops[0]
    named = start.name or f"the star of magnitude {start.magnitude:.1f}"
    yield Text(
        MARGIN,
        MARGIN + 32,
        f"From {named}, in steps of a field of {_angle(card.field_deg)}. North is up, east to the left.",
        10,
    )
    yield Text(MARGIN, MARGIN + 46, "Look with both eyes used to the dark and a red light.", 8)
    yield Box(MARGIN, TOP, CHART, CHART)
    scale = CHART / 2 / card.radius_deg

    def at(x: float, y: float) -> tuple[float, float]:
        return MARGIN + CHART / 2 - x * scale, TOP + CHART / 2 - y * scale

    faintest = float(stars[:, 2].max()) if len(stars) else 6.0
    for x, y, magnitude in stars.tolist():
        left, down = at(x, y)
        if MARGIN + 4 < left < WIDTH - MARGIN - 4 and TOP + 4 < down < TOP + CHART - 4:
            yield Dot(left, down, float(np.clip(0.4 + 0.55 * (faintest - magnitude), 0.4, 5.0)))
    places = [at(*stop.at) for stop in card.stops]
    for i, (left, down) in enumerate(places):
        yield Dot(left, down, card.field_deg / 2 * scale, full=False)
        if i:
            yield Stroke(*places[i - 1], left, down, 0.7, True)
    for i, (left, down) in enumerate(places[:-1]):
        yield Text(left + 6, down - 6, str(i), 10, True)
    left, down = places[-1]
    yield Stroke(left - 6, down, left + 6, down, 1.2)
    yield Stroke(left, down - 6, left, down + 6, 1.2)
    yield Text(left + 8, down - 6, card.target, 10, True)
    yield from _steps(card)


def _steps(card: HopCard) -> Iterator[paper.Mark]:
    y = TOP + CHART + 22
    columns = 2 if len(card.hops) > 8 else 1
    per = -(-min(len(card.hops), MOST_STEPS) // columns)
    for i, hop in enumerate(card.hops[:MOST_STEPS]):
        stop = card.stops[i + 1]
        what = stop.name or (
            f"a star of magnitude {stop.magnitude:.1f}" if stop.magnitude is not None else "no star: go on"
        )
        x = MARGIN + (i // per) * CHART / columns
        words = f"[  ] {i + 1}  {hop.words}: {what}"
        yield Text(x, y + (i % per) * 14, words, 9, i == len(card.hops) - 1)
    if len(card.hops) > MOST_STEPS:
        left = len(card.hops) - MOST_STEPS
        yield Text(MARGIN, y + per * 14, f"and {left} more, as drawn: a wider finder needs fewer.", 9)


def _angle(degrees: float) -> str:
    return f"{degrees:.1f}°" if degrees >= 1 else f"{degrees * 60:.0f}′"
