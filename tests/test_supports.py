"""Shear at supports: which points are inside or beside one, and what is designed for there."""

import numpy as np
import pandas as pd
import pytest

from conftest import write_plate
from sandwich import InputError, explain_point, run_job
from sandwich.commands.start import copy_demo
from sandwich.project.project import Project

D = 250.0 / 2 + 250.0 / 2 - 30.0 - 12.0  # mean depth of the plate


def with_supports(tmp_path, zone, more="", **plate):
    job = write_plate(tmp_path, **plate)
    job.write_text(job.read_text().replace("[zones.plate]\n", f"[zones.plate]\n{zone}\n") + more)
    return job


def test_points_beside_lines_and_columns(tmp_path):
    line = "supports = [{ line = [[0, 0.5, 0], [3, 0.5, 0]], width = 240 }]"
    column = '[punching.c]\nzone = "plate"\nat = [[4, 4, 0]]\ndiameter = 400\nforce = { G = 1 }\n'
    (z,) = Project.of(with_supports(tmp_path, line, column, n=50, size=0.1)).load().zones
    x, y = z.xyz[:, 0], z.xyz[:, 1]
    beyond = np.hypot(np.maximum(x - 3000.0, 0.0), np.maximum(np.abs(y - 500.0) - 120.0, 0.0))
    face = np.hypot(x - 4000.0, y - 4000.0) - 200.0
    wanted = np.where(np.minimum(beyond, face) <= 1.0, 2, np.where((beyond <= D) | (face <= 2 * D), 1, 0))
    assert (z.support == wanted).all()
    assert {0, 1, 2} == set(z.support.tolist())


def test_walls_are_found_in_the_mesh(tmp_path):
    job = copy_demo(tmp_path / "demo")
    floor = next(z for z in Project.of(job).load().zones if z.name == "floor")
    radius = np.hypot(floor.xyz[:, 0], floor.xyz[:, 1])
    assert (floor.support[np.abs(radius - 6000.0) < 1.0] == 2).all()
    assert (floor.support[radius < 6000.0 - 110.0 - 240.0] == 0).all()
    assert (floor.support == 2).sum() == 72 * 2 + 8  # each place of the kink between ring and terrace, and the columns


def test_shear_at_a_support_is_shown_and_only_its_struts_are_checked(tmp_path):
    """Case values make v 1.8 times the resistance everywhere; links are needed away from the support alone."""
    line = (
        'links = { cot_theta = 1.0 }\nminimum = "slab"\nsupports = [{ line = [[0, 1.5, 0], [3, 1.5, 0]], width = 200 }]'
    )
    job = with_supports(tmp_path, line, n=12, size=0.25)
    table = pd.read_csv(tmp_path / "resultants.csv")
    table[["vx", "vy"]] *= 8.0
    table.to_csv(tmp_path / "resultants.csv", index=False)
    result = run_job(job, pictures=False)
    (z,) = result.zones
    state = dict(zip(z.labels, z.support, strict=True))
    checks = result.checks.set_index(["check", "point"])
    shear, struts = checks.loc["shear without links"], checks.loc["struts of the links"]
    for i, words in ((0, "links"), (1, "not designed: beside a support"), (2, "not designed: inside a support")):
        of = [p for p, s in state.items() if s == i]
        assert set(shear.loc[of, "status"]) == {words}
        assert (shear.loc[of, "demand"] > shear.loc[of, "capacity"]).all()
        assert shear.loc[of, "utilisation"].isna().all() == (i > 0)
        assert (struts.loc[of, "utilisation"] > 0.0).all() == (i < 2)
    assert set(result.frame("links")["point"]) == {p for p, s in state.items() if s == 0}
    beside = next(p for p, s in state.items() if s == 1)
    free = next(p for p, s in state.items() if s == 0)
    # the strut limit beside it is that of the links: 0.5 z nu f_cd at 45 degrees
    assert struts.loc[beside, "capacity"] == pytest.approx(struts.loc[free, "capacity"], rel=1e-9)
    titles = [s.title for _, s in explain_point(job, beside).steps]
    assert "Shear without links, beside a support: shown, not designed for" in titles
    assert "Links and their struts" not in titles
    answer = {q.symbol: q.value for q in explain_point(job, beside).answer}
    stored = result.steel.set_index(["point", "layer"])["required [mm2/m]"]
    assert answer["bottom x"] == pytest.approx(stored[beside, "bottom x"], rel=1e-9)


def test_a_support_without_length_is_named(tmp_path):
    with pytest.raises(InputError, match="two places of the line that follow each other are the same; remove one"):
        Project.of(with_supports(tmp_path, "supports = [{ line = [[0, 0, 0], [0, 0, 0]], width = 200 }]")).load()


def test_reactions_of_all_nodes_are_those_of_the_supports(tmp_path):
    """Exports may list every node of a model with nothing, or what rounding leaves; these hold no edge and no column."""
    job = copy_demo(tmp_path / "demo")
    job.write_text(job.read_text().replace("[zones.floor]", '[zones.floor]\npeaks = { width = 0.8, at = "found" }', 1))
    before = Project.of(job).load().zones
    table = pd.read_parquet(job.parent / "reactions.parquet")
    nodes = pd.read_parquet(job.parent / "nodes.parquet")["node"]
    free = nodes[~nodes.isin(table["node"])].to_numpy()
    more = pd.DataFrame([(case, n) for case in table["case"].unique() for n in free], columns=["case", "node"])
    values = 1e-8 * np.random.default_rng(1).normal(size=(len(more), 6))
    more[["fx", "fy", "fz", "mx", "my", "mz"]] = values
    pd.concat([table, more]).to_parquet(job.parent / "reactions.parquet", index=False)
    for was, now in zip(before, Project.of(job).load().zones, strict=True):
        assert (was.support == now.support).all()
        np.testing.assert_array_equal(was.cases, now.cases)
        if was.averaged is not None:
            np.testing.assert_array_equal(was.averaged.places, now.averaged.places)


def test_ends_of_walls_whose_punching_is_not_checked_are_told(tmp_path, cli):
    job = write_plate(tmp_path, n=6, size=0.5)
    with (tmp_path / "nodes.csv").open("a") as file:
        file.writelines(f"{900 + k},{1.0 + 0.5 * k},1.5,-1\n" for k in range(3))
    with (tmp_path / "elements.csv").open("a") as file:  # a wall under the line of nodes 18, 25, 32
        file.writelines(f"{900 + k},{18 + 7 * k},{25 + 7 * k},{901 + k},{900 + k},0.2,w\n" for k in range(2))
    assert "18,1.0,1.5,0\n" in (tmp_path / "nodes.csv").read_text()
    told = "walls end inside, and their punching is not checked"
    out = " ".join(cli("inspect", job, "--no-pictures")[1].split())
    assert f"{told} 2 at nodes 18, 32 " in out
    wall = '[punching.w]\nzone = "plate"\nkind = "wall end"\nthickness = 200\nforce = { G = 1, Q = 0 }\n'
    job.write_text(job.read_text() + wall + "along = [1, 0, 0]\nat = [[1.0, 1.5, 0]]\n")
    assert f"{told} 1 at nodes 32 " in " ".join(cli("inspect", job, "--no-pictures")[1].split())
