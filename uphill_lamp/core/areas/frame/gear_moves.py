"""Gear round the camera: keyboard, wobble, mirror, focus, room on the desk. People stumble over these; of most no score tells."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.frame import bands
from uphill_lamp.core.areas.frame.distance_moves import back_m
from uphill_lamp.core.areas.frame.lens_figures import LensFigures, lens_figures
from uphill_lamp.core.areas.frame.mended_aim import mended
from uphill_lamp.core.areas.frame.seen_measures import keys_high_m
from uphill_lamp.core.areas.frame.shake import shake
from uphill_lamp.core.document.patch import Operation, Patch, applied, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.sharpness import SWAY_M, must_be_sharp_m, sharp_at, stopped_down
from uphill_lamp.core.judging import FREE, WANTING, Finding, Move
from uphill_lamp.core.masses import mass_kg
from uphill_lamp.core.offers import Offer, offered
from uphill_lamp.core.scene import optics
from uphill_lamp.core.scene.handling import moved
from uphill_lamp.core.scene.placing import camera_pose, wall_behind_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction, point_at
from uphill_lamp.core.scene.wording import length, percent, the

WALL_MOUNTS = (("wall_mount", "A small wall mount"), ("wall_rail", "A wall rail"))
WALL_IN_REACH_M = 0.7
FULL_DESK = 0.65  # of the desk: what is left is too little for hands and a sheet of paper
# Width and depth a thing takes on the desk [m]: working values.
FOOTPRINTS_M = {
    "laptop": (0.33, 0.23),
    "monitor": (0.25, 0.20),
    "tablet": (0.25, 0.12),
    "phone": (0.10, 0.10),
    "prompter_glass": (0.25, 0.30),
}
KEYBOARD_M, LAMP_M, MICROPHONE_M, HOLDER_M = (0.44, 0.15), (0.17, 0.17), (0.13, 0.13), (0.12, 0.12)


def findings(setup: Setup, face_lx: float) -> Iterator[Finding]:
    """What is wrong with the gear round the main camera.

    Args:
        face_lx: light on the front of the face [lx].
    """
    units, camera = setup.preferences.units, setup.main_camera
    high_m = keys_high_m(setup)
    if bands.KEYS_M.utility(high_m) < WANTING:
        title, why = (
            f"Your keyboard stands {length(high_m, units)} too high",
            "A raised laptop lifts its keys with it: wrists and shoulders tire.",
        )
        yield Finding("frame.keyboard", "frame", title, why, ("frame.keys",))
    if bands.SHAKE.utility(share := shake(setup)) < WANTING:
        title = f"Each keystroke shakes the picture by {100 * share:.2f} % of its width"
        why = f"The desk sways at {length(setup.desk.height_m, units)}, and the camera on it; a knock shakes it five times as far."
        yield Finding("frame.wobble", "frame", title, why, ("frame.shake",))
    figures = lens_figures(setup, face_lx)
    if not sharp_at(camera, figures.distance_m):
        title = f"Only {_sharp_words(figures, units)} is sharp"
        sway = "" if camera.focus.kind == "auto" else f" and sway {length(SWAY_M, units)} to and fro"
        why = f"You sit {length(figures.distance_m, units)} away{sway}: your eyes go soft."
        yield _told("focus", title, why, "clear")
    if camera.kind == "phone_rear" and camera.framed_in == "nothing":
        yield _told("blind", "You cannot see what the rear camera films", "Used blind, nobody ends up in the middle.", "slight")
    share = desk_share(setup)
    if share > FULL_DESK:
        why = "Hands, notes and a cup need the rest."
        yield _told("desk_space", f"The gear takes {percent(min(share, 9.99))} of the desk", why, "slight")


def _told(name: str, title: str, why: str, severity: str) -> Finding:
    return Finding(f"frame.{name}", "frame", title, why, (), severity=severity)  # type: ignore[arg-type]


# ---- keyboard


def keyboard_moves(setup: Setup) -> Iterator[Move]:
    """A keyboard of its own on the desk."""
    offer = offered(setup, "keyboard", "A plain keyboard") or Offer(FREE, (), "Any keyboard and mouse you can borrow will do.")
    yield Move("frame.separate_keyboard", "Type on a keyboard of its own", (replace("/computer/separate_keyboard", True), *offer.patch), offer.cost,
               (cautions.OWN_KEYS,), detail=offer.words)  # fmt: skip


# ---- wobble


def wobble_moves(setup: Setup) -> Iterator[Move]:
    """The camera off the desk: a tripod on the floor, or the wall behind it."""
    camera, pose = setup.main_camera, scene_of(setup).lens
    if camera.mount == "laptop_lid":
        return  # a lid cannot leave its desk
    loose = {
        "on_screen": None,
        "lens_offset_m": 0.0,
        "position": point_at(pose.place).model_dump(),
        "yaw_deg": pose.yaw_deg,
        "tilt_deg": pose.tilt_deg,
    }

    def fixed(mount: str) -> Patch:
        return (replace(f"/cameras/{camera.id}", camera.model_dump(mode="json") | loose | {"mount": mount}),)

    offer = offered(setup, "floor_tripod", "A light floor tripod", mass_kg(camera))
    if offer:
        yield Move(
            "frame.tripod",
            "Put the camera on a tripod on the floor",
            (*fixed("tripod"), *offer.patch),
            offer.cost,
            (cautions.TRIPOD,),
            detail=offer.words,
        )
    behind_m = wall_behind_m(setup, pose.place, -direction(pose.yaw_deg))
    offer = next((had for entry, words in WALL_MOUNTS if (had := offered(setup, entry, words, mass_kg(camera))) and had.cost.kind == "owned"),
                 offered(setup, *WALL_MOUNTS[0], mass_kg(camera)))  # fmt: skip
    if offer and behind_m < WALL_IN_REACH_M:
        yield Move("frame.wall", f"Fix the camera to the wall {length(behind_m, setup.preferences.units)} behind it", (*fixed("wall"),
            *offer.patch), offer.cost,
                   (cautions.DRILLING,), detail=offer.words)  # fmt: skip


# ---- focus


def _sharp_words(figures: LensFigures, units: str) -> str:
    near, far = length(figures.depth.near_m, units), length(figures.depth.far_m, units) if figures.depth.far_m < 100 else ""  # type: ignore[arg-type]
    return f"what is {near} to {far} away" if far else f"what is further than {near}"


def focus_moves(setup: Setup, face_lx: float) -> Iterator[Move]:
    """Focus on the eyes, or a smaller aperture, or both."""
    camera, figures, units = setup.main_camera, lens_figures(setup, face_lx), setup.preferences.units
    distance_m, root = figures.distance_m, f"/cameras/{camera.id}"
    least, most = must_be_sharp_m(camera, distance_m)
    yield from _back_into_focus(setup)
    patch: tuple[Operation, ...] = ()
    focus_m, focal, circle = figures.focus_m, optics.focal_length_m(camera), optics.circle_m(camera)
    if camera.focus.kind == "manual" and abs(focus_m - distance_m) > 0.005:
        focus_m = round(max(distance_m, optics.nearest_focus_m(camera)), 3)  # as it will be kept: sharpness is judged by that
        patch = (replace(f"{root}/focus/distance_m", focus_m),)
    stand_in = "Put a stand-in on the chair, at your eyes' height and place: a lamp stand or a box with print on it." if patch else ""
    cautioned = (cautions.STAND_IN,) if patch else ()
    if optics.depth_of_field(focal, camera.lens.f_number, circle, focus_m).holds(least, most):
        if patch:
            yield Move("frame.focus_on_eyes", f"Focus {length(focus_m, units)} away, on your eyes", patch, FREE, cautioned, detail=stand_in)
        return
    number = stopped_down(camera, focus_m, least, most) if camera.kind == "capture" else None
    if number is not None:
        lost = (number / camera.lens.f_number) ** 2
        title = f"Stop down to f/{number:g}" + (f" and focus {length(focus_m, units)} away, on your eyes" if patch else "")
        detail = f"Asks for {lost:.1f} times the light. {stand_in}".strip()
        yield Move("frame.stop_down", title, (*patch, replace(f"{root}/lens/f_number", number)), FREE, cautioned, detail=detail)


def _back_into_focus(setup: Setup) -> Iterator[Move]:
    """Just far enough back for a lens that does not focus so near."""
    camera = setup.main_camera
    away = scene_of(setup).face.eyes - camera_pose(setup, camera).place
    rise_m, away[2] = float(away[2]), 0.0
    level_m = float(np.linalg.norm(away))
    if camera.focus.kind == "manual" or level_m < 0.01:
        return
    away /= level_m
    for step_m in np.arange(0.02, back_m(setup, -away), 0.02):
        if not sharp_at(camera, float(np.hypot(level_m + step_m, rise_m))):
            continue
        done = mended(setup, moved(setup, "presenter", step_m * away))
        if done is None:
            return
        there = applied(setup, done.patch)  # a lid that is tilted takes its lens along
        if sharp_at(camera, float(np.linalg.norm(scene_of(there).face.eyes - camera_pose(there, camera).place))):
            title = f"Sit {length(float(step_m), setup.preferences.units)} back, where the lens can focus, and re-tilt the camera"
            yield Move("frame.back_into_focus", title, done.patch, promises=done.promises)
            return


# ---- mirror and desk


def blind_moves(setup: Setup) -> Iterator[Move]:
    """A mirror behind the phone, or its picture on a second screen."""
    root = f"/cameras/{setup.main_camera.id}/framed_in"
    yield Move("frame.mirror", "Stand a mirror behind the phone to frame by", (replace(root, "mirror"),),
               detail="Any hand mirror: look past the phone until your head stands in the middle, then leave it.")  # fmt: skip
    if any(screen.on and screen.kind != "phone" for screen in setup.screens):
        yield Move(
            "frame.second_screen", "Show the phone's picture on the other screen while you set up", (replace(root, "second_screen"),)
        )


def desk_share(setup: Setup) -> float:
    """Share of the desk's top under gear [no unit]; things on arms, clamps and bodies take nothing."""
    taken = [FOOTPRINTS_M[screen.kind] for screen in setup.screens if screen.kind in FOOTPRINTS_M and _over_desk(setup, screen.position)]
    if setup.computer.separate_keyboard or setup.computer.kind == "desktop":
        taken.append(KEYBOARD_M)
    taken += [LAMP_M for light in setup.lights if light.stands == "desk"]
    taken += [MICROPHONE_M for microphone in setup.microphones if microphone.stand == "desk_stand" and microphone.position is not None]
    taken += [
        HOLDER_M for camera in setup.cameras if camera.mount == "holder" and not any(screen.kind == "phone" for screen in setup.screens)
    ]
    return sum(width * depth for width, depth in taken) / (setup.desk.width_m * setup.desk.depth_m)


def _over_desk(setup: Setup, position: object) -> bool:
    beyond = np.array([position.x_m - setup.desk.x_m, position.y_m - setup.desk.y_m])  # type: ignore[attr-defined]
    return float(np.linalg.norm(beyond)) < max(setup.desk.width_m, setup.desk.depth_m)


def desk_moves(setup: Setup) -> Iterator[Move]:
    """Lamps onto a clamp at the edge, a microphone onto an arm."""
    for light in setup.lights:
        offer = offered(setup, "clip_lamp_clamp", "A clamp for the lamp", mass_kg(light))
        if light.stands == "desk" and offer:
            yield Move(f"frame.clamp_lamp.{light.id}", f"Clamp {the(light.name)} to the desk's edge",
                (replace(f"/lights/{light.id}/stands", "clamp"), *offer.patch),
                       offer.cost, (cautions.CLAMP,), detail=offer.words)  # fmt: skip
    for microphone in setup.microphones:
        offer = offered(setup, "boom_arm", "A boom arm", mass_kg(microphone))
        if microphone.stand == "desk_stand" and offer:
            yield Move(f"frame.boom.{microphone.id}", f"Hang {the(microphone.name)} on an arm",
                (replace(f"/microphones/{microphone.id}/stand", "boom_arm"), *offer.patch),
                       offer.cost, (cautions.CLAMP,), detail=offer.words)  # fmt: skip
