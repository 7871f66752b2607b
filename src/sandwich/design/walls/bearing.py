"""Bearing walls with loads at their head and wind, a strip of a metre: first and second order, sections, steel."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.shown import Words
from sandwich.core.trace import clause
from sandwich.design.walls.bars import WallSteel
from sandwich.design.walls.checks import PartMaterials, slender_wall
from sandwich.design.walls.geometry import PartGeometry
from sandwich.design.walls.sections import SectionStrength
from sandwich.mechanics.planesection import PlaneSection
from sandwich.standards.interface import AlternativeWalls, MemberCheck, SlenderWall, Standard

Floats = NDArray[np.float64]
STRIP: Final = 1000.0  # mm
PLACES: Final = ("head", "middle", "foot")
ALTERNATIVE: Final = "alternative"  # method of second order at mid-height, ACI 318-19, 11.8
SPREAD: Final = 4.0  # thicknesses beside a bearing over which a point load spreads


@dataclass(frozen=True)
class HeadLoads:
    """Loads of k combinations on a metre of wall.

    Attributes
    ----------
    P, M : ndarray, shape (k,)
        Force at the head, compression positive [N], and its moment about mid-thickness, positive where it pulls the
        inner face [N mm].
    w, w_parapet : ndarray, shape (k,)
        Pressure on the wall and its parapet, positive inwards [N/mm], a metre wide.
    g : ndarray, shape (k,)
        Factor on its own weight [-].
    """

    P: Floats
    M: Floats
    w: Floats
    w_parapet: Floats
    g: Floats


@dataclass(frozen=True)
class BearingSection:
    """One section under k combinations: forces, first and second order moments, what is carried, utilisation, (k,)."""

    place: str
    N: Floats
    first: Floats
    moment: Floats
    capacity: Floats
    utilisation: Floats
    clause: str
    note: Words = ""


@clause("equilibrium; ACI 318-19, 11.2.3.1", formula="b = min(spacing, bearing + 4 t)")
def effective_width(spacing: float, bearing: float, t: float) -> float:
    """Length of a wall over which a point load acts.

    Parameters
    ----------
    spacing : float
        Between the loads [mm].
    bearing : float
        Length of the bearing [mm].
    t : float
        Thickness of the wall [mm].

    Returns
    -------
    effective_width : float
        Length [mm].

    References
    ----------
    ACI 318-19, 11.2.3.1; taken for other standards too.

    Examples
    --------
    >>> effective_width(3000.0, 200.0, 200.0)
    1000.0
    """
    return min(spacing, bearing + SPREAD * t)


@clause("equilibrium", formula="M = M_head/2 + w l^2/8 - w_p h_p^2/4")
def middle_moment(M_head: Floats, w: Floats, l: float, w_p: Floats, h_p: float) -> Floats:
    """Moment at mid-height of a wall hinged at its foot and head.

    Parameters
    ----------
    M_head : ndarray
        Moment of the loads at the head [N mm].
    w : ndarray
        Pressure on the wall [N/mm].
    l : float
        Height [mm].
    w_p : ndarray
        Pressure on the parapet [N/mm].
    h_p : float
        Height of the parapet [mm].

    Returns
    -------
    middle_moment : ndarray
        Moment [N mm].

    References
    ----------
    Equilibrium.

    Examples
    --------
    >>> float(middle_moment(np.array(4e6), np.array(1.0), 4000.0, np.array(1.0), 1000.0) / 1e6)
    3.75
    """
    return M_head / 2.0 + w * l**2 / 8.0 - w_p * h_p**2 / 4.0


def _strip(geometry: PartGeometry, steel: WallSteel, of: PartMaterials) -> PlaneSection:
    """A metre of wall: x along it, the bars of each curtain in one place by their area a width."""
    t, cover = geometry.thickness, of.cover
    depth = cover.depth(steel.vertical.diameter, steel.horizontal.diameter)
    rows = (depth, t - depth) if cover.curtains == 2 else (t / 2.0,)
    outline = [[(0, 0), (STRIP, 0), (STRIP, t), (0, t)]]
    return PlaneSection.of(
        outline, [(STRIP / 2.0, y) for y in rows], [STRIP * steel.vertical.area] * len(rows), trusted=True
    )


def _slender(geometry: PartGeometry, steel: WallSteel, of: PartMaterials, situation: str) -> SlenderWall:
    area = of.cover.curtains * steel.vertical.area * STRIP
    return replace(slender_wall(geometry, steel, of, situation), bars=area)


def _at_places(
    geometry: PartGeometry, parapet: float, loads: HeadLoads, weight: float
) -> tuple[list[Floats], Floats]:  # fmt: skip
    """Axial forces at the head, at mid-height and at the foot, and the moment of the loads at mid-height."""
    t, h = geometry.thickness, geometry.height
    own = loads.g * weight * t * STRIP
    N = [-(loads.P + own * v) for v in (parapet, parapet + h / 2.0, parapet + h)]
    return N, middle_moment(loads.M, loads.w, h, loads.w_parapet, parapet)


def service_deflection(
    geometry: PartGeometry, parapet: float, steel: WallSteel, of: PartMaterials, standard: AlternativeWalls,
    loads: HeadLoads, *, weight: float,
) -> MemberCheck:  # fmt: skip
    """Deflection of a strip of a bearing wall at mid-height in characteristic combinations, see `bearing_sections`."""
    N, middle = _at_places(geometry, parapet, loads, weight)
    return standard.service_deflection(_slender(geometry, steel, of, "characteristic"), N[1], middle)


def bearing_sections(
    geometry: PartGeometry, parapet: float, steel: WallSteel, of: PartMaterials, standard: Standard, loads: HeadLoads,
    situation: str, *, weight: float,
) -> list[BearingSection]:  # fmt: skip
    """Head, mid-height and foot of a strip of a bearing wall in combinations of one situation.

    Parameters
    ----------
    geometry : PartGeometry
        A strip of a metre.
    parapet : float
        Height above the head [mm].
    steel, of, standard
        Bars, materials, standard.
    loads : HeadLoads
        Of the combinations.
    situation : str
        Their situation.
    weight : float
        Of the concrete [N/mm3].

    Returns
    -------
    list of BearingSection
        Three of them.
    """
    head = loads.M - loads.w_parapet * parapet**2 / 2.0
    N, middle = _at_places(geometry, parapet, loads, weight)
    strength = SectionStrength(_strip(geometry, steel, of), standard.member_law(of.concrete, of.steel, situation))
    slender = _slender(geometry, steel, of, situation)
    out = []
    for place, force, first in zip(PLACES, N, (head, middle, np.zeros(len(head))), strict=True):
        if place == "middle" and of.second_order == ALTERNATIVE and isinstance(standard, AlternativeWalls):
            found = standard.alternative_moment(slender, force, first)
        else:
            # loads between the ends: the moment at mid-height counts all along; elsewhere it is that of a short piece
            loaded = replace(slender, transverse=place == "middle")
            found = standard.out_of_plane(loaded, force, first, first if place == "middle" else np.zeros(len(first)))
        moment = np.where(np.isfinite(found.moment), found.moment, 0.0)
        if place != "middle" and not np.any(found.slender):
            moment = np.maximum(moment, np.abs(first))
        s = strength.strength(force, moment, np.zeros(len(force)), ray=False)
        use = np.where(np.isfinite(found.moment), s.utilisation, np.inf)
        for limit in found.limits:
            use = np.maximum(use, np.where(limit.utilisation > 1.0, limit.utilisation, 0.0))
        note = "; ".join(limit.name for limit in found.limits if np.any(limit.utilisation > 1.0))
        out.append(BearingSection(
            place=place, N=force, first=first, moment=found.moment, capacity=s.moment, utilisation=use,
            clause=found.clause, note=note,
        ))  # fmt: skip
    return out
