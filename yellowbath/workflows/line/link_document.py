"""What hangs on a run's line: as it was chosen, how it stands, and how it is opened."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from yellowbath.core.run.interlocks import Interlocks
from yellowbath.core.run.samples import Sample
from yellowbath.instruments.finding import Found, find
from yellowbath.instruments.protocol import Identity, Instrument
from yellowbath.instruments.scpi import EXTRAS, STANDARD, Dialect, ScpiSupply
from yellowbath.instruments.visa import VisaLine
from yellowbath.workflows.line.stepping import LineStep

State = Literal["waiting", "linked", "lost", "off"]


class LinkDocument(BaseModel):
    """What hangs on a run's line. Without an address nothing is asked and samples may be pushed.

    ``probe``: it has the stand-in's own words for a probe in the liquid and for a watchdog.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    address: str = Field(default="", max_length=120)
    agreed: bool = False
    """That a device beyond this computer is the person's own."""
    probe: bool = False
    dialect: Dialect | None = None
    """How it is spoken to, once that was found; None while the standard's words do, or nobody has
    tried."""
    interlocks: Interlocks = Field(default_factory=Interlocks)
    watchdog_s: float | None = Field(default=None, ge=5, le=3600)


@dataclass(frozen=True)
class LinkState:
    """How a line stands; ``watchdog_s`` as the supply took it, ``why`` it is lost, or off;
    ``reacts_s``: from a danger to the supply switched off, by how fast it answers; ``step``: how
    the bath was asked last, or is being asked."""

    state: State = "waiting"
    since: datetime | None = None
    identity: Identity | None = None
    why: str = ""
    output_on: bool | None = None
    watchdog_s: float | None = None
    newest: Sample | None = None
    reacts_s: float | None = None
    step: LineStep | None = None


Opener = Callable[[LinkDocument], Instrument]


def open_instrument(document: LinkDocument) -> Instrument:
    """The instrument at an address; raises InputError for what is none."""
    spoken = document.dialect or STANDARD
    if document.probe:
        spoken = spoken.model_copy(update=EXTRAS)
    line = VisaLine(document.address, spoken.answer_s, spoken.ending)
    return ScpiSupply(line, spoken)


def find_out(document: LinkDocument) -> Found:
    """How the device at an address is spoken to, by questions only. Raises InstrumentError."""
    return find(lambda ending, patience: VisaLine(document.address, patience, ending))
