"""The run sheet: what is to be done before, at and after a call, counted back from its start (docs/method/go.md, "Run sheet")."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from uphill_lamp.core import cautions
from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.session import Rig
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.wording import kelvin, the
from uphill_lamp.core.session.budgets import HOT_AFTER_MIN, on_battery, records

Where = Literal["room", "phones", "home", "desk", "camera", "computer", "you", "there"]
# Nobody walks twice: what is due at the same time stands by where it is done.
ORDER: tuple[Where, ...] = ("room", "home", "phones", "desk", "camera", "computer", "you", "there")
FORGOTTEN = {
    "white": ("Set its white", 30),
    "exposure": ("Set its exposure, and lock it", 30),
    "focus": ("Set its focus to your eyes", 20),
    "zoom": ("Set its zoom", 15),
    "level": ("Set how bright it is", 15),
    "colour": ("Set its colour", 15),
    "input": ("Choose its input", 15),
    "gain": ("Set its gain", 20),
}
USUAL_MIN = {"cameras": 2.0, "lights": 2.0, "microphones": 2.0, "reflectors": 1.0, "screens": 2.0}


@dataclass(frozen=True)
class Line:
    """A line: when at the latest, from the start (negative before, positive after the end) [min]; what; why; how long [s].

    ``source`` is what it stands there for: a finding's id, a path of the document, or what every call needs; ``caution`` what to mind.
    """

    id: str
    at_min: float
    where: Where
    words: str
    why: str
    source: str
    seconds: int
    caution: str = ""


def run_sheet(appraisal: Appraisal, learned_s: Mapping[str, float] | None = None) -> tuple[Line, ...]:
    """All lines that this setup needs, in the order in which they are done.

    Args:
        learned_s: how long lines really take, by id [s]; what was never timed keeps its usual time.
    """
    setup, known = appraisal.setup, learned_s or {}
    lines = [
        *_forgotten(setup),
        *_put_up(setup),
        *_room(setup),
        *_charge(setup),
        *_lens(setup),
        *_phones(setup),
        *_home(setup),
        *_screen(setup),
        *_try(setup, appraisal),
        *_last(setup),
        *_afterwards(setup),
    ]
    timed = [replace(line, seconds=round(known.get(line.id, line.seconds))) for line in lines]
    return tuple(sorted(timed, key=lambda line: (line.at_min, ORDER.index(line.where))))


def ready_min(appraisal: Appraisal, lines: tuple[Line, ...]) -> float:
    """Minutes to be ready: what is put up and set each time, and nothing that is done in any case [min]."""
    return sum(line.seconds for line in lines if line.id.startswith(("rig.", "set."))) / 60


def stays(setup: Setup, path: str) -> bool:
    """Whether a device stays where it is between calls."""
    rig = rig_of(setup, path)
    return setup.preferences.rig_stays if rig is None or rig.left_rigged is None else rig.left_rigged


def rig_of(setup: Setup, path: str) -> Rig | None:
    """How a device is between calls, where that was told."""
    return next((rig for rig in setup.session.rigs if rig.device == path), None)


def devices(setup: Setup) -> Iterator[tuple[str, str, str, str | None]]:
    """Devices in use that may be rigged: path, part, name and catalogue entry."""
    for camera in setup.cameras:
        if camera.use != "spare" and camera.kind != "built_in":
            yield f"/cameras/{camera.id}", "cameras", camera.name, camera.entry
    for light in setup.lights:
        if light.on and light.stands not in ("wall", "ceiling"):
            yield f"/lights/{light.id}", "lights", light.name, light.entry
    microphone = setup.microphone_in_use
    if microphone is not None and microphone.at != "screen":
        yield f"/microphones/{microphone.id}", "microphones", microphone.name, microphone.entry
    for sheet in setup.reflectors:
        yield f"/reflectors/{sheet.id}", "reflectors", sheet.name, None
    for screen in setup.screens:
        if screen.on and screen.kind not in ("laptop", "projection"):
            yield f"/screens/{screen.id}", "screens", screen.name, None


def put_up_min(setup: Setup, path: str, part: str, entry: str | None) -> float:
    """How long a device takes to put up each time [min]: as told, else its kind's, else what is usual."""
    rig = rig_of(setup, path)
    if rig is not None and rig.minutes is not None:
        return rig.minutes
    kind = catalogue().kind(entry) if entry else None
    return kind.minutes_each_time if kind is not None and kind.minutes_each_time else USUAL_MIN[part]


def _forgotten(setup: Setup) -> Iterator[Line]:
    """What devices have lost since they were off, before all else."""
    for path, part, name, _ in devices(setup):
        rig = rig_of(setup, path)
        for what in rig.forgets if rig else ():
            words, seconds = FORGOTTEN[what]
            detail = _wanted(setup, path, what)
            yield Line(
                f"set.{path[1:].replace('/', '.')}.{what}",
                -16,
                "camera" if part == "cameras" else "desk",
                f"{name.capitalize() if name.islower() else name}: {words[0].lower()}{words[1:]}{detail}",
                "It forgets this while it is off.",
                path,
                seconds,
            )


def _wanted(setup: Setup, path: str, what: str) -> str:
    camera = next((camera for camera in setup.cameras if path == f"/cameras/{camera.id}"), None)
    light = next((light for light in setup.lights if path == f"/lights/{light.id}"), None)
    if camera is not None and what == "white" and camera.white_balance.cct_k:
        return f" ({kelvin(camera.white_balance.cct_k)})"
    if camera is not None and what == "zoom":
        return f" ({camera.zoom:g} times)"
    if light is not None and what == "level":
        return f" ({100 * light.dim:.0f} %)"
    if light is not None and what == "colour":
        return f" ({kelvin(light.cct_k)})"
    return ""


def _put_up(setup: Setup) -> Iterator[Line]:
    for path, part, name, entry in devices(setup):
        if stays(setup, path):
            continue
        minutes = put_up_min(setup, path, part, entry)
        if minutes <= 0:
            continue
        light = next((light for light in setup.lights if path == f"/lights/{light.id}"), None)
        caution = cautions.LAMP_STAND if light else cautions.TRIPOD if _on_tripod(setup, path) else ""
        yield Line(
            f"rig.{path[1:].replace('/', '.')}",
            -25,
            "camera" if part == "cameras" else "desk",
            f"Put up {the(name)}, by its marks",
            "It is put away between calls.",
            path,
            round(60 * minutes),
            caution,
        )
    for thing in setup.backdrop:
        if thing.put_up_min > 0:
            yield Line(
                f"rig.backdrop.{thing.id}",
                -25,
                "room",
                f"Put up {the(thing.name)} behind you",
                "It is put up each time.",
                f"/backdrop/{thing.id}",
                round(60 * thing.put_up_min),
                cautions.CLOTH if thing.kind in ("sheet", "curtain", "cloth") else "",
            )


def _on_tripod(setup: Setup, path: str) -> bool:
    return any(path == f"/cameras/{camera.id}" and camera.mount == "tripod" for camera in setup.cameras)


def _room(setup: Setup) -> Iterator[Line]:
    if setup.room.windows:
        yield Line(
            "room.air",
            -30,
            "room",
            "Air the room for ten minutes, then shut the windows",
            "Air gets stale in an hour of talk; an open window lets the street in.",
            "/room/windows",
            60,
        )
    for window in setup.room.windows:
        if window.covering.kind != "none":
            yield Line(
                f"room.covering.{window.id}",
                -20,
                "room",
                f"Draw what hangs at {the(window.name)}",
                "The plan's light has it drawn.",
                f"/room/windows/{window.id}",
                15,
            )
    lit = [light for light in setup.lights if light.on]
    if lit:
        names = ", ".join(the(light.name) for light in lit[:4]) + (" and the rest" if len(lit) > 4 else "")
        hot = any(light.heat == "hot" for light in lit)
        off = [light for light in setup.lights if not light.on]
        words = f"Lamps on: {names}" + (f"; off: {', '.join(the(light.name) for light in off[:3])}" if off else "")
        yield Line(
            "room.lamps", -20, "room", words, "They settle in a quarter of an hour.", "/lights", 30, cautions.WARM_LAMP if hot else ""
        )
    for noise in setup.noises:
        if noise.can_be_stopped:
            yield Line(
                f"room.noise.{noise.id}",
                -10,
                "room",
                f"Switch off or carry out: {noise.name}",
                "It can be stopped, and is heard.",
                f"/noises/{noise.id}",
                20,
            )
    for door in setup.room.doors:
        words = f"Leave {the(door.name)} open" if door.stands_open else f"Shut {the(door.name)}"
        yield Line(f"room.door.{door.id}", -10, "room", words, "The plan's sound has it so.", f"/room/doors/{door.id}", 10)


def _charge(setup: Setup) -> Iterator[Line]:
    host = setup.computer.kind
    if host in ("laptop", "phone", "tablet"):
        yield Line(
            "computer.charger",
            -20,
            "desk",
            f"{host.capitalize()} on its charger",
            "A call takes twice the power of reading.",
            "/computer/kind",
            15,
        )
    for rig, name, _ in on_battery(setup):
        yield Line(
            f"charge.{rig.device[1:].replace('/', '.')}",
            -20,
            "desk",
            f"Look at the battery of {the(name)}, and lay its charger ready",
            "It runs on a battery.",
            rig.device,
            20,
        )
    if records(setup):
        yield Line(
            "computer.space",
            -20,
            "computer",
            "Look how much is free where it is recorded",
            "A full card ends a recording without a word.",
            "/call/recording",
            20,
        )


def _lens(setup: Setup) -> Iterator[Line]:
    camera = setup.main_camera
    if not setup.call.picture:
        return
    yield Line(
        "camera.wipe",
        -15,
        "camera",
        f"Wipe the lens of {the(camera.name)} with a soft dry cloth",
        "A finger's mark lays a veil over all that is bright.",
        "every call",
        15,
    )
    forgets = set(rig.forgets) if (rig := rig_of(setup, f"/cameras/{camera.id}")) else set()
    if camera.white_balance.kind == "locked" and "white" not in forgets:
        at = f" at {kelvin(camera.white_balance.cct_k)}" if camera.white_balance.cct_k else ""
        yield Line(
            "camera.white",
            -15,
            "camera",
            f"White locked{at}: look that it still is",
            "A white that wanders turns you blue or orange.",
            f"/cameras/{camera.id}/white_balance",
            15,
        )
    if camera.metering == "locked" and "exposure" not in forgets:
        yield Line(
            "camera.exposure",
            -15,
            "camera",
            "Exposure locked on your face: look that it still is",
            "Else the picture breathes.",
            f"/cameras/{camera.id}/metering",
            15,
        )
    if camera.focus.kind == "manual" and "focus" not in forgets:
        yield Line(
            "camera.focus",
            -15,
            "camera",
            "Focus on your eyes, by somebody or something in your place",
            "It is set by hand.",
            f"/cameras/{camera.id}/focus",
            30,
            cautions.STAND_IN if any(light.heat == "hot" for light in setup.lights) else "",
        )


def carrying_phones(setup: Setup) -> list[str]:
    """What the call or its picture or sound runs on among phones and tablets."""
    if setup.computer.kind in ("phone", "tablet"):
        return [str(setup.computer.kind)]
    cameras = [camera.name for camera in setup.cameras if camera.use != "spare" and camera.kind in ("phone_front", "phone_rear")]
    microphone = setup.microphone_in_use
    return cameras + ([microphone.name] if microphone is not None and microphone.kind == "phone" else [])


def _phones(setup: Setup) -> Iterator[Line]:
    carrying = carrying_phones(setup)
    for name in dict.fromkeys(carrying):
        yield Line(
            f"phones.carry.{name.lower().replace(' ', '-')}"[:60],
            -12,
            "phones",
            f"{name[0].upper()}{name[1:]}: do not disturb, calls refused; no flight mode",
            "The call runs on it.",
            "phones",
            20,
            cautions.PHONE_HOLDER if setup.place.duration_s / 60 >= HOT_AFTER_MIN else "",
        )
    others = "All other phones" if carrying else "Phones"
    yield Line(
        "phones.flight",
        -12,
        "phones",
        f"{others} in flight mode; look that the sign is there",
        "A phone that only lies still buzzes, and crackles in cables.",
        "every call",
        20,
    )


def _home(setup: Setup) -> Iterator[Line]:
    session = setup.session
    if session.people_at_home:
        yield Line(
            "home.people",
            -10,
            "home",
            "Tell those at home: until when, and that they may be heard",
            "Nobody comes in who knows.",
            "/session/people_at_home",
            30,
        )
    if session.doorbell:
        yield Line("home.bell", -10, "home", "Doorbell off, or a note on it", "It rings in the quietest sentence.", "/session/doorbell", 20)
    if session.pets:
        yield Line("home.pets", -10, "home", "Animals fed, and out of the room", "They come when it is quiet.", "/session/pets", 60)


def _screen(setup: Setup) -> Iterator[Line]:
    call = setup.call
    yield Line(
        "computer.quiet",
        -8,
        "computer",
        "Notifications off until after the call",
        "They are seen, heard, and read by you.",
        "every call",
        15,
    )
    yield Line(
        "computer.rest",
        -8,
        "computer",
        "Close what copies or updates by itself",
        "It takes the line and the machine from the call.",
        "every call",
        20,
    )
    if call.slides != "none":
        yield Line(
            "computer.shared",
            -8,
            "computer",
            "Private windows closed, desktop clean, letters large in what you share",
            "All of it may be seen; small letters are not read.",
            "/call/slides",
            60,
        )
    window = next(((screen, window) for screen in setup.screens if screen.on for window in screen.windows if window.shows == "call"), None)
    if window is not None:
        screen, placed = window
        yield Line(
            "computer.window",
            -5,
            "computer",
            f"Call window at {placed.left_px} × {placed.top_px} px of {the(screen.name)}, {placed.width_px} × {placed.height_px} px large",
            "There you look nearest the lens.",
            f"/screens/{screen.id}/windows/{placed.id}",
            20,
        )


def _try(setup: Setup, appraisal: Appraisal) -> Iterator[Line]:
    microphone = setup.microphone_in_use
    if microphone is not None:
        yield Line(
            "try.tap",
            -6,
            "computer",
            f"Tap {the(microphone.name)}: the bar in the call's settings jumps",
            "Most bad sound is another microphone than the one you mean.",
            f"/microphones/{microphone.id}",
            15,
        )
    yield Line(
        "try.take",
        -6,
        "computer",
        "Ten seconds of a take in Check, looked at and heard",
        "What differs from the plan is told there.",
        "every call",
        45,
    )
    if setup.computer.listening == "headphones":
        yield Line(
            "try.headphones",
            -6,
            "desk",
            "Headphones on, volume low first",
            "You hear the others, and they do not hear themselves.",
            "/computer/listening",
            10,
            cautions.HEADPHONES,
        )
    if any(finding.id == "backdrop.shine" for finding in appraisal.findings):
        yield Line("you.blot", -2, "you", "Blot forehead and nose", "They shine in this light.", "backdrop.shine", 20)


def _last(setup: Setup) -> Iterator[Line]:
    live = setup.call.use != "recorded"
    yield Line("you.water", -2, "you", "Water beside you, hair, collar, glasses wiped", "Nobody does it in the picture.", "every call", 30)
    if live:
        yield Line(
            "you.mute",
            -2,
            "computer",
            "Know where mute is, and that it is off",
            "The first sentence is lost to it most often.",
            "every call",
            5,
        )
    if records(setup):
        yield Line("there.tone", -1, "there", "Record 20 s of the silent room", "It fills the gaps when it is cut.", "/call/recording", 20)
        if setup.call.use == "recorded":
            yield Line(
                "there.list",
                -1,
                "you",
                "List of what is to be recorded at hand, in order",
                "What is forgotten wants the whole room again.",
                "/call/use",
                15,
            )
        yield Line(
            "there.start",
            0,
            "there",
            "Still for 5 s, then name and number of the take",
            "So it can be cut, and be found.",
            "/call/recording",
            10,
        )
        if setup.call.use == "recorded":
            yield Line(
                "there.cover",
                0.1,
                "there",
                "3 s of a friendly face, for the picture on the cover",
                "It cannot be had later in this light.",
                "/call/use",
                5,
            )
    elif live:
        yield Line("there.still", 0, "there", "Still for 2 s before you speak", "A call cuts the first word off.", "every call", 2)


def _afterwards(setup: Setup) -> Iterator[Line]:
    end_min = setup.place.duration_s / 60
    if records(setup):
        yield Line("after.stop", end_min, "there", "Still for 5 s, then stop", "So it can be cut.", "/call/recording", 7)
        yield Line(
            "after.play",
            end_min + 1,
            "computer",
            "Play back 5 s from the middle",
            "While all still stands it can be done again.",
            "/call/recording",
            15,
        )
        yield Line("after.copy", end_min + 2, "computer", "Copy it to a second place", "One copy is none.", "/call/recording", 120)
    else:
        yield Line(
            "after.end", end_min, "computer", "End the call, and see that it has ended", "You are seen until it is.", "every call", 5
        )
    if any(light.on for light in setup.lights):
        hot = any(light.on and light.heat != "cool" for light in setup.lights)
        yield Line(
            "after.lamps",
            end_min + 3,
            "room",
            "Lamps off" + ("; let them cool before you touch them" if hot else ""),
            "They age, and get warm.",
            "/lights",
            15,
            cautions.WARM_LAMP if hot else "",
        )
    if carrying_phones(setup) or any(True for _ in on_battery(setup)):
        yield Line(
            "after.charge",
            end_min + 3,
            "desk",
            "Phones and batteries off the charger once they are full",
            "Hours at full age them.",
            "phones",
            10,
        )
    yield Line(
        "after.log",
        end_min + 4,
        "computer",
        "Ten seconds for the log: what went well, what did not",
        "So the next one is better.",
        "every call",
        10,
    )
