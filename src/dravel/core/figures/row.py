"""One row of the table of figures."""

from collections.abc import Callable
from dataclasses import dataclass


@dataclass
class FigureRule:
    """One row of the table. `inputs` are names in `Known`; `gives` is the name (and symbol) its result gets there."""

    key: str
    title: str
    unit: str
    decimals: int
    formula: str
    source: str
    inputs: tuple[str, ...]
    compute: Callable[..., float]
    gives: tuple[str, str] = ("", "")
    note: str = ""
    optional: bool = False  # not worth a word where it does not apply

    @property
    def name(self) -> str:
        """What the result is called in `Known`."""
        return self.gives[0] or self.key

    @property
    def symbol(self) -> str:
        """Its symbol in formulas."""
        return self.gives[1]


GEOMETRY = "geometry"
PRACTICE = "common practice"
STATICS = "statics"
