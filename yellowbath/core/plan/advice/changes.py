"""Changes that might help a bath, each a whole plan to be solved; and which of them do.

Nothing here guesses an effect: a proposal is solved like any plan, and is judged by the same cost
as the layout search (hours to clean, what lies beyond the band and the supply).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import chain

import numpy as np

from yellowbath.core.chemistry.electrolyte import product
from yellowbath.core.data import param
from yellowbath.core.document import Anode, BoreAnode, Hang, Piece, Plan, RodAnode, Tube
from yellowbath.core.geometry.anode import clearance
from yellowbath.core.geometry.fit import scrap_fits
from yellowbath.core.geometry.piece import largest, posed
from yellowbath.core.geometry.tank import standing_size
from yellowbath.core.plan.advice.other_baths import OwnTank, fewer, vessels
from yellowbath.core.plan.advice.proposal import Proposal, proposal
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.plan.results.measures import in_hands
from yellowbath.core.units import show

BEST = 3  # changes told
WORTH = 0.05  # of the log of the cost: a change that saves less is not worth the hands; judged
_DOSES = (2.0, 15.0)  # kg/m3, between which a dose is proposed
_MOST_SCRAP = 16  # rods and plates; judged
_DRIER = 0.005  # of the surface: a change that leaves more of it dry is none
_LEFT = 2.0  # of the log of the cost, were all of it left, as good as seven times the hours; judged
_WARM_C = 40.0  # what a kettle or two makes of a bucket


@dataclass(frozen=True)
class Effect:
    """What a solved plan comes to: poorest region over the mean [-], amps, load [-], hours, cost.

    ``stops`` counts the findings that forbid switching on; hours are infinite without a current.
    ``claim``: what the field leaves open of the hours [-]; nothing is advised on less. ``dry``:
    share of the surface that stands out of the liquid [-]; ``left``: that does not come clean in
    this bath, a bore as well as a side, which ``whole`` weighs with the hours.
    """

    region: str
    worst: float
    gives_a: float
    load: float
    hours: float
    cost: float
    stops: int
    claim: float = 0.0
    dry: float = 0.0
    left: float = 0.0

    @property
    def whole(self) -> float:
        """The cost for the whole piece: what this bath leaves to hands or to another is hours."""
        return self.cost + _LEFT * self.left


def poorest(regions: Mapping[str, float]) -> tuple[str, float]:
    """The region with the least of the mean, and its ratio to it; bores are left out of it."""
    open_ones = {k: v for k, v in regions.items() if not k.endswith(".bore")} or dict(regions)
    key = min(open_ones, key=lambda k: open_ones[k])
    return key, open_ones[key]


def one_after_another(one: Effect, other: Effect) -> Effect:
    """Two baths in turn: their hours and costs together, the worse of all else."""
    poor = min((one, other), key=lambda e: e.worst)
    return Effect(
        region=poor.region, worst=poor.worst, gives_a=max(one.gives_a, other.gives_a),
        load=max(one.load, other.load), hours=one.hours + other.hours,
        cost=float(np.logaddexp(one.cost, other.cost)), stops=one.stops + other.stops,
        claim=max(one.claim, other.claim), dry=max(one.dry, other.dry),
        left=max(one.left, other.left),
    )  # fmt: skip


def helps(before: Effect, after: Effect) -> bool:
    """Whether a change is worth the hands: it lifts a stop, or costs less and brings no stop."""
    if after.stops != before.stops:
        return after.stops < before.stops
    if after.dry > before.dry + _DRIER:
        return False
    return after.whole < before.whole - max(WORTH, before.claim + after.claim)


def why_not(before: Effect, after: Effect) -> str:
    """Why a change is not worth it, in the words of its own figures."""
    if after.stops > before.stops:
        return "it brings a stop"
    if after.dry > before.dry + _DRIER:
        return "more of it would stand out of the liquid"
    if after.left > before.left + _DRIER and after.whole >= before.whole:
        return "more of it would not come clean in this bath"
    if after.load > 1.0 and after.load > before.load:
        return f"the supply would be at {100 * after.load:.0f} %"
    if after.hours >= before.hours * 0.999:
        return "it would not be clean any sooner"
    saved = 100 * (1 - after.hours / before.hours)
    if after.cost >= before.cost:
        return f"{saved:.0f} % sooner, but some of it beyond the band or the supply"
    return f"only {saved:.0f} % sooner"


def proposals(
    plan: Plan, answer: Answer, worst: str, owned: Sequence[OwnTank] = ()
) -> Iterator[Proposal]:
    """Changes to try on a plan as read whose poorest region is ``worst``, by id; ``owned`` are the
    shop's tanks that are free."""
    known: list[Plan] = [plan]
    posed = chain(
        _scrap(plan, answer, worst), _bore(plan), _piece(plan, answer), _level(plan, answer),
        _depth(plan, answer),
    )  # fmt: skip
    # a tube that is its own vessel stands as it does, its rod in the middle
    first: Iterator[Proposal] = iter(()) if plan.tank.is_piece else posed
    for found in chain(
        first, _mix(plan, answer), _warmer(plan), _power(plan), fewer(plan), vessels(plan, owned)
    ):
        if found.plan not in known:
            known.append(found.plan)
            yield found


# --- Scrap ------------------------------------------------------------------------------------


def _scrap(plan: Plan, answer: Answer, worst: str) -> Iterator[Proposal]:
    movable = [a for a in plan.anodes if a.stands]
    if not movable or len(plan.anodes) >= _MOST_SCRAP:
        return
    name = "rod" if isinstance(movable[0], RodAnode) else "flat"
    facing_it = _facing(plan, answer, worst, movable[0])
    if facing_it:
        yield _hand(plan, "one_more", f"One more {name} where the poorest side looks", [facing_it])
    mirrored = [m for a in movable if (m := _placed(plan, answer, a, -a.x_m, -a.y_m))]
    if mirrored and len(plan.anodes) + len(mirrored) <= _MOST_SCRAP:
        many = "One more" if len(mirrored) == 1 else f"{_count(len(mirrored))} more"
        s = "" if len(mirrored) == 1 else "s"
        yield _hand(plan, "other_side", f"{many} {name}{s} across the middle", mirrored)
    if plan.layout.arrangement in ("one_side", "opposite"):
        length, width = standing_size(plan.tank)
        f = math.sqrt(0.5) if plan.tank.shape.is_round else 1.0
        gap = plan.layout.wall_gap_m
        x, y = f * (length / 2 - gap), f * (width / 2 - gap)
        spots = [(sx * x, sy * y) for sx in (-1, 1) for sy in (-1, 1)]
        corners = [p for at in spots if (p := _placed(plan, answer, movable[0], *at))]
        if len(corners) == 4:
            yield _set_out(plan, "corners", f"Four {name}s, one in each corner", corners)


def _count(n: int) -> str:
    return ("No", "One", "Two", "Three", "Four", "Five", "Six")[n] if n < 7 else str(n)


def _hand(plan: Plan, key: str, words: str, more: Sequence[Anode]) -> Proposal:
    return _set_out(plan, key, words, [*plan.anodes, *more])


def _set_out(plan: Plan, key: str, words: str, anodes: Sequence[Anode]) -> Proposal:
    named = [a.model_copy(update={"id": f"a{k}"}) for k, a in enumerate(anodes, start=1)]
    layout = plan.layout.model_copy(update={"arrangement": "by_hand"})
    return proposal(plan, key, words, anodes=named, layout=layout)


def _facing(plan: Plan, answer: Answer, worst: str, like: Anode) -> Anode | None:
    """An anode by the wall that the middle of the poorest region looks at; None without room."""
    piece = plan.piece(worst.rpartition(".")[0]) or largest(plan.pieces)
    turn = math.radians(piece.turn_deg)
    looks = {"front": (0, -1), "back": (0, 1), "left": (-1, 0), "right": (1, 0)}
    way = looks.get(worst.rpartition(".")[2])
    if way is None or piece.hang == "flat":
        return None
    x, y = (
        math.cos(turn) * way[0] - math.sin(turn) * way[1],
        math.sin(turn) * way[0] + math.cos(turn) * way[1],
    )
    length, width = standing_size(plan.tank)
    gap = plan.layout.wall_gap_m
    if plan.tank.shape.is_round:
        reach = length / 2 - gap
    else:
        reach = min((length / 2 - gap) / max(abs(x), 1e-9), (width / 2 - gap) / max(abs(y), 1e-9))
    return _placed(plan, answer, like, reach * x, reach * y)


def _placed(plan: Plan, answer: Answer, like: Anode, x: float, y: float) -> Anode | None:
    """A copy of an anode elsewhere, where it fits, clear of the piece and of other scrap."""
    anode = like.model_copy(update={"id": "new", "x_m": x, "y_m": y})
    dx, dy, reach = clearance(anode, plan, answer.fill.bottoms)
    gap = math.hypot(max(dx, 0.0), max(dy, 0.0)) - reach
    near = min(math.dist((a.x_m, a.y_m), (x, y)) for a in plan.anodes)
    room = 0.03 + anode.across_m
    fits = scrap_fits(anode, plan.tank, answer.fill.level.value)
    return anode if gap > 0.01 and near > room and fits else None


# --- Piece, level -----------------------------------------------------------------------------


def _piece(plan: Plan, answer: Answer) -> Iterator[Proposal]:
    """Another pose for every piece at once: hands are in the bath all the same."""
    pieces, alone = plan.pieces, len(plan.pieces) == 1
    each = "The piece" if alone else "Every piece"

    def posed_so(key: str, words: str, pose: Callable[[Piece], Mapping[str, object]]) -> Proposal:
        posed = [p.model_copy(update=dict(pose(p))) for p in pieces]
        return proposal(plan, key, words, pieces=posed)

    if all(abs(p.turn_deg) < 60 for p in pieces):
        yield posed_so("turn", f"{each} turned a quarter, seen from above",
                       lambda p: {"turn_deg": p.turn_deg + 90})  # fmt: skip
    ways: Sequence[tuple[Hang, str]] = (
        ("long_across", "Hung long side across"), ("long_down", "Hung long side down"),
    )  # fmt: skip
    for hang, words in ways:
        if any(p.hang != hang for p in pieces):
            yield posed_so(hang, words, partial(_hung, hang))
    if alone and any(math.hypot(p.x_m, p.y_m) > 0.005 for p in pieces):
        yield posed_so("middle", "The piece hung in the middle", lambda _: {"x_m": 0.0, "y_m": 0.0})
    out = [p for p in pieces if p.id in answer.fill.out and p.bottom_m is not None]
    if out:
        yield posed_so("lower", f"{each} hung lower, as far as the sludge allows",
                       lambda p: {"bottom_m": None} if p in out else {})  # fmt: skip


def _hung(hang: Hang, piece: Piece) -> Mapping[str, object]:
    return {"hang": hang, "bottom_m": None} if piece.hang != hang else {}


def _level(plan: Plan, answer: Answer) -> Iterator[Proposal]:
    tank, fill = plan.tank, answer.fill
    wanted = max(fill.bottoms[p.id] + posed(p)[2] for p in plan.pieces) + 0.02
    if fill.out and fill.level.value < wanted <= tank.shape.height_m - 0.03:
        filled = tank.model_copy(update={"level_m": wanted, "water_m3": None})
        yield proposal(plan, "fill", "More water, until the piece is covered", tank=filled)
    room = tank.shape.height_m - param("rim_least_m").value
    hole = tank.hole_height_m
    if hole is None and not fill.out and room > fill.level.value + 0.02:
        fuller = tank.model_copy(update={"level_m": room, "water_m3": None})
        yield proposal(plan, "more_water", f"More water, up to {_long(plan, room)}", tank=fuller)


def _depth(plan: Plan, answer: Answer) -> Iterator[Proposal]:
    """One piece hung half-way between floor and surface."""
    if len(plan.pieces) > 1 or answer.fill.out:
        return
    [piece] = plan.pieces
    low = (answer.fill.level.value - posed(piece)[2]) / 2
    if low < param("sludge_m").value or abs(low - answer.fill.bottoms[piece.id]) < 0.015:
        return
    hung = piece.model_copy(update={"bottom_m": low})
    words = f"The piece hung {_long(plan, low)} above the floor"
    yield proposal(plan, "depth", words, pieces=[hung])


def _bore(plan: Plan) -> Iterator[Proposal]:
    """A rod on spacers through the bore of the only tube."""
    tubes = [p for p in plan.pieces if isinstance(p.shape, Tube)]
    if len(tubes) != 1 or any(isinstance(a, BoreAnode) for a in plan.anodes):
        return
    [tube] = tubes
    assert isinstance(tube.shape, Tube)
    thick = min(0.012, tube.shape.inner_diameter_m / 3)
    if thick < _THINNEST_ROD:
        return
    rod = BoreAnode(id="new", piece=tube.id, diameter_m=thick)
    yield _hand(plan, "bore", "A rod on spacers through the bore, joined to the plus side", [rod])


_THINNEST_ROD = 0.004  # m; judged


def _long(plan: Plan, metres: float) -> str:
    return str(show(metres, "length", plan.system, 2))


# --- Mix, power -------------------------------------------------------------------------------


def _mix(plan: Plan, answer: Answer) -> Iterator[Proposal]:
    mix = plan.mix
    if mix.product in ("unknown", "table_salt") or mix.source == "reuse":
        return
    what = "salt" if product(mix.product).is_chloride else "soda"
    for key, words, factor in (("more_soda", f"Twice the {what}", 2.0),
                               ("less_soda", f"Half the {what}", 0.5)):  # fmt: skip
        dose = min(max(mix.concentration_kg_m3 * factor, _DOSES[0]), _DOSES[1])
        if abs(math.log(dose / mix.concentration_kg_m3)) > 0.2:
            said = f"{words}: {in_hands(plan, answer, dose)}"
            changed = mix.model_copy(update={"concentration_kg_m3": dose})
            yield proposal(plan, key, said, mix=changed)


def _warmer(plan: Plan) -> Iterator[Proposal]:
    """Warm water to begin with, where the tank bears it."""
    if plan.mix.temperature_c < _WARM_C - 10 and plan.tank.limit_c >= _WARM_C + 5:
        mix = plan.mix.model_copy(update={"temperature_c": _WARM_C})
        warm = show(_WARM_C, "temperature", plan.system)
        yield proposal(plan, "warm", f"Begin with warm water, {warm}", mix=mix)


def _power(plan: Plan) -> Iterator[Proposal]:
    supply = plan.supply
    for other in supply.other_settings_v:
        changed = supply.model_copy(update={"nominal_v": other})
        words = f"The {other:g} V setting, where the charger has one"
        yield proposal(plan, f"volts_{other:g}", words, supply=changed)
    if supply.limited and supply.limit_a < supply.rated_a:
        limit = min(supply.limit_a * 1.5, supply.rated_a)
        changed = supply.model_copy(update={"limit_a": limit})
        yield proposal(plan, "limit", f"The limit at {limit:.2g} A", supply=changed)
