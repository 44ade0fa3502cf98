"""Whether the words of a ladder's steps are so when one does them in order: where lamps stand and are aimed, what the face gets, how clear it is."""

from __future__ import annotations

import re
from unittest import TestCase

import numpy as np

from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.field.sound.clarity import shown_sti
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction, vector
from uphill_lamp.core.scene.wording import lux
from uphill_lamp.core.steps.action import Action
from uphill_lamp.core.steps.ladder import Ladder
from uphill_lamp.core.steps.rungs import Step

LEVEL, AWAY = re.compile(r"Your face then gets (\d+(?:\.\d)? lx)"), re.compile(r"(\d+) cm from your face")
CLARITY = re.compile(r"Clarity (?:rises from (\d\.\d\d) to|stays) (\d\.\d\d)")


def words_hold(test: TestCase, setup: Setup, ladder: Ladder) -> None:
    """Each step, done after those before it."""
    done: list[Action] = []
    for rung in ladder.rungs:
        for step in rung.steps:
            before = _after(setup, ladder, done)
            done = [action for action in done if action not in step.replaces] + [step.action]
            _holds(test, step, before, _after(setup, ladder, done))
        done = list(rung.chosen)


def _after(setup: Setup, ladder: Ladder, done: list[Action]) -> Setup:
    return applied(setup, [operation for action in ladder.actions.values() if action in done for operation in action.patch])


def _holds(test: TestCase, step: Step, before: Setup, after: Setup) -> None:
    title, words = step.action.title, f"{before.name}: {step.action.title}: {step.detail}"
    was, eyes = {light.id: light for light in before.lights}, scene_of(after).face.eyes
    moved = [light for light in after.lights if light.on and light.kind != "bulb" and was.get(light.id) != light]
    for light in moved if len(moved) == 1 else []:
        beyond = eyes - vector(light.position)
        off_deg = np.degrees(np.arccos(np.clip(beyond @ direction(light.aim_yaw_deg, light.aim_tilt_deg) / np.linalg.norm(beyond), -1, 1)))
        if "aim it at your face" in title:
            test.assertLess(off_deg, 3.0, words)
        elif re.search(r"[Aa]im .* at the (wall|ceiling)", title):
            test.assertGreater(off_deg, 10.0, words)
        for away_cm in AWAY.findall(step.detail):
            test.assertAlmostEqual(100 * np.linalg.norm(beyond), float(away_cm), delta=0.6, msg=words)
        if "bulb of" in title or "Ra 90 bulb" in title:
            test.assertEqual(light.drive, "mains", words)
    if found_lx := LEVEL.search(step.detail):
        test.assertEqual(found_lx[1], lux(appraise(after).lit_scene.face_lx["front"]), words)
    if clear := CLARITY.search(step.detail):
        heard = [there and f"{shown_sti(there.sti):.2f}" for there in (appraise(before).heard, appraise(after).heard)]
        test.assertEqual([clear[1] or heard[0], clear[2]], heard, words)
