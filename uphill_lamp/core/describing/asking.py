"""The quick start as it is asked: ten questions with pictures and three plain fields, and the setup that their answers make."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace as with_values
from datetime import datetime
from typing import Any

from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.describing.listing import free_id, free_name, leaf_paths
from uphill_lamp.core.describing.putting import put
from uphill_lamp.core.document.faults import Fault, Refused, shown
from uphill_lamp.core.document.patch import Operation, add, applied, replace
from uphill_lamp.core.document.quickstart import QUESTIONS, Answer, Question, setup_from_answers
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.typical import USUAL_PORTS
from uphill_lamp.core.earth.towns import exact, found
from uphill_lamp.core.scene.resizing import resized
from uphill_lamp.core.tape.earth_fields import at_town
from uphill_lamp.core.tape.quantities import Unreadable, read

OLD = {question.key: question for question in QUESTIONS}
UNKNOWN = "I don't know"


def _new(key: str, asks: str, answers: dict[str, str], several: bool = False, hint: str = "") -> Question:
    return Question(key, asks, tuple(Answer(*pair) for pair in answers.items()), next(iter(answers)), several, hint)


ASKED: tuple[Question, ...] = (
    OLD["camera"],
    OLD["height"],
    with_values(OLD["window"], several=True, hint="Choose all there are."),
    with_values(OLD["lamps"], asks="What is lit when you are on?"),
    OLD["behind"],
    _new("use", "What is it for?", {"live": "A live call", "audience": "Live, to an audience", "recorded": "A recording"}),
    _new("talk", "What do you speak into and hear with?", {
        "device_loud": "What is built in, and loudspeakers", "device_phones": "What is built in, and headphones", "earbuds": "Earbuds with a cord",
        "headset": "A headset", "desk_loud": "A microphone on the desk, and loudspeakers", "desk_phones": "A microphone on the desk, and headphones"}),
    _new("drawer", "What else could you use?", {
        "old_phone": "A phone", "earbuds_cord": "Earbuds with a cord", "wired_headset": "A headset", "books": "Thick books", "desk_lamp": "A lamp to borrow",
        "tabletop_tripod": "A small tripod", "white_sheet": "A white sheet"}, several=True, hint="Choose all that lie about the house."),
    _new("room", "What is the room like?", {
        "small_bare": "Small and bare", "small_furnished": "Small, with soft things", "large_bare": "Large and bare",
        "large_furnished": "Large, with soft things"}),
    _new("glasses", "Do you wear glasses?", {"none": "No", "plain": "Yes", "anti_reflective": "Yes, anti-reflective"}),
)  # fmt: skip
TALK = {"device_loud": ("device", "loudspeakers"), "device_phones": ("device", "headphones"), "earbuds": ("earbuds", "headphones"),
        "headset": ("headset", "headphones"), "desk_loud": ("desk_mic", "loudspeakers"), "desk_phones": ("desk_mic", "headphones")}  # fmt: skip
BOOKS = (("Thick book", 0.05), ("Another thick book", 0.04), ("Book", 0.03))
ROOMS = {"small": (2.6, 3.0), "large": (4.6, 5.0)}
PORTS = {
    "laptop": ["usb_a", "usb_c", "trrs", "hdmi"],
    "webcam": ["usb_a", "usb_a", "usb_a", "usb_c", "trs", "hdmi"],
    "phone": ["phone_port"],
}


def setup_asked(answers: Mapping[str, Any], plain: Mapping[str, str], name: str = "") -> Setup:
    """A complete setup: what was answered counts as entered, all else as assumed.

    Args:
        answers: question key to answer key, or to a list of them where several may be given; left out or empty where one does not know.
        plain: ``town``, ``date`` (local date and time) and ``money``, as typed.
        name: what the setup is called.

    Raises:
        Refused: with all that was not taken, by question or field.
    """
    given = {question.key: _keys(question, answers.get(question.key)) for question in ASKED}
    base: dict[str, Any] = {key: given[key][0] for key in ("camera", "height", "behind") if given[key]}
    if given["lamps"]:
        base["lamps"] = given["lamps"]
    windows = [key for key in given["window"] if key != "none"] or given["window"]
    if windows:
        base["window"] = windows[0]
    if given["talk"]:
        base["speak"], base["hear"] = TALK[given["talk"][0]]
    setup = setup_from_answers(base, name)
    operations = [replace("/computer/ports", USUAL_PORTS[setup.computer.kind])]
    setup = applied(setup, operations, origin=None)
    for where in windows[1:]:
        setup = _window_at(setup, where)
    setup = _told(setup, given)
    return _plainly(setup, plain)


def _keys(question: Question, value: Any) -> list[str]:
    keys = [key for key in (list(value) if isinstance(value, list | tuple) else [value]) if key]
    if not question.several and len(keys) > 1:
        raise Refused([Fault(f"/{question.key}", f"{len(keys)} answers", "one answer")])
    if wrong := next((key for key in keys if key not in question.keys), None):
        raise Refused([Fault(f"/{question.key}", shown(wrong), "one of " + ", ".join(sorted(question.keys)))])
    if len(keys) > 1 and {"nothing", "none"} & set(keys):
        raise Refused([Fault(f"/{question.key}", "some, and none", "either those there are or none")])
    return keys


def _window_at(setup: Setup, where: str) -> Setup:
    """Another window, on the wall answered."""
    room, presenter = setup.room, setup.presenter
    x_m, y_m = {
        "front": (presenter.x_m, room.depth_m),
        "behind": (presenter.x_m, 0.0),
        "left": (0.0, presenter.y_m),
        "right": (room.width_m, presenter.y_m),
    }[where]
    change = put(setup, "windows.window", (x_m, y_m))
    after = applied(setup, change.patch)
    return _entered(after, [f"/room/{change.handle}/wall"])


def _entered(setup: Setup, paths: Iterable[str]) -> Setup:
    origins = dict(setup.model_dump(mode="json", include={"origins"})["origins"])
    origins |= {leaf: "entered" for path in paths for leaf in leaf_paths(setup, path)}
    return applied(setup, (replace("/origins", origins),), origin=None)


def _told(setup: Setup, given: Mapping[str, list[str]]) -> Setup:
    operations: list[Operation] = []
    if given["use"]:
        operations.append(replace("/call/use", given["use"][0]))
        destination = {"audience": "webinar", "recorded": "recorded_lesson"}.get(given["use"][0])
        if destination:
            operations.append(replace("/call/destination", destination))
    if given["glasses"]:
        operations.append(replace("/presenter/glasses", given["glasses"][0]))
    if given["room"]:
        size, soft = given["room"][0].split("_")
        operations += resized(setup, dict(zip(("width_m", "depth_m"), _fitting(setup, *ROOMS[size]), strict=True)))
        if soft == "bare":
            operations.append(
                replace("/room/furnishings", [item.model_dump(mode="json") for item in setup.room.furnishings if item.kind == "person"])
            )
    setup = applied(setup, operations) if operations else setup
    if given["room"] and given["room"][0].endswith("furnished"):
        for kind in ("furnishings.rug", "furnishings.armchair"):
            setup = applied(setup, put(setup, kind).patch)
    for key in given["drawer"]:
        setup = _owned(setup, key)
    return setup


def _fitting(setup: Setup, width_m: float, depth_m: float) -> tuple[float, float]:
    """A room no smaller than what stands in it asks for."""
    return max(width_m, setup.desk.width_m + 0.8, setup.presenter.x_m + 0.6), max(depth_m, setup.desk.y_m + setup.desk.depth_m / 2 + 0.2)


def _owned(setup: Setup, key: str) -> Setup:
    """Something that lies about: into the drawer; a lamp to borrow stands in the room, switched off."""
    if key == "desk_lamp":
        change = put(setup, "lights.desk_lamp")
        lamp = change.handle.partition("/")[2]
        return applied(
            applied(setup, change.patch),
            (replace(f"/lights/{lamp}/name", free_name(setup, "lights", "Lamp to borrow")), replace(f"/lights/{lamp}/on", False)),
        )
    if key == "books":
        for words, thick_m in BOOKS:
            item = {
                "id": free_id(setup, words),
                "name": free_name(setup, "kit", words),
                "entry": "book",
                "thickness_m": thick_m,
                "count": 1,
            }
            setup = applied(setup, (add("/kit/-", item),))
        return setup
    kind = catalogue().kind(key)
    words = kind.name.split(",")[0] if kind else key.replace("_", " ").capitalize()
    return applied(setup, (add("/kit/-", {"id": free_id(setup, key), "name": free_name(setup, "kit", words), "entry": key, "count": 1}),))


def _plainly(setup: Setup, plain: Mapping[str, str]) -> Setup:
    """The three plain fields.

    Raises:
        Refused: with each that was not understood.
    """
    faults: list[Fault] = []
    if text := plain.get("town", "").strip():
        if (town := exact(text)) is not None:
            setup = applied(setup, at_town(setup, town))
        else:
            near = ", ".join(town.label for town in found(text)[:3])
            faults.append(Fault("/town", shown(text), f"a town of 15 000 people or more{f', such as {near}' if near else ''}, or nothing"))
    if text := plain.get("date", "").strip():
        try:
            moment = datetime.fromisoformat(text)
            setup = applied(setup, (replace("/place/call_at", moment.replace(tzinfo=None).isoformat()),))
        except (ValueError, Refused):
            faults.append(Fault("/date", shown(text), "a date and time, or nothing"))
    if text := plain.get("money", "").strip():
        try:
            setup = applied(setup, (replace("/preferences/budget", round(read("money", text, "cm"), 2)),))
        except (Unreadable, Refused):
            faults.append(Fault("/money", shown(text), "an amount from 0 to 100000, such as 60, or nothing"))
    if faults:
        raise Refused(faults)
    return setup
