"""Changes that take a piece into a bath of its own, or all of them into another vessel."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from yellowbath.core.document import Piece, Plan, Tank
from yellowbath.core.document.plan import KitRef
from yellowbath.core.geometry.hanging import best_owned
from yellowbath.core.geometry.piece import largest
from yellowbath.core.plan.advice.proposal import Proposal, proposal
from yellowbath.core.plan.reading.arrange import tidied

_VESSELS = 2  # that are tried, the smallest in which it fits first


@dataclass(frozen=True)
class OwnTank:
    """A tank of the shop's own that nothing stands in."""

    id: str
    name: str
    tank: Tank


def fewer(plan: Plan) -> Iterator[Proposal]:
    """The largest of several pieces, or the first of those alike, in a bath of its own after the
    others."""
    if len(plan.pieces) < 2:
        return
    one = largest(plan.pieces)
    rest = [p for p in plan.pieces if p is not one]
    kept, alone = (_with_pieces(plan, p) for p in (rest, [_middle(one)]))
    if not kept.anodes or not alone.anodes:
        return
    words = f"{plan.called(one)} in a bath of its own, after the others"
    made = proposal(plan, "fewer", words, pieces=kept.pieces, anodes=kept.anodes)
    yield replace(made, then=alone)


def _with_pieces(plan: Plan, pieces: Sequence[Piece]) -> Plan:
    """The plan with some of its pieces, and no rod through the bore of one that is out."""
    names = {p.id for p in pieces}
    anodes = [a for a in plan.anodes if a.piece in (None, *names)]
    return plan.model_copy(update={"pieces": list(pieces), "anodes": anodes})


def _middle(piece: Piece) -> Piece:
    return piece.model_copy(update={"x_m": 0.0, "y_m": 0.0})


def vessels(plan: Plan, owned: Sequence[OwnTank]) -> Iterator[Proposal]:
    """The shop's other tanks in which every piece fits, as it then hangs."""
    mine = {k.ref for k in plan.kit if k.role == "tank"}
    others = {o.id: o for o in owned if o.id not in mine and o.tank.shape != plan.tank.shape}
    ranked = best_owned(plan.pieces, [(o.id, o.tank) for o in others.values()], plan.layout)
    for key, fits in [r for r in ranked if r[1].fits][:_VESSELS]:
        own = others[key]
        hung = {"hang": fits.hang, "turn_deg": fits.turn_deg, "tilt_deg": fits.tilt_deg,
                "bottom_m": None}  # fmt: skip
        alone = len(plan.pieces) == 1
        hanging = [_middle(p.model_copy(update=hung if alone else {"bottom_m": None}))
                   for p in plan.pieces]  # fmt: skip
        kit = [k for k in plan.kit if k.role != "tank"] + [KitRef(role="tank", ref=key)]
        words = f"In {own.name or 'another of your tanks'}, {fits.words}"
        layout = plan.layout
        if layout.arrangement == "by_hand":  # places in one tank mean nothing in another
            layout = layout.model_copy(update={"arrangement": "opposite"})
        moved = plan.model_copy(update={"tank": own.tank, "pieces": hanging, "layout": layout})
        stood = tidied(moved)
        yield proposal(
            plan, f"vessel_{key}", words, tank=own.tank, kit=kit, pieces=stood.pieces,
            layout=stood.layout, anodes=stood.anodes,
        )  # fmt: skip
