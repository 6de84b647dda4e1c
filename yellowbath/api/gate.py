"""What a request must be before a route sees it: addressed to us, from our own page, of a declared
kind and size, and from somebody who knows the passcode where one is set.

Plain ASGI, outermost first; refusals are problem documents like all others.
"""

from __future__ import annotations

import ipaddress
import json
import re
from collections.abc import Awaitable, Callable, Iterable, Mapping, MutableMapping, Sequence
from functools import cached_property
from http.cookies import CookieError, SimpleCookie
from typing import Any
from urllib.parse import SplitResult, urlsplit

from fastapi import FastAPI
from fastapi.routing import iter_route_contexts
from starlette.exceptions import HTTPException

from yellowbath.api.session import COOKIE, Sessions

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Asgi = Callable[[Scope, Receive, Send], Awaitable[None]]

_SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
JSON_MOST = 4_000_000  # bytes of a document with several meshes, and room
FILE_MOST = 30_000_000
_OWN = re.compile(r"^/api/(?!words$)")  # the shop's own figures, which no browser keeps
_TOKEN = re.compile(r"^/api/runs/[^/]+/samples$")  # where a logger's own token is asked for
_OPEN = re.compile(r"^/api/(session|words)$")  # what answers without the passcode

HEADERS: Mapping[str, str] = {
    "Content-Security-Policy": "; ".join((
        "default-src 'self'", "script-src 'self'", "style-src 'self' 'unsafe-inline'",
        "img-src 'self' data: blob:", "font-src 'self'", "connect-src 'self'",
        "worker-src 'self' blob:", "object-src 'none'", "base-uri 'none'", "form-action 'self'",
        "frame-ancestors 'none'",
    )),
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), usb=(), payment=()",
}  # fmt: skip


class RefusalError(HTTPException):
    """Why a request goes no further; a problem document wherever it is raised."""

    def __init__(
        self, status: int, slug: str, title: str, remedy: str = "",
        headers: Mapping[str, str] | None = None,
    ) -> None:  # fmt: skip
        super().__init__(status, title, headers=dict(headers or {}))
        self.slug, self.title, self.remedy = slug, title, remedy

    def problem(self) -> dict[str, object]:
        """The document: what is wrong and how to mend it."""
        return {
            "type": f"urn:yellowbath:{self.slug}", "title": self.title, "status": self.status_code,
            "detail": " ".join(p for p in (self.title, self.remedy) if p), "allowed": "",
            "remedy": self.remedy, "faults": [], "data": {},
        }  # fmt: skip


_UNFORESEEN = RefusalError(
    500, "unforeseen", "Something went wrong here that nobody foresaw.",
    "Try it once more. If it stays, the server's log says where.",
)  # fmt: skip


class Gate:
    """The way in. ``names`` are host names besides addresses and localhost that are ours;
    ``sessions`` asks for the passcode, where there is one."""

    def __init__(
        self, app: Asgi, api: FastAPI, names: Sequence[str] = (), sessions: Sessions | None = None
    ) -> None:
        self._app, self._api, self._sessions = app, api, sessions
        self._names = frozenset(n.lower().rstrip(".") for n in names)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        told = _GateTold(send, kept=not _OWN.match(scope["path"]))
        try:
            headers = {k.decode("latin-1"): v.decode("latin-1") for k, v in scope["headers"]}
            self._host(headers)
            self._origin(scope["method"], headers)
            self._known(scope["path"], headers)
            most = self._kind(scope["method"], scope["path"], headers)
            await self._app(scope, _limited(receive, most), told)
        except RefusalError as refusal:
            await _refuse(refusal, told)
        except Exception:
            if not told.begun:
                await _refuse(_UNFORESEEN, told)
            raise  # so that it stands in the server's log

    def _host(self, headers: Mapping[str, str]) -> None:
        """An address, localhost or a given name: no page elsewhere can point its own name here."""
        name = _parts(f"//{headers.get('host', '')}").hostname or ""
        if name == "localhost" or name.rstrip(".") in self._names or _is_address(name):
            return
        raise RefusalError(
            421, "host", "This shop does not go by that name.",
            "Use its address, or start it with --name to give it that name.",
        )  # fmt: skip

    def _origin(self, method: str, headers: Mapping[str, str]) -> None:
        """What changes something comes from our own page, or from no page at all."""
        if method in _SAFE:
            return
        origin, site = headers.get("origin"), headers.get("sec-fetch-site")
        ours = origin is None or _parts(origin).netloc == headers.get("host")
        if not ours or site not in (None, "same-origin", "none"):
            raise RefusalError(403, "origin", "That request comes from another page.",
                          "Do it on the shop's own page.")  # fmt: skip

    def _known(self, path: str, headers: Mapping[str, str]) -> None:
        if self._sessions is None or not path.startswith("/api/") or _OPEN.match(path):
            return
        if _TOKEN.match(path) and "authorization" in headers:
            return  # the route asks whether it is that run's
        if not self._sessions.valid(_cookie(headers.get("cookie", ""))):
            raise RefusalError(401, "passcode", "This shop asks for its passcode.", "Type it once.")

    def _kind(self, method: str, path: str, headers: Mapping[str, str]) -> int:
        """How large the body may be [bytes], having seen that it is of a declared kind."""
        length = headers.get("content-length", "0")
        sent = length != "0" or "transfer-encoding" in headers
        declared = self._declared(method, path)
        most = FILE_MOST if "application/octet-stream" in declared else JSON_MOST
        if not length.isdigit() or int(length) > most:
            raise _too_large(most)
        kind = headers.get("content-type", "").partition(";")[0].strip().lower()
        if method not in _SAFE and (sent or kind) and kind not in declared:
            allowed = " or ".join(sorted(declared)) or "nothing"
            title = f"A body of {kind or 'no kind'} is not taken here."
            raise RefusalError(415, "media-type", title, f"Send {allowed}.")
        return most

    def _declared(self, method: str, path: str) -> frozenset[str]:
        for pattern, verb, kinds in self._bodies:
            if verb == method and pattern.match(path):
                return kinds
        return frozenset({"application/json"})

    @cached_property
    def _bodies(self) -> Sequence[tuple[re.Pattern[str], str, frozenset[str]]]:
        """What each route takes, from the routes: a description of them all takes a second."""
        found = []
        for context in iter_route_contexts(self._api.routes):
            route: Any = context
            told = (getattr(route, "openapi_extra", None) or {}).get("requestBody")
            if getattr(route, "body_field", None) is None and told is None:
                continue
            pattern = re.compile("^" + re.sub(r"\{\w+\}", "[^/]+", route.path_format) + "$")
            kinds = frozenset(told["content"] if told else {route.body_field.field_info.media_type})
            found += [(pattern, verb, kinds) for verb in route.methods]
        return found


def _parts(url: str) -> SplitResult:
    """A URL's parts; of what is none, nothing."""
    try:
        return urlsplit(url)
    except ValueError:
        return urlsplit("")


def _cookie(header: str) -> str:
    """Our cookie's value; empty where there is none, or no cookie at all."""
    try:
        found = SimpleCookie(header).get(COOKIE)
    except CookieError:
        return ""
    return found.value if found else ""


def _is_address(name: str) -> bool:
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


def _too_large(most: int) -> RefusalError:
    return RefusalError(413, "too-large", "That is more than is taken at once.",
                   f"At most {most / 1e6:.0f} MB.")  # fmt: skip


def _limited(receive: Receive, most: int) -> Receive:
    """The body as it comes, until it is more than was allowed, whatever its header said."""
    seen = 0

    async def limited() -> Message:
        nonlocal seen
        message = await receive()
        seen += len(message.get("body", b""))
        if seen > most:
            raise _too_large(most)
        return message

    return limited


class _GateTold:
    """An answer with the headers that every one has, and whether it was begun; the shop's own
    figures are kept by no browser."""

    def __init__(self, send: Send, kept: bool) -> None:
        self._send, self.begun = send, False
        self._added = HEADERS if kept else {**HEADERS, "Cache-Control": "no-store"}

    async def __call__(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            self.begun = True
            message["headers"] = [*message.get("headers", []), *_encoded(self._added.items())]
        await self._send(message)


def _encoded(pairs: Iterable[tuple[str, str]]) -> list[tuple[bytes, bytes]]:
    return [(k.lower().encode(), v.encode()) for k, v in pairs]


async def _refuse(refusal: RefusalError, send: Send) -> None:
    body = json.dumps(refusal.problem()).encode()
    headers = {"Content-Type": "application/problem+json", "Content-Length": str(len(body)),
               **(refusal.headers or {})}  # fmt: skip
    await send({"type": "http.response.start", "status": refusal.status_code,
                "headers": _encoded(headers.items())})  # fmt: skip
    await send({"type": "http.response.body", "body": body})
