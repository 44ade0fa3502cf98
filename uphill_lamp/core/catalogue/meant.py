"""Which catalogue is meant by whatever is worked out inside: told once, around the work.

Nothing is imported for it, not even the type: the catalogue asks here which one it is.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import cache
from typing import Any

_meant: ContextVar[Callable[[], Any] | None] = ContextVar("catalogue", default=None)


def meant() -> Callable[[], Any] | None:
    """What gives the catalogue that was told; None if none was."""
    return _meant.get()


@contextmanager
def using(prices: Any) -> Iterator[None]:
    """Work done inside asks this catalogue; one that has to be looked up first is looked up once, when it is asked."""
    token = _meant.set(cache(prices) if callable(prices) else lambda: prices)
    try:
        yield
    finally:
        _meant.reset(token)
