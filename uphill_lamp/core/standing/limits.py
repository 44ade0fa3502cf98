"""Limits of what hands can do and people can work with (docs/method/standing.md); solvers keep to them, and the check holds all to them."""

from __future__ import annotations

EYES_TO_DESK_M = 0.45  # further from the desk's edge no hand reaches the keys
OFF_GAZE_DEG = {"bare": 20.0, "soft": 14.0}  # a lamp's way off the lines of sight to screens and lens
LENS_LAMP_CD_M2 = 3000.0  # a ring round the lens or a panel just over it may be in sight up to this
LAMP_REACH_M, LAMP_OVER_DESK_M = 0.45, 0.5  # of a desk or clip lamp's head, from the desk's edge and over its top
STAND_OVER_DESK_M, ARM_REACH_M = 0.30, 0.9  # of a microphone on a stand of its own, and on an arm
TRIPOD_OFF_WALL_M, PERSON_OFF_WALL_M = 0.3, 0.2
SCREEN_BY_DAY_SHARE, SCREEN_BY_NIGHT_CD_M2 = 0.35, 60.0  # of how bright it was; darker cannot be read
SCREEN_BEFORE_SHARE = 0.1  # of the picture that a screen's back may hide
CALL_WIDTH_M = 0.12  # of the window with the call, on a screen that others share
