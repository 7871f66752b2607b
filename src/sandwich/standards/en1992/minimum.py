"""EN 1992-1-1:2004, chapter 9: minimum and maximum steel of slabs and walls."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 9.2.1.1(1), (9.1N); 9.3.1.1(1)", formula="a_s,min = max(0.26 f_ctm/f_yk, 0.0013) d")
def a_s_min_slab(d: Any, f_ctm: Any, f_yk: Any) -> Any:
    """Minimum tension steel of a slab, per unit width.

    Parameters
    ----------
    d : float or ndarray
        Effective depth of the layer [mm].
    f_ctm, f_yk : float or ndarray
        Mean tensile strength of concrete, yield strength of steel [MPa].

    Returns
    -------
    a_s_min : float or ndarray
        Area [mm2/mm].

    References
    ----------
    EN 1992-1-1:2004, 9.2.1.1(1), expression (9.1N), and 9.3.1.1(1).

    Examples
    --------
    >>> round(float(a_s_min_slab(250.0, 2.9, 500.0)), 4)
    0.377
    """
    return np.maximum(0.26 * f_ctm / f_yk, 0.0013) * d


@clause("EN 1992-1-1:2004, 9.3.1.1(2)", formula="a_s,secondary >= 0.2 a_s,principal")
def a_s_secondary(a_s_principal: Any) -> Any:
    """Minimum secondary steel of a slab, across the principal bars of the same face.

    Parameters
    ----------
    a_s_principal : float or ndarray
        Area of the principal bars [mm2/mm].

    Returns
    -------
    a_s_secondary : float or ndarray
        Area [mm2/mm].

    References
    ----------
    EN 1992-1-1:2004, 9.3.1.1(2).

    Examples
    --------
    >>> a_s_secondary(1.0)
    0.2
    """
    return 0.2 * a_s_principal


@clause("EN 1992-1-1:2004, 9.6.2(1)", formula="a_s,vmin = 0.002 h, both faces together")
def a_s_vmin(h: Any, *, ratio: Any = 0.002) -> Any:
    """Minimum vertical steel of a wall, both faces together.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].
    ratio : float
        Nationally determined ratio [-].

    Returns
    -------
    a_s_vmin : float or ndarray
        Area [mm2/mm].

    References
    ----------
    EN 1992-1-1:2004, 9.6.2(1), (2): half of it on each face.

    Examples
    --------
    >>> a_s_vmin(300.0)
    0.6
    """
    return ratio * h


@clause("EN 1992-1-1:2004, 9.6.3(1)", formula="a_s,hmin = max(0.25 a_s,v, 0.001 h), both faces together")
def a_s_hmin(h: Any, a_s_v: Any, *, ratio: Any = 0.001) -> Any:
    """Minimum horizontal steel of a wall, both faces together.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].
    a_s_v : float or ndarray
        Vertical steel, both faces together [mm2/mm].
    ratio : float
        Nationally determined ratio [-].

    Returns
    -------
    a_s_hmin : float or ndarray
        Area [mm2/mm].

    References
    ----------
    EN 1992-1-1:2004, 9.6.3(1).

    Examples
    --------
    >>> float(a_s_hmin(300.0, 2.0))
    0.5
    """
    return np.maximum(0.25 * a_s_v, ratio * h)


@clause("EN 1992-1-1:2004, 9.2.1.1(3), 9.6.2(1)", formula="a_s,max = 0.04 h, in one direction")
def a_s_max(h: Any, *, ratio: Any = 0.04) -> Any:
    """Maximum steel of one direction outside laps, both faces together.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].
    ratio : float
        Nationally determined ratio [-].

    Returns
    -------
    a_s_max : float or ndarray
        Area [mm2/mm].

    References
    ----------
    EN 1992-1-1:2004, 9.2.1.1(3) and 9.6.2(1).

    Examples
    --------
    >>> a_s_max(300.0)
    12.0
    """
    return ratio * h


@clause(
    "EN 1992-1-1:2004, 9.3.1.1(3), 9.6.2(3), 9.6.3(2)",
    formula="s_max = min(2 h, 250 mm) of slabs, min(3 h, 400 mm) of walls",
)
def s_max_slabs(h: Any, *, part: Any = 2.0, most: Any = 250.0) -> Any:
    """Maximum spacing of bars of a slab or a wall.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].
    part, most : float
        Factor on the thickness [-] and maximum spacing [mm]; nationally determined, those of slabs by default.

    Returns
    -------
    s_max_slabs : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1992-1-1:2004, 9.3.1.1(3) for principal bars in areas of maximum moment, through which a mesh runs; 9.6.2(3) and
    9.6.3(2) for walls.

    Examples
    --------
    >>> float(s_max_slabs(100.0)), float(s_max_slabs(400.0)), float(s_max_slabs(400.0, part=3.0, most=400.0))
    (200.0, 250.0, 400.0)
    """
    return np.minimum(part * h, most)


@clause("EN 1992-1-1:2004, 9.5.3(1)", formula="max(6 mm, phi/4)")
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
    EN 1992-1-1:2004, 9.6.4, 9.5.3.

    Examples
    --------
    >>> float(d_ties(12.0))
    6.0
    """
    return np.maximum(6.0, diameter / 4.0)


@clause("EN 1992-1-1:2004, 9.6.4(1), 9.5.3(3)", formula="s_cl,tmax = min(20 phi, h, 400 mm)")
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
    EN 1992-1-1:2004, 9.6.4, 9.5.3.

    Examples
    --------
    >>> float(s_ties(10.0, 300.0))
    200.0
    """
    return np.minimum(np.minimum(20.0 * diameter, h), 400.0)
