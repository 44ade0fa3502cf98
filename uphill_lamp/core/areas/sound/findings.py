"""What is wrong in Sound, why it matters, and the moves that mend it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

import numpy as np

from uphill_lamp.core.areas.sound import absorption_moves as softer
from uphill_lamp.core.areas.sound import gain_and_latency_moves as signal
from uphill_lamp.core.areas.sound import jewellery
from uphill_lamp.core.areas.sound import microphone_moves as moves
from uphill_lamp.core.areas.sound import noise_moves as quieter
from uphill_lamp.core.areas.sound import placement_moves as placement
from uphill_lamp.core.areas.sound.head_turn_loss import loudest_event
from uphill_lamp.core.areas.sound.measures import sti_words
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import Heard
from uphill_lamp.core.field.sound.clarity import clarity_word, modulation_indices, transmission_index
from uphill_lamp.core.field.sound.gain import unpowered
from uphill_lamp.core.judging import Finding, Measure, Move
from uphill_lamp.core.scene.wording import length, sentence, the

SILENCE_DB = -100.0
EVENT_BELOW_DB = 15.0  # a noise that comes and goes and stays no further below the voice is told of

NEAR_ENOUGH_M = 0.25  # nearer than this it is the room that is too loud, not the microphone that is too far


def findings(setup: Setup, heard: Heard | None, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """All findings of Sound, without their moves.

    Args:
        heard: what the microphone in use picks up; None without one, or while it gives nothing.
        measured: the area's measures by id.
    """
    if heard is None:
        yield _silent(setup, measured)
        return
    wanting = {name for name, measure in measured.items() if measure.wanting}
    yield from _unclear(setup, heard, wanting)
    if "sound.echo" in wanting:
        yield _echo(heard)
    for name, tell in _TOLD.items():
        if name in wanting:
            title, why = tell(measured[name].value or 0.0)
            yield Finding(name, "sound", title, why, (name,))
    yield from _beside(setup, heard)
    yield from jewellery.findings(setup, heard)


def _silent(setup: Setup, measured: Mapping[str, Measure]) -> Finding:
    ids = tuple(name for name, measure in measured.items() if measure.band)
    microphone = setup.microphone_in_use
    if microphone is not None and unpowered(microphone):
        return Finding(
            "sound.no_power", "sound", f"{sentence(the(microphone.name))} gives nothing without 48 V", "Nobody can hear you.", ids
        )
    return Finding("sound.no_microphone", "sound", "No microphone is in use", "Nobody can hear you.", ids)


def room_blurs(heard: Heard) -> bool:
    """Whether the room takes more of the clarity than noise does."""
    quiet = transmission_index(
        modulation_indices(heard.direct_db, heard.reverberant_db, np.full(7, SILENCE_DB), heard.room.t60_s), heard.voice
    )
    return 1 - quiet >= quiet - heard.sti


def _listeners(sti: float) -> str:
    """What a clarity means for those who listen; nothing where its own word says enough."""
    return (
        "; listeners strain to follow"
        if clarity_word(sti) in ("bad", "poor")
        else "; listeners work for every word"
        if clarity_word(sti) == "fair"
        else ""
    )


def _unclear(setup: Setup, heard: Heard, wanting: set[str]) -> Iterator[Finding]:
    """Clarity is told of with what takes it, the room or the noise."""
    clarity = ("sound.sti",) if "sound.sti" in wanting else ()
    blurred = f" Clarity is {sti_words(heard.sti)}{_listeners(heard.sti)}." if clarity else ""
    by_room = clarity if room_blurs(heard) else ()
    if by_room or "sound.direct_to_reverberant" in wanting:
        distance, even = (length(metres, setup.preferences.units) for metres in (heard.path.distance_m, heard.critical_distance_m))
        far = heard.path.distance_m > NEAR_ENOUGH_M
        title = (
            f"Your microphone is too far away ({distance}): it picks up the room"
            if far
            else f"Your microphone, {distance} away, still hears the room"
        )
        if heard.direct_to_reverberant_db < 0:
            why = f"Within {even} your voice wins over the room."
        else:
            why = f"The room is plainly heard behind your voice. Beyond {even} it would be louder than you."
        ids = ("sound.direct_to_reverberant", *by_room)
        yield Finding("sound.direct_to_reverberant", "sound", title, why + (blurred if by_room else ""), ids)
    by_noise = () if by_room else clarity
    if by_noise or "sound.snr" in wanting:
        title = f"Your voice is only {heard.snr_db:.0f} dB above the noise"
        why = f"Noise at the microphone is {heard.noise_db_a:.0f} dB(A); it tires whoever listens for an hour."
        yield Finding("sound.snr", "sound", title, why + (blurred if by_noise else ""), ("sound.snr", *by_noise))


def _echo(heard: Heard) -> Finding:
    apart_db = heard.echo_below_db
    title = (
        f"Echo: the others hear their own voices, only {apart_db:.0f} dB below yours"
        if apart_db >= 1
        else "Echo: the others hear their own voices as loudly as yours"
    )
    why = "Your microphone picks up your loudspeakers and sends it all back; the first words of each answer are cut off."
    return Finding("sound.echo", "sound", title, why, ("sound.echo",))


def _touch_words(below_db: float) -> tuple[str, str]:
    apart = f"only {below_db:.0f} dB below your voice" if below_db >= 1 else "as loud as your voice"
    return f"Typing and knocks are {apart}", "Every key and every bump of the desk is heard, through the air and up the microphone's stand."


_TOLD: dict[str, Callable[[float], tuple[str, str]]] = {
    "sound.touch": _touch_words,
    "sound.turn": lambda lost_db: (
        f"Turn your head and you are {lost_db:.0f} dB quieter", "Your voice fades whenever you look at another screen or at your notes."),
    "sound.pops": lambda risk: (
        "Your p and b thump in the microphone", f"It sits in your breath, {100 * risk:.0f} % of the way to the worst place."),
    "sound.gain": lambda short_db: (
        f"Your microphone needs {short_db:.0f} dB more gain than there is", "Turned up all the way you are still quiet; turned up later, hiss comes up too."),
}  # fmt: skip


def _beside(setup: Setup, heard: Heard) -> Iterator[Finding]:
    """Matters that no score holds."""
    microphone = setup.microphone_in_use
    assert microphone is not None
    if (event := loudest_event(setup, microphone, heard)) is not None and event[1] < EVENT_BELOW_DB:
        name = next(noise.name for noise in setup.noises if noise.id == event[0])
        be, it = ("are", "they last") if name.endswith("s") else ("is", "it lasts")
        apart = f"only {event[1]:.0f} dB below your voice" if event[1] >= 1 else "louder than your voice"
        yield Finding("sound.event", "sound", f"{sentence(the(name))} {be} {apart} while {it}", "It comes and goes, so listeners notice it each time.", (),
                      severity="clear" if event[1] < EVENT_BELOW_DB / 2 else "slight")  # fmt: skip
    if (words := signal.early_words(setup)) is not None:
        yield Finding("sound.early", "sound", *words, (), severity="clear")


def moves_for(setup: Setup, heard: Heard | None, measured: Mapping[str, Measure]) -> Iterator[Move]:
    """The moves of Sound; which finding each of them mends, its effect tells.

    Args:
        heard: what the microphone in use picks up; None without one.
        measured: the area's measures by id; moves that could mend none of those visibly off are not worked out.
    """
    wanting = {name for name, measure in measured.items() if measure.wanting}
    yield from moves.other_microphones(setup)
    yield from moves.nearer(setup)
    if setup.computer.listening == "loudspeakers":
        yield from moves.headphones(setup)
    if heard is None:
        yield from signal.power(setup)
        return
    yield from quieter.moves(setup, heard, wanting)
    yield from placement.moves(setup, heard, wanting)
    yield from softer.moves(setup, heard, wanting)
    yield from signal.moves(setup, heard, wanting)


def moves_beside(setup: Setup, heard: Heard | None, finding: Finding) -> Iterator[Move]:
    """Moves for a matter that no score holds."""
    if finding.id == "sound.jewellery" and heard is not None:
        yield from jewellery.taken_off(setup, heard)
    if finding.id == "sound.early":
        yield from signal.delay(setup)
    if finding.id == "sound.event":
        yield from quieter.events(setup)
