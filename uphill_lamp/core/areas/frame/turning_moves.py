"""Moves that turn the camera: the eyes to their line, to their place across the picture, the picture level."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.frame.measures import side_band_of
from uphill_lamp.core.areas.frame.mended_aim import mended, retilt, wanted_line
from uphill_lamp.core.document.devices import Screen
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Move
from uphill_lamp.core.scene import aiming
from uphill_lamp.core.scene.pinhole import field_of
from uphill_lamp.core.scene.placing import output_aspect
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import wrapped_deg
from uphill_lamp.core.scene.wording import degrees

TURN_MOST_DEG = 60.0  # a laptop turned further is no longer in front of its user


def wanted_across(setup: Setup) -> float:
    """Where across the picture the eyes should be [share]."""
    band = side_band_of(setup)
    assert band.ideal_low is not None and band.ideal_high is not None
    return (band.ideal_low + band.ideal_high) / 2


def tilt_only(setup: Setup) -> Iterator[Move]:
    """The eyes to their line by tilting alone."""
    done = retilt(setup)
    if done is None:
        return
    value = done.patch[0]["value"]
    if aiming.lid_of(setup, setup.main_camera) is not None:
        yield Move("frame.retilt", f"Open the lid to {value:.0f}°", done.patch, promises=done.promises)
        return
    step_deg = value - scene_of(setup).lens.tilt_deg
    title = f"Tilt the camera {degrees(abs(step_deg))} {'up' if step_deg > 0 else 'down'}"
    yield Move("frame.retilt", title, done.patch, promises=done.promises)


def turn_moves(setup: Setup) -> Iterator[Move]:
    """The eyes to the wanted place across the picture by turning the camera."""
    camera, face, pose = setup.main_camera, scene_of(setup).face, scene_of(setup).lens
    x, spot = wanted_across(setup), scene_of(setup).pinhole.project(face.eyes)
    lid = aiming.lid_of(setup, camera)
    if lid is not None:
        yield from _laptop_turned(setup, lid, x)
        return
    y = float(spot[1]) if 0 <= spot[1] <= 1 else wanted_line(setup)
    aim = aiming.aimed(pose.place, pose.roll_deg, field_of(camera, output_aspect(setup)), face.eyes, x, y)
    if aim is None:
        return
    step_deg, root = wrapped_deg(aim[0] - pose.yaw_deg), f"/cameras/{camera.id}"
    # As the camera's operator sees it, from behind it.
    title = f"Turn the camera {degrees(abs(step_deg))} to its {'right' if step_deg > 0 else 'left'}"
    patch = (replace(f"{root}/yaw_deg", round(wrapped_deg(aim[0]), 3)), replace(f"{root}/tilt_deg", round(aim[1], 3)))
    yield Move("frame.turn_camera", title, patch, promises=(("frame.side_position", x), ("frame.eye_line", y)))


def _laptop_turned(setup: Setup, lid: Screen, x: float) -> Iterator[Move]:
    face = scene_of(setup).face

    def off(turn_deg: float) -> float:
        turned_lid = lid.model_copy(update={"yaw_deg": lid.yaw_deg + turn_deg})
        trial = setup.model_copy(update={"screens": tuple(turned_lid if screen.id == lid.id else screen for screen in setup.screens)})
        return float(scene_of(trial).pinhole.project(face.eyes)[0]) - x

    turn_deg = aiming.root(off, -TURN_MOST_DEG, TURN_MOST_DEG, 0.0)
    if turn_deg is None:
        return
    side = "left" if turn_deg > 0 else "right"  # the presenter's own, who faces it
    patch = (replace(f"/screens/{lid.id}/yaw_deg", round(wrapped_deg(lid.yaw_deg + turn_deg), 3)),)
    title = f"Turn the laptop {degrees(abs(turn_deg))} to your {side}"
    yield Move("frame.turn_camera", title, patch, promises=(("frame.side_position", x),))


def level(setup: Setup) -> Iterator[Move]:
    """The camera level, and the eyes back on their line, which the turn has moved."""
    done = mended(setup, (replace(f"/cameras/{setup.main_camera.id}/roll_deg", 0.0),))
    if done is not None:
        yield Move("frame.level", "Level the camera", done.patch, promises=(("frame.roll", 0.0), *done.promises))
