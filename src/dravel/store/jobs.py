"""Long work in the database, so that whoever does it and whoever watches it need not be the same process."""

import json
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Literal, get_args

from sqlalchemy import select, update

from dravel.store.database import Database
from dravel.store.rigs import Unknown
from dravel.store.tables import JobRow

State = Literal["waiting", "running", "done", "failed", "stopped"]
UNDER_WAY: tuple[State, ...] = get_args(State)[:2]
MOST_LISTED = 20


@dataclass(frozen=True)
class Job:
    """Work asked for. `words` say what it is at, or why it failed; `result` is there once it is done."""

    id: str
    kind: str
    given: dict[str, Any]
    state: State
    done: int
    total: int
    words: str
    result: dict[str, Any] | None
    stop: bool
    made_at: str

    @property
    def ended(self) -> bool:
        """Whether nothing more will come of it."""
        return self.state not in UNDER_WAY


class JobStore:
    """Jobs in the database. A state that ends is never left again."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(self, kind: str, given: dict[str, Any], job_id: str | None = None) -> Job:
        """A new job, waiting."""
        with self._database.write() as session:
            row = JobRow(
                id=job_id or secrets.token_hex(8), kind=kind, given=json.dumps(given), state="waiting", done=0, total=0,
                words="", result=None, stop=False, made_at=datetime.now(UTC).isoformat(timespec="seconds"),
            )  # fmt: skip
            session.add(row)
            session.flush()
            return _job(row)

    def get(self, job_id: str) -> Job:
        """One job. Raises `Unknown`."""
        with self._database.read() as session:
            row = session.get(JobRow, job_id)
            if row is None:
                raise Unknown("job", job_id)
            return _job(row)

    def latest(self) -> list[Job]:
        """The newest, newest first."""
        with self._database.read() as session:
            rows = select(JobRow).order_by(JobRow.made_at.desc(), JobRow.id).limit(MOST_LISTED)
            return [_job(row) for row in session.scalars(rows)]

    def tell(self, job_id: str, done: int, total: int, words: str) -> None:
        """How far it is; it runs from the first telling on. Nothing where it has ended."""
        self._change(job_id, state="running", done=done, total=total, words=words)

    def end(self, job_id: str, state: State, words: str = "", result: dict[str, Any] | None = None) -> None:
        """How it ended. Nothing where it has ended already."""
        self._change(job_id, state=state, words=words, result=None if result is None else json.dumps(result))

    def ask_to_stop(self, job_id: str) -> Job:
        """Ask that it stops; one that ended stays as it is. Raises `Unknown`."""
        self.get(job_id)
        self._change(job_id, stop=True)
        return self.get(job_id)

    def under_way(self) -> list[Job]:
        """All that have not ended."""
        with self._database.read() as session:
            return [_job(row) for row in session.scalars(select(JobRow).where(JobRow.state.in_(UNDER_WAY)))]

    def give_up(self, job_id: str) -> None:
        """Nobody is left to do it: its server has ended."""
        self.end(job_id, "failed", "Dravel stopped before this was done; nothing of it was saved")

    def _change(self, job_id: str, **values: Any) -> None:
        with self._database.write() as session:
            session.execute(update(JobRow).where(JobRow.id == job_id, JobRow.state.in_(UNDER_WAY)).values(**values))


def _job(row: JobRow) -> Job:
    held = None if row.result is None else json.loads(row.result)
    given: Any = row.state
    return Job(
        row.id, row.kind, json.loads(row.given), given, row.done, row.total, row.words, held, row.stop, row.made_at
    )  # fmt: skip
