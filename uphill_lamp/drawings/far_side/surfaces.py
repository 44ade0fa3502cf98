"""The colour of every sample of the room: surfaces, things, windows, and which of them shine by themselves."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.finishes import FINISHES
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.core.scene.view import HOUSING_REFLECTANCE, surface_reflectance
from uphill_lamp.drawings.far_side.cast import SURFACES, Cast, Flat
from uphill_lamp.drawings.far_side.chair import upholstery
from uphill_lamp.drawings.far_side.colour import hex_rgb, of_reflectance
from uphill_lamp.drawings.far_side.paint import glow, painted

SKIRTING_M, SKIRTING = 0.09, 1.12
FRAME_ALBEDO = 0.6

SURFACE_HUES = {"floor_wood": "#9a7448", "floor_laminate": "#a5855c", "wood_panel": "#8a6844", "brick_bare": "#96604a",
                "carpet_thin": "#7d7468", "carpet_thick": "#74706c", "wallpaper_light": "#c9bfa6", "curtain_wall": "#7c6a78",
                "books_wall": "#7a6450"}  # fmt: skip
PLAIN_HUE = "#cfc8ba"
UNDER_DESK_ALBEDO = 0.15
HOUSINGS = ("back", "microphone", "stand")
OPEN_DOOR = 0.15  # what lies beyond is dark
MIRRORED = np.float32(0.86)  # of the light that a household mirror sends back


@dataclass(frozen=True, eq=False)
class Shining:
    """Samples of a thing that shines by itself: their pixels (n,), rays (n, 3), and what share of its light each adds (n,)."""

    flat: Flat
    pixels: NDArray[np.int64]
    rays: FloatArray
    share: FloatArray


def shining_at(shining: tuple[Shining, ...], here: NDArray[np.bool_]) -> tuple[Shining, ...]:
    """What shines, at some pixels only."""
    kept = [here[lit_cells.pixels] for lit_cells in shining]
    return tuple(
        Shining(lit_cells.flat, lit_cells.pixels[on], lit_cells.rays[on], lit_cells.share[on])
        for lit_cells, on in zip(shining, kept, strict=True)
    )


def albedo_of(setup: Setup, flats: tuple[Flat, ...], met: Cast, origin: Vector) -> tuple[FloatArray, tuple[Shining, ...]]:
    """Albedo of samples, shape (N, 3), and those of them that shine by themselves."""
    plain = np.zeros((len(SURFACES) + len(flats), 3), np.float32)
    for index, name in enumerate(SURFACES):
        plain[index] = _of_surface(setup, name)
    for index, flat in enumerate(flats):
        plain[len(SURFACES) + index] = _of_flat(setup, flat)
    samples = plain[met.what]
    feet = np.flatnonzero((met.what < 4) & (met.reach * met.rays[:, 2] < SKIRTING_M - origin[2]))
    samples[feet] *= SKIRTING
    things = {thing.id: thing for thing in setup.backdrop}
    shining = []
    for index, flat in enumerate(flats):
        on = np.flatnonzero(met.what == len(SURFACES) + index)
        if not len(on) or flat.kind in ("back", "desk", "under", "door", "microphone", "stand"):
            continue
        across, down = met.across[on], met.down[on]
        share = np.ones(len(on), np.float32)
        if flat.kind == "chair":
            samples[on] = upholstery(setup, flat.pane, across, down)
            continue
        if flat.kind == "backdrop":
            samples[on] = painted(things[flat.name], across, down)[0]
            if not things[flat.name].luminance_cd_m2:
                continue
            share = glow(things[flat.name], across, down)
        elif flat.kind == "window":
            samples[on], share = _window(setup, flat, across, down)
        elif flat.kind == "reflector":
            samples[on] = next(sheet.reflectance for sheet in setup.reflectors if sheet.id == flat.name)
        shining.append(Shining(flat, on, met.rays[on], share))
    for glance in met.glances:
        samples[glance.samples] *= MIRRORED
    return samples, tuple(
        replace(lit_cells, share=np.where(np.isin(lit_cells.pixels, met.mirrored), lit_cells.share * MIRRORED, lit_cells.share))
        for lit_cells in shining
    )


def _of_surface(setup: Setup, name: str) -> FloatArray:
    finish = getattr(setup.room.surfaces, name)
    hue = SURFACE_HUES.get(finish, PLAIN_HUE) if isinstance(finish, str) else PLAIN_HUE
    return of_reflectance(hex_rgb(hue), FINISHES[finish].reflectance if isinstance(finish, str) else surface_reflectance(finish))


def _of_flat(setup: Setup, flat: Flat) -> FloatArray | float:
    """Albedo of a flat that is the same all over; 0 for one that is painted or shines."""
    if flat.kind == "desk":
        return of_reflectance(hex_rgb(setup.desk.colour), setup.desk.reflectance)
    if flat.kind == "door":
        door = next(door for door in setup.room.doors if door.id == flat.name)
        return hex_rgb(door.colour) * (OPEN_DOOR if door.stands_open else 1.0)
    return UNDER_DESK_ALBEDO if flat.kind == "under" else HOUSING_REFLECTANCE if flat.kind in HOUSINGS else 0.0


def _window(setup: Setup, flat: Flat, across: FloatArray, down: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Albedo of frame and covering, and how much of what shines behind each place lets through."""
    window = next(window for window in setup.room.windows if window.id == flat.name)
    albedo, share = np.zeros((len(across), 3), np.float32), np.ones(len(across), np.float32)
    if window.covering.kind in ("blackout", "blind"):
        folds = 0.8 + 0.2 * np.sin((down if window.covering.kind == "blind" else across) * 90)
        albedo[:] = (FRAME_ALBEDO * folds)[:, None]
    elif window.covering.kind == "none":
        x, y = np.abs(across - 0.5) * window.width_m, np.abs(down - 0.5) * window.height_m
        upright = (x < 0.022) | (x > window.width_m / 2 - 0.045)
        frame = upright | (y > window.height_m / 2 - 0.045) | (np.abs(down - 0.42) * window.height_m < 0.018)
        albedo[frame], share[frame] = FRAME_ALBEDO, 0.0
    else:
        share = (1 + 0.07 * np.sin(across * window.width_m * 75) + 0.04 * np.sin(across * window.width_m * 31)).astype(np.float32)
        albedo[:] = 0.35
    return albedo, share
