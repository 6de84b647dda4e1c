"""A log folded onto what was kept of it: facts in, the run and what is to be kept out.

An entry that comes in order is put on the newest snapshot. A late one, one struck out, and a
reading beside a look without gas (which it may explain) are folded again from the snapshot before.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from yellowbath.core.run.basis import Basis, Stretch
from yellowbath.core.run.charge import compact
from yellowbath.core.run.log import Entry, Look, Reading, Void
from yellowbath.core.run.run import Run, extend
from yellowbath.core.run.signs import amps_stand
from yellowbath.core.run.snapshot import Snapshot, kept, mark_of, opened

EVERY = 256  # entries between two snapshots that stay

Numbered = tuple[int, Entry]
"""An entry and its number in the log, by which those of one time keep their order."""


@dataclass(frozen=True)
class Past:
    """What a log is folded from: the snapshot ``base`` (None: from its beginning) and the entries
    about and after it, in order, none struck out. ``anew``: what was kept since then, or with no
    ``since`` all that was kept, is of no use any more."""

    base: Snapshot | None
    log: Sequence[Numbered]
    anew: bool = False
    since: datetime | None = None

    def with_entry(self, number: int, entry: Entry) -> Past:
        """With an entry more, or without the one that it strikes out."""
        if isinstance(entry.detail, Void):
            gone = entry.detail.target
            return replace(self, log=[(n, e) for n, e in self.log if e.client_id != gone])
        return replace(self, log=sorted([*self.log, (number, entry)], key=_place))


def changes_from(entry: Entry, target: Entry | None) -> datetime:
    """The time from which an entry may change what a log comes to; ``target``: what it strikes."""
    of = target or entry
    return of.at - amps_stand() if isinstance(of.detail, Reading) else of.at


def explained(entry: Entry, near: Sequence[Numbered]) -> bool:
    """Whether amps stand beside a look without gas that came before them."""
    read = isinstance(entry.detail, Reading) and entry.detail.current_a is not None
    return read and any(
        isinstance(e.detail, Look) and e.detail.bubbles == "none" and e.at <= entry.at
        for _, e in near
    )


@dataclass(frozen=True)
class Folded:
    """What a log comes to, and what of it is to be kept: its stretches from a number on, and
    snapshots, the last the newest; ``stays``: so does the one that was the newest before."""

    run: Run
    past: Past
    stretches: Sequence[Stretch]
    first: int
    snapshots: Sequence[Snapshot]
    stays: bool


def fold(past: Past, basis: Basis) -> Folded:
    """The run that a log comes to. Raises StepRefusedError where an entry of it has no place."""
    mark, base = mark_of(basis), past.base
    run = opened(base.state, basis) if base else Run()
    log = [e for _, e in past.log]
    done = (base.at, base.entry_id) if base else None
    first, over = run.bank.count, list[Stretch]()
    made, last = list[Snapshot](), base
    began = run.entries
    for number, entry in past.log:
        if done is not None and (entry.at, number) <= done:
            continue
        if last is not base and run.entries % EVERY == 0 and last is not None:
            whole = run.stretches
            run = compact(run)
            over += whole[: len(whole) - len(run.stretches)]
            made.append(replace(last, state=kept(run)))
        extend(run, entry, basis, log)
        last = Snapshot(entry.at, number, mark, {})
    if last is not None and last is not base:
        made.append(replace(last, state=kept(run)))
    elif base is not None:
        made.append(base)
    stays = bool(began) and began % EVERY == 0
    return Folded(run, past, [*over, *run.stretches], first, made, stays or past.anew)


def _place(numbered: Numbered) -> tuple[datetime, int]:
    return numbered[1].at, numbered[0]
