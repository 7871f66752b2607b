"""EN 1992-1-1:2004, 8.4, 8.7, 9.2.1.3: anchorage and laps of bars."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

MOST_F_CTD: Final = 3.1  # MPa, f_ctk,0.05 of C60/75, above which bond does not grow: 8.4.2(2)
LAPPED: Final = ((0.25, 1.0), (0.33, 1.15), (0.50, 1.4))  # share of bars lapped, alpha_6; more: 1.5. Table 8.3


@clause(
    "EN 1992-1-1:2004, 8.4.2(2), (8.2)",
    formula="f_bd = 2.25 eta_1 eta_2 f_ctd; eta_1 1.0 or 0.7, eta_2 = (132 - phi)/100 above 32 mm",
)
def f_bd(f_ctd: Any, phi: Any, good: bool) -> Any:
    """Design bond strength of ribbed bars.

    Parameters
    ----------
    f_ctd : float or ndarray
        Design tensile strength, of C60/75 at most [MPa].
    phi : float or ndarray
        Diameter [mm].
    good : bool
        Whether bond conditions are good [-].

    Returns
    -------
    f_bd : float or ndarray
        Strength [MPa].

    References
    ----------
    EN 1992-1-1:2004, 8.4.2(2), (8.2).

    Examples
    --------
    >>> float(f_bd(1.35, 16.0, True)), float(f_bd(1.0, 40.0, False))
    (3.0375, 1.449)
    """
    eta_2 = np.minimum((132.0 - np.asarray(phi)) / 100.0, 1.0)
    return 2.25 * np.where(good, 1.0, 0.7) * eta_2 * f_ctd


@clause("EN 1992-1-1:2004, 8.4.3(2), (8.3)", formula="l_b,rqd = (phi/4)(sigma_sd/f_bd)")
def l_b_rqd(phi: Any, sigma_sd: Any, f_bd: Any) -> Any:
    """Basic required anchorage length.

    Parameters
    ----------
    phi : float or ndarray
        Diameter [mm].
    sigma_sd : float or ndarray
        Design stress of the bar [MPa].
    f_bd : float or ndarray
        Bond strength [MPa].

    Returns
    -------
    l_b_rqd : float or ndarray
        Length [mm].

    References
    ----------
    EN 1992-1-1:2004, 8.4.3(2), (8.3).

    Examples
    --------
    >>> round(float(l_b_rqd(16.0, 435.0, 3.0)), 1)
    580.0
    """
    return np.asarray(phi) / 4.0 * sigma_sd / f_bd


@clause(
    "EN 1992-1-1:2004, table 8.2",
    formula="1 - 0.15 (c_d - phi)/phi, of bent bars 1 - 0.15 (c_d - 3 phi)/phi; 0.7 to 1",
)
def alpha_2(c_d: Any, phi: Any, bent: bool) -> Any:
    """Factor of the cover, of bars in tension.

    Parameters
    ----------
    c_d : float or ndarray
        Least of half the clear distance between bars and of the covers [mm].
    phi : float or ndarray
        Diameter [mm].
    bent : bool
        Whether the bar ends in a bend or hook [-].

    Returns
    -------
    alpha_2 : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, table 8.2.

    Examples
    --------
    >>> round(float(alpha_2(32.0, 16.0, False)), 3), float(alpha_2(32.0, 16.0, True))
    (0.85, 1.0)
    """
    off = np.where(bent, 3.0, 1.0) * np.asarray(phi)
    return np.clip(1.0 - 0.15 * (np.asarray(c_d) - off) / phi, 0.7, 1.0)


@clause("EN 1992-1-1:2004, table 8.2", formula="0.7 of bent bars with c_d > 3 phi, else 1")
def alpha_1(c_d: Any, phi: Any, bent: bool) -> Any:
    """Factor of the form of bars in tension.

    Parameters
    ----------
    c_d : float or ndarray
        Least of half the clear distance between bars and of the covers [mm].
    phi : float or ndarray
        Diameter [mm].
    bent : bool
        Whether the bar ends in a bend or hook [-].

    Returns
    -------
    alpha_1 : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, table 8.2.

    Examples
    --------
    >>> float(alpha_1(50.0, 16.0, True)), float(alpha_1(48.0, 16.0, True))
    (0.7, 1.0)
    """
    return np.where(np.asarray(bent, dtype=bool) & (np.asarray(c_d) > 3.0 * np.asarray(phi)), 0.7, 1.0)


@clause(
    "EN 1992-1-1:2004, 8.4.4(1), (8.4) to (8.7)",
    formula="l_bd = alpha_1 alpha_2 l_b,rqd; at least 0.3 (0.6 in compression) l_b,rqd, 10 phi, 100 mm",
)
def l_bd(l_b_rqd: Any, alpha: Any, phi: Any, tension: bool) -> Any:
    """Design anchorage length.

    Parameters
    ----------
    l_b_rqd : float or ndarray
        Basic required anchorage length [mm].
    alpha : float or ndarray
        Product of the factors of table 8.2 [-].
    phi : float or ndarray
        Diameter [mm].
    tension : bool
        Whether the bar pulls [-].

    Returns
    -------
    l_bd : float or ndarray
        Length [mm].

    References
    ----------
    EN 1992-1-1:2004, 8.4.4(1), (8.4) to (8.7).

    Examples
    --------
    >>> float(l_bd(580.0, 0.85, 16.0, True)), float(l_bd(100.0, 1.0, 16.0, True))
    (493.0, 160.0)
    """
    least = np.where(tension, 0.3, 0.6) * np.asarray(l_b_rqd)
    return np.maximum(np.maximum(alpha * np.asarray(l_b_rqd), least), np.maximum(10.0 * np.asarray(phi), 100.0))


@clause("EN 1992-1-1:2004, table 8.3", formula="1.0, 1.15, 1.4, 1.5 up to 25, 33, 50 %, more")
def alpha_6(share: Any) -> Any:
    """Factor of the share of bars that are lapped at one place.

    Parameters
    ----------
    share : float or ndarray
        Part of the bars lapped within 0.65 l_0 [-].

    Returns
    -------
    alpha_6 : float or ndarray
        Factor [-].

    References
    ----------
    EN 1992-1-1:2004, table 8.3.

    Examples
    --------
    >>> float(alpha_6(0.5)), float(alpha_6(1.0))
    (1.4, 1.5)
    """
    share = np.asarray(share)
    return np.select([share <= s + 1e-9 for s, _ in LAPPED], [a for _, a in LAPPED], 1.5)


@clause(
    "EN 1992-1-1:2004, 8.7.3(1), (8.10), (8.11)",
    formula="l_0 = alpha_1 alpha_2 alpha_6 l_b,rqd; at least 0.3 alpha_6 l_b,rqd, 15 phi, 200 mm",
)
def l_0(l_b_rqd: Any, alpha: Any, alpha_6: Any, phi: Any) -> Any:
    """Design lap length.

    Parameters
    ----------
    l_b_rqd : float or ndarray
        Basic required anchorage length [mm].
    alpha : float or ndarray
        Product of alpha_1 and alpha_2 [-].
    alpha_6 : float or ndarray
        Factor of the share of lapped bars [-].
    phi : float or ndarray
        Diameter [mm].

    Returns
    -------
    l_0 : float or ndarray
        Length [mm].

    References
    ----------
    EN 1992-1-1:2004, 8.7.3(1), (8.10), (8.11).

    Examples
    --------
    >>> float(l_0(580.0, 0.85, 1.5, 16.0))
    739.5
    """
    least = np.maximum(0.3 * np.asarray(alpha_6) * l_b_rqd, np.maximum(15.0 * np.asarray(phi), 200.0))
    return np.maximum(np.asarray(alpha) * alpha_6 * l_b_rqd, least)


@clause("EN 1992-1-1:2004, 9.2.1.3(2), (9.2)", formula="a_l = z cot theta/2, with vertical links")
def a_l(z: Any, cot_theta: Any) -> Any:
    """Shift of the tension by inclined struts.

    Parameters
    ----------
    z : float or ndarray
        Lever arm [mm].
    cot_theta : float or ndarray
        Of the struts [-].

    Returns
    -------
    a_l : float or ndarray
        Length [mm].

    References
    ----------
    EN 1992-1-1:2004, 9.2.1.3(2), (9.2).

    Examples
    --------
    >>> float(a_l(3200.0, 1.0))
    1600.0
    """
    return np.asarray(z) * cot_theta / 2.0
