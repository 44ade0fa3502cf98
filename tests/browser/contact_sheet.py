"""Eight lights on one sheet, docs/screenshots/looks.png, as the far side sees them; part of ./uphill shots. Not a test."""

from __future__ import annotations

from pathlib import Path
from typing import Any

WIDE, HIGH, LINE, ACROSS = 400, 225, 26, 4
PAPER, INK = "#f6f1e6", "#22303c"


def main(file: Path) -> None:
    from PIL import Image, ImageDraw

    from uphill_lamp.core.appraisal import appraise
    from uphill_lamp.drawings.far_side.render import render

    shown = situations()
    sheet = Image.new("RGB", (ACROSS * (WIDE + 8) + 8, -(-len(shown) // ACROSS) * (HIGH + LINE + 8) + 8), PAPER)
    pen = ImageDraw.Draw(sheet)
    for number, (words, setup) in enumerate(shown):
        x, y = 8 + number % ACROSS * (WIDE + 8), 8 + number // ACROSS * (HIGH + LINE + 8)
        sheet.paste(Image.fromarray(render(appraise(setup), 640).pixels).resize((WIDE, HIGH)), (x, y))
        pen.text((x + 2, y + HIGH + 5), words, INK, font_size=15)
    sheet.save(file)


def situations() -> list[tuple[str, Any]]:
    """Words and setup of each tile: the four looks, each reached by moves alone, and four faults."""
    from tests.setups import demo, put
    from uphill_lamp.core.appraisal import appraise
    from uphill_lamp.core.document import applied

    def mended(setup: Any, areas: tuple[str, ...]) -> Any:
        for _ in range(9):
            moves = [move for finding in appraise(setup).findings_with_gains if finding.area in areas for move in finding.moves]
            if not moves or (best := max(moves, key=lambda move: move.gain or 0)).gain is None or (best.gain or 0) <= 0:
                break
            setup = applied(setup, best.patch)
        return setup

    framed = mended(demo("clock-bench"), ("frame",))
    looks = [
        ("Soft, straight ahead", "even"),
        ("By the lens, filled", "filled"),
        ("From 45° aside", "shaped"),
        ("Side-on, dramatic", "dramatic"),
    ]
    shown = [(words, mended(put(framed, preferences__look=look), ("light",))) for words, look in looks]
    bulbs = {"lights__bench_h_lamp__cct_k": 6500.0, "lights__bench_h_lamp__aim_yaw_deg": 200.0, "lights__bench_h_lamp__aim_tilt_deg": 10.0}
    dark = {"lights__ceiling_h_lamp__on": False, "lights__bench_h_lamp__on": False}
    return [
        *shown,
        ("A window behind", mended(demo("kitchen-table"), ("frame",))),
        ("A lamp from above", framed),
        ("Two bulbs that do not match", put(framed, **bulbs)),
        ("Night, by the screen alone", put(framed, **dark)),
    ]
