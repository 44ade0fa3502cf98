"""Takes docs/screenshots anew from the demo setups: ./uphill shots. Not a test."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from tools import contact_sheet

SHOTS = Path(__file__).parents[1] / "docs" / "screenshots"
SCRIPT = """Good evening, and welcome back to the clock bench.

Tonight we take a verge escapement apart, slowly, and put it together again. Have your loupe at hand and a soft cloth.

First the balance cock. Turn the screw a quarter, no more, and listen.
"""
WIDE, NARROW = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


def main() -> None:
    with tempfile.TemporaryDirectory() as state:
        os.environ |= {"UPHILL_STATE": state, "DJANGO_ALLOW_ASYNC_UNSAFE": "1"}
        from uphill_lamp.web import running

        running.prepare()
        import threading

        from playwright.sync_api import sync_playwright
        from waitress.server import create_server

        from tests.browser import QUIET
        from uphill_lamp.web.wsgi import application

        server = create_server(application, host="127.0.0.1", port=8799)
        threading.Thread(target=server.run, daemon=True).start()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=os.environ.get("UPHILL_CHROMIUM", "/usr/bin/chromium"), args=QUIET)
            for name, path, size in (
                ("setups", "/", WIDE),
                ("quick-start", "/setups/new/", WIDE),
                ("bench-frame", "/setups/1/frame/", WIDE),
                ("bench-light", "/setups/2/light/", WIDE),
                ("bench-sound", "/setups/4/sound/", WIDE),
                ("microphones", "/setups/1/microphones/", {"width": 1280, "height": 1130}),
                ("bench-backdrop", "/setups/3/backdrop/", WIDE),
                ("bench-eyes", "/setups/3/eyes/", WIDE),
                ("bench-narrow", "/setups/1/frame/", NARROW),
                ("place", "/setups/1/place/", {"width": 1280, "height": 1250}),
                ("check", "/setups/5/check/", {"width": 1280, "height": 1150}),
                ("prompter", "/setups/1/prompter/", WIDE),
                ("steps", "/setups/1/steps/", {"width": 1280, "height": 1000}),
                ("wiring-dark", "/setups/5/wiring/", {"width": 1280, "height": 1000}),
                ("catalogue", "/setups/1/catalogue/", WIDE),
                ("hands", "/setups/2/hands/", WIDE),
                ("day", "/setups/4/day/?date=2026-05-20&sky=clear", {"width": 1280, "height": 1150}),
                ("go", "/setups/5/go/", {"width": 1280, "height": 1150}),
            ):
                page = browser.new_page(viewport=size, color_scheme="dark" if "dark" in name else "light")
                page.goto("http://127.0.0.1:8799" + path)
                if name == "prompter":
                    page.fill("#script-text", SCRIPT)
                    page.click("[name=keep]")
                if name == "check":
                    page.set_input_files("#check-file", _take(Path(state)))
                    page.click("text=Measure it")
                    page.wait_for_selector(".check-table", timeout=60_000)
                if name == "hands":
                    page.locator("button.is-move").first.click()
                _settled(page)
                page.screenshot(path=SHOTS / f"{name}.png")
                page.close()
            browser.close()
        contact_sheet.main(SHOTS / "looks.png")


def _take(folder: Path) -> Path:
    """What the room that works would send if somebody had tipped its camera."""
    from tests.setups import demo, put
    from uphill_lamp.core.appraisal.appraise import appraise
    from uphill_lamp.drawings.far_side.render import render

    setup = demo("room-that-works")
    camera = setup.main_camera
    path = f"cameras__{camera.id.replace('-', '_h_')}__"
    tipped = put(setup, **{f"{path}tilt_deg": (camera.tilt_deg or 0.0) + 6.0, f"{path}roll_deg": 4.0})
    (folder / "before the lesson.png").write_bytes(render(appraise(tipped), 960).png())
    return folder / "before the lesson.png"


def _settled(page) -> None:  # type: ignore[no-untyped-def]
    if any(f"/{stage}/" in page.url for stage in ("frame", "light", "sound", "backdrop", "eyes")):
        page.wait_for_selector('[data-region="findings"][data-gains="1"]')
    if page.url.endswith("/steps/"):
        page.wait_for_selector(".hill-drawing", timeout=90_000)
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(300)
    if page.locator(".bench").count():
        page.wait_for_selector(".bench:not(.is-drawing)")


if __name__ == "__main__":
    main()
