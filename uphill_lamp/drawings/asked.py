"""The bench's questions drawn: one small sketch for each answer."""

from __future__ import annotations

from uphill_lamp.drawings.answers import HEIGHT, WIDTH
from uphill_lamp.drawings.svg import Node, SvgText, circle, line, path, rect

HEAD_Y = {"cut": 12.0, "high": 27.0, "middle": 42.0, "low": 59.0}  # where the head's middle is drawn
WINDOWS = {  # left, top, width, height of the drawn window
    "whole": (22, 10, 76, 50), "top": (46, 10, 28, 18), "middle": (46, 26, 28, 18), "low": (46, 42, 28, 18),
    "left": (22, 10, 38, 50), "right": (60, 10, 38, 50),
}  # fmt: skip
APART = {"hand": 22.0, "forearm": 48.0, "arm": 74.0}


def sketch(question: str, key: str) -> SvgText:
    """The sketch of an answer; decoration only, the words stand below it."""
    drawn = {"head": _head, "window": _window, "microphone": _microphone}[question](key)
    return Node("svg", *drawn, xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {WIDTH:g} {HEIGHT:g}", class_="answer-sketch",
                aria_hidden="true").text()  # fmt: skip


def _head(key: str) -> list[Node]:
    """A picture with a head and shoulders in it, cut by its edges."""
    y = HEAD_Y[key]
    name = f"asked-{key}"
    shown = Node("g", Node("ellipse", cx=60, cy=y, rx=11, ry=14, class_="head"),
                 path(f"M30,{y + 42:g} q2,-24 22,-25 h16 q20,1 22,25 v30 h-60 Z", class_="shoulders"), clip_path=f"url(#{name})")  # fmt: skip
    return [Node("clipPath", rect(12, 8, 96, 64), id=name), rect(12, 8, 96, 64, class_="glass"), shown, rect(12, 8, 96, 64, class_="ink")]


def _window(key: str) -> list[Node]:
    """A screen with its lens, and the window on it."""
    left, top, width, height = WINDOWS[key]
    return [rect(22, 10, 76, 50, class_="ink thick"), circle(60, 5, 2.6, class_="camera"), line(60, 60, 60, 70, class_="ink"),
            line(42, 70, 78, 70, class_="ink thick"), rect(left, top, width, height, class_="sky"),
            Node("ellipse", cx=left + width / 2, cy=top + height * 0.42, rx=4, ry=5, class_="head")]  # fmt: skip


def _microphone(key: str) -> list[Node]:
    """A head from the side and a microphone before it."""
    x = 100 - APART[key] - 10
    return [Node("ellipse", cx=102, cy=34, rx=10, ry=13, class_="head"), path("M93,33 l-3,4 l3,1", class_="ink"),
            path("M103,47 v5 q12,2 13,22", class_="ink"), rect(x - 4, 28, 8, 16, rx=4, class_="voice-fill"), line(x, 44, x, 70, class_="ink"),
            line(x - 10, 70, x + 10, 70, class_="ink thick"), line(x + 6, 58, 92, 58, class_="dash")]  # fmt: skip
