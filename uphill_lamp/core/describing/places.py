"""Where a thing that is put into a room comes to stand: free of the others, near where such things stand."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import numpy as np

from uphill_lamp.core.describing.kinds import Kind
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.setup import Setup, wall_length_m
from uphill_lamp.core.scene.placing import WALLS
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction, right_of

Json = dict[str, Any]
APART_M = 0.25  # things put down keep so far from the middles of others
OFF_WALL_M = 0.12
STEP_M = 0.1
# How high a thing stands over what it stands on.
OVER_DESK_M = {"lights": 0.40, "screens": 0.20, "cameras": 0.30, "microphones": 0.20, "reflectors": 0.45, "noises": 0.05}
OVER_FLOOR_M = {"lights": 1.50, "noises": 0.60}
BEHIND_M = {"bed": 0.28, "screen": 1.2, "clock": 1.8, "picture": 1.5, "green_screen": 1.0, "plain_wall": 0.9, "door": 1.0,
            "bookcase": 0.95, "folding_screen": 0.9, "sheet": 1.1, "curtain": 1.1, "clothes_rail": 0.8, "board": 1.4, "cloth": 1.0,
            "clutter": 0.3}  # fmt: skip


def place_for(setup: Setup, kind: Kind, wished: tuple[float, float] | None = None) -> Json:
    """A place for a kind of thing.

    Args:
        wished: where the plan was pressed, x and y [m]; it is kept inside the room.
    """
    height_m = _height_m(setup, kind)
    if wished is not None:
        return _point(setup, *wished, height_m)
    taken = list(_taken(setup))
    spots = list(_spots(setup, kind.where))
    free = next((spot for spot in spots if all(math.dist(spot, other) >= APART_M for other in taken)), spots[0] if spots else None)
    x_m, y_m = free or (setup.room.width_m / 2, setup.room.depth_m / 2)
    return _point(setup, x_m, y_m, height_m)


def _point(setup: Setup, x_m: float, y_m: float, z_m: float) -> Json:
    room = setup.room
    return {
        "x_m": round(min(max(x_m, OFF_WALL_M), room.width_m - OFF_WALL_M), 3), "y_m": round(min(max(y_m, OFF_WALL_M), room.depth_m - OFF_WALL_M), 3),
        "z_m": round(min(max(z_m, 0.02), room.height_m - 0.02), 3),
    }  # fmt: skip


def _height_m(setup: Setup, kind: Kind) -> float:
    if kind.where == "ceiling":
        return setup.room.height_m - 0.25
    if kind.where == "behind":
        return BEHIND_M.get(kind.key.partition(".")[2], 1.3)
    if kind.where == "floor":
        return OVER_FLOOR_M.get(kind.part, 1.0)
    return setup.desk.height_m + (0.02 if kind.key == "screens.laptop" else OVER_DESK_M.get(kind.part, 0.3))


def _taken(setup: Setup) -> Iterator[tuple[float, float]]:
    """Middles of all that stands in the room, as seen from above."""
    for part in ("screens", "cameras", "lights", "reflectors", "microphones", "noises", "backdrop"):
        yield from ((item.position.x_m, item.position.y_m) for item in getattr(setup, part) if item.position is not None)


def _spots(setup: Setup, where: str) -> Iterator[tuple[float, float]]:
    """Places of a sort, the likeliest first."""
    if where == "ceiling":
        yield from _grid(setup, (setup.room.width_m / 2, setup.room.depth_m / 2), 0.0)
    elif where == "floor":
        yield from _grid(setup, (setup.presenter.x_m, setup.presenter.y_m), 0.8)
    elif where == "behind":
        yield from _behind(setup)
    else:
        yield from _on_desk(setup)


def _on_desk(setup: Setup) -> Iterator[tuple[float, float]]:
    """From the sides of the desk inwards, at its far edge before its near one: its middle is where one works."""
    desk, ahead, right = setup.desk, direction(setup.desk.yaw_deg), right_of(setup.desk.yaw_deg)
    across = np.arange(desk.width_m / 2 - 0.1, 0.05, -STEP_M)
    for deep in (0.3, 0.0, -0.2):
        for aside in across:
            for side in (1.0, -1.0):
                place = np.array([desk.x_m, desk.y_m, 0.0]) + side * aside * right + deep * desk.depth_m * ahead
                yield float(place[0]), float(place[1])


def _grid(setup: Setup, middle: tuple[float, float], least_m: float) -> Iterator[tuple[float, float]]:
    """Places over the floor, the nearest to a middle first, the desk and its sitter left out."""
    desk, ahead, right = setup.desk, direction(setup.desk.yaw_deg), right_of(setup.desk.yaw_deg)
    spots = [
        (float(x), float(y)) for x in np.arange(0.3, setup.room.width_m - 0.2, 0.2) for y in np.arange(0.3, setup.room.depth_m - 0.2, 0.2)
    ]
    for x_m, y_m in sorted(spots, key=lambda spot: math.dist(spot, middle)):
        beyond = np.array([x_m - desk.x_m, y_m - desk.y_m, 0.0])
        over_desk = abs(float(beyond @ right)) < desk.width_m / 2 + 0.1 and abs(float(beyond @ ahead)) < desk.depth_m / 2 + 0.1
        if math.dist((x_m, y_m), middle) >= least_m and (not least_m or not over_desk):
            yield x_m, y_m


def _behind(setup: Setup) -> Iterator[tuple[float, float]]:
    """Before the wall behind the presenter, from the middle outwards."""
    face, room = scene_of(setup).face, setup.room
    back = -face.forward
    ways = [((room.width_m if back[0] > 0 else 0.0) - face.eyes[0]) / back[0]] if abs(back[0]) > 1e-6 else []
    ways += [((room.depth_m if back[1] > 0 else 0.0) - face.eyes[1]) / back[1]] if abs(back[1]) > 1e-6 else []
    far_m = max(min(ways) - 0.15, 0.1)
    for aside in (0.0, *(sign * step * 0.2 for step in range(1, 12) for sign in (1, -1))):
        place = face.eyes + far_m * back + aside * face.left
        yield float(place[0]), float(place[1])


def wall_for(setup: Setup, width_m: float, foot_m: float, top_m: float, wished: tuple[float, float] | None = None) -> tuple[str, float]:
    """A wall and the middle along it where a window or door finds room.

    Raises:
        Refused: if no wall has so much left.
    """
    room, holes = (
        setup.room,
        [(window.wall, window.centre_m, window.width_m, window.sill_m, window.sill_m + window.height_m) for window in setup.room.windows],
    )
    holes += [(door.wall, door.centre_m, door.width_m, 0.0, door.height_m) for door in setup.room.doors]
    middles = [
        (wall, float(centre)) for wall in WALLS for centre in np.arange(width_m / 2, wall_length_m(room, wall) - width_m / 2 + 1e-9, 0.1)
    ]
    here = wished or (setup.presenter.x_m, setup.presenter.y_m)

    def away(spot: tuple[str, float]) -> float:
        wall, centre = spot
        axis, end, _ = WALLS[wall]
        at = [0.0, 0.0]
        at[axis], at[1 - axis] = end * (room.width_m if axis == 0 else room.depth_m), centre
        return math.dist(at, here)

    for wall, centre in sorted(middles, key=away):
        if not any(
            other == wall and abs(middle - centre) < (wide + width_m) / 2 and min(top, top_m) > max(foot, foot_m)
            for other, middle, wide, foot, top in holes
        ):
            return wall, round(centre, 3)
    raise Refused([Fault("/room", f"no wall with {width_m:.2f} m left", "a narrower one, or a wall with fewer windows and doors")])
