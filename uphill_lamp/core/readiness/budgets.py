"""What storage, battery and line have to carry, and how long it takes to be ready (docs/method/go.md, "Figures")."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.session import Rig
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, Measure
from uphill_lamp.core.scene.wording import percent

# Rates of recorded video by pixels and pictures, newer and older codec [Mbit/s].
RATES_MBIT_S = {
    (1280, 720, 30): (5.0, 8.0),
    (1920, 1080, 30): (8.0, 17.0),
    (1920, 1080, 60): (12.0, 24.0),
    (3840, 2160, 30): (23.0, 45.0),
    (3840, 2160, 60): (53.0, 90.0),
}
TALKING_HEAD, GRAINY = 0.7, 1.5
USABLE, TEST_TAKES_MIN = 0.9, 5.0  # of what is free; and so much for takes to try
GIB_4_MB = 4 * 1024**3 / 1e6
ENERGY_USABLE, COLD = 0.85, 0.8
DRAWS_W = {"films": 2.5, "webcam": 3.5, "camera": 5.0}
HOT_AFTER_MIN = 30.0
# What a call sends [Mbit/s].
VOICE_MBIT_S, SLIDES_MBIT_S = 0.1, 0.8
SENT_MBIT_S = ((360, 0.6), (720, 1.5), (1080, 3.5))
LIVE_MBIT_S = {30: 6.0, 60: 9.0}
CARRIES = 0.65  # of the line
NO_PICTURE_MBIT_S, LONG_DAY_H = 0.5, 3.0
BANDS = {
    "go.storage": Band(2.0, None, 1.0, None),
    "go.battery": Band(1.5, None, 0.9, None),
    "go.line": Band(None, 0.65, None, 1.0),
    "go.ready": Band(None, 2.0, None, 15.0),
}


@dataclass(frozen=True)
class Budget:
    """One figure: ``value`` in its ``unit``, None where something it needs was not told; what it rests on in words; what to do if it is off."""

    id: str
    label: str
    value: float | None
    unit: str
    words: str
    move: str = ""

    @property
    def shown(self) -> str:
        """The figure as it is read."""
        if self.value is None:
            return "–"
        return f"{percent(self.value)} {self.unit}" if self.id == "go.line" else f"{self.value:.1f} {self.unit}"

    @property
    def utility(self) -> float | None:
        """How good it is, 0-1."""
        return None if self.value is None else BANDS[self.id].utility(self.value)


def recorded_mbit_s(width_px: int, height_px: int, fps: float, codec: str, grainy: bool) -> float:
    """Rate of a recording of somebody who speaks [Mbit/s]: the table's, between its rows by pixels a second, in logarithms."""
    column = 0 if codec == "newer" else 1
    rows = sorted((wide * high * rate, figures[column]) for (wide, high, rate), figures in RATES_MBIT_S.items())
    pixels, rates = (np.log([row[part] for row in rows]) for part in (0, 1))
    wanted = math.log(width_px * height_px * fps)
    if wanted < pixels[0]:  # under the table as many bits a pixel as in its first row
        rate = math.exp(rates[0] + wanted - pixels[0])
    elif wanted > pixels[-1]:
        rate = math.exp(rates[-1] + wanted - pixels[-1])
    else:
        rate = math.exp(float(np.interp(wanted, pixels, rates)))
    return TALKING_HEAD * rate * (GRAINY if grainy else 1.0)


def mb_a_minute(rate_mbit_s: float) -> float:
    """Size of a minute of recording [MB]: 60 s of so many Mbit, eight bits a byte."""
    return 7.5 * rate_mbit_s


def minutes_of(free_gb: float, rate_mbit_s: float) -> float:
    """How long what is free lasts, a tenth of it kept free [min]: 0.9 GB 8000 / (60 rate)."""
    return USABLE * free_gb * 8000 / (60 * rate_mbit_s)


def uploaded_min(size_mb: float, upload_mbit_s: float) -> float | None:
    """How long a file takes to send, three quarters of the line used [min]: MB/(6 up); None without a line."""
    return size_mb / (6 * upload_mbit_s) if upload_mbit_s > 0 else None


def battery_min(capacity_wh: float, draws_w: float, cold: bool) -> float:
    """How long a battery lasts [min]: 60 Wh 0.85 / W, in the cold 0.8 of that."""
    return 60 * capacity_wh * ENERGY_USABLE / draws_w * (COLD if cold else 1.0)


def sent_mbit_s(setup: Setup, lines: int | None = None) -> float:
    """What this call sends: voice, picture of so many lines (the camera's if not said), slides [Mbit/s]."""
    call, camera = setup.call, setup.main_camera
    lines = lines if lines is not None else min(camera.output_height_px, camera.output_width_px)
    if call.use == "recorded":
        return 0.0
    picture = 0.0
    if call.picture:
        sizes, rates = zip(*SENT_MBIT_S, strict=True)
        picture = (
            LIVE_MBIT_S[60 if camera.fps > 45 else 30]
            if call.use == "audience" and lines >= 1080
            else float(np.interp(lines, sizes, rates))
        )
    return VOICE_MBIT_S + picture + (SLIDES_MBIT_S if call.slides != "none" else 0.0)


def budgets(setup: Setup, grainy: bool, ready_min: float) -> tuple[Budget, ...]:
    """Storage, battery, line and minutes to be ready, as far as they bear on this setup.

    Args:
        grainy: whether its picture is so grainy that it takes more to keep.
        ready_min: what is put up and set each time takes so long [min].
    """
    return (*_storage(setup, grainy), *_battery(setup), *_line(setup), _ready(ready_min))


def is_grainy(measures: Mapping[str, Measure]) -> bool:
    """Whether a picture is, by its figures."""
    grain = measures.get("light.noise")
    return grain is not None and grain.wanting


def _storage(setup: Setup, grainy: bool) -> Iterator[Budget]:
    if not records(setup):
        return
    camera, session = setup.main_camera, setup.session
    rate = recorded_mbit_s(camera.output_width_px, camera.output_height_px, camera.fps, session.codec, grainy)
    wanted_min = setup.place.duration_s / 60 + TEST_TAKES_MIN
    words = f"A minute takes {mb_a_minute(rate):.0f} MB, the whole with takes to try {mb_a_minute(rate) * wanted_min / 1000:.1f} GB."
    sending = uploaded_min(mb_a_minute(rate) * setup.place.duration_s / 60, setup.call.upload_mbit_s)
    words += f" Sent on, the whole takes some {sending:.0f} min of your line." if sending is not None else ""
    ends = ends_after_min(setup, rate)
    words += f" The file ends by itself after {ends:.0f} min: begin a new one before." if ends is not None and ends < wanted_min else ""
    value = None if session.free_gb is None else minutes_of(session.free_gb, rate) / wanted_min
    yield Budget(
        "go.storage",
        "Space for the recording",
        value,
        "times the length",
        words,
        "Make room, or record smaller: 1920 × 1080 at 30 pictures.",
    )


def ends_after_min(setup: Setup, rate_mbit_s: float) -> float | None:
    """When a recording ends by itself [min]; None where it does not."""
    session = setup.session
    ends = [GIB_4_MB / mb_a_minute(rate_mbit_s)] if session.files_end_at_4_gib else []
    ends += [session.camera_ends_after_min] if session.camera_ends_after_min is not None and setup.call.kept_on == "camera" else []
    return min(ends, default=None)


def records(setup: Setup) -> bool:
    """Whether anything is kept."""
    return setup.call.recording or setup.call.use == "recorded"


def _battery(setup: Setup) -> Iterator[Budget]:
    length_min = setup.place.duration_s / 60
    lasting = [
        (battery_min(rig.battery_wh, draws, setup.session.cold), name)
        for rig, name, draws in on_battery(setup)
        if rig.battery_wh is not None
    ]
    if not lasting:
        return
    least_min, name = min(lasting)
    yield Budget("go.battery", f"Battery of {name}", least_min / length_min, "times the length", f"It lasts about {least_min:.0f} min.",
                 "Put it on its charger, or lay a charged one beside it.")  # fmt: skip


def on_battery(setup: Setup) -> Iterator[tuple[Rig, str, float]]:
    """Devices on a battery: how they are rigged, their name, and what they draw [W]."""
    for rig in setup.session.rigs:
        part, _, device_id = rig.device.removeprefix("/").partition("/")
        device = next((thing for thing in getattr(setup, part) if thing.id == device_id), None)
        if device is None or rig.battery_wh is None:
            continue
        if part == "lights":
            usual = max(device.flux_lm / 100 * device.dim, 0.5)  # some 100 lm of a lamp of today from a watt
        elif part == "cameras":
            phone = device.kind.startswith("phone")
            usual = DRAWS_W[("webcam" if setup.call.use != "recorded" else "films") if phone else "camera"]
        else:
            usual = 0.5
        yield rig, device.name, rig.draws_w or usual


def _line(setup: Setup) -> Iterator[Budget]:
    sends, up = sent_mbit_s(setup), setup.call.upload_mbit_s
    if not sends:
        return
    whole = sends + setup.session.others_mbit_s
    words = f"This call sends about {sends:.1f} Mbit/s" + (
        f", others at home {setup.session.others_mbit_s:.1f}" if setup.session.others_mbit_s else ""
    )
    value = whole / up if up > 0 else None
    yield Budget(
        "go.line",
        "What the line has to carry",
        value,
        "of the upload",
        f"{words}; the line carries {up:g}.",
        next(iter(line_moves(setup)), ""),
    )


def line_moves(setup: Setup) -> list[str]:
    """What to take off the line, in order, each with what it frees."""
    sends, up, session, call = sent_mbit_s(setup), setup.call.upload_mbit_s, setup.session, setup.call
    if not sends or sends + session.others_mbit_s <= CARRIES * up:
        return []
    moves = []
    for lines in (720, 360):
        freed = sends - sent_mbit_s(setup, lines)
        if call.picture and freed > 0.05:
            moves.append(f"Send your picture smaller, {lines} lines high: frees {freed:.1f} Mbit/s.")
    if setup.main_camera.fps > 45 and call.picture and call.use == "audience":
        moves.append(f"Send 30 pictures instead of 60: frees {LIVE_MBIT_S[60] - LIVE_MBIT_S[30]:.1f} Mbit/s.")
    if session.others_mbit_s:
        moves.append(f"Ask others at home to wait: frees {session.others_mbit_s:.1f} Mbit/s.")
    if session.wireless:
        moves.append("A cable instead of the wireless network: frees nothing by figures, and ends the gaps.")
    if call.slides != "none":
        moves.append(f"Send slides as a file before: frees {SLIDES_MBIT_S:g} Mbit/s.")
    if call.picture:
        moves.append(f"Picture off but for when you speak: frees {sends - VOICE_MBIT_S:.1f} Mbit/s.")
    return [*moves, "Speak by telephone: nothing of you is left on the line."]


def better_without_picture(setup: Setup) -> str:
    """Why no picture at all would do as well or better; nothing where it would not."""
    if not setup.call.picture or setup.call.use == "recorded":
        return ""
    if setup.call.upload_mbit_s < NO_PICTURE_MBIT_S:
        return f"The line carries under {NO_PICTURE_MBIT_S:g} Mbit/s: voice alone comes through whole."
    if setup.session.hours_of_calls > LONG_DAY_H and setup.call.use == "live":
        return f"Over {LONG_DAY_H:g} h of calls on one day tire everybody: leave the picture off where nothing is shown."
    return ""


def _ready(ready_min: float) -> Budget:
    return Budget("go.ready", "To be ready", ready_min, "min", "What is not left rigged, put up each time.",
                  "Leave it rigged; one switched strip for what stays; marks; a quick release; settings kept in the device.")  # fmt: skip
