"""Backdrop by hand on the picture: a thing behind is taken hold of where it is seen, and shifted along its wall."""

from __future__ import annotations

from collections.abc import Callable

from tests.browser.story import BrowserTest


class OnThePicture(BrowserTest):
    draws = True

    def test_what_hangs_is_dragged_nudged_and_put_back_and_what_stands_is_not_lifted(self) -> None:
        page = self.bench("backdrop", "room-that-works")
        was = next(thing.position for thing in self.document().backdrop if thing.kind == "picture")
        handle = next(f"backdrop/{thing.id}" for thing in self.document().backdrop if thing.kind == "picture")
        grip = page.locator(f'.grips [data-thing="{handle}"]')
        box = grip.bounding_box()
        assert box is not None
        across, down = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(across, down)
        page.mouse.down()
        for step in range(1, 7):
            page.mouse.move(across - 8 * step, down + 2 * step)
        page.mouse.up()
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.settled()
        now = next(thing.position for thing in self.document().backdrop if f"backdrop/{thing.id}" == handle)
        self.assertAlmostEqual(now.y_m, was.y_m, places=3)  # along its wall, not into the room
        self.assertGreater(abs(now.x_m - was.x_m), 0.1)
        self.assertLess(now.z_m, was.z_m)  # what hangs goes down, too
        moved = grip.bounding_box()
        assert moved is not None
        self.assertAlmostEqual(moved["x"] - box["x"], -48, delta=14)  # it stays under the hand
        grip.focus()
        self.pressed("Shift+ArrowRight")
        nudged = next(thing.position for thing in self.document().backdrop if f"backdrop/{thing.id}" == handle)
        self.assertAlmostEqual(abs(nudged.x_m - now.x_m), 0.1, places=3)
        self.assertEqual(page.evaluate("document.activeElement.dataset.thing"), handle)
        for _ in range(2):
            self.after(lambda: page.locator("[data-undo]").click())
        back = next(thing.position for thing in self.document().backdrop if f"backdrop/{thing.id}" == handle)
        self.assertEqual(back, was)
        self.stands_on_the_floor()

    def pressed(self, key: str) -> None:
        self.after(lambda: self.page.keyboard.press(key))

    def after(self, act: Callable[[], object]) -> None:
        """Does something, and waits for the page to be on the revision that it makes."""
        parent = "document.querySelector('[data-region=state]').dataset.parentId"
        was = self.page.evaluate(parent)
        act()
        self.until(f"{parent} !== '{was}'")
        self.settled()

    def stands_on_the_floor(self) -> None:
        """What stands is shifted and never lifted."""
        page = self.page
        shelf = next(thing for thing in self.document().backdrop if thing.kind in ("bookcase", "shelf"))
        page.locator(f'.grips [data-thing="backdrop/{shelf.id}"]').focus()
        self.pressed("Shift+ArrowLeft")
        page.keyboard.press("Shift+ArrowUp")
        page.wait_for_timeout(300)
        self.settled()
        now = next(thing for thing in self.document().backdrop if thing.id == shelf.id)
        self.assertEqual(now.position.z_m, shelf.position.z_m)
