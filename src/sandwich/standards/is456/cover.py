"""IS 456:2000, 26.4: nominal cover by exposure and by fire."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.trace import clause

EXPOSURES: Final = ("mild", "moderate", "severe", "very severe", "extreme")
TABLE_16: Final = (20.0, 30.0, 45.0, 50.0, 75.0)
MILD, SEVERE, VERY_SEVERE = 0, 2, 3
THIN: Final = 12.0  # mm
STRONG: Final = 35.0  # MPa of cubes
LESS: Final = 5.0  # mm
MINUTES: Final = (30, 60, 90, 120, 180, 240)
SLAB_COVER: Final = ((20, 20, 25, 35, 45, 55), (20, 20, 20, 25, 35, 45))  # simply supported, continuous
SLAB: Final = (75, 95, 110, 125, 150, 170)
LIGHT, DENSE = 0.004, 0.01  # of steel in walls
WALL: Final = {  # below 0.4 %, up to 1 %, above; none where there is no figure
    "light": (150, 150, 175), "middle": (100, 120, 140, 160, 200, 240), "dense": (100, 100, 100, 100, 150, 180),
}  # fmt: skip


@clause("IS 456:2000, 26.4.2, table 16", formula="by exposure; 5 mm less of thin bars if mild, of M35 if severe; phi")
def nominal_cover(exposure: float, f_ck: float, phi: float) -> float:
    """Nominal cover by exposure.

    Parameters
    ----------
    exposure : float
        0 mild, 1 moderate, 2 severe, 3 very severe, 4 extreme [-].
    f_ck : float
        Cube strength [MPa].
    phi : float
        Diameter of the outer bars [mm].

    Returns
    -------
    nominal_cover : float
        Cover [mm], no less than the diameter (26.4.1).

    References
    ----------
    IS 456:2000, table 16 with its notes.

    Examples
    --------
    >>> nominal_cover(MILD, 25.0, 10.0), nominal_cover(SEVERE, 35.0, 16.0), nominal_cover(1, 30.0, 32.0)
    (15.0, 40.0, 32.0)
    """
    row = int(exposure)
    less = (row == MILD and phi <= THIN) or (row in (SEVERE, VERY_SEVERE) and f_ck >= STRONG)
    return max(TABLE_16[row] - (LESS if less else 0.0), phi)


@clause("IS 456:2000, 26.4.3, table 16A", formula="by hours and continuity")
def fire_cover(minutes: float, continuous: float) -> float:
    """Nominal cover of a slab for fire resistance.

    Parameters
    ----------
    minutes : float
        Fire resistance [min].
    continuous : float
        Whether the slab is continuous, or simply supported [-].

    Returns
    -------
    fire_cover : float
        Cover [mm].

    References
    ----------
    IS 456:2000, table 16A.

    Examples
    --------
    >>> fire_cover(120, False), fire_cover(120, True)
    (35.0, 25.0)
    """
    return float(np.interp(minutes, MINUTES, SLAB_COVER[1 if continuous >= 1 else 0]))


@clause("IS 456:2000, 21.2, figure 1", formula="by hours")
def slab_thickness(minutes: float) -> float:
    """Minimum thickness of a slab for fire resistance.

    Parameters
    ----------
    minutes : float
        Fire resistance [min].

    Returns
    -------
    slab_thickness : float
        Thickness [mm].

    References
    ----------
    IS 456:2000, figure 1.

    Examples
    --------
    >>> slab_thickness(120)
    125.0
    """
    return float(np.interp(minutes, MINUTES, SLAB))


@clause("IS 456:2000, 21.2, figure 1", formula="by hours and the ratio of steel")
def wall_thickness(minutes: float, ratio: float) -> float:
    """Minimum thickness of a wall for fire resistance.

    Parameters
    ----------
    minutes : float
        Fire resistance [min].
    ratio : float
        Vertical steel over the area [-].

    Returns
    -------
    wall_thickness : float
        Thickness [mm], inf of none.

    References
    ----------
    IS 456:2000, figure 1.

    Examples
    --------
    >>> wall_thickness(120, 0.005), wall_thickness(120, 0.003), wall_thickness(120, 0.02)
    (160.0, inf, 100.0)
    """
    column = WALL["light" if ratio < LIGHT else "middle" if ratio <= DENSE else "dense"]
    known = MINUTES[: len(column)]
    return float(np.interp(minutes, known, column, right=np.inf if len(column) < len(MINUTES) else None))
