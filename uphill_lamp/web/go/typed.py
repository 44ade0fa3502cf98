"""What is so around the call, as the page's form has it: typed values into the document's part, and what is wrong back to its field."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, get_args

from django.http import QueryDict

from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.session import Forgotten, Rig
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.earth.towns import countries
from uphill_lamp.core.readiness.rigging import FORGOTTEN, devices, forgets, put_up_min, rig_of

SWITCHES = {
    "people_at_home": "Others are at home",
    "doorbell": "A doorbell can be heard",
    "pets": "Animals may come in",
    "wireless": "The computer has no cable to the network",
    "files_end_at_4_gib": "The card takes no file over 4 GB",
    "cold": "It is under 10 °C where something runs on a battery",
    "carried": "This place is away from home: what is used here is carried there",
    "counts": "Space, battery, line and readiness count in the whole score",
}
FALLS_OUT = "/call/falls_out"
FIGURES = {
    "hours_of_calls": ("Calls on that day", "h"),
    "others_mbit_s": ("Others at home send meanwhile", "Mbit/s"),
    "free_gb": ("Free where it is recorded", "GB"),
    "camera_ends_after_min": ("The camera stops recording by itself after", "min"),
}
RIG_FIGURES = {
    "minutes": ("To put it up", "min"),
    "battery_wh": ("Battery, if it runs on one", "Wh"),
    "draws_w": ("It draws, if its maker says", "W"),
}
STAYS = {"": "as all else", "yes": "stays where it is", "no": "is put away"}
# What can be lost by whom.
CAN_FORGET: dict[str, tuple[str, ...]] = {
    "cameras": ("white", "exposure", "focus", "zoom"), "lights": ("level", "colour"), "microphones": ("input", "gain"), "reflectors": (), "screens": ("level",),
}  # fmt: skip
NAMES_OF_FORGOTTEN = {
    "white": "white",
    "exposure": "exposure",
    "focus": "focus",
    "zoom": "zoom",
    "level": "brightness",
    "colour": "colour",
    "input": "input",
    "gain": "gain",
}
assert set(get_args(Forgotten)) == set(FORGOTTEN) == set(NAMES_OF_FORGOTTEN)


@dataclass(frozen=True)
class Figure:
    """A figure of the form: its field's name, what it is, unit, what stands in it, and what is wrong with that."""

    name: str
    label: str
    unit: str
    value: str
    fault: str = ""


@dataclass(frozen=True)
class Device:
    """A row of the form: a device, what it may forget and does, whether it stays, its figures."""

    path: str
    name: str
    forgets: tuple[tuple[str, str, bool], ...]
    stays: str
    usual_min: float
    figures: tuple[Figure, ...]


def figures(setup: Setup, typed: QueryDict | None, faults: dict[str, str]) -> Iterator[Figure]:
    """The figures, as they are or as they were typed."""
    for name, (label, unit) in FIGURES.items():
        yield Figure(name, label, unit, _shown(typed, name, getattr(setup.session, name)), faults.get(f"/session/{name}", ""))


def switches(setup: Setup, typed: QueryDict | None) -> list[tuple[str, str, bool]]:
    """What is ticked or not: field's name, words, whether it is."""
    return [(name, words, name in typed if typed is not None else getattr(setup.session, name)) for name, words in SWITCHES.items()]


def words(setup: Setup, typed: QueryDict | None, faults: dict[str, str]) -> dict[str, Any]:
    """What is typed as words: how guests join, the country of the plugs, days that fall out; each with what is wrong with it."""
    session = setup.session
    days = ", ".join(day.isoformat() for day in setup.call.falls_out)
    fault = next((words for path, words in faults.items() if path.startswith(FALLS_OUT)), "")
    return {
        "joins_by": typed.get("joins_by", "")[:400] if typed is not None else session.joins_by, "joins_by_fault": faults.get("/session/joins_by", ""),
        "gear_from": typed.get("gear_from", "") if typed is not None else session.gear_from or "", "countries": countries(),
        "falls_out": Figure("falls_out", "It falls out on", "", typed.get("falls_out", "")[:1000] if typed is not None else days, fault),
    }  # fmt: skip


def days_of(typed: QueryDict) -> list[str]:
    """The days that fall out, as typed with commas or spaces between; what is none stays as it is, for the document to refuse."""
    return [part[:20] for part in re.split(r"[,;\s]+", typed.get("falls_out", "")[:2000]) if part]


def rows(setup: Setup, typed: QueryDict | None, faults: dict[str, str]) -> Iterator[Device]:
    """The devices that may be rigged."""
    for index, (path, part, name, entry) in enumerate(devices(setup)):
        rig, field = rig_of(setup, path), path[1:].replace("/", "-")
        lost = set(typed.getlist(f"{field}-forgets")) if typed is not None else set(forgets(setup, path))
        stays = "" if rig is None or rig.left_rigged is None else "yes" if rig.left_rigged else "no"
        yield Device(
            path,
            name,
            tuple((what, NAMES_OF_FORGOTTEN[what], what in lost) for what in CAN_FORGET[part]),
            typed.get(f"{field}-stays", "") if typed is not None else stays,
            put_up_min(setup, path, part, entry),
            tuple(
                Figure(
                    f"{field}-{figure}",
                    label,
                    unit,
                    _shown(typed, f"{field}-{figure}", getattr(rig, figure, None)),
                    faults.get(f"/session/rigs/{index}/{figure}", ""),
                )
                for figure, (label, unit) in RIG_FIGURES.items()
            ),
        )


def _shown(typed: QueryDict | None, name: str, value: float | None) -> str:
    if typed is not None:
        return str(typed.get(name, ""))[:20]
    return "" if value is None else f"{value:g}"


def session_of(setup: Setup, typed: QueryDict) -> dict[str, Any]:
    """The part of the document that was typed; figures that are none stay as they are, for the document to refuse by their path."""
    session = setup.session.model_dump(mode="json")
    session |= {name: name in typed for name in SWITCHES} | {"codec": typed.get("codec", "newer")}
    for name in FIGURES:
        empty = None if name in ("free_gb", "camera_ends_after_min") else getattr(type(setup.session)(), name)
        session[name] = _number(typed.get(name, ""), empty)
    session["joins_by"], session["gear_from"] = typed.get("joins_by", "").strip(), typed.get("gear_from", "") or None
    session["rigs"] = [_rig(path, typed) for path, *_ in devices(setup)]
    return session


def _rig(path: str, typed: QueryDict) -> dict[str, Any]:
    field = path[1:].replace("/", "-")
    rig: dict[str, Any] = {name: _number(typed.get(f"{field}-{name}", ""), None) for name in RIG_FIGURES}
    stays = {"yes": True, "no": False}.get(typed.get(f"{field}-stays", ""))
    return Rig(device=path).model_dump(mode="json") | rig | {"left_rigged": stays, "forgets": typed.getlist(f"{field}-forgets")[:8]}


def _number(text: str, empty: float | None) -> float | str | None:
    text = text.strip()
    if not text:
        return empty
    try:
        return float(text.replace(",", "."))
    except ValueError:
        return text[:20]


def by_field(refused: Refused) -> dict[str, str]:
    """What is wrong, by the path of its value."""
    return {
        fault.path: f"Found {fault.found}; expected {'days such as 2026-12-24' if fault.path.startswith(FALLS_OUT) else fault.expected}."
        for fault in refused.faults
    }


def beside_fields(setup: Setup, faults: dict[str, str]) -> str:
    """What is wrong with what has no field to say it at, in one line."""
    at_fields = {f"/session/{name}" for name in FIGURES}
    at_fields |= {"/session/joins_by", *(path for path in faults if path.startswith(FALLS_OUT))}
    at_fields |= {f"/session/rigs/{index}/{name}" for index, _ in enumerate(devices(setup)) for name in RIG_FIGURES}
    return " ".join(f"{path.rpartition('/')[2]}: {words}" for path, words in faults.items() if path not in at_fields)
