"""Drawings as files of their own: the few colours and line styles that the app's style sheet gives them on the page."""

from __future__ import annotations

from uphill_lamp.drawings.svg import SvgText

STYLE = (
    "text{font-family:sans-serif;font-size:12px;fill:#22303c}.small,.label{font-size:11px;fill:#52606b}"
    ".hill-land{fill:#e9e1cf}.hill-edge{fill:none;stroke:#52606b;stroke-width:1.2}.hill-ridge{fill:none;stroke:#22303c;stroke-width:1.4;stroke-dasharray:5 4}"
    ".hill-axis{stroke:#52606b}.hill-budget{stroke:#743f87;stroke-width:1.6}.hill-now{fill:#22303c}.hill-stone circle{fill:#fdfaf2;stroke:#1f7a5c;stroke-width:3}"
    ".hill-stone.is-dear circle{stroke:#cfc4ad}.hill-flag{fill:#1f7a5c}.hill-pole{stroke:#22303c;stroke-width:1.5}"
    ".chain-box{fill:#fdfaf2;stroke:#22303c;stroke-width:1.4}.chain-box.is-host{fill:#e9e1cf}.chain-cable{fill:none;stroke:#22303c;stroke-width:2}"
    ".chain-cable.is-fault{stroke:#b0402a;stroke-dasharray:6 4}.chain-free{stroke-dasharray:2 4}.chain-tag circle{fill:#22303c}.chain-tag text{fill:#fdfaf2;font-weight:700}"
)


def styled(drawing: SvgText) -> str:
    """A drawing with its style inside."""
    head, _, rest = drawing.partition(">")
    return f"{head}><style>{STYLE}</style>{rest}"
