"""Maps and the model picture of a run, from its frames and geometry."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from sandwich.design.results import LAYER, REQUIRED
from sandwich.drawing.describe import DiagramDescription, MapDescription, describe_map
from sandwich.standards.interface import ULTIMATE

if TYPE_CHECKING:
    from sandwich.incoming import Incoming
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


def geometry(results: Results, z: ZoneInput) -> ZoneGeometry:
    """Corner places, nodes, points, normals and bar directions of the elements of a zone."""
    mesh = results.mesh
    assert mesh is not None
    assert z.points is not None
    assert z.elements is not None
    assert z.orientation is not None
    nodes = mesh.corners[z.elements]
    point = z.points.of_corners(len(nodes))
    return ZoneGeometry(mesh.xyz[nodes], nodes, z.orientation.bars[:, 2], point, z.orientation.bars)


def zone_maps(result: RunResult, z: ZoneInput) -> Iterator[tuple[str, MapDescription]]:
    """One map a bar layer, and one of the shear utilisation; all steel maps of a zone share a scale."""
    g = geometry(result.results, z)
    steel = result.steel[result.steel["zone"] == z.name]
    names = [str(v) for v in z.labels]
    largest = float(steel[REQUIRED].max(skipna=True)) if steel[REQUIRED].notna().any() else 0.0
    method = f"method {z.zone.method}, f_ck {z.zone.f_ck:g} MPa, f_yk {z.zone.f_yk:g} MPa"
    layers = z.zone.bars.layers()
    for angle, layer in zip(layers.angles, layers.names(z.zone.faces.bottom, z.zone.faces.top), strict=True):
        rows = steel[steel[LAYER] == layer].set_index("point")[REQUIRED]
        if rows.empty:
            continue
        values = rows.reindex(z.labels).to_numpy(dtype=float)
        note = f"required steel of the ultimate state with least steel; {method}; short lines: the bars"
        yield layer, describe_map(
            f"{z.name}: {layer}", "mm2/m", g.corners, g.nodes, g.normals, g.point, values, names,
            np.cos(angle) * g.bars[:, 0] + np.sin(angle) * g.bars[:, 1], note=note, scale=largest,
        )  # fmt: skip
    checks = result.checks[(result.checks["zone"] == z.name) & (result.checks["check"] == "shear without links")]
    use = 100.0 * checks.set_index("point")["utilisation"].reindex(z.labels).to_numpy(dtype=float)
    clause = checks["clause"].iloc[0]
    note = f"principal shear over the resistance without links, clause {clause}; above 100 links are needed"
    for laid in result.meshes:
        if laid.zone == z.name:
            ratio = 100.0 * np.where(np.isfinite(laid.use.ratio).any(1), np.nan_to_num(laid.use.ratio).max(1), np.nan)
            told = "the most that one design requires over the bars, of all layers; limit analysis may say less"
            yield "use of bars", describe_map(
                f"{z.name}: use of bars", "%", g.corners, g.nodes, g.normals, g.point, np.minimum(ratio, 1e4), names,
                note=told, scale=max(100.0, min(float(np.nanmax(ratio, initial=0.0)), 200.0)),
            )  # fmt: skip
    if result.links is not None and z.zone.links is not None:
        of = result.links[result.links["zone"] == z.name]
        areas = of["links [mm2/m2]"].set_axis(of["point"]).reindex(z.labels).fillna(0.0).to_numpy(dtype=float)
        if areas.any():
            told = f"vertical links over area of plan, struts of cot theta {z.zone.links.cot_theta:g}"
            yield (
                "links",
                describe_map(
                    f"{z.name}: links", "mm2/m2", g.corners, g.nodes, g.normals, g.point, areas, names, note=told
                ),
            )
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


def strip_diagram(strip: StripResult) -> DiagramDescription:
    """Moment, shear and steel per width along a strip: of the ultimate combinations, or of all where none is."""
    chosen = [i for i, s in enumerate(strip.situations) if s in ULTIMATE] or list(range(len(strip.situations)))
    per_width = strip.per_width[:, chosen]
    panels = [("M [kNm/m]", per_width[..., 3] / 1e3), ("V [kN/m]", per_width[..., 6])]
    steel = strip.steel[:, chosen] * 1e3
    if np.isfinite(steel).any():
        above = strip.totals[:, chosen, 3] < 0.0
        panels.append(("steel [mm2/m], top below zero", np.where(above, -steel, steel)))
    worst = 100.0 * strip.left(chosen)
    note = (
        f"zone {strip.strip.zone}, width {strip.strip.width:g} m, {len(chosen)} combinations; "
        f"a positive moment puts the {strip.faces[0]} in tension; "
        f"the free body leaves at most {worst:.2g} % of the largest moment"
    )
    return DiagramDescription(f"Strip {strip.name}", note, strip.s, panels)
