"""The worked calculation of one point and combination: witness, equilibrium, clauses, in the order of the work.

It calls the same functions as the stage, so its numbers are those of the table.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from sandwich.core.resultants import COMPONENTS
from sandwich.core.trace import Quantity, Sheet, Step, recording
from sandwich.design.minimum import minimum_steel
from sandwich.design.record import Ultimate
from sandwich.design.results import reason, status_of
from sandwich.design.settings import Settings
from sandwich.design.transverse import shear_input
from sandwich.design.ultimate import Loaded, axial_compression, design_ultimate, fields_and_links
from sandwich.mechanics import manylayers, threelayer
from sandwich.mechanics.certificate import dyads
from sandwich.mechanics.plate import wood_armer
from sandwich.standards.interface import ShearDemand, ShearSection, Strengths

Floats = NDArray[np.float64]
_UNITS = ("kN/m",) * 3 + ("kNm/m",) * 3 + ("kN/m",) * 2
_READ = np.array([1.0, 1.0, 1.0, 1e-3, 1e-3, 1e-3, 1.0, 1.0])  # N/mm is kN/m; N is kNm/m times 1000
SUPPORTED = ("", ", beside a support: shown, not designed for", ", inside a support: shown, not designed for")
_SOURCE = {
    "sandwich": "equilibrium; minimum steel over all fields",
    "plate": "Wood and Armer, 1968; equilibrium",
    "membrane": "equilibrium; Nielsen, 1984",
}


def quantities(names: tuple[str, ...], values: Floats, units: tuple[str, ...] | str) -> tuple[Quantity, ...]:
    """Symbols with values and units."""
    each = (units,) * len(names) if isinstance(units, str) else units
    return tuple(Quantity(n, float(v), u) for n, v, u in zip(names, values, each, strict=True))


def resultant_quantities(values: Floats) -> tuple[Quantity, ...]:
    """The eight resultants as quantities."""
    return quantities(COMPONENTS, values * _READ, _UNITS)


def worked_point(
    combined: Floats,
    combinations: list[str],
    situations: list[str],
    h: float,
    *,
    axes: Floats,
    settings: Settings,
    combination: str | None = None,
    preface: Callable[[str], list[Step]] | None = None,
    support: int = 0,
    bars: tuple[Floats, Floats, str] | None = None,
) -> Sheet:
    """Worked calculation of one point.

    Parameters
    ----------
    combined : ndarray, shape (k, 8)
        Resultants of each combination in the bar directions [N, mm].
    combinations, situations : list of str, length k
        Names and situations.
    h : float
        Thickness [mm].
    axes : ndarray, shape (4,)
        e of the bars [mm], nan where there is none.
    settings : Settings
        Bars, materials, standard, method.
    combination : str, optional
        Which one to work; by default the one that asks for most steel.
    preface : callable, optional
        Gives the steps that led to a combination's resultants from its name.
    support : int
        As in `design_ultimate`.
    bars : tuple, optional
        Bars that shear counts on [mm2/mm], their axes [mm], and a word for them; by default what is required.

    Returns
    -------
    Sheet
        The steps under headings.

    Raises
    ------
    KeyError
        If there is no such combination.
    """
    k = len(combinations)
    if combination is not None and combination not in combinations:
        raise KeyError(f"no ultimate combination '{combination}'; there are {', '.join(combinations)}")
    at = np.array([support])
    whole = design_ultimate(combined[None], np.eye(k), situations, np.array([h]), settings, support=at, workers=1)
    j = combinations.index(combination) if combination else _heaviest(whole)
    strengths = [settings.standard.strengths(settings.concrete, settings.steel, s) for s in situations]
    found = fields_and_links(combined[None], strengths, situations, np.array([h]), axes[None], settings, at)
    with recording() as sheet:
        sheet.heading = "Resultants"
        for step in preface(combinations[j]) if preface else ():
            sheet.add(step)
        given = resultant_quantities(combined[j])
        sheet.add(Step(f"Resultants of {combinations[j]} in the bar directions", "", "", (), given))
        of = "up to 0 uncracked; the zone asks for no bars by strength then" if settings.uncracked == "exempt" else ""
        sheet.add(
            Step("Cracking of the elastic section, worst combination", settings.standard.clauses["uncracked"],
                 of or "up to 0 uncracked; it is reported and takes no steel away", (),
                 (Quantity("criterion", float(whole.cracking[0]), ""),))
        )  # fmt: skip
        sheet.heading = "Strengths"
        settings.standard.strengths(settings.concrete, settings.steel, situations[j])
        _field(sheet, found, combined[j], j, h, axes, settings)
        if combination is not None and found.fields.rows.ok[j]:
            rows, there = found.fields.rows, np.isfinite(axes)
            names = tuple(n for n, t in zip(settings.names, there, strict=True) if t)
            area = 1e3 * rows.witness.bars[j, there] / rows.f_yd[j]
            area = np.where(area > 1e-9 * area.max(initial=1.0), area, 0.0)  # rounding is no steel
            sheet.alone = quantities(names, area, "mm2/m")
            sheet.add(
                Step(f"Bars that {combination} asks for by itself, without minimum steel", "a_s = f / f_yd", "", (),
                     sheet.alone)
            )  # fmt: skip
        _bars(sheet, whole, combinations, h, axes, settings)
        _axial(sheet, whole, combined, strengths, combinations, h, settings)
        _shear(
            sheet, whole, bool(found.need[0, j]), combined[j], situation=situations[j], name=combinations[j], h=h,
            bars=(whole.a_s[0], axes, "required") if bars is None else bars, settings=settings,
        )  # fmt: skip
    return sheet


def _heaviest(u: Ultimate) -> int:
    if u.failing[0] >= 0:
        return int(u.failing[0])
    if u.governing.max() < 0:
        return 0
    worst = int(np.nanargmax(u.a_s_ultimate[0]))
    return int(u.governing[0, worst])


def _field(sheet: Sheet, found: Loaded, given: Floats, j: int, h: float, axes: Floats, settings: Settings) -> None:
    rows, loads, w, status = (
        found.fields.rows,
        found.pushed[0, j],
        found.fields.rows.witness,
        int(found.fields.rows.status[j]),
    )
    f, tb, tt = w.bars[j], float(w.t_bottom[j]), float(w.t_top[j])
    sheet.heading = f"Stress field ({settings.method})"
    if status != threelayer.OK:
        sheet.add(Step("No field", "", "", (), (Quantity("reason", reason(status, settings), ""),)))
        return
    n, m = loads[:3].copy(), loads[3:6].copy()
    if found.need[0, j]:
        push = n - given[:3]
        sheet.add(
            Step("Thrust of the struts of the core, half of it in each layer", "equilibrium; EN 1992-2:2005, Annex LL",
                 "v cot theta in the direction of the shear, added to n",
                 quantities(("vx", "vy"), given[6:], "kN/m"), quantities(COMPONENTS[:3], push, "kN/m"))
        )  # fmt: skip
    source = _SOURCE[settings.method]
    if settings.method == "plate" and settings.bars.closed_form:
        names = tuple(f"m_{b.replace(' ', '_')}" for b in settings.names)
        sheet.add(
            Step("Wood-Armer moments, membrane forces left out", source, "m_x + |m_xy|, m_y + |m_xy|; -m for the top",
                 quantities(("mx", "my", "mxy"), m / 1e3, "kNm/m"), quantities(names, wood_armer(*m) / 1e3, "kNm/m"))
        )  # fmt: skip
    if settings.method == "plate":
        n[:] = 0.0
    if settings.method == "membrane":
        m[:] = 0.0
    if rows.layered is not None and j in rows.layered.at:
        _many_layers(sheet, found, j, h, axes, settings)
        return
    yb, yt = (h - tb) / 2, (h - tt) / 2
    sheet.add(
        Step("Layers", "thickness = compression / strength", "y_b = (h - t_b)/2, y_t = (h - t_t)/2, Y = y_b + y_t",
             (*quantities(("h", "t_b", "t_t"), np.array([h, tb, tt]), "mm"),
              *quantities(("fc_b", "fc_t"), np.array([w.fc_bottom[j], w.fc_top[j]]), "MPa")),
             quantities(("y_b", "y_t", "Y"), np.array([yb, yt, yb + yt]), "mm"))
    )  # fmt: skip
    nb, nt = (n * yt + m) / (yb + yt), (n * yb - m) / (yb + yt)
    tensor = ("x", "y", "xy")
    sheet.add(
        Step("Demand of the layers", "equilibrium", "N_b = (n y_t + m)/Y, N_t = (n y_b - m)/Y",
             (*quantities(COMPONENTS[:3], n, "kN/m"), *quantities(COMPONENTS[3:6], m / 1e3, "kNm/m")),
             (*quantities(tuple(f"N_b,{i}" for i in tensor), nb, "kN/m"),
              *quantities(tuple(f"N_t,{i}" for i in tensor), nt, "kN/m")))
    )  # fmt: skip
    there = np.isfinite(axes)
    bars = tuple(b for b, t in zip(settings.names, there, strict=True) if t)
    bound = () if settings.joint else (Quantity("lower bound", float(rows.bound[j]), "kN/m"),)
    aim = "within the bars of all combinations together" if settings.joint else "minimum total"
    sheet.add(
        Step("Bar forces", source, f"{aim}, both layers free of tension",
             quantities(tuple(f"e {b}" for b in bars), axes[there], "mm"),
             (*quantities(tuple(f"f {b}" for b in bars), f[there], "kN/m"),
              Quantity("total", float(f.sum()), "kN/m"), *bound))
    )  # fmt: skip
    strut = f"equilibrium; {settings.standard.name}, {settings.standard.clauses['layers']}"
    for name, c, t, fc in (("bottom", w.bottom[j], tb, w.fc_bottom[j]), ("top", w.top[j], tt, w.fc_top[j])):
        low = (c[0] + c[1]) / 2 - np.hypot((c[0] - c[1]) / 2, c[2])
        high = (c[0] + c[1]) / 2 + np.hypot((c[0] - c[1]) / 2, c[2])
        sheet.add(
            Step(f"Concrete of the {name} layer", strut, "-c_2 <= fc t, c_1 <= 0",
                 quantities(("c_x", "c_y", "c_xy"), c, "kN/m"),
                 quantities(("c_1", "c_2", "fc t"), np.array([high, low, fc * t]), "kN/m"))
        )  # fmt: skip
    violation = float(rows.violation(w.bars, settings.method)[j])
    d = dyads(settings.bars.angles)
    held_n = f @ d + w.bottom[j] + w.top[j]
    held_m = (f * np.nan_to_num(axes)) @ d + w.bottom[j] * yb - w.top[j] * yt
    if settings.method == "membrane":
        held_m = held_m * 0.0
    sheet.add(
        Step("Equilibrium of the field", "certificate: bars and concrete against the resultants",
             "sum f d d' + C_b + C_t = n, sum f e d d' + C_b y_b - C_t y_t = m",
             (*quantities(COMPONENTS[:3], held_n, "kN/m"), *quantities(COMPONENTS[3:6], held_m / 1e3, "kNm/m")),
             (Quantity("largest violation", violation, "of max(|n|, |m|/h, 1 N/mm)"),))
    )  # fmt: skip


def _many_layers(sheet: Sheet, found: Loaded, j: int, h: float, axes: Floats, settings: Settings) -> None:
    """The field of a row that needs less steel, or has a field at all, in many layers."""
    rows = found.fields.rows
    assert rows.layered is not None
    q = int(np.flatnonzero(rows.layered.at == j)[0])
    stress, fc, f = rows.layered.stress[q], rows.layered.fc[q], rows.witness.bars[j]
    y, t = manylayers.depths()
    there, half = np.isfinite(axes), len(t) // 2
    bars = tuple(b for b, there_ in zip(settings.names, there, strict=True) if there_)
    sheet.add(
        Step(f"Layers: {len(t)}, thin at the faces, since three ask for more steel", "lower bound theorem",
             "stress constant in each layer", quantities(("h",), np.array([h]), "mm"),
             quantities(("fc of the bottom half", "fc of the top half"), fc, "MPa"))
    )  # fmt: skip
    bound = Quantity("lower bound", float(rows.bound[j]), "kN/m")
    sheet.add(
        Step("Bar forces", _SOURCE[settings.method], "minimum total, every layer free of tension",
             quantities(tuple(f"e {b}" for b in bars), axes[there], "mm"),
             (*quantities(tuple(f"f {b}" for b in bars), f[there], "kN/m"),
              Quantity("total", float(f.sum()), "kN/m"), bound))
    )  # fmt: skip
    mean, radius = (stress[:, 0] + stress[:, 1]) / 2, np.hypot((stress[:, 0] - stress[:, 1]) / 2, stress[:, 2])
    strut = f"equilibrium; {settings.standard.name}, {settings.standard.clauses['layers']}"
    for face, own, strength in zip(settings.faces, (slice(None, half), slice(half, None)), fc, strict=True):
        force, couple = h * t[own] @ stress[own], h * h * (t * y)[own] @ stress[own]
        sheet.add(
            Step(f"Concrete of the half at the {face}", strut, "-sigma_2 <= fc, sigma_1 <= 0",
                 (*quantities(("c_x", "c_y", "c_xy"), force, "kN/m"),
                  *quantities(("couple x", "couple y", "couple xy"), couple / 1e3, "kNm/m")),
                 quantities(("maximum sigma_1", "minimum sigma_2", "fc"),
                            np.array([(mean + radius)[own].max(), (mean - radius)[own].min(), strength]), "MPa"))
        )  # fmt: skip
    d = dyads(settings.bars.angles)
    held_n = f @ d + h * t @ stress
    held_m = (f * np.nan_to_num(axes)) @ d + h * h * (t * y) @ stress
    sheet.add(
        Step("Equilibrium of the field", "certificate: bars and concrete against the resultants",
             "sum f d d' + sum t C = n, sum f e d d' + sum t y C = m",
             (*quantities(COMPONENTS[:3], held_n, "kN/m"), *quantities(COMPONENTS[3:6], held_m / 1e3, "kNm/m")),
             (Quantity("largest violation", float(rows.violation(rows.witness.bars, settings.method)[j]),
                       "of max(|n|, |m|/h, 1 N/mm)"),))
    )  # fmt: skip


def _bars(sheet: Sheet, u: Ultimate, combinations: list[str], h: float, axes: Floats, settings: Settings) -> None:
    sheet.heading = "Bars"
    status = status_of(u, combinations, settings)[0]
    if u.failing[0] >= 0:
        sheet.answer = (Quantity("status", status, ""),)
        sheet.add(Step("Status of the point", "", "", (), sheet.answer))
        return
    how = "minimum steel of all combinations together" if settings.joint else "envelope over the combinations"
    for i in np.flatnonzero(np.isfinite(axes)):
        by = int(u.governing[0, i])
        name = settings.names[i]
        given = (Quantity("f", float(u.force[0, i]), "kN/m"),) if by >= 0 else ()
        title = f"{name}: by {combinations[by]}" if by >= 0 else f"{name}: no combination asks for steel"
        sheet.add(
            Step(title, how, "a_s = f / f_yd", given,
                 (Quantity("a_s by strength", float(u.a_s_ultimate[0, i] * 1e3), "mm2/m"),))
        )  # fmt: skip
    if u.pressed.any():
        pressed = quantities(settings.names, u.pressed[0], "kN/m")
        diameter, spacing = settings.standard.ties(settings.bars.diameters.min(), h)
        sheet.add(
            Step("Bars in compression, where the layers do not fit without them", "lower bound theorem in forty layers",
                 f"ties from {float(diameter):g} mm, up to {float(spacing):.0f} mm apart", (), pressed)
        )  # fmt: skip
    depths = h / 2 + np.abs(axes)
    minimum_steel(u.a_s_ultimate, np.array([h]), depths[None], settings)
    there = np.isfinite(axes)
    names = tuple(b for b, t in zip(settings.names, there, strict=True) if t)
    more = float(u.shear.raised[0])
    raised = f"; bars in tension raised by {more:.3f} to avoid links" if more > 1.0 else ""
    sheet.answer = quantities(names, u.a_s[0][there] * 1e3, "mm2/m")
    sheet.add(
        Step("Required steel", "greater of strength and minimum steel" + raised, "max(a_s by strength, a_s,min)",
             quantities(tuple(f"min {b}" for b in names), u.a_s_minimum[0][there] * 1e3, "mm2/m"),
             sheet.answer)
    )  # fmt: skip


def _axial(
    sheet: Sheet, u: Ultimate, combined: Floats, strengths: list[Strengths], combinations: list[str], h: float,
    settings: Settings,
) -> None:  # fmt: skip
    """Compression with the minimum eccentricity, in the combination where it is nearest to its limit."""
    if not settings.minimum_eccentricity or u.failing[0] >= 0 or u.axial[0] <= 0.0:
        return
    k = int(u.axial_by[0])
    sheet.heading = f"Axial compression ({combinations[k]})"
    axial_compression(combined[None, [k]], [strengths[k]], np.array([h]), settings)
    demand, limit = float(u.axial[0]), float(u.axial_limit[0])
    sheet.add(
        Step("Principal compression of the membrane forces",
             f"{settings.standard.name}, {settings.standard.clauses['axial']}", "-n_2 <= n_Rd",
             quantities(COMPONENTS[:3], combined[k, :3], "kN/m"),
             (*quantities(("-n_2", "n_Rd"), np.array([demand, limit]), "kN/m"),
              Quantity("utilisation", demand / limit, "")))
    )  # fmt: skip


def _shear(
    sheet: Sheet,
    u: Ultimate,
    links: bool,
    loads: Floats,
    *,
    situation: str,
    name: str,
    h: float,
    bars: tuple[Floats, Floats, str],
    settings: Settings,
) -> None:
    if u.failing[0] >= 0:
        return
    sheet.heading = f"Transverse shear ({name})"
    cracking = settings.standard.flexural_tension(settings.concrete, situation)
    there, axes, word = bars
    q = shear_input(settings, loads[None], np.array([h]), axes[None], there[None], cracking)
    sound = "; uncracked in bending along it: the bars of the better face count" if bool(q.sound[0]) else ""
    face = "bottom" if bool(q.bottom_tension[0]) else "top"
    sheet.add(
        Step(f"In the direction of the shear the {face} is in tension{sound}", "tensor rule",
             f"m_phi, n_phi, d along phi; bars {word}", (),
             (Quantity("n_phi", float(q.n_phi[0]), "kN/m"), Quantity("d", float(q.d[0]), "mm")))
    )  # fmt: skip
    sigma = settings.standard.axial_stress(settings.concrete, situation, float(q.n_phi[0]), h)
    resistance = settings.standard.shear_resistance(
        ShearSection(
            settings.concrete,
            settings.steel,
            situation,
            d=float(q.d[0]),
            h=h,
            rho_l=float(q.rho[0]),
            sigma=float(sigma),
        )
    )
    v = float(q.v_Ed[0])
    use = v / float(resistance) if resistance > 0 else float("inf")
    spared = f"; the bars {word} need no links, whose thrust the required steel still carries"
    sheet.add(
        Step("Shear without links" + SUPPORTED[int(u.shear.support[0])] + (spared if links and use <= 1.0 else ""),
             f"{settings.standard.name}, {settings.standard.clauses['shear']}", "v_Ed <= v_Rd,c",
             (Quantity("v_Ed", v, "kN/m"), Quantity("v_Rd_c", float(resistance), "kN/m")),
             (Quantity("utilisation", use, ""),))
    )  # fmt: skip
    if links and use > 1.0 and settings.links is not None:
        forces = v, float(q.d[0]), float(resistance)
        made = settings.standard.links(
            ShearDemand(settings.concrete, settings.steel, situation, *forces, settings.links.cot_theta)
        )
        area, most = float(made.a_sw), float(made.v_max)
        sheet.add(
            Step("Links and their struts", f"{settings.standard.name}, {settings.standard.clauses['links']}",
                 "links for v_Ed, not fewer than the minimum; v_Ed <= v_max",
                 (Quantity("v_Ed", v, "kN/m"), Quantity("cot theta", float(made.cot_theta), ""),
                  Quantity("v_max", most, "kN/m")),
                 (Quantity("a_sw", area * 1e6, "mm2/m2"), Quantity("utilisation of the struts", v / most, "")))
        )  # fmt: skip
