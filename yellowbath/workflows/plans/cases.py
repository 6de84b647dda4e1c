"""Solving where the current goes in cases from files."""

from __future__ import annotations

import json
import time
from functools import partial
from pathlib import Path
from typing import Any

from yellowbath.core.errors import CaseError, NotFoundError, YellowBathError


def solve_file(
    path: Path, preview: bool = False, model: str = "linear"
) -> dict[str, dict[str, Any]]:
    """Results of the case in a file, or of each in a file of several under ``cases``, by name.

    Raises NotFoundError without a file, CaseError where it cannot be read.
    """
    from yellowbath.core.field.case.case import kinetic, read_case
    from yellowbath.core.field.case.case_solve import solve_case

    if not path.is_file():
        raise NotFoundError(f"There is no file {path}.", remedy="Give the path of a case in JSON.")
    try:
        data = json.loads(path.read_text("utf-8"))
    except json.JSONDecodeError as error:
        raise CaseError(f"{path.name} is not JSON: {error}.") from None
    if not isinstance(data, dict):
        raise CaseError("A case is a JSON object.", allowed="geometry and parameters.")
    cases = data.get("cases", {path.stem: data})
    load = partial(load_mesh, path.parent)
    read = {name: read_case(case, load) for name, case in cases.items()}
    if model == "kinetic":
        read = {name: kinetic(case) for name, case in read.items()}
    return {name: solve_case(case, preview, time.process_time) for name, case in read.items()}


def load_mesh(folder: Path, name: str) -> tuple[Any, Any]:
    """Vertices and faces of a mesh file beside a case; several bodies in it become one list.

    Raises NotFoundError without the file, CaseError where it is of another kind or broken.
    """
    path = folder / name
    if path.resolve().parent != folder.resolve() or not path.is_file():
        raise NotFoundError(f"There is no mesh {name} beside the case.")
    from yellowbath.core.field.mesh.mesh_files import read_bytes

    read = read_bytes(name, path.read_bytes())
    return read.vertices, read.faces


def field_report(path: Path, preview: bool, model: str, as_json: bool) -> tuple[int, str]:
    """Exit code and text of ``yellowbath field``: results, or what is wrong with the file."""
    try:
        solved = solve_file(path, preview, model)
    except YellowBathError as error:
        return 2, str(error)
    if as_json:
        return 0, json.dumps(next(iter(solved.values())) if len(solved) == 1 else solved, indent=1)
    return 0, "\n\n".join(as_table(name, results) for name, results in solved.items())


def as_table(name: str, results: dict[str, Any]) -> str:
    """Results as a table that a person can read, each with the error claimed for it."""
    errors = results["error_estimate"]
    lines = [
        f"{name}: {results['model']}, {results['timings']['facets']} facets",
        f"  current        {results['total_current_A']:9.4f} A     "
        f"± {errors['total_current_A']:.4f}",
        f"  wetted area    {results['part_wetted_area_m2'] * 100:9.3f} dm2",
        f"  mean density   {results['mean_i_A_m2'] / 100:9.4f} A/dm2",
        f"  p5 of mean     {results['p5_over_mean']:9.4f}       ± {errors['p5_over_mean']:.4f}",
        f"  p95 of mean    {results['p95_over_mean']:9.4f}       ± {errors['p95_over_mean']:.4f}",
        f"  worst patch    {results['worst_face_over_mean']:9.4f} of the mean",
    ]
    lines.append(
        f"  balance        {results['current_balance']:9.1e}       out of all anodes, over in"
    )
    lines += [f"  {note}" for note in results.get("mended", [])]
    lines += [
        f"  anode {anode:8} {share * 100:9.2f} % of the current"
        for anode, share in results["anode_share"].items()
    ]
    lines += [
        f"  {patch:14} {p['ratio_to_mean']:9.4f} of the mean"
        f"  ± {errors['patches'][patch]['ratio_to_mean']:.4f}  {p['area_m2'] * 100:8.3f} dm2"
        for patch, p in results["patches"].items()
    ]
    return "\n".join(lines)
