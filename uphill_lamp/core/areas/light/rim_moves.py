"""Moves that put a lamp above and behind: a rim of light on hair and shoulders (docs/method/light.md, "Rim light")."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.light.catalogue_lamps import MOST_KINDS, lamp_of
from uphill_lamp.core.areas.light.lamp_moves import own_lamps
from uphill_lamp.core.areas.light.lamp_placing import DIMMED, OFF_WALL_M, lamp_patch
from uphill_lamp.core.areas.light.measures import RIM, stops
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import Patch, add
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, LitScene, face_points, lit_scene_of
from uphill_lamp.core.field.light.radiosity import even_share_per_lm
from uphill_lamp.core.field.light.rim import rim_lx, rim_points
from uphill_lamp.core.field.light.sources import lamp_source
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import with_all
from uphill_lamp.core.scene.handling import lamp_cautions
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, point_at, yaw_tilt_deg
from uphill_lamp.core.scene.view import lamp_radius_m
from uphill_lamp.core.scene.wording import Units, length, the

# Where a lamp may stand behind, from the eyes [m]: back, to a side, up; of two alike the first wins. Its stem must not be in the picture either.
BACK_M = (0.7, 0.5, 0.9, 1.2, 1.5)
ASIDE_M = (0.5, 0.65, 0.8, 0.95, 1.1, 1.3, 1.5)
UP_M = (0.5, 0.7, 0.35, 0.9)
FROM_ASIDE_STOPS = 0.5  # what it counts against a place for each time it is further aside than back: from there it lights the wall as well
HIGHEST_M = 2.1  # of a floor lamp's head
OFF_VIEW_DEG = 5.0  # nearer to the edge of the picture its light falls into the lens
MOST_OF_FACE = 0.2  # of the light on the face: a lamp that gives more stays where it is


@dataclass(frozen=True, slots=True)
class Stood:
    """A lamp behind, and where that is."""

    light: Light
    back_m: float
    aside_m: float
    up_m: float

    def words(self, units: Units) -> str:
        """Where it goes, in words."""
        side = "left" if self.aside_m > 0 else "right"
        power = "" if self.light.dim == 1 else f", dimmed to {self.light.dim * 100:.0f} %"
        back, aside, up = (length(metres, units) for metres in (self.back_m, abs(self.aside_m), self.up_m))
        return f"{back} behind your eyes, {aside} to your {side}, {up} above your eyes, stand and all out of the picture{power}."


def rim_lights(lit_scene: LitScene) -> Iterator[Move]:
    """A floor lamp that the face can spare, or one of the catalogue, above and behind."""
    setup, units = lit_scene.setup, lit_scene.setup.preferences.units
    if rim_lx(lit_scene) > lit_scene.face_lx["front"]:
        return  # too much of it is not mended by more
    front = lit_scene.whole_by_source_lx[:, 0]
    ids = [source.id for source in lit_scene.sources]
    for light in own_lamps(setup):
        gives = float(front[ids.index(light.id)]) if light.id in ids else 0.0
        if light.stands != "floor" or gives > MOST_OF_FACE * float(front.sum()):
            continue
        if (stood := _best(lit_scene, light)) is not None:
            yield Move(f"light.rim.{light.id}", _title(light.name, light.on), lamp_patch(stood.light, light), FREE,
                       (*lamp_cautions(light), cautions.CABLES), detail=stood.words(units))  # fmt: skip
    for kind in catalogue().cheapest("lamp", MOST_KINDS):
        lamp = lamp_of(kind)
        fits = lamp is not None and lamp.stands == "floor" and not lamp.accent and kind.number("count", 1) == 1
        had = with_all(setup, [kind.entry]) if fits else None
        if lamp is None or had is None or any(lamp.id == light.id or lamp.name == light.name for light in setup.lights):
            continue
        if (stood := _best(lit_scene, lamp)) is not None:
            patch: Patch = (add("/lights/-", stood.light.model_dump(mode="json")), *had.patch)
            warned = tuple(dict.fromkeys((*kind.caution_words, *lamp_cautions(lamp), cautions.CABLES)))
            yield Move(f"light.rim_lamp.{kind.entry}", f"{lamp.name}, behind you", patch, had.cost, warned, detail=stood.words(units))


def _title(name: str, is_on: bool) -> str:
    return f"{'Put' if is_on else 'Turn on'} {the(name)}{'' if is_on else ' and put it'} behind you, aimed at your hair and shoulders"


def _best(lit_scene: LitScene, light: Light) -> Stood | None:
    """The place and dimming that come nearest to the middle of what the look wants; None where none is out of view and in the room."""
    setup, face = lit_scene.setup, scene_of(lit_scene.setup).face
    spots = np.array([(-back, side * aside, up) for aside in ASIDE_M for side in (1, -1) for back in BACK_M for up in UP_M])
    places = np.asarray(face.at(*(spots[:, [axis]] for axis in range(3))))
    free = ((places > OFF_WALL_M) & (places < room_size(setup.room) - OFF_WALL_M)).all(axis=1) & (places[:, 2] <= HIGHEST_M)
    free &= off_view(scene_of(setup).pinhole, places, lamp_radius_m(light))
    if not free.any() or light.flux_lm <= 0:
        return None
    spots, places = spots[free], places[free]
    others = [source for source in lit_scene.sources if source.id != light.id]
    without = lit_scene_of(setup, others)
    given = np.array([_given_lx(light, place, lit_scene) for place in places])
    spread = light.flux_lm * even_share_per_lm(setup.room)
    band = RIM[setup.preferences.look]
    middle = ((band.ideal_low or 0.0) + (band.ideal_high or 0.0)) / 2
    best: tuple[float, int, float] | None = None
    for dim in DIMMED:
        for index, (on_rim, on_front) in enumerate(given):
            level = stops(rim_lx(without) + dim * (on_rim + spread), without.face_lx["front"] + dim * (on_front + spread))
            worth = abs(level - middle) + FROM_ASIDE_STOPS * max(abs(spots[index, 1]) / -spots[index, 0] - 1.0, 0.0)
            if best is None or worth < best[0] - 0.02:
                best = worth, index, dim
    assert best is not None
    _, index, dim = best
    stood = _aimed(light, places[index], lit_scene).model_copy(update={"dim": dim})
    return Stood(stood, -float(spots[index, 0]), float(spots[index, 1]), float(spots[index, 2]))


def off_view(pinhole: Pinhole, places: Vector, radius_m: float) -> NDArray[np.bool_]:
    """Which places, shape (N, 3) [m], lie further than OFF_VIEW_DEG to a side of the picture, with a lamp's breadth: so does the stem
    that carries it, which over the picture's upper edge would not."""
    beyond = places - pinhole.place
    half_deg = np.degrees(np.arcsin(np.minimum(radius_m / np.maximum(np.linalg.norm(beyond, axis=1), 1e-6), 1.0)))
    across_deg = np.degrees(np.arctan2(np.abs(beyond @ pinhole.right), beyond @ pinhole.forward))
    return np.asarray(across_deg > pinhole.field.horizontal_deg / 2 + OFF_VIEW_DEG + half_deg)


def _aimed(light: Light, place: Vector, lit_scene: LitScene) -> Light:
    """A lamp at a place, at full power, turned to the back of hair and shoulders."""
    points, _ = rim_points(scene_of(lit_scene.setup).face)
    yaw_deg, tilt_deg = yaw_tilt_deg(points.mean(axis=0) - place)
    aim = {"aim_yaw_deg": round(yaw_deg, 1), "aim_tilt_deg": round(tilt_deg, 1)}
    return light.model_copy(update={"position": point_at(np.round(place, 3)), **aim, "on": True, "dim": 1.0})


def _given_lx(light: Light, place: Vector, lit_scene: LitScene) -> tuple[float, float]:
    """What a lamp gives at full power from a place, on hair and shoulders and on the front of the face [lx]."""
    source, face = lamp_source(_aimed(light, place, lit_scene)), scene_of(lit_scene.setup).face
    if source is None:
        return 0.0, 0.0
    places, normals = face_points(face)
    front = list(FACE_POINTS).index("front")
    return (
        float(source.illuminance_lx(*rim_points(face), 4).mean()),
        float(source.illuminance_lx(places[front : front + 1], normals[front : front + 1], 4)[0]),
    )
