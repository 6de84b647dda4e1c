"""A line by PyVISA: sockets and serial ports, with PyVISA-py behind it, so that no driver of any
maker is wanted.

Whatever goes wrong on the line closes it: an answer that comes late would else be taken for that to
the next question.
"""

from __future__ import annotations

import contextlib
import re
from typing import Any

from yellowbath.core.errors import InputError, LinkLostError

TIMEOUT_S = 2.0
_SOCKET = re.compile(r"^(?:tcp://)?([\w.-]+|\[[0-9a-fA-F:]+\]):(\d{1,5})$")
_SERIAL = re.compile(r"^(/dev/[\w./-]+|COM\d{1,3})(?:@(\d{3,7}))?$", re.IGNORECASE)


def resource_of(address: str) -> tuple[str, int | None]:
    """The VISA resource of an address as people type it, and a serial line's speed [baud].

    >>> resource_of("192.168.1.20:5025")
    ('TCPIP::192.168.1.20::5025::SOCKET', None)
    >>> resource_of("/dev/ttyUSB0@9600")
    ('ASRL/dev/ttyUSB0::INSTR', 9600)

    Raises InputError for what is neither.
    """
    text = address.strip()
    found = _SOCKET.match(text)
    if found and 0 < int(found[2]) < 65536:
        return f"TCPIP::{found[1].strip('[]')}::{int(found[2])}::SOCKET", None
    found = _SERIAL.match(text)
    if found:
        return f"ASRL{found[1]}::INSTR", int(found[2] or 9600)
    raise InputError(
        f"{text[:80] or 'Nothing'} is no address of a supply or meter.",
        allowed="A name or number with a port, as 192.168.1.20:5025; or a serial port with its "
        "speed, as /dev/ttyUSB0@9600 or COM3@9600.",
        remedy="It stands in the menu of the device, or on its back.",
    )


class VisaLine:
    """One device by its address; opened with the first question, and anew after a fault."""

    def __init__(self, address: str, timeout_s: float = TIMEOUT_S) -> None:
        self._address, self._timeout_s = address, timeout_s
        self._resource, self._baud = resource_of(address)
        self._open: Any = None
        self._manager: Any = None

    def write(self, text: str) -> None:
        self._do(lambda device: device.write(text))

    def ask(self, text: str) -> str:
        answer: str = self._do(lambda device: device.query(text))
        return answer.strip()

    def close(self) -> None:
        for one in (self._open, self._manager):
            if one is not None:
                with contextlib.suppress(Exception):  # it may have gone already
                    one.close()
        self._open = self._manager = None

    def _do(self, what: Any) -> Any:
        import pyvisa

        try:
            return what(self._device())
        except (pyvisa.errors.Error, OSError, ValueError, UnicodeDecodeError) as error:
            self.close()
            late = "timeout" in str(error).lower() or "TMO" in str(error)
            raise LinkLostError(
                f"{self._address} does not answer"
                + (f" within {self._timeout_s:g} s." if late else f": {_short(error)}."),
                remedy="See that it is on, on the network, and that its address is right.",
            ) from error

    def _device(self) -> Any:
        import pyvisa

        if self._open is None:
            self._manager = pyvisa.ResourceManager("@py")
            self._open = self._manager.open_resource(
                self._resource,
                open_timeout=round(self._timeout_s * 1000),
                read_termination="\n",
                write_termination="\n",
            )
            self._open.timeout = round(self._timeout_s * 1000)
            if self._baud is not None:
                self._open.baud_rate = self._baud
        return self._open


def _short(error: Exception) -> str:
    return (str(error).splitlines() or [type(error).__name__])[0].rstrip(".")[:160]
