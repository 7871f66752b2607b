"""The ultimate design of the zones, with the bars that are raised for punching and laid deeper where they are thick."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, Final

import numpy as np
import pandas as pd

from sandwich.combine.envelope import UNIT, envelope_blocks, worst_of
from sandwich.combine.table import Combinations
from sandwich.core import compiled
from sandwich.core.errors import Faults, StaleError
from sandwich.core.progress import Progress
from sandwich.core.resultants import COMPONENTS
from sandwich.design.compression import compression_frame
from sandwich.design.record import Ultimate
from sandwich.design.ultimate import design_ultimate
from sandwich.mechanics.superpose import extremes
from sandwich.project.outcome import STEEL, Outcome, Section, Table
from sandwich.project.project import Project
from sandwich.project.second_order import bowed, check_shear_factors, warnings_of
from sandwich.project.stage import Stage
from sandwich.project.store import arrays_of, content, formulas, load_arrays, record_of, save_arrays
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import Standard
from sandwich.tables.write import file_name, read_store, stored_points, write_store
from sandwich.work.bar_checks import check_bars
from sandwich.work.bars import deeper
from sandwich.work.loaded_areas import LoadedArea, loaded_areas
from sandwich.work.minimum_gaps import check_gaps, without_gaps
from sandwich.work.punching import PunchedArea, punch

log = logging.getLogger("sandwich")
SHOWN_ROWS: Final = 12
PRESSED_TITLE: Final = "Bars in compression"
PRESSED_NOTE: Final = (
    "Where the concrete would crush without them: the {} of {} bars with most force; they need the ties of the clause "
    "over that part of the zone."
)


@dataclass(frozen=True)
class ZoneDesign:
    """The ultimate design of a zone.

    Attributes
    ----------
    zone : ZoneInput
        The zone with the diameters it was designed for.
    own : Ultimate
        Its design.
    final : Ultimate
        The same with the bars that punching raises, and without gaps in minimum steel.
    punched : tuple of PunchedArea or None
        Its loaded areas; None where the design was taken from the store as it stands.
    reused : bool
        Whether it is that of the last run.
    """

    zone: ZoneInput
    own: Ultimate
    final: Ultimate
    punched: tuple[PunchedArea, ...] | None
    reused: bool


def zone_key(z: ZoneInput, ultimate: Combinations, standard: Standard) -> str:
    """Digest of what the ultimate design of a zone is made from."""
    arrays = [z.cases, z.h, np.empty(0) if z.support is None else z.support, ultimate.factors]
    arrays += [] if z.strips is None else [z.strips.cells, z.strips.tributary]
    arrays += [] if z.turn is None else [z.turn]
    named = [c.label for c in ultimate.columns], z.labels
    return content([formulas(), *arrays, ultimate.situations, z.settings(standard), *named])


class UltimateStage(Stage[dict[str, ZoneDesign]]):
    """Design every zone for all ultimate combinations."""

    name = "ultimate"
    tables = ("service resultants", "envelopes", "extremes", "averaged peaks", "compression bars")

    def asked(self, project: Project) -> bool:
        """Whether any zone is designed as a shell."""
        return project.job.designs_shells

    def check(self, project: Project, faults: Faults) -> None:
        """Note loaded areas that cannot be, and layers that are given bars and do not exist."""
        loaded_areas(project, faults)
        check_bars(project.job, project.zones, project.standard, faults)
        check_gaps(project.job, project.zones, faults)
        check_shear_factors(project.job, project.zones, project.combinations, faults)

    def run(self, project: Project, progress: Progress) -> Outcome[dict[str, ZoneDesign]]:
        """Design, or take over, every zone."""
        if not project.zones:
            return Outcome({})
        if not project.writes:
            return Outcome({z.name: _stored(z, project) for z in project.zones})
        if compiled.is_cold():
            log.warning("compiling once; later runs start at once")
        designs = _design(project, progress)
        tables = _tables(project, designs)
        return Outcome(
            {d.zone.name: d for d in designs},
            tables=tables,
            long={"envelopes": partial(_envelopes, project)},
            warnings=tuple(
                w for z in project.zones for w in warnings_of(z, project.combinations.ultimate(), project.standard)
            ),
            sections=tuple(_sections(tables)),
            reused=tuple(d.zone.name for d in designs if d.reused),
        )


ULTIMATE: Final = UltimateStage()


def _laid_key(z: ZoneInput, key: str) -> str:
    """Digest of what decides which bars are laid in a zone that is designed from `key`."""
    return content([key, repr((z.zone.rule, z.zone.layout, z.zone.provided, z.zone.additional, z.zone.column_bars,
                          z.zone.minimum_gaps))])  # fmt: skip


def _laid(z: ZoneInput, held: dict[str, Any], project: Project) -> ZoneInput:
    """The zone with the diameters of the bars that the last run laid, where they were thicker than assumed."""
    if not str(held["deeper from"]):
        return z
    lower = replace(z, zone=z.zone.with_diameters(held["diameters"].tolist()))
    return bowed(lower, project.combinations.ultimate(), project.standard)


def _stored(z: ZoneInput, project: Project) -> ZoneDesign:
    """The design of the last run as it stands in the store.

    Raises
    ------
    StaleError
        If the store has none.
    """
    held = load_arrays(project.store / f"{file_name(z.name)}.npz") or {}
    try:
        own, laid = record_of(Ultimate, held), _laid(z, held, project)
        final = replace(own, a_s=held["raised"], a_s_minimum=held["minimum"])
    except KeyError:
        raise StaleError(f"{project.store} holds no design of zone '{z.name}'; run the job again") from None
    return ZoneDesign(laid, own, final, None, reused=True)


def _design(project: Project, progress: Progress) -> list[ZoneDesign]:
    """Write the store of each zone and design it; a zone whose content is that of the last run is taken over.

    A zone whose chosen bars are thicker than assumed is designed again with them.
    """
    zones, standard = project.zones, project.standard
    areas = loaded_areas(project, Faults())
    project.store.mkdir(exist_ok=True)
    known = [_known(z, project) for z in zones]
    whole, done = sum(len(z.labels) for z, u in zip(zones, known, strict=True) if u is None), 0

    def advance(count: int) -> None:
        nonlocal done
        done += count
        progress("ultimate design", done, max(whole, done))

    def design(z: ZoneInput) -> Ultimate:
        ultimate = project.ultimate_of(z)
        return design_ultimate(
            z.cases, ultimate.factors, ultimate.situations, z.h, z.settings(standard),
            support=z.support, strips=z.strips, turn=z.turn, workers=project.job.design.workers, progress=advance,
        )  # fmt: skip

    out = []
    for z, found in zip(zones, known, strict=True):
        ultimate = project.ultimate_of(z)
        labels = tuple(c.label for c in ultimate.columns)
        if found is None:
            project.forget()  # what the record vouches for goes now
            points = pd.DataFrame({"point": z.labels.astype(object), "thickness": z.h})
            write_store(project.store / f"{file_name(z.name)}.parquet", points, z.cases, labels)
        used, u = found if found is not None else (z, design(z))
        reused = found is not None
        punched, raised = _raised(areas, used, u, standard)
        while (lower := deeper(used, raised, used.settings(standard), project.store)) is not None:
            used = bowed(lower, project.combinations.ultimate(), standard)
            u, reused = design(used), False
            punched, raised = _raised(areas, used, u, standard)
        key = zone_key(used, ultimate, standard)
        arrays = arrays_of(u) | {"raised": raised.a_s, "minimum": raised.a_s_minimum}
        arrays["diameters"] = used.settings(standard).bars.diameters
        arrays["deeper from"] = np.array(_laid_key(z, zone_key(z, ultimate, standard)) if used.zone != z.zone else "")
        arrays |= {f"combinations.{n}": np.array(getattr(ultimate, n)) for n in ("names", "situations", "factors")}
        save_arrays(project.store / f"{file_name(z.name)}.npz", key, arrays)
        out.append(ZoneDesign(used, u, raised, tuple(punched), reused))
    return out


def _raised(
    areas: list[LoadedArea], z: ZoneInput, u: Ultimate, standard: Standard
) -> tuple[list[PunchedArea], Ultimate]:
    """Loaded areas of a zone, and its design with the bars that punching raises and without gaps in minimum steel."""
    punched, raised = punch(areas, z, u, standard)
    return punched, without_gaps(z, raised)


def _known(z: ZoneInput, project: Project) -> tuple[ZoneInput, Ultimate] | None:
    """The zone as it was laid and designed in the last run, if that was made from the same."""
    ultimate, standard = project.ultimate_of(z), project.standard
    held = load_arrays(project.store / f"{file_name(z.name)}.npz")
    if held is None or stored_points(project.store / f"{file_name(z.name)}.parquet") != len(z.labels):
        return None
    try:
        deeper_now = str(held["deeper from"]) == _laid_key(z, zone_key(z, ultimate, standard))
        laid = _laid(z, held, project) if deeper_now else z
        if str(held["key"]) != zone_key(laid, ultimate, standard):
            return None
        return laid, record_of(Ultimate, held)
    except (KeyError, ValueError):
        return None


def _envelopes(project: Project) -> Iterator[pd.DataFrame]:
    for z in project.zones:
        yield from envelope_blocks(z.name, z.labels, z.cases, project.ultimate_of(z))


def _tables(project: Project, designs: list[ZoneDesign]) -> dict[str, pd.DataFrame]:
    standard, ultimate = project.standard, project.combinations.ultimate()
    each = [worst_of(z.name, z.labels, z.cases, project.ultimate_of(z)) for z in project.zones]
    tables = {"extremes": pd.concat(each, ignore_index=True)}
    if project.combinations.service().names:
        tables["service resultants"] = _service_frame(project.zones, project.combinations.service())
    pressed = [d for d in designs if d.zone.zone.compression_bars]
    if pressed:
        tables["compression bars"] = pd.concat(
            [
                compression_frame(
                    d.zone.name, d.zone.labels.astype(object), d.final, d.zone.h, d.zone.settings(standard)
                )
                for d in pressed
            ],
            ignore_index=True,
        )
    if any(z.averaged is not None for z in project.zones):
        tables["averaged peaks"] = _peaks_frame(project.zones, ultimate)
    return tables


def _peaks_frame(zones: list[ZoneInput], ultimate: Combinations) -> pd.DataFrame:
    """One row an averaged point and component: maximum magnitude as it was read, and as it was designed."""
    parts = []
    for z in zones:
        if z.averaged is None or z.raw is None:
            continue
        at = z.averaged.point
        raw, used = (np.maximum.reduce(list(map(np.abs, extremes(v[at], ultimate.factors)))) for v in (z.raw, z.cases))
        for i, name in enumerate(COMPONENTS):
            unit, scale = UNIT[name]
            columns = {"zone": z.name, "point": z.labels[at].astype(object), "component": name, "unit": unit}
            parts.append(pd.DataFrame({**columns, "raw": raw[:, i] * scale, "averaged": used[:, i] * scale}))
    return pd.concat(parts, ignore_index=True) if parts else pd.DataFrame()


def _service_frame(zones: list[ZoneInput], service: Combinations) -> pd.DataFrame:
    """Extremes of each component over the service combinations, one row a point."""
    out = []
    for z in zones:
        low, high = extremes(z.cases, service.factors)
        columns: dict[str, object] = {"zone": z.name, "point": z.labels.astype(object)}
        for i, name in enumerate(COMPONENTS):
            unit, scale = UNIT[name]
            columns[f"{name} minimum [{unit}]"] = low[:, i] * scale
            columns[f"{name} maximum [{unit}]"] = high[:, i] * scale
        out.append(pd.DataFrame(columns))
    return pd.concat(out, ignore_index=True)


def _sections(tables: dict[str, pd.DataFrame]) -> list[Section]:
    out = []
    frame = tables.get("compression bars")
    if frame is not None and len(frame):
        told = PRESSED_NOTE.format(min(len(frame), SHOWN_ROWS), len(frame))
        out.append(Section(PRESSED_TITLE, (Table("", frame.head(SHOWN_ROWS), told),)))
    note = (
        "For looking: each row is the extreme of one component over all ultimate combinations and points of a zone, "
        "with what acts together with it. Extremes of different components come from different combinations; every "
        "point is designed for the concurrent values of each combination, never for extremes put together."
    )
    out.append(Section("Extremes of the resultants", (Table("", tables["extremes"], note),), STEEL + 8))
    return out


@dataclass(frozen=True)
class StoredZone:
    """What the store has of a zone: no table has to be read for it.

    Attributes
    ----------
    labels, h : ndarray, shape (p,)
        Names of its points, thickness [mm].
    cases : ndarray, shape (p, c, 8)
        Resultants of each column in the bar directions [N, mm].
    names, situations : list of str
        Ultimate combinations.
    factors : ndarray, shape (k, c)
        Their factors.
    design : Ultimate
        The design of the zone.
    diameters : list of float
        Of the bars it was designed with [mm].
    deeper : bool
        Whether these are thicker than the job assumes.
    """

    labels: np.ndarray
    h: np.ndarray
    cases: np.ndarray
    names: list[str]
    situations: list[str]
    factors: np.ndarray
    design: Ultimate
    diameters: list[float]
    deeper: bool


def stored_zone(project: Project, name: str) -> StoredZone:
    """A zone of a job that was run, from its store.

    Raises
    ------
    StaleError
        If the store has no such zone.
    """
    points, cases, _ = read_store(project.store / f"{file_name(name)}.parquet")
    held = load_arrays(project.store / f"{file_name(name)}.npz") or {}
    try:
        return StoredZone(
            labels=points["point"].to_numpy(),
            h=points["thickness"].to_numpy(dtype=float),
            cases=cases,
            names=held["combinations.names"].tolist(),
            situations=held["combinations.situations"].tolist(),
            factors=held["combinations.factors"],
            design=record_of(Ultimate, held),
            diameters=held["diameters"].tolist(),
            deeper=bool(str(held["deeper from"])),
        )
    except KeyError:
        raise StaleError(f"the store of zone {name} cannot be read; run the job again") from None
