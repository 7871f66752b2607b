"""Forces of parts that have none of their own: their share in those of the section, or the panel, they stand in."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.mechanics.sectionshares import section_shares
from sandwich.model.walls.outline import Stretch
from sandwich.model.walls.parts import TOUCH, Kind, Part
from sandwich.work.walls.layout import LaidWall
from sandwich.work.walls.stations import SHARE, Station, moved, part_axes

Floats = NDArray[np.float64]
OVERLAP: Final = 1.0  # mm: what a part and a stretch have in common at least


def shares(wall: LaidWall, sources: list[Station], left: list[Part], signed: NDArray[np.bool_]) -> list[Station]:
    """Stations of parts by the sections they stand in, from below.

    Parapets, and what stands over openings, take no part: the upright parts of the storey carry all of a section. It
    stays plane halfway up the openings, where piers bend least; from there each part has the moments its shear brings,
    in the plane of a pier as far as the openings beside it reach.

    Parameters
    ----------
    wall : LaidWall
        The wall.
    sources : list of Station
        Sections, or whole panels, with their forces; where a part stands in several kinds of them, the first counts.
    left : list of Part
        Upright parts without forces.
    signed : ndarray of bool, shape (c,)
        Cases whose forces have signs; of others magnitudes are added.

    Returns
    -------
    list of Station
        Of a whole panel one a source; of a pier its foot and the lower edge of its openings by the lowest source, the
        upper edge and its head by the highest.
    """
    out = []
    for part in left:
        mine = [s for s in sources if s.storey == part.storey and _stands(part, s.runs)]
        mine = sorted((s for s in mine if s.part == mine[0].part), key=lambda s: (s.place, s.at))
        for i, source in enumerate(mine):
            places = [source.place]
            if part.kind is not Kind.WALL:
                low, high = _beside(wall, part)
                lower = [part.low, low] if low > part.low + TOUCH else [part.low]
                upper = [high, part.high] if high < part.high - TOUCH else [part.high]
                places = (lower if i == 0 or i < len(mine) - 1 else []) + (upper if i > 0 or len(mine) == 1 else [])
            out += [_share(wall, source, part, z, signed) for z in places]
    return sorted(out, key=lambda s: s.place)


def _stands(part: Part, runs: tuple[Stretch, ...]) -> bool:
    return any(r.panel == part.panel and r.a < part.b - OVERLAP and r.b > part.a + OVERLAP for r in runs)


def _beside(wall: LaidWall, part: Part) -> tuple[float, float]:
    """From where to where a pier stands beside openings [mm]; of a whole panel its ends."""
    openings = next(o for p, o in zip(wall.panels, wall.openings, strict=True) if p.name == part.panel)
    mine = [
        o for o in openings
        if min(abs(o.b - part.a), abs(o.a - part.b)) < TOUCH and o.low < part.high - TOUCH and o.high > part.low + TOUCH
    ]  # fmt: skip
    if part.kind is not Kind.FULL_PIER or not mine:
        return part.low, part.high
    return max(part.low, min(o.low for o in mine)), min(part.high, max(o.high for o in mine))


def _plane(wall: LaidWall, source: Station, part: Part) -> float:
    """Height at which a section stays plane, as a part looks at it [mm]."""
    piers = [p for p in wall.parts if p.storey == part.storey and p.kind.upright and _stands(p, source.runs)]
    edges = [z for p in piers if p.kind is not Kind.WALL for z in _beside(wall, p)]
    at = (min(edges) + max(edges)) / 2.0 if edges else source.place
    return at if part.low <= at <= part.high else (part.low + part.high) / 2.0


def _share(wall: LaidWall, source: Station, part: Part, z: float, signed: NDArray[np.bool_]) -> Station:
    """A part at a height with its share of a section."""
    at = _plane(wall, source, part)
    company = [
        p for p in wall.parts
        if p.storey == part.storey and p.kind.upright and p.low <= at <= p.high and _stands(p, source.runs)
    ]  # fmt: skip
    places = [wall.panel(p.panel).place((p.a + p.b) / 2.0) for p in company]
    middles, ways = (np.stack(v) for v in zip(*places, strict=True))
    t = [wall.thickness_of(p) for p in company]
    there = moved(np.eye(6), source.axes, np.array([*source.centroid[:2], source.place]), np.array([0.0, 0.0, at]))
    units = np.concatenate([there[:, [1, 2, 0]] @ source.axes, there[:, 3:] @ source.axes], axis=1)
    i = company.index(part)
    axes = part_axes(wall.panel(part.panel), part.a, part.b, upright=True)
    middle = np.array([*middles[i], z])
    share, plane = section_shares(middles, ways, [p.width for p in company], t, units)[i], np.array([*middles[i], at])
    of_unit = moved(share, axes, plane, middle)
    if part.kind is not Kind.WALL:  # past the edges of openings lintels and parapets hold it in its plane
        of_unit[:, 4] = moved(share, axes, plane, np.array([*middles[i], np.clip(z, *_beside(wall, part))]))[:, 4]
    cases = np.where(signed[:, None], source.cases @ of_unit, np.abs(source.cases) @ np.abs(of_unit))
    ends = {"bottom": part.low, "top": part.high}
    name = source.at if part.kind is Kind.WALL else next((k for k, v in ends.items() if abs(v - z) < TOUCH), "opening")
    return Station(
        wall=part.wall, storey=part.storey, part=f"{part.panel} {part.name}", kind=str(part.kind), at=name, place=z,
        centroid=middle, axes=axes, area=part.width * t[i], runs=(Stretch(part.panel, part.a, part.b, t[i]),),
        one_sided=0.0, cases=cases, part_of=part, by=f"{SHARE} {source.part}",
    )  # fmt: skip
