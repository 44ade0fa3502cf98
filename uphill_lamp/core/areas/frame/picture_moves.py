"""Findings about the picture as it arrives: bars, cuts, too few pixels, too small by the slides; and the moves that mend them."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.frame.distance_moves import distance_moves
from uphill_lamp.core.areas.frame.measures import face_px as face_px_of
from uphill_lamp.core.areas.frame.mended_aim import mended
from uphill_lamp.core.areas.frame.slides_behind import READS_PX, hidden_share, slides_behind, text_px
from uphill_lamp.core.areas.frame.turning_moves import turn_moves
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Operation, applied, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.sharpness import detail_px
from uphill_lamp.core.judging import Finding, Move, Severity
from uphill_lamp.core.scene import destination
from uphill_lamp.core.scene.handling import moved
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.wording import length, percent

LEAST_DETAIL_PX = 480  # rows of real detail below which a picture looks coarse in a large window
MUCH_HIDDEN = 0.15


def findings(setup: Setup) -> Iterator[Finding]:
    """What is wrong with the picture where it is seen."""
    call, camera = setup.call, setup.main_camera
    lost = destination.bars(call)
    if lost > destination.SLIGHT_BARS:
        shape = "upright" if destination.PLACE_ASPECT[call.destination] < 1 else "wide"
        why = f"The place it goes to is {shape}; the picture sent is not, so it is shown small."
        yield Finding("frame.bars", "frame", f"{percent(lost)} of the place for your picture is empty bars", why, ("frame.bars",))
    if destination.is_cut(call) and not destination.head_kept(setup):
        why = "Only the middle of the picture is kept; eyes and chin must be in it."
        yield Finding("frame.cut", "frame", "The square cut takes part of your head", why, ("frame.head_kept",))
    wide_px, high_px = detail_px(camera)
    if camera.zoom > 1.05 and high_px < LEAST_DETAIL_PX:
        title = f"Zoomed to {camera.zoom:.1f}×, only {wide_px} × {high_px} px of real detail are left"
        yield _told("detail", title, "The rest is invented by the camera: coarse and smeared.", "clear")
    face_px = face_px_of(setup)
    if face_px is not None and face_px < destination.READS_PX:
        where = {"beside": "Beside the slides", "corner": "In the corner of the slides"}.get(call.slides, "In the viewer's window")
        yield _told("small_there", f"{where} your face is only {face_px:.0f} px high", "Nobody can read an expression that small.", "clear")
    text = text_px(setup)
    if text is not None and text < READS_PX:
        yield _told(
            "slides_text",
            f"Text on the slides behind you is {text:.0f} px high at the viewer",
            "It takes 8 px to read a small letter.",
            "clear",
        )
    hidden = hidden_share(setup) if slides_behind(setup) is not None else 0.0
    if hidden > MUCH_HIDDEN:
        yield _told("slides_behind", f"You hide {percent(hidden)} of the slides behind you", "What you talk about cannot be seen.", "clear")


def _told(name: str, title: str, why: str, severity: Severity) -> Finding:
    return Finding(f"frame.{name}", "frame", title, why, (), severity=severity)


def bars_moves(setup: Setup) -> Iterator[Move]:
    """The picture in the shape of its place: the camera on its side where that helps, else cut to it."""
    camera, place = setup.main_camera, destination.PLACE_ASPECT[setup.call.destination]
    shape: tuple[Operation, ...] = (replace("/call/output_aspect", round(place, 6)),)
    wanted = "portrait" if place < 1 else "landscape"
    if camera.orientation != wanted and camera.mount != "laptop_lid":
        done = mended(setup, (replace(f"/cameras/{camera.id}/orientation", wanted), *shape))
        if done is not None:
            title = f"Turn the camera {'upright' if wanted == 'portrait' else 'back to lie along'} and send that shape"
            yield Move("frame.turn_on_side", title, done.patch, promises=done.promises)
    done = mended(setup, shape)
    if done is not None:
        yield Move("frame.send_shape", f"Send the picture cut to {_ratio(place)}", done.patch, promises=done.promises,
                   detail="Cut from the middle: the lens sees less, the face is larger in it." if place != setup.call.output_aspect else "")  # fmt: skip


def _ratio(aspect: float) -> str:
    return {"1.78": "16:9", "1.00": "a square", "0.56": "9:16"}.get(f"{aspect:.2f}", f"{aspect:.2f} to 1")


def cut_moves(setup: Setup) -> Iterator[Move]:
    """The head into the part that is kept: turned to the middle, further away, or the square sent as it is; those that do it."""
    for move in (*turn_moves(setup), *distance_moves(setup), *bars_moves(setup)):
        try:
            if destination.head_kept(applied(setup, move.patch)):
                yield move
        except Refused:
            continue


def detail_moves(setup: Setup) -> Iterator[Move]:
    """Zoom out, and sit as near as then serves."""
    camera = setup.main_camera
    out = (replace(f"/cameras/{camera.id}/zoom", 1.0),)
    try:
        there = applied(setup, out)
    except Refused:
        return
    nearer = next((move for move in distance_moves(there) if move.id == "frame.sit_nearer"), None)
    if nearer is not None:
        yield Move(
            "frame.nearer_not_zoomed",
            f"Zoom out all the way, and {nearer.title[0].lower()}{nearer.title[1:]}",
            (*out, *nearer.patch),
            promises=nearer.promises,
        )
    done = mended(setup, out)
    if done is not None:
        yield Move("frame.zoom_out", "Zoom out all the way and re-tilt the camera", done.patch, promises=done.promises)


def small_moves(setup: Setup) -> Iterator[Move]:
    """A larger face: nearer or zoomed, or a larger place by the slides."""
    yield from (move for move in distance_moves(setup) if move.id in ("frame.sit_nearer", "frame.zoom", "frame.sit_and_zoom"))
    if setup.call.slides == "corner":
        yield Move("frame.slides_beside", "Show yourself beside the slides, not in their corner", (replace("/call/slides", "beside"),))


def text_moves(setup: Setup) -> Iterator[Move]:
    """The slides sent as a picture of their own."""
    yield Move("frame.share_slides", "Share the slides themselves, with you beside them", (replace("/call/slides", "beside"),),
               detail="From the computer they arrive sharp, whatever the lens can see.")  # fmt: skip


def slides_moves(setup: Setup) -> Iterator[Move]:
    """The least step aside that frees the slides."""
    face, units = scene_of(setup).face, setup.preferences.units
    for step_m in (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.8, 1.0):
        for sign, side in ((1.0, "left"), (-1.0, "right")):
            patch = moved(setup, "presenter", sign * step_m * face.left)
            try:
                there = applied(setup, patch)
            except Refused:
                continue
            if hidden_share(there) <= MUCH_HIDDEN:
                yield Move("frame.step_aside", f"Step {length(step_m, units)} to your {side}", patch)
                return
