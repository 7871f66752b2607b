"""ACI 318-19, 18.7.5, 18.10.6.4 and 18.10.6.5: ties in the ends of special walls (SI constants)."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

GRADES: Final = (420.0, 550.0)  # MPa up to which the first and second of three values hold, the third up to 690
TIMES: Final = np.array([6.0, 5.0, 4.0])  # diameters, 18.7.5.3(b), Table 18.10.6.5(b) near the critical section
TIMES_FAR: Final = np.array([8.0, 6.0, 6.0])  # the same elsewhere
MOST_FAR: Final = np.array([200.0, 150.0, 150.0])  # mm


def by_grade(values: Any, f_y: Any) -> Any:
    """Which of three values holds for bars of a yield strength [MPa]."""
    return values[np.searchsorted(GRADES, np.asarray(f_y, dtype=float) - 1e-9)]


@clause("ACI 318-19, 18.10.6.4(f)", formula="h_x <= min(350, 2 b/3)")
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
    ACI 318-19, 18.10.6.4(f).

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


@clause("ACI 318-19, 18.7.5.3, 18.10.6.4(e)", formula="min(b/3, s_o, 6, 5 or 4 d_b by grade 420, 550, 690)")
def s_special(b: Any, d_b: Any, f_y: Any, s_o: Any) -> Any:
    """Largest spacing of the ties of a special boundary element.

    Parameters
    ----------
    b : float or ndarray
        Its least dimension [mm].
    d_b : float or ndarray
        Smallest diameter of its bars [mm].
    f_y : float or ndarray
        Their yield strength, which tells the grade [MPa].
    s_o : float or ndarray
        Spacing by the distance between bars that are held, 18.7.5.3(d) [mm].

    Returns
    -------
    s_special : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, 18.7.5.3, 18.10.6.4(e).

    Examples
    --------
    >>> float(s_special(300.0, 16.0, 420.0, 100.0))
    96.0
    """
    return np.minimum(np.minimum(np.asarray(b) / 3.0, by_grade(TIMES, f_y) * np.asarray(d_b)), s_o)


@clause(
    "ACI 318-19, Table 18.10.6.5(b)",
    formula="420: 6 d_b, 150; 8 d_b, 200 elsewhere; 550: 5; 6 d_b, 150; 690: 4; 6 d_b, 150",
)
def s_table(d_b: Any, f_y: Any, near: Any) -> Any:
    """Largest spacing of ties in the ends of a wall, near the critical section and elsewhere.

    Parameters
    ----------
    d_b : float or ndarray
        Smallest diameter of the bars [mm].
    f_y : float or ndarray
        Their yield strength, which tells the grade [MPa].
    near : bool or ndarray
        Whether within `confined_extent` of the critical section [-].

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
    close = np.minimum(by_grade(TIMES, f_y) * np.asarray(d_b), 150.0)
    far = np.minimum(by_grade(TIMES_FAR, f_y) * np.asarray(d_b), by_grade(MOST_FAR, f_y))
    return np.where(near, close, far)


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
