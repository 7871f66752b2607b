"""A map of one quantity of a zone: resultants, steel, checks, for a case, a combination or all of them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Any, Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Combinations
from sandwich.core.errors import Fault, InputError
from sandwich.core.resultants import COMPONENTS
from sandwich.core.shown import Shown
from sandwich.core.status import POINT_FAILS, Status, is_status
from sandwich.design.results import LAYER, REQUIRED
from sandwich.design.ultimate import design_ultimate
from sandwich.job import Job
from sandwich.project.outcome import Figure
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.stages.maps import LIMIT_100, bar_scale, zone_map
from sandwich.tables.write import table_file, write_aside
from sandwich.work.bars import rule_of

Floats = NDArray[np.float64]
STEEL: Final = {
    "required": REQUIRED, "provided": "provided [mm2/m]", "strength": "by strength [mm2/m]",
    "minimum": "minimum [mm2/m]", "service": "by service [mm2/m]", "utilisation": "utilisation",
}  # fmt: skip
LARGEST, SMALLEST = "largest", "smallest"
KINDS: Final = (".png", ".svg", ".pdf")
CHECKS: Final = ("checks", "service checks")


@dataclass(frozen=True, repr=False)
class ZoneMap:
    """A map of a zone.

    Attributes
    ----------
    zone, what, unit : str
        The zone, what is shown, its SI unit.
    points : ndarray of str, shape (p,)
        Points of the zone.
    values : ndarray, shape (p,)
        Values, nan where there is none.
    figure : Figure
        The picture.
    units : str
        Units of the job that are shown.
    """

    zone: str
    what: str
    unit: str
    points: NDArray[np.object_]
    values: Floats
    figure: Figure
    units: str

    def draw(self, path: str | Path, *, numbers: bool = False) -> Path:
        """Draw it into a file: .png, .svg or .pdf.

        Parameters
        ----------
        path : str or Path
            The file.
        numbers : bool
            Whether the largest value of each element is written in it; fine meshes are read in .svg or .pdf.

        Raises
        ------
        InputError
            If the path has another ending, or cannot be written.
        """
        from sandwich.drawing.maps import draw_map, png

        path = Path(path)
        if path.suffix not in KINDS:
            raise InputError([Fault(str(path), "is no kind of picture that is drawn", f"use {', '.join(KINDS)}")])
        shows = replace(self.figure.describe(Shown(self.units)), numbered=numbers)
        try:
            if path.suffix == ".png":
                return write_aside(path, partial(_write, png(draw_map, shows)))
            canvas = draw_map(shows).figure.canvas
            return write_aside(path, lambda aside: canvas.print_figure(aside, format=path.suffix[1:]))
        except OSError as error:
            raise InputError([Fault(str(path), f"cannot be written ({error.strerror})", "name another file")]) from None

    def __repr__(self) -> str:
        return f"ZoneMap({self.zone}: {self.what} [{self.unit}])"


def _write(picture: bytes, path: Path) -> None:
    path.write_bytes(picture)


def map_job(
    job: str | Path | Job | Project, of: str, *, zone: str | None = None, layer: str | None = None,
    combination: str | None = None, case: str | None = None, raw: bool = False,
) -> ZoneMap:  # fmt: skip
    """A map of one quantity of a zone of a job that was run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job; it has been run and not changed since.
    of : str
        A resultant in the bar directions ('nx', 'ny', 'nxy', 'mx', 'my', 'mxy', 'vx', 'vy'); steel of a layer
        ('required', 'provided', 'strength', 'minimum', 'service', 'utilisation'); or a check of the tables.
    zone : str, optional
        The zone; needed where the job has several on a mesh.
    layer : str, optional
        Bar layer of steel.
    combination : str, optional
        One combination; 'largest' or 'smallest' of all for resultants; by default the largest by size.
    case : str, optional
        One case of a resultant.
    raw : bool
        Resultants as they came, before peaks are averaged.

    Returns
    -------
    ZoneMap
        Values at the points and the picture.

    Raises
    ------
    InputError
        If there is no such quantity, zone, layer, combination or case.
    StaleError
        If the job was not run, or has changed since.
    """
    project = Project.last_run(job)
    z = _zone(project, zone)
    if of in COMPONENTS:
        if layer is not None:
            raise InputError([Fault(f"--of {of}", "is of the whole thickness", "take --layer out")])
        return _resultant(project, z, of, combination, case, raw=raw)
    if case is not None or raw:
        raise InputError([Fault(f"--of {of}", "is no resultant", f"cases are those of {', '.join(COMPONENTS)}")])
    if of in STEEL:
        return _steel(project, z, of, layer, combination)
    if combination is not None or layer is not None:
        raise InputError([Fault(f"--of {of}", "is a check of all combinations", "take --combination and --layer out")])
    return _check(project, z, of)


def _zone(project: Project, name: str | None) -> ZoneInput:
    there = [z for z in project.zones if z.surface is not None]
    names = [z.name for z in there]
    if name is None and len(there) == 1:
        return there[0]
    if name not in names:
        found = "needs a zone on a mesh" if name is None else f"no zone '{name}' on a mesh"
        raise InputError([Fault("--zone", found, f"there are {', '.join(names) or 'none'}")])
    return there[names.index(name)]


def _made(project: Project, z: ZoneInput, what: str, unit: str, values: Floats, note: str, **more: Any) -> ZoneMap:
    figure = zone_map(z, what, unit, values, note, **more)
    return ZoneMap(
        zone=z.name, what=what, unit=unit, points=z.labels.astype(object), values=values, figure=figure,
        units=project.job.output.units,
    )  # fmt: skip


def _named(names: list[str], wanted: str, what: str) -> int:
    if wanted not in names:
        few = ", ".join(names[:12]) + (f" and {len(names) - 12} more" if len(names) > 12 else "")
        raise InputError([Fault(f"--{what} {wanted}", f"no such {what}", f"there are {few}")])
    return names.index(wanted)


def _resultant(
    project: Project, z: ZoneInput, of: str, combination: str | None, case: str | None, *, raw: bool
) -> ZoneMap:
    if raw and z.raw is None:
        raise InputError([Fault("--raw", f"no peaks of zone {z.name} are averaged", "take it out")])
    held = z.raw if raw and z.raw is not None else z.cases
    all_rows = project.combinations
    i = COMPONENTS.index(of)
    unit = "kNm/m" if of.startswith("m") else "kN/m"
    by = 1e-3 if of.startswith("m") else 1.0
    came = "as it came" if raw else "averaged where peaks are" if z.averaged is not None else "in the bar directions"
    came += ", without second order" if z.zone.second_order is not None else ""
    if case is not None:
        if combination is not None:
            raise InputError([Fault("--case", "goes without --combination", "take one of them out")])
        names = list(dict.fromkeys(c.case for c in all_rows.columns))
        _named(names, case, "case")
        mine = [c for c, column in enumerate(all_rows.columns) if column.case == case]
        values, told = by * held[:, mine, i].sum(1), f"case {case}; {came}"
    else:
        one = combination not in (None, LARGEST, SMALLEST)
        rows = all_rows if one or not all_rows.ultimate().names else all_rows.ultimate()
        every = by * held[:, : len(rows.columns), i] @ rows.factors.T
        kind = "ultimate combinations" if rows is not all_rows else "combinations"
        values, told = _of_all(every, rows, combination, kind)
        told = f"{told}; {came}"
    return _made(project, z, of, unit, values, told)


def _of_all(every: Floats, rows: Combinations, combination: str | None, kind: str) -> tuple[Floats, str]:
    """Values of one combination or of all."""
    if combination == LARGEST:
        return every.max(1), f"the largest of {len(rows.names)} {kind}"
    if combination == SMALLEST:
        return every.min(1), f"the smallest of {len(rows.names)} {kind}"
    if combination is not None:
        return every[:, _named(rows.names, combination, "combination")], f"combination {combination}"
    at = np.abs(every).argmax(1)
    return every[np.arange(len(every)), at], f"the largest by size of {len(rows.names)} {kind}"


def _steel(project: Project, z: ZoneInput, of: str, layer: str | None, combination: str | None) -> ZoneMap:
    settings = z.settings(project.standard)
    names, rule = list(settings.names), rule_of(z, settings)
    if layer is None:
        raise InputError([Fault(f"--of {of}", "is of a layer of bars", f"give --layer, one of {', '.join(names)}")])
    i = _named(names, layer, "layer")
    if combination is not None:
        if of not in ("required", "strength"):
            raise InputError(
                [Fault(f"--of {of}", "is of all combinations", "take --combination out, or map 'strength'")]
            )
        rows = project.ultimate_of(z)
        k = _named(rows.names, combination, "combination")
        u = design_ultimate(
            z.cases, rows.factors[[k]], [rows.situations[k]], z.h, settings, support=z.support,
            strips=z.strips, turn=z.turn, workers=project.job.design.workers,
        )  # fmt: skip
        values = 1e3 * (u.a_s if of == "required" else u.a_s_ultimate)[:, i]
        note = f"{of} for combination {combination} alone" + (", with minimum steel" if of == "required" else "")
        return _made(project, z, f"{layer}, {of}", "mm2/m", values, note, scale=bar_scale(z, rule, None, i, values))
    frame = pd.read_parquet(project.job.results / table_file("steel", "parquet"))
    own = frame[(frame["zone"] == z.name) & (frame[LAYER] == layer)].set_index("point")
    column = STEEL[of]
    if column not in own:
        raise InputError([Fault(f"--of {of}", "is not in the tables of the run", "give the zone bars, or its service")])
    values = own[column].reindex(z.labels).to_numpy(dtype=float)
    if of == "utilisation":
        values = np.where(np.isinf(values), 1e4, 100.0 * values)
        return _made(project, z, f"{layer}, utilisation", "%", values, "required over provided", scale=LIMIT_100)
    return _made(project, z, f"{layer}, {of}", "mm2/m", values, column, scale=bar_scale(z, rule, None, i, values))


def _check(project: Project, z: ZoneInput, of: str) -> ZoneMap:
    files = [project.job.results / table_file(name, "parquet") for name in CHECKS]
    frames = [pd.read_parquet(f) for f in files if f.is_file()]
    whole = pd.concat(frames, ignore_index=True)
    own = whole[whole["zone"] == z.name]
    names = list(dict.fromkeys(own["check"]))
    if of not in names:
        there = ", ".join((*COMPONENTS, *STEEL, *names))
        raise InputError([Fault(f"--of {of}", "no such quantity", f"there are {there}")])
    own = own[own["check"] == of]
    status = own["status"].astype(str)
    aside = is_status(status, Status.NOT_DESIGNED, Status.NOT_CHECKED) & (status != POINT_FAILS).to_numpy(dtype=bool)
    points = pd.Index(z.labels.astype(str))
    rows = own[~aside].groupby("point")["utilisation"].max()
    values = 100.0 * rows.reindex(points).to_numpy(dtype=float)
    values = np.where(np.isinf(values), 1e4, values)
    unchecked = np.isnan(values) & ~points.isin(own["point"][(status == POINT_FAILS).to_numpy(dtype=bool)])
    clause = ", ".join(dict.fromkeys(c for c in own["clause"] if c))
    note = "utilisation, the largest of all combinations" + (f"; clause {clause}" if clause else "")
    return _made(project, z, of, "%", values, note, unchecked=unchecked, scale=LIMIT_100)
