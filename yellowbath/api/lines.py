"""Answers that are told a line of JSON at a time."""

from starlette.responses import StreamingResponse


class LineResponse(StreamingResponse):
    """A line of JSON at a time; whoever hangs up ends what makes the lines."""

    media_type = "application/x-ndjson"
