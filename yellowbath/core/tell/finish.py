"""The steps after the bath that its pieces need, in order, with timers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from yellowbath.core.data import HONESTY, param, require_provenance, table
from yellowbath.core.document import Piece, Plan
from yellowbath.core.plan.results.relief import Relief, relief
from yellowbath.core.run.apart import AfterBath


@dataclass(frozen=True)
class Protection:
    """One way to protect the piece."""

    id: str
    label: str


@dataclass(frozen=True)
class Step:
    """One finishing step for some of the pieces. Times [s]; ``duration_s`` nought: no timer.

    ``from_lift`` says that ``within_s`` counts from the lift, and not from the step before.
    """

    id: str
    title: str
    how: str
    why: str
    duration_s: float
    within_s: float
    source: str
    choices: tuple[Protection, ...] = ()
    from_lift: bool = False


def delicate(piece: Piece) -> bool:
    """Whether a piece is never brushed hard."""
    return piece.fragility in ("relic", "thin")


def finish_steps(plan: Plan) -> list[Step]:
    """The steps of a plan's pieces: relics are cleaned softly and soak, porous iron is heated, hard
    steel is baked by its own class. A step that is alike for several is one step."""
    rows = {row["id"]: row for row in table("finish")["steps"]}
    hard = [p for p in plan.pieces if relief(p) is not None]
    others = [p for p in plan.pieces if p not in hard]
    out = []
    for names, pieces in (
        (("scrub", "scrub_soft"), plan.pieces),
        (("dry", "bake"), hard),  # whose bake cannot wait for another's day of soaking
        (("soak", "dry", "heat_dry"), others),
        (("soak_after", "heat_dry"), hard),
        (("protect",), plan.pieces),
    ):
        for name in names:
            out += _steps(rows[name], plan, [p for p in pieces if _applies(rows[name], p)])
    return out


def _steps(row: Mapping[str, object], plan: Plan, pieces: Sequence[Piece]) -> list[Step]:
    """A row's step for these pieces, or one for each kind of them where they differ."""
    groups: dict[object, list[Piece]] = {}
    for piece in pieces:
        groups.setdefault(_kind(row, piece), []).append(piece)
    return [_step(row, plan, group) for group in groups.values()]


def _applies(row: Mapping[str, object], piece: Piece) -> bool:
    facts: Mapping[str, object] = {
        "delicate": delicate(piece),
        "relief": relief(piece) is not None,
        "porous": piece.metal == "cast" or piece.fragility == "relic",
    }
    wanted = row["when"]
    assert isinstance(wanted, dict)
    return all(facts[key] in values for key, values in wanted.items())


def _kind(row: Mapping[str, object], piece: Piece) -> object:
    """What must be alike for two pieces to share a step."""
    if row["id"] == "bake":
        return relief(piece)
    return _protections(piece) if row["id"] == "protect" else None


def _protections(piece: Piece) -> tuple[Protection, ...]:
    """What suits how it should end up and what it is for; what food touches is seasoned only."""
    coat = "seasoning" if "seasoning" in piece.coats else None
    return tuple(
        Protection(p["id"], p["label"])
        for p in table("finish")["protections"]
        if piece.aim in p["aims"]
        and p.get("coat") == coat
        and (piece.use is None or p.get("use", piece.use) == piece.use)
    )


_PLATING = {"zinc", "tin", "cadmium", "chrome"}


def _cares(row: Mapping[str, object], plan: Plan, group: Sequence[Piece]) -> str:
    """What coats and parts of some of the pieces ask for within a step; named where not of all."""
    said = []
    for care in (c for c in table("finish")["cares"] if c["step"] == row["id"]):
        require_provenance(f"finish.cares.{care['fact']}", care)
        those = [p for p in group if _has(p, care["fact"])]
        if those:
            names = ", ".join(sorted(map(plan.called, those)))
            said.append(f" {care['text']}" if those == list(group) else f" {names}: {care['text']}")
    return "".join(said)


def _has(piece: Piece, fact: str) -> bool:
    match fact:
        case "enamel":
            return "enamel" in piece.coats
        case "seasoned":
            return "seasoning" in piece.coats
        case "plated":
            return bool(_PLATING & set(piece.other_metals))
    return bool(piece.parts)


def _step(row: Mapping[str, object], plan: Plan, group: Sequence[Piece]) -> Step:
    require_provenance(f"finish.{row['id']}", row)
    some = len(group) < len(plan.pieces)
    made: Relief | None = relief(group[0]) if row["id"] == "bake" else None
    honesty = HONESTY[str(row["honesty"])]
    names = ", ".join(plan.called(p) for p in group)
    return Step(
        id=".".join([str(row["id"]), *(p.id for p in group)]) if some else str(row["id"]),
        title=f"{_title(row, made)}: {names}" if some else _title(row, made),
        how=str(row["how"]).format(relief=made.words(plan.system) if made else "")
        + _cares(row, plan, group),
        why=str(row["why"]),
        duration_s=made.duration_s if made else float(str(row["duration_s"])),
        within_s=param("bake_within_s").value if made else float(str(row["within_s"])),
        source=honesty if row["source"] == "-" else f"{row['source']} ({honesty})",
        choices=_protections(group[0]) if row["id"] == "protect" else (),
        from_lift=made is not None,
    )


def _title(row: Mapping[str, object], made: Relief | None) -> str:
    if made is None or made.verdict == "bake":
        return str(row["title"])
    return "Hard steel: no bake by the table"


def next_step(steps: Sequence[Step], stands: AfterBath) -> Step | None:
    """The first step that is neither done nor left out."""
    return next((s for s in steps if s.id not in marked(stands)), None)


def marked(stands: AfterBath) -> set[str]:
    """Ids of the steps that are done or left out."""
    return {key.rsplit(".", 1)[0] for key in stands.finish if not key.endswith(".begun")}


def deadline(step: Step, stands: AfterBath) -> datetime | None:
    """By when a step that counts from the lift begins; None for the others, and before a lift."""
    if not step.from_lift or stands.lifted_at is None:
        return None
    return stands.lifted_at + timedelta(seconds=step.within_s)


def bake_due(steps: Sequence[Step], stands: AfterBath) -> datetime | None:
    """The next deadline for a bake that has not begun; None where none is open."""
    begun = {key.rsplit(".", 1)[0] for key in stands.finish} | marked(stands)
    due = [d for s in steps if s.id not in begun and (d := deadline(s, stands))]
    return min(due, default=None)


def steps_by_piece(plan: Plan, out: Sequence[str]) -> dict[str, list[Step]]:
    """The steps of each piece that is apart, by its id, and under "" those of the others."""
    named = [p.model_copy(update={"name": plan.called(p)}) for p in plan.pieces]
    alone = {p.id: [p] for p in named if p.id in out}
    sets = {"": [p for p in named if p.id not in out] if out else plan.pieces, **alone}
    return {
        name: finish_steps(plan.model_copy(update={"pieces": pieces}))
        for name, pieces in sets.items()
        if pieces
    }
