"""The service state of the zones: their bars as they finally stand, tables, crack maps."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.shown import Measure, Sentence
from sandwich.core.status import Status, is_status
from sandwich.design.bar_sets import Given
from sandwich.design.results import LAYER
from sandwich.design.sections import ServiceBars
from sandwich.design.service import Service
from sandwich.design.service_tables import ADDED, LIMIT, WIDTH
from sandwich.design.summary import added_by_layer, worst_checks
from sandwich.job.zone import Faces
from sandwich.project.outcome import Figure, Outcome, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.project.zone_input import Surface, ZoneInput
from sandwich.stages.maps import zone_map
from sandwich.stages.ultimate import ULTIMATE
from sandwich.standards.interface import Standard
from sandwich.work.bars import lay_bars
from sandwich.work.service import SMALLER, ZoneService, check_asked, laid_after_service, laid_bars, service_of

WIDEST: Final = 10  # cracks in the report
REASONS: Final = 3  # why points are not checked, that are told


@dataclass(frozen=True)
class ZoneBars:
    """Bars of a zone as they finally stand, and its service state where it asks for one."""

    zone: ZoneInput
    laid: Given | None
    bars: ServiceBars
    service: ZoneService | None


@dataclass(frozen=True)
class ServiceState:
    """Service state of a job: its zones, cracks, checks with the worst first, steel added where a zone asks for it."""

    zones: tuple[ZoneService, ...]
    cracks: pd.DataFrame
    checks: pd.DataFrame
    steel: pd.DataFrame | None
    remedies: pd.DataFrame

    @classmethod
    def of(cls, zones: list[ZoneService]) -> ServiceState:
        """The state of several zones together."""
        checks = pd.concat([z.checks for z in zones]).sort_values("utilisation", ascending=False, kind="stable")
        grown = [z.steel for z in zones if z.steel is not None]
        return cls(
            zones=tuple(zones),
            cracks=pd.concat([z.cracks for z in zones], ignore_index=True),
            checks=checks.reset_index(drop=True),
            steel=pd.concat(grown, ignore_index=True) if grown else None,
            remedies=pd.concat([z.remedies for z in zones], ignore_index=True),
        )

    @property
    def tables(self) -> dict[str, pd.DataFrame]:
        """Tables by name."""
        tables = {"cracks": self.cracks, "service checks": self.checks}
        tables |= {"service steel": self.steel} if self.steel is not None else {}
        return tables | ({"crack remedies": self.remedies} if len(self.remedies) else {})


class ServiceStage(Stage[dict[str, ZoneBars]]):
    """Bars of every zone, and its service state, which may ask for more."""

    name = "service"
    needs = ("ultimate",)
    tables = ("cracks", "service checks", "service steel", "crack remedies")

    def check(self, project: Project, faults: Faults) -> None:
        """Note what is asked of the service state and cannot be answered."""
        check_asked(project, faults)

    def run(self, project: Project, progress: Progress) -> Outcome[dict[str, ZoneBars]]:
        """Lay the bars, check them in service and lay more where these are asked for."""
        standard, service = project.standard, project.combinations.service()
        left, done = {}, 0
        designs = project.left(ULTIMATE)
        whole = sum(d.zone.zone.service is not None for d in designs.values())
        for name, d in designs.items():
            later = laid_after_service(d.zone)
            laid = None if later else lay_bars(d.zone, d.final, standard, store=project.store)
            state, laid = service_of(
                d.zone, d.final, laid, service, standard, project.store, project.job.design.workers
            )
            bars = state.bars if state is not None else laid_bars(d.zone, d.final, laid, standard)
            left[name] = ZoneBars(d.zone, laid, bars, state)
            if state is not None:
                done += 1
                progress("service state", done, whole)
        found = [(b.zone, b.service) for b in left.values() if b.service is not None]
        return Outcome(left) if not found else shown_service(found, standard, left)


SERVICE: Final = ServiceStage()


def shown_service(
    found: list[tuple[ZoneInput, ZoneService]], standard: Standard, left: dict[str, ZoneBars]
) -> Outcome[dict[str, ZoneBars]]:
    """The outcome of the zones that ask for their service state."""
    state = ServiceState.of([s for _, s in found])
    figures = [f for z, s in found if z.surface is not None for f in _maps(s, z, standard.clauses["crack width"])]
    return Outcome(
        left,
        tables=state.tables,
        summary=tuple(_summary(state)),
        figures=tuple(figures),
        sections=(_section(state, found),),
    )


def _worst(state: ServiceState) -> tuple[pd.DataFrame, NDArray[np.bool_]]:
    """The worst of each check, and which are exceeded."""
    worst = worst_checks(state.checks).drop(columns="loading", errors="ignore")
    return worst, is_status(worst["status"], Status.EXCEEDED)


def _summary(state: ServiceState) -> Iterator[Text | Table]:
    worst, bad = _worst(state)
    kept = ((worst["utilisation"] > 0.0) | (worst["points not checked"] > 0)).to_numpy(dtype=bool)
    columns = ["zone", "check", "clause", "demand", "capacity", "unit", "utilisation", "points exceeded", "point",
               "combination"]  # fmt: skip
    yield Table("Service state", worst.loc[kept, columns].rename(columns={"point": "at point"}), bad=bad[kept])
    lost = state.checks[is_status(state.checks["status"], Status.NOT_CHECKED)]
    reasons = lost.groupby([str(s).partition(" (")[0] for s in lost["status"]], sort=False)
    for why, own in sorted(reasons, key=lambda r: -len(r[1]))[:REASONS]:
        checks, count = own["check"].unique(), len(own.drop_duplicates(["zone", "point"]))
        every = len(checks) == state.checks["check"].nunique()
        lacks = "a service state" if every else f"the check of {', '.join(checks)}"
        yield Text(f"{count} point{'s' if count > 1 else ''} without {lacks}, {why}.", "bad")
    for _, row in state.remedies.iterrows():
        told = Sentence(
            "{} too wide with the bars of the ultimate design: {} of {}; remedy: {}; by smaller bars: {}.",
            f"{row['zone']}, {row['face']}: {row['points']} points, the worst {row['at point']},",
            Measure(row[WIDTH], "mm", ".3g"), Measure(row[LIMIT], "mm", ".3g"), row["remedy"], row[SMALLER],
        )  # fmt: skip
        yield Text(told, "quiet")
    if state.steel is not None:
        for _, row in added_by_layer(state.steel).iterrows():
            most = Measure(row[ADDED], "mm2/m")
            told = Sentence(
                "{}: up to {} added at {} points, most at {}.", f"{row['zone']}, {row[LAYER]}", most,
                str(row["points"]), row["point"],
            )  # fmt: skip
            yield Text(told, "quiet")


def allowed(widths: tuple[float, float]) -> Measure | Sentence | str:
    """The crack widths that are allowed at a face, across the x and the y bars."""
    told = [Measure(w, "mm", "g") if np.isfinite(w) else "no limit" for w in widths]
    return told[0] if widths[0] == widths[1] else Sentence("{} across x, {} across y bars", *told)


def limits_of(s: ZoneService) -> Sentence | str:
    """Crack widths allowed by situation, at the bottom and the top."""
    each = [Sentence(f"{k} {{}} / {{}}", allowed(a), allowed(b)) for k, (a, b) in s.rule.widths.items()]
    return Sentence.joined(", ", each) if each else "none"


def limits_at(s: ZoneService, face: int) -> Sentence:
    """Crack widths allowed by situation at one face, 0 the bottom."""
    return Sentence.joined(", ", [Sentence(f"{k} {{}}", allowed(w[face])) for k, w in s.rule.widths.items()])


def _asked(s: ZoneService, faces: Faces) -> Sentence:
    """What is asked of the service state of a zone."""
    ages = " and ".join("long-term" if long else "short-term" for long in s.rule.load_durations)
    parts: list[Sentence | str] = [
        Sentence("modulus of the concrete {}, {} with creep {}; {}", Measure(s.E_short, "MPa", ".0f"),
                 Measure(s.E_long, "MPa", ".0f"), f"{s.rule.creep:g}", ages),
        Sentence("crack widths allowed ({} / {}): {}", faces.bottom, faces.top, limits_of(s)),
    ]  # fmt: skip
    if s.rule.minimum_reinforcement != "none":
        parts.append(f"first cracks in {s.rule.minimum_reinforcement}, f_ct,eff {s.rule.fct_eff_ratio:g} of f_ctm")
    if s.rule.uncracked == "exempt":
        parts.append(f"{int((s.state.cracking <= 0.0).sum())} points stay uncracked and need no width")
    if s.state.head.any():
        parts.append(
            Sentence(
                "water up to {} above a point: cracks count as through where less than x_min stays compressed in all "
                "these combinations, at {} points",
                Measure(float(s.state.head.max()) / 1e3, "m", ".3g"), str(int(s.state.through.sum())),
            )
        )  # fmt: skip
    return Sentence("{}: {}.", s.zone, Sentence.joined("; ", parts))


def _section(state: ServiceState, zones: list[tuple[ZoneInput, ZoneService]]) -> Section:
    worst, bad = _worst(state)
    intro = (
        "Stresses and strains of the cracked section under six resultants: concrete elastic in compression alone, bars "
        "elastic, at their true depths. The worst of all service combinations and loadings counts."
    )
    blocks: list[Text | Table] = [Text(intro), *(Text(_asked(s, z.zone.faces)) for z, s in zones)]
    blocks.append(Table("", worst.drop(columns="status"), bad=bad))
    cracks = state.cracks.drop_duplicates(["zone", "point", "face"]).head(WIDEST)
    if len(cracks):
        over = (cracks["utilisation"] > 1.0).to_numpy(dtype=bool)
        columns = [
            c for c in cracks.columns if c not in ("head of water [mm]", "through crack", "compressed depth [mm]")
        ]
        blocks.append(Table("The widest cracks against what is allowed", cracks[columns], bad=over))
    if len(state.remedies):
        note = "The widest crack of each face against what is allowed there; finer bars keep their depth."
        blocks.append(Table("Too wide with the bars of the ultimate design", state.remedies, note))
    if state.steel is not None:
        title = "Steel added for the service state"
        if len(state.steel):
            blocks.append(Table(title, added_by_layer(state.steel).rename(columns={"short": "not enough at"})))
        else:
            blocks.append(Text(f"{title}: none."))
    return Section("Service state", tuple(blocks))


def _maps(of: ZoneService, z: ZoneInput, clause: str) -> Iterator[Figure]:
    """Crack widths of both faces, before and after steel was added where it was, and the added steel of each layer."""
    changed = of.added is not None and bool((of.added.area > 1e-9).any())
    states = [("", of.state)] if not changed else [(" before", of.before), ("", of.state)]
    if of.rule.widths:
        top = max(float(np.nanmax(np.where(np.isfinite(s.width), s.width, np.nan), initial=0.0)) for _, s in states)
        top = min(top, 3.0 * float(np.max(list(of.rule.widths.values()))))
        for j, face in enumerate((z.zone.faces.bottom, z.zone.faces.top)):
            if not any((s.width[:, j] > 0.0).any() or not s.good.all() for _, s in states):
                continue  # nothing cracks: the table says so
            for when, s in states:
                added = changed and not when
                told = "with the steel that is added" if added else "with the bars of the ultimate design"
                water = ", less where the head of water asks for it" if s.head.any() else ""
                note = Sentence(
                    "{}; clause {}; widths allowed: {}{}; lines: the wider cracks",
                    told,
                    clause,
                    limits_at(of, j),
                    water,
                )
                values = np.where(np.isinf(s.width[:, j]), 1e3, s.width[:, j])
                values[~s.good] = np.nan
                what = f"crack width, {face}{when and ', before steel is added'}"
                yield zone_map(
                    z, what, "mm", values, note, scale=top, name=f"cracks {face}{when}", rank=60,
                    directions=partial(_lines, s, j, z.on_mesh),
                )  # fmt: skip
    if of.added is None or not changed:
        return
    layers = z.zone.bars.layers().names(z.zone.faces.bottom, z.zone.faces.top)
    scale = float(of.added.area.max()) * 1e3
    for i, layer in enumerate(layers):
        area = 1e3 * of.added.area[:, i]
        if area.any():
            yield zone_map(
                z, f"steel added for service, {layer}", "mm2/m", area, "over the bars of the ultimate design",
                scale=scale, name=f"added {layer}", rank=61,
            )  # fmt: skip


def _lines(s: Service, face: int, surface: Surface) -> np.ndarray:
    """Direction of the crack at each element, zero where it is less than half as wide as the widest."""
    at, bars = surface.corner_points[:, 0], surface.orientation.bars
    along = s.theta[at, face] + np.pi / 2.0
    lines = np.cos(along)[:, None] * bars[:, 0] + np.sin(along)[:, None] * bars[:, 1]
    finite = np.where(np.isfinite(s.width[:, face]), s.width[:, face], 0.0)
    return np.where((s.width[at, face] > 0.5 * finite.max(initial=0.0))[:, None], lines, 0.0)
