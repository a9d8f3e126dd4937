"""Rules of how it stands: tipping, wind, the tube against the legs."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Accessory, Support
from dravel.core.model.edit import Edit
from dravel.core.moves.shelf import ready_parts
from dravel.core.steps.load.balancing import rated_nm
from dravel.core.steps.load.facts import Load
from dravel.core.steps.load.limits import LEGS, STEADY, WIND
from dravel.core.steps.load.moves import mounts, raised, weighted


@rule(
    "L6",
    "Standing",
    checks="Whether the load can tip the rig over the edge between two feet, in any direction of its arm, with the wind.",
    why="A head without counterweights carries its load beside the middle; light tripods fall.",
    formula="restoring / overturning moment about each edge of the foot polygon, the smallest",
    source="statics; one and a half before it counts as steady is Dravel's own convention",
    mend="A weight on the spreader, a wider support, or counterweights.",
    needs=("carried", "arm"),
    limits=(STEADY,),
)
def standing(context: Context) -> Iterator[Judgement]:
    """L6: uncounterweighted head that can tip its tripod."""
    found = context.of(Load).tipping
    if found is None:
        return
    worst = found.worst
    limit = f"{STEADY.words} what would tip it"
    verdict = STEADY.verdict(worst)
    told = "nothing overturns it" if worst > 1e6 else f"{worst:.1f} ×"
    title = {"holds": "Stands firm", "strains": "Stands, but not firmly", "breaks": "Can tip over"}[verdict]
    speed = context.of(Load).wind_m_s[0]
    reason = f"Towards the edge between two feet {told}, with a wind of {speed:.0f} m/s pushing the same way."
    judgement = Judgement(verdict, title, reason, limit, told, ("load.tipping_margin",))
    yield with_attempts(judgement, _steadied(context))


def _steadied(context: Context) -> Iterator[Attempt]:
    rig = context.rig
    for extra in ready_parts(context, Accessory):
        if extra.function == "spreader_weight":
            yield Attempt(f"Hang the {extra.name} on the spreader", (Edit("add", ("extras", len(rig.extras)), extra),))
    if context.of(Load).shaft is not None and not rig.counterweights:
        yield from weighted(context)
    radius = rig.support.foot_radius_mm if rig.support else 0.0
    for part in ready_parts(context, Support):
        if part.foot_radius_mm > radius:
            yield Attempt(f"Stand it on the {part.name}", (Edit("replace", ("support",), part),))


@rule(
    "L8",
    "Wind on the tube",
    checks="The moment of the usual wind on tube and train against the mount's rating.",
    why="Within the payload is not within the wind: a wide tube in a breeze is no short refractor of the same mass.",
    formula="½ · ρ · v² · C_d · A · D against 5 % of the rated moment (20 % breaks)",
    source="ASCE 7 in SI form for the pressure; the shares are Dravel's own convention",
    mend="A place behind a wall, a calmer night, or a heavier mount.",
    needs=("carried", "arm", "wind"),
    limits=(WIND,),
)
def wind(context: Context) -> Iterator[Judgement]:
    """L8: wind moment out of proportion."""
    mount, load = context.rig.mount, context.of(Load)
    if mount is None:
        return
    moment, rated = context.value("load.wind_nm"), rated_nm(mount)
    share = moment / rated
    verdict = WIND.verdict(share)
    speed, said = load.wind_m_s
    title = "Wind is felt" if verdict != "holds" else "Wind does little"
    reason = f"{speed:.1f} m/s ({said}) push with {load.wind_n:.1f} N: {moment:.2f} N·m."
    if share > 0:  # the moment goes with the square of the speed
        felt, much = (speed * ((bound or 0.0) / share) ** 0.5 for bound in (WIND.strains, WIND.breaks))
        reason += f" Felt from {felt:.0f} m/s, too much from {much:.0f}."
    limit = f"{WIND.words} of the rated moment: {WIND.strains_at(rated):.1f} N·m"
    judgement = Judgement(verdict, title, reason, limit, f"{share:.1%}", ("load.wind_nm",))
    yield with_attempts(judgement, mounts(context))


@rule(
    "L9",
    "Tube against the legs",
    checks="Whether the tube's rear end clears the tripod's legs near the zenith.",
    why="A long tube swings its camera into a leg near the meridian, where the best targets are.",
    formula="saddle height + axis − radius − leg's distance at the depth of the rear end",
    source="geometry, approximate: straight legs, tube upright",
    mend="A pier extension, or a pier.",
    needs=("legs",),
    limits=(LEGS,),
)
def legs(context: Context) -> Iterator[Judgement]:
    """L9: tube meets tripod leg near the meridian."""
    gap = context.value("legs")
    verdict = LEGS.verdict(gap)
    title = {"holds": "Tube clears the legs", "strains": "Tube passes the legs closely", "breaks": "Tube meets a leg"}[
        verdict
    ]
    reason = f"Upright beside the support its rear end passes the legs at {gap:.0f} mm."
    judgement = Judgement(verdict, title, reason, LEGS.words, f"{gap:.0f} mm", ("load.leg_clearance_mm",))
    yield with_attempts(judgement, raised(context))
