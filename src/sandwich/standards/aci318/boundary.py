"""ACI 318-19, 18.10.6: boundary elements of special structural walls (SI constants)."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

DRIFT_MIN: Final = 0.005  # 18.10.6.2(a)
DRIFT_CAPACITY_MIN: Final = 0.015  # 18.10.6.2(b)(iii)


@clause("ACI 318-19, 18.10.6.2(a)", formula="delta_u/h_wcs, 0.005 or more")
def design_drift(delta_u: Any, h_wcs: Any) -> Any:
    """Drift that the displacement trigger takes.

    Parameters
    ----------
    delta_u : float or ndarray
        Design displacement at the top [mm].
    h_wcs : float or ndarray
        Height above the critical section [mm].

    Returns
    -------
    design_drift : float or ndarray
        Ratio [-].

    References
    ----------
    ACI 318-19, 18.10.6.2(a).

    Examples
    --------
    >>> float(design_drift(100.0, 30_000.0))
    0.005
    """
    return np.maximum(np.asarray(delta_u) / h_wcs, DRIFT_MIN)


@clause("ACI 318-19, 18.10.6.2(a), (18.10.6.2a)", formula="1.5 delta_u/h_wcs >= l_w/(600 c): c = l_w/(900 drift)")
def c_displacement(l_w: Any, drift: Any) -> Any:
    """Depth of the neutral axis from which a special boundary element is needed, by displacement.

    Parameters
    ----------
    l_w : float or ndarray
        Length of the wall [mm].
    drift : float or ndarray
        By `design_drift` [-].

    Returns
    -------
    c_displacement : float or ndarray
        Depth [mm].

    References
    ----------
    ACI 318-19, 18.10.6.2(a).

    Examples
    --------
    >>> c_displacement(4500.0, 0.01)
    500.0
    """
    return l_w / (900.0 * drift)


@clause("ACI 318-19, 18.10.6.2(b)(i)", formula="max(l_w, M_u/(4 V_u))")
def confined_extent(l_w: Any, M_u: Any, V_u: Any) -> Any:
    """How far confinement goes on above and below the critical section.

    Parameters
    ----------
    l_w : float or ndarray
        Length of the wall [mm].
    M_u, V_u : float or ndarray
        Factored moment [N mm] and shear [N] at the critical section.

    Returns
    -------
    confined_extent : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 18.10.6.2(b)(i), Table 18.10.6.5(b).

    Examples
    --------
    >>> float(confined_extent(5000.0, 48e9, 2e6))
    6000.0
    """
    return np.maximum(l_w, np.asarray(M_u) / (4.0 * np.asarray(V_u)))


@clause("ACI 318-19, 18.10.6.2(b)(ii)", formula="b = (0.025 c l_w)^(1/2)")
def b_drift(c: Any, l_w: Any) -> Any:
    """Width from which the drift capacity need not be shown.

    Parameters
    ----------
    c, l_w : float or ndarray
        Depth of the neutral axis and length of the wall [mm].

    Returns
    -------
    b_drift : float or ndarray
        Width [mm].

    References
    ----------
    ACI 318-19, 18.10.6.2(b)(ii).

    Examples
    --------
    >>> float(b_drift(1210.0, 3600.0))
    330.0
    """
    return np.sqrt(0.025 * np.asarray(c) * l_w)


@clause(
    "ACI 318-19, 18.10.6.2(b)(iii), (18.10.6.2b)",
    formula="(4 - (l_w/b)(c/b)/50 - V_e/(0.66 f_c'^(1/2) A_cv))/100, 0.015 or more",
)
def drift_capacity(c: Any, b: Any, l_w: Any, V_e: Any, root_f_c: Any, A_cv: Any) -> Any:
    """Drift capacity of a wall with special boundary elements.

    Parameters
    ----------
    c, b, l_w : float or ndarray
        Depth of the neutral axis, width of the compressed edge, length of the wall [mm].
    V_e : float or ndarray
        Design shear [N].
    root_f_c : float or ndarray
        Square root of f_c' [MPa].
    A_cv : float or ndarray
        Thickness times length [mm2].

    Returns
    -------
    drift_capacity : float or ndarray
        delta_c/h_wcs [-].

    References
    ----------
    ACI 318-19, 18.10.6.2(b)(iii).

    Examples
    --------
    >>> round(float(drift_capacity(1210.0, 500.0, 3600.0, 6279e3, 35.0**0.5, 1.8e6)), 5)
    0.02758
    """
    slender = np.asarray(l_w) / b * (np.asarray(c) / b) / 50.0
    capacity = (4.0 - slender - np.asarray(V_e) / (0.66 * root_f_c * A_cv)) / 100.0
    return np.maximum(capacity, DRIFT_CAPACITY_MIN)


@clause("ACI 318-19, 18.10.6.3", formula="sigma = P_u/A_g + M_u/S of the gross section")
def edge_stress(P_u: Any, M_u: Any, A_g: Any, S: Any) -> Any:
    """Largest compressive stress of the gross section.

    Parameters
    ----------
    P_u : float or ndarray
        Axial force, compression positive [N].
    M_u : float or ndarray
        Moment [N mm].
    A_g : float or ndarray
        Area [mm2].
    S : float or ndarray
        Section modulus of the compressed edge [mm3].

    Returns
    -------
    edge_stress : float or ndarray
        Stress [MPa].

    References
    ----------
    ACI 318-19, 18.10.6.3.

    Examples
    --------
    >>> edge_stress(1e6, 1e9, 1e6, 1e9)
    2.0
    """
    return P_u / A_g + M_u / S


@clause("ACI 318-19, 18.10.6.3", formula="needed from 0.2 f_c', ended below 0.15 f_c'")
def stress_limits(f_c: Any) -> Any:
    """Stresses from which a special boundary element is needed, and below which it may end.

    Parameters
    ----------
    f_c : float or ndarray
        Cylinder strength [MPa].

    Returns
    -------
    stress_limits : ndarray
        Both [MPa].

    References
    ----------
    ACI 318-19, 18.10.6.3.

    Examples
    --------
    >>> stress_limits(28.0).round(2).tolist()
    [5.6, 4.2]
    """
    return np.stack([0.2 * np.asarray(f_c), 0.15 * np.asarray(f_c)])


@clause("ACI 318-19, 18.10.6.4(a)", formula="max(c - 0.1 l_w, c/2)")
def l_be(c: Any, l_w: Any) -> Any:
    """Length of a special boundary element from the compressed edge.

    Parameters
    ----------
    c, l_w : float or ndarray
        Largest depth of the neutral axis and length of the wall [mm].

    Returns
    -------
    l_be : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 18.10.6.4(a).

    Examples
    --------
    >>> float(l_be(1310.0, 4100.0))
    900.0
    """
    return np.maximum(np.asarray(c) - 0.1 * np.asarray(l_w), np.asarray(c) / 2.0)


@clause("ACI 318-19, 18.10.6.4(b), (c)", formula="h_u/16; 300 mm where h_w/l_w >= 2.0 and c/l_w >= 3/8")
def b_min(h_u: Any, h_w: Any, l_w: Any, c: Any) -> Any:
    """Minimum width of the compressed zone.

    Parameters
    ----------
    h_u : float or ndarray
        Laterally unsupported height at the edge [mm].
    h_w, l_w, c : float or ndarray
        Height and length of the wall, depth of the neutral axis [mm].

    Returns
    -------
    b_min : float or ndarray
        Width [mm].

    References
    ----------
    ACI 318-19, 18.10.6.4(b) and (c).

    Examples
    --------
    >>> float(b_min(3200.0, 20e3, 4e3, 1000.0)), float(b_min(3200.0, 20e3, 4e3, 1500.0))
    (200.0, 300.0)
    """
    deep = (np.asarray(h_w) / l_w >= 2.0) & (np.asarray(c) / l_w >= 3.0 / 8.0)
    return np.maximum(np.asarray(h_u) / 16.0, np.where(deep, 300.0, 0.0))


@clause("ACI 318-19, 18.10.6.4(d)", formula="the effective flange, and 300 mm or more into the web")
def l_web_of_flanged(l_be: Any, t_f: Any) -> Any:
    """Length of a boundary element into the web of a flanged section, from the face of the flange.

    Parameters
    ----------
    l_be : float or ndarray
        Length by 18.10.6.4(a) from the compressed edge [mm].
    t_f : float or ndarray
        Thickness of the flange [mm].

    Returns
    -------
    l_web_of_flanged : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 18.10.6.4(d).

    Examples
    --------
    >>> float(l_web_of_flanged(450.0, 250.0))
    300.0
    """
    return np.maximum(np.asarray(l_be) - t_f, 300.0)
