"""What is costly to make of a shape and stays as it is, kept up to so many bytes."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from typing import ParamSpec, TypeVar

from yellowbath.core.field.assembly.assemble import bytes_of

P = ParamSpec("P")
T = TypeVar("T")


def kept(room: int) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Keep what a function made of its (hashable, positional) arguments, the newest used, up to
    ``room`` bytes of arrays; one thing is always kept. Two threads that ask at once may both make
    it.

    Not counted by how many, as the standard library's does: a hundred plates weigh what one casting
    does.
    """

    def keeping(make: Callable[P, T]) -> Callable[P, T]:
        held: OrderedDict[object, tuple[T, int]] = OrderedDict()

        @wraps(make)
        def found(*args: P.args, **named: P.kwargs) -> T:
            try:
                made = held[args][0]
                held.move_to_end(args)
                return made
            except KeyError:  # not there, or dropped by another thread this moment
                made = make(*args, **named)
            held[args] = (made, bytes_of(made))
            while len(held) > 1 and sum(size for _, size in tuple(held.values())) > room:
                held.popitem(last=False)
            return made

        return found

    return keeping
