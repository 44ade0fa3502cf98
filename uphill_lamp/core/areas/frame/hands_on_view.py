"""The hands-on view: a camera down on the bench, and things held up to the lens (docs/method/frame.md)."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.patch import Patch, add, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.sharpness import detail_px
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.masses import CAMERA_KG, mass_kg
from uphill_lamp.core.offers import offered
from uphill_lamp.core.scene import optics
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import camera_pose, pinhole_of
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction, point_at
from uphill_lamp.core.scene.wording import length, the

READS_PX = 8.0  # least x-height at the viewer that reads
VIEWER_PX = 1280.0  # a viewer who watches hands opens the picture large
HANDS_M = 0.45  # width over which two hands work
X_HEIGHT_OF_POINTS = 0.48  # x-height of print against its size in points
POINT_M = 0.0254 / 72
THIRD = 1 / 3


@dataclass(frozen=True, slots=True)
class BenchView:
    """What a camera over the bench gives. Lengths [m], pixels a millimetre [px/mm], print [points]."""

    camera: Camera
    height_m: float
    width_m: float
    depth_m: float
    px_per_mm: float
    viewer_px_per_mm: float
    smallest_print_pt: float
    nearest_focus_m: float

    @property
    def in_focus(self) -> bool:
        """Whether the lens can focus on the bench from there."""
        return self.height_m >= self.nearest_focus_m

    @property
    def fits_hands(self) -> bool:
        """Whether two working hands fit in."""
        return self.width_m >= HANDS_M


@dataclass(frozen=True, slots=True)
class HeldUp:
    """A thing held up to the main lens so that it fills a third of the picture's width [m]."""

    thing_m: float
    distance_m: float
    nearest_focus_m: float

    @property
    def in_focus(self) -> bool:
        """Whether the lens can focus there."""
        return self.distance_m >= self.nearest_focus_m


def bench_camera(setup: Setup) -> Camera | None:
    """The camera that looks down on the bench, if there is one."""
    return next((camera for camera in setup.cameras if camera.use == "bench_view"), None)


def bench_pinhole(setup: Setup, camera: Camera) -> Pinhole:
    """The projection of the bench camera, in its own output's aspect."""
    there = setup.model_copy(
        update={"call": setup.call.model_copy(update={"output_aspect": camera.output_width_px / camera.output_height_px})}
    )
    return pinhole_of(there, camera)


def bench_view(setup: Setup, camera: Camera) -> BenchView | None:
    """Figures of a camera over the bench; None if it does not look down on the desk's plane."""
    pinhole = bench_pinhole(setup, camera)
    down = -float(pinhole.forward[2])
    height_m = float(pinhole.place[2]) - setup.desk.height_m
    if down < 0.2 or height_m <= 0.02:
        return None
    along_m = height_m / down  # along the axis to the desk
    width_m = 2 * pinhole.field.half_width * along_m
    depth_m = 2 * pinhole.field.half_height * along_m / down
    px_per_mm = detail_px(camera)[0] / (width_m * 1000)
    viewer = min(VIEWER_PX, camera.output_width_px) / (width_m * 1000)
    seen = min(px_per_mm, viewer)
    return BenchView(
        camera, along_m, width_m, depth_m, px_per_mm, viewer, print_points(READS_PX / seen / 1000), optics.nearest_focus_m(camera)
    )


def print_points(x_height_m: float) -> float:
    """Size of print whose small letters have a height [m] -> [points]."""
    return x_height_m / X_HEIGHT_OF_POINTS / POINT_M


def height_for_width_m(camera: Camera, half_width: float, width_m: float) -> float:
    """How high over the bench a lens must hang to take in a width: h = width/(2 w), not under its nearest focus [m]."""
    return max(width_m / (2 * half_width), optics.nearest_focus_m(camera))


def held_up(setup: Setup, thing_m: float) -> HeldUp:
    """How far from the main lens a thing fills a third of the picture's width: d = thing/(2 w/3).

    Args:
        thing_m: width of the thing [m].
    """
    field = scene_of(setup).pinhole.field
    return HeldUp(thing_m, thing_m / (2 * field.half_width * THIRD), optics.nearest_focus_m(setup.main_camera))


def moves(setup: Setup) -> Iterator[Move]:
    """A camera over the bench where there is none, else the height that suits hands and focus."""
    camera, units = bench_camera(setup), setup.preferences.units
    if camera is None:
        yield from _new_camera(setup)
        return
    pinhole = bench_pinhole(setup, camera)
    wanted_m = height_for_width_m(camera, pinhole.field.half_width, HANDS_M)
    most_m = setup.room.height_m - 0.1 - setup.desk.height_m
    now_m = float(pinhole.place[2]) - setup.desk.height_m
    step_m = min(wanted_m, most_m) - now_m
    if camera.position is not None and abs(step_m) > 0.02:
        title = f"{'Raise' if step_m > 0 else 'Lower'} it {length(abs(step_m), units)}, to {length(now_m + step_m, units)} above the bench"
        yield Move(
            "hands.height",
            title,
            (replace(f"/cameras/{camera.id}/position/z_m", round(float(pinhole.place[2]) + step_m, 4)),),
            FREE,
            (cautions.CLAMP,),
        )
    pose = camera_pose(setup, camera)
    if camera.position is not None and pose.tilt_deg > -88:
        yield Move("hands.straight_down", "Turn it straight down", _straight_down(setup, camera))
    if camera.zoom > 1.01:
        yield Move("hands.zoom_out", "Zoom out all the way", (replace(f"/cameras/{camera.id}/zoom", 1.0),))


def over_hands(setup: Setup) -> np.ndarray:
    """Where on the desk the hands work: a hand's breadth in from its near edge, before the presenter [m]."""
    face, desk = scene_of(setup).face, setup.desk
    ahead = direction(desk.yaw_deg)
    near = float(ahead @ (np.array([desk.x_m, desk.y_m, 0.0]) - face.eyes)) - desk.depth_m / 2
    spot = face.eyes + (near + min(0.18, desk.depth_m / 2)) * ahead
    return np.array([spot[0], spot[1], desk.height_m])


def _straight_down(setup: Setup, camera: Camera) -> Patch:
    spot = over_hands(setup)
    root = f"/cameras/{camera.id}"
    return (
        replace(f"{root}/position/x_m", round(float(spot[0]), 3)), replace(f"{root}/position/y_m", round(float(spot[1]), 3)),
        replace(f"{root}/tilt_deg", -90.0), replace(f"{root}/yaw_deg", setup.presenter.facing_yaw_deg),
    )  # fmt: skip


def _new_camera(setup: Setup) -> Iterator[Move]:
    """A spare camera or the phone from the drawer, straight down on an arm."""
    spot = over_hands(setup)
    spare = next((camera for camera in setup.cameras if camera.use == "spare" and camera.mount != "laptop_lid"), None)
    phone = next((item for item in setup.kit if item.entry == "old_phone"), None)
    arm = offered(setup, "clamp_arm", "A clamp arm", mass_kg(spare) if spare else CAMERA_KG["phone_rear"])
    if arm is None:
        return
    loose = {
        "mount": "arm",
        "on_screen": None,
        "lens_offset_m": 0.0,
        "yaw_deg": setup.presenter.facing_yaw_deg,
        "tilt_deg": -90.0,
        "roll_deg": 0.0,
        "use": "bench_view",
    }
    out: Patch = ()
    if spare is not None:
        base, out, name = spare.model_dump(mode="json"), (), spare.name
    elif phone is not None and all(phone.id != camera.id and phone.name != camera.name for camera in setup.cameras):
        base, out, name = typical.camera("phone_rear", "arm", id=phone.id, name=phone.name), (remove(f"/kit/{phone.id}"),), phone.name
    else:
        return
    half_width = math.tan(math.radians(60) / 2)
    height_m = min(HANDS_M / (2 * half_width), setup.room.height_m - 0.1 - setup.desk.height_m)
    new = base | loose | {"position": point_at(spot + np.array([0.0, 0.0, height_m])).model_dump()}
    put = replace(f"/cameras/{spare.id}", new) if spare is not None else add("/cameras/-", new)
    yield Move("hands.new_camera", f"Hang {the(name)} over the bench", (put, *out, *arm.patch), arm.cost, (cautions.CLAMP, cautions.PHONE_HOLDER),
               detail=f"{arm.words}; {length(height_m, setup.preferences.units)} above it, straight down.")  # fmt: skip
