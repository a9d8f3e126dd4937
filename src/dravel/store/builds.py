"""Builds in the database: ticks of cards from any device, each kept once, and what cards took in the last builds."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from statistics import median

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from dravel.store.database import Database
from dravel.store.rigs import Unknown
from dravel.store.tables import RigRow, TickRow

LAST = 3  # builds whose minutes count
# What took longer was a pause, what was quicker a tick set afterwards. Dravel's own.
LONGEST_MIN, SHORTEST_MIN = 30.0, 0.05


@dataclass(frozen=True)
class Tick:
    """A card that was done, or not after all, at a time (UTC) on a device. `id` is the device's own, so that what is
    delivered twice counts once.
    """

    id: str
    build: int
    card: str
    done: bool
    at: datetime
    device: str


class BuildStore:
    """Ticks by rig and build. The newest tick of a card counts; nothing is dropped."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def current(self, rig_id: str) -> int:
        """The build that is under way, the first where none was begun. Raises `Unknown` without such a rig."""
        with self._database.read() as session:
            _known(session, rig_id)
            return _newest(session, rig_id)

    def ticks(self, rig_id: str, build: int | None = None) -> list[Tick]:
        """Ticks of a build (the one under way when none is named), oldest first. Raises `Unknown`."""
        with self._database.read() as session:
            _known(session, rig_id)
            number = _newest(session, rig_id) if build is None else build
            asked = select(TickRow).where(TickRow.rig_id == rig_id, TickRow.build == number, TickRow.card != "")
            rows = session.scalars(asked.order_by(TickRow.at, TickRow.position)).all()
            return [_tick(row) for row in rows]

    def add(self, rig_id: str, ticks: Iterable[Tick]) -> None:
        """Keep ticks; those that are there already by their id are left as they are. Raises `Unknown`."""
        with self._database.write() as session:
            _known(session, rig_id)
            last = session.scalar(select(func.max(TickRow.position))) or 0
            for place, item in enumerate(ticks, last + 1):
                if session.get(TickRow, item.id) is None:
                    session.add(_row(rig_id, item, place))
                    session.flush()

    def begin(self, rig_id: str, tick_id: str, at: datetime) -> int:
        """Begin the next build; the same beginning delivered twice begins one. Raises `Unknown`."""
        with self._database.write() as session:
            _known(session, rig_id)
            if (there := session.get(TickRow, tick_id)) is not None:
                return there.build
            number = _newest(session, rig_id) + 1
            last = session.scalar(select(func.max(TickRow.position))) or 0
            session.add(_row(rig_id, Tick(tick_id, number, "", True, at, ""), last + 1))
            return number

    def done_before(self, rig_id: str) -> set[str]:
        """The cards that any build before the one under way has ticked. Raises `Unknown`."""
        with self._database.read() as session:
            _known(session, rig_id)
            newest = _newest(session, rig_id)
            asked = select(TickRow.card).where(TickRow.rig_id == rig_id, TickRow.build < newest, TickRow.done.is_(True))
            return set(session.scalars(asked.distinct()).all()) - {""}

    def minutes(self, rig_id: str) -> dict[str, float]:
        """Minutes that cards took, the median of the last builds, by key. Raises `Unknown`."""
        taken: dict[str, list[float]] = defaultdict(list)
        newest = self.current(rig_id)
        for build in range(max(1, newest - LAST + 1), newest + 1):
            done = [tick for tick in self.ticks(rig_id, build) if tick.done]
            for before, tick in pairwise(done):
                minutes = (tick.at - before.at).total_seconds() / 60
                if SHORTEST_MIN <= minutes <= LONGEST_MIN:
                    taken[tick.card].append(minutes)
        return {card: round(median(values), 2) for card, values in taken.items()}


def _known(session: Session, rig_id: str) -> None:
    if session.get(RigRow, rig_id) is None:
        raise Unknown("rig", rig_id)


def _newest(session: Session, rig_id: str) -> int:
    return session.scalar(select(func.max(TickRow.build)).where(TickRow.rig_id == rig_id)) or 1


def _row(rig_id: str, one: Tick, position: int) -> TickRow:
    return TickRow(
        id=one.id, rig_id=rig_id, build=one.build, card=one.card, done=one.done, at=one.at.isoformat(),
        device=one.device, position=position,
    )  # fmt: skip


def _tick(row: TickRow) -> Tick:
    return Tick(row.id, row.build, row.card, row.done, datetime.fromisoformat(row.at), row.device)
