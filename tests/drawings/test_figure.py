"""The presenter's body: sculpted alike on both sides, fitted to measures, lit and shaded as Light says, found by others' eyes."""

from __future__ import annotations

import itertools
import json
import random
from collections.abc import Iterator
from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.drawings import make_traced
from tests.promise import SEED, promise, promised, times
from tests.setups import any_setup, demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document.people import HeadSize
from uphill_lamp.core.field.light.boards import board_of, visible
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, LitScene, lit_scene_of
from uphill_lamp.core.field.light.patches import FINE
from uphill_lamp.core.field.light.sources import PointSource
from uphill_lamp.core.scene.placing import face_of, pinhole_of
from uphill_lamp.drawings.far_side import levels
from uphill_lamp.drawings.far_side.colour import LUMA
from uphill_lamp.drawings.far_side.person import falls_on, tints_of
from uphill_lamp.drawings.far_side.render import render, shot_of
from uphill_lamp.drawings.figure import fitted
from uphill_lamp.drawings.figure.features import FACES, shaped
from uphill_lamp.drawings.figure.fitted import figure_of
from uphill_lamp.drawings.figure.lit import Stood, thrown_by, thrown_past
from uphill_lamp.drawings.figure.own import handed_on
from uphill_lamp.drawings.figure.parts import PACKED, STEP_M, part
from uphill_lamp.drawings.figure.surround import WHOLLY, around, directions, openness

FIVE = ("front", "left_cheek", "right_cheek", "brow", "under_chin")
PARTS = ("head", "short", "long", "tied", "covered", "hat", "sitting", "standing", "spectacles")
HEADS = st.builds(
    HeadSize, eyes_to_crown_m=st.floats(0.06, 0.2), eyes_to_chin_m=st.floats(0.06, 0.2), breadth_m=st.floats(0.1, 0.25),
    shoulders_m=st.floats(0.2, 0.8), eyes_to_shoulders_m=st.floats(0.1, 0.35), pupils_m=st.floats(0.04, 0.09),
)  # fmt: skip


def lamp(setup: Any, forward_m: float, left_m: float, up_m: float) -> PointSource:
    return PointSource("", face_of(setup).at(forward_m, left_m, up_m), np.array([1.0, 0, 0]), np.array([0, 1.0, 0]), 800, 360, 3000)


def stood(setup: Any) -> Stood:
    return Stood(figure_of(setup.presenter), face_of(setup))


def bare() -> Any:
    return put(demo(), presenter__hair="none", presenter__glasses="none")


class Parts(TestCase):
    def test_what_ships_is_small_whole_and_what_the_sculptor_makes(self) -> None:
        from sculpture.build import sculpted

        self.assertLess(PACKED.stat().st_size, 4_000_000)
        for name in PARTS:
            mesh = part(name)
            self.assertEqual(len(np.unique(mesh.faces)), len(mesh.vertices), name)
            np.testing.assert_allclose(np.linalg.norm(mesh.normals, axis=1), 1, atol=1e-5)
        for name in ("tied", "spectacles", "hat_coarse"):
            made = sculpted(name)
            np.testing.assert_allclose(part(name).vertices, made.vertices / 100, atol=STEP_M)
            np.testing.assert_array_equal(part(name).faces, made.faces)

    def test_faces_differ_in_all_but_their_eyes_and_alike_on_both_sides(self) -> None:
        rest = figure_of(bare().presenter).rest
        eyes = (np.abs(np.abs(rest[:, 1]) - 0.0315) < 0.012) & (np.abs(rest[:, 2]) < 0.006) & (rest[:, 0] > -0.03)
        for face in FACES:
            pushed = np.linalg.norm(shaped(rest, face) - rest, axis=1)
            self.assertLess(float(pushed[eyes].max()), 0.0009, face)  # a millimetre is a sixtieth of the eye distance
            self.assertEqual(float(pushed.max()) > 0.003, face != "even", face)
            np.testing.assert_allclose(shaped(rest * (1, -1, 1), face), shaped(rest, face) * (1, -1, 1), atol=1e-12)
            figure = figure_of(put(demo(), presenter__face=face).presenter)
            np.testing.assert_allclose(np.linalg.norm(figure.normals, axis=1), 1, atol=1e-5)

    def test_head_and_clothes_are_alike_on_both_sides(self) -> None:
        from scipy.spatial import cKDTree

        for name in ("head", "covered", "sitting", "standing", "hat"):
            vertices = part(name).vertices
            apart, _ = cKDTree(vertices).query(vertices * (1, -1, 1))
            limit = 0.0015 if name in ("head", "hat") else 0.006  # folds of cloth run across
            self.assertLess(float(np.percentile(apart, 99)), limit, name)

    def test_faces_look_outwards(self) -> None:
        for name in PARTS:
            mesh = part(name)
            a, b, c = (mesh.vertices[mesh.faces[:, corner]] for corner in range(3))
            out = (np.cross(b - a, c - a) * mesh.normals[mesh.faces[:, 0]]).sum(axis=1)
            self.assertGreater(float((out > 0).mean()), 0.98, name)


class Fitting(TestCase):
    @promise(40)
    @given(HEADS)
    def test_the_body_has_the_measures(self, head: HeadSize) -> None:
        figure = fitted._figure(head, fitted.Look("none", "sitting", False, 0.0, False), False, "even")
        skin = figure.vertices[(figure.kind == fitted.SKIN) & (np.abs(figure.rest[:, 2]) < 0.13)]
        rest = figure.rest[(figure.kind == fitted.SKIN) & (np.abs(figure.rest[:, 2]) < 0.13)]
        self.assertAlmostEqual(float(skin[:, 2].max()), head.eyes_to_crown_m, delta=0.006)
        chin = skin[(rest[:, 0] > -0.03) & (rest[:, 2] < -0.09)]
        self.assertAlmostEqual(-float(chin[:, 2].min()), head.eyes_to_chin_m, delta=0.008)
        temples = skin[(rest[:, 2] > 0.03) & (rest[:, 2] < 0.05)]
        side = max(head.breadth_m / 2, head.pupils_m / 2 + 0.01)
        self.assertAlmostEqual(float(np.abs(temples[:, 1]).max()), side, delta=0.006)
        pupils = np.abs(np.abs(rest[:, 1]) - 0.0315) + np.abs(rest[:, 2]) < 0.003
        self.assertAlmostEqual(float(np.abs(skin[pupils, 1]).mean()), head.pupils_m / 2, delta=0.002)
        self.assertTrue(np.isfinite(figure.normals).all())

    def test_what_is_worn_is_there_and_a_brim_stands_out_as_far_as_it_is_said_to(self) -> None:
        setup = put(demo(), presenter__brim_m=0.07)
        figure = figure_of(setup.presenter)
        brim = figure.vertices[(figure.kind == fitted.HAT) & (figure.vertices[:, 2] < 0.062)]
        self.assertAlmostEqual(float(brim[:, 0].max()), 0.095 + 0.07 - 0.07, delta=0.002)
        kinds = {kind: set(np.unique(figure_of(put(demo(), **values).presenter).kind)) for kind, values in {
            "bare": {"presenter__hair": "none", "presenter__glasses": "none"},
            "covered": {"presenter__hair": "covered", "presenter__glasses": "plain"}}.items()}  # fmt: skip
        self.assertEqual(kinds["bare"], {fitted.SKIN, fitted.CLOTH})
        self.assertEqual(kinds["covered"], {fitted.SKIN, fitted.CLOTH, fitted.COVER, fitted.FRAME})


class LightOnIt(TestCase):
    def _mirror(self, vertices: np.ndarray) -> np.ndarray:
        from scipy.spatial import cKDTree

        return np.asarray(cKDTree(vertices).query(vertices * (1, -1, 1))[1])

    def test_light_from_straight_ahead_falls_alike_on_both_sides(self) -> None:
        setup = bare()
        body = stood(setup)
        level = thrown_by(lamp(setup, 0.9, 0.0, 0.3), body).level_lx
        other = level[self._mirror(body.figure.vertices)]
        skin = body.figure.kind == fitted.SKIN
        apart = np.abs(level - other)[skin]
        self.assertLess(float(apart.mean()), 0.01 * float(level.max()))
        self.assertLess(float(np.percentile(apart, 97)), 0.05 * float(level.max()))

    def test_the_desk_keeps_a_low_lamp_off_the_body(self) -> None:
        setup = bare()
        body, board, desk = stood(setup), board_of(setup.desk), setup.desk
        high, low = lamp(setup, 0.7, 0.2, 0.4), lamp(setup, 0.7, 0.0, 0.0)
        low = replace(low, place=np.array([desk.x_m, desk.y_m, desk.height_m - 0.4]))
        far_down = replace(board, pane=replace(board.pane, middle=board.pane.middle - [0, 0, 9.0]))
        np.testing.assert_array_equal(thrown_past(high, body, far_down).level_lx, thrown_by(high, body).level_lx)
        open_lx, past_lx = thrown_by(low, body).level_lx, thrown_past(low, body, board).level_lx
        seen = visible((board,), body.places, low.place[None])
        assert seen is not None
        direct = seen[:, 0]
        lit = open_lx > 1
        self.assertGreater(int((lit & ~direct).sum()), 100)
        self.assertLess(float(past_lx[lit & ~direct].sum()), 0.25 * float(open_lx[lit & ~direct].sum()))  # the lamp is 5 cm across
        self.assertGreater(float(past_lx[lit & direct].sum()), 0.9 * float(open_lx[lit & direct].sum()))

    def test_the_nose_throws_its_shadow_away_from_the_lamp(self) -> None:
        setup = bare()
        body = stood(setup)
        rest, kind = body.figure.rest, body.figure.kind
        source = lamp(setup, 0.6, 0.75, 0.25)
        level = thrown_by(source, body).level_lx
        free = source.illuminance_lx(body.places, body.normals)
        beside = (
            (kind == fitted.SKIN)
            & (np.abs(rest[:, 2] + 0.035) < 0.012)
            & (np.abs(np.abs(rest[:, 1]) - 0.019) < 0.004)
            & (rest[:, 0] > -0.03)
        )
        near, far = beside & (rest[:, 1] > 0), beside & (rest[:, 1] < 0)
        self.assertGreater(float(level[near].sum() / free[near].sum()), 0.9)
        self.assertLess(float(level[far].sum() / free[far].sum()), 0.5)

    def test_a_lamp_overhead_leaves_sockets_and_throat_dark(self) -> None:
        setup = bare()
        body = stood(setup)
        rest = body.figure.rest
        source = lamp(setup, 0.25, 0.0, 0.9)
        share = thrown_by(source, body).level_lx / np.maximum(source.illuminance_lx(body.places, body.normals), 1e-6)
        facing = source.illuminance_lx(body.places, body.normals) > 1.0
        skin = facing & (body.figure.kind == fitted.SKIN)
        throat = skin & (np.abs(rest[:, 1]) < 0.03) & (np.abs(rest[:, 2] + 0.14) < 0.015)
        under_nose = skin & (np.abs(rest[:, 1]) < 0.008) & (np.abs(rest[:, 2] + 0.062) < 0.004) & (rest[:, 0] > 0)
        brow = skin & (np.abs(rest[:, 1]) < 0.03) & (np.abs(rest[:, 2] - 0.05) < 0.01)
        self.assertLess(float(share[throat].mean()), 0.1)
        self.assertLess(float(share[under_nose].mean()), 0.4)
        self.assertGreater(float(share[brow].mean()), 0.95)

    @promised(50)
    def test_it_agrees_with_what_light_computes(self) -> None:
        compared = dict.fromkeys(FACE_POINTS, 0)

        @promise(50)
        @given(any_setup)
        def compare(setup: Any) -> None:
            lit_scene = lit_scene_of(put(setup, presenter__brim_m=0.0, presenter__hair="none"))
            for name, found_lx, wanted_lx in self._open_points(lit_scene):
                compared[name] += 1
                self.assertLess(abs(found_lx / wanted_lx - 1), 0.05, name)

        compare()
        for name in ("front", "left_cheek", "right_cheek", "brow"):
            self.assertGreater(compared[name], times(50) // 2, name)

    def _open_points(self, lit_scene: LitScene) -> Iterator[tuple[str, float, float]]:
        """The points of Light on the body, where it hides next to nothing of the room's light from itself [lx]."""
        body = stood(lit_scene.setup)
        figure = body.figure
        light = around(lit_scene, tints_of(lit_scene), body.face)
        past = openness(figure).falls(light) @ LUMA
        whole = replace(openness(figure), free=np.full((len(figure.vertices), len(directions())), WHOLLY, np.uint8)).falls(light) @ LUMA
        direct = sum((thrown_by(source, body).level_lx for source in lit_scene.sources), np.zeros(len(past)))
        for name in FIVE:
            normal = FACE_POINTS[name][1]
            near = (figure.kind == fitted.SKIN) & (figure.normals @ np.array(normal) > 0.97) & (past > 0.985 * whole)
            near &= np.abs(figure.rest[:, 2]) < 0.12
            places, normals = body.places[near].astype(float), body.normals[near].astype(float)
            if not near.any():
                continue
            enclosure, board = lit_scene.enclosure, lit_scene.board
            seen = enclosure.patches.seen_from(places, normals)
            seen[board.between(places, enclosure.patches.places(FINE).reshape(-1, 3)).reshape(seen.shape)] = 0.0
            sent = lit_scene.sent_by_source.sum(axis=1)
            wanted = enclosure.bounced_lx(lit_scene.lit_lx.sum(axis=0), sent, seen, board.seen_from(places, normals))
            for source in lit_scene.sources:
                wanted += source.illuminance_lx(places, normals, 12)
            if np.median(wanted) > 5:
                yield name, float(np.median((direct + past)[near])), float(np.median(wanted))

    def test_pixels_show_the_light_of_the_vertices(self) -> None:
        setup = demo("room-that-works")
        lit_scene = lit_scene_of(setup)
        shot = shot_of(setup, levels.COLUMNS)
        thrown = tuple(thrown_by(source, shot.body) for source in lit_scene.sources)
        falls = falls_on(shot.person, lit_scene, thrown) @ LUMA
        level, _, what = levels._falls(lit_scene)
        spots = pinhole_of(setup).project(shot.body.places[shot.person.use].astype(float))
        rest = shot.body.figure.rest[shot.person.use]
        forehead = (
            (np.abs(rest[:, 1]) < 0.03) & (np.abs(rest[:, 2] - 0.045) < 0.01) & (shot.body.figure.kind[shot.person.use] == fitted.SKIN)
        )
        rows, columns = (spots[forehead][:, ::-1] * level.shape).astype(int).T
        self.assertTrue((what[rows, columns] == -1).all())
        self.assertAlmostEqual(float(np.median(level[rows, columns] / falls[forehead])), 1, delta=0.02)

    def test_openness_is_that_of_a_sphere_where_nothing_is_in_the_way(self) -> None:
        figure = figure_of(bare().presenter)
        whole = np.maximum(figure.normals @ directions().T, 0).sum(axis=1) * 4 * np.pi / len(directions())
        np.testing.assert_allclose(whole, np.pi, rtol=0.06)  # the integral of a cosine over its half of the sphere
        crown = (figure.kind == fitted.SKIN) & (figure.rest[:, 2] > 0.11)
        self.assertLess(float(openness(figure).closed[crown].max()), 0.1)
        self.assertEqual(openness(figure).towards.shape, (len(figure.vertices), len(directions())))


class AgainstAPathTracer(TestCase):
    """Values of another program for the same mesh (tests/reference/traced_face.json, made by make_traced.py)."""

    def test_open_skin_and_folds_under_five_lights(self) -> None:
        traced = json.loads(make_traced.FILE.read_text())
        stood, folds = make_traced.body(), np.array([fold for _, fold in make_traced.POINTS.values()])
        corners, shares = make_traced.spots(stood)
        self.assertEqual(traced["points"], list(make_traced.POINTS))
        for name, source in make_traced.lights().items():
            level = (
                openness(stood.figure).towards.sum(axis=1) * (400 * np.pi / len(directions()))
                if source is None
                else thrown_by(source, stood).level_lx
            )
            actual, wanted = (level[corners] * shares).sum(axis=1), np.array(traced["traced_lx"][name])
            apart = np.abs(actual - wanted)
            allowed = np.where(folds, 0.03 * wanted.max(), np.maximum(0.03 * wanted, 0.01 * wanted.max()))
            self.assertTrue(
                (apart <= allowed).all(), (name, np.array(traced["points"])[apart > allowed], (apart / wanted.max())[apart > allowed])
            )

    def test_what_the_body_hands_on_to_itself(self) -> None:
        traced = json.loads(make_traced.FILE.read_text())
        stood = make_traced.body()
        corners, shares = make_traced.spots(stood)
        lies, none = openness(stood.figure), np.zeros(3, np.float32)
        for name, source in make_traced.lights().items():
            level = lies.towards.sum(axis=1) * (400 * np.pi / len(directions())) if source is None else thrown_by(source, stood).level_lx
            sent = np.repeat(level[:, None] * np.float32(make_traced.REFLECTANCE), 3, axis=1).astype(np.float32)
            even = lies.closed * sent.mean()
            actual = handed_on(lies, stood.figure.rest, sent, none)[:, 0]
            apart, before = (
                np.abs((light[corners] * shares).sum(axis=1) - traced["handed_on_lx"][name]) / max(traced["traced_lx"][name])
                for light in (actual, even)
            )
            self.assertLess(apart.max(), 0.06, name)
            self.assertLess(apart.mean(), 0.011, name)
            self.assertLess(apart.mean(), before.mean(), name)

    def test_a_white_shirt_lightens_the_throat_and_not_the_forehead(self) -> None:
        stood = make_traced.body()
        figure, none = stood.figure, np.zeros(3, np.float32)
        lies, level = openness(figure), thrown_by(make_traced.lights()["panel"], stood).level_lx[:, None]
        throat = (figure.kind == fitted.SKIN) & (np.abs(figure.rest[:, 1]) < 0.02) & (np.abs(figure.rest[:, 2] + 0.125) < 0.012)
        forehead = (figure.kind == fitted.SKIN) & (np.abs(figure.rest[:, 1]) < 0.02) & (np.abs(figure.rest[:, 2] - 0.05) < 0.012)
        white, black = (
            handed_on(
                lies, figure.rest, level * np.where(figure.kind == fitted.CLOTH, cloth, 0.2)[:, None].repeat(3, 1).astype(np.float32), none
            )
            for cloth in (0.8, 0.03)
        )
        self.assertGreater(float((white - black)[throat].mean()), 0.02 * float(level.max()))
        self.assertLess(float(np.abs(white - black)[forehead].max()), 1e-3)


class SeenByOthers(TestCase):
    """Detectors that know nothing of us find face and eyes where Frame has them."""

    @promised(30)
    def test_faces_and_eyes_of_all_presenters_in_good_light(self) -> None:
        import cv2

        looks = list(itertools.product(("short", "long", "tied", "covered", "none"), (0.08, 0.45, 0.65), ("none", "anti_reflective")))
        for hair, skin, glasses in random.Random(SEED).sample(looks, times(len(looks))):
            setup = put(demo("room-that-works"), presenter__hair=hair, presenter__skin_reflectance=skin, presenter__glasses=glasses)
            with self.subTest(hair=hair, skin=skin, glasses=glasses):
                self._found(cv2, setup)

    def test_faces_of_every_kind(self) -> None:
        import cv2

        for face, glasses in zip(FACES, itertools.cycle(("none", "anti_reflective"))):
            setup = put(demo("room-that-works"), presenter__face=face, presenter__glasses=glasses)
            with self.subTest(face=face, glasses=glasses):
                self._found(cv2, setup)

    def _found(self, cv2: Any, setup: Any) -> None:
        grey = cv2.cvtColor(render(appraise(setup), 1280).pixels, cv2.COLOR_RGB2GRAY)
        face, half = face_of(setup), setup.presenter.head.pupils_m / 2
        eyes = pinhole_of(setup).project(np.array([face.at(0, half, 0), face.at(0, -half, 0)])) * grey.shape[::-1]
        apart = float(np.linalg.norm(eyes[0] - eyes[1]))
        left, top = (max(int(value - 7 * apart), 0) for value in eyes.mean(axis=0))  # what lies further off is not looked through
        grey, eyes = np.ascontiguousarray(grey[top : top + int(14 * apart), left : left + int(14 * apart)]), eyes - (left, top)
        self.assertTrue(self._faces(cv2, grey, eyes.mean(axis=0), apart))
        for eye in eyes:
            off = min((float(np.hypot(*(place - eye))) / apart for place in self._eyes(cv2, grey, eyes.mean(axis=0), apart)), default=9.0)
            self.assertLess(off, 0.06)

    def _faces(self, cv2: Any, grey: np.ndarray, middle: np.ndarray, apart: float) -> bool:
        finder = cv2.CascadeClassifier(cv2.data.haarcascades + "haarcascade_frontalface_default.xml")
        actual = finder.detectMultiScale(grey, 1.05, 3, minSize=(int(1.2 * apart),) * 2)
        return any(x < middle[0] < x + w and y < middle[1] < y + h for x, y, w, h in actual)

    def _eyes(self, cv2: Any, grey: np.ndarray, middle: np.ndarray, apart: float) -> list[np.ndarray]:
        reach = int(1.6 * apart)
        left, top = (max(int(value) - reach, 0) for value in middle)
        crop, actual = grey[top : top + 2 * reach, left : left + 2 * reach], []
        for name in ("haarcascade_eye.xml", "haarcascade_eye_tree_eyeglasses.xml"):
            finder = cv2.CascadeClassifier(cv2.data.haarcascades + name)
            boxes = finder.detectMultiScale(crop, 1.03, 3, minSize=(int(0.25 * apart),) * 2, maxSize=(int(0.9 * apart),) * 2)
            actual += [np.array([x + w / 2 + left, y + h / 2 + top]) for x, y, w, h in boxes]
        return actual


class Verdicts(TestCase):
    """What the findings say is what the pixels show."""

    def _patch(self, setup: Any, place: tuple[float, float, float]) -> float:
        picture = render(appraise(setup), 640).pixels.astype(float)
        x, y = pinhole_of(setup).project(face_of(setup).at(*place))
        row, column = int(y * picture.shape[0]), int(x * picture.shape[1])
        return float(picture[row - 3 : row + 4, column - 3 : column + 4].mean())

    def test_a_silhouette_is_darker_than_what_is_behind_and_a_dark_side_darker_than_the_other(self) -> None:
        kitchen = demo("kitchen-table")
        self.assertLess(self._patch(kitchen, (0.0, 0.0, -0.03)), 0.3 * self._patch(kitchen, (0.0, -0.215, -0.02)))
        bench = put(demo("clock-bench"), lights__ceiling_h_lamp__on=False, screens__laptop__on=False)
        self.assertGreater(appraise(bench).measures["light.sides"].value or 0, 1.0)
        cheeks = [self._patch(bench, (-0.025, side * 0.055, -0.05)) for side in (1, -1)]
        lit_scene = lit_scene_of(bench).face_lx
        bright, dark = cheeks if lit_scene["left_cheek"] > lit_scene["right_cheek"] else cheeks[::-1]
        self.assertLess(dark, 0.75 * bright)

    def test_skin_changes_the_picture_and_no_verdict(self) -> None:
        pictures, errors = [], set()
        for skin in (0.05, 0.65):
            appraisal = appraise(put(demo("room-that-works"), presenter__skin_reflectance=skin))
            errors.add((appraisal.metered.error_stops, appraisal.score))
            pictures.append(self._patch(appraisal.setup, (0.0, 0.0, -0.03)))
        self.assertEqual(len(errors), 1)
        self.assertGreater(pictures[0], 25)  # neither drowns nor burns out
        self.assertLess(pictures[1], 252)
        self.assertGreater(pictures[1], 1.6 * pictures[0])
