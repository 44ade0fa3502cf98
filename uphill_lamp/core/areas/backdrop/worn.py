"""What is worn, as far as the camera minds it: patterns too fine for its pixels, red that smears (docs/method/backdrop.md)."""

from __future__ import annotations

import colorsys
import math
from typing import Any

from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.document.people import Garment
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.sharpness import detail_px
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.scene.destination import px_per_height
from uphill_lamp.core.scene.optics import blur_m, focal_length_m, focused_at_m, native_size_m
from uphill_lamp.core.scene.scene import scene_of

ON_CHEST = ("top", "jacket", "scarf")
CHEST_M = (0.02, -0.35)  # before and above the eyes: where a pattern is looked for
FOLDS = 0.7  # a fold turns cloth away, and its pattern closer together
BLURRED = 0.6  # of a pitch: a blur so wide leaves nothing to shimmer
NO_PATTERN_PX = 12.0
DARK_LENSES = 0.3  # what lenses let through at most for the eyes behind them not to be seen
BRIM_STOPS = 0.3  # what a brim may take off the face
RED_DEG, SATURATED = 20.0, 0.8  # hue to either side of red, and saturation, from which on red smears at a quarter of its pixels


def finest(setup: Setup) -> tuple[Garment, float] | None:
    """The garment on the chest whose pattern comes out finest, and its pitch at the worst of sensor, what is sent, and the viewer [px]; None
    where nothing is patterned, or all is blurred away."""
    worn = [garment for garment in setup.presenter.clothing if garment.kind in ON_CHEST and garment.pattern != "plain" and garment.pitch_m]
    pitches = [(garment, px) for garment in worn if (px := pitch_px(setup, garment.pitch_m)) is not None]
    return min(pitches, key=lambda pair: pair[1], default=None)


def pitch_px(setup: Setup, pitch_m: float) -> float | None:
    """How many pixels of the coarsest picture on its way a repeat takes on the chest, folds counted [px]; None where it is blurred away."""
    camera, face, pinhole = setup.main_camera, scene_of(setup).face, scene_of(setup).pinhole
    forward_m, up_m = CHEST_M
    away_m = float(pinhole.depth(face.at(forward_m, 0, up_m)[None])[0])
    if away_m <= 0:
        return None
    share = pitch_m / (2 * pinhole.field.half_height * away_m)
    focused_m = focused_at_m(camera, float(pinhole.depth(face.eyes[None])[0]))
    circle = blur_m(focal_length_m(camera), camera.lens.f_number, focused_m, away_m) / (native_size_m(camera)[1] / camera.zoom)
    if circle >= BLURRED * share:
        return None
    rows = min(float(detail_px(camera)[1]), float(camera.output_height_px), px_per_height(setup.call))
    return share * rows * FOLDS


def is_strong_red(colour: str) -> bool:
    """Whether an sRGB colour, ``#rrggbb``, is a red that smears where colour is sent at a quarter of the pixels."""
    hue, _, saturation = colorsys.rgb_to_hls(*(int(colour[start : start + 2], 16) / 255 for start in (1, 3, 5)))
    return min(hue, 1 - hue) * 360 <= RED_DEG and saturation > SATURATED


def outermost(setup: Setup) -> Garment | None:
    """What is seen on the chest."""
    return next((garment for garment in reversed(setup.presenter.clothing) if garment.kind in ON_CHEST), None)


def strong_red(setup: Setup) -> float:
    """Share of the picture under saturated red, worn or behind, 0-1."""
    behind, top = behind_of(setup), outermost(setup)
    worn = behind.seen.shirt if top is not None and is_strong_red(top.colour) else 0.0
    return worn + sum(
        behind.seen.parts[thing.id].share for thing in setup.backdrop if thing.id in behind.seen.parts and is_strong_red(thing.colour)
    )


def eyes_hidden(setup: Setup) -> bool:
    """Whether glasses are too dark for the eyes to be seen."""
    return setup.presenter.glasses != "none" and setup.presenter.glasses_transmittance <= DARK_LENSES


def brim_stops(setup: Setup, lit_scene: Any) -> float:
    """How much more light the front of the face would get without the brim of a hat [stops]; 0 without one.

    Args:
        lit_scene: the lit field of the setup.
    """
    if not setup.presenter.brim_m:
        return 0.0
    bare = setup.model_copy(update={"presenter": setup.presenter.model_copy(update={"brim_m": 0.0})})
    now, then = (max(float(scene.face_lx["front"]), 1e-3) for scene in (lit_scene, lit_scene_of(bare)))
    return math.log2(then / now)
