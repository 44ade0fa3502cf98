"""The ladder: what its actions are, its promises kept, its scenarios."""

from __future__ import annotations

import itertools
from dataclasses import replace as replace_values
from types import SimpleNamespace
from typing import Any
from unittest import TestCase
from unittest.mock import patch

from tests.setups import demo, put
from tests.step_words import words_hold
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.catalogue.meant import using
from uphill_lamp.core.catalogue.prices import Catalogue, catalogue
from uphill_lamp.core.catalogue.table import shipped
from uphill_lamp.core.document import Setup, applied, typical
from uphill_lamp.core.document.patch import add, remove, replace
from uphill_lamp.core.judging import Cost
from uphill_lamp.core.steps.action import Action
from uphill_lamp.core.steps.candidates import at_once, gathered
from uphill_lamp.core.steps.hands import minutes_each_time, minutes_of
from uphill_lamp.core.steps.ladder import Ladder, climbed
from uphill_lamp.core.steps.pareto_front import hull_of
from uphill_lamp.core.steps.rungs import Completed, Step, _shown_together, rungs_of
from uphill_lamp.core.steps.score_cache import ScoreCache
from uphill_lamp.core.steps.shopping import shopping_list
from uphill_lamp.core.steps.table import MOST_COMBINATIONS, choice_of, filled

LADDERS: dict[tuple[str, float, int], Ladder] = {}
WEIGHTS = {"frame": 0.2, "light": 0.3, "sound": 0.4, "eyes": 0.1}


def made(name: str, amount: float, areas: Any, needs: Any = (), slot: str = "", path: str = "") -> Action:
    cost = Cost("buy", amount, "GBP") if amount else Cost("free")
    return Action(name, name, (replace(path or f"/{name}", name),), cost, needs=frozenset(needs), slot=slot, areas=frozenset(areas))


class Actions(TestCase):
    def test_conflicts_come_from_what_is_written(self) -> None:
        lone = made("one", 0, ["light"], path="/lights/a/dim")
        self.assertTrue(lone.clashes(made("two", 0, ["light"], path="/lights/a/dim")))
        self.assertTrue(lone.clashes(made("three", 0, ["light"], path="/lights/a")))
        self.assertFalse(lone.clashes(made("four", 0, ["light"], path="/lights/ab/dim")))
        same = Action("five", "", (replace("/lights/a/dim", "one"),), Cost("free"))
        self.assertFalse(lone.clashes(same))  # both write the same: no harm
        self.assertFalse(lone.clashes(made("six", 0, ["light"], needs=["one"], path="/lights/a/dim")))
        takes = [Action(name, "", (remove("/kit/phone"),), Cost("owned")) for name in ("torch", "camera")]
        self.assertTrue(takes[0].clashes(takes[1]))  # one phone is used once
        added = [Action(name, "", (add("/lights/-", {"id": name}),), Cost("free")) for name in ("x", "y")]
        self.assertFalse(added[0].clashes(added[1]))

    def test_one_step_out_of_two_says_where_its_lamp_ends(self) -> None:
        wall, face = " and aim it at the wall", " and aim it at your face"

        def step(name: str, title: str, aim: str, detail: str, **fields: Any) -> Action:
            patch = tuple(replace(f"/lights/a/{field.replace('__', '/')}", value) for field, value in fields.items())
            return Action(name, title, patch, Cost("free"), detail=detail, aim=aim)

        lit = step("bounce", f"Turn on the lamp{wall}", wall, "50 lx.", aim_yaw_deg=3.0, on=True)
        turned = step("bounce", "Aim the lamp at the wall", "Aim the lamp at the wall", "60 lx.", aim_yaw_deg=4.0)
        moved = step("move", f"Move the lamp{face}", face, "At 1 m.", position__x_m=1.0, aim_yaw_deg=9.0)
        soft = step("soft", f"Move the lamp{face}, with paper", face, "At 2 m.", position__x_m=2.0, aim_yaw_deg=8.0, diffuser=True)
        for first, action, title, detail in (
            (turned, moved, f"Move the lamp{face}", "At 1 m."),
            (lit, moved, f"Turn on the lamp; move the lamp{face}", "At 1 m."),
            (moved, turned, "Move the lamp; aim the lamp at the wall", "At 1 m. 60 lx."),
            (soft, moved, soft.title, "At 1 m."),
        ):
            one_step = at_once(first, action)
            self.assertEqual((one_step.title, one_step.detail, one_step.told_between(demo(), demo())), (title, detail, detail))
        again = at_once(at_once(moved, turned), step("put", f"Move the lamp{face}", face, "At 3 m.", position__x_m=3.0, aim_yaw_deg=7.0))
        self.assertEqual((again.title, again.detail), (f"Move the lamp{face}", "At 3 m."))

    def test_putting_patches_together_never_writes_into_them(self) -> None:
        """An action's patch holds whole things; doing another on top must not change what the first says."""
        setup = demo()
        new = typical.microphone("headset", "new-headset", "New headset")
        first = (replace("/microphones/laptop-mic/in_use", False), add("/microphones/-", new))
        applied(setup, (*first, replace("/microphones/new-headset/in_use", False)))
        self.assertTrue(new["in_use"])
        self.assertTrue(applied(setup, first).microphone_in_use)


def ladder_of(setup: Setup, limit: float, most: int = 120) -> Ladder:
    """A ladder over fewer combinations than the app weighs, so that it is there in a second or two; each worked out once."""
    key = setup.model_dump_json(), limit, most
    if key not in LADDERS:
        with patch("uphill_lamp.core.steps.ladder.MOST_COMBINATIONS", most):
            LADDERS[key] = climbed(appraise(setup), limit)
    return LADDERS[key]


def titles(ladder: Ladder, number: int) -> set[str]:
    return {action.id for action in ladder.rungs[number].chosen}


def carries_none_twice(test: TestCase, ladder: Ladder) -> None:
    """No rung puts a lamp down in two places."""
    for rung in ladder.rungs:
        put_where = [path for action in rung.chosen for path in action.writes if path.endswith("/position/x_m")]
        test.assertEqual(len(put_where), len(set(put_where)), rung.score)


class Nila(TestCase):
    """The clock bench with 60 pounds."""

    ladder: Ladder

    @classmethod
    def setUpClass(cls) -> None:
        cls.setup_document = demo()
        cls.ladder = ladder_of(cls.setup_document, 120.0, MOST_COMBINATIONS)

    def test_it_starts_with_free_steps_and_uses_what_she_owns(self) -> None:
        first = self.ladder.rungs[0]
        self.assertEqual(first.cost, 0)
        self.assertGreater(first.gain, 30)
        self.assertTrue(all(step.action.cost.kind != "buy" for step in first.steps))
        self.assertIn("sound.use_microphone.phone-earbuds", titles(self.ladder, 0))  # her spare phone's
        self.assertIn("frame.raise_camera", titles(self.ladder, 0))  # on her own books

    def test_each_rung_and_step_keeps_its_promise(self) -> None:
        for rung in self.ladder.rungs:
            after = applied(self.setup_document, [operation for action in rung.chosen for operation in action.patch])
            self.assertAlmostEqual(appraise(after).score, rung.score, places=6)
        done: list[Action] = []
        for step in self.ladder.rungs[0].steps:  # every prefix is a whole setup, worth what it says
            done.append(step.action)
            if step.with_next:
                continue
            ordered = [action for action in self.ladder.actions.values() if action in done]
            after = applied(self.setup_document, [operation for action in ordered for operation in action.patch])
            self.assertAlmostEqual(appraise(after).score, step.score, places=6)

    def test_no_rung_carries_a_lamp_twice(self) -> None:
        carries_none_twice(self, self.ladder)

    def test_the_words_of_each_step_are_so_when_it_is_done(self) -> None:
        words_hold(self, self.setup_document, self.ladder)

    def test_money_buys_less_from_rung_to_rung_and_it_stops_where_it_should(self) -> None:
        rungs = self.ladder.rungs
        slopes = [(b.score - a.score) / (b.cost - a.cost) for a, b in itertools.pairwise(rungs)]
        self.assertEqual(slopes, sorted(slopes, reverse=True))
        frugal = ladder_of(put(demo("standing-webinar"), preferences__money_per_point=0.5), 15.0)
        self.assertEqual((len(frugal.rungs), frugal.stop), (2, 0))
        for rung in rungs[1 : self.ladder.stop + 1]:
            self.assertGreaterEqual(rung.gain * 25, rung.paid - rungs[rungs.index(rung) - 1].paid - 1e-9)
        spent = self.ladder.within(60.0)
        self.assertLessEqual(spent.cost, 60)
        self.assertTrue(all(point.score <= spent.score for point in self.ladder.front if point.cost <= 60))

    def test_it_is_the_same_every_time(self) -> None:
        first = ladder_of(demo("room-that-works"), 20.0)
        again = ladder_of(put(demo("room-that-works"), name="Another name"), 20.0)
        self.assertEqual(again.front, first.front)
        self.assertEqual([rung.chosen for rung in again.rungs], [rung.chosen for rung in first.rungs])

    def test_never_and_must(self) -> None:
        never, must = {"sound.bring_nearer", "eyes.move_call_window"}, "eyes.move_slides"  # which gains nothing, and stays all the same
        ladder = ladder_of(put(demo("standing-webinar"), preferences__never=sorted(never), preferences__must=[must]), 20.0)
        for number in range(len(ladder.rungs)):
            self.assertFalse(never & titles(ladder, number))
            self.assertIn(must, titles(ladder, number))
        self.assertEqual({out.action.id for out in ladder.left_out if out.why == "you chose to leave it out"}, never)

    def test_minutes_are_a_price_where_nothing_stays_set_up(self) -> None:
        setup = demo("standing-webinar")
        whole = ladder_of(setup, 20.0)
        for most in (0.0, 5.0):
            wished = put(setup, preferences__rig_stays=False, preferences__minutes_each_time=most)
            short = ladder_of(wished, 20.0)
            for rung in short.rungs:
                self.assertLessEqual(sum(minutes_each_time(action, wished) for action in rung.chosen), most)
            self.assertLess(short.rungs[-1].score, whole.rungs[-1].score)
            self.assertTrue(any(out.why == "it takes longer each time than you want" for out in short.left_out) or most)
        stays = ladder_of(put(wished, preferences__rig_stays=True), 20.0)  # what stays set up takes no minutes
        self.assertEqual([rung.score for rung in stays.rungs], [rung.score for rung in whole.rungs])

    def test_minutes_come_from_what_is_moved_and_from_the_catalogue(self) -> None:
        setup = put(demo("kitchen-table"), kit=[{"id": "ring", "name": "My ring", "entry": "ring_light"}])
        kinds = shipped()
        box, cable = kinds["audio_interface"], kinds["xlr_cable"]
        buys = Action("buy", "", (add("/microphones/-", {"id": "new"}),), Cost("buy", 80, "GBP", (box.entry, cable.entry)))
        self.assertEqual(minutes_of(buys, setup), 3 + box.minutes_once + cable.minutes_once)
        self.assertEqual(minutes_each_time(buys, setup), box.minutes_each_time + cable.minutes_each_time)
        owned = Action("own", "", (remove("/kit/ring"), add("/lights/-", {"id": "ring"})), Cost("owned"))
        self.assertEqual(minutes_of(owned, setup), 5 + kinds["ring_light"].minutes_once)
        self.assertEqual(minutes_each_time(owned, setup), 3)
        seat = Action("seat", "", (replace("/presenter/x_m", 1.0),), Cost("free"))
        self.assertEqual((minutes_of(seat, setup), minutes_each_time(seat, setup)), (2, 0))
        slow = Catalogue({**kinds, box.entry: box.model_copy(update={"minutes_each_time": 9.0})})
        with using(slow):
            self.assertEqual(minutes_each_time(buys, setup), 9)

    def test_however_much_bears_on_several_areas_it_is_there_soon(self) -> None:
        with patch("uphill_lamp.core.steps.ladder.MOST_FIXED", 4):
            ladder = ladder_of(put(demo("standing-webinar"), name="Few"), 20.0)
        self.assertGreater(ladder.rungs[0].gain, 20)
        self.assertTrue(any("too many steps" in out.why for out in ladder.left_out))

    def test_nothing_to_spend_and_prices_of_nothing(self) -> None:
        given_away = {entry: kind.model_copy(update={"price": 0.0}) for entry, kind in list(shipped().items())[::3]}
        with using(Catalogue(given_away)):
            rich = ladder_of(put(demo("standing-webinar"), name="Given away"), 0.0)
        self.assertEqual([rung.cost for rung in rich.rungs], [0.0])
        with using(Catalogue({entry: kind.model_copy(update={"price": 99_999.0}) for entry, kind in shipped().items()})):
            self.assertEqual(len(ladder_of(put(demo("room-that-works"), name="Dear"), 20.0).rungs), 1)

    def test_nothing_owned_and_everything_owned(self) -> None:
        bare = ladder_of(put(demo("standing-webinar"), kit=[]), 40.0)
        self.assertEqual(bare.rungs[0].cost, 0)
        kit = [
            {"id": entry.replace("_", "-")[:40], "name": kind.name, "entry": entry} for entry, kind in shipped().items() if entry != "book"
        ][:60]
        rich = ladder_of(put(demo("standing-webinar"), kit=kit), 0.0)
        self.assertGreater(rich.rungs[0].score, bare.rungs[0].score)

    def test_the_shopping_list_adds_up_to_the_rung(self) -> None:
        for rung in self.ladder.rungs:
            rows = shopping_list(rung.chosen, "GBP")
            self.assertAlmostEqual(sum(row.amount for row in rows), rung.cost)
            self.assertTrue(all(row.priced_on for row in rows))


class Shown(TestCase):
    def test_no_step_shows_a_loss_wherever_in_a_rung_it_stands(self) -> None:
        """A first step that loses is told with the next; a last one with those before it. The end is the same."""
        for gains, wanted in (((-2.0, 5.0), [0.0, 3.0]), ((1.0, 4.0, -2.5), [1.0, 0.0, 1.5]), ((3.0, 1.0, -3.5), [0.0, 0.0, 0.5])):
            steps, score = list[Step](), 50.0
            for number, gain in enumerate(gains):
                score += gain
                steps.append(Step(Action(str(number), "", (), Cost("free")), gain, score, ()))
            shown = _shown_together(steps)
            self.assertEqual([round(step.gain, 9) for step in shown], wanted)
            self.assertAlmostEqual(shown[-1].score, score)
            self.assertTrue(all(step.with_next for step in shown if not step.gain))


class KitchenTable(TestCase):
    """Nila's second place, with 15 pounds: her phone on a holder is the camera."""

    def test_the_phone_she_owns_films_where_the_laptop_cannot_be_raised_far_enough(self) -> None:
        worth = ScoreCache(appraise(put(demo("kitchen-table"), preferences__budget=15.0)))
        weighed = gathered(worth.base, worth)
        phone = next(action for action in weighed.actions if action.id == "frame.use_camera.spare-phone")
        self.assertEqual(phone.amount, 12)  # its holder
        self.assertGreater(weighed.alone[phone.id], 3)

    def test_a_second_round_is_never_worse_than_the_first(self) -> None:
        with patch("uphill_lamp.core.steps.ladder.ROUNDS", 1):
            first = ladder_of(put(demo("kitchen-table"), name="One round"), 40.0)
        both = ladder_of(demo("kitchen-table"), 40.0)
        for point in first.front:
            self.assertGreaterEqual(both.within(point.cost).score, point.score - 1e-9)
        carries_none_twice(self, both)


class Scenarios(TestCase):
    def test_a_noisy_echoing_room_gets_the_headset_before_the_camera(self) -> None:
        setup = put(demo("kitchen-table"), kit=[], preferences__budget=150.0)
        ladder = ladder_of(setup, 150.0)
        bought = [
            next((action.id for action in rung.chosen if action.amount and action.id.startswith("sound.")), None) for rung in ladder.rungs
        ]
        camera = [any(action.id.startswith("frame.catalogue") for action in rung.chosen) for rung in ladder.rungs]
        first_voice = next(index for index, name in enumerate(bought) if name)
        self.assertIn("headset", bought[first_voice] or "")
        self.assertFalse(any(camera[: first_voice + 1]))

    def test_who_wears_glasses_is_not_sold_a_ring_at_the_lens(self) -> None:
        only_light = {"sound": 0, "light": 100, "frame": 0, "eyes": 0, "backdrop": 0}
        setup = put(demo("standing-webinar"), presenter__glasses="plain", lights=[], preferences__weights=only_light)
        for rung in ladder_of(setup, 150.0).rungs:
            self.assertFalse([action.id for action in rung.chosen if "ring" in action.id])

    def test_a_condenser_never_comes_without_48_v(self) -> None:
        setup = put(demo(), preferences__budget=400.0)
        worth = ScoreCache(appraise(setup))
        actual = [action for action in gathered(worth.base, worth).actions if "condenser" in action.id or "shotgun" in action.id]
        left = [out.action for out in gathered(worth.base, worth).left_out if "condenser" in out.action.id or "shotgun" in out.action.id]
        self.assertTrue(actual or left)
        for action in (*actual, *left):
            after = worth.whole_document([action])
            self.assertTrue(after.microphone_in_use.input.phantom_48v)  # type: ignore[union-attr]
            self.assertIn("audio_interface", action.cost.entries)
            self.assertTrue(any("48 V" in caution for caution in action.cautions))
        no_power = shipped() | {"audio_interface": shipped()["audio_interface"].model_copy(update={"attributes": {"phantom": "no"}})}
        with using(Catalogue(no_power)):
            again = gathered(worth.base, worth)
            every = [*again.actions, *(out.action for out in again.left_out)]
            self.assertFalse([action.id for action in every if "condenser" in action.id or "shotgun" in action.id])

    def test_a_camera_with_menus_on_its_output_is_never_the_main_camera(self) -> None:
        setup = put(demo(), preferences__budget=1000.0)
        worth = ScoreCache(appraise(setup))
        gathered_actions = gathered(worth.base, worth)
        every = {action.id for action in (*gathered_actions.actions, *(out.action for out in gathered_actions.left_out))}
        self.assertIn("frame.catalogue.camera_clean", every)
        self.assertNotIn("frame.catalogue.camera_menus", every)

    def test_a_cheap_camera_now_and_a_better_one_later_costs_both(self) -> None:
        """Two cameras in one place: walking over the cheap one pays for both, buying the better at once does not."""
        dear, cheap = made("better", 100, ["frame"], slot="camera"), made("cheap", 40, ["frame"], slot="camera")
        scores = {frozenset(): 10.0, frozenset(["cheap"]): 60.0, frozenset(["better"]): 95.0}

        def valued(area: Any, chosen: Any) -> float:
            return scores[frozenset(action.id for action in chosen)] if area == "frame" else 50.0

        hull = hull_of(filled(choice_of([dear, cheap], 200), valued, {"frame": 1.0}).front({"frame": 1.0}))
        self.assertEqual([(point.cost, sorted(point.chosen)) for point in hull], [(0, []), (40, ["cheap"]), (100, ["better"])])
        entries = {"cheap": "webcam_wide", "better": "camera_clean"}
        shop = {name: catalogue().price(entry, "GBP") or 0.0 for name, entry in entries.items()}
        actions = {name: replace_values(action, cost=Cost("buy", shop[name], "GBP", (entries[name],))) for name, action in
                   (("cheap", cheap), ("better", dear))}  # fmt: skip
        worth = SimpleNamespace(
            base=SimpleNamespace(score=10.0, setup=demo()), of=lambda chosen: scores[frozenset(action.id for action in chosen)],
            document=lambda chosen: [action.id for action in chosen], apart=lambda *_: False, taken_in=lambda *_: None,
        )  # fmt: skip
        beyond = [Completed((actions[name],), score) for name, score in (("cheap", 60.0), ("better", 95.0))]
        nothing, first, last = rungs_of([], beyond, actions, worth, demo().preferences)  # type: ignore[arg-type]
        self.assertEqual((nothing.cost, first.wasted, last.superfluous), (0.0, 0.0, (actions["cheap"],)))
        self.assertAlmostEqual(last.paid, shop["cheap"] + shop["better"])
        self.assertAlmostEqual(last.wasted, shop["cheap"])

    def test_what_is_bought_on_a_rung_is_not_thrown_away_on_the_next(self) -> None:
        bulb, headset = made("bulb", 9, ["light"]), made("headset", 25, ["sound"])
        beyond = [Completed((bulb,), 85.0), Completed((headset,), 90.0)]
        for both, limit, wanted in ((90.5, 60.0, ["bulb", "bulb headset"]), (89.0, 60.0, ["bulb", "bulb headset"]), (90.5, 30.0, ["bulb"])):
            scores = {"": 80.0, "bulb": 85.0, "headset": 90.0, "bulb headset": both}
            worth = SimpleNamespace(
                base=SimpleNamespace(score=80.0, setup=demo()), of=lambda chosen, scores=scores: scores[" ".join(sorted(action.id for action in chosen))],
                document=lambda chosen: [action.id for action in chosen], apart=lambda *_: False, taken_in=lambda action, chosen, _: [*chosen, action],
            )  # fmt: skip
            actions = {"bulb": bulb, "headset": headset}
            rungs = rungs_of([], beyond, actions, worth, demo().preferences, limit)  # type: ignore[arg-type]
            self.assertEqual([" ".join(action.id for action in rung.chosen) for rung in rungs], ["", *wanted], (both, limit))
            self.assertEqual(rungs[-1].cost, sum(actions[name].amount for name in wanted[-1].split()))

    def test_what_was_done_for_nothing_is_not_undone_on_a_dearer_rung(self) -> None:
        """Though that costs a little; and where nothing would be gained with it, that rung is passed over."""
        page, bulb = made("page", 0, ["light"]), made("bulb", 9, ["light"], path="/lights/a")
        lamp, camera = made("lamp", 30, ["light"], path="/lights/b"), made("camera", 100, ["frame"])
        panel = made("panel", 30, ["light"], path="/page/panel")  # in the page's place
        poster = made("poster", 0, ["light"], path="/page/poster")  # there as well, and free
        worths = {"page": 0.5, "bulb": 4.5, "lamp": 5.5, "panel": 5.5, "poster": 5.5, "camera": 5.0}
        for dear, harm, wanted in (
            (lamp, 1.0, ["bulb page", "bulb lamp page", "bulb camera lamp page"]),
            (lamp, 6.0, ["bulb page", "bulb camera lamp page"]),
            (panel, 1.0, ["bulb page", "bulb panel", "bulb camera panel"]),
            (poster, 1.0, ["bulb page", "bulb camera page"]),
        ):

            def score(chosen: Any, dear: Action = dear, harm: float = harm) -> float:
                spoilt = harm if page in chosen and dear in chosen else 0.0
                return 80.0 + sum(worths[action.id] for action in chosen) - spoilt

            worth = SimpleNamespace(
                base=SimpleNamespace(score=80.0, setup=demo()), of=score, document=lambda chosen: [action.id for action in chosen], apart=lambda *_: False,
                taken_in=lambda action, chosen, _: [*(member for member in chosen if not member.clashes(action)), action],
            )  # fmt: skip
            actions = {action.id: action for action in (page, bulb, dear, camera)}
            sets = [(page, bulb), *([(bulb, dear)] if dear.amount else []), (bulb, dear, camera)]
            beyond = [Completed(chosen, score(chosen)) for chosen in sets]
            rungs = rungs_of([], beyond, actions, worth, demo().preferences)  # type: ignore[arg-type]
            self.assertEqual([" ".join(sorted(action.id for action in rung.chosen)) for rung in rungs[1:]], wanted)
