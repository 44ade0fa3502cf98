"""Paint of the things behind: albedo over a rectangle, 0-1 from its viewer's left and from the top."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.drawings.far_side.colour import hex_rgb, of_reflectance

Painted = tuple[FloatArray, NDArray[np.bool_]]  # albedo (N, 3), and whether the thing covers what is behind it (N,)

CUT_OUT = ("clock", "plant")  # kinds that do not fill their rectangle

_BOOKS = ("#7d3b34", "#31506b", "#a38a52", "#44603f", "#8b7d70", "#5b4a6b", "#b0a48e", "#3b3a3f")


def painted(thing: BackdropThing, across: FloatArray, down: FloatArray) -> Painted:
    """Albedo of a thing behind at places on it."""
    base = of_reflectance(hex_rgb(thing.colour), thing.reflectance)
    albedo = np.repeat(base[None], len(across), axis=0)
    covers = np.ones(len(across), dtype=bool)
    x, y = across * thing.width_m, down * thing.height_m
    if thing.kind == "shelf":
        _shelf(albedo, x, y, thing)
    elif thing.kind == "clock":
        covers = _clock(albedo, across, down)
    elif thing.kind == "plant":
        covers = _plant(albedo, across, down)
    elif thing.kind == "picture":
        edge = np.minimum(np.minimum(x, thing.width_m - x), np.minimum(y, thing.height_m - y))
        albedo[edge < 0.05] = 0.75
        albedo[edge < 0.02] = 0.06
        hill = (edge >= 0.05) & (down > 0.62 + 0.12 * np.sin(across * 5))
        albedo[hill] *= 0.45
    elif thing.kind == "door":
        _door(albedo, x, y, thing)
    elif thing.kind == "bed":
        albedo[down < 0.35] = np.minimum(albedo[down < 0.35] * 1.4, 0.85)
        albedo[(down > 0.35) & (np.sin(across * 40) > 0.92)] *= 0.85
    elif thing.kind == "clutter":
        cell = (np.floor(across * 5) * 7 + np.floor(down * 4) * 13).astype(int)
        albedo *= (0.5 + 0.25 * (cell % 5))[:, None]
    return np.clip(albedo, 0.01, 0.95), covers


def _shelf(albedo: FloatArray, x: FloatArray, y: FloatArray, thing: BackdropThing) -> None:
    rows = max(2, round(thing.height_m / 0.33))
    row_m = thing.height_m / rows
    row, within = np.floor(y / row_m), np.mod(y, row_m)
    spine = np.floor(x / 0.041 + row * 3.7)
    books = np.array([hex_rgb(colour) for colour in _BOOKS])[(spine * 5 + row * 3).astype(int) % len(_BOOKS)]
    tall = row_m * (0.62 + 0.24 * np.mod(spine * 0.37 + row * 0.61, 1.0))
    standing = (within > row_m - tall - 0.02) & (np.mod(spine + row, 9) != 4)
    albedo *= 0.35  # the dark inside
    albedo[standing] = books[standing] * (0.75 + 0.25 * np.mod(spine[standing] * 0.53, 1.0))[:, None]
    boards = (within > row_m - 0.022) | (x < 0.022) | (x > thing.width_m - 0.022) | (y < 0.022)
    albedo[boards] = of_reflectance(hex_rgb(thing.colour), thing.reflectance)


def _clock(albedo: FloatArray, across: FloatArray, down: FloatArray) -> NDArray[np.bool_]:
    dx, dy = 2 * across - 1, 2 * down - 1
    reach, turn = np.hypot(dx, dy), np.arctan2(dx, -dy)
    albedo[reach > 0.86] = (0.12, 0.08, 0.05)
    ticks = (reach > 0.70) & (reach < 0.80) & (np.abs(np.mod(turn + np.pi / 12, np.pi / 6) - np.pi / 12) < 0.05)
    hour = (reach < 0.45) & (np.abs(turn - 0.9) * reach < 0.045)
    minute = (reach < 0.68) & (np.abs(turn + 0.75) * reach < 0.032)
    albedo[ticks | hour | minute] = 0.03
    return np.asarray(reach <= 1)


def _plant(albedo: FloatArray, across: FloatArray, down: FloatArray) -> NDArray[np.bool_]:
    covers = np.zeros(len(across), dtype=bool)
    for number in range(16):
        at_x, at_y = 0.5 + 0.33 * np.sin(number * 2.4), 0.34 + 0.26 * np.cos(number * 1.7)
        lean = np.sin(number * 1.3)
        dx, dy = across - at_x, down - at_y
        leaf = ((dx * np.cos(lean) + dy * np.sin(lean)) / 0.19) ** 2 + ((dy * np.cos(lean) - dx * np.sin(lean)) / 0.075) ** 2 < 1
        albedo[leaf & ~covers] *= 0.6 + 0.5 * (number % 5) / 4
        covers |= leaf
    pot = (down > 0.74) & (np.abs(across - 0.5) < 0.20 - 0.05 * (down - 0.74) / 0.26)
    albedo[pot] = (0.30, 0.16, 0.10)
    stem = (np.abs(across - 0.5) < 0.015) & (down > 0.4)
    return np.asarray(covers | pot | stem)


def _door(albedo: FloatArray, x: FloatArray, y: FloatArray, thing: BackdropThing) -> None:
    for top, foot in ((0.08, 0.45), (0.52, 0.92)):
        panel = np.maximum(np.abs(x / thing.width_m - 0.5) / 0.34, np.abs(y / thing.height_m - (top + foot) / 2) / ((foot - top) / 2))
        albedo[(panel > 0.94) & (panel < 1.0)] *= 0.7
    knob = np.hypot(x - 0.9 * thing.width_m, y - 0.5 * thing.height_m) < 0.03
    albedo[knob] = (0.25, 0.22, 0.15)
