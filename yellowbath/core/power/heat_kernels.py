"""What a bath loses, and its course over time, compiled: plain loops of ``heat.py``, which loads
them when it is first asked.

Temperatures [C], powers [W], areas [m2], times [s].
"""

from __future__ import annotations

from yellowbath.core.compiled import compiled
from yellowbath.core.power import vapour

saturation_kpa = compiled(vapour.saturation_kpa)
latent_j_kg = compiled(vapour.latent_j_kg)
BOILS = vapour.BOILS


@compiled
def leaves(temperature_c: float, air_c: float, humidity: float, speed: float) -> float:
    drive = saturation_kpa(temperature_c) - humidity * saturation_kpa(air_c)
    rate = 0.089 + 0.0782 * speed
    return max(drive, 0.0) * rate / (latent_j_kg(temperature_c) / 1000)


@compiled
def lost(
    temperature_c: float, air_c: float, humidity: float, speed: float, surface: float, dry: float
) -> float:
    wet = leaves(temperature_c, air_c, humidity, speed) * surface * latent_j_kg(temperature_c)
    return dry * (temperature_c - air_c) + wet


@compiled
def marched(
    start_c: float, heat_w: float, held: float, h: float, steps: int, parts: int,
    air: float, humidity: float, speed: float, surface: float, dry: float,
) -> list[float]:  # fmt: skip
    """Runge and Kutta's fourth order; what would boil stays there."""
    out, t = [start_c], start_c
    for _ in range(steps):
        for _ in range(parts):
            a = (heat_w - lost(t, air, humidity, speed, surface, dry)) / held
            at = min(t + h / 2 * a, BOILS)
            b = (heat_w - lost(at, air, humidity, speed, surface, dry)) / held
            at = min(t + h / 2 * b, BOILS)
            c = (heat_w - lost(at, air, humidity, speed, surface, dry)) / held
            at = min(t + h * c, BOILS)
            d = (heat_w - lost(at, air, humidity, speed, surface, dry)) / held
            t = min(t + h / 6 * (a + 2 * b + 2 * c + d), BOILS)
        out.append(t)
    return out
