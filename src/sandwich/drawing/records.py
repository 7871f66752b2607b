"""What pictures other than maps show, as numbers: the model in space, diagrams, plans of slabs, cracked sections."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ModelDescription:
    """Zones in space.

    Attributes
    ----------
    polygons : list of ndarray, shape (e, 4, 3)
        Corner places of the elements of each zone [m].
    names : list of str
        Names of the zones.
    title : str
        What is written.
    normals : list of ndarray, shape (e, 3), or None
        Some of them are drawn as lines.
    """

    polygons: list[Floats]
    names: list[str]
    title: str
    normals: list[Floats] | None = None


@dataclass(frozen=True)
class DiagramDescription:
    """Diagrams under each other over one axis.

    Attributes
    ----------
    title, note : str
        What is written.
    s : ndarray, shape (n,)
        Stations [m].
    panels : list
        Label with unit, and values (n, k) of each panel.
    along : str
        Label of the axis.
    """

    title: str
    note: str
    s: Floats
    panels: list[tuple[str, Floats]]
    along: str = "s along the strip [m]"


@dataclass(frozen=True)
class PlaceDescription:
    """One place in plan [m].

    Attributes
    ----------
    name, told : str
        Its name, and what is written beside it.
    area : ndarray, shape (v, 2)
        Corners of the loaded area.
    perimeter, behind : ndarray, shape (s, 2, 2)
        Pieces of the control perimeter, and pieces of it that lie behind openings.
    rows : ndarray, shape (s, 2, 2)
        Pieces of the perimeters of reinforcement.
    use : float
        Maximum utilisation without reinforcement [-].
    fails : bool
        Whether a check is exceeded.
    panel : bool
        Whether it is a drop panel, on which a column stands.
    """

    name: str
    told: str
    area: NDArray[np.float64]
    perimeter: NDArray[np.float64]
    behind: NDArray[np.float64]
    rows: NDArray[np.float64]
    use: float
    fails: bool
    panel: bool = False


@dataclass(frozen=True)
class PlanDescription:
    """Places of one slab, the worst first; rings of its edges and openings in plan [m]."""

    title: str
    note: str
    rings: list[NDArray[np.float64]]
    places: list[PlaceDescription]
    axes: tuple[str, str] = ("x [m]", "y [m]")


@dataclass(frozen=True)
class SectionDescription:
    """A cracked section.

    Attributes
    ----------
    title, note : str
        What is written.
    z : ndarray, shape (n,)
        Heights over mid-depth [mm].
    strain, concrete : ndarray, shape (n,)
        Strain across the crack [1e-3] and smaller principal stress of the concrete [MPa] there.
    bars : list
        Height [mm], diameter [mm], name, stress [MPa] and whether the crack crosses it at its face, each layer.
    pressed, effective : tuple of float
        From and to of the compressed depth along the crack's normal, and of the effective tension zone [mm].
    faces : tuple of str
        Names of bottom and top.
    """

    title: str
    note: str
    z: Floats
    strain: Floats
    concrete: Floats
    bars: list[tuple[float, float, str, float, bool]]
    pressed: tuple[float, float]
    effective: tuple[float, float]
    faces: tuple[str, str]
