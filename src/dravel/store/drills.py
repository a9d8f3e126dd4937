"""Answers of the fault trainer in the database: what was hidden, what was said of it."""

from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select

from dravel.store.database import Database
from dravel.store.tables import DrillRow


@dataclass(frozen=True)
class DrillKept:
    """An answer: hidden and said faults by their keys, and how many measurements were asked for."""

    hidden: tuple[str, ...]
    said: tuple[str, ...]
    asked: int


class DrillStore:
    """Answers, in the order they were given."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(self, one: DrillKept) -> None:
        """Keep an answer."""
        with self._database.write() as session:
            session.add(
                DrillRow(
                    at=datetime.now(UTC).isoformat(timespec="seconds"), hidden=",".join(sorted(one.hidden)),
                    said=",".join(sorted(one.said)), asked=one.asked,
                )
            )  # fmt: skip

    def all(self) -> list[DrillKept]:
        """Every answer, the newest last."""
        with self._database.read() as session:
            rows = session.scalars(select(DrillRow).order_by(DrillRow.id)).all()
            return [DrillKept(_parts(row.hidden), _parts(row.said), row.asked) for row in rows]


def _parts(text: str) -> tuple[str, ...]:
    return tuple(item for item in text.split(",") if item)
