"""What the pages of one's own room answer: putting, towns, history, names, the quick start's two screens."""

from __future__ import annotations

from tests.web.test_pages import WebTest
from uphill_lamp.core.document import read_setup
from uphill_lamp.web.setups.models import Setup


class OwnRoom(WebTest):
    def document(self):  # type: ignore[no-untyped-def]
        self.setup_row.refresh_from_db()
        return read_setup(self.setup_row.head.document.encode())  # type: ignore[union-attr]

    def test_what_is_put_is_selected_and_odd_wishes_are_refused(self) -> None:
        path = f"/setups/{self.setup_row.pk}/light/"
        self.assertContains(self.client.get(f"{path}things/?x=1.2&y=0.5"), 'name="x" value="1.200"')
        self.assertContains(self.client.get(f"{path}things/?x=nan&y=9e9"), 'name="x" value=""')
        self.assertEqual(self.client.get(f"/setups/{self.setup_row.pk}/nowhere/things/").status_code, 404)
        answer = self.post(action="put", kind="lights.ring", picked="")
        self.assertContains(answer, 'data-picked="lights/ring"')
        self.assertEqual(self.document().lights[-1].id, "ring")
        for odd in ({"kind": "lights.none"}, {"kind": "lights.ring", "x": "a", "y": "1"}, {"kind": "lights.ring", "kit": "nothing" * 40}):
            self.assertIn(self.post(action="put", picked="", **odd).status_code, (200, 422))
        self.assertEqual(self.post(action="take", thing="screens/laptop", picked="screens/laptop").status_code, 422)
        self.assertEqual(self.post(action="take", thing="lights/ring", picked="lights/ring").status_code, 200)
        self.assertIn("ring_light", [item.entry for item in self.document().kit])

    def test_many_setups_are_found_and_sorted(self) -> None:
        self.assertNotContains(self.client.get("/"), 'name="sort"')
        for name in ("Alpha", "Omega", "Beta", "Gamma"):
            self.client.post(f"/setups/{self.setup_row.pk}/copy/", {"name": name})
        page = self.client.get("/?sort=name").content.decode()
        self.assertLess(page.index("<strong>Alpha"), page.index("<strong>Beta"))
        newest = self.client.get("/?sort=newest").content.decode()
        self.assertLess(newest.index("<strong>Gamma"), newest.index("<strong>Alpha"))
        for odd in ("score", "x' OR 1", ""):
            self.assertEqual(self.client.get(f"/?sort={odd}&find=a").status_code, 200)

    def test_towns_as_one_types(self) -> None:
        self.assertEqual(
            self.client.get("/towns/?find=inverness").json()["towns"][0], {"label": "Inverness, GB", "country": "United Kingdom"}
        )
        self.assertEqual(self.client.get("/towns/?find=" + "%F0%9F%92%A1" * 500).json(), {"towns": []})

    def test_history_is_listed_compared_and_brought_back(self) -> None:
        first = self.head().pk
        self.post(action="put", kind="lights.ring", picked="")
        self.post(action="put", kind="lights.strip", picked="")
        page = f"/setups/{self.setup_row.pk}/past/"
        self.assertContains(self.client.get(page), "Put here: Ring light")
        self.assertContains(self.client.get(f"{page}{first}/"), "Then and now")
        self.assertEqual(self.client.get(f"{page}999999/").status_code, 404)
        self.assertEqual(self.client.post(f"{page}{first}/back/", {"parent": first}).status_code, 409)
        count = self.setup_row.revisions.count()
        self.assertEqual(self.client.post(f"{page}{first}/back/", {"parent": self.head().pk}).status_code, 302)
        self.assertEqual((self.setup_row.revisions.count(), len(self.document().lights)), (count + 1, 2))
        for _ in range(55):
            self.post(action="turn", thing="desk", degrees="1", picked="desk")
        self.assertContains(self.client.get(f"{page}?page=2"), "Loaded with the demo")

    def test_names_and_the_next_ten_calls(self) -> None:
        path = f"/setups/{self.setup_row.pk}/"
        self.assertEqual(self.client.post(f"{path}rename/", {"name": "My bench"}).status_code, 302)
        self.setup_row.refresh_from_db()
        self.assertEqual((self.setup_row.name, self.document().name), ("My bench", "My bench"))
        self.assertContains(self.client.post(f"{path}rename/", {"name": ""}), "cannot be its name", status_code=422)
        self.assertEqual(self.client.post(f"{path}copy/", {"name": "My bench"}).status_code, 302)
        self.assertTrue(Setup.objects.filter(name="My bench 2").exists())
        self.assertNotContains(self.client.get(f"{path}day/"), "The next ten")
        self.post(action="enter", thing="", field="repeats", value="weekly", picked="")
        self.assertContains(self.client.get(f"{path}day/"), "1 Dec 2026, 19:00")

    def test_the_quick_starts_two_screens_keep_all_and_tell_what_is_wrong(self) -> None:
        answers = {"camera": "phone", "window": ["left", "behind"], "lamps": ["ceiling"]}
        second = self.client.post("/setups/new/", answers | {"next": "1"})
        self.assertContains(second, 'type="hidden" name="window" value="behind"')
        wrong = self.client.post("/setups/new/", answers | {"town": "Nowhere-under-the-sea", "money": "lots", "use": "recorded"})
        self.assertContains(wrong, "a town of 15 000 people or more", status_code=422)
        self.assertContains(wrong, 'value="Nowhere-under-the-sea"', status_code=422)
        self.assertContains(wrong, "an amount from 0", status_code=422)
        done = self.client.post(
            "/setups/new/",
            answers
            | {
                "town": "Oslo",
                "money": "60",
                "use": "recorded",
                "drawer": ["books", "desk_lamp"],
                "room": "large_bare",
                "glasses": "plain",
            },
        )
        self.assertEqual(done.status_code, 302)
        made = read_setup(Setup.objects.order_by("-id")[0].head.document.encode())  # type: ignore[union-attr]
        self.assertEqual(
            (made.place.label, made.call.use, made.presenter.glasses, len(made.room.windows), made.computer.ports),
            ("Oslo", "recorded", "plain", 2, ("phone_port",)),
        )
        self.assertEqual(
            (made.origins["/call/use"], made.origins["/presenter/glasses"], len([item for item in made.kit if item.entry == "book"])),
            ("entered", "entered", 3),
        )
        self.assertFalse(made.lights[-1].on)
