"""Where everything stands, measured from the walls, as one marks it with tape on the floor."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import camera_pose, wall_behind_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, direction, right_of, vector
from uphill_lamp.core.scene.wording import length


@dataclass(frozen=True, slots=True)
class Mark:
    """One strip of tape: for what, where, and the two walls it is measured from, in words and as places on them [m]."""

    what: str
    words: str
    place: Vector
    walls: tuple[Vector, ...]


def walls_seen(setup: Setup) -> dict[str, Vector]:
    """The four walls by where they are for the presenter, square to the room."""
    quarter = round(setup.presenter.facing_yaw_deg / 90) * 90.0
    ahead, right = direction(quarter), right_of(quarter)
    return {"ahead of you": ahead, "behind you": -ahead, "on your left": -right, "on your right": right}


def marks(setup: Setup) -> list[Mark]:
    """Tape marks: feet or chair, desk, and all that stands on the floor by itself."""
    return [_mark(setup, what, place) for what, place in _standing(setup)]


def _standing(setup: Setup) -> Iterator[tuple[str, Vector]]:
    presenter, desk = setup.presenter, setup.desk
    feet = scene_of(setup).face.at(-0.06, 0, 0)
    yield ("Your feet" if presenter.posture == "standing" else "The middle of your chair"), feet
    near_edge = np.array([desk.x_m, desk.y_m, 0.0]) - desk.depth_m / 2 * direction(desk.yaw_deg)
    yield "The middle of the desk's near edge", near_edge
    for camera in setup.cameras:
        if camera.mount == "tripod":
            yield f"Tripod: {camera.name}", camera_pose(setup, camera).place
    for light in setup.lights:
        if light.stands == "floor":
            yield f"Stand: {light.name}", vector(light.position)


def _mark(setup: Setup, what: str, place: Vector) -> Mark:
    """Measured from the nearer of the walls before and behind, and the nearer of those beside."""
    units, walls = setup.preferences.units, walls_seen(setup)
    words, ends = [], []
    for pair in (("ahead of you", "behind you"), ("on your left", "on your right")):
        away = {name: wall_behind_m(setup, place, walls[name]) for name in pair}
        nearer = min(away, key=lambda name: away[name])
        words.append(f"{length(away[nearer], units)} from the wall {nearer}")
        ends.append(place + away[nearer] * walls[nearer])
    return Mark(what, " and ".join(words), place, tuple(ends))
