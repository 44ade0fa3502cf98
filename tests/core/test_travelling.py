"""A place away from home: what is packed, sockets, volts and cells; a card for a guest; letters on a shared screen."""

from __future__ import annotations

from datetime import UTC, datetime
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import demo, demos, put, varied_setups
from uphill_lamp.core import cautions
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup
from uphill_lamp.core.earth.towns import countries, mains_hz, mains_of
from uphill_lamp.core.session.calling import next_call
from uphill_lamp.core.session.guest import SIT, guest_card
from uphill_lamp.core.session.run_sheet import run_sheet
from uphill_lamp.core.session.shared_screen import least_letter_px, shared_screen
from uphill_lamp.core.session.travelling import Travel, cell_words, text_of, travel
from uphill_lamp.core.wiring.plan import planned

NOW = datetime(2026, 11, 29, tzinfo=UTC)


def trip_of(setup: Setup, *idle: str) -> Travel:
    return travel(setup, planned(setup), idle)


def between(home: str, there: str, hz: int = 50) -> Travel:
    return trip_of(put(demo("room-that-works"), place__country=there, place__mains_hz=hz, session__gear_from=home))


class Countries(TestCase):
    def test_the_table_is_whole_and_sound(self) -> None:
        known = {code: mains_of(code) for code, _ in countries() if mains_of(code)}
        self.assertGreater(len(known), 220)
        for code, (volts, plugs) in known.items():  # type: ignore[misc]
            self.assertTrue(100 <= volts <= 127 or 220 <= volts <= 240, code)
            self.assertTrue(set(plugs) <= set("ABCDEFGHIJKLMNO") and len(set(plugs)) == len(plugs), code)
            self.assertTrue(
                volts > 200 or mains_hz(code) != (50,) or code in ("JM", "BB", "CW"), code
            )  # low volts go with 60 Hz but for three
        self.assertEqual([mains_of(code) for code in ("GB", "DE", "US", "JP", "AU", "XX")],
                         [(230.0, "G"), (230.0, "CF"), (120.0, "AB"), (100.0, "AB"), (230.0, "I"), None])  # fmt: skip


class Travelling(TestCase):
    def test_sockets_volts_and_pictures(self) -> None:
        for home, there, hz, said, unsaid in (
            ("GB", "GB", 50, ["230 V, 50 Hz, sockets for plugs G"], ["adapter", "Other volts", "pulse"]),
            ("GB", "DE", 50, ["adapter from G to F"], ["Other volts", "pulse"]),
            ("DE", "CH", 50, ["Some of your plugs fit"], ["Other volts"]),
            ("US", "GB", 50, ["Your plugs do not fit", "120 V", "100 times a second: set the camera to 25 pictures"], []),
            ("GB", "US", 60, ["100-240 V", "120 times a second: set the camera to 30 pictures"], []),
            ("GB", "US", 50, ["they usually have 60 Hz there"], []),
            ("US", "XX", 60, ["an adapter for the world"], ["Other volts"]),
        ):
            words = " ".join(between(home, there, hz).power)
            for part in said:
                self.assertIn(part, words, (home, there))
            for part in unsaid:
                self.assertNotIn(part, words, (home, there))
        self.assertIn(cautions.VOLTS, between("GB", "US", 60).cautions)
        self.assertNotIn(cautions.VOLTS, between("GB", "DE").cautions)

    def test_cells(self) -> None:
        self.assertTrue(cell_words(100).startswith("up to 100 Wh"))
        self.assertIn("not in the cabin unless", cell_words(100.1))
        self.assertIn("does not fly", cell_words(160.1))
        setup = demo("room-that-works")
        camera = f"/cameras/{setup.main_camera.id}"
        bank = {"id": "bank", "name": "Bank", "entry": "power_bank"}
        trip = trip_of(put(setup, kit=[bank], session__rigs=[{"device": camera, "battery_wh": 120.0}]))
        self.assertEqual([(cell.name, cell.wh) for cell in trip.cells], [(setup.main_camera.name, 120.0), ("Bank", 37.0)])
        self.assertIn(cautions.CELLS, trip.cautions)
        self.assertEqual(trip_of(put(setup, kit=[])).cells, ())

    def test_what_is_never_used_stays_at_home(self) -> None:
        setup = demo("room-that-works")
        lamp = next(light for light in setup.lights if light.on and light.stands not in ("ceiling", "wall"))
        whole, less = trip_of(setup), trip_of(setup, f"/lights/{lamp.id}")
        self.assertEqual(less.stays, (lamp.name,))
        self.assertEqual({item.name for item in whole.packed} - {item.name for item in less.packed}, {lamp.name})
        self.assertLess(less.volume_l, whole.volume_l)

    @promise(60)
    @given(varied_setups(), st.sampled_from([code for code, _ in countries()]), st.sampled_from([code for code, _ in countries()]))
    def test_any_setup_between_any_countries(self, setup: Setup, home: str, there: str) -> None:
        trip = trip_of(put(setup, place__country=there, session__gear_from=home))
        self.assertTrue(trip.packed and trip.power and trip.ask)
        self.assertAlmostEqual(trip.mass_kg, sum(item.mass_kg or 0 for item in trip.packed))
        self.assertEqual(set(trip.unweighed), {item.name for item in trip.packed if item.mass_kg is None})
        text = text_of(trip)
        self.assertTrue(
            all(item.name in text for item in trip.packed) and all(line in text for line in (*trip.power, *trip.ask, *trip.cautions))
        )


class Guests(TestCase):
    def test_five_lines_for_every_purpose(self) -> None:
        for destination in SIT:
            for use in ("live", "audience", "recorded"):
                setup = put(demo("kitchen-table"), call__destination=destination, call__use=use, session__joins_by="room 4711")
                lines = guest_card(setup, next_call(setup, NOW))
                self.assertEqual(len(lines), 5)
                self.assertTrue(lines[4].endswith("room 4711.") and lines[4].startswith("Send" if use == "recorded" else "It begins on"))
                self.assertIn("5 s", lines[3])
        alone = put(demo("kitchen-table"), call__picture=False, session__joins_by="")
        lines = guest_card(alone, next_call(alone, NOW))
        self.assertIn("no picture", lines[1])
        self.assertTrue(lines[4].endswith("Join by what you are sent."))


class Shared(TestCase):
    def test_letters_grow_with_the_screen(self) -> None:
        self.assertEqual([least_letter_px(wide) for wide in (1280, 1920, 3840)], [8, 12, 24])
        for name in demos():
            setup = put(demo(name), call__slides="beside")
            screen = shared_screen(setup)
            self.assertIsNone(shared_screen(put(setup, call__slides="none")))
            if screen is None:
                continue
            lines = {line.id: line for line in run_sheet(appraise(setup))}
            self.assertIn(f"at least {8 * screen.width_px / 1280:.0f} px", lines["computer.letters"].words)
            seen = [window.name for window in screen.windows if window.shows != "slides"]
            self.assertTrue(all(window in lines["computer.shared"].words for window in seen), name)
