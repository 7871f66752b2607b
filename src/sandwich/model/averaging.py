"""Peaks averaged over a width: where fields are singular a section carries its total, not its highest point."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.core.resultants import rotate
from sandwich.mechanics.cuts import Pieces, sides
from sandwich.model.mesh import Mesh, edges
from sandwich.model.points import Points, directions_at, split_both_ways
from sandwich.model.supports import ends_of_walls

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
FLAT = np.cos(np.radians(15.0))
ALIKE = 1e-4  # of distances in mm: peaks that are equally near
CORNER = np.radians(200.0)  # inner angle from which a corner counts as re-entrant


@dataclass(frozen=True)
class Averaged:
    """Points whose resultants are averages, and the peak each belongs to.

    Attributes
    ----------
    cases : ndarray, shape (p, c, 8)
        Resultants with the averages in place [N, mm].
    point : ndarray of int, shape (a,)
        Points that were averaged.
    peak : ndarray of int, shape (a,)
        Number of the peak of each.
    places : ndarray, shape (n, 3)
        Places of the peaks [mm].
    """

    cases: Floats
    point: Ints
    peak: Ints
    places: Floats


def find_peaks(mesh: Mesh, elements: Ints, supported: Ints) -> Floats:
    """Places of a zone where fields of a linear analysis are singular.

    Parameters
    ----------
    mesh : Mesh
        Geometry.
    elements : ndarray of int
        Elements of the zone.
    supported : ndarray of int
        Nodes with reactions.

    Returns
    -------
    ndarray, shape (n, 3)
        Re-entrant corners of edges and openings, supports inside, ends of walls that join inside [mm].
    """
    corners = mesh.corners[elements]
    real = corners >= 0
    angle = np.zeros(len(mesh.node_ids))
    count = real.sum(1)
    for c in range(4):
        use = np.flatnonzero(real[:, c])
        before = np.where(c > 0, c - 1, count[use] - 1)
        after = np.where(c + 1 < count[use], c + 1, 0)
        at = mesh.xyz[corners[use, c]]
        u, v = mesh.xyz[corners[use, before]] - at, mesh.xyz[corners[use, after]] - at
        cosine = np.sum(u * v, axis=1) / (np.linalg.norm(u, axis=1) * np.linalg.norm(v, axis=1))
        np.add.at(angle, corners[use, c], np.arccos(np.clip(cosine, -1.0, 1.0)))
    around = edges(corners)
    border = np.unique(around.nodes[around.sides == 1])
    own = np.unique(corners[real])
    inner = np.setdiff1d(own, border)
    reentrant = border[angle[border] > CORNER]
    columns = np.intersect1d(inner, supported)
    found = np.concatenate([reentrant, columns, ends_of_walls(mesh, elements)]).astype(np.int64)
    return np.unique(mesh.xyz[found], axis=0)


def average_peaks(
    mesh: Mesh, elements: Ints, points: Points, bars: Floats, cases: Floats, places: Floats, width: float
) -> Averaged:
    """Replace the resultants near some peaks by their averages over a width.

    At each point within half the width of a peak, n, m and v of the x bars are averaged along y over the width
    centred at the peak, those of the y bars along x, and twist and shear in plane over both: what a section of that
    width carries stays the same.

    Parameters
    ----------
    mesh : Mesh
        Geometry.
    elements : ndarray of int, shape (e,)
        Elements of the zone.
    points : Points
        Points of the zone.
    bars : ndarray, shape (e, 3, 3)
        Directions of its elements.
    cases : ndarray, shape (p, c, 8)
        Resultants at the points [N, mm].
    places : ndarray, shape (n, 3)
        Peaks [mm].
    width : float
        Width [mm]; what lies outside the zone does not count, and beside an opening the narrower side counts.

    Returns
    -------
    Averaged
        With a point near two peaks averaged about the nearer one, or about both where none is.
    """
    nodes = mesh.corners[elements]
    real = nodes >= 0
    at = points.of_corners(len(nodes))
    at = np.where(real, at, at[:, 2:3])
    nodes = np.where(real, nodes, nodes[:, 2:3])
    out = cases.copy()
    done: dict[int, list[tuple[int, Floats]]] = {}
    away = np.linalg.norm(points.xyz[:, None] - places[None], axis=2) if len(places) else np.zeros((len(out), 0))
    nearest = away.min(1, initial=np.inf) * (1.0 + ALIKE) + ALIKE
    for k, place in enumerate(places):
        axes = directions_at(mesh, elements, bars, place)
        near = (bars[:, 2] @ axes[2] > FLAT) & (np.linalg.norm(mesh.centres[elements] - place, axis=1) < 2.5 * width)
        if not near.any():
            continue
        flat = np.stack([(mesh.xyz[nodes[near]] - place) @ axes[0], (mesh.xyz[nodes[near]] - place) @ axes[1]], -1)
        triangles, of = split_both_ways(flat), split_both_ways(at[near])
        used = np.unique(of)
        turn = np.arctan2(points.bars[used, 0] @ axes[1], points.bars[used, 0] @ axes[0])
        own = rotate(cases[used], -turn[:, None])
        inner = np.abs((points.xyz[used] - place) @ axes[2]) < 0.05 * width
        half = width / 2
        for j in np.flatnonzero(inner & (away[used, k] <= nearest[used])):
            x, y = (points.xyz[used[j]] - place) @ axes[:2].T
            if max(abs(x), abs(y)) > half * (1 + 1e-9):
                continue
            means = []
            for a, b in (((x, -half), (x, half)), ((-half, y), (half, y))):
                means.append(_mean(sides(triangles, np.array(a), np.array(b)), used, of, own))
            mixed = (means[0] + means[1]) / 2
            mixed[:, [0, 3, 6]], mixed[:, [1, 4, 7]] = means[0][:, [0, 3, 6]], means[1][:, [1, 4, 7]]
            done.setdefault(int(used[j]), []).append((k, rotate(mixed, turn[j])))
    for p, each in done.items():
        out[p] = np.mean([mean for _, mean in each], axis=0)
    point = np.array(sorted(done), dtype=np.int64)
    return Averaged(out, point, np.array([done[int(p)][0][0] for p in point], dtype=np.int64), places)


def _mean(both: tuple[Pieces, Pieces], used: Ints, of: Ints, own: Floats) -> Floats:
    """Mean over a cut, (c, 8): of both sides, or of the one with less concrete where an edge runs along it."""
    there = [p for p in both if p.length > 0.0]
    least = min(p.length for p in there)
    means = [
        np.einsum("qc,qckf->kf", p.weights, own[np.searchsorted(used, of[p.triangle])]) / p.length
        for p in there
        if p.length < 1.01 * least
    ]
    return np.asarray(np.mean(means, axis=0))
