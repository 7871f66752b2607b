"""Punching of a job's places: depth and steel over each, the worst combination, reinforcement, raised bars, tables."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import pandas as pd
import shapely
from numpy.typing import NDArray

from sandwich.design.advice import REMEDY
from sandwich.design.settings import Settings
from sandwich.design.ultimate import Ultimate
from sandwich.meshes import given_of
from sandwich.places import Place
from sandwich.prepare import ZoneInput
from sandwich.standards.column import ColumnLoad, Punched, Reinforcement, SlabColumn
from sandwich.standards.interface import Standard

Floats = NDArray[np.float64]
BESIDE: Final = 3.0  # depths on both sides of an area over which steel ratios are means: EN 1992-1-1, 6.4.4(1)
_STEPS: Final = np.arange(10.0, 401.0, 10.0)  # mm of thickness that are tried


@dataclass(frozen=True)
class Over:
    """Steel over one face of a place: depth [mm], ratios along and across side c1 [-], points that count."""

    d: float
    rho_x: float
    rho_y: float
    points: NDArray[np.int64]


@dataclass(frozen=True)
class PunchedPlace:
    """A place with its worst combination.

    Attributes
    ----------
    place : Place
        The place.
    column : SlabColumn
        Its geometry at the depth of the face in tension.
    by : int
        Worst combination, of those of the place.
    load : ColumnLoad
        Its force, moments and steel.
    punched : Punched
        Its stresses and resistances, with the reinforcement of the combination that asks for most.
    raised : float
        Factor on the bars in tension over the place [-].
    least : float
        Least area of these bars that punching itself asks for [mm2/mm].
    tops : tuple of bool
        Faces that are in tension in some combination: True for the top.
    face_by : int
        Combination that is worst at the face of the area, whose stress and limit stand in `punched`.
    remedy : str
        What would help where it is exceeded.
    short : bool
        Whether given bars are less than the least that punching asks for over the place.
    """

    place: Place
    column: SlabColumn
    by: int
    load: ColumnLoad
    punched: Punched
    raised: float
    least: float
    tops: tuple[bool, ...]
    face_by: int
    remedy: str = ""
    short: bool = False

    @property
    def status(self) -> str:
        """'ok', the reinforcement, or what is exceeded."""
        p = self.punched
        if p.use_face > 1.0:
            return "exceeded: the limit at the face"
        if self.short:
            return "exceeded: less than the minimum bars over it"
        if p.use <= 1.0:
            return "ok"
        if p.reinforcement is None:
            return "exceeded: punching reinforcement is needed"
        return f"exceeded: {p.reinforcement.why}" if p.reinforcement.why else self.place.entry.reinforcement


def punch_places(
    places: list[Place], zone: ZoneInput, u: Ultimate, standard: Standard
) -> tuple[list[PunchedPlace], Ultimate]:
    """Punching of the places of one zone, and its design with the bars that are raised over them.

    Parameters
    ----------
    places : list of Place
        Places of any zones.
    zone : ZoneInput
        The zone as it was designed.
    u : Ultimate
        Its design.
    standard : Standard
        Of the job.

    Returns
    -------
    list of PunchedPlace
        Places of the zone.
    Ultimate
        With the bars over a place raised where that avoids reinforcement, or where punching asks for least bars.
    """
    settings = zone.settings(standard)
    fixed = given_of(zone, settings)
    area = steel_of(zone, u, settings)
    found, raised = [], u.a_s.copy()
    for place in places:
        if place.zone != zone.name:
            continue
        worst = _punch(place, zone, area, settings)
        if fixed is None and worst.punched.use > 1.0 and worst.punched.raised <= place.entry.raise_bars:
            worst = _punch(place, zone, area, settings, worst.punched.raised * (1.0 + 1e-9))
        if fixed is not None and worst.least > 0.0:
            worst = replace(
                worst, short=any(_short(place, zone, area, settings, worst.least, top) for top in worst.tops)
            )
        if worst.status.startswith("exceeded"):
            worst = replace(worst, remedy=_remedies(worst, settings))
        if fixed is None:
            for top in worst.tops:
                over = steel_over(place, zone, area, settings, top=top)
                face = settings.bars.sides <= 0 if top else settings.bars.sides >= 0
                at = np.ix_(over.points, face)
                raised[at] = np.maximum(np.maximum(raised[at], u.a_s[at] * worst.raised), worst.least)
        found.append(worst)
    return found, replace(u, a_s=raised) if found else u


def _short(place: Place, zone: ZoneInput, area: Floats, settings: Settings, least: float, top: bool) -> bool:
    """Whether the bars in tension over a place are less than the least, in a layer, on the mean of its width."""
    over = steel_over(place, zone, area, settings, top=top)
    there = np.isfinite(settings.bars.axes(place.h)) & (settings.bars.sides <= 0 if top else settings.bars.sides >= 0)
    return bool((area[over.points][:, there].mean(0) < least * (1.0 - 1e-9)).any())


def steel_of(zone: ZoneInput, u: Ultimate, settings: Settings) -> Floats:
    """Steel that punching counts on, (p, b) [mm2/mm]: given bars, else what the design requires."""
    fixed = given_of(zone, settings)
    return np.nan_to_num(u.a_s if fixed is None else fixed.area)


def steel_over(place: Place, zone: ZoneInput, area: Floats, settings: Settings, *, top: bool) -> Over:
    """Depth and steel of one face in the width of the area and three depths on both sides."""
    bars, axes = settings.bars, settings.bars.axes(place.h)
    there = np.isfinite(axes) & (bars.sides <= 0 if top else bars.sides >= 0)
    counted = there if there.any() else np.isfinite(axes)
    depths = place.h / 2 + (-axes if top else axes)
    d = float(np.abs(depths[counted]).mean())
    plan = place.area(d).buffer(BESIDE * d, join_style="mitre")
    xy = place.flat(zone.xyz)
    level = np.abs((zone.xyz - place.origin) @ place.axes[2]) < place.h / 2
    points = np.flatnonzero(level & shapely.intersects_xy(plan, xy[:, 0], xy[:, 1]))
    if not len(points):
        points = np.array([int(np.linalg.norm(zone.xyz - place.origin, axis=1).argmin())])
    ratio = np.where(there, area[points] / np.where(there, depths, 1.0), 0.0)
    own = np.zeros(len(points)) if zone.turn is None else zone.turn[points]
    angle = bars.angles + np.where(bars.sides < 0, own[:, None], 0.0) + _turn(place, zone, points)
    along, across = ((ratio * f(angle) ** 2).sum(1).mean() for f in (np.cos, np.sin))
    return Over(d, float(along), float(across), points)


def _turn(place: Place, zone: ZoneInput, points: NDArray[np.int64]) -> float:
    """Angle from side c1 to the x bars [rad]."""
    assert zone.points is not None
    x = zone.points.bars[points[0], 0]
    return float(np.arctan2(x @ place.axes[1], x @ place.axes[0]))


def loads_on(
    place: Place, zone: ZoneInput, over: Over, factor: float, settings: Settings, *, top: bool
) -> list[tuple[int, ColumnLoad]]:
    """Loads of the combinations that pull on one face."""
    sign = 1.0 if top else -1.0
    n = np.einsum("kc,pcf->pkf", place.chosen.factors, zone.cases[over.points][..., :2]).mean((0, 2))
    out = []
    for k, situation in enumerate(place.chosen.situations):
        V = float(place.forces.V[k])
        if (V >= 0.0) == top:
            sigma = float(settings.standard.axial_stress(settings.concrete, situation, n[k], place.h))
            moment = sign * place.forces.moment[k]
            out.append((k, ColumnLoad(situation, abs(V), moment, over.rho_x * factor, over.rho_y * factor, sigma)))
    return out


def _punch(place: Place, zone: ZoneInput, area: Floats, settings: Settings, factor: float = 1.0) -> PunchedPlace:
    """The worst combination of a place, its bars in tension taken by a factor."""
    standard, concrete, steel = settings.standard, settings.concrete, settings.steel
    found = []
    for top in (True, False):
        over = steel_over(place, zone, area, settings, top=top)
        column = place.column(place.h, over.d, standard)
        bare = replace(column, shear="none")
        for k, load in loads_on(place, zone, over, factor, settings, top=top):
            found.append((k, load, column, top, standard.punching(concrete, steel, bare, load)))
    k, load, column, _, worst = max(found, key=lambda f: f[4].use)
    at_face = max(found, key=lambda f: f[4].use_face)
    face = at_face[4]
    raised = max(p.raised for *_, p in found)
    least = max(standard.least_over_column(concrete, steel, c, q) for _, q, c, _, _ in found)
    reinforcement = None
    if worst.use > 1.0 and column.shear != "none":
        # reinforcement grows with the stress and falls with the resistance: the rest asks for less
        asks = [f for f in found if f[4].use > 1.0 and not any(_more(g[4], f[4]) for g in found)]
        rows = [standard.punching(concrete, steel, c, q).reinforcement for _, q, c, _, _ in asks]
        reinforcement = max((r for r in rows if r is not None), key=lambda r: (bool(r.why), sum(r.area)))
    both = replace(worst, v_face=face.v_face, v_max=face.v_max, raised=raised, reinforcement=reinforcement)
    tops = tuple(dict.fromkeys(f[3] for f in found))
    return PunchedPlace(place, column, k, load, both, factor, least, tops, at_face[0])


def _more(one: Punched, other: Punched) -> bool:
    """Whether one combination asks for more than another in both ways."""
    a, b = (one.v_Ed, -one.v_Rd_c), (other.v_Ed, -other.v_Rd_c)
    return a[0] >= b[0] and a[1] >= b[1] and a != b


def _remedies(worst: PunchedPlace, settings: Settings) -> str:
    """What would help a place that is exceeded: each found by checking it."""
    place, load, column = worst.place, worst.load, worst.column
    standard, concrete, steel = settings.standard, settings.concrete, settings.steel
    out = [f"{1e3 * worst.least:.0f} mm2/m of bars each way over it"] if worst.short else []
    for shear in ("links", "studs") if max(worst.punched.use, worst.punched.use_face) > 1.0 else ():
        found = standard.punching(concrete, steel, replace(column, shear=shear), load)
        if found.use_face <= 1.0 and found.reinforcement is not None and not found.reinforcement.why:
            out.append(f"punching {shear}")
            break
    if worst.punched.use_face <= 1.0 and 1.0 < worst.punched.raised <= 3.0:
        out.append(f"{worst.punched.raised:.2f} times the bars in tension")

    def holds(more: float) -> bool:
        d = column.d + more
        rho = [r * column.d / d for r in (load.rho_x, load.rho_y)]
        thick = replace(place.column(place.h + more, d, standard), shear="none")
        p = standard.punching(concrete, steel, thick, replace(load, rho_x=rho[0], rho_y=rho[1]))
        return max(p.use, p.use_face) <= 1.0

    more = next((s for s in _STEPS if holds(float(s))), None)
    if more is not None:
        out.append(f"{place.h + more:g} mm of thickness")
    return ", or ".join(out) if out else f"nothing up to {place.h + _STEPS[-1]:g} mm of thickness"


def punching_frame(found: list[PunchedPlace], standard: Standard) -> pd.DataFrame:
    """One row a place, the worst first."""
    rows = []
    for f in sorted(found, key=lambda f: -max(f.punched.use, f.punched.use_face)):
        p, place, r = f.punched, f.place, f.punched.reinforcement
        there = r if r is not None and not r.why else Reinforcement()
        rows.append(
            {
                "place": place.name, "zone": place.zone, "kind": place.entry.kind, "where": f.column.place,
                "combination": place.chosen.names[f.by],
                "V [kN]": place.forces.V[f.by] / 1e3,
                "V e along c1 [kNm]": place.forces.moment[f.by, 0] / 1e6,
                "V e across [kNm]": place.forces.moment[f.by, 1] / 1e6,
                "d [mm]": f.column.d, "perimeter [mm]": f.column.control.u,
                "v_Ed [MPa]": p.v_Ed, "resistance without [MPa]": p.v_Rd_c, "utilisation": p.use,
                "v at the face [MPa]": p.v_face, "limit at the face [MPa]": p.v_max,
                "utilisation at the face": p.use_face,
                "combination at the face": place.chosen.names[f.face_by],
                "clause": standard.clauses["punching"],
                "bars raised by": f.raised, "minimum bars over it [mm2/m]": f.least * 1e3,
                "rows of reinforcement": len(there.distance),
                "area of a row [mm2]": max(there.area, default=0.0),
                "V found the other way [kN]": np.nan if place.other is None else place.other.V[f.by] / 1e3,
                "status": f.status, REMEDY: f.remedy,
            }
        )  # fmt: skip
    return pd.DataFrame(rows)


def rows_frame(found: list[PunchedPlace], standard: Standard) -> pd.DataFrame:
    """One row a perimeter of punching reinforcement."""
    out = []
    for f in found:
        r = f.punched.reinforcement
        if r is not None and not r.why:
            columns = {
                "place": f.place.name, "row": np.arange(len(r.distance)) + 1, "from the face [mm]": r.distance,
                "length [mm]": r.length, "area [mm2]": r.area, "legs at least": r.legs,
                "clause": standard.clauses["punching links"],
            }  # fmt: skip
            out.append(pd.DataFrame(columns))
    return pd.concat(out, ignore_index=True) if out else pd.DataFrame()
