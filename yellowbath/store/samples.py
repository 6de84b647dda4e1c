"""Samples, their roll-ups, and what hangs on a run's line."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, case, func, select, update
from sqlalchemy.dialects.sqlite import insert

from yellowbath.core.run.moves import OVER
from yellowbath.core.run.samples import CHANNELS, WIDTHS, Roll, Sample, Why, rolled
from yellowbath.store.tables import links, runs, sample_rolls, samples

Judged = tuple[Sample, Why]


@dataclass(frozen=True)
class Put:
    """What became of a batch: how many are kept now, how many were there already just so, and how
    many met another sample at their time, which stands."""

    taken: int
    known: int
    clashed: int


def put_samples(c: Connection, run_id: str, judged: Sequence[Judged]) -> Put:
    """Append a batch and bring its roll-ups along; one time holds one sample, the first."""
    new: dict[int, Judged] = {}
    known = clashed = 0
    there = _values_at(c, run_id, [s.at_ms for s, _ in judged])
    for s, why in judged:
        had = there.get(s.at_ms) or (new[s.at_ms][0].values if s.at_ms in new else None)
        if had is None:
            new[s.at_ms] = (s, why)
        elif had == s.values:
            known += 1
        else:
            clashed += 1
    if new:
        c.execute(
            samples.insert(),
            [
                {"run_id": run_id, "at_ms": s.at_ms, "amps": s.amps, "volts": s.volts,
                 "bath_c": s.bath_c, "why": why}
                for s, why in new.values()
            ],
        )  # fmt: skip
        for width in WIDTHS:
            for roll in rolled(new.values(), width).values():
                _add_roll(c, run_id, width, roll)
    return Put(len(new), known, clashed)


def _values_at(
    c: Connection, run_id: str, times_ms: Sequence[int]
) -> Mapping[int, tuple[float | None, ...]]:
    """What is kept at some times: by each, or an old one beside a new would read all between."""
    t = samples
    found: dict[int, tuple[float | None, ...]] = {}
    for k in range(0, len(times_ms), _AT_ONCE):
        query = select(t.c.at_ms, t.c.amps, t.c.volts, t.c.bath_c).where(
            t.c.run_id == run_id, t.c.at_ms.in_(times_ms[k : k + _AT_ONCE])
        )
        found |= {row[0]: tuple(row[1:]) for row in c.execute(query)}
    return found


_AT_ONCE = 900  # times in one query


def _add_roll(c: Connection, run_id: str, width: int, roll: Roll) -> None:
    t = sample_rolls
    values: dict[str, Any] = {
        "run_id": run_id, "width_s": width, "start_ms": roll.start_ms,
        "count": roll.count, "apart": roll.apart,
    }  # fmt: skip
    for name in CHANNELS:
        n, total, low, high = roll.of.get(name, (0, 0.0, None, None))
        values |= {f"{name}_n": n, f"{name}_sum": total, f"{name}_low": low, f"{name}_high": high}
    made = insert(t).values(**values)
    new = made.excluded
    sums = ["count", "apart", *(f"{n}_{w}" for n in CHANNELS for w in ("n", "sum"))]
    grown: dict[str, Any] = {k: t.c[k] + new[k] for k in sums}
    for name in CHANNELS:
        for end, choose in (("low", func.min), ("high", func.max)):
            was, came = t.c[f"{name}_{end}"], new[f"{name}_{end}"]
            either = choose(func.coalesce(was, came), func.coalesce(came, was))
            grown[f"{name}_{end}"] = either
    key = [t.c.run_id, t.c.width_s, t.c.start_ms]
    c.execute(made.on_conflict_do_update(index_elements=key, set_=grown))


@dataclass(frozen=True)
class Span:
    """How far the samples of a run reach [ms]; how many there are, and how many stand apart."""

    first_ms: int
    last_ms: int
    count: int
    apart: int


def span(c: Connection, run_id: str) -> Span | None:
    """What there is of a run's samples; None for none. By the minutes, not by each."""
    t = sample_rolls
    query = select(
        func.min(t.c.start_ms), func.max(t.c.start_ms), func.sum(t.c.count), func.sum(t.c.apart)
    ).where(t.c.run_id == run_id, t.c.width_s == WIDTHS[-1])
    first, last, count, apart = c.execute(query).one()
    if first is None:
        return None
    newest = c.scalar(
        select(func.max(samples.c.at_ms)).where(samples.c.run_id == run_id, samples.c.at_ms >= last)
    )
    oldest = c.scalar(
        select(func.min(samples.c.at_ms)).where(
            samples.c.run_id == run_id, samples.c.at_ms >= first
        )
    )
    return Span(int(oldest), int(newest), int(count), int(apart))


def samples_from(
    c: Connection, run_id: str, after_ms: int, most: int = 100_000, until_ms: int = 2**62
) -> list[Judged]:
    """Samples after a time, oldest first, at most so many."""
    t = samples
    query = select(t.c.at_ms, t.c.amps, t.c.volts, t.c.bath_c, t.c.why).where(
        t.c.run_id == run_id, t.c.at_ms > after_ms, t.c.at_ms <= until_ms
    )
    rows = c.execute(query.order_by(t.c.at_ms).limit(most))
    return [(Sample(at, a, v, w), why) for at, a, v, w, why in rows]


def newest_samples(c: Connection, run_id: str, most: int) -> list[Judged]:
    """The newest so many, oldest first."""
    t = samples
    query = select(t.c.at_ms, t.c.amps, t.c.volts, t.c.bath_c, t.c.why).where(t.c.run_id == run_id)
    rows = c.execute(query.order_by(t.c.at_ms.desc()).limit(most)).all()
    return [(Sample(at, a, v, w), why) for at, a, v, w, why in reversed(rows)]


def believed(c: Connection, run_id: str, first_ms: int, last_ms: int) -> list[Any]:
    """Rows (time, amps, volts, warmth) of what is believed between two times, as plain tuples."""
    t = samples
    query = (
        select(t.c.at_ms, t.c.amps, t.c.volts, t.c.bath_c)
        .where(t.c.run_id == run_id, t.c.at_ms.between(first_ms, last_ms), t.c.why == "")
        .order_by(t.c.at_ms)
    )
    return list(c.execute(query).all())


def rolls(c: Connection, run_id: str, width_s: int, first_ms: int, last_ms: int) -> list[Any]:
    """Rows of a roll-up between two times: start, then mean, least and most by channel."""
    t = sample_rolls
    means = [
        column
        for n in CHANNELS
        for column in (
            case((t.c[f"{n}_n"] > 0, t.c[f"{n}_sum"] / t.c[f"{n}_n"])),
            t.c[f"{n}_low"],
            t.c[f"{n}_high"],
        )
    ]
    query = (
        select(t.c.start_ms, *means)
        .where(
            t.c.run_id == run_id, t.c.width_s == width_s,
            t.c.start_ms.between(first_ms - 1000 * width_s, last_ms),
        )
        .order_by(t.c.start_ms)
    )  # fmt: skip
    return list(c.execute(query).all())


def each_sample(c: Connection, run_id: str) -> Iterator[Judged]:
    """All samples of a run, oldest first, a few thousand at a time."""
    after = -1
    while True:
        found = samples_from(c, run_id, after, 5000)
        yield from found
        if len(found) < 5000:
            return
        after = found[-1][0].at_ms


# --- Lines -----------------------------------------------------------------------------------


@dataclass(frozen=True)
class LinkRow:
    """What hangs on a run's line."""

    run_id: str
    made_at: datetime
    active: bool
    document: dict[str, Any]
    token_mark: str


_LINK = (links.c.run_id, links.c.made_at, links.c.active, links.c.document, links.c.token_mark)


def link_of(c: Connection, run_id: str) -> LinkRow | None:
    """A run's line; None where it has none."""
    row = c.execute(select(*_LINK).where(links.c.run_id == run_id)).one_or_none()
    return LinkRow(*row) if row else None


def link_by_token(c: Connection, mark: str) -> LinkRow | None:
    """The line whose samples come under this token."""
    row = c.execute(select(*_LINK).where(links.c.token_mark == mark)).one_or_none()
    return LinkRow(*row) if row else None


def active_links(c: Connection) -> list[LinkRow]:
    """Lines in use of runs that are not over."""
    query = select(*_LINK).join(runs, runs.c.id == links.c.run_id)
    query = query.where(links.c.active, runs.c.state.not_in(OVER))
    return [LinkRow(*row) for row in c.execute(query)]


def put_link(c: Connection, row: LinkRow) -> None:
    values = {"run_id": row.run_id, "made_at": row.made_at, "active": row.active,
              "document": row.document, "token_mark": row.token_mark}  # fmt: skip
    made = insert(links).values(**values)
    changed = {k: made.excluded[k] for k in ("active", "document", "token_mark")}
    c.execute(made.on_conflict_do_update(index_elements=[links.c.run_id], set_=changed))


def let_go(c: Connection, run_id: str) -> None:
    """A line that is not used any more; what it was stays written."""
    c.execute(update(links).where(links.c.run_id == run_id).values(active=False))
