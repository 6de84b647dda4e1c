"""The address of a supply or meter as people type it: a name with a port, or a serial port.

Yellow Bath asks whatever answers there once a second. So an address that hands out a cloud
machine's secrets is refused, and any other beyond this computer is agreed to by a person once.
"""

from __future__ import annotations

import ipaddress
import re
import socket
from collections.abc import Sequence
from dataclasses import dataclass

from yellowbath.core.errors import InputError

_SOCKET = re.compile(r"^(?:tcp://)?([\w.-]+):(\d{1,5})$")
_SERIAL = re.compile(r"^(/dev/[\w./-]+|COM\d{1,3})(?:@(\d{3,7}))?$", re.IGNORECASE)
_NETS = tuple(map(ipaddress.ip_network, (
    "169.254.169.0/24", "169.254.170.0/24", "100.100.100.200/32", "192.0.0.192/32",
    "168.63.129.16/32", "224.0.0.0/4", "255.255.255.255/32", "0.0.0.0/8",
)))  # fmt: skip
"""Where cloud machines are told their own secrets, and what is no single machine; from memory."""
_NAMES = ("metadata", "metadata.google.internal", "instance-data", "instance-data.ec2.internal")


@dataclass(frozen=True)
class Address:
    """Where a device is: a host with its port, or a serial port with its speed [baud]."""

    host: str = ""
    port: int = 0
    path: str = ""
    baud: int = 9600

    @property
    def serial(self) -> bool:
        return bool(self.path)

    @property
    def text(self) -> str:
        """One way of writing it, by which two are seen to be the same."""
        return self.path.lower() if self.serial else f"{self.host.lower()}:{self.port}"

    def numbers(self) -> Sequence[str]:
        """The numbers that a host has on the network; raises InputError where it has none, or one
        that must not be asked."""
        try:
            found = socket.getaddrinfo(self.host, self.port, socket.AF_INET, socket.SOCK_STREAM)
        except (OSError, UnicodeError):
            raise InputError(
                f"Nothing on this network is called {self.host[:80]}.",
                allowed="A name that this computer knows, or a number as 192.168.1.20.",
                remedy="Look for its number in the menu of the device, under network or LAN.",
            ) from None
        numbers = sorted({str(row[4][0]) for row in found})
        for number in numbers:
            if any(ipaddress.ip_address(number) in net for net in _NETS):
                raise _forbidden(self.host)
        return numbers

    def here(self) -> bool:
        """Whether it is on this computer."""
        return self.serial or all(ipaddress.ip_address(n).is_loopback for n in self.numbers())


def address_of(text: str) -> Address:
    """An address as it was typed.

    >>> address_of("192.168.1.20:5025").port, address_of("/dev/ttyUSB0@115200").baud
    (5025, 115200)

    Raises InputError for what is none, and for one that must not be asked.
    """
    typed = text.strip()
    if "[" in typed or typed.count(":") > 2:
        raise InputError(
            "Addresses of IPv6 are not spoken here.",
            allowed="A name or number with a port, as 192.168.1.20:5025.",
            remedy="Give the device a number of the older kind, in its network menu.",
        )
    found = _SOCKET.match(typed)
    if found and 0 < int(found[2]) < 65536:
        if found[1].lower().rstrip(".") in _NAMES:
            raise _forbidden(found[1])
        return Address(host=found[1], port=int(found[2]))
    found = _SERIAL.match(typed)
    if found and ".." not in found[1].split("/"):
        return Address(path=found[1], baud=int(found[2] or 9600))
    raise InputError(
        f"{typed[:80] or 'Nothing'} is no address of a supply or meter.",
        allowed="A name or number with a port from 1 to 65535, as 192.168.1.20:5025; or a serial "
        "port with its speed, as /dev/ttyUSB0@9600 or COM3@9600.",
        remedy="It stands in the menu of the device, or on its back.",
    )


def _forbidden(host: str) -> InputError:
    return InputError(
        f"{host[:80]} is no supply: such addresses hand out a computer's own secrets, or are many.",
        allowed="The address of one supply or meter on your own network.",
    )


def require_agreed(address: Address, agreed: bool) -> None:
    """Raises InputError for a device beyond this computer that no person has agreed to yet."""
    if not agreed and not address.here():
        raise InputError(
            f"{address.text} is another machine on your network.",
            allowed="It is asked every second, and may be told to switch off.",
            remedy="If it is your own supply or meter, tick “This is my own device” and try again.",
        )
