"""The five goals of a design: new money, carried mass, fit to the targets, speed and ease; how each is counted.

Each is counted in steps that anybody would call a difference: 50 of money (a twentieth of what may be spent, where that is
more), two kilograms, three per cent of fit, a fifth of speed, single points of ease. Within a step two rigs are as good as each other. Dravel's own convention.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from math import degrees, hypot, log, log1p
from typing import Any

from dravel.core.design.paths import Brief
from dravel.core.design.shop import price_of
from dravel.core.design.subs import VIDEO_S
from dravel.core.design.trains import SAMPLED, Train
from dravel.core.model import Framing, Mount, Part, Preferences, Purpose, Rig, Target
from dravel.core.model.base import Model
from dravel.core.model.inventory import parts_of
from dravel.core.moves.subs import SHORT_S
from dravel.core.sky.framing import Fit, best_fit, centred, least_share
from dravel.core.steps.guiding.limits import ERROR
from dravel.core.steps.guiding.rules import LONG_FOCUS_MM

MONEY_STEP, MASS_STEP, FIT_STEP, SPEED_STEP = 50, 2.0, 0.03, 0.20  # units, kg, shares
MOST_EASE = 10
NO_SPEED = -300  # steps: slower than anything
LEAST_FIT = 0.1  # a rig that does less for the targets is no answer. Dravel's own convention
WORTH_FRAMING = 0.2  # what a target must count to stand in the rig's list. Dravel's own convention
MOST_FRAMED = 6  # so that a new rig's list can be taken in at a glance
COLLIMATED = ("newtonian", "ritchey_chretien", "maksutov_newtonian")
MANY_FILTERS = 3


class Scores(Model):
    """What a rig scores: new money, kg, share of target-months, speed and points of ease."""

    money: float
    mass_kg: float
    fit: float
    speed: float
    ease: int


@dataclass(frozen=True)
class TargetFit:
    """One target in a train's field: how it lies in it, and what it counts (0 to 1) with the sampling."""

    target: Target
    fit: Fit | None
    framed: float
    counts: float


@lru_cache(maxsize=20_000)
def _framed(
    target: Target, field: tuple[float, float], purposes: tuple[Purpose, ...], preferences: Preferences
) -> tuple[Fit | None, float]:
    """How well a target is framed: whole in one frame 1, less where it is small in it, one over the tiles of a mosaic.

    A target whose size nobody knows is not held against any field.
    """
    least = least_share(purposes, preferences)
    fit = best_fit(target, field, preferences, least=least)
    if fit is None:
        return None, 1.0
    if fit.verdict == "problem":
        return fit, 0.0
    if fit.tiles > 1:
        return fit, 1 / fit.tiles
    return fit, 1.0 if fit.verdict == "ok" or least <= 0 else min(1.0, fit.span / least)


@dataclass(frozen=True)
class Aims:
    """The targets of a request, and how much each counts."""

    targets: tuple[Target, ...]
    counts: tuple[int, ...]


def fits(train: Train, aims: Aims, brief: Brief) -> tuple[TargetFit, ...]:
    """Each target of the request in a train's field; of moon and planets what the aperture resolves counts too."""
    answer, seen = [], resolved(train, brief) if brief.planets else 1.0
    for target in aims.targets:
        fit, framed = _framed(target, train.field_deg, brief.purposes, brief.preferences)
        if brief.planets and fit is not None and fit.tiles > 1:
            framed = MOON_IN_PARTS if target.body == "Moon" else 0.0
        answer.append(TargetFit(target, fit, framed, framed * train.sampled * seen))
    return tuple(answer)


LUCKY = 0.25  # of the seeing is left in the best of a thousand short frames. Common practice
MOON_IN_PARTS = 0.7  # what the moon counts that is put together out of parts: one request of several
YELLOW_UM = 0.55


def resolved(train: Train, brief: Brief) -> float:
    """How much of what the air lets through on a good moment an aperture resolves, 0 to 1: s / √((λ/D)² + s²), s the seeing of
    the best frames. Source: width of the Airy pattern; the share of the seeing is common practice.
    """
    aperture = train.choice.telescope.used("aperture_mm") or 0.0
    if aperture <= 0:
        return 0.0
    seeing = (brief.site.seeing_arcsec if brief.site else None) or brief.preferences.default_seeing_arcsec
    sharp, airy = LUCKY * seeing, degrees(YELLOW_UM / 1000 / aperture) * 3600
    return sharp / hypot(sharp, airy)


def fit_of(found: tuple[TargetFit, ...], aims: Aims) -> float:
    """Share of the target-months that are framed and sampled well, 0 to 1; 0 where no target ever stands high enough."""
    months = sum(aims.counts)
    return sum(item.counts * count for item, count in zip(found, aims.counts, strict=True)) / months if months else 0.0


@lru_cache(maxsize=20_000)
def _centred(target: Target, field: tuple[float, float], preferences: Preferences, columns: int, rows: int) -> Framing:
    made = centred(target, field, preferences)
    return made.model_copy(update={"columns": columns, "rows": rows}) if columns * rows > 1 else made


def held_still(train: Train, mount: Mount, sub_s: float, preferences: Preferences) -> float:
    """What is left of the detail as a rig is held: all where the mount's guided error is within half a pixel, half beyond,
    nothing where it breaks; half where a guide scope does not see what the picture does, by the school of guiding.

    Of an unguided rig, whose subs are cut to a pixel of trail, less is left the shorter they get.
    """
    if train.flexure is None:
        return unguided_share(sub_s)
    own = mount.used("guided_rms_arcsec")
    held = 1.0 if own is None else SAMPLED[ERROR.verdict(own / train.scale)]
    return held * (0.5 if _looks_elsewhere(train, preferences) else 1.0)


def unguided_share(sub_s: float) -> float:
    """What is left of an unguided rig's picture: short subs mean thousands of frames, lost ones and no dithering. Frames of
    video are meant to be short. Dravel's own convention, after common practice.
    """
    if sub_s <= VIDEO_S:
        return 1.0
    return next(share for least, share in ((60.0, 1.0), (30.0, 0.9), (SHORT_S, 0.7), (0.0, 0.4)) if sub_s >= least)


def _looks_elsewhere(train: Train, preferences: Preferences) -> bool:
    """Whether a guide scope does not see what the picture does: beside a mirror that moves, or a long focal length."""
    if train.method != "guide_scope" or preferences.guiding == "guide_scope_always":
        return False
    return train.spacing.mirror_moves or train.focal_mm > LONG_FOCUS_MM


def framings_of(train: Train, found: tuple[TargetFit, ...], brief: Brief) -> tuple[Framing, ...]:
    """The targets that a rig is framed on: some of those it does best by, as mosaics where they need one."""
    worth = sorted((item for item in found if item.counts >= WORTH_FRAMING), key=lambda item: -item.counts)
    if brief.planets:
        worth = [item for item in worth if item.fit is None or item.fit.tiles == 1]
    tiles = [(1, 1) if item.fit is None else (item.fit.columns, item.fit.rows) for item in worth]
    return tuple(
        _centred(item.target, train.field_deg, brief.preferences, columns, rows)
        for item, (columns, rows) in list(zip(worth, tiles, strict=True))[:MOST_FRAMED]
    )


def speed_of(train: Train, sub_s: float, brief: Brief) -> float:
    """How fast depth grows on the same patch of sky: signal to noise squared a second and square arcsecond.

    Of planets, which are bright, only the light that is gathered counts. The time between subs is taken off.
    """
    if brief.planets:
        return train.gained.area_m2 * train.gained.quantum
    return train.gained.per_sky(sub_s) * sub_s / (sub_s + brief.preferences.download_s) * _mono_share(train, brief)


def _mono_share(train: Train, brief: Brief) -> float:
    """What is left of a mono camera's speed when the night is shared among its filters. Common practice, in round numbers:
    half of it goes to luminance and half to three colours that pass a third each; of lines, half to the one that is counted.
    """
    many = max((len(item.filters) for item in train.rig.path), default=0)
    if not train.mono or many < 2:
        return 1.0
    return 1 / 2 if brief.lines else 2 / 3


def speed_step(speed: float) -> int:
    """A speed in its steps; nothing at all is the lowest of them."""
    return round(log(speed) / log1p(SPEED_STEP)) if speed > 0 else NO_SPEED


def train_burdens(train: Train) -> list[str]:
    """What of a train asks for skill or time in the dark, each a point off ease. Dravel's own convention."""
    results = []
    telescope = train.choice.telescope
    if telescope.design in COLLIMATED:
        results.append("mirrors to collimate")
    if train.choice.corrector is not None and telescope.design != "camera_lens":
        results.append("back focus to set")
    if train.computer:
        results.append("a field computer")
    if train.method == "guide_scope":
        results.append("a guide scope")
    if train.method == "off_axis":
        results += ["an off-axis guider", "OAG prism and focus"]
    if any(len(item.filters) >= MANY_FILTERS for item in train.rig.path):
        results.append("filters to shoot one by one")
    return results


def mount_burdens(mount: Mount) -> list[str]:
    """What of a mount asks for skill or time."""
    results = []
    if mount.needs_counterweight:
        results.append("counterweights to balance")
    if not mount.goto:
        results.append("targets found by hand")
    if mount.style != "alt_azimuth":
        results.append("a polar axis to align")
    return results


def cents(parts: Iterable[Part], share: float) -> int:
    """New money for parts, in hundredths: whole numbers, so that sums are the same in whatever order they are made."""
    return sum(round(price_of(part, share) * 100) for part in parts)


def grams(parts: Iterable[Part]) -> int:
    """Mass of parts, each to a gram."""
    return sum(round(part.used("mass_g") or 0.0) for part in parts)


def score(rig: Rig, train: Train, mount: Mount, aims: Aims, brief: Brief, share: float) -> Scores:
    """What a whole rig scores."""
    return Scores(
        money=cents(parts_of(rig), share) / 100,
        mass_kg=grams(parts_of(rig)) / 1000,
        fit=fit_of(fits(train, aims, brief), aims) * held_still(train, mount, rig.guide.sub_s, brief.preferences),
        speed=speed_of(train, rig.guide.sub_s, brief),
        ease=MOST_EASE - len(train_burdens(train)) - len(mount_burdens(mount)),
    )


def steps_of(scores: Scores) -> tuple[int, int, int, int, int]:
    """Scores in their steps, each the smaller the better."""
    return (
        money_step(round(scores.money * 100)), mass_step(round(scores.mass_kg * 1000)), -fit_step(scores.fit),
        -speed_step(scores.speed), -scores.ease,
    )  # fmt: skip


def money_step(hundredths: Any) -> Any:
    """Money in its steps, begun ones counted, of one sum or an array of them: nothing is nothing."""
    return -(-hundredths // (MONEY_STEP * 100))


MONEY_SHARE = 20  # so many steps of money in what may be spent, at most


def money_unit(most: float | None) -> int:
    """A step of money under a request, in hundredths."""
    return max(MONEY_STEP, round((most or 0.0) / MONEY_SHARE)) * 100


def mass_step(grams: Any) -> Any:
    """Mass in its steps, begun ones counted."""
    return -(-grams // round(MASS_STEP * 1000))


def fit_step(fit: float) -> int:
    """Fit in its steps; the least of it is one."""
    return max(round(fit / FIT_STEP), 1 if fit > 0 else 0)
