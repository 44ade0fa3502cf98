"""Moving and turning what stands in the room: a hand's wish as a patch of the document."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.document.devices import Camera, Light, Microphone, Reflector, Screen, ScreenWindow
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.fields import Point
from uphill_lamp.core.document.patch import Operation, Patch, replace
from uphill_lamp.core.document.people import Garment, Kit
from uphill_lamp.core.document.setup import Setup, wall_length_m
from uphill_lamp.core.document.surroundings import BackdropThing, Door, Furnishing, Noise, Room, Window
from uphill_lamp.core.scene.placing import WALLS, camera_pose, face_of, room_size, screen_pane
from uphill_lamp.core.scene.resizing import compass_dragged, compass_turned_to, edge_dragged, head_dragged, wall_dragged
from uphill_lamp.core.scene.vectors import Vector, direction, right_of, rotated, vector, wrapped_deg

WITHIN_M = 0.02  # things are kept this far off the walls when moved by hand
FROM_WALL_M = 0.25  # a window dragged this far off its wall may go over to another
ON_DESK_M = 0.08  # a foot's middle is at least so far from the desk's edge
TOGETHER_M = 0.3  # a phone's glass and its lens move as one
LISTS = ("screens", "cameras", "lights", "reflectors", "microphones", "noises", "backdrop", "kit")
# Lists that stand within a part of the document, by the first word of their handles.
WITHIN = {"windows": "/room/windows", "doors": "/room/doors", "furnishings": "/room/furnishings", "clothing": "/presenter/clothing"}
# What can be dragged on the plan and is no thing of its own: what is selected when it is pressed, and what a drag does.
BELONGS = {"walls": "room", "compass": "room", "edges": "desk", "heads": "windows/{}"}
DRAGGED: dict[str, Callable[[Setup, str, Vector], Patch]] = {
    "walls": wall_dragged, "edges": edge_dragged, "heads": head_dragged, "compass": lambda setup, name, by: compass_dragged(setup, by),
}  # fmt: skip
GROUPS = {"": "The call", "room": "The room", "presenter": "You", "desk": "Desk", "computer": "The computer", "wishes": "What I want"}
Placed = Screen | Camera | Light | Reflector | Microphone | Noise | BackdropThing


def path_of(setup: Setup, thing: str) -> str:
    """Where a thing stands in the document, such as ``/room/windows/bay`` for ``windows/bay``.

    Raises:
        Refused: if there is none.
    """
    thing_at(setup, thing)
    kind, _, name = thing.partition("/")
    if kind == "shown":
        screen, _, shown = name.partition(".")
        return f"/screens/{screen}/windows/{shown}"
    return f"{WITHIN.get(kind, '/' + kind)}/{name}"


def thing_at(setup: Setup, thing: str) -> Placed | Window | Door | ScreenWindow | Furnishing | Garment | Kit:
    """The listed thing a handle such as ``lights/bench-lamp``, ``windows/bay`` or ``shown/laptop.call`` names.

    Raises:
        Refused: if there is none.
    """
    kind, _, name = thing.partition("/")
    if kind == "shown":
        window = next((shown for screen in setup.screens for shown in screen.windows if f"{screen.id}.{shown.id}" == name), None)
        if window is not None:
            return window
    if kind in WITHIN:
        part, field = WITHIN[kind].split("/")[1:]
        listed = getattr(getattr(setup, part), field)
    else:
        listed = getattr(setup, kind) if kind in LISTS else ()
    for item in listed:
        if item.id == name:
            return item
    raise Refused([Fault("/" + thing, "nothing of that name", "something in this setup")])


def screen_of(setup: Setup, thing: str) -> Screen:
    """The screen that a handle such as ``shown/laptop.call`` or ``screens/laptop`` belongs to.

    Raises:
        Refused: if there is none.
    """
    name = thing.partition("/")[2].partition(".")[0]
    shown_on = next((screen for screen in setup.screens if screen.id == name), None)
    if shown_on is None or thing.partition("/")[0] not in ("shown", "screens"):
        raise Refused([Fault("/" + thing, "nothing of that name", "a screen of this setup")])
    return shown_on


def root_of(setup: Setup, thing: str) -> str:
    """What is moved when a thing is: a lid's or monitor's camera and a built-in microphone belong to their screen."""
    if thing in ("presenter", "desk"):
        return thing
    item = thing_at(setup, thing)
    if isinstance(item, (Camera, Microphone)) and item.on_screen is not None:
        return f"screens/{item.on_screen}"
    return thing


def moved(setup: Setup, thing: str, by: Vector) -> Patch:
    """Moves a thing, kept inside the room, with what stands on it or belongs to it.

    Args:
        thing: handle, such as ``presenter``, ``desk``, ``lights/bench-lamp``.
        by: shape (3,) [m].

    Raises:
        Refused: if there is no such thing.
    """
    kind, _, name = thing.partition("/")
    if kind in DRAGGED:
        return DRAGGED[kind](setup, name, by)
    root = root_of(setup, thing)
    if root == "presenter":
        return _presenter_moved(setup, by)
    if root == "desk":
        return _desk_moved(setup, by)
    item = thing_at(setup, root)
    if isinstance(item, Window | Door):
        return _hole_moved(setup, item, by)
    if isinstance(item, Furnishing | Garment | Kit):
        raise Refused([Fault("/" + thing, "nothing that has a place", "something that stands somewhere")])
    if isinstance(item, Microphone) and item.from_mouth is not None:
        return _worn_moved(setup, item, by)
    if isinstance(item, ScreenWindow):
        return _shown_moved(screen_of(setup, root), item, by)
    return tuple(_shifted(setup, root, by)) + tuple(
        operation for other in _companions(setup, root) for operation in _shifted(setup, other, by)
    )


def turned(setup: Setup, thing: str, turn_deg: float) -> Patch:
    """Turns a thing about an upright axis through itself.

    Args:
        thing: handle; windows and noises have no direction and stay.
        turn_deg: positive turns +y towards +x [deg].
    """
    if thing == "compass":
        return compass_turned_to(setup.room.north_bearing_deg - turn_deg)
    if thing.partition("/")[0] in DRAGGED:
        return ()
    root = root_of(setup, thing)
    if root in ("presenter", "desk"):
        field, yaw = ("facing_yaw_deg", setup.presenter.facing_yaw_deg) if root == "presenter" else ("yaw_deg", setup.desk.yaw_deg)
        return (replace(f"/{root}/{field}", round(wrapped_deg(yaw + turn_deg), 2)),)
    item = thing_at(setup, root)
    for field in ("yaw_deg", "aim_yaw_deg"):
        yaw_now = getattr(item, field, None)
        if yaw_now is not None:
            return (replace(f"/{root}/{field}", round(wrapped_deg(yaw_now + turn_deg), 2)),)
    return ()


def desk_turned(setup: Setup, turn_deg: float, seat: Vector | None = None) -> Patch:
    """Turns the whole arrangement, presenter, desk and all that belongs to it, about the presenter.

    Args:
        turn_deg: positive turns +y towards +x [deg].
        seat: where the presenter comes to be, shape (2,) or (3,) [m]; where they are unless given.
    """
    presenter = setup.presenter
    pivot = np.array([presenter.x_m, presenter.y_m, 0.0])
    shift = np.zeros(3) if seat is None else np.array([seat[0] - pivot[0], seat[1] - pivot[1], 0.0])

    def placed(place: Vector) -> Vector:
        return rotated(place, pivot, turn_deg) + shift

    desk = placed(np.array([setup.desk.x_m, setup.desk.y_m, 0.0]))
    operations: list[Operation] = [
        replace("/presenter/x_m", round(float(pivot[0] + shift[0]), 3)),
        replace("/presenter/y_m", round(float(pivot[1] + shift[1]), 3)),
        replace("/presenter/facing_yaw_deg", round(wrapped_deg(presenter.facing_yaw_deg + turn_deg), 2)),
        replace("/desk/x_m", round(float(desk[0]), 3)),
        replace("/desk/y_m", round(float(desk[1]), 3)),
        replace("/desk/yaw_deg", round(wrapped_deg(setup.desk.yaw_deg + turn_deg), 2)),
    ]
    for handle in at_desk(setup):
        item = thing_at(setup, handle)
        if getattr(item, "position", None) is not None:
            operations += _put(handle, placed(vector(item.position)))  # type: ignore[union-attr, arg-type]
        operations += turned(setup, handle, turn_deg) if getattr(item, "on_screen", None) is None else ()
        if isinstance(item, Camera) and item.mount == "monitor_top":
            operations.append(replace(f"/{handle}/yaw_deg", round(wrapped_deg((item.yaw_deg or 0.0) + turn_deg), 2)))
    return tuple(operations)


def turned_at_desk(setup: Setup, turn_deg: float) -> Patch | None:
    """Turns the presenter with all that stands on the desk, the desk left where it is; everything goes along towards its middle until it
    stands on it. None where that cannot be.

    Args:
        turn_deg: positive turns +y towards +x [deg].
    """
    outline_axes = [right_of(setup.desk.yaw_deg)[:2], direction(setup.desk.yaw_deg)[:2]]
    half, middle = (setup.desk.width_m / 2, setup.desk.depth_m / 2), np.array([setup.desk.x_m, setup.desk.y_m])
    pivot = np.array([setup.presenter.x_m, setup.presenter.y_m, 0.0])
    placed = [rotated(vector(place), pivot, turn_deg)[:2] - middle for place in _standing_on(setup)]
    shift = np.zeros(2)
    for axis, reach in zip(outline_axes, half, strict=True):
        along = [float(place @ axis) for place in placed]
        low, high = min(along, default=0.0) + reach - ON_DESK_M, max(along, default=0.0) - reach + ON_DESK_M
        if low < 0 < high:
            return None  # wider than the desk
        shift -= axis * (min(low, 0.0) + max(high, 0.0))
    seat = pivot[:2] + shift
    whole = desk_turned(setup, turn_deg, seat)
    return tuple(operation for operation in whole if not str(operation["path"]).startswith("/desk/"))


def _standing_on(setup: Setup) -> Iterator[Point]:
    """Where what stands on the desk touches it: screens, holders, lamps, microphones of their own."""
    for handle in at_desk(setup):
        item = thing_at(setup, handle)
        place = getattr(item, "position", None)
        if place is not None and getattr(item, "mount", "") != "tripod":
            yield place


def at_desk(setup: Setup) -> Iterator[str]:
    """Handles of what belongs to the presenter's arrangement and goes where the desk goes."""
    yield from (f"screens/{screen.id}" for screen in setup.screens if screen.kind != "projection")
    yield from (f"cameras/{camera.id}" for camera in setup.cameras if camera.mount not in ("wall", "ceiling"))
    yield from (f"lights/{light.id}" for light in setup.lights if light.stands in ("desk", "clamp"))
    yield from (f"microphones/{microphone.id}" for microphone in setup.microphones if microphone.at == "room")


def _put(handle: str, place: Vector) -> list[Operation]:
    return [replace(f"/{handle}/position/{axis}_m", round(float(value), 3)) for axis, value in zip("xyz", place, strict=True)]


def _kept_inside(setup: Setup, handle: str, place: Vector) -> Vector:
    """A place off the walls, for the thing and for a lens that it carries."""
    low, high = np.array([WITHIN_M, WITHIN_M, 0.0]), room_size(setup.room) - WITHIN_M
    item = thing_at(setup, handle)
    if isinstance(item, Screen):
        for camera in setup.cameras:
            if camera.on_screen == item.id:
                offset = camera_pose(setup, camera).place - vector(item.position)
                low, high = np.maximum(low, low - offset), np.minimum(high, high - offset)
    return np.clip(place, low, high)


def _shifted(setup: Setup, handle: str, by: Vector) -> list[Operation]:
    """Only the axes that really move, so that a nudge sideways does not mark a height as entered."""
    position: Point | None = getattr(thing_at(setup, handle), "position", None)
    if position is None:
        raise Refused([Fault("/" + handle, "nothing that has a place", "something that stands somewhere")])
    place = _kept_inside(setup, handle, vector(position) + by)
    changed = zip("xyz", vector(position), place, by, strict=True)
    return [replace(f"/{handle}/position/{axis}_m", round(float(new), 3)) for axis, old, new, step in changed if step and new != old]


def _companions(setup: Setup, root: str) -> Iterator[str]:
    """A phone is a screen and a camera in one: what is within reach of it and of its kind moves along."""
    item = thing_at(setup, root)
    if isinstance(item, Screen) and item.kind == "phone":
        others = [(f"cameras/{camera.id}", camera.position) for camera in setup.cameras if camera.kind.startswith("phone")]
    elif isinstance(item, Camera) and item.kind.startswith("phone"):
        others = [(f"screens/{screen.id}", screen.position) for screen in setup.screens if screen.kind == "phone"]
    else:
        return
    here = vector(item.position)  # type: ignore[arg-type]
    yield from (name for name, place in others if place is not None and np.linalg.norm(vector(place) - here) < TOGETHER_M)


def _presenter_moved(setup: Setup, by: Vector) -> Patch:
    presenter, size = setup.presenter, room_size(setup.room)
    top_m = float(size[2]) - presenter.head.eyes_to_crown_m - 0.01
    wanted = {
        "x_m": (presenter.x_m, by[0], 0.1, size[0] - 0.1),
        "y_m": (presenter.y_m, by[1], 0.1, size[1] - 0.1),
        "eye_height_m": (presenter.eye_height_m, by[2], 0.5, min(2.2, top_m)),
    }
    return tuple(
        replace(f"/presenter/{field}", round(float(np.clip(now + step, low, high)), 3))
        for field, (now, step, low, high) in wanted.items()
        if step
    )


def _desk_moved(setup: Setup, by: Vector) -> Patch:
    desk, size = setup.desk, room_size(setup.room)
    x_m = float(np.clip(desk.x_m + by[0], 0.1, size[0] - 0.1))
    y_m = float(np.clip(desk.y_m + by[1], 0.1, size[1] - 0.1))
    low, high = (desk.height_range.low_m, desk.height_range.high_m) if desk.height_range else (desk.height_m, desk.height_m)
    height_m = float(np.clip(desk.height_m + by[2], low, high))
    went = np.array([x_m - desk.x_m, y_m - desk.y_m, height_m - desk.height_m])
    new = {"x_m": x_m, "y_m": y_m, "height_m": height_m}
    operations = [replace(f"/desk/{field}", round(value, 3)) for (field, value), step in zip(new.items(), went, strict=True) if step]
    for handle in at_desk(setup):
        item = thing_at(setup, handle)
        if getattr(item, "position", None) is not None and getattr(item, "mount", "") != "tripod":
            operations += _shifted(setup, handle, went)
    return tuple(operations)


def _hole_moved(setup: Setup, hole: Window | Door, by: Vector) -> Patch:
    """A window or door along its wall, and a window's sill; dragged towards another wall, over to that one."""
    room, root = setup.room, f"/room/{'windows' if isinstance(hole, Window) else 'doors'}/{hole.id}"
    axis, end, _ = WALLS[hole.wall]
    middle = np.zeros(3)
    middle[axis], middle[1 - axis] = end * room_size(room)[axis], hole.centre_m
    wanted = middle + by
    wall = _nearest_wall(room, wanted) if abs(float(by[axis])) > FROM_WALL_M else hole.wall
    along = float(wanted[1 - WALLS[wall][0]])
    half = hole.width_m / 2
    centre_m = min(max(along, half), max(wall_length_m(room, wall) - half, half))
    new: dict[str, tuple[object, object]] = {"wall": (hole.wall, wall), "centre_m": (hole.centre_m, round(centre_m, 3))}
    if isinstance(hole, Window):
        new["sill_m"] = hole.sill_m, round(min(max(hole.sill_m + float(by[2]), 0.0), room.height_m - hole.height_m, 4.8), 3)
    return tuple(replace(f"{root}/{field}", now) for field, (was, now) in new.items() if now != was)


def _nearest_wall(room: Room, place: Vector) -> str:
    """The wall that a place on the plan is nearest to."""
    size = room_size(room)
    return min(WALLS, key=lambda wall: abs(float(place[WALLS[wall][0]]) - WALLS[wall][1] * float(size[WALLS[wall][0]])))


def _shown_moved(screen: Screen, shown: ScreenWindow, by: Vector) -> Patch:
    """A window pushed over its screen, in whole pixels, kept on it."""
    pane = screen_pane(screen)
    right_px = float(by @ pane.right) / pane.width_m * screen.width_px
    down_px = -float(by @ pane.up) / pane.height_m * screen.height_px
    new = {
        "left_px": min(max(round(shown.left_px + right_px), 0), screen.width_px - shown.width_px),
        "top_px": min(max(round(shown.top_px + down_px), 0), screen.height_px - shown.height_px),
    }
    root = f"/screens/{screen.id}/windows/{shown.id}"
    return tuple(replace(f"{root}/{field}", value) for field, value in new.items() if getattr(shown, field) != value)


def _worn_moved(setup: Setup, microphone: Microphone, by: Vector) -> Patch:
    face, held = face_of(setup), microphone.from_mouth
    assert held is not None
    steps = {
        "forward_m": (float(by @ face.forward), -0.2, 0.6),
        "left_m": (float(by @ face.left), -0.4, 0.4),
        "up_m": (float(by[2]), -0.6, 0.3),
    }
    return tuple(
        replace(f"/microphones/{microphone.id}/from_mouth/{field}", round(min(max(getattr(held, field) + step, low), high), 3))
        for field, (step, low, high) in steps.items()
        if abs(step) > 1e-9
    )


def lamp_cautions(light: Light) -> tuple[str, ...]:
    """What to mind with a lamp in hand."""
    cautioned = [cautions.LAMP_STAND]
    if light.heat != "cool":
        cautioned.append(cautions.WARM_LAMP)
    if light.kind in ("bulb", "cone") and light.diffuser is None:
        cautioned.append(cautions.BARE_SOURCE)
    return tuple(cautioned)
