"""Sections of walls with their forces: by case, and under combinations."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Row
from sandwich.model.walls.outline import Stretch
from sandwich.model.walls.panels import Panel
from sandwich.model.walls.parts import Part
from sandwich.work.walls.layout import LaidWall, Walls

Floats = NDArray[np.float64]
UP: Final = np.array([0.0, 0.0, 1.0])
SHARE: Final = "share of"
SHORT: Final = 1e-3  # of the length of a curved part: less is no chord
FORCES: Final = ("N", "V1", "V2", "M1", "M2", "T")


@dataclass(frozen=True)
class Station:
    """One section and its forces.

    Attributes
    ----------
    wall, storey, part : str
        Where it is; `part` is that of a `Part` with its panel, or 'section 1' of a whole connected section.
    kind : str
        Kind of the part, or 'section'.
    at : str
        'bottom', 'top', 'between', 'left', 'right', 'middle'.
    place : float
        Height, or the place along the panel of an upright cut [mm].
    centroid : ndarray, shape (3,)
        Of the section [mm], at `place`.
    axes : ndarray, shape (3, 3)
        First and second axis and the normal.
    area : float
        Of the section [mm2].
    runs : tuple of Stretch
        Stretches that make the section.
    one_sided : float
        Part of the section whose results come from one side [-].
    cases : ndarray, shape (c, 6)
        N, V1, V2, M1, M2, T of each case about the centroid [N, N mm]; magnitudes of a spectrum.
    part_of : Part or None
        The part.
    by : str
        Where the forces come from: 'cut', 'given', or 'share of' a section that is given.
    """

    wall: str
    storey: str
    part: str
    kind: str
    at: str
    place: float
    centroid: Floats
    axes: Floats
    area: float
    runs: tuple[Stretch, ...]
    one_sided: float
    cases: Floats
    part_of: Part | None = None
    by: str = "cut"

    @property
    def is_share(self) -> bool:
        """Whether its forces are a share of those of a section."""
        return self.by.startswith(SHARE)

    @property
    def key(self) -> tuple[str, str, str]:
        """Wall, storey and part."""
        return self.wall, self.storey, self.part


@dataclass(frozen=True)
class CombinedForces:
    """Forces of one station under combinations, (k, 6), and the magnitudes that act with any sign, (k, 6)."""

    steady: Floats
    either: Floats

    @property
    def range(self) -> tuple[Floats, Floats]:
        """Smallest and largest, (k, 6)."""
        return self.steady - self.either, self.steady + self.either


@dataclass(frozen=True)
class WallCuts:
    """All stations of all walls, and how cases are combined at them."""

    walls: Walls
    stations: tuple[Station, ...]
    case_names: tuple[str, ...]
    rows: tuple[Row, ...]
    factors: Floats
    either: NDArray[np.bool_]

    def combined(self, station: Station) -> CombinedForces:
        """Forces of a station under all combinations."""
        signed = self.factors * ~self.either
        magnitude = np.abs(self.factors) * self.either
        return CombinedForces(signed @ station.cases, magnitude @ np.abs(station.cases))

    def frame(self) -> pd.DataFrame:
        """One row a station and case."""
        c = len(self.case_names)
        heads = {
            "wall": [s.wall for s in self.stations], "storey": [s.storey for s in self.stations],
            "part": [s.part for s in self.stations], "kind": [s.kind for s in self.stations],
            "at": [s.at for s in self.stations], "place [m]": [s.place / 1e3 for s in self.stations],
            "by": [s.by for s in self.stations], "one-sided [%]": [100.0 * s.one_sided for s in self.stations],
        }  # fmt: skip
        out = pd.DataFrame({k: np.repeat(np.array(v, dtype=object), c) for k, v in heads.items()})
        out["place [m]"], out["one-sided [%]"] = out["place [m]"].astype(float), out["one-sided [%]"].astype(float)
        out["case"] = np.tile(np.array(self.case_names, dtype=object), len(self.stations))
        values = np.concatenate([s.cases for s in self.stations]) if self.stations else np.zeros((0, 6))
        for i, name in enumerate(FORCES):
            unit, scale = ("kN", 1e-3) if i < 3 else ("kNm", 1e-6)
            out[f"{name} [{unit}]"] = values[:, i] * scale
        return out


def moved(cases: Floats, axes: Floats, old: Floats, new: Floats) -> Floats:
    """Forces (c, 6) about another place: N, V1, V2, M1, M2, T."""
    force = cases[:, [1, 2, 0]] @ axes
    moment = cases[:, 3:] @ axes + np.cross(old - new, force)
    own = moment @ axes.T
    return np.concatenate([cases[:, :3], own], axis=1)


def part_axes(panel: Panel, a: float, b: float, *, upright: bool) -> Floats:
    """Axes of a section of a part between two stations: along the panel and across it, or upwards and across it.

    Of a curved panel along its chord; the last is the normal.
    """
    start, end = panel.place([a, b])[0]
    reach = float(np.linalg.norm(end - start))
    curved = not panel.straight and reach > SHORT * (b - a)  # a ring has no chord
    way = np.array([*((end - start) / reach if curved else panel.place((a + b) / 2.0)[1]), 0.0])
    first, normal = (way, UP) if upright else (UP, way)
    return np.stack([first, np.cross(normal, first), normal])


def section_axes(wall: LaidWall) -> Floats:
    """Axes of whole sections: along the longest straight panel, as it lies nearest to x, and across it; upwards."""
    straight = [p for p in wall.panels if p.straight]
    way = max(straight or wall.panels, key=lambda p: p.length).place(0.0)[1]
    first = np.array([*(way if abs(way[0]) > abs(way[1]) else [way[1], -way[0]]), 0.0])
    first = first * np.sign(first[0] or 1.0)
    return np.stack([first, np.cross(UP, first), UP])
