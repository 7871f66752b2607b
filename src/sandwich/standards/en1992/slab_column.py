"""Punching by EN 1992-1-1:2004, 6.4 from the control perimeter to the perimeters of reinforcement."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.section import Concrete, Steel
from sandwich.mechanics.perimeter import Perimeter
from sandwich.standards.column import ColumnLoad, ControlRule, Punched, Reinforcement, SlabColumn, farthest, spread
from sandwich.standards.en1992 import eccentricity, links, materials, punching, shear

AT_EDGE: Final = 1.5  # depths between column and edge up to which it counts as standing at it
_CLEARLY: Final = 0.1  # eccentricity to the inside over d from which (6.44) and (6.46) hold alone
_TINY: Final = 1.0  # N; a moment without a force has a finite stress all the same
_RADIAL: Final = 0.75  # s_r over d, 9.4.3(1)
_FIRST: Final = 0.5  # first perimeter of reinforcement over d, 9.4.3(4)
_LEGS: Final = (1.5, 2.0)  # tangential spacing over d up to the control perimeter and beyond, 9.4.3(1)


def control(d: float) -> ControlRule:
    """Control perimeter at 2 d with round corners (6.4.2(1)); openings up to 6 d (6.4.2(3)); heads by 6.4.2(9)."""
    return ControlRule(2.0, "round", 6.0 * d, widen=True, head=lambda a, b: float(punching.r_head(a, b)))


def beta(column: SlabColumn, load: ColumnLoad) -> float:
    """Factor of the unbalanced moment: as stated, or by 6.4.3.

    (6.44) and (6.46) ask for an eccentricity to the inside. From none, where (6.39) holds, to a tenth of d the factor
    is linear between both, so that rounding of a place or a moment does not choose the expression.
    """
    if column.beta is not None:
        return column.beta
    line, V = column.control, max(load.V, _TINY)
    about = line.centroid
    moment = load.moment - load.V * about
    axes = np.eye(2) if not len(column.edges) else np.stack([_along(column.edges[0]), column.edges[0]])
    # Figure 6.20 speaks of columns at the edge; behind those set back the slab goes on and (6.39) holds
    at_edge = bool(len(column.edges)) and bool(np.all(column.gaps <= AT_EDGE * column.d))
    inward = -(column.edges @ load.moment) / V if at_edge else np.zeros(1)
    inside = float(np.clip(inward / (_CLEARLY * column.d), 0.0, 1.0).min())
    # a single straight line carries no moment across itself
    W = [max(line.first_moment(a, about), 1.0) for a in axes]
    sizes = [1.0, 1.0] if column.round else [column.size(a) for a in axes]
    anywhere = 0.0
    if inside < 1.0:
        k_1, k_2 = eccentricity.k_moment(sizes[0] / sizes[1]), eccentricity.k_moment(sizes[1] / sizes[0])
        anywhere = float(eccentricity.beta_inside(V, line.u, k_1, k_2, *(moment @ axes.T), *W))
    if inside == 0.0:
        return anywhere
    reduced = max(_reduced(column).u, 1.0)
    if column.place == "corner":
        to_inside = float(eccentricity.beta_corner(line.u, reduced))
    else:
        # c_1 at right angles to the edge, c_2 along it
        k = eccentricity.k_moment(sizes[1] / (2.0 * sizes[0]))
        to_inside = float(eccentricity.beta_edge(V, line.u, reduced, k, moment @ axes[0], W[0]))
    return inside * to_inside + (1.0 - inside) * anywhere


def _along(normal: np.ndarray) -> np.ndarray:
    return np.array([-normal[1], normal[0]])


def _reduced(column: SlabColumn) -> Perimeter:
    """The control perimeter of Figure 6.20, without its parts near the edge."""
    line = column.control
    for normal in column.edges:
        inner = float((column.sides @ -normal).max())
        line = line.beyond(-normal, inner - min(1.5 * column.d, 0.5 * column.size(normal)))
    return line


def face_length(column: SlabColumn) -> float:
    """u_0 of 6.4.5(3): the faces of the column, at an edge no more than c_2 + 3 d, at a corner than 3 d [mm]."""
    near = [n for n, gap in zip(column.edges, column.gaps, strict=True) if gap <= AT_EDGE * column.d]
    if len(near) == 2:
        return min(column.face, 3.0 * column.d)
    if near:
        return min(column.face, column.size(_along(near[0])) + 3.0 * column.d)
    return column.face


def punch(
    values: dict[str, dict[str, float]], concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad
) -> Punched:
    """Punching of one combination, with the reinforcement it asks for where that is allowed.

    Parameters
    ----------
    values : dict
        A national set: partial factors by situation, and ``values``.
    concrete, steel : Concrete, Steel
        Materials; punching reinforcement of the steel of the bars [MPa].
    column : SlabColumn
        The loaded area.
    load : ColumnLoad
        The combination.

    Returns
    -------
    Punched
        Stresses, resistances, reinforcement.

    References
    ----------
    EN 1992-1-1:2004 with A1:2014, 6.4.2 to 6.4.5, 9.4.3.
    """
    own, partial = values["values"], values[load.situation]
    f_ck, d, u_1 = concrete.cylinder, column.d, column.control.u
    factor = max(beta(column, load), own["beta_min"])
    V = max(load.V, _TINY)
    f_cd = materials.f_cd(f_ck, gamma_c=partial["gamma_c"], alpha_cc=own["alpha_cc"])
    v_face = float(punching.v_Ed(V, face_length(column), d, factor))
    nu = links.nu_1(f_ck, factor=own["nu_factor"])
    v_max = float(punching.v_Rd_max(nu, f_cd, factor=own["v_max_punching"]))
    v_Ed = float(punching.v_Ed(V, u_1, d, factor))
    size = shear.k(d)
    rho = punching.rho_l(load.rho_x, load.rho_y)
    least = shear.v_min(size, f_ck, factor=shear.v_min_factor(d, own["v_min_factor"], own["v_min_deep_factor"]))
    C = own["C_Rd_c_factor"] / partial["gamma_c"]
    resists = float(punching.v_Rd_c(size, rho, f_ck, least, load.sigma, C_Rd_c=C, k_1=own["k_1_punching"]))
    raised = 1.0
    if v_Ed > resists:
        wanted = ((v_Ed - own["k_1_punching"] * load.sigma) / (C * float(size))) ** 3 / (100.0 * f_ck)
        raised = wanted / float(rho) if 0.0 < wanted <= 0.02 and rho > 0.0 else np.inf
    found = None
    if v_Ed > resists and column.shear != "none":
        found = _reinforce(
            values, concrete, steel, column, situation=load.situation, V=V * factor, v_Ed=v_Ed, resists=resists
        )
    return Punched(v_Ed, resists, v_face, v_max, float(raised), found)


def _reinforce(
    values: dict[str, dict[str, float]], concrete: Concrete, steel: Steel, column: SlabColumn, *, situation: str,
    V: float, v_Ed: float, resists: float,
) -> Reinforcement:  # fmt: skip
    """Rows of reinforcement by (6.52), up to 1.5 d inside the perimeter that needs none."""
    own, d, u_1 = values["values"], column.d, column.control.u
    if column.h < links.LINKS_FROM:
        return Reinforcement(why=f"h is {column.h:.0f} mm; links and studs need {links.LINKS_FROM:.0f} mm (9.3.2(1))")
    if v_Ed > own["k_max_punching"] * resists:
        return Reinforcement(
            why=f"v_Ed is above {own['k_max_punching']:g} v_Rd,c, the limit with punching reinforcement"
        )
    u_out = float(punching.u_out(V, resists, d))
    reach = farthest(lambda a: column.at(a, "round").u >= u_out, 2.0 * d, d)
    if reach is None:
        return Reinforcement(why="no perimeter on the slab is long enough to end the reinforcement")
    f_ywd = materials.f_yd(steel.f_yk, gamma_s=values[situation]["gamma_s"])
    f_ef = punching.f_ywd_ef(d, f_ywd)
    s_r = _RADIAL * d
    distance = spread(_FIRST * d, s_r, reach - 1.5 * d)
    length = tuple(column.at(a, "round").u for a in distance)
    apart = [_LEGS[0] if a <= 2.0 * d else _LEGS[1] for a in distance]
    legs = tuple(int(np.ceil(u / (s * d))) for u, s in zip(length, apart, strict=True))
    whole = float(punching.A_sw(v_Ed, resists, u_1, s_r, f_ef))
    punching.v_Rd_cs(resists, d, s_r, whole, f_ef, u_1, k_max=own["k_max_punching"])
    least = float(punching.A_sw_min(concrete.cylinder, steel.f_yk, s_r, max(length), factor=own["rho_w_factor"]))
    return Reinforcement(distance, length, (max(whole, least),) * len(distance), legs, reach)
