"""Compiled integrals over triangles and lines in an insulated box, or between floor and surface.

Exact for near sources: 1/r over a triangle (Wilton and others, IEEE Trans. AP 32 (1984), from
memory), the solid angle (van Oosterom and Strackee, IEEE Trans. BME 30 (1983), from memory), 1/r
over a line. Quadrature farther off. Integrals are over G, so 1/(4 pi) is in them. Lengths [m].
"""

from __future__ import annotations

import math
from typing import Any

import numba
import numpy as np

# divisions that are not looked at one by one: half of the time of a tank's rest went into that
compiled: Any = numba.njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
NEAR = 3.5  # exact within so many facet sizes, some points to _FAR times as many, one beyond
_FAR = 2.9  # times NEAR; judged
_EXACT = 4.0  # the same for one of many pieces of an element, which are small
FOUR_PI = 4 * math.pi
ALL, ALONE, TANK = 0, 1, 2
"""What is summed up: all, elements as if there were no tank, or what the tank adds to that."""


@compiled
def side_exact(ax, ay, az, ra, bx, by, bz, rb, nx, ny, nz, d):
    """What one side adds to a flat piece's potential: its distance in the plane by a log."""
    lx, ly, lz = bx - ax, by - ay, bz - az
    length = math.sqrt(lx * lx + ly * ly + lz * lz)
    lx, ly, lz = lx / length, ly / length, lz / length
    p = ax * (ly * nz - lz * ny) + ay * (lz * nx - lx * nz) + az * (lx * ny - ly * nx)
    s0 = ax * lx + ay * ly + az * lz
    s1 = s0 + length
    q2 = p * p + d * d
    if q2 < 1e-20 * length * length or abs(p) < 1e-14 * length:
        return 0.0
    # near the side's own line r and s cancel: their difference is q2 over their sum
    if s0 + s1 > 0:
        over, under = rb + s1, ra + s0 if s0 > 0 else q2 / (ra - s0)
    else:
        over, under = ra - s0, rb - s1 if s1 < 0 else q2 / (rb + s1)
    return p * math.log(over / under)


@compiled
def triangle_exact(x, y, z, t):
    """(integral of 1/r, solid angle) of triangle ``t`` (3, 3) from a point; positive in front.

    The solid angle is that of (y - x).n/r^3 with n by the right hand round the corners. The angles
    that the sides are seen under sum to it, so that the potential wants one arctangent for six.
    """
    ax, ay, az = t[0, 0] - x, t[0, 1] - y, t[0, 2] - z
    bx, by, bz = t[1, 0] - x, t[1, 1] - y, t[1, 2] - z
    cx, cy, cz = t[2, 0] - x, t[2, 1] - y, t[2, 2] - z
    ra = math.sqrt(ax * ax + ay * ay + az * az)
    rb = math.sqrt(bx * bx + by * by + bz * bz)
    rc = math.sqrt(cx * cx + cy * cy + cz * cz)
    ex1, ey1, ez1 = t[1, 0] - t[0, 0], t[1, 1] - t[0, 1], t[1, 2] - t[0, 2]
    ex2, ey2, ez2 = t[2, 0] - t[0, 0], t[2, 1] - t[0, 1], t[2, 2] - t[0, 2]
    nx, ny, nz = ey1 * ez2 - ez1 * ey2, ez1 * ex2 - ex1 * ez2, ex1 * ey2 - ey1 * ex2
    norm = math.sqrt(nx * nx + ny * ny + nz * nz)
    nx, ny, nz = nx / norm, ny / norm, nz / norm
    d = ax * nx + ay * ny + az * nz
    potential = side_exact(ax, ay, az, ra, bx, by, bz, rb, nx, ny, nz, d)
    potential += side_exact(bx, by, bz, rb, cx, cy, cz, rc, nx, ny, nz, d)
    potential += side_exact(cx, cy, cz, rc, ax, ay, az, ra, nx, ny, nz, d)
    solid = _solid(ax, ay, az, ra, bx, by, bz, rb, cx, cy, cz, rc, d * norm)
    return potential - abs(d * solid), solid


@compiled
def _solid(ax, ay, az, ra, bx, by, bz, rb, cx, cy, cz, rc, triple):
    """Solid angle by the corners from the point, their distances and their triple product."""
    if abs(triple) < 1e-14 * (ra * rb * rc + 1e-300):
        return 0.0
    under = ra * rb * rc + (ax * bx + ay * by + az * bz) * rc
    under += (bx * cx + by * cy + bz * cz) * ra + (cx * ax + cy * ay + cz * az) * rb
    return 2 * math.atan2(triple, under)


@compiled
def solid_angle(x, y, z, t):
    """Solid angle of a triangle, positive where its normal points away from the point."""
    ax, ay, az = t[0, 0] - x, t[0, 1] - y, t[0, 2] - z
    bx, by, bz = t[1, 0] - x, t[1, 1] - y, t[1, 2] - z
    cx, cy, cz = t[2, 0] - x, t[2, 1] - y, t[2, 2] - z
    a = math.sqrt(ax * ax + ay * ay + az * az)
    b = math.sqrt(bx * bx + by * by + bz * bz)
    c = math.sqrt(cx * cx + cy * cy + cz * cz)
    triple = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
    return _solid(ax, ay, az, a, bx, by, bz, b, cx, cy, cz, c, triple)


@compiled
def rest(dx, dy, dz, size, table, out):
    """Smooth rest and its gradient at a folded displacement, into ``out`` (4).

    The gradient is trilinear; the value is trilinear with its curvature put back from the gradients
    at the corners, which makes it third order: a plain table errs to one side everywhere.
    """
    n = table.shape[0] - 1
    fx, fy, fz = abs(dx) / size[0] * n, abs(dy) / size[1] * n, abs(dz) / size[2] * n
    i, j, k = min(int(fx), n - 1), min(int(fy), n - 1), min(int(fz), n - 1)
    fx, fy, fz = fx - i, fy - j, fz - k
    ex, ey, ez = 1 - fx, 1 - fy, 1 - fz
    # columns of the cell: a, b, c, d by (x, y) = (0, 0), (0, 1), (1, 0), (1, 1)
    a, b = table[i, j, k : k + 2], table[i, j + 1, k : k + 2]
    c, d = table[i + 1, j, k : k + 2], table[i + 1, j + 1, k : k + 2]
    wa, wb, wc, wd = ex * ey, ex * fy, fx * ey, fx * fy
    xa, xb = ez * a[0, 1] + fz * a[1, 1], ez * b[0, 1] + fz * b[1, 1]
    xc, xd = ez * c[0, 1] + fz * c[1, 1], ez * d[0, 1] + fz * d[1, 1]
    ya, yb = ez * a[0, 2] + fz * a[1, 2], ez * b[0, 2] + fz * b[1, 2]
    yc, yd = ez * c[0, 2] + fz * c[1, 2], ez * d[0, 2] + fz * d[1, 2]
    low = wa * a[0, 3] + wb * b[0, 3] + wc * c[0, 3] + wd * d[0, 3]
    high = wa * a[1, 3] + wb * b[1, 3] + wc * c[1, 3] + wd * d[1, 3]
    value = ez * (wa * a[0, 0] + wb * b[0, 0] + wc * c[0, 0] + wd * d[0, 0])
    value += fz * (wa * a[1, 0] + wb * b[1, 0] + wc * c[1, 0] + wd * d[1, 0])
    bend = size[0] * fx * ex * (ey * (xc - xa) + fy * (xd - xb))
    bend += size[1] * fy * ey * (ex * (yb - ya) + fx * (yd - yc))
    bend += size[2] * fz * ez * (high - low)
    out[0] = value - 0.5 / n * bend
    gx = wa * xa + wb * xb + wc * xc + wd * xd
    gy = wa * ya + wb * yb + wc * yc + wd * yd
    gz = ez * low + fz * high
    out[1] = -gx if dx < 0 else gx
    out[2] = -gy if dy < 0 else gy
    out[3] = -gz if dz < 0 else gz


@compiled
def rest_between(dx, dy, dz, size, table, out):
    """The same between an insulated floor and surface alone: by distance across, and height.

    ``size`` is (reach, -1, depth); ``table`` (across, up, 1, 4) holds value and two gradients.
    """
    n, m = table.shape[0] - 1, table.shape[1] - 1
    rho = math.sqrt(dx * dx + dy * dy)
    fx, fz = rho / size[0] * n, abs(dz) / size[2] * m
    i, k = min(int(fx), n - 1), min(int(fz), m - 1)
    fx, fz = fx - i, fz - k
    a, b, c, d = table[i, k, 0], table[i + 1, k, 0], table[i, k + 1, 0], table[i + 1, k + 1, 0]
    wa, wb, wc, wd = (1 - fx) * (1 - fz), fx * (1 - fz), (1 - fx) * fz, fx * fz
    across = (1 - fz) * (b[1] - a[1]) + fz * (d[1] - c[1])
    up = (1 - fx) * (c[2] - a[2]) + fx * (d[2] - b[2])
    out[0] = wa * a[0] + wb * b[0] + wc * c[0] + wd * d[0]
    out[0] -= 0.5 * (size[0] / n * fx * (1 - fx) * across + size[2] / m * fz * (1 - fz) * up)
    g = wa * a[1] + wb * b[1] + wc * c[1] + wd * d[1]
    g /= max(rho, 1e-12)
    h = wa * a[2] + wb * b[2] + wc * c[2] + wd * d[2]
    out[1], out[2] = g * dx, g * dy
    out[3] = -h if dz < 0 else h


@compiled
def fold(d, length):
    """A displacement brought into (-length, length) by whole cells; no cells where it is < 0."""
    if length < 0:
        return d
    return d - 2 * length * math.floor(d / (2 * length) + 0.5)


@compiled
def direct(dx, dy, dz, j, itself, pieces, leaves, elements, near, second):
    """(S, D) of element j alone, with no walls, from a point so far off its middle.

    ``itself`` is the flat piece that the point lies on, or -1; ``second`` (3, 3) is room to work.
    ``elements_at`` has it written out, since the call would make that half as slow again.
    """
    corners, flat = pieces
    first, whole = elements
    cx, cy, cz = whole[j, 0], whole[j, 1], whole[j, 2]
    span = whole[j, 7]
    r2 = dx * dx + dy * dy + dz * dz
    s_sum, d_sum = 0.0, 0.0
    if r2 < near**2 * span:
        alone = first[j + 1] - first[j] == 1
        for p in range(first[j], first[j + 1]):
            ex, ey, ez = cx + dx - flat[p, 0], cy + dy - flat[p, 1], cz + dz - flat[p, 2]
            q2 = ex * ex + ey * ey + ez * ez
            if alone or q2 < _EXACT * _EXACT * flat[p, 7]:
                t = corners[p]
                v, w = triangle_exact(cx + dx, cy + dy, cz + dz, t)
                if span_between(t[2], t[3]) > 1e-18:
                    second[0], second[1], second[2] = t[0], t[2], t[3]
                    v2, w2 = triangle_exact(cx + dx, cy + dy, cz + dz, second)
                    v, w = v + v2, w + w2
                if itself == p:
                    w = 0.0
                s_sum += v
                d_sum -= w
            else:
                q = 1 / math.sqrt(q2)
                part = flat[p, 6] * q
                s_sum += part
                d_sum += part * q * q * (ex * flat[p, 3] + ey * flat[p, 4] + ez * flat[p, 5])
    elif r2 < (_FAR * near) ** 2 * span:
        for k in range(4):
            if leaves[j, k, 3] > 0:
                ex = cx + dx - leaves[j, k, 0]
                ey = cy + dy - leaves[j, k, 1]
                ez = cz + dz - leaves[j, k, 2]
                q = 1 / math.sqrt(ex * ex + ey * ey + ez * ez)
                s_sum += leaves[j, k, 3] * q
                d_sum += q**3 * (ex * leaves[j, k, 4] + ey * leaves[j, k, 5] + ez * leaves[j, k, 6])
    else:
        q = 1 / math.sqrt(r2)
        s_sum = whole[j, 6] * q
        d_sum = q**3 * (dx * whole[j, 3] + dy * whole[j, 4] + dz * whole[j, 5])
    return s_sum / FOUR_PI, d_sum / FOUR_PI


@compiled
def elements_at(points, own, pieces, leaves, elements, size, table, which, near):
    """Single and double layer of G from elements at points; ``which``: ALL, ALONE or TANK; exact
    within ``near`` element sizes.

    points (n, 3); own (n): index of the flat piece a point lies on, or -1. An element is one or
    more flat pieces: ``pieces`` = (corners (m, 4, 3), a triangle having its last corner twice;
    facts (m, 8): centre, unit normal, area, squared span), ``leaves`` (k, 4, 7): point, area and
    vector area of up to four parts of each element, unused ones zero, ``elements`` = (first (k + 1)
    piece of each, facts (k, 8): centre, vector area, area, squared span). Returns S (n, k) [m], the
    integral of G, and D (n, k) [-], that of dG/dn with n by the corners.
    """
    corners, flat = pieces
    first, whole = elements
    n, m = points.shape[0], whole.shape[0]
    single, double = np.zeros((n, m)), np.zeros((n, m))
    slab = size[1] < 0
    sides, across = (1, -1.0) if slab else (2, size[0])
    wide, high = (1, 1) if which == ALONE else (sides, 2)
    buffer, second = np.zeros(4), np.zeros((3, 3))
    for j in range(m):
        cx, cy, cz = whole[j, 0], whole[j, 1], whole[j, 2]
        nx, ny, nz = whole[j, 3], whole[j, 4], whole[j, 5]
        area, span = whole[j, 6], whole[j, 7]
        close, far = near**2 * span, (_FAR * near) ** 2 * span
        alone = first[j + 1] - first[j] == 1
        for i in range(n):
            s_sum, d_sum = 0.0, 0.0
            for ix in range(wide):
                sx = 1.0 - 2.0 * ix
                dx = fold(sx * points[i, 0] - cx, across)
                for iy in range(wide):
                    sy = 1.0 - 2.0 * iy
                    dy = fold(sy * points[i, 1] - cy, size[1])
                    for iz in range(high):
                        sz = 1.0 - 2.0 * iz
                        dz = fold(sz * points[i, 2] - cz, size[2])
                        r2 = dx * dx + dy * dy + dz * dz
                        if which == TANK and sx + sy + sz == 3.0:
                            pass
                        elif r2 < close:
                            itself = own[i] if sx + sy + sz == 3.0 else -1
                            for p in range(first[j], first[j + 1]):
                                ex = cx + dx - flat[p, 0]
                                ey = cy + dy - flat[p, 1]
                                ez = cz + dz - flat[p, 2]
                                q2 = ex * ex + ey * ey + ez * ez
                                if alone or q2 < _EXACT * _EXACT * flat[p, 7]:
                                    t = corners[p]
                                    v, w = triangle_exact(cx + dx, cy + dy, cz + dz, t)
                                    if span_between(t[2], t[3]) > 1e-18:
                                        second[0], second[1], second[2] = t[0], t[2], t[3]
                                        v2, w2 = triangle_exact(cx + dx, cy + dy, cz + dz, second)
                                        v, w = v + v2, w + w2
                                    if itself == p:
                                        w = 0.0
                                    s_sum += v / FOUR_PI
                                    d_sum -= w / FOUR_PI
                                else:
                                    q = 1 / math.sqrt(q2)
                                    part = flat[p, 6] * q / FOUR_PI
                                    s_sum += part
                                    along = ex * flat[p, 3] + ey * flat[p, 4] + ez * flat[p, 5]
                                    d_sum += part * along * q * q
                        elif r2 < far:
                            for k in range(4):
                                if leaves[j, k, 3] > 0:
                                    ex = cx + dx - leaves[j, k, 0]
                                    ey = cy + dy - leaves[j, k, 1]
                                    ez = cz + dz - leaves[j, k, 2]
                                    q = 1 / math.sqrt(ex * ex + ey * ey + ez * ez)
                                    s_sum += leaves[j, k, 3] * q / FOUR_PI
                                    along = (
                                        ex * leaves[j, k, 4]
                                        + ey * leaves[j, k, 5]
                                        + ez * leaves[j, k, 6]
                                    )
                                    d_sum += along * q**3 / FOUR_PI
                        else:
                            q = 1 / math.sqrt(r2)
                            s_sum += area * q / FOUR_PI
                            d_sum += (dx * nx + dy * ny + dz * nz) * q**3 / FOUR_PI
                        if which == ALONE:
                            continue
                        if slab:
                            rest_between(dx, dy, dz, size, table, buffer)
                        else:
                            rest(dx, dy, dz, size, table, buffer)
                        s_sum += area * buffer[0]
                        d_sum -= buffer[1] * nx + buffer[2] * ny + buffer[3] * nz
            single[i, j] = s_sum
            double[i, j] = d_sum
    return single, double


@compiled
def elements_pair(one, other, size, table, which, near):
    """Both ways between two surfaces of single flat pieces, at their own middles.

    ``one`` and ``other`` are (pieces, leaves, elements) as of ``elements_at``; the same one twice
    meets each pair once. Returns S and D of other at one (n, m), and of one at other (m, n), which
    are empty where the two are the same. What i sees of j by an image, j sees of i, mirrored.
    """
    pieces_i, leaves_i, elements_i = one
    pieces_j, leaves_j, elements_j = other
    whole_i, whole_j = elements_i[1], elements_j[1]
    n, m = whole_i.shape[0], whole_j.shape[0]
    same = whole_i is whole_j or (n == m and np.all(whole_i == whole_j))
    single, double = np.zeros((n, m)), np.zeros((n, m))
    back = 0 if same else m
    single_back, double_back = np.zeros((back, n)), np.zeros((back, n))
    slab = size[1] < 0
    sides, across = (1, -1.0) if slab else (2, size[0])
    wide, high = (1, 1) if which == ALONE else (sides, 2)
    buffer, second = np.zeros(4), np.zeros((3, 3))
    for j in range(m):
        nx, ny, nz = whole_j[j, 3], whole_j[j, 4], whole_j[j, 5]
        for i in range(j + 1 if same else n):
            mx, my, mz = whole_i[i, 3], whole_i[i, 4], whole_i[i, 5]
            s_ij, d_ij, s_ji, d_ji = 0.0, 0.0, 0.0, 0.0
            span = max(whole_i[i, 7], whole_j[j, 7])
            close, far = near**2 * span, (_FAR * near) ** 2 * span
            itself = same and i == j
            for ix in range(wide):
                sx = 1.0 - 2.0 * ix
                dx = fold(sx * whole_i[i, 0] - whole_j[j, 0], across)
                for iy in range(wide):
                    sy = 1.0 - 2.0 * iy
                    dy = fold(sy * whole_i[i, 1] - whole_j[j, 1], size[1])
                    for iz in range(high):
                        sz = 1.0 - 2.0 * iz
                        dz = fold(sz * whole_i[i, 2] - whole_j[j, 2], size[2])
                        bx, by, bz = -sx * dx, -sy * dy, -sz * dz
                        r2 = dx * dx + dy * dy + dz * dz
                        if which == TANK and sx + sy + sz == 3.0:
                            pass
                        elif r2 >= far:
                            q = 1 / math.sqrt(r2)
                            s = q / FOUR_PI
                            cube = s * q * q
                            s_ij += whole_j[j, 6] * s
                            s_ji += whole_i[i, 6] * s
                            d_ij += cube * (dx * nx + dy * ny + dz * nz)
                            d_ji += cube * (bx * mx + by * my + bz * mz)
                        elif r2 >= close:
                            for k in range(4):
                                ex = whole_j[j, 0] + dx - leaves_j[j, k, 0]
                                ey = whole_j[j, 1] + dy - leaves_j[j, k, 1]
                                ez = whole_j[j, 2] + dz - leaves_j[j, k, 2]
                                q = 1 / math.sqrt(ex * ex + ey * ey + ez * ez)
                                s = q / FOUR_PI
                                cube = s * q * q
                                s_ij += leaves_j[j, k, 3] * s
                                d_ij += cube * (
                                    ex * leaves_j[j, k, 4]
                                    + ey * leaves_j[j, k, 5]
                                    + ez * leaves_j[j, k, 6]
                                )
                                ex = whole_i[i, 0] + bx - leaves_i[i, k, 0]
                                ey = whole_i[i, 1] + by - leaves_i[i, k, 1]
                                ez = whole_i[i, 2] + bz - leaves_i[i, k, 2]
                                q = 1 / math.sqrt(ex * ex + ey * ey + ez * ez)
                                s = q / FOUR_PI
                                cube = s * q * q
                                s_ji += leaves_i[i, k, 3] * s
                                d_ji += cube * (
                                    ex * leaves_i[i, k, 4]
                                    + ey * leaves_i[i, k, 5]
                                    + ez * leaves_i[i, k, 6]
                                )
                        else:
                            on = i if itself and sx + sy + sz == 3.0 else -1
                            s, d = direct(
                                dx, dy, dz, j, on, pieces_j, leaves_j, elements_j, near, second
                            )
                            s_ij, d_ij = s_ij + s, d_ij + d
                            if not itself:
                                s, d = direct(
                                    bx, by, bz, i, -1, pieces_i, leaves_i, elements_i, near, second
                                )
                                s_ji, d_ji = s_ji + s, d_ji + d
                        if which == ALONE:
                            continue
                        if slab:
                            rest_between(dx, dy, dz, size, table, buffer)
                        else:
                            rest(dx, dy, dz, size, table, buffer)
                        s_ij += whole_j[j, 6] * buffer[0]
                        s_ji += whole_i[i, 6] * buffer[0]
                        d_ij -= buffer[1] * nx + buffer[2] * ny + buffer[3] * nz
                        d_ji += sx * buffer[1] * mx + sy * buffer[2] * my + sz * buffer[3] * mz
            single[i, j], double[i, j] = s_ij, d_ij
            if not same:
                single_back[j, i], double_back[j, i] = s_ji, d_ji
            elif i != j:
                single[j, i], double[j, i] = s_ji, d_ji
    return single, double, single_back, double_back


@compiled
def span_between(a, b):
    """Squared distance of two points."""
    return (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2


@compiled
def winding(points, triangles):
    """How often closed triangles (m, 3, 3) go round each point (n) [-]: 1 inside, 0 outside."""
    out = np.zeros(points.shape[0])
    for i in range(points.shape[0]):
        total = 0.0
        for j in range(triangles.shape[0]):
            total += solid_angle(points[i, 0], points[i, 1], points[i, 2], triangles[j])
        out[i] = total / FOUR_PI
    return out
