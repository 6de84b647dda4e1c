"""Foreign baths read as people read them, and what their trend told: shares of what was held, told
and cried falsely. The tests take a few of each kind, ``make bench`` all."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tests.core.bath.foreign import CLAMP, DIAL, LAWS, LINE, ForeignBath, ForeignMeter, drawn
from yellowbath.core.bath.meters import Method
from yellowbath.core.bath.trend import AmpsRead, Trend, planned
from yellowbath.core.run.spoken import COVERS_S, LineHeard, to_say
from yellowbath.core.units import MS

Array = NDArray[np.float64]
PLANNED = 0.22  # log-spread of a plan's amps
LONG_H = 12
_CRUST_AH = 60.0  # after which a plan would scrape; a third more or less
_WIDE = 1.2816  # of a normal score: four in five
AHEAD_H = (1.0, 6.0)


@dataclass(frozen=True)
class Faulty:
    """What goes wrong, and when: what it leaves of the amps at once, and how much the ohms grow by
    in every hour."""

    at_h: float = math.inf
    amps: float = 1.0
    grows: float = 0.0


def hourly() -> Array:
    """Read once at the start and then every hour."""
    return np.concatenate([[0.05], np.arange(1.0, LONG_H + 1)])


def trends(
    bath: ForeignBath, meter: ForeignMeter, rng: np.random.Generator, fault: Faulty = Faulty(),
    slips: float = 0.0,
) -> Iterator[tuple[float, float, float, Trend]]:  # fmt: skip
    """After each reading: its hour, the charge over what a plan scrapes after, amps, the trend."""
    times = hourly()
    true = faulty_amps(bath, times, fault)
    read = meter.read(true, meter.factor(rng), rng)
    if slips:
        slipped = rng.random(len(read)) < slips
        read = np.where(slipped, read * rng.choice([0.5, 1.5, 2.0], len(read)), read)
    crust_ah = _CRUST_AH * math.exp(0.35 * rng.standard_normal())
    method: Method = meter.method
    trend, charge = Trend(planned(PLANNED, method), 0.0), 0.0
    for k, (at, amps) in enumerate(zip(times.tolist(), read.tolist(), strict=True)):
        charge += amps * (at - times[k - 1]) if k else 0.0
        log = math.log(max(amps, 1e-3) / bath.planned)
        trend = trend.told(AmpsRead(at, charge / crust_ah, log, method, amps))
        yield at, charge / crust_ah, amps, trend


def faulty_amps(bath: ForeignBath, times: Array, fault: Faulty) -> Array:
    """Amps at times, by the fault: those that it leaves at once, and ohms that grow."""
    stepped = np.where(times > fault.at_h, fault.amps, 1.0)
    grown = (1 + fault.grows) ** np.maximum(times - fault.at_h, 0.0)
    return bath.amps(times, grown) * stepped


def held(law: str, meter: ForeignMeter, count: int, seed: int) -> dict[float, tuple[float, float]]:
    """Of baths of a law: how often four in five held the true amps so long ahead, and the median
    width of that over the amps, by hours ahead."""
    rng = np.random.default_rng(seed)
    inside: dict[float, list[bool]] = {h: [] for h in AHEAD_H}
    width: dict[float, list[float]] = {h: [] for h in AHEAD_H}
    for _ in range(count):
        bath = drawn(LAWS[law], rng)
        for at, crust, _, trend in trends(bath, meter, rng):
            if at < 1:
                continue
            for ahead in AHEAD_H:
                later = crust * (1 + ahead / at)
                middle, sigma = trend.state.ahead(at + ahead, later)
                true = math.log(float(bath.amps(np.array([at + ahead]))[0]) / bath.planned)
                inside[ahead].append(abs(true - middle) < _WIDE * sigma)
                width[ahead].append(2 * math.sinh(_WIDE * sigma))
    return {h: (float(np.mean(inside[h])), float(np.median(width[h]))) for h in AHEAD_H}


def told(meter: ForeignMeter, fault: Faulty, count: int, seed: int) -> float:
    """Share of baths of all laws in which a step at a time of their own is doubted by the second
    reading after it, and not before it."""
    rng = np.random.default_rng(seed)
    found = 0
    for bath in _each(count, rng):
        at = float(rng.uniform(1.5, 9.0))
        its = Faulty(at, fault.amps, fault.grows)
        after = 0
        for hour, _, _, trend in trends(bath, meter, rng, its):
            after += hour > at
            if after and trend.step is not None:
                found += 1
                break
            if after == 2:
                break
    return found / count


def slowly(meter: ForeignMeter, grows: float, count: int, seed: int) -> Sequence[float]:
    """Hours until ohms that grow by so much an hour are doubted, infinity for never; and what of
    the amps is left then, of each."""
    rng = np.random.default_rng(seed)
    left = []
    for bath in _each(count, rng):
        its = Faulty(float(rng.uniform(1.0, 4.0)), 1.0, grows)
        seen = 0.0
        for hour, _, _, trend in trends(bath, meter, rng, its):
            if hour > its.at_h and trend.step is not None:
                now = np.array([hour])
                seen = float(faulty_amps(bath, now, its)[0] / bath.amps(now)[0])
                break
        left.append(seen)
    return left


def falsely(
    meter: ForeignMeter, count: int, seed: int, slips: float = 0.0, mains: float = 0.0
) -> tuple[float, float]:
    """Shares of sound baths of all laws that are doubted within twelve hours, and asked to be read
    again; ``slips`` of the readings are wrong, the street's volts step by ``mains`` at an hour."""
    rng = np.random.default_rng(seed)
    doubted = asked = 0
    for bath in _each(count, rng):
        its = Faulty(float(rng.uniform(1, 11)), math.exp(mains * rng.standard_normal()))
        every = [trend for _, _, _, trend in trends(bath, meter, rng, its, slips)]
        doubted += any(t.step is not None for t in every)
        asked += any(t.asked is not None for t in every)
    return doubted / count, asked / count


def on_line(
    bath: ForeignBath, rng: np.random.Generator, fault: Faulty, until_h: float, hands: int = 0
) -> float:
    """Hours until the trend of a bath on a line is doubted, its readings said as a line says them;
    infinity for never. ``hands`` are in the liquid so often, for half a minute or more."""
    times = np.arange(round(until_h * 360) * 5) * (2 / 3600)
    amps = faulty_amps(bath, times, fault)
    for _ in range(hands):
        at, long = rng.uniform(0.5, until_h), rng.uniform(20, 70) / 3600
        stirred = (times >= at) & (times < at + long)
        amps = np.where(stirred, amps * (1 + 0.08 * rng.standard_normal(len(times))), amps)
    read = LINE.read(amps, LINE.factor(rng), rng).reshape(-1, COVERS_S // 2)
    heard = [
        LineHeard(k * COVERS_S * MS, float(row.mean()), swing=float(np.ptp(row)))
        for k, row in enumerate(read)
    ]
    trend, charge, last = Trend(planned(PLANNED, "line"), 0.0), 0.0, 0.0
    for h in to_say(heard, None):
        at = h.end_ms / MS / 3600
        value = h.reading().current_a or 0.0
        charge += value * (at - last)
        last = at
        log = math.log(value / bath.planned)
        trend = trend.told(AmpsRead(at, charge / _CRUST_AH, log, "line", value))
        if trend.step is not None:
            return at
    return math.inf


def line_told(amps: float, count: int, seed: int) -> float:
    """Share of baths on a line whose step is doubted within a minute, and not before it."""
    rng, found = np.random.default_rng(seed), 0
    for bath in _each(count, rng):
        its = Faulty(float(rng.uniform(0.5, 3.0)), amps)
        at = on_line(bath, rng, its, its.at_h + 0.05)
        found += 0 <= at - its.at_h <= 1 / 60
    return found / count


def line_falsely(count: int, seed: int, hours: float = 12.0) -> float:
    """Share of sound baths on a line that are doubted, hands in the liquid three times."""
    rng = np.random.default_rng(seed)
    never = [math.isinf(on_line(bath, rng, Faulty(), hours, 3)) for bath in _each(count, rng)]
    return 1 - sum(never) / count


def _each(count: int, rng: np.random.Generator) -> Iterator[ForeignBath]:
    laws = list(LAWS.values())
    for k in range(count):
        yield drawn(laws[k % len(laws)], rng)


def main(count: int = 200) -> None:
    """The tables of docs/models/trend.md."""
    for meter in (CLAMP, DIAL):
        for k, law in enumerate(LAWS):
            cells = held(law, meter, count, 100 + k)
            said = ", ".join(f"{h:g} h {100 * i:.0f} %, {100 * w:.0f} %"
                             for h, (i, w) in cells.items())  # fmt: skip
            print(f"{meter.method}, {law}: {said}", flush=True)
    for meter in (CLAMP, DIAL):
        for amps in (0.85, 0.8, 0.75, 0.67, 0.55, 0.5, 1.25, 1.5):
            share = told(meter, Faulty(amps=amps), count, 200)
            print(f"{meter.method}, {100 * (amps - 1):+.0f} %: {100 * share:.1f} %", flush=True)
        for grows in (0.1, 0.05):
            left = np.array(slowly(meter, grows, count, 300))
            early = 100 * float(np.mean(left > 0.5))
            middle = float(np.median(left[left > 0])) if left.any() else 0.0
            print(f"{meter.method}, {100 * grows:.0f} % an hour: {early:.0f} % before half is gone,"
                  f" at {middle:.2f} of the amps", flush=True)  # fmt: skip
        for slips, mains in ((0.0, 0.0), (0.02, 0.03)):
            doubted, asked = falsely(meter, count, 400, slips, mains)
            print(f"{meter.method}, slips {slips}, mains {mains}: doubted {100 * doubted:.1f} %,"
                  f" read again {100 * asked:.1f} %", flush=True)  # fmt: skip
    for amps in (0.85, 0.75, 1.2):
        print(f"line, {100 * (amps - 1):+.0f} %: {100 * line_told(amps, count, 500):.1f} %")
    print(f"line, sound: doubted {100 * line_falsely(count // 2, 600):.1f} %", flush=True)


if __name__ == "__main__":
    main()
