"""Distance fields and how they are joined. Lengths are centimetres; places are (..., 3): forward, left, up of the eyes' middle."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from uphill_lamp.core.arrays import FloatArray

Field = Callable[[FloatArray], FloatArray]
Place = tuple[float, float, float]


def mirrored(p: FloatArray) -> FloatArray:
    """Places folded onto the presenter's left, so that both sides are alike to the last bit."""
    return np.stack([p[..., 0], np.abs(p[..., 1]), p[..., 2]], axis=-1)


def ellipsoid(p: FloatArray, middle: Place, radii: Place, yaw_deg: float = 0.0, pitch_deg: float = 0.0) -> FloatArray:
    """About the distance to an ellipsoid, turned about the upright axis and then about the left one."""
    q = p - np.array(middle)
    if yaw_deg or pitch_deg:
        q = q @ _turn(yaw_deg, pitch_deg)
    scaled = q / np.array(radii)
    reach = np.linalg.norm(scaled, axis=-1)
    steep = np.linalg.norm(scaled / np.array(radii), axis=-1)
    return reach * (reach - 1) / np.maximum(steep, 1e-6)


def limb(p: FloatArray, begin: Place, end: Place, r_begin: float, r_end: float) -> FloatArray:
    """Distance to a rod whose radius goes evenly from one end to the other."""
    a, along = np.array(begin), np.array(end) - np.array(begin)
    share = np.clip((p - a) @ along / (along @ along), 0, 1)
    return np.linalg.norm(p - a - share[..., None] * along, axis=-1) - (r_begin + share * (r_end - r_begin))


def join(a: FloatArray, b: FloatArray, ease: float) -> FloatArray:
    """Union with the seam eased over a width."""
    h = np.clip(0.5 + 0.5 * (b - a) / ease, 0, 1)
    return b + (a - b) * h - ease * h * (1 - h)


def cut(a: FloatArray, b: FloatArray, ease: float) -> FloatArray:
    """The first without the second."""
    return -join(-a, b, ease)


def keep(a: FloatArray, b: FloatArray, ease: float) -> FloatArray:
    """What lies in both."""
    return -join(-a, -b, ease)


def _turn(yaw_deg: float, pitch_deg: float) -> FloatArray:
    yaw, pitch = np.radians(yaw_deg), np.radians(pitch_deg)
    about_up = np.array([[np.cos(yaw), -np.sin(yaw), 0], [np.sin(yaw), np.cos(yaw), 0], [0, 0, 1]])
    about_left = np.array([[np.cos(pitch), 0, np.sin(pitch)], [0, 1, 0], [-np.sin(pitch), 0, np.cos(pitch)]])
    return about_up @ about_left
