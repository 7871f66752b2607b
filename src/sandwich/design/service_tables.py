"""Frames of the service stage: one row a point and face, one row a point and check, steel that is added."""

from __future__ import annotations

from typing import Any, Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.status import Status
from sandwich.design.added import Added
from sandwich.design.results import LAYER
from sandwich.design.service import BAD, Service, ServiceRule
from sandwich.design.settings import Settings
from sandwich.mechanics import cracked

Objects = NDArray[np.object_]
WIDTH: Final = "crack width [mm]"
LIMIT: Final = "allowed [mm]"
ADDED: Final = "added [mm2/m]"
UNCROSSED: Final = Status.EXCEEDED.because("no bars of the face cross it")
CONCRETE: Final = "concrete stress"
BARS: Final = "steel stress"
QUICK: Final = "crack control without calculation"
LEAST: Final = "minimum steel for cracking"
NOTHING: Final = 1e-9  # mm2/mm: no bars
PAST: Final = Status.PAST_TABLES.because("the width counts")
ENDS: Final = Status.PAST_TABLES.because("they end; the width counts")
TABLE_ENDS: Final = Status.NOT_CHECKED.because("the table of bar stresses ends; remedy: smaller bars or a wider crack")
STILL: Final = Status.NOT_ENOUGH.because("the limit stays exceeded")
AGES: Final = np.array(["short", "long"], dtype=object)


def state_of(s: Service, names: list[str]) -> Objects:
    """'ok', or why a point has no service state."""
    out = np.full(len(s.status), Status.OK, dtype=object)
    for i in np.flatnonzero(s.status != cracked.OK):
        by = f" ({names[s.failing[i]]})" if s.failing[i] >= 0 else ""
        out[i] = Status.NOT_CHECKED.because(f"{BAD[int(s.status[i])]}{by}")
    return out


def cracks_frame(zone: str, labels: Objects, s: Service, names: list[str], settings: Settings) -> pd.DataFrame:
    """One row a point and face with a limit, the worst first."""
    state, parts = state_of(s, names), []
    of = np.append(np.asarray(names, dtype=object), "")
    for j, face in enumerate(settings.faces):
        opened = s.width[:, j] > 0.0
        status = np.where(s.use[:, j] > 1.0, Status.EXCEEDED, np.where(opened, Status.OK, Status.NO_CRACK)).astype(
            object
        )
        status[np.isinf(s.width[:, j])] = UNCROSSED
        status[~opened & (s.strain[:, j] > 0.0)] = Status.UNCRACKED
        status = np.where(s.good, status, state)
        columns = {
            "zone": zone, "point": labels, "face": face, WIDTH: s.width[:, j], LIMIT: s.limit[:, j],
            "utilisation": s.use[:, j], "combination": of[s.width_by[:, j]], "loading": AGES[s.long[:, j] * 1],
            "normal of the crack from x [deg]": np.where(opened, np.degrees(s.theta[:, j]), np.nan),
            "mean strain across [1e-3]": 1e3 * s.strain[:, j],
            "spacing of cracks [mm]": np.where(opened, s.spacing[:, j], np.nan),
            "compressed depth [mm]": s.depth[:, j], "steel stress [MPa]": s.stress[:, j],
            "minimum compressed depth [mm]": s.compressed, "head of water [mm]": s.head, "through crack": s.through,
            "status": status,
        }  # fmt: skip
        parts.append(pd.DataFrame(columns))
    frame = pd.concat(parts, ignore_index=True)
    frame = frame[frame[LIMIT].notna() | (frame["status"] != Status.OK)]
    order = frame["utilisation"].fillna(np.inf)
    return frame.iloc[np.argsort(-order.to_numpy(), kind="stable")].reset_index(drop=True)


def service_checks(
    zone: str, labels: Objects, s: Service, names: list[str], area: NDArray[np.float64], settings: Settings,
    rule: ServiceRule,
) -> pd.DataFrame:  # fmt: skip
    """One row a point and check of the service state: demand, capacity, utilisation, combination, verdict."""
    standard, of = settings.standard, np.append(np.asarray(names, dtype=object), "")
    limits = [rule.limits(settings, x) for x in ("characteristic", "quasi-permanent")]
    rows: list[tuple[Any, ...]] = []
    if rule.widths:
        for j, face in enumerate(settings.faces):
            by_face = np.where(s.through, standard.clauses.get("tightness", ""), standard.clauses["crack width"])
            rows.append(
                (
                    f"crack width: {face}",
                    by_face,
                    s.width[:, j],
                    s.limit[:, j],
                    "mm",
                    s.use[:, j],
                    s.width_by[:, j],
                    s.long[:, j],
                )
            )
            if rule.simplified and np.isfinite(s.simplified_demand[:, j]).any():
                rows.append((
                    f"{QUICK}: {face}", standard.clauses["bars for cracks"], s.simplified_demand[:, j],
                    s.simplified_capacity[:, j], "mm", s.simplified_use[:, j], s.simplified_by[:, j], None,
                ))  # fmt: skip
    if any(np.isfinite(x.concrete) for x in limits):
        clause = ", ".join(dict.fromkeys(x.concrete_clause for x in limits))
        rows.append(
            (CONCRETE, clause, s.concrete, s.concrete_limit, "MPa", s.concrete_use, s.concrete_by, s.concrete_long)
        )
    rows.append((BARS, limits[0].steel_clause, s.steel, s.steel_limit, "MPa", s.steel_use, s.steel_by, s.steel_long))
    if rule.minimum_reinforcement != "none":
        with np.errstate(divide="ignore", invalid="ignore"):
            ratio = np.where(s.minimum > 0.0, s.minimum / np.where(area > NOTHING, area, 0.0), 0.0)
        at, most = np.arange(len(area)), np.nan_to_num(ratio, nan=0.0).argmax(1)
        # a layer for which the rule has no answer speaks where no other one is short
        ended = np.isnan(s.minimum)
        most = np.where(ended.any(1) & ~(ratio[at, most] > 1.0), ended.argmax(1), most)
        demand, there = 1e3 * s.minimum[at, most], 1e3 * area[at, most]
        clause = standard.clauses["minimum for cracking"]
        rows.append((LEAST, clause, demand, there, "mm2/m", ratio[at, most], np.full(len(area), -1), None))
    state, parts = state_of(s, names), []
    for check, clause, demand, capacity, unit, use, by, long in rows:
        verdict = np.where(use > 1.0 + 1e-9, Status.EXCEEDED, Status.OK).astype(object)
        if check.startswith(QUICK) and not rule.simplified_rules:
            verdict[use > 1.0] = PAST
            verdict[np.isinf(use)] = ENDS
        if check == LEAST:
            verdict[np.isnan(demand)] = TABLE_ENDS
        shown = np.where(s.good & (verdict != ENDS), use, np.nan)
        parts.append(
            pd.DataFrame(
                {
                    "zone": zone, "point": labels, "check": check, "clause": clause, "demand": demand,
                    "capacity": capacity, "unit": unit, "utilisation": shown,
                    "combination": of[by], "loading": "" if long is None else AGES[long * 1],
                    "status": np.where(s.good, verdict, state),
                }
            )
        )  # fmt: skip
    return pd.concat(parts, ignore_index=True)


def added_frame(
    zone: str, labels: Objects, added: Added, area: NDArray[np.float64], settings: Settings
) -> pd.DataFrame:
    """One row a point and layer to which steel is added, most first."""
    at, layer = np.nonzero(added.area > 1e-9)
    frame = pd.DataFrame(
        {
            "zone": np.full(len(at), zone, dtype=object), "point": labels[at],
            LAYER: np.array(settings.names, dtype=object)[layer], "before [mm2/m]": 1e3 * area[at, layer],
            ADDED: 1e3 * added.area[at, layer],
            "status": np.where(added.enough[at], Status.OK, STILL).astype(object),
        }
    )  # fmt: skip
    return frame.sort_values(ADDED, ascending=False, kind="stable", ignore_index=True)
