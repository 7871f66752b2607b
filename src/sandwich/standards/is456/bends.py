"""IS 456:2000, 26.2.2, with the bends of IS 2502:1963; IS 13920:2016: hooks of ties."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("IS 456:2000, 26.2.2.1(b); IS 2502:1963, table II", formula="8 phi of deformed bars")
def bend_diameter(phi: Any) -> Any:
    """Inside diameter of the bend of a deformed bar.

    Parameters
    ----------
    phi : float or ndarray
        Diameter of the bar [mm].

    Returns
    -------
    bend_diameter : float or ndarray
        Diameter [mm].

    References
    ----------
    IS 2502:1963, table II: radius of 4 phi.

    Examples
    --------
    >>> float(bend_diameter(16.0))
    128.0
    """
    return 8.0 * np.asarray(phi)


@clause("IS 456:2000, 26.2.2.1(b); IS 2502:1963, table II", formula="4 phi")
def tail(phi: Any) -> Any:
    """Straight length past the bend of a bar.

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
    IS 2502:1963, table II.

    Examples
    --------
    >>> float(tail(16.0))
    64.0
    """
    return 4.0 * np.asarray(phi)


@clause("IS 456:2000, 26.2.2.4(b)", formula="6 phi past a bend of 135 degrees")
def tail_of_link(phi: Any) -> Any:
    """Straight length past the hooks of a link.

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
    IS 456:2000, 26.2.2.4(b).

    Examples
    --------
    >>> float(tail_of_link(10.0))
    60.0
    """
    return 6.0 * np.asarray(phi)


@clause("IS 13920:2016, 3.4", formula="max(6 phi, 65 mm)")
def tail_of_tie(phi: Any) -> Any:
    """Straight length past the hooks of 135 degrees of the ties of ductile walls.

    Parameters
    ----------
    phi : float or ndarray
        Diameter of the tie [mm].

    Returns
    -------
    tail_of_tie : float or ndarray
        Length [mm].

    References
    ----------
    IS 13920:2016, 3.4.

    Examples
    --------
    >>> float(tail_of_tie(8.0)), float(tail_of_tie(12.0))
    (65.0, 72.0)
    """
    return np.maximum(6.0 * np.asarray(phi), 65.0)
