"""The chair's back in the picture, and what it and the presenter's legs keep off what is behind them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.body_shadow import behind_body, behind_panes
from uphill_lamp.core.scene.body import Ellipsoid
from uphill_lamp.core.scene.chair import chair_panes, padded_m, seat_pane
from uphill_lamp.core.scene.placing import Pane, face_of
from uphill_lamp.drawings.far_side.colour import hex_rgb

SEAM_M, SEAM_IN_M, SEAM_SHADE = 0.012, 0.035, 0.6  # how wide a seam is, how far inside the edge, and how much darker
HIPS_M, KNEE_M, SHOE_M = 0.74, 0.46, 0.04  # hips below the eyes, how far forward knees are of who sits, how high a foot ends
STANDING_M = -0.09  # legs of who stands, against the eyes
LEG_M, APART_M = 0.075, 0.10  # a leg's radius, and how far each is from the middle


def padded(pane: Pane, across: FloatArray, down: FloatArray) -> NDArray[np.bool_]:
    """Where a part of a chair is within its round corners, for places 0-1 on its rectangle, shape (N,)."""
    return np.asarray(padded_m(pane, across, down) >= 0)


def upholstery(setup: Setup, pane: Pane, across: FloatArray, down: FloatArray) -> FloatArray:
    """Albedo of a part of the chair with its seam, shape (N, 3)."""
    albedo = np.repeat(hex_rgb(setup.presenter.chair_colour)[None], len(across), axis=0)
    albedo[np.abs(padded_m(pane, across, down) - SEAM_IN_M) < SEAM_M / 2] *= SEAM_SHADE
    return albedo


def free_of(setup: Setup, spots: FloatArray, places: FloatArray) -> NDArray[np.bool_]:
    """Which spots (K, 3) the chair and the presenter's legs leave to be seen from places (N, 3) [m], shape (N, K)."""
    face, seat = face_of(setup), seat_pane(setup)
    hidden = behind_panes(spots, (*chair_panes(setup), *((seat,) if seat else ())), places)
    hips_m = face.eyes[2] - HIPS_M
    # Light from above the hips casts legs on nothing that is higher than they are.
    below = np.flatnonzero(places[:, 2] < hips_m) if spots[:, 2].min() > hips_m else np.arange(len(places))
    if len(below):
        hidden[:, below] |= behind_body(spots, _legs(setup), face, places[below])
    return ~hidden.T


def _legs(setup: Setup) -> tuple[Ellipsoid, ...]:
    """Both legs, placed relative to the eyes: straight down of who stands, thighs and shins of who sits."""
    sits, shin_m = setup.presenter.posture == "sitting", max(setup.presenter.eye_height_m - SHOE_M - HIPS_M, 0.1) / 2
    legs = []
    for side in (APART_M, -APART_M):
        legs.append(Ellipsoid("leg", (KNEE_M if sits else STANDING_M, side, -HIPS_M - shin_m), (LEG_M, LEG_M, shin_m)))
        if sits:
            legs.append(Ellipsoid("leg", ((KNEE_M + STANDING_M) / 2, side, -HIPS_M), ((KNEE_M - STANDING_M) / 2, LEG_M, LEG_M)))
    return tuple(legs)
