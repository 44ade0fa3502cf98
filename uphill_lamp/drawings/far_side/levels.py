"""The picture in false colours: how much light falls on whatever is seen, a colour for each stop."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.drawings.far_side import lamps
from uphill_lamp.drawings.far_side.colour import LUMA
from uphill_lamp.drawings.far_side.light import Returned
from uphill_lamp.drawings.far_side.person import body_luminance, falls_on
from uphill_lamp.drawings.far_side.render import Picture, away_m, shot_of
from uphill_lamp.drawings.far_side.room import room_luminance
from uphill_lamp.drawings.figure.lit import thrown_past
from uphill_lamp.drawings.level_colours import COLOURS, STEPS_LX

SHINES = (230, 240, 247)
COLUMNS = 480
HALF, LAMP_CD_M2 = 0.5, 1000.0
EDGE_SHADE = 0.4


def light_levels(appraisal: Appraisal) -> Picture:
    """What falls on walls, things and face in the camera's view [lx], as colours; what shines by itself is left pale."""
    from PIL import Image

    level_lx, shines, what = _falls(appraisal.lit_scene)
    rows, columns = level_lx.shape
    pixels = _palette()[np.searchsorted(np.log10(STEPS_LX), np.log10(np.maximum(level_lx, 0.01)), side="right")]
    pixels[shines] = SHINES
    softly = np.asarray(Image.fromarray(_edges(what)).resize((columns, rows), Image.Resampling.BILINEAR), dtype=float) / 255
    pixels *= 1 - EDGE_SHADE * softly[..., None]  # or nobody would know what is what
    return Picture(pixels.astype(np.uint8))


def _falls(lit_scene: LitScene) -> tuple[FloatArray, NDArray[np.bool_], NDArray[np.int64]]:
    """Light on what each pixel shows [lx], whether it shines by itself, and a number for what it shows, shapes (rows, columns)."""
    shot, returned = shot_of(lit_scene.setup, COLUMNS), Returned(lit_scene)
    rows = shot.room.rows
    thrown = tuple(thrown_past(source, shot.body, lit_scene.board) for source in lit_scene.sources)
    white = np.full_like(shot.room.albedo, np.pi)
    room = room_luminance(replace(shot.room, albedo=white, shining=()), lit_scene, returned, thrown).reshape(rows, COLUMNS, 3)
    falls = falls_on(shot.person, lit_scene, thrown)
    person = replace(shot.person, albedo=np.full_like(shot.person.albedo, np.pi))
    body = body_luminance(person, falls, np.zeros_like(falls))
    covers = shot.person.covers
    level = room @ LUMA * (1 - covers) + body @ LUMA
    bright = np.zeros(rows * COLUMNS, dtype=bool)
    lit = {source.id for source in lit_scene.sources}
    for thing in shot.room.shining:
        if thing.flat.name in lit:
            bright[thing.pixels[thing.share > 0]] = True
    glow = np.zeros((rows, COLUMNS, 3), np.float32)
    lamps.lay_over(glow, shot.pinhole, np.where(covers > HALF, away_m(shot), shot.room.reach), lit_scene, returned)
    shines = (bright.reshape(rows, COLUMNS) & (covers < HALF)) | (glow @ LUMA > LAMP_CD_M2)
    return level, shines, np.where(covers > HALF, -1, shot.room.what).astype(np.int64)


def _edges(what: NDArray[np.int64]) -> NDArray[np.uint8]:
    """Where one thing meets another, 0 or 255."""
    met = np.zeros(what.shape, dtype=np.uint8)
    met[:, 1:] |= (what[:, 1:] != what[:, :-1]).astype(np.uint8)
    met[1:] |= (what[1:] != what[:-1]).astype(np.uint8)
    return met * 255


def _palette() -> FloatArray:
    return np.array([[int(colour[at : at + 2], 16) for at in (1, 3, 5)] for colour in COLOURS], dtype=float)
