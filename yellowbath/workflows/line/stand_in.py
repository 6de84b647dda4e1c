"""The stand-in supply: a plan's bath, simulated, behind a SCPI server."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from yellowbath.core.errors import InputError, NoAnswerError
from yellowbath.core.simulation.bath import Scheduled, SimulatedBath
from yellowbath.core.simulation.design import Design
from yellowbath.core.simulation.faults import fault
from yellowbath.core.simulation.truth import drawn
from yellowbath.instruments.standin.device import Device
from yellowbath.instruments.standin.server import Server
from yellowbath.workflows.plans.plans import Answered, answer_document


def design_of(document: Mapping[str, Any]) -> Design:
    """A plan's bath by the closed form, which is there at once; raises NoAnswerError without a
    current path."""
    return design_from(answer_document(document, fixes=False))


def design_from(answered: Answered) -> Design:
    """The bath of a plan that was worked out."""
    if answered.answer is None:
        raise NoAnswerError(answered.trouble)
    return Design.of(answered.read.plan, answered.answer)


def simulated(
    design: Design, names: list[str], after_s: float, seed: int, on: bool = True
) -> SimulatedBath:
    """A bath at random about its design, with faults that come ``after_s`` seconds of its own time.

    Raises InputError for a fault it cannot have.
    """
    rng = np.random.default_rng(seed)
    truth = drawn(design, rng)
    coming = [Scheduled(after_s, fault(name, design, rng)) for name in names]
    bath = SimulatedBath(design, truth, coming, start_c=design.heat.start_c)
    if on:
        bath.switch_on()
    return bath


def stand_in(
    document: Mapping[str, Any],
    clock: Callable[[], float],
    *,
    host: str = "127.0.0.1",
    port: int = 5025,
    speed: float = 1.0,
    faults: list[str] | None = None,
    after_s: float = 300.0,
    seed: int = 1,
    on: bool = True,
) -> Server:
    """A server that is ready to start; raises InputError for a speed or fault that is none."""
    if not 0.01 <= speed <= 20_000:
        raise InputError(
            f"{speed:g} is no speed for a bath.", allowed="0.01 to 20,000 times real time."
        )
    bath = simulated(design_of(document), faults or [], after_s, seed, on)
    return Server(Device(bath, clock, speed, seed), host, port)
