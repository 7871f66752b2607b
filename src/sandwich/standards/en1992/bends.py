"""EN 1992-1-1:2004, 8.3 and 8.5: mandrels and bends; EN 1998-1, 5.6.1: hooks of ties."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


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
