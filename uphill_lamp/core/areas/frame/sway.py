"""How far a presenter may sway before the frame is lost: what floor marks are for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.areas.frame.bands import HEAD_SHARE
from uphill_lamp.core.areas.frame.measures import head_share, side_band_of
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.scene import scene_of

STEP_M, MOST_M = 0.01, 0.8


@dataclass(frozen=True, slots=True)
class Sway:
    """Room to move from where one is, to the presenter's left and right, forward and back [m]; 0 where the frame is lost already."""

    left_m: float
    right_m: float
    forward_m: float
    back_m: float


def sway_of(setup: Setup) -> Sway:
    """How far the head may go each way until it leaves its outer band or the picture."""
    face = scene_of(setup).face
    return Sway(*(_reach_m(setup, way) for way in (face.left, -face.left, face.forward, -face.forward)))


def _reach_m(setup: Setup, way: np.ndarray) -> float:
    reach = 0.0
    while reach < MOST_M and _holds(setup, way * (reach + STEP_M)):
        reach += STEP_M
    return round(reach, 2)


def _holds(setup: Setup, by: np.ndarray) -> bool:
    presenter = setup.presenter
    there = setup.model_copy(
        update={"presenter": presenter.model_copy(update={"x_m": presenter.x_m + by[0], "y_m": presenter.y_m + by[1]})}
    )
    face, side, share = scene_of(there).face, side_band_of(setup), head_share(there)
    spots = scene_of(there).pinhole.project(np.array([face.eyes, face.crown, face.chin]))
    size = HEAD_SHARE[setup.preferences.shot]
    if share is None or np.isnan(spots).any() or not (spots[1, 1] >= 0 and spots[2, 1] <= 1):
        return False
    return bool(side.outer_low <= spots[0, 0] <= side.outer_high and size.outer_low <= share <= size.outer_high)  # type: ignore[operator]
