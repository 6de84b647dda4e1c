"""The sheets' templates: every value that goes in is escaped, whoever wrote it."""

from __future__ import annotations

import re
from functools import cache

from jinja2 import Environment, PackageLoader, StrictUndefined


@cache
def _environment() -> Environment:
    return Environment(
        loader=PackageLoader("yellowbath.sheets", "templates"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )


def filled(template: str, **values: object) -> str:
    """A template filled in; a name that it wants and is not given is an error."""
    return _UNFIT.sub("", _environment().get_template(template).render(**values))


_UNFIT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]")  # in no XML and on no paper
