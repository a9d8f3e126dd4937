"""How many trips on foot each of many combinations takes: the packing of the Load step, for all of them at once."""

import numpy as np
from numpy.typing import NDArray

from dravel.core.design.hanging import NONE
from dravel.core.design.screen import Screen
from dravel.core.model import Part

Rows = NDArray[np.int64]


def trips_of(screen: Screen, rows: Rows) -> Rows:
    """The trips of some rows: first fit, heaviest first; a piece over the limit goes alone. As `carry.trips` counts them."""
    if not len(rows):
        return np.zeros(0, dtype=np.int64)
    limit = screen.brief.preferences.trip_kg
    masses = _pieces(screen, rows)
    masses = -np.sort(-masses, axis=1)  # what is no piece is below nothing, and comes last
    most = masses.shape[1]
    loads, used = np.zeros((len(rows), most)), np.zeros((len(rows), most), dtype=bool)
    every = np.arange(len(rows))
    for column in range(most):
        piece = masses[:, column]
        there = piece >= 0
        if not there.any():
            break
        fits = ~used | (loads + piece[:, None] <= limit + 1e-9)
        at = np.argmax(fits, axis=1)
        loads[every[there], at[there]] += piece[there]
        used[every[there], at[there]] = True
    return np.asarray(used.sum(axis=1))


def _pieces(screen: Screen, rows: Rows) -> NDArray[np.float64]:
    """What is lifted one by one, kg, shape (rows, pieces); −1 where there is no such piece."""
    train, mount, supply = screen.train[rows], screen.mount[rows], screen.supply[rows]
    tube = np.array([item.carried_kg for item in screen.trains])[train]
    head = np.array([(item.used("mass_g") or 0.0) / 1000 for item in screen.mounts])[mount]
    legs = np.array([(support.used("mass_g") or 0.0) / 1000 for support in screen.supports])[screen.support[rows]]
    cell = np.array([_loose(item) for item in screen.supplies])[supply]
    columns = [tube, head, legs, cell]
    extras = [[_loose(part) for part in item.rig.extras] for item in screen.trains]
    cables = [
        [[[_loose(part) for part in screen.assembler.cables(item, head, supply)] for supply in screen.supplies]
         for head in screen.mounts]
        for item in screen.trains
    ]  # fmt: skip
    columns += [column[train] for column in _columns(extras)]
    wide = max((len(item) for own in cables for row in own for item in row), default=0)
    laid = np.array([[*item, *([-1.0] * (wide - len(item)))] for own in cables for row in own for item in row]).reshape(
        len(cables), len(screen.mounts), len(screen.supplies), wide
    )
    columns += [laid[train, mount, supply, k] for k in range(wide)]
    return np.column_stack([*columns, *_hung(screen, rows)])


def _hung(screen: Screen, rows: Rows) -> list[NDArray[np.float64]]:
    """The counterweights of each row, one column a weight."""
    sets = [[[(weight.used("mass_g") or 0.0) / 1000 for weight in weight_set.weights] for weight_set in screen.weights(k).sets]
            for k in range(len(screen.mounts))]  # fmt: skip
    wide = max((len(item) for own in sets for item in own), default=0)
    result = np.full((len(rows), wide), -1.0)
    chosen = screen.chosen_weights[screen.train[rows], screen.mount[rows]]
    for k, own in enumerate(sets):
        here = (screen.mount[rows] == k) & (chosen != NONE)
        if not own or not here.any():
            continue
        table = np.array([[*item, *([-1.0] * (wide - len(item)))] for item in own])
        result[here] = table[chosen[here]]
    return [result[:, column] for column in range(wide)]


def _columns(lists: list[list[float]]) -> list[NDArray[np.float64]]:
    wide = max(map(len, lists), default=0)
    padded = np.array([[*item, *([-1.0] * (wide - len(item)))] for item in lists]).reshape(len(lists), wide)
    return [padded[:, column] for column in range(wide)]


def _loose(part: Part | None) -> float:
    """What lies loose counts where it has a mass, kg."""
    grams = part.used("mass_g") if part is not None else None
    return grams / 1000 if grams else -1.0
