"""What Frame asks where the camera's tilt is a guess: where the head is in the picture."""

from __future__ import annotations

from uphill_lamp.core.areas.frame.measures import camera_paths
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Answer, Question
from uphill_lamp.core.scene.aiming import tilted_to
from uphill_lamp.core.scene.scene import scene_of

# Air above the head [share of the picture's height] as somebody would tell it who looks at his own picture; the middle of each drawn answer.
HEADS = {
    "cut": ("Cut off at the top", -0.06),
    "high": ("Near the top", 0.08),
    "middle": ("In the middle", 0.28),
    "low": ("Low in the picture", 0.5),
}


def head_in_picture(setup: Setup) -> Question | None:
    """Where the head is in the picture, unless somebody told how the camera is tilted."""
    *_, tilt = camera_paths(setup, setup.main_camera)
    if setup.origin_of(tilt) != "assumed":
        return None
    tilts = {key: tilted_to(setup, air, scene_of(setup).face.crown) for key, (_, air) in HEADS.items()}
    answers = tuple(Answer(key, HEADS[key][0], patch) for key, patch in tilts.items() if patch)
    return Question("head", "Where is your head in the picture?", answers) if len(answers) > 1 else None
