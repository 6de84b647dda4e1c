"""The field while a hand moves something: one mesh, in a few milliseconds, and what it may be off.

Where tank and piece stay, their operator and factor are kept and a moved rod brings its own; where
they move too the mesh is coarser, so that the answer still follows the hand. What only the fine
solve does (two meshes, reference facets, line of sight) is left to it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import numpy as np

from yellowbath.core.document import Plan
from yellowbath.core.field.assembly.assemble import BlockCache, alone_of, operator_key
from yellowbath.core.field.mesh.narrow import Neighbours
from yellowbath.core.field.mesh.surfaces import Surface
from yellowbath.core.field.model import FieldNumber
from yellowbath.core.field.plan_bath import (
    brought,
    by_region,
    near_to,
    needs_of,
    quantiles_of,
    scrap_share,
)
from yellowbath.core.field.plan_bodies import build
from yellowbath.core.field.plan_shapes import Frame
from yellowbath.core.field.sides import sides_of
from yellowbath.core.field.sight import grazing, nearness, openness, triangles_of
from yellowbath.core.field.solved import FieldSummary
from yellowbath.core.field.solver.bath import FieldBath
from yellowbath.core.field.solver.result import PieceCurrent
from yellowbath.core.field.solver.solve import solve
from yellowbath.core.power.warming import Warm

FINE, COARSE = 440, 110  # asked of the mesher, which gives up to twice as many of a few
_HELD = 1.9  # element sizes within which integrals are exact while something is moved; measured
_OFF = {FINE: 0.01, COARSE: 0.03}  # of the resistance, claimed; judged, see docs/models/field.md


@dataclass(frozen=True)
class LiveField:
    """One mesh's answer: resistance [ohm] with films, density over its mean by element [-].

    ``origin`` [m]: the tank's centre line on the floor; ``place`` [m]: how far off it an only piece
    hangs, which is all that a drag across the tank changes of its surface.
    ``regions`` by region id and ``rod_share`` by anode, as in ``plan_bath.PieceField``; ``worst``
    is the mean of the poorest fiftieth of the surface over the mean of all.
    """

    resistance: FieldNumber
    surface: Surface
    ratio: np.ndarray
    bare: np.ndarray
    regions: Mapping[str, float]
    rod_share: Mapping[str, float]
    worst: float
    origin: np.ndarray
    place: tuple[float, float] | None
    facets: int
    fine: bool
    sides: Mapping[str, np.ndarray]

    def summary(self, warm: Warm, wanted: Mapping[str, float]) -> FieldSummary:
        """As the fine field's, by its own facets where regions want different amounts."""
        r = self.resistance
        parts: dict[str, Any] = {
            "areas": tuple(self.bare.tolist()),
            "poses": (tuple(self.ratio.tolist()),),
            "sides": {k: tuple(v.tolist()) for k, v in self.sides.items()},
            "needs": needs_of(self.surface.patch, wanted),
        }
        return FieldSummary(
            resistance_ohm=r.value,
            relative_error=r.error / r.value,
            quantiles=quantiles_of(self.bare, self.ratio),
            rods={k: float(v) for k, v in self.rod_share.items()},
            facets=self.facets,
            warm=warm,
            **parts,
        )


def solve_live(
    plan: Plan,
    bottoms: Mapping[str, float],
    depth: float,
    conductivity: float,
    kept: BlockCache,
    ready: bool = False,
) -> LiveField:
    """Solve a plan as read on one mesh: the finer one where its operator is kept, or if ``ready``.

    Arguments as ``solve_plan``'s. Raises NoAnswerError where nothing is in the liquid.
    """
    near = near_to(conductivity)
    count = FINE
    bath, pieces = build(plan, dict(bottoms), depth, near, count)
    if not ready and not kept.holds(_key(bath)):
        count = COARSE
        bath, pieces = build(plan, dict(bottoms), depth, near, count, held=True)
        bath = replace(bath, green=replace(bath.green, near=_HELD))
    if ready:  # the first move of a piece then finds its coarser mesh put together
        for body in build(plan, dict(bottoms), depth, near, COARSE, held=True)[0].bodies:
            if body.surface.model is not None:
                alone_of(body.surface.model, kept)
    # what the rods' place costs is some thousandths: its last value does while anything moves
    about = ("displaced", *_shapes(bath), near, len(bath.rods))
    last = kept.get(about, lambda: None) if not ready else None
    solved = solve(replace(bath, bodies=bath.bodies if pieces else []), kept, last)
    kept.put(about, solved.displaced)
    bodies = bath.bodies[:pieces]
    share = PieceCurrent.of(bodies, solved.density)
    value = 1 / brought(share.current, near / conductivity, bath, solved)
    ratio = share.ratio
    return LiveField(
        resistance=FieldNumber(value, value * _OFF[count] * _crowding(bath, share.surface)),
        surface=share.surface,
        ratio=ratio,
        bare=share.bare,
        regions=by_region(share, [b.name for b in bodies]),
        rod_share=scrap_share(bath, pieces, solved),
        worst=_poorest(share.bare, ratio),
        origin=np.array([*(frame := Frame.of(plan, depth)).centre, frame.lift]),
        place=_only_place(plan),
        facets=solved.facets,
        fine=count == FINE,
        sides=_sides(
            bath,
            pieces,
            share.surface,
            kept if count == FINE else None,
            [f"{p.id}.bore" for p in plan.pieces if plan.lined(p)],
        ),
    )


def _only_place(plan: Plan) -> tuple[float, float] | None:
    """Where the only piece hangs; None where there are several."""
    found = [(p.x_m, p.y_m) for p in plan.pieces]
    return found[0] if len(found) == 1 else None


def _sides(
    bath: FieldBath, pieces: int, surface: Surface, kept: BlockCache | None, lined: Sequence[str]
) -> Mapping[str, np.ndarray]:
    """Main surface and slow places without looking for what else stands in the way: a side by
    whether it is turned towards some scrap, a recess by its sky where there is time to ask; a bore
    with scrap of its own (``lined``) faces it as an outside does."""
    points, normals = surface.centres, surface.normals
    faced = [np.zeros(len(surface))]
    by_name: dict[str, list[np.ndarray]] = {}
    for rod in bath.rods:
        for t in (0.1, 0.37, 0.63, 0.9) if rod.cuts is None else (0.5,):
            by_name.setdefault(rod.name, []).append(rod.start + t * (rod.end - rod.start))
    for body in bath.bodies[pieces:]:
        by_name[body.name] = list(body.surface.centres[:: max(len(body.surface) // 24, 1)])
    for ends in by_name.values():
        near = np.array([nearness(points, end) for end in ends])
        slant = np.array([grazing(points, normals, end) for end in ends])
        faced.append((slant * near).sum(axis=0) / near.sum(axis=0))
    if kept is None:
        sky = np.where([p.endswith(".bore") for p in surface.patch], 0.0, 1.0)
    else:
        own = [b.surface for b in bath.bodies[:pieces]]
        sky = np.concatenate([kept.get(("sky", s.digest), partial(_sky, s)) for s in own])
    sky = np.where(np.isin(surface.patch, lined), 1.0, sky)
    return sides_of(sky, np.max(faced, axis=0), normals)


def _sky(surface: Surface) -> np.ndarray:
    return openness(triangles_of(surface), surface.centres, surface.normals)


def _crowding(bath: FieldBath, surface: Surface) -> float:
    """How much more one mesh may be off where rods stand nearer than its elements are wide [-]."""
    if not bath.rods:
        return 1.0
    gap = float(Neighbours(bath.rods, []).gap(surface.flat_centres).min())
    width = math.sqrt(float(surface.areas.sum()) / len(surface))
    return 1 + _NARROW * max(width / max(gap, 1e-3) - 1, 0.0)


_NARROW = 0.7  # judged


def _key(bath: FieldBath) -> tuple[object, ...]:
    return operator_key([b.surface for b in bath.bodies], bath.walls, bath.green)


def _shapes(bath: FieldBath) -> tuple[object, ...]:
    """The tank and the bodies in it, wherever they are."""
    models = [b.surface.model or b.surface for b in bath.bodies]
    return operator_key(models, bath.walls, bath.green)


def _poorest(areas: np.ndarray, ratio: np.ndarray, share: float = 0.02) -> float:
    """Mean over the poorest part of the surface, contiguous or not."""
    order = np.argsort(ratio)
    upto = np.minimum(np.cumsum(areas[order]), share * areas.sum())
    part = np.diff(upto, prepend=0.0)
    return float(ratio[order] @ part / part.sum())
