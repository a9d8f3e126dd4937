"""The figures of a rig, a file for each stop of the path."""

from dravel.core.figures.table import TABLE, described, prepare

__all__ = ["TABLE", "described", "prepare"]
