"""The part of a worked point that its bars near a column come from."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from sandwich.core.trace import Quantity, Step
from sandwich.project.project import Project
from sandwich.stages.punching import PUNCHING
from sandwich.stages.ultimate import ZoneDesign
from sandwich.work.column_bars import TOP, band_at, bands_of
from sandwich.work.punching import supported

ALIKE: Final = 1e-6  # of what a band needs


def near_columns(
    project: Project, d: ZoneDesign, i: int, raised: dict[str, Quantity]
) -> Iterator[tuple[str, Step]]:  # fmt: skip
    """Steps of the layers whose bars at a point are those that lie near a column."""
    z, settings = d.zone, d.zone.settings(project.standard)
    if z.zone.column_bars is None:
        return
    own = [supported(p) for p in project.left(PUNCHING) if p.area.zone == z.name]
    bands = bands_of(own, z, d.own.a_s_ultimate, settings)
    for layer, name in enumerate(settings.names):
        at = band_at(bands, z, settings, layer, i) if name in raised else None
        if at is None or raised[name].value > 1e3 * at[0].need[at[1]] * (1.0 + ALIKE):
            continue
        b, k = at
        whole, part = float(b.whole[k]), b.rule.value / float(b.whole.max())
        if b.check == TOP:
            formula = f"{part:g} A_t / b; A_t of both half panels beside {b.column} at this station"
            given = (Quantity("A_t", whole, "mm2"), Quantity("b", b.rule.width, "mm"))
        else:
            formula = f"{part:.3g} M_sc / (0.9 d f_yd b)"
            given = (Quantity("M_sc", whole / 1e6, "kNm"), Quantity("b", b.rule.width, "mm"))
        yield (
            name,
            Step(f"{b.check[0].upper()}{b.check[1:]}: {b.column}", b.rule.clause, formula, given, (raised[name],)),
        )
