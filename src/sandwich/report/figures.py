"""Maps and the model picture of a run, from its frames and geometry."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from sandwich.design.results import LAYER, NEAR, REQUIRED, WITHIN
from sandwich.drawing.describe import (
    DiagramDescription,
    MapDescription,
    PlaceDescription,
    PlanDescription,
    describe_map,
)
from sandwich.report.service_figures import service_maps
from sandwich.report.shown import Shown
from sandwich.standards.interface import ULTIMATE

SI = Shown()
LEVEL = 0.9  # cosine of the slope up to which a slab is drawn in plan

if TYPE_CHECKING:
    from sandwich.incoming import Incoming
    from sandwich.places import Place
    from sandwich.prepare import ZoneInput
    from sandwich.result import RunResult
    from sandwich.strips import StripResult
    from sandwich.tables.assemble import Results


@dataclass(frozen=True)
class ZoneGeometry:
    """A zone as the drawings want it."""

    corners: np.ndarray
    nodes: np.ndarray
    normals: np.ndarray
    point: np.ndarray
    bars: np.ndarray


def geometry(results: Results, z: ZoneInput, size: float = 1.0) -> ZoneGeometry:
    """Corner places times a size, nodes, points, normals and bar directions of the elements of a zone."""
    mesh = results.mesh
    assert mesh is not None
    assert z.points is not None
    assert z.elements is not None
    assert z.orientation is not None
    nodes = mesh.corners[z.elements]
    point = z.points.of_corners(len(nodes))
    return ZoneGeometry(size * mesh.xyz[nodes], nodes, z.orientation.bars[:, 2], point, z.orientation.bars)


def _directions(z: ZoneInput, g: ZoneGeometry, angle: float, layer: str) -> np.ndarray:
    """Directions of the bars of a layer at each element; the top may have a field of its own."""
    at = np.full(len(g.bars), angle)
    if z.turn is not None and layer.startswith(z.zone.faces.top):
        at += z.turn[g.point[:, 0]]
    return np.asarray(np.cos(at)[:, None] * g.bars[:, 0] + np.sin(at)[:, None] * g.bars[:, 1])


def zone_maps(result: RunResult, z: ZoneInput, shown: Shown = SI) -> Iterator[tuple[str, MapDescription]]:
    """One map a bar layer, and one of the shear utilisation; all steel maps of a zone share a scale."""
    g = geometry(result.results, z, shown.factor("m"))
    steel = result.steel[result.steel["zone"] == z.name]
    names = [str(v) for v in z.labels]
    largest = float(steel[REQUIRED].max(skipna=True)) if steel[REQUIRED].notna().any() else 0.0
    method = shown.text(f"method {z.zone.method}, f_ck {z.zone.f_ck:g} MPa, f_yk {z.zone.f_yk:g} MPa")
    layers = z.zone.bars.layers()
    for angle, layer in zip(layers.angles, layers.names(z.zone.faces.bottom, z.zone.faces.top), strict=True):
        rows = steel[steel[LAYER] == layer].set_index("point")[REQUIRED]
        if rows.empty:
            continue
        values = rows.reindex(z.labels).to_numpy(dtype=float)
        served = (
            "largest of strength, minimum steel and service"
            if z.zone.service
            else "larger of strength and minimum steel"
        )
        note = f"required steel: the {served}; {method}; short lines: the bars"
        yield layer, describe_map(
            f"{z.name}: {layer}", shown.unit("mm2/m"), g.corners, g.nodes, g.normals, g.point, values, names,
            _directions(z, g, angle, layer), note=note, scale=largest,
        )  # fmt: skip
    checks = result.checks[(result.checks["zone"] == z.name) & (result.checks["check"] == "shear without links")]
    use = 100.0 * checks.set_index("point")["utilisation"].reindex(z.labels).to_numpy(dtype=float)
    clause = checks["clause"].iloc[0]
    held = checks.set_index("point")["status"].reindex(z.labels).isin((NEAR, WITHIN)).to_numpy(dtype=bool)
    use = np.where(held, 0.0, use)
    note = f"principal shear over the resistance without links, clause {clause}; above 100 links are needed"
    note += f"; {held.sum()} points at supports are not designed for it and shown as 0" if held.any() else ""
    for laid in result.meshes:
        if laid.zone == z.name:
            ratio = 100.0 * np.where(np.isfinite(laid.use.ratio).any(1), np.nan_to_num(laid.use.ratio).max(1), np.nan)
            told = "the most that one design requires over the bars, of all layers; limit analysis may say less"
            yield "utilisation of bars", describe_map(
                f"{z.name}: utilisation of bars", "%", g.corners, g.nodes, g.normals, g.point, np.minimum(ratio, 1e4),
                names,
                note=told, scale=max(100.0, min(float(np.nanmax(ratio, initial=0.0)), 200.0)),
            )  # fmt: skip
    if result.links is not None and z.zone.links is not None:
        linked = result.links[result.links["zone"] == z.name]
        areas = linked["links [mm2/m2]"].set_axis(linked["point"]).reindex(z.labels).fillna(0.0).to_numpy(dtype=float)
        if areas.any():
            told = f"vertical links over area of plan, struts of cot theta {z.zone.links.cot_theta:g}"
            yield (
                "links",
                describe_map(
                    f"{z.name}: links",
                    shown.unit("mm2/m2"),
                    g.corners,
                    g.nodes,
                    g.normals,
                    g.point,
                    areas,
                    names,
                    note=told,
                ),
            )
    for of in result.service.zones if result.service is not None else ():
        if of.zone == z.name:
            yield from service_maps(of, z, g, shown, result.standard.clauses["crack width"])
    top = min(float(np.nanmax(np.where(np.isfinite(use), use, np.nan), initial=0.0)), 400.0)
    yield "shear", describe_map(
        f"{z.name}: transverse shear", "%", g.corners, g.nodes, g.normals, g.point,
        np.where(np.isinf(use), 1e4, use), names, note=note, scale=max(top, 100.0),
    )  # fmt: skip


def model_polygons(came: Incoming | RunResult) -> tuple[list[np.ndarray], list[np.ndarray]]:
    """Corner places [m] and normals of the elements of every zone, for a picture in space."""
    solid = [geometry(came.results, z) for z in came.zones]
    polygons = [np.where((g.point >= 0)[..., None], g.corners, g.corners[:, 2:3]) / 1e3 for g in solid]
    return polygons, [g.normals for g in solid]


def strip_diagram(strip: StripResult, shown: Shown) -> DiagramDescription:
    """Moment, shear and steel per width along a strip: of the ultimate combinations, or of all where none is."""
    chosen = [i for i, s in enumerate(strip.situations) if s in ULTIMATE] or list(range(len(strip.situations)))
    per_width = strip.per_width[:, chosen]
    panels = [
        (shown.heading("M [kNm/m]"), shown.values(per_width[..., 3] / 1e3, "kNm/m")),
        (shown.heading("V [kN/m]"), shown.values(per_width[..., 6], "kN/m")),
    ]
    steel = shown.values(strip.steel[:, chosen] * 1e3, "mm2/m")
    if np.isfinite(steel).any():
        both = np.concatenate([steel[..., 0], -steel[..., 1]], axis=1)
        panels.append((shown.heading(f"steel [mm2/m], {strip.faces[1]} below zero"), both))
    worst = 100.0 * strip.left(chosen)
    note = (
        f"zone {strip.strip.zone}, width {strip.strip.width:g} m, {len(chosen)} combinations; "
        f"a positive moment puts the {strip.faces[0]} in tension; "
        f"the free body leaves at most {worst:.2g} % of the largest moment"
    )
    s = shown.values(strip.s, "m")
    return DiagramDescription(
        f"Strip {strip.name}", shown.text(note), s, panels, shown.heading("s along the strip [m]")
    )


def punching_plans(result: RunResult, shown: Shown) -> Iterator[tuple[str, PlanDescription]]:
    """One plan a slab with places that may punch, by the name of the zone."""
    for zone in dict.fromkeys(f.place.zone for f in result.punched):
        found = sorted(
            (f for f in result.punched if f.place.zone == zone),
            key=lambda f: -max(f.punched.use, f.punched.use_face),
        )
        first = found[0].place
        level = abs(first.axes[2, 2]) > LEVEL
        basis = np.eye(3)[:2] if level else first.axes[:2]

        def plan(xy: np.ndarray, place: Place, basis: np.ndarray = basis) -> np.ndarray:
            """Places in the axes of a place, in those of the picture [m]."""
            return np.asarray((place.origin + xy @ place.axes[:2]) @ basis.T / 1e3 * shown.factor("m"))

        slab = first.slab
        rings = [plan(np.array(ring.coords), first) for ring in (slab.exterior, *slab.interiors)]
        places = []
        for f in found:
            p, c = f.punched, f.column
            rows = p.reinforcement.distance if p.reinforcement is not None else ()
            laid = [c.at(a, "round").segments for a in rows]
            told = f"V {abs(f.load.V) / 1e3:.4g} kN, {p.v_Ed:.3g} of {p.v_Rd_c:.3g} MPa, {f.status}"
            places.append(
                PlaceDescription(
                    f.place.name, shown.text(told), plan(c.sides, f.place), plan(c.control.segments, f.place),
                    plan(f.place.behind(c, result.standard), f.place),
                    plan(np.concatenate(laid) if laid else np.zeros((0, 2, 2)), f.place),
                    max(p.use, p.use_face), f.status.startswith("exceeded"),
                )
            )  # fmt: skip
        note = (
            f"greatest utilisation of each place without punching reinforcement; {result.standard.name}, "
            f"clause {result.standard.clauses['punching']}"
        )
        axes = [shown.heading(f"{a} [m]") for a in (("x", "y") if level else ("along", "across"))]
        yield zone, PlanDescription(f"{zone}: punching", note, rings, places, (axes[0], axes[1]))
