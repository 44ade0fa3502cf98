"""The camera's response: how much light it needs for a clean picture (docs/method/frame.md, "Light a camera needs")."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.glass import through_glass
from uphill_lamp.core.scene.pinhole import field_of

QUANTUM_EFFICIENCY = 0.5
LENS_TRANSMITTANCE = 0.9
GREY_CARD = 0.18
ELECTRONS_PER_LX_S_UM2 = 4.1e3
CLEAN_SNR = 22.0
BEARABLE_SNR = 8.0
# Stops over mid grey that still hold a shape, by kind of camera: what lies above burns out (docs/method/light.md).
HIGHLIGHT_STOPS = {"built_in": 2.3, "webcam": 2.5, "phone_front": 2.8, "phone_rear": 3.2, "capture": 3.5}
ANTI_FLICKER_HZ = {"50_hz": 50.0, "60_hz": 60.0}
LEAST_LEVEL_LX = 100.0  # below this focus and colour suffer, whatever the camera


def shutter_s(camera: Camera, mains_hz: float) -> float:
    """Exposure time in dim light [s], never longer than the frame.

    A webcam or phone opens up to 1/fps, or to the longest whole number of flickers in it that its anti-flicker setting is for;
    a camera set by hand is put nearest to 1/(2 fps) on a multiple of 1/(2 mains).
    """
    frame = 1 / camera.fps
    if camera.kind == "capture":
        flicker = 1 / (2 * mains_hz)
        return min(max(1, round(frame / 2 / flicker)) * flicker, frame)
    if camera.anti_flicker == "own_choice":
        return frame
    flicker = 1 / (2 * ANTI_FLICKER_HZ[camera.anti_flicker])
    return min(max(1, math.floor(frame / flicker + 1e-9)) * flicker, frame)


def ripple_left(exposure_s: float, mains_hz: float) -> float:
    """What an exposure leaves of a ripple at twice the mains, 0-1: |sin(pi x) / (pi x)| with x flickers in it."""
    return abs(float(np.sinc(2 * mains_hz * exposure_s)))


def pixel_area_um2(camera: Camera, output_aspect: float) -> float:
    """Sensor area behind one pixel of the picture sent, after crop and zoom [um2]."""
    lens = camera.lens
    long_um, short_um = lens.sensor_width_m * 1e6, lens.sensor_height_m * 1e6
    # The native picture is the largest of its aspect that the sensor holds.
    width = min(long_um, short_um * camera.native_aspect)
    native_area = width * width / camera.native_aspect
    native = field_of(camera.model_copy(update={"zoom": 1.0, "orientation": "landscape"}), camera.native_aspect)
    sent = field_of(camera, output_aspect)
    used = sent.half_width * sent.half_height / (native.half_width * native.half_height)
    return native_area * used / (camera.output_width_px * camera.output_height_px)


def signal_to_noise(camera: Camera, face_lx: float, mains_hz: float, output_aspect: float, through: float = 1.0) -> float:
    """Signal-to-noise ratio of a grey card per output pixel [no unit], from the photons that reach it, ``through`` of them past a glass."""
    sensor_lx = through * GREY_CARD * face_lx * LENS_TRANSMITTANCE / (4 * camera.lens.f_number**2)
    exposure_lx_s = sensor_lx * shutter_s(camera, mains_hz)
    electrons = ELECTRONS_PER_LX_S_UM2 * QUANTUM_EFFICIENCY * exposure_lx_s * pixel_area_um2(camera, output_aspect)
    return math.sqrt(max(electrons, 0.0))


@dataclass(frozen=True, slots=True)
class LightNeed:
    """Face levels a camera asks for [lx]."""

    clean_lx: float
    bearable_lx: float


def noise_of(setup: Setup, face_lx: float, camera: Camera | None = None) -> float:
    """Signal-to-noise ratio of a setup's camera, the main one unless another is given, at a light on the face [lx]."""
    through = through_glass(setup, camera)
    return signal_to_noise(camera or setup.main_camera, face_lx, setup.place.mains_hz, setup.call.output_aspect, through)


def need_of(setup: Setup) -> LightNeed:
    """Face levels that a setup's main camera asks for [lx]."""
    return light_need(setup.main_camera, setup.place.mains_hz, setup.call.output_aspect, through_glass(setup))


def light_need(camera: Camera, mains_hz: float, output_aspect: float, through: float = 1.0) -> LightNeed:
    """Face levels for a clean (22:1, at least 100 lx) and a just bearable (8:1) picture [lx]."""
    per_lx = signal_to_noise(camera, 1.0, mains_hz, output_aspect, through) ** 2
    clean = CLEAN_SNR**2 / per_lx
    return LightNeed(max(clean, LEAST_LEVEL_LX), BEARABLE_SNR**2 / per_lx)
