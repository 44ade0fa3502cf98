"""What is painted on the face: brows, eyes, lips, as weights over the front of the head.

Lengths are metres from the middle of the eyes: ``y`` to the presenter's left, ``z`` up.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from uphill_lamp.core.arrays import FloatArray

HALF_WIDTH_M, TOP_M, FOOT_M = 0.08, 0.12, -0.12
COLUMNS, ROWS = 320, 480
EYE_M = 0.0315


def _bump(y: FloatArray, z: FloatArray, at_y: float, at_z: float, wide: float, high: float) -> FloatArray:
    return np.exp(-(((y - at_y) / wide) ** 2) - ((z - at_z) / high) ** 2)


def _both(y: FloatArray, z: FloatArray, at_y: float, at_z: float, wide: float, high: float) -> FloatArray:
    return _bump(np.abs(y), z, at_y, at_z, wide, high)


def _step(value: FloatArray, edge: float, soft: float) -> FloatArray:
    """0 well below an edge, 1 well above it, a smooth way between."""
    way = np.clip((value - edge) / soft + 0.5, 0, 1)
    return way * way * (3 - 2 * way)


@lru_cache(maxsize=8)
def face_texture(lids: float = 0.0) -> dict[str, FloatArray]:
    """Weights 0-1 of the parts painted on the skin, each of shape (ROWS, COLUMNS); made once (some 30 ms) and kept.

    ``lids`` says how far the eyes are shut, 0-1.
    """
    y, z = np.meshgrid(np.linspace(-HALF_WIDTH_M, HALF_WIDTH_M, COLUMNS), np.linspace(TOP_M, FOOT_M, ROWS))
    y, z = y.astype(np.float32), z.astype(np.float32)
    inner = np.abs(y) - EYE_M
    # Almond of the lids: the upper edge arched, the outer corner a little higher.
    upper = 0.0060 * np.sqrt(np.clip(1 - (inner / 0.0150) ** 2, 0, 1)) + 0.05 * inner
    lower = -0.0046 * np.sqrt(np.clip(1 - (inner / 0.0150) ** 2, 0, 1)) + 0.05 * inner
    upper = upper + (lower - upper) * np.float32(lids)
    within = _step(0.0150 - np.abs(inner), 0, 0.0012)
    opening = _step(upper - z, 0, 0.0012) * _step(z - lower, 0, 0.0012) * within
    reach = np.hypot(inner, z - 0.0008)
    iris = _step(0.0059 - reach, 0, 0.0009) * opening
    pupil = _step(0.0026 - reach, 0, 0.0007) * opening
    lash = np.exp(-(((z - upper - 0.0004) / 0.0010) ** 2)) * within + 0.35 * np.exp(-(((z - lower) / 0.0007) ** 2)) * within
    lid = np.exp(-(((z - upper - 0.0042) / 0.0007) ** 2)) * _step(0.0145 - np.abs(inner), 0, 0.003)
    # Brows with their inner ends a little up look kind.
    arch = 0.0235 + 0.0035 * np.cos((np.abs(y) - 0.034) / 0.021) - 0.10 * np.clip(np.abs(y) - 0.038, 0, 0.05)
    brows = np.exp(-(((z - arch) / (0.0040 - 0.035 * np.clip(np.abs(y) - 0.026, 0, 0.03))) ** 2))
    brows *= _step(np.abs(y), 0.0125, 0.006) * _step(0.0545 - np.abs(y), 0, 0.010)
    mouth_y = np.clip(1 - (np.abs(y) / 0.0255) ** 2, 0, 1)
    line = -0.0745 + 0.0018 * (np.abs(y) / 0.0255) ** 2  # corners a little up
    lips = _step(z - (line - 0.0085 * np.sqrt(mouth_y)), 0, 0.002) * _step((line + 0.0062 * mouth_y**0.75) - z, 0, 0.0015)
    lips *= _step(0.0258 - np.abs(y), 0, 0.0012)  # beyond the corners both edges are one line, which is no lip
    parting = np.exp(-(((z - line) / 0.0009) ** 2)) * _step(0.0250 - np.abs(y), 0, 0.004)
    blush = _both(y, z, 0.042, -0.040, 0.020, 0.018) + 0.6 * _bump(y, z, 0, -0.047, 0.012, 0.010)
    parts = {"white": opening, "iris": iris, "pupil": pupil, "lash": np.clip(lash, 0, 1), "lid": lid * (1 - opening), "brows": brows,
             "lips": lips, "parting": parting, "blush": blush}  # fmt: skip
    return {name: part.astype(np.float32) for name, part in parts.items()}
