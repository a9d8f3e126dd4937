"""The Load step as a drawing: tube, riders, shaft and weights in side elevation, to scale, with their moments.

Millimetres: x along the tube, positive towards the sky, from the saddle's middle; y away from the right-ascension axis.
"""

from dataclasses import replace

from dravel.core.engine.context import Context
from dravel.core.engine.limit import Limit
from dravel.core.model import Camera, Counterweight, Figure, Hung, Part, Verdict
from dravel.core.model.base import Model
from dravel.core.model.inventory import HAD
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.physics.statics import newton_metres
from dravel.core.steps.mount import balancing, carry
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.mount.limits import EAST, EVEN, SHAKE, WIND, firm_words
from dravel.core.steps.mount.wind_felt import at_wind, felt_and_too_much
from dravel.core.train.stiffness import SIDE_FOCUS

SLIDES_MM = 0.5  # nobody slides a tube or weight by less
WINDS_TO_M_S, MOST_WIND_M_S, WIND_POINTS = 10.0, 30.0, 40  # how far the curve of the wind is drawn, and how finely
MOST_CASES = 7


class MountBox(Model):
    """One body as a rectangle. `rider` is its place among the rig's riders when it can be moved by hand."""

    name: str
    kind: str
    x: float
    y: float
    width: float
    height: float
    mass_kg: float
    rider: int | None


class MountWeight(Model):
    """One counterweight on the shaft."""

    index: int
    name: str
    position_mm: float
    thickness_mm: float
    diameter_mm: float
    mass_kg: float
    on_shaft: bool


class MountMoment(Model):
    """A moment as an arrow: where it turns, how strong, which way (positive: clockwise in the drawing)."""

    name: Text
    value_nm: float
    limit_nm: float
    verdict: Verdict


class MountWind(Model):
    """What a wind of some speed makes, gusts counted, and what the rule of wind says of it."""

    speed_m_s: float
    moment_nm: float
    shake_px: float | None
    verdict: Verdict


class MountWinds(Model):
    """The curve of shake over wind speed; from which wind on it is felt, and which is too much; the usual one."""

    curve: tuple[MountWind, ...]
    usual: MountWind
    usual_words: Text
    felt_m_s: float | None
    too_much_m_s: float | None
    felt_px: float
    too_much_px: float


class LoadAgain(Model):
    """Balance when something has changed: where the saddle and the pushed-together weights go.

    `out_by_mm` is what the bar does not let the saddle reach; `fits` what is wrong with the weights there.
    """

    words: Text
    mass_kg: float
    saddle_mm: float | None
    out_by_mm: float
    weights_mm: float | None
    fits: Text


class MountWeightChoice(Model):
    """Weights that would balance the load: which, where, how much they add to the inertia."""

    label: Text
    mass_kg: float
    inertia_kg_m2: float
    hung: tuple[Hung, ...]


class MountTrip(Model):
    """One load to carry."""

    mass_kg: float
    pieces: tuple[str, ...]


class MountTip(Model):
    """Tipping margin in one direction of the arm, degrees from a foot."""

    direction_deg: float
    margin: float


class MountView(Model):
    """Everything the Load step draws, and why it cannot draw more."""

    boxes: tuple[MountBox, ...]
    weights: tuple[MountWeight, ...]
    shaft: tuple[float, float] | None
    shaft_diameter_mm: float
    saddle_mm: float
    saddle_length_mm: float
    saddle_y: float
    slide: tuple[float, float] | None
    centre: tuple[float, float]
    moments: tuple[MountMoment, ...]
    winds: MountWinds | None
    turns_in_rings: bool
    again: tuple[LoadAgain, ...]
    choices: tuple[MountWeightChoice, ...]
    slid: tuple[Hung, ...] | None
    balanced_saddle_mm: float | None
    trips: tuple[MountTrip, ...]
    cases: tuple[Text, ...]
    tips: tuple[MountTip, ...]
    tips_words: Text
    feet: int
    spreader_kg: float
    mark: Text
    notes: tuple[Text, ...]
    figures: tuple[Figure, ...]


def mount_view(context: Context) -> MountView:
    """Draw a rig's load."""
    rig, shelf = context.rig, context.shelf
    load, mount = context.of(Load), rig.mount
    held = load.carried
    lift = balancing.saddle_height_mm(mount) if mount else 0.0
    boxes = tuple(
        MountBox(
            name=body.name, kind=body.kind, x=body.middle - body.length / 2, y=lift + body.up - body.diameter / 2,
            width=body.length, height=body.diameter, mass_kg=body.mass_kg, rider=body.rider,
        )
        for body in held.bodies
    )  # fmt: skip
    shaft = load.shaft
    weights = tuple(
        MountWeight(
            index=i, name=hung.part.name, position_mm=hung.position_mm, thickness_mm=hung.part.thickness_mm,
            diameter_mm=disk_diameter_mm(hung.part), mass_kg=(hung.part.used("mass_g") or 0.0) / 1000,
            on_shaft=shaft is not None and balancing.sits(hung, shaft),
        )
        for i, hung in enumerate(rig.counterweights)
    )  # fmt: skip
    tipping = load.tipping
    return MountView(
        boxes=boxes,
        weights=weights,
        shaft=(shaft.start_mm, shaft.end_mm) if shaft else None,
        shaft_diameter_mm=shaft.diameter_mm if shaft else 0.0,
        saddle_mm=held.saddle_mm,
        saddle_length_mm=mount.saddle_length_mm if mount else 0.0,
        saddle_y=lift,
        slide=load.slide,
        centre=(float(held.centre[0]), lift + float(held.centre[2])),
        moments=_moments(context),
        winds=_winds(context),
        turns_in_rings=context.light.telescope is not None and context.light.telescope.design in SIDE_FOCUS,
        again=_again(context),
        choices=_choices(load, shelf),
        slid=_slid(load),
        balanced_saddle_mm=_tube(load),
        trips=tuple(
            MountTrip(mass_kg=sum(piece.mass_kg for piece in trip), pieces=tuple(piece.name for piece in trip))
            for trip in carry.trips(load.pieces, context.preferences.trip_kg)
        ),
        cases=carry.cased(rig, held, context.preferences),
        tips=tuple(
            MountTip(direction_deg=float(d), margin=float(min(m, 99.0)))
            for d, m in zip(tipping.directions_deg, tipping.margins, strict=True)
        )
        if tipping
        else (),
        tips_words=firm_words(tipping.worst) if tipping else "",
        feet=rig.support.feet if rig.support else 0,
        spreader_kg=tipping.spreader_kg if tipping else 0.0,
        mark=text("inner face {mark} from the shaft's shoulder", mark=Value(load.mark[0], "mm", 0))
        if load.mark
        else "",
        notes=_notes(load),
        figures=tuple(context.known.figures("mount.")[0]),
    )


def disk_diameter_mm(weight: Counterweight) -> float:
    """Diameter a steel disk of that mass and thickness has, mm: to draw it true to scale. Steel 7.85 g/cm³."""
    volume = (weight.used("mass_g") or 0.0) / 7.85 * 1000
    return float((4 * volume / (3.14159265 * weight.thickness_mm)) ** 0.5)


def _moments(context: Context) -> tuple[MountMoment, ...]:
    """Both axes, the side and the wind, each against what the rules of balance and wind take as its limit."""
    load, mount = context.of(Load), context.rig.mount
    if mount is None or load.carried.mass == 0:
        return ()
    rated, carried = balancing.rated_nm(mount), load.carried
    own, across = abs(context.value("mount.moment_nm")), carried.centre * carried.mass

    def moment(name: str, value: float, limit: Limit, whole: float) -> MountMoment:
        """A moment against a limit that is a share of `whole`."""
        result = limit.verdict(abs(value) / whole) if whole else "ok"
        return MountMoment(name=name, value_nm=value, limit_nm=limit.warning_at(whole), verdict=result)

    return (
        moment("right ascension", context.value("mount.balance_error_nm"), EAST, own),
        moment("declination", newton_metres(float(across[0])), EVEN, rated),
        moment("to the side", newton_metres(float(across[1])), EVEN, rated),
        moment("wind", context.value("wind_ra"), WIND, rated),
    )


def _winds(context: Context) -> MountWinds | None:
    load = context.of(Load)
    speed, said = load.wind_m_s
    usual = _wind(context, speed)
    if usual is None or not load.carried.bodies:
        return None
    felt, much = felt_and_too_much(context)
    most = max(WINDS_TO_M_S, min(1.2 * (much or 0.0), MOST_WIND_M_S), speed)
    curve = (_wind(context, most * i / WIND_POINTS) for i in range(WIND_POINTS + 1))
    return MountWinds(
        curve=tuple(item for item in curve if item is not None),
        usual=usual,
        usual_words=said,
        felt_m_s=felt,
        too_much_m_s=much,
        felt_px=SHAKE.warning or 0.0,
        too_much_px=SHAKE.problem or 0.0,
    )


def _wind(context: Context, speed: float) -> MountWind | None:
    made = at_wind(context, speed)
    if made is None:
        return None
    return MountWind(speed_m_s=speed, moment_nm=made.moment_nm, shake_px=made.pixels, verdict=made.verdict)


def _again(context: Context) -> tuple[LoadAgain, ...]:
    """Balance as it is, and again for what changes it in a night: the drawtube, what comes off, another camera."""
    rig, load = context.rig, context.of(Load)
    if rig.mount is None or not load.carried.bodies:
        return ()
    cases: list[tuple[Words, Load]] = [("as it is", load)]
    if load.travel:
        cases += [
            ("drawtube all the way in", replace(load, drawn_out_mm=0.0)),
            ("drawtube all the way out", replace(load, drawn_out_mm=load.travel)),
        ]
    if any(placed.off_at_night for placed in rig.riders):
        on = tuple(placed.model_copy(update={"off_at_night": False}) for placed in rig.riders)
        cases.append(("caps and covers on", replace(load, rig=rig.model_copy(update={"riders": on}))))
    at = next((i for i, item in enumerate(rig.path) if isinstance(item.part, Camera)), None)
    if at is not None:
        own = rig.path[at].part
        for camera in context.shelf:
            if isinstance(camera, Camera) and camera.name != own.name and camera.status in HAD and _images(camera):
                item = rig.path[at].model_copy(update={"part": camera})
                other = rig.model_copy(update={"path": (*rig.path[:at], item, *rig.path[at + 1 :])})
                cases.append((text("with the {camera}", camera=camera.name), context.changed(other).of(Load)))
    lines = [_balanced(words, case) for words, case in cases[:MOST_CASES]]
    east = context.known.get("mount.counterweight_east_mm")
    if east is not None and context.value("east") > 0 and load.shaft is not None:
        # Before the flip the weights hang in the east: a little east-heavy means further out.
        hung = [counterweight.part for counterweight in rig.counterweights]
        result = balancing.hang(hung, east * load.counterweight_kg, load.shaft)
        if result is not None:
            changed = {
                "words": "pointing east, before the flip",
                "weights_mm": round(result.middle, 1),
                "fits": result.fits,
            }
            lines.insert(1, lines[0].model_copy(update=changed))
    return tuple(lines)


def _images(camera: Camera) -> bool:
    return camera.sensor.width_mm >= 8 and camera.used("mass_g") is not None


def _balanced(words: Words, load: Load) -> LoadAgain:
    hung, shaft = [counterweight.part for counterweight in load.rig.counterweights], load.shaft
    result = balancing.hang(hung, load.wanted, shaft) if hung and shaft else None
    along = load.carried.saddle_mm + float(load.carried.centre[0])
    reached = load.balanced_saddle
    return LoadAgain(
        words=words,
        mass_kg=load.carried.mass,
        saddle_mm=reached,
        out_by_mm=0.0 if reached is None else round(along - reached, 1),
        weights_mm=round(result.middle, 1) if result else None,
        fits=result.fits if result else "",
    )


def _hung(found: balancing.Hanging) -> tuple[Hung, ...]:
    pairs = zip(found.weights, found.positions, strict=True)
    return tuple(Hung(part=part, position_mm=round(at, 1)) for part, at in pairs)


def _slid(load: Load) -> tuple[Hung, ...] | None:
    """The weights that hang, slid to balance; None when they cannot."""
    if load.shaft is None or not load.rig.counterweights:
        return None
    result = balancing.hang([hung.part for hung in load.rig.counterweights], load.wanted, load.shaft)
    if result is None or result.fits:
        return None
    slid = _hung(result)
    now = {hung.part.id or hung.part.name: hung.position_mm for hung in load.rig.counterweights}
    moved = any(abs(hung.position_mm - now[hung.part.id or hung.part.name]) > SLIDES_MM for hung in slid)
    return slid if moved else None


def _tube(load: Load) -> float | None:
    """Where the saddle would balance; None when it sits there."""
    at = load.balanced_saddle
    return at if at is not None and abs(at - load.carried.saddle_mm) > SLIDES_MM else None


def _choices(load: Load, shelf: tuple[Part, ...]) -> tuple[MountWeightChoice, ...]:
    if load.shaft is None or not load.carried.bodies:
        return ()
    own = [hung.part for hung in load.rig.counterweights]
    names = {part.id for part in own}
    more = [p for p in shelf if isinstance(p, Counterweight) and p.status in HAD and p.id not in names]
    choices = balancing.choices([*own, *more], load.wanted, load.shaft, load.preferences.weights)
    return tuple(
        MountWeightChoice(
            label=text(
                "{weights} at {middle}",
                weights=joined(" + ", (Value((weight.used("mass_g") or 0) / 1000, "kg") for weight in item.weights)),
                middle=Value(item.middle, "mm", 0),
            ),
            mass_kg=item.mass,
            inertia_kg_m2=item.inertia,
            hung=_hung(item),
        )
        for item in choices
    )


def _notes(load: Load) -> tuple[Text, ...]:
    lines = [text("Assumed: {name}.", name=name) for name in load.carried.assumed]
    if load.carried.unweighed:
        lines.append(
            text(
                "At least {mass}; mass unknown: {unweighed}.",
                "least_mass_unknown",
                mass=Value(load.carried.mass, "kg", 1),
                unweighed=", ".join(load.carried.unweighed),
            )
        )
    off = [placed.part.name for placed in load.rig.riders if placed.off_at_night]
    if off:
        lines.append(text("Removed before imaging, not counted: {off}.", off=", ".join(off)))
    return tuple(lines)
