"""Three methods side by side: each equals a run by it, and the parts are told from the whole."""

import pandas as pd
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from sandwich import compare_methods, run_job
from sandwich.core.errors import StaleError

STRENGTH = "by strength [mm2/m]"


def test_each_method_equals_a_run_by_it(cli, plate, tmp_path):
    with pytest.raises(StaleError, match="run the job first"):
        compare_methods(plate)
    cli("run", plate, "--no-pictures")
    code, out, _ = cli("methods", plate)
    assert code == 0
    assert "Points where plate or membrane design is most unconservative" in out
    folder = plate.parent / "results"
    assert (folder / "methods.png").stat().st_size > 10_000
    table = pd.read_parquet(folder / "methods.parquet")
    compared = compare_methods(plate, "plate", pictures=False)
    for method in ("plate", "membrane", "sandwich"):
        other = tmp_path / method
        other.mkdir()
        job = write_plate(other)
        job.write_text(job.read_text().replace("f_ck = 30", f'f_ck = 30\nmethod = "{method}"'))
        run = run_job(job, pictures=False)
        want = run.steel.set_index(["point", "layer"])[STRENGTH]
        got = table.astype({"point": str}).set_index(["point", "layer"])[f"{method} [mm2/m]"]
        assert_allclose(got.reindex(want.index), want, rtol=1e-9)
        assert_allclose(compared.points[f"{method} [mm2/m]"], want.groupby(level=0).sum().max(), rtol=1e-9)
    row = compared.summary.iloc[0]
    assert row["mean plate [mm2/m]"] < row["mean sandwich [mm2/m]"]  # tension that the plate does not see
    whole = compared.points["sandwich [mm2/m]"]
    for method in ("plate", "membrane"):
        less = (compared.points[f"{method} [mm2/m]"] < 0.98 * whole - 1.0).sum()
        assert row[f"points with less by {method}"] == less
    assert row["points with less by membrane"] == row["points"] == 16
    code, _, err = cli("methods", plate, "--zone", "roof")
    assert (code, "no zone 'roof'; there are plate" in err) == (2, True)
    cli("run", plate, "--no-pictures")  # tables of another time do not stay
    assert not (folder / "methods.parquet").exists()
    assert not (folder / "methods.png").exists()
