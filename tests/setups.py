"""Setups that several tests start from."""

from __future__ import annotations

import json
import os
from functools import cache
from pathlib import Path
from typing import Any

from hypothesis import strategies as st

from uphill_lamp.core.document import Refused, Setup, applied, read_setup, typical
from uphill_lamp.core.document.quickstart import QUESTIONS, setup_from_answers

ROOT = Path(__file__).parent
DEMO = ROOT.parent / "uphill_lamp" / "web" / "setups" / "demo"
REFERENCE = Path(os.environ.get("UPHILL_REFERENCE", ROOT / "reference"))  # other cases of the same form can be run by the same tests


@cache
def demo(name: str = "clock-bench") -> Setup:
    return read_setup((DEMO / f"{name}.uphill.json").read_bytes())


def demos() -> list[str]:
    return sorted(path.name.removesuffix(".uphill.json") for path in DEMO.glob("*.json"))


@cache
def reference(name: str) -> Any:
    return json.loads((REFERENCE / f"{name}.json").read_text())


def put(setup: Setup, **values: Any) -> Setup:
    """A setup with values at paths given as ``presenter__x_m=1.2``; ids keep their hyphens as ``_h_``."""
    patch = [{"op": "replace", "path": "/" + path.replace("_h_", "-").replace("__", "/"), "value": value} for path, value in values.items()]
    return applied(setup, patch)


answers = st.fixed_dictionaries(
    {
        question.key: st.lists(st.sampled_from(sorted(question.keys - {"nothing"})), unique=True)
        if question.several
        else st.sampled_from(sorted(question.keys))
        for question in QUESTIONS
    }
)
any_setup = st.builds(setup_from_answers, answers)


@st.composite
def varied_setups(draw: Any) -> Setup:
    """Valid setups well beyond the quick start's: every mount, odd lenses, several screens, standing, narrow rooms, kit, schools."""
    setup = draw(any_setup)
    number = lambda low, high: draw(st.floats(low, high))  # noqa: E731
    camera, eyes = setup.main_camera, (setup.presenter.x_m, setup.presenter.y_m, setup.presenter.eye_height_m)
    values: dict[str, Any] = {
        "preferences__shot": draw(st.sampled_from(["call_tile", "head_and_shoulders", "waist"])),
        "preferences__camera_height": draw(st.sampled_from(["eye_level", "slightly_above"])),
        "preferences__side_position": draw(st.sampled_from(["centred", "third"])),
        "preferences__budget": draw(st.sampled_from([0.0, 40.0, 150.0])),
        "cameras__camera__zoom": draw(st.sampled_from([1.0, 1.0, 1.3, 3.0])),
        "cameras__camera__roll_deg": draw(st.sampled_from([0.0, 0.0, 2.0, -6.0])),
        "presenter__facing_yaw_deg": number(-12, 12),
        "presenter__posture": draw(st.sampled_from(["sitting", "standing"])),
        "presenter__chair": draw(st.sampled_from(["none", "low_back", "high_back"])),
        "desk__height_range": draw(st.sampled_from([None, {"low_m": 0.6, "high_m": 1.25}])),
        "call__destination": draw(st.sampled_from(["call_tile", "webinar", "vertical_clip", "square", "interview"])),
        "call__slides": draw(st.sampled_from(["none", "beside", "corner"])),
        "kit": draw(st.sampled_from([[], [{"id": "old-phone", "name": "Old phone", "entry": "old_phone"}, {"id": "holder", "name": "Holder",
        "entry": "phone_holder"},
                                          {"id": "book", "name": "Thick book", "entry": "book", "thickness_m": 0.05, "count": 4}]])),
    }  # fmt: skip
    for screen in setup.screens:
        left, top = draw(st.integers(0, 900)), draw(st.integers(0, 500))
        values |= {f"screens__{screen.id}__windows__call__{key}": value for key, value in
                   {"left_px": left, "top_px": top, "width_px": draw(st.integers(300, 900)), "height_px": draw(st.integers(200, 500))}.items()}  # fmt: skip
        if draw(st.booleans()):
            notes = {
                "id": "notes",
                "name": "Notes",
                "shows": "notes",
                "left_px": draw(st.integers(0, 1200)),
                "top_px": draw(st.integers(0, 700)),
                "width_px": 500,
                "height_px": 300,
            }
            values[f"screens__{screen.id}__windows"] = [screen.windows[0].model_dump(mode="json") | {"left_px": left, "top_px": top}, notes]
            values = {key: value for key, value in values.items() if "windows__call" not in key}
    if draw(st.booleans()):
        mount = draw(st.sampled_from(["tripod", "arm", "wall", "holder"]))
        kind = draw(st.sampled_from(["webcam", "capture", "phone_rear"]))
        loose = typical.camera(kind, mount, position={"x_m": eyes[0] + number(-0.4, 0.4), "y_m": eyes[1] + number(0.35, 1.3), "z_m": number(0.9, 1.7)},
                               yaw_deg=180 + number(-25, 25), tilt_deg=number(-25, 25))  # fmt: skip
        if kind == "capture":
            loose["focus"] = draw(st.sampled_from([{"kind": "auto"}, {"kind": "manual", "distance_m": 1.4}]))
            loose["lens"] = loose["lens"] | {
                "f_number": draw(st.sampled_from([1.4, 2.8])),
                "focal_length_m": draw(st.sampled_from([0.016, 0.03, 0.05])),
            }
        values["cameras"] = [loose]
        if draw(st.booleans()):
            values["cameras"] = [loose, camera.model_dump(mode="json") | {"id": "spare", "name": "Spare", "use": "spare"}]
        values = {key: value for key, value in values.items() if not key.startswith("cameras__")}
    if kind := draw(st.sampled_from(["", "bed", "clutter", "door", "mirror", "plant", "papers"])):
        place = {"x_m": setup.room.width_m * number(0.15, 0.85), "y_m": setup.room.depth_m * number(0.03, 0.3), "z_m": number(0.8, 1.6)}
        seen = (
            {"private": draw(st.booleans())} if kind == "papers" else {"moves": draw(st.booleans())} if kind in ("plant", "clutter") else {}
        )
        seen["held"] = draw(st.sampled_from(["not_said", "hangs", "screwed"]))
        values["backdrop"] = [thing.model_dump(mode="json") for thing in setup.backdrop] + [
            typical.backdrop(kind, "drawn", place, name="Drawn", **seen)
        ]
    try:
        return put(setup, **values)
    except Refused:
        return setup
