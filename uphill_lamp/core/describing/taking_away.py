"""Taking a thing out of a setup with all that refers to it, into the drawer if such things are kept there."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from uphill_lamp.core.describing.kinds import BESIDE, kinds_of
from uphill_lamp.core.describing.listing import Change, free_id, free_name, noted, stem_of
from uphill_lamp.core.document.devices import Camera, Screen
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.patch import Operation, add, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.handling import TOGETHER_M, path_of, thing_at


def taken_away(setup: Setup, thing: str, into_drawer: bool = True) -> Change:
    """A thing taken out of the room, into the drawer if such things are kept there; with all that refers to it.

    Raises:
        Refused: for the presenter, the desk, the room, and the last camera.
    """
    if thing.partition("/")[0] in ("", "presenter", "desk", "room", "computer", "wishes"):
        raise Refused([Fault(f"/{thing}", "what every setup has", "a thing that can be without: a lamp, a screen, a window …")])
    item, path, part = thing_at(setup, thing), path_of(setup, thing), thing.partition("/")[0]
    gone = [thing, *_parts_of(setup, thing)]
    cameras = [camera for camera in setup.cameras if f"cameras/{camera.id}" not in gone]
    if not cameras:
        raise Refused([Fault(f"/{thing}", "the last camera", "another camera first: without one the far side sees nothing")])
    operations: list[Operation] = []
    if all(camera.use != "main" for camera in cameras):
        operations.append(replace(f"/cameras/{cameras[0].id}/use", "main"))
    operations += _references(setup, gone)
    operations += [remove(path_of(setup, other)) for other in gone if other != thing] + [remove(path)]
    kept = ""
    if into_drawer and part in ("lights", "cameras", "microphones", "reflectors") and (entry := _entry(setup, thing)):
        operations += _into_drawer(setup, entry, item.name)
        kept = ", into the drawer"
    also = [thing_at(setup, other).name for other in gone if other != thing]
    words = f"Taken away{kept}: {item.name}" + (f", with {', '.join(also)}" if also else "")
    return Change(noted(setup, tuple(operations)), "", words)


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
    kind = next((some_kind for some_kind in kinds_of(part) if some_kind.slug == stem_of(item.id) and some_kind.entries), None)
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
