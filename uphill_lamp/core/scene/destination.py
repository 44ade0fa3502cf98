"""Where the picture ends up: bars, crops, slides beside it, and how large the face is there (docs/method/frame.md)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.people import Call
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.scene import scene_of

WIDE, SQUARE, UPRIGHT = 16 / 9, 1.0, 9 / 16
PLACE_ASPECT = {
    "call_tile": WIDE, "webinar": WIDE, "recorded_lesson": WIDE, "vertical_clip": UPRIGHT, "square": SQUARE, "interview": WIDE,
    "hands_on": WIDE,
}  # fmt: skip
# Width of the picture in a viewer's window of 1280 x 720 px [px]: a tile of nine, alone, upright at full height, or by the slides.
VIEWER_PX = {"call_tile": 426, "vertical_clip": 405, "square": 720}
ALONE_PX, BESIDE_PX, CORNER_PX = 1280, 320, 256
READS_PX = 48.0  # a face lower than this at the viewer shows no expression (working value)
SLIGHT_BARS = 0.03
LEAST_X_PX, X_HEIGHT, SLIDE_PT = (
    5.0,
    0.5,
    540.0,
)  # small letters that are read [px], their share of what they are set in, a slide's height [pt]


@dataclass(frozen=True, slots=True)
class Box:
    """A part of the picture: shares from its left and top edge, 0-1."""

    left: float
    top: float
    right: float
    foot: float

    def holds(self, spot: np.ndarray) -> bool:
        """Whether a place of the picture lies in it."""
        return bool(self.left <= spot[0] <= self.right and self.top <= spot[1] <= self.foot)


def bars_share(picture: float, place: float) -> float:
    """Share of a place that stays empty when a picture of another aspect is shown whole in it [no unit].

    Args:
        picture, place: width by height [no unit].
    """
    return 1 - min(picture / place, place / picture)


def crop_box(picture: float, place: float) -> Box:
    """What a cut from the middle to another aspect leaves of a picture."""
    if picture > place:
        half = place / picture / 2
        return Box(0.5 - half, 0.0, 0.5 + half, 1.0)
    half = picture / place / 2
    return Box(0.0, 0.5 - half, 1.0, 0.5 + half)


def is_cut(call: Call) -> bool:
    """Whether the destination cuts the picture to its aspect (squares do) instead of showing it with bars."""
    return call.destination == "square"


def bars(call: Call) -> float:
    """Share of the destination's place lost to bars [no unit]."""
    return 0.0 if is_cut(call) else bars_share(call.output_aspect, PLACE_ASPECT[call.destination])


def kept_box(call: Call) -> Box:
    """What the destination shows of the picture sent."""
    return crop_box(call.output_aspect, PLACE_ASPECT[call.destination]) if is_cut(call) else Box(0.0, 0.0, 1.0, 1.0)


def head_kept(setup: Setup) -> bool:
    """Whether eyes, chin and both sides of the head are in what the destination shows."""
    kept = head_kept_share(setup)
    return kept is not None and kept > 1 - 1e-9


def head_kept_share(setup: Setup) -> float | None:
    """How much of the head's box, eyes to chin and side to side, lies in what the destination shows, 0-1; None behind the lens."""
    face, box = scene_of(setup).face, kept_box(setup.call)
    half = setup.presenter.head.breadth_m / 2
    spots = scene_of(setup).pinhole.project(np.array([face.eyes, face.chin, face.at(-0.09, half, 0), face.at(-0.09, -half, 0)]))
    if np.isnan(spots).any():
        return None
    (left, top), (right, foot) = spots.min(axis=0), spots.max(axis=0)
    across = max(min(right, box.right) - max(left, box.left), 0.0) / max(right - left, 1e-9)
    down = max(min(foot, box.foot) - max(top, box.top), 0.0) / max(foot - top, 1e-9)
    return float(across * down)


def viewer_px(call: Call) -> float:
    """Width at which a viewer with a window of 1280 x 720 px sees the picture [px]."""
    if call.slides == "beside":
        return BESIDE_PX
    if call.slides == "corner":
        return CORNER_PX
    return VIEWER_PX.get(call.destination, ALONE_PX)


def px_per_height(call: Call) -> float:
    """How high the whole picture is as that viewer sees it [px]: with bars it shrinks to fit its place; cut, it grows to fill it."""
    place_px, picture = viewer_px(call), call.output_aspect
    if call.slides in ("beside", "corner"):
        return place_px / picture
    place_high = place_px / PLACE_ASPECT[call.destination]
    return max(place_high, place_px / picture) if is_cut(call) else min(place_high, place_px / picture)


def slide_covered(call: Call) -> float:
    """Share of the slide that the picture lies over, 0-1: its lower right corner; nothing where it stands beside the slide."""
    return CORNER_PX / ALONE_PX * (CORNER_PX / call.output_aspect) / (ALONE_PX / WIDE) if call.slides == "corner" else 0.0


def least_letters_pt(call: Call) -> float:
    """The smallest letters on a slide that such a viewer can read, in points of a slide 540 points high: small letters of 5 px, half as high
    as the letters are set."""
    across_px = ALONE_PX - (BESIDE_PX if call.slides == "beside" else 0)
    return LEAST_X_PX / X_HEIGHT * SLIDE_PT / (across_px / WIDE)


def slide_words(call: Call) -> str:
    """What the picture does to the slides, and how small letters on them may be; nothing without slides."""
    if call.slides not in ("beside", "corner"):
        return ""
    covers = (
        f"Your picture covers the lower right {100 * slide_covered(call):.0f} % of each slide: keep it empty. "
        if call.slides == "corner"
        else ""
    )
    least = least_letters_pt(call)
    return f"{covers}Letters under {least:.0f} points on a slide cannot be read in a window of 1280 × 720; twice that reads with ease."
