"""Lines of sight: what dazzles, what stands in their way, what is seen in the picture."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import Pane, microphone_place, reflector_pane, screen_backs
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.sun import sun_position_deg
from uphill_lamp.core.scene.vectors import Vector, direction, unit, vector
from uphill_lamp.core.scene.view import lamp_radius_m
from uphill_lamp.core.standing import limits

BARE_M, MICROPHONE_M = 0.06, 0.03  # half the breadth of a lamp's head, and of a microphone
DIFFUSER_AHEAD_M = 0.15  # paper hangs so far before a lamp
RING_HOLE = 0.7  # inner by outer diameter of a ring
CORNERS = ((0.5, 0.5), (0.15, 0.15), (0.85, 0.15), (0.15, 0.85), (0.85, 0.85))
NEAR_LENS_DEG = 14.0
BESIDE_M = 0.02
RAYS_ACROSS, RAYS_DOWN = 16, 9  # over the picture, to tell how much of it a screen hides
HUNG_AHEAD, AHEAD = ("duvet", "heavy_curtain"), 0.7  # what is hung before one, and the cosine within which that is


def _lamps(setup: Setup) -> list[Light]:
    return [light for light in setup.lights if light.on and light.dim > 0 and light.stands in ("desk", "clamp", "floor")]


def _screens(setup: Setup) -> Iterator[Pane]:
    """What the presenter looks at; a phone or tablet that films is looked past."""
    panes = scene_of(setup).screens
    return (panes[screen.id] for screen in setup.screens if screen.on and screen.kind != "projection")


def is_soft(light: Light) -> bool:
    """Whether a lamp is broad enough to be looked at more nearly."""
    return light.diffuser is not None or light.kind in ("panel", "ring")


def luminance_cd_m2(light: Light) -> float:
    """Mean luminance of what shines [cd/m2]: flux by pi and area; of a bare bulb or cone as of a head 6 cm wide."""
    if light.diffuser is not None and light.diffuser.around:  # a ball has four times the area that is seen of it
        area, flux_lm = 4 * math.pi * lamp_radius_m(light) ** 2, light.flux_lm * light.diffuser.transmittance
    elif light.diffuser is not None:
        area, flux_lm = light.diffuser.width_m * light.diffuser.height_m, light.flux_lm * light.diffuser.transmittance
    elif light.kind == "ring" and light.width_m:
        area, flux_lm = math.pi / 4 * light.width_m**2 * (1 - RING_HOLE**2), light.flux_lm
    else:
        area, flux_lm = (light.width_m or 2 * BARE_M) * (light.height_m or 2 * BARE_M), light.flux_lm
    return flux_lm * light.dim / (math.pi * max(area, 1e-4))


def dazzling(setup: Setup) -> Iterator[str]:
    """Ids of lamps that shine from too near a line of sight to a screen or the lens."""
    scene = scene_of(setup)
    eyes, lens = scene.face.eyes, unit(scene.lens.place - scene.face.eyes)
    targets = [unit(pane.middle - eyes) for pane in _screens(setup)]
    for light in _lamps(setup):
        towards = unit(vector(light.position) - eyes)
        limit = math.cos(math.radians(limits.OFF_GAZE_DEG["soft" if is_soft(light) else "bare"]))
        round_lens = is_soft(light) and luminance_cd_m2(light) <= limits.LENS_LAMP_CD_M2 and setup.presenter.glasses == "none"
        if (any(float(towards @ target) > limit for target in targets) and not (round_lens and float(towards @ lens) > limit)) or (
            float(towards @ lens) > limit and not round_lens
        ):
            yield light.id


def _bodies(light: Light) -> Iterator[tuple[Vector, float]]:
    """Balls that a lamp's head and its paper fill, middle [m] and half breadth [m]; the hole of a ring is no body."""
    place = vector(light.position)
    if light.kind != "ring":
        yield place, max(light.width_m or 0.0, light.height_m or 0.0, 2 * BARE_M) / 2
    if light.diffuser is not None and light.diffuser.around:
        yield place, max(light.diffuser.width_m, light.diffuser.height_m) / 2
    elif light.diffuser is not None:
        ahead = DIFFUSER_AHEAD_M * direction(light.aim_yaw_deg, light.aim_tilt_deg)
        yield place + ahead, max(light.diffuser.width_m, light.diffuser.height_m) / 2


def _lines(setup: Setup) -> list[tuple[Vector, Vector]]:
    """Lines of sight: from the eyes to each screen's middle and corners, from the lens to eyes, chin and crown."""
    face, lens = scene_of(setup).face, scene_of(setup).lens.place
    lines = [(face.eyes, pane.at(*corner)) for pane in _screens(setup) for corner in CORNERS]
    return [*lines, *((lens, place) for place in (face.eyes, face.chin, face.crown))]


def _crossed(lines: list[tuple[Vector, Vector]], middle: Vector, half_m: float) -> bool:
    begin, along = np.array([line[0] for line in lines]), np.array([line[1] - line[0] for line in lines])
    share = ((middle - begin) * along).sum(axis=1) / np.maximum((along * along).sum(axis=1), 1e-9)
    away = np.linalg.norm(begin + np.clip(share, 0.03, 0.97)[:, None] * along - middle, axis=1)
    return bool(((share > 0.03) & (share < 0.97) & (away < half_m - BESIDE_M)).any())


def blocked_by_lamps(setup: Setup) -> Iterator[str]:
    """Ids of lamps whose head or paper hangs between lens and face, or between the eyes and a screen."""
    lamps = _lamps(setup)
    lines = _lines(setup) if lamps else []
    yield from (light.id for light in lamps if any(_crossed(lines, *body) for body in _bodies(light)))


def blocked_by_microphones(setup: Setup) -> Iterator[str]:
    """Ids of microphones in use that stand between lens and face."""
    for microphone in setup.microphones:
        if microphone.in_use and microphone.at == "room" and in_way_of_face(setup, microphone_place(setup, microphone)):
            yield microphone.id


def in_way_of_face(setup: Setup, place: Vector) -> bool:
    """Whether a microphone at a place hides part of the face from the lens."""
    face, lens = scene_of(setup).face, scene_of(setup).lens.place
    return _crossed([(lens, spot) for spot in (face.eyes, face.lips, face.chin)], place, MICROPHONE_M + BESIDE_M)


def blocked_by_sheets(setup: Setup) -> Iterator[str]:
    """Ids of white sheets that hang in a line of sight."""
    lines = _lines(setup) if setup.reflectors else []
    for sheet in setup.reflectors:
        pane = reflector_pane(sheet)
        for begin, end in lines:
            along = end - begin
            slope = float(along @ pane.normal)
            share = float((pane.middle - begin) @ pane.normal) / slope if abs(slope) > 1e-9 else -1.0
            met = begin + share * along - pane.middle
            if 0.03 < share < 0.97 and abs(float(met @ pane.right)) < pane.width_m / 2 and abs(float(met @ pane.up)) < pane.height_m / 2:
                yield sheet.id
                break


def pictured(setup: Setup) -> Iterator[str]:
    """Ids of lamps that are seen in the picture before the presenter."""
    pinhole, face = scene_of(setup).pinhole, scene_of(setup).face
    far = float(np.linalg.norm(face.eyes - pinhole.place))
    for light in _lamps(setup):
        place = vector(light.position)
        spot = pinhole.project(place)
        if light.kind != "ring" and bool(((spot > 0) & (spot < 1)).all()) and float(np.linalg.norm(place - pinhole.place)) < far:
            yield light.id


def blocked_by_screens(setup: Setup) -> Iterator[str]:
    """Ids of screens whose backs hide more of the picture than may be, before the presenter: a lens behind a raised lid sees the lid."""
    pinhole, face = scene_of(setup).pinhole, scene_of(setup).face
    backs = screen_backs(setup, pinhole.place)
    if not backs:
        return
    across, down = np.meshgrid((np.arange(RAYS_ACROSS) + 0.5) / RAYS_ACROSS, (np.arange(RAYS_DOWN) + 0.5) / RAYS_DOWN)
    rays, far = pinhole.ray(across.ravel(), down.ravel()), float(np.linalg.norm(face.eyes - pinhole.place))
    for name, pane in backs:
        slope = rays @ pane.normal
        reach = float((pane.middle - pinhole.place) @ pane.normal) / np.where(np.abs(slope) > 1e-9, slope, np.inf)
        on = pinhole.place + reach[:, None] * rays - pane.middle
        hidden = (np.abs(on @ pane.right) < pane.width_m / 2) & (np.abs(on @ pane.up) < pane.height_m / 2) & (reach > 1e-3) & (reach < far)
        if float(hidden.mean()) > limits.SCREEN_BEFORE_SHARE:
            yield name


def faces_window(setup: Setup) -> bool:
    """Whether a window is ahead, within 45 degrees, by which the face is lit: nothing is to be hung before it."""
    scene = scene_of(setup)
    return any(
        float(unit(pane.middle - scene.face.eyes) @ scene.face.forward) > AHEAD and float(pane.normal @ scene.face.forward) < -AHEAD
        for pane in scene.windows.values()
    )


def by_day(setup: Setup) -> bool:
    """Whether daylight comes in at the call."""
    return bool(setup.room.windows) and sun_position_deg(setup.place)[0] > 0
