"""Figures of the build."""

from dravel.core.engine.recipe import Recipe

FIGURES: tuple[Recipe, ...] = (
    Recipe(
        "assembly.minutes",
        "Assembly time",
        "min",
        0,
        "Σ t",
        "estimate (order of magnitude), card by card",
        ("card_minutes",),
        sum,
        optional=True,
    ),
)
