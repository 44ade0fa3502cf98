"""One's own room: every value has its place, every kind can be put, copied, changed and taken away, and nothing is lost on the way."""

from __future__ import annotations

import json
import math
import random
from collections.abc import Iterator
from datetime import datetime, timedelta
from typing import Any, get_args
from unittest import TestCase

import numpy as np
import pandas
from hypothesis import given
from hypothesis import strategies as st
from pvlib import solarposition
from pydantic import BaseModel

from tests.promise import SEED, promise, promised, times
from tests.setups import DEMO, ROOT, demo, demos
from tests.setups import put as values_put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.describing import putting
from uphill_lamp.core.describing.changing_kind import changed_kind
from uphill_lamp.core.describing.furnishing import furnished, furnishing_counts
from uphill_lamp.core.describing.kinds import KINDS, kinds_of
from uphill_lamp.core.describing.listing import Change
from uphill_lamp.core.describing.taking_away import taken_away
from uphill_lamp.core.document import Refused, Setup, applied, read_setup
from uphill_lamp.core.document.fields import Part
from uphill_lamp.core.document.setup import overlapping_holes, things
from uphill_lamp.core.earth.towns import exact, found, mains_hz, towns
from uphill_lamp.core.field.light.radiosity import solved
from uphill_lamp.core.scene.footprints import box, door_words, meet
from uphill_lamp.core.scene.handling import DRAGGED, GROUPS, LISTS, WITHIN, moved
from uphill_lamp.core.scene.placing import WALLS
from uphill_lamp.core.tape import entered, fields_of
from uphill_lamp.core.tape.earth_fields import bearing_from_sun
from uphill_lamp.core.tape.fields import measured_of
from uphill_lamp.core.tape.leaf_fields import reason
from uphill_lamp.core.tape.leaf_names import LEAVES


def done(setup: Setup, change: Change) -> Setup:
    return applied(setup, change.patch)


def handles(setup: Setup) -> Iterator[str]:
    yield from GROUPS
    for part in (*LISTS, *WITHIN):
        yield from (f"{part}/{item.id}" for item in dict(things(setup))[WITHIN.get(part, f"/{part}")])
    yield from (f"shown/{screen.id}.{shown.id}" for screen in setup.screens for shown in screen.windows)


def everything() -> Setup:
    """The demo with one of every kind put beside what it has, as far as lists go."""
    setup = demo("room-that-works")
    for kind in KINDS:
        if len(dict(things(setup))[WITHIN.get(kind.part, f"/{kind.part}")]) < (
            7 if kind.part in ("screens", "cameras", "reflectors") else 11
        ):
            setup = done(setup, putting.put(setup, kind.key))
    for thing, key, text in (("desk", "has-height_range", "on"), ("presenter", "has-paper_notes", "on"), ("room", "surfaces.floor", "own values"),
                             ("lights/desk-lamp", "has-diffuser", "on"), ("cameras/camera", "metering", "locked")):  # fmt: skip
        setup = applied(setup, entered(setup, thing, key, text))
    return setup


def leaf_names(model: type[BaseModel], seen: set[type[BaseModel]]) -> Iterator[str]:
    seen.add(model)
    for name, field in model.model_fields.items():
        inner = list(models(field.annotation))
        if not inner or name in ("floor", "ceiling", "wall_x0", "wall_x1", "wall_y0", "wall_y1"):
            yield f"{model.__name__}.{name}"
        for other in inner:
            if other not in seen:
                yield from leaf_names(other, seen)


def models(annotation: Any) -> Iterator[type[BaseModel]]:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for inner in get_args(annotation):
        yield from models(inner)


def paths(part: Any, root: str) -> Iterator[tuple[str, str]]:
    for name in type(part).model_fields:
        value = getattr(part, name)
        if isinstance(value, tuple) and value and isinstance(value[0], Part):
            for item in value:
                yield from paths(item, f"{root}/{name}/{getattr(item, 'id', '')}")
        elif isinstance(value, Part):
            yield from paths(value, f"{root}/{name}")
        yield f"{root}/{name}", f"{type(part).__name__}.{name}"


class EveryValue(TestCase):
    def test_every_leaf_of_the_schema_has_one_place_or_a_reason(self) -> None:
        names = sorted(set(leaf_names(Setup, set())))
        self.assertGreater(len(names), 250)
        self.assertEqual([name for name in names if not reason(name) and name not in LEAVES and not name.endswith(".name")], [])
        setups = [everything(), *map(demo, demos()), self._by_xlr()]
        reached: set[str] = set()
        for setup in setups:
            known = dict(paths(setup, ""))
            for handle in handles(setup):
                keys = [field.key for field in measured_of(setup, handle)]
                self.assertEqual(len(keys), len(set(keys)), handle)
                reached |= {known[path] for field in measured_of(setup, handle) for path in field.paths if path in known}
        self.assertEqual([name for name in names if not reason(name) and name not in reached], [])

    def _by_xlr(self) -> Setup:
        setup = demo()
        setup = done(setup, putting.put(setup, "microphones.xlr_dynamic"))
        return applied(setup, entered(setup, "microphones/xlr-dynamic", "booster_db", "20"))

    def test_what_is_typed_comes_true_and_counts_as_entered(self) -> None:
        setup = everything()
        for handle, key, text, path, value in (
            ("room", "north_bearing_deg", "123", "/room/north_bearing_deg", 123.0), ("", "latitude_deg", "57.4791", "/place/latitude_deg", 57.4791),
            ("lights/desk-lamp", "flux", "610 lm", "/lights/desk-lamp/flux_lm", 610.0), ("lights/desk-lamp", "duv", "0.0023",
            "/lights/desk-lamp/duv", 0.0023),
            ("cameras/camera", "lens.sensor_width_m", "6,4", "/cameras/camera/lens/sensor_width_m", 0.0064), ("wishes", "budget", "£60",
            "/preferences/budget", 60.0),
            ("", "duration_s", "90", "/place/duration_s", 5400.0), ("desk", "colour", "#112233",
            "/desk/colour", "#112233"),
            ("noises/own", "octaves_db", "1 2 3 4 5 6 7", "/noises/own/octaves_db", (1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0)),
            ("computer", "ports.usb_a", "3", "/computer/ports", None),
        ):  # fmt: skip
            after = applied(setup, entered(setup, handle, key, text))
            if value is not None:
                step: Any = after
                for name in path.split("/")[1:]:
                    step = next(part for part in step if part.id == name) if isinstance(step, tuple) else getattr(step, name)
                self.assertEqual(step, value, path)
                self.assertTrue(any(origin.startswith(path) for origin in after.origins), path)
        self.assertEqual(applied(setup, entered(setup, "computer", "ports.usb_a", "3")).computer.ports.count("usb_a"), 3)
        by_focal = applied(setup, entered(setup, "cameras/camera", "lens.focal_length_m", "23"))
        self.assertEqual((by_focal.main_camera.lens.focal_length_m, by_focal.main_camera.lens.diagonal_fov_deg), (0.023, None))
        for handle, key, text, part in (("room", "measured_t60_s", "x y", "seven"), ("wishes", "currency", "pounds", "fits"), ("room", "width_m", "90", "from"),
                                        ("", "timezone", "Mars/Base", "time zone"), ("desk", "colour", "red", "")):  # fmt: skip
            with self.assertRaises(Refused) as refused:
                applied(setup, entered(setup, handle, key, text))
            self.assertIn(part, str(refused.exception))


class EveryKind(TestCase):
    def test_every_kind_is_put_copied_changed_and_taken_away_and_nothing_else_is_touched(self) -> None:
        chance = random.Random(SEED)
        for name in demos():
            setup = demo(name)
            for kind in chance.sample(KINDS, times(len(KINDS))) if name != "clock-bench" else KINDS:
                with self.subTest(name, kind=kind.key):
                    there = done(setup, change := putting.put(setup, kind.key))
                    self.assertEqual(set(there.origins), set(setup.origins))  # what nobody told is assumed
                    self.assertFalse(overlapping_holes(there))
                    again = done(there, putting.copied(there, change.handle))
                    self.assertEqual(
                        len(dict(things(again))[WITHIN.get(kind.part, f"/{kind.part}")]),
                        len(dict(things(there))[WITHIN.get(kind.part, f"/{kind.part}")]) + 1,
                    )
                    other = chance.choice(kinds_of(kind.part))
                    turned = done(there, changed_kind(there, change.handle, other.key))
                    self.assertIn(change.handle, set(handles(turned)))
                    gone = done(there, taken_away(there, change.handle, into_drawer=False))
                    self.assertEqual(gone, setup)

    def test_what_is_told_stays_with_another_kind_and_what_is_lost_is_said(self) -> None:
        setup = demo()
        lamp = done(setup, putting.put(setup, "lights.desk_lamp"))
        for key, text in (("cct", "3100"), ("beam_deg", "80"), ("name", "The old one")):
            lamp = applied(lamp, entered(lamp, "lights/desk-lamp", key, text))
        change = changed_kind(lamp, "lights/desk-lamp", "lights.floor_lamp")
        after = next(light for light in done(lamp, change).lights if light.id == "desk-lamp")
        before = next(light for light in lamp.lights if light.id == "desk-lamp")
        self.assertEqual(
            (after.name, after.cct_k, after.position, after.kind, after.beam_deg), ("The old one", 3100.0, before.position, "bulb", None)
        )
        self.assertIn("no longer known: opening of its beam", change.words)
        self.assertEqual(done(lamp, change).origins["/lights/desk-lamp/cct_k"], "entered")

    def test_what_is_one_goes_together_and_what_refers_to_it_too(self) -> None:
        setup = demo()
        with self.assertRaisesRegex(Refused, "last camera"):
            taken_away(setup, "screens/laptop")
        phone = done(setup, putting.put(setup, "screens.phone"))
        self.assertEqual((len(phone.cameras), len(phone.microphones)), (len(setup.cameras) + 1, len(setup.microphones) + 1))
        wished = values_put(phone, preferences__must=["light.move_lamp.bench-lamp"])
        without = done(wished, taken_away(wished, "lights/bench-lamp"))
        self.assertEqual(without.preferences.must, ())
        change = taken_away(phone, "screens/laptop")
        self.assertIn("Laptop camera", change.words)
        after = done(phone, change)
        self.assertEqual([camera.use for camera in after.cameras], ["main"])
        self.assertIsNone(after.computer.loudspeakers_on)
        changed = done(setup, changed_kind(setup, "screens/laptop", "screens.phone"))  # with windows and a microphone on it
        self.assertEqual((changed.screens[0].kind, changed.cameras[0].mount), ("phone", "monitor_top"))
        self.assertGreater(appraise(changed).score, 0)

    def test_from_the_drawer_and_back(self) -> None:
        setup = demo()
        item = next(owned for owned in setup.kit if putting.from_drawer(setup, owned.id) is not None)
        kind = putting.from_drawer(setup, item.id)
        assert kind is not None
        there = done(setup, change := putting.put(setup, kind.key, kit_id=item.id))
        self.assertNotIn(item.id, [owned.id for owned in there.kit])
        back = done(there, taken_away(there, change.handle))
        self.assertIn(item.entry, [owned.entry for owned in back.kit])

    def test_furniture_is_counted_by_steps(self) -> None:
        setup = demo()
        was = furnishing_counts(setup)
        for more, count in ((True, 1), (True, 2), (False, 1), (False, 0)):
            change = furnished(setup, "rug", more)
            setup = done(setup, change)
            self.assertEqual(furnishing_counts(setup), was | {"rug": was["rug"] + count})
            self.assertIn(f"{was['rug'] + count} × rug", change.words)
        for kind, more in (("rug", False), ("piano", True)):
            with self.assertRaises(Refused):
                furnished(setup, kind, more)

    def test_an_open_door_lets_light_out_and_one_behind_the_desk_is_told(self) -> None:
        setup = done(demo(), putting.put(demo(), "doors.door"))
        door = setup.room.doors[0]
        shut, ajar = (solved(values_put(setup, **{f"room__doors__{door.id}__stands_open": way}).room) for way in (False, True))
        opening_m2 = float(((shut.reflectance - ajar.reflectance) / shut.reflectance * shut.patches.area_m2).sum())
        self.assertAlmostEqual(opening_m2, door.width_m * door.height_m, places=6)
        before = values_put(
            setup, desk__x_m=1.5, desk__y_m=0.4, **{f"room__doors__{door.id}__wall": "wall_y0", f"room__doors__{door.id}__centre_m": 1.5}
        )
        self.assertIn("in this door’s way", door_words(before, door.id))
        self.assertEqual(door_words(values_put(before, desk__y_m=0.45 + door.width_m + setup.desk.depth_m), door.id), "")
        self.assertTrue(
            meet(box((0, 0), 1, 1, 45), box((0.85, 0), 0.4, 0.4, 0)) and not meet(box((0, 0), 1, 1, 45), box((0.6, 0.6), 0.4, 0.4, 0))
        )

    def test_limits_odd_names_and_the_place_that_was_pressed(self) -> None:
        setup = demo()
        there = done(setup, putting.put(setup, "lights.floor_lamp", (99.0, 0.5)))
        self.assertLess(there.lights[-1].position.x_m, setup.room.width_m)
        self.assertEqual(there.origins[f"/lights/{there.lights[-1].id}/position/x_m"], "entered")
        for _ in range(24 - len(setup.lights)):
            setup = done(setup, putting.put(setup, "lights.desk_lamp"))
        for key in ("lights.desk_lamp", "nothing.such", ""):
            with self.assertRaises(Refused):
                putting.put(setup, key)
        long = "ש" * 79 + "x"
        named = applied(setup, entered(setup, "lights/bench-lamp", "name", long))
        self.assertEqual(next(light for light in named.lights if light.id == "bench-lamp").name, long)
        made = applied(demo(), entered(demo(), "lights/bench-lamp", "name", long))
        two = done(made, putting.copied(made, "lights/bench-lamp"))
        self.assertEqual(len({lamp.name for lamp in two.lights}), len(made.lights) + 1)


class Rooms(TestCase):
    @promise(60)
    @given(st.sampled_from(demos()), st.sampled_from(sorted(WALLS)), st.floats(-6, 6), st.floats(-6, 6))
    def test_a_wall_dragged_anywhere_loses_nothing_and_keeps_all_inside(self, name: str, wall: str, right: float, up: float) -> None:
        setup = demo(name)
        try:
            after = applied(setup, moved(setup, f"walls/{wall}", np.array([right, up, 0.0])))
        except Refused as refused:  # a lens on a monitor that comes to stand in the wall
            self.assertIn("lens", str(refused))
            return
        self.assertEqual(
            [(path, [item.id for item in listed]) for path, listed in things(after)],
            [(path, [item.id for item in listed]) for path, listed in things(setup)],
        )
        axis = WALLS[wall][0]
        self.assertEqual((after.room.depth_m, after.room.width_m)[axis], (setup.room.depth_m, setup.room.width_m)[axis])

    def test_edges_of_the_desk_the_compass_and_windows_from_wall_to_wall(self) -> None:
        setup = demo()
        wider = applied(setup, moved(setup, "edges/right", np.array([0.2, 0.0, 0.0])))
        self.assertAlmostEqual(wider.desk.width_m, setup.desk.width_m + 0.2, delta=0.002)
        self.assertIn("edges", DRAGGED)
        window = setup.room.windows[0]
        across = applied(
            setup, moved(setup, f"windows/{window.id}", np.array([setup.room.width_m / 2, setup.room.depth_m - window.centre_m, 0.0]))
        )
        self.assertEqual(across.room.windows[0].wall, "wall_y1")
        turned = applied(setup, moved(setup, "compass", np.array([0.1, 0.0, 0.0])))
        self.assertNotEqual(turned.room.north_bearing_deg, setup.room.north_bearing_deg)
        raised = applied(setup, moved(setup, f"heads/{window.id}", np.array([0.0, 0.0, 9.0])))
        self.assertAlmostEqual(raised.room.windows[0].height_m, setup.room.height_m - window.sill_m, places=3)
        second = done(setup, putting.copied(setup, f"windows/{window.id}"))
        self.assertFalse(overlapping_holes(second))

    def test_a_town_brings_its_country_and_one_that_is_none_is_told(self) -> None:
        self.assertGreater(len(towns()), 20000)
        self.assertEqual(
            [exact(text).label for text in ("inverness", "ZURICH", "são paulo", "Osaka, jp")],
            ["Inverness, GB", "Zürich, CH", "São Paulo, BR", "Osaka, JP"],
        )  # type: ignore[union-attr]
        self.assertEqual((mains_hz("US"), mains_hz("DE"), mains_hz("JP")), ((60,), (50,), (50, 60)))
        self.assertEqual(found("x"), [])
        setup = demo()
        there = applied(setup, entered(setup, "", "town", "Chicago"))
        self.assertEqual(
            (there.place.timezone, there.place.mains_hz, there.place.country, there.preferences.currency),
            ("America/Chicago", 60, "US", "USD"),
        )
        self.assertGreater(there.preferences.budget, setup.preferences.budget)
        with self.assertRaisesRegex(Refused, "town of 15"):
            entered(setup, "", "town", "Nowheresville-on-Nothing")
        polar = applied(setup, entered(setup, "", "latitude_deg", "90"))
        with self.assertRaisesRegex(Refused, "not up then"):
            entered(polar, f"windows/{setup.room.windows[0].id}", "sun_straight", "2026-12-21T12:00")

    @promised(50)
    def test_the_compass_from_the_sun_is_within_a_degree(self) -> None:
        """Against the solar library itself: the window's way out is where the sun stood."""
        chance, tried = random.Random(SEED), 0
        while tried < times(50):
            latitude, longitude = chance.uniform(-65, 65), chance.uniform(-180, 180)
            setup = values_put(demo(), place__latitude_deg=latitude, place__longitude_deg=longitude, place__timezone="UTC")
            moment = datetime(2026, 1, 1) + timedelta(minutes=chance.randrange(525600))
            stood = solarposition.get_solarposition(pandas.DatetimeIndex([moment], tz="UTC"), latitude, longitude).iloc[0]
            if not 3 < stood["apparent_elevation"] < 75:
                continue
            tried += 1
            wall, aside = chance.choice(sorted(WALLS)), chance.choice([0.0, 90.0, -90.0])
            window = setup.room.windows[0].model_copy(update={"wall": wall})
            bearing = bearing_from_sun(setup, window, moment.isoformat(), aside)
            outward = math.radians(bearing + WALLS[wall][2] + 180 + aside)
            sun = math.radians(stood["azimuth"])
            self.assertLess(math.degrees(math.acos(min(1.0, math.cos(outward - sun)))), 1.0)


class Uses(TestCase):
    def test_a_recording_hears_of_no_echo_and_speaks_to_the_lens(self) -> None:
        live = demo("interview-by-phone")
        echoing = values_put(live, computer__listening="loudspeakers")
        before = appraise(echoing)
        self.assertIn("sound.echo", before.measures)
        self.assertIn("eyes.aside", before.measures)
        taken = appraise(values_put(echoing, call__use="recorded", call__destination="recorded_lesson"))
        self.assertNotIn("sound.echo", taken.measures)
        self.assertNotIn("eyes.aside", taken.measures)
        self.assertIn("eyes.speak_to_lens", [finding.id for finding in taken.findings])
        self.assertEqual(taken.measures["sound.snr"].band.ideal_low, 35)  # type: ignore[union-attr]
        self.assertNotIn("sound.noise_removal", taken.moves_worked_out)
        playing = appraise(values_put(echoing, call__use="recorded", call__plays_sound=True))
        self.assertIn("sound.echo", playing.measures)
        beside = appraise(values_put(echoing, call__use="recorded", call__destination="interview"))
        self.assertEqual(beside.measures["eyes.aside"].band.ideal_low, 3)  # type: ignore[union-attr]

    def test_an_audience_is_the_chat_and_sound_alone_has_no_picture(self) -> None:
        hosted = appraise(values_put(demo("standing-webinar"), call__use="audience"))
        self.assertNotIn("eyes.chat_off", [finding.id for finding in hosted.findings])
        heard = appraise(values_put(demo(), call__picture=False))
        self.assertEqual([area.area for area in heard.areas], ["sound"])
        self.assertTrue(all(finding.area == "sound" for finding in heard.findings))

    def test_on_purpose_leaves_score_and_findings_until_it_moves(self) -> None:
        setup = demo()
        before = appraise(setup)
        finding = next(
            finding for finding in before.findings if finding.measures == ("frame.view_angle",) or "frame.view_angle" in finding.measures
        )
        values = {name: before.measures[name].value for name in finding.measures}
        meant = values_put(
            setup, on_purpose=[{"finding": finding.id, "reason": "it is how I want it", "on": "2026-11-28", "values": values}]
        )
        after = appraise(meant)
        self.assertNotIn(finding.id, [finding.id for finding in after.findings])
        self.assertEqual([finding.id for finding, _ in after.on_purpose], [finding.id])
        self.assertGreater(after.area("frame").score, before.area("frame").score)  # type: ignore[union-attr]
        moved_on = values_put(meant, screens__laptop__position__z_m=meant.screens[0].position.z_m - 0.25)
        self.assertIn(finding.id, [finding.id for finding in appraise(moved_on).findings])


class Versions(TestCase):
    def test_version_1_files_open_as_what_they_say(self) -> None:
        kept = sorted((ROOT / "versions" / "1").glob("*.json"))
        self.assertGreaterEqual(len(kept), 5)
        for path in kept:
            old = json.loads(path.read_text())
            self.assertEqual(old["version"], 1)
            setup = read_setup(path.read_bytes())
            self.assertEqual((setup.version, setup.call.use, setup.room.doors), (2, "live", ()))
            self.assertNotIn("/call/use", setup.origins)  # assumed: the page asks
            by_hand = DEMO / path.name
            if by_hand.exists():
                written = read_setup(by_hand.read_bytes()).model_dump(mode="json")
                same = setup.model_dump(mode="json")
                for part in ("call", "origins"):  # what the demo's setups have been told since
                    written.pop(part), same.pop(part)
                self.assertEqual(same, written)

    def test_fields_for_the_page_are_there_for_every_thing(self) -> None:
        setup = everything()
        for handle in handles(setup):
            self.assertTrue(handle.startswith("shown/") or fields_of(setup, handle), handle)
