"""A prompter's glass before the lens: half a mirror, it keeps light from the camera (docs/method/eyes.md, "Prompter")."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import camera_pose
from uphill_lamp.core.scene.scene import scene_of

STOPS = 0.7  # that such a glass takes: a working value between 0.5 and 1
NEAR_M = 0.5  # further from the lens it is before somebody else


def through_glass(setup: Setup, camera: Camera | None = None) -> float:
    """Share of the light that reaches a camera's lens past a prompter's glass before it, 0-1; the main camera's unless another is given."""
    lens = scene_of(setup).lens if camera is None or camera is setup.main_camera else camera_pose(setup, camera)
    towards = scene_of(setup).face.eyes - lens.place
    for screen in setup.screens:
        if screen.kind != "prompter_glass":
            continue
        pane = scene_of(setup).screens[screen.id]
        facing = float(towards @ pane.normal)
        if abs(facing) < 1e-9:
            continue
        share = float((pane.middle - lens.place) @ pane.normal) / facing
        off = lens.place + share * towards - pane.middle
        on = abs(float(off @ pane.right)) <= pane.width_m / 2 and abs(float(off @ pane.up)) <= pane.height_m / 2
        if on and 0 <= share * float(np.linalg.norm(towards)) <= NEAR_M and share < 1:
            return float(2.0**-STOPS)
    return 1.0
