"""Go in the browser: a run sheet pressed through by keys, left and come back to, and what is so around the call entered, at 390 px too."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from unittest.mock import patch

from playwright.sync_api import Page

from tests.browser.story import BrowserTest
from uphill_lamp.web.go import phone, views
from uphill_lamp.web.go.models import Use
from uphill_lamp.web.setups.models import Setup

HALF_AN_HOUR_BEFORE = datetime(2026, 11, 26, 11, 0, tzinfo=UTC)


class Go(BrowserTest):
    flags = ("--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream")

    def going(self) -> Page:
        self.setup_row = Setup.objects.get(demo="room-that-works")
        return self.open(f"/setups/{self.setup_row.pk}/go/")

    def shows(self, words: str) -> None:
        """Waits until what is left to be done says so: its script may still be at work on a slow machine."""
        self.until(f"document.querySelector('[data-run-left]')?.innerText.includes({words!r})")

    def test_a_run_sheet_is_pressed_through_and_stays_ticked(self) -> None:
        page = self.bench("frame", "room-that-works")
        page.keyboard.press("9")
        page.wait_for_url(re.compile("/go/"), wait_until="domcontentloaded")
        self.axe()
        left = page.locator("[data-run-left]")
        count = page.locator("[data-tick]").count()
        self.shows("It is over.")
        self.assertEqual(left.inner_text(), "It is over.")
        page.locator("[data-tick]").first.focus()
        for _ in range(2):
            page.keyboard.press("Space")
            page.keyboard.press("Tab")
        self.shows(f"2 of {count} done")
        page.reload(wait_until="domcontentloaded")
        self.shows(f"2 of {count} done")
        page.set_viewport_size({"width": 390, "height": 844})
        self.unfold()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        self.axe()
        page.get_by_label("Animals may come in").check()
        page.get_by_label("Calls on that day").fill("five")
        page.locator("details:has-text('What is so here')").get_by_role("button", name="Save").click()
        page.wait_for_selector("text=Not saved")
        page.get_by_label("Calls on that day").fill("5")
        page.locator("details:has-text('What is so here')").get_by_role("button", name="Save").click()
        page.wait_for_selector("text=Animals fed")
        self.assertTrue(self.document().session.pets)
        page.wait_for_selector("text=h of calls on one day")
        self.shows(f"2 of {count + 1} done")
        page.locator("#log").get_by_label("not so well").check()
        page.get_by_label("Others heard themselves").check()
        page.get_by_label("Minutes until you were ready").fill("7,5")
        page.locator("#log").get_by_role("button", name="Save").click()
        page.wait_for_selector("#log td:has-text('Others heard themselves')")
        self.assertEqual(Use.objects.get().ready_min, 7.5)
        self.axe()
        page.get_by_role("button", name="Untick all").click()
        self.shows("It is over.")
        self.assertEqual(left.inner_text(), "It is over.")

    def test_the_log_is_drawn_and_goes_out_and_in_again(self) -> None:
        page = self.going()
        for minutes in ("9", "6,5"):
            page.locator("#log").get_by_label("well", exact=True).check()
            page.get_by_label("Minutes until you were ready").fill(minutes)
            page.locator("#log").get_by_role("button", name="Save").click()
            page.wait_for_selector(f"#log td:has-text('{minutes.replace(',', '.')} min')")
        drawn = page.locator("svg.trend")
        self.assertEqual(drawn.locator(".trend-bar").count(), 2)
        self.assertIn("Minutes until ready [min]", drawn.get_attribute("aria-label") or "")
        with page.expect_download() as download:
            page.get_by_role("link", name="All of it as CSV").click()
        for _ in range(2):
            page.locator("#log").get_by_role("button", name=re.compile("^Delete")).first.click()
            page.wait_for_load_state("domcontentloaded")
        page.wait_for_selector("#log svg.trend", state="detached")
        self.assertEqual(Use.objects.count(), 0)
        page.get_by_text("A log from a CSV file").click()
        page.get_by_label("CSV file, as it is written here").set_input_files(download.value.path())
        page.get_by_role("button", name="Open", exact=True).click()
        page.wait_for_selector("#log svg.trend")
        self.assertEqual(sorted(use.ready_min or 0 for use in Use.objects.all()), [6.5, 9.0])

    def test_a_phone_ticks_along_until_it_is_closed(self) -> None:
        """The desk's clock is turned by hand; the phone's runs."""
        with (
            patch.object(phone, "own_address", return_value="127.0.0.1"),
            patch.object(views.timezone, "now", return_value=HALF_AN_HOUR_BEFORE),
        ):
            self.page.clock.install(time=HALF_AN_HOUR_BEFORE)
            page = self.going()
            self.shows("It begins in 30 min. 0 of")
            page.clock.fast_forward("25:00")
            self.until("document.querySelector('[data-run-left]').textContent.startsWith('It begins in 5 min.')")
            page.locator("[data-tick]").first.check()
            page.get_by_role("button", name="Open it for a phone").click()
            page.wait_for_selector("#phone .square-code")
            self.axe()
            other = self.context.new_page()
            other.set_viewport_size({"width": 390, "height": 844})
            other.goto(page.locator(".phone-address a").inner_text(), wait_until="domcontentloaded")
            ticks = other.locator("[data-tick]")
            self.until("document.querySelector('[data-tick]').checked", other)  # what was ticked before came over
            ticks.nth(1).check()
            self.until("document.querySelectorAll('.is-done').length === 2", other)
            other.reload(wait_until="domcontentloaded")
            self.until("document.querySelectorAll('[data-tick]:checked').length === 2", other)
            self.assertLessEqual(other.evaluate("document.documentElement.scrollWidth"), 390)
            self.axe(other)
            page.clock.fast_forward("00:05")
            self.until("document.querySelectorAll('[data-tick]:checked').length === 2")
            page.locator("[data-tick]").nth(1).uncheck()
            self.until("document.querySelectorAll('[data-tick]:checked').length === 1", other)
            page.get_by_role("button", name="Close it now").click()
            page.wait_for_selector("text=Open it for a phone")
            ticks.nth(2).check()
            other.wait_for_selector("[data-lost]:not([hidden])")
            self.assertTrue(ticks.nth(2).is_checked())
            self.assertEqual(page.locator("[data-tick]:checked").count(), 1)

    def test_the_good_picture_lies_over_todays(self) -> None:
        page = self.going()
        button = page.get_by_role("button", name=re.compile("over today's picture"))
        button.focus()
        page.keyboard.press("Enter")
        page.wait_for_selector("[data-over-stage]:not([hidden])")
        self.until(
            "document.querySelector('[data-over-video]').videoWidth > 0 && document.querySelector('[data-over-picture]').naturalWidth > 0"
        )
        self.until("document.activeElement.matches('[data-over-mix]')")
        for _ in range(10):
            page.keyboard.press("ArrowRight")
        self.until("document.querySelector('[data-over-picture]').style.opacity === '0.6'")
        self.axe()
        page.get_by_role("button", name="Camera off").click()
        page.wait_for_selector("[data-over-stage]", state="hidden")
        self.assertTrue(
            page.evaluate(
                "document.querySelector('[data-over-video]').srcObject.getTracks().every((track) => track.readyState === 'ended')"
            )
        )
