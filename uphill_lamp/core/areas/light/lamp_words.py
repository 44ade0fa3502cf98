"""What a step does with a lamp and its light, in words; told anew of the room as other steps have left it."""

from __future__ import annotations

import math

from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.judging import Retold
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, vector
from uphill_lamp.core.scene.wording import degrees, length, lux, the

AIMED_WORDS = " and aim it at your face"
OVERHEAD_WORDS = ", and turn the overhead light off"


def place_words(light: Light) -> str:
    """What is done with a lamp, in words."""
    lamp = the(light.name)
    return f"{f'Move {lamp}' if light.on else f'Turn on {lamp}, move it'}{AIMED_WORDS}"


def stood_words(setup: Setup, light: Light) -> str:
    """Where a lamp stands, seen from the face, and how far it is dimmed."""
    face, units = scene_of(setup).face, setup.preferences.units
    beyond = vector(light.position) - face.eyes
    aside = degrees(abs(aside_deg := math.degrees(math.atan2(float(beyond @ face.left), float(beyond @ face.forward)))))
    side = "Straight ahead" if abs(aside_deg) < 0.5 else f"{aside} to your {'left' if aside_deg > 0 else 'right'}"
    up_m = float(beyond @ UP)
    away, up = length(float(math.hypot(*beyond)), units), length(abs(up_m), units)
    power = "" if light.dim == 1 else f", dimmed to {light.dim * 100:.0f} %"
    return f"{side}, {away} from your face, {up} {'above' if up_m >= 0 else 'below'} your eyes{power}."


def level_words(level_lx: float) -> str:
    """What the face gets by way of a wall."""
    return f"Your face then gets {lux(level_lx)}, soft as the wall is large."


def stood_anew(lamp_id: str, basis: str = "") -> Retold:
    """Where a lamp stands once a step is done, after what else is told of it."""

    def told_of(before: Setup, after: Setup) -> tuple[str, ...]:
        return (basis, *(stood_words(after, light) for light in after.lights if light.id == lamp_id))

    return told_of


def lit_anew(basis: str = "") -> Retold:
    """What the face gets by way of a wall once a step is done."""
    return lambda before, after: (basis, level_words(lit_scene_of(after).face_lx["front"]))
