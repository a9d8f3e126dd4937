"""Weight and the moments it makes."""

GRAVITY = 9.80665  # m/s², standard gravity. Source: CGPM 1901


def newton_metres(kilogram_millimetres: float) -> float:
    """What a mass on an arm (kg·mm) turns with, N·m."""
    return kilogram_millimetres * GRAVITY / 1000
