"""What something is worked out from, declared to the field: where none of it differs, what was worked out stands."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any, Literal
from weakref import ReferenceType, ref

from pydantic import BaseModel

from uphill_lamp.core.document.fields import kind_of
from uphill_lamp.core.document.setup import Setup

NOTHING: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Read:
    """A part of the document that is read.

    Args:
        part: name of the part in the setup.
        without: fields of it, or of each thing in it, that bear on nothing there; ``windows/covering`` is a field of each of its windows.
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
        if self.only:
            return thing.model_dump_json(include=set(self.only))
        apart: dict[str, Any] = {name: True for name in self.without if "/" not in name}
        for listed, _, name in (path.partition("/") for path in self.without if "/" in path):
            apart.setdefault(listed, {"__all__": set()})["__all__"].add(name)
        return thing.model_dump_json(exclude=apart)

    def holds(self, path: str, setup: Setup) -> bool:
        """Whether the value under a path is one that is read."""
        steps, place = path.split("/"), 2 if isinstance(getattr(setup, self.part, None), BaseModel) else 3
        name = steps[place] if len(steps) > place else ""
        within = f"{name}/{steps[place + 2]}" if len(steps) > place + 2 else ""
        return steps[1] == self.part and not {name, within} & self.without and (not self.only or name in self.only)


@dataclass
class Texts:
    """A setup's parts as text, each written when first asked for."""

    setup: Setup
    _texts: dict[Read, str] = field(default_factory=dict)
    _moved: tuple[ReferenceType[Texts], list[str]] | None = None  # the other is not held: each would hold the one before

    def text(self, read: Read) -> str:
        """A part as text."""
        if read not in self._texts:
            self._texts[read] = read.text(self.setup)
        return self._texts[read]

    def from_elsewhere(self, other: Texts) -> list[str]:
        """Paths of the values that come from another source than in another setup; asked by one area after the other."""
        if self._moved is None or self._moved[0]() is not other:
            here, there = self.setup.origins, other.setup.origins
            alike = {
                path for path in here.keys() & there.keys() if here[path] is there[path] or kind_of(here[path]) == kind_of(there[path])
            }
            self._moved = ref(other), [path for path in here.keys() | there.keys() if path not in alike]
        return self._moved[1]

    def same(self, other: Texts, reads: Iterable[Read]) -> bool:
        """Whether all that is read is alike in both; what is the very same is not even written out."""
        return all(self._alike(other, read) for read in reads)

    def as_sure(self, other: Texts, reads: Iterable[Read]) -> bool:
        """Whether all that is read is alike in both, and comes from alike sources."""
        reads = tuple(reads)
        return self.same(other, reads) and not any(read.holds(path, self.setup) for path in self.from_elsewhere(other) for read in reads)

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
            apart = frozenset(name for name in wide.without if name.partition("/")[0] not in narrow.only)
            by_path[read.part] = Read(read.part, apart, NOTHING, things)
    return tuple(by_path.values())
