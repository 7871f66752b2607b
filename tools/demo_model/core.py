"""The stair and lift core of the observatory: five storeys, an inner wall, doors that leave lintels.

``python -m tools.demo_model.core [FOLDER]`` writes its tables. Units kN, m.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
import pandas as pd
from numpy.typing import NDArray
from tools.demo_model.__main__ import FIRST_NODE, six_digits, tables
from tools.demo_model.observatory import NU, WEIGHT, E, Observatory
from tools.demo_model.shell import Floats, Ints, Model, pressure, solve

STEP, STOREY, STOREYS = 0.4, 3.2, 5
LENGTH, DEPTH, INNER, LANDING = 6.4, 4.0, 2.4, 1.6  # m: along x, along y, inner wall at x, landings up to y
WALL_H, SLAB_H = 0.25, 0.20
DOOR = 2.4  # m high
STAIR_DOOR, LIFT_DOOR = (0.4, 1.6), (3.6, 5.2)  # m along x in the front wall, y = 0
WINDOW = (1.2, 2.4, 0.8, 2.4)  # m along y, above its floor, in the side wall x = 0, from the second storey on
DEAD, LIVE = 26.0, 9.0  # kN/m of floors on the outer walls, a storey
WIND = 1.1  # kN/m2
MASS = 95.0  # t a storey
SPECTRUM = 0.30 * 9.81  # m/s2, flat up to 0.5 s, then falling with 1/T
DAMPING = 0.05
MODES = 2


def _mesh() -> tuple[Floats, Ints, NDArray[np.str_], Floats]:
    places: dict[tuple[int, int, int], int] = {}

    def node(i: int, j: int, k: int) -> int:
        return places.setdefault((i, j, k), len(places))

    nx, ny, nz, inner = (round(v / STEP) for v in (LENGTH, DEPTH, STOREY * STOREYS, INNER))
    per = round(STOREY / STEP)
    corners, group, x_axis = [], [], []

    def upright(a: tuple[int, int], b: tuple[int, int], k: int, name: str) -> None:
        corners.append([node(*a, k), node(*b, k), node(*b, k + 1), node(*a, k + 1)])
        group.append(name)
        x_axis.append([b[0] - a[0], b[1] - a[1], 0.0])

    for k in range(nz):
        height = (k % per + 0.5) * STEP
        for i in range(nx):
            x = (i + 0.5) * STEP
            door = any(a < x < b for a, b in (STAIR_DOOR, LIFT_DOOR)) and height < DOOR
            if not door:
                upright((i, 0), (i + 1, 0), k, "front")
            upright((i, ny), (i + 1, ny), k, "back")
        for j in range(ny):
            y = (j + 0.5) * STEP
            window = k >= per and WINDOW[0] < y < WINDOW[1] and WINDOW[2] < height < WINDOW[3]
            if not window:
                upright((0, j), (0, j + 1), k, "side")
            upright((nx, j), (nx, j + 1), k, "lift side")
            upright((inner, j), (inner, j + 1), k, "inner")
    for storey in range(1, STOREYS + 1):
        whole = storey == STOREYS
        for i in range(nx if whole else inner):
            for j in range(ny if whole else round(LANDING / STEP)):
                k = storey * per
                corners.append([node(i, j, k), node(i + 1, j, k), node(i + 1, j + 1, k), node(i, j + 1, k)])
                group.append("roof" if whole else "landing")
                x_axis.append([1.0, 0.0, 0.0])
    xyz = STEP * np.array(list(places), dtype=float)
    return xyz, np.array(corners), np.array(group), np.array(x_axis, dtype=float)


def _at_levels(model: Model, way: int) -> list[Floats]:
    """For each level, a unit force along x or y, shared by the nodes of the outer walls there."""
    x, y, z = model.xyz.T
    on = np.isclose(x, 0) | np.isclose(x, LENGTH) | np.isclose(y, 0) | np.isclose(y, DEPTH)
    out = []
    for storey in range(1, STOREYS + 1):
        nodes = np.flatnonzero(on & np.isclose(z, storey * STOREY))
        force = np.zeros(6 * len(model.xyz))
        force[6 * nodes + way] = 1.0 / len(nodes)
        out.append(force)
    return out


def modes(model: Model, fixed: Ints, way: int) -> tuple[list[float], list[Floats]]:
    """Periods [s] and largest forces of the first modes along x or y, of masses at the levels."""
    unit = np.stack(_at_levels(model, way), axis=1)
    u, _ = solve(model, unit, fixed, [])
    flexibility = unit.T @ u  # mean displacement of each level
    mass = np.full(STOREYS, MASS)
    root = np.sqrt(mass)
    value, vector = np.linalg.eigh(root[:, None] * flexibility * root)
    periods, forces = [], []
    for m in np.argsort(-value)[:MODES]:
        shape = vector[:, m] / root
        share = (mass @ shape) / (mass @ shape**2)
        period = 2 * np.pi * np.sqrt(value[m])
        level = mass * shape * share * SPECTRUM * min(1.0, 0.5 / period)
        periods.append(float(period))
        forces.append(unit @ level)
    return periods, forces


def cqc(periods: list[float]) -> Floats:
    """Coefficients between modes (Wilson, Der Kiureghian, Bayo 1981), one damping."""
    r = np.array(periods)[:, None] / np.array(periods)
    return 8 * DAMPING**2 * (1 + r) * r**1.5 / ((1 - r**2) ** 2 + 4 * DAMPING**2 * r * (1 + r) ** 2)


def core() -> tuple[Observatory, dict[str, list[float]]]:
    """The core under its loads, and the periods of its modes along x and y."""
    xyz, corners, group, x = _mesh()
    p = xyz[corners]
    z = np.cross(p[:, 2] - p[:, 0], p[:, 3] - p[:, 1])
    z /= np.linalg.norm(z, axis=1, keepdims=True)
    x /= np.linalg.norm(x, axis=1, keepdims=True)
    slab = np.isin(group, ["landing", "roof"])
    model = Model(xyz, corners, np.where(slab, SLAB_H, WALL_H), np.stack([x, np.cross(z, x), z], axis=1), E, NU)
    foot = np.flatnonzero(xyz[:, 2] == 0.0)
    fixed = (6 * foot[:, None] + np.arange(6)).ravel()
    down, centre = np.array([0.0, 0.0, -1.0]), p.mean(1)

    def on_walls(q: float) -> Floats:
        """A load a length of the outer walls at every level."""
        out = np.zeros(6 * len(xyz))
        for storey in range(1, STOREYS + 1):
            for outer in ("front", "back", "side", "lift side"):
                of = corners[(group == outer) & np.isclose(centre[:, 2], storey * STOREY - STEP / 2)]
                for a, b in of[:, [3, 2]]:
                    out[6 * np.array([a, b]) + 2] -= q * np.linalg.norm(xyz[b] - xyz[a]) / 2
        return out

    def wind(way: int) -> Floats:
        """On the front or a side of a building of 14 by 12 m that the core holds, a storey."""
        level = WIND * STOREY * (12.0, 14.0)[way] * np.array([1.0] * (STOREYS - 1) + [0.5])
        return np.asarray(np.stack(_at_levels(model, way), axis=1) @ level)

    def lateral(way: int) -> Floats:
        """Static forces of an earthquake, rising up the height: 0.2 of the weight."""
        height = np.arange(1, STOREYS + 1)
        base = 0.2 * 9.81 * MASS * STOREYS
        return np.asarray(np.stack(_at_levels(model, way), axis=1) @ (base * height / height.sum()))

    live = pressure(model, np.where(slab[:, None], 3.0 * down, 0.0))
    cases: dict[str, tuple[str, str, Floats]] = {
        "SW": ("permanent", "self weight, 25 kN/m3", pressure(model, WEIGHT * model.thickness[:, None] * down)),
        "FG": ("permanent", "floors on the outer walls, 26 kN/m a storey", on_walls(DEAD)),
        "FQ": ("imposed", "live load on floors and landings, 9 kN/m and 3 kN/m2", on_walls(LIVE) + live),
        "WX": ("wind", "wind along +x", wind(0)),
        "WY": ("wind", "wind along +y", wind(1)),
        "EX": ("seismic", "earthquake along x, static", lateral(0)),
        "EY": ("seismic", "earthquake along y, static", lateral(1)),
    }
    periods: dict[str, list[float]] = {}
    for way, name in enumerate("XY"):
        periods[f"R{name}"], forces = modes(model, fixed, way)
        for m, force in enumerate(forces):
            cases[f"{name}{m + 1}"] = (
                "mode",
                f"mode {m + 1} along {name.lower()}, {periods[f'R{name}'][m]:.3f} s",
                force,
            )
    return Observatory(model, group, fixed, [], cases), periods


def displacements(built: Observatory) -> pd.DataFrame:
    """Displacements of the nodes at the levels under lateral cases, in mm."""
    m = built.model
    names = [n for n, (kind, _, _) in built.cases.items() if kind in ("seismic", "mode")]
    u, _ = solve(m, np.stack([built.cases[n][2] for n in names], axis=1), built.fixed, [])
    level = np.flatnonzero(np.isclose(m.xyz[:, 2] % STOREY, 0.0) | np.isclose(m.xyz[:, 2] % STOREY, STOREY))
    own = 1e3 * u.reshape(len(m.xyz), 6, len(names))[level, :3]
    keys = {
        "case": np.repeat(names, len(level)),
        "node": np.tile(level + FIRST_NODE, len(names)).astype(np.int32),
    }
    values = {c: six_digits(own[:, i].T.ravel()) for i, c in enumerate(("ux", "uy", "uz"))}
    return pd.DataFrame({**keys, **values})


def with_spectra(frames: dict[str, pd.DataFrame], periods: dict[str, list[float]]) -> dict[str, pd.DataFrame]:
    """The tables with the spectrum of each direction: magnitudes, modes combined by CQC value by value."""
    out = dict(frames)
    cases = frames["cases"].assign(signed="yes", direction="")
    for name, of in periods.items():
        direction = name[-1].lower()
        row = {"case": name, "kind": "seismic", "description": f"spectrum along {direction}, CQC of {MODES} modes",
               "category": "", "signed": "no", "direction": direction}  # fmt: skip
        cases = pd.concat([cases, pd.DataFrame([row])], ignore_index=True)
        rho = cqc(of)
        for table in ("resultants", "reactions"):
            frame = out[table]
            values = [c for c in frame.columns if c not in ("case", "element", "node")]
            parts = [frame[frame["case"] == f"{name[-1]}{m + 1}"] for m in range(MODES)]
            stack = np.stack([part[values].to_numpy(dtype=float) for part in parts])
            size = np.sqrt(np.maximum(np.einsum("ij,ipv,jpv->pv", rho, stack, stack), 0.0))
            new = parts[0].assign(case=name, **dict(zip(values, size.T.astype(np.float32), strict=True)))
            out[table] = pd.concat([frame.astype({"case": str}), new], ignore_index=True)
            out[table]["case"] = pd.Categorical(out[table]["case"], categories=list(dict.fromkeys(out[table]["case"])))
    cases.loc[cases["case"].isin(["EX", "EY"]), "direction"] = ["x", "y"]
    return {**out, "cases": cases}


def main() -> None:
    """Write the tables into a folder, by default where the package keeps them."""
    default = Path(__file__).parents[2] / "src" / "sandwich" / "demo_data" / "core"
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else default
    folder.mkdir(parents=True, exist_ok=True)
    built, periods = core()
    for name, of in periods.items():
        print(f"{name}: periods {', '.join(f'{t:.4f}' for t in of)} s")
    made = with_spectra(tables(built), periods) | {"displacements": displacements(built)}
    for name, frame in made.items():
        frame.to_parquet(folder / f"{name}.parquet", index=False, compression="zstd", compression_level=19)
        print(f"{name}.parquet  {len(frame)} rows  {(folder / f'{name}.parquet').stat().st_size / 1e6:.2f} MB")


if __name__ == "__main__":
    main()
