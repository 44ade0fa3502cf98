"""Jewellery that is heard: it knocks on a worn microphone, or clicks where the hands move (docs/method/sound.md)."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.document.patch import remove
from uphill_lamp.core.document.people import Garment
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound import octaves
from uphill_lamp.core.field.sound.capsule import Heard
from uphill_lamp.core.judging import Finding, Move
from uphill_lamp.core.scene.placing import microphone_place
from uphill_lamp.core.scene.wording import sentence, the
from uphill_lamp.core.scene.worn import jewellery, places_of

TOUCHES_M = 0.15  # as near to a worn microphone it knocks on it
CLICKS_DB_A, CLICKS_AT_M = 45.0, 0.1  # how loud what moves with the hands is (working value)
CLICKS_IN = slice(4, 7)  # from 2 to 8 kHz


def heard_jewellery(setup: Setup, heard: Heard) -> Iterator[tuple[Garment, float | None]]:
    """Each piece that is heard: with how far below the voice [dB], or None where it knocks on the microphone itself."""
    microphone = setup.microphone_in_use
    if microphone is None:
        return
    capsule = microphone_place(setup, microphone)
    for piece in jewellery(setup):
        away_m = max(min(float(np.linalg.norm(place - capsule)) for place in places_of(setup, piece)), CLICKS_AT_M)
        if microphone.stand == "body" and away_m < TOUCHES_M:
            yield piece, None
        elif piece.worn_at == "wrists":
            clicks_db_a = CLICKS_DB_A - 20 * math.log10(away_m / CLICKS_AT_M)
            if clicks_db_a >= octaves.total((heard.noise_db + octaves.A_WEIGHTS_DB)[CLICKS_IN]):
                yield piece, heard.speech_db_a - clicks_db_a


def findings(setup: Setup, heard: Heard) -> Iterator[Finding]:
    """The first piece that is heard; no score holds it."""
    for piece, below_db in heard_jewellery(setup, heard):
        if below_db is None:
            title, why = f"{sentence(the(piece.name))} knocks on your microphone", "Each turn of the head is a click in everybody's ears."
        else:
            title = f"{sentence(the(piece.name))} is heard, {max(below_db, 0):.0f} dB below your voice"
            why = "What hangs at the wrist touches the desk whenever you type or point."
        yield Finding("sound.jewellery", "sound", title, why, (), severity="slight")
        return


def taken_off(setup: Setup, heard: Heard) -> Iterator[Move]:
    """What is heard, off."""
    for piece, _ in heard_jewellery(setup, heard):
        yield Move(f"sound.jewellery_off.{piece.id}", f"Take {the(piece.name)} off", (remove(f"/presenter/clothing/{piece.id}"),))
