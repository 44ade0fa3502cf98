"""Directions and distances in the room: x along the width, y along the depth, z up; metres and degrees."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.document.fields import Point

Vector = NDArray[np.floating[Any]]
UP: Vector = np.array([0.0, 0.0, 1.0])


def vector(point: Point) -> Vector:
    """A Point as an array of shape (3,) [m]."""
    return np.array([point.x_m, point.y_m, point.z_m])


def point_at(place: Vector) -> Point:
    """An array of shape (3,) [m] as a Point, to a tenth of a millimetre."""
    return Point(x_m=round(float(place[0]), 4), y_m=round(float(place[1]), 4), z_m=round(float(place[2]), 4))


@lru_cache(maxsize=512)
def direction(yaw_deg: float, tilt_deg: float = 0.0) -> Vector:
    """Unit vector of a yaw (0 along +y, + towards +x) and tilt (+ up), shape (3,) [no unit]; kept, so not to be written to."""
    yaw, tilt = math.radians(yaw_deg), math.radians(tilt_deg)
    return _kept(math.sin(yaw) * math.cos(tilt), math.cos(yaw) * math.cos(tilt), math.sin(tilt))


@lru_cache(maxsize=512)
def right_of(yaw_deg: float) -> Vector:
    """Unit vector to the right of one who looks along a yaw, level, shape (3,) [no unit]; kept, so not to be written to."""
    yaw = math.radians(yaw_deg)
    return _kept(math.cos(yaw), -math.sin(yaw), 0.0)


def _kept(x: float, y: float, z: float) -> Vector:
    """A vector that all who ask for it share."""
    made = np.array([x, y, z])
    made.flags.writeable = False
    return made


def yaw_tilt_deg(along: Vector) -> tuple[float, float]:
    """Yaw and tilt [deg] of a direction of any length but 0."""
    level = math.hypot(along[0], along[1])
    return math.degrees(math.atan2(along[0], along[1])), math.degrees(math.atan2(along[2], level))


def unit(along: Vector) -> Vector:
    """A direction at length 1; the zero vector stays what it is."""
    length = float(np.linalg.norm(along))
    return along / length if length > 0 else along


def cross(first: Vector, second: Vector) -> Vector:
    """Cross product of two vectors of shape (3,); numpy's own takes fifty times as long for so little."""
    (a, b, c), (d, e, f) = first.tolist(), second.tolist()
    return np.array([b * f - c * e, c * d - a * f, a * e - b * d])


def wrapped_deg(angle_deg: float) -> float:
    """An angle brought to -180 (excluded) to 180 [deg]."""
    wrapped = math.fmod(angle_deg, 360.0)
    if wrapped > 180:
        wrapped -= 360
    return wrapped + 360 if wrapped <= -180 else wrapped


def angle_between_deg(first: Vector, second: Vector) -> float:
    """Angle between two directions, 0-180 [deg]."""
    return math.degrees(math.atan2(float(np.linalg.norm(cross(first, second))), float(np.dot(first, second))))


def rotated(place: Vector, pivot: Vector, turn_deg: float) -> Vector:
    """A place turned about a vertical axis; positive turns +y towards +x [m]."""
    turn = math.radians(turn_deg)
    dx, dy = place[0] - pivot[0], place[1] - pivot[1]
    return np.array(
        [
            pivot[0] + dx * math.cos(turn) + dy * math.sin(turn),
            pivot[1] - dx * math.sin(turn) + dy * math.cos(turn),
            place[2],
        ]
    )
