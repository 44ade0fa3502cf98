"""A made-up room entered through the interface alone: everything it has, put there, typed and dragged; and the same with the keyboard, and at 390 px."""

from __future__ import annotations

import json
from typing import Any

from playwright.sync_api import Page

from tests.browser.story import BrowserTest
from uphill_lamp.web.setups.models import Setup

# The room as it was drawn on paper: a study in Chicago, two monitors, a webcam on the left one.
PAPER: dict[str, object] = {
    "/place/label": "Chicago", "/place/timezone": "America/Chicago", "/place/mains_hz": 60, "/place/country": "US", "/preferences/currency": "USD",
    "/room/width_m": 4.1, "/room/depth_m": 3.8, "/room/height_m": 2.6, "/room/surfaces/floor": "floor_stone", "/room/north_bearing_deg": 35.0,
    "/room/windows/window/width_m": 1.4, "/room/windows/window/sill_m": 0.85, "/room/windows/wide-window/height_m": 1.3,
    "/room/doors/door/width_m": 0.9, "/room/furnishings/sofa/kind": "sofa", "/desk/width_m": 1.8, "/desk/height_m": 0.73,
    "/screens/monitor/kind": "monitor", "/screens/monitor-2/kind": "monitor", "/screens/monitor-2/width_m": 0.6, "/cameras/camera/on_screen": "monitor",
    "/cameras/camera/lens/diagonal_fov_deg": 68.0, "/lights/floor-lamp/cct_k": 3000.0, "/lights/ring/flux_lm": 900.0, "/lights/ring/dim": 0.6,
    "/microphones/usb-arm/stand": "boom_arm", "/microphones/usb-arm/in_use": True, "/microphones/usb-arm/pattern": "cardioid",
    "/noises/fan/level_db_a": 41.0, "/noises/street/curve": "street", "/presenter/eye_height_m": 1.24, "/call/use": "audience", "/preferences/budget": 80.0,
}  # fmt: skip


def at(data: Any, path: str) -> Any:
    for step in path.split("/")[1:]:
        data = next(item for item in data if item["id"] == step) if isinstance(data, list) else data[step]
    return data


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
        field = page.locator(f'[data-field="{key}"]')
        if not field.is_visible():
            page.locator(".more-entries > summary").click()
            self.presses += 1
        before = page.locator('[data-region="state"]').get_attribute("data-parent-id")
        kind = field.evaluate("one => one.tagName === 'SELECT' ? 'select' : one.type")
        if kind == "select":
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
        page.locator("#plain-money").fill("$80")
        page.locator("#setup-name").fill("The study")
        self.press("Show me what they see", page)
        page.wait_for_url("**/frame/")
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
        told = json.loads(saved.value.path().read_text())
        self.assertEqual({path: at(told, path) for path in PAPER}, PAPER)
        self.assertTrue(
            all(
                any(origin.startswith(path) for origin in told["origins"])
                for path in ("/room/width_m", "/lights/ring/flux_lm", "/noises/fan/level_db_a")
            )
        )
        self.assertFalse(any(origin.startswith("/lights/ring/cri") for origin in told["origins"]))  # nobody told it
        self.assertLess(self.presses, 110)

    def test_by_the_keyboard_alone_and_back(self) -> None:
        page = self.bench("light")
        before = self.document()
        page.locator("[data-things]").focus()
        page.keyboard.press("Enter")
        page.wait_for_selector("[data-things-over][open]")
        page.locator("[data-things-over] .thing-kind", has=page.get_by_text("Floor lamp", exact=True)).first.focus()
        page.keyboard.press("Enter")
        self.until("document.querySelector('[data-region=state]').dataset.picked === 'lights/floor-lamp'")
        for name in ("Copy", "Take away"):
            page.get_by_role("button", name=name, exact=True).focus()
            page.keyboard.press("Enter")
            self.until("!Alpine.$data(document.querySelector('.bench')).doing")
            self.settled()
        self.assertEqual(len(self.document().lights), len(before.lights) + 1)
        self.pressed(page, "Control+z")
        self.settled()
        wall = page.locator('[data-thing="walls/wall_x1"]')
        wall.focus()
        width_m = self.document().room.width_m
        self.pressed(page, "Shift+ArrowRight")
        self.assertAlmostEqual(self.document().room.width_m, width_m + 0.1, places=3)

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
        page.locator(".finding .on-purpose summary").first.click()
        page.locator('.finding input[name="reason"]').first.fill("I like it so")
        page.get_by_role("button", name="Leave it so").first.click()
        self.until("document.querySelector('.on-purpose-list')")
        self.assertNotIn(title, page.locator(".finding h3").all_inner_texts())
        page.get_by_role("link", name="History").click()
        page.get_by_role("button", name="Bring it back").last.click()
        page.wait_for_url("**/past/")
        self.assertEqual(self.document().on_purpose, ())
        self.assertIn("Brought back", page.locator(".past-list li").first.inner_text())


class OwnRoomSmall(BrowserTest):
    size = {"width": 390, "height": 844}

    def test_put_type_and_take_away_at_390_px(self) -> None:
        page = self.bench("light")
        page.locator("[data-show='hand']").click()
        page.locator("[data-things]").click()
        page.locator("[data-things-over] .thing-kind", has=page.get_by_text("Ring light", exact=True)).first.click()
        self.until("document.querySelector('[data-region=state]').dataset.picked === 'lights/ring'")
        page.get_by_role("button", name="Take away", exact=True).click()
        self.until("document.querySelector('[data-region=state]').dataset.picked === ''")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
