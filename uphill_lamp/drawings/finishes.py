"""Small pictures of what walls, floors and ceilings are finished with, in the tone that each throws back; decoration, the words stand beside them."""

from __future__ import annotations

from uphill_lamp.core.document.finishes import FINISHES
from uphill_lamp.drawings.svg import Node, SvgText, path, rect

WIDTH, HEIGHT = 48.0, 32.0
OWN = "own"
_LINES = "M0,8 h48 M0,16 h48 M0,24 h48"
_BRICKS = f"{_LINES} M12,0 v8 M36,0 v8 M0,8 v8 M24,8 v8 M12,16 v8 M36,16 v8 M24,24 v8"
_PLANKS = "M0,8 h48 M0,16 h48 M0,24 h48 M30,0 v8 M12,8 v8 M38,16 v8 M20,24 v8 M4,4 h12 M18,12 h14 M6,20 h16 M28,28 h12"
_SPECKS = "M8,7 h1 M30,5 h1 M19,14 h1 M40,18 h1 M10,24 h1 M27,27 h1"
_TUFTS = "M6,8 v3 M16,5 v3 M26,9 v3 M36,6 v3 M44,11 v3 M10,18 v3 M21,16 v3 M31,20 v3 M41,22 v3 M5,27 v3 M15,26 v3 M26,28 v3 M36,29 v3"
# Marks on a finish, and the tint of its tone (red, green, blue).
_LOOKS: dict[str, tuple[str, tuple[float, float, float]]] = {
    "plaster_white": (_SPECKS, (1.0, 1.0, 0.98)), "plaster_light": (_SPECKS, (1.0, 0.99, 0.93)), "plaster_mid": (_SPECKS, (1.0, 0.99, 0.95)),
    "plaster_dark": (_SPECKS, (0.95, 1.0, 1.08)), "board_white": ("M24,0 v32 M22,4 h.1 M26,4 h.1 M22,28 h.1 M26,28 h.1", (1.0, 1.0, 0.98)),
    "board_light": ("M24,0 v32 M22,4 h.1 M26,4 h.1 M22,28 h.1 M26,28 h.1", (1.0, 0.99, 0.93)),
    "wallpaper_light": ("M8,10 q4,-8 8,0 q-4,6 -8,0 M30,10 q4,-8 8,0 q-4,6 -8,0 M19,24 q4,-8 8,0 q-4,6 -8,0", (1.0, 0.97, 0.88)),
    "brick_bare": (_BRICKS, (1.35, 0.92, 0.72)), "wood_panel": ("M8,0 v32 M20,0 v32 M32,0 v32 M44,0 v32 M14,6 v12 M26,12 v14 M38,4 v10", (1.3, 0.95, 0.6)),
    "tiles": ("M0,10.5 h48 M0,21.5 h48 M12,0 v32 M24,0 v32 M36,0 v32", (0.98, 1.0, 1.03)), "floor_wood": (_PLANKS, (1.3, 0.95, 0.6)),
    "floor_laminate": ("M0,16 h48 M18,0 v16 M34,16 v16 M4,6 q8,4 12,0 M24,24 q6,-4 8,0", (1.2, 0.98, 0.75)),
    "floor_stone": ("M0,16 h48 M24,0 v16 M12,16 v16 M36,16 v16 M4,5 l5,3 M30,8 l6,-3 M18,24 l6,3", (1.0, 1.0, 0.97)),
    "carpet_thin": (_TUFTS, (0.95, 1.0, 1.15)), "carpet_thick": (_TUFTS + " M4,14 v4 M30,13 v4 M18,22 v4 M44,2 v4 M10,1 v3", (1.15, 0.97, 0.85)),
    "curtain_wall": ("M6,0 q4,16 0,32 M16,0 q-4,16 0,32 M26,0 q4,16 0,32 M36,0 q-4,16 0,32 M45,0 q3,16 0,32", (1.15, 0.97, 0.9)),
    "books_wall": ("M0,15 h48 M0,31 h48 M5,2 v13 M10,4 v11 M15,2 v13 M23,5 v10 M29,2 v13 M36,3 v12 M42,2 v13 M6,19 v12 M13,17 v14 M20,19 v12 M31,17 v14",
                   (1.1, 0.98, 0.88)),
    "open": ("M12,32 v-20 q12,-14 24,0 v20", (1.0, 1.0, 1.0)),
    "acoustic_ceiling": ("M0,16 h48 M24,0 v32 M5,5 h.1 M12,9 h.1 M18,5 h.1 M30,6 h.1 M37,10 h.1 M43,5 h.1 M6,22 h.1 M13,27 h.1 M19,22 h.1 M38,27 h.1",
                         (1.0, 1.0, 0.98)),
    OWN: ("M17,25 l2,-6 l11,-11 l4,4 l-11,11 z M27,11 l4,4", (1.0, 1.0, 1.0)),
}  # fmt: skip


def finish_symbols() -> SvgText:
    """All of them, to be shown by ``finish_picture`` as often as wanted on the same page."""
    symbols = [Node("symbol", *_drawn(name), id=f"finish-{name}", viewBox=f"0 0 {WIDTH:g} {HEIGHT:g}") for name in _LOOKS]
    return Node("svg", *symbols, xmlns="http://www.w3.org/2000/svg", class_="finish-symbols", aria_hidden="true").text()


def finish_picture(name: str) -> SvgText:
    """One of them; values of one's own have the pencil."""
    shown = name if name in FINISHES else OWN
    return Node(
        "svg", Node("use", href=f"#finish-{shown}"), class_="finish-picture", viewBox=f"0 0 {WIDTH:g} {HEIGHT:g}", aria_hidden="true"
    ).text()


def _drawn(name: str) -> tuple[Node, Node]:
    marks, tint = _LOOKS[name]
    tone = FINISHES[name].reflectance if name in FINISHES else 0.9
    tone = 0.9 if name == "open" else tone
    light = tone > 0.3
    return (
        rect(0, 0, WIDTH, HEIGHT, fill=_colour(tone, tint)),
        path(marks, fill="none", stroke=_colour(tone * 0.45 if light else min(tone * 2.6, 1.0), tint), stroke_width=1.2, stroke_linecap="round"),
    )  # fmt: skip


def _colour(tone: float, tint: tuple[float, float, float]) -> str:
    """A tone of so much light thrown back, for a screen."""
    return "#" + "".join(f"{round(255 * min(tone * share, 1.0) ** (1 / 2.2)):02x}" for share in tint)
