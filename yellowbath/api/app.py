"""The application: routes under /api, the page for everything else."""

from __future__ import annotations

from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from functools import cache
from pathlib import Path

import anyio.to_thread
from fastapi import APIRouter, FastAPI
from fastapi.middleware.gzip import GZipMiddleware

from yellowbath import __version__
from yellowbath.api import problems
from yellowbath.api.gate import Gate
from yellowbath.api.page import serve_page
from yellowbath.api.routes import (
    book,
    causes,
    kit,
    listening,
    plans,
    practice,
    runs,
    session,
    shop,
    tables,
    words,
)
from yellowbath.api.session import Sessions
from yellowbath.workflows.line.links import Links
from yellowbath.workflows.mesh.mesh_worker import MeshWorker
from yellowbath.workflows.practice.practice import Practices
from yellowbath.workflows.shop.shop import Shop

_THREADS = 200  # a hundred and twenty may wait for a solve, and bar nobody else
_PACKS = 5  # of 9: an entry's answer in two milliseconds
# told line by line as it comes, and what is packed already
_UNPACKED = ("text/event-stream", "application/x-ndjson", "application/pdf", "image/*", "font/*")
WEB = Path(__file__).parents[1] / "web_dist"


def make_app(
    the_shop: Shop | None,
    web: Path = WEB,
    address: tuple[str, int] = ("127.0.0.1", 0),
    names: Sequence[str] = (),
    sessions: Sessions | None = None,
) -> FastAPI:
    """An application on a shop; without one it can only describe itself (for the types).

    ``address``: host and port at which it is served, for the code on a bench card; ``names``: host
    names by which it may be asked for; ``sessions`` asks for a passcode.
    """
    app = FastAPI(
        title="Yellow Bath", version=__version__, docs_url=None, redoc_url=None, lifespan=_closing
    )
    app.state.shop = the_shop
    app.state.address = address
    app.state.sessions = sessions
    app.state.meshes = MeshWorker()
    app.state.links = None if the_shop is None else Links(the_shop)
    app.state.practices = None if the_shop is None else Practices(the_shop.solver)
    problems.install(app)
    app.add_middleware(GZipMiddleware, compresslevel=_PACKS, exclude_content_types=_UNPACKED)
    app.add_middleware(Gate, api=app, names=names, sessions=sessions)
    app.router.routes.extend(_api().routes)
    serve_page(app, web)
    return app


@cache
def _api() -> APIRouter:
    """Every route of the API; put together once, whatever applications it is part of."""
    api = APIRouter(prefix="/api", responses=problems.DECLARED)
    for feature in (
        plans,
        runs,
        causes,
        listening,
        practice,
        book,
        shop,
        kit,
        tables,
        session,
        words,
    ):
        api.include_router(feature.router)
    return api


@asynccontextmanager
async def _closing(app: FastAPI) -> AsyncIterator[None]:
    """Threads for all that may wait; at the end the processes that the application started."""
    anyio.to_thread.current_default_thread_limiter().total_tokens = _THREADS
    yield
    app.state.meshes.close()
    if app.state.links is not None:
        app.state.links.close()
        app.state.practices.close()
