"""Moves that bring the lens to the eyes' height, by whatever the camera stands on; the tilt is mended along with it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace as changed

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.frame import bands, solvers
from uphill_lamp.core.areas.frame.mended_aim import Mended, mended, wanted_line
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.devices import Camera, Screen
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import FREE, OWNED, Cost, Move
from uphill_lamp.core.offers import at_home, offered
from uphill_lamp.core.scene import aiming
from uphill_lamp.core.scene.handling import at_desk, moved, thing_at
from uphill_lamp.core.scene.pinhole import field_of
from uphill_lamp.core.scene.placing import camera_pose, output_aspect, screen_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.wording import length

KEYBOARD_RISE_M = 0.05  # a laptop raised more than this wants its own keyboard
SAFE_PILE = 1.2  # a pile higher than this times its shorter side is refused
BOOK_SHORT_SIDE_M = 0.17
LEAST_STEP_M = 0.005
MONITOR_FOOT_M = 0.03  # least gap between a monitor's picture and the desk
FLAT_CLAMP_M = 0.012  # how far above the picture a flat clamp holds a lens
CHAIR_REACH_M = 0.08  # what an office chair gives up or down from where it is
# How low and how high the lens may stand above the desk, or the floor for a tripod [m].
STAND_REACH_M = {"holder": (0.05, 0.60), "arm": (0.05, 0.75), "tripod": (0.15, 1.90)}
TABLE_M, LOW_TABLE_M, SEATED_EYES_M = 0.74, 0.60, 1.2  # a table to work at, one too low for it, eyes over a usual chair
JUST_M = 0.005  # a pile as near as that to the height wanted is just what is needed
STANDS = {"holder": "the phone", "arm": "the camera on its arm", "tripod": "the camera on its tripod"}


def target_deg(setup: Setup) -> float:
    """Elevation of the lens seen from the eyes that the chosen school aims at [deg]."""
    return bands.VIEW_ANGLE_AIM_DEG[setup.preferences.camera_height]


def wanted_rise_m(setup: Setup) -> float:
    """How much higher the lens must stand, as far from the eyes as it is [m]; negative is lower."""
    pose, eyes = scene_of(setup).lens, scene_of(setup).face.eyes
    return aiming.rise_for_view_angle_m(float(eyes[2]), float(pose.place[2]), math.hypot(*(eyes - pose.place)[:2]), target_deg(setup))


def height_moves(setup: Setup) -> Iterator[Move]:
    """The lens to the wanted height, in order of least trouble: its own stand, the desk, the chair."""
    camera = setup.main_camera
    lid = aiming.lid_of(setup, camera)
    if lid is not None:
        yield from _laptop(setup, lid)
    elif camera.mount == "monitor_top":
        yield from _monitor(setup, camera)
    elif camera.mount in STAND_REACH_M:
        yield from _stand(setup, camera)
    else:
        yield from _fixed(setup, camera)
    yield from _desk(setup)
    yield from _chair(setup)


def _said(setup: Setup, step_m: float) -> str:
    return length(abs(step_m), setup.preferences.units)


def _move(
    name: str, title: str, done: Mended | None, cost: Cost = FREE, cautioned: tuple[str, ...] = (), detail: str = ""
) -> Iterator[Move]:
    if done is not None:
        yield Move(f"frame.{name}", title, done.patch, cost, cautioned, detail=detail, promises=done.promises)


def _raised(setup: Setup, thing: str, step_m: float) -> Patch:
    return moved(setup, thing, np.array([0.0, 0.0, step_m]))


# ---- a laptop: base and lid solved together


def _laptop(setup: Setup, lid: Screen) -> Iterator[Move]:
    camera, eyes, line = setup.main_camera, scene_of(setup).face.eyes, wanted_line(setup)
    lid_deg = aiming.lid_for(lid, camera, eyes, field_of(camera, output_aspect(setup)), line, target_deg(setup))
    if lid_deg is None:
        return
    hinge_deg, base_m = lid_deg[0], max(lid_deg[1], 0.0)
    step_m, lidded = base_m - lid.position.z_m, f"tilt the screen to {lid_deg[0]:.0f}°"
    patch = (replace(f"/screens/{lid.id}/position/z_m", round(base_m, 4)), replace(f"/screens/{lid.id}/hinge_deg", round(hinge_deg, 3)))
    done = Mended(patch, (("frame.view_angle", target_deg(setup)), ("frame.eye_line", line)))
    pile_m = base_m - setup.desk.height_m
    if abs(step_m) < LEAST_STEP_M:
        return
    if step_m < 0:
        if pile_m >= -LEAST_STEP_M:
            yield from _move("raise_camera", f"Lower the laptop {_said(setup, step_m)} and {lidded}", done)
        return
    keys = (cautions.OWN_KEYS,) if pile_m > KEYBOARD_RISE_M and not setup.computer.separate_keyboard else ()
    if pile_m <= SAFE_PILE * BOOK_SHORT_SIDE_M:
        cost, detail = _books(setup, step_m)
        yield from _move(
            "raise_camera", f"Raise the laptop {_said(setup, step_m)} and {lidded}", done, cost, (cautions.BOOKS, *keys), detail
        )
        return
    yield from _as_far_as_safe(setup, lid, keys)
    yield from _on_a_stand(setup, lid, base_m, done, lidded, keys)
    yield from _higher_table(setup)


def _on_a_stand(setup: Setup, lid: Screen, wanted_m: float, whole: Mended | None, lidded: str, keys: tuple[str, ...]) -> Iterator[Move]:
    """A stand gives its own height, a firm box under it what a pile may have; more there is not."""
    stand, kind = offered(setup, "laptop_stand", "A laptop stand"), catalogue().kind("laptop_stand")
    if stand is None or kind is None:
        return
    own_m = kind.number("height_m", 0.0)
    box_m = min(max(wanted_m - setup.desk.height_m - own_m, 0.0), SAFE_PILE * BOOK_SHORT_SIDE_M)
    base_m = min(wanted_m, setup.desk.height_m + own_m + box_m)
    step_m = base_m - lid.position.z_m
    reached = base_m >= wanted_m - LEAST_STEP_M
    done = whole if reached else mended(setup, (replace(f"/screens/{lid.id}/position/z_m", round(base_m, 4)),))
    if done is None or step_m < LEAST_STEP_M:
        return
    units = setup.preferences.units
    box = f", on a firm box of {length(box_m, units)}" if box_m > LEAST_STEP_M else ""
    detail = f"A pile that high would not be safe. {stand.words}." + ("" if reached else " More than that it does not give.")
    title = f"Stand the laptop on a stand{box}, {_said(setup, step_m)} higher, and {lidded if reached else 're-tilt'}"
    boxed = (cautions.BOOKS,) if box else ()
    yield from _move("laptop_stand", title, changed(done, patch=(*done.patch, *stand.patch)), stand.cost, (*boxed, *keys), detail)


def _higher_table(setup: Setup) -> Iterator[Move]:
    """From a table made for cups to one made for work, and from the sofa to a chair."""
    presenter, rise_m = setup.presenter, TABLE_M - setup.desk.height_m
    if setup.desk.height_m > LOW_TABLE_M or setup.desk.height_range is not None or presenter.posture != "sitting":
        return
    eyes_m = max(SEATED_EYES_M - presenter.eye_height_m, 0.0)
    carried = [(handle, thing_at(setup, handle).position) for handle in at_desk(setup)]  # type: ignore[union-attr]
    up = (
        replace("/desk/height_m", TABLE_M),
        *(replace(f"/{handle}/position/z_m", round(place.z_m + rise_m, 3)) for handle, place in carried if place is not None),
        *(_raised(setup, "presenter", eyes_m) if eyes_m else ()),
    )
    title = f"Carry the laptop to a table of {length(TABLE_M, setup.preferences.units)}, and sit on a chair at it"
    yield from _move(
        "higher_table", title, mended(setup, up), FREE, (cautions.CABLES,), "If there is one: this table is too low to call from."
    )


def _as_far_as_safe(setup: Setup, lid: Screen, keys: tuple[str, ...]) -> Iterator[Move]:
    """A pile as high as its books are safe, the lid re-tilted for it, where the whole rise would be too high."""
    base_m = setup.desk.height_m + SAFE_PILE * BOOK_SHORT_SIDE_M
    step_m = base_m - lid.position.z_m
    if step_m >= 0.02:
        cost, detail = _books(setup, step_m)
        done = mended(setup, (replace(f"/screens/{lid.id}/position/z_m", round(base_m, 4)),))
        title = f"Raise the laptop {_said(setup, step_m)} and re-tilt"
        yield from _move("raise_camera", title, done, cost, (cautions.BOOKS, *keys), f"{detail} This is as high as a pile may be.")


def _books(setup: Setup, rise_m: float) -> tuple[Cost, str]:
    """What to put underneath: the books that lie about, or in words."""
    units, books = setup.preferences.units, solvers.book_list(setup)
    chosen = solvers.books_for(rise_m, [thickness for _, thickness in books])
    if not chosen:
        return FREE, f"Books or a firm box, {length(rise_m, units)} high in all."
    total_m = sum(books[index][1] for index in chosen)
    names = ", ".join(f"{books[index][0]} ({length(books[index][1], units)})" for index in chosen)
    off_m = total_m - rise_m
    if off_m < -JUST_M:  # what the books do not give, something else must
        return OWNED, f"{names}: {length(total_m, units)} in all, and a firm box of {length(-off_m, units)}."
    fits = "just what is needed" if off_m < JUST_M else f"{length(off_m, units)} more than needed"
    return OWNED, f"{names}: {length(total_m, units)} in all, {fits}."


# ---- a camera on a monitor: the monitor goes up or down; down it ends at the desk


def _monitor(setup: Setup, camera: Camera) -> Iterator[Move]:
    rise_m, thing = wanted_rise_m(setup), f"cameras/{camera.id}"
    if rise_m > LEAST_STEP_M:
        had = at_home(setup, ("monitor_arm",), "By its own stand, or on a firm box.")
        title = f"Raise the monitor with its camera {_said(setup, rise_m)} and re-tilt"
        done = mended(setup, (*_raised(setup, thing, rise_m), *had.patch), target_deg(setup))
        yield from _move("raise_camera", title, done, had.cost, (cautions.MONITOR, *((cautions.CLAMP,) if had.patch else ())), had.words)
        return
    room_m = max(0.0, float(screen_pane(setup.screen(camera.on_screen or "")).at(0.5, 1.0)[2]) - setup.desk.height_m - MONITOR_FOOT_M)
    down_m = min(-rise_m, room_m)
    whole = down_m >= -rise_m - 1e-6
    if down_m > LEAST_STEP_M:
        done = mended(setup, _raised(setup, thing, -down_m), target_deg(setup) if whole else None)
        title = f"Lower the monitor with its camera {_said(setup, down_m)} and re-tilt"
        yield from _move(
            "raise_camera", title, done, FREE, (cautions.MONITOR,), "" if whole else "It goes no lower: it stands on the desk then."
        )
    saved_m = camera.lens_offset_m - FLAT_CLAMP_M
    if not whole and saved_m > LEAST_STEP_M:
        lower = (*(_raised(setup, thing, -down_m) if down_m > LEAST_STEP_M else ()), replace(f"/{thing}/lens_offset_m", FLAT_CLAMP_M))
        title = f"Lower the monitor all the way and give its camera a flat clamp ({_said(setup, saved_m)} lower)"
        for move in _move("flat_clamp", title, mended(setup, lower), FREE, (cautions.MONITOR,)):
            yield changed(move, extends="frame.raise_camera")


# ---- a camera that stands by itself


def _stand(setup: Setup, camera: Camera) -> Iterator[Move]:
    pose, ground_m = camera_pose(setup, camera), 0.0 if camera.mount == "tripod" else setup.desk.height_m
    low, high = STAND_REACH_M[camera.mount]
    now_m = float(pose.place[2])
    then_m = min(max(now_m + wanted_rise_m(setup), ground_m + low), ground_m + high, setup.room.height_m - 0.05)
    step_m = then_m - now_m
    if abs(step_m) < LEAST_STEP_M:
        return
    whole = abs(step_m - wanted_rise_m(setup)) < 1e-6
    done = mended(setup, _raised(setup, f"cameras/{camera.id}", step_m), target_deg(setup) if whole else None)
    cautioned: tuple[str, ...] = ({"holder": cautions.PHONE_HOLDER, "arm": cautions.CLAMP, "tripod": cautions.TRIPOD}[camera.mount],)
    cost, detail = FREE, ""
    if camera.mount == "holder" and 0 < step_m <= SAFE_PILE * BOOK_SHORT_SIDE_M:
        (cost, detail), cautioned = _books(setup, step_m), (cautions.BOOKS, *cautioned)
    title = f"{'Raise' if step_m > 0 else 'Lower'} {STANDS[camera.mount]} {_said(setup, step_m)} and re-tilt"
    yield from _move("raise_camera", title, done, cost, cautioned, detail)


def _fixed(setup: Setup, camera: Camera) -> Iterator[Move]:
    """A camera on a wall or ceiling is moved with tools, if at all."""
    pose = camera_pose(setup, camera)
    step_m = min(wanted_rise_m(setup), setup.room.height_m - 0.05 - float(pose.place[2]))
    if abs(step_m) < LEAST_STEP_M or pose.place[2] + step_m < 0.3:
        return
    title = f"Mount the camera {_said(setup, step_m)} {'higher' if step_m > 0 else 'lower'} and re-tilt"
    yield from _move("raise_camera", title, mended(setup, _raised(setup, f"cameras/{camera.id}", step_m)), FREE, (cautions.DRILLING,))


# ---- the desk and the chair


def _desk(setup: Setup) -> Iterator[Move]:
    """A desk that goes up and down takes the camera on it along."""
    span, camera = setup.desk.height_range, setup.main_camera
    if span is None or camera.mount not in ("laptop_lid", "monitor_top", "holder", "arm"):
        return
    then_m = min(max(setup.desk.height_m + wanted_rise_m(setup), span.low_m), span.high_m)
    step_m = then_m - setup.desk.height_m
    if abs(step_m) >= 0.01:
        title = f"{'Raise' if step_m > 0 else 'Lower'} the desk {_said(setup, step_m)} and re-tilt"
        yield from _move("move_desk", title, mended(setup, _raised(setup, "desk", step_m)), FREE, (cautions.DESK_MOVES,))


def _chair(setup: Setup) -> Iterator[Move]:
    """The chair up to a lens that stands too high, or down to one too low, as far as chairs go."""
    step_m = -wanted_rise_m(setup)
    if setup.presenter.posture != "sitting" or not 0.01 <= abs(step_m) <= CHAIR_REACH_M:
        return
    title = f"{'Raise' if step_m > 0 else 'Lower'} the chair {_said(setup, step_m)} and re-tilt the camera"
    yield from _move("move_chair", title, mended(setup, _raised(setup, "presenter", step_m)), FREE, (cautions.CHAIR,))
