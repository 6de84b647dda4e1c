"""Plans drawn at random and solved by finite elements: what the claims are set and judged on.

The route of ``finite_elements`` for plan documents. What is taken from the application is where
the liquid stands and how low each piece hangs. Needs the ``bench`` extra. Lengths [m].
"""

from __future__ import annotations

import json
import multiprocessing as mp
import sys
import time
from pathlib import Path
from typing import Any

import gmsh
import numpy as np
import pyamg
from scipy.sparse.linalg import cg
from scipy.spatial import cKDTree
from skfem import Basis, ElementTetP2, FacetBasis, MeshTet2, asm

from tests.finite_elements import film, source, stiffness, tetrahedra
from tests.random_plans import KINDS, Document, height_of, random_plan, sides_of
from yellowbath.core.data import param
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.workflows.plans.plans import answer_document

# --- Geometry ---------------------------------------------------------------------------------


def _solid_of(piece: Document, bottom: float) -> int:
    """A piece as it hangs, about the tank's centre line, its lower edge at a height."""
    occ, s = gmsh.model.occ, piece["shape"]
    height = height_of(piece)
    if s["kind"] in ("bar", "tube"):
        across = s.get("diameter_m") or s["outer_diameter_m"]
        down = piece["hang"] == "long_down"
        along = np.array([0, 0, s["length_m"]]) if down else np.array([s["length_m"], 0, 0])
        made = occ.addCylinder(*(-along / 2), *along, across / 2)
        if s["kind"] == "tube":
            bore = occ.addCylinder(*(-along * 0.55), *(along * 1.1), s["inner_diameter_m"] / 2)
            made = occ.cut([(3, made)], [(3, bore)])[0][0][1]
    else:
        thin, broad = sides_of(s)
        size = np.array([s["length_m"], thin, broad])
        if piece["hang"] == "flat":
            size = np.array([s["length_m"], broad, thin])
        made = occ.addBox(*(-size / 2), *size)
    occ.rotate([(3, made)], 0, 0, 0, 0, 0, 1, np.radians(piece["turn_deg"]))
    occ.translate([(3, made)], piece["x_m"], piece["y_m"], bottom + height / 2)
    return int(made)


def _scrap_of(anode: Document, level: float) -> int:
    occ = gmsh.model.occ
    x, y, low = anode["x_m"], anode["y_m"], anode["floor_gap_m"]
    if anode["kind"] == "rod":
        return int(occ.addCylinder(x, y, low, 0, 0, level + 0.02 - low, anode["diameter_m"] / 2))
    if anode["kind"] == "plate":
        wide, thick = anode["width_m"], anode["thickness_m"]
        return int(occ.addBox(x - wide / 2, y - thick / 2, low, wide, thick, level + 0.02 - low))
    wide, deep = anode["depth_m"], anode["width_m"]
    return int(occ.addBox(x - wide / 2, y - deep / 2, low, wide, deep, anode["thickness_m"]))


def _liquid(shape: Document, level: float) -> int:
    occ = gmsh.model.occ
    if shape["kind"] == "bucket":
        low, rim = shape["floor_diameter_m"] / 2, shape["rim_diameter_m"] / 2
        top = low + (rim - low) * level / shape["height_m"]
        return int(occ.addCone(0, 0, 0, 0, 0, level, low, top))
    a, b = shape["length_m"], shape["width_m"]
    share = level / shape["height_m"]
    a2 = a + (shape.get("top_length_m", a) - a) * share
    b2 = b + (shape.get("top_width_m", b) - b) * share
    if a2 == a and b2 == b:
        return int(occ.addBox(-a / 2, -b / 2, 0, a, b, level))
    wires = []
    for z, u, v in ((0.0, a, b), (level, a2, b2)):
        at = [
            occ.addPoint(x * u / 2, y * v / 2, z) for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1))
        ]
        wires.append(occ.addWire([occ.addLine(at[k], at[(k + 1) % 4]) for k in range(4)]))
    return int(occ.addThruSections(wires, makeSolid=True, makeRuled=True)[0][1])


def mesh(plan: Document, level: float, bottoms: dict[str, float], scale: float) -> tuple[
    MeshTet2, dict[str, np.ndarray]
]:  # fmt: skip
    """Curved quadratic tetrahedra of the liquid; boundary facets of each piece and anode."""
    gmsh.initialize()
    gmsh.option.setNumber("General.Terminal", 0)
    gmsh.option.setNumber("General.NumThreads", 1)
    try:
        occ = gmsh.model.occ
        liquid = _liquid(plan["tank"]["shape"], level)
        solids = {p["id"]: _solid_of(p, bottoms[p["id"]]) for p in plan["pieces"]}
        solids |= {a["id"]: _scrap_of(a, level) for a in plan["anodes"]}
        occ.synchronize()
        bounds = {n: np.array(gmsh.model.getBoundingBox(3, s)) for n, s in solids.items()}
        faces: dict[str, list[int]] = {n: [] for n in solids}
        occ.cut([(3, liquid)], [(3, s) for s in solids.values()])
        occ.synchronize()
        for _, face in gmsh.model.getEntities(2):
            box = np.array(gmsh.model.getBoundingBox(2, face))
            if (abs(box[[2, 5]]) < 1e-6).all() or (abs(box[[2, 5]] - level) < 1e-6).all():
                continue
            for name, around in bounds.items():
                if (box[:3] >= around[:3] - 2e-6).all() and (box[3:] <= around[3:] + 2e-6).all():
                    faces[name].append(face)
        _sizes(plan, faces, scale)
        points, tets, index = tetrahedra()
        nodes = {
            name: index[np.unique(np.concatenate(
                [gmsh.model.mesh.getNodes(2, f, includeBoundary=True)[0] for f in found]
            )).astype(int)]
            for name, found in faces.items() if found
        }  # fmt: skip
    finally:
        gmsh.finalize()
    made = MeshTet2(points.reshape(-1, 3).T, tets[:, [0, 1, 2, 3, 4, 5, 6, 7, 9, 8]].T)
    outside = made.boundary_facets()
    corners = made.p[:, made.facets[:, outside]]
    dry = (abs(corners[2]) < 1e-7).all(axis=0) | (abs(corners[2] - level) < 1e-7).all(axis=0)
    on = {}
    for name, of in nodes.items():
        off = cKDTree(points.reshape(-1, 3)[of]).query(corners.reshape(3, -1).T)[0]
        on[name] = outside[(off.reshape(corners.shape[1:]) < 1e-9).all(axis=0) & ~dry]
    return made, on


def _sizes(plan: Document, faces: dict[str, list[int]], scale: float) -> None:
    field = gmsh.model.mesh.field
    made = []

    def grade(entities: list[int], kind: str, low: float, high: float, start: float,
              reach: float) -> None:  # fmt: skip
        near = field.add("Distance")
        field.setNumbers(near, f"{kind}List", entities)
        field.setNumber(near, "Sampling", 80)
        at = field.add("Threshold")
        for key, value in (("InField", near), ("SizeMin", low), ("SizeMax", high),
                           ("DistMin", start), ("DistMax", reach)):  # fmt: skip
            field.setNumber(at, key, value)
        made.append(at)

    for piece in plan["pieces"]:
        found = faces[piece["id"]]
        curves = sorted({abs(c) for f in found for _, c in gmsh.model.getBoundary([(2, f)])})
        grade(curves, "Curves", 0.0022 * scale, 0.016 * scale, 0.0, 0.035)
        grade(found, "Surfaces", 0.008 * scale, 0.03 * scale, 0.0, 0.08)
    for anode in plan["anodes"]:
        found = faces[anode["id"]]
        if not found:
            continue
        low = 0.006 * scale
        if anode["kind"] == "rod":
            low = anode["diameter_m"] / 4.4 * min(scale, 1.5)
        grade(found, "Surfaces", low, 0.03 * scale, 0.0, 0.09)
        near = _narrow(plan, anode)
        if near < 0.012:
            grade(
                found, "Surfaces", max(near / 1.6, 0.0007) * scale, 0.03 * scale, 1.6 * near, 0.05
            )
    least = field.add("Min")
    field.setNumbers(least, "FieldsList", made)
    field.setAsBackgroundMesh(least)
    for option in ("FromPoints", "FromCurvature", "ExtendFromBoundary"):
        gmsh.option.setNumber(f"Mesh.MeshSize{option}", 0)
    gmsh.option.setNumber("Mesh.MeshSizeMax", 0.03 * scale)


def _narrow(plan: Document, anode: Document) -> float:
    """About how near a rod stands to the first piece, seen from above and square."""
    if anode["kind"] != "rod":
        return 1.0
    piece = plan["pieces"][0]
    if piece["turn_deg"]:
        return 1.0
    s = piece["shape"]
    across = s.get("thickness_m") or s.get("diameter_m") or s.get("outer_diameter_m")
    if s["kind"] == "box":
        across = s["height_m"]
    if piece["hang"] == "flat":
        across = s.get("width_m", across)
    off = abs(anode["y_m"] - piece["y_m"]) - (across + anode["diameter_m"]) / 2
    return float(off if abs(anode["x_m"] - piece["x_m"]) < s["length_m"] / 2 else 1.0)


# --- Solving ----------------------------------------------------------------------------------


def region_of(piece: Document, normals: np.ndarray, points: np.ndarray) -> np.ndarray:
    """The face that each point (n, 3) from the piece's middle is on, by its outward normal."""
    a, kind = np.radians(piece["turn_deg"]), piece["shape"]["kind"]
    turn = np.array([[np.cos(a), np.sin(a), 0], [-np.sin(a), np.cos(a), 0], [0, 0, 1]])
    n, p = normals @ turn.T, points @ turn.T
    if kind == "tube":
        axis = 2 if piece["hang"] == "long_down" else 0
        across = [k for k in range(3) if k != axis]
        inward = (n[:, across] * p[:, across]).sum(axis=1) < 0
        return np.where(abs(n[:, axis]) > 0.7, "ends", np.where(inward, "bore", "outside"))
    if kind == "plate":
        broad = 2 if piece["hang"] == "flat" else 1
        return np.where(abs(n[:, broad]) > 0.7, np.where(n[:, broad] > 0, "one", "other"), "edges")
    return np.full(len(n), "all")


def solve(plan: Document, conductivity: float, scale: float) -> dict[str, Any]:
    """Resistance [ohm], p5 and p95 over the mean, faces over the mean; at a mesh scale."""
    read = answer_document(plan)
    assert read.answer is not None
    level = read.answer.fill.level.value
    bottoms = bottoms_of(read.read.plan, level)
    liquid, facets = mesh(plan, level, bottoms, scale)
    element = ElementTetP2()
    matrix = conductivity * asm(stiffness, Basis(liquid, element))
    right = np.zeros(matrix.shape[0])
    films = {True: param("film_piece_ohm_m2").value, False: param("film_anode_ohm_m2").value}
    bases = {n: FacetBasis(liquid, element, facets=f, intorder=4) for n, f in facets.items()}
    ids = {p["id"] for p in plan["pieces"]}
    for name, basis in bases.items():
        matrix = matrix + asm(film, basis) / films[name in ids]
        if name not in ids:
            right += asm(source, basis) / films[False]
    matrix = matrix.tocsr()
    grids = pyamg.smoothed_aggregation_solver(matrix, max_coarse=500)
    found, code = cg(matrix, right, rtol=1e-8, M=grids.aspreconditioner())
    if code:
        raise RuntimeError("conjugate gradients did not converge")
    density, weight, regions = [], [], []
    for piece in plan["pieces"]:
        basis = bases[piece["id"]]
        density.append((np.asarray(basis.interpolate(found)) / films[True]).ravel())
        weight.append(basis.dx.ravel())
        x = np.asarray(basis.default_parameters()["x"]).reshape(3, -1).T
        n = -np.asarray(basis.normals).reshape(3, -1).T
        middle = np.array([piece["x_m"], piece["y_m"], bottoms[piece["id"]] + height_of(piece) / 2])
        names = region_of(piece, n, x - middle)
        regions += [f"{piece['id']}.{r}" for r in names]
    d, w, names = np.concatenate(density), np.concatenate(weight), np.array(regions)
    order = np.argsort(d)
    ranks = (np.cumsum(w[order]) - w[order] / 2) / w.sum()
    mean = float(d @ w / w.sum())
    out = {
        "ohms": 1 / float(d @ w),
        "p5": float(np.interp(0.05, ranks, d[order])) / mean,
        "p95": float(np.interp(0.95, ranks, d[order])) / mean,
    }
    faces = {
        str(r): float(d[names == r] @ w[names == r] / w[names == r].sum()) / mean
        for r in np.unique(names)
    }
    return {**out, "faces": faces, "unknowns": int(matrix.shape[0])}


def reference(plan: Document, conductivity: float) -> Document | None:
    """Values on the finer of two meshes, brought on by a third of what the two differ, with the
    difference as their own error; None where no sound mesh is found."""
    made = []
    for scale in (1.6, 1.15):
        for _ in range(3):
            try:
                made.append(solve(plan, conductivity, scale))
                break
            except Exception as error:
                print(f"again: {error!r:.90}", flush=True)
                scale *= 0.96
        else:
            return None
    coarse, fine = made

    def both(a: float, b: float) -> list[float]:
        return [float(f"{b + (b - a) / 3:.5g}"), float(f"{abs(b - a):.2g}")]

    faces = {k: both(coarse["faces"].get(k, v), v) for k, v in fine["faces"].items()}
    return {**{k: both(coarse[k], fine[k]) for k in ("ohms", "p5", "p95")}, "faces": faces}


def _in_child(plan: Document, conductivity: float) -> Document | None:
    """The reference in a process of its own: the mesher may end it, or not come to an end."""
    with mp.get_context("fork").Pool(1) as pool:
        try:
            return pool.apply_async(reference, (plan, conductivity)).get(timeout=_PATIENCE_S)
        except mp.TimeoutError:
            pool.terminate()
            return None


_PATIENCE_S = 420.0


def main(target: str, seed: int, count: int) -> None:
    """Draw plans of all kinds in turn, solve each, and write down those that the mesher can do."""
    path, rng = Path(target), np.random.default_rng(seed)
    cases: list[Document] = []
    known = json.loads(path.read_text("utf-8")) if path.is_file() else []
    done = {json.dumps(c["plan"]): c["found"] for c in known}
    drawn = 0
    while len(cases) < count:
        kind = KINDS[drawn % len(KINDS)]
        drawn += 1
        plan = json.loads(
            json.dumps(random_plan(rng, kind)), parse_float=lambda x: round(float(x), 5)
        )
        kappa = round(float(rng.uniform(0.4, 2.5)), 3)
        begun = time.process_time()
        key = json.dumps(plan)
        found = done[key] if key in done else _in_child(plan, kappa)
        print(
            len(cases),
            kind,
            round(time.process_time() - begun),
            found and found["ohms"],
            flush=True,
        )
        if found is not None:
            cases.append({"kind": kind, "conductivity": kappa, "plan": plan, "found": found})
            path.write_text(json.dumps(cases, indent=None) + "\n", "utf-8")


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]), int(sys.argv[3]))
