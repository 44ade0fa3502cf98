"""The desk in the light: against closed forms, a closed hemisphere, rays at random, and the day's coefficients."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from tests.promise import promise
from tests.setups import any_setup, demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document.surroundings import Desk
from uphill_lamp.core.field.light.boards import board_of
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, face_points, lit_scene_of, seen_by_face
from uphill_lamp.core.field.light.patches import patches_of
from uphill_lamp.core.scene.placing import face_of, room_size

RAYS = 60_000


def desk(**more: float) -> Desk:
    return Desk.model_validate({"x_m": 2.0, "y_m": 1.5, "width_m": 1.4, "depth_m": 0.7, "height_m": 0.74, "yaw_deg": 0.0} | more)


def over_corner(wide: float, deep: float) -> float:
    """Form factor of a rectangle, so many times as wide and as deep as it is far off, from a surface that faces its corner."""
    p, q = math.hypot(1, wide), math.hypot(1, deep)
    return (wide / p * math.atan(deep / p) + deep / q * math.atan(wide / q)) / (2 * math.pi)


def beside_corner(wide: float, deep: float) -> float:
    """The same from a surface square to it, over its corner, that looks along its depth."""
    slant = math.hypot(1, deep)
    return (math.atan(wide) - math.atan(wide / slant) / slant) / (2 * math.pi)


class FormFactors(TestCase):
    def test_of_a_surface_that_looks_down_on_its_middle(self) -> None:
        for above in (0.25, 0.45, 0.9):
            seen = board_of(desk()).seen_from(np.array([[2.0, 1.5, 0.74 + above]]), np.array([[0.0, 0.0, -1.0]]))
            self.assertAlmostEqual(float(seen.sum()), 4 * over_corner(0.7 / above, 0.35 / above), delta=0.004)

    def test_of_a_face_upright_before_its_near_edge(self) -> None:
        """The face looks along y over the edge at which it sits: two rectangles, left and right."""
        for above in (0.3, 0.5):
            seen = board_of(desk()).seen_from(np.array([[2.0, 1.15, 0.74 + above]]), np.array([[0.0, 1.0, 0.0]]))
            self.assertAlmostEqual(float(seen.sum()), 2 * beside_corner(0.7 / above, 0.7 / above), delta=0.004)

    @promise(40)
    @given(st.floats(0.35, 1.0), st.floats(-0.5, 0.5), st.floats(-180, 180), st.floats(0.4, 1.2))
    def test_room_and_desk_together_fill_what_a_face_sees(self, above: float, aside: float, yaw: float, deep: float) -> None:
        setup = put(demo("clock-bench"), desk__yaw_deg=round(yaw, 1), desk__depth_m=round(deep, 2))
        face = face_of(put(setup, presenter__eye_height_m=round(min(setup.desk.height_m + above, 1.9), 2)))
        patches = patches_of(setup.room.width_m, setup.room.depth_m, setup.room.height_m)
        bare = patches.seen_from(*face_points(face)).sum(axis=(1, 2))
        room, top = seen_by_face(patches, face, board_of(setup.desk))
        for name, alone, both in zip(FACE_POINTS, bare, room.sum(axis=(1, 2)) + top.sum(axis=1), strict=True):
            self.assertAlmostEqual(both, alone, delta=0.035, msg=name)


class Reflected(TestCase):
    def test_against_rays_at_random(self) -> None:
        """From the face's points into the room: what each ray meets first, desk or wall, tells what it brings."""
        setup = put(demo("clock-bench"), desk__reflectance=0.6)
        lit_scene, random = lit_scene_of(setup), np.random.default_rng(5)
        patches, top = lit_scene.enclosure.patches, lit_scene.board
        count = len(patches.middle)
        places, normals = face_points(face_of(setup))
        whole = lit_scene.lit_lx.sum(axis=0)
        reflectance = lit_scene.enclosure.reflectance[:count]
        further = lit_scene.sent_by_source.sum(axis=1)[:count] - reflectance * whole.mean(axis=1)
        fine = whole * reflectance[:, None] + further[:, None]
        spots = cKDTree(patches.places(6).reshape(-1, 3))
        for at, name in enumerate(FACE_POINTS):
            rays = _cosine(random, normals[at])
            ends = np.where(rays > 0, patches.size, 0.0)
            reach = ((ends - places[at]) / np.where(np.abs(rays) > 1e-9, rays, 1e-9)).min(axis=1)
            met = places[at] + reach[:, None] * rays
            down = (top.pane.middle[2] - places[at][2]) / np.minimum(rays[:, 2], -1e-9)
            on = places[at] + down[:, None] * rays - top.pane.middle
            over = (
                (rays[:, 2] < 0)
                & (np.abs(on @ top.pane.right) <= top.pane.width_m / 2)
                & (np.abs(on @ top.pane.up) <= top.pane.height_m / 2)
            )
            brought = np.empty(len(rays))
            cells = ((top.cells[None] - (on + top.pane.middle)[over][:, None]) ** 2).sum(axis=2).argmin(axis=1)
            brought[over] = lit_scene.sent_by_desk.sum(axis=1)[cells]
            brought[~over] = fine.ravel()[spots.query(met[~over])[1]]
            self.assertAlmostEqual(lit_scene.bounced_by_source_lx[:, at].sum() / brought.mean(), 1.0, delta=0.04, msg=name)

    @promise(30)
    @given(any_setup, st.floats(0.0, 0.45))
    def test_a_lighter_top_never_takes_light_from_the_face(self, setup: Any, reflectance: float) -> None:
        dark, light = (lit_scene_of(put(setup, desk__reflectance=value)).face_lx for value in (reflectance, reflectance + 0.3))
        for name in FACE_POINTS:
            self.assertGreaterEqual(light[name], dark[name] * (1 - 1e-6), name)

    def test_each_sources_share_adds_up_with_the_desk_among_them(self) -> None:
        lit_scene = lit_scene_of(put(demo("clock-bench"), desk__reflectance=0.8))
        whole = lit_scene.whole_by_source_lx.sum(axis=0)
        for at, name in enumerate(FACE_POINTS):
            self.assertAlmostEqual(whole[at], lit_scene.face_lx[name], places=6)

    def test_a_desk_beyond_the_wall_shines_only_inside(self) -> None:
        setup = put(demo("clock-bench"), desk__x_m=0.1, desk__reflectance=0.8)
        lit = lit_scene_of(setup).sent_by_desk.sum(axis=1)
        inside = board_of(setup.desk).inside(room_size(setup.room))
        self.assertTrue((lit[~inside] == 0).all() and (lit[inside] > 0).all() and (~inside).any())

    def test_another_desk_is_another_light(self) -> None:
        """What is taken over from a like setup is not taken over past a desk that differs."""
        setup = demo("clock-bench")
        known, now = appraise(setup), put(setup, desk__reflectance=0.85)
        self.assertEqual(appraise(now, known=known).measures, appraise(now).measures)


def _cosine(random: np.random.Generator, normal: np.ndarray) -> np.ndarray:
    """Unit directions about a normal, as dull surfaces gather them."""
    rays = random.normal(size=(RAYS, 3))
    rays /= np.linalg.norm(rays, axis=1, keepdims=True)
    rays += normal
    return np.asarray(rays / np.linalg.norm(rays, axis=1, keepdims=True))
