"""A dry voice as the far side would hear it: brought to the plan's level, sent through room and microphone, noise added, loudness matched."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import PATTERN_P, Heard, noise_at, speech_octaves_db
from uphill_lamp.core.field.sound.octaves import a_level
from uphill_lamp.core.scene.placing import microphone_axis, microphone_place
from uphill_lamp.listening.bands import SAMPLE_HZ, handy, levels_db, noise, split, weighted
from uphill_lamp.listening.impulse import decay_s, impulse_of

VOICES = {"low": "a low voice", "high": "a high voice", "calm": "a calm voice"}
FOLDER = Path(__file__).with_name("voices")
LEAD_S, FRAME_S = 0.5, 0.02
PAUSE_DB, GAP_S = 30.0, 0.3  # frames this far under the loudest are pauses; those shorter than this belong to running speech
MOST_EQ_DB = 24.0
LOUDNESS_LUFS, PEAK = -27.0, 0.98
CLOCKS, TICK_S, FADE_S = 3, 0.5, 0.008
SEED = 11


@dataclass(frozen=True, eq=False)
class Rendered:
    """Voice and noise at the capsule [Pa], and both together as they are played, -1 to 1; ``played_lufs`` how loud that is, ``speaks``
    for how many samples the dry voice speaks."""

    voice: FloatArray
    noise: FloatArray
    played: FloatArray
    played_lufs: float
    heard: Heard
    speaks: int


@lru_cache(maxsize=4)
def dry_voice(name: str) -> FloatArray:
    """A voice that ships, at SAMPLE_HZ."""
    import soundfile

    samples, _ = soundfile.read(FOLDER / f"{name}.flac", dtype="float64")
    return np.asarray(samples)


def active(signal: FloatArray) -> FloatArray:
    """The parts of a dry voice in which somebody speaks, end to end; gaps between words belong to it, as in ISO 9921's levels."""
    from scipy.ndimage import binary_closing

    step = int(FRAME_S * SAMPLE_HZ)
    frames = signal[: len(signal) // step * step].reshape(-1, step)
    power = (frames**2).mean(axis=1)
    speaks = power > power.max() * 10 ** (-PAUSE_DB / 10)
    return frames[binary_closing(np.pad(speaks, reach := round(GAP_S / FRAME_S)), np.ones(reach))[reach:-reach]].ravel()


def spoken(dry: FloatArray, setup: Setup) -> FloatArray:
    """A dry sample as the presenter would speak it 1 m off, straight ahead [Pa]: in each octave at the plan's level while speaking."""
    wanted, is_now = speech_octaves_db(setup.presenter.voice, setup.presenter.voice_effort), levels_db(active(dry))
    # What a sample has next to nothing of cannot be made from it, and must not be blown up to hiss.
    gains_db = np.clip(wanted - is_now, None, np.median(wanted - is_now) + MOST_EQ_DB)
    louder_db = a_level(wanted) - a_level(is_now + gains_db)
    return weighted(dry, 10 ** ((gains_db + louder_db) / 20))


def rendered(setup: Setup, microphone: Microphone, dry: FloatArray) -> Rendered:
    """A dry voice through the setup's room to one microphone.

    Args:
        setup: room, noises, presenter.
        microphone: as it stands.
        dry: a voice without room or noise at SAMPLE_HZ, shape (N,).
    """
    from scipy.signal import fftconvolve

    way = impulse_of(setup, microphone)
    dry = np.pad(dry, (0, handy(len(dry)) - len(dry)))
    arrived = fftconvolve(spoken(dry, setup), way.whole)
    lead = int(LEAD_S * SAMPLE_HZ)
    voice = np.pad(arrived, (lead, handy(lead + len(arrived)) - lead - len(arrived)))
    around = around_of(setup, microphone, way.heard, len(voice))
    played, lufs = matched(voice + around)
    return Rendered(voice, around, played, lufs, way.heard, len(active(dry)))


def around_of(setup: Setup, microphone: Microphone, heard: Heard, count: int) -> FloatArray:
    """All steady noise at the capsule [Pa]: a hiss of its colour, and clocks that tick, each as loud as the plan has it."""
    place, axis = microphone_place(setup, microphone), microphone_axis(setup, microphone)
    ticking = [
        noise_at(setup, heard.room, place, axis, PATTERN_P[microphone.pattern], noise)
        for noise in setup.noises
        if noise.steady and noise.curve == "clocks"
    ]
    rest = 10 ** (heard.noise_db / 10) - sum((10 ** (level / 10) for level in ticking), np.zeros(7))
    out = noise(10 * np.log10(np.maximum(rest, 1e-6)), count, SEED)
    for number, level in enumerate(ticking):
        out += ticks(level, count, SEED + 1 + number)
    return out


def ticks(level_db: FloatArray, count: int, seed: int) -> FloatArray:
    """Some clocks that tick twice a second, with a level in each octave on the whole, shape (7,) [dB SPL] -> (count,)."""
    random = np.random.default_rng(seed)
    time_s = np.arange(count) / SAMPLE_HZ
    strokes = np.zeros(count)
    for first_s, loud in zip(random.uniform(0, TICK_S, CLOCKS), (1.0, 0.7, 0.5), strict=True):
        strokes += loud * np.exp(-((time_s - first_s) % TICK_S) / FADE_S) * (time_s >= first_s)
    struck = random.standard_normal(count) * strokes
    return weighted(struck, 10 ** ((level_db - levels_db(struck)) / 20))


def matched(signal: FloatArray) -> tuple[FloatArray, float]:
    """A signal at the loudness all are played at, and that loudness [LUFS] (ITU-R BS.1770); less only where its peaks would be cut."""
    import pyloudnorm

    meter = pyloudnorm.Meter(SAMPLE_HZ)
    now = meter.integrated_loudness(signal)
    gain = 10 ** ((LOUDNESS_LUFS - now) / 20)
    gain = min(gain, PEAK / max(float(np.abs(signal).max()), 1e-12))
    played = signal * gain
    return played, now + 20 * float(np.log10(gain))


def snr_db(rendered: Rendered) -> float:
    """Voice over noise, A-weighted, as the rendered sound has them: all the voice's energy over the time that the dry voice speaks [dB]."""
    share = 10 * np.log10(len(rendered.voice) / max(rendered.speaks, 1))
    return float(a_level(levels_db(rendered.voice)) + share - a_level(levels_db(rendered.noise)))


def reverberation_s(way: FloatArray) -> FloatArray:
    """Reverberation time of each octave of an impulse response, from its fall between 5 and 25 dB, shape (7,) [s]."""
    return np.array([decay_s(octave) for octave in split(way)])


def as_wav(signal: FloatArray) -> bytes:
    """A signal as a WAV file of 16 bits."""
    import io

    import soundfile

    buffer = io.BytesIO()
    soundfile.write(buffer, signal, SAMPLE_HZ, format="WAV", subtype="PCM_16")
    return buffer.getvalue()
