"""Triangles onto pixels: which one is nearest at each, and how far away. Compiled once per machine and kept."""

from __future__ import annotations

import numpy as np

from uphill_lamp.drawings.figure.compiled import compiled

NEAREST_M = np.float32(0.01)  # what is nearer to the eye point than this is left out
HALF, ONE, TINY, SLANTED = (
    np.float32(0.5),
    np.float32(1),
    np.float32(1e-9),
    np.float32(1.5),
)  # in double precision all of this would take twice as long


@compiled
def nearest(flat, faces, columns, begin, end, away, which, shares):  # type: ignore[no-untyped-def]
    """Draws triangles into buffers, the nearest wins.

    Args:
        flat: vertices as x, y [px] and 1 / depth [1/m], shape (V, 3) float32; 1 / depth <= 0 leaves the triangle out.
        faces: shape (F, 3) int32.
        columns: width of the buffers [px].
        begin, end: the rows of them to draw.
        away: 1 / depth so far, shape (rows, columns) float32; written to.
        which: index of the triangle, shape (rows, columns) int32; written to.
        shares: of the first two corners, right in depth, shape (rows, columns, 2) float32; written to.
    """
    for f in range(faces.shape[0]):
        a, b, c = faces[f, 0], faces[f, 1], faces[f, 2]
        wa, wb, wc = flat[a, 2], flat[b, 2], flat[c, 2]
        if wa <= 0 or wb <= 0 or wc <= 0:
            continue
        ax, ay, bx, by, cx, cy = flat[a, 0], flat[a, 1], flat[b, 0], flat[b, 1], flat[c, 0], flat[c, 1]
        area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if area == 0:
            continue
        left = max(int(np.ceil(min(ax, bx, cx) - HALF)), 0)
        right = min(int(np.floor(max(ax, bx, cx) - HALF)), columns - 1)
        top = max(int(np.ceil(min(ay, by, cy) - HALF)), begin)
        foot = min(int(np.floor(max(ay, by, cy) - HALF)), end - 1)
        if top > foot:
            continue
        scale = ONE / area
        for row in range(top, foot + 1):
            y = np.float32(row) + HALF
            for column in range(left, right + 1):
                x = np.float32(column) + HALF
                u = ((bx - x) * (cy - y) - (by - y) * (cx - x)) * scale
                v = ((cx - x) * (ay - y) - (cy - y) * (ax - x)) * scale
                w = ONE - u - v
                if u < 0 or v < 0 or w < 0:
                    continue
                near = u * wa + v * wb + w * wc
                if near > away[row, column]:
                    away[row, column] = near
                    which[row, column] = f
                    shares[row, column, 0] = u * wa / near
                    shares[row, column, 1] = v * wb / near


@compiled
def depth_map(places, faces, look, near):  # type: ignore[no-untyped-def]
    """A body's 1 / distance as a spot sees it.

    Args:
        places: vertices, shape (V, 3) [m] float32.
        faces: shape (F, 3) int32.
        look: right, up and forward over their reach, then the spot, shape (4, 3) float32.
        near: 1 / distance along the axis [1/m], shape (side, side) float32; written to.
    """
    side = near.shape[0]
    flat = np.empty((places.shape[0], 3), np.float32)
    half = np.float32(side / 2)
    for i in range(places.shape[0]):
        x, y, z = places[i, 0] - look[3, 0], places[i, 1] - look[3, 1], places[i, 2] - look[3, 2]
        deep = x * look[2, 0] + y * look[2, 1] + z * look[2, 2]
        if deep < NEAREST_M:
            flat[i, 2] = 0
            continue
        w = 1 / deep
        flat[i, 0] = half + half * w * (x * look[0, 0] + y * look[0, 1] + z * look[0, 2])
        flat[i, 1] = half - half * w * (x * look[1, 0] + y * look[1, 1] + z * look[1, 2])
        flat[i, 2] = w
    limit = np.int32(side - 1)
    for f in range(faces.shape[0]):
        a, b, c = faces[f, 0], faces[f, 1], faces[f, 2]
        ax, ay, bx, by, cx, cy = flat[a, 0], flat[a, 1], flat[b, 0], flat[b, 1], flat[c, 0], flat[c, 1]
        area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if area >= 0:  # seen from behind: its front is somewhere else in the map
            continue
        wa, wb, wc = flat[a, 2], flat[b, 2], flat[c, 2]
        if wa <= 0 or wb <= 0 or wc <= 0:
            continue
        low = ax if ax < bx else bx
        high = bx if ax < bx else ax
        low = cx if cx < low else low
        high = cx if cx > high else high
        if high < 0 or low > limit:
            continue
        left, right = np.int32(low + HALF), np.int32(high - HALF)
        low = ay if ay < by else by
        high = by if ay < by else ay
        low = cy if cy < low else low
        high = cy if cy > high else high
        if high < 0 or low > limit:
            continue
        top, foot = np.int32(low + HALF), np.int32(high - HALF)
        left, top = max(left, np.int32(0)), max(top, np.int32(0))
        right, foot = min(right, limit), min(foot, limit)
        if left > right or top > foot:
            continue
        scale = ONE / area
        # 1 / distance and the two shares are linear over the map: one step each a column.
        ua, va = (by - cy) * scale, (cy - ay) * scale
        for row in range(top, foot + 1):
            y = np.float32(row) + HALF
            x = np.float32(left) + HALF
            u = ((bx - x) * (cy - y) - (by - y) * (cx - x)) * scale
            v = ((cx - x) * (ay - y) - (cy - y) * (ax - x)) * scale
            for column in range(left, right + 1):
                if u >= 0 and v >= 0 and u + v <= ONE:
                    w = u * wa + v * wb + (ONE - u - v) * wc
                    if w > near[row, column]:
                        near[row, column] = w
                u += ua
                v += va


@compiled
def seen_through(places, normals, looks, fine, coarse, lifts, begin, end, out):  # type: ignore[no-untyped-def]
    """How much of each spot places see, for a range of places.

    Args:
        places, normals: shapes (N, 3) float32; a normal of nought faces every way.
        looks: shape (2, K, 4, 3) float32.
        fine, coarse: maps, shapes (K, side, side).
        lifts: how far off the surface each map is asked [m], shape (2,).
        begin, end: the range.
        out: shape (N, K) float32; written to.
    """
    for i in range(begin, end):
        for k in range(fine.shape[0]):
            gx, gy, gz = looks[0, k, 3, 0] - places[i, 0], looks[0, k, 3, 1] - places[i, 1], looks[0, k, 3, 2] - places[i, 2]
            away = np.sqrt(gx * gx + gy * gy + gz * gz) + TINY
            loose = normals[i, 0] == 0 and normals[i, 1] == 0 and normals[i, 2] == 0
            facing = (normals[i, 0] * gx + normals[i, 1] * gy + normals[i, 2] * gz) / away
            if facing <= 0 and not loose:
                out[i, k] = 0
                continue
            share = np.float32(1)
            for which in range(2):
                near = fine if which == 0 else coarse
                side = near.shape[1]
                half = np.float32(side / 2)
                look = looks[which, k]
                lift = lifts[which]
                # Along the normal, and more the flatter the light falls.
                along = lift * (ONE + SLANTED * (ONE - facing))
                x = places[i, 0] - look[3, 0] + along * normals[i, 0] + lift * gx / away
                y = places[i, 1] - look[3, 1] + along * normals[i, 1] + lift * gy / away
                z = places[i, 2] - look[3, 2] + along * normals[i, 2] + lift * gz / away
                deep = x * look[2, 0] + y * look[2, 1] + z * look[2, 2]
                if deep < NEAREST_M:
                    break
                w = 1 / deep
                u = half + half * w * (x * look[0, 0] + y * look[0, 1] + z * look[0, 2]) - HALF
                v = half - half * w * (x * look[1, 0] + y * look[1, 1] + z * look[1, 2]) - HALF
                column, row = int(np.floor(u)), int(np.floor(v))
                if column < 0 or row < 0 or column >= side - 1 or row >= side - 1:
                    continue
                p, q = u - np.float32(column), v - np.float32(row)
                share = np.float32(0)
                share += (ONE - p) * (ONE - q) if near[k, row, column] <= w else np.float32(0)
                share += p * (ONE - q) if near[k, row, column + 1] <= w else np.float32(0)
                share += (ONE - p) * q if near[k, row + 1, column] <= w else np.float32(0)
                share += p * q if near[k, row + 1, column + 1] <= w else np.float32(0)
                break
            out[i, k] = share
