"""What a microphone loses when the head turns or leans back, and when something sounds now and then."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound import octaves
from uphill_lamp.core.field.sound.capsule import NEAREST_MOUTH_M, PATTERN_P, Heard, noise_at, speech_octaves_db
from uphill_lamp.core.field.sound.clarity import modulation_indices, transmission_index
from uphill_lamp.core.scene.placing import Face, microphone_axis, microphone_place
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, direction, right_of

NECK_BACK_M = 0.085  # a head turns about an axis so far behind the eyes
LEAN_M = 0.2
TURNS_DEG = (30.0, 60.0)


@dataclass(frozen=True)
class Loss:
    """How much quieter [dB] and less clear (STI) the voice gets."""

    level_db: float
    sti: float


@dataclass(frozen=True)
class Losses:
    """On a turn of 30 and of 60 degrees to the worse side, and leaning back 20 cm; nothing for what the body carries."""

    turn: Loss = Loss(0.0, 0.0)
    wide: Loss = Loss(0.0, 0.0)
    lean: Loss = Loss(0.0, 0.0)


def losses_of(setup: Setup, microphone: Microphone, heard: Heard) -> Losses:
    """What a microphone loses of a head that turns or leans."""
    if microphone.at == "body":
        return Losses()
    face = scene_of(setup).face
    heads = [_turned(face, side * turn_deg) for turn_deg in TURNS_DEG for side in (-1, 1)]
    heads.append((face.lips - LEAN_M * face.forward, face.forward))
    direct = _direct_db(setup, microphone, *(np.array(part) for part in zip(*heads, strict=True)))
    energy = (10 ** ((direct + octaves.A_WEIGHTS_DB) / 10)).sum(axis=1) + 10 ** (heard.reverberant_db_a / 10)
    level = (heard.speech_db_a - 10 * np.log10(energy)).tolist()
    worse = [int(level[1] > level[0]), 2 + int(level[3] > level[2]), 4]
    indices = modulation_indices(direct[worse], heard.reverberant_db, heard.noise_db, heard.room.t60_s)
    return Losses(*(Loss(level[at], heard.sti - transmission_index(left, heard.voice)) for at, left in zip(worse, indices, strict=True)))


def _turned(face: Face, turn_deg: float) -> tuple[Vector, Vector]:
    """Lips [m] and the way they speak, of a head turned to its right about its neck."""
    yaw_deg = face.presenter.facing_yaw_deg + turn_deg
    forward, left = direction(yaw_deg), -right_of(yaw_deg)
    neck = face.eyes - NECK_BACK_M * face.forward
    beyond = face.lips - neck
    return neck + (beyond @ face.forward) * forward + (beyond @ face.left) * left + np.array([0.0, 0.0, beyond[2]]), forward


def _direct_db(setup: Setup, microphone: Microphone, lips: Vector, forward: Vector) -> FloatArray:
    """Direct speech at the capsule from lips at places [m] that speak along directions, each (N, 3); shape (N, 7) [dB]."""
    beyond = microphone_place(setup, microphone) - lips
    away = np.maximum(np.linalg.norm(beyond, axis=1), NEAREST_MOUTH_M)[:, None]
    rays = beyond / away
    off_mouth, off_axis = (rays * forward).sum(axis=1, keepdims=True), -(rays @ microphone_axis(setup, microphone))[:, None]
    talker = (octaves.TALKER_P + (1 - octaves.TALKER_P) * off_mouth) ** 2
    p = PATTERN_P[microphone.pattern]
    capsule = (p + (1 - p) * off_axis) ** 2
    speech = speech_octaves_db(setup.presenter.voice, setup.presenter.voice_effort)
    return np.asarray(speech + 10 * np.log10(np.maximum(talker * capsule, 1e-6) / away**2))


def loudest_event(setup: Setup, microphone: Microphone, heard: Heard) -> tuple[str, float] | None:
    """The noise that comes and goes and is loudest at the microphone: its id, and how far below the speech it stays [dB]."""
    place, axis = microphone_place(setup, microphone), microphone_axis(setup, microphone)
    levels = [
        (octaves.a_level(noise_at(setup, heard.room, place, axis, PATTERN_P[microphone.pattern], noise)), noise.id)
        for noise in setup.noises
        if not noise.steady
    ]
    if not levels:
        return None
    level, name = max(levels)
    return name, heard.speech_db_a - level
