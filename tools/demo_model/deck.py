"""The access deck of the observatory: a prestressed slab on two skew lines of bearings.

``python -m tools.demo_model.deck [FOLDER]`` writes its tables and those of its tendons.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
import pandas as pd
from tools.demo_model.__main__ import tables
from tools.demo_model.observatory import NU, WEIGHT, E, Observatory
from tools.demo_model.shell import Floats, Model, pressure

SPAN, WIDTH, THICK, SKEW = 14.0, 6.0, 0.60, np.radians(30.0)
ALONG, ACROSS = 42, 18
TENDONS, FORCE, SAG = 6, 2100.0, 0.17  # kN after losses, m below mid-depth at mid-span


def deck() -> Observatory:
    """The deck with its own weight, surfacing, crowd load, a half of it loaded, and prestress as equivalent loads."""
    u, v = np.meshgrid(np.linspace(0, SPAN, ALONG + 1), np.linspace(-0.5, 0.5, ACROSS + 1) * WIDTH, indexing="ij")
    xyz = np.stack([u + v * np.tan(SKEW), v, np.zeros(u.shape)], axis=-1).reshape(-1, 3)
    i = np.arange(len(xyz)).reshape(u.shape)
    corners = np.stack([i[:-1, :-1], i[1:, :-1], i[1:, 1:], i[:-1, 1:]], axis=-1).reshape(-1, 4)
    count = len(corners)
    axes = np.tile(np.eye(3), (count, 1, 1))
    model = Model(xyz, corners, np.full(count, THICK), axes, E, NU)
    bearings = np.concatenate([6 * i[0] + 2, 6 * i[-1] + 2])
    middle = ACROSS // 2
    in_plane = [6 * i[0, middle], 6 * i[0, middle] + 1, 6 * i[-1, middle] + 1]
    fixed = np.unique(np.concatenate([bearings, in_plane]))
    down, centre = np.array([0.0, 0.0, -1.0]), xyz[corners].mean(1)

    def load(q: Floats) -> Floats:
        return pressure(model, q[:, None] * down)

    same = np.ones(count)
    per_width = TENDONS * FORCE / WIDTH
    prestress = load(-8.0 * per_width * SAG / SPAN**2 * same)
    for edge, sign in ((i[0], 1.0), (i[-1], -1.0)):
        share = np.full(ACROSS + 1, WIDTH / ACROSS)
        share[[0, -1]] /= 2.0
        prestress[6 * edge] += sign * per_width * share
    cases = {
        "SW": ("permanent", "self weight, 25 kN/m3", load(WEIGHT * THICK * same)),
        "SURF": ("permanent", "surfacing and parapets, 3 kN/m2", load(3.0 * same)),
        "Q": ("imposed", "crowd and delivery vans, 7.5 kN/m2", load(7.5 * same)),
        "QH": ("imposed", "the same on one half of the width", load(np.where(centre[:, 1] > 0.0, 7.5, 0.0))),
        "P": ("prestress", "six parabolic tendons of 2100 kN after losses, as equivalent loads", prestress),
    }
    return Observatory(model, np.full(count, "deck"), fixed, [], cases)


def tendons() -> pd.DataFrame:
    """Places along the six tendons [m]: parabolas, 80 mm ducts, from mid-depth at the ends."""
    rows = []
    for k in range(TENDONS):
        y = WIDTH * ((k + 0.5) / TENDONS - 0.5)
        for s in np.linspace(0.0, SPAN, 29):
            z = -4.0 * SAG * s / SPAN * (1.0 - s / SPAN)
            rows.append((f"T{k + 1}", s + y * np.tan(SKEW), y, z))
    return pd.DataFrame(rows, columns=["tendon", "x", "y", "z"]).round(4)


def main() -> None:
    """Write the tables into a folder, by default that of the example."""
    default = Path(__file__).parents[2] / "examples" / "deck"
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else default
    folder.mkdir(parents=True, exist_ok=True)
    for name, frame in tables(deck()).items():
        frame.to_parquet(folder / f"{name}.parquet", index=False, compression="zstd", compression_level=19)
        print(f"{name}.parquet  {len(frame)} rows")
    tendons().to_csv(folder / "tendons.csv", index=False)


if __name__ == "__main__":
    main()
