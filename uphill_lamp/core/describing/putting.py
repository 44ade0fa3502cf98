"""Putting a thing into a setup, copying it, changing its kind, taking it away: patches, and what they mean in words."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from uphill_lamp.core.describing.kinds import BESIDE, Kind, kind_of, kinds_of
from uphill_lamp.core.describing.places import place_for, wall_for
from uphill_lamp.core.document.devices import Camera, Light, Microphone, Reflector, Screen
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.fields import Part
from uphill_lamp.core.document.patch import Operation, Patch, add, applied, remove, replace
from uphill_lamp.core.document.people import Garment, Kit
from uphill_lamp.core.document.setup import Setup, overlapping_holes, things
from uphill_lamp.core.document.surroundings import BackdropThing, Door, Furnishing, Noise, Window
from uphill_lamp.core.scene.handling import TOGETHER_M, WITHIN, path_of, thing_at
from uphill_lamp.core.tape.leaf_fields import OF_A_KIND, at
from uphill_lamp.core.tape.leaf_names import LEAVES

Json = dict[str, Any]
MOST_NAME = 80


@dataclass(frozen=True)
class Change:
    """A change of what there is: its patch, what is in hand after it, and what was done in words."""

    patch: Patch
    handle: str
    words: str


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
    item = next((one for one in setup.kit if one.id == kit_id), None)
    named = item.name if item else kind.label
    made, place = _made(setup, kind, wished, named)
    if item is not None:
        made |= {"entry": item.entry} if "entry" in _fields(kind.part) else {}
    operations: list[Operation] = [add(f"{_list(kind.part)}/-", made)]
    operations += _together(setup, kind, made, place)
    if item is not None:
        operations.append(replace(f"/kit/{item.id}/count", item.count - 1) if item.count > 1 else remove(f"/kit/{item.id}"))
    told = (f"{_list(kind.part)}/{made['id']}/position",) if wished is not None and "position" in made else ()
    patch = _noted(setup, tuple(operations), told)
    return Change(patch, f"{kind.part}/{made['id']}", f"Put here: {made['name']}")


def _noted(setup: Setup, patch: Patch, told: Iterable[str] = ()) -> Patch:
    """The patch with the origins as they are to be: what nobody told is assumed, what was told stays so.

    Args:
        told: paths of values, or of what holds values, that somebody gives by this change.

    Raises:
        Refused: if it does not fit this room.
    """
    after = applied(setup, patch, None)
    new = [fault for fault in overlapping_holes(after) if fault not in overlapping_holes(setup)]
    if new:
        raise Refused(new)
    data = after.model_dump(mode="json", include={"origins"})["origins"]
    for path in told:
        data |= dict.fromkeys(leaf_paths(after, path), "entered")
    return (*patch, replace("/origins", data))


def _made(setup: Setup, kind: Kind, wished: tuple[float, float] | None, named: str) -> tuple[Json, Json]:
    place = place_for(setup, kind, wished)
    made = dict(kind.make(setup, place))
    if kind.part in ("windows", "doors"):
        foot_m = made.get("sill_m", 0.0)
        made["height_m"] = round(min(made["height_m"], setup.room.height_m - foot_m - 0.05), 3)
        made["wall"], made["centre_m"] = wall_for(setup, made["width_m"], foot_m, foot_m + made["height_m"], wished)
    made["id"], made["name"] = free_id(setup, kind.slug), free_name(setup, kind.part, named)
    if kind.part == "cameras":
        made |= _mounted(setup, made) if kind.where == "screen" and wished is None else {}
    return made, place


def _mounted(setup: Setup, made: Json) -> Json:
    """A webcam goes on top of a monitor that has none yet."""
    monitor = next(
        (one for one in setup.screens if one.kind == "monitor" and all(camera.on_screen != one.id for camera in setup.cameras)), None
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
        yield add(f"{_list(other.part)}/-", part)


def copied(setup: Setup, thing: str, name: str = "") -> Change:
    """The same once more, beside it: a second camera spare, a second microphone not in use.

    Raises:
        Refused: if there is no such thing, or none that can be twice.
    """
    item, part = thing_at(setup, thing), thing.partition("/")[0]
    made = item.model_dump(mode="json")
    made["id"], made["name"] = free_id(setup, _stem(item.id)), free_name(setup, part, name or item.name)
    if part == "shown":
        raise Refused([Fault(f"/{thing}", "a window of a screen", "a thing that stands in the room")])
    if isinstance(item, Window | Door):
        foot_m = item.sill_m if isinstance(item, Window) else 0.0
        made["wall"], made["centre_m"] = wall_for(setup, item.width_m, foot_m, foot_m + item.height_m)
    if made.get("position"):
        like = next((kind for kind in kinds_of(part) if kind.slug == _stem(item.id)), None) or next(iter(kinds_of(part)), None)
        where = place_for(setup, like) if like else made["position"]
        made["position"] = where | {"z_m": made["position"]["z_m"]}
    if isinstance(item, Camera):
        made |= {"use": "spare"}
    if isinstance(item, Microphone):
        made |= {"in_use": False}
    if isinstance(item, Screen):
        made["windows"] = []
    old, new = f"{_list(part)}/{item.id}/", f"{_list(part)}/{made['id']}/"
    known = [
        new + path.removeprefix(old)
        for path in setup.origins
        if path.startswith(old) and "/position/" not in path and "/windows/" not in path
    ]
    patch = _noted(setup, (add(f"{_list(part)}/-", made),), known)
    return Change(patch, f"{part}/{made['id']}", f"Copied: {item.name}")


def changed_kind(setup: Setup, thing: str, key: str) -> Change:
    """A thing of another kind in its place: name, place and all that somebody told of it stay where the new kind has them too.

    Raises:
        Refused: if there is no such thing or kind, or the kind is of another sort.
    """
    item, part, kind = thing_at(setup, thing), thing.partition("/")[0], kind_of(key)
    if kind is None or kind.part != part:
        raise Refused([Fault("/kind", repr(key)[:40], "one of " + ", ".join(one.key for one in kinds_of(part)))])
    path, old = path_of(setup, thing), item.model_dump(mode="json")
    new = dict(kind.make(setup, old.get("position") or place_for(setup, kind)))
    kept = {
        "id",
        "name",
        "position",
        "wall",
        "centre_m",
        "on_screen",
        "mount",
        "lens_offset_m",
        "use",
        "in_use",
        "yaw_deg",
        "aim_yaw_deg",
        "aim_tilt_deg",
        "windows",
        "on",
        "dim",
    }
    told = {origin.removeprefix(path + "/").partition("/")[0] for origin in setup.origins if origin.startswith(path + "/")}
    has = new.keys() | _defaulted(part) | {"id", "name"}
    merged = new | {
        field: value for field, value in old.items() if field in has and field in kept | (told - {"kind"}) and value is not None
    }
    merged = _fitting(setup, part, merged, old)
    dropped = sorted(field for field in told if field not in merged or merged[field] != old.get(field))
    stays = [
        origin
        for origin in setup.origins
        if origin.startswith(path + "/") and origin.removeprefix(path + "/").partition("/")[0] not in dropped
    ]
    patch = _noted(setup, _replaced(setup, part, path, merged), stays)
    lost = ", ".join(_label(part, field) for field in dropped if field != "kind")
    words = f"{item.name}, now: {kind.label}" + (f"; no longer known: {lost}" if lost else "")
    return Change(patch, thing, words)


def _fitting(setup: Setup, part: str, merged: Json, old: Json) -> Json:
    """Makes ends meet where kinds are placed in different ways."""
    if part == "microphones":
        at = merged["at"]
        for field, mine in (("from_mouth", "body"), ("position", "room"), ("on_screen", "screen")):
            if at != mine:
                merged[field] = None
        if at == "room" and not merged.get("position"):
            merged["position"] = place_for(setup, kinds_of(part)[3])
    if part == "cameras" and merged.get("on_screen"):
        merged |= {"position": None}
        if old.get("mount") == "laptop_lid" and merged["kind"] != "built_in":
            merged |= {"mount": "tripod", "on_screen": None, "position": place_for(setup, next(iter(kinds_of(part))))}
    if part == "screens":
        windows = []
        for window in merged.get("windows") or ():
            wide, high = min(window["width_px"], merged["width_px"]), min(window["height_px"], merged["height_px"])
            left, top = min(window["left_px"], merged["width_px"] - wide), min(window["top_px"], merged["height_px"] - high)
            windows.append(window | {"width_px": wide, "height_px": high, "left_px": left, "top_px": top})
        merged["windows"] = windows
        if merged["kind"] == "laptop":
            merged.pop("tilt_deg", None)
        else:
            merged.pop("hinge_deg", None)
    return merged


def _replaced(setup: Setup, part: str, path: str, merged: Json) -> Patch:
    """The list with the thing in its old place among the others."""
    listed = [one.model_dump(mode="json") for one in dict(things(setup))[_list(part)]]
    ident = path.rsplit("/", 1)[1]
    operations: list[Operation] = []
    if part == "screens" and merged["kind"] != "laptop":
        for camera in setup.cameras:
            if camera.on_screen == ident and camera.mount == "laptop_lid":
                operations += _off_lid(camera, merged)
    at = next(index for index, one in enumerate(listed) if one["id"] == ident)
    if at == len(listed) - 1:
        return (
            (remove(path), add(f"{_list(part)}/-", merged), *operations)
            if part != "cameras" or len(listed) > 1
            else (replace(_list(part), [merged]), *operations)
        )
    listed[at] = merged
    return (replace(_list(part), listed), *operations)


def _off_lid(camera: Camera, screen: Json) -> Iterator[Operation]:
    """A laptop's camera becomes its successor's: on top of a monitor, or where its glass is."""
    root = f"/cameras/{camera.id}"
    yield replace(f"{root}/mount", "monitor_top")
    yield replace(f"{root}/lens_offset_m", 0.01)
    yield replace(f"{root}/yaw_deg", screen["yaw_deg"])
    yield replace(f"{root}/tilt_deg", 0.0)


def taken_away(setup: Setup, thing: str, into_drawer: bool = True) -> Change:
    """A thing taken out of the room, into the drawer if such things are kept there; with all that refers to it.

    Raises:
        Refused: for the presenter, the desk, the room, and the last camera.
    """
    if thing.partition("/")[0] in ("", "presenter", "desk", "room", "computer", "wishes"):
        raise Refused([Fault(f"/{thing}", "what every setup has", "a thing that can be without: a lamp, a screen, a window …")])
    item, path, part = thing_at(setup, thing), path_of(setup, thing), thing.partition("/")[0]
    gone = [thing, *_parts_of(setup, thing)]
    cameras = [one for one in setup.cameras if f"cameras/{one.id}" not in gone]
    if not cameras:
        raise Refused([Fault(f"/{thing}", "the last camera", "another camera first: without one the far side sees nothing")])
    operations: list[Operation] = []
    if all(one.use != "main" for one in cameras):
        operations.append(replace(f"/cameras/{cameras[0].id}/use", "main"))
    operations += _references(setup, gone)
    operations += [remove(path_of(setup, other)) for other in gone if other != thing] + [remove(path)]
    kept = ""
    if into_drawer and part in ("lights", "cameras", "microphones", "reflectors") and (entry := _entry(setup, thing)):
        operations += _into_drawer(setup, entry, item.name)
        kept = ", into the drawer"
    also = [thing_at(setup, other).name for other in gone if other != thing]
    words = f"Taken away{kept}: {item.name}" + (f", with {', '.join(also)}" if also else "")
    return Change(_noted(setup, tuple(operations)), "", words)


def _parts_of(setup: Setup, thing: str) -> Iterator[str]:
    """What is one with a thing and goes along: what sits on a screen, a phone's lens and microphone, a webcam's microphone."""
    item = thing_at(setup, thing)
    if not isinstance(item, Screen | Camera):
        return
    came_with = tuple(f"{item.id}-{other.slug}" for other in BESIDE.values())
    for part in ("cameras", "microphones"):
        for other in getattr(setup, part):
            near = item.kind in ("phone", "tablet") and other.kind.startswith("phone") and _apart_m(item, other) < TOGETHER_M
            on_it = isinstance(item, Screen) and other.on_screen == item.id
            if other is not item and (on_it or near or other.id in came_with):
                yield f"{part}/{other.id}"


def _apart_m(one: Any, other: Any) -> float:
    if one.position is None or other.position is None:
        return 9.0
    return float(sum((getattr(one.position, axis) - getattr(other.position, axis)) ** 2 for axis in ("x_m", "y_m", "z_m")) ** 0.5)


def _references(setup: Setup, gone: list[str]) -> Iterator[Operation]:
    """What names things that go: cables, loudspeakers, steps that are wanted or not."""
    names = {thing_at(setup, thing).name[:40] for thing in gone}
    links = [link for link in setup.chain.links if link.begin.device not in names]
    if len(links) != len(setup.chain.links):
        yield replace("/chain/links", [link.model_dump(mode="json") for link in links])
    if setup.computer.loudspeakers_on and f"screens/{setup.computer.loudspeakers_on}" in gone:
        yield replace("/computer/loudspeakers_on", None)
    ids = {thing.partition("/")[2] for thing in gone}
    for field in ("never", "must"):
        steps = getattr(setup.preferences, field)
        left = [step for step in steps if not ids & set(step.split("."))]
        if len(left) != len(steps):
            yield replace(f"/preferences/{field}", left)


def _entry(setup: Setup, thing: str) -> str:
    """What a thing is in the catalogue; a thing of a kind that has one is the nearest."""
    item, part = thing_at(setup, thing), thing.partition("/")[0]
    if getattr(item, "entry", None):
        return str(item.entry)  # type: ignore[union-attr]
    kind = next((one for one in kinds_of(part) if one.slug == _stem(item.id) and one.entries), None)
    return kind.entries[0] if kind else ""


def _into_drawer(setup: Setup, entry: str, name: str) -> Iterator[Operation]:
    there = next((item for item in setup.kit if item.entry == entry), None)
    if there is not None:
        yield replace(f"/kit/{there.id}/count", min(there.count + 1, 60))
    else:
        yield add(
            "/kit/-",
            {"id": free_id(setup, entry.replace("_", "-")[:36]), "name": free_name(setup, "kit", name), "entry": entry, "count": 1},
        )


def from_drawer(setup: Setup, kit_id: str) -> Kind | None:
    """The kind of thing that something in the drawer is, if it can be put into the room."""
    item = next((one for one in setup.kit if one.id == kit_id), None)
    return next(
        (
            kind
            for part in ("lights", "cameras", "screens", "microphones", "reflectors", "furnishings")
            for kind in kinds_of(part)
            if item and item.entry in kind.entries
        ),
        None,
    )


def free_id(setup: Setup, stem: str) -> str:
    """An id of no thing of a setup, not even of one that something still refers to."""
    stem = re.sub(r"[^a-z0-9-]", "-", stem.lower()).strip("-")[:34] or "thing"
    stem = stem if stem[0].isalpha() else f"x-{stem}"
    known = {item.id for _, listed in things(setup) for item in listed} | {step for path in setup.origins for step in path.split("/")}
    return next(name for name in (stem, *(f"{stem}-{number}" for number in range(2, 1000))) if name not in known)


def free_name(setup: Setup, part: str, wished: str) -> str:
    """A name that no other thing of its list has."""
    listed = dict(things(setup)).get(_list(part), ())
    known = {item.name for item in listed}
    stem = re.sub(r" \d+$", "", wished)[: MOST_NAME - 4].strip() or "Thing"
    return next(name for name in (wished[:MOST_NAME].strip(), *(f"{stem} {number}" for number in range(2, 1000))) if name not in known)


def leaf_paths(setup: Setup, path: str) -> Iterator[str]:
    """A value's own path, or those of all values within what stands there; nothing where nothing does."""
    value = at(setup, path)
    if isinstance(value, Part):
        for field in type(value).model_fields:
            yield from leaf_paths(setup, f"{path}/{field}")
    elif value is not None and not isinstance(value, tuple):
        yield path


def _stem(ident: str) -> str:
    return re.sub(r"-\d+$", "", ident)


def _list(part: str) -> str:
    return WITHIN.get(part, f"/{part}")


def _fields(part: str) -> frozenset[str]:
    return frozenset(_MODELS[part].model_fields)


def _defaulted(part: str) -> frozenset[str]:
    """Fields that every kind of a list has."""
    model = _MODELS[part]
    return frozenset(
        name for name, field in model.model_fields.items() if not field.is_required() and f"{model.__name__}.{name}" not in OF_A_KIND
    )


def _label(part: str, field: str) -> str:
    model = _MODELS[part].__name__
    return LEAVES.get(f"{model}.{field}", (field.replace("_", " "), "", ""))[0].lower()


_MODELS: dict[str, Any] = {
    "lights": Light, "windows": Window, "doors": Door, "cameras": Camera, "screens": Screen, "microphones": Microphone, "noises": Noise,
    "furnishings": Furnishing, "backdrop": BackdropThing, "clothing": Garment, "reflectors": Reflector, "kit": Kit,
}  # fmt: skip
