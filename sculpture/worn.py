"""Hair, coverings and clothes: shells over the bare head and body [cm]."""

from __future__ import annotations

import numpy as np

from sculpture.fields import FloatArray, cut, ellipsoid, join, keep, limb, mirrored
from sculpture.head import mass, neck, skull


def _strands(p: FloatArray, deep: float) -> FloatArray:
    """Grooves that run from a parting on the presenter's left over the crown, and straight down below it."""
    over = np.arctan2(p[..., 1] - 2.6, p[..., 2] + 2.0) * 15 + 0.25 * p[..., 0]
    down = np.arctan2(p[..., 1], -9.0 - p[..., 0]) * 11 + 0.06 * p[..., 2]
    high = np.clip((p[..., 2] - 3.0) / 5.0, 0, 1)
    way = high * over + (1 - high) * down
    return deep * (np.sin(way) + 0.6 * np.sin(2.3 * way + 1.1) + 0.35 * np.sin(4.9 * way + 0.3 * p[..., 2]))


def _above_hairline(p: FloatArray, fore_cm: float) -> FloatArray:
    """Negative where hair grows: over the brow at ``fore_cm``, before the ears, and not below the nape."""
    m = mirrored(p)
    line = 0.80 * p[..., 0] - 0.60 * (p[..., 2] - fore_cm) + 0.10 * m[..., 1] - 0.45
    temple = 0.5 * np.exp(-(((m[..., 1] - 5.6) / 1.3) ** 2))
    return np.maximum(line + temple, -6.2 - p[..., 2] - 0.25 * (p[..., 0] + 14))


def short(p: FloatArray) -> FloatArray:
    """Cut short, fuller on top, swept from a parting."""
    m = mirrored(p)
    top = np.clip((p[..., 2] - 2) / 8, 0, 1)
    d = skull(p) - 0.55 - 1.25 * top
    d = join(d, limb(p, (0.3, 3.2, 9.2), (-1.2, -5.2, 8.4), 1.5, 1.2), 1.6)  # swept to the right
    d = cut(d, ellipsoid(m, (-9.4, 8.2, -2.0), (2.7, 2.2, 4.2)), 0.5)  # round the ears
    return keep(d + _strands(p, 0.07), _above_hairline(p, 6.4), 0.7)


def long_(p: FloatArray) -> FloatArray:
    """Falling to the shoulders, parted, tucked back from the face."""
    m = mirrored(p)
    d = keep(skull(p) - 1.15, _above_hairline(p, 6.7), 0.8)
    lock = limb(m, (-5.6, 6.9, 4.5), (-7.6, 8.0, -5.0), 1.5, 2.1)
    lock = join(lock, limb(m, (-7.6, 8.0, -5.0), (-7.6, 8.7, -14.5), 2.1, 2.3), 1.5)
    lock = join(lock, limb(m, (-7.6, 8.7, -14.5), (-6.2, 8.2, -22.0), 2.3, 1.2), 1.5)
    d = join(d, lock, 1.6)
    d = join(d, ellipsoid(p, (-13.2, 0, -7.0), (5.6, 9.0, 14.5)), 2.0)
    d = cut(d, limb(p, (-7.2, 0, -9.0), (-7.6, 0, -30.0), 6.0, 6.6), 0.8)  # room for the neck
    face = ellipsoid(p, (0.3, 0, -1.5), (7.6, 6.9, 9.2))
    return cut(d + _strands(p, 0.10), face, 0.5)


def tied(p: FloatArray) -> FloatArray:
    """Combed close and tied in a knot high at the back."""
    d = keep(skull(p) - 0.65, _above_hairline(p, 6.6), 0.6)
    d = cut(d, ellipsoid(mirrored(p), (-9.4, 8.2, -2.0), (2.5, 1.6, 3.8)), 0.4)
    d = join(d, ellipsoid(p, (-14.6, 0, 10.2), (3.4, 3.6, 3.3)), 0.7)
    return d + _strands(p, 0.05)


def covered(p: FloatArray) -> FloatArray:
    """A cloth over hair and neck that leaves the face free."""
    m = mirrored(p)
    d = join(skull(p) - 1.30, mass(p, m) - 0.75, 1.5)
    d = join(d, ellipsoid(m, (-9.0, 5.0, -3.0), (4.6, 3.9, 6.5)), 2.0)  # over the ears
    d = join(d, ellipsoid(p, (-8.4, 0, -12.2), (8.0, 7.6, 6.0)), 2.5)
    d = join(d, ellipsoid(p, (-8.8, 0, -18.5), (9.4, 12.5, 5.2)), 2.5)
    folds = 0.16 * np.sin(1.6 * p[..., 2] + 0.5 * m[..., 1] + 0.35 * p[..., 1]) * np.clip((-9 - p[..., 2]) / 3, 0, 1)
    free = ellipsoid(p, (2.6, 0, -1.7), (9.2, 6.0, 8.6))
    return cut(d + folds, free, 0.3)


def hat(p: FloatArray) -> FloatArray:
    """The crown of a hat; its brim is made to measure in the app."""
    crown = ellipsoid(p, (-8.9, 0, 5.2), (10.9, 9.0, 9.4))
    crown = join(crown, limb(p, (-8.9, 0, 6.0), (-8.9, 0, 11.5), 7.2, 6.6), 2.0)
    dent = limb(p, (-3.5, 0, 18.6), (-14.5, 0, 18.6), 1.6, 1.6)
    return keep(cut(crown, dent, 1.6), 5.6 - p[..., 2] + 0.10 * (p[..., 0] + 9), 0.4)


def _trunk(p: FloatArray, m: FloatArray) -> FloatArray:
    d = limb(m, (-10.4, 1.5, -16.6), (-10.0, 14.6, -22.6), 4.6, 4.4)  # neck to shoulder
    d = join(d, ellipsoid(p, (-9.8, 0, -33.0), (11.2, 17.0, 15.0)), 5.0)
    d = join(d, ellipsoid(p, (-9.2, 0, -52.0), (10.6, 15.0, 21.0)), 6.0)
    d = join(d, ellipsoid(p, (-9.0, 0, -74.0), (11.5, 17.5, 14.0)), 5.0)
    return join(d, ellipsoid(m, (-10.0, 17.2, -24.4), (5.2, 4.6, 5.6)), 4.5)  # ball of the shoulder


def _collar(d: FloatArray, p: FloatArray) -> FloatArray:
    """A round neckline, lower in front: a raised hem, and inside it the chest, which is painted as skin."""
    fore = p[..., 0] + 9.4
    out = np.hypot(fore / np.where(fore > 0, 1.12, 0.98), p[..., 1] * 0.94) - 7.4
    inside = 1 / (1 + np.exp(out / 0.12))
    return d + 0.14 * inside - 0.14 * np.exp(-(((out - 0.3) / 0.55) ** 2))


def _with_neck(d: FloatArray, p: FloatArray, m: FloatArray) -> FloatArray:
    """Shoulders that rise into the neck: its foot goes along, and higher up it slips inside the head's own."""
    inside = 0.9 * np.clip((p[..., 2] + 19.5) / 5.0, -0.12, 1.4)
    return join(d, neck(p, m) + inside, 2.6)


def _shirt(p: FloatArray, arm: FloatArray, legs: FloatArray) -> FloatArray:
    m = mirrored(p)
    d = join(join(_trunk(p, m), arm, 2.2), legs, 3.0)
    folds = 0.20 * np.sin(0.55 * p[..., 2] - 0.9 * m[..., 1] + 0.4 * p[..., 0]) * np.exp(-(((m[..., 1] - 13) / 5) ** 2))
    folds = folds + 0.16 * np.sin(0.8 * p[..., 2] + 0.35 * p[..., 1]) * np.clip((-42 - p[..., 2]) / 10, 0, 1) * np.clip(
        (p[..., 2] + 78) / 8, 0, 1
    )
    return _collar(_with_neck(d + folds, p, m), p)


def shirt_sitting(p: FloatArray) -> FloatArray:
    """A top whose sleeves lie forward on a desk, hands, and legs that sit; they end below any floor."""
    m = mirrored(p)
    arm = join(
        limb(m, (-10.0, 17.6, -25.0), (-7.0, 21.5, -49.0), 4.8, 4.0), limb(m, (-7.0, 21.5, -49.0), (18.0, 12.0, -52.0), 4.0, 3.0), 2.0
    )
    hand = ellipsoid(m, (23.5, 9.6, -52.6), (7.6, 4.0, 1.9), yaw_deg=-22)
    arm = join(arm, join(hand, limb(m, (19.5, 8.0, -52.4), (26.0, 5.4, -52.2), 1.5, 1.0), 0.8), 1.2)
    thigh = limb(m, (-6.0, 9.5, -80.0), (34.0, 11.0, -81.0), 8.6, 6.4)
    return _shirt(p, arm, join(thigh, limb(m, (34.0, 11.0, -81.0), (31.0, 11.0, -160.0), 6.2, 4.0), 2.5))


def shirt_standing(p: FloatArray) -> FloatArray:
    """A top whose sleeves hang, hands, and legs that stand; they end below any floor."""
    m = mirrored(p)
    arm = join(
        limb(m, (-10.0, 17.6, -25.0), (-10.5, 22.0, -52.0), 4.8, 4.0), limb(m, (-10.5, 22.0, -52.0), (-4.0, 23.0, -76.0), 4.0, 3.0), 2.0
    )
    hand = ellipsoid(m, (-2.8, 22.8, -83.0), (4.0, 1.9, 7.6), pitch_deg=-6)
    arm = join(arm, join(hand, limb(m, (-0.6, 21.8, -78.5), (1.4, 20.6, -84.5), 1.5, 1.0), 0.8), 1.2)
    legs = join(
        limb(m, (-9.2, 8.6, -82.0), (-8.6, 9.4, -118.0), 9.2, 6.2), limb(m, (-8.6, 9.4, -118.0), (-11.4, 9.0, -174.0), 6.2, 4.0), 2.5
    )
    return _shirt(p, arm, legs)
