"""Steps, catalogue and wiring over HTTP: the whole job, odd input, and what is told."""

from __future__ import annotations

import csv
import io
import re
import time
from dataclasses import replace
from typing import Any
from unittest import TestCase as PlainTestCase
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import RequestFactory, TestCase

from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document import read_setup
from uphill_lamp.core.document.patch import add
from uphill_lamp.core.steps import ladder
from uphill_lamp.core.steps.action import Action, in_order
from uphill_lamp.core.steps.ladder import Ladder
from uphill_lamp.core.steps.pareto_front import Point, pareto_front_of
from uphill_lamp.core.steps.score_cache import ScoreCache
from uphill_lamp.web.catalogue import flows as catalogue
from uphill_lamp.web.catalogue.models import Entry
from uphill_lamp.web.setups import documents, flows
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.steps import views as steps_views
from uphill_lamp.web.steps import work
from uphill_lamp.web.steps.page import reach_of_money


# What a page does with a ladder is tried on a small one; how good a whole one is, tests/core tell.
def with_each_purchase(front: list[Point], pool: dict[str, Action], scores: ScoreCache, limit: float, *_: Any) -> list[Point]:
    """A front with what each purchase makes of its first set, in the place of all that single changes would."""
    best = pareto_front_of(front)
    here = in_order(best[0].chosen, pool)
    sets = [scores.taken_in(action, here, pool) or () for action in pool.values() if 0 < action.amount <= limit]
    points = [Point(sum(each.amount for each in chosen), scores.of(chosen), frozenset(each.id for each in chosen)) for chosen in sets]
    return pareto_front_of([*best, *(point for point in points if 0 < point.cost <= limit and point.score >= 0)])


SMALL = (("ladder", "MOST_COMBINATIONS", 60), ("ladder", "ROUNDS", 1), ("ladder", "bettered", with_each_purchase),
         ("ladder", "MOST_COMPLETED", 2), ("ladder", "MOST_SINGLY", 0), ("closing", "ROUNDS", 1), ("closing", "MOST_LEAPS", 0),
         ("closing", "MOST_OTHERWISE", 0), ("closing", "MOST_PRESSED", 2), ("pressing", "MOST_PRESSED", 2))  # fmt: skip
KNOWN: dict[tuple[str, float, int], Ladder] = {}


def made_small(test: PlainTestCase) -> None:
    """Ladders over few combinations until a test ends."""
    for part, name, value in SMALL:
        few = patch(f"uphill_lamp.core.steps.{part}.{name}", value)
        few.start()
        test.addCleanup(few.stop)


class Small(TestCase):
    """The demo, and ladders over fewer combinations than the app weighs."""

    name = "Clock bench, evening class"

    def setUp(self) -> None:
        flows.load_demo()
        self.at(self.name)
        made_small(self)
        self.addCleanup(work.forget)
        self.addCleanup(documents.forget)
        work.forget()

    def at(self, name: str) -> None:
        """Another demo from here on."""
        self.row = Setup.objects.get(name=name)
        self.base = f"/setups/{self.row.pk}/"

    def head(self) -> int:
        self.row.refresh_from_db()
        assert self.row.head_id is not None
        return self.row.head_id

    def document(self) -> Document:
        self.row.refresh_from_db()
        return read_setup(self.row.head.document.encode())  # type: ignore[union-attr]

    def there(self, path: str) -> Any:
        """An answer that needs the ladder, asked for until it is there."""
        end = time.monotonic() + 600  # however slow the machine is
        while (answer := self.client.get(self.base + path)).status_code == 202 and time.monotonic() < end:
            time.sleep(0.02)
        self.assertEqual(answer.status_code, 200, path)
        return answer

    def ready(self) -> str:
        """The page once the ladder is there."""
        self.there("steps/ladder.csv")
        return self.client.get(f"{self.base}steps/").content.decode()


def remembered(*given: Any) -> Ladder:
    """The ladder of a setup, worked out once for all tests that look at the same one."""
    appraisal, limit, *following = given
    key = appraisal.setup.model_dump_json(exclude={"name"}), limit, ladder.MOST_COMBINATIONS
    if key not in KNOWN:
        KNOWN[key] = ladder.climbed(appraisal, limit, *following)
    return KNOWN[key]


class Ladders(Small):
    name = "Kitchen table, morning"

    def setUp(self) -> None:
        super().setUp()
        known = patch.object(work, "climbed", remembered)
        known.start()
        self.addCleanup(known.stop)

    def test_the_page_shows_progress_then_the_hill_with_its_rungs(self) -> None:
        with patch("uphill_lamp.web.steps.views.WAIT_S", 0.0):
            first = self.client.get(f"{self.base}steps/")
        self.assertContains(first, "Working out the best steps")
        page = self.ready()
        for words in (
            "hill-drawing",
            "Free plan",
            "Do the whole plan",
            "Stop here",
            "Speak and listen with the spare phone&#x27;s earbuds",
            "What they would see",
            "What they would hear",
        ):
            self.assertIn(words, page)
        self.assertRegex(page, r"Within £\d+ the (free plan|plan for £\d+) reaches \d+ points in \d+ steps?\.")
        self.assertEqual(self.client.get(f"{self.base}steps/progress/").status_code, 204)
        self.assertEqual(self.client.get("/setups/9999/steps/").status_code, 404)

    def test_of_a_sum_the_plan_is_told_and_a_set_only_where_it_gains_more(self) -> None:
        self.ready()
        first = next(iter(KNOWN.values()))
        self.assertEqual([first.plan_within(rung.cost) for rung in first.rungs], list(first.rungs))
        plan, buy = first.rungs[0], next(action for action in first.actions.values() if action.amount)
        for more, told in ((0.2, False), (1.2, True)):
            apart = Point(plan.cost + buy.amount, plan.score + more, frozenset([buy.id]))
            reach = reach_of_money(replace(first, rungs=(plan,), front=(Point(plan.cost, plan.score, frozenset()), apart)))
            self.assertEqual([sums["cost"] for sums in reach], [0.0, buy.amount])
            self.assertTrue(all(f"the free plan reaches {plan.score:.0f} points" in sums["said"] for sums in reach))
            self.assertEqual(f"reaches {apart.score:.0f}. To buy: {buy.title}." in reach[1]["said"], told)

    def test_it_can_be_stopped_and_begun_again(self) -> None:
        with patch("uphill_lamp.web.steps.views.WAIT_S", 0.0), patch("uphill_lamp.core.steps.ladder.MOST_COMBINATIONS", 3200):
            self.client.get(f"{self.base}steps/")
            self.assertEqual(self.client.post(f"{self.base}steps/stop/").status_code, 302)
            stopped = self.client.get(f"{self.base}steps/")
        self.assertContains(stopped, "Work out the steps")
        self.assertEqual(self.client.get(f"{self.base}steps/1/shopping/").status_code, 503)
        self.client.post(f"{self.base}steps/stop/", {"again": "1"})
        self.assertIn("hill-drawing", self.ready())

    def test_steps_that_come_while_the_page_says_they_do_not_are_asked_for_again(self) -> None:
        job = work.Job(("", 0.0, ()), self.row.pk)
        for event, status in ((job._ended, 202), (job._stop, 503)):
            event.set()
            answer = steps_views.waiting(RequestFactory().get(self.base), self.row, appraise(self.document()), job)
            self.assertEqual((answer.status_code, b" data-waiting" in answer.content), (status, status == 202))

    def test_a_rung_is_tried_done_and_undone(self) -> None:
        page = self.ready()
        promised = float(re.findall(r'rung-score"><strong>(\d+)', page)[0])
        tried = self.client.get(f"{self.base}steps/1/try/light/")
        self.assertContains(tried, "Trying: Free plan")
        self.assertContains(tried, f"→ {promised:.0f} points")
        before = self.head()
        self.assertEqual(self.client.post(f"{self.base}steps/do/", {"rung": "1", "parent": before}).status_code, 302)
        self.assertAlmostEqual(appraise(self.document()).score, promised, delta=0.5)
        self.assertNotEqual(self.head(), before)
        undone = self.client.post(f"{self.base}undo/", {"parent": self.head(), "stage": "frame", "back": f"{self.base}steps/"})
        self.assertRedirects(undone, f"{self.base}steps/", fetch_redirect_response=False)
        self.assertEqual(self.head(), before)

    def test_one_step_alone_and_a_stale_page(self) -> None:
        self.ready()
        before = self.head()
        answer = self.client.post(f"{self.base}steps/do/", {"rung": "1", "step": "sound.use_microphone.phone-earbuds", "parent": before})
        self.assertEqual(answer.status_code, 302)
        self.assertEqual(self.document().microphone_in_use.kind, "earbud_cord")  # type: ignore[union-attr]
        self.ready()
        stale = self.client.post(f"{self.base}steps/do/", {"rung": "1", "parent": before})
        self.assertContains(stale, "has changed since", status_code=409)
        for odd in ({"rung": "99"}, {"rung": "x"}, {"rung": "1", "step": "no.such"}):
            self.assertEqual(self.client.post(f"{self.base}steps/do/", odd | {"parent": self.head()}).status_code, 404)

    def test_wishes_are_kept_and_odd_ones_told(self) -> None:
        def wish(**form: str) -> int:
            return self.client.post(f"{self.base}steps/wish/", form | {"parent": str(self.head())}).status_code

        self.assertEqual(wish(budget="35,5"), 302)
        self.assertEqual(self.document().preferences.budget, 35.5)
        self.assertEqual(wish(money_per_point="10"), 302)
        self.ready()
        self.assertEqual(wish(never="sound.buy_nothing_known"), 422)
        self.assertEqual(wish(never="sound.buy_headset"), 302)
        self.assertEqual(self.document().preferences.never, ("sound.buy_headset",))
        self.ready()
        page = self.client.get(f"{self.base}steps/").content.decode()
        self.assertRegex(page, r"Left out:\s+Headset")
        self.assertNotIn("<code>sound.buy_headset", page, "a step stands there in words")
        self.assertEqual(wish(must="sound.buy_headset"), 302)
        self.assertEqual((self.document().preferences.never, self.document().preferences.must), ((), ("sound.buy_headset",)))
        self.assertEqual(wish(neither="sound.buy_headset"), 302)
        self.assertEqual(wish(sound="1", light="2", frame="3", backdrop="5", eyes="4"), 302)
        self.assertEqual(self.document().preferences.weights.eyes, 4)
        work.forget()
        for form in ({"budget": "much"}, {"budget": "-1"}, {"budget": "1e9"}, {"never": "<script>"}, {}, {"sound": "nan"}):
            self.assertEqual(self.client.post(f"{self.base}steps/wish/", form | {"parent": str(self.head())}).status_code, 422, form)
        self.assertContains(
            self.client.post(f"{self.base}steps/wish/", {"budget": "lots", "parent": self.head()}), 'value="lots"', status_code=422
        )
        self.assertEqual(self.client.post(f"{self.base}steps/wish/", {"budget": "1", "parent": "1"}).status_code, 409)

    def test_what_can_be_taken_along(self) -> None:
        self.ready()
        rows = list(csv.reader(io.StringIO(self.client.get(f"{self.base}steps/ladder.csv").content.decode("utf-8-sig"))))
        self.assertEqual(rows[0][:4], ["rung", "step", "what", "cost"])
        self.assertGreater(len(rows), 4)
        drawing = self.client.get(f"{self.base}steps/ladder.svg").content.decode()
        self.assertTrue(drawing.startswith("<svg"))
        self.assertIn("<style>", drawing)
        self.assertNotIn("var(--", drawing)
        last = max(int(row[0]) for row in rows[1:])
        listed = self.client.get(f"{self.base}steps/{last}/shopping/?as=csv").content.decode("utf-8-sig")
        self.assertIn("what,how many,price each", listed)
        self.assertContains(self.client.get(f"{self.base}steps/{last}/shopping/"), "Together")
        plan = self.client.get(f"{self.base}plan.pdf")
        self.assertTrue(plan.content.startswith(b"%PDF"))

    def test_the_currency_may_be_any(self) -> None:
        self.at("A room that works")
        flows.change(self.row.pk, self.head(), ({"op": "replace", "path": "/preferences/currency", "value": "XAU"},), "gold")
        self.assertIn("No rate for XAU is known", self.ready())


class Prices(Small):
    def test_a_price_and_a_rate_of_ones_own_are_used_at_once(self) -> None:
        page = f"{self.base}catalogue/"
        self.assertContains(self.client.get(page), "Wall-power dummy battery")
        self.client.get(f"{self.base}sound/findings/")
        answer = self.client.post(f"{page}price/", {"entry": "wired_headset", "price": "7,5", "currency": "gbp"}, follow=True)
        self.assertContains(answer, "7.5 GBP, from today")
        self.assertContains(self.client.get(f"{self.base}sound/findings/"), "about £7.50")
        self.client.post(f"{page}rate/", {"currency": "EUR", "rate": "2"})
        self.assertEqual(catalogue.in_force().price("wired_headset", "EUR"), 15)
        self.client.post(f"{page}away/", {"back": "1"})
        self.assertEqual(catalogue.in_force().price("wired_headset", "GBP"), 25)

    def test_odd_prices_rates_and_items_are_told_and_what_was_typed_is_kept(self) -> None:
        page = f"{self.base}catalogue/"
        for price in ("", "cheap", "-1", "1e99", "nan"):
            self.assertContains(
                self.client.post(f"{page}price/", {"entry": "rug", "price": price, "currency": "GBP"}),
                "type a price from 0 to",
                status_code=422,
            )
        self.assertContains(
            self.client.post(f"{page}price/", {"entry": "rug", "price": "dear", "currency": "GBP"}), 'value="dear"', status_code=422
        )
        self.assertEqual(self.client.post(f"{page}price/", {"entry": "no_such", "price": "1", "currency": "GBP"}).status_code, 404)
        self.assertContains(
            self.client.post(f"{page}price/", {"entry": "rug", "price": "4", "currency": "XYZ"}), "no rate for XYZ", status_code=422
        )
        self.assertContains(self.client.post(f"{page}rate/", {"currency": "E", "rate": "0"}), 'id="fault-rate"', status_code=422)
        wrong = self.client.post("/catalogue/add/", {"name": "=cmd()", "role": "lamp", "price": "3", "currency": "GBP"})
        self.assertContains(wrong, "does not begin with", status_code=422)
        self.assertContains(wrong, "=cmd()", status_code=422)
        slow = {"name": "Slow lamp", "role": "lamp", "price": "3", "currency": "GBP", "minutes_once": "a while"}
        self.assertContains(self.client.post("/catalogue/add/", slow), 'value="a while"', status_code=422)
        self.assertEqual(Entry.objects.count(), 0)

    def test_an_item_of_ones_own_is_weighed_like_any_other_and_can_go_again(self) -> None:
        lamp = {
            "name": "Lamp from the attic",
            "role": "lamp",
            "price": "0",
            "currency": "GBP",
            "attributes": "kind=panel;width_m=0.5;height_m=0.5;flux_lm=1500;cct_k=4500;cri=95;stands=floor;heat=cool",
        }
        self.assertEqual(self.client.post("/catalogue/add/", lamp).status_code, 302)
        self.assertEqual(self.client.post("/catalogue/add/", lamp).status_code, 422)  # the same again
        self.assertIn("Lamp from the attic", self.ready())
        self.client.post("/catalogue/away/", {"entry": "lamp_from_the_attic"})
        self.assertNotIn("lamp_from_the_attic", catalogue.in_force().kinds)
        self.client.post("/catalogue/away/", {"again": "lamp_from_the_attic"})
        self.assertIn("lamp_from_the_attic", catalogue.in_force().kinds)
        self.assertEqual(self.client.post("/catalogue/away/", {"entry": "no_such"}).status_code, 404)

    def test_one_click_puts_a_thing_into_the_drawer_and_out_again(self) -> None:
        page = f"{self.base}catalogue/owned/"
        for number in range(2):
            self.assertEqual(self.client.post(page, {"entry": "boom_arm", "take": "in", "parent": self.head()}).status_code, 302, number)
        self.assertEqual([item.id for item in self.document().kit if item.entry == "boom_arm"], ["boom-arm", "boom-arm-2"])
        self.client.post(page, {"entry": "boom_arm", "take": "out", "parent": self.head()})
        self.assertEqual(len([item for item in self.document().kit if item.entry == "boom_arm"]), 1)
        self.assertEqual(self.client.post(page, {"entry": "boom_arm", "take": "in", "parent": "1"}).status_code, 409)
        self.assertEqual(self.client.post(page, {"entry": "no_such", "take": "in", "parent": self.head()}).status_code, 404)

    def test_a_row_deleted_that_a_setup_uses_breaks_nothing(self) -> None:
        self.at("A room that works")
        flows.change(
            self.row.pk, self.head(), (add("/kit/-", {"id": "pile", "name": "Pile", "entry": "book", "thickness_m": 0.03}),), "a pile"
        )
        for entry in ("book", "usb_cable_ac", "boom_arm"):
            self.client.post("/catalogue/away/", {"entry": entry})
        self.assertContains(self.client.get(f"{self.base}catalogue/"), "no longer in the catalogue")
        for address in ("frame/", "sound/findings/", "wiring/", "steps/ladder.csv", "microphones/"):
            self.there(address)

    def test_thousands_of_kinds_and_absurd_attributes_leave_every_page_standing(self) -> None:
        head = "entry,name,role,price,currency,priced_on,ports,attributes\n"
        lamp = "kind=panel;width_m=0.3;height_m=0.3;flux_lm=900;cct_k=4500;stands=floor"
        rows = [
            f"lamp_{number},Lamp {number},lamp,{number % 90},GBP,2026-11-20,,{lamp};count={odd}"
            for number, odd in enumerate(["nan", "1e9", "inf", "0"] * 300)
        ]
        rows += [
            f"cable_{number},Cable {number},cable,1,GBP,2026-11-20,usb_c.socket>usb_a.plug,carries=usb;length_m={odd}"
            for number, odd in enumerate(["nan", "1e9", "inf", "2"] * 300)
        ]
        answer = self.client.post("/catalogue/open/", {"file": SimpleUploadedFile("many.csv", (head + "\n".join(rows)).encode())})
        self.assertEqual(answer.status_code, 302)
        self.assertContains(self.client.get("/catalogue/"), "Page 1 of 13")
        self.assertContains(self.client.get("/catalogue/?find=cable 119"), "11 found")
        priced = self.client.post("/catalogue/price/", {"entry": "lamp_1100", "price": "5", "currency": "GBP"}, follow=True)
        self.assertContains(priced, '<li id="lamp_1100">')  # the part of the list it stands in
        with patch.object(catalogue, "MOST_OWN", 2400):
            refused = self.client.post("/catalogue/add/", {"name": "One too many", "role": "other"})
        self.assertContains(refused, "take some away first", status_code=422)
        self.at("A room that works")  # its microphone takes one of those cables
        for address in ("catalogue/", "wiring/", "steps/ladder.csv", "frame/", "microphones/"):
            self.there(address)
        self.assertEqual(self.client.post(f"{self.base}wiring/keep/", {"parent": self.head()}).status_code, 302)

    def test_the_table_goes_out_and_comes_in(self) -> None:
        out = self.client.get("/catalogue.csv").content
        self.assertEqual(self.client.post("/catalogue/open/", {"file": SimpleUploadedFile("c.csv", out)}).status_code, 302)
        changed = out.replace(b"rug,", b"rug,", 1).replace(b",45,GBP,2026-11-01,6,0", b",19,GBP,2026-11-20,6,0")
        self.client.post("/catalogue/open/", {"file": SimpleUploadedFile("c.csv", changed)})
        self.assertEqual(catalogue.in_force().price("rug", "GBP"), 19)
        for odd in (b"", b"\xff\xfe", b"a;b\n1;2\n", b"entry,name,role,price,currency,priced_on\n=cmd,x,lamp,1,GBP,2026-01-01\n"):
            answer = self.client.post("/catalogue/open/", {"file": SimpleUploadedFile("<b>.csv", odd)})
            self.assertEqual(answer.status_code, 422)
            self.assertNotContains(answer, "<b>.csv", status_code=422)
        self.assertEqual(self.client.post("/catalogue/open/").status_code, 422)


class Wired(Small):
    name = "A room that works"

    def test_the_chain_its_labels_and_lengths(self) -> None:
        page = self.client.get(f"{self.base}wiring/")
        for words in ("chain-drawing", "Cables, numbered", "Power", "To pack", "Voice isolation"):
            self.assertContains(page, words)
        kept = self.client.post(f"{self.base}wiring/keep/", {"length-cable-1": "3,5", "parent": self.head()})
        self.assertEqual(kept.status_code, 302)
        self.assertEqual(self.document().chain.links[0].length_m, 3.5)
        self.assertContains(self.client.get(f"{self.base}wiring/"), "3.5 m of cable are too long")
        odd = self.client.post(f"{self.base}wiring/keep/", {"length-cable-1": "far", "parent": self.head()})
        self.assertContains(odd, "type a length from 0 to", status_code=422)
        self.assertEqual(self.client.post(f"{self.base}wiring/keep/", {"parent": "1"}).status_code, 409)
        self.assertTrue(self.client.get(f"{self.base}wiring/labels.pdf").content.startswith(b"%PDF"))
        self.assertIn(b"<style>", self.client.get(f"{self.base}wiring/wiring.svg").content)

    def test_a_thing_no_longer_known_in_the_drawer_is_no_harm(self) -> None:
        flows.change(self.row.pk, self.head(), (add("/kit/-", {"id": "odd", "name": "Odd <b>", "entry": "gone_for_good"}),), "odd")
        self.assertEqual(self.client.get(f"{self.base}wiring/").status_code, 200)
        self.assertContains(self.client.get(f"{self.base}catalogue/"), "Odd &lt;b&gt;")

    def test_without_the_system_s_text_libraries_the_pdf_is_told_missing(self) -> None:
        with patch.dict("sys.modules", {"weasyprint": None}):
            answer = self.client.get(f"{self.base}wiring/labels.pdf")
        self.assertContains(answer, "No PDF can be made here", status_code=503)
