"""Focus reach: where the drawtube must stand for the image to fall on the sensor. Scalars in, scalars out, mm."""

from math import prod


def corrector_power(factor: float, back_focus_mm: float) -> float:
    """Power of a thin corrector that works at `factor` from `back_focus_mm`, 1/mm: (1 − m)/d.

    Source: thin-lens equation with m = d/s. Raises `ValueError` when the distance is not positive.
    """
    if back_focus_mm <= 0:
        raise ValueError(f"back_focus_mm must be positive, not {back_focus_mm:g}")
    return (1 - factor) / back_focus_mm


def factor_at(distance_mm: float, factor: float, back_focus_mm: float) -> float:
    """The factor a corrector really has with the sensor at `distance_mm`: 1 − (d/d₀)(1 − m).

    Source: thin-lens equation. At d = d₀ it is the maker's own.
    """
    return 1 - distance_mm * corrector_power(factor, back_focus_mm)


def native_image_behind(distance_mm: float, factor: float, back_focus_mm: float) -> float:
    """Where the telescope's own image must lie behind the corrector for its image to fall at `distance_mm`: d/m(d).

    Source: thin-lens equation. Raises `ValueError` when no such place exists (the lens would have to diverge light).
    """
    real = factor_at(distance_mm, factor, back_focus_mm)
    if real <= 0:
        raise ValueError("at this distance the corrector forms no image")
    return distance_mm / real


def focuser_position(focal_plane_mm: float, corrector_at_mm: float, image_behind_mm: float) -> float:
    """How far the drawtube stands out, mm; negative when it would have to go further in than it can.

    `focal_plane_mm` native image behind the rear shoulder with the tube fully in; `corrector_at_mm` where the
    corrector (or, without one, the shoulder itself) lies; `image_behind_mm` the native image behind that.
    Source: geometry.
    """
    return focal_plane_mm - corrector_at_mm - image_behind_mm


def implied_spacing(factor: float, given: float, given_at_mm: float) -> float:
    """The spacing at which a corrector has a factor, mm: d₀ (1 − m′) / (1 − m). Source: thin-lens equation.

    Raises `ZeroDivisionError` for a corrector of factor 1, whose factor no spacing moves.
    """
    return given_at_mm * (1 - factor) / (1 - given)


def factor_of_lenses(given: tuple[float, ...], distance_mm: tuple[float, ...], given_at_mm: tuple[float, ...]) -> float:
    """Factor of correctors at their spacings, arrays of one length: Π (1 − d/d₀ · (1 − m)). Source: as `factor_at`."""
    return prod(factor_at(d, m, at) for m, d, at in zip(given, distance_mm, given_at_mm, strict=True))


def grown_focal_length(focal_length_mm: float, growth_per_mm: float, back_mm: float, nominal_back_mm: float) -> float:
    """Focal length of a moving-mirror telescope focused at another back distance, mm: f₀ + γ·(b − b₀).

    Approximation: the secondary's magnification grows in proportion with back distance; γ about 3 for f/10 designs
    (common practice), f₁/|f₂| in terms of the two mirrors. Never below a tenth of f₀, where it ends.
    """
    return max(focal_length_mm + growth_per_mm * (back_mm - nominal_back_mm), focal_length_mm / 10)
