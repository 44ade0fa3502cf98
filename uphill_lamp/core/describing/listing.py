"""The lists a setup is made of, as a change of what there is needs them: ids, names, origins."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from uphill_lamp.core.document.devices import Camera, Light, Microphone, Reflector, Screen
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.fields import Part
from uphill_lamp.core.document.patch import Patch, applied, replace
from uphill_lamp.core.document.people import Garment, Kit
from uphill_lamp.core.document.setup import Setup, overlapping_holes, things
from uphill_lamp.core.document.surroundings import BackdropThing, Door, Furnishing, Noise, Window
from uphill_lamp.core.scene.handling import WITHIN
from uphill_lamp.core.tape.leaf_fields import at

MOST_NAME = 80


@dataclass(frozen=True)
class Change:
    """A change of what there is: its patch, what is in hand after it, and what was done in words."""

    patch: Patch
    handle: str
    words: str


MODELS: dict[str, Any] = {
    "lights": Light, "windows": Window, "doors": Door, "cameras": Camera, "screens": Screen, "microphones": Microphone, "noises": Noise,
    "furnishings": Furnishing, "backdrop": BackdropThing, "clothing": Garment, "reflectors": Reflector, "kit": Kit,
}  # fmt: skip


def list_of(part: str) -> str:
    """Path of the list that holds things of a part: ``lights`` -> ``/lights``."""
    return WITHIN.get(part, f"/{part}")


def fields_of(part: str) -> frozenset[str]:
    """Names of the fields that things of a part have."""
    return frozenset(MODELS[part].model_fields)


def noted(setup: Setup, patch: Patch, also_noted: Iterable[str] = ()) -> Patch:
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
    for path in also_noted:
        data |= dict.fromkeys(leaf_paths(after, path), "entered")
    return (*patch, replace("/origins", data))


def leaf_paths(setup: Setup, path: str) -> Iterator[str]:
    """A value's own path, or those of all values within what stands there; nothing where nothing does."""
    value = at(setup, path)
    if isinstance(value, Part):
        for field in type(value).model_fields:
            yield from leaf_paths(setup, f"{path}/{field}")
    elif value is not None and not isinstance(value, tuple):
        yield path


def free_id(setup: Setup, stem: str) -> str:
    """An id of no thing of a setup, not even of one that something still refers to."""
    stem = re.sub(r"[^a-z0-9-]", "-", stem.lower()).strip("-")[:34] or "thing"
    stem = stem if stem[0].isalpha() else f"x-{stem}"
    known = {item.id for _, listed in things(setup) for item in listed} | {step for path in setup.origins for step in path.split("/")}
    return next(name for name in (stem, *(f"{stem}-{number}" for number in range(2, 1000))) if name not in known)


def free_name(setup: Setup, part: str, wished: str) -> str:
    """A name that no other thing of its list has."""
    listed = dict(things(setup)).get(list_of(part), ())
    known = {item.name for item in listed}
    stem = re.sub(r" \d+$", "", wished)[: MOST_NAME - 4].strip() or "Thing"
    return next(name for name in (wished[:MOST_NAME].strip(), *(f"{stem} {number}" for number in range(2, 1000))) if name not in known)


def stem_of(ident: str) -> str:
    """An id without the number that set it apart from others: ``desk-lamp-2`` -> ``desk-lamp``."""
    return re.sub(r"-\d+$", "", ident)
