"""Rules of camera and filter: what the body lets through, what fits it, and what keeps it going all night."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import chain
from math import ceil

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Accessory, Camera, Placed, Rider, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, Words, text
from dravel.core.moves.filters import filters_put_in
from dravel.core.moves.parts import cameras_swapped
from dravel.core.moves.shelf import ready_parts
from dravel.core.steps.exposure.facts import Exposing
from dravel.core.steps.exposure.plan import room_gb
from dravel.core.steps.exposure.rules.light import hours_words
from dravel.core.train.throughput import DEEP_RED_NM, STOCK_RED, has_glass

INFRARED_NM = 720.0  # a window that ends before it cuts the infrared


@rule(
    "C1",
    "Hα transmission of the camera",
    checks="How much Hα of an emission target the camera's built-in filter passes.",
    why="A stock camera filter passes about 25% of Hα; the integration time grows by 1/T to 1/T².",
    formula="integration time with the built-in filter against without",
    source="common practice: about a quarter passes; the CCD equation",
    fix="A modified body, or an astronomy camera.",
)
def hydrogen(context: Context) -> Iterator[Judgement]:
    """C1: hydrogen blocked by a stock body."""
    own = context.of(Exposing)
    camera = own.camera
    lined = [(framing, glow) for _, framing, glow in own.framings if glow.of_lines]
    if camera is None or not lined:
        return
    framing, glow = lined[0]
    name = framing.target.name
    if camera.spectral_cut != "stock":
        words = (
            text("The built-in filter passes Hα.")
            if camera.spectral_cut == "hydrogen_extended"
            else text("No built-in filter.")
        )
        yield Judgement("ok", text("Hα transmission OK", "ha_transmission_ok"), words, text("≥ 60% of Hα"), "passes")
        return
    verdict: Verdict = "warning"
    reason = text(
        "About {STOCK_RED} of Hα (656 nm) passes; {name} emits mainly there.",
        STOCK_RED=Value(STOCK_RED, form="share"),
        name=name,
    )
    measure: Words = Value(STOCK_RED, form="share")
    glow = replace(glow, lines=tuple(line for line in glow.lines if line[0] > DEEP_RED_NM))
    if (collector := own.collector) is not None and (pixels := own.pixels(framing, glow, own.filter)):
        free = replace(
            collector,
            through=replace(collector.through, camera=camera.model_copy(update={"spectral_cut": "none"})),
            _behind={},  # what came through the cut is not what comes through without it
        )
        sub, sky = context.rig.guide.sub_s, own.conditions(framing)
        now = own.hours(pixels)
        worth = free.worth(free.pixels(glow, sky, own.filter), sub)
        if worth > 0:
            without = context.preferences.target_snr**2 / worth / 3600
            longest = context.preferences.nights_a_target * (sky.hours or context.preferences.night_hours)
            # A brightness that is only usual for a kind of target breaks nothing: as bright as it may be, it must still fail.
            sure = own.hours(own.pixels(framing, glow.times(glow.factor), own.filter))
            verdict = "problem" if without <= longest < min(now, sure) else "warning"
            reason += text(
                " Hα alone takes {now} with the filter, {without} without.",
                now=hours_words(now),
                without=hours_words(without),
            )
            measure = hours_words(now)
    title = (
        text("Stock camera blocks most Hα", "stock_camera_blocks_ha")
        if verdict == "problem"
        else text("Stock camera dims Hα")
    )
    judgement = Judgement(verdict, title, reason, text("≥ 60% of Hα"), measure)
    yield with_attempts(judgement, cameras_swapped(context, lambda other: other.spectral_cut != "stock"))


@rule(
    "C2",
    "IR-cut filter",
    checks="Whether an infrared-sensitive sensor behind lenses has an IR-cut filter.",
    why="Lenses do not focus infrared with visible light: stars bloat and colours turn grey.",
    formula="built-in cut, or a filter that blocks above 720 nm, wherever light passes lenses",
    source="common practice",
    fix="A UV/IR-cut filter, or any filter that blocks infrared.",
)
def infrared(context: Context) -> Iterator[Judgement]:
    """C2: full-spectrum body without cut filter."""
    own, telescope = context.of(Exposing), context.light.telescope
    camera, behind = own.camera, own.filter
    if camera is None or telescope is None or "planetary" in context.rig.purposes:
        return
    if camera.spectral_cut != "none":
        yield Judgement(
            "ok",
            text("IR cut OK, built in", "ir_cut_built_in"),
            text("The camera has a built-in IR cut."),
            "a cut",
            text("built in"),
        )
        return
    if behind is not None and not behind.passbands:
        return
    if not has_glass(context.rig, telescope):
        yield Judgement(
            "ok",
            text("IR cut not needed", "ir_cut_not_needed"),
            text("No lenses in the light path."),
            text("IR cut behind lenses"),
            "mirrors",
        )
        return
    ends = max((band.centre_nm + band.width_nm / 2 for band in behind.passbands), default=0.0) if behind else None
    if ends is not None and ends <= INFRARED_NM:
        name = behind.name if behind else ""
        yield Judgement(
            "ok",
            text("IR cut OK", "ir_cut_ok"),
            text("The {name} blocks above {ends}.", name=name, ends=Value(ends, "nm", 0)),
            "a cut",
            Value(ends, "nm", 0),
        )
        return
    reason = text("The {camera} has no built-in IR cut", camera=camera.name) + (
        text(", and the {behind} passes up to {ends}.", behind=behind.name, ends=Value(ends, "nm", 0))
        if behind
        else text(", and no filter is in the light path.")
    )
    judgement = Judgement(
        "warning",
        text("No IR-cut filter", "ir_cut_missing"),
        reason,
        text("cut-off ≤ {INFRARED_NM}", INFRARED_NM=Value(INFRARED_NM, "nm", 0)),
        "open",
    )

    def cuts(one: object) -> bool:
        bands = getattr(one, "passbands", ())
        wide = getattr(one, "use", "") in ("uv_ir_cut", "luminance")
        return wide and bool(bands) and max(band.centre_nm + band.width_nm / 2 for band in bands) <= INFRARED_NM

    yield with_attempts(judgement, filters_put_in(context, cuts))


@rule(
    "C3",
    "Clip-in filter fit",
    checks="Whether a clip-in filter fits this camera body.",
    why="A clip-in filter for another body can fall onto the sensor, or does not fit at all.",
    formula="the filter's size = the body's clip-in size",
    source="definition",
    fix="Remove it, or use a filter in a drawer.",
    lapses=True,
)
def clip_in(context: Context) -> Iterator[Judgement]:
    """C3: clip-in filter in the wrong body."""
    path = context.rig.path
    for i, item in enumerate(path):
        if not isinstance(item.part, Camera):
            continue
        for entry in item.filters:
            takes = item.part.clip_in
            if entry.size == takes:
                words = text("The {part} accepts {takes}.", part=item.part.name, takes=takes)
                yield Judgement("ok", text("Clip-in filter OK"), words, takes or "", entry.size, subject=entry.name)
                continue
            reason = (
                text("The {part} accepts {takes}.", part=item.part.name, takes=takes)
                if takes
                else text("The {part} accepts no clip-in filters.", part=item.part.name)
            )
            judgement = Judgement(
                "problem", text("Clip-in filter does not fit"), text("The {one} is size {size}. {reason}", one=entry.name, size=entry.size, reason=reason), takes or "none", entry.size,
                subject=entry.name,
            )  # fmt: skip
            rest = tuple(other for other in item.filters if other is not entry)
            out = (Edit("replace", ("path", i, "in_use"), None), Edit("replace", ("path", i, "filters"), rest))
            yield with_attempts(judgement, (Attempt(text("Remove the {one}", "remove", one=entry.name), out),))


@rule(
    "C4",
    "Camera control",
    checks="Whether a release or a computer triggers the camera.",
    why="A body limited to 30 s needs a release; a camera without a shutter button needs a computer.",
    formula="driven by a computer: one on or beside the rig; by its release: a remote release, or a computer",
    source="common practice",
    fix="A remote release, or a field computer.",
)
def trigger(context: Context) -> Iterator[Judgement]:
    """C4: no way to trigger the camera all night."""
    camera, rig = context.light.camera, context.rig
    if camera is None or camera.driven_by is None:
        return
    brains = [p.part.name for p in rig.riders if isinstance(p.part, Rider) and p.part.function == "controller"]
    brains += [part.name for part in rig.extras if part.function == "computer"]
    releases = [part.name for part in rig.extras if part.function == "remote_release"]
    result = next(iter(brains), None) or (next(iter(releases), None) if camera.driven_by == "release" else None)
    limit = "a computer" if camera.driven_by == "computer" else text("release or computer")
    if result is not None:
        yield Judgement(
            "ok",
            text("Camera control OK"),
            text("The {found} controls the {camera}.", found=result, camera=camera.name),
            limit,
            result,
        )
        return
    title = text("No camera control")
    reason = text(
        "The {camera} requires {which}; the rig has none.",
        camera=camera.name,
        which="a computer" if camera.driven_by == "computer" else "a release",
    )
    judgement = Judgement("problem", title, reason, limit, "none")
    yield with_attempts(judgement, chain(_released(context), _driven(context)))


def _released(context: Context) -> Iterator[Attempt]:
    camera = context.light.camera
    for part in ready_parts(context, Accessory):
        if part.function == "remote_release" and camera is not None and camera.driven_by == "release":
            yield Attempt(text("Add the {part}", "add", part=part.name), (Edit("add", ("extras", 0), part),))
        if part.function == "computer":
            yield Attempt(text("Add the {part}", "add", part=part.name), (Edit("add", ("extras", 0), part),))


def _driven(context: Context) -> Iterator[Attempt]:
    place = ("riders", len(context.rig.riders))
    for part in ready_parts(context, Rider):
        if part.function == "controller":
            yield Attempt(
                text("Add the {part}", "add", part=part.name), (Edit("add", place, Placed(part=part, off_mm=90)),)
            )


@rule(
    "C5",
    "Camera power",
    checks="Whether a battery-powered camera lasts the night.",
    why="A camera battery is empty by midnight, sooner in the cold; a dummy battery takes power from the rig.",
    formula="hours on ≤ run time of the battery and spares, unless powered by the rig",
    source="manufacturer",
    fix="Spare batteries, or a dummy battery.",
)
def battery(context: Context) -> Iterator[Judgement]:
    """C5: no way to power the camera all night."""
    camera = context.light.camera
    if camera is None or camera.battery_hours is None:
        return
    if camera.power is not None and context.rig.supply.source is not None:
        yield Judgement(
            "ok",
            text("Camera power OK"),
            text("{typical_w}.", typical_w=Value(camera.power.typical_w, "W")),
            text("the night"),
            "fed",
        )
        return
    spares = sum(part.function == "spare_battery" for part in context.rig.extras)
    hours = context.known.get("hours_on") or context.rig.supply.hours or context.preferences.night_hours
    each = camera.battery_hours
    lasts = each * (1 + spares)
    verdict: Verdict = "ok" if lasts >= hours else "warning"
    title = text("Camera battery OK") if verdict == "ok" else text("Camera battery too small")
    reason = text(
        "{each} per battery, {spares} spare, {hours} required.",
        each=Value(each, form="long"),
        spares=spares,
        hours=Value(hours, form="long"),
    )
    missing = ceil(hours / each) - 1 - spares
    if verdict != "ok":
        reason += text(
            " {missing} more needed, swapped without moving the camera, or a dummy battery.", missing=missing
        )
    judgement = Judgement(verdict, title, reason, Value(hours, form="long"), Value(lasts, form="long"))
    yield with_attempts(judgement, _spare(context, missing))


def _spare(context: Context, count: int) -> Iterator[Attempt]:
    """As many batteries as it takes, of one kind."""
    place, many = ("extras", len(context.rig.extras)), "" if count == 1 else text("{count} of ", count=count)
    for part in context.shelf:
        if isinstance(part, Accessory) and part.function == "spare_battery" and part.status != "retired":
            label = (
                text("Add {many}the {part}", "add", many=many, part=part.name)
                if many
                else text("Add the {part}", "add", part=part.name)
            )
            yield Attempt(label, tuple(Edit("add", place, part) for _ in range(min(count, 12))))


@rule(
    "C6",
    "Storage for frames",
    checks="Whether the camera can store frames.",
    why="A forgotten card is noticed only at the site.",
    formula="with a release: a card among the accessories; with a computer: the computer",
    source="common practice",
    fix="A memory card.",
)
def card(context: Context) -> Iterator[Judgement]:
    """C6: no way to store the frames."""
    camera = context.light.camera
    if camera is None or camera.driven_by != "release":
        return  # a camera without a computer is C4's
    name = room_gb(context)[1]
    if name:
        yield Judgement(
            "ok", text("Frame storage OK"), text("Frames are stored on the {name}.", name=name), "a card", name
        )
        return
    judgement = Judgement(
        "problem",
        text("No memory card"),
        text("The {camera} has no memory card among the accessories.", camera=camera.name),
        "a card",
        "none",
    )
    cards = [part for part in ready_parts(context, Accessory) if part.function == "memory_card"]
    yield with_attempts(
        judgement,
        (Attempt(text("Add the {part}", "add", part=part.name), (Edit("add", ("extras", 0), part),)) for part in cards),
    )
