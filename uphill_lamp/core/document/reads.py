"""What something is worked out from, declared to the field: where none of it differs, what was worked out stands."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any, Literal

from pydantic import BaseModel

from uphill_lamp.core.document.fields import kind_of
from uphill_lamp.core.document.setup import Setup

NOTHING: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Read:
    """A part of the document that is read.

    Args:
        part: name of the part in the setup.
        without: fields of it, or of each thing in it, that bear on nothing there.
        only: the fields that do, where they are fewer; all but ``without`` if empty.
        things: which of a list's things are read: all, or only cameras that sit on a screen.
    """

    part: str
    without: frozenset[str] = NOTHING
    only: frozenset[str] = NOTHING
    things: Literal["all", "on a screen"] = "all"

    def text(self, setup: Setup) -> str:
        """All that is read of it, as text: alike texts, alike results."""
        held = getattr(setup, self.part)
        if isinstance(held, BaseModel):
            return self._written(held)
        read = held if self.things == "all" else (thing for thing in held if thing.on_screen is not None)
        return "\n".join(map(self._written, read))

    def _written(self, thing: BaseModel) -> str:
        chosen: dict[str, Any] = {"include": set(self.only)} if self.only else {"exclude": set(self.without)}
        return thing.model_dump_json(**chosen)

    def origins(self, setup: Setup) -> dict[str, str]:
        """Where the values that are read come from, by path."""
        listed = not isinstance(getattr(setup, self.part), BaseModel)
        origins: dict[str, str] = {}
        for path, origin in setup.origins.items():
            steps = path.split("/")
            name = steps[3 if listed else 2] if len(steps) > (3 if listed else 2) else ""
            if steps[1] == self.part and name not in self.without and (not self.only or name in self.only):
                origins[path] = kind_of(origin)
        return origins


@dataclass
class Texts:
    """A setup's parts as text, each written when first asked for."""

    setup: Setup
    _texts: dict[Read, str] = field(default_factory=dict)
    _origins: dict[Read, dict[str, str]] = field(default_factory=dict)

    def text(self, read: Read) -> str:
        """A part as text."""
        if read not in self._texts:
            self._texts[read] = read.text(self.setup)
        return self._texts[read]

    def origins(self, read: Read) -> dict[str, str]:
        """Where a part's values come from."""
        if read not in self._origins:
            self._origins[read] = read.origins(self.setup)
        return self._origins[read]

    def same(self, other: Texts, reads: Iterable[Read]) -> bool:
        """Whether all that is read is alike in both; what is the very same is not even written out."""
        return all(self._alike(other, read) for read in reads)

    def as_sure(self, other: Texts, reads: Iterable[Read]) -> bool:
        """Whether all that is read is alike in both, and comes from alike sources."""
        reads = tuple(reads)
        if not self.same(other, reads):
            return False
        return self.setup.origins == other.setup.origins or all(self.origins(read) == other.origins(read) for read in reads)

    def _alike(self, other: Texts, read: Read) -> bool:
        if getattr(self.setup, read.part) is getattr(other.setup, read.part):
            if read not in self._texts and read in other._texts:
                self._texts[read] = other._texts[read]
            return True
        return self.text(read) == other.text(read)


def merged(*readings: Iterable[Read]) -> tuple[Read, ...]:
    """Readings put together: of a part that several read, all that any of them reads."""
    by_path: dict[str, Read] = {}
    for read in (read for reads in readings for read in reads):
        known = by_path.get(read.part)
        if known is None:
            by_path[read.part] = read
            continue
        whole = not known.only and not read.only
        things: Literal["all", "on a screen"] = "all" if "all" in (known.things, read.things) else "on a screen"
        if whole:
            by_path[read.part] = Read(read.part, known.without & read.without, NOTHING, things)
        elif known.only and read.only:
            by_path[read.part] = Read(read.part, NOTHING, known.only | read.only, things)
        else:
            wide, narrow = (known, read) if not known.only else (read, known)
            by_path[read.part] = Read(read.part, wide.without - narrow.only, NOTHING, things)
    return tuple(by_path.values())
