"""Moves between the microphone and the call: power, gain, pop filter, and sound that comes before the picture."""

from __future__ import annotations

from collections.abc import Iterator, Set

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.sound.measures import SOUND_EARLY_S, sound_early_s
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.patch import Operation, add, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import Heard
from uphill_lamp.core.field.sound.gain import input_of, unpowered
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import offered

BOOSTER_DB = 25.0
SOUND_LATE_S = 0.125  # from here on listeners notice that sound comes after the picture (ITU-R BT.1359)


def moves(setup: Setup, heard: Heard, wanting: Set[str]) -> Iterator[Move]:
    """A filter before the breath, a booster before the input."""
    microphone = setup.microphone_in_use
    if microphone is None:
        return
    if "sound.pops" in wanting and microphone.at == "room":
        offer = offered(setup, "pop_filter", "Foam or a mesh ring in front of it")
        if offer is not None:
            patch = (replace(f"/microphones/{microphone.id}/pop_filter", True), *offer.patch)
            yield Move("sound.pop_filter", "Put a pop filter in front of the microphone", patch, offer.cost, detail=f"{offer.words}.")
    offer = offered(setup, "microphone_booster", "A booster") if "sound.gain" in wanting and heard.gain is not None else None
    if offer is not None and heard.gain is not None:
        into = input_of(microphone)
        if into is not None and into.booster_db == 0:
            detail = f"{offer.words}. It goes between microphone and input, and wants the input's 48 V."
            short = max(heard.gain.short_db - BOOSTER_DB, 0.0)
            yield Move("sound.booster", f"Put a booster of {BOOSTER_DB:.0f} dB in front of the input",
                (_into(microphone, booster_db=BOOSTER_DB), *offer.patch), offer.cost,
                       (cautions.PHANTOM,), detail=detail, promises=(("sound.gain", short),))  # fmt: skip


def power(setup: Setup) -> Iterator[Move]:
    """48 V for a microphone that wants it."""
    microphone = setup.microphone_in_use
    if microphone is not None and unpowered(microphone):
        yield Move("sound.power", "Switch on the 48 V at the input", (_into(microphone, phantom_48v=True),), FREE, (cautions.PHANTOM,),
                   detail="If the input has no such switch, this microphone cannot work with it.")  # fmt: skip


def _into(microphone: Microphone, **changes: float | bool) -> Operation:
    """The input of a microphone, changed."""
    into = input_of(microphone)
    assert into is not None
    changed = into.model_copy(update=changes).model_dump(mode="json")
    root = f"/microphones/{microphone.id}/input"
    return replace(root, changed) if microphone.input is not None else add(root, changed)


def early_words(setup: Setup) -> tuple[str, str] | None:
    """What to say of sound that comes before, or far after, the picture; None if nobody would notice."""
    early_s = sound_early_s(setup)
    if early_s > SOUND_EARLY_S:
        return (f"Your voice comes {1000 * early_s:.0f} ms before your lips move",
                "Your camera's picture is late. Listeners notice from about 45 ms, and take you for dubbed.")  # fmt: skip
    if -early_s > SOUND_LATE_S:
        return (
            f"Your voice comes {-1000 * early_s:.0f} ms after your lips move",
            "The sound is delayed for longer than the picture needs.",
        )
    return None


def delay(setup: Setup) -> Iterator[Move]:
    """The sound held back until the picture has come."""
    early_s = sound_early_s(setup)
    wanted_s = round(max(setup.call.sound_delay_s + early_s, 0.0), 3)
    if abs(early_s) > SOUND_EARLY_S:
        title = f"Delay the sound by {1000 * wanted_s:.0f} ms"
        detail = "In the program that takes in the camera; clap once in front of the lens and check that you hear it as your hands meet."
        yield Move("sound.delay", title, (replace("/call/sound_delay_s", wanted_s),), FREE, detail=detail)
