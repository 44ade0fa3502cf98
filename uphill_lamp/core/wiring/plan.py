"""The whole wiring of a setup: a way for every device, ports and power shared out, cables numbered, faults told."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.people import Link
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import heard_by
from uphill_lamp.core.field.sound.gain import input_of, unpowered
from uphill_lamp.core.offers import needed
from uphill_lamp.core.wiring import faults
from uphill_lamp.core.wiring.devices import MICROPHONE_ENTRIES, SCREEN_ENTRY, Device, devices_of
from uphill_lamp.core.wiring.faults import WiringFault
from uphill_lamp.core.wiring.free import FreeRoute, free_routes
from uphill_lamp.core.wiring.graph import Part, Way, graph_of, ports_speed, ways
from uphill_lamp.core.wiring.lamps import fed
from uphill_lamp.core.wiring.limits import PORT_MA

MAINS, MOST_CABLE_M = "mains", 50.0
HUBS = ("usb_hub", "usb_hub_powered")
ADAPTED = {"usb_a": ("usb_c", "usb_a_to_c"), "usb_c": ("usb_a", "usb_c_to_a")}
BUILT_IN_W = {"laptop": 65.0, "desktop": 150.0, "phone": 18.0, "tablet": 25.0}


Joined = tuple[Device, Way | None, str, FreeRoute | None]


@dataclass(frozen=True)
class Cable:
    """A numbered part of the plan: what it joins, how long it is, what it costs, whether it is owned."""

    number: int
    kind: Kind
    begin: str
    end: str
    length_m: float
    price: float
    owned: bool
    faulty: bool = False

    @property
    def cut_to(self) -> bool:
        """Whether it has another length than it is sold at."""
        return abs(self.length_m - self.kind.number("length_m")) > 1e-9


@dataclass(frozen=True)
class Chain:
    """A device's way to the computer, or to the mains: its cables, and the free route it takes instead of any, if it does."""

    device: Device
    cables: tuple[Cable, ...]
    port: str
    by_hub: bool
    free: FreeRoute | None = None
    reached: bool = True


@dataclass(frozen=True)
class Power:
    """A load: what draws, how much [W] or [mA], from where."""

    name: str
    watts: float
    ma: float
    source: str


@dataclass(frozen=True)
class Plan:
    """The wiring of a setup. ``cost`` what has to be bought, in its currency; ``free`` the routes that cost nothing, by device."""

    chains: tuple[Chain, ...]
    hub: Kind | None
    hub_why: str
    faults: tuple[WiringFault, ...]
    loads: tuple[Power, ...]
    free: tuple[tuple[Device, tuple[FreeRoute, ...]], ...]
    cost: float
    currency: str

    @property
    def cables(self) -> tuple[Cable, ...]:
        return tuple(cable for chain in self.chains for cable in chain.cables)

    @property
    def mains_w(self) -> float:
        return sum(load.watts for load in self.loads if load.source == "mains")

    @property
    def bus_ma(self) -> float:
        return sum(load.ma for load in self.loads)


def planned(setup: Setup) -> Plan:
    """The cheapest wiring that works, or that comes nearest to it, with everything that is wrong told."""
    joining = _Joining(setup)
    for device in devices_of(setup):
        joining.join(device)
    hub, hub_why, with_hub = _hub(joining.on_hub, setup)
    wrong = [*joining.wrong, *with_hub, *_others(setup, [joined[0] for joined in joining.joined])]
    chains = [*_numbered(joining.joined, setup, wrong), *_on_mains(setup, joining)]
    loads = tuple(_loads(setup, joining.joined))
    wrong = list({(fault.id, fault.path): fault for fault in reversed(wrong)}.values())[::-1]  # the chain's own word comes first
    plugged = [load for load in loads if load.source == "mains"]
    wrong += faults.of_strip(sum(load.watts for load in plugged), len(plugged))
    cost = sum(cable.price for chain in chains for cable in chain.cables)
    if hub is not None and not joining.drawer[hub.entry]:
        cost += catalogue().price(hub.entry, joining.currency) or 0.0
    return Plan(tuple(chains), hub, hub_why, tuple(wrong), loads, tuple(joining.free), cost, joining.currency)


class _Joining:
    """Devices joined one after another: each takes of the drawer and of the computer's ports what those before it have left."""

    def __init__(self, setup: Setup) -> None:
        self.setup, self.currency = setup, setup.preferences.currency
        self.jacks = _jacks(setup)
        ports = (*setup.computer.ports, *("trs" for _ in self.jacks))
        self.computer = setup.computer.model_copy(update={"ports": ports})
        self.drawer = at_hand(setup)
        self.ports_left: Counter[str] = Counter(ports)
        self.joined: list[Joined] = []
        self.wrong: list[WiringFault] = []
        self.free: list[tuple[Device, tuple[FreeRoute, ...]]] = []
        self.on_hub: list[Way] = []

    def join(self, device: Device) -> None:
        """Finds a device its way: over what is free, by the cheapest cables, or none."""
        routes = tuple(free_routes(device, self.setup))
        if routes:
            self.free.append((device, routes))
        way, wrong = _cheapest(device, graph_of(self.computer, self.drawer, self.currency), self.setup, self.ports_left)
        if routes and (way is None or way.cost > 0 or wrong):
            self.wrong += [fault for fault in wrong if fault.id == "menus"]
            self.joined.append((device, None, "", routes[0]))
            return
        self.wrong += wrong
        if way is None:
            self.wrong.append(faults.no_way(device, self.computer.ports))
            self.joined.append((device, None, "", None))
            return
        for part in way.parts:
            self.drawer[part.kind.entry] -= part.owned
        way, port = _shared_out(way, self.ports_left, self.currency)
        self._plugged_in(device, way, port)
        self.joined.append((device, way, port, None))

    def _plugged_in(self, device: Device, way: Way, port: str) -> None:
        if port == "hub":
            self.on_hub.append(way)
        elif port.startswith("usb"):
            gives_ma = PORT_MA.get((port, ports_speed(self.computer, port)), 500.0)
            self.wrong += faults.of_port(device, way.ma, port, gives_ma)


def _jacks(setup: Setup) -> list[str]:
    """Names of what has a headphone jack of its own: a microphone on USB or its input box, a monitor."""
    microphone = setup.microphone_in_use
    entries: list[tuple[str, str]] = []
    if microphone is not None:
        entry = microphone.entry or MICROPHONE_ENTRIES.get(microphone.kind, "")
        entries += [(microphone.name, part) for part in needed([entry] if entry else [])]
    entries += [(screen.name, SCREEN_ENTRY) for screen in setup.screens if screen.on and screen.kind == "monitor"]
    kinds = [(name, catalogue().kind(entry)) for name, entry in entries]
    return [name for name, kind in kinds if kind is not None and kind.attributes.get("jack") == "trs"]


def at_hand(setup: Setup) -> Counter[str]:
    """How many of each entry are there to connect with: the drawer, and what came with the things that are used."""
    there: Counter[str] = Counter()
    for item in setup.kit:
        there[item.entry] += item.count
    used = [camera.entry for camera in setup.cameras if camera.use != "spare"]
    used += [microphone.entry for microphone in setup.microphones if microphone.in_use] + [light.entry for light in setup.lights]
    used += [SCREEN_ENTRY for screen in setup.screens if screen.on and screen.kind in ("monitor", "projection")]
    for entry in used:
        there.update(needed([entry] if entry else [])[1:])
    return there


def gain_wanted_db(setup: Setup) -> float | None:
    """Gain that the voice wants from an XLR input [dB]; None for other microphones, and without 48 V."""
    microphone = setup.microphone_in_use
    if microphone is None or unpowered(microphone) or input_of(microphone) is None:
        return None
    gain = heard_by(setup, microphone).gain
    return gain.needed_db if gain else None


def _cheapest(device: Device, graph: object, setup: Setup, left: Counter[str]) -> tuple[Way | None, list[WiringFault]]:
    """The way that the setup's chain has, else the cheapest without a fault, else the cheapest at all; with its faults."""
    first: tuple[Way, list[WiringFault]] | None = None
    needed_db = gain_wanted_db(setup) if device.what == "voice" else None
    mine = [link.kind for link in setup.chain.links if link.begin.device == device.name[:40]]
    for way in ways(device, graph):
        wrong = list(faults.along(way, lengths_of(way, setup), needed_db))
        if (way.port not in ADAPTED or _shows(way)) and left[way.port] <= 0:
            wrong.append(faults.one_jack(device, way.port))
        if not wrong or [part.kind.entry for part in way.parts] == mine[: len(way.parts)] != []:  # what is joined already is told as it is
            return way, wrong
        first = first or (way, wrong)
    return first or (None, [])


def lengths_of(way: Way, setup: Setup) -> list[float]:
    """The length of each part of a way [m]: as the setup's chain has it, else as it is sold."""
    known = {(link.kind, link.begin.device): link.length_m for link in setup.chain.links}
    return [known.get((part.kind.entry, way.device.name), min(max(part.kind.number("length_m"), 0.0), MOST_CABLE_M)) for part in way.parts]


def _shows(way: Way) -> bool:
    """Whether it is a screen's way: no other port and no plain hub will do for it."""
    return way.device.what == "screen"


def _shared_out(way: Way, left: Counter[str], currency: str) -> tuple[Way, str]:
    """A port for a way: its own, the other USB port with an adapter, or the hub."""
    if left[way.port] > 0:
        left[way.port] -= 1
        return way, way.port
    if way.port not in ADAPTED or _shows(way):
        return way, way.port
    other, adapter = ADAPTED[way.port]
    kind = catalogue().kind(adapter)
    if left[other] > 0 and kind is not None:
        left[other] -= 1
        part = Part(kind, kind.ports[0], way.parts[-1].signal if way.parts else way.device.signal, False)
        return replace(way, parts=(*way.parts, part), port=other, cost=way.cost + (catalogue().price(adapter, currency) or 0.0)), other
    return way, "hub"


def _hub(hanging: Sequence[Way], setup: Setup) -> tuple[Kind | None, str, list[WiringFault]]:
    """A hub for what finds no port; with power of its own if the computer's port could not feed it."""
    if not hanging:
        return None, "", []
    named = {way.device.name: way.ma for way in hanging}
    gives = PORT_MA.get(("usb_a", ports_speed(setup.computer, "usb_a")), 500.0)
    plain, powered = (catalogue().kind(entry) for entry in HUBS)
    wrong = list(faults.of_hub(named, plain, gives)) if plain else []
    if plain is not None and not wrong:
        return plain, f"The computer has too few ports for {', '.join(named)}.", []
    if powered is not None:
        return powered, f"{wrong[0].title}. So one with power of its own." if wrong else "", list(faults.of_hub(named, powered, gives))
    return plain, "", wrong


def _others(setup: Setup, devices: Sequence[Device]) -> list[WiringFault]:
    """What no cable tells: 48 V, gain, timing, batteries."""
    hours = setup.place.duration_s / 3600
    dummy = any(item.entry == "wall_power_dummy" for item in setup.kit)
    wrong = [*faults.of_voice(setup), *faults.of_timing(setup)]
    for device in devices:
        needs_dummy = "wall_power_dummy" in device.kind.needs
        bought = needs_dummy and any(camera.entry == device.kind.entry for camera in setup.cameras)
        by_bus = device.end.startswith(("usb", "phone_port"))
        wrong += faults.of_battery(device, hours, dummy or bought or by_bus)
    return wrong


def _numbered(joined: Sequence[Joined], setup: Setup, wrong: Sequence[WiringFault]) -> list[Chain]:
    """The chains with their cables numbered through."""
    chains, number, currency = [], 0, setup.preferences.currency
    bad = {fault.path for fault in wrong if fault.id in ("too_long", "too_slow", "ring_order", "no_way")}
    host = setup.computer.kind.capitalize()
    for device, way, port, free in joined:
        cables = []
        parts = way.parts if way is not None else ()
        lengths = lengths_of(way, setup) if way is not None else []
        for index, (part, length_m) in enumerate(zip(parts, lengths, strict=True)):
            number += 1
            last = index + 1 == len(parts)
            begin = device.name if index == 0 else parts[index - 1].kind.name
            end = parts[index + 1].kind.name if not last else _last_end(setup, host, port)
            price = 0.0 if part.owned else catalogue().price(part.kind.entry, currency) or 0.0
            cables.append(Cable(number, part.kind, begin, end, length_m, price, part.owned, device.path in bad))
        chains.append(Chain(device, tuple(cables), port, port == "hub", free, way is not None or free is not None))
    return chains


def _last_end(setup: Setup, host: str, port: str) -> str:
    """Where a chain ends: at the hub, at the computer, or in the headphone jack of something else where the computer has none."""
    if port == "hub":
        return "the hub"
    if port == "trs" and not {"trs", "trrs"} & set(setup.computer.ports):
        return f"{_jacks(setup)[0]}, headphone jack"
    return f"{host}, {port.replace('_', ' ').upper()}"


def _on_mains(setup: Setup, joining: _Joining) -> list[Chain]:
    """Lamps and screens into the mains strip, those with a USB plug through a charger."""
    chains, drawer, currency = [], joining.drawer, joining.currency
    number = sum(len(way.parts) for _, way, *_ in joining.joined if way)
    for consumer in fed(setup):
        device = Device(consumer.path, consumer.name, consumer.what, consumer.kind, "mains.plug", "mains")
        cables: tuple[Cable, ...] = ()
        if consumer.charger is not None:
            number += 1
            owned = drawer[consumer.charger.entry] > 0
            drawer[consumer.charger.entry] -= owned
            price = 0.0 if owned else catalogue().price(consumer.charger.entry, currency) or 0.0
            cables = (Cable(number, consumer.charger, consumer.name, "Mains strip", 0.0, price, owned),)
        chains.append(Chain(device, cables, MAINS, False))
    return chains


def _loads(setup: Setup, joined: Sequence[Joined]) -> list[Power]:
    loads = [Power(setup.computer.kind.capitalize(), BUILT_IN_W[setup.computer.kind], 0.0, "mains")]
    loads += [Power(consumer.name, consumer.watts, 0.0, "mains") for consumer in fed(setup)]
    for device, way, *_ in joined:
        drawn_ma = way.ma if way is not None else device.ma
        if drawn_ma:
            loads.append(Power(device.name, 0.0, drawn_ma, "bus"))
        elif device.kind.power_w:
            loads.append(Power(device.name, device.kind.power_w, 0.0, "mains"))
    return loads


def links_of(plan: Plan) -> list[Link]:
    """The plan's cables as links for the setup's chain."""
    made = []
    for chain in plan.chains:
        for cable in chain.cables if chain.port != MAINS else ():
            made.append(Link.model_validate({
                "id": f"cable-{cable.number}", "name": f"{cable.number} {cable.kind.name}"[:80], "kind": cable.kind.entry, "length_m": cable.length_m,
                "begin": {"device": chain.device.name[:40], "port": cable.kind.ports[0].partition(">")[0][:40]},
                "end": {"device": cable.end[:40], "port": chain.port[:40]},
            }))  # fmt: skip
    return made
