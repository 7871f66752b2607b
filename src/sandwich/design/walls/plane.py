"""The strain plane of a section under any demand that it carries: strains, stresses of concrete and of each bar."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.mechanics.planesection import PlaneSection
from sandwich.standards.interface import MemberLaw

Floats = NDArray[np.float64]
EPS_C: Final = 0.002  # end of the parabola where the law of the standard is a block
CLOSE: Final = 1e-9  # of the size of the resultants
HELD: Final = 1e-5  # the same: a plane that was found
ROUNDS: Final = 60
HALVINGS: Final = 12


@dataclass(frozen=True)
class StrainPlane:
    """A strain plane: compressive strain at the centroid [-], slopes along x and y [1/mm], bar stresses [MPa].

    `stresses` (b,) are positive in tension; `corner` is the largest compressive strain [-], `concrete` the stress
    there [MPa].
    """

    strain: float
    slope_x: float
    slope_y: float
    stresses: Floats
    corner: float
    concrete: float


def strain_plane(section: PlaneSection, law: MemberLaw, N: float, Mx: float, My: float) -> StrainPlane:
    """The plane at which a section is in equilibrium with a demand.

    Parameters
    ----------
    section : PlaneSection
        Concrete and bars.
    law : MemberLaw
        Their laws; a block is taken as a parabola up to 2 per mille of the same stress.
    N, Mx, My : float
        Axial force [N], tension positive, and moments about the centroid of the concrete [N mm].

    Returns
    -------
    StrainPlane
        Design values of the materials.

    Raises
    ------
    ValueError
        If the materials do not carry the demand up to the ultimate strain.

    References
    ----------
    Plane sections remain plane; Newton's method on the three parameters of the plane.
    """
    concrete = law.concrete if law.concrete.n > 0.0 else replace(law.concrete, n=2.0, eps_c=EPS_C)
    corners = np.concatenate([r - section.centroid for r in section.rings])
    size = np.ptp(corners, axis=0)
    force = abs(section.squash(concrete, law.steel))
    scale = np.array([force, force * size[1], force * size[0]])
    unit = np.array([EPS_C, EPS_C / size[0], EPS_C / size[1]])
    wanted = np.array([N, Mx, My])

    def left(plane: Floats) -> Floats:
        return np.asarray((section.resultants(plane, concrete, law.steel)[0] - wanted) / scale)

    plane = np.array([-N / force * EPS_C, My / scale[2] * unit[1], -Mx / scale[1] * unit[2]])
    r = left(plane)
    for _ in range(ROUNDS):
        if np.abs(r).max() < CLOSE:
            break
        step = 1e-6 * unit
        slopes = np.stack([(left(plane + d) - r) for d in np.diag(step)], axis=1)
        move = -np.linalg.lstsq(slopes, r, rcond=None)[0] * step
        share = 1.0
        for _ in range(HALVINGS):
            trial = left(plane + share * move)
            if np.linalg.norm(trial) < np.linalg.norm(r):
                break
            share /= 2.0
        plane, r = plane + share * move, left(plane + share * move)
    most = float(plane[0] + (corners @ plane[1:]).max())
    if not np.abs(r).max() < HELD or most > concrete.eps_cu * (1.0 + 1e-6):
        raise ValueError("the section does not carry the demand within its ultimate strain; look at its utilisation")
    bars = plane[0] + (section.bars - section.centroid) @ plane[1:]
    return StrainPlane(
        strain=float(plane[0]), slope_x=float(plane[1]), slope_y=float(plane[2]), stresses=-law.steel.at(bars),
        corner=most, concrete=float(concrete.at(np.array(most))),
    )  # fmt: skip
