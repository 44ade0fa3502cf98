"""Figures of Sound (handbook 05)."""

from __future__ import annotations

from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, Measure
from uphill_lamp.core.sound.capsule import Heard

SNR = Band(30, None, 10, None)
DIRECT_TO_REVERBERANT = Band(8, None, -3, None)
ECHO = Band(35, None, 5, None)
NO_MICROPHONE = "No microphone is in use."


def microphone_path(microphone: Microphone) -> str:
    """Path of the value that says where a microphone is."""
    root = f"/microphones/{microphone.id}"
    if microphone.at == "body":
        return f"{root}/from_mouth/forward_m"
    return f"{root}/position/y_m" if microphone.at == "room" else f"/screens/{microphone.on_screen}/position/y_m"


def measures(setup: Setup, heard: Heard | None) -> tuple[Measure, ...]:
    """All measures of Sound for the microphone in use; figures without a value if there is none."""
    microphone = setup.microphone_in_use
    why = "" if heard else NO_MICROPHONE
    noise_paths = [f"/noises/{noise.id}/level_db_a" for noise in setup.noises if noise.steady]
    where = setup.origin_of(microphone_path(microphone)) if microphone else "assumed"
    noisy = setup.origin_of(*noise_paths, microphone_path(microphone)) if microphone else "assumed"
    return (
        Measure("sound.level", "Voice at the microphone", heard.speech_db_a if heard else None, "dB(A)", None, where,
                "How loud your voice arrives at the capsule.", why),
        Measure("sound.snr", "Voice over noise", heard.snr_db if heard else None, "dB", SNR, noisy,
                "How far your voice stands above the steady noise.", why),
        Measure("sound.direct_to_reverberant", "Voice over room", heard.direct_to_reverberant_db if heard else None, "dB",
                DIRECT_TO_REVERBERANT, where, "Sound straight from your mouth against what the room throws back.", why),
        Measure("sound.echo", "Echo", heard.echo_below_db if heard else None, "dB below voice", ECHO,
                setup.origin_of("/computer/listening"), "How far the others' own voices stay below yours in what you send back to them.", why),
    )  # fmt: skip
