"""Frames of the ultimate stage: one row a point and bar layer, one row a point and check."""

from __future__ import annotations

from typing import Any, Final

import numpy as np
import pandas as pd
from numpy.typing import ArrayLike, NDArray

from sandwich.core.status import POINT_FAILS, Status
from sandwich.core.words import column
from sandwich.design.record import MATTERS, TOLERANCE, Ultimate
from sandwich.design.settings import Settings
from sandwich.design.transverse import BESIDE
from sandwich.mechanics import threelayer

REASONS: Final = {
    threelayer.LAYERS_DO_NOT_FIT: "concrete: the layers in compression do not fit into the thickness",
    threelayer.NO_FIELD: "no stress field without tension in the concrete: more bar layers are needed",
    threelayer.NOT_CONVERGED: "the layer thicknesses did not settle",
    threelayer.NOT_FINITE: "resultants that are not finite numbers",
    threelayer.NO_BARS_X: "no bars along x",
    threelayer.NO_BARS_Y: "no bars along y",
}
REQUIRED: Final = "required [mm2/m]"
ULTIMATE_STEEL: Final = "ultimate [mm2/m]"
SERVICE: Final = "by service [mm2/m]"
REASON: Final = "governed by"
PROVIDED: Final = "provided [mm2/m]"
STRENGTH: Final = "by strength [mm2/m]"
LEAST: Final = "minimum [mm2/m]"
ENVELOPE: Final = "envelope [mm2/m]"
LAYER: Final = "layer"
SHEAR: Final = "shear without links"
MANY_LAYERS: Final = Status.NOT_CHECKED.because("a field in many layers, with bars in compression")
YIELD: Final = "bars reach yield"
AXIAL: Final = "axial compression"
FIELD: Final = "equilibrium stress field"
TURN: Final = "strut deviation"
STRUTS: Final = "struts of the links"
NEAR: Final = Status.NOT_DESIGNED.because("beside a support")
WITHIN: Final = Status.NOT_DESIGNED.because("inside a support")
PARALLEL: Final = 0.01  # of the angle between layers that count as one direction


def _names(combinations: ArrayLike, by: NDArray[np.int64]) -> Any:
    return column(np.append(np.asarray(combinations, dtype=object), ""), by)


def reason(code: int, settings: Settings) -> str:
    """A status code of `threelayer` in words, with the zone's names of its faces and bar layers."""
    names = settings.names
    if code in (threelayer.LACKS_BOTTOM, threelayer.LACKS_TOP):
        face = settings.faces[code - threelayer.LACKS_BOTTOM]
        return f"no stress field: tension at the {face}, which has no bars"
    if code in threelayer.LACKS:
        return f"no stress field: tension where there is no {names[threelayer.LACKS.index(code)]} bar"
    return REASONS[code]


def status_of(u: Ultimate, combinations: list[str], settings: Settings) -> NDArray[np.str_]:
    """'ok', or why a point has no steel, with the combination that failed."""
    out = np.full(len(u.status), Status.OK, dtype=object)
    for i in np.flatnonzero(u.status != threelayer.OK):
        out[i] = Status.FAILS.because(f"{reason(int(u.status[i]), settings)} ({combinations[u.failing[i]]})")
    for i in np.flatnonzero((u.status == threelayer.OK) & (u.violation > TOLERANCE)):
        out[i] = Status.FAILS.because(f"no stress field; misses equilibrium or strength by {u.violation[i]:.1e}")
    return out


def steel_frame(
    zone: str,
    labels: ArrayLike,
    u: Ultimate,
    combinations: list[str],
    axes: NDArray[np.float64],
    settings: Settings,
    *,
    service: NDArray[np.float64] | None = None,
    provided: NDArray[np.float64] | None = None,
) -> pd.DataFrame:
    """One row a point and bar layer that exists: areas, governing combination, status.

    `provided` (p, b) are the bars that lie there [mm2/mm], where they were chosen or given.

    What is required is the largest of the ultimate state (strength, minimum steel, bars raised for shear, punching or
    columns) and of `service` (p, b) [mm2/mm], with the one that governs.
    """
    p = len(u.status)
    status, points = pd.Series(status_of(u, combinations, settings)).array, column(labels, np.arange(p))
    out = []
    for i in range(axes.shape[1]):
        there = np.isfinite(axes[:, i])
        asked = np.zeros(p) if service is None else service[:, i]
        largest = np.where(np.isnan(u.a_s[:, i]), np.nan, np.fmax(u.a_s[:, i], asked))
        same = np.zeros(p, dtype=np.int64)
        columns = {
            "zone": column([zone], same),
            "point": points,
            LAYER: column(settings.names, same + i),
            REQUIRED: largest * 1e3,
            REASON: _reason(u, i, asked),
            **(_of_bars(largest, provided[:, i]) if provided is not None else {}),
            **({SERVICE: asked * 1e3, ULTIMATE_STEEL: u.a_s[:, i] * 1e3} if service is not None else {}),
            STRENGTH: u.a_s_ultimate[:, i] * 1e3,
            LEAST: u.a_s_minimum[:, i] * 1e3,
            **({ENVELOPE: u.a_s_envelope[:, i] * 1e3} if settings.joint else {}),
            "bar force [kN/m]": u.force[:, i],
            "combination": _names(combinations, u.governing[:, i]),
            "axis below mid-depth [mm]": axes[:, i],
            "status": status,
        }
        out.append(pd.DataFrame({k: v[there] for k, v in columns.items()}))
    frame = pd.concat(out, ignore_index=True)
    order = frame.groupby("point", sort=False).ngroup()
    return frame.iloc[np.argsort(order.to_numpy(), kind="stable")].reset_index(drop=True)


def _of_bars(required: NDArray[np.float64], provided: NDArray[np.float64]) -> dict[str, NDArray[np.float64]]:
    """Provided area and its utilisation; inf where nothing is provided that is required."""
    with np.errstate(divide="ignore", invalid="ignore"):
        use = np.where(required > 0.0, required / provided, 0.0)
    return {PROVIDED: provided * 1e3, "utilisation": np.where(np.isnan(required), np.nan, use)}


def _reason(u: Ultimate, i: int, service: NDArray[np.float64]) -> Any:
    """Which of strength, minimum steel, raised bars and service makes the requirement of a layer."""
    out = np.zeros(len(service), dtype=np.int64)
    own, strength, least = (np.nan_to_num(v[:, i]) for v in (u.a_s, u.a_s_ultimate, u.a_s_minimum))
    out[least > 0.0] = 1
    out[(strength > 0.0) & (strength >= least)] = 2
    out[own > np.maximum(strength, least) * (1.0 + 1e-9)] = 3
    out[service > own * (1.0 + 1e-9)] = 4
    return column(["none", "minimum steel", "strength", "bars raised for shear, punching or columns", "service"], out)


def checks_frame(
    zone: str, labels: ArrayLike, u: Ultimate, combinations: list[str], h: NDArray[np.float64], settings: Settings
) -> pd.DataFrame:
    """One row a point and check: demand, capacity, unit, utilisation, combination, verdict."""
    p = len(h)
    points, same = column(labels, np.arange(p)), np.zeros(p, dtype=np.int64)
    most = np.full(p, 1.0)
    parallel = np.abs(np.sin(settings.bars.angles[:, None] - settings.bars.angles)) < PARALLEL
    heaviest = (u.a_s @ parallel).max(1) * 1e3
    greatest = settings.standard.maximum_steel(h) * 1e3
    clauses = settings.standard.clauses
    rows = [
        ("layers in compression", clauses["layers"], u.layers * h, h, "mm", u.layers, u.layers_by),
        (YIELD, clauses["yield"], u.depth, most, "x/d over limit", u.depth, u.depth_by),
        (
            SHEAR,
            clauses["shear"],
            u.shear.v_Ed,
            u.shear.v_Rd_c,
            "kN/m",
            u.shear.utilisation,
            u.shear.by,
        ),
        *_links_rows(u, settings),
        *_axial_rows(u, settings),
        ("maximum steel", clauses["maximum steel"], heaviest, greatest, "mm2/m", None, np.full(p, -1)),
        (FIELD, "", u.violation, np.full(p, TOLERANCE), "of max(|n|, |m|/h, 1 N/mm)", None, u.failing),
    ]
    if settings.method != "sandwich":
        what = "membrane force neglected" if settings.method == "plate" else "moment neglected"
        rows.append((what, "", u.neglected, np.full(p, MATTERS), "of bar force", None, u.neglected_by))
    if settings.standard.strengths(settings.concrete, settings.steel, "persistent").per_degree:
        clause = clauses["angle"]
        rows.append((TURN, clause, u.turned, most, "of the angle allowed", u.turned, u.turned_by))
    status, fails = status_of(u, combinations, settings), u.failing >= 0
    out = []
    for name, clause, demand, capacity, unit, use, by in rows:
        used = demand / capacity if use is None else use
        verdict = np.where(used > 1.0, Status.EXCEEDED, Status.OK).astype(object)
        at = u.shear.support
        if name == SHEAR:
            used = np.where(at > 0, np.nan, used)
            verdict[at > 0] = np.where(at == BESIDE, NEAR, WITHIN)[at > 0]
        if name == SHEAR and settings.links is not None:
            verdict[(used > 1.0) & (u.shear.a_sw > 0.0)] = Status.LINKS
        if name == YIELD:
            verdict[np.isnan(u.depth) & (u.pressed > 0.0).any(1)] = MANY_LAYERS
        if name == FIELD:
            verdict = status
        else:
            used = np.where(fails, np.nan, used)
            verdict[fails] = POINT_FAILS
        frame = pd.DataFrame(
            {
                "zone": column([zone], same), "point": points, "check": column([name], same),
                "clause": column([clause], same), "demand": demand, "capacity": capacity,
                "unit": column([unit], same), "utilisation": used,
                "combination": _names(combinations, by), "status": verdict,
            }
        )  # fmt: skip
        out.append(frame)
    return pd.concat(out, ignore_index=True)


def _axial_rows(u: Ultimate, settings: Settings) -> list[tuple[Any, ...]]:
    if not settings.minimum_eccentricity:
        return []
    with np.errstate(divide="ignore", invalid="ignore"):
        use = np.where(u.axial > 0.0, u.axial / u.axial_limit, 0.0)
    return [(AXIAL, settings.standard.clauses["axial"], u.axial, u.axial_limit, "kN/m", use, u.axial_by)]


def _links_rows(u: Ultimate, settings: Settings) -> list[tuple[Any, ...]]:
    if settings.links is None and not (u.shear.support == BESIDE).any():
        return []
    s = u.shear
    most = np.where(np.isfinite(s.v_max), s.v_max, s.v_Rd_c)
    return [(STRUTS, settings.standard.clauses["struts"], s.v_strut, most, "kN/m", s.v_strut / s.v_max, s.v_max_by)]


def links_frame(zone: str, labels: ArrayLike, u: Ultimate, combinations: list[str], settings: Settings) -> pd.DataFrame:
    """One row a point with links, or with bars raised to avoid them; most links first."""
    s = u.shear
    at = np.flatnonzero((s.a_sw > 0.0) | (s.raised > 1.0))
    at = at[np.argsort(-s.a_sw[at], kind="stable")]
    return pd.DataFrame(
        {
            "zone": np.full(len(at), zone, dtype=object), "point": np.asarray(labels, dtype=object)[at],
            "links [mm2/m2]": s.a_sw[at] * 1e6, "clause": settings.standard.clauses["links"],
            "combination": _names(combinations, np.where(s.a_sw > 0.0, s.a_sw_by, s.by))[at],
            "cot theta": np.where(s.a_sw[at] > 0.0, s.cot_theta[at], np.nan),
            "v_Ed [kN/m]": np.where(s.a_sw > 0.0, s.v_strut, s.v_Ed)[at],
            "v_Rd,max [kN/m]": np.where(np.isfinite(s.v_max[at]), s.v_max[at], np.nan),
            "bars raised by": s.raised[at],
        }
    )  # fmt: skip
