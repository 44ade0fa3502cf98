"""Figures of Frame that are shown and not scored: what the lens takes in, and the picture where it is seen."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.areas.frame import destination
from uphill_lamp.core.areas.frame.measures import NOT_SEEN, camera_paths, lens_path
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.sharpness import detail_px
from uphill_lamp.core.judging import Measure
from uphill_lamp.core.scene.placing import wall_behind_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction


def room_in_view_m(setup: Setup) -> float:
    """Width of the plane through the wall behind that the lens takes in [m]."""
    pose, pinhole = scene_of(setup).lens, scene_of(setup).pinhole
    away_m = max(wall_behind_m(setup, pose.place, direction(pose.yaw_deg)), float(np.linalg.norm(scene_of(setup).face.eyes - pose.place)))
    return 2 * pinhole.field.half_width * away_m


def measures(setup: Setup) -> tuple[Measure, ...]:
    """Figures without a band."""
    camera = setup.main_camera
    where = setup.origin_of(*camera_paths(setup, camera), lens_path(camera))
    there = setup.origin_of("/call/destination", "/call/output_aspect")
    face_px = destination.face_px(setup)
    return (
        Measure("frame.room_in_view", "Room in view", room_in_view_m(setup), "m", None, where, "How wide a strip of the wall behind the lens takes in."),
        Measure("frame.detail", "Real detail", float(detail_px(camera)[1]), "px", None, setup.origin_of(f"/cameras/{camera.id}/zoom"),
                "Rows of the picture that are seen, not invented by the zoom."),
        Measure("frame.bars", "Empty bars", destination.bars(setup.call), "share", None, there, "Share of the place for your picture that stays empty."),
        Measure("frame.face_there", "Face at the viewer", face_px, "px", None, there, "How high your face is in the window of somebody who watches.",
                "" if face_px is not None else NOT_SEEN),
    )  # fmt: skip
