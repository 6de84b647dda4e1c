"""How far a run has come: dose so far, what is believed of the need, the window that is left."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from yellowbath.core import dose
from yellowbath.core.data import param
from yellowbath.core.run.ahead import Side, Three, three_of
from yellowbath.core.run.believed import Array, BelievedPiece, believed, beyond
from yellowbath.core.run.charge import charge_ah, charge_edges, doses_of, present
from yellowbath.core.run.looked import stalled
from yellowbath.core.run.run import Run


@dataclass(frozen=True)
class PieceProgress:
    """One of several pieces: its share clean of what the current reaches [-], its mean dose
    [Ah/m2], and the powered seconds that its main surface still wants, were it in the bath with all
    that are; None where it does not come clean so, or more of the same gains nothing. ``seen``: all
    of it was seen clean."""

    id: str
    share_clean: float
    effective_ah_m2: float
    left_s: Three | None
    seen: bool


@dataclass(frozen=True)
class Progress:
    """Doses [Ah/m2], charge [Ah], times [s] of power still wanted; None where it cannot end.

    ``charge_edges_ah``: were none or all of the unsure time to count. ``here_s``: of a piece that
    is dipped by halves, what the half under now still wants; None for one that is all under.
    All is of the pieces that are in the bath, or lie out together: ``left_s`` and ``share_done`` of
    the main surface of the last of them, ``share_clean`` of all in the liquid, of which no current
    reaches ``beyond``; ``sides``: the slow places, with their share of the area and what they still
    want, None where they do not come clean in this bath. ``pieces``: each of several by itself, in
    or out.
    """

    powered_s: float
    charge_ah: float
    charge_edges_ah: tuple[float, float]
    raw_ah_m2: float
    effective_ah_m2: float
    parts_ah_m2: tuple[float, ...]
    weights: tuple[float, ...]
    need_ah_m2: Three
    share_done: float
    share_clean: float
    beyond: float
    left_s: Three | None
    here_s: Three | None
    seen: bool
    sides: tuple[Side, ...] = ()
    pieces: tuple[PieceProgress, ...] = ()


def progress(run: Run, need: dose.Need, now: datetime) -> Progress:
    """Everything the run screen says about how far it is."""
    doses, each = doses_of(run, now), believed(run, need, now)
    inside = [b for b in each if b.inside]
    last = _last(inside)
    left = None if stalled(run) and not last.seen else last.left
    goes_on = left is not None and not last.seen
    low, mid, high = last.cloud.quantiles(last.cloud.need, (0.1, 0.5, 0.9))
    charge = run.bank.charge_ah + charge_ah(run.stretches, now)
    area = run.stretches[-1].basis.wetted_area_m2 if run.stretches else math.inf
    return Progress(
        powered_s=run.powered_s(now),
        charge_ah=charge,
        charge_edges_ah=charge_edges(run, now),
        raw_ah_m2=charge / area,
        effective_ah_m2=dose.mean_of(doses, present(run)),
        parts_ah_m2=tuple(doses),
        weights=present(run),
        need_ah_m2=(low, mid, high),
        share_done=min(b.share_done for b in inside),
        share_clean=_mean_clean(inside),
        beyond=beyond(run),
        left_s=left,
        here_s=last.ahead.left_here() if last.ahead and not last.seen and not last.stands else None,
        seen=bool(run.inspections),
        sides=_sides(inside, left) if goes_on or (left is None and not stalled(run)) else (),
        pieces=tuple(
            PieceProgress(b.piece, b.clean.mean, dose.mean_of(doses, b.weights), b.left, b.seen)
            for b in each
            if b.piece
        ),
    )


def left_of(run: Run, need: dose.Need, now: datetime, piece: str = "") -> Three | None:
    """:attr:`Progress.left_s` alone, or that of one of several pieces."""
    each = believed(run, need, now, piece)
    if piece:
        return each[0].left
    last = _last([b for b in each if b.inside])
    return None if stalled(run) and not last.seen else last.left


def _last(inside: Sequence[BelievedPiece]) -> BelievedPiece:
    """The one that comes clean last, as far as they come clean here."""
    if len(inside) == 1:
        return inside[0]

    def hours(b: BelievedPiece) -> tuple[bool, float]:
        return (not b.seen, b.left[1] if b.left else -1.0)

    return max(inside, key=hours)


def _mean_clean(inside: Sequence[BelievedPiece]) -> float:
    """Share of all the surface in the liquid that is clean [-]: what its regions say, by area."""
    area = sum(b.area for b in inside)
    return sum(b.share_clean * b.area for b in inside) / area if area > 0 else 0.0


def _sides(inside: Sequence[BelievedPiece], first: Three | None) -> tuple[Side, ...]:
    """The slow places of all pieces: what is alike, together, by the latest of it."""
    found: dict[str, Side] = {}
    for b in inside:
        if b.ahead is None or b.seen or b.stands:
            continue
        for kind, share, left in b.ahead.sides(first):
            _, had, before = found.get(kind, (kind, 0.0, (0.0, 0.0, 0.0)))
            late = None if left is None or before is None else max(left, before, key=_middle)
            found[kind] = (kind, had + share, late)
    return tuple(found.values())


def _middle(three: Three) -> float:
    return three[1]


@dataclass(frozen=True)
class SurfacePlace:
    """Some of the surface, as a region of a piece: how much of it should be clean by now [-], and
    the powered seconds that it still wants as it hangs, or would were it back in; None where it
    does not come clean here, or nothing flows."""

    id: str
    clean: float
    left_s: Three | None


def places(
    run: Run, need: dose.Need, now: datetime, of: Mapping[str, tuple[Sequence[float], float]]
) -> list[SurfacePlace]:
    """The same told place by place: ``of`` each its shares of the parts (k) and of what no part
    reaches, which add up to its own area in any unit."""
    each = {b.piece: b for b in believed(run, need, now)}
    whose, goal, made = run.stretches[-1].basis.piece_of, param("clean_share").value, []
    for name, (parts, lost) in of.items():
        b = each[whose[name]] if whose.get(name) in each else each.get("")
        if b is None:
            continue
        if b.seen:
            made.append(SurfacePlace(name, 1.0, (0.0, 0.0, 0.0)))
            continue
        share = b.clean.places.get(name, b.clean.places.get("", 0.0))
        reached = sum(parts) / max(sum(parts) + lost, 1e-12)
        here = b.ahead is not None and not b.stands and reached >= goal
        left = three_of(b.cloud, b.ahead.whole(parts)) if b.ahead is not None and here else None
        made.append(SurfacePlace(name, reached * share, left))
    return made


def chance_clean(run: Run, need: dose.Need, now: datetime, hours: Sequence[float]) -> Array | None:
    """Chance (h, k) that each part of the surface is clean by now and after so many more hours
    under power (h) as it hangs; None before there was any power, or while nothing flows."""
    if not run.stretches or run.silent:
        return None
    made = np.zeros((len(hours), len(run.stretches[-1].basis.coverage.weights)))
    for b in believed(run, need, now):
        made[:, b.which] = 1.0 if b.seen else b.chance_clean(hours)[:, b.which]
    return made
