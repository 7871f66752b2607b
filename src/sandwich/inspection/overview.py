"""What came in, in numbers: tables as they are written, zones, cases, ranges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pandas as pd

from sandwich.combine.envelope import UNIT
from sandwich.incoming import Incoming
from sandwich.inspection.doubt import Doubt
from sandwich.inspection.doubts import doubts_of
from sandwich.resultants import COMPONENTS


@dataclass(frozen=True)
class Inspection:
    """What came in: frames with units in their headings, and doubts.

    Attributes
    ----------
    came : Incoming
        The job and its results.
    tables : DataFrame
        How each table is written.
    zones, cases, ranges : DataFrame
        One row a zone, a case, a zone and case.
    doubts : list of Doubt
        With their evidence.
    """

    came: Incoming
    tables: pd.DataFrame
    zones: pd.DataFrame
    cases: pd.DataFrame
    ranges: pd.DataFrame
    doubts: list[Doubt]


def inspect(came: Incoming) -> Inspection:
    """Look at what came in before anything is designed."""
    notes = came.results.notes
    tables = pd.DataFrame(
        [(name, "; ".join(of) or "plain") for name, of in notes.items()], columns=["table", "how it is written"]
    )
    return Inspection(came, tables, _zones(came), _cases(came), _ranges(came), doubts_of(came))


def _zones(came: Incoming) -> pd.DataFrame:
    mesh, rows = came.results.mesh, []
    for z in came.zones:
        of = {"zone": z.name, "points": len(z.labels)}
        if z.elements is not None and mesh is not None:
            size = mesh.sizes[z.elements] / 1e3
            low, high = z.xyz.min(0) / 1e3, z.xyz.max(0) / 1e3
            of |= {
                "elements": len(z.elements),
                "groups": ", ".join(sorted(set(mesh.group[z.elements].tolist()) - {""})) or "-",
                **{f"{a} [m]": f"{lo:.4g} .. {hi:.4g}" for a, lo, hi in zip("xyz", low, high, strict=True)},
                "element size [m]": f"{size.min():.2g} .. {size.max():.2g}",
                "turned over": int(z.orientation.flipped.sum()) if z.orientation is not None else 0,
            }
        of["thickness [mm]"] = ", ".join(f"{v:g}" for v in np.unique(z.h.round(3))[:6])
        rows.append(of)
    return pd.DataFrame(rows)


def _cases(came: Incoming) -> pd.DataFrame:
    rows = []
    used = {c for row in came.combinations.rows for c in row.factors}
    reactions = came.results.reactions
    for name, case in came.results.kinds.items():
        of: dict[str, object] = {
            "case": name, "kind": case.kind or "-", "action": case.action or "-",
            "signs": "no" if case.signed is False else "yes", "combined": "yes" if name in used else "no",
        }  # fmt: skip
        if reactions is not None:
            total = reactions[reactions["case"] == name][["fx", "fy", "fz"]].sum() / 1e3
            of |= {f"reactions {a} [kN]": round(float(total[f"f{a}"]), 2) + 0.0 for a in "xyz"}
        rows.append(of)
    return pd.DataFrame(rows)


def _ranges(came: Incoming) -> pd.DataFrame:
    """Least and greatest of each component at the points, in the bar directions."""
    columns, rows = came.combinations.columns, []
    for z in came.zones:
        for case in came.results.kinds:
            of: dict[str, object] = {"zone": z.name, "case": case}
            own = [i for i, c in enumerate(columns) if c.case == case]
            values = z.cases[:, own].sum(1)
            for i, name in enumerate(COMPONENTS):
                unit, scale = UNIT[name]
                finite = values[np.isfinite(values[:, i]), i] * scale
                of[f"{name} least [{unit}]"] = finite.min(initial=np.inf) if len(finite) else np.nan
                of[f"{name} greatest [{unit}]"] = finite.max(initial=-np.inf) if len(finite) else np.nan
            rows.append(of)
    return pd.DataFrame(rows)
