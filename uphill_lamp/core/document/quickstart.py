"""Ten plain questions, and the whole document that their answers make."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from uphill_lamp.core.document import typical
from uphill_lamp.core.document.faults import Fault, Refused, shown
from uphill_lamp.core.document.reading import setup_from
from uphill_lamp.core.document.setup import FORMAT, VERSION, Setup
from uphill_lamp.core.document.typical import Json, ahead, point


@dataclass(frozen=True, slots=True)
class Answer:
    """One drawn answer: its key, its words."""

    key: str
    words: str


@dataclass(frozen=True, slots=True)
class Question:
    """One question. ``several`` allows any number of answers; ``first`` is what is assumed where none is given."""

    key: str
    asks: str
    answers: tuple[Answer, ...]
    first: str
    several: bool = False
    hint: str = ""
    keys: frozenset[str] = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "keys", frozenset(answer.key for answer in self.answers))


def _question(key: str, asks: str, first: str, answers: dict[str, str], several: bool = False, hint: str = "") -> Question:
    return Question(key, asks, tuple(Answer(*pair) for pair in answers.items()), first, several, hint)


QUESTIONS: tuple[Question, ...] = (
    _question("camera", "What films you?", "laptop",
              {"laptop": "The laptop's own camera", "webcam": "A webcam on a monitor", "phone": "A phone on a stand"}),
    _question("height", "How high is its lens?", "below",
              {"far_below": "A big step below my eyes, about 28 cm", "below": "A hand below my eyes, about 16 cm", "level": "Level with my eyes",
               "above": "Above my eyes, about 12 cm"},
              hint="Sit as you do in a call and look straight ahead."),
    _question("distance", "How far is it from your face?", "arm",
              {"near": "Nearer than my arm, about 45 cm", "arm": "An arm's length, about 65 cm", "far": "Further than my arm, about 95 cm"},
              hint="From the lens to your eyes."),
    _question("window", "Where is the window as you sit?", "left",
              {"front": "In front of me", "left": "To my left", "right": "To my right", "behind": "Behind me", "none": "There is none"}),
    _question("when", "When is the call?", "evening",
              {"bright": "By day, bright sky", "dull": "By day, dull sky", "evening": "After dark"}),
    _question("lamps", "What else is lit?", "ceiling",
              {"ceiling": "The ceiling lamp", "desk_left": "A lamp on the desk, left", "desk_right": "A lamp on the desk, right",
               "nothing": "No lamp"},
              several=True, hint="Choose all that are."),
    _question("speak", "What do you speak into?", "device",
              {"device": "What is built in", "earbuds": "Earbuds with a cord", "headset": "A headset", "desk_mic": "A microphone on the desk"}),
    _question("hear", "How do you hear the others?", "loudspeakers",
              {"loudspeakers": "From loudspeakers", "headphones": "In headphones or earbuds"}),
    _question("behind", "What is behind you?", "wall",
              {"wall": "A wall, close by", "room": "A wall, well away", "shelf": "A shelf", "bed": "A bed"}),
    _question("budget", "What may it cost?", "none",
              {"none": "Nothing", "little": "About 30", "some": "About 60", "more": "Up to 150"},
              hint="In pounds; change money and currency later on Steps."),
)  # fmt: skip

_LENS_ABOVE_EYES_M = {"far_below": -0.28, "below": -0.16, "level": 0.0, "above": 0.12}
_DISTANCE_M = {"near": 0.45, "arm": 0.65, "far": 0.95}
_BEHIND_M = {"wall": 0.6, "room": 1.7, "shelf": 1.1, "bed": 1.9}
_BUDGET = {"none": 0.0, "little": 30.0, "some": 60.0, "more": 150.0}
_CALL_AT = {
    "bright": ("2026-05-12T11:00:00", "clear"),
    "dull": ("2026-11-24T12:00:00", "overcast"),
    "evening": ("2026-11-24T18:30:00", "overcast"),
}
UNNAMED = "My desk"
_EYE_HEIGHT_M = 1.2
_DESK_HEIGHT_M = 0.74
_LENS_ABOVE_BASE_M = 0.186  # a laptop's, on a lid opened to 107 degrees
_LENS_BEFORE_HINGE_M = -0.057
_MONITOR_MIDDLE_M = 0.17  # of a picture whose foot stands on the desk
_LENS_ABOVE_MIDDLE_M = 0.18  # on a monitor's upper edge
_PHONE_LENS_ASIDE_M = 0.08
_X_M = 1.6


def setup_from_answers(answers: Mapping[str, Any], name: str = "") -> Setup:
    """A complete setup from quick-start answers: what was answered counts as entered, all else as assumed.

    Args:
        answers: question key to answer key, or to a list of them where several may be given; where none is given the first is assumed.
        name: what the setup is called; a name given counts as entered.

    Raises:
        Refused: for an answer that is none of those drawn, or a name that cannot be one.
    """
    chosen = {question.key: _chosen(question, answers.get(question.key)) for question in QUESTIONS}
    single = {key: value[0] if value else "" for key, value in chosen.items()}
    distance_m = _ahead_m(single["camera"], single["height"], single["distance"])
    y_m = round(_BEHIND_M[single["behind"]] + 0.12, 3)
    room = typical.room(depth_m=max(3.6, round(y_m + distance_m + 1.0, 2)))
    room["windows"] = windows_of(single["window"], y_m, room["depth_m"])
    eye_height_m = _eye_height_m(single["camera"], single["height"])
    screen, camera = _screen_and_camera(single["camera"], single["height"], eye_height_m, y_m, distance_m)
    call_at, sky = _CALL_AT[single["when"]]
    data: Json = {
        "format": FORMAT, "version": VERSION, "name": name or UNNAMED,
        "place": {"label": "At home", "latitude_deg": 52.0, "longitude_deg": 0.0, "timezone": "Europe/London", "call_at": call_at,
                  "duration_s": 3600.0, "sky": sky, "mains_hz": 50},
        "room": room,
        "desk": {"x_m": _X_M, "y_m": round(y_m + 0.55, 3), "width_m": 1.2, "depth_m": 0.6, "height_m": _DESK_HEIGHT_M, "yaw_deg": 0.0},
        "presenter": typical.presenter(_X_M, y_m, 0.0, eye_height_m),
        "screens": [screen], "cameras": [camera],
        "lights": _lights(chosen["lamps"], y_m),
        "microphones": _microphones(single["speak"], single["camera"], y_m),
        "noises": [typical.noise("room")],
        "backdrop": backdrop_of(single["behind"]),
        "computer": {"kind": {"webcam": "desktop"}.get(single["camera"], single["camera"]), "ports": ["usb_a", "usb_c", "trrs"],
                     "listening": single["hear"], "loudspeakers_on": screen["id"]},
        "call": {"destination": "call_tile", "output_aspect": 16 / 9},
        "preferences": {"budget": _BUDGET[single["budget"]]},
    }  # fmt: skip
    given = {key for key in chosen if answers.get(key) not in (None, "", [], ())}
    data["origins"] = dict.fromkeys(_answered(data, given, bool(name)), "entered")
    return setup_from(data)


def _ahead_m(camera: str, height: str, distance: str) -> float:
    """How far ahead of the eyes a lens is whose way to the eyes is the distance answered [m]."""
    aside_m = _PHONE_LENS_ASIDE_M if camera == "phone" else 0.0
    return math.sqrt(_DISTANCE_M[distance] ** 2 - _LENS_ABOVE_EYES_M[height] ** 2 - aside_m**2)


def _answered(data: Json, given: set[str], named: bool) -> Iterator[str]:
    """Paths of the values that the answers given have told."""
    screen, camera = f"/screens/{data['screens'][0]['id']}", "/cameras/camera"
    answers = {
        "camera": (f"{camera}/kind", f"{camera}/mount", f"{screen}/kind", "/computer/kind"),
        "height": ("/presenter/eye_height_m", f"{screen}/position/z_m", f"{camera}/position/z_m"),
        "distance": ("/presenter/y_m", f"{screen}/position/y_m", f"{camera}/position/y_m"),
        "window": tuple(f"/room/windows/{window['id']}/wall" for window in data["room"]["windows"]),
        "when": ("/place/call_at", "/place/sky"),
        "lamps": tuple(f"/lights/{light['id']}/on" for light in data["lights"]),
        "speak": tuple(f"/microphones/{microphone['id']}/{field}" for microphone in data["microphones"] for field in ("kind", "in_use")),
        "hear": ("/computer/listening",),
        "behind": tuple(f"/backdrop/{item['id']}/kind" for item in data["backdrop"]),
        "budget": ("/preferences/budget",),
    }
    has_place = "position" in data["cameras"][0]
    for key in sorted(given):
        yield from (path for path in answers[key] if has_place or not path.startswith(f"{camera}/position"))
    if named:
        yield "/name"


def _eye_height_m(camera: str, height: str) -> float:
    """A laptop, or a monitor, seen below the eyes stands on the bare desk, which then tells how high the eyes are."""
    below_m = -_LENS_ABOVE_EYES_M[height]
    if below_m <= 0 or camera == "phone":
        return _EYE_HEIGHT_M
    least_m = _DESK_HEIGHT_M + (_LENS_ABOVE_BASE_M if camera == "laptop" else _MONITOR_MIDDLE_M + _LENS_ABOVE_MIDDLE_M)
    return round(least_m + below_m, 3) if camera == "laptop" else round(max(_EYE_HEIGHT_M, least_m + below_m), 3)


def _chosen(question: Question, given: Any) -> list[str]:
    if given is None or given == "":
        return [] if question.several and given is not None else [question.first]
    keys = list(given) if isinstance(given, (list, tuple)) else [given]
    if not question.several and len(keys) != 1:
        raise Refused([Fault(f"/{question.key}", f"{len(keys)} answers", "one answer")])
    for key in keys:
        if key not in question.keys:
            raise Refused([Fault(f"/{question.key}", shown(key), "one of " + ", ".join(sorted(question.keys)))])
    if "nothing" in keys and len(keys) > 1:
        raise Refused([Fault(f"/{question.key}", "lamps, and no lamp", "either the lamps that are lit or no lamp")])
    return keys


def _screen_and_camera(kind: str, height: str, eye_height_m: float, y_m: float, distance_m: float) -> tuple[Json, Json]:
    lens_m = eye_height_m + _LENS_ABOVE_EYES_M[height]
    if kind == "laptop":
        # The lid leans back 17 degrees; its base stands on whatever brings the lens to the height answered.
        base_m = max(lens_m - _LENS_ABOVE_BASE_M, _DESK_HEIGHT_M)
        return typical.laptop(point(_X_M, y_m + distance_m + _LENS_BEFORE_HINGE_M, base_m), 180.0, 107.0), typical.lid_camera()
    tilt_deg = {"far_below": 14.0, "below": 8.0, "level": 0.0, "above": -8.0}[height]
    if kind == "webcam":
        screen = typical.monitor(point(_X_M, y_m + distance_m, lens_m - _LENS_ABOVE_MIDDLE_M), 180.0)
        camera = typical.camera(
            "webcam", "monitor_top", name="Webcam", on_screen="monitor", lens_offset_m=0.03, yaw_deg=180.0, tilt_deg=tilt_deg
        )
        return screen, camera
    screen = typical.phone_screen(point(_X_M, y_m + distance_m, lens_m), 180.0, tilt_deg)
    lens = point(_X_M + _PHONE_LENS_ASIDE_M, y_m + distance_m, lens_m)
    return screen, typical.camera("phone_front", "holder", name="Phone camera", position=lens, yaw_deg=180.0, tilt_deg=tilt_deg)


def windows_of(where: str, y_m: float, depth_m: float) -> list[Json]:
    """The one window of a typical room, by where it is for somebody who sits at ``y_m`` [m] and faces +y."""
    wall, centre_m = {
        "front": ("wall_y1", _X_M), "behind": ("wall_y0", _X_M + 0.3),
        "left": ("wall_x0", y_m + 0.4), "right": ("wall_x1", y_m + 0.4), "none": ("", 0.0),
    }[where]  # fmt: skip
    if not wall:
        return []
    limit_m = depth_m if wall.startswith("wall_x") else 3.2
    return [typical.window("window", "Window", wall, min(max(centre_m, 0.65), limit_m - 0.65))]


def _lights(lamps: list[str], y_m: float) -> list[Json]:
    lights = [typical.light("ceiling_lamp", "ceiling-lamp", "Ceiling lamp", point(_X_M, y_m - 0.35, 2.2), on="ceiling" in lamps)]
    for key, side in (("desk_left", 1), ("desk_right", -1)):
        if key in lamps:
            x_m, lamp_y_m = ahead(_X_M, y_m, 0.0, 0.5, 0.45 * side)
            name = f"Desk lamp, {'left' if side > 0 else 'right'}"
            lights.append(
                typical.light("desk_lamp", key.replace("_", "-"), name, point(x_m, lamp_y_m, 1.15), aim_yaw_deg=0.0, aim_tilt_deg=-90.0)
            )
    return lights


def _microphones(speak: str, camera: str, y_m: float) -> list[Json]:
    if speak == "earbuds":
        return [typical.microphone("earbud_cord", "earbuds", "Earbuds with a cord")]
    if speak == "headset":
        return [typical.microphone("headset", "headset", "Headset")]
    if speak == "desk_mic":
        x_m, mic_y_m = ahead(_X_M, y_m, 0.0, 0.45, -0.2)
        return [
            typical.microphone(
                "usb_desk",
                "desk-mic",
                "Desk microphone",
                at="room",
                position=point(x_m, mic_y_m, 0.9),
                aim_yaw_deg=205.0,
                aim_tilt_deg=25.0,
            )
        ]
    kind = {"laptop": "built_in", "webcam": "webcam", "phone": "phone"}[camera]
    screen = {"laptop": "laptop", "webcam": "monitor", "phone": "phone"}[camera]
    return [typical.microphone(kind, "built-in", "Built-in microphone", at="screen", on_screen=screen)]


def backdrop_of(behind: str) -> list[Json]:
    """What stands behind somebody in a typical room."""
    if behind == "shelf":
        return [typical.backdrop("shelf", "shelf", point(_X_M + 0.75, 0.15, 1.3))]
    if behind == "bed":
        return [typical.backdrop("bed", "bed", point(_X_M - 0.4, 0.8, 0.28))]
    return []
