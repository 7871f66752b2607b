"""The input, in numbers: tables as they are written, zones, cases, ranges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pandas as pd

from sandwich.combine.envelope import UNIT
from sandwich.core.records import WarningNote
from sandwich.core.resultants import COMPONENTS
from sandwich.inspection.warnings import warnings_of
from sandwich.project.project import Project


@dataclass(frozen=True)
class Inspection:
    """The input: frames with units in their headings, and warnings.

    Attributes
    ----------
    project : Project
        The job and its results.
    tables : DataFrame
        How each table is written.
    zones, cases, ranges : DataFrame
        One row a zone, a case, a zone and case.
    warnings : list of WarningNote
        With their evidence.
    """

    project: Project
    tables: pd.DataFrame
    zones: pd.DataFrame
    cases: pd.DataFrame
    ranges: pd.DataFrame
    warnings: list[WarningNote]


def inspect(project: Project) -> Inspection:
    """Look at the input before anything is designed."""
    notes = project.results.notes
    tables = pd.DataFrame(
        [(name, "; ".join(of) or "plain") for name, of in notes.items()], columns=["table", "how it is written"]
    )
    return Inspection(project, tables, _zones(project), _cases(project), _ranges(project), warnings_of(project))


def _zones(project: Project) -> pd.DataFrame:
    rows = []
    for z in project.zones:
        of = {"zone": z.name, "points": len(z.labels)}
        if z.surface is not None:
            mesh, elements = z.surface.mesh, z.surface.elements
            size = mesh.sizes[elements] / 1e3
            low, high = z.xyz.min(0) / 1e3, z.xyz.max(0) / 1e3
            of |= {
                "elements": len(elements),
                "groups": ", ".join(sorted(set(mesh.group[elements].tolist()) - {""})) or "-",
                **{f"{a} [m]": f"{lo:.4g} .. {hi:.4g}" for a, lo, hi in zip("xyz", low, high, strict=True)},
                "element size [m]": f"{size.min():.2g} .. {size.max():.2g}",
                "turned over": int(z.surface.orientation.flipped.sum()),
            }
        of["thickness [mm]"] = ", ".join(f"{v:g}" for v in np.unique(z.h.round(3))[:6])
        rows.append(of)
    return pd.DataFrame(rows)


def _cases(project: Project) -> pd.DataFrame:
    rows = []
    used = {c for row in project.combinations.rows for c in row.factors}
    reactions = project.results.reactions
    for name, case in project.results.kinds.items():
        of: dict[str, object] = {
            "case": name, "kind": case.kind or "-", "action": case.action or "-",
            "signs": "no" if case.signed is False else "yes", "combined": "yes" if name in used else "no",
        }  # fmt: skip
        if reactions is not None:
            total = reactions[reactions["case"] == name][["fx", "fy", "fz"]].sum() / 1e3
            of |= {f"reactions {a} [kN]": round(float(total[f"f{a}"]), 2) + 0.0 for a in "xyz"}
        rows.append(of)
    return pd.DataFrame(rows)


def _ranges(project: Project) -> pd.DataFrame:
    """Minimum and maximum of each component at the points, in the bar directions."""
    columns, rows = project.combinations.columns, []
    for z in project.zones:
        for case in project.results.kinds:
            of: dict[str, object] = {"zone": z.name, "case": case}
            own = [i for i, c in enumerate(columns) if c.case == case]
            values = z.cases[:, own].sum(1)
            for i, name in enumerate(COMPONENTS):
                unit, scale = UNIT[name]
                finite = values[np.isfinite(values[:, i]), i] * scale
                of[f"{name} minimum [{unit}]"] = finite.min(initial=np.inf) if len(finite) else np.nan
                of[f"{name} maximum [{unit}]"] = finite.max(initial=-np.inf) if len(finite) else np.nan
            rows.append(of)
    return pd.DataFrame(rows)
