"""Moves of Eyes: windows to the lens, the lens to the windows, further back, notes beside the lens or on a prompter."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.eyes import prompter_moves as prompter
from uphill_lamp.core.areas.eyes import screen_windows as windows
from uphill_lamp.core.areas.eyes.glances import DOWN, WORDS, Glance, LookedAt, faces, glance_at, looked_at, notes
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Patch, applied, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.masses import mass_kg
from uphill_lamp.core.offers import at_home, offered
from uphill_lamp.core.scene import aiming
from uphill_lamp.core.scene.footprints import beyond_m, desk_outline
from uphill_lamp.core.scene.handling import moved
from uphill_lamp.core.scene.pinhole import field_of
from uphill_lamp.core.scene.placing import camera_pose, output_aspect, screen_pane, wall_behind_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import point_at, wrapped_deg, yaw_tilt_deg
from uphill_lamp.core.scene.wording import length, the
from uphill_lamp.core.standing.reach import keys_back_m

ROOM_TO_LEAN_BACK_M = 0.25
MOST_ZOOM = 2.0
LEAST_STEP_M = 0.03
AIM_DOWN_DEG = 4.8  # just within what viewers forgive
BESIDE_LENS_M = 0.13  # the middle of a sheet of notes beside the lens
BEFORE_SCREEN_M = 0.06  # a lens on an arm in front of a screen
CENTRED = np.array([0.5, 0.36])  # of the picture: where eyes are looked for
CLIPPED_TO = ("monitor",)  # screens with an edge for a camera that is clipped on
PHONE_FURTHER, PHONE_FAR_M, GOOD_LOOK = (1.25, 1.5, 1.75, 2.0), 1.3, 0.85
SHOWN_WHOLE = ("phone", "tablet")  # they show the call over all of the screen


def for_faces(setup: Setup) -> Iterator[Move]:
    """The looks at the others brought to the lens."""
    point = faces(setup)
    if point is None or point.screen is None:
        return
    if point.screen.kind not in SHOWN_WHOLE:
        yield from _window_nearer(setup, point, "eyes.move_call_window", "the call window")
    yield from _other_screen(setup, point, "eyes.call_to_other_screen", "Bring the call to")
    yield from prompter.call_on_glass(setup, point)
    yield from _camera_to_call(setup, point)
    yield from _phone_away(setup, point)
    yield from _sit_back(setup, point)
    yield from _lens_before_window(setup, point)
    yield from _screen_under_lens(setup, point)


def for_notes(setup: Setup) -> Iterator[Move]:
    """The looks at the notes brought to the lens."""
    point = notes(setup)
    if point is None:
        return
    if point.screen is None:
        yield from _paper_beside_lens(setup)
    else:
        yield from _window_nearer(setup, point, f"eyes.move_notes.{point.window.id}", "the notes")  # type: ignore[union-attr]
        yield from _other_screen(setup, point, "eyes.notes_to_other_screen", "Bring the notes to")
    yield from prompter.notes_on_glass(setup, point)


def for_other(setup: Setup, shows: str) -> Iterator[Move]:
    """Slides or chat brought nearer the lens."""
    for point in looked_at(setup):
        if point.shows == shows and point.screen is not None:
            yield from _window_nearer(setup, point, f"eyes.move_{shows}", WORDS[shows])


def close_windows(setup: Setup, shows: str, name: str, title: str) -> Iterator[Move]:
    """All windows of a sort closed."""
    shown = [(screen, window) for screen in setup.screens for window in screen.windows if window.shows == shows]
    if shown:
        yield Move(name, title, tuple(remove(f"/screens/{screen.id}/windows/{window.id}") for screen, window in shown))


def hide_self(setup: Setup) -> Iterator[Move]:
    """The view of oneself hidden."""
    for point in looked_at(setup):
        if point.shows == "self":
            yield Move(
                "eyes.hide_self",
                "Hide the view of yourself",
                (remove(point.path),),
                detail="A small note beside the lens reminds you where to look.",
            )


def _promised(start: str, glance: Glance) -> tuple[tuple[str, float], ...]:
    return (
        (f"{start}aside", abs(glance.left_deg)), (f"{start}down", max(0.0, -glance.up_deg)), (f"{start}up", max(0.0, glance.up_deg)),
    )  # fmt: skip


def _start(point: LookedAt) -> str | None:
    return {"call": "eyes.", "notes": "eyes.notes_"}.get(point.shows)


def _window_nearer(setup: Setup, point: LookedAt, name: str, what: str) -> Iterator[Move]:
    screen, shown = point.screen, point.window
    assert screen is not None and shown is not None
    call = faces(setup)
    in_way = windows.spot_of(call.window) if call and call.window and call.screen is screen and point.shows != "call" else None
    spot = windows.best_spot(setup, screen, shown, in_way)
    patch = windows.moved_to(screen, shown, spot)
    if patch:
        start = _start(point)
        alone = point.shows != "notes" or sum(other.shows == "notes" for other in looked_at(setup)) == 1
        promises = _promised(start, windows.glance_if(setup, screen, shown, spot)) if start and alone else ()
        yield Move(name, f"Move {what} to the {windows.where_words(screen, spot)} of {the(screen.name)}'s screen", patch,
                   detail=windows.size_words(screen, spot), promises=promises)  # fmt: skip


def _other_screen(setup: Setup, point: LookedAt, name: str, verb: str) -> Iterator[Move]:
    """The screen, of those that are on, on which the window can come nearest the lens."""
    screen, shown = point.screen, point.window
    assert screen is not None and shown is not None
    others = [other for other in setup.screens if other.on and other.id != screen.id and other.kind not in ("projection", "prompter_glass")]
    others = [other for other in others if point.shows != "call" or other.kind not in SHOWN_WHOLE]
    spots = [(other, windows.best_spot(setup, other, shown.model_copy(update=_fitted(other)))) for other in others]
    if not spots:
        return
    other, spot = max(spots, key=lambda pair: windows.glance_if(setup, pair[0], shown, pair[1]).weighted_utility)
    patch = windows.brought_to(screen, shown, other, spot)
    yield Move(name, f"{verb} {the(other.name)}, at the {windows.where_words(other, spot)}", patch, detail=windows.size_words(other, spot))


def _fitted(other: object) -> dict[str, int]:
    """A window of a third of a screen, in its middle."""
    wide, high = other.width_px, other.height_px  # type: ignore[attr-defined]
    return {"left_px": wide // 3, "top_px": high // 3, "width_px": wide // 3, "height_px": high // 3}


def _sit_back(setup: Setup, point: LookedAt) -> Iterator[Move]:
    """So far back that the window comes near the lens, the zoom keeping the framing: d = offset/tan(5 degrees), in the scene itself."""
    camera, face = setup.main_camera, scene_of(setup).face
    lens = camera_pose(setup, camera).place
    if point.glance.up_deg > -DOWN.ideal_high or aiming.lid_of(setup, camera) is not None:  # type: ignore[operator]
        return  # a lid tilts its window along with its camera
    away = face.eyes - lens
    away[2] = 0.0
    now_m = float(np.linalg.norm(face.eyes - lens))
    if not away.any():
        return
    away /= np.linalg.norm(away)

    def off(step_m: float) -> float:
        return -glance_at(face.eyes + step_m * away, lens, point.place).up_deg - AIM_DOWN_DEG

    room_m = min(wall_behind_m(setup, face.eyes, away) - ROOM_TO_LEAN_BACK_M, keys_back_m(setup, away))
    step_m = aiming.root(off, 0.0, max(room_m, 0.0), 0.3) if room_m > LEAST_STEP_M else None
    if step_m is None or step_m < LEAST_STEP_M:
        return
    zoom = camera.zoom * float(np.linalg.norm(face.eyes + step_m * away - lens)) / now_m
    patch = (*moved(setup, "presenter", step_m * away), replace(f"/cameras/{camera.id}/zoom", round(zoom, 3)))
    spot = scene_of(setup).pinhole.project(face.eyes)
    if zoom > MOST_ZOOM or np.isnan(spot).any():
        return
    try:
        tilt = aiming.tilted_to(applied(setup, patch), float(spot[1]))
    except Refused:
        return
    if tilt is not None:
        title = f"Sit {length(step_m, setup.preferences.units)} back and zoom to {zoom:.1f}×"
        yield Move("eyes.sit_back", title, (*patch, *tilt), detail="From further away the window stands nearer the lens; the picture stays as it is.",
                   promises=(("eyes.down", AIM_DOWN_DEG), ("frame.eye_line", float(spot[1]))))  # fmt: skip


def _lens_before_window(setup: Setup, point: LookedAt) -> Iterator[Move]:
    """A loose camera lowered over the screen on an arm, just above the faces."""
    camera = setup.main_camera
    arm = offered(setup, "clamp_arm", "A clamp arm for the camera", mass_kg(camera))
    if camera.kind == "built_in" or camera.mount in ("laptop_lid", "arm") or arm is None or point.screen is None or point.window is None:
        return
    if point.screen.kind in SHOWN_WHOLE and camera.kind.startswith("phone"):
        return  # a phone does not hang before itself
    pane, face = screen_pane(point.screen), scene_of(setup).face
    over = point.place + 0.5 * point.window.height_px / point.screen.height_px * pane.height_m * pane.up
    place = over + BEFORE_SCREEN_M * pane.normal
    aim = _aim_at(setup, place)
    if aim is None:
        return
    loose = {
        "mount": "arm",
        "on_screen": None,
        "lens_offset_m": 0.0,
        "position": point_at(place).model_dump(),
        "yaw_deg": aim[0],
        "tilt_deg": aim[1],
    }
    patch: Patch = (replace(f"/cameras/{camera.id}", camera.model_dump(mode="json") | loose), *arm.patch)
    yield Move("eyes.camera_on_arm", f"Hang the camera in front of {the(point.screen.name)}, just above the faces", patch, arm.cost, (cautions.CLAMP,),
               detail=f"{arm.words}; {length(float(np.linalg.norm(place - face.eyes)), setup.preferences.units)} from your eyes.")  # fmt: skip


def _camera_to_call(setup: Setup, point: LookedAt) -> Iterator[Move]:
    """A camera that clips to screens, clipped to the one that shows the call."""
    camera, screen = setup.main_camera, point.screen
    if camera.mount != "monitor_top" or screen is None or screen.id == camera.on_screen or screen.kind not in CLIPPED_TO:
        return
    root = f"/cameras/{camera.id}"
    there = setup.model_copy(update={"cameras": tuple(
        other.model_copy(update={"on_screen": screen.id}) if other.id == camera.id else other for other in setup.cameras)})  # fmt: skip
    aim = _aim_at(setup, camera_pose(there, camera.model_copy(update={"on_screen": screen.id})).place, CENTRED)
    if aim is not None:
        patch = (replace(f"{root}/on_screen", screen.id), replace(f"{root}/yaw_deg", aim[0]), replace(f"{root}/tilt_deg", aim[1]))
        yield Move("eyes.camera_to_call_screen", f"Clip the camera to {the(screen.name)}, which shows the call, and aim it at your face", patch,
                   FREE, (cautions.MONITOR,), detail="Then you look at them and into the lens at once.")  # fmt: skip


def _phone_away(setup: Setup, point: LookedAt) -> Iterator[Move]:
    """The phone that films and shows the call, further away: its lens and its picture then stand closer together, seen from the eyes."""
    camera, screen = setup.main_camera, point.screen
    if screen is None or screen.kind not in SHOWN_WHOLE or camera.position is None or camera.mount not in ("holder", "tripod", "arm"):
        return
    eyes, lens = scene_of(setup).face.eyes, scene_of(setup).lens.place
    away = lens - eyes
    now_m, best = float(np.linalg.norm(away)), None
    for times in (times for times in PHONE_FURTHER if now_m * times <= PHONE_FAR_M):
        zoom = round(camera.zoom * times, 3)
        further = moved(setup, f"screens/{screen.id}", (times - 1) * away * np.array([1.0, 1.0, 0.0]))
        patch: Patch = (*further, replace(f"/cameras/{camera.id}/zoom", zoom))
        try:
            after = applied(setup, patch)
        except Refused:
            break
        beyond_desk = camera.mount == "holder" and beyond_m(desk_outline(setup.desk), scene_of(after).lens.place[:2]) > 0
        there, aim = faces(after), _aim_at(after, scene_of(after).lens.place, CENTRED)
        step_m = float(np.linalg.norm(scene_of(after).lens.place - eyes)) - now_m
        if there is None or aim is None or step_m < LEAST_STEP_M:
            break
        patch = (*patch, replace(f"/cameras/{camera.id}/yaw_deg", aim[0]), replace(f"/cameras/{camera.id}/tilt_deg", aim[1]))
        title = (
            f"Stand {the(screen.name)} {length(step_m, setup.preferences.units)} further away, aim it at your face and zoom to {zoom:.1f}×"
        )
        detail = "From there its lens and its picture stand closer together."
        if beyond_desk:  # something else carries it
            patch, detail = (
                (*patch, replace(f"/cameras/{camera.id}/mount", "tripod")),
                f"On a shelf, a stepladder or a stack behind the desk. {detail}",
            )
        best = Move("eyes.phone_further", title, patch, FREE, (cautions.PHONE_HOLDER,), detail=detail)
        if there.glance.weighted_utility >= GOOD_LOOK:
            break
    if best is not None:
        yield best


def _aim_at(setup: Setup, place: np.ndarray, spot: np.ndarray | None = None) -> tuple[float, float] | None:
    """Aim from a new lens place that puts the eyes to a spot of the picture, or keeps them where they are [deg]."""
    spot = scene_of(setup).pinhole.project(scene_of(setup).face.eyes) if spot is None else spot
    if np.isnan(spot).any():
        spot = CENTRED
    field = field_of(setup.main_camera, output_aspect(setup))
    aim = aiming.aimed(place, setup.main_camera.roll_deg, field, scene_of(setup).face.eyes, float(spot[0]), float(spot[1]))
    return None if aim is None else (round(wrapped_deg(aim[0]), 3), round(aim[1], 3))


def _screen_under_lens(setup: Setup, point: LookedAt) -> Iterator[Move]:
    """The screen brought under a camera that stands by itself."""
    camera, screen = setup.main_camera, point.screen
    if (
        camera.position is None
        or screen is None
        or screen.kind in ("laptop", "prompter_glass")
        or (screen.kind == "phone" and camera.kind.startswith("phone"))
    ):
        return
    lens, face, pane = camera_pose(setup, camera).place, scene_of(setup).face, screen_pane(screen)
    towards = face.eyes - lens
    yaw_deg, _ = yaw_tilt_deg(towards)
    middle = lens - (pane.height_m / 2 + 0.03) * np.array([0.0, 0.0, 1.0])
    if middle[2] - pane.height_m / 2 < setup.desk.height_m - 0.02:
        return
    root = f"/screens/{screen.id}"
    patch = (*(replace(f"{root}/position/{axis}_m", round(float(value), 3)) for axis, value in zip("xyz", middle, strict=True)),
             replace(f"{root}/yaw_deg", round(yaw_deg, 2)), replace(f"{root}/tilt_deg", 0.0))  # fmt: skip
    yield Move("eyes.screen_under_camera", f"Stand {the(screen.name)} right under the camera", patch, FREE, (cautions.MONITOR,))


def _paper_beside_lens(setup: Setup) -> Iterator[Move]:
    """Notes on paper hung beside the lens, on the side where they hide least of a screen."""
    lens, face = scene_of(setup).lens.place, scene_of(setup).face
    place = lens + BESIDE_LENS_M * face.left
    glance = glance_at(face.eyes, lens, place)
    alone = sum(point.shows == "notes" for point in looked_at(setup)) == 1
    had = at_home(setup, ("document_arm",), "Clipped to the screen's edge.")
    yield Move("eyes.paper_beside_lens", "Hang the notes beside the lens", (replace("/presenter/paper_notes", point_at(place).model_dump()), *had.patch),
               had.cost, detail=f"{had.words} Large print, a few words a line.", promises=_promised("eyes.notes_", glance) if alone else ())  # fmt: skip
