"""What arithmetic and geometry raise, in our own words."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from contextlib import contextmanager

from yellowbath.core.errors import NoFigureError, YellowBathError


@contextmanager
def figures_or_why() -> Iterator[None]:
    """Turns errors of numbers (LinAlgError is a ValueError) into NoFigureError, and logs them.

    A plan can then be opened, changed and undone like any other that has no answer.
    """
    try:
        yield
    except YellowBathError:
        raise
    except (ArithmeticError, ValueError) as error:
        logging.getLogger(__name__).exception("no figure")
        raise NoFigureError(
            "These sizes lead to no figure.",
            remedy="Look for a size that is far from the others, or undo the last change; "
            "nothing that was typed is lost.",
        ) from error
