"""How a rig framed a target before: each framing that was kept, to be taken up again exactly."""

from collections.abc import Iterable

from dravel.core.model import Framing, Target
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.sky.altaz import directions, separation

MOST = 12
CENTRED_ARCMIN = 0.5  # nearer than this a frame is called centred


class EarlierFraming(Model):
    """A framing that stood once: the last revision it stood in, when that was saved, and how it lies in words."""

    revision: int
    saved_at: str
    framing: Framing
    words: Text


def earlier(
    history: Iterable[tuple[int, str, tuple[Framing, ...]]], target: str, most: int = MOST
) -> tuple[EarlierFraming, ...]:
    """Framings of a target (by id or name) over revisions (number, when saved, framings; newest first).

    The one that stands in the newest revision is left out; equal ones are told once, with the newest they stood in.
    """
    result: dict[tuple[float, ...], EarlierFraming] = {}
    now: tuple[float, ...] | None = None
    for place, (revision, saved_at, framings) in enumerate(history):
        framing = next((item for item in framings if target in (item.target.id, item.target.name)), None)
        if framing is None:
            continue
        lies = _lies(framing)
        if place == 0:
            now = lies
        elif lies != now and lies not in result:
            result[lies] = EarlierFraming(revision=revision, saved_at=saved_at, framing=framing, words=_words(framing))
        if len(result) == most:
            break
    return tuple(result.values())


def _lies(framing: Framing) -> tuple[float, ...]:
    return (
        framing.centre_ra_deg, framing.centre_dec_deg, framing.position_angle_deg,
        framing.columns, framing.rows, framing.overlap,
    )  # fmt: skip


def _words(framing: Framing) -> Text:
    phrases: list[Words] = [Value(framing.position_angle_deg, "°")]
    if framing.columns * framing.rows > 1:
        phrases.append(text("{columns} × {rows} tiles", columns=framing.columns, rows=framing.rows))
    phrases.append(_off_centre(framing, framing.target))
    return joined(", ", phrases)


def _off_centre(framing: Framing, target: Target) -> Words:
    centre = directions(framing.centre_ra_deg, framing.centre_dec_deg)
    off = 60 * float(separation(centre, directions(target.ra_deg, target.dec_deg))[0])
    return "centred" if off < CENTRED_ARCMIN else text("{off} off the centre", off=Value(off, "′", 0))
