"""What instruments are tested on: the stand-in on a socket, and a server that misbehaves."""

import socket
import socketserver
import threading
import time
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from tests.core.simulation.designs import document
from yellowbath.instruments.standin.server import Server
from yellowbath.workflows.line.stand_in import stand_in


class Clock:
    """Seconds that are set by hand."""

    def __init__(self) -> None:
        self.now = 0.0

    def __call__(self) -> float:
        return self.now


@contextmanager
def standing_in(
    clock: Clock | None = None,
    faults: list[str] | None = None,
    speed: float = 1.0,
    port: int = 0,
    plan: Mapping[str, Any] | None = None,
) -> Iterator[Server]:
    """The stand-in, served on a port of its own, or one that is said."""
    server = stand_in(
        plan or document(), clock or Clock(), port=port, speed=speed, faults=faults, after_s=0.0
    )
    server.start()
    try:
        yield server
    finally:
        server.stop()


class Raw:
    """A socket that sends lines and waits for lines, as anybody's program would."""

    def __init__(self, port: int) -> None:
        self._socket = socket.create_connection(("127.0.0.1", port), timeout=5)
        self._file = self._socket.makefile("rb")

    def send(self, text: str) -> None:
        self._socket.sendall(text.encode("ascii", "replace"))

    def line(self) -> str:
        return self._file.readline().decode("ascii").rstrip("\n")

    def close(self) -> None:
        self._file.close()
        self._socket.close()


_GOOD = {"volts": "+1.2000E+01", "amps": "+3.0000E+00", "out": "1", "limit": "+5.0000E+00"}


class Bad(socketserver.ThreadingTCPServer):
    """A supply at 12 V and 3 A that answers as ``way`` says, then as it should once that is "well".

    Queries of several at once, as the client asks them, get four answers.
    """

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, way: str) -> None:
        super().__init__(("127.0.0.1", 0), _BadHandler)
        self.way = way
        self.asked: list[str] = []

    @property
    def port(self) -> int:
        return int(self.server_address[1])


class _BadHandler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        server = self.server
        assert isinstance(server, Bad)
        for raw in self.rfile:
            asked = raw.decode("ascii").strip()
            server.asked.append(asked)
            if "?" not in asked:
                continue
            try:
                self._answer(server.way, _right(asked))
            except OSError:
                return
            if server.way == "dropped":
                return

    def _answer(self, way: str, right: str) -> None:
        match way:
            case "silence" | "dropped":
                return
            case "late":
                time.sleep(0.6)
                self.wfile.write(b"+9.9000E+00;+9.9000E+00;1;+5.0000E+00\n")
                return
            case "half":
                data = right.encode() + b"\n"
                self.wfile.write(data[:7])
                self.wfile.flush()
                time.sleep(0.1)
                self.wfile.write(data[7:])
                return
            case "cut":
                self.wfile.write(right.encode()[:6])
                return
        said = {
            "garbage": "\x07~~~ERR0R\x03",
            "binary": "\u00ff\u00fe",
            "wrong number": "+3.0000E+00",
            "too many": f"{right};+1.0E+00",
            "nan": right.replace("+3.0000E+00", "9.91E37"),
            "absurd": right.replace("+3.0000E+00", "+3.0000E+05"),
            "comma": right.replace(".", ","),
            "suffixes": right.replace("+3.0000E+00", "3000 mA").replace("+1.2000E+01", "12.0V"),
            "maybe": right.replace(";1;", ";MAYBE;"),
            "empty": "",
        }.get("well" if way == "comma" and "," in right else way, right)
        self.wfile.write(said.encode("latin-1") + b"\n")


def _right(asked: str) -> str:
    if "*IDN" in asked:
        return "Somebody,Supply 30,123,1.0"
    if "SYST:ERR" in asked:
        return '0,"No error"'
    if asked == "OUTP?":
        return "0"
    if asked == "CURR?":
        return _GOOD["limit"]
    return ";".join(_GOOD.values())


@contextmanager
def bad(way: str) -> Iterator[Bad]:
    """One that misbehaves."""
    server = Bad(way)
    thread = threading.Thread(target=server.serve_forever, args=(0.02,), daemon=True)
    thread.start()
    try:
        yield server
    finally:
        server.shutdown()
        server.server_close()
