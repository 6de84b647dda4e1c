"""A supply that speaks SCPI (1999.0) over IEEE 488.2 messages.

Numbers are read as the standard has them, with a unit's suffix or a decimal comma where a device
writes one; 9.91E37 is its "not a number"."""

from __future__ import annotations

import math
import re
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from yellowbath.core.errors import (
    BadAnswerError,
    InstrumentRefusedError,
    StepRefusedError,
)
from yellowbath.core.words import word
from yellowbath.instruments.protocol import Identity, Line, Measured

Ending = Literal["lf", "crlf", "cr"]
_HEADER = r"[*A-Za-z][A-Za-z0-9:_]*"
Question = Annotated[
    str, Field(max_length=60, pattern=rf"^$|^{_HEADER}\?( ?[A-Za-z0-9_.,()@-]+)?$")
]
"""What may be typed by hand: one question, which sets nothing."""
OffWord = Annotated[str, Field(max_length=60, pattern=rf"^{_HEADER} (OFF|0)(, ?\(@\d+\))?$")]
NOT_A_NUMBER, INFINITE = 9.91e37, 9.9e37
_NUMBER = re.compile(
    r"^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d{1,3})?)\s*([A-Za-z%]{0,5})\s*$"
)
# in SCPI an M before volts and amps is a thousandth
_SCALES = {"": 1.0, "K": 1e3, "M": 1e-3, "U": 1e-6, "N": 1e-9}
_WORD = {"V": "volts", "A": "amps", "CEL": "degrees"}
_MOVED_A = 0.01  # by which a limit that nobody touched may be told otherwise; judged
_ERRORS = 20  # read off a device's queue before it is taken for one that has no end


class Dialect(BaseModel):
    """How one device is spoken to: the standard's own words where it has them, empty for what it
    does not know. ``together``: several questions in one message; ``joins``: what its answers then
    have between them; ``errors``: whether it tells its errors; ``answer_s``: how long it may take.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    volts: Question = "MEAS:VOLT?"
    amps: Question = "MEAS:CURR?"
    bath_c: Question = ""
    output: Question = "OUTP?"
    off: OffWord = "OUTP OFF"
    limit: Question = "CURR?"
    set_limit: Literal["CURR {:.3f}"] = "CURR {:.3f}"
    watchdog_delay: Literal["", "SYST:WATC:DEL {:.0f}"] = ""
    watchdog_on: Literal["", "SYST:WATC ON"] = ""
    watchdog_off: Literal["", "SYST:WATC OFF"] = ""
    identity: Question = "*IDN?"
    errors: Question = "SYST:ERR?"
    together: bool = True
    joins: Literal[";", ","] = ";"
    ending: Ending = "lf"
    answer_s: float = Field(default=2.0, ge=0.05, le=15)


STANDARD = Dialect()
# as the stand-in has them; a device's own words for a watchdog and a probe are its maker's
EXTRAS = {
    "bath_c": "MEAS:TEMP?", "watchdog_delay": "SYST:WATC:DEL {:.0f}",
    "watchdog_on": "SYST:WATC ON", "watchdog_off": "SYST:WATC OFF",
}  # fmt: skip
WITH_EXTRAS = STANDARD.model_copy(update=EXTRAS)


def number(text: str, unit: str) -> float:
    """A number of a device's answer in V, A or C, infinite where its range is overrun; raises
    BadAnswerError for what is none. Whether a bath can have it is not judged here: what cannot be
    is a danger or a fault of the meter, and both want to be told.

    >>> number("+1.250E+00", "A"), number("1250 mA", "A"), number("12,5", "V")
    (1.25, 1.25, 12.5)
    """
    found = _NUMBER.match(text)
    if not found:
        raise _bad(text, unit)
    value = float(found[1].replace(",", "."))
    if value == NOT_A_NUMBER:
        raise BadAnswerError(
            f"It says it has no number of {_WORD[unit]} just now ({text.strip()[:20]})."
        )
    if abs(value) >= INFINITE:  # the standard's word for a range that is overrun
        return math.copysign(math.inf, value)
    suffix = found[2].upper()
    if unit == "CEL":
        value = _celsius(value, suffix, text)
    elif suffix:
        if not suffix.endswith(unit) or suffix[: -len(unit)] not in _SCALES:
            raise _bad(text, unit)
        value *= _SCALES[suffix[: -len(unit)]]
    return value


def _celsius(value: float, suffix: str, text: str) -> float:
    match suffix:
        case "" | "C" | "CEL":
            return value
        case "K":
            return value - 273.15
        case "F" | "FAR":
            return (value - 32) / 1.8
    raise _bad(text, "CEL")


def _bad(text: str, unit: str) -> BadAnswerError:
    shown = text.strip()[:40] or "nothing"
    return BadAnswerError(
        f"It answers {shown!r} where {_WORD[unit]} were asked for.",
        remedy="Perhaps it speaks otherwise, or something else is at that address.",
    )


class ScpiSupply:
    """An instrument on a line, asked in a dialect. See the protocol for what each call does."""

    def __init__(self, line: Line, dialect: Dialect = STANDARD) -> None:
        self._line, self._dialect = line, dialect
        self._lowered: tuple[float, float] | None = None  # from, to [A], by this line

    def identify(self) -> Identity:
        if not self._dialect.identity:
            return Identity("", "", "", "")
        return identity_of(self._line.ask(self._dialect.identity))

    def read(self) -> Measured:
        d = self._dialect
        wanted = [(q, u) for q, u in ((d.volts, "V"), (d.amps, "A"), (d.bath_c, "CEL")) if q]
        asked = [*(q for q, _ in wanted), *(q for q in (d.output, d.limit) if q)]
        answers = self._together(asked) if d.together else [self._line.ask(q) for q in asked]
        found = {u: number(a, u) for a, (_, u) in zip(answers, wanted, strict=False)}
        rest = answers[len(wanted) :]
        output = boolean(rest.pop(0)) if d.output else None
        limit = number(rest.pop(0), "A") if d.limit else None
        return Measured(found.get("V"), found.get("A"), found.get("CEL"), output, limit)

    def lower_limit(self, amps: float) -> float:
        if not self._dialect.limit:
            raise InstrumentRefusedError("It does not tell its limit, so it is not lowered.")
        now = number(self._line.ask(self._dialect.limit), "A")
        if amps > now + 1e-9:
            raise StepRefusedError(
                f"Its limit stands at {now:g} A.",
                allowed="A machine may lower a limit; only hands raise it.",
                remedy="Raise it at the supply itself.",
            )
        made = self._set_limit(amps)
        self._lowered = now, made
        return made

    def give_back(self) -> float:
        lowered, self._lowered = self._lowered, None
        stands = number(self._line.ask(self._dialect.limit), "A") if lowered else math.nan
        if lowered is None or abs(stands - lowered[1]) > _MOVED_A:  # hands have set it since
            raise StepRefusedError(word("levels.not_lowered"), allowed=word("levels.gives_back"))
        return self._set_limit(lowered[0])

    def _set_limit(self, amps: float) -> float:
        self._line.write(self._dialect.set_limit.format(amps))
        self._raise_its_errors()
        return number(self._line.ask(self._dialect.limit), "A")

    def off(self) -> None:
        self._line.write(self._dialect.off)
        self._raise_its_errors()
        if self._dialect.output and boolean(self._line.ask(self._dialect.output)):
            raise InstrumentRefusedError(
                "It was told to switch off and still says that it is on.",
                remedy="Switch it off at the wall.",
            )

    def watchdog(self, seconds: float) -> float | None:
        d = self._dialect
        if not d.watchdog_delay:
            return None
        self._line.write(d.watchdog_delay.format(seconds))
        self._line.write(d.watchdog_on)
        try:
            self._raise_its_errors()
        except InstrumentRefusedError:
            return None
        return seconds

    def watchdog_off(self) -> bool:
        d = self._dialect
        if not d.watchdog_off:
            return False
        self._line.write(d.watchdog_off)
        try:
            self._raise_its_errors()
        except InstrumentRefusedError:
            return False
        return True

    def close(self) -> None:
        self._lowered = None  # whoever opens it anew finds it as it stands
        self._line.close()

    def _together(self, queries: list[str]) -> list[str]:
        """Several questions in one message, so that no answer can be taken for another's."""
        message = ";:".join(queries)
        answers = self._line.ask(f":{message}").split(self._dialect.joins)
        if len(answers) != len(queries):
            self._line.drain()  # what comes next on this line would be another question's
            raise BadAnswerError(
                f"It gives {len(answers)} answers to {len(queries)} questions.",
                remedy="That reading is left out; if it goes on, ask again how it is spoken to.",
            )
        return answers

    def _raise_its_errors(self) -> None:
        """Read its error queue to the end; raises InstrumentRefusedError with the first."""
        first = ""
        for _ in range(_ERRORS if self._dialect.errors else 0):
            answer = self._line.ask(self._dialect.errors)
            code, _, words = answer.partition(",")
            if not re.match(r"^[+-]?\d+$", code.strip()):
                raise BadAnswerError(f"It answers {answer[:60]!r} when asked for its errors.")
            if int(code) == 0:
                break
            first = first or f"{words.strip().strip(chr(34))[:120]} ({int(code)})"
        if first:
            raise InstrumentRefusedError(f"It will not: {first}.")


def boolean(text: str) -> bool:
    """On or off, as devices say it; raises BadAnswerError for neither.

    >>> boolean("1"), boolean("1.0"), boolean("OFF")
    (True, True, False)
    """
    said = text.strip().upper()
    if said in ("ON", "TRUE"):
        return True
    if said in ("OFF", "FALSE"):
        return False
    try:
        value = float(said.replace(",", "."))
    except ValueError:
        value = -1.0
    if value not in (0.0, 1.0):
        raise BadAnswerError(f"It answers {text.strip()[:40]!r} where on or off was asked for.")
    return value == 1.0


def identity_of(answer: str) -> Identity:
    """Who it says it is, however many words that takes: four by the standard, and few keep to it.
    Raises BadAnswerError for what is no text."""
    text = answer.strip()
    if not text or not text.isprintable():
        raise BadAnswerError(
            f"It answers {answer[:60]!r} when asked who it is.",
            remedy="Perhaps something else is at that address, or its speed is another.",
        )
    parts = [p.strip()[:80] for p in text.split(",")]
    if len(parts) == 1:
        return Identity("", parts[0], "", "")
    four = [*parts, "", ""]
    return Identity(four[0], four[1], four[2], ",".join(parts[3:])[:80])
