"""Bars of zones as they are laid and cut: places, marks, lengths, mass."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from functools import partial
from typing import Final

import numpy as np

from sandwich.core.progress import Progress
from sandwich.core.records import WarningNote
from sandwich.core.shown import Measure, Sentence
from sandwich.model.points import common_border
from sandwich.project.outcome import Figure, Outcome, Pictures, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.stages.bars import BARS
from sandwich.stages.column_bars import through_columns
from sandwich.stages.punching import PUNCHING
from sandwich.stages.service import SERVICE
from sandwich.stages.ultimate import ULTIMATE
from sandwich.tables.write import file_name
from sandwich.work.bar_sections import bar_section, most_bars
from sandwich.work.column_bars import through_rows
from sandwich.work.layout_pictures import FACES, face_plan
from sandwich.work.schedule import ZoneSchedule, layers_frame, places_frame, schedule_of

RANK: Final = 46
PLACES_TABLE: Final = "layout"
DRAW: Final = ("layout", "draw_layout")
DRAW_SECTION: Final = ("bar_section", "draw_bar_section")
STOCK: Final = 12.0  # m, of zones that are not laid out
NO_U_BARS: Final = "has no U-bars at its free edges: they close bars of both faces, and no layer has them in both"
NO_ROOM: Final = "an opening near the edge of its zone; bend bars there, or give additional bars"
PAGE: Final = 60
NOTE: Final = (
    "Along and across are places in the plan of the zone, along the bars of the layer and across them: additional bars "
    "count in full between them, and go past both ends by the tension shift and their anchorage, cut at the edges of "
    f"the zone. The table has the rows after {PAGE}, too."
)
NOTE_LAYERS: Final = (
    "Mass of the required and of the provided steel by their areas; of the bars as they are cut, with what goes past "
    "the ends of rectangles and with laps. The bound is that of all base meshes that were looked at, over the same "
    "rectangles, for what is required at last."
)


class LayoutStage(Stage[tuple[ZoneSchedule, ...]]):
    """Places, marks, lengths and mass of the bars of zones."""

    name = "layout"
    needs = ("ultimate", "punching", "service", "bars")
    tables = (PLACES_TABLE,)

    def asked(self, project: Project) -> bool:
        """Whether bars of a zone are chosen or given."""
        return BARS.asked(project)

    def run(self, project: Project, progress: Progress) -> Outcome[tuple[ZoneSchedule, ...]]:  # noqa: ARG002
        """Cut the bars of each zone."""
        found: list[ZoneSchedule] = []
        warnings: list[WarningNote] = []
        designs, laid = project.left(ULTIMATE), project.left(SERVICE)
        for use in project.left(BARS):
            z, state = laid[use.zone].zone, laid[use.zone].service
            settings = z.settings(project.standard)
            required = designs[use.zone].final.a_s
            if state is not None:
                required = np.where(np.isnan(required), np.nan, np.fmax(required, state.required))
            stock = z.zone.layout.stock if z.zone.layout is not None else STOCK
            first = 1 + max((r.mark for s in found for r in s.rows), default=0)
            through = through_columns(z, use.given, project.left(PUNCHING), project) if z.zone.column_bars else []
            more = through_rows(through, z, use.given, settings.names)
            one = schedule_of(z, use.given, required, settings, 1e3 * stock, first, more)
            if isinstance(one, str):
                warnings.append(WarningNote(f"zone {use.zone}", "has no bar schedule", one))
                continue
            found.append(one)
            if one.edges.bare:
                warnings.append(WarningNote(f"zone {use.zone}", NO_U_BARS))
            short = [b.warning for b in one.edges.beside if b.warning is not None]
            warnings += [WarningNote(f"zone {use.zone}", text, cause=NO_ROOM) for text in short]
        if not found:
            return Outcome((), warnings=tuple(warnings))
        warnings += _ends_at_borders(found)
        places, layers = places_frame(found), layers_frame(found)
        out = any(s.given.bounds for s in found)
        figures = tuple(
            Figure(f"layout {file_name(s.zone.name)} {face}", DRAW, partial(face_plan, s, side))
            for s in found if s.given.bounds or s.edges.beside for side, face in FACES.items()
            if any(s.zone.zone.bars.layers().sides[n] == side
                   for n in (*(e.layer for e in s.given.extra), *(b.number for b in s.edges.beside)))
        )  # fmt: skip
        cuts = tuple(
            Figure(f"bars {file_name(s.zone.name)} section", DRAW_SECTION,
                   partial(bar_section, s.zone, s.given, s.zone.settings(project.standard), most_bars(s.given)))
            for s in found if s.places
        )  # fmt: skip
        blocks: tuple[Text | Table | Pictures, ...] = (
            Pictures((*figures, *cuts)),
            Table("Layers", layers, NOTE_LAYERS),
            Table("Places of bars", places.head(PAGE), NOTE),
            *(Text(_seam(s)) for s in found if s.plan.start),
        )
        return Outcome(
            tuple(found),
            tables={PLACES_TABLE: places},
            summary=(Table("Layout of bars", layers, rank=72),) if out else (),
            warnings=tuple(warnings),
            sections=(Section("Layout of bars", blocks, RANK),),
        )


def _ends_at_borders(found: list[ZoneSchedule]) -> Iterator[WarningNote]:
    """Zones of one slab or wall, whose bars do not go on into each other."""
    for one, other in itertools.combinations([s for s in found if s.places], 2):
        a, b = one.zone.on_mesh, other.zone.on_mesh
        length = common_border(a.mesh, a.elements, b.elements)
        if length > 0.0:
            yield WarningNote(
                f"zones {one.zone.name} and {other.zone.name}",
                "their bars end at the border between them, without anchorage beyond it",
                Sentence("{} along which the surface goes on", Measure(length / 1e3, "m", ".3g")),
                "one slab or wall in several zones: make them one zone, or lap the bars across the border by hand",
                grave=True,
            )


def _seam(of: ZoneSchedule) -> Sentence:
    """Where the way round a zone starts."""
    x, y, z = (Measure(v / 1e3, "m", ".2f") for v in of.plan.start)
    edge = "" if of.plan.fan is None else " at its outer edge; radial bars lie at their spacing at their far end"
    return Sentence("Zone {}: the way round counts from x {}, y {}, z {}{}.", of.zone.name, x, y, z, edge)


LAYOUT: Final = LayoutStage()
