"""EN 1992-1-1:2004, 4.4.1: concrete cover."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from sandwich.core.trace import clause

LOWEST, BASE, HIGHEST = 1, 4, 6  # structural classes
EXPOSURES: Final = ("X0", "XC1", "XC2", "XC3", "XC4", "XD1", "XD2", "XD3", "XS1", "XS2", "XS3")
COLUMN: Final = {
    "X0": 0, "XC1": 1, "XC2": 2, "XC3": 2, "XC4": 3, "XD1": 4, "XS1": 4, "XD2": 5, "XS2": 5, "XD3": 6, "XS3": 6,
}  # fmt: skip
TABLE_4_4N: Final = (
    (10, 10, 10, 15, 20, 25, 30), (10, 10, 15, 20, 25, 30, 35), (10, 10, 20, 25, 30, 35, 40),
    (10, 15, 25, 30, 35, 40, 45), (15, 20, 30, 35, 40, 45, 50), (20, 25, 35, 40, 45, 50, 55),
)  # fmt: skip
STRONG: Final = {
    "X0": 30.0, "XC1": 30.0, "XC2": 35.0, "XC3": 35.0, "XC4": 40.0, "XD1": 40.0, "XD2": 40.0, "XS1": 40.0,
    "XD3": 45.0, "XS2": 45.0, "XS3": 45.0,
}  # fmt: skip
LEAST: Final = 10.0  # mm
DEVIATION: Final = 10.0  # mm, 4.4.1.3(1)


@clause("EN 1992-1-1:2004, table 4.3N", formula="start + 2 for 100 years - 1 each for strength, slab, quality; 1 to 6")
def structural_class(start: Any, life: Any, strong: Any, slab: Any, quality: Any) -> Any:
    """Structural class of a member.

    Parameters
    ----------
    start : int or ndarray
        Class for 50 years [-].
    life : int or ndarray
        Design working life [years].
    strong : bool or ndarray
        Whether the strength class reaches that of the table [-].
    slab : bool or ndarray
        Whether the member has the geometry of a slab [-].
    quality : bool or ndarray
        Whether special quality control of the concrete is ensured [-].

    Returns
    -------
    structural_class : int or ndarray
        The class, 1 to 6 [-].

    References
    ----------
    EN 1992-1-1:2004, table 4.3N.

    Examples
    --------
    >>> int(structural_class(4, 50, False, True, False)), int(structural_class(4, 100, False, False, False))
    (3, 6)
    """
    found = np.asarray(start) + 2 * (np.asarray(life) >= 100) - 1 * np.asarray(strong)
    return np.clip(found - 1 * np.asarray(slab) - 1 * np.asarray(quality), LOWEST, HIGHEST)


@clause("EN 1992-1-1:2004, table 4.4N", formula="by class and exposure")
def c_min_dur(structural_class: Any, column: Any) -> float:
    """Minimum cover of reinforcing steel by the environment.

    Parameters
    ----------
    structural_class : float
        Class of the member, 1 to 6 [-].
    column : float
        Column of the exposure: 0 of X0, XC1, XC2 and XC3, XC4, XD1 and XS1, XD2 and XS2, 6 of XD3 and XS3 [-].

    Returns
    -------
    c_min_dur : float
        Cover [mm].

    References
    ----------
    EN 1992-1-1:2004, table 4.4N.

    Examples
    --------
    >>> c_min_dur(4, COLUMN["XC3"]), c_min_dur(3, COLUMN["XD1"])
    (25.0, 30.0)
    """
    return float(TABLE_4_4N[int(structural_class) - LOWEST][int(column)])


@clause("EN 1992-1-1:2004, 4.4.1.2(2)P, (4.2)", formula="max(c_min,b, c_min,dur, 10 mm)")
def c_min(c_min_b: Any, c_min_dur: Any) -> Any:
    """Minimum cover.

    Parameters
    ----------
    c_min_b : float or ndarray
        Cover for bond, the diameter of the bar [mm].
    c_min_dur : float or ndarray
        Cover by the environment [mm].

    Returns
    -------
    c_min : float or ndarray
        Cover [mm].

    References
    ----------
    EN 1992-1-1:2004, (4.2).

    Examples
    --------
    >>> float(c_min(12.0, 15.0)), float(c_min(20.0, 15.0))
    (15.0, 20.0)
    """
    return np.maximum(np.maximum(c_min_b, c_min_dur), LEAST)


@clause("EN 1992-1-1:2004, 4.4.1.1(2)P, (4.1)", formula="c_min + Delta c_dev")
def c_nom(c_min: Any, dc_dev: Any) -> Any:
    """Nominal cover, as drawings have it.

    Parameters
    ----------
    c_min : float or ndarray
        Minimum cover [mm].
    dc_dev : float or ndarray
        Allowance for deviation [mm].

    Returns
    -------
    c_nom : float or ndarray
        Cover [mm].

    References
    ----------
    EN 1992-1-1:2004, (4.1).

    Examples
    --------
    >>> float(c_nom(25.0, 10.0))
    35.0
    """
    return np.asarray(c_min) + dc_dev
