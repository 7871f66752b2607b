"""Own limits of a zone: honoured in design, choice of bars, layout, service, and refused where they name nothing."""

import numpy as np
import pytest

from sandwich import InputError, run_job
from sandwich.design.summary import peaks
from test_layout import LAYOUT, RULE
from test_layout import job as plate_job
from walls.test_walls_of_a_plate import write

SERVICE = "service = { widths = { quasi-permanent = 0.3 }, creep = 2.0 }\n"
QUASI = (
    '[[combinations]]\nname = "Q"\nsituation = "quasi-permanent"\nfactors = { G = 1.0, P = 0.4 }\n'
    '[[combinations]]\nname = "C"\nsituation = "characteristic"\nfactors = { G = 1.0, P = 1.0 }\n'
)


def run(folder, zone):
    folder.mkdir()
    return run_job(write(folder, plate_job(zone) + QUASI, step=500.0), pictures=False)


def test_own_minimum_steel_is_required_everywhere(tmp_path):
    plain = run(tmp_path / "a", LAYOUT).frame("steel").set_index(["layer", "point"])["required [mm2/m]"]
    result = run(tmp_path / "b", f"{LAYOUT}limits = {{ minimum_steel = 450 }}\n")
    steel = result.frame("steel").set_index(["layer", "point"])
    np.testing.assert_allclose(steel["required [mm2/m]"], np.maximum(plain.reindex(steel.index), 450.0))
    raised = steel[plain.reindex(steel.index) < 450]
    assert len(raised)
    assert (raised["governed by"] == "minimum steel").all()
    assert (steel["minimum [mm2/m]"] >= 450 - 1e-9).all()
    assert (steel["provided [mm2/m]"] >= 450).all()
    assert (result.frame("bars")["utilisation"] <= 1 + 1e-9).all()
    most = peaks(result.steel)
    own = steel.loc[list(zip(most["layer"], most["point"], strict=True))]
    governs = own["combination"].where(own["governed by"] == "strength", own["governed by"])
    assert most["combination"].tolist() == governs.tolist()
    assert "minimum steel" in governs.tolist()
    # one layer by its name
    bare = run(tmp_path / "e", "").frame("steel").set_index(["layer", "point"])["required [mm2/m]"]
    one = (
        run(tmp_path / "c", 'limits = { minimum_steel = { "top x" = 450 } }\n')
        .frame("steel")
        .set_index(["layer", "point"])
    )
    assert (one.loc["top x", "required [mm2/m]"] >= 450 - 1e-9).all()
    np.testing.assert_allclose(one.loc["bottom x", "required [mm2/m]"], bare.loc["bottom x"])
    with pytest.raises(InputError, match=r"limits.minimum_steel.*no layer 'middle'.*bottom x"):
        run(tmp_path / "d", f'{RULE}limits = {{ minimum_steel = {{ "middle" = 450 }} }}\n')


def test_bars_are_no_thicker_than_the_thickness_allows(tmp_path):
    rule = RULE.replace("[10, 12, 16]", "[10, 12, 16, 20, 25]")
    thick = run(tmp_path / "a", rule).frame("bars")["bars [mm]"].astype(str)
    assert thick.str.startswith(("20/", "25/")).any()
    result = run(tmp_path / "b", f"{rule}limits = {{ bar_ratio = 0.08 }}\n")  # 16 mm of 200
    assert not result.frame("bars")["bars [mm]"].astype(str).str.startswith(("20/", "25/")).any()
    given = (
        'provided = { "bottom x" = { diameter = 12, spacing = 150 }, "bottom y" = { diameter = 25, spacing = 150 } }\n'
    )
    checks = run(tmp_path / "c", f"{given}limits = {{ bar_ratio = 0.08 }}\n").frame("checks").set_index("check")
    row = checks.loc["diameter of bars: bottom y"]
    assert row[["demand", "capacity", "clause"]].tolist() == [25, pytest.approx(16), "own limit"]
    assert str(row["status"]) == "exceeded"
    assert str(checks.loc["diameter of bars: bottom x", "status"]) == "ok"


def test_own_stresses_beside_those_of_the_standard(tmp_path):
    given = (
        "provided = { "
        + ", ".join(f'"{f} {w}" = {{ diameter = 16, spacing = 100 }}' for f in ("bottom", "top") for w in "xy")
        + " }\n"
    )
    plain = run(tmp_path / "a", given + SERVICE).frame("service checks").set_index(["check", "point"])
    own = SERVICE.replace("creep", "steel_stress = 150, concrete_stress = 6.0, creep")
    tight = run(tmp_path / "b", given + own).frame("service checks").set_index(["check", "point"])
    wide = run(tmp_path / "c", given + own.replace("150", "9000").replace("6.0", "900.0")).frame("service checks")
    for check, limit in (("steel stress", 150.0), ("concrete stress", 6.0)):
        at = tight.loc[check]
        assert (at["capacity"] == limit).all()
        assert set(at["clause"]) == {"own limit"}
        np.testing.assert_allclose(at["utilisation"], at["demand"] / limit)
        # the combination that presses most governs, whatever it may have by the standard
        assert (at["demand"] >= plain.loc[check, "demand"].reindex(at.index) - 1e-9).all()
    columns = ["demand", "capacity", "utilisation"]
    np.testing.assert_allclose(wide.set_index(["check", "point"])[columns], plain[columns])
