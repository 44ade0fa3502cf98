"""Grain of a picture where it is even, and how wide its edges are."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray

TILE_PX = 16
MID = (0.25, 0.75)  # of full: tiles so bright tell the noise at mid grey
EVEN_SHARE = 0.3  # of the tiles, those with the least in them, are even
LEAST_TILES = 6
QUANTISED = 1 / math.sqrt(12)  # of one step of 8 bits
TEN_TO_NINETY = 1.0225  # a Gaussian's edge from 10 to 90 % of its step, times its steepest slope over the step
TURNS = 1.5  # steps of 8 bits: so much back, and an edge has ended
STEEPEST = 0.02  # of the pixels round an eye


def noise_share(picture: NDArray[np.uint8]) -> float | None:
    """Spread of the noise where the picture is even and of middling brightness, after Immerkaer, as a share of full; None where nothing is.

    Args:
        picture: shape (rows, columns, 3), 8 bits.
    """
    green = picture[..., 1].astype(float)
    rows, columns = (side // TILE_PX * TILE_PX for side in green.shape)
    if min(rows, columns) < 3 * TILE_PX:
        return None
    centre = green[1:-1, 1:-1]
    beside = green[:-2, 1:-1] + green[2:, 1:-1] + green[1:-1, :-2] + green[1:-1, 2:]
    corners = green[:-2, :-2] + green[:-2, 2:] + green[2:, :-2] + green[2:, 2:]
    rough = np.pad(np.abs(4 * centre - 2 * beside + corners), 1, mode="edge")
    tiled, level = (_tiles(part[:rows, :columns]) for part in (rough, green))
    spread = level.std(axis=1)
    sigma = math.sqrt(math.pi / 2) * tiled.mean(axis=1) / 6
    mean = level.mean(axis=1) / 255
    fit = (mean > MID[0]) & (mean < MID[1])
    if fit.sum() < LEAST_TILES:
        fit = (mean > 0.08) & (mean < 0.9)
    if fit.sum() < LEAST_TILES:
        return None
    even = np.argsort(spread[fit])[: max(round(EVEN_SHARE * int(fit.sum())), LEAST_TILES)]
    grain = float(np.median(sigma[fit][even]))
    return math.sqrt(max(grain**2 - QUANTISED**2, 0.0)) / 255


def _tiles(part: FloatArray) -> FloatArray:
    """A picture as its tiles, shape (T, pixels of one)."""
    rows, columns = part.shape
    return np.asarray(part.reshape(rows // TILE_PX, TILE_PX, columns // TILE_PX, TILE_PX).transpose(0, 2, 1, 3).reshape(-1, TILE_PX**2))


def edge_width(level: FloatArray, middle: FloatArray, reach_px: float) -> float | None:
    """How wide the steepest edges round a place are, from 10 to 90 % of their step [px]; None where there are none.

    Args:
        level: brightness, shape (rows, columns).
        middle: x and y [px].
        reach_px: how far round it edges are looked for.
    """
    left, top = (max(int(value - reach_px), 0) for value in middle)
    part = level[top : int(middle[1] + reach_px) + 1, left : int(middle[0] + reach_px) + 1]
    if min(part.shape) < 6:
        return None
    down, across = (np.asarray(change) for change in np.gradient(part))
    slope: FloatArray = np.asarray(np.hypot(down, across))
    most = max(round(STEEPEST * slope.size), 8)
    widths = []
    for flat in np.argsort(slope.ravel())[-most:]:
        row, column = divmod(int(flat), part.shape[1])
        way = np.array([down[row, column], across[row, column]]) / max(slope[row, column], 1e-9)
        if slope[row, column] < 2.0:
            continue
        step = _step(part, row, column, way, reach_px / 2)
        widths.append(TEN_TO_NINETY * step / slope[row, column])
    return float(np.median(widths)) if len(widths) >= 4 else None


def _step(part: FloatArray, row: int, column: int, way: FloatArray, reach_px: float) -> float:
    """How much an edge changes: along its slope to either side until it turns."""
    ends = []
    for side in (1, -1):
        value = part[row, column]
        for away in range(1, max(int(reach_px), 2)):
            y, x = round(row + side * away * way[0]), round(column + side * away * way[1])
            if not (0 <= y < part.shape[0] and 0 <= x < part.shape[1]) or side * (part[y, x] - value) < -TURNS:
                break
            value = part[y, x]
        ends.append(value)
    return float(abs(ends[0] - ends[1]))
