"""Compiled integrals of G over lines of current, as rods are; see ``kernels``. Lengths [m].

The smooth rest of all segments that stand over one another is read off one column of the table,
interpolated across once.
"""

from __future__ import annotations

import math

import numpy as np

from yellowbath.core.field.integrals.kernels import FOUR_PI, compiled, fold, rest, rest_between

_COLUMN = 3  # segments over one another from which a column is worth its making


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
def column(dx, dy, nx, ny, size, table, out, image):
    """The rest over all heights at one folded place, into ``out[image]`` (levels, 3): value less
    its curvature upwards, its slope across along (nx, ny), and upwards. As ``kernels.rest``."""
    n = table.shape[0] - 1
    fx, fy = abs(dx) / size[0] * n, abs(dy) / size[1] * n
    i, j = min(int(fx), n - 1), min(int(fy), n - 1)
    fx, fy = fx - i, fy - j
    ex, ey = 1 - fx, 1 - fy
    aa, ab, ba, bb = ex * ey, ex * fy, fx * ey, fx * fy
    bend_x, bend_y = 0.5 / n * size[0] * fx * ex, 0.5 / n * size[1] * fy * ey
    mx, my = (-nx if dx < 0 else nx), (-ny if dy < 0 else ny)
    for k in range(n + 1):
        p, q, r, s = table[i, j, k], table[i, j + 1, k], table[i + 1, j, k], table[i + 1, j + 1, k]
        value = aa * p[0] + ab * q[0] + ba * r[0] + bb * s[0]
        value -= bend_x * (ey * (r[1] - p[1]) + fy * (s[1] - q[1]))
        value -= bend_y * (ex * (q[2] - p[2]) + fx * (s[2] - r[2]))
        out[image, k, 0] = value
        out[image, k, 1] = mx * (aa * p[1] + ab * q[1] + ba * r[1] + bb * s[1])
        out[image, k, 1] += my * (aa * p[2] + ab * q[2] + ba * r[2] + bb * s[2])
        out[image, k, 2] = aa * p[3] + ab * q[3] + ba * r[3] + bb * s[3]


@compiled
def over_one_another(starts, stops, first):
    """The segment after the last of those that stand right over one another from ``first`` on."""
    last = first
    while last < starts.shape[0]:
        for axis in range(2):
            place = starts[first, axis]
            if starts[last, axis] != place or stops[last, axis] != place:
                return last
        last += 1
    return last


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
    slab = size[1] < 0
    sides, across = (1, -1.0) if slab else (2, size[0])
    levels = table.shape[2] - 1
    columns, buffer = np.zeros((4, levels + 1, 3)), np.zeros(4)
    first = 0
    while first < m:
        after = first + 1 if slab else over_one_another(starts, stops, first)
        standing = after - first >= _COLUMN
        after = max(after, first + 1)
        for i in range(n):
            px, py, pz = points[i, 0], points[i, 1], points[i, 2]
            for q in range(4 if standing else 0):
                sx, sy = 1.0 - 2.0 * (q // 2), 1.0 - 2.0 * (q % 2)
                dx = fold(sx * px - starts[first, 0], size[0])
                dy = fold(sy * py - starts[first, 1], size[1])
                column(dx, dy, sx * normals[i, 0], sy * normals[i, 1], size, table, columns, q)
            for j in range(first, after):
                cx = (starts[j, 0] + stops[j, 0]) / 2
                cy = (starts[j, 1] + stops[j, 1]) / 2
                cz = (starts[j, 2] + stops[j, 2]) / 2
                hx, hy, hz = stops[j, 0] - cx, stops[j, 1] - cy, stops[j, 2] - cz
                half = math.sqrt(hx * hx + hy * hy + hz * hz)
                long = 2 * half
                # over all images: logs of ratios as the log of one product
                total, steep, smooth, turn, over_all, under_all = 0.0, 0.0, 0.0, 0.0, 1.0, 1.0
                for ix in range(sides):
                    sx = 1.0 - 2.0 * ix
                    dx = fold(sx * px - cx, across)
                    nx = sx * normals[i, 0]
                    for iy in range(sides):
                        sy = 1.0 - 2.0 * iy
                        dy = fold(sy * py - cy, size[1])
                        ny = sy * normals[i, 1]
                        q = 2 * ix + iy
                        for sz in (1.0, -1.0):
                            dz = fold(sz * pz - cz, size[2])
                            nz = sz * normals[i, 2]
                            kind, along = own[i, j], 0.0
                            if kind > 0:
                                along = (dx * hx + dy * hy + dz * hz) / half
                                apart = dx * dx + dy * dy + dz * dz - along * along
                                if apart > 1e-4 * radii[j] ** 2:
                                    kind = 0
                            if kind == 0:
                                ax, ay, az = dx - hx, dy - hy, dz - hz
                                bx, by, bz = dx + hx, dy + hy, dz + hz
                                r1 = math.sqrt(ax * ax + ay * ay + az * az)
                                r2 = math.sqrt(bx * bx + by * by + bz * bz)
                                over, under = r1 + r2 + long, r1 + r2 - long
                                over_all *= over
                                under_all *= under
                                pull = (ax * nx + ay * ny + az * nz) * r2
                                pull += (bx * nx + by * ny + bz * nz) * r1
                                steep += pull / (over * under * r1 * r2)
                            else:
                                total += own_at(kind, along, half, radii[j])
                            if standing:
                                f = abs(dz) / size[2] * levels
                                k = min(int(f), levels - 1)
                                f -= k
                                up = columns[q, k, 2]
                                bend = columns[q, k + 1, 2] - up
                                smooth += columns[q, k, 0]
                                smooth += f * (columns[q, k + 1, 0] - columns[q, k, 0])
                                smooth -= 0.5 / levels * size[2] * f * (1 - f) * bend
                                up += f * bend
                                turn += columns[q, k, 1]
                                turn += f * (columns[q, k + 1, 1] - columns[q, k, 1])
                                turn += (-up if dz < 0 else up) * nz
                            else:
                                if slab:
                                    rest_between(dx, dy, dz, size, table, buffer)
                                else:
                                    rest(dx, dy, dz, size, table, buffer)
                                smooth += buffer[0]
                                turn += buffer[1] * nx + buffer[2] * ny + buffer[3] * nz
                out[i, j] = total + math.log(over_all / under_all) / FOUR_PI + long * smooth
                slope[i, j] = long * (turn - 2 * steep / FOUR_PI)
        first = after
    return out, slope
