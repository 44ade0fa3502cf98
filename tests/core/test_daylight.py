"""Sky, sun and panes against integrals worked out elsewhere, closed forms and what a pane must keep."""

from __future__ import annotations

import math
from datetime import datetime
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import dblquad

from tests.setups import demo, put, reference
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup, applied, typical
from uphill_lamp.core.field.light.daylight import Sky, sky_illuminance_lx, sky_over, sky_scale, sun_normal_lx
from uphill_lamp.core.field.light.radiosity import solved
from uphill_lamp.core.field.light.sky_types import SKIES
from uphill_lamp.core.field.light.windows import ClearWindow, SunBeam, window_sources
from uphill_lamp.core.scene.placing import facing_pane
from uphill_lamp.core.scene.sun import sun_position_deg
from uphill_lamp.core.scene.vectors import direction
from uphill_lamp.drawings.bars import band_words
from uphill_lamp.drawings.plan import plan

NOON, NIGHT = "2026-06-21T13:15:00", "2026-12-21T23:00:00"


def south_room(**changes: Any) -> Setup:
    """The kitchen with its window, open to the horizon, to the south, on a clear summer noon."""
    values = {
        "place__call_at": NOON,
        "place__sky": "clear",
        "room__north_bearing_deg": 0.0,
        "room__windows__garden_h_window__obstruction_deg": 0.0,
    }
    return put(demo("kitchen-table"), **(values | changes))


def shining(setup: Setup) -> tuple[Any, ...]:
    return window_sources(setup.room, setup.room.windows[0], sky_over(setup.place, setup.room.north_bearing_deg))


class AgainstAnotherProgram(TestCase):
    """Daylight through clear panes by make_skies.py, which is written from the standard alone and sums otherwise."""

    def test_what_clear_panes_give_a_face(self) -> None:
        off = []
        for case in reference("light_sky_open")["cases"]:
            kind, sun_deg = SKIES[case["sky"]], case["sun_elevation_deg"]
            horizontal_lx = sky_illuminance_lx(sun_deg, case["sky"])
            towards = direction(case["sun_azimuth_deg"], sun_deg)
            sky = Sky(towards, horizontal_lx, sun_normal_lx(sun_deg, case["sky"]), kind, horizontal_lx * sky_scale(kind, sun_deg))
            left, sill, wide, high = (case["window"][key] for key in ("left_m", "sill_m", "width_m", "height_m"))
            pane = facing_pane(np.array([left + wide / 2, 0.0, sill + high / 2]), 0.0, 0.0, wide, high)
            window = ClearWindow(
                "window",
                pane,
                sky.ground_cd_m2,
                kind.cct_k,
                sky=sky,
                through=case["transmittance"],
                obstruction_deg=case["obstruction_deg"],
            )
            places, normals = (np.array([sample[key] for sample in case["samples"]]) for key in ("place_m", "normal"))
            wanted = np.array([sample["direct_lx"] for sample in case["samples"]])
            lit = wanted > 20
            off += np.abs(window.illuminance_lx(places[lit], normals[lit]) / wanted[lit] - 1).tolist()
        self.assertGreater(len(off), 40)
        median, ninth, worst = np.quantile(off, (0.5, 0.9, 1.0))
        self.assertLessEqual(median, 0.01)
        self.assertLessEqual(ninth, 0.03)
        self.assertLessEqual(worst, 0.06)


def summed(sky: Sky, normal: Any, above: float = 0.0) -> float:
    """Illuminance of a whole sky on a plane by another's quadrature [lx]; ``above`` is the lowest elevation [rad]."""

    def ring(turn: float, rise: float) -> float:
        ray = np.array([math.cos(rise) * math.sin(turn), math.cos(rise) * math.cos(turn), math.sin(rise)])
        return float(sky.luminance_cd_m2(ray[None])[0]) * max(float(ray @ normal), 0.0) * math.cos(rise)

    return float(dblquad(ring, above, math.pi / 2, 0, 2 * math.pi, epsrel=1e-4)[0])


class Skies(TestCase):
    def test_the_sky_dims_through_twilight_without_a_jump(self) -> None:
        for sky in SKIES:
            levels = [sky_illuminance_lx(angle, sky) for angle in np.linspace(60, -13, 800)]
            self.assertTrue((np.diff(levels) <= 0).all())
            self.assertAlmostEqual(sky_illuminance_lx(-6, sky), 3, places=6)
            self.assertEqual(sky_illuminance_lx(-12.5, sky), 0)
        self.assertAlmostEqual(sky_illuminance_lx(90, "overcast"), 21300)

    def test_the_sun_by_hand(self) -> None:
        self.assertAlmostEqual(sun_normal_lx(90, "clear"), 127500 * math.exp(-0.21))
        self.assertAlmostEqual(sun_normal_lx(30, "partly"), 127500 * math.exp(-1.6))
        self.assertEqual((sun_normal_lx(40, "overcast"), sun_normal_lx(0.2, "clear"), sun_normal_lx(-3, "clear")), (0, 0, 0))

    def test_every_sky_summed_is_its_horizontal_illuminance(self) -> None:
        for sky in SKIES:
            for call_at in (NOON, "2026-11-26T09:30:00"):
                actual = sky_over(put(demo("kitchen-table"), place__call_at=call_at, place__sky=sky).place, 200.0)
                assert actual is not None
                with self.subTest(sky, call_at=call_at):
                    self.assertAlmostEqual(summed(actual, np.array([0, 0, 1.0])) / actual.horizontal_lx, 1, delta=0.01)

    def test_the_overcast_sky_is_three_times_brighter_overhead_and_alike_all_round(self) -> None:
        """Near Moon and Spencer's sky, (1 + 2 sin)/3 of the zenith: on a wall 0.396 of what falls on the ground."""
        sky = sky_over(put(demo("kitchen-table"), place__sky="overcast").place, 0.0)
        assert sky is not None
        zenith = sky.luminance_cd_m2(np.array([[0, 0, 1.0]]))[0]
        for rise in (0.5, 30, 60, 90):
            ring = sky.luminance_cd_m2(np.array([direction(turn, rise) for turn in range(0, 360, 45)]))
            np.testing.assert_allclose(ring, ring[0])
            self.assertAlmostEqual(float(ring[0] / zenith), (1 + 2 * math.sin(math.radians(rise))) / 3, delta=0.03)
        self.assertAlmostEqual(summed(sky, np.array([0, 1.0, 0])) / sky.horizontal_lx, 0.396, delta=0.02)

    def test_relative_luminances_worked_by_hand(self) -> None:
        """phi(Z) f(chi) of ISO 15469 on paper. At 10 degrees type 1 is a fifth darker than Moon and Spencer's sky: 0.359, not 0.449."""
        overcast, clear, partly = SKIES["overcast"], SKIES["clear"], SKIES["partly"]
        one, level = np.array([1.0]), np.array([0.0])
        for rise_deg, wanted in ((90, 2.98634), (30, 1.98639), (10, 1.07102)):
            self.assertAlmostEqual(float(overcast.relative(np.array([math.sin(math.radians(rise_deg))]), level)[0]), wanted, places=3)
        self.assertAlmostEqual(float(clear.relative(one, one)[0]), 0.273851 * 11.360167, places=4)  # towards a sun overhead
        self.assertAlmostEqual(float(clear.relative(one, level)[0]), 0.273851, places=4)  # a quarter turn from the sun
        self.assertAlmostEqual(float(partly.relative(level, level)[0]), 1.0, places=6)
        self.assertAlmostEqual(float(partly.relative(one, one)[0]), 1 + 5 * (1 - 0.019703) + 0.3, places=3)

    def test_a_clear_sky_is_brightest_round_the_sun(self) -> None:
        sky = sky_over(south_room().place, 0.0)
        assert sky is not None
        across = np.array([*sky.towards_sun[:2], 0.0]) * (-1, -1, 1) + (0, 0, 0.5)
        rays = np.array([sky.towards_sun, across / np.linalg.norm(across)])
        near, far = sky.luminance_cd_m2(rays)
        self.assertGreater(near, 5 * far)

    @given(st.floats(0, 359), st.sampled_from(sorted(SKIES)))
    def test_turning_the_house_turns_the_sky_with_it(self, north_deg: float, kind: str) -> None:
        place = put(demo("kitchen-table"), place__sky=kind).place
        still, turned = sky_over(place, 0.0), sky_over(place, north_deg)
        assert still is not None and turned is not None
        rays = np.array([direction(80, 20), direction(190, 35)])
        there = np.array([direction(80 - north_deg, 20), direction(190 - north_deg, 35)])
        np.testing.assert_allclose(still.luminance_cd_m2(rays), turned.luminance_cd_m2(there), rtol=1e-6)

    def test_the_sun_stands_where_the_reference_has_it(self) -> None:
        place = demo().place
        for row in reference("sun_open")["rows"]:
            if row["apparent_elevation_deg"] < -0.8 or row["apparent_elevation_deg"] > 85:
                continue
            instant = datetime.fromisoformat(row["local_time"])
            offset = instant.utcoffset()
            assert offset is not None
            there = place.model_copy(
                update={
                    "latitude_deg": row["latitude_deg"],
                    "longitude_deg": row["longitude_deg"],
                    "timezone": "UTC",
                    "call_at": (instant - offset).replace(tzinfo=None),
                }
            )
            elevation, azimuth = sun_position_deg(there)
            self.assertAlmostEqual(elevation, row["apparent_elevation_deg"], delta=0.05)
            self.assertAlmostEqual(azimuth, row["azimuth_deg"], delta=0.05 / max(math.cos(math.radians(elevation)), 0.05))


class Panes(TestCase):
    def test_what_comes_through_is_sky_and_ground_on_the_pane(self) -> None:
        """Against quadrature over the sky; the ground half of the view is its luminance times pi/2."""
        setup = south_room(place__sky="overcast")
        window = setup.room.windows[0]
        (pane,) = shining(setup)
        sky = pane.sky
        wanted = summed(sky, np.array([0, -1.0, 0])) + sky.ground_cd_m2 * math.pi / 2
        self.assertAlmostEqual(pane.outside_lx, wanted * window.glass_transmittance, delta=0.01 * wanted)
        self.assertAlmostEqual(sky.ground_cd_m2, 0.2 * sky.horizontal_lx / math.pi)
        self.assertAlmostEqual(pane.flux_lm, pane.outside_lx * window.width_m * window.height_m)

    def test_the_room_catches_what_the_pane_lets_in(self) -> None:
        for kind in SKIES:
            setup = south_room(place__sky=kind)
            enclosure = solved(setup.room)
            for source in shining(setup):
                caught = float(enclosure.patches.area_m2 @ enclosure.landed(source).room.mean(axis=1)) * source.strength
                self.assertAlmostEqual(caught / source.flux_lm, 1, delta=0.03, msg=f"{kind} {source.id}")

    def test_a_neighbouring_house_takes_the_low_sky_and_then_the_sun(self) -> None:
        heights = [shining(south_room(room__windows__garden_h_window__obstruction_deg=height)) for height in (0, 20, 40, 70, 90)]
        clouded = [
            shining(south_room(place__sky="overcast", room__windows__garden_h_window__obstruction_deg=height))[0].outside_lx
            for height in (0, 20, 40, 70, 90)
        ]
        self.assertEqual(clouded, sorted(clouded, reverse=True))
        self.assertEqual([len(height) for height in heights], [2, 2, 2, 1, 1])  # the sun stands 56 degrees high

    def test_the_beam_falls_where_a_ruler_puts_it(self) -> None:
        """Sun in the south: the upper edge of the pane throws its light head/tan(elevation) into the room."""
        setup = south_room()
        window = setup.room.windows[0]
        beam = next(source for source in shining(setup) if isinstance(source, SunBeam))
        elevation, azimuth = sun_position_deg(setup.place)
        per_metre = -math.cos(math.radians(azimuth)) / math.tan(math.radians(elevation))
        aside = math.tan(math.radians(180 - azimuth))
        up = np.array([[0, 0, 1.0]])
        for height_m, inside in (
            (window.sill_m, True),
            (window.sill_m + window.height_m, True),
            (window.sill_m - 0.02, False),
            (window.sill_m + window.height_m + 0.02, False),
        ):
            away = height_m * per_metre
            nudge = 0.001 if height_m < 1.5 else -0.001
            spot = np.array([[window.centre_m - aside * away, away + (nudge if inside else 0), 0.0]])
            lit = beam.illuminance_lx(spot, up)[0]
            self.assertAlmostEqual(lit, beam.level_lx * math.sin(math.radians(elevation)) if inside else 0.0, places=6)
        self.assertEqual(beam.illuminance_lx(np.array([[window.centre_m, 0.5, 0.3]]), -up)[0], 0)

    def test_no_beam_from_the_north_at_night_or_through_a_cloud(self) -> None:
        north, night, cloud = south_room(room__north_bearing_deg=180.0), south_room(place__call_at=NIGHT), south_room(place__sky="overcast")
        self.assertEqual([type(source) for source in shining(north)], [ClearWindow])
        self.assertEqual(shining(night), ())
        self.assertEqual([type(source) for source in shining(cloud)], [ClearWindow])

    def test_a_sheer_glows_with_half_of_sky_and_sun(self) -> None:
        clear = shining(south_room())
        (sheer,) = shining(put(south_room(), room__windows__garden_h_window__covering=typical.covering("sheer")))
        self.assertAlmostEqual(sheer.flux_lm, sum(source.flux_lm for source in clear) / 2)
        rays = np.array([direction(180, 20), direction(200, -10)])
        self.assertEqual(*sheer.seen_cd_m2(rays))
        self.assertEqual(shining(put(south_room(), room__windows__garden_h_window__covering=typical.covering("blackout"))), ())


class SunOnTheFace(TestCase):
    def in_the_sun(self, call_at: str = NOON) -> Setup:
        """The presenter's eyes on the way from the middle of the pane down the beam, turned to the window."""
        setup = south_room(place__call_at=call_at)
        beam = next(source for source in shining(setup) if isinstance(source, SunBeam))
        eyes = beam.pane.middle - beam.towards * (beam.pane.middle[2] - setup.presenter.eye_height_m) / beam.towards[2]
        return put(setup, presenter__x_m=round(float(eyes[0]), 3), presenter__y_m=round(float(eyes[1]), 3), presenter__facing_yaw_deg=180.0)

    def test_is_found_and_a_sheet_mends_it(self) -> None:
        before = appraise(self.in_the_sun())
        self.assertGreaterEqual(before.measures["light.direct_sun"].value or 0, 0.6)
        finding = next(finding for finding in before.findings_with_gains if finding.id == "light.direct_sun")
        sheet = next(move for move in finding.moves if move.id.startswith("light.veil"))
        after = appraise(applied(before.setup, sheet.patch))
        self.assertEqual(after.measures["light.direct_sun"].value, 0)
        self.assertTrue(sheet.cautions)

    def test_turned_away_it_lights_the_hair_and_not_the_face(self) -> None:
        turned = put(self.in_the_sun("2026-11-26T12:00:00"), presenter__facing_yaw_deg=0.0)
        self.assertEqual(appraise(turned).measures["light.direct_sun"].value, 0)

    def test_is_left_out_while_there_is_no_sun(self) -> None:
        for setup in (south_room(place__call_at=NIGHT), south_room(place__sky="overcast"), demo("clock-bench")):
            self.assertNotIn("light.direct_sun", appraise(setup).measures)

    def test_a_drawn_covering_can_be_drawn_back(self) -> None:
        setup = south_room(room__north_bearing_deg=180.0, presenter__facing_yaw_deg=180.0, lights__pendant__on=False)
        setup = put(setup, room__windows__garden_h_window__covering=typical.covering("blackout"))
        moves = {move.id: move for finding in appraise(setup).findings_with_gains for move in finding.moves}
        back = moves["light.uncover.garden-window"]
        self.assertEqual(applied(setup, back.patch).room.windows[0].covering.kind, "none")
        self.assertEqual(back.cost.kind, "free")

    def test_the_plan_shows_where_it_falls(self) -> None:
        setup = self.in_the_sun()
        beam = next(source for source in shining(setup) if isinstance(source, SunBeam))
        corners = beam.patch_at(setup.presenter.eye_height_m)
        assert corners is not None
        eyes = np.array([setup.presenter.x_m, setup.presenter.y_m])
        self.assertTrue((corners[:, :2].min(axis=0) < eyes).all() and (corners[:, :2].max(axis=0) > eyes).all())
        window = setup.room.windows[0]
        self.assertIsNone(beam.patch_at(window.sill_m + window.height_m + 0.01))
        self.assertEqual(band_words(appraise(setup).measures["light.direct_sun"]), "0 %")
        self.assertIn("sun at eye height", plan(appraise(setup), "light", ""))
