"""Storeys: levels that are given, or found where floors meet the walls."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.model.mesh import Mesh
from sandwich.model.walls.panels import LEAN, lean

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
ONE_LEVEL: Final = 200.0  # mm between edges that are one level
LEVEL: Final = 0.02  # slope of an edge that counts as level


@dataclass(frozen=True)
class Storey:
    """One storey: name, level below and above [mm], whether it is part of the basement."""

    name: str
    low: float
    high: float
    basement: bool = False


def levels_found(mesh: Mesh, walls: Ints) -> Floats:
    """Levels of walls [mm]: their foot, their top, and the level edges where floors meet them, rising.

    Parameters
    ----------
    mesh : Mesh
        The mesh.
    walls : ndarray of int, shape (e,)
        Elements of all walls.

    Returns
    -------
    ndarray, shape (l,)
        Two or more.
    """
    z = mesh.xyz[np.unique(mesh.corners[walls][mesh.corners[walls] >= 0]), 2]
    found = [z.min(), z.max()]
    floors = np.flatnonzero(lean(mesh, np.arange(len(mesh.element_ids))) > np.sqrt(1.0 - LEAN**2))
    own = mesh.edges
    in_wall = np.bincount(own.edge, np.isin(own.owner, walls), len(own.nodes)) > 0
    in_floor = np.bincount(own.edge, np.isin(own.owner, floors), len(own.nodes)) > 0
    ends = mesh.xyz[own.nodes[in_wall & in_floor]]
    way = ends[:, 1] - ends[:, 0]
    level = np.abs(way[:, 2]) <= LEVEL * np.linalg.norm(way, axis=1)
    heights = np.sort(np.concatenate([found, ends[level].mean(1)[:, 2]]))
    groups = np.split(heights, np.flatnonzero(np.diff(heights) > ONE_LEVEL) + 1)
    return np.array([np.median(g) for g in groups])


def storeys_of(levels: Sequence[float], names: Sequence[str] = (), basement: float | None = None) -> list[Storey]:
    """Storeys between levels [mm], from below; those that end at or below `basement` are its part.

    Raises
    ------
    ValueError
        If levels do not rise, there is not one name a storey, or no storey is of the basement.
    """
    if len(levels) < 2 or any(b <= a for a, b in itertools.pairwise(levels)):
        raise ValueError("the levels do not rise; give two or more, each above the last")
    if names and len(names) != len(levels) - 1:
        raise ValueError(f"{len(levels) - 1} storeys and {len(names)} names; give one name a storey, from below")
    if len(set(names)) < len(names):
        raise ValueError(f"two storeys are called '{max(names, key=names.count)}'; give each a name of its own")
    own = names or [f"storey {i + 1}" for i in range(len(levels) - 1)]
    under = -np.inf if basement is None else basement + 1.0
    if basement is not None and levels[1] > under:
        raise ValueError(f"no storey ends at or below the basement's {basement / 1e3:g} m; give one of the levels")
    return [Storey(n, float(a), float(b), b <= under) for n, a, b in zip(own, levels[:-1], levels[1:], strict=True)]
