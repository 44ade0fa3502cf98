"""Each move of the rest of Light's table, offered where it is wanted and doing what it says."""

from __future__ import annotations

import math
import re
from typing import Any
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_light_table import lamp_before, value
from tests.promise import promise
from tests.setups import any_setup, demo, demos, put
from uphill_lamp.core import cautions
from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.areas.light import glare_moves
from uphill_lamp.core.areas.light.glare import mirrored
from uphill_lamp.core.document import Setup, applied, typical
from uphill_lamp.core.document.patch import add
from uphill_lamp.core.document.quickstart import setup_from_answers
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.judging import WANTING, Move
from uphill_lamp.core.scene.placing import camera_pose, face_of
from uphill_lamp.core.scene.vectors import UP, point_at
from uphill_lamp.core.tape import entered, fields_of
from uphill_lamp.drawings.far_side.render import render
from uphill_lamp.drawings.plan import plan


def offered(setup: Setup) -> dict[str, Move]:
    """Every move offered, by id."""
    return {move.id: move for finding in appraise(setup).findings_with_gains for move in finding.moves}


def done(setup: Setup, move_id: str) -> tuple[Appraisal, Appraisal]:
    """Before and after an offered move."""
    return appraise(setup), appraise(applied(setup, offered(setup)[move_id].patch))


def lit_by(**lamp: Any) -> Setup:
    """The bench lamp before the face, on a shaded room."""
    return lamp_before((0.6, 0.25, 0.2), **{"heat": "cool", "flux_lm": 900.0} | lamp)


class Colour(TestCase):
    def test_the_odd_bulb_is_changed_and_goes_with_the_rest(self) -> None:
        setup = put(lit_by(cct_k=6500.0), lights__ceiling_h_lamp__on=True, preferences__budget=50.0)
        before, after = done(setup, "light.bulb.ceiling-lamp")
        self.assertLess(value(after, "colour"), value(before, "colour") / 2)
        move = offered(setup)["light.bulb.ceiling-lamp"]
        self.assertEqual((move.cost.kind, move.cautions), ("buy", (cautions.BULB,)))
        self.assertNotIn("light.bulb.ceiling-lamp", offered(put(setup, preferences__budget=0.0)))
        mine = put(setup, preferences__budget=0.0, kit=[{"id": "spare-bulb", "name": "Spare bulb", "entry": "bulb_true_colours"}])
        self.assertEqual(offered(mine)["light.bulb.ceiling-lamp"].cost.kind, "owned")
        self.assertFalse(applied(mine, offered(mine)["light.bulb.ceiling-lamp"].patch).kit)

    def test_no_bulb_for_what_has_no_socket(self) -> None:
        """A phone's torch, or a lamp on low voltage."""
        for drive in ("mains", "dc"):
            setup = put(lit_by(cri=65.0, flux_lm=90.0, drive=drive), preferences__budget=50.0)
            bulbs = {move.id for move in appraise(setup).moves_worked_out.values() if "bulb" in move.id and "bench-lamp" in move.id}
            self.assertEqual(bulbs, {"light.bulb.bench-lamp", "light.brighter_bulb.bench-lamp"} if drive == "mains" else set())

    def test_a_green_or_dull_lamp_gets_another_bulb(self) -> None:
        for wrong in ({"duv": 0.014}, {"cri": 65.0}):
            before, after = done(put(lit_by(**wrong), preferences__budget=50.0), "light.bulb.bench-lamp")
            for name in ("tint", "rendering"):
                self.assertGreaterEqual(after.measures[f"light.{name}"].utility or 0, before.measures[f"light.{name}"].utility or 0)
            self.assertGreater(after.score, before.score)

    def test_a_panel_gets_a_filter_instead(self) -> None:
        setup = put(lit_by(), preferences__budget=50.0)
        panel = next(light for light in setup.lights if light.id == "bench-lamp").model_dump(mode="json")
        panel |= {"kind": "panel", "width_m": 0.3, "height_m": 0.3, "beam_deg": None, "cct_k": 6500.0}
        ceiling = next(light for light in setup.lights if light.id == "ceiling-lamp").model_dump(mode="json") | {"on": True}
        setup = put(setup, lights=[ceiling, panel])
        before, after = done(setup, "light.filter.bench-lamp")
        self.assertLess(value(after, "colour"), value(before, "colour"))
        self.assertLess(value(after, "face_level"), value(before, "face_level"))

    def test_the_odd_one_out_goes_off(self) -> None:
        setup = demo("clock-bench")
        floor = next(light for light in setup.lights if light.id == "bench-lamp").model_dump(mode="json")
        floor |= {
            "id": "odd",
            "name": "Odd lamp",
            "cct_k": 8000.0,
            "stands": "floor",
            "position": {"x_m": 0.6, "y_m": 0.6, "z_m": 1.2},
            "aim_yaw_deg": 200.0,
        }
        setup = put(setup, lights=[light.model_dump(mode="json") for light in setup.lights] + [floor])
        before, after = done(setup, "light.odd_off.odd")
        self.assertLess(value(after, "colour"), value(before, "colour"))

    def test_white_is_locked_at_what_the_face_gets(self) -> None:
        setup = put(lit_by(cct_k=2700.0), cameras__camera__white_balance={"kind": "locked", "cct_k": 6500.0})
        answer = {finding.id: finding for finding in appraise(setup).findings}
        self.assertIn("6500 K", answer["light.white_balance"].title)
        self.assertIn("orange", answer["light.white_balance"].why)
        locked = applied(setup, offered(setup)["light.lock_white"].patch)
        self.assertAlmostEqual(locked.main_camera.white_balance.cct_k or 0, 2700, delta=50)
        self.assertNotIn("light.white_balance", {finding.id for finding in appraise(locked).findings})

    def test_pictures_fall_into_step_with_the_mains(self) -> None:
        bare = put(lit_by(drive="mains", flicker_depth=1.0, flux_lm=2500.0), lights__ceiling_h_lamp__flicker_depth=1.0)
        before, after = done(bare, "light.in_step")
        self.assertEqual((after.setup.main_camera.anti_flicker, after.setup.main_camera.fps), ("50_hz", before.setup.main_camera.fps))
        self.assertAlmostEqual(value(after, "flicker"), 0.0)
        self.assertGreater(value(before, "flicker"), 0.05)
        self.assertAlmostEqual(value(after, "noise") ** 2 / value(before, "noise") ** 2, 0.9, places=6)  # 3 flickers in 1/30 s
        moves = offered(bare)
        self.assertNotIn("light.steady_rate", moves)  # its camera leaves that to the call
        self.assertIn("10 % less light", moves["light.in_step"].detail)
        bulb = applied(bare, moves["light.bulb.bench-lamp"].patch)
        self.assertIsNone(next(light.flicker_depth for light in bulb.lights if light.id == "bench-lamp"))
        phone = put(bare, cameras__camera__kind="phone_rear", place__mains_hz=60, cameras__camera__fps=50.0)
        self.assertEqual(applied(phone, offered(phone)["light.steady_rate"].patch).main_camera.fps, 60.0)


class Soft(TestCase):
    def test_paper_before_a_cool_lamp_and_never_before_a_warm_one(self) -> None:
        bare = put(lit_by(), presenter__glasses="none")
        before, after = done(bare, "light.diffuse.bench-lamp")
        self.assertGreater(value(after, "softness"), value(before, "softness") + 15)
        self.assertEqual(offered(bare)["light.diffuse.bench-lamp"].cautions, (cautions.PAPER,))
        for heat in ("warm", "hot"):
            warm = put(bare, lights__bench_h_lamp__heat=heat)
            self.assertFalse({"light.diffuse.bench-lamp", "light.soft_lamp.bench-lamp"} & set(offered(warm)))

    def test_a_paper_shade_goes_round_a_bulb(self) -> None:
        bulb = put(lit_by(kind="bulb", beam_deg=None, flux_lm=4000.0), presenter__glasses="none", preferences__budget=20.0)
        before, after = done(bulb, "light.diffuse.bench-lamp")
        move = offered(bulb)["light.diffuse.bench-lamp"]
        self.assertEqual((move.title, move.cost.kind, move.cautions), ("Put a paper shade round the bench lamp", "buy", (cautions.PAPER,)))
        self.assertTrue(after.setup.lights[-1].diffuser and after.setup.lights[-1].diffuser.around)
        self.assertGreater(value(after, "softness"), value(before, "softness") + 10)
        mine = put(bulb, kit=[{"id": "shade", "name": "My shade", "entry": "paper_shade"}], preferences__budget=0.0)
        move = offered(mine)["light.diffuse.bench-lamp"]
        self.assertEqual((move.title, move.cost.kind), ("Put My shade round the bench lamp", "owned"))
        self.assertFalse(applied(mine, move.patch).kit)
        self.assertFalse({"light.diffuse.bench-lamp", "light.soft_lamp.bench-lamp"} & set(offered(put(bulb, preferences__budget=0.0))))

    def test_a_lamp_turned_to_a_wall_is_as_soft_as_the_wall(self) -> None:
        setup = lit_by(flux_lm=3000.0)
        before, after = done(setup, "light.bounce.bench-lamp")
        self.assertGreater(value(after, "softness"), 40)
        self.assertLess(value(before, "softness"), 12)

    def test_a_phone_s_torch_from_the_drawer(self) -> None:
        setup = put(lit_by(flux_lm=0.0), kit=[{"id": "old-phone", "name": "Old phone", "entry": "old_phone"}])
        before, after = done(setup, "light.phone_torch")
        self.assertGreater(value(after, "face_level"), value(before, "face_level") + 2)
        self.assertFalse(after.setup.kit)
        self.assertNotIn("light.phone_torch", offered(after.setup))


class Picture(TestCase):
    def test_exposure_locked_on_the_face(self) -> None:
        before, after = done(demo("kitchen-table"), "light.lock_exposure")
        self.assertLess(value(before, "exposure"), -2)
        self.assertAlmostEqual(value(after, "exposure"), 0, delta=0.02)
        self.assertGreater(value(after, "burnt_out"), value(before, "burnt_out"))  # what it costs is counted

    def test_a_window_behind_is_shut_out_and_a_lamp_takes_its_place_in_one_move(self) -> None:
        kitchen = demo("kitchen-table")
        lamp = demo("clock-bench").lights[1].model_dump(mode="json") | {
            "id": "lamp",
            "name": "Lamp",
            "on": False,
            "stands": "floor",
            "flux_lm": 1200.0,
            "cct_k": 4000.0,
        }
        setup = put(kitchen, lights=[light.model_dump(mode="json") for light in kitchen.lights] + [lamp])
        name = f"light.lamp_for_window.{setup.room.windows[0].id}"
        before, after = done(setup, name)
        self.assertGreater(after.score, before.score + 1)
        self.assertGreater(value(after, "face_level"), value(before, "face_level"))
        alone = appraise(applied(setup, [operation for operation in offered(setup)[name].patch if "covering" in operation["path"]]))
        self.assertGreater(after.score, alone.score)

    def test_a_black_hole_behind_is_lit_by_a_lamp_that_is_spare(self) -> None:
        setup = put(lit_by(), room__surfaces__wall_y0="curtain_wall", backdrop=[])
        spare = setup.lights[1].model_dump(mode="json") | {"id": "spare-lamp", "name": "Spare lamp", "on": False, "stands": "floor"}
        setup = put(setup, lights=[light.model_dump(mode="json") for light in setup.lights] + [spare])
        before = appraise(setup)
        self.assertLess(value(before, "separation"), -3)
        after = appraise(applied(setup, offered(setup)["light.light_backdrop.spare-lamp"].patch))
        self.assertGreater(value(after, "separation"), value(before, "separation") + 1)

    def test_a_lamp_on_the_wall_behind_is_turned_down(self) -> None:
        setup = lit_by(flux_lm=300.0)
        behind = setup.lights[1].model_dump(mode="json") | {
            "id": "wall-washer", "name": "Wall washer", "flux_lm": 5000.0, "stands": "floor", "position": {"x_m": 0.6, "y_m": 0.5,
            "z_m": 1.2}, "aim_yaw_deg": 150.0,
            "aim_tilt_deg": 0.0,
        }  # fmt: skip
        setup = put(setup, lights=[light.model_dump(mode="json") for light in setup.lights] + [behind])
        actual = {name for name in offered(setup) if name.endswith("behind.wall-washer")}
        self.assertEqual(len(actual), 1, value(appraise(setup), "separation"))
        before, after = done(setup, actual.pop())
        self.assertLess(value(after, "separation"), value(before, "separation"))


class Glasses(TestCase):
    def test_a_lamp_is_moved_just_far_enough(self) -> None:
        setup = lamp_before((0.8, 0.0, -0.12), flux_lm=600.0, stands="floor")
        before, after = done(setup, "light.clear_glare.bench-lamp")
        self.assertLess(value(before, "glare"), 0)
        self.assertGreaterEqual(value(after, "glare"), 3)
        self.assertLess(value(after, "glare"), 6)

    def test_a_screen_is_turned_down_or_the_lenses_coated(self) -> None:
        paper = {"transmittance": 0.5, "width_m": 0.4, "height_m": 0.4}
        setup = put(lamp_before((0.5, 0.6, 0.5), flux_lm=4000.0, diffuser=paper), screens__laptop__on=True, preferences__budget=100.0)
        self.assertLess(value(appraise(setup), "glare"), 0)
        for move in ("light.screen_down.laptop", "light.coated_glasses"):
            _, after = done(setup, move)
            self.assertGreaterEqual(value(after, "glare"), 3, move)

    @promise(80)
    @given(any_setup, st.sampled_from(("plain", "anti_reflective")))
    def test_glare_of_a_screen_always_has_a_move(self, setup: Setup, glasses: str) -> None:
        appraisal = appraise(put(setup, presenter__glasses=glasses))
        nearest = next(iter(mirrored(appraisal.lit_scene)), None)
        if nearest is not None and nearest.source.id in {screen.id for screen in setup.screens}:
            for finding in appraisal.findings_with_gains:
                self.assertTrue(finding.id != "light.glare" or finding.moves)

    def test_a_screen_that_is_the_only_light_goes_dark_once_the_ceiling_lamp_is_on(self) -> None:
        room = setup_from_answers({"camera": "webcam", "height": "level", "window": "none", "when": "evening", "lamps": ["ceiling"]})
        dark = put(room, presenter__glasses="anti_reflective", lights__ceiling_h_lamp__on=False)
        self.assertLess(value(appraise(dark), "glare"), 0)
        with patch.object(glare_moves, "best_spot", return_value=None):  # no place for a lamp on the desk
            move = appraise(dark).moves_worked_out["light.lamp_on_and_dark_page.monitor"]
        self.assertIn("Turn on the ceiling lamp, and show dark pages", move.title)
        self.assertGreaterEqual(value(appraise(applied(dark, move.patch)), "glare"), 3)

    def test_a_monitor_is_moved_out_of_the_mirror(self) -> None:
        setup = put(demo("kitchen-table"), presenter__glasses="plain")
        face, lens = face_of(setup), camera_pose(setup, setup.main_camera).place
        eye = face.at(0.0, 0.0325, 0.0)
        normal = math.cos(math.radians(10)) * face.forward - math.sin(math.radians(10)) * UP
        to_lens = (lens - eye) / np.linalg.norm(lens - eye)
        mirrored_ray = 2 * (normal @ to_lens) * normal - to_lens
        place = point_at(eye + 0.75 * mirrored_ray + 0.6 * face.left).model_dump()
        monitor = typical.monitor(place, setup.presenter.facing_yaw_deg % 360 - 180) | {"windows": [], "width_m": 0.4, "height_m": 0.25}
        beside = applied(setup, (add("/screens/-", monitor),))
        move = appraise(beside).moves_worked_out["light.move_screen.monitor"]
        self.assertEqual((move.title, move.cautions), ("Move the monitor 10 cm to your left", (cautions.MONITOR,)))
        self.assertLess(value(appraise(beside), "glare"), 1)
        self.assertGreaterEqual(value(appraise(applied(beside, move.patch)), "glare"), 3)

    def test_a_lamp_is_put_where_the_glasses_do_not_show_it(self) -> None:
        setup = put(lamp_before((0.8, 0.0, -0.12), heat="cool"), cameras__camera__white_balance={"kind": "auto"})
        for name, move in offered(setup).items():
            if name.startswith(("light.move_lamp", "light.soft_lamp", "light.buy_lamp")):
                placed = "new-desk-lamp" if "buy" in name else "bench-lamp"
                shining = {glare.source.id: glare.margin_deg for glare in mirrored(appraise(applied(setup, move.patch)).lit_scene)}
                self.assertGreaterEqual(shining.get(placed, 45.0), 2.5, name)


class WhiteSheet(TestCase):
    def sheeted(self) -> Setup:
        setup = demo("interview-by-phone")
        return applied(setup, offered(setup)["light.white_sheet"].patch)

    def test_hung_on_the_dark_side_it_gives_what_it_says(self) -> None:
        before, after = done(demo("interview-by-phone"), "light.white_sheet")
        was, now = before.lit_scene.face_lx, after.lit_scene.face_lx
        self.assertLess(was["left_cheek"], was["right_cheek"])
        self.assertLess(value(after, "sides"), value(before, "sides"))
        match = re.search(r"gives that cheek (\d+) lx more", offered(before.setup)["light.white_sheet"].detail)
        assert match is not None
        self.assertAlmostEqual(now["left_cheek"] - was["left_cheek"], float(match[1]), delta=0.1 * float(match[1]) + 1)
        self.assertNotIn("light.white_sheet", offered(after.setup))

    def test_it_shines_with_what_falls_on_it_and_in_its_colour(self) -> None:
        setup = self.sheeted()
        lit_scene = appraise(setup).lit_scene
        sheet = next(source for source in lit_scene.sources if source.id == "white-sheet")
        assert isinstance(sheet, AreaSource)
        plain = appraise(put(setup, reflectors=[])).lit_scene
        on_it = plain.illuminance_lx(sheet.pane.middle[None], sheet.pane.normal[None])[0]
        self.assertAlmostEqual(sheet.luminance_cd_m2, 0.8 * on_it / math.pi, delta=0.15 * sheet.luminance_cd_m2)
        self.assertTrue(2700 < sheet.cct_k < 10_000)
        half = appraise(put(setup, reflectors__white_h_sheet__reflectance=0.4)).lit_scene
        dimmer = next(source for source in half.sources if source.id == "white-sheet")
        assert isinstance(dimmer, AreaSource)
        self.assertAlmostEqual(dimmer.luminance_cd_m2, sheet.luminance_cd_m2 / 2)

    def test_it_follows_the_light_and_throws_nothing_in_the_dark_or_backwards(self) -> None:
        setup = self.sheeted()
        night = put(setup, place__call_at="2026-12-21T23:30:00", **{f"lights__{light.id.replace('-', '_h_')}__on": False for light in setup.lights},
                    **{f"screens__{screen.id}__on": False for screen in setup.screens})  # fmt: skip
        self.assertNotIn("white-sheet", {source.id for source in appraise(night).lit_scene.sources})
        sheet = setup.reflectors[0]
        turned = put(setup, reflectors__white_h_sheet__yaw_deg=sheet.yaw_deg - 180)
        self.assertLess(appraise(turned).lit_scene.face_lx["left_cheek"], appraise(setup).lit_scene.face_lx["left_cheek"])

    def test_in_view_it_is_drawn_and_metered_and_it_can_be_taken_in_hand(self) -> None:
        setup = self.sheeted()
        face = face_of(setup)
        behind = put(setup, reflectors__white_h_sheet__position=point_at(face.at(-0.4, 0.25, 0.0)).model_dump(),
                     reflectors__white_h_sheet__yaw_deg=setup.presenter.facing_yaw_deg)  # fmt: skip
        self.assertNotEqual(appraise(behind).metered, appraise(setup).metered)
        self.assertFalse((render(appraise(behind), 160).pixels == render(appraise(setup), 160).pixels).all())
        self.assertIn("reflectors/white-sheet", plan(appraise(setup), "light", ""))
        keys = {entry.key for entry in fields_of(setup, "reflectors/white-sheet")}
        self.assertTrue({"aside", "distance", "turned_to_face", "reflectance", "width", "height"} <= keys)
        away = applied(setup, entered(setup, "reflectors/white-sheet", "turned_to_face", ""))
        self.assertNotEqual(away.reflectors[0].yaw_deg, setup.reflectors[0].yaw_deg)


class Looks(TestCase):
    def test_each_named_look_is_reached_from_the_clock_bench_by_moves_alone(self) -> None:
        for look in ("even", "filled", "shaped", "dramatic", "coloured"):
            setup = put(demo("clock-bench"), preferences__look=look, lights__bench_h_lamp__stands="floor")
            for _ in range(8):
                moves = [move for finding in appraise(setup).findings_with_gains if finding.area == "light" for move in finding.moves]
                if not moves:
                    break
                setup = applied(setup, max(moves, key=lambda move: move.gain or 0).patch)
            after = appraise(setup)
            self.assertGreaterEqual(
                after.measures["light.sides"].utility or 0, WANTING, (look, value(after, "sides"))
            )  # nothing visibly off
            light = after.area("light")
            assert light is not None
            self.assertGreater(light.score, 65, look)

    def test_behind_a_window_a_curtain_alone_is_told_not_to_be_enough(self) -> None:
        appraisal = appraise(demo("kitchen-table"))
        actual = next(finding for finding in appraisal.findings_with_gains if finding.id == "light.exposure")
        self.assertIn("silhouette", actual.title)
        self.assertEqual(actual.moves[0].gain, max(move.gain or 0 for move in actual.moves))
        for covering in ("veil", "shut_out"):
            self.assertIn("That alone is not enough", appraisal.moves_worked_out[f"light.{covering}.garden-window"].detail)
            self.assertNotIn(covering, actual.moves[0].id)


class Words(TestCase):
    def test_every_finding_reads_and_every_move_keeps_its_gain(self) -> None:
        for name in demos():
            appraisal = appraise(demo(name))
            for finding in appraisal.findings_with_gains:
                self.assertNotRegex(finding.title + finding.why, r"nan|None|\{|\}")
                for move in finding.moves:
                    after = appraise(applied(appraisal.setup, move.patch))
                    self.assertAlmostEqual(after.score - appraisal.score, move.gain or 0, places=6, msg=move.id)

    def test_the_lights_that_lead_are_named(self) -> None:
        answer = {finding.id: finding.title for finding in appraise(lamp_before((0.2, 0.0, 0.6))).findings}
        self.assertIn("bench lamp", answer["light.key_height"])
        self.assertIn("bench lamp", answer["light.softness"])
        low = {finding.id: finding.title for finding in appraise(lamp_before((0.25, 0.0, -0.45))).findings}
        self.assertIn("too low", low["light.key_height"])
        self.assertIn("from below", low["light.from_below"])
