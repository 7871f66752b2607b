"""The drum below the floor as a cistern for rainwater: the observatory with rings of 0.25 m and water against the wall.

``python -m tools.demo_model.cistern [FOLDER]`` writes the tables of the wall alone.
"""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path

import numpy as np
import pandas as pd
from tools.demo_model.__main__ import tables
from tools.demo_model.observatory import Observatory, build
from tools.demo_model.shell import pressure

LEVEL, RING, WALL = 3.5, 0.25, "drum below"
CASES = ("SW", "FIN", "DOME", "QI", "QT", "RAIN")


def cistern() -> Observatory:
    """The observatory with water up to LEVEL inside the drum."""
    o = build(RING)
    below = o.group == WALL
    middle = o.model.xyz[o.model.corners].mean(1)[:, 2]
    q = np.where(below & (middle < LEVEL), 10.0 * (LEVEL - middle), 0.0)
    cases = {
        **o.cases,
        "RAIN": ("water", "rainwater up to z = 3.5, 10 kN/m3", pressure(o.model, q[:, None] * o.model.axes[:, 2])),
    }
    return replace(o, cases={name: cases[name] for name in CASES})


def wall_alone(whole: dict[str, pd.DataFrame]) -> dict[str, pd.DataFrame]:
    """The tables without what does not belong to the wall."""
    own = whole["elements"][whole["elements"]["group"] == WALL]
    nodes = np.unique(own[["n1", "n2", "n3", "n4"]])
    out = {n: whole[n][whole[n]["element"].isin(own["element"])] for n in ("elements", "axes", "resultants")}
    out |= {n: whole[n][whole[n]["node"].isin(nodes)] for n in ("nodes", "reactions")}
    return {"cases": whole["cases"], **out}


def main() -> None:
    """Write the tables into a folder, by default that of the example."""
    default = Path(__file__).parents[2] / "examples" / "cistern"
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else default
    folder.mkdir(parents=True, exist_ok=True)
    for name, frame in wall_alone(tables(cistern())).items():
        frame.to_parquet(folder / f"{name}.parquet", index=False, compression="zstd", compression_level=19)
        print(f"{name}.parquet  {len(frame)} rows")


if __name__ == "__main__":
    main()
