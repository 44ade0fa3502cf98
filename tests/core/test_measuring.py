"""What is measured in recordings and pictures: against recordings whose truth is known, and by how it must change when they do."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase
from unittest.mock import patch

import numpy as np
import soundfile
from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import REFERENCE
from uphill_lamp.core.measuring import decay, faults, levels, pieces
from uphill_lamp.core.measuring.figure import Figure
from uphill_lamp.core.measuring.grain import edge_width, noise_share
from uphill_lamp.core.measuring.haze import haze_share
from uphill_lamp.core.measuring.hum import hum_of
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ
from uphill_lamp.core.measuring.pieces import Pieces
from uphill_lamp.core.measuring.recording import Recording
from uphill_lamp.core.measuring.sound import NAMES, figures_of, products_of, sound_figures
from uphill_lamp.core.measuring.still import Marks, still_figures
from uphill_lamp.core.measuring.tilt import room_lean_deg

RATE = 48000
CLIPS = REFERENCE / "clips"
KEPT: dict[str, dict[str, Figure]] = {}


def truths() -> dict[str, Any]:
    import json

    return dict(json.loads((CLIPS / "truth.json").read_text())["clips"])


def samples_of(path: str) -> tuple[np.ndarray, int]:
    samples, rate = soundfile.read(CLIPS / path, always_2d=True)
    return samples, int(rate)


def figures(samples: np.ndarray, rate: int = RATE, lossless: bool = True) -> dict[str, Figure]:
    return {figure.id.removeprefix("sound."): figure for figure in sound_figures(Recording(samples, rate, lossless))}


def of_clip(name: str) -> dict[str, Figure]:
    if name not in KEPT:
        KEPT[name] = figures(*samples_of(truths()[name]["path"]))
    return KEPT[name]


def voice() -> np.ndarray:
    """A voice with pauses, its noise and nothing else, shape (N, 1)."""
    return samples_of(next(truth["path"] for truth in truths().values() if truth["kind"] == "speech" and truth["sample_rate"] == RATE))[0]


def of_voice() -> dict[str, Figure]:
    """Figures of the first four seconds of it."""
    if "" not in KEPT:
        KEPT[""] = figures(voice()[: 4 * RATE])
    return KEPT[""]


class Recordings(TestCase):
    """Six recordings whose truth is told beside them; limits of handbook 08."""

    def near(self, name: str, figure: str, truth: float, limit: float) -> None:
        value = of_clip(name)[figure].value
        assert isinstance(value, float), (name, figure, of_clip(name)[figure].refused)
        self.assertAlmostEqual(value, truth, delta=limit, msg=f"{name}: {figure}")

    def test_levels(self) -> None:
        for name, truth in truths().items():
            self.near(name, "integrated_lufs", truth["integrated_lufs_pyloudnorm"], 0.1 if truth["sample_rate"] > 8000 else 0.3)
            self.near(name, "true_peak_dbtp", truth["true_peak_dbtp_8x"], 0.2)
            self.near(name, "noise_dbfs", truth["noise_rms_dbfs"], 1.0)
            if truth["kind"] == "speech" and not truth["clipped_samples_full_scale"]:
                self.near(name, "speech_active_dbfs", truth["speech_active_dbfs"], 0.5)
                self.near(name, "snr_db", truth["snr_db"], 1.5)
                self.near(name, "snr_a_db", truth["snr_a_segment_db"], 1.5)

    def test_faults_each_found_and_none_that_is_not_there(self) -> None:
        for name, truth in truths().items():
            told = of_clip(name)
            self.near(name, "clipped_samples", truth["clipped_samples_full_scale"], 0.05 * truth["clipped_samples_full_scale"])
            pops = told["pops_s"].value
            self.assertEqual(len(pops), len(truth["plosives"]), name)
            for at, plosive in zip(pops, truth["plosives"], strict=True):
                self.assertAlmostEqual(at, plosive["onset_s"], delta=0.03)
            hum, lines = told["hum"].value, (truth.get("hum") or {"components": []})["components"]
            self.assertEqual([round(line["hz"]) for line in hum], [round(line["hz"]) for line in lines], name)
            for line, wanted in zip(hum, lines, strict=True):
                self.assertAlmostEqual(line["dbfs"], wanted["rms_dbfs"], delta=1.5)
                self.assertAlmostEqual(line["hz"] / round(wanted["hz"] / 50), wanted["hz"] / round(wanted["hz"] / 50), delta=0.2)
            if truth["sample_rate"] <= 8000:
                self.near(name, "band_edge_hz", truth["sample_rate"] / 2, 500)

    def test_where_it_speaks_and_how_fast(self) -> None:
        for name, truth in truths().items():
            if truth["kind"] != "speech":
                self.assertIsNone(of_clip(name)["words_a_minute"].value)
                continue
            self.near(name, "speech_start_s", truth["speech_start_s"], 0.2)
            self.near(name, "speech_end_s", truth["speech_end_s"], 0.2)
            pace = len(truth["text"].split()) / (truth["speech_end_s"] - truth["speech_start_s"]) * 60
            self.near(name, "words_a_minute", pace, 0.15 * pace)

    def test_claps_and_how_the_room_dies_away(self) -> None:
        for name, truth in truths().items():
            told, claps = of_clip(name), truth.get("clap_onsets_s", [])
            self.assertEqual(len(told["claps_s"].value), len(claps), name)
            for at, wanted in zip(told["claps_s"].value, claps, strict=True):
                self.assertAlmostEqual(at, wanted, delta=0.03)
            for band, wanted in zip(told["t20_s"].value or [], truth["decay"] if claps else [], strict=True):
                limit = 0.20 if band["hz"] <= 250 else 0.12
                self.assertAlmostEqual(band["s"], wanted["t20_s"], delta=limit * wanted["t20_s"], msg=str(band))


class Pieced(TestCase):
    """What is too long to be held is heard in pieces."""

    def in_pieces(self, samples: np.ndarray, rate: int, seconds: float) -> tuple[Pieces, dict[str, Figure]]:
        """Figures of a recording that comes a tenth of a second at a time and is heard in pieces of so long."""
        with patch.object(pieces, "MOST_SAMPLES", round(seconds * rate)):
            hearing = Pieces(rate, lossless=True)
            for begin in range(0, len(samples), rate // 10):
                hearing.take(samples[begin : begin + rate // 10].astype(np.float32))
            return hearing, {figure.id.removeprefix("sound."): figure for figure in figures_of(hearing.ended())}

    def test_twice_over_in_pieces_is_what_it_is_once(self) -> None:
        limits = {"integrated_lufs": 0.1, "true_peak_dbtp": 0.05, "speech_active_dbfs": 0.2, "noise_dbfs": 0.7, "snr_db": 0.8, "snr_a_db": 1.0,
                  "band_edge_hz": 50.0}  # fmt: skip
        for name, truth in truths().items():
            if not (truth["plosives"] or truth.get("clap_onsets_s") or truth["sample_rate"] <= 8000):
                continue
            samples, rate = samples_of(truth["path"])
            hearing, told = self.in_pieces(np.tile(samples, (2, 1)), rate, 9.0)
            once, seconds = of_clip(name), len(samples) / rate
            self.assertGreaterEqual(len(hearing.ended()), 2, name)
            for figure, limit in limits.items():
                self.assertEqual(told[figure].refused, once[figure].refused, (name, figure))
                if once[figure].value is not None:
                    self.assertAlmostEqual(told[figure].value, once[figure].value, delta=limit, msg=f"{name}: {figure}")  # type: ignore[arg-type]
            self.assertEqual(told["clipped_samples"].value, 2 * once["clipped_samples"].value, name)  # type: ignore[operator]
            for figure in ("pops_s", "claps_s", "keys_s"):
                wanted = [at + number * seconds for number in range(2) for at in once[figure].value]  # type: ignore[union-attr]
                np.testing.assert_allclose(told[figure].value, wanted, atol=0.03, err_msg=f"{name}: {figure}")  # type: ignore[arg-type]
            self.assertEqual(told["hum"].value, [], name)
            for band, decay_ in zip(told["t20_s"].value or [], once["t20_s"].value or [], strict=True):  # type: ignore[arg-type]
                self.assertAlmostEqual(band["s"], decay_["s"], delta=0.03 * decay_["s"], msg=name)
            if once["speech_end_s"].value is not None:
                for figure, later_s in (("speech_start_s", 0.0), ("speech_end_s", seconds)):
                    self.assertAlmostEqual(told[figure].value, once[figure].value + later_s, delta=0.03, msg=name)  # type: ignore[arg-type, operator]

    def test_what_stands_in_all_pieces_or_in_one_alone(self) -> None:
        """Hum in a quarter of a recording is none of the whole's; what is cut off counts against the highest of all pieces alone; a channel
        is dead that carries nothing in any of them."""
        quiet = voice()[: 5 * RATE]
        times = np.arange(4 * len(quiet)) / RATE
        hum = 0.01 * sum(np.sin(2 * np.pi * 50.07 * order * times + order) for order in (1, 2, 3))
        long = np.tile(quiet, (4, 1)) + np.asarray(hum)[:, None]
        told = self.in_pieces(long, RATE, 5.5)[1]["hum"].value
        for line, hz in zip(told, (50.07, 100.14, 150.21), strict=True):  # type: ignore[arg-type]
            self.assertAlmostEqual(line["hz"], hz, delta=0.1)
            self.assertAlmostEqual(line["dbfs"], 20 * math.log10(0.01) - 3.01, delta=0.5)
        long[len(quiet) :] -= np.asarray(hum)[len(quiet) :, None]
        self.assertEqual(self.in_pieces(long, RATE, 5.5)[1]["hum"].value, [])
        cut = np.clip(quiet, -0.4 * np.abs(quiet).max(), 0.4 * np.abs(quiet).max())
        self.assertGreater(faults.clipped_samples([faults.highest_of(cut)]), 100)
        self.assertEqual(self.in_pieces(np.vstack([cut, quiet]), RATE, 5.5)[1]["clipped_samples"].value, 0.0)
        both = np.hstack([np.vstack([quiet, quiet]), np.vstack([quiet, 0 * quiet])])
        hearing, told_of = self.in_pieces(both, RATE, 5.5)
        self.assertEqual(told_of["dead_channels"].value, [])
        self.assertFalse(faults.is_doubled(products_of(hearing.ended())))


class AsTheyChange(TestCase):
    @promise(30)
    @given(st.floats(-30, 6))
    def test_a_louder_copy_is_louder_by_as_much_and_no_better(self, gain_db: float) -> None:
        plain, louder = of_voice(), figures(voice()[: 4 * RATE] * 10 ** (gain_db / 20) * 0.5)
        for name in ("integrated_lufs", "true_peak_dbtp", "speech_active_dbfs", "noise_dbfs"):
            self.assertAlmostEqual(float(louder[name].value) - float(plain[name].value), gain_db - 6.02, delta=0.25, msg=name)  # type: ignore[arg-type]
        self.assertAlmostEqual(float(louder["snr_db"].value), float(plain["snr_db"].value), delta=0.3)  # type: ignore[arg-type]
        self.assertEqual(len(louder["pops_s"].value), len(plain["pops_s"].value))  # type: ignore[arg-type]

    @promise(30)
    @given(st.sampled_from([50.0, 60.0]), st.floats(-0.1, 0.1), st.floats(-58, -36), st.integers(1, 4))
    def test_hum_is_found_with_its_frequency_and_its_lines(self, mains_hz: float, off_hz: float, level_dbfs: float, lines: int) -> None:
        times = np.arange(6 * RATE) / RATE
        size = math.sqrt(2) * 10 ** (level_dbfs / 20)
        added = sum(size * np.sin(2 * np.pi * (mains_hz + off_hz) * order * times + order) for order in range(1, lines + 1))
        mono = voice()[: 6 * RATE, 0]
        found = hum_of(mono + np.asarray(added), RATE)
        told = found.data() if found else []
        self.assertEqual([round(line["hz"] / mains_hz) for line in told][:lines], list(range(1, lines + 1)))
        for line in told[:lines]:
            self.assertAlmostEqual(line["dbfs"], level_dbfs, delta=1.5)
        self.assertAlmostEqual(told[0]["hz"], mains_hz + off_hz, delta=0.2)
        self.assertIsNone(hum_of(mono + size * np.sin(2 * np.pi * 55.0 * times), RATE), "55 Hz is a machine, and no mains")

    @promise(30)
    @given(st.floats(0.15, 0.6), st.floats(0.05, 1.0))
    def test_what_is_cut_off_is_counted_below_full_scale_too(self, at: float, gain: float) -> None:
        samples = voice()[: 5 * RATE] / np.abs(voice()[: 5 * RATE]).max()
        cut = np.clip(samples, -at, at)
        whole = int((np.abs(samples) >= at).sum())
        found = faults.clipped_samples([faults.highest_of(np.round(cut * gain * 8388608) / 8388608)])
        self.assertAlmostEqual(found, whole, delta=0.05 * whole + 40)
        self.assertEqual(faults.clipped_samples([faults.highest_of(samples * gain)]), 0)

    @promise(30)
    @given(st.floats(0.15, 1.2), st.integers(0, 1000))
    def test_a_room_that_is_made_dies_away_as_it_was_made(self, t60_s: float, seed: int) -> None:
        """Noise that decays by 60 dB in a given time is what Schroeder's integral tells; two claps, quiet noise under them."""
        random = np.random.default_rng(seed)
        signal = 1e-5 * random.standard_normal(round(5.0 * RATE))
        for at in (0.5, 2.8):
            tail = np.arange(round(2.0 * RATE)) / RATE
            burst = random.standard_normal(len(tail)) * 10 ** (-3 * tail / t60_s) * 0.1
            burst[:96] += 0.9 * random.standard_normal(96)
            signal[round(at * RATE) :][: len(tail)] += burst
        claps = decay.claps_s(signal, RATE)
        self.assertEqual(len(claps), 2)
        for centre_hz, found_s in zip(CENTRES_HZ, map(np.median, decay.decays_s(signal, RATE, claps)), strict=True):
            # Of two such decays even the best estimate spreads by 0.62 over the root of bandwidth times T.
            chance = 3.5 * 0.62 / math.sqrt(0.707 * centre_hz * t60_s)
            limit = max(0.2 if centre_hz <= 250 else 0.12, chance)
            self.assertAlmostEqual(float(found_s), t60_s, delta=limit * t60_s, msg=str(centre_hz))

    def test_channels_dead_doubled_and_mixed_down(self) -> None:
        mono = voice()[: 4 * RATE]
        self.assertEqual(figures(np.hstack([mono, np.zeros_like(mono)]))["dead_channels"].value, [2])
        self.assertEqual(figures(np.hstack([mono * 1e-6, mono]))["dead_channels"].value, [1])
        self.assertEqual(figures(np.hstack([mono, mono]))["dead_channels"].value, [])
        for second, same in ((mono, True), (np.roll(mono, 300), False)):
            both = np.hstack([mono, second])
            self.assertEqual(faults.is_doubled(both.T @ both / len(both)), same)
        alone, beside = figures(mono), figures(np.hstack([mono, np.zeros_like(mono)]))
        self.assertAlmostEqual(float(alone["speech_active_dbfs"].value), float(beside["speech_active_dbfs"].value), delta=0.05)  # type: ignore[arg-type]

    def test_a_line_that_is_narrow_and_what_was_compressed(self) -> None:
        from scipy.signal import firwin, lfilter

        mono = voice()[: 5 * RATE, 0] + 1e-3 * np.random.default_rng(3).standard_normal(5 * RATE)
        for edge_hz in (3400.0, 8000.0, 12000.0):
            narrow = lfilter(firwin(1001, edge_hz, fs=RATE), 1, mono)[:, None]
            told = figures(np.round(narrow * 8388608) / 8388608)["band_edge_hz"].value
            self.assertAlmostEqual(float(told or 0), edge_hz, delta=500)  # type: ignore[arg-type]
        self.assertIsNone(figures(voice(), lossless=False)["clipped_samples"].value)

    def test_odd_recordings_are_refused_figure_by_figure(self) -> None:
        for samples, why in ((np.zeros((3 * RATE, 1)), "nothing to be heard"), (voice()[: RATE // 3], "too short")):
            told = figures(samples)
            self.assertEqual([figure.value for figure in told.values()], [None] * len(NAMES))
            self.assertTrue(all(why in figure.refused for figure in told.values()))
        hiss = 0.01 * np.random.default_rng(5).standard_normal((4 * RATE, 1))
        told = figures(hiss)
        self.assertIsNone(told["speech_active_dbfs"].value)
        self.assertAlmostEqual(float(told["noise_dbfs"].value), -40.0, delta=1.0)  # type: ignore[arg-type]
        self.assertEqual((told["hum"].value, told["pops_s"].value, told["claps_s"].value), ([], [], []))

    def test_true_peak_is_what_full_oversampling_finds(self) -> None:
        from scipy.signal import resample_poly

        for seed in range(3):
            samples = np.random.default_rng(seed).standard_normal((20000, 2)) * 0.2
            wanted = 20 * math.log10(float(np.abs(resample_poly(samples, 4, 1, axis=0)).max()))
            self.assertAlmostEqual(20 * math.log10(levels.true_peak(samples)), wanted, delta=0.02)
        self.assertEqual(decay.claps_s(np.zeros(RATE), RATE), [])


class Pictures(TestCase):
    @promise(40)
    @given(st.floats(0.4, 6.0), st.floats(70, 180), st.integers(0, 99))
    def test_noise_is_what_was_put_in(self, sigma: float, grey: float, seed: int) -> None:
        random = np.random.default_rng(seed)
        slope = np.linspace(-20, 20, 320)[None, :, None] + np.zeros((240, 320, 3))
        picture = np.clip(np.round(grey + slope + sigma * random.standard_normal((240, 320, 3))), 0, 255).astype(np.uint8)
        self.assertAlmostEqual(100 * (noise_share(picture) or 0.0), 100 * sigma / 255, delta=0.15 * 100 * sigma / 255 + 0.02)

    @promise(40)
    @given(st.floats(1.5, 6.0), st.floats(0, math.pi))
    def test_an_edge_is_as_wide_as_its_blur(self, sigma: float, turn: float) -> None:
        """By hand: a step blurred by a Gaussian goes from 10 to 90 % over 2.563 times its spread."""
        from scipy.special import erf

        across, down = np.meshgrid(np.arange(120) - 60, np.arange(120) - 60)
        level = 120 + 90 * erf((across * math.cos(turn) + down * math.sin(turn)) / (sigma * math.sqrt(2)))
        self.assertAlmostEqual(edge_width(level, np.array([60.0, 60.0]), 40) or 0.0, 2.563 * sigma, delta=0.15 * 2.563 * sigma)

    @promise(60)
    @given(st.floats(-8, 8), st.floats(-12, 12), st.integers(0, 999))
    def test_a_room_leans_as_it_was_turned(self, lean_deg: float, nod_deg: float, seed: int) -> None:
        """Uprights of a room seen by a camera that nods and leans, with lines in all directions among them."""
        random = np.random.default_rng(seed)
        nod, lean = math.radians(nod_deg), math.radians(lean_deg)
        lines = []
        for _ in range(9):
            x, y0, y1 = random.uniform(-0.6, 0.6), *sorted(random.uniform(-0.4, 0.4, 2))
            ends = []
            for y in (y0, y1 + 0.15):
                depth = math.cos(nod) + y * math.sin(nod)
                across, down = x / depth, (y * math.cos(nod) - math.sin(nod)) / depth
                # A camera that leans clockwise draws the room leaning the other way.
                ends += [
                    640 + 900 * (across * math.cos(lean) + down * math.sin(lean)),
                    360 + 900 * (-across * math.sin(lean) + down * math.cos(lean)),
                ]
            lines.append(ends)
        for _ in range(4):
            at, turn = random.uniform((200, 100), (1000, 600)), random.uniform(0, math.pi)
            lines.append([*at, at[0] + 90 * math.cos(turn), at[1] + 90 * math.sin(turn)])
        found = room_lean_deg(np.array(lines) + 0.15 * random.standard_normal((13, 4)), 1280, 720)
        assert found is not None
        self.assertAlmostEqual(found, lean_deg, delta=0.5)
        self.assertIsNone(room_lean_deg(np.array(lines)[9:], 1280, 720))
        self.assertIsNone(room_lean_deg(np.zeros((0, 4)), 1280, 720))

    def test_a_lens_that_was_wiped_shows_less_haze(self) -> None:
        random = np.random.default_rng(2)
        clear = random.uniform(0.01, 0.3, (270, 480))
        clear[60:90, 200:240] = 1.0
        across, down = np.meshgrid(np.arange(480) - 220, np.arange(270) - 75)
        veil = np.exp(-np.hypot(across, down) / 60)
        shares = [haze_share(np.clip(clear + glow * veil, 0, 1), clear >= 1) for glow in (0.0, 0.05, 0.2)]
        assert None not in shares
        self.assertAlmostEqual(float(shares[0] or 0.0), 0.0, delta=0.01)
        self.assertLess(float(shares[0] or 0.0) + 0.005, float(shares[1] or 0.0))
        self.assertLess(float(shares[1] or 0.0) + 0.01, float(shares[2] or 0.0))
        self.assertIsNone(haze_share(clear, clear > 2))

    def test_sides_backdrop_and_what_is_burnt_by_hand(self) -> None:
        """A drawn face of two even halves before an even wall: halves of 1 stop, a wall 2 stops under the mean of them, a burnt strip."""
        linear = np.full((400, 600), 0.05)
        linear[100:300, 200:300], linear[100:300, 300:400] = 0.4, 0.2
        linear[:20] = 1.0
        picture = np.repeat(np.round(255 * (1.055 * linear ** (1 / 2.4) - 0.055))[..., None], 3, axis=2).astype(np.uint8)
        person = np.zeros((400, 600))
        person[100:300, 200:400] = 1.0
        person[:30] = 1.0  # the strip is no backdrop
        cheeks = tuple(np.array([(x, 180), (x + 60, 180), (x + 60, 240), (x, 240)], float) for x in (320, 220))
        spots = [np.array(spot, float) for spot in ((340, 160), (260, 160), (300, 290), (300, 100))]
        told = {figure.id: figure.value for figure in still_figures(picture, Marks(*spots, cheeks, person), True)}  # type: ignore[arg-type]
        for name, wanted, limit in (("halves", 1.0, 0.03), ("backdrop", math.log2(math.sqrt(0.08) / 0.05), 0.04), ("burnt_out", 0.05, 0.001),
                                    ("eye_line", 0.4, 1e-9), ("headroom", 0.25, 1e-9), ("head_share", 0.475, 1e-9), ("side_position", 0.5, 1e-9),
                                    ("roll", 0.0, 1e-9)):  # fmt: skip
            self.assertAlmostEqual(float(told[f"picture.{name}"]), wanted, delta=limit, msg=name)  # type: ignore[arg-type]
        nobody = {figure.id: figure for figure in still_figures(picture, None, False)}
        self.assertEqual(
            {name for name, figure in nobody.items() if figure.value is not None}, {"picture.burnt_out", "picture.crushed", "picture.haze"}
        )
        self.assertIn("marks", nobody["picture.eye_line"].refused)
        self.assertEqual(told["picture.crushed"], 0.0)
        self.assertLess(float(told["picture.face_burnt"]), 0.001)  # type: ignore[arg-type]
        bright = picture.copy()
        bright[100:150, 200:400] = 255  # the upper quarter of a face of 190 px
        upper = next(figure.value for figure in still_figures(bright, Marks(*spots), True) if figure.id == "picture.face_burnt")
        self.assertAlmostEqual(float(upper), (math.acos(45 / 95) - 45 / 95 * math.sin(math.acos(45 / 95))) / math.pi, delta=0.01)  # type: ignore[arg-type]
        black = {figure.id: figure.refused for figure in still_figures(np.zeros_like(picture), Marks(*spots), True)}
        self.assertEqual(black["picture.halves"], "too dark to tell")
