"""Amps and hours as something grows, turns or closes, point by point on the fine mesh.

``python -m tests.curves docs/models`` solves them and writes the plot; the largest step is the
largest departure of a point from the straight line between its neighbours. Lengths [m].
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from matplotlib import pyplot
from numpy.typing import NDArray

from tests.shops import QUIET
from yellowbath.workflows.plans.field import field_of
from yellowbath.workflows.shop.solver import Solver

Array = NDArray[np.float64]
Document = dict[str, Any]
BOX = {"shape": {"kind": "box"}}
HAND = {"joint_clear": True, "arrangement": "by_hand"}
PLATE = {"kind": "plate", "length_m": 0.15, "width_m": 0.08, "thickness_m": 0.006}


@dataclass(frozen=True)
class Curve:
    """A row of plans by one number, and what the number is."""

    title: str
    axis: str
    at: Array
    scale: float
    plan: Callable[[float], Document]


def bore(inner: float) -> Document:
    """A tube of 60 mm outside."""
    tube = {"kind": "tube", "length_m": 0.2, "outer_diameter_m": 0.06, "inner_diameter_m": inner}
    return {**QUIET, "tank": BOX, "pieces": [{"shape": tube}]}


def turn(degrees: float) -> Document:
    """A plate before two rods on one long wall."""
    rods = [{"id": f"a{k}", "x_m": x, "y_m": -0.12} for k, x in ((1, -0.08), (2, 0.08))]
    return {**QUIET, "tank": BOX, "layout": HAND, "anodes": rods,
            "pieces": [{"shape": PLATE, "turn_deg": degrees}]}  # fmt: skip


def gap(left: float) -> Document:
    """A rod of 12 mm that comes up to a plate's broad side."""
    y = -(left + 0.006 + 0.003)
    return {**QUIET, "tank": BOX, "layout": HAND, "pieces": [{"shape": PLATE}],
            "anodes": [{"id": "a1", "x_m": 0.0, "y_m": y, "diameter_m": 0.012}]}  # fmt: skip


CURVES = (
    Curve("A bore grows", "bore of a 60 mm tube, mm", np.linspace(0.010, 0.050, 21), 1e3, bore),
    Curve("A plate turns", "turned, degrees", np.linspace(0.0, 90.0, 19), 1.0, turn),
    Curve("A gap closes", "rod to plate, mm", np.geomspace(0.0015, 0.09, 19), 1e3, gap),
)


def solved(curve: Curve) -> tuple[Array, Array]:
    """Amps, and the middle of the main surface's hours."""
    amps, hours = [], []
    for x in curve.at:
        found = field_of(Solver(), curve.plan(float(x)), "fine").answer
        looks = found.outlook
        assert looks is not None and looks.main.hours is not None
        amps.append(found.gives.value)
        hours.append(looks.main.hours[1])
    return np.array(amps), np.array(hours)


def largest_step(at: Array, values: Array) -> float:
    """Largest departure of a point from the line between its neighbours, over its value [-]."""
    share = (at[1:-1] - at[:-2]) / (at[2:] - at[:-2])
    line = values[:-2] + share * (values[2:] - values[:-2])
    return float(np.abs(values[1:-1] / line - 1).max())


def main(folder: str) -> None:
    figure, axes = pyplot.subplots(2, 3, figsize=(11, 5.2), layout="constrained", sharex="col")
    for k, curve in enumerate(CURVES):
        amps, hours = solved(curve)
        at = np.log(curve.at) if curve.plan is gap else curve.at
        steps = [100 * largest_step(at, v) for v in (amps, hours)]
        print(f"{curve.title}: amps {amps.min():.3f} to {amps.max():.3f} A, hours "
              f"{hours.min():.2f} to {hours.max():.2f} h; largest step {steps[0]:.2f} "
              f"and {steps[1]:.2f} %", flush=True)  # fmt: skip
        for row, values in enumerate((amps, hours)):
            axis = axes[row][k]
            axis.plot(curve.scale * curve.at, values, "-o", color="#1b1a17",
                      markerfacecolor="#f2c200", markersize=5)  # fmt: skip
            axis.set_ylim(0, 1.15 * values.max())
            axis.grid(color="#d9d2c0")
            axis.set_ylabel("A" if row == 0 else "h, main surface")
        axes[0][k].set_title(curve.title)
        axes[1][k].set_xlabel(curve.axis)
        if curve.plan is gap:
            axes[1][k].set_xscale("log")
    figure.savefig(Path(folder) / "curves.svg", metadata={"Date": None})


if __name__ == "__main__":
    main(sys.argv[1])
