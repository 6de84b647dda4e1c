"""Water and its vapour: what a bath and the air over it are reckoned by."""

from __future__ import annotations

import math

BOILS = 100.0  # C


def saturation_kpa(temperature_c: float) -> float:
    """Saturation pressure of water vapour [kPa], 0 to 60 C within 0.4 %.

    Magnus form of Alduchov and Eskridge, J. Appl. Meteorol. 35 (1996), from memory.
    """
    return 0.61094 * math.exp(17.625 * temperature_c / (temperature_c + 243.04))


def latent_j_kg(temperature_c: float) -> float:
    """Latent heat of water [J/kg], 0 to 60 C; linear, from memory of the steam tables."""
    return 2.501e6 - 2370.0 * temperature_c
