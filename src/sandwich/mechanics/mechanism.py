"""The mechanism dual to a stress field: strains of the two layers whose work proves the field optimal.

Scalar kernels. At the optimum every bar that pulls has strain 1, a layer whose concrete has more compression
than its shear asks (slack) has none, and elsewhere eps_y/eps_x = (u/q)^2. `certificate.py` makes any such
proposal admissible and takes its work as a lower bound.
"""

from __future__ import annotations

import math

from sandwich.core.compiled import kernel
from sandwich.mechanics.fixedlayers import SHEAR_FLOOR, layers, shares


@kernel
def _of_bars(share_b, share_t, fb, ft, slack_b, slack_t, tol):
    """Strains (known, bottom, top) that the pulling bars of one direction settle by themselves."""
    if fb > tol and ft > tol:
        return True, 1.0, 1.0
    if fb <= tol and ft <= tol:
        return False, 0.0, 0.0
    share = share_b if fb > tol else share_t
    if slack_t and not slack_b:
        return True, 1.0 / share, 0.0
    if slack_b and not slack_t:
        return True, 0.0, 1.0 / (1.0 - share)
    return False, 1.0, 1.0


@kernel
def _follow(known_b, known_t, ratio_b, ratio_t, free_b, free_t, share, pulls, guess_b, guess_t):
    """Strains of the other direction: tied to the known ones, free layers set by its lone bar."""
    b = guess_b if free_b else known_b * ratio_b
    t = guess_t if free_t else known_t * ratio_t
    if pulls and free_b and not free_t:
        b = max(0.0, (1.0 - (1.0 - share) * t) / share)
    elif pulls and free_t and not free_b:
        t = max(0.0, (1.0 - share * b) / (1.0 - share))
    return b, t


@kernel
def _mechanism(f, ub, ut, n, m, h, e, tb, tt, small):
    """Strains (x bottom, x top, y bottom, y top) dual to a field; forces below `small` of the largest are none."""
    yb, yt, nbx, ntx, nby, nty, qb, qt, scale = layers(n, m, h, tb, tt)
    share = shares(e, yb, yt)
    if scale == 0.0:
        return 0.0, 0.0, 0.0, 0.0
    floor = SHEAR_FLOOR * scale
    tol = small * scale
    # concrete of each layer, and where it is slack
    bx, by = share[0] * f[0] + share[2] * f[2], share[1] * f[1] + share[3] * f[3]
    cbx, cby = nbx - bx, nby - by
    ctx, cty = ntx - (f[0] + f[2] - bx), nty - (f[1] + f[3] - by)
    free_b, free_t = abs(qb) <= tol, abs(qt) <= tol
    slack_b = not free_b and cbx * cby - qb * qb > 10.0 * tol * scale
    slack_t = not free_t and ctx * cty - qt * qt > 10.0 * tol * scale
    # without shear a layer ties nothing: each direction is slack by itself
    sbx, sby = slack_b or (free_b and cbx < -tol), slack_b or (free_b and cby < -tol)
    stx, sty = slack_t or (free_t and ctx < -tol), slack_t or (free_t and cty < -tol)
    wb = (ub / max(abs(qb), floor)) ** 2
    wt = (ut / max(abs(qt), floor)) ** 2
    x_known, xb, xt = _of_bars(share[0], share[2], f[0], f[2], sbx, stx, tol)
    y_known, vb, vt = _of_bars(share[1], share[3], f[1], f[3], sby, sty, tol)
    x_share, x_pulls = (share[0] if f[0] > tol else share[2]), f[0] > tol or f[2] > tol
    y_share, y_pulls = (share[1] if f[1] > tol else share[3]), f[1] > tol or f[3] > tol
    if x_known and y_known:
        return xb, xt, vb, vt
    if x_known:
        vb, vt = _follow(xb, xt, wb, wt, free_b, free_t, y_share, y_pulls, vb, vt)
        return xb, xt, (0.0 if sby else vb), (0.0 if sty else vt)
    if y_known:
        xb, xt = _follow(vb, vt, 1.0 / wb, 1.0 / wt, free_b, free_t, x_share, x_pulls, xb, xt)
        return (0.0 if sbx else xb), (0.0 if stx else xt), vb, vt
    if x_pulls and y_pulls and not free_b and not free_t:
        a11, a12 = x_share, 1.0 - x_share
        a21, a22 = y_share * wb, (1.0 - y_share) * wt
        det = a11 * a22 - a12 * a21
        if det != 0.0:
            xb, xt = (a22 - a12) / det, (a11 - a21) / det
            return xb, xt, xb * wb, xt * wt
    if x_pulls:
        vb, vt = _follow(1.0, 1.0, wb, wt, free_b, free_t, y_share, y_pulls, vb, vt)
        return 1.0, 1.0, vb, vt
    xb, xt = _follow(1.0, 1.0, 1.0 / wb, 1.0 / wt, free_b, free_t, x_share, x_pulls, xb, xt)
    return xb, xt, 1.0, 1.0


@kernel
def best_mechanism(f, ub, ut, n, m, h, e, has, tb, tt, wanted):
    """Lower bound and strains (bound, x bottom, x top, y bottom, y top) of the best of a few proposals.

    What counts as no force decides which bars and layers tie the strains; the usual reading comes first and
    the others are tried only where its bound leaves a gap of more than `wanted`.
    """
    yb, yt, nbx, ntx, nby, nty, qb, qt, _ = layers(n, m, h, tb, tt)
    share = shares(e, yb, yt)
    total = f[0] + f[1] + f[2] + f[3]
    best = (0.0, 0.0, 0.0, 0.0, 0.0)
    if total <= wanted:
        return best
    for small in (1e-8, 1e-6, 1e-4, 1e-2, 1e-11):
        xb, xt, vb, vt = _mechanism(f, ub, ut, n, m, h, e, tb, tt, small)
        xb, xt, vb, vt = max(xb, 0.0), max(xt, 0.0), max(vb, 0.0), max(vt, 0.0)
        most = 1.0
        for i in range(4):
            if has[i]:
                low, high = (xb, xt) if i % 2 == 0 else (vb, vt)
                strain = share[i] * low + (1.0 - share[i]) * high
                most = max(most, strain)
        shear = 2.0 * (abs(qb) * math.sqrt(xb * vb) + abs(qt) * math.sqrt(xt * vt))
        bound = (nbx * xb + ntx * xt + nby * vb + nty * vt + shear) / most
        if bound > best[0]:
            best = (bound, xb / most, xt / most, vb / most, vt / most)
        if bound >= total - wanted:
            break
    return best
