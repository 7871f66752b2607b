"""ACI 318-19, 20.5.1.3: specified cover; ACI 216.1-14: dimensions of slabs and walls under fire."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.trace import clause

INSIDE, WEATHER, GROUND = 0, 1, 2
EXPOSURES: Final = ("inside", "weather", "cast against ground")
NO_16, NO_36 = 16.0, 35.9  # mm, No. 5 and No. 11
MINUTES: Final = (60, 90, 120, 180, 240)
AGGREGATES: Final = ("siliceous", "carbonate", "sand-lightweight", "lightweight")
THICKNESS: Final = (  # inches
    (3.5, 4.3, 5.0, 6.2, 7.0), (3.2, 4.0, 4.6, 5.7, 6.6), (2.7, 3.3, 3.8, 4.6, 5.4), (2.5, 3.1, 3.6, 4.4, 5.1),
)  # fmt: skip
SLAB_COVER: Final = ((0.75, 0.75, 1.0, 1.25, 1.625), (0.75, 0.75, 0.75, 1.25, 1.25))  # siliceous, others
RESTRAINED: Final = 0.75
INCH: Final = 25.4


@clause("ACI 318-19, 20.5.1.3.1, table 20.5.1.3.1", formula="75; 50, 40 up to No. 16; 20, 40 above No. 36 mm")
def specified_cover(exposure: float, d_b: float) -> float:
    """Minimum specified cover of slabs and walls that are cast in place and not prestressed.

    Parameters
    ----------
    exposure : float
        0 inside, 1 exposed to weather or in contact with ground, 2 cast against ground [-].
    d_b : float
        Diameter of the outer bars [mm].

    Returns
    -------
    specified_cover : float
        Cover [mm].

    References
    ----------
    ACI 318-19, table 20.5.1.3.1.

    Examples
    --------
    >>> specified_cover(WEATHER, 16.0), specified_cover(WEATHER, 20.0), specified_cover(INSIDE, 20.0)
    (40.0, 50.0, 20.0)
    """
    if exposure >= GROUND:
        return 75.0
    if exposure >= WEATHER:
        return 40.0 if d_b <= NO_16 else 50.0
    return 20.0 if d_b <= NO_36 else 40.0


@clause("ACI 216.1-14, table 4.2", formula="by hours and aggregate")
def equivalent_thickness(minutes: float, aggregate: float) -> float:
    """Minimum thickness of a slab or wall.

    Parameters
    ----------
    minutes : float
        Fire resistance [min].
    aggregate : float
        0 siliceous, 1 carbonate, 2 sand-lightweight, 3 lightweight [-].

    Returns
    -------
    equivalent_thickness : float
        Thickness [mm].

    References
    ----------
    ACI 216.1-14, table 4.2.

    Examples
    --------
    >>> equivalent_thickness(120, 0), equivalent_thickness(60, 1)
    (127.0, 81.28)
    """
    return float(np.interp(minutes, MINUTES, THICKNESS[int(aggregate)])) * INCH


@clause("ACI 216.1-14, table 4.3.1.1", formula="by hours, aggregate and restraint")
def slab_cover(minutes: float, aggregate: float, restrained: float) -> float:
    """Minimum cover of the bars of a slab that is not prestressed.

    Parameters
    ----------
    minutes : float
        Fire resistance [min].
    aggregate : float
        0 siliceous, 1 carbonate, 2 sand-lightweight, 3 lightweight [-].
    restrained : float
        Whether it is restrained against expansion [-].

    Returns
    -------
    slab_cover : float
        Cover [mm].

    References
    ----------
    ACI 216.1-14, table 4.3.1.1.

    Examples
    --------
    >>> slab_cover(120, 0, False), slab_cover(120, 0, True)
    (25.4, 19.049999999999997)
    """
    if restrained >= 1:
        return RESTRAINED * INCH
    return float(np.interp(minutes, MINUTES, SLAB_COVER[1 if aggregate >= 1 else 0])) * INCH
