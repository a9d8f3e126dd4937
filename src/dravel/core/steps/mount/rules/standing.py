"""Rules of how it stands: tipping, wind, the tube against the legs."""

from collections.abc import Iterator
from itertools import islice

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Accessory, Support, worst
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, text
from dravel.core.moves.shelf import ready_parts
from dravel.core.steps.mount.balancing import rated_nm
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.mount.limits import LEGS, SHAKE, STEADY, WIND
from dravel.core.steps.mount.moves import cleared, mounts, weighted
from dravel.core.steps.mount.wind import GUST
from dravel.core.steps.mount.wind_felt import felt_and_too_much

# How far off an assumed size of the tube may put a verdict: of the area, and of the room past the legs. Dravel's own.
SIZE_OFF, LEGS_OFF_MM = 0.4, 100.0


@rule(
    "L6",
    "Tip-over stability",
    checks="Whether payload and wind can tip the rig over the line between two feet, in any direction.",
    why="A mount without counterweights carries its payload off-centre; light tripods tip over.",
    formula="restoring / overturning moment about each edge of the foot polygon, the smallest",
    source="statics; safety factor 1.5 is a default threshold",
    fix="Ballast on the spreader, a wider tripod, or counterweights.",
    needs=("carried", "arm"),
    limits=(STEADY,),
)
def standing(context: Context) -> Iterator[Judgement]:
    """L6: uncounterweighted head that can tip its tripod."""
    tipping = context.of(Load).tipping
    if tipping is None:
        return
    margin = tipping.worst
    limit = text("safety factor ≥ {STEADY}", STEADY=STEADY.bound)
    verdict, kinder = STEADY.verdict(margin), context.of(Load).kinder_tipping
    if verdict == "problem" and kinder is not None and STEADY.verdict(kinder.worst) != "problem":
        verdict = "warning"  # it would break on an assumed height alone
    answer = text("no overturning moment") if margin > 1e6 else Value(margin, "×", 1)
    title = {"ok": "Tip-over stability OK", "warning": "Tip-over stability low", "problem": "Rig can tip over"}[verdict]
    speed = context.of(Load).wind_m_s[0]
    reason = text(
        "Between two feet {told}, with {speed} of wind in the same direction.{saddle_words}",
        told=answer,
        speed=Value(speed, "m/s", 0),
        saddle_words=context.of(Load).saddle_words,
    )
    judgement = Judgement(verdict, title, reason, limit, answer, ("mount.tipping_margin",))
    yield with_attempts(judgement, _steadied(context))


def _steadied(context: Context) -> Iterator[Attempt]:
    rig = context.rig
    for extra in ready_parts(context, Accessory):
        if extra.function == "spreader_weight":
            yield Attempt(
                text("Add the {extra} to the spreader", "add_to_spreader", extra=extra.name),
                (Edit("add", ("extras", len(rig.extras)), extra),),
            )
    if context.of(Load).shaft is not None and not rig.counterweights:
        yield from islice(weighted(context), 1)  # whichever hang there, they weigh alike
    radius = rig.support.foot_radius_mm if rig.support else 0.0
    for part in ready_parts(context, Support):
        if part.foot_radius_mm > radius:
            yield Attempt(
                text("Replace the tripod with the {part}", part=part.name), (Edit("replace", ("support",), part),)
            )


@rule(
    "L8",
    "Wind vibration",
    checks="Vibration by gusts of the typical wind, and their moment against the rating of the mount.",
    why="A wide tube catches more wind than a small refractor of the same mass.",
    formula="M = ½ · ρ · (G·v)² · C_d · A · arm about both axes; vibration = √(M₁² + M₂²) · (1 − 1/G²) · deflection per moment; M₁ against 5% of the rated moment (problem > 20%)",
    source="ASCE 7 in SI form for the pressure; gusts, stiffness by class of mount and the share are estimates; common practice: noticeable at 4–5 m/s, stop at 8–10 m/s, earlier with wide tubes",
    fix="A sheltered place, a calmer night, or a heavier mount.",
    needs=("wind_ra", "wind"),
    limits=(SHAKE, WIND),
)
def wind(context: Context) -> Iterator[Judgement]:
    """L8: gusts that shake the picture, or a moment out of proportion."""
    mount, load = context.rig.mount, context.of(Load)
    if mount is None:
        return
    moment, rated, shake = context.value("wind_ra"), rated_nm(mount), context.known.get("shake_px")
    share = moment / rated
    rough = SIZE_OFF if load.size_words else 0.0
    verdict = worst((WIND.careful(share, rough * share), SHAKE.careful(shake or 0.0, rough * (shake or 0.0))))
    if verdict == "problem" and "planetary" in context.rig.purposes and WIND.verdict(share) != "problem":
        verdict = "warning"  # a frame of video is over before the tube has swung: of thousands the steady ones are kept
    speed, said = load.wind_m_s
    title = {"ok": "Wind vibration OK", "warning": "Wind vibration noticeable", "problem": "Wind vibration too large"}[
        verdict
    ]
    answer = (
        ""
        if shake is None
        else text(": vibration {shake} = {shake_2}", shake=context.shown("shake"), shake_2=Value(shake, "px", 1))
    )
    reason = text(
        "Gusts of {GUST} in {speed} ({said}) push with {wind_n} N{told}.",
        GUST=Value(GUST * speed, "m/s", 1),
        speed=Value(speed, "m/s", 1),
        said=said,
        wind_n=Value(load.wind_n, digits=1),
        told=answer,
    )
    felt, much = felt_and_too_much(context)
    if felt is not None and much is not None:
        reason += text(
            " Noticeable from {felt}, too strong from {much}.", felt=Value(felt, "m/s", 0), much=Value(much, digits=0)
        )
    reason += load.size_words
    limit = text(
        "≤ {SHAKE} of vibration; ≤ {WIND} of the rated moment, {rated}",
        SHAKE=SHAKE.bound,
        WIND=WIND.bound,
        rated=Value(WIND.warning_at(rated), "N·m", 1),
    )
    measure = (
        text("{share} of the rated", share=Value(share, digits=1, form="share"))
        if shake is None
        else Value(shake, "px", 1)
    )
    figures = ("mount.wind_shake_px", "mount.wind_shake_arcsec", "mount.wind_nm", "mount.wind_declination_nm")
    judgement = Judgement(verdict, title, reason, limit, measure, figures)
    yield with_attempts(judgement, mounts(context))


@rule(
    "L9",
    "Tripod leg clearance",
    checks="Whether tube, image train and accessories clear the tripod legs at the targets' transit; without targets, near the zenith.",
    why="Near the meridian a long tube can swing the camera into a leg.",
    formula="leg from the axis of what reaches it, in the plane across the tube, − its radius − half a leg",
    source="geometry, approximate: straight legs, round parts, before and after the flip",
    fix="Turn the tripod, use a pier or extension, move an accessory, slide the tube forward, shorten the train.",
    needs=("legs",),
    limits=(LEGS,),
    lapses=True,
)
def legs(context: Context) -> Iterator[Judgement]:
    """L9: tube meets tripod leg near the meridian."""
    gap, near = context.value("legs"), context.of(Load).leg_clearance
    if near is None:
        return
    words = context.of(Load).size_words
    verdict = LEGS.careful(gap, LEGS_OFF_MM if words else 0.0)
    title = {"ok": "Leg clearance OK", "warning": "Leg clearance small", "problem": "Collision with tripod leg"}[
        verdict
    ]
    passes = (
        text("clears the nearest leg by {gap}", gap=Value(gap, "mm", 0))
        if gap >= 0
        else text("overlaps a leg by {gap}", gap=Value(-gap, "mm", 0))
    )
    reason = text(
        "Pointing at {towards}, the {part} {passes}.{words}",
        towards=near.towards,
        part=near.part,
        passes=passes,
        words=words,
    )
    judgement = Judgement(verdict, title, reason, LEGS.words, Value(gap, "mm", 0), ("mount.leg_clearance_mm",))
    yield with_attempts(judgement, cleared(context))
