"""Outlines on the floor as seen from above, and whether two of them meet."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Desk, Door, Room
from uphill_lamp.core.scene.placing import WALLS
from uphill_lamp.core.scene.vectors import direction, right_of


def desk_outline(desk: Desk) -> FloatArray:
    """Corners of a desk's top, (4, 2) [m]."""
    return box((desk.x_m, desk.y_m), desk.width_m, desk.depth_m, desk.yaw_deg)


def box(middle: tuple[float, float], width_m: float, depth_m: float, yaw_deg: float) -> FloatArray:
    """Corners of a rectangle turned clockwise from up the plan by ``yaw_deg``, (4, 2) [m]."""
    right, ahead = right_of(yaw_deg)[:2] * width_m / 2, direction(yaw_deg)[:2] * depth_m / 2
    return np.array(middle) + np.array([right + ahead, right - ahead, -right - ahead, -right + ahead])


def door_swing(room: Room, door: Door) -> FloatArray:
    """Corners of the square of floor that a door needs to open into the room, (4, 2) [m]."""
    axis, end, yaw_deg = WALLS[door.wall]
    middle = np.zeros(2)
    middle[axis], middle[1 - axis] = end * (room.width_m if axis == 0 else room.depth_m), door.centre_m
    middle += direction(yaw_deg)[:2] * door.width_m / 2
    return box((float(middle[0]), float(middle[1])), door.width_m, door.width_m, 0.0)


def meet(one: FloatArray, other: FloatArray, least_m: float = 0.0) -> bool:
    """Whether two convex outlines overlap by more than ``least_m`` (separating axes)."""
    for outline in (one, other):
        for edge in outline - np.roll(outline, 1, axis=0):
            across = np.array([-edge[1], edge[0]]) / max(float(np.hypot(*edge)), 1e-12)
            mine, others = one @ across, other @ across
            if min(mine.max(), others.max()) - max(mine.min(), others.min()) <= least_m:
                return False
    return True


def beyond_m(outline: FloatArray, place: FloatArray) -> float:
    """How far a place, (2,) [m], lies outside a convex outline; 0 on it."""
    edges, from_corners = np.roll(outline, -1, axis=0) - outline, place - outline
    turns = edges[:, 0] * from_corners[:, 1] - edges[:, 1] * from_corners[:, 0]
    if (turns >= 0).all() or (turns <= 0).all():
        return 0.0
    share = np.clip((from_corners * edges).sum(axis=1) / np.maximum((edges * edges).sum(axis=1), 1e-12), 0, 1)
    return float(np.linalg.norm(from_corners - share[:, None] * edges, axis=1).min())


def door_words(setup: Setup, door_id: str) -> str:
    """What keeps a door from opening; empty where nothing does."""
    door = next((door for door in setup.room.doors if door.id == door_id), None)
    if door is None or not meet(desk_outline(setup.desk), door_swing(setup.room, door), 0.02):
        return ""
    return "The desk stands in this door’s way: it cannot open into the room. Shift the desk, or say which wall the door is in."
