"""One run sheet on a phone: a second listener, open only when it is asked for, that serves this sheet at a secret address and nothing else.

It is no part of the app's own server: it knows neither its pages nor its database. What it answers is to be read and to be ticked.
"""

from __future__ import annotations

import hmac
import json
import secrets
import socket
import threading
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from waitress import create_server, wasyncore

STATIC = Path(__file__).resolve().parents[1] / "static" / "app"
SECRET_BYTES, MOST_BODY_BYTES, MOST_OPEN = 16, 400, timedelta(hours=12)
NOWHERE = ("192.0.2.1", 9)  # of no machine (RFC 5737): asking the way to it tells which address this one goes out by, and sends nothing
FILES = {"phone.css": "text/css; charset=utf-8", "phone.js": "text/javascript; charset=utf-8"}
HEADERS = [
    ("Cache-Control", "no-store"), ("X-Content-Type-Options", "nosniff"), ("Referrer-Policy", "no-referrer"), ("X-Frame-Options", "DENY"),
    ("Cross-Origin-Resource-Policy", "same-origin"), ("Permissions-Policy", "camera=(), microphone=(), geolocation=()"),
    ("Content-Security-Policy", "default-src 'none'; style-src 'self'; script-src 'self'; connect-src 'self'; img-src data:; "
     "base-uri 'none'; form-action 'none'; frame-ancestors 'none'"),
]  # fmt: skip
Answer = tuple[str, str, bytes]
NOTHING: Answer = ("404 Not Found", "text/plain; charset=utf-8", b"")


class NoNetwork(Exception):
    """There is no address that a phone could reach this machine at."""


@dataclass
class Sheet:
    """What is served: whose sheet, its page, the ids of its lines, what is ticked, until when, and at which address."""

    setup_id: int
    page: str
    lines: frozenset[str]
    until: datetime
    now: Callable[[], datetime]
    host: str = ""
    secret: str = field(default_factory=lambda: secrets.token_urlsafe(SECRET_BYTES))
    ticked: set[str] = field(default_factory=set)
    _sockets: dict[Any, Any] = field(default_factory=dict)
    _server: Any = None
    _later: threading.Timer | None = None

    @property
    def address(self) -> str:
        """What the phone opens."""
        return f"http://{self.host}/{self.secret}/"

    @property
    def over(self) -> bool:
        """Whether its time is up."""
        return self.now() >= self.until

    def listen(self, at: str) -> None:
        """Begins to listen at an address of this machine, on any port that is free.

        Raises:
            NoNetwork: if that cannot be.
        """
        try:
            self._server = create_server(
                self.answer, map=self._sockets, host=at, port=0, threads=4, ident="", connection_limit=20, channel_timeout=20,
                max_request_body_size=MOST_BODY_BYTES, max_request_header_size=8192,
            )  # fmt: skip
        except (OSError, ValueError) as wrong:
            raise NoNetwork(str(wrong)) from None
        self.host = f"{at}:{self._server.effective_port}"
        threading.Thread(target=self._server.run, name="run sheet for a phone", daemon=True).start()
        self._later = threading.Timer(max((self.until - self.now()).total_seconds(), 0.0), self.end)
        self._later.daemon = True
        self._later.start()

    def end(self) -> None:
        """Ends it: from now on nothing answers there. Told a second time, it does nothing."""
        if self._later is not None:
            self._later.cancel()
        server, self._server = self._server, None
        if server is not None:
            server.task_dispatcher.shutdown(timeout=1)  # first, for what is being answered tells the loop when it is done
            server.trigger.pull_trigger(lambda: wasyncore.close_all(self._sockets, ignore_all=True))

    def tick(self, line: str, on: bool) -> bool:
        """Ticks a line or takes the tick off; whether there is such a line."""
        if line not in self.lines:
            return False
        (self.ticked.add if on else self.ticked.discard)(line)
        return True

    def answer(self, environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
        """The listener's whole program (WSGI)."""
        status, kind, body = self._answer(environ)
        start(status, [*HEADERS, ("Content-Type", kind), ("Content-Length", str(len(body)))])
        return [] if environ["REQUEST_METHOD"] == "HEAD" else [body]

    def _answer(self, environ: dict[str, Any]) -> Answer:
        _, _, asked = environ.get("PATH_INFO", "").partition("/")
        first, stroke, rest = asked.partition("/")
        known = hmac.compare_digest(first.encode("utf-8", "replace"), self.secret.encode())
        if not known or not stroke or environ.get("HTTP_HOST", "") != self.host or self.over:
            return NOTHING
        method = environ["REQUEST_METHOD"]
        if rest == "ticks" and method == "POST":
            return self._ticked(environ)
        if method not in ("GET", "HEAD"):
            return NOTHING
        if rest == "ticks":
            return "200 OK", "application/json", json.dumps(sorted(self.ticked)).encode()
        if rest in FILES:
            return "200 OK", FILES[rest], (STATIC / rest).read_bytes()
        return ("200 OK", "text/html; charset=utf-8", self.page.encode()) if rest == "" else NOTHING

    def _ticked(self, environ: dict[str, Any]) -> Answer:
        """A tick, from this sheet's own page alone."""
        if environ.get("HTTP_ORIGIN") != f"http://{self.host}":
            return NOTHING
        try:
            sent = json.loads(environ["wsgi.input"].read(MOST_BODY_BYTES))
            line, on = sent["line"], sent["on"]
        except (ValueError, KeyError, TypeError, RecursionError):
            return "400 Bad Request", "text/plain; charset=utf-8", b"a line and whether it is ticked"
        if not isinstance(line, str) or not isinstance(on, bool) or not self.tick(line, on):
            return "400 Bad Request", "text/plain; charset=utf-8", b"no such line"
        return "204 No Content", "text/plain; charset=utf-8", b""


_lock = threading.Lock()
_open: Sheet | None = None


def opened(setup_id: int) -> Sheet | None:
    """The sheet of a setup that is open now, if it is."""
    with _lock:
        sheet = _open
    return sheet if sheet is not None and sheet.setup_id == setup_id and not sheet.over else None


def open_sheet(setup_id: int, page: str, lines: Iterable[str], ends: datetime, now: Callable[[], datetime]) -> Sheet:
    """Opens a sheet, and closes the one that was open: there is one at most.

    Args:
        page: the whole page that the phone gets.
        lines: ids of what can be ticked.
        ends: when it closes by itself, 12 h from now at the latest.
        now: the clock.

    Raises:
        NoNetwork: if this machine has no address that a phone could reach.
    """
    global _open
    at = own_address()
    if at is None:
        raise NoNetwork("no network")
    sheet = Sheet(setup_id, page, frozenset(lines), min(ends, now() + MOST_OPEN), now)
    sheet.listen(at)
    with _lock:
        before, _open = _open, sheet
    if before is not None:
        before.end()
    return sheet


def close_sheet(setup_id: int) -> None:
    """Closes a setup's sheet, if it is the one that is open."""
    global _open
    with _lock:
        sheet = _open if _open is not None and _open.setup_id == setup_id else None
        _open = None if sheet is not None else _open
    if sheet is not None:
        sheet.end()


def renewed(setup_id: int, page: str, lines: Iterable[str]) -> None:
    """Gives an open sheet its page anew: the setup may have changed."""
    if (sheet := opened(setup_id)) is not None:
        sheet.page, sheet.lines = page, frozenset(lines)
        sheet.ticked &= sheet.lines


def own_address() -> str | None:
    """The address by which this machine goes out to others; None where there is no network."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as way:
        try:
            way.connect(NOWHERE)
            address = str(way.getsockname()[0])
        except OSError:
            return None
    return None if address.startswith(("127.", "0.")) else address
