"""Doors of the room that stand open where the lens sees them: whoever passes is in the picture."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Door
from uphill_lamp.core.scene.placing import door_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import view_of

ACROSS = (0.1, 0.3, 0.5, 0.7, 0.9)  # places of a door that are looked at, from its left and from its top
NEAR_M = 0.05  # what is met so near to where the door is, is the door


def open_in_view(setup: Setup) -> list[Door]:
    """Doors that stand open and of which something is seen past all that is before them."""
    pinhole, seen = scene_of(setup).pinhole, list[Door]()
    for door in (door for door in setup.room.doors if door.stands_open):
        pane = door_pane(setup.room, door)
        places = np.array([pane.at(across, down) for across in ACROSS for down in ACROSS])
        spots = pinhole.project(places)
        inside = np.flatnonzero(((spots > 0) & (spots < 1)).all(axis=1))
        if not len(inside):
            continue
        met = view_of(setup, pinhole, pinhole.ray(spots[inside, 0], spots[inside, 1])).place
        if (np.linalg.norm(met - places[inside], axis=1) < NEAR_M).any():
            seen.append(door)
    return seen
