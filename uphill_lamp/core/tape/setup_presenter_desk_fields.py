"""The fields of the setup as a whole, of the presenter and of the desk."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from uphill_lamp.core.document import typical
from uphill_lamp.core.document.fields import Part
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.handling import moved
from uphill_lamp.core.scene.placing import wall_behind_m
from uphill_lamp.core.scene.resizing import SPANS, resized
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector, direction
from uphill_lamp.core.tape.earth_fields import town_field
from uphill_lamp.core.tape.field import Choices, Measured, Value, choice_field, value_field

DESTINATIONS: Choices = (
    ("call_tile", "a tile in a call"), ("webinar", "a webinar"), ("recorded_lesson", "a recorded lesson"), ("vertical_clip", "an upright clip"),
    ("square", "a square"), ("interview", "an interview"), ("hands_on", "work with the hands"),
)  # fmt: skip


def of_call(setup: Setup) -> tuple[Measured, ...]:
    """The call: what it is for, when it is, where its picture goes."""
    return (
        value_field("name", "Name", "text", "/name", lambda s: s.name),
        choice_field("use", "What it is for", "/call/use", lambda s: s.call.use,
                (("live", "a live call"), ("audience", "live, to an audience"), ("recorded", "recorded"))),
        value_field("call_at", "Call at", "moment", "/place/call_at", lambda s: s.place.call_at.isoformat(timespec="minutes")),
        town_field(),
        choice_field("sky", "Sky", "/place/sky", lambda s: s.place.sky, (("clear", "clear"), ("partly", "some cloud"), ("overcast", "overcast"))),
        choice_field("destination", "Goes to", "/call/destination", lambda s: s.call.destination, DESTINATIONS),
        choice_field("slides", "My slides", "/call/slides", lambda s: s.call.slides,
                (("none", "none"), ("beside", "beside me"), ("corner", "me in their corner"), ("screen_behind", "on a screen behind me"))),
        value_field("aspect", "Picture sent, width by height", "fine", "/call/output_aspect", lambda s: s.call.output_aspect, 0.4, 2.5, fold="Picture"),
        Measured("sound_delay", "Audio delay", "number", lambda s: 1000 * s.call.sound_delay_s,
                 lambda _, value: (replace("/call/sound_delay_s", float(value) / 1000),), 0, 2000, ("/call/sound_delay_s",), plain_unit="ms", fold="Sound"),
    )  # fmt: skip


def of_wishes(setup: Setup) -> tuple[Measured, ...]:
    """What is wanted of the picture, and what it may cost."""
    return (
        choice_field("shot", "Framing", "/preferences/shot", lambda s: s.preferences.shot,
                (("call_tile", "face for a tile"), ("head_and_shoulders", "head and shoulders"), ("waist", "to the waist"))),
        choice_field("camera_height", "Camera height wanted", "/preferences/camera_height", lambda s: s.preferences.camera_height,
                (("eye_level", "at eye level"), ("slightly_above", "slightly above"))),
        choice_field("side", "Position in picture", "/preferences/side_position", lambda s: s.preferences.side_position,
                (("centred", "in the middle"), ("third", "on a third"))),
        choice_field("look", "Light wanted", "/preferences/look", lambda s: s.preferences.look,
                (("even", "soft, ahead"), ("filled", "by the lens, filled"), ("shaped", "from 45° aside"), ("dramatic", "side-on, dramatic"),
                 ("coloured", "coloured sides"))),
        value_field("budget", "Budget", "money", "/preferences/budget", lambda s: s.preferences.budget, 0, 100000, plain_unit=setup.preferences.currency),
    )  # fmt: skip


def _put_computer(setup: Setup, value: Value) -> Patch:
    """Another kind of computer has the ports such ones have, unless somebody told which it has."""
    entered = any(path.startswith("/computer/ports") for path in setup.origins)
    ports: Patch = () if entered or value == setup.computer.kind else (replace("/computer/ports", typical.USUAL_PORTS[str(value)]),)
    return (*ports, replace("/computer/kind", str(value)))


def of_computer(setup: Setup) -> tuple[Measured, ...]:
    """What runs the call."""
    return (
        Measured("kind", "The call runs on", "choice", lambda s: s.computer.kind, _put_computer, paths=("/computer/kind",), choices=
                (("laptop", "a laptop"), ("desktop", "a desktop computer"), ("phone", "a phone"), ("tablet", "a tablet"))),
        choice_field("listening", "I listen with", "/computer/listening", lambda s: s.computer.listening,
                (("loudspeakers", "loudspeakers"), ("headphones", "headphones"))),
        value_field("noise_removal", "Noise removal on", "switch", "/computer/noise_removal", lambda s: s.computer.noise_removal),
    )  # fmt: skip


def of_room(setup: Setup) -> tuple[Measured, ...]:
    """The room: its far walls move, and what would stand beyond them is shifted in."""

    def size(field: str, label: str, about: str) -> Measured:
        low, high = SPANS[field]
        return Measured(field, label, "length", lambda s: float(getattr(s.room, field)), lambda s, value: resized(s, {field: round(float(value), 3)}),
                        low, high, (f"/room/{field}",), about=about)  # fmt: skip

    return (
        size("width_m", "Width", "Across the drawing; its right wall moves."),
        size("depth_m", "Depth", "Up the drawing; its top wall moves."),
        size("height_m", "Height", "Floor to ceiling. A sloping ceiling cannot be told: take its mean height."),
    )


def _to_wall(key: str, label: str, way: Callable[[Setup], Vector]) -> Measured:
    def put(setup: Setup, value: Value) -> Patch:
        along = way(setup)
        return moved(setup, "presenter", along * (wall_behind_m(setup, scene_of(setup).face.eyes, along) - float(value)))

    return Measured(
        key, label, "length", lambda s: wall_behind_m(s, scene_of(s).face.eyes, way(s)), put, 0.1, 12, ("/presenter/x_m", "/presenter/y_m")
    )


SKIN_TONES = {"very dark": 0.07, "dark": 0.14, "brown": 0.24, "tan": 0.34, "light": 0.45, "very light": 0.58}  # reflectances


def _tone_of(reflectance: float) -> str:
    """The nearest tone by its name."""
    return min(SKIN_TONES, key=lambda tone: abs(SKIN_TONES[tone] - reflectance))


def of_presenter(setup: Setup) -> tuple[Measured, ...]:
    """The presenter."""
    return (
        value_field("eyes", "Eyes above the floor", "length", "/presenter/eye_height_m", lambda s: s.presenter.eye_height_m, 0.5, 2.2),
        _to_wall("behind", "Distance to the wall behind me", lambda s: -scene_of(s).face.forward),
        _to_wall("left", "Distance to the wall on my left", lambda s: scene_of(s).face.left),
        value_field("facing", "Facing", "angle", "/presenter/facing_yaw_deg", lambda s: s.presenter.facing_yaw_deg, -360, 360,
               about="Seen from above: 0 up the drawing, more turns clockwise."),
        choice_field("posture", "Posture", "/presenter/posture", lambda s: s.presenter.posture, (("sitting", "sitting"), ("standing", "standing"))),
        choice_field("chair", "Back of the chair", "/presenter/chair", lambda s: s.presenter.chair,
                (("none", "none that is seen"), ("low_back", "up to the shoulders"), ("high_back", "high, with a headrest")),
                about="Drawn behind you, with its shadow, and met by the light that the camera measures."),
        value_field("brim", "Hat brim", "length", "/presenter/brim_m", lambda s: s.presenter.brim_m, 0, 0.2, about="How far it stands out; 0 without a hat."),
        choice_field("glasses", "Glasses", "/presenter/glasses", lambda s: s.presenter.glasses,
                (("none", "none"), ("plain", "plain"), ("anti_reflective", "anti-reflective"))),
        value_field("tint", "Lenses let through", "percent", "/presenter/glasses_transmittance", lambda s: s.presenter.glasses_transmittance, 0.02, 1,
               about="100 % clear; some 20 % sunglasses."),
        choice_field("hair", "Hair in the picture", "/presenter/hair", lambda s: s.presenter.hair,
                     (("short", "short"), ("long", "long"), ("tied", "tied"), ("covered", "covered"), ("none", "none"))),
        choice_field("face", "Face in the picture", "/presenter/face", lambda s: s.presenter.face,
                     (("even", "even"), ("round", "round"), ("long", "long"), ("square", "square")),
                     about="For the drawing alone; nothing is judged by it."),
        Measured("skin", "Skin in the picture", "choice", lambda s: _tone_of(s.presenter.skin_reflectance),
                 lambda _, value: (replace("/presenter/skin_reflectance", SKIN_TONES[str(value)]),), paths=("/presenter/skin_reflectance",),
                 choices=tuple((tone, tone) for tone in SKIN_TONES), about="For the drawing alone; nothing is judged by it."),
        choice_field("effort", "Voice", "/presenter/voice_effort", lambda s: s.presenter.voice_effort,
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
        Measured("edge", "Far edge to the wall ahead", "length", far_edge, put_edge, 0.0, 12, ("/desk/x_m", "/desk/y_m")),
        value_field("width", "Width", "length", "/desk/width_m", lambda s: s.desk.width_m, 0.3, 4),
        value_field("depth", "Depth", "length", "/desk/depth_m", lambda s: s.desk.depth_m, 0.2, 2),
        value_field("yaw", "Turned", "angle", "/desk/yaw_deg", lambda s: s.desk.yaw_deg, -360, 360),
        value_field("fixed", "It cannot be turned or carried", "switch", "/desk/fixed", lambda s: s.desk.fixed),
        value_field("reflectance", "Top reflects", "percent", "/desk/reflectance", lambda s: s.desk.reflectance, 0, 1,
                    about="Of the light on it: black 5, dark wood 15, oak or beech 35, white 80."),
    )  # fmt: skip


def _desk_height(setup: Setup) -> Measured:
    """A desk that goes up and down takes along what stands on it; one that does not is only measured anew."""
    if setup.desk.height_range is None:
        return value_field("height", "Top above the floor", "length", "/desk/height_m", lambda s: s.desk.height_m, 0.3, 1.6)
    return Measured("height", "Top above the floor", "length", lambda s: s.desk.height_m, lambda s, value: moved(s, "desk",
        (float(value) - s.desk.height_m) * UP),
                    0.3, 1.6, ("/desk/height_m",))  # fmt: skip


MAKERS: dict[str, Callable[[Setup], tuple[Measured, ...]]] = {
    "": of_call, "room": of_room, "presenter": of_presenter, "desk": of_desk, "computer": of_computer, "wishes": of_wishes,
}  # fmt: skip
# The parts of the document that a handle stands for, with their paths.
PARTS: dict[str, Callable[[Setup], tuple[tuple[Part, str], ...]]] = {
    "": lambda s: ((s.place, "/place"), (s.call, "/call")), "room": lambda s: ((s.room, "/room"),), "presenter": lambda s: ((s.presenter, "/presenter"),),
    "desk": lambda s: ((s.desk, "/desk"),), "computer": lambda s: ((s.computer, "/computer"),), "wishes": lambda s: ((s.preferences, "/preferences"),),
}  # fmt: skip
