"""How much a keystroke shakes the picture: by the desk's height, the lens's height above it, and what carries it (docs/method/frame.md).

Working values: what is argued is that what stands taller on a taller desk shakes more.
"""

from __future__ import annotations

import math

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.footprints import desk_outline
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction, right_of

SWAY_M, DESK_M = 0.06e-3, 0.74  # a keystroke sways a desk of this height so far; a taller one with the cube of its height
LEVER_M = 0.35
STIFF_M = {"laptop_lid": 0.30, "holder": 0.20, "arm": 0.25, "tripod": 0.35, "monitor_top": 0.40}  # heights at which the sway doubles
TABLE_TRIPOD_M = 0.35  # over the desk and no higher above it, a tripod stands on it; else on the floor
KNOCK = 5.0  # times a keystroke


def on_desk(setup: Setup) -> bool:
    """Whether the desk carries the main camera."""
    camera, place = setup.main_camera, scene_of(setup).lens.place
    if camera.mount != "tripod":
        return camera.mount in STIFF_M
    beyond = place[:2] - desk_outline(setup.desk).mean(axis=0)
    across, along = (abs(float(beyond @ axis(setup.desk.yaw_deg)[:2])) for axis in (right_of, direction))
    over = across <= setup.desk.width_m / 2 and along <= setup.desk.depth_m / 2
    return over and float(place[2]) - setup.desk.height_m <= TABLE_TRIPOD_M


def shake(setup: Setup) -> float:
    """How far a keystroke moves the picture, as a share of its width [no unit]; 0 on the floor, a wall or the ceiling."""
    if not on_desk(setup):
        return 0.0
    high_m = max(float(scene_of(setup).lens.place[2]) - setup.desk.height_m, 0.0)
    sway_m = SWAY_M * (setup.desk.height_m / DESK_M) ** 3
    angle = sway_m / LEVER_M * (1 + (high_m / STIFF_M[setup.main_camera.mount]) ** 2)
    return float(angle / (2 * math.atan(scene_of(setup).pinhole.field.half_width)))
