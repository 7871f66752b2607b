"""Cover by exposure and dimensions by fire: hand cases of each standard from the job to the table."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sandwich import EN1992, InputError, run_job
from sandwich.core.section import Concrete
from sandwich.standards.interface import CoverDemand, FireDemand
from test_layout import job as plate_job
from walls.test_walls_of_a_plate import ALONE, write

TABLE = "cover and fire"
LAYERS = ("bottom x", "bottom y", "top x", "top y")
BARS = "provided = { " + ", ".join(f'"{name}" = {{ diameter = 12, spacing = 150 }}' for name in LAYERS) + " }\n"


def checked(folder, zone, standard, f_ck=30, bars="cover_bottom = 30\ncover_top = 30\n", minimum="slab"):
    folder.mkdir()
    text = plate_job(f'{BARS}minimum = "{minimum}"\n{zone}', f"[zones.wall.bars]\n{bars}").replace(
        "f_ck = 30", f"f_ck = {f_ck}"
    )
    text = text.replace(f"f_ck = {f_ck}", f'f_ck = {f_ck}\nstrength = "cube"') if standard.startswith("IS") else text
    result = run_job(write(folder, f'{text}[design]\nstandard = "{standard}"\n', step=500.0), pictures=False)
    return result, result.frame(TABLE).set_index(["face", "check"])


def test_en_by_hand(tmp_path):
    zone = 'exposure = { bottom = "XC3", top = "XD1" }\nfire = { minutes = 90 }\n'
    result, found = checked(tmp_path / "a", zone, "EN 1992-1-1:2004")
    # S4, a slab: S3; 20 + 10 and 30 + 10
    bottom, top = found.loc[("bottom", "cover")], found.loc[("top", "cover")]
    assert (bottom["required [mm]"], bottom["status"], bottom["clause"]) == (30, "ok", "4.4.1.1, tables 4.3N, 4.4N")
    assert (top["required [mm]"], top["status"]) == (40, "exceeded: 40 mm of cover")
    assert top["utilisation"] == pytest.approx(4 / 3)
    # REI 90: 100 mm and 30 mm of one way; the axis of the outer bars under 30 mm of cover
    assert found.loc[("bottom", "axis distance under fire"), ["required [mm]", "provided [mm]"]].tolist() == [
        30,
        30 + 6,
    ]
    assert found.loc[("", "thickness under fire"), ["required [mm]", "provided [mm]"]].tolist() == [100, 200]
    assert ("top", "axis distance under fire") not in found.index
    assert any("cover and fire: 1 of" in str(t.text) for o in result.project.outcomes.values() for t in o.verdict)
    sections = (s for o in result.project.outcomes.values() for s in o.sections if s.title == "Assumptions")
    assumed = next(sections).blocks[0].frame.set_index("zone")["wall"]
    assert assumed["not checked, as the job does not ask"] == "service state, punching"
    # a wall of C35 for 100 years: S4 + 2 - 1 by C35/45 in XC3; both sides in fire, mu_fi between the columns
    zone = (
        'exposure = { bottom = "XC3", top = "XC3", design_life = 100, tolerance = 5 }\n'
        "fire = { minutes = 120, sides = 2, mu_fi = 0.525 }\n"
    )
    _, found = checked(tmp_path / "b", zone, "EN 1992-1-1:2004", 35, minimum="wall")
    assert found.loc[("top", "cover"), "required [mm]"] == 30 + 5
    assert found.loc[("", "thickness under fire"), "required [mm]"] == pytest.approx((160 + 220) / 2)
    assert found.loc[("top", "axis distance under fire"), "required [mm]"] == pytest.approx((25 + 35) / 2)


def test_thin_bars_that_are_chosen_lie_nearer_to_the_fire(tmp_path):
    """Assumed 12 mm, provided 16 mm with 8 mm between: the cover is to the thick ones, the axis that of the thin ones."""
    more = '{ layer = "bottom x", diameter = 8, spacing = 150, along = [0, 4], across = [0, 6] }'
    zone = f'additional = [{more}]\nexposure = {{ bottom = "XC1", top = "XC1" }}\nfire = {{ minutes = 90 }}\n'
    zone = BARS.replace('"bottom x" = { diameter = 12', '"bottom x" = { diameter = 16') + zone
    text = plate_job(f'minimum = "slab"\n{zone}')
    found = run_job(write(tmp_path, text, step=500.0), pictures=False).frame(TABLE).set_index(["face", "check"])
    assert found.loc[("bottom", "cover"), ["provided [mm]", "outer bars [mm]", "required [mm]"]].tolist() == [
        30,
        16,
        26,
    ]
    assert found.loc[("bottom", "axis distance under fire"), "provided [mm]"] == 34
    assert found.loc[("top", "cover"), "outer bars [mm]"] == 12


def test_aci_by_hand(tmp_path):
    zone = 'exposure = { bottom = "inside", top = "weather" }\nfire = { minutes = 120 }\n'
    _, found = checked(tmp_path / "a", zone, "ACI 318-19")
    assert found.loc[("bottom", "cover"), "required [mm]"] == 20
    assert found.loc[("top", "cover"), ["required [mm]", "status"]].tolist() == [40, "exceeded: 40 mm of cover"]
    assert found.loc[("", "thickness under fire"), "required [mm]"] == pytest.approx(127)
    assert found.loc[("bottom", "cover under fire"), "required [mm]"] == pytest.approx(25.4)
    zone = 'exposure = { bottom = "cast against ground", top = "inside" }\nfire = { minutes = 240, aggregate = "carbonate" }\n'
    _, found = checked(tmp_path / "b", zone, "ACI 318-14", minimum="wall", bars="cover_bottom = 75\ncover_top = 20\n")
    assert found.loc[("bottom", "cover"), ["required [mm]", "provided [mm]", "status"]].tolist() == [75, 75, "ok"]
    assert found.loc[("", "thickness under fire"), "required [mm]"] == pytest.approx(6.6 * 25.4)
    assert "cover under fire" not in set(found.index.get_level_values("check"))


def test_is_by_hand(tmp_path):
    zone = 'exposure = { bottom = "mild", top = "severe" }\nfire = { minutes = 120, continuous = true }\n'
    _, found = checked(tmp_path / "a", zone, "IS 456:2000", 35)
    assert found.loc[("bottom", "cover"), "required [mm]"] == 15  # bars of 12 mm
    assert found.loc[("top", "cover"), "required [mm]"] == 40  # 45 less 5 of M35
    assert found.loc[("bottom", "cover under fire"), "required [mm]"] == 25
    assert found.loc[("", "thickness under fire"), "required [mm]"] == 125
    zone = 'exposure = { bottom = "moderate", top = "extreme" }\nfire = { minutes = 120 }\n'
    _, found = checked(tmp_path / "b", zone, "IS 456:2000", minimum="wall")
    # two layers of 754 mm2/m are 0.75 % of 200 mm
    assert found.loc[("", "thickness under fire"), "required [mm]"] == 160
    assert found.loc[("top", "cover"), "required [mm]"] == 75


def test_parts_of_walls_show_their_worst(tmp_path):
    """Level bars outside: the cover is to them, the axis that of the vertical ones."""
    zone = 'exposure = { bottom = "XC1", top = "XC4" }\nfire = { minutes = 60 }\n[storeys]'
    walls = "cover = 35\nrule = { diameters = [12], spacing_min = 150, spacing_max = 200 }\n[[combinations]]"
    text = ALONE.replace("[storeys]", zone).replace("[[combinations]]", walls, 1)
    found = run_job(write(tmp_path, text), pictures=False).frame(TABLE)
    rows = found.set_index("check")
    assert sorted(rows.loc["cover", "required [mm]"]) == [22, 40]  # S4 in XC1: the bar of 12 mm and 10; XC4: 30 + 10
    assert rows.loc["axis distance under fire", ["required [mm]", "provided [mm]"]].tolist() == [10, 35 + 12 + 6]
    assert rows.loc["thickness under fire", "required [mm]"] == 130
    assert (found["part"] != "").all()


@pytest.mark.parametrize(
    ("zone", "standard", "told"),
    [
        ('exposure = { bottom = "XC9", top = "XC1" }\n', "EN 1992-1-1:2004", "is no exposure of EN 1992-1-1.*there are X0, XC1"),
        ('exposure = { bottom = "inside", top = "inside", design_life = 100 }\n', "ACI 318-19", "design_life.*has no use for it"),
        ("fire = { minutes = 45 }\n", "EN 1992-1-1:2004", "45 min is in no table; there are 30, 60"),
        ("fire = { minutes = 30 }\n", "ACI 318-19", "30 min is in no table; there are 60, 90"),
        ("fire = { minutes = 60, mu_fi = 0.5 }\n", "IS 456:2000", "mu_fi.*has no use for it"),
    ],
)  # fmt: skip
def test_what_a_standard_does_not_have_is_refused(tmp_path, zone, standard, told):
    with pytest.raises(InputError, match=f"(?s){told}"):
        checked(tmp_path / "a", zone, standard)


@given(
    diameter=st.floats(6, 40), life=st.sampled_from([50, 100]), f_ck=st.floats(12, 90), slab=st.booleans(),
    quality=st.booleans(), start=st.sampled_from(["", "S2", "S5"]),
)  # fmt: skip
def test_harsher_exposure_and_longer_fire_never_ask_for_less(diameter, life, f_ck, slab, quality, start):
    standard = EN1992.recommended()
    for family in (("X0", "XC1", "XC2", "XC3", "XC4"), ("XD1", "XD2", "XD3"), ("XS1", "XS2", "XS3")):
        # strength lowers the class by other limits in other exposures, so by one class more at most
        one = CoverDemand(Concrete(f_ck), family[0], diameter, slab, life, start, quality)
        values = [
            standard.nominal_cover(CoverDemand(one.concrete, e, diameter, slab, life, start, quality)).value
            for e in family
        ]
        assert all(b >= a for a, b in pairwise(values))
        assert min(values) >= max(diameter, 10) + 10
    for spans in ("one way", "two way", "two way long", "flat"):
        needs = [standard.fire(FireDemand(m, slab, spans=spans)) for m in standard.fire_minutes]
        assert all(b.thickness >= a.thickness and b.axis >= a.axis for a, b in pairwise(needs))
