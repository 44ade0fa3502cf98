"""Colour of light: against an independent program's mixtures, colour-science, and by properties."""

from __future__ import annotations

import warnings
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.make_planckian import planckian_uv
from tests.setups import demo, put, reference
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.field.camera.spectral_mix import SpectralMix
from uphill_lamp.core.field.light.colour import cct_and_duv, mired, mixed_uv, white_uv

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
        self.assertLess(accent.spread_mired or 0, 1)

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
