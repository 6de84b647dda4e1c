"""What is believed of a run's circuit by its readings, and what a change would make of its amps."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from yellowbath.core.bath.estimate import CircuitCloud, Estimate, Three, estimate
from yellowbath.core.bath.meters import meter_error
from yellowbath.core.bath.observation import Observation, read_at
from yellowbath.core.checks.registry import Finding, stops
from yellowbath.core.ear import parse
from yellowbath.core.geometry.anode import wet
from yellowbath.core.run.charge import crust_ah
from yellowbath.core.run.dangers import Danger, Figures, judge
from yellowbath.core.run.in_bath import key_of, stops_of, with_scrap
from yellowbath.core.run.log import Change, Entry, GoesIn, Mended, Reading
from yellowbath.core.run.run import Run
from yellowbath.core.run.standing import Standing
from yellowbath.core.run.trending import foreseen
from yellowbath.core.units import System
from yellowbath.store import runs as store
from yellowbath.store.engine import reading
from yellowbath.workflows.runs.standing import stand
from yellowbath.workflows.shop.shop import Shop

CHANGES = ("scraped", "swapped_anodes", "soda_added", "clip_moved")
LATER_H = 6.0
_MOST = 4  # readings that are weighed: one effective every ten minutes, the newest of them
_APART_S = 600.0
_LINES = 60


@dataclass(frozen=True)
class Believed:
    """What is believed, the newest reading it rests on, and the amps to expect after each change;
    ``later``: amps in ``LATER_H`` hours, untouched; ``fuse_a`` and ``rated_a``: what they
    must stay under."""

    found: Estimate
    later: Three | None
    seen: Sequence[Observation]
    after: dict[str, Three]
    fuse_a: float | None
    rated_a: float
    system: System


def believed(shop: Shop, run_id: str) -> Believed:
    """Of a run, by its newest readings since its circuit was last changed."""
    with reading(shop.engine) as c:
        found = stand(shop, c, run_id)
        lines = store.newest_entries(c, run_id, _LINES)
    now, run = shop.now(), found.run
    loop, charge = found.loop, crust_ah(run, now)
    seen = observed(run, lines, charge, now)
    cloud = CircuitCloud(loop, seen)
    warm = run.clues.bath_c
    after = {k: cloud.after(k, charge, warm) for k in CHANGES}
    for what, turns, flips in (("turned", 1, 0), ("flipped", 0, 1)):
        over = _posed(found, turns, flips)
        if over is not None:
            after[what] = cloud.after(what, charge, warm, over)
    told, later = estimate(cloud, charge, warm), None
    if run.heard is not None and run.heard.amps and run.state == "running":
        powered_h = run.powered_s(now) / 3600
        by_itself = (foreseen(run.heard, found.basis.under(run.out), powered_h, h)
                     for h in (0.0, LATER_H))  # fmt: skip
        amps, later = by_itself
        told = replace(told, amps=amps)
    return Believed(
        found=told,
        later=later,
        seen=seen,
        after=after,
        fuse_a=found.plan.supply.fuse_a,
        rated_a=found.basis.rated_a,
        system=found.system,
    )


def _posed(found: Standing, turns: int, flips: int) -> float | None:
    """What the bath resists once it was turned or flipped so often more, over what it does now, by
    the fields that were solved when the run began; None where they were not."""
    if found.own.model is None:
        return None
    summary, run = found.own.model.summary, found.run
    if not (summary.dipped_ohm if flips else summary.pose_ohm):
        return None
    now = summary.turned_ohm(run.turns, run.flips)
    return summary.turned_ohm(run.turns + turns, run.flips + flips) / now


def observed(run: Run, lines: Sequence[Entry], charge: float, now: datetime) -> list[Observation]:
    """Readings as the estimate takes them, oldest first; ``lines`` are the log's, newest first.
    Each stands for its charge since the scrap was bare, told back from ``charge`` [Ah] by its own
    amps."""
    made: list[list[Observation]] = []
    last: datetime | None = None
    for e in lines:
        d = e.detail
        if isinstance(d, Change) and d.after_a:  # what was read after it is of the circuit as it is
            had = max(charge - d.after_a * _since_h(run, e.at, now), 0.0)
            made.append(read_at(had, error=meter_error(d.method).alone, amps=d.after_a))
            last = e.at
        if isinstance(d, Mended) or (isinstance(d, Change) and d.what != "topped_up"):
            break
        if not isinstance(d, Reading) or not d.current_a:
            continue
        if last is not None and (last - e.at).total_seconds() < _APART_S:
            continue
        had = max(charge - d.current_a * _since_h(run, e.at, now), 0.0)
        made.append(read_at(
            had, d.bath_c, meter_error(d.method).alone, amps=d.current_a, supply_v=d.supply_v,
            tank_v=d.tank_v,
        ))  # fmt: skip
        last = e.at
        if len(made) == _MOST:
            break
    return [o for reading in reversed(made) for o in reading]


def _since_h(run: Run, at: datetime, now: datetime) -> float:
    return min((now - at).total_seconds(), run.powered_s(now)) / 3600


@dataclass(frozen=True)
class Fresh:
    """What scrap that goes in would make of a bath: the most amps [A], what of that is a danger,
    and the stops that it would be."""

    most_a: float
    dangers: Sequence[Danger]
    stops: Sequence[Finding]
    system: System


def goes_in(shop: Shop, run_id: str, what: str, scrap: GoesIn) -> Fresh:
    """Of scrap that is swapped for all there is, or added to it, before it goes in.

    Amps grow at the most as the surface of the scrap does, which is so where the scrap alone
    resists. Without a size it is taken to be like what hangs there. Raises NotUnderstoodError for
    a size that cannot be read.
    """
    with reading(shop.engine) as c:
        found = stand(shop, c, run_id)
        before = believed_at(found, store.newest_entries(c, run_id, _LINES), shop.now())
    plan, level = found.plan, found.basis.level_m
    surfaces = [wet(a, plan, level).area for a in plan.anodes]
    one = sum(surfaces) / len(surfaces)
    if scrap.size.strip():
        across = parse(scrap.size.lower().partition("x")[0], "length", found.system)
        one = level * across * (math.pi if scrap.form == "rod" else 2.0)
    kept = 0.0 if what == "swapped_anodes" else sum(surfaces)
    ratio = (kept + scrap.count * one) / sum(surfaces)
    now = before.amps[2]
    ceiling = found.basis.limit_a if plan.supply.kind == "laboratory" else math.inf
    most = min(max(now * ratio, now if what != "swapped_anodes" else 0.0), ceiling)
    meant = with_scrap(found.known.plan, [{"what": what, "material": scrap.material}])
    had = {key_of(f) for f in stops(found.known.findings)}
    new = [f for f in stops_of(meant, found.answer) if key_of(f) not in had]
    return Fresh(most, judge(Figures(most), found.basis), new, found.system)


def believed_at(found: Standing, lines: Sequence[Entry], now: datetime) -> Estimate:
    """The amps to be expected now."""
    charge = crust_ah(found.run, now)
    cloud = CircuitCloud(found.loop, observed(found.run, lines, charge, now))
    return estimate(cloud, charge, found.run.clues.bath_c)
