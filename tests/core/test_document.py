"""The document: what is refused and how it is said, patches, origins, migration, schema, quick start."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import TestCase, mock

import jsonschema
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.setups import ROOT, any_setup, demo, demos, put
from uphill_lamp.core.document import Refused, applied, read_setup, setup_from, written
from uphill_lamp.core.document.quickstart import QUESTIONS, setup_from_answers
from uphill_lamp.core.document.schema import expected_at, setup_schema
from uphill_lamp.core.measuring.figure import measures_schema
from uphill_lamp.core.report import report_schema
from uphill_lamp.core.scene.placing import camera_pose, face_of
from uphill_lamp.core.steps.plans import plans_schema

Change = Callable[[dict[str, Any]], object]

# What is done to a good document, the path that must be named, and words that must be said about it.
FAULTS: list[tuple[str, Change, str, str]] = [
    ("wrong type", lambda d: d["desk"].update(height_m="high"), "/desk/height_m", "a number from 0.3 to 1.6"),
    ("truth for a number", lambda d: d["desk"].update(height_m=True), "/desk/height_m", "a number"),
    ("out of range", lambda d: d["room"].update(height_m=9), "/room/height_m", "from 1.9 to 5"),
    ("missing", lambda d: d["desk"].pop("yaw_deg"), "/desk/yaw_deg", "this field"),
    ("unknown key", lambda d: d["lights"][1].update(wattage=40), "/lights/bench-lamp/wattage", "only the keys"),
    ("no such kind", lambda d: d["lights"][1].update(kind="torch"), "/lights/bench-lamp/kind", "one of bulb, cone"),
    ("no such finish", lambda d: d["room"]["surfaces"].update(floor="lava"), "/room/surfaces/floor", "carpet_thin"),
    ("no such zone", lambda d: d["place"].update(timezone="Mars/Olympus"), "/place/timezone", "time zone"),
    ("offset in the time", lambda d: d["place"].update(call_at="2026-01-01T10:00:00+01:00"), "/place/call_at", "without an offset"),
    ("repeated name", lambda d: d["lights"][1].update(name="Ceiling lamp"), "/lights/bench-lamp/name", "only once"),
    ("repeated id", lambda d: d["lights"][1].update(id="ceiling-lamp"), "/lights/ceiling-lamp/id", "only once"),
    ("pane beyond its wall", lambda d: d["room"]["windows"][0].update(width_m=5.0), "/room/windows/window/width_m", "0 to 3.40 m"),
    ("pane through the ceiling", lambda d: d["room"]["windows"][0].update(height_m=2.0), "/room/windows/window/height_m", "below the ceiling"),
    ("lamp in a wall", lambda d: d["lights"][1]["position"].update(x_m=3.2), "/lights/bench-lamp/position/x_m", "inside the room"),
    ("lid's camera in the wall", lambda d: d["screens"][0]["position"].update(y_m=3.37), "/cameras/camera", "inside the room"),
    ("head through the ceiling", lambda d: d["presenter"].update(eye_height_m=2.2) or d["room"].update(height_m=2.2),
    "/presenter/eye_height_m", "below the ceiling"),
    ("no main camera", lambda d: d["cameras"][0].update(use="spare"), "/cameras", "exactly one"),
    ("camera on no screen", lambda d: d["cameras"][0].update(on_screen="tv"), "/cameras/camera/on_screen", "laptop"),
    ("lens twice", lambda d: d["cameras"][0]["lens"].update(focal_length_m=0.004), "/cameras/camera/lens", "not both"),
    ("hinge on a monitor", lambda d: d["screens"][0].update(kind="monitor"), "/screens/laptop", "hinge_deg for a laptop"),
    ("call window off its screen", lambda d: d["screens"][0]["windows"][0].update(left_px=1800), "/screens/laptop/windows/call", "1920 x 1080"),
    ("bidi override", lambda d: d.update(name="safe\u202egnp.exe"), "/name", "without control or direction marks"),
    ("control character", lambda d: d["desk"].update(name="x") or d.update(name="a\x07b"), "/name", "without control"),
    ("origin for nothing", lambda d: d["origins"].update({"/lights/none/dim": "entered"}), "/origins//lights/none/dim", "a path of this setup"),
    ("huge whole number", lambda d: d["screens"][0].update(width_px=10**30), "/screens/laptop/width_px", "ordinary size"),
    ("two microphones", lambda d: d["microphones"].append({**d["microphones"][0], "id": "b", "name": "B"}), "/microphones", "one at most"),
]  # fmt: skip


def plain(name: str = "clock-bench") -> dict[str, Any]:
    return json.loads(written(demo(name)))


class Reading(TestCase):
    def test_each_fault_is_named_by_path_with_what_was_expected(self) -> None:
        for name, change, path, expected in FAULTS:
            with self.subTest(name):
                data = plain()
                change(data)
                with self.assertRaises(Refused) as caught:
                    setup_from(data)
                self.assertTrue(
                    any(fault.path == path and expected in fault.expected for fault in caught.exception.faults),
                    [str(fault) for fault in caught.exception.faults],
                )

    def test_files_that_are_no_setup_are_refused_in_one_clear_line(self) -> None:
        good = written(demo())
        bad: dict[str, bytes] = {
            "no JSON at line 1": b"{oops",
            "no UTF-8": b"\xff\xfe\x00",
            "a list of 0": b"[]",
            "nothing (null)": b'{"version": 1}',
            "'other/thing'": b'{"format": "other/thing", "version": 1}',
            "newer": b'{"format": "uphill-lamp/setup", "version": 3}',
            "nested too deeply": b"[" * 9_000,
            "lists in [ ]": b"[" * 1_900_000,
            "20.0 MB": b"[" * 20_000_000,
            "nan": good.replace('"dim": 1.0', '"dim": NaN').encode(),
            "inf": good.replace('"dim": 1.0', '"dim": 1e999').encode(),
            "the key 'dim' twice": good.replace('"dim": 1.0', '"dim": 1.0, "dim": 0.5', 1).encode(),
        }
        for words, content in bad.items():
            with self.subTest(words):
                with self.assertRaises(Refused) as caught:
                    read_setup(content)
                for line in str(caught.exception).splitlines():
                    self.assertRegex(line, r"^/.*: found .+; expected .+")
                self.assertIn(words, str(caught.exception))

    def test_names_of_any_script_are_kept_to_the_letter(self) -> None:
        for name in ("Мій стіл", "私の机 🕰", "مكتبي", "<script>alert(1)</script>", "क्षेत्र"):
            setup = put(demo(), name=name)
            self.assertEqual(read_setup(written(setup).encode()).name, name)

    @given(st.binary(max_size=300) | st.recursive(st.none() | st.booleans() | st.floats() | st.text(max_size=8), lambda v: st.lists(v,
    max_size=4) | st.dictionaries(st.text(max_size=8), v, max_size=4)).map(lambda v: json.dumps(v).encode()))  # fmt: skip
    def test_nothing_but_a_refusal_comes_of_rubbish(self, content: bytes) -> None:
        with self.assertRaises(Refused):
            read_setup(content)

    @given(st.data())
    def test_nothing_but_a_refusal_comes_of_a_good_file_with_a_part_broken(self, data: Any) -> None:
        document: Any = plain()
        node, key = document, ""
        while isinstance(node, (dict, list)) and node:
            parent, key = node, data.draw(st.sampled_from(sorted(node) if isinstance(node, dict) else range(len(node))))
            node = parent[key]
            if data.draw(st.integers(0, 3)) == 0:
                break
        parent[key] = data.draw(st.sampled_from([None, -1, 1e300, "", "x" * 500, [], {}, True, float("nan"), [[]], {"id": 3}]))
        try:
            setup_from(document)
        except Refused as refused:
            self.assertTrue(all(fault.expected and fault.found for fault in refused.faults))


class Keeping(TestCase):
    @given(any_setup)
    def test_every_answer_gives_a_whole_setup_that_reads_back_alike(self, setup: Any) -> None:
        self.assertEqual(read_setup(written(setup).encode()), setup)
        self.assertEqual(set(setup.origins.values()), {"entered"})

    def test_what_the_words_of_an_answer_say_is_what_the_bench_then_shows(self) -> None:
        """Every camera at every height and distance: lens over the eyes and way to them within 2 cm of the figures in the words."""
        asked = {question.key: question for question in QUESTIONS}
        for camera in asked["camera"].answers:
            for height in asked["height"].answers:
                for distance in asked["distance"].answers:
                    setup = setup_from_answers({"camera": camera.key, "height": height.key, "distance": distance.key})
                    lens = camera_pose(setup, setup.main_camera).place - face_of(setup).eyes
                    answer = int("".join(filter(str.isdigit, height.words)) or 0) * (1 if "above" in height.key else -1)
                    away = int("".join(filter(str.isdigit, distance.words)))
                    self.assertAlmostEqual(100 * lens[2], answer, delta=2, msg=(camera.key, height.words, distance.words))
                    self.assertAlmostEqual(100 * float(np.linalg.norm(lens)), away, delta=2, msg=(camera.key, height.words, distance.words))

    def test_an_answer_given_counts_as_entered_and_nothing_else_does(self) -> None:
        self.assertEqual(setup_from_answers({}).origins, {})
        self.assertEqual(setup_from_answers({"lamps": []}, "").origins, {})
        for question in QUESTIONS:
            for answer in question.answers:
                setup = setup_from_answers({question.key: [answer.key] if question.several else answer.key})
                empty = (question.key, answer.key) in {("window", "none"), ("behind", "wall"), ("behind", "room")}
                self.assertEqual(bool(setup.origins), not empty, (question.key, answer.key))
        self.assertEqual(setup_from_answers({}, "Mine").origins, {"/name": "entered"})

    def test_at_most_ten_questions_and_every_drawn_answer_is_taken(self) -> None:
        self.assertLessEqual(len(QUESTIONS), 10)
        for question in QUESTIONS:
            for answer in question.answers:
                setup_from_answers({question.key: [answer.key] if question.several else answer.key})
        for wrong in ({"camera": "drone"}, {"lamps": ["sun"]}, {"lamps": ["ceiling", "nothing"]}, {"camera": ["laptop", "phone"]}):
            with self.assertRaises(Refused):
                setup_from_answers(wrong)

    def test_a_version_0_file_is_brought_up_to_date(self) -> None:
        old = plain()
        old["version"] = 0
        old["presenter"]["eye_height_cm"] = old["presenter"].pop("eye_height_m") * 100
        old["origins"]["/presenter/eye_height_cm"] = old["origins"].pop("/presenter/eye_height_m")
        old["computer"]["headphones"] = old["computer"].pop("listening") == "headphones"
        untouched = copy.deepcopy(old)
        self.assertEqual(setup_from(old), demo())
        self.assertEqual(old, untouched)

    def test_the_committed_schemas_are_those_of_the_code_and_hold_the_demo(self) -> None:
        docs = ROOT.parent / "docs"
        self.assertEqual(json.loads((docs / "setup.schema.json").read_text()), setup_schema())
        self.assertEqual(json.loads((docs / "appraisal.schema.json").read_text()), report_schema())
        self.assertEqual(json.loads((docs / "steps.schema.json").read_text()), plans_schema())
        self.assertEqual(json.loads((docs / "measures.schema.json").read_text()), measures_schema())
        validator = jsonschema.Draft202012Validator(setup_schema())
        for name in demos():
            validator.validate(plain(name))
        self.assertFalse(validator.is_valid(plain() | {"colour": "red"}))
        self.assertEqual(expected_at("/nowhere/at/all"), "")

    def test_no_file_of_the_package_names_a_registry(self) -> None:
        for path in Path(ROOT.parent, "requirements").glob("*.txt"):
            self.assertNotRegex(path.read_text(), r"https?://|--[a-z-]*(index|links)")


def _paths(value: Any, path: str = "") -> list[str]:
    """Every path in plain data, groups and lists too; things by their ids."""
    inner = (
        value.items()
        if isinstance(value, dict)
        else [(item["id"], item) for item in value if "id" in item]
        if isinstance(value, list)
        else ()
    )
    return [path, *(deeper for key, part in inner if key != "origins" for deeper in _paths(part, f"{path}/{key}"))]


_PATHS = [path for path in _paths(plain("standing-webinar")) if path]
_VALUES = st.one_of(
    st.none(), st.booleans(), st.floats(allow_nan=True), st.integers(-5, 10**20), st.sampled_from(["desk", "a\u202eb", "bench-lamp", " x"]),
    st.just([]), st.just({}), st.just({"x_m": 1.0, "y_m": 1.0, "z_m": 1.2}), st.just(plain("standing-webinar")["lights"][0]),
)  # fmt: skip


def _operation(at: int, kind: str, value: Any) -> dict[str, Any]:
    """An operation on one of the paths, at the end of a list now and then, or beside what there is."""
    path = _PATHS[at % len(_PATHS)] + ("", "", "", "/-", "/none", "/id")[at % 6]
    return {"op": kind, "path": path} | ({} if kind == "remove" else {"value": value})


def _outcome(patch: Any, origin: Any) -> tuple[str, str]:
    """What comes of a patch: the document as a file, or what was said against it."""
    try:
        return "taken", written(applied(demo("standing-webinar"), patch, origin))
    except Refused as refused:
        return "refused", str([(fault.path, fault.found, fault.expected) for fault in refused.faults])


class Patching(TestCase):
    def test_things_are_named_by_id_and_origins_follow(self) -> None:
        setup = applied(demo(), [{"op": "replace", "path": "/lights/bench-lamp/dim", "value": 0.4}])
        self.assertEqual((setup.lights[1].dim, setup.origins["/lights/bench-lamp/dim"]), (0.4, "entered"))
        self.assertEqual(setup.origin_of("/lights/bench-lamp/dim", "/lights/bench-lamp/cct_k"), "assumed")
        measured = applied(setup, [{"op": "replace", "path": "/lights/bench-lamp/dim", "value": 0.4}], origin="measured")
        self.assertEqual(measured.origin_of("/lights/bench-lamp/dim"), "measured")
        gone = applied(setup, [{"op": "remove", "path": "/lights/bench-lamp"}])
        self.assertFalse([path for path in gone.origins if path.startswith("/lights/bench-lamp")])
        with self.assertRaises(Refused):
            applied(setup, [{"op": "replace", "path": "/lights/bench-lamp/id", "value": "other"}])  # the dim's origin would be left behind
        own = applied(demo(), [{"op": "replace", "path": "/room/surfaces/floor", "value": {"reflectance": 0.2, "absorption": [0.1] * 7}}])
        with self.assertRaises(Refused):  # as whole it had origins of its own
            applied(own, [{"op": "replace", "path": "/room/surfaces/floor", "value": demo().room.surfaces.floor}], origin=None)
        lamp = plain()["lights"][1] | {"id": "second", "name": "Second lamp"}
        more = applied(gone, [{"op": "add", "path": "/lights/-", "value": lamp}])
        self.assertEqual([light.id for light in more.lights], ["ceiling-lamp", "second"])

    def test_a_patch_is_taken_wholly_or_not_at_all(self) -> None:
        before = written(demo())
        good = {"op": "replace", "path": "/lights/bench-lamp/dim", "value": 0.4}
        for bad in (
            {"op": "replace", "path": "/lights/none/dim", "value": 1},
            {"op": "replace", "path": "/lights/bench-lamp/dim", "value": 2},
            {"op": "move", "path": "/name"},
            {"op": "replace", "path": "name", "value": "x"},
            {"op": "replace", "path": "/name"},
            {"op": "remove", "path": "/desk"},
            {"op": "replace", "path": "/name/deeper", "value": 1},
        ):
            with self.assertRaises(Refused):
                applied(demo(), [good, bad])
        self.assertEqual(written(demo()), before)

    @given(
        st.lists(
            st.builds(_operation, st.integers(0, 10**6), st.sampled_from(["add", "replace", "replace", "remove"]), _VALUES),
            min_size=1,
            max_size=3,
        )
    )
    def test_parts_checked_by_themselves_come_to_the_same_as_the_whole(self, patch: Any) -> None:
        for origin in ("entered", None):
            quick = _outcome(patch, origin)
            with mock.patch("uphill_lamp.core.document.patch.with_parts", return_value=None):
                self.assertEqual(quick, _outcome(patch, origin))
