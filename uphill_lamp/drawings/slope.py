"""The hill behind the stages: a rising line from the left foot to the right top."""

from __future__ import annotations

from uphill_lamp.drawings.svg import Node, SvgText, path

WIDTH, HEIGHT = 1280.0, 84.0


def rise(x: float) -> float:
    """Height of the line at a drawing place, from the top [units]: gentle at first, steeper at the end."""
    return HEIGHT - 10 - 52 * (x / WIDTH) ** 1.8


def hill() -> SvgText:
    """The line and the ground below it; stretched to whatever width it gets."""
    points = [(x, rise(x)) for x in range(0, int(WIDTH) + 1, 40)]
    ridge = " ".join(f"L{x},{y:.1f}" for x, y in points)
    return Node(
        "svg", path(f"M0,{HEIGHT:g} {ridge} L{WIDTH:g},{HEIGHT:g} Z", class_="hill-ground"),
        path("M" + ridge[1:], class_="hill-line", vector_effect="non-scaling-stroke"),
        xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {WIDTH:g} {HEIGHT:g}", preserveAspectRatio="none", aria_hidden="true", class_="hill",
    ).text()  # fmt: skip
