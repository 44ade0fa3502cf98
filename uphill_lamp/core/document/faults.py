"""What is wrong with a document, said so that its author can mend it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

SHOWN_LENGTH = 60


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing wrong: where (a path like ``/lights/bench-lamp/flux_lm``), what was found, what was expected."""

    path: str
    found: str
    expected: str

    def __str__(self) -> str:
        return f"{self.path or '/'}: found {self.found}; expected {self.expected}"


class Refused(ValueError):
    """A document, patch or value that was not taken. Nothing of it has been kept.

    Carries ``faults``, at least one.
    """

    def __init__(self, faults: Iterable[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(str(fault) for fault in self.faults))


def shown(value: object) -> str:
    """A found value as text that fits in one line and cannot reorder or break it."""
    if isinstance(value, dict):
        return "a group of fields"
    if isinstance(value, (list, tuple)):
        return f"a list of {len(value)}"
    if value is None:
        return "nothing (null)"
    if isinstance(value, bool):
        return "true" if value else "false"
    text = repr(value) if isinstance(value, str) else str(value)
    text = text.encode("ascii", "backslashreplace").decode() if not text.isprintable() else text
    return text if len(text) <= SHOWN_LENGTH else text[: SHOWN_LENGTH - 1] + "…"
