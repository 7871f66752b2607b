"""IS 456:2000, 38.1 and Annex G: the stress block of the limit state of collapse in flexure."""

from __future__ import annotations

from sandwich.mechanics.block import StressBlock


def stress_block(f_ck: float, f_y: float, *, E_s: float = 200_000.0) -> StressBlock:
    """Parabola and rectangle as the block of the same size and centre, with bars at 0.87 f_y.

    Parameters
    ----------
    f_ck, f_y : float
        Characteristic cube strength and yield strength [MPa].
    E_s : float
        Modulus of the bars [MPa].

    Returns
    -------
    StressBlock
        0.36 f_ck x_u at a depth of 0.42 x_u, x_u/d up to 0.0035 / (0.0055 + 0.87 f_y/E_s).

    References
    ----------
    IS 456:2000, 38.1, figure 22; Annex G, G-1.1.

    Examples
    --------
    >>> round(stress_block(25.0, 415.0).depth_limit, 2)
    0.48
    """
    part = 2 * 0.42
    return StressBlock(0.36 * f_ck / part, part, 0.87 * f_y, 0.0035 / (0.0055 + 0.87 * f_y / E_s))
