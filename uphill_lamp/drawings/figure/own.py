"""Light that a body throws on itself: in folds it comes from what lies next to them, under a chin from the chest as well.

A vertex gets as much as it has the body before it. What it sees there is taken to be as bright as its surroundings are on average; from
the chin down, what is below it is the trunk. A path tracer's figures stand in tests/reference/traced_face.json.
"""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.drawings.figure.fitted import NECK_FOOT_M
from uphill_lamp.drawings.figure.surround import DIRECTIONS, WHOLLY, Open, directions, gathered_from

CELL_M, CELLS = 0.02, 3  # surroundings: a cube of so many cells a side
CHIN_M, CHEST_M = -0.09, -0.45  # how far down from the eyes
BELOW, LOOKS_UP = -0.25, np.array([0.5, 0.0, 0.85], np.float32)  # directions that fall more than this; the way a chest faces a chin


def handed_on(lies: Open, rest: FloatArray, sent: FloatArray, trunk_sends: FloatArray) -> FloatArray:
    """What the vertices that count get from the body itself, (U, 3) [lx].

    Args:
        lies: how they lie to the light from all round.
        rest: their places on the average body, shape (U, 3) [m].
        sent: what they throw back, shape (U, 3) [lm/m2].
        trunk_sends: what the chest throws back where none of it counts, shape (3,) [lm/m2].
    """
    near = _surroundings(rest, sent)
    out = lies.closed[:, None] * near
    chin = (rest[:, 2] < CHIN_M) & (rest[:, 2] > NECK_FOOT_M)
    chest = (rest[:, 2] <= NECK_FOOT_M) & (rest[:, 2] > CHEST_M) & (lies.normals @ LOOKS_UP > 0)
    if chest.any():
        trunk_sends = sent[chest].mean(axis=0)
    below = (directions()[None, :, 2] < BELOW).astype(np.float32) * np.float32(4 / DIRECTIONS)
    share = gathered_from(lies.normals[chin], np.uint8(WHOLLY) - lies.free[chin], below)
    out[chin] += share * (trunk_sends - near[chin])
    return np.asarray(out, np.float32)


def _surroundings(rest: FloatArray, sent: FloatArray) -> FloatArray:
    """The mean of what vertices round each one send, shape (U, 3) [lm/m2]."""
    from scipy.ndimage import uniform_filter

    cells = ((rest - rest.min(axis=0)) / CELL_M).astype(np.int64)
    shape = cells.max(axis=0) + 1
    at = np.ravel_multi_index(cells.T, shape)
    summed = [np.bincount(at, weights, shape.prod()) for weights in (*sent.T, None)]
    spread = [uniform_filter(channel.astype(np.float32).reshape(shape), CELLS, mode="constant").ravel()[at] for channel in summed]
    return np.stack(spread[:3], axis=1) / np.maximum(spread[3], np.float32(1e-6))[:, None]
