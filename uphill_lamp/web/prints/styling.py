"""The style that drawings have on the page, for where there is no page: the style sheet's rules with the tokens put in."""

from __future__ import annotations

import re
from functools import cache
from pathlib import Path

from uphill_lamp.drawings.svg import SvgText

STYLES = Path(__file__).resolve().parents[1] / "static" / "app"


@cache
def drawing_style() -> str:
    """The rules for drawings, as on the day sheet."""
    tokens = dict(re.findall(r"--([a-z-]+):\s*(#[0-9a-f]{3,8})", _first_root()))
    rules = re.sub(r"/\*.*?\*/", "", (STYLES / "drawings.css").read_text(), flags=re.S)
    rules = re.sub(r"@container[^{]*\{(?:[^{}]*\{[^{}]*\})*[^{}]*\}", "", rules)  # on paper there is one size
    # The light rim behind labels needs paint-order, which printers of SVG do not know: they would draw it over the words.
    rules = re.sub(r"paint-order: stroke; stroke: [^;}]+; stroke-width: [^;}]+;?( stroke-linejoin: [^;}]+;?)?", "", rules)
    return re.sub(r"var\(--([a-z-]+)\)", lambda match: tokens.get(match[1], "#22303c"), rules)


def _first_root() -> str:
    text = (STYLES / "tokens.css").read_text()
    return text[text.index(":root") : text.index("}", text.index(":root"))]


def styled(drawing: SvgText) -> SvgText:
    """A drawing with its style inside; both are our own, so that nothing in it needs escaping."""
    head, _, rest = drawing.partition(">")
    return SvgText(f"{head}><style>{drawing_style()}text{{font-family:sans-serif}}</style>{rest}")
