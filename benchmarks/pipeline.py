"""Speed and memory of a whole run against plain reading and averaging of the same rows, as ratios in one run.

The floor and drum of the demo are tiled side by side until their results have so many rows; text tables, as most
exports are. Each measurement is a process of its own. Usage: python pipeline.py [ROWS]
"""

import os
import subprocess
import sys
import tempfile
import time
from importlib.resources import files
from pathlib import Path

import numpy as np
import pandas as pd

ROWS = 2_000_000
APART = 40.0  # m between the tiles
JOB = """title = "Tiles"
[input]
nodes = "nodes.csv"
elements = "elements.csv"
axes = "axes.csv"
cases = "cases.csv"
resultants = "resultants.csv"
[zones.floor]
groups = ["floor inside", "terrace"]
minimum = "slab"
bars = { cover_bottom = 30, cover_top = 30, diameter_x = 14, diameter_y = 14 }
[zones.drum]
groups = ["drum below", "drum above"]
minimum = "wall"
direction = { along = "horizontal" }
bars = { cover_bottom = 35, cover_top = 35, diameter_x = 12, diameter_y = 12, outer = "y" }
[output]
csv = false
[[combinations]]
name = "U1"
situation = "persistent"
factors = { SW = 1.35, FIN = 1.35, DOME = 1.35, QI = 1.5 }
[[combinations]]
name = "U2"
situation = "persistent"
factors = { SW = 1.0, FIN = 1.0, DOME = 1.0, WX = 1.5 }
"""
PLAIN = """
import sys, pandas as pd
table = pd.read_csv(sys.argv[1])
print(len(table.groupby(["case", "node"])[["nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"]].mean()))
"""


def tile(folder, count):
    """Write the tables of the demo so many times side by side; gives the rows of its results."""
    data = files("sandwich").joinpath("demo_data")
    tables = {n: pd.read_parquet(data.joinpath(f"{n}.parquet")) for n in ("nodes", "elements", "axes", "resultants")}
    step = 10 ** len(str(max(int(tables["nodes"]["node"].max()), int(tables["elements"]["element"].max()))))
    for name, table in tables.items():
        with (folder / f"{name}.csv").open("w", encoding="utf-8") as file:
            for i in range(count):
                one = table.copy()
                for column in {"node", "element", "n1", "n2", "n3", "n4"} & set(one.columns):
                    one[column] = np.where(one[column] >= 0, one[column] + i * step, one[column])
                if name == "nodes":
                    one["x"] += APART * i
                one.to_csv(file, index=False, header=i == 0, float_format="%.7g")
    pd.read_parquet(data.joinpath("cases.parquet")).to_csv(folder / "cases.csv", index=False)
    (folder / "job.toml").write_text(JOB, "utf-8")
    return count * len(tables["resultants"])


def measured(*command):
    """Time [s] and peak memory [bytes] of a process."""
    start = time.perf_counter()
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL)  # noqa: S603
    _, status, use = os.wait4(process.pid, 0)
    if status:
        raise SystemExit(f"{command[:3]} failed")
    return time.perf_counter() - start, use.ru_maxrss * 1024


def main(rows):
    """Print what a whole run costs, over plain reading and averaging."""
    one = len(pd.read_parquet(files("sandwich").joinpath("demo_data", "resultants.parquet")))
    found = {}
    for count in (1, max(round(rows / one), 2)):
        with tempfile.TemporaryDirectory() as place:
            folder = Path(place)
            total = tile(folder, count)
            plain, _ = measured(sys.executable, "-c", PLAIN, folder / "resultants.csv")
            run = [sys.executable, "-m", "sandwich", "run", folder / "job.toml"]
            first, memory = measured(*run)
            again, _ = measured(*run)
            found[total] = memory
        print(
            f"{total} rows: plain reading and averaging {plain:.1f} s, whole run {first:.1f} s "
            f"({first / plain:.1f} times), a second run {again:.1f} s, peak {memory / 1e9:.2f} GB"
        )
    (small, low), (large, high) = found.items()
    print(f"memory a row, above that of the small job: {(high - low) / (large - small):.0f} bytes")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else ROWS)
