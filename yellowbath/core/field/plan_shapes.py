"""A plan's pieces and tank as surfaces.

Lengths [m]; the origin is a floor corner of a box tank, or of the square about another one. A piece
that hangs square is meshed from its sizes; any other shape or pose from a closed mesh, cut once in
the piece's own coordinates.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.data import param
from yellowbath.core.document import (
    Bar,
    Box,
    BucketTank,
    DrumTank,
    Piece,
    Pile,
    Plan,
    Plate,
    Shape,
    Tube,
    Weighed,
)
from yellowbath.core.field.integrals.green import Green, box_green, slab_green
from yellowbath.core.field.kept import kept
from yellowbath.core.field.mesh.flush import Wall
from yellowbath.core.field.mesh.grouping import Fine, below, cut, grouped
from yellowbath.core.field.mesh.shapes import (
    WALL_SIDES,
    BoxBody,
    CylinderBody,
    area_of,
    lying_drum,
    mesh,
    round_wall,
    wetted,
)
from yellowbath.core.field.mesh.shapes import BodyShape as Solid
from yellowbath.core.field.mesh.solids import solid
from yellowbath.core.field.mesh.surfaces import (
    Surface,
    cylinder_side,
    moved,
    shifted,
    wall_surface,
)
from yellowbath.core.field.solver.bath import Body
from yellowbath.core.geometry.piece import measure, posed, sizes, turn_of
from yellowbath.core.geometry.tank import plan_size

Array = NDArray[np.float64]
_AROUND = 1.15  # the square about a tank whose walls are meshed, in its own size
_FINEST, _HELD = 700, 150  # elements that a piece's mesh is cut for; and under a hand
_HELD_SIDES = 40  # of a bucket under a hand; judged
_LIFT = 0.35  # of the depth: the floor that the Green function knows is this far under a drum


@dataclass(frozen=True)
class Frame:
    """Size of the liquid's box, the tank's centre line in it, and whether walls are meshed.

    ``lift`` [m]: how far a tank with a curved floor stands above the box's own floor.
    """

    size: tuple[float, float, float]
    centre: tuple[float, float]
    walls: bool
    lift: float = 0.0

    @staticmethod
    def of(plan: Plan, depth: float) -> Frame:
        """The frame of a plan's tank, filled to a depth [m]."""
        shape = plan.tank.shape
        if isinstance(shape, DrumTank):
            length, width = _AROUND * shape.length_m, _AROUND * shape.diameter_m
            lift = _LIFT * depth
            return Frame((length, width, depth + lift), (length / 2, width / 2), True, lift)
        floor, level = plan_size(plan.tank, 0.0), plan_size(plan.tank, depth)
        straight = not plan.tank.shape.is_round and math.dist(floor, level) < 1e-9
        around = 1.0 if straight else _AROUND
        length, width = (around * max(a, b) for a, b in zip(floor, level, strict=True))
        return Frame((length, width, depth), (length / 2, width / 2), not straight)

    def green(self) -> Green:
        """The Green function that the tank is solved with, kept for the last few tanks."""
        if self.walls:
            return _slab(math.hypot(*self.size[:2]), self.size[2])
        return _box(self.size)

    @property
    def planes(self) -> tuple[Wall, ...]:
        """What is flat and insulates: the surface, the floor and, of a straight box, its walls."""
        floor = () if self.lift else ((2, 0.0),)
        sides = () if self.walls else ((0, 0.0), (0, self.size[0]), (1, 0.0), (1, self.size[1]))
        return ((2, self.size[2]), *floor, *sides)

    def walls_of(self, plan: Plan, held: bool = False) -> Surface | None:
        """The meshed wall; None where the Green function knows it, or it is the piece. ``held``: of
        fewer elements for a bucket, as while something is moved."""
        if not self.walls or plan.tank.is_piece:
            return None
        depth = self.size[2]
        if isinstance(plan.tank.shape, DrumTank):
            shape = plan.tank.shape
            return lying_drum(shape.length_m, shape.diameter_m, self.centre, self.lift, depth)
        floor, level = plan_size(plan.tank, 0.0), plan_size(plan.tank, depth)
        if isinstance(plan.tank.shape, BucketTank):
            sides = _HELD_SIDES if held else WALL_SIDES
            return round_wall(floor[0] / 2, level[0] / 2, self.centre, depth, sides)
        rings = [_rectangle(self.centre, size) for size in (floor, level)]
        return wall_surface(rings[0], rings[1], depth, 8)


_box = lru_cache(maxsize=6)(box_green)  # 3 MB each, made in 12 ms
_slab = lru_cache(maxsize=16)(slab_green)


def _rectangle(centre: tuple[float, float], size: tuple[float, float]) -> Array:
    """A rectangle's outline, counter-clockwise, sixteen cuts a side."""
    t = np.arange(16) / 16 - 0.5
    one, half = np.ones_like(t), 0.5
    sides = [(t, -half * one), (half * one, t), (-t, half * one), (-half * one, -t)]
    points = np.concatenate([np.stack(s, axis=1) for s in sides])
    ring: Array = np.array(centre) + points * np.array(size)
    return ring


# --- Pieces -----------------------------------------------------------------------------------


def piece_bodies(
    plan: Plan, frame: Frame, bottoms: dict[str, float], facets: int, held: bool = False
) -> list[Body]:
    """Each piece that is in the liquid, with about so many elements on all of them together; of
    fewer flat pieces while ``held``."""
    share = max(facets // len(plan.pieces), 80)
    film = param("film_piece_ohm_m2").value
    bodies = []
    for piece in plan.pieces:
        shaped = piece.model_dump_json(include=_SHAPING)
        finest = _HELD if held else _FINEST
        if plan.tank.is_piece:
            centred: Surface | None = _own_wall(shaped, frame, share)
        else:
            centred = _named(shaped, frame, bottoms[piece.id], share, finest)
        if centred is None:
            continue
        named = shifted(centred, np.array([piece.x_m, piece.y_m, 0.0]))
        # a heap has more surface than the outside of its basket: the film there is the thinner
        inside = _heap(piece.shape)
        covered = plan.covered(piece)
        masked = np.array([n in covered for n in named.patch])
        bodies.append(
            Body(piece.id, named, 0.0, film / inside, piece.contact_ohm,
                 masked if masked.any() else None)
        )  # fmt: skip
    return bodies


_SHAPING = {"id", "shape", "hang", "turn_deg", "tilt_deg", "flipped"}


@kept(24_000_000)  # a wheel takes 5 for each of its two meshes
def _named(shaped: str, frame: Frame, bottom: float, facets: int, finest: int) -> Surface | None:
    """The surface of a piece on the tank's centre line with its regions named, kept as what is
    worked out of it is too: it is the same wherever in the tank the piece hangs."""
    piece = Piece.model_validate_json(shaped)
    surface = _piece_surface(piece, frame, bottom, facets, finest)
    if surface is None or not len(surface):
        return None
    names = tuple(f"{piece.id}.{n}" for n in region_names(piece, surface))
    return replace(surface, patch=names, behind=surface.wall)


@kept(12_000_000)
def _own_wall(shaped: str, frame: Frame, facets: int) -> Surface:
    """The bore of a tube that is its own vessel, as far up as the liquid stands."""
    piece = Piece.model_validate_json(shaped)
    assert isinstance(piece.shape, Tube)
    radius, depth = piece.shape.inner_diameter_m / 2, frame.size[2]
    around = min(max(round(math.sqrt(facets * 2 * math.pi * radius / depth)), 12), 48)
    cuts = np.linspace(0.0, depth, max(round(facets / around), 3) + 1)
    made = cylinder_side(2, frame.centre, radius, cuts, around, outward=False)
    return replace(made, patch=(f"{piece.id}.bore",) * len(made))


def _heap(shape: Shape) -> float:
    if not isinstance(shape, Pile | Weighed):
        return 1.0
    a, b, c = measure(shape).box
    return max(measure(shape).area / (2 * (a * b + a * c + b * c)), 1.0)


def _piece_surface(
    piece: Piece, frame: Frame, bottom: float, facets: int, finest: int
) -> Surface | None:
    depth = frame.size[2]
    square = piece.turn_deg == 0 and piece.tilt_deg == 0
    # a tube in rings as fine as its wall has six times the facets and is no better
    if square and isinstance(piece.shape, Plate | Box | Bar):
        shape = wetted(_square(piece, bottom, frame), depth)
        if shape is None:
            return None
        return mesh(shape, depth, math.sqrt(area_of(shape, depth) / facets))
    turn, shift = pose_of(piece, frame, bottom)
    if bottom + frame.lift + posed(piece)[2] <= depth:
        if isinstance(piece.shape, Plate | Box):
            return moved(_graded(piece, facets), turn, shift)
        return moved(_grouped(piece.shape, facets, finest), turn, shift)
    fine = _fine(piece.shape, finest)
    wet = below(
        replace(fine, corners=fine.corners @ turn.T + shift, along=fine.along @ turn.T), depth
    )
    return grouped(wet, facets)[0] if len(wet.corners) else None


def pose_of(piece: Piece, frame: Frame, bottom: float) -> tuple[Array, Array]:
    """Turn (3, 3) and shift (3) [m] from the piece's own axes, its lower edge at ``bottom``."""
    x, y = frame.centre[0] + piece.x_m, frame.centre[1] + piece.y_m
    z = frame.lift + bottom + posed(piece)[2] / 2
    return np.array(turn_of(piece)), np.array([x, y, z])


def _fine(shape: Shape, finest: int) -> Fine:
    return _fine_of(shape.model_dump_json(), type(shape), finest)


@kept(12_000_000)
def _fine_of(text: str, kind: type[Shape], finest: int) -> Fine:
    body = solid(kind.model_validate_json(text))
    return cut(body.vertices, body.faces, finest)


def _grouped(shape: Shape, facets: int, finest: int) -> Surface:
    return _grouped_of(shape.model_dump_json(), type(shape), facets, finest)


@kept(30_000_000)
def _grouped_of(text: str, kind: type[Shape], facets: int, finest: int) -> Surface:
    return grouped(_fine_of(text, kind, finest), facets)[0]


def _graded(piece: Piece, facets: int) -> Surface:
    """A plate or block in its own axes, finer towards its edges, where the general mesher is not:
    for one that hangs turned, all under."""
    half = np.array(sizes(piece)) / 2
    high = np.array([0.0, 0.0, 1e3])  # clear of any floor and surface
    body, deep = BoxBody(high - half, high + half), 2 * high[2]
    return moved(mesh(body, deep, math.sqrt(area_of(body, deep) / facets)), np.eye(3), -high)


def _square(piece: Piece, bottom: float, frame: Frame) -> Solid:
    """A piece that hangs square, its lower edge at ``bottom``."""
    shape, extent = piece.shape, posed(piece)
    middle = pose_of(piece, frame, bottom)[1]
    if isinstance(shape, Plate | Box):
        return BoxBody(middle - np.array(extent) / 2, middle + np.array(extent) / 2)
    assert isinstance(shape, Bar)
    radius, length = shape.diameter_m / 2, shape.length_m
    long = length >= 2 * radius
    axis = int(np.argmax(np.abs([row[0 if long else 2] for row in turn_of(piece)])))
    centre = (float(middle[(axis + 1) % 3]), float(middle[(axis + 2) % 3]))
    start = float(middle[axis]) - length / 2
    return CylinderBody(axis, centre, radius, start, start + length, 0.0)


def region_names(piece: Piece, surface: Surface, turned: Array | None = None) -> list[str]:
    """The region key of each element, in the piece's own axes: front is its broad side.

    ``turned`` (3, 3): how the surface stands; as the piece hangs where none is given.
    """
    turn = np.array(turn_of(piece)) if turned is None else turned
    normals = surface.normals @ turn
    kind = piece.shape.kind
    front = np.where(normals[:, 2] > 0, "front", "back")
    if kind == "plate":
        return list(np.where(np.abs(normals[:, 2]) > 0.7, front, "edges"))
    if kind in ("bar", "tube"):
        long = measure(piece.shape).box
        along = 0 if long[0] >= long[1] else 2
        ends = np.abs(normals[:, along]) > 0.7
        if kind == "bar":
            return list(np.where(ends, "ends", front))
        return list(np.where(ends, "ends", np.where(_in_bore(turn, surface), "bore", "outside")))
    axis = np.abs(normals).argmax(axis=1)
    names = np.array([["left", "right"], ["bottom", "top"], ["back", "front"]])
    sign = normals[np.arange(len(axis)), axis] > 0
    return list(names[axis, sign.astype(int)])


def _in_bore(turn: Array, surface: Surface) -> NDArray[np.bool_]:
    """Which elements of a tube look at its axis."""
    if "bore" in surface.patch:
        return np.array([p == "bore" for p in surface.patch])
    axis = turn[:, 0]
    low, high = surface.corners.min(axis=(0, 1)), surface.corners.max(axis=(0, 1))
    off = surface.centres - (low + high) / 2
    off -= (off @ axis)[:, None] * axis
    inward: NDArray[np.bool_] = (off * surface.normals).sum(axis=1) < 0
    return inward
