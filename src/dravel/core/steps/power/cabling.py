"""Which cable carries what: a tree from the supply to the consumers, and what is lost on the way to each end.

A cable that is not said to feed anything by name carries all that no other cable feeds, when it is the first such at
the supply; a second such cable is not judged, since nobody said what hangs on it.
"""

from dataclasses import dataclass

from dravel.core.model import Cable, CableRun, Rig
from dravel.core.physics import energy
from dravel.core.train.layout import part_key


@dataclass(frozen=True)
class Carrying:
    """A power cable in the tree: the cables from the supply to its end, itself last, and what it carries at worst, W.

    `feeds` are the names of what hangs on it directly; `peak_w` is None where nobody said what it feeds.
    """

    cable: Cable
    behind: tuple[Cable, ...]
    feeds: tuple[str, ...]
    peak_w: float | None

    @property
    def way(self) -> tuple[Cable, ...]:
        """From the supply to its far end."""
        return (*self.behind, self.cable)


def run_of(rig: Rig, cable: Cable) -> CableRun | None:
    """Where a cable is said to lie; None where nobody said."""
    return next((run for run in rig.supply.runs if run.cable == part_key(cable)), None)


def carried(rig: Rig, draws: tuple[energy.Draw, ...]) -> tuple[Carrying, ...]:
    """The rig's power cables in the order they are listed, each with what it carries."""
    cables = [cable for cable in rig.supply.cables if cable.carries == "power"]
    by_key = {part_key(cable): cable for cable in cables}
    runs = {key: run_of(rig, cable) for key, cable in by_key.items()}
    fed = {key: [draw for draw in draws if run and draw.key in run.feeds] for key, run in runs.items()}
    trunk = next((key for key in by_key if _is_trunk(runs[key])), None)
    if trunk is not None:
        elsewhere = {item.key for ones in fed.values() for item in ones}
        fed[trunk] = [draw for draw in draws if draw.key not in elsewhere]
    behind = {key: _ahead(key, runs, by_key) for key in by_key}
    lines = []
    for key, cable in by_key.items():
        # A cable carries what hangs on it and on every cable that is plugged in behind it.
        on_it = [item for other in by_key if key in (other, *behind[other]) for item in fed[other]]
        known = bool(fed[key]) or key == trunk or any(key in behind[other] for other in by_key)
        lines.append(
            Carrying(
                cable,
                tuple(by_key[other] for other in behind[key]),
                tuple(item.name for item in fed[key]),
                sum(item.peak_w for item in on_it) if known else None,
            )
        )
    return tuple(lines)


def _is_trunk(run: CableRun | None) -> bool:
    return run is None or (run.behind is None and not run.feeds)


def _ahead(key: str, runs: dict[str, CableRun | None], by_key: dict[str, Cable]) -> tuple[str, ...]:
    """The cables between the supply and a cable, nearest the supply first; a ring of cables is cut where it closes."""
    results: list[str] = []
    run = runs[key]
    while run is not None and run.behind in by_key and run.behind not in (key, *results):
        results.insert(0, run.behind)
        run = runs[run.behind]
    return tuple(results)


def lost_v(way: tuple[Cable, ...], carrying: tuple[Carrying, ...], volts: float) -> float | None:
    """Voltage lost from the supply to the end of a way, V; None when a conductor or a load on it is not known."""
    total = 0.0
    for cable in way:
        peak = next((item.peak_w for item in carrying if item.cable is cable), None)
        lost = energy.voltage_drop_v(cable, peak / volts) if peak is not None else None
        if lost is None:
            return None
        total += lost
    return total
