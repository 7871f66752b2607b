"""Cover and fire resistance of zones, with the bars that lie there."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import pandas as pd

from sandwich.core.section import Concrete
from sandwich.core.shown import Sentence, Words
from sandwich.core.status import Status
from sandwich.design.walls.bars import WallSteel
from sandwich.job.zone import Zone
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import CoverDemand, FireDemand, Standard
from sandwich.work.bars import BarUse
from sandwich.work.walls.checks import CheckedPart

FLAT: Final = 0.7  # of the unit normal along z, from which a zone is a slab
COVER, AXIS, THICKNESS, FIRE_COVER = "cover", "axis distance under fire", "thickness under fire", "cover under fire"
HELD: Final = 1.0 + 1e-9


@dataclass(frozen=True)
class Face:
    """One face of a zone or of a part of a wall.

    Attributes
    ----------
    side : int
        1 the bottom, -1 the top, 0 both faces of a wall.
    name : str
        As it is called.
    cover, diameter, axis : float
        Cover to its outer bars, their diameter, distance of the axis of its main bars from the face [mm].
    """

    side: int
    name: str
    cover: float
    diameter: float
    axis: float


@dataclass(frozen=True)
class Covered:
    """What the checks know of a zone or of a part of a wall: its faces, minimum thickness [mm], vertical steel [-]."""

    zone: Zone
    name: str
    part: str
    concrete: Concrete
    slab: bool
    thickness: float
    faces: tuple[Face, ...]
    ratio: float


def covered_zone(z: ZoneInput, use: BarUse | None) -> Covered:
    """A zone of the shell design."""
    h, zone = float(z.h.min()), z.zone
    thin = thick = zone.bars.layers().diameters
    if use is not None:  # bars that lie there, of a layer the thickest and the thinnest
        thick = np.where(use.given.diameters > 0.0, use.given.diameters, thick)
        thin = np.where(use.given.thinnest > 0.0, use.given.thinnest, thin)
        zone = zone.with_diameters([float(v) for v in thick])
    layers = zone.bars.layers()
    axes, d = layers.axes(np.array([h]))[0], layers.diameters
    names = {1: z.zone.faces.bottom, -1: z.zone.faces.top}
    faces = []
    for side, name in names.items():
        mine = np.flatnonzero(np.isfinite(axes) & ((layers.sides == side) | (layers.sides == 0)))
        if len(mine):
            below = h / 2.0 - side * axes[mine]  # from the face
            first = int((below - d[mine] / 2.0).argmin())
            outer = float(d[mine][first])
            cover = float(below[first]) - outer / 2.0
            faces.append(Face(side, name, cover, outer, cover + float(thin[mine][first]) / 2.0))
    slab = z.zone.minimum != "wall"
    if z.zone.minimum == "none" and z.surface is not None:
        slab = abs(float(z.surface.orientation.bars[:, 2, 2].mean())) > FLAT
    upright = np.isclose(np.abs(np.sin(layers.angles)) > FLAT, z.zone.vertical == "y")
    ratio = 0.0 if use is None else float((use.given.area[:, upright].sum(1) / z.h).min())
    return Covered(
        zone=z.zone, name=z.name, part="", concrete=z.zone.concrete, slab=slab, thickness=h, faces=tuple(faces),
        ratio=ratio,
    )  # fmt: skip


def covered_part(c: CheckedPart, name: str, zone: Zone) -> Covered:
    """A part of a wall in a zone; its main bars are the vertical ones."""
    steel, of = c.steel, c.member.of
    if isinstance(steel, WallSteel):
        v, h = steel.vertical.diameter, steel.horizontal.diameter
        tie = steel.ties.diameter if steel.ties is not None else 0.0
        outer = max(v if of.cover.vertical_outside else h, tie)
        axis, ratio = of.cover.depth(v, h), steel.ratios(c.geometry.thickness, of.cover.curtains)[1]
    else:
        outer = steel.links.diameter
        axis, ratio = of.cover.cover + outer + steel.chords.diameter / 2.0, 0.0
    faces = (Face(0, "both", of.cover.cover, outer, axis),)
    return Covered(
        zone=zone, name=name, part=f"{c.part.storey} {c.part.panel} {c.part.name}", concrete=of.concrete, slab=False,
        thickness=c.geometry.thickness, faces=faces, ratio=ratio,
    )  # fmt: skip


def checks_of(of: Covered, standard: Standard) -> Iterator[dict[str, Any]]:
    """Rows of cover, and of fire where it is asked for."""
    exposure, fire = of.zone.exposure, of.zone.fire
    if exposure is not None:
        sides = {1: (exposure.bottom,), -1: (exposure.top,), 0: tuple(dict.fromkeys((exposure.bottom, exposure.top)))}
        for face, asked in ((f, e) for f in of.faces for e in sides[f.side]):
            need = standard.nominal_cover(CoverDemand(
                concrete=of.concrete, exposure=asked, diameter=face.diameter, slab=of.slab, life=exposure.design_life,
                structural_class=exposure.structural_class or "", quality=exposure.quality_control,
                tolerance=math.nan if exposure.tolerance is None else exposure.tolerance,
            ))  # fmt: skip
            yield _row(of, face, COVER, need.value, face.cover, need.clause, need.by)
    if fire is None:
        return
    found = standard.fire(FireDemand(
        minutes=fire.minutes, slab=of.slab, sides=fire.sides, mu_fi=fire.mu_fi, spans=fire.spans,
        aggregate=fire.aggregate, restrained=fire.restrained, continuous=fire.continuous, ratio=of.ratio,
    ))  # fmt: skip
    by = f"{fire.minutes} min, {'slab' if of.slab else 'wall'}"
    yield _row(of, None, THICKNESS, found.thickness, of.thickness, found.clause, by)
    for face in of.faces:
        if of.slab and face.side < 0:
            continue  # a floor is exposed from below
        if math.isfinite(found.axis):
            yield _row(of, face, AXIS, found.axis, face.axis, found.clause, by)
        if math.isfinite(found.cover):
            yield _row(of, face, FIRE_COVER, found.cover, face.cover, found.clause, by)


def _row(
    of: Covered, face: Face | None, check: str, required: float, provided: float, clause: str, by: str
) -> dict[str, Any]:
    use = required / provided if provided > 0.0 else math.inf
    told: Words = "0.4 % of vertical bars or more"
    if math.isfinite(required):
        told = Sentence.minimum(f"{{}} of {check.removesuffix(' under fire')}", required)
    return {
        "zone": of.name, "part": of.part, "face": face.name if face is not None else "", "check": check,
        "required [mm]": required, "provided [mm]": provided, "utilisation": use,
        "outer bars [mm]": face.diameter if face is not None else np.nan, "clause": clause, "by": by,
        "status": str(Status.OK) if use <= HELD
        else Status.EXCEEDED.because(told),
    }  # fmt: skip


def cover_frame(found: list[Covered], standard: Standard) -> pd.DataFrame:
    """One row a check of a face of a zone, of parts of walls the worst in each zone; the worst first."""
    worst: dict[tuple[object, ...], dict[str, Any]] = {}
    for c in found:
        for row in checks_of(c, standard):
            key = (c.name, bool(c.part), row["face"], row["check"], row["by"])
            if key not in worst or _use(row) > _use(worst[key]):
                worst[key] = row
    ordered = sorted(worst.values(), key=_use, reverse=True)
    return pd.DataFrame(ordered)


def _use(row: dict[str, Any]) -> float:
    return float(row["utilisation"])
