"""The normal distribution, by SciPy's special functions, which take a quarter of a second to
import: the page is served first."""

from __future__ import annotations

from typing import Any

from numpy.typing import ArrayLike


def ndtr(score: ArrayLike) -> Any:
    """Chance of a lower score [-]."""
    from scipy.special import ndtr as made

    return made(score)


def log_ndtr(score: ArrayLike) -> Any:
    """Its logarithm, where the chance itself would be none."""
    from scipy.special import log_ndtr as made

    return made(score)


def ndtri(chance: ArrayLike) -> Any:
    """The score that so many are below."""
    from scipy.special import ndtri as made

    return made(chance)


def ndtri_exp(log_chance: ArrayLike) -> Any:
    """The same by the chance's logarithm."""
    from scipy.special import ndtri_exp as made

    return made(log_chance)
