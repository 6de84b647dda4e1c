"""A layout as SVG and DXF, a mapped piece as GLB and PLY."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

import ezdxf
import numpy as np
import trimesh
from ezdxf import units
from ezdxf.enums import TextEntityAlignment
from numpy.typing import NDArray

from yellowbath.sheets.drawing import LAYERS, Item, Path, Round, Words, bounds
from yellowbath.sheets.templates import filled

_WIDTH = {"tank": 2.2, "liquid": 1.2, "piece": 1.8, "scrap": 1.6, "dimensions": 0.8, "words": 0.8}
_FILL = {"piece": "url(#rust)", "scrap": "#8d9095"}


def svg(items: Sequence[Item], width_mm: float | None = None) -> str:
    """The drawing in millimetres, full size or so wide on paper."""
    left, low, right, high = bounds(items)
    pad = 0.02 * (right - left)
    left, low, right, high = left - pad, low - pad, right + pad, high + pad
    wide, tall = right - left, high - low
    scale = 1.0 if width_mm is None else width_mm / wide
    line = 0.35 / scale  # mm on paper
    return filled(
        "layout.svg", items=[_svg_item(i, line) for i in items], line=line, scale=scale, wide=wide,
        tall=tall, left=left, top=-high,
    )  # fmt: skip


def _svg_item(item: Item, line: float) -> dict[str, object]:
    """An item as the template draws it: y downwards."""
    match item:
        case Path(layer=layer, points=points, closed=closed, dashed=dashed):
            d = "L".join(f"{x:.2f} {-y:.2f}" for x, y in points)
            fill = _FILL.get(layer, "none") if closed and not dashed else "none"
            return {
                "kind": "path", "layer": layer, "d": f"M{d}{'z' if closed else ''}", "fill": fill,
                "width": _WIDTH[layer] * line, "dashed": dashed,
            }  # fmt: skip
        case Round(layer=layer, middle=(x, y), radius=r, dashed=dashed):
            fill = _FILL.get(layer, "none") if layer == "scrap" and r < 60 else "none"
            return {
                "kind": "round", "layer": layer, "x": x, "y": -y, "r": r, "fill": fill,
                "width": _WIDTH[layer] * line, "dashed": dashed,
            }  # fmt: skip
        case Words(at=(x, y), text=text, size=size, upright=upright, middle=middle):
            return {
                "kind": "words", "x": x, "y": -y, "text": text, "size": 1.35 * size,
                "upright": upright, "middle": middle,
            }  # fmt: skip


def dxf(items: Sequence[Item]) -> bytes:
    """The drawing at full size in millimetres, a layer for each kind of thing."""
    document = ezdxf.new("R2010", setup=True)  # type: ignore[attr-defined]
    document.units = units.MM
    for layer in LAYERS:
        document.layers.add(layer)
    space = document.modelspace()
    for item in items:
        look: dict[str, Any] = {"layer": item.layer}
        if not isinstance(item, Words) and item.dashed:
            look["linetype"] = "DASHED"
        match item:
            case Path(points=points, closed=closed):
                space.add_lwpolyline(list(points), close=closed, dxfattribs=look)
            case Round(middle=middle, radius=r):
                space.add_circle(middle, r, dxfattribs=look)
            case Words(at=at, text=text, size=size, upright=upright):
                made = space.add_text(text, height=size, dxfattribs=look)
                made.set_placement(at, align=TextEntityAlignment.BOTTOM_CENTER)
                made.dxf.rotation = 90 if upright else 0
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def mapped_mesh(
    corners: NDArray[np.float64], colours: NDArray[np.uint8], values: NDArray[np.float64], kind: str
) -> bytes:
    """Flat pieces (n, 4, 3) [m] with a colour (n, 3) and a density [A/dm2] each, as GLB or PLY.

    Every piece keeps its own corners, so that its colour ends at its edge. GLB has y up.
    """
    n = len(corners)
    index = 4 * np.arange(n)[:, None]
    faces = np.concatenate([index + np.array([0, 1, 2]), index + np.array([0, 2, 3])])
    points = corners.reshape(-1, 3)
    if kind == "glb":
        points = points[:, [0, 2, 1]] * [1, 1, -1]
    mesh = trimesh.Trimesh(points, faces, process=False)
    mesh.visual.vertex_colors = np.repeat(  # type: ignore[union-attr]
        np.column_stack([colours, np.full(n, 255, np.uint8)]), 4, axis=0
    )
    if kind == "ply":
        mesh.vertex_attributes["density_a_dm2"] = np.repeat(values, 4).astype(np.float32)
    made = mesh.export(file_type=kind)
    assert isinstance(made, bytes)
    return made
