"""What was worked out, kept by what it was worked out from: the newest so many."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class Kept(Generic[K, V]):
    """A memory that threads share. Two that ask for the same at once may both work it out; either's answer is as good."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._found: OrderedDict[K, V] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: K, work: Callable[[], V]) -> V:
        """What is kept under a key, or else what the work gives."""
        with self._lock:
            if key in self._found:
                self._found.move_to_end(key)
                return self._found[key]
        made = work()
        with self._lock:
            self._found[key] = made
            while len(self._found) > self._most:
                self._found.popitem(last=False)
        return made

    def forget(self) -> None:
        """Empties the memory, for measuring."""
        with self._lock:
            self._found.clear()
