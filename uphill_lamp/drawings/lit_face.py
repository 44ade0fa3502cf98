"""The face drawn large with the light on its points, in lux and in stops against the front."""

from __future__ import annotations

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.light.measures import stops
from uphill_lamp.core.scene.wording import lux
from uphill_lamp.drawings.level_colours import colour_of
from uphill_lamp.drawings.svg import Node, SvgText, circle, drawing, group, line, path, words

WIDTH, HEIGHT = 344.0, 196.0
# Where each point lies on the drawn face, where its words stand, and on which side of the point they begin. As the others see you:
# your left cheek is on the right.
SPOTS = {
    "top": ((172.0, 20.0), (226.0, 20.0), "start"), "brow": ((172.0, 62.0), (96.0, 50.0), "end"), "front": ((172.0, 104.0), (96.0, 112.0), "end"),
    "left_cheek": ((204.0, 112.0), (250.0, 92.0), "start"), "right_cheek": ((140.0, 112.0), (96.0, 164.0), "end"),
    "under_chin": ((172.0, 170.0), (250.0, 166.0), "start"),
}  # fmt: skip
NAMES = {
    "top": "crown",
    "brow": "brow",
    "front": "front",
    "left_cheek": "left cheek",
    "right_cheek": "right cheek",
    "under_chin": "under the chin",
}


def lit_face(appraisal: Appraisal) -> SvgText:
    """The face from the front, a disc at each point in the colour of its level."""
    levels_lx = appraisal.lit_scene.face_lx
    parts: list[Node] = [
        path("M172,22 C222,22 232,66 228,104 C224,146 200,172 172,172 C144,172 120,146 116,104 C112,66 122,22 172,22 Z", class_="head"),
        path("M116,96 q-11,4 -8,18 q3,13 14,12 M228,96 q11,4 8,18 q-3,13 -14,12", class_="nose"),
        path("M144,88 h16 M184,88 h16 M172,92 l-5,24 h10 M156,142 q16,9 32,0", class_="nose"),
    ]
    for name, ((x, y), (tx, ty), anchor) in SPOTS.items():
        level = levels_lx[name]
        against = "" if name == "front" else f" {stops(level, levels_lx['front']):+.1f}".replace("-", "\u2212")
        parts += [
            line(x, y, tx - 4 if anchor == "start" else tx + 4, ty, class_="level-line"),
            group(Node("title", NAMES[name]), circle(x, y, 9, fill=colour_of(level), class_="lit-point")),
            words(tx, ty, f"{lux(level)}{against}", text_anchor=anchor, class_="lit-level"),
            words(tx, ty + 13, NAMES[name], text_anchor=anchor, class_="small"),
        ]
    phrase = ", ".join(f"{NAMES[name]} {lux(levels_lx[name])}" for name in SPOTS)
    return drawing(WIDTH, HEIGHT, f"Light on your face: {phrase}; stops against the front", *parts, class_="lit-face", role="img").text()
