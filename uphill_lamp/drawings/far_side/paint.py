"""Paint of the things behind: albedo over a rectangle, 0-1 from its viewer's left and from the top."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.drawings.far_side import paint_cloth, paint_wood
from uphill_lamp.drawings.far_side.canvas import Canvas
from uphill_lamp.drawings.far_side.colour import hex_rgb, of_reflectance

Painted = tuple[FloatArray, NDArray[np.bool_]]  # albedo (N, 3), and whether the thing covers what is behind it (N,)

CUT_OUT = ("clock", "plant", "clothes_rail", "papers", "clutter", "sheet")  # kinds that do not fill their rectangle

FRAME_M = 0.025  # of a mirror
_PAINTERS: dict[str, Callable[[Canvas], None]] = {
    "shelf": paint_wood.shelf,
    "bookcase": paint_wood.bookcase,
    "folding_screen": paint_wood.folding_screen,
    "door": paint_wood.door,
    "board": paint_wood.board,
    "bed": paint_cloth.bed,
    "curtain": paint_cloth.curtain,
    "sheet": paint_cloth.sheet,
    "cloth": paint_cloth.stretched,
    "green_screen": paint_cloth.stretched,
    "clothes_rail": paint_cloth.clothes_rail,
}


def painted(thing: BackdropThing, across: FloatArray, down: FloatArray) -> Painted:
    """Albedo of a thing behind at places on it."""
    canvas = Canvas.of(thing, across, down, of_reflectance(hex_rgb(thing.colour), thing.reflectance))
    paint = _PAINTERS.get(thing.kind) or _SMALL.get(thing.kind)
    if paint:
        paint(canvas)
    return np.clip(canvas.albedo, 0.01, 0.95), canvas.covers


def mirrors(thing: BackdropThing, across: FloatArray, down: FloatArray) -> NDArray[np.bool_]:
    """Where a mirror shows the room, and not its frame, shape (N,)."""
    x, y = across * thing.width_m, down * thing.height_m
    return np.asarray(np.minimum(np.minimum(x, thing.width_m - x), np.minimum(y, thing.height_m - y)) > FRAME_M)


def glow(thing: BackdropThing, across: FloatArray, down: FloatArray) -> FloatArray:
    """How much of its brightness a thing that shines has at places on it, 0-1: a screen shows a page of writing, and is dark at its rim."""
    share = np.ones(len(across), np.float32)
    if thing.kind != "screen":
        return share
    lines = np.mod(down * 14, 1.0) < 0.45
    ragged = 0.52 + 0.36 * np.mod(np.floor(down * 14) * 0.618, 1.0)
    share[lines & (across > 0.08) & (across < ragged) & (down > 0.2) & (down < 0.92)] = 0.25
    share[(down > 0.07) & (down < 0.14) & (across > 0.08) & (across < 0.4)] = 0.35  # a heading
    share[(across > 0.72) & (across < 0.93) & (down > 0.25) & (down < 0.6)] = 0.5  # and a picture
    rim_x, rim_y = 0.012 / thing.width_m, 0.012 / thing.height_m
    share[(across < rim_x) | (across > 1 - rim_x) | (down < rim_y) | (down > 1 - rim_y)] = 0.0
    return share


def _clock(canvas: Canvas) -> None:
    albedo, dx, dy = canvas.albedo, 2 * canvas.across - 1, 2 * canvas.down - 1
    reach, turn = np.hypot(dx, dy), np.arctan2(dx, -dy)
    albedo[reach > 0.86] = (0.12, 0.08, 0.05)
    ticks = (reach > 0.70) & (reach < 0.80) & (np.abs(np.mod(turn + np.pi / 12, np.pi / 6) - np.pi / 12) < 0.05)
    hour = (reach < 0.45) & (np.abs(turn - 0.9) * reach < 0.045)
    minute = (reach < 0.68) & (np.abs(turn + 0.75) * reach < 0.032)
    albedo[ticks | hour | minute] = 0.03
    canvas.only(reach <= 1)


def _plant(canvas: Canvas) -> None:
    across, down, covers = canvas.across, canvas.down, np.zeros(len(canvas.across), dtype=bool)
    for number in range(16):
        at_x, at_y = 0.5 + 0.33 * np.sin(number * 2.4), 0.34 + 0.26 * np.cos(number * 1.7)
        lean = np.sin(number * 1.3)
        dx, dy = across - at_x, down - at_y
        leaf = ((dx * np.cos(lean) + dy * np.sin(lean)) / 0.19) ** 2 + ((dy * np.cos(lean) - dx * np.sin(lean)) / 0.075) ** 2 < 1
        canvas.albedo[leaf & ~covers] *= 0.6 + 0.5 * (number % 5) / 4
        covers |= leaf
    pot = (down > 0.74) & (np.abs(across - 0.5) < 0.20 - 0.05 * (down - 0.74) / 0.26)
    canvas.albedo[pot] = (0.30, 0.16, 0.10)
    stem = (np.abs(across - 0.5) < 0.015) & (down > 0.4)
    canvas.only(covers | pot | stem)


def _picture(canvas: Canvas) -> None:
    albedo, edge = canvas.albedo, canvas.edge_m
    albedo[edge < 0.05] = 0.75
    albedo[edge < 0.02] = 0.06
    hill = (edge >= 0.05) & (canvas.down > 0.62 + 0.12 * np.sin(canvas.across * 5))
    albedo[hill] *= 0.45


def _mirror(canvas: Canvas) -> None:
    canvas.albedo[canvas.edge_m < FRAME_M] = (0.28, 0.19, 0.10)


def _papers(canvas: Canvas) -> None:
    """Sheets pinned side by side, a little askew, each with its lines of writing."""
    thing = canvas.thing
    across, down = max(2, round(thing.width_m / 0.24)), max(1, round(thing.height_m / 0.32))
    column, row = np.floor(canvas.across * across), np.floor(canvas.down * down)
    number = column + across * row
    lean = 0.12 * np.sin(number * 2.3 + 0.7)
    u, v = np.mod(canvas.across * across, 1.0) - 0.5, np.mod(canvas.down * down, 1.0) - 0.5
    u, v = u * np.cos(lean) + v * np.sin(lean), v * np.cos(lean) - u * np.sin(lean)
    canvas.only((np.abs(u) < 0.40) & (np.abs(v) < 0.43))
    written = (
        (np.mod(v * 12, 1.0) < 0.3) & (np.abs(u) < 0.31) & (np.abs(v) < 0.34) & (u < 0.1 + 0.2 * np.sin(np.floor(v * 12) * 1.9 + number))
    )
    canvas.albedo[written] *= 0.35
    canvas.albedo[np.hypot(u, v + 0.4) < 0.035] = (0.45, 0.05, 0.04)


def _clutter(canvas: Canvas) -> None:
    """Boxes and bags on a heap, one before the other."""
    x, y, high = canvas.x, canvas.y, canvas.thing.height_m
    wide, covers = canvas.thing.width_m, np.zeros(len(x), dtype=bool)
    boxes = ((0.02, 0.36, 0.42, "#a07c50"), (0.40, 0.33, 0.60, "#6e7f8c"), (0.62, 0.36, 0.30, "#b9a27a"), (0.10, 0.24, 0.68, "#8f5f4a"),
             (0.42, 0.20, 0.95, "#c9c4b8"), (0.70, 0.22, 0.62, "#4f5a4a"))  # fmt: skip
    base = canvas.albedo[:1].mean() if len(x) else 0.3
    for left, broad, tall, colour in reversed(boxes):
        edge = np.minimum(np.minimum(x - left * wide, (left + broad) * wide - x), np.minimum(y - high * (1 - tall), high - y))
        here = edge > 0
        canvas.albedo[here] = of_reflectance(hex_rgb(colour), float(np.clip(base * (0.7 + 0.9 * np.mod(left * 7.3, 1.0)), 0.03, 0.85)))
        canvas.albedo[here & (edge < 0.012)] *= 0.55
        tape = here & (np.abs(x - (left + broad / 2) * wide) < 0.025) & (y < high * (1 - tall) + 0.10)
        canvas.albedo[tape] *= 1.35
        covers |= here
    bag = ((x / wide - 0.30) / 0.16) ** 2 + ((y / high - 0.86) / 0.20) ** 2 < 1
    canvas.albedo[bag] = of_reflectance(hex_rgb("#30343c"), 0.06)
    canvas.only(covers | bag)


_SMALL: dict[str, Callable[[Canvas], None]] = {
    "clock": _clock, "plant": _plant, "picture": _picture, "mirror": _mirror, "papers": _papers, "clutter": _clutter,
}  # fmt: skip
