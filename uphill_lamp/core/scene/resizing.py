"""A room made larger or smaller, a desk by its edges, the compass by its arrow: what stands there comes along or is shifted in, never lost."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.patch import Operation, Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Door, Window
from uphill_lamp.core.scene.placing import WALLS
from uphill_lamp.core.scene.vectors import Vector, direction, right_of, wrapped_deg

INSIDE_M, BODY_M = 0.02, 0.1
SPANS = {"width_m": (1.5, 12.0), "depth_m": (1.5, 12.0), "height_m": (1.9, 5.0)}
DESK_SPANS = {"width_m": (0.3, 4.0), "depth_m": (0.2, 2.0)}
EDGES = {"left": (-1, 0), "right": (1, 0), "near": (0, -1), "far": (0, 1)}
LEAST_PANE_M = 0.1
ARROW_M = 0.25  # how far from its middle the compass is held on the plan


def wall_dragged(setup: Setup, wall: str, by: Vector) -> Patch:
    """A wall of the room pushed or pulled; the opposite one stays, and so does all that stands in the room.

    Args:
        wall: such as ``wall_x1``.
        by: on the plan [m].

    Raises:
        Refused: if there is no such wall.
    """
    if wall not in WALLS:
        raise Refused([Fault(f"/walls/{wall}"[:60], "no wall of that name", "one of " + ", ".join(WALLS))])
    axis, end, _ = WALLS[wall]
    field = "width_m" if axis == 0 else "depth_m"
    low, high = SPANS[field]
    now = float(getattr(setup.room, field))
    wanted = round(min(max(now + (float(by[axis]) if end else -float(by[axis])), low), high), 3)
    shift = [0.0, 0.0]
    if not end:  # the corner that all is measured from moves
        shift[axis] = wanted - now
    return resized(setup, {field: wanted}, shift[0], shift[1])


def resized(setup: Setup, sizes: dict[str, float], right_m: float = 0.0, up_m: float = 0.0) -> Patch:
    """The room of other sizes; what would stand in or beyond a wall is shifted in.

    Args:
        sizes: of ``width_m``, ``depth_m`` and ``height_m`` those that change [m].
        right_m, up_m: how far all moves against the corner that it is measured from [m].
    """
    room = setup.room.model_copy(update=sizes)
    size = np.array([room.width_m, room.depth_m, room.height_m])
    operations: list[Operation] = [
        replace(f"/room/{field}", value) for field, value in sizes.items() if value != getattr(setup.room, field)
    ]
    shift = np.array([right_m, up_m, 0.0])
    for part in ("screens", "cameras", "lights", "reflectors", "microphones", "noises", "backdrop"):
        for item in getattr(setup, part):
            if item.position is not None:
                operations += _shifted(f"/{part}/{item.id}/position", item.position, shift, size)
    if setup.presenter.paper_notes is not None:
        operations += _shifted("/presenter/paper_notes", setup.presenter.paper_notes, shift, size)
    presenter, desk = setup.presenter, setup.desk
    top_m = size[2] - presenter.head.eyes_to_crown_m - 0.01
    operations += _changed("/presenter", {
        "x_m": (presenter.x_m, presenter.x_m + right_m, BODY_M, size[0] - BODY_M), "y_m": (presenter.y_m, presenter.y_m + up_m, BODY_M, size[1] - BODY_M),
        "eye_height_m": (presenter.eye_height_m, presenter.eye_height_m, 0.5, top_m),
    })  # fmt: skip
    operations += _changed("/desk", {
        "x_m": (desk.x_m, desk.x_m + right_m, BODY_M, size[0] - BODY_M), "y_m": (desk.y_m, desk.y_m + up_m, BODY_M, size[1] - BODY_M),
    })  # fmt: skip
    for path, hole in [(f"/room/windows/{window.id}", window) for window in setup.room.windows] + [
        (f"/room/doors/{door.id}", door) for door in setup.room.doors
    ]:
        operations += _hole(path, hole, size, shift)
    return tuple(operations)


def _shifted(path: str, point: object, shift: Vector, size: Vector) -> Iterator[Operation]:
    """Only those axes that really move."""
    yield from _changed(path, {
        f"{axis}_m": (getattr(point, f"{axis}_m"), getattr(point, f"{axis}_m") + shift[index], 0.0 if axis == "z" else INSIDE_M, size[index] - INSIDE_M)
        for index, axis in enumerate("xyz")
    })  # fmt: skip


def _changed(path: str, values: dict[str, tuple[float, float, float, float]]) -> Iterator[Operation]:
    for field, (was, wanted, low, high) in values.items():
        now = round(float(min(max(wanted, low), max(high, low))), 3)
        if abs(now - was) > 1e-9:
            yield replace(f"{path}/{field}", now)


def _hole(path: str, hole: Window | Door, size: Vector, shift: Vector) -> Iterator[Operation]:
    axis = 1 - WALLS[hole.wall][0]
    length = float(size[axis])
    wide = min(hole.width_m, length)
    foot_m = hole.sill_m if isinstance(hole, Window) else 0.0
    low = min(foot_m, max(size[2] - hole.height_m, 0.0))
    new = {"width_m": (hole.width_m, wide), "centre_m": (hole.centre_m, min(max(hole.centre_m + float(shift[axis]), wide / 2), length - wide / 2)),
           "height_m": (hole.height_m, min(hole.height_m, float(size[2]) - low))}  # fmt: skip
    if isinstance(hole, Window):
        new["sill_m"] = foot_m, float(low)
    for field, (was, now) in new.items():
        if abs(now - was) > 1e-9:
            yield replace(f"{path}/{field}", round(float(now), 3))


def head_dragged(setup: Setup, window_id: str, by: Vector) -> Patch:
    """The upper edge of a window raised or lowered; its sill stays.

    Raises:
        Refused: if there is no such window.
    """
    window = next((window for window in setup.room.windows if window.id == window_id), None)
    if window is None:
        raise Refused([Fault(f"/heads/{window_id}"[:60], "no window of that name", "a window of this room")])
    height_m = round(min(max(window.height_m + float(by[2]), LEAST_PANE_M), setup.room.height_m - window.sill_m), 3)
    return (replace(f"/room/windows/{window.id}/height_m", height_m),) if height_m != window.height_m else ()


def edge_dragged(setup: Setup, edge: str, by: Vector) -> Patch:
    """An edge of the desk pushed or pulled; the opposite one stays.

    Raises:
        Refused: if a desk has no such edge.
    """
    if edge not in EDGES:
        raise Refused([Fault(f"/edges/{edge}"[:60], "no edge of that name", "one of " + ", ".join(EDGES))])
    desk = setup.desk
    aside, ahead = EDGES[edge]
    way = aside * right_of(desk.yaw_deg) + ahead * direction(desk.yaw_deg)
    field = "width_m" if aside else "depth_m"
    low, high = DESK_SPANS[field]
    now = float(getattr(desk, field))
    wanted = round(min(max(now + float(by @ way), low), high), 3)
    step = (wanted - now) / 2 * way
    new = {field: (now, wanted), "x_m": (desk.x_m, desk.x_m + float(step[0])), "y_m": (desk.y_m, desk.y_m + float(step[1]))}
    return tuple(replace(f"/desk/{name}", round(value, 3)) for name, (was, value) in new.items() if abs(value - was) > 1e-9)


def compass_dragged(setup: Setup, by: Vector) -> Patch:
    """The compass's arrow turned by its tip."""
    turn = math.radians(-setup.room.north_bearing_deg)
    tip = ARROW_M * np.array([math.sin(turn), math.cos(turn)]) + by[:2]
    return compass_turned_to(-math.degrees(math.atan2(float(tip[0]), float(tip[1]))))


def compass_turned_to(bearing_deg: float) -> Patch:
    """The room by what the compass says up the drawing [deg]."""
    return (replace("/room/north_bearing_deg", round(wrapped_deg(bearing_deg) % 360, 1) % 360),)
