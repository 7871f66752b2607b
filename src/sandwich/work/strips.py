"""Strips of a job: totals across a width at stations along a line, their envelope, and a free body as check."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.combine.table import Combinations
from sandwich.core.errors import Faults
from sandwich.core.resultants import COMPONENTS
from sandwich.core.situations import ULTIMATE
from sandwich.core.status import Status
from sandwich.job.strip import Strip
from sandwich.mechanics.block import StressBlock, bars_of_faces
from sandwich.mechanics.cuts import free_body
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.aci318 import flexure as aci318
from sandwich.standards.interface import Standard
from sandwich.standards.is456 import flexure as is456
from sandwich.work.flat import FLAT, FlatPart, flat_part, laid_flat, level_elements, signed_combinations, supports_of

Floats = NDArray[np.float64]
TOTALS: Final = {
    "N": ("nx", "kN", 1e-3), "V in plane": ("nxy", "kN", 1e-3), "M": ("mx", "kNm", 1e-6), "T": ("mxy", "kNm", 1e-6),
    "V": ("vx", "kN", 1e-3),
}  # fmt: skip
SHALLOW: Final = Status.NO_STEEL.because("the section is too shallow, or no bars run along the pulled face")
SERVICE: Final = Status.NOT_DESIGNED.because("a service combination")


@dataclass(frozen=True)
class StripResult:
    """One strip.

    Attributes
    ----------
    name : str
        Name in the job.
    strip : Strip
        What the job says of it.
    s : ndarray, shape (n,)
        Stations along it [m].
    covered : ndarray, shape (n,)
        Width inside the zone [m].
    combinations, situations : tuple of str
        What was integrated.
    faces : tuple of str
        Names of the faces.
    totals : ndarray, shape (n, k, 8)
        Integrals of the components across the width in the axes of the strip [N, N mm].
    imbalance : ndarray, shape (k,)
        What the free body of the whole strip leaves of its largest moment [-].
    support : ndarray, shape (k,)
        What the supports inside the strip exert along the top normal [N]; zero without reactions.
    steel : ndarray, shape (n, k, 2)
        Bars along the strip at the bottom and the top by the stress block [mm2/mm]; nan in service and where the
        section is too shallow or a face that is pulled has no bars along the strip.
    load, declared : ndarray, shape (k,)
        Load along the top normal that the free body asks for and the job gives [N]; nan where it gives none.
    """

    name: str
    strip: Strip
    s: Floats
    covered: Floats
    combinations: tuple[str, ...]
    situations: tuple[str, ...]
    totals: Floats
    imbalance: Floats
    support: Floats
    load: Floats
    declared: Floats
    steel: Floats
    faces: tuple[str, str] = ("bottom", "top")

    @property
    def per_width(self) -> Floats:
        """Totals over the width inside the zone, (n, k, 8) [N/mm, N]."""
        return self.totals / (1e3 * self.covered)[:, None, None]

    @property
    def status(self) -> NDArray[np.object_]:
        """'ok', or why a station has no steel, shape (n, k)."""
        out = np.full(self.totals.shape[:2], Status.OK, dtype=object)
        out[np.isnan(self.steel).any(2)] = SHALLOW
        out[:, [s not in ULTIMATE for s in self.situations]] = SERVICE
        return out

    def left(self, chosen: list[int]) -> float:
        """What the free body leaves in some combinations, of the largest moment of them all [-]."""
        greatest = np.abs(self.totals[:, chosen, 3]).max(0)
        return float((self.imbalance[chosen] * greatest).max(initial=0.0) / max(greatest.max(initial=0.0), 1e-9))

    def frame(self) -> pd.DataFrame:
        """One row a station and combination: totals, values per width, steel of the ultimate ones by a stress block."""
        n, k = self.totals.shape[:2]
        columns: dict[str, object] = {
            "strip": self.name,
            "s [m]": np.repeat(self.s, k),
            "width [m]": np.repeat(self.covered, k),
            "combination": np.tile(np.array(self.combinations, dtype=object), n),
        }
        width = np.where(self.covered > 0.0, self.covered, np.nan)[:, None]
        for name, (component, unit, scale) in TOTALS.items():
            values = self.totals[..., COMPONENTS.index(component)] * scale
            columns[f"{name} [{unit}]"] = values.ravel()
            columns[f"{name} per width [{unit}/m]"] = (values / width).ravel()
        columns["face in tension"] = np.where(self.totals[..., 3] >= 0.0, *self.faces).ravel()
        for i, face in enumerate(self.faces):
            columns[f"{face} by stress block [mm2/m]"] = (self.steel[..., i] * 1e3).ravel()
        columns["status"] = self.status.ravel()
        return pd.DataFrame(columns)

    def checks(self) -> pd.DataFrame:
        """One row a combination: what the free body says."""
        return pd.DataFrame(
            {
                "strip": self.name,
                "combination": self.combinations,
                "maximum M [kNm]": self.totals[..., 3].max(0) / 1e6,
                "minimum M [kNm]": self.totals[..., 3].min(0) / 1e6,
                "moment imbalance [% of maximum]": 100.0 * self.imbalance,
                "supports [kN]": self.support / 1e3,
                "load from shear [kN]": self.load / 1e3,
                "load declared [kN]": self.declared / 1e3,
            }
        )


def strips_of(project: Project, faults: Faults) -> list[StripResult]:
    """Integrate all strips of a job over its combinations.

    Parameters
    ----------
    project : Project
        A job and its results.
    faults : Faults
        Notes strips of no zone, outside their zone, over a curved one, or with results that have no signs.

    Returns
    -------
    list of StripResult
        In the order of the job.
    """
    out = []
    zones = {z.name: z for z in project.zones}
    for name, strip in project.job.strips.items():
        where = f"{project.job.path}, strips.{name}"
        if strip.zone not in zones:
            faults.add(f"{where}.zone", f"no zone '{strip.zone}'", f"there are {', '.join(zones)}")
            continue
        chosen = signed_combinations(project.combinations, strip.combinations, where, faults)
        z = zones[strip.zone]
        if z.surface is None:
            faults.add(where, "a bare table has no places", "give nodes and elements")
        elif chosen is not None:
            for case in sorted(set(strip.load) - set(project.results.cases)):
                there = ", ".join(project.results.cases)
                faults.add(f"{where}.load", f"names case '{case}', which has no results", f"there are {there}")
            found = _integrate(name, strip, z, project, chosen, where, faults)
            out += [found] if found is not None else []
    return out


def _integrate(
    name: str, strip: Strip, z: ZoneInput, project: Project, chosen: Combinations, where: str, faults: Faults
) -> StripResult | None:
    start, end = (1e3 * np.asarray(p, dtype=float) for p in (strip.start, strip.end))
    surface = z.on_mesh
    nearest = int(np.linalg.norm(surface.mesh.centres[surface.elements] - (start + end) / 2, axis=1).argmin())
    normal = surface.orientation.bars[nearest, 2]
    t = (end - start) - normal * np.dot(end - start, normal)
    length = float(np.linalg.norm(t))
    if length < 0.9 * np.linalg.norm(end - start):
        faults.add(where, "the line leaves the surface of the zone", "give two places in one plane of the zone")
        return None
    t /= length
    n = np.cross(normal, t)
    axes = np.stack([t, n])
    flat = laid_flat(z, start, axes)
    half = 500.0 * strip.width
    use = level_elements(z, start, normal, 0.5 * surface.mesh.sizes[surface.elements] + 1e3 * strip.width)
    use &= np.all((flat.max(1) >= [0.0, -half]) & (flat.min(1) <= [length, half]), axis=1)
    part = flat_part(z, project, chosen, use, flat=flat, axes=axes, where=where, faults=faults)
    if part is None:
        return None
    plain = part
    if surface.uncarried is not None:
        plain = (
            flat_part(z, project, chosen, use, flat=flat, axes=axes, where=where, faults=faults, carried=False) or part
        )
    s = np.linspace(0.0, length, strip.stations)
    shift = 1e-5 * max(length, 2.0 * half)  # the first and the last cut just inside, on both of their sides
    places = np.clip(s, shift, length - shift)
    totals = np.zeros((len(s), len(chosen.rows), 8))
    covered = np.zeros(len(s))

    def across(of: FlatPart, a: tuple[float, float], b: tuple[float, float]) -> tuple[Floats, float]:
        return of.across(np.array(a), np.array(b))

    given = np.zeros(totals.shape)  # as it was read: what the free body looks at
    for i, place in enumerate(places):
        totals[i], covered[i] = across(part, (place, -half), (place, half))
        given[i] = across(plain, (place, -half), (place, half))[0]
    if not covered.all():
        out = s[covered == 0.0][0] / 1e3
        faults.add(where, f"the strip is outside zone {z.name} at {out:.3g} m along it", "move it into the zone")
        return None
    edge = np.zeros((2, len(s) - 1, len(chosen.rows), 8))
    for side, y in enumerate((half, -half)):
        for i in range(len(s) - 1):
            edge[side, i] = across(plain, (places[i], y), (places[i + 1], y))[0]
    twist = (edge[0, ..., 5] - edge[1, ..., 5]).sum(0)
    side = (edge[0, ..., 7] - edge[1, ..., 7]).sum(0)
    force, couple = _inside(project, chosen, start, t, n, length, half)
    body = free_body(places, given[..., 3], given[..., 6], twist, side, force, couple)
    area = float(np.trapezoid(covered, places))
    declared = np.full(len(chosen.rows), np.nan)
    if strip.load:
        unit = [1e-3 * sum(f * strip.load.get(c, 0.0) for c, f in r.factors.items()) for r in chosen.rows]
        declared = np.array(unit) * area
    return StripResult(
        name=name,
        strip=strip,
        s=s / 1e3,
        covered=covered / 1e3,
        combinations=tuple(chosen.names),
        situations=tuple(chosen.situations),
        totals=totals,
        imbalance=body.moment,
        support=force,
        load=body.load,
        declared=declared,
        steel=np.full((*totals.shape[:2], 2), np.nan),
        faces=(z.zone.faces.bottom, z.zone.faces.top),
    )


def _inside(
    project: Project, chosen: Combinations, start: Floats, t: Floats, n: Floats, length: float, half: float
) -> tuple[Floats, Floats]:
    """Forces along the top normal and couples about n that supports inside a strip exert, one a combination."""
    supports = supports_of(project, chosen)
    if supports is None:
        return np.zeros(len(chosen.rows)), np.zeros(len(chosen.rows))
    away = supports.xyz - start
    normal = np.cross(t, n)
    aside = 1e-5 * max(length, 2.0 * half)  # a support at an end is outside the first or last cut
    inside = (np.abs(away @ n) <= half) & (away @ t > aside) & (away @ t < length - aside)
    inside &= np.abs(away @ normal) < 1.0
    return (supports.force[:, inside] @ normal).sum(1), (supports.couple[:, inside] @ n).sum(1)


def block_of(strip: Strip, z: ZoneInput, standard: Standard, situation: str) -> StressBlock:
    """Stress block of a strip; the cube strength of IS 456 is the cylinder strength over 0.8."""
    if strip.block == "ACI 318-19":
        return aci318.stress_block(z.zone.concrete.cylinder, z.zone.f_yk)
    if strip.block == "IS 456:2000":
        return is456.stress_block(z.zone.concrete.cube, z.zone.f_yk)
    return standard.stress_block(z.zone.concrete, z.zone.steel, situation)


def with_steel(found: StripResult, z: ZoneInput, standard: Standard) -> StripResult:
    """A strip with the bars along it at their depth in its zone, where they run within 15 degrees of it."""
    strip = found.strip
    line = np.subtract(strip.end, strip.start)
    x, y = (z.on_mesh.orientation.bars[:, i] @ (line / np.linalg.norm(line)) for i in range(2))
    layers = z.zone.bars.layers()
    along = np.median(np.abs(np.outer(x, np.cos(layers.angles)) + np.outer(y, np.sin(layers.angles))), axis=0)
    axes = np.full(2, np.nan)
    for i, e in enumerate(layers.axes(float(z.h.min()))):
        if along[i] >= FLAT and np.isfinite(e):
            for face in (0, 1) if layers.sides[i] == 0 else ((1 - int(layers.sides[i])) // 2,):
                axes[face] = e if np.isnan(axes[face]) else axes[face]
    if np.isnan(axes).all():
        return found
    steel = found.steel.copy()
    for k, situation in enumerate(found.situations):
        if situation not in ULTIMATE:
            continue
        block = block_of(strip, z, standard, situation)
        m, n = found.per_width[:, k, 3], found.per_width[:, k, 0]
        for i, sign in enumerate((1.0, -1.0)):
            h = float(z.h.min())
            on = (m >= 0.0) == (sign > 0.0)
            depths = h / 2 + sign * axes[i], h / 2 - sign * axes[1 - i]
            near, far = bars_of_faces(np.abs(m[on]), n[on], *depths, h, block)
            steel[on, k, i], steel[on, k, 1 - i] = near, far
    return replace(found, steel=steel)
