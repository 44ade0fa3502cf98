"""Figures of Frame: what the projection says of the face (docs/method/frame.md)."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.areas.frame import bands
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, Measure, weighed
from uphill_lamp.core.scene.destination import px_per_height
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.scene import scene_of

NOSE_BEFORE_EYES_M = 0.02
EARS_BEHIND_EYES_M = 0.09
NOT_SEEN = "The face is not in front of the lens."


def view_angle_deg(eyes: np.ndarray, lens: np.ndarray) -> float:
    """Elevation of the lens seen from the eyes, + above them [deg]; places of shape (3,) [m]."""
    beyond = lens - eyes
    return math.degrees(math.atan2(beyond[2], math.hypot(beyond[0], beyond[1])))


def perspective_ratio(distance_m: float) -> float | None:
    """How much larger the nose is drawn than the ears [no unit]; None nearer than the nose stands out."""
    if distance_m <= NOSE_BEFORE_EYES_M + 0.005:
        return None
    return (distance_m + EARS_BEHIND_EYES_M) / (distance_m - NOSE_BEFORE_EYES_M)


def camera_paths(setup: Setup, camera: Camera) -> list[str]:
    """Paths of the values on which a camera's place rests, for the origin of its figures."""
    if camera.on_screen is not None:
        root = f"/screens/{camera.on_screen}"
        aim = f"{root}/hinge_deg" if camera.mount == "laptop_lid" else f"/cameras/{camera.id}/tilt_deg"
        return [f"{root}/position/y_m", f"{root}/position/z_m", aim]
    root = f"/cameras/{camera.id}"
    return [f"{root}/position/y_m", f"{root}/position/z_m", f"{root}/tilt_deg"]


def lens_path(camera: Camera) -> str:
    """Path of the value that gives the lens its angle."""
    return f"/cameras/{camera.id}/lens/" + ("focal_length_m" if camera.lens.focal_length_m else "diagonal_fov_deg")


def looks_to_picture_right(face: Face, pinhole: Pinhole) -> bool:
    """Whether the face turns to the right edge of the picture."""
    return float(face.forward @ pinhole.right) > 0


def side_band_of(setup: Setup) -> Band:
    """Where across the picture the eyes should be, by the school chosen and the way the face turns."""
    return bands.side_band(setup.preferences, looks_to_picture_right(scene_of(setup).face, scene_of(setup).pinhole))


def head_share(setup: Setup) -> float | None:
    """Chin to crown as a share of the picture's height [no unit]; None where the lens does not see them."""
    face = scene_of(setup).face
    spots = scene_of(setup).pinhole.project(np.array([face.crown, face.chin]))
    return None if np.isnan(spots).any() else abs(float(spots[1, 1] - spots[0, 1]))


def face_px(setup: Setup) -> float | None:
    """Height of the face, chin to crown, as a viewer with a window of 1280 x 720 px sees it [px]; None if it is not in the picture."""
    share = head_share(setup)
    return None if share is None else share * px_per_height(setup.call)


def measures(setup: Setup) -> tuple[Measure, ...]:
    """All measures of Frame for the main camera."""
    camera, preferences = setup.main_camera, setup.preferences
    face, pinhole, pose = scene_of(setup).face, scene_of(setup).pinhole, scene_of(setup).lens
    eyes, crown, chin = (pinhole.project(place) for place in (face.eyes, face.crown, face.chin))
    seen = not (np.isnan(eyes).any() or np.isnan(crown).any() or np.isnan(chin).any())
    distance_m = float(np.linalg.norm(face.eyes - pose.place))
    where = setup.origin_of("/presenter/eye_height_m", *camera_paths(setup, camera))
    picture = setup.origin_of("/presenter/eye_height_m", *camera_paths(setup, camera), lens_path(camera))

    def in_picture(name: str, label: str, value: float, band: Band, about: str) -> Measure:
        return Measure(f"frame.{name}", label, value if seen else None, "share", band, picture, about, "" if seen else NOT_SEEN)

    side = bands.side_band(preferences, looks_to_picture_right(face, pinhole))
    ratio = perspective_ratio(distance_m)
    figures = (
        Measure("frame.view_angle", "View angle", view_angle_deg(face.eyes, pose.place), "deg",
                bands.VIEW_ANGLE[preferences.camera_height], where, "How high the lens stands, seen from your eyes; below them is minus."),
        in_picture("eye_line", "Eye line", float(eyes[1]), bands.EYE_LINE[preferences.shot], "How far down the picture your eyes are."),
        in_picture("headroom", "Headroom", float(crown[1]), bands.HEADROOM[preferences.shot], "Air above your head, as a share of the picture."),
        in_picture("head_share", "Head size", abs(float(chin[1] - crown[1])), bands.HEAD_SHARE[preferences.shot],
                   "Chin to crown, as a share of the picture's height."),
        in_picture("side_position", "Sideways", float(eyes[0]), side, "Where your eyes stand across the picture; 50 % is the middle."),
        Measure("frame.roll", "Level", pose.roll_deg, "deg", bands.ROLL, where, "How far the picture leans over; clockwise is plus."),
        Measure("frame.perspective", "Nose to ears", ratio, "ratio", bands.PERSPECTIVE, where,
                "How much larger than your ears the lens draws your nose; it falls as you sit back.", "" if ratio else "The lens touches the face."),
    )  # fmt: skip
    return weighed(figures, bands.WEIGHTS)
