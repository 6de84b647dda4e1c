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
    Bar,
    Box,
    Mesh,
    Pile,
    Plate,
    Ring,
    Shape,
    Stepped,
    Taped,
    Tube,
    Wheel,
    Wrench,
)
from yellowbath.core.field.mesh.import_mesh import MeshBody
from yellowbath.core.geometry.packed import unpack

Array = NDArray[np.float64]
_SIDES = 48
_GIRTH = (math.pi / _SIDES) / math.sin(math.pi / _SIDES)
_MM = 1e3  # the library works in millimetres: its tolerances suit them


def solid(shape: Shape) -> MeshBody:
    """The closed mesh of a shape; a pile is the outside of its basket."""
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
        case Box() | Pile():
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
