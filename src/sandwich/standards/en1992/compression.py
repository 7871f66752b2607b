"""EN 1992-1-1:2004, 6.1(4): sections in compression with the minimum eccentricity."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 6.1(4)", formula="e_0 = max(h/30, 20 mm)")
def e_0(h: Any) -> Any:
    """Minimum eccentricity of a section in compression.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    e_0 : float or ndarray
        Eccentricity [mm].

    References
    ----------
    EN 1992-1-1:2004, 6.1(4), for symmetrical reinforcement.

    Examples
    --------
    >>> float(e_0(250.0)), float(e_0(900.0))
    (20.0, 30.0)
    """
    return np.maximum(np.asarray(h) / 30.0, 20.0)


@clause("EN 1992-1-1:2004, 6.1(4), 3.1.7(3)", formula="n_Rd = fc (h - 2 e_0)")
def n_Rd(fc: Any, h: Any, e_0: Any) -> Any:
    """Compression that the concrete of a section carries at an eccentricity.

    Parameters
    ----------
    fc : float or ndarray
        Strength of the concrete, of cracked concrete where it is in tension across [MPa].
    h, e_0 : float or ndarray
        Thickness and eccentricity [mm].

    Returns
    -------
    n_Rd : float or ndarray
        Compression [N/mm]; zero where the eccentricity leaves the section.

    References
    ----------
    EN 1992-1-1:2004, 6.1(4) with the rectangular block of 3.1.7(3), bars in compression left out.

    Examples
    --------
    >>> float(n_Rd(20.0, 250.0, 20.0))
    4200.0
    """
    return fc * np.maximum(np.asarray(h) - 2.0 * e_0, 0.0)
