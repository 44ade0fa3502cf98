"""Haze of a lens that wants wiping: what is dark beside something burnt out is less dark than what is dark elsewhere."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray

LEAST_PATCH = 0.0005  # of the picture that is burnt out: less throws no haze that is seen
NEAR, SKIPPED = 0.12, 0.02  # of the picture's width round it; what lies nearer is its own edge
DARKEST = 1.0  # percentile
LEAST_SPOTS = 200


def haze_share(linear: FloatArray, burnt: NDArray[np.bool_]) -> float | None:
    """How much lighter the darkest hundredth is near what is burnt out than elsewhere, of full, 0-1; None where nothing is burnt out.

    Args:
        linear: linear luminance, shape (rows, columns) 0-1.
        burnt: what is burnt out, of that shape.
    """
    from scipy.ndimage import distance_transform_edt

    if burnt.mean() < LEAST_PATCH or burnt.all():
        return None
    away = distance_transform_edt(~burnt) / linear.shape[1]
    near, elsewhere = linear[(away > SKIPPED) & (away < NEAR)], linear[away >= 2 * NEAR]
    if min(near.size, elsewhere.size) < LEAST_SPOTS:
        return None
    return float(np.percentile(near, DARKEST) - np.percentile(elsewhere, DARKEST))
