"""What is taken to the shed, or to another program: made from a document, nothing kept."""

from __future__ import annotations

import json
import socket
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from yellowbath.core.document import Plan
from yellowbath.core.errors import NoAnswerError, NotFoundError
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.run.switch_on import points
from yellowbath.core.units import plain
from yellowbath.workflows.plans.field import PlanField, field_of, settled_answer
from yellowbath.workflows.plans.plans import Answered, answer_document
from yellowbath.workflows.shop.solver import Solver

FONTS = Path(__file__).parents[2] / "web_dist" / "assets"


@dataclass(frozen=True)
class SheetAsked:
    """What a sheet is asked for with: paper, the run's address, the turn plan as shown."""

    paper: str = "a4"
    plan_id: str = ""
    base_url: str = ""
    turns: tuple[tuple[str, float], ...] = ()
    outside: bool = False


@dataclass(frozen=True)
class File:
    """A file made."""

    name: str
    media: str
    data: bytes


@dataclass(frozen=True)
class Making:
    """What a sheet is made from."""

    solver: Solver
    document: Mapping[str, Any]
    answered: Answered
    asked: SheetAsked

    @property
    def plan(self) -> Plan:
        return self.answered.read.plan

    @property
    def answer(self) -> Answer:
        assert self.answered.answer is not None
        return self.answered.answer


def make(solver: Solver, kind: str, document: Mapping[str, Any], asked: SheetAsked) -> File:
    """Make one of ``KINDS`` from a document.

    Raises NotFoundError for another kind, NoAnswerError where the plan has nothing to draw.
    """
    if kind not in KINDS:
        raise NotFoundError(f"There is no sheet called {kind}.", remedy=", ".join(KINDS) + ".")
    media, maker = KINDS[kind]
    quick = kind in _QUICK
    answered = answer_document(document) if quick else settled_answer(solver, document)
    plan = answered.read.plan
    if answered.answer is None and kind != "plan.json":
        raise NoAnswerError(answered.trouble)
    name = "".join(c if c.isalnum() else "-" for c in plan.title or "bath").strip("-")[:80]
    return File(f"{name or 'bath'}-{kind}", media, maker(Making(solver, document, answered, asked)))


def _card(m: Making) -> bytes:
    from yellowbath.sheets.card import Reach, Turn, card
    from yellowbath.sheets.pdf import one_page

    plan, asked = m.plan, m.asked
    url, why_not = "", _NO_RUN
    if asked.plan_id and asked.base_url:
        url, why_not = f"{asked.base_url}/plans/{asked.plan_id}/run", ""
    elif asked.plan_id:
        why_not = _NO_PHONE
    listed = points(plan, m.answered.findings)
    turns = [Turn(words, seconds) for words, seconds in asked.turns]
    reach, found, worked = Reach(url, why_not), m.answered.findings, m.answer
    return one_page(
        lambda scale: card(plan, worked, listed, found, reach, turns, asked.paper, scale), FONTS
    )


_NO_RUN = "Save the plan first, and this card has a code that opens its run on a phone."
_NO_PHONE = (
    "A phone cannot reach this computer yet: the shop is served to itself only. Start it with "
    "--host 0.0.0.0 in a network you trust, and print the card again."
)


def _band(m: Making) -> bytes:
    from yellowbath.sheets.band import band, sheets
    from yellowbath.sheets.pdf import pdf

    where = "outside" if m.asked.outside else "inside"
    made = band(m.plan, m.answer, _WALL_MM if m.asked.outside else 0.0)
    return pdf(sheets(made, m.asked.paper, m.plan.title or "Bath", where), FONTS)


_WALL_MM = 3.0  # of a bucket or a box; judged: the joint of the band takes up what is left


def _svg(m: Making) -> bytes:
    from yellowbath.sheets.drawing import LayoutDrawing
    from yellowbath.sheets.files import svg

    return svg(LayoutDrawing(m.plan, m.answer).items).encode()


def _dxf(m: Making) -> bytes:
    from yellowbath.sheets.drawing import LayoutDrawing
    from yellowbath.sheets.files import dxf

    return dxf(LayoutDrawing(m.plan, m.answer).items)


def _mesh(kind: str) -> Callable[[Making], bytes]:
    def made(m: Making) -> bytes:
        from yellowbath.sheets.files import mapped_mesh

        return mapped_mesh(*_map_of(field_of(m.solver, m.document, "preview")), kind)

    return made


def _map_of(solved: PlanField) -> tuple[Any, Any, Any]:
    """Corners [m], colours and densities [A/dm2] of a solved piece's flat pieces."""
    import numpy as np

    from yellowbath.sheets.colour import colours

    surface, answer = solved.field.surface, solved.answer
    values = solved.field.ratio * plain(answer.density.value, "density")
    if surface.first is not None:
        values = np.repeat(values, np.diff(surface.first))
    top = plain(max(answer.p95.value * 1.15, answer.band.low * 1.2), "density")
    return surface.corners - solved.field.origin, colours(values / top), values


def _plan(m: Making) -> bytes:
    return plan_text(m.plan).encode()


def plan_text(plan: Plan) -> str:
    """A plan as a file: the document as read, its schema named in it."""
    return json.dumps(plan.model_dump(mode="json", exclude={"typed"}), indent=1) + "\n"


_QUICK = {"plan.json", "layout.svg", "layout.dxf", "band.pdf"}
KINDS: dict[str, tuple[str, Callable[[Making], bytes]]] = {
    "card.pdf": ("application/pdf", _card),
    "band.pdf": ("application/pdf", _band),
    "layout.svg": ("image/svg+xml", _svg),
    "layout.dxf": ("image/vnd.dxf", _dxf),
    "map.glb": ("model/gltf-binary", _mesh("glb")),
    "map.ply": ("application/octet-stream", _mesh("ply")),
    "plan.json": ("application/json", _plan),
}


def reachable(host: str, port: int) -> str:
    """The address at which another device in the network finds a server, empty where none does."""
    if host in ("127.0.0.1", "localhost", "::1", ""):
        return ""
    if host in ("0.0.0.0", "::"):
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
            try:  # asks the routing table; nothing is sent
                probe.connect(("192.0.2.1", 9))
                host = str(probe.getsockname()[0])
            except OSError:
                return ""
    return f"http://{host}:{port}"
