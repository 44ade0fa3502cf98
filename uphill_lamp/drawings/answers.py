"""The quick start's drawn answers: one small sketch for each."""

from __future__ import annotations

from uphill_lamp.drawings.kinds import SKETCHES
from uphill_lamp.drawings.svg import Node, SvgText, circle, group, line, path, polygon, rect, words

WIDTH, HEIGHT = 120.0, 80.0


def answer(question: str, key: str) -> SvgText:
    """The sketch of an answer; decoration only, the words stand below it."""
    makers = {"camera": _camera, "height": _height, "distance": _distance, "window": _window, "when": _when, "lamps": _lamps,
              "speak": _speak, "hear": _hear, "behind": _behind, "budget": _budget, "depth": _depth, "quiet": _quiet}  # fmt: skip
    drawn = makers[question](key) if question in makers else _plain(question, key)
    return Node("svg", *drawn, xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {WIDTH:g} {HEIGHT:g}", class_="answer-sketch",
                aria_hidden="true").text()  # fmt: skip


def _head(x: float, y: float, size: float = 11) -> Node:
    """A head from the side, looking left, with shoulders."""
    return group(
        Node("ellipse", cx=x, cy=y, rx=size * 0.85, ry=size, class_="head"), path(f"M{x - size * 0.8:.1f},{y - 1:.1f} l-3,4 l3,1", class_="ink"),
        path(f"M{x + 1:.1f},{y + size:.1f} v5 q12,2 13,{70 - y - size:.1f}", class_="ink"),
    )  # fmt: skip


def _laptop(x: float, y: float) -> Node:
    return group(
        line(x, y, x - 7, y - 20, class_="ink thick"),
        line(x, y, x + 20, y, class_="ink thick"),
        circle(x - 7, y - 20, 2.6, class_="camera"),
    )


def _table(y: float = 62) -> Node:
    return group(line(8, y, 70, y, class_="ink thick"), line(14, y, 14, 78, class_="ink"), line(64, y, 64, 78, class_="ink"))


def _camera(key: str) -> list[Node]:
    if key == "laptop":
        return [_table(), _laptop(36, 60), _head(92, 30)]
    if key == "webcam":
        return [
            _table(),
            rect(30, 22, 4, 30, class_="ink-fill"),
            line(32, 52, 32, 62, class_="ink"),
            circle(32, 17, 4, class_="camera"),
            _head(92, 30),
        ]
    return [_table(), rect(34, 24, 5, 16, rx=1.5, class_="ink-fill"), line(36, 40, 36, 62, class_="ink"), path("M28,62 h16", class_="ink thick"),
            circle(34, 27, 2.4, class_="camera"), _head(92, 30)]  # fmt: skip


def _height(key: str) -> list[Node]:
    lens = {"far_below": 62, "below": 48, "level": 29, "above": 14}[key]
    return [
        line(20, 29, 84, 29, class_="dash"),
        circle(26, lens, 4.5, class_="camera"),
        line(30, lens, 84, 29, class_="gaze"),
        _head(96, 30),
    ]


def _distance(key: str) -> list[Node]:
    at = {"near": 66, "arm": 42, "far": 14}[key]
    return [circle(at, 29, 4.5, class_="camera"), line(at + 6, 48, 88, 48, class_="ink"), line(at + 6, 44, at + 6, 52, class_="ink"),
            line(88, 44, 88, 52, class_="ink"), _head(98, 30)]  # fmt: skip


def _top_view() -> Node:
    """A sitter from above, facing up, at a desk."""
    return group(rect(42, 22, 36, 13, class_="desk"), Node("ellipse", cx=60, cy=52, rx=15, ry=6, class_="shoulders"),
                 Node("ellipse", cx=60, cy=50, rx=7, ry=8, class_="head"), path("M57,43 L60,39 L63,43", class_="ink"))  # fmt: skip


def _window(key: str) -> list[Node]:
    room = rect(22, 5, 76, 70, class_="room")
    panes = {"front": (45, 5, 75, 5), "behind": (45, 75, 75, 75), "left": (22, 22, 22, 52), "right": (98, 22, 98, 52)}
    light = {"front": [(45, 6), (75, 6), (82, 30), (38, 30)], "behind": [(45, 74), (75, 74), (80, 60), (40, 60)],
             "left": [(23, 22), (23, 52), (44, 60), (44, 16)], "right": [(97, 22), (97, 52), (76, 60), (76, 16)]}  # fmt: skip
    if key == "none":
        return [room, _top_view()]
    return [polygon(light[key], class_="daylight"), room, line(*panes[key], class_="pane"), _top_view()]


def _when(key: str) -> list[Node]:
    frame = group(rect(35, 12, 50, 56, class_="room"), line(60, 12, 60, 68, class_="ink"), line(35, 40, 85, 40, class_="ink"))
    if key == "bright":
        rays = [
            line(60 + 13 * dx, 33 + 13 * dy, 60 + 18 * dx, 33 + 18 * dy, class_="ray")
            for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1), (0.7, 0.7), (-0.7, 0.7), (0.7, -0.7), (-0.7, -0.7))
        ]
        return [rect(35, 12, 50, 56, class_="sky"), circle(60, 33, 9, class_="lamp is-on"), *rays, frame]
    if key == "dull":
        return [
            rect(35, 12, 50, 56, class_="sky"),
            path("M44,40 a8,8 0 0 1 4,-15 a11,11 0 0 1 20,0 a8,8 0 0 1 6,15 Z", class_="cloud"),
            frame,
        ]
    return [rect(35, 12, 50, 56, class_="night"), path("M66,22 a12,12 0 1 0 6,19 a10,10 0 0 1 -6,-19", class_="moon"), frame]


def _lamps(key: str) -> list[Node]:
    if key == "ceiling":
        return [
            line(60, 4, 60, 16, class_="ink"),
            polygon([(46, 28), (52, 16), (68, 16), (74, 28)], class_="lamp is-on"),
            polygon([(46, 29), (74, 29), (92, 62), (28, 62)], class_="glow"),
            _head_front(60, 56),
        ]
    if key == "nothing":
        return [
            path("M46,30 L54,16 h12 L74,30 Z", class_="ink"),
            line(60, 4, 60, 16, class_="ink"),
            line(42, 34, 78, 10, class_="ink thick"),
            _head_front(60, 56),
        ]
    x, way = (24, 1) if key == "desk_left" else (96, -1)
    # The sketch shows the presenter from the front, so their left is on the right of it.
    x, way = 120 - x, -way
    return [path(f"M{x},74 v-30 l{10 * way},-14", class_="ink thick"), polygon([(x + 4 * way, 30), (x + 16 * way, 24), (x + 20 * way, 38)],
        class_="lamp is-on"),
            polygon([(x + 16 * way, 26), (x + 20 * way, 38), (60 + 4 * way, 58), (60 + 4 * way, 34)], class_="glow"), _head_front(60, 42)]  # fmt: skip


def _head_front(x: float, y: float) -> Node:
    return group(Node("ellipse", cx=x, cy=y, rx=10, ry=13, class_="head"), circle(x - 3.6, y - 1.5, 1.2, class_="ink-fill"), circle(x + 3.6,
        y - 1.5, 1.2, class_="ink-fill"),
                 path(f"M{x - 3.5},{y + 6} q3.5,2.4 7,0", class_="ink"), path(f"M{x - 22},80 q3,-17 22,-18 q19,1 22,18", class_="ink"))  # fmt: skip


def _speak(key: str) -> list[Node]:
    face = _head_front(60, 34)
    if key == "device":
        return [_head_front(84, 34), _table(), _laptop(30, 60), path("M34,34 q4,5 0,10 M40,30 q7,9 0,18", class_="voice")]
    if key == "earbuds":
        return [face, path("M50,34 q-4,18 4,32 M70,34 q4,18 -4,32", class_="voice"), rect(51, 50, 4, 9, rx=2, class_="voice-fill")]
    if key == "headset":
        return [face, path("M49,32 a11,13 0 0 1 22,0", class_="voice thick"), rect(46, 30, 5, 10, rx=2, class_="voice-fill"),
            path("M49,40 q0,8 7,7", class_="voice"),
                circle(57, 46, 2, class_="voice-fill")]  # fmt: skip
    return [
        face,
        path("M94,70 v-22 M84,70 h20", class_="ink thick"),
        rect(89, 34, 10, 16, rx=5, class_="voice-fill"),
        path("M84,36 q-4,6 0,12 M79,34 q-6,8 0,16", class_="voice"),
    ]


def _hear(key: str) -> list[Node]:
    face = _head_front(60, 36)
    if key == "headphones":
        return [
            face,
            path("M48,36 a12,15 0 0 1 24,0", class_="voice thick"),
            rect(44, 32, 6, 12, rx=3, class_="voice-fill"),
            rect(70, 32, 6, 12, rx=3, class_="voice-fill"),
        ]
    return [face, rect(8, 44, 12, 22, rx=2, class_="ink-fill"), rect(100, 44, 12, 22, rx=2, class_="ink-fill"),
        path("M26,48 q5,7 0,14 M32,44 q8,11 0,22", class_="voice"),
            path("M94,48 q-5,7 0,14 M88,44 q-8,11 0,22", class_="voice")]  # fmt: skip


def _behind(key: str) -> list[Node]:
    if key == "wall":
        return [line(112, 4, 112, 78, class_="ink thick"), _head(90, 32)]
    if key == "room":
        return [line(114, 4, 114, 78, class_="ink thick"), path("M58,60 H110 M104,56 l6,4 l-6,4", class_="dash"), _head(40, 32)]
    if key == "shelf":
        shelf = [rect(20, 10, 80, 60, class_="room"), line(20, 40, 100, 40, class_="ink")]
        books = [rect(25 + 9 * n, 18 + (n * 5) % 9, 6, 22 - (n * 5) % 9, class_="book") for n in range(8)] + [
            rect(25 + 9 * n, 48 + (n * 7) % 9, 6, 22 - (n * 7) % 9, class_="book") for n in range(8)
        ]
        return [*shelf, *books]
    return [
        path("M12,62 v-28 M12,50 h92 v12 M104,62 v-8", class_="ink thick"),
        rect(18, 40, 24, 10, rx=4, class_="cloud"),
        rect(44, 42, 58, 9, rx=3, class_="sky"),
    ]


def _budget(key: str) -> list[Node]:
    if key == "none":
        return [circle(60, 42, 16, class_="coin"), line(44, 58, 76, 26, class_="ink thick")]
    count = {"little": 1, "some": 2, "more": 5}[key]
    coins = [circle(60 + 13 * (n - (count - 1) / 2), 42 - 3 * (n % 2), 13, class_="coin") for n in range(count)]
    return [*coins, words(60, 74, {"little": "30", "some": "60", "more": "150"}[key], class_="small", text_anchor="middle")]


def _depth(key: str) -> list[Node]:
    wall = {"close": 104, "some": 86, "much": 64}[key]
    head = wall - {"close": 22, "some": 42, "much": 44}[key]
    return [
        line(wall + 8, 8, wall + 8, 74, class_="ink thick"),
        _head(head, 34),
        line(head + 16, 66, wall + 5, 66, class_="dash"),
        line(head + 16, 62, head + 16, 70, class_="ink"),
    ]


def _quiet(key: str) -> list[Node]:
    waves = {"quiet": 0, "usual": 1, "street": 3}[key]
    arcs = [path(f"M{40 - 8 * n},{30 - 5 * n} q{-8 - 3 * n},{12 + 5 * n} 0,{24 + 10 * n}", class_="ink") for n in range(waves)]
    return [_head(78, 36), *arcs]


_PLAIN: dict[str, str] = {
    "use.live": "M8,6 h12 v10 h-12 z M28,6 h12 v10 h-12 z M8,20 h12 v10 h-12 z M28,20 h12 v10 h-12 z M14,9 a2,2 0 1 0 .1,0 M34,9 a2,2 0 1 0 .1,0",
    "use.audience": "M18,3 h12 v9 h-12 z M8,20 a2.5,2.5 0 1 0 .1,0 M18,20 a2.5,2.5 0 1 0 .1,0 M28,20 a2.5,2.5 0 1 0 .1,0 M38,20 a2.5,2.5 0 1 0 .1,0 "
                    "M13,28 a2.5,2.5 0 1 0 .1,0 M23,28 a2.5,2.5 0 1 0 .1,0 M33,28 a2.5,2.5 0 1 0 .1,0",
    "use.recorded": "M4,8 h40 v20 h-40 z M4,13 h40 M4,23 h40 M10,8 v5 M20,8 v5 M30,8 v5 M10,23 v5 M20,23 v5 M30,23 v5 M24,15 a3,3 0 1 0 .1,0",
    "talk.device_loud": "M10,6 h28 v18 h-28 z M5,30 h38 M24,9 h.1 M40,12 q3,4 0,8 M44,9 q5,7 0,14",
    "talk.device_phones": "M14,14 h20 v12 h-20 z M10,30 h28 M8,20 v-6 a16,12 0 0 1 32,0 v6 M6,18 h4 v8 h-4 z M38,18 h4 v8 h-4 z",
    "talk.desk_loud": "M15,4 h9 v13 h-9 z M19.5,17 v10 M12,32 l7.5,-5 l7.5,5 M36,12 q3,4 0,8 M40,9 q5,7 0,14",
    "talk.desk_phones": "M30,4 h9 v13 h-9 z M34.5,17 v10 M27,32 l7.5,-5 l7.5,5 M4,20 v-5 a9,9 0 0 1 18,0 v5 M2,18 h4 v8 h-4 z M20,18 h4 v8 h-4 z",
    "drawer.books": "M8,26 h32 v6 h-32 z M10,19 h28 v7 h-28 z M8,11 h30 v8 h-30 z",
    "drawer.tabletop_tripod": "M18,4 h12 v8 h-12 z M24,12 v8 M24,20 l-10,12 M24,20 l10,12 M24,20 v12",
    "room.small_bare": "M12,6 h24 v24 h-24 z",
    "room.small_furnished": "M12,6 h24 v24 h-24 z M15,9 h8 v6 h-8 z M16,20 h16 v7 h-16 z M27,9 h6 v7 h-6 z",
    "room.large_bare": "M3,3 h42 v30 h-42 z",
    "room.large_furnished": "M3,3 h42 v30 h-42 z M6,6 h10 v8 h-10 z M20,6 h22 v5 h-22 z M10,20 h18 v9 h-18 z M34,18 h8 v10 h-8 z",
    "glasses.none": "M24,4 a13,14 0 1 0 .1,0 M19,17 h.1 M29,17 h.1 M20,25 q4,3 8,0",
    "glasses.plain": "M24,4 a13,14 0 1 0 .1,0 M15,15 h7 v5 h-7 z M26,15 h7 v5 h-7 z M22,17 h4 M20,26 q4,3 8,0",
    "glasses.anti_reflective": "M6,14 h14 v9 h-14 z M28,14 h14 v9 h-14 z M20,17 h8 M9,20 l4,-4 M31,20 l4,-4",
}  # fmt: skip
_AS_KIND = {"talk.earbuds": "microphones.earbuds", "talk.headset": "microphones.headset", "drawer.old_phone": "cameras.phone_rear",
            "drawer.earbuds_cord": "microphones.earbuds", "drawer.wired_headset": "microphones.headset", "drawer.desk_lamp": "lights.desk_lamp",
            "drawer.white_sheet": "reflectors.sheet"}  # fmt: skip


def _plain(question: str, key: str) -> list[Node]:
    """A sketch of one stroke, as the kinds of things are drawn."""
    name = f"{question}.{key}"
    drawn = _PLAIN.get(name) or SKETCHES[_AS_KIND[name]]
    return [group(path(drawn, class_="ink"), transform="translate(12 4) scale(2)")]
