"""Starting, running and closing a bath."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import Connection

from yellowbath.core import dose
from yellowbath.core.checks.registry import Finding, stops
from yellowbath.core.document import Plan
from yellowbath.core.ear import parse
from yellowbath.core.errors import (
    KnownKeyError,
    NoAnswerError,
    NotFoundError,
    OutOfRangeError,
    StepRefusedError,
    StopsInForceError,
)
from yellowbath.core.plan.comparison.compare import Difference
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.log import (
    Change,
    Checklist,
    Close,
    Entry,
    FoundStopped,
    Reading,
    SwitchOff,
    SwitchOn,
    Void,
)
from yellowbath.core.run.looked import nothing_gained
from yellowbath.core.run.moves import refused
from yellowbath.core.run.progress import PieceProgress, Progress, progress
from yellowbath.core.run.run import Run
from yellowbath.core.run.switch_on import (
    ListPoint,
    in_bath_first,
    require_all,
    require_read,
    unread,
)
from yellowbath.core.tell.advice import Advice, advise
from yellowbath.core.tell.book import BookEntry, book_entry
from yellowbath.core.tell.doubts import in_doubt, require_known
from yellowbath.core.tell.finish import Step, delicate, steps_by_piece
from yellowbath.core.tell.schedule import Action, PieceWays, Ways, actions
from yellowbath.core.tell.told import LookTold, look_told
from yellowbath.core.units import System, show
from yellowbath.core.words import word
from yellowbath.store import book as book_store
from yellowbath.store import plans as plan_store
from yellowbath.store import runs as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.runs import DeviceTime, RunRow
from yellowbath.store.tables import OVER
from yellowbath.workflows.plans import kit
from yellowbath.workflows.plans.field import run_summary, solvable
from yellowbath.workflows.plans.plans import Answered, answer_document
from yellowbath.workflows.runs.projection import is_kept, keep, project
from yellowbath.workflows.runs.standing import Standing, stand
from yellowbath.workflows.shop import clocks
from yellowbath.workflows.shop.once import made_before, once
from yellowbath.workflows.shop.shop import Shop, new_id, system_of


@dataclass(frozen=True)
class RunView:
    """A run with everything that follows from its log at one moment.

    ``judged`` are the findings on its plan with what became known since; ``since`` says what the
    newest revision does otherwise by design, ``asked`` which of that would be a stop and was not
    said to be so in the bath or an idea, ``head`` is its number.
    """

    row: RunRow
    plan: Plan
    answered: Answered
    answer: Answer
    basis: Basis
    run: Run
    lines: Sequence[Entry]
    older: bool
    progress: Progress
    actions: Sequence[Action]
    points: Sequence[ListPoint]
    steps: Sequence[Step]
    pieces: Sequence[PieceWays]
    advice: Advice | None
    doubted: bool
    looked: LookTold
    now: datetime
    judged: Sequence[Finding]
    since: Sequence[Difference]
    asked: Sequence[Finding]
    head: int
    system: System


def start_run(shop: Shop, plan_id: str, number: int | None = None, key: str = "") -> RunView:
    """Begin a run on a plan's revision; it is planned, not switched on.

    The field is solved first and kept with the run, unless a stop leaves none to solve. Under a
    ``key`` once, as :func:`once` says. Raises NoAnswerError without a current path.
    """
    asked = [plan_id, number]
    with reading(shop.engine) as c:
        known = made_before(c, key, "run", asked)
        if known is not None:
            return view_at(shop, c, known, shop.now())
        revision = plan_store.revision(c, plan_id, number)
    quick = answer_document(revision.document, fixes=False)
    if quick.answer is None:
        raise NoAnswerError(quick.trouble)
    summary = None
    if solvable(quick):
        summary = run_summary(shop.solver, quick).model_dump(mode="json")

    def make() -> str:
        run_id = new_id()
        title = quick.read.plan.title
        store.add_run(c, run_id, plan_id, revision.number, shop.now(), title, summary)
        return run_id

    with writing(shop.engine) as c:
        run_id = once(c, key, "run", asked, shop.now(), make)
        return view_at(shop, c, run_id, shop.now())


def older_lines(shop: Shop, run_id: str, before: str) -> tuple[Sequence[Entry], bool]:
    """Log entries before one by its client id, newest first, and whether there are more."""
    with reading(shop.engine) as c:
        found = store.newest_entries(c, run_id, LINES + 1, before)
    return found[:LINES], len(found) > LINES


def system(shop: Shop) -> System:
    """The shop's units."""
    with reading(shop.engine) as c:
        return system_of(c)


LINES = 50  # of the log, told at once


def view_run(shop: Shop, run_id: str) -> RunView:
    """A run as it stands now."""
    with reading(shop.engine) as c:
        view = view_at(shop, c, run_id, shop.now())
    keep_what_was_folded(shop, [view])
    return view


def keep_what_was_folded(shop: Shop, views: Sequence[RunView]) -> None:
    """Runs whose whole log had to be folded, as once after an update, need not be again."""
    for view in views:
        if not view.run.entries:
            continue
        with reading(shop.engine) as c:
            kept = is_kept(c, view.row.id, view.basis)
        if not kept:
            with writing(shop.engine) as c:
                keep(c, view.row.id, view.basis)


def enter(shop: Shop, run_id: str, entry: Entry, device_now: datetime | None = None) -> RunView:
    """Write one entry into a run's log; the same client id is kept once.

    ``device_now``: the clock of the device it was typed on, as it was sent; by it the entry's time
    is told by the shop's clock, and both are kept. Raises StopsInForceError for switching on over a
    stop, StepRefusedError for a step that has no place where (and when) it is entered,
    OutOfRangeError for a time that is not the run's.
    """
    with writing(shop.engine) as c:
        view = stand(shop, c, run_id)
        clock = clocks.Clocks.of(c, run_id, shop.now(), device_now)
        # as finely as it is kept, so that it stands the same now as when it is read again
        typed = store.as_kept(entry.at)
        entry = _read_bath(entry.model_copy(update={"at": typed}), view.system)
        if store.has_entry(c, run_id, entry.client_id):
            _same(c, run_id, entry)
            return view_at(shop, c, run_id, clock.now)
        entry = entry.model_copy(update={"at": store.as_kept(clock.ours(typed))})
        _guard(c, view, entry, clock)
        device = DeviceTime(typed, device_now and store.as_kept(device_now))
        number = store.append_entry(c, run_id, entry, clock.now, device)
        try:
            run = project(c, run_id, view.basis, entry, number)
        except StepRefusedError as error:
            raise clock.in_the_way(c, run_id, entry, error) from None
        if isinstance(entry.detail, SwitchOn):
            kit.drawn(c, view.plan, view.answer, run_id, entry.at)
        if isinstance(entry.detail, Close):
            closed, alone = view_at(shop, c, run_id, clock.now), entry.detail.piece
            written = _book_entry(closed, store.log_of(c, run_id), clock.now, alone)
            book_store.add_book_entry(c, run_id, alone, written.model_dump(mode="json"), entry.at)
            if not alone:
                kit.written_back(
                    c, closed.plan, closed.answer, closed.progress, run_id, entry.at,
                    entry.detail.mix_kept,
                )  # fmt: skip
        # nothing but what the log comes to is another, unless the run's own row, the kit or what is
        # known of the bath is
        if run.state == view.run.state and not _makes_known(entry):
            return _told(shop, c, replace(view, run=run), clock.now)
        return view_at(shop, c, run_id, clock.now)


def _makes_known(entry: Entry) -> bool:
    """Whether an entry changes by what the plan of its run is judged."""
    detail = entry.detail
    told = detail.kind in ("switch_on", "in_bath", "void")
    return told or (isinstance(detail, Change) and detail.goes_in is not None)


def _same(c: Connection, run_id: str, entry: Entry) -> None:
    """Whether an entry is the one that is kept under its id, sent once more."""
    kept = store.entry_of(c, run_id, entry.client_id)
    typed = store.device_of(c, run_id, entry.client_id).at
    if kept.detail != entry.detail or typed != entry.at:
        raise KnownKeyError


def _guard(c: Connection, view: Standing, entry: Entry, clock: clocks.Clocks) -> None:
    require_known(entry.detail)
    clock.require_time(entry, view.row.created_at, plan_store.made_at(c, view.row.plan_id))
    if isinstance(entry.detail, Void):
        _strikes(c, view.row.id, entry.detail)
    if view.run.state in OVER and entry.detail.kind != "remark":
        raise refused(view.run.state, entry.detail.kind)
    last_on = view.run.last_of.get("switch_on")
    if isinstance(entry.detail, SwitchOff | FoundStopped) and last_on and entry.at < last_on:
        raise StepRefusedError(
            f"It was switched on at {clock.told(last_on)}, after that.",
            allowed="A stop comes after the switching on that it ends.",
            remedy="Correct the time, or strike out the switching on first.",
        )
    if isinstance(entry.detail, SwitchOn) and entry.detail.already:
        _require_first(view)
        return
    if isinstance(entry.detail, Checklist | SwitchOn):
        blocking = stops(view.known.findings)
        if blocking:
            raise StopsInForceError([(f.id, f.title) for f in blocking])
        if view.known.asked:
            raise in_bath_first(view.known.asked)
    if isinstance(entry.detail, Checklist):
        require_all(view.points, [*entry.detail.ticked, *view.run.ticked])
    if isinstance(entry.detail, SwitchOn) and view.run.state == "planned":
        raise refused("planned", "switch_on")
    if isinstance(entry.detail, SwitchOn) and entry.at >= (last_on or entry.at):
        require_read(view.points, view.run.ticked)


def _require_first(view: Standing) -> None:
    """A bath was found running once, before anything else; what bars switching on then is told as
    danger instead. Raises StepRefusedError."""
    if view.run.state not in ("planned", "ready"):
        raise StepRefusedError(
            word("already.refused"),
            allowed=word("already.allowed"),
            remedy=word("already.instead"),
        )


def _strikes(c: Connection, run_id: str, void: Void) -> None:
    """Whether there is something to strike out: an entry, once, that is no strike-out itself."""
    if not store.has_entry(c, run_id, void.target):
        raise NotFoundError("There is no such entry to strike out.")
    detail = store.entry_of(c, run_id, void.target).detail
    if isinstance(detail, Close):
        raise StepRefusedError(
            word("alone.in_book"), allowed=word("alone.booked"), remedy=word("alone.in_book_why")
        )
    struck = isinstance(detail, Void)
    if struck or store.is_struck(c, run_id, void.target):
        raise StepRefusedError(
            "That is a strike-out itself." if struck else "That is struck out already.",
            allowed="Entries of the log, each once.",
            remedy="To have it back, write it down once more with its time.",
        )


def _read_bath(entry: Entry, system: System) -> Entry:
    """The bath's temperature as it was typed, a bare number in the shop's unit; what was typed is
    kept beside it. Raises NotUnderstoodError or OutOfRangeError."""
    detail = entry.detail
    if not isinstance(detail, Reading) or not detail.bath.strip():
        return entry
    value = parse(detail.bath, "temperature", system)
    if not _COLDEST <= value <= _HOTTEST:
        low, high = (show(t, "temperature", system) for t in (_COLDEST, _HOTTEST))
        shown = show(value, "temperature", system)
        raise OutOfRangeError(
            word("refused.high", value=shown)
            if value > _HOTTEST
            else f"{shown} is no temperature of a bath.",
            allowed=f"{low} to {high}.",
            remedy="Check the number and the unit.",
        )
    read = detail.model_copy(update={"bath_c": value})
    return entry.model_copy(update={"detail": read})


_COLDEST, _HOTTEST = -5.0, 100.0  # °C


def view_at(shop: Shop, c: Connection, run_id: str, now: datetime) -> RunView:
    """A run as it stands at a time, or at its newest entry where that was later."""
    return _told(shop, c, stand(shop, c, run_id), now)


def _told(shop: Shop, c: Connection, found: Standing, now: datetime) -> RunView:
    now = clocks.Clocks.of(c, found.row.id, now).now
    plan, run, known = found.plan, found.run, found.known
    lines = store.newest_entries(c, found.row.id, LINES + 1)
    need = dose.need_of(dose.neediest(plan.pieces))
    how_far = progress(run, need, now)
    steps = steps_by_piece(known.plan, run.out)
    pieces = _pieces(known.plan, run, steps, {p.id: p for p in how_far.pieces})
    advice, doubted = advise(run, found.basis), in_doubt(run, found.basis)
    ways = Ways(
        one_sided=plan.layout.arrangement == "one_side",
        by_halves=found.halves is not None,
        delicate=any(delicate(p) for p in known.plan.pieces if p.id not in run.apart),
        battery_ah=plan.supply.battery_ah if plan.supply.on_battery else None,
        charges_a=plan.supply.charges_a if plan.supply.on_mains else 0.0,
        buffered=plan.supply.on_battery and plan.supply.on_mains,
        doubt=(advice.title if advice else word("matter.title")) if doubted else "",
        known=tuple(
            f"{f.title}. {f.fix}"
            for f in stops(known.findings)
            if run.already or f.id not in known.before
        ),
        already=run.already,
        shout=shop.shouts.of(found.row.id),
        unread=bool(unread(found.points, run.ticked)),
        asked=" ".join(f"{f.title}. {f.evidence}" for f in known.asked),
        pieces=pieces,
    )
    return RunView(
        row=found.row,
        plan=plan,
        answered=found.answered,
        answer=found.answer,
        basis=found.basis,
        run=run,
        lines=lines[:LINES],
        older=len(lines) > LINES,
        progress=how_far,
        actions=actions(run, how_far, ways, steps.get("", []), now),
        points=found.points,
        steps=steps.get("", []),
        pieces=pieces,
        advice=advice,
        doubted=doubted,
        looked=look_told(run, need, now, found.system, how_far.left_s),
        now=now,
        judged=known.findings,
        since=known.design,
        asked=known.asked,
        head=found.head,
        system=found.system,
    )


def _pieces(
    plan: Plan, run: Run, steps: Mapping[str, Sequence[Step]], far: Mapping[str, PieceProgress]
) -> tuple[PieceWays, ...]:
    """Each piece as hands meet it, where there are several."""
    if len(plan.pieces) < 2:
        return ()
    return tuple(
        PieceWays(
            p.id, plan.called(p), delicate(p), run.apart.get(p.id), steps.get(p.id, ()),
            far.get(p.id), nothing_gained(run, p.id),
        )
        for p in plan.pieces
    )  # fmt: skip


def _book_entry(view: RunView, log: Sequence[Entry], now: datetime, alone: str) -> BookEntry:
    return book_entry(
        view.plan,
        view.row.plan_id,
        view.row.revision,
        view.answer,
        view.run,
        view.progress,
        log,
        now,
        alone,
    )
