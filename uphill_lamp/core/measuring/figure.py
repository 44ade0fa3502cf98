"""A figure that was measured: its value, how far off it may be, how sure it is, or why it is refused."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

METHOD = 3  # goes up whenever the same picture or sound would give other figures
FORMAT, VERSION = "uphill-lamp/measures", 1

Sureness = Literal["sure", "fair", "rough"]
Value = float | list[Any] | None


@dataclass(frozen=True)
class Figure:
    """One figure.

    Args:
        id: such as ``sound.snr_db``.
        value: a figure, or a list of them; None where it is refused.
        unit: of the value; nothing for lists that name their own.
        tolerance: how far off it may be, in its unit; None where that has no meaning.
        sureness: sure within the tolerance; fair: next to always; rough: to go by, not to build on.
        refused: why there is no value.
    """

    id: str
    value: Value
    unit: str = ""
    tolerance: float | None = None
    sureness: Sureness = "sure"
    refused: str = ""

    def data(self) -> dict[str, Any]:
        """As it is written to a file."""
        return {"id": self.id, "value": _rounded(self.value), "unit": self.unit, "tolerance": self.tolerance,
                "sureness": self.sureness, "refused": self.refused}  # fmt: skip


def refused(name: str, why: str, unit: str = "") -> Figure:
    """A figure that is not to be had, with the reason."""
    return Figure(name, None, unit, refused=why)


def report(kind: str, figures: Iterable[Figure], marks: dict[str, Any] | None = None, notes: Iterable[str] = ()) -> dict[str, Any]:
    """All figures of a picture or a sound, as they are written to a file (docs/measures.schema.json)."""
    return {"format": FORMAT, "version": VERSION, "method": METHOD, "kind": kind, "figures": [figure.data() for figure in figures],
            "marks": marks or {}, "notes": list(notes)}  # fmt: skip


def _rounded(value: Any) -> Any:
    if isinstance(value, float):
        return round(value, 4)
    if isinstance(value, list):
        return [_rounded(item) for item in value]
    if isinstance(value, dict):
        return {key: _rounded(item) for key, item in value.items()}
    return value


def measures_schema() -> dict[str, Any]:
    """JSON Schema of what ``report`` gives."""
    place = {"type": "array", "items": {"type": "number"}, "minItems": 2, "maxItems": 2}
    figure = {
        "type": "object",
        "properties": {
            "id": {"type": "string", "pattern": r"^(picture|sound|clip)\.[a-z0-9_]+$"},
            "value": {"anyOf": [{"type": "number"}, {"type": "null"}, {"type": "array", "items": {"type": ["number", "object"]}}]},
            "unit": {"type": "string"},
            "tolerance": {"type": ["number", "null"], "minimum": 0},
            "sureness": {"enum": ["sure", "fair", "rough"]},
            "refused": {"type": "string"},
        },
        "required": ["id", "value", "unit", "tolerance", "sureness", "refused"],
        "additionalProperties": False,
    }
    marks = {
        "type": "object",
        "properties": dict.fromkeys(("left_eye", "right_eye", "chin", "crown", "paper"), place),
        "additionalProperties": False,
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:uphill-lamp:measures:{VERSION}",
        "type": "object",
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "method": {"type": "integer", "minimum": 1},
            "kind": {"enum": ["still", "sound", "clip"]},
            "figures": {"type": "array", "items": figure},
            "marks": marks,
            "notes": {"type": "array", "items": {"type": "string"}},
            "exposure": {"type": "array", "items": {"type": "number", "exclusiveMinimum": 0}, "minItems": 3, "maxItems": 3},
        },
        "required": ["format", "version", "method", "kind", "figures", "marks", "notes"],
        "additionalProperties": False,
    }
