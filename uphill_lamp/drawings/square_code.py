"""An address as a square code that a phone's camera reads (ISO/IEC 18004)."""

from __future__ import annotations

from uphill_lamp.drawings.svg import Node, SvgText, drawing, path, rect

QUIET = 4  # modules of white round it that readers ask for


def square_code(text: str, label: str) -> SvgText:
    """The code, dark on white in any theme, for that is what readers look for.

    Args:
        label: what a screen reader says of it.
    """
    import segno  # late: asked for by one panel alone

    rows = [list(row) for row in segno.make(text, error="m", micro=False).matrix]
    side = len(rows) + 2 * QUIET
    steps = "".join(f"M{x + QUIET} {y + QUIET}h1v1h-1z" for y, row in enumerate(rows) for x, dark in enumerate(row) if dark)
    children: tuple[Node, ...] = (rect(0, 0, side, side, fill="#fff"), path(steps, fill="#000", shape_rendering="crispEdges"))
    return drawing(side, side, label, *children, role="img", class_="square-code").text()
