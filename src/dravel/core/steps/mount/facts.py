"""Load facts of a rig, gathered once and only when asked for: what figures and rules of the Load step share."""

from dataclasses import dataclass
from functools import cached_property

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.model import Preferences, Rig, Shaft
from dravel.core.model.words import Value, Words, text
from dravel.core.steps.mount import balancing, carry, legs, stand, wind
from dravel.core.steps.mount.bodies import BALANCE_OF, Carried, carried, saddle_range
from dravel.core.train.facts import Spacing

# How much of the rating is wise, by school; wide and long tubes less. Common practice; the bounds are Dravel's own.
PAYLOAD_SHARE = {"two_thirds": 2 / 3, "half": 1 / 2, "full": 1.0}
BALANCE_OFF = 0.12  # of the tube's length, how far an assumed balance point may be off. Dravel's own.
WIDE_TUBE_MM, LONG_TUBE_MM, UNWIELDY = 200.0, 1000.0, 0.85


@dataclass(frozen=True)
class Load:
    """Bodies on the saddle, balance, stand and carrying, each computed when first asked for."""

    rig: Rig
    spacing: Spacing
    preferences: Preferences
    drawn_out_mm: float | None = None  # where the drawtube stands; None: where focus asks

    @classmethod
    def of(cls, context: Context) -> "Load":
        """The load of a rig."""
        return cls(context.rig, context.of(Spacing), context.preferences)

    @cached_property
    def carried(self) -> Carried:
        """Everything on the saddle."""
        return carried(self.rig, self.spacing, self.drawn_out_mm)

    @cached_property
    def arm(self) -> float:
        """The load's centre of gravity from the right-ascension axis, mm."""
        return balancing.arm_mm(self.rig.mount, self.carried) if self.rig.mount else 0.0

    @cached_property
    def shaft(self) -> Shaft | None:
        """The shaft with its extensions."""
        return balancing.shaft_of(self.rig)

    @cached_property
    def wanted(self) -> float:
        """What the counterweights must give, kg·mm."""
        return balancing.wanted_moment(self.rig, self.carried, self.preferences.ra_balance)

    @cached_property
    def counterweight_kg(self) -> float:
        """Mass of the weights on the shaft."""
        return sum((hung.part.used("mass_g") or 0.0) for hung in self.rig.counterweights) / 1000

    @cached_property
    def derating(self) -> tuple[float, Words]:
        """By how much a wide or long tube lowers the wise payload, and why."""
        telescope = self.spacing.light.telescope
        wide = telescope is not None and (telescope.tube_diameter_mm or 0) > WIDE_TUBE_MM
        long = telescope is not None and (telescope.tube_length_mm or 0) > LONG_TUBE_MM
        words = " and ".join(word for word, true in (("wide", wide), ("long", long)) if true)
        return (UNWIELDY if wide else 1.0) * (UNWIELDY if long else 1.0), text(
            "{words} tube", words=words
        ) if words else "compact tube"

    def allowed_by(self, school: str) -> float:
        """The wise payload of one school, kg: rating × share × derating; 0 without a mount."""
        mount = self.rig.mount
        return mount.payload_kg * PAYLOAD_SHARE[school] * self.derating[0] if mount else 0.0

    @cached_property
    def wind_m_s(self) -> tuple[float, Words]:
        """The wind counted with, and where it comes from."""
        site = self.rig.site
        if site is not None and site.wind_m_s is not None:
            return site.wind_m_s, site.name
        return self.preferences.wind_m_s, "Preferences (site: not specified)"

    @cached_property
    def wind_n(self) -> float:
        """Force of that wind's gusts on the tube, N."""
        return stand.wind_force_n(wind.GUST * self.wind_m_s[0], self.sail.area_m2)

    @cached_property
    def sail(self) -> wind.Sail:
        """What tube and train turn to a wind from the side."""
        return wind.sail_of(self.carried, balancing.saddle_height_mm(self.rig.mount) if self.rig.mount else 0.0)

    @cached_property
    def saddle_off_mm(self) -> float:
        """How far the saddle's height may be from what is counted with: nothing where it is given."""
        mount = self.rig.mount
        return balancing.SADDLE_OFF_MM if mount is not None and mount.used("saddle_height_mm") is None else 0.0

    @property
    def saddle_words(self) -> Words:
        """What is said where the saddle's height is assumed."""
        if not self.saddle_off_mm or self.rig.mount is None:
            return ""
        assumed = balancing.saddle_height_mm(self.rig.mount)
        return text(
            " Saddle height not specified: {assumed} assumed, ± {saddle_off_mm}.",
            assumed=Value(assumed, "mm", 0),
            saddle_off_mm=Value(self.saddle_off_mm, digits=0),
        )

    @cached_property
    def size_words(self) -> Words:
        """What is said where the tube's own size is assumed."""
        telescope = self.spacing.light.telescope
        lacking = [
            word
            for word, field in (("length", "tube_length_mm"), ("diameter", "tube_diameter_mm"))
            if telescope is not None and telescope.used(field) is None
        ]
        return (
            text(
                " The tube's {lacking} {which} assumed.",
                lacking=" and ".join(lacking),
                which="are" if len(lacking) > 1 else "is",
            )
            if lacking
            else ""
        )

    @cached_property
    def kinder_tipping(self) -> stand.Tipping | None:
        """Tipping at the kinder end of what an assumed saddle's height may be."""
        return stand.tipping(self.rig, self.carried, max(self.arm - self.saddle_off_mm, 0.0), self.wind_n)

    @cached_property
    def centre_off_mm(self) -> float:
        """How far the centre of gravity along the tube may be off: nothing where the tube's balance point is given."""
        tube = next((body for body in self.carried.bodies if body.kind == "telescope"), None)
        if tube is None or self.carried.mass == 0 or f"{BALANCE_OF}{tube.name}" not in self.carried.assumed:
            return 0.0
        return BALANCE_OFF * tube.length * tube.mass_kg / self.carried.mass

    @cached_property
    def tipping(self) -> stand.Tipping | None:
        """Tipping over the feet."""
        return stand.tipping(self.rig, self.carried, self.arm, self.wind_n)

    @cached_property
    def leg_clearance(self) -> legs.LegClearance | None:
        """What reaches the legs, and how near it comes."""
        return legs.leg_clearance(self.rig, self.carried)

    @cached_property
    def slide(self) -> tuple[float, float] | None:
        """Where the saddle's middle may sit ahead of the rear shoulder, mm."""
        return saddle_range(self.rig, self.spacing.light.telescope)

    @cached_property
    def pieces(self) -> tuple[carry.Piece, ...]:
        """What is lifted one by one."""
        return carry.pieces(self.rig, self.carried)

    @cached_property
    def balanced_saddle(self) -> float | None:
        """Where the saddle sits for balance in declination, as far as the bar lets it, mm; None without a slide."""
        if self.slide is None or not self.carried.bodies:
            return None
        wanted = self.carried.saddle_mm + float(self.carried.centre[0])
        return round(min(max(wanted, self.slide[0]), self.slide[1]), 1)

    @property
    def travel(self) -> float:
        """How far a drawtube moves what hangs behind it, mm; 0 where cells or mirrors move instead."""
        focuser = self.spacing.train.focuser
        moves = focuser is not None and focuser.mechanism not in ("lens_cell", "moving_mirror")
        return focuser.travel_mm if focuser is not None and moves else 0.0

    @cached_property
    def mark(self) -> tuple[float, Words] | None:
        """Where to mark the shaft: how far its shoulder lies from the innermost weight's inner face, mm, and whose."""
        if self.shaft is None or not self.rig.counterweights:
            return None
        inner = min(self.rig.counterweights, key=lambda hung: hung.position_mm)
        return inner.position_mm - inner.part.thickness_mm / 2 - self.shaft.start_mm, inner.part.name

    @property
    def floor(self) -> Words:
        """Who says the masses: parts, or a floor with the unweighed named."""
        lacking = self.carried.unweighed
        if not lacking:
            return "masses of the parts"
        count = "one part" if len(lacking) == 1 else text("{lacking} parts", lacking=len(lacking))
        return text(
            "minimum: mass of {count} unknown ({lacking}{which})",
            count=count,
            lacking=", ".join(lacking[:3]),
            which="…" if len(lacking) > 3 else "",
        )


NAMES = (
    "masses", "places_along", "places_across", "places_up", "saddle_height", "payload", "payload_share", "derating",
    "weights", "shaft_moment", "east", "hung_moment", "inertias", "wind", "wind_area", "wind_arm", "wind_along", "gust",
    "swing", "restoring", "overturning",
    "leg_off", "leg_radius", "leg_half", "pieces", "behind_drawtube", "drawtube_travel",
)  # fmt: skip


def _gather(known: Known, context: Context) -> None:
    """Put the load values into `known`, or why they are not known."""
    load = context.of(Load)
    held, rig, mount = load.carried, load.rig, load.rig.mount
    if not held.bodies:
        known.lack("no payload on the saddle", *NAMES)
        return
    bodies = held.bodies
    assumed = dict.fromkeys((str(item).removeprefix(BALANCE_OF) for item in held.assumed), ", balance point assumed")
    lacking = set(held.unweighed)
    if held.mass > 0:
        known.put_list("masses", "m", "mass", "kg",
                       [(body.mass_kg, f"{body.name}{', no mass given' * (body.name in lacking)}") for body in bodies])  # fmt: skip
    known.put_list("places_along", "x", "ahead of the saddle centre", "mm",
                   [(body.along, f"{body.name}{assumed.get(body.name, '')}") for body in bodies])  # fmt: skip
    known.put_list("places_across", "y", "to the right", "mm", [(body.across, body.name) for body in bodies])
    known.put_list("places_up", "z", "above the saddle", "mm", [(body.up, body.name) for body in bodies])
    known.put_list("pieces", "m", "mass of a piece", "kg", [(piece.mass_kg, piece.name) for piece in load.pieces])
    behind = load.spacing.hanging.mass_kg
    known.put("behind_drawtube", "M₂", "mass behind the drawtube", behind, "kg", "masses of the parts")
    known.put("drawtube_travel", "T", "drawtube's whole travel", load.travel, "mm", "focuser")
    if held.mass == 0:
        known.lack("payload masses not specified", "masses", "inertias")
    speed, said = load.wind_m_s
    known.put("wind", "v", "wind", speed, "m/s", said)
    known.put("gust", "G", "gust over the mean wind", wind.GUST, "×", "estimate (order of magnitude)")
    known.put("wind_area", "A", "area across the wind", load.sail.area_m2, "m²", "tube and train from the side")
    if mount is None:
        known.lack("the rig has no mount", "wind_arm", "wind_along", "swing", "saddle_height", "payload", "payload_share", "derating", "weights",
                   "shaft_moment", "east", "hung_moment", "inertias", "restoring", "overturning", "leg_off")  # fmt: skip
        return
    rough = ", not specified: assumed" if load.saddle_off_mm else ""
    height = balancing.saddle_height_mm(mount)
    known.put("saddle_height", "a", "saddle above the axis", height, "mm", f"{mount.name}{rough}")
    known.put("wind_arm", "h", "middle of that area from the right-ascension axis", load.sail.arm_mm, "mm", "parts")
    known.put("wind_along", "l", "gusts beside the declination axis", load.sail.along_mm, "mm",
              "middle of the area, and a tenth of the length")  # fmt: skip
    swing = wind.swing_arcsec_nm(mount, rig.support, balancing.rated_nm(mount))
    known.put("swing", "y", "swing per moment", swing, "″/N·m",
              text("{x} of that rating, estimate (order of magnitude)", x=mount.style.replace('_', ' ')))  # fmt: skip
    known.put("payload", "P", "rated payload", mount.payload_kg, "kg", mount.name)
    school = load.preferences.payload
    known.put("payload_share", "s", "recommended share", PAYLOAD_SHARE[school], "", school.replace("_", " "))
    known.put("derating", "k", "less for the tube", load.derating[0], "", load.derating[1])
    if held.mass > 0:
        inertias = balancing.inertias(mount, held, rig.counterweights, load.shaft)
        known.put_list("inertias", "I", "inertia", "kg·m²", inertias)
    known.put(
        "hung_moment", "K", "moment of the weights", balancing.hung_moment(rig.counterweights), "kg·mm", "as hung"
    )
    known.put("shaft_moment", "S", "moment of the bare shaft", balancing.shaft_moment(load.shaft), "kg·mm", mount.name)
    east = balancing.east_heavy(mount, load.preferences.ra_balance)
    known.put("east", "b", "left east-heavy", east, "", load.preferences.ra_balance.replace("_", " "))
    if load.counterweight_kg > 0:
        hung = [
            ((counterweight.part.used("mass_g") or 0.0) / 1000, counterweight.part.name)
            for counterweight in rig.counterweights
        ]
        known.put_list("weights", "w", "counterweight", "kg", hung)
    else:
        known.lack("no counterweight on the shaft", "weights")
    _standing(known, load)


def _standing(known: Known, load: Load) -> None:
    tipping, near = load.tipping, load.leg_clearance
    if tipping is None:
        known.lack("no tripod or pier", "restoring", "overturning")
    elif tipping.overturning == 0:
        known.lack("no overturning moment", "restoring", "overturning")
    else:
        where = text("worst direction, {worst_deg} from a foot", worst_deg=Value(tipping.worst_deg, "°", 0))
        known.put("restoring", "R", "restoring moment", tipping.restoring, "kg·mm", where)
        known.put("overturning", "O", "overturning moment", tipping.overturning, "kg·mm", where)
    if near is None:
        known.lack("no part reaches the legs", "leg_off")
        return
    where = text("straight legs, pointing at {towards}", towards=near.towards)
    known.put("leg_off", "d", text("leg from the axis of the {part}", part=near.part), near.apart_mm, "mm", where)
    known.put("leg_radius", "r", text("radius of the {part}", part=near.part), near.radius_mm, "mm", "parts")
    known.put("leg_half", "b", "half a leg", legs.LEG_HALF_MM, "mm", "default threshold")


FACTS = FactSource(NAMES, _gather)
