"""Where things are, in a person's words: seen from the presenter's own seat."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.document.devices import Camera, Microphone, ScreenWindow
from uphill_lamp.core.document.people import Garment, Kit
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Door, Furnishing, Window
from uphill_lamp.core.scene.handling import BELONGS, GROUPS, screen_of, thing_at
from uphill_lamp.core.scene.placing import camera_pose, door_pane, microphone_place, window_centre, window_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, vector
from uphill_lamp.core.scene.wording import length

_ROUND = (
    (20, "in front of you"), (70, "ahead, to your {side}"), (110, "to your {side}"), (160, "behind your {side} shoulder"), (181, "behind you"),
)  # fmt: skip


def aside_deg(setup: Setup, place: Vector) -> float:
    """Angle of a place from straight ahead, the presenter's left positive [deg]."""
    face = scene_of(setup).face
    beyond = place - face.eyes
    return math.degrees(math.atan2(float(beyond @ face.left), float(beyond @ face.forward)))


def place_of(setup: Setup, thing: str) -> Vector | None:
    """Where a thing is [m]; None for what has no place of its own."""
    if thing in GROUPS or thing.partition("/")[0] in BELONGS:
        return None
    item = thing_at(setup, thing)
    if isinstance(item, Door):
        return door_pane(setup.room, item).middle
    if isinstance(item, Furnishing | Garment | Kit):
        return None
    if isinstance(item, ScreenWindow):
        return window_centre(screen_of(setup, thing), item)
    if isinstance(item, Window):
        return window_pane(setup.room, item).middle
    if isinstance(item, Camera):
        return camera_pose(setup, item).place
    if isinstance(item, Microphone):
        return microphone_place(setup, item)
    return vector(item.position) if item.position is not None else None


def where(setup: Setup, thing: str) -> str:
    """A place in words, such as ``to your left, 1.35 m away, 12 cm above your eyes``; empty if it has none."""
    place = place_of(setup, thing)
    if place is None:
        return ""
    face, units = scene_of(setup).face, setup.preferences.units
    turn = aside_deg(setup, place)
    side = "left" if turn > 0 else "right"
    direction = next(words for limit, words in _ROUND if abs(turn) < limit).format(side=side)
    up_m = float(place[2] - face.eyes[2])
    height = "level with your eyes" if abs(up_m) < 0.015 else f"{length(abs(up_m), units)} {'above' if up_m > 0 else 'below'} your eyes"
    return f"{direction}, {length(float(np.linalg.norm(place - face.eyes)), units)} away, {height}"
