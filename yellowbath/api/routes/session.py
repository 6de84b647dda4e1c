"""Who may come in, where the shop asks for a passcode."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, Field

from yellowbath.api.gate import RefusalError
from yellowbath.api.session import COOKIE, Sessions

router = APIRouter(prefix="/session", tags=["session"])


class SessionOut(BaseModel):
    """Whether a passcode is asked for, and whether it was given."""

    asked: bool
    given: bool


class PasscodeIn(BaseModel):
    """The passcode as typed."""

    passcode: str = Field(max_length=200)


def _sessions(request: Request) -> Sessions | None:
    found: Sessions | None = request.app.state.sessions
    return found


@router.get("", operation_id="session")
def session(request: Request) -> SessionOut:
    """Whether this device has to type the passcode."""
    asks = _sessions(request)
    given = asks is None or asks.valid(request.cookies.get(COOKIE, ""))
    return SessionOut(asked=asks is not None, given=given)


@router.post("", operation_id="enter_passcode")
def enter(body: PasscodeIn, request: Request, response: Response) -> SessionOut:
    """Type the passcode; the answer sets a cookie. Five wrong ones a minute, then a wait."""
    asks = _sessions(request)
    if asks is None:
        return SessionOut(asked=False, given=True)
    address = request.client.host if request.client else ""
    wait = asks.wait_s(address)
    if wait > 0:
        raise RefusalError(429, "too-often", "Too many wrong passcodes.",
                      f"Try again in {wait:.0f} s.", {"Retry-After": f"{wait:.0f}"})  # fmt: skip
    cookie = asks.enter(address, body.passcode)
    if cookie is None:
        raise RefusalError(
            401, "passcode", "That is not the passcode.", "Ask whoever runs the shop."
        )
    response.set_cookie(COOKIE, cookie, max_age=asks.lasts_s, httponly=True, samesite="strict")
    return SessionOut(asked=True, given=True)


@router.delete("", operation_id="leave", status_code=204)
def leave(response: Response) -> None:
    """Forget the passcode on this device."""
    response.delete_cookie(COOKIE, httponly=True, samesite="strict")
