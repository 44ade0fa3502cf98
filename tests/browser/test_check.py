"""Check in the browser: a picture measured and taken over by the keyboard alone, a sound's fault told, at every width."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path
from unittest.mock import patch

import numpy as np
import soundfile

from tests.browser.story import BrowserTest
from tests.setups import REFERENCE, demo
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.drawings import camera
from uphill_lamp.drawings.far_side.render import render
from uphill_lamp.web.check import views
from uphill_lamp.web.check.models import Take


class Check(BrowserTest):
    def send(self, path: Path) -> None:
        self.page.set_input_files("#check-file", path)
        self.page.locator("#check-file").press("Tab")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector(".check-table", timeout=240_000)

    def stopped(self) -> None:
        """A file that is no longer wanted, stopped in the middle; Playwright itself waits while a page is under way."""
        before = Take.objects.count()
        self.page.set_input_files("#check-file", REFERENCE / "clips" / "o3_hum50.wav")
        self.page.evaluate("""() => {
            const form = document.querySelector("form[data-measures]"), words = form.querySelector("[data-underway-words]");
            new MutationObserver(() => { if (words.textContent.startsWith("Measuring")) form.querySelector("[data-underway-stop]").click(); })
                .observe(words, { childList: true });
            setTimeout(() => form.requestSubmit(), 50);
        }""")
        self.page.wait_for_selector("[role=alert]:has-text('Stopped. Nothing was kept.')")
        self.assertEqual(Take.objects.count(), before)

    def test_a_take_from_file_to_taken_over_by_the_keyboard_and_narrow(self) -> None:
        page = self.bench("frame", "kitchen-table")
        page.keyboard.press("8")
        page.wait_for_url(re.compile("/check/"), wait_until="domcontentloaded")
        self.axe()
        with tempfile.TemporaryDirectory() as folder:
            still = Path(folder) / "my room.png"
            still.write_bytes(render(appraise(demo("room-that-works")), 640).png())
            self.send(still)
        page.wait_for_selector('h2:has-text("differ from the plan")')
        self.assertEqual(page.locator(".check-mark:visible").count(), 4)
        page.get_by_role("button", name="There is white paper in it").click()
        self.assertEqual(page.evaluate("document.activeElement.dataset.mark"), "paper")
        self.axe()
        mark = page.locator("[data-mark=chin]")
        low = "Number(document.querySelector('[data-marks] [name=chin]').value.split(' ')[1])"
        before = page.evaluate(low)
        mark.focus()
        for _ in range(3):
            page.keyboard.press("Shift+ArrowDown")
        box = page.locator("[data-mark=crown]").bounding_box() or {"x": 0, "y": 0, "width": 0, "height": 0}
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + 30, steps=3)
        page.mouse.up()
        page.get_by_role("button", name="Measure with these marks").click()
        page.wait_for_selector("text=marks put by hand")
        self.assertEqual(page.locator(".check-mark:visible").count(), 5)
        self.assertGreater(page.evaluate(low), before)
        page.get_by_role("button", name=re.compile("Take over: the lid stands at")).focus()
        page.keyboard.press("Enter")
        page.wait_for_selector(".check-table tr:has-text('Eye line'):has-text('as planned')")
        self.assertTrue(any(path.endswith("hinge_deg") for path in self.document().origins))
        self.send(REFERENCE / "clips" / "o4_clipped_plosive.wav")
        told = page.locator(".check-table tr.is-off").all_inner_texts()
        self.assertTrue(any("Clipped samples" in row for row in told) and any("Breath pops" in row for row in told), told)
        self.stopped()
        self.open("/measure/")
        page.set_input_files("#others-files", [REFERENCE / "clips" / "o3_hum50.wav", REFERENCE / "clips" / "o5_claps.wav"])
        page.get_by_role("button", name="Measure them").click()
        page.wait_for_selector(".others-table", timeout=240_000)
        self.axe()
        page.set_viewport_size({"width": 390, "height": 844})
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        self.axe()


class StandIns(BrowserTest):
    """The stand-ins that ship: the camera sends what the setup's would, the microphone a recording."""

    folder: tempfile.TemporaryDirectory[str]

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.folder.cleanup)
        clip = Path(cls.folder.name) / "room.mjpeg"
        with clip.open("wb") as file:
            for picture in camera.clip(appraise(demo("room-that-works")), 0.2):
                file.write(picture.jpeg())
        cls.flags = ("--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream", f"--use-file-for-fake-video-capture={clip}",
                     f"--use-file-for-fake-audio-capture={cls.heard(Path(cls.folder.name))}")  # fmt: skip
        super().setUpClass()

    @classmethod
    def heard(cls, folder: Path) -> Path:
        """The recording that the microphone sends."""
        return REFERENCE / "clips" / "o5_claps.wav"

    def sheet(self) -> None:
        """Waits for the sheet, or for what the page says instead."""
        self.page.wait_for_selector(".check-table, [data-fault]:not([hidden])", timeout=240_000)
        self.assertTrue(self.page.locator(".check-table").is_visible(), self.page.locator("[data-take]").inner_text())


class WrongMicrophone(StandIns):
    @classmethod
    def heard(cls, folder: Path) -> Path:
        # Nothing at all: a machine that is too busy leaves gaps in the sound, and noise with gaps in it is no longer even.
        soundfile.write(folder / "nobody.wav", np.zeros(48000 * 4), 48000)
        return folder / "nobody.wav"

    def test_a_microphone_that_hears_no_tap_is_told(self) -> None:
        few = tuple(step | {"seconds": 1} for step in views.STEPS if step.get("tap") or step.get("still") or step["words"] == "Be silent.")
        with patch.object(views, "STEPS", few):
            page = self.bench("frame", "room-that-works")
            page.keyboard.press("8")
            page.set_viewport_size({"width": 390, "height": 844})
            page.locator("[data-begin]").focus()
            page.keyboard.press("Enter")
            self.sheet()
        self.assertIn("no tap was heard", page.locator("main").inner_text())
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        voice = page.locator(".check-table tr:has-text('Voice over noise')").inner_text()
        self.assertIn("there is nothing to be heard", voice)


class Led(StandIns):
    def test_a_led_test_gives_what_the_plan_expects(self) -> None:
        quick, again, back = (tuple(step | {"seconds": 1} for step in steps) for steps in (views.STEPS, views.SENT_STEPS, views.ECHO_STEPS))
        with patch.object(views, "STEPS", quick), patch.object(views, "SENT_STEPS", again), patch.object(views, "ECHO_STEPS", back):
            page = self.bench("frame", "room-that-works")
            page.keyboard.press("8")
            page.locator("[data-begin]").focus()
            page.keyboard.press("Enter")
            page.wait_for_selector("[data-stage]:not([hidden])")
            page.keyboard.press("Escape")
            self.assertIn("Stopped", page.locator("[data-fault]").inner_text())
            self.assertEqual(Take.objects.count(), 0)
            page.locator("[data-sent]").check()
            page.locator("[data-echo]").check()
            page.locator("[data-begin]").focus()
            page.keyboard.press("Enter")
            page.wait_for_selector("text=Be silent")
            page.keyboard.press("Space")  # goes on at once
            self.sheet()
        take = Take.objects.get()
        told = {figure["id"]: figure["value"] for figure in take.report["figures"]}
        self.assertEqual(take.kind, "clip")
        self.assertGreater(told["clip.fps"], 0)
        page.wait_for_selector("text=As a call sends it")
        page.wait_for_selector("text=Your loudspeakers heard back")
        plan = {measure.id: measure.value for measure in appraise(demo("room-that-works")).area("frame").measures}  # type: ignore[union-attr]
        for name in ("eye_line", "side_position"):
            self.assertAlmostEqual(
                told[f"picture.{name}"], plan[f"frame.{name}"] or 0.0, delta=0.02
            )  # the camera's presenter moves a little
        self.assertTrue(any("sound as it comes" in note or "kept on" in note for note in take.report["notes"]), take.report["notes"])
        self.axe()
