"""A real server process on loopback, to be talked to, killed and started again."""

from __future__ import annotations

import atexit
import json
import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any
from urllib.error import HTTPError, URLError

from tests.longer import PATIENCE_S

SEEDED = "YB_SEEDED"  # names a folder with a demo shop that was made once for all tests


@cache
def _described() -> str:
    from yellowbath.api.app import make_app

    return json.dumps(make_app(None).openapi())


def described() -> Any:
    """The API's own description, made once for all tests."""
    return json.loads(_described())


def free_port() -> int:
    """A port below those that outgoing connections are given: one of these, asking again and again
    for a server that is down, would in the end be given that server's own and hold it."""
    while True:
        port = random.randrange(12_000, 32_000)
        with socket.socket() as s, suppress(OSError):
            s.bind(("127.0.0.1", port))
            return port


# Imports what a server wants and loads its kernels once, then forks one for each line of arguments;
# whoever is killed is nobody's to wait for.
_NURSERY = """
import faulthandler, json, os, signal, sys, tempfile
import yellowbath.api.app, yellowbath.cli, yellowbath.workflows.line.demo_line, uvicorn
from tests.solving import SOLVER, share_fields
from yellowbath.workflows.plans.field import warm_up
share_fields()
warm_up(SOLVER)
signal.signal(signal.SIGCHLD, signal.SIG_IGN)
for line in sys.stdin:
    pid = os.fork()
    if pid == 0:
        signal.signal(signal.SIGCHLD, signal.SIG_DFL)
        quiet = os.open(os.devnull, os.O_RDWR)
        for stream in (0, 1, 2):
            os.dup2(quiet, stream)
        said = open(os.path.join(tempfile.gettempdir(), f"yellowbath-{os.getpid()}.txt"), "w")
        faulthandler.register(signal.SIGUSR1, file=said)
        os._exit(yellowbath.cli.main(json.loads(line)))
    print(pid, flush=True)
"""


class Nursery:
    """Servers forked from one process that has everything imported: a start takes a third."""

    _one: Nursery | None = None

    def __init__(self) -> None:
        self._parent = subprocess.Popen(
            [sys.executable, "-c", _NURSERY], stdin=subprocess.PIPE, stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL, text=True,
        )  # fmt: skip

    @classmethod
    def start(cls, args: list[str]) -> int:
        """A server with these arguments; its pid."""
        if cls._one is None:
            cls._one = cls()
            atexit.register(cls._one.close)
        parent = cls._one._parent
        assert parent.stdin is not None and parent.stdout is not None
        parent.stdin.write(json.dumps(args) + "\n")
        parent.stdin.flush()
        return int(parent.stdout.readline())

    def close(self) -> None:
        for stream in (self._parent.stdin, self._parent.stdout):
            if stream is not None:
                stream.close()
        self._parent.wait(10)


class Server:
    """``yellowbath serve`` or ``demo`` on a folder; with a passcode, as others reach it."""

    def __init__(self, data: Path, command: str = "serve", passcode: str = "") -> None:
        self.data, self.command, self.passcode, self.port = data, command, passcode, free_port()
        self.base = f"http://127.0.0.1:{self.port}"
        self.pid: int | None = None
        self._fresh: subprocess.Popen[bytes] | None = None

    def start(self, fresh: bool = False) -> Server:
        """Until it answers; ``fresh``: a process of its own, with nothing imported yet."""
        program = [sys.executable, "-m", "yellowbath.cli"]
        where = ["--data", str(self.data)]
        args = [self.command, *where, "--port", str(self.port)]
        if self.command == "demo" and SEEDED in os.environ and not self.data.exists():
            shutil.copytree(os.environ[SEEDED], self.data)
        if self.passcode:
            subprocess.run([*program, "passcode", *where], input=self.passcode, text=True,
                           check=True, stdout=subprocess.DEVNULL)  # fmt: skip
            args += ["--host", "0.0.0.0"]
        if fresh:
            quiet = subprocess.DEVNULL
            self._fresh = subprocess.Popen([*program, *args], stdout=quiet, stderr=quiet)
            self.pid = self._fresh.pid
        else:
            self.pid = Nursery.start(args)
        until = time.monotonic() + PATIENCE_S
        while time.monotonic() < until:
            try:
                self.get("/shop")
                return self
            except HTTPError:
                return self  # it asks for its passcode
            except (URLError, ConnectionError):
                if not Path(f"/proc/{self.pid}").exists():
                    raise RuntimeError("the server ended before it answered") from None
                time.sleep(0.05)
        at = self.doing()
        self.kill()
        raise TimeoutError(f"the server did not answer: {at}")

    def doing(self) -> str:
        """What each thread of the server is at just now; for a test that waited in vain."""
        said = Path(tempfile.gettempdir()) / f"yellowbath-{self.pid}.txt"
        if self.pid is None or not said.exists():
            return "not running, or not forked"
        os.kill(self.pid, signal.SIGUSR1)
        time.sleep(0.5)
        return said.read_text()

    def kill(self) -> None:
        """kill -9: no goodbye, no clean-up."""
        if self.pid is None:
            return
        with suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGKILL)
        if self._fresh is not None:
            self._fresh.wait()
            self._fresh = None
        while Path(f"/proc/{self.pid}").exists():
            time.sleep(0.005)
        (Path(tempfile.gettempdir()) / f"yellowbath-{self.pid}.txt").unlink(missing_ok=True)
        self.pid = None

    def get(self, path: str) -> Any:
        with urllib.request.urlopen(f"{self.base}/api{path}", timeout=PATIENCE_S) as answer:
            return json.load(answer)

    def post(self, path: str, body: Any, method: str = "POST", token: str = "") -> Any:
        headers = {"content-type": "application/json"}
        if token:
            headers["authorization"] = f"Bearer {token}"
        request = urllib.request.Request(
            f"{self.base}/api{path}",
            data=json.dumps(body).encode(),
            headers=headers,
            method=method,
        )
        try:
            with urllib.request.urlopen(request, timeout=PATIENCE_S) as answer:
                return json.load(answer)
        except HTTPError as error:
            raise AssertionError(error.read().decode()) from None
