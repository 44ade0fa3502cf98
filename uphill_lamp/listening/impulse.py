"""The way from mouth to capsule as an impulse response: straight, off the walls by image sources, and what dies away."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Room
from uphill_lamp.core.field.sound.capsule import PATTERN_P, Heard, heard_by, speech_octaves_db
from uphill_lamp.core.field.sound.room import side_absorption
from uphill_lamp.core.field.sound.touch import proximity_effect_db
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ
from uphill_lamp.core.scene.placing import microphone_place, room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.listening.bands import SAMPLE_HZ, handy, split, weighted

SOUND_M_S = 343.0
IMAGES = 25  # reflections followed one by one; beyond them the room only dies away
LONGEST_S, ROUND_S, STEP_S = 4.0, 0.02, 0.02
BEFORE_S = 0.08  # filters ring before as well as after: room for it
INSIDE_M = 0.02
SIDES = {"wall_x0": "west", "wall_x1": "east", "wall_y0": "south", "wall_y1": "north", "floor": "floor", "ceiling": "ceiling"}
ROUNDS, NEAR_ENOUGH, EAGER = 5, 0.03, 0.8
HALVING = 6.907755  # half the natural logarithm of a million: amplitude falls by exp(-6.9 t / T)


@dataclass(frozen=True, eq=False)
class Impulse:
    """A mouth that speaks 1 Pa at 1 m straight ahead, as a capsule gives it [Pa]: straight, and off the room, shapes (N,). It speaks BEFORE_S
    after the beginning."""

    straight: FloatArray
    room: FloatArray
    heard: Heard

    @property
    def whole(self) -> FloatArray:
        return self.straight + self.room


def impulse_of(setup: Setup, microphone: Microphone) -> Impulse:
    """The way to a microphone as it stands. Levels of both parts are the plan's in each octave; what is off the room falls in time as image
    sources and the room's reverberation times say."""
    heard = heard_by(setup, microphone)
    speech = speech_octaves_db(setup.presenter.voice, setup.presenter.voice_effort)
    straight_gains = 10 ** ((heard.direct_db - speech) / 20)
    near = proximity_effect_db(PATTERN_P[microphone.pattern], heard.path.distance_m, heard.path.off_axis_deg, CENTRES_HZ)
    lasts_s = min(max(float(heard.room.t60_s.max()) * 1.1, 0.25), LONGEST_S)
    count, before = handy(int(SAMPLE_HZ * (BEFORE_S + lasts_s))), int(BEFORE_S * SAMPLE_HZ)
    start = before + min(round(heard.path.distance_m / SOUND_M_S * SAMPLE_HZ), count // 2)
    spike = np.zeros(count)
    spike[start] = 1.0
    straight = weighted(spike, straight_gains * 10 ** (near / 20))
    images = _images(setup.room, scene_of(setup).face.lips, microphone_place(setup, microphone), count, before)
    room = _dying(images, start, heard.room.t60_s, 10 ** ((heard.reverberant_db - speech) / 20))
    return Impulse(straight, room, heard)


def _images(room: Room, lips: Vector, capsule: Vector, count: int, before: int) -> FloatArray:
    """Image sources alone, without the straight sound: shape (count,)."""
    import pyroomacoustics  # here, for it takes a second or two to come

    size = room_size(room)
    materials = {
        SIDES[name]: pyroomacoustics.Material({"coeffs": absorption.tolist(), "center_freqs": CENTRES_HZ.tolist()})
        for name, absorption in side_absorption(room).items()
    }
    mouth, ear = (np.clip(place, INSIDE_M, size - INSIDE_M) for place in (lips, capsule))
    ear = ear + (0.001 if np.allclose(mouth, ear) else 0.0)  # no image is heard from where it is
    box = pyroomacoustics.ShoeBox(size, fs=SAMPLE_HZ, materials=materials, max_order=IMAGES, air_absorption=False)
    box.add_source(mouth)
    box.add_microphone(ear)
    box.compute_rir()
    early = np.asarray(box.rir[0][0], float)[pyroomacoustics.constants.get("frac_delay_length") // 2 :]
    first = round(float(np.linalg.norm(ear - mouth)) / SOUND_M_S * SAMPLE_HZ)
    early[: first + 12] = 0.0  # the straight sound, which is reckoned apart
    out = np.zeros(count)
    kept = min(len(early), count - before)
    out[before : before + kept] = early[:kept]
    return out


def _dying(images: FloatArray, start: int, t60_s: FloatArray, gains: FloatArray) -> FloatArray:
    """Each octave of the images with the room's own decay and as much in all as the plan says; where images end it goes on as noise."""
    followed = np.flatnonzero(images)
    end = start + int(0.7 * (followed[-1] - start)) if len(followed) else start + 1  # later images are not all there
    time_s = np.maximum((np.arange(len(images)) - start) / SAMPLE_HZ, 0)
    blend = int(ROUND_S * SAMPLE_HZ)
    later = np.clip((np.arange(len(images)) - end + blend) / blend, 0, 1)
    spike, hiss = np.zeros(len(images)), np.random.default_rng(5).standard_normal(len(images))
    spike[start] = 1.0
    octaves = []
    for early, tail in zip(split(images), split(hiss), strict=True):
        flat, level = _flattened(early, start, end)
        octaves.append(flat * np.sqrt(1 - later) + level / float(tail.std()) * tail * np.sqrt(later))
    wanted = gains**2 * (split(spike) ** 2).sum(axis=1)
    return _fallen(np.array(octaves), time_s, t60_s, wanted)


def _fallen(octaves: FloatArray, time_s: FloatArray, t60_s: FloatArray, wanted: FloatArray) -> FloatArray:
    """Octaves (7, N) that neither rise nor fall, falling as a room's times say (7,) [s], each with its wanted energy (7,), summed.

    A few strong reflections bend a fall, and neighbours' falls show in each other: so it is measured and set again a few times.
    """
    asked = np.array(t60_s, float)
    for _ in range(ROUNDS):
        fallen = octaves * np.exp(-HALVING * time_s / asked[:, None])
        fallen *= np.sqrt(wanted / np.maximum((fallen**2).sum(axis=1), 1e-30))[:, None]
        whole = fallen.sum(axis=0)
        decays_s = np.array([decay_s(octave) for octave in split(whole)])
        apart = np.where(decays_s > 0, decays_s / t60_s, 1.0)
        if np.abs(apart - 1).max() < NEAR_ENOUGH:
            break
        asked = np.clip(asked / apart**EAGER, t60_s / 2, t60_s * 2)
    return np.asarray(whole)


def decay_s(octave: FloatArray) -> float:
    """Reverberation time from the fall of what is left, between 5 and 25 dB [s]; 0 where it never falls so far."""
    left = np.cumsum(octave[::-1] ** 2)[::-1]
    fall_db = 10 * np.log10(np.maximum(left / max(float(left[0]), 1e-30), 1e-12))
    first, last = (int(np.argmax(fall_db < limit)) for limit in (-5, -25))
    return 3 * (last - first) / SAMPLE_HZ


def _flattened(early: FloatArray, start: int, end: int) -> tuple[FloatArray, float]:
    """An octave of the images without their own decay, and its effective value."""
    step = int(STEP_S * SAMPLE_HZ)
    edges = np.arange(start, max(end, start + 1), step)
    energy = np.array([(early[edge : edge + step] ** 2).mean() for edge in edges])
    some = energy > 0
    if some.sum() < 3:
        return early, float(early.std())
    slope, level = np.polyfit((edges + step / 2 - start)[some], np.log(energy[some]) / 2, 1)
    return np.asarray(early * np.exp(-slope * np.maximum(np.arange(len(early)) - start, 0) * (np.arange(len(early)) < end))), float(
        np.exp(level)
    )
