"""What can be taken in hand, from above."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.document.devices import Light, Microphone, Reflector, Screen
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import (
    Pane,
    camera_pose,
    door_pane,
    microphone_place,
    reflector_pane,
    screen_pane,
    window_pane,
)  # fmt: skip
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction, right_of, vector
from uphill_lamp.core.scene.view import backdrop_panes
from uphill_lamp.drawings.captions import Captions
from uphill_lamp.drawings.sheet import Sheet, thing
from uphill_lamp.drawings.svg import Node, circle, group, line, path, polygon, rect

GRIP = 13.0  # round what is small, so that a finger finds it [units]


def _pane_line(pane: Pane, sheet: Sheet, **attributes: str) -> Node:
    (x1, y1), (x2, y2) = sheet.at(pane.at(0, 0.5)), sheet.at(pane.at(1, 0.5))
    return line(x1, y1, x2, y2, **attributes)


def windows(setup: Setup, sheet: Sheet, picked: str) -> Node:
    """The panes in their walls."""
    return group(
        *(
            thing(setup, f"windows/{window.id}", window.name, picked, _pane_line(window_pane(setup.room, window), sheet, class_="pane"),
                  _pane_line(window_pane(setup.room, window), sheet, class_="grip"))
            for window in setup.room.windows
        )
    )  # fmt: skip


def doors(setup: Setup, sheet: Sheet, picked: str) -> Node:
    """Doors in their walls: a gap with the leaf, open into the room or shut."""
    drawn = []
    for door in setup.room.doors:
        pane = door_pane(setup.room, door)
        leaf = _pane_line(pane, sheet, class_="door-leaf")
        if door.stands_open:
            (x1, y1), (x2, y2) = sheet.at(pane.at(0, 0.5)), sheet.at(pane.at(0, 0.5) + door.width_m * pane.normal)
            leaf = line(x1, y1, x2, y2, class_="door-leaf")
        grips = _pane_line(pane, sheet, class_="door"), leaf, _pane_line(pane, sheet, class_="grip")
        drawn.append(thing(setup, f"doors/{door.id}", door.name, picked, *grips))
    return group(*drawn)


def backdrop(setup: Setup, sheet: Sheet, picked: str, captions: Captions) -> Node:
    """What hangs or stands behind, with its name."""
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


def desk_top(setup: Setup, sheet: Sheet, picked: str) -> Node:
    """The desk's top; once it is selected its edges can be dragged."""
    desk, ahead, right = setup.desk, direction(setup.desk.yaw_deg), right_of(setup.desk.yaw_deg)
    middle = np.array([desk.x_m, desk.y_m, 0.0])
    corners = [middle + a * desk.width_m / 2 * right + b * desk.depth_m / 2 * ahead for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    top = thing(setup, "desk", "Desk", picked, polygon([sheet.at(corner) for corner in corners], class_="desk"))
    if picked != "desk":
        return top
    near, right_edge, far, left = ((corners[index], corners[(index + 1) % 4]) for index in range(4))
    edges = {"near": near, "right": right_edge, "far": far, "left": left}
    return group(top, *(
        thing(setup, f"edges/{name}", f"The desk's {name} edge", picked, line(*sheet.at(begin), *sheet.at(end), class_="edge"),
              line(*sheet.at(begin), *sheet.at(end), class_="grip"))
        for name, (begin, end) in edges.items()
    ))  # fmt: skip


def screen_line(setup: Setup, screen: Screen, sheet: Sheet, picked: str) -> Node:
    """A screen's edge; a laptop with its base."""
    pane = screen_pane(screen)
    parts = [_pane_line(pane, sheet, class_="screen"), _pane_line(pane, sheet, class_="grip")]
    if screen.kind == "laptop":
        out, side = direction(screen.yaw_deg), right_of(screen.yaw_deg)
        hinge, half, deep = vector(screen.position), screen.width_m / 2, 0.21
        base = [hinge - half * side, hinge + half * side, hinge + half * side + deep * out, hinge - half * side + deep * out]
        parts.insert(0, polygon([sheet.at(corner) for corner in base], class_="laptop-base"))
    return thing(setup, f"screens/{screen.id}", screen.name, picked, *parts)


def presenter_shape(setup: Setup, sheet: Sheet, picked: str) -> Node:
    """Head and shoulders, with the nose to where they face."""
    face, presenter = scene_of(setup).face, setup.presenter
    middle = face.at(-0.085, 0, 0)
    x, y = sheet.at(middle)
    yaw = presenter.facing_yaw_deg
    shoulders = presenter.head.shoulders_m / 2 * sheet.scale
    side, foot, tip = 0.025 * sheet.scale, 0.085 * sheet.scale, 0.125 * sheet.scale
    return thing(
        setup, "presenter", "You", picked,
        group(
            Node("ellipse", cx=0, cy=2.0, rx=shoulders, ry=0.11 * sheet.scale, class_="shoulders"),
            Node("ellipse", cx=0, cy=0, rx=presenter.head.breadth_m / 2 * sheet.scale, ry=0.1 * sheet.scale, class_="head"),
            path(f"M{-side:.1f},{-foot:.1f} L0,{-tip:.1f} L{side:.1f},{-foot:.1f}", class_="nose"),
            transform=f"translate({x:.1f} {y:.1f}) rotate({yaw:.1f})",
        ),
    )  # fmt: skip


def cameras(setup: Setup, sheet: Sheet, picked: str) -> Node:
    """Lenses, each with its aim."""
    things = []
    for camera in setup.cameras:
        pose = camera_pose(setup, camera)
        x, y = sheet.at(pose.place)
        things.append(
            thing(setup, f"cameras/{camera.id}", camera.name, picked,
                  group(circle(0, 0, 5, class_="camera"), path("M-3,-4 L0,-9 L3,-4 Z", class_="camera-aim"),
                      transform=f"translate({x:.1f} {y:.1f}) rotate({pose.yaw_deg:.1f})"),
                  circle(x, y, GRIP, class_="grip"))
        )  # fmt: skip
    return group(*things)


def lamp(setup: Setup, light: Light, sheet: Sheet, picked: str, captions: Captions) -> Node:
    """A lamp: filled while it shines, struck through while it is off."""
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


def reflector(setup: Setup, board: Reflector, sheet: Sheet, picked: str, captions: Captions) -> Node:
    """A white sheet's edge."""
    pane = reflector_pane(board)
    x, y = sheet.at(pane.middle)
    parts = [_pane_line(pane, sheet, class_="white-sheet"), _pane_line(pane, sheet, class_="grip")]
    captions.name(x, y, board.name, 10, picked == f"reflectors/{board.id}")
    return thing(setup, f"reflectors/{board.id}", board.name, picked, *parts)


def microphone_shape(setup: Setup, microphone: Microphone, sheet: Sheet, picked: str) -> Node:
    """A microphone; filled while it is in use."""
    x, y = sheet.at(microphone_place(setup, microphone))
    if microphone.at == "screen":
        x += 13  # beside the lens it shares its place with
    used = "microphone is-on" if microphone.in_use else "microphone"
    return thing(setup, f"microphones/{microphone.id}", microphone.name + ("" if microphone.in_use else ", not in use"), picked,
                 rect(x - 3, y - 5, 6, 10, rx=3, class_=used), circle(x, y, GRIP, class_="grip"))  # fmt: skip


def noises(setup: Setup, sheet: Sheet, picked: str, captions: Captions) -> list[Node]:
    """What is heard, where it stands."""
    things = []
    for noise in setup.noises:
        if noise.position is not None:
            x, y = sheet.at(vector(noise.position))
            arcs = "M-3,-5 q4,5 0,10 M1,-7 q6,7 0,14"
            things.append(thing(setup, f"noises/{noise.id}", noise.name, picked, group(path(arcs, class_="noise"), transform=f"translate({x:.1f} {y:.1f})"),
                                circle(x, y, GRIP, class_="grip")))  # fmt: skip
            captions.name(x, y, noise.name, 12, picked == f"noises/{noise.id}")
    return things
