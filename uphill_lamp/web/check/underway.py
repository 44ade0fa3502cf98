"""Files that are being measured, each by a name that its page made up: how far they are, and stopped on wish."""

from __future__ import annotations

import re
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

from django.http import HttpRequest, JsonResponse
from django.views.decorators.http import require_http_methods

NAME = re.compile(r"[0-9a-f]{32}")
MOST = 32  # at a time; more are measured all the same, and tell nothing


@dataclass(eq=False)
class Underway:
    """Files of one request: how much of them is done, 0-1, and whether they are still wanted."""

    share: float = 0.0
    stop: threading.Event = field(default_factory=threading.Event)

    def tell(self, share: float) -> None:
        self.share = share


_named: dict[str, Underway] = {}
_lock = threading.Lock()


@contextmanager
def underway(name: str) -> Iterator[Underway]:
    """What a request's files are told by while they are measured.

    Args:
        name: 32 hexadecimal figures; anything else names nothing.
    """
    files = Underway()
    with _lock:
        known = bool(NAME.fullmatch(name)) and name not in _named and len(_named) < MOST
        if known:
            _named[name] = files
    try:
        yield files
    finally:
        if known:
            with _lock:
                del _named[name]


@require_http_methods(["GET", "POST"])
def progress(request: HttpRequest, name: str) -> JsonResponse:
    """How far files are; posted to, they are stopped. Of what is not measured, yet or any more, there is no share."""
    with _lock:
        files = _named.get(name)
    if files is not None and request.method == "POST":
        files.stop.set()
    return JsonResponse({"share": round(files.share, 3) if files else None, "stopped": files is not None and files.stop.is_set()})
