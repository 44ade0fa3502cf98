"""A server of its own, and a browser as far as the app needs one."""

from __future__ import annotations

import http.cookiejar
import os
import re
import subprocess
import sys
import urllib.error
import urllib.parse
import urllib.request
import uuid
from pathlib import Path
from typing import IO, Any

TIMEOUT_S = 120.0


def started(state: Path, port: int, log: IO[Any] | int | None = None) -> tuple[subprocess.Popen[str], str]:
    """A server on a state folder once it has told its address, and that address."""
    server = subprocess.Popen(
        [sys.executable, "-m", "uphill_lamp", "demo", "--no-browser", "--port", str(port)], env=os.environ | {"UPHILL_STATE": str(state)},
        stdout=subprocess.PIPE, stderr=log, text=True,
    )  # fmt: skip
    assert server.stdout is not None
    server.stdout.readline()
    return server, f"http://127.0.0.1:{port}"


def resident_mb(pid: int) -> float:
    """Memory that a process holds [MB]."""
    status = Path(f"/proc/{pid}/status").read_text()
    return int(found(r"VmRSS:\s+(\d+) kB", status)) / 1024


def found(pattern: str, text: str) -> str:
    """What a pattern finds in an answer.

    Raises:
        LookupError: if it is not there.
    """
    there = re.search(pattern, text)
    if there is None:
        raise LookupError(f"no {pattern} in the answer")
    return there[1]


class Client:
    """A browser as far as changes go: its cookie, its token, the newest revision it was told of."""

    def __init__(self, address: str, setup_id: int) -> None:
        self.address, self.setup_id = address, setup_id
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
        page = self.get(f"/setups/{setup_id}/light/").decode()
        self.token = found(r'data-csrf="([^"]+)"', page)
        self.parent = int(found(r'data-parent-id="(\d+)"', page))
        self.lamp = found(r'data-thing="(lights/[\w-]+)"', page)

    def change(self, **values: str) -> int:
        """Makes a change, all lamps switched unless another is wished; the revision that the app says it has saved."""
        answer = self.post(f"/setups/{self.setup_id}/light/change/", {"action": "lamps", **values, "parent": str(self.parent)})
        return self._saved(answer)

    def undo(self) -> int:
        """A step back; the revision that the setup stands at now."""
        return self._saved(self.post(f"/setups/{self.setup_id}/undo/", {"stage": "light", "parent": str(self.parent)}))

    def _saved(self, answer: bytes) -> int:
        there = int(found(r'data-parent-id="(\d+)"', answer.decode()))
        if there == self.parent:
            raise LookupError("nothing was saved")
        self.parent = there
        return there

    def preview(self, **values: str) -> str:
        """The bench as a change would leave it, with nothing saved."""
        return self.post(f"/setups/{self.setup_id}/light/preview/", {**values, "parent": str(self.parent)}).decode()

    def get(self, path: str) -> bytes:
        """An address as it answers."""
        return self._ask(urllib.request.Request(self.address + path, headers={"X-Uphill-Fragment": "1"}))

    def post(self, path: str, form: dict[str, str]) -> bytes:
        """A form sent to an address."""
        return self._ask(urllib.request.Request(self.address + path, urllib.parse.urlencode(form).encode(), self._headers))

    def upload(self, path: str, name: str, content: bytes) -> bytes:
        """A file sent to an address."""
        mark = uuid.uuid4().hex
        head = f'--{mark}\r\nContent-Disposition: form-data; name="{name}"; filename="a"\r\nContent-Type: application/octet-stream\r\n\r\n'
        body = head.encode() + content + f"\r\n--{mark}--\r\n".encode()
        return self._ask(
            urllib.request.Request(self.address + path, body, self._headers | {"Content-Type": f"multipart/form-data; boundary={mark}"})
        )

    @property
    def _headers(self) -> dict[str, str]:
        return {"X-Uphill-Fragment": "1", "Origin": self.address, "X-CSRFToken": self.token}

    def _ask(self, request: urllib.request.Request) -> bytes:
        try:
            with self.opener.open(request, timeout=TIMEOUT_S) as answer:
                content: bytes = answer.read()
        except urllib.error.HTTPError as refused:
            if refused.code != 422:  # what was not understood is told on a page
                raise
            content = refused.read()
        return content
