"""The order in which hands do steps, and how long that takes: once, and each time where nothing stays set up (docs/method/steps.md)."""

from __future__ import annotations

from collections.abc import Iterable

from uphill_lamp.core.document.people import Preferences
from uphill_lamp.core.steps.action import Action

# The order of hands: where one sits, where the camera stands, what is lit, how the camera is set, what hears; what the screens show is last.
SEAT, CAMERA, LIGHT, SETTINGS, SOUND, SHOWN = range(6)
HANDS = (
    (SEAT, ("/desk", "/presenter")),
    (CAMERA, ("/cameras", "/screens")),
    (LIGHT, ("/lights", "/reflectors", "/room/windows", "/room/surfaces")),
    (SOUND, ("/microphones", "/noises", "/computer", "/room")),
)
# What stands still while a camera or screen is only set otherwise.
SET = (
    "metering",
    "locked_exposure_lx",
    "white_balance",
    "kind",
    "cct_k",
    "fps",
    "luminance_cd_m2",
    "white_share",
    "f_number",
    "on",
    "zoom",
)
MINUTES, HEAVY_MIN, UNPACKED_MIN = {SEAT: 2, CAMERA: 4, LIGHT: 5, SETTINGS: 2, SOUND: 3, SHOWN: 1}, 15, 10
# Minutes each time, where what is set up does not stay: what has to be put up, plugged in and aimed again.
AGAIN_MIN, HEAVY_AGAIN_MIN, HUNG_MIN = {SEAT: 0, CAMERA: 2, LIGHT: 3, SETTINGS: 0, SOUND: 1, SHOWN: 1}, 5, 2


def hand(action: Action) -> int:
    """Where in the order of hands an action stands: by what comes first of what it writes to."""
    return min(map(hand_of, action.writes), default=SHOWN)


def hand_of(path: str) -> int:
    """Where in the order of hands a change of the document stands, by its path."""
    rank = next((rank for rank, parts in HANDS if path.startswith(parts)), SHOWN)
    if path.startswith("/presenter/glasses"):
        return SETTINGS
    if rank != CAMERA:
        return rank
    return SHOWN if "/windows/" in path else SETTINGS if path.rsplit("/", 1)[1] in SET else CAMERA


def minutes_of(action: Action) -> int:
    """How long it takes to set up, once (docs/method/steps.md): by what it moves, and ten more for what is bought and unpacked."""
    moved = {hand_of(path) for path in action.writes}
    heavy = any(path.startswith(("/desk", "/room/furnishings", "/room/windows")) for path in action.writes)
    return (HEAVY_MIN if heavy else max((MINUTES[rank] for rank in moved), default=1)) + (UNPACKED_MIN if action.amount else 0)


def minutes_each_time(action: Action) -> int:
    """How long it takes before every call, where what is set up is put away in between [min]."""
    if any(path.startswith(("/desk", "/room/furnishings")) for path in action.writes):
        return HEAVY_AGAIN_MIN
    return max((HUNG_MIN if path.startswith("/room/windows") else AGAIN_MIN[hand_of(path)] for path in action.writes), default=0)


def again_min(actions: Iterable[Action], wishes: Preferences) -> int:
    """Minutes that all of it takes each time; what stays set up takes none."""
    return 0 if wishes.rig_stays else sum(map(minutes_each_time, actions))


def too_long(actions: Iterable[Action], wishes: Preferences) -> bool:
    """Whether it takes more minutes each time than is wanted, what is wanted in any case not counted."""
    most = wishes.minutes_each_time
    return most is not None and again_min((action for action in actions if action.id not in wishes.must), wishes) > most
