"""How far many places are from many spots, and how far before their own faces: products of matrices, for there are hundreds of thousands."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray


def squared_m2(places: FloatArray, spots: FloatArray) -> FloatArray:
    """Squared distances of places (N, 3) and spots (M, 3), shape (N, M) [m2]: |s - p|^2 = s.s - 2 s.p + p.p, as one product of matrices."""
    own, theirs = (places * places).sum(axis=1), (spots * spots).sum(axis=1)
    return np.asarray(
        np.concatenate([-2 * places, own[:, None], np.ones_like(own)[:, None]], axis=1) @ np.array([*spots.T, np.ones_like(theirs), theirs])
    )


def before_m(places: FloatArray, normals: FloatArray, spots: FloatArray) -> FloatArray:
    """How far spots (M, 3) are before places (N, 3) along their normals (N, 3), 0 where they are behind, shape (N, M); in the same way."""
    before = np.concatenate([normals, -(places * normals).sum(axis=1)[:, None]], axis=1) @ np.array([*spots.T, np.ones_like(spots[:, 0])])
    return np.asarray(np.maximum(before, 0.0, out=before))
