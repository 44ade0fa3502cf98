"""What the camera makes of the light: blur, halo, white balance, grain, exposure."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.metering import Metered
from uphill_lamp.core.field.camera.response import noise_of
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.scene.optics import blur_m, focal_length_m, focused_at_m
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.drawings.far_side.colour import LUMA, MIDTONE, tone_table, white_rgb
from uphill_lamp.drawings.figure.compiled import compiled
from uphill_lamp.drawings.figure.shadows import spread

AUTO_WHITE = 0.8  # how far automatic white balance goes towards calling the scene's own light white
BLUR_STEP = 8
GRAININESS = 0.8
LEAST_BLUR_PX = 1.6  # across; less is lost in the pixels
DISC_TO_SIGMA = 0.25  # an even disc spreads as a bell of a quarter of its width does
HALOS = ((0.008, 0.020), (0.035, 0.010))  # spread, in widths of the picture, and share of the light
HALO_STEP = 5  # what is as soft need not be worked out at every pixel
BURNT, BRIGHTEST = 1.5, 60.0
VEIL = 0.08  # how wide haze spreads, in widths of the picture


def blur_px(setup: Setup, pinhole: Pinhole, columns: int, at_m: FloatArray) -> FloatArray:
    """Width of what a point at distances is blurred to, shape of ``at_m`` [px]."""
    camera = setup.main_camera
    focal = focal_length_m(camera)
    focus = focused_at_m(camera, float(np.linalg.norm(scene_of(setup).face.eyes - pinhole.place)))
    strength = blur_m(focal, camera.lens.f_number, focus, float("inf"))
    wide_m = 2 * pinhole.field.half_width * focal
    return np.asarray(strength * np.abs(at_m - focus) / np.maximum(at_m, 0.05) / wide_m * columns, np.float32)


def blurs(width_px: FloatArray) -> float:
    """The width that next to all of a layer's blur stays under [px]; 0 where it is lost in the pixels."""
    most = float(np.percentile(width_px[::BLUR_STEP, ::BLUR_STEP], 98))
    return most if most >= LEAST_BLUR_PX else 0.0


def blurred(picture: FloatArray, width_px: FloatArray, most: float) -> FloatArray:
    """A layer of the picture (rows, columns, C) blurred by widths (rows, columns) up to about ``most`` [px]: between even blurs, as each
    pixel needs."""
    from scipy.ndimage import gaussian_filter

    sigmas = most * DISC_TO_SIGMA / 2, most * DISC_TO_SIGMA
    levels = [picture, *(gaussian_filter(picture, (sigma, sigma, 0), truncate=2.5) for sigma in sigmas)]
    step = np.clip(width_px / most * 2, 0, 2)[..., None]
    low = levels[0] * (1 - np.minimum(step, 1)) + levels[1] * np.minimum(step, 1)
    return np.asarray(np.where(step <= 1, low, levels[1] * (2 - step) + levels[2] * (step - 1)), np.float32)


def developed(lit_scene: LitScene, metered: Metered, luminance: FloatArray) -> NDArray[np.uint8]:
    """Luminance (rows, columns, 3) [cd/m2] to the 8 bits of sRGB that the camera sends."""
    setup, scale = lit_scene.setup, np.float32(MIDTONE / metered.mean_cd_m2)
    small = luminance[::HALO_STEP, ::HALO_STEP] * scale
    haze = setup.main_camera.lens.haze_share
    glow = _halo(small) + haze * _veil(small, haze)
    scale *= 1 - haze
    white = _white(setup, small * (1 - haze) + glow)
    snr = noise_of(setup, max(lit_scene.face_lx["front"], 0.05))
    face = MIDTONE * 2.0**metered.error_stops
    coarseness = np.float32(GRAININESS * np.sqrt(face) / max(snr, 1.0))
    out = np.empty(luminance.shape, np.uint8)
    grain, table = _grain(*luminance.shape[:2]), tone_table()

    def work(begin: int, end: int) -> None:
        develop_rows(luminance, scale / white, glow / white, HALO_STEP, grain, coarseness, table, begin, end, out)

    spread(work, len(luminance))
    return out


def _halo(linear: FloatArray) -> FloatArray:
    """Light of burnt-out parts that any lens scatters round them."""
    excess = np.minimum(linear, BRIGHTEST) - BURNT
    if not (excess > 0).any():
        return np.zeros_like(linear)
    excess = np.maximum(excess, 0)
    return np.asarray(sum(np.float32(share) * _bell(excess, reach, 3) for reach, share in HALOS), np.float32)


def _bell(linear: FloatArray, reach: float, truncate: float) -> FloatArray:
    """A small picture (rows, columns, 3) spread as a bell does, by ``reach`` of its width.

    By two products of matrices, for a bell that is wide against so few pixels takes long to slide over them.
    """
    rows, columns = linear.shape[:2]
    down, across = (_bell_rows(count, reach * columns, truncate) for count in (rows, columns))
    return np.ascontiguousarray((down @ linear.transpose(2, 0, 1) @ across.T).transpose(1, 2, 0))


@lru_cache(maxsize=16)
def _bell_rows(count: int, sigma_px: float, truncate: float) -> FloatArray:
    """What each of ``count`` pixels in a row gets from each, shape (count, count)."""
    from scipy.ndimage import gaussian_filter1d

    return np.asarray(gaussian_filter1d(np.eye(count, dtype=np.float32), sigma_px, axis=0, truncate=truncate))


def _veil(linear: FloatArray, haze: float) -> FloatArray:
    """What dirt or a poor lens makes of all light: spread wide over the picture."""
    return _bell(np.minimum(linear, BRIGHTEST), VEIL, 2) if haze else np.zeros_like(linear)


def _white(setup: Setup, linear: FloatArray) -> FloatArray:
    """What the camera's white balance takes for white, shape (3,)."""
    balance = setup.main_camera.white_balance
    if balance.kind == "locked" and balance.cct_k:
        return white_rgb(balance.cct_k)
    # Burnt-out parts tell a camera nothing about the colour of the light.
    mean = np.minimum(linear, 1.0).reshape(-1, 3).mean(axis=0)
    grey = mean / max(float(mean @ LUMA), 1e-6)
    return np.asarray(np.clip(grey, 0.3, 3.0) ** np.float32(AUTO_WHITE), np.float32)


@lru_cache(maxsize=2)
def _grain(rows: int, columns: int) -> FloatArray:
    """The same grain each time, so that pictures can be compared."""
    return np.random.default_rng(7).standard_normal((rows, columns, 3), dtype=np.float32)


@compiled
def develop_rows(luminance, scale, glow, step, grain, coarseness, table, begin, end, out):  # type: ignore[no-untyped-def]
    """Scales, adds the halo and the grain of the photons that are there, and looks up the tones, for rows ``begin`` to ``end``.

    Args:
        luminance: shape (rows, columns, 3) float32.
        scale: by channel, shape (3,) float32.
        glow: at every ``step``-th pixel, shape (rows', columns', 3) float32.
        grain: of spread 1, shape (rows, columns, 3) float32; ``coarseness`` scales it.
        table: 8 bits for linear 0-4.
        out: shape (rows, columns, 3) uint8; written to.
    """
    last, high, wide = table.shape[0] - 1, glow.shape[0] - 1, glow.shape[1] - 1
    one, apart, least = np.float32(1), np.float32(1 / step), np.float32(0.002)
    steps, nought, top = np.float32(last / 4), np.float32(0), np.float32(last)
    columns = luminance.shape[1]
    edge, line = np.empty((wide + 2, 3), np.float32), np.empty(3 * columns, np.float32)
    for row in range(begin, end):
        y = min(np.float32(row) * apart, np.float32(high))
        j = min(int(y), max(high - 1, 0))
        t = y - np.float32(j)
        j1 = min(j + 1, high)
        for i in range(wide + 2):
            for channel in range(3):
                edge[i, channel] = glow[j, min(i, wide), channel] * (one - t) + glow[j1, min(i, wide), channel] * t
        for column in range(columns):
            x = np.float32(column) * apart
            i = min(int(x), wide)
            s = x - np.float32(i)
            for channel in range(3):
                halo = edge[i, channel] * (one - s) + edge[i + 1, channel] * s
                line[3 * column + channel] = halo + luminance[row, column, channel] * scale[channel]
        # What follows has no branches, and is worked on several values at a time.
        coarse, coded = grain[row].reshape(-1), out[row].reshape(-1)
        for n in range(3 * columns):
            linear = line[n] + coarse[n] * coarseness * np.sqrt(max(line[n], least))
            line[n] = min(max(linear * steps, nought), top)
        for n in range(3 * columns):
            coded[n] = table[min(max(np.int32(line[n]), 0), last)]  # what is no number must not read beside the table either
