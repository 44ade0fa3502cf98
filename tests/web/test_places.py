"""Place, compare, prompter and hands-on pages without a browser."""

from __future__ import annotations

import re

from django.core.files.uploadedfile import SimpleUploadedFile

from tests.web.test_pages import WebTest
from uphill_lamp.core.document import read_setup
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Home, Script, Setup


class Places(WebTest):
    def at(self, what: str = "", setup: Setup | None = None) -> str:
        return f"/setups/{(setup or self.setup_row).pk}/place/{what}"

    def test_spots_are_ranked_and_one_is_chosen(self) -> None:
        html = self.client.get(self.at()).content.decode()
        scores = [int(score) for score in re.findall(r"Whole score\s*</span>\s*(\d+)\s*</span>\s*<strong>", html)]
        self.assertEqual((len(scores), scores), (2, sorted(scores, reverse=True)))
        kitchen = Setup.objects.get(demo="kitchen-table")
        self.assertRedirects(self.client.post(self.at("choose/", kitchen)), self.at(setup=kitchen))
        self.assertEqual(Home.objects.get(pk=kitchen.home_id).chosen, kitchen)
        self.assertContains(self.client.get(f"/setups/{kitchen.pk}/frame/"), "Clock bench, evening class")

    def test_another_spot_is_added_or_its_fault_told_and_what_was_typed_kept(self) -> None:
        count = Setup.objects.count()
        for name in ("By the bay", "By the bay"):
            answer = self.client.post(
                self.at("add/"), {"window": "left", "depth": "much", "behind": "shelf", "quiet": "quiet", "name": name}
            )
            self.assertEqual(answer.status_code, 302)
        self.assertEqual(
            sorted(Setup.objects.filter(name__startswith="By the bay").values_list("name", flat=True)), ["By the bay", "By the bay 2"]
        )
        bad = self.client.post(self.at("add/"), {"window": "roof", "name": "Loft"})
        self.assertContains(bad, 'value="Loft"', status_code=422)
        self.assertContains(self.client.post(self.at("add/"), {"name": "a\u202eb"}), "direction marks", status_code=422)
        self.assertEqual(Setup.objects.count(), count + 2)

    def test_standing_is_set_beside_sitting(self) -> None:
        answer = self.client.post(self.at("posture/"), follow=True)
        self.assertContains(answer, "Side by side")
        self.assertContains(answer, "Your feet")
        made = Setup.objects.select_related("head").get(name="Clock bench, evening class, standing")
        assert made.head is not None
        self.assertEqual(read_setup(made.head.document.encode()).presenter.posture, "standing")
        self.assertEqual(made.home_id, self.setup_row.home_id)

    def test_own_places_stay_when_the_demo_comes_back(self) -> None:
        self.client.post(self.at("add/"), {"name": "Mine"})
        flows.load_demo()
        self.setup_row = Setup.objects.get(demo="clock-bench")
        self.assertContains(self.client.get(self.at()), "Mine")
        self.assertEqual(self.client.get("/setups/999/place/").status_code, 404)
        self.assertEqual(self.client.get(f"/setups/{self.setup_row.pk}/compare/999/").status_code, 404)

    def test_a_setup_from_before_homes_gets_one(self) -> None:
        Setup.objects.filter(pk=self.setup_row.pk).update(home=None)
        self.assertEqual(self.client.get(self.at()).status_code, 200)
        self.setup_row.refresh_from_db()
        self.assertIsNotNone(self.setup_row.home)


class Prompter(WebTest):
    def keep(self, **values: object) -> object:
        return self.client.post(
            f"/setups/{self.setup_row.pk}/prompter/", {"text": "Hello <b>you</b>", "wpm": "130", "screen": "laptop", **values}
        )

    def test_a_script_is_kept_sized_and_timed_with_markup_as_text(self) -> None:
        self.keep(markdown="on", mirrored="on", wpm="140,5", text="# Part\n\n<script>alert(1)</script> go")
        kept = Script.objects.get(setup=self.setup_row)
        self.assertEqual((kept.words_a_minute, kept.mirrored, kept.markdown), (140.5, True, True))
        page = self.client.get(f"/setups/{self.setup_row.pk}/prompter/read/").content.decode()
        self.assertIn("is-mirrored", page)
        self.assertNotIn("<script>alert", page)
        self.assertIn("<h2", page)
        self.assertContains(self.client.get(f"/setups/{self.setup_row.pk}/prompter/"), "words a line")

    def test_files_are_opened_and_bad_ones_told_with_nothing_lost(self) -> None:
        self.keep(file=SimpleUploadedFile("talk.md", b"# Eins\n\nzwei drei"))
        self.assertTrue(Script.objects.get(setup=self.setup_row).markdown)
        for content, words in ((b"\xff\xfe", "UTF-8"), (b"x" * 9_000_000, "MB at most"), (b"x" * 3_000_000, "2000000 at most")):
            answer = self.keep(file=SimpleUploadedFile("talk.txt", content))
            self.assertContains(answer, words, status_code=422)  # type: ignore[arg-type]
        self.assertContains(self.keep(wpm="fast", text="My dear words"), "My dear words", status_code=422)  # type: ignore[arg-type]
        self.assertIn("zwei", Script.objects.get(setup=self.setup_row).text)

    def test_a_hundred_thousand_words_are_kept_and_shown(self) -> None:
        text = "\n\n".join("word " * 100 for _ in range(1000))
        self.assertEqual(self.keep(text=text).status_code, 302)  # type: ignore[attr-defined]
        self.assertEqual(self.client.get(f"/setups/{self.setup_row.pk}/prompter/read/").content.count(b"<p "), 1000)

    def test_a_setup_without_screens_still_has_its_script(self) -> None:
        self.post(action="enter", thing="screens/laptop", picked="screens/laptop", field="on", value="")
        self.assertContains(self.client.get(f"/setups/{self.setup_row.pk}/prompter/"), "No screen is on")
        self.assertEqual(self.client.get(f"/setups/{self.setup_row.pk}/prompter/read/").status_code, 200)


class HandsOn(WebTest):
    def test_a_phone_is_hung_over_the_bench_and_an_old_page_is_told(self) -> None:
        path = f"/setups/{self.setup_row.pk}/hands/"
        page = self.client.get(path)
        self.assertContains(page, "No camera looks down")
        old = self.head().pk
        self.assertEqual(self.client.post(path, {"move": "hands.new_camera", "parent": old}).status_code, 302)
        self.assertContains(self.client.get(path), "Smallest print that reads")
        self.assertContains(self.client.post(path, {"move": "hands.height", "parent": old}), "nothing was done", status_code=409)
        self.assertContains(self.client.get(path, {"thing": "3 in"}), "a third of the")
        for typed in ("big", "0", "99 m", "<b>"):
            answer = self.client.get(path, {"thing": typed})
            self.assertContains(answer, "expected", status_code=422)
            self.assertNotIn(b"<b>", answer.content)


class TheDay(WebTest):
    def at(self, demo: str = "kitchen-table", what: str = "") -> str:
        return f"/setups/{Setup.objects.get(demo=demo).pk}/day/{what}"

    def test_the_call_s_own_date_and_any_other(self) -> None:
        own = self.client.get(self.at())
        self.assertContains(own, "26 November 2026")
        self.assertContains(own, "data-as-it-is")
        other = self.client.get(self.at(), {"date": "2026-03-29", "sky": "overcast"})
        self.assertContains(other, "The clock changes on this date")
        self.assertNotContains(other, "data-as-it-is")
        sheet = re.search(r'href="(/setups/\d+/day/\w+/2026-overcast\.png)"', other.content.decode())
        assert sheet is not None
        answer = self.client.get(sheet[1])
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/png"))
        self.assertEqual(self.client.get(sheet[1].replace("2026-", "2300-")).status_code, 404)
        self.assertEqual(self.client.get(sheet[1].replace("overcast", "purple")).status_code, 404)
        self.assertEqual(self.client.get(self.at(what="0" * 64 + "/2026-clear.png")).status_code, 404)

    def test_what_is_no_date_is_told_and_kept(self) -> None:
        for typed in ("soon", "2026-02-30", "1899-12-31", "2101-01-01", "<b>"):
            answer = self.client.get(self.at(), {"date": typed, "sky": "green"})
            self.assertContains(answer, "Expected a date from 1900 to 2100", status_code=422)
            self.assertNotIn(b"<b>", answer.content)
        for edge in ("1900-01-01", "2100-12-31"):
            self.assertEqual(self.client.get(self.at(), {"date": edge}).status_code, 200)
        self.assertEqual(self.client.get("/setups/999/day/").status_code, 404)
        self.assertEqual(self.client.post(self.at()).status_code, 405)

    def test_the_call_is_held_at_another_time_and_back(self) -> None:
        row = Setup.objects.select_related("head").get(demo="kitchen-table")
        assert row.head is not None
        change = {"parent": str(row.head.pk), "picked": "", "action": "when", "at": "2026-06-21T09:10", "sky": "overcast"}
        self.assertEqual(self.client.post(f"/setups/{row.pk}/light/change/", change).status_code, 302)
        row.refresh_from_db()
        assert row.head is not None
        self.assertEqual(row.head.words, "Call at 09:10 on 21 June 2026, overcast sky")
        self.assertEqual(read_setup(row.head.document.encode()).place.call_at.isoformat(), "2026-06-21T09:10:00")
        for wrong in ({"at": "noon"}, {"sky": "green"}, {"at": "1850-01-01T10:00"}, {"at": "2026-06-21T09:10+02:00"}):
            answer = self.client.post(f"/setups/{row.pk}/light/change/", change | {"parent": str(row.head.pk)} | wrong)
            self.assertEqual(answer.status_code, 422, wrong)
        self.client.post(f"/setups/{row.pk}/undo/", {"parent": str(row.head.pk), "stage": "light"})
        row.refresh_from_db()
        assert row.head is not None
        self.assertEqual(read_setup(row.head.document.encode()).place.call_at.day, 26)

    def test_a_room_without_windows_says_so(self) -> None:
        self.assertContains(self.client.get(self.at("clock-bench")), "The day")
        row = Setup.objects.select_related("head").get(demo="kitchen-table")
        assert row.head is not None
        flows.change(row.pk, row.head.pk, ({"op": "replace", "path": "/room/windows", "value": []},), "Bricked up")
        self.assertContains(self.client.get(self.at()), "This room has no window")
