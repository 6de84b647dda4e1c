"""One entry, from what is known to all that it makes: facts in, and what is to be written out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from yellowbath.core import dose
from yellowbath.core.errors import StepRefusedError
from yellowbath.core.kit import Thing
from yellowbath.core.run.admit import Written, admit, require_same, with_bath_read
from yellowbath.core.run.clocks import Clocks
from yellowbath.core.run.fold import Folded, Past, fold
from yellowbath.core.run.kit import KitUse, drawn, kept_mix, written_back
from yellowbath.core.run.log import Close, Entry, SwitchOn
from yellowbath.core.run.progress import progress
from yellowbath.core.run.standing import Own, Since, Standing, standing_by
from yellowbath.core.tell.book import BookEntry, book_entry


@dataclass(frozen=True)
class Incoming:
    """What is known as an entry comes in: of its run, of the time, of the log about it.

    ``typed``: its time by the clock of where it was typed; ``now``: where the log stands; ``past``:
    what the entry is folded with under its ``number``; ``kept``: it is in the log already;
    ``target``: what it strikes out; ``log``: all of it, for a run that is to be closed.
    """

    own: Own
    since: Since
    clock: Clocks
    typed: datetime
    now: Past
    past: Past
    number: int
    kept: Written | None
    target: Written | None
    log: Sequence[Entry]


@dataclass(frozen=True)
class Entered:
    """An entry that was taken, and what it makes: what the log comes to and how its run ``stands``
    then, a page of the book with the piece that it is of, events of the kit, a new thing of it."""

    entry: Entry
    folded: Folded
    stands: Standing
    page: tuple[str, BookEntry] | None = None
    uses: Sequence[KitUse] = ()
    thing: tuple[Thing, KitUse] | None = None


def step(known: Incoming, entry: Entry) -> Entered | None:
    """Take an entry, at its time by the shop's clock; None where it was taken before.

    Raises KnownKeyError where another is kept under its id, and else as
    :func:`yellowbath.core.run.admit.admit` does; a StepRefusedError that names an entry where one
    that is in the log, or this among them, would have no place.
    """
    own, since = known.own, known.since
    entry = with_bath_read(entry, since.system)
    if known.kept is not None:
        require_same(known.kept, entry, known.typed)
        return None
    found = standing_by(own, since, known.now)
    admit(found, known.clock, entry, known.target)
    try:
        folded = fold(known.past.with_entry(known.number, entry), own.basis)
    except StepRefusedError as error:
        error.entry = error.entry or entry.client_id
        raise
    made = Entered(entry, folded, found.with_run(folded.run))
    if isinstance(entry.detail, SwitchOn):
        uses = drawn(own.plan, own.answer, since.things, own.run_id, entry.at)
        return replace(made, uses=list(uses))
    if isinstance(entry.detail, Close):
        return _closed(known, made, entry.detail)
    return made


def _closed(known: Incoming, made: Entered, close: Close) -> Entered:
    own, run, entry = known.own, made.folded.run, made.entry
    plan, worked, now = own.plan, own.answer, known.clock.now
    far = progress(run, dose.need_of(dose.neediest(plan.pieces)), now)
    log = [*known.log, entry]
    page = book_entry(plan, own.plan_id, own.revision, worked, run, far, log, now, close.piece)
    made = replace(made, page=(close.piece, page))
    if close.piece:
        return made
    uses = written_back(plan, worked, far, known.since.things, own.run_id, entry.at)
    mix = kept_mix(plan, worked, far, own.run_id, entry.at) if close.mix_kept else None
    return replace(made, uses=uses, thing=mix)
