"""The rectilinear lens: from the room to the picture and back."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.scene.vectors import Vector, direction, right_of


@dataclass(frozen=True, slots=True)
class Field:
    """What a lens takes in: half-width and half-height of the picture at unit distance [no unit]."""

    half_width: float
    half_height: float

    @property
    def aspect(self) -> float:
        """Width by height [no unit]."""
        return self.half_width / self.half_height

    @property
    def horizontal_deg(self) -> float:
        return 2 * math.degrees(math.atan(self.half_width))

    @property
    def vertical_deg(self) -> float:
        return 2 * math.degrees(math.atan(self.half_height))


def field_of_diagonal(diagonal_deg: float, aspect: float) -> Field:
    """Field of a lens by its angle across the diagonal (docs/method/frame.md): w = tan(D/2)*a/sqrt(a^2+1).

    Args:
        diagonal_deg: angle from corner to corner, 0-180 [deg].
        aspect: width by height [no unit].
    """
    reach = math.tan(math.radians(diagonal_deg) / 2)
    root = math.sqrt(aspect * aspect + 1)
    return Field(reach * aspect / root, reach / root)


def cropped(field: Field, aspect: float) -> Field:
    """The field cut to another aspect by shortening the side that is too long."""
    if field.aspect > aspect:
        return Field(field.half_height * aspect, field.half_height)
    return Field(field.half_width, field.half_width / aspect)


def field_of(camera: Camera, output_aspect: float) -> Field:
    """What a camera takes in after orientation, crop to the output and zoom.

    Args:
        camera: lens, native aspect, orientation and zoom are used.
        output_aspect: width by height of the picture that is sent [no unit].
    """
    lens = camera.lens
    if lens.diagonal_fov_deg is not None:
        field = field_of_diagonal(lens.diagonal_fov_deg, camera.native_aspect)
    else:
        focal_m = lens.focal_length_m or 1.0
        whole = Field(lens.sensor_width_m / (2 * focal_m), lens.sensor_height_m / (2 * focal_m))
        field = cropped(whole, camera.native_aspect)
    if camera.orientation == "portrait":
        field = Field(field.half_height, field.half_width)
    field = cropped(field, output_aspect)
    return Field(field.half_width / camera.zoom, field.half_height / camera.zoom)


@dataclass(frozen=True)
class Pinhole:
    """A camera in the room: lens place [m], axes (unit vectors, shape (3,)) and field."""

    place: Vector
    forward: Vector
    right: Vector
    up: Vector
    field: Field

    @classmethod
    def posed(cls, place: Vector, yaw_deg: float, tilt_deg: float, roll_deg: float, field: Field) -> Pinhole:
        """A camera by yaw, tilt (up positive) and roll (clockwise positive as its operator sees it) [deg]."""
        forward = direction(yaw_deg, tilt_deg)
        level_right = right_of(yaw_deg)
        level_up = direction(yaw_deg, tilt_deg + 90)
        roll = math.radians(roll_deg)
        right = level_right * math.cos(roll) - level_up * math.sin(roll)
        up = level_up * math.cos(roll) + level_right * math.sin(roll)
        return cls(place, forward, right, up, field)

    def depth(self, places: Vector) -> NDArray[np.floating[Any]]:
        """Distance along the axis, shape of places without the last [m]; negative behind the lens."""
        return (places - self.place) @ self.forward

    def project(self, places: Vector) -> NDArray[np.floating[Any]]:
        """Where places fall in the picture.

        Args:
            places: shape (..., 3) [m].

        Returns:
            shape (..., 2): x from the left edge, y from the top edge, 0-1 inside the picture [no unit]; NaN
            behind the lens.
        """
        there = (np.asarray(places, dtype=float) - self.place) @ self._axes
        depth = there[..., 2:]
        return np.asarray(0.5 + there[..., :2] / np.where(depth > 1e-9, depth, np.nan))

    @cached_property
    def _axes(self) -> NDArray[np.floating[Any]]:
        """What turns a way from the lens to picture widths to the right, heights down, and depth, shape (3, 3)."""
        return np.array([self.right / (2 * self.field.half_width), -self.up / (2 * self.field.half_height), self.forward]).T

    def ray(self, x: NDArray[np.floating[Any]], y: NDArray[np.floating[Any]]) -> NDArray[np.floating[Any]]:
        """Unit directions through picture places, shape (..., 3) [no unit]; the inverse of ``project``."""
        across = (2 * np.asarray(x) - 1) * self.field.half_width
        upward = (1 - 2 * np.asarray(y)) * self.field.half_height
        along = [f + across * r + upward * u for f, r, u in zip(self.forward, self.right, self.up, strict=True)]
        lengths = np.sqrt(along[0] ** 2 + along[1] ** 2 + along[2] ** 2)
        return np.stack([part / lengths for part in along], axis=-1)
