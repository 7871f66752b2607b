"""The demo's results as another office would export them, drafted, inspected and designed: the steel is the same.

Usage: python another_offices_export.py [FOLDER]
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

import pandas as pd

import sandwich
from sandwich.commands.start import copy_demo, new_job

KIP_FT, KIPFT_FT, FT = 14.59390, 4.448222, 0.3048  # kN/m, kNm/m, m


def export(demo: Path, folder: Path) -> list[Path]:
    """Semicolons, decimal commas, kip and ft, a row of units under the header and text around the tables."""
    units = {"x": "ft", "y": "ft", "z": "ft", "thickness": "ft", "case": "", "node": "", "element": "", "group": ""}
    units |= dict.fromkeys(("nx", "ny", "nxy", "vx", "vy"), "kip/ft") | dict.fromkeys(("mx", "my", "mxy"), "kip-ft/ft")
    size = {"ft": FT, "kip/ft": KIP_FT, "kip-ft/ft": KIPFT_FT, "kip": KIPFT_FT, "kip-ft": KIPFT_FT * FT}
    files = []
    for name in ("nodes", "elements", "axes", "resultants", "reactions"):
        table = pd.read_parquet(demo / f"{name}.parquet")
        if name == "reactions":
            units |= dict.fromkeys(("fx", "fy", "fz"), "kip") | dict.fromkeys(("mx", "my", "mz"), "kip-ft")
        for column in table.columns:
            if units.get(column) in size:
                table[column] = table[column].astype(float) / size[units[column]]
        rows = table.to_csv(sep=";", decimal=",", index=False, float_format="%.7g").splitlines()
        row_of_units = ";".join(units.get(c, "") for c in table.columns)
        lines = [
            "Project;Fernhill Observatory",
            "",
            rows[0],
            row_of_units,
            *rows[1:],
            "",
            f"End of table;{len(table)} rows",
        ]
        files.append(folder / f"{name}.txt")
        files[-1].write_text("\r\n".join(lines), "utf-8-sig")
    return files


with tempfile.TemporaryDirectory() as place:
    demo = copy_demo(Path(sys.argv[1]) if len(sys.argv) > 1 else Path(place) / "demo")
    files = export(demo.parent, Path(place))
    job = new_job(Path(place) / "job", files)
    drafted = job.read_text("utf-8")
    print("\n".join(drafted.splitlines()[5:16]))
    # the guesses looked at: zones, cases and rules are those of the demo
    lines = demo.read_text("utf-8").splitlines(keepends=True)
    left_out = ("service", "rule ", "column_bars")  # the steel of strength is compared
    whole = "".join(line for line in lines if not line.startswith(left_out))
    demo.write_text(whole, "utf-8")
    start, end = drafted.index("[zones"), whole.index("[zones.floor]")
    cases = f'cases = "{(demo.parent / "cases.parquet").as_posix()}"\n'
    job.write_text(drafted[:start].replace("[input]\n", f"[input]\n{cases}") + whole[end:], "utf-8")
    looked = sandwich.inspect_job(job, pictures=False).inspection
    print(looked.tables.to_string(index=False))
    print("warnings:", [str(d) for d in looked.warnings])
    steel = [sandwich.run_job(j, pictures=False).steel["required [mm2/m]"] for j in (demo, job)]
    print(f"largest difference of the steel: {(steel[0] - steel[1]).abs().max():.3g} mm2/m")
    assert (steel[0] - steel[1]).abs().max() < 0.1
