"""Vessels as people call them, and how full they say one is."""

from __future__ import annotations

import re
from collections.abc import Mapping

from yellowbath.core.numerals import number_at

# what it is called, and which of the usual vessels that is
VESSELS: Mapping[str, str] = {
    "bucket": "bucket", "pail": "bucket", "tub": "tub", "bin": "bin", "dustbin": "bin",
    "trash can": "bin", "garbage can": "bin", "barrel": "barrel", "drum": "barrel", "keg": "barrel",
    "tote": "box", "storage box": "box", "crate": "crate", "tray": "tray", "trug": "tray",
    "wheelie bin": "wheeled", "wheeled bin": "wheeled", "bath tub": "box", "bathtub": "box",
    "cooler": "box",
}  # fmt: skip
_LONGEST_FIRST = "|".join(sorted(VESSELS, key=len, reverse=True))
_KIND = "plastic|old|new|big|small|large|metal|steel|blue|black|white"
_LEAD = f"an?|the|my|our|one|of|{_KIND}"
_NAMES = re.compile(rf"\b(?:(?:{_KIND}) )*({_LONGEST_FIRST})s?\b", re.IGNORECASE)


def named(text: str) -> tuple[str, str]:
    """The usual vessel that a text names, or none, and the text without it.

    >>> named("a 55 gallon drum"), named("20 L")
    (('barrel', '55 gallon'), ('', '20 L'))
    """
    found = _NAMES.search(text)
    if found is None:
        return "", text.strip()
    left = f"{text[: found.start()]} {text[found.end() :].lstrip(' ,;:-')}".strip()
    left = re.sub(rf"^(?:(?:{_LEAD})\b\s*)+|\s*(?:\b(?:of|inside)|[,;:-])$", "", left, flags=re.I)
    return VESSELS[found[1].lower()], " ".join(left.split())


def part_full(text: str) -> tuple[float, str]:
    """How full something is said to be, and the text without it; full where nothing is said.

    >>> part_full("2 L half full")
    (0.5, '2 L')
    """
    found = re.search(r"\b((?:three |two |a |one )?(?:half|thirds?|quarters?)) full\b", text)
    if found is None:
        return 1.0, re.sub(r"\bfull(?: of)?\b", "", text).strip()
    share = number_at(found[1])
    left = f"{text[: found.start()]} {text[found.end() :]}"
    return (share[0] if share else 1.0), " ".join(left.split())
