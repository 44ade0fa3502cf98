"""What was worked out, kept by what it was worked out from: the newest so many, of so many bytes at most."""

from __future__ import annotations

import sys
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import fields, is_dataclass
from functools import _lru_cache_wrapper
from typing import Any, Generic, TypeVar
from weakref import WeakSet

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")
_all: WeakSet[LockedLru[Any, Any]] = WeakSet()


class LockedLru(Generic[K, V]):
    """A memory that threads share. Two that ask for the same at once may both work it out; either's answer is as good.

    Args:
        most: how many are kept.
        most_bytes: how much they may weigh together; what weighs more by itself is not kept at all.
        weigh: what one weighs [bytes].
    """

    def __init__(self, most: int, most_bytes: int = 0, weigh: Callable[[V], int] = lambda made: 0) -> None:
        self._most, self._most_bytes, self._weigh = most, most_bytes, weigh
        self._found: OrderedDict[K, V] = OrderedDict()
        self._weights: dict[K, int] = {}
        self._weight = 0  # of all that is kept
        self._lock = threading.Lock()
        _all.add(self)

    def get_or_compute(self, key: K, work: Callable[[], V]) -> V:
        """What is kept under a key, or else what the work gives."""
        with self._lock:
            if key in self._found:
                self._found.move_to_end(key)
                return self._found[key]
        made = work()
        self.put(key, made)
        return made

    def put(self, key: K, made: V) -> None:
        """Keeps something under a key, in the place of what is there."""
        weight = self._weigh(made)
        with self._lock:
            self._weight += weight - self._weights.get(key, 0)
            self._found[key], self._weights[key] = made, weight
            self._found.move_to_end(key)
            while len(self._found) > self._most or (self._found and self._weight > self._most_bytes):
                oldest, _ = self._found.popitem(last=False)
                self._weight -= self._weights.pop(oldest)

    def get(self, key: K) -> V | None:
        """What is kept under a key, if anything is."""
        with self._lock:
            if key in self._found:
                self._found.move_to_end(key)
            return self._found.get(key)

    def forget(self) -> None:
        """Empties the memory, for measuring."""
        with self._lock:
            self._found.clear()
            self._weights.clear()
            self._weight = 0


def held_bytes(*things: object) -> int:
    """Bytes of the arrays that things are, or hold in their fields, tuples and lists: not in what those hold in turn."""
    held = 0
    for thing in things:
        inside = [getattr(thing, field.name) for field in fields(thing)] if is_dataclass(thing) else [thing]
        for value in inside:
            held += sum(getattr(part, "nbytes", 0) for part in (value if isinstance(value, tuple | list) else (value,)))
    return held


def forget_all(package: str) -> None:
    """Empties every memory there is, and of a package's modules the bounded caches too: all of it can be worked out again."""
    for kept in list(_all):
        kept.forget()
    for name, module in list(sys.modules.items()):
        if name.partition(".")[0] == package:
            for value in list(vars(module).values()):
                if isinstance(value, _lru_cache_wrapper) and value.cache_parameters()["maxsize"] is not None:
                    value.cache_clear()
