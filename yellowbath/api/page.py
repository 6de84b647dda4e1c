"""The built page: files that are named by their content, kept for good and packed beforehand."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse, HTMLResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.types import Scope

from yellowbath.core.errors import NotFoundError

_BESIDE = ("icon.svg", "first.js")
_PACKED = (("br", ".br"), ("gzip", ".gz"))  # made with the page, the smaller first
_FOR_GOOD = "public, max-age=31536000, immutable"


class _Assets(StaticFiles):
    async def get_response(self, path: str, scope: Scope) -> Response:
        asked = Headers(scope=scope).get("accept-encoding", "")
        response = await self._packed(path, scope, asked)
        response.headers["Cache-Control"] = _FOR_GOOD
        response.headers.add_vary_header("Accept-Encoding")
        return response

    async def _packed(self, path: str, scope: Scope, asked: str) -> Response:
        for coding, end in _PACKED:
            if not takes(asked, coding):
                continue
            try:
                response = await super().get_response(path + end, scope)
            except HTTPException:
                continue
            response.headers["Content-Encoding"] = coding
            return response
        return await super().get_response(path, scope)


def takes(asked: str, coding: str) -> bool:
    """Whether an ``Accept-Encoding`` takes a coding by its name.

    >>> takes("gzip, deflate, br", "br"), takes("gzip;q=1, br;q=0", "br"), takes("", "gzip")
    (True, False, False)
    """
    for part in asked.split(","):
        name, _, weight = part.partition(";")
        if name.strip().lower() == coding:
            return weight.lower().replace(" ", "").rstrip("0.") != "q="
    return False


def serve_page(app: FastAPI, web: Path) -> None:
    """The page's files, and the page itself for every other path."""
    if (web / "assets").is_dir():
        app.mount("/assets", _Assets(directory=web / "assets"))

    @app.get("/api/{rest:path}", include_in_schema=False)
    def no_such_route(rest: str) -> None:
        raise NotFoundError(f"There is nothing at /api/{rest}.")

    @app.get("/{path:path}", include_in_schema=False, response_model=None)
    def page(path: str, v: str = "") -> FileResponse | HTMLResponse:
        page_file = web / "index.html"
        beside = web / path
        if path in _BESIDE and beside.is_file():
            kept = {"Cache-Control": _FOR_GOOD} if v else {}  # asked for by what it holds
            return FileResponse(beside, headers=kept)
        if not page_file.is_file():
            return HTMLResponse("The page is not built yet: run <code>make build</code>.", 503)
        return FileResponse(page_file, headers={"Cache-Control": "no-cache"})
