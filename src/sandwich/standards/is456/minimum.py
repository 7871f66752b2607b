"""IS 456:2000, 26.5 and 32.5: minimum and maximum steel of slabs and walls."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("IS 456:2000, 26.5.2.1", formula="a_s,min = 0.0012 D for high strength deformed bars, else 0.0015 D")
def a_s_min_slab(D: Any, f_y: Any) -> Any:
    """Minimum steel of a slab in one direction.

    Parameters
    ----------
    D : float or ndarray
        Overall depth [mm].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    a_s_min : float or ndarray
        Area [mm2/mm].

    References
    ----------
    IS 456:2000, 26.5.2.1.

    Examples
    --------
    >>> round(float(a_s_min_slab(250.0, 415.0)), 3)
    0.3
    """
    return np.where(np.asarray(f_y) >= 415.0, 0.0012, 0.0015) * D


@clause("IS 456:2000, 32.5(a)", formula="rho_v = 0.0012 for deformed bars to 16 mm and f_y >= 415 MPa, else 0.0015")
def rho_v_wall(diameter: Any, f_y: Any) -> Any:
    """Minimum ratio of vertical steel of a wall, both faces together.

    Parameters
    ----------
    diameter : float or ndarray
        Bar diameter [mm].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    rho_v_wall : float or ndarray
        Ratio [-].

    References
    ----------
    IS 456:2000, 32.5(a).

    Examples
    --------
    >>> float(rho_v_wall(12.0, 500.0))
    0.0012
    """
    return np.where((np.asarray(diameter) <= 16.0) & (np.asarray(f_y) >= 415.0), 0.0012, 0.0015)


@clause("IS 456:2000, 32.5(c)", formula="rho_h = 0.0020 for deformed bars to 16 mm and f_y >= 415 MPa, else 0.0025")
def rho_h_wall(diameter: Any, f_y: Any) -> Any:
    """Minimum ratio of horizontal steel of a wall, both faces together.

    Parameters
    ----------
    diameter : float or ndarray
        Bar diameter [mm].
    f_y : float or ndarray
        Yield strength [MPa].

    Returns
    -------
    rho_h_wall : float or ndarray
        Ratio [-].

    References
    ----------
    IS 456:2000, 32.5(c).

    Examples
    --------
    >>> float(rho_h_wall(12.0, 500.0))
    0.002
    """
    return np.where((np.asarray(diameter) <= 16.0) & (np.asarray(f_y) >= 415.0), 0.0020, 0.0025)


@clause("IS 456:2000, 26.5.1.1(b)", formula="a_s,max = 0.04 D, in one direction")
def a_s_max(D: Any) -> Any:
    """Maximum steel of one direction, both faces together.

    Parameters
    ----------
    D : float or ndarray
        Overall depth [mm].

    Returns
    -------
    a_s_max : float or ndarray
        Area [mm2/mm].

    References
    ----------
    IS 456:2000, 26.5.1.1(b), which speaks of beams.

    Examples
    --------
    >>> a_s_max(300.0)
    12.0
    """
    return 0.04 * D


@clause("IS 456:2000, 26.3.3(b), 32.5(b), (d)", formula="s_max = min(3 d, 300 mm) of slabs, min(3 t, 450 mm) of walls")
def s_max(d: Any, *, wall: bool = False) -> Any:
    """Maximum spacing of bars of a slab or a wall.

    Parameters
    ----------
    d : float or ndarray
        Effective depth of a slab, thickness of a wall [mm].
    wall : bool
        Whether the rule of walls holds [-].

    Returns
    -------
    s_max : float or ndarray
        Spacing [mm].

    References
    ----------
    IS 456:2000, 26.3.3(b)(1) of slabs; 32.5(b) and (d) of walls.

    Examples
    --------
    >>> float(s_max(100.0)), float(s_max(400.0))
    (300.0, 300.0)
    """
    return np.minimum(3.0 * d, 450.0 if wall else 300.0)


@clause("IS 456:2000, 26.5.3.2(c)", formula="max(6 mm, phi/4)")
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
    IS 456:2000, 32.5, 26.5.3.2.

    Examples
    --------
    >>> float(d_ties(12.0))
    6.0
    """
    return np.maximum(6.0, diameter / 4.0)


@clause("IS 456:2000, 32.5, 26.5.3.2(c)", formula="s = min(h, 16 phi, 300 mm)")
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
    IS 456:2000, 32.5, 26.5.3.2.

    Examples
    --------
    >>> float(s_ties(10.0, 300.0))
    160.0
    """
    return np.minimum(np.minimum(16.0 * diameter, h), 300.0)
