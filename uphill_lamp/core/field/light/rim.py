"""Light on hair and shoulders from behind, which sets a person off from what is behind them (docs/method/light.md, "Rim light")."""

from __future__ import annotations

from functools import partial
from typing import Any

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.field.light.windows import Source
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP

BACK_M, SHOULDER_BACK_M, SHOULDER_ASIDE = 0.165, 0.155, 0.6  # behind the eyes; share of half the shoulders' breadth
HAIR_UP_M = 0.06
FINENESS = 4
MOST_SEEN, MOST_DIRECT = 24, 128
_seen: LockedLru[tuple[float, ...], FloatArray] = LockedLru(MOST_SEEN)
_direct: LockedLru[tuple[Any, ...], float] = LockedLru(MOST_DIRECT)


def rim_points(face: Face) -> tuple[FloatArray, FloatArray]:
    """Places at the back of the hair and of both shoulders [m], and their normals, back and up alike; both of shape (3, 3)."""
    head = face.presenter.head
    aside, down = SHOULDER_ASIDE * head.shoulders_m / 2, -head.eyes_to_shoulders_m
    places = np.array([(-BACK_M, 0.0, HAIR_UP_M), (-SHOULDER_BACK_M, aside, down), (-SHOULDER_BACK_M, -aside, down)])
    frame = np.array([face.forward, face.left, UP])
    return places @ frame + face.eyes, np.repeat((UP - face.forward)[None] / np.sqrt(2), 3, axis=0)


def rim_lx(lit_scene: LitScene) -> float:
    """Mean illuminance of hair and shoulders from behind, reflections included [lx]. The desk lies before them and shadows nothing."""
    return lit_scene.once("rim", lambda: _rim_lx(lit_scene))


def _rim_lx(lit_scene: LitScene) -> float:
    if not lit_scene.sources:
        return 0.0
    face, enclosure = scene_of(lit_scene.setup).face, lit_scene.enclosure
    places, normals = rim_points(face)
    head = (*face.eyes.tolist(), *face.forward.tolist(), face.presenter.head.shoulders_m, face.presenter.head.eyes_to_shoulders_m)
    key = (*enclosure.patches.size.tolist(), *head, *lit_scene.board.key)
    seen = _seen.get_or_compute(key, lambda: enclosure.roughly_seen_from(places, normals).mean(axis=0))
    direct = sum(
        _direct.get_or_compute((source.shape, *head), partial(_direct_lx, source, places, normals)) * source.strength
        for source in lit_scene.sources
    )
    return float(seen @ lit_scene.sent_by_source.sum(axis=1) + direct)


def _direct_lx(source: Source, places: FloatArray, normals: FloatArray) -> float:
    return float(source.unit.illuminance_lx(places, normals, FINENESS).mean())
