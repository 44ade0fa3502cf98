"""A picture or a sound of somebody without a setup: what is wanting in it by what is usual, and the move that mends it anywhere."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from uphill_lamp.core.areas.frame import bands
from uphill_lamp.core.check.causes import USUAL
from uphill_lamp.core.check.sheet import BROKEN, ROWS, broken, shown_value
from uphill_lamp.core.judging import WANTING, Band

SHOTS = {
    "call_tile": "A call: head and shoulders fill a tile",
    "head_and_shoulders": "A webinar or lesson, a little wider",
    "waist": "Down to the waist, with hands",
}
# Bands of figures that no setup tells; working values, each with the move below and the move above it.
HALVES = Band(None, 1.6, None, 3.0)
BACKDROP = Band(0.0, 3.5, -2.0, 6.0)
BURNT_OUT = Band(None, 0.02, None, 0.15)
CRUSHED = Band(None, 0.08, None, 0.4)
FACE_BURNT = Band(None, 0.01, None, 0.1)
VIEW_ANGLE = Band(-6.0, 10.0, -20.0, 25.0)  # wider than Frame's own: a face may have looked down or up
NOISE = Band(None, 1.2, None, 4.0)
SHARPNESS = Band(None, 0.045, None, 0.12)
OVER_NOISE = Band(22.0, None, 8.0, None)
PEAK = Band(None, -1.0, None, 1.0)
SPEECH = Band(-32.0, -16.0, -45.0, -8.0)
RINGS = Band(None, 0.45, None, 1.2)
EDGE = Band(10_000.0, None, 3_000.0, None)
RATE = Band(24.0, None, 12.0, None)
PUMPING = Band(None, 0.3, None, 1.0)
WHITE = Band(None, 0.15, None, 0.6)
HUNTING = Band(None, 0.05, None, 0.4)
SHAKE = Band(None, 1.0, None, 5.0)
LATE = Band(-45.0, 125.0, -200.0, 300.0)
MOVES = {
    "picture.eye_line": ("Tilt the camera up a little, or sit lower.", "Tilt the camera down a little, or raise your seat or lower the lens."),
    "picture.headroom": ("Tilt the camera up, or sit further away.", "Tilt the camera down, or come nearer."),
    "picture.head_share": ("Come nearer, or zoom in.", "Sit further away, or zoom out."),
    "picture.side_position": ("Turn the camera, or move to the picture's middle.", "Turn the camera, or move to the picture's middle."),
    "picture.roll": ("Turn the camera clockwise until it is level.", "Turn the camera anticlockwise until it is level."),
    "picture.head_turn": ("Turn to your left, or put the lens where you look.", "Turn to your right, or put the lens where you look."),
    "picture.view_angle": ("Put the lens higher, on books or a box: it looks up at the face.", "Put the lens lower, or sit higher: it looks down on the face."),
    "picture.room_lean": ("Turn the camera clockwise until doors stand upright.", "Turn the camera anticlockwise until doors stand upright."),
    "picture.crushed": ("", "Light what is black: a lamp on the wall behind, or turn the exposure up."),
    "picture.face_burnt": ("", "Turn the exposure down by half a stop, or the lamp away from your face."),
    "picture.halves": ("", "Put a white sheet, or a second lamp, on the darker side."),
    "picture.backdrop": ("Put a lamp in front of you, or turn so that the window is in front.", "Some light on the wall behind sets you off."),
    "picture.burnt_out": ("", "Keep lamps and windows out of the picture, or set exposure by your face."),
    "picture.noise": ("", "More light on your face: grain is what a camera makes of too little."),
    "picture.sharpness": ("", "Wipe the lens; then set focus on your eyes."),
    "sound.snr_a_db": ("Come nearer to the microphone, and switch off what hums or blows.", ""),
    "sound.true_peak_dbtp": ("", "Turn the input down by 3 dB."),
    "sound.speech_active_dbfs": ("Turn the input up, or come nearer.", "Turn the input down."),
    "sound.t20_s": ("", "Come nearer to the microphone; hang cloth, or open a full wardrobe, where you speak to."),
    "clip.fps": ("More light on your face: a camera sends fewer pictures when it is dark. Else ask the camera for fewer pixels.", ""),
    "clip.pumping_stops": ("", "Lock the exposure; keep what is bright and moves out of view."),
    "clip.white_drift": ("", "Lock the white."),
    "clip.out_of_focus": ("", "Set the focus to your face, and lock it."),
    "clip.shake_px": ("", "Take the camera off what your hands and feet touch."),
    "clip.sync_ms": ("Delay the sound where the program lets you.", "Use the camera's and the microphone's own plugs, and no wireless way for either."),
    "sound.band_edge_hz": ("Something narrows the sound: a wireless headset in call mode, a telephone line, or noise removal.", ""),
}  # fmt: skip


@dataclass(frozen=True)
class Told:
    """A figure of somebody's: ``state`` good, wanting, alone or refused; ``move`` what mends it."""

    id: str
    label: str
    value: Any
    unit: str
    state: str
    move: str = ""
    refused: str = ""


def general(report: Mapping[str, Any], shot: str) -> tuple[Told, ...]:
    """All figures of a report, judged by what is usual.

    Args:
        report: as ``core.measuring.figure.report`` tells it.
        shot: what the picture is for, one of SHOTS.
    """
    judged = _bands(shot)
    out = []
    for figure in report["figures"]:
        name, row = figure["id"], ROWS.get(figure["id"])
        if row is None:
            continue
        value = shown_value(name, figure["value"])
        state, move = _judged(name, value, judged.get(name), USUAL[name].move if name in BROKEN else "")
        out.append(Told(name, row.label, value, figure["unit"], state, move, figure["refused"]))
    return tuple(out)


def _bands(shot: str) -> dict[str, Band]:
    return {
        "picture.eye_line": bands.EYE_LINE[shot], "picture.headroom": bands.HEADROOM[shot], "picture.head_share": bands.HEAD_SHARE[shot],
        "picture.side_position": Band(0.3, 0.7, 0.15, 0.85), "picture.roll": Band(-1.5, 1.5, -5.0, 5.0), "picture.head_turn": Band(-10.0, 10.0, -35.0, 35.0),
        "picture.view_angle": VIEW_ANGLE,
        "picture.room_lean": Band(-1.0, 1.0, -4.0, 4.0), "picture.crushed": CRUSHED, "picture.face_burnt": FACE_BURNT, "picture.halves": HALVES,
        "picture.backdrop": BACKDROP, "picture.burnt_out": BURNT_OUT, "picture.noise": NOISE, "picture.sharpness": SHARPNESS,
        "sound.snr_a_db": OVER_NOISE, "sound.true_peak_dbtp": PEAK, "sound.speech_active_dbfs": SPEECH, "sound.t20_s": RINGS,
        "sound.band_edge_hz": EDGE, "clip.fps": RATE, "clip.pumping_stops": PUMPING, "clip.white_drift": WHITE,
        "clip.out_of_focus": HUNTING, "clip.shake_px": SHAKE, "clip.sync_ms": LATE,
    }  # fmt: skip


def _judged(name: str, value: Any, band: Band | None, move: str) -> tuple[str, str]:
    if value is None:
        return "refused", ""
    if name in BROKEN:
        return ("wanting", move) if broken(name, value) else ("good", "")
    if band is None or not isinstance(value, float):
        return "alone", ""
    if band.utility(value) >= WANTING:
        return "good", ""
    low = band.ideal_low is not None and value < band.ideal_low
    return "wanting", MOVES[name][0 if low else 1]
