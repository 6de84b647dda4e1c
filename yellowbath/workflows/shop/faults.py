"""What goes wrong, in our own words: of numbers, of the shop's file, on the terminal."""

from __future__ import annotations

import logging
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from yellowbath.core.errors import NoFigureError, YellowBathError
from yellowbath.store.care import fault_of

__all__ = ["fault_of", "figures_or_why", "said_plainly"]


def said_plainly(command: Callable[[], int]) -> int:
    """Run a command; what of ours it raises is one sentence on the terminal, and exit code 2."""
    try:
        return command()
    except YellowBathError as error:
        print(error, file=sys.stderr)
        return 2
    except RecursionError:
        print("That file is nested too deeply to be one of ours.", file=sys.stderr)
        return 2


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
