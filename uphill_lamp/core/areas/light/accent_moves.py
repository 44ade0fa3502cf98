"""Moves for coloured lamps: off the face, or to its sides where that is wanted (docs/method/light.md, "Coloured light")."""

from __future__ import annotations

import math
from collections.abc import Iterator, Set

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.light.catalogue_lamps import MOST_KINDS, lamp_of
from uphill_lamp.core.areas.light.lamp_placing import OFF_WALL_M, aimed_at_face, lamp_patch, lamp_places, over_desk
from uphill_lamp.core.areas.light.lamp_words import stood_anew, stood_words
from uphill_lamp.core.areas.light.measures import COLOURED_SIDES
from uphill_lamp.core.areas.light.rim_moves import off_view
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import add, replace
from uphill_lamp.core.field.camera.spectral_mix import AWAY_FROM_KEY_DEG, SpectralMix
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, LEAST_LX, face_points
from uphill_lamp.core.field.light.radiosity import even_share_per_lm
from uphill_lamp.core.field.light.sources import lamp_source
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import with_all
from uphill_lamp.core.scene.handling import lamp_cautions
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, angle_between_deg, wrapped_deg
from uphill_lamp.core.scene.view import lamp_radius_m
from uphill_lamp.core.scene.wording import the

# Where a coloured lamp is tried, seen from the eyes; of two alike the first wins.
ASIDE_DEG, UP_DEG, AWAY_M = (75, 90, 60, 105), (10, 0, 25), (0.85, 0.6, 1.1, 1.4)
LEAST_DIM, DIM_STEP = 0.05, 0.05
SEEN_SHARE = 0.02  # of the light on the front of the face: a lamp that gives less of it colours nobody
WANTED_STOPS = 1.5


def moves_for(mixture: SpectralMix, wanting: Set[str]) -> Iterator[Move]:
    """What colour, tint and coloured sides want of coloured lamps."""
    if wanting & {"light.colour", "light.tint"}:
        yield from off_the_face(mixture)
    if "light.coloured_sides" in wanting:
        yield from to_the_side(mixture)


def off_the_face(mixture: SpectralMix) -> Iterator[Move]:
    """Each coloured lamp that shines on the face, turned to the wall behind or off."""
    setup = mixture.lit_scene.setup
    for light in colouring(mixture):
        back_deg = round(wrapped_deg(setup.presenter.facing_yaw_deg + 180), 1)
        if light.kind != "bulb" and light.stands not in ("ceiling", "wall"):
            patch = (replace(f"/lights/{light.id}/aim_yaw_deg", back_deg), replace(f"/lights/{light.id}/aim_tilt_deg", 0.0))
            yield Move(f"light.accent_to_wall.{light.id}", f"Turn {the(light.name)} to the wall behind you", patch, FREE,
                       lamp_cautions(light), detail="Its colour then shows behind you and leaves your skin alone.")  # fmt: skip
        yield Move(f"light.accent_off.{light.id}", f"Turn off {the(light.name)}", (replace(f"/lights/{light.id}/on", False),), FREE)


def colouring(mixture: SpectralMix) -> list[Light]:
    """Coloured lamps whose light on the face counts and shows."""
    front = mixture.rows_lx["front"]
    shining = {source.id: float(lx) for source, lx in zip(mixture.lit_scene.sources, front, strict=True)}
    whole = max(float(mixture.lit_scene.whole_by_source_lx[:, 0].sum()), 1e-6)
    return [light for light in mixture.lit_scene.setup.lights if light.accent and shining.get(light.id, 0.0) > SEEN_SHARE * whole]


def to_the_side(mixture: SpectralMix) -> Iterator[Move]:
    """Each coloured lamp that one has, or one of the catalogue, where its light lies a stop and a half under the white at its cheek."""
    setup = mixture.lit_scene.setup
    for light in setup.lights:
        if light.accent and light.owned and light.stands not in ("ceiling", "wall") and (spot := _side_spot(mixture, light)) is not None:
            words = f"{'Move' if light.on else 'Turn on'} {the(light.name)}{'' if light.on else ' and put it'} to the side of your face"
            yield Move(f"light.coloured_side.{light.id}", words, lamp_patch(spot, light), FREE, (*lamp_cautions(light), cautions.CABLES),
                       detail=stood_words(setup, spot), retold=stood_anew(light.id))  # fmt: skip
    for kind in catalogue().cheapest("lamp", MOST_KINDS):
        lamp = lamp_of(kind)
        had = with_all(setup, [kind.entry]) if lamp is not None and lamp.accent else None
        if lamp is None or had is None or any(lamp.id == light.id or lamp.name == light.name for light in setup.lights):
            continue
        if (spot := _side_spot(mixture, lamp)) is not None:
            warned = tuple(dict.fromkeys((*kind.caution_words, *lamp_cautions(lamp), cautions.CABLES)))
            yield Move(f"light.coloured_lamp.{kind.entry}", f"{lamp.name}, at the side of your face",
                       (add("/lights/-", spot.model_dump(mode="json")), *had.patch), had.cost, warned, detail=stood_words(setup, spot),
                       retold=stood_anew(lamp.id))  # fmt: skip


def _side_spot(mixture: SpectralMix, light: Light) -> Light | None:
    """A coloured lamp stood, aimed and dimmed at a side of the face; None where there is no room for it."""
    setup, face = mixture.lit_scene.setup, scene_of(mixture.lit_scene.setup).face
    spots = np.array([(side * aside, up, away) for aside in ASIDE_DEG for side in (1, -1) for away in AWAY_M for up in UP_DEG], float)
    places = lamp_places(face, spots)
    free = ((places > OFF_WALL_M) & (places < room_size(setup.room) - OFF_WALL_M)).all(axis=1)
    free &= off_view(scene_of(setup).pinhole, places, lamp_radius_m(light))
    if light.stands in ("desk", "clamp"):
        free &= over_desk(setup, places)
    if (key := mixture.key_ray) is not None:
        free &= np.array([angle_between_deg(place - face.eyes, key) >= AWAY_FROM_KEY_DEG + 2 for place in places], dtype=bool)
    best: tuple[float, int, float] | None = None
    for index in np.flatnonzero(free):
        stops, dim = _dimmed(mixture, light, places[index], spots[index, 0] > 0)
        if best is None or abs(stops - WANTED_STOPS) < best[0] - 0.05:
            best = abs(stops - WANTED_STOPS), int(index), dim
    if best is None or best[0] > (COLOURED_SIDES.outer_high or 0.0) - WANTED_STOPS:
        return None
    _, first, dim = best
    return aimed_at_face(light, face, places[first]).model_copy(update={"dim": dim})


def _dimmed(mixture: SpectralMix, light: Light, place: Vector, left: bool) -> tuple[float, float]:
    """How far under the white light at its cheek a lamp comes from a place [stops], dimmed to what is wanted as far as it can be, 0-1."""
    setup, face = mixture.lit_scene.setup, scene_of(mixture.lit_scene.setup).face
    source = lamp_source(aimed_at_face(light.model_copy(update={"dim": 1.0}), face, place))
    if source is None:
        return math.inf, 1.0
    cheek = list(FACE_POINTS).index("left_cheek" if left else "right_cheek")
    places, normals = face_points(face)
    given = float(source.illuminance_lx(places[cheek : cheek + 1], normals[cheek : cheek + 1], 4)[0]) + source.flux_lm * even_share_per_lm(
        setup.room
    )
    white = max(float(mixture.plain @ mixture.lit_scene.whole_by_source_lx[:, cheek]), LEAST_LX)
    dim = min(max(round(white / 2**WANTED_STOPS / max(given, 1e-6) / DIM_STEP) * DIM_STEP, LEAST_DIM), 1.0)
    return math.log2(white / max(dim * given, 1e-6)), round(dim, 2)
