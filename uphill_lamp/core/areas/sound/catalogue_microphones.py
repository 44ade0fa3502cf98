"""Microphones from the catalogue, each where it would stand in this room: for the ladder, which weighs them against one another."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.sound.comparison import KINDS, Kind, placed
from uphill_lamp.core.areas.sound.microphone_moves import ALSO_HEADPHONES, KIT_MICROPHONES, free_id, free_name, heard_through, used_instead
from uphill_lamp.core.areas.sound.placement_moves import seen_in_picture
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.devices import BY_XLR
from uphill_lamp.core.document.patch import add
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.typical import WORN
from uphill_lamp.core.judging import Move
from uphill_lamp.core.offers import Offer, with_all

# What serves in the place of a kind where it lies in the drawer; a dynamic needs no 48 V.
INSTEAD: dict[str, tuple[str, ...]] = {"usb_cardioid": ("usb_multi_pattern",)}
DYNAMICS = INSTEAD | {"audio_interface": ("one_input_box",)}


def microphones(setup: Setup) -> Iterator[Move]:
    """Every microphone that can be had with all it needs, by what the setup allows."""
    owned = {microphone.kind for microphone in setup.microphones} | {KIT_MICROPHONES.get(item.entry) for item in setup.kit}
    for index, kind in enumerate(KINDS):
        if kind.entry in WORN and kind.entry in owned:
            continue  # it need only be put on: a move of Sound
        if not kind.has or (kind.entry == "headset" and not setup.preferences.headset_allowed):
            continue
        offer = with_all(setup, kind.has, instead=DYNAMICS if kind.entry == "xlr_dynamic" else INSTEAD)
        if offer is not None:
            yield from _taken(setup, kind, index, offer)


def _taken(setup: Setup, kind: Kind, index: int, offer: Offer) -> Iterator[Move]:
    made = placed(setup, kind)
    if made.get("at") == "room" and not setup.preferences.microphone_in_picture and _seen(setup, made):
        return
    if kind.entry in BY_XLR:
        drawer = {item.entry for item in setup.kit}
        one_input = kind.entry == "xlr_dynamic" and "one_input_box" in drawer and "audio_interface" not in drawer
        box = catalogue().kind("one_input_box" if one_input else "audio_interface")
        gives_48v = box is not None and box.attributes.get("phantom") == "yes"
        if kind.entry != "xlr_dynamic" and not gives_48v:
            return  # a condenser without 48 V gives nothing
        made |= {"input": {"gain_max_db": box.number("gain_db", 56) if box else 56, "phantom_48v": gives_48v}}
    made |= {"entry": kind.has[0], "id": free_id(setup, f"new-{kind.entry.replace('_', '-')}-{index}"), "name": free_name(setup, kind.name)}
    patch = (*used_instead(setup), add("/microphones/-", made), *heard_through(setup, kind.entry), *offer.patch)
    cautioned = [cautions.HEADPHONES if kind.entry in ALSO_HEADPHONES else cautions.CABLES]
    if "boom_arm" in kind.has:
        cautioned.append(cautions.CLAMP)
    if kind.entry in ("xlr_condenser", "shotgun"):
        cautioned.append(cautions.PHANTOM)
    yield Move(
        f"sound.catalogue.{kind.entry}_{index}",
        kind.name,
        patch,
        offer.cost,
        tuple(cautioned),
        detail=f"{offer.words}. {kind.trouble.capitalize()}.",
    )


def _seen(setup: Setup, made: dict[str, Any]) -> bool:
    place = made["position"]
    return bool(seen_in_picture(setup, np.array([[place["x_m"], place["y_m"], place["z_m"]]]))[0])
