"""The demo turned, moved, renumbered and exported in another order gives the same tables."""

import re
import shutil

import numpy as np
import pandas as pd
import pytest

from sandwich import run_job

TURN, SHIFT = np.radians(33.0), np.array([100.0, -50.0, 0.0])
ROTATION = np.array([[np.cos(TURN), -np.sin(TURN), 0.0], [np.sin(TURN), np.cos(TURN), 0.0], [0.0, 0.0, 1.0]])
TRIO = re.compile(r"\[(-?[\d.]+), (-?[\d.]+), (-?[\d.]+)\]")
RESIDUAL = "equilibrium stress field"  # what rounding leaves
SAME = {
    "steel": ("layer", ["required [mm2/m]"]),
    "points": ("zone", ["steel by strength [mm2/m]"]),
    "checks": ("check", ["demand", "capacity"]),
    "service checks": ("check", ["demand"]),
    "cracks": ("face", ["crack width [mm]"]),
    "strips": ("strip", ["N [kN]", "V [kN]", "M [kNm]", "T [kNm]", "top by stress block [mm2/m]"]),
    "punching": ("zone", ["V [kN]", "v_Ed [MPa]", "v_Rd,c [MPa]", "utilisation"]),
    "column bars": ("check", ["demand", "capacity"]),
    "bar schedule": ("layer", ["number of bars", "length [m]", "mass [kg]"]),
}


def turned(text, *, place):
    """The vectors of a text turned, and moved where they are places."""

    def one(found):
        own = ROTATION @ np.array([float(v) for v in found.groups()]) + (SHIFT if place else 0.0)
        return f"[{', '.join(f'{v:.12g}' for v in own)}]"

    return TRIO.sub(one, text)


@pytest.fixture(scope="module")
def other(fernhill, tmp_path_factory):
    """Tables of the demo as another export of the same building would give them."""
    folder = tmp_path_factory.mktemp("turned") / "fernhill"
    shutil.copytree(fernhill[0], folder, ignore=shutil.ignore_patterns("results", "core"))
    tables = {f.stem: pd.read_parquet(f) for f in folder.glob("*.parquet")}
    rng = np.random.default_rng(3)
    for column, names in (("node", ("node", "n1", "n2", "n3", "n4")), ("element", ("element",))):
        old = tables[f"{column}s"][column].to_numpy()
        new = pd.Series(rng.permutation(len(old)) + 1, index=old)
        for t in tables.values():
            for name in set(names) & set(t.columns):
                t[name] = t[name].map(new).fillna(t[name]).astype(int)
    nodes, elements, axes, reactions = (tables[n] for n in ("nodes", "elements", "axes", "reactions"))
    nodes[["x", "y", "z"]] = nodes[["x", "y", "z"]] @ ROTATION.T + SHIFT
    for t, trio in ((axes, "xx xy xz"), (axes, "zx zy zz"), (reactions, "fx fy fz"), (reactions, "mx my mz")):
        t[trio.split()] = t[trio.split()] @ ROTATION.T
    quads = elements["n4"] > 0
    corners = ["n1", "n2", "n3", "n4"]
    elements.loc[quads, corners] = np.roll(elements.loc[quads, corners].to_numpy(), 1, axis=1)
    for name, t in tables.items():
        t.sample(frac=1, random_state=1).to_parquet(folder / f"{name}.parquet", index=False)
    job = folder / "job.toml"
    lines = job.read_text().splitlines()
    kept = ("rule", "situations", "groups", "top_side = { towards")
    lines = [li if li.startswith(kept) else turned(li, place=not li.startswith("direction")) for li in lines]
    job.write_text("\n".join(lines))
    return run_job(job, pictures=False)


@pytest.mark.parametrize("name", SAME)
def test_another_export_of_the_same_building_has_the_same_table(fernhill, other, name):
    group, columns = SAME[name]
    first, second = pd.read_parquet(fernhill[0] / "results" / f"{name.replace(' ', '_')}.parquet"), other.frame(name)
    assert first[group].value_counts().to_dict() == second[group].value_counts().to_dict()
    for key, own in first[first[group] != RESIDUAL].groupby(group):
        for column in columns:
            a, b = np.sort(own[column]), np.sort(second.loc[second[group] == key, column])
            np.testing.assert_allclose(a, b, rtol=1e-5, atol=2e-5 * np.nanmax(np.abs(first[column])))
