"""How much of the voice arrives at each pitch: one column an octave."""

from __future__ import annotations

from uphill_lamp.core.field.sound.capsule import Heard
from uphill_lamp.drawings.svg import Node, SvgText, line, rect, words

BANDS = ("125", "250", "500", "1k", "2k", "4k", "8k")
SPOKEN = ("125 Hz", "250 Hz", "500 Hz", "1000 Hz", "2000 Hz", "4000 Hz", "8000 Hz")
WIDE, HIGH, STEP, FOOT = 98.0, 30.0, 14.0, 24.0
WIDE_STEP, LABELLED_HIGH = 26.0, 62.0


def octave_bars(heard: Heard) -> SvgText:
    """Small columns without words, for a table's row."""
    parts: list[Node] = [line(0, FOOT, WIDE, FOOT, class_="octave-ground")]
    for index, share in enumerate(heard.octave_indices):
        parts.append(rect(index * STEP + 2, FOOT - share * (FOOT - 2), STEP - 4, max(share * (FOOT - 2), 0.5), class_="octave-bar"))
    return _drawn(parts, WIDE, HIGH - 4, heard, "octaves")


def octave_chart(heard: Heard) -> SvgText:
    """Columns with their pitches, for the bench."""
    foot, high = 46.0, 40.0
    wide = 7 * WIDE_STEP + 6
    parts: list[Node] = [line(0, foot - high, wide, foot - high, class_="octave-line"), line(0, foot, wide, foot, class_="octave-ground")]
    for index, share in enumerate(heard.octave_indices):
        x = 3 + index * WIDE_STEP
        parts.append(rect(x + 4, foot - share * high, WIDE_STEP - 8, max(share * high, 0.7), class_="octave-bar"))
        parts.append(words(x + WIDE_STEP / 2, foot + 13, BANDS[index], class_="octave-word", text_anchor="middle"))
    return _drawn(parts, wide, LABELLED_HIGH, heard, "octaves is-labelled")


def _drawn(parts: list[Node], wide: float, high: float, heard: Heard, kind: str) -> SvgText:
    phrase = ", ".join(f"{name} {100 * share:.0f} %" for name, share in zip(SPOKEN, heard.octave_indices, strict=True))
    return Node("svg", Node("title", f"Clarity by pitch: {phrase}"), *parts, xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {wide:g} {high:g}",
                role="img", class_=kind).text()  # fmt: skip
