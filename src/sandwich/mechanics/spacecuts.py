"""Plane cuts through a shell mesh in space: forces and moments of one part on the other, element by element."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
ASIDE: Final = 1e-7  # of the size of the mesh: how far both sides of a cut are looked at beside it
FOUND: Final = 1e-13  # of the size of the elements: a place in an element
LEVEL: Final = 1e-6  # sine between the plane and an element that it does not cut
_ABSCISSAE, _WEIGHTS = np.polynomial.legendre.leggauss(3)
_ABSCISSAE, _WEIGHTS = (_ABSCISSAE + 1.0) / 2.0, _WEIGHTS / 2.0


@dataclass(frozen=True)
class SpaceCut:
    """Pieces of a plane cut inside elements, the mean of both sides of the plane.

    Attributes
    ----------
    point, normal : ndarray, shape (3,)
        A place of the plane [mm] and its unit normal.
    element : ndarray of int, shape (q,)
        Element of each piece.
    ends : ndarray, shape (q, 2, 3)
        Its ends [mm].
    weight : ndarray, shape (q,)
        1/2 of pieces that stand on both sides, and of others where each side has such; else 1.
    across : ndarray, shape (q, 2)
        Unit normal of the piece in the axes of its element, on the side of the plane's normal.
    one_sided : ndarray of bool, shape (q,)
        Pieces with no element on the other side, as at the border of a mesh: corner results come from one side.
    share : ndarray, shape (q,)
        Part of its element that a piece goes through [-]; less than 1 where it was cut off.
    """

    point: Floats
    normal: Floats
    element: Ints
    ends: Floats
    weight: Floats
    across: Floats
    one_sided: NDArray[np.bool_]
    share: Floats

    @property
    def length(self) -> Floats:
        """Length of each piece by its weight [mm]."""
        return np.asarray(self.weight * np.linalg.norm(self.ends[:, 1] - self.ends[:, 0], axis=1))

    @property
    def alone(self) -> float:
        """Part of the length with no element on the other side [-], none where it is of rounding."""
        part = float(self.length[self.one_sided].sum() / self.length.sum())
        return part if part > ASIDE else 0.0

    def centroid(self, thickness: Floats) -> tuple[Floats, float]:
        """Centroid [mm] and area [mm2] of the cut, thickness times length, of elements so thick (e,).

        Raises
        ------
        ValueError
            If no piece has an area.
        """
        area = thickness[self.element] * self.length
        whole = float(area.sum())
        if not whole > 0.0:
            raise ValueError("the cut has no piece with a thickness; look at its panel, its limits and the thickness")
        return area @ self.ends.mean(1) / whole, whole

    def picked(self, which: NDArray[np.bool_]) -> SpaceCut:
        """Some of the pieces, such as those of one panel."""
        return SpaceCut(
            self.point, self.normal, self.element[which], self.ends[which], self.weight[which], self.across[which],
            self.one_sided[which], self.share[which],
        )  # fmt: skip

    def within(self, origin: ArrayLike, direction: ArrayLike, low: float, high: float) -> SpaceCut:
        """The pieces between two places along a direction from an origin [mm]."""
        return self.between(
            (self.ends - np.asarray(origin, dtype=float)) @ np.asarray(direction, dtype=float), low, high
        )

    def between(self, along: Floats, low: float, high: float) -> SpaceCut:
        """The pieces between two places of a coordinate that runs evenly in each from one end to the other, (q, 2)."""
        first, change = along[:, 0], along[:, 1] - along[:, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            bounds = np.stack([(low - first) / change, (high - first) / change])
        still = change == 0.0
        start = np.where(still, 0.0, np.clip(bounds.min(0), 0.0, 1.0))
        end = np.where(still, np.where((first >= low) & (first <= high), 1.0, 0.0), np.clip(bounds.max(0), 0.0, 1.0))
        way = self.ends[:, 1] - self.ends[:, 0]
        ends = np.stack([self.ends[:, 0] + start[:, None] * way, self.ends[:, 0] + end[:, None] * way], axis=1)
        share = self.share * (end - start)
        cut = SpaceCut(self.point, self.normal, self.element, ends, self.weight, self.across, self.one_sided, share)
        return cut.picked(end > start)


@dataclass(frozen=True)
class CutForces:
    """What the part on the side of the normal does to the other, for each of k loadings.

    Attributes
    ----------
    N, V1, V2 : ndarray, shape (k,)
        Forces along the normal, tension positive, and along both axes of the cut [N].
    M1, M2, T : ndarray, shape (k,)
        Moments about the axes and the normal through the centroid, by the right hand [N mm].
    centroid : ndarray, shape (3,)
        Of the cut [mm].
    area : float
        Thickness times length [mm2].
    axes : ndarray, shape (3, 3)
        First and second axis and the normal.
    """

    N: Floats
    V1: Floats
    V2: Floats
    M1: Floats
    M2: Floats
    T: Floats
    centroid: Floats
    area: float
    axes: Floats


def cut_by_plane(
    corners: Floats, real: NDArray[np.bool_], axes: Floats, point: ArrayLike, normal: ArrayLike
) -> SpaceCut:
    """Pieces of a plane cut inside elements.

    Parameters
    ----------
    corners : ndarray, shape (e, 4, 3)
        Corner places [mm]; the fourth of a triangle anywhere.
    real : ndarray of bool, shape (e, 4)
        Corners that exist.
    axes : ndarray, shape (e, 3, 3)
        Unit vectors x, y, normal of each element.
    point, normal : array_like, shape (3,)
        A place of the plane [mm] and its normal, of any length.

    Returns
    -------
    SpaceCut
        The mean of both sides of the plane.

    Raises
    ------
    ValueError
        If the plane cuts no element, or its normal has no length.
    """
    place, way = np.asarray(point, dtype=float), np.asarray(normal, dtype=float)
    size = float(np.linalg.norm(way))
    if not (np.isfinite(place).all() and size > 0.0):
        raise ValueError("a plane needs a place and a normal of some length")
    way = way / size
    filled = np.where(real[..., None], corners, corners[:, 2:3])
    reach = ASIDE * max(float(np.ptp(filled.reshape(-1, 3), axis=0).max()), 1.0)
    sides = [_pieces(filled, axes, place + step * way, way) for step in (reach, -reach)]
    if not any(len(element) for element, _, _ in sides):
        raise ValueError("the plane cuts no element; look at its place and its normal")
    (_, first, _), (_, second, _) = sides
    alone = _apart(first, second, 4.0 * reach), _apart(second, first, 4.0 * reach)
    # a wall that ends at the plane counts whole; where walls end on both sides the mean of two sections counts
    other = 0.5 if alone[0].any() and alone[1].any() else 1.0
    element, ends, across = (np.concatenate([s[i] for s in sides]) for i in range(3))
    one_sided = np.concatenate(alone)
    weight = np.where(one_sided, other, 0.5)
    return SpaceCut(place, way, element, ends, weight, across, one_sided, np.ones(len(element)))


def _apart(pieces: Floats, others: Floats, near: float) -> NDArray[np.bool_]:
    """Pieces whose middle lies on none of some others, all of shape (q, 2, 3)."""
    if not len(others):
        return np.ones(len(pieces), dtype=bool)
    along = others[:, 1] - others[:, 0]
    length = np.maximum(np.sum(along**2, axis=1), 1e-300)
    from_start = pieces.mean(1)[:, None] - others[:, 0]
    share = np.clip(np.einsum("pqd,qd->pq", from_start, along) / length, 0.0, 1.0)
    return np.asarray(np.linalg.norm(from_start - share[..., None] * along, axis=2).min(1) > near)


def _pieces(corners: Floats, axes: Floats, point: Floats, normal: Floats) -> tuple[Ints, Floats, Floats]:
    """Elements that a plane cuts, both ends of the cut in each, and its normal in their axes."""
    across = axes[:, :2] @ normal
    d = (corners - point) @ normal
    d = np.where(d == 0.0, 1e-300, d)
    after = np.roll(d, -1, axis=1)
    crossed = d * after < 0.0
    cut = np.flatnonzero((crossed.sum(1) == 2) & (np.linalg.norm(across, axis=1) > LEVEL))
    share = d[cut] / np.where(crossed[cut], d[cut] - after[cut], 1.0)
    at = corners[cut] + share[..., None] * (np.roll(corners[cut], -1, axis=1) - corners[cut])
    ends = at[crossed[cut]].reshape(-1, 2, 3)
    own = across[cut]
    return cut, ends, own / np.linalg.norm(own, axis=1, keepdims=True)


def frame_of(cut: SpaceCut, first: ArrayLike) -> Floats:
    """First and second axis of a cut and its normal; the first is the part of a direction in its plane.

    Raises
    ------
    ValueError
        If the direction stands on the plane.
    """
    one = np.asarray(first, dtype=float) - (np.asarray(first, dtype=float) @ cut.normal) * cut.normal
    if np.linalg.norm(one) < LEVEL:
        raise ValueError("the first axis stands on the plane of the cut; choose a direction in it")
    one = one / np.linalg.norm(one)
    return np.stack([one, np.cross(cut.normal, one), cut.normal])


def cut_forces(
    cut: SpaceCut, corners: Floats, real: NDArray[np.bool_], axes: Floats, thickness: Floats, values: Floats,
    first: ArrayLike = (1.0, 0.0, 0.0), about: ArrayLike | None = None,
) -> CutForces:  # fmt: skip
    """Forces and moments of a cut from the resultants at the corners of its elements.

    Parameters
    ----------
    cut : SpaceCut
        The cut, or part of it.
    corners, real, axes : ndarray
        As in `cut_by_plane`.
    thickness : ndarray, shape (e,)
        Thickness of the elements [mm].
    values : ndarray, shape (k, e, 4, 8)
        Resultants of the corners in element axes [N, mm].
    first : array_like, shape (3,)
        Direction whose part in the plane is the first axis.
    about : array_like, shape (3,), optional
        Where moments are taken about [mm]; the centroid of the cut by default.

    Returns
    -------
    CutForces
        For each loading.

    Raises
    ------
    ValueError
        If the direction of the first axis stands on the plane.

    References
    ----------
    Statics: the traction n nu in the plane of an element and v nu across it, with e_3 x (m nu) for its moments; by
    Gauss's rule of three points along each piece, exact for triangles and parallelograms.
    """
    frame = frame_of(cut, first)
    centroid, area = cut.centroid(thickness)
    middle = centroid if about is None else np.asarray(about, dtype=float)
    count = len(_WEIGHTS)
    e = np.tile(cut.element, count)  # the places of all pieces at once
    place = np.concatenate([cut.ends[:, 0] + share * (cut.ends[:, 1] - cut.ends[:, 0]) for share in _ABSCISSAE])
    line, (nu_x, nu_y) = np.outer(_WEIGHTS, cut.length).ravel()[:, None], np.tile(cut.across, (count, 1)).T
    own = axes[e]
    shape = _shares(corners[e], real[e], own, place)
    nx, ny, nxy, mx, my, mxy, vx, vy = np.moveaxis(np.einsum("qc,kqcf->kqf", shape, values[:, e]), -1, 0)
    pull = np.stack([nx * nu_x + nxy * nu_y, nxy * nu_x + ny * nu_y, vx * nu_x + vy * nu_y], axis=-1)
    # m is positive where the bottom is pulled: minus the integral of stress times height
    bend = np.stack([mxy * nu_x + my * nu_y, -(mx * nu_x + mxy * nu_y)], axis=-1)
    traction = np.einsum("kqa,qad->kqd", pull, own) * line
    couple = np.einsum("kqa,qad->kqd", bend, own[:, :2]) * line
    force, moment = traction.sum(1), (np.cross(place - middle, traction) + couple).sum(1)
    (v1, v2, n), (m1, m2, t) = (np.moveaxis(v @ frame.T, -1, 0) for v in (force, moment))
    return CutForces(n, v1, v2, m1, m2, t, centroid, area, frame)


def nodal_cut_forces(
    cut: SpaceCut, corners: Floats, real: NDArray[np.bool_], forces: Floats, about: ArrayLike
) -> tuple[Floats, Floats]:
    """Force and moment of a cut from the forces that the nodes of its elements exert on these.

    Parameters
    ----------
    cut : SpaceCut
        The cut; whole elements.
    corners, real : ndarray
        As in `cut_by_plane`.
    forces : ndarray, shape (k, e, 4, 6)
        Force and moment of each node on each element [N, N mm].
    about : array_like, shape (3,)
        Where moments are taken about [mm].

    Returns
    -------
    tuple of ndarray, each of shape (k, 3)
        What the part on the side of the normal does to the other, in the axes of the mesh.

    References
    ----------
    Equilibrium of the pieces between the plane and the nodes on either side, the mean of both: these differ by the
    loads inside the elements.
    """
    e, first = np.unique(cut.element, return_inverse=True)
    weight = np.bincount(first, cut.weight)
    x = corners[e] - cut.point
    size = np.linalg.norm(np.ptp(x, axis=1), axis=1)
    middle = np.where(real[e][..., None], x, 0.0).sum(1) / real[e].sum(1)[:, None]
    # of a plane along an edge its nodes are those on the far side of the element
    edge = 10.0 * ASIDE * size * np.sign(middle @ cut.normal)
    above = x @ cut.normal > edge[:, None]
    arm = corners[e] - np.asarray(about, dtype=float)
    force, moment = np.zeros((len(forces), 3)), np.zeros((len(forces), 3))
    for mine, sign in ((above, 0.5), (~above, -0.5)):
        f = sign * forces[:, e] * (weight[:, None] * (mine & real[e]))[None, ..., None]
        force += f[..., :3].sum((1, 2))
        moment += (np.cross(arm, f[..., :3]) + f[..., 3:]).sum((1, 2))
    return force, moment


def _shares(corners: Floats, real: NDArray[np.bool_], axes: Floats, place: Floats) -> Floats:
    """Weights of the corners of elements at a place in each, shape (q, 4): linear in triangles, bilinear in quads."""
    flat = np.einsum("qcd,qad->qca", corners - corners[:, :1], axes[:, :2])
    at = np.einsum("qd,qad->qa", place - corners[:, 0], axes[:, :2])
    out = np.zeros((len(flat), 4))
    three = ~real[:, 3]
    if three.any():
        p, x = flat[three], at[three]
        u, v = p[:, 1], p[:, 2]
        det = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
        b, c = (x[:, 0] * v[:, 1] - x[:, 1] * v[:, 0]) / det, (u[:, 0] * x[:, 1] - u[:, 1] * x[:, 0]) / det
        out[three, :3] = np.stack([1.0 - b - c, b, c], axis=1)
    if not three.all():
        p, x = flat[~three], at[~three]
        r = np.full((len(p), 2), 0.5)
        for _ in range(12):  # bilinear places are found by Newton's method; a parallelogram takes one step
            shape, slope = _bilinear(r)
            left = x - np.einsum("qc,qca->qa", shape, p)
            if np.abs(left).max(initial=0.0) <= FOUND * np.abs(p).max(initial=0.0):
                break
            r = r + np.linalg.solve(np.einsum("qcb,qca->qab", slope, p), left[..., None])[..., 0]
        out[~three] = _bilinear(r)[0]
    return out


def _bilinear(r: Floats) -> tuple[Floats, Floats]:
    """Shape functions of a quad on the unit square (q, 4) and their slopes (q, 4, 2)."""
    a, b = r.T
    shape = np.stack([(1 - a) * (1 - b), a * (1 - b), a * b, (1 - a) * b], axis=1)
    slope = np.stack([np.stack([b - 1, 1 - b, b, -b], axis=1), np.stack([a - 1, -a, a, 1 - a], axis=1)], axis=2)
    return shape, slope
