"""A made-up room entered through the interface alone, all of it; and a thing of each kind with the keyboard alone, and at 390 px."""

from __future__ import annotations

import json
import random
from pathlib import Path

from playwright.sync_api import Page

from tests.browser.story import BrowserTest
from tests.promise import SEED, promised, times
from uphill_lamp.core.describing.furnishing import furnishing_counts
from uphill_lamp.core.describing.kinds import PART_WORDS, kinds_of
from uphill_lamp.core.document.setup import things
from uphill_lamp.core.scene.handling import WITHIN
from uphill_lamp.web.setups.models import Setup

# The room as it was drawn on paper: a study in Chicago, two monitors, a webcam on the left one.
PAPER = json.loads((Path(__file__).parents[1] / "reference" / "study.uphill.json").read_text())


class OwnRoom(BrowserTest):
    presses = 0

    def press(self, name: str, page: Page) -> None:
        self.presses += 1
        page.get_by_role("button", name=name, exact=True).first.click()

    def pressed(self, page: Page, keys: str) -> None:
        """Keys that change the setup, and the change waited for."""
        before = page.locator('[data-region="state"]').get_attribute("data-parent-id")
        page.keyboard.press(keys)
        page.wait_for_function("(was) => document.querySelector('[data-region=state]').dataset.parentId !== was", arg=before)

    def put_here(self, page: Page, label: str) -> None:
        before = page.locator('[data-region="state"]').get_attribute("data-parent-id")
        page.locator("[data-things]").click()
        page.locator("[data-things-over] .thing-kind", has=page.get_by_text(label, exact=True)).first.click()
        page.wait_for_function("(was) => document.querySelector('[data-region=state]').dataset.parentId !== was", arg=before)
        self.presses += 2
        self.settled()

    def enter(self, page: Page, handle: str, key: str, value: str) -> None:
        """Selects a thing and types one of its values, opening what is folded."""
        if page.locator("#hand-pick").input_value() != handle:
            page.locator("#hand-pick").select_option(handle)
            page.wait_for_function("(handle) => document.querySelector('[data-region=state]').dataset.picked === handle", arg=handle)
            self.presses += 1
        finish = key.startswith("surfaces.")
        field = page.locator(f'[key="finish-{key}"] > summary' if finish else f'[data-field="{key}"]')
        if not field.is_visible():
            page.locator(".more-entries > summary", has_text="more value").click()
            self.presses += 1
        before = page.locator('[data-region="state"]').get_attribute("data-parent-id")
        kind = "finish" if finish else field.evaluate("one => one.tagName === 'SELECT' ? 'select' : one.type")
        if finish:
            field.click()
            page.locator(f'[data-choose="{key}"][value="{value}"]').click()
            self.presses += 1
        elif kind == "select":
            field.select_option(value)
        elif kind == "checkbox":
            field.set_checked(value == "on")
        else:
            field.fill(value)
            field.press("Enter")
        self.presses += 1
        page.wait_for_function("(was) => document.querySelector('[data-region=state]').dataset.parentId !== was", arg=before)

    def test_a_room_of_ones_own_by_the_interface_alone(self) -> None:
        page = self.open("/setups/new/")
        for words in ("A webcam on a monitor", "Level with my eyes", "The ceiling lamp"):
            page.get_by_text(words).first.click()
            self.presses += 1
        self.press("The other five", page)
        page.get_by_text("Live, to an audience").click()
        page.locator("#plain-town").fill("Chicago")
        page.locator("#plain-date").fill("2026-12-03T18:30")
        page.locator("#plain-money").fill("$80")
        page.locator("#setup-name").fill("The study")
        self.press("Show me what they see", page)
        page.wait_for_url("**/frame/", wait_until="domcontentloaded")
        self.setup_row = Setup.objects.get(name="The study")
        self.settled()
        for handle, key, value in (("room", "width_m", "4.1 m"), ("room", "depth_m", "380"), ("room", "height_m", "260"), ("room",
            "surfaces.floor", "floor_stone"),
                                   ("room", "north_bearing_deg", "35"), ("desk", "width", "180"), ("desk", "height", "73"), ("presenter",
                                   "eyes", "124")):  # fmt: skip
            self.enter(page, handle, key, value)
        if any(window.id == "window" for window in self.document().room.windows) is False:
            self.put_here(page, "Window")
        for label, values in (
            ("Wide window", (("windows/wide-window", "height", "130"),)), ("Door", (("doors/door", "width_m", "90"),)), ("Sofa", ()),
            ("Monitor", (("screens/monitor-2", "width_m", "60"),)), ("Floor lamp", (("lights/floor-lamp", "cct", "3000"),)),
            ("Ring light", (("lights/ring", "flux", "900"), ("lights/ring", "dim", "60"))),
            ("USB microphone on an arm", (("microphones/usb-arm", "in_use", "on"),)), ("Fan", (("noises/fan", "level", "41"),)), ("Street", ()),
        ):  # fmt: skip
            self.put_here(page, label)
            for value in values:
                self.enter(page, *value)
        for value in (("windows/window", "width", "140"), ("windows/window", "sill", "85"), ("cameras/camera", "lens", "68")):
            self.enter(page, *value)
        with page.expect_download() as saved:
            page.evaluate("location.assign('/setups/' + document.querySelector('.bench').dataset.setup + '/export/')")
        answer = json.loads(saved.value.path().read_text())
        self.assertEqual(answer, PAPER)
        self.assertTrue(
            all(
                any(origin.startswith(path) for origin in answer["origins"])
                for path in ("/room/width_m", "/lights/ring/flux_lm", "/noises/fan/level_db_a")
            )
        )
        self.assertFalse(any(origin.startswith("/lights/ring/cri") for origin in answer["origins"]))  # nobody told it
        self.assertLess(self.presses, 110)

    def tab_to(self, page: Page, selector: str, words: str = "") -> None:
        """On to what fits by the Tab key alone."""
        fits = "([selector, words]) => document.activeElement.matches(selector) && document.activeElement.textContent.includes(words)"
        for _ in range(400):
            page.keyboard.press("Tab")
            if page.evaluate(fits, [selector, words]):
                return
        self.fail(f"the Tab key never comes to {selector} {words}")

    def by_key(self, page: Page, selector: str, words: str = "") -> None:
        """Presses what changes the setup with the Enter key, from the top of the hand on, and waits for the change."""
        page.keyboard.press("Escape")
        page.keyboard.press("/")
        self.tab_to(page, selector, words)
        self.pressed(page, "Enter")

    @promised(2 * len(PART_WORDS))
    def test_a_thing_of_each_kind_by_the_keyboard_alone_and_at_390_px(self) -> None:
        """Put here, named, copied, taken away and brought back by undo: at both widths, a thing of every list."""
        tried = [(width, part) for part, _ in PART_WORDS for width in (1280, 390)]
        for width, part in random.Random(SEED).sample(tried, times(len(tried))):
            with self.subTest(part=part, width=width):
                kind, named = kinds_of(part)[-1], f"The one from upstairs, {width}"
                page = self.new_page()
                page.set_viewport_size({"width": width, "height": 844})
                self.bench("light", "clock-bench" if width == 1280 else "room-that-works", page, folded=True)
                path = f"/{part}" if f"/{part}" in dict(things(self.document())) else WITHIN[part]
                before = len(dict(things(self.document()))[path])
                page.keyboard.press("/")
                self.tab_to(page, "[data-things]")
                page.keyboard.press("Enter")
                page.wait_for_selector("[data-things-over][open]")
                self.tab_to(page, "[data-things-over] .thing-kind", kind.label)
                self.pressed(page, "Enter")
                self.until(f"document.querySelector('[data-region=state]').dataset.picked.startsWith('{part}/')", page)
                page.keyboard.press("/")
                self.tab_to(page, ".more-entries > summary")
                page.keyboard.press("Enter")
                self.tab_to(page, '[data-field="name"]')
                page.keyboard.press("Control+a")
                page.keyboard.type(named)
                self.pressed(page, "Enter")
                for words, count in (("Copy", 2), ("Take away", 1)):
                    self.by_key(page, ".hand-tools button", words)
                    self.assertEqual(len(dict(things(self.document()))[path]), before + count, words)
                self.pressed(page, "Control+z")
                self.assertIn(named, [item.name for item in dict(things(self.document()))[path]])
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), width)
                page.close()

    def test_a_wall_by_the_keyboard(self) -> None:
        page = self.bench("light")
        width_m = self.document().room.width_m
        page.locator('[data-thing="walls/wall_x1"]').focus()
        self.pressed(page, "Shift+ArrowRight")
        self.assertAlmostEqual(self.document().room.width_m, width_m + 0.1, places=3)

    def test_surfaces_by_pictures_and_furniture_by_steps(self) -> None:
        page = self.bench("sound", folded=True)
        page.locator("#hand-pick").select_option("room")
        self.until("document.querySelector('[data-region=state]').dataset.picked === 'room'")
        before = self.document()
        page.locator(".more-entries summary", has_text="more value").click()
        page.locator('[key="finish-surfaces.floor"] > summary').click()
        page.locator('[data-choose="surfaces.floor"][value="carpet_thick"]').click()
        chosen = '[data-choose="surfaces.floor"][value="carpet_thick"][aria-pressed="true"]'
        self.until(f"document.querySelector({json.dumps(chosen)})")
        self.assertEqual(self.document().room.surfaces.floor, "carpet_thick")
        page.locator(".more-entries summary", has_text="Furniture").click()
        more, fewer = (page.get_by_role("button", name=f"One {way}: rug, 2 m²") for way in ("more", "fewer"))
        for button, count in ((more, 1), (more, 2), (fewer, 1)):
            button.click()
            self.until(f"document.querySelector('[key=furnish-rug] output').textContent === '{count + furnishing_counts(before)['rug']}'")
        self.axe()

    def test_put_where_the_plan_is_pressed_on_purpose_and_history(self) -> None:
        page = self.bench("frame")
        plan = page.locator('svg[data-view="plan"]').bounding_box()
        assert plan is not None
        page.mouse.dblclick(plan["x"] + plan["width"] * 0.42, plan["y"] + plan["height"] * 0.78)
        page.wait_for_selector("[data-things-over][open]")
        page.locator("[data-things-over] .thing-kind", has=page.get_by_text("Floor lamp", exact=True)).first.click()
        self.until("document.querySelector('[data-region=state]').dataset.picked === 'lights/floor-lamp'")
        self.assertIn("/lights/floor-lamp/position/x_m", self.document().origins)
        self.settled()
        title = page.locator(".finding h3").first.inner_text()
        meant = page.locator(".finding > .on-purpose").first
        meant.locator("summary").click()
        meant.locator('input[name="reason"]').fill("I like it so")
        meant.get_by_role("button", name="Leave it so").click()
        self.until("document.querySelector('.on-purpose-list')")
        self.assertNotIn(title, page.locator(".finding h3").all_inner_texts())
        page.get_by_role("link", name="History").click()
        page.get_by_role("button", name="Bring it back").last.click()
        page.wait_for_url("**/past/", wait_until="domcontentloaded")
        self.assertEqual(self.document().on_purpose, ())
        self.assertIn("Brought back", page.locator(".past-list li").first.inner_text())
