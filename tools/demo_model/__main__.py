"""Make the demo tables again: ``python -m tools.demo_model [FOLDER]`` from the root of the repository."""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
import pandas as pd
from numpy.typing import NDArray
from tools.demo_model.observatory import Observatory, build, results
from tools.demo_model.shell import Floats

COMPONENTS = ("nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy")
FIRST_ELEMENT, FIRST_NODE = 1001, 1


def six_digits(values: Floats, floor: float = 1e-6) -> NDArray[np.float32]:
    """Round to six significant digits; what is below `floor` of the largest value is noise and becomes zero."""
    values = np.where(np.abs(values) < floor * np.abs(values).max(), 0.0, values)
    with np.errstate(divide="ignore"):
        power = np.where(values == 0.0, 0.0, np.floor(np.log10(np.abs(values))))
    return (np.round(values / 10.0 ** (power - 5)) * 10.0 ** (power - 5)).astype(np.float32)


def tables(o: Observatory) -> dict[str, pd.DataFrame]:
    """The tables of the demo, by name."""
    m = o.model
    element = np.arange(len(m.corners)) + FIRST_ELEMENT
    nodes = pd.DataFrame(np.round(m.xyz, 6), columns=["x", "y", "z"])
    nodes.insert(0, "node", np.arange(len(nodes)) + FIRST_NODE)
    elements = pd.DataFrame(m.corners + FIRST_NODE, columns=["n1", "n2", "n3", "n4"])
    elements.insert(0, "element", element)
    elements["thickness"], elements["group"] = m.thickness, o.group
    axes = pd.DataFrame(
        np.round(np.concatenate([m.axes[:, 0], m.axes[:, 2]], axis=1), 9), columns=["xx", "xy", "xz", "zx", "zy", "zz"]
    )
    axes.insert(0, "element", element)
    cases = pd.DataFrame([(k, kind, d) for k, (kind, d, _) in o.cases.items()], columns=["case", "kind", "description"])
    cases["category"] = ["C" if kind == "imposed" else "" for kind in cases["kind"]]
    corner, exerted = results(o)
    held = np.flatnonzero(np.abs(exerted).any(axis=(1, 2)))
    reactions = {
        "case": np.repeat(list(o.cases), len(held)),
        "node": np.tile(held + FIRST_NODE, len(o.cases)).astype(np.int32),
        **{c: six_digits(exerted[held, i]).T.ravel() for i, c in enumerate(("fx", "fy", "fz", "mx", "my", "mz"))},
    }
    out = {c: six_digits(corner[..., i]).ravel() for i, c in enumerate(COMPONENTS)}
    count = corner[0, ..., 0].size
    keys = {
        "case": pd.Categorical(np.repeat(list(o.cases), count), categories=list(o.cases)),
        "element": np.tile(np.repeat(element, 4), len(o.cases)).astype(np.int32),
        "node": np.tile((m.corners + FIRST_NODE).ravel(), len(o.cases)).astype(np.int32),
    }
    return {
        "nodes": nodes,
        "elements": elements,
        "axes": axes,
        "cases": cases,
        "reactions": pd.DataFrame(reactions),
        "resultants": pd.DataFrame({**keys, **out}),
    }


def main() -> None:
    """Write the tables into a folder, by default where the package keeps them."""
    default = Path(__file__).parents[2] / "src" / "sandwich" / "demo_data"
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else default
    folder.mkdir(parents=True, exist_ok=True)
    for name, frame in tables(build()).items():
        frame.to_parquet(folder / f"{name}.parquet", index=False, compression="zstd", compression_level=19)
        print(f"{name}.parquet  {len(frame)} rows  {(folder / f'{name}.parquet').stat().st_size / 1e6:.2f} MB")


if __name__ == "__main__":
    main()
