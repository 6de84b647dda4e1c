"""How the scrap of a first plan is set out: both sides of a flat piece, all round a bulky one."""

from __future__ import annotations

from itertools import product

from yellowbath.core.data import param
from yellowbath.core.document import (
    AMOUNT,
    BoreAnode,
    BoreTank,
    Layout,
    Piece,
    Plan,
    RodAnode,
    Tank,
    Tube,
)
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.geometry.anode import apart, clearance
from yellowbath.core.geometry.piece import largest, posed
from yellowbath.core.plan.reading.arrange import tidied
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.core.plan.results.answer import Answer, answer
from yellowbath.core.words import word

# all round first, as evenly as four rods do; common practice, no source
_ROUND = (Layout(arrangement="ring", count=4), Layout(arrangement="corners"))


def set_out(plan: Plan, inside: bool) -> Plan:
    """The first plan with its scrap: by the wall, or, where only the inside of a tube is wanted, a
    rod on spacers through it, its outside and ends taped over."""
    tube = largest(plan.pieces)
    if plan.tank.is_piece and isinstance(tube.shape, Tube):
        rod_m = min(_ROD, tube.shape.inner_diameter_m / 3)
        one = Layout(arrangement="one_side")
        anodes = [RodAnode(id="a1", diameter_m=rod_m)]
        return kept_cool(tidied(plan.model_copy(update={"anodes": anodes, "layout": one})))
    if not inside or not isinstance(tube.shape, Tube):
        return plan.model_copy(update={"layout": layout_for(plan)})
    rod = BoreAnode(id="a1", piece=tube.id, diameter_m=min(_ROD, tube.shape.inner_diameter_m / 3))
    taped = [f"{tube.id}.{side}" for side in ("outside", "ends")]
    pieces = [p.model_copy(update={"masked": taped}) if p is tube else p for p in plan.pieces]
    by_hand = plan.layout.model_copy(update={"arrangement": "by_hand"})
    return plan.model_copy(update={"anodes": [rod], "pieces": pieces, "layout": by_hand})


_ROD = 0.012  # m, or a third of the bore


def own_vessel(piece: Piece) -> Tank | None:
    """A tube as the vessel of its own bath; None of another piece."""
    if not isinstance(piece.shape, Tube):
        return None
    bore = BoreTank(diameter_m=piece.shape.inner_diameter_m, height_m=piece.shape.length_m)
    return Tank(name=word("choice.tank.kind.bore"), shape=bore)


def kept_cool(plan: Plan) -> Plan:
    """The first of some ways, mildest change first, in which so little liquid stays cool and the
    supply within its rating: weaker soda, a tub of water round it, a lower limit. The last of them
    where none does."""
    doses = _DOSES if AMOUNT not in plan.typed else (plan.mix.concentration_kg_m3,)
    limits = _LIMITS if plan.supply.limited else (1.0,)
    tried = plan
    for cooled in dict.fromkeys((plan.place.cooled, True)):
        for dose, share in product(doses, limits):
            supply = plan.supply
            if supply.limited:
                supply = supply.model_copy(update={"limit_a": supply.limit_a * share})
            mix = plan.mix.model_copy(update={"concentration_kg_m3": dose})
            place = plan.place.model_copy(update={"cooled": cooled})
            tried = plan.model_copy(update={"mix": mix, "place": place, "supply": supply})
            if _cool(tried):
                return tried
    return tried


_DOSES = (5.0, 2.5, 1.25, 0.6)  # g/L, the usual one first; judged
_LIMITS = (1.0, 0.5, 0.25)  # of the amps set; judged


def _cool(plan: Plan) -> bool:
    try:
        found = answer(plan)
    except NoAnswerError:  # nothing flows, and nothing warms: what is lacking is told elsewhere
        return True
    hottest = found.of("bath.hottest")
    warm = hottest is not None and hottest.value > plan.tank.limit_c
    return not warm and found.p95.value <= found.band.p95_high and _stands(plan, found)


def layout_for(plan: Plan) -> Layout:
    """The layout of a first plan of one piece: of those that suit it the first that has room beside
    the piece and draws no more than the supply gives."""
    thin, broad = sorted(posed(largest(plan.pieces))[:2])
    least = max(param("bulky_share").value * broad, param("clearance_m").value)
    if thin < least:  # two sides see all of it
        return plan.layout
    for layout in _ROUND:
        tried = tidied(plan.model_copy(update={"layout": layout}))
        try:
            found = answer(tried)
        except NoAnswerError:
            continue
        if _has_room(tried, found) and _stands(tried, found):
            return layout
    return plan.layout


def _has_room(plan: Plan, found: Answer) -> bool:
    bottoms, wanted = bottoms_of(plan, found.fill.level.value), param("clearance_m").value
    for anode in plan.anodes:
        dx, dy, reach = clearance(anode, plan, bottoms)
        if apart(dx, dy) - reach < wanted:
            return False
    return True


def _stands(plan: Plan, found: Answer) -> bool:
    return plan.supply.limited or found.draws.value <= plan.supply.rated_a
