"""IS 13920:2016, clause 10 and Annex A: walls, boundary elements, coupling beams."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

LEVER: Final = 0.8  # of the length of a wall, 10.2.1
L_T_MIN: Final = 4.0  # length over thickness, 10.1.3
CLASSES: Final = ((1.0, "squat"), (2.0, "intermediate"))  # h_w/l_w, 10.1.4; slender above
RHO_BOUNDARY: Final = (0.008, 0.06)  # of the vertical bars of a boundary element, 10.4.3; 0.04 in practice
DIAGONAL_BARS: Final = (4, 8.0)  # number and least diameter [mm] of the bars of one diagonal, 10.5.2


def wall_class(h_w: float, l_w: float) -> str:
    """Whether a wall is squat, intermediate or slender.

    References
    ----------
    IS 13920:2016, 10.1.4.

    Examples
    --------
    >>> wall_class(6300.0, 6100.0), wall_class(34200.0, 6500.0)
    ('intermediate', 'slender')
    """
    ratio = h_w / l_w
    if ratio < CLASSES[0][0]:
        return CLASSES[0][1]
    return CLASSES[1][1] if ratio <= CLASSES[1][0] else "slender"


def _alpha_1(phi: Any, beta: Any) -> Any:
    """Coefficient alpha_1 of Annex A."""
    beta = np.asarray(beta)
    return 0.36 + np.asarray(phi) * (1.0 - beta / 2.0 - 1.0 / (2.0 * beta))


@clause("IS 13920:2016, 10.1.2", formula="150 mm, 300 mm of coupled walls")
def t_w_min(coupled: Any) -> Any:
    """Minimum thickness of a wall.

    Parameters
    ----------
    coupled : float or ndarray
        Whether coupling beams join it to others.

    Returns
    -------
    t_w_min : float or ndarray
        Thickness [mm].

    References
    ----------
    IS 13920:2016, 10.1.2.

    Examples
    --------
    >>> float(t_w_min(False)), float(t_w_min(True))
    (150.0, 300.0)
    """
    return np.where(coupled, 300.0, 150.0)


@clause("IS 13920:2016, 10.1.7", formula="tau_v > 0.25 f_ck^(1/2) or t_w >= 200 mm")
def two_curtains(tau_v: Any, f_ck: Any, t_w: Any) -> Any:
    """Whether a wall has to have two curtains.

    Parameters
    ----------
    tau_v : float or ndarray
        Shear stress [MPa].
    f_ck : float or ndarray
        Cube strength [MPa].
    t_w : float or ndarray
        Thickness [mm].

    Returns
    -------
    two_curtains : bool or ndarray
        Whether it has.

    References
    ----------
    IS 13920:2016, 10.1.7.

    Examples
    --------
    >>> bool(two_curtains(1.0, 25.0, 180.0)), bool(two_curtains(1.0, 25.0, 200.0))
    (False, True)
    """
    return (np.asarray(tau_v) > 0.25 * np.sqrt(f_ck)) | (np.asarray(t_w) >= 200.0)


@clause("IS 13920:2016, 10.1.8", formula="t_w/10")
def d_max(t_w: Any) -> Any:
    """Largest diameter of bars in a wall.

    Parameters
    ----------
    t_w : float or ndarray
        Thickness [mm].

    Returns
    -------
    d_max : float or ndarray
        Diameter [mm].

    References
    ----------
    IS 13920:2016, 10.1.8.

    Examples
    --------
    >>> d_max(250.0)
    25.0
    """
    return t_w / 10.0


@clause("IS 13920:2016, 10.1.9", formula="min(l_w/5, 3 t_w, 450 mm)")
def s_max(l_w: Any, t_w: Any) -> Any:
    """Largest spacing of bars in a wall.

    Parameters
    ----------
    l_w, t_w : float or ndarray
        Length and thickness [mm].

    Returns
    -------
    s_max : float or ndarray
        Spacing [mm].

    References
    ----------
    IS 13920:2016, 10.1.9.

    Examples
    --------
    >>> float(s_max(6100.0, 325.0)), float(s_max(1500.0, 325.0))
    (450.0, 300.0)
    """
    return np.minimum(np.minimum(np.asarray(l_w) / 5.0, 3.0 * np.asarray(t_w)), 450.0)


@clause("IS 13920:2016, 10.2.1", formula="V_u/(t_w d_w), d_w = 0.8 l_w")
def tau_v(V_u: Any, t_w: Any, l_w: Any) -> Any:
    """Shear stress of a wall.

    Parameters
    ----------
    V_u : float or ndarray
        Factored shear [N].
    t_w, l_w : float or ndarray
        Thickness and length [mm].

    Returns
    -------
    tau_v : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 13920:2016, 10.2.1.

    Examples
    --------
    >>> round(float(tau_v(2470e3, 325.0, 6100.0)), 4)
    1.5574
    """
    return np.asarray(V_u) / (np.asarray(t_w) * LEVER * l_w)


@clause("IS 13920:2016, 10.2.3", formula="(V_u - tau_c t_w d_w)/(0.87 f_y d_w)")
def A_h(V_u: Any, tau_c: Any, t_w: Any, l_w: Any, f_y: Any) -> Any:
    """Horizontal bars over their spacing that a wall needs.

    Parameters
    ----------
    V_u : float or ndarray
        Factored shear [N].
    tau_c : float or ndarray
        Strength of the concrete, IS 456, table 19 [MPa].
    t_w, l_w : float or ndarray
        Thickness and length [mm].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    A_h : float or ndarray
        Area a length [mm2/mm].

    References
    ----------
    IS 13920:2016, 10.2.3.

    Examples
    --------
    >>> round(float(A_h(1580e3, 0.36891273, 325.0, 3700.0, 415.0)), 4)
    1.1463
    """
    d_w = LEVER * np.asarray(l_w)
    return np.maximum(V_u - np.asarray(tau_c) * t_w * d_w, 0.0) / (0.87 * f_y * d_w)


@clause("IS 13920:2016, 10.2.3", formula="tau_c t_w d_w + 0.87 f_y A_h d_w/s_v")
def V_u_web(tau_c: Any, t_w: Any, l_w: Any, f_y: Any, A_h: Any) -> Any:
    """Shear that the concrete and horizontal bars of a wall carry.

    Parameters
    ----------
    tau_c : float or ndarray
        Strength of the concrete, IS 456, table 19 [MPa].
    t_w, l_w : float or ndarray
        Thickness and length [mm].
    f_y : float or ndarray
        Yield strength [MPa].
    A_h : float or ndarray
        Horizontal bars over their spacing [mm2/mm].

    Returns
    -------
    V_u_web : float or ndarray
        Force [N].

    References
    ----------
    IS 13920:2016, 10.2.3.

    Examples
    --------
    >>> round(float(V_u_web(0.36891273, 325.0, 3700.0, 415.0, 157.08 / 200.0)) / 1e3)
    1194
    """
    return (np.asarray(tau_c) * t_w + 0.87 * f_y * np.asarray(A_h)) * LEVER * l_w


@clause("IS 13920:2016, 10.4.1", formula="P_u/A_g + M_u l_w/(2 I)")
def edge_stress(P_u: Any, M_u: Any, A_g: Any, I: Any, l_w: Any) -> Any:
    """Largest compressive stress of the gross section.

    Parameters
    ----------
    P_u : float or ndarray
        Axial force, compression positive [N].
    M_u : float or ndarray
        Moment [N mm].
    A_g, I : float or ndarray
        Area [mm2] and second moment [mm4].
    l_w : float or ndarray
        Length [mm].

    Returns
    -------
    edge_stress : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 13920:2016, 10.4.1.

    Examples
    --------
    >>> round(edge_stress(10795e3, 16996e6, 2170e3, 6951233333e3, 6200.0), 3)
    12.554
    """
    return P_u / A_g + M_u * (l_w / 2.0) / I


@clause("IS 13920:2016, 10.4.1", formula="needed from 0.2 f_ck, ended below 0.15 f_ck")
def stress_limits(f_ck: Any) -> Any:
    """Stresses from which a boundary element is needed, and below which it may end.

    Parameters
    ----------
    f_ck : float or ndarray
        Cube strength [MPa].

    Returns
    -------
    stress_limits : ndarray
        Both [MPa].

    References
    ----------
    IS 13920:2016, 10.4.1.

    Examples
    --------
    >>> stress_limits(40.0).tolist()
    [8.0, 6.0]
    """
    return np.stack([0.2 * np.asarray(f_ck), 0.15 * np.asarray(f_ck)])


@clause(
    "IS 13920:2016, 10.4.2",
    formula="share of the gravity load + (M_u - M_uv)/C_w; where gravity relieves, 0.8 of it less that",
)
def P_boundary(P: Any, M_u: Any, M_uv: Any, C_w: Any) -> Any:
    """Axial force of a boundary element by overturning.

    Parameters
    ----------
    P : float or ndarray
        Share of the factored gravity load, compression positive [N].
    M_u, M_uv : float or ndarray
        Factored moment, and what the web carries [N mm].
    C_w : float or ndarray
        Between the middles of both boundary elements [mm].

    Returns
    -------
    P_boundary : ndarray, shape (2,)
        Compression, and tension negative [N].

    References
    ----------
    IS 13920:2016, 10.4.2.

    Examples
    --------
    >>> (P_boundary(1330e3, 18.6e9, 3.9e9, 5900.0) / 1e3).round().tolist()
    [3822.0, -1428.0]
    """
    couple = np.maximum(np.asarray(M_u) - M_uv, 0.0) / C_w
    return np.stack([P + couple, 0.8 * np.asarray(P) - couple])


@clause("IS 13920:2016, 10.4.2; IS 456:2000, 39.3", formula="0.4 f_ck A_c + 0.67 f_y A_s")
def P_short_column(f_ck: Any, f_y: Any, A_g: Any, A_s: Any) -> Any:
    """Axial force that a boundary element carries as a short column.

    Parameters
    ----------
    f_ck, f_y : float or ndarray
        Strengths [MPa].
    A_g, A_s : float or ndarray
        Gross area, and that of the bars [mm2].

    Returns
    -------
    P_short_column : float or ndarray
        Force [N].

    References
    ----------
    IS 13920:2016, 10.4.2; IS 456:2000, 39.3.

    Examples
    --------
    >>> round(float(P_short_column(30.0, 500.0, 580e3, 13981.0)) / 1e3)
    11476
    """
    return 0.4 * f_ck * (np.asarray(A_g) - A_s) + 0.67 * f_y * np.asarray(A_s)


@clause("IS 13920:2016, 10.4.4", formula="A_sh/(s_v h) = 0.05 f_ck/f_y")
def rho_ties(f_ck: Any, f_y: Any) -> Any:
    """Area of the ties of a boundary element over their spacing and the width of the core, each way.

    Parameters
    ----------
    f_ck, f_y : float or ndarray
        Strengths of concrete and ties [MPa].

    Returns
    -------
    rho_ties : float or ndarray
        Ratio [-].

    References
    ----------
    IS 13920:2016, 10.4.4.

    Examples
    --------
    >>> rho_ties(30.0, 500.0)
    0.003
    """
    return 0.05 * f_ck / f_y


@clause("IS 13920:2016, 10.4.4", formula="min(b/3, 6 d_b, 100 mm, or 150 mm with legs up to 200 mm apart)")
def s_ties(b: Any, d_b: Any, legs: Any) -> Any:
    """Largest spacing of the ties of a boundary element.

    Parameters
    ----------
    b : float or ndarray
        Its least dimension [mm].
    d_b : float or ndarray
        Smallest diameter of its bars [mm].
    legs : float or ndarray
        Largest distance between legs [mm].

    Returns
    -------
    s_ties : float or ndarray
        Spacing [mm].

    References
    ----------
    IS 13920:2016, 10.4.4.

    Examples
    --------
    >>> float(s_ties(450.0, 20.0, 300.0)), float(s_ties(450.0, 25.0, 200.0))
    (100.0, 150.0)
    """
    return np.minimum(
        np.minimum(np.asarray(b) / 3.0, 6.0 * np.asarray(d_b)), np.where(np.asarray(legs) <= 200.0, 150.0, 100.0)
    )


@clause("IS 13920:2016, 10.7.1", formula="0.92/f_y (tau_v - P_u/A_g)")
def rho_joint(tau_v: Any, P_u: Any, A_g: Any, f_y: Any) -> Any:
    """Minimum ratio of the vertical bars across a construction joint.

    Parameters
    ----------
    tau_v : float or ndarray
        Shear stress [MPa].
    P_u : float or ndarray
        Axial force, compression positive [N].
    A_g : float or ndarray
        Area [mm2].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    rho_joint : float or ndarray
        Ratio [-].

    References
    ----------
    IS 13920:2016, 10.7.1.

    Examples
    --------
    >>> round(float(rho_joint(2.5, 800e3, 1420e3, 415.0)), 5)
    0.00429
    """
    return np.maximum(0.92 / f_y * (np.asarray(tau_v) - np.asarray(P_u) / A_g), 0.0)


@clause(
    "IS 13920:2016, Annex A",
    formula="(phi + lambda)/(2 phi + 0.36) to 1/(1 + beta), else alpha_1 x^2 + (phi/beta - lambda) x = phi/(2 beta)",
)
def x_u_web(lambda_: Any, phi: Any, beta: Any) -> Any:
    """Depth of the neutral axis of a wall with even bars, over its length.

    Parameters
    ----------
    lambda_ : float or ndarray
        P_u/(f_ck t_w l_w) [-].
    phi : float or ndarray
        0.87 f_y rho/f_ck [-].
    beta : float or ndarray
        0.87 f_y/(0.0035 E_s) [-].

    Returns
    -------
    x_u_web : float or ndarray
        Ratio, nan past 1 [-].

    References
    ----------
    IS 13920:2016, Annex A.

    Examples
    --------
    >>> round(float(x_u_web(0.160333, 0.057768, 0.515786)), 4)
    0.4586
    """
    near = (np.asarray(phi) + lambda_) / (2.0 * np.asarray(phi) + 0.36)
    a, b = _alpha_1(phi, beta), np.asarray(phi) / beta - lambda_
    far = (-b + np.sqrt(b * b + 2.0 * a * np.asarray(phi) / beta)) / (2.0 * a)
    found = np.where(near <= 1.0 / (1.0 + np.asarray(beta)), near, far)
    return np.where(found <= 1.0, found, np.nan)


@clause(
    "IS 13920:2016, Annex A",
    formula="(phi + lambda)(1/2 - 0.416 x) - phi x^2 (0.168 + beta^2/3); else a_1 x - a_2 x^2 - a_3 - lambda/2",
)
def M_uv(lambda_: Any, phi: Any, beta: Any) -> Any:
    """Moment of a wall with even bars beside its axial force, over f_ck t_w l_w^2.

    Parameters
    ----------
    lambda_ : float or ndarray
        P_u/(f_ck t_w l_w) [-].
    phi : float or ndarray
        0.87 f_y rho/f_ck [-].
    beta : float or ndarray
        0.87 f_y/(0.0035 E_s) [-].

    Returns
    -------
    M_uv : float or ndarray
        Ratio, nan where the whole section is compressed [-].

    References
    ----------
    IS 13920:2016, Annex A.

    Examples
    --------
    >>> round(float(M_uv(0.160333, 0.057768, 0.515786)), 4)
    0.0643
    """
    x = x_u_web(lambda_, phi, beta)
    phi = np.asarray(phi)
    near = (phi + lambda_) * (0.5 - 0.416 * x) - phi * x**2 * (0.168 + np.asarray(beta) ** 2 / 3.0)
    alpha_2 = 0.15 + phi / 2.0 * (1.0 - beta + np.asarray(beta) ** 2 / 3.0 - 1.0 / (3.0 * np.asarray(beta)))
    alpha_3 = phi / (6.0 * np.asarray(beta)) * (1.0 / x - 3.0)
    far = _alpha_1(phi, beta) * x - alpha_2 * x**2 - alpha_3 - np.asarray(lambda_) / 2.0
    return np.where(x <= 1.0 / (1.0 + np.asarray(beta)), near, far)


@clause("IS 13920:2016, 10.5.1", formula="0.1 f_ck^(1/2) l_s/D")
def tau_no_diagonals(f_ck: Any, l_s: Any, D: Any) -> Any:
    """Shear stress up to which a coupling beam needs no diagonals.

    Parameters
    ----------
    f_ck : float or ndarray
        Cube strength [MPa].
    l_s, D : float or ndarray
        Clear span and depth of the beam [mm].

    Returns
    -------
    tau_no_diagonals : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 13920:2016, 10.5.1.

    Examples
    --------
    >>> round(float(tau_no_diagonals(30.0, 1040.0, 650.0)), 4)
    0.8764
    """
    return 0.1 * np.sqrt(f_ck) * np.asarray(l_s) / D


@clause("IS 13920:2016, 10.5.2", formula="V_u/(1.74 f_y sin alpha)")
def A_sd(V_u: Any, f_y: Any, alpha: Any) -> Any:
    """Area of the bars of one diagonal of a coupling beam.

    Parameters
    ----------
    V_u : float or ndarray
        Factored shear [N].
    f_y : float or ndarray
        Yield strength [MPa].
    alpha : float or ndarray
        Angle between the diagonals and the axis of the beam [rad].

    Returns
    -------
    A_sd : float or ndarray
        Area [mm2].

    References
    ----------
    IS 13920:2016, 10.5.2.

    Examples
    --------
    >>> round(float(A_sd(389e3, 500.0, 0.440306)))
    1049
    """
    return V_u / (1.74 * f_y * np.sin(alpha))
