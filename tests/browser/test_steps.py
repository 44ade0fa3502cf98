"""Steps in the browser: budget slid, a rung tried, done and undone, the shopping list; the catalogue and the wiring; by keyboard alone too."""

from __future__ import annotations

import re
from unittest.mock import patch

from tests.browser.story import BrowserTest
from tests.web.test_steps import made_small
from uphill_lamp.web.steps import work


class Steps(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        made_small(self)
        self.addCleanup(work.forget)

    def steps(self, name: str = "kitchen-table") -> None:
        """From the bench by its key, and until the hill is there."""
        page = self.bench("frame", name)
        page.keyboard.press("7")
        page.wait_for_url(re.compile("/steps/"), wait_until="domcontentloaded")
        page.wait_for_selector(".hill-drawing", timeout=400_000)  # however slow the machine is

    def test_slide_try_do_undo(self) -> None:
        self.steps()
        page = self.page
        self.axe()
        slider = page.locator("[data-slider]")
        slider.focus()
        before = page.locator("[data-budget-said]").inner_text()
        mark = page.locator("[data-budget-mark] line").get_attribute("x1")
        slider.evaluate("one => { one.value = 10; one.dispatchEvent(new Event('input')); }")
        self.assertNotEqual(page.locator("[data-budget-said]").inner_text(), before)
        self.assertNotEqual(page.locator("[data-budget-mark] line").get_attribute("x1"), mark)
        self.assertEqual(page.locator("#budget").input_value(), "10")
        page.locator("#budget").fill("plenty")
        page.get_by_role("button", name="Save").first.click()
        self.assertIn("type an amount", page.get_by_role("alert").inner_text())
        self.assertEqual(page.locator("#budget").input_value(), "plenty")
        page.locator("#budget").fill("80")
        page.locator("#budget").press("Enter")
        page.wait_for_selector(".hill-drawing", timeout=400_000)
        self.assertEqual(self.document().preferences.budget, 80)

        was = self.score()
        page.get_by_role("link", name="Try it on the bench").first.click()
        page.wait_for_selector(".trying-bar")
        self.axe()
        promised = self.score()
        self.assertGreater(promised, was + 20)
        page.get_by_role("link", name="Sound", exact=True).first.click()
        page.wait_for_selector(".trying-bar")
        self.assertIsNone(self.document().microphone_in_use.from_mouth)  # nothing done yet
        page.get_by_role("button", name="Do this plan").click()
        page.wait_for_selector(".hill-drawing")
        self.assertEqual(self.score(), promised)
        self.assertEqual(self.document().microphone_in_use.kind, "earbud_cord")
        for keys, score in (("Control+z", was), ("Control+Shift+Z", promised)):
            with page.expect_navigation():
                page.keyboard.press(keys)
            page.wait_for_selector(".hill-drawing")
            self.assertEqual(self.score(), score)

    def test_shopping_catalogue_and_wiring(self) -> None:
        self.steps("standing-webinar")
        page = self.page
        page.get_by_role("link", name="Shopping list").first.click()
        page.wait_for_selector(".shopping-table")
        self.axe()
        self.assertIn("Together", page.locator(".shopping-table").inner_text())
        page.get_by_role("link", name="Back to the steps").click()
        page.wait_for_selector(".hill-drawing")
        page.get_by_role("link", name="Prices, and what is in your drawer").click()
        page.wait_for_selector(".catalogue-groups")
        page.locator("#find").fill("boom arm")
        self.assertEqual(page.locator(".catalogue-list > li:visible").count(), 1)
        page.get_by_role("button", name=re.compile("I have one.*Boom arm for a microphone")).click()
        page.wait_for_selector("text=Now in your drawer: Boom arm for a microphone")
        self.assertTrue(any(item.entry == "boom_arm" for item in self.document().kit))
        page.set_viewport_size({"width": 390, "height": 844})
        for path in ("steps/", "catalogue/", "wiring/"):
            self.open(f"/setups/{self.setup_row.pk}/{path}")
            page.wait_for_selector(".hill-drawing, .catalogue-groups, .chain-drawing", timeout=400_000)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390, path)

    def test_it_can_be_stopped_while_it_is_worked_out(self) -> None:
        with patch("uphill_lamp.core.steps.ladder.MOST_COMBINATIONS", 6000):
            page = self.bench("frame")
            page.keyboard.press("7")
            page.get_by_role("button", name="Stop", exact=True).click()
            page.wait_for_selector("text=Work out the steps")
        page.get_by_role("button", name="Work out the steps").click()
        page.wait_for_selector(".hill-drawing, [data-progress-panel]")
