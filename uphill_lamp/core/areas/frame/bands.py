"""Wanted bands of Frame by school (docs/method/frame.md)."""

from __future__ import annotations

from uphill_lamp.core.document.people import Preferences
from uphill_lamp.core.judging import Band

# How much each figure counts in Frame. Heaviest is what viewers complain of first: seen eye to eye, and large enough to be read.
WEIGHTS = {
    "frame.view_angle": (3.0, "looked up at or down on, nobody feels met"),
    "frame.head_share": (3.0, "a face too small is not read, one too large crowds"),
    "frame.eye_line": (2.0, "eyes low in the picture look sunk"),
    "frame.headroom": (2.0, "a cut head, or much air over it, is seen at once"),
    "frame.side_position": (1.0, "aside matters less as long as all of the face is there"),
    "frame.roll": (1.0, "a leaning picture unsettles and is quickly mended"),
    "frame.perspective": (1.0, "a large nose is noticed, and forgiven"),
    "frame.bars": (2.0, "what stays black is picture thrown away"),
    "frame.head_kept": (2.0, "a square that cuts the head cuts the person"),
    "frame.shake": (1.0, "a picture that trembles at each key is all that is seen"),
    "frame.keys": (0.5, "raised keys tire hands within the hour"),
}
VIEW_ANGLE = {"eye_level": Band(-1, 3, -6, 12), "slightly_above": Band(2, 8, -3, 15)}
VIEW_ANGLE_AIM_DEG = {"eye_level": 1.0, "slightly_above": 5.0}
ROLL = Band(-0.5, 0.5, -3, 3)
EYE_LINE = {
    "call_tile": Band(0.28, 0.40, 0.15, 0.52),
    "head_and_shoulders": Band(0.28, 0.40, 0.15, 0.52),
    "waist": Band(0.24, 0.38, 0.15, 0.52),
}
HEAD_SHARE = {
    "call_tile": Band(0.40, 0.52, 0.25, 0.68),
    "head_and_shoulders": Band(0.32, 0.42, 0.20, 0.55),
    "waist": Band(0.22, 0.30, 0.14, 0.42),
}
HEADROOM = {
    "call_tile": Band(0.03, 0.15, -0.03, 0.26),
    "head_and_shoulders": Band(0.08, 0.20, 0.0, 0.31),
    "waist": Band(0.11, 0.26, 0.02, 0.36),
}
SIDE_CENTRED = Band(0.46, 0.54, 0.35, 0.65)
SIDE_LEFT_THIRD = Band(0.30, 0.37, 0.22, 0.45)
SIDE_RIGHT_THIRD = Band(0.63, 0.70, 0.55, 0.78)
BARS = Band(None, 0.0, None, 0.4)
HEAD_KEPT = Band(1.0, None, 0.9, None)
SHAKE = Band(None, 0.0005, None, 0.004)
KEYS_M = Band(None, 0.05, None, 0.35)
PERSPECTIVE = Band(None, 1.18, None, 1.40)


def side_band(preferences: Preferences, looking_right: bool) -> Band:
    """Where the eyes should stand across the picture.

    Args:
        preferences: the school chosen.
        looking_right: whether the face turns to the right edge of the picture, which then gets the room.
    """
    if preferences.side_position == "centred":
        return SIDE_CENTRED
    return SIDE_LEFT_THIRD if looking_right else SIDE_RIGHT_THIRD


def wanted_eye_line(preferences: Preferences, head_share: float) -> float:
    """Eye line that serves eyes and headroom together for a head of this size in the picture [share from the top]."""
    eye, room = EYE_LINE[preferences.shot], HEADROOM[preferences.shot]
    assert eye.ideal_low is not None and eye.ideal_high is not None
    assert room.ideal_low is not None and room.ideal_high is not None
    by_headroom = head_share / 2 + (room.ideal_low + room.ideal_high) / 2
    return min(max(by_headroom, eye.ideal_low + 0.01), eye.ideal_high - 0.01)
