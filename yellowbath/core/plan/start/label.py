"""What the label of a charger says, in one phrase: ``12 V 6 A``, ``12V/6V 72 W``, ``60 Ah``."""

from __future__ import annotations

import re
from dataclasses import dataclass

from yellowbath.core.errors import NotUnderstoodError, OutOfRangeError
from yellowbath.core.numerals import figured, tidied

_NUMBER = r"(\d+(?:[.,]\d+)?)"
_NAMES = r"ah|va|v(?:olts?)?|a(?:mps?|mperes?)?|w(?:atts?)?"
_UNIT = re.compile(rf"{_NUMBER}\s*(m?)({_NAMES})\b(?!\s*~)", re.IGNORECASE)
_AFTER = re.compile(rf"[\d.,/|\s-]*?{_NUMBER}\s*(m?(?:{_NAMES}))\b", re.IGNORECASE)
_LISTED = re.compile(rf"{_NUMBER}\s*(?:[/|-]|,\s|\bto\b|\bor\b)\s*(?={_NUMBER})", re.IGNORECASE)
_HOURS = re.compile(r"\bamp(?:ere)?s?[\s-]*h(?:ou)?rs?\b|\ba\.\s?h\.?", re.IGNORECASE)
_COMMAS = re.compile(r"\d+(?:,\d+){2,}")  # a list, where one comma is a decimal's
_MAINS_V = 60.0  # V; more is the mains side of a label; judged
_KEPT = (2.0, 15.0)  # amps of a range that suits a bath; above, a charger means to start engines


@dataclass(frozen=True)
class Label:
    """Volts [V], amps [A] and battery [Ah] that a label gives; None where it does not say.

    ``others``: what else it can be set to, as it stands there.
    """

    volts: float | None = None
    amps: float | None = None
    hours: float | None = None
    others: str = ""


def read_label(text: str) -> Label:
    """What a label says of its output.

    Of several volts 12 is taken where it is there, of several amps the most that suits a bath.
    Raises NotUnderstoodError where neither volts, amps nor watts are in it, OutOfRangeError where
    only mains volts are.

    >>> read_label("INPUT 230V 50Hz OUTPUT 12V 4A")
    Label(volts=12.0, amps=4.0, hours=None, others='')
    """
    said = _HOURS.sub("Ah", figured(tidied(text)))
    said = re.sub(r"(?<=[A-Za-z])(?=\d)", " ", said)
    said = _COMMAS.sub(lambda m: m[0].replace(",", "/"), said)
    said = re.split(r"\bout(?:put)?\b", said, flags=re.IGNORECASE)[-1]
    found: dict[str, list[float]] = {"v": [], "a": [], "w": [], "ah": []}
    # in a row such as 6/12 V each takes the unit of the last
    row = said
    while (listed := _LISTED.search(row)) is not None:
        rest = row[listed.end() :]
        after = _AFTER.match(rest)
        tail = f" {after[2]} " if after else " "
        row = f"{row[: listed.start()]}{listed[1]}{tail}{rest}"
    for number, milli, unit_text in _UNIT.findall(row):
        value = float(number.replace(",", ".")) / (1000 if milli else 1)
        unit = unit_text.lower()
        found[unit if unit == "ah" else {"va": "w"}.get(unit, unit[0])].append(value)
    low = [v for v in found["v"] if v <= _MAINS_V]
    if found["v"] and not low:
        raise OutOfRangeError(
            f"{max(found['v']):g} V is the mains side.",
            allowed="A bath wants 6 to 24 V.",
            remedy="Read the line that says output, such as 12 V 6 A.",
        )
    volts = 12.0 if 12.0 in low else (max(low) if low else None)
    suits = [a for a in found["a"] if a <= _KEPT[1]] or [min(found["a"], default=0.0)]
    amps = max(suits) or None
    if amps is None and found["w"] and volts:
        amps = max(found["w"]) / volts
    if volts is None and amps is None and not found["ah"]:
        raise NotUnderstoodError(
            f"“{text[:40]}” has neither volts nor amps in it.",
            remedy="Write what the label says, such as 12 V 6 A, or choose “don't know”.",
        )
    left = [f"{v:g} V" for v in sorted(set(low)) if v != volts]
    left += [f"{a:g} A" for a in sorted(set(found["a"])) if a != amps]
    return Label(volts, amps, max(found["ah"], default=0.0) or None, ", ".join(left))
