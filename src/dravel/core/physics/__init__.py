"""Formulas, each once, with its source and a value it is checked against."""
