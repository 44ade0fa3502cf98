"""The catalogue: what ships, CSV out and in, hostile tables, prices in other currencies."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.frame.gear_moves import desk_moves
from uphill_lamp.core.catalogue.kind import CONNECTORS, Kind
from uphill_lamp.core.catalogue.meant import using
from uphill_lamp.core.catalogue.prices import TYPICAL_RATES, Catalogue, catalogue
from uphill_lamp.core.catalogue.table import COLUMNS, MOST_ROWS, read_table, shipped, written_table
from uphill_lamp.core.document import Refused
from uphill_lamp.core.masses import LAMP_KG, mass_kg
from uphill_lamp.core.offers import bought, needed, offered, with_all

HEAD = ",".join(COLUMNS[:6])
ROW = "lamp_of_mine,My lamp,lamp,12.50,GBP,2026-11-20"


class Loads(TestCase):
    def test_no_mount_is_proposed_for_more_than_it_is_made_for(self) -> None:
        """A desk lamp of 1.4 kg and a clamp for one kilo; the same lamp without an entry weighs what such ones do."""
        setup = put(demo(), preferences__budget=100.0)
        lamp = next(light for light in setup.lights if light.kind == "cone")
        self.assertEqual(mass_kg(lamp.model_copy(update={"entry": "desk_lamp_daylight"})), shipped()["desk_lamp_daylight"].mass_kg)
        self.assertEqual(mass_kg(lamp.model_copy(update={"entry": None})), LAMP_KG["cone"])
        self.assertIsNotNone(offered(setup, "clip_lamp_clamp", "A clamp", 0.6))
        self.assertIsNone(offered(setup, "clip_lamp_clamp", "A clamp", 1.4))
        crowded = put(setup, lights=[light.model_dump() | {"entry": "desk_lamp_daylight", "stands": "desk"} for light in setup.lights])
        self.assertEqual([move.id for move in desk_moves(crowded) if move.id.startswith("frame.clamp_lamp")], [])


class Shipped(TestCase):
    def test_some_seventy_kinds_each_with_price_and_date_that_know_one_another(self) -> None:
        kinds = shipped()
        self.assertGreaterEqual(len(kinds), 70)
        for kind in kinds.values():
            self.assertTrue(set(kind.needs) <= kinds.keys(), kind.entry)
            self.assertTrue(all(kind.caution_words))
        wanted = "book laptop_stand monitor_arm ring_light two_panel_kit battery power_bank xlr_dynamic xlr_condenser microphone_booster camera_clean capture_stick document_arm"  # noqa: E501
        self.assertTrue(set(wanted.split()) - {"battery"} <= kinds.keys())

    def test_written_out_and_read_again_it_is_the_same(self) -> None:
        kinds = list(shipped().values())
        self.assertEqual(read_table(written_table(kinds).encode()), kinds)

    def test_with_semicolons_and_a_mark_too(self) -> None:
        text = "\ufeff" + HEAD.replace(",", ";") + "\r\n" + ROW.replace(",", ";") + "\r\n"
        (kind,) = read_table(text.encode())
        self.assertEqual((kind.name, kind.price, kind.mass_kg), ("My lamp", 12.5, 0))


class Hostile(TestCase):
    def refused(self, text: str | bytes) -> str:
        with self.assertRaises(Refused) as caught:
            read_table(text if isinstance(text, bytes) else text.encode())
        return "; ".join(f"{fault.path}: {fault.found}; {fault.expected}" for fault in caught.exception.faults)

    def test_wrong_columns_are_named(self) -> None:
        self.assertIn("row 1", self.refused("what,price\nlamp,3\n"))
        self.assertIn("priced_on missing", self.refused("entry,name,role,price,currency\na,b,lamp,1,GBP\n"))
        self.assertIn("row 1", self.refused(f"{HEAD},entry\n{ROW},x\n"))

    def test_each_wrong_cell_is_told_by_row_and_column_and_nothing_is_taken(self) -> None:
        answer = self.refused(
            f"{HEAD}\n{ROW}\nBad Entry,x,lamp,1,GBP,2026-11-20\ngood,,lamp,1,GBP,2026-11-20\nother,x,spaceship,1,GBP,2026-11-20\n"
            "dear,x,lamp,1e9,GBP,2026-11-20\nlate,x,lamp,1,GBP,yesterday\nmoney,x,lamp,1,pounds,2026-11-20\nfew,x\n" + ROW
        )
        for place in (
            "row 3, entry",
            "row 4, name",
            "row 5, role",
            "row 6, price",
            "row 7, priced_on",
            "row 8, currency",
            "row 9: 2 cells",
            "row 10, entry",
        ):
            self.assertIn(place, answer)

    def test_formulas_are_refused_coming_in_and_disarmed_going_out(self) -> None:
        self.assertIn("row 2, name", self.refused(f"{HEAD}\nx,=cmd|'/c calc'!A1,lamp,1,GBP,2026-11-20\n"))
        self.assertIn("attributes", self.refused(f"{HEAD},attributes\n{ROW},kind=@SUM(A1)\n"))
        self.assertIn("price", self.refused(f"{HEAD}\nx,y,lamp,=1+1,GBP,2026-11-20\n"))
        kind = shipped()["book"].model_copy(update={"name": "=1+1"})  # past the model's own check
        self.assertIn("'=1+1", written_table([kind]))

    def test_no_table_at_all_too_many_rows_and_broken_text(self) -> None:
        for nothing in (b"", b"\x00\x01\x02", b"\xff\xfe\x00", b"PK\x03\x04", b"{}"):
            self.refused(nothing)
        rows = "\n".join(f"lamp_{number},Lamp,lamp,1,GBP,2026-11-20" for number in range(MOST_ROWS))
        self.assertEqual(len(read_table(f"{HEAD}\n{rows}\n".encode())), MOST_ROWS)
        self.assertIn("5000 rows at most", self.refused(f"{HEAD}\n{rows}\none_more,Lamp,lamp,1,GBP,2026-11-20\n"))
        self.refused(b"x" * 2_000_001)

    @promise(150)
    @given(st.binary(max_size=300) | st.text(alphabet='abc,;"\n\r=\t é', max_size=200).map(lambda text: f"{HEAD}\n{text}".encode()))
    def test_anything_is_read_or_refused(self, data: bytes) -> None:
        try:
            self.assertTrue(all(isinstance(kind, Kind) for kind in read_table(data)))
        except Refused as refused:
            self.assertTrue(refused.faults)

    def test_ports_and_cautions_must_be_known(self) -> None:
        answer = self.refused(f"{HEAD},ports,cautions\n{ROW},usb_z.plug,clamp\n")
        self.assertIn(CONNECTORS[0], answer)
        self.assertIn("cautions", self.refused(f"{HEAD},ports,cautions\n{ROW},usb_a.plug,sharks\n"))


class Prices(TestCase):
    def test_other_currencies_follow_their_rates_and_unknown_ones_are_taken_over(self) -> None:
        there = Catalogue(rates=TYPICAL_RATES | {"EUR": 1.2})
        self.assertEqual(there.price("laptop_stand", "GBP"), 20)
        self.assertEqual(there.price("laptop_stand", "EUR"), 24)
        self.assertEqual(there.price("bulb_daylight", "EUR"), 8.4)
        self.assertEqual(there.price("laptop_stand", "XAU"), 20)
        self.assertFalse(there.knows("XAU"))
        self.assertIsNone(there.price("no_such_thing", "GBP"))

    def test_a_price_of_ones_own_is_what_every_move_asks(self) -> None:
        setup = demo()
        mine = shipped() | {"wired_headset": shipped()["wired_headset"].model_copy(update={"price": 3.0})}
        with using(Catalogue(mine)):
            self.assertEqual(appraise(setup).move("sound.buy_headset").cost.amount, 3)  # type: ignore[union-attr]
        self.assertEqual(appraise(setup).move("sound.buy_headset").cost.amount, 25)  # type: ignore[union-attr]
        self.assertEqual(catalogue().price("wired_headset", "GBP"), 25)

    def test_what_is_taken_out_of_the_catalogue_is_no_longer_offered_and_breaks_nothing(self) -> None:
        less = {entry: kind for entry, kind in shipped().items() if entry not in ("wired_headset", "book", "old_phone", "usb_cable_ac")}
        with using(Catalogue(less)):
            appraisal = appraise(demo())
            self.assertIsNone(appraisal.move("sound.buy_headset"))
            self.assertIsNone(with_all(put(demo(), preferences__budget=500.0), ["usb_cardioid"]))
        with using(Catalogue({})):
            self.assertFalse(
                [move for finding in appraise(demo()).findings_with_gains for move in finding.moves if move.cost.kind == "buy"]
            )

    def test_owned_costs_nothing_and_all_that_is_needed_comes_along(self) -> None:
        self.assertEqual(needed(["xlr_condenser"]), ["xlr_condenser", "audio_interface", "xlr_cable", "usb_cable_ac"])
        setup = put(demo(), preferences__budget=500.0)
        whole = with_all(setup, ["xlr_condenser", "boom_arm"])
        self.assertEqual((whole.cost.amount, len(whole.cost.entries)), (196, 5))  # type: ignore[union-attr]
        mine = put(setup, kit=[{"id": "box", "name": "Input box", "entry": "audio_interface"}])
        less = with_all(mine, ["xlr_condenser", "boom_arm"])
        self.assertEqual(less.cost.amount, 126)  # type: ignore[union-attr]
        self.assertEqual(less.patch[0]["path"], "/kit/box")  # type: ignore[union-attr]
        self.assertIsNone(bought(put(demo(), preferences__budget=0.0), "laptop_stand"))
        self.assertEqual(
            offered(
                put(demo(), preferences__budget=0.0, kit=[{"id": "s", "name": "S", "entry": "laptop_stand"}]), "laptop_stand", ""
            ).cost.kind,
            "owned",
        )  # type: ignore[union-attr]

    def test_kinds_that_need_one_another_are_no_endless_circle(self) -> None:
        ring = {
            name: shipped()["book"].model_copy(update={"entry": name, "needs": (other,), "price": 5.0})
            for name, other in (("one", "two"), ("two", "one"))
        }
        with using(Catalogue(ring)):
            self.assertEqual(needed(["one"]), ["one", "two"])
            self.assertEqual(with_all(put(demo(), preferences__budget=50.0), ["one"]).cost.amount, 10)  # type: ignore[union-attr]
