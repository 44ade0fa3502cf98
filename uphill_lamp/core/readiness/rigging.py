"""What devices forget while they are off, and what is put up each time: how each is between calls, and its lines."""

from __future__ import annotations

from collections.abc import Iterator
from typing import get_args

from uphill_lamp.core import cautions
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.session import Forgotten, Rig
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.readiness.line import Line
from uphill_lamp.core.scene.wording import kelvin, the

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
SCREEN_ENTRY = "second_screen"
USUAL_MIN = {"cameras": 2.0, "lights": 2.0, "microphones": 2.0, "reflectors": 1.0, "screens": 2.0}


def rigged_min(setup: Setup) -> float:
    """What is put up and set each time takes so long, by working values [min]."""
    return sum(line.seconds for line in (*forgotten(setup), *put_up(setup))) / 60


def stays(setup: Setup, path: str) -> bool:
    """Whether a device stays where it is between calls: as told, else as its kind does, else as everything else."""
    rig = rig_of(setup, path)
    if rig is not None and rig.left_rigged is not None:
        return rig.left_rigged
    return setup.preferences.rig_stays or _flag(setup, path, "stays") == "yes"


def forgets(setup: Setup, path: str) -> tuple[Forgotten, ...]:
    """What a device has lost once it was off: as told, else what its kind does."""
    rig = rig_of(setup, path)
    if rig is not None and rig.forgets is not None:
        return rig.forgets
    lost = _flag(setup, path, "forgets").split("+")
    return tuple(what for what in get_args(Forgotten) if what in lost)


def _flag(setup: Setup, path: str, name: str) -> str:
    """An attribute of a device's kind, where it has one."""
    entry = next((entry for other, _, _, entry in devices(setup) if other == path), None)
    kind = catalogue().kind(entry) if entry else None
    return kind.attributes.get(name, "") if kind is not None else ""


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
            yield f"/screens/{screen.id}", "screens", screen.name, SCREEN_ENTRY if screen.kind == "monitor" else None


def put_up_min(setup: Setup, path: str, part: str, entry: str | None) -> float:
    """How long a device takes to put up each time [min]: as told, else its kind's, else what is usual."""
    rig = rig_of(setup, path)
    if rig is not None and rig.minutes is not None:
        return rig.minutes
    kind = catalogue().kind(entry) if entry else None
    return kind.minutes_each_time if kind is not None and kind.minutes_each_time else USUAL_MIN[part]


def forgotten(setup: Setup) -> Iterator[Line]:
    """What devices have lost since they were off, before all else."""
    for path, part, name, _ in devices(setup):
        for what in forgets(setup, path):
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


def put_up(setup: Setup) -> Iterator[Line]:
    """What is put away between calls, and what is put up behind each time."""
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
