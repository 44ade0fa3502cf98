"""One's own voice as the dry sample: a recording read with suspicion, brought to one channel and the house's sample rate."""

from __future__ import annotations

import io
from math import gcd

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document import Refused
from uphill_lamp.core.document.faults import Fault
from uphill_lamp.listening.bands import SAMPLE_HZ

MOST_BYTES = 12_000_000
LONGEST_S, SHORTEST_S = 12.0, 1.0  # so much of the beginning is used
SLOWEST_HZ, FASTEST_HZ, MOST_CHANNELS = 8000, 192_000, 8
LOUDEST = 1e6  # of full scale 1; a file of floating numbers may hold what overflows once it is added up
SILENT = 0.003  # a recording that never gets this loud (of full scale 1) has no voice in it
KINDS = "a recording as WAV, FLAC or Ogg"


def read_voice(data: bytes) -> FloatArray:
    """A recording's voice at SAMPLE_HZ, shape (N,), its loudest sample 0.7.

    Raises:
        Refused: not a recording, too large, too short, silent, or not of finite numbers.
    """
    import soundfile
    from scipy.signal import resample_poly

    if len(data) > MOST_BYTES:
        raise Refused([Fault("", f"a file of {len(data) / 1e6:.1f} MB", f"{MOST_BYTES / 1e6:g} MB at most")])
    no_recording = Refused([Fault("", "a file that is no recording we can read", KINDS)])
    unread = (soundfile.SoundFileError, RuntimeError, ValueError, TypeError)
    try:
        about = soundfile.info(io.BytesIO(data))
    except unread:
        raise no_recording from None
    if not SLOWEST_HZ <= about.samplerate <= FASTEST_HZ or about.channels > MOST_CHANNELS:
        raise Refused([Fault("", f"{about.channels} channels at {about.samplerate} Hz", f"up to {MOST_CHANNELS} channels at 8 to 192 kHz")])
    try:
        samples, rate = soundfile.read(io.BytesIO(data), frames=int(LONGEST_S * about.samplerate), dtype="float64", always_2d=True)
    except unread:
        raise no_recording from None
    if len(samples) < SHORTEST_S * rate:
        raise Refused(
            [Fault("", f"{len(samples) / rate:.1f} s of sound", f"at least {SHORTEST_S:g} s, of which the first {LONGEST_S:g} s are used")]
        )
    if not np.isfinite(samples).all() or float(np.abs(samples).max()) > LOUDEST:
        raise Refused([Fault("", "samples that are no numbers of a recording", KINDS)])
    voice = samples.mean(axis=1)
    voice = voice - voice.mean()
    if float(np.abs(voice).max()) < SILENT:
        raise Refused([Fault("", "silence", "a voice: speak a sentence or two, near the microphone")])
    common = gcd(SAMPLE_HZ, rate)
    voice = resample_poly(voice, SAMPLE_HZ // common, rate // common)
    voice = np.asarray(voice * 0.7 / np.abs(voice).max())
    if not np.isfinite(voice).all():
        raise Refused([Fault("", "samples that come to no numbers", KINDS)])
    return voice
