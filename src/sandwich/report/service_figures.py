"""Pictures of the service state: crack widths with the lines of the cracks, added steel, stresses along tendons."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, Any

import numpy as np

from sandwich.drawing.describe import DiagramDescription, MapDescription, describe_map
from sandwich.report.shown import Shown

if TYPE_CHECKING:
    from sandwich.design.service import Service
    from sandwich.design.tendons import TendonStresses
    from sandwich.prepare import ZoneInput
    from sandwich.report.figures import ZoneGeometry
    from sandwich.serviceability import ZoneService
    from sandwich.tendons import TendonState


def service_maps(
    of: ZoneService, z: ZoneInput, g: ZoneGeometry, shown: Shown, clause: str
) -> Iterator[tuple[str, MapDescription]]:
    """Crack widths of both faces, before and after steel was added where it was, and the added steel of each layer."""
    names = [str(v) for v in z.labels]
    settings = of.rule
    limits = ", ".join(f"{s} {allowed(a)} / {allowed(b)}" for s, (a, b) in settings.widths.items())
    changed = of.added is not None and bool((of.added.area > 1e-9).any())
    states = [("", of.state)] if not changed else [(" before", of.before), ("", of.state)]
    if settings.widths:
        top = max(float(np.nanmax(np.where(np.isfinite(s.width), s.width, np.nan), initial=0.0)) for _, s in states)
        top = min(top, 3.0 * max(max(v) for v in settings.widths.values())) * shown.factor("mm")
        for j, face in enumerate((z.zone.faces.bottom, z.zone.faces.top)):
            if not any((s.width[:, j] > 0.0).any() or not s.good.all() for _, s in states):
                continue  # nothing cracks: the table says so
            for when, s in states:
                told = (
                    "with the steel that is added" if changed and not when else "with the bars of the ultimate design"
                )
                note = shown.text(
                    f"{told}; clause {clause}; widths allowed (bottom / top): {limits}; lines: the wider cracks"
                )
                values = np.where(np.isinf(s.width[:, j]), 1e3, s.width[:, j]) * shown.factor("mm")
                values[~s.good] = np.nan
                yield f"cracks {face}{when}", describe_map(
                    f"{z.name}: crack width, {face}{when and ', before steel is added'}", shown.unit("mm"), g.corners,
                    g.nodes, g.normals, g.point, values, names, _lines(s, j, g), note=note, scale=top,
                )  # fmt: skip
    if of.added is None or not changed:
        return
    layers = z.zone.bars.layers().names(z.zone.faces.bottom, z.zone.faces.top)
    scale = float(of.added.area.max()) * 1e3 * shown.factor("mm2/m")
    for i, layer in enumerate(layers):
        area = 1e3 * of.added.area[:, i] * shown.factor("mm2/m")
        if area.any():
            yield f"added {layer}", describe_map(
                f"{z.name}: steel added for service, {layer}", shown.unit("mm2/m"), g.corners, g.nodes, g.normals,
                g.point, area, names, note="over the bars of the ultimate design", scale=scale,
            )  # fmt: skip


def allowed(width: float) -> str:
    """A width that is allowed, in words."""
    return f"{width:g} mm" if np.isfinite(width) else "no limit"


def _lines(s: Service, face: int, g: ZoneGeometry) -> np.ndarray:
    """Direction of the crack at each element, zero where it is less than half as wide as the widest."""
    at = g.point[:, 0]
    along = s.theta[at, face] + np.pi / 2.0
    lines = np.cos(along)[:, None] * g.bars[:, 0] + np.sin(along)[:, None] * g.bars[:, 1]
    finite = np.where(np.isfinite(s.width[:, face]), s.width[:, face], 0.0)
    return np.where((s.width[at, face] > 0.5 * finite.max(initial=0.0))[:, None], lines, 0.0)


def tendon_diagrams(state: TendonState, shown: Shown) -> Iterator[tuple[str, DiagramDescription]]:
    """One diagram a group of tendons: concrete stress at both edges around the ducts, increase of their stress."""
    for group in dict.fromkeys(t.group for t, _ in state.found):
        own = [(t, s) for t, s in state.found if t.group == group]
        longest = max(float(t.line.s[-1]) for t, _ in own)
        share = np.linspace(0.0, 1.0, 101)

        def along(
            pick: Callable[[TendonStresses], np.ndarray], own: list[Any] = own, share: np.ndarray = share
        ) -> np.ndarray:
            return np.stack([np.interp(share, t.line.s / t.line.s[-1], pick(s)) for t, s in own], axis=1)

        asked = own[0][0].asked
        panels = [
            (shown.heading("upper edge [MPa]"), shown.values(along(lambda s: s.upper[:, 1]), "MPa")),
            (shown.heading("lower edge [MPa]"), shown.values(along(lambda s: s.lower[:, 1]), "MPa")),
            (shown.heading("increase of tendon stress [MPa]"), shown.values(along(lambda s: s.increase), "MPa")),
        ]
        note = (
            f"{len(own)} tendons, a line each; greatest concrete stress along them {asked.within:g} mm around ducts of "
            f"{asked.duct:g} mm, {asked.decompression}; increase from {asked.stress_from} to {asked.stress_to}"
        )
        yield group, DiagramDescription(
            f"Tendons {group}", shown.text(note), shown.values(share * longest / 1e3, "m"), panels,
            shown.heading("along the tendons [m]"),
        )  # fmt: skip
