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
from yellowbath.core.data import param
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.workflows.plans import answer_document

Document = dict[str, Any]
KINDS = ("plain", "gap", "bore", "thin", "taper", "floor", "two")


# --- Layouts ----------------------------------------------------------------------------------


def random_plan(rng: np.random.Generator, kind: str) -> Document:
    """A plan document of a kind, drawn until nothing meets or leaves the tank."""
    while True:
        made = _drawn(rng, kind)
        read = answer_document(made)
        stops = {f.id for f in read.findings}
        bad = {"short", "no_fit", "pieces_meet", "scrap_outside", "scrap_meets", "overflow"}
        if read.answer is None or stops & bad:
            continue
        level = read.answer.fill.level.value
        bottoms = bottoms_of(read.read.plan, level)
        tops = [bottoms[p["id"]] + _height(p) for p in made["pieces"]]
        if all(t < level - 0.002 for t in tops) and min(bottoms.values()) > 0.002:
            return made


def _height(piece: Document) -> float:
    s = piece["shape"]
    if s["kind"] in ("bar", "tube"):
        across = s.get("diameter_m") or s["outer_diameter_m"]
        return float(s["length_m"] if piece["hang"] == "long_down" else across)
    thin, broad = _sides(s)
    return thin if piece["hang"] == "flat" else broad


def _sides(shape: Document) -> tuple[float, float]:
    """The thinner and the broader of a plate's or block's two shorter sides: its broad side is
    hung to the front, whatever its sizes are called."""
    one, other = float(shape["width_m"]), float(shape.get("thickness_m", shape.get("height_m")))
    return min(one, other), max(one, other)


def _shape(rng: np.random.Generator, kind: str, reach: float, deep: float) -> Document:
    long = float(rng.uniform(0.35, 0.6) * reach)
    what = {"bore": "tube", "thin": "plate"}.get(kind) or rng.choice(
        ["plate", "box", "bar", "tube"]
    )
    if what == "plate":
        thick = rng.uniform(0.0008, 0.002) if kind == "thin" else rng.uniform(0.003, 0.02)
        return {"kind": "plate", "length_m": long, "width_m": float(rng.uniform(0.25, 0.55) * deep),
                "thickness_m": float(thick)}  # fmt: skip
    if what == "box":
        return {"kind": "box", "length_m": long, "width_m": float(rng.uniform(0.3, 0.5) * deep),
                "height_m": float(rng.uniform(0.03, 0.09))}  # fmt: skip
    across = float(rng.uniform(0.015, 0.06))
    if what == "bar":
        return {"kind": "bar", "length_m": long, "diameter_m": across}
    wall = float(rng.uniform(0.002, 0.006))
    outer = across + 0.01
    return {"kind": "tube", "length_m": long, "outer_diameter_m": outer,
            "inner_diameter_m": outer - 2 * wall}  # fmt: skip


def _drawn(rng: np.random.Generator, kind: str) -> Document:
    deep = float(rng.uniform(0.18, 0.3))
    taper = kind == "taper" or (kind in ("gap", "bore", "two") and rng.random() < 0.3)
    length, width = float(rng.uniform(0.28, 0.5)), float(rng.uniform(0.24, 0.4))
    if taper and rng.random() < 0.5:
        rim = float(rng.uniform(0.27, 0.4))
        shape: Document = {"kind": "bucket", "rim_diameter_m": rim, "height_m": deep + 0.05,
                           "floor_diameter_m": rim * float(rng.uniform(0.75, 0.95))}  # fmt: skip
        length = width = shape["floor_diameter_m"]
    else:
        shape = {"kind": "box", "length_m": length, "width_m": width, "height_m": deep + 0.05}
        if taper:
            more = float(rng.uniform(1.04, 1.25))
            shape |= {"top_length_m": length * more, "top_width_m": width * more}
    half = np.array([length, width]) / 2
    piece = {
        "id": "p1", "shape": _shape(rng, kind, length, deep),
        "hang": str(rng.choice(["long_across", "long_across", "flat"])),
        "turn_deg": float(rng.choice([0.0, 0.0, rng.uniform(-80, 80)])),
        "x_m": float(rng.uniform(-0.1, 0.1) * half[0]),
        "y_m": float(rng.uniform(-0.1, 0.1) * half[1]),
        "bottom_m": float(rng.uniform(0.15, 0.35) * deep),
    }  # fmt: skip
    if piece["shape"]["kind"] in ("bar", "tube") and rng.random() < 0.3:
        piece["hang"] = "long_down"
        piece["shape"]["length_m"] = min(piece["shape"]["length_m"], 0.55 * deep)
    pieces = [piece]
    if kind == "two":
        piece["y_m"] = float(-0.45 * half[1])
        other = {**piece, "id": "p2", "shape": _shape(rng, "plain", length, deep),
                 "y_m": float(rng.uniform(0.25, 0.5) * half[1]), "turn_deg": 0.0}  # fmt: skip
        pieces.append(other)
    anodes: list[Document] = []
    round_tank = shape["kind"] == "bucket"
    for k in range(int(rng.integers(1, 4))):
        angle = rng.uniform(0, 2 * np.pi)
        out = np.array([np.cos(angle), np.sin(angle)])
        out /= 1.0 if round_tank else np.abs(out).max()
        off = float(rng.uniform(0.008, 0.03))
        spot = (half - off - 0.006) * out
        rod = {"id": f"a{k + 1}", "kind": "rod", "diameter_m": float(rng.uniform(0.006, 0.016)),
               "x_m": float(spot[0]), "y_m": float(spot[1]),
               "floor_gap_m": float(rng.uniform(0.005, 0.04))}  # fmt: skip
        anodes.append(rod)
    if kind == "floor":
        cover = float(rng.choice([1.0, rng.uniform(0.4, 0.9)]))
        anodes[0] = {"id": "a1", "kind": "floor", "width_m": width * cover,
                     "depth_m": length * cover, "x_m": 0.0, "y_m": 0.0,
                     "thickness_m": float(rng.uniform(0.001, 0.004)),
                     "floor_gap_m": float(rng.choice([0.0, 0.004]))}  # fmt: skip
    elif kind in ("plain", "thin", "taper") and rng.random() < 0.4 and not round_tank:
        anodes[0] = {"id": "a1", "kind": "plate", "width_m": float(rng.uniform(0.3, 0.8) * length),
                     "thickness_m": 0.004, "x_m": 0.0, "y_m": float(0.02 - half[1]),
                     "floor_gap_m": float(rng.uniform(0.0, 0.03))}  # fmt: skip
    elif kind == "gap":
        gap, s = float(rng.uniform(0.0015, 0.008)), piece["shape"]
        piece["turn_deg"] = 0.0
        across = s.get("thickness_m") or s.get("diameter_m") or s.get("outer_diameter_m")
        if s["kind"] in ("box", "plate"):
            thin, broad = _sides(s)
            across = broad if piece["hang"] == "flat" else thin
        along = 0.0 if piece["hang"] == "long_down" else s["length_m"]
        beside = float(rng.uniform(-0.3, 0.3)) * along
        off = (across + anodes[0]["diameter_m"]) / 2 + gap
        anodes[0] |= {"x_m": piece["x_m"] + beside, "y_m": piece["y_m"] - off}
    return {
        "tank": {"shape": shape, "level_m": deep},
        "mix": {"product": "soda_anhydrous"}, "layout": {"arrangement": "by_hand"},
        "pieces": pieces, "anodes": anodes,
    }  # fmt: skip


# --- Geometry ---------------------------------------------------------------------------------


def _solid_of(piece: Document, bottom: float) -> int:
    """A piece as it hangs, about the tank's centre line, its lower edge at a height."""
    occ, s = gmsh.model.occ, piece["shape"]
    height = _height(piece)
    if s["kind"] in ("bar", "tube"):
        across = s.get("diameter_m") or s["outer_diameter_m"]
        down = piece["hang"] == "long_down"
        along = np.array([0, 0, s["length_m"]]) if down else np.array([s["length_m"], 0, 0])
        made = occ.addCylinder(*(-along / 2), *along, across / 2)
        if s["kind"] == "tube":
            bore = occ.addCylinder(*(-along * 0.55), *(along * 1.1), s["inner_diameter_m"] / 2)
            made = occ.cut([(3, made)], [(3, bore)])[0][0][1]
    else:
        thin, broad = _sides(s)
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
        middle = np.array([piece["x_m"], piece["y_m"], bottoms[piece["id"]] + _height(piece) / 2])
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
