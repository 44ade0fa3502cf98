"""Tried as somebody hostile would, and as bad luck would: counts, foreign pages, waiting, broken files, full disks, shared machines."""

from __future__ import annotations

import io
import json
import os
import re
import resource
import sqlite3
import stat
import subprocess
import sys
import tempfile
import threading
import time
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase
from unittest.mock import Mock, patch

import numpy as np
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import OperationalError
from django.utils import timezone

from tests.setups import ROOT, demo
from tests.web.test_pages import WebTest
from tools.endurance import fuzz
from uphill_lamp.core.document import Refused, applied, read_setup, written
from uphill_lamp.core.document.reading import MOST_FAULTS
from uphill_lamp.core.steps.table import Cancelled
from uphill_lamp.listening.own import read_voice
from uphill_lamp.web import memory, running, startup
from uphill_lamp.web.microphones import hearing
from uphill_lamp.web.setups import flows, history
from uphill_lamp.web.setups.models import Revision, Script, Setup
from uphill_lamp.web.steps import work

FUZZED = 160  # cases; ./uphill fuzz goes on for as long as it is told to


def plain(**changes: Any) -> bytes:
    return json.dumps(json.loads(written(demo())) | changes, separators=(",", ":")).encode()


class Counts(PlainTestCase):
    def test_files_of_hundreds_of_thousands_of_things_are_refused_at_once_and_in_little_memory(self) -> None:
        lamp = json.loads(written(demo()))["lights"][0]
        bombs = {
            "groups": plain(lights=[{}] * 600_000)[:1_990_000] + b"}]}",
            "numbers": plain(lights=[0] * 900_000),
            "lists": plain(lights=[[]] * 600_000),
            "lamps": plain(lights=[lamp] * 2_000),
            "short of the bound": plain(kit=[{}] * 3_900),
            "keys": plain(computer={f"k{number}": 0 for number in range(150_000)}),
            "keys in every lamp": plain(lights=[{f"k{number}": 0 for number in range(99)}] * 24),
            "bad numbers": plain(lights=[lamp | {"photometry": {"vertical_deg": [""] * 361, "horizontal_deg": [""] * 361, "candela": [[""] * 361] * 361}}]),
            "origins": plain(origins={f"/x{number}": "entered" for number in range(90_000)}),
        }  # fmt: skip
        for name, content in bombs.items():
            before, began = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, time.process_time()
            with self.assertRaises(Refused, msg=name) as caught:
                read_setup(content)
            self.assertLess(time.process_time() - began, 1.0, name)
            self.assertLess((resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024, 100, name)
            self.assertLessEqual(len(caught.exception.faults), MOST_FAULTS, name)

    def test_a_recording_that_overflows_is_refused_and_a_patch_without_origins_is_none(self) -> None:
        for loudest in (1.7e308, 1e7, np.inf):
            file = io.BytesIO()
            soundfile.write(file, np.full((48_000, 2), loudest), 24_000, format="WAV", subtype="DOUBLE")
            with self.assertRaises(Refused):
                read_voice(file.getvalue())
        self.assertEqual(applied(demo(), [{"op": "remove", "path": "/origins"}]).origins, {})  # type: ignore[list-item]


class Foreign(WebTest):
    def test_another_page_starts_changes_and_reads_nothing(self) -> None:
        before, own = self.head(), f"/setups/{self.setup_row.pk}/"
        with patch.object(work.threading, "Thread", side_effect=AssertionError("started")):
            for site in ("cross-site", "same-site"):
                for path in (
                    f"{own}steps/",
                    f"{own}steps/ladder.csv",
                    f"{own}plan.pdf",
                    f"{own}export/",
                    f"/picture/{before.digest}/640.jpg",
                    "/hear/a/b/low.wav",
                    own,
                ):
                    for mode, dest in (("no-cors", "image"), ("cors", "empty"), ("navigate", "iframe"), ("navigate", "document")):
                        headers = {"Sec-Fetch-Site": site, "Sec-Fetch-Mode": mode, "Sec-Fetch-Dest": dest}
                        self.assertEqual(self.client.get(path, headers=headers).status_code, 403, (path, mode))
                answer = self.client.post(f"{own}frame/change/", {"action": "lamps", "parent": before.pk}, headers={"Sec-Fetch-Site": site})
                self.assertEqual((answer.status_code, self.head()), (403, before))
        leads = {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "document"}
        self.assertEqual(self.client.get("/", headers=leads).status_code, 200)
        self.assertContains(self.client.get(own, headers=leads), "Open it", status_code=403)
        for site in ("same-origin", "none"):
            self.assertEqual(self.client.get("/", headers={"Sec-Fetch-Site": site}).status_code, 200)

    def test_answers_may_not_be_kept_taken_or_given_a_camera(self) -> None:
        for path in ("/", f"/setups/{self.setup_row.pk}/export/", "/catalogue.csv", "/nowhere/"):
            answer = self.client.get(path)
            self.assertEqual(answer["Cache-Control"], "no-store", path)
            self.assertEqual(answer["Cross-Origin-Resource-Policy"], "same-origin", path)
            self.assertIn("camera=()", answer["Permissions-Policy"], path)
        picture = f"/picture/{self.head().digest}/640.jpg"
        first = self.client.get(picture)
        self.assertIn("no-cache", first["Cache-Control"])
        known = {"If-None-Match": first["ETag"]}
        self.assertEqual(self.client.get(picture, headers=known).status_code, 304)
        with patch("uphill_lamp.web.answers.method", return_value="newer"):  # an update that draws otherwise
            self.assertEqual(self.client.get(picture, headers=known).status_code, 200)
        drawing = self.client.get("/static/app/mark.svg")
        self.assertIn("default-src 'none'", drawing["Content-Security-Policy"])

    def test_what_no_page_sends_gets_a_page_of_its_own(self) -> None:
        path = f"/setups/{self.setup_row.pk}/frame/change/"
        for charset in ("utf-16", "latin-1"):
            answer = self.client.post(path, b"a=b", content_type=f"application/x-www-form-urlencoded; charset={charset}")
            self.assertContains(answer, "That was not understood", status_code=400)
        self.assertContains(
            self.client.post(path, {f"f{number}": "1" for number in range(1100)}), "That was not understood", status_code=400
        )

    def test_what_is_far_too_large_is_told_before_it_is_read(self) -> None:
        with patch("django.http.request.HttpRequest.read", side_effect=AssertionError("read")):
            answer = self.client.generic("POST", "/files/", b"", content_type="multipart/form-data; boundary=x", CONTENT_LENGTH="26000000")
        self.assertContains(answer, "at most 25 MB", status_code=413)

    def test_the_deployment_checks_warn_of_what_is_written_down_alone(self) -> None:
        output = io.StringIO()
        with patch.dict(os.environ):
            os.environ.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)  # the tests' own
            call_command("check", deploy=True, stderr=output)
        warned = set(re.findall(r"security\.(W\d+)", output.getvalue()))
        written_down = (ROOT.parent / "docs" / "security.md").read_text()
        self.assertEqual({name for name in warned if name not in written_down}, set())

    def test_words_in_an_address_are_not_the_app_s_own(self) -> None:
        self.assertNotContains(self.client.get("/catalogue/?said=Your+licence+has+ended"), "licence")
        answer = self.client.post("/catalogue/price/", {"entry": "rug", "price": "31", "currency": "GBP"}, follow=True)
        self.assertContains(answer, "31 GBP, from today")

    def test_on_a_shared_machine_only_the_printed_address_lets_in(self) -> None:
        with patch.dict(os.environ, {"UPHILL_TOKEN": "long-and-secret"}):
            for path in ("/", f"/setups/{self.setup_row.pk}/export/", "/?key=wrong"):
                self.assertContains(self.client.get(path), "This app is private", status_code=403)
            let_in = self.client.get("/?key=long-and-secret")
            self.assertEqual((let_in.status_code, let_in["Location"]), (302, "/"))
            cookie = let_in.cookies["uphill_key"]
            self.assertEqual((cookie["httponly"], cookie["samesite"]), (True, "Strict"))
            self.assertEqual(self.client.get("/").status_code, 200)


class NobodyWaits(WebTest):
    def setUp(self) -> None:
        super().setUp()
        self.addCleanup(work.forget)
        self.release = threading.Event()
        self.addCleanup(self.release.set)
        self.worked: list[str] = []

        def slowly(appraisal: Any, limit: float, progress: Any, stopped: Any) -> Any:
            self.worked.append(appraisal.setup.name)
            while not self.release.wait(0.01):
                if stopped():
                    raise Cancelled
            raise Cancelled

        slow = patch.object(work, "climbed", side_effect=slowly)
        slow.start()
        self.addCleanup(slow.stop)

    def test_exports_answer_at_once_with_the_way_there(self) -> None:
        own = f"/setups/{self.setup_row.pk}/"
        with patch.object(work.Job, "wait", side_effect=lambda seconds: False) as waited:  # the steps never end here
            for path in ("steps/ladder.csv", "steps/ladder.svg", "plan.pdf", "steps/1/shopping/", "steps/1/try/frame/"):
                answer = self.client.get(own + path)
                self.assertContains(answer, "are being worked out", status_code=202)
                self.assertContains(answer, f'data-then="{own}{path}"', status_code=202)
        self.assertLess(max(call.args[0] for call in waited.call_args_list), 1.0)
        self.client.post(f"{own}steps/stop/")
        for path in ("steps/ladder.csv", "plan.pdf"):
            self.assertContains(self.client.get(own + path), "You stopped the steps", status_code=503)

    def test_at_most_two_requests_wait(self) -> None:
        job = work.Job(("key",))
        threads = [threading.Thread(target=job.wait, args=(60,)) for _ in range(9)]
        for thread in threads:
            thread.start()
        self._until(lambda: sum(thread.is_alive() for thread in threads) == work.MOST_WAITING)
        self.assertFalse(job.wait(60))  # one too many: answered at once
        job._ended.set()
        for thread in threads:
            thread.join()
        self.assertTrue(job.wait(60))

    def test_two_setups_queue_and_a_newer_wish_of_one_stops_its_older(self) -> None:
        other = Setup.objects.get(demo="kitchen-table")
        first = work.job_for(self._appraisal(self.setup_row), 100.0, (), owner=1)
        second = work.job_for(self._appraisal(other), 100.0, (), owner=2)
        self._until(lambda: bool(self.worked))
        self.assertTrue(first.running and second.running and second.queued and not first.stopped)
        newer = work.job_for(self._appraisal(self.setup_row), 200.0, (), owner=1)
        self._until(lambda: first.stopped and not first.running)
        self.assertTrue(second.running and newer.running)

    def _appraisal(self, row: Setup) -> Any:
        from uphill_lamp.web.setups.documents import appraised

        assert row.head is not None
        return appraised(row.head.document)[1]

    def _until(self, true: Any) -> None:
        end = time.monotonic() + 60
        while not true():
            self.assertLess(time.monotonic(), end)
            time.sleep(0.01)


class BadLuck(WebTest):
    def test_a_full_disk_is_said_and_leaves_nothing_half_written(self) -> None:
        before = self.head()
        with patch.object(flows, "change", side_effect=OperationalError("database or disk is full")):
            self.assertContains(self.post(action="lamps"), "no room left on the disk", status_code=507)
        self.assertEqual(self.head(), before)
        with tempfile.TemporaryDirectory() as folder, patch.object(hearing.os, "replace", side_effect=OSError(28, "No space left")):
            with self.assertRaises(OSError):
                hearing._keep(Path(folder) / "a.wav", b"sound", "*.wav", 3)
            self.assertEqual(os.listdir(folder), [])

    def test_history_is_bounded_and_what_can_be_undone_and_done_again_stays(self) -> None:
        for number in range(30):
            self.post(action="enter", thing="presenter", field="eyes", value=str(100 + number))
        for _ in range(4):
            self.step("undo")
        aside = self.head()
        self.step("undo")
        self.post(action="enter", thing="presenter", field="eyes", value="150")  # five states lie aside from now on
        self.post(action="enter", thing="presenter", field="eyes", value="151")
        self.step("undo")
        now, head = timezone.now(), self.head()
        with patch.object(history, "MOST_STATES", 10):
            history.trim(self.setup_row.pk, now)
            self.assertTrue(Revision.objects.filter(pk=aside.pk).exists())  # less than a day old
            history.trim(self.setup_row.pk, now + timedelta(days=2))
        self.assertFalse(Revision.objects.filter(pk=aside.pk).exists())
        self.assertEqual((self.head(), self.setup_row.revisions.count()), (head, 11))
        for _ in range(9):
            self.step("undo")
        self.assertIsNone(self.head().parent_id)
        for _ in range(10):
            self.step("redo")
        self.assertEqual(read_setup(self.head().document.encode()).presenter.eye_height_m, 1.51)

    def test_hundreds_of_setups_are_paged_and_found(self) -> None:
        text, digest = self.head().document, self.head().digest
        for number in range(60):
            row = Setup.objects.create(name=f"Desk {number:03d}")
            row.head = Revision.objects.create(setup=row, document=text, digest=digest)
            row.save()
        first = self.client.get("/")
        self.assertContains(first, "Page 1 of 3")
        self.assertEqual(first.content.decode().count('class="setup-card'), 24)
        self.assertContains(self.client.get("/?page=99"), "Page 3 of 3")
        self.assertContains(self.client.get("/?find=desk 04"), "10 found")
        self.assertContains(self.client.get("/?find=<nothing>"), "No setup has “&lt;nothing&gt;” in its name")


class Starting(PlainTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.state = Path(folder.name) / "state"
        self.database = self.state / "uphill.sqlite3"

    def start(self, code: str = "") -> subprocess.CompletedProcess[str]:
        script = f"from uphill_lamp.web import running, startup\ntry:\n    print(running.prepare())\n{code}\nexcept startup.Trouble as told:\n    print('TROUBLE', told)"  # noqa: E501
        return subprocess.run(
            [sys.executable, "-c", script], cwd=ROOT.parent, env=os.environ | {"UPHILL_STATE": str(self.state),
            "DJANGO_SETTINGS_MODULE": "uphill_lamp.web.settings"},
            capture_output=True, text=True, check=False,
        )  # fmt: skip

    def test_broken_empty_and_newer_databases_and_whose_the_files_are(self) -> None:
        self.assertEqual(self.start().stdout.strip(), "[]")
        for path in (self.state, self.database, self.state / "secret"):
            self.assertEqual(stat.S_IMODE(path.stat().st_mode) & 0o077, 0, path)
        good = self.database.read_bytes()
        for broken in (os.urandom(40_000), b"", good[:5000] + os.urandom(8000) + good[13000:]):
            self.database.write_bytes(broken)
            for ending in ("-wal", "-shm"):
                self.database.with_name(self.database.name + ending).unlink(missing_ok=True)
            run = self.start()
            self.assertIn("moved aside", run.stdout)
            self.assertNotIn("Traceback", run.stdout + run.stderr)
            self.assertIn(broken, [path.read_bytes() for path in self.state.glob("*.aside")])
        with sqlite3.connect(self.database) as there:
            there.execute("INSERT INTO django_migrations(app, name, applied) VALUES ('setups', '9999_later', '2030-01-01')")
        there.close()
        self.assertIn("TROUBLE", self.start().stdout)

    def test_a_copy_is_kept_before_the_tables_are_changed(self) -> None:
        self.start()
        with sqlite3.connect(self.database) as there:
            there.execute("DELETE FROM django_migrations WHERE app IN ('check', 'go') OR app = 'setups' AND name = '0004_judged_deleted'")
            there.execute("DROP TABLE check_take")
            there.execute("DROP TABLE go_use")
            for column in ("score", "worst", "alt", "judged_by"):
                there.execute(f"ALTER TABLE setups_revision DROP COLUMN {column}")
            there.execute("ALTER TABLE setups_setup DROP COLUMN deleted_at")
        there.close()
        self.assertEqual(self.start().stdout.strip(), "[]")
        self.assertEqual([path.name for path in self.state.glob("*.before-*")], ["uphill.sqlite3.before-0004_judged_deleted"])

    def test_a_folder_that_cannot_be_written_is_told(self) -> None:
        with self.assertRaises(startup.Trouble) as caught:
            startup.make_private(Path("/proc/nowhere"))
        self.assertIn("/proc/nowhere", str(caught.exception))
        with patch.dict(os.environ, {"NUMBA_CACHE_DIR": "/proc/nowhere"}):
            self.assertIn("cannot be kept in /proc/nowhere", startup.compiled_kept()[0])
        self.assertEqual(startup.compiled_kept(), [])
        with patch.object(startup, "make_private", side_effect=startup.Trouble("no room")), patch("sys.stderr", io.StringIO()) as output:
            self.assertEqual(running.demo(8790, browser=False), 2)
        self.assertIn("no room", output.getvalue())


class Scripts(WebTest):
    def test_one_of_marks_alone_is_refused_stays_typed_and_is_never_read(self) -> None:
        path = f"/setups/{self.setup_row.pk}/prompter/"
        for text, answer in (("![" * 20_000, "marks such as [ and *"), ("- a\n" * 21_000, "lines")):
            form = {"text": text, "markdown": "on", "wpm": "130"}
            self.assertContains(self.client.post(path, form), answer, status_code=422)
            self.assertEqual(self.client.post(path, form | {"markdown": ""}).status_code, 302)
            Script.objects.update(markdown=True)
            self.assertRedirects(self.client.get(f"{path}read/"), path, target_status_code=422)


class Resting(WebTest):
    def test_what_was_kept_is_let_go_once_nothing_has_been_asked_for_a_while(self) -> None:
        # What time it is at each look, whether a request came just before, and whether the app rests then.
        looks = [
            (100, False, False),
            (200, True, False),
            (450, False, False),
            (501, False, True),
            (900, False, False),
            (1000, True, False),
            (1301, False, True),
        ]
        now, rested, step = [0.0], [], iter(looks)

        def sleep(seconds: float) -> None:
            try:
                now[0], came, _ = next(step)
            except StopIteration:
                raise SystemExit from None
            if came:
                memory.asked()

        with (
            patch.object(memory, "time", Mock(sleep=sleep, monotonic=lambda: now[0])), patch.object(memory, "_asked", [0.0]),
            patch.object(memory, "rest", side_effect=lambda: rested.append(now[0])), self.assertRaises(SystemExit),
        ):  # fmt: skip
            memory._rest_for_ever()
        self.assertEqual(rested, [time for time, _, rests in looks if rests])
        self.client.get("/")
        self.assertGreater(memory._asked[0], 0)


class Fuzzed(WebTest):
    def test_a_short_run_of_the_fuzzers_finds_no_fault(self) -> None:
        self.addCleanup(work.forget)
        tally = fuzz.run(7, lambda cases: cases < FUZZED)
        self.assertEqual(tally.faults, [], tally.printed())
        self.assertEqual(sum(tally.cases.values()), FUZZED)


class Uploads(WebTest):
    def test_a_bomb_posted_is_told_on_its_page(self) -> None:
        bomb = SimpleUploadedFile("big.json", plain(lights=[{}] * 300_000))
        self.assertContains(self.client.post("/files/", {"file": bomb}), "groups in", status_code=422)
