"""The rules of the job, one small function each, registered by code. Importing this package registers all."""

from dravel.core.rules import aim, glass, guiding, load, night, powering, short_paths, spacing
from dravel.core.rules.registry import RULES, Context, Rule, School

__all__ = [
    "RULES",
    "Context",
    "Rule",
    "School",
    "aim",
    "glass",
    "guiding",
    "load",
    "night",
    "powering",
    "short_paths",
    "spacing",
]
