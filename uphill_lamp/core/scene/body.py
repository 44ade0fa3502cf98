"""The presenter's shape as ellipsoids: what rays from the lens meet, for metering and for the picture alike."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.document.people import Presenter
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.vectors import UP

FloatArray = NDArray[np.floating[Any]]


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


@dataclass(frozen=True)
class Hits:
    """Where rays first meet a shape: distance (N,) [m], inf where they miss; place and normal (N, 3); part index (N,)."""

    distance: FloatArray
    normal: FloatArray
    part: NDArray[np.int64]


def head_frame(face: Face) -> FloatArray:
    """Rows forward, left, up: turns room directions into the head's, shape (3, 3)."""
    return np.array([face.forward, face.left, UP])


def meet(shape: tuple[Ellipsoid, ...], face: Face, origin: FloatArray, rays: FloatArray) -> Hits:
    """First meeting of rays from one place with a body.

    Args:
        shape: the ellipsoids, placed relative to the eyes.
        face: where the head is.
        origin: shape (3,) [m].
        rays: unit directions, shape (N, 3).
    """
    # One contiguous row an axis: sums over a last axis of three are several times slower.
    frame, kind = head_frame(face), rays.dtype
    start = frame @ (origin - face.eyes)
    distance = np.full(len(rays), np.inf, dtype=kind)
    normal = np.zeros_like(rays)
    part = np.full(len(rays), -1)
    along = frame.astype(kind) @ np.ascontiguousarray(rays.T)
    some = _towards(shape, start, along)
    if not len(some):
        return Hits(distance, normal, part)
    along = np.ascontiguousarray(along[:, some])
    reach_of, part_of = distance[some], part[some]
    normal_of = np.zeros_like(along)
    for index, ellipsoid in enumerate(shape):
        squeeze = _pitch(ellipsoid.pitch_deg) / np.array(ellipsoid.radii)[:, None]
        from_middle = squeeze @ (start - np.array(ellipsoid.middle))
        going = squeeze.astype(kind) @ along
        a = going[0] * going[0] + going[1] * going[1] + going[2] * going[2]
        b = kind.type(from_middle[0]) * going[0] + kind.type(from_middle[1]) * going[1] + kind.type(from_middle[2]) * going[2]
        root = b * b - a * kind.type(from_middle @ from_middle - 1)
        hit = np.flatnonzero(root > 0)
        reach = (-b[hit] - np.sqrt(root[hit])) / a[hit]
        closer = (reach > 1e-6) & (reach < reach_of[hit])
        hit, reach = hit[closer], reach[closer]
        reach_of[hit], part_of[hit] = reach, index
        normal_of[:, hit] = squeeze.T.astype(kind) @ (from_middle.astype(kind)[:, None] + reach * going[:, hit])
    lengths = np.sqrt(normal_of[0] ** 2 + normal_of[1] ** 2 + normal_of[2] ** 2)
    normal_of /= np.where(lengths > 0, lengths, 1)
    normal[some] = (frame.T.astype(kind) @ normal_of).T
    distance[some], part[some] = reach_of, part_of
    return Hits(distance, normal, part)


def _towards(shape: tuple[Ellipsoid, ...], start: FloatArray, along: FloatArray) -> NDArray[np.int64]:
    """Indices of rays, given as rows (3, N), that pass the box round the whole shape."""
    low = np.min([np.array(part.middle) - max(part.radii) for part in shape], axis=0)
    high = np.max([np.array(part.middle) + max(part.radii) for part in shape], axis=0)
    entry, leave = np.full(along.shape[1], -np.inf, along.dtype), np.full(along.shape[1], np.inf, along.dtype)
    for axis in range(3):
        going = np.where(np.abs(along[axis]) < 1e-9, along.dtype.type(1e-9), along[axis])
        first, second = along.dtype.type(low[axis] - start[axis]) / going, along.dtype.type(high[axis] - start[axis]) / going
        np.maximum(entry, np.minimum(first, second), out=entry)
        np.minimum(leave, np.maximum(first, second), out=leave)
    return np.flatnonzero((leave >= entry) & (leave > 0))


def _pitch(angle_deg: float) -> FloatArray:
    turn = np.radians(angle_deg)
    cos, sin = np.cos(turn), np.sin(turn)
    return np.array([[cos, 0.0, sin], [0.0, 1.0, 0.0], [-sin, 0.0, cos]])
