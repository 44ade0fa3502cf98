"""The run sheet on a phone: a listener of its own that serves one sheet at a secret address, to who asks there by its right name, until its end."""

from __future__ import annotations

import http.client
import json
import threading
import time
import unittest
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest.mock import patch

from django.test import TestCase
from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from uphill_lamp.web.go import phone, views
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Setup

NOW = datetime(2026, 11, 24, 17, 30, tzinfo=UTC)


class Clock:
    def __init__(self) -> None:
        self.now = NOW

    def __call__(self) -> datetime:
        return self.now


def asked(sheet: phone.Sheet, method: str, path: str, body: str = "", **headers: str) -> tuple[int, bytes, dict[str, str]]:
    host, port = sheet.host.split(":")
    connection = http.client.HTTPConnection(host, int(port), timeout=60)
    try:
        connection.request(method, path, body or None, headers)
        answer = connection.getresponse()
        return answer.status, answer.read(), {name.lower(): value for name, value in answer.getheaders()}
    finally:
        connection.close()


class Listener(unittest.TestCase):
    def setUp(self) -> None:
        here = patch.object(phone, "own_address", return_value="127.0.0.1")
        here.start()
        self.addCleanup(here.stop)
        self.clock = Clock()
        self.sheet = phone.open_sheet(7, "<p>The sheet</p>", ("room.air", "camera.wipe"), NOW + timedelta(hours=2), self.clock)
        self.addCleanup(phone.close_sheet, 7)
        self.at = f"/{self.sheet.secret}/"
        self.own = {"Origin": f"http://{self.sheet.host}"}

    def ticks(self) -> Any:
        return json.loads(asked(self.sheet, "GET", f"{self.at}ticks")[1])

    def tick(self, line: Any = "room.air", on: Any = True, **headers: str) -> int:
        return asked(self.sheet, "POST", f"{self.at}ticks", json.dumps({"line": line, "on": on}), **(headers or self.own))[0]

    def test_it_is_read_and_ticked_and_nothing_else_answers(self) -> None:
        self.assertGreaterEqual(len(self.sheet.secret), 22)  # 128 bits, six a letter
        status, body, headers = asked(self.sheet, "GET", self.at)
        self.assertEqual((status, body), (200, b"<p>The sheet</p>"))
        self.assertEqual(
            (headers["cache-control"], headers["referrer-policy"], headers["x-frame-options"]), ("no-store", "no-referrer", "DENY")
        )
        self.assertTrue(headers["content-security-policy"].startswith("default-src 'none'"))
        self.assertNotIn("server", headers)
        self.assertEqual([asked(self.sheet, "GET", self.at + name)[0] for name in phone.FILES], [200, 200])
        self.assertEqual(
            (self.tick(), self.tick("camera.wipe"), self.tick("room.air", False), self.ticks()), (204, 204, 204, ["camera.wipe"])
        )
        for path in ("/", "/setups/", "/static/app/go.css", f"/{self.sheet.secret}", f"/{self.sheet.secret[:-1]}/", f"{self.at}../", f"{self.at}ticks/",
                     f"{self.at}phone.py", f"{self.at}%2e%2e/phone.css", "/%ff%fe/"):  # fmt: skip
            self.assertEqual(asked(self.sheet, "GET", path)[:2], (404, b""), path)
        for method in ("PUT", "DELETE", "OPTIONS", "TRACE", "PATCH"):
            self.assertEqual(asked(self.sheet, method, self.at)[:2], (404, b""), method)
        self.assertEqual(asked(self.sheet, "POST", self.at, "{}", **self.own)[0], 404)

    def test_other_names_and_other_pages_get_nothing(self) -> None:
        for host in ("localhost", "evil.example", "127.0.0.1", f"{self.sheet.host}.evil.example", ""):
            self.assertEqual(asked(self.sheet, "GET", self.at, Host=host)[:2], (404, b""), host)
        for headers in ({"Origin": "http://evil.example"}, {"Origin": "null"}, {"X": "none told"}):
            self.assertEqual(self.tick(**headers), 404, headers)
        self.assertEqual(self.ticks(), [])

    def test_odd_ticks_are_refused(self) -> None:
        for line, on in (("no.such", True), (["room.air"], True), ("room.air", "yes"), (None, None), ("x" * 200, True)):
            self.assertEqual(self.tick(line, on), 400, line)
        for body in ("", "[", "[]", "7", "null", "[" * 390):
            self.assertEqual(asked(self.sheet, "POST", f"{self.at}ticks", body, **self.own)[0], 400, body)
        self.assertEqual(asked(self.sheet, "POST", f"{self.at}ticks", "x" * 5000, **self.own)[0], 413)
        self.assertEqual(self.ticks(), [])

    @promise(100)
    @given(st.text(alphabet=st.characters(min_codepoint=33, max_codepoint=126), max_size=60))
    def test_no_guess_is_answered(self, guess: str) -> None:
        for path in ("/" + guess, self.at + guess):
            started: list[str] = []
            body = b"".join(self.sheet.answer({"PATH_INFO": path, "REQUEST_METHOD": "GET", "HTTP_HOST": self.sheet.host},
                                              lambda status, headers, told=started: told.append(status)))  # fmt: skip
            known = path.removeprefix(self.at) in ("", "ticks", *phone.FILES) and path.startswith(self.at)
            self.assertTrue(started[0].startswith("200" if known else "404") and bool(body) == known, path)

    def test_at_its_end_and_by_the_button_it_is_gone(self) -> None:
        self.clock.now = NOW + timedelta(hours=2)
        self.assertEqual(asked(self.sheet, "GET", self.at)[:2], (404, b""))
        self.assertIsNone(phone.opened(7))
        self.clock.now = NOW
        self.assertIsNotNone(phone.opened(7))
        phone.close_sheet(8)  # another setup's
        self.assertIsNotNone(phone.opened(7))
        phone.close_sheet(7)
        self.assertIsNone(phone.opened(7))
        for _ in range(600):  # however slow the machine is
            try:
                asked(self.sheet, "GET", self.at)
            except OSError:
                break
            time.sleep(0.1)
        else:
            self.fail("it still listens")
        self.sheet.end()  # told again

    def test_one_at_a_time_and_twelve_hours_at_most(self) -> None:
        other = phone.open_sheet(8, "", (), NOW + timedelta(days=3), self.clock)
        self.addCleanup(phone.close_sheet, 8)
        self.assertEqual(other.until, NOW + timedelta(hours=12))
        self.assertIsNone(phone.opened(7))
        self.assertNotEqual(other.secret, self.sheet.secret)

    def test_the_timer_ends_it(self) -> None:
        ended = threading.Event()
        with patch.object(phone.Sheet, "end", lambda sheet: ended.set()):
            sheet = phone.Sheet(9, "", frozenset(), NOW, self.clock)
            sheet.listen("127.0.0.1")
            self.assertTrue(ended.wait(5))
        sheet.end()

    def test_where_there_is_no_network(self) -> None:
        with patch.object(phone, "own_address", return_value=None), self.assertRaises(phone.NoNetwork):
            phone.open_sheet(7, "", (), NOW + timedelta(hours=1), self.clock)
        with patch.object(phone, "own_address", return_value="203.0.113.9"), self.assertRaises(phone.NoNetwork):
            phone.open_sheet(7, "", (), NOW + timedelta(hours=1), self.clock)  # an address that is not this machine's
        self.assertIsNotNone(phone.opened(7))


class FromThePage(TestCase):
    def setUp(self) -> None:
        flows.load_demo()
        self.row = Setup.objects.get(demo="clock-bench")
        self.base = f"/setups/{self.row.pk}/go/"
        here, then = patch.object(phone, "own_address", return_value="127.0.0.1"), patch.object(views.timezone, "now", return_value=NOW)
        for patched in (here, then):
            patched.start()
            self.addCleanup(patched.stop)
        self.addCleanup(phone.close_sheet, self.row.pk)

    def test_opened_ticked_and_closed(self) -> None:
        self.assertContains(self.client.get(self.base), "Open it for a phone")
        self.assertNotContains(self.client.get(self.base), "the one with this sheet")
        self.assertEqual(self.client.get(f"{self.base}phone/ticks/").json(), {"open": False, "ticked": []})
        page = self.client.post(f"{self.base}phone/open/", follow=True)
        sheet = phone.opened(self.row.pk)
        assert sheet is not None
        self.assertContains(page, sheet.address)
        self.assertContains(page, "as a square code")
        self.assertEqual(sheet.until, datetime(2026, 11, 24, 20, 30, tzinfo=UTC))  # the call's end
        self.assertIn("Keep the screen on", sheet.page)
        self.assertIn("Tuesday 24 November, 19:00", sheet.page)
        self.assertNotIn("csrf", sheet.page)
        self.assertIn("the one with this sheet: do not disturb", sheet.page)
        self.assertContains(page, "the one with this sheet: do not disturb")
        self.assertEqual(self.client.post(f"{self.base}phone/tick/", {"line": "camera.wipe", "on": "yes"}).status_code, 200)
        self.assertEqual(self.client.post(f"{self.base}phone/tick/", {"line": "no.such", "on": "yes"}).status_code, 400)
        self.assertEqual(self.client.get(f"{self.base}phone/ticks/").json(), {"open": True, "ticked": ["camera.wipe"]})
        self.row.refresh_from_db()
        self.client.post(f"{self.base}keep/", {"parent": self.row.head_id, "codec": "newer", "pets": "on"}, follow=True)
        self.assertIn("Animals fed", sheet.page)  # a sheet that is open goes with the setup
        self.assertEqual(sheet.ticked, {"camera.wipe"})
        self.assertContains(self.client.post(f"{self.base}phone/close/", follow=True), "Open it for a phone")
        self.assertEqual(self.client.post(f"{self.base}phone/tick/", {"line": "camera.wipe", "on": "yes"}).json(), {"open": False})

    def test_a_setup_that_is_deleted_takes_its_sheet_along(self) -> None:
        self.client.post(f"{self.base}phone/open/")
        self.client.post(f"/setups/{self.row.pk}/delete/")
        self.assertIsNone(phone.opened(self.row.pk))

    def test_no_network_and_no_call(self) -> None:
        with patch.object(phone, "own_address", return_value=None):
            self.assertContains(self.client.post(f"{self.base}phone/open/"), "on no network", status_code=422)
        with patch.object(views.timezone, "now", return_value=NOW + timedelta(days=3)):
            self.assertContains(self.client.post(f"{self.base}phone/open/"), "the call is over", status_code=422)
        self.assertIsNone(phone.opened(self.row.pk))
