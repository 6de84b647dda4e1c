"""How much a tank holds at a level, and how high a volume stands.

Volumes [m3], heights above the floor [m]. Levels from 0 to the inside height.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from yellowbath.core.document import BoreTank, BoxTank, BucketTank, DrumTank, Mark, Tank
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.figures import Input, typed
from yellowbath.core.roots import invert

_STANDING = 0.3  # of a lying drum's diameter: where its wall is upright enough to hang scrap along


def plan_size(tank: Tank, level_m: float) -> tuple[float, float]:
    """Inside length and width [m] of the tank at a height; a bucket gives its diameter twice."""
    shape = tank.shape
    if isinstance(shape, DrumTank):
        return shape.length_m, _chord(shape.diameter_m, level_m)
    if isinstance(shape, BoreTank):
        return shape.diameter_m, shape.diameter_m
    share = level_m / shape.height_m
    if isinstance(shape, BucketTank):
        d = shape.floor_diameter_m + (shape.rim_diameter_m - shape.floor_diameter_m) * share
        return d, d
    top_l, top_w = shape.top_length_m or shape.length_m, shape.top_width_m or shape.width_m
    return (
        shape.length_m + (top_l - shape.length_m) * share,
        shape.width_m + (top_w - shape.width_m) * share,
    )


def _chord(diameter: float, z: float) -> float:
    """Width [m] of a lying circle at a height over its lowest point."""
    return 2 * math.sqrt(max(z * (diameter - z), 0.0))


def standing_size(tank: Tank) -> tuple[float, float]:
    """Length and width [m] within which scrap stands or hangs: the floor's, save in a drum.

    There it hangs through the cut and ends where the wall is upright enough.
    """
    if isinstance(tank.shape, DrumTank):
        height = min(_STANDING * tank.shape.diameter_m, tank.shape.height_m)
        length, width = plan_size(tank, height)
        return length, min(width, plan_size(tank, tank.shape.height_m)[1])
    return plan_size(tank, 0.0)


def losing_areas(tank: Tank, level: float) -> tuple[float, float]:
    """Wetted walls with the floor, and the open surface [m2], at a level [m]."""
    low, high = plan_size(tank, 0.0), plan_size(tank, level)
    if isinstance(tank.shape, DrumTank):
        d, length = tank.shape.diameter_m, tank.shape.length_m
        arc = d * math.acos(1 - 2 * min(level / d, 1.0))
        return arc * length + 2 * segment_area(d, level), math.prod(high)
    if tank.shape.is_round:
        wall = math.pi * (low[0] + high[0]) / 2 * math.hypot(level, (high[0] - low[0]) / 2)
        return wall + math.pi / 4 * low[0] ** 2, math.pi / 4 * high[0] ** 2
    return (sum(low) + sum(high)) * level + math.prod(low), math.prod(high)


def profile(tank: Tank) -> list[tuple[float, float]]:
    """The tank from its end: (height, half width) [m] up its wall; straight between."""
    height = tank.shape.height_m
    steps = 24 if isinstance(tank.shape, DrumTank) else 1
    # closer together low down, where a lying circle turns
    heights = [height * (k / steps) ** 2 for k in range(steps + 1)]
    return [(z, plan_size(tank, z)[1] / 2) for z in heights]


def floor_at(tank: Tank, y_m: float) -> float:
    """Height [m] of the tank's floor above its lowest point, so far from the middle."""
    if not isinstance(tank.shape, DrumTank):
        return 0.0
    radius = tank.shape.diameter_m / 2
    return radius - math.sqrt(max(radius**2 - y_m**2, 0.0))


def segment_area(diameter: float, z: float) -> float:
    """Area [m2] of a circle's segment of height z [m]: r2 acos(1 - z/r) - (r - z) chord/2."""
    r = diameter / 2
    z = min(max(z, 0.0), diameter)
    return r * r * math.acos(1 - z / r) - (r - z) * _chord(diameter, z) / 2


def volume_at(tank: Tank, level_m: float) -> float:
    """Volume [m3] up to a level [m]: from the jug marks where there are two, else from the sizes.

    Raises OutOfRangeError outside 0..height.
    """
    height = tank.shape.height_m
    if not -1e-9 <= level_m <= height * (1 + 1e-9):
        raise OutOfRangeError(
            f"A level of {level_m * 1000:.0f} mm is not in this tank.",
            allowed=f"0 to {height * 1000:.0f} mm.",
        )
    if len(tank.marks) >= 2:
        return marked_volume(tank.marks, level_m)
    shape = tank.shape
    if isinstance(shape, DrumTank):
        return shape.length_m * segment_area(shape.diameter_m, level_m)
    if isinstance(shape, BoreTank):
        return math.pi / 4 * shape.diameter_m**2 * level_m
    return (
        bucket_volume(shape, level_m)
        if isinstance(shape, BucketTank)
        else box_volume(shape, level_m)
    )


def volume_formula(tank: Tank, level_m: float) -> tuple[str, list[Input], str]:
    """The formula behind :func:`volume_at` as (expression, inputs, source key)."""
    if len(tank.marks) >= 2:
        marked = typed(
            "M", "Jug marks, interpolated at the level", volume_at(tank, level_m), "volume"
        )
        return "M", [marked], "pchip"
    z = typed("z", "Final level, piece in", level_m, "length")
    if isinstance(tank.shape, DrumTank):
        area = segment_area(tank.shape.diameter_m, level_m)
        inputs = [
            typed("l", "Inside length", tank.shape.length_m, "length"),
            typed("A", "Circle's segment up to the level", area, "area"),
        ]
        return "l*A", inputs, "geometry"
    if tank.shape.is_round:
        floor, top = plan_size(tank, 0.0)[0], plan_size(tank, level_m)[0]
        inputs = [
            z,
            typed("d0", "Diameter at the floor", floor, "length"),
            typed("d", "Diameter at the level", top, "length"),
        ]
        return "pi*z*(d0**2 + d0*d + d**2)/12", inputs, "frustum"
    areas = [
        typed(symbol, f"Inside area {where}", math.prod(plan_size(tank, height)), "area")
        for symbol, where, height in (
            ("A0", "at the floor", 0.0),
            ("Am", "half way up", level_m / 2),
            ("Az", "at the level", level_m),
        )
    ]
    return "z*(A0 + 4*Am + Az)/6", [z, *areas], "frustum"


def bucket_volume(shape: BucketTank, level_m: float) -> float:
    """Frustum of a cone [m3]: pi h (d0^2 + d0 d + d^2) / 12."""
    d0 = shape.floor_diameter_m
    d = d0 + (shape.rim_diameter_m - d0) * level_m / shape.height_m
    return math.pi * level_m * (d0 * d0 + d0 * d + d * d) / 12


def box_volume(shape: BoxTank, level_m: float) -> float:
    """Prismatoid [m3]: h (A0 + 4 Am + Ah) / 6, exact for straight tapered walls."""
    top_l, top_w = shape.top_length_m or shape.length_m, shape.top_width_m or shape.width_m

    def area(z: float) -> float:
        share = z / shape.height_m
        return (shape.length_m + (top_l - shape.length_m) * share) * (
            shape.width_m + (top_w - shape.width_m) * share
        )

    return level_m * (area(0) + 4 * area(level_m / 2) + area(level_m)) / 6


def marked_volume(marks: Sequence[Mark], level_m: float) -> float:
    """Volume [m3] from jug marks by monotone cubic interpolation (Fritsch and Carlson 1980).

    The floor counts as a mark of zero; above the last mark the last slope goes on.
    """
    points = [(0.0, 0.0), *sorted((m.height_m, m.volume_m3) for m in marks)]
    slopes = _monotone_slopes(points)
    for k in range(len(points) - 1):
        (x0, y0), (x1, y1) = points[k], points[k + 1]
        if level_m <= x1:
            t = (level_m - x0) / (x1 - x0)
            h00, h10 = (1 + 2 * t) * (1 - t) ** 2, t * (1 - t) ** 2
            h01, h11 = t * t * (3 - 2 * t), t * t * (t - 1)
            return h00 * y0 + h01 * y1 + (x1 - x0) * (h10 * slopes[k] + h11 * slopes[k + 1])
    return points[-1][1] + slopes[-1] * (level_m - points[-1][0])


def _monotone_slopes(points: Sequence[tuple[float, float]]) -> list[float]:
    secants = [(b[1] - a[1]) / (b[0] - a[0]) for a, b in pairwise(points)]
    inner = [
        0.0 if left * right <= 0 else 2 * left * right / (left + right)
        for left, right in pairwise(secants)
    ]
    return [secants[0], *inner, secants[-1]]


def level_of(tank: Tank, volume_m3: float) -> float:
    """How high [m] a volume [m3] stands; the rim where it would run over."""
    height = tank.shape.height_m
    if volume_m3 >= volume_at(tank, height):
        return height
    return invert(lambda level: volume_at(tank, level), volume_m3, 0.0, height)
