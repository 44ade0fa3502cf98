"""How far a room leans in a picture, by its upright lines."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray

UPRIGHT_DEG, LEVEL_DEG = 25.0, 12.0  # lines so near to upright or level may be edges of a room
LEAST_LINES, LEAST_LENGTH = 4, 0.5  # of the picture's height, in all
ROUNDS = 12
FAR_OFF_DEG, AGREEING = 1.0, 0.5


def room_lean_deg(segments: FloatArray, columns: int, rows: int) -> float | None:
    """How far the picture leans, clockwise positive, by what stands upright in it; by what lies level where nothing does [deg].

    A camera that looks up or down draws uprights together: they are taken to lean as far as they stand off the picture's middle, and so
    counted at that. None where there are too few.

    Args:
        segments: ends of straight lines, shape (N, 4) [px].
    """
    if not len(segments):
        return None
    across, down = segments[:, 2] - segments[:, 0], segments[:, 3] - segments[:, 1]
    lengths = np.hypot(across, down)
    upright = np.degrees(np.arctan2(across, down))
    upright = (upright + 90) % 180 - 90  # lean of a line off the vertical; ends in either order
    level = np.degrees(np.arctan2(down, across))
    level = (level + 90) % 180 - 90
    middle = ((segments[:, 0] + segments[:, 2]) / 2 - columns / 2) / columns
    for lean, most_deg, turns in ((upright, UPRIGHT_DEG, True), (-level, LEVEL_DEG, False)):
        near = np.abs(lean) < most_deg
        if near.sum() >= LEAST_LINES and lengths[near].sum() >= LEAST_LENGTH * rows:
            lean_deg = _at_middle(lean[near], middle[near] if turns else np.zeros(int(near.sum())), lengths[near])
            if lean_deg is not None:
                return lean_deg
    return None


def _at_middle(lean_deg: FloatArray, middle: FloatArray, weights: FloatArray) -> float | None:
    """Lean at the picture's middle: a straight line through lean over place, least sum of distances, what is far off counting less; None where most of them
    do not agree."""
    table = np.stack([np.ones(len(middle)), middle], axis=1)
    spread = float(np.ptp(middle)) > 0.15
    table = table if spread else table[:, :1]
    start = _weighted_median(lean_deg, weights)
    values = np.array([start, 0.0])[: table.shape[1]]
    for _ in range(ROUNDS):
        off = np.abs(lean_deg - table @ values)
        counts = weights / np.maximum(off, 0.05) / (1 + (off / FAR_OFF_DEG) ** 2)
        left = table.T @ (counts[:, None] * table) + 1e-9 * np.eye(table.shape[1])
        values = np.linalg.solve(left, table.T @ (counts * lean_deg))
    alike = np.abs(lean_deg - table @ values) < FAR_OFF_DEG
    return float(values[0]) if weights[alike].sum() > AGREEING * weights.sum() and alike.sum() >= LEAST_LINES else None


def _weighted_median(values: FloatArray, weights: FloatArray) -> float:
    order = np.argsort(values)
    sums = np.cumsum(weights[order])
    return float(values[order][int(np.searchsorted(sums, sums[-1] / 2))])
