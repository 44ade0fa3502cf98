"""Moves of Frame: raise and re-tilt, tilt, sit nearer or back, zoom, turn, level."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Camera, Screen
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Operation, applied, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.frame import bands, solvers
from uphill_lamp.core.frame.measures import measures
from uphill_lamp.core.judging import FREE, OWNED, Cost, Move
from uphill_lamp.core.scene.handling import moved
from uphill_lamp.core.scene.pinhole import field_of
from uphill_lamp.core.scene.placing import camera_pose, face_of, output_aspect, pinhole_of, wall_behind_m
from uphill_lamp.core.scene.vectors import direction
from uphill_lamp.core.scene.wording import degrees, length, money

KEYBOARD_RISE_M = 0.05  # a laptop raised more than this wants its own keyboard
SAFE_PILE = 1.2  # a pile higher than this times its shorter side is refused
BOOK_SHORT_SIDE_M = 0.17
LEAST_DISTANCE_M = 0.55
NATURAL_DISTANCE_M = 0.66
MOST_ZOOM = 2.0
EYES_OVER_EDGE_M = 0.02  # how far the eyes may lean over the near edge of the desk
ROOM_TO_LEAN_BACK_M = 0.25


def lid_of(setup: Setup, camera: Camera) -> Screen | None:
    """The laptop on whose lid the camera sits, if it does."""
    return setup.screen(camera.on_screen or "") if camera.mount == "laptop_lid" else None


def _wanted_line(setup: Setup) -> float:
    share = next(measure.value for measure in measures(setup) if measure.id == "frame.head_share")
    return bands.wanted_eye_line(setup.preferences, 0.4 if share is None else share)


def retilt(setup: Setup) -> tuple[Operation, ...] | None:
    """Operations that tilt the camera until the eyes stand on the wanted line; None if no tilt does."""
    camera, eyes = setup.main_camera, face_of(setup).eyes
    field = field_of(camera, output_aspect(setup))
    line = _wanted_line(setup)
    lid = lid_of(setup, camera)
    if lid is not None:
        found = solvers.lid_for(lid, camera, eyes, field, line, None)
        return None if found is None else (replace(f"/screens/{lid.id}/hinge_deg", round(found[0], 3)),)
    pose = camera_pose(setup, camera)
    across = pinhole_of(setup).project(eyes)[0]
    aim = solvers.aimed(pose.place, pose.roll_deg, field, eyes, 0.5 if math.isnan(across) else float(across), line)
    return None if aim is None else (replace(f"/cameras/{camera.id}/tilt_deg", round(aim[1], 3)),)


def _with_retilt(setup: Setup, operations: tuple[Operation, ...]) -> tuple[Operation, ...] | None:
    """Operations followed by the tilt that keeps the eyes on their line; None if it comes to nothing valid."""
    try:
        changed = applied(setup, operations)
    except Refused:
        return None
    tilt = retilt(changed)
    return operations if tilt is None else (*operations, *tilt)


def raise_and_retilt(setup: Setup) -> Iterator[Move]:
    """The camera to the wanted height and the eyes to their line, together, by the mount's own means."""
    camera = setup.main_camera
    target_deg = bands.VIEW_ANGLE_AIM_DEG[setup.preferences.camera_height]
    lid = lid_of(setup, camera)
    if lid is not None:
        yield from _laptop_raised(setup, lid, target_deg)
        return
    pose, eyes = camera_pose(setup, camera), face_of(setup).eyes
    level_m = math.hypot(*(eyes - pose.place)[:2])
    rise_m = solvers.rise_for_view_angle_m(eyes[2], pose.place[2], level_m, target_deg)
    operations = _with_retilt(setup, moved(setup, f"cameras/{camera.id}", np.array([0.0, 0.0, rise_m])))
    if operations is None or abs(rise_m) < 0.005:
        return
    units, verb = setup.preferences.units, "Raise" if rise_m > 0 else "Lower"
    what = {"monitor_top": "the monitor with its camera", "holder": "the phone"}.get(camera.mount, "the camera")
    said = (cautions.MONITOR,) if camera.mount == "monitor_top" else ()
    yield Move("frame.raise_camera", f"{verb} {what} {length(abs(rise_m), units)} and re-tilt", operations, FREE, said)


def _laptop_raised(setup: Setup, lid: Screen, target_deg: float) -> Iterator[Move]:
    camera = setup.main_camera
    field, eyes = field_of(camera, output_aspect(setup)), face_of(setup).eyes
    found = solvers.lid_for(lid, camera, eyes, field, _wanted_line(setup), target_deg)
    if found is None:
        return
    hinge_deg, base_m = found
    base_m = max(base_m, 0.0)
    rise_m, units = base_m - lid.position.z_m, setup.preferences.units
    operations = (
        replace(f"/screens/{lid.id}/position/z_m", round(base_m, 4)),
        replace(f"/screens/{lid.id}/hinge_deg", round(hinge_deg, 3)),
    )
    if abs(rise_m) < 0.005:
        return
    lidded = f"lid to {hinge_deg:.0f}°"
    if rise_m < 0:
        if base_m >= setup.desk.height_m - 0.005:
            yield Move("frame.raise_camera", f"Lower the laptop {length(-rise_m, units)}, {lidded}", operations)
        return
    said = (cautions.BOOKS, cautions.OWN_KEYS) if base_m - setup.desk.height_m > KEYBOARD_RISE_M else (cautions.BOOKS,)
    pile_m = base_m - setup.desk.height_m
    if pile_m <= SAFE_PILE * BOOK_SHORT_SIDE_M:
        books = solvers.book_list(setup)
        chosen = solvers.books_for(rise_m, [thickness for _, thickness in books])
        detail = _books_words(setup, books, chosen, rise_m)
        cost = OWNED if chosen else FREE
        yield Move("frame.raise_camera", f"Raise the laptop {length(rise_m, units)}, {lidded}", operations, cost, said, detail=detail)
        return
    yield from _raised_as_far_as_safe(setup, lid)
    cost = Cost("buy", typical.PRICES["laptop_stand"], setup.preferences.currency)
    title = f"Stand that raises the laptop {length(rise_m, units)}, {lidded}"
    detail = f"A pile that high would not be safe. A laptop stand, {money(cost.amount, cost.currency)}."
    yield Move("frame.laptop_stand", title, operations, cost, (cautions.OWN_KEYS,), detail=detail)


def _raised_as_far_as_safe(setup: Setup, lid: Screen) -> Iterator[Move]:
    """A pile as high as its books are safe, the lid re-tilted for it, where the whole rise would be too high."""
    base_m = setup.desk.height_m + SAFE_PILE * BOOK_SHORT_SIDE_M
    rise_m, units = base_m - lid.position.z_m, setup.preferences.units
    if rise_m < 0.02:
        return
    operations = _with_retilt(setup, (replace(f"/screens/{lid.id}/position/z_m", round(base_m, 4)),))
    if operations is not None:
        books = solvers.book_list(setup)
        chosen = solvers.books_for(rise_m, [thickness for _, thickness in books])
        detail = _books_words(setup, books, chosen, rise_m) + " Higher than this a pile is not safe."
        yield Move("frame.raise_camera", f"Raise the laptop {length(rise_m, units)} and re-tilt", operations, OWNED if chosen else FREE,
                   (cautions.BOOKS, cautions.OWN_KEYS), detail=detail)  # fmt: skip


def _books_words(setup: Setup, books: list[tuple[str, float]], chosen: list[int] | None, rise_m: float) -> str:
    units = setup.preferences.units
    if not chosen:
        return f"Books or a firm box, {length(rise_m, units)} high together."
    total_m = sum(books[index][1] for index in chosen)
    names = ", ".join(f"{books[index][0]} ({length(books[index][1], units)})" for index in chosen)
    return f"{names}: {length(total_m, units)} together, {length(abs(total_m - rise_m), units)} off."


def tilt_only(setup: Setup) -> Iterator[Move]:
    """The eyes to their line by tilting alone."""
    operations = retilt(setup)
    if operations is None:
        return
    camera, now_deg = setup.main_camera, camera_pose(setup, setup.main_camera).tilt_deg
    lid = lid_of(setup, camera)
    if lid is not None:
        yield Move("frame.retilt", f"Open the lid to {operations[0]['value']:.0f}°", operations)
        return
    step_deg = operations[0]["value"] - now_deg
    yield Move("frame.retilt", f"Tilt the camera {degrees(abs(step_deg))} {'up' if step_deg > 0 else 'down'}", operations)


def _target_share(setup: Setup) -> float:
    band = bands.HEAD_SHARE[setup.preferences.shot]
    assert band.ideal_low is not None and band.ideal_high is not None
    return (band.ideal_low + band.ideal_high) / 2


def _nearer_by_m(setup: Setup, share: float) -> float:
    """How far the eyes must come towards the lens, level, for a head share [m]; negative is back."""
    field, face = field_of(setup.main_camera, output_aspect(setup)), face_of(setup)
    pose = camera_pose(setup, setup.main_camera)
    head_m = float(face.crown[2] - face.chin[2])
    wanted_m = solvers.distance_for_head_share_m(head_m, share, field.half_height)
    return float(np.linalg.norm(face.eyes - pose.place)) - wanted_m


def distance_moves(setup: Setup) -> Iterator[Move]:
    """Sit nearer or back, as desk, room and nose allow; else the zoom."""
    face, pose = face_of(setup), camera_pose(setup, setup.main_camera)
    towards = pose.place - face.eyes
    towards[2] = 0.0
    distance_m = float(np.linalg.norm(towards))
    if distance_m < 0.05:
        return
    towards /= distance_m
    step_m = _nearer_by_m(setup, _target_share(setup))
    step_m = min(step_m, distance_m - LEAST_DISTANCE_M, _room_over_desk_m(setup, towards))
    step_m = max(step_m, -(wall_behind_m(setup, face.eyes, -towards) - ROOM_TO_LEAN_BACK_M))
    units = setup.preferences.units
    if abs(step_m) >= 0.02:
        operations = _with_retilt(setup, moved(setup, "presenter", step_m * towards))
        if operations is not None:
            where = "nearer" if step_m > 0 else "back"
            yield Move(f"frame.sit_{where}", f"Sit {length(abs(step_m), units)} {where}, camera re-tilted", operations)
    yield from _zoomed(setup)


def _room_over_desk_m(setup: Setup, towards: np.ndarray) -> float:
    """How far the eyes can come forward until they are over the near edge of the desk [m]."""
    desk, face = setup.desk, face_of(setup)
    ahead = direction(desk.yaw_deg)
    near_edge = float(ahead @ (np.array([desk.x_m, desk.y_m, 0.0]) - face.eyes)) - desk.depth_m / 2
    along = float(ahead @ towards)
    return (near_edge + EYES_OVER_EDGE_M) / along if along > 0.2 else 10.0


def _zoomed(setup: Setup) -> Iterator[Move]:
    camera = setup.main_camera
    share = next(measure.value for measure in measures(setup) if measure.id == "frame.head_share")
    if share is None:
        return
    zoom = min(max(camera.zoom * _target_share(setup) / share, 1.0), MOST_ZOOM)
    if abs(zoom / camera.zoom - 1) < 0.04:
        return
    operations = _with_retilt(setup, (replace(f"/cameras/{camera.id}/zoom", round(zoom, 3)),))
    if operations is not None:
        left = f"{camera.output_width_px / zoom:.0f} x {camera.output_height_px / zoom:.0f} px"
        yield Move("frame.zoom", f"Zoom {'in' if zoom > camera.zoom else 'out'} to {zoom:.1f} times", operations,
                   detail=f"Leaves about {left} of real detail and needs more light.")  # fmt: skip


def turn_moves(setup: Setup) -> Iterator[Move]:
    """The eyes to the wanted place across the picture by turning the camera."""
    camera, face, pose = setup.main_camera, face_of(setup), camera_pose(setup, setup.main_camera)
    band = next(measure.band for measure in measures(setup) if measure.id == "frame.side_position")
    assert band is not None and band.ideal_low is not None and band.ideal_high is not None
    x = (band.ideal_low + band.ideal_high) / 2
    field, spot = field_of(camera, output_aspect(setup)), pinhole_of(setup).project(face.eyes)
    y = float(spot[1]) if 0 <= spot[1] <= 1 else _wanted_line(setup)
    lid = lid_of(setup, camera)
    if lid is not None:
        yield from _laptop_turned(setup, lid, x)
        return
    aim = solvers.aimed(pose.place, pose.roll_deg, field, face.eyes, x, y)
    if aim is None:
        return
    step_deg = (aim[0] - pose.yaw_deg + 180) % 360 - 180
    # As the camera's operator sees it, from behind it.
    side = "right" if step_deg > 0 else "left"
    root = f"/cameras/{camera.id}"
    operations = (replace(f"{root}/yaw_deg", round(aim[0], 3)), replace(f"{root}/tilt_deg", round(aim[1], 3)))
    yield Move("frame.turn_camera", f"Turn the camera {degrees(abs(step_deg))} to its {side}", operations)


def _laptop_turned(setup: Setup, lid: Screen, x: float) -> Iterator[Move]:
    face = face_of(setup)

    def off(turn_deg: float) -> float:
        turned_lid = lid.model_copy(update={"yaw_deg": lid.yaw_deg + turn_deg})
        trial = setup.model_copy(update={"screens": tuple(turned_lid if screen.id == lid.id else screen for screen in setup.screens)})
        return float(pinhole_of(trial).project(face.eyes)[0]) - x

    turn_deg = solvers.root(off, -60, 60, 0.0)
    if turn_deg is None:
        return
    yaw_deg = (lid.yaw_deg + turn_deg + 360) % 360
    side = "left" if turn_deg > 0 else "right"  # the presenter's own, who faces it
    yield Move(
        "frame.turn_camera",
        f"Turn the laptop {degrees(abs(turn_deg))} to your {side}",
        (replace(f"/screens/{lid.id}/yaw_deg", round(yaw_deg, 3)),),
    )


def level(setup: Setup) -> Iterator[Move]:
    """The camera level."""
    yield Move("frame.level", "Level the camera", (replace(f"/cameras/{setup.main_camera.id}/roll_deg", 0.0),))


def sit_for_perspective(setup: Setup) -> Iterator[Move]:
    """Back to where the nose is drawn in proportion, the zoom keeping the head's size."""
    face, pose = face_of(setup), camera_pose(setup, setup.main_camera)
    towards = pose.place - face.eyes
    distance_m = float(np.linalg.norm(towards))
    towards[2] = 0.0
    if not towards.any():
        return
    towards /= np.linalg.norm(towards)
    room_m = wall_behind_m(setup, face.eyes, -towards) - ROOM_TO_LEAN_BACK_M
    back_m = min(NATURAL_DISTANCE_M - distance_m, room_m)
    if back_m < 0.02:
        return
    camera = setup.main_camera
    zoom = min(max(camera.zoom * _nearness_kept(setup, distance_m, back_m), 1.0), MOST_ZOOM)
    step = moved(setup, "presenter", -back_m * towards)
    if abs(zoom - camera.zoom) > 0.04:
        step = (*step, replace(f"/cameras/{camera.id}/zoom", round(zoom, 3)))
    operations = _with_retilt(setup, step)
    if operations is not None:
        yield Move("frame.sit_for_perspective", f"Sit {length(back_m, setup.preferences.units)} back, camera re-tilted", operations)


def _nearness_kept(setup: Setup, distance_m: float, back_m: float) -> float:
    """Zoom factor that brings the head to the wanted size from further back [no unit]."""
    share = next(measure.value for measure in measures(setup) if measure.id == "frame.head_share")
    return _target_share(setup) / (share * distance_m / (distance_m + back_m)) if share else 1.0
