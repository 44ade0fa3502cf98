"""The presenter's shape as ellipsoids: what rays from the lens meet, for metering and for the picture alike."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.people import Presenter
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.vectors import UP


@dataclass(frozen=True, slots=True)
class Ellipsoid:
    """A part of the body: middle (forward, left, up of the eyes) [m], radii along the same axes [m], what it is."""

    part: str
    middle: tuple[float, float, float]
    radii: tuple[float, float, float]
    pitch_deg: float = 0.0


def trunk(presenter: Presenter) -> tuple[Ellipsoid, ...]:
    """Head, neck, shoulders and chest, sized by the presenter's measures."""
    head, half = presenter.head, presenter.head.shoulders_m / 2
    crown, chin, side = head.eyes_to_crown_m, head.eyes_to_chin_m, head.breadth_m / 2
    shoulder = -head.eyes_to_shoulders_m
    return (
        Ellipsoid("head", (-0.088, 0.0, (crown - 0.105) / 2), (0.100, side, (crown + 0.105) / 2)),
        Ellipsoid("head", (-0.060, 0.0, (crown - chin) / 2 - 0.022), (0.072, side * 0.84, (crown + chin) / 2 - 0.022)),
        Ellipsoid("neck", (-0.092, 0.0, shoulder + 0.04), (0.056, 0.058, 0.14)),
        # The slope from neck to shoulder, the chest, the belly; then each shoulder's ball and its arm.
        Ellipsoid("shirt", (-0.098, 0.0, shoulder - 0.045), (0.072, half * 0.84, 0.092)),
        Ellipsoid("shirt", (-0.090, 0.0, shoulder - 0.170), (0.104, half * 0.92, 0.165)),
        Ellipsoid("shirt", (-0.085, 0.0, shoulder - 0.420), (0.108, half * 0.80, 0.360)),
        *(Ellipsoid("shirt", (-0.095, sign * half * 0.76, shoulder - 0.082), (0.064, half * 0.33, 0.082)) for sign in (1, -1)),
        *(Ellipsoid("shirt", (-0.088, sign * half * 0.88, shoulder - 0.290), (0.056, half * 0.22, 0.250)) for sign in (1, -1)),
    )


def head_frame(face: Face) -> FloatArray:
    """Rows forward, left, up: turns room directions into the head's, shape (3, 3)."""
    return np.array([face.forward, face.left, UP])


def meet(
    shape: tuple[Ellipsoid, ...], face: Face, origin: FloatArray, along: FloatArray
) -> tuple[NDArray[np.int64], FloatArray, NDArray[np.int64]]:
    """First meeting of rays from one place with a body.

    Args:
        shape: the ellipsoids, placed relative to the eyes.
        face: where the head is.
        origin: shape (3,) [m].
        along: unit directions, one row an axis, shape (3, N).

    Returns:
        which rays meet it, shape (K,), how far away [m], and which part.
    """
    frame = head_frame(face)
    start = frame @ (origin - face.eyes)
    along = frame @ along
    some = _towards(shape, start, along)
    # All ellipsoids at once, each drawn to a ball: of a ray d and its start s, a = |Qd|2 and b = Qs Qd, shapes (ellipsoids, rays).
    squeeze = squeezes_of(shape)
    from_middle = (squeeze @ (start - np.array([ellipsoid.middle for ellipsoid in shape]))[..., None])[..., 0]
    x, y, z = going = along[:, some]
    a = _squares_of(shape) @ np.array([x * x, y * y, z * z, x * y, x * z, y * z])
    b = (from_middle[:, None] @ squeeze)[:, 0] @ going
    root = b * b - a * ((from_middle * from_middle).sum(axis=1) - 1)[:, None]
    reach = (-b - np.sqrt(np.maximum(root, 0))) / a
    reach[(root <= 0) | (reach <= 1e-6)] = np.inf
    part = reach.argmin(axis=0)
    nearest = reach[part, np.arange(len(some))]
    hit = np.flatnonzero(np.isfinite(nearest))
    return some[hit], nearest[hit], part[hit]


def normals_at(shape: tuple[Ellipsoid, ...], face: Face, places: FloatArray, part: NDArray[np.int64]) -> FloatArray:
    """Outward normals of a body at places (N, 3) [m] on parts of it (N,), shape (N, 3)."""
    frame, squeeze = head_frame(face), squeezes_of(shape)[part]
    beyond = (places - face.eyes) @ frame.T - np.array([ellipsoid.middle for ellipsoid in shape])[part]
    normals = np.einsum("ni,nij->nj", np.einsum("nij,nj->ni", squeeze, beyond), squeeze)
    return np.asarray(normals / np.linalg.norm(normals, axis=1, keepdims=True) @ frame)


@lru_cache(maxsize=32)
def squeezes_of(shape: tuple[Ellipsoid, ...]) -> FloatArray:
    """What draws each ellipsoid round its middle to a ball of radius 1, shape (ellipsoids, 3, 3) [1/m]; not to be written to."""
    squeezes = np.array([_pitch(part.pitch_deg) / np.array(part.radii)[:, None] for part in shape])
    squeezes.flags.writeable = False
    return squeezes


@lru_cache(maxsize=32)
def _squares_of(shape: tuple[Ellipsoid, ...]) -> FloatArray:
    """What gives the squared length of a squeezed direction from its xx, yy, zz, xy, xz and yz, shape (ellipsoids, 6) [1/m2]."""
    squeezes = squeezes_of(shape)
    squared = squeezes.transpose(0, 2, 1) @ squeezes
    both = 2 * squared[:, (0, 0, 1), (1, 2, 2)]
    return np.concatenate([squared[:, (0, 1, 2), (0, 1, 2)], both], axis=1)


@lru_cache(maxsize=32)
def _boxes_of(shape: tuple[Ellipsoid, ...]) -> list[tuple[FloatArray, FloatArray]]:
    """Ends, both (3,) [m], of a box round what is clothed and of one round the rest; not to be written to."""
    middles = np.array([part.middle for part in shape])
    reaches = np.linalg.norm(np.linalg.inv(squeezes_of(shape)), axis=2)  # of each ellipsoid along each axis
    clothed = np.array([part.part == "shirt" for part in shape])
    groups = (group for group in (clothed, ~clothed) if group.any())
    return [((middles - reaches)[group].min(axis=0), (middles + reaches)[group].max(axis=0)) for group in groups]


@lru_cache(maxsize=32)
def round_shape(shape: tuple[Ellipsoid, ...]) -> tuple[Ellipsoid, ...]:
    """Ellipsoids round these boxes: all of a shape lies in one of them."""
    boxes = [((low + high) / 2, (high - low) * 3**0.5 / 2) for low, high in _boxes_of(shape)]
    return tuple(Ellipsoid("round", tuple(middle.tolist()), tuple(radii.tolist())) for middle, radii in boxes)


def _towards(shape: tuple[Ellipsoid, ...], start: FloatArray, along: FloatArray) -> NDArray[np.int64]:
    """Indices of rays, given as rows (3, N), that pass a box round a part of the shape."""
    inverse, towards = 1 / np.where(np.abs(along) < 1e-9, 1e-9, along), np.zeros(along.shape[1], dtype=bool)
    for low, high in _boxes_of(shape):
        first, second = (low - start)[:, None] * inverse, (high - start)[:, None] * inverse
        entry, leave = np.minimum(first, second).max(axis=0), np.maximum(first, second).min(axis=0)
        towards |= (leave >= entry) & (leave > 0)
    return np.flatnonzero(towards)


def _pitch(angle_deg: float) -> FloatArray:
    turn = np.radians(angle_deg)
    cos, sin = np.cos(turn), np.sin(turn)
    return np.array([[cos, 0.0, sin], [0.0, 1.0, 0.0], [-sin, 0.0, cos]])
