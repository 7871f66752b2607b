"""ACI 318-19, 22.6 and 8.4.4: moment carried by shear, shear reinforcement and minimum bars over columns (SI units)."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("ACI 318-19, 8.4.2.2.2, 8.4.4.2.2", formula="gamma_v = 1 - 1 / (1 + 2/3 (b_1/b_2)^(1/2))")
def gamma_v(b_1: Any, b_2: Any) -> Any:
    """Part of the unbalanced moment that eccentricity of shear carries.

    Parameters
    ----------
    b_1, b_2 : float or ndarray
        Sizes of the critical section along the eccentricity and across it [mm].

    Returns
    -------
    gamma_v : float or ndarray
        Part [-].

    References
    ----------
    ACI 318-19, 8.4.2.2.2 and 8.4.4.2.2; IS 456:2000, 31.3.3 and 31.6.2.2 have the same.

    Examples
    --------
    >>> round(float(gamma_v(600.0, 600.0)), 3)
    0.4
    """
    return 1.0 - 1.0 / (1.0 + 2.0 / 3.0 * np.sqrt(b_1 / b_2))


@clause("ACI 318-19, Table 22.6.6.1, 22.6.6.3", formula="stirrups 0.17, 0.5; studs 0.25, 0.66, times f_c'^(1/2)")
def v_c_reinforced(v_c: Any, lambda_s: Any, root_f_c: Any, *, studs: bool = False) -> Any:
    """Concrete's share with two-way shear reinforcement, and the maximum stress with it.

    Parameters
    ----------
    v_c : float or ndarray
        Strength without reinforcement by Table 22.6.5.2 [MPa].
    lambda_s : float or ndarray
        Size effect factor [-].
    root_f_c : float or ndarray
        Square root of f_c' [MPa^(1/2)].
    studs : bool
        Headed studs, or stirrups [-].

    Returns
    -------
    share : float or ndarray
        Nominal stress of the concrete [MPa].
    maximum : float or ndarray
        Maximum nominal stress of the section [MPa].

    References
    ----------
    ACI 318-19 (SI), Table 22.6.6.1, with lambda_s of 22.5.5.1.3, and Table 22.6.6.3.

    Examples
    --------
    >>> [round(float(v), 3) for v in v_c_reinforced(1.65, 1.0, 5.0, studs=True)]
    [1.25, 3.3]
    """
    if studs:
        return np.minimum(0.25 * lambda_s * root_f_c, v_c), 0.66 * root_f_c
    return np.minimum(0.17 * lambda_s * root_f_c, v_c), 0.5 * root_f_c


@clause("ACI 318-19, 22.6.7.2, 22.6.8.2", formula="A_v = (v_u/phi - v_c) b_o s / f_yt")
def A_v_punching(v_u: Any, v_c: Any, b_o: Any, s: Any, f_yt: Any, *, phi: Any = 0.75) -> Any:
    """Area of one perimeter of two-way shear reinforcement.

    Parameters
    ----------
    v_u, v_c : float or ndarray
        Factored stress and the concrete's share [MPa].
    b_o, s : float or ndarray
        Critical section and spacing of the perimeters of reinforcement [mm].
    f_yt : float or ndarray
        Yield strength of the reinforcement [MPa].
    phi : float
        Strength reduction factor of shear [-].

    Returns
    -------
    A_v : float or ndarray
        Area [mm2].

    References
    ----------
    ACI 318-19, 22.6.7.2 and 22.6.8.2 with 8.5.1.1(d).

    Examples
    --------
    >>> round(float(A_v_punching(1.5, 0.8, 2400.0, 100.0, 420.0)), 1)
    685.7
    """
    return np.maximum(v_u / phi - v_c, 0.0) * b_o * s / f_yt


@clause(
    "ACI 318-19, 8.6.1.2",
    formula="A_s,min = 5 v_uv b_slab b_o / (phi alpha_s f_y) where v_uv > phi 0.17 lambda_s f_c'^(1/2)",
)
def A_s_column(
    v_uv: Any, b_slab: Any, b_o: Any, alpha_s: Any, f_y: Any, lambda_s: Any, root_f_c: Any, *, phi: Any = 0.75
) -> Any:
    """Minimum tension steel in the slab width b_slab over a column.

    Parameters
    ----------
    v_uv : float or ndarray
        Factored stress of the force alone, without the moment [MPa].
    b_slab, b_o : float or ndarray
        Width of the column and 1.5 h on both sides; critical section [mm].
    alpha_s : float or ndarray
        40 inside, 30 at an edge, 20 at a corner [-].
    f_y : float or ndarray
        Yield strength of the bars [MPa].
    lambda_s : float or ndarray
        Size effect factor [-].
    root_f_c : float or ndarray
        Square root of f_c' [MPa^(1/2)].
    phi : float
        Strength reduction factor of shear [-].

    Returns
    -------
    A_s_column : float or ndarray
        Area [mm2]; zero where the stress is small.

    References
    ----------
    ACI 318-19 (SI), 8.6.1.2 and 8.4.2.2.3.

    Examples
    --------
    >>> round(float(A_s_column(1.0, 1000.0, 2400.0, 40.0, 420.0, 1.0, 5.0)), 1)
    952.4
    """
    needed = v_uv > phi * 0.17 * lambda_s * root_f_c
    return np.where(needed, 5.0 * v_uv * b_slab * b_o / (phi * alpha_s * f_y), 0.0)
