"""What is wrong in Frame, why it matters, and the moves that mend it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from uphill_lamp.core.areas.frame import gear_moves as gear
from uphill_lamp.core.areas.frame import picture_moves as picture
from uphill_lamp.core.areas.frame import turning_moves as turning
from uphill_lamp.core.areas.frame.distance_moves import distance_moves, sit_for_perspective, too_tight
from uphill_lamp.core.areas.frame.height_moves import height_moves
from uphill_lamp.core.areas.frame.other_camera_moves import other_cameras
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Finding, Measure, Move
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.wording import degrees, length, percent

MAKERS: dict[str, tuple[Callable[[Setup], Iterator[Move]], ...]] = {
    "frame.not_seen": (turning.turn_moves, turning.tilt_only, other_cameras),
    "frame.camera_height": (height_moves, other_cameras),
    "frame.eye_line": (turning.tilt_only,),
    "frame.head_share": (distance_moves, other_cameras),
    "frame.side_position": (turning.turn_moves,),
    "frame.roll": (turning.level,),
    "frame.perspective": (sit_for_perspective,),
    "frame.keyboard": (gear.keyboard_moves,),
    "frame.wobble": (gear.wobble_moves,),
    "frame.blind": (gear.blind_moves,),
    "frame.desk_space": (gear.desk_moves,),
    "frame.bars": (picture.bars_moves,),
    "frame.cut": (picture.cut_moves,),
    "frame.detail": (picture.detail_moves,),
    "frame.small_there": (picture.small_moves,),
    "frame.slides_behind": (picture.slides_moves, picture.text_moves),
    "frame.slides_text": (picture.text_moves,),
}


def findings(setup: Setup, measured: Mapping[str, Measure], face_lx: float) -> Iterator[Finding]:
    """All findings of Frame, without their moves.

    Args:
        measured: the area's measures by id.
        face_lx: light on the front of the face, as Light computes it [lx].
    """
    for tell in (_not_seen, _height, _eye_line, _head_share, _side, _roll, _perspective):
        yield from tell(setup, measured)
    yield from picture.findings(setup)
    yield from gear.findings(setup, face_lx)


def moves_for(setup: Setup, finding: Finding, face_lx: float) -> tuple[Move, ...]:
    """The moves that mend a finding of Frame."""
    if finding.id == "frame.focus":
        return tuple(gear.focus_moves(setup, face_lx))
    moves = {move.id: move for maker in MAKERS[finding.id] for move in maker(setup)}
    return tuple(moves.values())


def _wanting(measure: Measure) -> bool:
    return measure.wanting and measure.value is not None


def _made(ids: tuple[str, ...], name: str, title: str, why: str) -> Finding:
    return Finding(f"frame.{name}", "frame", title, why, ids)


def _not_seen(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    if measured["frame.eye_line"].value is None:
        ids = ("frame.eye_line", "frame.headroom", "frame.head_share", "frame.side_position")
        yield _made(ids, "not_seen", "The camera does not look at you", "The others see the room and not your face.")


def _height(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    measure = measured["frame.view_angle"]
    if not _wanting(measure) or measure.value is None or measure.band is None:
        return
    off_m = float(scene_of(setup).lens.place[2] - scene_of(setup).face.eyes[2])
    apart = length(abs(off_m), setup.preferences.units)
    low = measure.value < (measure.band.ideal_low or 0)
    where = "below" if off_m < 0 else "above"
    title = f"The camera is {apart} {where} your eyes ({degrees(abs(measure.value))} {'up' if off_m < 0 else 'down'} at you)"
    why = "They look up at your chin and the ceiling." if low else "They look down on you from above."
    yield _made(("frame.view_angle", "frame.eye_line", "frame.headroom"), "camera_height", title, why)


def _eye_line(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    eye, room = measured["frame.eye_line"], measured["frame.headroom"]
    if not (_wanting(eye) or _wanting(room)) or eye.value is None or room.value is None or eye.band is None:
        return
    if eye.value > 0.95 or eye.value < 0.02:
        title = f"Your face has left the picture at its {'foot' if eye.value > 0.5 else 'top'}"
        why = "The others see the room and hardly any of you."
    elif eye.value > (eye.band.ideal_high or 1) or (room.band and room.value > (room.band.ideal_high or 1)):
        title = f"Too much air above your head ({percent(room.value)} of the picture)"
        why = f"Your eyes are {percent(eye.value)} down the picture; you seem to sink out of it."
    elif room.value < 0:
        title = "The top of your head is cut off"
        why = f"Your eyes are only {percent(eye.value)} down the picture."
    else:
        title = f"Your head touches the top of the picture (air above it {percent(room.value)})"
        why = f"Your eyes are only {percent(eye.value)} down the picture, so the head looks cut off."
    yield _made(("frame.eye_line", "frame.headroom"), "eye_line", title, why)


def _head_share(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    measure = measured["frame.head_share"]
    if not _wanting(measure) or measure.value is None or measure.band is None:
        return
    small = measure.value < (measure.band.ideal_low or 0)
    title = f"Your face is too {'small' if small else 'large'} ({percent(measure.value)} of the picture's height)"
    why = "In a small tile nobody can read it." if small else "It crowds the picture and leaves no room to move."
    if not small and too_tight(setup):
        why = "The lens is too tight for this room: there is no space to back off as far as it wants."
    yield _made(("frame.head_share",), "head_share", title, why)


def _side(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    measure = measured["frame.side_position"]
    if not _wanting(measure) or measure.value is None:
        return
    side = "left" if measure.value < 0.5 else "right"
    gone = not 0.03 < measure.value < 0.97
    title = (
        f"You have left the picture at its {side}" if gone else f"You stand at {percent(measure.value)} across the picture, to its {side}"
    )
    why = (
        "A tile shows the middle best." if setup.preferences.side_position == "centred" else "You chose a third, with room where you look."
    )
    yield _made(("frame.side_position",), "side_position", title, why)


def _roll(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    measure = measured["frame.roll"]
    if _wanting(measure) and measure.value is not None:
        title = f"The camera leans over by {degrees(abs(measure.value))}"
        yield _made(("frame.roll",), "roll", title, "Door frames and shelves slope, and so do you.")


def _perspective(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    measure = measured["frame.perspective"]
    if _wanting(measure) and measure.value is not None:
        title = f"The lens is so near that your nose is drawn {measure.value:.2f} times as large as your ears"
        yield _made(("frame.perspective",), "perspective", title, "Sitting back flatters every face.")
