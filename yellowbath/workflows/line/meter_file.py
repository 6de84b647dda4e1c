"""A meter's own file: looked into, its columns guessed, and brought once somebody has said which
column is what."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, timezone
from typing import Literal

import charset_normalizer

from yellowbath.core.errors import InputError
from yellowbath.core.moments import in_calendar
from yellowbath.core.run.dangers import BEYOND
from yellowbath.core.run.samples import Sample
from yellowbath.core.units import MS
from yellowbath.workflows.line.samples import (
    MOST,
    Taken,
    apart_of,
    ms_of,
    take,
    time_of,
    together,
)
from yellowbath.workflows.shop.shop import Shop

Role = Literal["time", "amps", "volts", "bath"]
_ROWS = 400_000  # of a file; four days at one a second
_SHOWN = 5
# what a heading says of its column; the first that fits. Units as meters write them.
_HEADINGS: Sequence[tuple[Role, str]] = (
    ("time", r"time|date|stamp|elapsed|^t$|^s$|\bsec"),
    ("bath", r"temp|°|deg|celsius|fahrenheit|\bprobe|^c$|^f$"),
    ("amps", r"amp|curr|\bi\b|\(m?a\)|\bm?a$"),
    ("volts", r"volt|\bu\b|\(m?v\)|\bm?v$"),
)
_SCALES = {"m": 1e-3, "k": 1e3, "": 1.0}
_STAMPS = ("%Y/%m/%d %H:%M:%S", "%d.%m.%Y %H:%M:%S", "%d.%m.%Y %H:%M")
_SLASHED = {False: ("%d/%m/%Y %H:%M:%S", "%d/%m/%Y %H:%M"),
            True: ("%m/%d/%Y %H:%M:%S", "%m/%d/%Y %H:%M")}  # fmt: skip


@dataclass(frozen=True)
class ColumnSeen:
    """A column of a file: its heading, its first cells, and what it is taken for; ``unit`` as its
    heading has it."""

    number: int
    heading: str
    cells: Sequence[str]
    guess: Role | None
    unit: str


@dataclass(frozen=True)
class FileSeen:
    """What a file looks like: its columns, and how many rows."""

    columns: Sequence[ColumnSeen]
    rows: int
    elapsed: bool


@dataclass(frozen=True)
class Columns:
    """Which column is what, as somebody said; times without a zone are ``zone_min`` minutes ahead
    of UTC; elapsed ones count from ``start``. In dates with strokes the day or, with
    ``month_first``, the month comes first."""

    time: int
    amps: int | None = None
    volts: int | None = None
    bath: int | None = None
    zone_min: int = 0
    start: datetime | None = None
    month_first: bool = False


@dataclass(frozen=True)
class Brought:
    """What became of a file: how many rows became samples, how many could not be read, the first
    of those, and what was kept."""

    rows: int
    unread: int
    first_unread: str
    taken: Taken


def look_into(data: bytes) -> FileSeen:
    """A file's columns with what each is taken for. Raises InputError for what is no table."""
    heading, rows = _table(data)
    width = max(len(r) for r in rows)
    columns, given = [], set[Role]()
    for k in range(width):
        name = heading[k].strip() if k < len(heading) else ""
        cells = [r[k].strip() if k < len(r) else "" for r in rows[:_SHOWN]]
        guess = _guess(name, cells)
        guess = None if guess in given else guess
        if guess:
            given.add(guess)
        columns.append(ColumnSeen(k, name[:80], [c[:40] for c in cells], guess, _unit(name)))
    time_column = next((c for c in columns if c.guess == "time"), None)
    elapsed = time_column is not None and _elapsed(time_column.cells)
    return FileSeen(columns, len(rows), elapsed)


def bring(shop: Shop, run_id: str, data: bytes, columns: Columns) -> Brought:
    """Make samples of a file's rows and keep them; a row that cannot be read is counted and left
    out. Raises InputError where no row can be read at all."""
    heading, rows = _table(data)
    scale = {name: _scale(heading, getattr(columns, name)) for name in ("amps", "volts")}
    unit = _unit(_name(heading, columns.bath))
    samples: list[Sample] = []
    unread, first = 0, ""
    for row in rows:
        try:
            at = _at(_cell(row, columns.time) or "", columns)
            amps, volts, bath = (
                _value(_cell(row, getattr(columns, name))) for name in ("amps", "volts", "bath")
            )
            bath = None if bath == BEYOND else bath  # an open probe
        except ValueError:
            unread += 1
            first = first or ", ".join(row)[:120]
            continue
        samples.append(Sample(
            at,
            amps if amps in (None, BEYOND) else amps * scale["amps"],
            volts if volts in (None, BEYOND) else volts * scale["volts"],
            None if bath is None else _celsius(bath, unit),
        ))  # fmt: skip
    if not samples:
        raise InputError(
            f"No row of this file can be read with these columns; the first is: {first}.",
            remedy="Choose the column of the time, and see that its times have a date.",
        )
    return Brought(len(samples), unread, first, _kept(shop, run_id, samples))


def _kept(shop: Shop, run_id: str, samples: list[Sample]) -> Taken:
    """In batches, told as one."""
    samples.sort(key=lambda s: s.at_ms)
    parts = [take(shop, run_id, samples[k : k + MOST]) for k in range(0, len(samples), MOST)]
    judged = [j for part in parts for j in part.judged]
    return Taken(together([p.put for p in parts]), apart_of(judged), judged)


def _table(data: bytes) -> tuple[list[str], list[list[str]]]:
    """The heading, empty where there is none, and the rows of a file in any usual form."""
    found = charset_normalizer.from_bytes(data[:200_000]).best()
    if found is None or b"\x00\x00\x00" in data[:2000]:
        raise InputError("That is no text file.", remedy="Have the meter write CSV.")
    text = data.decode(found.encoding, errors="replace").lstrip("\ufeff")
    lines = text.splitlines()
    if any(len(line) > _LONGEST for line in lines):
        raise InputError(
            f"A line of this file has over {_LONGEST:,} signs: that is no table of a meter.",
            allowed="A row a reading: a time and a few figures.",
            remedy="Have the meter write CSV, a reading on each line.",
        )
    start = next((k for k, line in enumerate(lines) if _looks_like_row(line)), None)
    if start is None:
        raise InputError(
            "No row of figures is in this file.",
            allowed="A table with a time and amps, volts or warmth in each row.",
        )
    delimiter = _delimiter(lines[start])
    before = lines[start - 1] if start else ""
    heading = next(csv.reader([before], delimiter=delimiter), [])
    rows = list(csv.reader(io.StringIO("\n".join(lines[start:])), delimiter=delimiter))
    rows = [r for r in rows if any(c.strip() for c in r)]
    if len(rows) > _ROWS:
        raise InputError(
            f"{len(rows)} rows at once.", allowed=f"At most {_ROWS}.", remedy="Cut the file in two."
        )
    return heading, rows


def _looks_like_row(line: str) -> bool:
    cells = next(csv.reader([line], delimiter=_delimiter(line)), [])
    return len(cells) >= 2 and sum(bool(re.search(r"\d", c)) for c in cells) * 2 > len(cells)


def _delimiter(line: str) -> str:
    """What parts the cells: a comma only where nothing else does, since it may be a decimal one."""
    return next((d for d in (";", "\t", "|") if d in line), ",")


def _guess(heading: str, cells: Sequence[str]) -> Role | None:
    low = heading.lower()
    for role, pattern in _HEADINGS:
        if re.search(pattern, low):
            return role
    stamps = [c for c in cells if re.search(r"\d[:/.-]\d\d[:/.-]\d|T\d\d:", c)]
    return "time" if cells and len(stamps) == len(cells) else None


def _unit(heading: str) -> str:
    found = re.search(r"[(\[]\s*([^)\]]{1,8}?)\s*[)\]]|\b(m?[AV]|°[CF]|[CFK])$", heading)
    return (found[1] or found[2]) if found else ""


def _scale(heading: Sequence[str], column: int | None) -> float:
    """Of milliamps and millivolts, as their heading says."""
    found = re.match(r"^(m|k)?[AV]$", _unit(_name(heading, column)))
    return _SCALES[found[1] or ""] if found else 1.0


def _name(heading: Sequence[str], column: int | None) -> str:
    return heading[column] if column is not None and column < len(heading) else ""


def _celsius(value: float, unit: str) -> float:
    match unit.strip("°").upper():
        case "F":
            return (value - 32) / 1.8
        case "K":
            return value - 273.15
    return value


def _cell(row: Sequence[str], column: int | None) -> str | None:
    return row[column].strip() if column is not None and column < len(row) else None


def _value(text: str | None) -> float | None:
    """A cell's number; a decimal comma is one, dashes are none; OL is a range overrun."""
    if text is None or text == "" or text.strip("-").upper() in ("", "NAN", "N/A"):
        return None
    if text.strip("-").upper() in _OVER:
        return BEYOND
    return float(text.replace(",", ".").replace(" ", ""))


_LONGEST = 20_000
_OVER = ("OL", "OVLD", "OVER", "O.L")


def _elapsed(cells: Sequence[str]) -> bool:
    """Whether times count from a start: small numbers, or a clock without a date."""
    return all(re.match(r"^(\d{1,7}([.,]\d+)?|\d{1,3}:\d\d(:\d\d([.,]\d+)?)?)$", c) for c in cells)


def _at(text: str, columns: Columns) -> int:
    """A row's time [ms]; raises ValueError."""
    if columns.start is not None and _elapsed([text]):
        parts = [float(p.replace(",", ".")) for p in text.split(":")]
        seconds = 0.0
        for part in parts:
            seconds = 60 * seconds + part
        if len(parts) == 2:  # hours and minutes of a clock
            seconds *= 60
        return ms_of(columns.start) + round(seconds * MS)
    try:
        return time_of(text)
    except ValueError:
        zone = timezone(timedelta(minutes=columns.zone_min))
        stamp = _stamp(text, columns.month_first).replace(tzinfo=zone)
        return ms_of(in_calendar(stamp).astimezone(UTC))


def _stamp(text: str, month_first: bool) -> datetime:
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        pass
    for form in (*_STAMPS, *_SLASHED[month_first]):
        try:
            return datetime.strptime(text, form)
        except ValueError:
            continue
    raise ValueError(text)
