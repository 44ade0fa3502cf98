"""What the camera makes of the light: blur, halo, white balance, grain, exposure."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.light.falling import Falling
from uphill_lamp.core.light.metering import Metered
from uphill_lamp.core.scene.optics import blur_m, focal_length_m, focused_at_m
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import face_of
from uphill_lamp.core.scene.response import signal_to_noise
from uphill_lamp.drawings.far_side.colour import LUMA, MIDTONE, FloatArray, white_rgb

AUTO_WHITE = 0.8  # how far automatic white balance goes towards calling the scene's own light white
LEAST_BLUR_PX = 1.6  # across; less is lost in the pixels
DISC_TO_SIGMA = 0.25  # an even disc spreads as a bell of a quarter of its width does
HALOS = ((0.008, 0.020), (0.035, 0.010))  # spread, in widths of the picture, and share of the light
HALO_STEP = 3  # what is as soft need not be worked out at every pixel
BURNT, BRIGHTEST = 1.5, 60.0


def blur_px(setup: Setup, pinhole: Pinhole, columns: int, at_m: FloatArray) -> FloatArray:
    """Width of what a point at distances is blurred to, shape of ``at_m`` [px]."""
    camera = setup.main_camera
    focal = focal_length_m(camera)
    focus = focused_at_m(camera, float(np.linalg.norm(face_of(setup).eyes - pinhole.place)))
    strength = blur_m(focal, camera.lens.f_number, focus, float("inf"))
    wide_m = 2 * pinhole.field.half_width * focal
    return np.asarray(strength * np.abs(at_m - focus) / np.maximum(at_m, 0.05) / wide_m * columns, np.float32)


def blurred(picture: FloatArray, width_px: FloatArray) -> FloatArray:
    """A layer of the picture (rows, columns, C) blurred by widths (rows, columns) [px]: between two even blurs, as each pixel needs."""
    from scipy.ndimage import gaussian_filter

    most = float(np.percentile(width_px, 98))
    if most < LEAST_BLUR_PX:
        return picture
    levels = [picture] + [
        gaussian_filter(picture, (sigma, sigma, 0), truncate=2.5) for sigma in (most * DISC_TO_SIGMA / 2, most * DISC_TO_SIGMA)
    ]
    step = np.clip(width_px / most * 2, 0, 2)[..., None]
    low = levels[0] * (1 - np.minimum(step, 1)) + levels[1] * np.minimum(step, 1)
    return np.asarray(np.where(step <= 1, low, levels[1] * (2 - step) + levels[2] * (step - 1)), np.float32)


def haloed(linear: FloatArray) -> FloatArray:
    """Light of burnt-out parts that any lens scatters round them."""
    from scipy.ndimage import gaussian_filter

    excess = np.minimum(linear, BRIGHTEST) - BURNT
    if not (excess > 0).any():
        return linear
    excess = np.maximum(excess, 0)
    small = excess[::HALO_STEP, ::HALO_STEP]
    out = linear.copy()
    for spread, share in HALOS:
        glow = share * gaussian_filter(small, (spread * small.shape[1], spread * small.shape[1], 0), truncate=3)
        out += glow.repeat(HALO_STEP, axis=0).repeat(HALO_STEP, axis=1)[: out.shape[0], : out.shape[1]]
    return out


def balanced(setup: Setup, linear: FloatArray) -> FloatArray:
    """The picture as the camera's white balance leaves it."""
    balance = setup.main_camera.white_balance
    if balance.kind == "locked" and balance.cct_k:
        white = white_rgb(balance.cct_k)
    else:
        # Burnt-out parts tell a camera nothing about the colour of the light.
        mean = np.minimum(linear, 1.0).reshape(-1, 3).mean(axis=0)
        grey = mean / max(float(mean @ LUMA), 1e-6)
        white = np.clip(grey, 0.3, 3.0) ** np.float32(AUTO_WHITE)
    return np.asarray(linear / white)


@lru_cache(maxsize=4)
def _grain(rows: int, columns: int) -> FloatArray:
    return np.random.default_rng(7).standard_normal((rows, columns, 3), dtype=np.float32)


def noisy(falling: Falling, metered: Metered, linear: FloatArray) -> FloatArray:
    """Grain by the photons that are there; the same grain each time, so that pictures can be compared."""
    setup, face_lx = falling.setup, max(falling.face_lx["front"], 0.05)
    snr = signal_to_noise(setup.main_camera, face_lx, setup.place.mains_hz, setup.call.output_aspect)
    face = np.float32(MIDTONE * 2.0**metered.error_stops)
    spread = np.sqrt(np.maximum(linear, 0.002) * face) * np.float32(0.8 / max(snr, 1.0))
    return np.asarray(np.maximum(linear + _grain(*linear.shape[:2]) * spread, 0))
