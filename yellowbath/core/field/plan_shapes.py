"""A plan's pieces, scrap and tank as surfaces and rods.

Lengths [m]; the origin is a floor corner of a box tank, or of the square about another one. A piece
that hangs square is meshed from its sizes; any other shape or pose from a closed mesh, cut once in
the piece's own coordinates.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.data import param
from yellowbath.core.document import (
    Anode,
    Bar,
    BoreAnode,
    Box,
    BucketTank,
    DrumTank,
    FloorAnode,
    Piece,
    Pile,
    Plan,
    Plate,
    PlateAnode,
    RingAnode,
    RodAnode,
    Shape,
)
from yellowbath.core.field.assembly.lines import segments_for
from yellowbath.core.field.integrals.green import Green, box_green, slab_green
from yellowbath.core.field.mesh.flush import Wall, bare
from yellowbath.core.field.mesh.grouping import Fine, below, cut, grouped
from yellowbath.core.field.mesh.narrow import Neighbours, refined
from yellowbath.core.field.mesh.shapes import BodyShape as Solid
from yellowbath.core.field.mesh.shapes import (
    BoxBody,
    CylinderBody,
    area_of,
    lying_drum,
    mesh,
    round_wall,
    wetted,
)
from yellowbath.core.field.mesh.solids import solid
from yellowbath.core.field.mesh.surfaces import Rod, Surface, moved, wall_surface
from yellowbath.core.field.solver.bath import Bath, Body
from yellowbath.core.geometry.anode import bore_axis, facing, foot, ring_radius, through
from yellowbath.core.geometry.piece import measure, posed, sizes, turn_of
from yellowbath.core.geometry.tank import plan_size

Array = NDArray[np.float64]
_AROUND = 1.15  # the square about a tank whose walls are meshed, in its own size
_FINEST = 700  # elements that a piece's mesh is cut for
_RING_PARTS = 24
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
        bucket = isinstance(plan.tank.shape, BucketTank)
        straight = not bucket and math.dist(floor, level) < 1e-9
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

    def walls_of(self, plan: Plan) -> Surface | None:
        """The meshed wall, None where the Green function knows it."""
        if not self.walls:
            return None
        depth = self.size[2]
        if isinstance(plan.tank.shape, DrumTank):
            shape = plan.tank.shape
            return lying_drum(shape.length_m, shape.diameter_m, self.centre, self.lift, depth)
        floor, level = plan_size(plan.tank, 0.0), plan_size(plan.tank, depth)
        if isinstance(plan.tank.shape, BucketTank):
            return round_wall(floor[0] / 2, level[0] / 2, self.centre, depth)
        rings = [_rectangle(self.centre, size) for size in (floor, level)]
        return wall_surface(rings[0], rings[1], depth, 8)


_box = lru_cache(maxsize=16)(box_green)
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


def piece_bodies(plan: Plan, frame: Frame, bottoms: dict[str, float], facets: int) -> list[Body]:
    """Each piece that is in the liquid, with about so many elements on all of them together."""
    share = max(facets // len(plan.pieces), 80)
    film = param("film_piece_ohm_m2").value
    bodies = []
    for piece in plan.pieces:
        shaped = piece.model_dump_json(include=_SHAPING)
        named = _named(shaped, frame, bottoms[piece.id], share)
        if named is None:
            continue
        # a heap has more surface than the outside of its basket: the film there is the thinner
        inside = _heap(piece.shape)
        masked = np.array([n in piece.masked for n in named.patch])
        bodies.append(
            Body(piece.id, named, 0.0, film / inside, piece.contact_ohm,
                 masked if masked.any() else None)
        )  # fmt: skip
    return bodies


_SHAPING = {"id", "shape", "hang", "turn_deg", "tilt_deg", "flipped", "x_m", "y_m"}


@lru_cache(maxsize=32)
def _named(shaped: str, frame: Frame, bottom: float, facets: int) -> Surface | None:
    """The surface of a piece with its regions named, kept as what is worked out of it is too."""
    piece = Piece.model_validate_json(shaped)
    surface = _piece_surface(piece, frame, bottom, facets)
    if surface is None or not len(surface):
        return None
    names = tuple(f"{piece.id}.{n}" for n in region_names(piece, surface))
    return replace(surface, patch=names, behind=surface.wall)


def _heap(shape: Shape) -> float:
    if not isinstance(shape, Pile):
        return 1.0
    a, b, c = measure(shape).box
    return max(measure(shape).area / (2 * (a * b + a * c + b * c)), 1.0)


def _piece_surface(piece: Piece, frame: Frame, bottom: float, facets: int) -> Surface | None:
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
        return moved(_grouped(piece.shape, facets), turn, shift)
    fine = _fine(piece.shape)
    wet = below(
        replace(fine, corners=fine.corners @ turn.T + shift, along=fine.along @ turn.T), depth
    )
    return grouped(wet, facets)[0] if len(wet.corners) else None


def pose_of(piece: Piece, frame: Frame, bottom: float) -> tuple[Array, Array]:
    """Turn (3, 3) and shift (3) [m] from the piece's own axes, its lower edge at ``bottom``."""
    x, y = frame.centre[0] + piece.x_m, frame.centre[1] + piece.y_m
    z = frame.lift + bottom + posed(piece)[2] / 2
    return np.array(turn_of(piece)), np.array([x, y, z])


def _fine(shape: Shape) -> Fine:
    return _fine_of(shape.model_dump_json(), type(shape))


@lru_cache(maxsize=24)
def _fine_of(text: str, kind: type[Shape]) -> Fine:
    body = solid(kind.model_validate_json(text))
    return cut(body.vertices, body.faces, _FINEST)


def _grouped(shape: Shape, facets: int) -> Surface:
    return _grouped_of(shape.model_dump_json(), type(shape), facets)


@lru_cache(maxsize=48)
def _grouped_of(text: str, kind: type[Shape], facets: int) -> Surface:
    return grouped(_fine_of(text, kind), facets)[0]


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


# --- Scrap ------------------------------------------------------------------------------------


def scrap(
    plan: Plan, frame: Frame, bottoms: Mapping[str, float], facets: int
) -> tuple[list[Rod], list[Body]]:
    """Anodes that are in the liquid: rods as lines, plates as bodies at one volt."""
    rods: list[Rod] = []
    bodies: list[Body] = []
    for anode in plan.anodes:
        match anode:
            case RodAnode():
                rods += standing_rod(anode, plan, frame)
            case RingAnode():
                rods += _ring(anode, plan, frame)
            case BoreAnode():
                rods += _bore_rod(anode, plan, frame, bottoms)
            case PlateAnode() | FloorAnode():
                surface = _plate(anode, plan, frame, facets)
                if surface is not None:
                    film = param("film_anode_ohm_m2").value / (1 - anode.open_share)
                    bodies.append(Body(anode.id, surface, 1.0, film, anode.contact_ohm))
    return rods, bodies


def standing_rod(anode: Anode, plan: Plan, frame: Frame) -> list[Rod]:
    """A rod that stands, as a line; none where nothing of it is wet."""
    x, y, depth = frame.centre[0] + anode.x_m, frame.centre[1] + anode.y_m, frame.size[2]
    low, top = frame.lift + foot(anode, plan.tank), depth - anode.sleeve_m
    if top <= low:
        return []
    ends = (np.array([x, y, low]), np.array([x, y, top]))
    return [Rod(anode.id, *ends, anode.diameter_m / 2, (low > 1e-9, False))]


def _ring(anode: Anode, plan: Plan, frame: Frame) -> list[Rod]:
    radius, z = ring_radius(anode, plan), frame.lift + anode.floor_gap_m
    if z >= frame.size[2]:
        return []
    angles = np.linspace(0, 2 * math.pi, _RING_PARTS + 1)
    points = np.stack([np.cos(angles), np.sin(angles), np.zeros_like(angles)], axis=1) * radius
    points += np.array([*frame.centre, max(z, anode.diameter_m / 2)])
    r = anode.diameter_m / 2
    return [Rod(anode.id, a, b, r, (False, False), cuts=1)
            for a, b in pairwise(points)]  # fmt: skip


def _bore_rod(anode: Anode, plan: Plan, frame: Frame, bottoms: Mapping[str, float]) -> list[Rod]:
    piece = through(anode, plan)
    bottom = bottoms[piece.id]
    middle = np.array(
        [frame.centre[0] + piece.x_m, frame.centre[1] + piece.y_m,
         frame.lift + bottom + posed(piece)[2] / 2]
    )  # fmt: skip
    half = np.array(bore_axis(anode, plan)) * sizes(piece)[0] / 2
    one, two = middle - half, middle + half
    if one[2] > two[2]:
        one, two = two, one
    depth = frame.size[2]
    if one[2] >= depth:
        return []
    if two[2] > depth:
        two = one + (two - one) * (depth - one[2]) / (two[2] - one[2])
    return [Rod(anode.id, one, two, anode.diameter_m / 2, (True, bool(two[2] < depth)))]


def _plate(anode: Anode, plan: Plan, frame: Frame, facets: int) -> Surface | None:
    depth, flat = frame.size[2], isinstance(anode, FloorAnode)
    floor = frame.lift + foot(anode, plan.tank)
    top = floor + anode.thickness_m if flat else depth - anode.sleeve_m
    low = max(floor, 0.0)
    if top > depth or low >= top:
        return None
    wide, thick = anode.width_m / 2, (anode.depth_m if flat else anode.thickness_m) / 2
    body = BoxBody(np.array([-thick, -wide, low]), np.array([thick, wide, top]))
    count = max(facets / (4 if flat else 8), 36)  # one over the floor draws from under it too
    made = mesh(body, depth, math.sqrt(area_of(body, depth) / count))
    if anode.sleeve_m > 0 and not flat:  # its upper end goes on, insulated
        made = _without_top(made, top)
    turn = 0.0 if flat else facing(anode, plan.tank)
    c, s = math.cos(turn), math.sin(turn)
    about = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    at = np.array([frame.centre[0] + anode.x_m, frame.centre[1] + anode.y_m, 0.0])
    return moved(made, about, at)


def _without_top(surface: Surface, top: float) -> Surface:
    keep = np.asarray(~(np.abs(surface.corners[..., 2] - top) < 1e-9).all(axis=1))
    names = tuple(p for p, k in zip(surface.patch, keep, strict=True) if k)
    return Surface(surface.corners[keep], names)


def build(
    plan: Plan,
    bottoms: dict[str, float],
    depth: float,
    conductivity: float,
    facets: int,
    narrow: bool = False,
) -> tuple[Bath, int]:
    """The bath at one volt with about so many elements on the pieces, and how many those are.

    ``narrow``: with more of them where a gap is narrow, which then depends on where things stand.
    """
    frame = Frame.of(plan, depth)
    rods, plates = scrap(plan, frame, bottoms, facets)
    pieces = _bare(piece_bodies(plan, frame, bottoms, facets), frame)
    plates = _bare(plates, frame)
    leads = {a.id: a.contact_ohm for a in plan.anodes}
    if narrow:
        rods, round_ones = _crowded(rods, [b.surface for b in pieces], leads, frame, facets)
        pieces, plates = _narrow(pieces, [*plates, *_bare(round_ones, frame)], rods, facets)
    bath = Bath(
        frame.green(), [*pieces, *plates], rods, 1.0, param("film_anode_ohm_m2").value,
        frame.walls_of(plan), conductivity, segments=segments_for(facets),
        rod_leads=[leads[r.name] for r in rods],
    )  # fmt: skip
    return bath, len(pieces)


def _crowded(
    rods: Sequence[Rod], pieces: Sequence[Surface], leads: Mapping[str, float], frame: Frame,
    facets: int,
) -> tuple[list[Rod], list[Body]]:  # fmt: skip
    """Rods that stay lines, and those that stand so near to a piece that their film evens out the
    current round them: these as bodies."""
    lines: list[Rod] = []
    bodies: list[Body] = []
    film = param("film_anode_ohm_m2").value
    for rod in rods:
        upright = np.allclose(rod.start[:2], rod.end[:2])
        near = Neighbours([rod], [])
        gap = min((float(near.gap(s.corners.reshape(-1, 3)).min()) for s in pieces), default=1e3)
        middles = min((float(near.gap(s.flat_centres).min()) for s in pieces), default=1e3)
        if not upright or min(gap, middles) > _CLOSE * 2 * rod.radius:
            lines.append(rod)
            continue
        low, top = float(rod.start[2]), float(rod.end[2])
        body = CylinderBody(2, (rod.start[0], rod.start[1]), rod.radius, low, top)
        count = max(facets / 6, 48)
        made = mesh(body, frame.size[2], math.sqrt(area_of(body, frame.size[2]) / count))
        made = _without_top(made, top)  # it goes on, dry or sleeved
        bodies.append(Body(rod.name, made, 1.0, film, leads[rod.name]))
    return lines, bodies


_CLOSE = 1.5  # diameters from a piece within which a rod is a body; judged on finite elements


def _narrow(
    pieces: list[Body], plates: list[Body], rods: Sequence[Rod], facets: int
) -> tuple[list[Body], list[Body]]:
    """Bodies finer where scrap and piece, or two of a kind, are near one another."""
    one, other = [b.surface for b in pieces], [b.surface for b in plates]
    made: list[Body] = []
    for k, body in enumerate((*pieces, *plates)):
        mine = k < len(pieces)
        rest = [s for s in (*one, *other) if s is not body.surface]
        near = Neighbours(rods if mine else [], rest)
        left = refined(body.surface, near, round(_CROWD * max(facets, len(body.surface))))
        made.append(body if left is body.surface else _with_surface(body, left))
    return made[: len(pieces)], made[len(pieces) :]


_CROWD = 2.4  # times as many elements where gaps are narrow; judged


def _with_surface(body: Body, surface: Surface) -> Body:
    """The body with another cut of its surface, masked where it was."""
    masked = body.masked
    if masked is not None:
        names = {n for n, m in zip(body.surface.patch, masked, strict=True) if m}
        masked = np.array([n in names for n in surface.patch])
    return replace(body, surface=surface, masked=masked)


def _bare(bodies: Sequence[Body], frame: Frame) -> list[Body]:
    """Bodies of one polarity without what lies on a wall or on one another."""
    out = []
    for body in bodies:
        others = [b.surface for b in bodies if b is not body]
        left = bare(body.surface, frame.planes, others)
        if left is body.surface:
            out.append(body)
        elif left is not None:
            out.append(_with_surface(body, left))
    return out
