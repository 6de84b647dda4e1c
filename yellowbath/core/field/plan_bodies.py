"""A plan's scrap as the solver sees it, and the whole bath put together: pieces, scrap, walls."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from yellowbath.core.data import param
from yellowbath.core.document import (
    Anode,
    BoreAnode,
    FloorAnode,
    Plan,
    PlateAnode,
    RingAnode,
    RodAnode,
)
from yellowbath.core.field.assembly.lines import segments_for
from yellowbath.core.field.mesh.flush import bare
from yellowbath.core.field.mesh.narrow import Neighbours, refined
from yellowbath.core.field.mesh.shapes import BoxBody, CylinderBody, area_of, mesh
from yellowbath.core.field.mesh.surfaces import Rod, Surface, moved
from yellowbath.core.field.plan_shapes import Frame, piece_bodies
from yellowbath.core.field.solver.bath import Body, FieldBath
from yellowbath.core.geometry.anode import bore_axis, facing, foot, ring_radius, through
from yellowbath.core.geometry.piece import posed, sizes


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
    held: bool = False,
) -> tuple[FieldBath, int]:
    """The bath at one volt with about so many elements on the pieces, and how many those are.

    ``narrow``: with more of them where a gap is narrow, which then depends on where things stand;
    ``held``: of fewer flat pieces, as while something is moved.
    """
    frame = Frame.of(plan, depth)
    rods, plates = scrap(plan, frame, bottoms, facets)
    pieces = _bare(piece_bodies(plan, frame, bottoms, facets, held), frame)
    plates = _bare(plates, frame)
    leads = {a.id: a.contact_ohm for a in plan.anodes}
    if narrow:
        rods, round_ones = _near_ones(rods, [b.surface for b in pieces], leads, frame, facets)
        pieces, plates = _narrow(pieces, [*plates, *_bare(round_ones, frame)], rods, facets)
    bath = FieldBath(
        frame.green(), [*pieces, *plates], rods, 1.0, param("film_anode_ohm_m2").value,
        frame.walls_of(plan, held), conductivity, segments=segments_for(facets),
        rod_leads=[leads[r.name] for r in rods],
    )  # fmt: skip
    return bath, len(pieces)


def _near_ones(
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


_RING_PARTS = 24  # sides of a rim
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
