"""Zones ready for design: results turned into the bar directions and averaged at points."""

from __future__ import annotations

import logging
from dataclasses import replace

import numpy as np
import pandas as pd

from sandwich.core.errors import Faults
from sandwich.core.resultants import to_mid_depth
from sandwich.design.averaging import AveragingStrips
from sandwich.job import Job
from sandwich.job.zone import Peaks, Zone
from sandwich.model.averaging import Averaged, average_peaks, find_peaks
from sandwich.model.held_edges import edge_gain, gained, patch_edges
from sandwich.model.mesh import Mesh
from sandwich.model.points import Points, make_points, smooth_edges
from sandwich.model.strips import cells_of, tributary_areas
from sandwich.model.supports import (
    INSIDE,
    LoadedArea,
    Wall,
    along_lines,
    found_in_mesh,
    support_states,
    under_areas,
)
from sandwich.model.turn import turn_corners, turn_magnitudes
from sandwich.model.zones import orient, turn_of
from sandwich.project.zone_elements import elements_of_zones, thickness_of_zone
from sandwich.project.zone_input import Surface, ZoneInput
from sandwich.standards.interface import Standard
from sandwich.tables.assemble import Results
from sandwich.tables.meshing import locate

SQUARE = 0.02  # rad; bars this near an axis of the element count as along it
NEEDS_MESH = (
    "groups", "elements", "direction", "top_direction", "top_side", "peaks", "averaging_strips", "supports",
    "additional", "points",
)  # fmt: skip
TOO_MUCH = 200.0  # MPa; several times the strength of any concrete
log = logging.getLogger("sandwich")


def prepare(job: Job, results: Results, standard: Standard, faults: Faults) -> list[ZoneInput]:
    """Turn and average the results of every zone; notes every fault of every zone."""
    if job.input.mesh is None and job.input.resultants is None:  # walls with forces of their own
        return []
    zones = (
        _bare_zone(job, results, faults)
        if results.mesh is None
        else _mesh_zones(job, results, results.mesh, standard, faults)
    )
    for z in zones:
        _magnitudes(z, job, faults)
        where = f"{job.path}, zones.{z.name}"
        job.refuse_unused(("zones", z.name, "second_order"), ("creep",), standard.own_settings, standard.name, faults)
        if job.writes("zones", z.name, "vertical") and z.zone.minimum == "slab" and z.zone.second_order is None:
            found = 'has no use with minimum = "slab" and without second_order'
            faults.add(f"{where}.vertical", found, 'take it out, or use minimum = "wall"')
        links = z.zone.links
        if links is not None and links.cot_theta != 1.0 and "cot_theta" not in standard.own_settings:
            faults.add(f"{where}.links.cot_theta", f"{standard.name} has struts of 45 degrees", "use 1, or take it out")
        try:
            z.zone.bars.layers().axes(z.h)
        except ValueError as error:
            found, _, remedy = str(error).partition("; ")
            faults.add(f"{job.path}, zones.{z.name}.bars", found, remedy)
    return zones


def _as_columns(cases: np.ndarray, results: Results) -> np.ndarray:
    """Cases of points, (p, c, 8), as columns of the store: a case without signs becomes one a component."""
    signed = [results.kinds[c].signed is not False for c in results.cases]
    if all(signed):
        return cases
    parts = [cases[:, [i]] if s else np.abs(cases[:, i])[:, None] * np.eye(8) for i, s in enumerate(signed)]
    return np.ascontiguousarray(np.concatenate(parts, axis=1))


def _turned(results: Results, s: Surface, zone: Zone, where: str, faults: Faults) -> np.ndarray:
    """Corner results in the bar directions; cases without signs by what their magnitudes allow."""
    mesh, elements, o = s.mesh, s.elements, s.orientation
    turned = turn_corners(results.corner, o, zone.offset, elements)
    for i, case in enumerate(results.cases):
        if results.kinds[case].signed is not False:
            continue
        askew = np.abs(np.sin(2.0 * o.angle)) > 2.0 * SQUARE
        if askew.any() and zone.unsigned == "stop":
            angle = np.degrees(o.angle[askew][0])
            found = (
                f"case '{case}' has no signs and element {mesh.element_ids[elements[askew]][0]} would be turned by "
                f"{angle:.1f} degrees; only multiples of 90 are exact"
            )
            remedy = 'bring modal or signed results, or choose bar directions along the axes, or unsigned = "bound"'
            faults.add(where, found, remedy)
        turned[i] = turn_magnitudes(results.corner[i, elements], o, zone.offset)
    return turned


def _magnitudes(z: ZoneInput, job: Job, faults: Faults) -> None:
    """Refuse results whose usual elastic stress no concrete can carry: most often a unit."""
    n, m = np.abs(z.cases[..., :3]).max((1, 2)), np.abs(z.cases[..., 3:6]).max((1, 2))
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):  # a thickness of nothing is named elsewhere
        usual = float(np.nanmedian(n / z.h + 6.0 * m / z.h**2))
    if usual > TOO_MUCH:
        found = f"half of the points have an elastic stress of {usual:.3g} MPa or more from one case"
        faults.add(f"{job.path}, zones.{z.name}", found, "look at input.units, most of all of moment and thickness")


def _mesh_zones(job: Job, results: Results, mesh: Mesh, standard: Standard, faults: Faults) -> list[ZoneInput]:
    out = []
    for name, elements in elements_of_zones(job, mesh, faults).items():
        zone = job.zones[name].as_laid()
        where = f"{job.path}, zones.{name}"
        h = thickness_of_zone(job, name, mesh, elements, faults)
        if not zone.shell:  # walls are cut from it, and nothing else is made of it
            continue
        bare = np.ones(len(elements), dtype=bool)
        for one in results.corner:
            bare &= ~np.isfinite(one[elements].sum(-1)).any(1)
        if bare.all() or (bare.any() and job.input.missing == "stop"):
            more = f" and {bare.sum() - 1} more" if bare.sum() > 1 else ""
            found = f"element {mesh.element_ids[elements[bare]][0]}{more} has no results"
            faults.add(where, found, "export them or take the elements out of the zone")
            continue
        orientation = orient(zone.direction.plain(), zone.top_side.plain(), mesh, elements, where, faults)
        if not np.isfinite(h).all():
            continue
        points = make_points(mesh, elements, h, orientation, zone.points)
        surface = Surface(mesh, elements, orientation, points)
        support = _at_supports(job, name, surface, standard, faults)
        turned = _turned(results, surface, zone, where, faults)
        cases, surface = _carried(turned, results, surface, zone, support)
        raw, averaged = None, None
        if zone.peaks is not None:
            declared = [at for p in job.punching.values() if p.zone == name and not p.is_panel for at in p.at]
            averaged = _averaged(
                zone, zone.peaks, surface, cases, results=results, declared=declared, where=where, faults=faults
            )
            if averaged is not None:
                raw, cases = cases, averaged.cases
        strips = _strips_of(zone, surface)
        if strips is not None and not (strips.cells >= 0).any():
            faults.add(
                f"{where}.averaging_strips", "its strips hold no point of the zone", "give edges in m from the origin"
            )
        own = zone.top_direction
        out.append(
            ZoneInput(
                name=name,
                zone=zone,
                labels=points.labels,
                xyz=points.xyz,
                h=points.thickness,
                one_sided=points.one_sided,
                size=points.size,
                cases=cases,
                surface=surface,
                averaged=averaged,
                raw=raw,
                support=support,
                strips=strips,
                turn=None if own is None else turn_of(own.plain(), points.bars, points.xyz),
            )
        )
        if orientation.flipped.any():
            log.warning(
                "zone %s: %d elements have their normal on the other side; their faces are swapped",
                name,
                int(orientation.flipped.sum()),
            )
    return out


def _strips_of(zone: Zone, s: Surface) -> AveragingStrips | None:
    """Cells of the strips of a zone, by point and bar layer."""
    wanted = zone.averaging_strips
    if wanted is None:
        return None
    bars = s.points.bars[len(s.points.labels) // 2]
    at = (s.points.xyz - 1e3 * np.array(wanted.origin)) @ bars[:2].T
    both = []
    for i, edges in enumerate((wanted.x, wanted.y)):
        none = np.full(len(at), -1)
        found = cells_of(at[:, i], at[:, 1 - i], 1e3 * np.array(edges), 1e3 * wanted.step) if edges else none
        both.append(found)
    cells = np.stack([both[0], both[1]] * 2, axis=1)
    return AveragingStrips(cells, tributary_areas(s.mesh, s.elements, s.points))


def _columns(turned: np.ndarray, points: Points, results: Results) -> np.ndarray:
    """Means of corner results at points, as columns of the store."""
    return _as_columns(np.ascontiguousarray(np.moveaxis(points.mean(turned), 0, 1)), results)


def _carried(
    turned: np.ndarray, results: Results, s: Surface, zone: Zone, support: np.ndarray | None
) -> tuple[np.ndarray, Surface]:
    """Cases at points with moments carried to held edges; the surface knows these edges and what others may lack."""
    plain = _columns(turned, s.points, results)
    if zone.points == "centres":
        return plain, s
    mesh, elements, orientation, points = s.mesh, s.elements, s.orientation, s.points
    thickness = points.thickness[np.maximum(s.corner_points, 0)][:, 0]
    sides = patch_edges(mesh, elements, orientation, smooth_edges(mesh, elements, thickness, orientation))
    table = results.reactions
    known = locate(pd.Index(mesh.node_ids), table["node"]) if table is not None else np.empty(0, dtype=np.int64)
    held = np.asarray(np.isin(sides.node, known).all(axis=1))
    if support is not None:
        state = support[s.corner_points[sides.element[:, None], sides.corner]]
        held |= (state == INSIDE).all(1)
    signed = np.array([results.kinds[c].signed is not False for c in results.cases])
    chosen = sides.picked(held) if zone.carry_to_edges else sides.picked(np.zeros(len(held), dtype=bool))
    other = ~sides.free if table is not None else np.ones(len(held), dtype=bool)
    lacking = sides.picked((other | held) if not zone.carry_to_edges else (other & ~held))
    one, gain = (1, *turned.shape[1:-1]), edge_gain(turned, lacking, signed)
    low = np.stack([points.mean(gained(one, lacking, gain[[i]]))[0, :, :2].sum(-1) for i in range(len(turned))], 1)
    low = np.concatenate([low[:, [i]] if own else np.zeros((len(low), 8)) for i, own in enumerate(signed)], axis=1)
    s = replace(s, held=chosen, low=low)
    if not len(chosen.element):
        return plain, s
    gain = edge_gain(turned, chosen, signed)
    for i in range(len(turned)):
        turned[i, ..., 3:6] += gained(one, chosen, gain[[i]])[0]
    return _columns(turned, points, results), replace(s, uncarried=plain)


def _at_supports(job: Job, name: str, s: Surface, standard: Standard, faults: Faults) -> np.ndarray | None:
    """Which points lie inside or beside a support; None where the job speaks of none."""
    zone, mesh, elements, points = job.zones[name].as_laid(), s.mesh, s.elements, s.points
    entries = [p for p in job.punching.values() if p.zone == name and not p.is_panel]
    if not entries and not zone.supports:
        return None
    xyz, normals = points.xyz, points.bars[:, 2]
    h = float(points.thickness.max())
    reach = max(standard.control(h, h).distance, 1.0)  # inside the control perimeter punching is checked
    areas = [
        LoadedArea(at, p.along or tuple(s.bars_at(1e3 * np.array(at))[0].tolist()), p.c1, p.c2, p.diameter)
        for p in entries for at in p.at
    ]  # fmt: skip
    footprints = under_areas(areas, xyz, normals, reach)
    if zone.supports == "found":
        thick = mesh.thickness.copy()
        for other in job.zones.values():
            if other.thickness is not None:
                own = np.isin(mesh.group, other.groups) | np.isin(mesh.element_ids, other.elements)
                thick[own | other.everything] = other.thickness
        footprints += found_in_mesh(mesh, elements, thick)
    try:
        depth = points.thickness / 2 + np.nanmean(np.abs(zone.bars.layers().axes(points.thickness)), axis=1)
    except ValueError:  # a bar outside the section, which is named elsewhere
        return None
    if zone.supports != "found":
        lines = along_lines([Wall(s.line, s.width) for s in zone.supports], xyz, normals)
        for i, line in enumerate(lines):
            # a line between the points of a coarse mesh excludes nothing, and is no mistake
            if not support_states(xyz, normals, depth + points.size, [line]).any():
                where = f"{job.path}, zones.{name}.supports, {i + 1}"
                faults.add(where, "no point of the zone is near it", "give places on the zone in m")
        footprints += lines
    return support_states(xyz, normals, depth, footprints)


def _averaged(
    zone: Zone, peaks: Peaks, s: Surface, cases: np.ndarray, *, results: Results,
    declared: list[tuple[float, float, float]], where: str, faults: Faults,
) -> Averaged | None:  # fmt: skip
    """Peaks of a zone averaged over its width; magnitudes without signs keep their peaks.

    Columns and wall ends that the job declares [m] are peaks as those that are found.
    """
    mesh, elements, orientation, points = s.mesh, s.elements, s.orientation, s.points
    if zone.points != "nodes":
        faults.add(f"{where}.peaks", f"peaks of {zone.points} cannot be averaged", 'use points = "nodes"')
        return None
    width = 1e3 * peaks.width
    if peaks.at == "found":
        table = results.reactions
        supported = locate(pd.Index(mesh.node_ids), table["node"]) if table is not None else np.empty(0, dtype=np.int64)
        places = find_peaks(mesh, elements, np.unique(supported[supported >= 0]))
        own = 1e3 * np.array(declared, dtype=float).reshape(-1, 3)
        if len(places) and len(own):
            apart = np.linalg.norm(own[:, None] - places, axis=2).min(1)
            own = own[apart > 0.5 * width]
        places = np.concatenate([places, own])
    else:
        places = 1e3 * np.array(peaks.at, dtype=float).reshape(-1, 3)
        for place in places:
            off = float(np.linalg.norm(points.xyz - place, axis=1).min())
            if off > width:
                lost = f"no point of the zone within {width / 1e3:g} m of {tuple((place / 1e3).tolist())}"
                faults.add(f"{where}.peaks.at", lost, "give places on the zone in m")
    signed = [results.kinds[c].signed is not False for c in results.cases]
    own = np.repeat(signed, [1 if of else 8 for of in signed])
    found = average_peaks(mesh, elements, points, orientation.bars, cases[:, own], places, width)
    mixed = cases.copy()
    mixed[:, own] = found.cases
    return replace(found, cases=mixed)


def _bare_zone(job: Job, results: Results, faults: Faults) -> list[ZoneInput]:
    if len(job.zones) != 1:
        found = f"{len(job.zones)} zones for a bare table of resultants"
        faults.add(f"{job.path}, zones", found, "one zone takes all its points; a mesh is needed for more")
        return []
    name, zone = next((n, z.as_laid()) for n, z in job.zones.items())
    lost = [k for k in NEEDS_MESH if job.writes("zones", name, k)]
    for key in lost:
        found = "needs places in space, which a bare table does not have"
        faults.add(f"{job.path}, zones.{name}.{key}", found, "bring nodes and elements, or take it out")
    p = len(results.point_ids)
    h = np.full(p, zone.thickness) if zone.thickness else results.thickness
    if not np.isfinite(h).all():
        where = f"{job.path}, zones.{name}"
        faults.add(where, "no thickness", "give zones.NAME.thickness in mm or a column 'thickness'")
        return []
    labels = np.array([str(v) for v in results.point_ids])
    cases = _as_columns(np.ascontiguousarray(np.moveaxis(results.point, 0, 1)), results)
    if zone.offset:
        cases = to_mid_depth(cases, np.full(cases.shape[:-1], zone.offset))
    nowhere = np.full((p, 3), np.nan)
    return [
        ZoneInput(
            name=name,
            zone=zone,
            labels=labels,
            xyz=nowhere,
            h=h,
            one_sided=np.zeros(p, dtype=bool),
            size=np.full(p, np.nan),
            cases=cases,
        )
    ]
