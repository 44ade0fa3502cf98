"""The page Go: every setup's run sheet, what is so around the call entered and refused, cards to print."""

from __future__ import annotations

import json
import time
from datetime import UTC, datetime
from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from tests.web.test_steps import made_small
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document import read_setup
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.session import Session
from uphill_lamp.web.check.models import Take
from uphill_lamp.web.go import views
from uphill_lamp.web.go.models import MOST_KEPT, Use
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Setup


class Go(TestCase):
    def setUp(self) -> None:
        flows.load_demo()
        self.row = Setup.objects.get(demo="room-that-works")
        self.base = f"/setups/{self.row.pk}/go/"

    def document(self) -> Document:
        self.row.refresh_from_db()
        return read_setup(self.row.head.document.encode())  # type: ignore[union-attr]

    def session(self) -> Session:
        return self.document().session

    def keep(self, **typed: Any) -> Any:
        self.row.refresh_from_db()
        return self.client.post(f"{self.base}keep/", {"parent": self.row.head_id, "codec": "newer", **typed}, follow=True)

    def test_each_demo_has_its_sheet_before_within_and_after_its_call(self) -> None:
        moments = {"Next call": datetime(2026, 11, 1, tzinfo=UTC), "The call was on": datetime(2027, 3, 1, tzinfo=UTC)}
        for row in Setup.objects.all():
            for words, now in moments.items():
                with patch.object(views.timezone, "now", return_value=now):
                    page = self.client.get(f"/setups/{row.pk}/go/")
                self.assertContains(page, words)
                self.assertContains(page, "Wipe the lens")
            self.assertContains(page, 'data-stage-key="9"')
        with patch.object(views.timezone, "now", return_value=page.context["call"].begins):
            self.assertContains(self.client.get(f"/setups/{row.pk}/go/"), "The call has begun")

    def test_what_is_so_here_is_kept_and_changes_the_sheet(self) -> None:
        camera = next(device.path for device in self.client.get(self.base).context["devices"] if device.path.startswith("/cameras"))
        field = camera[1:].replace("/", "-")
        page = self.keep(
            people_at_home="on", pets="on", hours_of_calls="2,5", free_gb="", others_mbit_s="1", codec="older",
            **{f"{field}-forgets": ["white", "zoom"], f"{field}-stays": "no", f"{field}-minutes": "3", f"{field}-battery_wh": "12"},
        )  # fmt: skip
        session = self.session()
        self.assertEqual(
            (session.pets, session.doorbell, session.hours_of_calls, session.free_gb, session.codec), (True, False, 2.5, None, "older")
        )
        rig = next(rig for rig in session.rigs if rig.device == camera)
        self.assertEqual((rig.forgets, rig.left_rigged, rig.minutes, rig.battery_wh), (("white", "zoom"), False, 3.0, 12.0))
        for words in ("Animals fed", "by its marks", "set its zoom", "Battery of"):
            self.assertContains(page, words)
        self.assertNotContains(page, "Doorbell off")
        self.assertEqual(self.client.post(f"/setups/{self.row.pk}/undo/", {"parent": self.row.head_id}).status_code, 302)
        self.assertEqual(self.session(), Session())

    def test_what_cannot_be_is_told_at_its_field_and_what_was_typed_stays(self) -> None:
        for name, typed in (
            ("free_gb", "plenty"),
            ("free_gb", "-1"),
            ("others_mbit_s", "1e9"),
            ("hours_of_calls", "nan"),
            ("camera_ends_after_min", "<b>"),
        ):
            answer = self.keep(**{name: typed, "pets": "on"})
            self.assertEqual(answer.status_code, 422, typed)
            self.assertContains(answer, f'id="fault-{name}"', status_code=422)
            self.assertIn(typed.replace("<", "&lt;").replace(">", "&gt;"), answer.content.decode())
            self.assertTrue({switch[0]: switch[2] for switch in answer.context["switches"]}["pets"])
        device = self.client.get(self.base).context["devices"][0]
        answer = self.keep(**{f"{device.path[1:].replace('/', '-')}-minutes": "many", "codec": "x" * 400})
        self.assertContains(answer, "Not saved. codec: Found", status_code=422)
        self.assertContains(answer, 'minutes"', status_code=422)
        self.assertEqual(self.session(), Session())
        stale = self.client.post(f"{self.base}keep/", {"parent": 1_000_000, "pets": "on"})
        self.assertEqual((stale.status_code, self.session()), (409, Session()))
        self.assertEqual(self.client.post(f"{self.base}keep/", {"parent": "x"}).status_code, 409)

    def log(self, **typed: Any) -> Any:
        return self.client.post(f"{self.base}log/", {"day": "2026-11-24", "well": "yes", **typed}, follow=True)

    def test_ten_uses_teach_the_times_and_the_third_complaint_raises_what_helps(self) -> None:
        for day in range(1, 11):
            wrong = ["Others heard themselves"] if day in (3, 6, 9) else []
            seconds = json.dumps({"camera.wipe": 10 * day, "odd": "x", "long": 1e9})
            page = self.log(
                day=f"2026-11-{day:02}",
                well="no" if wrong else "yes",
                wrong=wrong,
                ready_min=f"{day},5",
                seconds=seconds,
                words='a "quoted", line',
            )
            self.assertContains(page, "ready in")
            self.assertEqual("Wear headphones" in page.content.decode(), day >= 9)
        self.assertContains(page, "ready in <strong>8.5 min</strong>")
        wipe = next(row["line"] for row in page.context["lines"] if row["line"].id == "camera.wipe")
        self.assertEqual(wipe.seconds, 80)
        out = self.client.get(f"{self.base}log.csv")
        self.assertEqual(len(out.content.decode().splitlines()), 11)
        self.client.post(f"{self.base}log/0/delete/")
        self.assertEqual(Use.objects.count(), 0)
        for _ in range(2):  # the second time all of it is there already
            self.client.post(f"{self.base}log/open/", {"file": SimpleUploadedFile("log.csv", out.content)})
            self.assertEqual(Use.objects.count(), 10)
        again = self.client.get(f"{self.base}log.csv")
        self.assertEqual(again.content, out.content)
        self.client.post(f"{self.base}log/{Use.objects.first().pk}/delete/")  # type: ignore[union-attr]
        self.assertEqual(Use.objects.count(), 9)
        other = Setup.objects.exclude(pk=self.row.pk).first()
        self.assertEqual(self.client.post(f"/setups/{other.pk}/go/log/{Use.objects.first().pk}/delete/").status_code, 404)  # type: ignore[union-attr]

    def test_a_log_that_is_none_is_refused_with_its_line(self) -> None:
        for typed, said in (
            ({"day": "yesterday"}, "a day such as"),
            ({"well": "perhaps"}, "yes or no"),
            ({"retakes": "2.5"}, "a whole number"),
            ({"ready_min": "nan"}, "minutes from 0"),
        ):
            answer = self.log(**typed)
            self.assertEqual(answer.status_code, 422, typed)
            self.assertContains(answer, said, status_code=422)
        self.log(words='=HYPERLINK("x")', wrong=["a;b", "c\r\nd,e"], seconds="[[[" * 9000)
        self.assertContains(self.client.get(f"{self.base}log.csv"), "'=HYPERLINK")
        head = "day,well,wrong,retakes,ready_min,unused,words"
        cases = {
            "": "found nothing", "a,b\n": "line 1", f"{head}\n2026-11-24,yes": "2 cells", f"{head}\n2026-11-24,yes,,0,,,\n24.11.2026,no,,0,,,": "line 3, day",
            f"{head}\n2026-11-24,yes,,-1,,,": "line 2, retakes", f"{head}\n" + "2026-11-24,yes,,0,,,\n" * 2001: "2001 rows", "x" * 1_000_001: "1 MB at most",
        }  # fmt: skip
        for text, said in cases.items():
            answer = self.client.post(f"{self.base}log/open/", {"file": SimpleUploadedFile("log.csv", text.encode())})
            self.assertContains(answer, said, status_code=422)
        self.assertContains(
            self.client.post(f"{self.base}log/open/", {"file": SimpleUploadedFile("log.csv", b"\xff\xfe\x00")}), "no table", status_code=422
        )
        self.assertContains(self.client.post(f"{self.base}log/open/"), "Choose a file first", status_code=422)
        self.assertEqual(Use.objects.count(), 1)
        whole = (
            head
            + "\n"
            + "".join(f"2025-01-{1 + number % 28:02},yes,,{number % 900},{number / 10},,word {number}\n" for number in range(2000))
        )
        self.client.post(f"{self.base}log/open/", {"file": SimpleUploadedFile("log.csv", whole.encode())})
        self.assertEqual(Use.objects.count(), MOST_KEPT)
        self.assertEqual(self.client.get(self.base).status_code, 200)

    def test_cards_are_printed(self) -> None:
        for name in ("run-sheet", "marks", "settings", "guest", "packing"):
            answer = self.client.get(f"{self.base}{name}.pdf")
            self.assertEqual((answer.status_code, answer["Content-Type"], answer.content[:5]), (200, "application/pdf", b"%PDF-"), name)
        answer = self.client.get(f"{self.base}call.ics")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "text/calendar; charset=utf-8"))
        self.assertTrue(answer.content.startswith(b"BEGIN:VCALENDAR"))
        self.assertEqual(self.client.get(f"{self.base}other.pdf").status_code, 404)
        for name, words in (("guest", "1. Sit"), ("packing", "To ask of the place")):
            text = self.client.get(f"{self.base}{name}.txt")
            self.assertEqual(text["Content-Type"], "text/plain; charset=utf-8")
            self.assertIn(words, text.content.decode())

    def test_days_that_fall_out_plugs_and_how_to_join(self) -> None:
        self.keep(falls_out="2026-12-24, 2026-12-31;2027-01-07", joins_by="  room 4711 ", gear_from="US", carried="on", counts="on")
        document = self.document()
        self.assertEqual([day.isoformat() for day in document.call.falls_out], ["2026-12-24", "2026-12-31", "2027-01-07"])
        self.assertEqual((document.session.joins_by, document.session.gear_from, document.session.carried), ("room 4711", "US", True))
        page = self.client.get(self.base)
        for words in ("room 4711", "adapter from A and B to G", "It counts, as you wished it"):
            self.assertContains(page, words)
        whole = appraise(document)
        self.assertAlmostEqual(page.context["whole_with"], whole.score)
        self.assertNotAlmostEqual(page.context["whole_with"], page.context["whole_without"])
        for typed, said in (
            ({"falls_out": "24.12."}, "days such as 2026-12-24"),
            ({"joins_by": "x" * 300}, 'id="fault-joins_by"'),
            ({"gear_from": "<b>"}, "gear_from: "),
        ):
            answer = self.keep(**typed)
            self.assertContains(answer, said, status_code=422)
        self.assertEqual(self.document(), document)

    def test_two_setups_at_the_same_hour(self) -> None:
        other = Setup.objects.get(demo="kitchen-table")
        place = self.document().place
        flows.change(other.pk, other.head_id or 0, (replace("/place", place.model_dump(mode="json")),), "the same hour")
        with patch.object(views.timezone, "now", return_value=datetime(2026, 11, 20, tzinfo=UTC)):
            self.assertContains(self.client.get(self.base), "At the same time: ")
            self.assertEqual([one["setup"] for one in self.client.get(self.base).context["beside"]], [other])
        self.assertNotContains(self.client.get(self.base), "At the same time: ")  # both are over

    def test_what_the_log_raises_enters_steps_and_can_be_refused(self) -> None:
        row = Setup.objects.get(demo="clock-bench")
        for day in (3, 6, 9):
            self.client.post(
                f"/setups/{row.pk}/go/log/",
                {"day": f"2026-11-{day:02}", "well": "no", "wrong": ["Others heard themselves"], "ready_min": day},
            )
        made_small(self)
        page = self.client.get(f"/setups/{row.pk}/steps/")
        for _ in range(6000):  # however slow the machine is
            if page.context["ladder"] is not None:
                break
            time.sleep(0.1)
            page = self.client.get(f"/setups/{row.pk}/steps/")
        [wish] = page.context["raised"]
        self.assertTrue(wish.steps and wish.steps[0].startswith("sound.headphones"))
        self.assertContains(page, "From your log: ")
        row.refresh_from_db()
        self.client.post(f"/setups/{row.pk}/steps/wish/", {"parent": row.head_id, "must": wish.steps[0]})
        self.assertEqual(self.client.get(f"/setups/{row.pk}/steps/").context["raised"], [])
        row.refresh_from_db()
        flows.undo(row.pk, row.head_id or 0)
        refusal = {"wrong": "Others heard themselves", "then": "steps"}
        page = self.client.post(f"/setups/{row.pk}/go/log/refuse/", refusal, follow=True)
        self.assertEqual((page.context["raised"], page.redirect_chain[0][0]), ([], f"/setups/{row.pk}/steps/"))
        page = self.client.get(f"/setups/{row.pk}/go/")
        self.assertContains(page, "Want it again")
        self.assertContains(page, "Minutes until ready")  # drawn
        page = self.client.post(f"/setups/{row.pk}/go/log/refuse/", refusal | {"again": "yes"}, follow=True)
        self.assertEqual(len(page.context["raised"]), 1)

    def test_same_as_last_time(self) -> None:
        self.assertContains(self.client.get(self.base), "There is no take yet")

        def took(share: float, good: bool) -> Take:
            line = {
                "id": "picture.eye_line",
                "value": share,
                "unit": "share",
                "tolerance": 0.01,
                "band": None,
                "refused": "",
                "method": "x",
            }
            return Take.objects.create(setup=self.row, name="t", kind="still", report={"kind": "still", "figures": [line], "notes": [], "marks": {}},
                                       preview=b"x" if good else b"", good=good, off=0)  # fmt: skip

        took(0.40, True)
        took(0.41, False)
        page = self.client.get(self.base)
        self.assertContains(page, "<strong>the same</strong>")
        took(0.46, False)
        page = self.client.get(self.base)
        self.assertContains(page, "1 differs")
        self.assertContains(page, "Eye line: 46.0 %, was 40.0 %")
        self.assertContains(page, "Lay the good one of")
        self.assertIn("camera=(self)", page["Permissions-Policy"])
        self.assertIn("microphone=(self)", page["Permissions-Policy"])
