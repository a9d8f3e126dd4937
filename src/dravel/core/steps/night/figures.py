"""Figures of the night."""

from dravel.core.engine.recipe import PRACTICE, Recipe

# fmt: off
FIGURES: tuple[Recipe, ...] = (
    Recipe(
        "night.free_h", "Longest unobstructed time in darkness", "h", 1,
        "max h", "spherical astronomy over the local horizon",
        ("free_hours",), max, optional=True,
    ),
    Recipe(
        "night.flip_idle_min", "Idle time at the meridian flip, maximum", "min", 0,
        "max(0, t / 60 + m₂ − m₁)", f"{PRACTICE}: no sub is open while the mount turns",
        ("flip_sub", "flips_after", "past_meridian"), lambda t, after, past: max(0.0, t / 60 + after - past),
        ("flip_idle", "w"), optional=True,
    ),
)
