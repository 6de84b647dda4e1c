"""A mixed bath as a thing with a history: what is in it now, what to add, when to change it.

Water goes by gas and to the air, the soda stays; what clings to a lifted piece takes both. Baking
soda turns to soda with use, at a judged half-life unless a strip says better. Pure; volumes [m3],
masses [kg], charge [Ah], time [days of use].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from yellowbath.core.chemistry.electrolyte import salt
from yellowbath.core.chemistry.liquid import BICARBONATE, SODA, Liquid, turned_by_ph
from yellowbath.core.data import param
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.units import DAY_S

_TURNS = 0.63085  # soda left of baking soda by mass, molar masses


@dataclass(frozen=True)
class Batch:
    """What is in it: water, soda, baking soda, salt, loose rust; and what has gone through it."""

    water: float
    soda: float = 0.0
    bicarbonate: float = 0.0
    chloride: float = 0.0
    dirt: float = 0.0
    charge: float = 0.0
    days: float = 0.0

    def liquid(self) -> Liquid:
        """As the solution that it is; nought in an empty one."""
        litres = self.water * 1000
        if litres <= 0:
            return Liquid()
        parts = ((SODA, self.soda), (BICARBONATE, self.bicarbonate),
                 ("sodium_chloride", self.chloride))  # fmt: skip
        return Liquid({k: min(1000 * m / litres, 60.0) for k, m in parts if m > 0})


@dataclass(frozen=True)
class Use:
    """One bath run in it: charge, powered time, water evaporated [m3], wet surface lifted out [m2]
    so many times, and loose rust left in it [kg]."""

    charge: float
    seconds: float
    evaporated: float = 0.0
    surface: float = 0.0
    lifts: int = 1
    rust: float = 0.0


def used(batch: Batch, use: Use) -> Batch:
    """The batch after a run."""
    split = param("water_kg_ah").value * use.charge / 1000
    clings = min(param("drag_out_m").value * use.surface * use.lifts, batch.water)
    stays = 1 - clings / batch.water if batch.water > 0 else 1.0
    days = use.seconds / DAY_S
    turned = batch.bicarbonate * (1 - 0.5 ** (days / param("bicarbonate_half_life_d").value))
    return replace(
        batch,
        water=max(batch.water - clings - split - use.evaporated, 0.0),
        soda=(batch.soda + turned * _TURNS) * stays,
        bicarbonate=(batch.bicarbonate - turned) * stays,
        chloride=batch.chloride * stays,
        dirt=batch.dirt * stays + use.rust,
        charge=batch.charge + use.charge,
        days=batch.days + days,
    )


def topped_up(batch: Batch, water: float) -> Batch:
    """Water in; nothing else changes."""
    return replace(batch, water=batch.water + water)


def added(batch: Batch, salt_key: str, mass: float) -> Batch:
    """Dry salt in. Raises OutOfRangeError for one that no kept mix is made of."""
    name = heap(salt_key)
    return replace(batch, **{name: getattr(batch, name) + mass})


def heap(salt_key: str) -> str:
    """What a salt is booked as in a kept mix; raises OutOfRangeError for one that is not kept."""
    name = str(salt(salt_key).get("heap", ""))
    if not name:
        raise OutOfRangeError(
            f"A kept mix is not made of {salt(salt_key)['name']}.",
            allowed="Soda, baking soda or salt.",
            remedy="Use washing soda.",
        )
    return name


def by_strip(batch: Batch, reading: float, temperature_c: float) -> Batch:
    """The same carbonate shared out between soda and baking soda as a pH strip says."""
    m_soda, m_bicarbonate = salt(SODA)["molar_g"], salt(BICARBONATE)["molar_g"]
    moles = 1000 * (batch.soda / m_soda + batch.bicarbonate / m_bicarbonate)
    if moles <= 0 or batch.water <= 0:
        return batch
    share = turned_by_ph(moles / (1000 * batch.water), reading, temperature_c)
    return replace(
        batch, soda=share * moles * m_soda / 1000, bicarbonate=(1 - share) * moles * m_bicarbonate
        / 1000,
    )  # fmt: skip


def poured_out(batch: Batch, volume: float) -> Batch:
    """What is left when so much is poured out, well stirred."""
    stays = max(1 - volume / batch.water, 0.0) if batch.water > 0 else 0.0
    return replace(
        batch, water=batch.water * stays, soda=batch.soda * stays,
        bicarbonate=batch.bicarbonate * stays, chloride=batch.chloride * stays,
        dirt=batch.dirt * stays, charge=batch.charge * stays,
    )  # fmt: skip


def decanted(batch: Batch) -> Batch:
    """Settled overnight and poured off its sludge: a tenth of the loose rust comes along
    (judged)."""
    return replace(batch, dirt=0.1 * batch.dirt)


def together(one: Batch, other: Batch) -> Batch:
    """Two batches poured into one; days by what each brings."""
    water = one.water + other.water
    days = (one.water * one.days + other.water * other.days) / water if water else 0.0
    return Batch(
        water, one.soda + other.soda, one.bicarbonate + other.bicarbonate,
        one.chloride + other.chloride, one.dirt + other.dirt, one.charge + other.charge, days,
    )  # fmt: skip


def to_add(batch: Batch, water: float, dose: float) -> tuple[float, float]:
    """Water [m3] and dry soda [kg] to add for so much liquid at so many grams a litre of soda.

    Salt that got in is no soda, and is not counted as such.
    """
    missing = max(water - batch.water, 0.0)
    wanted = dose * (batch.water + missing)
    return missing, max(wanted - batch.soda - batch.bicarbonate, 0.0)


@dataclass(frozen=True)
class Verdict:
    """Whether a batch is good, wants settling, or is to be poured out after its last piece."""

    word: str
    why: str


def verdict(batch: Batch) -> Verdict:
    """When to change it: by loose rust a litre, not by ampere-hours (limits judged)."""
    litres = batch.water * 1000
    if litres < 0.5:
        return Verdict("gone", "Hardly any liquid is left.")
    if batch.chloride > 0 and batch.soda + batch.bicarbonate > 0:
        return Verdict("foul", "Chloride got into it: not for anything that is to last.")
    loose = 1000 * batch.dirt / litres
    if loose > param("dirt_foul").value:
        return Verdict("foul", f"{loose:.0f} g of loose rust a litre: one foul piece, then out.")
    if loose > param("dirt_settle").value:
        return Verdict("settle", f"{loose:.0f} g of loose rust a litre: settle overnight, decant.")
    return Verdict("good", "Keep it; top up with water, the soda stays.")


@dataclass(frozen=True)
class Queued:
    """A piece that waits for the mix: how delicate and how foul, nought to three each."""

    name: str
    delicate: int
    foul: int


def in_turn(pieces: Sequence[Queued]) -> list[Queued]:
    """The order through one mix: delicate and cleanest first, foulest last; else as they came."""
    return sorted(pieces, key=lambda p: (p.foul >= 3, -p.delicate, p.foul))
