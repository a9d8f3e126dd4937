"""What is drawn and what a source gives: by part and hour, in the cold, at the far end of a cable."""

from dataclasses import dataclass

from dravel.core.model import Cable, Camera, DewHeater, Part, PowerSource

# Resistance of copper conductors at 20 °C, Ω/km. Source: IEC 60228, class 5 (flexible).
OHM_PER_KM = {0.5: 39.0, 0.75: 26.0, 1.0: 19.5, 1.5: 13.3, 2.5: 7.98, 4.0: 4.95, 6.0: 3.30}
COPPER_OHM_MM2_M = 0.0185
# Share of the capacity that is left in the cold: at −20, 0 and 20 °C. Dravel's own orders of magnitude.
COLD = {"lithium_iron": (0.55, 0.80, 1.0), "lithium_ion": (0.60, 0.85, 1.0), "lead": (0.50, 0.78, 1.0)}
COLD_AT = (-20.0, 0.0, 20.0)
COOL_K_MIN = 5.0  # so that no glass frosts; Dravel's own
COOLER_FLOOR = 0.25  # of a cooled camera's draw goes on whatever the cooling


@dataclass(frozen=True)
class Draw:
    """One consumer: watts while on, watts at worst, and the share of the time it is on. `key` is its part's."""

    key: str
    name: str
    kind: str
    typical_w: float
    peak_w: float
    duty: float
    note: str = ""

    @property
    def mean_w(self) -> float:
        """Watts on average."""
        return self.typical_w * self.duty


def cooling_share(wanted_k: float, able_k: float) -> float:
    """Share of a cooler's full draw at a temperature difference: a floor, then with its square.

    A thermoelectric cooler's heat and losses grow faster than the difference; the square is the usual approximation.
    """
    if able_k <= 0:
        return 1.0
    reach = min(1.0, max(0.0, wanted_k / able_k))
    return COOLER_FLOOR + (1 - COOLER_FLOOR) * reach**2


def draw_of(part: Part, *, cooling_k: float | None, heater_duty: float) -> Draw | None:
    """What a part draws; None when it draws nothing. A camera's typical draw is that at its full cooling."""
    if part.power is None:
        return None
    typical, peak = part.power.typical_w, part.power.peak_w or part.power.typical_w
    kind, key = getattr(part, "kind", "part"), part.id or part.name
    if isinstance(part, DewHeater):
        return Draw(key, part.name, kind, typical, peak, heater_duty, f"on {heater_duty:.0%} of the time")
    if isinstance(part, Camera) and part.cooling_delta_k and cooling_k is not None:
        share = cooling_share(cooling_k, part.cooling_delta_k)
        return Draw(key, part.name, kind, typical * share, peak, 1.0, f"cooling by {cooling_k:.0f} K")
    return Draw(key, part.name, kind, typical, peak, 1.0)


def cold_factor(chemistry: str, temperature_c: float) -> float:
    """Share of the capacity left at a temperature: straight between −20, 0 and 20 °C. KeyError on unknown chemistry."""
    low, middle, high = COLD[chemistry]
    if temperature_c <= COLD_AT[0]:
        return low
    if temperature_c >= COLD_AT[2]:
        return high
    if temperature_c <= COLD_AT[1]:
        return low + (middle - low) * (temperature_c - COLD_AT[0]) / 20
    return middle + (high - middle) * temperature_c / 20


def usable_wh(source: PowerSource, temperature_c: float, reserve: float) -> float | None:
    """Energy a source gives in the cold with a reserve left, Wh; None for mains and where its energy is not given."""
    energy = source.used("energy_wh")
    if source.mains or energy is None:
        return None
    return at_hand_wh(energy, source.usable_fraction, cold_factor(source.chemistry, temperature_c), reserve)


def at_hand_wh(energy_wh: float, usable_share: float, cold: float, reserve: float) -> float:
    """Energy at hand, Wh: of a source's own the share that may be used, of that what the cold leaves, less a reserve."""
    return energy_wh * usable_share * cold * (1 - reserve)


def ohm_per_km(area_mm2: float) -> float:
    """Resistance of a copper conductor at 20 °C, Ω/km. Source: IEC 60228 where it lists the size, else ρ/A."""
    return OHM_PER_KM.get(area_mm2, COPPER_OHM_MM2_M / area_mm2 * 1000)


def way_drop_v(
    lengths_m: tuple[float, ...], ohms_km: tuple[float, ...], peaks_w: tuple[float, ...], volts: float
) -> float:
    """Voltage lost along cables in series, each with its own load, V: Σ 2·L·R·p̂/U. Source: Ohm's law."""
    ways = zip(lengths_m, ohms_km, peaks_w, strict=True)
    return sum(2 * length / 1000 * ohm * peak / volts for length, ohm, peak in ways)


def conductor_ohm(area_mm2: float, length_mm: float) -> float:
    """Resistance there and back of a cable, Ω: 2·L·R. Source: as `ohm_per_km`."""
    return 2 * length_mm / 1e6 * ohm_per_km(area_mm2)


def voltage_drop_v(cable: Cable, current_a: float) -> float | None:
    """Voltage lost along a cable, V; None when its conductor is not given."""
    if cable.conductor_mm2 is None:
        return None
    return conductor_ohm(cable.conductor_mm2, cable.length_mm) * current_a
