"""The rest of Light's table: softness, height, below, behind, burnt out, flicker, glare, each against something independent."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.desks import desk
from tests.promise import promise
from tests.setups import any_setup, demo, put
from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.areas.light.day import DayRoom, day_of
from uphill_lamp.core.areas.light.glare import glare_words, margins_deg, mirrored
from uphill_lamp.core.areas.light.key_light import fills_deg, key_light
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import applied
from uphill_lamp.core.field.camera.response import ripple_left, shutter_s
from uphill_lamp.core.field.camera.spectral_mix import SpectralMix
from uphill_lamp.core.field.light.brim import BRIM_UP_M, HEAD_RADIUS_M, MIDDLE_BACK_M, passes_brim
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, lit_scene_of
from uphill_lamp.core.field.light.rim import rim_lx, rim_points
from uphill_lamp.core.field.light.sources import AreaSource, PointSource, lamp_source
from uphill_lamp.core.scene.placing import camera_pose, face_of, facing_pane, pinhole_of
from uphill_lamp.core.scene.vectors import UP, direction, point_at, yaw_tilt_deg
from uphill_lamp.core.scene.view import REFERENCE_FACE, view_of
from uphill_lamp.core.standing.stands_free import Standing
from uphill_lamp.drawings.far_side.mirror import Mirrors
from uphill_lamp.drawings.far_side.render import render


def value(appraisal: Appraisal, name: str) -> float:
    actual = appraisal.measures[f"light.{name}"].value
    assert actual is not None
    return actual


def lamp_before(face_place: tuple[float, float, float], name: str = "clock-bench", **more: Any) -> Any:
    """A setup lit by its bench lamp alone, bright, at a place forward, left and up of the eyes [m], aimed at the face."""
    setup = demo(name)
    face = face_of(setup)
    place = face.at(*face_place)
    yaw_deg, tilt_deg = yaw_tilt_deg(face.eyes - place)
    values = {"position": point_at(place).model_dump(), "aim_yaw_deg": yaw_deg, "aim_tilt_deg": tilt_deg, "flux_lm": 800.0} | more
    return put(
        setup,
        lights__ceiling_h_lamp__on=False,
        screens__laptop__on=False,
        **{f"lights__bench_h_lamp__{key}": value for key, value in values.items()},
    )


class TheLightThatLeads(TestCase):
    def test_angle_of_a_square_against_its_closed_form(self) -> None:
        for side_m, away_m in ((0.2, 1.0), (0.6, 0.7), (1.0, 0.5), (2.0, 0.4)):
            source = AreaSource("", facing_pane(np.zeros(3), 0.0, 0.0, side_m, side_m), 1.0, 5000)
            half = side_m / 2
            solid = 4 * math.asin(half * half / (half**2 + away_m**2))
            wanted = 2 * math.degrees(math.acos(1 - solid / (2 * math.pi)))
            self.assertAlmostEqual(fills_deg(source, np.array([0, away_m, 0.0])), wanted, delta=0.02 * wanted)

    def test_angle_of_a_bulb_and_of_a_ring(self) -> None:
        bulb = PointSource("", np.zeros(3), direction(0), direction(90), 800, 360, 2700)
        self.assertAlmostEqual(fills_deg(bulb, np.array([0, 1.0, 0.0])), math.degrees(2 * math.asin(0.045)), places=6)
        ring = AreaSource("", facing_pane(np.zeros(3), 0.0, 0.0, 0.4, 0.4), 1.0, 5000, ring=True)
        self.assertAlmostEqual(fills_deg(ring, np.array([0, 1.0, 0.0])), 2 * math.degrees(math.atan(0.2)), delta=0.5)

    def test_height_of_a_lamp_before_the_face(self) -> None:
        for up_deg in (-25, -10, 0, 25, 70):  # lower, the desk hides it
            up = math.radians(up_deg)
            setup = lamp_before((0.6 * math.cos(up), 0.0, 0.6 * math.sin(up)))
            self.assertAlmostEqual(value(appraise(setup), "key_height"), up_deg, delta=0.3)

    def test_paper_before_a_lamp_and_nearness_make_it_softer(self) -> None:
        bare = appraise(lamp_before((0.6, 0.1, 0.2)))
        paper = appraise(lamp_before((0.6, 0.1, 0.2), diffuser={"transmittance": 0.5, "width_m": 0.4, "height_m": 0.4}))
        nearer = appraise(lamp_before((0.4, 0.1, 0.2), diffuser={"transmittance": 0.5, "width_m": 0.4, "height_m": 0.4}))
        soft = [value(appraisal, "softness") for appraisal in (bare, paper, nearer)]
        self.assertEqual(soft, sorted(soft))
        self.assertLess(soft[0], 10)
        self.assertGreater(soft[1], 30)

    def test_a_paper_shade_shines_all_round_as_a_ball_of_its_size(self) -> None:
        shade = {"transmittance": 0.7, "width_m": 0.4, "height_m": 0.5, "around": True}
        bare = demo("clock-bench").lights[1].model_dump() | {"kind": "bulb", "beam_deg": None, "flux_lm": 700.0, "dim": 1.0, "on": True}
        source = lamp_source(Light.model_validate(bare | {"position": {"x_m": 0, "y_m": 0, "z_m": 0}, "diffuser": shade}))
        assert isinstance(source, PointSource)
        self.assertAlmostEqual(math.pi * source.radius_m**2, 0.4 * 0.5)
        step = np.arange(40_000) + 0.5  # the ball's skin, summed piece by piece
        polar, turn = np.arccos(1 - 2 * step / len(step)), np.pi * (1 + 5**0.5) * step
        out = np.stack([np.cos(turn) * np.sin(polar), np.sin(turn) * np.sin(polar), np.cos(polar)], axis=1)
        piece = source.seen_cd_m2 * 4 * math.pi * source.radius_m**2 / len(step)
        for place, tip_deg in (((1.1, 0.0, 0.0), 0.0), ((0.3, 0.5, 0.2), 0.0), ((0.0, -0.9, 0.4), 40.0)):
            spot, turned = np.array(place), math.radians(tip_deg)
            towards = -spot / np.linalg.norm(spot)
            aside = np.cross(towards, UP) / np.linalg.norm(np.cross(towards, UP))
            normal = math.cos(turned) * towards + math.sin(turned) * aside
            beyond = source.radius_m * out - spot
            away = np.linalg.norm(beyond, axis=1)
            leaving, arriving = (np.maximum(part / away, 0) for part in (-(beyond * out).sum(axis=1), beyond @ normal))
            summed = piece * (leaving * arriving / away**2).sum()
            self.assertAlmostEqual(source.illuminance_lx(spot[None], normal[None])[0], summed, delta=0.003 * summed)
        self.assertAlmostEqual(
            source.illuminance_lx(np.array([[1.1, 0, 0]]), np.array([[-1.0, 0, 0]]))[0], 700 * 0.7 / (4 * math.pi * 1.21)
        )
        self.assertAlmostEqual(fills_deg(source, np.array([1.1, 0, 0])), 2 * math.degrees(math.asin(source.radius_m / 1.1)))
        with self.assertRaises(ValueError):
            Light.model_validate(bare | {"kind": "cone", "beam_deg": 90.0, "diffuser": shade})

    def test_where_no_source_reaches_the_face_the_room_leads(self) -> None:
        setup = lamp_before((0.3, 0.0, 0.3), aim_yaw_deg=0.0, aim_tilt_deg=80.0, beam_deg=60.0)
        lead = key_light(appraise(setup).lit_scene)
        assert lead is not None
        self.assertIsNone(lead.source)
        self.assertGreater(lead.fills_deg, 40)
        self.assertGreater(lead.height_deg, 10)  # the ceiling is what shines

    def test_a_lamp_under_the_chin_comes_from_below(self) -> None:
        self.assertGreater(value(appraise(lamp_before((0.25, 0.0, -0.45))), "from_below"), 1)
        self.assertLess(value(appraise(lamp_before((0.4, 0.0, 0.4))), "from_below"), 0)


class ThePicture(TestCase):
    def test_behind_against_a_finer_grid_worked_by_itself(self) -> None:
        for name in ("clock-bench", "room-that-works", "standing-webinar"):
            appraisal = appraise(demo(name))
            setup, lit_scene = appraisal.setup, appraisal.lit_scene
            pinhole = pinhole_of(setup)
            x, y = np.meshgrid((np.arange(80) + 0.5) / 80, (np.arange(45) + 0.5) / 45)
            rays = pinhole.ray(x.ravel(), y.ravel())
            view = view_of(setup, pinhole, rays)
            behind = view.mask("surface", "backdrop")
            falls = lit_scene.illuminance_lx(view.place[behind], view.normal[behind], 6)
            own = {thing.id: thing.luminance_cd_m2 for thing in setup.backdrop}
            shine = np.array([own.get(thing.name, 0.0) for thing in view.things])[view.what[behind]]
            stops = np.log2((falls * view.reflectance[behind] / math.pi + shine) / (lit_scene.face_lx["front"] * REFERENCE_FACE / math.pi))
            if not view.mask("window", "screen").any():
                self.assertAlmostEqual(value(appraisal, "separation"), float(stops.mean()), delta=0.12, msg=name)

    def test_what_is_burnt_out_is_white_in_the_picture(self) -> None:
        for name in ("kitchen-table", "clock-bench", "room-that-works"):
            appraisal = appraise(put(demo(name), presenter__hair="none"))  # the metering's body has none either
            white = (render(appraisal, 320).pixels.min(axis=2) > 235).mean()
            self.assertAlmostEqual(value(appraisal, "burnt_out"), float(white), delta=0.05, msg=name)

    def test_a_darker_wall_lies_further_behind(self) -> None:
        light, dark = (appraise(put(demo("clock-bench"), room__surfaces__wall_y0=finish)) for finish in ("plaster_white", "curtain_wall"))
        self.assertGreater(value(light, "separation"), value(dark, "separation"))

    def test_locked_exposure_still_tells_what_is_burnt_and_behind(self) -> None:
        setup = demo("kitchen-table")
        free = appraise(setup)
        locked = appraise(
            put(setup, cameras__camera__metering="locked", cameras__camera__locked_exposure_lx=free.lit_scene.face_lx["front"])
        )
        self.assertAlmostEqual(value(locked, "exposure"), 0, places=6)
        self.assertEqual(value(locked, "separation"), value(free, "separation"))
        self.assertGreater(value(locked, "burnt_out"), value(free, "burnt_out"))

    @promise(20)
    @given(any_setup)
    def test_the_same_document_gives_the_same_figures_whatever_was_asked_before(self, setup: Any) -> None:
        first = appraise(setup).measures
        appraise(put(setup, lights__ceiling_h_lamp__dim=0.4))
        self.assertEqual(appraise(setup).measures, first)


class Flicker(TestCase):
    def test_what_is_left_is_what_an_integration_of_the_lamps_light_leaves(self) -> None:
        bare = put(demo("clock-bench"), lights__ceiling_h_lamp__flicker_depth=0.6, lights__bench_h_lamp__flicker_depth=0.6)
        share = sum(SpectralMix(lit_scene_of(bare), appraise(bare).metered).ripple_by_lamp.values()) / 0.6
        starts_s = np.linspace(0, 0.02, 41)[:-1]
        for mains_hz in (50, 60):
            for kind in ("webcam", "capture"):
                told, summed = [], []
                for fps in (15.0, 24.0, 25.0, 30.0, 50.0, 60.0, 120.0):
                    setup = put(bare, cameras__camera__fps=fps, place__mains_hz=mains_hz)
                    camera = setup.main_camera.model_copy(update={"kind": kind})
                    exposure_s = shutter_s(camera, mains_hz)
                    self.assertLessEqual(exposure_s, 1 / fps + 1e-12)
                    at_s = starts_s[:, None] + (np.arange(2000) + 0.5) / 2000 * exposure_s
                    frames = (1 + 0.6 * share * np.sin(4 * np.pi * mains_hz * at_s)).mean(axis=1)
                    summed.append((frames.max() - frames.min()) / (frames.max() + frames.min()))
                    if kind == "webcam":
                        told.append(value(appraise(setup), "flicker"))
                    else:
                        told.append(0.6 * share * ripple_left(exposure_s, mains_hz))
                np.testing.assert_allclose(told, summed, atol=0.003)
                self.assertEqual(
                    np.argsort(np.round(told, 3), kind="stable").tolist(), np.argsort(np.round(summed, 3), kind="stable").tolist()
                )

    def test_it_is_slight_until_bands_show_and_usual_lamps_are_no_matter(self) -> None:
        self.assertEqual(appraise(demo("clock-bench")).measures["light.flicker"].utility, 1.0)
        for fps, depth, severity in ((30.0, 0.5, None), (30.0, 0.78, "slight"), (60.0, 0.7, "clear"), (60.0, 1.0, "clear")):
            lamps = {"lights__ceiling_h_lamp__flicker_depth": depth, "lights__bench_h_lamp__flicker_depth": depth}
            setup = put(demo("clock-bench"), **lamps, cameras__camera__fps=fps)
            finding = next((finding for finding in appraise(setup).findings if finding.id == "light.flicker"), None)
            self.assertEqual(finding and finding.severity, severity, (fps, depth))
            self.assertEqual(finding is not None and "bands wander" in finding.why, severity == "clear")

    def test_nothing_flickers_without_lamps_on_the_mains(self) -> None:
        self.assertNotIn("light.flicker", appraise(demo("kitchen-table")).measures)
        steady = put(demo("clock-bench"), lights__ceiling_h_lamp__drive="dc", lights__bench_h_lamp__drive="dc")
        self.assertNotIn("light.flicker", appraise(steady).measures)
        faint = put(steady, lights__bench_h_lamp__drive="mains", lights__bench_h_lamp__flicker_depth=0.005)
        self.assertNotIn("light.flicker", appraise(faint).measures)


class Rim(TestCase):
    def test_light_from_behind_is_what_a_lamp_gives_hair_and_shoulders(self) -> None:
        for back, aside, up in ((0.8, 0.0, 0.6), (0.6, 0.7, 0.4), (1.0, -0.9, 0.9)):
            setup = lamp_before((-back, aside, up), kind="bulb", beam_deg=None, flux_lm=900.0)
            face, head = face_of(setup), setup.presenter.head
            bulb = [source for source in lit_scene_of(setup).sources if source.id == "bench-lamp"]
            lit = lit_scene_of(setup, bulb)
            by_hand = 0.0
            for x, y, z in ((-0.165, 0.0, 0.06), *((-0.155, side * 0.3 * head.shoulders_m, -head.eyes_to_shoulders_m) for side in (1, -1))):
                away = np.array([-back - x, aside - y, up - z])
                facing = max((away[2] - away[0]) / math.sqrt(2) / np.linalg.norm(away), 0.0)
                by_hand += 900 / (4 * math.pi) * facing / float(away @ away) / 3
            self.assertTrue(0 < rim_lx(lit) - by_hand < 60)  # what the room throws back
            places, normals = rim_points(face)
            self.assertAlmostEqual(bulb[0].illuminance_lx(places, normals).mean(), by_hand, delta=0.01 * by_hand)
            self.assertAlmostEqual(
                value(appraise(setup), "rim"), math.log2(rim_lx(lit_scene_of(setup)) / lit_scene_of(setup).face_lx["front"])
            )

    def test_a_lamp_for_it_stands_behind_and_its_stand_is_out_of_the_picture_too(self) -> None:
        for setup in (desk("10 dynamic"), lamp_before((0.6, 0.2, 0.2), flux_lm=3000.0)):
            shaped = put(setup, preferences__look="shaped", preferences__budget=200.0)
            moves = [move for move in appraise(shaped).moves_worked_out.values() if move.id.startswith("light.rim")]
            self.assertTrue(moves)
            for move in moves:
                after = applied(shaped, move.patch)
                lamp, pinhole, face = after.lights[-1], pinhole_of(after, after.main_camera), face_of(after)
                head, foot = (np.array([lamp.position.x_m, lamp.position.y_m, z_m]) for z_m in (lamp.position.z_m, 0.0))
                self.assertLess((head - face.eyes) @ face.forward, -0.4)
                self.assertGreater(head[2], face.eyes[2] + 0.3)
                for share in np.linspace(0, 1, 12):
                    x, y = pinhole.project(head + share * (foot - head))
                    self.assertFalse(0 < x < 1 and 0 < y < 1, move.id)
                flat = (head - pinhole.place) - (head - pinhole.place) @ pinhole.up * pinhole.up
                off_deg = math.degrees(math.acos(flat @ pinhole.forward / np.linalg.norm(flat)))
                self.assertGreater(off_deg, pinhole.field.horizontal_deg / 2 + 5)
                self.assertGreater(value(appraise(after), "rim"), value(appraise(shaped), "rim") + 1)
                self.assertFalse(Standing(shaped).new(after))


class Glare(TestCase):
    def test_a_spot_in_the_mirror_s_own_direction_lies_deepest(self) -> None:
        setup = demo("clock-bench")
        face, lens = face_of(setup), camera_pose(setup, setup.main_camera).place
        eye = face.at(0.0, 0.0325, 0.0)
        normal = math.cos(math.radians(10)) * face.forward - math.sin(math.radians(10)) * UP
        to_lens = (lens - eye) / np.linalg.norm(lens - eye)
        mirrored_ray = 2 * (normal @ to_lens) * normal - to_lens
        self.assertAlmostEqual(margins_deg(face, lens, (eye + mirrored_ray)[None])[0], -8, delta=1e-6)
        self.assertEqual(margins_deg(face, lens, face.at(-1.0, 0, 0)[None])[0], np.inf)

    @promise(40)
    @given(st.floats(-0.9, 0.9), st.floats(-0.6, 1.0), st.floats(0.5, 1.0))
    def test_what_is_mirrored_shows_in_the_drawn_lenses(self, left_m: float, up_m: float, ahead_m: float) -> None:
        setup = lamp_before((ahead_m, left_m, up_m))
        face, lens = face_of(setup), camera_pose(setup, setup.main_camera).place
        bench = next(light for light in setup.lights if light.id == "bench-lamp")
        lamp = lamp_source(bench)
        assert isinstance(lamp, PointSource)
        margin = margins_deg(face, lens, lamp.place[None])[0]
        # The drawn lens: a fine net of places on it, each with its own normal.
        y, z = np.meshgrid(np.linspace(0.011, 0.054, 60), np.linspace(-0.02, 0.014, 60))
        places = np.concatenate([np.column_stack([np.zeros(y.size), sign * y.ravel(), z.ravel()]) for sign in (1, -1)])
        rays = face.eyes + places @ np.array([face.forward, face.left, UP]) - lens
        rays /= np.linalg.norm(rays, axis=1, keepdims=True)
        worn = replace(face, presenter=face.presenter.model_copy(update={"glasses": "plain"}))
        seen = Mirrors((lamp,), worn).in_lenses(places, rays).sum() > 0
        if margin < -2.5:
            self.assertTrue(seen, margin)
        elif margin > 4:  # half a metre away, the bulb's own size and the lens's make up for so much
            self.assertFalse(seen, margin)

    def test_faint_reflections_and_no_glasses_do_not_count(self) -> None:
        setup = demo("clock-bench")
        self.assertLess(value(appraise(setup), "glare"), 0)
        self.assertEqual(mirrored(appraise(setup).lit_scene)[0].source.id, "laptop")
        coated = appraise(put(setup, presenter__glasses="anti_reflective", screens__laptop__luminance_cd_m2=40.0))
        self.assertGreater(value(coated, "glare"), 3)
        self.assertNotIn("light.glare", appraise(put(setup, presenter__glasses="none")).measures)


class Points(TestCase):
    @promise(20)
    @given(any_setup)
    def test_the_parts_by_source_make_up_the_whole(self, setup: Any) -> None:
        lit_scene = appraise(setup).lit_scene
        whole = lit_scene.whole_by_source_lx.sum(axis=0)
        for name, part in zip(FACE_POINTS, whole, strict=True):
            self.assertAlmostEqual(part, lit_scene.face_lx[name], delta=1e-6 * max(part, 1))


class UnderABrim(TestCase):
    def hatted(self, setup: Any) -> Any:
        return put(setup, presenter__brim_m=0.07)

    def test_what_comes_from_above_is_cut_and_what_comes_level_is_not(self) -> None:
        for up_deg, cut in ((75, True), (60, True), (10, False), (-20, False)):
            up = math.radians(up_deg)
            setup = lamp_before((0.7 * math.cos(up), 0.0, 0.7 * math.sin(up)))
            bare, hatted = appraise(setup).lit_scene.by_source_lx, appraise(self.hatted(setup)).lit_scene.by_source_lx
            front, brow, top = (list(FACE_POINTS).index(name) for name in ("front", "brow", "top"))
            self.assertEqual(hatted[:, brow].sum() < bare[:, brow].sum() / 2, cut, up_deg)
            self.assertAlmostEqual(hatted[:, top].sum(), bare[:, top].sum())
            self.assertLessEqual(hatted[:, front].sum(), bare[:, front].sum())

    def test_the_edge_lies_where_geometry_puts_it(self) -> None:
        face = face_of(demo("clock-bench"))
        brow = face.at(-0.005, 0.0, 0.04)[None]
        edge = math.atan2(BRIM_UP_M - 0.04, HEAD_RADIUS_M + 0.07 - MIDDLE_BACK_M + 0.005)
        for off, passes in ((-0.02, True), (0.02, False)):
            ray = math.cos(edge + off) * face.forward + math.sin(edge + off) * UP
            self.assertEqual(bool(passes_brim(face, 0.07, brow, ray[None])[0]), passes)

    def test_the_day_knows_the_hat(self) -> None:
        setup = self.hatted(demo("standing-webinar"))
        when = setup.place.call_at
        day = day_of(DayRoom.of(setup), when.date(), setup.place.sky)
        face = appraise(setup).lit_scene.face_lx
        for point, lx in zip(face.values(), day.lamps.face_lx[day.nearest(when)], strict=True):
            self.assertAlmostEqual(lx, point, delta=0.04 * point)


class Edges(TestCase):
    def finite(self, setup: Any) -> Appraisal:
        appraisal = appraise(setup)
        for measure in appraisal.measures.values():
            if measure.value is not None:
                self.assertTrue(math.isfinite(measure.value), measure)
        self.assertTrue(0 <= appraisal.score <= 100)
        for finding in appraisal.findings_with_gains:
            self.assertNotRegex(finding.title + finding.why, "nan|inf ")
        return appraisal

    def test_lamps_in_the_head_in_the_wall_and_of_no_flux(self) -> None:
        setup = demo("clock-bench")
        face = face_of(setup)
        for place in (face.eyes, face.at(-0.05, 0, 0), np.array([0.0, 1.0, 1.2]), np.array([3.0, 3.4, 2.4]), np.array([0.0, 0.0, 0.0])):
            self.finite(put(setup, lights__bench_h_lamp__position=point_at(np.clip(place, 0, [3.0, 3.4, 2.4])).model_dump()))
        self.finite(put(setup, lights__bench_h_lamp__flux_lm=0.0, lights__ceiling_h_lamp__dim=0.0))

    def test_no_window_and_one_as_large_as_the_wall(self) -> None:
        setup = demo("kitchen-table")
        self.finite(put(setup, room__windows=[]))
        window = setup.room.windows[0]
        span = setup.room.depth_m if window.wall in ("wall_x0", "wall_x1") else setup.room.width_m
        whole = window.model_dump(mode="json") | {"centre_m": span / 2, "width_m": span, "sill_m": 0.0, "height_m": setup.room.height_m}
        for sky in ("clear", "overcast"):
            self.finite(put(setup, room__windows=[whole], place__sky=sky, place__call_at="2026-06-21T12:00:00"))

    def test_the_ends_of_the_earth_and_of_the_calendar_and_a_long_room(self) -> None:
        for latitude in (-90.0, 90.0):
            for when in ("1900-01-01T00:00:00", "2100-12-31T23:59:00"):
                self.finite(put(demo("standing-webinar"), place__latitude_deg=latitude, place__call_at=when))
        self.finite(put(demo("kitchen-table"), room__width_m=12.0, room__depth_m=12.0))

    def test_in_hand_a_source_tells_what_it_does_in_the_glasses(self) -> None:
        lit_scene = appraise(demo("clock-bench")).lit_scene
        self.assertRegex(glare_words(lit_scene, "laptop"), r"^It shines in your glasses, \d")
        self.assertEqual(glare_words(lit_scene, "no-such-thing"), "")
        clear = appraise(lamp_before((0.5, 0.6, 0.5), flux_lm=2000.0)).lit_scene
        self.assertRegex(glare_words(clear, "bench-lamp"), r"^It is \d+(\.\d)?° clear")
