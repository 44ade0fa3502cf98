"""How large a script must stand on a screen to be read, and how narrow so that the eyes do not run (docs/method/eyes.md)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.devices import Screen
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import screen_pane
from uphill_lamp.core.scene.scene import scene_of

READS_ARCMIN, COMFORTABLE_ARCMIN = 20.0, 30.0
NARROW_DEG, WIDE_DEG = 1.5, 3.0  # half-width of the column: eyes at rest, and at most
X_HEIGHT_OF_FONT = 0.486  # Source Sans 3, the face that ships
WORD_OF_FONT = 2.9  # an English word with its space against the size of the type (working value)
LEAST_WORDS = 2.5  # fewer words a line than this do not read


@dataclass(frozen=True, slots=True)
class PrompterSize:
    """A script on a screen. Lengths [m] and the screen's own pixels [px], angles [deg]."""

    distance_m: float
    x_height_m: float
    font_px: float
    column_px: float
    half_width_deg: float
    words_a_line: float
    off_lens_deg: float


def x_height_m(distance_m: float, arcmin: float) -> float:
    """Height of a small letter that fills an angle at a distance [m]: 1 m and 20 minutes of arc give 5.8 mm."""
    return distance_m * math.tan(math.radians(arcmin / 60))


def column_m(distance_m: float, half_width_deg: float) -> float:
    """Width of a column that fills twice an angle at a distance [m]."""
    return 2 * distance_m * math.tan(math.radians(half_width_deg))


def prompter_size(setup: Setup, screen: Screen, comfortable: bool = True) -> PrompterSize:
    """Type and column for a screen of a setup at the distance it stands.

    The column is 1.5 degrees each way if enough words fit in a line, up to 3 degrees otherwise, never wider than the screen.

    Args:
        comfortable: letters of 30 minutes of arc instead of the least, 20.
    """
    eyes, pane = scene_of(setup).face.eyes, screen_pane(screen)
    distance_m = max(float(np.linalg.norm(pane.middle - eyes)), 0.1)
    tall_m = x_height_m(distance_m, COMFORTABLE_ARCMIN if comfortable else READS_ARCMIN)
    font_m = tall_m / X_HEIGHT_OF_FONT
    wanted_m = max(column_m(distance_m, NARROW_DEG), LEAST_WORDS * WORD_OF_FONT * font_m)
    wide_m = min(wanted_m, column_m(distance_m, WIDE_DEG), pane.width_m)
    per_m = screen.width_px / pane.width_m
    lens = scene_of(setup).lens.place - eyes
    beyond = pane.middle - eyes
    off = math.degrees(math.acos(np.clip(float(lens @ beyond) / float(np.linalg.norm(lens) * np.linalg.norm(beyond)), -1, 1)))
    half_deg = math.degrees(math.atan(wide_m / 2 / distance_m))
    return PrompterSize(distance_m, tall_m, font_m * per_m, wide_m * per_m, half_deg, wide_m / (WORD_OF_FONT * font_m), off)
