"""Where things are: face, lenses, screens, windows, microphones, walls, from what the document says of them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Camera, Microphone, Reflector, Screen, ScreenWindow
from uphill_lamp.core.document.people import Presenter
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Desk, Door, Room, Window
from uphill_lamp.core.scene.pinhole import Pinhole, field_of
from uphill_lamp.core.scene.vectors import UP, Vector, direction, right_of, unit, vector

LIPS_BELOW_EYES_M = 0.07
LIPS_BEFORE_EYES_M = 0.01


ON_SCREEN_M = 0.05  # a lens this little behind a screen sits on it


@dataclass(frozen=True)
class Face:
    """A head in the room: middle of the eyes [m], axes (unit vectors; left is the presenter's own)."""

    eyes: Vector
    forward: Vector
    left: Vector
    presenter: Presenter

    def at(self, forward_m: float | Vector, left_m: float | Vector, up_m: float | Vector) -> Vector:
        """A place relative to the middle of the eyes [m]; N of them, shape (N, 3), for columns (N, 1)."""
        return self.eyes + forward_m * self.forward + left_m * self.left + up_m * UP

    @property
    def crown(self) -> Vector:
        return self.at(0, 0, self.presenter.head.eyes_to_crown_m)

    @property
    def chin(self) -> Vector:
        return self.at(0, 0, -self.presenter.head.eyes_to_chin_m)

    @property
    def lips(self) -> Vector:
        return self.at(LIPS_BEFORE_EYES_M, 0, -LIPS_BELOW_EYES_M)


def face_of(setup: Setup) -> Face:
    """The presenter's head, level and facing the way the body does."""
    presenter = setup.presenter
    eyes = np.array([presenter.x_m, presenter.y_m, presenter.eye_height_m])
    return Face(eyes, direction(presenter.facing_yaw_deg), -right_of(presenter.facing_yaw_deg), presenter)


@dataclass(frozen=True)
class Pane:
    """A rectangle in the room: middle [m], normal, axes to its viewer's right and up (unit vectors), size [m]."""

    middle: Vector
    normal: Vector
    right: Vector
    up: Vector
    width_m: float
    height_m: float

    def at(self, across: float, down: float) -> Vector:
        """A place on it: 0-1 from its viewer's left, 0-1 from the top [m]."""
        return self.middle + (across - 0.5) * self.width_m * self.right + (0.5 - down) * self.height_m * self.up

    def places(self, spots: FloatArray) -> FloatArray:
        """Places on it, shape (N, 3) [m], of spots in its widths and heights to its viewer's right and up from its middle, shape (N, 2)."""
        return np.asarray(self.middle + spots @ np.array([self.width_m * self.right, self.height_m * self.up]))

    def corners(self) -> Vector:
        """Top left, top right, lower right, lower left as its viewer sees it, shape (4, 3) [m]."""
        return np.array([self.at(0, 0), self.at(1, 0), self.at(1, 1), self.at(0, 1)])

    def other_side(self) -> Pane:
        """Its back, as a rectangle of its own."""
        return Pane(self.middle, -self.normal, -self.right, self.up, self.width_m, self.height_m)


def facing_pane(middle: Vector, yaw_deg: float, tilt_deg: float, width_m: float, height_m: float) -> Pane:
    """A rectangle whose picture side looks along a yaw and tilt [deg]."""
    normal = direction(yaw_deg, tilt_deg)
    right = -right_of(yaw_deg)  # its viewer faces it, so the viewer's right is its own left
    return Pane(middle, normal, right, direction(yaw_deg, tilt_deg + 90), width_m, height_m)


def screen_tilt_deg(screen: Screen) -> float:
    """How far the picture leans back, looking up [deg]; a lid opened to 90 degrees stands upright."""
    return screen.hinge_deg - 90 if screen.hinge_deg is not None else float(screen.tilt_deg or 0)


def lid_place(screen: Screen, along_m: float) -> Vector:
    """A place on a laptop's lid, ``along_m`` from its hinge, on its middle line [m]."""
    lean = math.radians(screen.hinge_deg or 90)
    outward = direction(screen.yaw_deg)
    return vector(screen.position) + along_m * (math.cos(lean) * outward + math.sin(lean) * UP)


def screen_pane(screen: Screen) -> Pane:
    """The lit rectangle of a screen."""
    middle = vector(screen.position)
    if screen.kind == "laptop":
        middle = lid_place(screen, screen.bezel_m + screen.height_m / 2)
    return facing_pane(middle, screen.yaw_deg, screen_tilt_deg(screen), screen.width_m, screen.height_m)


def screen_backs(setup: Setup, lens: Vector) -> list[tuple[str, Pane]]:
    """Backs of screens, with their ids, that a lens at a place [m] may see: not of the one it sits on, which it looks past, and of no
    prompter's glass, which is a mirror from the front alone."""
    panes = [(screen, screen_pane(screen)) for screen in setup.screens if screen.kind != "prompter_glass"]
    return [(screen.id, pane.other_side()) for screen, pane in panes if float((pane.middle - lens) @ pane.normal) > ON_SCREEN_M]


def reflector_pane(sheet: Reflector) -> Pane:
    """A white sheet as a rectangle that looks the way its white side does."""
    return facing_pane(vector(sheet.position), sheet.yaw_deg, sheet.tilt_deg, sheet.width_m, sheet.height_m)


def desk_pane(desk: Desk) -> Pane:
    """A desk's top as its sitter looks down on it: ``up`` is away from them."""
    middle = np.array([desk.x_m, desk.y_m, desk.height_m])
    return Pane(middle, UP, right_of(desk.yaw_deg), direction(desk.yaw_deg), desk.width_m, desk.depth_m)


def window_centre(screen: Screen, shown: ScreenWindow) -> Vector:
    """The middle of what a screen window shows [m]."""
    across = (shown.left_px + shown.width_px / 2) / screen.width_px
    down = (shown.top_px + shown.height_px / 2) / screen.height_px
    return screen_pane(screen).at(across, down)


@dataclass(frozen=True)
class Pose:
    """A camera's lens place [m] and aim [deg]."""

    place: Vector
    yaw_deg: float
    tilt_deg: float
    roll_deg: float


def camera_pose(setup: Setup, camera: Camera) -> Pose:
    """Where a camera's lens is and where it looks; a lid or a monitor decides what the document leaves out."""
    if camera.position is not None:
        return Pose(vector(camera.position), camera.yaw_deg or 0.0, camera.tilt_deg or 0.0, camera.roll_deg)
    screen = setup.screen(camera.on_screen or "")
    if camera.mount == "laptop_lid":
        return Pose(lid_place(screen, camera.lens_offset_m), screen.yaw_deg, screen_tilt_deg(screen), camera.roll_deg)
    pane = screen_pane(screen)
    place = pane.middle + (pane.height_m / 2 + camera.lens_offset_m) * pane.up
    return Pose(place, camera.yaw_deg or 0.0, camera.tilt_deg or 0.0, camera.roll_deg)


def pinhole_of(setup: Setup, camera: Camera | None = None) -> Pinhole:
    """The projection of a camera, the main one unless another is given."""
    camera = camera or setup.main_camera
    pose = camera_pose(setup, camera)
    return Pinhole.posed(pose.place, pose.yaw_deg, pose.tilt_deg, pose.roll_deg, field_of(camera, output_aspect(setup)))


def output_aspect(setup: Setup) -> float:
    """Width by height of the picture sent [no unit]."""
    return setup.call.output_aspect


WALLS: dict[str, tuple[int, int, float]] = {
    # wall: axis it is perpendicular to, end of that axis (0 or 1), yaw of its inward normal
    "wall_x0": (0, 0, 90.0),
    "wall_x1": (0, 1, 270.0),
    "wall_y0": (1, 0, 0.0),
    "wall_y1": (1, 1, 180.0),
}


def room_size(room: Room) -> Vector:
    """Width, depth and height, shape (3,) [m]."""
    return np.array([room.width_m, room.depth_m, room.height_m])


def window_pane(room: Room, window: Window) -> Pane:
    """The pane of a window, its normal into the room."""
    axis, end, yaw_deg = WALLS[window.wall]
    middle = np.zeros(3)
    middle[axis] = end * room_size(room)[axis]
    middle[1 - axis] = window.centre_m
    middle[2] = window.sill_m + window.height_m / 2
    return facing_pane(middle, yaw_deg, 0.0, window.width_m, window.height_m)


def door_pane(room: Room, door: Door) -> Pane:
    """A door's leaf, its normal into the room."""
    axis, end, yaw_deg = WALLS[door.wall]
    middle = np.zeros(3)
    middle[axis], middle[1 - axis], middle[2] = end * room_size(room)[axis], door.centre_m, door.height_m / 2
    return facing_pane(middle, yaw_deg, 0.0, door.width_m, door.height_m)


def wall_behind_m(setup: Setup, eyes: Vector, along: Vector) -> float:
    """How far a level ray goes until it meets a wall [m]."""
    distances = [
        ((room_length if along[axis] > 0 else 0.0) - eyes[axis]) / along[axis]
        for axis, room_length in enumerate(room_size(setup.room)[:2])
        if abs(along[axis]) > 1e-9
    ]
    return float(min(distances)) if distances else 0.0


def microphone_place(setup: Setup, microphone: Microphone) -> Vector:
    """Where a capsule is [m]. A built-in one sits beside the camera of its screen, else at the screen's top edge."""
    if microphone.position is not None:
        return vector(microphone.position)
    face = face_of(setup)
    if microphone.from_mouth is not None:
        held = microphone.from_mouth
        return face.lips + held.forward_m * face.forward + held.left_m * face.left + held.up_m * UP
    screen = setup.screen(microphone.on_screen or "")
    for camera in setup.cameras:
        if camera.on_screen == screen.id:
            return camera_pose(setup, camera).place
    return screen_pane(screen).at(0.5, 0.0)


def microphone_axis(setup: Setup, microphone: Microphone) -> Vector:
    """The way a microphone listens (unit vector); worn and built-in ones are made to listen to the mouth."""
    if microphone.at == "room":
        return direction(microphone.aim_yaw_deg, microphone.aim_tilt_deg)
    return unit(face_of(setup).lips - microphone_place(setup, microphone))


def loudspeaker_place(setup: Setup) -> Vector | None:
    """Where the far side's voice comes from [m]; None when it is not known."""
    on = setup.computer.loudspeakers_on
    if on is None:
        return None
    screen = setup.screen(on)
    return vector(screen.position) if screen.kind == "laptop" else screen_pane(screen).at(0.5, 1.0)
