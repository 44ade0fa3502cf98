"""Where a lamp serves best: places that stand free, how good the light on the face would be from each, and the best of them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.areas.light.glare import margins_deg
from uphill_lamp.core.areas.light.measures import FROM_ABOVE, GLARE, SIDES, WEIGHTS, level_band
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.response import need_of
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, LEAST_LX, LitScene, face_points, lit_scene_of
from uphill_lamp.core.field.light.radiosity import even_share_per_lm
from uphill_lamp.core.field.light.sources import PointSource, lamp_source
from uphill_lamp.core.judging import Band, harmonic
from uphill_lamp.core.scene.placing import Face, room_size, screen_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, direction, point_at, right_of, unit, yaw_tilt_deg
from uphill_lamp.core.standing.limits import LAMP_OVER_DESK_M, LAMP_REACH_M, OFF_GAZE_DEG

# Where a lamp may be tried, seen from the eyes: angles aside [deg], heights [deg], distances [m]; of two alike the first wins.
ASIDE_DEG = {"even": (15, 25, 35, 0), "filled": (10, 18, 0, 25), "shaped": (45, 35, 25, 18, 12), "dramatic": (70, 55, 40, 28, 85),
             "coloured": (10, 18, 0, 25)}  # fmt: skip
CLEAR_ASIDE_DEG = (45, 55)  # for who wears glasses: further aside a lamp is mirrored past the lens
NAMED_PULL = 0.002  # worth of a lamp's place for each degree nearer the look's first angle
HEIGHT_DEG = (10, 20, 32, 2)  # the last for a lamp that stands on the desk and reaches no higher
DISTANCE_M = (0.5, 0.65, 0.85, 1.1)
ENOUGH_LX, NEXT_TO_ALL = 100.0, 0.9  # on the face once a lamp is off; under that whatever the camera, colour and focus suffer
DIMMED = (1.0, 0.6, 0.35)
OFF_WALL_M = 0.08
_AT = {name: index for index, name in enumerate(FACE_POINTS)}
OVERHEAD_DEG = 50.0  # a source higher than this seen from the eyes counts as overhead


@dataclass(frozen=True)
class Spot:
    """A place for a lamp with what it would give."""

    light: Light
    aside_deg: float
    height_deg: float
    distance_m: float


def overhead(setup: Setup) -> list[Light]:
    """Lamps that are on and shine from above the head."""
    face, lamps = scene_of(setup).face, []
    for light in setup.lights:
        source = lamp_source(light)
        if source is not None:
            _, height_deg = yaw_tilt_deg(source.place - face.eyes)
            if light.stands == "ceiling" or height_deg > OVERHEAD_DEG:
                lamps.append(light)
    return lamps


def can_do_without(lit_scene: LitScene, light: Light) -> bool:
    """Whether the face has light enough with a lamp off, or loses next to none by it: nobody is to be darkened before there is another."""
    front = lit_scene.whole_by_source_lx[:, 0]
    left_lx = float(sum(lx for source, lx in zip(lit_scene.sources, front, strict=True) if source.id != light.id))
    return left_lx >= ENOUGH_LX or left_lx >= NEXT_TO_ALL * float(front.sum())


def face_light_utility(level: Band, sides: Band, face_lx: dict[str, float]) -> float:
    """How good a light on the face is, 0-1: harmonic mean over level, sides and from above, as the score takes it."""
    return float(face_light_utilities(level, sides, np.array([face_lx[name] for name in FACE_POINTS])))


def face_light_utilities(level: Band, sides: Band, lit_lx: NDArray[np.floating[Any]]) -> NDArray[np.floating[Any]]:
    """As ``face_light_utility``, for many lights on FACE_POINTS at once, shape (..., 6) [lx] -> (...)."""
    front, left, right, top = (np.asarray(lit_lx[..., _AT[name]]) for name in ("front", "left_cheek", "right_cheek", "top"))
    ratio = [np.log2(np.maximum(a, LEAST_LX) / np.maximum(b, LEAST_LX)) for a, b in ((left, right), (top, front))]
    judged = (("light.face_level", level, front), ("light.sides", sides, np.abs(ratio[0])), ("light.from_above", FROM_ABOVE, ratio[1]))
    return np.asarray(harmonic((WEIGHTS[name][0], band.utilities(value)) for name, band, value in judged))


def _aside_range(setup: Setup) -> Sequence[float]:
    angles = ASIDE_DEG[setup.preferences.look]
    if setup.presenter.glasses != "none":
        angles += tuple(angle for angle in CLEAR_ASIDE_DEG if angle not in angles)
    return [side * angle for angle in angles for side in ((1, -1) if angle else (1,))]


def lamp_place(face: Face, aside_deg: float, height_deg: float, distance_m: float) -> Vector:
    """A place seen from the eyes: degrees to the presenter's left, degrees up, metres away [m]."""
    return lamp_places(face, np.array([[aside_deg, height_deg, distance_m]]))[0]


def lamp_places(face: Face, spots: NDArray[np.floating[Any]]) -> NDArray[np.floating[Any]]:
    """As ``lamp_place``, for many at once, shape (S, 3) [deg, deg, m] -> (S, 3) [m]."""
    aside, up, away = np.radians(spots[:, :1]), np.radians(spots[:, 1:2]), spots[:, 2:]
    return np.asarray(face.at(away * np.cos(up) * np.cos(aside), away * np.cos(up) * np.sin(aside), away * np.sin(up)))


def _free_places(setup: Setup, face: Face, light: Light) -> list[tuple[float, float, float, Vector]]:
    """Angle aside and height [deg], distance [m] and place of every spot where a lamp may stand.

    Not in a wall, not in the picture, not where the presenter looks, and a desk lamp not out of reach of the desk.
    """
    spots = [(aside, up, away) for aside in _aside_range(setup) for up in HEIGHT_DEG for away in DISTANCE_M]
    places = lamp_places(face, np.array(spots, float))
    free = np.asarray(((places > OFF_WALL_M) & (places < room_size(setup.room) - OFF_WALL_M)).all(axis=1))
    pictured = scene_of(setup).pinhole.project(places)
    free &= ~((pictured > -0.04) & (pictured < 1.04)).all(axis=1)
    rays = (places - face.eyes) / np.linalg.norm(places - face.eyes, axis=1, keepdims=True)
    clear_deg = OFF_GAZE_DEG["soft" if light.diffuser or light.kind in ("panel", "ring") else "bare"]
    for looked_at in _looked_at(setup):
        free &= rays @ unit(looked_at - face.eyes) < math.cos(math.radians(clear_deg))
    if light.stands in ("desk", "clamp"):
        free &= over_desk(setup, places)
    if setup.presenter.glasses != "none" and (clear := free & _clear_of_glasses(setup, face, light, places)).any():
        free = clear
    return [(*spot, place) for spot, place, ok in zip(spots, places, free, strict=True) if ok]


def _clear_of_glasses(setup: Setup, face: Face, light: Light, places: Vector) -> NDArray[np.bool_]:
    """Which places leave a lamp, with its width, clear of being mirrored in the glasses."""
    width_m = light.diffuser.width_m if light.diffuser else light.width_m or 0.0
    half_deg = np.degrees(np.arctan(width_m / 2 / np.linalg.norm(places - face.eyes, axis=1)))
    margins = margins_deg(face, scene_of(setup).lens.place, places)
    return np.asarray(margins >= (GLARE.ideal_low or 0.0) + half_deg / 2)  # the half-way direction turns half as far


def _looked_at(setup: Setup) -> Iterator[Vector]:
    """Where the presenter looks in a call: the lens and the middle of what each screen shows."""
    yield scene_of(setup).lens.place
    yield from (screen_pane(screen).middle for screen in setup.screens if screen.on and screen.kind != "projection")


def over_desk(setup: Setup, places: Vector) -> NDArray[np.bool_]:
    """Which places lie over the desk or an arm's reach of a lamp beside it."""
    desk = setup.desk
    beyond = places - np.array([desk.x_m, desk.y_m, 0.0])
    along, across = beyond @ direction(desk.yaw_deg), beyond @ right_of(desk.yaw_deg)
    near = np.hypot(np.maximum(np.abs(along) - desk.depth_m / 2, 0), np.maximum(np.abs(across) - desk.width_m / 2, 0)) < LAMP_REACH_M
    return np.asarray(near & (places[:, 2] > desk.height_m + 0.1) & (places[:, 2] <= desk.height_m + LAMP_OVER_DESK_M))


def aimed_at_face(light: Light, face: Face, place: Vector) -> Light:
    """A lamp put to a place and turned to the face."""
    yaw_deg, tilt_deg = yaw_tilt_deg(face.eyes - place)
    position = point_at(np.round(place, 3))
    return light.model_copy(update={"position": position, "aim_yaw_deg": round(yaw_deg, 1), "aim_tilt_deg": round(tilt_deg, 1), "on": True})


def best_spot(lit_scene: LitScene, light: Light, without: Sequence[str] = ()) -> Spot | None:
    """The best place, aim and dimming of a lamp for the look wanted, among those that stand free; None if none does.

    Args:
        falling: the light as it is.
        light: the lamp to place.
        without: ids of other lamps to be taken as off.
    """
    setup = lit_scene.setup
    face, (places, normals) = scene_of(setup).face, face_points(scene_of(setup).face)
    others = [source for source in lit_scene.sources if source.id != light.id and source.id not in without]
    base_lx = np.array(list(lit_scene_of(setup, others).face_lx.values()))
    share, sides = even_share_per_lm(setup.room), SIDES[setup.preferences.look]
    level = level_band(need_of(setup))
    free = _free_places(setup, face, light)
    if not free or light.flux_lm <= 0:
        return None
    given, flux_lm = _given_lx(light, face, np.array([place for *_, place in free]), places, normals)
    named_deg = ASIDE_DEG[setup.preferences.look][0]
    # Nearer leaves less light on the wall; of angles that do as well the one the look is named for.
    drawback = np.array([0.002 * distance_m + NAMED_PULL * abs(abs(aside_deg) - named_deg) for aside_deg, _, distance_m, _ in free])
    values = (
        face_light_utilities(level, sides, base_lx + np.array(DIMMED)[:, None] * (given + flux_lm * share)[:, None]) - drawback[:, None]
    )
    first, step = np.unravel_index(int(np.argmax(values)), values.shape)
    aside_deg, height_deg, distance_m, place = free[int(first)]
    stood = aimed_at_face(light, face, place).model_copy(update={"dim": DIMMED[int(step)]})
    return Spot(stood, aside_deg, height_deg, distance_m)


def _given_lx(light: Light, face: Face, spots: Vector, places: Vector, normals: Vector) -> tuple[NDArray[np.floating[Any]], float]:
    """What a lamp gives, at full power, from each of some spots, aimed at the eyes.

    Args:
        spots: shape (S, 3) [m].
        places, normals: small surfaces, shapes (P, 3) [m] and (P, 3).

    Returns:
        illuminance (S, P) [lx] and the lamp's flux [lm].
    """
    source = lamp_source(aimed_at_face(light.model_copy(update={"dim": 1.0}), face, spots[0]))
    if source is None:
        return np.zeros((len(spots), len(places))), 0.0
    if isinstance(source, PointSource) and source.photometry is not None:
        trials = (lamp_source(aimed_at_face(light.model_copy(update={"dim": 1.0}), face, spot)) for spot in spots)
        return np.array([trial.illuminance_lx(places, normals, 4) for trial in trials if trial is not None]), source.flux_lm
    aims = (face.eyes - spots) / np.linalg.norm(face.eyes - spots, axis=1, keepdims=True)
    return source.from_spots_lx(spots, aims, places, normals), source.flux_lm


def lamp_patch(light: Light, before: Light) -> Patch:
    """What changes where a lamp is put, aimed, switched and dimmed."""
    root, was, now = f"/lights/{light.id}", before.model_dump(mode="json"), light.model_dump(mode="json")
    fields = ["aim_yaw_deg", "aim_tilt_deg", "on", "dim"]
    changes = [replace(f"{root}/{field}", now[field]) for field in fields if now[field] != was[field]]
    places = [replace(f"{root}/position/{axis}", value) for axis, value in now["position"].items() if value != was["position"][axis]]
    return (*places, *changes)
