"""The log as a table (CSV): one row a use; read back with what is wrong told by its line."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable, Iterator, Mapping
from datetime import date

from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.session.learning import Use

HEAD = ("day", "well", "wrong", "retakes", "ready_min", "unused", "words")
MOST_ROWS, MOST_BYTES = 2000, 1_000_000
MOST_WORDS, MOST_WRONG, MOST_RETAKES, MOST_READY_MIN = 200, 20, 999, 600.0
APART = "; "


def rows_of(uses: Iterable[Use]) -> Iterator[tuple[str, ...]]:
    """The head, and a row for each use."""
    yield HEAD
    for use in uses:
        ready = "" if use.ready_min is None else f"{use.ready_min:g}"
        yield (
            use.day.isoformat(),
            "yes" if use.well else "no",
            APART.join(use.wrong),
            str(use.retakes),
            ready,
            APART.join(use.unused),
            use.words,
        )


def uses_of(data: bytes) -> tuple[Use, ...]:
    """Uses from such a table.

    Raises:
        Refused: with the line of each cell that is wrong; nothing of it is taken then.
    """
    if len(data) > MOST_BYTES:
        raise Refused([Fault("", f"{len(data) / 1e6:.1f} MB", f"{MOST_BYTES / 1e6:g} MB at most")])
    try:
        text = data.decode("utf-8-sig")
        table = list(csv.reader(io.StringIO(text, newline="")))
    except (UnicodeDecodeError, csv.Error):
        raise Refused([Fault("", "no table", "a CSV file in UTF-8, as the app writes it")]) from None
    if not table or tuple(cell.strip() for cell in table[0]) != HEAD:
        raise Refused([Fault("line 1", ", ".join(table[0])[:60] if table else "nothing", ", ".join(HEAD))])
    if len(table) - 1 > MOST_ROWS:
        raise Refused([Fault("", f"{len(table) - 1} rows", f"{MOST_ROWS} at most")])
    uses, faults = [], list[Fault]()
    for number, row in enumerate(table[1:], start=2):
        if not any(cell.strip() for cell in row):
            continue
        if len(row) != len(HEAD):
            faults.append(Fault(f"line {number}", f"{len(row)} cells", f"{len(HEAD)} cells"))
            continue
        try:
            uses.append(use_of(dict(zip(HEAD, row, strict=True)), f"line {number}, "))
        except Refused as wrong:
            faults += wrong.faults
    if faults:
        raise Refused(faults[:20])
    return tuple(uses)


def use_of(typed: Mapping[str, str], where: str = "") -> Use:
    """One use from its cells by the head's names.

    Args:
        where: said before the name of a cell that is wrong.

    Raises:
        Refused: with each cell that is wrong.
    """
    cells = {name: _plain(typed.get(name, "")) for name in HEAD}
    faults, day = [], _day(cells["day"])
    if day is None:
        faults.append(Fault(f"{where}day", cells["day"][:40] or "nothing", "a day such as 2026-11-24"))
    if cells["well"].lower() not in ("yes", "no"):
        faults.append(Fault(f"{where}well", cells["well"][:40] or "nothing", "yes or no"))
    retakes, ready = _figure(cells["retakes"] or "0", MOST_RETAKES), _figure(cells["ready_min"], MOST_READY_MIN)
    if retakes is None or retakes != int(retakes):
        faults.append(Fault(f"{where}retakes", cells["retakes"][:40], f"a whole number from 0 to {MOST_RETAKES}"))
    if cells["ready_min"] and ready is None:
        faults.append(Fault(f"{where}ready_min", cells["ready_min"][:40], f"minutes from 0 to {MOST_READY_MIN:g}, or nothing"))
    if faults or day is None:
        raise Refused(faults)
    wrong, unused = (_parts(cells[name]) for name in ("wrong", "unused"))
    return Use(day, cells["well"].lower() == "yes", wrong, int(retakes or 0), ready, unused=unused, words=cells["words"][:MOST_WORDS])


def _parts(cell: str) -> tuple[str, ...]:
    return tuple(part.strip()[:80] for part in cell.split(APART.strip()) if part.strip())[:MOST_WRONG]


def _plain(cell: str) -> str:
    """A cell without what keeps spreadsheets from taking it for a formula, and without what cannot be shown."""
    cell = cell[1:] if cell[:1] == "'" and cell[1:2] in "=+-@\t\r" else cell
    return "".join(letter for letter in cell if letter.isprintable()).strip()


def _day(text: str) -> date | None:
    try:
        day = date.fromisoformat(text)
    except ValueError:
        return None
    return day if 1900 <= day.year <= 2100 else None


def _figure(text: str, most: float) -> float | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return value if math.isfinite(value) and 0 <= value <= most else None
