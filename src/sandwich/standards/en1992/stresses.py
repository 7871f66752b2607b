"""EN 1992-1-1:2004, 7.2: stresses in service."""

from __future__ import annotations

from typing import Any

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 7.2(2)", formula="sigma_c <= k_1 f_ck, characteristic")
def sigma_c_char(f_ck: Any, *, k_1: Any = 0.6) -> Any:
    """Maximum concrete stress without longitudinal cracks.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].
    k_1 : float or ndarray
        Coefficient [-]; nationally determined.

    Returns
    -------
    sigma_c_char : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 7.2(2).

    Examples
    --------
    >>> sigma_c_char(35.0)
    21.0
    """
    return k_1 * f_ck


@clause("EN 1992-1-1:2004, 7.2(3)", formula="sigma_c <= k_2 f_ck, quasi-permanent")
def sigma_c_quasi(f_ck: Any, *, k_2: Any = 0.45) -> Any:
    """Maximum concrete stress with linear creep.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa].
    k_2 : float or ndarray
        Coefficient [-]; nationally determined.

    Returns
    -------
    sigma_c_quasi : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 7.2(3).

    Examples
    --------
    >>> sigma_c_quasi(35.0)
    15.75
    """
    return k_2 * f_ck


@clause("EN 1992-1-1:2004, 7.2(5)", formula="sigma_s <= k_3 f_yk, characteristic")
def sigma_s_char(f_yk: Any, *, k_3: Any = 0.8) -> Any:
    """Maximum steel stress without inelastic strain.

    Parameters
    ----------
    f_yk : float or ndarray
        Yield strength [MPa].
    k_3 : float or ndarray
        Coefficient [-]; nationally determined.

    Returns
    -------
    sigma_s_char : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 7.2(5).

    Examples
    --------
    >>> sigma_s_char(500.0)
    400.0
    """
    return k_3 * f_yk


@clause("EN 1992-1-1:2004, 7.2(5)", formula="sigma_s <= k_4 f_yk, imposed deformation")
def sigma_s_imposed(f_yk: Any, *, k_4: Any = 1.0) -> Any:
    """Maximum steel stress under imposed deformation.

    Parameters
    ----------
    f_yk : float or ndarray
        Yield strength [MPa].
    k_4 : float or ndarray
        Coefficient [-]; nationally determined.

    Returns
    -------
    sigma_s_imposed : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 7.2(5).

    Examples
    --------
    >>> sigma_s_imposed(500.0)
    500.0
    """
    return k_4 * f_yk


@clause("EN 1992-1-1:2004, 7.2(5)", formula="sigma_p <= k_5 f_pk, characteristic")
def sigma_p_mean(f_pk: Any, *, k_5: Any = 0.75) -> Any:
    """Maximum mean stress of tendons.

    Parameters
    ----------
    f_pk : float or ndarray
        Tensile strength of the tendons [MPa].
    k_5 : float or ndarray
        Coefficient [-]; nationally determined.

    Returns
    -------
    sigma_p_mean : float or ndarray
        Stress [MPa].

    References
    ----------
    EN 1992-1-1:2004, 7.2(5).

    Examples
    --------
    >>> sigma_p_mean(1860.0)
    1395.0
    """
    return k_5 * f_pk
