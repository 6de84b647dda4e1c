"""Random plans of every kind that the claims of the field are set and judged on. Lengths [m]."""

from __future__ import annotations

from typing import Any

import numpy as np

from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.workflows.plans.plans import answer_document

Document = dict[str, Any]
KINDS = ("plain", "gap", "bore", "thin", "taper", "floor", "two")


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
        tops = [bottoms[p["id"]] + height_of(p) for p in made["pieces"]]
        if all(t < level - 0.002 for t in tops) and min(bottoms.values()) > 0.002:
            return made


def height_of(piece: Document) -> float:
    """How high a piece is as it hangs [m]."""
    s = piece["shape"]
    if s["kind"] in ("bar", "tube"):
        across = s.get("diameter_m") or s["outer_diameter_m"]
        return float(s["length_m"] if piece["hang"] == "long_down" else across)
    thin, broad = sides_of(s)
    return thin if piece["hang"] == "flat" else broad


def sides_of(shape: Document) -> tuple[float, float]:
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
            thin, broad = sides_of(s)
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
