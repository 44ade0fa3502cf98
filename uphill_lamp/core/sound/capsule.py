"""What reaches the capsule: voice direct and reverberant, noise, the far side's own voice (handbook 05)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Noise
from uphill_lamp.core.scene.placing import face_of, loudspeaker_place, microphone_axis, microphone_place
from uphill_lamp.core.scene.vectors import Vector, angle_between_deg, vector
from uphill_lamp.core.sound import octaves
from uphill_lamp.core.sound.octaves import FloatArray
from uphill_lamp.core.sound.room import RoomSound, room_sound

PATTERN_P = {"omni": 1.0, "subcardioid": 0.7, "cardioid": 0.5, "supercardioid": 0.366, "figure_eight": 0.0}
NEAREST_MOUTH_M = 0.02
NEAREST_LOUDSPEAKER_M = 0.1
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


def path_to(setup: Setup, microphone: Microphone) -> Path:
    """From the lips to a microphone as it stands; not under 2 cm."""
    face = face_of(setup)
    beyond = microphone_place(setup, microphone) - face.lips
    distance = max(float(np.linalg.norm(beyond)), NEAREST_MOUTH_M)
    if not beyond.any():
        return Path(distance, 0.0, 0.0)
    axis = microphone_axis(setup, microphone)
    return Path(distance, angle_between_deg(face.forward, beyond), angle_between_deg(axis, -beyond))


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
    weakened = 10 * np.log10(directivity_factor(pattern_p))
    if noise.position is None:
        return np.asarray(level - weakened)
    beyond = vector(noise.position) - place
    distance = max(float(np.linalg.norm(beyond)), 0.05)
    gain = pattern_gain(pattern_p, angle_between_deg(axis, beyond) if beyond.any() else 0.0)
    direct = level + 10 * np.log10(np.maximum(gain, 1e-6) / distance**2)
    return octaves.summed(direct, level - 10 * np.log10(room.critical_squared_m2) - weakened)


@dataclass(frozen=True)
class Heard:
    """What a microphone picks up, levels A-weighted [dB(A)]; ``echo_below_db`` far side's voice below the speech [dB]."""

    path: Path
    room: RoomSound
    direct_db_a: float
    reverberant_db_a: float
    speech_db_a: float
    noise_db_a: float
    echo_below_db: float
    worst_noise: Noise | None

    @property
    def snr_db(self) -> float:
        return self.speech_db_a - self.noise_db_a

    @property
    def even_distance_m(self) -> float:
        """Distance at which voice and room would be alike at this microphone, A-weighted, as it stands and aims [m]:
        the critical distance for this talker, this pattern and these angles; direct sound falls 6 dB per doubling."""
        return float(self.path.distance_m * 10 ** (self.direct_to_reverberant_db / 20))

    @property
    def direct_to_reverberant_db(self) -> float:
        return self.direct_db_a - self.reverberant_db_a


def heard_by(setup: Setup, microphone: Microphone) -> Heard:
    """All that a microphone picks up where it is."""
    room, path = room_sound(setup.room), path_to(setup, microphone)
    pattern_p = PATTERN_P[microphone.pattern]
    speech_1m = speech_octaves_db(setup.presenter.voice, setup.presenter.voice_effort)
    direct, reverberant = speech_at(room, path, pattern_p, speech_1m)
    speech_db_a = octaves.a_level(octaves.summed(direct, reverberant))
    place, axis = microphone_place(setup, microphone), microphone_axis(setup, microphone)
    steady = [noise for noise in setup.noises if noise.steady]
    noises = [noise_at(setup, room, place, axis, pattern_p, noise) for noise in steady]
    levels = [octaves.a_level(noise) for noise in noises]
    self_noise = octaves.shaped(octaves.SELF_NOISE_SHAPE_DB, microphone.self_noise_db_a)
    stoppable = [(level, index) for index, level in enumerate(levels) if steady[index].can_be_stopped]
    return Heard(
        path,
        room,
        octaves.a_level(direct),
        octaves.a_level(reverberant),
        speech_db_a,
        octaves.a_level(octaves.summed(self_noise, *noises)),
        speech_db_a - _echo_db_a(setup, room, place, axis, pattern_p) if setup.computer.listening == "loudspeakers" else HEADPHONES_BELOW_SPEECH_DB,
        steady[max(stoppable)[1]] if stoppable else None,
    )  # fmt: skip


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
