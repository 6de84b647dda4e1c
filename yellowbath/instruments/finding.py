"""How a device is spoken to, found by trying: with questions only, never a setting.

Few supplies are as good as the standard. Some take one question a line, some end their lines
otherwise, some do not know whether they are on, some think for seconds. What was found is that
supply's dialect: it is kept, shown, and may be changed by hand.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from yellowbath.core.errors import BadAnswerError, InstrumentError, LinkLostError
from yellowbath.instruments.protocol import Identity, Line
from yellowbath.instruments.scpi import (
    STANDARD,
    Dialect,
    Ending,
    boolean,
    identity_of,
    number,
)

Opens = Callable[[Ending, float], Line]
"""A line with an ending, on which an answer may take so many seconds."""
QUICK_S, SLOW_S = 2.2, 10.5
_ENDINGS: Sequence[Ending] = ("lf", "crlf", "cr")
_ROOM = 3.0  # times as long as an answer took, it may take


@dataclass(frozen=True)
class Found:
    """How it is spoken to, and who it says it is."""

    dialect: Dialect
    identity: Identity


def find(opens: Opens, quick_s: float = QUICK_S, slow_s: float = SLOW_S) -> Found:
    """Try how a device is spoken to.

    Raises LinkLostError where nothing answers, BadAnswerError where what answers tells neither
    volts nor amps.
    """
    ending, identity, took = _answering(opens, quick_s, slow_s)
    patience = min(max(_ROOM * took, quick_s), slow_s + 2)
    line = opens(ending, patience)
    try:
        d = STANDARD.model_copy(update={"ending": ending, "answer_s": round(patience, 1)})
        if identity is None:
            d = d.model_copy(update={"identity": ""})
        if not _joined(line, d):
            d = _known(line, d)
            if not d.volts and not d.amps:
                raise BadAnswerError(
                    "It answers, but tells neither volts nor amps.",
                    remedy="See whether it speaks SCPI at all, and on this port.",
                )
            joined = next((j for j in (";", ",") if _joined(line, _with(d, joins=j))), "")
            d = _with(d, together=bool(joined), joins=joined or ";")
        if _silent(line, d.errors):
            d = _with(d, errors="")
        return Found(d, identity or Identity("", "", "", ""))
    finally:
        line.close()


def _with(d: Dialect, **update: object) -> Dialect:
    return d.model_copy(update=update)


def _answering(
    opens: Opens, quick_s: float, slow_s: float
) -> tuple[Ending, Identity | None, float]:
    """The ending at which it answers, who it is, and how long that took; first those that answer
    soon, then those that think."""
    last: InstrumentError | None = None
    for patience in (quick_s, slow_s):
        for ending in _ENDINGS:
            for question in ("*IDN?", "MEAS:VOLT?"):
                line = opens(ending, patience)
                began = time.monotonic()
                try:
                    answer = line.ask(question)
                    took = time.monotonic() - began
                    who = identity_of(answer) if question == "*IDN?" else None
                    if who is None:
                        number(answer, "V")
                    return ending, who, took
                except LinkLostError as error:
                    last = error
                    if not _waited(began, patience):
                        raise  # nobody is there at all
                except BadAnswerError as error:
                    last = error
                finally:
                    line.close()
                if patience == slow_s:
                    break  # one question is enough where each takes ten seconds
    assert last is not None
    raise last


def _waited(began: float, patience: float) -> bool:
    """Whether an answer was waited for, and not the line refused at once."""
    return time.monotonic() - began >= 0.8 * patience


def _joined(line: Line, d: Dialect) -> bool:
    """Whether it answers several questions in one message."""
    asked = [q for q in (d.volts, d.amps, d.output, d.limit) if q]
    if len(asked) < 2:
        return False
    try:
        answers = line.ask(":" + ";:".join(asked)).split(d.joins)
        if len(answers) != len(asked):
            line.drain()
            return False
        return all(_fits(d, q, a) for q, a in zip(asked, answers, strict=True))
    except InstrumentError:
        line.close()
        return False


def _fits(d: Dialect, question: str, answer: str) -> bool:
    try:
        if question == d.output:
            boolean(answer)
        else:
            number(answer, "V" if question == d.volts else "A")
    except BadAnswerError:
        return False
    return True


def _known(line: Line, d: Dialect) -> Dialect:
    """What it knows of each by itself; asked up to three times, since an answer may be a slip."""
    gone: dict[str, object] = {}
    for name in ("volts", "amps", "output", "limit"):
        question = getattr(d, name)
        if not any(_answers(line, d, question) for _ in range(3)):
            gone[name] = ""
    return _with(d, **gone)


def _answers(line: Line, d: Dialect, question: str) -> bool:
    try:
        return _fits(d, question, line.ask(question))
    except LinkLostError:
        line.close()
        return False


def _silent(line: Line, question: str) -> bool:
    try:
        line.ask(question)
    except InstrumentError:
        line.close()
        return True
    return False
