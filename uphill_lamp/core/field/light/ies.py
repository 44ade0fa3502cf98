"""Measured lamps as files: IES LM-63 read and written (1986 to 2019; type C).

A file is a few lines of words, a line TILT=, ten numbers, three more, then vertical angles, horizontal angles and candela. Numbers may
be broken over lines anywhere. Bad ones are refused by line.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator

import numpy as np

from uphill_lamp.core.document.devices import Light, Photometry
from uphill_lamp.core.document.faults import Fault, Refused, shown
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.field.light.sources import AreaSource, PointSource, lamp_source, table_flux_lm
from uphill_lamp.core.scene.vectors import UP, unit

MOST_BYTES = 2_000_000
MOST_ANGLES = 361
MOST_FLUX_LM = 20_000.0
TYPE_C = 1
_NUMBER = re.compile(r"[^\s,]+")


class _Numbers:
    """The numbers of a file in order, each with its line."""

    def __init__(self, lines: list[str], first: int) -> None:
        self._found = ((number, mark[0]) for number, line in enumerate(lines[first:], first + 1) for mark in _NUMBER.finditer(line))
        self.line, self._last = first, len(lines)

    def next(self, what: str, low: float = -1e9, high: float = 1e9) -> float:
        """The next number.

        Raises:
            Refused: with its line if it is none, out of range, or the file ends before it.
        """
        self.line, text = next(self._found, (self._last, ""))
        if not text:
            raise _refused(self._last, "the end of the file", what)
        try:
            value = float(text)
        except ValueError:
            raise _refused(self.line, shown(text), what) from None
        if not low <= value <= high:
            raise _refused(self.line, shown(text), f"{what}, {low:g} to {high:g}")
        return value

    def count(self, what: str, high: int) -> int:
        """The next number, a whole one from 1."""
        value = self.next(what, 1, high)
        if value != int(value):
            raise _refused(self.line, f"{value:g}", f"{what}, a whole number")
        return int(value)

    def rising(self, count: int, what: str, low: float, high: float) -> list[float]:
        """Angles that rise from each to the next."""
        angles: list[float] = []
        for _ in range(count):
            angle = self.next(what, low, high)
            if angles and angle <= angles[-1]:
                raise _refused(self.line, f"{angle:g} after {angles[-1]:g}", f"{what} that rise")
            angles.append(angle)
        return angles


def _refused(line: int, actual: str, expected: str) -> Refused:
    return Refused([Fault(f"line {line}", actual, expected)])


def read_ies(content: bytes) -> Photometry:
    """The candela table in a file's bytes, in candela as measured.

    Args:
        content: LM-63 text, UTF-8 or Latin-1, 2 MB at most.

    Raises:
        Refused: with the line, what was found there and what was expected.
    """
    if len(content) > MOST_BYTES:
        raise Refused([Fault("", f"a file of {len(content) / 1e6:.1f} MB", f"{MOST_BYTES / 1e6:g} MB at most")])
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    while lines and not lines[-1].strip():
        lines.pop()
    tilt = next((number for number, line in enumerate(lines) if line.strip().upper().startswith("TILT=")), None)
    if tilt is None:
        raise _refused(len(lines), "no line TILT=", "a photometric file after LM-63")
    return _table(lines, tilt)


def _table(lines: list[str], tilt: int) -> Photometry:
    numbers = _Numbers(lines, tilt + 1)
    kind = lines[tilt].strip()[5:].strip().upper()
    if kind == "INCLUDE":
        _skip_tilt(numbers)
    elif kind != "NONE":
        raise _refused(tilt + 1, shown(lines[tilt].strip()), "TILT=NONE or TILT=INCLUDE: another file cannot be opened")
    numbers.next("how many lamps", 0)
    numbers.next("lumens of a lamp, -1 for an absolute file", -1)
    scale = numbers.next("a factor for the candela", 0)
    down, round_ = numbers.count("how many vertical angles", MOST_ANGLES), numbers.count("how many horizontal angles", MOST_ANGLES)
    if numbers.next("the kind of photometry", 1, 3) != TYPE_C:
        raise _refused(numbers.line, "type A or B", "type C (1)")
    numbers.next("feet (1) or metres (2)", 1, 2)
    for side in ("width", "length", "height"):
        numbers.next(f"the {side} of what shines")
    scale *= numbers.next("the ballast factor", 0) * (numbers.next("the ballast-lamp factor", 0) or 1.0)
    numbers.next("the watts", 0)
    vertical = numbers.rising(down, "vertical angles", 0, 180)
    _check_vertical(vertical, numbers)
    horizontal = numbers.rising(round_, "horizontal angles", 0, 360)
    rows = [[numbers.next("candela, none below 0", 0) * scale for _ in vertical] for _ in horizontal]
    return _symmetrical(vertical, horizontal, rows, numbers)


def _skip_tilt(numbers: _Numbers) -> None:
    """How a lamp's output falls when it is tilted; a lamp of ours hangs as it was measured."""
    numbers.next("how the lamp sits, 1 to 3", 1, 3)
    pairs = numbers.count("how many tilt angles", MOST_ANGLES)
    for what in ("a tilt angle", "its factor"):
        for _ in range(pairs):
            numbers.next(what)


def _check_vertical(vertical: list[float], numbers: _Numbers) -> None:
    if len(vertical) < 2:
        raise _refused(numbers.line, "one vertical angle", "two or more")
    if vertical[0] not in (0.0, 90.0) or vertical[-1] not in (90.0, 180.0):
        raise _refused(numbers.line, f"vertical angles {vertical[0]:g} to {vertical[-1]:g}", "0 to 90, 0 to 180 or 90 to 180")


def _symmetrical(vertical: list[float], horizontal: list[float], rows: list[list[float]], numbers: _Numbers) -> Photometry:
    """The table by its symmetry: all round (0), a quadrant (90), a half (180), another half (90 to 270) or the whole (360)."""
    first, last = horizontal[0], horizontal[-1]
    if (first, last) == (90.0, 270.0):  # alike on both sides of the plane through 90 and 270 degrees: written out as a whole
        table = dict(zip(horizontal, rows, strict=True))
        table |= {(540 - angle) % 360: row for angle, row in list(table.items())}
        table.setdefault(0.0, table[min(table)])
        table[360.0] = table[0.0]
        horizontal, rows = sorted(table), [table[angle] for angle in sorted(table)]
    elif first != 0 or last not in (0.0, 90.0, 180.0, 360.0):
        raise _refused(numbers.line, f"horizontal angles {first:g} to {last:g}", "0, 0 to 90, 0 to 180, 0 to 360 or 90 to 270")
    # Below the first or beyond the last vertical angle nothing shines.
    return Photometry(vertical_deg=tuple(vertical), horizontal_deg=tuple(horizontal), candela=tuple(tuple(row) for row in rows))


def measured_patch(light: Light, table: Photometry) -> Patch:
    """The patch that gives a lamp a measured table: its flux comes from it, what shaped it before falls away.

    Raises:
        Refused: for a table without any light.
    """
    flux_lm = table_flux_lm(table)
    if flux_lm <= 0:
        raise Refused([Fault("", "no candela above 0", "a lamp that gives light")])
    plain = {"kind": "file", "photometry": table.model_dump(mode="json"), "flux_lm": round(min(flux_lm, MOST_FLUX_LM), 2), "beam_deg": None}
    return (replace(f"/lights/{light.id}", light.model_dump(mode="json") | plain | {"width_m": None, "height_m": None, "diffuser": None}),)


# ---- writing


def table_of(light: Light) -> Photometry:
    """What a lamp of ours throws by direction from its aim, at full power, as a table.

    A cone's edge stands between two angles a tenth of a degree apart; areas follow the cosine.
    """
    full = light.model_copy(update={"on": True, "dim": 1.0})
    source = lamp_source(full)
    if source is None:
        return Photometry(vertical_deg=(0.0, 180.0), horizontal_deg=(0.0,), candela=((0.0, 0.0),))
    if isinstance(source, PointSource) and source.photometry is not None:
        table = source.photometry
        rows = tuple(tuple(value * source.table_scale for value in row) for row in table.candela)
        return table.model_copy(update={"candela": rows})
    angles = sorted({*np.arange(0.0, 181.0, 2.5).tolist(), *_edges(light)})
    return Photometry(vertical_deg=tuple(angles), horizontal_deg=(0.0,), candela=(tuple(_along(source, angle) for angle in angles),))


def _edges(light: Light) -> Iterator[float]:
    if light.kind == "cone" and light.diffuser is None and light.beam_deg is not None and light.beam_deg < 360:
        yield from (light.beam_deg / 2 - 0.05, light.beam_deg / 2 + 0.05)


def _along(source: PointSource | AreaSource, angle_deg: float) -> float:
    turn = math.radians(angle_deg)
    if isinstance(source, AreaSource):
        return source.flux_lm / math.pi * max(math.cos(turn), 0.0)
    aside = unit(np.cross(source.aim, UP if abs(source.aim[2]) < 0.9 else np.array([1.0, 0.0, 0.0])))
    return float(source.intensity_cd(math.cos(turn) * source.aim + math.sin(turn) * aside))


def written_ies(light: Light) -> str:
    """A lamp of ours as an LM-63-2019 file, absolute, in metres."""
    table = table_of(light)
    name = "".join(mark if mark.isascii() and mark.isprintable() else "?" for mark in light.name)
    wide, high = light.width_m or 0.0, light.height_m or light.width_m or 0.0
    lines = [
        "IES:LM-63-2019", "[TEST] computed, not measured", "[MANUFAC] Uphill Lamp", f"[LUMINAIRE] {name[:70]}", f"[_COLOUR_K] {light.cct_k:g}", "TILT=NONE",
        f"1 -1 1 {len(table.vertical_deg)} {len(table.horizontal_deg)} {TYPE_C} 2 {wide:g} {high:g} 0", "1 1 0",
        *_wrapped(table.vertical_deg), *_wrapped(table.horizontal_deg),
    ]  # fmt: skip
    for row in table.candela:
        lines += _wrapped(row)
    return "\r\n".join(lines) + "\r\n"


def _wrapped(values: Iterable[float]) -> list[str]:
    """Numbers ten to a line."""
    texts = [f"{value:.4f}".rstrip("0").rstrip(".") for value in values]
    return [" ".join(texts[at : at + 10]) for at in range(0, len(texts), 10)]
