"""A general-purpose finite-element route to the same answers, with none of our computation.

Gmsh cuts the liquid into tetrahedra, scikit-fem assembles quadratic elements, conjugate gradients
with an algebraic multigrid preconditioner (PyAMG) solve. It serves the benchmarks as the
alternative that ours is timed against, and made tests/published/random_cases.json. Needs the
``bench`` extra. Lengths [m].
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import gmsh
import numpy as np
import pyamg
from scipy.sparse.linalg import cg
from skfem import Basis, BilinearForm, ElementTetP2, FacetBasis, LinearForm, MeshTet2, asm
from skfem.helpers import dot, grad

from yellowbath.core.errors import CaseError
from yellowbath.core.field.case.case import read_case

Case = dict[str, Any]


@BilinearForm
def stiffness(u: Any, v: Any, w: Any) -> Any:
    return dot(grad(u), grad(v))


@BilinearForm
def film(u: Any, v: Any, w: Any) -> Any:
    return u * v


@LinearForm
def source(v: Any, w: Any) -> Any:
    return v


def body(item: Case, depth: float) -> int:
    """A shape of the case format as a solid of the mesher's kernel; a tube has its bore cut out."""
    occ = gmsh.model.occ
    if item["shape"] == "box":
        centre, size = np.array(item["center_mm"]) / 1e3, np.array(item["size_mm"]) / 1e3
        return int(occ.addBox(*(centre - size / 2), *size))
    axis = "xyz".index(item["axis"])
    base = np.zeros(3)
    for name, value in zip(
        item["centre_coords"].split(","), item["centre_of_axis_mm"], strict=True
    ):
        base["xyz".index(name.strip())] = value / 1e3
    to = item["to_mm"]
    end = depth + 0.02 if isinstance(to, str) else to / 1e3
    base[axis] = item["from_mm"] / 1e3
    along = np.zeros(3)
    along[axis] = end - base[axis]
    outer = occ.addCylinder(*base, *along, item.get("radius_mm", item.get("outer_radius_mm")) / 1e3)
    if "inner_radius_mm" not in item:
        return int(outer)
    bore = occ.addCylinder(*base, *along, item["inner_radius_mm"] / 1e3)
    return int(occ.cut([(3, outer)], [(3, bore)])[0][0][1])


def tetrahedra() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The geometry of the mesher cut into curved tetrahedra: points, tetrahedra by point, and the
    point of each of the mesher's node tags."""
    gmsh.model.mesh.generate(3)
    gmsh.model.mesh.setOrder(2)
    gmsh.model.mesh.optimize("HighOrder")
    tags, points, _ = gmsh.model.mesh.getNodes()
    index = np.zeros(int(tags.max()) + 1, dtype=int)
    index[tags] = np.arange(len(tags))
    tets = index[gmsh.model.mesh.getElements(3)[2][0]].reshape(-1, 10)
    return points, tets, index


def mesh(case: Case, scale: float) -> tuple[MeshTet2, dict[str, np.ndarray]]:
    """Curved quadratic tetrahedra of the liquid; boundary facets of part and anodes."""
    geometry = case["geometry"]
    tank, depth = geometry["tank"], geometry["liquid_depth"] / 1e3
    gmsh.initialize()
    gmsh.option.setNumber("General.Terminal", 0)
    gmsh.option.setNumber("General.NumThreads", 1)
    try:
        occ = gmsh.model.occ
        if tank["shape"] == "box":
            liquid = occ.addBox(0, 0, 0, tank["lx"] / 1e3, tank["ly"] / 1e3, depth)
        else:
            liquid = occ.addCylinder(0, 0, 0, 0, 0, depth, tank["inner_radius"] / 1e3)
        named = {"part": geometry["part"], **{a["name"]: a for a in geometry["anodes"]}}
        solids = {name: body(item, depth) for name, item in named.items()}
        occ.synchronize()
        bounds = {n: np.array(gmsh.model.getBoundingBox(3, s)) for n, s in solids.items()}
        occ.cut([(3, liquid)], [(3, s) for s in solids.values()])
        occ.synchronize()
        faces: dict[str, list[int]] = {n: [] for n in solids}
        for _, face in gmsh.model.getEntities(2):
            box = np.array(gmsh.model.getBoundingBox(2, face))
            for name, around in bounds.items():
                if (box[:3] >= around[:3] - 1e-6).all() and (box[3:] <= around[3:] + 1e-6).all():
                    faces[name].append(face)
        _sizes(named, faces, scale)
        points, tets, _ = tetrahedra()
    finally:
        gmsh.finalize()
    # the mesher's last two edges are the other way round
    made = MeshTet2(points.reshape(-1, 3).T, tets[:, [0, 1, 2, 3, 4, 5, 6, 7, 9, 8]].T)
    outside = made.boundary_facets()
    corners = made.p[:, made.facets[:, outside]]
    named_facets = {}
    for name, box in bounds.items():
        within = (corners >= box[:3, None, None] - 1e-6) & (corners <= box[3:, None, None] + 1e-6)
        named_facets[name] = outside[within.all(axis=(0, 1))]
    return made, named_facets


def _sizes(named: dict[str, Case], faces: dict[str, list[int]], scale: float) -> None:
    """Fine at the part's edges and at the anodes, coarse in the open liquid.

    Round anodes are cut no coarser than at a scale of 1.5, where curved elements begin to fold.
    """
    fields = []
    for name, found in faces.items():
        field = gmsh.model.mesh.field
        item = named[name]
        near = field.add("Distance")
        if name == "part":
            curves = {abs(c) for f in found for _, c in gmsh.model.getBoundary([(2, f)])}
            field.setNumbers(near, "CurvesList", sorted(curves))
            low, high, reach = 0.0025 * scale, 0.014, 0.03
        else:
            field.setNumbers(near, "SurfacesList", found)
            low = item.get("radius_mm", 12.0) / 1e3 / 2.2 * min(scale, 1.5)
            high, reach = 0.03, 0.08
        field.setNumber(near, "Sampling", 60)
        grade = field.add("Threshold")
        for key, value in (
            ("InField", near), ("SizeMin", low), ("SizeMax", high * scale),
            ("DistMin", 0.0), ("DistMax", reach),
        ):  # fmt: skip
            field.setNumber(grade, key, value)
        fields.append(grade)
    least = gmsh.model.mesh.field.add("Min")
    gmsh.model.mesh.field.setNumbers(least, "FieldsList", fields)
    gmsh.model.mesh.field.setAsBackgroundMesh(least)
    for option in ("FromPoints", "FromCurvature", "ExtendFromBoundary"):
        gmsh.option.setNumber(f"Mesh.MeshSize{option}", 0)
    gmsh.option.setNumber("Mesh.MeshSizeMax", 0.03 * scale)


def solve(case: Case, scale: float = 1.0) -> dict[str, float]:
    """Total current [A], p5 and p95 over the mean, and the unknowns, at a mesh scale."""
    p = case["parameters"]
    liquid, facets = mesh(case, scale)
    element = ElementTetP2()
    matrix = p["sigma_S_m"] * asm(stiffness, Basis(liquid, element))
    right = np.zeros(matrix.shape[0])
    bases = {n: FacetBasis(liquid, element, facets=f, intorder=4) for n, f in facets.items()}
    for name, basis in bases.items():
        r = p["r_c_ohm_m2"] if name == "part" else p["r_a_ohm_m2"]
        matrix = matrix + asm(film, basis) / r
        if name != "part":
            right += asm(source, basis) * (p["V_eff_V"] / r)
    matrix = matrix.tocsr()
    grids = pyamg.smoothed_aggregation_solver(matrix, max_coarse=500)
    found, code = cg(matrix, right, rtol=1e-8, M=grids.aspreconditioner())
    if code:
        raise RuntimeError("conjugate gradients did not converge")
    basis = bases["part"]
    density = np.asarray(basis.interpolate(found)) / p["r_c_ohm_m2"]
    weight = basis.dx
    order = np.argsort(density.ravel())
    at, area = density.ravel()[order], weight.ravel()[order]
    ranks = (np.cumsum(area) - area / 2) / area.sum()
    mean = float((density * weight).sum() / weight.sum())
    return {
        "total_current_A": float((density * weight).sum()),
        "p5_over_mean": float(np.interp(0.05, ranks, at)) / mean,
        "p95_over_mean": float(np.interp(0.95, ranks, at)) / mean,
        "part_wetted_area_m2": float(weight.sum()),
        "unknowns": float(matrix.shape[0]),
    }


# --- Random cases -----------------------------------------------------------------------------


def random_case(rng: np.random.Generator) -> Case:
    """A case with clearances of 15 mm or more, as far as bounding boxes tell."""
    while True:
        case = _drawn(rng)
        boxes = [_around(i, 0.0) for i in (case["geometry"]["part"], *case["geometry"]["anodes"])]
        apart = all(
            (boxes[0][0] - b[1] > 15).any() or (b[0] - boxes[0][1] > 15).any() for b in boxes[1:]
        ) and all(
            (a[0] - b[1] > 10).any() or (b[0] - a[1] > 10).any()
            for k, a in enumerate(boxes[1:]) for b in boxes[k + 2 :]
        )  # fmt: skip
        try:
            read_case(case)
        except CaseError:
            continue
        if apart:
            return case


def _around(item: Case, _: float) -> tuple[np.ndarray, np.ndarray]:
    if item["shape"] == "box":
        centre, half = np.array(item["center_mm"]), np.array(item["size_mm"]) / 2
        return centre - half, centre + half
    radius = item.get("radius_mm", item.get("outer_radius_mm"))
    axis = "xyz".index(item["axis"])
    low, high = np.zeros(3), np.zeros(3)
    for name, value in zip(
        item["centre_coords"].split(","), item["centre_of_axis_mm"], strict=True
    ):
        k = "xyz".index(name)
        low[k], high[k] = value - radius, value + radius
    to = item["to_mm"]
    low[axis], high[axis] = item["from_mm"], 1e3 if isinstance(to, str) else to
    return low, high


def _drawn(rng: np.random.Generator) -> Case:
    depth = float(rng.integers(180, 320))
    round_tank = rng.random() < 0.35
    if round_tank:
        radius = float(rng.integers(120, 190))
        tank: Case = {"shape": "round straight bucket", "inner_radius": radius,
                      "origin": "floor centre"}  # fmt: skip
        middle, half = np.zeros(2), np.array([radius, radius]) * 0.9
    else:
        lx, ly = float(rng.integers(260, 480)), float(rng.integers(220, 380))
        tank = {"shape": "box", "lx": lx, "ly": ly, "origin": "floor corner"}
        middle, half = np.array([lx, ly]) / 2, np.array([lx, ly]) / 2
    at = [*(middle + rng.uniform(-0.12, 0.12, 2) * half), depth * rng.uniform(0.45, 0.58)]
    kind = rng.choice(["box", "box", "cylinder", "tube"])
    reach = float(half[0] * rng.uniform(0.7, 1.2))
    if kind == "box":
        size = [reach, float(rng.uniform(4, 0.5 * half[1])), float(rng.uniform(0.25, 0.6) * depth)]
        part: Case = {"shape": "box", "center_mm": at, "size_mm": size}
    else:
        radius = float(rng.uniform(8, 0.16 * depth))
        part = {"shape": kind, "axis": "x", "centre_of_axis_mm": at[1:], "centre_coords": "y,z",
                "from_mm": at[0] - reach / 2, "to_mm": at[0] + reach / 2}  # fmt: skip
        if kind == "tube":
            wall = float(rng.uniform(3, 6))
            part |= {"outer_radius_mm": radius + 8, "inner_radius_mm": radius + 8 - wall}
        else:
            part["radius_mm"] = radius
    anodes = []
    for k in range(int(rng.integers(1, 4))):
        angle = rng.uniform(0, 2 * np.pi)
        out = np.array([np.cos(angle), np.sin(angle)])
        out /= 1.0 if round_tank else np.abs(out).max()
        spot = middle + (half - 22) * out
        name = f"A{k + 1}"
        if k == 0 and not round_tank and rng.random() < 0.3:
            anodes.append({"name": name, "shape": "box",
                           "center_mm": [float(middle[0]), 20.0, depth * 0.5],
                           "size_mm": [float(half[0]), 4.0, depth * 0.6]})  # fmt: skip
            continue
        anodes.append({"name": name, "shape": "cylinder", "axis": "z",
                       "centre_of_axis_mm": [float(x) for x in spot], "centre_coords": "x,y",
                       "radius_mm": float(rng.uniform(4, 8)),
                       "from_mm": float(rng.uniform(10, 40)),
                       "to_mm": "through liquid surface"})  # fmt: skip
    volts = float(rng.uniform(3, 22))
    return {
        "geometry": {"units": "mm", "tank": tank, "liquid_depth": depth, "part": part,
                     "anodes": anodes},
        "parameters": {"V_supply_V": volts + 2, "V0_V": 2.0, "V_eff_V": volts,
                       "r_a_ohm_m2": float(rng.uniform(0.004, 0.02)),
                       "r_c_ohm_m2": float(rng.uniform(0.002, 0.01)),
                       "sigma_S_m": float(rng.uniform(0.4, 3.0))},
    }  # fmt: skip


def rounded(value: Any) -> Any:
    """Numbers of a case or its results to five figures, as they are written down."""
    if isinstance(value, dict):
        return {k: rounded(v) for k, v in value.items()}
    if isinstance(value, list):
        return [rounded(v) for v in value]
    return float(f"{value:.5g}") if isinstance(value, float) else value


def main(target: str) -> None:
    """Draw cases, solve each on two meshes, write down the first 20 that the mesher can do.

    Cases that the file already has are not solved again.
    """
    path, rng = Path(target), np.random.default_rng(2026)
    known = json.loads(path.read_text("utf-8"))["cases"] if path.is_file() else {}
    done = {json.dumps(c["geometry"]): c for c in known.values()}
    cases: dict[str, Case] = {}
    while len(cases) < 20:
        case = rounded(random_case(rng))
        case = done.get(json.dumps(case["geometry"])) or with_results(case)
        if case is None:
            continue
        cases[f"R{len(cases) + 1}"] = rounded(case)
        print(len(cases), json.dumps(case["results"]), flush=True)
        text = json.dumps({"source": SOURCE, "cases": cases}, indent=1)
        path.write_text(text + "\n", "utf-8")


def with_results(case: Case) -> Case | None:
    """The case with its results; None where no sound mesh is found."""
    coarse, fine = solved(case, 1.5), solved(case, 1.05)
    if coarse is None or fine is None:
        return None
    results = {
        key: {"value": value, "rel_err": abs(value - coarse[key]) / abs(value)}
        for key, value in fine.items()
        if key != "unknowns"
    }
    return {**case, "results": results}


def solved(case: Case, scale: float) -> dict[str, float] | None:
    """A mesh with a tetrahedron that its curved side folds is made anew, a bit finer."""
    for _ in range(4):
        try:
            return solve(case, scale)
        except Exception as error:
            print(f"again: {error!r:.80}", flush=True)
            scale *= 0.96
    return None


SOURCE = (
    "Twenty cases drawn at random and solved by quadratic finite elements on two meshes (Gmsh, "
    "scikit-fem, PyAMG; tests/finite_elements.py); rel_err is the difference of the two (computed)."
)

if __name__ == "__main__":
    main(sys.argv[1])
