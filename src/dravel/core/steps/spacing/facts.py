"""What Spacing knows of a rig: the lengths, glass, light and masses its figures are made from."""

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.model.words import text
from dravel.core.physics import optics
from dravel.core.train.facts import Spacing
from dravel.core.train.layout import plates

NAMES = (
    "asked", "plate_thickness", "plate_index", "lengths", "focal_plane", "corrector_at", "image_behind", "travel",
    "maker_tolerance", "school_tolerance", "design_ratio", "stack", "corner_height", "opening_diameter", "beam_radius",
    "beam_offset", "obstruction", "hanging_mass", "hanging_at", "sag_angle", "shade_x", "shade_y", "prism_edge",
    "prism_width", "prism_height", "prism_angle", "prism_beam_radius", "prism_beam_offset", "guide_actual",
    "guide_required", "lens_factor", "lens_distance", "lens_given", "mirror_growth", "back_distance", "nominal_back",
    "knob_mm",
)  # fmt: skip


KNOB_MM = 0.75  # of mirror per turn of the focus knob. Dravel's own order of magnitude.


def _gather(known: Known, context: Context) -> None:
    """Put the spacing values into `known`, or why they are not known."""
    facts = context.of(Spacing)
    train, light = facts.train, facts.light
    asked, who = facts.asked
    if asked is None:
        known.lack(who if not light.correctors else text("{who}: back focus not specified", who=who), "asked")
    else:
        known.put("asked", "B", "required back focus", asked, "mm", who)
    if not light.correctors and light.telescope is None:
        known.lack("no telescope or lens in the light path", "focal_plane", "corrector_at", "image_behind", "travel")
    if train.camera is None:
        known.lack("no camera in the light path", *NAMES[1:])
        return
    if train.actual is None:
        known.lack(text("{unknown}: length not specified", unknown=train.unknown[0]), *NAMES[1:])
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
    lines = [
        (entry.length or 0.0, f"{entry.part.name}{', ' if entry.reading else ''}{entry.reading}")
        for entry in train.behind
    ]
    known.put_list("lengths", "l", "optical length", "mm", lines)
    known.put_list("stack", "t", "tolerance", "mm", [(entry.tolerance, entry.part.name) for entry in train.behind])
    _tolerance(known, facts)
    _lenses(known, facts)
    _mirror(known, facts)
    _reach(known, facts)
    _light(known, facts)
    hangs = facts.hanging
    weighed = [
        (load.mass_kg, f"{load.name}{', no mass given' * (load.name in hangs.unweighed)}") for load in hangs.loads
    ]
    known.put_list("hanging_mass", "m", "mass", "kg", weighed)
    known.put_list("hanging_at", "x", "behind the focuser", "mm", [(load.behind_mm, load.name) for load in hangs.loads])
    known.put("sag_angle", "φ", "tilt of the sensor", hangs.sag_mrad, "mrad", "stiffness of connections, estimate")
    _guide(known, facts)


def _tolerance(known: Known, facts: Spacing) -> None:
    """Who says how exact the spacing must be: the corrector's maker, a school that says one number, or the table."""
    light, school = facts.light, facts.preferences.spacing_tolerance
    own = light.correctors[-1].tolerance_mm if light.correctors else None
    if own:
        known.put("maker_tolerance", "t", "tolerance", own, "mm", light.correctors[-1].name)
    elif school != "ratio_and_pixel":
        known.put("school_tolerance", "t", "tolerance", facts.tolerance[0], "mm", facts.tolerance[1])
    elif light.telescope is None:
        known.lack("no telescope or lens in the light path", "design_ratio")
    else:
        ratio = light.telescope.focal_length_mm * light.factor / light.telescope.aperture_mm
        known.put("design_ratio", "N₀", "focal ratio as designed", ratio, "", light.telescope.name)


def _lenses(known: Known, facts: Spacing) -> None:
    """Each corrector's factor, the spacing it is given at, and the one it has here."""
    lenses = facts.lenses
    names = ("lens_factor", "lens_distance", "lens_given")
    if not lenses:
        because = "no corrector in the light path" if lenses is not None else "light does not reach the sensor"
        known.lack(because, *names)
    elif not all(lens.told for lens in lenses):
        known.lack("spacing too far off to compute the factor", *names)
    else:
        known.put_list("lens_factor", "m", "factor", "×", [(lens.given, lens.origin) for lens in lenses])
        known.put_list("lens_distance", "d", "image behind it", "mm", [(lens.behind, lens.name) for lens in lenses])
        known.put_list("lens_given", "b", "spacing of the specified factor", "mm",
                       [(lens.given_at, lens.origin) for lens in lenses])  # fmt: skip


def _mirror(known: Known, facts: Spacing) -> None:
    """What moving the main mirror for another back distance does; only without a corrector in the path."""
    telescope, train = facts.light.telescope, facts.train
    names = ("mirror_growth", "back_distance", "nominal_back", "knob_mm")
    if telescope is None or not facts.mirror_moves or train.actual is None:
        known.lack("the main mirror does not move for focus", *names)
        return
    if facts.light.correctors:
        known.lack("a corrector is present: its back focus applies", *names)
        return
    nominal = telescope.used("back_focus_mm")
    known.put("back_distance", "b", "back distance", train.actual - train.glass_shift, "mm", "train, glass taken off")
    known.put("nominal_back", "b₀", "back focus", nominal, "mm", telescope.name)
    focal, aperture = telescope.used("focal_length_mm") or 0.0, telescope.used("aperture_mm") or 0.0
    primary = optics.primary_ratio(telescope.design, telescope.primary_ratio)
    if primary is None or focal <= primary * aperture:
        known.lack(
            text("{telescope}: focal ratio of the main mirror not specified", telescope=telescope.name),
            "mirror_growth",
            "knob_mm",
        )
        return
    magnification = focal / (primary * aperture)
    own = telescope.used("growth_per_mm")
    growth = optics.cassegrain_growth(primary * aperture, magnification, nominal or 0.0) if own is None else own
    known.put("mirror_growth", "γ", "growth of the focal length per mm", growth, "",
              telescope.name if own is not None else "two mirrors, first order")  # fmt: skip
    known.put("knob_mm", "k", "focus moves per turn of the knob", KNOB_MM * (magnification**2 + 1), "mm",
              "0.75 mm thread, estimate (order of magnitude)")  # fmt: skip


def _reach(known: Known, facts: Spacing) -> None:
    telescope, train = facts.light.telescope, facts.train
    if telescope is None:
        return
    plane = telescope.focuser.focal_plane_mm
    known.put("focal_plane", "p", "native image behind the rear shoulder", plane, "mm", telescope.name)
    focuser = train.focuser
    if focuser is not None and facts.racks:
        known.put("travel", "T", "travel of the focuser", focuser.travel_mm, "mm", telescope.name)
    else:
        known.lack("it focuses inside, without a drawtube", "travel")
    position = facts.position
    if position is None or plane is None:
        because = text("{telescope}: focal plane position not specified", telescope=telescope.name)
        if not facts.racks:
            because = text("it focuses inside, without a drawtube")
        elif train.unknown:
            because = text("{unknown}: length not specified", unknown=train.unknown[0])
        known.lack(because, "corrector_at", "image_behind")
        return
    first = facts.lenses[0] if facts.lenses else None
    at = first.place if first else train.laid[0].start
    origin = first.name if first else "the shoulder itself"
    known.put("corrector_at", "c", "corrector behind the shoulder", at, "mm", origin)
    known.put("image_behind", "s", "native image behind that", plane - at - position, "mm", "thin lens, d / m(d)")


def _light(known: Known, facts: Spacing) -> None:
    """The openings that light must pass on its way to the corner, with the beam at each."""
    beam, corner = facts.beam, facts.corner_mm
    if beam is None or corner is None:
        known.lack("no beam through this light path", "corner_height")
        return
    known.put("corner_height", "h", "corner from the axis", corner, "mm", "half the sensor's diagonal")
    known.put("obstruction", "o", "obstruction, share of the aperture", beam.obstruction, "", "telescope")
    openings = facts.openings
    known.put_list("opening_diameter", "Ø", "opening", "mm", [(item.diameter, item.name) for item in openings])
    known.put_list("beam_radius", "ρ", "beam's radius there", "mm", [(item.radius, item.name) for item in openings])
    known.put_list("beam_offset", "k", "beam's shift per mm of h", "", [(item.offset, item.name) for item in openings])


def _guide(known: Known, facts: Spacing) -> None:
    shade = facts.shade
    if shade is not None:
        for name, symbol, title, value, unit in (
            ("shade_x", "x", "darkest point, across", shade.at[0], "mm"),
            ("shade_y", "y", "darkest point, up", shade.at[1], "mm"),
            ("prism_edge", "a", "prism's inner edge off the axis", shade.edge, "mm"),
            ("prism_width", "w", "prism's width", shade.width, "mm"),
            ("prism_height", "h", "prism's height", shade.height, "mm"),
            ("prism_angle", "θ", "prism position", shade.angle_deg, "°"),
            ("prism_beam_radius", "ρ", "beam's radius there", shade.beam[0], "mm"),
            ("prism_beam_offset", "k", "beam's shift per mm of image height", shade.beam[1], ""),
        ):
            known.put(name, symbol, title, value, unit, "prism over the sensor")
    branch, why = facts.branch
    if branch is None:
        known.lack(why, "guide_actual", "guide_required")
    else:
        known.put("guide_actual", "a", "prism to guide sensor", branch.actual, "mm", "OAG branch as set")
        known.put("guide_required", "r", "prism to main sensor, less glass", branch.required, "mm", "main train")


FACTS = FactSource(NAMES, _gather)
