"""Strongly pressed sections: many layers where three ask for more, against cone programs."""

import numpy as np

from sandwich import EN1992, Section, design_points
from sandwich.mechanics import threelayer
from sandwich.mechanics.leaststeel import optimum_steel
from sandwich.mechanics.threelayer import tension_at_both_ends

H = 250.0
STRENGTHS = EN1992.recommended().strengths(Section(H).concrete, Section(H).steel, "persistent")

LAYERS = (STRENGTHS.fc_cracked, STRENGTHS.fc_uncracked)


def pressed_rows(count, seed):
    """Eccentric compression in both directions, up to what a section carries."""
    rng = np.random.default_rng(seed)
    section = STRENGTHS.fc_uncracked * H
    out = np.zeros((count, 8))
    out[:, :3] = rng.uniform(-1.0, 0.5, (count, 3)) * section * rng.uniform(0.05, 0.6, (count, 1)) * [1.0, 1.0, 0.4]
    out[:, 3:6] = rng.normal(0.0, 0.1, (count, 3)) * section * H * rng.uniform(0.1, 1.0, (count, 1))
    return out


def cone_program(row, axes, angles):
    """Minimum steel [N/mm] over the states of cracking, each half cracked or whole, by forty equal layers."""
    s, found = STRENGTHS, []
    n, m = tuple(row[:3]), tuple(row[3:6])
    sure = tension_at_both_ends(n, m, H / 2), tension_at_both_ends(n, tuple(-v for v in m), H / 2)
    for bottom, top in ((True, True), (True, False), (False, True), (False, False)):
        if (sure[0] and not bottom) or (sure[1] and not top):
            continue
        fc = np.repeat([s.fc_cracked if v else s.fc_bending for v in (bottom, top)], 20)
        pulls = np.where(axes > 0.0, bottom, top)
        found.append(optimum_steel(row[:6], H, axes[pulls], angles[pulls], fc, compressed_bars=0.0).total)
    return min(found)


def compare(count, seed):
    """Steel and bound of pressed points over the cone program's minimum steel, and those that fail over it."""
    rows = pressed_rows(count, seed)
    section = Section(H)
    u = design_points(rows, section).ultimate
    axes, angles = section.bars.axes(H), section.bars.angles
    good = (u.failing < 0) & (u.layers > 0.1)
    steel, bound = u.total * STRENGTHS.f_yd, u.bound * STRENGTHS.f_yd
    least = np.array([cone_program(rows[i], axes, angles) for i in np.flatnonzero(good)])
    assert u.certified[good].all()
    return steel[good], bound[good], least, rows, u


def test_pressed_points_are_near_the_least_and_their_bound_is_below_it():
    steel, bound, least, rows, u = compare(160, 4)
    matters = steel > 2e-3 * STRENGTHS.fc_uncracked * H
    assert matters.sum() > 50
    assert (steel <= 1.01 * least)[matters].all()
    assert (bound <= least * (1 + 1e-6) + 1e-6).all()
    assert (bound >= 0.98 * steel)[matters].mean() > 0.98
    sheet = design_points(rows, Section(H)).explain(str(int(np.nanargmax(u.layers)) + 1))
    steps = {step.title: step for _, step in sheet.steps}
    assert any(title.startswith("Layers: 60") for title in steps)
    assert steps["Equilibrium of the field"].results[0].value <= 1e-6


def test_the_other_face_and_noise_change_nothing():
    rows = pressed_rows(60, 9)
    plain = design_points(rows, Section(H)).ultimate
    turned = design_points(rows * ([1.0] * 3 + [-1.0] * 3 + [1.0] * 2), Section(H)).ultimate
    noise = design_points(rows * (1.0 + 1e-7), Section(H)).ultimate
    good = plain.failing < 0
    for other in (turned, noise):
        assert ((other.failing < 0) == good).all()
        np.testing.assert_allclose(other.total[good], plain.total[good], rtol=2e-3, atol=1e-3)
    joint = design_points(rows[:, None] * np.array([[1.0], [0.7]]), Section(H), joint=True).ultimate
    assert (joint.total[good] <= plain.total[good] * (1 + 1e-9) + 1e-3).all()


def test_sections_that_three_layers_do_not_fit_into_are_saved():
    rows = pressed_rows(1500, 3)
    u = design_points(rows, Section(H)).ultimate
    saved = u.failing < 0
    three = threelayer.design(rows, np.zeros(len(rows), int), [[H, *Section(H).bars.axes(H), *LAYERS]])[:, 12]
    won = saved & (three == threelayer.LAYERS_DO_NOT_FIT)
    assert won.sum() >= 5
    assert u.certified[won].all()
