"""ACI 318-19, 22.5 and 22.6: one-way and two-way shear, with the size effect (SI units of the standard)."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("ACI 318-19, 22.5.3.1, 22.6.3.1", formula="sqrt(f_c') <= 8.3 MPa")
def root_f_c(f_c: Any) -> Any:
    """Square root of the specified strength as shear clauses take it.

    Parameters
    ----------
    f_c : float or ndarray
        Specified cylinder strength f_c' [MPa].

    Returns
    -------
    root : float or ndarray
        Root [MPa^(1/2)].

    References
    ----------
    ACI 318-19 (SI), 22.5.3.1 and 22.6.3.1.

    Examples
    --------
    >>> float(root_f_c(83.0))
    8.3
    """
    return np.minimum(np.sqrt(f_c), 8.3)


@clause("ACI 318-19, 22.5.5.1.3", formula="lambda_s = (2 / (1 + 0.004 d))^(1/2) <= 1")
def lambda_s(d: Any) -> Any:
    """Size effect factor.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].

    Returns
    -------
    lambda_s : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19 (SI), 22.5.5.1.3.

    Examples
    --------
    >>> float(lambda_s(250.0))
    1.0
    """
    return np.minimum(np.sqrt(2.0 / (1.0 + 0.004 * d)), 1.0)


@clause("ACI 318-19, Table 22.5.5.1, 22.5.5.1.2", formula="N_u/(6 A_g) <= 0.05 f_c', compression positive")
def axial_term(sigma: Any, f_c: Any) -> Any:
    """Part of the shear strength that comes from axial force.

    Parameters
    ----------
    sigma : float or ndarray
        N_u/A_g, compression positive [MPa].
    f_c : float or ndarray
        Specified cylinder strength f_c' [MPa].

    Returns
    -------
    axial_term : float or ndarray
        Stress [MPa]; tension lowers the strength.

    References
    ----------
    ACI 318-19 (SI), Table 22.5.5.1 and 22.5.5.1.2.

    Examples
    --------
    >>> float(axial_term(12.0, 30.0))
    1.5
    """
    return np.minimum(sigma / 6.0, 0.05 * f_c)


@clause(
    "ACI 318-19, Table 22.5.5.1 (c), 22.5.5.1.1",
    formula="v_c = (0.66 lambda_s rho_w^(1/3) f_c'^(1/2) + N_u/(6 A_g)) d, from 0 to 0.42 f_c'^(1/2) d",
)
def v_c(d: Any, lambda_s: Any, rho_w: Any, root_f_c: Any, axial_term: Any = 0.0) -> Any:
    """One-way shear strength of normalweight concrete without shear reinforcement, per unit width.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].
    lambda_s, rho_w : float or ndarray
        Size effect factor, ratio of tension steel [-].
    root_f_c : float or ndarray
        Square root of f_c' [MPa^(1/2)].
    axial_term : float or ndarray
        Part of the axial force [MPa].

    Returns
    -------
    v_c : float or ndarray
        Nominal strength [N/mm].

    References
    ----------
    ACI 318-19 (SI), Table 22.5.5.1, expression (c), with lambda = 1.

    Examples
    --------
    >>> round(float(v_c(200.0, 1.0, 0.005, 5.477)), 1)
    123.6
    """
    stress = 0.66 * lambda_s * np.cbrt(rho_w) * root_f_c + axial_term
    return np.clip(stress, 0.0, 0.42 * root_f_c) * d


@clause("ACI 318-19, 22.5.1.2", formula="v_max = v_c + 0.66 f_c'^(1/2) d")
def v_max(v_c: Any, root_f_c: Any, d: Any) -> Any:
    """Maximum nominal shear of the section, whatever its links.

    Parameters
    ----------
    v_c : float or ndarray
        Strength without shear reinforcement [N/mm].
    root_f_c : float or ndarray
        Square root of f_c' [MPa^(1/2)].
    d : float or ndarray
        Effective depth [mm].

    Returns
    -------
    v_max : float or ndarray
        Nominal shear [N/mm].

    References
    ----------
    ACI 318-19 (SI), 22.5.1.2.

    Examples
    --------
    >>> round(v_max(120.0, 5.477, 200.0), 1)
    843.0
    """
    return v_c + 0.66 * root_f_c * d


@clause("ACI 318-19, 22.5.8.5.3", formula="a_v = (v_u/phi - v_c) / (f_yt d)")
def a_v(v_u: Any, v_c: Any, f_yt: Any, d: Any, *, phi: Any = 0.75) -> Any:
    """Vertical links that a shear force asks for, over the area of the plan.

    Parameters
    ----------
    v_u, v_c : float or ndarray
        Factored shear and strength without links [N/mm].
    f_yt : float or ndarray
        Yield strength of the links [MPa].
    d : float or ndarray
        Effective depth [mm].
    phi : float
        Strength reduction factor of shear [-].

    Returns
    -------
    a_v : float or ndarray
        Area of links over area of plan [-].

    References
    ----------
    ACI 318-19, 22.5.8.1 and 22.5.8.5.3; Table 21.2.1(b).

    Examples
    --------
    >>> round(float(a_v(180.0, 120.0, 420.0, 200.0)), 5)
    0.00143
    """
    return np.maximum(v_u / phi - v_c, 0.0) / (f_yt * d)


@clause("ACI 318-19, 9.6.3.4", formula="a_v,min = max(0.062 f_c'^(1/2), 0.35) / f_yt")
def a_v_min(f_c: Any, f_yt: Any) -> Any:
    """Minimum links where links are asked for, over the area of the plan.

    Parameters
    ----------
    f_c : float or ndarray
        Specified cylinder strength f_c' [MPa], without the limit of 22.5.3.1 on its root.
    f_yt : float or ndarray
        Yield strength of the links [MPa].

    Returns
    -------
    a_v_min : float or ndarray
        Area of links over area of plan [-].

    References
    ----------
    ACI 318-19 (SI), 9.6.3.4 and 22.5.3.2.

    Examples
    --------
    >>> round(float(a_v_min(90.0, 420.0)), 5)
    0.0014
    """
    return np.maximum(0.062 * np.sqrt(f_c), 0.35) / f_yt


@clause(
    "ACI 318-19, Table 22.6.5.2",
    formula="v_c = minimum of 0.33, 0.17 (1 + 2/beta), 0.083 (2 + alpha_s d/b_o), times lambda_s f_c'^(1/2)",
)
def v_c_punching(d: Any, lambda_s: Any, root_f_c: Any, beta: Any, b_o: Any, alpha_s: Any = 40.0) -> Any:
    """Two-way shear strength of normalweight concrete without shear reinforcement.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].
    lambda_s : float or ndarray
        Size effect factor [-].
    root_f_c : float or ndarray
        Square root of f_c' [MPa^(1/2)].
    beta : float or ndarray
        Long over short side of the column [-].
    b_o : float or ndarray
        Perimeter of the critical section [mm].
    alpha_s : float or ndarray
        40 inside, 30 at an edge, 20 at a corner [-].

    Returns
    -------
    v_c_punching : float or ndarray
        Nominal stress [MPa].

    References
    ----------
    ACI 318-19 (SI), Table 22.6.5.2 and 22.6.5.3, with lambda = 1.

    Examples
    --------
    >>> round(float(v_c_punching(200.0, 1.0, 5.0, 1.0, 2400.0)), 3)
    1.65
    """
    first = np.minimum(0.33, 0.17 * (1.0 + 2.0 / beta))
    return np.minimum(first, 0.083 * (2.0 + alpha_s * d / b_o)) * lambda_s * root_f_c
