"""The core of a section with vertical links: struts in the direction of the principal shear, and their thrust."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]


def thrust(v_x: ArrayLike, v_y: ArrayLike, cot_theta: ArrayLike) -> Floats:
    """Membrane force with which the outer layers hold the struts of the core, half of it in each.

    Parameters
    ----------
    v_x, v_y : array_like
        Transverse shear forces [N/mm].
    cot_theta : array_like
        Inclination of the struts to the plane [-].

    Returns
    -------
    ndarray, shape (..., 3)
        n_x, n_y, n_xy [N/mm], tension positive: v cot theta in the direction of the shear.

    References
    ----------
    P. Marti, "Design of concrete slabs for transverse shear", ACI Structural Journal 87, 1990; EN 1992-2:2005,
    Annex LL.

    Examples
    --------
    >>> thrust(30.0, 40.0, 1.0)
    array([18., 32., 24.])
    """
    x, y = np.asarray(v_x, dtype=float), np.asarray(v_y, dtype=float)
    part = np.asarray(cot_theta) / np.maximum(np.hypot(x, y), 1e-12)
    return np.stack([x * x * part, y * y * part, x * y * part], axis=-1)
