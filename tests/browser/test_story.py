"""The whole story in the browser: quick start, picture, move, undo, drag, export, open again."""

from __future__ import annotations

import json
import re
from pathlib import Path
from unittest.mock import patch

from tests.browser.story import BrowserTest
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.steps.table import Cancelled
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Revision, Setup
from uphill_lamp.web.steps import work


class WithTheMouse(BrowserTest):
    draws = True

    def test_what_to_fix_on_the_first_demo_is_soon_read(self) -> None:
        """Six entries and 250 words at most, of what stands open; what only a screen reader says not counted."""
        page = self.bench(folded=True)
        page.evaluate("document.querySelectorAll('.findings .sr').forEach(part => part.remove())")
        self.assertLessEqual(page.locator(".findings > .finding").count(), 6)
        self.assertLessEqual(len(page.locator(".findings").inner_text().replace("·", " ").split()), 250)

    def test_from_quick_start_to_a_mended_setup_and_back_from_a_file(self) -> None:
        page = self.open("/")
        page.get_by_role("link", name="New setup in ten questions").click()
        page.get_by_text("A hand below my eyes").click()
        page.get_by_text("Behind me").click()
        page.get_by_role("button", name="The other five").click()
        page.locator("#plain-date").fill("2026-05-12T11:00")
        page.get_by_label("What shall we call it?").fill("Мій стіл <b>двір</b>")
        page.get_by_role("button", name="Show me what they see").click()
        self.settled()
        self.assertEqual(page.locator(".setup-name").inner_text().split(":")[-1].strip(), "Мій стіл <b>двір</b>")
        self.assertGreater(page.evaluate("document.querySelector('img.picture').naturalWidth"), 300)
        before, title = self.score(), page.locator(".finding h3").first.inner_text()
        self.assertRegex(title, r"\d")

        picture = page.get_attribute("img.picture", "src")
        promised = float(re.search(r"\+([\d.]+)", page.locator(".move-terms").first.inner_text())[1])
        page.locator("[data-move] button").first.click()
        self.until_score_is_not(before)
        self.assertAlmostEqual(self.score() - before, promised, delta=1.5)
        self.assertNotEqual(page.get_attribute("img.picture", "src"), picture)
        self.assertIn("up", page.locator('[data-region="said"]').inner_text())

        after = self.score()
        page.get_by_role("button", name="Undo").click()
        self.until_score_is_not(after)
        self.assertEqual(self.score(), before)
        page.get_by_role("button", name="Redo").click()
        self.until_score_is_not(before)
        self.assertEqual(self.score(), after)

        page.get_by_role("link", name="Files").click()
        with page.expect_download() as download:
            page.get_by_role("link", name="Мій стіл").click()
        saved = Path(download.value.path())
        self.assertEqual(json.loads(saved.read_text("utf-8"))["name"], "Мій стіл <b>двір</b>")
        page.set_input_files("#import-file", str(saved))
        page.get_by_role("button", name="Open the file").click()
        self.settled()
        self.assertEqual(self.score(), after)

    def test_drags_the_lamp_and_sees_figures_follow_before_it_is_let_go(self) -> None:
        page = self.bench("light")
        lamp = page.locator('[data-view="plan"] [data-thing="lights/bench-lamp"] .lamp').bounding_box()
        revisions = self.setup_row.revisions.count()
        place = self.document().lights[1].position
        page.mouse.move(lamp["x"] + 8, lamp["y"] + 8)
        page.mouse.down()
        page.evaluate(
            "window.drawn = 0; new MutationObserver(() => window.drawn++).observe(document.querySelector('[data-region=plan]'), {attributes: true, childList: true, subtree: true})"  # noqa: E501
        )
        figures, pictures = page.locator(".figure").all_inner_texts(), set()
        for step in range(1, 400):  # the picture follows, however slowly it is drawn
            far = step if step <= 15 else 14 + step % 2
            page.mouse.move(lamp["x"] + 8 - 4 * far, lamp["y"] + 8 + 2 * far)
            page.wait_for_timeout(60)
            pictures.add(page.get_attribute("img.picture", "src"))
            if far == 15 and len(pictures) >= 3 and page.evaluate("window.drawn") >= 4:
                break
        self.assertNotEqual(page.locator(".figure").all_inner_texts(), figures)
        self.assertGreaterEqual(page.evaluate("window.drawn"), 4)
        self.assertGreaterEqual(len(pictures), 3)
        self.assertEqual(self.setup_row.revisions.count(), revisions)
        page.mouse.up()
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.settled()
        self.assertEqual(self.setup_row.revisions.count(), revisions + 1)
        moved = self.document().lights[1].position
        drawn = page.evaluate("(() => { const one = document.querySelector('[data-view=plan]'); return one.getScreenCTM().a; })()")
        scale = drawn * float(page.get_attribute('[data-view="plan"]', "data-scale"))
        self.assertAlmostEqual(moved.x_m - place.x_m, -60 / scale, delta=0.03)
        self.assertAlmostEqual(moved.y_m - place.y_m, -30 / scale, delta=0.03)
        self.assertEqual(self.document().origins["/lights/bench-lamp/position/x_m"], "entered")

    def test_types_a_tape_measure_figure_and_a_wrong_one(self) -> None:
        page = self.bench("frame")
        field = page.get_by_label("from my eyes")
        field.fill("24,5 in")
        field.press("Tab")
        self.until("document.querySelector('#entry-distance').value === '62.2'")
        score, src = self.score(), page.get_attribute("img.picture", "src")
        hinge = page.get_by_label("lid opened to")
        hinge.fill("ninety")
        hinge.press("Tab")
        fault = page.locator("#fault-hinge")
        fault.wait_for()
        self.assertIn("an angle in degrees", fault.inner_text())
        self.assertEqual(hinge.input_value(), "ninety")
        self.assertEqual((self.score(), page.get_attribute("img.picture", "src")), (score, src))
        hinge.fill("100")
        hinge.press("Tab")
        page.wait_for_selector("#fault-hinge", state="detached")
        self.settled()
        self.assertEqual(self.document().screens[0].hinge_deg, 100)

    def test_an_older_page_is_told_and_its_change_can_be_made_on_the_newest(self) -> None:
        first = self.bench("light")
        second = self.bench("light", page=self.new_page())
        second.get_by_label("turned up to").fill("50")
        second.get_by_label("turned up to").press("Tab")
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'", second)
        first.locator("#entry-cct").fill("4000")
        first.locator("#entry-cct").press("Tab")
        first.get_by_role("alert").wait_for()
        self.assertIn("older than the setup", first.get_by_role("alert").inner_text())
        first.get_by_role("button", name="Show the newest and make my change there").click()
        self.until("document.querySelector('#entry-cct').value === '4000' && document.querySelector('#entry-dim').value === '50'", first)
        lamp = self.document().lights[1]
        self.assertEqual((lamp.dim, lamp.cct_k), (0.5, 4000))


class WithTheKeyboard(BrowserTest):
    def test_the_same_story_without_a_mouse(self) -> None:
        page = self.open("/")
        self._tab_to("New setup in ten questions")
        page.keyboard.press("Enter")
        page.wait_for_url("**/setups/new/", wait_until="domcontentloaded")
        for _ in range(40):
            page.keyboard.press("Tab")
            if page.evaluate("document.activeElement.name") == "height":
                break
        page.keyboard.press("ArrowRight")  # nothing is answered beforehand: the first press answers
        page.keyboard.press("ArrowRight")
        self.assertEqual(page.evaluate("document.activeElement.value"), "level")
        self._tab_to("The other five")
        page.keyboard.press("Enter")
        page.wait_for_selector("#plain-town")
        self._tab_to("Show me what they see")
        page.keyboard.press("Enter")
        page.wait_for_url("**/frame/", wait_until="domcontentloaded")
        self.settled()
        before = self.score()
        revisions = Revision.objects.count()
        for key in ("Enter", "ArrowDown", "PageDown", "Space"):  # nothing in focus: nothing is changed
            page.keyboard.press(key)
        self._tab_to("Skip to what to fix")
        page.keyboard.press("Enter")
        self.assertEqual((page.evaluate("document.activeElement.id"), Revision.objects.count()), ("what-to-fix", revisions))
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        self.until_score_is_not(before)
        self.assertEqual(page.evaluate("document.activeElement.id"), "what-to-fix")
        after = self.score()
        self.assertGreater(after, before)
        page.keyboard.press("Control+z")
        self.until_score_is_not(after)
        page.keyboard.press("Control+Shift+z")
        self.until_score_is_not(before)

        page.keyboard.press("3")
        page.wait_for_url("**/light/**", wait_until="domcontentloaded")
        self.settled()
        page.keyboard.press("/")
        self.assertEqual(page.evaluate("document.activeElement.id"), "hand-pick")
        page.keyboard.type("Ceil")
        page.keyboard.press("Escape")
        for _ in range(120):  # round the whole page: its places, stages and moves come before the drawings
            page.keyboard.press("Tab")
            if page.evaluate("document.activeElement.dataset.thing") == "lights/ceiling-lamp":
                break
        else:
            self.fail("Tab does not reach the lamp")
        page.keyboard.press("Enter")
        self.until("document.querySelector('[data-pick]').value === 'lights/ceiling-lamp'")
        place = page.evaluate("document.activeElement.querySelector('.lamp').getAttribute('cx')")
        for _ in range(3):
            page.keyboard.press("Shift+ArrowRight")
        self.until(f"Number(document.activeElement.querySelector('.lamp').getAttribute('cx')) > Number({place}) + 20")
        self.settled()
        page.keyboard.press("l")
        page.wait_for_selector(".lamp.is-on", state="detached")
        page.keyboard.press("o")
        self.assertEqual(page.evaluate("getComputedStyle(document.querySelector('.overlay-layer')).visibility"), "hidden")
        page.keyboard.press("k")
        page.get_by_role("dialog").wait_for()
        page.keyboard.press("3")  # the help lies over the page: its keys do nothing
        self.axe()
        page.keyboard.press("Escape")
        self.assertIn("/light/", page.url)
        self.assertEqual(page.evaluate("document.activeElement.dataset.thing"), "lights/ceiling-lamp")

    def test_letter_keys_can_be_switched_off(self) -> None:
        self.open("/help/").get_by_label("Letter and digit keys are on").uncheck()
        page = self.bench("frame")
        page.keyboard.press("3")
        page.keyboard.press("l")
        page.wait_for_timeout(400)
        self.assertIn("/frame/", page.url)
        self.assertEqual(self.setup_row.revisions.count(), 1)

    def _tab_to(self, name: str) -> None:
        for _ in range(90):
            self.page.keyboard.press("Tab")
            if self.page.evaluate("(document.activeElement.innerText || '').trim()") == name:
                return
        self.fail(f"Tab does not reach {name}")


class ForEverybody(BrowserTest):
    def test_axe_finds_nothing_on_any_page_in_either_theme_with_everything_unfolded(self) -> None:
        row = Setup.objects.get(demo="clock-bench")
        own, other, good = f"/setups/{row.pk}/", row.pk + 1, f"/setups/{Setup.objects.get(demo='room-that-works').pk}/"
        flows.change(row.pk, row.head_id or 0, (replace("/lights/bench-lamp/on", False),), "Off")  # so that there is a before
        work.forget()
        with patch("uphill_lamp.web.steps.work.climbed", side_effect=Cancelled):  # the ladder has its own tests
            for path in (
                "/", "/demo/reset/", "/setups/new/", "/files/", "/help/", "/nowhere/", "/catalogue/", "/lamp/",
                *(f"{good}{stage}/" for stage in ("frame", "sound", "backdrop", "eyes", "light/?picked=presenter", "frame/?picked=")),
                *(f"{own}{page}/" for page in ("light", "place", "day", "hands", "microphones", "prompter", "prompter/read", "wiring", "catalogue", "steps")),
                f"{own}compare/{other}/", f"{own}plan.pdf",
            ):  # fmt: skip
                page = self.open(path)
                if re.search("/(frame|light|sound|backdrop|eyes)/", path):
                    self.settled()
                self.unfold()
                if page.locator("#find").count():
                    page.fill("#find", "lamp")  # a few rows stand for all
                self.axe()
                self.complaints.clear()
        work.forget()

    def test_the_bench_fits_without_scrolling_and_works_narrow(self) -> None:
        page = self.bench("frame")
        for stage in ("frame", "light", "sound", "backdrop", "eyes"):
            self.bench(stage, folded=True)
            self.assertEqual(
                page.evaluate("[document.documentElement.scrollWidth <= innerWidth, document.documentElement.scrollHeight <= innerHeight]"),
                [True, True],
                stage,
            )
        page.set_viewport_size({"width": 390, "height": 844})
        for path in ("/", "/setups/new/", "/files/", "/help/", f"/setups/{self.setup_row.pk}/light/"):
            self.open(path)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390, path)
