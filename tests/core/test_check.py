"""The sheet of a take: what agrees with the plan, what differs and why, and what is taken over as measured."""

from __future__ import annotations

import math
import re
from typing import Any
from unittest import TestCase

import numpy as np
from scipy.signal import sosfilt

from tests.setups import demo, demos, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.check.accept import acceptable
from uphill_lamp.core.check.causes import USUAL
from uphill_lamp.core.check.echo import echo_figure
from uphill_lamp.core.check.general import MOVES, SHOTS, _bands, general
from uphill_lamp.core.check.paper import TO_XYZ, Exposure, paper_figures
from uphill_lamp.core.check.sheet import BROKEN, ROWS, Line, expected_of, sheet
from uphill_lamp.core.check.tone import tone_figure, usual_octaves_db
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.document.devices import WhiteBalance
from uphill_lamp.core.document.fields import OriginNote, kind_of
from uphill_lamp.core.field.camera.spectral_mix import SpectralMix
from uphill_lamp.core.field.light.colour import white_uv
from uphill_lamp.core.measuring.figure import Figure, refused, report
from uphill_lamp.core.measuring.heard import heard
from uphill_lamp.core.measuring.octave_filters import CENTRES_HZ, octave_filter
from uphill_lamp.core.measuring.recording import Recording
from uphill_lamp.core.measuring.sound import NAMES
from uphill_lamp.core.scene.aiming import tilted_to
from uphill_lamp.core.scene.scene import scene_of

BANDS = (125.0, 250.0, 500.0, 1000.0, 2000.0, 4000.0, 8000.0)


def take(**values: Any) -> dict[str, Any]:
    """A report of figures given as ``picture__roll=3.0``; a unit and a tolerance as they really come."""
    units = {"picture__roll": ("deg", 1.5), "sound__snr_a_db": ("dB", 1.5), "sound__t20_s": ("s", None)}
    return report("sound", [Figure(name.replace("__", "."), value, *units.get(name, ("share", 0.005))) for name, value in values.items()])


def line(setup: Setup, name: str, value: Any) -> Line:
    return next(row for row in sheet(appraise(setup), take(**{name.replace(".", "__"): value})) if row.id == name)


class Sheet(TestCase):
    def test_what_is_as_planned_differs_stands_alone_and_is_refused_in_that_order_of_need(self) -> None:
        setup = demo("room-that-works")
        planned = {name: expected_of(name, appraise(setup)) for name in ROWS}
        same = take(**{name.replace(".", "__"): value for name, value in planned.items() if value is not None and name != "sound.t20_s"})
        self.assertEqual({row.state for row in sheet(appraise(setup), same)}, {"as planned"})
        mixed = take(picture__eye_line=0.6, picture__side_position=0.5, sound__noise_dbfs=-60.0, sound__hum=[{"hz": 50.0, "dbfs": -50.0}])
        mixed["figures"] += [refused("picture.noise", "too compressed to tell").data(), {**refused("picture.unknown", "").data()}]
        rows = sheet(appraise(setup), mixed)
        self.assertEqual([row.state for row in rows], ["off", "off", "as planned", "alone", "refused"])
        self.assertTrue(all(row.cause and row.cause.move and row.cause.proof for row in rows[:2]))
        self.assertEqual(rows[-1].refused, "too compressed to tell")
        self.assertEqual(round(rows[0].difference or 0.0, 3), round(0.6 - (planned["picture.eye_line"] or 0.0), 3))

    def test_every_figure_that_is_measured_has_its_line(self) -> None:
        self.assertLessEqual({f"sound.{name}" for name in NAMES}, set(ROWS))
        self.assertLessEqual(BROKEN.keys(), USUAL.keys())
        for name, row in ROWS.items():
            self.assertTrue(row.label and (name in USUAL or row.usual or row.slack or name.rsplit("_", 1)[1] == "s"), name)

    def test_a_fault_in_the_sound_is_off_whatever_the_plan(self) -> None:
        for name, there, none in (("sound.clipped_samples", 40.0, 0.0), ("sound.pops_s", [1.0], []), ("sound.dead_channels", [2], [])):
            self.assertEqual((line(demo(), name, there).state, line(demo(), name, none).state), ("off", "as planned"), name)


class Causes(TestCase):
    """What was put wrong is what is named, and by as much."""

    def named(self, planned: Setup, real: Setup, *figures: str) -> dict[str, Line]:
        """The sheet of a setup as it really is against the plan of it."""
        there = {name: expected_of(name, appraise(real)) for name in figures}
        return {row.id: row for row in sheet(appraise(planned), take(**{name.replace(".", "__"): value for name, value in there.items()}))}

    def test_a_camera_turned_and_a_seat_moved_are_told_apart(self) -> None:
        for name in demos():
            plan = demo(name)
            lines = self.named(plan, self.tilted(plan), "picture.eye_line", "picture.head_share")
            cause = lines["picture.eye_line"].cause
            assert cause is not None
            self.assertIn("The camera looks", cause.words, name)
            self.assertRegex(cause.move, "lid|camera")
            face = scene_of(plan).face
            back = put(
                plan,
                presenter__x_m=plan.presenter.x_m - 0.2 * float(face.forward[0]),
                presenter__y_m=plan.presenter.y_m - 0.2 * float(face.forward[1]),
            )
            lines = self.named(plan, back, "picture.eye_line", "picture.head_share", "picture.side_position")
            head = lines["picture.head_share"]
            if head.state == "off":
                assert head.cause is not None
                self.assertIn("further away than planned", head.cause.words)
                told = int(re.search(r"(\d+) cm", head.cause.move).group(1))  # type: ignore[union-attr]
                self.assertAlmostEqual(told, 20, delta=4, msg=name)
                if lines["picture.eye_line"].cause:
                    self.assertIn("head's size", lines["picture.eye_line"].cause.words)

    def tilted(self, plan: Setup) -> Setup:
        patch = tilted_to(plan, 0.55)
        assert patch
        return applied(plan, patch)

    def test_to_the_left_is_the_presenter_s_left(self) -> None:
        plan = demo("room-that-works")
        left = scene_of(plan).face.left
        real = put(
            plan, presenter__x_m=plan.presenter.x_m + 0.15 * float(left[0]), presenter__y_m=plan.presenter.y_m + 0.15 * float(left[1])
        )
        cause = self.named(plan, real, "picture.side_position")["picture.side_position"].cause
        assert cause is not None
        self.assertRegex(cause.words, r"1[3-7] cm to your left")
        self.assertRegex(cause.move, r"to your right, or turn the camera to your left")

    def test_every_figure_that_can_be_off_has_a_cause_a_proof_and_a_move(self) -> None:
        base = appraise(demo())
        for name in ROWS:
            for more in (-30.0, 30.0):
                value: Any = [3.0] if name.endswith("_s") and name != "sound.t20_s" else more + (expected_of(name, base) or 0.0)
                if name == "sound.t20_s":
                    value = [{"hz": hz, "s": max(value, 0.01)} for hz in BANDS]
                elif name == "sound.hum":
                    value = [{"hz": 50.0, "dbfs": -40.0}]
                row = sheet(base, take(**{name.replace(".", "__"): value}))[0]
                if row.state == "off":
                    assert row.cause is not None
                    self.assertTrue(row.cause.words and row.cause.proof and row.cause.move and row.cause.seconds, name)
                    self.assertNotIn("not as the plan says", row.cause.words, name)

    def test_what_is_soonest_mended_stands_first(self) -> None:
        rows = [
            row
            for row in sheet(appraise(demo()), take(picture__eye_line=0.7, picture__halves=3.0, sound__hum=[{"hz": 50.0, "dbfs": -50.0}]))
            if row.cause
        ]
        seconds = [row.cause.seconds for row in rows if row.cause]
        self.assertEqual((len(rows), seconds), (3, sorted(seconds)))

    def test_the_same_as_the_last_good_one_or_not(self) -> None:
        good = take(picture__eye_line=0.4, picture__head_share=0.4, sound__noise_dbfs=-60.0)
        for value, changed in ((0.415, False), (0.43, True)):
            row = sheet(appraise(demo()), take(picture__eye_line=value), good)[0]
            self.assertEqual((row.good, row.changed), (0.4, changed))
        self.assertTrue(
            next(row for row in sheet(appraise(demo()), take(picture__head_share=0.415), good) if row.good).changed
        )  # 3 % of itself
        self.assertFalse(sheet(appraise(demo()), take(picture__noise=3.0), good)[0].changed)


class Accepted(TestCase):
    def after(self, setup: Setup, **values: Any) -> Setup:
        """The setup with all of a take taken over."""
        for figure in acceptable(appraise(setup), take(**values)).values():
            note = OriginNote(kind="measured", tolerance=figure.tolerance)
            setup = applied(setup, figure.patch, note.model_dump(mode="json", exclude_none=True))  # type: ignore[arg-type]
        return setup

    def test_the_camera_then_looks_where_it_was_seen_to_look(self) -> None:
        for name in demos():
            setup = demo(name)
            there = self.after(setup, picture__eye_line=0.45)
            self.assertAlmostEqual(float(scene_of(there).pinhole.project(scene_of(there).face.eyes)[1]), 0.45, delta=0.002, msg=name)
            leaning = self.after(setup, picture__roll=4.0)
            self.assertEqual(leaning.main_camera.roll_deg, 4.0)
            path = f"/cameras/{setup.main_camera.id}/roll_deg"
            self.assertEqual(kind_of(leaning.origins[path]), "measured")
            self.assertEqual(leaning.origins[path].tolerance, 1.5)  # type: ignore[union-attr]

    def test_the_room_then_rings_as_it_was_heard_to_and_it_counts(self) -> None:
        setup = demo()
        heard = [{"hz": hz, "s": value} for hz, value in zip(BANDS, (None, 0.9, 0.8, 0.7, 0.6, 0.5, None), strict=True)]
        there = self.after(setup, sound__t20_s=heard)
        self.assertEqual(there.room.measured_t60_s, (0.9, 0.9, 0.8, 0.7, 0.6, 0.5, 0.5))
        self.assertEqual(expected_of("sound.t20_s", appraise(there)), 0.75)
        self.assertNotEqual(appraise(there).score, appraise(setup).score)
        few = [{"hz": hz, "s": 0.5 if hz > 2000 else None} for hz in BANDS]
        self.assertEqual(acceptable(appraise(setup), take(sound__t20_s=few)), {})

    def test_the_noise_then_stands_as_far_under_the_voice_as_it_was_heard_to(self) -> None:
        for wanted_db in (12.0, 20.0):
            there = self.after(demo(), sound__snr_a_db=wanted_db)
            self.assertAlmostEqual(expected_of("sound.snr_a_db", appraise(there)) or 0.0, wanted_db, delta=1.5)
        quiet = put(demo(), noises=[])
        self.assertEqual(acceptable(appraise(quiet), take(sound__snr_a_db=10.0)), {})


class Voices(TestCase):
    def test_a_tone_that_was_bent_is_told_and_one_that_was_not_is_even(self) -> None:
        random, rate, usual = np.random.default_rng(4), 48000, usual_octaves_db()
        times = np.arange(8 * rate) / rate
        speaks = (times > 2) & (np.sin(2 * np.pi * 1.5 * times) > -0.5)
        for bent in (np.zeros(7), np.array([7.0, 3.0, 0, 0, 0, -5.0, -9.0])):
            octaves = []
            for hz, level in zip(CENTRES_HZ, usual + bent - usual.max() - 20, strict=True):
                octave = sosfilt(octave_filter(float(hz), rate), random.standard_normal(len(times)))
                octaves.append(10 ** (level / 20) * octave / octave.std())
            samples = np.sum(octaves, axis=0) * speaks + 1e-5 * random.standard_normal(len(times))
            figure = tone_figure([heard(Recording(samples[:, None], rate))], (2.0, 8.0))
            for part, wanted in zip(figure.value, bent, strict=True):  # type: ignore[arg-type]
                self.assertAlmostEqual(part["db"], wanted, delta=3.0, msg=str(part))
        self.assertIn("nobody speaks", tone_figure([], None).refused)

    def test_loudspeakers_heard_back(self) -> None:
        voice = take(sound__speech_active_dbfs=-24.0)["figures"]
        self.assertEqual(echo_figure(voice, take(sound__speech_active_dbfs=-44.0)["figures"]).value, -20.0)
        self.assertIn("as it should be", echo_figure(voice, take(sound__noise_dbfs=-60.0)["figures"]).refused)
        self.assertIn("nobody speaks", echo_figure([], voice).refused)


class Paper(TestCase):
    """White paper under light of a known colour, exposed in a known way."""

    def picture(self, uv: tuple[float, float], level: float) -> np.ndarray:
        u, v = uv
        x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
        linear = np.clip(np.linalg.inv(TO_XYZ) @ np.array([x / y, 1.0, (1 - x - y) / y]) * level, 0, 1)
        shown = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
        return np.full((80, 120, 3), np.round(255 * shown), np.uint8)

    def test_colour_and_level_are_what_they_were_made(self) -> None:
        exposure = Exposure(2.8, 1 / 60, 400.0)
        for cct_k in (4000, 5000, 5600, 6500, 7500):
            for level in (0.12, 0.4, 0.6):
                cct, lx = paper_figures(self.picture(white_uv(cct_k), level), np.array([60.0, 40.0]), exposure)
                self.assertAlmostEqual(float(cct.value), cct_k, delta=100)  # type: ignore[arg-type]
                # By hand: grey of 18 % under E gives H = E t 0.18 / pi / ... a meter's 15.4 N2 / (t S) cd/m2.
                luminance = 15.4 * 2.8**2 * 60 / 400 * level / 0.18
                self.assertAlmostEqual(float(lx.value), math.pi * luminance / 0.8, delta=0.03 * math.pi * luminance / 0.8)  # type: ignore[arg-type]

    def test_what_cannot_be_told_is_said(self) -> None:
        place, exposure = np.array([60.0, 40.0]), Exposure(2.8, 1 / 60, 400.0)
        for level, said in ((0.95, "too bright"), (0.005, "too dark")):
            for figure in paper_figures(self.picture(white_uv(6500), level), place, exposure):
                self.assertIn(said, figure.refused)
        red = np.zeros((80, 120, 3), np.uint8) + np.array([180, 40, 40], np.uint8)
        self.assertIn("no white", paper_figures(red, place, exposure)[0].refused)
        self.assertIn("put the mark", paper_figures(red, None, exposure)[0].refused)
        for odd in (None, [], [1, 2], ["2.8", 1, 1], [2.8, 0, 100], [float("nan"), 0.01, 100], {"f": 1}):
            self.assertIsNone(Exposure.of(odd))

    def test_paper_at_the_face_is_held_against_the_planned_light(self) -> None:
        setup = demo("room-that-works")
        front_lx = appraise(setup).lit_scene.face_lx["front"]
        self.assertAlmostEqual(expected_of("picture.paper_lx", appraise(setup)) or 0.0, front_lx)
        for share, state in ((1.0, "as planned"), (0.7, "as planned"), (1.6, "off"), (0.4, "off")):
            figure = Figure("picture.paper_lx", share * front_lx, "lx", 0.1 * share * front_lx, "rough").data()
            [line] = sheet(appraise(setup), {"figures": [figure]})
            self.assertEqual(line.state, state, share)
        self.assertIn("gives less", line.cause.words)  # type: ignore[union-attr]
        face_k = SpectralMix(appraise(setup).lit_scene, appraise(setup).metered).face_cct_k or 0.0
        for locked_k, comes_out_k in ((face_k, 6504.0), (1e6 / (1e6 / face_k - 40), 1e6 / (1e6 / 6504 + 40))):
            camera = setup.main_camera.model_copy(update={"white_balance": WhiteBalance(kind="locked", cct_k=locked_k)})
            there = setup.model_copy(update={"cameras": (camera, *setup.cameras[1:])})
            self.assertAlmostEqual(expected_of("picture.paper_cct", appraise(there)) or 0.0, comes_out_k, delta=20)


class Anybody(TestCase):
    def test_each_band_has_its_two_ends_with_a_move_where_it_is_wanting(self) -> None:
        """Far below and far above each band: a move wherever that is wanting, and none where it is good."""
        for shot in SHOTS:
            for name, band in _bands(shot).items():
                for end, outer in ((0, band.outer_low), (1, band.outer_high)):
                    if outer is None:
                        continue
                    value = [{"hz": 500.0, "s": outer}, {"hz": 1000.0, "s": outer}] if name == "sound.t20_s" else outer
                    told = general(take(**{name.replace(".", "__"): value}), shot)[0]
                    self.assertEqual((told.state, told.move), ("wanting", MOVES[name][end]), (shot, name, outer))
                    self.assertTrue(told.move)

    def test_a_good_one_and_one_with_faults(self) -> None:
        good = take(picture__eye_line=0.35, picture__head_share=0.45, sound__hum=[], sound__snr_a_db=30.0)
        self.assertEqual({told.state for told in general(good, "call_tile")}, {"good"})
        bad = {told.id: told for told in general(take(sound__hum=[{"hz": 50.0, "dbfs": -40.0}], sound__clipped_samples=9.0), "waist")}
        self.assertTrue(all(told.state == "wanting" and told.move for told in bad.values()))
