"""Cases in the shared JSON format, read and checked; ``case_solve`` answers them.

Lengths in the file are mm. Tanks: box, round straight bucket. Part: box, cylinder, tube, or a mesh
in a file beside the case. Anodes: box, cylinder, tube.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Any

import numpy as np

from yellowbath.core.chemistry.cell import reversible_v
from yellowbath.core.data import param
from yellowbath.core.errors import CaseError, NoAnswerError
from yellowbath.core.field.mesh.import_mesh import UNITS, clean
from yellowbath.core.field.mesh.shapes import (
    BodyShape,
    BoxBody,
    CylinderBody,
    MeshPart,
    bounds,
    overlap,
    wetted,
)
from yellowbath.core.field.solver.bath import Kinetics
from yellowbath.core.units import MM

_AROUND = 1.15  # the insulated box round a bucket, in diameters


@dataclass(frozen=True)
class Case:
    """A case in SI, its part and anodes as shapes cut at the surface, origin at a box corner."""

    size: tuple[float, float, float]
    bucket_radius: float | None
    part: BodyShape
    anodes: Mapping[str, BodyShape]
    volts: float
    film_anode: float
    film_part: float
    conductivity: float
    supply_volts: float | None = None
    kinetics: Kinetics | None = None

    @property
    def solved_volts(self) -> float:
        """Volts that the solver is given [V]."""
        return 1.0 if self.kinetics is None else self.volts

    @property
    def scale(self) -> float:
        """From the solver's currents to the case's [-]."""
        return self.volts / self.solved_volts if self.solved_volts else 0.0


Load = Callable[[str], tuple[np.ndarray, np.ndarray]]
"""Reads a mesh file beside the case: vertices (n, 3) in its own unit, faces (m, 3)."""


def read_case(data: Mapping[str, Any], load: Load | None = None) -> Case:
    """Read one case; ``load`` reads the mesh files that it names.

    Raises CaseError with the place and what is allowed.
    """
    try:
        return _read(data, load)
    except (KeyError, TypeError, ValueError, IndexError) as error:
        raise CaseError(
            f"The case cannot be read: {type(error).__name__} at {error}.",
            allowed="geometry (tank, liquid_depth, part, anodes) and parameters.",
        ) from None


def _read(data: Mapping[str, Any], load: Load | None) -> Case:
    geometry, p = data["geometry"], data["parameters"]
    depth = float(geometry["liquid_depth"]) * MM
    tank = geometry["tank"]
    radius = None
    if tank["shape"] == "box":
        width, length = float(tank["ly"]) * MM, float(tank["lx"]) * MM
        shift = np.zeros(3)
    elif "bucket" in tank["shape"]:
        radius = float(tank["inner_radius"]) * MM
        length = width = 2 * radius * _AROUND
        shift = np.array([length / 2, width / 2, 0.0])
    else:
        raise ValueError(f"tank shape {tank['shape']!r}; known: box, round straight bucket")
    volts = float(p.get("V_eff_V", p.get("V_supply_V", 0.0) - p.get("V0_V", 0.0)))
    numbers = {k: float(p[k]) for k in ("r_a_ohm_m2", "r_c_ohm_m2", "sigma_S_m")}
    if numbers["sigma_S_m"] <= 0 or min(numbers.values()) < 0 or depth <= 0:
        raise ValueError("sigma_S_m and liquid_depth above zero, films not below")
    part = wetted(_part(geometry["part"], shift, depth, load), depth)
    if part is None:
        raise NoAnswerError("The part is out of the liquid.", remedy="A greater liquid_depth.")
    found = {a["name"]: wetted(_shape(a, shift, depth), depth) for a in geometry["anodes"]}
    case = Case(
        (length, width, depth),
        radius,
        part,
        {k: s for k, s in found.items() if s is not None},
        max(volts, 0.0),
        numbers["r_a_ohm_m2"],
        numbers["r_c_ohm_m2"],
        numbers["sigma_S_m"],
        float(p["V_supply_V"]) if "V_supply_V" in p else None,
    )
    _refuse_clashes(case)
    return case


def _shape(item: Mapping[str, Any], shift: np.ndarray, depth: float) -> BodyShape:
    kind = item["shape"]
    if kind == "box":
        centre = np.array(item["center_mm"], dtype=float) * MM + shift
        half = np.array(item["size_mm"], dtype=float) * MM / 2
        if centre.shape != (3,) or half.shape != (3,) or (half <= 0).any():
            raise ValueError("center_mm and size_mm have three numbers, sizes above zero")
        return BoxBody(np.maximum(centre - half, [-np.inf, -np.inf, 0.0]), centre + half)
    if kind in ("cylinder", "tube"):
        return _round(item, shift, depth)
    raise ValueError(f"shape {kind!r}; known: box, cylinder, tube, and mesh for the part")


def _part(item: Mapping[str, Any], shift: np.ndarray, depth: float, load: Load | None) -> BodyShape:
    """The part, which may be a mesh in a file: in its unit, then posed (mm, row-major)."""
    if item["shape"] != "mesh":
        return _shape(item, shift, depth)
    if load is None:
        raise CaseError("A mesh part needs its file beside the case.")
    unit = item.get("units", "mm")
    if unit not in UNITS:
        raise ValueError(f"units {unit!r}; known: {', '.join(UNITS)}")
    pose = np.array(item.get("pose", np.eye(4)), dtype=float).reshape(4, 4)
    turn = pose[:3, :3]
    if not np.allclose(turn @ turn.T, np.eye(3), atol=1e-6) or np.linalg.det(turn) < 0:
        raise ValueError("pose is a turn and a shift, row-major, without scale or mirror")
    vertices, faces = load(str(item["file"]))
    body = clean(np.asarray(vertices, dtype=float), np.asarray(faces), unit)
    return MeshPart(body.moved(turn, pose[:3, 3] * MM + shift))


def _round(item: Mapping[str, Any], shift: np.ndarray, depth: float) -> CylinderBody:
    axis = "xyz".index(item["axis"])
    one, two = (axis + 1) % 3, (axis + 2) % 3
    given = [c.strip() for c in item["centre_coords"].split(",")]
    at = {c: float(v) * MM for c, v in zip(given, item["centre_of_axis_mm"], strict=True)}
    centre = (at["xyz"[one]] + shift[one], at["xyz"[two]] + shift[two])
    start = float(item["from_mm"]) * MM + shift[axis]
    to = item["to_mm"]
    end = depth if isinstance(to, str) else float(to) * MM + shift[axis]
    radius = float(item.get("radius_mm", item.get("outer_radius_mm", 0.0))) * MM
    bore = float(item.get("inner_radius_mm", 0.0)) * MM
    if axis == 2:
        start = max(start, 0.0)
    if not 0 <= bore < radius or end <= start:
        raise ValueError("radii above zero, the inner below the outer, to_mm above from_mm")
    return CylinderBody(axis, centre, radius, start, end, bore)


_WARM = 20.0  # C that a case's kinetics are for


def kinetic(case: Case) -> Case:
    """The same case for the kinetic model: volts above the reversible ones, films beside kinetics.

    Raises CaseError without V_supply_V.
    """
    if case.supply_volts is None:
        raise CaseError("The kinetic model needs parameters.V_supply_V.")
    volts = case.supply_volts - reversible_v(_WARM)
    if volts <= 0:
        return replace(case, volts=0.0)
    return replace(
        case,
        volts=volts,
        film_anode=param("film_anode_kinetic_ohm_m2").value,
        film_part=param("film_piece_kinetic_ohm_m2").value,
        kinetics=Kinetics(
            param("tafel_piece_v").value,
            param("exchange_piece_a_m2").value,
            param("tafel_scrap_v").value,
            param("exchange_scrap_a_m2").value,
        ),
    )


def _refuse_clashes(case: Case) -> None:
    """Things through walls, and anodes in the part (a short), are errors and not maps."""
    size, depth = np.array(case.size), case.size[2]
    named = {"part": case.part, **case.anodes}
    for name, shape in named.items():
        low, high = bounds(shape)
        fits = bool((low >= -1e-9).all() and (high[:2] <= size[:2] + 1e-9).all())
        if case.bucket_radius is not None:
            fits = fits and _reach(shape, size[:2] / 2) <= case.bucket_radius + 1e-9
        if not fits:
            raise CaseError(f"{name} goes through a wall.", remedy="Move it inside the tank.")
    for (one, a), (other, b) in combinations(named.items(), 2):
        if overlap(a, b, depth):
            if one == "part":
                raise CaseError(f"{other} is in the part: a short.", remedy="Move them apart.")
            raise CaseError(f"{one} and {other} overlap.", remedy="Move them apart.")


def _reach(shape: BodyShape, centre: np.ndarray) -> float:
    """How far [m] a body reaches from a vertical axis; a lying cylinder by its bounding box."""
    if isinstance(shape, MeshPart):
        return float(np.linalg.norm(shape.body.vertices[:, :2] - centre, axis=1).max())
    if isinstance(shape, CylinderBody) and shape.axis == 2:
        return float(np.hypot(*(np.array(shape.centre) - centre))) + shape.radius
    low, high = bounds(shape)
    return float(np.hypot(*np.maximum(np.abs(low[:2] - centre), np.abs(high[:2] - centre))))
