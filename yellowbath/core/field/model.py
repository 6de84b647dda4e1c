"""What a field model is asked and what it answers."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from statistics import NormalDist
from typing import Protocol

import numpy as np

from yellowbath.core.figures import Figure
from yellowbath.core.power.warming import Warm

SLICES = 20  # twentieths: of the surface, by density
REACH = 0.02  # under this share of the mean no outside scrap lifts a surface: a bore; judged

STEP = 1.5  # ratio of the two facet sizes
_ORDER = 1.5  # cautious order of convergence; edges keep constant facets below two
DRUM = 0.006  # shared by both meshes in a lying drum, whose wall is near its rods; judged
_TRICKLE = 0.3  # means: what a percentile's shared error is at least relative to; judged


@dataclass(frozen=True)
class Claim:
    """How a claim is made of what two meshes differ: what they share, and so much of the rest."""

    shared: float
    differ: float


@dataclass(frozen=True)
class Quality:
    """How finely a plan is solved: ``facets`` of the finer of two meshes; the quality solved
    ``then``, where this one is doubted, empty after the last; the relative error that both meshes
    share; the claims for p5 and p95 (shared: relative) and for faces (shared: in means)."""

    facets: int
    then: str
    shared: float
    p5: Claim
    p95: Claim
    face: Claim


# judged on 58 finite-element layouts, docs/models/field.md
QUALITIES = {
    "rough": Quality(220, "preview", 0.008, Claim(0.020, 1), Claim(0.025, 1), Claim(0.014, 1)),
    "preview": Quality(300, "fine", 0.005, Claim(0.015, 1), Claim(0.020, 1), Claim(0.010, 1)),
    "fine": Quality(675, "finest", 0.0025, Claim(0.008, 1), Claim(0.010, 1), Claim(0.003, 1)),
    "finest": Quality(1519, "", 0.0025, Claim(0.008, 1), Claim(0.010, 1), Claim(0.003, 1)),
}
_SHARED = QUALITIES["fine"].shared


@dataclass(frozen=True)
class FieldNumber:
    """A value and the error claimed for it, in the same unit."""

    value: float
    error: float

    @property
    def share(self) -> float:
        """The error over the value [-]."""
        return self.error / self.value

    @staticmethod
    def of(
        fine: float, coarse: float, scale: float | None = None, shared: float = _SHARED
    ) -> FieldNumber:
        """From two meshes; ``scale`` is what the error ``shared`` by both is relative to."""
        return FieldNumber(fine, claimed(fine, coarse, scale, shared))

    @staticmethod
    def face(fine: float, coarse: float, claim: Claim) -> FieldNumber:
        """A face's mean over the mean of all, brought on by what the two meshes differ: edges draw
        too much by constant elements, the less the finer they are."""
        on = (fine - coarse) / float(STEP**_ORDER - 1)
        return FieldNumber(max(fine + on, 0.0), claim.differ * abs(on) + claim.shared)

    @staticmethod
    def tail(fine: float, coarse: float, claim: Claim) -> FieldNumber:
        """A percentile over the mean, from two meshes; noise below 0 is 0."""
        fine, coarse = max(fine, 0.0), max(coarse, 0.0)
        left = claim.differ * abs(fine - coarse) / float(STEP**_ORDER - 1)
        return FieldNumber(fine, left + claim.shared * max(fine, _TRICKLE))


def claimed(
    fine: float, coarse: float, scale: float | None = None, shared: float = _SHARED
) -> float:
    """The error claimed for the finer of two meshes, as ``Number.of``."""
    left = abs(fine - coarse) / float(STEP**_ORDER - 1)
    return left + shared * abs(fine if scale is None else scale)


@dataclass(frozen=True)
class RodLayout:
    """A bath as the field sees it. Lengths [m] from the tank's centre, areas [m2].

    ``tank_m`` is (length, width) or the diameter twice, of the section at half depth.
    ``wall_is_piece``: a tube that is its own vessel.
    """

    round_tank: bool
    tank_m: tuple[float, float]
    depth_m: float
    piece_m: tuple[float, float, float]
    piece_area_m2: float
    rods_m: Sequence[tuple[float, float]]
    rod_radius_m: float
    rod_length_m: float
    one_sided: bool
    all_round: bool
    wall_is_piece: bool = False


Profile = tuple[float, ...]
"""Density over its mean on equal slices of the reachable surface, lowest first [-]."""


@dataclass(frozen=True)
class Coverage:
    """What each part of the reachable surface gets in each pose.

    ``weights``: shares of area, summing to one; ``poses``: density over its mean in each pose [-];
    ``needs``: what each wants over what the piece does [-], empty where they are all alike.
    ``dipped``: the poses once more with the piece put end for end, where it is dipped by halves.
    ``sides``: how much each part belongs to the main surface and the slow places, empty where that
    is not known; ``lost``: share of area that a side has beyond the reach of the current;
    ``places``: the region of a piece that each part is of, empty where that is not known.
    """

    weights: tuple[float, ...]
    poses: tuple[tuple[float, ...], ...]
    needs: tuple[float, ...] = ()
    dipped: tuple[tuple[float, ...], ...] = ()
    sides: Mapping[str, tuple[float, ...]] = field(default_factory=dict)
    lost: Mapping[str, float] = field(default_factory=dict)
    places: tuple[str, ...] = ()

    def shares(self, side: str) -> tuple[float, ...]:
        """Shares of area of the parts within one side; of all where sides are not known. What is in
        none as it hangs, as the half that stands out, is of the main surface once it is turned."""
        return self._within[side] if side in self.sides else self.weights

    @cached_property
    def _within(self) -> Mapping[str, tuple[float, ...]]:
        """The shares of each side, which are asked for many times an answer."""
        weights = np.array(self.weights)
        own = {side: np.array(of) for side, of in self.sides.items()}
        if "main" in own and self.dipped:
            among = np.sum(list(own.values()), axis=0)
            own["main"] = own["main"] + np.maximum(1 - among, 0.0)
        return {side: tuple((weights * of).tolist()) for side, of in own.items()}

    @cached_property
    def _areas(self) -> Mapping[str, float]:
        return {k: sum(own) + self.lost.get(k, 0.0) for k, own in self._within.items()}

    @property
    def sided(self) -> float:
        """Area of all sides, with what no current reaches, over that of the parts [-]."""
        return sum(self._areas.values())

    def share_of(self, side: str) -> float:
        """Share of all sides' area that one has, with what no current reaches of it; one where
        sides are not known."""
        if not self.sides:
            return 1.0
        return self._areas[side] / self.sided if self.sided > 0 and side in self._areas else 0.0

    @property
    def pieces(self) -> tuple[str, ...]:
        """The pieces that the parts are of, by id: a region is named after its piece. Empty where
        regions are not known."""
        return tuple(dict.fromkeys(piece_of(place) for place in self.places))

    def of_piece(self, piece: str) -> Coverage:
        """The same of one of its pieces; of what no current reaches it is not known whose it is."""
        kept = [k for k, place in enumerate(self.places) if piece_of(place) == piece]
        total = sum(self.weights[k] for k in kept)

        def own(row: Sequence[float]) -> tuple[float, ...]:
            return tuple(row[k] for k in kept)

        return Coverage(
            tuple(self.weights[k] / total for k in kept),
            tuple(own(p) for p in self.poses),
            own(self.needs) if self.needs else (),
            tuple(own(p) for p in self.dipped),
            {name: own(of) for name, of in self.sides.items()},
            {},
            tuple(self.places[k] for k in kept),
        )

    def without(self, side: str) -> Coverage | None:
        """The same with everything but one side as its main surface; None where sides are not
        known."""
        if side not in self.sides:
            return None
        rest = tuple(1 - s for s in self.sides[side])
        return Coverage(self.weights, self.poses, self.needs, self.dipped, {"main": rest})

    def served(self, rates: Sequence[float]) -> list[float]:
        """Rates of dose, each over what its part wants."""
        if not self.needs:
            return list(rates)
        return [r / h for r, h in zip(rates, self.needs, strict=True)]

    def in_pose(self, turns: int, flips: int = 0) -> tuple[float, ...]:
        """Ratios after so many turns, and flips end for end; after the last comes the first."""
        poses = self.dipped if self.dipped and flips % 2 else self.poses
        return poses[turns % len(poses)]

    @property
    def profile(self) -> Profile:
        """Twenty equal-area slices of the first pose, lowest first."""
        return tuple(sliced(self.poses[0], self.weights))

    @staticmethod
    def ranked(profile: Profile) -> Coverage:
        """Of a profile: a turn is taken to swap the well served with the poorly served side."""
        return Coverage((1 / len(profile),) * len(profile), (profile, profile[::-1]))

    @staticmethod
    def reached(
        poses: Sequence[Sequence[float]], dipped: Sequence[Sequence[float]] = ()
    ) -> list[int]:
        """Which facets the first pose reaches; all of them where it reaches none."""
        first = np.max([p[0] for p in (poses, dipped) if p], axis=0)
        found: list[int] = np.flatnonzero(first >= REACH).tolist()
        return found or list(range(len(first)))

    @staticmethod
    def of(
        areas: Sequence[float],
        poses: Sequence[Sequence[float]],
        needs: Sequence[float] = (),
        dipped: Sequence[Sequence[float]] = (),
        sides: Mapping[str, Sequence[float]] | None = None,
        places: Sequence[str] = (),
    ) -> Coverage:
        """Of facets by area, without those that the first pose does not reach, unless it is all.

        What is reachable is the plan's; another pose does not add to what has to come clean, but
        the other half of a piece that is dipped by halves does.
        """
        kept = np.array(Coverage.reached(poses, dipped))
        every, out = np.array(areas), np.ones(len(areas), dtype=bool)
        total, out[kept] = every[kept].sum(), False
        named = {name: np.array(of) for name, of in (sides or {}).items()}

        def own(row: Sequence[float]) -> tuple[float, ...]:
            return tuple(np.array(row)[kept].tolist())

        def flows(row: Sequence[float]) -> tuple[float, ...]:
            return tuple(np.maximum(np.array(row)[kept], 0.0).tolist())

        return Coverage(
            tuple((every[kept] / total).tolist()),
            tuple(flows(p) for p in poses),
            own(needs) if needs else (),
            tuple(flows(p) for p in dipped),
            {name: tuple(of[kept].tolist()) for name, of in named.items()},
            {name: float(every[out] @ of[out] / total) for name, of in named.items()},
            tuple(places[k] for k in kept) if places else (),
        )


def piece_of(place: str) -> str:
    """The piece, by id, that a region is named after."""
    return place.rpartition(".")[0]


def sliced(values: Sequence[float], weights: Sequence[float]) -> list[float]:
    """Mean of values over each twentieth of the area, lowest first; weights sum to one."""
    v, w = np.array(values, dtype=float), np.array(weights, dtype=float)
    order = np.lexsort((w, v))
    v, w = v[order], w[order]
    area, total = (np.concatenate([[0.0], np.cumsum(x)]) for x in (w, v * w))
    cuts = np.arange(SLICES + 1) / SLICES
    k = np.clip(np.searchsorted(area, cuts, side="right"), 1, len(v)) - 1
    made: list[float] = (SLICES * np.diff(total[k] + v[k] * (cuts - area[k]))).tolist()
    return made


def lognormal_profile(spread: float) -> Profile:
    """Twenty slices of a log-normal density of this log-spread [-], their mean one."""
    ranks = [NormalDist().inv_cdf((k + 0.5) / SLICES) for k in range(SLICES)]
    raw = [math.exp(spread * z) for z in ranks]
    return tuple(r * SLICES / sum(raw) for r in raw)


def profile_of(quantiles: Sequence[float]) -> Profile:
    """Twenty slices of what is reachable among evenly spaced quantiles of density over mean [-]."""
    reachable = [q for q in sorted(quantiles) if q >= REACH] or list(quantiles)
    n = len(reachable)
    cuts = [round(k * n / SLICES) for k in range(SLICES + 1)]
    return tuple(
        sum(part) / len(part)
        for part in (reachable[a : max(b, a + 1)] or reachable[-1:] for a, b in pairwise(cuts))
    )


@dataclass(frozen=True)
class FieldAnswer:
    """Bath resistance [ohm] without threshold and leads, and how density spreads over the piece.

    ``error`` is the model's own relative error [-]; ``quantiles`` are densities over their mean at
    evenly spaced shares of the wetted area, None where only a log-spread is known; ``meshes``: the
    same without bores on the finer and the coarser of two meshes, and the one's current over the
    other's; ``earlier``: resistance [ohm] of a coarser solve, and its claimed relative error.
    """

    resistance: Figure
    spread: Figure
    profile: Profile
    error: float
    quantiles: tuple[float, ...] | None = None
    coverage: Coverage | None = None
    meshes: tuple[tuple[float, ...], tuple[float, ...], float] | None = None
    earlier: tuple[float, float] | None = None


class FieldModel(Protocol):
    """Turns a layout and a conductivity into a bath resistance and a spread of density."""

    name: str

    @property
    def warm(self) -> Warm | None:
        """What its conductivity was reckoned for; None where it may be asked for any."""
        ...

    def solve(self, layout: RodLayout, conductivity: Figure) -> FieldAnswer:
        """Raises NoAnswerError where the layout has no current path."""
        ...
