"""Which microphone, how near, and what to listen through: the first moves of Sound."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.patch import Patch, add, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import FREE, OWNED, Move
from uphill_lamp.core.offers import bought
from uphill_lamp.core.scene.placing import microphone_place
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, direction, yaw_tilt_deg
from uphill_lamp.core.scene.wording import length, money, the
from uphill_lamp.core.standing.reach import desk_edge_nearest
from uphill_lamp.core.standing.sight import in_way_of_face

NEAR_M, CLOSE_M, LEAST_NEARER_M = 0.2, 0.07, 0.02
NEARER_ASIDE_DEG = (0.0, 25.0, -25.0, 45.0, -45.0)
# Catalogue entries of owned kit that are microphones, and what they are.
KIT_MICROPHONES = {"earbuds_cord": "earbud_cord", "wired_headset": "headset", "usb_headset": "headset", "lapel_microphone": "lapel"}
KIT_HEADPHONES = ("earbuds_cord", "wired_headset", "usb_headset", "headphones")
ALSO_HEADPHONES = ("earbud_cord", "headset")


def _use_words(name: str, kind: str) -> str:
    """What is done with a microphone in the drawer, or there and not in use."""
    return f"Speak and listen with {the(name)}" if kind in ALSO_HEADPHONES else f"Speak into {the(name)}"


def used_instead(setup: Setup) -> Patch:
    """The microphones in use put aside."""
    return tuple(replace(f"/microphones/{other.id}/in_use", False) for other in setup.microphones if other.in_use)


def other_microphones(setup: Setup) -> Iterator[Move]:
    """A microphone that stands by, one from the drawer, or the cheapest that sits at the mouth."""
    for microphone in setup.microphones:
        if not microphone.in_use and _allowed(setup, microphone.kind):
            patch = (*used_instead(setup), replace(f"/microphones/{microphone.id}/in_use", True), *heard_through(setup, microphone.kind))
            yield Move(
                f"sound.use_microphone.{microphone.id}",
                _use_words(microphone.name, microphone.kind),
                patch,
                FREE,
                _worn_cautions(microphone.kind),
            )
    for item in setup.kit:
        kind = KIT_MICROPHONES.get(item.entry)
        if kind and _allowed(setup, kind):
            patch = (
                *used_instead(setup),
                add("/microphones/-", typical.microphone(kind, free_id(setup, item.id), free_name(setup, item.name), entry=item.entry)),
                *heard_through(setup, kind),
            )
            yield Move(f"sound.use_microphone.{item.id}", _use_words(item.name, kind), patch, OWNED, _worn_cautions(kind))
    worn_kinds = {microphone.kind for microphone in setup.microphones} | {KIT_MICROPHONES.get(item.entry) for item in setup.kit}
    used = setup.microphone_in_use
    if not worn_kinds & {"earbud_cord", "headset"} and (used is None or used.at == "screen"):
        yield from _any_earbuds(setup)
    yield from _lapel(setup, worn_kinds)
    cost = bought(setup, "wired_headset")
    worn = {microphone.kind for microphone in setup.microphones} & {"headset"}
    if (
        setup.preferences.headset_allowed
        and cost is not None
        and not worn
        and not any(i.entry in ("wired_headset", "usb_headset") for i in setup.kit)
    ):
        new = typical.microphone("headset", free_id(setup, "new-headset"), free_name(setup, "New headset"), entry="wired_headset")
        patch = (*used_instead(setup), add("/microphones/-", new), *heard_through(setup, "headset"))
        yield Move(
            "sound.buy_headset",
            "Headset with a cord",
            patch,
            cost,
            (cautions.HEADPHONES,),
            detail=f"A simple wired headset, {money(cost.amount, cost.currency)}.",
        )


def _lapel(setup: Setup, worn: set[str | None]) -> Iterator[Move]:
    """For those who will wear nothing on the head."""
    cost = bought(setup, "lapel_microphone")
    if setup.preferences.headset_allowed or "lapel" in worn or cost is None:
        return
    new = typical.microphone("lapel", free_id(setup, "new-lapel"), free_name(setup, "New lapel microphone"))
    yield Move("sound.buy_lapel", "Lapel microphone", (*used_instead(setup), add("/microphones/-", new)), cost, (cautions.CABLES,),
               detail=f"Clipped a hand below the chin, off hair and scarf; {money(cost.amount, cost.currency)}.")  # fmt: skip


def _any_earbuds(setup: Setup) -> Iterator[Move]:
    """Nobody listed any, yet many a phone came with a pair."""
    new = typical.microphone("earbud_cord", free_id(setup, "found-earbuds"), free_name(setup, "Earbuds with a cord"))
    patch = (*used_instead(setup), add("/microphones/-", new), *heard_through(setup, "earbud_cord"))
    yield Move("sound.any_earbuds", "Use any earbuds with a cord you can find", patch, FREE, _worn_cautions("earbud_cord"),
               detail="The microphone hangs in the cord; keep it off collar and hair.")  # fmt: skip


def _allowed(setup: Setup, kind: str) -> bool:
    return kind != "headset" or setup.preferences.headset_allowed


def heard_through(setup: Setup, kind: str) -> Patch:
    """What sits on the ears is also listened through."""
    if kind in ALSO_HEADPHONES and setup.computer.listening == "loudspeakers":
        return (replace("/computer/listening", "headphones"),)
    return ()


def _worn_cautions(kind: str) -> tuple[str, ...]:
    return (cautions.HEADPHONES,) if kind in ALSO_HEADPHONES else (cautions.CABLES,)


def free_id(setup: Setup, wanted: str) -> str:
    """An id that no microphone has, as near to the wished one as can be."""
    return _unused(wanted[:36], {microphone.id for microphone in setup.microphones}, "-")


def free_name(setup: Setup, wanted: str) -> str:
    """A name that no microphone has, as near to the wished one as can be."""
    return _unused(wanted[:76], {microphone.name for microphone in setup.microphones}, " ")


def _unused(wanted: str, taken: set[str], joint: str) -> str:
    tries = [wanted, *(f"{wanted}{joint}{number}" for number in range(2, 30))]
    return next(name for name in tries if name not in taken)


def nearer(setup: Setup) -> Iterator[Move]:
    """A microphone that stands in the room brought as near as its stand lets it, and aimed at the mouth: on the desk to its edge, else to
    20 cm, one that wants to be spoken into closely to 7 cm."""
    microphone = setup.microphone_in_use
    if microphone is None or microphone.at != "room":
        return
    lips, units = scene_of(setup).face.lips, setup.preferences.units
    beyond = microphone_place(setup, microphone) - lips
    away_m = float(np.linalg.norm(beyond))
    place, detail = _nearer_place(setup, microphone, beyond)
    near_m = float(np.linalg.norm(place - lips))
    if near_m > away_m - LEAST_NEARER_M:
        return
    title = f"Bring the microphone nearer, to {length(near_m, units)} from your mouth"
    yield Move("sound.bring_nearer", title, put_at(microphone, place, lips), FREE, (cautions.CABLES,), detail=detail)


def _nearer_place(setup: Setup, microphone: Microphone, beyond: Vector) -> tuple[Vector, str]:
    """Where it comes to be [m], and how in words."""
    lips = scene_of(setup).face.lips
    if microphone.stand == "desk_stand":
        return desk_edge_nearest(
            setup, lips
        ), "To the desk's edge before you, on its stand, aimed at your mouth. Nearer it comes only on an arm."
    near_m = CLOSE_M if microphone.kind == "xlr_dynamic" else NEAR_M
    yaw_deg, tilt_deg = yaw_tilt_deg(beyond)
    places = [lips + near_m * direction(yaw_deg + aside, tilt_deg + down) for aside in NEARER_ASIDE_DEG for down in (0.0, -20.0)]
    free = next((place for place in places if not in_way_of_face(setup, place)), places[0])
    return free, "Aimed at your mouth, a little to its side, where breath goes past."


def put_at(microphone: Microphone, place: Vector, lips: Vector) -> Patch:
    """A microphone at a place [m], aimed at the lips."""
    yaw_deg, tilt_deg = yaw_tilt_deg(lips - place)
    root = f"/microphones/{microphone.id}"
    return (
        *(replace(f"{root}/position/{axis}_m", round(float(value), 3)) for axis, value in zip("xyz", place, strict=True)),
        replace(f"{root}/aim_yaw_deg", round(yaw_deg, 1)),
        replace(f"{root}/aim_tilt_deg", round(tilt_deg, 1)),
    )


def headphones(setup: Setup) -> Iterator[Move]:
    """Headphones instead of loudspeakers: owned, bought, or any that can be found."""
    patch: Patch = (replace("/computer/listening", "headphones"),)
    lying = [item.name for item in setup.kit if item.entry in KIT_HEADPHONES]
    owned = lying + [microphone.name for microphone in setup.microphones if microphone.kind in ALSO_HEADPHONES]
    if owned:
        yield Move("sound.headphones", f"Listen with {the(owned[0])}", patch, OWNED if lying else FREE, (cautions.HEADPHONES,))
        return
    cost = bought(setup, "earbuds_cord")
    if cost is not None:
        yield Move(
            "sound.buy_earbuds",
            "Listen with plain earbuds",
            patch,
            cost,
            (cautions.HEADPHONES,),
            detail=f"The simplest will do, {money(cost.amount, cost.currency)}.",
        )
    yield Move("sound.headphones", "Put on any headphones you can find", patch, FREE, (cautions.HEADPHONES,))
