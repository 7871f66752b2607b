"""The section of the service state of a report, and a page of its own for checks that ran alone."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sandwich._version import __version__
from sandwich.design.results import LAYER
from sandwich.design.summary import added_by_layer, worst_checks
from sandwich.report.service_figures import allowed
from sandwich.report.shown import Shown
from sandwich.tables.write import file_name, write_text

if TYPE_CHECKING:
    from sandwich.check import Checked
    from sandwich.serviceability import ServiceState


def service_section(service: ServiceState | None, shown: Shown) -> dict[str, Any] | None:
    """The service state: what was asked, the worst of each check, the worst cracks, steel that was added."""
    if service is None:
        return None
    asked = []
    for s in service.zones:
        widths = ", ".join(f"{k} {allowed(a)} / {allowed(b)}" for k, (a, b) in s.rule.widths.items()) or "none"
        ages = " and ".join("long-term" if long else "short-term" for long in s.rule.ages)
        told = f"modulus of the concrete {s.E_short:.0f} MPa, {s.E_long:.0f} MPa with creep {s.rule.creep:g}; {ages}"
        told += f"; widths allowed (bottom / top): {widths}"
        if s.rule.least != "none":
            told += f"; first cracks in {s.rule.least}, tensile strength then {s.rule.part:g} of its mean at 28 days"
        if s.rule.uncracked == "saves":
            told += f"; {int((s.state.cracking <= 0.0).sum())} points stay uncracked and need no width"
        if s.state.head.any():
            told += (
                f"; water up to {s.state.head.max() / 1e3:.3g} m above a point: cracks count as through where less "
                f"than x_min stays compressed in all these combinations, at {int(s.state.through.sum())} points"
            )
        asked.append((s.zone, shown.text(told)))
    return {
        "asked": asked,
        "checks": worst_checks(service.checks),
        "cracks": service.cracks.drop_duplicates(["zone", "point", "face"]).head(10),
        "remedies": shown.frame(service.remedies, rename=False),
        "steel": added_by_layer(service.steel) if service.steel is not None else None,
    }


def write_service(checked: Checked, progress: Callable[[str, int, int], None]) -> Path:
    """Draw the maps of checks that ran alone and write ``service.html`` with all of them inside."""
    from sandwich.report.figures import geometry
    from sandwich.report.page import environment, save_picture
    from sandwich.report.service_figures import service_maps, tendon_diagrams

    job, standard = checked.came.job, checked.standard
    shown = Shown(job.output.units)
    maps: dict[str, list[tuple[str, str]]] = {}
    service, prestress = checked.service, checked.prestress
    if checked.came.results.mesh is not None and service is not None and len(service.cracks):
        from sandwich.drawing.maps import draw_map, png

        by_name = {z.name: z for z in checked.came.zones}
        for i, of in enumerate(service.zones):
            z = by_name[of.zone]
            g = geometry(checked.came.results, z, shown.factor("m"))
            for name, d in service_maps(of, z, g, shown, standard.clauses["crack width"]):
                first, second = (shown.heading(label) for label in d.view.labels)
                labelled = replace(d, view=replace(d.view, labels=(first, second)))
                file = checked.folder / f"{file_name(of.zone)} {file_name(name)}.png"
                maps.setdefault(of.zone, []).append((d.title, save_picture(file, png(draw_map, labelled))))
            progress("maps", i + 1, len(service.zones))
    lines: list[tuple[str, str]] = []
    if prestress is not None:
        from sandwich.drawing.diagram import draw_diagram
        from sandwich.drawing.maps import png

        for group, diagram in tendon_diagrams(prestress, shown):
            file = checked.folder / f"tendons {file_name(group)}.png"
            lines.append((diagram.title, save_picture(file, png(draw_diagram, diagram))))
    context = {
        "title": job.title, "version": __version__, "standard": standard.name, "maps": maps, "shown": shown,
        "service": service_section(shown.service(service), shown), "layer": LAYER, "lines": lines,
        "tendons": shown.frame(prestress.tendons, rename=False) if prestress is not None else None,
    }  # fmt: skip
    text = environment().get_template("service_page.html").render(context)
    return write_text(checked.folder / "service.html", text)
