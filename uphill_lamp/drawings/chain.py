"""The wiring drawn: devices at the left, the computer at the right, every cable between them with its number."""

from __future__ import annotations

from uphill_lamp.core.wiring.plan import MAINS, Cable, Chain, Plan
from uphill_lamp.drawings.lettering import width_px
from uphill_lamp.drawings.svg import Node, SvgText, circle, drawing, group, line, rect, words

WIDTH, ROW, TOP = 860.0, 66.0, 16.0
DEVICE_X, DEVICE_W, HOST_X, HOST_W, BOX_H = 8.0, 178.0, 716.0, 136.0, 44.0
HUB_X, HUB_W = 628.0, 70.0


def chain(plan: Plan, host: str) -> SvgText:
    """A plan's chains, one a line, those to the computer first and those to the mains below; what is wrong dashed, what needs no
    cable dotted."""
    joined = sorted(plan.chains, key=lambda chain: chain.port == MAINS)
    signal = sum(chain.port != MAINS for chain in joined)
    height = TOP * 2 + ROW * max(len(joined), 1) - 14
    parts = [_end(host, 0, max(signal, 0 if joined else 1)), _end("Mains strip", signal, len(joined) - signal)]
    hanging = [index for index, chain in enumerate(joined) if chain.by_hub]
    if plan.hub is not None and hanging:
        top, foot = TOP + ROW * hanging[0], TOP + ROW * hanging[-1] + BOX_H
        parts += [
            rect(HUB_X, top, HUB_W, foot - top, rx=6, class_="chain-box is-hub"),
            words(HUB_X + HUB_W / 2, (top + foot) / 2 + 4, "Hub", text_anchor="middle", class_="chain-name"),
            line(HUB_X + HUB_W, (top + foot) / 2, HOST_X, (top + foot) / 2, class_="chain-cable"),
        ]
    parts += [_row(chain, TOP + ROW * index) for index, chain in enumerate(joined)]
    label = "; ".join(_told(chain, "the mains" if chain.port == MAINS else host) for chain in joined) or "Nothing needs a cable"
    return drawing(WIDTH, height, label, *parts, class_="chain-drawing", role="img").text()


def _end(name: str, first: int, rows: int) -> Node | None:
    """Where the chains of some rows end."""
    if rows < 1:
        return None
    top, high = TOP + ROW * first, ROW * rows - (ROW - BOX_H)
    return group(
        rect(HOST_X, top, HOST_W, high, rx=6, class_="chain-box is-host"),
        words(HOST_X + HOST_W - 10, top + high - 9, name, text_anchor="end", class_="chain-name"),
    )


def _told(chain: Chain, host: str) -> str:
    by = ", ".join(f"{cable.number} {cable.kind.name}" for cable in chain.cables)
    way = chain.free.name if chain.free else by or "its own plug"
    return f"{chain.device.name} by {way} to {host}"


def _row(chain: Chain, y: float) -> Node:
    middle, end = y + BOX_H / 2, HUB_X if chain.by_hub else HOST_X
    faulty = not chain.reached or any(cable.faulty for cable in chain.cables)
    shapes: list[Node] = []
    if chain.reached:
        kind = "chain-cable is-fault" if faulty else "chain-cable is-free" if chain.free else "chain-cable"
        shapes.append(line(DEVICE_X + DEVICE_W, middle, end, middle, class_=kind))
    else:
        shapes += [
            line(DEVICE_X + DEVICE_W, middle, DEVICE_X + DEVICE_W + 60, middle, class_="chain-cable is-fault"),
            words(DEVICE_X + DEVICE_W + 70, middle + 4, "no way in", class_="fault-text"),
        ]
    shapes.append(_box(chain.device.name, chain.device.what, y))
    if chain.free:
        shapes.append(_plate(chain.free.name, (DEVICE_X + DEVICE_W + end) / 2, middle, 40))
    elif chain.reached and not chain.cables:
        shapes.append(_plate("its own plug", (DEVICE_X + DEVICE_W + end) / 2, middle, 30))
    step = (end - DEVICE_X - DEVICE_W) / (len(chain.cables) + 1)
    for index, cable in enumerate(chain.cables):
        shapes.append(_cable(cable, DEVICE_X + DEVICE_W + step * (index + 1), middle, step))
    if chain.reached and not chain.by_hub:
        shapes.append(
            words(
                HOST_X + 8, middle + 4, chain.port.replace("_", " ").upper() if chain.port and chain.port != MAINS else "", class_="small"
            )
        )
    return group(*shapes)


def _box(name: str, what: str, y: float) -> Node:
    shown = name if len(name) <= 26 else name[:25] + "…"
    return group(
        rect(DEVICE_X, y, DEVICE_W, BOX_H, rx=6, class_="chain-box"),
        words(DEVICE_X + 10, y + 19, shown, class_="chain-name"),
        words(DEVICE_X + 10, y + 35, what, class_="small"),
    )


def _cable(cable: Cable, x: float, middle: float, room: float) -> Node:
    """A numbered tag on the line, what it is below."""
    length = f", {cable.length_m:g} m" if cable.length_m else ""
    name = cable.kind.name.split(",")[0] + length
    most = max(int(room / 6.2), 8)
    return group(
        group(circle(x, middle, 11), words(x, middle + 4, str(cable.number), text_anchor="middle"),
            class_="chain-tag is-fault" if cable.faulty else "chain-tag"),
        words(x, middle + 26, name if len(name) <= most else name[: most - 1] + "…", text_anchor="middle", class_="small"),
    )  # fmt: skip


def _plate(text: str, x: float, middle: float, most: int) -> Node:
    shown = text if len(text) <= most else text[: most - 1] + "…"
    width = width_px(shown, 11) + 14
    return group(
        rect(x - width / 2, middle - 10, width, 20, rx=4, class_="chain-plate"),
        words(x, middle + 4, shown, text_anchor="middle", class_="small"),
    )
