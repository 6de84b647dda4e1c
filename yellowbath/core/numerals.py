"""Numbers as people write and say them: ``1 1/2``, ``3/16ths``, ``two and a half``, ``half a
dozen``, ``2-4``, ``about 3``, ``between 10 and 12``."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

ONES: Mapping[str, float] = {
    "a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7,
    "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14,
    "fifteen": 15, "sixteen": 16, "seventeen": 17, "eighteen": 18, "nineteen": 19, "zero": 0,
    "nought": 0, "no": 0,
}  # fmt: skip
TENS: Mapping[str, float] = {
    "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80,
    "ninety": 90,
}  # fmt: skip
LOTS: Mapping[str, float] = {"hundred": 100, "thousand": 1000, "dozen": 12, "couple": 2, "pair": 2}
PARTS: Mapping[str, float] = {
    "half": 1 / 2, "halves": 1 / 2, "third": 1 / 3, "quarter": 1 / 4, "fifth": 1 / 5,
    "eighth": 1 / 8, "tenth": 1 / 10, "sixteenth": 1 / 16, "hundredth": 1 / 100,
}  # fmt: skip
_PART = r"(half|halves|thirds?|quarters?|fifths?|eighths?|tenths?|sixteenths?|hundredths?)"
_GLYPHS: Mapping[str, str] = {
    "½": "1/2", "¼": "1/4", "¾": "3/4", "⅓": "1/3", "⅔": "2/3", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8",
    "⅞": "7/8",
}  # fmt: skip
_PLAIN: Mapping[str, str] = {
    "²": "2", "³": "3", "−": "-", "–": "-", "—": "-", "”": '"', "“": '"', "″": '"', "′": "'",
    "’": "'", "‘": "'", "''": '"', "\u00a0": " ", "\u202f": " ", "⁄": "/", "×": "x",
}  # fmt: skip
FIGURES = (
    r"(?:\d+\s+\d+\s?/\s?\d+|\d+-\d+/\d+|\d+\s?/\s?\d+|\d{1,3}(?:\s\d{3})+(?!\d)|\d+(?:[.,]\d+)?"
    r"|[.,]\d+)(?:ths?|nds?|rds?)?(?![a-z]*(?:ths|th)\b)"
)
_FIGURES = re.compile(FIGURES, re.IGNORECASE)
_ABOUT = re.compile(
    r"^(?:(?:about|around|roughly|approx(?:imately)?|circa|ca|some|say|maybe|perhaps|nearly|almost"
    r"|just (?:over|under|about)|a (?:bit|little) (?:over|under|more than|less than)|up to"
    r"|something like|give or take|it(?:'s| is)|they are|probably)\b\.?|~|±|=)\s*",
    re.IGNORECASE,
)
_OR_SO = re.compile(
    r"\s*(?:,?\s*(?:or so|or thereabouts|give or take|roughly|approx\.?|ish|i think|max|maybe)"
    r"|-ish)\s*$",
    re.IGNORECASE,
)
_TO = re.compile(r"\s*(?:-|\bto\b|\band\b|\bor\b)\s*", re.IGNORECASE)
_THOUSANDS = re.compile(r"(?<![\d.,])\d{1,3}(?:,\d{3})+(?![\d,])")


@dataclass(frozen=True)
class Number:
    """A number that was said, [-]: as it counts, and how far it may reach where a range was said or
    “about”."""

    value: float
    low: float
    high: float
    about: bool = False


def tidied(text: str) -> str:
    """The same text with plain figures, quotes, dashes and spaces.

    >>> tidied("1½ in – about")
    '1 1/2 in - about'
    """
    for glyph, plain in _GLYPHS.items():
        text = re.sub(rf"(\d){glyph}", rf"\1 {plain}", text).replace(glyph, plain)
    for odd, plain in _PLAIN.items():
        text = text.replace(odd, plain)
    return " ".join(text.split())


def surely(text: str) -> tuple[str, bool]:
    """A tidied text without “about”, “or so” and their like, and whether it had one."""
    left = text
    while (shorter := _OR_SO.sub("", _ABOUT.sub("", left, count=1))) != left:
        left = shorter
    left = re.sub(r"^(?:an?|the|my|one)\s+(?=[\d.])", "", left.strip(), flags=re.IGNORECASE)
    return left, left != text


def two_ways(text: str) -> tuple[str, str] | None:
    """Both readings of a comma before three figures, which is a thousand to some and a decimal to
    others; None where there is none.

    >>> two_ways("1,500 mm"), two_ways("1,5 L")
    (('1500', '1.5'), None)
    """
    found = _THOUSANDS.search(text)
    if found is None:
        return None
    joined = found[0].replace(",", "")
    parts = found[0].split(",")
    if len(parts) > 2 or parts[0] == "0":
        return None
    return joined, f"{float(found[0].replace(',', '.')):g}"


def number_at(text: str) -> tuple[float, str] | None:
    """The number that a tidied text begins with, in figures or in words, and the rest; None where
    it begins with none.

    >>> number_at("two and a half litres"), number_at("3/16ths in")
    ((2.5, 'litres'), (0.1875, 'in'))
    """
    text = text.lstrip()
    if found := _FIGURES.match(text):
        value = in_figures(found[0])
        return None if value is None else _and_part(value, text[found.end() :])
    return _in_words(text)


def figured(text: str) -> str:
    """The same text with its numbers in words as figures, an “a” apart.

    >>> figured("twelve volts, two and a half amps"), figured("a foot")
    ('12 volts, 2.5 amps', 'a foot')
    """
    out, left = "", text
    while found := re.search(r"[A-Za-z]+", left):
        word = found[0].lower()
        begins = word in TENS or word in LOTS or (word in ONES and word not in ("a", "an", "no"))
        said = number_at(left[found.start() :]) if begins or word == "half" else None
        if said is None:
            out, left = out + left[: found.end()], left[found.end() :]
        else:
            gap = " " if said[1][:1].isalnum() else ""
            out, left = f"{out}{left[: found.start()]}{said[0]:g}{gap}", said[1]
    return out + left


def range_at(text: str) -> tuple[Number, str] | None:
    """The same of a number or of a range, ``2-4``, ``2 to 4``, ``between 2 and 4``, ``2 or 3``.

    >>> range_at("2 to 4 A")
    (Number(value=3.0, low=2.0, high=4.0, about=True), 'A')
    """
    begun = re.match(r"(?:between|from)\s+", text, re.IGNORECASE)
    one = number_at(text[begun.end() :] if begun else text)
    if one is None:
        return None
    low, rest = one
    to = _TO.match(rest)
    other = number_at(rest[to.end() :]) if to else None
    if to is None or other is None:
        return Number(low, low, low), rest
    high, after = other
    if high <= low:
        return Number(low, low, low), rest
    return Number((low + high) / 2, low, high, True), after


def in_figures(text: str) -> float | None:
    """A number in figures [-]; None where it divides by nought.

    >>> in_figures("2 1/2"), in_figures("1,5"), in_figures("12 500")
    (2.5, 1.5, 12500.0)
    """
    plain = re.sub(r"(?:ths?|nds?|rds?)$", "", text.strip(), flags=re.IGNORECASE)
    plain = re.sub(r"\s?/\s?", "/", plain)
    if "/" not in plain:
        return float(plain.replace(" ", "").replace(",", "."))
    whole, _, part = plain.replace("-", " ").rpartition(" ")
    top, bottom = part.split("/")
    if float(bottom) == 0:
        return None
    return (float(whole) if whole else 0.0) + float(top) / float(bottom)


def _in_words(text: str) -> tuple[float, str] | None:
    words = re.findall(r"[A-Za-z]+|[^A-Za-z]+", text)
    spoken = [w.lower() for w in words]
    at, total, seen = 0, 0.0, False
    while at < len(spoken):
        word = spoken[at]
        if word in ONES and not (seen and word in ("a", "an", "no")):
            total += ONES[word]
        elif word in TENS:
            total += TENS[word]
        elif word in LOTS:
            total = (total if seen and total else 1.0) * LOTS[word]
            if "".join(spoken[at + 1 : at + 4]) in (" of ", " of"):
                at += 2
        else:
            break
        seen = True
        at += 1
        # a space or hyphen between two words of one number; “and” after a hundred
        gap = re.match(r"(?:\s+and\s+|[\s-]+)", "".join(words[at:]))
        after = "".join(words[at:])[gap.end() :] if gap else ""
        following = re.match(r"[a-z]+", after.lower())
        if not following or not (following[0] in ONES or following[0] in TENS
                                 or following[0] in LOTS) or _names_part(after):  # fmt: skip
            break
        words = [*words[:at], *re.findall(r"[A-Za-z]+|[^A-Za-z]+", after)]
        spoken = [w.lower() for w in words]
    rest = "".join(words[at:]).strip()
    part = re.match(rf"(?:of\s+)?{_PART}\b", rest, re.IGNORECASE)
    if part:  # three quarters; a half
        total = (total if seen else 1.0) * _part(part[1])
        rest = _of(rest[part.end() :])
        lot = re.match(r"(dozen|hundred|thousand)\b\s*", rest, re.IGNORECASE)
        return (total * LOTS[lot[1].lower()], rest[lot.end() :]) if lot else (total, rest)
    if not seen:
        return None
    return _and_part(total, rest)


def _names_part(text: str) -> bool:
    return bool(re.match(rf"(?:an?|one|two|three|five|seven)\s+{_PART}\b", text, re.IGNORECASE))


def _part(name: str) -> float:
    key = name.lower()
    return PARTS.get(key) or PARTS[key.removesuffix("s")]


def _of(rest: str) -> str:
    """What follows a part: ``half an inch``, ``a quarter of a litre``, ``half a dozen``."""
    return re.sub(r"^\s*(?:of\s+)?(?:an?\s+|the\s+)?", "", rest, flags=re.IGNORECASE)


def _and_part(value: float, rest: str) -> tuple[float, str]:
    """A part that comes after: ``two and a half``, ``1 and three quarters``."""
    more = re.match(
        rf"\s*and\s+(?:(an?|one|two|three|five|seven)\s+)?{_PART}\b", rest, re.IGNORECASE
    )
    if more is None:
        return value, rest.strip()
    times = ONES[more[1].lower()] if more[1] else 1.0
    return value + times * _part(more[2]), rest[more.end() :].strip()
