"""A plan's bath as the solver sees it, and what the solver says of the plan's piece.

Solved at one volt across bath and films: the model is linear, so resistance and ratios are all
there is to know. Tanks: box and bucket, both with taper; the piece is the first one, in its pose.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from yellowbath.core.document import Piece, Plan, RodAnode
from yellowbath.core.field.assembly.assemble import BlockCache
from yellowbath.core.field.mesh.surfaces import Surface, join
from yellowbath.core.field.model import DRUM, QUALITIES, STEP, Claim, FieldNumber
from yellowbath.core.field.plan_bodies import build
from yellowbath.core.field.plan_shapes import Frame, pose_of, region_names
from yellowbath.core.field.reference import Hung, carrier, hung, reference
from yellowbath.core.field.sides import sides_of
from yellowbath.core.field.sight import Sight, sight, triangles_of
from yellowbath.core.field.solved import FieldSummary
from yellowbath.core.field.solver.bath import Body, FieldBath
from yellowbath.core.field.solver.result import PieceCurrent
from yellowbath.core.field.solver.solve import Solved, solve
from yellowbath.core.geometry.anode import apart, clearance
from yellowbath.core.power.warming import Warm

"""What a solve that is doubted is refined to."""


@dataclass(frozen=True)
class Facets:
    """All pieces' reference facets: areas [m2], density over the mean of all [-], wet share [-].

    ``name`` puts the reference meshes' names together, ``regions`` are the region ids.
    """

    name: str
    areas: np.ndarray
    ratio: np.ndarray
    wet: np.ndarray
    kinds: tuple[str, ...]
    regions: tuple[str, ...]
    open_sky: np.ndarray

    def tails(self) -> Mapping[str, tuple[float, float, float]]:
        """Share of the wet area, p5 and p95 over the mean of all, for outer, recess and bore."""
        areas, names = self.areas * self.wet, np.array(self.kinds)
        out = {}
        for kind in ("outer", "recess", "bore"):
            mine = (names == kind) & (areas > 0)
            if mine.any():
                order = np.argsort(self.ratio[mine])
                part, ratio = areas[mine][order], self.ratio[mine][order]
                ranks = (np.cumsum(part) - part / 2) / part.sum()
                p5, p95 = np.interp([0.05, 0.95], ranks, ratio)
                out[kind] = (float(part.sum() / areas.sum()), float(p5), float(p95))
        return out

    def rounded(self) -> tuple[float, ...]:
        """Ratio of each facet as a run keeps it; what is dry in part gets its part."""
        return tuple(round(float(r), 5) for r in self.ratio * self.wet)


@dataclass(frozen=True)
class PieceField:
    """What the solver says. Resistance [ohm] with films; density as a ratio to its mean [-].

    ``regions`` by region id, ``rod_share`` of the current by anode, ``piece_share`` by piece;
    ``bare`` area of each facet that is not taped over [m2].
    """

    resistance: FieldNumber
    p5: FieldNumber
    p95: FieldNumber
    worst: float
    regions: Mapping[str, FieldNumber]
    surface: Surface
    ratio: np.ndarray
    bare: np.ndarray
    origin: np.ndarray
    rod_share: Mapping[str, float]
    piece_share: Mapping[str, float]
    facets: int
    carried: Facets
    sight: Sight
    meshes: tuple[tuple[float, ...], tuple[float, ...], float]

    def summary(self, warm: Warm, wanted: Mapping[str, float]) -> FieldSummary:
        """What is kept of it: quantiles over the wetted area, at the middles of hundredths.

        ``warm`` is what the conductivity that it was solved with was reckoned for; ``wanted`` by
        region as ``dose.wanted_by_region`` says.
        """
        r = self.resistance
        return FieldSummary(
            resistance_ohm=r.value,
            relative_error=r.error / r.value,
            quantiles=quantiles_of(self.bare, self.ratio),
            rods={k: float(v) for k, v in self.rod_share.items()},
            facets=self.facets,
            warm=warm,
            reference=self.carried.name,
            areas=tuple(float(f"{a:.5g}") for a in self.carried.areas),
            poses=(self.carried.rounded(),),
            needs=needs_of(self.carried.regions, wanted),
            meshes=self.meshes[:2],
            coarse_current=self.meshes[2],
            sides={k: tuple(round(float(x), 3) for x in v) for k, v in self.sides.items()},
            places=self.carried.regions,
        )

    @cached_property
    def sides(self) -> Mapping[str, np.ndarray]:
        """How much each reference facet belongs to the main surface and the slow places; what is
        dry to none."""
        found = sides_of(self.carried.open_sky, self.sight.facing, self.sight.facets.normals)
        return {k: v * self.carried.wet for k, v in found.items()}


def needs_of(regions: Sequence[str], wanted: Mapping[str, float]) -> tuple[float, ...]:
    """What each facet wants over what the piece does [-]; none where all want the same."""
    return tuple(wanted.get(r, 1.0) for r in regions) if wanted else ()


def _open_quantiles(share: PieceCurrent) -> tuple[float, ...]:
    """Quantiles of what is no bore by name."""
    keep = np.array([not p.endswith(".bore") for p in share.surface.patch]) & (share.bare > 0)
    keep = keep if keep.any() else share.bare > 0  # scrap in its bore: nothing else is bare
    return quantiles_of(share.bare[keep], share.ratio[keep])


def quantiles_of(areas: np.ndarray, ratio: np.ndarray) -> tuple[float, ...]:
    """Density over its mean at the middles of hundredths of the area, lowest first [-]."""
    if (some := areas > 0).any():
        areas, ratio = areas[some], ratio[some]
    order = np.argsort(ratio)
    sorted_areas = areas[order]
    ranks = (np.cumsum(sorted_areas) - sorted_areas / 2) / areas.sum()
    wanted = (np.arange(100) + 0.5) / 100
    found = np.maximum(np.interp(wanted, ranks, ratio[order]), 0.0)
    return tuple(round(float(q), 5) for q in found)


def solve_plan(
    plan: Plan,
    bottoms: Mapping[str, float],
    depth: float,
    conductivity: float,
    quality: str = "preview",
    kept: BlockCache | None = None,
    check: Callable[[], None] = lambda: None,
) -> PieceField:
    """Solve a plan as read on two meshes; ``kept`` makes a moved rod or another mix cheap.

    ``check`` is called before each mesh and may raise, where nobody waits for the answer any more.
    ``bottoms``: lower edge of each piece by its id [m]; ``depth`` of the liquid [m], conductivity
    [S/m]. Raises NoAnswerError where nothing is in the liquid.

    Solved at the nearest of conductivities a hundredth apart, so that a bath which warms a little
    differently meets the same factors; the resistance is then brought to the one asked for.
    """
    shares, solves, totals = [], [], []
    frame = Frame.of(plan, depth)
    how = QUALITIES[quality]
    facets = how.facets
    near = near_to(conductivity)
    displaced = None
    for count in (round(facets / STEP**2), facets):
        check()
        bath, pieces = build(plan, dict(bottoms), depth, near, count, narrow=True)
        solved = solve(replace(bath, bodies=_something(bath.bodies, pieces)), kept, displaced)
        displaced = solved.displaced
        shares.append(PieceCurrent.of(bath.bodies[:pieces], solved.density))
        solves.append((bath, pieces, solved))
        totals.append(brought(shares[-1].current, near / conductivity, bath, solved))
    coarse, fine = shares
    shared = DRUM if frame.lift else how.shared
    crowd = _crowded(plan, frame, bottoms, scrap_share(*solves[1]), solves[1][0])
    total = FieldNumber.of(totals[1], totals[0], None, shared + crowd)
    p5, p95 = (
        FieldNumber.tail(fine.percentile(q) / fine.mean, coarse.percentile(q) / coarse.mean, claim)
        for q, claim in ((0.05, how.p5), (0.95, how.p95))
    )
    bath, pieces, solved = solves[1]
    at = _hung(plan, bottoms, frame)
    return PieceField(
        resistance=FieldNumber(1 / total.value, total.error / total.value**2),
        p5=p5,
        p95=p95,
        worst=fine.worst_patch() / fine.mean,
        regions=_regions(fine, coarse, [b.name for b in bath.bodies[:pieces]], how.face),
        surface=fine.surface,
        ratio=fine.ratio,
        bare=fine.bare,
        origin=np.array([*frame.centre, frame.lift]),
        rod_share=scrap_share(bath, pieces, solved),
        piece_share={
            b.name: float(solved.density[b.name] @ b.surface.areas) / fine.current
            for b in bath.bodies[:pieces]
        },
        facets=solved.facets,
        carried=_carried(
            plan, at, depth, solved, bath.bodies[:pieces], fine, kept or BlockCache(0)
        ),
        sight=_sight(plan, at, frame, bottoms, bath, pieces),
        meshes=(_open_quantiles(fine), _open_quantiles(coarse), totals[0] / totals[1]),
    )


def _crowded(
    plan: Plan,
    frame: Frame,
    bottoms: Mapping[str, float],
    shares: Mapping[str, float],
    bath: FieldBath,
) -> float:
    """What rods as lines may be off near walls and pieces [-]: their current is not even all round
    there. Judged on rods meshed as cylinders, 0.1 to 14 mm from a wall, in corners and by a plate.
    """
    total, lines = 0.0, {r.name for r in bath.rods}
    for anode in plan.anodes:
        if not isinstance(anode, RodAnode) or anode.id not in lines:
            continue
        r = anode.diameter_m / 2
        x, y = frame.centre[0] + anode.x_m, frame.centre[1] + anode.y_m
        off = [] if frame.walls else [x, frame.size[0] - x, y, frame.size[1] - y]
        dx, dy, reach = clearance(anode, plan, bottoms)
        off.append(apart(dx, dy) - reach + r)
        total += shares[anode.id] * sum((r / max(d, r)) ** 2 for d in off)
    return _CROWD * total


_CROWD = 0.004  # of the resistance, where a rod touches one wall; judged

_GRID = 0.01  # of the log of the conductivity


def near_to(conductivity: float) -> float:
    """The nearest of conductivities a hundredth apart."""
    return math.exp(_GRID * round(math.log(conductivity) / _GRID))


def scrap_share(bath: FieldBath, pieces: int, solved: Solved) -> Mapping[str, float]:
    """Share of the current out of each anode, the first so many bodies being pieces [-]."""
    out = dict(solved.rod_current)
    for body in bath.bodies[pieces:]:
        out[body.name] = -float(solved.density[body.name] @ body.surface.areas)
    return {k: v / sum(out.values()) for k, v in out.items()}


def brought(current: float, ratio: float, bath: FieldBath, solved: Solved) -> float:
    """The current at one volt where the liquid's share of the resistance is ``ratio`` as large.

    Right to first order, since what a bath dissipates is stationary in its currents; the second is
    below 1e-5 for half a hundredth.
    """
    lost = sum(
        float((b.films * solved.density[b.name] ** 2) @ b.surface.areas)
        + b.lead * float(solved.density[b.name] @ b.surface.areas) ** 2
        for b in bath.bodies
    )
    lost += bath.rod_film * solved.rod_loss
    lost += sum(r * solved.rod_current[name] ** 2 for name, r in _leads(bath).items())
    total, films = 1 / current, lost / current**2
    return 1 / (films + (total - films) * ratio)


def _leads(bath: FieldBath) -> Mapping[str, float]:
    """Lead of each rod by name; a ring's parts hang on one."""
    return {r.name: lead for r, lead in zip(bath.rods, bath.rod_leads, strict=True)}


def _hung(plan: Plan, bottoms: Mapping[str, float], frame: Frame) -> list[Hung]:
    poses = [pose_of(piece, frame, bottoms[piece.id]) for piece in plan.pieces]
    made = hung([reference(p) for p in plan.pieces], poses, frame.size[2], frame.planes)
    return [_uncovered(h, p, plan) for h, p in zip(made, plan.pieces, strict=True)]


def _uncovered(hung_one: Hung, piece: Piece, plan: Plan) -> Hung:
    """What is taped over is not for this bath, as if it stood out of the liquid."""
    if not plan.covered(piece):
        return hung_one
    return replace(hung_one, wet=np.where(_taped(plan, piece), 0.0, hung_one.wet))


def places_of(piece: Piece, surface: Surface) -> list[str]:
    """The region id of each element of a piece's surface in its own axes."""
    return [f"{piece.id}.{n}" for n in region_names(piece, surface, np.eye(3))]


def bare_share(plan: Plan, piece: Piece) -> float:
    """Share of a piece's surface that the liquid may touch: what is not taped over [-]."""
    areas = reference(piece).surface.areas
    return float(areas[~_taped(plan, piece)].sum() / areas.sum())


def _taped(plan: Plan, piece: Piece) -> np.ndarray:
    """Which of a piece's reference facets no liquid touches."""
    found: np.ndarray = np.isin(
        places_of(piece, reference(piece).surface), list(plan.covered(piece))
    )
    return found


def hung_facets(
    plan: Plan, bottoms: Mapping[str, float], depth: float
) -> tuple[Surface, np.ndarray]:
    """All pieces' reference facets as they hang at a level [m], in one surface, and the place [m]
    of the tank's centre line on the floor: what a run's doses are drawn on."""
    frame = Frame.of(plan, depth)
    facets = join([one.surface for one in _hung(plan, bottoms, frame)])
    return facets, np.array([*frame.centre, frame.lift])


def _carried(
    plan: Plan,
    pieces: Sequence[Hung],
    depth: float,
    solved: Solved,
    bodies: Sequence[Body],
    whole: PieceCurrent,
    kept: BlockCache,
) -> Facets:
    """The density on every piece's reference facets; a piece that is dry has none."""
    by_id = {b.name: b for b in bodies}
    density, wet = [], []
    regions: list[str] = []
    for piece, at in zip(plan.pieces, pieces, strict=True):
        ref = at.ref
        regions += places_of(piece, ref.surface)
        body = by_id.get(piece.id)
        if body is None or not at.wet.any():
            density.append(np.zeros(len(ref.surface)))
            wet.append(np.zeros(len(ref.surface)))
            continue
        one = len(bodies) == 1
        share = whole if one else PieceCurrent.of([body], solved.density)
        way = carrier(at, depth, body.surface, kept)
        density.append(way.carry(share))
        wet.append(way.wet / ref.surface.areas)
    refs = [p.ref for p in pieces]
    all_areas, all_wet = np.concatenate([r.surface.areas for r in refs]), np.concatenate(wet)
    carried = np.concatenate(density)
    mean = float(carried @ (all_areas * all_wet)) / float(all_areas @ all_wet)
    kinds = tuple(k for r in refs for k in r.kinds)
    name = "+".join(r.name for r in refs)
    sky = np.concatenate([r.open_sky for r in refs])
    # a bore with scrap of its own faces it as an outside does
    lined = np.isin(regions, [f"{p.id}.bore" for p in plan.pieces if plan.lined(p)])
    sky = np.where(lined, 1.0, sky)
    return Facets(name, all_areas, carried / mean, all_wet, kinds, tuple(regions), sky)


def _sight(
    plan: Plan, at: Sequence[Hung], frame: Frame, bottoms: Mapping[str, float], bath: FieldBath,
    pieces: int,
) -> Sight:  # fmt: skip
    """What all pieces' reference facets see of the scrap."""
    blockers = []
    for piece, one in zip(plan.pieces, at, strict=True):
        turn, shift = pose_of(piece, frame, bottoms[piece.id])
        blockers.append(one.ref.triangles @ turn.T + shift)
    plates = {b.name: b.surface for b in bath.bodies[pieces:]}
    blockers += [triangles_of(s) for s in plates.values()]
    wet = np.concatenate([one.wet for one in at])
    return sight(
        join([one.surface for one in at]), wet, np.concatenate(blockers), bath.rods, plates
    )


def _something(bodies: Sequence[Body], pieces: int) -> Sequence[Body]:
    """The bodies, unless no piece is among them: there is then no way for the current."""
    return bodies if pieces else []


def _regions(
    fine: PieceCurrent, coarse: PieceCurrent, pieces: Sequence[str], claim: Claim
) -> Mapping[str, FieldNumber]:
    """Mean of each region over the mean of all, by region id."""
    one, other = (by_region(s, pieces) for s in (fine, coarse))
    return {key: FieldNumber.face(one[key], other[key], claim) for key in one if key in other}


def by_region(share: PieceCurrent, pieces: Sequence[str]) -> dict[str, float]:
    names, areas = np.array(share.surface.patch), share.surface.areas
    return {
        str(n): float(share.density[names == n] @ areas[names == n] / areas[names == n].sum())
        / share.mean
        for n in np.unique(names)
    }
