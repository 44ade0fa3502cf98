"""A box room cut into patches, and how they see one another and any place in the room."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.reaching import before_m, squared_m2

PATCH_M = 0.6  # the sides of the room are cut into whole patches of about this
MOST_A_SIDE = 9
FINE = 6  # each patch is lit at FINE x FINE places: a beam's edge on a near wall falls between patches
COARSE = 2  # soft light is worked out at COARSE x COARSE places and repeated
NEAREST_M = 0.02
# Axis and end of each surface, in the order in which patches are listed.
SURFACES = (("wall_x0", 0, 0), ("wall_x1", 0, 1), ("wall_y0", 1, 0), ("wall_y1", 1, 1), ("floor", 2, 0), ("ceiling", 2, 1))


@dataclass(frozen=True)
class Grid:
    """One surface's patches: where they begin in the list, how many along its two sides, which axes those are."""

    first: int
    counts: tuple[int, int]
    axes: tuple[int, int]
    axis: int
    end: int


@dataclass(frozen=True, eq=False)
class Patches:
    """All patches of a room of a size (3,) [m].

    ``middle``, ``normal`` (P, 3) [m, no unit]; ``area_m2`` (P,); ``surface`` (P,) indexes SURFACES; ``low``, ``side_a``, ``side_b``
    (P, 3) a corner and two sides [m]; ``sees`` (P, P) form factors, rows sum to 1.
    """

    size: FloatArray
    grids: tuple[Grid, ...]
    middle: FloatArray
    normal: FloatArray
    area_m2: FloatArray
    surface: FloatArray
    low: FloatArray
    side_a: FloatArray
    side_b: FloatArray
    sees: FloatArray

    def places(self, fineness: int) -> FloatArray:
        """Places spread over every patch, shape (P, fineness^2, 3) [m]."""
        return _places(self, fineness)

    def seen_from(self, places: FloatArray, normals: FloatArray, fineness: int = FINE, exact: bool = True) -> FloatArray:
        """Form factor of each fine place of each patch from small surfaces, shapes (N, 3) -> (N, P, fineness^2) [no unit].

        How far a place lies before a patch is the same for all of it.

        Args:
            exact: to sixteen figures; else to some four, in half the time, which is enough for a picture.
        """
        centre = 0.0 if exact else self.size / 2  # what is near nought keeps more of its figures

        def as_wanted(values: FloatArray) -> FloatArray:
            return np.asarray(values, np.float64 if exact else np.float32)

        spots, middle = as_wanted(self.places(fineness).reshape(-1, 3) - centre), self.middle - centre
        places, normals = as_wanted(places - centre), as_wanted(normals)
        # In place, for there are many: what is written anew each time takes longer to fetch than to work out.
        squared = squared_m2(places, spots)
        np.maximum(squared, NEAREST_M**2, out=squared)
        squared *= squared
        seen = before_m(places, normals, spots)
        seen /= squared
        seen = seen.reshape(len(places), len(self.middle), fineness**2)
        before = np.maximum(places @ as_wanted(self.normal).T - as_wanted((middle * self.normal).sum(axis=1)), 0.0)
        before *= as_wanted(self.area_m2 / (math.pi * fineness**2))
        seen *= before[:, :, None]
        return np.asarray(seen)


@lru_cache(maxsize=24)
def _places(patches: Patches, fineness: int) -> FloatArray:
    steps = (np.arange(fineness) + 0.5) / fineness
    a, b = np.meshgrid(steps, steps, indexing="ij")
    return np.asarray(patches.low[:, None] + a.reshape(1, -1, 1) * patches.side_a[:, None] + b.reshape(1, -1, 1) * patches.side_b[:, None])


@lru_cache(maxsize=16)
def patches_of(width_m: float, depth_m: float, height_m: float) -> Patches:
    """The patches of a box room, cut once for every size."""
    size = np.array([width_m, depth_m, height_m])
    cut = [min(max(2, round(length / PATCH_M)), MOST_A_SIDE) for length in size]
    grids: list[Grid] = []
    rows: list[tuple[FloatArray, FloatArray, float, int, FloatArray, FloatArray, FloatArray]] = []
    for index, (_, axis, end) in enumerate(SURFACES):
        a, b = (other for other in range(3) if other != axis)
        grids.append(Grid(len(rows), (cut[a], cut[b]), (a, b), axis, end))
        along, across, inward = np.zeros(3), np.zeros(3), np.zeros(3)
        along[a], across[b], inward[axis] = size[a] / cut[a], size[b] / cut[b], 1 - 2 * end
        for i in range(cut[a]):
            for j in range(cut[b]):
                corner = i * along + j * across
                corner[axis] = size[axis] * end
                rows.append((corner + (along + across) / 2, inward, float(along[a] * across[b]), index, corner, along, across))
    middle, normal, area, surface, low, side_a, side_b = (np.array(column) for column in zip(*rows, strict=True))
    sees = _form_factors(middle, normal, area, surface, low, side_a, side_b)
    return Patches(size, tuple(grids), middle, normal, area, surface, low, side_a, side_b, sees)


def _form_factors(
    middle: FloatArray, normal: FloatArray, area: FloatArray, surface: FloatArray, low: FloatArray, side_a: FloatArray, side_b: FloatArray
) -> FloatArray:
    """Form factors from the middle of each patch to each other: Lambert's formula for a polygon, rows brought to 1.

    F = 1/(2 pi) |sum over the edges of angle times edge normal . n|; patches of one surface do not see each other, and those
    of another lie wholly before it, so nothing has to be clipped.
    """
    corners = np.stack([low, low + side_a, low + side_a + side_b, low + side_b], axis=1)
    rays = corners[None] - middle[:, None, None]
    rays /= np.linalg.norm(rays, axis=-1, keepdims=True)
    following = np.roll(rays, -1, axis=2)
    across = np.cross(rays, following)
    sine, cosine = np.linalg.norm(across, axis=-1), np.einsum("pqei,pqei->pqe", rays, following)
    edges = across * (np.arctan2(sine, cosine) / np.maximum(sine, 1e-12))[..., None]
    sees = np.abs(np.einsum("pqei,pi->pq", edges, normal)) / (2 * math.pi)
    sees[surface[:, None] == surface[None]] = 0.0
    exchanged = area[:, None] * sees  # what two patches exchange is the same seen from either: the mean of both is nearer the truth
    sees = (exchanged + exchanged.T) / (2 * area[:, None])
    return np.asarray(sees / sees.sum(axis=1, keepdims=True))
