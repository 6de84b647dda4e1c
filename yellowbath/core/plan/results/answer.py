"""A plan's answer: every figure it shows, each with its trace. A pipeline, tank to time."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from yellowbath.core import dose
from yellowbath.core.chemistry import electrolyte, faraday, mixing
from yellowbath.core.chemistry.cell import Air, threshold_figure
from yellowbath.core.data import param, require_provenance, source_text, table
from yellowbath.core.document import Piece, Plan
from yellowbath.core.field.estimate import ClosedFormEstimate
from yellowbath.core.field.model import (
    Coverage,
    FieldAnswer,
    FieldModel,
    RodLayout,
    claimed,
    profile_of,
)
from yellowbath.core.field.watch import Doubt, class_of, doubts, layout_row
from yellowbath.core.figures import Figure, Input, figure, typed, uses
from yellowbath.core.geometry import anode as anodes
from yellowbath.core.geometry import piece as pieces
from yellowbath.core.geometry.tank import plan_size
from yellowbath.core.hours.outlook import window_figure
from yellowbath.core.plan.reading.filling import Fill, fill
from yellowbath.core.plan.results.meter import anchored
from yellowbath.core.plan.results.model import Answer as Answer
from yellowbath.core.plan.results.model import Band as Band
from yellowbath.core.plan.results.scrap import scrap_area_figure, scrap_life_figure
from yellowbath.core.plan.results.surface import area_figure, mass_figure, wetted_figure
from yellowbath.core.plan.results.surroundings import surrounding_figures
from yellowbath.core.power import supply as power
from yellowbath.core.power import warming
from yellowbath.core.power.waveform import form_figure

FIELD_MODEL: FieldModel = ClosedFormEstimate()


@dataclass(frozen=True)
class Prepared:
    """What a field is solved for: how the liquid stands, what of the pieces is wet, the mix, the
    need, what the bath runs at, what it conducts [S/m]."""

    fill: Fill
    area: Figure
    wetted: Figure
    concentration: Figure
    need: Figure
    warm: warming.Warm

    def conductivity(self, plan: Plan) -> Figure:
        """What the plan's liquid conducts [S/m] at what the bath runs at."""
        return _conductivity(plan, self.fill, self.concentration, self.warm)[1]


def prepared(plan: Plan, model: FieldModel = FIELD_MODEL) -> Prepared:
    """The first steps of :func:`answer` and no more, as a moving hand needs them before a solve."""
    filled = fill(plan)
    area = area_figure(plan)
    wetted = wetted_figure(plan, area, filled)
    concentration = electrolyte.concentration_figure(plan.mix, filled.water)
    need = dose.need_figure(dose.neediest(plan.pieces))
    warm = _warm(plan, model, filled, concentration, wetted, need)
    return Prepared(filled, area, wetted, concentration, need, warm)


def answer(plan: Plan, model: FieldModel = FIELD_MODEL, first: Prepared | None = None) -> Answer:
    """Work out a plan as read. Pure; about 5 ms. Figures are SI, see each one's docstring.

    ``first``: its first steps where they were taken already, with what the model runs at.
    """
    first = first or prepared(plan, model)
    filled, area, wetted, concentration = first.fill, first.area, first.wetted, first.concentration
    need, warm, mix = first.need, first.warm, plan.mix
    product_mass = electrolyte.product_mass_figure(mix, filled.water)
    at = _powered(plan, model, filled, concentration, wetted, warm)
    window = _window(plan.pieces, need, at.density, at.solved)
    kappa, solved, gives, draws, volts = at.kappa, at.solved, at.gives, at.draws, at.volts
    bath, leads, density = at.bath, at.leads, at.density
    spread = solved.spread
    band = band_of(plan.pieces)
    energy = _energy(gives, plan, window)
    air = Air.of(plan.place, mix.temperature_c)
    form = form_figure(plan.supply, at.threshold)
    made = Answer(
        fill=filled,
        area=area,
        wetted_area=wetted,
        mass=mass_figure(plan),
        concentration=concentration,
        product_mass=product_mass,
        spoons=electrolyte.spoon_figure(mix, product_mass),
        scoops=electrolyte.scoop_figure(mix, product_mass),
        temperature=at.temperature,
        conductivity=kappa,
        resistance=bath,
        threshold=at.threshold,
        form=form,
        leads=leads,
        draws=draws,
        gives=gives,
        load=power.load_figure(plan.supply, gives),
        bath_volts=volts,
        drop=power.drop_figure(leads, gives),
        density=density,
        spread=spread,
        profile=solved.profile,
        coverage=solved.coverage or Coverage.ranked(solved.profile),
        p5=percentile_figure(density, solved, 0.05),
        p95=percentile_figure(density, solved, 0.95),
        below=below_figure(density, solved, band),
        band=band,
        need=need,
        window=window,
        inside=pieces.heap_inside(plan.pieces),
        hours_claim=(claim := _hours_claim(density, solved)),
        prior=dose.need_of(dose.neediest(plan.pieces)),
        hydrogen=faraday.hydrogen_figure(gives, air),
        oxygen=faraday.oxygen_figure(gives, air),
        air=_fresh_air(plan, gives),
        room=faraday.room_figure(plan.place, gives, air),
        water_split=faraday.water_figure(gives),
        iron=(iron := faraday.iron_figure(gives, _iron_share(plan))),
        scrap_area=scrap_area_figure(plan, filled.level.value),
        scrap_life=scrap_life_figure(plan, filled.level.value, iron),
        heat=_heat(plan, at),
        energy=energy,
        cost=faraday.cost_figure(energy, plan.place) if energy else None,
        keeps=what_stays(plan),
        model_error=solved.error,
        doubts=_doubts(plan, at, filled, wetted.value, claim),
        warm=warm,
        models=(model.name, "effective charge dose", "one belief of need, amps, area and looks"),
    )
    return replace(made, surroundings=tuple(surrounding_figures(plan, made)))


@dataclass(frozen=True)
class _Powered:
    """A bath at one temperature: what it draws, and how long it then takes."""

    temperature: Figure
    kappa: Figure
    solved: FieldAnswer
    bath: Figure
    threshold: Figure
    leads: Figure
    draws: Figure
    gives: Figure
    volts: Figure
    density: Figure


def _powered(
    plan: Plan,
    model: FieldModel,
    filled: Fill,
    concentration: Figure,
    wetted: Figure,
    warm: warming.Warm,
) -> _Powered:
    temperature, kappa = _conductivity(plan, filled, concentration, warm)
    solved = model.solve(layout(plan, filled, wetted.value), kappa)
    if model is FIELD_MODEL:  # how far it is off goes by the layout
        solved = replace(solved, error=_quick_error(plan, filled) or solved.error)
    threshold = threshold_figure(plan, temperature.value)
    bath, leads = anchored(plan, solved.resistance), _leads(plan, threshold, warm.amps)
    wanted = power.wanted_figure(plan.supply, threshold, bath, leads)
    given = power.given_figure(plan.supply, threshold, bath, leads)
    gives = _uncertain(given, plan, solved.error)
    density = dose.density_figure(gives, wetted)
    return _Powered(
        temperature, kappa, solved, bath, threshold, leads,
        _uncertain(wanted, plan, solved.error), gives,
        power.bath_volts_figure(threshold, bath, gives), density,
    )  # fmt: skip


def _quick_error(plan: Plan, filled: Fill) -> float:
    """How far the closed form's amps may be off for this layout [-]; nought where none is known."""
    return float(layout_row(class_of(plan, filled.gap.value))["quick_error"])


def tells_amps(plan: Plan, answer: Answer) -> bool:
    """Whether the amps can be told yet: by a solved field, or by a closed form that knows of such
    a layout."""
    solved = answer.models[:1] != (FIELD_MODEL.name,)
    return solved or _quick_error(plan, answer.fill) > 0


def _warm(
    plan: Plan,
    model: FieldModel,
    filled: Fill,
    concentration: Figure,
    wetted: Figure,
    need: Figure,
) -> warming.Warm:
    """What the bath is reckoned to run at: the model's own, else from what it draws cold."""
    if model.warm is not None:
        return model.warm
    cold = _powered(plan, model, filled, concentration, wetted, warming.COLD)
    hours = 0.0
    if cold.density.value > 0:
        per_need = dose.hours_per_need(
            cold.density.value, cold.solved.profile, cold.solved.coverage
        )
        hours = need.value * per_need if math.isfinite(per_need) else _LONG_H
    return warming.Warm(_heat(plan, cold).value, hours, cold.gives.value)


def _heat(plan: Plan, at: _Powered) -> Figure:
    away = faraday.carried_off(mixing.dissolving(plan), at.temperature.value)
    form = form_figure(plan.supply, at.threshold)
    return faraday.heat_figure(at.gives, at.threshold, at.bath, form, away)


def _leads(plan: Plan, threshold: Figure, amps: float) -> Figure:
    """Leads whose copper has the warmth of the amps that the bath was reckoned to run at."""
    air = Air.of(plan.place, plan.mix.temperature_c).temperature_c
    rms = amps * form_figure(plan.supply, threshold).value
    return power.lead_figure(plan.supply, power.copper_c(plan.supply, air, rms))


def _conductivity(
    plan: Plan, filled: Fill, concentration: Figure, warm: warming.Warm
) -> tuple[Figure, Figure]:
    """Temperature [C] and conductivity [S/m] of the bath while it runs at this."""
    level = filled.level.value
    temperature = warming.temperature_figure(plan, level, warm)
    bubbles = warming.bubbles_input(plan, level, warm, temperature.value)
    liquid = mixing.liquid_of(plan.mix, concentration, filled.water)
    return temperature, mixing.mixed_conductivity(
        plan.mix, liquid, concentration, temperature, bubbles
    )


def layout(plan: Plan, filled: Fill, wetted_area: float) -> RodLayout:
    """The plan as the field model sees it."""
    level = filled.level.value
    big = pieces.largest([p for p in plan.pieces if filled.shares[p.id] > 0] or plan.pieces)
    extent = pieces.posed(big)
    length, width = plan_size(plan.tank, level / 2)
    arrangement = plan.layout.arrangement
    return RodLayout(
        round_tank=plan.tank.shape.is_round,
        tank_m=(length, width),
        depth_m=level,
        piece_m=(extent[0], extent[1], extent[2] * filled.shares[big.id]),
        piece_area_m2=wetted_area,
        rods_m=anodes.spots(plan),
        rod_radius_m=anodes.mean_line_radius(plan.anodes),
        rod_length_m=filled.rod_length_m,
        one_sided=not plan.tank.is_piece and arrangement == "one_side",
        all_round=plan.tank.is_piece or arrangement in ("corners", "ring"),
        wall_is_piece=plan.tank.is_piece,
    )


# --- Figures of the pipeline ----------------------------------------------------------------------


def percentile_figure(density: Figure, solved: FieldAnswer, share: float) -> Figure:
    """A percentile of density [A/m2]: solved where the field is, else of a log-normal."""
    if solved.quantiles is not None:
        return dose.ratio_figure(density, solved.quantiles, share)
    return dose.percentile_figure(density, solved.spread, share)


def below_figure(density: Figure, solved: FieldAnswer, band: Band) -> Figure:
    """Share of the surface whose density is under the band's low edge [-]."""
    name = "Share of the surface under the band"
    if density.value <= 0:
        return figure(
            "density.below", name, 1.0, "ratio", "1 + 0*j", [uses("j", density)], "lognormal"
        )  # fmt: skip
    if solved.quantiles is not None:
        under = sum(q * density.value < band.low for q in solved.quantiles)
        inputs = [
            Input("n", "Solved hundredths of the surface under the band", under, "number",
                  source_text("field")),
            Input("m", "of so many", len(solved.quantiles), "number", source_text("field")),
        ]  # fmt: skip
        value = under / len(solved.quantiles)
        return figure("density.below", name, value, "ratio", "n/m", inputs, "field")
    spread = solved.spread
    value = dose.share_below(density.value, spread.value, band.low)
    edge = Input("b", f"Low edge of the band, {band.name}", band.low, "density", "judged by us")
    return figure(
        "density.below", name, value, "ratio", "Phi((ln(b/j) + d**2/2)/d)",
        [edge, uses("j", density), uses("d", spread)], "lognormal",
    )  # fmt: skip


def _iron_share(plan: Plan) -> Literal["some", "all", "none"]:
    if mixing.dissolving(plan):
        return "all"
    return "none" if mixing.all_inert(plan) else "some"


def band_of(pieces: Sequence[Piece]) -> Band:
    """The working band of the most delicate of the pieces (judged): the gentlest of theirs."""
    rows = table("bands")
    for name, row in rows.items():
        require_provenance(f"bands.{name}", row)
    row = min((rows[p.fragility] for p in pieces), key=lambda r: (r["p95_high"], r["name"]))
    return Band(row["name"], row["mean_low"], row["mean_high"], row["p95_high"])


def what_stays(plan: Plan) -> tuple[str, ...]:
    """What will not come back, said beforehand (common practice, no source)."""
    thin = param("wall_t_steel_thin_m").value
    lines = ["Metal that has gone to rust is gone: pits and lost edges stay."]
    if any(p.grade in ("heavy", "scaled") for p in plan.pieces):
        lines.append("Heavily rusted areas end dark and pitted.")
    if any(p.fragility in ("relic", "thin") or pieces.thinnest(p) < thin for p in plan.pieces):
        lines.append("Thin spots may open into holes; the rust was holding them together.")
    goals = table("needs")["aims"]
    lines += [goals[aim]["keeps"] for aim in goals if any(p.aim == aim for p in plan.pieces)]
    return tuple(lines)


def _uncertain(current: Figure, plan: Plan, model_error: float) -> Figure:
    """Amps with the window of an unread bath; a limit in force cuts it off above."""
    read = plan.meter.read_a is not None
    unread = [model_error, param("no_reading_error").value]
    wide = math.exp(
        dose.NORMAL.inv_cdf(0.95) * dose.amps_sigma([dose.READ_ERROR] if read else unread)
    )
    low = current.value / wide * (1.0 if read else _weakest_box(plan))
    high = current.value * wide
    ceiling = power.source_of(plan.supply).ceiling
    if current.key == "amps.gives" and ceiling is not None:
        high = min(high, max(ceiling.value, current.value))
    note = "By your meter." if read else "Not read yet: one clamp-meter reading narrows this."
    return current.with_window(low, high, note)


def _weakest_box(plan: Plan) -> float:
    """How much less the weakest thing an unnamed box can hold would conduct [-]."""
    if plan.mix.product != "unknown":
        return 1.0
    crystals = electrolyte.product("soda_decahydrate")
    dose_full, t = plan.mix.concentration_kg_m3, plan.mix.temperature_c
    weak = electrolyte.conductivity(crystals.salt, dose_full * crystals.share, t)
    return weak / electrolyte.conductivity(crystals.salt, dose_full, t)


def _most(plan: Plan, gives: Figure) -> Figure:
    """The most this supply can give, which is what the air is reckoned for."""
    supply = plan.supply
    if supply.limited:
        return replace(gives, value=max(min(supply.limit_a, supply.rated_a), gives.value))
    return replace(gives, value=max(supply.rated_a, gives.value), name="Amps of the supply")


def _fresh_air(plan: Plan, gives: Figure) -> Figure:
    """Air for the bath at what the supply can give, and for a battery that is charged beside it."""
    supply, most = plan.supply, _most(plan, gives)
    if not supply.on_battery or supply.charges_a <= 0:
        return faraday.air_figure(most)
    left = max(supply.charges_a - gives.value - supply.other_a, 0.0)
    return faraday.air_figure(gives, round(supply.nominal_v / _CELL_V), left)


_CELL_V = 2.0  # of a lead battery's cell


def _window(
    pieces: Sequence[Piece], need: Figure, density: Figure, solved: FieldAnswer
) -> Figure | None:
    if density.value <= 0:
        return None
    prior = dose.need_of(dose.neediest(pieces))
    return window_figure(need, prior, density, solved.profile, solved.coverage)


def _hours_claim(density: Figure, solved: FieldAnswer) -> float:
    """What the field leaves open of the hours [-]: from its two meshes where it was solved."""
    if solved.meshes is None or density.value <= 0:
        return solved.error
    one, other, current = solved.meshes
    fine, coarse = (
        dose.hours_per_need(density.value * factor, profile_of(q))
        for q, factor in ((one, 1.0), (other, current))
    )
    if not (math.isfinite(fine) and math.isfinite(coarse)):
        return solved.error
    return claimed(fine, coarse) / fine


def _doubts(
    plan: Plan, at: _Powered, filled: Fill, wetted: float, hours_claim: float
) -> tuple[Doubt, ...]:
    """What speaks against a field that was solved on two meshes; of another nothing is known."""
    if at.solved.meshes is None:
        return ()
    closed = FIELD_MODEL.solve(layout(plan, filled, wetted), at.kappa).resistance.value
    return doubts(plan, filled.gap.value, closed, at.solved, hours_claim)


_LONG_H = 1000.0  # a bath that does not come clean has warmed through by then


def _energy(current: Figure, plan: Plan, window: Figure | None) -> Figure | None:
    if window is None:
        return None
    volts = plan.supply.nominal_v
    return figure(
        "power.energy", "Energy over the run", current.value * volts * window.value, "energy",
        "I*U*t",
        [uses("I", current), typed("U", "Nominal volts", volts, "voltage"), uses("t", window)],
        "ohm",
    )  # fmt: skip
