"""Strength of bars and compressed layers under IS 456:2000: our reading, for the standard has no three-layer model."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("IS 456:2000, 38.1(e), figure 23", formula="f_yd = 0.87 f_y")
def f_yd(f_y: Any) -> Any:
    """Design yield strength of bars.

    Parameters
    ----------
    f_y : float or ndarray
        Characteristic yield strength [MPa].

    Returns
    -------
    f_yd : float or ndarray
        Strength [MPa].

    References
    ----------
    IS 456:2000, 38.1(e) with gamma_m = 1.15 of 36.4.2.

    Examples
    --------
    >>> f_yd(500.0)
    435.0
    """
    return 0.87 * f_y


@clause("IS 456:2000, 38.1(c), figure 22; our reading for layers", formula="fc = 0.36 f_ck / 0.84")
def fc_bending(f_ck: Any) -> Any:
    """Strength of a compressed layer opposite bars that pull: the block of the same size and centre.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    fc_bending : float or ndarray
        Strength [MPa].

    References
    ----------
    IS 456:2000, 38.1(c), figure 22: 0.36 f_ck x_u at 0.42 x_u.

    Examples
    --------
    >>> round(fc_bending(25.0), 3)
    10.714
    """
    return 0.36 * f_ck / 0.84


@clause("IS 456:2000, 39.3; our reading for layers", formula="fc = 0.4 f_ck")
def fc_whole(f_ck: Any) -> Any:
    """Strength of layers where no bar pulls.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    fc_whole : float or ndarray
        Strength [MPa].

    References
    ----------
    IS 456:2000, 39.3: short columns with the minimum eccentricity.

    Examples
    --------
    >>> fc_whole(25.0)
    10.0
    """
    return 0.4 * f_ck


@clause("our reading; IS 456:2000 has none", formula="fc = 0.6 0.4 f_ck")
def fc_cracked(f_ck: Any) -> Any:
    """Strength of a layer with transverse tension or bars that pull across it.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    fc_cracked : float or ndarray
        Strength [MPa].

    References
    ----------
    Six tenths of the strength without transverse tension, as other standards take it.

    Examples
    --------
    >>> fc_cracked(25.0)
    6.0
    """
    return 0.6 * 0.4 * f_ck


@clause("IS 456:2000, 25.4", formula="e_min = max(h/30, 20 mm); the height of the wall is not known here")
def e_min(h: Any) -> Any:
    """Minimum eccentricity of a section in compression, without l/500.

    Parameters
    ----------
    h : float or ndarray
        Thickness [mm].

    Returns
    -------
    e_min : float or ndarray
        Eccentricity [mm].

    References
    ----------
    IS 456:2000, 25.4.

    Examples
    --------
    >>> float(e_min(250.0)), float(e_min(900.0))
    (20.0, 30.0)
    """
    return np.maximum(np.asarray(h) / 30.0, 20.0)


@clause("IS 456:2000, 25.4, 38.1; our reading for layers", formula="p_u = fc (h - 2 e_min)")
def p_u(fc: Any, h: Any, e_min: Any) -> Any:
    """Compression that the concrete of a section carries at an eccentricity.

    Parameters
    ----------
    fc : float or ndarray
        Strength of the concrete, of cracked concrete where it is in tension across [MPa].
    h, e_min : float or ndarray
        Thickness and eccentricity [mm].

    Returns
    -------
    p_u : float or ndarray
        Compression [N/mm]; zero where the eccentricity leaves the section.

    References
    ----------
    IS 456:2000, 25.4, with concrete alone.

    Examples
    --------
    >>> float(p_u(10.0, 250.0, 20.0))
    2100.0
    """
    return fc * np.maximum(np.asarray(h) - 2.0 * e_min, 0.0)


@clause("IS 456:2000, 6.2.2", formula="f_cr = 0.7 f_ck^(1/2)")
def f_cr(f_ck: Any) -> Any:
    """Flexural strength of concrete.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cube strength [MPa].

    Returns
    -------
    f_cr : float or ndarray
        Stress at which the extreme fibre cracks [MPa].

    References
    ----------
    IS 456:2000, 6.2.2.

    Examples
    --------
    >>> round(float(f_cr(25.0)), 2)
    3.5
    """
    return 0.7 * np.sqrt(f_ck)


@clause("IS 456:2000, 39.3", formula="f_sc = 0.67 f_y")
def f_sc(f_y: Any) -> Any:
    """Design stress of bars in compression.

    Parameters
    ----------
    f_y : float or ndarray
        Characteristic strength of the bars [MPa].

    Returns
    -------
    f_sc : float or ndarray
        Stress [MPa].

    References
    ----------
    IS 456:2000, 39.3, with the minimum eccentricity.

    Examples
    --------
    >>> f_sc(500.0)
    335.0
    """
    return 0.67 * f_y
