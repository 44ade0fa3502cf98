"""Figures of Frame beside the framing itself: what the lens takes in, the picture where it is seen, the keys."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.areas.frame import bands
from uphill_lamp.core.areas.frame.measures import NOT_SEEN, camera_paths, lens_path
from uphill_lamp.core.areas.frame.measures import face_px as face_px_of
from uphill_lamp.core.areas.frame.shake import shake
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.sharpness import detail_px
from uphill_lamp.core.judging import Measure, weighed
from uphill_lamp.core.scene import destination
from uphill_lamp.core.scene.placing import wall_behind_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction


def room_in_view_m(setup: Setup) -> float:
    """Width of the plane through the wall behind that the lens takes in [m]."""
    pose, pinhole = scene_of(setup).lens, scene_of(setup).pinhole
    away_m = max(wall_behind_m(setup, pose.place, direction(pose.yaw_deg)), float(np.linalg.norm(scene_of(setup).face.eyes - pose.place)))
    return 2 * pinhole.field.half_width * away_m


def keys_high_m(setup: Setup) -> float:
    """How far a laptop in use lifts its keys above the desk [m]; 0 where others are used."""
    if setup.computer.separate_keyboard:
        return 0.0
    raised = [screen.position.z_m - setup.desk.height_m for screen in setup.screens if screen.kind == "laptop" and screen.on]
    return max(0.0, *raised) if raised else 0.0


def measures(setup: Setup) -> tuple[Measure, ...]:
    """Bars, head and keys, which count; and figures without a band."""
    camera = setup.main_camera
    where = setup.origin_of(*camera_paths(setup, camera), lens_path(camera))
    there = setup.origin_of("/call/destination", "/call/output_aspect")
    face_px = face_px_of(setup)
    kept = destination.head_kept_share(setup)
    cut = Measure("frame.head_kept", "Head kept", kept, "share", bands.HEAD_KEPT, there, "How much of your head the square cut leaves.",
                  "" if kept is not None else NOT_SEEN)  # fmt: skip
    scored = (
        Measure("frame.bars", "Empty bars", destination.bars(setup.call), "share", bands.BARS, there, "Share of the place for your picture that stays empty."),
        *((cut,) if destination.is_cut(setup.call) else ()),
        Measure("frame.keys", "Keys above the desk", keys_high_m(setup), "m", bands.KEYS_M, setup.origin_of("/desk/height_m"),
                "How far a raised laptop lifts the keys that you type on."),
        Measure("frame.shake", "Shakes at a key", shake(setup), "share", bands.SHAKE, setup.origin_of("/desk/height_m", *camera_paths(setup, camera)),
                "How far a keystroke moves the picture, as a share of its width; a knock moves it five times as far."),
    )  # fmt: skip
    return (
        *weighed(scored, bands.WEIGHTS),
        Measure("frame.room_in_view", "Room in view", room_in_view_m(setup), "m", None, where, "How wide a strip of the wall behind the lens takes in."),
        Measure("frame.detail", "Real detail", float(detail_px(camera)[1]), "px", None, setup.origin_of(f"/cameras/{camera.id}/zoom"),
                "Rows of the picture that are seen, not invented by the zoom."),
        Measure("frame.face_there", "Face at the viewer", face_px, "px", None, there, "How high your face is in the window of somebody who watches.",
                "" if face_px is not None else NOT_SEEN),
    )  # fmt: skip
