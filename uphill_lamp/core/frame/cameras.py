"""Which of the cameras owned gives the wanted shot, from where it can stand."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core import cautions
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Patch, add, applied, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.frame.aim import Mended, mended, wanted_line
from uphill_lamp.core.frame.distance import LEAST_DISTANCE_M, MOST_ZOOM, target_share, wanted_distance_m
from uphill_lamp.core.frame.height import target_deg
from uphill_lamp.core.frame.measures import head_share
from uphill_lamp.core.frame.turning import wanted_across
from uphill_lamp.core.judging import OWNED, Move
from uphill_lamp.core.offers import offered
from uphill_lamp.core.scene import aiming
from uphill_lamp.core.scene.pinhole import field_of
from uphill_lamp.core.scene.placing import camera_pose, face_of, output_aspect
from uphill_lamp.core.scene.vectors import UP, direction, point_at, wrapped_deg
from uphill_lamp.core.scene.wording import length, percent


def other_cameras(setup: Setup) -> Iterator[Move]:
    """Each spare camera used instead, aimed and zoomed from where it stands; a phone from the drawer where it serves best."""
    for camera in setup.cameras:
        if camera.use != "spare":
            continue
        swap: Patch = (replace(f"/cameras/{setup.main_camera.id}/use", "spare"), replace(f"/cameras/{camera.id}/use", "main"))
        done = _framed(setup, swap)
        if done is not None:
            there = applied(setup, done.patch)
            detail = f"From where it stands your head fills {percent(head_share(there) or 0)} of the picture."
            yield Move(
                f"frame.use_camera.{camera.id}", f"Use instead: {camera.name}", done.patch, OWNED, detail=detail, promises=done.promises
            )
    yield from _phone_from_drawer(setup)


def _framed(setup: Setup, patch: Patch) -> Mended | None:
    """A change of camera followed by zoom and aim; None if that camera cannot be brought to see the face."""
    try:
        there = applied(setup, patch)
    except Refused:
        return None
    camera = there.main_camera
    if aiming.lid_of(there, camera) is None:
        pose, field = camera_pose(there, camera), field_of(camera, output_aspect(there))
        aim = aiming.aimed(pose.place, pose.roll_deg, field, face_of(there).eyes, wanted_across(there), wanted_line(there))
        if aim is None:
            return None
        patch = (
            *patch,
            replace(f"/cameras/{camera.id}/yaw_deg", round(wrapped_deg(aim[0]), 3)),
            replace(f"/cameras/{camera.id}/tilt_deg", round(aim[1], 3)),
        )
        there = applied(setup, patch)
    share = head_share(there)
    if share is None:
        return None
    zoom = min(max(camera.zoom * target_share(there) / share, 1.0), MOST_ZOOM)
    if abs(zoom / camera.zoom - 1) > 0.04:
        patch = (*patch, replace(f"/cameras/{camera.id}/zoom", round(zoom, 3)))
    return mended(setup, patch)


def _phone_from_drawer(setup: Setup) -> Iterator[Move]:
    """A spare phone's front camera on a holder before the eyes, as far away as its lens wants."""
    phone = next((item for item in setup.kit if item.entry == "old_phone"), None)
    holder = offered(setup, "phone_holder", "A holder for it")
    taken = {camera.id for camera in setup.cameras} | {camera.name for camera in setup.cameras}
    if phone is None or holder is None or {phone.id, phone.name} & taken:
        return
    face, yaw_deg = face_of(setup), setup.presenter.facing_yaw_deg
    new = typical.camera("phone_front", "holder", id=phone.id, name=phone.name, position=point_at(face.at(0.7, 0, 0)).model_dump(), yaw_deg=yaw_deg + 180,
                         tilt_deg=0.0)  # fmt: skip
    swap: Patch = (
        replace(f"/cameras/{setup.main_camera.id}/use", "spare"),
        add("/cameras/-", new),
        remove(f"/kit/{phone.id}"),
        *holder.patch,
    )
    try:
        away_m = max(wanted_distance_m(applied(setup, swap)), LEAST_DISTANCE_M)
    except Refused:
        return
    rise_m = aiming.rise_for_view_angle_m(0.0, 0.0, away_m, target_deg(setup))
    place = point_at(face.eyes + away_m * direction(yaw_deg) + rise_m * UP).model_dump()
    swap = (swap[0], add("/cameras/-", new | {"position": place}), *swap[2:])
    done = _framed(setup, swap)
    if done is not None:
        detail = f"{holder.words}; {length(away_m, setup.preferences.units)} before your face, level with your eyes."
        yield Move(f"frame.use_camera.{phone.id}", f"Use as the camera: {phone.name}", done.patch, holder.cost, (cautions.PHONE_HOLDER,), detail=detail,
                   promises=done.promises)  # fmt: skip
