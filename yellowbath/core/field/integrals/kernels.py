"""Compiled integrals over flat pieces in an insulated box, or between floor and surface.

Exact for near sources: 1/r over a triangle (Wilton and others, IEEE Trans. AP 32 (1984), from
memory), the solid angle (van Oosterom and Strackee, IEEE Trans. BME 30 (1983), from memory).
Moments to the second farther off. Integrals are over G, so 1/(4 pi) is in them. Lengths [m].
"""

from __future__ import annotations

import math
from typing import Any

import numba
import numpy as np

# divisions that are not looked at one by one
compiled: Any = numba.njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
NEAR = 2.5  # a flat piece is exact within so many of its sizes, by its moments beyond; judged
_MANY = 0.64  # of that, in an element's: within it one of many pieces is taken piece by piece
_EXACT = 1.5  # sizes within which such a piece is exact, many to an element as they are; judged
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
    j_most, k_most, m_most = np.int32(table.shape[0] - 1), np.int32(last - 1), np.int32(row - 1)
    p0, p1, p2, h0, h1, h2 = per
    for i in range(n):
        ax = math.sqrt(dx[i] * dx[i] + dy[i] * dy[i]) if slab else abs(dx[i])
        ax, ay, az = ax * p0, abs(dy[i]) * p1, abs(dz[i]) * p2
        # whatever is asked for, no place outside of the table is read
        j = max(min(np.int32(ax + 0.5), j_most), np.int32(0))
        k = max(min(np.int32(ay + 0.5), k_most), np.int32(0))
        m = max(min(np.int32(az + 0.5), m_most), np.int32(0))
        gx[i], gy[i], gz[i] = (ax - j) * h0, (ay - k) * h1, (az - m) * h2
        index[i] = j * steps[0] + k * steps[1] + m * steps[2]
    flat = table.reshape(-1)
    for i in range(n):
        t = flat[index[i] : index[i] + _FACTS]
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
def by_moments(ex, ey, ez, q, facing, area, xx, yy, zz, xy, xz, yz):
    """``flat_exact`` by the area and its second moments, the mixed ones twice, from so far off the
    middle, ``q`` being one over the distance."""
    q2 = q * q
    along = ex * facing[0] + ey * facing[1] + ez * facing[2]
    bent = ex * ex * xx + ey * ey * yy + ez * ez * zz + ex * ey * xy + ex * ez * xz + ey * ez * yz
    bent *= q2 * q2
    spread = (xx + yy + zz) * q2
    potential = q * (area + 1.5 * bent - 0.5 * spread)
    return potential, along * q * q2 * (area + 7.5 * bent - 1.5 * spread)


@compiled
def flat_at(x, y, z, t, f, near):
    """``flat_exact`` within ``near`` sizes of a flat piece, by its moments beyond; ``f``: as
    ``elements_at``'s facts."""
    ex, ey, ez = x - f[0], y - f[1], z - f[2]
    r2 = ex * ex + ey * ey + ez * ez
    if r2 < near * near * f[7]:
        return flat_exact(x, y, z, t)
    facing = f[3], f[4], f[5]
    return by_moments(ex, ey, ez, 1 / math.sqrt(r2), facing, f[6],
                      f[8], f[9], f[10], f[11], f[12], f[13])  # fmt: skip


@compiled
def add_bent(n, f, close, work, single, double):
    """Add what an element and the rest do to ``n`` images of points: by its moments to the second,
    of its area and of its normals, none of which needs it flat. Of those nearer than ``close``
    (squared) only the rest."""
    dx, dy, dz = work[0, :n], work[1, :n], work[2, :n]
    gx, gy, gz, value = work[3, :n], work[4, :n], work[5, :n], work[6, :n]
    for i in range(n):
        x, y, z = dx[i], dy[i], dz[i]
        xx, yy, zz, xy, xz, yz = x * x, y * y, z * z, x * y, x * z, y * z
        r2 = xx + yy + zz
        q = 1 / math.sqrt(max(r2, 1e-30))
        q = q / FOUR_PI if r2 >= close else 0.0
        p2 = 1 / max(r2, 1e-30)
        bent = xx * f[8] + yy * f[9] + zz * f[10] + xy * f[11] + xz * f[12] + yz * f[13]
        spread = f[8] + f[9] + f[10]
        single[i] += q * (f[6] + p2 * (1.5 * bent * p2 - 0.5 * spread)) + f[6] * value[i]
        once = xx * f[14] + yy * f[15] + zz * f[16] + xy * f[17] + xz * f[18] + yz * f[19]
        twice = x * (xx * f[20] + xy * f[23] + xz * f[24] + yy * f[25] + yz * f[29])
        twice += y * (yy * f[21] + yz * f[26]) + z * (zz * f[22] + xz * f[27] + yz * f[28])
        whole = x * f[3] + y * f[4] + z * f[5] - f[14] - f[15] - f[16]
        whole += p2 * (3 * once - 1.5 * (x * f[30] + y * f[31] + z * f[32]) + 7.5 * twice * p2)
        double[i] += q * p2 * whole - gx[i] * f[3] - gy[i] * f[4] - gz[i] * f[5]


@compiled
def elements_at(points, own, pieces, elements, size, table, which, near):
    """Single and double layer of G from elements at points; ``which``: ALL, ALONE or TANK; exact
    within ``near`` element sizes.

    points (n, 3); own (n): index of the flat piece a point lies on, or -1. An element is one or
    more flat pieces: ``pieces`` = (corners (m, 4, 3), a triangle having its last corner twice;
    facts (m, 14): centre, unit normal, area, squared span, second moments), ``elements`` =
    (first (k + 1) piece of each, facts (k, 33): centre, vector area, area, squared span, and
    moments as ``mesh.elements.moments`` has them). Returns S (n, k) [m], the integral of G, and
    D (n, k) [-], that of dG/dn with n by the corners.
    """
    corners, flat = pieces
    first, whole = elements
    n, m = points.shape[0], whole.shape[0]
    single, double = np.zeros((n, m)), np.zeros((n, m))
    per, cells = steps_of(size, table), cells_of(size)
    sides = 1 if size[1] < 0 or which == ALONE else 2
    at = np.ascontiguousarray(points.T)
    work, index = np.zeros((7, BLOCK)), np.zeros(BLOCK, np.int64)
    s_all, d_all = np.zeros(BLOCK), np.zeros(BLOCK)
    for j in range(m):
        f = whole[j]
        source = f[0], f[1], f[2]
        alone = first[j + 1] - first[j] == 1
        close = (near if alone else _MANY * near) ** 2 * f[7]
        for a in range(0, n, BLOCK):
            count = min(BLOCK, n - a)
            s_all[:], d_all[:] = 0.0, 0.0
            for image in range(sides * sides * (1 if which == ALONE else 2)):
                direct = image == 0
                left_out = which == TANK and direct
                displaced(at, a, count, source, image_of(image), cells, work)
                if which == ALONE:
                    work[3:] = 0.0
                else:
                    rest(table, per, count, work, index)
                add_bent(count, f, _ALL if left_out else close, work, s_all, d_all)
                for k in range(0 if left_out else count):
                    x, y, z = work[0, k], work[1, k], work[2, k]
                    if x * x + y * y + z * z >= close:
                        continue
                    x, y, z = source[0] + x, source[1] + y, source[2] + z
                    for p in range(first[j], first[j + 1]):
                        v, w = flat_at(x, y, z, corners[p], flat[p], near if alone else _EXACT)
                        s_all[k] += v / FOUR_PI
                        d_all[k] += 0.0 if direct and own[a + k] == p else w / FOUR_PI
            for k in range(count):
                single[a + k, j], double[a + k, j] = s_all[k], d_all[k]
    return single, double


@compiled
def image_of(k):
    """Signs of the kth image: up and down first, so that there may be two, four or eight."""
    return 1.0 - 2.0 * (k // 2 % 2), 1.0 - 2.0 * (k // 4), 1.0 - 2.0 * (k % 2)


@compiled
def add_flat(at, a, n, f, signs, close, work, sums):
    """Add what a flat piece and the rest do to images of others, and these to it, by their moments:
    ``sums`` (4, points): S and D there, S and D back. Of those nearer than ``close`` (points,
    squared) only the rest."""
    dx, dy, dz = work[0, :n], work[1, :n], work[2, :n]
    gx, gy, gz, value = work[3, :n], work[4, :n], work[5, :n], work[6, :n]
    mx, my, mz, area = at[3, a : a + n], at[4, a : a + n], at[5, a : a + n], at[6, a : a + n]
    xx, yy, zz = at[8, a : a + n], at[9, a : a + n], at[10, a : a + n]
    xy, xz, yz = at[11, a : a + n], at[12, a : a + n], at[13, a : a + n]
    s_there, d_there, s_back, d_back = sums[0, :n], sums[1, :n], sums[2, :n], sums[3, :n]
    sx, sy, sz = signs
    facing = f[3], f[4], f[5]
    for i in range(n):
        x, y, z = dx[i], dy[i], dz[i]
        r2 = x * x + y * y + z * z
        q = 1 / math.sqrt(max(r2, 1e-30)) if r2 >= close[i] else 0.0
        v, w = by_moments(x, y, z, q, facing, f[6], f[8], f[9], f[10], f[11], f[12], f[13])
        s_there[i] += v / FOUR_PI + f[6] * value[i]
        slope = gx[i] * f[3] + gy[i] * f[4] + gz[i] * f[5]
        d_there[i] += w / FOUR_PI - f[6] * slope
        own = mx[i], my[i], mz[i]
        v, w = by_moments(-sx * x, -sy * y, -sz * z, q, own, area[i],
                          xx[i], yy[i], zz[i], xy[i], xz[i], yz[i])  # fmt: skip
        s_back[i] += v / FOUR_PI + area[i] * value[i]
        slope = sx * gx[i] * mx[i] + sy * gy[i] * my[i] + sz * gz[i] * mz[i]
        d_back[i] += w / FOUR_PI + area[i] * slope


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
    back = 0 if same else m
    single_back, double_back = np.zeros((back, n)), np.zeros((back, n))
    per, cells = steps_of(size, table), cells_of(size)
    sides = 1 if size[1] < 0 or which == ALONE else 2
    at = np.ascontiguousarray(flat_i.T)
    work, index = np.zeros((7, BLOCK)), np.zeros(BLOCK, np.int64)
    close, sums = np.zeros(BLOCK), np.zeros((4, BLOCK))
    for j in range(m):
        f = flat_j[j]
        upto = j + 1 if same else n
        for a in range(0, upto, BLOCK):
            count = min(BLOCK, upto - a)
            sums[:] = 0.0
            for image in range(sides * sides * (1 if which == ALONE else 2)):
                direct = image == 0
                left_out = which == TANK and direct
                sx, sy, sz = image_of(image)
                displaced(at, a, count, (f[0], f[1], f[2]), (sx, sy, sz), cells, work)
                if which == ALONE:
                    work[3:] = 0.0
                else:
                    rest(table, per, count, work, index)
                for k in range(count):
                    close[k] = _ALL if left_out else near * near * max(f[7], at[7, a + k])
                add_flat(at, a, count, f, (sx, sy, sz), close, work, sums)
                for k in range(0 if left_out else count):
                    x, y, z = work[0, k], work[1, k], work[2, k]
                    if x * x + y * y + z * z >= close[k]:
                        continue
                    i = a + k
                    itself = same and i == j
                    v, w = flat_exact(f[0] + x, f[1] + y, f[2] + z, corners_j[j])
                    sums[0, k] += v / FOUR_PI
                    sums[1, k] += 0.0 if itself and direct else w / FOUR_PI
                    if not itself:
                        x, y, z = at[0, i] - sx * x, at[1, i] - sy * y, at[2, i] - sz * z
                        v, w = flat_exact(x, y, z, corners_i[i])
                        sums[2, k] += v / FOUR_PI
                        sums[3, k] += w / FOUR_PI
            for k in range(count):
                i = a + k
                single[i, j], double[i, j] = sums[0, k], sums[1, k]
                if not same:
                    single_back[j, i], double_back[j, i] = sums[2, k], sums[3, k]
                elif i != j:
                    single[j, i], double[j, i] = sums[2, k], sums[3, k]
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
