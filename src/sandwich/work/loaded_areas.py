"""Places where a slab may punch: their plan, and the forces that each combination hands over there."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon
from shapely.geometry.polygon import orient

from sandwich.combine.table import Combinations
from sandwich.core.errors import Faults
from sandwich.core.resultants import rotate, turn_over
from sandwich.job.punching import DROP, Punching
from sandwich.mechanics.region import handed_over
from sandwich.model.mesh import Mesh
from sandwich.model.perimeter import Plan, circle, leg, plan_of, rectangle
from sandwich.model.turn import turn_corners
from sandwich.model.zones import Orientation
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.column import STATED, ControlRule, SlabColumn
from sandwich.standards.interface import Standard
from sandwich.work.drop_panels import thickness_at, thickness_beyond
from sandwich.work.flat import (
    FLAT,
    factors_of_cases,
    laid_flat,
    level_elements,
    signed_combinations,
    supports_of,
)
from sandwich.work.slab_column import column_on, on_slab

Floats = NDArray[np.float64]
_LEVEL: Final = 1.0  # mm; nodes of a flat slab lie in its plane


@dataclass(frozen=True)
class Forces:
    """Force towards the top [N], and V times its eccentricity along both axes [N mm], of k combinations."""

    V: Floats
    moment: Floats


@dataclass(frozen=True)
class LoadedArea:
    """One loaded area on its slab.

    Attributes
    ----------
    name, zone : str
        Its name in the tables, and its zone.
    entry : Punching
        What the job says of it.
    origin : ndarray, shape (3,)
        Its middle, or the end or corner of the wall [mm].
    axes : ndarray, shape (3, 3)
        Along side c1, across it, and the top normal.
    slab : Polygon
        The slab in these axes [mm].
    h : float
        Thickness there [mm].
    chosen : Combinations
        Ultimate combinations.
    forces : Forces
        What the place hands over.
    other : Forces or None
        The same by the other method, where there is one.
    panel : LoadedArea or None
        The drop panel that it stands on.
    """

    name: str
    zone: str
    entry: Punching
    origin: Floats
    axes: Floats
    slab: Polygon
    h: float
    chosen: Combinations
    forces: Forces
    other: Forces | None = None
    panel: LoadedArea | None = None

    def flat(self, xyz: Floats) -> Floats:
        """Places in space along both axes [mm]."""
        return np.asarray((xyz - self.origin) @ self.axes[:2].T)

    def area(self, d: float, standard: Standard) -> Polygon:
        """The loaded area [mm]; of a wall the piece that counts at depth d [mm]."""
        return _plan(self.entry, self.axes, self.slab, d, standard.control(self.h, d)).area

    def behind(self, column: SlabColumn, standard: Standard) -> Floats:
        """Pieces of the control perimeter behind openings, which carry no shear, shape (s, 2, 2) [mm]."""
        rule = standard.control(column.h, column.d)
        plan = replace(self._seen(column.d, rule)[0], reach=rule.reach, widen=rule.widen)
        return plan.behind(rule.distance * column.d, rule.corners)

    def column(self, h: float, d: float, standard: Standard) -> SlabColumn:
        """The place as a standard sees it, in a slab of thickness h and depth d [mm]."""
        entry = self.entry
        plan, round_ = self._seen(d, standard.control(h, d))
        return column_on(
            plan, h, d, standard, kind="column" if entry.kind == DROP else entry.kind, round_=round_,
            beta=entry.beta or STATED.get(entry.kind), shear=entry.reinforcement, modified=entry.modified_gamma_f,
        )  # fmt: skip

    def _seen(self, d: float, rule: ControlRule) -> tuple[Plan, bool]:
        """The area on its slab as a standard sees it, and whether it is a circle, as a head inside the slab may be."""
        entry = self.entry
        plan = _plan(entry, self.axes, self.slab, d, rule)
        if not entry.is_panel or rule.head is None or entry.c1 is None or entry.c2 is None:
            return plan, entry.diameter is not None
        inside = self.slab.covers(plan.area.buffer(rule.distance * d))
        return (replace(plan, area=circle(2.0 * rule.head(entry.c1, entry.c2))) if inside else plan), inside


def _plan(entry: Punching, axes: Floats, slab: Polygon, d: float, rule: ControlRule) -> Plan:
    """The loaded area on the slab; of a wall the piece at its end or corner that counts."""
    if entry.diameter is not None:
        return Plan(slab, on_slab(circle(entry.diameter), slab))
    if entry.c1 is not None and entry.c2 is not None:
        return Plan(slab, on_slab(rectangle(entry.c1, entry.c2), slab))
    assert entry.thickness is not None
    b = min(entry.thickness, rule.wall_thickness * d)
    length = max(min(2.0 * b, rule.wall_perimeter * d - b) / 2.0, 0.0)
    first = np.array([1.0, 0.0])
    if entry.second is None:
        return Plan(slab, on_slab(leg(first, b, length), slab), ((first, length),))
    second = axes[:2] @ np.asarray(entry.second, dtype=float)
    second /= np.linalg.norm(second)
    both = shapely.union_all([leg(a, b, b / 2 + length, b / 2) for a in (first, second)])
    return Plan(slab, on_slab(both, slab), ((first, b / 2 + length), (second, b / 2 + length)))


def loaded_areas(project: Project, faults: Faults) -> list[LoadedArea]:
    """All loaded areas of a job with their forces, found once.

    Parameters
    ----------
    project : Project
        A job and its results.
    faults : Faults
        Notes loaded areas of no zone, off their slab, without supports, and forces that cannot be integrated.

    Returns
    -------
    list of LoadedArea
        In the order of the job.
    """
    return project.once("loaded areas", lambda: _found(project, faults))


def _found(project: Project, faults: Faults) -> list[LoadedArea]:
    out = []
    zones = {z.name: z for z in project.zones}
    plans: list[tuple[Floats, Floats, Polygon]] = []
    for name, entry in project.job.punching.items():
        where = f"{project.job.path}, punching.{name}"
        z = zones.get(entry.zone)
        if z is None:
            faults.add(f"{where}.zone", f"no zone '{entry.zone}'", f"there are {', '.join(zones)}")
            continue
        if z.surface is None:
            faults.add(where, "a bare table has no places", "give nodes and elements")
            continue
        chosen = signed_combinations(project.combinations.ultimate(), entry.combinations, where, faults)
        if chosen is not None:
            for label, at in zip(entry.names(name), entry.at, strict=True):
                found = _place(
                    label,
                    1e3 * np.array(at),
                    entry,
                    z,
                    project=project,
                    chosen=chosen,
                    where=where,
                    faults=faults,
                    plans=plans,
                )
                out += [found] if found is not None else []
    panels = [a for a in out if a.entry.is_panel]
    for i, a in enumerate(out):
        if not a.entry.is_panel:
            out[i] = replace(a, panel=next((p for p in panels if _holds(p, a, project.standard)), None))
            if a.entry.modified_gamma_f and out[i].panel is not None:
                where = f"{project.job.path}, punching"
                faults.add(where, f"'{a.name}' stands on a drop panel", "take modified_gamma_f out of its entry")
        for b in out[:i]:
            if _overlap(a, b, project.standard):
                where = f"{project.job.path}, punching"
                faults.add(where, f"'{a.name}' and '{b.name}' overlap", "use one loaded area for both")
    return out


def _holds(panel: LoadedArea, a: LoadedArea, standard: Standard) -> bool:
    """Whether a place lies on a drop panel."""
    away = (a.origin - panel.origin) @ panel.axes.T
    on = panel.area(0.8 * panel.h, standard).covers(shapely.Point(away[:2]))
    return bool(on and abs(float(away[2])) < panel.h / 2.0)


def _overlap(a: LoadedArea, b: LoadedArea, standard: Standard) -> bool:
    """Whether the loaded areas of two places on one level cover each other, or are one place."""
    given = isinstance(a.entry.force, dict) and isinstance(b.entry.force, dict)
    if given and a.entry is not b.entry:  # forces by hand, such as of two faces
        return False
    if (a.entry.is_panel) != (b.entry.is_panel):  # a column stands on its panel
        return False
    if a.zone != b.zone or abs(float((b.origin - a.origin) @ a.axes[2])) > a.h / 2.0:
        return False
    d = 0.8 * min(a.h, b.h)
    there = np.array(b.area(d, standard).exterior.coords) @ b.axes[:2] + b.origin
    return bool(
        np.linalg.norm(a.origin - b.origin) < _LEVEL
        or a.area(d, standard).intersection(Polygon(a.flat(there))).area > 1.0
    )


def _place(
    name: str, origin: Floats, entry: Punching, z: ZoneInput, *, project: Project, chosen: Combinations, where: str,
    faults: Faults, plans: list[tuple[Floats, Floats, Polygon]],
) -> LoadedArea | None:  # fmt: skip
    s = z.on_mesh
    told = tuple((origin / 1e3).tolist())
    way, _, normal = s.bars_at(origin)
    if entry.along is not None:
        way = np.asarray(entry.along, dtype=float)
    way = way - normal * (way @ normal)
    if np.linalg.norm(way) < 0.1:
        faults.add(f"{where}.along", "stands at right angles to the slab", "give a direction in its plane")
        return None
    way /= np.linalg.norm(way)
    axes = np.stack([way, np.cross(normal, way), normal])
    if entry.second is not None:
        second = axes[:2] @ np.asarray(entry.second, dtype=float)
        if abs(second[1]) < 0.1 * np.linalg.norm(entry.second):
            found = "is the direction of the first wall, or stands at right angles to the slab"
            faults.add(f"{where}.second", found, "give that of the other wall, in the plane of the slab")
            return None
    of = int(np.linalg.norm(z.xyz - origin, axis=1).argmin())
    h = thickness_at(project.zones, origin, axes) if entry.is_panel else float(z.h[of])
    on = abs((z.xyz[of] - origin) @ normal) < h
    slab = _slab(project, origin, axes, 0.25 * h, plans) if on else None
    if slab is None:
        faults.add(f"{where}.at", f"{told} is not on zone {z.name}", "give places on the slab in m")
        return None
    if entry.is_panel:
        panel = _plan(entry, axes, slab, h, project.standard.control(h, h)).area
        beyond = thickness_beyond(z, panel, origin, axes, h) if panel.area > 0.0 else h
        if isinstance(beyond, str):
            faults.add(f"{where}.at", f"the drop panel at {told} {beyond}", "give its size, and the zone beyond it")
            return None
        h = beyond
    else:  # where the thickness changes under it, the thinner slab
        under = _plan(entry, axes, slab, 0.8 * h, project.standard.control(h, 0.8 * h)).area
        h = float(np.fmin(thickness_at(project.zones, origin, axes, under), h))
    d = h / 2 + float(np.nanmean(np.abs(z.zone.bars.layers().axes(h))))
    plan = _plan(entry, axes, slab, d, project.standard.control(h, d))
    if plan.area.is_empty:
        faults.add(f"{where}.at", f"the area at {told} covers nothing of zone {z.name}", "give places on the slab")
        return None
    by_supports = _of_supports(project, chosen, plan, origin, axes)
    integrated, note = _of_resultants(plan, s.mesh, project, chosen, origin, axes)
    forces, other_way = integrated, by_supports
    if isinstance(entry.force, dict):
        lost = sorted(set(entry.force) - set(project.results.cases))
        if lost:
            there = ", ".join(project.results.cases)
            faults.add(f"{where}.force", f"names case '{lost[0]}', which has no results", f"there are {there}")
            return None
        acting = {c for r in chosen.rows for c, f in r.factors.items() if f}
        bare = [c for c in project.results.cases if c in acting and c not in entry.force]
        if bare:
            found = f"names no force of case '{bare[0]}', which is in its combinations"
            faults.add(f"{where}.force", found, f"write {bare[0]} = 0 where it has none")
            return None
        unit = np.array([1e3 * entry.force.get(c, 0.0) for c in project.results.cases])
        forces, other_way = (
            Forces(factors_of_cases(project, chosen) @ unit, np.zeros((len(chosen.rows), 2))),
            integrated,
        )
    elif entry.force == "reactions":
        forces, other_way = by_supports, integrated
        note = ("no support inside the area in plan", "bring reactions, or force = 'integrated'")
    if forces is None:
        faults.add(f"{where}, {name}", *note)
        return None
    return LoadedArea(
        name=name,
        zone=z.name,
        entry=entry,
        origin=origin,
        axes=axes,
        slab=slab,
        h=h,
        chosen=chosen,
        forces=forces,
        other=other_way,
    )


def _slab(
    project: Project, origin: Floats, axes: Floats, apart: float, plans: list[tuple[Floats, Floats, Polygon]]
) -> Polygon | None:
    """The slab that holds a place, in its axes; `plans` are those that were found before, with their own axes."""
    for base, own, plan in plans:
        if abs(own[2] @ axes[2]) > 1.0 - 1e-9 and abs((base - origin) @ axes[2]) < _LEVEL:
            here = shapely.transform(plan, lambda xy, o=base, e=own: (o + xy @ e[:2] - origin) @ axes[:2].T)
            if here.distance(shapely.Point(0.0, 0.0)) <= _LEVEL:
                return orient(here)
    polygons = []
    for z in project.zones:
        if z.surface is not None:
            level = level_elements(z, origin, axes[2], apart) | level_elements(z, origin, -axes[2], apart)
            polygons.append(laid_flat(z, origin, axes[:2])[level])
    slab = plan_of(np.concatenate(polygons), np.zeros(2))
    if slab is not None:
        plans.append((origin, axes, slab))
    return slab


def _of_supports(project: Project, chosen: Combinations, plan: Plan, origin: Floats, axes: Floats) -> Forces | None:
    """Forces of the supports that lie inside the area in plan, at any height."""
    supports = supports_of(project, chosen)
    if supports is None:
        return None
    away = supports.xyz - origin
    at = shapely.intersects_xy(plan.area.buffer(1.0), *(away @ axes[:2].T).T)
    if not at.any():
        return None
    force = supports.force[:, at]
    moment = (supports.couple[:, at] + np.cross(away[at], force)).sum(1)
    return Forces((force @ axes[2]).sum(1), np.stack([-moment @ axes[1], moment @ axes[0]], 1))


def _of_resultants(
    plan: Plan, mesh: Mesh, project: Project, chosen: Combinations, origin: Floats, axes: Floats
) -> tuple[Forces | None, tuple[str, str]]:
    """Forces that the slab hands over to the nodes of the area, or to the nearest; and why there are none."""
    away = (mesh.xyz - origin) @ axes.T
    level = np.abs(away[:, 2]) < _LEVEL
    taken = level & shapely.intersects_xy(plan.area.buffer(1.0), away[:, 0], away[:, 1])
    if not taken.any():
        taken = np.zeros(len(away), dtype=bool)
        taken[np.where(level, np.hypot(away[:, 0], away[:, 1]), np.inf).argmin()] = True
    beside = (taken[mesh.corners] & (mesh.corners >= 0)).any(1)
    V, moment = np.zeros(len(chosen.rows)), np.zeros((len(chosen.rows), 2))
    factors = factors_of_cases(project, chosen)
    for z in project.zones:
        if z.surface is None:
            continue
        o, elements = z.surface.orientation, z.surface.elements
        use = np.flatnonzero(beside[elements] & (np.abs(o.bars[:, 2] @ axes[2]) > FLAT))
        beside[elements[use]] = False
        own = Orientation(o.flipped[use], o.angle[use], o.bars[use])
        turned = turn_corners(project.results.corner, own, z.zone.offset, elements[use])
        nodes = mesh.corners[elements[use]]
        nodes = np.where(nodes >= 0, nodes, nodes[:, 2:3])
        if (lost := ~np.isfinite(turned[..., 3:]).all((0, 2, 3))).any() and len(use):
            element = mesh.element_ids[elements[use[lost]]][0]
            return None, (f"element {element} beside it lacks results", "export them, or bring reactions")
        turned = np.where((mesh.corners[elements[use]] >= 0)[..., None], turned, turned[:, :, 2:3])
        combined = np.einsum("kc,cenf->enkf", factors, turned)
        # a zone whose top is the other side of this slab: its y axis and normal are turned over
        over = (o.bars[use, 2] @ axes[2] < 0.0)[:, None, None, None]
        to_x = np.arctan2(o.bars[use, 1] @ axes[0], o.bars[use, 0] @ axes[0])
        combined = rotate(combined, to_x[:, None, None])
        combined = np.where(over, turn_over(combined), combined)
        found = handed_over(away[nodes, :2], taken[nodes], combined[..., 3:6], combined[..., 6:])
        V, moment = V + found[0], moment + found[1]
    stray = np.flatnonzero(beside & (np.abs(mesh.axes[:, 2] @ axes[2]) > FLAT))
    if len(stray):
        lost_id = mesh.element_ids[stray[0]]
        return None, (f"element {lost_id} beside it is in no zone", "give it one, or bring reactions")
    return Forces(V, moment), ("", "")
