"""Shapes measured by tape as closed meshes, in a piece's own axes: longest, middle, thin.

Lengths [m]; the origin is the middle of the bounding box. Round things are polygons of the true
girth. Solids are made and joined by manifold3d.
"""

from __future__ import annotations

import math

import numpy as np
from manifold3d import CrossSection, Manifold, OpType
from numpy.typing import NDArray

from yellowbath.core.document import (
    Angle,
    Anvil,
    Bar,
    Box,
    Lattice,
    Mesh,
    Pan,
    Pile,
    Plate,
    Ring,
    Shape,
    Shell,
    Stepped,
    Taped,
    Tines,
    Tube,
    Weighed,
    Wheel,
    Wrench,
)
from yellowbath.core.field.mesh.body import MeshBody
from yellowbath.core.geometry.packed import unpack

Array = NDArray[np.float64]
_SIDES = 48  # of a round; its girth is kept
_GIRTH = (math.pi / _SIDES) / math.sin(math.pi / _SIDES)
_MM = 1e3  # the library works in millimetres: its tolerances suit them


def solid(shape: Shape) -> MeshBody:
    """The closed mesh of a shape; a pile is the outside of its basket, and what was only weighed is
    the box of its sizes."""
    vertices, faces = _brought(shape) if isinstance(shape, Mesh) else _built(shape)
    low, high = vertices.min(axis=0), vertices.max(axis=0)
    vertices = vertices - (low + high) / 2
    order = np.argsort(-(high - low), kind="stable")
    turn = np.eye(3)[order]
    if np.linalg.det(turn) < 0:
        turn[2] *= -1
    corners = (vertices @ turn.T)[faces]
    cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    area = float(np.linalg.norm(cross, axis=1).sum() / 2)
    volume = float(np.einsum("ij,ij->i", corners[:, 0], cross).sum() / 6)
    return MeshBody(vertices @ turn.T, faces, (), area, area, volume)


def _brought(shape: Mesh) -> tuple[Array, NDArray[np.int64]]:
    points, faces = unpack(shape.vertices, shape.faces)
    return points * (shape.length_m / float(np.ptp(points, axis=0).max())), faces


def _built(shape: Taped) -> tuple[Array, NDArray[np.int64]]:
    made = _made(shape).to_mesh()
    vertices = np.array(made.vert_properties[:, :3], dtype=float) / _MM
    return vertices, np.array(made.tri_verts, dtype=np.int64)


def _made(shape: Taped) -> Manifold:
    match shape:
        case Plate():
            return _block(shape.length_m, shape.width_m, shape.thickness_m)
        case Box() | Pile() | Weighed():
            return _block(shape.length_m, shape.width_m, shape.height_m)
        case Bar():
            return _round(shape.diameter_m, shape.length_m)
        case Tube():
            return _round(shape.outer_diameter_m, shape.length_m) - _round(
                shape.inner_diameter_m, shape.length_m + 0.01
            )
        case Angle():
            a, b, t = (x * _MM for x in (shape.leg_m, shape.other_leg_m, shape.thickness_m))
            profile = CrossSection([[(0, 0), (a, 0), (a, t), (t, t), (t, b), (0, b)]])
            return profile.extrude(shape.width_m * _MM)
        case Ring():
            bar, across = shape.bar_diameter_m * _MM, shape.outer_diameter_m * _MM
            circle = CrossSection.circle(bar / 2 * (math.pi / 24) / math.sin(math.pi / 24), 24)
            return circle.translate(((across - bar) / 2, 0)).revolve(_SIDES)
        case Wheel():
            return _wheel(shape)
        case Wrench():
            return _wrench(shape)
        case Stepped():
            base = _block(shape.length_m, shape.width_m, shape.height_m)
            top = _block(shape.top_length_m, shape.top_width_m, shape.top_height_m)
            up = (shape.height_m + shape.top_height_m) / 2 * _MM
            return base + top.translate((0, 0, up))
        case Shell():
            l, w, h, t = shape.length_m, shape.width_m, shape.height_m, shape.wall_m  # noqa: E741
            room = _block(l - 2 * t, w - 2 * t, h)
            return _block(l, w, h) - room.translate((0, 0, t * _MM))
        case Pan():
            return _pan(shape)
        case Lattice():
            return _lattice(shape)
        case Tines():
            return _tines(shape)
        case Anvil():
            return _anvil(shape)


def _block(length: float, width: float, height: float) -> Manifold:
    return Manifold.cube((length * _MM, width * _MM, height * _MM), center=True)


def _round(diameter: float, length: float) -> Manifold:
    """A cylinder along x."""
    made = Manifold.cylinder(length * _MM, diameter / 2 * _MM * _GIRTH, -1, _SIDES, True)
    return made.rotate((0, 90, 0))


def _wheel(shape: Wheel) -> Manifold:
    inner = shape.diameter_m - 2 * shape.rim_thickness_m
    rim = _round(shape.diameter_m, shape.rim_width_m) - _round(inner, shape.rim_width_m + 0.01)
    hub = _round(shape.hub_diameter_m, shape.hub_length_m)
    reach = (shape.diameter_m - shape.rim_thickness_m) / 2 * _MM
    spoke = Manifold.cylinder(reach, shape.spoke_diameter_m / 2 * _MM, -1, 16)
    spokes = [spoke.rotate((360 * k / shape.spokes, 0, 0)) for k in range(shape.spokes)]
    return Manifold.batch_boolean([rim, hub, *spokes], OpType.Add)


def _pan(shape: Pan) -> Manifold:
    outside = _upright(shape.diameter_m, shape.height_m)
    room = _upright(shape.diameter_m - 2 * shape.wall_m, shape.height_m)
    return outside - room.translate((0, 0, shape.wall_m * _MM))


def _upright(diameter: float, height: float) -> Manifold:
    return Manifold.cylinder(height * _MM, diameter / 2 * _MM * _GIRTH, -1, _SIDES)


def _lattice(shape: Lattice) -> Manifold:
    l, w, b, t = (x * _MM for x in (shape.length_m, shape.width_m, shape.bar_m, shape.thickness_m))  # noqa: E741
    outline = CrossSection.square((l, w), True) - CrossSection.square((l - 2 * b, w - 2 * b), True)
    step = (l - b) / (shape.between + 1)
    for k in range(shape.between):
        bar = CrossSection.square((b, w - b), True)
        outline = outline + bar.translate(((k + 1) * step - (l - b) / 2, 0))
    return outline.extrude(t)


def _tines(shape: Tines) -> Manifold:
    """A square bar along y, its tines along x, spread evenly from end to end."""
    bar = _block(shape.bar_m, shape.width_m, shape.bar_m)
    into = min(shape.bar_m, shape.tine_diameter_m) / 2  # joined inside the bar, not face to face
    tine = _round(shape.tine_diameter_m, shape.tine_length_m + into)
    x = (shape.bar_m + shape.tine_length_m - into) / 2 * _MM
    apart = (shape.width_m - shape.tine_diameter_m) / (shape.count - 1) * _MM
    middle = (shape.count - 1) / 2
    tines = [tine.translate((x, (k - middle) * apart, 0)) for k in range(shape.count)]
    return Manifold.batch_boolean([bar, *tines], OpType.Add)


def _anvil(shape: Anvil) -> Manifold:
    """Parts reach into one another: face to face, a hair of a gap would be left between them."""
    face, waist, foot = shape.parts()
    long, thick = (x * _MM for x in shape.horn())
    reach = min(face[2], foot[2]) / 2
    made = [
        _block(*foot).translate((0, 0, foot[2] / 2 * _MM)),
        _block(waist[0], waist[1], waist[2] + 2 * reach).translate(
            (0, 0, (foot[2] + waist[2] / 2) * _MM)
        ),
        _block(*face).translate((0, 0, (shape.height_m - face[2] / 2) * _MM)),
    ]
    radius, root = thick / 2 * _GIRTH, face[0] / 4 * _MM
    outline = CrossSection([[(0, -root), (radius, -root), (radius, 0), (0, long)]])
    horn = outline.revolve(_SIDES).rotate((0, 90, 0))
    at = (face[0] / 2 * _MM, 0, (shape.height_m - face[2] / 2) * _MM)
    return Manifold.batch_boolean([*made, horn.translate(at)], OpType.Add)


def _wrench(shape: Wrench) -> Manifold:
    half = (shape.length_m - shape.head_diameter_m) / 2 * _MM
    outline = CrossSection.square((2 * half, shape.width_m * _MM), center=True)
    for side in (-half, half):
        head = CrossSection.circle(shape.head_diameter_m / 2 * _MM * _GIRTH, _SIDES)
        outline = outline + head.translate((side, 0))
    if shape.eye_diameter_m > 0:
        for side in (-half, half):
            eye = CrossSection.circle(shape.eye_diameter_m / 2 * _MM * _GIRTH, _SIDES)
            outline = outline - eye.translate((side, 0))
    return outline.extrude(shape.thickness_m * _MM)
