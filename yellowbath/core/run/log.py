"""What can be written into a run's log. Appended only; a mistake is voided by a new entry.

Each entry has a client id, made where it was typed, so that sending it twice keeps it once.
Times are aware and UTC. Numbers are SI.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from yellowbath.core.document.scrap import Scrap
from yellowbath.core.moments import Moment
from yellowbath.core.run.dangers import By, Key

ShareClean = Annotated[float, Field(ge=0, le=1)]
Amps = Annotated[float, Field(ge=0, le=200)]
Volts = Annotated[float, Field(ge=0, le=60)]
Note = Annotated[str, Field(max_length=1000)]
Name = Annotated[str, Field(max_length=60)]


class Detail(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class OfPieces(Detail):
    """Of all pieces that are in the bath; or of one of several by itself, by its id, while the
    others go on."""

    piece: Annotated[str, Field(max_length=60)] = ""


class Checklist(Detail):
    """The switch-on list, every point ticked."""

    kind: Literal["checklist"] = "checklist"
    ticked: list[Name] = Field(max_length=60)


class SwitchOn(Detail):
    """The power went on. ``already``: so it was found; the bath ran before it was set up here, and
    its plan was made afterwards, so nothing bars that it is said."""

    kind: Literal["switch_on"] = "switch_on"
    already: bool = False


class SwitchOff(Detail):
    """The power went off, by hand; or by an interlock, which says why."""

    kind: Literal["switch_off"] = "switch_off"
    by: Literal["hand", "touch", "over_amps", "over_warm", "dose", "danger"] = "hand"
    reason: Note = ""


class Alarm(Detail):
    """What a line or a meter's file showed and is a danger, or a fault of the meter; written before
    anything is done about it. ``acts``: the supply is being told to switch off."""

    kind: Literal["alarm"] = "alarm"
    which: Key
    by: By
    reason: Note
    acts: bool = False


class FoundStopped(Detail):
    """A silent stop discovered later; the entry's time is when the current stopped."""

    kind: Literal["found_stopped"] = "found_stopped"
    cause: Note = ""


class Reading(Detail):
    """Meter readings; all may be missing ("no reading")."""

    kind: Literal["reading"] = "reading"
    current_a: Amps | None = None
    supply_v: Volts | None = None
    tank_v: Volts | None = None
    bath_c: Annotated[float, Field(ge=-5, le=100)] | None = None
    bath: Annotated[str, Field(max_length=24)] = ""
    """The bath's temperature as typed, in any unit; read when it is entered, kept as it was."""
    method: Literal["clamp", "dial", "line", "none"] = "clamp"
    """``line``: off an instrument that is read every second; the mean of ten."""


class OneLead(Detail):
    """Amps round the lead of one scrap or one piece, by its id: never the bath's own."""

    kind: Literal["one_lead"] = "one_lead"
    lead: Name
    current_a: Amps
    method: Literal["clamp", "dial"] = "clamp"


class Look(Detail):
    """What is seen, smelt and felt while it runs: gas, and what must not be."""

    kind: Literal["look"] = "look"
    bubbles: Literal["whole", "one_side", "clip_only", "none"] | None = None
    signs: list[Literal["touch", "smoke", "smell", "sparks", "hot"]] = Field(
        default_factory=list, max_length=5
    )

    @model_validator(mode="after")
    def _something(self) -> Look:
        if self.bubbles is None and not self.signs:
            raise ValueError("a look says what was seen: gas, or a sign of danger")
        return self


class GoesIn(Detail):
    """Scrap that goes in: what it is made of, its form and its size as it was typed."""

    material: Scrap
    form: Literal["rod", "plate"] = "rod"
    size: Annotated[str, Field(max_length=40)] = ""
    count: Annotated[int, Field(ge=1, le=40)] = 1


class Change(Detail):
    """One thing done to the bath, with amps before and after where read, by which meter, and what
    went in."""

    kind: Literal["change"] = "change"
    what: Literal[
        "turned", "flipped", "scraped", "swapped_anodes", "added_anode", "topped_up", "clip_moved",
        "soda_added", "limit_changed", "other",
    ]  # fmt: skip
    before_a: Amps | None = None
    after_a: Amps | None = None
    method: Literal["clamp", "dial"] = "clamp"
    note: Note = ""
    goes_in: GoesIn | None = None


class InBath(Detail):
    """Whether what the plan says since is so in the bath now, or an idea; of which revision, and of
    which of its stops."""

    kind: Literal["in_bath"] = "in_bath"
    so: Literal["now", "idea"]
    head: Annotated[int, Field(ge=1)]
    stops: list[Annotated[str, Field(max_length=400)]] = Field(default_factory=list, max_length=60)


class Asked(Detail):
    """Something was asked of the bath, and what was met; as ``core/causes/asks.py`` has them."""

    kind: Literal["asked"] = "asked"
    ask: Name
    outcome: Name


class Mended(Detail):
    """A cause was mended; whether the bath then did as it should."""

    kind: Literal["mended"] = "mended"
    cause: Name
    helped: bool = True
    note: Note = ""


class Lift(OfPieces):
    """Power off, piece out. Of one that lies out with the others: it stays out as they go back."""

    kind: Literal["lift"] = "lift"


class BackIn(OfPieces):
    """Piece back in the bath, power off."""

    kind: Literal["back_in"] = "back_in"


class Inspection(OfPieces):
    """A look at the brushed piece: shares clean by region, "not yet", or "equal to last time";
    ``sure``: it was far from what was thought, and said once more."""

    kind: Literal["inspection"] = "inspection"
    verdict: Literal["share", "not_yet", "equal"]
    shares: dict[Name, ShareClean] = Field(default_factory=dict, max_length=400)
    note: Note = ""
    sure: bool = False


class Clean(OfPieces):
    """The decision that the bath has done its part."""

    kind: Literal["clean"] = "clean"


class FinishStart(OfPieces):
    kind: Literal["finish_start"] = "finish_start"


class FinishStep(OfPieces):
    """One step of the finish begun, done or left out on purpose."""

    kind: Literal["finish_step"] = "finish_step"
    step: Name
    mark: Literal["begun", "done", "skipped"]
    choice: Annotated[str, Field(max_length=60)] = ""


class Close(OfPieces):
    """The entry for the book."""

    kind: Literal["close"] = "close"
    hands_s: Annotated[float, Field(ge=0, le=3.6e6)] = 0.0
    materials: Annotated[float, Field(ge=0, le=1e6)] = 0.0
    paid: Annotated[float, Field(ge=0, le=1e7)] | None = None
    worth_before: Annotated[float, Field(ge=0, le=1e7)] | None = None
    worth_after: Annotated[float, Field(ge=0, le=1e7)] | None = None
    stamps: Note = ""
    remarks: Note = ""
    photos: list[Annotated[str, Field(max_length=200)]] = Field(default_factory=list, max_length=12)
    mix_kept: bool = True


class Abandon(Detail):
    kind: Literal["abandon"] = "abandon"
    reason: Note = ""


class Remark(Detail):
    kind: Literal["remark"] = "remark"
    text: Annotated[str, Field(min_length=1, max_length=1000)]


class Void(Detail):
    """Takes an earlier entry back, by its client id; the earlier row stays."""

    kind: Literal["void"] = "void"
    target: Annotated[str, Field(max_length=64)]
    reason: Note = ""


AnyDetail = Annotated[
    Checklist
    | SwitchOn
    | SwitchOff
    | FoundStopped
    | Alarm
    | Reading
    | OneLead
    | Look
    | Change
    | InBath
    | Asked
    | Mended
    | Lift
    | BackIn
    | Inspection
    | Clean
    | FinishStart
    | FinishStep
    | Close
    | Abandon
    | Remark
    | Void,
    Field(discriminator="kind"),
]


class Entry(BaseModel):
    """One line of the log: when it happened, and what."""

    model_config = ConfigDict(extra="forbid")

    client_id: Annotated[str, Field(min_length=8, max_length=64)]
    at: Moment
    detail: AnyDetail


def in_order(log: list[Entry]) -> list[Entry]:
    """Entries as they happened, voided ones and voids left out; ties keep the order of writing."""
    gone = {e.detail.target for e in log if isinstance(e.detail, Void)}
    kept = [e for e in log if e.client_id not in gone and not isinstance(e.detail, Void)]
    return sorted(kept, key=_when)


def _when(entry: Entry) -> datetime:
    return entry.at
