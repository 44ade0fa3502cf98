"""Where somebody looks, told by two looks that are known: into the lens, and at the call's window."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray

LEAST_LOOKS = 4  # pictures of each known look
CLEAR, UNCLEAR = 3.0, 1.5  # spreads between the two known looks: told fairly from here on, not at all below that
UNKNOWN = "not known where the lens is: look into it for two seconds, then at the call for two"
HALF_WAY = 0.5  # between the lens and the window: nearer to the lens is at it, where no plan says how far the window is


@dataclass(frozen=True)
class Gaze:
    """Share of the looks that were into the lens, 0-1, and how far apart the two known looks are [spreads]."""

    share: float
    apart: float


def on_lens(
    looks: FloatArray, lens: NDArray[np.bool_], window: NDArray[np.bool_], judged: NDArray[np.bool_], near: float = HALF_WAY
) -> Gaze | str:
    """How much somebody looks into the lens, or why that is not to be told.

    Args:
        looks: of each picture where irises stand between the eyes' corners and how the head is turned, shape (N, K).
        lens, window: which of them are known to be into the lens and at the window.
        judged: which are asked about: those while speaking.
        near: how far of the way from the lens to the window still passes for a look into the lens.
    """
    if lens.sum() < LEAST_LOOKS or window.sum() < LEAST_LOOKS:
        return UNKNOWN
    if not judged.any():
        return "nobody speaks"
    middle, beside = np.median(looks[lens], axis=0), np.median(looks[window], axis=0)
    within = np.concatenate([looks[lens] - middle, looks[window] - beside])
    spread = np.maximum(1.4826 * np.median(np.abs(within), axis=0), 1e-3)
    way = (beside - middle) / spread**2  # what scatters counts for less
    length = float(way @ (beside - middle))
    apart = float(np.sqrt(max(length, 0.0)))
    if apart < UNCLEAR:
        return "a look into the lens and one at the call are not to be told apart here"
    along = (looks - middle) @ way / length
    return Gaze(float((along[judged] < near).mean()), apart)
