"""Figures of Sound (docs/method/sound.md)."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.areas.sound.head_turn_loss import losses_of
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.fields import Origin
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import PATTERN_P, Heard
from uphill_lamp.core.field.sound.clarity import clarity_word, shown_sti
from uphill_lamp.core.field.sound.gain import Gain, unpowered
from uphill_lamp.core.field.sound.touch import pop_risk, proximity_effect_db
from uphill_lamp.core.judging import Band, Counts, Measure, weighed

# How much each figure counts in Sound. Heaviest is being understood at all.
WEIGHTS = {
    "sound.sti": (3.0, "it says how much of each word arrives"),
    "sound.snr": (3.0, "noise tires whoever listens for an hour"),
    "sound.echo": (2.0, "who hears himself stops speaking"),
    "sound.direct_to_reverberant": (2.0, "a voice from afar; clarity holds part of it already"),
    "sound.touch": (1.0, "typing and knocks come and go"),
    "sound.turn": (1.0, "a voice that fades at each look aside"),
    "sound.gain": (2.0, "too quiet, or hiss turned up with the voice"),
    "sound.pops": (1.0, "a thump now and then"),
    "sound.quiet": (1.0, "a voice out of silence is what a studio sounds like"),
}
COUNTS: dict[str, Counts] = {"sound.quiet": "quality"}
STI = Band(0.75, None, 0.45, None)
SNR = Band(30, None, 10, None)
QUIET = Band(45, None, 30, None)
DIRECT_TO_REVERBERANT = Band(8, None, -3, None)
TURN = Band(None, 2, None, 8)
POPS = Band(None, 0.2, None, 1)
TOUCH = Band(25, None, 6, None)
ECHO = Band(35, None, 5, None)
GAIN = Band(None, 0, None, 20)
NO_MICROPHONE = "No microphone is in use."
NO_POWER = "The microphone wants 48 V and gets none, so it gives nothing."
SOUND_EARLY_S = 0.045  # from here on listeners notice that sound comes before the picture (ITU-R BT.1359)
MICROPHONE_LATE_S = 0.015  # what a microphone's own way into the computer takes, a working value
BASS_HZ = 125.0


def microphone_path(microphone: Microphone) -> str:
    """Path of the value that says where a microphone is."""
    root = f"/microphones/{microphone.id}"
    if microphone.at == "body":
        return f"{root}/from_mouth/forward_m"
    return f"{root}/position/y_m" if microphone.at == "room" else f"/screens/{microphone.on_screen}/position/y_m"


def sound_early_s(setup: Setup) -> float:
    """How much sooner the sound comes than the picture [s]; below nought later."""
    return setup.main_camera.latency_s - MICROPHONE_LATE_S - setup.call.sound_delay_s


def measures(setup: Setup, heard: Heard | None) -> tuple[Measure, ...]:
    """All measures of Sound for the microphone in use; figures without a value if there is none."""
    microphone = setup.microphone_in_use
    if heard is None or microphone is None:
        why = NO_POWER if microphone is not None and unpowered(microphone) else NO_MICROPHONE
        return weighed((Measure(*head, None, unit, band, "assumed", about, why) for head, unit, band, about in _SCORED), WEIGHTS, COUNTS)
    where = setup.origin_of(microphone_path(microphone))
    noisy = setup.origin_of(*(f"/noises/{noise.id}/level_db_a" for noise in setup.noises if noise.steady), microphone_path(microphone))
    room = (
        setup.origin_of("/room/measured_t60_s") if setup.room.measured_t60_s else setup.origin_of("/room/width_m", "/room/surfaces/floor")
    )
    losses = losses_of(setup, microphone, heard)
    path = heard.path
    values: dict[str, tuple[float, Origin]] = {
        "sound.sti": (heard.sti, noisy), "sound.snr": (heard.snr_db, noisy), "sound.quiet": (heard.snr_db, noisy),
        "sound.direct_to_reverberant": (heard.direct_to_reverberant_db, where),
        "sound.turn": (losses.turn.level_db, where), "sound.pops": (pop_risk(path.distance_m, path.off_mouth_deg, microphone.pop_filter), where),
        "sound.touch": (heard.touch_below_db, where), "sound.echo": (heard.echo_below_db, setup.origin_of("/computer/listening")),
        "sound.gain": (heard.gain.short_db if heard.gain else 0.0, setup.origin_of(f"/microphones/{microphone.id}/input/gain_max_db")),
        "sound.level": (heard.speech_db_a, where),
    }  # fmt: skip
    notes = {"sound.gain": _gain_words(heard.gain)} if heard.gain else {}
    scored = [
        Measure(name, label, values[name][0], unit, band, values[name][1], notes.get(name, about))
        for (name, label), unit, band, about in _SCORED
    ]
    mid_s, sabine_s = (float(np.mean(times[2:4])) for times in (heard.room.t60_s, heard.room.sabine_t60_s))
    bass_db = float(proximity_effect_db(PATTERN_P[microphone.pattern], path.distance_m, path.off_axis_deg, np.array([BASS_HZ]))[0])
    return (
        *weighed(scored, WEIGHTS, COUNTS),
        Measure("sound.turn_wide", "Loss on a wide turn", losses.wide.level_db, "dB", None, where,
                f"Quieter by so much when you turn 60°; clarity falls by {_sti(losses.wide.sti)}."),
        Measure("sound.lean", "Loss when you lean back", losses.lean.level_db, "dB", None, where,
                f"Quieter by so much when you lean back 20 cm; clarity falls by {_sti(losses.lean.sti)}."),
        Measure("sound.bass", "Bass from nearness", bass_db, "dB", None, where, "How much a directional microphone swells your low tones so near."),
        Measure("sound.t60", "Reverberation", mid_s, "s", None, room,
                f"How long a clap lives on here, at 500 to 1000 Hz ({sabine_s:.2f} s by the older formula)."),
        Measure("sound.early", "Sound before picture", 1000 * sound_early_s(setup), "ms", None, setup.origin_of("/call/sound_delay_s"),
                "How much sooner your voice arrives than your lips move."),
    )  # fmt: skip


def _gain_words(gain: Gain) -> str:
    return (
        f"Your voice leaves the microphone at {gain.speech_dbu:.0f} dBu and wants {gain.needed_db:.0f} dB of gain; "
        f"the input's own noise then lies at {gain.input_noise_dbfs:.0f} dB of full scale."
    )


def _sti(loss: float) -> str:
    return f"{max(loss, 0.0):.2f}"


# Id and label; unit; band; what it is.
_SCORED = (
    (("sound.level", "Voice arrives"), "dB(A)", None, "How loud your voice arrives at the capsule."),
    (("sound.sti", "Clarity"), "STI", STI, "How much of your voice's rise and fall arrives: from 0.75 every word is easy, below 0.45 listeners strain."),
    (("sound.snr", "Voice over noise"), "dB", SNR, "How far your voice stands above the steady noise."),
    (("sound.quiet", "Silence behind you"), "dB", QUIET, "How far your voice stands above the noise, as a studio would have it."),
    (("sound.direct_to_reverberant", "Voice over room"), "dB", DIRECT_TO_REVERBERANT, "Sound straight from your mouth against what the room throws back."),
    (("sound.echo", "Echo"), "dB below voice", ECHO, "How far the others' own voices stay below yours in what you send back to them."),
    (("sound.touch", "Typing against voice"), "dB below voice", TOUCH, "How far typing and knocks on the desk stay below your voice."),
    (("sound.turn", "Loss when you turn your head"), "dB", TURN, "Quieter by so much when you turn your head 30°, as to a second screen."),
    (("sound.pops", "Breath pops"), "share", POPS, "How likely p and b thump in the microphone."),
    (("sound.gain", "Gain still needed"), "dB", GAIN, "What the input cannot lift your voice by; 0 for microphones that plug straight into the computer."),
)  # fmt: skip


def sti_words(sti: float) -> str:
    """A speech transmission index to two figures, and its word."""
    return f"{shown_sti(sti):.2f} ({clarity_word(sti)})"
