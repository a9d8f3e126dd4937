"""Pictures of sessions, and documents of parts: kept, listed, shown, put away."""

import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Annotated, Literal

from fastapi import APIRouter, HTTPException, Query, Request
from starlette.concurrency import run_in_threadpool
from starlette.requests import ClientDisconnect
from starlette.responses import StreamingResponse

from dravel.api.deps import StoreDep
from dravel.api.files import named
from dravel.core.model.base import Identifier, Model, YesNo
from dravel.formats.pictures import NotAPicture, document_kind
from dravel.store import Paper, Store
from dravel.store.scratch import scratch
from dravel.work.picture import shrunk_apart

router = APIRouter(tags=["log"])
LARGEST_PAPER = 20_000_000
PIECE = 1_000_000  # of a paper that is sent
ANY_BODY = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}
FileName = Annotated[str, Query(max_length=200)]
_ONE = threading.Lock()  # one is kept at a time: its bytes lie in memory some times over


class PaperShown(Model):
    """A picture of a session, or a document of a part."""

    id: str
    name: str
    media: str
    size: int


class PaperAway(Model):
    """Whether a picture or document is put away."""

    away: YesNo = True


@router.post("/papers/of/{kind}/{of_id}", status_code=201, openapi_extra=ANY_BODY)
async def keep_paper(
    kind: Literal["session", "part"], of_id: Identifier, request: Request, store: StoreDep, name: FileName = ""
) -> PaperShown:  # fmt: skip
    """Keep a picture of a session (JPEG or PNG: made small, its metadata left out) or a document of a part (PDF or PNG, up
    to 20 MB), given as it is in the body.
    """
    with scratch(store.database.path.parent, "paper") as folder:
        given = folder / "given"
        try:
            with given.open("xb") as held:
                async for piece in request.stream():
                    await run_in_threadpool(held.write, piece)
        except ClientDisconnect:
            raise HTTPException(400, "the upload was incomplete; nothing was saved") from None
        except OSError as error:
            raise HTTPException(
                507, f"the file cannot be put on the disk: {error.strerror}. Nothing was saved"
            ) from None
        return await run_in_threadpool(_kept, store, kind, of_id, given, name.strip())


def _kept(store: Store, kind: Literal["session", "part"], of_id: str, given: Path, name: str) -> PaperShown:
    if (size := given.stat().st_size) > LARGEST_PAPER:
        raise HTTPException(
            413, f"{name or 'file'}: at most {LARGEST_PAPER // 1_000_000} MB allowed, not {size:,} bytes"
        )
    try:
        with _ONE:
            body = shrunk_apart(given) if kind == "session" else given.read_bytes()
            media = "image/jpeg" if kind == "session" else document_kind(body)
            called = name or ("picture" if kind == "session" else "document")
            return paper_shown(store.papers.add(kind, of_id, called, media, body))
    except NotAPicture as error:
        raise HTTPException(422, f"{name or 'file'}: {error}") from None


@router.get("/papers/of/{kind}/{of_id}")
def list_papers(kind: Literal["session", "part"], of_id: Identifier, store: StoreDep) -> list[PaperShown]:
    """The pictures of a session, or the documents of a part."""
    return [paper_shown(item) for item in store.papers.of(kind, [of_id])]


@router.get(
    "/papers/{paper_id}",
    response_class=StreamingResponse,
    responses={200: {"content": {kind: {} for kind in ("image/jpeg", "image/png", "application/pdf")}}},
)
def read_paper(paper_id: Identifier, store: StoreDep) -> StreamingResponse:
    """A picture or document itself; a document is saved, never shown inside the page."""
    paper = store.papers.get(paper_id)

    def pieces() -> Iterator[bytes]:
        for start in range(0, paper.size, PIECE):
            yield store.papers.piece(paper_id, start, PIECE)

    shown: Literal["inline", "attachment"] = "inline" if paper.media == "image/jpeg" else "attachment"
    headers = {
        **named(_with_end(paper), shown=shown), "cache-control": "max-age=31536000", "content-length": str(paper.size),
        "content-encoding": "identity",  # packed already: packing it again would only hold it in memory
    }  # fmt: skip
    return StreamingResponse(pieces(), media_type=paper.media, headers=headers)


@router.put("/papers/{paper_id}/away", status_code=204)
def put_paper_away(paper_id: Identifier, given: PaperAway, store: StoreDep) -> None:
    """Put a picture or document away, or bring it back."""
    store.papers.put_away(paper_id, away=given.away)


def _with_end(paper: Paper) -> str:
    """The name of a paper as it was typed, with the end that its kind has."""
    ends = {"image/jpeg": (".jpg", ".jpeg"), "image/png": (".png",)}.get(paper.media, (".pdf",))
    return paper.name if paper.name.lower().endswith(ends) else f"{paper.name}{ends[0]}"


def paper_shown(one: Paper) -> PaperShown:
    """A paper without its bytes."""
    return PaperShown(id=one.id, name=one.name, media=one.media, size=one.size)
