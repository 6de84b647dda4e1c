"""The shop's passcode: asked for where the shop is served beyond its own computer.

Kept as an Argon2 hash in a file of its own beside the shop, readable by its owner only. Who types
it gets a signed cookie; tries are counted, by address and in all.
"""

from __future__ import annotations

import json
import os
import secrets
import threading
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from itsdangerous import BadSignature, URLSafeTimedSerializer

COOKIE = "yellowbath"
SHORTEST = 8
_DAYS = 30
_WINDOW_S = 60.0
_TRIES, _TRIES_IN_ALL = 5, 30  # wrong ones within the window
_HASHER = PasswordHasher()


@dataclass(frozen=True)
class Passcode:
    """A passcode as it is kept: its hash, and the key that its cookies are signed with."""

    hash: str
    key: str


def kept(folder: Path) -> Passcode | None:
    """The passcode of a shop's folder; None where none was set."""
    path = folder / "passcode.json"
    if not path.is_file():
        return None
    return Passcode(**json.loads(path.read_text("utf-8")))


def keep(folder: Path, passcode: str) -> Passcode:
    """Set a shop's passcode; cookies of the old one are no longer good.

    Raises ValueError for one that is too short.
    """
    if len(passcode) < SHORTEST:
        raise ValueError(f"A passcode has at least {SHORTEST} letters or figures.")
    made = Passcode(_HASHER.hash(passcode), secrets.token_hex(32))
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / "passcode.json"
    handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "w", encoding="utf-8") as file:
        json.dump(made.__dict__, file)
    path.chmod(0o600)
    return made


class Sessions:
    """Who has typed the passcode, and how often somebody got it wrong."""

    def __init__(self, passcode: Passcode, clock: Callable[[], float]) -> None:
        self._passcode, self._clock = passcode, clock
        self._signer = URLSafeTimedSerializer(passcode.key, salt="session")
        self._wrong: deque[tuple[float, str]] = deque()
        self._lock = threading.Lock()

    def valid(self, cookie: str) -> bool:
        """Whether a cookie was given by us, with this passcode, not too long ago."""
        try:
            self._signer.loads(cookie, max_age=_DAYS * 86400)
        except BadSignature:
            return False
        return True

    def wait_s(self, address: str) -> float:
        """Seconds until this address may try again; nought while it may."""
        with self._lock:
            now = self._clock()
            while self._wrong and self._wrong[0][0] <= now - _WINDOW_S:
                self._wrong.popleft()
            mine = [at for at, who in self._wrong if who == address]
            if len(mine) >= _TRIES:
                return mine[-_TRIES] + _WINDOW_S - now
            if len(self._wrong) >= _TRIES_IN_ALL:
                return self._wrong[-_TRIES_IN_ALL][0] + _WINDOW_S - now
            return 0.0

    def enter(self, address: str, typed: str) -> str | None:
        """A cookie for the right passcode; None for a wrong one, which is counted first, so that
        tries at the same time are counted all."""
        with self._lock:
            self._wrong.append((self._clock(), address))
            mine = self._wrong[-1]
        try:
            _HASHER.verify(self._passcode.hash, typed)
        except (VerificationError, InvalidHashError):
            return None
        with self._lock:
            if mine in self._wrong:
                self._wrong.remove(mine)
        return self._signer.dumps(secrets.token_hex(8))

    @property
    def lasts_s(self) -> int:
        """How long a cookie is good [s]."""
        return _DAYS * 86400
