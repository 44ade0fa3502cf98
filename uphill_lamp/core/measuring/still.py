"""All figures of a picture (docs/method/measuring.md, "Picture")."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.figure import Figure, refused
from uphill_lamp.core.measuring.grain import edge_width, noise_share
from uphill_lamp.core.measuring.haze import haze_share
from uphill_lamp.core.measuring.tilt import room_lean_deg

Picture = NDArray[np.uint8]
LUMA = np.array([0.2126, 0.7152, 0.0722])
_STEPS = np.arange(256) / 255
LINEAR = np.where(_STEPS <= 0.04045, _STEPS / 12.92, ((_STEPS + 0.055) / 1.055) ** 2.4)  # of sRGB's 8 bits
SHOULDER = 0.6  # of full: from here on a camera bends what is bright, towards full and never quite there
HAZE_PX = 480  # across: enough for what is so soft
CRUSHED = 4  # of 255: to here nothing is drawn
BURNT = 250  # of 255: from here on nothing is drawn any more
DARK_SHARE = 0.004  # mean luminance of a picture in which nothing is to be told
MOST_TURNED_DEG = 25.0  # a face that looks further aside does not tell how high the lens stands
LEAST_EYES_PX = 16.0  # between the irises: less is too small for sides of a face
PERSON, BESIDE = 0.5, 0.1  # a pixel is the person from here on, and is surely not below this
NOT_FOUND = "no face was found: put the marks where eyes, chin and crown are"
TOO_SMALL = "the face is too small to tell"
TOO_DARK = "too dark to tell"
NOT_LOSSLESS = "too compressed to tell: a PNG would do"
FACE_NAMES = {
    "eye_line": "share",
    "headroom": "share",
    "head_share": "share",
    "side_position": "share",
    "roll": "deg",
    "head_turn": "deg",
    "view_angle": "deg",
}


@dataclass(frozen=True, eq=False)
class Marks:
    """Where a face is in a picture, places from the top left, shape (2,) [px]; left is the presenter's own.

    ``cheeks``: outlines of a patch on the left and on the right side of the face, shape (K, 2); ``person``: how much each pixel is
    the person, shape (rows, columns) 0-1; ``pose_deg``: how far the face is turned to its own left of the lens, and how high the lens stands
    as seen from a face that looks level [deg]; all None where only the marks are known.
    """

    left_eye: FloatArray
    right_eye: FloatArray
    chin: FloatArray
    crown: FloatArray
    cheeks: tuple[FloatArray, FloatArray] | None = None
    person: FloatArray | None = None
    pose_deg: tuple[float, float] | None = None

    @property
    def eyes_px(self) -> float:
        """Between the irises [px]."""
        return float(np.linalg.norm(self.left_eye - self.right_eye))

    @property
    def between(self) -> FloatArray:
        """The middle between the eyes, shape (2,) [px]."""
        return (self.left_eye + self.right_eye) / 2

    def data(self) -> dict[str, list[float]]:
        """As they are written to a file."""
        return {name: [round(float(value), 1) for value in getattr(self, name)] for name in ("left_eye", "right_eye", "chin", "crown")}


def still_figures(
    picture: Picture, marks: Marks | None, lossless: bool, piece: Picture | None = None, segments: FloatArray | None = None
) -> tuple[Figure, ...]:
    """All figures of a picture; those that are not to be had are refused with the reason.

    Args:
        picture: RGB, shape (rows, columns, 3).
        marks: of the face that counts; None where none was found.
        lossless: whether its grain is its own, and not what a compression left of it.
        piece: a piece of it at its own size, for the grain, where the picture was made smaller.
        segments: straight lines in it outside the person, shape (N, 4) [px], where they were looked for.
    """
    linear = linear_of(picture)
    dark = float(linear.mean()) < DARK_SHARE
    luma = picture @ LUMA
    burnt, crushed = float((luma >= BURNT).mean()), float((luma <= CRUSHED).mean())
    lean = None if segments is None else room_lean_deg(segments, picture.shape[1], picture.shape[0])
    noise = None if dark or not lossless else noise_share(picture if piece is None else piece)
    return (
        *_framing(picture, marks),
        *_light(linear, marks, dark),
        Figure("picture.burnt_out", burnt, "share", 0.01),
        Figure("picture.crushed", crushed, "share", 0.01),
        _face_burnt(luma, marks),
        Figure("picture.room_lean", lean, "deg", 0.5, "fair") if lean is not None else refused(
            "picture.room_lean", "too few straight lines in view", "deg"),
        Figure("picture.noise", 100 * noise, "%", 0.15 * 100 * noise, "fair") if noise is not None else refused(
            "picture.noise", TOO_DARK if dark else NOT_LOSSLESS if not lossless else "nothing even enough is in view", "%"),
        _haze(linear, luma),
        _sharpness(picture, marks),
    )  # fmt: skip


def _haze(linear: FloatArray, luma: FloatArray) -> Figure:
    step = max(linear.shape[1] // HAZE_PX, 1)
    share = haze_share(linear[::step, ::step], luma[::step, ::step] >= BURNT)
    if share is None:
        return refused("picture.haze", "nothing burnt out is in view to tell it by", "share")
    return Figure("picture.haze", share, "share", 0.01, "rough")


def _face_burnt(luma: FloatArray, marks: Marks | None) -> Figure:
    """Share of the face, an ellipse from chin to crown, that is burnt out."""
    if marks is None:
        return refused("picture.face_burnt", NOT_FOUND, "share")
    middle, half = (marks.chin + marks.crown) / 2, float(np.linalg.norm(marks.chin - marks.crown)) / 2
    down, across = np.ogrid[: luma.shape[0], : luma.shape[1]]
    face = ((across - middle[0]) / (0.72 * half)) ** 2 + ((down - middle[1]) / half) ** 2 < 1
    if not face.any():
        return refused("picture.face_burnt", TOO_SMALL, "share")
    return Figure("picture.face_burnt", float((luma[face] >= BURNT).mean()), "share", 0.01)


def grain_in_time(noise: float | None, own: bool) -> Figure:
    """Grain of a clip from one picture to the next.

    Args:
        noise: its spread as a share of full; None where nothing stands still.
        own: whether a compression over time has left it as it was; else there is at least so much of it.
    """
    if noise is None:
        return refused("picture.noise", "nothing even stands still long enough", "%")
    return Figure("picture.noise", 100 * noise, "%", 0.15 * 100 * noise, "fair" if own else "rough")


def linear_of(picture: Picture) -> FloatArray:
    """Linear luminance of sRGB, shape (rows, columns) 0-1."""
    return np.asarray(LINEAR[picture] @ LUMA)


def _framing(picture: Picture, marks: Marks | None) -> tuple[Figure, ...]:
    if marks is None:
        return tuple(refused(f"picture.{name}", NOT_FOUND, unit) for name, unit in FACE_NAMES.items())
    rows, columns = picture.shape[:2]
    head = abs(float(marks.chin[1] - marks.crown[1])) / rows
    way = marks.left_eye - marks.right_eye
    return (
        Figure("picture.eye_line", float(marks.between[1]) / rows, "share", 0.005),
        Figure("picture.headroom", float(marks.crown[1]) / rows, "share", 0.08 * head, "fair"),
        Figure("picture.head_share", head, "share", 0.1 * head, "fair"),
        Figure("picture.side_position", float(marks.between[0]) / columns, "share", 0.005),
        # A picture that leans over clockwise shows what stands in it leaning the other way.
        Figure("picture.roll", -math.degrees(math.atan2(float(way[1]), float(way[0]))), "deg", 1.5, "fair"),
        *_pose(marks.pose_deg),
    )  # fmt: skip


def _pose(pose_deg: tuple[float, float] | None) -> tuple[Figure, Figure]:
    if pose_deg is None:
        why = "marks alone do not tell it"
        return refused("picture.head_turn", why, "deg"), refused("picture.view_angle", why, "deg")
    turn_deg, view_deg = pose_deg
    turned = Figure("picture.head_turn", turn_deg, "deg", 4.0, "fair")
    if abs(turn_deg) > MOST_TURNED_DEG:
        return turned, refused("picture.view_angle", "the face is turned too far to tell", "deg")
    return turned, Figure("picture.view_angle", view_deg, "deg", 4.0, "rough")


def _light(linear: FloatArray, marks: Marks | None, dark: bool) -> tuple[Figure, ...]:
    why = NOT_FOUND if marks is None else TOO_DARK if dark else TOO_SMALL if marks.eyes_px < LEAST_EYES_PX else ""
    if why or marks is None:
        return refused("picture.halves", why, "stops"), refused("picture.backdrop", why, "stops")
    sides = [_median(linear, outline) for outline in marks.cheeks or _cheeks(marks)]
    if min(sides) <= 1e-4:
        return refused("picture.halves", TOO_DARK, "stops"), refused("picture.backdrop", TOO_DARK, "stops")
    face = float(np.mean(np.log2(sides)))
    free = _free(linear, marks)
    behind = float(np.log2(np.maximum(linear[free], 1e-4)).mean()) if free.sum() > 0.02 * free.size else None
    return (
        Figure("picture.halves", abs(math.log2(sides[0] / sides[1])), "stops", 0.15, "fair"),
        Figure("picture.backdrop", face - behind, "stops", 0.3, "fair") if behind is not None else refused(
            "picture.backdrop", "nothing is seen beside the person", "stops"),
    )  # fmt: skip


def _median(linear: FloatArray, outline: FloatArray) -> float:
    """Median of what lies within an outline, shape (K, 2) [px]."""
    inside = within(outline, linear.shape)
    return _unbent(float(np.median(linear[inside]))) if inside.any() else 0.0


def _unbent(level: float) -> float:
    """A bright level as it was before a camera's usual shoulder: y = k + (1 - k)(1 - exp(-(x - k) / (1 - k))) above k."""
    left = 1 - SHOULDER
    return level if level <= SHOULDER else SHOULDER - left * math.log(max(1 - (level - SHOULDER) / left, 0.02))


def within(outline: FloatArray, shape: tuple[int, ...]) -> NDArray[np.bool_]:
    """Which pixels lie within a convex or hollow outline, shape (rows, columns)."""
    from PIL import Image, ImageDraw

    drawn = Image.new("1", (shape[1], shape[0]))
    ImageDraw.Draw(drawn).polygon([(float(x), float(y)) for x, y in outline], fill=1)
    return np.asarray(drawn)


def _cheeks(marks: Marks) -> tuple[FloatArray, FloatArray]:
    """Patches under the eyes where only the marks are known."""
    aside = (marks.left_eye - marks.right_eye) / 2
    down = (marks.chin - marks.between) * 0.45
    return tuple(
        np.array([marks.between + side * (far * aside) + low * down for far, low in ((0.7, 0.7), (1.3, 0.7), (1.2, 1.3), (0.8, 1.3))])
        for side in (1, -1)
    )  # type: ignore[return-value]


def _free(linear: FloatArray, marks: Marks) -> NDArray[np.bool_]:
    """Pixels that are surely not the person, shape (rows, columns)."""
    if marks.person is not None:
        return marks.person < BESIDE
    rows, columns = linear.shape
    across, down = np.meshgrid(np.arange(columns) - marks.between[0], np.arange(rows) - marks.between[1])
    reach = 1.6 * marks.eyes_px
    return np.asarray((np.abs(across) > 2.2 * reach) | ((np.abs(across) > reach) & (down < reach)))


def _sharpness(picture: Picture, marks: Marks | None) -> Figure:
    if marks is None or marks.eyes_px < LEAST_EYES_PX:
        return refused("picture.sharpness", NOT_FOUND if marks is None else TOO_SMALL, "eye distances")
    widths = [edge_width(picture @ LUMA, eye, 0.45 * marks.eyes_px) for eye in (marks.left_eye, marks.right_eye)]
    known = [width for width in widths if width is not None]
    if not known:
        return refused("picture.sharpness", "no edge is to be seen at the eyes", "eye distances")
    width = min(known) / marks.eyes_px
    return Figure("picture.sharpness", width, "eye distances", 0.3 * width, "rough")


def crown_of(person: FloatArray, marks_between: FloatArray, chin: FloatArray, eyes_px: float) -> FloatArray | None:
    """The top of the head: the furthest that the person goes up from between the eyes, away from the chin, shape (2,) [px].

    Args:
        person: how much each pixel is the person, shape (rows, columns) 0-1.
    """
    up = (marks_between - chin) / max(float(np.linalg.norm(marks_between - chin)), 1e-6)
    aside = np.array([-up[1], up[0]])
    rows, columns = person.shape
    steps = np.arange(0.0, 4.0 * eyes_px, max(eyes_px / 60, 0.5))
    reaches = []
    for off in np.linspace(-0.5, 0.5, 11):
        places = marks_between + off * eyes_px * aside + steps[:, None] * up
        inside = (places >= 0).all(axis=1) & (places[:, 0] < columns - 0.5) & (places[:, 1] < rows - 0.5)
        spots = places[inside].astype(int)
        there = person[spots[:, 1], spots[:, 0]] > PERSON
        reaches.append(steps[int(np.argmin(np.r_[there, False])) - 1] if len(there) and there[0] else 0.0)
    reach = float(np.max(reaches))
    return marks_between + reach * up if reach > 0.4 * eyes_px else None
