"""EN 1992-1-1:2004, 7.2 and 7.3 for rows of cracked sections: the order of the clauses, by the crack's normal."""

from __future__ import annotations

import math
from typing import Any, Final

import numpy as np

from sandwich.core.section import Concrete, Steel
from sandwich.core.trace import about
from sandwich.mechanics.crack import FaceCrack
from sandwich.standards.arrangement import Floats
from sandwich.standards.cracks import CrackWidth, FirstCracks, QuickCheck, StressLimits
from sandwich.standards.en1992 import crack_steel, cracking, materials, stresses

K_T: Final = {True: 0.4, False: 0.6}  # 7.3.4(2): long and short-term loading
CROSSES: Final = 0.02  # cosine; bars nearer to the crack's own direction do not cross it


def modulus(concrete: Concrete, creep: float) -> float:
    """Modulus of the concrete [MPa], effective with a creep coefficient."""
    E_cm = materials.E_cm(materials.f_cm(concrete.cylinder))
    return float(materials.E_c_eff(E_cm, creep)) if creep else float(E_cm)


def stress_limits(
    values: dict[str, Any], concrete: Concrete, steel: Steel, situation: str, *, imposed: bool
) -> StressLimits:
    """Limits of 7.2 in a situation; bars stay elastic in the others too."""
    f_ck, f_yk = concrete.cylinder, steel.f_yk
    if situation == "characteristic":
        bars = (
            stresses.sigma_s_imposed(f_yk, k_4=values["k_4_stress"])
            if imposed
            else stresses.sigma_s_char(f_yk, k_3=values["k_3_stress"])
        )
        pressed = stresses.sigma_c_char(f_ck, k_1=values["k_1_stress"])
        return StressLimits(float(pressed), float(bars), "7.2(2)", "7.2(5)")
    if situation == "quasi-permanent":
        least = float(stresses.sigma_c_quasi(f_ck, k_2=values["k_2_stress"]))
        return StressLimits(least, f_yk, "7.2(3)", "elastic bars")
    return StressLimits(math.inf, f_yk, "", "elastic bars")


def crack_width(values: dict[str, Any], concrete: Concrete, face: FaceCrack, *, long: bool) -> CrackWidth:
    """Crack width of 7.3.4 across the crack.

    (7.9) lowers the mean strains of the bars by delta_s; the principal strain across the crack is formed again from
    them, with the direction and the principal compression of the cracked section: eps_1 - sum(delta_s share)/sum cos2
    over the layers of the face. The share is what of a bar's strain comes from eps_1 where eps_2 is tension as well,
    else 1: then two layers at right angles give eps_x + eps_y - eps_2.
    """
    f_ct = float(materials.f_ctm(concrete.cylinder))
    bars, alpha_e = face.bars, face.E_s / modulus(concrete, 0.0)  # (7.9) has E_cm for any loading
    x = np.where(face.open, face.x, 0.0)
    depth = np.maximum(cracking.h_c_ef(face.h, face.d, x), 1e-6)
    shape = values["k_2_crack"] or cracking.k_2(face.near, face.far)
    across = face.across
    square, lowered, spacings = across**2, np.zeros(len(face.h)), []
    sine = np.where(bars.there, 1.0 - square, 0.0)
    for i in range(across.shape[1]):
        there, sigma = bars.there[:, i], bars.stress[:, i]
        if not there.any():
            spacings.append(np.full(len(face.h), np.inf))
            continue
        with about(bars.names[i] if bars.names else ""):
            rho = cracking.rho_p_eff(np.where(there, bars.area[:, i], 1.0), depth)
            eps = cracking.eps_difference(sigma, f_ct, rho, alpha_e, K_T[long], face.E_s)
            near = _of_layer(values, face, i, rho, shape, x)
        own, other = face.eps_1 * square[:, i], np.maximum(face.eps_2, 0.0) * sine[:, i]
        share = own / np.maximum(own + other, 1e-300)
        lowered += np.where(there & (sigma > 0.0), (bars.strain[:, i] - eps) * share, 0.0)
        spacings.append(np.where(there, np.maximum(near, 1e-6), np.inf))
    spacing = _spacing(across, np.stack(spacings, axis=1))
    crosses = across.max(1, initial=0.0) > CROSSES
    mean = cracking.eps_across(face.eps_1, lowered, np.where(crosses, square.sum(1), 1.0))
    mean = np.where(face.open, mean, 0.0)
    with np.errstate(invalid="ignore"):
        w = np.where(face.open, np.where(crosses, cracking.w_k(np.where(crosses, spacing, 0.0), mean), np.inf), 0.0)
    return CrackWidth(w, spacing, mean, depth)


def _of_layer(values: dict[str, Any], face: FaceCrack, i: int, rho: Floats, k_2: Any, x: Floats) -> Floats:
    """Maximum spacing of cracks along the bars of one layer."""
    bars = face.bars
    cover, phi = bars.cover[:, i], bars.diameter[:, i]
    near = cracking.s_r_max(
        cover, phi, rho, k_2, k_1=values["k_1_crack"], k_3=values["k_3_crack"], k_4=values["k_4_crack"]
    )
    wide = bars.laid & (bars.spacing[:, i] > 5.0 * (cover + phi / 2.0))
    return np.where(wide, cracking.s_r_max_wide(face.h, x), near) if wide.any() else np.asarray(near)


def _spacing(across: Floats, spacings: Floats) -> Floats:
    """Spacing along the crack's normal: of the layer within 15 degrees of it alone, else by (7.15)."""
    best = across.argmax(1)
    rows = np.arange(len(best))
    alone = across[rows, best] >= math.cos(math.radians(cracking.SIGNIFICANT))
    with np.errstate(divide="ignore"):
        if across.shape[1] >= 2 and not alone.all():
            order = np.argsort(-across, axis=1)[:, :2]
            first, second = (across[rows, order[:, i]] for i in (0, 1))
            square = np.abs(first**2 + second**2 - 1.0) < 1e-9
            if square.all() and (across > 0.0).sum(1).max() <= 2:
                y, z = (spacings[rows, order[:, i]] for i in (0, 1))
                return np.asarray(np.where(alone, spacings[rows, best], cracking.s_r_max_skew(np.arccos(first), y, z)))
        crossing = 1.0 / np.maximum((across / spacings).sum(1), 1e-12)
    return np.asarray(np.where(alone, spacings[rows, best], crossing))


def by_tables(concrete: Concrete, face: FaceCrack, limit: Floats) -> QuickCheck:
    """7.3.3: diameter by table 7.2N or spacing by table 7.3N, the better one, of the layer that pulls most."""
    f_ct = float(materials.f_ctm(concrete.cylinder))
    bars, rows = face.bars, np.arange(len(face.h))
    most = np.where(bars.there, bars.stress * face.across**2, -np.inf).argmax(1)
    sigma = np.where(face.open & bars.there[rows, most], np.maximum(bars.stress[rows, most], 0.0), 0.0)
    k_c = np.where(face.x > 0.0, crack_steel.k_c(face.sigma_c, face.h, f_ct), 1.0)
    phi_s = cracking.phi_s(
        cracking.phi_star(sigma, limit), f_ct, k_c, depth_in_tension(face.sigma_c, face.h, f_ct), face.h,
        np.minimum(face.d, face.h - 1.0),
    )  # fmt: skip
    s = cracking.s_bars(sigma, limit)
    phi, spacing = bars.diameter[rows, most], bars.spacing[rows, most]
    with np.errstate(divide="ignore", invalid="ignore"):
        by_diameter = phi / phi_s <= spacing / s
    demand = np.where(sigma > 0.0, np.where(by_diameter, phi, spacing), 0.0)
    return QuickCheck(demand, np.where(by_diameter, phi_s, s))


def depth_in_tension(sigma_c: Floats, h: Floats, f_ct: float) -> Floats:
    """Depth in tension just before cracking [mm]: f_ct at the face, the mean stress at mid-depth."""
    bent = h * f_ct / (2.0 * np.maximum(f_ct + np.asarray(sigma_c), 1e-9))
    return np.clip(bent, 0.0, h)


def stress_of_diameter(phi_star: Floats, width: float, f_yk: float) -> Floats:
    """Stress [MPa] that table 7.2N allows bars of a diameter phi*_s [mm], f_yk at most; nan where the table ends."""
    stress = np.array(cracking.TABLES["7.2N"]["sigma_s"], dtype=float)
    allowed = np.asarray(cracking.phi_star(stress, width))
    known = allowed > 0.0
    if not known.any():
        return np.full(np.shape(phi_star), np.nan)
    found = np.interp(phi_star, allowed[known][::-1], stress[known][::-1])
    return np.where(phi_star <= allowed[known].max() * (1.0 + 1e-9), np.minimum(found, f_yk), np.nan)


def minimum_for_cracking(of: FirstCracks, f_ct: float) -> Floats:
    """Minimum steel of 7.3.2 of one face and direction [mm2/mm]: in bending by the mean stress, or half of tension."""
    k, tension = crack_steel.k(of.h), of.rule != "bending"
    pulled = of.h if tension else depth_in_tension(of.sigma_c, of.h, f_ct)
    k_c = np.ones(len(of.h)) if tension else crack_steel.k_c(of.sigma_c, of.h, f_ct)
    cracks = k_c * pulled > 0.0
    factor = cracking.phi_s(1.0, f_ct, k_c, np.where(cracks, pulled, 1.0), of.h, of.h - of.depth)
    sigma_s = stress_of_diameter(of.diameter / np.where(cracks, factor, 1.0), of.width, of.steel.f_yk)
    area = crack_steel.A_s_min(k_c, k, f_ct, pulled, sigma_s) / (2.0 if tension else 1.0)
    return np.where(cracks, area, 0.0)
