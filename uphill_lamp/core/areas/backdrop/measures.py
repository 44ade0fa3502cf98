"""Figures of Backdrop: what is in view that should not be, how near what is behind is, what there is to look at (docs/method/backdrop.md)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.areas.backdrop.lit import Lit
from uphill_lamp.core.areas.backdrop.outline import NO_LINE
from uphill_lamp.core.areas.backdrop.worn import NO_PATTERN_PX, finest, strong_red
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.judging import Band, Counts, Measure, Ramp, weighed
from uphill_lamp.core.scene.destination import px_per_height
from uphill_lamp.core.scene.optics import blur_m, focal_length_m, focused_at_m
from uphill_lamp.core.scene.scene import scene_of

UNWANTED = Band(None, 0.0, None, 0.12)
HELD = Ramp(None, 0.0, None, 0.12, least=0.65)
NEAR = Band(None, 0.45, None, 0.80)
POINTS = Band(1, 2, 0, 5)
GROWS = Band(None, 0.0, None, 0.20)
CUT_LINE = Band(NO_LINE, None, 0.0, None)
READABLE = Band(None, 0, None, 1)
STRIP = Band(0.15, None, -0.1, None)
SHIMMER = Band(6.0, None, 3.0, None)
STRONG_COLOUR = Band(None, 0.04, None, 0.25)
SOFT = Band(0.015, None, 0.003, None)
BRIGHTEST = Band(None, 0.3, None, 2.5)
EDGE = Band(0.7, None, 0.1, None)
BUSY = Band(None, 0.9, None, 2.2)
SHADOW = Band(None, 0.25, None, 1.2)
GARMENT = Band(None, 0.3, None, 1.2)
MELTS = Band(0.8, None, 0.15, None)
READS_PX = 5.0  # small letters higher than this at the viewer are read (working value)
LEAST_AWAY_M, MOST_AWAY_M, AWAY_STEP_M = 0.1, 1.5, 0.1  # the desk forward
STRIP_TOP = 0.82  # a name's strip or captions lie over the lowest 18 % of the picture
WEIGHTS = {
    "backdrop.unwanted": (3.0, "an unmade bed is what colleagues remark on first"),
    "backdrop.held": (1.0, "what should not be seen spoils all that is well behind it"),
    "backdrop.grows": (2.0, "what joins the head from behind is all that is looked at"),
    "backdrop.cut_line": (1.0, "a line through the head is seen, and soon overlooked"),
    "backdrop.readable": (1.0, "who can read, reads, and does not listen"),
    "backdrop.strip": (1.0, "a bar over the chin cuts the face off its voice"),
    "backdrop.shimmer": (2.0, "a pattern that crawls is all that is seen of a speaker"),
    "backdrop.strong_colour": (1.0, "colour is sent at a quarter of the pixels: red runs over its edges"),
    "backdrop.brightest": (2.0, "eyes go to what is brightest, and it should be the face"),
    "backdrop.edge": (2.0, "hair of the wall's own brightness leaves a face without a head"),
    "backdrop.shadow": (2.0, "a hard shadow at the shoulder is a second, darker head"),
    "backdrop.garment": (1.0, "a camera that measures a white shirt darkens the face"),
    "backdrop.busy": (1.0, "much light and dark behind keeps eyes from the face"),
    "backdrop.melts": (1.0, "a body that stands out from the wall is a body"),
    "backdrop.near": (1.0, "a wall at the shoulders looks like a passport picture"),
    "backdrop.soft": (1.0, "who wants it blurred wants it seen to be so"),
    "backdrop.points": (1.0, "one or two things say who speaks; many say nothing"),
}
COUNTS: dict[str, Counts] = {
    "backdrop.held": "factor", "backdrop.near": "quality", "backdrop.points": "quality", "backdrop.busy": "quality",
    "backdrop.melts": "quality", "backdrop.soft": "quality",
}  # fmt: skip


def private_in_view(setup: Setup) -> list[BackdropThing]:
    """What is in the picture and nobody's business."""
    return [thing for thing in setup.backdrop if thing.private and thing.id in behind_of(setup).seen.parts]


def letters_px(setup: Setup, thing: BackdropThing) -> float:
    """How high a thing's small letters are for a viewer with a window of 1280 x 720 px [px]; 0 where it is not seen."""
    part = behind_of(setup).seen.parts.get(thing.id)
    if part is None or part.depth_m <= 0:
        return 0.0
    return thing.x_height_m / (2 * scene_of(setup).pinhole.field.half_height * part.depth_m) * px_per_height(setup.call)


def read_by_others(setup: Setup) -> list[BackdropThing]:
    """What the others can read and should not: it is nobody's business, or not wanted in view."""
    return [thing for thing in setup.backdrop if (thing.private or not thing.wanted) and letters_px(setup, thing) > READS_PX]


def cut_at(setup: Setup) -> float:
    """Where from the top a strip with the name begins, or the picture ends, 0-1."""
    return STRIP_TOP if setup.call.name_strip else 1.0


def below_chin(setup: Setup) -> float | None:
    """From the chin down to the upper edge of a name's strip, or to the picture's foot [head heights]; None where there is no face."""
    face = scene_of(setup).face
    chin, crown = scene_of(setup).pinhole.project(np.array([face.chin, face.crown]))[:, 1]
    if np.isnan([chin, crown]).any() or chin <= crown:
        return None
    return float((cut_at(setup) - chin) / (chin - crown))


def measures(setup: Setup, lit: Lit) -> tuple[Measure, ...]:
    """All measures of Backdrop.

    Args:
        lit: figures of what is behind in its light.
    """
    behind, unwanted = behind_of(setup), behind_of(setup).unwanted(setup)
    things = [f"/backdrop/{thing.id}/{field}" for thing in setup.backdrop for field in ("position/x_m", "width_m")]
    there = setup.origin_of(*(things or ["/room/depth_m"]))
    room = setup.origin_of("/room/depth_m", "/presenter/y_m", "/presenter/x_m")
    about = "How near what is behind you is: how large it comes out beside the same thing at your face."
    figures = [
        Measure(
            "backdrop.unwanted",
            "Unwanted in view",
            unwanted,
            "share",
            UNWANTED,
            there,
            "Share of the picture that shows what should not be seen.",
        ),
        Measure("backdrop.held", "Spoils the rest", unwanted, "share", HELD, there, "What all of Backdrop loses by that."),
    ]
    head = setup.origin_of(*things, *(f"/room/windows/{window.id}/along_m" for window in setup.room.windows), "/presenter/eye_height_m")
    read = setup.origin_of(*([f"/backdrop/{thing.id}/x_height_m" for thing in setup.backdrop] or ["/room/depth_m"]))
    figures += [
        Measure("backdrop.grows", "Grows from your head", behind.outline.grows, "share", GROWS, head,
                "Share of your head's upper outline that something narrow behind seems to grow from; edges of wide things count half."),
        Measure("backdrop.cut_line", "Line through your head", behind.outline.line, "share", CUT_LINE, head,
                "How high over your eyes a level edge behind crosses your head, as a share of the head's height; 60 % where none does."),
        Measure("backdrop.readable", "Can be read", float(len(read_by_others(setup))), "in view", READABLE, read,
                "Things whose small letters are over 5 px high at the other end, and that are not for others to read."),
    ]  # fmt: skip
    worn = setup.origin_of(
        *(f"/presenter/clothing/{garment.id}/{name}" for garment in setup.presenter.clothing for name in ("pattern", "pitch_m", "colour"))
    )
    fine = finest(setup)
    figures += [
        Measure("backdrop.shimmer", "Finest pattern worn", min(fine[1], NO_PATTERN_PX) if fine else NO_PATTERN_PX, "px", SHIMMER, worn,
                "How many pixels of the coarsest picture on its way a repeat of your pattern takes; 12 px where nothing is patterned."),
        Measure("backdrop.strong_colour", "Strong red", strong_red(setup), "share", STRONG_COLOUR, worn,
                "Share of the picture under saturated red, worn or behind."),
    ]  # fmt: skip
    if (strip := below_chin(setup)) is not None:
        figures.append(Measure("backdrop.strip", "Below the chin", strip, "share", STRIP, setup.origin_of("/call/name_strip"),
                               "From your chin down to the strip with your name, or to the picture's foot, as a share of your head's height."))  # fmt: skip
    soft = softness(setup)
    if setup.preferences.background == "blurred" and soft is not None:
        figures.append(Measure("backdrop.soft", "Wall out of focus", soft, "share", SOFT, room,
                               "How wide the lens draws a point of what is behind you, as a share of the picture's width."))  # fmt: skip
    elif behind.seen.near_share is not None:
        figures.append(Measure("backdrop.near", "Wall behind", behind.seen.near_share, "share", NEAR, room, about))
    if setup.preferences.background == "point_of_interest" and setup.backdrop:  # where nobody has said what is behind, nothing is missing
        figures.append(Measure("backdrop.points", "Things to look at", float(len(lit.looked_at())), "in view", POINTS, there,
                               "Wanted things about a third of the way across, neither tiny nor large."))  # fmt: skip
    figures += (measure for measure in in_light(setup, lit) if measure.value is not None)
    return weighed(figures, WEIGHTS, COUNTS)


def in_light(setup: Setup, lit: Lit) -> Iterator[Measure]:
    """What the light makes of what is behind and of what is worn; without a value where nothing of it is seen."""
    lamps = [f"/lights/{light.id}/flux_lm" for light in setup.lights if light.on]
    origin = setup.origin_of(*lamps, *(f"/room/windows/{window.id}/width_m" for window in setup.room.windows), "/room/depth_m")
    worn = setup.origin_of(*(f"/presenter/clothing/{garment.id}/reflectance" for garment in setup.presenter.clothing), *lamps)
    brightest, shadow = lit.brightest(), lit.shadow()
    yield Measure("backdrop.brightest", "Brightest behind", brightest[0] if brightest else None, "stops", BRIGHTEST, origin,
                  "How much brighter than a face the brightest hundredth of what is behind you is; each stop is a doubling.")  # fmt: skip
    yield Measure("backdrop.edge", "Hair against the wall", lit.edge(), "stops", EDGE, origin,
                  "How much brighter or darker your hair is than what is right behind it, where they differ least.")  # fmt: skip
    yield Measure("backdrop.shadow", "Your shadow", shadow.stops if shadow else None, "stops", SHADOW, origin,
                  "How hard the edge of your shadow behind you is, the more of the picture it covers the more it counts.")  # fmt: skip
    yield Measure("backdrop.garment", "Clothes and exposure", lit.garment(), "stops", GARMENT, worn,
                  "How much darker or brighter the camera shows your face for what you wear than with something middling on.")  # fmt: skip
    yield Measure("backdrop.busy", "Restless behind", lit.busy(), "stops", BUSY, origin,
                  "How far light and dark behind you spread, as the lens draws it, what is meant to be looked at left out.")  # fmt: skip
    yield Measure("backdrop.melts", "Clothes against the wall", lit.melts(), "stops", MELTS, worn,
                  "How much brighter or darker what you wear is than what is beside it in the picture.")  # fmt: skip


def softness(setup: Setup, further_m: float = 0.0) -> float | None:
    """How wide the lens draws a point of what is behind, as a share of the picture's width; None where nothing is behind the head.

    Args:
        further_m: how much further than it is [m].
    """
    share, camera, pinhole = behind_of(setup).seen.near_share, setup.main_camera, scene_of(setup).pinhole
    face_m = float(pinhole.depth(scene_of(setup).face.eyes[None])[0])
    if share is None or face_m <= 0:
        return None
    focal_m = focal_length_m(camera)
    blur = blur_m(focal_m, camera.lens.f_number, focused_at_m(camera, face_m), face_m / share + further_m)
    return blur / (2 * pinhole.field.half_width * focal_m)


def come_away_m(setup: Setup) -> float:
    """How much further what is behind should be for the figure of nearness, or of softness, to be in its band [m]; 0 where it is, or
    where no distance does it."""
    if setup.preferences.background == "blurred":
        steps = (number * AWAY_STEP_M for number in range(1, round(MOST_AWAY_M / AWAY_STEP_M) + 1))
        return next((step_m for step_m in steps if (softness(setup, step_m) or 0.0) >= (SOFT.ideal_low or 0.0)), 0.0)
    share = behind_of(setup).seen.near_share
    if share is None or NEAR.ideal_high is None or share <= NEAR.ideal_high:
        return 0.0
    face_m = float(scene_of(setup).pinhole.depth(scene_of(setup).face.eyes[None])[0])
    return face_m / NEAR.ideal_high - face_m / share
