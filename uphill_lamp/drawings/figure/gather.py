"""Light gathered on vertices from the spots of an area, compiled."""

from __future__ import annotations

import numpy as np

from uphill_lamp.drawings.figure.compiled import compiled

LEAST_M2 = np.float32(1e-5)
ON_EDGE = np.float32(1e-5)


@compiled
def area_light(places, normals, spots, facing, strength, heights, seen, begin, end, out):  # type: ignore[no-untyped-def]
    """E = sum over spots of L A cos cos / r2, where they are seen.

    Args:
        places, normals: shapes (V, 3) float32 [m].
        spots: shape (K, 3) float32 [m].
        facing: the way the area shines, shape (3,) float32.
        strength: L A of each spot by height, shape (K, H) float32 [cd].
        heights: rising, shape (H,) float32 [m].
        seen: share of each spot that each place sees, shape (V, K) float32.
        begin, end: range of places.
        out: shape (V,) float32 [lx]; written to.
    """
    last = heights.shape[0] - 2
    for i in range(begin, end):
        j = 0
        while j < last and places[i, 2] > heights[j + 1]:
            j += 1
        share = (places[i, 2] - heights[j]) / (heights[j + 1] - heights[j])
        share = min(max(share, np.float32(0)), np.float32(1))
        total = np.float32(0)
        for k in range(spots.shape[0]):
            if seen[i, k] == 0:
                continue
            x, y, z = spots[k, 0] - places[i, 0], spots[k, 1] - places[i, 1], spots[k, 2] - places[i, 2]
            arriving = x * normals[i, 0] + y * normals[i, 1] + z * normals[i, 2]
            leaving = -(x * facing[0] + y * facing[1] + z * facing[2])
            if arriving <= 0 or leaving <= 0:
                continue
            squared = max(x * x + y * y + z * z, LEAST_M2)
            strong = strength[k, j] * (1 - share) + strength[k, j + 1] * share
            total += seen[i, k] * strong * arriving * leaving / (squared * squared)
        out[i] = total


@compiled
def near_light(places, normals, free, spots, sends, corners, shares, begin, end, out):  # type: ignore[no-untyped-def]
    """Adds E = sum over spots that shine upwards of I cos cos / r2, where the body leaves them free.

    Args:
        places, normals: shapes (V, 3) float32 [m].
        free: how free each vertex is to each direction, shape (V, DIRECTIONS) uint8.
        spots, sends: shapes (K, 3) float32 [m], and straight up by channel [cd].
        corners, shares: the directions round each spot's, and their shares over what ``free`` has at most, shapes (K, 3).
        begin, end: range of places.
        out: shape (V, 3) float32 [lx]; added to.
    """
    for i in range(begin, end):
        for k in range(spots.shape[0]):
            x, y, z = spots[k, 0] - places[i, 0], spots[k, 1] - places[i, 1], spots[k, 2] - places[i, 2]
            arriving = x * normals[i, 0] + y * normals[i, 1] + z * normals[i, 2]
            if arriving <= 0 or z >= 0:
                continue
            open_ = free[i, corners[k, 0]] * shares[k, 0] + free[i, corners[k, 1]] * shares[k, 1] + free[i, corners[k, 2]] * shares[k, 2]
            squared = max(x * x + y * y + z * z, LEAST_M2)
            strong = -z * arriving / (squared * squared) * open_
            for channel in range(3):
                out[i, channel] += sends[k, channel] * strong


@compiled
def between(rays, into, beyond, which, shares):  # type: ignore[no-untyped-def]
    """Finds for each ray the triangle of directions round it: from the one before, across the side that the ray lies furthest beyond.

    Args:
        rays: unit directions, shape (N, 3) float32.
        into: what turns a ray into shares of a triangle's corners, shape (T, 3, 3) float32.
        beyond: which triangle lies beyond the side opposite each corner, shape (T, 3) int32.
        which: the triangle, shape (N,) int32; written to.
        shares: of its corners, shape (N, 3) float32; written to.
    """
    t = 0
    for i in range(rays.shape[0]):
        x, y, z = rays[i, 0], rays[i, 1], rays[i, 2]
        best = np.float32(-9)
        for _ in range(into.shape[0]):
            a = into[t, 0, 0] * x + into[t, 0, 1] * y + into[t, 0, 2] * z
            b = into[t, 1, 0] * x + into[t, 1, 1] * y + into[t, 1, 2] * z
            c = into[t, 2, 0] * x + into[t, 2, 1] * y + into[t, 2, 2] * z
            least = min(a, b, c)
            if least > best:
                best = least
                which[i] = t
                shares[i, 0], shares[i, 1], shares[i, 2] = a, b, c
            elif best > -ON_EDGE:  # to and fro across a side on which the ray lies
                break
            if least >= 0:
                break
            t = beyond[t, 0] if a == least else beyond[t, 1] if b == least else beyond[t, 2]


@compiled
def gathered(normals, free, across, table, whole, begin, end, out):  # type: ignore[no-untyped-def]
    """Sums over directions of what comes from each, by the cosine and by how free the way is, for vertices ``begin`` to ``end``.

    Args:
        normals: shape (V, 3) float32.
        free: shape (V, D) uint8; ``whole`` times it is 0-1.
        across: the directions, shape (3, D) float32.
        table: what comes from each, several kinds, shape (C, D) float32.
        out: shape (V, C) float32; written to.
    """
    weight = np.empty(across.shape[1], np.float32)
    for i in range(begin, end):
        for d in range(weight.shape[0]):
            cosine = normals[i, 0] * across[0, d] + normals[i, 1] * across[1, d] + normals[i, 2] * across[2, d]
            weight[d] = max(cosine, np.float32(0)) * np.float32(free[i, d])
        for c in range(table.shape[0]):
            total = np.float32(0)
            for d in range(weight.shape[0]):
                total += weight[d] * table[c, d]
            out[i, c] = total * whole
