"""The graph of loose ends: every cable, adapter and converter leads from one end to another, for its price; a port ends the way."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import islice, pairwise
from typing import Any

import networkx as nx

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.people import Computer
from uphill_lamp.core.wiring.devices import Device
from uphill_lamp.core.wiring.limits import OLD_YEARS

Node = tuple[str, str, str]  # end such as usb_a.plug, signal, speed
HOST = "host"
EACH_PART = 0.01  # of two ways that cost alike, the one of fewer parts
NOT_OWNED = 0.005  # and of one price, what lies in the drawer
MOST_WAYS = 40
# What a port takes: the signals that are understood there. A headset's plug in a socket of three rings only gives its sound.
TAKES = {
    "usb_a": ("usb_",), "usb_c": ("usb_", "display"), "trrs": ("headset", "headset_mic", "split", "phones"), "trs": ("phones", "mic", "split"),
    "phone_port": ("phone_audio", "usb_"), "hdmi": ("display",),
}  # fmt: skip


@dataclass(frozen=True)
class Part:
    """A cable, adapter or converter of a way: its kind, the way through it that is used, the signal behind it, whether it is owned."""

    kind: Kind
    way: str
    signal: str
    owned: bool


@dataclass(frozen=True)
class Way:
    """A chain from a device to a port of the computer; ``speed`` the slowest bus on it, ``cost`` what has to be bought."""

    device: Device
    parts: tuple[Part, ...]
    port: str
    speed: str
    cost: float

    @property
    def ma(self) -> float:
        """Current that the device and the boxes on the way draw from the bus [mA]."""
        return self.device.ma + sum(part.kind.number("usb_ma") for part in self.parts)


def ports_speed(computer: Computer, connector: str) -> str:
    """The bus behind a port of a computer; old ones are slow."""
    return (
        "usb3" if connector in ("usb_c", "usb_a") and computer.age_years <= OLD_YEARS and computer.kind in ("laptop", "desktop") else "usb2"
    )


def ways(device: Device, graph: Any) -> Iterator[Way]:
    """Ways from a device to the computer, cheapest first; none if no chain of known parts joins them.

    Args:
        graph: ``graph_of`` the computer and what is owned.
    """
    start: Node = device.end, device.signal, "usb3"
    if start not in graph or HOST not in graph:
        return
    try:
        paths = nx.shortest_simple_paths(graph, start, HOST, weight="cost")
        for nodes in islice(paths, MOST_WAYS):
            yield _way(device, graph, nodes)
    except nx.NetworkXNoPath:
        return


def _way(device: Device, graph: Any, nodes: list[Any]) -> Way:
    steps = [graph.edges[one, other] for one, other in pairwise(nodes)]
    parts = tuple(step["part"] for step in steps if step["part"] is not None)
    return Way(device, parts, steps[-1]["port"], nodes[-2][2], sum(step["price"] for step in steps))


def graph_of(computer: Computer, drawer: Mapping[str, int], currency: str) -> Any:
    """The graph of all that the catalogue's parts can join to a computer.

    Args:
        drawer: how many of which entries are owned and free.
        currency: of the prices.
    """
    graph = nx.DiGraph()
    there, waiting = set(_starts()), list(_starts())
    taking: dict[str, list[tuple[Kind, str]]] = {}  # ways through by the end they take
    for kind in catalogue().kinds.values():
        for way in kind.ports:
            taking.setdefault(way.partition(">")[0], []).append((kind, way))
    while waiting:
        node = waiting.pop()
        for kind, way in taking.get(node[0], ()):
            after = _through(node, kind, way)
            if after is None:
                continue
            owned = drawer.get(kind.entry, 0) > 0
            price = 0.0 if owned else catalogue().price(kind.entry, currency) or 0.0
            cost = price + EACH_PART + (0.0 if owned else NOT_OWNED)
            if not graph.has_edge(node, after) or graph.edges[node, after]["cost"] > cost:
                graph.add_edge(node, after, cost=cost, price=price, part=Part(kind, way, after[1], owned), port="")
            if after not in there:
                there.add(after)
                waiting.append(after)
    for node in there:
        end, signal, speed = node
        connector, _, sex = end.partition(".")
        for port in _fitting(connector, signal) if sex == "plug" else ():
            if port not in computer.ports:
                continue
            last: Node = end, signal, min(speed, ports_speed(computer, port))
            if last != node:  # a fast plug in a slow port goes on at the port's speed
                graph.add_edge(node, last, cost=0.0, price=0.0, part=None, port="")
            graph.add_edge(last, HOST, cost=0.0, price=0.0, part=None, port=port)
            break
    return graph


def _fitting(connector: str, signal: str) -> list[str]:
    """The ports a plug fits and is understood in, its own first. Headphones' plug of two rings sounds in a headset jack of three; a
    microphone's does not, for there the tip is an ear."""
    ports = ["trs", "trrs"] if connector == "trs" and signal == "phones" else [connector]
    return [port for port in ports if signal.startswith(TAKES.get(port, ("none",)))]


def _starts() -> list[Node]:
    signals = (
        "usb_video",
        "usb_audio",
        "usb_keys",
        "hdmi_video",
        "xlr",
        "xlr_48v",
        "headset",
        "headset_mic",
        "mic",
        "phones",
        "phone_video",
        "display",
    )
    ends = {port for kind in catalogue().kinds.values() for port in kind.ports if ">" not in port and not port.startswith("mains")}
    return [(end, signal, "usb3") for end in sorted(ends) for signal in signals]


def _through(node: Node, kind: Kind, way: str) -> Node | None:
    """Where a way through a part leads from a loose end; None if it does not fit or does not carry the signal."""
    end, signal, speed = node
    takes, mark, gives = way.partition(">")
    if not mark or takes != end:
        return None
    carried = next((after for carries in kind.attributes.get("carries", "").split() if (after := _carried(signal, carries))), None)
    if carried is None:
        return None
    return gives, carried, min(speed, kind.attributes.get("speed", speed)) if carried.startswith("usb") else speed


def _carried(signal: str, carries: str) -> str | None:
    before, mark, after = carries.partition(">")
    if before == "usb":
        return "usb_video" if signal == "phone_video" else signal if signal.startswith("usb_") else None
    if signal != before:
        return None
    return after if mark else signal
