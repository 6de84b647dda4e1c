"""A practice bath: a shop of its own, with a clock that can be moved and a hidden simulated bath.

The learner plans, hangs, switches on, reads and decides in the same screens; every request that
names the practice goes to its shop, which is a database of its own and ends with it. What is
entered acts on the bath; what is looked at and read comes from it. Nothing of it reaches the shop's
book or kit.
"""

from __future__ import annotations

import os
import shutil
import tempfile
import threading
from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np

from yellowbath.core.bath.loop import Loop
from yellowbath.core.causes.asks import ask_words, fitting
from yellowbath.core.causes.rows import causes, mend_minutes, row
from yellowbath.core.errors import InputError, NotFoundError, OutOfRangeError, StepRefusedError
from yellowbath.core.run.apart import piece_of
from yellowbath.core.run.log import (
    AnyDetail,
    Asked,
    BackIn,
    Change,
    Entry,
    Lift,
    Look,
    Mended,
    Reading,
    SwitchOff,
    SwitchOn,
)
from yellowbath.core.simulation.asked import answered
from yellowbath.core.simulation.bath import Scheduled, SimulatedBath
from yellowbath.core.simulation.design import Design
from yellowbath.core.simulation.faults import BathFault, fault, fault_row, gone_by, possible
from yellowbath.core.simulation.senses import CLAMP, look
from yellowbath.core.simulation.truth import drawn
from yellowbath.core.units import System, show
from yellowbath.core.words import word
from yellowbath.store.engine import open_engine, reading
from yellowbath.workflows.plans.plans import create_plan
from yellowbath.workflows.practice.deck import FIRST, Card, card_of, practice_document
from yellowbath.workflows.runs.runs import enter, start_run
from yellowbath.workflows.runs.standing import stand
from yellowbath.workflows.shop.shop import Shop, ShopSettings, get_settings, new_id, save_settings
from yellowbath.workflows.shop.solver import Solver

MOST = 12  # practices at once; the one that was not touched for longest ends
_FASTEST_S = 30.0  # of the bath's time, in one step
_COMES_H = (0.4, 2.0)  # a fault whose row says nothing of it
_FROM_THE_START = 0.4  # a cause that is so oftener than this when it is switched on is so here
_EYE = 0.3  # of the slips that a person makes who asks: what is met is to be learned from
_LONGEST = timedelta(days=3)  # that may be let pass at once

# --- One practice --------------------------------------------------------------------------------


@dataclass(frozen=True)
class Met:
    """Something that was looked at or read, when, and what was met; ``value`` of a meter [A, V].
    Without an ``ask`` it was mended; ``kept``: it is an entry of the log too."""

    at: datetime
    ask: str
    text: str
    value: float | None = None
    kept: bool = False


@dataclass(frozen=True)
class Tried:
    """Something that was mended: when, which cause."""

    at: datetime
    cause: str


@dataclass
class Practice:
    """One learner's bath. ``clock`` is the world's; the practice's own runs with it and can be
    moved on. Not for two threads at once: hold ``lock``."""

    id: str
    card: Card
    folder: Path
    shop: Shop
    clock: Callable[[], datetime]
    moved: timedelta = timedelta()
    run_id: str = ""
    bath: SimulatedBath | None = None
    loop: Loop | None = None
    last: datetime | None = None
    comes_at: datetime | None = None
    gone_at: datetime | None = None
    met: list[Met] = field(default_factory=list)
    tried: list[Tried] = field(default_factory=list)
    eaten_ah: float = 0.0
    hidden: BathFault | None = None
    heeded: set[str] = field(default_factory=set)
    lock: threading.RLock = field(default_factory=threading.RLock)
    rng: np.random.Generator = field(default_factory=np.random.default_rng)

    def now(self) -> datetime:
        """What time it is in the practice."""
        return self.clock() + self.moved

    def system(self) -> System:
        """The units of its shop."""
        return get_settings(self.shop).system

    # --- Time -------------------------------------------------------------------------------

    def catch_up(self) -> None:
        """Let the bath go on to now."""
        now = self.now()
        if self.bath is not None and self.last is not None and now > self.last:
            before = self.bath.charge_ah
            self.bath.advance((now - self.last).total_seconds(), _FASTEST_S)
            if self.bath.condition().reversed:
                self.eaten_ah += self.bath.charge_ah - before
        self.last = now

    def let_pass(self, minutes: float) -> None:
        """Move the clock on, and the bath with it. Raises OutOfRangeError for too much or less than
        nothing."""
        span = timedelta(minutes=minutes)
        if not timedelta() <= span <= _LONGEST:
            raise OutOfRangeError(
                f"{minutes:g} min cannot pass at once.", allowed="0 min to 3 days.",
                remedy="Let less pass, and look in between.",
            )  # fmt: skip
        self.catch_up()
        self.moved += span
        self.catch_up()

    # --- Hands ------------------------------------------------------------------------------

    def heed(self, run_id: str, entry: Entry) -> None:
        """What was entered was done, once: the bath is what its log says."""
        if entry.client_id in self.heeded:
            return
        self.heeded.add(entry.client_id)
        self.catch_up()
        if isinstance(entry.detail, SwitchOn):
            self._switch_on(run_id)
        bath = self.bath
        if bath is None or run_id != self.run_id:
            return
        match entry.detail:
            case SwitchOff():
                bath.switch_off()
            case Lift(piece=piece):
                bath.lift(piece)
            case BackIn(piece=piece):
                bath.back_in(piece)
            case Change(what=what):
                self._change(bath, what)
            case Mended(cause=cause):
                self._mend(cause)
            case _ if piece_of(entry.detail):
                pass  # done to a piece that lies out of it
            case _ if entry.detail.kind in ("found_stopped", "abandon", "clean"):
                bath.switch_off()
        self._see_whether_gone()

    def _switch_on(self, run_id: str) -> None:
        if self.bath is None:
            with reading(self.shop.engine) as c:
                found = stand(self.shop, c, run_id)
            design = Design.of(found.plan, found.answer)
            rng = np.random.default_rng(self.card.seed)
            names = possible(design)
            name = self.card.fault if self.card.fault in names else names[0]
            start = self.card.id == FIRST or float(row(name)["start"]) > _FROM_THE_START  # type: ignore[arg-type]
            comes = (
                0.0
                if start
                else float(rng.uniform(*fault_row(name).get("comes_h", _COMES_H))) * 3600
            )
            self.hidden = fault(name, design, rng)
            self.bath = SimulatedBath(
                design, drawn(design, rng), [Scheduled(comes, self.hidden)],
                start_c=found.plan.mix.temperature_c,
            )  # fmt: skip
            self.loop = Loop.of(found.plan, found.answer)
            self.run_id, self.last = run_id, self.now()
            self.comes_at = self.now() + timedelta(seconds=comes)
        if run_id == self.run_id:
            self.bath.switch_on()

    def _change(self, bath: SimulatedBath, what: str) -> None:
        match what:
            case "turned":
                bath.turn()
                bath.mended("touch")
            case "flipped":
                bath.flip()
            case "scraped" | "swapped_anodes":
                bath.scrape()
            case "topped_up":
                bath.top_up()
            case "soda_added":
                bath.add_soda(0.25)
            case "clip_moved":
                bath.mended("contact_piece")
            case "limit_changed":
                bath.mended("wrong_range")

    def mend(self, cause: str) -> None:
        """Mend a cause with one's hands; takes its minutes. Raises StepRefusedError under power,
        InputError for no cause."""
        if cause not in causes():
            raise InputError(f"There is no cause {cause}.", allowed=", ".join(causes()))
        bath = self.hung()
        self.catch_up()
        if bath.supply.on and not row(cause).get("dry"):
            raise StepRefusedError(
                word("practice.power_is_on"), allowed=word("practice.off_first"),
                remedy=word("practice.off_first"),
            )  # fmt: skip
        self.let_pass(mend_minutes(cause))
        self._mend(cause)
        self._see_whether_gone()
        self.met.append(Met(self.now(), "", word("practice.mended", title=row(cause)["title"])))

    def _mend(self, cause: str) -> None:
        bath = self.hung()
        if not self.tried or self.tried[-1].cause != cause:
            self.tried.append(Tried(self.now(), cause))
        bath.mended(cause)
        if cause in gone_by("scraping"):
            bath.scrape()
        bath.settle()

    def _see_whether_gone(self) -> None:
        left = self.bath is not None and any(
            f.fault.id == self.fault for f in self.bath.faults
        )  # fmt: skip
        if self.bath is not None and not left and self.gone_at is None:
            self.gone_at = self.now()

    # --- Eyes and meters -----------------------------------------------------------------------

    def observe(self, ask_id: str) -> Met:
        """Look at or read something; takes its minutes. Raises InputError for what cannot be asked
        of this bath, StepRefusedError for hands in a bath under power."""
        bath, loop = self.hung(), self.circuit()
        ask = next((a for a in fitting(loop) if a.id == ask_id), None)
        if ask is None:
            raise InputError(
                f"{ask_id} cannot be asked of this bath.",
                allowed=", ".join(a.id for a in fitting(loop)),
            )
        self.catch_up()
        if ask.power == "off" and bath.supply.on:
            raise StepRefusedError(
                word("practice.power_is_on"), allowed=word("practice.off_first"),
                remedy=word("practice.off_first"),
            )  # fmt: skip
        self.let_pass(ask.minutes)
        system = self.system()
        read = CLAMP.read(bath, self.rng)
        figures = {"amps": read.current_a, "supply_v": read.supply_v, "tank_v": read.tank_v}
        if ask_id in figures:
            value = figures[ask_id]
            quantity = "current" if ask_id == "amps" else "voltage"
            field_of = {"amps": "current_a"}.get(ask_id, ask_id)
            detail: AnyDetail = Reading(**{field_of: value})
            text = str(show(value, quantity, system, 3))
        elif ask_id == "gas":
            seen = look(bath, self.rng)
            text = f"{said_gas(seen.gas)}; {word(f'practice.heard.{seen.sound}')}"
            detail = Look(bubbles=seen.gas)
        else:
            outcome = answered(ask, bath, loop, self.rng, _EYE)
            text = ask_words(ask, loop, system)[1][outcome]
            detail = Asked(ask=ask_id, outcome=outcome)
        kept = self._write_down(detail)
        made = Met(self.now(), ask_id, text, figures.get(ask_id), kept)
        self.met.append(made)
        return made

    def _write_down(self, detail: AnyDetail) -> bool:
        """What is met is an entry of the log; of a bath that is out or over it is met alone."""
        entry = Entry(client_id=new_id(), at=self.now(), detail=detail)
        with suppress(StepRefusedError):
            enter(self.shop, self.run_id, entry)
            return True
        return False

    def hung(self) -> SimulatedBath:
        """The bath; raises StepRefusedError before it was first switched on."""
        if self.bath is None:
            raise StepRefusedError(
                word("practice.not_on"), allowed=word("practice.on_first"),
                remedy=word("practice.on_first"),
            )  # fmt: skip
        return self.bath

    def circuit(self) -> Loop:
        """Its circuit by the plan, there with the bath."""
        assert self.loop is not None  # made with the bath
        return self.loop

    @property
    def fault(self) -> str:
        """What it was, by its name."""
        return self.drawn_fault().id

    def drawn_fault(self) -> BathFault:
        """The fault with its size, also when it was mended; there with the bath."""
        assert self.hidden is not None
        return self.hidden

    def close(self) -> None:
        """End it, and its shop with it."""
        self.shop.engine.dispose()
        shutil.rmtree(self.folder, ignore_errors=True)


def said_gas(gas: str) -> str:
    """Where gas comes from, as the look has it."""
    return word(f"choice.run.bubbles.{gas}")


# --- All of them ---------------------------------------------------------------------------------


_PREFIX = "yellow-bath-practice-"


def _clear_up() -> None:
    """Take away what servers left that were ended without a word."""
    for folder in Path(tempfile.gettempdir()).glob(f"{_PREFIX}*"):
        pid = folder.name.removeprefix(_PREFIX).split("-")[0]
        try:
            os.kill(int(pid), 0)
        except ProcessLookupError:
            shutil.rmtree(folder, ignore_errors=True)
        except (ValueError, PermissionError):
            continue  # not ours to judge


class Practices:
    """The practices of a server, the newest few of them; nothing of them outlasts it."""

    def __init__(
        self, solver: Solver, clock: Callable[[], datetime] = lambda: datetime.now(UTC)
    ) -> None:
        self._solver, self._clock = solver, clock
        self._open: OrderedDict[str, Practice] = OrderedDict()
        _clear_up()
        self._lock = threading.Lock()

    def begin(self, card_id: str, system: System, own_plan: bool = False) -> Practice:
        """A new practice by a card: with its plan made and its bath hung, or, with ``own_plan``,
        an empty shop in which the learner plans. Raises NotFoundError for no card."""
        card = card_of(card_id)
        folder = Path(tempfile.mkdtemp(prefix=f"{_PREFIX}{os.getpid()}-"))
        engine = open_engine(folder / "shop.sqlite")
        made = Practice(new_id(), card, folder, Shop(engine), self._clock)
        made.rng = np.random.default_rng(1000 + card.seed)
        made.shop = Shop(engine, made.now, self._solver)
        save_settings(made.shop, ShopSettings(name=word("practice.title"), system=system))
        if not own_plan:
            kept = create_plan(made.shop, practice_document(card.bath, system))
            made.run_id = start_run(made.shop, kept.revision.plan_id).row.id
        with self._lock:
            self._open[made.id] = made
            over = [self._open.popitem(last=False)[1] for _ in range(len(self._open) - MOST)]
        for one in over:
            one.close()
        return made

    def get(self, practice_id: str) -> Practice:
        """One that goes on; raises NotFoundError for one that is over."""
        with self._lock:
            found = self._open.get(practice_id)
            if found is None:
                raise NotFoundError(word("practice.over"))
            self._open.move_to_end(practice_id)
            return found

    def end(self, practice_id: str) -> None:
        """Over, with everything in it."""
        with self._lock:
            found = self._open.pop(practice_id, None)
        if found is not None:
            found.close()

    def close(self) -> None:
        """All of them, as when the server ends."""
        for practice_id in list(self._open):
            self.end(practice_id)
