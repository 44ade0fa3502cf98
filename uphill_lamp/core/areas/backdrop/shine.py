"""Points of light on the presenter: skin that shines, metal that glints (docs/method/backdrop.md)."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.patch import remove, replace
from uphill_lamp.core.document.people import Garment
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.lit_scene import main_source
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.judging import Finding, Move
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, angle_between_deg, unit
from uphill_lamp.core.scene.wording import sentence, the
from uphill_lamp.core.scene.worn import jewellery, places_of

HARD_DEG, MIRRORED_DEG = 8.0, 35.0  # a source so small, so near the mirror direction, draws a point of light on skin
GLINT_DEG, GLINT_LX = 5.0, 100.0  # and one so small that gives so much, on metal
SUN_DEG = 0.53
_HIGH = math.radians(50)
# Brow, and the scalp where there is no hair: place (forward, left, up of the eyes) [m], normal in the same axes.
BROW = ((0.0, 0.0, 0.045), (math.cos(math.radians(20)), 0.0, math.sin(math.radians(20))))
SCALP = ((-0.03, 0.0, 0.10), (math.cos(_HIGH), 0.0, math.sin(_HIGH)))


def width_deg(source: Source, place: FloatArray) -> float:
    """How large a source looks from a place, as the side of a square or across a ball [deg]."""
    if isinstance(source, SunBeam):
        return SUN_DEG
    away_m = max(float(np.linalg.norm(source.place - place)), 1e-3)
    side_m = math.sqrt(source.pane.width_m * source.pane.height_m) if isinstance(source, AreaSource) else 2 * source.radius_m
    return math.degrees(2 * math.atan(side_m / 2 / away_m))


def shining(setup: Setup, lit_scene: Any) -> Source | None:
    """The hard main source that brow or scalp mirrors to the lens; None where skin is matt or none does.

    Args:
        lit_scene: the lit field of the setup.
    """
    source = None if setup.presenter.skin_matt else main_source(lit_scene)
    if source is None:
        return None
    face, lens = scene_of(setup).face, scene_of(setup).pinhole.place
    frame = np.array([face.forward, face.left, UP])
    for spot, normal in (BROW, *((SCALP,) if setup.presenter.hair == "none" else ())):
        place, out = face.at(*spot), np.array(normal) @ frame
        towards = unit(lens - place)
        mirrored = 2 * float(towards @ out) * out - towards
        light = source.towards if isinstance(source, SunBeam) else source.place - place
        if width_deg(source, place) < HARD_DEG and float(light @ out) > 0 and angle_between_deg(mirrored, light) <= MIRRORED_DEG:
            return source
    return None


def glinting(setup: Setup, lit_scene: Any) -> Garment | None:
    """The first piece of jewellery in the picture that a small bright source makes a spark of.

    Args:
        lit_scene: the lit field of the setup.
    """
    pinhole, face = scene_of(setup).pinhole, scene_of(setup).face
    for piece in jewellery(setup):
        for place in places_of(setup, piece):
            spot = pinhole.project(place)
            if np.isnan(spot).any() or not bool(((spot > 0) & (spot < 1)).all()):
                continue
            if any(is_spark(source, place, face.forward) for source in lit_scene.sources):
                return piece
    return None


def is_spark(source: Source, place: FloatArray, forward: FloatArray) -> bool:
    """Whether a source makes a spark of metal at a place, shape (3,) [m], that looks forward: small, and bright there."""
    return width_deg(source, place) < GLINT_DEG and float(source.illuminance_lx(place[None], forward[None])[0]) >= GLINT_LX


def findings(setup: Setup, lit_scene: Any) -> Iterator[Finding]:
    """What sparkles on the presenter; no score holds it."""
    source = shining(setup, lit_scene)
    if source is not None:
        lamps = {light.id: light.name for light in setup.lights}
        name = the(lamps[source.id]) if source.id in lamps else "the light"
        why = f"{sentence(name)} is small, and your forehead mirrors it to the lens. A larger or higher light does it less."
        yield Finding("backdrop.shine", "backdrop", "Your forehead shines", why, (), severity="slight")
    piece = glinting(setup, lit_scene)
    if piece is not None:
        why = "A small bright light on metal is a spark, and sparks draw the eye."
        yield Finding("backdrop.glint", "backdrop", f"{sentence(the(piece.name))} glints", why, (), severity="slight")


def blotted(setup: Setup) -> Iterator[Move]:
    """Forehead and nose blotted."""
    yield Move("backdrop.blot", "Blot your forehead and nose, or powder them", (replace("/presenter/skin_matt", True),))


def off(setup: Setup, lit_scene: Any) -> Iterator[Move]:
    """What glints, off."""
    piece = glinting(setup, lit_scene)
    if piece is not None:
        yield Move(f"backdrop.jewellery_off.{piece.id}", f"Take {the(piece.name)} off", (remove(f"/presenter/clothing/{piece.id}"),))
