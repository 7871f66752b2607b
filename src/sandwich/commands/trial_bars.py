"""Other bars of a zone tried on the design of the last run: utilisation, cracks, punching, kilograms."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, Final

import numpy as np
import pandas as pd

from sandwich.core.errors import Fault, Faults, InputError
from sandwich.core.section import STEEL_DENSITY
from sandwich.core.shown import Measure, Sentence
from sandwich.core.status import Status, is_status
from sandwich.design.bar_sets import Given
from sandwich.design.bars import Used, bars_frame, ratio_of
from sandwich.design.laid_shear import shear_by_bars, with_shear
from sandwich.design.record import Ultimate
from sandwich.design.results import SHEAR, STRUTS, checks_frame
from sandwich.design.service_tables import service_checks
from sandwich.design.settings import Settings
from sandwich.design.summary import worst_checks
from sandwich.job.zone import Zone
from sandwich.project.outcome import Table, Text
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput, settings_of
from sandwich.stages.punching import NAME, PUNCHING, punching_frame
from sandwich.stages.service import SERVICE
from sandwich.stages.ultimate import ULTIMATE
from sandwich.tables.write import table_file
from sandwich.work.bar_checks import check_bars
from sandwich.work.bars import all_provided, deeper, extra_text, laid_axes, lay_bars
from sandwich.work.layout import trims
from sandwich.work.loaded_areas import loaded_areas
from sandwich.work.minimum_gaps import without_gaps
from sandwich.work.punching import punch, punch_laid
from sandwich.work.service import laid_after_service, laid_bars, loads_of, rule_of_zone, service_of

BAR_KEYS: Final = ("provided", "additional", "rule", "layout")
SHEARS: Final = (SHEAR, STRUTS)
HELD: Final = 1.0 + 1e-9
NOTE: Final = "Limit analysis, which may excuse bars that are short, is not tried; other zones keep their bars."


@dataclass(frozen=True, repr=False)
class BarTrial:
    """What other bars do to a zone.

    Attributes
    ----------
    bars, shear, service, punching : DataFrame
        Layers with bars, utilisation and mass before and after; transverse shear by these bars; the worst of each
        service check; loaded areas.
    mass : tuple of float
        Of all bars by their areas before and after [kg], nan of a bare table.
    """

    bars: pd.DataFrame
    shear: pd.DataFrame
    service: pd.DataFrame
    punching: pd.DataFrame
    mass: tuple[float, float]

    @property
    def blocks(self) -> tuple[Table | Text, ...]:
        """As a terminal shows it."""
        tables = (
            ("Bars", self.bars),
            ("Transverse shear", self.shear),
            ("Service state", self.service),
            ("Punching", self.punching),
        )
        out: list[Table | Text] = [
            Table(title, frame, bad=(frame["utilisation after"] > HELD).to_numpy(dtype=bool))
            for title, frame in tables if len(frame)
        ]  # fmt: skip
        if np.isfinite(self.mass).all():
            before, after = self.mass
            change = f", {100.0 * (after / before - 1.0):+.1f} %" if before > 0.0 else ""
            told = Sentence(
                "Mass of the bars by their areas: {} before, {} after{}.", Measure(before, "kg", ",.0f"),
                Measure(after, "kg", ",.0f"), change,
            )  # fmt: skip
            out.append(Text(told))
        return (*out, Text(NOTE, "quiet"))


def try_bars(
    project: Project, name: str, tried: Zone, h: np.ndarray, design: Callable[[Settings], Ultimate], *, alike: bool
) -> BarTrial:
    """Bars of a zone as it is tried.

    Parameters
    ----------
    project : Project
        The job, as it was run.
    name : str
        The zone.
    tried : Zone
        What is tried.
    h : ndarray, shape (p,)
        Thickness [mm].
    design : callable
        Designs the zone as it is tried, by its settings.
    alike : bool
        Whether nothing but bars changes: where they lie as before, the design is that of the run.

    Raises
    ------
    InputError
        If a layer or place is not there.
    """
    run, last = project.left(SERVICE)[name], project.left(ULTIMATE)[name]
    standard = project.standard
    zone = (tried if tried.provided else replace(tried, bars=run.zone.zone.bars)).as_laid()
    own = last.own if alike and zone.bars == run.zone.zone.bars else design(settings_of(zone, standard))
    z: ZoneInput = replace(run.zone, zone=zone, h=h)
    faults = Faults()
    check_bars(project.job, [z], standard, faults)
    faults.stop()
    deep = deeper(z, own, z.settings(standard))
    if deep is not None:  # thicker bars than were known lie deeper
        z, own = deep, design(settings_of(deep.zone, standard))
    areas = [a for a in loaded_areas(project, Faults()) if a.zone == name] if PUNCHING.asked(project) else []
    found, final = punch(areas, z, own, standard) if areas else ((), own)
    final = without_gaps(z, final)
    fixed = all_provided(z, z.settings(standard))
    laid = None if laid_after_service(z) else lay_bars(z, final, standard)
    state = checks = None
    if fixed:  # cracks of these bars, not of what would have to be added to them
        checks = _checked(project, z, final, laid)
    else:
        with tempfile.TemporaryDirectory() as folder:  # nothing of the last run is touched
            state, laid = service_of(z, final, laid, project.combinations.service(), standard, Path(folder))
        checks = None if state is None else state.checks
    if laid is None:
        raise InputError([Fault(f"zones.{name}", "has no bars to try", "give rule = {} or provided")])
    settings = z.settings(standard)
    service = run.service if fixed else state
    more = np.zeros_like(final.a_s) if service is None else service.required
    asked = np.where(np.isnan(final.a_s), np.nan, np.fmax(final.a_s, more))
    whole = replace(final, a_s=asked)
    p = len(z.labels)
    use = Used(ratio_of(whole, laid), np.full(p, np.nan), np.full(p, -1), np.zeros(p, dtype=bool))
    weights = trims(z) if z.surface is not None else None
    labels, ultimate = z.labels.astype(object), project.ultimate_of(z)
    sheared = with_shear(final, shear_by_bars(
        final, z.cases, ultimate.factors, ultimate.situations, h, area=laid.area, axes=laid_axes(z, laid, settings),
        settings=settings,
    ))  # fmt: skip
    checked = checks_frame(name, labels, sheared, ultimate.names, h, settings)
    after = bars_frame(name, labels, whole, laid, use, settings, extra_text(laid, settings), weights)
    mass = np.nan, np.nan
    if weights is not None:
        before_area = run.laid.area if run.laid is not None else np.zeros((p, 1))
        one, other = (STEEL_DENSITY * float(weights @ a.sum(1)) for a in (before_area, laid.area))
        mass = one, other
    punched = punching_frame(punch_laid(found, z, laid, standard), standard) if found else pd.DataFrame()
    return BarTrial(
        _bars(_table(project, "bars", name), after),
        _checks(_table(project, "checks", name), checked[checked["check"].isin(SHEARS)]),
        _checks(_table(project, "service checks", name), checks),
        _punching(_table(project, "punching", name), punched), mass,
    )  # fmt: skip


def _checked(project: Project, z: ZoneInput, u: Ultimate, laid: Given | None) -> pd.DataFrame | None:
    """Service checks of a zone with the bars that lie there, None where it asks for none."""
    rule = rule_of_zone(z, project.standard)
    if rule is None:
        return None
    service, settings = project.combinations.service(), z.settings(project.standard)
    bars = laid_bars(z, u, laid, project.standard)
    state = loads_of(z, service).check(bars, settings, rule, project.job.design.workers)
    return service_checks(z.name, z.labels.astype(object), state, service.names, bars.area, settings, rule)


def _table(project: Project, table: str, zone: str) -> pd.DataFrame:
    """Rows of a zone in a table of the last run, none where it left no such table."""
    file = project.job.results / table_file(table, "parquet")
    frame = pd.read_parquet(file) if file.is_file() else pd.DataFrame({"zone": []})
    return frame[frame["zone"] == zone]


def _bars(before: pd.DataFrame, after: pd.DataFrame) -> pd.DataFrame:
    kept = ["bars [mm]", "extra bars [mm]", "utilisation", "mass [kg/m2]"]
    old = before.set_index("layer")[kept] if len(before) else pd.DataFrame(columns=kept)
    rows = []
    for row in after.to_dict("records"):
        was: dict[Hashable, Any] = old.loc[row["layer"]].to_dict() if row["layer"] in old.index else dict.fromkeys(kept)
        rows.append({
            "zone": row["zone"], "layer": row["layer"], "bars before [mm]": _told(was), "bars after [mm]": _told(row),
            "required [mm2/m]": row["required [mm2/m]"], "utilisation before": was["utilisation"],
            "utilisation after": row["utilisation"], "at point": row["at point"],
            "points insufficient": row["points insufficient"], "mass before [kg/m2]": was["mass [kg/m2]"],
            "mass after [kg/m2]": row["mass [kg/m2]"],
        })  # fmt: skip
    return pd.DataFrame(rows)


def _told(row: Mapping[Any, Any]) -> str:
    """Base mesh and extra bars in words."""
    base, more = (str(row[k]) if row[k] is not None else "none" for k in ("bars [mm]", "extra bars [mm]"))
    return base if more == "none" else f"{base} + {more}"


def _checks(before: pd.DataFrame, after: pd.DataFrame | None) -> pd.DataFrame:
    """The worst of each check that stands after the change."""
    if after is None:
        return pd.DataFrame()
    old = before.groupby("check")["utilisation"].max()
    worst = worst_checks(after)
    return pd.DataFrame({
        "zone": worst["zone"], "check": worst["check"], "demand": worst["demand"], "capacity": worst["capacity"],
        "unit": worst["unit"], "utilisation before": old.reindex(worst["check"]).to_numpy(),
        "utilisation after": worst["utilisation"], "points exceeded": worst["points exceeded"],
        "at point": worst["point"], "combination": worst["combination"],
    })  # fmt: skip


def _punching(before: pd.DataFrame, after: pd.DataFrame) -> pd.DataFrame:
    if not len(after):
        return after
    old = before.set_index(NAME)["utilisation"]
    bad = is_status(after["status"], Status.EXCEEDED)
    return pd.DataFrame({
        "zone": after["zone"], NAME: after[NAME], "v_Rd,c [MPa]": after["v_Rd,c [MPa]"],
        "utilisation before": old.reindex(after[NAME]).to_numpy(), "utilisation after": after["utilisation"],
        "status after": np.where(bad, str(Status.EXCEEDED), after["status"].astype(str)),
    })  # fmt: skip
