"""Colour of light: against an independent program's mixtures, colour-science, and by properties."""

from __future__ import annotations

import colorsys
import math
import warnings
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.make_planckian import planckian_uv
from tests.setups import demo, put, reference
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.light.lamp_placing import aimed_at_face, lamp_place
from uphill_lamp.core.document import Setup, applied, typical
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import add
from uphill_lamp.core.field.camera.spectral_mix import SpectralMix
from uphill_lamp.core.field.light.colour import cct_and_duv, hue_rgb, hue_uv, mired, mixed_uv, white_uv
from uphill_lamp.core.scene.placing import face_of, pinhole_of
from uphill_lamp.core.scene.vectors import vector

warmth = st.floats(1800, 20_000)


def xy(uv: np.ndarray) -> np.ndarray:
    u, v = uv[:, 0], uv[:, 1]
    return np.stack([3 * u, 2 * v], axis=1) / (2 * u - 8 * v + 4)[:, None]


class Mixing(TestCase):
    def test_mixtures_of_an_independent_program(self) -> None:
        for row in reference("colour_open")["rows"]:
            whites = [white_uv(source["cct_k"]) for source in row["sources"]]
            for white, source in zip(whites, row["sources"], strict=True):
                np.testing.assert_allclose(xy(np.array([white]))[0], source["xy"], atol=2e-5)
            mixed = mixed_uv(whites, np.array([[source["illuminance_lx"] for source in row["sources"]]]))
            np.testing.assert_allclose(xy(mixed)[0], row["xy"], atol=2e-5)
            cct_k, duv = cct_and_duv(mixed)
            self.assertAlmostEqual(cct_k[0], row["cct_k"], delta=1.0)
            self.assertAlmostEqual(duv[0], row["duv"], delta=2e-5)

    def test_the_table_is_what_colour_science_makes_of_it(self) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            for cct_k in (1234.0, 2222.0, 2856.0, 3999.0):
                np.testing.assert_allclose(white_uv(cct_k), planckian_uv(cct_k), atol=2e-6)

    def test_temperature_and_tint_of_colours_off_the_line(self) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            import colour

            for cct_k, duv in ((2500, -0.012), (3300, 0.01), (5000, 0.02), (6500, -0.02), (9000, 0.006)):
                uv = colour.temperature.CCT_to_uv_Ohno2013(np.array([cct_k, duv]))
                found_k, actual = cct_and_duv(np.array([uv]))
                self.assertAlmostEqual(found_k[0], cct_k, delta=0.004 * cct_k)
                self.assertAlmostEqual(actual[0], duv, delta=2e-4)

    @given(st.floats(1500, 3900), st.floats(-0.02, 0.02))
    def test_a_lamp_s_own_tint_comes_back(self, cct_k: float, duv: float) -> None:
        found_k, actual = cct_and_duv(np.array([white_uv(cct_k, duv)]))
        self.assertAlmostEqual(found_k[0], cct_k, delta=0.004 * cct_k)
        self.assertAlmostEqual(actual[0], duv, delta=1e-4)

    @given(warmth, warmth, st.floats(1, 1000), st.floats(1, 1000))
    def test_a_mixture_lies_between_and_knows_no_order(self, first_k: float, second_k: float, first_lx: float, second_lx: float) -> None:
        whites = [white_uv(first_k), white_uv(second_k)]
        mixed = mixed_uv(whites, np.array([[first_lx, second_lx]]))
        np.testing.assert_allclose(mixed, mixed_uv(whites[::-1], np.array([[second_lx, first_lx]])), atol=1e-12)
        line = np.array(whites)
        self.assertTrue((mixed >= line.min(axis=0) - 1e-9).all() and (mixed <= line.max(axis=0) + 1e-9).all())
        twice = mixed_uv(whites, 2 * np.array([[first_lx, second_lx]]))
        np.testing.assert_allclose(mixed, twice, atol=1e-12)

    def test_no_light_has_no_colour(self) -> None:
        self.assertTrue(np.isnan(mixed_uv([white_uv(3000)], np.array([[0.0]]))).all())


class Hues(TestCase):
    def test_chromaticity_of_a_hue_is_that_of_srgb(self) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            import colour
        for hue_deg in range(0, 360, 20):
            encoded = np.array(colorsys.hsv_to_rgb(hue_deg / 360, 0.9, 1.0))
            xyz = colour.sRGB_to_XYZ(encoded)
            np.testing.assert_allclose(hue_uv(hue_deg), colour.UCS_to_uv(colour.XYZ_to_UCS(xyz)), atol=3e-4)
            red, green, blue = hue_rgb(hue_deg)
            self.assertAlmostEqual(0.2126 * red + 0.7152 * green + 0.0722 * blue, 1.0)


class ColouredLight(TestCase):
    def lamp_at(self, aside_deg: float, away_m: float = 0.9, **more: Any) -> Setup:
        setup = put(demo("room-that-works"), **more)
        face = face_of(setup)
        lamp = typical.light("accent", "glow", "Blue lamp", typical.point(1, 1, 1), hue_deg=225.0, flux_lm=400.0)
        stood = aimed_at_face(Light.model_validate(lamp), face, lamp_place(face, aside_deg, 10, away_m))
        return applied(setup, (add("/lights/-", stood.model_dump(mode="json")),))

    def test_light_on_the_face_counts_and_is_told_by_the_lamp_s_name(self) -> None:
        before, on = appraise(demo("room-that-works")), appraise(self.lamp_at(-45))
        for name in ("light.colour", "light.tint"):
            self.assertLess(on.measures[name].utility or 0, (before.measures[name].utility or 0) - 0.3)
        self.assertNotIn("light.coloured_sides", on.measures)
        finding = next(finding for finding in on.findings if finding.id == "light.colour")
        self.assertIn("The blue lamp and white light meet on your face", finding.title)
        off = applied(on.setup, on.moves_worked_out["light.accent_off.glow"].patch)
        self.assertEqual(appraise(off).measures["light.colour"].value, before.measures["light.colour"].value)
        turned = appraise(applied(on.setup, on.moves_worked_out["light.accent_to_wall.glow"].patch))
        self.assertGreater(turned.measures["light.tint"].utility or 0, on.measures["light.tint"].utility or 0)

    def test_coloured_sides_are_allowed_away_from_the_main_light_and_a_stop_or_two_under_it(self) -> None:
        look = {"preferences__look": "coloured", "preferences__budget": 200.0}
        for aside_deg in (75.0, -75.0, 15.0, 30.0):
            appraisal = appraise(self.lamp_at(aside_deg, **look, room__windows=[]))
            mixture = SpectralMix(appraisal.lit_scene, appraisal.metered)
            accent, face = mixture.accents[0], face_of(appraisal.setup)
            key, glow = (next(light for light in appraisal.setup.lights if light.id == name) for name in ("key", "glow"))
            rays = [vector(light.position) - face.eyes for light in (key, glow)]
            by_hand = math.degrees(math.acos(rays[0] @ rays[1] / np.linalg.norm(rays[0]) / np.linalg.norm(rays[1])))
            self.assertAlmostEqual(accent.from_key_deg, by_hand, delta=0.1, msg=aside_deg)
            self.assertEqual(accent.cheek, "left_cheek" if aside_deg > 0 else "right_cheek")
            mixes = bool(mixture.rows_lx["front"][[source.id for source in appraisal.lit_scene.sources].index("glow")])
            self.assertEqual(mixes, by_hand < 50)
            self.assertEqual(appraisal.measures["light.coloured_sides"].value, 8.0 if mixes else accent.stops_under)

    def test_a_coloured_lamp_is_put_to_the_side_and_dimmed(self) -> None:
        look = {"preferences__look": "coloured", "preferences__budget": 200.0}
        for setup, name in ((self.lamp_at(20, **look), "light.coloured_side.glow"),
                            (put(demo("room-that-works"), **look), "light.coloured_lamp.colour_lamp")):  # fmt: skip
            before = appraise(setup)
            self.assertLess(before.measures["light.coloured_sides"].utility or 0, 0.3)
            after = appraise(applied(setup, before.moves_worked_out[name].patch))
            self.assertEqual(after.measures["light.coloured_sides"].utility, 1.0)
            self.assertGreater(after.score, before.score)
            lamp = after.setup.lights[-1]
            x, y = pinhole_of(after.setup, after.setup.main_camera).project(vector(lamp.position))
            self.assertFalse(0 < x < 1 and 0 < y < 1)


class OnTheFace(TestCase):
    def mixture(self, **values: object) -> SpectralMix:
        appraisal = appraise(put(demo("clock-bench"), **values))
        return SpectralMix(appraisal.lit_scene, appraisal.metered)

    def test_one_white_everywhere_has_no_spread(self) -> None:
        mixture = self.mixture(lights__bench_h_lamp__on=False, screens__laptop__on=False)
        self.assertLess(mixture.spread_mired or 0, 1)
        self.assertAlmostEqual(mixture.face_cct_k or 0, 2700, delta=15)
        self.assertAlmostEqual(mixture.duv or 0, 0, delta=1e-4)

    def test_a_green_lamp_is_told_and_an_accent_is_not(self) -> None:
        green = {"lights__bench_h_lamp__on": False, "screens__laptop__on": False, "lights__ceiling_h_lamp__duv": 0.018}
        self.assertAlmostEqual(self.mixture(**green).duv or 0, 0.018, delta=1e-3)
        accent = self.mixture(
            screens__laptop__on=False,
            lights__bench_h_lamp__cct_k=15_000.0,
            lights__bench_h_lamp__accent=True,
            lights__bench_h_lamp__hue_deg=280.0,
        )
        self.assertGreater(accent.spread_mired or 0, 25)  # it shines on the face, and there it counts as any light
        wall = self.mixture(
            screens__laptop__on=False,
            lights__bench_h_lamp__accent=True,
            lights__bench_h_lamp__hue_deg=280.0,
            lights__bench_h_lamp__aim_yaw_deg=demo("clock-bench").presenter.facing_yaw_deg - 180,
            lights__bench_h_lamp__position__y_m=0.3,
        )
        self.assertEqual(wall.rows_lx["behind"][[source.id for source in wall.lit_scene.sources].index("bench-lamp")], 0.0)

    def test_two_whites_lie_apart_by_what_each_gives(self) -> None:
        mixture = self.mixture(lights__ceiling_h_lamp__cct_k=6500.0)
        actual = mixture.cct_k
        self.assertEqual(mixture.spread_mired, max(map(mired, actual.values())) - min(map(mired, actual.values())))
        self.assertTrue(all(2600 < cct_k < 6600 for cct_k in actual.values()))

    def test_rendering_is_that_of_the_light_that_gives_most(self) -> None:
        self.assertEqual(self.mixture(lights__ceiling_h_lamp__cri=71.0).rendering, 71.0)
        dark = self.mixture(lights__ceiling_h_lamp__on=False, lights__bench_h_lamp__on=False)
        self.assertEqual(dark.rendering, 80.0)  # only the screen is left
        kitchen = appraise(demo("kitchen-table"))
        self.assertEqual(kitchen.measures["light.rendering"].value, 100.0)

    def test_in_the_dark_nothing_is_told_of_colour(self) -> None:
        appraisal = appraise(
            put(demo("clock-bench"), lights__ceiling_h_lamp__on=False, lights__bench_h_lamp__on=False, screens__laptop__on=False)
        )
        missing = {"light.colour", "light.tint", "light.rendering", "light.flicker", "light.softness", "light.key_height"}
        self.assertFalse(missing & set(appraisal.measures))
        self.assertTrue(0 <= appraisal.score <= 100)
