"""What the picture works out in compiled loops or by matrices, against closed forms and the standard way to do it."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from scipy.ndimage import gaussian_filter

from tests.setups import demo, put
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.scene.pinhole import Pinhole, field_of_diagonal
from uphill_lamp.core.scene.placing import Pane, face_of
from uphill_lamp.drawings.far_side import develop, lamps
from uphill_lamp.drawings.far_side.cast import lens_rows
from uphill_lamp.drawings.far_side.render import shot_of
from uphill_lamp.drawings.figure.fitted import CLOTH, SKIN, figure_of
from uphill_lamp.drawings.figure.lit import _within, spots_of, thrown_by

LENS = Pinhole(np.zeros(3), np.array([0.0, 1.0, 0.0]), np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0]), field_of_diagonal(70, 16 / 9))
ROWS, COLUMNS = 360, 640
COLOURS = np.array([[1.0, 2.0, 3.0], [0.1, 0.2, 0.3]], np.float32)


def drawn(kind: int, lamp: np.ndarray, nearest_m: float = math.inf) -> np.ndarray:
    """A picture of one lamp alone on black."""
    picture = np.zeros((ROWS, COLUMNS, 3), np.float32)
    nearest = np.full((ROWS, COLUMNS), nearest_m)
    lamps.put_lamp(lens_rows(LENS), kind, lamp.astype(np.float32), nearest, COLOURS, 3, (0, ROWS, 0, COLUMNS), picture)
    return picture


def share(area_m2: float, away_m: float) -> float:
    """Of the picture, what an upright area straight ahead takes, 0-1."""
    return area_m2 / (4 * LENS.field.half_width * LENS.field.half_height * away_m**2)


class LampsInView(TestCase):
    def test_a_panel_and_a_ring_take_as_much_of_the_picture_as_geometry_says(self) -> None:
        pane = Pane(np.array([0.05, 2.0, 0.1]), np.array([0.0, -1.0, 0.0]), np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0]), 0.4, 0.4)
        for ring, area_m2 in ((False, 0.16), (True, math.pi * 0.2**2 * (1 - lamps.RING_HOLE**2))):
            picture = drawn(*lamps._flat(pane, ring))
            self.assertAlmostEqual(float(picture[..., 0].mean()), share(area_m2, 2.0), delta=0.01 * share(area_m2, 2.0))
            np.testing.assert_allclose(picture.max(axis=(0, 1)), COLOURS[0], rtol=1e-5)
            rows, columns = np.nonzero(picture[..., 0])
            np.testing.assert_allclose(
                [(columns.mean() + 0.5) / COLUMNS, (rows.mean() + 0.5) / ROWS], LENS.project(pane.middle), atol=2 / COLUMNS
            )

    def test_a_ball_takes_the_cone_it_fills(self) -> None:
        away_m, radius_m = 1.5, 0.2
        picture = drawn(lamps.BALL, np.array([(0.0, away_m, 0.0), (radius_m, 0.0, 0.0)]))
        edge = radius_m / math.sqrt(away_m**2 - radius_m**2)  # the tangent of half its angle
        self.assertAlmostEqual(float(picture[..., 1].mean()) / 2, share(math.pi * edge**2, 1.0), delta=0.01 * share(math.pi * edge**2, 1.0))

    def test_its_back_is_dark_and_what_is_nearer_hides_it(self) -> None:
        away = np.array([0.0, 2.0, 0.0])
        back = Pane(away, np.array([0.0, 1.0, 0.0]), np.array([-1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0]), 0.4, 0.4)
        np.testing.assert_allclose(drawn(*lamps._flat(back, False)).max(axis=(0, 1)), COLOURS[1], rtol=1e-5)
        self.assertFalse(drawn(*lamps._flat(back, False), nearest_m=1.9).any())
        self.assertFalse(drawn(lamps.BALL, np.array([(0.0, -1.5, 0.0), (0.2, 0.0, 0.0)])).any())


class Halo(TestCase):
    def test_a_bell_by_matrices_is_the_bell_of_the_standard_filter(self) -> None:
        small = np.random.default_rng(2).random((72, 128, 3), dtype=np.float32) ** 4
        for reach, truncate in ((0.008, 3), (0.035, 3), (0.08, 2)):
            wanted = gaussian_filter(small, (reach * 128, reach * 128, 0), truncate=truncate)
            np.testing.assert_allclose(develop._bell(small, reach, truncate), wanted, atol=2e-6)


class Developing(TestCase):
    def test_light_beyond_all_numbers_is_developed_to_some_tone_and_the_rest_as_ever(self) -> None:
        glow, grain = np.zeros((8, 12, 3), np.float32), np.random.default_rng(4).standard_normal((40, 60, 3), dtype=np.float32)
        table, scale = np.linspace(0, 255, 4096).astype(np.uint8), np.full(3, 0.01, np.float32)
        plain = np.random.default_rng(5).random((40, 60, 3), dtype=np.float32) * 90
        odd = plain.copy()
        odd[3, 4], odd[5, 6], odd[7, 8], odd[9, 10] = np.inf, -np.inf, np.nan, 3e38
        first, second = np.zeros(plain.shape, np.uint8), np.zeros(plain.shape, np.uint8)
        for light, out in ((plain, first), (odd, second)):
            develop.develop_rows(light, scale, glow, 5, grain, np.float32(0.02), table, 0, 40, out)
        same = np.ones(plain.shape, bool)
        same[[3, 5, 7, 9], [4, 6, 8, 10]] = False
        np.testing.assert_array_equal(first[same], second[same])


class Beams(TestCase):
    def test_a_beam_falls_off_across_its_edge_and_is_what_it_was_inside(self) -> None:
        forward, aside = np.array([0.0, 1.0, 0.0]), np.array([1.0, 0.0, 0.0])
        lamp = PointSource("cone", np.zeros(3), forward, aside, 800.0, 60.0, 3000.0)
        half, away_m = math.radians(30), 0.8
        turns = half + np.array([-0.04, 0.0, 0.04, -0.3]) / away_m
        places = away_m * (np.cos(turns)[:, None] * forward + np.sin(turns)[:, None] * aside)
        np.testing.assert_allclose(_within(lamp, places), [1, 0.5, 0, 1], atol=1e-6)


class Drafts(TestCase):
    def test_a_panel_of_two_spots_gives_the_light_of_four_where_nothing_is_in_the_way(self) -> None:
        setup = put(demo("room-that-works"), presenter__hair="none")
        lit_scene = lit_scene_of(setup)
        key = next(source for source in lit_scene.sources if source.id == "key")
        assert isinstance(key, AreaSource)
        eyes = face_of(setup).eyes
        self.assertEqual([len(spots_of(key, eyes, light)) for light in (True, False)], [2, 16])
        np.testing.assert_allclose(spots_of(key, eyes, True).mean(axis=0), key.pane.middle, atol=1e-9)
        body = shot_of(setup, 320, True).body
        thrown = thrown_by(key, body)
        wanted = key.illuminance_lx(body.places.astype(float), body.normals.astype(float), 2)
        seen = thrown.maps.seen(body.places, body.normals).min(axis=1) > 0.999
        open_ = np.flatnonzero(seen & (wanted > 0.3 * wanted.max()))
        self.assertGreater(len(open_), 500)
        self.assertLess(float(np.abs(thrown.level_lx[open_] / wanted[open_] - 1).mean()), 0.02)


class Spreading(TestCase):
    def test_averages_over_neighbours_pull_nothing_sideways(self) -> None:
        """A place averaged with those round it may sink where a surface is bent, and must not slide along it, or light would."""
        for light in (False, True):
            figure = figure_of(put(demo("clock-bench"), presenter__glasses="none").presenter, light)
            weights = figure.neighbours
            np.testing.assert_allclose(weights.sum(axis=1), 1, atol=1e-5)
            slid = weights @ figure.vertices - figure.vertices
            slid -= (slid * figure.normals).sum(axis=1, keepdims=True) * figure.normals
            rows, columns = weights.nonzero()
            apart = np.linalg.norm(figure.vertices[rows] - figure.vertices[columns], axis=1)
            for kind in (CLOTH, SKIN):
                of_kind = figure.kind == kind
                usual = float(np.median(apart[of_kind[rows] & (rows != columns)]))
                self.assertLess(float(np.median(np.linalg.norm(slid[of_kind], axis=1))), 0.05 * usual)
