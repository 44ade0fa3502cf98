"""Drafts while something is dragged: each begun at once, exposed as the place of the hand before it."""

from __future__ import annotations

import re
from concurrent.futures import Future
from unittest.mock import patch

from django.test import TestCase

from uphill_lamp.core.field.camera.metering import Metered
from uphill_lamp.web.bench import views
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Setup


def drawn(text: bytes, metered: Metered) -> Future[bytes | None]:
    there: Future[bytes | None] = Future()
    there.set_result(b"drawn")
    return there


def missing(text: bytes, metered: Metered) -> Future[bytes | None]:
    none: Future[bytes | None] = Future()
    none.set_result(None)
    return none


class Brief(TestCase):
    """Most previews of a drag judge only what their lines and drawings tell."""

    def setUp(self) -> None:
        flows.load_demo()
        self.row = Setup.objects.get(name="Clock bench, evening class")

    def preview(self, stage: str, thing: str, **more: str) -> str:
        values = {"action": "move", "thing": thing, "view": "side", "right": "0.02", "up": "0.07", "parent": str(self.row.head_id)}
        address = f"/setups/{self.row.pk}/{stage}/preview/"
        return self.client.post(address, values | more, headers={"X-Uphill-Fragment": "1"}).content.decode()

    def test_at_every_stage_its_lines_and_drawings_are_those_of_the_whole_answer(self) -> None:
        with patch.object(views.DRAFTSMAN, "begin", drawn):
            for stage in ("frame", "light", "sound", "eyes"):
                for thing in ("cameras/camera", "lights/bench-lamp", "presenter"):
                    whole, brief = self.preview(stage, thing), self.preview(stage, thing, brief="1")
                    for part in (
                        r'class="overlay-layer">.*?</svg>',
                        r'data-region="side".*?</section>',
                        r'data-region="plan".*?</section>',
                    ):
                        answer = [re.search(part, html, re.DOTALL) for html in (whole, brief)]
                        self.assertEqual(*(match and match[0] for match in answer), (stage, thing, part))
                    self.assertIn('alt="You', whole)
                    self.assertIn('alt=""', brief)  # what the picture shows is told with the figures

    def test_every_address_in_it_answers_whether_its_picture_is_there_or_not(self) -> None:
        self.preview("frame", "cameras/camera")
        for begin in (drawn, missing):
            with patch.object(views.DRAFTSMAN, "begin", begin):
                html = self.preview("frame", "cameras/camera", brief="1")
            for address in set(re.findall(r'"(/picture/[^"]+)"', html)):
                self.assertEqual(self.client.get(address).status_code, 200, address)


class Exposed(TestCase):
    def test_the_first_draft_waits_for_its_metering_and_the_next_takes_it_over(self) -> None:
        flows.load_demo()
        row = Setup.objects.get(name="Clock bench, evening class")
        asked: list[Metered] = []

        def begin(text: bytes, metered: Metered) -> Future[bytes | None]:
            asked.append(metered)
            return drawn(text, metered)

        form = {"action": "move", "thing": "lights/bench-lamp", "view": "plan", "right": "0", "parent": row.head_id, "picked": ""}
        views._exposed.forget()
        with patch.object(views.DRAFTSMAN, "begin", begin):
            for up in ("-0.1", "-0.3", "-0.3"):
                answer = self.client.post(f"/setups/{row.pk}/light/preview/", form | {"up": up}, headers={"X-Uphill-Fragment": "1"})
                self.assertContains(answer, "data:image/jpeg")
        first, second, rested = asked
        self.assertEqual(first, second)  # begun before its own place was metered
        self.assertNotEqual(second, rested)  # a hand at rest asks once more, and then it is right
        self.assertEqual(rested, views._exposed.get(row.head_id))
