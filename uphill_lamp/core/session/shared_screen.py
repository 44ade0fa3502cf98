"""The screen that is shared in a call, and how large letters on it must be to be read on the far side."""

from __future__ import annotations

from uphill_lamp.core.document.devices import Screen
from uphill_lamp.core.document.setup import Setup

LEAST_PX, OF_PX = 8.0, 1280.0  # an x of so many px on a picture so wide is just read


def least_letter_px(shared_px: float) -> float:
    """Least height of a small x on a shared screen of a width [px]: 8 px on 1280."""
    return LEAST_PX * shared_px / OF_PX


def shared_screen(setup: Setup) -> Screen | None:
    """The screen that slides stand on, else the first that is on; None without slides or screens."""
    on = [screen for screen in setup.screens if screen.on and screen.kind not in ("projection", "prompter_glass")]
    if setup.call.slides == "none" or not on:
        return None
    return next((screen for screen in on if any(window.shows == "slides" for window in screen.windows)), on[0])
