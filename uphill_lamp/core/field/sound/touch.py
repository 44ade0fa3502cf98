"""Sounds made at the desk, and by breath: keys, knocks that come up through a stand, pops."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, direction, vector

# Working values, ours: a keyboard at 1 m, and a finger on glass [dB(A)].
KEYS_DB_A, GLASS_DB_A = 46.0, 30.0
KEYS_SHAPE_DB = np.array([-14.0, -8.0, -4.0, 0.0, 0.0, -3.0, -9.0])
# What hands and keys send up each kind of stand, as loud as sound of so much at the capsule would be, working values [dB(A)].
THROUGH_STAND_DB_A = {"device": 48.0, "desk_stand": 50.0, "boom_arm": 40.0, "floor_stand": 28.0, "body": 30.0}
DAMPED_DB = 12.0  # less through something soft under the stand, or a cradle
KEYS_BEFORE_LIPS_M, KEYS_BEFORE_HINGE_M, KEYS_HIGH_M = 0.35, 0.13, 0.02
POP_NONE_M, POP_WORST_M, POP_NONE_DEG = 0.12, 0.03, 20.0


def pop_risk(distance_m: float, off_mouth_deg: float, filtered: bool) -> float:
    """How likely p and b thump, 0-1: none behind a filter, beyond 12 cm or from 20 degrees off the breath; all at 3 cm in it."""
    if filtered:
        return 0.0
    near = (POP_NONE_M - distance_m) / (POP_NONE_M - POP_WORST_M)
    within = 1 - off_mouth_deg / POP_NONE_DEG
    return float(np.clip(near, 0, 1) * np.clip(within, 0, 1))


def keys_place(setup: Setup) -> Vector:
    """Where the keys are [m]: a laptop's before its hinge, others on the desk before the presenter."""
    laptop = next((screen for screen in setup.screens if screen.kind == "laptop"), None)
    if laptop is not None and not setup.computer.separate_keyboard:
        return vector(laptop.position) + KEYS_BEFORE_HINGE_M * direction(laptop.yaw_deg)
    face = scene_of(setup).face
    place = face.lips + KEYS_BEFORE_LIPS_M * face.forward
    return np.array([place[0], place[1], setup.desk.height_m + KEYS_HIGH_M])


def keys_db_a(setup: Setup) -> float:
    """How loud typing is at 1 m [dB(A)]."""
    glass = setup.computer.kind in ("phone", "tablet") and not setup.computer.separate_keyboard
    return GLASS_DB_A if glass else KEYS_DB_A


def through_stand_db_a(microphone: Microphone) -> float:
    """What comes up a microphone's stand while somebody types or knocks the desk [dB(A)]."""
    return THROUGH_STAND_DB_A[microphone.stand] - (DAMPED_DB if microphone.damped else 0.0)


def proximity_effect_db(pattern_p: float, distance_m: float, off_axis_deg: float, frequencies_hz: FloatArray) -> FloatArray:
    """How much nearness raises each octave of a directional capsule, against the same capsule far away [dB].

    20 lg |a + b cos (1 + 1/(jkr))| / |a + b cos|, for a + b = 1 (docs/method/sound.md).
    """
    turned = (1 - pattern_p) * np.cos(np.radians(off_axis_deg))
    away = 2 * np.pi * frequencies_hz / 343.0 * max(distance_m, 1e-3)
    flat = max(abs(pattern_p + turned), 1e-3)
    return np.asarray(20 * np.log10(np.hypot(pattern_p + turned, turned / away) / flat))
