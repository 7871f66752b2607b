"""Maps of one quantity from the command line and from Python: what they show is what the tables hold."""

import numpy as np
import pytest

from sandwich import InputError, StaleError, map_job, run_job
from sandwich.core.shown import SI as SHOWN
from sandwich.project.outcome import figures_of
from test_layout import RULE
from test_layout import job as plate_job
from walls.test_walls_of_a_plate import write

MORE = (
    '[[combinations]]\nname = "Q"\nsituation = "quasi-permanent"\nfactors = { G = 1.0, P = 0.3 }\n'
    '[[combinations]]\nname = "U2"\nsituation = "persistent"\nfactors = { G = 1.0, P = -1.5 }\n'
)


@pytest.fixture(scope="module")
def plate(tmp_path_factory):
    path = write(
        tmp_path_factory.mktemp("plate"),
        plate_job(f"{RULE.replace('12, 16', '12, 16, 25')}service = {{}}\n") + MORE,
        step=500.0,
    )
    return path, run_job(path, pictures=False)


def test_resultants_of_cases_and_combinations(plate):
    path, result = plate
    (z,) = result.zones
    cases = {c.case: i for i, c in enumerate(result.combinations.columns)}
    for of, i, by in (("nx", 0, 1.0), ("my", 4, 1e-3), ("vy", 7, 1.0)):
        np.testing.assert_allclose(map_job(path, of, case="G").values, by * z.cases[:, cases["G"], i])
        two = map_job(path, of, combination="U2")
        np.testing.assert_allclose(
            two.values, by * (z.cases[:, cases["G"], i] - 1.5 * z.cases[:, cases["P"], i]), atol=1e-9
        )
        every = by * np.stack([(z.cases[..., i] * row).sum(1) for row in result.combinations.ultimate().factors])
        np.testing.assert_allclose(map_job(path, of, combination="largest").values, every.max(0), atol=1e-9)
        np.testing.assert_allclose(map_job(path, of, combination="smallest").values, every.min(0), atol=1e-9)
        whole = map_job(path, of)
        np.testing.assert_allclose(np.abs(whole.values), np.abs(every).max(0), atol=1e-9)
        assert whole.unit == ("kNm/m" if of.startswith("m") else "kN/m")
        assert "ultimate combinations" in whole.figure.describe(SHOWN).note
    # a scale for both signs, as far as the larger of them
    down = map_job(path, "my", combination="U2")
    d = down.figure.describe(SHOWN)
    assert d.levels[0] == -d.levels[-1] < 0
    assert d.levels[-1] >= np.abs(down.values).max()


def test_steel_and_checks_are_those_of_the_tables(plate, tmp_path):
    path, result = plate
    steel = result.frame("steel").set_index(["layer", "point"])
    for of, column in (
        ("required", "required [mm2/m]"),
        ("provided", "provided [mm2/m]"),
        ("minimum", "minimum [mm2/m]"),
    ):
        found = map_job(path, of, layer="bottom y")
        np.testing.assert_allclose(found.values, steel.loc["bottom y", column].reindex(found.points))
    use = map_job(path, "utilisation", layer="top x")
    np.testing.assert_allclose(use.values, 100 * steel.loc["top x", "utilisation"].reindex(use.points))
    checks = result.frame("checks").query("check == 'shear without links'").set_index("point")["utilisation"]
    found = map_job(path, "shear without links")
    np.testing.assert_allclose(found.values, 100 * checks.reindex(found.points))
    # beside a support shear is not designed for: hatched as in the map of the run
    held = write(tmp_path, plate_job("supports = [{ line = [[0, 0, 3], [4, 0, 3]], width = 300 }]\n"), step=500.0)
    shear = figures_of(run_job(held, pictures=False).project.outcomes.values())["wall shear"].describe(SHOWN)
    same = map_job(held, "shear without links").figure.describe(SHOWN)
    assert len(same.hatched) == len(shear.hatched) > 0
    np.testing.assert_array_equal(same.values, shear.values)
    assert not len(same.failed)
    # one combination by itself is what a run with it alone has
    text = path.read_text()
    one = '[[combinations]]\nname = "U2"' + text.split('name = "U2"')[1]
    alone = write(tmp_path, text.split("[[combinations]]")[0].replace("service = {}\n", "") + one, step=500.0)
    wanted = run_job(alone, pictures=False).frame("steel").query("layer == 'bottom y'").set_index("point")
    own = map_job(path, "required", layer="bottom y", combination="U2")
    np.testing.assert_allclose(own.values, wanted["required [mm2/m]"].reindex(own.points), rtol=1e-9, atol=1e-9)


def test_pictures_from_the_command_line(plate, tmp_path, cli):
    path, _ = plate
    for name, start in (("m.png", b"\x89PNG"), ("m.svg", b"<?xml"), ("m.pdf", b"%PDF")):
        code, told, _ = cli("map", path, "--of", "my", "--combination", "U2", "--to", tmp_path / name)
        assert (code, told) == (0, f"wrote {tmp_path / name}: wall, my [kNm/m]\n")
        assert (tmp_path / name).read_bytes().startswith(start)
    code, _, told = cli("map", path, "--of", "mz", "--to", tmp_path / "n.png")
    assert code == 2
    assert "no such quantity; there are nx, ny, nxy" in told
    assert not (tmp_path / "n.png").exists()


@pytest.mark.parametrize(
    ("of", "more", "told"),
    [
        ("required", {}, "give --layer, one of bottom x"), ("required", {"layer": "middle"}, "no such layer; there are"),
        ("mx", {"combination": "U9"}, "no such combination; there are"), ("mx", {"case": "W"}, "no such case; there are G"),
        ("mx", {"case": "G", "combination": "U2"}, "goes without --combination"), ("mx", {"zone": "roof"}, "no zone 'roof'"),
        ("mx", {"layer": "top x"}, "is of the whole thickness"), ("mx", {"raw": True}, "no peaks of zone wall are averaged"), ("steel stress", {"layer": "top x"}, "is a check"),
        ("provided", {"layer": "top x", "combination": "U2"}, "is of all combinations"),
        ("steel stress", {"case": "G"}, "is no resultant"),
    ],
)  # fmt: skip
def test_what_cannot_be_mapped_is_said(plate, of, more, told):
    with pytest.raises(InputError, match=told):
        map_job(plate[0], of, **more)


def test_a_job_that_was_not_run(tmp_path):
    with pytest.raises(StaleError, match="run the job first"):
        map_job(write(tmp_path, plate_job("")), "mx")


def test_the_value_of_each_element_is_written_on_request(plate, tmp_path):
    path, result = plate
    (z,) = result.zones
    found = map_job(path, "my")
    own = found.values[z.on_mesh.corner_points]
    largest = own[np.arange(len(own)), np.abs(own).argmax(1)]
    texts = [f"{v:.0f}" if abs(v) >= 10 else f"{v:.3g}" for v in largest]
    numbers = found.figure.describe(SHOWN).numbers()
    assert [text for *_, text in numbers] == texts
    np.testing.assert_allclose(np.ptp([n[:2] for n in numbers], axis=0), [3.5, 5.5])  # middles in 4 x 6 m
    plain = found.draw(tmp_path / "a.svg").read_text()
    drawn = found.draw(tmp_path / "b.svg", numbers=True).read_text()
    for text in set(texts):
        assert drawn.count(f"<!-- {text} -->") >= plain.count(f"<!-- {text} -->") + texts.count(text)
