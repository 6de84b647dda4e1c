"""What is a fact of the place and the metals, and what is a choice of the design.

A run keeps the design of the revision that it was begun on. What became known since, of where it
stands and of what is in the bath, is so whichever revision it was begun on: it is carried over and
judged with it. Differences of design are told, and block nothing.
"""

from __future__ import annotations

from collections.abc import Sequence

from yellowbath.core.document import Plan
from yellowbath.core.plan.comparison.compare import Difference, differences

_PIECE = (
    "other_metals", "hollow", "ordnance", "solid", "meant", "paint", "lead_paint",
    "hardness_hrc", "treatment",
    "tempered_c", "metal", "fragility", "duty", "parts", "coats", "grease",
)  # fmt: skip
_ANODE = ("material",)
_SUPPLY = ("rcd", "polarity_tested", "fuse_a", "line_switch", "start_range")
_PLACE = (
    "where", "room_m3", "lid", "flames", "visitors", "opening_m2", "filter_loop", "air_c",
)  # fmt: skip
_TANK = ("material", "limit_c", "hole_height_m")
_MIX = ("kept_salt_kg",)


def with_facts(plan: Plan, known: Plan) -> Plan:
    """A run's plan with what a later revision knows of place, metals, joint and tank.

    Pieces and anodes are met by their id; what is no longer in the later one stays as it was. A
    question that the later one leaves open does not unsay an answer. All else may be an idea, which
    ``core/run/in_bath`` asks about.
    """
    pieces = [
        p.model_copy(update=_known(_PIECE, p, q)) if (q := known.piece(p.id)) else p
        for p in plan.pieces
    ]
    later = {a.id: a for a in known.anodes}
    anodes = [
        a.model_copy(update=_known(_ANODE, a, b)) if (b := later.get(a.id)) else a
        for a in plan.anodes
    ]
    update = {
        "pieces": pieces,
        "anodes": anodes,
        "layout": plan.layout.model_copy(
            update=_known(("joint_clear",), plan.layout, known.layout)
        ),
        "supply": plan.supply.model_copy(update=_known(_SUPPLY, plan.supply, known.supply)),
        "place": plan.place.model_copy(update=_known(_PLACE, plan.place, known.place)),
        "tank": plan.tank.model_copy(update=_known(_TANK, plan.tank, known.tank)),
        "mix": plan.mix.model_copy(update=_known(_MIX, plan.mix, known.mix)),
    }
    return plan.model_copy(update=update)


def _known(names: Sequence[str], mine: object, theirs: object) -> dict[str, object]:
    return {
        n: getattr(theirs, n) for n in names
        if getattr(theirs, n) is not None or not isinstance(getattr(mine, n), bool)
    }  # fmt: skip


def design_differences(plan: Plan, later: Plan) -> list[Difference]:
    """What a later revision does otherwise by choice: told at the run, and nothing more."""
    return differences(with_facts(plan, later), later)
