"""Lines over the far side's picture: thirds, eyes, head, and the place they are wanted at."""

from __future__ import annotations

from collections.abc import Callable

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.registry import layers
from uphill_lamp.core.document.people import Call
from uphill_lamp.core.judging import Measure
from uphill_lamp.core.scene import destination
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.wording import lux, percent
from uphill_lamp.drawings import overlay_behind as behind
from uphill_lamp.drawings.over_picture import WIDTH, label, spot
from uphill_lamp.drawings.svg import Node, SvgText, drawing, group, line, rect


def overlay(appraisal: Appraisal, stage: str) -> SvgText:
    """Overlays of a stage, in a drawing of the picture's own aspect.

    Args:
        appraisal: what to draw.
        stage: frame, light, sound or eyes.
    """
    height = WIDTH / appraisal.setup.call.output_aspect
    shown = layers(stage)
    parts = [draw(appraisal, height) for name, draw in LINES.items() if name in shown] or [group()]
    return drawing(WIDTH, height, "Lines over the picture", _thirds(height), *parts, class_="overlay", role="img").text()


def _destination(appraisal: Appraisal, height: float) -> Node | None:
    """What the destination makes of the picture: what a cut takes away, or small at the right how it lies between bars or by slides."""
    call = appraisal.setup.call
    box = destination.kept_box(call)
    cut = [
        rect(0, 0, WIDTH * box.left, height, class_="cut-away"), rect(WIDTH * box.right, 0, WIDTH * (1 - box.right), height, class_="cut-away"),
        rect(0, 0, WIDTH, height * box.top, class_="cut-away"), rect(0, height * box.foot, WIDTH, height * (1 - box.foot), class_="cut-away"),
    ] if destination.is_cut(call) else []  # fmt: skip
    small = _small_there(call, height)
    return group(*cut, small) if cut or small else None


def _small_there(call: Call, height: float) -> Node | None:
    """The viewer's window drawn small at the lower right: slides, and the picture in its place."""
    place = destination.PLACE_ASPECT[call.destination]
    slides = call.slides in ("beside", "corner")
    if not slides and destination.bars(call) <= destination.SLIGHT_BARS:
        return None
    high = 74.0
    wide = high * (16 / 9 if slides else place)
    x, y = WIDTH - wide - 8, height - high - 8
    if slides:
        own = wide / 4 if call.slides == "beside" else wide / 5
        own_high = own / call.output_aspect
        left, top = x + wide - own - 2, y + (high - own_high) / 2 if call.slides == "beside" else y + high - own_high - 2
        slide = rect(x + 2, y + 2, wide - (own + 6 if call.slides == "beside" else 4), high - 4, class_="there-slide")
        return group(rect(x, y, wide, high, rx=2, class_="there"), slide, rect(left, top, own, own_high, class_="there-you"))
    own_wide = min(wide, high * call.output_aspect)
    own_high = own_wide / call.output_aspect
    return group(
        rect(x, y, wide, high, rx=2, class_="there"),
        rect(x + (wide - own_wide) / 2, y + (high - own_high) / 2, own_wide, own_high, class_="there-you"),
    )


def _thirds(height: float) -> Node:
    return group(
        *(line(WIDTH * share, 0, WIDTH * share, height) for share in (1 / 3, 2 / 3)),
        *(line(0, height * share, WIDTH, height * share) for share in (1 / 3, 2 / 3)),
        class_="thirds",
    )


def _band(measure: Measure, height: float) -> Node | None:
    band = measure.band
    if band is None or band.ideal_low is None or band.ideal_high is None:
        return None
    return rect(0, band.ideal_low * height, WIDTH, (band.ideal_high - band.ideal_low) * height, class_="wanted-band")


def _frame(appraisal: Appraisal, height: float) -> Node:
    measures, face = appraisal.measures, scene_of(appraisal.setup).face
    eyes, crown = spot(appraisal, face.eyes, height), spot(appraisal, face.crown, height)
    if eyes is None or crown is None:
        return group()
    eye, room = measures["frame.eye_line"], measures["frame.headroom"]
    band = eye.band
    wanted = (
        ""
        if band is None or eye.value is None or band.holds(eye.value)
        else f", wanted {percent(band.ideal_low or 0)[:-2]}–{percent(band.ideal_high or 0)}"
    )
    y = min(max(eyes[1], 0), height)
    top = min(max(crown[1], 0), height)
    return group(
        _band(eye, height), line(0, y, WIDTH, y, class_="eye-line"), line(crown[0], 0, crown[0], top, class_="headroom-line"),
        label(WIDTH - 6, min(max(y - 6, 16), height - 8), f"eyes {percent(eye.value or 0)} down{wanted}", "end"),
        label(crown[0] + 8, min(max(top / 2 + 4, 40), height - 8), f"headroom {percent(room.value or 0)}"),
    )  # fmt: skip


def _light(appraisal: Appraisal, height: float) -> Node:
    face, lights = scene_of(appraisal.setup).face, appraisal.lit_scene.face_lx
    left, right = spot(appraisal, face.at(-0.03, 0.12, -0.02), height), spot(appraisal, face.at(-0.03, -0.12, -0.02), height)
    front = spot(appraisal, face.at(0, 0, -0.16), height)
    if left is None or right is None or front is None:
        return group()
    # The presenter's own left cheek is to the right of the picture.
    on_right, on_left = ("left_cheek", "right_cheek") if left[0] > right[0] else ("right_cheek", "left_cheek")
    return group(
        label(max(left[0], right[0]) + 6, left[1], lux(lights[on_right])),
        label(min(left[0], right[0]) - 6, right[1], lux(lights[on_left]), "end"),
        label(front[0] - 26, min(front[1] + 8, height - 6), lux(lights["front"])),
    )


def _eyes(appraisal: Appraisal, height: float) -> Node:
    eyes = spot(appraisal, scene_of(appraisal.setup).face.eyes, height)
    if eyes is None or "eyes.down" not in appraisal.measures:
        return group()
    figures = {name: appraisal.measures[f"eyes.{name}"].value or 0.0 for name in ("down", "up", "aside")}
    worst = max(figures, key=lambda name: figures[name])
    word = {"down": "below", "up": "above", "aside": "beside"}[worst]
    text = "looks at the lens" if figures[worst] < 1 else f"looks {figures[worst]:.0f}° {word} the lens"
    return group(label(min(eyes[0] + 60, WIDTH - 170), eyes[1] + 4, text))


# What is drawn over the picture, by the name of the layer, in the order it is laid.
LINES: dict[str, Callable[[Appraisal, float], Node | None]] = {
    "destination": _destination, "strip": behind.strip, "unwanted": behind.unwanted, "shadow": behind.shadow, "outline": behind.outline,
    "brightest": behind.brightest, "frame lines": _frame, "light lines": _light, "eye lines": _eyes,
}  # fmt: skip
