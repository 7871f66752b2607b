"""Checks of a wall, a pier or a lintel at its bars: bending with axial force, shear, out of plane, steel."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.section import Concrete, Steel
from sandwich.core.shown import Words
from sandwich.design.walls.bars import Cover, LintelSteel, Placed, WallSteel, effective_depth, place_lintel, place_wall
from sandwich.design.walls.demands import Acting, Demand, corners
from sandwich.design.walls.geometry import PartGeometry, Sheared, sheared
from sandwich.design.walls.sections import SectionStrength
from sandwich.mechanics.planesection import PlaneSection
from sandwich.model.walls.outline import follow, walls_about
from sandwich.standards.interface import MemberCheck, OutOfPlane, SlenderWall, Standard, WallPart
from sandwich.standards.interface.walls import spacing_check

Floats = NDArray[np.float64]
BENDING: Final = "bending with axial force"
OUT_OF_PLANE: Final = "out of plane"
SEISMIC: Final = "seismic"
ROOM: Final = "room for the bars"
NONE: Final = -1
ALIKE: Final = 1e-9  # between utilisations
SECOND_ORDER: Final = "second order counts"
NEAR: Final = 0.94  # of the largest utilisation by chords: what lies below does not govern


@dataclass(frozen=True)
class PartMaterials:
    """Materials and settings of a part."""

    concrete: Concrete
    steel: Steel
    cover: Cover
    creep: float = 2.0
    effective_length: float | None = None
    cot_theta_max: float = 2.5
    joint: str = "rough"
    second_order: str = ""


@dataclass(frozen=True)
class PartCheck:
    """The governing row of one check.

    Attributes
    ----------
    name, clause, unit : str
        What is checked.
    demand, capacity, utilisation : float
        Of the governing demand, in its unit.
    index : int
        Which demand governs, -1 where none does: a check of the steel alone.
    note : str
        What else there is to say.
    way : float
        -1 where a moment out of the plane governs with its other sign.
    """

    name: str
    clause: str
    demand: float
    capacity: float
    unit: str
    utilisation: float
    index: int = NONE
    note: Words = ""
    way: float = 1.0


class Strengths:
    """Strengths of rectangular sections by their bars, each made once."""

    def __init__(self, standard: Standard) -> None:
        self.standard = standard
        self._made: dict[tuple[object, ...], SectionStrength] = {}

    def of(
        self, geometry: PartGeometry, steel: WallSteel | LintelSteel, of: PartMaterials, situation: str
    ) -> SectionStrength:
        """Strength of a part: x along it, y across."""
        law = self.standard.member_law(of.concrete, of.steel, situation)
        placed = placed_bars(geometry, steel, of.cover)  # level bars, ties and links are none of a section's
        bars = placed.places.tobytes(), placed.areas.tobytes()
        key = (*geometry.key, *bars, of.concrete, of.steel, law.concrete, law.steel)
        if key not in self._made:
            self._made[key] = SectionStrength(_section(geometry, placed), law)
        return self._made[key]


def _section(geometry: PartGeometry, placed: Placed) -> PlaneSection:
    """Rectangle of a straight part; a wall about the line of a curved one."""
    a, t = geometry.length, geometry.thickness
    if not geometry.line:
        return PlaneSection.of([[(0, 0), (a, 0), (a, t), (0, t)]], placed.places, placed.areas, trusted=True)
    line = np.array(geometry.line)
    outer, holes = walls_about([line], [t])
    at = follow(line, placed.places[:, 0], placed.places[:, 1] - t / 2.0)
    return PlaneSection.of(outer, at, placed.areas, holes=holes, trusted=True)


def placed_bars(geometry: PartGeometry, steel: WallSteel | LintelSteel, cover: Cover) -> Placed:
    """Bars of a part in its section."""
    if isinstance(steel, LintelSteel):
        return place_lintel(geometry.length, geometry.thickness, steel, cover)
    return place_wall(geometry.length, geometry.thickness, steel, cover)


def governs(check: MemberCheck, which: NDArray[np.int64] | None = None) -> PartCheck:
    """The governing demand of a check, of those used alike the largest."""
    use = check.utilisation
    alike = np.flatnonzero(~(use < use.max() * (1.0 - ALIKE)))
    i = int(alike[np.abs(np.ravel(check.demand)[alike]).argmax()]) if np.size(check.demand) > 1 else int(alike[0])
    at = NONE if which is None else int(which[i])
    return PartCheck(
        name=check.name, clause=check.clause, demand=_of(check.demand, i), capacity=_of(check.capacity, i),
        unit=check.unit, utilisation=float(use[i]), index=at, note=check.note,
    )  # fmt: skip


def _of(values: Floats, i: int) -> float:
    """Value of a demand, or the one of all."""
    return float(np.ravel(values)[i if np.size(values) > 1 else 0])


def wall_part(geometry: PartGeometry, steel: WallSteel, of: PartMaterials, situation: str) -> WallPart:
    """A wall or pier as its shear looks at it."""
    along, across = steel.ratios(geometry.thickness, of.cover.curtains)
    return WallPart(
        concrete=of.concrete, steel=of.steel, situation=situation, length=geometry.along,
        thickness=geometry.thickness, height=geometry.tall or geometry.height, along=along, across=across,
        diameters=(steel.horizontal.diameter, steel.vertical.diameter),
        spacings=(steel.horizontal.spacing, steel.vertical.spacing), curtains=of.cover.curtains, d=0.0,
        cot_theta_max=of.cot_theta_max, joint=of.joint,
    )  # fmt: skip


def lintel_part(geometry: PartGeometry, steel: LintelSteel, of: PartMaterials, situation: str) -> WallPart:
    """A lintel as its shear looks at it."""
    d = effective_depth(geometry.length, steel, of.cover)
    t = geometry.thickness
    return WallPart(
        concrete=of.concrete, steel=of.steel, situation=situation, length=geometry.length, thickness=t,
        height=geometry.height, along=of.cover.curtains * steel.links.area / t, across=steel.chords.area / (d * t),
        diameters=(steel.links.diameter, steel.chords.diameter), spacings=(steel.links.spacing, steel.chords.length),
        curtains=of.cover.curtains, d=d, cot_theta_max=of.cot_theta_max, joint=of.joint,
    )  # fmt: skip


def slender_wall(geometry: PartGeometry, steel: WallSteel, of: PartMaterials, situation: str) -> SlenderWall:
    """A wall or pier out of its plane."""
    depth = geometry.thickness - of.cover.depth(steel.vertical.diameter, steel.horizontal.diameter)
    if of.cover.curtains == 1:
        depth = geometry.thickness / 2.0
    return SlenderWall(
        concrete=of.concrete, steel=of.steel, situation=situation, length=geometry.length,
        thickness=geometry.thickness, height=geometry.height, edges=geometry.edges,
        between=geometry.between or geometry.length, bars=float(placed_bars(geometry, steel, of.cover).areas.sum()),
        depth=depth, factor=of.effective_length, creep=of.creep, method=of.second_order,
    )  # fmt: skip


def ends_of(demand: Demand, stations: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Demands at the bottom and at the top of a part that act together, by number."""
    bottom, top = np.flatnonzero(demand.station == 0), np.flatnonzero(demand.station == stations - 1)
    return bottom, top


def no_room(steel: WallSteel | LintelSteel, cover: Cover, thickness: float) -> tuple[MemberCheck, ...]:
    """Cover and bars of all curtains, where they take more than the thickness."""
    if isinstance(steel, WallSteel):
        across = steel.vertical.diameter if steel.ends is None else max(steel.vertical.diameter, steel.ends.diameter)
        bars = steel.horizontal.diameter + across
    else:
        bars = steel.links.diameter + steel.chords.diameter
    takes = 2.0 * cover.cover + cover.curtains * bars
    return (spacing_check(ROOM, "geometry", takes, thickness),) if takes > thickness else ()


class _Worst:
    """The governing check of each name."""

    def __init__(self, first: tuple[MemberCheck, ...]) -> None:
        self.of = {check.name: governs(check) for check in first}

    def take(self, check: PartCheck) -> None:
        old = self.of.get(check.name)
        if old is None or check.utilisation > old.utilisation:
            self.of[check.name] = check

    def shear(self, standard: Standard, ways: Sequence[Sheared], mine: NDArray[np.int64]) -> None:
        """Shear each way and the steel it needs, under demands whose numbers are `mine`."""
        for of in ways:
            for check in standard.wall_shear(of.part, of.V, of.N):
                self.take(governs(of.named(check), mine))
            for check in standard.wall_steel(of.part, of.V, of.N):
                self.take(governs(check))


def check_wall(
    geometry: PartGeometry, steel: WallSteel, of: PartMaterials, standard: Standard, strengths: Strengths,
    acting: Sequence[Acting], stations: int, *, exact: bool = True, rays: bool = True,
) -> list[PartCheck]:  # fmt: skip
    """All checks of a wall or pier, the governing demand of each.

    Parameters
    ----------
    geometry, steel, of : PartGeometry, WallSteel, PartMaterials
        The part.
    standard, strengths : Standard, Strengths
        The standard, and the strengths of sections made so far.
    acting : sequence of Acting
        Demands at its stations, those of the bottom with number 0, by situation.
    stations : int
        Number of its stations.
    exact : bool
        Whether utilisations of bending are wanted, or whether it holds alone.
    rays : bool
        Whether notes tell the utilisation along the ray.

    Returns
    -------
    list of PartCheck
        One a check.
    """
    found = _Worst(no_room(steel, of.cover, geometry.thickness))
    for situation, mine, d in acting:
        strength = strengths.of(geometry, steel, of, situation)
        found.take(bending(BENDING, strength, d, mine, exact=exact, rays=rays))
        bottom, slim, e = second_order(geometry, steel, of, standard, d, stations, situation)
        buckles = ~np.isfinite(slim.moment)
        if buckles.any():
            i = int(np.flatnonzero(buckles)[0])
            found.take(
                PartCheck(
                    name=OUT_OF_PLANE,
                    clause=slim.clause,
                    demand=np.inf,
                    capacity=np.nan,
                    unit="N mm",
                    utilisation=np.inf,
                    index=int(mine[bottom[i]]),
                    note="buckles",
                )
            )
        else:
            note = SECOND_ORDER if slim.slender.any() else "second order may be left out"
            for way in (1.0, -1.0) if geometry.line else (1.0,):  # a curved part is not alike both ways
                check = bending(
                    OUT_OF_PLANE, strength, e, mine[bottom], exact=exact, rays=rays, clause=slim.clause,
                    M_out=way * slim.moment, note=note,
                )  # fmt: skip
                found.take(replace(check, way=way))
        for limit in slim.limits:
            found.take(governs(limit, mine[bottom]))
        part = wall_part(geometry, steel, of, situation)
        found.shear(standard, sheared(geometry, part, d), mine)
    return list(found.of.values())


def second_order(
    geometry: PartGeometry, steel: WallSteel, of: PartMaterials, standard: Standard, demand: Demand, stations: int,
    situation: str,
) -> tuple[NDArray[np.int64], OutOfPlane, Demand]:  # fmt: skip
    """Out of plane of demands of one situation: which are at the bottom, their moments, forces that act with these.

    Of both ends the larger compression and the larger moment in the plane act with the moment out of it.
    """
    d = demand
    bottom, top = ends_of(d, stations)
    N = np.minimum(d.N[bottom], d.N[top])
    slim = standard.out_of_plane(slender_wall(geometry, steel, of, situation), N, d.M_out[top], d.M_out[bottom])
    M = np.where(np.abs(d.M[bottom]) > np.abs(d.M[top]), d.M[bottom], d.M[top])
    return bottom, slim, replace(d.picked(bottom), N=N, M=M)


def bending(
    name: str, strength: SectionStrength, d: Demand, mine: NDArray[np.int64], *, exact: bool, rays: bool,
    clause: str = "", M_out: Floats | None = None, note: str = "",
) -> PartCheck:  # fmt: skip
    """Bending with axial force under the demands that can govern; not exact, it tells 0 or inf."""
    out = d.M_out if M_out is None else M_out
    at = d.corners if M_out is None else corners(d.N, out, d.M)
    N, Mx, My = d.N[at], out[at], d.M[at]
    clause = clause or strength.law.clause
    if not exact:
        held = strength.carries(N, Mx, My)
        i = int(held.argmin())
        use = 0.0 if held.all() else np.inf
        return PartCheck(
            name=name, clause=clause, demand=float(np.hypot(Mx[i], My[i])), capacity=np.nan, unit="N mm",
            utilisation=use, index=int(mine[at[i]]), note=note,
        )  # fmt: skip
    with np.errstate(divide="ignore", invalid="ignore"):
        rough = np.hypot(Mx, My) / strength.by_chords(N, Mx, My)
    known = np.isfinite(rough)
    near = np.flatnonzero(~known | (rough >= NEAR * rough.max(where=known, initial=0.0)))  # what may govern, exactly
    at, N, Mx, My = at[near], N[near], Mx[near], My[near]
    s = strength.strength(N, Mx, My, ray=False)
    i = int(s.utilisation.argmax())
    told = f"along the ray {float(strength.strength(N[i], Mx[i], My[i]).along_ray[0]):.2f}" if rays else ""
    return PartCheck(
        name=name, clause=clause, demand=float(np.hypot(Mx[i], My[i])), capacity=float(s.moment[i]), unit="N mm",
        utilisation=float(s.utilisation[i]), index=int(mine[at[i]]), note="; ".join(t for t in (note, told) if t),
    )  # fmt: skip


def check_lintel(
    geometry: PartGeometry, steel: LintelSteel, of: PartMaterials, standard: Standard, strengths: Strengths,
    acting: Sequence[Acting], *, exact: bool = True, rays: bool = True,
) -> list[PartCheck]:  # fmt: skip
    """All checks of a lintel, the governing demand of each; as `check_wall`."""
    found = _Worst(no_room(steel, of.cover, geometry.thickness))
    for situation, mine, d in acting:
        part = lintel_part(geometry, steel, of, situation)
        if steel.diagonals is not None and situation == SEISMIC:
            # its diagonals carry all of it, which their own checks see to
            for check in standard.wall_steel(part, np.zeros(1), np.zeros(1)):
                found.take(governs(check))
            continue
        strength = strengths.of(geometry, steel, of, situation)
        found.take(bending(BENDING, strength, d, mine, exact=exact, rays=rays))
        found.shear(standard, sheared(geometry, part, d), mine)
    return list(found.of.values())
