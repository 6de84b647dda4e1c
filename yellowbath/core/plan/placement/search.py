"""Where to hang the scrap: layouts of one plan's anodes, searched by solving each.

The tank, the piece and a rod at every spot where one can hang are put together once; a layout then
is a choice of rows and columns of that system, solved in a millisecond or two. Flat anodes
are searched as the round rod that draws like them; what is found is solved in full afterwards.
Lengths [m] from the tank's centre line.

The aim is the shortest time until 95 % of the reachable surface is clean, the most served twentieth
within the band and the current within the supply.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.data import param
from yellowbath.core.document import Anode, Plan, RodAnode
from yellowbath.core.dose import hours_per_need
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.assembly.assemble import BlockCache
from yellowbath.core.field.choices import RodChoices
from yellowbath.core.field.model import QUALITIES, profile_of
from yellowbath.core.field.plan_bodies import build, standing_rod
from yellowbath.core.field.plan_shapes import Frame
from yellowbath.core.geometry.anode import Point, apart, clearance, facing
from yellowbath.core.geometry.tank import standing_size
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.power.supply import given_figure, wanted_figure

Array = NDArray[np.float64]
Spots = tuple[int, ...]
"""For each movable anode, the number of its spot."""

_SEGMENTS = 8  # of a rod, in a preview
_CONTOURS = ((1.0, 40), (0.8, 24), (0.6, 16))  # distance from the middle, of that along the wall
_APART = 0.02  # between two anodes [m]; judged
_OVER = 4.0  # how much a tenth over a bound weighs against a tenth of the time; judged


@dataclass(frozen=True)
class Score:
    """What a layout comes to. ``hours`` under power at the median need; amps drawn at no limit.

    ``over_band`` and ``over_supply``: log of how far p95 and current are beyond their bounds [-],
    nought or less within them.
    """

    hours: float
    amps: float
    p5: float
    p95: float
    over_band: float
    over_supply: float

    @property
    def cost(self) -> float:
        """Log of the hours, with what lies beyond a bound added; the less the better."""
        return math.log(self.hours) + _OVER * (
            max(self.over_band, 0.0) + max(self.over_supply, 0.0)
        )


@dataclass(frozen=True)
class FoundLayout:
    """A search under way: solves done, how many it may take, the best layout so far."""

    solves: int
    most: int
    layout: Spots
    score: Score


class Trials:
    """Every layout of a plan's movable anodes, to be scored one by one.

    Raises NoAnswerError where there is no piece in the liquid or no anode that could stand
    elsewhere.
    """

    def __init__(
        self,
        plan: Plan,
        answer: Answer,
        bottoms: Mapping[str, float],
        kept: BlockCache | None = None,
    ) -> None:
        self.plan, self._answer = plan, answer
        self.movable = [a for a in plan.anodes if a.stands]
        if not self.movable:
            raise NoAnswerError(
                "This scrap has one place only.",
                remedy="Choose rods, flats or sheets to have them placed.",
            )
        self.spots = spots(plan)
        self._kinds, self.kind_of = _kinds(self.movable)
        self._bottoms = dict(bottoms)
        self.allowed = [self._allowed(kind) for kind in self._kinds]
        if not all(len(a) for a in self.allowed):
            raise NoAnswerError(
                "There is no room for this scrap beside the piece.",
                allowed=f"{1000 * param('clearance_m').value:g} mm clear all round it.",
                remedy="Take a wider tank or smaller scrap.",
            )
        self.conductivity = answer.conductivity.value
        self._tail = 1.0
        self._scored: dict[Spots, Score] = {}
        self._system(dict(bottoms), kept or BlockCache(0))

    def _allowed(self, kind: Anode) -> list[int]:
        wanted = param("clearance_m").value
        return [
            k for k, spot in enumerate(self.spots)
            if _gap(placed(kind, spot), self.plan, self._bottoms) >= wanted
            and _fits(placed(kind, spot), self.plan)
        ]  # fmt: skip

    def _system(self, bottoms: dict[str, float], kept: BlockCache) -> None:
        level, kappa = self._answer.fill.level.value, self.conductivity
        fixed = [a for a in self.plan.anodes if not a.stands]
        rest = self.plan.model_copy(update={"anodes": fixed})
        bath, pieces = build(rest, bottoms, level, kappa, QUALITIES["rough"].facets)
        if not pieces:
            raise NoAnswerError("Nothing of the piece is in the liquid.")
        frame = Frame.of(self.plan, level)
        rods, leads = list(bath.rods), list(bath.rod_leads)
        self._fixed_rods = list(range(len(rods)))
        self._rod_of: dict[tuple[int, int], int] = {}
        for number, kind in enumerate(self._kinds):
            for spot in self.allowed[number]:
                self._rod_of[number, spot] = len(rods)
                stands = placed(kind, self.spots[spot]).pattern
                round_one = RodAnode.model_validate(
                    {
                        **stands, "kind": "rod", "id": f"{number}.{spot}",
                        "x_m": self.spots[spot][0], "y_m": self.spots[spot][1],
                        "diameter_m": 2 * kind.line_radius_m,
                    }
                )  # fmt: skip
                rods += standing_rod(round_one, self.plan, frame)
                leads.append(kind.contact_ohm)
        if len(rods) < len(leads):
            raise NoAnswerError(
                "The scrap stands out of the liquid.", remedy="Put in more water, or let it reach."
            )
        bath = replace(bath, rods=rods, rod_leads=leads, segments=_SEGMENTS)
        self._rods = RodChoices(bath, pieces, _SEGMENTS, kept)

    def calibrate(self, layout: Spots, p95: float) -> None:
        """Scale p95 so that a layout has what it came to when solved in full, within 15 %.

        The mesh of the trials is coarse, and at edges it sees too little.
        """
        before = self.score(layout).p95 / self._tail
        if before > 0:
            self._tail = min(max(p95 / before, 0.87), 1.15)
        self._scored.clear()

    def feasible(self, layout: Spots) -> bool:
        """Whether every anode may be there, and none meets another."""
        for number, spot in zip(self.kind_of, layout, strict=True):
            if (number, spot) not in self._rod_of:
                return False
        for a in range(len(layout)):
            for b in range(a):
                reach = self._reach(a) + self._reach(b) + _APART
                if math.dist(self.spots[layout[a]], self.spots[layout[b]]) < reach:
                    return False
        return True

    def _reach(self, k: int) -> float:
        a = self.movable[k]
        return a.across_m / 2

    def named(self, layout: Spots) -> Spots:
        """The same layout whichever of two like anodes hangs where."""
        out = list(layout)
        for number in range(len(self._kinds)):
            mine = [k for k, n in enumerate(self.kind_of) if n == number]
            for k, spot in zip(mine, sorted(layout[k] for k in mine), strict=True):
                out[k] = spot
        return tuple(out)

    @property
    def solves(self) -> int:
        """How many layouts have been solved."""
        return len(self._scored)

    def score(self, layout: Spots) -> Score:
        """Solve a feasible layout, or remember it."""
        layout = self.named(layout)
        if layout not in self._scored:
            self._scored[layout] = self._solved(layout)
        return self._scored[layout]

    def _solved(self, layout: Spots) -> Score:
        rods = self._fixed_rods + [
            self._rod_of[n, spot] for n, spot in zip(self.kind_of, layout, strict=True)
        ]
        return self._judged(self._rods.density(rods))

    def _judged(self, density: Array) -> Score:
        """Hours, amps and bounds from the density at one volt."""
        total = float(density @ self._rods.areas)
        a, supply = self._answer, self.plan.supply
        bath, threshold = replace(a.resistance, value=1 / total), a.threshold
        leads = a.leads
        gives = given_figure(supply, threshold, bath, leads).value
        draws = wanted_figure(supply, threshold, bath, leads).value
        ratio, ranks = self._rods.spread(density)
        quantiles = np.interp((np.arange(100) + 0.5) / 100, ranks, ratio)
        mean = gives / a.wetted_area.value
        hours = hours_per_need(mean, profile_of([float(q) for q in quantiles]))
        p5, p95 = (float(np.interp(q, ranks, ratio)) for q in (0.05, 0.95))
        p95 *= self._tail
        return Score(
            hours * a.need.value, draws, p5 * mean, p95 * mean,
            math.log(max(p95 * mean, 1e-9) / a.band.p95_high), _overrun(self.plan, draws),
        )  # fmt: skip

    def nearest(self) -> Spots:
        """The plan's own layout, each anode moved to the nearest spot that is free for it."""
        taken: list[int] = []
        for k, anode in enumerate(self.movable):
            free = [
                s for s in self.allowed[self.kind_of[k]]
                if all(math.dist(self.spots[s], self.spots[t])
                       >= self._reach(k) + self._reach(j) + _APART for j, t in enumerate(taken))
            ]  # fmt: skip
            if not free:
                raise NoAnswerError(
                    "There is no room for so many anodes.", remedy="Take fewer, or a wider tank."
                )
            at = (anode.x_m, anode.y_m)
            taken.append(min(free, key=lambda s: math.dist(self.spots[s], at)))
        return tuple(taken)

    def plan_with(self, layout: Spots) -> Plan:
        """The plan with its scrap set out by hand at a layout's spots."""
        where = iter(layout)
        anodes = [
            placed(a, self.spots[next(where)]) if a.stands else a
            for a in self.plan.anodes
        ]  # fmt: skip
        by_hand = self.plan.layout.model_copy(update={"arrangement": "by_hand"})
        return self.plan.model_copy(update={"anodes": anodes, "layout": by_hand})


def _overrun(plan: Plan, draws: float) -> float:
    """Log of the amps drawn over the supply's; a limit held by itself is not overrun."""
    if plan.supply.limited:
        return 0.0
    return math.log(max(draws, 1e-9) / plan.supply.rated_a)


def cost_of(plan: Plan, answer: Answer) -> float:
    """What a plan answered in full costs by the same measure."""
    hours = answer.whole_h
    over_band = math.log(max(answer.p95.value, 1e-9) / answer.band.p95_high)
    over = _overrun(plan, answer.draws.value)
    p5, p95 = answer.p5.value, answer.p95.value
    return Score(hours, answer.draws.value, p5, p95, over_band, over).cost


def search(trials: Trials, most: int = 1500) -> Iterator[FoundLayout]:
    """Look for the best layout in at most so many solves, telling after every few of them.

    Even rings on each contour are tried, turned by degrees; the best few, and the plan's own, are
    then improved by moving one anode at a time, to its neighbours and then to anywhere.
    """
    told = trials.solves
    best: tuple[float, Spots] | None = None

    def look(layout: Spots) -> float:
        nonlocal best
        cost = trials.score(layout).cost
        if best is None or cost < best[0] - 1e-9:
            best = (cost, layout)
        return cost

    def found() -> FoundLayout:
        assert best is not None
        return FoundLayout(trials.solves, most, best[1], trials.score(best[1]))

    starts = [trials.nearest(), *_rings(trials)]
    ranked = sorted({trials.named(s): None for s in starts if trials.feasible(s)})
    costs = {}
    for layout in ranked[: max(most // 3, 1)]:
        costs[layout] = look(layout)
        if trials.solves >= told + 10:
            told = trials.solves
            yield found()
    for start in sorted(costs, key=lambda k: costs[k])[:4]:
        at, cost = start, costs[start]
        for reach in (1, 4):
            moving = True
            while moving and trials.solves < most:
                moving = False
                for k in range(len(at)):  # each from where the one before it has got to
                    for layout in _moves(trials, at, k, reach):
                        if trials.solves >= most:
                            break
                        tried = look(layout)
                        if tried < cost - 1e-6:
                            at, cost, moving = layout, tried, True
                        if trials.solves >= told + 10:
                            told = trials.solves
                            yield found()
    yield found()


def _rings(trials: Trials) -> Iterator[Spots]:
    """Anodes evenly round each contour, begun at a dozen places."""
    count, start = len(trials.movable), 0
    for _, size in _CONTOURS:
        for turn in range(0, size, max(1, size // 12)):
            yield tuple(start + (turn + round(k * size / count)) % size for k in range(count))
        start += size


def _moves(trials: Trials, layout: Spots, k: int, reach: int) -> Iterator[Spots]:
    """The layout with one anode moved: along its contour, to the next one, or (far) anywhere."""
    spots, spot = trials.spots, layout[k]
    by_distance = sorted(range(len(spots)), key=lambda s: math.dist(spots[s], spots[spot]))
    near = by_distance[1:7] if reach == 1 else by_distance[7 :: max(1, len(spots) // 18)]
    for other in near:
        moved = (*layout[:k], other, *layout[k + 1 :])
        if trials.feasible(moved):
            yield moved


def spots(plan: Plan) -> Sequence[Point]:
    """Where scrap can hang: along the wall at the placing's gap, and on two rings further in."""
    length, width = standing_size(plan.tank)
    gap = plan.layout.wall_gap_m
    half = (max(length / 2 - gap, 0.01), max(width / 2 - gap, 0.01))
    out: list[Point] = []
    for share, count in _CONTOURS:
        a, b = half[0] * share, half[1] * share
        if plan.tank.shape.is_round:
            turns = [2 * math.pi * k / count - math.pi / 2 for k in range(count)]
            out += [(a * math.cos(t), b * math.sin(t)) for t in turns]
        else:
            out += [_along_box(a, b, k / count) for k in range(count)]
    return out


def _along_box(a: float, b: float, share: float) -> Point:
    """A point this far round a rectangle of half sizes a, b, begun in the middle of its -y side."""
    way = share * 4 * (a + b)
    legs = ((a, (0.0, -b), (1, 0)), (2 * b, (a, -b), (0, 1)), (2 * a, (a, b), (-1, 0)),
            (2 * b, (-a, b), (0, -1)), (a, (-a, -b), (1, 0)))  # fmt: skip
    for leg, (x, y), (dx, dy) in legs:
        if way <= leg + 1e-12:
            return x + dx * way, y + dy * way
        way -= leg
    return 0.0, -b


def placed(anode: Anode, spot: Point) -> Anode:
    """The anode moved to a spot."""
    return anode.model_copy(update={"x_m": round(spot[0], 4), "y_m": round(spot[1], 4)})


def _kinds(anodes: Sequence[Anode]) -> tuple[list[Anode], list[int]]:
    """Anodes that differ in more than their place, and which of them each anode is like."""
    kinds: list[Anode] = []
    of = []
    for a in anodes:
        pattern = a.model_copy(update={"id": "a", "x_m": 0.0, "y_m": 0.0})
        if pattern not in kinds:
            kinds.append(pattern)
        of.append(kinds.index(pattern))
    return kinds, of


def _gap(anode: Anode, plan: Plan, bottoms: Mapping[str, float]) -> float:
    dx, dy, reach = clearance(anode, plan, bottoms)
    return apart(dx, dy) - reach


def _fits(anode: Anode, plan: Plan) -> bool:
    """Whether all of it stands within the floor's outline, a millimetre clear."""
    length, width = standing_size(plan.tank)
    if isinstance(anode, RodAnode):
        ends = [(anode.x_m, anode.y_m)]
        reach = anode.diameter_m / 2
    else:
        along = facing(anode, plan.tank) + math.pi / 2
        half = anode.width_m / 2
        ends = [(anode.x_m + s * half * math.cos(along), anode.y_m + s * half * math.sin(along))
                for s in (-1, 1)]  # fmt: skip
        reach = anode.thickness_m / 2
    clear = reach + 0.001
    if plan.tank.shape.is_round:
        return all(math.hypot(*e) <= length / 2 - clear for e in ends)
    return all(abs(x) <= length / 2 - clear and abs(y) <= width / 2 - clear for x, y in ends)
