"""The picture in false colours: how much light falls on whatever is seen, a colour for each stop."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.appraisal import Appraisal
from uphill_lamp.core.scene.placing import pinhole_of
from uphill_lamp.core.scene.view import view_of
from uphill_lamp.core.scene.wording import lux
from uphill_lamp.drawings.far_side.colour import FloatArray
from uphill_lamp.drawings.far_side.face import figure
from uphill_lamp.drawings.far_side.render import Picture

STEPS_LX = (12.5, 25.0, 50.0, 100.0, 200.0, 400.0, 800.0, 1600.0, 3200.0)  # a stop each
# From ink through plum and brick to lamp and paper: each step lighter than the one before, so that it reads without colour too.
COLOURS = ("#10161c", "#262739", "#423550", "#633f5c", "#86495c", "#a85a4e", "#c67544", "#dd9a45", "#f2c87e", "#fdf1d2")
SHINES = (230, 240, 247)
COLUMNS, GRID_COLUMNS = 480, 240
EDGE_SHADE = 0.4


def key() -> list[tuple[str, str]]:
    """Colour and words of each step, darkest first."""
    named = [f"under {lux(STEPS_LX[0])}", *(f"{low:g}–{high:g}" for low, high in pairwise(STEPS_LX)), f"over {lux(STEPS_LX[-1])}"]
    return list(zip(COLOURS, named, strict=True))


def colour_of(level_lx: float) -> str:
    """Colour of a level, as #rrggbb."""
    return COLOURS[int(np.searchsorted(STEPS_LX, level_lx, side="right"))]


def light_levels(appraisal: Appraisal) -> Picture:
    """What falls on walls, things and face in the camera's view [lx], as colours; what shines by itself is left pale."""
    from PIL import Image

    setup = appraisal.setup
    pinhole = pinhole_of(setup)
    rows = max(2, round(GRID_COLUMNS / pinhole.field.aspect))
    x, y = np.meshgrid((np.arange(GRID_COLUMNS) + 0.5) / GRID_COLUMNS, (np.arange(rows) + 0.5) / rows)
    view = view_of(setup, pinhole, pinhole.ray(x.ravel(), y.ravel()), figure(setup.presenter))
    level_lx = appraisal.falling.illuminance_lx(view.place, view.normal, 3).reshape(rows, -1)
    shines = view.mask("window", "screen", "lamp").reshape(rows, -1)
    size = (COLUMNS, round(COLUMNS * rows / GRID_COLUMNS))
    smooth = np.asarray(Image.fromarray(np.log10(np.maximum(level_lx, 0.01)).astype(np.float32)).resize(size, Image.Resampling.BILINEAR))
    pale = np.asarray(Image.fromarray(shines.astype(np.uint8) * 255).resize(size, Image.Resampling.BILINEAR)) > 127
    pixels = _palette()[np.searchsorted(np.log10(STEPS_LX), smooth, side="right")]
    pixels[pale] = SHINES
    edges = np.asarray(Image.fromarray(_edges(view.what.reshape(rows, -1))).resize(size, Image.Resampling.BILINEAR), dtype=float) / 255
    pixels *= 1 - EDGE_SHADE * edges[..., None]  # or nobody would know what is what
    return Picture(pixels.astype(np.uint8))


def _edges(what: NDArray[np.int64]) -> NDArray[np.uint8]:
    """Where one thing meets another, 0 or 255."""
    met = np.zeros(what.shape, dtype=np.uint8)
    met[:, 1:] |= (what[:, 1:] != what[:, :-1]).astype(np.uint8)
    met[1:] |= (what[1:] != what[:-1]).astype(np.uint8)
    return met * 255


def _palette() -> FloatArray:
    return np.array([[int(colour[at : at + 2], 16) for at in (1, 3, 5)] for colour in COLOURS], dtype=float)
