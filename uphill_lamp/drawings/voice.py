"""Sound on the plan: where a microphone listens, and how far a voice carries before the room is as loud."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import PATTERN_P
from uphill_lamp.core.scene.placing import microphone_axis, microphone_place
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction
from uphill_lamp.core.scene.wording import length
from uphill_lamp.drawings.captions import Captions
from uphill_lamp.drawings.sheet import Sheet, dimension
from uphill_lamp.drawings.svg import Node, circle, group, polyline

PATTERN_M = 0.35  # drawn so far out where a microphone listens best
LEAST_LINE_M = 0.12  # a shorter line would lie under what it ends at
RINGS_DB = (0.0, 8.0)  # the voice over the room at each ring: alike, and as much as is wanted


def pattern(setup: Setup, sheet: Sheet) -> Node | None:
    """How much the microphone in use hears from each side."""
    microphone = setup.microphone_in_use
    if microphone is None:
        return None
    place, axis = microphone_place(setup, microphone), microphone_axis(setup, microphone)
    p, yaw = PATTERN_P[microphone.pattern], math.degrees(math.atan2(axis[0], axis[1]))
    turns = np.linspace(0, 360, 49)
    points = [sheet.at(place + PATTERN_M * abs(p + (1 - p) * math.cos(math.radians(turn))) * direction(yaw + turn)) for turn in turns]
    return polyline(points, class_="pattern")


def voice_line(appraisal: Appraisal, sheet: Sheet, captions: Captions, off: float) -> Node | None:
    """From the lips to the microphone in use with its length, ``off`` units to the side; none where they lie over each other."""
    setup, heard = appraisal.setup, appraisal.heard
    if heard is None or setup.microphone_in_use is None:
        return None
    lips, place = sheet.at(scene_of(setup).face.lips), sheet.at(microphone_place(setup, setup.microphone_in_use))
    if math.dist(lips, place) < LEAST_LINE_M * sheet.scale:
        return None
    return dimension(captions, lips, place, length(heard.path.distance_m, setup.preferences.units), off, class_="dimension voice-line")


def reach_rings(appraisal: Appraisal, sheet: Sheet, captions: Captions) -> Node | None:
    """Round the mouth: how near this microphone has to be for the voice to stand 8 dB over the room, and where both are alike."""
    heard = appraisal.heard
    if heard is None:
        return None
    x, y = sheet.at(scene_of(appraisal.setup).face.lips)
    rings: list[Node] = []
    for over_db in RINGS_DB:
        radius = heard.critical_distance_m * 10 ** (-over_db / 20) * sheet.scale
        rings.append(circle(x, y, radius, class_="voice-ring is-even" if over_db == 0 else "voice-ring"))
        if over_db == 0:
            captions.beside(x, y, "room as loud as you", "label", radius + 4)
    return group(
        Node("title", "Inside the inner ring this microphone hears you 8 dB over the room; at the outer one the room is as loud"), *rings
    )
