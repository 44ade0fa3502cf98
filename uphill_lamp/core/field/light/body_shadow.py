"""What the presenter's body keeps off what is behind it: how much of a source each place does not see."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.scene.body import Ellipsoid, head_frame, squeeze_of
from uphill_lamp.core.scene.placing import Face

FINENESS = 4  # spots along each side of a pane
SUN_M = 1000.0  # so far off rays of the sun may start


def hidden_share(source: Source, shape: tuple[Ellipsoid, ...], face: Face, places: FloatArray) -> FloatArray:
    """How much of a source the body hides from places, shape (N,) 0-1; a pane is seen from spots all over it, each counting alike.

    Args:
        source: where the light comes from.
        shape: the body, placed relative to the eyes.
        face: where the head is.
        places: shape (N, 3) [m].
    """
    frame = head_frame(face)
    start, end = ((rows - face.eyes) @ frame.T for rows in (_spots(source, face), places))
    squeezes = np.array([squeeze_of(part) for part in shape])
    middles = np.array([part.middle for part in shape])[:, None]
    # Each part drawn to a ball: from a spot to a place one passes through it if the nearest point of the way lies within.
    start, end = ((rows - middles) @ squeezes.transpose(0, 2, 1) for rows in (start, end))
    from_start, from_end = (start * start).sum(axis=2)[:, :, None], (end * end).sum(axis=2)[:, None]
    together = start @ end.transpose(0, 2, 1)
    along, squared = together - from_start, np.maximum(from_end - 2 * together + from_start, 1e-12)
    share = np.clip(-along / squared, 0, 1)
    nearest = from_start + share * (2 * along + share * squared)
    return np.asarray((nearest.min(axis=0) < 1).mean(axis=0))


def _spots(source: Source, face: Face) -> FloatArray:
    """Where a source's light comes from, shape (K, 3) [m]."""
    if isinstance(source, SunBeam):
        return np.array([face.eyes + SUN_M * source.towards])
    return source.patches(FINENESS)[0] if isinstance(source, AreaSource) else np.array([source.place])
