"""Backdrop in its light: the body's shadow, the brightest, the hair's edge, what is worn; and what mends it."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_behind import behind, figures, moves, thing
from tests.desks import desk
from tests.promise import promise
from tests.setups import demo, put, varied_setups
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.backdrop.lit import lit_of
from uphill_lamp.core.areas.backdrop.lit_moves import MAKERS
from uphill_lamp.core.areas.backdrop.shine import width_deg
from uphill_lamp.core.document import Setup, applied, typical
from uphill_lamp.core.field.light.body_shadow import hidden_share
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.judging import Move
from uphill_lamp.core.scene.body import Ellipsoid, meet, trunk
from uphill_lamp.core.scene.placing import Face, facing_pane
from uphill_lamp.core.scene.scene import scene_of

FACE = Face(np.array([0.0, 0.0, 1.0]), np.array([0.0, 1.0, 0.0]), np.array([-1.0, 0.0, 0.0]), demo().presenter)
IN_LIGHT = [finding.removeprefix("backdrop.") for finding in MAKERS]


def bulb(place: tuple[float, float, float]) -> PointSource:
    return PointSource("bulb", np.array(place), np.array([0.0, -1.0, 0.0]), np.array([1.0, 0.0, 0.0]), 800.0, 360.0, 2700.0)


class BodyShadow(TestCase):
    @promise(60)
    @given(st.floats(0.05, 0.3), st.floats(0.5, 3.0), st.floats(0.3, 2.0), st.floats(0.02, 0.4))
    def test_of_a_ball_is_as_wide_as_the_closed_form(self, radius_m: float, lamp_m: float, wall_m: float, wide_m: float) -> None:
        """Before a bulb a disc with the edge of the tangent cone; before a pane a core and a fringe, each between the tangents of its ends."""
        ball = (Ellipsoid("head", (0.0, 0.0, 0.0), (radius_m, radius_m, radius_m)),)
        across = np.linspace(-3, 3, 6001)
        wall = np.stack([across, np.full_like(across, -wall_m), np.ones_like(across)], axis=1)
        if radius_m < 0.9 * min(lamp_m, wall_m):
            dark = hidden_share(bulb((0.0, lamp_m, 1.0)), ball, FACE, wall) > 0.5
            edge_m = (lamp_m + wall_m) * math.tan(math.asin(radius_m / lamp_m))
            self.assertAlmostEqual(float(across[dark].max()), edge_m, delta=0.0011)
        pane = AreaSource("panel", facing_pane(np.array([0.0, lamp_m, 1.0]), 180.0, 0.0, wide_m, 1e-6), 1000.0, 4000.0)
        share = hidden_share(pane, ball, FACE, wall)
        self.assertLess(float(np.abs(share - share[::-1]).mean()), 1e-3)
        # Spots lie at 1/8 to 7/8 of the pane: the outermost edge belongs to one of them, all of it to the other.
        ends = [self._edge_m(sign * 0.375 * wide_m, radius_m, lamp_m, wall_m) for sign in (1, -1)]
        self.assertAlmostEqual(float(across[share > 0].max()), max(ends), delta=0.0011)
        if min(ends) > 0.002:
            self.assertAlmostEqual(float(across[share > 0.999].max()), min(ends), delta=0.0011)

    @staticmethod
    def _edge_m(spot_m: float, radius_m: float, lamp_m: float, wall_m: float) -> float:
        """Where the tangent from a spot past a ball meets the wall, on the right."""
        slant = math.atan2(-spot_m, lamp_m) + math.asin(radius_m / math.hypot(spot_m, lamp_m))
        return spot_m + (lamp_m + wall_m) * math.tan(slant)

    def test_of_a_body_is_what_the_rays_of_the_meter_find(self) -> None:
        """The same ellipsoids met ray by ray."""
        setup = desk("05 teacher")
        face, shape = scene_of(setup).face, trunk(setup.presenter)
        wall = np.random.default_rng(3).uniform([0, 0.01, 0], [3.2, 0.02, 2.4], (400, 3))
        for place in ((2.1, 1.45, 1.14), (0.4, 2.0, 1.9), (1.6, 1.3, 1.3)):
            away = np.linalg.norm(wall - place, axis=1)
            hit, reach, _ = meet(shape, face, np.array(place), ((wall - place) / away[:, None]).T)
            met = np.isin(np.arange(len(wall)), hit[reach < away[hit]])
            np.testing.assert_array_equal(hidden_share(bulb(place), shape, face, wall) > 0.5, met)


class Figures(TestCase):
    def test_a_hard_lamp_close_by_draws_a_shadow_and_a_wide_one_does_not(self) -> None:
        teacher = desk("05 teacher")
        shadow = lit_of(teacher).shadow()
        assert shadow is not None
        self.assertEqual((shadow.source, shadow.stops > 1.2, 0.1 < shadow.share < 0.4), ("ring", True, True))
        dark = lit_of(put(teacher, lights=[light.model_dump() | {"on": False} for light in teacher.lights])).shadow()
        assert dark is not None
        self.assertNotEqual(dark.source, "ring")
        self.assertLess(dark.stops, 0.6 * shadow.stops)

    def test_a_garment_moves_the_exposure_as_metering_with_another_does(self) -> None:
        """Against metering the picture with a middling garment on."""
        for reflectance in (0.03, 0.2, 0.8):
            worn = [garment.model_dump() | {"reflectance": reflectance} for garment in demo("room-that-works").presenter.clothing]
            setup = put(demo("room-that-works"), presenter__clothing=worn, cameras=[
                camera.model_dump() | {"metering": "average", "locked_exposure_lx": None} for camera in demo("room-that-works").cameras])  # fmt: skip
            plain = put(setup, presenter__clothing=[garment | {"reflectance": 0.2} for garment in worn])
            there, then = (appraise(one).metered.error_stops for one in (setup, plain))
            self.assertAlmostEqual(lit_of(setup).garment() or 0.0, abs(there - then), delta=0.02)

    def test_what_is_brightest_is_named_and_a_point_of_light_is_no_ground(self) -> None:
        window = appraise(desk("15 default, window behind"))
        found = next(finding for finding in window.findings if finding.id == "backdrop.brightest")
        self.assertRegex(found.title, "^The window is .* brighter than your face$")
        lamp = demo("room-that-works")
        self.assertTrue(lit_of(lamp).metered.lamps.any())  # a lamp on the shelf is in view
        self.assertLess(figures(lamp)["brightest"] or 0.0, 0.3)

    def test_a_point_that_outshines_the_face_is_none(self) -> None:
        setup = demo("room-that-works")
        looked_at = lit_of(setup).looked_at()
        self.assertTrue(looked_at)
        glowing = [thing.model_dump() | ({"luminance_cd_m2": 900.0} if thing.id in looked_at else {}) for thing in setup.backdrop]
        self.assertEqual(lit_of(put(setup, backdrop=glowing)).looked_at(), [])

    def test_restless_things_make_it_restless_and_the_lens_calms_them(self) -> None:
        bare, full = figures(behind()), figures(behind(thing("bookcase", 1.7, width_m=1.6, height_m=1.9, wanted=True)))
        self.assertLess(bare["busy"] or 0.0, full["busy"] or 0.0)
        setup = behind(thing("bookcase", 1.7, width_m=1.6, height_m=1.9))
        open_wide = put(setup, cameras=[camera.model_dump() | {"lens": camera.lens.model_dump() | {"f_number": 1.0, "sensor_width_m": 0.036}}
                                        for camera in setup.cameras])  # fmt: skip
        self.assertLess(lit_of(open_wide).pattern(open_wide.backdrop[0]), lit_of(setup).pattern(setup.backdrop[0]))

    @promise(60)
    @given(varied_setups(), st.sampled_from((0.04, 0.3, 0.6)), st.sampled_from(("#101010", "#4a3527", "#e8dcc0")))
    def test_skin_and_hair_change_nothing_but_the_edge(self, setup: Setup, skin: float, hair: str) -> None:
        was, then = (figures(there) for there in (setup, put(setup, presenter__skin_reflectance=skin, presenter__hair_colour=hair)))
        self.assertEqual(*({name: value for name, value in there.items() if name != "edge"} for there in (was, then)))

    def test_hair_as_bright_as_the_wall_is_told_and_other_hair_is_not(self) -> None:
        setup = demo("room-that-works")
        grey, black = (lit_of(put(setup, presenter__hair_colour=colour)).edge() for colour in ("#8a8a88", "#050505"))
        assert grey is not None and black is not None
        self.assertLess(grey, 0.7)
        self.assertGreater(black, 1.5)
        bald = put(setup, presenter__hair="none", presenter__skin_reflectance=0.62)
        self.assertNotEqual(lit_of(bald).edge(), grey)

    @promise(100)
    @given(varied_setups())
    def test_all_are_finite_and_what_is_offered_mends(self, setup: Setup) -> None:
        appraisal = appraise(setup)
        for name, value in figures(setup).items():
            self.assertTrue(value is None or math.isfinite(value), (name, value))
        for finding in appraisal.findings_with_gains:
            name = finding.id.removeprefix("backdrop.")
            if name not in IN_LIGHT:
                continue
            before = appraisal.measures[finding.id]
            for move in finding.moves:
                after = appraise(applied(setup, move.patch)).measures.get(finding.id)
                self.assertTrue(after is None or (after.utility or 0) > (before.utility or 0), (finding.id, move.title))


class Moves(TestCase):
    def test_each_solved_for_what_is_wrong(self) -> None:
        teacher, lamps = moves(desk("05 teacher")), moves(desk("12 lamps"))
        self.assertIn("That alone is not enough", teacher["backdrop.forward.shadow"].detail)
        self.assertEqual(lamps["backdrop.wear_apart.top"].title, "Wear a dark one instead of the top")
        other = applied(desk("12 lamps"), lamps["backdrop.wear_apart.top"].patch)
        self.assertGreater(figures(other)["melts"] or 0.0, 0.55)
        window = moves(desk("15 default, window behind"))
        turned = applied(desk("15 default, window behind"), window["backdrop.turn_desk.bright"].patch)
        self.assertLess(figures(turned)["brightest"] or 0.0, 0.7)

    def test_a_lamp_is_carried_to_where_its_shadow_hides_behind_the_body(self) -> None:
        near = applied(desk("16 desk lamp"), moves_of(desk("16 desk lamp"))["light.move_lamp.desk-left"].patch)
        panel = {"kind": "panel", "width_m": 0.2, "height_m": 0.2, "flux_lm": 200.0, "beam_deg": None}
        setup = put(near, lights=[light.model_dump() | (panel if light.id == "desk-left" else {}) for light in near.lights])
        carried = next(move for move in MAKERS["backdrop.shadow"](lit_of(setup)) if move.id == "backdrop.shadow_carry.desk-left")
        self.assertEqual(carried.title, "Put the left desk lamp right over the camera, 50 cm above the desk, and aim it at your face")
        stops = [shadow.stops for there in (setup, applied(setup, carried.patch)) if (shadow := lit_of(there).shadow())]
        self.assertLess(stops[1], 0.42)
        self.assertLess(stops[1], stops[0])


RING = {"id": "ring", "name": "Silver", "kind": "jewellery", "colour": "#c9c9c9", "reflectance": 0.6}


def lit_by_bulb(there: tuple[float, float, float], **presenter: Any) -> Setup:
    """A room that works by night, with one bare bulb so far forward, left and up of the eyes [m]."""
    room = demo("room-that-works")
    x_m, y_m, z_m = (float(value) for value in scene_of(room).face.at(*there))
    lamp = room.lights[0].model_dump() | {
        "kind": "bulb", "position": {"x_m": x_m, "y_m": y_m, "z_m": z_m}, "flux_lm": 3000.0, "width_m": None, "height_m": None,
        "beam_deg": None, "on": True, "dim": 1.0, "diffuser": None,
    }  # fmt: skip
    worn = {f"presenter__{name}": value for name, value in presenter.items()}
    return put(room, lights=[lamp], place__call_at="2026-11-24T22:00:00", origins={}, **worn)


class Sparkles(TestCase):
    def told(self, setup: Setup, name: str) -> bool:
        return name in {finding.id for finding in appraise(setup).findings}

    def test_a_bulb_in_the_mirror_of_the_brow_shines_and_one_aside_or_a_panel_does_not(self) -> None:
        """By hand: the brow's normal is 20 degrees up and the lens level, so it mirrors what is 40 degrees up ahead."""
        mirrored = lit_by_bulb((1.0, 0.0, 0.84))
        self.assertTrue(self.told(mirrored, "backdrop.shine"))
        blotted = applied(mirrored, moves_of(mirrored)["backdrop.blot"].patch)
        self.assertFalse(self.told(blotted, "backdrop.shine"))
        self.assertFalse(self.told(lit_by_bulb((0.4, 1.2, 0.1)), "backdrop.shine"))
        panel = put(mirrored, lights=[light.model_dump() | {"kind": "panel", "width_m": 0.4, "height_m": 0.4} for light in mirrored.lights])
        self.assertFalse(self.told(panel, "backdrop.shine"))
        self.assertAlmostEqual(width_deg(bulb((0.0, 1.0, 1.0)), np.array([0.0, 0.0, 1.0])), math.degrees(2 * math.atan(0.045)), places=6)

    def test_jewellery_glints_clicks_and_knocks_where_it_is_worn(self) -> None:
        necklace = lit_by_bulb((1.0, 0.0, 0.3), clothing=[RING | {"worn_at": "neck"}])
        self.assertTrue(self.told(necklace, "backdrop.glint"))
        self.assertFalse(self.told(lit_by_bulb((1.0, 0.0, 0.3)), "backdrop.glint"))
        self.assertFalse(self.told(applied(necklace, moves_of(necklace)["backdrop.jewellery_off.ring"].patch), "backdrop.glint"))
        desk_ = put(desk("01 dorm"), presenter__clothing=[RING | {"worn_at": "wrists"}])
        self.assertTrue(self.told(desk_, "sound.jewellery"))  # over the quiet of a room at night
        self.assertFalse(self.told(put(desk_, presenter__clothing=[RING | {"worn_at": "ears"}]), "sound.jewellery"))
        lapel = typical.microphone("lapel", "lapel", "Lapel", in_use=True)
        worn = put(desk_, microphones=[lapel], presenter__clothing=[RING | {"worn_at": "neck"}])
        self.assertTrue(self.told(worn, "sound.jewellery"))
        self.assertFalse(self.told(applied(worn, moves_of(worn)["sound.jewellery_off.ring"].patch), "sound.jewellery"))


def moves_of(setup: Setup) -> dict[str, Move]:
    return {move.id: move for finding in appraise(setup).findings_with_gains for move in finding.moves}
