"""Microphones side by side in one room: those owned, and kinds that could be had, each where it would really stand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from uphill_lamp.core.areas.gates import gated
from uphill_lamp.core.areas.sound.measures import measures
from uphill_lamp.core.areas.sound.microphone_moves import KIT_HEADPHONES, KIT_MICROPHONES, free_id, free_name, heard_through, used_instead
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.patch import Patch, add, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import Heard, heard_by
from uphill_lamp.core.field.sound.gain import unpowered
from uphill_lamp.core.judging import FREE, OWNED, Cost, Measure, area_score
from uphill_lamp.core.offers import Offer, with_all
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction, yaw_tilt_deg

CLOSE_M, OPEN_M, ALIKE_STI = 0.12, 0.35, 0.03
WALL_M = 0.05


@dataclass(frozen=True)
class Kind:
    """A kind that could be had, by its typical entry, and where it stands from the lips: distance [m], aside and up [deg];
    on the desk if ``up_deg`` is None; ``has`` the catalogue entries it takes, what they need apart."""

    entry: str
    name: str
    away_m: float
    aside_deg: float
    up_deg: float | None
    has: tuple[str, ...]
    trouble: str
    changes: tuple[tuple[str, Any], ...] = ()


ON_ARM = ("boom_arm", "pop_filter")
KINDS = (
    Kind("earbud_cord", "Earbuds with a cord", 0, 0, 0, ("earbuds_cord",), "a cord on you; rubs on collars"),
    Kind("headset", "Headset", 0, 0, 0, ("wired_headset",), "worn on the head, and seen"),
    Kind("lapel", "Lapel microphone", 0, 0, 0, ("lapel_microphone",), "clipped on; rubs on cloth"),
    Kind("usb_desk", "USB microphone on its desk stand", 0.45, 15, None, ("usb_cardioid",), "hears the desk; stands in the way"),
    Kind("usb_desk", "USB microphone on an arm, 15 cm", 0.15, 25, -20, ("usb_cardioid", *ON_ARM), "an arm clamped to the desk",
    (("stand", "boom_arm"), ("pop_filter", True))),
    Kind("xlr_dynamic", "Dynamic microphone close up, 7 cm", 0.07, 25, -15, ("xlr_dynamic", *ON_ARM),
    "an arm, an input box, never leaning back", (("pop_filter", True),)),
    Kind("xlr_condenser", "Condenser on an arm, 20 cm", 0.2, 25, -20, ("xlr_condenser", *ON_ARM), "an arm, an input box with 48 V", (("pop_filter", True),)),
    Kind("xlr_condenser", "Condenser on an arm, 40 cm", 0.4, 20, 35, ("xlr_condenser", "boom_arm"), "an arm over the picture, an input box with 48 V"),
    Kind("shotgun", "Narrow microphone above the picture, 60 cm", 0.6, 0, 40, ("narrow_microphone", "floor_stand"),
    "a tall stand, an input box with 48 V", (("stand", "floor_stand"),)),
    Kind("phone", "Phone laid on the desk", 0.4, 20, None, (), "a phone that is free during the call", (("stand", "desk_stand"),)),
)  # fmt: skip


@dataclass(frozen=True)
class Candidate:
    """A microphone in this room: what it picks up (None without 48 V), its figures by id, what they are worth together, 0-100,
    what it costs and asks; ``use`` the patch that takes it into use, empty for what is not owned or already used."""

    name: str
    microphone: Microphone
    heard: Heard | None
    measures: dict[str, Measure]
    score: float
    cost: Cost
    trouble: str
    use: Patch
    in_use: bool


def candidates(setup: Setup) -> list[Candidate]:
    """All microphones, the best first."""
    listed = [_owned(setup, microphone) for microphone in setup.microphones]
    for item in setup.kit:
        if (kind := KIT_MICROPHONES.get(item.entry)) is not None:
            microphone = typical.microphone(kind, "compared", item.name)
            patch = (
                *used_instead(setup),
                add("/microphones/-", microphone | {"id": free_id(setup, item.id), "name": free_name(setup, item.name)}),
                *heard_through(setup, kind),
            )
            listed.append(_candidate(setup, item.name, microphone, OWNED, "in your drawer", patch))
    there = {microphone.kind for microphone in setup.microphones} | {KIT_MICROPHONES.get(item.entry) for item in setup.kit}
    phone = any("phone" in item.entry and item.entry not in KIT_HEADPHONES for item in setup.kit)
    for usual in KINDS:
        if (usual.entry in typical.WORN and usual.entry in there) or (usual.entry == "phone" and not phone):
            continue
        had = with_all(setup, usual.has, within_budget=False) if usual.has else Offer(FREE, (), "")
        if had is not None:
            listed.append(_candidate(setup, usual.name, placed(setup, usual), had.cost, usual.trouble, ()))
    return sorted(listed, key=lambda candidate: -candidate.score)


def _owned(setup: Setup, microphone: Microphone) -> Candidate:
    patch: Patch = ()
    if not microphone.in_use:
        patch = (*used_instead(setup), replace(f"/microphones/{microphone.id}/in_use", True), *heard_through(setup, microphone.kind))
    return _candidate(
        setup,
        microphone.name,
        microphone.model_dump(),
        FREE,
        "in use" if microphone.in_use else "there already",
        patch,
        microphone.in_use,
    )


def _candidate(
    setup: Setup, name: str, microphone: dict[str, Any], cost: Cost, trouble: str, use: Patch, in_use: bool = False
) -> Candidate:
    alone = Microphone.model_validate(microphone | {"in_use": True})
    listening = "headphones" if heard_through(setup, alone.kind) else setup.computer.listening
    computer = setup.computer.model_copy(update={"listening": listening})
    there = setup.model_copy(update={"microphones": (alone,), "computer": computer})
    heard = None if unpowered(alone) else heard_by(there, alone)
    figures = measures(there, heard)
    return Candidate(
        name,
        alone,
        heard,
        {measure.id: measure for measure in figures},
        area_score(gated(there, figures)) or 0.0,
        cost,
        trouble,
        use,
        in_use,
    )


def placed(setup: Setup, kind: Kind) -> dict[str, Any]:
    """A kind where it would stand in this room, aimed at the lips, as plain data."""
    made = typical.microphone(kind.entry, "compared", kind.name, True, **dict(kind.changes))
    if kind.entry in typical.WORN:
        return made
    face = scene_of(setup).face
    place = face.lips + kind.away_m * direction(face.presenter.facing_yaw_deg - kind.aside_deg, kind.up_deg or 0.0)
    if kind.up_deg is None:
        place[2] = setup.desk.height_m + (0.02 if kind.entry == "phone" else 0.15)
    place = np.clip(place, WALL_M, room_size(setup.room) - WALL_M)
    yaw_deg, tilt_deg = yaw_tilt_deg(face.lips - place)
    where = {f"{axis}_m": float(value) for axis, value in zip("xyz", place, strict=True)}
    return made | {"at": "room", "position": where, "aim_yaw_deg": yaw_deg, "aim_tilt_deg": tilt_deg}


def schools(candidates: list[Candidate]) -> str:
    """Which school this room asks for: a microphone at the mouth, or one at arm's length."""
    close = max(
        (candidate.heard.sti for candidate in candidates if candidate.heard and candidate.heard.path.distance_m <= CLOSE_M), default=None
    )
    far = max(
        (candidate.heard.sti for candidate in candidates if candidate.heard and candidate.heard.path.distance_m >= OPEN_M), default=None
    )
    if close is None or far is None:
        return ""
    if close - far < ALIKE_STI:
        return f"This room is soft and quiet enough: the best microphone at arm's length is as clear ({far:.2f}) as one at your mouth ({close:.2f})."
    return f"This room wants a microphone at your mouth: there clarity is {close:.2f}, and {far:.2f} with the best at arm's length."
