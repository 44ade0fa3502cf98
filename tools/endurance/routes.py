"""Hostile requests at every address, in all methods: any answer but a fault of ours, and none that takes long."""

from __future__ import annotations

import random
import re
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from tools.endurance import hostile
from tools.endurance.fuzz import Told, clocked
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import read_setup
from uphill_lamp.core.tape import fields_of
from uphill_lamp.web.bench.actions import ACTIONS
from uphill_lamp.web.bench.page import stages
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.steps import work
from uphill_lamp.web.urls import urlpatterns

FINE = (503, 507)  # of the fives: stopped work, a full disk
AFRESH = 400  # so often the demo setups come back, whatever has become of them
ODD_METHODS = ("head", "put", "delete", "options", "patch")
POSTED = re.compile(
    r"(?:copy|delete|bring-back|undo|redo|add|posture|choose|stop|wish|do|keep|owned|price|away|rate|open|change|preview|own|reset|new|files|prompter|hands)/$"
)
CONVERTER = re.compile(r"<(?:(\w+):)?(\w+)>")
NAMES = (
    "parent", "picked", "file", "again", "rung", "neither", "entry", "back", "viewport", "take", "stage", "sky", "name", "move", "currency", "budget", "action",
    "wpm", "use", "thing", "then", "text", "step", "screen", "role", "read", "rate", "price", "never", "must", "money_per_point", "mirrored", "markdown",
    "keep", "find", "date", "comfortable", "at", "as", "deleted", "key", "page", "said", "brief", "field", "value", "view", "right", "up",
    "degrees", "source", "voice",
)  # fmt: skip
HEADERS: tuple[dict[str, str], ...] = (
    {}, {}, {}, {"HTTP_X_UPHILL_FRAGMENT": "1"}, {"HTTP_ACCEPT": "*/*;q=nan"}, {"HTTP_SEC_FETCH_SITE": "cross-site"}, {"HTTP_HOST": "evil.example"},
    {"HTTP_COOKIE": "=;;a=b; sessionid=%00"}, {"HTTP_RANGE": "bytes=9-1"}, {"HTTP_IF_MODIFIED_SINCE": "yesterday"}, {"HTTP_ACCEPT_LANGUAGE": "x" * 3000},
    {"HTTP_IF_NONE_MATCH": '"*'}, {"HTTP_X_FORWARDED_HOST": "evil.example"}, {"HTTP_REFERER": "//evil"}, {"HTTP_ACCEPT_ENCODING": "gzip;q=-1"},
)  # fmt: skip
TYPES = (
    "application/x-www-form-urlencoded; charset=utf-16",
    "application/json",
    "multipart/form-data; boundary=x",
    "text/plain",
    "x/y; a=" + "b" * 500,
)


class Routes:
    """Asks with addresses, parameters, headers and files that are partly right."""

    def __init__(self, chance: random.Random, tally: Told) -> None:
        self.chance, self.tally = chance, tally
        self.client = Client(HTTP_HOST="localhost", raise_request_exception=False)
        self.files = hostile.seeds()
        self.all_files = [seed for kind in self.files.values() for seed in kind]
        self.addresses = [str(pattern.pattern._route) for pattern in urlpatterns]
        self._afresh()

    def close(self) -> None:
        """Stops what has been started."""
        work.forget()

    def _afresh(self) -> None:
        work.forget()
        Setup.everything.all().delete()
        flows.load_demo()
        self.rows = list(Setup.objects.select_related("head"))
        appraisals = [appraise(read_setup(row.head.document.encode())) for row in self.rows if row.head]
        self.digests = [row.head.digest for row in self.rows if row.head]
        self.moves = [move.id for appraisal in appraisals for finding in appraisal.findings_with_gains for move in finding.moves]
        self.things = ["", "desk", "presenter"] + [
            f"{part}/{item.id}"
            for appraisal in appraisals
            for part in ("lights", "cameras", "screens")
            for item in getattr(appraisal.setup, part)
        ]
        self.fields = sorted(
            {
                entry.key
                for appraisal in appraisals
                for thing in ("", "desk", *self.things[3:8])
                for entry in _fields(appraisal.setup, thing)
            }
        )

    def once(self) -> None:
        """One request."""
        number = sum(self.tally.cases.values())
        if self.tally.cases["addresses"] % AFRESH == AFRESH - 1:
            self._afresh()
        address = self._address()
        fitting = "post" if POSTED.search(address) else "get"
        method = fitting if self.chance.random() < 0.85 else self.chance.choice(("get", "post", *ODD_METHODS))
        data, kind = self._data(method)
        headers = self.chance.choice(HEADERS)
        shown = f"case {number}: {method.upper()} {address[:120]} {str(data)[:200]} {kind} {headers}"
        errors: list[str] = []
        try:
            answer, took = clocked(lambda: self._ask(method, address, data, kind, headers))
        except Exception:  # noqa: BLE001 the client itself throws where an answer cannot be made at all
            self.tally.fault(shown)
            self.tally.note("addresses", "no answer", 0.0, shown)
            return
        status = answer.status_code  # type: ignore[attr-defined]
        if status >= 500 and status not in FINE:
            self.tally.faults.append(f"{status}: {shown} {errors}")
        self.tally.note("addresses", str(status), took, shown)

    def _ask(self, method: str, address: str, data: Any, kind: str, headers: dict[str, str]) -> object:
        if kind:
            content = data if isinstance(data, bytes) else repr(data).encode()
            answer = self.client.generic(method.upper(), address, content, content_type=kind, **headers)
        elif method in ("get", "head", "post"):
            answer = getattr(self.client, method)(address, data, **headers)
        else:
            answer = self.client.generic(method.upper(), address, **headers)
        if answer.streaming:
            b"".join(answer.streaming_content)  # type: ignore[arg-type]
        return answer

    def _address(self) -> str:
        route = self.chance.choice(self.addresses)
        address = "/" + CONVERTER.sub(lambda match: self._part(match[1] or "str", match[2]), route)
        if self.chance.random() < 0.03:
            address += self.chance.choice(("%00", "//", "/../", "?" + "a" * 4000, "%ff", ";x", "\u202e"))
        return address

    def _part(self, converter: str, name: str) -> str:
        if name in ("setup_id", "other_id") and self.chance.random() < 0.9:
            return str(self.chance.choice(self.rows).pk)
        if name == "digest" and self.chance.random() < 0.7:
            return str(self.chance.choice(self.digests))
        if name == "stage" and self.chance.random() < 0.9:
            return str(self.chance.choice(stages()).slug)
        if name == "width":
            return str(self.chance.choice((208, 320, 640, 1280, 0, 7, 99999)))
        if name == "move":
            return str(self.chance.choice(self.moves))
        if converter == "int":
            return self.chance.choice(("0", "1", "7", "2026", "9" * 30))
        word = self.chance.choice(
            ("0", "1", "free", "low", "clear", "own-0123456789abcdef", "desk-lamp", self.chance.choice(hostile.TEXTS))
        )
        return re.sub(r"[^\w-]", "", word) or "x" if converter == "slug" else re.sub(r"[/\x00?#]", "", word)[:200] or "x"

    def _data(self, method: str) -> tuple[Any, str]:
        """Parameters, and a content type where the body is no form."""
        if method not in ("get", "head", "post"):
            return b"", self.chance.choice(("", *TYPES))
        if method == "post" and self.chance.random() < 0.06:
            return hostile.broken(self.chance, b"parent=1&action=lamps&a=%00", self.all_files), self.chance.choice(TYPES)
        if method == "post" and self.chance.random() < 0.3:
            return self._sensible(), ""
        data: dict[str, Any] = {name: self._value(name) for name in self.chance.sample(NAMES, self.chance.choice((0, 1, 2, 4, 8)))}
        if method == "post" and self.chance.random() < 0.15:
            data["file"] = data["voice"] = self._upload()
        if self.chance.random() < 0.02:
            data |= {f"x{number}": "y" for number in range(1100)}
        return data, ""

    def _sensible(self) -> dict[str, Any]:
        """A change that could be meant, with one odd value."""
        row = self.chance.choice(self.rows)
        row.refresh_from_db()
        data = {
            name: self._value(name) for name in ("parent", "thing", "field", "value", "view", "right", "up", "degrees", "move", "at", "sky")
        }
        return data | {"action": self.chance.choice(list(ACTIONS)), "parent": str(row.head_id), "picked": self.chance.choice(self.things)}

    def _value(self, name: str) -> Any:
        if self.chance.random() < 0.35:
            return self.chance.choice(hostile.TEXTS)
        if name in ("file", "voice"):
            return self._upload()
        good: dict[str, Any] = {
            "parent": [str(row.head_id) for row in self.rows], "picked": self.things, "thing": self.things, "move": self.moves,
            "action": list(ACTIONS), "field": self.fields,
            "stage": [stage.slug for stage in stages()], "view": ["plan", "side", "screen", "raise"], "entry": ["led_panel", "usb_cardioid",
            "headset"], "currency": ["GBP", "XYZ"],
        }  # fmt: skip
        numbers = ["0", "1", "-1", "0.3", "12", "70", "1000", "1e9"]
        return self.chance.choice(good.get(name, numbers))

    def _upload(self) -> SimpleUploadedFile:
        kind = self.chance.choice(list(self.files))
        good = self.chance.choice(self.files[kind])
        content = (
            hostile.odd_document(self.chance, good)
            if kind == "setup" and self.chance.random() < 0.5
            else hostile.broken(self.chance, good, self.all_files)
        )
        return SimpleUploadedFile(self.chance.choice(("a.json", "../../x.csv", "a\u202eb.wav", "n" * 300, "é.ies")), content)


def _fields(setup: Any, thing: str) -> Any:
    try:
        return fields_of(setup, thing)
    except Exception:  # noqa: BLE001 a thing of another setup
        return ()
