"""From above: the room to scale with all that can be taken in hand."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.appraisal import Appraisal
from uphill_lamp.core.areas import layers
from uphill_lamp.core.document.devices import Light, Microphone, Reflector, Screen
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.light.moves import ASIDE_DEG, lamp_place
from uphill_lamp.core.light.sources import lamp_source
from uphill_lamp.core.light.windows import SunBeam
from uphill_lamp.core.places.marks import marks
from uphill_lamp.core.scene.placing import (
    Pane,
    camera_pose,
    face_of,
    microphone_place,
    pinhole_of,
    reflector_pane,
    screen_pane,
    window_pane,
)  # fmt: skip
from uphill_lamp.core.scene.sun import sun_position_deg
from uphill_lamp.core.scene.vectors import direction, right_of, vector
from uphill_lamp.core.scene.view import backdrop_panes
from uphill_lamp.core.scene.wording import degrees, length
from uphill_lamp.core.tape.words import place_of
from uphill_lamp.drawings.captions import ASIDE, Captions
from uphill_lamp.drawings.sheet import Box, Sheet, dimension, gaze_lines, thing, within
from uphill_lamp.drawings.svg import Node, SvgText, circle, drawing, group, line, path, polygon, rect
from uphill_lamp.drawings.voice import pattern, reach_rings, voice_line

WIDTH, HEIGHT, MARGIN = 368.0, 397.0, 26.0
WANTED_AWAY_M = 0.65
GRIP = 13.0  # round what is small, so that a finger finds it [units]
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
    x, y = sheet.at(face_of(setup).eyes)
    captions.keep_off(x - 10, y - 10, x + 10, y + 10)
    shown = layers(stage)
    if "sky" in shown:
        _sky_words(setup, sheet, captions)
    drawn = [
        _grid(setup, sheet), _walls(setup, sheet, captions), _north(setup, captions),
        _wedge(setup, sheet), _daylight(appraisal, sheet), _sun(appraisal, sheet, captions), _reach(setup, sheet) if "reach" in shown else None,
        pattern(setup, sheet) if "pattern" in shown else None,
        _backdrop(setup, sheet, picked, captions), _windows(setup, sheet, picked), _desk(setup, sheet, picked),
        *(_screen(setup, screen, sheet, picked) for screen in setup.screens),
        _wanted_look(setup, sheet) if "wanted look" in shown else None,
        reach_rings(appraisal, sheet, captions) if "voice rings" in shown else None,
        _presenter(setup, sheet, picked), _cameras(setup, sheet, picked),
        *(_lamp(setup, light, sheet, picked, captions) for light in setup.lights),
        *(_reflector(setup, one, sheet, picked, captions) for one in setup.reflectors),
        *(_microphone(setup, microphone, sheet, picked) for microphone in setup.microphones),
        *(_noise(setup, sheet, picked, captions) if "noises" in shown else []),
        gaze_lines(setup, sheet) if "look" in shown else None,
        _stage_dimension(appraisal, sheet, stage, picked, captions),
    ]  # fmt: skip
    return drawing(
        WIDTH, HEIGHT, "The room from above", *drawn, *captions.drawn(),
        class_=f"sheet-drawing plan stage-{stage}", data_scale=sheet.scale, data_view="plan",
    ).text()  # fmt: skip


def _selected_at(setup: Setup, sheet: Sheet, picked: str) -> tuple[float, float] | None:
    place = place_of(setup, picked)
    return None if place is None else sheet.at(place)


def _grid(setup: Setup, sheet: Sheet) -> Node:
    lines = []
    for step in range(1, math.ceil(setup.room.width_m / 0.5)):
        (x1, y1), (x2, y2) = sheet.at(np.array([step * 0.5, 0, 0])), sheet.at(np.array([step * 0.5, setup.room.depth_m, 0]))
        lines.append(line(x1, y1, x2, y2))
    for step in range(1, math.ceil(setup.room.depth_m / 0.5)):
        (x1, y1), (x2, y2) = sheet.at(np.array([0, step * 0.5, 0])), sheet.at(np.array([setup.room.width_m, step * 0.5, 0]))
        lines.append(line(x1, y1, x2, y2))
    return group(*lines, class_="grid")


def _walls(setup: Setup, sheet: Sheet, captions: Captions) -> Node:
    x, y = sheet.at(np.array([0, setup.room.depth_m, 0]))
    w, h = setup.room.width_m * sheet.scale, setup.room.depth_m * sheet.scale
    units = setup.preferences.units
    size = f"{length(setup.room.width_m, units)} × {length(setup.room.depth_m, units)}"
    captions.figure(x + w, y + h + 16, size, "small", "end", rank=ASIDE)
    return group(rect(x - 2.5, y - 2.5, w + 5, h + 5, class_="wall"))


def _north(setup: Setup, captions: Captions) -> Node:
    """An arrow whose head is the letter itself, so that it needs no room of its own."""
    turn = math.radians(setup.room.north_bearing_deg)
    x, y = WIDTH - 20, 22.0
    captions.keep_off(x - 16, y - 20, x + 16, y + 18)
    letter = "M-2.6,-8 L-2.6,-14 L2.6,-8 L2.6,-14"
    return group(
        path(f"M0,9 L0,-5 M-3.5,-1 L0,-6 L3.5,-1 {letter}", class_="north"),
        transform=f"translate({x:.0f} {y:g}) rotate({-math.degrees(turn):.1f})",
    )


def _wedge(setup: Setup, sheet: Sheet) -> Node:
    pinhole = pinhole_of(setup)
    far = [pinhole.place + 20.0 * ray for ray in pinhole.ray(np.array([0.0, 1.0]), np.array([0.5, 0.5]))]
    return group(polygon(within([sheet.at(place) for place in (pinhole.place, *far)], _room_box(setup, sheet)), class_="wedge"))


def _room_box(setup: Setup, sheet: Sheet) -> Box:
    (left, foot), (right, top) = sheet.at(np.zeros(3)), sheet.at(np.array([setup.room.width_m, setup.room.depth_m, 0.0]))
    return left, top, right, foot


def _daylight(appraisal: Appraisal, sheet: Sheet) -> Node | None:
    shining = {source.id for source in appraisal.falling.sources}
    shapes = []
    for window in appraisal.setup.room.windows:
        if window.id not in shining:
            continue
        pane, reach = window_pane(appraisal.setup.room, window), 1.1
        a, b = pane.at(0, 0.5), pane.at(1, 0.5)
        spread = 0.25 * pane.right
        places = [a, b, b + reach * pane.normal + spread, a + reach * pane.normal - spread]
        shapes.append(polygon(within([sheet.at(place) for place in places], _room_box(appraisal.setup, sheet)), class_="daylight"))
    return group(*shapes) if shapes else None


def _sun(appraisal: Appraisal, sheet: Sheet, captions: Captions) -> Node | None:
    """Where the sun falls at the height of the presenter's eyes."""
    shapes: list[Node] = []
    for beam in appraisal.falling.sources:
        patch = beam.patch_at(appraisal.setup.presenter.eye_height_m) if isinstance(beam, SunBeam) else None
        corners = within([sheet.at(place) for place in patch], _room_box(appraisal.setup, sheet)) if patch is not None else []
        if len(corners) > 2:
            x, y = np.mean(corners, axis=0)
            shapes.append(polygon(corners, class_="sun"))
            captions.beside(float(x), float(y), "sun at eye height", "label", 0)
    return group(*shapes) if shapes else None


def _reach(setup: Setup, sheet: Sheet) -> Node:
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


def _sky_words(setup: Setup, sheet: Sheet, captions: Captions) -> None:
    """What stands over the windows at the call, below the room."""
    if not setup.room.windows:
        return
    rise_deg, _ = sun_position_deg(setup.place)
    sky = {"clear": "Clear sky", "partly": "Some cloud", "overcast": "Overcast sky"}[setup.place.sky]
    told = f"{sky}, sun {degrees(rise_deg)} up" if rise_deg > 0 else "Dusk or dawn" if rise_deg > -12 else "Night"
    x, y = sheet.at(np.array([0.0, 0.0, 0.0]))
    captions.figure(x, y + 16, told, "small", rank=ASIDE)


def _wanted_look(setup: Setup, sheet: Sheet) -> Node:
    """Where the light wanted puts its main lamp: an open ring on either side."""
    angle, face = ASIDE_DEG[setup.preferences.look][0], face_of(setup)
    spots = [sheet.at(lamp_place(face, side * angle, 0.0, WANTED_AWAY_M)) for side in (1, -1)]
    told = f"The light you want puts its main lamp about {angle}° to one side"
    return group(Node("title", told), *(circle(x, y, 7, class_="wanted-look") for x, y in spots))


def _pane_line(pane: Pane, sheet: Sheet, **attributes: str) -> Node:
    (x1, y1), (x2, y2) = sheet.at(pane.at(0, 0.5)), sheet.at(pane.at(1, 0.5))
    return line(x1, y1, x2, y2, **attributes)


def _windows(setup: Setup, sheet: Sheet, picked: str) -> Node:
    return group(
        *(
            thing(setup, f"windows/{window.id}", window.name, picked, _pane_line(window_pane(setup.room, window), sheet, class_="pane"),
                  _pane_line(window_pane(setup.room, window), sheet, class_="grip"))
            for window in setup.room.windows
        )
    )  # fmt: skip


def _backdrop(setup: Setup, sheet: Sheet, picked: str, captions: Captions) -> Node:
    things = []
    for (_, pane), item in zip(backdrop_panes(setup), setup.backdrop, strict=True):
        (x1, y1), (x2, y2) = sheet.at(pane.at(0, 0.5)), sheet.at(pane.at(1, 0.5))
        mid = ((x1 + x2) / 2, (y1 + y2) / 2)
        things.append(
            thing(
                setup,
                f"backdrop/{item.id}",
                item.name,
                picked,
                line(x1, y1, x2, y2, class_="backdrop"),
                line(x1, y1, x2, y2, class_="grip"),
            )
        )
        captions.name(*mid, item.name, 8, picked == f"backdrop/{item.id}")
    return group(*things)


def _desk(setup: Setup, sheet: Sheet, picked: str) -> Node:
    desk, ahead, right = setup.desk, direction(setup.desk.yaw_deg), right_of(setup.desk.yaw_deg)
    middle = np.array([desk.x_m, desk.y_m, 0.0])
    corners = [middle + a * desk.width_m / 2 * right + b * desk.depth_m / 2 * ahead for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    return thing(setup, "desk", "Desk", picked, polygon([sheet.at(corner) for corner in corners], class_="desk"))


def _screen(setup: Setup, screen: Screen, sheet: Sheet, picked: str) -> Node:
    pane = screen_pane(screen)
    parts = [_pane_line(pane, sheet, class_="screen"), _pane_line(pane, sheet, class_="grip")]
    if screen.kind == "laptop":
        out, side = direction(screen.yaw_deg), right_of(screen.yaw_deg)
        hinge, half, deep = vector(screen.position), screen.width_m / 2, 0.21
        base = [hinge - half * side, hinge + half * side, hinge + half * side + deep * out, hinge - half * side + deep * out]
        parts.insert(0, polygon([sheet.at(corner) for corner in base], class_="laptop-base"))
    return thing(setup, f"screens/{screen.id}", screen.name, picked, *parts)


def _presenter(setup: Setup, sheet: Sheet, picked: str) -> Node:
    face, presenter = face_of(setup), setup.presenter
    middle = face.at(-0.085, 0, 0)
    x, y = sheet.at(middle)
    yaw = presenter.facing_yaw_deg
    shoulders = presenter.head.shoulders_m / 2 * sheet.scale
    return thing(
        setup, "presenter", "You", picked,
        group(
            Node("ellipse", cx=0, cy=2.0, rx=shoulders, ry=0.11 * sheet.scale, class_="shoulders"),
            Node("ellipse", cx=0, cy=0, rx=presenter.head.breadth_m / 2 * sheet.scale, ry=0.1 * sheet.scale, class_="head"),
            path(f"M{-0.025 * sheet.scale:.1f},{-0.085 * sheet.scale:.1f} L0,{-0.125 * sheet.scale:.1f} L{0.025 * sheet.scale:.1f},{-0.085 * sheet.scale:.1f}", class_="nose"),
            transform=f"translate({x:.1f} {y:.1f}) rotate({yaw:.1f})",
        ),
    )  # fmt: skip


def _cameras(setup: Setup, sheet: Sheet, picked: str) -> Node:
    things = []
    for camera in setup.cameras:
        pose = camera_pose(setup, camera)
        x, y = sheet.at(pose.place)
        things.append(
            thing(setup, f"cameras/{camera.id}", camera.name, picked,
                  group(circle(0, 0, 5, class_="camera"), path("M-3,-4 L0,-9 L3,-4 Z", class_="camera-aim"), transform=f"translate({x:.1f} {y:.1f}) rotate({pose.yaw_deg:.1f})"),
                  circle(x, y, GRIP, class_="grip"))
        )  # fmt: skip
    return group(*things)


def _lamp(setup: Setup, light: Light, sheet: Sheet, picked: str, captions: Captions) -> Node:
    x, y = sheet.at(vector(light.position))
    lit = light.on and light.dim > 0 and light.flux_lm > 0
    shape = [circle(x, y, 8, class_="lamp is-on" if lit else "lamp")]
    if light.kind != "bulb" and abs(light.aim_tilt_deg) < 80:
        dx, dy = sheet.along(direction(light.aim_yaw_deg))
        size = max(math.hypot(dx, dy), 1e-6)
        shape.append(line(x, y, x + 17 * dx / size, y + 17 * dy / size, class_="lamp-aim"))
    if not lit:
        shape.append(line(x - 5.5, y + 5.5, x + 5.5, y - 5.5, class_="off-stroke"))
    state = "on" if lit else "off"
    captions.name(x, y, light.name, 12, picked == f"lights/{light.id}")
    return thing(setup, f"lights/{light.id}", f"{light.name}, {state}", picked, *shape, circle(x, y, GRIP, class_="grip"))


def _reflector(setup: Setup, one: Reflector, sheet: Sheet, picked: str, captions: Captions) -> Node:
    pane = reflector_pane(one)
    x, y = sheet.at(pane.middle)
    parts = [_pane_line(pane, sheet, class_="white-sheet"), _pane_line(pane, sheet, class_="grip")]
    captions.name(x, y, one.name, 10, picked == f"reflectors/{one.id}")
    return thing(setup, f"reflectors/{one.id}", one.name, picked, *parts)


def _microphone(setup: Setup, microphone: Microphone, sheet: Sheet, picked: str) -> Node:
    x, y = sheet.at(microphone_place(setup, microphone))
    if microphone.at == "screen":
        x += 13  # beside the lens it shares its place with
    used = "microphone is-on" if microphone.in_use else "microphone"
    return thing(setup, f"microphones/{microphone.id}", microphone.name + ("" if microphone.in_use else ", not in use"), picked,
                 rect(x - 3, y - 5, 6, 10, rx=3, class_=used), circle(x, y, GRIP, class_="grip"))  # fmt: skip


def _noise(setup: Setup, sheet: Sheet, picked: str, captions: Captions) -> list[Node]:
    things = []
    for noise in setup.noises:
        if noise.position is not None:
            x, y = sheet.at(vector(noise.position))
            arcs = "M-3,-5 q4,5 0,10 M1,-7 q6,7 0,14"
            things.append(thing(setup, f"noises/{noise.id}", noise.name, picked, group(path(arcs, class_="noise"), transform=f"translate({x:.1f} {y:.1f})"),
                                circle(x, y, GRIP, class_="grip")))  # fmt: skip
            captions.name(x, y, noise.name, 12, picked == f"noises/{noise.id}")
    return things


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
    setup, face = appraisal.setup, face_of(appraisal.setup)
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
