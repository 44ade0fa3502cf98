"""Lines of the run sheet from the last minutes to the log."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core import cautions
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.readiness.budgets import on_battery, records
from uphill_lamp.core.readiness.line import Line


def carrying_phones(setup: Setup) -> list[str]:
    """What the call or its picture or sound runs on among phones and tablets."""
    if setup.computer.kind in ("phone", "tablet"):
        return [str(setup.computer.kind)]
    cameras = [camera.name for camera in setup.cameras if camera.use != "spare" and camera.kind in ("phone_front", "phone_rear")]
    microphone = setup.microphone_in_use
    return cameras + ([microphone.name] if microphone is not None and microphone.kind == "phone" else [])


def last(setup: Setup) -> Iterator[Line]:
    """The last minutes, and the start itself."""
    live = setup.call.use != "recorded"
    glasses = ", glasses wiped" if setup.presenter.glasses != "none" else ""
    yield Line(
        "you.water", -2, "you", f"Water beside you, hair, collar{glasses}", "In the picture it is too late for it.", "every call", 30
    )
    if live:
        yield Line(
            "you.mute",
            -2,
            "computer",
            "Know where mute is, and that it is off",
            "The first sentence is lost to it most often.",
            "every call",
            5,
        )
    if records(setup):
        yield Line("there.tone", -1, "there", "Record 20 s of the silent room", "It fills the gaps when it is cut.", "/call/recording", 20)
        if setup.call.use == "recorded":
            yield Line(
                "there.list",
                -1,
                "you",
                "List of what is to be recorded at hand, in order",
                "What is forgotten means setting all of it up again.",
                "/call/use",
                15,
            )
        yield Line(
            "there.start",
            0,
            "there",
            "Still for 5 s, then name and number of the take",
            "So it can be cut, and be found.",
            "/call/recording",
            10,
        )
        if setup.call.use == "recorded":
            yield Line(
                "there.cover",
                0.1,
                "there",
                "3 s of a friendly face, for the picture on the cover",
                "It cannot be had later in this light.",
                "/call/use",
                5,
            )
    elif live:
        yield Line("there.still", 0, "there", "Still for 2 s before you speak", "A call cuts the first word off.", "every call", 2)


def afterwards(setup: Setup) -> Iterator[Line]:
    """What is done when it is over."""
    end_min = setup.place.duration_s / 60
    if records(setup):
        yield Line("after.stop", end_min, "there", "Still for 5 s, then stop", "So it can be cut.", "/call/recording", 7)
        yield Line(
            "after.play",
            end_min + 1,
            "computer",
            "Play back 5 s from the middle",
            "While all still stands it can be done again.",
            "/call/recording",
            15,
        )
        yield Line("after.copy", end_min + 2, "computer", "Copy it to a second place", "One copy is none.", "/call/recording", 120)
    else:
        yield Line(
            "after.end", end_min, "computer", "End the call, and see that it has ended", "You are seen until it is.", "every call", 5
        )
    if any(light.on for light in setup.lights):
        hot = any(light.on and light.heat != "cool" for light in setup.lights)
        yield Line(
            "after.lamps",
            end_min + 3,
            "room",
            "Lamps off" + ("; let them cool before you touch them" if hot else ""),
            "They age, and get warm.",
            "/lights",
            15,
            cautions.WARM_LAMP if hot else "",
        )
    if carrying_phones(setup) or any(True for _ in on_battery(setup)):
        yield Line(
            "after.charge",
            end_min + 3,
            "desk",
            "Phones and batteries off the charger once they are full",
            "Hours at full age them.",
            "phones",
            10,
        )
    yield Line(
        "after.log",
        end_min + 4,
        "computer",
        "Ten seconds for the log: what went well, what did not",
        "So the next one is better.",
        "every call",
        10,
    )
