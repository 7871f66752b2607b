"""Where points lie inside the footprint of a support, or within an effective depth of its face."""

from __future__ import annotations

from typing import Final, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from sandwich.model.mesh import Mesh, frame

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
INSIDE: Final = 2  # state of a point inside the footprint of a support
UPRIGHT: Final = 10.0  # mm by which a column may lean
_MEETS: Final = np.cos(np.radians(30.0))  # elements that turn off by more than this hold a surface up


Place = tuple[float, float, float]


class Wall(NamedTuple):
    """A wall or beam under a surface: a line [m] and its width [mm]."""

    line: tuple[Place, ...]
    width: float


class LoadedArea(NamedTuple):
    """A column or loaded area: its middle and the direction of side c1 [m]; sides or diameter [mm]."""

    at: Place
    along: Place
    c1: float | None = None
    c2: float | None = None
    diameter: float | None = None


class Footprint(NamedTuple):
    """A support: place, three axes (x, y, normal), plan [mm]; depths from its face within which it carries shear."""

    origin: Floats
    axes: Floats
    area: BaseGeometry
    reach: float = 1.0


def support_states(xyz: Floats, normals: Floats, depth: Floats, footprints: list[Footprint]) -> Ints:
    """State of each point: 0 free, 1 within an effective depth (or its reach) of a support, 2 inside one.

    Parameters
    ----------
    xyz, normals : ndarray, shape (p, 3)
        Places [mm] and normals of the points.
    depth : ndarray, shape (p,)
        Effective depth [mm].
    footprints : list of Footprint
        Supports.
    """
    out = np.zeros(len(xyz), dtype=np.int64)
    for origin, axes, area, reach in footprints:
        away = (xyz - origin) @ axes.T
        near = (np.abs(away[:, 2]) < depth) & (np.abs(normals @ axes[2]) > _MEETS)
        distance = np.full(len(xyz), np.inf)
        distance[near] = shapely.distance(area, shapely.points(away[near, 0], away[near, 1]))
        out = np.maximum(out, np.where(distance <= 1.0, INSIDE, np.where(distance <= reach * depth, 1, 0)))
    return out


def along_lines(walls: list[Wall], xyz: Floats, normals: Floats) -> list[Footprint]:
    """Footprints of walls and beams given as lines with a width."""
    out = []
    for s in walls:
        line = 1e3 * np.array(s.line, dtype=float)
        normal = normals[int(np.linalg.norm(xyz - line[0], axis=1).argmin())]
        axes = frame(line[1] - line[0], normal)
        out.append(
            Footprint(
                line[0], axes, shapely.LineString((line - line[0]) @ axes[:2].T).buffer(s.width / 2, cap_style="flat")
            )
        )
    return out


def under_areas(areas: list[LoadedArea], xyz: Floats, normals: Floats, reach: float) -> list[Footprint]:
    """Footprints of the columns and loaded areas of a zone; up to `reach` depths from them punching is checked."""
    out: list[Footprint] = []
    for of in areas:
        origin = 1e3 * np.array(of.at, dtype=float)
        normal = normals[int(np.linalg.norm(xyz - origin, axis=1).argmin())]
        along = np.asarray(of.along, dtype=float)
        if np.linalg.norm(np.cross(along, normal)) < 1e-6:  # named where the place itself is read
            continue
        axes = frame(along, normal)
        if of.diameter is not None:
            out.append(Footprint(origin, axes, shapely.Point(0.0, 0.0).buffer(of.diameter / 2), reach))
        elif of.c1 is not None and of.c2 is not None:
            area = shapely.box(-of.c1 / 2, -of.c2 / 2, of.c1 / 2, of.c2 / 2)
            out.append(Footprint(origin, axes, area, reach))
    return out


def _meeting(mesh: Mesh, elements: Ints) -> tuple[Ints, Ints]:
    """Sides of elements that cross those of a zone at an edge, by number, and the element of the zone at each side."""
    edge, owner = mesh.edges.edge, mesh.edges.owner
    own = np.isin(owner, elements)
    slab = np.full(len(mesh.edges.nodes), -1)
    slab[edge[own]] = owner[own]
    of = slab[edge]
    crossing = np.abs(np.sum(mesh.axes[owner, 2] * mesh.axes[of, 2], axis=1)) < _MEETS
    return np.flatnonzero(~own & (of >= 0) & crossing), of


def ends_of_walls(mesh: Mesh, elements: Ints) -> Ints:
    """Nodes inside a zone at which walls that meet it in the mesh end."""
    pairs, edge = mesh.edges.nodes, mesh.edges.edge
    meets, _ = _meeting(mesh, elements)
    nodes, times = np.unique(pairs[np.unique(edge[meets])], return_counts=True)
    sides = np.bincount(edge[np.isin(mesh.edges.owner, elements)], minlength=len(pairs))
    return np.setdiff1d(nodes[times == 1], pairs[sides == 1])


def over_feet(mesh: Mesh, corners: Ints, supported: Ints) -> Ints:
    """Nodes that are supported, and those of some elements straight over a support outside the mesh."""
    own = np.unique(corners[corners >= 0])
    feet = np.setdiff1d(supported, np.unique(mesh.corners[mesh.corners >= 0]))
    plan, foot = (np.round(mesh.xyz[of, :2] / UPRIGHT) @ np.array([1.0, 1.0j]) for of in (own, feet))
    return np.concatenate([supported, own[np.isin(plan, foot)]])


def standing_alone(corners: Ints, held: Ints) -> Ints:
    """Nodes of some elements, of those that are held, which share no element with another such node."""
    at = np.isin(corners, held) & (corners >= 0)
    each = at.sum(1)[:, None]
    return np.setdiff1d(corners[at & (each == 1)], corners[at & (each > 1)])


def found_in_mesh(mesh: Mesh, elements: Ints, h: Floats) -> list[Footprint]:
    """Footprints of the walls that meet the elements of a zone in the mesh: edges shared, as wide as the wall is thick.

    `h` is the thickness of every element of the mesh [mm]; nan where none is known, which counts as nothing.
    """
    pairs, edge, owner = mesh.edges.nodes, mesh.edges.edge, mesh.edges.owner
    meets, of = _meeting(mesh, elements)
    out = []
    for i in meets:
        a, b = mesh.xyz[pairs[edge[i]]]
        axes = frame(b - a, mesh.axes[of[i], 2])
        length = float(np.linalg.norm(b - a))
        half = float(np.nan_to_num(h[owner[i]])) / 2
        out.append(Footprint(a, axes, shapely.LineString([(0.0, 0.0), (length, 0.0)]).buffer(half, cap_style="flat")))
    return out
