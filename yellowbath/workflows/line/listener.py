"""One line: a thread that asks, keeps, judges and switches off."""

from __future__ import annotations

import contextlib
import logging
import math
import threading
import time
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Literal
from uuid import uuid4

from yellowbath.core.checks.limits import limit
from yellowbath.core.errors import (
    BadAnswerError,
    InstrumentError,
    InstrumentRefusedError,
    StepRefusedError,
    YellowBathError,
)
from yellowbath.core.run.interlocks import GuardStanding, Trip, Which
from yellowbath.core.run.log import Alarm, Entry, SwitchOff
from yellowbath.core.run.moves import OVER
from yellowbath.core.run.samples import Sample, Watch
from yellowbath.core.run.spoken import COVERS_S
from yellowbath.core.tell.schedule import Shout
from yellowbath.core.units import System
from yellowbath.core.words import word
from yellowbath.instruments.protocol import Instrument, Measured
from yellowbath.store import runs as run_store
from yellowbath.store import samples as store
from yellowbath.store.engine import reading, writing
from yellowbath.workflows.line.link_document import LinkDocument, LinkState, Opener, find_out
from yellowbath.workflows.line.samples import Intake, ms_of, standing_of, take, within_range
from yellowbath.workflows.line.spoken import speak
from yellowbath.workflows.line.stepping import ASKED, lost, step_down
from yellowbath.workflows.runs.alarms import tell
from yellowbath.workflows.runs.levels import write_levels
from yellowbath.workflows.runs.runs import enter, view_run
from yellowbath.workflows.runs.standing import basis_at
from yellowbath.workflows.shop.shop import Shop

_log = logging.getLogger(__name__)
_PERIOD_S = 1.0
_FLUSH = 2  # samples of a batch: what a kill may lose
_AGAIN_S = (1.0, 2.0, 5.0, 10.0, 30.0)  # waits between attempts at a line that is lost
_STAND_S = 30.0  # how often what a bath is held against is worked out anew
_WRITE_S = 0.3  # that a danger may take into the log before the supply is told
_LOST_S = 10.0  # that a line which was relied on may be lost before it is shouted; judged
_OFF_A = 0.1  # amps up to which a supply that was told to switch off has done so; judged
_NONSENSE = 5  # answers running that make no sense, from which the line is lost; judged
_SETTLES = 4  # times it is told while its meter may still be settling; judged
_ON = ("ready", "running", "paused")  # states in which a bath can have power


@dataclass
class _Held:
    """What a bath is held against, and until when that holds [s]; ``state`` of its run."""

    standing: GuardStanding
    system: System
    intake: Intake
    until_s: float
    state: str

    @property
    def over(self) -> bool:
        return self.state not in _ON


@dataclass
class Listener:
    """One line: asks, keeps, judges, switches off."""

    shop: Shop
    run_id: str
    document: LinkDocument
    opener: Opener
    state: LinkState = field(default_factory=LinkState)

    def __post_init__(self) -> None:
        self._stop = threading.Event()
        self._buffer: list[Sample] = []
        self._held: _Held | None = None
        self._instrument: Instrument | None = None
        self._watch = Watch()
        self._to_write: Entry | None = None
        self._off_for: Trip | None = None
        self._pushed: Trip | None = None
        self._limit_a: float | None = None
        self._told_s: dict[str, float] = {}
        self._tries = 0
        self._looked_back = self._tried_words = False
        self._nonsense = 0
        self._said = False
        self._speak_s = 0.0
        self._clears = False
        self._ask_step = False
        self.cleared = False
        self._thread = threading.Thread(target=self._run, name=f"link {self.run_id}", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self, clears: bool = False) -> None:
        """Listen no longer; ``clears``: the supply's own watchdog is taken off first, which else
        would switch it off a while after."""
        self._clears = clears
        self._stop.set()
        if self._thread is not threading.current_thread():
            self._thread.join(timeout=5)
        self.shop.shouts.end(self.run_id)

    def act(self, trip: Trip) -> None:
        """Samples that were sent by somebody else tell of a danger: switch off with the next
        question."""
        self._pushed = trip

    def ask_step(self) -> None:
        """Step the supply down and back with the next question: a person stands by. Raises
        StepRefusedError where it is no time for that."""
        held, able = self._held, self.state.state == "linked" and self._limit_a is not None
        if self._ask_step:
            raise StepRefusedError(word("levels.asked_already"))
        if not able or held is None or held.state != "running" or self._off_for is not None:
            raise StepRefusedError(word("levels.not_now"))
        if any(s.kind == "danger" for s in view_run(self.shop, self.run_id).run.signs):
            raise StepRefusedError(word("levels.not_now"))  # power off comes first
        self._ask_step = True
        self.state = replace(self.state, step=ASKED)

    # --- The loop -----------------------------------------------------------------------------

    def _run(self) -> None:
        attempts = 0
        while not self._stop.is_set():
            began = time.monotonic()  # a wall clock that is set must not make it wait
            try:
                new = self.state.identity is None and self.document.dialect is None
                if attempts == 1 and new and not self._tried_words:
                    self._find_words()
                self._once()
                attempts = self._nonsense = 0
                wait = _PERIOD_S - (time.monotonic() - began)
            except InstrumentError as error:
                self._nonsense += 1
                linked = self.state.state in ("linked", "off")
                if isinstance(error, BadAnswerError) and linked and self._nonsense < _NONSENSE:
                    wait = _PERIOD_S  # it costs one sample, not the line
                else:
                    wait = _AGAIN_S[min(attempts, len(_AGAIN_S) - 1)]
                    attempts += 1
                    self._lost(str(error))
            except YellowBathError as error:  # the store is full or busy, the run is gone
                wait = _AGAIN_S[2]
                self._lost(str(error))
            except Exception:
                _log.exception("the line of run %s", self.run_id)
                wait = _AGAIN_S[-1]
                self._lost("Something broke in Yellow Bath itself; it is tried again.")
            if self._off_for is not None:
                wait = min(wait, _PERIOD_S)  # what does not obey is told again every second
            self._stop.wait(max(wait, 0.01))
        self._flush()
        if self._instrument is not None:
            if self._clears and self.state.watchdog_s is not None:
                with contextlib.suppress(InstrumentError):
                    self.cleared = self._instrument.watchdog_off()
            self._instrument.close()

    def _once(self) -> None:
        instrument = self._linked()
        if self._off_for is not None:
            self._off(instrument)
        now, began = self.shop.now(), time.monotonic()
        read = instrument.read()
        sample = within_range(Sample(ms_of(now), read.amps, read.volts, read.bath_c))
        self._limit_a = read.limit_a
        self._answered(read, sample, now, time.monotonic() - began)
        self._buffer.append(sample)
        # what may be dangerous comes before everything that a full or busy disk could hold up
        self._guard(instrument, sample, now)
        if len(self._buffer) >= _FLUSH:
            self._flush()
        self._hold(now)
        self._write()
        if self._ask_step:
            self._step(instrument)
        if time.monotonic() >= self._speak_s:
            self._speak_s = time.monotonic() + COVERS_S
            speak(self.shop, self.run_id)

    def _step(self, instrument: Instrument) -> None:
        """Down and back. What is read meanwhile is judged as ever, but is no sample of the bath."""

        def look() -> Measured | None:
            now, began = self.shop.now(), time.monotonic()
            read = instrument.read()
            sample = within_range(Sample(ms_of(now), read.amps, read.volts, read.bath_c))
            self._answered(read, sample, now, time.monotonic() - began)
            self._guard(instrument, sample, now)
            return None if self._off_for is not None or read.output_on is False else read

        self._ask_step = False
        try:
            made = step_down(instrument, look, self._stop.wait)
        except InstrumentError:
            self.state = replace(self.state, step=lost())
            raise
        if made.high is not None and made.low is not None:
            with contextlib.suppress(YellowBathError):  # levels that tell nothing
                write_levels(self.shop, self.run_id, made.high, made.low)
        self.state = replace(self.state, step=made)

    def _answered(self, read: Measured, sample: Sample, now: datetime, took_s: float) -> None:
        """A reading came: how the line stands by it."""
        self.shop.shouts.end(self.run_id, "lost")
        off = read.output_on is False
        period = max(took_s, _PERIOD_S)
        reacts = math.ceil(limit("interlocks", "held_s") / period) * period + 2 * took_s
        self.state = replace(
            self.state, state="off" if off else "linked",
            output_on=read.output_on, newest=sample, reacts_s=reacts,
            why=self.state.why if off and self.state.state == "off" else "",
            since=self.state.since if self.state.state == "linked" else now,
        )  # fmt: skip

    def _guard(self, instrument: Instrument, sample: Sample, now: datetime) -> None:
        """Judge a sample as it came, believed or not; by what was known last of the bath, where
        that cannot be worked out now. What was chosen switches off; any other danger is told."""
        held = self._held or self._hold(now)
        why = self._watch.judge(sample, replace(held.intake.able, now_ms=sample.at_ms))
        if self._off_for is not None or held.over:
            return
        self._look_back(held)
        standing = held.standing
        if self._limit_a is not None:  # as it stands at the supply, whoever set it
            basis = replace(standing.basis, limit_a=self._limit_a)
            standing = replace(standing, basis=basis)
        trip = self._pushed or held.intake.guard.judge(
            sample, why, standing, self.document.interlocks, held.system
        )
        self._pushed = None
        if trip is None:
            return
        if trip.acts and not _still(sample, self.state.output_on):
            return  # it is off already
        if trip.acts:
            self._trip(instrument, trip, now)
        else:
            self._tell(trip, now, acts=False)

    def _linked(self) -> Instrument:
        if self._instrument is None:
            self._instrument = self.opener(self.document)
        if self.state.identity is None or self.state.state == "lost":
            identity = self._instrument.identify()
            dog = None
            if self.document.watchdog_s is not None:
                dog = self._instrument.watchdog(self.document.watchdog_s)
            self.state = replace(self.state, identity=identity, watchdog_s=dog)
        return self._instrument

    def _find_words(self) -> None:
        """The standard's words did not do: found out once, and kept as that supply's own."""
        self._tried_words = True
        found = find_out(self.document)
        self.document = self.document.model_copy(update={"dialect": found.dialect})
        if self._instrument is not None:
            self._instrument.close()
        self._instrument = None
        with writing(self.shop.engine) as c:
            row = store.link_of(c, self.run_id)
            if row is not None:
                kept = {**row.document, "dialect": found.dialect.model_dump(mode="json")}
                store.put_link(c, replace(row, document=kept))

    def _lost(self, why: str) -> None:
        now = self.shop.now()
        if self.state.state != "lost":
            self._flush()
            self.state = replace(self.state, state="lost", since=now, output_on=None, newest=None)
        self.state = replace(self.state, why=why)
        if self._instrument is not None:
            self._instrument.close()
        if self._off_for is not None and self._run_state() not in ("ready", "running"):
            self._off_for = None  # hands have pulled its plug, and said that it is off
            self.shop.shouts.end(self.run_id)
        elif self._off_for is not None:
            self._shout("disobeys", self._off_for.reason)
        elif self.document.interlocks.relied_on and self.state.since is not None:
            long = now - self.state.since >= timedelta(seconds=_LOST_S)
            if long and self._run_state() == "running":
                self._shout("lost", why)

    def _run_state(self) -> str:
        """Where the run stands in its log; as it was last known, where that cannot be read now."""
        try:
            with reading(self.shop.engine) as c:
                return run_store.run_row(c, self.run_id).state
        except Exception:
            return self._held.state if self._held else "running"

    def _shout(self, kind: Literal["disobeys", "lost"], reason: str) -> None:
        if self.shop.shouts.say(self.run_id, Shout(kind, reason)):
            _log.warning("run %s: %s: %s", self.run_id, kind, reason)

    def _flush(self) -> None:
        """Keep what was measured; where that cannot be it waits, the newest ten minutes of it, and
        the line goes on being listened to."""
        if not self._buffer:
            return
        try:
            intake = self._hold(self.shop.now()).intake
            take(self.shop, self.run_id, self._buffer, intake=intake)
            self._buffer, self._said = [], False
        except Exception as error:
            self._buffer = self._buffer[-600:]
            if not self._said:  # once, or a full disk gets a longer log every second
                _log.warning("samples of run %s are not kept yet: %s", self.run_id, error)
            self._said = True

    def _hold(self, now: datetime) -> _Held:
        """What it is held against, worked out anew now and then."""
        if self._held is not None and time.monotonic() < self._held.until_s:
            return self._held
        view = view_run(self.shop, self.run_id)
        with reading(self.shop.engine) as c:
            basis, run = basis_at(self.shop, c, self.run_id)
            intake = self._held.intake if self._held else None
            if intake is None or (intake.able.on_ms is None and run.begun):
                intake = Intake.of(c, self.run_id, basis, run)
        standing = standing_of(basis, run, view.progress.share_done)
        if run.state in OVER:
            self._end()
        self._held = _Held(
            standing, view.system, intake, time.monotonic() + _STAND_S, run.state
        )  # fmt: skip
        return self._held

    def _end(self) -> None:
        """The run is over: nobody listens to it any more."""
        self._stop.set()
        with writing(self.shop.engine) as c:
            store.let_go(c, self.run_id)

    # --- Switching off ------------------------------------------------------------------------

    def _tell(self, trip: Trip, now: datetime, acts: bool) -> None:
        """The danger into the log; a store that cannot be written to holds nothing up. What stands
        there is not looked up again with every sample."""
        key = trip.danger.key if trip.danger else trip.which
        if not acts and time.monotonic() < self._told_s.get(key, 0.0):
            return
        self._told_s[key] = time.monotonic() + _STAND_S
        try:
            tell(self.shop, self.run_id, trip, now, acts)
        except Exception as error:
            _log.warning("a danger of run %s is not in its log: %s", self.run_id, error)

    def _trip(self, instrument: Instrument, trip: Trip, now: datetime) -> None:
        """The danger into the log, so that the reason is there whatever happens next; then off. The
        supply does not wait for a disk."""
        writer = threading.Thread(target=self._tell, args=(trip, now, True), daemon=True)
        writer.start()
        writer.join(_WRITE_S)
        self._off_for, self._tries = trip, 0
        self._to_write = _off_entry(trip.which, trip.reason, now)
        self._off(instrument)

    def _off(self, instrument: Instrument) -> None:
        """Tell it to switch off and see that it is; a second time at once where it is not. What
        then still does not obey is shouted, and told again with every turn."""
        trip = self._off_for
        assert trip is not None
        for _ in range(2):
            self._tries += 1
            said = ""
            try:
                instrument.off()
                read = instrument.read()
                sample = Sample(ms_of(self.shop.now()), read.amps, read.volts, read.bath_c)
                if not _still(sample, read.output_on):
                    self._obeyed(trip, read)
                    return
                if read.output_on is False and self._tries < _SETTLES:
                    return  # its amps may lag behind: looked at again in a second
            except InstrumentRefusedError:
                said = ""  # that it is still on is what is shouted
            except InstrumentError as error:
                said = str(error)
        self._shout("disobeys", f"{trip.reason} {said}".strip())

    def _obeyed(self, trip: Trip, read: Measured) -> None:
        self.shop.shouts.end(self.run_id)
        self._off_for = None
        self.state = replace(self.state, state="off", output_on=read.output_on, why=trip.reason)
        if self._held is not None:
            self._held.intake.guard.since.clear()

    def _look_back(self, held: _Held) -> None:
        """Once: whether it was being switched off when Yellow Bath itself was ended. What was begun
        is then written to its end; where it is still on, it trips again by itself."""
        if self._looked_back:
            return
        self._looked_back = True
        newest = self.state.newest
        if held.state != "running" or newest is None or _still(newest, self.state.output_on):
            return
        with reading(self.shop.engine) as c:
            alarm = run_store.newest_of(c, self.run_id, "alarm")
            on = run_store.newest_of(c, self.run_id, "switch_on")
        if self.document.interlocks.dose and held.standing.share_done >= 1:
            self._to_write = _off_entry("dose", word("interlock.dose"), self.shop.now())
            return
        if alarm is None or (on is not None and alarm.at < on.at):
            return
        detail = alarm.detail
        if isinstance(detail, Alarm) and detail.acts:
            self._to_write = _off_entry(_WHICH.get(detail.which, "danger"), detail.reason, alarm.at)

    def _write(self) -> None:
        """The reason into the log, as often as it takes; a step that has no place any more was
        entered by hand meanwhile."""
        if self._to_write is None or self._off_for is not None:
            return
        self._flush()
        with contextlib.suppress(StepRefusedError):
            enter(self.shop, self.run_id, self._to_write)
        self._to_write, self._held = None, None


_WHICH: dict[str, Which] = {
    "touch": "touch", "over_amps": "over_amps", "over_warm": "over_warm",
}  # fmt: skip


def _off_entry(which: Which, reason: str, at: datetime) -> Entry:
    detail = SwitchOff(by=which, reason=reason[:1000])
    return Entry(client_id=f"link{uuid4().hex}", at=at, detail=detail)


def _still(sample: Sample, output_on: bool | None) -> bool:
    """Whether current can still flow: it says that it is on, or amps are measured."""
    flows = sample.amps is not None and abs(sample.amps) > _OFF_A
    return flows or (output_on is True) or (output_on is None and sample.amps is None)
