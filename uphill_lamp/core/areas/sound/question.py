"""What Sound asks where the microphone's place is a guess: how far from the mouth it is."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.areas.sound.measures import microphone_path
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Answer, Question
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, unit, vector

FAR_M = {"hand": ("A hand's length", 0.18), "forearm": ("A forearm", 0.4), "arm": ("An arm's length, or more", 0.7)}


def distance_from_mouth(setup: Setup) -> Question | None:
    """How far a microphone stands from the mouth, unless somebody told; none for one that is worn or part of something else."""
    microphone = setup.microphone_in_use
    if microphone is None or microphone.at != "room" or microphone.position is None:
        return None
    if setup.origin_of(microphone_path(microphone)) != "assumed":
        return None
    lips, here = scene_of(setup).face.lips, vector(microphone.position)
    answers = []
    for key, (words, far_m) in FAR_M.items():
        place = np.clip(_at(lips, here, far_m), 0.0, room_size(setup.room))
        patch = (
            replace(f"/microphones/{microphone.id}/position/{axis}", round(float(value), 3))
            for axis, value in zip(("x_m", "y_m", "z_m"), place, strict=True)
        )
        answers.append(Answer(key, words, tuple(patch)))
    return Question("microphone", "How far from your mouth is the microphone?", tuple(answers))


def _at(lips: Vector, here: Vector, far_m: float) -> Vector:
    """A place so far from the lips, on the side where the microphone is: at its height, where that is not further below already."""
    way = here - lips
    level, down_m = way * (1.0, 1.0, 0.0), abs(float(way[2]))
    if down_m >= far_m or not level.any():
        return lips + far_m * unit(way)
    return lips + math.sqrt(far_m**2 - down_m**2) * unit(level) + way * (0.0, 0.0, 1.0)
