"""A real server process on loopback, to be talked to, killed and started again."""

from __future__ import annotations

import json
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from typing import Any
from urllib.error import HTTPError, URLError

_PATIENCE_S = 40  # of a test for an answer: a first solve beside another worker's browser


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        port: int = s.getsockname()[1]
        return port


class Server:
    """``yellowbath serve`` or ``demo`` on a folder; with a passcode, as others reach it."""

    def __init__(self, data: Path, command: str = "serve", passcode: str = "") -> None:
        self.data, self.command, self.passcode, self.port = data, command, passcode, free_port()
        self.base = f"http://127.0.0.1:{self.port}"
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> Server:
        program = [sys.executable, "-m", "yellowbath.cli"]
        where = ["--data", str(self.data)]
        args = [*program, self.command, *where]
        if self.passcode:
            subprocess.run([*program, "passcode", *where], input=self.passcode, text=True,
                           check=True, stdout=subprocess.DEVNULL)  # fmt: skip
            args += ["--host", "0.0.0.0"]
        self.process = subprocess.Popen(
            [*args, "--port", str(self.port)], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        until = time.monotonic() + 120
        while time.monotonic() < until:
            try:
                self.get("/shop")
                return self
            except HTTPError:
                return self  # it asks for its passcode
            except (URLError, ConnectionError):
                time.sleep(0.05)
        self.kill()
        raise TimeoutError("the server did not answer within two minutes")

    def kill(self) -> None:
        """kill -9: no goodbye, no clean-up."""
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()
            self.process = None

    def get(self, path: str) -> Any:
        with urllib.request.urlopen(f"{self.base}/api{path}", timeout=_PATIENCE_S) as answer:
            return json.load(answer)

    def post(self, path: str, body: Any, method: str = "POST") -> Any:
        request = urllib.request.Request(
            f"{self.base}/api{path}",
            data=json.dumps(body).encode(),
            headers={"content-type": "application/json"},
            method=method,
        )
        try:
            with urllib.request.urlopen(request, timeout=_PATIENCE_S) as answer:
                return json.load(answer)
        except HTTPError as error:
            raise AssertionError(error.read().decode()) from None
