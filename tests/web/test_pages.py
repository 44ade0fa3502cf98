"""Pages without a browser: what is kept, refused, told, and never let through."""

from __future__ import annotations

import json
import os
import re
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.parse
import urllib.request
from base64 import b64encode
from http.cookiejar import CookieJar
from typing import Any
from unittest import TestCase as PlainTestCase
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase
from django.utils import timezone

from tests.setups import ROOT, demo
from tests.web import forget_own_prices
from uphill_lamp.core.document import read_setup, written
from uphill_lamp.web.bench import pictures, views
from uphill_lamp.web.setups import deletion, documents, flows
from uphill_lamp.web.setups.models import Revision, Setup


class WebTest(TestCase):
    def setUp(self) -> None:
        flows.load_demo()
        self.setup_row = Setup.objects.get(demo="clock-bench")
        self.client = Client(HTTP_HOST="localhost")
        self.addCleanup(forget_own_prices)

    def head(self) -> Revision:
        self.setup_row.refresh_from_db()
        assert self.setup_row.head is not None
        return self.setup_row.head

    def post(self, what: str = "change", stage: str = "frame", **values: Any) -> Any:
        values = {"parent": self.head().pk, "picked": "cameras/camera"} | values
        return self.client.post(f"/setups/{self.setup_row.pk}/{stage}/{what}/", values, headers={"X-Uphill-Fragment": "1"})

    def step(self, way: str, **values: Any) -> Any:
        return self.client.post(
            f"/setups/{self.setup_row.pk}/{way}/", {"parent": self.head().pk, "stage": "frame"} | values, headers={"X-Uphill-Fragment": "1"}
        )


class Revisions(WebTest):
    def test_change_undo_redo_and_a_new_branch(self) -> None:
        first = self.head()
        self.post(action="enter", thing="presenter", field="eyes", value="120")
        self.post(action="enter", thing="presenter", field="eyes", value="121")
        second = self.head()
        self.assertEqual((read_setup(second.document.encode()).presenter.eye_height_m, second.parent.parent), (1.21, first))
        self.step("undo")
        self.step("undo")
        self.assertEqual(self.head(), first)
        self.assertContains(self.step("undo"), "Nothing to undo")
        self.step("redo")
        self.post(action="enter", thing="presenter", field="eyes", value="1,3 m")
        branch = self.head()
        self.step("undo")
        self.step("redo")
        self.assertEqual(self.head(), branch)
        self.assertContains(self.step("redo"), "Nothing to redo")
        self.assertEqual(branch.patch, [{"op": "replace", "path": "/presenter/eye_height_m", "value": 1.3}])

    def test_an_older_page_is_told_and_changes_nothing(self) -> None:
        old = self.head().pk
        self.post(action="enter", thing="presenter", field="eyes", value="120")
        count = Revision.objects.count()
        for answer in (
            self.post(action="enter", thing="presenter", field="eyes", value="130", parent=old),
            self.post("preview", action="enter", thing="presenter", field="eyes", value="130", parent=old),
            self.step("undo", parent=old),
            self.step("redo", parent="nonsense"),
        ):
            self.assertContains(answer, "older than the setup", status_code=409)
        self.assertEqual(Revision.objects.count(), count)

    def test_what_rests_on_a_guess_is_asked_and_answered(self) -> None:
        self.setup_row = Setup.objects.get(demo="kitchen-table")
        page = f"/setups/{self.setup_row.pk}/eyes/findings/"
        self.assertContains(self.client.get(page), "Where on the laptop do you see the others?", 2)
        wrong = self.post(action="answer", stage="eyes", finding="eyes.off_lens", answer="behind me")
        self.assertContains(wrong, "an answer to what is asked now", status_code=422)
        count = Revision.objects.count()
        self.assertEqual(self.post(action="answer", stage="eyes", finding="eyes.off_lens", answer="whole").status_code, 200)
        self.assertEqual(Revision.objects.count(), count + 1)
        shown = read_setup(self.head().document.encode()).screens[0].windows[0]
        self.assertEqual((shown.left_px, shown.top_px), (0, 0))
        self.assertNotContains(self.client.get(page), "Where on the laptop do you see the others?")
        self.assertEqual(self.post(action="answer", stage="eyes", finding="eyes.off_lens", answer="whole").status_code, 422)

    def test_a_preview_saves_nothing_and_shows_the_change(self) -> None:
        count = Revision.objects.count()
        answer = self.post("preview", action="move", thing="presenter", view="plan", right="0.3", up="0")
        digest = re.search(r"data-digest=\"(\w+)\"", answer.content.decode())[1]  # type: ignore[index]
        self.assertNotEqual(digest, self.head().digest)
        self.assertEqual(self.client.get(f"/picture/{digest}/320.jpg")["Content-Type"], "image/jpeg")
        self.assertEqual(Revision.objects.count(), count)

    def test_the_picture_after_a_move_and_as_a_file(self) -> None:
        digest, appraisal = documents.appraised(self.head().document)
        move = next(move for finding in appraisal.findings_with_gains for move in finding.moves if finding.area == "frame")
        before, after = (self.client.get(f"/picture/{digest}/{what}.jpg") for what in ("320", f"after/{move.id}"))
        self.assertEqual(after["Content-Type"], "image/jpeg")
        self.assertNotEqual(before.content, after.content)
        self.assertEqual(self.client.get(f"/picture/{digest}/after/frame.nothing.jpg").status_code, 404)
        self.assertEqual(self.client.get(f"/picture/{'0' * 64}/after/{move.id}.jpg").status_code, 404)
        whole = self.client.get(f"/picture/{digest}/picture.png")
        self.assertTrue(whole.content.startswith(b"\x89PNG"))
        self.assertIn("attachment", whole["Content-Disposition"])
        self.assertContains(self.client.get(f"/setups/{self.setup_row.pk}/frame/findings/"), f"/picture/{digest}/after/{move.id}.jpg")

    def test_a_preview_brings_its_picture_along_once_the_draftsman_is_there(self) -> None:
        def source() -> str:
            answer = self.post("preview", action="move", thing="cameras/camera", view="side", right="0", up="0.05")
            return re.search(r'class="picture"\s+src="([^"]+)"', answer.content.decode())[1]  # type: ignore[index]

        drawn = b"\xff\xd8 as good as a file"
        with patch.object(pictures.DRAFTSMAN, "draft", lambda document, metered: drawn):
            self.assertEqual(source(), "data:image/jpeg;base64," + b64encode(drawn).decode())
        with patch.object(pictures.DRAFTSMAN, "draft", lambda document, metered: None):
            self.assertRegex(source(), r"^/picture/\w+/208\.jpg$")
        late = threading.Event()
        with (
            patch.object(pictures.DRAFTSMAN, "draft", lambda document, metered: late.wait(5) and drawn),
            patch.object(views, "DRAFT_WAIT_S", 0.01),
        ):
            self.assertRegex(source(), r"^/picture/\w+/208\.jpg$")
            late.set()

    def test_a_brief_preview_brings_picture_and_drawings_alone_and_they_are_the_same(self) -> None:
        change = {"action": "move", "thing": "cameras/camera", "view": "side", "right": "0", "up": "0.06"}
        whole, brief = (self.post("preview", **change, **more).content.decode() for more in ({}, {"brief": "1"}))
        regions = [re.findall(r'data-region="(\w+)"', html) for html in (whole, brief)]
        self.assertEqual(regions[1], ["state", "seen", "side", "plan"])
        self.assertTrue(set(regions[1]) < set(regions[0]))
        for name in ("side", "plan"):
            drawn = [re.search(rf'data-region="{name}".*?</section>', html, re.DOTALL)[0] for html in (whole, brief)]  # type: ignore[index]
            self.assertEqual(drawn[0], drawn[1])

    def test_every_action_and_what_is_no_action(self) -> None:
        for values in (
            {"action": "turn", "thing": "lights/bench-lamp", "degrees": "5"},
            {"action": "switch", "thing": "lights/bench-lamp"},
            {"action": "lamps"},
            {"action": "units", "value": "inch"},
            {"action": "move", "thing": "desk", "view": "side", "right": "0.05", "up": "0"},
            {"action": "move", "thing": "lights/bench-lamp", "view": "raise", "right": "0", "up": "0.1"},
            {"action": "do", "move": "frame.raise_camera"},
        ):
            before = self.head()
            self.assertEqual(self.post(**values).status_code, 200, values)
            self.assertNotEqual(self.head(), before, values)
        before = self.head()
        for values in (
            {"action": "explode"}, {}, {"action": "move", "thing": "lights/none", "right": "1"}, {"action": "move", "thing": "desk", "right": "nan"},
            {"action": "move", "thing": "desk", "right": "1e9"}, {"action": "do", "move": "frame.fly"}, {"action": "units", "value": "parsec"},
            {"action": "enter", "thing": "presenter", "field": "eyes", "value": "<b>x</b>"}, {"action": "turn", "thing": "presenter", "degrees": "x"},
            {"action": "enter", "thing": "", "field": "name", "value": "a\u202eb"}, {"action": "enter", "thing": "", "field": "call_at", "value": "soon"},
        ):  # fmt: skip
            answer = self.post(**values)
            self.assertEqual(answer.status_code, 422, values)
            self.assertNotIn(b"<b>x</b>", answer.content)
        self.assertEqual(self.head(), before)
        self.assertContains(
            self.post(action="enter", thing="presenter", picked="presenter", field="eyes", value="tall"), 'value="tall"', status_code=422
        )

    def test_what_was_chosen_is_said_in_words_and_a_grave_matter_stands_high(self) -> None:
        answer = self.post(action="enter", thing="", picked="", field="destination", value="vertical_clip").content.decode()
        self.assertIn("Goes to, an upright clip", answer)
        titles = re.findall(r"<h3[^>]*>(.*?)</h3>", answer)
        self.assertLess(next(n for n, title in enumerate(titles) if "empty bars" in title), len(titles) / 2)

    def test_without_script_forms_still_work(self) -> None:
        answer = self.client.post(
            f"/setups/{self.setup_row.pk}/frame/change/", {"parent": self.head().pk, "action": "do", "move": "frame.raise_camera"}
        )
        self.assertEqual(answer.status_code, 302)
        self.assertContains(self.client.get(answer["Location"]), "Undo")


class Safety(WebTest):
    def test_headers_hosts_and_forgery(self) -> None:
        answer = self.client.get(f"/setups/{self.setup_row.pk}/frame/")
        policy = answer["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertNotIn("unsafe", policy)
        self.assertEqual(answer["X-Frame-Options"], "DENY")
        self.assertEqual(Client(HTTP_HOST="evil.example").get("/").status_code, 400)
        strict = Client(enforce_csrf_checks=True, HTTP_HOST="localhost")
        self.assertEqual(strict.post("/demo/reset/").status_code, 403)
        self.assertEqual(strict.post(f"/setups/{self.setup_row.pk}/frame/change/", {"action": "lamps"}).status_code, 403)

    def test_an_address_of_a_form_opened_by_hand_leads_to_its_page_and_changes_nothing(self) -> None:
        before, own = self.head(), f"/setups/{self.setup_row.pk}/"
        ways = {
            f"{own}delete/": "/", f"{own}copy/": "/", f"{own}bring-back/": "/", f"{own}undo/": own, f"{own}redo/": own,
            f"{own}frame/change/": f"{own}frame/", f"{own}light/preview/": f"{own}light/", f"{own}place/add/": f"{own}place/",
            f"{own}place/posture/": f"{own}place/", f"{own}place/choose/": f"{own}place/", f"{own}wiring/keep/": f"{own}wiring/",
            "/hear/own/": "/", f"{own}catalogue/owned/": f"{own}catalogue/",
            **{f"{own}steps/{what}/": f"{own}steps/" for what in ("wish", "do", "stop")},
            **{f"{start}catalogue/{what}/": f"{start}catalogue/" for what in ("price", "away", "rate", "add", "open") for start in ("/", own)},
        }  # fmt: skip
        for path, leads in ways.items():
            answer = self.client.get(path)
            self.assertEqual((answer.status_code, answer.headers.get("Location")), (302, leads), path)
            self.assertEqual(self.client.put(path).status_code, 405, path)
        self.assertEqual((self.head(), Setup.objects.count()), (before, len(flows.DEMO_FILES)))

    def test_no_page_has_inline_script_style_or_an_address_outside(self) -> None:
        for path in ("/", "/setups/new/", "/files/", "/help/", f"/setups/{self.setup_row.pk}/light/"):
            html = self.client.get(path).content.decode()
            self.assertNotRegex(html, r"<script(?![^>]*src=)|<style|\sstyle=|\son\w+=", path)
            self.assertEqual(set(re.findall(r"https?://[^\"' <]+", html)) - {"http://www.w3.org/2000/svg"}, set(), path)

    def test_markup_in_a_name_is_text_everywhere(self) -> None:
        name = "<img src=x onerror=alert(1)>"
        self.post(action="enter", thing="", picked="", field="name", value=name)
        for path in ("/", "/files/", f"/setups/{self.setup_row.pk}/frame/?picked="):
            html = self.client.get(path).content.decode()
            self.assertNotIn("<img src=x", html)
            self.assertIn("&lt;img src=x", html)
        export = self.client.get(f"/setups/{self.setup_row.pk}/export/")
        self.assertNotRegex(export["Content-Disposition"].split("filename*")[0], r"[<>\r\n]")

    def test_addresses_that_lead_nowhere(self) -> None:
        for path in (
            "/setups/999/frame/",
            f"/setups/{self.setup_row.pk}/gone/",
            "/picture/abc/320.jpg",
            f"/picture/{self.head().digest}/9999.jpg",
            "/x",
        ):
            self.assertEqual(self.client.get(path).status_code, 404, path)
        self.assertEqual(self.client.get(f"/setups/{self.setup_row.pk}/frame/?picked=lights/none").status_code, 200)
        self.assertRedirects(self.client.get(f"/setups/{self.setup_row.pk}/"), f"/setups/{self.setup_row.pk}/frame/")


class FilesAndSetups(WebTest):
    def upload(self, content: bytes, name: str = "my.uphill.json") -> Any:
        return self.client.post("/files/", {"file": SimpleUploadedFile(name, content)})

    def test_export_opens_again_as_the_same_setup(self) -> None:
        saved = self.client.get(f"/setups/{self.setup_row.pk}/export/")
        self.assertEqual(read_setup(saved.content), demo())
        answer = self.upload(saved.content)
        opened = Setup.objects.order_by("-id").first()
        assert opened is not None and opened.head is not None
        self.assertEqual((answer.status_code, opened.head.document), (302, saved.content.decode()))

    def test_a_bad_file_is_told_by_path_and_stores_nothing(self) -> None:
        count = (Setup.objects.count(), Revision.objects.count())
        data = json.loads(written(demo()))
        data["cameras"][0]["zoom"] = "<script>"
        for content, words in (
            (json.dumps(data).encode(), "/cameras/camera/zoom"), (b"[" * 9_000, "nested too deeply"), (b"[" * 1_500_000, "lists in [ ]"), (b"\xff", "UTF-8"),
            (b"{" + b" " * 20_000_000 + b"}", "2 MB at most"), (b"", "no JSON"), (b'{"format": "uphill-lamp/setup", "version": 99}', "newer"),
        ):  # fmt: skip
            answer = self.upload(content, "<b>evil</b>.json")
            self.assertContains(answer, words, status_code=422)
            self.assertNotIn(b"<script>", answer.content.replace(b"<script src", b"").replace(b"<script defer", b""))
            self.assertNotIn(b"<b>evil", answer.content)
        self.assertContains(self.client.post("/files/"), "no file", status_code=422)
        self.assertEqual((Setup.objects.count(), Revision.objects.count()), count)

    def test_a_measured_lamp_is_opened_saved_and_a_bad_file_changes_nothing(self) -> None:
        path = f"/setups/{self.setup_row.pk}/lights/bench-lamp/light.ies"
        saved = self.client.get(path)
        self.assertIn("bench-lamp.ies", saved["Content-Disposition"])
        before = self.head()
        for content, words in ((b"<b>no</b>", "TILT="), (saved.content[:200], "the end of the file"), (b"x" * 3_000_000, "MB at most")):
            self.assertContains(self.client.post(path, {"file": SimpleUploadedFile("<i>x.ies", content)}), words, status_code=422)
        self.assertContains(self.client.post(path), "no file", status_code=422)
        self.assertEqual(self.head(), before)
        self.assertEqual(self.client.post(path, {"file": SimpleUploadedFile("x.ies", saved.content)}).status_code, 302)
        lamp = next(light for light in read_setup(self.head().document.encode()).lights if light.id == "bench-lamp")
        self.assertEqual(lamp.kind, "file")
        self.assertEqual(self.client.get(path.replace("bench-lamp", "none")).status_code, 404)
        self.assertContains(self.client.get(f"/setups/{self.setup_row.pk}/light/?picked=lights/bench-lamp"), "Measured light")

    def test_bringing_back_the_demo_asks_and_touches_nothing_that_was_changed(self) -> None:
        self.client.post(f"/setups/{self.setup_row.pk}/copy/")
        self.post(action="lamps")
        mine = self.head()
        self.client.post(f"/setups/{Setup.objects.get(demo='kitchen-table').pk}/delete/")
        asked = self.client.get("/demo/reset/")
        self.assertContains(asked, "2 demo setups will be added")
        self.assertContains(asked, "Clock bench, evening class")
        self.assertEqual(Setup.objects.count(), len(flows.DEMO_FILES))  # asking does nothing
        self.client.post("/demo/reset/")
        self.assertEqual(self.head(), mine)
        self.assertEqual(self.setup_row.demo, "")
        fresh = Setup.objects.select_related("head").get(demo="clock-bench")
        self.assertEqual(read_setup(fresh.head.document.encode()), demo())  # type: ignore[union-attr]
        self.assertEqual(Setup.objects.count(), len(flows.DEMO_FILES) + 2)
        self.client.post("/demo/reset/")
        self.assertEqual(Setup.objects.count(), len(flows.DEMO_FILES) + 2)

    def test_what_was_deleted_can_be_brought_back_for_a_day(self) -> None:
        head, path = self.head(), f"/setups/{self.setup_row.pk}/"
        gone = self.client.post(f"{path}delete/", follow=True)
        self.assertContains(gone, "was deleted")
        for address in (f"{path}frame/", f"{path}export/", f"{path}steps/"):
            self.assertEqual(self.client.get(address).status_code, 404, address)
        self.assertContains(self.client.get("/"), "Deleted within a day")
        self.client.post(f"{path}bring-back/")
        self.assertEqual(self.head(), head)
        self.assertEqual(self.client.get(f"{path}frame/").status_code, 200)
        self.client.post(f"{path}delete/")
        Setup.everything.filter(pk=self.setup_row.pk).update(deleted_at=timezone.now() - deletion.DELETED_FOR)
        self.assertNotContains(self.client.get("/"), "Deleted within a day")
        self.assertFalse(Setup.everything.filter(pk=self.setup_row.pk).exists())
        self.assertEqual(self.client.post(f"{path}bring-back/").status_code, 404)

    def test_quick_start_keeps_what_was_answered_when_something_is_wrong(self) -> None:
        answer = self.client.post(
            "/setups/new/", {"camera": "phone", "height": "moon", "name": "My \u202e desk", "lamps": ["ceiling", "desk_left"]}
        )
        self.assertContains(answer, "marked below", status_code=422)
        self.assertRegex(answer.content.decode(), r'value="phone" checked')
        self.assertRegex(answer.content.decode(), r'value="desk_left" checked')
        count = Setup.objects.count()
        self.assertEqual(self.client.post("/setups/new/", {"camera": "phone", "name": "  "}).status_code, 302)
        self.assertEqual(Setup.objects.count(), count + 1)

    def test_the_schemas_are_served_and_the_findings_carry_gains(self) -> None:
        self.assertEqual(self.client.get("/schema/setup.json").json()["$id"], "urn:uphill-lamp:setup:2")
        self.assertEqual(self.client.get("/schema/appraisal.json").json()["$id"], "urn:uphill-lamp:appraisal:1")
        self.assertRegex(self.client.get(f"/setups/{self.setup_row.pk}/frame/findings/").content.decode(), r"\+\d+ points")


class Killed(PlainTestCase):
    def test_every_answered_change_survives_kill_9(self) -> None:
        with tempfile.TemporaryDirectory() as state:
            port, value = "8791", 110
            server = self._server(state, port)
            try:
                opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
                page = opener.open(f"http://127.0.0.1:{port}/setups/1/frame/").read().decode()
                token, parent = re.search(r'data-csrf="(\w+)"', page)[1], re.search(r'data-parent-id="(\d+)"', page)[1]  # type: ignore[index]
                for value in range(110, 118):
                    body = urllib.parse.urlencode(
                        {"parent": parent, "action": "enter", "thing": "presenter", "picked": "", "field": "eyes", "value": value}
                    )
                    request = urllib.request.Request(
                        f"http://127.0.0.1:{port}/setups/1/frame/change/", body.encode(), {"X-CSRFToken": token, "X-Uphill-Fragment": "1"}
                    )
                    parent = re.search(r'data-parent-id="(\d+)"', opener.open(request).read().decode())[1]  # type: ignore[index]
            finally:
                os.kill(server.pid, signal.SIGKILL)
                server.wait()
                server.stdout.close()  # type: ignore[union-attr]
            again = self._server(state, "8792")
            try:
                saved = urllib.request.urlopen("http://127.0.0.1:8792/setups/1/export/").read()
                self.assertEqual(read_setup(saved).presenter.eye_height_m, value / 100)
            finally:
                again.kill()
                again.wait()
                again.stdout.close()  # type: ignore[union-attr]

    def _server(self, state: str, port: str) -> subprocess.Popen[str]:
        command = [sys.executable, "-m", "uphill_lamp", "demo", "--no-browser", "--port", port]
        environment = os.environ | {"UPHILL_STATE": state, "PYTHONPATH": str(ROOT.parent)}
        server = subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, text=True)
        began = time.monotonic()
        assert server.stdout is not None
        self.assertIn("127.0.0.1", server.stdout.readline())
        self.assertLess(time.monotonic() - began, 30)
        return server
