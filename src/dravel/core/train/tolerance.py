"""How exact spacing must be, by school; and how exact a stack of rings can be."""

from math import hypot

from dravel.core.model import Verdict

APS_C_DIAGONAL_MM = 26.0
ON_ITS_MARK_MM = 0.05  # nobody reads callipers closer


def tolerance_mm(focal_ratio: float, pixel_um: float, diagonal_mm: float) -> float:
    """Tolerance by focal ratio and pixel, ± mm. Common practice.

    ±0.2 at f/4.5 and faster, or with pixels of 3.8 µm and smaller on APS-C and larger; ±1.0 at f/7 and slower with
    pixels of 4.5 µm and larger; ±0.5 otherwise.
    """
    if focal_ratio <= 4.5 or (pixel_um <= 3.8 and diagonal_mm >= APS_C_DIAGONAL_MM):
        return 0.2
    return 1.0 if focal_ratio >= 7 and pixel_um >= 4.5 else 0.5


def by_school(school: str, focal_ratio: float, pixel_um: float, diagonal_mm: float) -> float:
    """Tolerance of one school, ± mm. Where round stars decide, nothing short of 2 mm is called wrong unseen."""
    if school == "always_tight":
        return 0.2
    return 2.0 if school == "round_stars" else tolerance_mm(focal_ratio, pixel_um, diagonal_mm)


def verdict_of(error_mm: float, tolerance: float) -> Verdict:
    """Within the tolerance holds, within three times strains, beyond breaks. The factor is Dravel's convention.

    What no callipers tell apart is not held against it: +0.2 of ±0.2 mm is no strain.
    """
    off = abs(error_mm) - ON_ITS_MARK_MM - 1e-9
    return "ok" if off <= tolerance else "warning" if off <= 3 * tolerance else "problem"


def error_words(error_mm: float | None) -> str:
    """A spacing error in words: OK, too long, too short; nothing where it is not known."""
    if error_mm is None:
        return ""
    return "OK" if abs(error_mm) < ON_ITS_MARK_MM else "too long" if error_mm > 0 else "too short"


def worst_case(tolerances: list[float]) -> float:
    """All parts off to the same side: Σ |t|."""
    return sum(tolerances)


def root_sum_square(tolerances: list[float]) -> float:
    """Parts off independently: √Σ t². Source: sum of variances."""
    return hypot(*tolerances)
