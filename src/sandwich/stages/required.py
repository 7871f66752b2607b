"""What is required at every point: steel, checks, the certificate, what fails and its remedy."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Final

import numpy as np
import pandas as pd

from sandwich.combine.table import Combinations
from sandwich.core.progress import Progress
from sandwich.core.records import WarningNote
from sandwich.core.shown import Measure, Sentence
from sandwich.core.status import Status, is_status
from sandwich.design.advice import advice, with_advice
from sandwich.design.bars import BARS, SPACING, THICK
from sandwich.design.results import FIELD, LAYER, NEAR, REQUIRED, SHEAR, TURN, WITHIN, YIELD, checks_frame, steel_frame
from sandwich.design.summary import Certificate, certificate_lines, certificate_of, exceeded, failures, peaks
from sandwich.project.outcome import FAILS, HEAD, STEEL, Figure, Outcome, Pictures, Section, Table, Text, Tone
from sandwich.project.project import Project
from sandwich.project.second_order import plain_name
from sandwich.project.stage import Stage
from sandwich.project.zone_input import ZoneInput
from sandwich.stages.bars import BARS as BARS_STAGE
from sandwich.stages.maps import LIMIT_100, bar_scale, zone_map
from sandwich.stages.service import SERVICE
from sandwich.stages.shear import SHEAR_STAGE
from sandwich.stages.ultimate import ULTIMATE, ZoneDesign
from sandwich.work.bars import rule_of

WORST: Final = 10
AROUND: Final = 5.0  # thicknesses from a column in which its shear passes what one-way shear allows at a point
LARGER: Final = "larger of strength and minimum steel"
MAP_NOTE: Final = "required steel: the {}; method {}, f_ck {}, f_yk {}; short lines: the bars"


@dataclass(frozen=True)
class Required:
    """What is required.

    Attributes
    ----------
    points : DataFrame
        One row a point: place, thickness, certificate.
    steel : DataFrame
        One row a point and bar layer.
    checks : DataFrame
        One row a point and check, the worst first.
    failures, exceeded : DataFrame
        Points that fail by zone and reason, checks that are exceeded, each with a remedy.
    certificate : Certificate
        What the stress fields and bounds of all points add up to.
    """

    points: pd.DataFrame
    steel: pd.DataFrame
    checks: pd.DataFrame
    failures: pd.DataFrame
    exceeded: pd.DataFrame
    certificate: Certificate


class RequiredStage(Stage[Required]):
    """Required steel of all states together, and the checks of the ultimate state."""

    name = "required"
    needs = ("ultimate", "service", "shear", "bars")
    tables = ("points", "steel", "checks")

    def asked(self, project: Project) -> bool:
        """Whether any zone is designed as a shell."""
        return project.job.designs_shells

    def run(self, project: Project, progress: Progress) -> Outcome[Required]:  # noqa: ARG002
        """Put the tables together."""
        designs = project.left(ULTIMATE)
        asked = {name: b.service.required for name, b in project.left(SERVICE).items() if b.service is not None}
        left = _required(project, designs, asked)
        return Outcome(
            left,
            tables={"points": left.points, "steel": left.steel, "checks": left.checks},
            verdict=tuple(_verdict(left.certificate)),
            summary=tuple(_summary(project, left)),
            figures=tuple(f for d in designs.values() if d.zone.surface is not None for f in _maps(project, d, left)),
            warnings=tuple(_warnings(project, designs, left)),
            sections=tuple(_sections(project, left)),
        )


REQUIRED_STAGE: Final = RequiredStage()


def _required(project: Project, designs: dict[str, ZoneDesign], asked: dict[str, np.ndarray]) -> Required:
    ultimate, standard = project.combinations.ultimate(), project.standard
    steel, checks = [], []
    uses = {of.zone: of for of in project.left(BARS_STAGE)}
    shears = project.left(SHEAR_STAGE)
    for name, d in designs.items():
        z, settings = d.zone, d.zone.settings(standard)
        axes, names = settings.bars.axes(z.h), project.ultimate_of(z).names
        provided = uses[name].given.area if name in uses else None
        steel.append(
            steel_frame(name, z.labels, d.final, names, axes, settings, service=asked.get(name), provided=provided)
        )
        checks.append(checks_frame(name, z.labels, shears[name].final, names, z.h, settings))
    checks += [of.checks for of in uses.values() if not of.given.chosen or designs[of.zone].zone.zone.provided]
    whole, every = pd.concat(steel, ignore_index=True), pd.concat(checks, ignore_index=True)
    steel.clear()  # none is held twice
    checks.clear()
    every = every.sort_values("utilisation", ascending=False, kind="stable", ignore_index=True)
    return Required(
        points=points_frame(list(designs.values()), ultimate),
        steel=whole,
        checks=every,
        failures=with_advice(failures(whole), _Remedies(project, designs, every), "first"),
        exceeded=with_advice(exceeded(every), _Remedies(project, designs, every), "point", "check"),
        certificate=_certificate(list(designs.values())),
    )


def points_frame(designs: list[ZoneDesign], combinations: Combinations) -> pd.DataFrame:
    """One row a point: place, thickness, what stands in doubt about its resultants, certificate."""
    out = []
    for d in designs:
        z, u = d.zone, d.final
        trace = z.surface.low if z.surface is not None else None
        low = np.zeros(len(z.labels)) if trace is None else np.abs(trace @ combinations.factors.T).max(1, initial=0.0)
        out.append(
            pd.DataFrame(
                {
                    "zone": z.name,
                    "point": z.labels.astype(object),
                    "x [m]": z.xyz[:, 0] / 1e3,
                    "y [m]": z.xyz[:, 1] / 1e3,
                    "z [m]": z.xyz[:, 2] / 1e3,
                    "thickness [mm]": z.h,
                    "one-sided": z.one_sided,
                    "averaged over [m]": _width(z),
                    "moment low by up to [kNm/m]": low / 1e3,
                    "steel by strength [mm2/m]": u.a_s_ultimate.sum(1) * 1e3,
                    "weighted steel [mm2/m]": u.total * 1e3,
                    "lower bound of weighted steel [mm2/m]": u.bound * 1e3,
                    "certified": u.certified,
                    "cracking, uncracked up to 0": u.cracking,
                }
            )
        )
    return pd.concat(out, ignore_index=True)


def _width(z: ZoneInput) -> np.ndarray:
    """Width over which each point's peak was averaged [m], nan where it is not."""
    out = np.full(len(z.labels), np.nan)
    if z.averaged is not None and z.zone.peaks is not None:
        out[z.averaged.point] = z.zone.peaks.width
    return out


def _certificate(designs: list[ZoneDesign]) -> Certificate:
    averages = {
        d.zone.name: (len(d.zone.averaged.point), len(d.zone.h)) for d in designs if d.zone.averaged is not None
    }
    averages |= {
        d.zone.name: (int((d.final.cells >= 0).any(1).sum()), len(d.zone.h))
        for d in designs
        if d.zone.strips is not None
    }
    methods = {d.zone.name: d.zone.zone.method for d in designs}
    joint = {d.zone.name: d.final for d in designs if d.zone.zone.joint}
    return certificate_of([d.final for d in designs], methods, averages, joint)


@dataclass(frozen=True)
class _Remedies:
    """What would help a point of a zone, which fails or exceeds a check: each found by designing with it."""

    project: Project
    designs: dict[str, ZoneDesign]
    checks: pd.DataFrame

    def __call__(self, zone: str, point: str, check: str | None) -> Sentence | str:
        checks, standard = self.checks, self.project.standard
        if check == TURN:
            return "strength by 6.5.2, without the angle rule"
        if check is not None and check.startswith(SPACING):
            return "bars closer together"
        if check is not None and check.startswith(THICK):
            return "thinner bars"
        if check is not None and check.startswith(BARS):
            row = checks[(checks["zone"] == zone) & (checks["point"] == point) & (checks["check"] == check)].iloc[0]
            return Sentence("{}", Measure(float(row["demand"]), "mm2/m", ".0f"))
        z = self.designs[zone].zone
        ultimate = self.project.ultimate_of(z)
        i = int(np.flatnonzero(z.labels == point)[0])
        own = self.designs[zone].own.shear
        if check == SHEAR and (own.utilisation[i] <= 1.0 or own.a_sw[i] > 0.0):
            return "the bars that are required there"  # with those that are given it is exceeded
        return advice(
            z.cases[i], ultimate.factors, ultimate.situations, float(z.h[i]), z.settings_at(i, standard), check,
            support=None if z.support is None else z.support[[i]],
        )  # fmt: skip


def _verdict(certificate: Certificate) -> Iterator[Text]:
    sound = certificate.failed + certificate.uncertified == 0
    for i, line in enumerate(certificate_lines(certificate)):
        tone: Tone = "plain" if i else "good" if sound else "bad"
        yield Text(f"{line}.", tone, HEAD)


def _summary(project: Project, left: Required) -> Iterator[Table]:
    yield from _bad(left, FAILS)
    most = peaks(left.steel)
    yield Table("Most steel", most.rename(columns={"point": "at point"}), rank=STEEL)
    rows = [r for r in project.combinations.rows if r.name in set(map(plain_name, most["combination"]))]
    if any(r.ruled for r in rows):
        frame = pd.DataFrame(
            [(r.name, r.clause, r.expression) for r in rows], columns=["combination", "clause", "expression"]
        )
        yield Table("Governing combinations", frame, rank=STEEL + 1)


def _bad(left: Required, rank: int, note: str = "") -> Iterator[Table]:
    """What fails and what is exceeded."""
    for title, frame, told in (
        ("Points that fail", left.failures.rename(columns={"status": "why"}), ""),
        ("Checks that are exceeded", left.exceeded.rename(columns={"point": "at point"}), note),
    ):
        if len(frame):
            yield Table(title, frame, told, np.ones(len(frame), dtype=bool), rank)


def _sections(project: Project, left: Required) -> list[Section]:
    most = peaks(left.steel)
    command = f"sandwich explain {project.job.path.name} --point ZONE/POINT"
    worst = worst_points(left.checks)
    note = "Each remedy was found by designing the point with it; the forces stay those of the analysis."
    over = is_status(worst["status"], Status.EXCEEDED) | (worst["check"] == "design").to_numpy(dtype=bool)
    shown = worst.astype({"utilisation": object})
    shown.loc[worst["check"] == "design", "utilisation"] = "fails"
    told = f"Highest utilisation of any check; a point is explained by: {command}"
    return [
        Section("Most steel", (_first_map(project, left.steel, most), Table("", most)), HEAD),
        Section("The worst ten points", (Table("", shown, told, over), *_bad(left, FAILS, note)), 30),
    ]


def _first_map(project: Project, steel: pd.DataFrame, most: pd.DataFrame) -> Pictures:
    """The map that holds the most steel of all."""
    order = most.sort_values(REQUIRED, ascending=False, kind="stable")
    d = project.left(ULTIMATE)[order.iloc[0]["zone"]] if len(order) else None
    if d is None or d.zone.surface is None:
        return Pictures(())
    layer = order.iloc[0][LAYER]
    return Pictures(tuple(f for name, f in steel_maps(project, d, steel) if name == layer))


def worst_points(checks: pd.DataFrame, count: int = WORST) -> pd.DataFrame:
    """The worst points: each with the check of its highest utilisation, failing points first."""
    field = (checks["check"] == FIELD).to_numpy()
    failing = np.flatnonzero(field & (checks["status"] != Status.OK).to_numpy())
    rest = np.flatnonzero(~field)
    rest = rest[np.argsort(-checks["utilisation"].to_numpy()[rest], kind="stable")]
    order = np.concatenate([failing, rest])
    first = ~checks[["zone", "point"]].iloc[order].duplicated().to_numpy()
    worst: pd.DataFrame = checks.iloc[order[first][:count]].reset_index(drop=True)
    fails = worst["check"] == FIELD
    design = {"check": "design", "demand": np.nan, "capacity": np.nan, "unit": "", "utilisation": np.inf}
    for column, value in design.items():
        worst[column] = worst[column].mask(fails, value)
    return worst


def _warnings(project: Project, designs: dict[str, ZoneDesign], left: Required) -> Iterator[WarningNote]:
    for name, d in designs.items():
        z = d.zone
        yield from _near_loaded_areas(project, z, left.checks)
        if z.averaged is not None and z.zone.peaks is not None:
            text = Sentence(
                "{} points near {} peaks are designed for averages over {}; the raw peaks are in the table 'averaged "
                "peaks'",
                str(len(z.averaged.point)), str(len(z.averaged.places)), Measure(z.zone.peaks.width, "m", "g"),
            )  # fmt: skip
            yield WarningNote(name, text)
        whole = int((d.final.cracking <= 0.0).sum())
        if z.zone.uncracked == "exempt" and whole:
            yield WarningNote(
                name,
                f"{whole} points stay uncracked in every combination and have minimum steel alone, as the zone asks; "
                "no stress field stands behind them",
            )
    for _, row in left.exceeded[left.exceeded["check"].str.contains("neglected|yield")].iterrows():
        what = "the compressed depth passes the one at which bars yield" if row["check"] == YIELD else row["check"]
        told = f"{what}: {row['points']} points, worst {row['worst']:.2f} of the limit at {row['point']}"
        yield WarningNote(row["zone"], told)


def _near_loaded_areas(project: Project, z: ZoneInput, checks: pd.DataFrame) -> Iterator[WarningNote]:
    """One-way shear that is exceeded near loaded areas, by a standard whose control perimeter lies close to them."""
    h = float(z.h.max())
    places = [
        (1e3 * np.array(at), p.reach / 2.0 + AROUND * h)
        for p in project.job.punching.values() if p.zone == z.name and not p.is_panel for at in p.at
    ]  # fmt: skip
    if not places or project.standard.control(h, h).distance > 1.0:
        return
    over = checks[
        (checks["zone"] == z.name) & (checks["check"] == SHEAR) & is_status(checks["status"], Status.EXCEEDED)
    ]
    at = z.xyz[np.isin(z.labels, over["point"].to_numpy(dtype=str))]
    near = np.zeros(len(at), dtype=bool)
    for place, reach in places:
        near |= np.linalg.norm(at - place, axis=1) <= reach
    if near.any():
        yield WarningNote(
            f"zone {z.name}",
            f"one-way shear is exceeded at {near.sum()} points near loaded areas",
            Sentence("within {} of them, each point by itself", Measure(AROUND * h / 1e3, "m", ".2g")),
            "one-way shear is a matter of sections across the whole width there; strips give their shear",
        )


def _maps(project: Project, d: ZoneDesign, left: Required) -> Iterator[Figure]:
    """One map a bar layer, and one of the shear utilisation."""
    yield from (f for _, f in steel_maps(project, d, left.steel))
    yield shear_map(d, left.checks)


def steel_maps(project: Project, d: ZoneDesign, steel: pd.DataFrame) -> Iterator[tuple[str, Figure]]:
    """One map a bar layer; its steps are areas of bars that may be chosen, where the zone has a rule."""
    z = d.zone
    own = steel[steel["zone"] == z.name]
    rule = rule_of(z, z.settings(project.standard))
    given = next((of.given for of in project.left(BARS_STAGE) if of.zone == z.name), None)
    more = ["bars near columns"] * (z.zone.column_bars is not None) + ["service"] * (z.zone.service is not None)
    what = f"largest of {', '.join(['strength', 'minimum steel', *more[:-1]])} and {more[-1]}" if more else LARGER
    f_ck, f_yk = Measure(z.zone.f_ck, "MPa", "g"), Measure(z.zone.f_yk, "MPa", "g")
    note = Sentence(MAP_NOTE, what, z.zone.method, f_ck, f_yk)
    layers = z.zone.bars.layers()
    names = layers.names(z.zone.faces.bottom, z.zone.faces.top)
    for i, (angle, side, layer) in enumerate(zip(layers.angles, layers.sides, names, strict=True)):
        rows = own[own[LAYER] == layer].set_index("point")[REQUIRED]
        if len(rows):
            values = rows.reindex(z.labels).to_numpy(dtype=float)
            turned = z.turn if side < 0 else None
            figure = zone_map(
                z, layer, "mm2/m", values, note, scale=bar_scale(z, rule, given, i, values), rank=10,
                directions=partial(_directions, z, angle, turned),
            )  # fmt: skip
            yield layer, figure


def _directions(z: ZoneInput, angle: float, turned: np.ndarray | None) -> np.ndarray:
    """Directions of the bars of a layer at each element; the top may have a field of its own."""
    bars = z.on_mesh.orientation.bars
    at = np.full(len(bars), angle)
    if turned is not None:
        at += turned[z.on_mesh.corner_points[:, 0]]
    return np.asarray(np.cos(at)[:, None] * bars[:, 0] + np.sin(at)[:, None] * bars[:, 1])


def shear_map(d: ZoneDesign, checks: pd.DataFrame) -> Figure:
    """Principal shear over the resistance without links."""
    z = d.zone
    own = checks[(checks["zone"] == z.name) & (checks["check"] == SHEAR)].set_index("point")
    use = 100.0 * own["utilisation"].reindex(z.labels).to_numpy(dtype=float)
    held = own["status"].reindex(z.labels).isin((NEAR, WITHIN)).to_numpy(dtype=bool)
    use = np.where(held, np.nan, use)
    note = (
        f"principal shear over the resistance without links, clause {own['clause'].iloc[0]}; above 100 links are needed"
    )
    note += f"; {held.sum()} points at supports are not designed for it: hatched" if held.any() else ""
    values = np.where(np.isinf(use), 1e4, use)
    return zone_map(
        z, "transverse shear", "%", values, note, scale=LIMIT_100, unchecked=held, name="shear", rank=90,
    )  # fmt: skip
