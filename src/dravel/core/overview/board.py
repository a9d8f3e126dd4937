"""The Board: every rig against every target, as fields and outlines true to scale."""

from collections.abc import Callable, Iterable
from datetime import date

from dravel.core.model import Preferences, Rig, Site, Tally, Target, Verdict, tally, worst
from dravel.core.model.base import Model
from dravel.core.model.cancellation import check_cancelled
from dravel.core.model.words import Text
from dravel.core.overview.readiness import rig_for_night
from dravel.core.sky.curves import NightFacts, night_facts
from dravel.core.sky.framing import centred, fit_target, least_share
from dravel.core.sky.moving import placed
from dravel.core.sky.night import Night, night_of, passing
from dravel.core.sky.ranking import SMALLEST, RigForNight, Worth, rank, rank_moving
from dravel.core.steps import STEPS

SIZE_FIELDS = ("major_arcmin", "minor_arcmin", "position_angle_deg", "size_doubtful")


class BoardCell(Model):
    """One rig on one target. The outline is an ellipse turned by `turn_deg` against the frame's width. `light` is the key
    under which the rig's light of the target is counted.
    """

    target_id: str
    light: str
    framed: bool
    verdict: Verdict
    words: Text
    span: float | None
    columns: int
    rows: int
    major_deg: float | None
    minor_deg: float | None
    turn_deg: float
    size_doubtful: bool
    score: float | None


class BoardRow(Model):
    """One rig across all targets, and the sizes it frames well. `dead` where no target would make it work."""

    rig_id: str
    name: str
    summary: str
    revision: int
    verdict: Verdict
    tally: Tally
    dead: bool
    field: tuple[float, float] | None
    focal_length_mm: float | None
    focal_ratio: float | None
    pixel_scale: float | None
    frames_well_arcmin: tuple[float, float] | None
    missing: Text
    cells: tuple[BoardCell, ...]


class Board(Model):
    """Rigs × targets."""

    targets: tuple[Target, ...]
    rows: tuple[BoardRow, ...]
    night: NightFacts | None
    hours: tuple[float, ...]


def board(
    rigs: Iterable[tuple[str, int, Rig]],
    targets: Iterable[Target],
    preferences: Preferences,
    site: Site | None = None,
    day: date | None = None,
    tonight: Callable[[Site | None], date] | None = None,
) -> Board:
    """Judge each rig (id, revision, document) against each target; with a site and a day also score the night.

    `hours` are the usable ones of each target. A rig's findings are counted as its own page does: at its own site
    and for the night that `tonight` gives there, whatever night the Board looks at.
    """
    night = night_of(site, day) if site is not None and day is not None else None
    listed = tuple(placed(target, night) if night else target for target in targets)
    return Board(
        targets=listed,
        rows=tuple(
            _row(*entry, listed, preferences, night, tonight(entry[2].site) if tonight else None) for entry in rigs
        ),
        night=night_facts(night, preferences) if night else None,
        hours=tuple(passing(target, night, preferences).hours for target in listed) if night else (),
    )


def worths(rig: RigForNight, targets: tuple[Target, ...], night: Night, preferences: Preferences) -> tuple[Worth, ...]:
    """Targets scored for a rig on a night, with what each score is made of: the stars', then the moving ones'."""
    fixed = tuple(target for target in targets if target.body is None)
    moving = tuple(target for target in targets if target.body is not None)
    return (*rank(fixed, rig, night, preferences, most=len(fixed)), *rank_moving(moving, rig, night, preferences))


def score(rig: Rig, target: Target, preferences: Preferences, site: Site, day: date) -> Worth | None:
    """What one cell's score is made of; None where the target is not usable on that night or the rig has no field."""
    night = night_of(site, day)
    ready = rig_for_night(STEPS.context(rig, preferences))[0]
    result = worths(ready, (placed(target, night),), night, preferences) if ready else ()
    return result[0] if result else None


def _row(
    rig_id: str, revision: int, rig: Rig, targets: tuple[Target, ...], preferences: Preferences, night: Night | None,
    tonight: date | None,
) -> BoardRow:  # fmt: skip
    context = STEPS.context(rig, preferences, tonight=tonight)
    known = context.known
    field = context.field_deg
    said = [(STEPS.step_of(rule.code).key, judgement.verdict) for rule, judgement in STEPS.said(context)]
    verdicts = [verdict for _, verdict in said]
    small = max(least_share(rig.purposes, preferences), preferences.small_target_share / SMALLEST)
    ready = rig_for_night(context)[0] if night else None
    ranked = worths(ready, targets, night, preferences) if ready and night else ()
    scores = {worth.target.key: worth.score for worth in ranked}

    return BoardRow(
        rig_id=rig_id,
        name=rig.name,
        summary=rig.summary,
        revision=revision,
        verdict=worst(verdicts),
        tally=tally(verdicts),
        dead=any(verdict == "problem" and step != "aim" for step, verdict in said),  # targets are told cell by cell
        field=field,
        focal_length_mm=known.get("focal_length"),
        focal_ratio=known.get("focal_ratio"),
        pixel_scale=known.get("pixel_scale"),
        frames_well_arcmin=(60 * field[0] * small, 60 * field[1]) if field else None,
        missing="" if field else known.why_not("field_width"),
        cells=tuple(_cell(rig, field, target, preferences, scores if ready else None) for target in targets),
    )


def _cell(
    rig: Rig,
    field: tuple[float, float] | None,
    target: Target,
    preferences: Preferences,
    scores: dict[str, float] | None,
) -> BoardCell:
    check_cancelled()
    named = {target.key, target.name}
    framing = next((f for f in rig.framings if {f.target.key, f.target.name} & named), None)
    # An outline drawn by hand on this rig goes before the list's.
    if framing is not None and target.body is None:
        target = target.model_copy(update={name: getattr(framing.target, name) for name in SIZE_FIELDS})
    angle = (framing or centred(target, field, preferences)).position_angle_deg
    least = least_share(rig.purposes, preferences)
    fit = fit_target(target, field, angle, preferences, least=least) if field else None
    major, minor = target.major_arcmin, target.minor_arcmin or target.major_arcmin
    return BoardCell(
        target_id=target.key,
        light=framing.target.key if framing is not None else target.key,
        framed=framing is not None,
        verdict=fit.verdict if fit else "ok",
        words=fit.words if fit else "size unknown" if field else "",
        span=fit.span if fit else None,
        columns=fit.columns if fit else 1,
        rows=fit.rows if fit else 1,
        major_deg=major / 60 if major else None,
        minor_deg=minor / 60 if minor else None,
        turn_deg=target.position_angle_deg - angle,
        size_doubtful=target.size_doubtful,
        score=None if scores is None else scores.get(target.key, 0.0),
    )
