"""A thing of another kind in its place: what stays, what goes, as a patch and in words."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from uphill_lamp.core.describing.kinds import kind_of, kinds_of
from uphill_lamp.core.describing.listing import MODELS, Change, list_of, noted
from uphill_lamp.core.describing.places import place_for
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.patch import Operation, Patch, add, remove, replace
from uphill_lamp.core.document.setup import Setup, things
from uphill_lamp.core.scene.handling import path_of, thing_at
from uphill_lamp.core.tape.leaf_fields import OF_A_KIND
from uphill_lamp.core.tape.leaf_names import LEAVES

Json = dict[str, Any]
# What is no matter of kind: where a thing stands, how it is turned and used.
KEPT = frozenset((
    "id", "name", "position", "wall", "centre_m", "on_screen", "mount", "lens_offset_m", "use", "in_use",
    "yaw_deg", "aim_yaw_deg", "aim_tilt_deg", "windows", "on", "dim",
))  # fmt: skip


def changed_kind(setup: Setup, thing: str, key: str) -> Change:
    """A thing of another kind in its place: name, place and all that somebody told of it stay where the new kind has them too.

    Raises:
        Refused: if there is no such thing or kind, or the kind is of another sort.
    """
    item, part, kind = thing_at(setup, thing), thing.partition("/")[0], kind_of(key)
    if kind is None or kind.part != part:
        raise Refused([Fault("/kind", repr(key)[:40], "one of " + ", ".join(kind.key for kind in kinds_of(part)))])
    path, old = path_of(setup, thing), item.model_dump(mode="json")
    new = dict(kind.make(setup, old.get("position") or place_for(setup, kind)))
    fields_entered = {origin.removeprefix(path + "/").partition("/")[0] for origin in setup.origins if origin.startswith(path + "/")}
    has = new.keys() | _defaulted(part) | {"id", "name"}
    merged = new | {
        field: value for field, value in old.items() if field in has and field in KEPT | (fields_entered - {"kind"}) and value is not None
    }
    merged = _fitting(setup, part, merged, old)
    dropped = sorted(field for field in fields_entered if field not in merged or merged[field] != old.get(field))
    stays = [
        origin
        for origin in setup.origins
        if origin.startswith(path + "/") and origin.removeprefix(path + "/").partition("/")[0] not in dropped
    ]
    patch = noted(setup, _replaced(setup, part, path, merged), stays)
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
            merged["position"] = place_for(setup, next(kind for kind in kinds_of(part) if kind.where == "desk"))
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
    listed = [thing.model_dump(mode="json") for thing in dict(things(setup))[list_of(part)]]
    ident = path.rsplit("/", 1)[1]
    operations: list[Operation] = []
    if part == "screens" and merged["kind"] != "laptop":
        for camera in setup.cameras:
            if camera.on_screen == ident and camera.mount == "laptop_lid":
                operations += _off_lid(camera, merged)
    at = next(index for index, thing in enumerate(listed) if thing["id"] == ident)
    if at == len(listed) - 1:
        return (
            (remove(path), add(f"{list_of(part)}/-", merged), *operations)
            if part != "cameras" or len(listed) > 1
            else (replace(list_of(part), [merged]), *operations)
        )
    listed[at] = merged
    return (replace(list_of(part), listed), *operations)


def _off_lid(camera: Camera, screen: Json) -> Iterator[Operation]:
    """A laptop's camera becomes its successor's: on top of a monitor, or where its glass is."""
    root = f"/cameras/{camera.id}"
    yield replace(f"{root}/mount", "monitor_top")
    yield replace(f"{root}/lens_offset_m", 0.01)
    yield replace(f"{root}/yaw_deg", screen["yaw_deg"])
    yield replace(f"{root}/tilt_deg", 0.0)


def _defaulted(part: str) -> frozenset[str]:
    """Fields that every kind of a list has."""
    model = MODELS[part]
    return frozenset(
        name for name, field in model.model_fields.items() if not field.is_required() and f"{model.__name__}.{name}" not in OF_A_KIND
    )


def _label(part: str, field: str) -> str:
    model = MODELS[part].__name__
    return LEAVES.get(f"{model}.{field}", (field.replace("_", " "), "", ""))[0].lower()
