"""What looks say by themselves, before anything is believed of them: what was seen clean, and
whether more of the same gains anything."""

from __future__ import annotations

from collections.abc import Set
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.checks.limits import limit
from yellowbath.core.data import param
from yellowbath.core.run.belief import doses_at_look, seen_share
from yellowbath.core.run.charge import areas_of
from yellowbath.core.run.log import Inspection
from yellowbath.core.run.run import Run


def seen_clean(run: Run, there: Set[str], believed: float) -> bool:
    """Whether the newest looks saw all of some regions clean, of all there is where none is known,
    which is a fact and no share to be weighed: where that fits what was ``believed``, or was said
    once more."""
    said, sure = last_said(run, there)
    # of what was not named nothing was said
    if not said or not there <= set(said) or min(said.values()) < param("clean_share").value:
        return False
    return sure or believed >= param("look_fits").value


def last_said(run: Run, there: Set[str]) -> tuple[dict[str, float], bool]:
    """The share clean of each of some regions that was said last [-], of all that were named where
    none of them is known; and whether the newest of those looks was said twice. "Not yet" takes
    back what was said of what it is at."""
    said, sure = dict[str, float](), False
    for (_, look), unseen in zip(run.inspections, run.unseen, strict=True):
        if look.verdict == "not_yet":
            hidden = _of_pieces(run, unseen)
            said = {name: share for name, share in said.items() if name in hidden}
        new = {n: share for n, share in look.shares.items() if not there or n in there}
        said, sure = {**said, **new}, look.sure if new else sure
    return said, sure


def _of_pieces(run: Run, pieces: tuple[str, ...]) -> set[str]:
    """The regions of some pieces."""
    of = run.stretches[-1].basis.piece_of if run.stretches else {}
    return {name for name, piece in of.items() if piece in pieces}


def stalled(run: Run, piece: str = "") -> bool:
    """Whether more of the same gains nothing: by the newest look, and nothing was changed since."""
    if not nothing_gained(run, piece):
        return False
    looked = looks_at(run, piece)[-1][1]
    return not any(run.last_of.get(k, looked) > looked for k in ("change", "mended"))


def nothing_gained(run: Run, piece: str = "") -> bool:
    """The stop rule, of all that is in or of one piece by itself: the newest look was equal to the
    one before it, as it was said, or as its shares are though there was power between them."""
    looks = looks_at(run, piece)
    if not looks:
        return False
    k, at, last = looks[-1]
    if last.verdict == "equal":
        return True
    if len(looks) < 2 or not last.shares:
        return False
    first, earlier, before = looks[-2]
    own = _parts_of(run, piece)
    now, then = (sum(own * doses_at_look(run, n, t)) for n, t in ((k, at), (first, earlier)))
    if not before.shares or now <= then:
        return False
    seen, had = (seen_share(run, look.shares) for look in (last, before))
    clean = param("clean_share").value
    return seen < clean and abs(seen - had) <= limit("advice", "equal_looks")


def looks_at(run: Run, piece: str) -> list[tuple[int, datetime, Inspection]]:
    """The looks at all that was in, or at one piece by itself, each with its number."""
    return [(k, at, look) for k, (at, look) in enumerate(run.inspections) if look.piece == piece]


def _parts_of(run: Run, piece: str) -> NDArray[np.float64]:
    """Shares of area of one piece's parts (k), of all where none is named."""
    weights = np.array(areas_of(run))
    if not piece or not run.stretches:
        return weights
    return np.where(run.stretches[-1].basis.parts_of((piece,)), weights, 0.0)
