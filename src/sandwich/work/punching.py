"""Punching of loaded areas: depth and steel over each, the worst combination, reinforcement, raised bars."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from sandwich.core.records import WarningNote
from sandwich.core.shown import Measure, Sentence, Words
from sandwich.core.status import Status, status_of
from sandwich.design.bar_sets import Given
from sandwich.design.record import Ultimate
from sandwich.design.settings import Settings
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.column import ColumnLoad, Punched, SlabColumn
from sandwich.standards.interface import Standard
from sandwich.work.bars import bars_at_depth, given_of
from sandwich.work.column_bars import Supported, bands_of, raised_near
from sandwich.work.drop_panels import THINNER, thinner_around
from sandwich.work.flat import FLAT
from sandwich.work.loaded_areas import LoadedArea

Floats = NDArray[np.float64]
LEAST: Final = 1.0  # N; less than this is no force
_STEPS: Final = np.arange(10.0, 401.0, 10.0)  # mm of thickness that are tried


@dataclass(frozen=True)
class Over:
    """Steel over one face of a loaded area: depth [mm], ratios along and across side c1 [-], points that count."""

    d: float
    rho_x: float
    rho_y: float
    points: NDArray[np.int64]


class Counted(NamedTuple):
    """Bars that punching counts on, (p, b): area [mm2/mm], and how much nearer to their face than assumed [mm].

    `laid` says that they lie there; else they are what the design requires.
    """

    area: Floats
    nearer: Floats
    laid: bool


@dataclass(frozen=True)
class PunchedArea:
    """A loaded area with its worst combination.

    Attributes
    ----------
    area : LoadedArea
        The loaded area.
    column : SlabColumn
        Its geometry at the depth of the face in tension.
    by : int
        Worst combination, of those of the loaded area.
    load : ColumnLoad
        Its force, moments and steel.
    punched : Punched
        Its stresses and resistances, with the reinforcement of the combination that asks for most.
    steel : Counted
        Bars of its zone that it was checked with.
    designed : SlabColumn
        Its geometry as the design of the zone has it, at the depth of the bars that were assumed.
    raised : float
        Factor on the bars in tension that the design requires over the loaded area [-].
    minimum : float
        Minimum area of these bars that punching itself asks for [mm2/mm].
    tops : tuple of bool
        Faces that are in tension in some combination: True for the top.
    face_by : int
        Combination that is worst at the face of the area, whose stress and limit stand in `punched`.
    remedy : str
        What would help where it is exceeded.
    short : bool
        Whether the bars there are less than the minimum that punching asks for over the loaded area.
    """

    area: LoadedArea
    column: SlabColumn
    by: int
    load: ColumnLoad
    punched: Punched
    steel: Counted
    designed: SlabColumn
    raised: float
    minimum: float
    tops: tuple[bool, ...]
    face_by: int
    remedy: str | Sentence = ""
    short: bool = False

    @property
    def factor(self) -> float:
        """Factor on the bars that it was checked with [-]."""
        return 1.0 if self.steel.laid else self.raised

    @property
    def status(self) -> Words:
        """'ok', the reinforcement, or what is exceeded."""
        p = self.punched
        if p.use_face > 1.0:
            return Status.EXCEEDED.because("the limit at the face")
        if self.short:
            return Status.EXCEEDED.because("less than the minimum bars over it")
        if p.use <= 1.0:
            return Status.OK
        if p.reinforcement is None:
            return Status.EXCEEDED.because("punching reinforcement is needed")
        if p.reinforcement.why:
            return Status.EXCEEDED.because(p.reinforcement.why)
        return Status(self.area.entry.reinforcement)

    @property
    def exceeded(self) -> bool:
        """Whether a limit is."""
        return status_of(str(self.status)) is Status.EXCEEDED


def punch(
    areas: list[LoadedArea], zone: ZoneInput, u: Ultimate, standard: Standard
) -> tuple[list[PunchedArea], Ultimate]:
    """Punching of the loaded areas of one zone by its design, and the design with the bars raised over them.

    Parameters
    ----------
    areas : list of LoadedArea
        Places of any zones.
    zone : ZoneInput
        The zone as it was designed.
    u : Ultimate
        Its design.
    standard : Standard
        Of the job.

    Returns
    -------
    list of PunchedArea
        Loaded areas of the zone.
    Ultimate
        With the bars over a loaded area raised where that avoids reinforcement, where punching asks for minimum bars,
        or where bars lie near columns.
    """
    settings = zone.settings(standard)
    own = [a for a in areas if a.zone == zone.name]
    settings = zone.settings(standard)
    fixed = given_of(zone, settings)
    if fixed is not None:
        return [_checked(a, zone, _laid(zone, fixed, settings), settings) for a in own], u
    steel = Counted(np.nan_to_num(u.a_s), np.zeros(u.a_s.shape), laid=False)
    found, raised = [], u.a_s.copy()
    for loaded in own:
        worst = _checked(loaded, zone, steel, settings)
        found.append(worst)
        for top in worst.tops:
            over = steel_over(loaded, zone, steel, settings, top=top)
            face = settings.bars.sides <= 0 if top else settings.bars.sides >= 0
            at = np.ix_(over.points, face)
            raised[at] = np.maximum(np.maximum(raised[at], u.a_s[at] * worst.raised), worst.minimum)
    if zone.zone.column_bars is not None:
        bands = bands_of([supported(w) for w in found], zone, u.a_s_ultimate, settings)
        raised = raised_near(bands, zone, raised, settings)
    return found, replace(u, a_s=raised) if found else u


def punch_laid(found: Sequence[PunchedArea], zone: ZoneInput, laid: Given, standard: Standard) -> list[PunchedArea]:
    """Punching of loaded areas that were designed for, with the bars that lie there at last.

    Parameters
    ----------
    found : sequence of PunchedArea
        Loaded areas of a zone by its design.
    zone : ZoneInput
        The zone as it was designed.
    laid : Given
        Its bars, chosen or given.
    standard : Standard
        Of the job.
    """
    settings = zone.settings(standard)
    steel = _laid(zone, laid, settings)
    each = ((f, _checked(f.area, zone, steel, settings)) for f in found)
    return [replace(now, designed=f.designed, raised=f.raised) for f, now in each]


def supported(of: PunchedArea) -> Supported:
    """A loaded area, as bars near columns see it."""
    return Supported(of.area, of.designed, of.tops)


def thinner_slabs(found: list[PunchedArea], project: Project) -> tuple[WarningNote, ...]:
    """Warnings of loaded areas near which the slab grows thinner, where no drop panel is checked there."""
    standard, out = project.standard, []
    for f in found:
        a, d = f.area, f.column.d
        if not a.entry.is_panel and a.panel is None:
            reach = standard.control(a.h, d).distance * d
            out.append(thinner_around(a.name, a.area(d, standard), a.origin, a.axes, a.h, reach, project))
    return tuple(w for w in out if w is not None)


def joint_perimeters(found: list[PunchedArea], project: Project) -> tuple[WarningNote, ...]:
    """Warnings of loaded areas whose control perimeters meet under forces of one direction: they punch together."""
    reach_of = [project.standard.control(f.area.h, f.column.d).distance * f.column.d for f in found]
    out = []
    for (f, *r), (g, *s) in itertools.combinations(zip(found, reach_of, strict=True), 2):
        a, b, reach = f.area, g.area, [*r, *s]
        if np.linalg.norm(a.origin - b.origin) > sum(reach) + a.entry.reach + b.entry.reach:
            continue
        panels = a.entry.is_panel, b.entry.is_panel
        level = abs(float((b.origin - a.origin) @ a.axes[2])) < a.h / 2.0 and abs(float(a.axes[2] @ b.axes[2])) > FLAT
        if panels[0] != panels[1] or not level or not _pull_alike(a, b):
            continue
        one, two = (p.area.area(p.column.d, project.standard) for p in (f, g))
        two = shapely.transform(two, lambda xy, b=b, a=a: a.flat(b.origin + xy @ b.axes[:2]))
        if one.distance(two) < sum(reach):
            apart = Measure(float(one.distance(two)), "mm", ".0f")
            out.append(WarningNote(
                f"{a.name}, {b.name}", "their control perimeters meet, and each is checked by itself",
                Sentence("{} apart, perimeters at {} and {}", apart, *(Measure(r, "mm", ".0f") for r in reach)),
                "columns or ends of walls that stand close: check both as one loaded area", grave=True,
            ))  # fmt: skip
    return tuple(out)


def _pull_alike(a: LoadedArea, b: LoadedArea) -> bool:
    """Whether two places push to the same side in a combination; a force of the other face is another load case."""
    of = [dict(zip(p.chosen.names, p.forces.V * np.sign(p.axes[2] @ a.axes[2]), strict=True)) for p in (a, b)]
    each = ((V, of[1].get(name, 0.0)) for name, V in of[0].items())
    return any(min(both) > LEAST or max(both) < -LEAST for both in each)


def _laid(zone: ZoneInput, laid: Given, settings: Settings) -> Counted:
    """Bars that lie there, at their own depth."""
    assumed = np.abs(settings.bars.axes(zone.h))
    at = np.abs(bars_at_depth(zone, laid, laid.area, settings).axes)
    return Counted(laid.area, np.nan_to_num(at - assumed), laid=True)


def _checked(loaded: LoadedArea, zone: ZoneInput, steel: Counted, settings: Settings) -> PunchedArea:
    """A loaded area with its worst combination; bars that do not lie yet are raised where that avoids reinforcement."""
    worst = _punch(loaded, zone, steel, settings)
    if not steel.laid and worst.punched.use > 1.0 and worst.punched.raised <= loaded.entry.raise_bars:
        worst = _punch(loaded, zone, steel, settings, worst.punched.raised * (1.0 + 1e-9))
    if steel.laid and worst.minimum > 0.0:
        worst = replace(worst, short=any(_short(loaded, zone, steel, settings, worst.minimum, t) for t in worst.tops))
    return replace(worst, remedy=_remedies(worst, settings)) if worst.exceeded else worst


def _short(loaded: LoadedArea, zone: ZoneInput, steel: Counted, settings: Settings, least: float, top: bool) -> bool:
    """Whether the bars in tension over a loaded area are less than the minimum, in a layer, over its width."""
    over = steel_over(loaded, zone, steel, settings, top=top)
    there = np.isfinite(settings.bars.axes(loaded.h)) & (settings.bars.sides <= 0 if top else settings.bars.sides >= 0)
    return bool((steel.area[over.points][:, there].mean(0) < least * (1.0 - 1e-9)).any())


def steel_over(loaded: LoadedArea, zone: ZoneInput, steel: Counted, settings: Settings, *, top: bool) -> Over:
    """Depth and steel of one face in the width of the area and three depths on both sides."""
    bars, axes = settings.bars, settings.bars.axes(loaded.h)
    there = np.isfinite(axes) & (bars.sides <= 0 if top else bars.sides >= 0)
    counted = there if there.any() else np.isfinite(axes)
    assumed = loaded.h / 2 + (-axes if top else axes)
    xy = loaded.flat(zone.xyz)
    level = np.abs((zone.xyz - loaded.origin) @ loaded.axes[2]) < loaded.h / 2
    if loaded.entry.is_panel:  # bars of the slab beyond it
        level &= zone.h < loaded.h / THINNER
    d = float(np.abs(assumed[counted]).mean())
    for _ in range(2 if steel.laid else 1):  # bars that lie there have a depth of their own, which the width follows
        beside = settings.standard.control(loaded.h, d).beside * d
        plan = loaded.area(d, settings.standard).buffer(beside, join_style="mitre")
        points = np.flatnonzero(level & shapely.intersects_xy(plan, xy[:, 0], xy[:, 1]))
        if not len(points):
            points = np.array([int(np.where(level, np.linalg.norm(xy, axis=1), np.inf).argmin())])
        depths = assumed + steel.nearer[points]
        d = float(np.abs(depths[:, counted]).mean())
    ratio = np.where(there, steel.area[points] / np.where(there, depths, 1.0), 0.0)
    own = np.zeros(len(points)) if zone.turn is None else zone.turn[points]
    angle = bars.angles + np.where(bars.sides < 0, own[:, None], 0.0) + _turn(loaded, zone, points)[:, None]
    along, across = ((ratio * f(angle) ** 2).sum(1).mean() for f in (np.cos, np.sin))
    return Over(d, float(along), float(across), points)


def _turn(loaded: LoadedArea, zone: ZoneInput, points: NDArray[np.int64]) -> NDArray[np.float64]:
    """Angle from side c1 to the x bars at points [rad]."""
    x = zone.on_mesh.points.bars[points, 0]
    return np.asarray(np.arctan2(x @ loaded.axes[1], x @ loaded.axes[0]))


def loads_on(
    loaded: LoadedArea, zone: ZoneInput, over: Over, factor: float, settings: Settings, *, top: bool
) -> list[tuple[int, ColumnLoad]]:
    """Loads of the combinations that pull on one face."""
    sign = 1.0 if top else -1.0
    factors = loaded.chosen.factors  # second order of a zone adds cases behind those of the analysis
    own = zone.cases[over.points, : factors.shape[1], :2]
    n = np.einsum("kc,pcf->pkf", factors, own).mean((0, 2))
    out = []
    for k, situation in enumerate(loaded.chosen.situations):
        V = float(loaded.forces.V[k])
        if (V >= 0.0) == top:
            sigma = float(settings.standard.axial_stress(settings.concrete, situation, n[k], loaded.h))
            moment = sign * loaded.forces.moment[k]
            out.append((k, ColumnLoad(situation, abs(V), moment, over.rho_x * factor, over.rho_y * factor, sigma)))
    return out


def _punch(loaded: LoadedArea, zone: ZoneInput, steel: Counted, settings: Settings, factor: float = 1.0) -> PunchedArea:
    """The worst combination of a loaded area, its bars in tension taken by a factor."""
    standard, concrete = settings.standard, settings.concrete
    found = []
    for top in (True, False):
        over = steel_over(loaded, zone, steel, settings, top=top)
        column = loaded.column(loaded.h, over.d, standard)
        bare = replace(column, shear="none")
        for k, load in loads_on(loaded, zone, over, factor, settings, top=top):
            found.append((k, load, column, top, standard.punching(concrete, settings.steel, bare, load)))
    k, load, column, _, worst = max(found, key=lambda f: f[4].use)
    at_face = max(found, key=lambda f: f[4].use_face)
    face = at_face[4]
    raised = max(p.raised for *_, p in found)
    least = max(standard.minimum_over_column(concrete, settings.steel, c, q) for _, q, c, _, _ in found)
    reinforcement = None
    if worst.use > 1.0 and column.shear != "none":
        # reinforcement grows with the stress and falls with the resistance: the rest asks for less
        asks = [f for f in found if f[4].use > 1.0 and not any(_more(g[4], f[4]) for g in found)]
        rows = [standard.punching(concrete, settings.steel, c, q).reinforcement for _, q, c, _, _ in asks]
        reinforcement = max((r for r in rows if r is not None), key=lambda r: (bool(r.why), sum(r.area)))
    both = replace(worst, v_face=face.v_face, v_max=face.v_max, raised=raised, reinforcement=reinforcement)
    tops = tuple(dict.fromkeys(f[3] for f in found))
    return PunchedArea(
        area=loaded,
        column=column,
        by=k,
        load=load,
        punched=both,
        steel=steel,
        designed=column,
        raised=factor,
        minimum=least,
        tops=tops,
        face_by=at_face[0],
    )


def _more(one: Punched, other: Punched) -> bool:
    """Whether one combination asks for more than another in both ways."""
    a, b = (one.v_Ed, -one.v_Rd_c), (other.v_Ed, -other.v_Rd_c)
    return a[0] >= b[0] and a[1] >= b[1] and a != b


def _remedies(worst: PunchedArea, settings: Settings) -> Sentence:
    """What would help a loaded area that is exceeded: each found by checking it."""
    loaded, load, column = worst.area, worst.load, worst.column
    standard, concrete, steel = settings.standard, settings.concrete, settings.steel
    out: list[Sentence | str] = []
    if worst.short:
        out.append(Sentence("{} of bars each way over it", Measure(1e3 * worst.minimum, "mm2/m", ".0f")))
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
        thick = replace(loaded.column(loaded.h + more, d, standard), shear="none")
        p = standard.punching(concrete, steel, thick, replace(load, rho_x=rho[0], rho_y=rho[1]))
        return max(p.use, p.use_face) <= 1.0

    more = next((s for s in _STEPS if holds(float(s))), None)
    if more is not None:
        out.append(Sentence("{} of thickness", Measure(loaded.h + more, "mm", "g")))
    if out:
        return Sentence.joined(", or ", out)
    return Sentence("nothing up to {} of thickness", Measure(loaded.h + float(_STEPS[-1]), "mm", "g"))
