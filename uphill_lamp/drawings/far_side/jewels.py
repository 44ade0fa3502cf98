"""Jewellery in the picture: a chain with what hangs on it, rings at the ears, bands at the wrists; and a spark where it glints."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.areas.backdrop.shine import is_spark
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.people import Garment
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.worn import jewellery, places_of
from uphill_lamp.drawings.far_side.colour import hex_rgb, light_rgb, of_reflectance

RADIUS_M = {"neck": 0.008, "ears": 0.005, "wrists": 0.018}  # of what hangs, or is put round
CHAIN_M, LINKS = 0.0022, 41
MIRRORED = 0.5  # metal shows the dark of the room as well as its light
SPARK, SPARK_M = 60.0, 0.003  # how much brighter than the metal about it a spark is, and how large it is drawn
HIDES_EARS = ("long", "covered")


def put_on(picture: FloatArray, pinhole: Pinhole, lit_scene: LitScene) -> None:
    """Draws what is worn of it over the picture, shape (rows, columns, 3) [cd/m2], in place."""
    setup = lit_scene.setup
    for piece in jewellery(setup):
        if piece.worn_at == "ears" and setup.presenter.hair in HIDES_EARS:
            continue
        metal = of_reflectance(hex_rgb(piece.colour), piece.reflectance)
        for place, radius_m in _parts(setup, piece):
            shade = MIRRORED * _light(lit_scene, place) * metal / math.pi
            _disc(picture, pinhole, place, radius_m, shade)
            if radius_m > CHAIN_M and any(is_spark(source, place, scene_of(setup).face.forward) for source in lit_scene.sources):
                _disc(picture, pinhole, place + 0.3 * radius_m * pinhole.up, SPARK_M, SPARK * shade)


def _parts(setup: Setup, piece: Garment) -> Iterator[tuple[FloatArray, float]]:
    """Places of a piece [m] and the radius that each is drawn with [m]."""
    face = scene_of(setup).face
    if (piece.worn_at or "neck") == "neck":
        for turn in np.radians(np.linspace(-75, 75, LINKS)):
            yield face.at(-0.03 + 0.03 * math.cos(turn), 0.062 * math.sin(turn), -0.185 - 0.075 * math.cos(turn)), CHAIN_M
    for place in places_of(setup, piece):
        yield place, RADIUS_M[piece.worn_at or "neck"]


def _light(lit_scene: LitScene, place: FloatArray) -> FloatArray:
    """Light that falls there from the front, shape (3,) [lx] in linear sRGB."""
    levels = lit_scene.by_source_at_lx(place[None], scene_of(lit_scene.setup).face.forward[None])[0]
    whites = np.array([light_rgb(source) for source in lit_scene.sources]).reshape(len(levels), 3)
    return np.asarray(levels @ whites)


def _disc(picture: FloatArray, pinhole: Pinhole, place: FloatArray, radius_m: float, shade: FloatArray) -> None:
    rows, columns = picture.shape[:2]
    depth_m = float(pinhole.depth(place[None])[0])
    spot = pinhole.project(place)
    if depth_m <= 0 or np.isnan(spot).any():
        return
    x, y, radius = float(spot[0]) * columns, float(spot[1]) * rows, radius_m / (2 * pinhole.field.half_width * depth_m) * columns
    left, right = (int(np.clip(edge, 0, columns)) for edge in (x - radius - 1, x + radius + 2))
    top, foot = (int(np.clip(edge, 0, rows)) for edge in (y - radius - 1, y + radius + 2))
    across, down = np.meshgrid(np.arange(left, right) + 0.5 - x, np.arange(top, foot) + 0.5 - y)
    covers = np.clip(max(radius, 0.4) + 0.5 - np.hypot(across, down), 0, 1)[..., None] * min(radius / 0.4, 1.0)
    picture[top:foot, left:right] += (shade - picture[top:foot, left:right]) * covers
