"""Light on walls and things behind: worked out on coarse grids, all in one go, and read off between their points."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.light.falling import Falling
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.drawings.far_side.colour import FloatArray
from uphill_lamp.drawings.far_side.light import Returned, falls_rgb

POINTS = 10  # a side
EDGE = 0.01  # share of a surface left out at its rim, where two surfaces meet
Spots = tuple[NDArray[np.floating], NDArray[np.floating]]  # places (N, 3) [m] and normals (N, 3)


def lit_together(falling: Falling, returned: Returned, asked: Mapping[tuple[str, str], Spots]) -> dict[tuple[str, str], FloatArray]:
    """Light on many spots: one pass over the sources, whatever the number of things.

    Args:
        falling: sources and room.
        returned: what the room gives back.
        asked: by kind and name of the thing, where on it light is wanted.

    Returns:
        by kind and name, shape (N, 3) in linear sRGB [lx].
    """
    if not asked:
        return {}
    places = np.concatenate([places for places, _ in asked.values()])
    normals = np.concatenate([normals for _, normals in asked.values()])
    lit = falls_rgb(falling.sources, places, normals, 3) + returned.at(places, normals)
    ends = np.cumsum([len(spots) for spots, _ in asked.values()])[:-1]
    return dict(zip(asked, np.split(lit, ends), strict=True))


def surface_spots(size: Vector, name: str) -> Spots:
    """A grid over a wall, the floor or the ceiling of a room of a size [m]."""
    axis, end, (across, along) = _lie(name)
    a, b = np.meshgrid(np.linspace(EDGE, 1 - EDGE, POINTS), np.linspace(EDGE, 1 - EDGE, POINTS), indexing="ij")
    places, normals = np.zeros((POINTS**2, 3)), np.zeros((POINTS**2, 3))
    places[:, axis] = size[axis] * end
    places[:, across], places[:, along] = a.ravel() * size[across], b.ravel() * size[along]
    normals[:, axis] = -1.0 if end else 1.0
    return places, normals


def surface_light(size: Vector, name: str, grid: FloatArray, places: FloatArray) -> FloatArray:
    """Light at places on a surface, shape (N, 3), off its grid, shape (POINTS^2, 3)."""
    _, _, axes = _lie(name)
    shares = [places[:, axis] / np.float32(size[axis]) for axis in axes]
    u, v = (np.clip((share - EDGE) / (1 - 2 * EDGE), 0, 1) * np.float32(POINTS - 1.001) for share in shares)
    i, j = u.astype(np.int32), v.astype(np.int32)
    p, q = u - i, v - j
    at = i * POINTS + j
    out = np.empty((len(places), 3), dtype=np.float32)
    for channel in range(3):
        flat = np.ascontiguousarray(grid[:, channel])
        low = flat[at] * (1 - q) + flat[at + 1] * q
        high = flat[at + POINTS] * (1 - q) + flat[at + POINTS + 1] * q
        out[:, channel] = low * (1 - p) + high * p
    return out


def upright_spots(places: FloatArray, normal: FloatArray) -> Spots:
    """The corners of what is seen of an upright thing, from places on it, shape (N, 3) [m]."""
    middle, span, wide = _extent(places)
    corners = np.repeat(middle[None], 4, axis=0)
    corners[:, wide] += np.array([-0.5, -0.5, 0.5, 0.5]) * span[wide]
    corners[:, 2] += np.array([-0.5, 0.5, -0.5, 0.5]) * span[2]
    return corners, np.repeat(normal[None], 4, axis=0).astype(float)


def upright_light(corners: FloatArray, places: FloatArray) -> FloatArray:
    """Light at places on an upright thing, shape (N, 3), off its corners', shape (4, 3)."""
    middle, span, wide = _extent(places)
    u = ((places[:, wide] - middle[wide]) / max(span[wide], 1e-6) + 0.5)[:, None].astype(np.float32)
    v = ((places[:, 2] - middle[2]) / max(span[2], 1e-6) + 0.5)[:, None].astype(np.float32)
    return np.asarray((corners[0] * (1 - v) + corners[1] * v) * (1 - u) + (corners[2] * (1 - v) + corners[3] * v) * u)


def _lie(name: str) -> tuple[int, bool, tuple[int, int]]:
    """Axis a surface is square to, whether it lies at its far end, and the two axes it spans."""
    axis = {"wall_x": 0, "wall_y": 1}.get(name[:6], 2)
    across, along = (other for other in range(3) if other != axis)
    return axis, name.endswith("1") or name == "ceiling", (across, along)


def _extent(places: FloatArray) -> tuple[FloatArray, FloatArray, int]:
    span = np.ptp(places, axis=0)
    return places.mean(axis=0), span, int(np.argmax(span[:2]))
