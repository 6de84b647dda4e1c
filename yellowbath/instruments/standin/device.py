"""A laboratory supply with a simulated bath at its posts, as SCPI sees it.

Its settings: volts, limit of current, output, and a watchdog of its own, which switches off when it
is not spoken to. Amps, volts and warmth are the bath's, read with a last digit and a little noise.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from yellowbath import __version__
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.instruments.standin.grammar import (
    MessageUnit,
    Pattern,
    ScpiError,
    boolean_of,
    number_of,
    units_of,
)
from yellowbath.instruments.standin.status import OPC, Status

_LONGEST_S = 3600.0
_VOLTS_LOW, _OVER_WARM = 1, 16  # bits of the questionable register: volts, temperature
_TRUSTED = 65535
Handler = Callable[[tuple[str, ...]], "str | None"]


@dataclass(frozen=True)
class Command:
    """A header, whether it asks, how many data it takes at least and at most, what it does."""

    pattern: Pattern
    query: bool
    least: int
    most: int
    do: Handler


class Device:
    """The supply. ``clock`` tells seconds; the bath goes ``speed`` times as fast.

    Not safe for threads: whoever serves several lines takes turns (``server``).
    """

    def __init__(
        self, bath: SimulatedBath, clock: Callable[[], float], speed: float = 1.0, seed: int = 1
    ) -> None:
        self.bath, self._clock, self._speed = bath, clock, speed
        self._rng = np.random.default_rng(seed)
        self._begun = self._spoken = clock()
        self._done_s = 0.0
        self.status = Status()
        self.watchdog_on, self.watchdog_s = False, 30.0
        self._commands = [
            Command(Pattern.of(header.rstrip("?")), header.endswith("?"), least, most, do)
            for header, least, most, do in self._table()
        ]

    # --- Time ---------------------------------------------------------------------------------

    def tick(self) -> None:
        """Bring the bath up to now; switch off where the watchdog has waited long enough."""
        now = self._clock()
        if self.watchdog_on and self.bath.supply.on and now - self._spoken > self.watchdog_s:
            self._advance(self._spoken + self.watchdog_s)
            self.bath.switch_off()
            self.status.fault(-300, "Device-specific error;watchdog")
        self._advance(now)
        warm = self.bath.temperature_c > self.bath.design.limit_c
        self.status.question(_OVER_WARM, warm)
        self.status.question(_VOLTS_LOW, self.bath.flow.at_ceiling)

    def _advance(self, now: float) -> None:
        wanted = (now - self._begun) * self._speed
        if wanted > self._done_s:
            # a machine that slept does not make up for weeks
            self.bath.advance(min(wanted - self._done_s, 14 * 86400.0))
            self._done_s = wanted
        self.bath.settle()

    # --- Messages -----------------------------------------------------------------------------

    def handle(self, message: str) -> str | None:
        """What a message is answered with; None where nothing was asked. An error ends it."""
        self.tick()
        self._spoken = self._clock()
        answers: list[str] = []
        try:
            for unit in units_of(message):
                found = self._one(unit, bool(answers))
                if found is not None:
                    answers.append(found)
        except ScpiError as error:
            self.status.fault(error.code, error.words)
        return ";".join(answers) if answers else None

    def _one(self, unit: MessageUnit, waits: bool) -> str | None:
        if unit.path == ("*STB",) and unit.query:
            return str(self.status.byte(waits))
        for command in self._commands:
            if command.query == unit.query and command.pattern.fits(unit.path):
                if len(unit.data) < command.least:
                    raise ScpiError(-109, "Missing parameter")
                if len(unit.data) > command.most:
                    raise ScpiError(-108, "Parameter not allowed")
                return command.do(unit.data)
        raise ScpiError(-113, "Undefined header")

    def _table(self) -> Sequence[tuple[str, int, int, Handler]]:
        s = self.status
        return (
            ("*CLS", 0, 0, lambda _: s.clear()),
            ("*ESE", 1, 1, lambda d: self._put("event_enable", d, 255)),
            ("*ESE?", 0, 0, lambda _: str(s.event_enable)),
            ("*ESR?", 0, 0, lambda _: str(s.take_events())),
            ("*IDN?", 0, 0, lambda _: f"Yellow Bath,Stand-in supply,0,{__version__}"),
            ("*OPC", 0, 0, lambda _: self._complete()),
            ("*OPC?", 0, 0, lambda _: "1"),
            ("*RST", 0, 0, lambda _: self._reset()),
            ("*SRE", 1, 1, lambda d: self._put("service_enable", d, 255)),
            ("*SRE?", 0, 0, lambda _: str(s.service_enable & ~64)),
            ("*TST?", 0, 0, lambda _: "0"),
            ("*WAI", 0, 0, lambda _: None),
            ("SYSTem:ERRor[:NEXT]?", 0, 0, lambda _: s.next_error()),
            ("SYSTem:ERRor:COUNt?", 0, 0, lambda _: str(len(s.errors))),
            ("SYSTem:VERSion?", 0, 0, lambda _: "1999.0"),
            ("SYSTem:WATChdog[:STATe]", 1, 1, self._set_watchdog),
            ("SYSTem:WATChdog[:STATe]?", 0, 0, lambda _: str(int(self.watchdog_on))),
            ("SYSTem:WATChdog:DELay", 1, 1, self._set_delay),
            ("SYSTem:WATChdog:DELay?", 0, 0, lambda _: _shown(self.watchdog_s)),
            ("STATus:PRESet", 0, 0, lambda _: self._preset()),
            ("STATus:QUEStionable[:EVENt]?", 0, 0, lambda _: str(s.take_questionable())),
            ("STATus:QUEStionable:CONDition?", 0, 0, lambda _: str(s.questionable)),
            ("STATus:QUEStionable:ENABle", 1, 1,
             lambda d: self._put("questionable_enable", d, _TRUSTED)),
            ("STATus:QUEStionable:ENABle?", 0, 0, lambda _: str(s.questionable_enable)),
            ("STATus:OPERation[:EVENt]?", 0, 0, lambda _: "0"),
            ("STATus:OPERation:CONDition?", 0, 0, lambda _: "0"),
            ("STATus:OPERation:ENABle", 1, 1,
             lambda d: self._put("operation_enable", d, _TRUSTED)),
            ("STATus:OPERation:ENABle?", 0, 0, lambda _: str(s.operation_enable)),
            ("MEASure[:SCALar]:VOLTage[:DC]?", 0, 0, lambda _: self._volts()),
            ("MEASure[:SCALar]:CURRent[:DC]?", 0, 0, lambda _: self._amps()),
            ("MEASure[:SCALar]:TEMPerature?", 0, 0, lambda _: self._warmth()),
            ("[SOURce]:CURRent[:LEVel][:IMMediate][:AMPLitude]", 1, 1, self._set_limit),
            ("[SOURce]:CURRent[:LEVel][:IMMediate][:AMPLitude]?", 0, 1, self._limit),
            ("[SOURce]:VOLTage[:LEVel][:IMMediate][:AMPLitude]?", 0, 0,
             lambda _: _shown(self.bath.design.source.volts)),
            ("OUTPut[:STATe]", 1, 1, self._output),
            ("OUTPut[:STATe]?", 0, 0, lambda _: str(int(self.bath.supply.on))),
        )  # fmt: skip

    # --- What they do -------------------------------------------------------------------------

    def _put(self, name: str, data: tuple[str, ...], most: int) -> None:
        setattr(self.status, name, round(number_of(data[0], "", 0, most, 0)))

    def _complete(self) -> None:
        self.status.events |= OPC

    def _preset(self) -> None:
        self.status.questionable_enable = self.status.operation_enable = 0

    def _reset(self) -> None:
        """As the standard has it: output off, limit at its rating; registers stay."""
        self.bath.switch_off()
        self.bath.limit_a = self._rated()
        self.watchdog_on = False

    def _rated(self) -> float:
        return float(self.bath.design.supply.rated_a)

    def _limit_now(self) -> float:
        return float(min(self.bath.limit_a, self._rated()))

    def _limit(self, data: tuple[str, ...]) -> str:
        rated = self._rated()
        asked = number_of(data[0], "A", 0.0, rated, rated) if data else self._limit_now()
        return _shown(asked)

    def _set_limit(self, data: tuple[str, ...]) -> None:
        rated = self._rated()
        self.bath.set_limit(number_of(data[0], "A", 0.0, rated, rated))

    def _output(self, data: tuple[str, ...]) -> None:
        """What the knob on its front does; Yellow Bath itself only ever says OFF."""
        (self.bath.switch_on if boolean_of(data[0]) else self.bath.switch_off)()

    def _set_watchdog(self, data: tuple[str, ...]) -> None:
        self.watchdog_on = boolean_of(data[0])

    def _set_delay(self, data: tuple[str, ...]) -> None:
        self.watchdog_s = number_of(data[0], "S", 1.0, _LONGEST_S, 30.0)

    def _noise(self, share: float) -> float:
        return 1 + share * float(self._rng.standard_normal())

    def _volts(self) -> str:
        return _shown(self.bath.flow.supply_v * self._noise(2e-4))

    def _amps(self) -> str:
        return _shown(self.bath.flow.supply_a * self._noise(5e-4))

    def _warmth(self) -> str:
        """Of the probe in the liquid: a tenth of a degree at best."""
        off = self.bath.temperature_c - self.bath.condition().colder_k
        return _shown(round(off + 0.05 * float(self._rng.standard_normal()), 1))


def _shown(value: float) -> str:
    """A number as the standard has it (NR3)."""
    return f"{value:+.4E}"
