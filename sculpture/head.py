"""The head and neck, bare: an average calm face, nobody's in particular [cm]."""

from __future__ import annotations

import numpy as np

from sculpture.fields import FloatArray, cut, ellipsoid, join, keep, limb, mirrored

EYE = (-1.22, 3.15, 0.0)
EYEBALL_CM, LID_CM = 1.22, 1.40


def opening(y: FloatArray, z: FloatArray) -> FloatArray:
    """How far inside the almond between the lids, positive inside; the same curve the paint uses."""
    inner = y - EYE[1]
    arch = np.sqrt(np.clip(1 - (inner / 1.50) ** 2, 0, 1))
    return np.minimum(0.56 * arch + 0.05 * inner - z, z - (-0.44 * arch + 0.05 * inner))


def skull(p: FloatArray) -> FloatArray:
    """Cranium and brow, without the face; hair and coverings lie on it."""
    m = mirrored(p)
    d = ellipsoid(p, (-8.9, 0, 3.2), (9.4, 7.55, 8.3))
    d = join(d, ellipsoid(p, (-4.6, 0, 4.6), (5.1, 6.2, 5.4)), 2.5)  # forehead
    return join(d, ellipsoid(m, (-11.5, 2.2, -0.8), (7.4, 5.0, 6.2)), 3.0)  # back of the head down to the nape


def mass(p: FloatArray, m: FloatArray) -> FloatArray:
    """The whole head without its features."""
    d = skull(p)
    d = join(d, ellipsoid(p, (-5.0, 0, -3.2), (5.6, 6.1, 7.4)), 2.0)
    d = join(d, limb(m, (-7.6, 5.1, -6.3), (-1.6, 1.2, -9.9), 1.35, 1.3), 2.2)  # jaw
    d = join(d, ellipsoid(m, (-6.0, 4.4, -4.0), (3.6, 2.5, 4.4)), 1.8)  # side of the cheek
    d = join(d, ellipsoid(p, (-0.80, 0, -10.10), (1.55, 2.0, 1.40)), 2.4)  # chin
    d = join(d, ellipsoid(m, (-2.55, 4.0, -2.9), (1.9, 2.0, 1.7), yaw_deg=34), 2.2)  # cheekbone
    d = join(d, ellipsoid(m, (-2.45, 3.1, -5.4), (2.0, 2.0, 2.6)), 2.2)  # cheek
    return join(d, ellipsoid(p, (-1.7, 0, -7.0), (2.55, 2.9, 2.7)), 1.5)  # what carries the lips


def _eyes(d: FloatArray, m: FloatArray) -> FloatArray:
    d = join(d, limb(m, (0.10, 0.6, 2.35), (-0.95, 4.6, 2.15), 0.62, 0.60), 2.2)  # brow ridge
    d = cut(d, ellipsoid(m, (0.80, 3.15, 0.10), (1.25, 1.95, 1.20), yaw_deg=14), 1.5)  # socket
    d = cut(d, ellipsoid(m, (0.95, 1.60, 0.2), (0.75, 0.70, 1.1)), 1.0)  # beside the root of the nose
    ball = np.linalg.norm(m - np.array(EYE), axis=-1)
    lids = join(ball - LID_CM, ellipsoid(m, (-1.35, 3.25, 0.05), (1.28, 1.85, 1.12), yaw_deg=16), 0.6)
    gap = np.minimum(opening(m[..., 1], m[..., 2]), m[..., 0] - EYE[0])
    d = join(d, lids, 0.55)
    d = np.maximum(d, gap)  # open the lids
    d = np.minimum(d, ball - EYEBALL_CM)
    # Inner and outer corners: behind the ball's limb the gap shows flesh, not a hole.
    return np.minimum(d, ellipsoid(m, (-1.75, 3.15, 0.0), (1.15, 2.0, 1.1), yaw_deg=14))


def _nose(d: FloatArray, p: FloatArray, m: FloatArray) -> FloatArray:
    nose = limb(p, (0.45, 0, 1.9), (2.05, 0, -3.4), 0.66, 0.80)
    nose = join(nose, ellipsoid(p, (2.10, 0, -4.15), (0.92, 1.0, 0.86)), 0.9)  # tip
    nose = join(nose, ellipsoid(m, (1.15, 1.22, -4.42), (0.95, 0.62, 0.72), yaw_deg=12), 0.7)  # wing
    nose = join(nose, limb(p, (1.75, 0, -4.9), (0.9, 0, -5.25), 0.36, 0.34), 0.4)  # what parts the nostrils
    d = join(d, nose, 1.0)
    return cut(d, ellipsoid(m, (1.55, 0.66, -5.1), (0.62, 0.30, 0.42), yaw_deg=14), 0.22)  # nostrils


def _mouth(d: FloatArray, p: FloatArray, m: FloatArray) -> FloatArray:
    d = cut(d, limb(p, (1.55, 0, -5.7), (1.45, 0, -6.4), 0.22, 0.26), 0.45)  # groove under the nose
    upper = join(
        limb(m, (0.88, 0.55, -7.00), (-0.05, 2.20, -7.34), 0.42, 0.20), limb(m, (0.88, 0, -7.10), (0.88, 0.55, -7.00), 0.38, 0.42), 0.2
    )
    lower = limb(m, (0.70, 0, -7.93), (-0.02, 1.95, -7.56), 0.54, 0.22)
    d = join(d, upper, 0.42)
    d = join(d, lower, 0.42)
    line = limb(m, (1.30, 0, -7.48), (0.22, 2.60, -7.32), 0.16, 0.16)  # where they meet, corners a little up
    d = cut(d, line, 0.35)
    return cut(d, ellipsoid(p, (1.35, 0, -8.85), (0.75, 1.7, 0.42)), 0.6)  # above the chin


def _ears(d: FloatArray, m: FloatArray) -> FloatArray:
    ear = ellipsoid(m, (-9.7, 7.75, -1.2), (1.75, 0.62, 3.0), yaw_deg=-22, pitch_deg=-10)
    rim = cut(ear, ellipsoid(m, (-9.3, 8.35, -0.9), (1.0, 0.62, 1.9), yaw_deg=-22, pitch_deg=-10), 0.3)
    rim = join(rim, ellipsoid(m, (-9.1, 7.55, -3.6), (0.75, 0.42, 0.8)), 0.5)  # lobe
    return join(d, rim, 0.5)


def neck(p: FloatArray, m: FloatArray) -> FloatArray:
    """From the jaw down between the collarbones."""
    d = limb(p, (-9.6, 0, -6.0), (-10.4, 0, -20.0), 4.9, 5.3)
    d = join(d, limb(m, (-9.5, 4.6, -5.5), (-5.9, 1.0, -18.2), 1.15, 0.9), 1.6)  # cords
    return join(d, ellipsoid(p, (-5.2, 0, -13.6), (0.9, 0.9, 1.4)), 1.6)  # throat


def _on_chest(p: FloatArray, m: FloatArray) -> FloatArray:
    return join(neck(p, m), ellipsoid(p, (-10.2, 0, -25.0), (6.4, 13.0, 5.8)), 3.0)  # buried in what is worn


def head(p: FloatArray) -> FloatArray:
    """Head, neck and what shows of the chest, bare."""
    m = mirrored(p)
    d = mass(p, m)
    d = _eyes(d, m)
    d = _nose(d, p, m)
    d = _mouth(d, p, m)
    d = _ears(d, m)
    d = join(d, _on_chest(p, m), 1.1)
    return keep(d, -24.0 - p[..., 2], 0.3)
