"""A hat's brim: it cuts off from the face what comes from above its edge (docs/method/light.md)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.vectors import UP

# A brim is a level disc round the head, 5.5 cm above the eyes, that stands out as far as the setup says.
BRIM_UP_M, HEAD_RADIUS_M, MIDDLE_BACK_M = 0.055, 0.095, 0.07


def wears_brim(setup: Setup) -> bool:
    """Whether the presenter wears a hat with a brim."""
    return setup.presenter.brim_m > 0


def passes_brim(face: Face, brim_m: float, places: FloatArray, rays: FloatArray) -> NDArray[np.bool_]:
    """Whether light from directions reaches places on the face past the brim.

    Args:
        face: where the head is.
        brim_m: how far the brim stands out [m].
        places: shape (N, 3) [m].
        rays: unit directions towards the light, shape (N, ..., 3).

    Returns:
        shape (N, ...); places above the brim are never shaded by it.
    """
    frame = np.array([face.forward, face.left, UP])
    spots = (places - face.eyes) @ frame.T
    going = rays @ frame.T
    start = spots.reshape(len(spots), *(1,) * (rays.ndim - 2), 3)
    rise = np.where(going[..., 2] > 1e-9, going[..., 2], np.inf)
    reach = (BRIM_UP_M - start[..., 2]) / rise
    across = np.hypot(start[..., 0] + reach * going[..., 0] + MIDDLE_BACK_M, start[..., 1] + reach * going[..., 1])
    return np.asarray((start[..., 2] >= BRIM_UP_M) | (going[..., 2] <= 1e-9) | (across > HEAD_RADIUS_M + brim_m))
