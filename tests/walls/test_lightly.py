"""Large lightly reinforced walls of EN 1998-1, from the job to the tables, by hand."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sandwich import InputError, run_job
from sandwich.standards.en1998 import behaviour, lightly
from walls.test_seismic_ends import ALONE, BARS
from walls.test_walls_of_a_plate import E, G, H, L, T, write

LIGHTLY = '{{ system = "large lightly reinforced"{} }}'
ENDS = "ends = {{ count = 8, diameter = {}, length = {} }}\nties = {{ diameter = {}, spacing = {}, across = 4 }}\n"


def run(folder, more="", bars="", g=3.0, e=1.5):
    folder.mkdir(exist_ok=True)
    job = ALONE.replace("seismic = {}", f"seismic = {LIGHTLY.format(more)}") + bars
    job += f'[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = {{ G = {g}, E = {e} }}\n'
    return run_job(write(folder, job), pictures=False)


def checks(result, table, storey="storey 1"):
    frame = result.frame(table)
    return frame[frame["storey"] == storey].drop_duplicates("check").set_index("check")


def test_bars_and_ties_are_chosen_storey_by_storey(tmp_path):
    result = run(tmp_path)
    q = 3.0 * (1 + H / L) / 3
    shear = checks(result, "seismic shear")
    assert shear.loc["shear in plane", "factor on V"] == pytest.approx((q + 1) / 2)
    assert shear.loc["shear in plane", "demand"] == pytest.approx((q + 1) / 2 * 1.5 * E / 1e3, rel=1e-3)
    assert shear.loc["length of a large wall", ["demand", "clause"]].tolist() == [min(4000, 2 * H / 3), "5.1.2"]
    assert "bending up the height" not in shear.index
    ends = result.frame("boundary elements")
    assert (ends["boundary element"] == "needed").all()
    # parabola and rectangle up to 0.005, as the axial force is dynamic with q above 2
    assert ends["length [mm]"].to_numpy() == pytest.approx(3 * T * (1 - 0.002 / 0.005 / 3))
    for storey, least in (("storey 1", 12.0), ("storey 2", 10.0)):
        found, bar = checks(result, "boundary checks", storey), None
        assert found.loc["diameter at the end", "demand"] == least
        bar = found.loc["diameter at the end", "capacity"]
        assert bar >= least
        assert found.loc["spacing of ties", "capacity"] == min(100, 8 * bar)
        assert found.loc["diameter of ties", "demand"] == max(6, bar / 3)
    assert (result.frame("boundary checks")["utilisation"] <= 1 + 1e-9).all()
    plain = run(tmp_path / "plain", ", q = 2.0")
    assert not any("dynamic" in name for name in checks(plain, "seismic shear").index)
    assert any("continuous ties" in w.text for w in result.warnings)


def test_anchorage_of_clamping_bars_is_half_as_long_again(tmp_path):
    given = BARS + ENDS.format(14, 600, 8, 100)
    laps = [run(tmp_path / n, bars=given).frame("wall laps") for n in "a"]
    ductile = ALONE + given + '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 3, E = 1.5 }\n'
    laps.append(run_job(write(tmp_path, ductile), pictures=False).frame("wall laps"))
    ratio = laps[0]["anchorage [mm]"] / laps[1]["anchorage [mm]"]
    assert ratio.to_numpy() == pytest.approx(1.5)
    np.testing.assert_allclose(laps[0]["lap [mm]"], laps[1]["lap [mm]"])


def test_bending_beside_half_and_half_as_much_again_of_gravity(tmp_path):
    """Strain planes by hand beside N/2 and 3 N/2: the smaller moment governs."""
    result = run(tmp_path, bars=BARS, g=5.0)
    row = checks(result, "seismic shear").loc["bending with dynamic axial force"]
    y = (np.arange(8000) + 0.5) / 8000 * L
    bars = np.linspace(46.0, L - 46.0, math.ceil((L - 92.0) / 200) + 1)  # cover, horizontal bars, half of 12 mm

    def strength(N):
        def forces(x):
            strain = 0.005 * (1 - y / x)
            concrete = 20.0 * (1 - (1 - np.clip(strain / 0.002, 0, 1)) ** 2)
            steel = 72 * math.pi * np.clip(200e3 * 0.005 * (1 - bars / x), -500 / 1.15, 500 / 1.15)
            moment = (concrete * (L / 2 - y)).mean() * T * L + steel @ (L / 2 - bars)
            return concrete.mean() * T * L + steel.sum(), moment

        x = next(x for x in np.arange(100.0, 4000.0, 1.0) if forces(x)[0] >= N)
        return forces(x)[1] / 1e6

    N = 5.0 * G * 1e3 * L
    assert row["capacity"] == pytest.approx(min(strength(0.5 * N), strength(1.5 * N)), rel=6e-3)
    assert row["demand"] == pytest.approx(1.5 * E * (H - 20) / 1e6, rel=1e-3)
    assert row["clause"] == "5.4.2.5(4)"


def test_thin_bars_wide_ties_and_short_walls_are_named(tmp_path):
    found = checks(run(tmp_path, bars=BARS + ENDS.format(10, 400, 8, 150)), "boundary checks")
    status = found["status"]
    assert status["diameter at the end"] == "exceeded: more bars: of 12 mm at least"
    assert status["spacing of ties"] == "exceeded: ties at 80 mm"
    assert status["length of the end"].startswith("exceeded")
    half = ALONE.replace("seismic = {}", f"seismic = {LIGHTLY.format('')}")
    half += BARS + '[[combinations]]\nname = "E"\nsituation = "seismic"\nfactors = { G = 1.0, E = 0.2 }\n'
    path = write(tmp_path, half, holes=[(2000.0, 4000.0, 0.0, 6000.0)])
    short = checks(run_job(path, pictures=False), "seismic shear").loc["length of a large wall", "status"]
    assert short == "exceeded: 4000 mm of length, or a ductile wall by another system"


@pytest.mark.parametrize(
    ("more", "told"),
    [
        (', ductility = "DCH", T_1 = 0.3, T_C = 0.5', 'ductility "DCM"'), (", T_1 = 0.7, T_C = 0.5", "up to 0.5 s"),
        (", alpha_u_1 = 1.1", "alpha_u_1 does not count"),
    ],
)  # fmt: skip
def test_settings_that_do_not_go_with_them(tmp_path, more, told):
    with pytest.raises(InputError, match=told):
        run(tmp_path, more)


@settings(max_examples=40, deadline=None)
@given(
    q=st.floats(1.5, 3.0),
    more=st.floats(0.0, 1.0),
    N=st.floats(0.0, 5e6),
    d=st.floats(8.0, 25.0),
    t=st.floats(150.0, 400.0),
)
def test_more_ductility_never_relaxes_and_thicker_bars_take_thicker_ties(q, more, N, d, t):
    assert lightly.N_dynamic(N, q + more) >= lightly.N_dynamic(N, q)
    assert lightly.N_dynamic(-N, q) == lightly.N_dynamic(N, q) <= 0.5 * N
    assert behaviour.V_Ed_lightly(1e6, q + more) >= behaviour.V_Ed_lightly(1e6, q)
    assert lightly.d_bw_lightly(d * (1 + more)) >= lightly.d_bw_lightly(d) >= 6.0
    assert lightly.s_lightly(d) <= 100.0
    assert lightly.l_c_lightly(t, 16.0 * (1 + more), 20.0) >= lightly.l_c_lightly(t, 16.0, 20.0) >= t
    # a wall that is much longer below is as the lowest storey
    assert lightly.d_bL_lightly(4000.0, 4000.0 + 3000.0 * more, 3000.0) == (12.0 if 3000.0 * more > 1000.0 else 10.0)
