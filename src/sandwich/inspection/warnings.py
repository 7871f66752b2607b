"""Warnings about the input, each with its evidence and the cause it usually has."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.core.records import WarningNote
from sandwich.core.shown import Measure, Sentence
from sandwich.inspection.balance import balance
from sandwich.inspection.cases import cases
from sandwich.inspection.equilibrium import Reading, gradients, membrane, moments_and_shear
from sandwich.inspection.neighbours import NOISE, jumps, sizes
from sandwich.mechanics.superpose import extremes
from sandwich.model.mesh import Mesh
from sandwich.model.points import smooth_edges
from sandwich.model.supports import ends_of_walls, over_feet, standing_alone
from sandwich.model.turn import turn_corners
from sandwich.project.project import Project
from sandwich.project.zone_elements import elements_of_zones
from sandwich.project.zone_input import ZoneInput
from sandwich.tables.meshing import locate

Floats = NDArray[np.float64]
MISFIT: Final = 0.5  # error of a zone whose results do not fit equilibrium in any reading
NOTHING: Final = 1e-6  # ratio of reactions to results below which there are none
SCALE: Final = 1.5  # ratio beyond which two tables have different units
STRESS: Final = (0.05, 40.0)  # MPa; usual elastic stress of a case, minimum and maximum
ENOUGH: Final = 4_000  # elements of a zone whose equilibrium is looked at; of more, every so many
EDGE: Final = 0.05  # of the maximum moment of a zone: what a moment may lack at an edge without a word
THICKNESS: Final = (60.0, 3000.0)  # mm
LEVEL: Final = 0.7  # of the unit normal along z, from which a zone is a slab
FACTORS: Final = {  # ratios that name two units
    3.28084: "ft and m",
    4.44822: "kip and kN",
    1.35582: "kip ft and kN m",
    14.5939: "kip/ft and kN/m",
    9.80665: "tonf and kN",
    1e3: "k and none",
    100.0: "m and cm",
    10.0: "cm and mm",
    12.0: "ft and in",
    25.4: "in and mm",
}


def warnings_of(project: Project) -> list[WarningNote]:
    """All warnings about the input: grave ones, then geometry, results, cases.

    Parameters
    ----------
    project : Project
        A job that was read without a fault.

    Returns
    -------
    list of WarningNote
        Empty where nothing stands in doubt.
    """
    out: list[WarningNote] = []
    for z in project.zones:
        out += _thickness(z)
        if z.surface is not None:
            out += [*_axes(z), *_results(z, project), *_edges(z, project), *_not_found(z), *_columns(z, project)]
        out += _magnitude(z)
    mesh = project.results.mesh
    if mesh is not None:
        out += [*_mesh(mesh, project), *_reactions(mesh, project)]
    return sorted([*out, *_missing(project), *cases(project)], key=lambda d: not d.grave)


def _list(ids: NDArray[np.generic], most: int = 4) -> str:
    more = f" and {len(ids) - most} more" if len(ids) > most else ""
    return ", ".join(str(v) for v in ids[:most]) + more


def _ratio(scale: float) -> str:
    """A ratio, with the two units it is known by."""
    near = min(FACTORS, key=lambda f: abs(abs(np.log(scale)) - np.log(f)))
    known = abs(abs(np.log(scale)) - np.log(near)) < 0.01
    return f"{scale:.3g} times" + (f" (the ratio of {FACTORS[near]})" if known else "")


def _thickness(z: ZoneInput) -> Iterator[WarningNote]:
    thin, thick = float(z.h.min()), float(z.h.max())
    extent = float(np.ptp(z.xyz, axis=0).max()) if np.isfinite(z.xyz).all() else np.inf
    if thick > min(THICKNESS[1], 0.5 * extent) or thin < THICKNESS[0]:
        form, of = ("{} to {}, {}", (thin, thick)) if thin < thick else ("{}, {}", (thin,))
        place = Sentence("zone of {}", Measure(extent / 1e3, "m", ".3g")) if np.isfinite(extent) else "bare table"
        yield WarningNote(
            f"zone {z.name}",
            "the thickness is not that of a wall or slab",
            Sentence(form, *(Measure(h, "mm", "g") for h in of), place),
            "the unit of the thickness: mm read as m, or in read as ft",
        )
    axes = np.abs(z.zone.bars.layers().axes(z.h))
    lever = np.nanmin(axes / z.h[:, None])
    if z.zone.bars.layout != "mid-depth" and lever < 0.2:
        yield WarningNote(
            f"zone {z.name}",
            "the thickness hardly suits the bars",
            Sentence(
                "at {} a bar axis lies {} from mid-depth", Measure(thin, "mm", "g"), Measure(lever * thin, "mm", ".0f")
            ),
            "cover and diameters of another member, or a wrong thickness",
        )


def _axes(z: ZoneInput) -> Iterator[WarningNote]:
    """Axes that turn or flip between neighbours: allowed, and turned here, but where most mistakes are made."""
    s = z.on_mesh
    mesh, o = s.mesh, s.orientation
    ids = mesh.element_ids[s.elements]
    if o.flipped.any():
        yield WarningNote(
            f"zone {z.name}",
            f"{o.flipped.sum()} of {len(ids)} elements have their normal on the other side",
            f"elements {_list(ids[o.flipped])}; their faces are swapped here",
            "elements drawn the other way round",
        )
    h = s.points.thickness[0]
    pairs = smooth_edges(mesh, s.elements, np.full(len(ids), h), o)
    a, b = pairs.a, pairs.b
    if not len(pairs):
        return
    step = np.angle(np.exp(1j * (o.angle[a] - o.angle[b])))
    if (np.abs(step) > np.radians(15.0)).any():
        turns = np.round(np.degrees(o.angle)) % 360
        values, count = np.unique(turns, return_counts=True)
        main = values[count.argmax()]
        other = turns != main
        each = ", ".join(f"{n} by {v - main:+.0f} degrees" for v, n in zip(values, count, strict=True) if v != main)
        if len(values) > 5:
            each = f"{other.sum()} elements in {len(values) - 1} other directions"
        evidence = f"{each}; elements {_list(ids[other])}"
        yield WarningNote(
            f"zone {z.name}",
            "the axes of elements turn inside the zone",
            f"{evidence}; turned back here",
            "axes that follow the order of the corners",
        )


def _results(z: ZoneInput, project: Project) -> Iterator[WarningNote]:
    """Neighbours, slopes and sums of the signed cases of a zone."""
    s = z.on_mesh
    mesh, o, points = s.mesh, s.orientation, s.points
    assert o is not None
    assert points is not None
    signed = [i for i, c in enumerate(project.results.cases) if project.results.kinds[c].signed is not False]
    if not signed:
        return
    where, ids = f"zone {z.name}", mesh.element_ids[s.elements]
    turned = turn_corners(_of_cases(project.results.corner, signed), o, z.zone.offset, s.elements)
    nodes = s.corners
    real = nodes >= 0
    at = points.of_corners(len(nodes))
    if z.zone.points == "nodes":
        thickness = points.thickness[np.where(real, at, at[:, :1])].mean(1)
        found = jumps(smooth_edges(mesh, s.elements, thickness, o), nodes, turned)
        if found.reading:
            yield WarningNote(
                where,
                f"results of neighbours do not agree across {found.edges} of {found.looked_at} edges",
                f"{found.mended} of them agree when one side is read {found.reading}: elements "
                f"{_list(ids[found.elements])}",
                "an axis or a normal that is not the one of the results",
            )
        elif found.edges > 0.02 * found.looked_at:
            yield WarningNote(
                where,
                f"results jump across {found.edges} of {found.looked_at} edges",
                f"elements {_list(ids[found.elements])}",
                "a coarse mesh, or rows in the wrong place",
            )
        inner = ~(points.one_sided[at] & real).any(1)
    else:
        inner = np.ones(len(nodes), dtype=bool)
    for one in turned:
        inner &= (np.isfinite(one).all(2) | ~real).all(1)
    if inner.sum() < 8:
        return
    some = np.flatnonzero(inner)[:: 1 + int(inner.sum()) // ENOUGH]
    patch = points.mean(turned)[:, at[some]] if z.zone.points == "nodes" else turned[:, some]
    size = np.max([sizes(one[some]) for one in turned], axis=0)
    there = size > NOISE * size.max()  # rounding of an analysis is in no balance
    slope = gradients(mesh.xyz[nodes[some]], o.bars[some], real[some], patch)
    middle = np.nansum(turned[:, some], axis=2) / real[some].sum(1)[:, None]
    if there[1:].any():
        bending = moments_and_shear(slope[..., 3:6], middle[..., 6:])
        what = "shear forces do not match the slope of the moments"
        yield from _reading(where, what, bending, "moment, shear and length")
    if there[0]:
        yield from _reading(where, "membrane forces are not in balance with each other", membrane(slope[..., :3]), "")


def _of_cases(values: np.ndarray, which: list[int]) -> np.ndarray:
    """Values of some cases, not copied where these are all."""
    return values if len(which) == len(values) else values[which]


def _reading(where: str, what: str, r: Reading, units: str) -> Iterator[WarningNote]:
    if r.changes:
        yield WarningNote(
            where,
            what,
            f"{r.elements} elements inside: {100 * r.error:.0f} % is left as read, "
            f"{100 * r.best_error:.0f} % with {' and '.join(r.changes)}",
            "a sign convention or two columns that changed places; see signs.negate, positive_moment_tension "
            "and columns",
        )
    elif units and r.error > MISFIT:
        yield WarningNote(
            where,
            what,
            f"{100 * r.error:.0f} % is left over {r.elements} elements and no usual reading fits",
            "a coarse mesh, shear results of another case, or averaged results",
        )
    if units and r.scale > 0.0 and r.error <= MISFIT and not 1 / SCALE < r.scale < SCALE:
        yield WarningNote(
            where,
            f"{what} in size",
            f"shear to slope of the moments: {_ratio(r.scale)}",
            f"the unit of {units}, or a coarse mesh",
        )


def _edges(z: ZoneInput, project: Project) -> Iterator[WarningNote]:
    """Moments at edges that are not known to be held, where corner results are those of the middle of the elements."""
    trace = z.on_mesh.low
    if trace is None:
        return
    ultimate = project.combinations.ultimate()
    factors = ultimate.factors if len(ultimate.names) else np.eye(trace.shape[1])
    low = np.abs(trace @ factors.T).max(1)
    most = np.maximum.reduce([np.abs(v[:, 3:6]).max(1) for v in extremes(z.cases, factors)])
    i = int(low.argmax())
    if low[i] <= EDGE * max(float(np.nanmax(most)), 1.0):
        return
    count = int((low > EDGE * np.nanmax(most)).sum())
    yield WarningNote(
        f"zone {z.name}",
        "moments are low at edges, should these be held",
        Sentence(
            "by up to {} at {} with {}; {} points",
            Measure(low[i] / 1e3, "kNm/m", ".3g"),
            str(z.labels[i]),
            Measure(most[i] / 1e3, "kNm/m", ".3g"),
            str(count),
        ),
        "corner results of the middle of the elements; reactions, or supports of the zone, carry them to the edge",
        grave=True,
    )


def _not_found(z: ZoneInput) -> Iterator[WarningNote]:
    """Settings that look for something and find nothing."""
    if z.zone.supports == "found" and not (z.support is not None and z.support.any()):
        told = "shear counts everywhere, and no moment is carried to an edge there"
        yield WarningNote(f"zone {z.name}", "no wall meets it in the mesh", told, "walls that are not in the mesh")
    if z.zone.peaks is not None and z.averaged is not None and not len(z.averaged.places):
        yield WarningNote(
            f"zone {z.name}", "no peak is found", "nothing is averaged", "columns that are not in the reactions"
        )


def _columns(z: ZoneInput, project: Project) -> Iterator[WarningNote]:
    """Supports of a slab that stand by themselves, and ends of walls in it, where no place is checked for punching."""
    table, s = project.results.reactions, z.on_mesh
    if np.median(np.abs(s.orientation.bars[:, 2, 2])) < LEVEL:
        return
    alone: NDArray[np.int64] = np.empty(0, dtype=np.int64)
    if table is not None:
        at = locate(pd.Index(s.mesh.node_ids), pd.Series(table["node"].unique()))
        alone = standing_alone(s.corners, over_feet(s.mesh, s.corners, at[at >= 0]))
    places = [(1e3 * np.array(p), e.reach) for e in project.job.punching.values() for p in e.at]
    for what, nodes, usual in (
        ("supports stand by themselves", alone, "columns without an entry of [punching], as new --from drafts them"),
        ("walls end inside", ends_of_walls(s.mesh, s.elements), 'ends or corners without an entry of kind "wall end"'),
    ):
        bare = [n for n in nodes if not any(np.linalg.norm(s.mesh.xyz[n] - p) <= reach for p, reach in places)]
        if bare:
            evidence = f"{len(bare)} at nodes {_list(s.mesh.node_ids[bare])}"
            yield WarningNote(f"zone {z.name}", f"{what}, and their punching is not checked", evidence, usual)


def _magnitude(z: ZoneInput) -> Iterator[WarningNote]:
    cases = np.abs(np.nan_to_num(z.cases))
    stress = cases[..., :3].max(2) / z.h[:, None] + 6.0 * cases[..., 3:6].max(2) / z.h[:, None] ** 2
    most = float(np.quantile(stress.max(1), 0.95))
    if not most:
        yield WarningNote(
            f"zone {z.name}", "all results are zero", f"{len(z.labels)} points", "results of other elements"
        )
    elif not STRESS[0] < most < STRESS[1]:
        way = "no such concrete can carry" if most > 1.0 else "hardly stress it"
        yield WarningNote(
            f"zone {z.name}",
            f"results that {way}",
            Sentence(
                "5 % of the points have an elastic stress of {} or more from one case", Measure(most, "MPa", ".3g")
            ),
            "the unit of moment, membrane force or thickness",
        )


def _mesh(mesh: Mesh, project: Project) -> Iterator[WarningNote]:
    taken = np.zeros(len(mesh.element_ids), dtype=bool)
    for elements in elements_of_zones(project.job, mesh, Faults()).values():
        taken[elements] = True
    if not taken.all():
        yield WarningNote(
            "mesh",
            f"{(~taken).sum()} elements belong to no zone",
            f"elements {_list(mesh.element_ids[~taken])}; nothing is designed for them",
            "a group that no zone names",
        )
    used = np.unique(mesh.corners[mesh.corners >= 0])
    grain = 1e-6 * max(float(np.ptp(mesh.xyz[used], axis=0).max()), 1.0)
    _, first, place, count = np.unique(
        np.round(mesh.xyz[used] / grain), axis=0, return_index=True, return_inverse=True, return_counts=True
    )
    double = first[count > 1]
    if len(double):
        yield WarningNote(
            "mesh",
            f"{len(double)} places hold several nodes that are not joined",
            f"nodes {_list(mesh.node_ids[used[double]])}",
            "parts that are joined by links, or not at all",
        )
    at = np.where(mesh.corners >= 0, place.ravel()[np.searchsorted(used, mesh.corners)], -1)
    _, same, count = np.unique(np.sort(at, axis=1), axis=0, return_inverse=True, return_counts=True)
    over = (count > 1)[same.ravel()] & taken
    if over.any():
        yield WarningNote(
            "mesh",
            f"{over.sum()} elements lie on another one",
            f"elements {_list(mesh.element_ids[over])}; each is designed for its own part of the forces",
            "an element drawn twice, or a wall modelled in layers",
            grave=True,
        )


def _reactions(mesh: Mesh, project: Project) -> Iterator[WarningNote]:
    results = project.results
    if results.reactions is None:
        return
    signed = [i for i, c in enumerate(results.cases) if results.kinds[c].signed is not False]
    cases, corner = tuple(results.cases[i] for i in signed), _of_cases(results.corner, signed)
    found = balance(mesh, cases, corner, results.reactions)
    if found is None:
        return
    for name, part in (("membrane forces", found.membrane), ("shear forces", found.shear)):
        if np.isfinite(part) and not 0.8 < part < 1.25:
            k = int(np.linalg.norm(found.reactions, axis=1).argmax())
            r, f = found.reactions[k] / 1e3, found.results[k] / 1e3
            size = "the other sign" if part < 0.0 else _ratio(1 / part) if part > NOTHING else "far more than"
            yield WarningNote(
                "supports",
                f"{name} along the supported edges do not balance the reactions",
                f"{size} what {found.nodes} nodes ask for; case {found.cases[k]}: reactions "
                f"({r[0]:.4g}, {r[1]:.4g}, {r[2]:.4g}) kN, results ({f[0]:.4g}, {f[1]:.4g}, {f[2]:.4g}) kN",
                f"the unit or sign of the {name}, or a unit of length",
            )


def _missing(project: Project) -> Iterator[WarningNote]:
    for table, notes in project.results.notes.items():
        for note in notes:
            if "left out" in note or "no row" in note or "results at" in note or "Windows" in note:
                usual = "gaps of the export" if "row" in note else ""
                yield WarningNote(
                    f"table {table}", "not all of it is used as it stands", note.partition(": left")[0], usual
                )
