"""The catalogue as CSV, out and in. What comes in is a stranger's until it is proven right."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from functools import cache
from importlib import resources

from pydantic import ValidationError

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.document.faults import Fault, Refused, shown

COLUMNS = (
    "entry", "name", "role", "price", "currency", "priced_on", "mass_kg", "power_w", "ports", "needs", "attributes", "cautions",
    "minutes_once", "minutes_each_time",
)  # fmt: skip
NEEDED = COLUMNS[:6]
MOST_ROWS, MOST_BYTES, MOST_TOLD = 5000, 2_000_000, 20
RISKY = "=+-@\t\r"  # a cell that begins so is taken for a formula by spreadsheets


@cache
def shipped() -> dict[str, Kind]:
    """The kinds that ship with the app, by entry."""
    data = resources.files("uphill_lamp.core.catalogue").joinpath("kinds.csv").read_bytes()
    return {kind.entry: kind for kind in read_table(data)}


def safe_cell(text: str) -> str:
    """A cell that no spreadsheet takes for a formula."""
    return "'" + text if text[:1] and text[0] in RISKY else text


def written_table(kinds: Iterable[Kind]) -> str:
    """The kinds as CSV with a header line, comma separated."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for kind in kinds:
        writer.writerow(safe_cell(cell) for cell in cells_of(kind))
    return out.getvalue()


def cells_of(kind: Kind) -> list[str]:
    """A kind's cells in the order of the columns."""
    return [
        kind.entry, kind.name, kind.role, f"{kind.price:g}", kind.currency, kind.priced_on.isoformat(), f"{kind.mass_kg:g}", f"{kind.power_w:g}",
        " ".join(kind.ports), " ".join(kind.needs), ";".join(f"{key}={value}" for key, value in kind.attributes.items()), " ".join(kind.cautions),
        f"{kind.minutes_once:g}", f"{kind.minutes_each_time:g}",
    ]  # fmt: skip


def read_table(data: bytes) -> list[Kind]:
    """Kinds from CSV: commas or semicolons between cells, UTF-8 with or without its mark.

    Raises:
        Refused: with the row and column of everything that is wrong (the first 20); nothing is taken then.
    """
    if len(data) > MOST_BYTES:
        raise Refused([Fault("", f"a file of {len(data) / 1e6:.1f} MB", f"{MOST_BYTES / 1e6:g} MB at most")])
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused([Fault("", "text in some other encoding", "UTF-8")]) from None
    if "\0" in text:
        raise Refused([Fault("", "no text", "a table as CSV")])
    head, _, _ = text.partition("\n")
    rows = csv.reader(io.StringIO(text), delimiter=";" if head.count(";") > head.count(",") else ",")
    try:
        return _kinds(rows)
    except csv.Error as broken:
        raise Refused([Fault("", str(broken)[:120], "a table as CSV")]) from None


def _kinds(rows: Iterable[list[str]]) -> list[Kind]:
    lines = iter(rows)
    header = [cell.strip().lower() for cell in next(lines, [])]
    strange, missing = [name for name in header if name not in COLUMNS], [name for name in NEEDED if name not in header]
    if strange or missing or len(set(header)) < len(header):
        columns = f"columns {shown(', '.join(header)[:120])}"
        lack = f"; {', '.join(missing)} missing" if missing else ""
        raise Refused(
            [Fault("row 1", columns + lack, "the columns " + ", ".join(COLUMNS) + ", each once; those after the first six may be left out")]
        )
    kinds: dict[str, Kind] = {}
    faults: list[Fault] = []
    for number, cells in enumerate(lines, start=2):
        if not any(cell.strip() for cell in cells):
            continue
        if number > MOST_ROWS + 1:
            faults.append(Fault(f"row {number}", f"more than {MOST_ROWS} rows", f"{MOST_ROWS} rows at most"))
        elif len(cells) != len(header):
            faults.append(Fault(f"row {number}", f"{len(cells)} cells", f"{len(header)}, as many as the first line"))
        else:
            _take(number, dict(zip(header, cells, strict=True)), kinds, faults)
        if len(faults) >= MOST_TOLD or number > MOST_ROWS + 1:
            break
    if faults:
        raise Refused(faults)
    return list(kinds.values())


def _take(number: int, row: dict[str, str], kinds: dict[str, Kind], faults: list[Fault]) -> None:
    try:
        kind = kind_of(row)
    except ValidationError as wrong:
        for fault in wrong.errors():
            column = str(fault["loc"][0]) if fault["loc"] else "row"
            faults.append(Fault(f"row {number}, {column}", shown(row.get(column, ""))[:80], fault["msg"].removeprefix("Value error, ")))
        return
    if kind.entry in kinds:
        faults.append(Fault(f"row {number}, entry", f"{shown(kind.entry)} twice", "each entry only once"))
    kinds[kind.entry] = kind


def kind_of(row: dict[str, str], own: bool = False) -> Kind:
    """A kind from its written cells.

    Raises:
        pydantic.ValidationError: for what is not valid.
    """
    cells = {name: _unquoted(text) for name, text in row.items()}
    pairs = (pair.partition("=") for pair in cells.get("attributes", "").split(";") if pair.strip())
    made = {
        "ports": tuple(cells.get("ports", "").split()), "needs": tuple(cells.get("needs", "").split()),
        "cautions": tuple(cells.get("cautions", "").split()), "attributes": {key.strip(): value.strip() for key, _, value in pairs},
        "own": own,
    }  # fmt: skip
    figures = {name: cells[name] for name in ("mass_kg", "power_w", "minutes_once", "minutes_each_time") if cells.get(name)}
    return Kind.model_validate({name: cells[name] for name in NEEDED} | made | figures)


def _unquoted(cell: str) -> str:
    """A cell as it was before ``safe_cell``."""
    cell = cell.strip()
    return cell[1:] if cell[:1] == "'" and cell[1:2] and cell[1] in RISKY else cell
