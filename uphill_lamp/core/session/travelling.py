"""A place away from home: what to pack, what its sockets ask, which cells may fly, what to ask of the place (docs/method/go.md, "Travelling")."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator
from dataclasses import dataclass

from uphill_lamp.core import cautions
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.earth.towns import country_name, exact, mains_hz, mains_of
from uphill_lamp.core.readiness.budgets import CARRIES, sent_mbit_s
from uphill_lamp.core.readiness.rigging import devices
from uphill_lamp.core.scene.wording import length
from uphill_lamp.core.session.settings_card import rate_for
from uphill_lamp.core.wiring.packing import Packed, packing_list
from uphill_lamp.core.wiring.plan import Plan

CABIN_WH, NEVER_WH = 100.0, 160.0  # what airlines take along without asking, and what none does (ICAO Technical Instructions, Part 8)
CABIN_L, CABIN_KG = 40.0, 8.0  # what a bag in the cabin usually holds
VOLTS_APART = 0.15  # of the mains; within it everything runs
THIN_PLUG_FITS = frozenset("EFHJKLNO")  # into whose sockets the thin plug without earth goes too
AROUND_MIN = 45.0  # before and after the call, for putting up and taking down


@dataclass(frozen=True)
class Cell:
    """A battery that travels: whose it is, how much it holds [Wh], and what that means in an aeroplane."""

    name: str
    wh: float
    words: str


@dataclass(frozen=True)
class Travel:
    """What goes along, with its sums [kg], [l]; what stays at home since it is never used; what the sockets there ask; cells; what to ask."""

    packed: tuple[Packed, ...]
    stays: tuple[str, ...]
    power: tuple[str, ...]
    cells: tuple[Cell, ...]
    ask: tuple[str, ...]
    cautions: tuple[str, ...]

    @property
    def mass_kg(self) -> float:
        """All whose mass is known."""
        return sum(item.mass_kg or 0.0 for item in self.packed)

    @property
    def volume_l(self) -> float:
        """All of it."""
        return sum(item.volume_l for item in self.packed)

    @property
    def unweighed(self) -> tuple[str, ...]:
        """What has no mass in the catalogue."""
        return tuple(item.name for item in self.packed if item.mass_kg is None)

    @property
    def in_the_cabin(self) -> bool:
        """Whether it fits a usual bag for the cabin."""
        return self.volume_l <= CABIN_L and self.mass_kg <= CABIN_KG


def travel(setup: Setup, plan: Plan, idle: Collection[str] = ()) -> Travel:
    """What a setup needs to be held at its place, as if all of it were carried there.

    Args:
        plan: how it is wired.
        idle: paths of devices that have not been used for long; they stay at home.
    """
    items = packing_list(setup, plan)
    power = tuple(_power(setup, plan))
    cells = tuple(_cells(setup))
    minded = ((cautions.CELLS,) if cells else ()) + ((cautions.VOLTS,) if _other_volts(setup) else ())
    return Travel(
        tuple(item for item in items if item.path not in idle), tuple(item.name for item in items if item.path and item.path in idle),
        power, cells, tuple(_ask(setup, plan)), minded,
    )  # fmt: skip


def country_of(setup: Setup) -> str:
    """Two letters of the country a place lies in; nothing where it is not known."""
    if setup.place.country:
        return setup.place.country
    town = exact(setup.place.label)
    return town.country if town else ""


def _other_volts(setup: Setup) -> bool:
    there, own = mains_of(country_of(setup)), mains_of(setup.session.gear_from or "")
    return there is not None and own is not None and abs(there[0] - own[0]) > VOLTS_APART * own[0]


def _power(setup: Setup, plan: Plan) -> Iterator[str]:
    loads = [load for load in plan.loads if load.source == "mains"]
    if loads:
        yield f"{len(loads)} plugs, some {sum(load.watts for load in loads):.0f} W: {', '.join(load.name for load in loads)}."
    country = country_of(setup)
    there, hz = mains_of(country), setup.place.mains_hz
    if there is None:
        yield "What sockets there are is not known here: ask the place, and take an adapter for the world along."
        return
    volts, plugs = there
    yield f"{country_name(country)}: {volts:.0f} V, {hz} Hz, sockets for plugs {' and '.join(plugs)}."
    if hz not in mains_hz(country):
        yield f"The plan has mains of {hz} Hz; they usually have {mains_hz(country)[0]} Hz there: set it at the place."
    own = mains_of(setup.session.gear_from or "")
    if own is None or setup.session.gear_from == country:
        return
    yield from _apart(setup, own, there)


def _apart(setup: Setup, own: tuple[float, str], there: tuple[float, str]) -> Iterator[str]:
    """What is other there than where the devices come from: plugs, volts, frequency."""
    home = country_name(setup.session.gear_from or "")
    bring, fit = set(own[1]), set(there[1])
    if not bring <= fit:
        some = bring & fit or ("C" in bring and THIN_PLUG_FITS & fit)
        words = "Some of your plugs fit; for the others an" if some else "Your plugs do not fit: an"
        yield f"{words} adapter from {' and '.join(sorted(bring - fit))} to {sorted(fit)[-1]}. It changes the shape, not the volts."
    if _other_volts(setup):
        yield f"Other volts than in {home} ({own[0]:.0f} V): look at each charger's label for 100-240 V; what lacks it stays at home."
    usual, _ = rate_for(setup)
    if setup.place.mains_hz not in mains_hz(setup.session.gear_from or ""):
        yield f"Lamps there pulse {2 * setup.place.mains_hz} times a second: set the camera to {usual} pictures, and back at home."


def _cells(setup: Setup) -> Iterator[Cell]:
    names = {path: name for path, _, name, _ in devices(setup)}
    for rig in setup.session.rigs:
        if rig.battery_wh and rig.device in names:
            yield Cell(names[rig.device], rig.battery_wh, cell_words(rig.battery_wh))
    for kit in setup.kit:
        kind = catalogue().kind(kit.entry)
        wh = kind.number("battery_wh") if kind else 0.0
        if kind is not None and wh and kind.role == "power":
            yield Cell(kit.name, wh, cell_words(wh))


def cell_words(wh: float) -> str:
    """What a cell of so much [Wh] means in an aeroplane."""
    if wh > NEVER_WH:
        return "over 160 Wh: it does not fly with passengers, neither in the cabin nor in the hold"
    if wh > CABIN_WH:
        return "over 100 Wh: not in the cabin unless the airline has said yes beforehand, and never in the hold"
    return "up to 100 Wh: in the cabin"


def _ask(setup: Setup, plan: Plan) -> Iterator[str]:
    """What to ask of a place before one goes."""
    need, units = sent_mbit_s(setup), setup.preferences.units
    if need:
        yield f"A line that sends {math.ceil(10 * need / CARRIES) / 10:g} Mbit/s up, tried at that hour; and a network cable at the desk."
    mains = sum(load.source == "mains" for load in plan.loads)
    if mains:
        yield f"Sockets within 2 m of the desk for {mains} plugs, on one switch if there is one."
    yield f"A table of {length(setup.desk.width_m, units)} by {length(setup.desk.depth_m, units)}, and a chair without wheels that squeak."
    minutes = setup.place.duration_s / 60 + 2 * AROUND_MIN
    yield f"The room to yourself for {minutes / 60:.1f} h, with a door that shuts and a note on it."
    if setup.room.windows:
        yield "Which way its windows look, and whether they can be covered."
    yield "Whether lamps there can be switched off one by one, and what hums: can it be switched off meanwhile?"
    if setup.call.slides == "screen_behind":
        yield "A screen or a bare wall behind, and what joins to it."
    yield "Whether tape may be put on the floor."


def text_of(trip: Travel) -> str:
    """The list as plain text."""
    lines = ["To pack", *(f"[ ] {item.name}" + (f" ({item.word})" if item.word else "") for item in trip.packed)]
    lines += [f"Together {trip.mass_kg:.1f} kg, some {trip.volume_l:.0f} l"]
    for title, words in (("Sockets", trip.power), ("Cells", [f"{cell.name}, {cell.wh:g} Wh: {cell.words}" for cell in trip.cells]),
                         ("To ask of the place", trip.ask), ("Take care", trip.cautions)):  # fmt: skip
        lines += ["", title, *(f"- {line}" for line in words)] if words else []
    return "\n".join(lines) + "\n"
