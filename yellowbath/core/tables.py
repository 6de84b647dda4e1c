"""The tables of the trade, worked out by the same functions as a plan, in the person's units."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from yellowbath.core.chemistry.cell import Air, gas_m3_ah
from yellowbath.core.chemistry.electrolyte import IN_A_SET, SPOONS, conductivity, product, salt
from yellowbath.core.chemistry.liquid import BICARBONATE, SALT, SODA, Liquid, solubility
from yellowbath.core.data import HONESTY, param, require_provenance, source_text, table
from yellowbath.core.ear import parse
from yellowbath.core.errors import InputError
from yellowbath.core.power.cords import ampacity
from yellowbath.core.units import FOOT, OUNCE, QUANTITIES, US_GALLON, System, awg_area, pretty, show


@dataclass(frozen=True)
class TableSheet:
    """A table: columns with their units in the head, rows of text, and where it comes from."""

    id: str
    title: str
    lead: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    source: str


Rows = list[tuple[str, ...]]
_MAKERS: dict[str, tuple[Callable[[System], Rows], str]] = {}


def sheets(system: System) -> list[TableSheet]:
    """Every table, in the order in which a job meets them; words from core/data/tables.toml."""
    out = []
    for key, (make, source) in _MAKERS.items():
        words = table("tables")[key]
        columns = tuple(words["columns"])
        if key == "conducts":
            columns += tuple(str(show(t, "temperature", system, 2)) for t in _WARMTHS)
        rows = tuple(make(system))
        out.append(TableSheet(key, words["title"], words["lead"], columns, rows, source))
    return out


def _sheet(key: str, source: str) -> Callable[[Callable[[System], Rows]], None]:
    def register(make: Callable[[System], Rows]) -> None:
        _MAKERS[key] = (make, source)

    return register


def _n(value: float, digits: int = 3) -> str:
    return str(show(value, "number", "metric", digits).text)


@_sheet("spoons", source_text("kitchen"))
def spoons(system: System) -> Rows:
    """Grams of a level spoon or cup by product and spoon set."""
    sets = {"metric": ("metric",), "us": ("us",), "imperial": ("imperial", "metric")}[system]
    rows = []
    for key in table("products"):
        box = product(key)
        for name in sets:
            cells = [
                f"{_n(1e3 * box.bulk * v)} ({_n(1e3 * box.bulk_low * v, 2)} to "
                f"{_n(1e3 * box.bulk_high * v, 2)})"
                for v in (SPOONS[name][s] for s in IN_A_SET)
            ]
            label = box.name if len(sets) == 1 else f"{box.name}, {name} spoons"
            rows.append((label, *cells, box.cite))
    return rows


@_sheet("strength", source_text("stoichiometry"))
def strength(_: System) -> Rows:
    """How much of each product stands for a gram of dry soda."""
    boxes = [product(k) for k in ("soda_anhydrous", "soda_monohydrate", "soda_decahydrate")]
    bake = param("bake_ratio")
    return [
        *((b.name, _n(1 / b.share, 4), b.cite) for b in boxes),
        ("baking soda, before the oven", _n(1 / bake.value, 4), bake.cite()),
    ]


@_sheet("oven", source_text("stoichiometry"))
def oven(system: System) -> Rows:
    """What baking soda weighs as it bakes."""
    gone = 1 - param("bake_ratio").value

    def weighs(before: float, share: float) -> str:
        return str(show(before * (1 - share * gone), "mass", system))

    return [tuple(weighs(m, s) for s in (0, 0.25, 0.5, 0.75, 1.0)) for m in (0.1, 0.25, 0.5, 1.0)]


_WARMTHS = (0.0, 5.0, 10.0, 20.0, 30.0, 40.0, 60.0)  # C, columns of a table


@_sheet("conducts", source_text("conductivity"))
def conducts(_: System) -> Rows:
    """Conductivity [S/m] by salt, dose and warmth."""
    return [
        (salt(key)["name"], _n(c), *(_n(conductivity(key, c, t), 3) for t in _WARMTHS))
        for key in (SODA, BICARBONATE, SALT)
        for c in (2.0, 5.0, 10.0, 20.0, 40.0)
    ]


@_sheet("acidity", f"{source_text('speciation')}; {source_text('solubility')}")
def acidity(system: System) -> Rows:
    """pH and what dissolves."""
    return [
        (
            salt(key)["name"],
            str(show(t, "temperature", system, 2)),
            *(f"{Liquid({key: c}).ph(t):.1f}" for c in (2.0, 5.0, 20.0)),
            _n(solubility(key, t)),
        )
        for key in (SODA, BICARBONATE)
        for t in (5.0, 10.0, 20.0, 40.0)
    ]


@_sheet("wires", f"{source_text('wire')}; amps: NEC 400.5 and HD 21, lower ends (from memory)")
def wires(system: System) -> Rows:
    """Copper leads: resistance, amps, drop over a metre or three feet each way."""
    rho = param("copper_ohm_m").value
    sizes = [(f"{g} AWG", awg_area(g)) for g in (18, 16, 14, 12, 10, 8)]
    sizes += [(f"{a:g} mm²", a * 1e-6) for a in (0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0)]
    length = 1.0 if system == "metric" else 3 * FOOT
    far = show(length, "distance", system)
    return [
        (name, _n(a * 1e6), _n(rho / a * 1e3), _n(ampacity(a)),
         f"{_n(2 * length * 10 * rho / a, 2)} over {far}")
        for name, a in sorted(sizes, key=lambda x: x[1])
    ]  # fmt: skip


@_sheet("gas", f"{source_text('faraday')}; {source_text('ventilation')}")
def gas(system: System) -> Rows:
    """Gas, air, opening and water by amps."""
    h2, o2 = gas_m3_ah(2, Air()), gas_m3_ah(4, Air())
    vent, cm2 = param("vent_m3_h_a").value, param("opening_cm2_m3h").value
    water = param("water_kg_ah").value
    return [
        (
            _n(a), _n(a * h2 * 1e3), _n(a * o2 * 1e3), _n(a * vent),
            str(show(a * vent * cm2 / 1e4, "area", system)), _n(a * water * 1e3 * 24),
        )
        for a in (1.0, 2.0, 5.0, 10.0, 20.0)
    ]  # fmt: skip


@_sheet(
    "grades", "Needs judged by us; ASTM D610, ISO 4628-3 and ISO 8501-1 from memory, wording ours"
)
def grades(_: System) -> Rows:
    """Rust grades: ours, and the rusted area of two standards."""
    needs, rusted = table("needs"), table("rusted")
    require_provenance("rusted", rusted["sources"])
    ours = [
        (f"Here: {key}", str(needs[key]["name"]), f"{_n(needs[key]['median_ah_m2'] / 100)} Ah/dm²")
        for key in ("light", "moderate", "heavy", "scaled")
    ]
    return [
        *ours,
        *((f"ASTM D610 {r['grade']}", f"up to {r['upto']:g} % rusted", "") for r in rusted["d610"]),
        ("ASTM D610 0", "over 50 % rusted", ""),
        *((f"ISO 4628-3 {r['grade']}", f"{r['upto']:g} % rusted", "") for r in rusted["iso4628"]),
        ("ISO 8501-1 A", "Mill scale, little rust", ""),
        ("ISO 8501-1 B", "Rust begun, scale flaking", ""),
        ("ISO 8501-1 C", "Scale gone, slight pits", ""),
        ("ISO 8501-1 D", "Pits all over", ""),
    ]


@_sheet("bands", "Bands judged by us; conservation figures from memory")
def bands(_: System) -> Rows:
    """Working bands beside the published conservation figures."""
    rows: Rows = []
    for key, row in table("bands").items():
        require_provenance(f"bands.{key}", row)
        span = f"{_n(row['mean_low'] / 100)} to {_n(row['mean_high'] / 100)}"
        edges = f"at most {_n(row['p95_high'] / 100)}"
        rows.append((f"Here: {row['name']}", span, edges, HONESTY[row["honesty"]]))
    for row in table("conservation")["rows"]:
        require_provenance("conservation", row)
        low, high = row["low"] / 100, row["high"] / 100
        span = f"{_n(low)} to {_n(high)}" if high > low else _n(low) if low else "as low as can be"
        rows.append((row["what"], span, "", f"{row['source']} ({HONESTY[row['honesty']]})"))
    return rows


@_sheet("relief", "From memory, low to medium confidence in the class rows")
def relief(system: System) -> Rows:
    """The relief bake by strength."""
    rows: Rows = []
    strongest = max(row["high_mpa"] for row in table("bake")["classes"] if not row["case"])
    for row in table("bake")["classes"]:
        require_provenance("bake", row)
        low, high = (str(show(float(row[k]), "temperature", system)) for k in ("low_c", "high_c"))
        strong = f"{row['low_mpa']} to {row['high_mpa']}"
        if row["case"]:
            strong = f"case-hardened, core up to {row['high_mpa']}"
        cite = f"{row['source']} ({HONESTY[row['honesty']]})"
        rows.append((strong, f"{low} to {high}", f"{row['hours']} h", cite))
    rows.append((f"over {strongest}", "not in the table", "not in the table", cite))
    return rows


@_sheet("differ", HONESTY["practice"])
def people_differ(_: System) -> Rows:
    """Where people differ, and what is done here."""
    return [(r["topic"], r["some"], r["others"], r["does"]) for r in table("disagreements")["rows"]]


@dataclass(frozen=True)
class Converted:
    """A typed quantity in all three systems."""

    quantity: str
    texts: tuple[str, ...]


def _all(name: str, *units: str) -> tuple[tuple[str, float], ...]:
    """Units of a quantity as they are shown, with their factors to SI."""
    return tuple((pretty(u), QUANTITIES[name].units[u]) for u in units)


_CONVERTED = ("length", "volume", "mass", "area", "temperature", "wire", "concentration", "room")
_OTHERS: Mapping[str, Sequence[tuple[str, float]]] = {
    "length": _all("length", "mm", "cm", "m", "in", "ft"),
    "volume": (*_all("volume", "L", "US gal", "imp gal"), ("US qt", US_GALLON / 4)),
    "mass": _all("mass", "g", "kg", "oz", "lb"),
    "area": _all("area", "dm2", "cm2", "sq in", "sq ft"),
    "wire": _all("wire", "mm2"),
    "concentration": (("g/L", 1.0), ("oz a US gal", OUNCE / US_GALLON)),
    "room": _all("room", "m3", "ft3"),
}  # fmt: skip


def convert(text: str, system: System) -> list[Converted]:
    """Whatever a typed quantity can be, in every unit; nothing where it names no unit."""
    out = []
    bare = text.strip().replace(",", ".").replace(".", "", 1).isdigit()
    for name in () if bare else _CONVERTED:
        try:
            value = parse(text, name, system)
        except InputError:
            continue
        if name == "temperature":
            texts = [str(show(value, name, s)) for s in ("metric", "us")]
        else:
            texts = [f"{_n(value / f, 4)} {u}" for u, f in _OTHERS[name]]
        if name == "length":
            texts.append(str(show(value, name, "us")))
        out.append(Converted(QUANTITIES[name].name, tuple(dict.fromkeys(texts))))
    return out
