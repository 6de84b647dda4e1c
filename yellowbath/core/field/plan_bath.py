"""A plan's bath as the solver sees it, and what the solver says of the plan's piece.

Solved at one volt across bath and films: the model is linear, so resistance and ratios are all
there is to know. Tanks: box and bucket, both with taper; the piece is the first one, in its pose.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from yellowbath.core.data import param
from yellowbath.core.document import Box, BucketTank, Piece, Plan, Plate, Tube
from yellowbath.core.field.assemble import Kept
from yellowbath.core.field.green import Green, box_green, slab_green
from yellowbath.core.field.model import STEP, Layout, Number
from yellowbath.core.field.result import Share
from yellowbath.core.field.shapes import (
    BoxBody,
    CylinderBody,
    Shape,
    area_of,
    mesh,
    round_wall,
    wetted,
)
from yellowbath.core.field.solve import Bath, Body, solve
from yellowbath.core.field.solved import FieldSummary
from yellowbath.core.field.surfaces import Rod, Surface, wall_surface
from yellowbath.core.geometry.tank import plan_size

FACETS = {"preview": 300, "settled": 700}
_AROUND = 1.15  # the insulated box round a tank whose walls are meshed, in its own size


_box = lru_cache(maxsize=16)(box_green)
_slab = lru_cache(maxsize=16)(slab_green)


@dataclass(frozen=True)
class PieceField:
    """What the solver says. Resistance [ohm] with films; density as a ratio to its mean [-]."""

    resistance: Number
    p5: Number
    p95: Number
    worst: float
    regions: Mapping[str, Number]
    surface: Surface
    ratio: np.ndarray
    origin: np.ndarray
    rod_share: Mapping[str, float]
    facets: int

    def summary(self) -> FieldSummary:
        """What is kept of it: quantiles over the wetted area, at the middles of hundredths."""
        order = np.argsort(self.ratio)
        areas = self.surface.areas[order]
        ranks = (np.cumsum(areas) - areas / 2) / areas.sum()
        wanted = (np.arange(100) + 0.5) / 100
        quantiles = np.maximum(np.interp(wanted, ranks, self.ratio[order]), 0.0)
        r = self.resistance
        return FieldSummary(
            resistance_ohm=r.value,
            relative_error=r.error / r.value,
            quantiles=tuple(round(float(q), 5) for q in quantiles),
            facets=self.facets,
        )


@dataclass(frozen=True)
class _Frame:
    """The insulated box and the tank's centre line in it."""

    size: tuple[float, float, float]
    centre: tuple[float, float]
    walls: bool


def _frame(plan: Plan, depth: float) -> _Frame:
    floor, level = plan_size(plan.tank, 0.0), plan_size(plan.tank, depth)
    straight = not isinstance(plan.tank.shape, BucketTank) and math.dist(floor, level) < 1e-9
    around = 1.0 if straight else _AROUND
    length, width = (around * max(a, b) for a, b in zip(floor, level, strict=True))
    return _Frame((length, width, depth), (length / 2, width / 2), not straight)


def _piece_shape(piece: Piece, layout: Layout, bottom: float, centre: tuple[float, float]) -> Shape:
    """The first piece in its pose, hung on the centre line with its lower edge at ``bottom``."""
    shape = piece.shape
    x, y = centre
    if isinstance(shape, Plate | Box):
        half = np.array([layout.piece_m[0] / 2, layout.piece_m[1] / 2, 0.0])
        low = np.array([x, y, bottom]) - half
        return BoxBody(low, low + 2 * half + [0.0, 0.0, layout.piece_m[2]])
    radius, bore = (
        (shape.outer_diameter_m / 2, shape.inner_diameter_m / 2)
        if isinstance(shape, Tube)
        else (shape.diameter_m / 2, 0.0)
    )
    length = shape.length_m
    if piece.hang == "long_down" and length >= 2 * radius:
        return CylinderBody(2, (x, y), radius, bottom, bottom + length, bore)
    return CylinderBody(0, (y, bottom + radius), radius, x - length / 2, x + length / 2, bore)


def build(
    plan: Plan, layout: Layout, bottom: float, conductivity: float, facets: int, green: Green
) -> Bath:
    """The bath at one volt with about so many facets on the piece."""
    depth = layout.depth_m
    frame = _frame(plan, depth)
    shape = wetted(_piece_shape(plan.pieces[0], layout, bottom, frame.centre), depth)
    bodies = []
    if shape is not None:
        size = math.sqrt(area_of(shape, depth) / facets)
        film = param("film_piece_ohm_m2").value
        bodies.append(Body("piece", mesh(shape, depth, size), 0.0, film))
    rods = [
        Rod(
            a.id,
            np.array([frame.centre[0] + a.x_m, frame.centre[1] + a.y_m, a.floor_gap_m]),
            np.array([frame.centre[0] + a.x_m, frame.centre[1] + a.y_m, depth]),
            a.diameter_m / 2,
            (a.floor_gap_m > 1e-9, False),
        )
        for a in plan.anodes
        if a.floor_gap_m < depth
    ]
    return Bath(
        green, bodies, rods, 1.0, param("film_anode_ohm_m2").value,
        _walls(plan, frame), conductivity, segments=max(8, round(math.sqrt(facets) / 2)),
    )  # fmt: skip


def _walls(plan: Plan, frame: _Frame) -> Surface | None:
    if not frame.walls:
        return None
    depth = frame.size[2]
    floor, level = plan_size(plan.tank, 0.0), plan_size(plan.tank, depth)
    if isinstance(plan.tank.shape, BucketTank):
        return round_wall(floor[0] / 2, level[0] / 2, frame.centre, depth)
    rings = [_rectangle(frame.centre, size) for size in (floor, level)]
    return wall_surface(rings[0], rings[1], depth, 8)


def _rectangle(centre: tuple[float, float], size: tuple[float, float]) -> np.ndarray:
    """A rectangle's outline, counter-clockwise, twelve cuts a side."""
    t = np.arange(12) / 12 - 0.5
    one, half = np.ones_like(t), 0.5
    sides = [(t, -half * one), (half * one, t), (-t, half * one), (-half * one, -t)]
    points = np.concatenate([np.stack(s, axis=1) for s in sides])
    ring: np.ndarray = np.array(centre) + points * np.array(size)
    return ring


def solve_plan(
    plan: Plan,
    layout: Layout,
    bottom: float,
    conductivity: float,
    quality: str = "preview",
    kept: Kept | None = None,
) -> PieceField:
    """Solve a settled plan on two meshes; ``kept`` makes a moved rod or another mix cheap.

    Raises NoAnswerError where nothing is in the liquid.
    """
    frame = _frame(plan, layout.depth_m)
    green = _slab(math.hypot(*frame.size[:2]), frame.size[2]) if frame.walls else _box(frame.size)
    shares, currents = [], []
    facets = FACETS[quality]
    for count in (facets, round(facets / STEP**2)):
        bath = build(plan, layout, bottom, conductivity, count, green)
        solved = solve(bath, kept)
        shares.append(Share(bath.bodies[0].surface, solved.density["piece"]))
        currents.append(solved)
    fine, coarse = shares
    total = Number.of(fine.current, coarse.current)
    p5, p95 = (
        Number.of(fine.percentile(q) / fine.mean, coarse.percentile(q) / coarse.mean, 1.0)
        for q in (0.05, 0.95)
    )
    return PieceField(
        resistance=Number(1 / total.value, total.error / total.value**2),
        p5=p5,
        p95=p95,
        worst=fine.worst_patch() / fine.mean,
        regions=_regions(plan.pieces[0], fine, coarse),
        surface=fine.surface,
        ratio=fine.density / fine.mean,
        origin=np.array([*frame.centre, 0.0]),
        rod_share={
            k: v / sum(currents[0].rod_current.values()) for k, v in currents[0].rod_current.items()
        },
        facets=currents[0].facets,
    )


def _regions(piece: Piece, fine: Share, coarse: Share) -> Mapping[str, Number]:
    """Mean of each region over the mean of all, by region id."""
    out = {}
    found = [_by_region(piece, s) for s in (fine, coarse)]
    for region in piece.regions:
        pair = [f.get(region.id) for f in found]
        if pair[0] is not None and pair[1] is not None:
            out[region.id] = Number.of(pair[0], pair[1], 1.0)
    return out


def _by_region(piece: Piece, share: Share) -> dict[str, float]:
    names = np.array([f"{piece.id}.{n}" for n in region_names(piece, share.surface)])
    areas = share.surface.areas
    return {
        str(n): float(share.density[names == n] @ areas[names == n] / areas[names == n].sum())
        / share.mean
        for n in np.unique(names)
    }


def region_names(piece: Piece, surface: Surface) -> list[str]:
    """The region key of each facet: front is the side facing -y (or the floor, lying flat)."""
    normals = surface.normals
    spread = np.ptp(surface.centres, axis=0)
    across = 2 if piece.hang == "flat" else 1
    kind = piece.shape.kind
    if kind in ("plate", "box"):
        axis = np.abs(normals).argmax(axis=1)
        sign = normals[np.arange(len(axis)), axis] > 0
        if kind == "plate":
            face = np.where(sign, "back", "front")
            return list(np.where(axis == across, face, "edges"))
        names = np.array([["left", "right"], ["front", "back"], ["bottom", "top"]])
        return list(names[axis, sign.astype(int)])
    along = int(spread.argmax())
    ends = np.abs(normals[:, along]) > 0.7
    if kind == "tube":
        bore = np.array([p == "bore" for p in surface.patch])
        return list(np.where(ends, "ends", np.where(bore, "bore", "outside")))
    side = np.where(normals[:, 1] > 0, "back", "front")
    return list(np.where(ends, "ends", side))
