"""The page of an inspection: pictures of zones and axes, doubts, then tables."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import pandas as pd

from sandwich._version import __version__
from sandwich.report.figures import geometry, model_polygons
from sandwich.report.numbers import digits
from sandwich.report.page import environment, save_picture
from sandwich.resultants import COMPONENTS
from sandwich.tables.write import check_folder, file_name, write_text

if TYPE_CHECKING:
    from sandwich.inspection.overview import Inspection


def ranges_of(inspection: Inspection, zone: str) -> pd.DataFrame:
    """Ranges of one zone as people read them: one row a case, least .. greatest of each component."""
    of = inspection.ranges[inspection.ranges["zone"] == zone]
    out: dict[str, object] = {"case": of["case"]}
    for name in COMPONENTS:
        least, greatest = (c for c in of.columns if c.startswith(f"{name} "))
        unit = least.partition("[")[2].rstrip("]")
        out[f"{name} [{unit}]"] = [
            f"{digits(a, 3)} .. {digits(b, 3)}" for a, b in zip(of[least], of[greatest], strict=True)
        ]
    return pd.DataFrame(out)


def write_inspection(inspection: Inspection, folder: Path, progress: Callable[[str, int, int], None]) -> Path:
    """Draw the zones and their axes, and write ``inspection.html`` with all of them inside."""
    check_folder(folder)
    came = inspection.came
    pictures: list[tuple[str, str]] = []
    if came.results.mesh is not None:
        from sandwich.drawing.axes import describe_axes, draw_axes
        from sandwich.drawing.maps import draw_model, png

        whole = len(came.zones) + 1
        polygons, normals = model_polygons(came)
        title = f"{came.job.title}: zones; red: normals to the top face"
        names = [z.name for z in came.zones]
        picture = png(draw_model, polygons, names, title, normals=normals)
        pictures.append(("zones and normals", save_picture(folder / "zones.png", picture)))
        progress("pictures", 1, whole)
        for i, z in enumerate(came.zones):
            g, o = geometry(came.results, z), z.orientation
            assert o is not None
            described = describe_axes(
                f"{z.name}: axes",
                g.corners,
                g.nodes,
                g.bars,
                came.results.mesh.axes[z.elements, 0],
                o.angle,
                o.flipped,
                (z.zone.faces.bottom, z.zone.faces.top),
            )
            file = folder / f"axes {file_name(z.name)}.png"
            pictures.append((described.title, save_picture(file, png(draw_axes, described))))
            progress("pictures", i + 2, whole)
    context: dict[str, Any] = {
        "title": came.job.title,
        "version": __version__,
        "inspection": inspection,
        "pictures": pictures,
        "ranges": {z.name: ranges_of(inspection, z.name) for z in came.zones},
        "combinations": came.combinations.frame(),
        "files": ", ".join(dict.fromkeys(came.job.files)),
    }
    return write_text(folder / "inspection.html", environment().get_template("inspection.html").render(context))
