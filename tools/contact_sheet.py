"""What the far side sees in five good lights and ten bad ones, docs/screenshots/looks.png; part of ./uphill shots. Not a test."""

from __future__ import annotations

from pathlib import Path
from typing import Any

WIDE, HIGH, LINE, ACROSS = 380, 214, 26, 5
PAPER, INK = "#f6f1e6", "#22303c"


def main(file: Path) -> None:
    from PIL import Image, ImageDraw

    from uphill_lamp.core.appraisal.appraise import appraise
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
    from uphill_lamp.core.appraisal.appraise import appraise
    from uphill_lamp.core.document import applied

    def mended(setup: Any, areas: tuple[str, ...]) -> Any:
        for _ in range(9):
            moves = [move for finding in appraise(setup).findings_with_gains if finding.area in areas for move in finding.moves]
            if not moves or (best := max(moves, key=lambda move: move.gain or 0)).gain is None or (best.gain or 0) <= 0:
                break
            setup = applied(setup, best.patch)
        return setup

    def seen_near(setup: Any) -> Any:
        """Drawn in closer, with the exposure locked on the face, so that the light on it can be told."""
        face_lx = appraise(setup).lit_scene.face_lx["front"]
        exposure = {"cameras__camera__metering": "locked", "cameras__camera__locked_exposure_lx": round(face_lx, 1)}
        return put(setup, cameras__camera__zoom=1.6, **exposure)

    framed = mended(demo("clock-bench"), ("frame",))
    near = put(framed, cameras__camera__zoom=1.6)
    looks = [
        ("Soft, straight ahead", "even"),
        ("By the lens, filled", "filled"),
        ("From 45° aside", "shaped"),
        ("Side-on, dramatic", "dramatic"),
    ]
    shown = [(words, seen_near(mended(put(framed, preferences__look=look), ("light",)))) for words, look in looks]
    works, phone, kitchen = demo("room-that-works"), demo("interview-by-phone"), mended(demo("kitchen-table"), ("frame",))
    bulbs = {"lights__bench_h_lamp__cct_k": 6500.0, "lights__bench_h_lamp__aim_yaw_deg": 200.0, "lights__bench_h_lamp__aim_tilt_deg": 10.0}
    dark = {"lights__ceiling_h_lamp__on": False, "lights__bench_h_lamp__on": False}
    aside = {"lights__ceiling_h_lamp__on": False, "screens__laptop__on": False, "lights__bench_h_lamp__aim_yaw_deg": 270.0,
             "lights__bench_h_lamp__aim_tilt_deg": 5.0, "presenter__glasses": "none"}  # fmt: skip
    glare = {"screens__laptop__luminance_cd_m2": 500.0, "screens__laptop__white_share": 0.9, "lights__ceiling_h_lamp__on": False}
    fast = {"focal_length_m": 0.018, "sensor_width_m": 0.0236, "sensor_height_m": 0.0157, "f_number": 1.4}
    far = {"kind": "manual", "distance_m": 3.0}
    return [
        *shown,
        ("A room that works", works),
        ("A window behind", kitchen),
        ("A lamp from above", put(framed, lights__bench_h_lamp__on=False, screens__laptop__on=False)),
        ("Two bulbs that do not match", put(framed, **bulbs)),
        ("Night, by the screen alone", put(framed, **dark)),
        ("The screen in the glasses", put(near, **glare)),
        ("The camera from below", demo("clock-bench")),
        ("Too near with a wide lens", put(works, presenter__y_m=2.44, cameras__camera__lens__diagonal_fov_deg=104.0)),
        ("Lit from one side alone", put(near, **aside)),
        ("The camera leans", put(phone, cameras__camera__roll_deg=9.0)),
        ("Focused on the wall", put(works, cameras__camera__lens=fast, cameras__camera__focus=far)),
    ]
