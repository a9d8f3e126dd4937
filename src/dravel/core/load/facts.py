"""Load facts of a rig, gathered once and only when asked for: what figures and rules of the Load stop share."""

from dataclasses import dataclass
from functools import cached_property

from dravel.core.known import Known
from dravel.core.load import balance, carry, stand
from dravel.core.load.bodies import Carried, carried, saddle_range
from dravel.core.model import Practice, Rig, Shaft
from dravel.core.spacing.facts import Spacing

# How much of the rating is wise, by school; wide and long tubes less. Common practice; the bounds are Dravel's own.
PAYLOAD_SHARE = {"two_thirds": 2 / 3, "half": 1 / 2, "full": 1.0}
WIDE_TUBE_MM, LONG_TUBE_MM, UNWIELDY = 200.0, 1000.0, 0.85


@dataclass(frozen=True)
class Load:
    """Bodies on the saddle, balance, stand and carrying, each computed when first asked for."""

    rig: Rig
    spacing: Spacing
    practice: Practice
    drawn_out_mm: float | None = None  # where the drawtube stands; None: where focus asks

    @cached_property
    def carried(self) -> Carried:
        """Everything on the saddle."""
        return carried(self.rig, self.spacing, self.drawn_out_mm)

    @cached_property
    def arm(self) -> float:
        """The load's centre of gravity from the right-ascension axis, mm."""
        return balance.arm_mm(self.rig.mount, self.carried) if self.rig.mount else 0.0

    @cached_property
    def shaft(self) -> Shaft | None:
        """The shaft with its extensions."""
        return balance.shaft_of(self.rig)

    @cached_property
    def wanted(self) -> float:
        """What the counterweights must give, kg·mm."""
        return balance.wanted_moment(self.rig, self.carried, self.practice.ra_balance)

    @cached_property
    def counterweight_kg(self) -> float:
        """Mass of the weights on the shaft."""
        return sum((hung.part.used("mass_g") or 0.0) for hung in self.rig.counterweights) / 1000

    @cached_property
    def derating(self) -> tuple[float, str]:
        """By how much a wide or long tube lowers the wise payload, and why."""
        telescope = self.spacing.light.telescope
        wide = telescope is not None and (telescope.tube_diameter_mm or 0) > WIDE_TUBE_MM
        long = telescope is not None and (telescope.tube_length_mm or 0) > LONG_TUBE_MM
        words = " and ".join(word for word, true in (("wide", wide), ("long", long)) if true)
        return (UNWIELDY if wide else 1.0) * (UNWIELDY if long else 1.0), f"{words} tube" if words else "compact tube"

    def allowed_by(self, school: str) -> float:
        """The wise payload of one school, kg: rating × share × derating; 0 without a mount."""
        mount = self.rig.mount
        return mount.payload_kg * PAYLOAD_SHARE[school] * self.derating[0] if mount else 0.0

    @cached_property
    def wind_m_s(self) -> tuple[float, str]:
        """The wind counted with, and where it comes from."""
        site = self.rig.site
        if site is not None and site.wind_m_s is not None:
            return site.wind_m_s, site.name
        return self.practice.wind_m_s, "practice, as the site names none"

    @cached_property
    def wind_n(self) -> float:
        """Force of that wind on the tube, N."""
        return stand.wind_force_n(self.wind_m_s[0], stand.wind_area_m2(self.carried))

    @cached_property
    def tipping(self) -> stand.Tipping | None:
        """Tipping over the feet."""
        return stand.tipping(self.rig, self.carried, self.arm, self.wind_n)

    @cached_property
    def leg_clearance(self) -> float | None:
        """The tube's rear end against the legs, mm."""
        return stand.leg_clearance_mm(self.rig, self.carried)

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
    def mark(self) -> tuple[float, str] | None:
        """Where to mark the shaft: how far its shoulder lies from the innermost weight's inner face, mm, and whose."""
        if self.shaft is None or not self.rig.counterweights:
            return None
        inner = min(self.rig.counterweights, key=lambda hung: hung.position_mm)
        return inner.position_mm - inner.part.thickness_mm / 2 - self.shaft.start_mm, inner.part.name

    @property
    def floor(self) -> str:
        """Who says the masses: parts, or a floor with the unweighed named."""
        lacking = self.carried.unweighed
        if not lacking:
            return "masses of the parts"
        count = "one part" if len(lacking) == 1 else f"{len(lacking)} parts"
        return f"at least: {count} unweighed ({', '.join(lacking[:3])}{'…' if len(lacking) > 3 else ''})"


NAMES = (
    "carried", "payload", "payload_share", "derating", "arm", "along", "across", "hung", "shaft_moment", "east",
    "hung_moment", "inertia", "wind", "wind_area", "tipping", "legs", "lift", "racking",
)  # fmt: skip


def gather(known: Known, load: Load) -> None:
    """Put the load values into `known`, or why they are not known."""
    held, rig, mount = load.carried, load.rig, load.rig.mount
    if not held.bodies:
        known.lack("nothing rides on the saddle yet", *NAMES)
        return
    known.put("carried", "M", "mass carried", held.mass, "kg", load.floor)
    known.put("along", "c", "centre of gravity along the tube", float(held.centre[0]), "mm", _guessed(held))
    known.put("across", "e", "centre of gravity across", float(held.centre[1]), "mm", load.floor)
    heaviest = load.pieces[0]
    known.put("lift", "L", "heaviest piece", heaviest.mass_kg, "kg", heaviest.name)
    known.put("racking", "r", "shift by the drawtube's whole travel", _racking(load), "mm", "mass behind the drawtube")
    speed, said = load.wind_m_s
    known.put("wind", "v", "wind", speed, "m/s", said)
    known.put("wind_area", "A", "area across the wind", stand.wind_area_m2(held), "m²", "tube and train from the side")
    if mount is None:
        known.lack("the rig has no mount", "payload", "payload_share", "derating", "arm", "hung", "shaft_moment",
                   "east", "hung_moment", "inertia", "tipping", "legs")  # fmt: skip
        return
    known.put("payload", "P", "rated payload", mount.payload_kg, "kg", mount.name)
    school = load.practice.payload
    known.put("payload_share", "s", "wise share of it", PAYLOAD_SHARE[school], "", school.replace("_", " "))
    known.put("derating", "k", "less for the tube", load.derating[0], "", load.derating[1])
    rough = "" if mount.saddle_height_mm is not None else ", its saddle height not given: taken as 0"
    known.put("arm", "D", "load's arm from the axis", load.arm, "mm", f"statics{rough}")
    known.put("inertia", "I", "moment of inertia",
              balance.inertia_kg_m2(mount, held, rig.counterweights, load.shaft), "kg·m²", "points and cylinders")  # fmt: skip
    known.put("hung_moment", "K", "moment of the weights", balance.hung_moment(rig.counterweights), "kg·mm", "as hung")
    known.put("shaft_moment", "S", "moment of the bare shaft", balance.shaft_moment(load.shaft), "kg·mm", mount.name)
    east = balance.east_heavy(mount, load.practice.ra_balance)
    known.put("east", "b", "left east-heavy", east, "", load.practice.ra_balance.replace("_", " "))
    if load.counterweight_kg > 0:
        known.put("hung", "W", "counterweights", load.counterweight_kg, "kg", f"{len(rig.counterweights)} on the shaft")
    else:
        known.lack("no counterweight hangs on the shaft", "hung")
    if load.tipping is None:
        known.lack("the rig stands on nothing yet", "tipping")
    elif load.tipping.worst < 1e6:
        known.put("tipping", "τ", "restoring / overturning", load.tipping.worst, "", "foot polygon, worst direction")
    else:
        known.lack("nothing overturns it", "tipping")
    if load.leg_clearance is None:
        known.lack("the tube's end stays above the legs", "legs")
    else:
        known.put("legs", "ℓ", "tube past the legs", load.leg_clearance, "mm", "straight legs, tube upright")


def _guessed(held: Carried) -> str:
    return f"the {held.assumed[0]} is assumed" if held.assumed else "balance point of the tube and places of the rest"


def _racking(load: Load) -> float:
    """How far the centre of gravity moves when the drawtube goes from in to out, mm."""
    if load.carried.mass == 0:
        return 0.0
    return load.spacing.hanging.mass_kg * load.travel / load.carried.mass
