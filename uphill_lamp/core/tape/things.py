"""The fields of each kind of thing."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Camera, Light, Microphone, Screen, ScreenWindow
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing, Noise, Window
from uphill_lamp.core.scene.handling import moved, root_of
from uphill_lamp.core.scene.placing import camera_pose, face_of, microphone_place, wall_behind_m
from uphill_lamp.core.scene.vectors import UP, Vector, angle_between_deg, direction, vector, wrapped_deg, yaw_tilt_deg
from uphill_lamp.core.tape.fields import Choices, Measured
from uphill_lamp.core.tape.words import aside_deg

Value = float | str | bool
SIDES: Choices = (("left", "my left"), ("right", "my right"))
COVERINGS: Choices = (("none", "nothing"), ("sheer", "a sheer"), ("blind", "a blind"), ("blackout", "a blackout curtain"))
DESTINATIONS: Choices = (
    ("call_tile", "a tile in a call"), ("webinar", "a webinar"), ("recorded_lesson", "a recorded lesson"), ("vertical_clip", "an upright clip"),
    ("square", "a square"), ("interview", "an interview"), ("hands_on", "work with the hands"),
)  # fmt: skip
SHOWN: Choices = (
    ("call", "the others"), ("notes", "my notes"), ("slides", "slides"), ("self", "myself"), ("chat", "the chat"), ("lamp", "plain light"),
)  # fmt: skip
PATTERNS: Choices = (
    ("omni", "all round"), ("subcardioid", "wide in front"), ("cardioid", "front"), ("supercardioid", "narrow in front"),
    ("figure_eight", "front and back"),
)  # fmt: skip


def _value(
    key: str, label: str, quantity: Any, path: str, get: Callable[[Setup], Value], low: float = 0, high: float = 0, **more: Any
) -> Measured:
    """A field that is one value of the document as it is."""
    return Measured(key, label, quantity, get, lambda setup, value: (replace(path, value),), low, high, (path,), **more)


def _choice(key: str, label: str, path: str, get: Callable[[Setup], Value], choices: Choices, **more: Any) -> Measured:
    return Measured(key, label, "choice", get, lambda setup, value: (replace(path, value),), paths=(path,), choices=choices, **more)


def of_setup(setup: Setup) -> tuple[Measured, ...]:
    """The whole setup: when the call is and what is wanted of it."""
    return (
        _value("name", "called", "text", "/name", lambda s: s.name),
        _value("call_at", "call at", "moment", "/place/call_at", lambda s: s.place.call_at.isoformat(timespec="minutes")),
        _choice("sky", "sky", "/place/sky", lambda s: s.place.sky, (("clear", "clear"), ("partly", "some cloud"), ("overcast", "overcast"))),
        _choice("shot", "picture wanted", "/preferences/shot", lambda s: s.preferences.shot,
                (("call_tile", "face for a tile"), ("head_and_shoulders", "head and shoulders"), ("waist", "to the waist"))),
        _choice("camera_height", "camera wanted", "/preferences/camera_height", lambda s: s.preferences.camera_height,
                (("eye_level", "at eye level"), ("slightly_above", "slightly above"))),
        _choice("side", "stand in it", "/preferences/side_position", lambda s: s.preferences.side_position,
                (("centred", "in the middle"), ("third", "on a third"))),
        _choice("destination", "seen as", "/call/destination", lambda s: s.call.destination, DESTINATIONS),
        _choice("slides", "my slides", "/call/slides", lambda s: s.call.slides,
                (("none", "none"), ("beside", "beside me"), ("corner", "me in their corner"), ("screen_behind", "on a screen behind me"))),
        _value("aspect", "picture sent, width by height", "number", "/call/output_aspect", lambda s: s.call.output_aspect, 0.4, 2.5),
        _choice("look", "light wanted", "/preferences/look", lambda s: s.preferences.look,
                (("even", "even"), ("shaped", "shaped"), ("dramatic", "dramatic"))),
        _choice("listening", "I hear from", "/computer/listening", lambda s: s.computer.listening,
                (("loudspeakers", "loudspeakers"), ("headphones", "headphones"))),
        _value("budget", "may cost", "number", "/preferences/budget", lambda s: s.preferences.budget, 0, 100000, plain_unit=setup.preferences.currency),
    )  # fmt: skip


def _to_wall(key: str, label: str, way: Callable[[Setup], Vector]) -> Measured:
    def put(setup: Setup, value: Value) -> Patch:
        along = way(setup)
        return moved(setup, "presenter", along * (wall_behind_m(setup, face_of(setup).eyes, along) - float(value)))

    return Measured(
        key, label, "length", lambda s: wall_behind_m(s, face_of(s).eyes, way(s)), put, 0.1, 12, ("/presenter/x_m", "/presenter/y_m")
    )


def of_presenter(setup: Setup) -> tuple[Measured, ...]:
    """The presenter."""
    return (
        _value("eyes", "eyes above the floor", "length", "/presenter/eye_height_m", lambda s: s.presenter.eye_height_m, 0.5, 2.2),
        _to_wall("behind", "to the wall behind me", lambda s: -face_of(s).forward),
        _to_wall("left", "to the wall on my left", lambda s: face_of(s).left),
        _value("facing", "facing", "angle", "/presenter/facing_yaw_deg", lambda s: s.presenter.facing_yaw_deg, -360, 360,
               about="Seen from above: 0 up the drawing, more turns clockwise."),
        _choice("posture", "I", "/presenter/posture", lambda s: s.presenter.posture, (("sitting", "sit"), ("standing", "stand"))),
        _choice("glasses", "glasses", "/presenter/glasses", lambda s: s.presenter.glasses,
                (("none", "none"), ("plain", "plain"), ("anti_reflective", "anti-reflective"))),
        _choice("effort", "voice", "/presenter/voice_effort", lambda s: s.presenter.voice_effort,
                (("relaxed", "relaxed"), ("normal", "normal"), ("raised", "raised"), ("loud", "loud"))),
    )  # fmt: skip


def of_desk(setup: Setup) -> tuple[Measured, ...]:
    """The desk; what stands on it goes with it."""

    def far_edge(s: Setup) -> float:
        ahead = direction(s.desk.yaw_deg)
        middle = np.array([s.desk.x_m, s.desk.y_m, 0.0])
        return wall_behind_m(s, middle, ahead) - s.desk.depth_m / 2

    def put_edge(s: Setup, value: Value) -> Patch:
        return moved(s, "desk", direction(s.desk.yaw_deg) * (far_edge(s) - float(value)))

    return (
        _desk_height(setup),
        Measured("edge", "far edge to the wall ahead", "length", far_edge, put_edge, 0.0, 12, ("/desk/x_m", "/desk/y_m")),
        _value("width", "width", "length", "/desk/width_m", lambda s: s.desk.width_m, 0.3, 4),
        _value("depth", "depth", "length", "/desk/depth_m", lambda s: s.desk.depth_m, 0.2, 2),
        _value("yaw", "turned", "angle", "/desk/yaw_deg", lambda s: s.desk.yaw_deg, -360, 360),
    )


def _desk_height(setup: Setup) -> Measured:
    """A desk that goes up and down takes along what stands on it; one that does not is only measured anew."""
    if setup.desk.height_range is None:
        return _value("height", "top above the floor", "length", "/desk/height_m", lambda s: s.desk.height_m, 0.3, 1.6)
    return Measured("height", "top above the floor", "length", lambda s: s.desk.height_m, lambda s, value: moved(s, "desk", (float(value) - s.desk.height_m) * UP),
                    0.3, 1.6, ("/desk/height_m",))  # fmt: skip


def _from_eyes(thing: str, place: Callable[[Setup], Vector], paths: tuple[str, ...], label: str = "from my eyes") -> Measured:
    """Distance from the eyes; typing moves the thing level, along the line on which it stands."""

    def put(setup: Setup, value: Value) -> Patch:
        beyond = place(setup) - face_of(setup).eyes
        level = beyond - beyond[2] * UP
        now = float(np.linalg.norm(level))
        along = level / now if now > 1e-6 else face_of(setup).forward
        wanted = math.sqrt(max(float(value) ** 2 - float(beyond[2]) ** 2, 0.0))
        return moved(setup, thing, (wanted - now) * along)

    return Measured("distance", label, "length", lambda s: float(np.linalg.norm(place(s) - face_of(s).eyes)), put, 0.05, 8, paths)


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
        _above_desk(thing, lens, f"/{thing}/position/z_m", "lens above the desk"),
    ]
    if camera.mount == "laptop_lid":
        fields.append(_hinge(camera.on_screen or ""))
    else:
        fields += [
            _value("tilt", "tilted up", "angle", f"{root}/tilt_deg", lambda s: mine(s).tilt_deg or 0.0, -90, 90),
            _value("yaw", "turned", "angle", f"{root}/yaw_deg", lambda s: wrapped_deg(mine(s).yaw_deg or 0.0), -360, 360),
        ]
    if camera.lens.diagonal_fov_deg is not None:
        fields.append(
            _value(
                "lens",
                "lens, corner to corner",
                "angle",
                f"{root}/lens/diagonal_fov_deg",
                lambda s: mine(s).lens.diagonal_fov_deg or 0.0,
                4,
                150,
            )
        )
    fields.append(_value("zoom", "zoom", "number", f"{root}/zoom", lambda s: mine(s).zoom, 1, 10, plain_unit="×"))
    fields.append(_value("roll", "leans over", "angle", f"{root}/roll_deg", lambda s: mine(s).roll_deg, -180, 180))
    return tuple(fields)


def _hinge(screen_id: str) -> Measured:
    return _value(
        "hinge", "lid opened to", "angle", f"/screens/{screen_id}/hinge_deg", lambda s: s.screen(screen_id).hinge_deg or 90.0, 20, 180
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
            "hinge from my eyes" if screen.kind == "laptop" else "from my eyes",
        )
    ]
    if screen.kind == "laptop":
        fields += [_above_desk(thing, place, f"{root}/position/z_m", "raised above the desk"), _hinge(screen.id)]
    else:
        fields += [
            _above_desk(thing, place, f"{root}/position/z_m", "middle above the desk"),
            _value("tilt", "tilted up", "angle", f"{root}/tilt_deg", lambda s: s.screen(screen.id).tilt_deg or 0.0, -90, 90),
        ]
    fields.append(_value("white", "white on it", "percent", f"{root}/white_share", lambda s: s.screen(screen.id).white_share, 0, 1))
    fields.append(
        _value(
            "luminance",
            "brightness",
            "number",
            f"{root}/luminance_cd_m2",
            lambda s: s.screen(screen.id).luminance_cd_m2,
            0,
            5000,
            plain_unit="cd/m²",
        )
    )
    fields.append(_value("on", "on", "switch", f"{root}/on", lambda s: s.screen(screen.id).on))
    return tuple(fields)


def _polar(thing: str, root: str, place: Callable[[Setup], Vector]) -> tuple[Measured, ...]:
    """A place as a person gives it: degrees to my left or right, distance from my face, height above my eyes."""
    paths = (f"{root}/position/x_m", f"{root}/position/y_m")

    def put_at(s: Setup, aside: float, level_m: float, up_m: float) -> Patch:
        face, turn = face_of(s), math.radians(aside)
        wanted = face.at(level_m * math.cos(turn), level_m * math.sin(turn), up_m)
        return moved(s, thing, wanted - place(s))

    def parts(s: Setup) -> tuple[float, float, float]:
        beyond = place(s) - face_of(s).eyes
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
        Measured("aside", "off straight ahead", "angle", lambda s: abs(parts(s)[0]), put_aside, 0, 180, paths),
        Measured("side", "towards", "choice", lambda s: "left" if parts(s)[0] >= 0 else "right", put_side, paths=paths, choices=SIDES),
        Measured(
            "distance", "from my face", "length", lambda s: float(np.linalg.norm(place(s) - face_of(s).eyes)), put_distance, 0.05, 12, paths
        ),
        Measured("up", "above my eyes", "length", lambda s: parts(s)[2], put_up, -2.2, 4, (f"{root}/position/z_m",)),
    )


def _light(setup: Setup, light: Light) -> tuple[Measured, ...]:
    root, thing = f"/lights/{light.id}", f"lights/{light.id}"

    def mine(s: Setup) -> Light:
        return next(other for other in s.lights if other.id == light.id)

    def put_aim(s: Setup, value: Value) -> Patch:
        yaw_deg, tilt_deg = yaw_tilt_deg(face_of(s).eyes - vector(mine(s).position)) if value else (mine(s).aim_yaw_deg, -90.0)
        return (replace(f"{root}/aim_yaw_deg", round(yaw_deg, 1)), replace(f"{root}/aim_tilt_deg", round(tilt_deg, 1)))

    switch = _value("on", "on", "switch", f"{root}/on", lambda s: mine(s).on)
    fields = [switch, *_polar(thing, root, lambda s: vector(mine(s).position))]
    if light.kind != "bulb":
        fields.append(
            _value("aim_tilt", "aimed up", "angle", f"{root}/aim_tilt_deg", lambda s: mine(s).aim_tilt_deg, -90, 90, about="Minus is down.")
        )
        fields.append(
            Measured(
                "aim_face", "aimed at my face", "switch", lambda s: _aimed_at_face(s, mine(s)), put_aim, paths=(f"{root}/aim_yaw_deg",)
            )
        )
    fields += [
        _value("dim", "turned up to", "percent", f"{root}/dim", lambda s: mine(s).dim, 0, 1),
        _value(
            "flux",
            "gives",
            "number",
            f"{root}/flux_lm",
            lambda s: mine(s).flux_lm,
            0,
            20000,
            plain_unit="lm",
            about="Printed on the bulb's box.",
        ),
        _value(
            "cct",
            "colour",
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
    return angle_between_deg(aim, face_of(setup).eyes - vector(light.position)) < 3


def _window(setup: Setup, window: Window) -> tuple[Measured, ...]:
    root = f"/room/windows/{window.id}"

    def mine(s: Setup) -> Window:
        return next(other for other in s.room.windows if other.id == window.id)

    def put_edge(s: Setup, value: Value) -> Patch:
        return (replace(f"{root}/centre_m", round(float(value) + mine(s).width_m / 2, 4)),)

    return (
        Measured("edge", "near edge from the corner", "length", lambda s: mine(s).centre_m - mine(s).width_m / 2, put_edge, 0, 12, (f"{root}/centre_m",)),
        _value("sill", "sill above the floor", "length", f"{root}/sill_m", lambda s: mine(s).sill_m, 0, 4.8),
        _value("width", "width", "length", f"{root}/width_m", lambda s: mine(s).width_m, 0.1, 12),
        _value("height", "height", "length", f"{root}/height_m", lambda s: mine(s).height_m, 0.1, 5),
        Measured("covering", "before it hangs", "choice", lambda s: mine(s).covering.kind,
                 lambda s, value: (replace(f"{root}/covering", typical.covering(str(value))),), paths=(f"{root}/covering/kind",), choices=COVERINGS),
        _value("obstruction", "what stands outside rises", "angle", f"{root}/obstruction_deg", lambda s: mine(s).obstruction_deg, 0, 90),
    )  # fmt: skip


def _microphone(setup: Setup, microphone: Microphone) -> tuple[Measured, ...]:
    root, thing = f"/microphones/{microphone.id}", root_of(setup, f"microphones/{microphone.id}")

    def mine(s: Setup) -> Microphone:
        return next(other for other in s.microphones if other.id == microphone.id)

    def away(s: Setup) -> Vector:
        return microphone_place(s, mine(s)) - face_of(s).lips

    def put(s: Setup, value: Value) -> Patch:
        beyond = away(s)
        now = float(np.linalg.norm(beyond))
        along = beyond / now if now > 1e-6 else face_of(s).forward
        return moved(s, thing, (float(value) - now) * along)

    def put_use(s: Setup, value: Value) -> Patch:
        others = tuple(replace(f"/microphones/{other.id}/in_use", False) for other in s.microphones if other.in_use and value)
        return (*others, replace(f"{root}/in_use", bool(value)))

    where = f"/{thing}/position/y_m" if microphone.at != "body" else f"{root}/from_mouth/forward_m"
    return (
        Measured("distance", "from my mouth", "length", lambda s: float(np.linalg.norm(away(s))), put, 0.01, 8, (where,)),
        _choice("pattern", "listens", f"{root}/pattern", lambda s: mine(s).pattern, PATTERNS),
        Measured("in_use", "in use", "switch", lambda s: mine(s).in_use, put_use, paths=(f"{root}/in_use",)),
    )


def _noise(setup: Setup, noise: Noise) -> tuple[Measured, ...]:
    root = f"/noises/{noise.id}"

    def mine(s: Setup) -> Noise:
        return next(other for other in s.noises if other.id == noise.id)

    return (
        _value("level", "level", "number", f"{root}/level_db_a", lambda s: mine(s).level_db_a, 0, 110, plain_unit="dB(A)"),
        _value("steady", "steady", "switch", f"{root}/steady", lambda s: mine(s).steady),
    )


def _backdrop(setup: Setup, item: BackdropThing) -> tuple[Measured, ...]:
    root, thing = f"/backdrop/{item.id}", f"backdrop/{item.id}"

    def mine(s: Setup) -> BackdropThing:
        return next(other for other in s.backdrop if other.id == item.id)

    def up(s: Setup) -> float:
        return mine(s).position.z_m - mine(s).height_m / 2

    return (
        Measured(
            "foot",
            "foot above the floor",
            "length",
            up,
            lambda s, value: moved(s, thing, (float(value) - up(s)) * UP),
            0,
            4,
            (f"{root}/position/z_m",),
        ),
        _value("width", "width", "length", f"{root}/width_m", lambda s: mine(s).width_m, 0.02, 12),
        _value("height", "height", "length", f"{root}/height_m", lambda s: mine(s).height_m, 0.02, 5),
        _value("wanted", "wanted in view", "switch", f"{root}/wanted", lambda s: mine(s).wanted),
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
        _choice("shows", "shows", f"{root}/shows", lambda s: mine(s).shows, SHOWN),
        pixels("left_px", "from the left", screen.width_px), pixels("top_px", "from the top", screen.height_px),
        pixels("width_px", "wide", screen.width_px), pixels("height_px", "high", screen.height_px),
    )  # fmt: skip


MAKERS: dict[str, Callable[[Setup, Any], tuple[Measured, ...]]] = {
    "cameras": _camera, "screens": _screen, "lights": _light, "windows": _window, "microphones": _microphone,
    "noises": _noise, "backdrop": _backdrop, "shown": _shown,
}  # fmt: skip
