"""EN 1992-1-2:2004, 5.4 and 5.7: minimum dimensions of walls and slabs under fire, by tables."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.trace import clause

MINUTES: Final = (30, 60, 90, 120, 180, 240)
SPANS: Final = {"one way": 3.0, "two way": 1.5, "two way long": 2.0}  # l_y/l_x up to
SLAB: Final = (60, 80, 100, 120, 150, 175)
SLAB_AXIS: Final = ((10, 20, 30, 40, 55, 65), (10, 10, 15, 20, 30, 40), (10, 15, 20, 25, 40, 50))
FLAT: Final = (150, 180, 200, 200, 200, 200)
FLAT_AXIS: Final = (10, 15, 25, 35, 45, 50)
MU: Final = (0.35, 0.7)
WALL: Final = {  # by exposed sides, at both mu_fi
    1: ((100, 110, 120, 150, 180, 230), (120, 130, 140, 160, 210, 270)),
    2: ((120, 120, 140, 160, 200, 250), (120, 140, 170, 220, 270, 350)),
}
WALL_AXIS: Final = {
    1: ((10, 10, 20, 25, 40, 55), (10, 10, 25, 35, 50, 60)),
    2: ((10, 10, 10, 25, 45, 55), (10, 10, 25, 35, 55, 60)),
}


@clause("EN 1992-1-2:2004, table 5.8", formula="h_s by minutes")
def h_s(minutes: float) -> float:
    """Minimum thickness of a solid slab.

    Parameters
    ----------
    minutes : float
        Fire resistance REI [min].

    Returns
    -------
    h_s : float
        Thickness [mm].

    References
    ----------
    EN 1992-1-2:2004, table 5.8.

    Examples
    --------
    >>> h_s(90), h_s(240)
    (100.0, 175.0)
    """
    return float(np.interp(minutes, MINUTES, SLAB))


@clause("EN 1992-1-2:2004, table 5.8", formula="a by minutes and l_y/l_x")
def a_slab(minutes: float, ratio: float) -> float:
    """Minimum axis distance in a solid slab.

    Parameters
    ----------
    minutes : float
        Fire resistance REI [min].
    ratio : float
        Longer over shorter span of a slab that spans two ways, more than 2 of one way [-].

    Returns
    -------
    a_slab : float
        Axis distance [mm].

    References
    ----------
    EN 1992-1-2:2004, table 5.8.

    Examples
    --------
    >>> a_slab(90, 3.0), a_slab(90, 1.5)
    (30.0, 15.0)
    """
    column = 1 if ratio <= SPANS["two way"] else 2 if ratio <= SPANS["two way long"] else 0
    return float(np.interp(minutes, MINUTES, SLAB_AXIS[column]))


@clause("EN 1992-1-2:2004, table 5.9", formula="h_s by minutes")
def h_flat(minutes: float) -> float:
    """Minimum thickness of a flat slab.

    Parameters
    ----------
    minutes : float
        Fire resistance REI [min].

    Returns
    -------
    h_flat : float
        Thickness [mm].

    References
    ----------
    EN 1992-1-2:2004, table 5.9.

    Examples
    --------
    >>> h_flat(60)
    180.0
    """
    return float(np.interp(minutes, MINUTES, FLAT))


@clause("EN 1992-1-2:2004, table 5.9", formula="a by minutes")
def a_flat(minutes: float) -> float:
    """Minimum axis distance in a flat slab.

    Parameters
    ----------
    minutes : float
        Fire resistance REI [min].

    Returns
    -------
    a_flat : float
        Axis distance [mm].

    References
    ----------
    EN 1992-1-2:2004, table 5.9.

    Examples
    --------
    >>> a_flat(120)
    35.0
    """
    return float(np.interp(minutes, MINUTES, FLAT_AXIS))


@clause("EN 1992-1-2:2004, table 5.4", formula="by minutes, exposed sides and mu_fi; linear between 0.35 and 0.7")
def h_wall(minutes: float, sides: float, mu_fi: float) -> float:
    """Minimum thickness of a load-bearing wall.

    Parameters
    ----------
    minutes : float
        Fire resistance REI [min].
    sides : float
        Exposed sides, 1 or 2 [-].
    mu_fi : float
        Use in the fire situation [-].

    Returns
    -------
    h_wall : float
        Thickness [mm].

    References
    ----------
    EN 1992-1-2:2004, table 5.4; 5.2(7) for what lies between.

    Examples
    --------
    >>> h_wall(90, 1, 0.7), h_wall(120, 2, 0.35)
    (140.0, 160.0)
    """
    ends = [np.interp(minutes, MINUTES, column) for column in WALL[2 if sides > 1 else 1]]
    return float(np.interp(mu_fi, MU, ends))


@clause("EN 1992-1-2:2004, table 5.4", formula="by minutes, exposed sides and mu_fi; linear between 0.35 and 0.7")
def a_wall(minutes: float, sides: float, mu_fi: float) -> float:
    """Minimum axis distance in a load-bearing wall.

    Parameters
    ----------
    minutes : float
        Fire resistance REI [min].
    sides : float
        Exposed sides, 1 or 2 [-].
    mu_fi : float
        Use in the fire situation [-].

    Returns
    -------
    a_wall : float
        Axis distance [mm].

    References
    ----------
    EN 1992-1-2:2004, table 5.4; 5.2(7) for what lies between.

    Examples
    --------
    >>> a_wall(120, 1, 0.7), a_wall(180, 2, 0.35)
    (35.0, 45.0)
    """
    ends = [np.interp(minutes, MINUTES, column) for column in WALL_AXIS[2 if sides > 1 else 1]]
    return float(np.interp(mu_fi, MU, ends))
