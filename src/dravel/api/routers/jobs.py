"""Long work: files too large to read while somebody waits are taken in as jobs, watched and stopped."""

import asyncio
import secrets
from collections.abc import AsyncIterator
from typing import Annotated, Literal

from fastapi import APIRouter, HTTPException, Query, Request
from starlette.concurrency import run_in_threadpool
from starlette.requests import ClientDisconnect
from starlette.responses import StreamingResponse

from dravel.api.deps import CrewDep, StoreDep
from dravel.core.model.base import Identifier, Model
from dravel.formats.reports import CsvReport
from dravel.store import Job
from dravel.store.jobs import State
from dravel.work.keeping import TakenIn
from dravel.work.workers import Workers

router = APIRouter(prefix="/jobs", tags=["jobs"])
LOOK_S = 0.2
STILL_THERE_S = 15.0  # a line now and then, so that a connection that is gone is noticed


class JobTold(Model):
    """A job: how far it is (`total` 0 where that cannot be said), what it is at or why it failed, and what came of it."""

    id: str
    kind: str
    state: State
    done: int
    total: int
    words: str
    stop: bool
    made_at: str
    report: CsvReport | None = None
    taken: TakenIn | None = None
    frame: str = ""


FrameName = Annotated[str, Query(title="Name of the file", max_length=200)]
ANY_BODY = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}


@router.post("/archive", status_code=202, openapi_extra=ANY_BODY)
async def take_archive_in(request: Request, workers: CrewDep) -> JobTold:
    """Take in what an archive of everything holds and is not here, all or nothing. The body goes to disk as it comes."""
    return _told(await received("archive", request, workers, True))


@router.post("/{kind}", status_code=202, openapi_extra=ANY_BODY)
async def ask_for(kind: Literal["targets", "parts"], request: Request, workers: CrewDep, keep: bool = False) -> JobTold:
    """Take in a file of targets or parts, of up to 50 MB; without `keep` it only reports. The body goes to disk as it comes."""
    return _told(await received(kind, request, workers, keep))


@router.post("/frame/of/{rig_id}", status_code=202, openapi_extra=ANY_BODY)
async def measure_frame(
    rig_id: Identifier, request: Request, workers: CrewDep, store: StoreDep, name: FrameName = "frame"
) -> JobTold:
    """Measure a light frame in FITS that a rig took, of up to 450 MB; what was measured is kept, the frame is not."""
    await run_in_threadpool(store.rigs.get, rig_id)
    return _told(await received("frame", request, workers, True, rig=rig_id, name=name))


async def received(kind: str, request: Request, workers: Workers, keep: bool, **more: str) -> Job:
    """Take a body to disk and have a job done over it."""
    path = await run_in_threadpool(workers.room_for, secrets.token_hex(8))
    try:
        with path.open("xb") as held:
            async for piece in request.stream():
                await run_in_threadpool(held.write, piece)
        job = await run_in_threadpool(lambda: workers.ask(kind, path, keep, **more))
    except BaseException as error:
        path.unlink(missing_ok=True)
        if isinstance(error, ClientDisconnect):
            raise HTTPException(400, "the file did not come whole; nothing was read") from None
        if isinstance(error, OSError):
            raise HTTPException(
                507, f"the file cannot be put on the disk: {error.strerror}. Nothing was read"
            ) from None
        raise
    workers.take(job)
    return job


@router.get("")
def list_jobs(store: StoreDep) -> list[JobTold]:
    """The newest jobs, newest first."""
    return [_told(job) for job in store.jobs.latest()]


@router.get("/{job_id}")
def read_job(job_id: str, store: StoreDep) -> JobTold:
    """One job."""
    return _told(store.jobs.get(job_id))


@router.post("/{job_id}/stop")
def stop_job(job_id: str, store: StoreDep) -> JobTold:
    """Stop a job; what it would have kept is not kept. One that has ended stays as it is."""
    return _told(store.jobs.ask_to_stop(job_id))


@router.get("/{job_id}/events", response_class=StreamingResponse,
            responses={200: {"content": {"text/event-stream": {"schema": {"type": "string"}}}}})  # fmt: skip
def watch_job(job_id: str, store: StoreDep) -> StreamingResponse:
    """A job as server-sent events: one whenever something changed, the last when it has ended."""
    store.jobs.get(job_id)

    async def events() -> AsyncIterator[str]:
        last, still = "", 0.0
        while True:
            job = await run_in_threadpool(store.jobs.get, job_id)
            now = _told(job).model_dump_json()
            if now != last:
                last, still = now, 0.0
                yield f"data: {now}\n\n"
            if job.ended:
                return
            await asyncio.sleep(LOOK_S)
            still += LOOK_S
            if still >= STILL_THERE_S:
                still = 0.0
                yield ": still there\n\n"

    return StreamingResponse(events(), media_type="text/event-stream")


def _told(job: Job) -> JobTold:
    made = job.result or {}
    held = CsvReport.model_validate(made) if "faults" in made else None
    taken = TakenIn.model_validate(made) if "differ" in made else None
    return JobTold(
        id=job.id, kind=job.kind, state=job.state, done=job.done, total=job.total, words=job.words, stop=job.stop,
        made_at=job.made_at, report=held, taken=taken, frame=str(made.get("frame", "")),
    )  # fmt: skip
