"""EN 1992-1-1:2004, 8.3 and 8.5: mandrels and bends; EN 1998-1, 5.6.1: hooks of ties."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

MOST_F_CK: Final = 55.0  # MPa of the concrete inside bends, 8.3(3)


@clause("EN 1992-1-1:2004, 8.3(2), table 8.1N", formula="4 phi up to 16 mm, 7 phi above")
def phi_m(phi: Any) -> Any:
    """Minimum diameter of the mandrel of a bend.

    Parameters
    ----------
    phi : float or ndarray
        Diameter of the bar [mm].

    Returns
    -------
    phi_m : float or ndarray
        Diameter [mm].

    References
    ----------
    EN 1992-1-1:2004, table 8.1N.

    Examples
    --------
    >>> float(phi_m(16.0)), float(phi_m(20.0))
    (64.0, 140.0)
    """
    return np.where(np.asarray(phi) <= 16.0, 4.0, 7.0) * phi


@clause("EN 1992-1-1:2004, 8.3(3)", formula="phi where more than 5 phi is needed past the end of the bend")
def phi_inside(phi: Any, past: Any) -> Any:
    """Minimum diameter of a bar at right angles inside a bend whose mandrel is not checked.

    Parameters
    ----------
    phi : float or ndarray
        Diameter of the bar [mm].
    past : float or ndarray
        Length that its anchorage needs past the end of the bend [mm].

    Returns
    -------
    phi_inside : float or ndarray
        Diameter [mm]; 0 where no bar is needed there.

    References
    ----------
    EN 1992-1-1:2004, 8.3(3); not of bends in a plane close to a face, see `phi_m_min`.

    Examples
    --------
    >>> float(phi_inside(12.0, 60.0)), float(phi_inside(12.0, 300.0))
    (0.0, 12.0)
    """
    return np.where(np.asarray(past) > 5.0 * np.asarray(phi), phi, 0.0)


@clause("EN 1992-1-1:2004, 8.3(3), (8.1)", formula="F_bt (1/a_b + 1/(2 phi))/f_cd")
def phi_m_min(F_bt: Any, a_b: Any, phi: Any, f_cd: Any) -> Any:
    """Diameter of the mandrel at which the concrete inside a bend holds.

    Parameters
    ----------
    F_bt : float or ndarray
        Tension of the bar at the start of the bend [N].
    a_b : float or ndarray
        Half the distance to the next bar at right angles to the plane of the bend; of a bar beside a face its cover
        and half its diameter [mm].
    phi : float or ndarray
        Diameter of the bar [mm].
    f_cd : float or ndarray
        Design strength of the concrete, that of C55/67 at most [MPa].

    Returns
    -------
    phi_m_min : float or ndarray
        Diameter [mm].

    References
    ----------
    EN 1992-1-1:2004, expression (8.1).

    Examples
    --------
    >>> round(float(phi_m_min(20e3, 40.0, 10.0, 16.0)), 6)
    93.75
    """
    return F_bt * (1.0 / np.asarray(a_b) + 1.0 / (2.0 * np.asarray(phi))) / f_cd


@clause("EN 1992-1-1:2004, figure 8.1(b)", formula="5 phi")
def tail(phi: Any) -> Any:
    """Minimum straight length past the bend of a bar.

    Parameters
    ----------
    phi : float or ndarray
        Diameter of the bar [mm].

    Returns
    -------
    tail : float or ndarray
        Length [mm].

    References
    ----------
    EN 1992-1-1:2004, figure 8.1.

    Examples
    --------
    >>> float(tail(12.0))
    60.0
    """
    return 5.0 * np.asarray(phi)


@clause("EN 1992-1-1:2004, 8.5(1), figure 8.5(a)", formula="max(5 phi, 50 mm)")
def tail_of_link(phi: Any) -> Any:
    """Minimum straight length past the hooks of a link.

    Parameters
    ----------
    phi : float or ndarray
        Diameter of the link [mm].

    Returns
    -------
    tail_of_link : float or ndarray
        Length [mm].

    References
    ----------
    EN 1992-1-1:2004, figure 8.5(a).

    Examples
    --------
    >>> float(tail_of_link(8.0)), float(tail_of_link(12.0))
    (50.0, 60.0)
    """
    return np.maximum(5.0 * np.asarray(phi), 50.0)


@clause("EN 1998-1:2004, 5.6.1(2)P", formula="10 d_bw")
def tail_of_tie(d_bw: Any) -> Any:
    """Straight length past the hooks of 135 degrees of the ties of walls.

    Parameters
    ----------
    d_bw : float or ndarray
        Diameter of the tie [mm].

    Returns
    -------
    tail_of_tie : float or ndarray
        Length [mm].

    References
    ----------
    EN 1998-1:2004, 5.6.1(2)P.

    Examples
    --------
    >>> float(tail_of_tie(8.0))
    80.0
    """
    return 10.0 * np.asarray(d_bw)


@clause("EN 1992-1-1:2004, 9.3.1.4(1), figure 9.7", formula="2 h")
def edge_leg(h: Any) -> Any:
    """Minimum length of the legs of U-bars at a free edge.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    edge_leg : float or ndarray
        Length [mm].

    References
    ----------
    EN 1992-1-1:2004, figure 9.7.

    Examples
    --------
    >>> float(edge_leg(250.0))
    500.0
    """
    return 2.0 * np.asarray(h)
