"""Moves that change how large the face is: sit nearer or back, zoom, another camera; the tilt is mended along."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.areas.frame import bands, solvers
from uphill_lamp.core.areas.frame.measures import head_share
from uphill_lamp.core.areas.frame.mended_aim import Mended, mended
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Patch, applied, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Move
from uphill_lamp.core.scene.handling import moved
from uphill_lamp.core.scene.pinhole import field_of
from uphill_lamp.core.scene.placing import output_aspect, wall_behind_m
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction
from uphill_lamp.core.scene.wording import length
from uphill_lamp.core.standing.reach import keys_back_m

LEAST_DISTANCE_M = 0.55
NATURAL_DISTANCE_M = 0.66
MOST_ZOOM = 2.0
EYES_OVER_EDGE_M = 0.02  # how far the eyes may lean over the near edge of the desk
ROOM_TO_LEAN_BACK_M = 0.25
LEAST_STEP_M = 0.02


def target_share(setup: Setup) -> float:
    """Head share in the middle of the wanted band [no unit]."""
    band = bands.HEAD_SHARE[setup.preferences.shot]
    assert band.ideal_low is not None and band.ideal_high is not None
    return (band.ideal_low + band.ideal_high) / 2


def wanted_distance_m(setup: Setup) -> float:
    """Distance from lens to eyes at which the head fills its wanted share, on the axis [m]."""
    field, face = field_of(setup.main_camera, output_aspect(setup)), scene_of(setup).face
    return solvers.distance_for_head_share_m(float(face.crown[2] - face.chin[2]), target_share(setup), field.half_height)


def _towards(setup: Setup) -> tuple[np.ndarray, float] | None:
    """Level direction from the eyes to the lens and the level distance [m]; None where the lens is straight above."""
    towards = scene_of(setup).lens.place - scene_of(setup).face.eyes
    towards[2] = 0.0
    level_m = float(np.linalg.norm(towards))
    return None if level_m < 0.05 else (towards / level_m, level_m)


def room_back_m(setup: Setup, towards: np.ndarray) -> float:
    """How far one can sit back until the chair meets the wall [m]."""
    return wall_behind_m(setup, scene_of(setup).face.eyes, -towards) - ROOM_TO_LEAN_BACK_M


def back_m(setup: Setup, towards: np.ndarray) -> float:
    """How far one can sit back and still reach the keys [m]."""
    return min(room_back_m(setup, towards), keys_back_m(setup, -towards))


def too_tight(setup: Setup) -> bool:
    """Whether the wanted shot asks for more distance than the room behind the chair gives."""
    way = _towards(setup)
    if way is None:
        return False
    distance_m = float(np.linalg.norm(scene_of(setup).lens.place - scene_of(setup).face.eyes))
    return wanted_distance_m(setup) > distance_m + max(0.0, room_back_m(setup, way[0])) + 0.02


def _room_over_desk_m(setup: Setup, towards: np.ndarray) -> float:
    """How far the eyes can come forward until they are over the near edge of the desk [m]."""
    desk, face = setup.desk, scene_of(setup).face
    ahead = direction(desk.yaw_deg)
    near_edge = float(ahead @ (np.array([desk.x_m, desk.y_m, 0.0]) - face.eyes)) - desk.depth_m / 2
    along = float(ahead @ towards)
    return (near_edge + EYES_OVER_EDGE_M) / along if along > 0.2 else 10.0


def distance_moves(setup: Setup) -> Iterator[Move]:
    """Sit nearer or back, as desk, room and nose allow; else the zoom; else both."""
    way = _towards(setup)
    if way is None:
        return
    towards, level_m = way
    distance_m = float(np.linalg.norm(scene_of(setup).lens.place - scene_of(setup).face.eyes))
    wanted_m = distance_m - wanted_distance_m(setup)
    step_m = min(wanted_m, level_m - LEAST_DISTANCE_M, _room_over_desk_m(setup, towards))
    step_m = max(step_m, -back_m(setup, towards))
    back = "As far back as room and keys allow." if step_m > wanted_m + LEAST_STEP_M else ""
    if abs(step_m) >= LEAST_STEP_M:
        done = mended(setup, moved(setup, "presenter", step_m * towards))
        if done is not None:
            where = "nearer" if step_m > 0 else "back"
            title = f"Sit {length(abs(step_m), setup.preferences.units)} {where} and re-tilt the camera"
            yield Move(f"frame.sit_{where}", title, done.patch, detail=back, promises=done.promises)
    yield from _zoomed(setup, "frame.zoom", (), "")
    if wanted_m > step_m + 0.05 and step_m >= LEAST_STEP_M:  # the desk or the nose is in the way: the zoom does the rest
        title = f"Sit {length(step_m, setup.preferences.units)} nearer and "
        yield from _zoomed(setup, "frame.sit_and_zoom", moved(setup, "presenter", step_m * towards), title)


def _zoomed(setup: Setup, name: str, first: Patch, before: str) -> Iterator[Move]:
    camera = setup.main_camera
    try:
        share = head_share(applied(setup, first) if first else setup)
    except Refused:
        return
    if share is None or share <= 0:
        return
    zoom = min(max(camera.zoom * target_share(setup) / share, 1.0), MOST_ZOOM)
    if abs(zoom / camera.zoom - 1) < 0.04:
        return
    done = mended(setup, (*first, replace(f"/cameras/{camera.id}/zoom", round(zoom, 3))))
    if done is None:
        return
    left = f"{camera.output_width_px / zoom:.0f} × {camera.output_height_px / zoom:.0f} px"
    word = f"zoom to {zoom:.1f}×"
    title = before + word if before else word.capitalize()
    yield Move(name, title, done.patch, detail=f"Leaves about {left} of real detail and needs more light.", promises=done.promises,
               extends="frame.zoom" if first else "")  # fmt: skip


def sit_for_perspective(setup: Setup) -> Iterator[Move]:
    """Back to where the nose is drawn in proportion, the zoom keeping the head's size."""
    way = _towards(setup)
    if way is None:
        return
    towards, _ = way
    distance_m = float(np.linalg.norm(scene_of(setup).lens.place - scene_of(setup).face.eyes))
    step_m = min(NATURAL_DISTANCE_M - distance_m, back_m(setup, towards))
    if step_m < LEAST_STEP_M:
        return
    camera, share = setup.main_camera, head_share(setup)
    kept = target_share(setup) / (share * distance_m / (distance_m + step_m)) if share else 1.0
    zoom = min(max(camera.zoom * kept, 1.0), MOST_ZOOM)
    step = moved(setup, "presenter", -step_m * towards)
    if abs(zoom - camera.zoom) > 0.04:
        step = (*step, replace(f"/cameras/{camera.id}/zoom", round(zoom, 3)))
    done: Mended | None = mended(setup, step)
    if done is not None:
        title = f"Sit {length(step_m, setup.preferences.units)} back and re-tilt the camera"
        yield Move("frame.sit_for_perspective", title, done.patch, promises=done.promises)
