"""What reaches the capsule: voice direct and reverberant, noise, the far side's own voice (docs/method/sound.md)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Noise
from uphill_lamp.core.field.sound import octaves, touch
from uphill_lamp.core.field.sound.clarity import modulation_indices, transmission_index
from uphill_lamp.core.field.sound.gain import Gain, gain_of
from uphill_lamp.core.field.sound.room import RoomSound, room_sound
from uphill_lamp.core.scene.placing import loudspeaker_place, microphone_axis, microphone_place
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, angle_between_deg, vector

PATTERN_P = {"omni": 1.0, "subcardioid": 0.7, "cardioid": 0.5, "supercardioid": 0.366, "figure_eight": 0.0}
NEAREST_MOUTH_M = 0.02
NEAREST_LOUDSPEAKER_M = 0.1
NEAREST_NOISE_M = 0.05
REMOVED_DB = 10.0  # what noise removal takes off steady noise before it wears at the voice, a working value
HEADPHONES_BELOW_SPEECH_DB = 60.0


def pattern_gain(p: float | FloatArray, angle_deg: float) -> FloatArray:
    """Energy gain of a first-order pattern p + (1 - p) cos(angle), against on axis [no unit]."""
    return np.asarray((np.asarray(p) + (1 - np.asarray(p)) * math.cos(math.radians(angle_deg))) ** 2)


def directivity_factor(p: float | FloatArray) -> FloatArray:
    """Directivity factor 1/(p^2 + (1 - p)^2/3) of a first-order pattern [no unit]."""
    return np.asarray(1 / (np.asarray(p) ** 2 + (1 - np.asarray(p)) ** 2 / 3))


@dataclass(frozen=True)
class Path:
    """Voice on its way to a capsule: distance [m] and angles off both axes [deg]."""

    distance_m: float
    off_mouth_deg: float
    off_axis_deg: float


def path_between(lips: Vector, forward: Vector, place: Vector, axis: Vector) -> Path:
    """From lips [m] that speak one way to a capsule at a place [m] that listens along its axis (unit vectors)."""
    beyond = place - lips
    distance = max(float(np.linalg.norm(beyond)), NEAREST_MOUTH_M)
    if not beyond.any():
        return Path(distance, 0.0, 0.0)
    return Path(distance, angle_between_deg(forward, beyond), angle_between_deg(axis, -beyond))


def speech_octaves_db(voice: str, effort: str) -> FloatArray:
    """Speech 1 m in front of the mouth in the free field, shape (7,) [dB]."""
    return octaves.shaped(octaves.SPEECH_SHAPE_DB[voice], octaves.EFFORT_DB_A[effort])


def speech_at(room: RoomSound, path: Path, pattern_p: float, speech_1m_db: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Direct and reverberant speech as a capsule picks it up, shapes (7,) [dB].

    Direct Ls1m + 10 lg(gt gm / r^2); reverberant Ls1m - 10 lg(Q q rc^2) (reference/README).
    """
    talker = pattern_gain(octaves.TALKER_P, path.off_mouth_deg)
    capsule = pattern_gain(pattern_p, path.off_axis_deg)
    direct = speech_1m_db + 10 * np.log10(np.maximum(talker * capsule, 1e-6) / path.distance_m**2)
    favour = directivity_factor(octaves.TALKER_P) * directivity_factor(pattern_p)
    return direct, speech_1m_db - 10 * np.log10(favour * room.critical_squared_m2)


def noise_octaves_db(noise: Noise) -> FloatArray:
    """A noise at 1 m, or in the room if it comes from everywhere, shape (7,) [dB]."""
    shape = np.array(noise.octaves_db) if noise.octaves_db is not None else octaves.NOISE_SHAPES_DB[noise.curve]
    return octaves.shaped(shape, noise.level_db_a)


def noise_at(setup: Setup, room: RoomSound, place: Vector, axis: Vector, pattern_p: float, noise: Noise) -> FloatArray:
    """A noise as a capsule picks it up, shape (7,) [dB]: its direct part by angle, its diffuse part weakened by q."""
    level = noise_octaves_db(noise)
    if noise.position is None:
        return np.asarray(level - 10 * np.log10(directivity_factor(pattern_p)))
    return placed_noise_at(room, place, axis, pattern_p, level, vector(noise.position))


def placed_noise_at(room: RoomSound, place: Vector, axis: Vector, pattern_p: float, level_db: FloatArray, from_m: Vector) -> FloatArray:
    """A noise of so much at 1 m, shape (7,) [dB], that comes from a place [m], as a capsule picks it up, shape (7,) [dB]."""
    beyond = from_m - place
    distance = max(float(np.linalg.norm(beyond)), NEAREST_NOISE_M)
    gain = pattern_gain(pattern_p, angle_between_deg(axis, beyond) if beyond.any() else 0.0)
    direct = level_db + 10 * np.log10(np.maximum(gain, 1e-6) / distance**2)
    return octaves.summed(direct, level_db - 10 * np.log10(room.critical_squared_m2 * directivity_factor(pattern_p)))


@dataclass(frozen=True)
class Heard:
    """What a microphone picks up. Spectra at the capsule, shapes (7,) [dB]: ``direct_db`` and ``reverberant_db`` voice, ``noise_db`` all
    that is steady. ``echo_below_db`` far side's voice, ``touch_below_db`` keys and knocks, below the speech [dB]; ``worst_noise`` the
    loudest that can be stopped; ``removed_db`` what the system takes off steady noise [dB]."""

    path: Path
    room: RoomSound
    direct_db: FloatArray
    reverberant_db: FloatArray
    noise_db: FloatArray
    echo_below_db: float
    touch_below_db: float
    worst_noise: Noise | None
    removed_db: float
    gain: Gain | None
    voice: str

    @cached_property
    def direct_db_a(self) -> float:
        return octaves.a_level(self.direct_db)

    @cached_property
    def reverberant_db_a(self) -> float:
        return octaves.a_level(self.reverberant_db)

    @cached_property
    def speech_db_a(self) -> float:
        return octaves.a_level(octaves.summed(self.direct_db, self.reverberant_db))

    @cached_property
    def noise_db_a(self) -> float:
        return octaves.a_level(self.noise_db)

    @property
    def snr_db(self) -> float:
        """Voice over noise as it is sent, after what the system removes [dB]."""
        return self.speech_db_a - self.noise_db_a + self.removed_db

    @property
    def critical_distance_m(self) -> float:
        """Distance at which voice and room would be alike at this microphone, A-weighted, as it stands and aims [m]:
        the critical distance for this talker, this pattern and these angles; direct sound falls 6 dB per doubling."""
        return float(self.path.distance_m * 10 ** (self.direct_to_reverberant_db / 20))

    @property
    def direct_to_reverberant_db(self) -> float:
        return self.direct_db_a - self.reverberant_db_a

    @cached_property
    def octave_indices(self) -> FloatArray:
        """How much of the voice's rise and fall arrives in each octave, shape (7,) 0-1."""
        return modulation_indices(self.direct_db, self.reverberant_db, self.noise_db, self.room.t60_s)

    @cached_property
    def sti(self) -> float:
        """Speech transmission index, 0-1. What the system removes of noise makes the voice no clearer, so it is left out."""
        return transmission_index(self.octave_indices, self.voice)


def heard_by(setup: Setup, microphone: Microphone) -> Heard:
    """All that a microphone picks up where it is."""
    room, face, pattern_p = room_sound(setup.room), scene_of(setup).face, PATTERN_P[microphone.pattern]
    place, axis = microphone_place(setup, microphone), microphone_axis(setup, microphone)
    path = path_between(face.lips, face.forward, place, axis)
    direct, reverberant = speech_at(room, path, pattern_p, speech_octaves_db(setup.presenter.voice, setup.presenter.voice_effort))
    speech_db_a = octaves.a_level(octaves.summed(direct, reverberant))
    steady = [noise for noise in setup.noises if noise.steady]
    noises = [noise_at(setup, room, place, axis, pattern_p, noise) for noise in steady]
    stoppable = [(octaves.a_level(noises[index]), index) for index, noise in enumerate(steady) if noise.can_be_stopped]
    gain = gain_of(microphone, speech_db_a)
    own = [octaves.shaped(octaves.SELF_NOISE_SHAPE_DB, microphone.self_noise_db_a)]
    if gain is not None:
        own.append(octaves.shaped(octaves.SELF_NOISE_SHAPE_DB, gain.input_noise_db_a))
    return Heard(
        path,
        room,
        direct,
        reverberant,
        octaves.summed(*own, *noises),
        speech_db_a - _echo_db_a(setup, room, place, axis, pattern_p) if setup.computer.listening == "loudspeakers" else HEADPHONES_BELOW_SPEECH_DB,
        speech_db_a - _touch_db_a(setup, room, microphone, place, axis),
        steady[max(stoppable)[1]] if stoppable else None,
        REMOVED_DB if setup.computer.noise_removal else 0.0,
        gain,
        setup.presenter.voice,
    )  # fmt: skip


def _touch_db_a(setup: Setup, room: RoomSound, microphone: Microphone, place: Vector, axis: Vector) -> float:
    """Level of typing at the capsule, through the air and up the stand [dB(A)]."""
    keys = octaves.shaped(touch.KEYS_SHAPE_DB, touch.keys_db_a(setup))
    through_air = placed_noise_at(room, place, axis, PATTERN_P[microphone.pattern], keys, touch.keys_place(setup))
    return octaves.total(np.array([octaves.a_level(through_air), touch.through_stand_db_a(microphone)]))


def _echo_db_a(setup: Setup, room: RoomSound, place: Vector, axis: Vector, pattern_p: float) -> float:
    """Level of the loudspeakers at the capsule, direct and diffuse [dB(A)]; 0.5 m away where they are is not known."""
    played = octaves.shaped(octaves.SPEECH_SHAPE_DB["male"], setup.computer.loudspeaker_db_a)
    source = loudspeaker_place(setup)
    beyond = axis * 0.5 if source is None else source - place
    distance = max(float(np.linalg.norm(beyond)), NEAREST_LOUDSPEAKER_M)
    gain = pattern_gain(pattern_p, angle_between_deg(axis, beyond) if beyond.any() else 0.0)
    direct = played + 10 * np.log10(np.maximum(gain, 1e-6) / distance**2)
    diffuse = played - 10 * np.log10(room.critical_squared_m2 * directivity_factor(pattern_p))
    return octaves.a_level(octaves.summed(direct, diffuse))
