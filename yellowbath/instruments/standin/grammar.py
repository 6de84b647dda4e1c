"""Program messages by IEEE 488.2 and the header tree of SCPI 1999.0: what was sent, in parts.

Numbers in brackets are the standard's own error codes.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

_HEADER = re.compile(r"^(\*[A-Za-z]+\??|:?[A-Za-z][\w]*(?::[A-Za-z][\w]*)*\??)(?:\s+(.*))?$", re.S)
_NUMBER = re.compile(r"^([+-]?(?:\d+\.?\d*|\.\d+)(?:\s?[eE]\s?[+-]?\d+)?)\s*([A-Za-z]*)$")
_SCALE = {"": 1.0, "K": 1e3, "M": 1e-3, "U": 1e-6}


class ScpiError(Exception):
    """An error of the standard's list: its number and its words."""

    def __init__(self, code: int, words: str) -> None:
        super().__init__(words)
        self.code, self.words = code, words


@dataclass(frozen=True)
class MessageUnit:
    """One command or query: its header as a path from the root, and its data as they were sent."""

    path: tuple[str, ...]
    query: bool
    data: tuple[str, ...]

    @property
    def common(self) -> bool:
        """Whether it is one of the common commands that begin with a star."""
        return self.path[0].startswith("*")


def units_of(message: str) -> Iterator[MessageUnit]:
    """The commands and queries of a message, headers made whole: what follows a semicolon begins
    where the header before it stood, unless a colon leads back to the root.

    Raises ScpiError at the first that is no command; those before it were given out.
    """
    base: tuple[str, ...] = ()
    for part in _split(message, ";"):
        text = part.strip()
        if not text:
            continue
        found = _HEADER.match(text)
        if not found:
            raise ScpiError(-102, "Syntax error")
        header, rest = found[1], found[2] or ""
        query, header = header.endswith("?"), header.rstrip("?")
        data = tuple(d.strip() for d in _split(rest, ",")) if rest.strip() else ()
        if any(not d for d in data):
            raise ScpiError(-103, "Invalid separator")
        if header.startswith("*"):
            yield MessageUnit((header.upper(),), query, data)
            continue
        path = tuple(header.strip(":").upper().split(":"))
        if not header.startswith(":"):
            path = (*base, *path)
        base = path[:-1]
        yield MessageUnit(path, query, data)


def _split(text: str, at: str) -> list[str]:
    """Parts between separators that stand in no string; a string that is not closed is an error."""
    parts, quote = [""], ""
    for c in text:
        if quote:
            quote = "" if c == quote else quote
        elif c in "\"'":
            quote = c
        elif c == at:
            parts.append("")
            continue
        parts[-1] += c
    if quote:
        raise ScpiError(-151, "Invalid string data")
    return parts


@dataclass(frozen=True)
class Pattern:
    """A header as the standard writes it: capitals are the short form, brackets may be left out.

    ``Pattern.of("MEASure[:SCALar]:CURRent[:DC]")`` fits ``MEAS:CURR`` and
    ``measure:scalar:current:dc``.
    """

    nodes: tuple[tuple[str, str, bool], ...]

    @staticmethod
    def of(text: str) -> Pattern:
        nodes = []
        for optional, one, other in re.findall(r"(\[)?:?([A-Za-z*]+)(?::?\])?([\]]?)", text):
            short = "".join(c for c in one if not c.islower())
            nodes.append((short, one.upper(), bool(optional) or bool(other)))
        return Pattern(tuple(nodes))

    def fits(self, path: Sequence[str]) -> bool:
        """Whether a header is this one."""
        return _fits(self.nodes, tuple(path))


def _fits(nodes: tuple[tuple[str, str, bool], ...], path: tuple[str, ...]) -> bool:
    if not nodes:
        return not path
    short, long, optional = nodes[0]
    if path and path[0] in (short, long) and _fits(nodes[1:], path[1:]):
        return True
    return optional and _fits(nodes[1:], path)


def number_of(text: str, unit: str, least: float, most: float, default: float) -> float:
    """A number with an optional suffix, or one of the words MIN, MAX and DEF.

    Raises ScpiError: data that is no number (-104), another unit (-131), out of range (-222).
    """
    match text.upper():
        case "MIN" | "MINIMUM":
            return least
        case "MAX" | "MAXIMUM":
            return most
        case "DEF" | "DEFAULT":
            return default
    found = _NUMBER.match(text)
    if not found:
        raise ScpiError(-104, "Data type error")
    value, suffix = float(found[1].replace(" ", "")), found[2].upper()
    if suffix:
        if not unit:
            raise ScpiError(-138, "Suffix not allowed")
        if not suffix.endswith(unit) or suffix[: -len(unit)] not in _SCALE:
            raise ScpiError(-131, "Invalid suffix")
        value *= _SCALE[suffix[: -len(unit)]]
    if not least <= value <= most:
        raise ScpiError(-222, "Data out of range")
    return value


def boolean_of(text: str) -> bool:
    """ON, OFF or a number that is rounded; raises ScpiError."""
    match text.upper():
        case "ON":
            return True
        case "OFF":
            return False
    try:
        return round(float(text)) != 0
    except ValueError:
        raise ScpiError(-104, "Data type error") from None
