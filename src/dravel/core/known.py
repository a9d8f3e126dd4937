"""What is known about a rig: named values with unit and origin, and for those that are not known, why."""

from collections.abc import Callable, Iterable, Mapping
from typing import Protocol

from dravel.core.light_path import LightPath, back_focus_of
from dravel.core.model import FigureInput, Part, Practice, Rig


class Recipe(Protocol):
    """How a value is computed: from which others, by what."""

    @property
    def inputs(self) -> tuple[str, ...]: ...
    @property
    def compute(self) -> Callable[..., float]: ...
    @property
    def title(self) -> str: ...
    @property
    def unit(self) -> str: ...
    @property
    def symbol(self) -> str: ...


class Known:
    """Values that figures draw on, by name. Figures add their own results, so that later ones can use them.

    Kept as plain tuples, and computed only when asked for: a search for mends makes hundreds of these and looks at
    a few values of each.
    """

    def __init__(self) -> None:
        self._values: dict[str, tuple[str, str, float, str, str]] = {}
        self._absent: dict[str, str] = {}
        self._tried: set[str] = set()
        self._shown: dict[str, FigureInput] = {}
        self.recipes: Mapping[str, Recipe] = {}
        self._later: dict[str, Callable[[Known], None]] = {}

    def later(self, names: Iterable[str], fill: "Callable[[Known], None]") -> None:
        """Values that `fill` puts here, all together, when the first of them is asked for."""
        self._later.update(dict.fromkeys(names, fill))

    def put(self, name: str, symbol: str, title: str, value: float | None, unit: str, origin: str) -> None:
        """Record a value, or, when it is None, that `origin` does not give it."""
        if value is None:
            self._absent[name] = f"{origin} gives no {title}"
        else:
            self._values[name] = (symbol, title, value, unit, origin)

    def lack(self, because: str, *names: str) -> None:
        """Record why values are not known."""
        self._absent.update(dict.fromkeys(names, because))

    def why_not(self, name: str) -> str:
        """Why a value is not known."""
        return self._absent.get(name, f"{name} is not known")

    def value(self, name: str) -> float:
        """The bare number. Raises `KeyError` when it is not known."""
        if name not in self:
            raise KeyError(name)
        return self._values[name][2]

    def get(self, name: str) -> float | None:
        """The bare number, or None when it is not known."""
        return self.value(name) if name in self else None

    def __contains__(self, name: str) -> bool:
        if name in self._values:
            return True
        if name in self._later:
            fill = self._later[name]
            self._later = {other: call for other, call in self._later.items() if call is not fill}
            fill(self)
            return name in self._values
        if name in self.recipes and name not in self._tried:
            self._tried.add(name)
            self._resolve(name, self.recipes[name])
        return name in self._values

    def _resolve(self, name: str, recipe: "Recipe") -> None:
        values = []
        for given in recipe.inputs:
            if given not in self:
                self._absent[name] = self.why_not(given)
                return
            values.append(self._values[given][2])
        value = recipe.compute(*values)
        self.put(name, recipe.symbol, recipe.title.lower(), value, recipe.unit, "computed")

    def __getitem__(self, name: str) -> FigureInput:
        if name not in self._shown:
            if name not in self:
                raise KeyError(name)
            symbol, title, value, unit, origin = self._values[name]
            shown = FigureInput(symbol=symbol, name=title, value=value, unit=unit, origin=origin)
            self._shown[name] = shown
        return self._shown[name]


def gather(rig: Rig, light: LightPath, practice: Practice) -> Known:
    """Everything the figures start from."""
    known = Known()
    _telescope(known, light)
    _correctors(known, light)
    _camera(known, rig, light)
    site, seeing = rig.site, practice.default_seeing_arcsec
    if site is not None and site.seeing_arcsec is not None:
        known.put("seeing", "s", "seeing", site.seeing_arcsec, "″", site.name)
    else:
        known.put("seeing", "s", "seeing", seeing, "″", "practice, as the site names none")
    known.put("airmass", "X", "airmass", practice.assumed_airmass, "", "practice")
    known.put("guiding", "RMS", "guiding RMS per axis", practice.guiding_rms_arcsec, "″", "practice")
    known.put("defocus", "d", "defocus", 0.0, "″", "taken as in focus")
    solved = rig.measured_focal_length_mm
    if solved is not None:
        known.put("solved_focal_length", "f′", "measured focal length", solved.value, "mm", _reading(solved.instrument))
    return known


def _reading(instrument: str) -> str:
    return f"measured ({instrument})" if instrument else "measured"


def _from_part(known: Known, part: Part, name: str, symbol: str, title: str, unit: str, field: str) -> None:
    measured = part.measured.get(field)
    origin = f"{part.name}, {_reading(measured.instrument)}" if measured else part.name
    known.put(name, symbol, title, part.used(field), unit, origin)


def _telescope(known: Known, light: LightPath) -> None:
    telescope = light.telescope
    if telescope is None:
        known.lack("the light path has no telescope or lens", "aperture", "native_focal_length", "tube_length")
        known.lack("the light path has no telescope or lens", "expansion", "radius_share")
        return
    _from_part(known, telescope, "aperture", "D", "aperture", "mm", "aperture_mm")
    _from_part(known, telescope, "native_focal_length", "f₀", "native focal length", "mm", "focal_length_mm")
    _from_part(known, telescope, "tube_length", "L", "tube length", "mm", "tube_length_mm")


def _correctors(known: Known, light: LightPath) -> None:
    names = ", ".join(part.name for part in light.correctors) or "no corrector"
    known.put("factor", "m", "factor of the correctors", light.factor, "×", names)
    if light.telescope is None:
        known.lack("the light path has no telescope or lens", "image_circle")
    else:
        origin = light.correctors[-1].name if light.correctors else light.telescope.name
        known.put("image_circle", "c", "image circle", light.image_circle_mm, "mm", origin)
    if not light.correctors:
        known.lack("no corrector in the light path", "back_focus")
    else:
        last, telescope = light.correctors[-1], light.telescope
        distance = back_focus_of(last, telescope.used("focal_length_mm") if telescope else None)
        known.put("back_focus", "d", "back focus", distance, "mm", last.name)


def _camera(known: Known, rig: Rig, light: LightPath) -> None:
    camera = light.camera
    if camera is None:
        known.lack("the light path has no camera", "pixel", "sensor_width", "sensor_height")
        return
    sensor = camera.sensor
    origin = f"{camera.name}, binned {rig.binning}×{rig.binning}" if rig.binning > 1 else camera.name
    known.put("pixel", "p", "pixel size", sensor.pixel_um * rig.binning, "µm", origin)
    known.put("sensor_width", "w", "sensor width", sensor.width_mm, "mm", camera.name)
    known.put("sensor_height", "h", "sensor height", sensor.height_mm, "mm", camera.name)
