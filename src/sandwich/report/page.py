"""The report of a run: one self-contained HTML page and the maps beside it. Computes nothing."""

from __future__ import annotations

import base64
from collections.abc import Callable
from dataclasses import fields, replace
from importlib import import_module
from importlib.metadata import version
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
import pandas as pd
from jinja2 import Environment, PackageLoader, StrictUndefined

from sandwich._version import __version__
from sandwich.design.results import LAYER, REQUIRED
from sandwich.design.summary import certificate_lines, peaks
from sandwich.errors import Fault, InputError
from sandwich.report.numbers import cell, digits, utilisation
from sandwich.report.service_page import service_section
from sandwich.report.shown import Shown
from sandwich.resume import content, sources
from sandwich.tables.write import check_folder, file_name, write_aside, write_text

if TYPE_CHECKING:
    from sandwich.drawing.describe import MapDescription
    from sandwich.drawing.section import SectionDescription
    from sandwich.prepare import ZoneInput
    from sandwich.result import RunResult
    from sandwich.trace import Sheet

LEAST_RULES = {
    "slab": "slab: on faces and directions in tension, and across them",
    "wall": "wall: everywhere, vertical and horizontal",
    "none": "none",
}

GENERATOR = 'content="sandwich-rc"'  # what a page of this program says of itself


def environment() -> Environment:
    """Templates and their filters."""
    loader = PackageLoader("sandwich.report")
    env = Environment(loader=loader, autoescape=True, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True)
    env.filters["digits"] = digits
    env.filters["use"] = utilisation
    env.filters["cell"] = lambda value, column: cell(column, value)
    return env


def write_report(
    result: RunResult, standard: str, progress: Callable[[str, int, int], None], known: dict[str, str]
) -> tuple[Path, dict[str, str]]:
    """Draw the maps, write them to ``maps/`` and write ``report.html`` with all of them inside.

    `known` and the second result are the pictures by file name with the digest of what they show; a picture of the
    last run that shows the same is not drawn again.
    """
    shown = Shown(result.job.output.units)
    result = shown.result(result)
    maps: dict[str, list[tuple[str, str]]] = {}
    strips: list[tuple[str, str]] = []
    model = ""
    drawn: dict[str, str] = {}
    if result.results.mesh is not None:
        model, maps, strips, drawn = _pictures(result, progress, known)
    context: dict[str, Any] = {
        "title": result.job.title,
        "version": __version__,
        "standard": standard,
        "certificate": certificate_lines(result.certificate),
        "bars": pd.concat([m.bars for m in result.meshes], ignore_index=True) if result.meshes else None,
        "used": pd.concat([m.points for m in result.meshes], ignore_index=True) if result.meshes else None,
        "readings": result.readings,
        "shown": shown,
        "punching": result.punching,
        "rows": result.punching_rows,
        "compression": result.compression if result.compression is not None and len(result.compression) else None,
        "links": result.links if result.links is not None and len(result.links) else None,
        "service": service_section(result.service, shown),
        "tendons": result.prestress.tendons if result.prestress is not None else None,
        "sound": result.certificate.failed + result.certificate.uncertified == 0,
        "model": model,
        "maps": maps,
        "strips": strips,
        "extremes": result.extremes,
        "first": _first(result, maps),
        "came_in": _came_in(result),
        "zones": [_zone(z, result, shown) for z in result.zones],
        "combinations": result.combinations.frame(),
        "peaks": peaks(result.steel),
        "worst": worst(result),
        "failures": result.failures,
        "exceeded": result.exceeded,
        "doubts": [shown.text(d) for d in doubts(result)],
        "job": result.job,
        "layer": LAYER,
        "required": REQUIRED,
    }
    text = environment().get_template("report.html").render(context)
    return write_text(result.folder / "report.html", text), drawn


def _pictures(
    result: RunResult, progress: Callable[[str, int, int], None], known: dict[str, str]
) -> tuple[str, dict[str, list[tuple[str, str]]], list[tuple[str, str]], dict[str, str]]:
    from sandwich.report.figures import model_polygons, punching_plans, strip_diagram, zone_maps
    from sandwich.report.service_figures import tendon_diagrams

    folder, shown = result.folder / "maps", Shown(result.job.output.units)
    folder.mkdir(exist_ok=True)
    described = [(z, [(n, _labelled(d, shown)) for n, d in zone_maps(result, z, shown)]) for z in result.zones]
    plans = list(punching_plans(result, shown))
    tendons = list(tendon_diagrams(result.prestress, shown)) if result.prestress is not None else []
    whole = 1 + sum(len(d) for _, d in described) + len(result.strips) + len(plans) + len(tendons)
    done = 0
    drawn: dict[str, str] = {}

    def picture(name: str, shows: list[Any], room: str, draw: str, *what: Any) -> str:
        nonlocal done
        file = folder / f"{name}.png"
        drawn[file.name] = content([version("matplotlib"), sources(("drawing",)), *shows])
        done += 1
        progress("maps", done, whole)
        if known.get(file.name) == drawn[file.name] and file.is_file():
            return save_picture(file, file.read_bytes())
        # the drawing library takes a second, and a second run may draw nothing
        from sandwich.drawing.maps import png

        return save_picture(file, png(getattr(import_module(f"sandwich.drawing.{room}"), draw), *what))

    polygons, _ = model_polygons(result)
    names, title = [z.name for z in result.zones], f"{result.job.title}: zones"
    model = picture("model", [*polygons, names, title], "maps", "draw_model", polygons, names, title)
    out: dict[str, list[tuple[str, str]]] = {}
    for z, descriptions in described:
        for name, d in descriptions:
            of = [d.view.corners, d.view.labels, *(getattr(d, f.name) for f in fields(d) if f.name != "view")]
            source = picture(f"{file_name(z.name)} {file_name(name)}", of, "maps", "draw_map", d)
            out.setdefault(z.name, []).append((d.title, source))
    for name, plan in plans:
        shows = [plan.title, plan.note, plan.rings, *(v for p in plan.places for v in vars(p).values())]
        source = picture(f"{file_name(name)} punching", shows, "perimeters", "draw_plan", plan)
        out.setdefault(name, []).append((plan.title, source))
    strips = []
    for strip in result.strips:
        of_strip = strip_diagram(strip, shown)
        shows = [of_strip.title, of_strip.note, of_strip.s, *(v for panel in of_strip.panels for v in panel)]
        name = f"strip {file_name(strip.name)}"
        strips.append((of_strip.title, picture(name, shows, "diagram", "draw_diagram", of_strip)))
    for group, diagram in tendons:
        shows = [diagram.title, diagram.note, diagram.s, *(v for panel in diagram.panels for v in panel)]
        strips.append(
            (diagram.title, picture(f"tendons {file_name(group)}", shows, "diagram", "draw_diagram", diagram))
        )
    return model, out, strips, drawn


def _labelled(d: MapDescription, shown: Shown) -> MapDescription:
    """A map with the unit of length on its axes."""
    first, second = (shown.heading(label) for label in d.view.labels)
    return replace(d, view=replace(d.view, labels=(first, second)))


def _first(result: RunResult, maps: dict[str, list[tuple[str, str]]]) -> tuple[str, str] | None:
    """The map that holds the most steel of all."""
    order = peaks(result.steel).sort_values(REQUIRED, ascending=False, kind="stable")
    if not maps or order.empty:
        return None
    zone, layer = order.iloc[0][["zone", LAYER]]
    return next((m for m in maps[zone] if m[0] == f"{zone}: {layer}"), None)


def save_picture(path: Path, picture: bytes) -> str:
    """Write a picture; gives it as the source of an image."""
    write_aside(path, lambda aside: aside.write_bytes(picture))
    return "data:image/png;base64," + base64.b64encode(picture).decode()


def _came_in(result: RunResult) -> list[tuple[str, str]]:
    job, mesh = result.job, result.results.mesh
    rows = [("Files", ", ".join(dict.fromkeys(job.files))), ("Cases", ", ".join(result.results.cases))]
    if mesh is not None:
        low, high = mesh.xyz.min(0) / 1e3, mesh.xyz.max(0) / 1e3
        extent = ", ".join(f"{a} {lo:.4g} to {hi:.4g} m" for a, lo, hi in zip("xyz", low, high, strict=True))
        rows.append(("Mesh", f"{len(mesh.node_ids)} nodes, {len(mesh.element_ids)} elements; {extent}"))
    u = job.input.units
    rows.append(("Units", f"n in {u.membrane}, m in {u.moment}, v in {u.shear}, lengths in {u.length}"))
    s = job.input.signs
    turned = f"; negated: {', '.join(s.negate)}" if s.negate else ""
    rows.append(("Signs", f"a positive moment puts the {s.positive_moment_tension} face in tension{turned}"))
    if job.rules is not None:
        of = f", parameters {job.rules.parameters}" if job.rules.code.startswith("EN") else ""
        rows.append(("Combinations", f"by the rules of {job.rules.code}{of}"))
    rows.append(("Points", f"{len(result.points)} in {len(result.zones)} zone(s)"))
    return rows


def _zone(z: ZoneInput, result: RunResult, shown: Shown) -> dict[str, Any]:
    strength = result.strengths[z.name]
    mm, mpa = shown.factor("mm"), shown.factor("MPa")
    thick = sorted({f"{v * mm:.4g}" for v in z.h}, key=float)
    b, layers = z.zone.bars, z.zone.bars.layers()
    each = zip(layers.names(), layers.diameters * mm, strict=True)
    way = ", ".join(f"{name} {diameter:.4g}" for name, diameter in each)
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
    flipped = int(z.orientation.flipped.sum()) if z.orientation is not None else 0
    return {
        "name": z.name,
        "points": f"{len(z.labels)} ({z.zone.points})",
        "thickness": ", ".join(thick[:6]) + (" ..." if len(thick) > 6 else ""),
        "materials": f"f_ck {z.zone.f_ck * mpa:.4g} ({z.zone.strength}), f_yk {z.zone.f_yk * mpa:.5g}",
        "strengths": f"f_yd {strength.f_yd * mpa:.4g}, cracked layer {strength.fc_cracked * mpa:.4g}, "
        f"uncracked layer {strength.fc_uncracked * mpa:.4g}",
        "bars": f"cover {b.cover_bottom * mm:.4g} / {b.cover_top * mm:.4g}; {laid}",
        "direction": along
        + (f" turned {d.angle:g} deg" if d.angle else "")
        + (f"; those of the {z.zone.faces.top} {z.zone.top_direction.along}" if z.zone.top_direction else ""),
        "method": z.zone.method + (", all combinations together" if z.zone.together else ""),
        "least": LEAST_RULES[z.zone.minimum],
        "faces": f"bottom is '{z.zone.faces.bottom}', top is '{z.zone.faces.top}'"
        + (f"; {flipped} elements turned over" if flipped else ""),
    }


def worst(result: RunResult, count: int = 10) -> pd.DataFrame:
    """The worst points: each with the check of its highest utilisation, failing points first."""
    checks = result.checks[result.checks["check"] != "witness"]
    failing = result.checks[(result.checks["check"] == "witness") & (result.checks["status"] != "ok")]
    failing = failing.assign(check="design", demand=np.nan, capacity=np.nan, unit="", utilisation=np.inf)
    order = pd.concat([failing, checks]).sort_values("utilisation", ascending=False, kind="stable")
    return order.drop_duplicates(["zone", "point"]).head(count)


def doubts(result: RunResult) -> list[str]:
    """What was designed with a doubt, in sentences."""
    out = list(result.doubts)
    out += [
        f"{z.name}: {len(z.averaged.point)} points near {len(z.averaged.places)} peaks are designed for averages over "
        f"{z.zone.peaks.width:g} m; the raw peaks are in the table 'averaged peaks'."
        for z in result.zones
        if z.averaged is not None and z.zone.peaks is not None
    ]
    for z in result.zones:
        own = result.points[result.points["zone"] == z.name]
        whole = int((own["cracking, uncracked up to 0"] <= 0.0).sum())
        if z.zone.uncracked == "saves" and whole:
            out.append(
                f"{z.name}: {whole} points stay uncracked in every combination and have minimum steel alone, as the "
                "zone asks; no stress field stands behind them."
            )
    over = result.exceeded
    for _, row in over[over["check"].str.contains("left out|yield")].iterrows():
        what = "the compressed depth passes the one at which bars yield" if "yield" in row["check"] else row["check"]
        out.append(
            f"{row['zone']}: {what}: {row['points']} points, worst {row['worst']:.2f} of the limit at {row['point']}."
        )
    of = result.job.design.parameters
    if not result.job.design.standard.startswith("EN"):
        return out
    if of == "recommended":
        out.append("Nationally determined parameters are the recommended ones: check them against the national annex.")
    else:
        out.append(
            f"Nationally determined parameters are those of {of}, the recommended "
            "ones where it gives none: check them against the national annex."
        )
        out += [f"The annex has a rule that these values do not hold: {r}." for r in result.own_rules]
    return out


def write_worked(sheet: Sheet, title: str, path: Path, section: SectionDescription | None = None) -> Path:
    """Write a worked calculation as one HTML page, with the drawing of a section; `InputError` where it cannot be.

    A file that is there already is written over only where it is such a page.
    """
    if path.suffix.lower() not in (".html", ".htm"):
        raise InputError([Fault(str(path), "is no name of a page", "a name that ends in .html would do")])
    if path.exists() and GENERATOR not in path.read_bytes()[:2000].decode("utf-8", "replace"):
        raise InputError([Fault(str(path), "is there, and is no page of this program", "name another file")])
    check_folder(path.parent)
    picture = ""
    if section is not None:
        from sandwich.drawing.maps import png
        from sandwich.drawing.section import draw_section

        picture = "data:image/png;base64," + base64.b64encode(png(draw_section, section)).decode()
    return write_text(path, environment().get_template("worked.html").render(title=title, sheet=sheet, picture=picture))
