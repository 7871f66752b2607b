"""ACI 318-19, 22.7: torsion of closed hollow sections (SI constants)."""

from __future__ import annotations

from typing import Any

from sandwich.core.trace import clause


@clause("ACI 318-19, 22.7.6.1(a)", formula="T_n = 2 A_o A_t f_yt/s cot theta")
def T_n_transverse(A_o: Any, a_t: Any, f_yt: Any, cot_theta: Any) -> Any:
    """Torsion that transverse bars carry.

    Parameters
    ----------
    A_o : float or ndarray
        Area inside the shear flow, 0.85 A_oh [mm2].
    a_t : float or ndarray
        Area of one leg over its spacing [mm2/mm].
    f_yt : float or ndarray
        Its yield strength [MPa].
    cot_theta : float or ndarray
        Slope of the struts [-].

    Returns
    -------
    T_n_transverse : float or ndarray
        Nominal torsion [N mm].

    References
    ----------
    ACI 318-19, 22.7.6.1(a).

    Examples
    --------
    >>> T_n_transverse(1e6, 1.0, 420.0, 1.0)
    840000000.0
    """
    return 2.0 * A_o * a_t * f_yt * cot_theta


@clause("ACI 318-19, 22.7.6.1(b)", formula="T_n = 2 A_o A_l f_y/p_h tan theta")
def T_n_along(A_o: Any, A_l: Any, f_y: Any, p_h: Any, cot_theta: Any) -> Any:
    """Torsion that the bars along the section carry.

    Parameters
    ----------
    A_o : float or ndarray
        Area inside the shear flow, 0.85 A_oh [mm2].
    A_l : float or ndarray
        Area of all bars along it [mm2].
    f_y : float or ndarray
        Their yield strength [MPa].
    p_h : float or ndarray
        Length of the outermost transverse bars round it [mm].
    cot_theta : float or ndarray
        Slope of the struts [-].

    Returns
    -------
    T_n_along : float or ndarray
        Nominal torsion [N mm].

    References
    ----------
    ACI 318-19, 22.7.6.1(b).

    Examples
    --------
    >>> T_n_along(1e6, 8000.0, 420.0, 8000.0, 1.0)
    840000000.0
    """
    return 2.0 * A_o * A_l * f_y / p_h / cot_theta


@clause("ACI 318-19, 22.7.7.1(b), 22.7.7.2", formula="T_u/(1.7 A_oh t) where a wall is thinner than A_oh/p_h")
def torsion_stress(T_u: Any, A_oh: Any, t: Any) -> Any:
    """Shear stress of torsion in a wall of a hollow section.

    Parameters
    ----------
    T_u : float or ndarray
        Torsion [N mm].
    A_oh : float or ndarray
        Area inside the outermost transverse bars [mm2].
    t : float or ndarray
        Thickness of the thinnest wall [mm].

    Returns
    -------
    torsion_stress : float or ndarray
        Stress [MPa].

    References
    ----------
    ACI 318-19, 22.7.7.1(b), 22.7.7.2.

    Examples
    --------
    >>> round(torsion_stress(1.7e9, 1e6, 250.0), 9)
    4.0
    """
    return T_u / (1.7 * A_oh * t)
