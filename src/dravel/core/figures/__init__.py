"""The figures of a rig, a file for each stop of the path."""

from dravel.core.figures.row import FigureRule
from dravel.core.figures.table import TABLE, described, prepare, rows

__all__ = ["TABLE", "FigureRule", "described", "prepare", "rows"]
