"""The room from above, and what its light does there."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.light.lamp_placing import ASIDE_DEG, lamp_place
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.sources import lamp_source
from uphill_lamp.core.field.light.windows import SunBeam
from uphill_lamp.core.scene.placing import (
    window_pane,
)  # fmt: skip
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.sun import sun_position_deg
from uphill_lamp.core.scene.vectors import direction, vector
from uphill_lamp.core.scene.wording import degrees, length
from uphill_lamp.core.tape.fields import name_of
from uphill_lamp.drawings.captions import ASIDE, Captions
from uphill_lamp.drawings.sheet import Box, Sheet, thing, within
from uphill_lamp.drawings.svg import Node, circle, group, line, path, polygon, rect

WIDTH = 368.0

WANTED_AWAY_M = 0.65


def grid(setup: Setup, sheet: Sheet) -> Node:
    """Lines half a metre apart."""
    lines = []
    for step in range(1, math.ceil(setup.room.width_m / 0.5)):
        (x1, y1), (x2, y2) = sheet.at(np.array([step * 0.5, 0, 0])), sheet.at(np.array([step * 0.5, setup.room.depth_m, 0]))
        lines.append(line(x1, y1, x2, y2))
    for step in range(1, math.ceil(setup.room.depth_m / 0.5)):
        (x1, y1), (x2, y2) = sheet.at(np.array([0, step * 0.5, 0])), sheet.at(np.array([setup.room.width_m, step * 0.5, 0]))
        lines.append(line(x1, y1, x2, y2))
    return group(*lines, class_="grid")


def walls(setup: Setup, sheet: Sheet, captions: Captions, picked: str) -> Node:
    """The walls, each to be dragged, with the room's size below."""
    x, y = sheet.at(np.array([0, setup.room.depth_m, 0]))
    w, h = setup.room.width_m * sheet.scale, setup.room.depth_m * sheet.scale
    units = setup.preferences.units
    size = f"{length(setup.room.width_m, units)} × {length(setup.room.depth_m, units)}"
    captions.figure(x + w, y + h + 16, size, "small", "end", rank=ASIDE)
    ends = {
        "wall_x0": (x, y, x, y + h),
        "wall_x1": (x + w, y, x + w, y + h),
        "wall_y0": (x, y + h, x + w, y + h),
        "wall_y1": (x, y, x + w, y),
    }
    grips = [
        thing(setup, f"walls/{wall}", name_of(setup, f"walls/{wall}"), picked, line(*end, class_="grip wall-grip"))
        for wall, end in ends.items()
    ]
    return group(rect(x - 2.5, y - 2.5, w + 5, h + 5, class_="wall"), *grips)


def north(setup: Setup, captions: Captions, picked: str) -> Node:
    """An arrow whose head is the letter itself, so that it needs no room of its own; turned by its tip."""
    turn = math.radians(setup.room.north_bearing_deg)
    x, y = WIDTH - 20, 22.0
    captions.keep_off(x - 16, y - 20, x + 16, y + 18)
    letter = "M-2.6,-8 L-2.6,-14 L2.6,-8 L2.6,-14"
    arrow = group(
        path(f"M0,9 L0,-5 M-3.5,-1 L0,-6 L3.5,-1 {letter}", class_="north"),
        circle(0, 0, 15, class_="grip"),
        transform=f"translate({x:.0f} {y:g}) rotate({-math.degrees(turn):.1f})",
    )
    return thing(setup, "compass", f"The compass: up the drawing is {setup.room.north_bearing_deg:.0f}°", picked, arrow)


def wedge(setup: Setup, sheet: Sheet) -> Node:
    """What the lens takes in across, to the walls."""
    pinhole = scene_of(setup).pinhole
    far = [pinhole.place + 20.0 * ray for ray in pinhole.ray(np.array([0.0, 1.0]), np.array([0.5, 0.5]))]
    return group(polygon(within([sheet.at(place) for place in (pinhole.place, *far)], room_box(setup, sheet)), class_="wedge"))


def room_box(setup: Setup, sheet: Sheet) -> Box:
    """Left, top, right and foot of the room on the sheet."""
    (left, foot), (right, top) = sheet.at(np.zeros(3)), sheet.at(np.array([setup.room.width_m, setup.room.depth_m, 0.0]))
    return left, top, right, foot


def daylight(appraisal: Appraisal, sheet: Sheet) -> Node | None:
    """Where a window's light comes in."""
    shining = {source.id for source in appraisal.lit_scene.sources}
    shapes = []
    for window in appraisal.setup.room.windows:
        if window.id not in shining:
            continue
        pane, reach = window_pane(appraisal.setup.room, window), 1.1
        a, b = pane.at(0, 0.5), pane.at(1, 0.5)
        spread = 0.25 * pane.right
        places = [a, b, b + reach * pane.normal + spread, a + reach * pane.normal - spread]
        shapes.append(polygon(within([sheet.at(place) for place in places], room_box(appraisal.setup, sheet)), class_="daylight"))
    return group(*shapes) if shapes else None


def sun(appraisal: Appraisal, sheet: Sheet, captions: Captions) -> Node | None:
    """Where the sun falls at the height of the presenter's eyes."""
    shapes: list[Node] = []
    for beam in appraisal.lit_scene.sources:
        patch = beam.patch_at(appraisal.setup.presenter.eye_height_m) if isinstance(beam, SunBeam) else None
        corners = within([sheet.at(place) for place in patch], room_box(appraisal.setup, sheet)) if patch is not None else []
        if len(corners) > 2:
            x, y = np.mean(corners, axis=0)
            shapes.append(polygon(corners, class_="sun"))
            captions.beside(float(x), float(y), "sun at eye height", "label", 0)
    return group(*shapes) if shapes else None


def lamp_reach(setup: Setup, sheet: Sheet) -> Node:
    """How far a lamp lights a face to 100 lx, in the way it points."""
    shapes = []
    for light in setup.lights:
        source = lamp_source(light)
        if source is None:
            continue
        x, y = sheet.at(vector(light.position))
        if light.kind == "bulb":
            radius = math.sqrt(source.flux_lm / (4 * math.pi) / 100)
            shapes.append(circle(x, y, min(radius, 2.0) * sheet.scale, class_="reach"))
        elif abs(light.aim_tilt_deg) < 80:
            half = (light.beam_deg or 120) / 2
            peak = source.flux_lm / (2 * math.pi * (1 - math.cos(math.radians(half))))
            radius = min(math.sqrt(peak / 100), 2.0)
            rim = [vector(light.position) + radius * direction(light.aim_yaw_deg + turn) for turn in np.linspace(-half, half, 13)]
            shapes.append(polygon([(x, y), *(sheet.at(place) for place in rim)], class_="reach"))
    return group(*shapes)


def sky_words(setup: Setup, sheet: Sheet, captions: Captions) -> None:
    """What stands over the windows at the call, below the room."""
    if not setup.room.windows:
        return
    rise_deg, _ = sun_position_deg(setup.place)
    sky = {"clear": "Clear sky", "partly": "Some cloud", "overcast": "Overcast sky"}[setup.place.sky]
    sky_phrase = f"{sky}, sun {degrees(rise_deg)} up" if rise_deg > 0 else "Dusk or dawn" if rise_deg > -12 else "Night"
    x, y = sheet.at(np.array([0.0, 0.0, 0.0]))
    captions.figure(x, y + 16, sky_phrase, "small", rank=ASIDE)


def wanted_look(setup: Setup, sheet: Sheet) -> Node:
    """Where the light wanted puts its main lamp: an open ring on either side."""
    angle, face = ASIDE_DEG[setup.preferences.look][0], scene_of(setup).face
    spots = [sheet.at(lamp_place(face, side * angle, 0.0, WANTED_AWAY_M)) for side in (1, -1)]
    phrase = f"The light you want puts its main lamp about {angle}° to one side"
    return group(Node("title", phrase), *(circle(x, y, 7, class_="wanted-look") for x, y in spots))
