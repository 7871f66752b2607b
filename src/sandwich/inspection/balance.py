"""Do the results balance the reactions? Forces along the supported edges against what the supports exert."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.model.mesh import Mesh
from sandwich.tables.meshing import locate

Floats = NDArray[np.float64]
ENOUGH: Final = 0.8  # part of the nodes with reactions that must lie on supported edges


@dataclass(frozen=True)
class Balance:
    """Reactions against results along the supported edges.

    Attributes
    ----------
    cases : tuple of str
        Cases that have both.
    reactions, results : ndarray, shape (k, 3)
        Total forces on the structure, from the supports and from the results of the edges [N].
    membrane, shear : float
        Part of the membrane forces and of the shear forces that would balance best; 1 where they do, nan where a
        part carries nothing.
    nodes : int
        Nodes with reactions on those edges.
    """

    cases: tuple[str, ...]
    reactions: Floats
    results: Floats
    membrane: float
    shear: float
    nodes: int


def balance(mesh: Mesh, cases: tuple[str, ...], corner: Floats, table: pd.DataFrame) -> Balance | None:
    """Compare reactions with the tractions along the edges whose both nodes have reactions.

    Parameters
    ----------
    mesh : Mesh
        Geometry.
    cases : tuple of str
        Cases of `corner`.
    corner : ndarray, shape (k, e, 4, 8)
        Results in element axes [N, mm].
    table : DataFrame
        case, node, fx, fy, fz [N].

    Returns
    -------
    Balance or None
        None where most nodes with reactions lie inside the mesh or on no element, as under columns.

    References
    ----------
    Equilibrium: the traction on an edge is what its support exerts.
    """
    node = locate(pd.Index(mesh.node_ids), table["node"])
    supported = np.zeros(len(mesh.node_ids), dtype=bool)
    supported[node[node >= 0]] = True
    pairs, edge, owner = mesh.edges.nodes, mesh.edges.edge, mesh.edges.owner
    border = mesh.edges.sides == 1
    held = border[edge] & supported[pairs[edge]].all(1)
    on_edges = np.unique(pairs[edge[held]])
    if not held.any() or len(on_edges) < ENOUGH * supported.sum() or (node < 0).any():
        return None
    ends, own = pairs[edge[held]], owner[held]
    along = mesh.xyz[ends[:, 1]] - mesh.xyz[ends[:, 0]]
    length = np.linalg.norm(along, axis=1)
    out = np.cross(along / length[:, None], mesh.axes[own, 2])
    out *= np.sign(np.sum(out * (mesh.xyz[ends].mean(1) - mesh.centres[own]), axis=1))[:, None]
    nu = np.einsum("ed,ead->ea", out, mesh.axes[own, :2])
    at = (mesh.corners[own][:, None, :] == ends[:, :, None]).argmax(2)
    r = np.nan_to_num(corner[:, own[:, None], at]).mean(2) * length[:, None]
    inplane = np.stack([r[..., 0] * nu[:, 0] + r[..., 2] * nu[:, 1], r[..., 2] * nu[:, 0] + r[..., 1] * nu[:, 1]], -1)
    membrane = np.einsum("kea,ead->kd", inplane, mesh.axes[own, :2])
    across = r[..., 6] * nu[:, 0] + r[..., 7] * nu[:, 1]
    shear = np.einsum("ke,ed->kd", across, mesh.axes[own, 2])
    sums = table[np.isin(node, on_edges)].groupby("case")[["fx", "fy", "fz"]].sum()
    both = tuple(c for c in cases if c in sums.index)
    if not both:
        return None
    pick = [cases.index(c) for c in both]
    wanted = sums.loc[list(both)].to_numpy()
    parts = np.stack([membrane[pick].ravel(), shear[pick].ravel()], 1)
    carries = np.abs(parts).sum(0) > 1e-6 * max(float(np.abs(wanted).sum()), 1e-12)
    factor = np.full(2, np.nan)
    factor[carries] = np.linalg.lstsq(parts[:, carries], wanted.ravel())[0]
    return Balance(both, wanted, (membrane + shear)[pick], float(factor[0]), float(factor[1]), len(on_edges))
