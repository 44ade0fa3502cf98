"""Figures of Eyes: the angle between the lens and the faces looked at (handbook 03)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.devices import Screen, ScreenWindow
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, Measure
from uphill_lamp.core.scene.placing import camera_pose, face_of, window_centre
from uphill_lamp.core.scene.vectors import UP, Vector, unit

# Viewers forgive a look a little below the lens, hardly any aside or above it (Chen 2002).
DOWN = Band(None, 5.0, None, 10.0)
ASIDE = Band(None, 1.5, None, 6.0)
UPWARD = Band(None, 1.5, None, 6.0)


@dataclass(frozen=True, slots=True)
class Glance:
    """How far a look misses the lens [deg]: up and to the presenter's left positive."""

    left_deg: float
    up_deg: float


def glance_at(eyes: Vector, lens: Vector, target: Vector) -> Glance:
    """Angle at the eyes between the lens and a point looked at, split level and upright [deg].

    Args:
        eyes, lens, target: shape (3,) [m]; the split is in the frame whose axis points at the lens.
    """
    ahead = unit(lens - eyes)
    left = unit(np.cross(UP, ahead))
    if not left.any():  # the lens stands straight above or below
        left = np.array([1.0, 0.0, 0.0])
    above = np.cross(ahead, left)
    look = unit(target - eyes)
    along = float(look @ ahead)
    return Glance(
        math.degrees(math.atan2(float(look @ left), along)),
        math.degrees(math.atan2(float(look @ above), along)),
    )


def call_windows(setup: Setup) -> list[tuple[Screen, ScreenWindow]]:
    """Screen windows in which the others' faces are, on screens that are on."""
    return [(screen, shown) for screen in setup.screens if screen.on for shown in screen.windows if shown.shows == "call"]


def measures(setup: Setup) -> tuple[Measure, ...]:
    """All measures of Eyes; none where no screen shows the call."""
    found = call_windows(setup)
    if not found:
        return ()
    screen, shown = found[0]
    lens = camera_pose(setup, setup.main_camera).place
    glance = glance_at(face_of(setup).eyes, lens, window_centre(screen, shown))
    root = f"/screens/{screen.id}"
    origin = setup.origin_of(f"{root}/windows/{shown.id}/top_px", f"{root}/position/z_m", "/presenter/eye_height_m")
    down, aside, upward = max(0.0, -glance.up_deg), abs(glance.left_deg), max(0.0, glance.up_deg)
    return (
        Measure("eyes.aside", "Aside", aside, "deg", ASIDE, origin, "How far beside the lens you look at the others."),
        Measure("eyes.down", "Below", down, "deg", DOWN, origin, "How far below the lens you look at the others."),
        Measure("eyes.up", "Above", upward, "deg", UPWARD, origin, "How far above the lens you look at the others."),
    )
