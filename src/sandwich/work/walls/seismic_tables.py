"""Tables of seismic walls: ends, shear and coupling beams, and each check of them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

import pandas as pd

from sandwich.core.shown import Measure, Sentence, Words
from sandwich.core.status import Status
from sandwich.design.walls.checks import PartCheck
from sandwich.design.walls.ends import HELD, EndCheck
from sandwich.work.walls.beam_anchorage import STRAIGHT, BeamAnchorage
from sandwich.work.walls.checks import FORCE, CheckedPart, worst_first
from sandwich.work.walls.coupling import CheckedBeam
from sandwich.work.walls.ends import CheckedEnd
from sandwich.work.walls.seismic_shear import CheckedShear

ENDS: Final = [
    "wall", "storey", "part", "end", "boundary element", "by", "demand", "limit", "unit", "length [mm]",
    "thickness [mm]", "minimum thickness [mm]", "up to [m]", "ties each way [%]", "spacing of ties [mm]",
    "held bars apart [mm]", "ties from [mm]", "minimum bars [%]", "provided bars [mm]", "provided over [mm]",
    "provided ties [mm]", "bars up to [m]", "height [m]", "combination", "utilisation", "governing check",
    "clause", "status",
]  # fmt: skip
END_CHECKS: Final = [
    "wall", "storey", "part", "end", "check", "utilisation", "demand", "capacity", "unit", "clause", "status",
]  # fmt: skip
SHEAR: Final = [
    "wall", "storey", "part", "check", "utilisation", "demand", "capacity", "unit", "factor on V", "factor by",
    "combination", "clause", "status",
]  # fmt: skip
BEAMS: Final = [
    "wall", "storey", "part", "clear span [mm]", "l_n/h", "V [kN]", "V without diagonals [kN]", "diagonals",
    "provided diagonals [mm]", "links [mm]", "angle [deg]", "bars into the walls", "combination", "utilisation",
    "governing check", "clause", "status",
]  # fmt: skip
BEAM_CHECKS: Final = [
    "wall", "storey", "part", "check", "utilisation", "demand", "capacity", "unit", "clause", "status",
]  # fmt: skip


def _named(c: CheckedPart) -> dict[str, object]:
    p = c.part
    return {"wall": p.wall, "storey": p.storey, "part": f"{p.panel} {p.name}"}


def _held(k: PartCheck, remedy: Words) -> dict[str, object]:
    """One check as a row has it, with what would do where it fails."""
    unit, scale = FORCE.get(k.unit, (k.unit, 1.0))
    return {
        "check": k.name, "utilisation": k.utilisation, "demand": k.demand * scale, "capacity": k.capacity * scale,
        "unit": unit, "clause": k.clause,
        "status": Status.EXCEEDED.because(remedy) if k.utilisation > HELD else str(Status.OK),
    }  # fmt: skip


def _cured(checks: Sequence[EndCheck]) -> Words:
    """What would cure all checks that fail, the worst first."""
    failing = sorted((c for c in checks if c.check.utilisation > HELD), key=lambda c: -c.check.utilisation)
    told = Sentence.joined("; ", list(dict.fromkeys(c.remedy for c in failing)))
    return Status.EXCEEDED.because(told) if failing else str(Status.OK)


def ends_frame(ends: list[CheckedEnd], up_to: Mapping[str, float]) -> pd.DataFrame:
    """One row an end: first those that fail, then those that are boundary elements, from below.

    `up_to` is the level up to which the bars at the ends of each part go [mm].
    """
    rows = []

    def order(e: CheckedEnd) -> tuple[float, float]:
        if e.need is None:
            return 3.0, e.height
        fails = e.worst is not None and e.worst.check.utilisation > HELD
        return 0.0 if fails else 2.0 - e.need.needed, e.height

    for e in sorted(ends, key=order):
        n, g, steel = e.need, e.part.geometry, e.steel
        row = _named(e.part) | {"end": e.end}
        told = f"a column, l_w/t {g.length / g.thickness:.1f}"
        worst = e.worst
        row |= {"boundary element": "column", "status": Status.NOT_CHECKED.because(told)} if n is None else {
            "boundary element": "needed" if n.needed else "not needed", "by": n.trigger, "demand": n.demand,
            "limit": n.limit, "unit": n.unit, "length [mm]": n.length, "thickness [mm]": g.thickness,
            "minimum thickness [mm]": n.width, "up to [m]": n.extent / 1e3, "ties each way [%]": 100.0 * n.ties,
            "spacing of ties [mm]": n.spacing, "held bars apart [mm]": n.held, "ties from [mm]": n.d_tie,
            "minimum bars [%]": 100.0 * n.rho, "provided bars [mm]": steel.ends or "",
            "provided over [mm]": steel.ends.length if steel.ends is not None else math.nan,
            "provided ties [mm]": steel.ties or "",
            "bars up to [m]": up_to.get(e.part.part.full_name, math.nan) / 1e3,
            "height [m]": e.height / 1e3, "combination": e.combination,
            "utilisation": worst.check.utilisation if worst else 0.0,
            "governing check": worst.check.name if worst else "", "clause": n.clause, "status": _cured(e.checks),
        }  # fmt: skip
        rows.append(row)
    frame = pd.DataFrame(rows, columns=ENDS)
    words = ["by", "unit", "provided bars [mm]", "provided ties [mm]", "combination", "governing check", "clause"]
    return frame.assign(**{c: frame[c].astype(object).fillna("") for c in words})


def end_checks_frame(ends: list[CheckedEnd]) -> pd.DataFrame:
    """One row an end and check, the worst first."""
    rows = [_named(e.part) | {"end": e.end} | _held(c.check, c.remedy) for e in ends for c in e.checks]
    return worst_first(pd.DataFrame(rows, columns=END_CHECKS))


def shears_frame(shears: list[CheckedShear]) -> pd.DataFrame:
    """One row a part and check, the worst first."""
    rows = []
    for s in sorted(shears, key=lambda s: -s.check.utilisation):
        own = {"factor on V": s.factor, "factor by": s.clause, "combination": s.combination}
        rows.append(_named(s.part) | own | _held(s.check, s.remedy))
    return pd.DataFrame(rows, columns=SHEAR)


def _into(a: BeamAnchorage) -> Sentence:
    """How far bars go into the walls."""
    return Sentence(f"{a.which} {{}}{'' if a.how == STRAIGHT else f' {a.how}'}", Measure(a.length.value, "mm", ".0f"))


def beams_frame(beams: list[CheckedBeam]) -> pd.DataFrame:
    """One row a coupling beam, the worst first."""
    rows = []
    for b in beams:
        g, s = b.part.geometry, b.steel
        rows.append(_named(b.part) | {
            "clear span [mm]": g.height, "l_n/h": g.height / g.length, "V [kN]": b.V / 1e3,
            "V without diagonals [kN]": b.need.limit / 1e3,
            "diagonals": "required" if b.need.required else "allowed" if b.need.allowed else "not allowed",
            "provided diagonals [mm]": s.diagonals or "", "links [mm]": s.links,
            "angle [deg]": math.degrees(b.laid.alpha) if b.laid is not None else math.nan,
            "bars into the walls": Sentence.joined("; ", [_into(a) for a in b.anchored]),
            "combination": b.combination, "utilisation": b.worst.check.utilisation,
            "governing check": b.worst.check.name, "clause": b.need.clause,
            "status": _cured(b.checks),
        })  # fmt: skip
    return worst_first(pd.DataFrame(rows, columns=BEAMS))


def beam_checks_frame(beams: list[CheckedBeam]) -> pd.DataFrame:
    """One row a coupling beam and check, the worst first."""
    rows = [_named(b.part) | _held(c.check, c.remedy) for b in beams for c in b.checks]
    return worst_first(pd.DataFrame(rows, columns=BEAM_CHECKS))
