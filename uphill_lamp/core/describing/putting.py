"""Putting a thing into a setup, out of the drawer too, and copying one: patches, and what they mean in words."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from uphill_lamp.core.describing.kinds import BESIDE, Kind, kind_of, kinds_of
from uphill_lamp.core.describing.listing import Change, fields_of, free_id, free_name, list_of, noted, stem_of
from uphill_lamp.core.describing.places import place_for, wall_for
from uphill_lamp.core.document.devices import Camera, Microphone, Screen
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.patch import Operation, add, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Door, Window
from uphill_lamp.core.scene.handling import thing_at

Json = dict[str, Any]


def put(setup: Setup, key: str, wished: tuple[float, float] | None = None, kit_id: str = "") -> Change:
    """Another thing of a kind, put where it finds room.

    Args:
        key: of the kind.
        wished: where the plan was pressed, x and y [m].
        kit_id: of the thing in the drawer that it is, if it lies there.

    Raises:
        Refused: if there is no such kind, no room on the walls, or already as many as a setup can hold.
    """
    kind = kind_of(key)
    if kind is None:
        raise Refused([Fault("/kind", repr(key)[:40], "a kind of thing that can be put here")])
    item = next((owned for owned in setup.kit if owned.id == kit_id), None)
    named = item.name if item else kind.label
    made, place = _made(setup, kind, wished, named)
    if item is not None:
        made |= {"entry": item.entry} if "entry" in fields_of(kind.part) else {}
    operations: list[Operation] = [add(f"{list_of(kind.part)}/-", made)]
    operations += _together(setup, kind, made, place)
    if item is not None:
        operations.append(replace(f"/kit/{item.id}/count", item.count - 1) if item.count > 1 else remove(f"/kit/{item.id}"))
    also_noted = (f"{list_of(kind.part)}/{made['id']}/position",) if wished is not None and "position" in made else ()
    patch = noted(setup, tuple(operations), also_noted)
    return Change(patch, f"{kind.part}/{made['id']}", f"Put here: {made['name']}")


def _made(setup: Setup, kind: Kind, wished: tuple[float, float] | None, named: str) -> tuple[Json, Json]:
    place = place_for(setup, kind, wished)
    made = dict(kind.make(setup, place))
    if kind.part in ("windows", "doors"):
        foot_m = made.get("sill_m", 0.0)
        made["height_m"] = round(min(made["height_m"], setup.room.height_m - foot_m - 0.05), 3)
        made["wall"], made["centre_m"] = wall_for(setup, made["width_m"], foot_m, foot_m + made["height_m"], wished)
    made["id"], made["name"] = free_id(setup, kind.slug), free_name(setup, kind.part, named)
    if kind.part == "screens" and any(window.shows == "call" for screen in setup.screens for window in screen.windows):
        made["windows"] = [window for window in made.get("windows", ()) if window["shows"] != "call"]  # the call is on one screen
    if kind.part == "cameras":
        made |= _mounted(setup, made) if kind.where == "screen" and wished is None else {}
    return made, place


def _mounted(setup: Setup, made: Json) -> Json:
    """A webcam goes on top of a monitor that has none yet."""
    monitor = next(
        (screen for screen in setup.screens if screen.kind == "monitor" and all(camera.on_screen != screen.id for camera in setup.cameras)),
        None,
    )
    if monitor is None:
        return {}
    return {
        "mount": "monitor_top",
        "on_screen": monitor.id,
        "lens_offset_m": 0.02,
        "position": None,
        "yaw_deg": monitor.yaw_deg,
        "tilt_deg": 0.0,
    }


def _together(setup: Setup, kind: Kind, made: Json, place: Json) -> Iterator[Operation]:
    """What is one with a thing: a laptop's camera and microphone, a webcam's microphone, a phone's lens."""
    for key in kind.comes_with:
        other = BESIDE[key]
        part = dict(other.make(setup, made.get("position") or place))
        part["id"], part["name"] = (
            free_id(setup, f"{made['id']}-{other.slug}"[:40].rstrip("-")),
            free_name(setup, other.part, f"{made['name']}: {other.label.split('s ')[-1]}"),
        )
        if kind.key == "screens.laptop":
            part["on_screen"] = made["id"]
        if other.part == "microphones" and made.get("on_screen") and part.get("at") == "room":
            part |= {"at": "screen", "on_screen": made["on_screen"], "position": None}
        yield add(f"{list_of(other.part)}/-", part)


def copied(setup: Setup, thing: str, name: str = "") -> Change:
    """The same once more, beside it: a second camera spare, a second microphone not in use.

    Raises:
        Refused: if there is no such thing, or none that can be twice.
    """
    item, part = thing_at(setup, thing), thing.partition("/")[0]
    made = item.model_dump(mode="json")
    made["id"], made["name"] = free_id(setup, stem_of(item.id)), free_name(setup, part, name or item.name)
    if part == "shown":
        raise Refused([Fault(f"/{thing}", "a window of a screen", "a thing that stands in the room")])
    if isinstance(item, Window | Door):
        foot_m = item.sill_m if isinstance(item, Window) else 0.0
        made["wall"], made["centre_m"] = wall_for(setup, item.width_m, foot_m, foot_m + item.height_m)
    if made.get("position"):
        like = next((kind for kind in kinds_of(part) if kind.slug == stem_of(item.id)), None) or next(iter(kinds_of(part)), None)
        where = place_for(setup, like) if like else made["position"]
        made["position"] = where | {"z_m": made["position"]["z_m"]}
    if isinstance(item, Camera):
        made |= {"use": "spare"}
    if isinstance(item, Microphone):
        made |= {"in_use": False}
    if isinstance(item, Screen):
        made["windows"] = []
    old, new = f"{list_of(part)}/{item.id}/", f"{list_of(part)}/{made['id']}/"
    known = [
        new + path.removeprefix(old)
        for path in setup.origins
        if path.startswith(old) and "/position/" not in path and "/windows/" not in path
    ]
    patch = noted(setup, (add(f"{list_of(part)}/-", made),), known)
    return Change(patch, f"{part}/{made['id']}", f"Copied: {item.name}")


def from_drawer(setup: Setup, kit_id: str) -> Kind | None:
    """The kind of thing that something in the drawer is, if it can be put into the room."""
    item = next((owned for owned in setup.kit if owned.id == kit_id), None)
    return next(
        (
            kind
            for part in ("lights", "cameras", "screens", "microphones", "reflectors", "furnishings")
            for kind in kinds_of(part)
            if item and item.entry in kind.entries
        ),
        None,
    )
