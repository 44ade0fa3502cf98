"""Figures of a clip against what was put into it: rate, bands, shaking, exposure, gaze, a clap."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from uphill_lamp.core.measuring import clip, flicker, gaze, steadiness
from uphill_lamp.core.measuring.clip import Known, Track, clip_figures, known_of
from uphill_lamp.core.measuring.frames import rate_of

RNG = np.random.default_rng(5)


def times(fps: float, length_s: float) -> np.ndarray:
    return np.arange(round(fps * length_s)) / fps


def bands(
    light_hz: float, fps: float, share: float, read_s: float = 0.02, length_s: float = 6.0, noise: float = 0.002
) -> tuple[np.ndarray, np.ndarray]:
    """Lines of pictures under a lamp that goes up and down, read one after another."""
    at = times(fps, length_s)
    lines = np.linspace(0, 1, 200)
    room = 0.2 + 0.1 * np.sin(3 * lines)
    swing = 1 + share * np.sin(2 * np.pi * light_hz * (at[:, None] + read_s * lines) + 0.7)
    return room * swing * (1 + noise * RNG.standard_normal((len(at), 1))) + 1e-4 * RNG.standard_normal((len(at), 200)), at


def track(fps: float = 30.0, length_s: float = 6.0, **given_: np.ndarray) -> Track:
    """A clip in which nothing happens, but for what is given."""
    at, closely = times(fps, length_s), times(8.0, length_s)
    still = {
        "times_s": at, "changes": np.full(len(at), 2.0), "motion": np.full(len(at), 0.1), "lines": np.full((len(at), 90), 0.2),
        "places": np.zeros((len(at), 2)), "sure": np.ones(len(at)), "looked_s": closely, "levels": np.full(len(closely), 0.2),
        "red": np.full(len(closely), 0.2), "blue": np.full(len(closely), 0.2), "edges": np.ones(len(closely)),
        "eyes": np.zeros((len(closely), 2)), "looks": np.zeros((len(closely), 4)), "head_px": 300.0,
    }  # fmt: skip
    return Track(**(still | given_))  # type: ignore[arg-type]


def told(figures: tuple[clip.Figure, ...]) -> dict[str, object]:
    return {figure.id.removeprefix("clip."): figure.value for figure in figures}


class Frames(TestCase):
    @given(st.sampled_from((10.0, 24.0, 25.0, 29.97, 30.0, 60.0)), st.sets(st.integers(5, 90), max_size=8), st.booleans())
    def test_rate_and_what_never_came(self, fps: float, gone: set[int], rounded: bool) -> None:
        at = times(fps, 100 / fps)
        at = np.round(at, 3) if rounded else at
        kept = np.array([number not in gone for number in range(len(at))])
        found = rate_of(at[kept], np.full(int(kept.sum()), 2.0))
        assert found is not None
        self.assertAlmostEqual(found.fps, fps, delta=0.01 * fps)
        self.assertEqual(found.dropped, len(gone))

    def test_what_stands_still_is_counted_and_grain_is_not(self) -> None:
        changes = RNG.uniform(1.5, 2.5, 200)
        changes[[20, 21, 90]] = 0.0, 0.3, 0.15  # the same picture, and packed anew
        found = rate_of(times(30, 200 / 30), changes)
        assert found is not None
        self.assertEqual(found.frozen, 3)


class Flicker(TestCase):
    @given(st.sampled_from((100.0, 120.0)), st.sampled_from((15.0, 24.0, 25.0, 29.97, 30.0)), st.floats(0.01, 0.2), st.floats(0.006, 0.03))
    def test_bands_are_as_strong_as_they_were_made(self, light_hz: float, fps: float, share: float, read_s: float) -> None:
        lines, at = bands(light_hz, fps, share, read_s)
        found = flicker.bands_share(lines, at, fps)
        if flicker.beat_hz(light_hz, fps) < flicker.LEAST_HZ:
            if found is not None:  # the other mains would crawl; these stand still
                self.assertEqual(found, (0.0, 0.0))
            return
        assert found is not None
        if read_s * light_hz >= 1:  # a whole band and more in the picture
            self.assertAlmostEqual(found[0], share, delta=0.003 + 0.08 * share)
            self.assertEqual(found[1], light_hz)

    def test_none_without_a_lamp_that_does_it(self) -> None:
        for fps in (24.0, 25.0, 29.97, 30.0):
            lines, at = bands(100.0, fps, 0.0)
            self.assertIn(flicker.bands_share(lines, at, fps), ((0.0, 0.0), None))
            swaying = lines * (1 + 0.05 * np.sin(2 * np.pi * 1.7 * at)[:, None] * np.linspace(0, 1, 200))  # somebody moves
            found = flicker.bands_share(swaying, at, fps)
            assert found is not None
            self.assertLess(found[0], 0.003)


class Steadiness(TestCase):
    def test_exposure_and_white(self) -> None:
        at = times(8, 12)
        for stops in (0.2, 0.5, 1.5):
            levels = 0.1 * 2 ** (stops / 2 * np.sign(np.sin(2 * np.pi * at / 6))) * (1 + 0.02 * RNG.standard_normal(len(at)))
            self.assertAlmostEqual(steadiness.pumping_stops(levels, at), stops, delta=0.1)
            self.assertAlmostEqual(steadiness.drift_stops(levels, np.full(len(at), 0.1), at), stops, delta=0.1)

    def test_shaking_apart_from_what_drifts(self) -> None:
        at = times(30, 10)
        shaken = np.stack([2.0 * np.sin(2 * np.pi * 7 * at), 0.0 * at], axis=1)
        drifting = shaken + np.stack([0.8 * at, 0.3 * at], axis=1)
        for places in (shaken, drifting):
            self.assertAlmostEqual(
                steadiness.shake_px(places, at)[0], float(np.percentile(np.abs(2 * np.sin(2 * np.pi * 7 * at)), 95)), delta=0.2
            )
        self.assertLess(steadiness.shake_px(0.02 * RNG.standard_normal(places.shape), at)[0], 0.1)

    def test_a_rhythm_is_named_and_rest_is_not(self) -> None:
        at = times(8, 30)
        rocking = np.stack([30 * np.sin(2 * np.pi * 0.8 * at), 0 * at], axis=1) + RNG.standard_normal((len(at), 2))
        found = steadiness.fidgets(rocking, at, 300.0)
        assert found is not None and found.rhythm_s is not None
        self.assertAlmostEqual(found.rhythm_s, 1.25, delta=0.1)
        self.assertAlmostEqual(found.travel, 60 * 4 * 0.1 * 0.8, delta=6)
        calm = steadiness.fidgets(RNG.standard_normal((len(at), 2)), at, 300.0)
        assert calm is not None
        self.assertLess(calm.travel, 4)


class Gaze(TestCase):
    @given(st.floats(0, 1), st.integers(0, 10**6))
    def test_share_of_looks_into_the_lens(self, share: float, seed: int) -> None:
        rng = np.random.default_rng(seed)
        lens = np.array([1] * 16 + [0] * 16 + [0] * 100, dtype=bool)
        window = np.array([0] * 16 + [1] * 16 + [0] * 100, dtype=bool)
        there = rng.random(132) < share
        there[:16], there[16:32] = True, False
        looks = np.where(there[:, None], [0.02, 0.1, 0.0, 0.5], [0.02, 0.2, 0.01, 0.53]) + 0.015 * rng.standard_normal((132, 4))
        found = gaze.on_lens(looks, lens, window, ~lens & ~window)
        assert isinstance(found, gaze.Gaze)
        self.assertAlmostEqual(found.share, there[32:].mean(), delta=0.05)
        shares = [gaze.on_lens(looks, lens, window, ~lens & ~window, near).share for near in (-2.0, 0.3, 0.5, 1.5, 4.0)]  # type: ignore[union-attr]
        self.assertEqual(shares, sorted(shares))
        self.assertEqual((shares[0], shares[-1]), (0.0, 1.0))

    def test_what_cannot_be_told_is_said(self) -> None:
        looks, none = RNG.standard_normal((40, 4)), np.zeros(40, dtype=bool)
        half = np.arange(40) < 20
        self.assertIn("not known where the lens is", str(gaze.on_lens(looks, none, none, half)))
        self.assertIn("nobody speaks", str(gaze.on_lens(looks, half, ~half, none)))
        self.assertIn("not to be told apart", str(gaze.on_lens(np.full((40, 4), 0.1) + 0.01 * looks, half, ~half, half)))


class Clips(TestCase):
    def test_a_clap_is_seen_before_it_is_heard(self) -> None:
        for late_s in (-0.05, 0.0, 0.12):
            at = times(30, 6)
            motion = np.full(len(at), 0.1)
            motion[85:91] = 1.0, 1.6, 2.2, 2.6, 2.8, 2.9  # hands come together, and meet in picture 90
            figures = told(clip_figures(track(motion=motion), Known(claps_s=(float(at[90]) + late_s,))))
            self.assertAlmostEqual(float(figures["sync_ms"]), 1000 * late_s, delta=34)  # type: ignore[arg-type]
        self.assertIsNone(told(clip_figures(track(), Known(claps_s=(3.0,))))["sync_ms"])

    def test_keys_that_shake_the_picture_are_named(self) -> None:
        at, keys = times(30, 6), (2.0, 2.5, 3.0, 3.5)
        by_keys, always = np.zeros((len(at), 2)), np.zeros((len(at), 2))
        for key in keys:
            here = (at >= key) & (at < key + 0.15)
            by_keys[here, 1] = 3 * np.sin(2 * np.pi * 11 * (at[here] - key))
        always[:, 1] = 3 * np.sin(2 * np.pi * 5 * at)
        for places, says in ((by_keys, 1.0), (always, 0.0)):
            self.assertEqual(told(clip_figures(track(places=places), Known(keys_s=keys)))["shake_by_keys"], says)

    def test_everything_is_refused_with_a_reason_where_there_is_nothing(self) -> None:
        short = track(length_s=1.0)
        for figure in clip_figures(short, Known()):
            self.assertIsNone(figure.value)
            self.assertEqual(figure.refused, clip.SHORT)
        nobody = replace(track(), eyes=np.full((48, 2), np.nan), looks=np.full((48, 4), np.nan), head_px=0.0, sure=np.zeros(180))
        for name in ("eyes_on_lens", "fidgeting", "shake_px"):
            self.assertIsNone(told(clip_figures(nobody, Known()))[name])
        self.assertEqual({figure.id for figure in clip_figures(short, Known())}, {figure.id for figure in clip_figures(track(), Known())})

    def test_what_was_told_of_a_clip_may_be_anything(self) -> None:
        for strange in (None, 7, "x", [1], [[1]], [["a", "b"]], [[1, float("nan")]], [[1, 2, 3]]):
            self.assertEqual(known_of({"lens_s": strange}, {}).lens_s, ())
        self.assertEqual(known_of({"window_s": [[1, 2.5]]}, {"sound.claps_s": [4]}), Known((), ((1.0, 2.5),), None, (4.0,)))
        # Tones between the steps are heard as well: what was read is told, and stands before what the sound says.
        heard = {"sound.speech_start_s": 0.5, "sound.speech_end_s": 20.0}
        self.assertEqual((known_of({"speech_s": [[4, 12]]}, heard).speech_s, known_of({}, heard).speech_s), ((4.0, 12.0), (0.5, 20.0)))
