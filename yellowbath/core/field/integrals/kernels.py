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

# divisions that are not looked at one by one
compiled: Any = numba.njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
NEAR = 2.5  # exact within so many facet sizes, by moments to _FAR times as many, one point beyond
_FAR = 4.0  # times NEAR; judged
_MANY = 1.4  # times NEAR: within it an element of many pieces is taken piece by piece; judged
FOUR_PI = 4 * math.pi
_FACTS = 10  # of each point of a table of the rest
BLOCK = 256  # points that are worked on at once: what is noted of them stays at hand
_NONE, _ALL = 1e30, 1e30  # a cell without end [m]; farther than anything [m2]
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
def flat_exact(x, y, z, t):
    """(integral of 1/r, of its slope along the normal) of a flat piece ``t`` (4, 3), a triangle
    having its last corner twice; the normal is by the right hand round the corners.

    The slope is the solid angle, which the angles sum to that the sides are seen under, so that the
    potential wants one or two arctangents for eight.
    """
    ax, ay, az = t[0, 0] - x, t[0, 1] - y, t[0, 2] - z
    bx, by, bz = t[1, 0] - x, t[1, 1] - y, t[1, 2] - z
    cx, cy, cz = t[2, 0] - x, t[2, 1] - y, t[2, 2] - z
    dx, dy, dz = t[3, 0] - x, t[3, 1] - y, t[3, 2] - z
    ra = math.sqrt(ax * ax + ay * ay + az * az)
    rb = math.sqrt(bx * bx + by * by + bz * bz)
    rc = math.sqrt(cx * cx + cy * cy + cz * cz)
    ex, ey, ez, fx, fy, fz = cx - ax, cy - ay, cz - az, dx - bx, dy - by, dz - bz
    nx, ny, nz = ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx
    norm = math.sqrt(nx * nx + ny * ny + nz * nz)
    nx, ny, nz = nx / norm, ny / norm, nz / norm
    off = ax * nx + ay * ny + az * nz
    potential = side_exact(ax, ay, az, ra, bx, by, bz, rb, nx, ny, nz, off)
    potential += side_exact(bx, by, bz, rb, cx, cy, cz, rc, nx, ny, nz, off)
    solid = _solid(ax, ay, az, ra, bx, by, bz, rb, cx, cy, cz, rc)
    if (cx - dx) ** 2 + (cy - dy) ** 2 + (cz - dz) ** 2 > 1e-18:
        rd = math.sqrt(dx * dx + dy * dy + dz * dz)
        potential += side_exact(cx, cy, cz, rc, dx, dy, dz, rd, nx, ny, nz, off)
        potential += side_exact(dx, dy, dz, rd, ax, ay, az, ra, nx, ny, nz, off)
        solid += _solid(ax, ay, az, ra, cx, cy, cz, rc, dx, dy, dz, rd)
    else:
        potential += side_exact(cx, cy, cz, rc, ax, ay, az, ra, nx, ny, nz, off)
    return potential - abs(off * solid), -solid


@compiled
def _solid(ax, ay, az, ra, bx, by, bz, rb, cx, cy, cz, rc):
    """Solid angle of a triangle by its corners from the point and their distances; positive where
    its normal points away."""
    triple = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
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
    return _solid(ax, ay, az, a, bx, by, bz, b, cx, cy, cz, c)


@compiled
def steps_of(size, table):
    """Steps of a table a metre by axis, and the other way round [m]."""
    n, m, k = table.shape[0] - 1, table.shape[1] - 1, table.shape[2] - 1
    if m == 0:
        return n / size[0], 0.0, k / size[2], size[0] / n, 0.0, size[2] / k
    return n / size[0], m / size[1], k / size[2], size[0] / n, size[1] / m, size[2] / k


@compiled
def cells_of(size):
    """Lengths by which images are folded [m]; without end where there are none on an axis."""
    if size[1] < 0:
        return _NONE, _NONE, size[2] if size[2] > 0 else _NONE
    return size[0], size[1], size[2]


@compiled
def fold(d, length):
    """A displacement of a point or its image, (-2 length, length), brought within the length by a
    whole cell."""
    return d + 2 * length if d < -length else (d - 2 * length if d > length else d)


@compiled
def displaced(at, a, n, source, signs, cells, work):
    """Into ``work[:3]``: how far an image of each point ``at`` (3 or more, points) lies off a
    source, folded; of ``n`` from ``a`` on."""
    for axis in range(3):
        x, d = at[axis, a : a + n], work[axis, :n]
        sign, place, length = signs[axis], source[axis], cells[axis]
        for i in range(n):
            d[i] = fold(sign * x[i] - place, length)


@compiled
def rest(table, per, n, work, index):
    """Smooth rest of ``n`` displacements in ``work[:3]`` into ``work[6]``, its gradient into
    ``work[3:6]``, by the second-order Taylor expansion about the nearest point of the table.

    The value is then third order, as it has to be: what is only second errs to one side everywhere.
    Between floor and surface alone it goes by the distance across. In three loops, of which the
    processor does the first and the last several at a time.
    """
    slab = per[4] == 0.0
    dx, dy, dz = work[0, :n], work[1, :n], work[2, :n]
    gx, gy, gz, value = work[3, :n], work[4, :n], work[5, :n], work[6, :n]
    last, row = table.shape[1], table.shape[2]
    steps = np.int32(last * row * _FACTS), np.int32(row * _FACTS), np.int32(_FACTS)
    p0, p1, p2, h0, h1, h2 = per
    for i in range(n):
        ax = math.sqrt(dx[i] * dx[i] + dy[i] * dy[i]) if slab else abs(dx[i])
        ax, ay, az = ax * p0, abs(dy[i]) * p1, abs(dz[i]) * p2
        j, k, m = np.int32(ax + 0.5), np.int32(ay + 0.5), np.int32(az + 0.5)
        gx[i], gy[i], gz[i] = (ax - j) * h0, (ay - k) * h1, (az - m) * h2
        index[i] = j * steps[0] + k * steps[1] + m * steps[2]
    flat = table.reshape(-1)
    for i in range(n):
        first = min(index[i], len(flat) - _FACTS)
        t = flat[first : first + _FACTS]
        x, y, z = gx[i], gy[i], gz[i]
        hx = t[4] * x + t[7] * y + t[8] * z
        hy = t[7] * x + t[5] * y + t[9] * z
        hz = t[8] * x + t[9] * y + t[6] * z
        value[i] = t[0] + x * (t[1] + hx / 2) + y * (t[2] + hy / 2) + z * (t[3] + hz / 2)
        gx[i], gy[i], gz[i] = t[1] + hx, t[2] + hy, t[3] + hz
    for i in range(n):
        if slab:
            across = gx[i] / max(math.sqrt(dx[i] * dx[i] + dy[i] * dy[i]), 1e-12)
            gx[i], gy[i] = across * dx[i], across * dy[i]
        else:
            gx[i] = -gx[i] if dx[i] < 0 else gx[i]
            gy[i] = -gy[i] if dy[i] < 0 else gy[i]
        gz[i] = -gz[i] if dz[i] < 0 else gz[i]


@compiled
def add_images(at, a, n, facing, signs, far, work, total, there, back):
    """Add what a small source and its rest do to an image of each point, both ways: the potential,
    and its slope along the source's normal ``facing`` and along the mirrored points' own.

    Of those nearer than ``far`` (points, squared) only the rest: they are for another to integrate.
    """
    dx, dy, dz = work[0, :n], work[1, :n], work[2, :n]
    gx, gy, gz, value = work[3, :n], work[4, :n], work[5, :n], work[6, :n]
    mx, my, mz = at[3, a : a + n], at[4, a : a + n], at[5, a : a + n]
    total, there, back, far = total[a : a + n], there[a : a + n], back[a : a + n], far[:n]
    (sx, sy, sz), (ux, uy, uz) = signs, facing
    for i in range(n):
        r2 = dx[i] * dx[i] + dy[i] * dy[i] + dz[i] * dz[i]
        q = 1 / math.sqrt(max(r2, 1e-30))
        q = q / FOUR_PI if r2 >= far[i] else 0.0
        cube = q / max(r2, 1e-30)
        hx, hy, hz = dx[i] * cube - gx[i], dy[i] * cube - gy[i], dz[i] * cube - gz[i]
        total[i] += q + value[i]
        there[i] += hx * ux + hy * uy + hz * uz
        back[i] -= sx * hx * mx[i] + sy * hy * my[i] + sz * hz * mz[i]


@compiled
def by_moments(ex, ey, ez, q, f):
    """``flat_exact`` by the area and its second moments, from so far off the middle, ``q`` being
    one over the distance; ``f`` as ``elements_at``'s facts."""
    q2 = q * q
    along = ex * f[3] + ey * f[4] + ez * f[5]
    bent = ex * ex * f[8] + ey * ey * f[9] + ez * ez * f[10]
    bent += 2 * (ex * ey * f[11] + ex * ez * f[12] + ey * ez * f[13])
    bent *= q2 * q2
    spread = (f[8] + f[9] + f[10]) * q2
    potential = q * (f[6] + 1.5 * bent - 0.5 * spread)
    return potential, along * q * q2 * (f[6] + 7.5 * bent - 1.5 * spread)


@compiled
def elements_at(points, own, pieces, leaves, elements, size, table, which, near):
    """Single and double layer of G from elements at points; ``which``: ALL, ALONE or TANK; exact
    within ``near`` element sizes.

    points (n, 3); own (n): index of the flat piece a point lies on, or -1. An element is one or
    more flat pieces: ``pieces`` = (corners (m, 4, 3), a triangle having its last corner twice;
    facts (m, 14): centre, unit normal, area, squared span, second moments of the area about the
    centre), ``leaves`` (k, 4, 7): point, area and vector area of up to four parts of each element,
    unused ones zero, ``elements`` = (first (k + 1) piece of each, facts (k, 8): centre, vector
    area, area, squared span). Returns S (n, k) [m], the integral of G, and D (n, k) [-], that of
    dG/dn with n by the corners.
    """
    corners, flat = pieces
    first, whole = elements
    n, m = points.shape[0], whole.shape[0]
    single, double = np.zeros((n, m)), np.zeros((n, m))
    per, cells = steps_of(size, table), cells_of(size)
    sides = 1 if size[1] < 0 or which == ALONE else 2
    at = np.zeros((6, n))
    at[:3] = points.T
    work, index, far = np.zeros((7, BLOCK)), np.zeros(BLOCK, np.int64), np.zeros(BLOCK)
    total, there, back = np.zeros(n), np.zeros(n), np.zeros(n)
    for j in range(m):
        source = whole[j, 0], whole[j, 1], whole[j, 2]
        facing = whole[j, 3], whole[j, 4], whole[j, 5]
        alone = first[j + 1] - first[j] == 1
        close = (near if alone else _MANY * near) ** 2 * whole[j, 7]
        reach = (_FAR * near) ** 2 * whole[j, 7]
        total[:], there[:] = 0.0, 0.0
        for a in range(0, n, BLOCK):
            count = min(BLOCK, n - a)
            for image in range(sides * sides * (1 if which == ALONE else 2)):
                signs = image_of(image)
                direct = image == 0
                displaced(at, a, count, source, signs, cells, work)
                if which == ALONE:
                    work[3:] = 0.0
                else:
                    rest(table, per, count, work, index)
                far[:] = _ALL if which == TANK and direct else reach
                add_images(at, a, count, facing, signs, far, work, total, there, back)
                if which == TANK and direct:
                    continue
                for k in range(count):
                    dx, dy, dz = work[0, k], work[1, k], work[2, k]
                    r2 = dx * dx + dy * dy + dz * dz
                    if r2 >= reach:
                        continue
                    i = a + k
                    x, y, z = source[0] + dx, source[1] + dy, source[2] + dz
                    s_sum, d_sum = 0.0, 0.0
                    if r2 >= close and not alone:
                        for p in range(4):
                            if leaves[j, p, 3] > 0:
                                ex, ey = x - leaves[j, p, 0], y - leaves[j, p, 1]
                                ez = z - leaves[j, p, 2]
                                q = 1 / math.sqrt(ex * ex + ey * ey + ez * ez)
                                s_sum += leaves[j, p, 3] * q
                                along = ex * leaves[j, p, 4] + ey * leaves[j, p, 5]
                                d_sum += (along + ez * leaves[j, p, 6]) * q * q * q
                    else:
                        for p in range(first[j], first[j + 1]):
                            f = flat[p]
                            ex, ey, ez = x - f[0], y - f[1], z - f[2]
                            q2 = ex * ex + ey * ey + ez * ez
                            if q2 >= near * near * f[7]:
                                v, w = by_moments(ex, ey, ez, 1 / math.sqrt(q2), f)
                            else:
                                v, w = flat_exact(x, y, z, corners[p])
                            s_sum += v
                            d_sum += 0.0 if direct and own[i] == p else w
                    single[i, j] += s_sum / FOUR_PI
                    double[i, j] += d_sum / FOUR_PI
        for i in range(n):
            single[i, j] += whole[j, 6] * total[i]
            double[i, j] += there[i]
    return single, double


@compiled
def image_of(k):
    """Signs of the kth image: up and down first, so that there may be two, four or eight."""
    return 1.0 - 2.0 * (k // 2 % 2), 1.0 - 2.0 * (k // 4), 1.0 - 2.0 * (k % 2)


@compiled
def elements_pair(one, other, size, table, which, near):
    """Both ways between two surfaces of single flat pieces, at their own middles.

    ``one`` and ``other`` are (corners, facts) as ``elements_at``'s pieces; the same one twice
    meets each pair once. Returns S and D of other at one (n, m), and of one at other (m, n), which
    are empty where the two are the same. What i sees of j by an image, j sees of i, mirrored.
    """
    corners_i, flat_i = one
    corners_j, flat_j = other
    n, m = flat_i.shape[0], flat_j.shape[0]
    same = flat_i is flat_j or (n == m and np.all(flat_i == flat_j))
    single, double = np.zeros((n, m)), np.zeros((n, m))
    back_of = 0 if same else m
    single_back, double_back = np.zeros((back_of, n)), np.zeros((back_of, n))
    per, cells = steps_of(size, table), cells_of(size)
    sides = 1 if size[1] < 0 or which == ALONE else 2
    at = np.ascontiguousarray(flat_i[:, :6].T)
    work, index, far = np.zeros((7, BLOCK)), np.zeros(BLOCK, np.int64), np.zeros(BLOCK)
    total, there, back = np.zeros(n), np.zeros(n), np.zeros(n)
    near_i, near_j = np.zeros((2, n)), np.zeros((2, n))
    for j in range(m):
        f = flat_j[j]
        source, facing = (f[0], f[1], f[2]), (f[3], f[4], f[5])
        total[:], there[:], back[:] = 0.0, 0.0, 0.0
        near_i[:], near_j[:] = 0.0, 0.0
        upto = j + 1 if same else n
        for a in range(0, upto, BLOCK):
            count = min(BLOCK, upto - a)
            for image in range(sides * sides * (1 if which == ALONE else 2)):
                signs = image_of(image)
                direct = image == 0
                displaced(at, a, count, source, signs, cells, work)
                if which == ALONE:
                    work[3:] = 0.0
                else:
                    rest(table, per, count, work, index)
                for k in range(count):
                    far[k] = (_FAR * near) ** 2 * max(f[7], flat_i[a + k, 7])
                if which == TANK and direct:
                    far[:] = _ALL
                add_images(at, a, count, facing, signs, far, work, total, there, back)
                if which == TANK and direct:
                    continue
                for k in range(count):
                    dx, dy, dz = work[0, k], work[1, k], work[2, k]
                    r2 = dx * dx + dy * dy + dz * dz
                    if r2 >= far[k]:
                        continue
                    i = a + k
                    g = flat_i[i]
                    bx, by, bz = -signs[0] * dx, -signs[1] * dy, -signs[2] * dz
                    if r2 >= near * near * max(f[7], g[7]):
                        q = 1 / math.sqrt(r2)
                        v, w = by_moments(dx, dy, dz, q, f)
                        v_back, w_back = by_moments(bx, by, bz, q, g)
                    else:
                        itself = same and i == j
                        x, y, z = f[0] + dx, f[1] + dy, f[2] + dz
                        v, w = flat_exact(x, y, z, corners_j[j])
                        v_back, w_back = v, w
                        if itself and direct:
                            w = 0.0
                        elif not itself:
                            x, y, z = g[0] + bx, g[1] + by, g[2] + bz
                            v_back, w_back = flat_exact(x, y, z, corners_i[i])
                    near_i[0, i] += v
                    near_i[1, i] += w
                    near_j[0, i] += v_back
                    near_j[1, i] += w_back
        for i in range(upto):
            area = flat_i[i, 6]
            s_ij, d_ij = f[6] * total[i], f[6] * there[i]
            single[i, j] = s_ij + near_i[0, i] / FOUR_PI
            double[i, j] = d_ij + near_i[1, i] / FOUR_PI
            s_ji = area * total[i] + near_j[0, i] / FOUR_PI
            d_ji = area * back[i] + near_j[1, i] / FOUR_PI
            if not same:
                single_back[j, i], double_back[j, i] = s_ji, d_ji
            elif i != j:
                single[j, i], double[j, i] = s_ji, d_ji
    return single, double, single_back, double_back


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
