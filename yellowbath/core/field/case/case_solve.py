"""Cases solved on two meshes and answered in the form of the reference results."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.assembly.lines import segments_for
from yellowbath.core.field.case.case import Case
from yellowbath.core.field.integrals.green import Green, box_green, slab_green
from yellowbath.core.field.mesh.flush import bare
from yellowbath.core.field.mesh.shapes import (
    BodyShape,
    BoxBody,
    CylinderBody,
    MeshPart,
    area_of,
    as_rod,
    bounds,
    mesh,
    round_wall,
)
from yellowbath.core.field.mesh.surfaces import Rod, Surface
from yellowbath.core.field.model import QUALITIES, STEP, FieldNumber
from yellowbath.core.field.solver.bath import Body, FieldBath
from yellowbath.core.field.solver.result import PieceCurrent, patches
from yellowbath.core.field.solver.solve import Solved, solve

_FACETS, _QUICK_FACETS = 800, 350  # of a case from a file


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


def green_of(case: Case) -> Green:
    """The Green function that a case's tank is solved with."""
    if case.bucket_radius is None:
        return box_green(case.size)
    return slab_green(2.05 * case.bucket_radius, case.size[2])


def build(case: Case, facets: int, green: Green) -> FieldBath:
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
        walls = round_wall(case.bucket_radius, case.bucket_radius, centre, depth)
    bodies = _bare(bodies, case)
    return FieldBath(
        green, bodies, rods, case.solved_volts, case.film_anode, walls, case.conductivity,
        segments=segments_for(facets), kinetics=case.kinetics,
    )  # fmt: skip


def _bare(bodies: list[Body], case: Case) -> list[Body]:
    """Bodies without what lies on walls, floor or surface, or on one of their own polarity."""
    size = case.size
    walls = [(2, 0.0), (2, size[2])]
    if case.bucket_radius is None:
        walls += [(0, 0.0), (0, size[0]), (1, 0.0), (1, size[1])]
    out = []
    for body in bodies:
        like = [b.surface for b in bodies if b is not body and b.volts == body.volts]
        left = bare(body.surface, walls, like)
        if left is not None:
            out.append(replace(body, surface=left))
    if not out or out[0].name != "part":
        raise NoAnswerError("Nothing of the part is bare to the liquid.")
    return out


def solve_case(
    case: Case, preview: bool = False, clock: Callable[[], float] = lambda: 0.0
) -> dict[str, Any]:
    """Solve on two meshes and answer in the format of the reference results.

    A linear case is solved at one volt and scaled, a kinetic one at its own volts.
    ``clock`` gives seconds for the timings: process CPU where a command asks.
    """
    ticks = [clock()]
    green = green_of(case)
    ticks.append(clock())
    quality = "preview" if preview else "fine"
    facets = _QUICK_FACETS if preview else _FACETS
    coarse_bath = build(case, round(facets / STEP**2), green)
    coarse = solve(coarse_bath)
    ticks.append(clock())
    fine_bath = build(case, facets, green)
    fine = solve(fine_bath)
    ticks.append(clock())
    results = _results(case, (fine_bath, fine), (coarse_bath, coarse), quality)
    steps = np.diff(ticks)
    results["timings"] = {
        "green_cpu_s": round(float(steps[0]), 4),
        "coarse_cpu_s": round(float(steps[1]), 4),
        "fine_cpu_s": round(float(steps[2]), 4),
        "facets": fine.facets,
    }
    model = "linear" if case.kinetics is None else "kinetic"
    results["model"] = f"{model}, boundary elements, {quality}"
    return results


def _results(
    case: Case, fine: tuple[FieldBath, Solved], coarse: tuple[FieldBath, Solved], quality: str
) -> dict[str, Any]:
    shares = [PieceCurrent(b.bodies[0].surface, s.density["part"]) for b, s in (fine, coarse)]
    one, two = shares
    total = FieldNumber.of(one.current, two.current)
    depth = case.size[2]
    area = area_of(case.part, depth)
    mesh_area = float(one.surface.areas.sum())
    if abs(mesh_area / area - 1) > 0.02:
        area = mesh_area
    lying = isinstance(case.part, CylinderBody) and case.part.axis != 2
    wet_area = mesh_area if lying and mesh_area < area * 0.999 else area
    p5, p95 = (
        FieldNumber.tail(one.percentile(q) / one.mean, two.percentile(q) / two.mean, claim)
        for q, claim in ((0.05, QUALITIES[quality].p5), (0.95, QUALITIES[quality].p95))
    )
    numbers: dict[str, Any] = {
        "total_current_A": total.value * case.scale,
        "resistance_total_ohm": case.solved_volts / total.value if total.value else None,
        "anode_share": _shares(_anode_currents(fine)),
        "current_balance": sum(_anode_currents(fine).values()) / one.current - 1
        if one.current
        else 0.0,
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
    numbers["patches"], errors["patches"] = _patches(case.part, one, two, case.scale)
    if isinstance(case.part, MeshPart):
        numbers["mended"] = list(case.part.body.notes)
    numbers["error_estimate"] = errors
    return numbers


def _anode_currents(solved: tuple[FieldBath, Solved]) -> dict[str, float]:
    bath, got = solved
    out = dict(got.rod_current)
    for body in bath.bodies[1:]:
        out[body.name] = -float(got.density[body.name] @ body.surface.areas)
    return out


def _shares(currents: dict[str, float]) -> dict[str, float]:
    total = sum(currents.values())
    return {k: v / total for k, v in currents.items()} if total else currents


def _patches(
    part: BodyShape, one: PieceCurrent, two: PieceCurrent, scale: float
) -> tuple[dict[str, Any], dict[str, Any]]:
    if isinstance(part, MeshPart):
        return {}, {}

    def names(surface: Surface) -> list[str]:
        return _patch_names(part, surface)

    fine, coarse = patches(one, names), patches(two, names)
    found, errors = {}, {}
    for name, (area, current) in fine.items():
        ratio = current / area / one.mean
        other = coarse.get(name, (area, current))
        number = FieldNumber.of(ratio, other[1] / other[0] / two.mean, 1.0)
        found[name] = {
            "area_m2": area,
            "mean_i_A_m2": current / area * scale,
            "ratio_to_mean": ratio,
            "share_of_total_current": current / one.current if one.current else 0.0,
        }
        errors[name] = {"ratio_to_mean": number.error}
    return found, errors


def _patch_names(part: BoxBody | CylinderBody, surface: Surface) -> list[str]:
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
