"""What a plan's mix is made of, and its figures: conductivity, pH, what dissolves, chlorine."""

from __future__ import annotations

from yellowbath.core.chemistry.electrolyte import conductivity_figure, product, salt
from yellowbath.core.chemistry.liquid import (
    BICARBONATE,
    MOST,
    SALT,
    SODA,
    Liquid,
    baked,
    baked_share,
    dissolves,
    turned_by_ph,
)
from yellowbath.core.chemistry.metals import metals
from yellowbath.core.data import param, source_text
from yellowbath.core.document import Mix, Plan
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.figures import Figure, Input, figure, typed, uses

INERT = metals("inert")


def salty(plan: Plan) -> bool:
    """Whether the mix is one of salt."""
    return product(plan.mix.product).is_chloride


def acid(mix: Mix) -> bool:
    """Whether vinegar goes into it."""
    return product(mix.product).vinegar


def chloride(plan: Plan) -> bool:
    """Whether there is salt in the liquid: mixed in, or got into what is kept."""
    return salty(plan) or kept_chloride(plan.mix) > 0


def kept_chloride(mix: Mix) -> float:
    """Salt that got into a kept mix [kg]; nought in one that is mixed fresh."""
    return mix.kept_salt_kg if mix.source == "reuse" else 0.0


def all_inert(plan: Plan) -> bool:
    """Whether nothing on the plus side dissolves."""
    return plan.metals <= INERT


def any_inert(plan: Plan) -> bool:
    """Whether something on the plus side makes gas only: oxygen, or chlorine out of salt."""
    return bool(plan.metals & INERT)


def dissolving(plan: Plan) -> bool:
    """Whether scrap itself dissolves: a mix of salt, and an anode that is not inert."""
    return salty(plan) and not all_inert(plan)


def liquid_of(mix: Mix, concentration: Figure, water: Figure) -> Liquid:
    """The liquid once mixed; salts as dry grams a litre.

    What is kept from before brings its own baking soda; a pH strip read on it says better than the
    books how much of it has turned. An unfinished bake brings what it left.
    """
    key, dose = product(mix.product).salt, concentration.value
    if acid(mix):
        return Liquid({SALT: dose}, 100 * mix.vinegar_strength * mix.vinegar_share)
    salts = {key: dose}
    share = oven_share(mix)
    if share is not None and share < 1:
        soda, rest = baked(share)
        salts = {SODA: dose * soda, BICARBONATE: dose * rest}
    if mix.source == "reuse":
        if mix.kept_salt_kg > 0 and key != SALT:
            got_in = mix.kept_salt_kg / water.value
            salts[SALT] = min(salts.get(SALT, 0.0) + got_in, MOST)
        if mix.kept_bicarbonate_kg > 0:
            left = mix.kept_bicarbonate_kg / water.value
            salts[BICARBONATE] = min(salts.get(BICARBONATE, 0.0) + left, MOST)
        if mix.strip_ph is not None and key in (SODA, BICARBONATE):
            salts.update(_by_strip(salts, mix.strip_ph, mix.temperature_c))
    return Liquid(salts)


def oven_share(mix: Mix) -> float | None:
    """Share turned in the oven by its weights; None where it was not weighed or cannot be so."""
    before, after = mix.baked_before_kg, mix.baked_after_kg
    if not product(mix.product).oven or before is None or after is None:
        return None
    try:
        return baked_share(before, after)
    except OutOfRangeError:
        return None


def _by_strip(salts: dict[str, float], reading: float, temperature_c: float) -> dict[str, float]:
    """The same carbonate shared out between soda and baking soda as the strip says."""
    molar = {k: salt(k)["molar_g"] for k in (SODA, BICARBONATE)}
    total = sum(salts.get(k, 0.0) / m for k, m in molar.items())
    share = turned_by_ph(total, reading, temperature_c)
    return {
        SODA: share * total * molar[SODA],
        BICARBONATE: (1 - share) * total * molar[BICARBONATE],
    }


def mixed_conductivity(
    mix: Mix, liquid: Liquid, concentration: Figure, temperature: Figure, bubbles: Input
) -> Figure:
    """Conductivity [S/m] of the mix: one salt by its own formula, several by their parts."""
    several = len([c for c in liquid.salts.values() if c > 0]) > 1 or liquid.acid_percent > 0
    if not several and mix.strip_ph is None:
        return conductivity_figure(mix, concentration, temperature, bubbles)
    source = source_text("mixture")
    inputs = [
        Input(f"k{n}", f"{_name(key)}, at the mixture's ionic strength", value, "conductivity",
              source)
        for n, (key, value) in enumerate(liquid.parts(temperature.value).items(), start=1)
    ]  # fmt: skip
    total = sum(i.value for i in inputs)
    value = total * (1 - bubbles.value) ** 1.5
    made = figure(
        "mix.conductivity", "Conductivity of the mix", value, "conductivity",
        f"({' + '.join(i.symbol for i in inputs)})*(1 - e)**1.5",
        [*inputs, uses("T", temperature), bubbles], "mixture",
    )  # fmt: skip
    return made.with_window(value * 0.93, value * 1.07)


def _name(part: str) -> str:
    return "Acetic acid" if part == "acetic_acid" else str(salt(part)["short"])


def ph_figure(liquid: Liquid, temperature: Figure) -> Figure:
    """pH of the fresh mix, closed to the air; open baking soda creeps up towards 9 to 10."""
    value = liquid.ph(min(max(temperature.value, 0.0), 60.0))
    source = source_text("speciation")
    return figure(
        "mix.ph", "pH of the mix", value, "ph", "p",
        [Input("p", "Charge balance of what is in it", value, "ph", source),
         uses("T", temperature)],
        "speciation",
    ).with_window(value - 0.15, value + 0.15)  # fmt: skip


def dissolves_figure(mix: Mix) -> Figure:
    """The strongest clear bath at the water's own temperature [g/L]."""
    key = product(mix.product).salt
    value = dissolves(key, mix.temperature_c)
    return figure(
        "mix.dissolves", "Most that dissolves in this water", value, "concentration", "s",
        [Input("s", f"{salt(key)['name']} at {mix.temperature_c:.0f} °C", value, "concentration",
               source_text("solubility"))],
        "solubility",
    )  # fmt: skip


def chlorine_figure(plan: Plan, current: Figure) -> Figure | None:
    """The most chlorine that can come [kg/s]: all of an inert anode's current in a salt bath."""
    if not chloride(plan):
        return None
    k = param("cl2_kg_ah")
    share = 1.0 if any_inert(plan) else 0.0
    made = figure(
        "gas.chlorine", "Chlorine, at most", current.value * k.value * share / 3600, "mass_rate",
        "I*k*f/3600",
        [uses("I", current), uses("k", k),
         typed("f", "Inert anode: all of it; steel mostly dissolves instead", share, "ratio")],
        "faraday",
    )  # fmt: skip
    return made.with_window(0.0, made.value)


def vinegar_figure(plan: Plan, water: Figure) -> Figure | None:
    """Vinegar to pour in, in place of as much of the water [m3]."""
    if not acid(plan.mix):
        return None
    share = plan.mix.vinegar_share
    return figure(
        "mix.vinegar", "Vinegar, in place of as much water", water.value * share, "volume", "V*v",
        [uses("V", water), typed("v", "Vinegar, by volume", share, "ratio")], "practice",
    )  # fmt: skip
