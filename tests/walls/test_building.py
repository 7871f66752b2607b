"""The building under earthquakes, from job files to tables: drift, second order, torsion, joints, by hand."""

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sandwich import copy_demo, run_job
from sandwich.core.shown import Shown
from sandwich.drawing import building as drawing
from sandwich.drawing.maps import png
from sandwich.model.walls.outline import Stretch
from sandwich.model.walls.panels import Panel
from sandwich.model.walls.stiffness import plan_stiffness
from sandwich.project.outcome import Pictures
from walls.test_core_variants import GIVEN, SEISMIC, listed
from walls.test_seismic_ends import ALONE
from walls.test_walls_of_a_plate import E, G, L, write

MOVED = 0.9  # mm at the level 3 m, three times that at 6 m; the right edge a fifth more
COMBINED = (
    '[cases.G]\nkind = "permanent"\n[cases.E]\nkind = "seismic"\n[[combinations]]\nname = "S"\nsituation = "seismic"\n'
    "factors = { G = 5.0, E = 1.5 }\n"
)


def written(folder, standard, building, *, table=False):
    folder.mkdir(exist_ok=True)
    job = ALONE.replace("seismic = {}\n", "")
    job = job.replace("f_ck = 30", 'f_ck = 37.5\nstrength = "cube"' if standard.startswith("IS") else "f_ck = 30")
    if not table:
        job = job.replace(
            "reactions =", 'displacements = { file = "moved.csv", units = { length = "mm" } }\nreactions ='
        )
    path = write(folder, job + f'[design]\nstandard = "{standard}"\n[building]\n{building}\n{COMBINED}')
    nodes = pd.read_csv(folder / "nodes.csv")
    u = np.select([nodes["z"] >= 6000, nodes["z"] >= 3000], [3 * MOVED, MOVED], 0.0) * (1 + 0.2 * (nodes["x"] == L))
    pd.DataFrame({"case": "E", "node": nodes["node"], "ux": u, "uy": 0.0, "uz": 0.0}).to_csv(
        folder / "moved.csv", index=False
    )
    rows = [
        (s, p, k * d, k * u) for s, d, u in (("storey 1", 1, 1), ("storey 2", 2, 3)) for p, k in (("a", 1), ("b", 1.2))
    ]
    frame = pd.DataFrame(rows, columns=["storey", "point", "dx", "ux"]).assign(case="E", dy=0.0, uy=0.0)
    frame[["dx", "ux"]] *= MOVED
    frame.to_csv(folder / "drifts.csv", index=False)
    loads = [("storey 1", "G", 600, 0), ("storey 1", "E", 0, 300), ("storey 2", "G", 600, 0), ("storey 2", "E", 0, 300)]
    pd.DataFrame(loads, columns=["storey", "case", "P", "Vx"]).assign(Vy=0.0).to_csv(folder / "loads.csv", index=False)
    return path


def checks(path):
    frame = run_job(path, pictures=False).frame("building checks")
    return frame[frame["direction"] == "x"].set_index(["storey", "check"])


# factors of E are 1.5 in the combination and 1 in the checks; P has 5 G, up to 1 G by ASCE 7
MEAN, MOST, LOAD = 1.1 * MOVED, 1.2 * MOVED, G * 1e3 * L
HAND = {
    "EN 1992-1-1:2004": ('q_d = 3.0\nnu = 0.4\npartitions = "ductile"', {
        "storey drift": (3 * 2 * MEAN, 0.0075 * 3000 / 0.4),
        "second order of the storey": (5 * LOAD * 3 * 2 * MEAN / (E * 3000), 0.1),
    }),
    "ACI 318-19": ("C_d = 5.0\nI_e = 1.25\ndrift_limit = 0.015", {
        "storey drift": (4 * 2 * MEAN, 0.015 * 3000),
        "second order of the storey": (LOAD * 4 * 2 * MEAN * 1.25 / (E * 3000 * 5.0), 0.1),
        "torsion of the floor": (1.0, 1.0),
    }),
    "IS 456:2000": ("R = 4.0", {
        "storey drift": (2 * MOST, 12.0),
        "second order of the storey": (5 * LOAD * 2 * MEAN / (E * 3000), 0.04),
        "torsion of the floor": (1.2, 1.5),
    }),
}  # fmt: skip
JOINT = {
    "EN 1992-1-1:2004": 0.7 * np.hypot(3 * 3 * MOST, 20), "ACI 318-19": np.hypot(4 * 3 * MOST, 20),
    "IS 456:2000": 4 * 3 * MOST + 20,
}  # fmt: skip
NEIGHBOUR = '\nneighbours = [{ side = "+x", gap = 30, displacement = 20, aligned = true }]'


@pytest.mark.parametrize("standard", HAND)
def test_storeys_by_hand_from_nodes_and_from_tables(standard, tmp_path):
    settings, hand = HAND[standard]
    nodes = checks(written(tmp_path / "a", standard, f"{settings}\nwalls_carry_all = true{NEIGHBOUR}"))
    for name, (demand, capacity) in hand.items():
        row = nodes.loc[("storey 2", name)]
        assert (row["demand"], row["capacity"]) == pytest.approx((demand, capacity), rel=2e-3), name
    gap = nodes.loc[("storey 2", "joint at +x")]
    assert gap["demand"] == pytest.approx(JOINT[standard])
    assert gap["status"] == (f"exceeded: a gap of {int(np.ceil(gap['demand']))} mm" if gap["demand"] > 30 else "ok")
    both = f'{settings}\ndrifts = {{ file = "drifts.csv", units = {{ length = "mm" }} }}'
    both += '\nforces = { file = "loads.csv", units = { force = "kN" } }' + NEIGHBOUR
    tables = checks(written(tmp_path / "b", standard, both, table=True))
    for key, row in nodes.iterrows():
        assert tables.loc[key, "utilisation"] == pytest.approx(row["utilisation"], rel=2e-3, nan_ok=True), key
    bare = checks(written(tmp_path / "c", standard, settings))
    assert bare.loc[("storey 1", "second order of the storey"), "status"].startswith("not checked: loads")


def test_second_order_that_the_analysis_has_is_taken(tmp_path):
    loads = 'walls_carry_all = true\nq_d = 20\npartitions = "separate"'
    over = checks(written(tmp_path / "a", "EN 1992-1-1:2004", loads)).loc[("storey 2", "second order of the storey")]
    theta = 5 * LOAD * 20 * 2 * MEAN / (E * 3000)
    assert 0.1 < theta < 0.2
    assert (
        over["status"]
        == f"exceeded: more stiffness, or seismic effects times {1 / (1 - theta):.3f}, told as second_order"
    )
    told = checks(written(tmp_path / "b", "EN 1992-1-1:2004", f"{loads}\nsecond_order = 1.2\nnu = 0.1"))
    assert told.loc[("storey 2", "second order of the storey"), "capacity"] == 0.2
    assert set(told["status"]) == {"ok", "not checked: walls in one direction alone"}


def test_displacement_of_the_building_is_that_of_its_boundary_elements(tmp_path):
    source = copy_demo(tmp_path / "source").parent / "core"
    changes = (
        ('importance = "III"', "C_d = 5.5\ndrift_limit = 0.025"),
        ("centre_of_stiffness = [3.35, 4.35]", "# "), ("torsional_radius = [5.95, 4.75]", "# "),
        ("regular_in_plan = false", "# "), ('length = "mm"', 'length = "cm"'), ("[building]", "[building]"),
        (SEISMIC, f"seismic = {{}}\n{GIVEN}"), ("[spectra.RX]", '[design]\nstandard = "ACI 318-19"\n[spectra.RX]'),
    )  # fmt: skip
    result = run_job(listed(source, tmp_path / "core", *changes), pictures=False)
    top = result.frame("storey drifts").set_index(["storey", "direction"])["design displacement [mm]"].loc["fourth"]
    ends = result.frame("boundary elements").query("by == 'displacement'")
    back, side = (ends[ends["part"] == f"{panel} W"].iloc[0] for panel in ("E", "C"))
    assert back["limit"] == pytest.approx(6400 / (600 * 1.5 * max(top["x"] / 16000, 0.005)), rel=1e-3)
    assert side["limit"] == pytest.approx(4000 / (600 * 1.5 * max(top["y"] / 16000, 0.005)), rel=1e-3)
    assert top.min() > 0.006 * 16000
    floors = result.frame("building checks").query("check == 'torsion of the floor'")
    assert (floors["status"].str.contains("told as A_x") == (floors["demand"] > 1.0)).all()


WRONG = {
    "a unit": ('displacements = { file = "moved.csv", units = { length = "mm" } }', 'displacements = { file = "moved.csv", units = { length = "m" } }', "tell the unit of the table"),
    "a kind": ('[cases.E]\nkind = "seismic"\n', "", "case 'E' of the seismic combinations has no kind"),
    "an earthquake": ('kind = "seismic"', 'kind = "wind"', "no case of the seismic combinations is of kind seismic"),
    "a factor": ("q_d = 3", "nu = 0.5", "building.q_d: is missing"),
    "a setting": ("q_d = 3", "q_d = 3\nC_d = 3", "building.C_d: EN 1992-1-1:2004, recommended values has no use for it"),
    "two loads": ("q_d = 3", 'q_d = 3\nwalls_carry_all = true\nforces = "loads.csv"', "loads of the storeys come from one place"),
    "a storey": ("q_d = 3", 'q_d = 3\nforces = "strange.csv"', "no storey 'attic'; there are storey 1, storey 2"),
    "a case twice": ("q_d = 3", 'q_d = 3\nforces = "twice.csv"', "case G stands twice in 'storey 1'; give each once"),
    "a misspelt case": ("q_d = 3", 'q_d = 3\nforces = "misspelt.csv"', "case 'EE' is not known; there are G, E"),
    "no drift": ('displacements = { file = "moved.csv", units = { length = "mm" } }\n', "", "give input.displacements"),
    "a plan": ("q_d = 3", "plan = [0, 0, 4, 0]", "plan holds no floor; give its lower corner, then its upper one"),
    "idle mass": ("q_d = 3", "regular_in_plan = false\ncentre_of_mass = [3, 3]", "is for regularity in plan alone"),
    "half a centre": ("q_d = 3", "torsional_radius = [3, 3]", "centre_of_stiffness and torsional_radius go together"),
    "no walls": (
        '[walls.wall]\nzones = ["wall"]\n',
        "",
        "building goes by the storeys of its walls; write [walls.NAME] too, or take it out",
    ),
    "a side": ("q_d = 3", 'neighbours = [{ side = "up", gap = 20 }]', "building.neighbours"),
    "a case": ('drifts', 'drifts', "case 'E' has no drift in 'storey 2'"),
}  # fmt: skip


@pytest.mark.parametrize("kind", WRONG)
def test_what_will_not_do_says_why(kind, cli, tmp_path):
    old, new, told = WRONG[kind]
    lacking = kind == "a case"
    building = 'drifts = { file = "drifts.csv", units = { length = "mm" } }' + "\nq_d = 3" if lacking else "q_d = 3"
    path = written(tmp_path / "a", "EN 1992-1-1:2004", building, table=lacking)
    (path.parent / "twice.csv").write_text("storey,case,P,Vx,Vy\nstorey 1,G,1,0,0\nstorey 1,G,2,0,0\n")
    (path.parent / "misspelt.csv").write_text("storey,case,P,Vx,Vy\nstorey 1,EE,1,0,0\n")
    (path.parent / "strange.csv").write_text("storey,case,P,Vx,Vy\nattic,G,1,0,0\n")
    if lacking:
        drifts = pd.read_csv(path.parent / "drifts.csv")
        drifts[drifts["storey"] != "storey 2"].to_csv(path.parent / "drifts.csv", index=False)
    text = path.read_text()
    assert old in text
    path.write_text(text.replace(old, new))
    code, _, err = cli("run", path)
    assert code == 2
    assert told in err
    assert not (path.parent / "results").exists()


@pytest.mark.parametrize(("standard", "factor"), [("ACI 318-19", "C_d = 5"), ("IS 456:2000", "R = 4")])
def test_a_plan_is_for_torsion_by_en_1998(standard, factor, cli, tmp_path):
    path = written(tmp_path, standard, f"{factor}\nplan = [0, 0, 4, 2]")
    code, _, err = cli("run", path)
    assert code == 2
    assert f"building.plan: {standard}" in err
    assert "has no use for it; take it out" in err


def test_the_demo_in_one_table_and_one_picture(tmp_path):
    source = copy_demo(tmp_path / "source").parent / "core"
    result = run_job(
        listed(source, tmp_path / "core", ("walls_carry_all = true", "walls_carry_all = true\nq_d = 3.0")),
        pictures=False,
    )
    moved = result.frame("storey drifts").set_index(["storey", "direction"])
    # modes are combined after they are subtracted: the drifts add up to no less than the displacement
    top = moved["design displacement [mm]"].unstack().iloc[-1].max()
    assert moved["design drift [mm]"].unstack().sum().max() >= 0.9 * top
    # what the walls carry at the foot is the base shear and the weight over it
    cuts = result.frame("wall forces").query(
        "kind == 'section' and at == 'bottom' and storey == 'ground' and case == 'SW'"
    )
    assert moved.loc[("ground", "x"), "P [kN]"] > -cuts["N [kN]"].iloc[0] > moved.loc[("first", "x"), "P [kN]"] / 5
    shares = result.frame("base shear of walls").query("wall == 'all walls'")
    assert (shares["share [%]"] == 100.0).all()
    assert (shares["system"] == "wall system").all()
    blocks = [b for s in result.project.outcomes["building"].sections for b in s.blocks if isinstance(b, Pictures)]
    d = blocks[0].figures[0].describe(Shown())
    assert max(v for v, _ in d.moved["y"]) == pytest.approx(moved.loc[("fourth", "y"), "design displacement [mm]"])
    assert png(drawing.draw_storeys, d)[:4] == b"\x89PNG"


def line(name, *places):
    return Panel(
        name, np.empty(0, dtype=np.int64), 1e3 * np.array(places, dtype=float), *(np.empty((0, 4)),) * 2, np.empty(0)
    )


@given(st.floats(0.5, 3.0), st.floats(2.0, 9.0), st.floats(0.0, 6.28))
def test_stiffness_in_plan_of_four_walls(ratio, wide, turn):
    c, s = np.cos(turn), np.sin(turn)
    # two walls along x at y = 0 and wide, one along y in the middle and one beside it: by hand with their own ratio
    walls = [((0, 0), (3, 0)), ((0, wide), (3, wide)), ((-1, 1), (-1, 5)), ((4, 1), (4, 5))]
    panels = [line(str(i), *w) for i, w in enumerate(walls)]
    t = [200.0, 200.0 * ratio, 250.0, 250.0]
    found = plan_stiffness([[Stretch(p.name, 0.0, p.length, v) for p, v in zip(panels, t, strict=True)]], [panels])
    k = [27 * 0.2 / 12, 27 * 0.2 * ratio / 12, 64 * 0.25 / 12, 64 * 0.25 / 12]
    y = k[1] * wide / (k[0] + k[1])
    torsion = 2 * k[2] * 2.5**2 + k[0] * y**2 + k[1] * (wide - y) ** 2
    assert np.array(found.centre) == pytest.approx([1500.0, 1e3 * y], rel=1e-9, abs=1e-6)
    assert found.radius == pytest.approx(
        [1e3 * np.sqrt(torsion / (k[2] + k[3])), 1e3 * np.sqrt(torsion / (k[0] + k[1]))]
    )
    moved = [line(str(i), *[(c * x - s * v, s * x + c * v) for x, v in w]) for i, w in enumerate(walls[:2])]
    alone = plan_stiffness([[Stretch(p.name, 0.0, p.length, 200.0) for p in moved]], [moved])
    assert alone is None or min(alone.radius) > 0.0


def test_displacements_that_end_before_the_floor_are_told(tmp_path):
    path = written(tmp_path, "EN 1992-1-1:2004", HAND["EN 1992-1-1:2004"][0])
    assert not [w for w in run_job(path, pictures=False).warnings if "displacements" in str(w)]
    moved, nodes = pd.read_csv(tmp_path / "moved.csv"), pd.read_csv(tmp_path / "nodes.csv").set_index("node")
    edge = nodes.loc[moved["node"], "x"].to_numpy() == L
    moved[~edge].to_csv(tmp_path / "moved.csv", index=False)
    told = [str(w) for w in run_job(path, pictures=False).warnings if "displacements" in str(w)]
    assert len(told) == 2
    assert "building, storey 1: displacements do not reach all of the floor: nodes " in told[0]
