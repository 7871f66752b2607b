"""Flat shell of four nodes: linear elastic, small displacements, sparse direct solution.

Membrane: bilinear with incompatible modes (Taylor, Beresford, Wilson 1976) and a drilling term (Hughes, Brezzi
1989). Plate: Reissner-Mindlin with tied shear strains (Dvorkin, Bathe 1984). Units are whatever the input
has; six unknowns a node: three displacements and the rotation vector, in global axes.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import splu

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_G = 1.0 / np.sqrt(3.0)
GAUSS = np.array([[-_G, -_G], [_G, -_G], [_G, _G], [-_G, _G]])
CORNERS = np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]])
DRILLING = 1e-2  # of the shear stiffness: enough to hold the rotation, too little to stiffen


def shape(points: Floats) -> tuple[Floats, Floats]:
    """Bilinear shape functions (g, 4) and derivatives by xi and eta (g, 2, 4)."""
    xi, eta = points[:, :1], points[:, 1:]
    a, b = CORNERS[:, 0], CORNERS[:, 1]
    n = (1 + xi * a) * (1 + eta * b) / 4
    return n, np.stack([a * (1 + eta * b) / 4, b * (1 + xi * a) / 4], axis=1)


@dataclass(frozen=True)
class Model:
    """Nodes (n, 3), corners (e, 4), thickness (e,), axes (e, 3, 3) with rows x, y, z; E and nu of the concrete."""

    xyz: Floats
    corners: Ints
    thickness: Floats
    axes: Floats
    E: float
    nu: float

    @property
    def local(self) -> Floats:
        """Corner places in the plane of each element, (e, 4, 2)."""
        p = self.xyz[self.corners]
        return np.einsum("eij,ecj->eci", self.axes[:, :2], p - p.mean(1, keepdims=True))


@dataclass(frozen=True)
class Operators:
    """What strains are of the 24 local unknowns at the Gauss points: membrane, curvature, shear; and weights."""

    membrane: Floats
    modes: Floats
    curvature: Floats
    shear: Floats
    drilling: Floats
    weight: Floats
    centre_weight: Floats


def _jacobian(derivative: Floats, xy: Floats) -> tuple[Floats, Floats]:
    """Jacobian (e, g, 2, 2), rows d/dxi and d/deta, and its determinant."""
    j = np.einsum("gik,ekj->egij", derivative, xy)
    return j, np.linalg.det(j)


def operators(xy: Floats) -> Operators:
    """Strain operators of all elements from their corner places in their plane."""
    e = len(xy)
    _, d = shape(GAUSS)
    j, det = _jacobian(d, xy)
    g = np.einsum("egij,gjk->egik", np.linalg.inv(j), d)
    n0, d0 = shape(np.zeros((1, 2)))
    j0, det0 = _jacobian(d0, xy)
    membrane, curvature = np.zeros((2, e, 4, 3, 24))
    for k in range(4):
        u, v, rx, ry = (6 * k + i for i in (0, 1, 3, 4))
        membrane[:, :, 0, u] = membrane[:, :, 2, v] = g[:, :, 0, k]
        membrane[:, :, 1, v] = membrane[:, :, 2, u] = g[:, :, 1, k]
        # in-plane displacement at height z is z times (ry, -rx)
        curvature[:, :, 0, ry] = g[:, :, 0, k]
        curvature[:, :, 1, rx] = -g[:, :, 1, k]
        curvature[:, :, 2, ry] = g[:, :, 1, k]
        curvature[:, :, 2, rx] = -g[:, :, 0, k]
    bubbles = np.zeros((4, 2, 2))
    bubbles[:, 0, 0], bubbles[:, 1, 1] = -2 * GAUSS[:, 0], -2 * GAUSS[:, 1]
    b = np.einsum("eij,gjk->egik", np.linalg.inv(j0[:, 0]), bubbles) * (det0 / det)[:, :, None, None]
    modes = np.zeros((e, 4, 3, 4))
    for k in range(2):
        modes[:, :, 0, 2 * k] = modes[:, :, 2, 2 * k + 1] = b[:, :, 0, k]
        modes[:, :, 1, 2 * k + 1] = modes[:, :, 2, 2 * k] = b[:, :, 1, k]
    g0 = np.einsum("eij,jk->eik", np.linalg.inv(j0[:, 0]), d0[0])
    drilling = np.zeros((e, 24))
    for k in range(4):
        drilling[:, 6 * k + 5] = n0[0, k]
        drilling[:, 6 * k] = g0[:, 1, k] / 2
        drilling[:, 6 * k + 1] = -g0[:, 0, k] / 2
    return Operators(membrane, modes, curvature, _tied_shear(xy, j), drilling, det, 4 * det0[:, 0])


def _tied_shear(xy: Floats, j: Floats) -> Floats:
    """Shear strains tied at the middles of the sides, (e, 4, 2, 24)."""
    sides = np.array([[0.0, -1.0], [0.0, 1.0], [-1.0, 0.0], [1.0, 0.0]])
    n, d = shape(sides)
    js, _ = _jacobian(d, xy)
    covariant = np.zeros((len(xy), 4, 24))
    for s in range(4):
        along = 0 if s < 2 else 1
        for k in range(4):
            covariant[:, s, 6 * k + 2] = d[s, along, k]
            covariant[:, s, 6 * k + 4] = n[s, k] * js[:, s, along, 0]
            covariant[:, s, 6 * k + 3] = -n[s, k] * js[:, s, along, 1]
    xi, eta = GAUSS[:, 0][:, None], GAUSS[:, 1][:, None]
    c = covariant[:, None]
    natural = np.stack(
        [
            (1 - eta) / 2 * c[:, :, 0] + (1 + eta) / 2 * c[:, :, 1],
            (1 - xi) / 2 * c[:, :, 2] + (1 + xi) / 2 * c[:, :, 3],
        ],
        axis=2,
    )
    return np.asarray(np.einsum("egij,egjk->egik", np.linalg.inv(j), natural))


def elasticity(model: Model) -> tuple[Floats, float]:
    """Plane stress matrix for unit thickness, (3, 3), and shear modulus."""
    c = model.E / (1 - model.nu**2)
    shear = model.E / 2 / (1 + model.nu)
    return np.array([[c, c * model.nu, 0], [c * model.nu, c, 0], [0, 0, shear]]), shear


def _condense(model: Model, o: Operators) -> tuple[Floats, Floats]:
    """Membrane stiffness with the modes condensed (e, 24, 24), and the modes as functions of the unknowns."""
    c, _ = elasticity(model)
    t = model.thickness
    w = o.weight * t[:, None]
    kuu = np.einsum("egia,ij,egjb,eg->eab", o.membrane, c, o.membrane, w, optimize=True)
    kua = np.einsum("egia,ij,egjb,eg->eab", o.membrane, c, o.modes, w, optimize=True)
    kaa = np.einsum("egia,ij,egjb,eg->eab", o.modes, c, o.modes, w, optimize=True)
    alpha = -np.linalg.solve(kaa, np.swapaxes(kua, 1, 2))
    return kuu + kua @ alpha, alpha


def stiffness(model: Model, o: Operators) -> Floats:
    """Element stiffness in element axes, (e, 24, 24)."""
    c, shear = elasticity(model)
    t = model.thickness
    k, _ = _condense(model, o)
    k += np.einsum("egia,ij,egjb,eg->eab", o.curvature, c, o.curvature, o.weight * (t**3 / 12)[:, None], optimize=True)
    k += np.einsum("egia,egib,eg->eab", o.shear, o.shear, o.weight * (5 / 6 * shear * t)[:, None], optimize=True)
    k += np.einsum("ea,eb,e->eab", o.drilling, o.drilling, o.centre_weight * DRILLING * shear * t)
    return k


def _to_global(model: Model) -> Floats:
    """Turns 24 global unknowns into element axes, (e, 24, 24)."""
    turn = np.zeros((len(model.corners), 24, 24))
    for k in range(8):
        turn[:, 3 * k : 3 * k + 3, 3 * k : 3 * k + 3] = model.axes
    return turn


def unknowns(corners: Ints) -> Ints:
    """Numbers of the 24 unknowns of each element."""
    return (6 * corners[:, :, None] + np.arange(6)).reshape(len(corners), 24)


def solve(model: Model, loads: Floats, fixed: Ints, springs: list[tuple[int, Floats]]) -> tuple[Floats, Floats]:
    """Displacements of each load case, and what supports and springs exert, both (6 n, cases).

    `loads` (6 n, cases) and `fixed` are by unknown; a spring is a node and its 6 x 6 stiffness.
    """
    turn = _to_global(model)
    k = np.swapaxes(turn, 1, 2) @ stiffness(model, operators(model.local)) @ turn
    at = unknowns(model.corners)
    rows, columns = np.repeat(at, 24, axis=1).ravel(), np.tile(at, (1, 24)).ravel()
    values = k.ravel()
    for node, s in springs:
        own = 6 * node + np.arange(6)
        rows, columns = np.append(rows, np.repeat(own, 6)), np.append(columns, np.tile(own, 6))
        values = np.append(values, s.ravel())
    size = 6 * len(model.xyz)
    whole = coo_matrix((values, (rows, columns)), shape=(size, size)).tocsc()
    free = np.setdiff1d(np.arange(size), fixed)
    u = np.zeros((size, loads.shape[1]))
    u[free] = splu(whole[free][:, free].tocsc()).solve(loads[free])
    exerted = np.zeros_like(u)
    exerted[fixed] = whole[fixed] @ u - loads[fixed]
    for node, s in springs:
        own = 6 * node + np.arange(6)
        exerted[own] -= s @ u[own]
    return u, exerted


def corner_resultants(model: Model, u: Floats) -> Floats:
    """Resultants at the corners in element axes, (cases, e, 4, 8): Gauss values, extrapolated bilinearly.

    Tension positive, positive moments put the -z side in tension, v is the integral of tau_z.
    """
    o = operators(model.local)
    c, shear = elasticity(model)
    t = model.thickness[:, None, None]
    _, alpha = _condense(model, o)
    own = np.einsum("eij,ejc->cei", _to_global(model), u[unknowns(model.corners)])
    strain = np.einsum("egik,cek->cegi", o.membrane + o.modes @ alpha[:, None], own)
    curvature = np.einsum("egik,cek->cegi", o.curvature, own)
    gamma = np.einsum("egik,cek->cegi", o.shear, own)
    at_gauss = np.concatenate([strain @ c * t, -curvature @ c * t**3 / 12, gamma * (5 / 6 * shear) * t], axis=-1)
    outward, _ = shape(CORNERS * np.sqrt(3.0))
    return np.asarray(np.einsum("kg,cegi->ceki", outward, at_gauss))


def pressure(model: Model, q: Floats) -> Floats:
    """Nodal forces (6 n,) of a force per area on each element, (e, 3) in global axes."""
    n, d = shape(GAUSS)
    _, det = _jacobian(d, model.local)
    share = np.einsum("gk,eg->ek", n, det)
    out = np.zeros(6 * len(model.xyz))
    for i in range(3):
        np.add.at(out, 6 * model.corners + i, share * q[:, i : i + 1])
    return out


def column_spring(E: float, side: float, length: float, nu: float = 0.2) -> Floats:
    """Stiffness (6, 6) of the head of a square column with a fixed foot below, shear deformation left out."""
    area, inertia = side**2, side**4 / 12
    k = np.zeros((6, 6))
    bend, couple, turn = 12 * E * inertia / length**3, 6 * E * inertia / length**2, 4 * E * inertia / length
    k[0, 0] = k[1, 1] = bend
    k[2, 2] = E * area / length
    k[3, 3] = k[4, 4] = turn
    k[5, 5] = E / 2 / (1 + nu) * 0.141 * side**4 / length
    # the foot stands below the head: a head moved along x needs a moment about y
    k[0, 4] = k[4, 0] = -couple
    k[1, 3] = k[3, 1] = couple
    return k
