"""The lens in this room: what it takes in, what is sharp, how much detail and noise there is (docs/method/frame.md)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.areas.frame.distance_moves import room_back_m, wanted_distance_m
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.response import noise_of, shutter_s
from uphill_lamp.core.field.camera.sharpness import detail_px
from uphill_lamp.core.scene import optics
from uphill_lamp.core.scene.optics import Depth
from uphill_lamp.core.scene.pinhole import Field, field_of
from uphill_lamp.core.scene.placing import camera_pose, output_aspect, wall_behind_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction

SHARP_BLUR, SOFT_BLUR = 0.003, 0.015  # shares of the picture's width


@dataclass(frozen=True, slots=True)
class LensFigures:
    """A camera where it stands. Lengths [m], angles [deg], shares and ratios [no unit], times [s]."""

    focal_m: float
    equivalent_m: float
    crop_factor: float
    field: Field
    distance_m: float
    wanted_distance_m: float
    most_distance_m: float
    room_in_view_m: float
    focus_m: float
    depth: Depth
    blur_share: float
    detail_px: tuple[int, int]
    shutter_s: float
    flickers: float
    signal_to_noise: float

    @property
    def blur_words(self) -> str:
        """How the background looks."""
        return "sharp" if self.blur_share < SHARP_BLUR else "soft" if self.blur_share > SOFT_BLUR else "a little soft"

    @property
    def width_words(self) -> str:
        """Whether the lens is wide or tight for this room."""
        if self.wanted_distance_m > self.most_distance_m + 0.02:
            return "too tight for this room: there is no space to back off"
        if self.wanted_distance_m < 0.5:
            return "wide: the wanted shot would bring you too near"
        return "right for this room"


def lens_figures(setup: Setup, face_lx: float, camera: Camera | None = None) -> LensFigures:
    """Figures of a camera, the main one unless another is given.

    Args:
        face_lx: light on the front of the face, as Light computes it [lx].
    """
    camera = camera or setup.main_camera
    pose, face = camera_pose(setup, camera), scene_of(setup).face
    field = field_of(camera, output_aspect(setup))
    distance_m = max(float(np.linalg.norm(face.eyes - pose.place)), 1e-3)
    focal_m, focus_m = optics.focal_length_m(camera), optics.focused_at_m(camera, distance_m)
    ahead = direction(pose.yaw_deg)
    wall_m = max(wall_behind_m(setup, pose.place, ahead), distance_m)
    towards = -ahead
    shutter = shutter_s(camera, setup.place.mains_hz)
    blur = optics.blur_m(focal_m, camera.lens.f_number, focus_m, wall_m) / (2 * field.half_width * focal_m)
    return LensFigures(
        focal_m, optics.equivalent_m(camera), optics.FULL_FRAME_WIDTH_M / optics.native_size_m(camera)[0], field, distance_m,
        wanted_distance_m(setup), distance_m + max(0.0, room_back_m(setup, towards)), 2 * field.half_width * wall_m, focus_m,
        optics.depth_of_field(focal_m, camera.lens.f_number, optics.circle_m(camera), focus_m), blur, detail_px(camera), shutter,
        shutter * 2 * setup.place.mains_hz, noise_of(setup, face_lx, camera),
    )  # fmt: skip
