"""The presenter's shape as ellipsoids: what rays from the lens meet, for metering and for the picture alike."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.document.people import Presenter
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.vectors import UP

FloatArray = NDArray[np.float64]


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
        Ellipsoid("head", (-0.085, 0.0, (crown - 0.105) / 2 + 0.0), (0.098, side, (crown + 0.105) / 2)),
        Ellipsoid("head", (-0.062, 0.0, (crown - chin) / 2 - 0.022), (0.072, side * 0.80, (crown + chin) / 2 - 0.022)),
        Ellipsoid("neck", (-0.085, 0.0, shoulder + 0.04), (0.056, 0.058, 0.12)),
        Ellipsoid("shirt", (-0.09, 0.0, shoulder - 0.09), (0.10, half * 0.93, 0.115)),
        Ellipsoid("shirt", (-0.085, half * 0.72, shoulder - 0.075), (0.068, half * 0.36, 0.075)),
        Ellipsoid("shirt", (-0.085, -half * 0.72, shoulder - 0.075), (0.068, half * 0.36, 0.075)),
        Ellipsoid("shirt", (-0.08, 0.0, shoulder - 0.40), (0.125, half * 0.80, 0.36)),
        Ellipsoid("shirt", (-0.08, half * 0.93, shoulder - 0.28), (0.055, 0.055, 0.21)),
        Ellipsoid("shirt", (-0.08, -half * 0.93, shoulder - 0.28), (0.055, 0.055, 0.21)),
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
    frame = head_frame(face)
    start, along = frame @ (origin - face.eyes), rays @ frame.T
    distance = np.full(len(rays), np.inf)
    normal = np.zeros((len(rays), 3))
    part = np.full(len(rays), -1)
    for index, ellipsoid in enumerate(shape):
        turn = _pitch(ellipsoid.pitch_deg)
        radii = np.array(ellipsoid.radii)
        near = turn @ (start - np.array(ellipsoid.middle)) / radii
        going = along @ turn.T / radii
        a = np.einsum("ij,ij->i", going, going)
        b = going @ near
        root = b * b - a * (near @ near - 1)
        hit = np.flatnonzero(root > 0)
        reach = (-b[hit] - np.sqrt(root[hit])) / a[hit]
        closer = (reach > 1e-6) & (reach < distance[hit])
        hit, reach = hit[closer], reach[closer]
        distance[hit] = reach
        normal[hit] = ((near + reach[:, None] * going[hit]) / radii) @ turn
        part[hit] = index
    lengths = np.linalg.norm(normal, axis=1, keepdims=True)
    return Hits(distance, np.divide(normal, lengths, where=lengths > 0, out=normal) @ frame, part)


def _pitch(angle_deg: float) -> FloatArray:
    turn = np.radians(angle_deg)
    cos, sin = np.cos(turn), np.sin(turn)
    return np.array([[cos, 0.0, sin], [0.0, 1.0, 0.0], [-sin, 0.0, cos]])
