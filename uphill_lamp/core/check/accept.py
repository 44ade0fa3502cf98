"""What a take tells that the plan only assumed: each as a patch whose values count as measured from then on."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Noise
from uphill_lamp.core.scene.aiming import tilted_to
from uphill_lamp.core.scene.body import head_frame
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.wording import degrees, the

LEAST_BANDS = 4  # of seven octaves: what is between and beside them follows its neighbours
MOST_TILT_DEG = 80.0
LEAST_NOISE_DB, MOST_NOISE_DB = 0.0, 110.0


@dataclass(frozen=True)
class Taken:
    """What a figure brings to the plan: in words, and as a patch; ``tolerance`` in the value's own unit."""

    words: str
    patch: Patch
    tolerance: float | None


def acceptable(appraisal: Appraisal, report: Mapping[str, Any]) -> dict[str, Taken]:
    """By a figure's id, what of it can be taken over."""
    figures = {figure["id"]: figure for figure in report["figures"] if figure["value"] is not None}
    makers = {"picture.eye_line": _tilt, "picture.roll": _roll, "sound.t20_s": _reverberation, "sound.snr_a_db": _noise}
    made = {name: maker(appraisal, figures[name]) for name, maker in makers.items() if name in figures}
    return {name: taken for name, taken in made.items() if taken is not None}


def _tilt(appraisal: Appraisal, figure: Mapping[str, Any]) -> Taken | None:
    """The tilt, or the lid, that puts the eyes where they are."""
    patch = tilted_to(appraisal.setup, float(figure["value"]))
    if not patch:
        return None
    path, value = str(patch[0]["path"]), float(patch[0]["value"])
    what = "the lid stands at" if path.endswith("hinge_deg") else "the camera is tilted by"
    # Half a percent of the picture's height, of a field some 45 degrees high.
    return Taken(f"{what} {_minus(degrees(value))}", patch, 0.5)


def _roll(appraisal: Appraisal, figure: Mapping[str, Any]) -> Taken | None:
    expected = eye_lean_deg(appraisal.setup)
    if expected is None:
        return None
    value = round(appraisal.setup.main_camera.roll_deg + float(figure["value"]) - expected, 1)
    path = f"/cameras/{appraisal.setup.main_camera.id}/roll_deg"
    return (
        Taken(f"the camera leans by {_minus(degrees(value))}", (replace(path, value),), float(figure["tolerance"] or 0))
        if abs(value) <= 45
        else None
    )


def _minus(text: str) -> str:
    return text.replace("-", "−")


def eye_lean_deg(setup: Setup) -> float | None:
    """How far the picture leans by the line through the eyes, clockwise positive [deg]; None where they are not before the lens.

    A face that is turned a little and seen from below has one eye lower than the other, however level the camera stands.
    """
    face, half_m = scene_of(setup).face, setup.presenter.head.pupils_m / 2
    pinhole = scene_of(setup).pinhole
    left, right = pinhole.project(np.array([face.at(0, half_m, 0), face.at(0, -half_m, 0)]))
    way = (left - right) * (pinhole.field.aspect, 1.0)
    return None if np.isnan(way).any() else -math.degrees(math.atan2(float(way[1]), float(way[0])))


def head_turn_deg(setup: Setup) -> float:
    """How far the face is turned to its own left of the lens [deg]."""
    scene = scene_of(setup)
    forward, left, _ = head_frame(scene.face) @ (scene.pinhole.place - scene.face.eyes)
    return -math.degrees(math.atan2(left, forward))


def _reverberation(appraisal: Appraisal, figure: Mapping[str, Any]) -> Taken | None:
    """The reverberation time of all octaves; one that drowned in noise is that of the nearest that did not."""
    bands = [band["s"] for band in figure["value"]]
    known = [index for index, value in enumerate(bands) if value is not None]
    if len(bands) != 7 or len(known) < LEAST_BANDS:
        return None
    whole = [bands[min(known, key=lambda other, index=index: abs(other - index))] for index in range(7)]  # type: ignore[misc]
    if not all(0.03 <= value <= 20 for value in whole):
        return None
    middle = (whole[2] + whole[3]) / 2
    return Taken(
        f"the room rings for {middle:.2f} s", (replace("/room/measured_t60_s", [round(value, 3) for value in whole]),), 0.12 * middle
    )


def _noise(appraisal: Appraisal, figure: Mapping[str, Any]) -> Taken | None:
    """The loudest steady noise made louder or quieter until the voice stands as far over it as was heard."""
    heard = appraisal.heard
    steady = [noise for noise in appraisal.setup.noises if noise.steady]
    if heard is None or not steady:
        return None
    noise: Noise = max(steady, key=lambda noise: noise.level_db_a)
    level = noise.level_db_a + heard.snr_db - float(figure["value"])
    if not LEAST_NOISE_DB <= level <= MOST_NOISE_DB:
        return None
    return Taken(f"{the(noise.name)} at {level:.0f} dB(A)", (replace(f"/noises/{noise.id}/level_db_a", round(level, 1)),), 3.0)
