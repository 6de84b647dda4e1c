"""Errors as problem documents (RFC 9457): what is wrong, what is allowed, how to mend it."""

from __future__ import annotations

import logging
from collections.abc import Callable, Mapping
from typing import Any, cast

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import DBAPIError
from starlette.exceptions import HTTPException

from yellowbath.api.gate import RefusalError
from yellowbath.core import errors
from yellowbath.core.words import word
from yellowbath.workflows.shop.faults import fault_of

_log = logging.getLogger(__name__)

_STATUS: Mapping[type[errors.YellowBathError], int] = {
    errors.NotFoundError: 404,
    errors.StepRefusedError: 409,
    errors.SupersededError: 409,
    errors.StopsInForceError: 409,
    errors.StaleRevisionError: 409,
    errors.KnownKeyError: 409,
    errors.NoAnswerError: 422,
    errors.NoConvergenceError: 422,
    errors.InputError: 422,
    errors.CrowdedError: 503,
    errors.InstrumentError: 424,
    errors.StoreFullError: 507,
    errors.StoreReadOnlyError: 503,
    errors.StoreBusyError: 503,
    errors.StoreError: 500,
}


class Fault(BaseModel):
    pointer: str
    message: str


class Problem(BaseModel):
    """application/problem+json"""

    type: str
    title: str
    status: int
    detail: str
    allowed: str = ""
    remedy: str = ""
    faults: list[Fault] = []
    data: dict[str, object] = {}


# What any request may be answered with, and when.
_WHEN = {
    400: "The request cannot be read at all.", 401: "The shop asks for its passcode.",
    403: "It comes from another page.", 404: "There is no such thing.",
    405: "That is not done there.",
    409: "It meets what is there already: a step, a stop, a later save, a newer request.",
    413: "It is more than is taken at once.", 415: "A body of that kind is not taken.",
    421: "The shop does not go by that name.", 422: "It cannot be used as it is.",
    429: "Too often.", 500: "Something broke in Yellow Bath itself.",
    424: "What hangs on the line does not answer as it should.",
    503: "Not now: the store is busy, or too much is asked at once.", 507: "The disk is full.",
}  # fmt: skip
_SCHEMA = {"schema": {"$ref": "#/components/schemas/Problem"}}
DECLARED: dict[int | str, dict[str, Any]] = {
    status: {"description": when, "content": {"application/problem+json": _SCHEMA}}
    for status, when in _WHEN.items()
}


def _described(app: FastAPI) -> Callable[[], dict[str, Any]]:
    """The API's description, in which what any request may be answered with stands once."""
    describe = app.openapi

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            made = describe()
            shared = made["components"].setdefault("responses", {})
            for operation in (o for path in made["paths"].values() for o in path.values()):
                for status, response in operation["responses"].items():
                    if response == DECLARED.get(int(status)):
                        shared[f"Problem{status}"] = response
                        name = {"$ref": f"#/components/responses/Problem{status}"}
                        operation["responses"][status] = name
            made["components"]["schemas"]["Problem"] = Problem.model_json_schema(
                ref_template="#/components/schemas/{model}"
            )
            made["components"]["schemas"] |= made["components"]["schemas"]["Problem"].pop("$defs")
        return app.openapi_schema or {}

    return openapi


def install(app: FastAPI) -> None:
    """Turn our errors and malformed requests into problem documents."""
    app.openapi = _described(app)  # type: ignore[method-assign]
    app.add_exception_handler(errors.YellowBathError, _ours)
    app.add_exception_handler(RequestValidationError, _malformed)
    app.add_exception_handler(RefusalError, _refused)
    app.add_exception_handler(HTTPException, _by_the_framework)
    app.add_exception_handler(DBAPIError, _of_the_store)
    app.add_exception_handler(Exception, _broken)


async def _ours(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, errors.YellowBathError)
    status = next((s for kind, s in _STATUS.items() if isinstance(error, kind)), 500)
    return _answer(problem_of(error, status))


async def _of_the_store(request: Request, error: Exception) -> JSONResponse:
    found = fault_of(error)
    return await (_broken(request, error) if found is None else _ours(request, found))


async def _broken(request: Request, error: Exception) -> JSONResponse:
    """A fault of ours: said to be one, and written into the log where it is not anyway."""
    _log.error("%s %s broke", request.method, request.url.path, exc_info=error)
    return _answer(
        Problem(
            type="urn:yellowbath:broken",
            title="Something broke in Yellow Bath itself.",
            status=500,
            detail="Something broke in Yellow Bath itself. What was typed is not lost by it.",
            remedy="Try once more, or undo the last change. The log where it runs says more.",
        )
    )


def problem_of(error: errors.YellowBathError, status: int) -> Problem:
    """One of our errors as a problem document."""
    data = dict(error.data())
    faults = cast("list[dict[str, str]]", data.pop("faults", []))
    return Problem.model_validate(
        {
            "type": f"urn:yellowbath:{error.slug}",
            "title": shortened(error.problem, _DETAIL),
            "status": status,
            "detail": shortened(str(error), _DETAIL),
            "allowed": shortened(error.allowed, _DETAIL),
            "remedy": shortened(error.remedy, _DETAIL),
            "faults": [_short(f["pointer"], f["message"]) for f in faults[:_FAULTS]],
            "data": data,
        }
    )


def _short(pointer: str, message: str) -> Fault:
    """A fault as long as anybody reads, whatever was sent."""
    return Fault(pointer=shortened(pointer, 200), message=shortened(message, 400))


def shortened(text: str, most: int) -> str:
    """A text, or its beginning."""
    return text if len(text) <= most else f"{text[: most - 2]} …"


_FAULTS = 50  # told of one document
_DETAIL = 2000


async def _refused(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RefusalError)
    return JSONResponse(
        error.problem(), error.status_code, error.headers, media_type="application/problem+json"
    )


async def _by_the_framework(_request: Request, error: Exception) -> JSONResponse:
    """What the framework itself refuses: a body that is no JSON, a method that is none here."""
    assert isinstance(error, HTTPException)
    when = _WHEN.get(error.status_code, "That cannot be done.")
    return JSONResponse(
        Problem(
            type=f"urn:yellowbath:{error.status_code}",
            title=when,
            status=error.status_code,
            detail=f"{when} {shortened(str(error.detail), 200)}.",
            remedy="Send it as the API's description has it.",
        ).model_dump(mode="json"),
        error.status_code,
        error.headers,
        media_type="application/problem+json",
    )


async def _malformed(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    told = error.errors()[:_FAULTS]
    faults = [_short("/" + "/".join(map(str, e["loc"])), _message(e)) for e in told]
    dangerous = next((m for e in told if (m := _too_much(e))), "")
    return _answer(
        Problem(
            type="urn:yellowbath:malformed",
            title=dangerous or "The request does not fit.",
            status=422,
            detail=dangerous or "; ".join(f"{f.pointer}: {f.message}" for f in faults[:3]),
            faults=faults,
        )
    )


_READ = {"current_a": "A", "before_a": "A", "after_a": "A", "supply_v": "V", "tank_v": "V",
         "bath_c": "°C"}  # fmt: skip
"""Figures that are read off a bath."""


def _too_much(e: Mapping[str, Any]) -> str:
    """Of a figure that no bath has: what it is if the meter is right, before that it is a slip."""
    name = str(e["loc"][-1])
    if name not in _READ or e["type"] not in ("less_than_equal", "greater_than_equal"):
        return ""
    if e["type"] == "greater_than_equal":
        return word("refused.minus") if _READ[name] != "°C" else ""
    return word("refused.high", value=f"{str(e['input'])[:20]} {_READ[name]}")


def _message(e: Mapping[str, Any]) -> str:
    return _too_much(e) or str(e["msg"])


def _answer(problem: Problem) -> JSONResponse:
    return JSONResponse(
        problem.model_dump(mode="json"), problem.status, media_type="application/problem+json"
    )
