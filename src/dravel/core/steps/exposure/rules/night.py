"""Rules of the night: gusts, hours against hours, refocusing, the cooler's set point, room for the frames."""

from collections.abc import Iterator
from datetime import date, timedelta
from math import ceil, exp, inf

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Accessory, Framing, Placed, Rider, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, day, text
from dravel.core.moves.filters import filters_put_in
from dravel.core.moves.shelf import ready_parts
from dravel.core.moves.subs import ROUNDED, planned_sub, seconds_words, shorter_blocks, whole_sub
from dravel.core.physics import dew
from dravel.core.sky.glow import Glow
from dravel.core.steps.exposure.facts import ROUND_S, Exposing, Shot
from dravel.core.steps.exposure.limits import CARD, COOLING, GUSTS, REFOCUS
from dravel.core.steps.exposure.plan import room_gb
from dravel.core.steps.exposure.rules.light import hours_words, span_words, sub_edit

MOONLESS_WITHIN_DAYS = 30
DARKER_MAG = 0.1


@rule(
    "E4",
    "Subs lost to wind; guiding limit",
    checks="Share of subs spoiled by gusts in the site's typical wind, and planned blocks against the tracking limit.",
    why="On a windy night short subs lose less to each gust.",
    formula="1 − e^(−t / τ), τ the time between two gusts that shake the picture too much",
    source="Rice 1944 (unverified); gustiness is an estimate (order of magnitude)",
    fix="Shorter subs.",
    limits=(GUSTS,),
)
def gusts(context: Context) -> Iterator[Judgement]:
    """E4: sub over a limit: gusts, and guiding for the blocks of a plan."""
    own = context.of(Exposing)
    between = own.between_gusts_s
    subs = {shot.sub_s: shot for shot in own.shots}
    if between is not None and subs:
        sub = max(subs)
        shot, lost = subs[sub], 1 - exp(-sub / between)
        verdict = GUSTS.verdict(lost)
        speed = context.value("gust_limit")
        often = (
            text("every {between}", between=seconds_words(between)) if between < 7200 else text("at most once a night")
        )
        reason = text(
            "Gusts above {speed}, which blur the image, occur {often} in {gust_mean} of wind.",
            "gusts",
            speed=Value(speed, "m/s", 0),
            often=often,
            gust_mean=context.shown("gust_mean"),
        )
        title = text("Subs lost to wind: OK") if verdict == "ok" else text("Gusts spoil many subs")
        judgement = Judgement(verdict, title, reason, GUSTS.words, Value(lost, form="share"))
        fine = [limit.seconds for limit in own.shared_limits() if limit.key == "gusts"]
        nice = [s for s in ROUND_S if fine and s <= fine[0]]
        yield with_attempts(judgement, (sub_edit(shot, float(nice[-1]) if nice else fine[0]),) if fine else ())
    limit = next((shared_limit for shared_limit in own.shared_limits() if shared_limit.key != "gusts"), None)
    blocks = [shot for shot in own.shots if shot.place[0] == "framings"]
    if limit is None or not blocks:
        return
    shot = max(blocks, key=lambda item: item.sub_s)
    over = shot.sub_s > limit.seconds * ROUNDED
    # On a fixed tripod a few pixels of trail are lived with, as V1 has it.
    still = limit.key == "untracked"
    verdict = "ok" if not over else "warning" if still and shot.sub_s <= limit.seconds * DASHES else "problem"
    title = text("Planned subs within tracking limit")
    if over:
        title = text("Planned subs trail") if still else text("Planned subs exceed tracking limit")
    reason = text(
        "{shot}: {sub_s}; 1 px of trail after {seconds} {limit}.",
        shot=shot.words,
        sub_s=Value(shot.sub_s, form="exposure"),
        seconds=seconds_words(limit.seconds),
        limit=limit.words,
    )
    judgement = Judgement(
        verdict, title, reason, seconds_words(limit.seconds), Value(shot.sub_s, form="exposure"), subject="plan"
    )
    cut = whole_sub(limit.seconds)
    shorter = Attempt(
        text("Set sub length to {cut} in all blocks", "set_all_subs", cut=Value(cut, form="exposure")),
        shorter_blocks(context.rig, cut),
    )
    yield with_attempts(judgement, (shorter,))


def tiles(framing: Framing) -> int:
    """How many frames of sky a framing is made of."""
    return framing.columns * framing.rows


def night_hours(context: Context, own: Exposing, framing: Framing) -> tuple[float, Text]:
    """Hours a night gives a target: of its night, else the preferences'."""
    hours = own.conditions(framing).hours
    return (hours, text("on this night")) if hours else (context.preferences.night_hours, text("a night (Preferences)"))


@rule(
    "E5",
    "Nights to target SNR",
    checks="Time to target SNR including overhead, against the target's usable hours per night.",
    why="A target that takes forty nights does not suit this rig, filter or sky.",
    formula="n² / (3600 · e · Σ m · S² / (S + B + R²/t)) / o ≤ nights · hours",
    source="the CCD equation; nights per target from Preferences",
    fix="A suitable filter, a moonless night, a darker site.",
    needs=("sky_e",),
)
def hours_to_the_goal(context: Context) -> Iterator[Judgement]:
    """E5: hours needed exceed hours available."""
    own, preferences = context.of(Exposing), context.preferences
    share = context.known.get("open_share") or 1.0
    for _, framing, glow in own.framings:
        mine = [shot for shot in own.shots if shot.framing is framing]
        shot = min(mine, key=lambda item: own.hours(item.pixels, item.sub_s), default=None)
        if shot is None or (light := own.goal_hours(shot)) == inf:
            continue  # what blocks the target altogether is E3's
        takes = light * tiles(framing) / share
        there, whose = night_hours(context, own, framing)
        nights = takes / there
        verdict: Verdict = "ok" if nights <= preferences.nights_a_target else "warning"
        many = text(", {framing} tiles", framing=tiles(framing)) if tiles(framing) > 1 else ""
        goal = text(
            "SNR {target_snr} in {glow} ({origin})",
            target_snr=Value(preferences.target_snr),
            glow=glow.words,
            origin=glow.origin,
        )
        summed = own.hours(shot.pixels, shot.sub_s)
        answer = (
            text("for {goal}", goal=goal)
            if summed >= light
            else text("(minimum for this type; {goal} after {summed})", goal=goal, summed=hours_words(summed))
        )
        reason = text(
            "{light} integration{many} {told}. {takes} elapsed; {there} {whose}.",
            light=hours_words(light),
            many=many,
            told=answer,
            takes=hours_words(takes),
            there=Value(there, form="long"),
            whose=whose,
        )
        span = own.hours_span(shot)
        if summed >= light and hours_words(span[0]) != hours_words(span[1]):
            reason += text(
                " Target brightness is known within a factor of {factor}: {span}.",
                factor=Value(glow.factor),
                span=span_words(span),
            )
        title = text("Nights to target SNR: OK") if verdict == "ok" else text("Too many nights to target SNR")
        nights_words = (
            text("one night", "one_night")
            if nights <= 1
            else text("{nights} nights", nights=Value(nights, digits=0))
            if nights >= 9.5
            else text("{nights} nights", nights=Value(nights, digits=1))
        )
        judgement = Judgement(
            verdict, title, reason, text("≤ {nights_a_target} nights", nights_a_target=Value(preferences.nights_a_target)), nights_words, ("exposure.hours_to_goal",),
            subject=framing.target.name,
        )  # fmt: skip
        yield with_attempts(judgement, _fewer_hours(context, own, shot, glow, light))


def _fewer_hours(context: Context, own: Exposing, shot: Shot, glow: Glow, now: float) -> Iterator[Attempt]:
    """A filter that suits better, another setting, a moonless night, a darker site, coarser pixels last."""
    if shot.block is None:
        yield from filters_put_in(
            context, lambda item: bool(item.passbands) and own.hours(own.pixels(shot.framing, glow, item)) < now / 1.3
        )
    yield from moonless_nights(context, shot.framing)
    here = context.rig.site
    for other in context.sites:
        if here is not None and other.name != here.name and other.sky_brightness > here.sky_brightness:
            yield Attempt(text("Change the site to {other}", other=other.name), (Edit("replace", ("site",), other),))


def moonless_nights(context: Context, framing: Framing) -> Iterator[Attempt]:
    """Plan a target for its next night without a moon."""
    night = moonless(context, framing)
    if night is not None:
        i = next(k for k, item in enumerate(context.rig.framings) if item is framing)
        yield Attempt(
            text("Set the night to {night}", "set_night", night=day(night)),
            (Edit("replace", ("framings", i, "night"), night),),
        )


def moonless(context: Context, framing: Framing) -> date | None:
    """The night of the next month with the darkest sky at a target; None where that is hardly darker than on its own."""
    own, first = context.of(Exposing), context.tonight or framing.night
    if first is None or context.rig.site is None:
        return None
    now = own.conditions(framing)
    if now.moon_mag < DARKER_MAG:
        return None
    nights = [first + timedelta(days=k) for k in range(1, MOONLESS_WITHIN_DAYS, 2)]
    seen = [(own.conditions(framing.model_copy(update={"night": day})), day) for day in nights]
    usable = [(sky.moon_mag, -(sky.hours or 0.0), day) for sky, day in seen if sky.hours]
    best = min(usable, default=None)
    return best[2] if best is not None and best[0] < now.moon_mag - DARKER_MAG else None


@rule(
    "E6",
    "Refocus interval",
    checks="How often falling temperature requires refocusing, compared with the sub length and manual focusing.",
    why="Focus shifts with tube length; beyond half the depth of focus frames are soft.",
    formula="ΔT / θ̇ against the sub length; half an hour for manual focusing",
    source="half the depth of focus; nightly cooling rate is an estimate",
    fix="A motor focuser, shorter subs.",
    needs=("optics.refocus_interval_k", "night_fall"),
    limits=(REFOCUS,),
)
def refocus(context: Context) -> Iterator[Judgement]:
    """E6: refocus needed inside one sub, or more often than a hand likes."""
    own = context.of(Exposing)
    drifts = context.value("optics.refocus_interval_k") / context.value("night_fall")
    sub = max([shot.sub_s for shot in own.shots], default=context.rig.guide.sub_s)
    motor = next(
        (p.part.name for p in context.rig.riders if isinstance(p.part, Rider) and p.part.function == "focus_motor"),
        None,
    )
    every = context.known.get("refocus_every") or drifts
    verdict: Verdict = "ok"
    title = text("Refocus interval OK")
    if drifts * 3600 < sub:
        verdict, title = "problem", text("Focus drifts within one sub")
    elif motor is None and REFOCUS.verdict(drifts) != "ok":
        verdict, title = "warning", text("Frequent manual refocusing")
    spoken = Value(drifts, form="long")
    reason = text(
        "{refocus_interval_k} of cooling uses half the depth of focus: every {spoken} here. ",
        refocus_interval_k=context.shown("optics.refocus_interval_k"),
        spoken=spoken,
    )
    reason += (
        text("The {motor} refocuses every {every}.", motor=motor, every=Value(every, form="long"))
        if motor
        else text("Refocus by hand every {every}.", every=Value(every, form="long"))
    )
    judgement = Judgement(
        verdict, title, reason, text("> {sub}; > {x} by hand", sub=Value(sub, form='exposure'), x=Value(REFOCUS.warning_at(1), form='long')), spoken, ("exposure.refocus_every_h", "optics.refocus_interval_k"),
    )  # fmt: skip
    yield with_attempts(judgement, _motors(context, drifts))


def _motors(context: Context, drifts_h: float) -> Iterator[Attempt]:
    for part in ready_parts(context, Rider):
        if part.function == "focus_motor":
            yield Attempt(
                text("Add the {part}", "add", part=part.name),
                (Edit("add", ("riders", len(context.rig.riders)), Placed(part=part, off_mm=60)),),
            )
    yield planned_sub(drifts_h * 3600, context.rig)


@rule(
    "E7",
    "Cooling set point",
    checks="Whether the cooler reaches the set point from the air temperature at dusk.",
    why="A cooler at full power drifts with the air, and darks at another temperature do not match.",
    formula="air at dusk − set point ≤ cooling below ambient",
    source="manufacturer; 10% reserve is a default threshold",
    fix="A warmer set point, used for all darks; a colder night.",
    needs=("air",),
    limits=(COOLING,),
)
def set_point(context: Context) -> Iterator[Judgement]:
    """E7: a set point that cannot be held."""
    camera = context.light.camera
    able = camera.used("cooling_delta_k") if camera else None
    if camera is None or not able:
        return
    wanted, dusk = context.rig.set_point_c(context.preferences), context.value("air") + dew.FALL_K
    share = (dusk - wanted) / able
    verdict = COOLING.verdict(share)
    titles: dict[Verdict, Text] = {
        "ok": text("Cooling set point OK"), "warning": text("Cooler near its limit"), "problem": text("Set point not reached")
    }  # fmt: skip
    reason = text(
        "{wanted} from {dusk} at dusk: ΔT {dusk_2}.",
        wanted=Value(wanted, "°C", 0),
        dusk=Value(dusk, "°C", 0),
        dusk_2=Value(max(dusk - wanted, 0), "K", 0),
    )
    safe = safe_set_point(dusk, able)
    if verdict != "ok":
        reason += text(
            " Lowest reachable: {dusk}; {safe} with reserve.",
            dusk=Value(dusk - able, "°C", 0),
            safe=Value(safe, "°C", 0),
        )
    judgement = Judgement(
        verdict,
        titles[verdict],
        reason,
        text("≤ {able} below ambient, 10% reserve", able=Value(able, "K", 0)),
        Value(max(dusk - wanted, 0), "K", 0),
    )
    warmer = Attempt(
        text("Set the set point to {safe}", safe=Value(safe, "°C", 0)), (Edit("replace", ("shooting", "set_c"), safe),)
    )
    yield with_attempts(judgement, (warmer,) if -60 <= safe <= 30 else ())


def safe_set_point(dusk_c: float, able_k: float) -> float:
    """The coldest set point, in steps of 5 °C, that a cooler holds from dusk on with a tenth in reserve, °C."""
    return ceil((dusk_c - 0.9 * able_k) / 5) * 5.0


@rule(
    "E8",
    "Storage capacity",
    checks="Frames of the plan, or of one night, against free space on the card or computer.",
    why="A full card ends the session.",
    formula="frames · size ≤ 80% of the room",
    source="arithmetic; 20% reserve is a default threshold",
    fix="A larger card, fewer or longer subs.",
    limits=(CARD,),
)
def storage(context: Context) -> Iterator[Judgement]:
    """E8: card or disk full."""
    camera = context.light.camera
    size, (room, name) = (camera.used("frame_mb") if camera else None), room_gb(context)
    if size is None or room is None or (context.rig.framings and not context.of(Exposing).framings):
        return  # the moon and planets are shot as video
    needs, frames, what = frames_of_night(context, size)
    share = needs / room
    verdict = CARD.verdict(share)
    title = text("Storage OK") if verdict == "ok" else text("Storage too small")
    reason = text(
        "{frames} frames {what}, {size} MB each, on the {name}.",
        frames=Value(frames),
        what=what,
        size=Value(size),
        name=name,
    )
    judgement = Judgement(
        verdict,
        title,
        reason,
        text("≤ 80% of {room} GB", room=Value(room)),
        text("{needs} GB", needs=Value(needs, digits=0)),
        ("exposure.storage_gb",),
    )
    larger = [p for p in ready_parts(context, Accessory) if p.function == "memory_card" and (p.storage_gb or 0) > room]
    ways = []
    for part in sorted(larger, key=lambda p: p.storage_gb or 0):
        at = next((i for i, extra in enumerate(context.rig.extras) if extra.name == name), None)
        if at is not None:
            ways.append(
                Attempt(
                    text("Replace with the {part}", "replace", part=part.name), (Edit("replace", ("extras", at), part),)
                )
            )
    sub = context.rig.guide.sub_s
    longer = next((s for s in ROUND_S if s >= sub * share / (CARD.warning or 1.0)), None)
    if longer is not None and not any(framing.plan for framing in context.rig.framings):
        ways.append(planned_sub(float(longer)))
    yield with_attempts(judgement, ways)


DASHES = 10.0  # pixels of trail from which on every star is a dash; as V1 has it
STANDING_H = 1.5  # that somebody stands beside a camera on a tripod; common practice


def frames_of_night(context: Context, size_mb: float) -> tuple[float, int, Text]:
    """Gigabytes and frames of the plan; without one, of a night of planned subs."""
    plan = [block for framing in context.rig.framings for block in framing.plan]
    if plan:
        frames = sum(block.count for block in plan)
        return frames * size_mb / 1000, frames, text("of the plan")
    sub, preferences = context.rig.guide.sub_s, context.preferences
    # On a fixed tripod somebody stands beside it and frames anew every few minutes: an evening, no night.
    hours = min(preferences.night_hours, STANDING_H) if context.rig.stands_still else preferences.night_hours
    frames = int(hours * 3600 / (sub + preferences.download_s))
    return (
        frames * size_mb / 1000,
        frames,
        text("of {sub} in {hours}", sub=Value(sub, form="exposure"), hours=Value(hours, form="long")),
    )
