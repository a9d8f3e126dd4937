"""Figures of the build."""

from dravel.core.engine.recipe import Recipe

FIGURES: tuple[Recipe, ...] = (
    Recipe(
        "build.minutes",
        "Minutes to build",
        "min",
        0,
        "Σ t",
        "Dravel's own orders of magnitude, card by card",
        ("card_minutes",),
        sum,
        optional=True,
    ),
)
