"""Lintels of seismic walls as coupling beams: how their diagonals lie, and their checks."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Final

from sandwich.core.shown import Sentence
from sandwich.design.walls.bars import Cover, Diagonals, LintelSteel
from sandwich.design.walls.checks import NONE, SEISMIC, PartMaterials, governs, lintel_part
from sandwich.design.walls.ends import EndCheck
from sandwich.design.walls.geometry import PartGeometry
from sandwich.standards.interface import CouplingBeam, CouplingNeed, LaidDiagonals, SeismicDemand, SeismicWalls
from sandwich.standards.interface.seismic_names import one_check

LEGS: Final = 200.0  # mm between legs of ties round a whole beam
CLEAR: Final = 25.0  # mm between bars
ROOM: Final = "room for the diagonals"


def laid_diagonals(l_n: float, h: float, b: float, steel: LintelSteel, cover: Cover,
                   cage: tuple[float, float]) -> LaidDiagonals | None:  # fmt: skip
    """How the diagonals of a lintel lie, None of one without.

    Parameters
    ----------
    l_n, h, b : float
        Clear span, depth and width [mm].
    steel, cover : LintelSteel, Cover
        Its bars.
    cage : tuple of float
        Least width and depth of the bars of a diagonal with their ties [mm].
    """
    own = steel.diagonals
    if own is None:
        return None
    inside = cover.cover + steel.links.diameter
    around = 0.0 if own.ties is None else 2.0 * own.ties.diameter
    deep = max(cage[1], 2.0 * own.diameter + CLEAR + around)
    rise = max(h - 2.0 * inside - deep, 0.0)
    ring = b - 2.0 * cover.cover, h - 2.0 * cover.cover
    if own.ties is None:
        legs = tuple(max(math.ceil((s - steel.links.diameter) / LEGS - 1e-6) + 1, 2) for s in ring)
        apart = max((s - steel.links.diameter) / (n - 1) for s, n in zip(ring, legs, strict=True))
        core, ties = ring, steel.links
    else:
        ties = own.ties
        core = max(cage[0], 2.0 * own.diameter + CLEAR + around), deep
        legs = max(own.count // 2, 2), 2
        apart = max((s - 2.0 * ties.diameter - own.diameter) / (n - 1) for s, n in zip(core, legs, strict=True))
    return LaidDiagonals(
        area=own.area, diameter=own.diameter, count=own.count, alpha=math.atan2(rise, l_n), d_tie=ties.diameter,
        spacing=ties.spacing, whole=own.ties is None, legs=(legs[0], legs[1]), core=core, apart=apart,
    )  # fmt: skip


def room(b: float, laid: LaidDiagonals, own: Diagonals, inside: float) -> EndCheck:
    """The width that both diagonals take where they cross, one between the bars of the other, held against the beam's.

    `inside` is from a face to the bars [mm].
    """
    ties = own.ties.diameter if own.ties is not None else 0.0
    columns = max(own.count // 2, 2)
    inner = 2.0 * ties + columns * own.diameter + (columns - 1) * max(CLEAR, own.diameter)
    inner = inner if laid.whole else max(inner, laid.core[0])
    takes = 2.0 * inside + inner + 2.0 * (ties + own.diameter)
    check = one_check(
        ROOM, "geometry", takes, b, "mm", Sentence.minimum("{} of thickness, or thinner diagonals", takes)
    )
    return EndCheck(replace(governs(check), index=NONE), check.note)


def beam_checks(
    standard: SeismicWalls, geometry: PartGeometry, steel: LintelSteel, of: PartMaterials, forces: tuple[float, float],
    asked: SeismicDemand, spans: tuple[float, ...] = (),
) -> tuple[CouplingNeed, LaidDiagonals | None, list[EndCheck]]:  # fmt: skip
    """Whether a lintel has to have diagonals, how those lie that it has, and its checks with what would do.

    Parameters
    ----------
    standard : SeismicWalls
        The standard.
    geometry, steel, of : PartGeometry, LintelSteel, PartMaterials
        The lintel.
    forces : tuple of float
        Largest shear of the seismic combinations, and what loads beside the earthquake give of it [N].
    asked : SeismicDemand
        Settings.
    spans : tuple of float
        Largest span over depth of the lintels of each level of the wall [-].
    """
    h, b, l_n = geometry.length, geometry.thickness, geometry.height
    laid = laid_diagonals(l_n, h, b, steel, of.cover, standard.cage(b))
    beam = CouplingBeam(
        part=lintel_part(geometry, steel, of, SEISMIC), A_s=steel.chords.area, cover=of.cover.cover, V=forces[0],
        V_g=forces[1], asked=asked, laid=laid, spans=spans,
    )  # fmt: skip
    need = standard.coupling(beam)
    found = [EndCheck(replace(governs(c), index=NONE), c.note) for c in standard.coupling_checks(beam)]
    if need.required and laid is None:
        check = one_check("diagonals", need.clause, beam.V, need.limit, "N", "diagonals")
        found.append(EndCheck(replace(governs(check), index=NONE), check.note))
    if laid is not None and steel.diagonals is not None:
        found.append(room(b, laid, steel.diagonals, of.cover.cover + steel.links.diameter))
    return need, laid, found
