"""Power facts of a rig, gathered once and only when asked for: what figures and rules of the Power step share."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from functools import cached_property

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.model import Accessory, Camera, DewHeater, GuideScope, Part, Preferences, Rig, Telescope
from dravel.core.model.inventory import parts_of
from dravel.core.model.words import Value, Words, month, text
from dravel.core.physics import dew, energy
from dravel.core.sky.evenings import named
from dravel.core.sky.night import night_of
from dravel.core.steps.power.cabling import Carrying, carried, lost_v

DC_OUT, DEW_OUT = "dc_out", "dew_out"
USB = ("usb2", "usb3")
LOOSEST = 3.0  # a band over three times too wide does not lie on its glass. Dravel's own.
USB_VOLTS = 6.0  # what draws less takes its power from a data port


@dataclass(frozen=True)
class Powering:
    """Consumers, source, cables and dew, each computed when first asked for."""

    rig: Rig
    preferences: Preferences
    tonight: date | None

    @classmethod
    def of(cls, context: Context) -> "Powering":
        """The power of a rig on its night."""
        return cls(context.rig, context.preferences, context.tonight)

    def parts(self) -> Iterator[Part]:
        """Everything of the rig that may draw power."""
        source = self.rig.supply.source
        yield from (part for part in parts_of(self.rig) if part is not source)

    @property
    def day(self) -> date | None:
        """The night the rig is planned for, else tonight."""
        return next((f.night for f in self.rig.framings if f.night is not None), self.tonight)

    @cached_property
    def temperature(self) -> tuple[float, Words]:
        """The night's usual temperature, °C, and who says so."""
        site = self.rig.site
        if site is not None and site.month_c and self.day is not None:
            return site.month_c[self.day.month - 1], text("{site} in {month}", site=site.name, month=month(self.day))
        if site is not None and site.night_temperature_c is not None:
            return site.night_temperature_c, site.name
        return self.preferences.night_temperature_c, "Preferences (site: not specified)"

    @cached_property
    def humidity(self) -> tuple[float, Words]:
        """The night's usual humidity, and who says so."""
        site = self.rig.site
        if site is not None and site.humidity is not None and site.humidity > 0:
            return site.humidity, site.name
        return self.preferences.humidity, "Preferences (site: not specified)"

    @cached_property
    def hours(self) -> tuple[float, Words]:
        """How long everything is on: as set, else the dark hours of the night, else the preferences'."""
        if self.rig.supply.hours is not None:
            return self.rig.supply.hours, "as set"
        day = self.day
        if self.rig.site is not None and day is not None:
            night = night_of(self.rig.site, day)
            dark = night.hours(night.dark(self.preferences.darkness))
            if dark > 0:
                more = self.preferences.setup_hours + self.preferences.flats_hours
                beside = text(", plus {more} for setup and packing", more=Value(more, form="long")) if more else ""
                return dark + more, text("dark hours of {day}{beside}", day=named(day), beside=beside)
        return self.preferences.night_hours, "assumed (Preferences)"

    @cached_property
    def draws(self) -> tuple[energy.Draw, ...]:
        """Everything that draws, largest first."""
        air = self.temperature[0]
        cooling = max(0.0, air - self.rig.set_point_c(self.preferences))
        results = [
            energy.draw_of(part, cooling_k=cooling, heater_duty=self.preferences.heater_duty) for part in self.parts()
        ]
        return tuple(sorted((item for item in results if item is not None), key=lambda item: -item.mean_w))

    @cached_property
    def mean_w(self) -> float:
        """Watts on average."""
        return sum(draw.mean_w for draw in self.draws)

    @cached_property
    def peak_w(self) -> float:
        """Watts when everything is at its worst at once."""
        return sum(draw.peak_w for draw in self.draws)

    @cached_property
    def volts(self) -> float | None:
        """Voltage of the source, V."""
        source = self.rig.supply.source
        return source.used("voltage_v") if source else None

    @cached_property
    def cabling(self) -> tuple[Carrying, ...]:
        """The power cables, each with what hangs on it."""
        return carried(self.rig, self.draws)

    @cached_property
    def worst_way(self) -> tuple[Carrying, ...]:
        """From the supply along the cables that lose most together; empty when none can be told."""
        if not self.volts:
            return ()
        lost = {id(item): lost_v(item.way, self.cabling, self.volts) for item in self.cabling}
        known = [item for item in self.cabling if lost[id(item)] is not None]
        worst = max(known, key=lambda item: lost[id(item)] or 0.0, default=None)
        return () if worst is None else tuple(item for item in self.cabling if item.cable in worst.way)

    @cached_property
    def condenses(self) -> tuple[float, Words]:
        """Where water settles on glass, °C, and as what: dew, or below 0 °C frost."""
        air, humidity = self.temperature[0] + dew.FALL_K / 2, self.humidity[0]
        frost = dew.frost_point_c(air, humidity)
        return (dew.dew_point_c(air, humidity), "dew") if frost is None else (frost, "frost")

    @cached_property
    def ports(self) -> tuple[dict[str, int], dict[str, int]]:
        """Outlets wanted and at hand, by kind: direct current, dew bands, data."""
        source = self.rig.supply.source
        parts = list(self.parts())
        wanted = {DC_OUT: 0, DEW_OUT: 0, "usb": 0}
        for part in parts:
            if isinstance(part, DewHeater):
                wanted[DEW_OUT] += 1
            elif part.power is not None and part.power.voltage_v > USB_VOLTS:
                wanted[DC_OUT] += 1
            if isinstance(part, Camera) and any(other.ports for other in parts):
                wanted["usb"] += 1
        had = {DC_OUT: 0, DEW_OUT: 0, "usb": 0}
        for part in (*parts, *([source] if source else [])):
            for name, count in part.ports.items():
                had["usb" if name in USB else name] = had.get("usb" if name in USB else name, 0) + count
        return wanted, had

    @cached_property
    def plugs(self) -> tuple[tuple[str, int, int], ...]:
        """Plugs by name: how many 12 V consumers want one, and how many of the rig's cables end in it."""
        asked = Counter(
            part.power.plug
            for part in self.parts()
            if part.power is not None and part.power.plug and part.power.voltage_v > USB_VOLTS
        )
        ends = Counter(cable.to_plug.casefold() for cable in self.rig.supply.cables if cable.carries == "power")
        return tuple((plug, count, ends[plug.casefold()]) for plug, count in asked.items())

    def dews_over(self, margin_k: float) -> bool:
        """Whether the main glass will fog: nearer to the dew point than the preferences wants, and not heated."""
        return margin_k < self.preferences.dew_margin_k and not self.heated

    @cached_property
    def glasses(self) -> tuple[tuple[str, float, bool], ...]:
        """Glass under the open sky, the largest first: name, diameter in mm, and whether a band that fits it is on.

        A band heats the one glass it goes round: of those that fit, the smallest is taken for each.
        """
        fronts = [item.part for item in self.rig.path if isinstance(item.part, Telescope)]
        scopes = [placed.part for placed in self.rig.riders if isinstance(placed.part, GuideScope)]
        sizes = [(part.name, part.used("aperture_mm") or 0.0) for part in (*fronts, *scopes)]
        bands = sorted(p.part.aperture_mm for p in self.rig.riders if isinstance(p.part, DewHeater))
        lines = []
        for name, size in sorted(sizes, key=lambda one: -one[1]):
            fits = next((band for band in bands if size <= band <= LOOSEST * size), None)
            if fits is not None:
                bands.remove(fits)
            lines.append((name, size, fits is not None))
        return tuple(lines)

    @cached_property
    def shielded(self) -> bool:
        """Whether a dew shield is on, or the tube is one itself."""
        telescope = next((item.part for item in self.rig.path if item.part.kind == "telescope"), None)
        tube = telescope is not None and telescope.design in (
            "newtonian",
            "ritchey_chretien",
            "doublet",
            "triplet",
            "petzval",
        )
        return tube or any(isinstance(x, Accessory) and x.function == "dew_shield" for x in self.rig.extras)

    @cached_property
    def heated(self) -> bool:
        """Whether a dew heater that fits it is on the main glass."""
        front = next((item.part.name for item in self.rig.path if isinstance(item.part, Telescope)), None)
        return any(on for name, _, on in self.glasses if name == front)


NAMES = (
    "draws", "peaks", "peak_w", "hours_on", "energy", "usable_share", "cold", "reserve", "volts", "max_a", "air",
    "humidity", "open_sky", "way_length", "way_ohm_km", "way_peak",
)  # fmt: skip


def _gather(known: Known, context: Context) -> None:
    """Put the power values into `known`, or why they are not known."""
    power = context.of(Powering)
    source, preferences = power.rig.supply.source, power.preferences
    air, said = power.temperature
    known.put("air", "θ", "night temperature", air, "°C", said)
    known.put("humidity", "h", "humidity", power.humidity[0], "", power.humidity[1])
    cooled = dew.open_sky_k(power.shielded)
    known.put(
        "open_sky", "κ", "lens below air temperature", cooled, "K", "shielded" if power.shielded else "open to the sky"
    )
    if not power.draws:
        known.lack("no power consumption specified", *NAMES[:10], *NAMES[13:])
        return
    lines = [(draw.mean_w, f"{draw.name}{', ' if draw.note else ''}{draw.note}") for draw in power.draws]
    known.put_list("draws", "p", "average power", "W", lines)
    known.put_list("peaks", "p̂", "peak power", "W", [(draw.peak_w, draw.name) for draw in power.draws])
    known.put("peak_w", "p̂", "peak power", power.peak_w, "W", "all peaks together")
    known.put("hours_on", "t", "hours on", power.hours[0], "h", power.hours[1])
    if source is None:
        known.lack("no power supply", *NAMES[4:10], *NAMES[13:])
        return
    known.put("volts", "U", "voltage", power.volts, "V", source.name)
    known.put("max_a", "I_max", "largest current", source.max_a, "A", source.name)
    way = power.worst_way
    if not way:
        known.lack("no supply cable with conductor and consumer specified", "way_length", "way_ohm_km", "way_peak")
    else:
        known.put_list("way_length", "L", "length", "m", [(c.cable.length_mm / 1000, c.cable.name) for c in way])
        ohms = [
            (
                energy.ohm_per_km(c.cable.conductor_mm2 or 1.0),
                text("{conductor_mm2} mm²", conductor_mm2=Value(c.cable.conductor_mm2)),
            )
            for c in way
        ]
        known.put_list("way_ohm_km", "R", "resistance of the conductor", "Ω/km", ohms)
        lines = [(c.peak_w or 0.0, ", ".join(c.feeds) or "its consumers") for c in way]
        known.put_list("way_peak", "p̂", "peak current", "W", lines)
    if source.mains:
        known.lack("mains: unlimited", "energy", "usable_share", "cold", "reserve")
        return
    known.put("energy", "Q", "energy", source.used("energy_wh"), "Wh", source.name)
    known.put("usable_share", "u", "usable share", source.usable_fraction, "", source.name)
    factor = energy.cold_factor(source.chemistry, air)
    known.put(
        "cold",
        "k",
        "available in the cold",
        factor,
        "",
        text("{x} at {air}", x=source.chemistry.replace("_", " "), air=Value(air, "°C", 0)),
    )
    known.put("reserve", "z", "reserve", preferences.energy_reserve, "", "assumed (Preferences)")


FACTS = FactSource(NAMES, _gather)
