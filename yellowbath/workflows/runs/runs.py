"""Starting, running and closing a bath."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from yellowbath.core.errors import NoAnswerError, StepRefusedError
from yellowbath.core.run.fold import fold
from yellowbath.core.run.log import Entry
from yellowbath.core.run.standing import Standing, standing, standing_by
from yellowbath.core.tell.account import Account, account
from yellowbath.core.tell.entering import step
from yellowbath.core.units import System
from yellowbath.store import plans as plan_store
from yellowbath.store import runs as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.facts import LINES, Facts, entry_facts, in_the_way
from yellowbath.store.runs import DeviceTime, RunRow
from yellowbath.store.snapshots import put_folded
from yellowbath.store.steps import put_step
from yellowbath.workflows.plans.field import run_summary, solvable
from yellowbath.workflows.plans.plans import MARK, Answered, answer_document
from yellowbath.workflows.runs.standing import RunPlan, begun, facts
from yellowbath.workflows.shop.once import made_before, once
from yellowbath.workflows.shop.shop import Shop, new_id, system_of
from yellowbath.workflows.shop.solver import Drag


@dataclass(frozen=True)
class RunView(Account):
    """The account of a run with its own row and its plan as it was answered; ``lines`` are the
    newest of its log, newest first, and whether there are ``older`` ones; ``anew``: its whole log
    had to be folded for it."""

    row: RunRow
    answered: Answered
    lines: Sequence[Entry]
    older: bool
    anew: bool


def start_run(
    shop: Shop, plan_id: str, number: int | None = None, key: str = "", drag: Drag | None = None
) -> RunView:
    """Begin a run on a plan's revision; it is planned, not switched on.

    The field is solved first and kept with the run, unless a stop leaves none to solve. Under a
    ``key`` once, as :func:`once` says. Raises NoAnswerError without a current path,
    SupersededError where its ``drag`` was stopped meanwhile: then nothing is begun.
    """
    asked = [plan_id, number]
    with reading(shop.engine) as c:
        known = made_before(c, key, "run", asked)
    if known is not None:
        return view_at(shop, known)
    with reading(shop.engine) as c:
        revision = plan_store.revision(c, plan_id, number)
    quick = answer_document(revision.document, fixes=False)
    if quick.answer is None:
        raise NoAnswerError(quick.trouble)
    summary = None
    if solvable(quick):
        summary = run_summary(shop.solver, quick, drag).model_dump(mode="json")

    def make() -> str:
        run_id = new_id()
        title = quick.read.plan.title
        store.add_run(c, run_id, plan_id, revision.number, shop.now(), title, summary)
        return run_id

    with writing(shop.engine) as c:
        run_id = once(c, key, "run", asked, shop.now(), make)
    return view_at(shop, run_id)


def older_lines(shop: Shop, run_id: str, before: str) -> tuple[Sequence[Entry], bool]:
    """Log entries before one by its client id, newest first, and whether there are more."""
    with reading(shop.engine) as c:
        found = store.newest_entries(c, run_id, LINES + 1, before)
    return found[:LINES], len(found) > LINES


def system(shop: Shop) -> System:
    """The shop's units."""
    with reading(shop.engine) as c:
        return system_of(c)


def view_run(shop: Shop, run_id: str) -> RunView:
    """A run as it stands now."""
    view = view_at(shop, run_id)
    keep_what_was_folded(shop, [view])
    return view


def view_at(shop: Shop, run_id: str) -> RunView:
    """A run as it stands now, or at its newest entry where that was later."""
    with reading(shop.engine) as c:
        of, found = facts(shop, c, run_id)
    return _told(shop, of, found, standing_by(of.own, found.since, found.past))


def _told(shop: Shop, of: RunPlan, found: Facts, stands: Standing) -> RunView:
    told = account(stands, found.clock.now, shop.shouts.of(found.row.id))
    lines = [e for _, e in found.lines]
    older = len(lines) > LINES
    return RunView(
        **vars(told), row=found.row, answered=of.answered, lines=lines[:LINES], older=older,
        anew=found.past.base is None,
    )  # fmt: skip


def keep_what_was_folded(shop: Shop, views: Sequence[RunView]) -> None:
    """Runs whose whole log had to be folded, as once after an update, need not be again."""
    for view in views:
        if view.anew and view.run.entries:
            with writing(shop.engine) as c:
                of, found = facts(shop, c, view.row.id)
                put_folded(c, view.row.id, fold(found.past, of.own.basis))


def enter(shop: Shop, run_id: str, entry: Entry, device_now: datetime | None = None) -> RunView:
    """Write one entry into a run's log; the same client id is kept once.

    ``device_now``: the clock of the device it was typed on, as it was sent; by it the entry's time
    is told by the shop's clock, and both are kept. Raises StopsInForceError for switching on over a
    stop, StepRefusedError for a step that has no place where (and when) it is entered,
    OutOfRangeError for a time that is not the run's.
    """
    with reading(shop.engine) as c:
        of = begun(shop, c, run_id)
    # as finely as it is kept, so that it stands the same now as when it is read again
    typed = entry.model_copy(update={"at": store.as_kept(entry.at)})
    device = DeviceTime(typed.at, device_now and store.as_kept(device_now))
    with writing(shop.engine) as c:
        found, known, timed = entry_facts(c, of.own, MARK, typed, shop.now(), device)
        try:
            made = step(known, timed)
        except StepRefusedError as error:
            if not error.entry:
                raise
            way = in_the_way(c, run_id, timed, error.entry)
            raise known.clock.in_the_way(timed, error, *way) from None
        if made is not None:
            found = put_step(c, found, known, made, device)
    if made is None:
        return _told(shop, of, found, standing_by(of.own, found.since, known.now))
    # what the kit gave or got is known of the bath too
    stands = standing(of.own, found.since, made.stands.run) if made.uses else made.stands
    return _told(shop, of, found, stands)
