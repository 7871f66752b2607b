"""Cuts through the mesh of one wall, carried to the places they are meant for."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.mechanics.spacecuts import SpaceCut, cut_by_plane, cut_forces, frame_of, nodal_cut_forces
from sandwich.model.mesh import Mesh
from sandwich.model.walls.storeys import Storey
from sandwich.work.walls.layout import LaidWall
from sandwich.work.walls.stations import UP

Floats = NDArray[np.float64]
WHOLE: Final = 0.999  # of an element: less of it tells nothing of the forces at its nodes
EVEN: Final = 1e-3  # of length and area: two cuts through the same
LIKE: Final = 0.35  # between slopes of three cuts that follow each other: what changes so is spread evenly
Carried = tuple[Floats, Floats, Floats, float]  # forces, centroid, axes, area


class Cutter:
    """Cuts of one wall through its mesh."""

    def __init__(
        self, wall: LaidWall, mesh: Mesh, corner: Floats, storeys: tuple[Storey, ...], nodal: Floats | None = None
    ) -> None:
        self.wall, self.mesh, self.storeys = wall, mesh, storeys
        corners = mesh.corners[wall.elements]
        self.real = corners >= 0
        self.xyz = mesh.xyz[corners]
        self.axes = mesh.axes[wall.elements]
        self.values = corner[:, wall.elements]
        self.nodal = None if nodal is None else nodal[:, wall.elements]
        of = np.full(len(mesh.element_ids), -1)
        for i, panel in enumerate(wall.panels):
            of[panel.elements] = i
        self.panel = of[wall.elements]
        self.size = mesh.sizes[wall.elements]
        self._levels: dict[float, SpaceCut | None] = {}

    def has_nodal(self, signed: list[bool]) -> bool:
        """Whether nodal forces are whole, or there is no table of them; what cases without signs lack is zero."""
        if self.nodal is None:
            return True
        whole = np.isfinite(self.nodal[signed]).all((0, 3))
        self.nodal = np.nan_to_num(self.nodal)
        return bool((whole | ~self.real).all())

    def level(self, z: float) -> SpaceCut | None:
        """The level cut at a height, None where nothing stands."""
        if z not in self._levels:
            try:
                self._levels[z] = cut_by_plane(self.xyz, self.real, self.axes, [0.0, 0.0, z], UP)
            except ValueError:
                self._levels[z] = None
        return self._levels[z]

    def half(self, panel: int, axis: int, place: float, inwards: float) -> float:
        """Half of the usual size, upwards (1) or along (0), of elements on the inner side of a place."""
        p = self.wall.panels[panel]
        low, high = ((p.s, p.z)[axis].min(1), (p.s, p.z)[axis].max(1))
        on = (low < place + inwards - 1e-6) & (high > place + inwards + 1e-6)
        size = (high - low)[on] if on.any() else high - low
        return float(np.median(size)) / 2.0

    def inwards(self, cuts: list[SpaceCut], first: Floats, to: Floats) -> Carried:
        """Forces carried to a plane from the nearest cut, and as they change from those further inside to it.

        What is spread over the wall, such as its weight or a pressure, changes evenly from cut to cut; where more comes
        in between them, as from a floor, the nearest cut counts alone.
        """
        near, centroid, axes, area = self.forces(cuts[0], first, to)
        further = []
        for cut in cuts[1:]:
            values, place, _, other = self.forces(cut, first, to)
            if abs(other / area - 1.0) > EVEN or np.linalg.norm(place - centroid) > 1.0:
                break
            further.append(values)
        if len(further) < 2:  # two cuts do not tell what is spread from what comes in at a place
            return near, centroid, axes, area
        d = [abs(float((to - c.point) @ c.normal)) for c in cuts]
        slope, next_ = (near - further[0]) / (d[1] - d[0]), (further[0] - further[1]) / (d[2] - d[1])
        even = np.abs(slope - next_) <= LIKE * np.maximum(np.abs(slope), np.abs(next_))
        return near + np.where(even, slope * d[0], 0.0), centroid, axes, area

    def forces(self, cut: SpaceCut, first: Floats, to: Floats) -> Carried:
        """Forces of all cases about the centroid carried along the normal to a plane, centroid there, axes, area."""
        exact = self._by_nodes(cut, first, to)
        if exact is not None:
            return exact
        f = cut_forces(cut, self.xyz, self.real, self.axes, self.wall.thickness, self.values, first)
        way = float((to - f.centroid) @ cut.normal)
        # the piece between both planes is in equilibrium: its shear bends, what loads it is left out
        cases = np.stack([f.N, f.V1, f.V2, f.M1 + way * f.V2, f.M2 - way * f.V1, f.T], axis=1)
        return cases, f.centroid + way * cut.normal, f.axes, f.area

    def _by_nodes(self, cut: SpaceCut, first: Floats, to: Floats) -> Carried | None:
        """The same from the forces of the nodes on the elements, where these are there and the cut takes whole ones."""
        cut = cut.picked(cut.share > 1.0 - WHOLE)
        if self.nodal is None or not len(cut.element) or (cut.share < WHOLE).any():
            return None
        centroid, area = cut.centroid(self.wall.thickness)
        centroid = centroid + float((to - centroid) @ cut.normal) * cut.normal
        axes = frame_of(cut, first)
        force, moment = nodal_cut_forces(cut, self.xyz, self.real, self.nodal, centroid)
        (v1, v2, n), (m1, m2, t) = ((v @ axes.T).T for v in (force, moment))
        return np.stack([n, v1, v2, m1, m2, t], axis=1), centroid, axes, area
