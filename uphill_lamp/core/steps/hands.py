"""The order in which hands do steps, and how long that takes: once, and each time where nothing stays set up (docs/method/steps.md)."""

from __future__ import annotations

from collections.abc import Iterable

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.setup import Setup
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
MINUTES, HEAVY_MIN = {SEAT: 2, CAMERA: 4, LIGHT: 5, SETTINGS: 2, SOUND: 3, SHOWN: 1}, 15
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


def taken(action: Action, setup: Setup) -> list[Kind]:
    """The kinds that an action brings in: what is bought, and what comes out of the setup's drawer."""
    drawer = {f"/kit/{item.id}": item.entry for item in setup.kit}
    out = (drawer[path] for path in action.writes if path in drawer)
    return [kind for entry in (*action.cost.entries, *out) if (kind := catalogue().kind(entry)) is not None]


def minutes_of(action: Action, setup: Setup) -> float:
    """How long it takes to set up, once [min] (docs/method/steps.md): by what it moves, and by what has to be unpacked for it."""
    moved = {hand_of(path) for path in action.writes}
    heavy = any(path.startswith(("/desk", "/room/furnishings", "/room/windows")) for path in action.writes)
    by_hand = HEAVY_MIN if heavy else max((MINUTES[rank] for rank in moved), default=1)
    return by_hand + sum(kind.minutes_once for kind in taken(action, setup))


def minutes_each_time(action: Action, setup: Setup) -> float:
    """How long it takes before every call, where what is set up is put away in between [min]: by what it moves, or by what is put up."""
    if any(path.startswith(("/desk", "/room/furnishings")) for path in action.writes):
        by_hand = HEAVY_AGAIN_MIN
    else:
        by_hand = max((HUNG_MIN if path.startswith("/room/windows") else AGAIN_MIN[hand_of(path)] for path in action.writes), default=0)
    behind = (operation["value"] for operation in action.patch if operation["op"] == "add" and operation["path"] == "/backdrop/-")
    hung = sum(float(thing.get("put_up_min", 0)) for thing in behind)
    return max(float(by_hand), hung, sum(kind.minutes_each_time for kind in taken(action, setup)))


def minutes_in_all(actions: Iterable[Action], setup: Setup) -> int:
    """How long all of it takes to set up, once, to whole minutes."""
    return round(sum(minutes_of(action, setup) for action in actions))


def again_min(actions: Iterable[Action], setup: Setup) -> float:
    """Minutes that all of it takes each time; what stays set up takes none."""
    return 0.0 if setup.preferences.rig_stays else sum(minutes_each_time(action, setup) for action in actions)


def too_long(actions: Iterable[Action], setup: Setup) -> bool:
    """Whether it takes more minutes each time than is wanted, what is wanted in any case not counted."""
    most, must = setup.preferences.minutes_each_time, setup.preferences.must
    return most is not None and again_min((action for action in actions if action.id not in must), setup) > most
