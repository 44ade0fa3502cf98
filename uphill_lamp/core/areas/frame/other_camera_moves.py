"""Which of the cameras owned gives the wanted shot, from where it can stand."""

from __future__ import annotations

from collections.abc import Iterator, Set
from typing import Any

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.frame.distance_moves import LEAST_DISTANCE_M, MOST_ZOOM, target_share, wanted_distance_m
from uphill_lamp.core.areas.frame.height_moves import target_deg
from uphill_lamp.core.areas.frame.measures import head_share
from uphill_lamp.core.areas.frame.mended_aim import Mended, mended, wanted_line
from uphill_lamp.core.areas.frame.turning_moves import wanted_across
from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Patch, add, applied, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import offered, with_all
from uphill_lamp.core.scene import aiming
from uphill_lamp.core.scene.pinhole import field_of
from uphill_lamp.core.scene.placing import camera_pose, output_aspect
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, direction, point_at, wrapped_deg
from uphill_lamp.core.scene.wording import length, percent, the

# What serves in the place of a kind where it lies in the drawer.
INSTEAD: dict[str, tuple[str, ...]] = {"capture_stick": ("capture_box",), "normal_lens": ("wide_lens", "short_tele_lens")}
MOST_KINDS = 24  # cameras of the catalogue that are weighed, the cheapest first


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
                f"frame.use_camera.{camera.id}", f"Use {the(camera.name)} instead", done.patch, FREE, detail=detail, promises=done.promises
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
        aim = aiming.aimed(pose.place, pose.roll_deg, field, scene_of(there).face.eyes, wanted_across(there), wanted_line(there))
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
    new = typical.camera("phone_front", "holder", id=phone.id, name=phone.name, entry="old_phone")
    placed = _before_eyes(setup, new, (remove(f"/kit/{phone.id}"), *holder.patch))
    if placed is not None:
        done, away_m = placed
        detail = f"{holder.words}; {length(away_m, setup.preferences.units)} in front of your face, level with your eyes."
        yield Move(f"frame.use_camera.{phone.id}", f"Use {the(phone.name)} as the camera", done.patch, holder.cost, (cautions.PHONE_HOLDER,), detail=detail,
                   promises=done.promises)  # fmt: skip


def _before_eyes(setup: Setup, new: dict[str, Any], drawer: Patch) -> tuple[Mended, float] | None:
    """A camera that stands by itself, put before the eyes as far away as its lens wants, as the main one; and how far [m].

    Args:
        new: the camera as plain data, without a place.
        drawer: what takes it and its parts out of the drawer.
    """
    face, yaw_deg = scene_of(setup).face, setup.presenter.facing_yaw_deg
    new = new | {"position": point_at(face.at(0.7, 0, 0)).model_dump(), "yaw_deg": (yaw_deg + 180) % 360, "tilt_deg": 0.0}
    swap: Patch = (replace(f"/cameras/{setup.main_camera.id}/use", "spare"), add("/cameras/-", new), *drawer)
    try:
        away_m = max(wanted_distance_m(applied(setup, swap)), LEAST_DISTANCE_M)
    except Refused:
        return None
    rise_m = aiming.rise_for_view_angle_m(0.0, 0.0, away_m, target_deg(setup))
    place = point_at(face.eyes + away_m * direction(yaw_deg) + rise_m * UP).model_dump()
    done = _framed(setup, (swap[0], add("/cameras/-", new | {"position": place}), *drawer))
    return (done, away_m) if done is not None else None


def from_catalogue(setup: Setup) -> Iterator[Move]:
    """Every camera of the catalogue that can be had with all it needs, put before the eyes. One whose output shows its menus is
    never the main camera."""
    if setup.computer.kind in ("phone", "tablet"):  # they take none of them
        return
    taken = {camera.id for camera in setup.cameras} | {camera.name for camera in setup.cameras}
    for kind in catalogue().cheapest("camera", MOST_KINDS):
        new_id = f"new-{kind.entry.replace('_', '-')}"[:40]
        made = _camera(kind, new_id, {item.entry for item in setup.kit})
        if made is None or kind.attributes.get("clean_hdmi") == "no" or {new_id, kind.name} & taken:
            continue
        had = with_all(setup, [kind.entry], instead=INSTEAD)
        placed = _before_eyes(setup, made, had.patch) if had is not None else None
        if had is not None and placed is not None:
            done, away_m = placed
            detail = f"{had.words}; {length(away_m, setup.preferences.units)} in front of your face, level with your eyes."
            yield Move(
                f"frame.catalogue.{kind.entry}", kind.name, done.patch, had.cost, kind.caution_words, detail=detail, promises=done.promises
            )


def _camera(kind: Kind, new_id: str, owned: Set[str]) -> dict[str, Any] | None:
    """A kind as a camera, without a place; its lens is the catalogue's that it needs, or one that is owned. None if it is none, or one from
    the drawer."""
    base = kind.attributes.get("kind", "")
    if kind.role != "camera" or base not in ("webcam", "capture"):
        return None
    made = typical.camera(base, "tripod", id=new_id, name=kind.name)
    lens = made["lens"] | kind.figures("diagonal_fov_deg", "sensor_width_m", "sensor_height_m", "f_number")
    for entry in kind.needs:
        mine = next((other for other in INSTEAD.get(entry, ()) if other in owned and entry not in owned), entry)
        fitted = catalogue().kind(mine)
        if fitted is not None and fitted.role == "lens":
            lens |= fitted.figures("focal_length_m", "f_number")
    if "diagonal_fov_deg" in lens and "focal_length_m" in lens:
        del lens["diagonal_fov_deg"]
    late = {"latency_s": kind.number("latency_ms") / 1000} if "latency_ms" in kind.attributes else {}
    return made | {"lens": lens, "entry": kind.entry} | late
