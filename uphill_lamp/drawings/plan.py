"""From above: the room to scale with all that can be taken in hand."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.registry import layers
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.places.marks import marks
from uphill_lamp.core.scene.placing import camera_pose, microphone_place
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, vector
from uphill_lamp.core.scene.wording import degrees, length
from uphill_lamp.core.tape.place_phrases import place_of
from uphill_lamp.drawings.captions import Captions
from uphill_lamp.drawings.plan_room import daylight, grid, lamp_reach, north, sky_words, sun, walls, wanted_look, wedge
from uphill_lamp.drawings.plan_things import (
    backdrop,
    cameras,
    desk_top,
    doors,
    lamp,
    microphone_shape,
    noises,
    presenter_shape,
    reflector,
    screen_line,
    windows,
)
from uphill_lamp.drawings.sheet import Sheet, dimension, gaze_lines
from uphill_lamp.drawings.svg import Node, SvgText, drawing, group, path
from uphill_lamp.drawings.voice import pattern, reach_rings, voice_line

WIDTH, HEIGHT, MARGIN = 368.0, 397.0, 26.0
SMALL = 5.0  # of a lens, a lamp, a microphone, from its middle [units]
SIZES = (12.0, 15.0)  # letters: the smaller from 340 px of width, the larger below
X, Y = np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])


def plan_sheet(setup: Setup) -> Sheet:
    """Scale and place of the room on the plan: x to the right, y up."""
    room = setup.room
    scale = min((WIDTH - 2 * MARGIN) / room.width_m, (HEIGHT - 2 * MARGIN) / room.depth_m)
    left = (WIDTH - scale * room.width_m) / 2
    return Sheet(X, Y, scale, left, (HEIGHT + scale * room.depth_m) / 2, np.zeros(3))


def plan(appraisal: Appraisal, stage: str, picked: str) -> SvgText:
    """The room from above.

    Args:
        appraisal: what to draw.
        stage: frame, light, sound or eyes; what it is about is drawn stronger.
        picked: handle of the thing in hand, or nothing.
    """
    setup, sheet = appraisal.setup, plan_sheet(appraisal.setup)
    captions = Captions(WIDTH, HEIGHT, SIZES, _selected_at(setup, sheet, picked))
    x, y = sheet.at(scene_of(setup).face.eyes)
    captions.keep_off(x - 10, y - 10, x + 10, y + 10)
    for place in _small_things(setup):
        captions.spare(*sheet.at(place), SMALL)
    view, shown = PlanView(appraisal, setup, sheet, captions, stage, picked), layers(stage)
    drawn = [node for layer, shapes in LAYERS if not layer or layer in shown for node in shapes(view)]
    return drawing(
        WIDTH, HEIGHT, "The room from above", *drawn, *captions.drawn(),
        class_=f"sheet-drawing plan stage-{stage}", data_scale=sheet.scale, data_view="plan", data_left=sheet.left, data_foot=sheet.foot,
    ).text()  # fmt: skip


@dataclass(frozen=True)
class PlanView:
    """What the plan's layers are drawn from."""

    appraisal: Appraisal
    setup: Setup
    sheet: Sheet
    captions: Captions
    stage: str
    picked: str


def _small_things(setup: Setup) -> list[Vector]:
    """Where lenses, lamps, microphones and what is heard stand [m]."""
    lenses = [camera_pose(setup, camera).place for camera in setup.cameras]
    microphones = [microphone_place(setup, microphone) for microphone in setup.microphones]
    heard = [vector(noise.position) for noise in setup.noises if noise.position is not None]
    return [*lenses, *microphones, *heard, *(vector(light.position) for light in setup.lights)]


def _sky(view: PlanView) -> list[Node | None]:
    sky_words(view.setup, view.sheet, view.captions)
    return []


# From the lowest to the topmost: the layer's name in the areas' records, or nothing for what every stage shows, and what draws it.
LAYERS: tuple[tuple[str, Callable[[PlanView], Iterable[Node | None]]], ...] = (
    ("sky", _sky),
    ("", lambda v: [grid(v.setup, v.sheet), walls(v.setup, v.sheet, v.captions, v.picked), north(v.setup, v.captions, v.picked)]),
    ("", lambda v: [wedge(v.setup, v.sheet), daylight(v.appraisal, v.sheet), sun(v.appraisal, v.sheet, v.captions)]),
    ("reach", lambda v: [lamp_reach(v.setup, v.sheet)]),
    ("pattern", lambda v: [pattern(v.setup, v.sheet)]),
    (
        "",
        lambda v: [
            backdrop(v.setup, v.sheet, v.picked, v.captions),
            windows(v.setup, v.sheet, v.picked),
            doors(v.setup, v.sheet, v.picked),
        ],
    ),
    (
        "",
        lambda v: [desk_top(v.setup, v.sheet, v.picked), *(screen_line(v.setup, screen, v.sheet, v.picked) for screen in v.setup.screens)],
    ),
    ("wanted look", lambda v: [wanted_look(v.setup, v.sheet)]),
    ("voice rings", lambda v: [reach_rings(v.appraisal, v.sheet, v.captions)]),
    ("", lambda v: [presenter_shape(v.setup, v.sheet, v.picked), cameras(v.setup, v.sheet, v.picked)]),
    ("", lambda v: [lamp(v.setup, thing, v.sheet, v.picked, v.captions) for thing in v.setup.lights]),
    ("", lambda v: [reflector(v.setup, sheet_of_white, v.sheet, v.picked, v.captions) for sheet_of_white in v.setup.reflectors]),
    ("", lambda v: [microphone_shape(v.setup, microphone, v.sheet, v.picked) for microphone in v.setup.microphones]),
    ("noises", lambda v: noises(v.setup, v.sheet, v.picked, v.captions)),
    ("look", lambda v: [gaze_lines(v.setup, v.sheet)]),
    ("", lambda v: [_stage_dimension(v.appraisal, v.sheet, v.stage, v.picked, v.captions)]),
)


def _selected_at(setup: Setup, sheet: Sheet, picked: str) -> tuple[float, float] | None:
    place = place_of(setup, picked)
    return None if place is None else sheet.at(place)


def _tape(setup: Setup, sheet: Sheet, captions: Captions) -> Node:
    """Crosses where tape goes, each with its two distances to the nearer walls."""
    shapes: list[Node] = []
    listed = marks(setup)
    for mark in listed:
        x, y = sheet.at(mark.place)
        shapes.append(path(f"M{x - 5:.1f},{y - 5:.1f} l10,10 M{x - 5:.1f},{y + 5:.1f} l10,-10", class_="tape"))
    for end in listed[0].walls:
        apart_m = float(np.linalg.norm(end - listed[0].place))
        shapes.append(dimension(captions, sheet.at(listed[0].place), sheet.at(end), length(apart_m, setup.preferences.units)))
    return group(*shapes)


def _lamp_told(setup: Setup, stage: str, picked: str) -> Light | None:
    """The lamp whose angle and distance are told: that in hand, or at Light the first that is on and not overhead."""
    in_hand = next((light for light in setup.lights if f"lights/{light.id}" == picked), None)
    if in_hand is not None or "lamp line" not in layers(stage):
        return in_hand
    return next((light for light in setup.lights if light.on and light.stands != "ceiling"), None)


def _stage_dimension(appraisal: Appraisal, sheet: Sheet, stage: str, picked: str, captions: Captions) -> Node | None:
    setup, face = appraisal.setup, scene_of(appraisal.setup).face
    units = setup.preferences.units
    if stage == "place":
        return _tape(setup, sheet, captions)
    if (lamp := _lamp_told(setup, stage, picked)) is not None:
        place = vector(lamp.position)
        beyond = place - face.eyes
        aside = math.degrees(math.atan2(float(beyond @ face.left), float(beyond @ face.forward)))
        text = f"{degrees(abs(aside))} {'left' if aside > 0 else 'right'} · {length(float(np.linalg.norm(beyond)), units)}"
        return dimension(captions, sheet.at(face.eyes), sheet.at(place), text, class_="dimension lamp-line")
    return voice_line(appraisal, sheet, captions, 14) if "voice line" in layers(stage) else None
