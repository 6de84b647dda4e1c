"""The process in which mesh files are read and cleaned: bounded, and killed without harm.

Reads jobs from its standard input, a line of JSON and then so many bytes; answers in lines of JSON:
what it is doing, and then what was brought or what is wrong. It writes nothing and opens nothing.
"""

from __future__ import annotations

import json
import resource
import sys
from typing import IO, Any

MOST_MEMORY = 4 << 30  # address space; the compiled libraries alone reserve near one


def main() -> int:
    """Serve jobs until the input ends."""
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    source, out = sys.stdin.buffer, sys.stdout
    sys.stdout = sys.stderr  # what a library prints is no answer
    _ready(out)
    while line := source.readline():
        job = json.loads(line)
        data = source.read(job["size"])
        _do(job, data, out)
    return 0


def _say(out: IO[str], **line: Any) -> None:
    out.write(json.dumps(line) + "\n")
    out.flush()


def _ready(out: IO[str]) -> None:
    """Import what takes long before the first job comes."""
    from yellowbath.core.field.mesh import import_mesh, mesh_files  # noqa: F401

    _say(out, ready=True)


def _do(job: dict[str, Any], data: bytes, out: IO[str]) -> None:
    from yellowbath.core.errors import YellowBathError
    from yellowbath.workflows.mesh.mesh_upload import read_mesh_file

    try:
        made = read_mesh_file(job["name"], data, job["unit"], lambda doing: _say(out, doing=doing))
    except YellowBathError as error:
        _say(out, problem=error.problem, allowed=error.allowed, remedy=error.remedy)
    except MemoryError:
        _say(out, problem="It is too much for the memory that reading it may take.", allowed="",
             remedy="Simplify it before the export.")  # fmt: skip
    except Exception as error:  # whatever a broken file makes of the libraries
        said = f"It cannot be used: {type(error).__name__}."
        _say(out, problem=said, allowed="", remedy="Export it again, as STL if in doubt.")
    else:
        _say(out, made=made.as_json())


if __name__ == "__main__":
    sys.exit(main())
