"""Rules of balance about both axes, and of what hangs at one side."""

from collections.abc import Iterator
from itertools import chain

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, School, rule, with_attempts
from dravel.core.model import SchoolSays, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, joined, text
from dravel.core.moves.tube import turned
from dravel.core.physics.statics import newton_metres
from dravel.core.steps.mount import balancing
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.mount.limits import EAST, EVEN, TORQUE
from dravel.core.steps.mount.moves import mounts, weighted


@rule(
    "L3",
    "Counterweights",
    checks="Whether required counterweights are present, have the right bore and are on the shaft.",
    why="A counterweight beyond the end of the shaft needs an extension; one inside its start does not fit.",
    formula="start ≤ x − half its thickness, x + half ≤ end",
    source="geometry; spread or close in is common practice",
    fix="Slide counterweights to the mark, use others, or add a shaft extension.",
    needs=("carried", "arm"),
    schools=(
        School("spread", "Spread along the shaft", "Less mass, far out."),
        School("close_in", "Close in", "More mass near the axis: less inertia."),
    ),
)
def counterweights(context: Context) -> Iterator[Judgement]:
    """L3: counterweight past the shaft's end or inside its start, of another bore, or missing."""
    load, rig = context.of(Load), context.rig
    shaft, mount = load.shaft, rig.mount
    if mount is None:
        return
    figures = ("mount.counterweight_kg", "mount.counterweight_position_mm", "mount.inertia_kg_m2")
    limit = text("on the shaft, matching bore")
    if shaft is None:
        if mount.needs_counterweight:
            yield Judgement(
                "problem",
                text("No counterweight shaft", "no_counterweight_shaft"),
                text("This mount needs counterweights."),
                limit,
                figures=figures,
            )
        return
    limit = text(
        "{start_mm}–{end_mm} on a {diameter_mm} shaft",
        start_mm=Value(shaft.start_mm, digits=0),
        end_mm=Value(shaft.end_mm, "mm", 0),
        diameter_mm=Value(shaft.diameter_mm, "mm"),
    )
    if not rig.counterweights:
        verdict: Verdict = "problem" if mount.needs_counterweight else "ok"
        title = text("No counterweight") if verdict == "problem" else text("Counterweights not needed")
        reason = text("Moment to balance: {wanted}.", wanted=Value(newton_metres(load.wanted), "N·m", 1))
        needed = limit if mount.needs_counterweight else text("none required by the mount")
        judgement = Judgement(verdict, title, reason, needed, "none", figures)
        yield with_attempts(judgement, weighted(context))
        return
    outside = [hung for hung in rig.counterweights if not balancing.sits(hung, shaft)]
    wrong = [hung for hung in rig.counterweights if not balancing.on_this_shaft(hung.part, shaft)]
    verdict = "problem" if outside or wrong else "ok"
    if wrong:
        title = text("Counterweight does not fit shaft", "counterweight_bore")
        reason = text(
            "Bore of the {part}: {bore_mm}.", part=wrong[0].part.name, bore_mm=Value(wrong[0].part.bore_mm, "mm")
        )
    elif outside:
        title, reason = (
            text("Counterweight outside the shaft"),
            text(
                "The {part} at {position_mm}.",
                part=outside[0].part.name,
                position_mm=Value(outside[0].position_mm, "mm", 0),
            ),
        )
    else:
        title = text("Counterweights OK")
        reason = (
            text(
                "Mark the shaft {mark} from its shoulder for the inner face of the {mark_2}.",
                mark=Value(load.mark[0], "mm", 0),
                mark_2=load.mark[1],
            )
            if load.mark
            else text("")
        )
    measure = joined(", ", (Value(hung.position_mm, "mm", 0) for hung in rig.counterweights))
    judgement = Judgement(verdict, title, reason, limit, measure, figures, school=context.preferences.weights)
    yield with_attempts(judgement, weighted(context))


@rule(
    "L13",
    "RA balance",
    checks="RA balance, slightly east-heavy on worm drives.",
    why="Imbalance loads the gears; a slight one keeps them meshed.",
    formula="Σ w·x + S = M·D · (1 − b), b the east-heavy share on worm drives",
    source="statics; slightly east-heavy is common practice, 1% is a default threshold",
    fix="Slide counterweights to the mark, use others, or add a shaft extension.",
    needs=("carried", "arm", "hung"),
    schools=(
        School("east_heavy", "Slightly east-heavy", "Keeps worm gears meshed; not for belt or harmonic drives."),
        School("exact", "Exact", "Balance exactly."),
    ),
    limits=(EAST,),
    slides=True,
)
def right_ascension(context: Context) -> Iterator[Judgement]:
    """L13: the weights do not balance the load."""
    load, mount = context.of(Load), context.rig.mount
    if mount is None:
        return
    moment = balancing.load_moment(mount, load.carried)
    given = balancing.hung_moment(context.rig.counterweights) + balancing.shaft_moment(load.shaft)

    def off(school: str) -> float:
        return (given - moment * (1 - balancing.east_heavy(mount, school))) / max(1e-9, moment)

    # What may be wrong with it when the saddle's height was assumed, or a part that rides there has no mass.
    may_be_off = load.carried.mass * load.saddle_off_mm / max(1e-9, moment)

    def says(school: str) -> Verdict:
        result = EAST.careful(abs(off(school)), may_be_off)
        return "warning" if result == "problem" and load.carried.unweighed and off(school) > 0 else result

    school = context.preferences.ra_balance
    verdict, share = says(school), off(school)
    schools = tuple(
        SchoolSays(
            school=key, verdict=says(key), says=text("{key} off", key=Value(abs(off(key)), digits=1, form="share"))
        )
        for key in ("east_heavy", "exact")
    )
    left = abs(context.value("mount.balance_error_nm"))
    if verdict == "ok":
        title, reason = text("RA balance OK"), text("Residual imbalance {left}.", left=Value(left, "N·m", form="about"))
    else:
        title = text("RA heavy on the {which} side", which="weights" if share > 0 else "telescope")
        reason = text(
            "Residual imbalance {left}; balance point {counterweight_position_mm}.",
            left=Value(left, "N·m", 1),
            counterweight_position_mm=context.shown("mount.counterweight_position_mm"),
        )
    if context.value("east") > 0:
        east = context.value("mount.counterweight_east_mm")
        here = context.value("mount.counterweight_position_mm")
        reason += text(
            " Slightly east-heavy when pointing west; after the flip the position is {east} instead of {here}.",
            "east_heavy",
            east=Value(east, "mm", 0),
            here=Value(here, digits=0),
        )
    reason += load.saddle_words
    if load.carried.unweighed:
        reason += text(
            " Mass unknown, not counted: {unweighed}.", "mass_unknown", unweighed=", ".join(load.carried.unweighed[:3])
        )
    judgement = Judgement(
        verdict, title, reason, text("≤ {EAST} of the payload moment", EAST=EAST.bound), text('{share} off', share=Value(abs(share), digits=1, form='share')),
        ("mount.counterweight_position_mm", "mount.balance_error_nm"), school=school, schools=schools,
    )  # fmt: skip
    yield with_attempts(judgement, weighted(context))


@rule(
    "L4",
    "Dec balance",
    checks="Distance of the centre of gravity from the saddle centre, along the tube.",
    why="Dec imbalance loads the gears; heavy cameras shift it back.",
    formula="|c| · M · g against 2% of the rated moment (problem > 10%)",
    source="statics; shares are default thresholds",
    fix="Slide the tube in its saddle; where the dovetail is too short, move an accessory.",
    needs=("carried", "along", "payload"),
    limits=(EVEN,),
    slides=True,
)
def declination(context: Context) -> Iterator[Judgement]:
    """L4: tube cannot slide far enough to balance, or has not been slid."""
    mount, load = context.rig.mount, context.of(Load)
    if mount is None:
        return
    along = context.value("along")
    rated = balancing.rated_nm(mount)
    share = context.value("mount.declination_nm") / rated
    verdict = EVEN.careful(share, off_share(load, rated))
    target = load.carried.saddle_mm + along
    way = "forward" if along < 0 else "back"
    limit = text(
        "≤ {EVEN} of the rated moment, {rated}", EVEN=EVEN.bound, rated=Value(EVEN.warning_at(rated), "N·m", 1)
    )
    title = text("Dec balance OK") if verdict == "ok" else text("Dec imbalance too large")
    reason = text(
        "Centre of gravity {along} {which} the saddle centre.",
        along=Value(abs(along), "mm", 0),
        which="behind" if along < 0 else text("ahead of"),
    )
    if load.slide is not None and not load.slide[0] - 0.5 <= target <= load.slide[1] + 0.5:
        reason += text(
            " The dovetail allows {slide}–{slide_2} ahead of the rear shoulder: {target} is out of range.",
            "saddle_out_of_range",
            slide=Value(load.slide[0], digits=0),
            slide_2=Value(load.slide[1], "mm", 0),
            target=Value(target, "mm", 0),
        )
    elif verdict != "ok":
        reason += text(" Slide the tube {along} {way}.", along=Value(abs(along), "mm", 0), way=way)
    if load.centre_off_mm:
        reason += text(
            " Tube balance point assumed, ± {centre_off_mm}.", centre_off_mm=Value(load.centre_off_mm, "mm", 0)
        )
    racking = context.value("racking") if "racking" in context.known else 0.0
    if racking > 1:
        reason += text(" Drawtube travel shifts it by {racking}.", racking=Value(racking, "mm", 0))
    judgement = Judgement(
        verdict,
        title,
        reason,
        limit,
        Value(along, "mm", 0, form="signed"),
        ("mount.centre_along_mm", "mount.declination_nm"),
    )
    yield with_attempts(judgement, _slid(context, target))


def off_share(load: Load, rated: float) -> float:
    """How far an assumed balance point may put the moment off, as a share of the rated one."""
    return newton_metres(load.carried.mass * load.centre_off_mm) / rated


def _slid(context: Context, target: float) -> Iterator[Attempt]:
    load, rig = context.of(Load), context.rig
    low, high = load.slide or (target, target)
    reached = max(min(max(target, low), high), 0.0)
    slide = Edit("replace", ("saddle_mm",), round(reached, 1))
    if abs(reached - load.carried.saddle_mm) > 0.5:
        words = text(
            "Slide the tube: saddle {reached} ahead of the rear shoulder", "slide_tube", reached=Value(reached, "mm", 0)
        )
        yield Attempt(words, (slide,))
    left = target - reached
    if abs(left) < 0.5:
        return
    # What the bar cannot give, a rider can: the heaviest first.
    for body in sorted(load.carried.bodies, key=lambda body: -body.mass_kg):
        if body.rider is None or body.mass_kg == 0:
            continue
        to = rig.riders[body.rider].along_mm - left * load.carried.mass / body.mass_kg
        if abs(to) < 1500:
            move = Edit("replace", ("riders", body.rider, "along_mm"), round(to, 0))
            yield Attempt(
                text(
                    "Slide the tube, and the {body} to {to}",
                    "slide_tube",
                    body=body.name,
                    to=Value(to, "mm", 0, form="signed"),
                ),
                (slide, move),
            )


@rule(
    "L5",
    "Side-mounted accessories",
    checks="Distance of the centre of gravity from the tube axis, sideways.",
    why="A one-sided load changes the balance with every pointing.",
    formula="|e| · M · g against 2% of the rated moment (problem > 10%)",
    source="statics; mirrored accessories cancel; shares are default thresholds",
    fix="Move it to the top, or add an accessory opposite.",
    needs=("carried", "across", "payload"),
    schools=(
        School("balance_it", "Balance it", "Counter one-sided loads with one opposite."),
        School("mount_can_take_it", "Accept it", "Accept up to the mount's limit."),
    ),
    lapses=True,
    limits=(EVEN,),
)
def side_riders(context: Context) -> Iterator[Judgement]:
    """L5: side rider with nothing opposite: a strain until it exceeds the mount's limit."""
    mount = context.rig.mount
    if mount is None:
        return
    across = context.value("across")
    riders = [
        i
        for i, placed in enumerate(context.rig.riders)
        if placed.side in ("left", "right") and placed.off_mm and not placed.off_at_night
    ]
    if not riders and abs(across) < 0.5:
        return
    leaning = abs(across) * context.value("carried")
    moment = newton_metres(leaning)
    share = moment / balancing.rated_nm(mount)

    def says(school: str) -> Verdict:
        result = EVEN.verdict(share)
        return "ok" if result == "warning" and school != "balance_it" else result

    school = context.preferences.side_balance
    verdict = says(school)
    schools = tuple(
        SchoolSays(school=key, verdict=says(key), says=text("{moment} to one side", moment=Value(moment, "N·m", 1)))
        for key in ("balance_it", "mount_can_take_it")
    )
    opposite = "right" if across < 0 else "left"
    bare = text("One-sided accessory not balanced") if riders else text("Focuser one-sided")
    title = text("Side balance OK") if verdict == "ok" else bare
    reason = text(
        "Centre of gravity {across} to the {which}; {leaning} kg·m on the {opposite} cancels it.",
        across=Value(abs(across), "mm", 0),
        which="left" if across < 0 else "right",
        leaning=Value(leaning / 1000, digits=2),
        opposite=opposite,
    )
    judgement = Judgement(
        verdict, title, reason, text("≤ {EVEN} of the rated moment", EVEN=EVEN.bound), Value(moment, 'N·m', 1), ("mount.centre_across_mm",),
        school=school, schools=schools,
    )  # fmt: skip
    yield with_attempts(judgement, chain(turned(context), _sided(context, across)))


def _sided(context: Context, across: float) -> Iterator[Attempt]:
    heavy = "left" if across < 0 else "right"
    other = "right" if across < 0 else "left"
    for i, placed in enumerate(context.rig.riders):
        if placed.side == heavy and placed.off_mm:
            yield Attempt(
                text("Move the {part} to the top", part=placed.part.name),
                (Edit("replace", ("riders", i, "side"), "top"),),
            )
            yield Attempt(
                text("Move the {part} to the other side", part=placed.part.name),
                (Edit("replace", ("riders", i, "side"), other),),
            )
    for i, placed in enumerate(context.rig.riders):
        if placed.side in ("top", "below") and placed.part.used("mass_g"):
            yield Attempt(
                text("Move the {part} to the opposite side", part=placed.part.name),
                (Edit("replace", ("riders", i, "side"), other),),
            )


@rule(
    "L12",
    "Payload torque without counterweights",
    checks="Payload moment of a mount without counterweights against its rating.",
    why="Without counterweights the motors hold the full moment; above the rating they slip.",
    formula="(M · D − Σ w·x − S) · g against P · rated arm · g",
    source="statics",
    fix="Counterweights on the shaft, or a stronger mount.",
    needs=("carried", "arm", "payload"),
    limits=(TORQUE,),
)
def torque(context: Context) -> Iterator[Judgement]:
    """L12: uncounterweighted head over its torque."""
    mount = context.rig.mount
    if mount is None:
        return
    if mount.needs_counterweight:
        return
    moment = abs(context.value("mount.balance_error_nm"))
    rated = balancing.rated_nm(mount)
    load = context.of(Load)
    verdict = TORQUE.careful(moment / rated, newton_metres(load.carried.mass * load.saddle_off_mm) / rated)
    title = {"ok": "Payload torque OK", "warning": "Payload torque near limit", "problem": "Payload torque too large"}[
        verdict
    ]
    reason = text(
        "Motor torque {moment}.{saddle_words}", moment=Value(moment, "N·m", 0), saddle_words=load.saddle_words
    )
    judgement = Judgement(
        verdict, title, reason, Value(rated, "N·m", 0), Value(moment / rated, form="share"), ("mount.moment_nm",)
    )
    weights = weighted(context) if context.of(Load).shaft else ()
    yield with_attempts(judgement, chain(turned(context), weights, mounts(context)))
