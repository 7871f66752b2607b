"""Coupling beams: what the standard looks at."""

from __future__ import annotations

from dataclasses import dataclass

from sandwich.standards.interface.seismic import SeismicDemand
from sandwich.standards.interface.walls import WallPart


@dataclass(frozen=True)
class LaidDiagonals:
    """Diagonals of a coupling beam with their ties.

    Attributes
    ----------
    area, diameter : float
        Of the bars of one diagonal [mm2], and of one of them [mm].
    count : int
        Bars of one diagonal.
    alpha : float
        Angle between them and the axis of the beam [rad].
    d_tie, spacing : float
        Of the ties [mm].
    whole : bool
        Whether the ties go round the whole beam, or round each diagonal.
    legs : tuple of int
        Legs across the depth and across the width of what they go round.
    core : tuple of float
        Width and depth of that, from outside to outside of the ties [mm].
    apart : float
        Largest distance between legs [mm].
    """

    area: float
    diameter: float
    count: int
    alpha: float
    d_tie: float
    spacing: float
    whole: bool
    legs: tuple[int, int]
    core: tuple[float, float]
    apart: float


@dataclass(frozen=True)
class CouplingBeam:
    """A lintel of a seismic wall as a coupling beam.

    Attributes
    ----------
    part : WallPart
        As its shear looks at it: length is its depth, height its clear span.
    A_s : float
        Bars of each chord [mm2].
    cover : float
        To the links [mm].
    V, V_g : float
        Largest shear of the seismic combinations, and what the loads beside the earthquake give of it [N].
    asked : SeismicDemand
        Settings.
    laid : LaidDiagonals, optional
        Its diagonals.
    spans : tuple of float
        Largest span over depth of the coupling beams of each level of the wall [-].
    """

    part: WallPart
    A_s: float
    cover: float
    V: float
    V_g: float
    asked: SeismicDemand
    laid: LaidDiagonals | None = None
    spans: tuple[float, ...] = ()


@dataclass(frozen=True)
class CouplingNeed:
    """Whether a coupling beam has to have diagonals, or may have them: the shear held against its limit [N]."""

    required: bool
    allowed: bool
    limit: float
    clause: str
