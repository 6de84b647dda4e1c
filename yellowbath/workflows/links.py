"""What hangs on the lines of running baths: asked once a second, kept, and switched off where an
interlock that was chosen says so.

A machine may lower or switch off; only hands switch on. A lost line cannot switch anything off: it
is told as an alarm, and where the supply has a watchdog of its own that is set beforehand.
"""

from __future__ import annotations

import contextlib
import logging
import threading
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Literal
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, Field

from yellowbath.core.errors import (
    InstrumentError,
    OutOfRangeError,
    StepRefusedError,
    YellowBathError,
)
from yellowbath.core.process.interlocks import WARM, Interlocks, Standing, Trip, tripped
from yellowbath.core.process.log import Entry, SwitchOff
from yellowbath.core.process.samples import Sample, Watch
from yellowbath.core.process.spoken import COVERS_S
from yellowbath.core.units import System, parse, show
from yellowbath.instruments.protocol import Identity, Instrument
from yellowbath.instruments.scpi import STANDARD, WITH_EXTRAS, ScpiSupply
from yellowbath.instruments.visa import VisaLine, resource_of
from yellowbath.store import samples as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.tables import OVER
from yellowbath.workflows.runs import enter, view_run
from yellowbath.workflows.samples import Intake, mark_of, ms_of, new_token, take
from yellowbath.workflows.shop import Shop, system_of
from yellowbath.workflows.spoken import speak
from yellowbath.workflows.standing import basis_at

_log = logging.getLogger(__name__)
_PERIOD_S = 1.0
_FLUSH = 2  # samples of a batch: what a kill may lose
_AGAIN_S = (1.0, 2.0, 5.0, 10.0, 30.0)  # waits between attempts at a line that is lost
_STAND_S = 30.0  # how often what a bath is held against is worked out anew
_RECENT = 120

State = Literal["waiting", "linked", "lost", "off"]


class LinkDocument(BaseModel):
    """What hangs on a run's line. Without an address nothing is asked and samples may be pushed.

    ``probe``: it has the stand-in's own words for a probe in the liquid and for a watchdog.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    address: str = Field(default="", max_length=120)
    probe: bool = False
    interlocks: Interlocks = Field(default_factory=Interlocks)
    watchdog_s: float | None = Field(default=None, ge=5, le=3600)


@dataclass(frozen=True)
class LinkState:
    """How a line stands; ``watchdog_s`` as the supply took it, ``why`` it is lost, or off."""

    state: State = "waiting"
    since: datetime | None = None
    identity: Identity | None = None
    why: str = ""
    output_on: bool | None = None
    watchdog_s: float | None = None
    newest: Sample | None = None


Opener = Callable[[LinkDocument], Instrument]


def open_instrument(document: LinkDocument) -> Instrument:
    """The instrument at an address; raises InputError for what is none."""
    return ScpiSupply(VisaLine(document.address), WITH_EXTRAS if document.probe else STANDARD)


@dataclass(frozen=True)
class Linked:
    """A run's line as it is kept; ``token`` only when it was made anew."""

    document: LinkDocument
    made_at: datetime
    token: str = ""


def link_of(shop: Shop, run_id: str) -> Linked | None:
    """What hangs on a run's line; None for nothing."""
    with reading(shop.engine) as c:
        row = store.link_of(c, run_id)
    if row is None or not row.active:
        return None
    return Linked(LinkDocument.model_validate(row.document), row.made_at)


def put_link(shop: Shop, run_id: str, document: LinkDocument, token: bool = False) -> Linked:
    """Hang something on a run's line. With ``token`` a new one for pushed samples is made, and the
    one before is worth nothing from then on. Raises InputError for an address that is none."""
    if document.address.strip():
        resource_of(document.address)
    with writing(shop.engine) as c:
        basis_at(shop, c, run_id)  # there is such a run
        document = _read_warm(document, system_of(c))
        had = store.link_of(c, run_id)
        made = new_token() if token or had is None else ""
        row = store.LinkRow(
            run_id, had.made_at if had else shop.now(), True, document.model_dump(mode="json"),
            mark_of(made) if made or had is None else had.token_mark,
        )  # fmt: skip
        store.put_link(c, row)
    return Linked(document, row.made_at, made if token else "")


def _read_warm(document: LinkDocument, system: System) -> LinkDocument:
    """The warmth to switch off at as it was typed, a bare number in the shop's unit. Raises
    NotUnderstoodError or OutOfRangeError."""
    typed = document.interlocks.over_warm.strip()
    if not typed:
        return document
    value = parse(typed, "temperature", system)
    if not WARM[0] <= value <= WARM[1]:
        low, high = (show(t, "temperature", system) for t in WARM)
        raise OutOfRangeError(
            f"{show(value, 'temperature', system)} is no warmth to switch a bath off at.",
            allowed=f"{low} to {high}.",
            remedy="Check the number and the unit.",
        )
    read = document.interlocks.model_copy(update={"over_warm_c": value})
    return document.model_copy(update={"interlocks": read})


def identify(document: LinkDocument, opener: Opener = open_instrument) -> Identity:
    """Who answers at an address, before it is hung on a run. Raises InstrumentError, InputError."""
    instrument = opener(document)
    try:
        found = instrument.identify()
        instrument.read()
        return found
    finally:
        instrument.close()


class Links:
    """The lines of a shop that are being listened to, a thread each."""

    def __init__(self, shop: Shop, opener: Opener = open_instrument) -> None:
        self._shop, self._opener = shop, opener
        self._open: dict[str, _Listener] = {}
        self._lock = threading.Lock()

    def start(self) -> None:
        """Take up every line that was in use, as after a start of the server."""
        with reading(self._shop.engine) as c:
            rows = store.active_links(c)
        for row in rows:
            self.take_up(row.run_id, LinkDocument.model_validate(row.document))

    def take_up(self, run_id: str, document: LinkDocument) -> None:
        """Listen to a line, in the place of what was listened to for the run before."""
        self.drop(run_id)
        if not document.address.strip():
            return
        listener = _Listener(self._shop, run_id, document, self._opener)
        with self._lock:
            self._open[run_id] = listener
        listener.start()

    def drop(self, run_id: str) -> None:
        with self._lock:
            had = self._open.pop(run_id, None)
        if had is not None:
            had.stop()

    def let_go(self, run_id: str) -> None:
        """Take a run's line off; nothing at the device changes."""
        self.drop(run_id)
        with writing(self._shop.engine) as c:
            store.let_go(c, run_id)

    def state(self, run_id: str) -> LinkState:
        with self._lock:
            found = self._open.get(run_id)
        return found.state if found else LinkState()

    def close(self) -> None:
        """Stop listening; what was measured is kept first."""
        with self._lock:
            open_now, self._open = list(self._open.values()), {}
        for one in open_now:
            one.stop()


@dataclass
class _Held:
    """What a bath is held against, and until when that holds [s]."""

    standing: Standing
    system: System
    intake: Intake
    until_s: float
    over: bool


@dataclass
class _Listener:
    """One line: asks, keeps, judges, switches off."""

    shop: Shop
    run_id: str
    document: LinkDocument
    opener: Opener
    state: LinkState = field(default_factory=LinkState)

    def __post_init__(self) -> None:
        self._stop = threading.Event()
        self._buffer: list[Sample] = []
        self._recent: deque[Sample] = deque(maxlen=_RECENT)
        self._held: _Held | None = None
        self._instrument: Instrument | None = None
        self._watch = Watch()
        self._to_write: Entry | None = None
        self._said = False
        self._speak_s = 0.0
        self._thread = threading.Thread(target=self._run, name=f"link {self.run_id}", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stop.set()
        if self._thread is not threading.current_thread():
            self._thread.join(timeout=5)

    # --- The loop -----------------------------------------------------------------------------

    def _run(self) -> None:
        attempts = 0
        while not self._stop.is_set():
            began = time.monotonic()  # a wall clock that is set must not make it wait
            try:
                self._once()
                attempts = 0
                wait = _PERIOD_S - (time.monotonic() - began)
            except InstrumentError as error:
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
            self._stop.wait(max(wait, 0.01))
        self._flush()
        if self._instrument is not None:
            self._instrument.close()

    def _once(self) -> None:
        instrument = self._linked()
        now = self.shop.now()
        read = instrument.read()
        sample = Sample(ms_of(now), read.amps, read.volts, read.bath_c)
        self.state = replace(
            self.state, state="linked" if read.output_on is not False else "off",
            output_on=read.output_on, newest=sample,
            why=self.state.why if read.output_on is False and self.state.state == "off" else "",
            since=self.state.since if self.state.state == "linked" else now,
        )  # fmt: skip
        self._buffer.append(sample)
        # what may be dangerous comes before everything that a full or busy disk could hold up
        self._guard(instrument, sample, now)
        if len(self._buffer) >= _FLUSH:
            self._flush()
        self._hold(now)
        self._write()
        if time.monotonic() >= self._speak_s:
            self._speak_s = time.monotonic() + COVERS_S
            speak(self.shop, self.run_id)

    def _guard(self, instrument: Instrument, sample: Sample, now: datetime) -> None:
        """Switch off where an interlock trips on what can be believed; by what was known last of
        the bath, where that cannot be worked out now."""
        held = self._held or self._hold(now)
        if not self._watch.judge(sample, replace(held.intake.able, now_ms=sample.at_ms)):
            self._recent.append(sample)
        trip = tripped(self.document.interlocks, self._recent, held.standing, held.system)
        if trip is not None and self.state.output_on is not False and not held.over:
            self._switch_off(instrument, trip, now)

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

    def _lost(self, why: str) -> None:
        if self.state.state != "lost":
            self._flush()
            self.state = replace(
                self.state, state="lost", since=self.shop.now(), output_on=None, newest=None
            )
        self.state = replace(self.state, why=why)
        if self._instrument is not None:
            self._instrument.close()

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
                intake = Intake.of(c, self.run_id, basis, run.begun)
            system = system_of(c)
        standing = Standing(basis.expected_a, basis.limit_a, basis.open_v, view.progress.share_done)
        if run.state in OVER:
            self._end()
        over = run.state not in ("running", "paused")
        self._held = _Held(standing, system, intake, time.monotonic() + _STAND_S, over)
        return self._held

    def _end(self) -> None:
        """The run is over: nobody listens to it any more."""
        self._stop.set()
        with writing(self.shop.engine) as c:
            store.let_go(c, self.run_id)

    # --- Switching off ------------------------------------------------------------------------

    def _switch_off(self, instrument: Instrument, trip: Trip, now: datetime) -> None:
        """Off first, then the log; where the supply does not obey, that is the alarm."""
        try:
            instrument.off()
        except InstrumentError as error:
            raise InstrumentError(
                f"It was to be switched off: {trip.reason} It did not do so: {error.problem}",
                remedy="Switch it off at the wall.",
            ) from error
        self._to_write = Entry(
            client_id=f"link{uuid4().hex}", at=now,
            detail=SwitchOff(by=trip.which, reason=trip.reason),
        )  # fmt: skip
        self.state = replace(self.state, state="off", output_on=False, why=trip.reason)
        self._recent.clear()

    def _write(self) -> None:
        """The reason into the log, as often as it takes; a step that has no place any more was
        entered by hand meanwhile."""
        if self._to_write is None:
            return
        self._flush()
        with contextlib.suppress(StepRefusedError):
            enter(self.shop, self.run_id, self._to_write)
        self._to_write, self._held = None, None
