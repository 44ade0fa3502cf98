"""What lines over the far side's picture share: its width, where a place lies on it, words that read on any picture."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.drawings.lettering import width_px
from uphill_lamp.drawings.svg import Node, group, rect, words

WIDTH = 560.0


def spot(appraisal: Appraisal, place: FloatArray, height: float) -> tuple[float, float] | None:
    """Where a place in the room, shape (3,) [m], lies over the picture; None where it lies behind the lens."""
    x, y = scene_of(appraisal.setup).pinhole.project(place)
    return None if np.isnan(x) else (float(x) * WIDTH, float(y) * height)


def label(x: float, y: float, text: str, anchor: str = "start") -> Node:
    """Words on a plate of their own, so that they read on any picture."""
    width = width_px(text, 12) + 10
    left = x if anchor == "start" else x - width
    return group(rect(left, y - 13, width, 18, rx=3, class_="plate"), words(left + 5, y, text, class_="plate-text"))
