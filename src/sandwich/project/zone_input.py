"""What the design of a zone starts from: its section, bars and resultants at points, and its surface."""

from __future__ import annotations

from dataclasses import asdict, dataclass

import numpy as np

from sandwich.design.averaging import AveragingStrips
from sandwich.design.settings import LinkRule, Settings
from sandwich.job.zone import Zone
from sandwich.model.averaging import Averaged
from sandwich.model.held_edges import PatchEdges
from sandwich.model.mesh import Mesh
from sandwich.model.points import Points, directions_at
from sandwich.model.zones import Orientation
from sandwich.standards.interface import Standard


@dataclass(frozen=True, eq=False)  # itself and no other: what is made from it is kept by it
class Surface:
    """A zone on its mesh.

    Attributes
    ----------
    mesh : Mesh
        The whole mesh.
    elements : ndarray of int, shape (e,)
        Elements of the zone.
    orientation : Orientation
        Their way into the bar directions.
    points : Points
        The points that their corners make.
    held : PatchEdges or None
        Sides of elements to whose held edge moments are carried.
    low : ndarray, shape (p, columns), or None
        What moments of points at other edges lack in each case, should these be held [N].
    uncarried : ndarray, shape (p, columns, 8), or None
        The cases as they came, where moments are carried.
    """

    mesh: Mesh
    elements: np.ndarray
    orientation: Orientation
    points: Points
    held: PatchEdges | None = None
    low: np.ndarray | None = None
    uncarried: np.ndarray | None = None

    @property
    def corners(self) -> np.ndarray:
        """Nodes of the elements, (e, 4), -1 for the fourth of a triangle."""
        return np.asarray(self.mesh.corners[self.elements])

    @property
    def corner_points(self) -> np.ndarray:
        """Points of the corners, (e, 4), -1 for the fourth of a triangle."""
        return self.points.of_corners(len(self.elements))

    def bars_at(self, place: np.ndarray) -> np.ndarray:
        """Directions of the x bars, the y bars and the normal, (3, 3), at a place [mm]."""
        return directions_at(self.mesh, self.elements, self.orientation.bars, place)


@dataclass(frozen=True)
class ZoneInput:
    """A zone ready for design: its points and what they were made from; `surface` is None for a bare table."""

    name: str
    zone: Zone
    labels: np.ndarray
    xyz: np.ndarray
    h: np.ndarray
    one_sided: np.ndarray
    size: np.ndarray
    cases: np.ndarray
    surface: Surface | None = None
    averaged: Averaged | None = None
    raw: np.ndarray | None = None
    support: np.ndarray | None = None
    strips: AveragingStrips | None = None
    turn: np.ndarray | None = None

    @property
    def on_mesh(self) -> Surface:
        """Its surface, of a zone that has one.

        Raises
        ------
        LookupError
            For a bare table.
        """
        if self.surface is None:
            raise LookupError(f"zone '{self.name}' is a bare table and has no surface")
        return self.surface

    def settings(self, standard: Standard) -> Settings:
        """What the design of the zone needs."""
        return settings_of(self.zone, standard)

    def settings_at(self, i: int, standard: Standard) -> Settings:
        """The same at one point, whose top bars may run in a direction of their own."""
        return self.settings(standard).turned(0.0 if self.turn is None else float(self.turn[i]))


def _own_minimum(zone: Zone, names: tuple[str, ...]) -> tuple[float, ...]:
    """Own minimum steel of each layer [mm2/mm], none without one."""
    asked = zone.limits.minimum_steel if zone.limits is not None else {}
    if isinstance(asked, float):
        return (asked / 1e3,) * len(names)
    return tuple(asked.get(name, 0.0) / 1e3 for name in names) if asked else ()


def settings_of(zone: Zone, standard: Standard) -> Settings:
    """What the design of a zone needs of its settings."""
    faces = zone.faces.bottom, zone.faces.top
    layers = zone.bars.layers()
    links = LinkRule(**asdict(zone.links)) if zone.links is not None else None
    return Settings(
        bars=layers,
        concrete=zone.concrete,
        steel=zone.steel,
        standard=standard,
        method=zone.method,
        minimum=zone.minimum,
        vertical=zone.vertical,
        faces=faces,
        joint=zone.joint,
        links=links,
        uncracked=zone.uncracked,
        shear_steel=zone.shear_steel,
        compression=zone.compression_bars,
        eccentricity=zone.minimum_eccentricity,
        own_minimum=_own_minimum(zone, layers.names(*faces)),
    )
