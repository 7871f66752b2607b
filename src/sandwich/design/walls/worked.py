"""The worked calculation of one part of a wall: each check with its governing demand, by the functions that made it."""

from __future__ import annotations

import numpy as np

from sandwich.core.trace import Quantity, Sheet, Step, recording, unrecorded
from sandwich.design.walls.bars import LintelSteel, WallSteel
from sandwich.design.walls.checks import (
    BENDING,
    OUT_OF_PLANE,
    PartCheck,
    lintel_part,
    placed_bars,
    second_order,
    wall_part,
)
from sandwich.design.walls.choice import Member
from sandwich.design.walls.demands import Demand
from sandwich.design.walls.geometry import PartGeometry, Sheared, sheared
from sandwich.design.walls.sections import SectionStrength

KN, KNM = 1e-3, 1e-6


def forces_of(d: Demand, i: int) -> tuple[Quantity, ...]:
    """Forces of one demand."""
    return (
        Quantity("N", float(d.N[i]) * KN, "kN"), Quantity("V", float(d.V[i]) * KN, "kN"),
        Quantity("M", float(d.M[i]) * KNM, "kNm"), Quantity("M out of plane", float(d.M_out[i]) * KNM, "kNm"),
    )  # fmt: skip


def worked_part(member: Member, steel: WallSteel | LintelSteel, names: list[str], places: list[str]) -> Sheet:
    """All checks of a part.

    Parameters
    ----------
    member : Member
        The part with its demands.
    steel : WallSteel or LintelSteel
        Its bars.
    names, places : list of str
        Names of the combinations and of the stations.

    Returns
    -------
    Sheet
        The utilisation of each check as the answer, the worst first.
    """
    g, of, d = member.geometry, member.of, member.demand
    checks = sorted(member.checks(steel), key=lambda c: -c.utilisation)
    with recording() as sheet:
        sheet.heading = "Part"
        placed = placed_bars(g, steel, of.cover)
        sheet.add(_geometry(member, float(placed.areas.sum()), len(placed.areas)))
        for check in checks:
            if check.name not in (BENDING, OUT_OF_PLANE):
                continue
            sheet.heading = check.name.capitalize()
            _bending(sheet, member, steel, check, names, places)
        shear = [c for c in checks if c.index >= 0 and c.name not in (BENDING, OUT_OF_PLANE)]
        for index in dict.fromkeys(c.index for c in shear):
            mine = [c for c in shear if c.index == index]
            sheet.heading = ", ".join(c.name for c in mine).capitalize()
            situation = member.situations[d.combination[index]]
            sheet.add(Step("Forces", _where(member, index, names, places), "", (), forces_of(d, index)))
            part = (
                wall_part(g, steel, of, situation)
                if isinstance(steel, WallSteel)
                else lintel_part(g, steel, of, situation)
            )
            for way in sheared(g, part, d.picked(np.array([index]))):
                own = [c for c in mine if way.tells(c.name)]
                if own and g.line:
                    sheet.add(_share(g, way, d.picked(np.array([index]))))
                if own:
                    member.standard.wall_shear(way.part, way.V[0], way.N[0])
                for c in own:
                    sheet.add(result_step(c))
        sheet.heading = "Steel"
        for c in checks:
            if c.index < 0:
                sheet.add(result_step(c))
    once(sheet)
    sheet.answer = tuple(Quantity(c.name, c.utilisation, "-") for c in checks)
    return sheet


def strength_steps(strength: SectionStrength, N: float, M: float, M_out: float) -> tuple[Step, Step]:
    """The strain plane at which a section carries a demand's moment, and what of it is used."""
    with unrecorded():
        found = strength.strength(N, M_out, M)
    given = (
        Quantity("M", float(np.hypot(M, M_out)) * KNM, "kNm"),
        Quantity("M_R", float(found.moment[0]) * KNM, "kNm"),
    )
    use = Quantity("utilisation", float(found.utilisation[0]), "-")
    return _state(strength, N, M, M_out, ("M_R,y", "M_R,x")), Step(
        "Bending with axial force", strength.law.clause, "M/M_R", given, (use,)
    )


def once(sheet: Sheet) -> None:
    """Leave out clauses that say what an earlier one has said."""
    seen: set[tuple[object, ...]] = set()
    kept = []
    for heading, step in sheet.steps:
        key = step.title.partition(": ")[0], step.source, step.given, step.results
        if key not in seen or not step.formula:
            kept.append((heading, step))
        seen.add(key)
    sheet.steps[:] = kept


def _where(member: Member, index: int, names: list[str], places: list[str]) -> str:
    d = member.demand
    return f"{names[d.combination[index]]}, {places[d.station[index]]}"


def _share(g: PartGeometry, of: Sheared, d: Demand) -> Step:
    """What of a curved part resists shear one way, and the forces on it."""
    given = (
        Quantity("extent", of.part.length, "mm"), Quantity("length", g.length, "mm"),
        Quantity("V1", float(d.V[0]) * KN, "kN"), Quantity("V2", float(d.V_out[0]) * KN, "kN"),
    )  # fmt: skip
    acts = Quantity("V", of.V[0] * KN, "kN"), Quantity("N on it", of.N[0] * KN, "kN")
    title = "Extent of the ring" if g.ring else f"Extent{of.way or ' along the chord'}"
    shear = "(V1^2 + V2^2)^0.5" if g.ring else "V2" if of.way else "V1"
    return Step(title, "", f"V = {shear}; N extent/length", given, acts)


def _geometry(member: Member, area: float, count: int) -> Step:
    g, of = member.geometry, member.of
    return Step(
        "Section, materials and bars", "input", "",
        (
            Quantity("length", g.length, "mm"), Quantity("thickness", g.thickness, "mm"),
            Quantity("clear height", g.height, "mm"), Quantity("edges held", g.edges, ""),
            Quantity("f_ck", of.concrete.f_ck, "MPa"), Quantity("f_yk", of.steel.f_yk, "MPa"),
            Quantity("cover", of.cover.cover, "mm"),
        ),
        (Quantity("bars", count, ""), Quantity("area", area, "mm2")),
    )  # fmt: skip


def result_step(c: PartCheck) -> Step:
    """What a check comes to."""
    unit, scale = ("kN", KN) if c.unit == "N" else ("kNm", KNM) if c.unit == "N mm" else (c.unit, 1.0)
    given = (Quantity("demand", c.demand * scale, unit), Quantity("capacity", c.capacity * scale, unit))
    title = f"{c.name.capitalize()}{f' ({c.note})' if c.note else ''}"
    return Step(title, c.clause, "demand/capacity", given, (Quantity("utilisation", c.utilisation, "-"),))


def _bending(
    sheet: Sheet, member: Member, steel: WallSteel | LintelSteel, check: PartCheck, names: list[str], places: list[str]
) -> None:
    d, i, g, of = member.demand, check.index, member.geometry, member.of
    situation = member.situations[d.combination[i]]
    strength = member.strengths.of(g, steel, of, situation)
    N, M, M_out = float(d.N[i]), float(d.M[i]), float(d.M_out[i])
    if check.name == OUT_OF_PLANE and isinstance(steel, WallSteel):
        mine = np.flatnonzero(member.situations[d.combination] == situation)
        one = d.picked(mine)
        first, last = np.flatnonzero(one.station == 0), np.flatnonzero(one.station == member.stations - 1)
        k = int(np.flatnonzero(mine[first] == i)[0])
        pair = one.picked(np.array([first[k], last[k]]) if member.stations > 1 else first[[k]])
        _, slim, acts = second_order(g, steel, of, member.standard, pair, member.stations, situation)
        N, M, M_out = float(acts.N[0]), float(acts.M[0]), check.way * float(np.atleast_1d(slim.moment)[0])
        given = (
            Quantity("M bottom", float(pair.M_out[0]) * KNM, "kNm"),
            Quantity("M top", float(pair.M_out[-1]) * KNM, "kNm"),
        )
        formula = "" if bool(np.atleast_1d(slim.slender)[0]) else "second order may be left out"
        sheet.add(Step("Moment out of plane", slim.clause, formula, given, (Quantity("M_Ed", M_out * KNM, "kNm"),)))
    acting = (
        Quantity("N", N * KN, "kN"),
        Quantity("M", M * KNM, "kNm"),
        Quantity("M out of plane", M_out * KNM, "kNm"),
    )
    sheet.add(Step("Forces", _where(member, i, names, places), "", (), acting))
    if np.isfinite(check.utilisation):
        sheet.add(_state(strength, N, M, M_out))
    sheet.add(result_step(check))


def _state(
    strength: SectionStrength, N: float, M: float, M_out: float, names: tuple[str, str] = ("M_R", "M_R out of plane")
) -> Step:
    """The strain plane at which the section carries the moment beside the axial force."""
    with unrecorded():  # the search calls clauses at many strains
        s = strength.strength(N, M_out, M)
        at = strength.states(s.theta, s.p)
    strength.phi(s.eps_t)
    law = strength.law
    return Step(
        "Plane section at its strength", law.clause, "N_R = N; M_R has the direction of M",
        (
            Quantity("stress of concrete", law.concrete.stress, "MPa"),
            Quantity("eps_cu", 1e3 * law.concrete.eps_cu, "per mille"),
            Quantity("strength of bars", law.steel.strength, "MPa"),
            Quantity("direction of the pressed corner", float(np.degrees(s.theta[0])) % 360.0, "deg"),
        ),
        (
            Quantity("neutral axis", float(s.c[0]), "mm"),
            Quantity("strain of the most pulled bar", 1e3 * float(s.eps_t[0]), "per mille"),
            Quantity("phi", float(s.phi[0]), "-"), Quantity("N_R", float(at.N[0]) * KN, "kN"),
            Quantity(names[0], float(at.My[0]) * KNM, "kNm"), Quantity(names[1], float(at.Mx[0]) * KNM, "kNm"),
            Quantity("along the ray", float(s.along_ray[0]), "-"),
        ),
    )  # fmt: skip
