"""A mesh file as the page gets it: what is being done with it, then what it came to."""

from __future__ import annotations

import time
from collections.abc import Iterator

from pydantic import BaseModel

from yellowbath.api.lines import LineResponse
from yellowbath.api.problems import Problem, problem_of
from yellowbath.core.document import Mesh
from yellowbath.core.errors import CaseError
from yellowbath.core.units import System, show
from yellowbath.workflows.mesh.mesh_upload import MeshFile
from yellowbath.workflows.mesh.mesh_worker import Doing

_AT_ONCE_S = 0.6  # an answer that comes sooner needs no telling


class UnitOut(BaseModel):
    unit: str
    text: str
    like: str


class MeshFileOut(BaseModel):
    """A mesh file as read; ``shape`` is none while its unit is open."""

    units: list[UnitOut]
    shape: Mesh | None
    size_text: str
    area_text: str
    mass_text: str


def mesh_file_out(found: MeshFile, system: System) -> MeshFileOut:
    """A brought mesh in the person's units."""
    sizes = " × ".join(str(show(s, "length", system)) for s in found.size_m)
    return MeshFileOut(
        units=[
            UnitOut(unit=u.unit, text=str(show(u.length_m, "length", system)), like=u.like)
            for u in found.units
        ],
        shape=found.shape,
        size_text=sizes,
        area_text=str(show(found.area_m2, "area", system)),
        mass_text=str(show(found.mass_kg, "mass", system)),
    )


class MeshLine(BaseModel):
    """One line: what is being done, and in the last what was brought or what is wrong."""

    doing: str = ""
    made: MeshFileOut | None = None
    problem: Problem | None = None


def mesh_lines(told: Iterator[Doing | MeshFile], system: System) -> LineResponse:
    """The lines of one file. What is wrong and found at once is answered as a problem."""
    first = [next(told)]  # a reader that has to start takes its time before it
    until = time.monotonic() + _AT_ONCE_S
    while time.monotonic() < until and not isinstance(first[-1], MeshFile):
        first.append(next(told))

    def lines() -> Iterator[str]:
        try:
            for item in first:
                yield _line(item, system)
            for item in told:
                yield _line(item, system)
        except CaseError as error:
            yield MeshLine(problem=problem_of(error, 422)).model_dump_json() + "\n"

    return LineResponse(lines())


def _line(item: Doing | MeshFile, system: System) -> str:
    if isinstance(item, Doing):
        return MeshLine(doing=item.words).model_dump_json(exclude_none=True) + "\n"
    return MeshLine(made=mesh_file_out(item, system)).model_dump_json() + "\n"
