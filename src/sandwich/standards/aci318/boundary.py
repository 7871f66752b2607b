"""ACI 318-19, 18.10.6: boundary elements of special structural walls (SI constants)."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

DRIFT_MIN: Final = 0.005  # 18.10.6.2(a)
DRIFT_CAPACITY_MIN: Final = 0.015  # 18.10.6.2(b)(iii)
TIES: Final = {  # Table 18.10.6.5(b): diameters and mm, near the critical section and elsewhere
    420: ((6.0, 150.0), (8.0, 200.0)),
    550: ((5.0, 150.0), (6.0, 150.0)),
    690: ((4.0, 150.0), (6.0, 150.0)),
}


def grade_of(f_y: float) -> int:
    """Grade of the bars that a table goes by: 420, 550 or 690; the next one above.

    Raises
    ------
    ValueError
        If it is above 690 MPa.
    """
    for grade in TIES:
        if f_y <= grade + 1e-9:
            return grade
    raise ValueError(f"f_y = {f_y:g} MPa; ACI 318-19 knows bars up to 690 MPa here")


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


@clause("ACI 318-19, 18.7.5.2(e), 18.10.6.4(e)", formula="h_x <= min(350, 2 b/3)")
def h_x_max(b: Any) -> Any:
    """Largest distance between bars that are held by ties, along the boundary element.

    Parameters
    ----------
    b : float or ndarray
        Its width [mm].

    Returns
    -------
    h_x_max : float or ndarray
        Distance [mm].

    References
    ----------
    ACI 318-19, 18.10.6.4(e).

    Examples
    --------
    >>> float(h_x_max(300.0))
    200.0
    """
    return np.minimum(350.0, 2.0 * np.asarray(b) / 3.0)


@clause("ACI 318-19, 18.7.5.3(d), (18.7.5.3)", formula="s_o = 100 + (350 - h_x)/3, 100 to 150")
def s_o(h_x: Any) -> Any:
    """Spacing of ties by the distance between the bars they hold.

    Parameters
    ----------
    h_x : float or ndarray
        Distance [mm].

    Returns
    -------
    s_o : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, 18.7.5.3(d).

    Examples
    --------
    >>> float(s_o(290.0))
    120.0
    """
    return np.clip(100.0 + (350.0 - np.asarray(h_x)) / 3.0, 100.0, 150.0)


@clause("ACI 318-19, 18.7.5.3, 18.10.6.4(f)", formula="min(b/3, s_o, 6, 5 or 4 d_b by grade 420, 550, 690)")
def s_special(b: Any, d_b: Any, grade: int, h_x: Any) -> Any:
    """Largest spacing of the ties of a special boundary element.

    Parameters
    ----------
    b : float or ndarray
        Its least dimension [mm].
    d_b : float or ndarray
        Smallest diameter of its bars [mm].
    grade : int
        420, 550 or 690.
    h_x : float or ndarray
        Distance between bars that are held [mm].

    Returns
    -------
    s_special : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, 18.7.5.3, 18.10.6.4(e) and (f).

    Examples
    --------
    >>> float(s_special(300.0, 16.0, 420, 350.0))
    96.0
    """
    times = TIES[grade][0][0]
    return np.minimum(np.minimum(np.asarray(b) / 3.0, times * np.asarray(d_b)), s_o(h_x))


@clause(
    "ACI 318-19, Table 18.10.6.5(b)",
    formula="420: 6 d_b, 150; 8 d_b, 200 elsewhere; 550: 5; 6 d_b, 150; 690: 4; 6 d_b, 150",
)
def s_table(d_b: Any, grade: int, near: Any) -> Any:
    """Largest spacing of ties in the ends of a wall, near the critical section and elsewhere.

    Parameters
    ----------
    d_b : float or ndarray
        Smallest diameter of the bars [mm].
    grade : int
        420, 550 or 690.
    near : bool or ndarray
        Whether within `confined_extent` of the critical section.

    Returns
    -------
    s_table : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, Table 18.10.6.5(b).

    Examples
    --------
    >>> float(s_table(20.0, 420, True)), float(s_table(20.0, 420, False))
    (120.0, 160.0)
    """
    (close, most), (far, most_far) = TIES[grade]
    return np.where(near, np.minimum(close * np.asarray(d_b), most), np.minimum(far * np.asarray(d_b), most_far))


@clause("ACI 318-19, Table 18.10.6.4(g)", formula="A_sh/(s b_c) = max(0.3 (A_g/A_ch - 1) f_c'/f_yt, 0.09 f_c'/f_yt)")
def rho_ties(A_g: Any, A_ch: Any, f_c: Any, f_yt: Any) -> Any:
    """Ratio of the ties of a special boundary element, each way.

    Parameters
    ----------
    A_g, A_ch : float or ndarray
        Its gross area and that to the outside of the ties [mm2].
    f_c, f_yt : float or ndarray
        Strengths [MPa].

    Returns
    -------
    rho_ties : float or ndarray
        A_sh over s b_c [-].

    References
    ----------
    ACI 318-19, Table 18.10.6.4(g).

    Examples
    --------
    >>> float(rho_ties(475e3, 373.8e3, 35.0, 420.0))
    0.0075
    """
    more = np.asarray(A_g) / A_ch - 1.0
    return np.maximum(0.3 * more, 0.09) * f_c / f_yt


@clause("ACI 318-19, Table 18.10.6.4(g)", formula="rho_s = max(0.45 (A_g/A_ch - 1) f_c'/f_yt, 0.12 f_c'/f_yt)")
def rho_spiral(A_g: Any, A_ch: Any, f_c: Any, f_yt: Any) -> Any:
    """Volumetric ratio of spirals or circular hoops of a special boundary element.

    Parameters
    ----------
    A_g, A_ch : float or ndarray
        Its gross area and that to the outside of the spiral [mm2].
    f_c, f_yt : float or ndarray
        Strengths [MPa].

    Returns
    -------
    rho_spiral : float or ndarray
        Ratio [-].

    References
    ----------
    ACI 318-19, Table 18.10.6.4(g).

    Examples
    --------
    >>> round(float(rho_spiral(475e3, 373.8e3, 35.0, 420.0)), 5)
    0.01015
    """
    more = np.asarray(A_g) / A_ch - 1.0
    return np.maximum(0.45 * more, 0.12) * f_c / f_yt


@clause("ACI 318-19, 18.10.6.5(b)", formula="ties where rho > 2.8/f_y")
def rho_untied(f_y: Any) -> Any:
    """Ratio of the bars of an end up to which it needs no ties.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    rho_untied : float or ndarray
        Ratio [-].

    References
    ----------
    ACI 318-19, 18.10.6.5(b).

    Examples
    --------
    >>> round(rho_untied(420.0), 5)
    0.00667
    """
    return 2.8 / f_y
