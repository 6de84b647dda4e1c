"""Errors as problem documents (RFC 9457): what is wrong, what is allowed, how to mend it."""

from __future__ import annotations

from collections.abc import Mapping

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel

from yellowbath.core import errors

_STATUS: Mapping[type[errors.YellowBathError], int] = {
    errors.NotFoundError: 404,
    errors.StepRefusedError: 409,
    errors.SupersededError: 409,
    errors.StopsInForceError: 409,
    errors.StaleRevisionError: 409,
    errors.NoAnswerError: 422,
    errors.NoConvergenceError: 422,
    errors.InputError: 422,
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


async def _ours(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, errors.YellowBathError)
    status = next((s for kind, s in _STATUS.items() if isinstance(error, kind)), 500)
    data = dict(error.data())
    faults = data.pop("faults", [])
    problem = Problem.model_validate(
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
    return _answer(problem)


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
