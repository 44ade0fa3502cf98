"""Paint of what is soft behind: beds, curtains, cloths, clothes on a rail."""

from __future__ import annotations

import numpy as np

from uphill_lamp.drawings.far_side.canvas import Canvas
from uphill_lamp.drawings.far_side.colour import hex_rgb

_GARMENTS = ("#5c2f35", "#2f3e55", "#8a8276", "#3c4a3c", "#b7a98f", "#23242a", "#6d5876")


def bed(canvas: Canvas) -> None:
    """A headboard's edge, two pillows, a cover with its folds and the shadow beneath."""
    across, down, albedo = canvas.across, canvas.down, canvas.albedo
    cover = albedo[:1].copy()
    albedo[down < 0.30] = np.minimum(cover * 0.45, 0.3)  # the board behind the pillows
    for middle in (0.27, 0.73):
        pillow = (np.abs(across - middle) / 0.2) ** 4 + (np.abs(down - 0.30) / 0.17) ** 4 < 1
        albedo[pillow] = 0.72
        albedo[pillow & (np.abs(down - 0.44) < 0.02)] = 0.5
    turned = (down > 0.42) & (down < 0.52)
    albedo[turned] = 0.66
    folds = (down >= 0.52) & (down < 0.86)
    albedo[folds] = cover * (0.86 + 0.14 * np.sin(across[folds] * 23 + 3 * down[folds]))[:, None]
    albedo[down >= 0.86] = 0.05


def curtain(canvas: Canvas) -> None:
    """Deep folds from a rail to the floor."""
    fold = np.sin(canvas.x / 0.11 * 2 * np.pi + 0.6 * np.sin(canvas.down * 3))
    canvas.albedo[:] *= (0.80 + 0.28 * fold - 0.10 * (fold < -0.6))[:, None]
    canvas.albedo[canvas.y < 0.025] = (0.10, 0.08, 0.06)


def sheet(canvas: Canvas) -> None:
    """A sheet hung by clips: it sags between them, with a few creases as it came from the cupboard."""
    clips = max(2, round(canvas.thing.width_m / 0.5))
    between = np.mod(canvas.across * clips, 1.0)
    sag = 0.05 * np.sin(between * np.pi) ** 2
    canvas.only(canvas.y > sag)
    drape = np.cos(between * 2 * np.pi) * np.exp(-2.0 * canvas.down)
    crease = (np.abs(canvas.across - 0.5) < 0.004) | (np.abs(np.mod(canvas.down * 3, 1.0) - 0.5) < 0.006)
    canvas.albedo[:] *= (0.93 + 0.07 * drape - 0.14 * crease)[:, None]
    canvas.albedo[(np.minimum(between, 1 - between) * canvas.thing.width_m / clips < 0.012) & (canvas.y < 0.05)] = 0.03


def stretched(canvas: Canvas) -> None:
    """A cloth on a bar and two stands: long soft folds, deeper towards its foot."""
    fold = np.sin(canvas.x * 9.5 + 1.3) + 0.6 * np.sin(canvas.x * 23 + 4 * canvas.down)
    canvas.albedo[:] *= (0.94 + (0.05 + 0.10 * canvas.down) * fold)[:, None]
    canvas.albedo[canvas.y < 0.03] = (0.04, 0.04, 0.045)


def clothes_rail(canvas: Canvas) -> None:
    """A bar on two posts, and what hangs on it."""
    x, y, wide, high = canvas.x, canvas.y, canvas.thing.width_m, canvas.thing.height_m
    bar = (y < 0.03) | ((np.minimum(x, wide - x) < 0.03) & (y < high)) | ((y > high - 0.03) & (np.minimum(x, wide - x) < 0.2))
    count = max(3, round(wide / 0.19))
    number = np.floor((canvas.across - 0.06) / 0.88 * count)
    within = np.mod((canvas.across - 0.06) / 0.88 * count, 1.0)
    long = high * (0.46 + 0.24 * np.mod(number * 0.618, 1.0))
    shoulder = 0.07 + 0.20 * (within - 0.5) ** 2
    hangs = (canvas.across > 0.06) & (canvas.across < 0.94) & (y > shoulder) & (y < long)
    colours = np.array([hex_rgb(colour) for colour in _GARMENTS])[(number * 3).astype(int) % len(_GARMENTS)]
    canvas.albedo[hangs] = colours[hangs] * (0.62 + 0.45 * np.sin(within[hangs] * np.pi) + 0.10 * np.sin(within[hangs] * 19))[:, None]
    opening = hangs & (np.abs(within - 0.5) < 0.02) & (np.mod(number, 2) == 0)  # down the front of a jacket
    canvas.albedo[opening] *= 0.4
    hook = (np.abs(within - 0.5) * 0.88 * wide / count < 0.004) & (y <= shoulder) & (canvas.across > 0.06) & (canvas.across < 0.94)
    canvas.albedo[bar | hook] = 0.30
    canvas.only(bar | hangs | hook)
