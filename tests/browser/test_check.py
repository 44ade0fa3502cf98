"""Check in the browser: a picture measured and taken over by the keyboard alone, a sound's fault told, at every width."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path

from tests.browser.story import BrowserTest
from tests.setups import REFERENCE, demo
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.drawings.far_side.render import render


class Check(BrowserTest):
    def send(self, path: Path) -> None:
        self.page.set_input_files("#check-file", path)
        self.page.locator("#check-file").press("Tab")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector(".check-table", timeout=60_000)

    def test_a_take_from_file_to_taken_over_by_the_keyboard_and_narrow(self) -> None:
        page = self.bench("frame", "kitchen-table")
        page.keyboard.press("8")
        page.wait_for_url(re.compile("/check/"))
        self.axe()
        with tempfile.TemporaryDirectory() as folder:
            still = Path(folder) / "my room.png"
            still.write_bytes(render(appraise(demo("room-that-works")), 640).png())
            self.send(still)
        self.assertIn("differ from the plan", page.locator("h2").nth(1).inner_text())
        self.assertEqual(page.locator(".check-mark:not(.is-under)").count(), 4)
        self.axe()
        page.get_by_role("button", name=re.compile("Take over: the lid stands at")).focus()
        page.keyboard.press("Enter")
        page.wait_for_selector(".check-table tr:has-text('Eye line'):has-text('as planned')")
        self.assertTrue(any(path.endswith("hinge_deg") for path in self.document().origins))
        self.send(REFERENCE / "clips" / "o4_clipped_plosive.wav")
        told = page.locator(".check-table tr.is-off").all_inner_texts()
        self.assertTrue(any("Clipped samples" in row for row in told) and any("Breath pops" in row for row in told), told)
        page.set_viewport_size({"width": 390, "height": 844})
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        self.axe()
