"""What tells one face from another: soft bumps that push the average face's skin about. The eyes stay where they are."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray

Place = tuple[float, float, float]
# Where on the presenter's left (and so on the right), how far it reaches, all in m from the middle of the eyes: forward, left, up.
SPOTS: dict[str, tuple[Place, float]] = {
    "cheek": ((-0.0245, 0.040, -0.052), 0.028),
    "cheekbone": ((-0.020, 0.044, -0.024), 0.020),
    "jaw": ((-0.055, 0.050, -0.072), 0.030),
    "chin": ((-0.004, 0.0, -0.101), 0.020),
    "beside_chin": ((-0.008, 0.018, -0.099), 0.016),
    "bridge": ((0.012, 0.0, -0.010), 0.016),
    "tip": ((0.023, 0.0, -0.041), 0.014),
    "wing": ((0.011, 0.013, -0.044), 0.011),
    "lips": ((0.007, 0.0, -0.075), 0.017),
    "brow": ((0.002, 0.022, 0.024), 0.014),
}
# How far each is pushed [m], the same axes; outward on both sides.
FACES: dict[str, dict[str, Place]] = {
    "even": {},
    "round": {
        "cheek": (0.0025, 0.0050, 0.0), "jaw": (0.0, 0.0040, 0.0020), "chin": (-0.0020, 0.0, 0.0030), "bridge": (-0.0025, 0.0, 0.0),
        "tip": (-0.0040, 0.0, 0.0030), "wing": (0.0, 0.0032, 0.0), "lips": (0.0030, 0.0, 0.0),
    },
    "long": {
        "cheek": (-0.0020, -0.0045, 0.0), "cheekbone": (0.0010, 0.0020, 0.0010), "chin": (0.0025, 0.0, -0.0030), "bridge": (0.0020, 0.0, 0.0),
        "tip": (0.0020, 0.0, -0.0035), "wing": (0.0, -0.0012, 0.0),
    },
    "square": {
        "jaw": (0.0, 0.0065, -0.0015), "chin": (0.0025, 0.0, 0.0), "beside_chin": (0.0015, 0.0045, 0.0), "brow": (0.0040, 0.0, 0.0),
        "bridge": (0.0020, 0.0, 0.0), "wing": (0.0, 0.0045, 0.0), "cheek": (-0.0010, 0.0, 0.0),
    },
}  # fmt: skip


def shaped(places: FloatArray, face: str) -> FloatArray:
    """Places on the average head (V, 3) [m] as they lie on a face of a kind."""
    out = places.astype(float)
    for name, push in FACES[face].items():
        middle, reach_m = SPOTS[name]
        for side in (1, -1) if middle[1] else (1,):
            way = np.array([1, side, 1])
            share = np.exp(-(((places - np.array(middle) * way) ** 2).sum(axis=1)) / reach_m**2)
            out += share[:, None] * (np.array(push) * way)
    return out
