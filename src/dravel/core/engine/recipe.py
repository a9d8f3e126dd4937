"""How a figure is computed: from which known values, by which formula, after which source."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

GEOMETRY = "geometry"
PRACTICE = "common practice"
STATICS = "statics"
MANY = 20


@dataclass(frozen=True)
class Recipe:
    """One figure. `inputs` are names in `Known`; `gives` is the name (and symbol) its result gets there.

    An input may be a list (masses of all parts): `compute` is then handed a tuple, and the working lists its terms.
    Several recipes may give the same name: the first whose inputs are known is used. A recipe without `compute` has
    one input and shows it as given, by its maker or a reading: it works nothing out and does not pretend to.
    """

    key: str
    title: str
    unit: str
    decimals: int
    formula: str
    source: str
    inputs: tuple[str, ...]
    compute: Callable[..., Any] | None
    gives: tuple[str, str] = ("", "")
    note: str = ""
    counts: bool = False  # a number of things: from `MANY` on nobody asks for their tenths
    optional: bool = False  # not worth a word where it does not apply

    @property
    def name(self) -> str:
        """What the result is called in `Known`."""
        return self.gives[0] or self.key

    @property
    def symbol(self) -> str:
        """Its symbol in formulas."""
        return self.gives[1]


def given(
    key: str, title: str, unit: str, decimals: int, name: str, gives: tuple[str, str] = ("", ""), **more: Any
) -> Recipe:
    """A figure that is not computed but given: a maker's figure, a reading, a choice."""
    return Recipe(key, title, unit, decimals, "", "", (name,), None, gives, **more)
