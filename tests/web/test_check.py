"""Check on the page: a file in, the sheet out, figures taken over as measured; odd files, stale pages, other setups' takes, age."""

from __future__ import annotations

import io
import tempfile
from datetime import timedelta
from functools import cache
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings
from django.utils import timezone
from PIL import Image

from tests.looking.at_hand import measured_here
from tests.setups import REFERENCE, demo
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document import read_setup
from uphill_lamp.core.document.fields import kind_of
from uphill_lamp.drawings.far_side.render import render
from uphill_lamp.looking import measured
from uphill_lamp.web.check import takes
from uphill_lamp.web.check.models import Take
from uphill_lamp.web.check.state import state_of
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.startup import clear_takes

CLAPS = (REFERENCE / "clips" / "o5_claps.wav").read_bytes()


@cache
def picture() -> bytes:
    return render(appraise(demo("room-that-works")), 640).png()


class Check(TestCase):
    def setUp(self) -> None:
        flows.load_demo()
        self.row = Setup.objects.get(name="Kitchen table, morning")
        self.base = f"/setups/{self.row.pk}/check/"
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.enterContext(patch.object(takes, "STATE", Path(folder.name)))
        self.enterContext(measured_here())

    def document(self) -> Document:
        self.row.refresh_from_db()
        return read_setup(self.row.head.document.encode())  # type: ignore[union-attr]

    def send(self, data: bytes, name: str = "take.png") -> Any:
        return self.client.post(f"{self.base}measure/", {"file": SimpleUploadedFile(name, data)}, follow=True)

    def accept(self, take: Take, *figures: str, parent: int | None = None) -> Any:
        self.row.refresh_from_db()
        form = {"figure": list(figures), "parent": parent or self.row.head_id}
        return self.client.post(f"{self.base}{take.pk}/accept/", form, follow=True)

    def test_a_picture_is_held_against_the_plan_and_taken_over(self) -> None:
        self.assertContains(self.client.get(self.base), "Measure it")
        self.assertEqual(state_of(self.row, timezone.now()), "none")
        page = self.send(picture())
        self.assertContains(page, "differ from the plan")
        self.assertContains(page, "Take over: the lid stands at")
        take = Take.objects.get()
        self.assertEqual((take.kind, take.name, state_of(self.row, timezone.now())), ("still", "take.png", "fresh"))
        shown = self.client.get(f"{self.base}{take.pk}/picture.jpg")
        self.assertEqual((shown["Content-Type"], shown.content[:2]), ("image/jpeg", b"\xff\xd8"))
        before = self.document()
        self.accept(take, "picture.eye_line")
        after = self.document()
        changed = {path for path in after.origins if after.origins.get(path) != before.origins.get(path)}
        self.assertEqual([path.rsplit("/", 1)[1] for path in changed], ["hinge_deg"])
        note = after.origins[changed.pop()]
        self.assertEqual((kind_of(note), note.take, note.on), ("measured", "take.png", take.made_at.date()))  # type: ignore[union-attr]
        self.assertContains(self.client.get(f"{self.base}?take={take.pk}"), "as planned")
        self.assertEqual(state_of(Setup.objects.get(pk=self.row.pk), timezone.now()), "old")
        self.client.post(f"/setups/{self.row.pk}/undo/", {"parent": self.row.head_id, "stage": "frame"})
        self.assertEqual(self.document().origins, before.origins)

    def test_a_sound_changes_the_score_through_the_room(self) -> None:
        self.assertContains(self.send(CLAPS, "claps.wav"), "Take over: the room rings for")
        score = appraise(self.document()).score
        self.accept(Take.objects.get(), "sound.t20_s")
        self.assertNotEqual(appraise(self.document()).score, score)
        self.assertContains(self.client.get(self.base), "as planned")
        self.assertFalse(list((takes.STATE / "takes").glob("*")), "the file itself is not kept")

    def test_odd_files_are_told_and_nothing_is_kept(self) -> None:
        loud = io.BytesIO()
        soundfile.write(loud, np.full(48000, np.nan), 48000, format="WAV", subtype="FLOAT")
        for name, data, said in (
            ("words.mp4", b"#EXTM3U", "neither a picture nor a sound"),
            ("<script>alert(1)</script>.png", b"\x89PNG broken", "broken or cut off"),
            ("nan.wav", loud.getvalue(), "no numbers"),
        ):
            answer = self.send(data, name)
            self.assertContains(answer, said, status_code=422)
            self.assertNotContains(answer, "<script>alert", status_code=422)
        self.assertContains(self.client.post(f"{self.base}measure/"), "Choose a file first", status_code=422)
        self.assertEqual(Take.objects.count(), 0)
        self.assertFalse(list((takes.STATE / "takes").glob("*")))

    def test_marks_put_by_hand_measure_anew_and_odd_ones_are_told(self) -> None:
        wall = io.BytesIO()
        Image.fromarray(np.full((360, 640, 3), 110, np.uint8)).save(wall, "PNG")
        self.assertContains(self.send(wall.getvalue()), "no face was found")
        take = Take.objects.get()
        put = {"left_eye": "360 150", "right_eye": "280 150", "chin": "320 250", "crown": "320 70"}
        page = self.client.post(f"{self.base}{take.pk}/marks/", put, follow=True)
        self.assertContains(page, "marks put by hand")
        figures = {figure["id"]: figure["value"] for figure in Take.objects.get().report["figures"]}
        self.assertEqual((figures["picture.eye_line"], figures["picture.head_share"], figures["picture.roll"]), (0.4167, 0.5, 0.0))
        for odd in ({"chin": "320"}, {"chin": "nan 3"}, {"chin": "1e9 3"}, {"chin": "<b> 2"}, {"chin": "320 70"}, {}):
            wrong = put | odd if odd else {}
            self.assertEqual(self.client.post(f"{self.base}{take.pk}/marks/", wrong).status_code, 422, odd)
        self.assertIsNone(figures["picture.paper_cct"])
        self.client.post(f"{self.base}{take.pk}/marks/", put | {"paper": "500 300"})
        figures = {figure["id"]: figure for figure in Take.objects.get().report["figures"]}
        self.assertAlmostEqual(figures["picture.paper_cct"]["value"], 6504, delta=60)
        self.assertIn("does not say how it was exposed", figures["picture.paper_lx"]["refused"])
        self.assertEqual(self.client.post(f"{self.base}{take.pk}/marks/", put | {"paper": "5000 300"}).status_code, 422)
        self.send(CLAPS, "claps.wav")
        sound = Take.objects.get(kind="sound")
        self.assertEqual(self.client.post(f"{self.base}{sound.pk}/marks/", put).status_code, 404)

    def test_only_this_page_may_use_the_camera_and_a_led_test_is_answered_in_words(self) -> None:
        self.assertIn("camera=(self)", self.client.get(self.base)["Permissions-Policy"])
        self.assertIn("camera=()", self.client.get(f"/setups/{self.row.pk}/wiring/")["Permissions-Policy"])

        def send(known: str = "", notes: str = "", **files: bytes) -> Any:
            names = {"sound": "led test.wav", "still": "led test.png", "clip": "led test.webm", "sent": "sent.wav"}
            parts = {name: SimpleUploadedFile(names.get(name, name), data) for name, data in files.items()}
            return self.client.post(f"{self.base}measure/", {**parts, "notes": notes, "known": known}, headers={"X-Take": "led"})

        answer = send(sound=CLAPS, notes="picture 1280 × 720 px; <b>loud</b>;" + "x" * 500 + ";;" + "y;" * 40)
        take = Take.objects.get()
        self.assertEqual(answer.json(), {"address": f"{self.base}?take={take.pk}"})
        self.assertLessEqual(max(map(len, take.report["notes"])), 60)
        self.assertLessEqual(len(take.report["notes"]), takes.MOST_NOTES)
        self.assertNotContains(self.client.get(answer.json()["address"]), "<b>loud")
        whole_voice, rate = soundfile.read(REFERENCE / "clips" / "o1_close_quiet.wav")
        voice = io.BytesIO()
        soundfile.write(voice, whole_voice[: 4 * rate], rate, format="WAV")
        for odd in ("[" * 100_000, '{"lens_s": [' + "[1, 2], " * 100_000 + "[1, 2]]}", "nonsense", '{"lens_s": [[1, "x"]]}'):
            self.assertEqual(send(odd, still=picture()).status_code, 200)
        address = send(sound=CLAPS, still=picture(), sent=voice.getvalue(), echo=voice.getvalue()).json()["address"]
        whole = Take.objects.first()
        assert whole is not None
        self.assertEqual((whole.kind, whole.report["sent"][0]["id"]), ("clip", "sound.speech_active_dbfs"))
        self.assertEqual(len({figure["id"] for figure in whole.report["figures"]}), len(whole.report["figures"]))
        echo = next(figure for figure in whole.report["figures"] if figure["id"] == "sound.echo_db")
        self.assertTrue(echo["refused"] or echo["value"] is not None)
        page = self.client.get(address)
        for words in ("As a call sends it", "Your loudspeakers heard back", "Tone against a usual voice", "Eye line", "Reverberation"):
            self.assertContains(page, words)
        for said, files in (("neither a picture nor a sound", {"sound": b"no sound"}), ("neither sound nor picture", {"other": CLAPS}),
                            ("found still", {"still": CLAPS}), ("neither sound nor picture", {"sent": CLAPS})):  # fmt: skip
            refused = send(**files)
            self.assertEqual(refused.status_code, 422)
            self.assertIn(said, refused.json()["fault"].lower())

    def test_stale_pages_and_takes_of_others_are_refused(self) -> None:
        self.send(picture())
        take, other = Take.objects.get(), Setup.objects.get(name="A room that works")
        self.assertContains(self.accept(take, "picture.eye_line", parent=1), "has changed since", status_code=409)
        for path in (f"/setups/{other.pk}/check/?take={take.pk}", f"/setups/{other.pk}/check/{take.pk}/picture.jpg", f"{self.base}?take=x",
                     f"{self.base}?take=99999999999999"):  # fmt: skip
            self.assertEqual(self.client.get(path).status_code, 404, path)
        self.assertEqual(self.client.post(f"/setups/{other.pk}/check/{take.pk}/mark/", {"do": "delete"}).status_code, 404)
        before = self.document()
        self.accept(take, "picture.burnt_out", "no.such", "../x")
        self.assertEqual(self.document(), before)

    def test_how_far_a_file_is_is_told_by_its_name_alone_and_it_is_stopped_on_wish(self) -> None:
        name, told = "0123456789abcdef" * 2, []

        def looked_at(jobs: Any, cancelled: Any, tell: Any) -> list[Any]:
            tell(0.25)
            told.append(self.client.get(f"/measure/underway/{name}/").json())
            told.append(self.client.get(f"/measure/underway/{'0' * 32}/").json())
            told.append(self.client.post(f"/measure/underway/{name}/").json())
            return measured.measured_all(jobs, cancelled, tell)

        with patch.object(takes, "measured_all", side_effect=looked_at):
            page = self.client.post(f"{self.base}measure/", {"file": SimpleUploadedFile("a.wav", CLAPS), "underway": name})
            self.client.post(f"{self.base}measure/", {"file": SimpleUploadedFile("a.wav", b"-"), "underway": "../" + name[3:]})
        self.assertEqual([(answer["share"], answer["stopped"]) for answer in told[:3]], [(0.25, False), (None, False), (0.25, True)])
        self.assertEqual(told[3]["share"], None)  # no name at all
        self.assertContains(page, "Stopped. Nothing was kept.", status_code=422)
        self.assertEqual((Take.objects.count(), self.client.get(f"/measure/underway/{name}/").json()["share"]), (0, None))

    def test_takes_go_by_age_by_number_and_by_request_and_a_good_one_stays(self) -> None:
        self.send(picture())
        take = Take.objects.get()
        self.client.post(f"{self.base}{take.pk}/mark/", {"do": "good"})
        later = timezone.now() + timedelta(days=31)
        with (
            patch.object(takes, "measured_all", side_effect=lambda *asked: [{**take.report, "preview": ""}]),
            patch.object(takes, "MOST_KEPT", 2),
        ):
            for _ in range(4):
                self.send(picture())
        self.assertEqual(Take.objects.count(), 3)
        takes.forget_old(later)
        self.assertEqual(Take.objects.get().pk, take.pk)
        self.assertEqual(state_of(self.row, later), "old")
        self.client.post(f"{self.base}{take.pk}/mark/", {"do": "plain"})
        self.client.post(f"{self.base}{take.pk}/mark/", {"do": "delete"})
        self.assertEqual(Take.objects.count(), 0)
        (takes.STATE / "takes").mkdir(parents=True, exist_ok=True)
        (takes.STATE / "takes" / "left").write_bytes(b"half")
        clear_takes(takes.STATE)
        self.assertFalse(list((takes.STATE / "takes").glob("*")))


class Others(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.kept = Path(folder.name) / "takes"
        self.kept.mkdir()
        for change in (patch.object(takes, "STATE", Path(folder.name)), override_settings(FILE_UPLOAD_TEMP_DIR=self.kept), measured_here()):
            self.enterContext(change)

    def test_several_files_of_anybody_stand_side_by_side_or_as_csv(self) -> None:
        page = self.client.get("/measure/")
        self.assertContains(page, "Measure them")
        self.assertContains(self.client.get("/files/"), "/measure/")
        files = lambda: [  # noqa: E731
            SimpleUploadedFile("=cmd().png", picture()), SimpleUploadedFile("claps.wav", CLAPS), SimpleUploadedFile("<b>.mp4", b"no film")
        ]  # fmt: skip
        told = self.client.post("/measure/", {"files": files(), "shot": "call_tile"})
        for words in ("Eye line", "Reverberation", "Come nearer to the microphone", "neither a picture nor a sound"):
            self.assertContains(told, words)
        self.assertNotContains(told, "<b>.mp4")
        table = self.client.post("/measure/", {"files": files(), "shot": "waist", "as": "csv"}).content.decode("utf-8-sig")
        self.assertIn("'=cmd().png,picture.eye_line", table)
        self.assertIn("sound.t20_s", table)
        for form, said in (({"shot": "call_tile"}, "Choose one file"), ({"files": files(), "shot": "x"}, "what the picture is for"),
                           ({"files": [SimpleUploadedFile("a.wav", b"a")] * 9, "shot": "waist"}, "too many")):  # fmt: skip
            self.assertContains(self.client.post("/measure/", form), said, status_code=422)
        self.assertEqual(list(self.kept.iterdir()), [])
