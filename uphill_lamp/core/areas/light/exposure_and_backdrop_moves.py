"""Moves for the picture's balance: exposure locked on the face, light on the backdrop or off it."""

from __future__ import annotations

from collections.abc import Iterator, Set

import numpy as np

from uphill_lamp.core.areas.light.lamp_placing import lamp_patch, overhead
from uphill_lamp.core.areas.light.measures import SEPARATION
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.metering import Metered, meter
from uphill_lamp.core.field.light.lit_scene import LEAST_LX, LitScene, lit_scene_of
from uphill_lamp.core.field.light.sources import lamp_source
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.scene.handling import lamp_cautions
from uphill_lamp.core.scene.placing import room_size, wall_behind_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector, point_at, yaw_tilt_deg
from uphill_lamp.core.scene.wording import length, lux, the

WANTED_STOPS = -1.2  # behind against the face: well within the band from either side
OFF_WALL_M = 0.15
ASIDE_M = (0.7, 1.0, 1.3, 1.7, 2.1)
DIMMED = (1.0, 0.5, 0.25)
MOST_OF_FACE = 0.4  # a lamp that gives the face more than this share stays with the face
MUCH_BEHIND = 0.3
LEAST_DIM = 0.1


def moves_for(lit_scene: LitScene, metered: Metered, wanting: Set[str]) -> Iterator[Move]:
    """What exposure and separation want."""
    setup = lit_scene.setup
    if wanting & {"light.exposure", "light.burnt_out"}:
        yield from locked(lit_scene, metered)
    if "light.separation" in wanting and metered.behind_stops is not None:
        assert SEPARATION.ideal_low is not None and SEPARATION.ideal_high is not None
        if metered.behind_stops < SEPARATION.ideal_low:
            yield from backdrop_lit(setup, lit_scene)
        else:
            yield from backdrop_dimmed(setup, lit_scene, metered)


def locked(lit_scene: LitScene, metered: Metered) -> Iterator[Move]:
    """Exposure locked at the light on the face."""
    camera = lit_scene.setup.main_camera
    level_lx = float(f"{max(lit_scene.face_lx['front'], LEAST_LX):.3g}")
    if abs(metered.error_stops) < 0.5:
        return
    root = f"/cameras/{camera.id}"
    patch = (replace(f"{root}/metering", "locked"), replace(f"{root}/locked_exposure_lx", level_lx))
    yield Move("light.lock_exposure", "Lock the camera's exposure on your face", patch, FREE,
               detail=f"In its settings, with your face large in front of the lens; {lux(level_lx)} falls on it. What is brighter behind you turns white.",
               promises=(("light.exposure", 0.0),))  # fmt: skip


def _shares(lit_scene: LitScene, metered: Metered, light: Light) -> tuple[float, float]:
    """How much of the light on the face, and of that behind, a lamp gives, 0-1."""
    ids = [source.id for source in lit_scene.sources]
    if light.id not in ids or len(metered.behind_lx) != len(ids):
        return 0.0, 0.0
    at, front, behind = ids.index(light.id), lit_scene.whole_by_source_lx[:, 0], np.array(metered.behind_lx)
    return float(front[at] / max(front.sum(), LEAST_LX)), float(behind[at] / max(behind.sum(), LEAST_LX))


def backdrop_dimmed(setup: Setup, lit_scene: LitScene, metered: Metered) -> Iterator[Move]:
    """Each lamp that lights the backdrop more than the face, turned down or off."""
    assert metered.behind_stops is not None
    above = overhead(setup)  # seldom on a dimmer, and offered off by themselves
    for light in setup.lights:
        on_face, behind = _shares(lit_scene, metered, light)
        if not light.on or light in above or behind < MUCH_BEHIND or on_face > MOST_OF_FACE:
            continue
        dim = light.dim * float(2 ** (WANTED_STOPS - metered.behind_stops))
        if dim < LEAST_DIM:
            yield Move(
                f"light.off_behind.{light.id}",
                f"Turn off {the(light.name)}, which lights the wall behind you",
                (replace(f"/lights/{light.id}/on", False),),
            )
        else:
            title = f"Dim {the(light.name)} to {100 * dim:.0f} %"
            yield Move(
                f"light.dim_behind.{light.id}",
                title,
                (replace(f"/lights/{light.id}/dim", round(dim, 2)),),
                detail="It lights the wall behind you.",
            )


def backdrop_lit(setup: Setup, lit_scene: LitScene) -> Iterator[Move]:
    """Each lamp that the face can spare, put out of the picture beside the backdrop and turned to it."""
    metered = meter(lit_scene)
    for light in setup.lights:
        if light.stands in ("ceiling", "wall") or not light.owned or light.accent or light.flux_lm <= 0:
            continue
        if _shares(lit_scene, metered, light)[0] > MOST_OF_FACE:
            continue
        place = _beside_backdrop(setup)
        if place is None:
            return
        best = min((_turned(setup, light, place, dim) for dim in DIMMED), key=lambda lamp: _off(lit_scene, lamp))
        words = length(float(np.linalg.norm((place - scene_of(setup).face.eyes)[:2])), setup.preferences.units)
        power = "" if best.dim == 1 else f", dimmed to {100 * best.dim:.0f} %"
        title = f"Light the wall behind you with {the(light.name)}"
        yield Move(f"light.light_backdrop.{light.id}", title, lamp_patch(best, light), FREE, lamp_cautions(light),
                   detail=f"{words} behind you, out of the picture{power}.")  # fmt: skip


def _beside_backdrop(setup: Setup) -> Vector | None:
    """A place near the wall behind, just out of the picture [m]; None if there is none."""
    face, size, pinhole = scene_of(setup).face, room_size(setup.room), scene_of(setup).pinhole
    back_m = max(wall_behind_m(setup, face.eyes, -face.forward) - 0.4, 0.3)
    for aside_m in ASIDE_M:
        for side in (1, -1):
            place = face.at(-back_m, side * aside_m, -0.3)
            pictured = pinhole.project(place)
            if (place > OFF_WALL_M).all() and (place < size - OFF_WALL_M).all() and not ((pictured > -0.03) & (pictured < 1.03)).all():
                return np.asarray(place)
    return None


def _turned(setup: Setup, light: Light, place: Vector, dim: float) -> Light:
    face = scene_of(setup).face
    behind = face.eyes - wall_behind_m(setup, face.eyes, -face.forward) * face.forward + 0.1 * UP
    yaw_deg, tilt_deg = yaw_tilt_deg(behind - place)
    where = {"position": point_at(np.round(place, 3)), "aim_yaw_deg": round(yaw_deg, 1), "aim_tilt_deg": round(tilt_deg, 1)}
    return light.model_copy(update=where | {"on": True, "dim": dim})


def _off(lit_scene: LitScene, lamp: Light) -> float:
    """How far the backdrop would be from what is wanted [stops]."""
    source = lamp_source(lamp)
    others = [source for source in lit_scene.sources if source.id != lamp.id]
    behind = meter(lit_scene_of(lit_scene.setup, [*others, source] if source else others)).behind_stops
    return abs((behind if behind is not None else -9.0) - WANTED_STOPS)
