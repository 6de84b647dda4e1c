"""Supplies that are not as good as the standard: the stand-in's own device behind a tongue of its
own, over a socket or a serial line."""

from __future__ import annotations

import os
import pty
import socket
import threading
import time
import tty
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass

from tests.core.simulation.designs import design
from tests.instruments.peers import Clock
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.simulation.truth import meant
from yellowbath.instruments.standin.device import Device


@dataclass
class Tongue:
    """How it speaks: ``several`` questions in one message are answered "joined", "commas", "lines",
    "first" or not at all; ``deaf`` to some words; what it says it is; ``on``: its word for it."""

    several: str = "joined"
    deaf: tuple[str, ...] = ()
    identity: str = "Somebody,Supply 30,123,1.0"
    on: str = "1"
    ending: str = "\n"
    thinks_s: float = 0.0
    nonsense_every: int = 0
    asked: int = 0

    def answers(self, device: Device, message: str) -> str:
        """The bytes that come back, as text; empty for silence."""
        units = [u.strip().lstrip(":") for u in message.split(";")]
        if not any(u.endswith("?") for u in units):
            for u in units:
                if not any(u.startswith(d) for d in self.deaf):
                    device.handle(u)
            return ""
        time.sleep(self.thinks_s)
        self.asked += 1
        if self.nonsense_every and self.asked % self.nonsense_every == 0:
            return "??" + self.ending
        found = [self._one(device, u) for u in units]
        if len(units) == 1:
            return found[0] + self.ending if found[0] else ""
        known = [f for f in found if f]
        match self.several:
            case "joined":
                return ";".join(known) + self.ending
            case "commas":
                return ",".join(known) + self.ending
            case "lines":
                return "".join(f + self.ending for f in known)
            case "first":
                return (known[0] if known else "") + self.ending
        return ""

    def _one(self, device: Device, unit: str) -> str:
        if any(unit.startswith(d) for d in self.deaf):
            return ""
        if unit == "*IDN?":
            return self.identity
        answer = device.handle(unit) or ""
        return self.on if unit == "OUTP?" and answer == "1" else answer


def running() -> Device:
    """A supply that is on, with a bath at its posts."""
    bath = SimulatedBath(design(), meant(design()))
    bath.switch_on()
    return Device(bath, Clock())


def _serve(read: Callable[[], bytes], write: Callable[[bytes], None], t: Tongue, d: Device) -> None:
    """Messages end at either sign; a device that wants a return hears nothing at a line feed."""
    held = b""
    end = t.ending[-1].encode()
    while data := read():
        held += data
        while end in held:
            line, held = held.split(end, 1)
            text = line.decode("ascii", "replace").strip()
            if text and (back := t.answers(d, text)):
                write(back.encode("ascii"))


@contextmanager
def on_a_socket(t: Tongue, d: Device) -> Iterator[str]:
    """Its address."""
    server = socket.create_server(("127.0.0.1", 0))

    def accept() -> None:
        while True:
            try:
                one, _ = server.accept()
            except OSError:
                return
            threading.Thread(target=talk, args=(one,), daemon=True).start()

    def talk(one: socket.socket) -> None:
        with suppress(OSError), one:
            _serve(lambda: one.recv(4096), one.sendall, t, d)

    threading.Thread(target=accept, daemon=True).start()
    try:
        yield f"127.0.0.1:{server.getsockname()[1]}"
    finally:
        server.close()


@contextmanager
def on_a_serial_line(t: Tongue, d: Device) -> Iterator[str]:
    """The same on a pseudo-terminal."""
    ours, theirs = pty.openpty()
    tty.setraw(theirs)

    def talk() -> None:
        with suppress(OSError):
            _serve(lambda: os.read(ours, 4096), lambda data: void(os.write(ours, data)), t, d)

    def void(_: int) -> None:
        return None

    speaking = threading.Thread(target=talk, daemon=True)
    speaking.start()
    try:
        yield os.ttyname(theirs)
    finally:
        os.close(theirs)  # it hears that nobody is there any more, and ends
        speaking.join(5)
        os.close(ours)  # not before: the next line has this number, and it would answer there


TONGUES: dict[str, Tongue] = {
    "one a line, silent else": Tongue(several="silent"),
    "first only": Tongue(several="first"),
    "on own lines": Tongue(several="lines"),
    "with commas": Tongue(several="commas"),
    "no OUTP?": Tongue(deaf=("OUTP?",)),
    "no CURR?": Tongue(deaf=("CURR?",)),
    "no errors told": Tongue(deaf=("SYST:ERR?",)),
    "who it is in one word": Tongue(identity="PSU-30"),
    "in three": Tongue(identity="Somebody,PSU,7"),
    "in five": Tongue(identity="Somebody,PSU,7,1.0,rev B"),
    "1.0 for on": Tongue(on="1.0"),
    "return": Tongue(ending="\r"),
    "return and line feed": Tongue(ending="\r\n"),
    "a third nonsense": Tongue(nonsense_every=3),
    "one a line, no OUTP?, return": Tongue(several="silent", deaf=("OUTP?",), ending="\r"),
}
SLOW: dict[str, Tongue] = {"2.5 s": Tongue(thinks_s=2.5), "9 s": Tongue(thinks_s=9.0)}
