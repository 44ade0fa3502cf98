"""The run sheet: what is to be done before, at and after a call, counted back from its start (docs/method/go.md, "Run sheet")."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from uphill_lamp.core import cautions
from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.readiness.budgets import HOT_AFTER_MIN, on_battery, records
from uphill_lamp.core.readiness.line import ORDER, Line
from uphill_lamp.core.readiness.rigging import forgets, forgotten, put_up
from uphill_lamp.core.scene.wording import kelvin, length, the
from uphill_lamp.core.session.shared_screen import least_letter_px, shared_screen
from uphill_lamp.core.session.start_and_end import afterwards, carrying_phones, last


def run_sheet(appraisal: Appraisal, learned_s: Mapping[str, float] | None = None, on_phone: bool = False) -> tuple[Line, ...]:
    """All lines that this setup needs, in the order in which they are done.

    Args:
        learned_s: how long lines really take, by id [s]; what was never timed keeps its usual time.
        on_phone: whether the sheet itself is open on a phone, which then cannot go into flight mode.
    """
    setup, known = appraisal.setup, learned_s or {}
    lines = [
        *forgotten(setup),
        *put_up(setup),
        *_room(setup),
        *_charge(setup),
        *_lens(setup),
        *_phones(setup, on_phone),
        *_home(setup),
        *_screen(setup),
        *_try(setup, appraisal),
        *last(setup),
        *afterwards(setup),
    ]
    timed = [replace(line, seconds=round(known.get(line.id, line.seconds))) for line in lines]
    return tuple(sorted(timed, key=lambda line: (line.at_min, ORDER.index(line.where))))


def ready_min(lines: tuple[Line, ...]) -> float:
    """Minutes to be ready: what is put up and set each time, and nothing that is done in any case [min]."""
    return sum(line.seconds for line in lines if line.id.startswith(("rig.", "set."))) / 60


def _room(setup: Setup) -> Iterator[Line]:
    if setup.room.windows:
        yield Line(
            "room.air",
            -30,
            "room",
            "Air the room for ten minutes, then shut the windows",
            "Air gets stale in an hour of talk; an open window lets the street in.",
            "/room/windows",
            60,
        )
    for window in setup.room.windows:
        if window.covering.kind != "none":
            yield Line(
                f"room.covering.{window.id}",
                -20,
                "room",
                f"Draw what hangs at {the(window.name)}",
                "The plan's light has it drawn.",
                f"/room/windows/{window.id}",
                15,
            )
    lit = [light for light in setup.lights if light.on]
    if lit:
        hot = any(light.heat == "hot" for light in lit)
        off = [light for light in setup.lights if not light.on]
        at_once = not hot and any(kit.entry == "mains_strip" for kit in setup.kit)  # hot lamps hang on no strip
        words = f"Lamps on{', at the strip' if at_once else ''}: {_names(lit)}" + (f"; off: {_names(off)}" if off else "")
        yield Line(
            "room.lamps", -20, "room", words, "They settle in a quarter of an hour.", "/lights", 30, cautions.WARM_LAMP if hot else ""
        )
    for noise in setup.noises:
        if noise.can_be_stopped:
            yield Line(
                f"room.noise.{noise.id}",
                -10,
                "room",
                f"Switch off or carry out: {noise.name}",
                "It can be stopped, and is heard.",
                f"/noises/{noise.id}",
                20,
            )
    for door in setup.room.doors:
        words = f"Leave {the(door.name)} open" if door.stands_open else f"Shut {the(door.name)}"
        yield Line(f"room.door.{door.id}", -10, "room", words, "The plan's sound has it so.", f"/room/doors/{door.id}", 10)


def _names(lights: Sequence[Light]) -> str:
    return ", ".join(the(light.name) for light in lights[:4]) + (" and the rest" if len(lights) > 4 else "")


def _charge(setup: Setup) -> Iterator[Line]:
    host = setup.computer.kind
    if setup.desk.height_range is not None:
        high = length(setup.desk.height_m, setup.preferences.units)
        yield Line("desk.height", -20, "desk", f"Desk at {high}, its top above the floor", "It moves; all on it is placed for this height.", "/desk/height_m",
                   20, cautions.DESK_MOVES)  # fmt: skip
    if host in ("laptop", "phone", "tablet"):
        yield Line(
            "computer.charger",
            -20,
            "desk",
            f"{host.capitalize()} on its charger",
            "A call takes twice the power of reading.",
            "/computer/kind",
            15,
        )
    banks = [kit for kit in setup.kit if kit.entry == "power_bank"] if host in ("phone", "tablet") or any(on_battery(setup)) else []
    for kit in banks[:1]:
        yield Line(
            f"charge.kit.{kit.id}",
            -20,
            "desk",
            f"{kit.name} full, its cord beside it",
            "It goes on where a socket is missing.",
            f"/kit/{kit.id}",
            15,
        )
    for rig, name, _ in on_battery(setup):
        yield Line(
            f"charge.{rig.device[1:].replace('/', '.')}",
            -20,
            "desk",
            f"Look at the battery of {the(name)}, and lay its charger ready",
            "It runs on a battery.",
            rig.device,
            20,
        )
    if records(setup):
        yield Line(
            "computer.space",
            -20,
            "computer",
            "Look how much is free where it is recorded",
            "A full card ends a recording without a word.",
            "/call/recording",
            20,
        )


def _lens(setup: Setup) -> Iterator[Line]:
    camera = setup.main_camera
    if not setup.call.picture:
        return
    yield Line(
        "camera.wipe",
        -15,
        "camera",
        f"Wipe the lens of {the(camera.name)} with a soft dry cloth",
        "A finger's mark lays a veil over all that is bright.",
        "every call",
        15,
    )
    lost = forgets(setup, f"/cameras/{camera.id}")
    if camera.white_balance.kind == "locked" and "white" not in lost:
        at = f" at {kelvin(camera.white_balance.cct_k)}" if camera.white_balance.cct_k else ""
        yield Line(
            "camera.white",
            -15,
            "camera",
            f"White locked{at}: look that it still is",
            "A white that wanders turns you blue or orange.",
            f"/cameras/{camera.id}/white_balance",
            15,
        )
    if camera.metering == "locked" and "exposure" not in lost:
        yield Line(
            "camera.exposure",
            -15,
            "camera",
            "Exposure locked on your face: look that it still is",
            "Else the picture breathes.",
            f"/cameras/{camera.id}/metering",
            15,
        )
    if camera.focus.kind == "manual" and "focus" not in lost:
        yield Line(
            "camera.focus",
            -15,
            "camera",
            "Focus on your eyes, by somebody or something in your place",
            "It is set by hand.",
            f"/cameras/{camera.id}/focus",
            30,
            cautions.STAND_IN,
        )


def _phones(setup: Setup, on_phone: bool) -> Iterator[Line]:
    carrying = carrying_phones(setup)
    for number, name in enumerate(dict.fromkeys(carrying), start=1):
        yield Line(
            f"phones.carry.{number}",
            -12,
            "phones",
            f"{name[0].upper()}{name[1:]}: do not disturb, calls refused; no flight mode",
            "The call runs on it.",
            "phones",
            20,
            cautions.PHONE_HOLDER if setup.place.duration_s / 60 >= HOT_AFTER_MIN else "",
        )
    others = "All other phones" if carrying else "Phones"
    yield Line(
        "phones.flight",
        -12,
        "phones",
        f"{others} in flight mode; look that the sign is there"
        + ("; the one with this sheet: do not disturb, calls refused" if on_phone else ""),
        "A phone on silent still buzzes, and crackles in cables.",
        "every call",
        20,
    )


def _home(setup: Setup) -> Iterator[Line]:
    session = setup.session
    if session.people_at_home:
        yield Line(
            "home.people",
            -10,
            "home",
            "Tell those at home: until when, and that they may be heard",
            "Whoever knows stays out.",
            "/session/people_at_home",
            30,
        )
    if session.doorbell:
        yield Line("home.bell", -10, "home", "Doorbell off, or a note on it", "It rings in the quietest sentence.", "/session/doorbell", 20)
    if session.pets:
        yield Line("home.pets", -10, "home", "Animals fed, and out of the room", "They come when it is quiet.", "/session/pets", 60)


def _screen(setup: Setup) -> Iterator[Line]:
    call = setup.call
    yield Line(
        "computer.quiet",
        -8,
        "computer",
        "Notifications off until after the call",
        "They are seen, heard, and read by you.",
        "every call",
        15,
    )
    yield Line(
        "computer.rest",
        -8,
        "computer",
        "Close what copies or updates by itself",
        "It takes the line and the machine from the call.",
        "every call",
        20,
    )
    if call.slides != "none":
        yield from _shared(setup)
    if setup.computer.kind in ("phone", "tablet"):
        return  # a call fills them
    window = next(((screen, window) for screen in setup.screens if screen.on for window in screen.windows if window.shows == "call"), None)
    if window is not None:
        screen, placed = window
        yield Line(
            "computer.window",
            -5,
            "computer",
            f"Call window at {placed.left_px} × {placed.top_px} px of {the(screen.name)}, {placed.width_px} × {placed.height_px} px large",
            "Where it stands decides how near the lens you look.",
            f"/screens/{screen.id}/windows/{placed.id}",
            20,
        )


def _shared(setup: Setup) -> Iterator[Line]:
    """What the others will see of a screen that is shared, each to be ticked, and how large letters on it must be."""
    screen = shared_screen(setup)
    if screen is None:
        return
    others = [window.name for window in screen.windows if window.shows != "slides"]
    yield Line(
        "computer.shared",
        -8,
        "computer",
        f"Share one window, not the whole of {the(screen.name)}" + (f": else {', '.join(others)} would be seen too" if others else ""),
        "All that is on it is seen.",
        "/call/slides",
        20,
    )
    yield Line(
        "computer.private",
        -8,
        "computer",
        "Private windows closed, desktop clean, nothing open from before",
        "A wrong click shows it.",
        "/call/slides",
        30,
    )
    yield Line(
        "computer.letters",
        -8,
        "computer",
        f"Letters in what you share: an x at least {least_letter_px(screen.width_px):.0f} px high",
        f"{the(screen.name).capitalize()} is {screen.width_px} px wide; smaller ones are not read where the picture is shrunk.",
        f"/screens/{screen.id}",
        20,
    )


def _try(setup: Setup, appraisal: Appraisal) -> Iterator[Line]:
    microphone = setup.microphone_in_use
    if microphone is not None:
        yield Line(
            "try.tap",
            -6,
            "computer",
            f"Tap {the(microphone.name)}: the bar in the call's settings jumps",
            "Most bad sound is another microphone than the one you mean.",
            f"/microphones/{microphone.id}",
            15,
        )
    yield Line(
        "try.take",
        -6,
        "computer",
        "Ten seconds of a take in Check, looked at and heard",
        "What differs from the plan is told there.",
        "every call",
        45,
    )
    if setup.computer.listening == "headphones":
        yield Line(
            "try.headphones",
            -6,
            "desk",
            "Headphones on, volume low first",
            "You hear the others, and they do not hear themselves.",
            "/computer/listening",
            10,
            cautions.HEADPHONES,
        )
    if any(finding.id == "backdrop.shine" for finding in appraisal.findings):
        yield Line("you.blot", -2, "you", "Blot forehead and nose", "They shine in this light.", "backdrop.shine", 20)
