"""A plan file from the command line: answered, or made into a sheet."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from yellowbath.core.errors import InvalidDocumentError, NotFoundError, YellowBathError
from yellowbath.core.units import show
from yellowbath.workflows.plans.field import settled_answer
from yellowbath.workflows.plans.plans import Answered
from yellowbath.workflows.plans.sheets import SheetAsked, make
from yellowbath.workflows.shop.solver import Solver


def read_file(path: Path) -> dict[str, Any]:
    """The document in a file; raises NotFoundError or InvalidDocumentError."""
    if not path.is_file():
        raise NotFoundError(f"There is no file {path}.", remedy="Give the path of a plan in JSON.")
    try:
        document = json.loads(path.read_text("utf-8"))
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise InvalidDocumentError([(path.name, f"is not JSON: {error}")]) from None
    except RecursionError:
        raise InvalidDocumentError([(path.name, "is nested too deeply to be a plan")]) from None
    if not isinstance(document, dict):
        raise InvalidDocumentError([(path.name, "is a plan only if it is a JSON object")])
    return document


def plan_report(path: Path, as_json: bool) -> tuple[int, str]:
    """Exit code and text of ``yellowbath plan``: figures and findings, or what is wrong."""
    try:
        answered = settled_answer(Solver(), read_file(path))
    except YellowBathError as error:
        return 2, str(error)
    if answered.answer is None:
        return 2, answered.trouble
    return 0, json.dumps(_data(answered), indent=1) if as_json else _table(answered)


def _data(answered: Answered) -> dict[str, Any]:
    assert answered.answer is not None
    return {
        "figures": {f.key: {"name": f.name, "value_si": f.value, "low_si": f.low, "high_si": f.high}
                    for f in answered.answer.figures()},
        "findings": [{"id": f.id, "severity": f.severity, "title": f.title, "fix": f.fix}
                     for f in answered.findings],
        "faults": answered.read.faults,
    }  # fmt: skip


def _table(answered: Answered) -> str:
    assert answered.answer is not None
    system = answered.read.plan.system
    lines = []
    for f in answered.answer.figures():
        text = str(show(f.value, f.quantity, system))
        if f.low is not None and f.high is not None:
            low, high = (show(v, f.quantity, system, 2, like=f.value) for v in (f.low, f.high))
            text += f"   ({low.text} to {high.text} {high.unit})"
        lines.append(f"{f.name:44} {text}")
    lines += [f"{f.severity}: {f.title}. {f.evidence} {f.fix}" for f in answered.findings]
    lines += [f"fault at {at}: {what}" for at, what in answered.read.faults.items()]
    return "\n".join(lines)


def write_sheet(path: Path, kind: str, paper: str, out: Path | None) -> tuple[int, str]:
    """Make a sheet of a plan file; exit code and where it went, or what is wrong."""
    try:
        made = make(Solver(), kind, read_file(path), SheetAsked(paper=paper))
    except YellowBathError as error:
        return 2, str(error)
    target = out or Path(made.name)
    target.write_bytes(made.data)
    return 0, f"{target}: {len(made.data):,} bytes"
