"""A real browser on a real server with a file database."""

from __future__ import annotations

import os
import time
from functools import cache
from multiprocessing.util import Finalize
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.http import HttpRequest, HttpResponse
from playwright.sync_api import Browser, Error, Page, Playwright, sync_playwright

from tests.browser import QUIET
from tests.setups import demo
from tests.web import forget_own_prices
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.web.bench import page as bench_page
from uphill_lamp.web.bench import pictures
from uphill_lamp.web.setups import flows

AXE = (Path(__file__).parents[1] / "vendor" / "axe-core" / "axe.min.js").read_text()


@cache
def browser_with(flags: tuple[str, ...]) -> Browser:
    """The browser of this process: started once, for to start it costs more than most tests do; each test has a context of its own."""
    browser = _playwright().chromium.launch(executable_path=os.environ.get("UPHILL_CHROMIUM", "/usr/bin/chromium"), args=[*QUIET, *flags])
    Finalize(None, browser.close, exitpriority=2)
    return browser


@cache
def _playwright() -> Playwright:
    playwright = sync_playwright().start()
    Finalize(None, playwright.stop, exitpriority=1)
    return playwright


def _stand_in(request: HttpRequest, digest: str, width: int, drawn: Any = pictures.picture) -> HttpResponse:
    """In the place of a document's picture that of the first demo, of the same size; drafts and upright pictures are the document's own."""
    if width == bench_page.DRAFT_PX or pictures.by_digest(digest).setup.main_camera.orientation == "portrait":
        return drawn(request, digest, width)  # type: ignore[no-any-return]
    return HttpResponse(_first_demo(width), content_type="image/jpeg")


@cache
def _first_demo(width: int) -> bytes:
    from uphill_lamp.drawings.far_side.render import render

    return render(appraise(demo()), width).jpeg()


class BrowserTest(StaticLiveServerTestCase):
    """Each test gets the demo setups and a fresh page; a console complaint or an address outside fails it."""

    size = {"width": 1280, "height": 800}
    flags: tuple[str, ...] = ()
    draws = False  # whether each document's picture is drawn, or the first demo's stands for all: half of the work is drawing

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.browser = browser_with(cls.flags)

    def setUp(self) -> None:
        if not self.draws:
            standing_in = patch.object(pictures, "picture", _stand_in)
            standing_in.start()
            self.addCleanup(standing_in.stop)
        flows.load_demo()
        self.context = self.browser.new_context(viewport=self.size, reduced_motion="reduce", accept_downloads=True)
        self.page = self.new_page()

    def tearDown(self) -> None:
        for page in self.context.pages:
            page.unroute_all(behavior="ignoreErrors")
        self.context.close()
        forget_own_prices()
        self.assertEqual(self.complaints, [])

    def new_page(self) -> Page:
        self.complaints: list[str] = getattr(self, "complaints", [])
        page = self.context.new_page()
        page.set_default_timeout(40_000)  # however slow the machine is
        page.on("pageerror", lambda error: self.complaints.append(str(error)))
        page.on(
            "console",
            lambda message: self.complaints.append(message.text) if message.type == "error" and not _expected(message.text) else None,
        )
        page.on(
            "request",
            lambda request: self.complaints.append(request.url) if not request.url.startswith((self.live_server_url, "blob:")) else None,
        )
        return page

    def open(self, path: str, page: Page | None = None) -> Page:
        """A page with all its scripts begun; its pictures may still be on their way."""
        page = page or self.page
        page.goto(self.live_server_url + path, wait_until="domcontentloaded")
        return page

    def bench(self, stage: str = "frame", name: str = "clock-bench", page: Page | None = None, folded: bool = False) -> Page:
        """A demo setup on the bench; all values of what is selected are open unless it is to be ``folded``, as it comes."""
        from uphill_lamp.web.setups.models import Setup

        self.setup_row = Setup.objects.get(demo=name)
        page = self.open(f"/setups/{self.setup_row.pk}/{stage}/", page)
        self.settled(page)
        if not folded:
            page.evaluate("for (const fold of document.querySelectorAll('.more-entries')) fold.open = true")
        return page

    def unfold(self, page: Page | None = None) -> None:
        """Opens all that is folded."""
        (page or self.page).evaluate("for (const fold of document.querySelectorAll('details')) fold.open = true")

    def settled(self, page: Page | None = None) -> None:
        """Waits until the gains are there and the newest picture is drawn."""
        page = page or self.page
        page.wait_for_selector('[data-region="findings"][data-gains="1"]')
        self.until("document.querySelector('img.picture').complete && document.querySelector('img.picture').naturalWidth > 0", page)

    def document(self) -> Any:
        """The document that the database holds now."""
        from uphill_lamp.core.document import read_setup

        self.setup_row.refresh_from_db()
        return read_setup(self.setup_row.head.document.encode())

    def score(self, page: Page | None = None) -> int:
        return int((page or self.page).locator(".whole strong").inner_text())

    def until_score_is_not(self, score: int) -> None:
        self.until(f"document.querySelector('.whole strong').textContent !== '{score}'")
        self.settled()

    def until(self, expression: str, page: Page | None = None) -> None:
        """Waits for an expression to be true; Playwright's own waiting would need eval, which the pages forbid."""
        page, end = page or self.page, time.monotonic() + 60  # however slow the machine is
        while not page.evaluate(expression):
            self.assertLess(time.monotonic(), end, f"never became true: {expression}")
            page.wait_for_timeout(25)

    def axe(self, page: Page | None = None) -> None:
        """Holds a page against axe's rules, AA and best practice; what colours decide in the dark theme too."""
        page = page or self.page
        tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
        whole = "tags => axe.run(document, {runOnly: tags, rules: {'target-size': {enabled: true}}, resultTypes: ['violations']})"
        colours = "() => axe.run(document, {runOnly: {type: 'rule', values: ['color-contrast', 'link-in-text-block']}, resultTypes: ['violations']})"
        for theme, ask in (("day", whole), ("dark", colours)):
            before = page.evaluate("theme => { const was = document.documentElement.dataset.sheet; document.documentElement.dataset.sheet = theme; return was; }", theme)  # noqa: E501 # fmt: skip
            actual = self._asked(page, ask, tags)
            answer = [f"{rule['id']}: {node['target']} {node['failureSummary']}" for rule in actual["violations"] for node in rule["nodes"]]
            self.assertEqual(answer, [], f"axe at {page.url}, {theme}")
            page.evaluate("theme => { if (theme) document.documentElement.dataset.sheet = theme; }", before)

    @staticmethod
    def _asked(page: Page, ask: str, tags: list[str]) -> Any:
        """axe's answer; asked anew where the page came anew in the middle, as one that waits for something does."""
        for last in (False, False, True):
            try:
                if page.evaluate("typeof axe") == "undefined":
                    page.evaluate(AXE)
                return page.evaluate(ask, tags)
            except Error as wrong:
                if last or not ("axe is not defined" in str(wrong) or "context was destroyed" in str(wrong)):
                    raise
                page.wait_for_load_state("domcontentloaded")
        return None


def _expected(text: str) -> bool:
    """A refused change answers 409 or 422, which the browser notes in its console."""
    return "409" in text or "422" in text
