"""Samples as a home-made logger sends them."""

from __future__ import annotations

from pydantic import BaseModel, Field, TypeAdapter, ValidationError

from yellowbath.core.errors import InputError
from yellowbath.core.moments import Moment
from yellowbath.core.run.samples import Sample
from yellowbath.workflows.line import samples


class SampleIn(BaseModel):
    """One moment: amps, volts at the supply, the bath's warmth in °C; what is missing was not
    measured."""

    at: Moment
    amps: float | None = Field(default=None, allow_inf_nan=False)
    volts: float | None = Field(default=None, allow_inf_nan=False)
    bath_c: float | None = Field(default=None, allow_inf_nan=False)


class SamplesIn(BaseModel):
    samples: list[SampleIn] = Field(max_length=samples.MOST)


_READER = TypeAdapter(SamplesIn)


def text_of(body: bytes) -> str:
    """A body as text; raises InputError."""
    try:
        return body.decode("utf-8")
    except UnicodeDecodeError:
        raise InputError("The lines are no UTF-8 text.") from None


def from_json(body: bytes) -> list[Sample]:
    """Samples of a JSON body; raises InputError with what is wrong and where."""
    try:
        read = _READER.validate_json(body)
    except ValidationError as error:
        first = error.errors()[0]
        where = "/".join(map(str, first["loc"])) or "the body"
        raise InputError(
            f"The samples cannot be read, at {where}: {first['msg']}.",
            allowed='{"samples": [{"at": "2026-03-01T09:30:00Z", "amps": 2.41, "volts": 11.9}]}',
        ) from None
    return [Sample(samples.ms_of(s.at), s.amps, s.volts, s.bath_c) for s in read.samples]
