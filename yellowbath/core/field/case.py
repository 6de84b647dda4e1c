"""Cases in the shared JSON format: read, solved on two meshes, and answered in the same form.

Lengths in the file are mm. Tanks: box, round straight bucket. Part: box, cylinder, tube. Anodes:
box, cylinder. A mesh part is refused for now, and said so.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from yellowbath.core.data import param
from yellowbath.core.errors import CaseError, NoAnswerError
from yellowbath.core.field.green import BoxGreen, box_green
from yellowbath.core.field.model import STEP, Number
from yellowbath.core.field.result import Share, patches
from yellowbath.core.field.shapes import (
    BoxBody,
    CylinderBody,
    Shape,
    area_of,
    as_rod,
    mesh,
    round_wall,
    wetted,
)
from yellowbath.core.field.solve import Bath, Body, Kinetics, Solved, solve
from yellowbath.core.field.surfaces import Rod, Surface

FACETS = {"settled": 800, "preview": 350}
_MM = 1e-3
_AROUND = 1.15  # the insulated box round a bucket, in diameters


@dataclass(frozen=True)
class Case:
    """A case in SI, its part and anodes as shapes cut at the surface, origin at a box corner."""

    size: tuple[float, float, float]
    bucket_radius: float | None
    part: Shape
    anodes: Mapping[str, Shape]
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


def read_case(data: Mapping[str, Any]) -> Case:
    """Read one case; raises CaseError with the place and what is allowed."""
    try:
        return _read(data)
    except (KeyError, TypeError, ValueError, IndexError) as error:
        raise CaseError(
            f"The case cannot be read: {type(error).__name__} at {error}.",
            allowed="geometry (tank, liquid_depth, part, anodes) and parameters.",
        ) from None


def _read(data: Mapping[str, Any]) -> Case:
    geometry, p = data["geometry"], data["parameters"]
    depth = float(geometry["liquid_depth"]) * _MM
    tank = geometry["tank"]
    radius = None
    if tank["shape"] == "box":
        width, length = float(tank["ly"]) * _MM, float(tank["lx"]) * _MM
        shift = np.zeros(3)
    elif "bucket" in tank["shape"]:
        radius = float(tank["inner_radius"]) * _MM
        length = width = 2 * radius * _AROUND
        shift = np.array([length / 2, width / 2, 0.0])
    else:
        raise ValueError(f"tank shape {tank['shape']!r}; known: box, round straight bucket")
    volts = float(p.get("V_eff_V", p.get("V_supply_V", 0.0) - p.get("V0_V", 0.0)))
    numbers = {k: float(p[k]) for k in ("r_a_ohm_m2", "r_c_ohm_m2", "sigma_S_m")}
    if numbers["sigma_S_m"] <= 0 or min(numbers.values()) < 0 or depth <= 0:
        raise ValueError("sigma_S_m and liquid_depth above zero, films not below")
    part = wetted(_shape(geometry["part"], shift, depth), depth)
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


def _shape(item: Mapping[str, Any], shift: np.ndarray, depth: float) -> Shape:
    kind = item["shape"]
    if kind == "box":
        centre = np.array(item["center_mm"], dtype=float) * _MM + shift
        half = np.array(item["size_mm"], dtype=float) * _MM / 2
        if centre.shape != (3,) or half.shape != (3,) or (half <= 0).any():
            raise ValueError("center_mm and size_mm have three numbers, sizes above zero")
        return BoxBody(np.maximum(centre - half, [-np.inf, -np.inf, 0.0]), centre + half)
    if kind in ("cylinder", "tube"):
        return _round(item, shift, depth)
    if kind == "mesh":
        raise CaseError(
            "A mesh part cannot be solved yet.",
            allowed="Parts: box, cylinder, tube.",
            remedy="Describe it by the nearest of these.",
        )
    raise ValueError(f"shape {kind!r}; known: box, cylinder, tube")


def _round(item: Mapping[str, Any], shift: np.ndarray, depth: float) -> CylinderBody:
    axis = "xyz".index(item["axis"])
    one, two = (axis + 1) % 3, (axis + 2) % 3
    given = [c.strip() for c in item["centre_coords"].split(",")]
    at = {c: float(v) * _MM for c, v in zip(given, item["centre_of_axis_mm"], strict=True)}
    centre = (at["xyz"[one]] + shift[one], at["xyz"[two]] + shift[two])
    start = float(item["from_mm"]) * _MM + shift[axis]
    to = item["to_mm"]
    end = depth if isinstance(to, str) else float(to) * _MM + shift[axis]
    radius = float(item.get("radius_mm", item.get("outer_radius_mm", 0.0))) * _MM
    bore = float(item.get("inner_radius_mm", 0.0)) * _MM
    if axis == 2:
        start = max(start, 0.0)
    if not 0 <= bore < radius or end <= start:
        raise ValueError("radii above zero, the inner below the outer, to_mm above from_mm")
    return CylinderBody(axis, centre, radius, start, end, bore)


def bounds(shape: Shape) -> tuple[np.ndarray, np.ndarray]:
    """Lowest and highest corner [m]."""
    if isinstance(shape, BoxBody):
        return shape.low, shape.high
    low, high = np.zeros(3), np.zeros(3)
    low[shape.axis], high[shape.axis] = shape.start, shape.end
    for k, c in zip(((shape.axis + 1) % 3, (shape.axis + 2) % 3), shape.centre, strict=True):
        low[k], high[k] = c - shape.radius, c + shape.radius
    return low, high


def _refuse_clashes(case: Case) -> None:
    """Things through walls, and anodes in the part (a short), are errors and not maps."""
    size = np.array(case.size)
    for name, shape in (("part", case.part), *case.anodes.items()):
        low, high = bounds(shape)
        inside = bool((low >= -1e-9).all() and (high[:2] <= size[:2] + 1e-9).all())
        if case.bucket_radius is not None:
            centre = size[:2] / 2
            far = np.maximum(np.abs(low[:2] - centre), np.abs(high[:2] - centre))
            reach = float(np.hypot(*far))
            if isinstance(shape, CylinderBody) and shape.axis == 2:
                reach = float(np.hypot(*(np.array(shape.centre) - centre))) + shape.radius
            inside = inside and reach <= case.bucket_radius + 1e-9
        if not inside:
            raise CaseError(f"{name} goes through a wall.", remedy="Move it inside the tank.")
    if isinstance(case.part, BoxBody):
        for name, shape in case.anodes.items():
            low, high = bounds(shape)
            if (low < case.part.high).all() and (high > case.part.low).all():
                raise CaseError(f"{name} is in the part: a short.", remedy="Move them apart.")


# --- Solving --------------------------------------------------------------------------------


def _room(case: Case, name: str) -> float:
    """Distance [m] from a standing anode's axis to the nearest wall or other thing."""
    low, high = bounds(case.anodes[name])
    at = (low + high) / 2
    size = np.array(case.size)
    if case.bucket_radius is None:
        gaps = [*(2 * at[:2]), *(2 * (size[:2] - at[:2]))]
    else:
        gaps = [2 * (case.bucket_radius - float(np.hypot(*(at[:2] - size[:2] / 2))))]
    for other, shape in (("part", case.part), *case.anodes.items()):
        if other != name:
            lo, hi = bounds(shape)
            off = np.maximum(np.maximum(lo - high, low - hi), 0.0)
            gaps.append(float(np.linalg.norm(off)) + float((high - low).min()) / 2)
    return float(min(gaps))


def build(case: Case, facets: int, green: BoxGreen) -> Bath:
    """The bath of a case, with about so many facets on the part."""
    depth = case.size[2]
    area = area_of(case.part, depth)
    size = math.sqrt(area / facets)
    bodies = [Body("part", mesh(case.part, depth, size), 0.0, case.film_part)]
    rods: list[Rod] = []
    for name, shape in case.anodes.items():
        rod = as_rod(shape, name, depth, _room(case, name))
        if rod is not None:
            rods.append(rod)
        else:
            fine = math.sqrt(area_of(shape, depth) / max(facets / 2, 100))
            bodies.append(Body(name, mesh(shape, depth, fine), case.solved_volts, case.film_anode))
    walls = None
    if case.bucket_radius is not None:
        centre = (case.size[0] / 2, case.size[1] / 2)
        near = [(float(r.start[0]), float(r.start[1])) for r in rods]
        walls = round_wall(case.bucket_radius, case.bucket_radius, centre, depth, near)
    return Bath(
        green, bodies, rods, case.solved_volts, case.film_anode, walls, case.conductivity,
        segments=max(8, round(math.sqrt(facets) / 2)), kinetics=case.kinetics,
    )  # fmt: skip


def kinetic(case: Case) -> Case:
    """The same case for the kinetic model: volts above the reversible ones, films beside kinetics.

    Raises CaseError without V_supply_V.
    """
    if case.supply_volts is None:
        raise CaseError("The kinetic model needs parameters.V_supply_V.")
    volts = case.supply_volts - param("reversible_v").value
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


def solve_case(
    case: Case, preview: bool = False, clock: Callable[[], float] = lambda: 0.0
) -> dict[str, Any]:
    """Solve on two meshes and answer in the format of the reference results.

    A linear case is solved at one volt and scaled, a kinetic one at its own volts.
    ``clock`` gives seconds for the timings: process CPU where a command asks.
    """
    ticks = [clock()]
    green = box_green(case.size)
    ticks.append(clock())
    facets = FACETS["preview" if preview else "settled"]
    coarse_bath = build(case, round(facets / STEP**2), green)
    coarse = solve(coarse_bath)
    ticks.append(clock())
    fine_bath = build(case, facets, green)
    fine = solve(fine_bath)
    ticks.append(clock())
    results = _results(case, (fine_bath, fine), (coarse_bath, coarse))
    steps = np.diff(ticks)
    results["timings"] = {
        "green_cpu_s": round(float(steps[0]), 4),
        "coarse_cpu_s": round(float(steps[1]), 4),
        "fine_cpu_s": round(float(steps[2]), 4),
        "facets": fine.facets,
    }
    model = "linear" if case.kinetics is None else "kinetic"
    quality = "preview" if preview else "settled"
    results["model"] = f"{model}, boundary elements, {quality}"
    return results


def _results(case: Case, fine: tuple[Bath, Solved], coarse: tuple[Bath, Solved]) -> dict[str, Any]:
    shares = [Share(b.bodies[0].surface, s.density["part"]) for b, s in (fine, coarse)]
    one, two = shares
    total = Number.of(one.current, two.current)
    depth = case.size[2]
    area = area_of(case.part, depth)
    mesh_area = float(one.surface.areas.sum())
    if abs(mesh_area / area - 1) > 0.02:
        area = mesh_area
    lying = isinstance(case.part, CylinderBody) and case.part.axis != 2
    wet_area = mesh_area if lying and mesh_area < area * 0.999 else area
    p5, p95 = (
        Number.of(one.percentile(q) / one.mean, two.percentile(q) / two.mean, 1.0)
        for q in (0.05, 0.95)
    )
    numbers: dict[str, Any] = {
        "total_current_A": total.value * case.scale,
        "resistance_total_ohm": case.solved_volts / total.value if total.value else None,
        "anode_share": _anode_shares(fine),
        "anode_area_m2": {n: area_of(s, depth) for n, s in case.anodes.items()},
        "part_wetted_area_m2": wet_area,
        "part_wetted_area_mesh_m2": mesh_area,
        "mean_i_A_m2": one.mean * case.scale,
        "p5_over_mean": p5.value,
        "p95_over_mean": p95.value,
        "worst_face_over_mean": one.worst_patch() / one.mean,
    }
    errors: dict[str, Any] = {
        "total_current_A": total.error * case.scale,
        "mean_i_A_m2": total.error * case.scale / mesh_area,
        "p5_over_mean": p5.error,
        "p95_over_mean": p95.error,
    }
    numbers["patches"], errors["patches"] = _patches(case, one, two)
    numbers["error_estimate"] = errors
    return numbers


def _anode_shares(solved: tuple[Bath, Solved]) -> dict[str, float]:
    bath, got = solved
    out = dict(got.rod_current)
    for body in bath.bodies[1:]:
        out[body.name] = -float(got.density[body.name] @ body.surface.areas)
    total = sum(out.values())
    return {k: v / total for k, v in out.items()} if total else out


def _patches(case: Case, one: Share, two: Share) -> tuple[dict[str, Any], dict[str, Any]]:
    def names(surface: Surface) -> list[str]:
        return _patch_names(case.part, surface)

    fine, coarse = patches(one, names), patches(two, names)
    found, errors = {}, {}
    for name, (area, current) in fine.items():
        ratio = current / area / one.mean
        other = coarse.get(name, (area, current))
        number = Number.of(ratio, other[1] / other[0] / two.mean, 1.0)
        found[name] = {
            "area_m2": area,
            "mean_i_A_m2": current / area * case.scale,
            "ratio_to_mean": ratio,
            "share_of_total_current": current / one.current if one.current else 0.0,
        }
        errors[name] = {"ratio_to_mean": number.error}
    return found, errors


def _patch_names(part: Shape, surface: Surface) -> list[str]:
    if isinstance(part, BoxBody):
        return list(surface.patch)
    a = part.axis
    one, two = (a + 1) % 3, (a + 2) % 3
    c, n = surface.centres, surface.normals
    share = (c[:, a] - part.start) / (part.end - part.start)
    end = np.abs(n[:, a]) > 0.7
    out = []
    for k in range(len(c)):
        if end[k]:
            out.append(f"end{'+' if n[k, a] > 0 else '-'}{'xyz'[a]}")
            continue
        off = c[k, one] - part.centre[0], c[k, two] - part.centre[1]
        inward = n[k, one] * off[0] + n[k, two] * off[1] < 0
        if part.bore > 0 and inward:
            out.append(f"bore_q{min(int(share[k] * 4), 3) + 1}")
        elif part.bore > 0:
            side = "xyz"[one]
            out.append(f"outer{'+' if off[0] > 0 else '-'}{side}")
        else:
            upper = "upper" if off[1 if a == 0 else 0] > 0 else "lower"
            out.append(f"ax{min(int(share[k] * 5), 4) + 1}_{upper}")
    return out
