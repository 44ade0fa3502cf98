"""The bench at every size: nothing out of reach, nothing cut off, no words on words; and focus that is seen."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tests.browser.story import BrowserTest

SIZES = (
    (320, 600), (390, 844), (640, 400), (641, 800), (768, 1024), (853, 533), (1024, 640), (1100, 700), (1152, 720), (1164, 727), (1180, 800), (1280, 800),
    (1366, 633), (1920, 1080), (2560, 1440),
)  # fmt: skip

SOME = ((320, 600), (640, 400), (768, 1024), (1024, 640), (1180, 800))

# What is at the middle of each control is the control itself, once it has been brought into view.
REACHED = """
selector => [...document.querySelectorAll(selector)].filter(one => one.checkVisibility()).map(one => {
  one.scrollIntoView({block: 'center', inline: 'center'});
  const box = one.getBoundingClientRect();
  const there = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
  return there && (one === there || one.contains(there)) ? '' : `${one.outerHTML.slice(0, 90)} under ${there?.outerHTML.slice(0, 90)}`;
}).filter(Boolean)
"""
CUT_OFF = """
() => [...document.querySelectorAll('.bench *')].filter(one => {
  if (!one.checkVisibility() || one.closest('svg, .sr, .table-frame, option, .picture-frame')) return false;
  const box = one.getBoundingClientRect();
  return box.width && (box.right > innerWidth + 1 || box.left < -1);
}).map(one => one.outerHTML.slice(0, 120))
"""
WORDS_ON_WORDS = """
() => [...document.querySelectorAll('.bench svg')].filter(one => one.checkVisibility()).flatMap(drawing => {
  const boxes = [...drawing.querySelectorAll('text')].map(one => [one.textContent, one.getBoundingClientRect()]).filter(([, box]) => box.width);
  return boxes.flatMap(([words, a], index) => boxes.slice(0, index)
    .filter(([, b]) => a.left < b.right - 1 && b.left < a.right - 1 && a.top < b.bottom - 1 && b.top < a.bottom - 1)
    .map(([other]) => `${words} on ${other}`));
})
"""
SMALL_WORDS = """
() => [...document.querySelectorAll('.from-above text, .from-side text')].filter(one => one.getBoundingClientRect().width).map(one => {
  const drawing = one.ownerSVGElement, box = drawing.getBoundingClientRect(), shape = drawing.viewBox.baseVal;
  return [one.textContent, parseFloat(getComputedStyle(one).fontSize) * Math.min(box.width / shape.width, box.height / shape.height)];
}).filter(([, size]) => size < 9.9)
"""
KIND = """(() => {
  const one = document.activeElement, of = (part) => part?.getAttribute('class') ?? part?.tagName;
  if (one === document.body) return 'BODY';
  return [one.tagName, one.type, of(one), one.dataset.thing?.split('/')[0], of(one.parentElement), of(one.closest('section'))].join();
})()"""
TOGETHER = """
() => {
  const move = document.querySelector('[data-move] button');
  move.scrollIntoView({block: 'nearest'});
  const both = [document.querySelector('.picture').getBoundingClientRect(), move.getBoundingClientRect()];
  return both.every(box => box.top >= -1 && box.bottom <= innerHeight + 1 && box.width > 0);
}
"""


class EverySize(BrowserTest):
    def test_stages_moves_and_words_at_every_size(self) -> None:
        for name, stage, sizes in (
            ("standing-webinar", "sound", SIZES), ("kitchen-table", "light", SOME), ("clock-bench", "frame", SOME), ("interview-by-phone", "eyes", SOME),
        ):  # fmt: skip
            page = self.bench(stage, name, folded=True)
            for width, height in sizes:
                page.set_viewport_size({"width": width, "height": height})
                at = (name, stage, width, height)
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), width, at)
                self.assertEqual(page.evaluate(REACHED, ".slope a, .panes button, .topline a, .topline button"), [], at)
                self.assertEqual(page.evaluate(CUT_OFF), [], at)
                self.assertTrue(page.evaluate(TOGETHER), at)
                if width <= 640:
                    self.assertEqual(self._panes_in_turn(at), 5)
                elif width < 1180:
                    self.assertEqual(self._panes_in_turn(at), 4)
                else:
                    self._looked_at(at)
                panes = "[...document.querySelectorAll('.bench > *')].filter(one => one.scrollHeight > one.clientHeight + 1 && getComputedStyle(one).overflowY === 'auto').length"  # noqa: E501
                self.assertLessEqual(page.evaluate(panes), 1, at)
                self.assertEqual(page.evaluate(REACHED, "[data-move] button:nth-of-type(1)")[:1], [], at)

    def _panes_in_turn(self, at: object) -> int:
        buttons = [button for button in self.page.locator(".panes button").all() if button.is_visible()]
        for button in reversed(buttons):
            button.click()
            self.assertEqual(button.get_attribute("aria-pressed"), "true")
            self._looked_at((at, button.inner_text()))
        return len(buttons)

    def _looked_at(self, at: object) -> None:
        self.assertEqual(self.page.evaluate(WORDS_ON_WORDS), [], at)
        self.assertEqual(self.page.evaluate(SMALL_WORDS), [], at)
        self.assertEqual(self.page.evaluate(CUT_OFF), [], at)

    def test_a_swipe_over_a_drawing_scrolls_and_a_pressed_thing_does_not(self) -> None:
        page = self.bench("light")
        touch = "selector => getComputedStyle(document.querySelector(selector)).touchAction"
        self.assertIn("pan-y", page.evaluate(touch, ".plan"))
        self.assertEqual(page.evaluate(touch, '.plan [data-thing="lights/bench-lamp"]'), "none")
        self.assertIn("pan-y", page.evaluate(touch, '.plan [data-thing="desk"]'))


class FocusIsSeen(BrowserTest):
    def test_every_stop_shows_at_three_to_one_in_both_themes(self) -> None:
        page = self.bench("light", folded=True)
        page.locator("[data-move] button").first.click()  # a state before, so that its button is there
        self.until("document.querySelector('[data-undo]').ariaDisabled === 'false'")
        self.settled()
        for theme in ("day", "dark"):
            page.evaluate(f"document.documentElement.dataset.sheet = '{theme}'; document.activeElement.blur()")
            seen: set[str] = set()
            for _ in range(160):
                page.keyboard.press("Tab")
                kind = page.evaluate(KIND)
                if kind == "BODY":
                    break
                if kind not in seen:  # controls of one kind are drawn alike
                    self._assert_seen(theme)
                seen.add(kind)
            self.assertGreater(len(seen), 20)

    def _assert_seen(self, theme: str) -> None:
        """Round the control lies a line, at least as long as its outline, that differs 3:1 from what was there without the focus (WCAG 2.4.13)."""
        answer, box = self.page.evaluate(
            "(() => { const one = document.activeElement, b = one.getBoundingClientRect();"
            " return [one.outerHTML.slice(0, 90), [b.left, b.top, b.width, b.height]]; })()"
        )
        left, top = max(box[0] - 20, 0), max(box[1] - 20, 0)
        clip = {"x": left, "y": top, "width": min(box[2] + 40, 1280 - left), "height": min(box[3] + 40, 800 - top)}
        with_focus = self._pixels(clip)
        self.page.evaluate("window.stopAt = document.activeElement; window.stopAt.blur()")
        without = self._pixels(clip)
        self.page.evaluate("window.stopAt.focus({preventScroll: true})")
        line = min(box[2] + box[3], clip["width"] + clip["height"])  # half the outline: some of it may lie beyond the edge of the page
        self.assertGreater(int((_contrast(with_focus, without) >= 3).sum()), line, f"{theme}: {answer}")

    def _pixels(self, clip: dict[str, float]) -> NDArray[np.float64]:
        picture = Image.open(io.BytesIO(self.page.screenshot(clip=clip, animations="disabled", caret="hide")))  # type: ignore[arg-type]
        return np.asarray(picture.convert("RGB"), dtype=float)


def _contrast(a: NDArray[np.float64], b: NDArray[np.float64]) -> NDArray[np.float64]:
    """Contrast of two pictures' pixels, 1-21 (WCAG 2.2, relative luminance)."""

    def luminance(pixels: NDArray[np.float64]) -> NDArray[np.float64]:
        linear = np.where(pixels <= 0.04045 * 255, pixels / 255 / 12.92, ((pixels / 255 + 0.055) / 1.055) ** 2.4)
        return linear @ np.array([0.2126, 0.7152, 0.0722])

    first, second = luminance(a), luminance(b)
    return (np.maximum(first, second) + 0.05) / (np.minimum(first, second) + 0.05)
