"""How the liquid stands once piece and scrap are in: levels, volumes, gaps, lower edges."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from yellowbath.core.data import param
from yellowbath.core.document import Piece, Plan
from yellowbath.core.figures import Figure, figure, typed, uses
from yellowbath.core.geometry import anode as anodes
from yellowbath.core.geometry import piece as pieces
from yellowbath.core.geometry.hanging import full_level, holes_allow, rim_room, usual_level
from yellowbath.core.geometry.tank import level_of, volume_at, volume_formula


@dataclass(frozen=True)
class Fill:
    """How the liquid stands: levels from the floor [m], volumes [m3].

    ``bottoms`` and ``shares`` are each piece's lower edge [m] and its share of height in the liquid
    by id; ``wetted_share`` is that of the piece that stands out most; ``out`` are those that stand
    out, one end of which is left for another dip.
    """

    level: Figure
    water: Figure
    freeboard: Figure
    overflows: bool
    wetted_share: float
    rod_length_m: float
    gap: Figure
    bottoms: Mapping[str, float]
    shares: Mapping[str, float]
    out: frozenset[str]

    @property
    def lowest_m(self) -> float:
        """Lower edge of the piece that hangs lowest [m]."""
        return min(self.bottoms.values())


def fill(plan: Plan) -> Fill:
    """Levels and volumes once piece and rods are in. The level stops below rim and holes: a hand's
    breadth under the rim, less where a piece would else miss by a little."""
    height = plan.tank.shape.height_m
    level, water, overflows = _levels(plan)
    level_value = level.value
    bottoms = bottoms_of(plan, level_value)
    shares = {p.id: wetted_share(plan, p, level_value) for p in plan.pieces}
    rod = max(anodes.wet(a, plan, level_value).length for a in plan.anodes)
    return Fill(
        level=level,
        water=water,
        freeboard=figure(
            "tank.freeboard", "Free up to the rim", height - level_value, "length", "H - z",
            [typed("H", "Inside height", height, "length"), uses("z", level)], "frustum",
        ),
        overflows=overflows,
        wetted_share=min(shares.values()),
        rod_length_m=rod,
        gap=gap_figure(plan, bottoms),
        bottoms=bottoms,
        shares=shares,
        out=frozenset(i for i, share in shares.items() if share < _covered(plan)),
    )  # fmt: skip


def _covered(plan: Plan) -> float:
    """Share of its height from which a piece counts as all in the liquid [-]; a tube that is its
    own vessel as full as its rim allows."""
    if plan.tank.is_piece:
        return usual_level(plan.tank) / plan.tank.shape.height_m - 1e-9
    return param("covered_share").value


def _deep(plan: Plan, most: float) -> float:
    """Depth of liquid that covers every piece as it hangs [m], sludge under it and liquid over, at
    most so much."""
    # who hung a piece at a height of their own meant the liquid where it was
    tops = [pieces.posed(p)[2] for p in plan.pieces if p.bottom_m is None]
    if not tops:
        return 0.0
    return min(param("sludge_m").value + max(tops) + param("cover_m").value, most)


def bottoms_of(plan: Plan, level: float) -> dict[str, float]:
    """Lower edge of each piece [m] by its id, the liquid standing at a level [m]."""
    return {p.id: _piece_bottom(plan, p, level) for p in plan.pieces}


def _piece_bottom(plan: Plan, piece: Piece, level: float) -> float:
    """Lower edge of the hung piece [m]: where it was put, else covered if it can be, off the sludge
    if it cannot; on the floor where it is the vessel."""
    if plan.tank.is_piece:
        return 0.0
    if piece.bottom_m is not None:
        return piece.bottom_m
    covered = level - param("cover_m").value - pieces.posed(piece)[2]
    return max(covered, param("sludge_m").value)


def wetted_share(plan: Plan, piece: Piece, level: float) -> float:
    """Share of the piece's height in the liquid [-]."""
    return min(max(level - _piece_bottom(plan, piece, level), 0.0) / pieces.posed(piece)[2], 1.0)


def _levels(plan: Plan) -> tuple[Figure, Figure, bool]:
    """Final level, water to measure in, and whether it runs over."""
    tank = plan.tank
    height, hand = tank.shape.height_m, param("freeboard_m")
    if tank.water_m3 is None:
        cap = holes_allow(tank)
        if tank.level_m is not None:
            level = _chosen_level(tank.level_m, cap)
            return level, _water_to_measure(plan, level.value), False
        share, rim = param("filled_share"), rim_room(tank)
        deep = _deep(plan, full_level(tank))
        level_value = min(max(usual_level(tank), deep), cap)
        level = figure(
            "tank.level", "Liquid stands, piece in", level_value, "length",
            "min(max(H - f, min(s*H, H - r), H/2, d), c)",
            [
                typed("H", "Inside height", height, "length"),
                uses("f", hand), uses("s", share), uses("r", rim),
                typed("d", "Depth that covers every piece, as far as the rim allows",
                      deep, "length"),
                typed("c", "Rim, or 10 mm under the lowest hole", cap, "length"),
            ],
            "practice",
        )  # fmt: skip
        return level, _water_to_measure(plan, level_value), False
    total = tank.water_m3 + _displaced(plan, height)
    level_value = level_of(tank, total)
    for _ in range(4):  # what stands out of the liquid pushes nothing up
        level_value = level_of(tank, tank.water_m3 + _displaced(plan, level_value))
    water = figure(
        "tank.water", tank.field_word("water_m3"), tank.water_m3, "volume", "W",
        [typed("W", tank.field_word("water_m3"), tank.water_m3, "volume")], "practice",
    )  # fmt: skip
    level = figure(
        "tank.level", "Liquid stands, piece in", level_value, "length", "z",
        [typed("z", "Level at which the tank holds water, piece and rods", level_value, "length")],
        "pchip" if len(tank.marks) >= 2 else "frustum",
    )  # fmt: skip
    return level, water, total > volume_at(tank, height) * (1 + 1e-9)


def _chosen_level(wanted: float, cap: float) -> Figure:
    return figure(
        "tank.level", "Liquid stands, piece in", min(wanted, cap), "length", "min(z, c)",
        [
            typed("z", "Liquid to stand, as chosen", wanted, "length"),
            typed("c", "Rim, or 10 mm under the lowest hole", cap, "length"),
        ],
        "practice",
    )  # fmt: skip


def _water_to_measure(plan: Plan, level: float) -> Figure:
    rule, inputs, source = volume_formula(plan.tank, level)
    solid = typed("P", "Piece and rods under the level", _displaced(plan, level), "volume")
    value = max(volume_at(plan.tank, level) - solid.value, 1e-4)
    return figure(
        "tank.water", "Water to measure in", value, "volume", f"max({rule} - P, 0.0001)",
        [*inputs, solid], source,
    )  # fmt: skip


def _displaced(plan: Plan, level: float) -> float:
    scrap = sum(anodes.wet(a, plan, level).volume for a in plan.anodes)
    if plan.tank.is_piece:
        return scrap
    return sum(pieces.volume(p) * wetted_share(plan, p, level) for p in plan.pieces) + scrap


def gap_figure(plan: Plan, bottoms: Mapping[str, float]) -> Figure:
    """Least gap between a piece of scrap and the piece [m]; negative where they meet."""
    gap, dx, dy, r = min(
        (anodes.apart(x, y) - r, x, y, r)
        for x, y, r in (anodes.clearance(a, plan, bottoms) for a in plan.anodes)
    )
    over = dx <= 0 and dy <= 0
    return figure(
        "scrap.gap", "Least gap between scrap and piece", gap, "length",
        "max(x, y) - r" if over else "sqrt(max(x, 0)**2 + max(y, 0)**2) - r",
        [
            typed("x", "Nearest scrap beyond the piece's end", dx, "length"),
            typed("y", "Nearest scrap beyond the piece's side", dy, "length"),
            typed("r", "Rod radius", r, "length"),
        ],
        "geometry",
    )  # fmt: skip
