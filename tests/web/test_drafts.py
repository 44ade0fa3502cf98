"""Drafts while something is dragged: each begun at once, exposed as the place of the hand before it."""

from __future__ import annotations

from concurrent.futures import Future
from unittest.mock import patch

from django.test import TestCase

from uphill_lamp.core.light.metering import Metered
from uphill_lamp.web.bench import views
from uphill_lamp.web.setups import flows
from uphill_lamp.web.setups.models import Setup


class Exposed(TestCase):
    def test_the_first_draft_waits_for_its_metering_and_the_next_takes_it_over(self) -> None:
        flows.load_demo()
        row = Setup.objects.get(name="Clock bench, evening class")
        asked: list[Metered] = []

        def begin(text: bytes, metered: Metered) -> Future[bytes | None]:
            asked.append(metered)
            drawn: Future[bytes | None] = Future()
            drawn.set_result(b"drawn")
            return drawn

        form = {"action": "move", "thing": "lights/bench-lamp", "view": "plan", "right": "0", "parent": row.head_id, "picked": ""}
        views._exposed.clear()
        with patch.object(views.DRAFTSMAN, "begin", begin):
            for up in ("-0.1", "-0.3", "-0.3"):
                answer = self.client.post(f"/setups/{row.pk}/light/preview/", form | {"up": up}, headers={"X-Uphill-Fragment": "1"})
                self.assertContains(answer, "data:image/jpeg")
        first, second, rested = asked
        self.assertEqual(first, second)  # begun before its own place was metered
        self.assertNotEqual(second, rested)  # a hand at rest asks once more, and then it is right
        self.assertEqual(rested, views._exposed[row.head_id])
