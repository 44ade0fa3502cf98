"""What is kept between starts: pictures by digest and method, what a revision was judged to be; and what the first page then needs."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest.mock import patch

from django.test import override_settings

from tests.setups import ROOT
from tests.web.test_pages import WebTest
from uphill_lamp.web.bench import cards, pictures
from uphill_lamp.web.setups import documents
from uphill_lamp.web.setups.judged import judged

FIRST_PAGE = """
import re, sys
from uphill_lamp.web import running
running.prepare()
from django.test import Client
page = Client(HTTP_HOST="localhost").get("/")
for address in re.findall(r"/picture/\\w+/320.jpg", page.content.decode()):
    assert Client(HTTP_HOST="localhost").get(address).status_code == 200
print(len(re.findall("card-score", page.content.decode())), "numpy" in sys.modules, "uphill_lamp.core.appraisal.appraise" in sys.modules)
"""


class LockedLru(WebTest):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        states = override_settings(STATE=Path(folder.name))
        states.enable()
        self.addCleanup(states.disable)

    def picture(self, width: int) -> bytes:
        answer = self.client.get(f"/picture/{self.head().digest}/{width}.jpg")
        self.assertEqual(answer.status_code, 200)
        return answer.content

    def test_a_picture_is_drawn_once_and_a_small_one_comes_of_the_large(self) -> None:
        large = self.picture(640)
        with patch.object(pictures, "picture", side_effect=AssertionError("drawn again")):
            self.assertEqual(self.picture(640), large)
            self.assertLess(len(self.picture(320)), len(large))
        drawn = patch.object(pictures, "picture", side_effect=ZeroDivisionError)
        with patch.object(cards, "method", return_value="another"), drawn, self.assertRaises(ZeroDivisionError):
            self.picture(640)  # another method's pictures are none
        self.assertEqual(self.client.get("/picture/..%2f..%2fsecret/640.jpg").status_code, 404)
        self.assertEqual(self.client.get(f"/picture/{'0' * 64}/640.jpg").status_code, 404)

    def test_pictures_are_bounded_and_those_looked_at_longest_ago_go_first(self) -> None:
        for number in range(6):
            cards.keep(f"{number:064d}", 640, bytes(1000))
            os.utime(cards.folder() / f"{number:064d}-640.jpg", (number, number))
        (cards.folder().parent / "older").mkdir()
        cards.kept(f"{0:064d}", 640)
        cards.prune(3500)
        self.assertEqual({path.name[:64].lstrip("0") or "0" for path in cards.folder().iterdir()}, {"0", "4", "5"})
        self.assertEqual([path.name for path in cards.folder().parent.iterdir()], [cards.folder().name])

    def test_no_room_for_a_picture_is_nobodys_trouble(self) -> None:
        with patch.object(Path, "write_bytes", side_effect=OSError(28, "No space left on device")):
            self.picture(640)
        self.assertIsNone(cards.kept(self.head().digest, 640))

    def test_a_revision_keeps_what_it_was_judged_to_be_until_the_method_changes(self) -> None:
        self.post(action="enter", thing="presenter", field="eyes", value="120")
        head = self.head()
        _, appraisal = documents.appraised(head.document)
        self.assertEqual((head.score, head.worst), (appraisal.score, appraisal.findings[0].title))
        with patch.object(documents, "appraised", side_effect=AssertionError("judged again")):
            self.assertEqual(judged(head).score, appraisal.score)
        head.judged_by = "older"
        head.score = 1.0
        self.assertEqual(judged(head).score, appraisal.score)

    def test_the_first_page_after_a_restart_needs_nothing_of_the_computation(self) -> None:
        with tempfile.TemporaryDirectory() as state:
            answer = []
            for _ in range(2):
                run = subprocess.run(
                    [sys.executable, "-c", FIRST_PAGE], cwd=ROOT.parent, env=os.environ | {"UPHILL_STATE": state,
                    "DJANGO_SETTINGS_MODULE": "uphill_lamp.web.settings"},
                    capture_output=True, text=True, check=True,
                )  # fmt: skip
                answer.append(run.stdout.split())
            self.assertEqual(answer, [["5", "True", "True"], ["5", "False", "False"]])
