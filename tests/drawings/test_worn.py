"""What is worn, in the picture and in figures: a pattern shimmers in the one where the other says so."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import cv2
import numpy as np

from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.backdrop.worn import CHEST_M, NO_PATTERN_PX, is_strong_red, pitch_px
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.drawings.far_side.render import render

ROWS, COLUMNS = 240, 426  # of a tile among nine: the coarsest picture on its way


def wearing(**top: Any) -> Setup:
    garment = {"id": "top", "name": "Shirt", "kind": "top", "colour": "#8a9096", "reflectance": 0.3} | top
    return put(demo("room-that-works"), presenter__clothing=[garment])


def pitch_m(px: float) -> float:
    """The repeat that is so many of the rows high on the chest."""
    pinhole, face = scene_of(wearing()).pinhole, scene_of(wearing()).face
    away_m = float(pinhole.depth(face.at(CHEST_M[0], 0, CHEST_M[1])[None])[0])
    return px / ROWS * 2 * pinhole.field.half_height * away_m


def spectrum(px: float) -> tuple[np.ndarray, np.ndarray]:
    """Frequencies [1/px] and power of stripes of a repeat down the chest, as the picture has them, what is plain there taken out."""
    striped, plain = (render(appraise(setup), COLUMNS).pixels.astype(float).mean(axis=2)
                      for setup in (wearing(pattern="stripe", pitch_m=pitch_m(px)), wearing()))  # fmt: skip
    face = scene_of(wearing()).face
    spots = scene_of(wearing()).pinhole.project(np.array([face.at(0.05, 0.03, up) for up in (-0.27, -0.40)])) * (COLUMNS, ROWS)
    top, foot, x = int(spots[0, 1]), min(int(spots[1, 1]), ROWS - 2), int(spots[:, 0].mean())
    column = striped[top:foot, x] / plain[top:foot, x]
    column = (column - column.mean()) * np.hanning(len(column))
    return np.fft.rfftfreq(512), np.abs(np.fft.rfft(column, 512)) ** 2


class Shimmer(TestCase):
    def test_the_picture_has_other_stripes_than_the_shirt_where_the_figure_says_so_and_nowhere_else(self) -> None:
        for px in (1.25, 1.45, 1.7, 2.5, 3.5, 6.0, 9.0):
            frequency, power = spectrum(px)
            strongest = float(frequency[power[4:].argmax() + 4])
            own, value = 1 / px, pitch_px(wearing(), pitch_m(px)) or 0.0
            with self.subTest(px=px):
                self.assertAlmostEqual(value, 0.7 * px, delta=0.02)
                if px < 2:  # folded back at one a pixel: stripes that nobody wears
                    self.assertAlmostEqual(strongest, abs(own - round(own)), delta=0.04)
                    self.assertLess(value, 3)
                else:
                    self.assertAlmostEqual(strongest, own, delta=0.04)
                    beside = power[(frequency > 0.03) & (frequency < 0.6 * own)]
                    self.assertLess(float(beside.max(initial=0.0)), 0.1 * float(power[4:].max()))

    def test_it_is_told_and_something_plain_mends_it(self) -> None:
        fine = appraise(wearing(pattern="check", pitch_m=0.004))
        self.assertLess(fine.measures["backdrop.shimmer"].value or 9, 3)
        finding = next(finding for finding in fine.findings_with_gains if finding.id == "backdrop.shimmer")
        move = finding.moves[0]
        self.assertRegex(move.detail, r"^Or a pattern whose repeat is \d+\.\d cm or more")
        after = appraise(applied(fine.setup, move.patch))
        self.assertEqual(after.measures["backdrop.shimmer"].value, NO_PATTERN_PX)
        self.assertAlmostEqual(after.score - fine.score, move.gain or 0, places=6)
        for tiny in (0.0002, 0.0):
            self.assertTrue(np.isfinite(appraise(wearing(pattern="stripe", pitch_m=tiny)).score))
        soft = {"kind": "manual", "distance_m": 0.3}  # focused far before the chest, nothing is left of stripes
        blurred = put(wearing(pattern="stripe", pitch_m=0.004), cameras__camera__focus=soft)
        self.assertEqual(appraise(blurred).measures["backdrop.shimmer"].value, NO_PATTERN_PX)


class StrongRed(TestCase):
    def test_red_is_red_within_twenty_degrees_and_saturated(self) -> None:
        for hue in range(0, 360, 5):
            for saturation in (0.7, 0.95):
                pixel = np.array([[[hue / 2, 255 * 0.45, 255 * saturation]]], np.float32) / (1, 255, 255) * (2, 1, 1)
                rgb = cv2.cvtColor(pixel.astype(np.float32), cv2.COLOR_HLS2RGB)[0, 0]
                colour = "#" + "".join(f"{round(255 * float(value)):02x}" for value in rgb)
                if abs(abs(hue - 180) - 160) > 2:  # a colour of 256 steps may fall to either side of the edge
                    self.assertEqual(is_strong_red(colour), min(hue, 360 - hue) <= 20 and saturation > 0.8, (colour, hue, saturation))

    def test_a_red_top_fills_what_the_body_shows_and_another_colour_mends_it(self) -> None:
        red = appraise(wearing(colour="#e01010"))
        share = red.measures["backdrop.strong_colour"].value or 0.0
        pixels = render(red, 640).pixels.astype(int)
        seen = float(((pixels[..., 0] > 2 * pixels[..., 1]) & (pixels[..., 0] > 2 * pixels[..., 2]) & (pixels[..., 0] > 40)).mean())
        self.assertAlmostEqual(share, seen, delta=0.05)
        finding = next(finding for finding in red.findings_with_gains if finding.id == "backdrop.strong_colour")
        calm = appraise(applied(red.setup, finding.moves[0].patch))
        self.assertEqual(calm.measures["backdrop.strong_colour"].value, 0)
        self.assertEqual(appraise(wearing()).measures["backdrop.strong_colour"].value, 0)


class Hidden(TestCase):
    def test_dark_glasses_hide_the_eyes_in_the_picture_and_are_told(self) -> None:
        tinted = {share: put(demo("room-that-works"), presenter__glasses="anti_reflective", presenter__glasses_transmittance=share)
                  for share in (1.0, 0.5, 0.2)}  # fmt: skip
        face, pinhole = scene_of(tinted[1.0]).face, scene_of(tinted[1.0]).pinhole
        x, y = pinhole.project(face.at(0.02, 0.045, -0.008)) * (640, 360)
        patches = [
            float(render(appraise(setup), 640).pixels[int(y) - 2 : int(y) + 3, int(x) - 2 : int(x) + 3].mean()) for setup in tinted.values()
        ]
        self.assertTrue(patches[0] > 1.15 * patches[1] > 1.3 * patches[2], patches)
        self.assertEqual(
            [("backdrop.dark_glasses" in {f.id for f in appraise(setup).findings}) for setup in tinted.values()], [False, False, True]
        )
        dark = appraise(tinted[0.2])
        finding = next(finding for finding in dark.findings_with_gains if finding.id == "backdrop.dark_glasses")
        self.assertEqual((finding.severity, len(finding.moves)), ("grave", 2))
        for move in finding.moves:
            self.assertNotIn("backdrop.dark_glasses", {left.id for left in appraise(applied(dark.setup, move.patch)).findings})

    def test_a_brim_is_told_by_what_it_takes_off_the_face(self) -> None:
        interview = demo("interview-by-phone")
        ahead = scene_of(interview).face.eyes + 0.7 * scene_of(interview).face.forward
        overhead = {"x_m": float(ahead[0]), "y_m": float(ahead[1]), "z_m": 2.2}  # a bare bulb above the desk
        hatted, bare = (put(interview, lights__ceiling_h_lamp__position=overhead, presenter__brim_m=brim_m) for brim_m in (0.12, 0.0))
        lost = float(np.log2(appraise(bare).lit_scene.face_lx["front"] / appraise(hatted).lit_scene.face_lx["front"]))
        hat = next(finding for finding in appraise(hatted).findings_with_gains if finding.id == "backdrop.hat")
        self.assertEqual(hat.title, f"The brim of your hat takes {lost:.1f} stops of light off your face")
        self.assertEqual(hat.moves[0].patch[0]["path"], "/presenter/brim_m")
        for move in hat.moves:
            after = appraise(applied(hatted, move.patch))
            self.assertNotIn("backdrop.hat", {left.id for left in after.findings})
            self.assertGreater(after.lit_scene.face_lx["front"], appraise(hatted).lit_scene.face_lx["front"])
        for shadeless in (bare, put(demo("room-that-works"), presenter__brim_m=0.05)):  # lit from the front, a brim does no harm
            self.assertNotIn("backdrop.hat", {finding.id for finding in appraise(shadeless).findings})
