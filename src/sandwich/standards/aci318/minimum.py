"""ACI 318-19, 7.6, 8.6, 10.6 and 11.6: minimum and maximum steel of slabs and walls."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("ACI 318-19, 7.6.1.1, 8.6.1.1, 24.4.3.2", formula="a_s,min = 0.0018 h, both faces together")
def a_s_min_slab(h: Any) -> Any:
    """Minimum steel of a slab in one direction, both faces together.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    a_s_min : float or ndarray
        Area [mm2/mm]; the tension face of flexure takes it whole.

    References
    ----------
    ACI 318-19, 7.6.1.1 and 8.6.1.1; shrinkage and temperature of 24.4.3.2 across the span.

    Examples
    --------
    >>> round(a_s_min_slab(250.0), 3)
    0.45
    """
    return 0.0018 * h


@clause("ACI 318-19, 11.6.1, 11.6.2", formula="rho_l = 0.0012 for bars to 16 mm and f_y >= 420 MPa, else 0.0015")
def rho_l_wall(diameter: Any, f_y: Any) -> Any:
    """Minimum ratio of vertical steel of a wall with little in-plane shear, both faces together.

    Parameters
    ----------
    diameter : float or ndarray
        Bar diameter [mm].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    rho_l_wall : float or ndarray
        Ratio [-].

    References
    ----------
    ACI 318-19, Table 11.6.1; 11.6.2 asks for more where the in-plane shear of the whole wall is high, which
    points of a shell do not know.

    Examples
    --------
    >>> float(rho_l_wall(12.0, 420.0))
    0.0012
    """
    return np.where((np.asarray(diameter) <= 16.0) & (np.asarray(f_y) >= 420.0), 0.0012, 0.0015)


@clause("ACI 318-19, 11.6.1, 11.6.2", formula="rho_t = 0.0020 for bars to 16 mm and f_y >= 420 MPa, else 0.0025")
def rho_t_wall(diameter: Any, f_y: Any) -> Any:
    """Minimum ratio of horizontal steel of a wall with little in-plane shear, both faces together.

    Parameters
    ----------
    diameter : float or ndarray
        Bar diameter [mm].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    rho_t_wall : float or ndarray
        Ratio [-].

    References
    ----------
    ACI 318-19, Table 11.6.1.

    Examples
    --------
    >>> float(rho_t_wall(20.0, 420.0))
    0.0025
    """
    return np.where((np.asarray(diameter) <= 16.0) & (np.asarray(f_y) >= 420.0), 0.0020, 0.0025)


@clause("ACI 318-19, 10.6.1.1", formula="a_s,max = 0.08 h, in one direction")
def a_s_max(h: Any) -> Any:
    """Maximum steel of one direction, both faces together.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    a_s_max : float or ndarray
        Area [mm2/mm].

    References
    ----------
    ACI 318-19, 10.6.1.1 for columns; chapters 7, 8 and 11 have no limit of their own beside the strain limit.

    Examples
    --------
    >>> a_s_max(300.0)
    24.0
    """
    return 0.08 * h


@clause(
    "ACI 318-19, 8.7.2.2, 11.7.2.1, 11.7.3.1", formula="s_max = min(2 h, 450 mm) of slabs, min(3 h, 450 mm) of walls"
)
def s_max(h: Any, *, wall: bool = False) -> Any:
    """Maximum spacing of bars of a slab or a wall.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].
    wall : bool
        Whether the rule of walls holds [-].

    Returns
    -------
    s_max : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, 8.7.2.2 at critical sections of two-way slabs; 11.7.2.1 and 11.7.3.1 of walls.

    Examples
    --------
    >>> float(s_max(100.0)), float(s_max(400.0))
    (200.0, 450.0)
    """
    return np.minimum((3.0 if wall else 2.0) * h, 450.0)


def _tie(diameter: Any) -> Any:
    return np.where(np.asarray(diameter) <= 32.5, 9.5, 12.7)


@clause("ACI 318-19, 25.7.2.2", formula="No. 10 (9.5 mm) up to No. 32, No. 13 (12.7 mm) beyond")
def d_ties(diameter: Any) -> Any:
    """Minimum diameter of ties round bars in compression.

    Parameters
    ----------
    diameter : float or ndarray
        Diameter of the bars [mm].

    Returns
    -------
    d_ties : float or ndarray
        Diameter [mm].

    References
    ----------
    ACI 318-19, 11.7.4, 25.7.2.

    Examples
    --------
    >>> float(d_ties(12.0))
    9.5
    """
    return _tie(diameter)


@clause("ACI 318-19, 11.7.4.1, 25.7.2.1", formula="s = min(16 d_b, 48 d_tie, h)")
def s_ties(diameter: Any, h: Any) -> Any:
    """Maximum spacing of ties along bars in compression.

    Parameters
    ----------
    diameter : float or ndarray
        Diameter of the bars [mm].
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    s_ties : float or ndarray
        Spacing [mm].

    References
    ----------
    ACI 318-19, 11.7.4, 25.7.2.

    Examples
    --------
    >>> float(s_ties(10.0, 300.0))
    160.0
    """
    return np.minimum(np.minimum(16.0 * diameter, 48.0 * _tie(diameter)), h)
