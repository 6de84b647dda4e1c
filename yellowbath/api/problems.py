"""Errors as problem documents (RFC 9457): what is wrong, what is allowed, how to mend it."""

from __future__ import annotations

import logging
from collections.abc import Mapping

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import DBAPIError

from yellowbath.api.gate import RefusalError
from yellowbath.core import errors
from yellowbath.workflows.faults import fault_of

_log = logging.getLogger(__name__)

_STATUS: Mapping[type[errors.YellowBathError], int] = {
    errors.NotFoundError: 404,
    errors.StepRefusedError: 409,
    errors.SupersededError: 409,
    errors.StopsInForceError: 409,
    errors.StaleRevisionError: 409,
    errors.NoAnswerError: 422,
    errors.NoConvergenceError: 422,
    errors.InputError: 422,
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


def install(app: FastAPI) -> None:
    """Turn our errors and malformed requests into problem documents."""
    app.add_exception_handler(errors.YellowBathError, _ours)
    app.add_exception_handler(RequestValidationError, _malformed)
    app.add_exception_handler(RefusalError, _refused)
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
    faults = data.pop("faults", [])
    return Problem.model_validate(
        {
            "type": f"urn:yellowbath:{error.slug}",
            "title": error.problem,
            "status": status,
            "detail": str(error),
            "allowed": error.allowed,
            "remedy": error.remedy,
            "faults": faults,
            "data": data,
        }
    )


async def _refused(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RefusalError)
    return JSONResponse(
        error.problem(), error.status_code, error.headers, media_type="application/problem+json"
    )


async def _malformed(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    faults = [
        Fault(pointer="/" + "/".join(map(str, e["loc"])), message=e["msg"]) for e in error.errors()
    ]
    return _answer(
        Problem(
            type="urn:yellowbath:malformed",
            title="The request does not fit.",
            status=422,
            detail="; ".join(f"{f.pointer}: {f.message}" for f in faults[:3]),
            faults=faults,
        )
    )


def _answer(problem: Problem) -> JSONResponse:
    return JSONResponse(
        problem.model_dump(mode="json"), problem.status, media_type="application/problem+json"
    )
