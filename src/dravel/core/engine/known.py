"""What is known about a rig: named values with unit and origin, and for those that are not known, why."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

from dravel.core.engine.recipe import MANY, Recipe
from dravel.core.model import Figure, FigureInput, MissingFigure
from dravel.core.model.cancellation import check_cancelled
from dravel.core.model.words import Value, Words, as_text, text

SUBSCRIPTS = str.maketrans("0123456789", "₀₁₂₃₄₅₆₇₈₉")


class Given(NamedTuple):
    """One known value."""

    symbol: str
    title: Words
    value: float
    unit: str
    origin: Words


@lru_cache(maxsize=4096)
def _as_input(one: Given) -> FigureInput:
    """A value as a working shows it; kept, since a rig that is dragged has most of its values from before."""
    return FigureInput(
        symbol=one.symbol, name=str(one.title), value=one.value, unit=one.unit, origin=as_text(one.origin)
    )


class Known:
    """Values that figures draw on, by name. Figures add their own results, so that later ones can use them.

    Kept as plain tuples, and computed only when asked for: a search for fixes makes hundreds of these and looks at
    a few values of each.
    """

    def __init__(self, recipes: Mapping[str, tuple[Recipe, ...]] | None = None) -> None:
        self._values: dict[str, Given] = {}
        self._lists: dict[str, tuple[Given, ...]] = {}
        self._empty: dict[str, Given] = {}
        self._shown: dict[str, tuple[FigureInput, ...]] = {}
        self._absent: dict[str, Words] = {}
        self._used: dict[str, Recipe] = {}
        self._tried: set[str] = set()
        self._later: dict[str, Callable[[Known], None]] = {}
        self._recipes = recipes or {}

    def later(self, names: Iterable[str], fill: "Callable[[Known], None]") -> None:
        """Values that `fill` puts here, all together, when the first of them is asked for."""
        self._later.update(dict.fromkeys(names, fill))

    def put(self, name: str, symbol: str, title: Words, value: float | None, unit: str, origin: Words) -> None:
        """Record a value, or, when it is None, that `origin` does not give it."""
        if value is None:
            self._absent[name] = text("{origin}: {title} not specified", origin=origin, title=title)
        else:
            self._values[name] = Given(symbol, title, value, unit, origin)

    def put_list(
        self, name: str, symbol: str, title: str, unit: str, terms: Sequence[tuple[float, Words]], none: Words = ""
    ) -> None:
        """Record a list of values of one kind, each with its origin: what a sum is made of. `none` says why it is empty."""
        if not terms and none:
            self._empty[name] = Given(symbol, title, 0.0, unit, none)
        self._lists[name] = tuple(
            Given(f"{symbol}{str(i).translate(SUBSCRIPTS)}", title, value, unit, origin)
            for i, (value, origin) in enumerate(terms, 1)
        )

    def lack(self, because: Words, *names: str) -> None:
        """Record why values are not known."""
        self._absent.update(dict.fromkeys(names, because))

    def why_not(self, name: str) -> Words:
        """Why a value is not known."""
        return self._absent.get(name, f"{name} is not known")

    def value(self, name: str) -> float:
        """The bare number. Raises `KeyError` when it is not known, or is a list."""
        if name not in self:
            raise KeyError(name)
        return self._values[name].value

    def get(self, name: str) -> float | None:
        """The bare number, or None when it is not known."""
        return self.value(name) if name in self else None

    def shown(self, name: str) -> Value:
        """The value as a sentence has it: with unit and decimals of its figure, and the key that leads to its sum.

        Raises `KeyError` when it is not known, or is a list.
        """
        number = self.value(name)
        if name in self._used or name in self._recipes:
            recipe = self.recipe_of(name)
            digits = 0 if recipe.counts and number >= MANY else recipe.decimals
            return Value(number, recipe.unit, digits, recipe.key)
        return Value(number, self._values[name].unit, None, name, origin=str(self._values[name].origin))

    def recipe_of(self, name: str) -> Recipe:
        """The recipe a value was computed by, or would be. Raises `KeyError` when there is none."""
        return self._used[name] if name in self and name in self._used else self._recipes[name][-1]

    def __contains__(self, name: str) -> bool:
        if name in self._values or name in self._lists:
            return True
        if name in self._later:
            fill = self._later[name]
            for other in [other for other, call in self._later.items() if call is fill]:
                del self._later[other]
            fill(self)
        elif name in self._recipes and name not in self._tried:
            self._tried.add(name)
            self._resolve(name, self._recipes[name])
        return name in self._values or name in self._lists

    def _resolve(self, name: str, recipes: tuple[Recipe, ...]) -> None:
        check_cancelled()
        for recipe in recipes:
            for given in recipe.inputs:
                if given not in self:
                    self._absent[name] = self.why_not(given)
                    break
            else:
                self._used[name] = recipe
                if recipe.compute is None:
                    value, origin = self.value(recipe.inputs[0]), self._values[recipe.inputs[0]].origin
                else:
                    value, origin = recipe.compute(*map(self._bare, recipe.inputs)), "computed"
                self.put(name, recipe.symbol, recipe.title.lower(), value, recipe.unit, origin)
                return

    def _bare(self, name: str) -> float | tuple[float, ...]:
        if name in self._lists:
            return tuple(item.value for item in self._lists[name])
        return self._values[name].value

    def inputs(self, name: str) -> tuple[FigureInput, ...]:
        """A value, or the terms of a list, as inputs of a working. Raises `KeyError` when it is not known."""
        if name not in self._shown:
            if name not in self:
                raise KeyError(name)
            result = self._lists[name] if name in self._lists else (self._values[name],)
            if not result and name in self._empty:
                result = (self._empty[name],)
            self._shown[name] = tuple(map(_as_input, result))
        return self._shown[name]

    def figures(self, lead: str = "") -> tuple[list[Figure], list[MissingFigure]]:
        """All figures with their working, in their order, and why the others are missing; only keys with a lead."""
        figures, missing = [], []
        for name, recipes in self._recipes.items():
            if not recipes[0].key.startswith(lead):
                continue
            if name in self:
                figures.append(self.figure(name))
            elif not recipes[-1].optional:
                missing.append(
                    MissingFigure(key=recipes[-1].key, title=recipes[-1].title, because=as_text(self.why_not(name)))
                )
        return figures, missing

    def figure(self, name: str) -> Figure:
        """The figure of a value, with its working. Raises `KeyError` when it is not known."""
        value, recipe = self.value(name), self.recipe_of(name)
        inputs = tuple(shown for item in recipe.inputs for shown in self.inputs(item))
        return Figure(
            key=recipe.key,
            title=recipe.title,
            value=value,
            unit=recipe.unit,
            decimals=0 if recipe.counts and value >= MANY else recipe.decimals,
            formula=recipe.formula,
            inputs=inputs if recipe.compute else (),
            source=recipe.source if recipe.compute else str(inputs[0].origin),
            note=recipe.note,
        )
