"""The turn plan: in which poses, for what shares of the time, a piece comes clean soonest.

Each pose is solved and its density carried to the reference facets; effective doses add up there.
Shares are searched in twelfths, over one pose, two, and a third added to the best two.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import get_args

from yellowbath.core.document import Hang, Piece
from yellowbath.core.dose import dose_to_clean, effective_rate
from yellowbath.core.field.model import REACH, Coverage
from yellowbath.core.words import word

PARTS = 12  # that hours are shared out in between poses; judged
WORTH = 0.05  # a plan of more poses must save this share of the hours to be worth the hands; judged


@dataclass(frozen=True)
class Pose:
    """How a piece hangs, and in words what is done to it to get there."""

    hang: Hang
    turn_deg: float
    tilt_deg: float
    words: str

    def of(self, piece: Piece) -> Piece:
        """The piece in this pose."""
        return piece.model_copy(
            update={"hang": self.hang, "turn_deg": self.turn_deg, "tilt_deg": self.tilt_deg}
        )


@dataclass(frozen=True)
class Served:
    """A pose solved: mean density [A/m2] and density over its mean on each reference facet [-]."""

    pose: Pose
    mean: float
    ratios: tuple[float, ...]


@dataclass(frozen=True)
class Turning:
    """Poses with their shares of the time, powered hours in all, and what one pose would take.

    ``unreached``: share of the surface that no pose reaches [-].
    """

    poses: tuple[tuple[Pose, float], ...]
    hours: float
    alone: float
    unreached: float


def poses_of(piece: Piece) -> Iterator[Pose]:
    """The pose as planned first, then turned about the upright, then the other ways to hang."""
    for turn, words in ((0.0, "As planned"), (180.0, "Turned round"), (90.0, "A quarter turn"),
                        (-90.0, "A quarter turn the other way")):  # fmt: skip
        yield Pose(piece.hang, _wrapped(piece.turn_deg + turn), piece.tilt_deg, words)
    for hang in get_args(Hang):
        words = word(f"pose.{hang}")
        if hang != piece.hang:
            for turn, more in ((0.0, ""), (180.0, ", the other side forward")):
                yield Pose(hang, turn, 0.0, words + more)


def _wrapped(degrees: float) -> float:
    return (degrees + 180.0) % 360.0 - 180.0


def best_turning(
    served: Sequence[Served], areas: Sequence[float], need: float, needs: Sequence[float] = ()
) -> Turning:
    """The shares that clean soonest what the first pose reaches; that pose is the one alone.

    ``areas`` of the facets [m2], ``need`` in effective Ah/m2, ``needs`` as ``Coverage``'s.
    More poses are taken only where they save a twentieth of the hours each.
    """
    reach = Coverage.of(areas, [s.ratios for s in served], needs)
    rates = [
        reach.served([effective_rate(s.mean * r) for r in ratios])
        for s, ratios in zip(served, reach.poses, strict=True)
    ]

    def hours(shares: Sequence[tuple[int, float]]) -> float:
        mixed = [sum(w * rates[k][i] for k, w in shares) for i in range(len(reach.weights))]
        return dose_to_clean([0.0] * len(mixed), mixed, need, reach.weights)

    alone = [hours([(k, 1.0)]) for k in range(len(served))]
    best = (alone[0], [(0, 1.0)])
    for k, one in enumerate(alone):
        best = _better(best, (one, [(k, 1.0)]))
    pair = best
    for a, b in combinations(range(len(served)), 2):
        for part in range(2, PARTS - 1, 2):
            shares = [(a, part / PARTS), (b, 1 - part / PARTS)]
            pair = min(pair, (hours(shares), shares), key=lambda x: x[0])
    best = _better(best, pair)
    three = best
    if len(best[1]) == 2:
        (a, share), (b, _) = best[1]
        for c in range(len(served)):
            if c in (a, b):
                continue
            for third in (2, 4):
                left = 1 - third / PARTS
                shares = [(a, share * left), (b, (1 - share) * left), (c, third / PARTS)]
                three = min(three, (hours(shares), shares), key=lambda x: x[0])
        best = _better(best, three)
    chosen = sorted(best[1], key=lambda x: (x[0] != 0, -x[1]))
    return Turning(
        tuple((served[k].pose, w) for k, w in chosen), best[0], alone[0],
        _unreached(areas, [s.ratios for s in served]),
    )  # fmt: skip


_Try = tuple[float, list[tuple[int, float]]]


def _better(old: _Try, new: _Try) -> _Try:
    return new if new[0] < (1 - WORTH) * old[0] else old


def _unreached(areas: Sequence[float], poses: Sequence[Sequence[float]]) -> float:
    dark = [max(p[k] for p in poses) < REACH for k in range(len(areas))]
    return sum(a for a, d in zip(areas, dark, strict=True) if d) / sum(areas)
