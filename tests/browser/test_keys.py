"""Keys on every page: none changes what nobody meant to change, all can be switched off, and what is pressed keeps its focus."""

from __future__ import annotations

import re
from unittest.mock import patch

from tests.browser.story import BrowserTest
from uphill_lamp.core.steps.table import Cancelled
from uphill_lamp.web.setups.models import Revision, Script
from uphill_lamp.web.steps import work

PAGES = ("place", "day", "hands", "microphones", "prompter", "steps", "wiring", "catalogue", "compare/{other}")


class Keys(BrowserTest):
    def test_no_key_moves_what_has_no_focus_and_the_browsers_own_keys_work(self) -> None:
        page = self.bench("frame")
        page.set_viewport_size({"width": 640, "height": 400})
        revisions = Revision.objects.count()
        for key in ("ArrowDown", "PageDown"):
            before = page.evaluate("scrollY")
            page.keyboard.press(key)
            self.until(f"scrollY > {before}")
        for key in ("Enter", "Alt+ArrowRight", "Alt+ArrowUp", "[", "l"):
            page.keyboard.press(key)
        page.set_viewport_size({"width": 1280, "height": 800})
        page.get_by_role("link", name=re.compile("Light")).first.click()
        self.settled()
        page.locator('.plan [data-thing="lights/bench-lamp"]').focus()
        page.evaluate("window.eaten = []; window.addEventListener('keydown', (event) => window.eaten.push(event.defaultPrevented))")
        for key in ("Alt+ArrowLeft", "Alt+ArrowUp"):  # the way back is the browser's own
            page.keyboard.press(key)
        self.assertNotIn(True, page.evaluate("window.eaten"))
        self.assertEqual(Revision.objects.count(), revisions)

    def test_undo_keeps_the_focus_and_a_move_hands_it_to_the_list(self) -> None:
        page = self.bench("frame")
        active = "document.activeElement.id || document.activeElement.closest('button')?.textContent.trim()"
        page.locator("[data-move] button").first.focus()
        page.keyboard.press("Enter")
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.assertEqual(page.evaluate(active), "what-to-fix")
        page.keyboard.press("Enter")  # a press too many
        self.settled()
        page.locator("[data-undo]").focus()
        page.keyboard.press("Enter")
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'true'")
        self.assertEqual(page.evaluate(active), "Undo")
        page.keyboard.press("Enter")
        page.wait_for_timeout(200)
        self.assertEqual(self.setup_row.revisions.count(), 2)

    def test_from_quick_start_to_the_first_mended_fault_in_few_stops(self) -> None:
        page = self.open("/setups/new/")
        page.get_by_role("button", name="The other five").click()
        page.get_by_role("button", name="Show me what they see").click()
        self.settled()
        for _ in range(30):
            page.keyboard.press("Tab")
            if page.evaluate("document.activeElement.matches('[data-move] button')"):
                break
        else:
            self.fail("no move within 30 stops")
        before = self.score()
        page.keyboard.press("Enter")
        self.until_score_is_not(before)

    def test_digits_undo_and_the_switch_hold_on_every_page_of_a_setup(self) -> None:
        page = self.bench("frame")
        other = self.setup_row.pk + 1
        stopped = patch("uphill_lamp.web.steps.work.climbed", side_effect=Cancelled)  # the ladder is no matter here
        stopped.start()
        self.addCleanup(stopped.stop)
        self.addCleanup(work.forget)
        for keys_on in (True, False):
            if not keys_on:
                self.open("/help/").get_by_label("Letter and digit keys are on").uncheck()
            for path in PAGES:
                self.open(f"/setups/{self.setup_row.pk}/{path.format(other=other)}/")
                page.keyboard.press("k")
                if keys_on:
                    page.get_by_role("dialog").wait_for()
                    page.keyboard.press("Escape")
                    page.get_by_role("dialog").wait_for(state="hidden")
                    page.keyboard.press("3")
                    for _ in range(200):  # its pictures may take their time: only where it leads to is asked
                        if "/light/" in page.url:
                            break
                        page.wait_for_timeout(20)
                    else:
                        self.fail(f"3 leads nowhere from {path}")
                else:
                    page.keyboard.press("3")
                    page.wait_for_timeout(50)
                    self.assertIn(f"/{path.split('/')[0]}/", page.url)
                    self.assertEqual(page.get_by_role("dialog").count(), 0)

    def test_a_prompter_takes_what_clickers_and_pedals_send(self) -> None:
        page = self.bench("frame")
        Script.objects.create(setup=self.setup_row, text="\n\n".join("word " * 40 for _ in range(10)))
        self.open(f"/setups/{self.setup_row.pk}/prompter/read/")
        place, going = "Number(document.querySelector('.prompter').dataset.place)", '[data-do="toggle"]'
        for key, forward in (("PageDown", True), ("ArrowRight", True), ("PageUp", False), ("ArrowLeft", False)):
            before = page.evaluate(place)
            page.keyboard.press(key)
            self.assertEqual(page.evaluate(place) > before, forward, key)
        for start, stop in (("F5", "Escape"), ("Enter", "b"), ("Space", ".")):
            page.keyboard.press(start)
            self.assertEqual(page.locator(going).get_attribute("aria-pressed"), "true", start)
            page.keyboard.press(stop)
            self.assertEqual(page.locator(going).get_attribute("aria-pressed"), "false", stop)
        self.assertIn("/read/", page.url)


class BeforeAndAfter(BrowserTest):
    def test_a_line_across_the_picture_is_dragged_and_moved_by_keys(self) -> None:
        page = self.bench("frame")
        button = page.get_by_role("button", name="Before", exact=False).first
        self.assertFalse(button.is_visible())  # nothing came before
        page.locator("[data-move] button").first.click()
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.settled()
        button.click()
        line = "getComputedStyle(document.querySelector('.picture-frame')).getPropertyValue('--divided')"
        self.assertTrue(page.evaluate("document.querySelector('img.before').getAttribute('src')").startswith("/picture/"))
        page.keyboard.press("ArrowLeft")
        self.assertEqual(page.evaluate(line), "49%")
        box = page.locator("[data-divider]").bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 200)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 5, box["y"] + 200, steps=4)
        page.mouse.up()
        self.assertLess(float(page.evaluate(line).strip("%")), 25)
        self.axe()
        page.get_by_role("button", name="Undo").click()
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'true'")
        self.assertFalse(page.locator(".divider").is_visible())
