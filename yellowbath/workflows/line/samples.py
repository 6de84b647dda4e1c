"""Samples of a run: taken in batches, drawn, given away; a home-made logger's lines and token."""

from __future__ import annotations

import csv
import hashlib
import io
import math
import secrets
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import Connection

from yellowbath.core.errors import InputError, NotFoundError
from yellowbath.core.moments import in_calendar
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.dangers import BEYOND
from yellowbath.core.run.interlocks import Guard, GuardStanding, Interlocks, Trip
from yellowbath.core.run.run import Run, as_set
from yellowbath.core.run.samples import (
    CHANNELS,
    WIDTHS,
    Able,
    Sample,
    Watch,
    Why,
    able,
    why_said,
)
from yellowbath.core.units import MS, System, plain
from yellowbath.store import runs as run_store
from yellowbath.store import samples as store
from yellowbath.store.engine import reading, writing
from yellowbath.workflows.runs.alarms import tell
from yellowbath.workflows.runs.standing import basis_at
from yellowbath.workflows.shop.shop import Shop, system_of

MOST = 20_000  # samples taken at once
_REMEMBERED = 400  # samples looked back at for what a link that lies has shown before


@dataclass(frozen=True)
class Apart:
    """Samples that stand apart, by why: how many, and what is to be said of it."""

    why: Why
    count: int
    what: str
    mend: str


@dataclass(frozen=True)
class Taken:
    """What became of a batch; ``judged`` are the samples that are new, ``trips`` the dangers that
    they tell of, each with its time [ms]."""

    put: store.Put
    apart: Sequence[Apart]
    judged: Sequence[store.Judged] = ()
    trips: Sequence[tuple[int, Trip]] = ()


def ms_of(at: datetime) -> int:
    """A time in milliseconds of the epoch."""
    return round(at.timestamp() * MS)


def at_of(ms: int) -> datetime:
    return datetime.fromtimestamp(ms / MS, UTC)


@dataclass
class Intake:
    """One row of samples on its way in: what the bath can have, and what was seen of it before."""

    run_id: str
    watch: Watch
    able: Able
    guard: Guard
    standing: GuardStanding
    chosen: Interlocks
    system: System

    @classmethod
    def of(cls, c: Connection, run_id: str, basis: Basis, run: Run) -> Intake:
        begun = run.begun
        can = able(basis, None if begun is None else ms_of(begun), 2**62)
        row = store.link_of(c, run_id)
        chosen = Interlocks.model_validate(row.document.get("interlocks", {}) if row else {})
        made = cls(run_id, Watch(), can, Guard(), standing_of(basis, run), chosen, system_of(c))
        for s, why in store.newest_samples(c, run_id, _REMEMBERED):
            made.watch.judge(s, can)
            made.guard.judge(s, why, made.standing, chosen)
        return made

    def tripped(self, judged: Sequence[store.Judged]) -> list[tuple[int, Trip]]:
        """Every danger that some samples tell of, each at the time when it was first sure [ms];
        none from before it was switched on."""
        found: dict[object, tuple[int, Trip]] = {}
        for s, why in judged:
            if why == "early":
                continue
            trip = self.guard.judge(s, why, self.standing, self.chosen, self.system)
            if trip is not None and trip.danger is not None:
                found.setdefault((trip.which, trip.danger.key), (s.at_ms, trip))
        return list(found.values())

    def judged(self, samples: Sequence[Sample], now_ms: int) -> list[store.Judged]:
        can = replace(self.able, now_ms=now_ms)
        return [(s, self.watch.judge(s, can)) for s in sorted(samples, key=lambda s: s.at_ms)]


def take(
    shop: Shop,
    run_id: str,
    samples: Sequence[Sample],
    device_now: datetime | None = None,
    intake: Intake | None = None,
) -> Taken:
    """Keep a batch; what cannot be so is kept apart under its name. Answered once it is on disk.

    ``device_now``: the logger's clock as it sends, by which its times are told by the shop's.
    Raises InputError for too many at once, NotFoundError for no such run.
    """
    if not samples:
        return Taken(store.Put(0, 0, 0), ())
    if len(samples) > MOST:
        raise InputError(f"{len(samples)} samples at once.", allowed=f"At most {MOST} in a batch.")
    now_ms, watched = ms_of(shop.now()), True
    samples = [within_range(s) for s in samples]
    ahead = ms_of(device_now) - now_ms if device_now else 0
    if abs(ahead) > 2 * MS:
        samples = [replace(s, at_ms=s.at_ms - ahead) for s in samples]
    with writing(shop.engine) as c:
        if intake is None:
            basis, run = basis_at(shop, c, run_id)
            intake, watched = Intake.of(c, run_id, basis, run), False
        judged = intake.judged(samples, now_ms)
        put = store.put_samples(c, run_id, judged)
    # whoever keeps an intake of its own judges each sample as it comes
    trips = [] if watched else intake.tripped(judged)
    for at_ms, trip in trips:
        tell(shop, run_id, trip, at_of(min(at_ms, now_ms)), acts=False)
    return Taken(put, apart_of(judged), judged, trips)


def standing_of(basis: Basis, run: Run, share_done: float = 0.0) -> GuardStanding:
    """What a run's samples are held against."""
    hands = [at for key, at in run.last_of.items() if key in _HANDS]
    return GuardStanding(as_set(run, basis), share_done, max(map(ms_of, hands), default=0))


_HANDS = ("change", "back_in", "switch_on", "mended")
"""Entries after which a bath may resist otherwise."""


def within_range(s: Sample) -> Sample:
    """A sample with what no meter shows taken for its range overrun, so that it can be kept."""
    return replace(s, amps=_ranged(s.amps), volts=_ranged(s.volts), bath_c=_ranged(s.bath_c))


def _ranged(value: float | None) -> float | None:
    return value if value is None or math.isnan(value) else max(min(value, BEYOND), -BEYOND)


def apart_of(judged: Sequence[store.Judged]) -> list[Apart]:
    """What stands apart of a batch, the most first."""
    counts: dict[Why, int] = {}
    for _, why in judged:
        if why:
            counts[why] = counts.get(why, 0) + 1
    ordered = sorted(counts.items(), key=lambda kv: -kv[1])
    return [Apart(why, count, *why_said(why)) for why, count in ordered]


def together(puts: Sequence[store.Put]) -> store.Put:
    """What became of several batches."""
    return store.Put(
        sum(p.taken for p in puts), sum(p.known for p in puts), sum(p.clashed for p in puts)
    )


# --- Tokens ----------------------------------------------------------------------------------


def new_token() -> str:
    """What a home-made logger sends with its samples."""
    return secrets.token_urlsafe(18)


def mark_of(token: str) -> str:
    """What is kept of a token: not the token."""
    return hashlib.sha256(token.encode()).hexdigest()


def run_of_token(shop: Shop, run_id: str, token: str) -> None:
    """Raises NotFoundError unless the token is that run's."""
    with reading(shop.engine) as c:
        found = store.link_by_token(c, mark_of(token)) if token else None
    if found is None or found.run_id != run_id:
        raise NotFoundError(
            "That token is not this run's.",
            remedy="Make one on the run's page, under Meter and supply.",
        )


# --- Drawn -----------------------------------------------------------------------------------


@dataclass(frozen=True)
class Series:
    """Points of one channel, oldest first; a gap is a None."""

    at_ms: Sequence[int]
    values: Sequence[float | None]


@dataclass(frozen=True)
class Drawn:
    """What a strip is drawn from: the span of all samples, the part that was asked for, and a
    series a channel. ``apart``: how many stand apart in all; ``width_s``: of the stretches that a
    point sums up, nought where each is a sample."""

    first_ms: int | None
    last_ms: int | None
    count: int
    apart: int
    width_s: int
    series: dict[str, Series] = field(default_factory=dict)


def drawn(shop: Shop, run_id: str, first_ms: int | None, last_ms: int | None, points: int) -> Drawn:
    """A run's samples between two times, thinned to about so many points a channel with their
    extremes kept. Long spans come from the roll-ups, so that a million samples cost no more than
    ten thousand."""
    with reading(shop.engine) as c:
        run_store.run_row(c, run_id)
        span = store.span(c, run_id)
        if span is None:
            return Drawn(None, None, 0, 0, 0)
        first = span.first_ms if first_ms is None else first_ms
        last = span.last_ms if last_ms is None else last_ms
        width = width_for(last - first, points)
        if width:
            rows = store.rolls(c, run_id, width, first, last)
        else:
            rows = store.believed(c, run_id, first, last)
    series = {}
    table = _table(rows)
    for k, name in enumerate(CHANNELS):
        if width:
            at, values = _from_rolls(table, k, width)
        else:
            at, values = _valid(table[:, 0], table[:, 1 + k])
        longest = _longest_ms(width)
        series[name] = thinned(at, values, points, longest)
    return Drawn(span.first_ms, span.last_ms, span.count, span.apart, width, series)


def width_for(span_ms: int, points: int) -> int:
    """Which roll-up serves a span: none while its samples are few."""
    seconds = span_ms / MS
    return next((w for w in reversed(WIDTHS) if seconds / w >= points), 0)


def _longest_ms(width: int) -> int:
    """The longest step in time that is no gap; of stretches, from one half to the next."""
    return round((1.0 * width if width else 5.5) * MS)


def _table(rows: Sequence[Any]) -> NDArray[np.float64]:
    """Rows as numbers, None as NaN; two dimensions also for no rows."""
    width = len(rows[0]) if rows else 10
    return np.array([tuple(r) for r in rows], dtype=np.float64).reshape(len(rows), width)


def _valid(
    at: NDArray[np.float64], values: NDArray[np.float64]
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    keep = ~np.isnan(values)
    return at[keep].astype(np.int64), values[keep]


def _from_rolls(
    table: NDArray[np.float64], channel: int, width: int
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Least and most of each stretch, in the order in which a line goes through them."""
    low, high = table[:, 2 + 3 * channel], table[:, 3 + 3 * channel]
    start = table[:, 0]
    at = np.stack([start + 0.25 * MS * width, start + 0.75 * MS * width], axis=1).ravel()
    return _valid(at, np.stack([low, high], axis=1).ravel())


def thinned(
    at: NDArray[np.int64], values: NDArray[np.float64], points: int, longest_ms: int
) -> Series:
    """So many points of a line at most, each bucket's least and most among them; a None wherever
    nothing was measured for longer than ``longest_ms``."""
    from tsdownsample import MinMaxDownsampler

    if len(at) > points:
        # it wants an even number of points, and buckets of even time
        keep = MinMaxDownsampler().downsample(  # type: ignore[no-untyped-call]
            at, np.ascontiguousarray(values), n_out=points // 2 * 2
        )
        more = [keep, _gap_ends(at, longest_ms), [0, len(at) - 1]]
        keep = np.unique(np.concatenate(more).astype(np.intp))
        # between two kept points there is a gap where the whole line has one
        ends = np.searchsorted(np.flatnonzero(np.diff(at) > longest_ms), keep)
        return _broken(at[keep], values[keep], (np.diff(ends) > 0).tolist())
    cuts = [bool(d > longest_ms) for d in np.diff(at)]
    return _broken(at, values, cuts)


def _gap_ends(at: NDArray[np.int64], longest_ms: int) -> NDArray[np.intp]:
    """The samples before and after every gap, which are kept whatever their value."""
    before = np.flatnonzero(np.diff(at) > longest_ms)
    return np.concatenate([before, before + 1])


def _broken(at: NDArray[np.int64], values: NDArray[np.float64], cuts: Sequence[bool]) -> Series:
    times: list[int] = []
    out: list[float | None] = []
    for k, (t, v) in enumerate(zip(at.tolist(), values.tolist(), strict=True)):
        times.append(int(t))
        out.append(float(f"{v:.5g}"))
        if k < len(cuts) and cuts[k]:
            times.append((int(t) + int(at[k + 1])) // 2)
            out.append(None)
    return Series(times, out)


def there_is(shop: Shop, run_id: str) -> bool:
    """Whether there is such a run."""
    with reading(shop.engine) as c:
        return run_store.has_run(c, run_id)


def newest_entry(shop: Shop, run_id: str) -> int:
    """The number of a run's newest entry, by which a live page sees that it stands otherwise."""
    with reading(shop.engine) as c:
        found = run_store.stamps(c, [run_id]).get(run_id, (0,))[0]
    return int(str(found or 0))


def after(shop: Shop, run_id: str, at_ms: int, most: int) -> list[dict[str, Any]]:
    """The newest samples after a time, oldest first, as a live page is told them."""
    with reading(shop.engine) as c:
        system = system_of(c)
        found = store.samples_from(c, run_id, at_ms, most)
    return [
        {"at_ms": s.at_ms, "amps": s.amps, "volts": s.volts, "why": why,
         "bath_c": None if s.bath_c is None else round(plain(s.bath_c, "temperature", system), 2)}
        for s, why in found
    ]  # fmt: skip


# --- Given away ------------------------------------------------------------------------------

HEADER = ("time", "amps", "volts", "bath_c", "apart")


def csv_lines(shop: Shop, run_id: str) -> Iterator[str]:
    """All samples of a run as lines of CSV, times in UTC; what stands apart says why."""
    with reading(shop.engine) as c:
        run_store.run_row(c, run_id)
        yield ",".join(HEADER) + "\r\n"
        for s, why in store.each_sample(c, run_id):
            cells = ["" if v is None else f"{v:g}" for v in s.values]
            at = at_of(s.at_ms).isoformat(timespec="milliseconds").replace("+00:00", "Z")
            yield ",".join([at, *cells, why]) + "\r\n"


# --- Lines and files that are brought ----------------------------------------------------------


def from_lines(text: str) -> list[Sample]:
    """Samples of a logger's own lines: ``time,amps,volts,warmth``, time in ISO form or as seconds
    or milliseconds of the epoch; what was not measured is left empty. Raises InputError with the
    line that cannot be read."""
    found = []
    for number, row in enumerate(csv.reader(io.StringIO(text)), start=1):
        if not row or not "".join(row).strip() or (number == 1 and row[0].strip() == "time"):
            continue
        try:
            values = [_number(cell) for cell in (*row[1:4], "", "", "")[:3]]
            found.append(Sample(time_of(row[0]), *values))
        except ValueError:
            raise InputError(
                f"Line {number} cannot be read: {','.join(row)[:80]}.",
                allowed="time,amps,volts,bath: 2026-03-01T09:30:00Z,2.41,11.9,19.5",
                remedy="Nothing of it was kept.",
            ) from None
    return found


def _number(text: str) -> float | None:
    """A cell; empty is None. A comma is a decimal one. Raises ValueError."""
    text = text.strip().replace(",", ".")
    if not text:
        return None
    value = float(text)
    if math.isnan(value):
        raise ValueError(text)
    return value


def time_of(text: str) -> int:
    """A time in milliseconds; raises ValueError for what is none, or has no zone."""
    text = text.strip()
    try:
        number = float(text)
    except ValueError:
        at = datetime.fromisoformat(text)
        if at.tzinfo is None:
            raise ValueError("a time without a zone") from None
        return ms_of(in_calendar(at))
    if not math.isfinite(number):
        raise ValueError(text)
    # seconds of the epoch have ten digits until 2286, milliseconds thirteen
    ms = round(number if number > 1e11 else number * MS)
    if not 0 <= ms < _LATEST_MS:
        raise ValueError(text)
    return ms


_LATEST_MS = 7_258_118_400_000  # 2200
