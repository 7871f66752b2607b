"""Transverse shear of the zones by their bars as they finally lie, and the links."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Final

import numpy as np
import pandas as pd

from sandwich.core.errors import StaleError
from sandwich.core.progress import Progress
from sandwich.design.laid_shear import shear_by_bars, with_shear
from sandwich.design.record import Ultimate
from sandwich.design.results import links_frame
from sandwich.design.transverse import ShearCheck
from sandwich.project.outcome import Figure, Outcome, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.project.store import arrays_of, content, formulas, load_arrays, record_of, save_arrays
from sandwich.stages.maps import zone_map
from sandwich.stages.service import SERVICE
from sandwich.stages.ultimate import ULTIMATE, ZoneDesign
from sandwich.tables.write import file_name
from sandwich.work.bars import laid_axes

SHOWN_ROWS: Final = 12
RANK: Final = 49
TITLE: Final = "Links, and bars raised to avoid them"
NOTE: Final = "The {} points with most links, of {}; all of them are in the table links."


@dataclass(frozen=True)
class ShearBars:
    """Bars of a zone that shear counts on, and the shear by them.

    Attributes
    ----------
    area, axes : ndarray, shape (p, b)
        Bars [mm2/mm] and their axes below mid-depth [mm].
    laid : bool
        Whether they lie there; else they are what the ultimate design requires.
    check : ShearCheck
        Shear with them.
    """

    area: np.ndarray
    axes: np.ndarray
    laid: bool
    check: ShearCheck

    def part(self, i: int) -> tuple[np.ndarray, np.ndarray, str]:
        """Bars of one point, their axes, and a word for them."""
        return self.area[i], self.axes[i], "provided" if self.laid else "required"


@dataclass(frozen=True)
class ZoneShear:
    """Transverse shear of a zone.

    Attributes
    ----------
    zone : ZoneDesign
        The design of the zone.
    final : Ultimate
        The same with its shear by the bars that lie there, where they are chosen or given.
    bars : ShearBars
        Bars that shear counts on.
    """

    zone: ZoneDesign
    final: Ultimate
    bars: ShearBars


class ShearStage(Stage[dict[str, ZoneShear]]):
    """Transverse shear of every zone."""

    name = "shear"
    needs = ("ultimate", "service")
    tables = ("links",)

    def asked(self, project: Project) -> bool:
        """Whether any zone is designed as a shell."""
        return project.job.designs_shells

    def run(self, project: Project, progress: Progress) -> Outcome[dict[str, ZoneShear]]:  # noqa: ARG002
        """Check the shear of every zone with its bars, or take it over."""
        designs = project.left(ULTIMATE)
        left = {
            n: _by_bars(project, d) if project.writes else _of(d, stored_shear(project, n)) for n, d in designs.items()
        }
        linked = [s for s in left.values() if s.zone.zone.zone.links is not None]
        if not linked:
            return Outcome(left)
        links = pd.concat([_frame(s, project) for s in linked], ignore_index=True)
        told = NOTE.format(min(len(links), SHOWN_ROWS), len(links))
        return Outcome(
            left,
            tables={"links": links},
            summary=tuple(_in_short(links)),
            figures=tuple(_maps(linked)),
            sections=(Section(TITLE, (Table("", links.head(SHOWN_ROWS), told),), RANK),) if len(links) else (),
        )


SHEAR_STAGE: Final = ShearStage()


def _by_bars(project: Project, d: ZoneDesign) -> ZoneShear:
    """Shear of a zone by its bars, taken over from the last run where it was made from the same."""
    z, u, laid = d.zone, d.own, project.left(SERVICE)[d.zone.name].laid
    settings, file = z.settings(project.standard), _file(project, z.name)
    if laid is None:
        area, axes, shear, key = np.nan_to_num(u.a_s), settings.bars.axes(z.h), u.shear, "as required"
    else:
        area, axes = laid.area, laid_axes(z, laid, settings)
        ultimate = project.ultimate_of(z)
        made_from = [z.cases, z.h, area, axes, ultimate.factors, ultimate.situations, settings, *arrays_of(u).values()]
        key = content([formulas(), *made_from])
        held = load_arrays(file, key)
        if held is not None:
            return _of(d, _held(held))
        shear = shear_by_bars(
            u, z.cases, ultimate.factors, ultimate.situations, z.h, area=area, axes=axes, settings=settings
        )
    found = ShearBars(area, axes, laid is not None, shear)
    save_arrays(file, key, {"laid": np.array(found.laid), "area": area, "axes": axes} | arrays_of(shear, "shear."))
    return _of(d, found)


def stored_shear(project: Project, zone: str) -> ShearBars:
    """The shear of a zone of the last run as it stands in the store.

    Raises
    ------
    StaleError
        If the store has none.
    """
    try:
        return _held(load_arrays(_file(project, zone)) or {})
    except KeyError:
        raise StaleError(f"{project.store} holds no shear of zone '{zone}'; run the job again") from None


def _file(project: Project, zone: str) -> Path:
    return project.store / f"{file_name(zone)}+shear.npz"


def _held(arrays: dict[str, np.ndarray]) -> ShearBars:
    return ShearBars(arrays["area"], arrays["axes"], bool(arrays["laid"]), record_of(ShearCheck, arrays, "shear."))


def _of(d: ZoneDesign, found: ShearBars) -> ZoneShear:
    return ZoneShear(d, with_shear(d.final, found.check), found)


def _frame(s: ZoneShear, project: Project) -> pd.DataFrame:
    z = s.zone.zone
    return links_frame(z.name, z.labels, s.final, project.ultimate_of(z).names, z.settings(project.standard))


def _in_short(links: pd.DataFrame) -> Iterator[Text | Table]:
    """The most links of each zone."""
    linked = links[links["links [mm2/m2]"] > 0.0]
    top = linked.drop_duplicates("zone")[["zone", "links [mm2/m2]", "point", "combination"]]
    count = linked.groupby("zone", sort=False).size()
    if len(top):
        top.insert(1, "points", count.loc[top["zone"]].to_numpy())
        yield Table("Most links", top, rank=RANK)
    if len(links) > len(linked):
        yield Text(f"Bars raised to avoid links: {len(links) - len(linked)} points.", "quiet", RANK)


def _maps(linked: list[ZoneShear]) -> Iterator[Figure]:
    for s in linked:
        z, areas = s.zone.zone, np.nan_to_num(s.final.shear.a_sw * 1e6)
        if z.zone.links is not None and z.surface is not None and areas.any():
            told = f"vertical links over area of plan, struts of cot theta {z.zone.links.cot_theta:g}"
            yield zone_map(z, "links", "mm2/m2", areas, told)
