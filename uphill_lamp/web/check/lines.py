"""Lines of the sheet in words and figures of the page."""

from __future__ import annotations

from typing import Any

import numpy as np

from uphill_lamp.core.check.sheet import ROWS, Line
from uphill_lamp.web.check.models import Take

STATES = {"off": "differs", "as planned": "as planned", "alone": "measured alone", "refused": "cannot be told"}


YES_NO = {True: "yes", False: "no"}


def asks(line: Line) -> bool:
    """Whether a figure is a yes or a no."""
    return line.id == "clip.shake_by_keys" and line.measured is not None


def shown(line: Line) -> dict[str, Any]:
    """What the page shows of a line."""
    measured = YES_NO[bool(line.measured)] if asks(line) else told(line.measured, line.unit)
    return {
        "line": line, "state": STATES[line.state], "measured": measured, "expected": told(line.expected, line.unit),
        "within": told(line.tolerance, line.unit) if line.tolerance and isinstance(line.measured, float) else "",
        "difference": _signed(line), "good": told(line.good, line.unit) if isinstance(line.good, float) else "",
    }  # fmt: skip


def sent_lines(take: Take) -> list[dict[str, str]]:
    """What of the sound a call's own processing changes: as it comes, and as it is sent."""
    plain = {figure["id"]: figure for figure in take.report["figures"]}
    rows = []
    for figure in take.report.get("sent", []):
        before = plain.get(figure["id"])
        rows.append({"label": ROWS[figure["id"]].label, "plain": _told(before) if before else "–", "sent": _told(figure)})
    return rows


def _told(figure: dict[str, Any]) -> str:
    return told(figure["value"], figure["unit"]) or figure["refused"]


NAMES = {"left_eye": "Your left eye", "right_eye": "Your right eye", "chin": "Chin", "crown": "Top of the head", "paper": "White paper"}
# Where marks stand before anybody has put them, as shares of the picture; left is the presenter's own.
AT_FIRST = {"left_eye": (0.56, 0.4), "right_eye": (0.44, 0.4), "chin": (0.5, 0.62), "crown": (0.5, 0.2), "paper": (0.5, 0.85)}


def marked(take: Take | None) -> dict[str, Any]:
    """Marks on a take's picture for the page, with its size in px."""
    size = take.report.get("size", [1, 1]) if take else [1, 1]
    there = take.report["marks"] if take else {}
    marks = []
    for name, label in NAMES.items():
        x, y = there.get(name) or (AT_FIRST[name][0] * size[0], AT_FIRST[name][1] * size[1])
        asked = name == "paper" and name not in there  # it is put in by a button
        says = f"{label}: drag it, or move it by the arrow keys"
        marks.append(
            {
                "name": name,
                "label": label,
                "says": says,
                "at": f"translate({x:.1f} {y:.1f})",
                "place": "" if asked else f"{x:.1f} {y:.1f}",
                "hides": "data-asked hidden" if asked else "",
            }
        )
    return {"marks": marks, "size": size, "ring": f"{size[0] / 110:.1f}", "grip": f"{size[0] / 40:.1f}"}


def beside(take: Take | None, good: Take | None, address: str, planned: str, aspect: float) -> dict[str, Any]:
    """What is shown beside a take's picture behind the dividing line: a good take put so that the eyes lie on the eyes, or the plan.

    Args:
        address: of the good take's picture; planned: of the plan's.
        aspect: of the plan's picture.
    """
    if take is None or not take.preview:
        return {}
    wide, high = take.report.get("size", [1, 1])
    there = {"middle": wide / 2, "width": wide, "height": high, "placed": "", "address": planned, "label": "the plan",
             "says": "Your picture, and what the plan expects, parted by a line"}  # fmt: skip
    if good is None or not good.preview:
        width = max(wide, high * aspect)
        return there | {
            "width": width,
            "height": width / aspect,
            "placed": f"translate({(wide - width) / 2:.1f} {(high - width / aspect) / 2:.1f})",
        }
    other_wide, other_high = good.report.get("size", [1, 1])
    return there | {"width": other_wide, "height": other_high, "address": address, "label": "the last good one", "placed": _on_eyes(take, good),
                    "says": "Your picture, and the last good one, parted by a line"}  # fmt: skip


def _on_eyes(take: Take, good: Take) -> str:
    """How a good take's picture is moved and scaled so that its eyes lie on this one's; as it is where either has no marks."""
    pairs = [
        [np.array(marks[name], float) for name in ("left_eye", "right_eye")]
        for marks in (take.report["marks"], good.report["marks"])
        if marks
    ]
    if len(pairs) < 2:
        return ""
    (left, right), (other_left, other_right) = pairs
    apart = float(np.linalg.norm(other_left - other_right))
    scale = float(np.linalg.norm(left - right)) / apart if apart else 1.0
    at = (left + right) / 2 - scale * (other_left + other_right) / 2
    return f"translate({at[0]:.1f} {at[1]:.1f}) scale({scale:.4f})"


def _signed(line: Line) -> str:
    difference = line.difference
    if difference is None:
        return ""
    return ("+" if difference >= 0 else "−") + told(abs(difference), line.unit)


def told(value: Any, unit: str) -> str:
    """A figure with its unit, as precisely as it is measured."""
    if value is None:
        return ""
    if isinstance(value, list):
        return ", ".join(filter(None, map(_part, value))) or "none"
    if unit == "share":
        return f"{100 * value:.1f} %"
    if not unit and float(value).is_integer():
        return f"{value:.0f}"
    figure = f"{value:.0f}" if abs(value) >= 100 else f"{value:.1f}" if abs(value) >= 3 else f"{value:.2f}"
    figure = figure.replace("-", "" if not float(figure) else "−")
    return f"{figure}°" if unit == "deg" else f"{figure} {unit}".strip()


def _part(part: Any) -> str:
    if isinstance(part, dict) and "db" in part:
        return "" if part["db"] is None else f"{part['hz']:.0f} Hz {part['db']:+.0f}".replace("-", "−")
    if isinstance(part, dict):
        return (
            f"{part['hz']:.0f} Hz at {part['dbfs']:.0f} dBFS".replace("-", "−")
            if "dbfs" in part
            else f"{part.get('s')} s at {part['hz']:.0f} Hz"
        )
    return f"{part:.0f}" if float(part).is_integer() and part < 20 else f"{part:.2f} s"
