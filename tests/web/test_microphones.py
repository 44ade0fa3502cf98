"""Microphones side by side, taken into use, and heard."""

from __future__ import annotations

import io
import re
from pathlib import Path
from unittest.mock import patch

import numpy as np
import soundfile
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from uphill_lamp.core.document import read_setup
from uphill_lamp.web.microphones import hearing
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Setup


class SideBySide(TestCase):
    def setUp(self) -> None:
        flows.load_demo()
        self.setup_row = Setup.objects.get(name="Clock bench, evening class")
        self.page = f"/setups/{self.setup_row.pk}/microphones/"

    def test_every_kind_is_there_with_its_figures(self) -> None:
        answer = self.client.get(self.page)
        for words in (
            "Laptop microphone",
            "Earbuds of the spare phone",
            "Headset",
            "Dynamic microphone",
            "Condenser",
            "in use",
            "This room wants",
        ):
            self.assertContains(answer, words)
        self.assertGreaterEqual(answer.content.decode().count("Clarity by pitch:"), 10)
        self.assertEqual(self.client.get("/setups/9999/microphones/").status_code, 404)

    def test_one_from_the_drawer_is_taken_into_use_and_a_stale_page_is_told(self) -> None:
        head = self.setup_row.head_id
        used = self.client.post(self.page, {"use": "Earbuds of the spare phone", "parent": head})
        self.assertEqual(used.status_code, 302)
        self.setup_row.refresh_from_db()
        document = read_setup(self.setup_row.head.document.encode())  # type: ignore[union-attr]
        self.assertEqual(document.microphone_in_use.kind, "earbud_cord")  # type: ignore[union-attr]
        self.assertEqual(document.computer.listening, "headphones")
        again = self.client.post(self.page, {"use": "Earbuds of the spare phone", "parent": head})
        self.assertEqual(again.status_code, 409)
        self.assertContains(again, "nothing was done", status_code=409)
        self.assertEqual(self.client.post(self.page, {"use": "<b>none</b>", "parent": head}).status_code, 409)

    def test_a_microphone_is_heard_once_worked_out(self) -> None:
        address = re.search(r'"address": "([0-9a-f]+/[0-9a-f]+)"', self.client.get(self.page).content.decode())[1]  # type: ignore[index]
        sound = b"".join(self.client.get(f"/hear/{address}/high.wav").streaming_content)  # type: ignore[arg-type]
        samples, rate = soundfile.read(io.BytesIO(sound))
        self.assertGreater(len(samples) / rate, 5)
        with patch.object(hearing, "rendered", side_effect=AssertionError("worked out twice")):
            self.assertEqual(b"".join(self.client.get(f"/hear/{address}/high.wav").streaming_content), sound)  # type: ignore[arg-type]
        for wrong in (f"{address}/nobody", f"{address}/own-0123456789abcdef", f"{'0' * 64}/abc/high", f"{address.split('/')[0]}/abc/high"):
            self.assertEqual(self.client.get(f"/hear/{wrong}.wav").status_code, 404, wrong)

    def test_ones_own_voice_and_what_is_none(self) -> None:
        file = io.BytesIO()
        soundfile.write(file, 0.2 * np.sin(np.arange(32000) * 0.3), 16000, format="WAV")
        kept = self.client.post("/hear/own/", {"file": SimpleUploadedFile("voice.wav", file.getvalue())})
        self.assertEqual(kept.status_code, 200)
        self.assertTrue((Path(settings.STATE) / "heard" / f"{kept.json()['voice']}.npy").exists())
        for upload in ({"file": SimpleUploadedFile("voice.wav", b"text")}, {}):
            refused = self.client.post("/hear/own/", upload)
            self.assertEqual(refused.status_code, 422)
            self.assertIn("expected", refused.json()["fault"])
        self.assertEqual(self.client.put("/hear/own/").status_code, 405)
