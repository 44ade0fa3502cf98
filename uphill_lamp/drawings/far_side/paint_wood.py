"""Paint of what is firm behind: shelves, screens that fold, doors, boards."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.drawings.far_side.canvas import Canvas
from uphill_lamp.drawings.far_side.colour import hex_rgb

BOARD_M, SPINE_M = 0.022, 0.041
AJAR = 0.22  # of its breadth that a door in use stands open
BEYOND = 0.03  # albedo of what lies behind it

_BOOKS = ("#7d3b34", "#31506b", "#a38a52", "#44603f", "#8b7d70", "#5b4a6b", "#b0a48e", "#3b3a3f")
_POTS = ("#c9bfa8", "#5f7f86", "#a3573c", "#d8d2c4", "#7a8a5a", "#3f4a57")


def _rows(canvas: Canvas) -> tuple[float, FloatArray, FloatArray]:
    """How high a row of a shelf is [m], which row each place is in, and how far down in it [m]."""
    row_m = canvas.thing.height_m / max(2, round(canvas.thing.height_m / 0.33))
    return row_m, np.floor(canvas.y / row_m), np.mod(canvas.y, row_m)


def _boards(canvas: Canvas, row_m: float, within: FloatArray, wood: FloatArray) -> None:
    sides = (canvas.x < BOARD_M) | (canvas.x > canvas.thing.width_m - BOARD_M)
    canvas.albedo[(within > row_m - BOARD_M) | sides | (canvas.y < BOARD_M)] = wood


def _books(canvas: Canvas, row_m: float, row: FloatArray, within: FloatArray, here: NDArray[np.bool_]) -> None:
    """Books side by side, some leaning apart, where a shelf has them."""
    spine = np.floor(canvas.x / SPINE_M + row * 3.7)
    books = np.array([hex_rgb(colour) for colour in _BOOKS])[(spine * 5 + row * 3).astype(int) % len(_BOOKS)]
    tall = row_m * (0.62 + 0.24 * np.mod(spine * 0.37 + row * 0.61, 1.0))
    standing = here & (within > row_m - tall - 0.02) & (np.mod(spine + row, 9) != 4)
    canvas.albedo[standing] = books[standing] * (0.75 + 0.25 * np.mod(spine[standing] * 0.53, 1.0))[:, None]


def bookcase(canvas: Canvas) -> None:
    """Full of books from board to board."""
    wood = canvas.albedo[:1].copy()
    row_m, row, within = _rows(canvas)
    canvas.albedo[:] *= 0.35  # the dark inside
    _books(canvas, row_m, row, within, np.ones(len(row), dtype=bool))
    _boards(canvas, row_m, within, wood)


def shelf(canvas: Canvas) -> None:
    """Boards with things on them: pots and boxes, and on every second one books for half its length."""
    albedo, wood = canvas.albedo, canvas.albedo[:1].copy()
    row_m, row, within = _rows(canvas)
    albedo *= 0.42
    books = (np.mod(row, 2) == 1) & (np.abs(canvas.across - 0.25 - 0.5 * (np.mod(row, 4) == 3)) < 0.25)
    _books(canvas, row_m, row, within, books)
    places = max(2, round(canvas.thing.width_m / 0.26))
    cell = np.floor(canvas.across * places)
    kind = np.where(books, -1, np.mod(cell * 3 + row * 5, 4))
    aside = (np.mod(canvas.across * places, 1.0) - 0.5) * canvas.thing.width_m / places
    up = row_m - BOARD_M - within
    colour = np.array([hex_rgb(tone) for tone in _POTS])[(cell * 2 + row * 3).astype(int) % len(_POTS)]
    pot = (kind == 0) & (np.abs(aside) < 0.045 + 0.035 * np.sin(np.clip(up / (0.55 * row_m), 0, 1) * np.pi)) & (up < 0.6 * row_m)
    box = (kind == 1) & (np.abs(aside) < 0.09) & (up < 0.42 * row_m)
    lying = (kind == 2) & (np.abs(aside) < 0.10) & (up < 0.12)
    for there in (pot, box, lying):
        albedo[there] = colour[there]
    albedo[lying & (np.mod(up, 0.03) < 0.006)] *= 0.4
    albedo[box & (np.abs(np.abs(aside) - 0.085) < 0.005)] *= 0.6
    _boards(canvas, row_m, within, wood)


def folding_screen(canvas: Canvas) -> None:
    """Panels in zigzag: the light falls on each a little otherwise; a frame round each."""
    panels = max(3, round(canvas.thing.width_m / 0.45))
    number, within = np.floor(canvas.across * panels), np.mod(canvas.across * panels, 1.0)
    panel_m = canvas.thing.width_m / panels
    canvas.albedo[np.mod(number, 2) == 1] *= 0.72
    rail = (np.minimum(within, 1 - within) * panel_m < 0.022) | (canvas.y < 0.03) | (canvas.y > canvas.thing.height_m - 0.05)
    middle = np.abs(canvas.down - 0.5) * canvas.thing.height_m < 0.015
    canvas.albedo[rail | middle] *= np.float32(0.45)
    canvas.albedo[np.minimum(within, 1 - within) * panel_m < 0.004] = 0.02


def door(canvas: Canvas) -> None:
    """A leaf with two panels and a knob; in use it stands ajar, and behind it is dark."""
    thing, albedo = canvas.thing, canvas.albedo
    shut = 1.0 - AJAR if thing.in_use else 1.0
    along = canvas.across / shut
    for top, foot in ((0.08, 0.45), (0.52, 0.92)):
        panel = np.maximum(np.abs(along - 0.5) / 0.34, np.abs(canvas.down - (top + foot) / 2) / ((foot - top) / 2))
        albedo[(panel > 0.94) & (panel < 1.0)] *= 0.7
    knob = np.hypot((along - 0.9) * thing.width_m * shut, canvas.y - 0.5 * thing.height_m) < 0.03
    albedo[knob] = (0.25, 0.22, 0.15)
    if thing.in_use:
        albedo[along > 1] = BEYOND
        albedo[(along > 0.97) & (along <= 1)] *= 0.6


def board(canvas: Canvas) -> None:
    """A board written on: a heading, lines, a drawn curve, a narrow frame."""
    across, down, albedo = canvas.across, canvas.down, canvas.albedo
    ink: NDArray[np.bool_] = (np.abs(down - 0.14) < 0.02) & (across > 0.07) & (across < 0.46)
    for number in range(4):
        end = 0.30 + 0.12 * np.mod(number * 0.618, 1.0)
        ink |= (np.abs(down - 0.30 - 0.12 * number) < 0.010) & (across > 0.07) & (across < end)
    axes = ((np.abs(across - 0.56) * canvas.thing.width_m < 0.006) & (down > 0.25) & (down < 0.82)) | (
        (np.abs(down - 0.82) * canvas.thing.height_m < 0.006) & (across > 0.56) & (across < 0.93)
    )
    curve = (across > 0.58) & (across < 0.92) & (np.abs(down - 0.78 + 0.45 * ((across - 0.56) / 0.36) ** 2) < 0.014)
    albedo[ink | axes] = (0.04, 0.06, 0.16)
    albedo[curve] = (0.45, 0.06, 0.05)
    albedo[canvas.edge_m < 0.018] = 0.35
