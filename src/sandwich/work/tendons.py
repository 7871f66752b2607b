"""Tendons of a job: their tables laid over the zones, and their checks with the bars that were laid."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.status import Status
from sandwich.design.sections import ServiceBars
from sandwich.design.tendons import TendonRule, TendonStresses, check_tendon
from sandwich.job.tendons import Tendons
from sandwich.mechanics.superpose import superpose
from sandwich.model.tendon_lines import TendonLine, lay
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import Prestress, Standard
from sandwich.tables.read import read_table

TENDON_TABLES: Final = ("tendons", "tendon crossings", "tendon stations")
_NONE: Final = 1e-9  # MPa


@dataclass(frozen=True)
class LaidTendon:
    """One tendon of the job laid over its zone."""

    group: str
    name: str
    asked: Tendons
    line: TendonLine


@dataclass(frozen=True)
class TendonState:
    """Tendons of a job: one row each, the worst first; where they cross elements; all stations; the lines."""

    tendons: pd.DataFrame
    crossings: pd.DataFrame
    stations: pd.DataFrame
    found: tuple[tuple[LaidTendon, TendonStresses], ...]

    @property
    def tables(self) -> dict[str, pd.DataFrame]:
        """Tables by name."""
        return dict(zip(TENDON_TABLES, (self.tendons, self.crossings, self.stations), strict=True))


def lay_tendons(project: Project, faults: Faults) -> list[LaidTendon]:
    """Read the tables of tendons and lay them over their zones; notes every fault."""
    out: list[LaidTendon] = []
    job = project.job
    if job.tendons and not any(c.kind == "prestress" for c in project.results.kinds.values()):
        remedy = '[cases.NAME] kind = "prestress" says which case is theirs'
        faults.add(f"{job.path}, tendons", "no case is prestress, and tendons are checked for it", remedy)
    zones = {z.name: z for z in project.zones}
    units = asdict(job.input.units)
    there = dict.fromkeys(project.combinations.service().situations)
    for group, asked in job.tendons.items():
        where = f"{job.path}, tendons.{group}"
        z = zones.get(asked.zone)
        if z is None:
            faults.add(f"{where}.zone", f"no zone '{asked.zone}'", f"there are {', '.join(zones)}")
            continue
        if z.surface is None:
            faults.add(where, "a bare table has no places", "give nodes and elements")
            continue
        for key in ("decompression", "stress_from", "stress_to", "range_of"):
            of = getattr(asked, key)
            if of is not None and of not in there:
                faults.add(f"{where}.{key}", f"no {of} combination", f"there are {', '.join(there) or 'none'}")
        if asked.f_pk is not None and not isinstance(project.standard, Prestress):
            found = f"{project.standard.name} has no such limit here"
            faults.add(f"{where}.f_pk", found, "use EN 1992-1-1:2004, or take sigma_p and f_pk out")
        read = read_table(job.folder, asked.table, "tendons", f"tendons.{group}.table", units, set(), faults)
        if read is None:
            continue
        for name, rows in read.frame.groupby("tendon", sort=False):
            places = rows[["x", "y", "z"]].to_numpy(dtype=float)
            depth = rows["depth"].to_numpy(dtype=float) if "depth" in rows else None
            told = f"{read.name}, tendon {name}"
            if len(rows) < 2 or not np.linalg.norm(np.diff(places, axis=0), axis=1).all():
                faults.add(told, "has two equal places that follow each other, or one place only", "give a polyline")
                continue
            line = lay(places, depth, z.surface.mesh, z.surface.elements, z.surface.orientation, z.surface.points)
            out.append(LaidTendon(group, str(name), asked, line))
            h = np.einsum("nt,nt->n", line.weights, z.h[line.points])
            if (line.element < 0).any():
                x, y, az = line.xyz[int(np.argmax(line.element < 0))] / 1e3
                faults.add(
                    told, f"leaves zone {z.name} at ({x:.3f}, {y:.3f}, {az:.3f})", "give places on the zone, in m"
                )
            elif np.any(np.abs(line.height) + asked.duct / 2.0 > h / 2.0):
                i = int(np.argmax(np.abs(line.height) - h / 2.0))
                found = f"its duct leaves the section {line.s[i] / 1e3:.3g} m along it: axis {line.height[i]:+.0f} mm"
                faults.add(told, f"{found} from mid-depth of {h[i]:.0f} mm", "look at its z or depth, and their units")
    return out


def check_tendons(
    laid: list[LaidTendon], zones: list[ZoneInput], bars: dict[str, ServiceBars], project: Project
) -> TendonState | None:
    """Decompression and stresses of all tendons with the bars of their zones; None without tendons."""
    if not laid:
        return None
    by_name = {z.name: z for z in zones}
    service, standard = project.combinations.service(), project.standard
    pulled = [c for c in project.results.cases if project.results.kinds[c].kind == "prestress"]
    factors = [tuple(r.factors.get(c, 0.0) for c in pulled) for r in service.rows]
    prestress = np.unique(np.array(factors).reshape(len(factors), -1), axis=0, return_inverse=True)[1].reshape(-1)
    found = []
    for t in laid:
        z, line, asked = by_name[t.asked.zone], t.line, t.asked
        settings, own = z.settings(standard), bars[z.name]

        def mean(values: np.ndarray, line: TendonLine = line) -> np.ndarray:
            return np.asarray(np.einsum("nt,nt...->n...", line.weights, values[line.points]))

        turn = np.zeros(len(z.h)) if z.turn is None else z.turn
        angles = settings.bars.angles + np.where(settings.bars.sides < 0, turn[:, None], 0.0)
        rule = TendonRule(
            duct=asked.duct,
            within=asked.within,
            E_p=asked.E_p,
            decompression=asked.decompression,
            stress_from=asked.stress_from,
            stress_to=asked.stress_to,
            range_of=asked.range_of,
        )
        combined = superpose(mean(z.cases), service.factors)
        at = ServiceBars(mean(own.area), mean(own.axes), mean(own.diameter), one=mean(own.one))
        stresses = check_tendon(
            combined,
            service.situations,
            prestress,
            mean(z.h),
            height=line.height,
            angle=line.angle,
            bars=at,
            bar_angles=mean(angles),
            settings=settings,
            rule=rule,
        )
        found.append((t, stresses))
    tendons = pd.DataFrame([_row(t, s, by_name[t.asked.zone], service.names, standard) for t, s in found])
    worst = tendons.sort_values("concrete at the duct [MPa]", ascending=False, kind="stable")
    return TendonState(
        worst.reset_index(drop=True),
        pd.concat([_crossings(t, by_name[t.asked.zone]) for t, _ in found], ignore_index=True),
        pd.concat([_stations(t, s) for t, s in found], ignore_index=True),
        tuple(found),
    )


def _row(t: LaidTendon, s: TendonStresses, z: ZoneInput, names: list[str], standard: Standard) -> dict[str, object]:
    """The worst of one tendon."""
    i, asked = int(np.argmax(s.most)), t.asked
    whole = np.isfinite(s.increase).all()
    swing = float(np.fmax.reduce(s.range))
    j = int(np.nanargmax(np.nan_to_num(s.increase, nan=-np.inf)))
    x, y, _ = t.line.xyz[i] / 1e3
    verdict = [] if s.most[i] <= _NONE else [f"no decompression within {asked.within:g} mm of the duct"]
    if not whole:
        verdict.append("a cracked section has no state: its stress is not known there")
    row = {
        "tendon": f"{t.group} {t.name}", "zone": z.name, "length [m]": t.line.s[-1] / 1e3,
        "concrete at the duct [MPa]": s.most[i], "at [m]": t.line.s[i] / 1e3, "x [m]": x, "y [m]": y,
        "combination": names[s.by[i]], "across it [MPa]": s.across.max(),
        "increase [MPa]": s.increase[j], "increase at [m]": t.line.s[j] / 1e3,
        "increase by": names[s.increase_by[j]], "range [MPa]": swing,
    }  # fmt: skip
    if asked.sigma_p is not None and asked.f_pk is not None and isinstance(standard, Prestress):
        most = standard.tendon_stress(asked.f_pk)
        row |= {"stress [MPa]": asked.sigma_p + s.increase[j], "allowed [MPa]": most}
        if not asked.sigma_p + s.increase[j] <= most:
            verdict.append("stress of the tendon")
    if asked.range_allowed is not None and not swing <= asked.range_allowed:
        verdict.append("range of its stress")
    return {**row, "status": Status.OK if not verdict else Status.EXCEEDED.because("; ".join(verdict))}


def _crossings(t: LaidTendon, z: ZoneInput) -> pd.DataFrame:
    """One row an element that a tendon crosses: from, to, direction from its bars, depth below the top face."""
    line, s = t.line, z.on_mesh
    h = np.einsum("nt,nt->n", line.weights, z.h[line.points])
    run = np.concatenate([[0], np.cumsum(np.diff(line.element) != 0)])
    frame = pd.DataFrame(
        {
            "run": run,
            "element": line.element,
            "s": line.s / 1e3,
            "angle": np.degrees(line.angle),
            "depth": h / 2.0 - line.height,
        }
    )
    grouped = frame.groupby("run").agg(
        element=("element", "first"),
        first=("s", "first"),
        last=("s", "last"),
        angle=("angle", "mean"),
        depth=("depth", "mean"),
    )
    return pd.DataFrame(
        {
            "tendon": f"{t.group} {t.name}", "element": s.mesh.element_ids[s.elements[grouped["element"]]],
            "from [m]": grouped["first"], "to [m]": grouped["last"], "direction from x bars [deg]": grouped["angle"],
            "below the top face [mm]": grouped["depth"],
        }
    )  # fmt: skip


def _stations(t: LaidTendon, s: TendonStresses) -> pd.DataFrame:
    x, y, z = t.line.xyz.T / 1e3
    return pd.DataFrame(
        {
            "tendon": f"{t.group} {t.name}", "s [m]": t.line.s / 1e3, "x [m]": x, "y [m]": y, "z [m]": z,
            "upper edge [MPa]": s.upper[:, 1], "lower edge [MPa]": s.lower[:, 1], "increase [MPa]": s.increase,
            "range [MPa]": s.range,
        }
    )  # fmt: skip
