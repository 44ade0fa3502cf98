"""Go in the browser: a run sheet pressed through by keys, left and come back to, and what is so around the call entered, at 390 px too."""

from __future__ import annotations

import re

from tests.browser.story import BrowserTest
from uphill_lamp.web.go.models import Use


class Go(BrowserTest):
    def test_a_run_sheet_is_pressed_through_and_stays_ticked(self) -> None:
        page = self.bench("frame", "room-that-works")
        page.keyboard.press("9")
        page.wait_for_url(re.compile("/go/"), wait_until="domcontentloaded")
        self.axe()
        left = page.locator("[data-run-left]")
        count = page.locator("[data-tick]").count()
        self.assertIn(f"0 of {count} done. Next: Air the room", left.inner_text())
        page.locator("[data-tick]").first.focus()
        for _ in range(2):
            page.keyboard.press("Space")
            page.keyboard.press("Tab")
        self.assertIn(f"2 of {count} done", left.inner_text())
        page.reload(wait_until="domcontentloaded")
        self.assertIn(f"2 of {count} done", left.inner_text())
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
        self.assertIn(f"2 of {count + 1} done", left.inner_text())
        page.locator("#log").get_by_label("not so well").check()
        page.get_by_label("Others heard themselves").check()
        page.get_by_label("Minutes until you were ready").fill("7,5")
        page.locator("#log").get_by_role("button", name="Save").click()
        page.wait_for_selector("#log td:has-text('Others heard themselves')")
        self.assertEqual(Use.objects.get().ready_min, 7.5)
        self.axe()
        page.get_by_role("button", name="Untick all").click()
        self.assertIn(f"0 of {count + 1} done", left.inner_text())
