"""From the side: heights, the lens wedge, the look, as seen from the presenter's right."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.frame.bands import VIEW_ANGLE_AIM_DEG
from uphill_lamp.core.areas.registry import layers
from uphill_lamp.core.document.devices import Light, Screen
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import (
    camera_pose,
    lid_place,
    microphone_place,
    screen_pane,
    wall_behind_m,
)  # fmt: skip
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, direction, vector
from uphill_lamp.core.scene.wording import degrees, length
from uphill_lamp.drawings.captions import PLACED, Captions
from uphill_lamp.drawings.sheet import Sheet, dimension, gaze_lines, thing, within
from uphill_lamp.drawings.svg import Node, SvgText, circle, drawing, group, line, path, polygon, polyline, rect
from uphill_lamp.drawings.voice import voice_line

WIDTH, HEIGHT = 560.0, 232.0
FOOT, TOP = 212.0, 10.0
SIZES = (12.0, 15.0, 20.0)  # letters: from 500 px of width, from 400, below
GRIP = 13.0
BEYOND_FACE_M = 1.25
BEHIND_FACE_M = 1.0


def side_sheet(setup: Setup) -> Sheet:
    """Scale of the side view: away from the presenter's face to the left, up is up, the floor at the foot."""
    face = scene_of(setup).face
    lens = scene_of(setup).lens.place
    ahead_m = max(BEYOND_FACE_M, float((lens - face.eyes) @ face.forward) + 0.45)
    top_m = min(setup.room.height_m, max(face.crown[2] + 0.3, lens[2] + 0.2, 1.75))
    scale = min((FOOT - TOP) / top_m, WIDTH / (ahead_m + BEHIND_FACE_M))
    origin = np.array([face.eyes[0], face.eyes[1], 0.0])
    left = (WIDTH + scale * (ahead_m - BEHIND_FACE_M)) / 2
    return Sheet(-face.forward, UP, scale, left, FOOT, origin)


def side(appraisal: Appraisal, stage: str, picked: str) -> SvgText:
    """The presenter and desk from the side.

    Args:
        appraisal: what to draw.
        stage: frame, light, sound or eyes.
        picked: handle of the thing in hand, or nothing.
    """
    setup, sheet = appraisal.setup, side_sheet(appraisal.setup)
    captions = Captions(WIDTH, HEIGHT, SIZES)
    drawn = [
        line(0, FOOT, WIDTH, FOOT, class_="floor"), _walls(setup, sheet), _panes(setup, sheet, picked), _wedge(setup, sheet), _desk(setup,
        sheet, picked), _presenter(setup, sheet, picked),
        *(_screen(setup, screen, sheet, picked) for screen in setup.screens),
        _cameras(setup, sheet, picked), *(_lamp(setup, light, sheet, picked) for light in setup.lights), _microphones(setup, sheet, picked),
        gaze_lines(setup, sheet) if "look" in layers(stage) else None,
        _angle(appraisal, sheet, captions) if "angle" in layers(stage) else None,
        _dimensions(appraisal, sheet, stage, captions),
    ]  # fmt: skip
    return drawing(
        WIDTH, HEIGHT, "You and your desk from the side", *drawn, *captions.drawn(),
        class_=f"sheet-drawing side stage-{stage}", data_scale=sheet.scale, data_view="side",
    ).text()  # fmt: skip


def _walls(setup: Setup, sheet: Sheet) -> Node:
    face = scene_of(setup).face
    lines = []
    for along in (face.forward, -face.forward):
        x, _ = sheet.at(face.eyes + along * wall_behind_m(setup, face.eyes, along))
        if 0 <= x <= WIDTH:
            lines.append(line(x, 0, x, FOOT, class_="wall-line"))
    _, y = sheet.at(np.array([0, 0, setup.room.height_m]))
    if y > 0:
        lines.append(line(0, y, WIDTH, y, class_="wall-line"))
    return group(*lines)


def _panes(setup: Setup, sheet: Sheet, picked: str) -> Node:
    """Windows by their height: those in the walls ahead and behind, and the one selected wherever it is; its upper edge can be dragged too."""
    shapes = []
    for window in setup.room.windows:
        handle, pane = f"windows/{window.id}", scene_of(setup).windows[window.id]
        across = abs(float(pane.normal @ scene_of(setup).face.forward)) > 0.7
        if not across and picked != handle:
            continue
        corners = [sheet.at(pane.at(a, b)) for a, b in ((0, 0), (1, 0), (1, 1), (0, 1))]
        outline = polygon(corners, class_="pane-side")
        shapes.append(thing(setup, handle, window.name, picked, outline, polygon(corners, class_="grip")))
        if picked == handle:
            head = line(*corners[0], *corners[1], class_="edge"), line(*corners[0], *corners[1], class_="grip")
            shapes.append(thing(setup, f"heads/{window.id}", f"Upper edge of {window.name}", picked, *head))
    return group(*shapes)


def _wedge(setup: Setup, sheet: Sheet) -> Node:
    """What the lens takes in, up to floor, ceiling and the walls before and behind the presenter."""
    pinhole, face = scene_of(setup).pinhole, scene_of(setup).face
    far = [pinhole.place + 20.0 * ray for ray in pinhole.ray(np.array([0.5, 0.5]), np.array([0.0, 1.0]))]
    walls = [sheet.at(face.eyes + along * wall_behind_m(setup, face.eyes, along))[0] for along in (face.forward, -face.forward)]
    _, ceiling = sheet.at(np.array([0, 0, setup.room.height_m]))
    return polygon(within([sheet.at(place) for place in (pinhole.place, *far)], (min(walls), ceiling, max(walls), FOOT)), class_="wedge")


def _desk(setup: Setup, sheet: Sheet, picked: str) -> Node:
    desk, face = setup.desk, scene_of(setup).face
    middle = np.array([desk.x_m, desk.y_m, desk.height_m])
    turn = math.radians(desk.yaw_deg - setup.presenter.facing_yaw_deg)
    half = abs(math.cos(turn)) * desk.depth_m / 2 + abs(math.sin(turn)) * desk.width_m / 2
    (x1, y), (x2, _) = sheet.at(middle + half * face.forward), sheet.at(middle - half * face.forward)
    thick = 0.03 * sheet.scale
    return thing(setup, "desk", "Desk", picked, rect(x1, y, x2 - x1, thick, class_="desk"), rect(x1 + 6, y + thick, 4, FOOT - y - thick, class_="desk-leg"),
                 rect(x2 - 10, y + thick, 4, FOOT - y - thick, class_="desk-leg"))  # fmt: skip


def _presenter(setup: Setup, sheet: Sheet, picked: str) -> Node:
    face, presenter = scene_of(setup).face, setup.presenter
    head = presenter.head

    def at(forward_m: float, up_m: float) -> tuple[float, float]:
        return sheet.at(face.at(forward_m, 0, up_m))

    x, y = at(-0.085, (head.eyes_to_crown_m - head.eyes_to_chin_m) / 2)
    seat_m = 0.46 if presenter.posture == "sitting" else 0.0
    hip = face.at(-0.10, 0, 0)
    hip[2] = max(seat_m + 0.06, 0.1) if presenter.posture == "sitting" else face.eyes[2] - 0.75
    knee = hip + 0.46 * face.forward if presenter.posture == "sitting" else hip - 0.4 * UP
    foot = np.array([knee[0], knee[1], 0.02])
    body = [
        at(-0.09, -head.eyes_to_shoulders_m + 0.02),
        sheet.at(hip + 0.28 * UP - 0.03 * face.forward),
        sheet.at(hip),
        sheet.at(knee),
        sheet.at(foot),
    ]
    nose, eye = at(0.025, -0.035), at(-0.008, 0.0)
    chair = None
    if presenter.posture == "sitting":
        back, seat = hip - 0.13 * face.forward, hip - 0.07 * UP
        chair = polyline([sheet.at(back + 0.42 * UP), sheet.at(back - 0.06 * UP), sheet.at(seat + 0.3 * face.forward)], class_="chair")
    return thing(
        setup, "presenter", "You", picked, chair,
        polyline(body, class_="limbs"), line(*at(-0.085, -0.09), *at(-0.09, -head.eyes_to_shoulders_m), class_="neck-line"),
        Node("ellipse", cx=x, cy=y, rx=0.095 * sheet.scale, ry=(head.eyes_to_crown_m + head.eyes_to_chin_m) / 2 * sheet.scale, class_="head"),
        path(f"M{eye[0] - 1:.1f},{eye[1]:.1f} L{nose[0]:.1f},{nose[1]:.1f} L{eye[0] + 1:.1f},{nose[1] + 2:.1f}", class_="nose"),
        circle(eye[0], eye[1], 2.2, class_="eye"),
    )  # fmt: skip


def _screen(setup: Setup, screen: Screen, sheet: Sheet, picked: str) -> Node:
    pane = screen_pane(screen)
    parts: list[Node] = []
    if screen.kind == "laptop":
        hinge, out = vector(screen.position), direction(screen.yaw_deg)
        top = lid_place(screen, screen.bezel_m + screen.height_m + 0.015)
        parts.append(line(*sheet.at(hinge), *sheet.at(hinge + 0.21 * out), class_="laptop-body"))
        parts.append(line(*sheet.at(hinge), *sheet.at(top), class_="screen"))
        pile = hinge[2] - setup.desk.height_m
        if pile > 0.008:
            (x1, y1), (x2, y2) = sheet.at(hinge), sheet.at(hinge + 0.21 * out - pile * UP)
            parts.insert(0, rect(min(x1, x2), y1 + 2, abs(x2 - x1), y2 - y1 - 2, class_="pile"))
        parts.append(line(*sheet.at(hinge), *sheet.at(top), class_="grip"))
    else:
        ends = sheet.at(pane.at(0.5, 0)), sheet.at(pane.at(0.5, 1))
        foot_x, foot_y = sheet.at(np.array([pane.middle[0], pane.middle[1], setup.desk.height_m]))
        if screen.kind == "monitor" and foot_y > ends[1][1]:
            parts.append(line(ends[1][0], ends[1][1], foot_x, foot_y, class_="stand"))
        parts += [line(*ends[0], *ends[1], class_="screen"), line(*ends[0], *ends[1], class_="grip")]
    return thing(setup, f"screens/{screen.id}", screen.name, picked, *parts)


def _cameras(setup: Setup, sheet: Sheet, picked: str) -> Node:
    things = []
    for camera in setup.cameras:
        pose = camera_pose(setup, camera)
        x, y = sheet.at(pose.place)
        stand = None
        if camera.mount in ("tripod", "holder", "arm"):
            base = setup.desk.height_m if camera.mount != "tripod" else 0.0
            stand = line(x, y, x, sheet.at(np.array([pose.place[0], pose.place[1], base]))[1], class_="stand")
        things.append(
            thing(
                setup,
                f"cameras/{camera.id}",
                camera.name,
                picked,
                stand,
                circle(x, y, 5, class_="camera"),
                circle(x, y, GRIP, class_="grip"),
            )
        )
    return group(*things)


def _lamp(setup: Setup, light: Light, sheet: Sheet, picked: str) -> Node | None:
    x, y = sheet.at(vector(light.position))
    if not (-10 < x < WIDTH + 10 and -6 < y < HEIGHT):
        return None
    lit = light.on and light.dim > 0 and light.flux_lm > 0
    shape = [circle(x, y, 7, class_="lamp is-on" if lit else "lamp")]
    if light.kind != "bulb":
        dx, dy = sheet.along(direction(light.aim_yaw_deg, light.aim_tilt_deg))
        size = math.hypot(dx, dy)
        if size > 0.2 * sheet.scale:
            shape.append(line(x, y, x + 15 * dx / size, y + 15 * dy / size, class_="lamp-aim"))
    if not lit:
        shape.append(line(x - 5, y + 5, x + 5, y - 5, class_="off-stroke"))
    return thing(setup, f"lights/{light.id}", f"{light.name}, {'on' if lit else 'off'}", picked, *shape, circle(x, y, GRIP, class_="grip"))


def _microphones(setup: Setup, sheet: Sheet, picked: str) -> Node:
    things = []
    for microphone in setup.microphones:
        if microphone.at == "screen":
            continue
        x, y = sheet.at(microphone_place(setup, microphone))
        used = "microphone is-on" if microphone.in_use else "microphone"
        things.append(
            thing(
                setup,
                f"microphones/{microphone.id}",
                microphone.name,
                picked,
                rect(x - 3, y - 5, 6, 10, rx=3, class_=used),
                circle(x, y, GRIP, class_="grip"),
            )
        )
    return group(*things)


def _angle(appraisal: Appraisal, sheet: Sheet, captions: Captions) -> Node:
    """The level line from the eyes, the line to the lens, and how far the lens is off the wanted height."""
    setup, face = appraisal.setup, scene_of(appraisal.setup).face
    lens = scene_of(setup).lens.place
    measure = appraisal.measures["frame.view_angle"]
    view_deg = measure.value or 0.0
    away = float((lens - face.eyes) @ face.forward)
    wanted = face.eyes[2] + away * math.tan(math.radians(VIEW_ANGLE_AIM_DEG[setup.preferences.camera_height]))
    (x, y), (ex, ey), (_, wy) = sheet.at(lens), sheet.at(face.eyes), sheet.at(np.array([0, 0, wanted]))
    off_m = lens[2] - wanted
    parts: list[Node | None] = [line(ex, ey, min(x, ex) - 14, ey, class_="level-line"), line(ex, ey, x, y, class_="sight")]
    if not (measure.band and measure.band.holds(view_deg)) and away > 0.05:
        text = f"{length(abs(off_m), setup.preferences.units)} too {'low' if off_m < 0 else 'high'}"
        parts.append(group(line(x - 24, y, x - 24, wy), line(x - 28, y, x - 20, y), line(x - 28, wy, x - 20, wy), class_="fault-line"))
        captions.figure(x - 33, (y + wy) / 2 + 4, text, "fault-text", "end", rank=PLACED)
    word = "looks up" if view_deg < 0 else "looks down"
    captions.figure((x + ex) / 2, min(y, ey) - 7, f"{word} {degrees(abs(view_deg))}", "gaze-text", "middle")
    return group(*parts)


def _dimensions(appraisal: Appraisal, sheet: Sheet, stage: str, captions: Captions) -> Node | None:
    setup, face = appraisal.setup, scene_of(appraisal.setup).face
    units = setup.preferences.units
    if "voice line" in layers(stage) and setup.microphone_in_use is not None:
        return voice_line(appraisal, sheet, captions, 10)
    lens = scene_of(setup).lens.place
    away_m = float(np.linalg.norm(lens - face.eyes))
    (x1, _), (x2, _) = sheet.at(lens), sheet.at(face.eyes)
    return dimension(captions, (x1, FOOT + 15), (x2, FOOT + 15), f"{length(away_m, units)} lens to eyes")
