"""ACI 318-19, 25.4, 25.5, 9.7.3, 18.10.2.3: development and splices of bars (SI constants)."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

LIMIT: Final = 8.3  # of the root of f_c' [MPa], 25.4.1.4
GRADES: Final = ((420.0, 1.0), (550.0, 1.15), (690.0, 1.3))  # f_y, psi_g: Table 25.4.2.5
SMALL: Final = 20.0  # mm, bars up to No. 19: psi_s
YIELDING: Final = 1.25  # on lengths where yielding is likely, 18.10.2.3(b)
BEYOND: Final = 3660.0  # mm above the place where bars are no longer required, 18.10.2.3(a)
HEAD_COVER, HEAD_APART, HEAD_MOST = 2.0, 3.0, 36.0  # diameters of cover and between centres, mm: 25.4.4.1
NOISE: Final = 1e-6  # mm, of lengths that are as long as they may be
HEAD_WIDE: Final = 6.0  # diameters between centres
NO_LAP: Final = 6100.0  # mm, the most that h_sx counts, 18.10.2.3(c)


@clause("ACI 318-19, 25.4.2.4, (25.4.2.4b)", formula="K_tr = 40 A_tr/(s n)")
def K_tr(ties: Any) -> Any:
    """Index of the ties across the splitting plane.

    Parameters
    ----------
    ties : float or ndarray
        A_tr/(s n), area of ties over their spacing and the number of bars [mm].

    Returns
    -------
    K_tr : float or ndarray
        Index [mm].

    References
    ----------
    ACI 318-19, 25.4.2.4, (25.4.2.4b).

    Examples
    --------
    >>> float(K_tr(0.25))
    10.0
    """
    return 40.0 * np.asarray(ties)


@clause("ACI 318-19, Table 25.4.2.5", formula="1.0, 1.15, 1.3 of grades up to 420, 550, 690")
def psi_g(f_y: Any) -> Any:
    """Factor of the grade.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    psi_g : float or ndarray
        Factor [-].

    References
    ----------
    ACI 318-19, Table 25.4.2.5.

    Examples
    --------
    >>> float(psi_g(420.0)), float(psi_g(500.0))
    (1.0, 1.15)
    """
    f_y = np.asarray(f_y)
    return np.select([f_y <= grade + 1e-9 for grade, _ in GRADES], [psi for _, psi in GRADES], GRADES[-1][1])


@clause(
    "ACI 318-19, 25.4.2.4, (25.4.2.4a)",
    formula="f_y psi_t psi_s psi_g d_b/(1.1 f_c'^(1/2) (c_b + K_tr)/d_b) >= 300 mm; (c_b + K_tr)/d_b <= 2.5",
)
def l_d(f_y: Any, root_f_c: Any, d_b: Any, c_b: Any, K_tr: Any, top: bool, psi_g: Any) -> Any:
    """Development length of deformed bars in tension.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength [MPa].
    root_f_c : float or ndarray
        Root of the strength of the concrete [MPa].
    d_b : float or ndarray
        Diameter [mm].
    c_b : float or ndarray
        Least of the distance of the bar's axis to the face and half the distance between axes [mm].
    K_tr : float or ndarray
        Index of the ties [mm].
    top : bool
        Whether more than 300 mm of fresh concrete lie below [-].
    psi_g : float or ndarray
        Factor of the grade [-].

    Returns
    -------
    l_d : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 25.4.2.4, (25.4.2.4a).

    Examples
    --------
    >>> round(float(l_d(420.0, 5.0, 25.0, 62.5, 0.0, False, 1.0)), 1)
    763.6
    """
    d_b = np.asarray(d_b, dtype=float)
    held = np.minimum((np.asarray(c_b) + K_tr) / d_b, 2.5)
    psi = np.where(top, 1.3, 1.0) * np.where(d_b <= SMALL, 0.8, 1.0) * psi_g
    return np.maximum(np.asarray(f_y) * psi * d_b / (1.1 * np.minimum(root_f_c, LIMIT) * held), 300.0)


@clause("ACI 318-19, 25.4.9.2", formula="max(0.24 f_y d_b/f_c'^(1/2), 0.043 f_y d_b); 200 mm at least")
def l_dc(f_y: Any, root_f_c: Any, d_b: Any) -> Any:
    """Development length of deformed bars in compression.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength [MPa].
    root_f_c : float or ndarray
        Root of the strength of the concrete [MPa].
    d_b : float or ndarray
        Diameter [mm].

    Returns
    -------
    l_dc : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 25.4.9.2.

    Examples
    --------
    >>> round(float(l_dc(420.0, 5.0, 25.0)), 1)
    504.0
    """
    by_bond = 0.24 * np.asarray(f_y) * d_b / np.minimum(root_f_c, LIMIT)
    return np.maximum(np.maximum(by_bond, 0.043 * np.asarray(f_y) * d_b), 200.0)


@clause(
    "ACI 318-19, 25.4.3.1",
    formula="f_y psi_r psi_o psi_c d_b^1.5/(23 f_c'^(1/2)) >= 8 d_b, 150 mm; psi 1.6, 1.25, f_c'/105 + 0.6",
)
def l_dh(f_y: Any, f_c: Any, d_b: Any) -> Any:
    """Development length of bars with standard hooks, to the outside of the hook.

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
    l_dh : float or ndarray
        Length without ties at the hook and with little cover beside it [mm].

    References
    ----------
    ACI 318-19, 25.4.3.1.

    Examples
    --------
    >>> round(float(l_dh(420.0, 30.0, 16.0)), 1)
    378.0
    """
    d_b, f_c = np.asarray(d_b, dtype=float), np.asarray(f_c, dtype=float)
    psi = 1.6 * 1.25 * np.where(f_c < 42.0, f_c / 105.0 + 0.6, 1.0)
    found = np.asarray(f_y) * psi * d_b**1.5 / (23.0 * np.minimum(np.sqrt(f_c), LIMIT))
    return np.maximum(np.maximum(found, 8.0 * d_b), 150.0)


@clause(
    "ACI 318-19, 25.4.4.2",
    formula="f_y psi_p psi_o psi_c d_b^1.5/(31 f_c'^(1/2)) >= 8 d_b, 150 mm; psi_p 1.0 from 6 d_b apart, else 1.6",
)
def l_dt(f_y: Any, f_c: Any, d_b: Any, wide: Any) -> Any:
    """Development length of headed bars.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength [MPa].
    f_c : float or ndarray
        Strength of the concrete [MPa].
    d_b : float or ndarray
        Diameter [mm].
    wide : float or ndarray
        Whether bars are 6 d_b apart or more, between centres [-].

    Returns
    -------
    l_dt : float or ndarray
        Length without ties and with little cover beside them, psi_o 1.25 [mm].

    References
    ----------
    ACI 318-19, 25.4.4.2.

    Examples
    --------
    >>> round(float(l_dt(420.0, 30.0, 16.0, True)), 1), round(float(l_dt(420.0, 30.0, 16.0, False)), 1)
    (175.3, 280.4)
    """
    d_b, f_c = np.asarray(d_b, dtype=float), np.asarray(f_c, dtype=float)
    psi = np.where(wide, 1.0, 1.6) * 1.25 * np.where(f_c < 42.0, f_c / 105.0 + 0.6, 1.0)
    found = np.asarray(f_y) * psi * d_b**1.5 / (31.0 * np.minimum(np.sqrt(f_c), LIMIT))
    return np.maximum(np.maximum(found, 8.0 * d_b), 150.0)


@clause("ACI 318-19, 25.5.2.1", formula="class A 1.0 l_d, class B 1.3 l_d; 300 mm at least")
def l_st(l_d: Any, share: Any, ratio: Any) -> Any:
    """Lap of deformed bars in tension.

    Parameters
    ----------
    l_d : float or ndarray
        Development length [mm].
    share : float or ndarray
        Part of the bars lapped at one place [-].
    ratio : float or ndarray
        Area provided over that required [-].

    Returns
    -------
    l_st : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 25.5.2.1.

    Examples
    --------
    >>> float(l_st(600.0, 1.0, 1.0)), float(l_st(600.0, 0.5, 2.0))
    (780.0, 600.0)
    """
    short = (np.asarray(share) <= 0.5) & (np.asarray(ratio) >= 2.0)
    return np.maximum(np.where(short, 1.0, 1.3) * np.asarray(l_d), 300.0)


@clause(
    "ACI 318-19, 25.5.5.1",
    formula="0.071 f_y d_b, above 420 MPa (0.13 f_y - 24) d_b; >= 300 mm; 4/3 below 21 MPa",
)
def l_sc(f_y: Any, d_b: Any, f_c: Any) -> Any:
    """Lap of deformed bars in compression.

    Parameters
    ----------
    f_y : float or ndarray
        Yield strength [MPa].
    d_b : float or ndarray
        Diameter [mm].
    f_c : float or ndarray
        Strength of the concrete [MPa].

    Returns
    -------
    l_sc : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 25.5.5.1.

    Examples
    --------
    >>> round(float(l_sc(420.0, 25.0, 30.0)), 1), round(float(l_sc(500.0, 25.0, 30.0)), 1)
    (745.5, 1025.0)
    """
    times = np.where(np.asarray(f_y) <= 420.0, 0.071 * np.asarray(f_y), 0.13 * np.asarray(f_y) - 24.0)
    return np.maximum(times * d_b, 300.0) * np.where(np.asarray(f_c) < 21.0, 4.0 / 3.0, 1.0)


@clause("ACI 318-19, 9.7.3.3, 11.7.1", formula="max(d, 12 d_b, l_d)")
def extension(d: Any, d_b: Any, l_d: Any) -> Any:
    """How far bars go beyond the place where they are no longer required.

    Parameters
    ----------
    d : float or ndarray
        Effective depth [mm].
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
    ACI 318-19, 9.7.3.3, 11.7.1.

    Examples
    --------
    >>> float(extension(1000.0, 16.0, 700.0))
    1000.0
    """
    return np.maximum(np.maximum(d, 12.0 * np.asarray(d_b)), l_d)


@clause("ACI 318-19, 18.10.2.3(a)", formula="min(3.66 m, l_d above the next floor)")
def extension_seismic(h_next: Any, l_d: Any) -> Any:
    """How far bars of special walls go above the place where they are no longer required to resist bending.

    Parameters
    ----------
    h_next : float or ndarray
        Height to the next floor above [mm].
    l_d : float or ndarray
        Development length [mm].

    Returns
    -------
    extension_seismic : float or ndarray
        Length [mm].

    References
    ----------
    ACI 318-19, 18.10.2.3(a).

    Examples
    --------
    >>> float(extension_seismic(3200.0, 700.0)), float(extension_seismic(2500.0, 700.0))
    (3660.0, 3200.0)
    """
    return np.minimum(BEYOND, np.asarray(h_next) + l_d)


@clause("ACI 318-19, 18.10.2.3(c)", formula="h_sx, 6.1 m at most")
def no_lap(h_sx: Any) -> Any:
    """Height above a critical section in which bars of boundary regions are not lapped.

    Parameters
    ----------
    h_sx : float or ndarray
        Height of the storey [mm].

    Returns
    -------
    no_lap : float or ndarray
        Height [mm].

    References
    ----------
    ACI 318-19, 18.10.2.3(c).

    Examples
    --------
    >>> float(no_lap(3200.0))
    3200.0
    """
    return np.minimum(h_sx, NO_LAP)
