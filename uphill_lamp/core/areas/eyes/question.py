"""What Eyes asks where the call's window is a guess: where on the screen it is."""

from __future__ import annotations

from uphill_lamp.core.areas.eyes.glances import faces
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Answer, Question

# Left, top, width and height as shares of the screen.
PLACES = {
    "whole": ("It fills the screen", (0.0, 0.0, 1.0, 1.0)),
    "top": ("Small, at the top", (0.32, 0.0, 0.36, 0.4)),
    "middle": ("Small, in the middle", (0.32, 0.3, 0.36, 0.4)),
    "low": ("Small, at the foot", (0.32, 0.6, 0.36, 0.4)),
    "left": ("The left half", (0.0, 0.0, 0.5, 1.0)),
    "right": ("The right half", (0.5, 0.0, 0.5, 1.0)),
}


def window_on_screen(setup: Setup) -> Question | None:
    """Where the faces are shown on their screen, unless somebody told; a phone shows them whole."""
    seen = faces(setup)
    if seen is None or seen.screen is None or seen.screen.kind == "phone" or setup.origin_of(f"{seen.path}/top_px") != "assumed":
        return None
    width, height = seen.screen.width_px, seen.screen.height_px
    answers = []
    for key, (words, (left, top, across, down)) in PLACES.items():
        pixels = {
            "left_px": left * width,
            "top_px": top * height,
            "width_px": max(across * width, 1),
            "height_px": max(down * height, 1),
        }
        answers.append(Answer(key, words, tuple(replace(f"{seen.path}/{name}", int(value)) for name, value in pixels.items())))
    return Question("window", f"Where on the {seen.screen.kind.replace('_', ' ')} do you see the others?", tuple(answers))
