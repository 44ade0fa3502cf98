"""The fields of each kind of thing."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Camera, Light, Reflector, Screen, ScreenWindow
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing, Window
from uphill_lamp.core.scene.handling import moved, root_of
from uphill_lamp.core.scene.placing import camera_pose
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector, angle_between_deg, direction, vector, wrapped_deg, yaw_tilt_deg
from uphill_lamp.core.tape.earth_fields import sun_fields
from uphill_lamp.core.tape.field import Choices, Measured, Value, choice_field, value_field
from uphill_lamp.core.tape.place_phrases import aside_deg
from uphill_lamp.core.tape.sound_fields import of_microphone, of_noise

AIMED_WITHIN_DEG = 25.0
SIDES: Choices = (("left", "my left"), ("right", "my right"))
COVERINGS: Choices = (("none", "nothing"), ("sheer", "a sheer"), ("blind", "a blind"), ("blackout", "a blackout curtain"))
SHOWN: Choices = (
    ("call", "the others"), ("notes", "my notes"), ("slides", "slides"), ("self", "myself"), ("chat", "the chat"), ("lamp", "plain light"),
)  # fmt: skip


def _from_eyes(thing: str, place: Callable[[Setup], Vector], paths: tuple[str, ...], label: str = "Distance from my eyes") -> Measured:
    """Distance from the eyes; typing moves the thing level, along the line on which it stands."""

    def put(setup: Setup, value: Value) -> Patch:
        beyond = place(setup) - scene_of(setup).face.eyes
        level = beyond - beyond[2] * UP
        now = float(np.linalg.norm(level))
        along = level / now if now > 1e-6 else scene_of(setup).face.forward
        wanted = math.sqrt(max(float(value) ** 2 - float(beyond[2]) ** 2, 0.0))
        return moved(setup, thing, (wanted - now) * along)

    return Measured("distance", label, "length", lambda s: float(np.linalg.norm(place(s) - scene_of(s).face.eyes)), put, 0.05, 8, paths)


def _above_desk(thing: str, place: Callable[[Setup], Vector], path: str, label: str) -> Measured:
    return Measured(
        "above_desk", label, "length", lambda s: float(place(s)[2]) - s.desk.height_m,
        lambda s, value: moved(s, thing, (float(value) - float(place(s)[2]) + s.desk.height_m) * UP), -1.6, 3, (path,),
    )  # fmt: skip


def _camera(setup: Setup, camera: Camera) -> tuple[Measured, ...]:
    root, thing = f"/cameras/{camera.id}", root_of(setup, f"cameras/{camera.id}")

    def lens(s: Setup) -> Vector:
        return camera_pose(s, next(other for other in s.cameras if other.id == camera.id)).place

    def mine(s: Setup) -> Camera:
        return next(other for other in s.cameras if other.id == camera.id)

    fields = [
        _from_eyes(thing, lens, (f"/{thing}/position/x_m", f"/{thing}/position/y_m")),
        _above_desk(thing, lens, f"/{thing}/position/z_m", "Lens height above the desk"),
    ]
    if camera.mount == "laptop_lid":
        fields.append(_hinge(camera.on_screen or ""))
    else:
        fields += [
            value_field("tilt", "Tilted up", "angle", f"{root}/tilt_deg", lambda s: mine(s).tilt_deg or 0.0, -90, 90),
            value_field("yaw", "Turned", "angle", f"{root}/yaw_deg", lambda s: wrapped_deg(mine(s).yaw_deg or 0.0), -360, 360),
        ]
    if camera.lens.diagonal_fov_deg is not None:
        fields.append(
            value_field(
                "lens",
                "Lens angle, corner to corner",
                "angle",
                f"{root}/lens/diagonal_fov_deg",
                lambda s: mine(s).lens.diagonal_fov_deg or 0.0,
                4,
                150,
            )
        )
    fields.append(value_field("zoom", "Zoom", "number", f"{root}/zoom", lambda s: mine(s).zoom, 1, 10, plain_unit="×"))
    fields.append(
        value_field("haze", "Dirt on the lens scatters", "percent", f"{root}/lens/haze_share", lambda s: mine(s).lens.haze_share, 0, 0.5)
    )
    fields.append(value_field("roll", "Leans over", "angle", f"{root}/roll_deg", lambda s: mine(s).roll_deg, -180, 180))
    return tuple(fields)


def _hinge(screen_id: str) -> Measured:
    return value_field(
        "hinge", "Lid opened to", "angle", f"/screens/{screen_id}/hinge_deg", lambda s: s.screen(screen_id).hinge_deg or 90.0, 20, 180
    )


def _screen(setup: Setup, screen: Screen) -> tuple[Measured, ...]:
    root, thing = f"/screens/{screen.id}", f"screens/{screen.id}"

    def place(s: Setup) -> Vector:
        return vector(s.screen(screen.id).position)

    fields = [
        _from_eyes(
            thing,
            place,
            (f"{root}/position/x_m", f"{root}/position/y_m"),
            "Screen hinge to my eyes" if screen.kind == "laptop" else "Distance from my eyes",
        )
    ]
    if screen.kind == "laptop":
        fields += [_above_desk(thing, place, f"{root}/position/z_m", "Height above desk"), _hinge(screen.id)]
    else:
        fields += [
            _above_desk(thing, place, f"{root}/position/z_m", "Middle, height above desk"),
            value_field("tilt", "Tilted up", "angle", f"{root}/tilt_deg", lambda s: s.screen(screen.id).tilt_deg or 0.0, -90, 90),
        ]
    fields.append(
        value_field("white", "White area shown", "percent", f"{root}/white_share", lambda s: s.screen(screen.id).white_share, 0, 1)
    )
    fields.append(
        value_field(
            "luminance",
            "Brightness",
            "number",
            f"{root}/luminance_cd_m2",
            lambda s: s.screen(screen.id).luminance_cd_m2,
            0,
            5000,
            plain_unit="cd/m²",
        )
    )
    fields.append(value_field("on", "Switched on", "switch", f"{root}/on", lambda s: s.screen(screen.id).on))
    return tuple(fields)


def _polar(thing: str, root: str, place: Callable[[Setup], Vector]) -> tuple[Measured, ...]:
    """A place as a person gives it: degrees to my left or right, distance from my face, height above my eyes."""
    paths = (f"{root}/position/x_m", f"{root}/position/y_m")

    def put_at(s: Setup, aside: float, level_m: float, up_m: float) -> Patch:
        face, turn = scene_of(s).face, math.radians(aside)
        wanted = face.at(level_m * math.cos(turn), level_m * math.sin(turn), up_m)
        return moved(s, thing, wanted - place(s))

    def parts(s: Setup) -> tuple[float, float, float]:
        beyond = place(s) - scene_of(s).face.eyes
        return aside_deg(s, place(s)), math.hypot(beyond[0], beyond[1]), float(beyond[2])

    def put_aside(s: Setup, value: Value) -> Patch:
        aside, level_m, up_m = parts(s)
        return put_at(s, math.copysign(float(value), aside), level_m, up_m)

    def put_side(s: Setup, value: Value) -> Patch:
        aside, level_m, up_m = parts(s)
        return put_at(s, abs(aside) if value == "left" else -abs(aside), level_m, up_m)

    def put_distance(s: Setup, value: Value) -> Patch:
        aside, _, up_m = parts(s)
        return put_at(s, aside, math.sqrt(max(float(value) ** 2 - up_m**2, 0.0)), up_m)

    def put_up(s: Setup, value: Value) -> Patch:
        return moved(s, thing, (float(value) - parts(s)[2]) * UP)

    return (
        Measured("aside", "Angle from straight ahead", "angle", lambda s: abs(parts(s)[0]), put_aside, 0, 180, paths),
        Measured(
            "side", "On the side of", "choice", lambda s: "left" if parts(s)[0] >= 0 else "right", put_side, paths=paths, choices=SIDES
        ),
        Measured(
            "distance",
            "Distance from my face",
            "length",
            lambda s: float(np.linalg.norm(place(s) - scene_of(s).face.eyes)),
            put_distance,
            0.05,
            12,
            paths,
        ),
        Measured("up", "Height above my eyes", "length", lambda s: parts(s)[2], put_up, -2.2, 4, (f"{root}/position/z_m",)),
    )


def _light(setup: Setup, light: Light) -> tuple[Measured, ...]:
    root, thing = f"/lights/{light.id}", f"lights/{light.id}"

    def mine(s: Setup) -> Light:
        return next(other for other in s.lights if other.id == light.id)

    def put_aim(s: Setup, value: Value) -> Patch:
        yaw_deg, tilt_deg = yaw_tilt_deg(scene_of(s).face.eyes - vector(mine(s).position)) if value else (mine(s).aim_yaw_deg, -90.0)
        return (replace(f"{root}/aim_yaw_deg", round(yaw_deg, 1)), replace(f"{root}/aim_tilt_deg", round(tilt_deg, 1)))

    switch = value_field("on", "Switched on", "switch", f"{root}/on", lambda s: mine(s).on)
    fields = [switch, *_polar(thing, root, lambda s: vector(mine(s).position))]
    if light.kind != "bulb":
        fields.append(
            value_field(
                "aim_tilt",
                "Aimed upwards by",
                "angle",
                f"{root}/aim_tilt_deg",
                lambda s: mine(s).aim_tilt_deg,
                -90,
                90,
                about="Minus is down.",
            )
        )
        fields.append(
            Measured(
                "aim_face", "Aimed at my face", "switch", lambda s: _aimed_at_face(s, mine(s)), put_aim, paths=(f"{root}/aim_yaw_deg",)
            )
        )
    fields += [
        value_field("dim", "Turned up to", "percent", f"{root}/dim", lambda s: mine(s).dim, 0, 1),
        value_field(
            "flux",
            "Output",
            "number",
            f"{root}/flux_lm",
            lambda s: mine(s).flux_lm,
            0,
            20000,
            plain_unit="lm",
            about="Printed on the bulb's box.",
        ),
        value_field(
            "cct",
            "Colour",
            "number",
            f"{root}/cct_k",
            lambda s: mine(s).cct_k,
            1000,
            20000,
            plain_unit="K",
            about="2700 is warm, 6500 like daylight.",
        ),
    ]
    return tuple(fields)


def _aimed_at_face(setup: Setup, light: Light) -> bool:
    aim = direction(light.aim_yaw_deg, light.aim_tilt_deg)
    return angle_between_deg(aim, scene_of(setup).face.eyes - vector(light.position)) < 3


def _window(setup: Setup, window: Window) -> tuple[Measured, ...]:
    root = f"/room/windows/{window.id}"

    def mine(s: Setup) -> Window:
        return next(other for other in s.room.windows if other.id == window.id)

    def put_edge(s: Setup, value: Value) -> Patch:
        return (replace(f"{root}/centre_m", round(float(value) + mine(s).width_m / 2, 4)),)

    return (
        Measured("edge", "Near edge from the corner", "length", lambda s: mine(s).centre_m - mine(s).width_m / 2, put_edge, 0, 12, (f"{root}/centre_m",)),
        value_field("sill", "Sill above the floor", "length", f"{root}/sill_m", lambda s: mine(s).sill_m, 0, 4.8),
        value_field("width", "Width", "length", f"{root}/width_m", lambda s: mine(s).width_m, 0.1, 12),
        value_field("height", "Height", "length", f"{root}/height_m", lambda s: mine(s).height_m, 0.1, 5),
        Measured("covering", "Curtain or blind", "choice", lambda s: mine(s).covering.kind,
                 lambda s, value: (replace(f"{root}/covering", typical.covering(str(value))),), paths=(f"{root}/covering/kind",), choices=COVERINGS),
        value_field("obstruction", "Height of what stands outside", "angle", f"{root}/obstruction_deg", lambda s: mine(s).obstruction_deg, 0, 90),
        *sun_fields(window),
    )  # fmt: skip


def _backdrop(setup: Setup, item: BackdropThing) -> tuple[Measured, ...]:
    root, thing = f"/backdrop/{item.id}", f"backdrop/{item.id}"

    def mine(s: Setup) -> BackdropThing:
        return next(other for other in s.backdrop if other.id == item.id)

    def up(s: Setup) -> float:
        return mine(s).position.z_m - mine(s).height_m / 2

    return (
        Measured(
            "foot",
            "Lower edge above the floor",
            "length",
            up,
            lambda s, value: moved(s, thing, (float(value) - up(s)) * UP),
            0,
            4,
            (f"{root}/position/z_m",),
        ),
        value_field("width", "Width", "length", f"{root}/width_m", lambda s: mine(s).width_m, 0.02, 12),
        value_field("height", "Height", "length", f"{root}/height_m", lambda s: mine(s).height_m, 0.02, 5),
        value_field("wanted", "Wanted in view", "switch", f"{root}/wanted", lambda s: mine(s).wanted),
        *(
            (value_field("in_use", "Somebody may come in", "switch", f"{root}/in_use", lambda s: bool(mine(s).in_use)),)
            if item.kind == "door"
            else ()
        ),
        value_field("private", "Nobody's business", "switch", f"{root}/private", lambda s: mine(s).private),
        value_field("moves", "It moves", "switch", f"{root}/moves", lambda s: mine(s).moves),
        value_field("letters", "Its small letters are", "length", f"{root}/x_height_m", lambda s: mine(s).x_height_m, 0, 0.5),
    )


def _shown(setup: Setup, shown: ScreenWindow) -> tuple[Measured, ...]:
    screen = next(screen for screen in setup.screens if shown in screen.windows)
    root = f"/screens/{screen.id}/windows/{shown.id}"

    def mine(s: Setup) -> ScreenWindow:
        return next(other for other in s.screen(screen.id).windows if other.id == shown.id)

    def pixels(field: str, label: str, most: int) -> Measured:
        def put(s: Setup, value: Value) -> Patch:
            return (replace(f"{root}/{field}", round(float(value))),)

        return Measured(field, label, "number", lambda s: float(getattr(mine(s), field)), put, 0 if field in ("left_px", "top_px") else 1,
                        most, (f"{root}/{field}",), plain_unit="px")  # fmt: skip

    return (
        choice_field("shows", "Shows", f"{root}/shows", lambda s: mine(s).shows, SHOWN),
        pixels("left_px", "From the left", screen.width_px), pixels("top_px", "From the top", screen.height_px),
        pixels("width_px", "Width", screen.width_px), pixels("height_px", "Height", screen.height_px),
    )  # fmt: skip


def _reflector(setup: Setup, sheet: Reflector) -> tuple[Measured, ...]:
    root, thing = f"/reflectors/{sheet.id}", f"reflectors/{sheet.id}"

    def mine(s: Setup) -> Reflector:
        return next(other for other in s.reflectors if other.id == sheet.id)

    def put_turned(s: Setup, value: Value) -> Patch:
        yaw_deg, _ = yaw_tilt_deg(scene_of(s).face.eyes - vector(mine(s).position))
        return (replace(f"{root}/yaw_deg", round(yaw_deg if value else wrapped_deg(yaw_deg + 180), 1)),)

    def is_turned(s: Setup) -> bool:
        yaw_deg, _ = yaw_tilt_deg(scene_of(s).face.eyes - vector(mine(s).position))
        return abs(wrapped_deg(yaw_deg - mine(s).yaw_deg)) < AIMED_WITHIN_DEG

    return (
        *_polar(thing, root, lambda s: vector(mine(s).position)),
        Measured("turned_to_face", "White side towards my face", "switch", is_turned, put_turned, paths=(f"{root}/yaw_deg",)),
        value_field("width", "Width", "length", f"{root}/width_m", lambda s: mine(s).width_m, 0.05, 3),
        value_field("height", "Height", "length", f"{root}/height_m", lambda s: mine(s).height_m, 0.05, 3),
        value_field("reflectance", "Reflects", "percent", f"{root}/reflectance", lambda s: mine(s).reflectance, 0, 1),
    )


MAKERS: dict[str, Callable[[Setup, Any], tuple[Measured, ...]]] = {
    "cameras": _camera, "screens": _screen, "lights": _light, "reflectors": _reflector, "windows": _window, "microphones": of_microphone,
    "noises": of_noise, "backdrop": _backdrop, "shown": _shown,
}  # fmt: skip
