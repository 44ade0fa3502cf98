"""A colour for each stop of light, for the false-colour picture and the face's points."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from uphill_lamp.core.scene.wording import lux

STEPS_LX = (12.5, 25.0, 50.0, 100.0, 200.0, 400.0, 800.0, 1600.0, 3200.0)  # a stop each
# From ink through plum and brick to lamp and paper: each step lighter than the one before, so that it reads without colour too.
COLOURS = ("#10161c", "#262739", "#423550", "#633f5c", "#86495c", "#a85a4e", "#c67544", "#dd9a45", "#f2c87e", "#fdf1d2")


def key() -> list[tuple[str, str]]:
    """Colour and words of each step, darkest first."""
    named = [f"under {lux(STEPS_LX[0])}", *(f"{low:g}–{high:g}" for low, high in pairwise(STEPS_LX)), f"over {lux(STEPS_LX[-1])}"]
    return list(zip(COLOURS, named, strict=True))


def colour_of(level_lx: float) -> str:
    """Colour of a level, as #rrggbb."""
    return COLOURS[int(np.searchsorted(STEPS_LX, level_lx, side="right"))]
