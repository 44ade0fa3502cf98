"""From a field to a mesh: marching cubes on a grid that is finer where faces need it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sculpture.fields import Field, FloatArray

PROBE_CM = 0.03


@dataclass(frozen=True)
class Mesh:
    """Vertices (V, 3) [cm] with normals, and faces (F, 3)."""

    vertices: FloatArray
    normals: FloatArray
    faces: NDArray[np.int64]


def steps(stops: Sequence[tuple[float, float]]) -> FloatArray:
    """A rising row of grid lines from the first stop to the last; each stop is (place, spacing there), between them it goes evenly."""
    places, spacings = np.array(stops).T
    at = [places[0]]
    while at[-1] < places[-1]:
        at.append(at[-1] + float(np.interp(at[-1], places, spacings)))
    return np.array(at)


def both_sides(half: FloatArray) -> FloatArray:
    """A grid row over both sides from one that begins at 0."""
    return np.concatenate([-half[:0:-1], half])


def meshed(field: Field, x: FloatArray, y: FloatArray, z: FloatArray) -> Mesh:
    """The surface where a field is nought.

    One grid whose lines stand closer where detail is: nested boxes of their own would leave cracks where they meet.
    """
    from skimage.measure import marching_cubes

    values = np.stack([field(np.stack(np.broadcast_arrays(at, y[:, None], z[None]), axis=-1)) for at in x])
    index, faces, _, _ = marching_cubes(values, 0.0)
    vertices = np.stack([np.interp(index[:, axis], np.arange(len(line)), line) for axis, line in enumerate((x, y, z))], axis=1)
    slope = np.stack([field(vertices + step) - field(vertices - step) for step in np.eye(3) * PROBE_CM], axis=1)
    normals = slope / np.maximum(np.linalg.norm(slope, axis=1, keepdims=True), 1e-9)
    a, b, c = (vertices[faces[:, corner]] for corner in range(3))
    out = (np.cross(b - a, c - a) * normals[faces[:, 0]]).sum(axis=1)
    if np.median(out) < 0:  # all of them together: slivers cannot tell by themselves
        faces = faces[:, ::-1]
    return Mesh(vertices, normals, faces.astype(np.int64))
