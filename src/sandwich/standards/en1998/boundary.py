"""EN 1998-1:2004, 5.4.3.4 and 5.5.3.4: critical region and boundary elements of ductile walls."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

EPS_CU2: Final = 0.0035
RHO_BOUNDARY: Final = 0.005  # 5.4.3.4.2(8)
NU_MAX: Final = {"DCM": 0.40, "DCH": 0.35}  # 5.4.3.4.1(2), 5.5.3.4.1(2)


@clause("EN 1998-1:2004, 5.4.3.4.1(2), 5.5.3.4.1(2)", formula="N_Ed/(A_c f_cd); 0.40 or less of DCM, 0.35 of DCH")
def nu_d(N_Ed: Any, A_c: Any, f_cd: Any) -> Any:
    """Normalised axial force.

    Parameters
    ----------
    N_Ed : float or ndarray
        Axial force in the seismic situation, compression positive [N].
    A_c : float or ndarray
        Area of the section [mm2].
    f_cd : float or ndarray
        Design strength of the concrete [MPa].

    Returns
    -------
    nu_d : float or ndarray
        Ratio [-].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.1(2), 5.5.3.4.1(2).

    Examples
    --------
    >>> round(nu_d(15.3e6, 2.16e6, 70 / 3), 4)
    0.3036
    """
    return N_Ed / (A_c * f_cd)


@clause(
    "EN 1998-1:2004, 5.4.3.4.2(1)P, (5.19), (5.20)",
    formula="max(l_w, h_w/6), up to 2 l_w and h_s of up to 6 storeys, 2 h_s of more",
)
def h_cr(l_w: Any, h_w: Any, h_s: Any, storeys: Any) -> Any:
    """Height of the critical region above the base.

    Parameters
    ----------
    l_w, h_w : float or ndarray
        Length and height of the wall [mm].
    h_s : float or ndarray
        Clear height of the storey [mm].
    storeys : float or ndarray
        Number of storeys [-].

    Returns
    -------
    h_cr : float or ndarray
        Height [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(1)P, (5.19), (5.20).

    Examples
    --------
    >>> float(h_cr(5600.0, 47e3, 2900.0, 13))
    5800.0
    """
    most = np.minimum(2.0 * np.asarray(l_w), np.where(np.asarray(storeys) <= 6, 1.0, 2.0) * h_s)
    return np.minimum(np.maximum(l_w, np.asarray(h_w) / 6.0), most)


@clause("EN 1998-1:2004, 5.4.3.4.2(4)", formula="rho_v f_yd,v/f_cd")
def omega_v(rho_v: Any, f_yd: Any, f_cd: Any) -> Any:
    """Mechanical ratio of the vertical web bars.

    Parameters
    ----------
    rho_v : float or ndarray
        Their ratio [-].
    f_yd, f_cd : float or ndarray
        Design strengths of bars and concrete [MPa].

    Returns
    -------
    omega_v : float or ndarray
        Ratio [-].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(4).

    Examples
    --------
    >>> round(omega_v(0.0025, 434.782609, 50 / 3), 4)
    0.0652
    """
    return rho_v * f_yd / f_cd


@clause("EN 1998-1:2004, 5.4.3.4.2(5)a, (5.21)", formula="(nu_d + omega_v) l_w b_c/b_0")
def x_u(nu_d: Any, omega_v: Any, l_w: Any, b_c: Any, b_0: Any) -> Any:
    """Depth of the neutral axis at the ultimate curvature.

    Parameters
    ----------
    nu_d, omega_v : float or ndarray
        Normalised axial force, ratio of the vertical web bars [-].
    l_w : float or ndarray
        Length of the wall [mm].
    b_c, b_0 : float or ndarray
        Gross width, and that of the confined core [mm].

    Returns
    -------
    x_u : float or ndarray
        Depth [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(5)a, (5.21).

    Examples
    --------
    >>> round(float(x_u(0.340968, 0.065217, 6200.0, 300.0, 230.0)))
    3285
    """
    return (np.asarray(nu_d) + omega_v) * l_w * b_c / b_0


@clause(
    "EN 1998-1:2004, 5.4.3.4.2(6)",
    formula="x_u (1 - eps_cu2/eps_cu2,c), eps_cu2 = 0.0035; max(0.15 l_w, 1.5 b_w) or more",
)
def l_c(x_u: Any, eps_cu2_c: Any, l_w: Any, b_w: Any) -> Any:
    """Length of a boundary element from the hoop at the compressed edge.

    Parameters
    ----------
    x_u : float or ndarray
        Depth of the neutral axis [mm].
    eps_cu2_c : float or ndarray
        Ultimate strain of the confined concrete [-].
    l_w, b_w : float or ndarray
        Length and thickness of the wall [mm].

    Returns
    -------
    l_c : float or ndarray
        Length [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(6).

    Examples
    --------
    >>> float(l_c(1012.08, 0.0099008, 4400.0, 400.0))
    660.0
    """
    spalls = np.asarray(x_u) * (1.0 - EPS_CU2 / np.asarray(eps_cu2_c))
    return np.maximum(spalls, np.maximum(0.15 * np.asarray(l_w), 1.5 * np.asarray(b_w)))


@clause(
    "EN 1998-1:2004, 5.4.3.4.2(10), figure 5.10",
    formula="200 mm; h_s/15, or h_s/10 where l_c > max(2 b_w, 0.2 l_w)",
)
def b_w_boundary(l_c: Any, b_w: Any, l_w: Any, h_s: Any) -> Any:
    """Minimum thickness of a boundary element.

    Parameters
    ----------
    l_c : float or ndarray
        Its length [mm].
    b_w, l_w : float or ndarray
        Thickness and length of the wall [mm].
    h_s : float or ndarray
        Clear height of the storey [mm].

    Returns
    -------
    b_w_boundary : float or ndarray
        Thickness [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(10), figure 5.10.

    Examples
    --------
    >>> float(b_w_boundary(2711.1, 300.0, 6200.0, 4000.0)), round(float(b_w_boundary(660.0, 400.0, 4400.0, 4400.0)), 1)
    (400.0, 293.3)
    """
    long = np.asarray(l_c) > np.maximum(2.0 * np.asarray(b_w), 0.2 * np.asarray(l_w))
    return np.maximum(200.0, np.asarray(h_s) / np.where(long, 10.0, 15.0))


@clause("EN 1998-1:2004, 5.4.3.4.2(8)", formula="0.005 l_c b_w")
def A_s_boundary(l_c: Any, b_w: Any) -> Any:
    """Minimum area of the vertical bars of a boundary element.

    Parameters
    ----------
    l_c, b_w : float or ndarray
        Its length and thickness [mm].

    Returns
    -------
    A_s_boundary : float or ndarray
        Area [mm2].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(8).

    Examples
    --------
    >>> A_s_boundary(1000.0, 300.0)
    1500.0
    """
    return RHO_BOUNDARY * l_c * b_w


@clause("EN 1998-1:2004, 5.4.3.4.2(7)", formula="b_f >= h_s/15 and l_f >= h_s/5")
def no_boundary_in_flange(b_f: Any, l_f: Any, h_s: Any) -> Any:
    """Whether a flange takes the place of a boundary element.

    Parameters
    ----------
    b_f, l_f : float or ndarray
        Thickness and width of the flange [mm].
    h_s : float or ndarray
        Clear height of the storey [mm].

    Returns
    -------
    no_boundary_in_flange : bool or ndarray
        Whether it does [-].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(7).

    Examples
    --------
    >>> bool(no_boundary_in_flange(250.0, 1000.0, 3300.0)), bool(no_boundary_in_flange(190.0, 1150.0, 3300.0))
    (True, False)
    """
    return (np.asarray(b_f) >= np.asarray(h_s) / 15.0) & (np.asarray(l_f) >= np.asarray(h_s) / 5.0)


@clause("EN 1998-1:2004, 5.4.3.4.2(12)", formula="nu_d <= 0.15, or 0.20 with q less by 15 percent")
def no_confinement(nu_d: Any, q_reduced: Any) -> Any:
    """Whether the ties of EN 1992-1-1 are enough in a boundary element.

    Parameters
    ----------
    nu_d : float or ndarray
        Normalised axial force [-].
    q_reduced : float or ndarray
        Whether the behaviour factor is less by 15 percent [-].

    Returns
    -------
    no_confinement : bool or ndarray
        Whether they are [-].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.2(12).

    Examples
    --------
    >>> bool(no_confinement(0.16, False)), bool(no_confinement(0.16, True))
    (False, True)
    """
    return np.asarray(nu_d) <= np.where(q_reduced, 0.20, 0.15)


@clause(
    "EN 1998-1:2004, 5.4.3.4.1(4)",
    formula="min(actual, half of the distance to the next web, 0.25 of the height above)",
)
def flange_width(actual: Any, half_distance: Any, h_above: Any) -> Any:
    """Effective width of a flange on one side of a web.

    Parameters
    ----------
    actual : float or ndarray
        Width of the flange from the face of the web [mm].
    half_distance : float or ndarray
        Half of the distance to the next web [mm].
    h_above : float or ndarray
        Height of the wall above the section [mm].

    Returns
    -------
    flange_width : float or ndarray
        Width [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.4.1(4).

    Examples
    --------
    >>> float(flange_width(800.0, 3400.0, 33e3))
    800.0
    """
    return np.minimum(np.minimum(actual, half_distance), 0.25 * np.asarray(h_above))
