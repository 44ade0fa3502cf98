"""SVG as a tree: text and attributes are escaped by construction, nothing is marked safe by hand."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from xml.sax.saxutils import escape, quoteattr

Value = str | float | int | None


class SvgText(str):
    """Finished SVG. Templates take ``__html__`` as already escaped, which building it through ``Node`` makes true."""

    def __html__(self) -> str:
        return str(self)


class Node:
    """An element with attributes and children. An attribute of None is left out; ``_`` in its name stands for ``-``."""

    def __init__(self, tag: str, *children: Node | str | None, **attributes: Value) -> None:
        self.tag = tag
        self.children: list[Node | str] = [child for child in children if child is not None]
        self.attributes = attributes

    def add(self, *children: Node | str | None) -> Node:
        """Appends children and returns the element."""
        self.children += [child for child in children if child is not None]
        return self

    def text(self) -> SvgText:
        """The element written out."""
        pieces: list[str] = []
        self._write(pieces)
        return SvgText("".join(pieces))

    def _write(self, pieces: list[str]) -> None:
        pieces.append(f"<{self.tag}")
        for name, value in self.attributes.items():
            if value is None:
                continue
            # Figures need no escaping; there are thousands of them in a drawing.
            quoted = f'"{_figure(value)}"' if isinstance(value, (int, float)) else quoteattr(value)
            pieces.append(f" {_attribute(name)}={quoted}")
        if not self.children:
            pieces.append("/>")
            return
        pieces.append(">")
        for child in self.children:
            if isinstance(child, Node):
                child._write(pieces)
            else:
                pieces.append(escape(child))
        pieces.append(f"</{self.tag}>")


@cache
def _attribute(name: str) -> str:
    return name.rstrip("_").replace("_", "-")


def _figure(value: float) -> str:
    if isinstance(value, float):
        return f"{value:.2f}".rstrip("0").rstrip(".") if value else "0"
    return str(value)


def group(*children: Node | str | None, **attributes: Value) -> Node:
    """A group."""
    return Node("g", *children, **attributes)


def line(x1: float, y1: float, x2: float, y2: float, **attributes: Value) -> Node:
    """A straight line."""
    return Node("line", x1=float(x1), y1=float(y1), x2=float(x2), y2=float(y2), **attributes)


def rect(x: float, y: float, width: float, height: float, **attributes: Value) -> Node:
    """A rectangle; a negative size is drawn as nothing."""
    return Node("rect", x=float(x), y=float(y), width=float(max(width, 0)), height=float(max(height, 0)), **attributes)


def circle(x: float, y: float, radius: float, **attributes: Value) -> Node:
    """A circle."""
    return Node("circle", cx=float(x), cy=float(y), r=float(radius), **attributes)


def polygon(points: Iterable[tuple[float, float]], **attributes: Value) -> Node:
    """A closed outline."""
    return Node("polygon", points=" ".join(f"{x:.1f},{y:.1f}" for x, y in points), **attributes)


def polyline(points: Iterable[tuple[float, float]], **attributes: Value) -> Node:
    """An open line through points."""
    return Node("polyline", points=" ".join(f"{x:.1f},{y:.1f}" for x, y in points), **attributes)


def path(steps: str, **attributes: Value) -> Node:
    """A path by its steps."""
    return Node("path", d=steps, **attributes)


def words(x: float, y: float, text: str, **attributes: Value) -> Node:
    """A line of text."""
    return Node("text", text, x=float(x), y=float(y), **attributes)


def drawing(width: float, height: float, label: str, *children: Node | str | None, **attributes: Value) -> Node:
    """The outermost element: scales to its frame; ``label`` is what a screen reader says of it."""
    return Node(
        "svg", *children, xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {width:g} {height:g}",
        role=attributes.pop("role", "group"), aria_label=label, **attributes,
    )  # fmt: skip
