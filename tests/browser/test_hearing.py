"""Microphones side by side and heard, in the browser, with its own stand-in for a microphone."""

from __future__ import annotations

import tempfile
from pathlib import Path

from tests.browser.story import BrowserTest


class Hearing(BrowserTest):
    flags = ("--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream")

    def said(self, words: str) -> None:
        self.until(f"document.querySelector('[data-said]').textContent.includes({words!r})")

    def test_two_by_turns_a_recording_and_the_keyboard_alone(self) -> None:
        page = self.bench("sound")
        page.get_by_role("link", name="All microphones side by side").click()
        page.wait_for_selector("[data-hear]")
        self.until("document.querySelector('[data-differ]').textContent.includes('Headset against Laptop microphone: clarity +0.45')", page)
        page.locator('[data-play="0"]').focus()
        page.keyboard.press("Enter")
        self.said("Playing: Laptop microphone")
        page.wait_for_timeout(400)
        page.locator('[data-play="1"]').focus()
        page.keyboard.press("Space")
        self.said("Playing: Headset")
        self.assertEqual(page.locator('[data-play="1"]').get_attribute("aria-pressed"), "true")
        page.get_by_role("button", name="Stop").click()
        self.said("Stopped")
        with tempfile.TemporaryDirectory() as folder:
            text = Path(folder, "voice.wav")
            text.write_text("no sound at all")
            page.locator("[data-file]").set_input_files(str(text))
            self.said("expected a recording")
        page.get_by_role("button", name="Record my own").click()
        self.said("s left")
        page.wait_for_timeout(1500)
        page.get_by_role("button", name="That is enough").click()
        self.said("Your own voice is the sample")
        page.locator('[data-play="0"]').click()
        self.said("Playing")

    def test_the_earbuds_are_taken_into_use_and_given_back(self) -> None:
        page = self.bench("sound")
        before = self.score()
        page.goto(self.live_server_url + f"/setups/{self.setup_row.pk}/microphones/")
        page.get_by_role("button", name="Use this one").click()
        page.wait_for_selector("tr.is-used >> text=Earbuds of the spare phone")
        self.bench("sound")
        self.assertGreater(self.score(), before + 12)
        page.get_by_role("button", name="Undo").click()
        self.until_score_is_not(self.score())
        self.assertEqual(self.score(), before)
