"""Compiled integrals of G over lines of current, as rods are; see ``kernels``. Lengths [m]."""

from __future__ import annotations

import math

import numpy as np

from yellowbath.core.field.integrals.kernels import (
    BLOCK,
    FOUR_PI,
    cells_of,
    compiled,
    displaced,
    image_of,
    rest,
    steps_of,
)


@compiled
def segment_at(along, apart, half):
    """Potential [-] of a segment of unit line density, from a point so far along it and (squared)
    off its axis."""
    one, other = half - along, half + along
    r1, r2 = math.sqrt(one * one + apart), math.sqrt(other * other + apart)
    # r - a as apart/(r + a): a long thin segment would else lose all of it to rounding
    under = apart / (r1 + one) if one > 0 else r1 - one
    under += apart / (r2 + other) if other > 0 else r2 - other
    return math.log((r1 + r2 + 2 * half) / under) / FOUR_PI


# mean over the angle between two points of one ring: squared distance over the radius squared, by
# Gauss points bunched where the two meet
_nodes, _weights = np.polynomial.legendre.leggauss(16)
_share = (_nodes + 1) / 2
_RING_SQUARES = 4 * np.sin(math.pi * _share**3 / 2) ** 2
_RING_WEIGHTS = _weights / 2 * 3 * _share**2
_DISC = 16 / (3 * math.pi)  # mean potential of an evenly charged disc on itself; from memory


@compiled
def own_at(kind, along, half, radius):
    """What a segment of a rod does to a point on that rod's own axis [-], as ``lines_at`` says."""
    if kind == 1:
        total = 0.0
        for k in range(len(_RING_WEIGHTS)):
            total += _RING_WEIGHTS[k] * segment_at(along, _RING_SQUARES[k] * radius**2, half)
        return total
    if kind == 3 and abs(along) < half:
        return 2 * half * _DISC / (FOUR_PI * radius)
    return segment_at(along, radius**2, half)


@compiled
def seen_along(own, work, half, length, radius, on, total):
    """Mark in ``on`` the points on a segment's own axis, and add what it does to them."""
    for i in range(len(own)):
        dx, dy, dz = work[0, i], work[1, i], work[2, i]
        along = (dx * half[0] + dy * half[1] + dz * half[2]) / length
        apart = dx * dx + dy * dy + dz * dz - along * along
        if own[i] > 0 and apart <= 1e-4 * radius**2:
            on[i] = 1.0
            total[i] += own_at(own[i], along, length, radius)


@compiled
def add_segment(at, a, n, half, length, signs, on, work, sums):
    """Add what a segment and its rest do to an image of each point that is not marked: the rest,
    the slope, and the two sides of the ratio whose log is the segment's own potential."""
    dx, dy, dz = work[0, :n], work[1, :n], work[2, :n]
    gx, gy, gz, value = work[3, :n], work[4, :n], work[5, :n], work[6, :n]
    mx, my, mz = at[3, a : a + n], at[4, a : a + n], at[5, a : a + n]
    smooth, turn = sums[1, a : a + n], sums[2, a : a + n]
    over_all, under_all = sums[3, a : a + n], sums[4, a : a + n]
    (hx, hy, hz), (sx, sy, sz) = half, signs
    for i in range(n):
        nx, ny, nz = sx * mx[i], sy * my[i], sz * mz[i]
        ax, ay, az = dx[i] - hx, dy[i] - hy, dz[i] - hz
        bx, by, bz = dx[i] + hx, dy[i] + hy, dz[i] + hz
        r1 = math.sqrt(ax * ax + ay * ay + az * az)
        r2 = math.sqrt(bx * bx + by * by + bz * bz)
        over, under = r1 + r2 + 2 * length, r1 + r2 - 2 * length
        pull = (ax * nx + ay * ny + az * nz) * r2 + (bx * nx + by * ny + bz * nz) * r1
        steep = pull / max(over * under * r1 * r2, 1e-60)
        other = on[i] == 0.0
        over_all[i] *= over if other else 1.0
        under_all[i] *= under if other else 1.0
        smooth[i] += value[i]
        turn[i] += gx[i] * nx + gy[i] * ny + gz[i] * nz - (steep / (2 * math.pi) if other else 0.0)


@compiled
def lines_at(points, normals, own, ends, radii, size, table):
    """Integral of G over line segments at points (n, m) [-], per unit line density, and its slope
    [1/m] along a normal (n, 3) at each point.

    ``ends``: starts and ends (m, 3) each. ``own`` (n, m): how a point on a rod's axis sees a
    segment of the same rod. 0: as any other; 1: side from side, the mean between two rings of its
    radius; 2: an end's disc from the side or the other way, at the radius; 3: a disc from a disc,
    on itself by its own mean potential. Slopes are of 0 only.
    """
    starts, stops = ends
    n, m = points.shape[0], starts.shape[0]
    out, slope = np.zeros((n, m)), np.zeros((n, m))
    per, cells = steps_of(size, table), cells_of(size)
    sides = 1 if size[1] < 0 else 2
    at = np.ascontiguousarray(np.concatenate((points, normals), axis=1).T)
    work, index, on = np.zeros((7, BLOCK)), np.zeros(BLOCK, np.int64), np.zeros(BLOCK)
    sums = np.zeros((5, n))
    for j in range(m):
        source = (
            (starts[j, 0] + stops[j, 0]) / 2, (starts[j, 1] + stops[j, 1]) / 2,
            (starts[j, 2] + stops[j, 2]) / 2,
        )  # fmt: skip
        half = stops[j, 0] - source[0], stops[j, 1] - source[1], stops[j, 2] - source[2]
        length = math.sqrt(half[0] * half[0] + half[1] * half[1] + half[2] * half[2])
        of_rod = np.any(own[:, j] > 0)
        sums[:] = 0.0
        sums[3:] = 1.0
        for a in range(0, n, BLOCK):
            count = min(BLOCK, n - a)
            for image in range(sides * sides * 2):
                signs = image_of(image)
                displaced(at, a, count, source, signs, cells, work)
                on[:] = 0.0
                if of_rod:
                    seen_along(own[a : a + count, j], work, half, length, radii[j], on,
                               sums[0, a : a + count])  # fmt: skip
                rest(table, per, count, work, index)
                add_segment(at, a, count, half, length, signs, on, work, sums)
        for i in range(n):
            # over all images: logs of ratios as the log of one product
            logs = math.log(sums[3, i] / sums[4, i]) / FOUR_PI
            out[i, j] = sums[0, i] + logs + 2 * length * sums[1, i]
            slope[i, j] = 2 * length * sums[2, i]
    return out, slope
