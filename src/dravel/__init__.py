"""Dravel: the workbench where an astrophotographer designs, checks and proves an imaging rig."""

__version__ = "0.1.0"
