"""The input and what is assumed: combinations, warnings, the model."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.bar_sizes import size
from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.core.records import WarningNote
from sandwich.core.shown import Measure, Sentence, Shown, Words
from sandwich.drawing.records import ModelDescription
from sandwich.inspection.warnings import warnings_of
from sandwich.project.outcome import END, STEEL, Figure, Outcome, Pictures, Section, Table, Text
from sandwich.project.project import Project
from sandwich.project.stage import Stage
from sandwich.project.zone_elements import elements_of_zones
from sandwich.project.zone_input import ZoneInput
from sandwich.stages.ultimate import ULTIMATE

MINIMUM_RULES: Final = {
    "slab": "slab: on faces and directions in tension, and across them",
    "wall": "wall: everywhere, vertical and horizontal",
    "none": "none",
}
ASSUMED: Final = (
    "Tension positive; a positive moment puts the bottom in tension. Bar forces at yield; concrete in two outer "
    "layers, each as thick as its principal compression over its strength; clauses are those of {}; concrete displaced "
    "by bars is not deducted. Transverse shear and punching count on the bars provided, at their own depth, where bars "
    "are chosen or given, else on the required steel; where a zone allows links, the thrust of their struts is carried "
    "by the bars."
)


class InputsStage(Stage[list[WarningNote]]):
    """The input."""

    name = "inputs"
    needs = ("ultimate",)
    tables = ("combinations",)

    def run(self, project: Project, progress: Progress) -> Outcome[list[WarningNote]]:  # noqa: ARG002
        """Look at the input, and say what is assumed."""
        found = warnings_of(project)
        combinations = project.combinations.frame()
        zones = [d.zone for d in project.left(ULTIMATE).values()]
        sections = [
            Section("The input", (Table("", _came_in(project)),), 40),
            Section("Assumptions", tuple(_assumptions(project, zones)), STEEL),
            Section("Combinations", (Table("", combinations),), END),
        ]
        if project.results.mesh is not None:
            sections.append(
                Section(
                    "Model",
                    (Pictures((model_figure(zones, f"{project.job.title}: zones", others=_walls_alone(project)),)),),
                    5,
                )
            )
        return Outcome(
            found,
            tables={"combinations": combinations},
            warnings=tuple(found),
            sections=tuple(sections),
        )


INPUTS: Final = InputsStage()


def _walls_alone(project: Project) -> dict[str, NDArray[np.float64]]:
    """Corners of the elements of zones that are read as walls alone [mm], by zone."""
    mesh, out = project.results.mesh, {}
    of = elements_of_zones(project.job, mesh, Faults()) if mesh is not None else {}
    for name, elements in of.items():
        if mesh is not None and not project.job.zones[name].shell:
            corners = mesh.corners[elements]
            out[name] = mesh.xyz[np.where(corners >= 0, corners, corners[:, 2:3])]
    return out


def model_figure(
    zones: list[ZoneInput], title: str, *, normals: bool = False, name: str = "model",
    others: dict[str, NDArray[np.float64]] | None = None,
) -> Figure:  # fmt: skip
    """The elements of every zone in space, and corners of others that are no zones of the design [mm]."""

    def describe(shown: Shown) -> ModelDescription:  # noqa: ARG001
        surfaces = [z.on_mesh for z in zones]
        corners = [s.mesh.xyz[s.corners] for s in surfaces]
        polygons = [
            np.where((s.corner_points >= 0)[..., None], c, c[:, 2:3]) / 1e3
            for s, c in zip(surfaces, corners, strict=True)
        ]
        up = [s.orientation.bars[:, 2] for s in surfaces] if normals else None
        more = others or {}
        polygons += [c / 1e3 for c in more.values()]
        return ModelDescription(polygons, [*(z.name for z in zones), *more], title, up)

    return Figure(name, ("maps", "draw_model"), describe)


def _came_in(project: Project) -> pd.DataFrame:
    job, mesh = project.job, project.results.mesh
    rows: list[tuple[str, Words]] = [("files", ", ".join(dict.fromkeys(job.files)))]
    rows.append(("cases", ", ".join(project.results.cases)))
    if project.results.unread:
        rows.append(("in no combination, not read", ", ".join(project.results.unread)))
    if mesh is not None:
        low, high = mesh.xyz.min(0) / 1e3, mesh.xyz.max(0) / 1e3
        form = f"{len(mesh.node_ids)} nodes, {len(mesh.element_ids)} elements; "
        ends = [Measure(v, "m") for v in np.stack([low, high], axis=1).ravel().tolist()]
        rows.append(("mesh", Sentence(form + "x {} to {}, y {} to {}, z {} to {}", *ends)))
    u, s = job.input.units, job.input.signs
    rows.append(("units", f"n in {u.membrane}, m in {u.moment}, v in {u.shear}, lengths in {u.length}"))
    turned = f"; negated: {', '.join(s.negate)}" if s.negate else ""
    rows.append(("signs", f"a positive moment puts the {s.positive_moment_tension} face in tension{turned}"))
    if job.rules is not None:
        of = f", parameters {job.rules.parameters}" if job.rules.code.startswith("EN") else ""
        rows.append(("combinations", f"by the rules of {job.rules.code}{of}"))
    if project.zones:
        rows.append(("points", f"{sum(len(z.h) for z in project.zones)} in {len(project.zones)} zone(s)"))
    return pd.DataFrame(rows, columns=["what", "in this job"])


def _assumptions(project: Project, zones: list[ZoneInput]) -> Iterator[Text | Table]:
    shown = Shown(project.job.output.units)
    each = {z.name: _zone(z, project, shown) for z in zones}
    if each:
        frame = pd.DataFrame(each).rename_axis("zone").reset_index()
        frame["zone"] = [shown.heading(key) for key in frame["zone"]]
        yield Table("", frame)
    yield Text(ASSUMED.format(project.standard.name))
    yield from (Text(f"{text[0].upper()}{text[1:]}.") for text in project.standard.to_check)
    if project.standard.readings:
        read = " ".join(f"{r[0].upper()}{r[1:]}." for r in project.standard.readings)
        yield Text(f"Read into the standard where it has no rule of its own: {read}")


def _zone(z: ZoneInput, project: Project, shown: Shown) -> dict[str, Any]:
    strength = project.standard.strengths(z.zone.concrete, z.zone.steel, "persistent")
    mm, mpa = shown.factor("mm"), shown.factor("MPa")
    thick = sorted({f"{v * mm:.4g}" for v in z.h}, key=float)
    b, layers = z.zone.bars, z.zone.bars.layers()
    each = zip(layers.names(), layers.diameters.tolist(), strict=True)
    way = ", ".join(f"{name} {size(diameter, mm)}" for name, diameter in each)
    laid = f"{b.layout}; diameters {way}; outermost {b.outer}"
    if layers.lines:
        laid = f"from the faces inward: {way}"
    d = z.zone.direction
    along = {
        "vector": f"vector {d.vector}",
        "radial": f"radial from {d.centre} m",
        "tangential": f"round {d.centre} m",
        "polyline": f"a line of {len(d.line)} places",
    }.get(d.along, d.along)
    flipped = int(z.surface.orientation.flipped.sum()) if z.surface is not None else 0
    return {
        "points": f"{len(z.labels)} ({z.zone.points})",
        "thickness [mm]": ", ".join(thick[:6]) + (" ..." if len(thick) > 6 else ""),
        "materials [MPa]": f"f_ck {z.zone.f_ck * mpa:.4g} ({z.zone.strength}), f_yk {z.zone.f_yk * mpa:.5g}",
        "design strengths, persistent [MPa]": f"f_yd {strength.f_yd * mpa:.4g}, cracked layer "
        f"{strength.fc_cracked * mpa:.4g}, uncracked layer {strength.fc_uncracked * mpa:.4g}",
        "bars [mm]": f"cover {b.cover_bottom * mm:.4g} / {b.cover_top * mm:.4g}; {laid}",
        "x bars run": along
        + (f" turned {d.angle:g} deg" if d.angle else "")
        + (f"; those of the {z.zone.faces.top} {z.zone.top_direction.along}" if z.zone.top_direction else ""),
        "faces": f"bottom is '{z.zone.faces.bottom}', top is '{z.zone.faces.top}'"
        + (f"; {flipped} elements turned over" if flipped else ""),
        "method": z.zone.method + (", all combinations together" if z.zone.joint else ""),
        "minimum steel": MINIMUM_RULES[z.zone.minimum],
        "not checked, as the job does not ask": ", ".join(_unasked(z, project)) or "none",
    }


def _unasked(z: ZoneInput, project: Project) -> Iterator[str]:
    """Checks of a zone that the job could ask for and does not."""
    asked = {
        "service state": z.zone.service is not None,
        "bars provided": z.zone.rule is not None or bool(z.zone.provided),
        "punching": z.zone.minimum != "slab" or any(p.zone == z.name for p in project.job.punching.values()),
        "cover for durability": z.zone.exposure is not None,
        "fire resistance": z.zone.fire is not None,
    }
    return (name for name, done in asked.items() if not done)
