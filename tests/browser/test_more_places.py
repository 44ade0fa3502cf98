"""Place, the drawn screen, the hands-on page and the prompter in the browser; the laptop raised by hand."""

from __future__ import annotations

import re

from tests.browser.story import BrowserTest
from uphill_lamp.core.document import read_setup
from uphill_lamp.web.setups.models import Script, Setup


class OnTheScreen(BrowserTest):
    def test_the_call_window_is_dragged_to_the_lens_and_eyes_follow(self) -> None:
        page = self.bench("eyes")
        before = self.document().screens[0].windows[0]
        angle = page.locator(".looks strong").first.inner_text()
        window = page.locator('[data-view="screen"] [data-thing="shown/laptop.call"] .shown').bounding_box()
        page.mouse.move(window["x"] + window["width"] / 2, window["y"] + window["height"] / 2)
        page.mouse.down()
        page.mouse.move(window["x"] + window["width"] / 2, window["y"] + window["height"] / 2 - 12, steps=5)
        self.until(f"document.querySelector('.reading:nth-child(2) .figure').textContent !== '{angle}'")
        page.mouse.up()
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.settled()
        after = self.document().screens[0].windows[0]
        self.assertLess(after.top_px, before.top_px)
        self.assertEqual(after.left_px, before.left_px)
        self.assertNotEqual(page.locator(".looks strong").first.inner_text(), angle)
        page.get_by_label("from the top").fill("0")
        page.get_by_label("from the top").press("Tab")
        self.until("document.querySelector('[data-region=said]').textContent.includes('Entered')")
        self.settled()
        self.assertEqual(self.document().screens[0].windows[0].top_px, 0)
        page.locator('[data-view="screen"] [data-thing="shown/laptop.call"]').focus()
        page.keyboard.press("ArrowDown")
        self.until("document.querySelector('#entry-top_px').value !== '0'")

    def test_raising_the_laptop_picture_lid_and_keyboard_follow_the_hand(self) -> None:
        page = self.bench("frame")
        page.evaluate("window.loads = 0; document.querySelector('img.picture').addEventListener('load', () => window.loads++)")
        advice = page.locator(".advice").inner_text()
        self.assertFalse(any("keyboard" in title for title in page.locator(".finding h3").all_inner_texts()))
        spot = page.locator('.side [data-thing="cameras/camera"] .camera').bounding_box()
        page.mouse.move(spot["x"] + 5, spot["y"] + 5)
        page.mouse.down()
        for step in range(1, 21):
            page.mouse.move(spot["x"] + 5, spot["y"] + 5 - step)
            page.wait_for_timeout(50)
        self.until("[...document.querySelectorAll('.finding h3')].some((title) => title.textContent.includes('keyboard'))")
        for step in range(400):  # the picture follows, however slowly it is drawn
            if page.evaluate("window.loads") >= 3:
                break
            page.mouse.move(spot["x"] + 5, spot["y"] - 15 - step % 2)
            page.wait_for_timeout(50)
        self.assertGreaterEqual(page.evaluate("window.loads"), 3)
        self.assertNotEqual(page.locator(".advice").inner_text(), advice)
        self.assertEqual(self.setup_row.revisions.count(), 1)
        page.mouse.up()
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.settled()
        self.assertTrue(any("keyboard" in title for title in page.locator(".finding h3").all_text_contents()))


class LookingAtLight(BrowserTest):
    def test_levels_and_the_state_before_by_key_and_by_button(self) -> None:
        page = self.bench("light")
        image = "document.querySelector('img.picture').getAttribute('src')"
        plain = page.evaluate(image)
        page.keyboard.press("b")  # nothing came before
        self.assertEqual(page.evaluate(image), plain)
        page.get_by_role("button", name="Light levels").click()
        self.until(f"{image}.endsWith('levels.jpg')")
        self.assertTrue(page.get_by_text("over 3200 lx").is_visible())
        self.axe()
        page.keyboard.press("f")
        self.until(f"{image} === {plain!r}")
        page.locator("[data-move] button").first.click()
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.settled()
        now = page.evaluate(image)
        self.assertNotEqual(now, plain)
        page.keyboard.down("b")
        self.until(f"{image} === {plain!r}")
        self.assertTrue(page.get_by_text("Before the last change").is_visible())
        page.keyboard.up("b")
        self.until(f"{image} === {now!r}")
        page.goto(f"{self.live_server_url}/setups/{self.setup_row.pk}/light/?picked=presenter")
        self.assertIn("left cheek", page.locator(".lit-face").get_attribute("aria-label"))

    def test_a_move_pointed_at_or_tabbed_to_shows_its_picture_and_a_move_done_shows_itself(self) -> None:
        page = self.bench("frame")
        page.wait_for_selector('[data-region="findings"][data-gains="1"]')
        image = "document.querySelector('img.picture').getAttribute('src')"
        plain = page.evaluate(image)
        first = page.locator("[data-move-id]").first
        first.hover()
        self.until(f"{image}.includes('/after/')")
        self.assertTrue(page.locator("[data-picture-tag]").inner_text().startswith("After: "))
        page.mouse.move(300, 300)
        self.until(f"{image} === {plain!r}")
        page.locator("body").press("g")
        self.until("document.querySelector('.picture').getBoundingClientRect().width < 200")
        page.keyboard.press("g")
        page.keyboard.press("Shift+Tab")
        first.focus()
        self.until(f"{image}.includes('/after/')")
        page.keyboard.press("Enter")
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.settled()
        self.assertRegex(page.evaluate(image), r"/picture/\w+/640.jpg$")
        self.assertEqual(page.locator("[data-picture-tag]").inner_text(), "")
        self.assertRegex(page.locator("[data-png]").get_attribute("href"), r"/picture/\w+/picture.png$")


class TheDay(BrowserTest):
    def test_the_hand_along_the_curve_by_keys_and_mouse_and_the_call_held_there(self) -> None:
        page = self.bench("light")
        page.get_by_role("link", name="The day’s light, hour by hour").click()
        clock, image = page.locator("[data-clock]"), page.locator("img.picture")
        first, source = clock.inner_text(), image.get_attribute("src")
        page.get_by_label("Time of day").focus()
        for _ in range(6):
            page.keyboard.press("ArrowLeft")
        self.assertNotEqual(clock.inner_text(), first)
        self.until(f"document.querySelector('img.picture').getAttribute('src') !== {source!r}")
        self.until(
            "document.querySelector('img.picture').getAttribute('src').endsWith('/640.jpg')"
        )  # a hand at rest gets the whole picture
        self.assertEqual(self.setup_row.revisions.count(), 1)
        box = page.locator(".day-drawing").bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 60)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] * 0.6, box["y"] + 60, steps=4)
        page.mouse.up()
        wanted = clock.inner_text()
        self.assertIn(wanted[:2], ("13", "14"))
        page.get_by_role("button", name="Hold the call at this time").click()
        page.wait_for_url("**/light/**", wait_until="domcontentloaded")
        self.assertEqual(f"{self.document().place.call_at:%H:%M}", wanted)
        page.goto(f"{self.live_server_url}/setups/{self.setup_row.pk}/day/")
        page.get_by_label("Date").fill("2026-06-21")
        page.get_by_label("Date").press("Enter")
        page.get_by_role("heading", name="Sunday, 21 June 2026").wait_for()


class Places(BrowserTest):
    def test_a_spot_is_added_compared_and_chosen_with_the_keyboard_and_the_mouse(self) -> None:
        page = self.bench("frame")
        page.keyboard.press("1")
        page.wait_for_url("**/place/", wait_until="domcontentloaded")
        page.get_by_text("In front of me").click()
        page.get_by_text("Two metres and more").click()
        page.get_by_label("What shall we call it?").fill("Під вікном <i>")
        page.get_by_role("button", name="Add this place").click()
        page.wait_for_url("**/place/", wait_until="domcontentloaded")
        self.assertEqual(page.locator(".setup-card").count(), 3)
        self.assertIn("Під вікном <i>", page.locator(".setup-name").inner_text())
        page.get_by_role("link", name="Compare with").first.click()
        page.wait_for_url("**/compare/**", wait_until="domcontentloaded")
        self.assertGreater(page.locator(".compare-table tbody tr").count(), 10)
        page.get_by_role("link", name="All places").click()
        page.locator("form[action$='choose/'] button").first.click()
        page.wait_for_url("**/place/", wait_until="domcontentloaded")
        page.get_by_role("button", name="Try it standing, here").click()
        page.wait_for_url("**/compare/**", wait_until="domcontentloaded")
        self.assertIn("standing", page.locator("h2").nth(1).inner_text())
        page.set_viewport_size({"width": 390, "height": 844})
        for path in (
            f"/setups/{self.setup_row.pk}/place/",
            page.url.removeprefix(self.live_server_url),
            f"/setups/{self.setup_row.pk}/hands/",
            f"/setups/{self.setup_row.pk}/prompter/",
        ):
            self.open(path)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390, path)

    def test_hands_on_by_moves_and_no_fault_in_it(self) -> None:
        row = Setup.objects.get(demo="clock-bench")
        page = self.open(f"/setups/{row.pk}/hands/")
        page.locator("button.is-move").first.click()
        page.wait_for_selector(".bench-picture")
        self.axe()
        self.assertIn("points", page.locator(".facts").first.inner_text())
        row.refresh_from_db()
        assert row.head is not None
        self.assertEqual(sum(camera.use == "bench_view" for camera in read_setup(row.head.document.encode()).cameras), 1)


class Prompter(BrowserTest):
    def test_mirrored_at_reading_speed_with_keys(self) -> None:
        row = Setup.objects.get(demo="clock-bench")
        Script.objects.create(setup=row, text="\n\n".join("word " * 40 for _ in range(10)), words_a_minute=120, mirrored=True)
        page = self.page
        page.clock.install(time=0)
        self.open(f"/setups/{row.pk}/prompter/read/")
        page.clock.pause_at(3600)  # a clock that is only installed goes on by itself between the lines below
        place = "Number(document.querySelector('.prompter').dataset.place)"
        self.assertEqual(page.evaluate("getComputedStyle(document.querySelector('.script')).transform"), "matrix(-1, 0, 0, 1, 0, 0)")
        page.keyboard.press("Space")
        page.clock.run_for(30_000)
        self.assertAlmostEqual(page.evaluate(place), 60, delta=60 * 0.02)
        # As many words as were read have passed the reading line: each block's height is shared by its words.
        line = page.evaluate("document.querySelector('.reading-line').getBoundingClientRect().top")
        box = page.evaluate(
            "(() => { const b = document.querySelectorAll('.script p')[1].getBoundingClientRect(); return [b.top, b.bottom]; })()"
        )
        share = (line - box[0]) / (box[1] - box[0])
        self.assertAlmostEqual(share, (60 - 40 - 0.8 * 130 / 60) / 40, delta=0.06)
        page.keyboard.press("ArrowUp")
        self.assertIn("125", page.locator(".speed").inner_text())
        page.keyboard.press("Space")
        stopped = page.evaluate(place)
        page.clock.run_for(5_000)
        self.assertEqual(page.evaluate(place), stopped)
        page.keyboard.press("m")
        self.assertEqual(page.evaluate("getComputedStyle(document.querySelector('.script')).transform"), "none")
        page.keyboard.press("Home")
        self.assertEqual(page.evaluate(place), 0)
        page.keyboard.press("ArrowRight")
        self.assertAlmostEqual(page.evaluate(place), 40 + 0.8 * 130 / 60, delta=0.01)
        self.assertRegex(page.locator(".time-left").inner_text(), r"\d:\d\d")
        page.keyboard.press("Escape")
        page.wait_for_url("**/prompter/", wait_until="domcontentloaded")
        page.get_by_label("Your script").fill("A few words of mine")
        page.get_by_role("button", name="Save and read").click()
        page.wait_for_url("**/read/", wait_until="domcontentloaded")
        self.assertIn("A few words of mine", page.locator(".script").inner_text())


class FullScreenLamp(BrowserTest):
    def test_fills_the_screen_in_the_white_chosen_and_esc_puts_it_back(self) -> None:
        page = self.open("/lamp/?diagonal=60&distance=50+cm&luminance=250")
        full = int(page.locator("[data-lux]").inner_text().split()[0])
        page.locator("[data-cct]").focus()
        page.keyboard.press("Home")
        page.locator("[data-bright]").focus()
        for _ in range(50):
            page.keyboard.press("ArrowLeft")
        self.assertIn("2000 K", page.locator("[data-cct-words]").inner_text())
        self.assertLess(float(page.locator("[data-lux]").inner_text().split()[0]), full / 2)
        page.get_by_role("button", name="Fill the screen").click()
        self.assertTrue(page.locator("[data-light]").is_visible())
        colour = [
            int(item)
            for item in re.findall(r"\d+", page.evaluate("getComputedStyle(document.querySelector('[data-light]')).backgroundColor"))
        ]
        self.assertTrue(colour[0] > colour[1] > colour[2])
        page.keyboard.press("Escape")
        self.assertFalse(page.locator("[data-light]").is_visible())
        self.open("/lamp/?diagonal=big&distance=9+m")
        self.assertEqual(page.locator(".fault").count(), 2)
        self.assertEqual(page.locator("#lamp-diagonal").input_value(), "big")
