"""Meshes of walls with openings, and of cores of several panels, for tests."""

import numpy as np

from sandwich.model.mesh import Mesh, corner_axes


def mesh_of(panels, height, step, holes=None, rise=None):
    """A mesh of panels given by lines of places in plan, their elements numbered panel by panel.

    `holes` has boxes (a, b, low, high) by the number of the panel; `rise` turns and moves all places.
    """
    places, corners = {}, []
    rows = round(height / step)
    for p, given in enumerate(panels):
        line = np.asarray(given, dtype=float)
        length = np.linalg.norm(np.diff(line, axis=0), axis=1)
        along = np.concatenate([[0.0], np.cumsum(length)])
        count = round(along[-1] / step)
        at = np.linspace(0.0, along[-1], count + 1)
        xy = np.stack([np.interp(at, along, line[:, i]) for i in (0, 1)], axis=1)

        def node(i, k, xy=xy):
            key = (*np.round(xy[i], 3), round(k * step, 3))
            return places.setdefault(key, len(places))

        for i in range(count):
            for k in range(rows):
                s, z = (at[i] + at[i + 1]) / 2, (k + 0.5) * step
                if any(a < s < b and low < z < high for a, b, low, high in (holes or {}).get(p, ())):
                    continue
                corners.append([node(i, k), node(i + 1, k), node(i + 1, k + 1), node(i, k + 1)])
    xyz = np.array(list(places), dtype=float)
    if rise is not None:
        xyz = xyz @ rise.T
    c = np.array(corners)
    none = np.array([""] * len(c))
    return Mesh(np.arange(len(xyz)), xyz, np.arange(len(c)), c, np.full(len(c), 200.0), none, corner_axes(xyz, c))
