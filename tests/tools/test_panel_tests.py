"""Computed strengths of published panels: safe in the mean, and nowhere far above what was observed."""

import pytest
from tools.panel_tests import compared, draw


def test_panels(tmp_path):
    table = compared().set_index("name")
    sure = table[(table["confidence"] == "high") & ~table["edge"]]["ratio"]
    assert len(sure) == 9
    assert 0.75 <= sure.mean() <= 1.0
    assert sure.max() <= 1.10
    # bars both ways at yield: v = sqrt(rho_x f_yx rho_y f_yy), Nielsen's closed form
    for name in ("PV3", "PV11"):
        p = table.loc[name]
        assert p["computed"] == pytest.approx((p["rho_x"] * p["fyx"] * p["rho_y"] * p["fyy"]) ** 0.5, rel=1e-6)
    # concrete crushes before bars yield: half of its strength
    assert table.loc["PV27", "computed"] == pytest.approx(0.3 * (1 - 20.5 / 250) * 20.5, rel=1e-6)
    draw(compared(), tmp_path / "panels.png")
    assert (tmp_path / "panels.png").stat().st_size > 20_000
