"""Minimum steel of orthogonal bars for two outer layers of *given* thickness: the exact optimum for one combination.

Holds the scalar kernels for one point. The iteration over layer thickness and concrete strength is in
`threelayer.py`. Subscripts: b bottom layer, t top layer; e is the distance of a bar axis from mid-depth,
positive towards the bottom.

The statement. A bar at e puts the share l = (yt + e)/Y of its force into the bottom layer and 1 - l into the
top one. The demand of a layer is N = (n yt + m)/Y (bottom) or (n yb - m)/Y (top); its concrete carries
compression u along x, v along y and the shear q of N, with u v >= q^2. For chosen u the bars of one
direction solve a linear program in two unknowns, so the total is a convex function of (ub, ut) alone:

    F(u) = steel_x(N_x + u) + steel_y(N_y + q^2/u).

Where it is smooth its minimum has a closed form; else one bar or two bars are zero, which leaves a line
(one Newton root) or a point (a quadratic). The candidates below contain the optimum of every such case and
each of them is admissible, so the smallest value is the optimum.
"""

from __future__ import annotations

import math

from sandwich.core.compiled import kernel

SHEAR_FLOOR = 1e-11  # of the largest force: keeps u and v positive where a layer carries no shear


@kernel
def layers(n, m, h, tb, tt):
    """Lever arms [mm], demands of the layers and the largest of them [N/mm].

    Returns (yb, yt, nbx, ntx, nby, nty, qb, qt, scale).
    """
    yb, yt = 0.5 * (h - tb), 0.5 * (h - tt)
    part = 1.0 / (yb + yt)
    nbx, ntx = (n[0] * yt + m[0]) * part, (n[0] * yb - m[0]) * part
    nby, nty = (n[1] * yt + m[1]) * part, (n[1] * yb - m[1]) * part
    qb, qt = (n[2] * yt + m[2]) * part, (n[2] * yb - m[2]) * part
    return yb, yt, nbx, ntx, nby, nty, qb, qt, max(abs(nbx), abs(ntx), abs(nby), abs(nty), abs(qb), abs(qt))


@kernel
def shares(e, yb, yt):
    """Share of each bar's force that goes to the bottom layer."""
    part = 1.0 / (yb + yt)
    return (yt + e[0]) * part, (yt + e[1]) * part, (yt + e[2]) * part, (yt + e[3]) * part


@kernel
def bar_forces(share_b, has_b, share_t, has_t, need_b, need_t, tol):
    """Minimum forces of the bottom and top bars of one direction that give each layer its need.

    Linear program: share_b fb + share_t ft >= need_b, (1-share_b) fb + (1-share_t) ft >= need_t, f >= 0.
    Returns (total, fb, ft); the total is infinite where no forces do. A lone bar may miss its need by
    `tol` [N/mm], which keeps rounding from calling a line of the problem empty.
    """
    if need_b <= 0.0 and need_t <= 0.0:
        return 0.0, 0.0, 0.0
    if has_b and has_t:
        part = 1.0 / (share_b - share_t)
        fb = ((1.0 - share_t) * need_b - share_t * need_t) * part
        ft = (share_b * need_t - (1.0 - share_b) * need_b) * part
        if fb >= 0.0 and ft >= 0.0:
            return need_b + need_t, fb, ft
    fb = math.inf
    if has_b:
        fb = _single_bar(share_b, need_b, need_t, tol)
    ft = math.inf
    if has_t:
        ft = _single_bar(share_t, need_b, need_t, tol)
    if fb <= ft:
        return fb, fb, 0.0
    return ft, 0.0, ft


@kernel
def _single_bar(share, need_b, need_t, tol):
    """Minimum force of one bar that serves both layers, infinite where a layer would be left in tension."""
    least, most = 0.0, math.inf
    for part, need in ((share, need_b), (1.0 - share, need_t)):
        if part > 0.0:
            least = max(least, need / part)
        elif need > tol:
            if part == 0.0:
                return math.inf
            most = min(most, need / part)
        elif part < 0.0:
            most = min(most, (need - tol) / part)
    return least if least <= most + tol else math.inf


@kernel
def _root_on_line(a, q_own, q_far, c, k):
    """Minimum over s of a s + q_own^2/s + q_far^2/(c + k s), where s and c + k s stay positive; 0 if nowhere."""
    low, high = 0.0, math.inf
    if k > 0.0:
        low = max(0.0, -c / k)
    elif c <= 0.0:
        return 0.0
    elif k < 0.0:
        high = -c / k
    s = abs(q_own) / math.sqrt(a)
    if s <= low:
        s = low + abs(q_own) + 1e-3 * low
    if s >= high:
        s = 0.5 * high
    for _ in range(60):
        far = c + k * s
        slope = a - (q_own / s) ** 2 - k * (q_far / far) ** 2
        if slope < 0.0:
            low = s
        else:
            high = s
        bend = 2.0 * (q_own * q_own / s**3 + k * k * q_far * q_far / far**3)
        new = s - slope / bend
        if new <= low or new >= high:
            new = 0.5 * (low + high) if high < math.inf else 2.0 * s
        if abs(new - s) <= 1e-7 * s:  # converges quadratically: the next step would be below rounding
            return new
        s = new
    return s


@kernel
def _quadratic(a, b, c):
    """Both real roots of a x^2 + b x + c, zero in place of a missing one."""
    disc = b * b - 4.0 * a * c
    if disc < 0.0:
        return 0.0, 0.0
    half = -0.5 * (b + math.copysign(math.sqrt(disc), b))
    first = half / a if a != 0.0 else 0.0
    second = c / half if half != 0.0 else 0.0
    return first, second


@kernel
def _total(ub, ut, d):
    """F(u): total force for the compressions (ub, ut) along x; infinite where not admissible."""
    if not (ub > 0.0 and ut > 0.0):
        return math.inf
    x = bar_forces(d[6], d[10], d[7], d[11], d[0] + ub, d[1] + ut, d[14])[0]
    if x == math.inf:
        return math.inf
    vb, vt = d[4] * d[4] / ub, d[5] * d[5] / ut
    return x + bar_forces(d[8], d[12], d[9], d[13], d[2] + vb, d[3] + vt, d[14])[0]


@kernel
def _bar_line(layer, need_b, need_t, share_b, has_b, share_t, has_t):
    """The line u_far = c + k u_own on which only the bar that pulls in `layer` remains in a direction.

    A lone bar serves both layers. Returns (own share, c, k); an own share <= 0 says there is no such line.
    """
    if layer == 0:
        own, need_own, need_far = share_b if has_b else share_t, need_b, need_t
    else:
        own, need_own, need_far = 1.0 - (share_t if has_t else share_b), need_t, need_b
    if own <= 0.0:
        return own, 0.0, 0.0
    k = (1.0 - own) / own
    return own, k * need_own - need_far, k


@kernel
def _candidate(case, d):
    """Compressions (ub, ut) of one candidate; zeros where it does not exist.

    Cases: 0 45 degrees in both layers; 1, 2 no steel along x, along y; 3 + i one bar along x, in layer i;
    5 + j one bar along y; 7 + i one bar each way in layer i and the far layer slack; 9 + 4 i + 2 j + r one bar
    each way, along x in layer i, along y in layer j, root r.
    """
    nbx, ntx, nby, nty, qb, qt = d[0], d[1], d[2], d[3], d[4], d[5]
    if case == 0:
        return qb, qt
    if case == 1:
        return -nbx, -ntx
    if case == 2:
        return (-qb * qb / nby, -qt * qt / nty) if nby < 0.0 and nty < 0.0 else (0.0, 0.0)
    i = (case - 3) % 2 if case < 9 else (case - 9) // 4
    j = (case - 3) % 2 if case < 9 else (case - 9) // 2 % 2
    qo, qf = (qb, qt) if i == 0 else (qt, qb)
    own_x, cx, kx = _bar_line(i, nbx, ntx, d[6], d[10], d[7], d[11])
    own_y, cy, ky = _bar_line(j, nby, nty, d[8], d[12], d[9], d[13])
    own = far = 0.0
    if 5 <= case < 7:
        if own_y > 0.0:
            s = _root_on_line(1.0 / own_y, qo, qf, cy, ky)
            if s > 0.0:
                own, far = qo * qo / s, qf * qf / (cy + ky * s)
    elif own_x > 0.0 and case < 5:
        own = _root_on_line(1.0 / own_x, qo, qf, cx, kx)
        far = cx + kx * own
    elif own_x > 0.0 and own_y > 0.0:
        if case < 9:
            own = qo * math.sqrt(own_x / own_y)
        elif i == j:
            b = cx * cy + kx * ky * qo * qo - qf * qf
            own = _quadratic(kx * cy, b, cx * ky * qo * qo)[(case - 9) % 2]
        else:
            b = cx * cy + ky * qf * qf - kx * qo * qo
            own = _quadratic(cy * kx, b, -qo * qo * cx)[(case - 9) % 2]
        far = cx + kx * own
    return (own, far) if i == 0 else (far, own)


@kernel
def _likely_case(d):
    """The case that the signs of the bars at 45 degrees point to."""
    xb, xt = _pulling(d[6], d[10], d[7], d[11], d[0] + d[4], d[1] + d[5])
    yb, yt = _pulling(d[8], d[12], d[9], d[13], d[2] + d[4], d[3] + d[5])
    if xb and xt:
        if yb and yt:
            return 0
        return 2 if not (yb or yt) else (5 if yb else 6)
    if not (xb or xt):
        return 1
    i = 0 if xb else 1
    if yb and yt:
        return 3 + i
    if not (yb or yt):
        return 2
    j = 0 if yb else 1
    return 7 + i if i == j else 10 + 4 * i + 2 * j


@kernel
def _pulling(share_b, has_b, share_t, has_t, need_b, need_t):
    if has_b and has_t:
        fb = (1.0 - share_t) * need_b - share_t * need_t
        return fb > 0.0, share_b * need_t - (1.0 - share_b) * need_b > 0.0
    return need_b + need_t > 0.0 and has_b, need_b + need_t > 0.0 and has_t


@kernel
def _search(d):
    """The best of all candidates: (ub, ut, case)."""
    best, best_b, best_t, best_case = math.inf, 0.0, 0.0, 0
    for case in range(17):
        ub, ut = _candidate(case, d)
        total = _total(ub, ut, d)
        if total < best:
            best, best_b, best_t, best_case = total, ub, ut, case
    return best_b, best_t, best_case


@kernel
def optimum_steel(nbx, ntx, nby, nty, qb, qt, scale, share, has, case):
    """Bar forces of minimum total for given layers; infinite total where no field exists.

    nbx .. nty: demands of the layers [N/mm]; qb, qt: their shear; scale: the largest of them; share: of each
    bar's force that goes to the bottom layer; has: whether the bar exists. `case` tries one candidate (-1: the likely
    one) and the rest only where that is not admissible; -2 tries them all. Returns (total, f bottom x,
    f bottom y, f top x, f top y, ub, ut, case), ub and ut being the compressions along x.
    """
    if scale == 0.0:
        return 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0
    floor = SHEAR_FLOOR * scale
    qb = max(abs(qb), floor)
    qt = max(abs(qt), floor)
    tol = 100.0 * floor
    xb, yb, xt, yt = share
    has_xb, has_yb, has_xt, has_yt = has
    d = (nbx, ntx, nby, nty, qb, qt, xb, xt, yb, yt, has_xb, has_xt, has_yb, has_yt, tol)
    if case == -1:
        case = _likely_case(d)
    for _ in range(2):
        if case < 0:
            ub, ut, case = _search(d)
        else:
            ub, ut = _candidate(case, d)
        if ub > 0.0 and ut > 0.0:
            fx, fbx, ftx = bar_forces(xb, has_xb, xt, has_xt, nbx + ub, ntx + ut, tol)
            vb, vt = qb * qb / ub, qt * qt / ut
            fy, fby, fty = bar_forces(yb, has_yb, yt, has_yt, nby + vb, nty + vt, tol)
            if fx + fy < math.inf:
                return fx + fy, fbx, fby, ftx, fty, ub, ut, case
        case = -2
    return math.inf, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0
