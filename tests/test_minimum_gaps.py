"""Small parts of a face without tension have the minimum steel around them; large ones, and what asks for none, stay."""

import pytest

from conftest import write_plate
from sandwich import InputError, explain_point, run_job

PULL, PRESS = (0, 0, 0, -35, -25, 0, 25, 10), (0, 0, 0, 20, 15, 0, 25, 10)


def plate(folder, size, more=""):
    """A plate of 12 m whose top pulls but for a square of elements in the middle."""
    folder.mkdir()
    path = write_plate(folder, 12)
    middle = {100 + 12 * i + j for i in range(6 - size // 2, 6 - size // 2 + size) for j in range(4, 4 + size)}
    lines = (folder / "resultants.csv").read_text().splitlines()
    rows = [lines[0]]
    for line in lines[1:]:
        case, element, node, *_ = line.split(",")
        of = PRESS if int(element) in middle else PULL
        rows.append(",".join([case, element, node, *(f"{v * (1.0 if case == 'G' else 0.5):g}" for v in of)]))
    (folder / "resultants.csv").write_text("\n".join(rows) + "\n")
    path.write_text(path.read_text().replace("f_yk = 500\n", f'f_yk = 500\nminimum = "slab"\n{more}'))
    return path


def bare(result):
    """Points without top bars by layer, and the steel of the others."""
    steel = result.frame("steel")
    top = steel[steel["layer"].isin(["top x", "top y"])].set_index(["layer", "point"])
    return {k: of[of["required [mm2/m]"] == 0.0] for k, of in top.groupby(level=0)}, top


def test_a_small_part_is_closed_and_a_large_one_stays(tmp_path):
    path = plate(tmp_path / "open", 3, "minimum_gaps = 0.0\n")
    own, _ = bare(run_job(path, pictures=False))
    closed, top = bare(run_job(plate(tmp_path / "closed", 3), pictures=False))
    large, _ = bare(run_job(plate(tmp_path / "large", 5), pictures=False))
    for layer in ("top x", "top y"):
        assert len(own[layer]) == 4
        assert closed[layer].empty
        assert len(large[layer]) == 16
        points = own[layer].index.get_level_values("point")
        filled = top.loc[layer].loc[points]
        assert filled["required [mm2/m]"].nunique() == 1
        assert filled["required [mm2/m]"].iloc[0] == pytest.approx(top.loc[layer]["minimum [mm2/m]"].max())
        assert set(filled["governed by"]) == {"minimum steel"}
    sheet = explain_point(tmp_path / "closed" / "job.toml", points[0])
    step = next(s for heading, s in sheet.steps if s.title.startswith("Gaps"))
    assert {q.symbol for q in step.results} == {"top x", "top y"}
    answer = {q.symbol: q.value for q in sheet.answer}
    assert answer["top y"] == pytest.approx(filled["required [mm2/m]"].iloc[0])


@pytest.mark.parametrize(("more", "told"), [
    ('minimum_gaps = 2.0\npoints = "centres"\n', "needs points at the nodes"),
    ("minimum_gaps = -1.0\n", "minimum_gaps"),
])  # fmt: skip
def test_gaps_that_cannot_be_are_refused(tmp_path, more, told):
    with pytest.raises(InputError, match=told):
        run_job(plate(tmp_path / "a", 3, more), pictures=False)
    path = plate(tmp_path / "b", 3, "minimum_gaps = 2.0\n")
    path.write_text(path.read_text().replace('minimum = "slab"', 'minimum = "none"'))
    with pytest.raises(InputError, match="has no use with minimum"):
        run_job(path, pictures=False)
