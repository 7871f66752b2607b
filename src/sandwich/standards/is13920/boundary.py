"""IS 13920:2016, 10.4: boundary elements of ductile walls."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

RHO_BOUNDARY: Final = (0.008, 0.06)  # of the vertical bars of a boundary element, 10.4.3; 0.04 in practice


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
