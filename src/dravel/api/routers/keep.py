"""Backups, restore, export and import of everything."""

import asyncio
import sqlite3
from contextlib import ExitStack
from datetime import datetime
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, HTTPException, Request
from pydantic import AwareDatetime, Field
from starlette.background import BackgroundTask
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import State
from starlette.responses import FileResponse

from dravel.api.deps import CrewDep, StoreDep
from dravel.api.routers.jobs import ANY_BODY, LOOK_S, received
from dravel.core.model.base import Model
from dravel.store import Store, backups
from dravel.store.scratch import scratch
from dravel.work import keeping
from dravel.work.keeping import TakenIn

router = APIRouter(tags=["keep"])
WAIT_S = 60.0  # how often it is looked whether a backup is due
BackupName = Annotated[str, Field(title="Backup", max_length=200, pattern=r"^[A-Za-z0-9._-]+\.sqlite$")]


class BackupShown(Model):
    """A backup that was found good when it was made."""

    name: str
    made: AwareDatetime
    size: int
    daily: bool


class KeepView(Model):
    """Backups, newest first; `last` is when the last good one was made. `failed`: why the last try came to nothing."""

    backups: tuple[BackupShown, ...]
    last: AwareDatetime | None
    folder: str
    data: str
    size: int
    failed: str


class RestoreAsked(Model):
    """Which backup is to come back."""

    name: BackupName


@router.get("/keep")
def read_keep(store: StoreDep, request: Request) -> KeepView:
    """The backups there are."""
    return _view(store, _folder(store), getattr(request.app.state, "backup_failed", ""))


@router.post("/keep/backup")
def make_backup(store: StoreDep, request: Request) -> KeepView:
    """Back everything up now."""
    try:
        backups.backup(store.database.path, _folder(store), datetime.now())
    except (OSError, sqlite3.Error, backups.BadBackup) as error:
        raise HTTPException(507, f"no backup was made: {error}; the data are as they were") from None
    request.app.state.backup_failed = ""
    return _view(store, _folder(store), "")


@router.post("/keep/restore")
def restore(given: RestoreAsked, store: StoreDep) -> KeepView:
    """Put a backup in the place of the data; what is there now is backed up first."""
    folder = _folder(store)
    named = next(
        (backup for backup in backups.backups(folder, store.database.path.stem) if backup.path.name == given.name), None
    )
    if named is None:
        raise HTTPException(404, f"name: there is no backup {given.name}")
    try:
        backups.restore(store.database, named.path, folder, datetime.now())
    except (OSError, sqlite3.Error, backups.BadBackup) as error:
        raise HTTPException(422, f"not restored: {error}; the data are as they were") from None
    return _view(store, folder, "")


@router.get("/keep/backups/{name}", response_class=FileResponse)
def fetch_backup(name: str, store: StoreDep) -> FileResponse:
    """A backup as a file, to be kept elsewhere."""
    named = next(
        (backup for backup in backups.backups(_folder(store), store.database.path.stem) if backup.path.name == name),
        None,
    )
    if named is None:
        raise HTTPException(404, f"name: there is no backup {name[:80]}")
    return FileResponse(named.path, media_type="application/vnd.sqlite3", filename=named.path.name)


@router.get("/keep/export", response_class=FileResponse)
def export(store: StoreDep) -> FileResponse:
    """Everything in one archive of open formats."""
    stack = ExitStack()
    made = stack.enter_context(scratch(store.database.path.parent, "export")) / "everything.zip"
    try:
        keeping.export(store, made)
    except BaseException as error:
        stack.close()
        if isinstance(error, OSError):
            raise HTTPException(507, f"not exported: {error.strerror or error}") from None
        raise
    return FileResponse(
        made, media_type="application/zip", filename=f"dravel-{datetime.now():%Y-%m-%d}.zip",
        background=BackgroundTask(stack.close),
    )  # fmt: skip


@router.post("/keep/import", openapi_extra=ANY_BODY)
async def take_in(request: Request, store: StoreDep, workers: CrewDep) -> TakenIn:
    """Take in what an archive holds and is not here; nothing that is here is changed. The archive is the body. It is read as a
    job, which is waited for; whoever wants to watch it asks for the job itself.
    """
    job = await received("archive", request, workers, True)
    try:
        while not (now := await run_in_threadpool(store.jobs.get, job.id)).ended:
            await asyncio.sleep(LOOK_S)
    except asyncio.CancelledError:
        store.jobs.ask_to_stop(job.id)
        raise
    if now.state != "done" or now.result is None:
        raise HTTPException(422, now.words if now.words.startswith("archive:") else f"archive: {now.words}")
    return TakenIn.model_validate(now.result)


async def daily(store: Store, state: State) -> None:
    """Make the day's backup when one is due; what goes wrong is told on the page and tried again."""
    while True:
        await asyncio.sleep(WAIT_S)
        try:
            await run_in_threadpool(backups.keep_daily, store.database.path, _folder(store), datetime.now())
            state.backup_failed = ""
        except (OSError, sqlite3.Error, RuntimeError) as error:
            state.backup_failed = str(error)


def _folder(store: Store) -> Path:
    return backups.folder_of(store.database.path)


def _view(store: Store, folder: Path, failed: str) -> KeepView:
    path = store.database.path
    result = backups.backups(folder, path.stem)
    return KeepView(
        backups=tuple(
            BackupShown(name=item.path.name, made=item.made.astimezone(), size=item.size, daily=item.daily) for item in result
        ),
        last=result[0].made.astimezone() if result else None, folder=str(folder), data=str(path),
        size=path.stat().st_size if path.exists() else 0, failed=failed,
    )  # fmt: skip
