"""How far one may go: from the desk, and with what stands on it."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.footprints import beyond_m, desk_outline
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.core.standing import limits

FAR_M = 10.0
STEP_M = 0.01
OFF_EDGE_M = 0.06  # the middle of a stand's foot from the desk's edge


def keys_back_m(setup: Setup, away: Vector) -> float:
    """How far one can sit back until the keys are out of reach [m]; as far as one likes for a recording, which needs none.

    Args:
        away: level unit vector from the desk to where one goes.
    """
    if setup.call.use == "recorded":
        return FAR_M
    outline, eyes = desk_outline(setup.desk), scene_of(setup).face.eyes[:2]
    steps = np.arange(0.0, 2.0, STEP_M)
    return float(next((step for step in steps if beyond_m(outline, eyes + (step + STEP_M) * away[:2]) > limits.EYES_TO_DESK_M), FAR_M))


def desk_edge_nearest(setup: Setup, place: Vector) -> Vector:
    """Where a stand on the desk comes nearest to a place beyond or over it, at its own height [m]."""
    desk = setup.desk
    outline = desk_outline(desk)
    right, ahead = outline[1] - outline[2], outline[0] - outline[1]
    middle, beyond = np.array([desk.x_m, desk.y_m]), np.asarray(place[:2]) - np.array([desk.x_m, desk.y_m])
    on = middle.copy()
    for side in (right, ahead):
        long_m = float(np.linalg.norm(side))
        reach_m = max(long_m / 2 - OFF_EDGE_M, 0.0)
        on = on + np.clip(float(beyond @ side) / long_m, -reach_m, reach_m) * side / long_m
    high_m = min(max(float(place[2]) - desk.height_m - 0.12, 0.1), limits.STAND_OVER_DESK_M - 0.02)
    return np.array([on[0], on[1], desk.height_m + high_m])
