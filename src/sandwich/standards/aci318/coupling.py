"""ACI 318-19, 18.10.7 and 18.10.8: coupling beams, wall piers (SI constants)."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause
from sandwich.standards.aci318.boundary_ties import TIMES, by_grade

PHI_DIAGONAL: Final = 0.85  # 21.2.4.3
TIES_OF_DIAGONALS: Final = 350.0  # mm, 18.10.7.4(c)
TIES_OF_BEAM: Final = 200.0  # mm, 18.10.7.4(d)
HOOPS_OF_PIER: Final = 150.0  # mm, 18.10.8.1(d)
HOOPS_BEYOND: Final = 300.0  # mm above and below the clear height, 18.10.8.1(e)


@clause("ACI 318-19, 18.10.7.2", formula="V_u >= 0.33 lambda f_c'^(1/2) A_cw with l_n/h < 2: diagonals")
def V_diagonals(root_f_c: Any, A_cw: Any) -> Any:
    """Shear from which a short coupling beam has to have diagonals.

    Parameters
    ----------
    root_f_c : float or ndarray
        Square root of f_c' [MPa].
    A_cw : float or ndarray
        Width times depth of the beam [mm2].

    Returns
    -------
    V_diagonals : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-19, 18.10.7.2.

    Examples
    --------
    >>> round(V_diagonals(5.0, 300e3))
    495000
    """
    return 0.33 * root_f_c * A_cw


def kind(l_n: float, h: float, V_u: float, root_f_c: float, A_cw: float) -> str:
    """Which rules a coupling beam follows: 'frame beam', 'diagonals', or either of both.

    References
    ----------
    ACI 318-19, 18.10.7.1 to 18.10.7.3.

    Examples
    --------
    >>> kind(1170.0, 900.0, 941e3, 42.0**0.5, 315e3), kind(4000.0, 1000.0, 1e5, 5.0, 3e5)
    ('diagonals', 'frame beam')
    """
    if l_n / h >= 4.0:
        return "frame beam"
    if l_n / h < 2.0 and V_u >= V_diagonals(root_f_c, A_cw):
        return "diagonals"
    return "diagonals or frame beam"


@clause("ACI 318-19, 18.10.7.4(a), (18.10.7.4)", formula="V_n = 2 A_vd f_y sin alpha <= 0.83 f_c'^(1/2) A_cw")
def V_n_diagonal(A_vd: Any, f_y: Any, alpha: Any, root_f_c: Any, A_cw: Any) -> Any:
    """Nominal shear strength of a coupling beam by its diagonals.

    Parameters
    ----------
    A_vd : float or ndarray
        Area of one group of diagonal bars [mm2].
    f_y : float or ndarray
        Yield strength [MPa].
    alpha : float or ndarray
        Angle between the diagonals and the axis of the beam [rad].
    root_f_c : float or ndarray
        Square root of f_c' [MPa].
    A_cw : float or ndarray
        Width times depth of the beam [mm2].

    Returns
    -------
    V_n_diagonal : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-19, 18.10.7.4(a).

    Examples
    --------
    >>> round(float(V_n_diagonal(2454.4, 420.0, 0.563959, 42.0**0.5, 315e3)) / 1e3)
    1102
    """
    return np.minimum(2.0 * np.asarray(A_vd) * f_y * np.sin(alpha), 0.83 * root_f_c * np.asarray(A_cw))


@clause("ACI 318-19, 18.10.7.4(a), 21.2.4.3", formula="A_vd = V_u/(2 phi f_y sin alpha), phi = 0.85")
def A_vd(V_u: Any, f_y: Any, alpha: Any) -> Any:
    """Area of one group of diagonal bars that a coupling beam needs.

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
    A_vd : float or ndarray
        Area [mm2].

    References
    ----------
    ACI 318-19, 18.10.7.4(a), 21.2.4.3.

    Examples
    --------
    >>> round(float(A_vd(941e3, 420.0, 0.563959)))
    2466
    """
    return V_u / (2.0 * PHI_DIAGONAL * f_y * np.sin(alpha))


@clause("ACI 318-19, 18.10.7.4(c), (d)", formula="s <= 6, 5, 4 d_b of grades 420, 550, 690; 150 mm with ties all round")
def s_diagonals(d_b: Any, f_y: Any, whole: Any) -> Any:
    """Largest spacing of the ties of a coupling beam with diagonals.

    Parameters
    ----------
    d_b : float or ndarray
        Diameter of the diagonal bars [mm].
    f_y : float or ndarray
        Their yield strength, which tells the grade [MPa].
    whole : bool or ndarray
        Whether ties confine the whole beam, 18.10.7.4(d), and not each group of diagonals, (c) [-].

    Returns
    -------
    s_diagonals : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, 18.10.7.4(c) and (d).

    Examples
    --------
    >>> float(s_diagonals(20.0, 420, False)), float(s_diagonals(32.0, 420, True))
    (120.0, 150.0)
    """
    own = by_grade(TIMES, f_y) * np.asarray(d_b, dtype=float)
    return np.where(whole, np.minimum(own, 150.0), own)


@clause(
    "ACI 318-19, 18.10.7.4(c), (d)",
    formula="A_sh = max(0.09 s b_c f_c'/f_yt, 0.3 s b_c (A_g/A_ch - 1) f_c'/f_yt)",
)
def A_sh_diagonals(s: Any, b_c: Any, A_g: Any, A_ch: Any, f_c: Any, f_yt: Any) -> Any:
    """Area of the ties of a group of diagonals or of the whole beam, in one direction.

    Parameters
    ----------
    s, b_c : float or ndarray
        Spacing, and width of the core across the legs [mm].
    A_g, A_ch : float or ndarray
        Gross area with the cover of 20.5.1 all round, and that of the core [mm2].
    f_c, f_yt : float or ndarray
        Strengths [MPa].

    Returns
    -------
    A_sh_diagonals : float or ndarray
        Area [mm2].

    References
    ----------
    ACI 318-19, 18.10.7.4(c) and (d).

    Examples
    --------
    >>> round(float(A_sh_diagonals(100.0, 180.0, 90e3, 62e3, 42.0, 420.0)), 1)
    243.9
    """
    more = np.asarray(A_g) / A_ch - 1.0
    return np.maximum(0.09, 0.3 * more) * s * b_c * f_c / f_yt


def pier_kind(h_w: float, l_w: float, b_w: float) -> str:
    """How a vertical segment of a wall is designed: 'wall', 'wall pier' or 'column'.

    References
    ----------
    ACI 318-19, 18.10.8.1, Table R18.10.1: h_w/l_w from 2.0 and l_w/b_w up to 6.0; as a column up to 2.5.

    Examples
    --------
    >>> pier_kind(4700.0, 2280.0, 300.0), pier_kind(3000.0, 1200.0, 300.0), pier_kind(3000.0, 700.0, 300.0)
    ('wall', 'wall pier', 'column')
    """
    if h_w / l_w < 2.0 or l_w / b_w > 6.0:
        return "wall"
    return "column" if l_w / b_w <= 2.5 else "wall pier"


@clause("ACI 318-19, 18.10.2.5", formula="1.25 of the development length at f_y in tension")
def l_d_beam(l_d: Any) -> Any:
    """Development length of the longitudinal or diagonal bars of a coupling beam.

    Parameters
    ----------
    l_d : float or ndarray
        Development length at the yield strength [mm].

    Returns
    -------
    l_d_beam : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 18.10.2.5(a) and (b).

    Examples
    --------
    >>> float(l_d_beam(800.0))
    1000.0
    """
    return 1.25 * np.asarray(l_d)
