"""ACI 318-14: clauses whose values differ from those of ACI 318-19 (SI constants)."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

CONTROLLED: Final = 0.005  # net tensile strain of tension-controlled sections, Table 21.2.2
F_YT: Final = 420.0  # MPa, of bars in shear, Table 20.2.2.4a
F_Y_SPECIAL: Final = 420.0  # MPa, of bars of special walls, Table 20.2.2.4a
DEPTH: Final = 0.8  # d over l_w of walls, 11.5.4.2
V_MOST: Final = 0.83  # of f_c'^(1/2) h d, 11.5.4.3
TRANSFER: Final = (0.004, 0.010)  # minimum strains of Table 8.4.2.3.4, across edges and at corners, else
HEAD_COVER, HEAD_CLEAR, HEAD_MOST = 2.0, 4.0, 36.0  # diameters of cover and between bars, mm: 25.4.4.1
F_Y_HEADED = 420.0  # MPa


@clause(
    "ACI 318-14, 22.5.5.1, 22.5.6.1, 22.5.7.1",
    formula="v_c = 0.17 (1 + N_u/(14 A_g)) f_c'^(1/2) d; in tension N_u/(3.5 A_g), 0 or more",
)
def v_c(d: Any, root_f_c: Any, sigma: Any) -> Any:
    """One-way shear strength without shear reinforcement, per unit width.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].
    root_f_c : float or ndarray
        Root of the strength of the concrete [MPa].
    sigma : float or ndarray
        N_u/A_g, compression positive [MPa].

    Returns
    -------
    v_c : float or ndarray
        Nominal strength [N/mm].

    References
    ----------
    ACI 318-14, 22.5.5.1, 22.5.6.1, 22.5.7.1.

    Examples
    --------
    >>> [round(float(v_c(200.0, 5.0, s)), 6) for s in (0.0, 1.4, -3.5)]
    [170.0, 187.0, 0.0]
    """
    sigma = np.asarray(sigma, dtype=float)
    axial = np.where(sigma < 0.0, sigma / 3.5, sigma / 14.0)
    return np.maximum(0.17 * (1.0 + axial), 0.0) * root_f_c * d


@clause(
    "ACI 318-14, 7.6.1.1, 8.6.1.1, Table 24.4.3.2",
    formula="0.0020 h below 420 MPa, else max(0.0018 420/f_y, 0.0014) h",
)
def a_s_min_slab(h: Any, f_y: Any) -> Any:
    """Minimum steel of a slab in one direction, both faces together.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    a_s_min_slab : float or ndarray
        Area [mm2/mm].

    References
    ----------
    ACI 318-14, 7.6.1.1, 8.6.1.1, Table 24.4.3.2.

    Examples
    --------
    >>> round(float(a_s_min_slab(250.0, 420.0)), 4), round(float(a_s_min_slab(250.0, 500.0)), 4)
    (0.45, 0.378)
    """
    f_y = np.asarray(f_y, dtype=float)
    return np.where(f_y < 420.0, 0.0020, np.maximum(0.0018 * 420.0 / f_y, 0.0014)) * h


@clause(
    "ACI 318-14, 21.2.2, Table 21.2.2",
    formula="0.65 + 0.25 (eps_t - eps_ty)/(0.005 - eps_ty), 0.65 to 0.90; eps_ty = f_y/E_s",
)
def phi(eps_t: Any, f_y: Any, E_s: Any) -> Any:
    """Strength reduction factor of moment with axial force, with ties.

    Parameters
    ----------
    eps_t : float or ndarray
        Net tensile strain of the extreme bar, tension positive [-].
    f_y : float or ndarray
        Yield strength [MPa].
    E_s : float or ndarray
        Modulus of the bars [MPa].

    Returns
    -------
    phi : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-14, 21.2.2, Table 21.2.2.

    Examples
    --------
    >>> round(float(phi(0.0036, 440.0, 200e3)), 9), float(phi(0.005, 440.0, 200e3))
    (0.775, 0.9)
    """
    eps_ty = np.asarray(f_y) / E_s
    part = np.clip((np.asarray(eps_t) - eps_ty) / np.maximum(CONTROLLED - eps_ty, 1e-9), 0.0, 1.0)
    return 0.65 + 0.25 * part


@clause(
    "ACI 318-14, 11.5.4.5, Table 11.5.4.6 (a) and (b) simplified",
    formula="0.17 f_c'^(1/2) h d; in tension 0.17 (1 + 0.29 N_u/A_g) f_c'^(1/2) h d, 0 or more; d = 0.8 l_w",
)
def V_c(N_u: Any, A_g: Any, root_f_c: Any) -> Any:
    """Shear strength of the concrete of a wall in its plane.

    Parameters
    ----------
    N_u : float or ndarray
        Axial force, tension negative [N].
    A_g : float or ndarray
        Gross area [mm2].
    root_f_c : float or ndarray
        Root of the strength of the concrete [MPa].

    Returns
    -------
    V_c : float or ndarray
        Nominal strength [N].

    References
    ----------
    ACI 318-14, 11.5.4.5, Table 11.5.4.6 (a) and (b) simplified.

    Examples
    --------
    >>> round(float(V_c(-500e3, 1e6, 5.0))), round(float(V_c(500e3, 1e6, 5.0)))
    (581400, 680000)
    """
    stress = np.minimum(np.asarray(N_u, dtype=float) / A_g, 0.0)
    return np.maximum(0.17 * (1.0 + 0.29 * stress), 0.0) * root_f_c * DEPTH * np.asarray(A_g)


@clause("ACI 318-14, 11.5.4.8, (11.5.4.8)", formula="V_s = A_v f_yt d/s, d = 0.8 l_w")
def V_s(rho_t: Any, f_yt: Any, A_g: Any) -> Any:
    """Shear strength of the horizontal bars of a wall in its plane.

    Parameters
    ----------
    rho_t : float or ndarray
        Ratio of the horizontal bars [-].
    f_yt : float or ndarray
        Their yield strength, 420 at most [MPa].
    A_g : float or ndarray
        Thickness times length [mm2].

    Returns
    -------
    V_s : float or ndarray
        Nominal strength [N].

    References
    ----------
    ACI 318-14, 11.5.4.8, (11.5.4.8).

    Examples
    --------
    >>> round(float(V_s(0.0025, 420.0, 1e6)))
    840000
    """
    return np.asarray(rho_t) * f_yt * DEPTH * A_g


@clause("ACI 318-14, 11.5.4.3", formula="0.83 f_c'^(1/2) h d, d = 0.8 l_w")
def V_n_max(root_f_c: Any, A_g: Any) -> Any:
    """Largest nominal shear strength of a wall in its plane.

    Parameters
    ----------
    root_f_c : float or ndarray
        Root of the strength of the concrete [MPa].
    A_g : float or ndarray
        Thickness times length [mm2].

    Returns
    -------
    V_n_max : float or ndarray
        Nominal strength [N].

    References
    ----------
    ACI 318-14, 11.5.4.3.

    Examples
    --------
    >>> float(V_n_max(5.0, 1e6))
    3320000.0
    """
    return V_MOST * np.asarray(root_f_c) * DEPTH * A_g


@clause("ACI 318-14, 25.4.3.1", formula="0.24 f_y d_b/f_c'^(1/2) >= 8 d_b, 150 mm")
def l_dh(f_y: Any, root_f_c: Any, d_b: Any) -> Any:
    """Development length of bars with standard hooks, to the outside of the hook.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength [MPa].
    root_f_c : float or ndarray
        Root of the strength of the concrete, 8.3 at most [MPa].
    d_b : float or ndarray
        Diameter [mm].

    Returns
    -------
    l_dh : float or ndarray
        Length without ties at the hook and with little cover beside it [mm].

    References
    ----------
    ACI 318-14, 25.4.3.1.

    Examples
    --------
    >>> float(l_dh(420.0, 5.0, 25.0))
    504.0
    """
    d_b = np.asarray(d_b, dtype=float)
    return np.maximum(np.maximum(0.24 * np.asarray(f_y) * d_b / root_f_c, 8.0 * d_b), 150.0)


@clause("ACI 318-14, 18.10.3.1", formula="V_u of the analysis for the factored load combinations")
def V_e(V_u: Any) -> Any:
    """Design shear of special walls.

    Parameters
    ----------
    V_u : float or ndarray
        Shear of the analysis [N].

    Returns
    -------
    V_e : float or ndarray
        Force [N].

    References
    ----------
    ACI 318-14, 18.10.3.1.

    Examples
    --------
    >>> float(V_e(500e3))
    500000.0
    """
    return np.asarray(V_u)


@clause("ACI 318-14, 9.7.3.3, 18.10.2.3(b)", formula="max(d, 12 d_b, l_d), d = 0.8 l_w")
def extension(l_w: Any, d_b: Any, l_d: Any) -> Any:
    """How far bars go beyond the place where they are no longer required.

    Parameters
    ----------
    l_w : float or ndarray
        Length of the wall [mm].
    d_b : float or ndarray
        Diameter [mm].
    l_d : float or ndarray
        Development length [mm].

    Returns
    -------
    extension : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-14, 9.7.3.3, 18.10.2.3(b).

    Examples
    --------
    >>> float(extension(1000.0, 16.0, 700.0))
    800.0
    """
    return np.maximum(np.maximum(DEPTH * np.asarray(l_w), 12.0 * np.asarray(d_b)), l_d)


@clause("ACI 318-14, 25.4.4.2", formula="0.19 f_y d_b/f_c'^(1/2) >= 8 d_b, 150 mm; f_c' up to 40 MPa")
def l_dt(f_y: Any, f_c: Any, d_b: Any) -> Any:
    """Development length of headed bars.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength [MPa].
    f_c : float or ndarray
        Strength of the concrete [MPa].
    d_b : float or ndarray
        Diameter [mm].

    Returns
    -------
    l_dt : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-14, 25.4.4.2.

    Examples
    --------
    >>> round(float(l_dt(420.0, 30.0, 16.0)), 1)
    233.1
    """
    d_b = np.asarray(d_b, dtype=float)
    found = 0.19 * np.asarray(f_y) * d_b / np.sqrt(np.minimum(f_c, 40.0))
    return np.maximum(np.maximum(found, 8.0 * d_b), 150.0)
