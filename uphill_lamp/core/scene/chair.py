"""The back of the chair: upright panes behind the presenter, as a lens and the light meet them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import Pane, face_of, facing_pane
from uphill_lamp.core.scene.vectors import UP

BEHIND_M = 0.235  # the back's front side behind the eyes: close to the spine of somebody who sits upright
HEADREST_BEHIND_M = 0.225
CORNER_M = 0.09  # how round a padded back's corners are
SEAT_M = (0.48, 0.46)  # across, and from the front to the back
SEAT_AHEAD_M, SEAT_BELOW_M = 0.0, 0.81  # its middle against the eyes


@dataclass(frozen=True)
class Part:
    """A part of a chair's back: width, and how far its foot and its top are above the eyes [m]."""

    behind_m: float
    width_m: float
    foot_m: float
    top_m: float


# Working values: backs of office chairs under eyes 0.75 m above the seat.
PARTS = {
    "none": (),
    "low_back": (Part(BEHIND_M, 0.46, -0.68, -0.26),),
    "high_back": (
        Part(BEHIND_M, 0.50, -0.68, -0.13),
        Part(BEHIND_M + 0.01, 0.06, -0.13, -0.09),
        Part(HEADREST_BEHIND_M, 0.29, -0.09, 0.07),
    ),
}


def padded_m(pane: Pane, across: FloatArray, down: FloatArray) -> FloatArray:
    """How far inside a back's round outline places 0-1 on its rectangle are, less than 0 outside of it, shape of ``across`` [m]."""
    corner = min(CORNER_M, pane.width_m / 2, pane.height_m / 2)
    x = np.abs(across - 0.5) * pane.width_m - (pane.width_m / 2 - corner)
    y = np.abs(down - 0.5) * pane.height_m - (pane.height_m / 2 - corner)
    # The distance to a rectangle with round corners: beyond its inner one by what is left of the corner.
    return np.asarray(corner - np.hypot(np.maximum(x, 0), np.maximum(y, 0)) - np.minimum(np.maximum(x, y), 0))


def seat_pane(setup: Setup) -> Pane | None:
    """The seat, its top side up; None for who stands."""
    if setup.presenter.posture != "sitting":
        return None
    face = face_of(setup)
    return Pane(face.at(SEAT_AHEAD_M, 0, -SEAT_BELOW_M), UP, -face.left, face.forward, *SEAT_M)


def chair_panes(setup: Setup) -> tuple[Pane, ...]:
    """The back of what the presenter sits on, its picture side the way they face; none for who stands."""
    presenter = setup.presenter
    if presenter.posture != "sitting":
        return ()
    face = face_of(setup)
    return tuple(
        facing_pane(
            face.at(-part.behind_m, 0, (part.foot_m + part.top_m) / 2),
            presenter.facing_yaw_deg,
            0.0,
            part.width_m,
            part.top_m - part.foot_m,
        )
        for part in PARTS[presenter.chair]
    )
