"""What Spacing knows of a rig: the lengths, glass, light and masses its figures are made from."""

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.train.facts import Spacing
from dravel.core.train.layout import plates

NAMES = (
    "asked", "plate_thickness", "plate_index", "lengths", "focal_plane", "corrector_at", "image_behind", "travel",
    "maker_tolerance", "school_tolerance", "design_ratio", "stack", "corner_height", "opening_diameter", "beam_radius",
    "beam_offset", "obstruction", "hanging_mass", "hanging_at", "sag_angle", "shade_x", "shade_y", "prism_edge",
    "prism_width", "prism_height", "prism_angle", "prism_beam_radius", "prism_beam_offset", "guide_actual",
    "guide_required",
)  # fmt: skip


def _gather(known: Known, context: Context) -> None:
    """Put the spacing values into `known`, or why they are not known."""
    facts = context.of(Spacing)
    train, light = facts.train, facts.light
    asked, who = facts.asked
    if asked is None:
        known.lack(who if not light.correctors else f"{who} gives no back focus", "asked")
    else:
        known.put("asked", "B", "back focus asked for", asked, "mm", who)
    if not light.correctors and light.telescope is None:
        known.lack("the light path has no telescope or lens", "focal_plane", "corrector_at", "image_behind", "travel")
    if train.camera is None:
        known.lack("the light path has no camera", *NAMES[1:])
        return
    if train.unknown:
        known.lack(f"{train.unknown[0]} gives no length", *NAMES[1:])
        return
    glass = [(plate, entry.filter.name if entry.filter else entry.part.name)
             for entry in train.behind for plate in plates(entry)]  # fmt: skip
    none = "no filter behind the shoulder"
    thick, index = (
        [(plate.thickness_mm, name) for plate, name in glass],
        [(plate.refractive_index, name) for plate, name in glass],
    )
    known.put_list("plate_thickness", "t", "thickness", "mm", thick, none)
    known.put_list("plate_index", "n", "refractive index", "", index)
    told = [
        (entry.length or 0.0, f"{entry.part.name}{', ' if entry.reading else ''}{entry.reading}")
        for entry in train.behind
    ]
    known.put_list("lengths", "l", "optical length", "mm", told)
    known.put_list("stack", "t", "tolerance", "mm", [(entry.tolerance, entry.part.name) for entry in train.behind])
    _tolerance(known, facts)
    _reach(known, facts)
    _light(known, facts)
    hangs = facts.hanging
    weighed = [
        (load.mass_kg, f"{load.name}{', no mass given' * (load.name in hangs.unweighed)}") for load in hangs.loads
    ]
    known.put_list("hanging_mass", "m", "mass", "kg", weighed)
    known.put_list("hanging_at", "x", "behind the focuser", "mm", [(load.behind_mm, load.name) for load in hangs.loads])
    known.put("sag_angle", "φ", "tilt of the sensor", hangs.sag_mrad, "mrad", "compliance of the joints, Dravel's own")
    _guide(known, facts)


def _tolerance(known: Known, facts: Spacing) -> None:
    """Who says how exact the spacing must be: the corrector's maker, a school that says one number, or the table."""
    light, school = facts.light, facts.practice.spacing_tolerance
    own = light.correctors[-1].tolerance_mm if light.correctors else None
    if own:
        known.put("maker_tolerance", "t", "tolerance", own, "mm", light.correctors[-1].name)
    elif school != "ratio_and_pixel":
        known.put("school_tolerance", "t", "tolerance", facts.tolerance[0], "mm", facts.tolerance[1])
    elif light.telescope is None:
        known.lack("the light path has no telescope or lens", "design_ratio")
    else:
        ratio = light.telescope.focal_length_mm * light.factor / light.telescope.aperture_mm
        known.put("design_ratio", "N₀", "focal ratio as designed", ratio, "", light.telescope.name)


def _reach(known: Known, facts: Spacing) -> None:
    telescope, train = facts.light.telescope, facts.train
    if telescope is None:
        return
    plane = telescope.focuser.focal_plane_mm
    known.put("focal_plane", "p", "native image behind the rear shoulder", plane, "mm", telescope.name)
    focuser = train.focuser
    if focuser is not None and focuser.mechanism not in ("lens_cell", "moving_mirror"):
        known.put("travel", "T", "travel of the focuser", focuser.travel_mm, "mm", telescope.name)
    else:
        known.lack("it focuses inside, without a drawtube", "travel")
    position = facts.position
    if position is None or plane is None:
        known.lack(f"{telescope.name} does not say where its image lies", "corrector_at", "image_behind")
        return
    at = train.corrector.end if train.corrector else train.laid[0].start
    origin = train.corrector.part.name if train.corrector else "the shoulder itself"
    known.put("corrector_at", "c", "corrector behind the shoulder", at, "mm", origin)
    known.put("image_behind", "s", "native image behind that", plane - at - position, "mm", "thin lens, d / m(d)")


def _light(known: Known, facts: Spacing) -> None:
    """The openings that light must pass on its way to the corner, with the beam at each."""
    beam, corner = facts.beam, facts.corner_mm
    if beam is None or corner is None:
        known.lack("the beam cannot be laid through this path", "corner_height")
        return
    known.put("corner_height", "h", "corner from the axis", corner, "mm", "half the sensor's diagonal")
    known.put("obstruction", "o", "obstruction, share of the aperture", beam.obstruction, "", "telescope")
    found = facts.openings
    known.put_list("opening_diameter", "Ø", "opening", "mm", [(one.diameter, one.name) for one in found])
    known.put_list("beam_radius", "ρ", "beam's radius there", "mm", [(one.radius, one.name) for one in found])
    known.put_list("beam_offset", "k", "beam's shift per mm of h", "", [(one.offset, one.name) for one in found])


def _guide(known: Known, facts: Spacing) -> None:
    shade = facts.shade
    if shade is not None:
        for name, symbol, title, value, unit in (
            ("shade_x", "x", "darkest point, across", shade.at[0], "mm"),
            ("shade_y", "y", "darkest point, up", shade.at[1], "mm"),
            ("prism_edge", "a", "prism's inner edge off the axis", shade.edge, "mm"),
            ("prism_width", "w", "prism's width", shade.width, "mm"),
            ("prism_height", "h", "prism's height", shade.height, "mm"),
            ("prism_angle", "θ", "prism stands at", shade.angle_deg, "°"),
            ("prism_beam_radius", "ρ", "beam's radius there", shade.beam[0], "mm"),
            ("prism_beam_offset", "k", "beam's shift per mm of image height", shade.beam[1], ""),
        ):
            known.put(name, symbol, title, value, unit, "prism over the sensor")
    branch, why = facts.branch
    if branch is None:
        known.lack(why, "guide_actual", "guide_required")
    else:
        known.put("guide_actual", "a", "prism to guide sensor", branch.actual, "mm", "guide branch as set")
        known.put("guide_required", "r", "prism to main sensor, less glass", branch.required, "mm", "main train")


FACTS = FactSource(NAMES, _gather)
