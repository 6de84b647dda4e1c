"""What hangs on the lines of running baths: asked once a second, kept, and switched off where an
interlock that was chosen says so.

A machine may lower or switch off; only hands switch on. A lost line cannot switch anything off: it
is told as an alarm, and where the supply has a watchdog of its own that is set beforehand.
"""

from __future__ import annotations

import threading
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Connection

from yellowbath.core.ear import parse
from yellowbath.core.errors import (
    InputError,
    InstrumentError,
    OutOfRangeError,
    StepRefusedError,
)
from yellowbath.core.run.interlocks import WARM, Trip
from yellowbath.core.units import System, show
from yellowbath.core.words import word
from yellowbath.instruments.address import address_of, require_agreed
from yellowbath.instruments.finding import Found
from yellowbath.instruments.scpi import STANDARD
from yellowbath.store import runs as run_store
from yellowbath.store import samples as store
from yellowbath.store.engine import reading, writing
from yellowbath.workflows.line.link_document import (
    LinkDocument,
    LinkState,
    Opener,
    find_out,
    open_instrument,
)
from yellowbath.workflows.line.listener import Listener
from yellowbath.workflows.line.samples import mark_of, new_token
from yellowbath.workflows.runs.standing import basis_at
from yellowbath.workflows.shop.shop import Shop, system_of


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
    with writing(shop.engine) as c:
        document = _at_its_place(c, run_id, document)
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


def _at_its_place(c: Connection, run_id: str, document: LinkDocument) -> LinkDocument:
    """A document whose address is one, agreed to, and no other run's. Raises InputError."""
    if not document.address.strip():
        return document
    where = address_of(document.address)
    others = [
        (row.run_id, LinkDocument.model_validate(row.document)) for row in store.active_links(c)
    ]
    for other, its in others:
        if other != run_id and its.address.strip() and address_of(its.address).text == where.text:
            raise InputError(
                f"{where.text} hangs on another bath: {run_store.run_row(c, other).title}.",
                allowed="One supply or meter for each bath: two would switch each other off.",
                remedy="Let it go there first, or type the other supply's address.",
            )
    known = any(its.agreed and its.address.strip() == document.address.strip() for _, its in others)
    require_agreed(where, document.agreed or known)
    return document


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


def identify(document: LinkDocument, opener: Opener = open_instrument) -> Found:
    """Who answers at an address, before it is hung on a run, and how it is spoken to: by the
    standard's words, by those that are typed, else by what is found by trying. Raises
    InstrumentError, InputError."""
    require_agreed(address_of(document.address), document.agreed)
    instrument = opener(document)
    try:
        who = instrument.identify()
        instrument.read()
        return Found(document.dialect or STANDARD, who)
    except InstrumentError:
        if document.dialect is not None:
            raise
        instrument.close()
        return find_out(document)
    finally:
        instrument.close()


class Links:
    """The lines of a shop that are being listened to, a thread each."""

    def __init__(self, shop: Shop, opener: Opener = open_instrument) -> None:
        self._shop, self._opener = shop, opener
        self._open: dict[str, Listener] = {}
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
        listener = Listener(self._shop, run_id, document, self._opener)
        with self._lock:
            self._open[run_id] = listener
        listener.start()

    def drop(self, run_id: str, clears: bool = False) -> bool:
        """Listen no longer; ``clears`` its watchdog too. Whether that was."""
        with self._lock:
            had = self._open.pop(run_id, None)
        if had is not None:
            had.stop(clears)
        return had is not None and had.cleared

    def act(self, run_id: str, trips: Sequence[tuple[int, Trip]]) -> None:
        """Samples that were sent tell of dangers: those chosen to switch off do so, where the run
        has a supply on its line."""
        with self._lock:
            found = self._open.get(run_id)
        acting = [trip for _, trip in trips if trip.acts]
        if found is not None and acting:
            found.act(acting[0])

    def ask_step(self, run_id: str) -> LinkState:
        """Ask a bath by a step of its supply: somebody stands by it, and said so. Raises
        StepRefusedError."""
        with self._lock:
            found = self._open.get(run_id)
        if found is None:
            raise StepRefusedError(word("levels.not_now"))
        found.ask_step()
        return found.state

    def let_go(self, run_id: str) -> bool:
        """Take a run's line off; nothing at the device changes but its own watchdog, which would
        switch it off a while after. Whether that was taken off."""
        cleared = self.drop(run_id, clears=True)
        with writing(self._shop.engine) as c:
            store.let_go(c, run_id)
        return cleared

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
