"""A run as a state machine over its log: where it stands, and under what it ran and when.

``replay`` folds a log into a :class:`Run`. It is pure: the stored stretches are made from it and
can be made again.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from itertools import takewhile

from yellowbath.core.bath.meters import meter_error
from yellowbath.core.checks.limits import limit
from yellowbath.core.run.apart import (
    AfterBath,
    Pieces,
    piece_of,
    require_regions,
    require_whole,
)
from yellowbath.core.run.basis import Bank, Knot, Source, Stretch
from yellowbath.core.run.basis import Basis as Basis
from yellowbath.core.run.clues import Clues, take
from yellowbath.core.run.log import (
    Asked,
    BackIn,
    Change,
    Checklist,
    Entry,
    FinishStep,
    InBath,
    Inspection,
    Look,
    Reading,
    SwitchOff,
    SwitchOn,
    in_order,
)
from yellowbath.core.run.moves import FOUND_ON, MOVES, POWER_MOVES, State, refused
from yellowbath.core.run.one_lead import LeadAmps, hear_lead
from yellowbath.core.run.signs import (
    Poles,
    Sign,
    alive,
    asks_gas,
    clears,
    dangers,
    meter_wrong,
    nought,
    poles_told,
    silence,
    weak,
)
from yellowbath.core.run.trending import AmpsHeard, hear


@dataclass
class Run:
    """Where a run stands.

    ``signs``: what the newest readings and looks say against the plan, the gravest first; kept
    while the power is off, so that it is not switched on again over them unread. ``silent``: under
    power, but nothing flows; ``tripped``: why it was switched off by itself; ``alive_at``: the last
    time that something did; ``nought_at``: since when a meter says nought and nobody has said
    whether gas comes. ``bank`` holds the stretches before those in the list; ``heard``: the trend
    of its amps; ``poles``: whether plus sits on the scrap, by what was read or seen; ``flowed_a``:
    the amps that flowed last by a reading, None where a change since then has moved them;
    ``leads``: the newest amps of each lead by itself;
    ``looked`` the doses at the first of the inspections; ``clues``: what is known just now.
    ``ticked``: points of the list; stops of the plan said to be so in the bath (``now_in``) or only
    ``ideas``, each with its revision; ``said_of``: the newest revision of which that was said;
    ``went_in``: scrap that was put in;
    ``already``: it ran before it was set up here. ``apart``: pieces that are out by themselves;
    ``unseen``: those that each look was not at; ``flowed_out``: what was out when ``flowed_a`` was
    read.
    """

    state: State = "planned"
    stretches: list[Stretch] = field(default_factory=list)
    bank: Bank = field(default_factory=Bank)
    knot: Knot | None = None
    looked: list[tuple[float, ...]] = field(default_factory=list)
    told: Look | Reading | None = None
    metered: Reading | None = None
    heard: AmpsHeard | None = None
    poles: Poles = ""
    first_a: float | None = None
    entries: int = 0
    signs: list[Sign] = field(default_factory=list)
    silent: bool = False
    tripped: str = ""
    alive_at: datetime | None = None
    nought_at: datetime | None = None
    since: datetime | None = None
    powered_since: datetime | None = None
    turns: int = 0
    flips: int = 0
    inspections: list[tuple[datetime, Inspection]] = field(default_factory=list)
    finish: dict[str, tuple[datetime, FinishStep]] = field(default_factory=dict)
    last_current_a: float | None = None
    flowed_a: float | None = None
    last_of: dict[str, datetime] = field(default_factory=dict)
    ticked: set[str] = field(default_factory=set)
    now_in: set[str] = field(default_factory=set)
    ideas: dict[str, int] = field(default_factory=dict)
    said_of: int = 0
    already: bool = False
    went_in: list[dict[str, str]] = field(default_factory=list)
    clues: Clues = field(default_factory=Clues)
    leads: dict[str, LeadAmps] = field(default_factory=dict)
    apart: dict[str, AfterBath] = field(default_factory=dict)
    unseen: list[tuple[str, ...]] = field(default_factory=list)
    flowed_out: tuple[str, ...] = ()

    def powered_s(self, now: datetime) -> float:
        """Time under power up to ``now`` [s]; of what is unsure, half."""
        return self.bank.powered_s + sum(s.counted * s.hours(now) for s in self.stretches) * 3600

    @property
    def stopped(self) -> tuple[datetime, datetime, datetime] | None:
        """Of a bath that fell silent: the last sign of life, the likeliest moment at which it
        stopped, and when it was found out. No moment between is likelier than another, so it is
        the middle: what half of the time counts as."""
        dark = list(takewhile(lambda s: s.source == "unsure", reversed(self.stretches)))
        if not self.silent or not dark or dark[0].end is None:
            return None
        first, last = dark[-1].start, dark[0].end
        return first, first + (last - first) / 2, last

    @property
    def whole(self) -> AfterBath:
        """How all pieces stand that are not apart."""
        lifted, looked = (self.last_of.get(k) for k in ("lift", "inspection"))
        return AfterBath(self.state, self.since, lifted, looked, self.finish)

    @property
    def out(self) -> tuple[str, ...]:
        """The pieces that lie apart, by id."""
        return tuple(sorted(self.apart))

    @property
    def amps_read(self) -> bool:
        """Whether any amps of it were read, and not only planned."""
        return bool(self.first_a)

    @property
    def begun(self) -> datetime | None:
        """When it was first under power."""
        return self.bank.start or (self.stretches[0].start if self.stretches else None)

    @property
    def count(self) -> int:
        """How many stretches it has had."""
        return self.bank.count + len(self.stretches)


NO_GAS = "look.none"
_GAS = "look.gas"
_STALE = 0.15  # of amps as they were before a lift; judged


def replay(log: Sequence[Entry], basis: Basis) -> Run:
    """Fold a log into a run; raises StepRefusedError at the first entry that has no place."""
    run, entries = Run(), in_order(list(log))
    for entry in entries:
        extend(run, entry, basis, entries)
    return run


def extend(run: Run, entry: Entry, basis: Basis, log: Sequence[Entry]) -> None:
    """Put the next entry on a run; ``log``: those about it in time, in order.

    Raises StepRefusedError where it has no place.
    """
    kind = entry.detail.kind
    run.entries += 1
    if kind == "remark":
        return
    target: State | None
    if piece := piece_of(entry.detail):
        require_regions(entry.detail, (), basis.piece_of)
        target = Pieces(run.apart, run.whole, basis.pieces).put(piece, entry)
    else:
        require_whole(run.apart, basis.pieces, entry)
        require_regions(entry.detail, run.out, basis.piece_of)
        target = MOVES[run.state].get(kind)
    basis = basis.under(run.out)
    already = isinstance(entry.detail, SwitchOn) and entry.detail.already
    found_on = already or run.already
    if target is None or ((run.state, kind) in FOUND_ON and not found_on):
        error = refused(run.state, kind)
        error.entry = entry.client_id
        raise error
    run.already = run.already or already
    _move_piece(run, entry)
    if run.state == "running":
        silent = silence(entry, log, _doubted_before(run))
        if silent is not None:
            _fall_silent(run, run.nought_at or entry.at)
        elif not asks_gas(entry) or isinstance(entry.detail, Change):
            _measure(run, entry, basis)
    if target == "running" and run.state != "running":
        run.signs, run.silent, run.alive_at, run.tripped = [], False, entry.at, ""
        _open(run, entry.at, basis, _as_before(run, basis))
    elif run.state in ("ready", "running", "paused"):
        _heed(run, entry, basis, log)
    if isinstance(entry.detail, SwitchOff) and entry.detail.by not in ("hand", "dose"):
        run.tripped = entry.detail.reason
    if target != run.state:
        run.since = entry.at
    runs = run.state == "running" and not run.silent
    run.heard = hear(run.heard, entry, basis, run.powered_s(entry.at) / 3600, runs)
    if run.state == "running" or not _of_power(entry.detail):
        take(run.clues, entry, basis, run.heard is not None and run.heard.surprising)
    run.leads = hear_lead(
        run.leads, run.clues, entry, run.last_current_a, basis, run.state == "running"
    )
    run.state = target
    _remember(run, entry, basis)


def _as_before(run: Run, basis: Basis) -> Knot:
    """Amps never jump back to the plan: what flowed last flows again, until it is read; between
    that and its share where other pieces are in the bath than then."""
    if not run.flowed_a:
        return Knot(run.flowed_a, 0.0, True)
    then, now = (basis.share_in(o) for o in (run.flowed_out, basis.out))
    edge = now / then if then > 0 else 1.0
    if basis.holds(run.flowed_a):  # what it held it holds, as far as its volts go
        return Knot(run.flowed_a, max(_STALE, 1 - edge), True)
    amps = min(run.flowed_a * (1 + edge) / 2, basis.limit_a)
    return Knot(amps, max(_STALE, abs(1 - edge) / (1 + edge)), True)


def _doubted_before(run: Run) -> bool:
    """Whether a nought is not the first thing that says that nothing flows."""
    return run.nought_at is not None or run.silent


def _of_power(detail: object) -> bool:
    """Whether it tells of a bath only while there is power: figures, and gas without a sign."""
    return isinstance(detail, Reading) or (isinstance(detail, Look) and not detail.signs)


def _heed(run: Run, entry: Entry, basis: Basis, log: Sequence[Entry]) -> None:
    """Keep what an entry says against the plan, and drop what it takes back."""
    standing = [s for s in run.signs if s.kind in ("danger", "caution")]
    kept = [s for s in standing if not clears(s, entry)]
    others = [s for s in run.signs if s not in standing]
    if run.state == "running":
        said = silence(entry, log, _doubted_before(run)) or weak(entry, log)
        said = said or nought(entry, run.last_of.get(_GAS))
        if said is not None:
            others = [said]
        elif alive(entry):
            contradicts = run.nought_at is not None and isinstance(entry.detail, Look)
            others = [meter_wrong(entry)] if contradicts else []
    new = dangers(entry, as_set(run, basis, entry))
    kept = [s for s in kept if s.by not in {n.by for n in new}]
    run.signs = sorted([*new, *kept, *others], key=lambda s: s.kind != "danger")


def as_set(run: Run, basis: Basis, entry: Entry | None = None) -> Basis:
    """What a run is judged by: once its limit or setting was changed by hand, those of the plan
    say nothing any more, and what they hold is no danger."""
    now = entry is not None and isinstance(entry.detail, Change)
    changed = now and entry.detail.what == "limit_changed"  # type: ignore[union-attr]
    if not changed and "change.limit_changed" not in run.last_of:
        return basis
    return replace(basis, limit_a=math.inf, open_v=math.inf)


def _move_piece(run: Run, entry: Entry) -> None:
    """Turning and flipping count whether the power is on or, as it should be, off; and what a
    change does to the amps is not known until they are read."""
    detail = entry.detail
    if isinstance(detail, Change):
        run.turns += detail.what == "turned"
        run.flips += detail.what == "flipped"
        after = None if asks_gas(entry) else detail.after_a
        if after is not None or _moves_amps(detail):
            run.flowed_a, run.flowed_out = after, run.out
    elif alive(entry) and isinstance(detail, Reading):
        run.flowed_a, run.flowed_out = detail.current_a, run.out


def _fall_silent(run: Run, at: datetime) -> None:
    """Stop counting: since the last sign of life it is unsure whether anything flowed, whatever
    was done to the bath meanwhile."""
    if run.silent:
        return
    life = max(run.alive_at or at, run.powered_since or at)
    _close(run, max(at, life), Knot(None, 0.0))
    made: list[Stretch] = []
    for s in run.stretches:
        end = s.end or at
        if s.start < life:
            made.append(replace(s, end=min(end, life)))
        if end > life and s.start < at:
            made.append(
                replace(s, start=max(s.start, life), end=min(end, at), low_a=0.0,
                        source="unsure", counted=0.5)
            )  # fmt: skip
    run.stretches = made
    run.silent = True


def _measure(run: Run, entry: Entry, basis: Basis) -> None:
    """Split or end the stretch that is under way, at a reading, a change or an end of power."""
    detail = entry.detail
    if detail.kind in POWER_MOVES:
        _close(run, entry.at, Knot(None, 0.0))
        run.powered_since, run.silent = None, False
        return
    lives = alive(entry)
    if isinstance(detail, Reading) and detail.current_a is not None:
        knot = Knot(detail.current_a, meter_error(detail.method).alone)
        _close(run, entry.at, knot)
        _open(run, entry.at, basis, knot)
    elif isinstance(detail, Change):
        error = meter_error(detail.method).alone
        if detail.before_a is not None and detail.before_a > limit("advice", "still_amps"):
            run.alive_at = entry.at  # it flowed until then
        _close(run, entry.at, Knot(detail.before_a, error))
        after = None if asks_gas(entry) else detail.after_a
        if after is None and not _moves_amps(detail):
            after = run.last_current_a
        run.last_current_a = after
        if lives or not run.silent:
            _open(run, entry.at, basis, Knot(after, error))
    elif lives and run.silent:
        _open(run, entry.at, basis, Knot(run.last_current_a, 0.15))
    if lives:
        run.silent, run.alive_at = False, entry.at


def _moves_amps(change: Change) -> bool:
    return change.what in (
        "scraped", "swapped_anodes", "added_anode", "soda_added", "limit_changed",
    )  # fmt: skip


def _open(run: Run, at: datetime, basis: Basis, knot: Knot) -> None:
    run.knot = knot
    run.powered_since = run.powered_since or at
    amps, low, high, source = _level(knot, Knot(None, 0.0), basis)
    made = Stretch(at, None, run.turns, amps, low, high, source, basis, run.flips)
    run.stretches.append(made)


def _close(run: Run, at: datetime, end: Knot) -> None:
    if run.stretches and (last := run.stretches[-1]).end is None:
        amps, low, high, source = _level(run.knot or Knot(None, 0.0), end, last.basis)
        run.stretches[-1] = replace(
            last, end=at, current_a=amps, low_a=low, high_a=high, source=source
        )
        if at <= last.start:
            run.stretches.pop()
    if end.amps is not None:
        run.last_current_a = end.amps


def _level(a: Knot, b: Knot, basis: Basis) -> tuple[float, float, float, Source]:
    known = [k for k in (a, b) if k.amps is not None]
    if not known:
        return basis.expected_a, basis.expected_low_a, basis.expected_high_a, "expected"
    amps = [k.amps for k in known if k.amps is not None]
    mean = sum(amps) / len(amps)
    error = max(max(k.error for k in known), (max(amps) - min(amps)) / 2 / mean if mean else 0.0)
    edges = mean, mean * (1 - error), mean * (1 + error)
    if len(known) == 1 and known[0].before:
        return *edges, "before"
    return *edges, "between" if len(known) == 2 and amps[0] != amps[1] else "read"


def _remember(run: Run, entry: Entry, basis: Basis) -> None:
    detail = entry.detail
    # a line reads by itself: nobody has looked at the bath
    by_line = isinstance(detail, Reading) and detail.method == "line"
    piece = piece_of(detail)
    key = f"{detail.kind}.{piece}" if piece else detail.kind
    run.last_of["line" if by_line else key] = entry.at
    if isinstance(detail, Change):
        run.last_of[f"change.{detail.what}"] = entry.at
        run.first_a = run.first_a or detail.before_a or detail.after_a
    if isinstance(detail, Look | Reading):
        run.told = detail
    if isinstance(detail, Look) and detail.bubbles is not None:
        run.last_of[NO_GAS if detail.bubbles == "none" else _GAS] = entry.at
    _remember_nought(run, entry)
    if isinstance(detail, Reading) and not asks_gas(entry):
        run.first_a = run.first_a or detail.current_a
        run.metered = detail if detail.current_a is not None else run.metered
    _remember_the_bath(run, detail)
    run.poles = poles_told(detail, run.poles)
    if isinstance(detail, Asked):
        run.last_of[f"asked.{detail.ask}"] = entry.at
    if isinstance(detail, Inspection):
        run.inspections.append((entry.at, detail))
        others = tuple(p for p in basis.pieces if p != piece)
        run.unseen.append(others if piece else run.out)
    if isinstance(detail, BackIn):  # what is done after the bath is done anew after the next
        run.finish = {}
    if isinstance(detail, FinishStep) and not piece:
        run.finish[f"{detail.step}.{detail.mark}"] = (entry.at, detail)


def _remember_nought(run: Run, entry: Entry) -> None:
    """Whether a nought is still to be asked about; one that gas speaks against is no clue."""
    kinds = {s.kind for s in run.signs}
    if "unsure" in kinds and run.state == "running":
        run.nought_at = run.nought_at or entry.at
        return
    run.nought_at = None
    if any(s.kind == "weak" and s.by == "nought" for s in run.signs):
        run.clues.now.pop("amps", None)


def _remember_the_bath(run: Run, detail: object) -> None:
    """What was said of what is in the bath, and read on the list."""
    if isinstance(detail, Checklist):
        run.ticked |= set(detail.ticked)
    if isinstance(detail, InBath):
        run.said_of = max(run.said_of, detail.head)
        if detail.so == "now":
            run.now_in |= set(detail.stops)
        else:
            run.now_in -= set(detail.stops)
            run.ideas.update(dict.fromkeys(detail.stops, detail.head))
    if isinstance(detail, Change) and detail.goes_in is not None:
        if detail.what == "swapped_anodes":
            run.went_in.clear()
        run.went_in.append({"what": detail.what, "material": detail.goes_in.material})
