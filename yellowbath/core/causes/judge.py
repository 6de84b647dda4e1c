"""From what was read, seen and answered to the causes with their chances, and the one next step."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

import numpy as np

from yellowbath.core.bath.circuit import shown
from yellowbath.core.bath.draws import COUNT, law
from yellowbath.core.bath.loop import Array, Loop
from yellowbath.core.bath.observation import Observation
from yellowbath.core.causes import troubleshoot as shoot
from yellowbath.core.causes.asks import CANNOT, SHOWS, Ask, Bounds, amps_read, asks, fitting, met
from yellowbath.core.causes.at_work import Predicted, predicted
from yellowbath.core.causes.rows import (
    cannot,
    causes,
    is_danger,
    marked,
    mend_minutes,
    row,
    sighted,
    tests_of,
)
from yellowbath.core.data import param
from yellowbath.core.particles import shares

Mode = Literal["mend", "know"]
UNKNOWN = "unknown"
_STEADY_V = 0.25  # V: what two meters differ by
_STEADY_A = 0.03  # A: under which amps are not told apart
_OUTLIER = 0.03  # of readings that are a slip; judged


@dataclass(frozen=True)
class Known:
    """What stands round the evidence: charge since the scrap was bare [Ah], warmth that was read
    [C], what was done last, and how often each cause was it in this shop."""

    charge_ah: float = 0.0
    bath_c: float | None = None
    last_change: str = ""
    mended: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True)
class Suspect:
    """A cause with its chance, and which of the evidence speaks for it and against it."""

    id: str
    chance: float
    pro: tuple[int, ...]
    con: tuple[int, ...]


@dataclass(frozen=True)
class CauseOutlook:
    """An outcome of the next ask: how likely it is, and what would then be most likely."""

    outcome: str
    chance: float
    points_to: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class Judged:
    """The causes, the likeliest first; ``unknown``: the chance that it is none of them. ``ask`` is
    the next thing to ask, or None where ``mend``, a cause, is to be mended first. ``danger``: the
    step is for a danger's sake. Neither where nothing is left that is worth its minutes."""

    suspects: Sequence[Suspect]
    unknown: float
    dangers: Sequence[str]
    ask: Ask | None
    outlook: Sequence[CauseOutlook]
    mend: str
    danger: bool
    minutes: float


def nothing_fits(judged: Judged) -> bool:
    """Whether it is likelier none of the causes than any of them, or none is left to try."""
    over = judged.ask is None and not judged.mend
    return over or judged.unknown > max(s.chance for s in judged.suspects)


_WEIGHT = 20.0  # mended baths of a shop that weigh as much as what is judged


def priors(loop: Loop, known: Known) -> Mapping[str, float]:
    """How likely each cause is before anything is read, all of them one minus the unknown."""
    gone, made = cannot(loop), dict[str, float]()
    for cause in causes():
        if cause in gone:
            continue
        r = row(cause)
        base = float(r.get(f"prior_{loop.supply.kind}", r["prior"]))  # type: ignore[arg-type]
        after: Mapping[str, float] = r.get("after", {})  # type: ignore[assignment]
        made[cause] = base * after.get(known.last_change, 1.0)
    grown = 1 - math.exp(-known.charge_ah / (0.15 * crust_due_ah(loop)))
    for cause in marked("grows"):
        if cause in made:
            made[cause] *= 0.1 + 0.9 * grown
    total = sum(made.values())
    seen = sum(known.mended.get(c, 0) for c in made)
    share = seen / (seen + _WEIGHT)
    whole = 1 - law("nothing_known")
    return {
        c: whole * ((1 - share) * p / total + share * (known.mended.get(c, 0) / max(seen, 1)))
        for c, p in made.items()
    }


def crust_due_ah(loop: Loop) -> float:
    """Charge after which all scrap wants scraping [Ah]."""
    return float(param("cake_ah_m2").value * loop.scrap_m2.sum())


class WeighedCause(NamedTuple):
    """Chances (c) and the chance of none of them; weights of the draws (c, n) within each cause;
    as which of them (c, n) a bath acts that has none; ``plain``: the chances untempered, of
    none of them last (c + 1)."""

    chances: Array
    weights: Array
    unknown: float
    acts: Array
    plain: Array


class Bench:
    """A bath on the bench of the diagnosis: its draws under each cause, made once.

    ``chance`` of every cause follows from any evidence; the next step from the chances.
    """

    def __init__(self, loop: Loop, known: Known) -> None:
        self.loop, self.known = loop, known
        self.prior = priors(loop, known)
        self.names = list(self.prior)
        self.met = predicted(loop, self.names, known.charge_ah, known.bath_c)
        self.bounds = Bounds.of(loop)
        again = asks()["amps"].minutes  # after each mend amps are read, to see whether it was that
        self.minutes = np.array([mend_minutes(c) + again for c in self.names])
        self._tables: dict[str, Array] = {}

    # --- What is likely ------------------------------------------------------------------------

    def table(self, ask: Ask) -> Array:
        """Chance (c, n, k) of each outcome at each draw of each cause."""
        if ask.id not in self._tables:
            made = met(ask, self.met, self.loop, self.known.charge_ah)
            self._tables[ask.id] = made.reshape(len(self.names), COUNT, -1)
        return self._tables[ask.id]

    def likelihood(self, e: Observation) -> Array:
        """Of one thing known, at each draw of each cause (c, n)."""
        if not e.read:
            ask = asks()[e.ask]
            made = self.table(ask)[:, :, ask.outcomes.index(e.outcome)]
        else:
            made = self._measured(e, self.met).reshape(len(self.names), COUNT)
        if e.before:
            well = made[self.names.index("sound")]
            start = np.array([[float(row(c)["start"])] for c in self.names])  # type: ignore[arg-type]
            made = start * made + (1 - start) * well
        return made

    def rest(self, ask: Ask, acts: Array) -> Array:
        """Chance (k) of each outcome where it is none of the causes: the bath does as with one of
        them (``acts`` (c, n): as which), but where that is looked for nothing is found."""
        if ask.id in SHOWS:
            made: Array = np.einsum("cn,cnk->k", acts, self.table(ask))
        else:
            made = self.table(ask)[self.names.index("sound")].mean(axis=0)
        return made

    def _flat(self, e: Observation) -> float:
        if e.ask == "amps":
            return 1 / math.log(60 / _STEADY_A)
        return 1 / (1.3 * self.loop.volts)

    def _measured(self, e: Observation, p: Predicted) -> Array:
        if e.ask == "amps":
            at, there = math.log(e.value + _STEADY_A), np.log(amps_read(p) + _STEADY_A)
            spread = math.hypot(e.error, law("amps"))
        else:
            there = shown(p.flow)[e.ask]
            at, spread = e.value, _STEADY_V + math.hypot(e.error, 0.04) * e.value
        near = np.exp(-0.5 * ((at - there) / spread) ** 2) / (spread * math.sqrt(2 * math.pi))
        made: Array = (1 - _OUTLIER) * near + _OUTLIER * self._flat(e)
        return made

    def weigh(self, evidence: Sequence[Observation]) -> WeighedCause:
        """Chances by Bayes' rule, tempered."""
        prior = np.array(list(self.prior.values()))
        logs = np.zeros((len(self.names), COUNT))
        does = logs.copy()
        none = math.log(law("nothing_known"))
        for e in evidence:
            made = np.log(np.maximum(self.likelihood(e), 1e-12))
            logs += made
            if e.ask in SHOWS:
                does += made
            else:
                none += float(np.log(np.exp(made[self.names.index("sound")]).mean()))
        weights, told = _normed(logs)
        acts, act = _normed(does)
        score = np.log(prior) + told
        acting = np.log(prior / prior.sum()) + act
        most = acting.max()
        each = np.exp(acting - most)
        none += most + math.log(each.sum())
        every = np.append(score, none)
        plain, chances = (shares(power * every) for power in (1.0, law("temper")))
        acts *= (each / each.sum())[:, None]
        return WeighedCause(chances[:-1], weights, float(chances[-1]), acts, plain)

    # --- Dangers -------------------------------------------------------------------------------

    def dangers(self, plain: Array, answered: frozenset[str]) -> list[str]:
        """What hurts and may well be, by the ``plain`` chances after all that was seen, and nobody
        has tested since it was touched: tempering, which makes what is unlikely unlikelier, rules
        none out."""
        return [
            c for k, c in enumerate(self.names)
            if is_danger(c) and plain[k] > law("danger_first") and not answered & tests_of(c)
        ]  # fmt: skip

    # --- The next step -------------------------------------------------------------------------

    def outcomes(self, ask: Ask, weights: Array) -> Array:
        """Chance (c, k) of each outcome under each cause, by all that is known."""
        made: Array = np.einsum("cn,cnk->ck", weights, self.table(ask))
        return made

    def judge(
        self,
        evidence: Sequence[Observation],
        mode: Mode = "mend",
        tried: Sequence[str] = (),
        first: str = "",
    ) -> Judged:
        """What is likely and what comes next; ``tried``: what was mended and was not it; ``first``:
        what to ask before all but a danger."""
        told, closed = once(evidence)
        raw, weights, unknown, acts, plain = self.weigh(told)
        for cause in set(tried):
            if cause in self.names:
                raw[self.names.index(cause)] *= _STILL
                plain[self.names.index(cause)] *= _STILL
        chances, unknown = _whole(raw, unknown)
        answered = frozenset(e.ask for e in told if not e.before)
        seen = [c for e in told if (c := sighted().get((e.ask, e.outcome))) and c not in tried]
        for cause in seen:
            chances = self._sighted(chances, cause)
        dangers = self.dangers(plain / plain.sum(), answered)
        open_asks = [a for a in fitting(self.loop) if a.id not in answered | closed]
        tables = {a.id: self.outcomes(a, weights) for a in open_asks}
        rests = {a.id: self.rest(a, acts) for a in open_asks}
        ask, mend, minutes, danger = self._next(
            chances, unknown, dangers, open_asks, tables, rests, mode, tried
        )
        if seen:
            ask, mend, danger = None, seen[-1], True
        elif first in tables and not danger:
            ask, mend = asks()[first], ""
        return Judged(
            suspects=self._suspects(chances, told),
            unknown=unknown,
            dangers=dangers,
            ask=ask,
            outlook=self._outlook(chances, unknown, ask, tables[ask.id], rests[ask.id])
            if ask
            else (),
            mend=mend,
            danger=danger,
            minutes=minutes,
        )

    def _next(
        self, chances: Array, unknown: float, dangers: Sequence[str], open_asks: Sequence[Ask],
        tables: Mapping[str, Array], rests: Mapping[str, Array], mode: Mode,
        tried: Sequence[str],
    ) -> tuple[Ask | None, str, float, bool]:  # fmt: skip
        call = law("call_min")
        # what was mended is not mended again before everything else was
        open_chances = np.where([n in tried for n in self.names], 0.0, chances)
        now = shoot.expected_minutes(open_chances, self.minutes, call)
        if dangers:
            some = np.array([c in dangers for c in self.names])
            two = np.array([chances[some].sum(), 1 - chances[some].sum()])
            direct = [a for a in open_asks if any(a.id in tests_of(c) for c in dangers)]
            gains = []
            for a in direct:
                t = tables[a.id]
                bad = chances[some] @ t[some] / max(two[0], 1e-12)
                good = chances[~some] @ t[~some] / max(float(chances[~some].sum()), 1e-12)
                gains.append(shoot.told(two, np.vstack([bad, good])) / a.minutes**0.5)
            if gains:
                return direct[int(np.argmax(gains))], "", now, True
        first = self._worth(open_chances, call) or self._once_more(chances, unknown, tried)
        if not open_asks:
            return None, first, now, False
        if mode == "know":
            whole = np.append(chances, unknown)
            gains = [shoot.told(whole, np.vstack([tables[a.id], rests[a.id]])) for a in open_asks]
            k = int(np.argmax(gains))
            return open_asks[k], "", now, False
        costs = [
            shoot.minutes_if_asked(
                open_chances, self.minutes, call, tables[a.id], a.minutes, rests[a.id]
            )
            for a in open_asks
        ]
        k = shoot.best(costs)
        if costs[k] < now:
            return open_asks[k], "", costs[k], False
        return None, first, now, False

    def _worth(self, chances: Array, call: float) -> str:
        """The mend that comes first, if it is worth its minutes."""
        k = shoot.order(chances, self.minutes)[0]
        return self.names[k] if chances[k] * call > self.minutes[k] else ""

    def _once_more(self, chances: Array, unknown: float, tried: Sequence[str]) -> str:
        """Where nothing else is left: what was done once already and is likeliest still."""
        k = int(np.argmax(chances))
        again = tried.count(self.names[k]) == 1 and chances[k] > unknown
        return self.names[k] if again else ""

    def _sighted(self, chances: Array, cause: str) -> Array:
        """A danger that was seen with one's own eyes is there, whatever else may be."""
        k = self.names.index(cause)
        made = chances * (1 - _SURE) / max(float(chances.sum()), 1e-12)
        made[k] += _SURE
        return made

    def _outlook(
        self, chances: Array, unknown: float, ask: Ask, table: Array, rest: Array
    ) -> Sequence[CauseOutlook]:
        whole, made = np.append(chances, unknown), []
        rows = np.vstack([table, rest])
        for k, outcome in enumerate(ask.outcomes):
            then = shoot.after(whole, rows[:, k])[:-1]
            if (ask.id, outcome) in sighted():
                then = self._sighted(then, sighted()[(ask.id, outcome)])
            top = np.argsort(-then)[:2]
            points = tuple((self.names[i], float(then[i])) for i in top if then[i] > 0.1)
            made.append(CauseOutlook(outcome, float(whole @ rows[:, k]), points))
        return made

    def _suspects(self, chances: Array, evidence: Sequence[Observation]) -> Sequence[Suspect]:
        prior = np.array(list(self.prior.values()))
        means = [self.likelihood(e).mean(axis=1) for e in evidence]
        made = []
        for k in np.argsort(-chances):
            others = prior.copy()
            others[k] = 0
            lifts = [m[k] / max(float(others @ m / others.sum()), 1e-12) for m in means]
            made.append(Suspect(
                self.names[k], float(chances[k]),
                tuple(i for i, x in enumerate(lifts) if x > _SPEAKS),
                tuple(i for i, x in enumerate(lifts) if x < 1 / _SPEAKS),
            ))  # fmt: skip
        return made


def once(evidence: Sequence[Observation]) -> tuple[list[Observation], frozenset[str]]:
    """The newest of each thing that is known, in its order, each told once however often it was
    said; and the asks that are closed: could not be told, or want a tool that is not there."""
    newest = {(e.ask, e.before): e for e in evidence}
    cannot = {e.ask for e in newest.values() if e.outcome == CANNOT}
    lacked = {asks()[a].by for a in cannot} - {""}
    had = {asks()[e.ask].by for e in newest.values() if e.outcome != CANNOT and e.ask in asks()}
    closed = cannot | {a.id for a in asks().values() if a.by in lacked - had}
    told = [e for e in newest.values() if e.outcome != CANNOT]
    return told, frozenset(closed)


def other_amps(before: Observation, now: Observation) -> bool:
    """Whether amps that were read again after a mend are others than before it: then it did mend
    something, and what the bath did until then is no longer what it does."""
    change = abs(math.log((now.value + _STEADY_A) / (before.value + _STEADY_A)))
    return change > law("other_amps") + 2 * math.hypot(before.error, now.error)


def _normed(logs: Array) -> tuple[Array, Array]:
    """Weights (c, n) that sum to one under each cause, and the log of their mean before (c)."""
    top = logs.max(axis=1, keepdims=True)
    weights = np.exp(logs - top)
    told: Array = top[:, 0] + np.log(weights.mean(axis=1))
    return weights / weights.sum(axis=1, keepdims=True), told


def _whole(chances: Array, unknown: float) -> tuple[Array, float]:
    """Chances and the rest, one in all."""
    total = float(chances.sum()) + unknown
    return chances / total, unknown / total


_SPEAKS = 1.6  # by so much likelier under a cause than under the others: it speaks for it
_STILL = 0.08  # a mend that did not help was not done right, once in a dozen; judged
# A danger that is seen is mended before anything else is thought of; judged.
_SURE = 0.9
