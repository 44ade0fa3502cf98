"""Marks: every figure that puts a setup back as it was, how near is near enough, and how to get there without a tape."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.places.marks import marks
from uphill_lamp.core.scene.placing import microphone_place
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.scene.wording import degrees, kelvin, length, percent, the

# How near counts as the same (working values; those of a take against a good one are the same).
EYE_LINE, HEAD_SIZE, ANGLE_DEG, LEVEL_STOPS, WHITE_MIRED, GAIN_DB = 0.02, 0.03, 1.0, 0.4, 25.0, 3.0
FINGER_M, SPAN_M, ARM_M = 0.018, 0.20, 0.65


@dataclass(frozen=True)
class Restored:
    """One thing to put back: of what, how it was, how near is near enough, and how to find it without a tape."""

    what: str
    was: str
    within: str
    how: str


def by_hand(metres: float) -> str:
    """A length for hands without a tape: fingers, spans from thumb to little finger, or arm's lengths."""
    if metres < 2 * SPAN_M / 3:
        count = max(round(metres / FINGER_M), 1)
        return f"{count} finger{'s' if count > 1 else ''}"
    if metres < 1.2:
        spans = round(2 * metres / SPAN_M) / 2
        return f"{spans:g} span{'s' if spans > 1 else ''} of a hand"
    return f"{metres / ARM_M:.1f} arm's lengths"


def to_put_back(appraisal: Appraisal) -> tuple[Restored, ...]:
    """All that puts this setup back, in the order of hands: floor, chair, screen and camera, lamps, microphone, windows on the screen."""
    setup = appraisal.setup
    return (*_floor(setup), *_screens(setup), *_camera(appraisal), *_lamps(setup), *_microphone(setup), *_windows(setup))


def _floor(setup: Setup) -> Iterator[Restored]:
    for mark in marks(setup):
        yield Restored(mark.what, mark.words, _away(setup, 0.03), "Two strips of tape on the floor, one along each edge.")
    if setup.desk.height_range is not None:
        yield Restored(
            "The desk's top above the floor",
            _m(setup, setup.desk.height_m),
            _away(setup, 0.01),
            "The figure it shows, or a strip on its leg.",
        )
    eyes_m = setup.presenter.eye_height_m
    yield Restored(
        "Your eyes above the floor",
        _m(setup, eyes_m),
        _away(setup, 0.02),
        "A strip on the wall behind, where your hair ends in the mirror of the screen.",
    )


def _screens(setup: Setup) -> Iterator[Restored]:
    for screen in setup.screens:
        if not screen.on or screen.kind == "projection":
            continue
        if screen.hinge_deg is not None:
            above_m = screen.position.z_m - setup.desk.height_m
            if above_m > 0.03:
                yield Restored(
                    f"Hinge of {the(screen.name)} above the desk",
                    _m(setup, above_m),
                    _away(setup, 0.01),
                    f"{by_hand(above_m)} on the books under it.",
                )
            yield Restored(
                f"Lid of {the(screen.name)}",
                degrees(screen.hinge_deg),
                degrees(ANGLE_DEG),
                f"{_lid(screen.hinge_deg)} A strip on the desk where its upper edge stands over.",
            )
        else:
            yield Restored(
                f"Middle of {the(screen.name)} above the desk",
                _m(setup, screen.position.z_m - setup.desk.height_m),
                _away(setup, 0.01),
                "A strip on its stand.",
            )


def _lid(hinge_deg: float) -> str:
    lean = hinge_deg - 90
    return f"Upright and {abs(lean):.0f}° {'back' if lean > 0 else 'forward'}." if abs(lean) >= 1 else "Upright."


def _camera(appraisal: Appraisal) -> Iterator[Restored]:
    setup, camera, scene = appraisal.setup, appraisal.setup.main_camera, scene_of(appraisal.setup)
    away_m = float(np.linalg.norm(scene.pinhole.place - scene.face.eyes))
    yield Restored(
        "Lens to your eyes",
        _m(setup, away_m),
        f"{100 * HEAD_SIZE:.0f} % of it",
        f"{by_hand(away_m)}; a cord of that length, knotted at its end.",
    )
    yield Restored(
        "Lens above the desk",
        _m(setup, float(scene.pinhole.place[2]) - setup.desk.height_m),
        _away(setup, 0.01),
        "Fingers on its stand, or a strip round it.",
    )
    if camera.tilt_deg is not None:
        way = "up" if camera.tilt_deg > 0 else "down"
        yield Restored(
            f"Tilt of {the(camera.name)}",
            f"{degrees(abs(camera.tilt_deg))} {way}",
            degrees(ANGLE_DEG),
            "By the eye line: it moves with the tilt.",
        )
    line = appraisal.measures.get("frame.eye_line")
    if line is not None and line.value is not None:
        yield Restored(
            "Eye line in the picture",
            f"{percent(float(line.value))} from the top",
            percent(EYE_LINE),
            "Yesterday's picture beside today's, in Check.",
        )
    if camera.zoom != 1:
        yield Restored(
            "Zoom", f"{camera.zoom:g} times", f"{100 * HEAD_SIZE:.0f} % of it", "By the size of your head beside the last good take."
        )
    if camera.white_balance.cct_k:
        yield Restored(
            "The camera's white",
            kelvin(camera.white_balance.cct_k),
            _white_k(camera.white_balance.cct_k),
            "On white paper in your light, then locked.",
        )


def _lamps(setup: Setup) -> Iterator[Restored]:
    eyes = scene_of(setup).face.eyes
    for light in setup.lights:
        if not light.on or light.stands in ("ceiling", "wall"):
            continue
        place = vector(light.position)
        foot, above_m = (0.0, place[2]) if light.stands == "floor" else (setup.desk.height_m, place[2] - setup.desk.height_m)
        on = "the floor" if foot == 0 else "the desk"
        away_m = float(np.linalg.norm(place - eyes))
        yield Restored(
            f"{light.name}, height above {on}",
            _m(setup, float(above_m)),
            _away(setup, 0.03),
            f"{by_hand(float(above_m))}; a strip on its stand.",
        )
        yield Restored(
            f"{light.name}, from your eyes",
            _m(setup, away_m),
            f"{100 * (2 ** (LEVEL_STOPS / 2) - 1):.0f} % of it",
            f"{by_hand(away_m)}: light falls with the square of it.",
        )
        if light.dim < 1:
            yield Restored(
                f"{light.name}, how bright",
                percent(light.dim),
                f"{100 * (2**LEVEL_STOPS - 1):.0f} % of it",
                "A dot on its dial, or the figure it shows.",
            )
        if light.kind in ("panel", "ring", "strip"):
            yield Restored(
                f"{light.name}, its white", kelvin(light.cct_k), _white_k(light.cct_k), "A dot on its dial, or the figure it shows."
            )


def _microphone(setup: Setup) -> Iterator[Restored]:
    microphone = setup.microphone_in_use
    if microphone is None or microphone.at == "screen":
        return
    away_m = float(np.linalg.norm(microphone_place(setup, microphone) - scene_of(setup).face.lips))
    yield Restored(
        f"{microphone.name}, from your mouth",
        _m(setup, away_m),
        f"{100 * (1 - 10 ** (-GAIN_DB / 20)):.0f} % of it",
        f"{by_hand(away_m)}, from the lips.",
    )
    yield Restored(
        f"{microphone.name}, its gain",
        "as it is now: note it here",
        f"{GAIN_DB:g} dB",
        "A dot on its dial; or until the bar stands where it did.",
    )


def _windows(setup: Setup) -> Iterator[Restored]:
    for screen in setup.screens:
        for window in screen.windows if screen.on else ():
            if window.shows in ("call", "notes", "slides"):
                yield Restored(
                    f"{window.name} on {the(screen.name)}",
                    f"{window.left_px} × {window.top_px} px, {window.width_px} × {window.height_px} px large",
                    "a finger",
                    "Its corner on a dot at the edge of the screen.",
                )


def _white_k(cct_k: float) -> str:
    """How far a white may be off, in kelvins at that white: a mired there is so many of them."""
    return kelvin(round(WHITE_MIRED * cct_k**2 / 1e6, -1))


def _m(setup: Setup, metres: float) -> str:
    return length(metres, setup.preferences.units)


def _away(setup: Setup, metres: float) -> str:
    return length(metres, setup.preferences.units)
