"""Bars from a table of their own: a layout that was written, edited, and read back."""

import pandas as pd
import pytest

from sandwich import InputError, StaleError, run_job, try_job
from test_layout import LAYOUT
from test_layout import job as plate_job
from walls.test_walls_of_a_plate import ALONE, write


@pytest.fixture(scope="module")
def laid(tmp_path_factory):
    """The plate laid out, its table of layout as the run wrote it."""
    folder = tmp_path_factory.mktemp("laid")
    path = write(folder, plate_job(LAYOUT) + "[output]\ncsv = true\n", step=500.0)
    return run_job(path, pictures=False), folder / "results" / "layout.csv"


def given(folder, frame, name="bars.csv"):
    path = write(folder, plate_job(f'bars_table = "{name}"\n'), step=500.0)
    if frame is not None:
        writer = {"csv": frame.to_csv, "xlsx": frame.to_excel, "parquet": frame.to_parquet}[name.rpartition(".")[2]]
        writer(folder / name, index=False)
    return path


@pytest.mark.parametrize("name", ["bars.csv", "bars.xlsx", "bars.parquet"])
def test_a_layout_comes_back_as_it_was(laid, name, tmp_path):
    result, file = laid
    again = run_job(given(tmp_path, pd.read_csv(file), name), pictures=False)
    columns = ["layer", "bars [mm]", "extra bars [mm]", "mass [kg/m2]"]
    found, wanted = again.frame("bars"), result.frame("bars")
    pd.testing.assert_frame_equal(found[columns].astype(str), wanted[columns].astype(str))
    # the layout was designed with the thicker bars that were assumed, which lie deeper
    assert found["utilisation"].tolist() == pytest.approx(wanted["utilisation"].tolist(), rel=0.1)
    assert (found["utilisation"] <= 1 + 1e-9).all()
    kept = ["layer", "place", "along from [m]", "along to [m]", "number of bars"]
    pd.testing.assert_frame_equal(again.frame("layout")[kept], result.frame("layout")[kept], rtol=1e-5)


def test_what_is_taken_out_is_seen_at_once(laid, tmp_path):
    frame = pd.read_csv(laid[1])
    extra = frame[(frame["place"] != "base") & (frame["layer"] == "bottom y")]
    assert len(extra)
    path = given(tmp_path, frame.drop(extra.index))
    short = run_job(path, pictures=False).frame("bars").set_index("layer")
    assert short.loc["bottom y", "points insufficient"] > 0
    assert short.loc["bottom y", "utilisation"] > 1
    assert (short.drop("bottom y")["utilisation"] <= 1).all()
    # thicker bars of the table are tried as those of the job are, and a changed table makes the results stale
    trial = try_job(path, {"zones.wall.provided.bottom y": "{ diameter = 20, spacing = 100 }"})
    assert trial.bars[0].bars.set_index("layer").loc["bottom y", "points insufficient"] == 0
    frame.to_csv(tmp_path / "bars.csv", index=False)
    with pytest.raises(StaleError, match="run the job again"):
        try_job(path, {"zones.wall.f_ck": "35"})
    whole = run_job(path, pictures=False).frame("bars").set_index("layer")
    assert (whole["utilisation"] <= 1 + 1e-6).all()


def change(frame, at, column, value):
    out = frame.astype(object)
    out.loc[at, column] = value
    return out


@pytest.mark.parametrize(
    ("edit", "told"),
    [
        (lambda _: None, "no file 'bars.csv'"),
        (lambda f: f.drop(columns="place"), "bars.csv: lacks place"),
        (lambda f: f.assign(zone="roof"), "no row of zone 'wall'; there are roof"),
        (lambda f: change(f, 0, "bars [mm]", "12 at 150"), r"row 2: '12 at 150' are no bars; write diameter/spacing"),
        (lambda f: change(f, f.index[-1], "along to [m]", "far").assign(place=["base"] + ["more"] * (len(f) - 1)),
         r"no number in along to \[m\]"),
        (lambda f: f.assign(place="base"), "a second base mesh of"),
        (lambda f: change(f, 0, "layer", "middle"), "no layer 'middle'"),
    ],
)  # fmt: skip
def test_what_is_no_table_of_bars_is_said(laid, edit, told, tmp_path):
    path = given(tmp_path, edit(pd.read_csv(laid[1])))
    with pytest.raises(InputError, match=told):
        run_job(path, pictures=False)
    assert not (tmp_path / "results").exists()


def test_it_goes_alone_and_not_from_the_results(tmp_path):
    path = write(tmp_path, plate_job(f'{LAYOUT}bars_table = "results/layout.csv"\n'), step=500.0)
    with pytest.raises(InputError, match=r"(?s)take one of them out.*lies in the results"):
        run_job(path, pictures=False)
    alone = ALONE.replace("[storeys]", 'bars_table = "bars.csv"\n[storeys]')
    with pytest.raises(InputError, match="bars_table is for the design of a shell"):
        run_job(write(tmp_path, alone), pictures=False)


def test_a_zone_with_a_dot_in_its_name(laid, tmp_path):
    path = given(tmp_path, pd.read_csv(laid[1]).assign(zone="wall 1.2"))
    path.write_text(
        path.read_text()
        .replace("[zones.wall]", '[zones."wall 1.2"]')
        .replace('zones = ["wall"]', 'zones = ["wall 1.2"]')
    )
    assert (run_job(path, pictures=False).frame("bars")["utilisation"] <= 1 + 1e-9).all()
