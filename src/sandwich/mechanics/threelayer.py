"""Three-layer ("sandwich") design of orthogonal bars: one combination at a point, many rows at once.

Holds the iteration over layer thickness and concrete strength, and the plate (Wood-Armer) and membrane
designs that are the same statement with half of the forces. The exact optimum at given thickness is in
`fixedlayers.py`; nothing here knows a standard: strengths come in as numbers.

Strength. A layer is cracked when its own demand has a principal tension or a bar of its face pulls. Cracked
and uncracked strength are held fixed while the thickness is iterated; the highest strengths that turn out
consistent win, since a weaker layer is thicker and takes away lever arm.
"""

from __future__ import annotations

import math
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.core.compiled import kernel
from sandwich.mechanics.fixedlayers import bar_forces, layers, optimum_steel, shares
from sandwich.mechanics.inplane import orthogonal_compression
from sandwich.mechanics.mechanism import best_mechanism
from sandwich.mechanics.states import STATES, is_consistent, is_tried, level_ends, principal_minimum, state

SANDWICH: Final = 0
PLATE: Final = 1
MEMBRANE: Final = 2
METHODS: Final = {"sandwich": SANDWICH, "plate": PLATE, "membrane": MEMBRANE}

OK: Final = 0
LAYERS_DO_NOT_FIT: Final = 1
NO_FIELD: Final = 2
NOT_CONVERGED: Final = 3
NOT_FINITE: Final = 4
NO_BARS_X: Final = 5
NO_BARS_Y: Final = 6
LACKS: Final = (7, 8, 9, 10)  # no field, and the bar of `section.BARS` that would give one
LACKS_BOTTOM: Final = 11  # tension at a face that has no bars
LACKS_TOP: Final = 12

N_OUT: Final = 15
ROW: Final = (
    *("f bottom x", "f bottom y", "f top x", "f top y", "t bottom", "t top"),
    *("eps_x bottom", "eps_x top", "eps_y bottom", "eps_y top", "fc bottom", "fc top", "status", "rounds", "case"),
)

_ROUNDS = 80
_TIGHT = 1e-7  # of the thickness: a layer may be thicker than its compression asks by this, never thinner


@kernel
def tension_at_both_ends(n, m, lever):
    """Whether one direction is in tension in a layer for every lever arm from lever/2 to lever.

    The demand in a fixed direction is linear in the lever arm, so two ends prove all between.
    """
    mean = 0.5 * (n[0] + n[1]) * 0.75 * lever + 0.5 * (m[0] + m[1])
    half = 0.5 * (n[0] - n[1]) * 0.75 * lever + 0.5 * (m[0] - m[1])
    shear = n[2] * 0.75 * lever + m[2]
    radius = math.hypot(half, shear)
    if mean + radius <= 0.0:
        return False
    c2, s2 = (half / radius, shear / radius) if radius > 0.0 else (1.0, 0.0)
    nn = 0.5 * (n[0] + n[1]) + 0.5 * (n[0] - n[1]) * c2 + n[2] * s2
    mm = 0.5 * (m[0] + m[1]) + 0.5 * (m[0] - m[1]) * c2 + m[2] * s2
    return nn * 0.5 * lever + mm > 0.0 and nn * lever + mm > 0.0


@kernel
def extrapolated(rb, rt, rb_old, rt_old, gb, gt, gb_old, gt_old):
    """Next thicknesses from two rounds of substitution g with residuals r: Anderson's method over one earlier round."""
    db, dt = rb - rb_old, rt - rt_old
    square = db * db + dt * dt
    theta = (rb * db + rt * dt) / square if square > 0.0 else 0.0
    theta = min(0.9, max(-3.0, theta))
    return gb - theta * (gb - gb_old), gt - theta * (gt - gt_old)


@kernel
def _field(n, m, h, e, has, tb, tt, layerwise, case):
    """Bars and compressions (f, ub, ut, qb, qt) at layer thicknesses tb, tt; infinite total without a field."""
    yb, yt, nbx, ntx, nby, nty, qb, qt, scale = layers(n, m, h, tb, tt)
    share = shares(e, yb, yt)
    sbx, sby, stx, sty = share
    if layerwise:
        tol = 1e-9 * scale
        ub, vb = orthogonal_compression(nbx, nby, qb)
        ut, vt = orthogonal_compression(ntx, nty, qt)
        fx, fbx, ftx = bar_forces(sbx, has[0], stx, has[2], nbx + ub, ntx + ut, tol)
        fy, fby, fty = bar_forces(sby, has[1], sty, has[3], nby + vb, nty + vt, tol)
        total = fx + fy
    else:
        total, fbx, fby, ftx, fty, ub, ut, case = optimum_steel(nbx, ntx, nby, nty, qb, qt, scale, share, has, case)
    if total == math.inf:
        return total, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, ub, ut, case
    cbx = nbx - sbx * fbx - stx * ftx
    cby = nby - sby * fby - sty * fty
    ctx = ntx - (1.0 - sbx) * fbx - (1.0 - stx) * ftx
    cty = nty - (1.0 - sby) * fby - (1.0 - sty) * fty
    return (
        total,
        *(fbx, fby, ftx, fty),
        max(0.0, -principal_minimum(cbx, cby, qb)),
        max(0.0, -principal_minimum(ctx, cty, qt)),
        *(ub, ut, case),
    )


@kernel
def _lacking(n, m, h, e, has, tb, tt):
    """Which bar a point without a field lacks: the missing one of a direction that fails at 45 degrees."""
    yb, yt, nbx, ntx, nby, nty, qb, qt, scale = layers(n, m, h, tb, tt)
    share = shares(e, yb, yt)
    tol = 1e-9 * scale
    for i in range(2):
        need_b, need_t = (nbx + abs(qb), ntx + abs(qt)) if i == 0 else (nby + abs(qb), nty + abs(qt))
        if bar_forces(share[i], has[i], share[i + 2], has[i + 2], need_b, need_t, tol)[0] == math.inf:
            if has[i] and has[i + 2]:
                return NO_FIELD
            return LACKS[i] if not has[i] else LACKS[i + 2]
    return NO_FIELD


@kernel
def _settle(n, m, h, e, has, fcb, fct, layerwise, tb, tt):
    """Iterate the layer thicknesses at fixed strengths: t = compression / strength in both layers.

    Plain substitution with the step of Anderson's method over one earlier round. Where the layers have settled
    the field is proved to be the best by its mechanism; if it is not, all candidates are tried once more.
    """
    rb_old, rt_old, gb_old, gt_old = 0.0, 0.0, 0.0, 0.0
    status = NOT_CONVERGED
    total, fbx, fby, ftx, fty, ub, ut = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
    rounds, case, searched = 0, -1, False
    dual = (0.0, 0.0, 0.0, 0.0, 0.0)
    slack = _TIGHT * h
    force = 1e-9 * max(abs(n[0]), abs(n[1]), abs(n[2]), max(abs(m[0]), abs(m[1]), abs(m[2])) / h)
    for rounds in range(1, _ROUNDS + 1):
        total, fbx, fby, ftx, fty, pb, pt, ub, ut, case = _field(n, m, h, e, has, tb, tt, layerwise, case)
        if total == math.inf:
            status = _lacking(n, m, h, e, has, tb, tt)
            break
        gb, gt = pb / fcb + 0.5 * slack, pt / fct + 0.5 * slack
        rb, rt = gb - tb, gt - tt
        if max(abs(rb), abs(rt)) <= 0.5 * slack:
            if layerwise:  # the bound belongs to the best field, not to this one
                _, bx, by, tx, ty, _, _, least_b, least_t, _ = _field(n, m, h, e, has, tb, tt, False, -2)
                dual = best_mechanism((bx, by, tx, ty), least_b, least_t, n, m, h, e, has, tb, tt, force)
            else:
                dual = best_mechanism((fbx, fby, ftx, fty), ub, ut, n, m, h, e, has, tb, tt, force)
            if layerwise or searched or total - dual[0] <= force:
                status = OK
                break
            case, searched = -2, True
            continue
        if rounds % 10 == 0:
            case = -2
        if rounds > 1 and rounds % 10 != 0:
            nb, nt = extrapolated(rb, rt, rb_old, rt_old, gb, gt, gb_old, gt_old)
        else:
            nb, nt = gb, gt
        rb_old, rt_old, gb_old, gt_old = rb, rt, gb, gt
        tb, tt = min(max(nb, 0.0), h), min(max(nt, 0.0), h)
        if tb + tt > 1.8 * h:
            status = LAYERS_DO_NOT_FIT
            break
    if status == OK and tb + tt > h:
        status = LAYERS_DO_NOT_FIT
    if status == NOT_CONVERGED and tb + tt > 0.9 * h:
        status = LAYERS_DO_NOT_FIT
    return status, total, fbx, fby, ftx, fty, tb, tt, dual, rounds, case


@kernel
def design_row(n, m, h, e, has, fc_cracked, fc_uncracked, layerwise, out):
    """Minimum steel of one combination at one point, by three layers; fills one row of `ROW`."""
    sure_b = tension_at_both_ends(n, m, 0.5 * h)
    sure_t = tension_at_both_ends(n, (-m[0], -m[1], -m[2]), 0.5 * h)
    best, found = math.inf, False
    tb, tt = 0.0, 0.0
    for k in range(STATES):
        if found and level_ends(k):
            return
        if not is_tried(k, sure_b, sure_t):
            continue
        cracked_b, cracked_t = state(k)
        fcb = fc_cracked if cracked_b else fc_uncracked
        fct = fc_cracked if cracked_t else fc_uncracked
        status, total, fbx, fby, ftx, fty, tb, tt, dual, rounds, case = _settle(
            n, m, h, e, has, fcb, fct, layerwise, tb, tt
        )
        consistent = status == OK and is_consistent(k, n, m, h, tb, tt, e, (fbx, fby, ftx, fty))
        if (consistent and total < best) or not found:
            if consistent:
                best, found = total, True
            out[0], out[1], out[2], out[3], out[4], out[5] = fbx, fby, ftx, fty, tb, tt
            _, out[6], out[7], out[8], out[9] = dual
            out[10], out[11], out[12], out[13], out[14] = fcb, fct, status, rounds, case
        if status != OK:
            tb, tt = 0.0, 0.0


@kernel
def _membrane_row(n, h, e, has, fc_cracked, fc_uncracked, out):
    """In-plane forces alone: bars of a direction share their force so that they leave no moment."""
    u, v = orthogonal_compression(n[0], n[1], n[2])
    for i in range(2):
        out[i], out[i + 2] = 0.0, 0.0
        f = max(0.0, n[i] + (u if i == 0 else v))
        if has[i] and has[i + 2]:
            out[i] = f * e[i + 2] / (e[i + 2] - e[i])
            out[i + 2] = f - out[i]
        elif has[i]:
            out[i] = f
        else:
            out[i + 2] = f
    fx, fy = out[0] + out[2], out[1] + out[3]
    compression = max(0.0, -principal_minimum(n[0] - fx, n[1] - fy, n[2]))
    fc = fc_cracked if fx + fy > 0.0 else fc_uncracked
    out[4] = out[5] = 0.5 * compression / fc
    w = 1.0
    if n[2] != 0.0:
        w = (u / n[2]) ** 2
    out[6] = out[7] = min(1.0, 1.0 / w)
    out[8] = out[9] = min(1.0, w)
    out[10] = out[11] = fc
    out[12] = LAYERS_DO_NOT_FIT if out[4] + out[5] > h else OK
    out[13] = 1


@kernel
def design_rows(rows, section, sections, method, out):
    """The loop over rows; `sections` holds h, e of the four bars (nan: no bar), cracked, uncracked strength."""
    for i in range(rows.shape[0]):
        s = sections[section[i]]
        for k in range(N_OUT):
            out[i, k] = 0.0
        n, m = (rows[i, 0], rows[i, 1], rows[i, 2]), (rows[i, 3], rows[i, 4], rows[i, 5])
        if not math.isfinite(n[0] + n[1] + n[2] + m[0] + m[1] + m[2]):
            out[i, 12] = NOT_FINITE
            continue
        e = (s[1], s[2], s[3], s[4])
        has = (e[0] == e[0], e[1] == e[1], e[2] == e[2], e[3] == e[3])
        e = (e[0] if has[0] else 0.0, e[1] if has[1] else 0.0, e[2] if has[2] else 0.0, e[3] if has[3] else 0.0)
        if not (has[0] or has[2]):
            out[i, 12] = NO_BARS_X
            continue
        if not (has[1] or has[3]):
            out[i, 12] = NO_BARS_Y
            continue
        if method == MEMBRANE:
            _membrane_row(n, s[0], e, has, s[5], s[6], out[i])
            continue
        if method == PLATE:
            n = (0.0, 0.0, 0.0)
        design_row(n, m, s[0], e, has, s[5], s[6], method == PLATE, out[i])


def design(
    rows: ArrayLike, section: ArrayLike, sections: ArrayLike, *, method: str = "sandwich"
) -> NDArray[np.float64]:
    """Design many rows of resultants, each by itself.

    Parameters
    ----------
    rows : array_like, shape (r, 6) or (r, 8)
        nx ny nxy [N/mm], mx my mxy [N] in the bar directions; further columns are not used.
    section : array_like of int, shape (r,)
        Row of `sections` that each row belongs to.
    sections : array_like, shape (s, 7)
        h, e of the bars `section.BARS` [mm] (positive towards the bottom, nan where there is no bar), strength of a
        cracked and of an uncracked layer [MPa].
    method : {'sandwich', 'plate', 'membrane'}
        Three layers; Wood-Armer moments, layer by layer, without the membrane forces; membrane forces alone.

    Returns
    -------
    ndarray, shape (r, 15)
        Columns `ROW`: bar forces [N/mm], layer thicknesses [mm], the dual strains of the layers [-], the
        strengths used [MPa], status code, rounds of the iteration, case of `fixedlayers.py` (0: 45 degrees).

    Raises
    ------
    KeyError
        If `method` is not one of `METHODS`.

    References
    ----------
    P. Marti, "Design of concrete slabs for transverse shear", ACI Structural Journal 87, 1990; the
    optimum over all fields at given thickness is solved exactly, see `fixedlayers.py`.
    """
    rows = np.ascontiguousarray(rows, dtype=float)
    section = np.ascontiguousarray(section, dtype=np.int64)
    out = np.empty((len(rows), N_OUT))
    design_rows(rows, section, np.ascontiguousarray(sections, dtype=float), METHODS[method], out)
    return out


def strain_tensors(rows: ArrayLike, h: ArrayLike, designed: ArrayLike) -> NDArray[np.float64]:
    """Dual strains of designed rows as tensors: the shear strain that does most work in each layer.

    Parameters
    ----------
    rows : array_like, shape (r, 6)
        nx ny nxy [N/mm], mx my mxy [N] that were designed for.
    h : array_like, shape (r,)
        Thickness [mm].
    designed : array_like, shape (r, 15)
        What `design` returned.

    Returns
    -------
    ndarray, shape (r, 2, 3)
        eps_x, eps_y, eps_xy [-] at the middle of the bottom and the top layer.

    References
    ----------
    Duality: eps_xy = +-sqrt(eps_x eps_y) with the sign of the layer's shear.
    """
    rows, out, h = (np.asarray(a, dtype=float) for a in (rows, designed, h))
    strains = np.empty((len(rows), 2, 3))
    yb, yt = (h - out[:, 4]) / 2, (h - out[:, 5]) / 2
    for layer, q in enumerate((rows[:, 2] * yt + rows[:, 5], rows[:, 2] * yb - rows[:, 5])):
        ex, ey = out[:, 6 + layer], out[:, 8 + layer]
        strains[:, layer] = np.stack([ex, ey, np.copysign(np.sqrt(np.maximum(ex * ey, 0.0)), q)], axis=-1)
    return strains


def layer_tensors(
    rows: ArrayLike, h: ArrayLike, axes: ArrayLike, angles: ArrayLike, forces: ArrayLike, t: ArrayLike
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Concrete forces of the bottom and the top layer that belong to bar forces.

    Parameters
    ----------
    rows : array_like, shape (r, 6)
        nx ny nxy [N/mm], mx my mxy [N] that were designed for.
    h : array_like, shape (r,)
        Thickness [mm].
    axes : array_like, shape (r, b)
        e of the bars [mm], positive towards the bottom, nan where there is no bar.
    angles : array_like, shape (b,)
        Directions of the bars from x towards y [rad].
    forces : array_like, shape (r, b)
        Bar forces [N/mm].
    t : array_like, shape (r, 2)
        Thickness of the bottom and the top layer [mm].

    Returns
    -------
    tuple of ndarray, each of shape (r, 3)
        cx, cy, cxy [N/mm] of the bottom and of the top layer, tension positive.

    References
    ----------
    Equilibrium of the two layers and the bars about the middle of the other layer.
    """
    rows, h, f, t = (np.asarray(a, dtype=float) for a in (rows, h, forces, t))
    e = np.nan_to_num(np.asarray(axes, dtype=float))
    c, s = np.cos(angles), np.sin(angles)
    dyads = np.stack([c * c, s * s, c * s], axis=-1)
    yb, yt = (h - t[:, 0]) / 2, (h - t[:, 1]) / 2
    depth = yb + yt
    share = (yt[:, None] + e) / depth[:, None]
    bottom = (rows[:, :3] * yt[:, None] + rows[:, 3:6]) / depth[:, None] - (share * f) @ dyads
    top = (rows[:, :3] * yb[:, None] - rows[:, 3:6]) / depth[:, None] - ((1.0 - share) * f) @ dyads
    return bottom, top
