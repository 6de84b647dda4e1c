"""The stand-in on a socket: messages end with a line feed, every line has a turn at the device."""

from __future__ import annotations

import contextlib
import socket
import socketserver
import threading
from typing import Any

from yellowbath.instruments.standin.device import Device

LONGEST = 64_000  # bytes of one message; what is longer is cut off and said to be too much
_IDLE_S = 0.25  # how often the bath goes on while nobody asks


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        server = self.server
        assert isinstance(server, Server)
        while True:
            line = self.rfile.readline(LONGEST)
            if not line:
                return
            whole = line.endswith(b"\n")
            try:
                answer = server.said(line.decode("ascii").strip("\r\n"), whole)
            except UnicodeDecodeError:
                answer = server.said("\x00", whole)
            if answer is not None:
                try:
                    self.wfile.write(answer.encode("ascii") + b"\n")
                except OSError:
                    return


class Server(socketserver.ThreadingTCPServer):
    """A device that several may speak to, on loopback unless told otherwise."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, device: Device, host: str = "127.0.0.1", port: int = 0) -> None:
        super().__init__((host, port), _Handler)
        self.device = device
        self._turn = threading.Lock()
        self._stopping = threading.Event()
        self._lines: set[socket.socket] = set()

    @property
    def port(self) -> int:
        """The port that it was given."""
        return int(self.server_address[1])

    def said(self, message: str, whole: bool = True) -> str | None:
        """One message's turn at the device."""
        with self._turn:
            if not whole:
                self.device.status.fault(-223, "Too much data")
                return None
            return self.device.handle(message)

    def start(self) -> None:
        """Serve in the background until ``stop``."""
        threading.Thread(target=self.serve_forever, args=(0.05,), daemon=True).start()
        threading.Thread(target=self._go_on, daemon=True).start()

    def stop(self) -> None:
        """Let go of the port and of every line, as a supply does that is unplugged."""
        self._stopping.set()
        self.shutdown()
        self.server_close()
        for line in list(self._lines):
            with contextlib.suppress(OSError):
                line.shutdown(socket.SHUT_RDWR)

    def process_request(self, request: Any, client_address: Any) -> None:
        self._lines.add(request)
        super().process_request(request, client_address)

    def shutdown_request(self, request: Any) -> None:
        self._lines.discard(request)
        super().shutdown_request(request)

    def _go_on(self) -> None:
        while not self._stopping.wait(_IDLE_S):
            with self._turn:
                self.device.tick()
