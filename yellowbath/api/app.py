"""The application: routes under /api, the page for everything else."""

from __future__ import annotations

from pathlib import Path

from fastapi import APIRouter, FastAPI
from fastapi.responses import FileResponse, HTMLResponse
from fastapi.staticfiles import StaticFiles

from yellowbath import __version__
from yellowbath.api import problems
from yellowbath.api.routes import book, kit, plans, runs, shop, tables
from yellowbath.core.errors import NotFoundError
from yellowbath.workflows.shop import Shop

WEB = Path(__file__).parents[1] / "web_dist"


def make_app(
    the_shop: Shop | None, web: Path = WEB, address: tuple[str, int] = ("127.0.0.1", 0)
) -> FastAPI:
    """An application on a shop; without one it can only describe itself (for the types).

    ``address``: host and port at which it is served, for the code on a bench card.
    """
    app = FastAPI(title="Yellow Bath", version=__version__, docs_url=None, redoc_url=None)
    app.state.shop = the_shop
    app.state.address = address
    problems.install(app)
    api = APIRouter(prefix="/api")
    for feature in (plans, runs, book, shop, kit, tables):
        api.include_router(feature.router)
    app.include_router(api)
    _serve_page(app, web)
    return app


def _serve_page(app: FastAPI, web: Path) -> None:
    if (web / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=web / "assets"))

    @app.get("/api/{rest:path}", include_in_schema=False)
    def no_such_route(rest: str) -> None:
        raise NotFoundError(f"There is nothing at /api/{rest}.")

    @app.get("/{path:path}", include_in_schema=False, response_model=None)
    def page(path: str) -> FileResponse | HTMLResponse:
        page_file = web / "index.html"
        icon = web / "icon.svg"
        if path == "icon.svg" and icon.is_file():
            return FileResponse(icon)
        if not page_file.is_file():
            return HTMLResponse("The page is not built yet: run <code>make build</code>.", 503)
        return FileResponse(page_file, headers={"Cache-Control": "no-cache"})
