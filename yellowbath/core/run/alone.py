"""How far each of several pieces is by itself, in the bath or out of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

import numpy as np

from yellowbath.core import dose
from yellowbath.core.run.belief import believe
from yellowbath.core.run.charge import doses_of, shares_of
from yellowbath.core.run.looked import stalled
from yellowbath.core.run.progress import (
    Ahead,
    Three,
    clean_shares,
    main_among,
    share_done_of,
    three_of,
)
from yellowbath.core.run.run import Run


@dataclass(frozen=True)
class PieceProgress:
    """One of several pieces: its share clean of what the current reaches, its share of the need met
    in the mean of its main surface [-], its mean dose [Ah/m2], and the powered seconds that its
    main surface still wants, were it in the bath with all that are; None where it does not come
    clean so, or more of the same gains nothing. ``seen``: all of it was seen clean."""

    id: str
    share_clean: float
    share_done: float
    effective_ah_m2: float
    left_s: Three | None
    seen: bool


def by_piece(run: Run, need: dose.Need, now: datetime) -> list[PieceProgress]:
    """Each of several pieces, in the plan's order; none for one alone, before there was any power,
    or where it is not known which part of the surface is whose."""
    if not run.stretches:
        return []
    basis = run.stretches[-1].basis
    if len(basis.pieces) < 2 or not basis.coverage.places:
        return []
    cloud, doses = believe(run, need), np.array(doses_of(run, now))
    found, middle = clean_shares(run, cloud, doses), cloud.quantiles(cloud.need, (0.5,))[0]
    made = []
    for piece in basis.pieces:
        own = basis.parts_of((piece,))
        mine = [n for n in found.places if basis.piece_of.get(n) == piece]
        main = main_among(run, own)
        out = tuple(p for p in run.out if p != piece)
        left: Three | None
        if piece in found.pieces:
            left = (0.0, 0.0, 0.0)
        elif not mine or _stands(run, piece):
            left = None
        else:
            left = three_of(cloud, Ahead(run, cloud, doses, out).whole(main))
        made.append(PieceProgress(
            id=piece,
            share_clean=found.mean(mine),
            share_done=share_done_of(doses.tolist(), middle, main),
            effective_ah_m2=dose.mean_of(doses.tolist(), shares_of(run, own)),
            left_s=left,
            seen=piece in found.pieces,
        ))  # fmt: skip
    return made


def _stands(run: Run, piece: str) -> bool:
    """Whether more of the same gains it nothing, or nothing flows."""
    inside = piece not in run.out
    return run.silent or stalled(run, piece) or (inside and stalled(run))
