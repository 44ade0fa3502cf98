"""A scripted day at one server, and the memory it holds on the way: a part of ``./uphill bench``."""

from __future__ import annotations

import os
import re
import sys
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

from tools.endurance import hostile
from tools.endurance.server import Client, found, resident_mb, started

LIMIT_MB = 500.0
RESTS_S = 12.0  # before the last reading; the app, told to rest after a few seconds, has done so by then
TOLD_TO_REST_S = "5"
CHANGES, PREVIEWS, LADDERS, PICTURES, HEARINGS, UPLOADS = 1000, 1000, 20, 50, 20, 12
LADDER_S = 60.0
STAYS = 3  # acts of a kind in a setup before the next one is opened
PORT = 8868


def steps(clients: Sequence[Client]) -> Iterator[tuple[str, Callable[[], object]]]:
    """The day's acts in an order that mixes them, each with its name; the setups take turns."""
    kinds = (
        ("change", CHANGES, _change), ("preview", PREVIEWS, _preview), ("ladder", LADDERS, _ladder), ("picture", PICTURES, _picture),
        ("hearing", HEARINGS, _hearing), ("upload", UPLOADS, _upload),
    )  # fmt: skip
    due = sorted(((number + 0.5) / count, name, number, act) for name, count, act in kinds for number in range(count))
    for _, name, number, act in due:
        client = clients[number // STAYS % len(clients)]
        yield name, lambda act=act, client=client, number=number: act(client, number)  # type: ignore[misc]


def _change(client: Client, number: int) -> object:
    if number % 50 == 49:
        return client.undo()
    return client.change(action="move", thing=client.lamp, view="plan", right=str(0.01 if number % 8 < 4 else -0.01), up="0")


def _preview(client: Client, number: int) -> object:
    return client.preview(action="move", thing=client.lamp, view="plan", right=f"{0.001 * (number % 300):.3f}", up="0.02")


def _ladder(client: Client, number: int) -> object:
    """Another budget is the same ladder; another lamp, moved before, is not."""
    steps = f"/setups/{client.setup_id}/steps/"
    client.get(steps)
    end = time.monotonic() + LADDER_S
    while client.get(f"{steps}progress/") and time.monotonic() < end:
        time.sleep(0.2)
    return client.get(f"{steps}ladder.csv") + client.get(f"{steps}ladder.svg")


def _picture(client: Client, number: int) -> object:
    digest = found(r"/picture/([0-9a-f]{64})/", client.get(f"/setups/{client.setup_id}/frame/").decode())
    return client.get(f"/picture/{digest}/{('320.jpg', '640.jpg', 'levels.jpg', 'picture.png')[number % 4]}")


def _hearing(client: Client, number: int) -> object:
    sounds = re.findall(r"[0-9a-f]{64}/[0-9a-f]{20}", client.get(f"/setups/{client.setup_id}/microphones/").decode())
    return client.get(f"/hear/{sounds[number % len(sounds)]}/{('low', 'high')[number % 2]}.wav")


def _upload(client: Client, number: int) -> object:
    """A setup, a recording, and what is refused: far too many things, far too many figures."""
    if number % 3 == 0:
        return client.upload("/hear/own/", "file", hostile.wave(10.0 + number, 48_000))
    heap = hostile.seeds()["setup"][0] if number % 3 == 1 else b'{"lights":[' + b"{}," * 600_000 + b"{}]}"
    return client.upload("/files/", "file", heap)


def main() -> int:
    """Runs the day; 1 if the server holds more than it may at its end, else 0."""
    with tempfile.TemporaryDirectory(prefix="uphill-day-") as folder:
        os.environ["UPHILL_REST_S"] = TOLD_TO_REST_S
        server, address = started(Path(folder), PORT)
        try:
            return _day(server.pid, [Client(address, row) for row in range(1, 6)])
        finally:
            server.kill()


def _day(pid: int, clients: Sequence[Client]) -> int:
    began, curve, most = time.monotonic(), [resident_mb(pid)], 0.0
    done: dict[str, int] = {}
    whole = CHANGES + PREVIEWS + LADDERS + PICTURES + HEARINGS + UPLOADS
    for count, (name, act) in enumerate(steps(clients), 1):
        act()
        done[name] = done.get(name, 0) + 1
        now = resident_mb(pid)
        most = max(most, now)
        if count % (whole // 20) == 0:
            curve.append(now)
            if os.isatty(2):
                print(f"\r{count} of {whole}", end="", file=sys.stderr)
    ends = resident_mb(pid)
    time.sleep(RESTS_S)
    rests = resident_mb(pid)
    answer = ", ".join(f"{count} {name}s" for name, count in done.items())
    print(
        f"a day ({answer}) in {time.monotonic() - began:.0f} s; memory of the server from start to end: {' '.join(f'{mb:.0f}' for mb in curve)} MB,"
    )
    print(f"most {most:.0f} MB, after the last act {ends:.0f} MB, at rest {rests:.0f} MB (limit {LIMIT_MB:g})")
    return int(rests > LIMIT_MB)


if __name__ == "__main__":
    sys.exit(main())
