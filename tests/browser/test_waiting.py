"""Waiting is seen, failing is said with a way on, and nothing typed or looked at is lost by it."""

from __future__ import annotations

import re
import time
from unittest.mock import patch

from tests.browser.story import BrowserTest
from uphill_lamp.core.steps.table import Cancelled
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.steps import work


class Waiting(BrowserTest):
    def test_a_picture_on_its_way_says_so_and_one_that_fails_too(self) -> None:
        page = self.page
        page.route("**/320.jpg", lambda route: None)  # never answered
        page.goto(self.live_server_url, wait_until="commit")
        page.wait_for_selector(".card-link.is-drawn")
        self.assertTrue(all(image.get_attribute("alt") for image in page.locator(".card-link img").all()))
        page.unroute("**/320.jpg")
        page.route("**/320.jpg", lambda route: route.abort())
        self.open("/")
        page.wait_for_selector(".card-link.is-undrawn")
        self.complaints.clear()

    def test_gains_that_fail_say_so_and_are_asked_again(self) -> None:
        page = self.page
        page.route("**/findings/", lambda route: route.fulfill(status=500, body=""))
        row = self.first()
        self.open(f"/setups/{row}/frame/")
        page.get_by_text("could not be worked out just now").first.wait_for()
        page.unroute("**/findings/")
        page.get_by_role("button", name="Try again").click()
        self.settled()
        self.assertGreater(page.locator("[data-move]").count(), 0)
        self.complaints.clear()

    def test_the_plan_as_pdf_shows_how_far_it_is_and_opens_by_itself(self) -> None:
        def slowly(appraisal: object, limit: float, progress: object, stopped: object) -> object:
            progress(1, 4)  # type: ignore[operator]
            while not stopped():  # type: ignore[operator]
                time.sleep(0.02)
            raise Cancelled

        self.addCleanup(work.forget)
        with patch("uphill_lamp.web.steps.work.climbed", side_effect=slowly):
            page = self.open(f"/setups/{self.first()}/plan.pdf")
            page.get_by_text("1 of 4 combinations").wait_for()
            self.axe()
            page.get_by_role("button", name="Stop", exact=True).click()
            page.goto(f"{self.live_server_url}/setups/{self.first()}/plan.pdf")
            page.get_by_role("button", name="Work out the steps").wait_for()
            self.axe()
        self.complaints.clear()

    def first(self) -> int:
        return Setup.objects.get(demo="clock-bench").pk


class Rows(BrowserTest):
    def test_a_price_is_saved_or_refused_in_its_row_and_the_list_stays_where_it_is(self) -> None:
        page = self.open("/catalogue/")
        entry = page.locator(".catalogue-list > li").last.get_attribute("id")
        row = page.locator(f"#{entry}")
        row.scroll_into_view_if_needed()
        before = page.evaluate("scrollY")
        self.assertGreater(before, 300)
        price = row.locator("input[name=price]")
        price.fill("dear")
        row.get_by_role("button", name=re.compile("Save")).click()
        row.locator(".fault").wait_for()
        self.assertEqual((price.input_value(), page.evaluate("document.activeElement.name")), ("dear", "price"))
        self.assertEqual(price.get_attribute("aria-describedby"), f"fault-{entry}")
        price.fill("31")
        price.press("Enter")
        page.get_by_role("status").filter(has_text="31 GBP").wait_for()
        self.assertAlmostEqual(page.evaluate("scrollY"), before, delta=60)
        row.get_by_role("button", name=re.compile("Take away")).click()
        row.wait_for(state="detached")
        page.get_by_text("Taken away (1)").click()
        page.get_by_role("button", name=re.compile("Bring it back")).click()
        page.locator(f"#{entry}").wait_for()
        self.assertEqual(page.locator(f"#{entry} input[name=price]").input_value(), "31")


class FromElsewhere(BrowserTest):
    def test_a_page_on_another_port_starts_changes_and_reads_nothing(self) -> None:
        row = Setup.objects.get(demo="clock-bench")
        head, own = row.head_id, f"{self.live_server_url}/setups/{row.pk}"
        images = "".join(f'<img src="{own}/{path}?{number}">' for number in range(9) for path in ("steps/ladder.csv", "steps/", "export/"))
        evil = f"""<!doctype html>{images}<iframe src="{own}/frame/"></iframe>
            <form id=f method=post action="{own}/frame/change/" target=t><input name=action value=lamps><input name=parent value={head}></form>
            <iframe name=t></iframe>
            <script>document.getElementById('f').submit();
            fetch('{own}/export/').then(a => a.text()).then(t => {{ document.title = 'read ' + t.length; }}, () => {{ document.title = 'refused'; }});
            </script>"""
        page = self.context.new_page()
        page.route("http://127.0.0.1:1/", lambda route: route.fulfill(body=evil, content_type="text/html"))
        with patch.object(work, "climbed", side_effect=AssertionError("a ladder was started")) as begun:
            page.goto("http://127.0.0.1:1/")
            page.wait_for_function("document.title !== ''")
            page.wait_for_timeout(400)
        self.assertEqual(page.title(), "refused")
        row.refresh_from_db()
        self.assertEqual((row.head_id, begun.call_count, work._jobs), (head, 0, {}))
