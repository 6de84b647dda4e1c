"""A line by PyVISA: sockets and serial ports, with PyVISA-py behind it, so that no driver of any
maker is wanted.

Whatever goes wrong on the line closes it: an answer that comes late would else be taken for that to
the next question.
"""

from __future__ import annotations

import contextlib
import re
from typing import Any

from yellowbath.core.errors import LinkLostError
from yellowbath.instruments.address import Address, address_of
from yellowbath.instruments.scpi import Ending

TIMEOUT_S = 2.0
_ENDS = {"lf": "\n", "crlf": "\r\n", "cr": "\r"}
_QUIET_MS, _DRAINED = 150, 40
_OPENS_S = 5.0


def resource_of(address: Address) -> str:
    """The VISA resource of an address, a host by its number on the network.

    >>> resource_of(address_of("/dev/ttyUSB0@9600"))
    'ASRL/dev/ttyUSB0::INSTR'

    Raises InputError for a host that there is not.
    """
    if address.serial:
        return f"ASRL{address.path}::INSTR"
    return f"TCPIP::{address.numbers()[0]}::{address.port}::SOCKET"


class VisaLine:
    """One device by its address; opened with the first question, and anew after a fault."""

    def __init__(self, address: str, timeout_s: float = TIMEOUT_S, ending: Ending = "lf") -> None:
        self._address, self._timeout_s = address, timeout_s
        self._ends = _ENDS[ending]
        self._where = address_of(address)
        self._open: Any = None

    def write(self, text: str) -> None:
        self._do(lambda device: device.write(text))

    def ask(self, text: str) -> str:
        answer: str = self._do(lambda device: device.query(text))
        return answer.strip()

    def drain(self) -> None:
        import pyvisa

        if self._open is None:
            return
        with contextlib.suppress(pyvisa.errors.Error, OSError):
            self._open.timeout = _QUIET_MS
            for _ in range(_DRAINED):
                self._open.read_raw()
        with contextlib.suppress(pyvisa.errors.Error, OSError):
            self._open.timeout = round(self._timeout_s * 1000)

    def close(self) -> None:
        # never the manager: there is one for all lines, and with it goes every other bath's
        if self._open is not None:
            with contextlib.suppress(Exception):  # it may have gone already
                self._open.close()
        self._open = None

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
            self._open = pyvisa.ResourceManager("@py").open_resource(
                resource_of(self._where),
                open_timeout=round(min(self._timeout_s, _OPENS_S) * 1000),
                read_termination=self._ends[-1],
                write_termination=self._ends,
            )
            self._open.timeout = round(self._timeout_s * 1000)
            if self._where.serial:
                self._open.baud_rate = self._where.baud
        return self._open


def _short(error: Exception) -> str:
    first = (str(error).splitlines() or [type(error).__name__])[0]
    return re.sub(r"^\[Errno -?\d+\] ", "", first).rstrip(".")[:160]
