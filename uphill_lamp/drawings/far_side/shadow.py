"""Shadows that nose, brow and cheeks throw on the face: sharp under a small light, soft under a large one."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from uphill_lamp.core.light.key import Leading
from uphill_lamp.core.light.windows import SunBeam
from uphill_lamp.core.scene.body import Ellipsoid, head_frame
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.drawings.far_side.colour import FloatArray, white_rgb
from uphill_lamp.drawings.far_side.face import face_texture, sample

STEPS_M = np.array([0.004, 0.007, 0.011, 0.016, 0.022, 0.029, 0.037, 0.047, 0.06], dtype=np.float32)
LEAST_HALF_DEG = 2.0  # what a draft's coarse pixels can hold of an edge
LIFT_M = 0.0012  # off the skin, or it would shade itself


def kept_from(lead: Leading | None, face: Face, heads: Sequence[Ellipsoid], places: FloatArray, normals: FloatArray) -> FloatArray:
    """Light of the source that leads which the face itself keeps from places on its skin.

    Args:
        lead: what leads; where walls and ceiling do, nothing is kept.
        face: where the head is.
        heads: the ellipsoids that carry the relief.
        places, normals: in the head's axes (forward, left, up of the eyes), shapes (N, 3) [m] and (N, 3).

    Returns:
        linear sRGB, shape (N, 3) [lx], to be taken off what falls there.
    """
    if lead is None or lead.source is None or not len(places):
        return np.zeros_like(places)
    source = lead.source
    ray = source.towards if isinstance(source, SunBeam) else source.place - face.eyes
    ray = ray / max(float(np.linalg.norm(ray)), 1e-9)
    level_lx = float(source.illuminance_lx(face.at(0.0, 0.0, -0.03)[None], ray[None], 4)[0])
    towards = (head_frame(face) @ ray).astype(np.float32)
    facing = np.maximum(normals @ towards, 0)
    hidden = 1 - seen_share(places, towards, lead.fills_deg, heads)
    return (level_lx * facing * hidden)[:, None].astype(np.float32) * white_rgb(source.cct_k, source.duv)


def seen_share(places: FloatArray, towards: FloatArray, fills_deg: float, heads: Sequence[Ellipsoid]) -> FloatArray:
    """How much of a light places on the skin see past the face's relief, shape (N,) 0-1.

    Each step along the ray asks how far it clears the skin, against how wide the light is spread there; the least of them counts.
    """
    texture = face_texture()
    spread = np.float32(math.tan(math.radians(max(fills_deg / 2, LEAST_HALF_DEG))))
    start = places[:, 0] + sample(texture.relief, places[:, 1], places[:, 2]) + np.float32(LIFT_M)
    share = np.ones(len(places), dtype=np.float32)
    for step in STEPS_M:
        y, z = places[:, 1] + step * towards[1], places[:, 2] + step * towards[2]
        clears = start + step * towards[0] - _skin(heads, y, z) - sample(texture.relief, y, z)
        share = np.minimum(share, np.clip(0.5 + clears / (2 * step * spread), 0, 1))
    return share


def _skin(heads: Sequence[Ellipsoid], y: FloatArray, z: FloatArray) -> FloatArray:
    """How far forward the plain head lies, far back beyond its rim, shape of ``y`` [m]."""
    found = np.full(y.shape, -1.0, dtype=np.float32)
    for head in heads:
        (forward, left, up), (deep, wide, high) = head.middle, head.radii
        rest = 1 - ((y - left) / wide) ** 2 - ((z - up) / high) ** 2
        found = np.maximum(found, np.where(rest > 0, forward + deep * np.sqrt(np.maximum(rest, 0)), -1.0)).astype(np.float32)
    return found
