"""``./uphill kill --times N``: kills a server at work and looks whether anything it had acknowledged is lost, or anything it started lives on."""

from __future__ import annotations

import argparse
import http.client
import random
import signal
import sqlite3
import sys
import tempfile
import threading
import time
from dataclasses import dataclass, field
from pathlib import Path

from tools.endurance.server import Client, started

ORPHAN_S = 5.0  # so long after a kill, nothing that the server started may live
CHANGERS = 2


@dataclass
class Round:
    """What one killed server had promised, and what was found after it."""

    acknowledged: list[tuple[int, int]] = field(default_factory=list)  # setup and its revision, as told to a client
    lost: list[tuple[int, int]] = field(default_factory=list)
    orphans: list[int] = field(default_factory=list)
    unsound: str = ""


def one_round(state: Path, port: int, wait_s: float, at_start: bool = False) -> Round:
    """Starts a server, lets it be used, kills it at no chosen moment, and looks at what it left.

    Args:
        state: its folder, which goes from round to round.
        wait_s: how long it is at work before it is killed [s].
        at_start: whether it is killed so long after its start, while what draws is still being loaded, and nobody has used it.
    """
    tally, log = Round(), (state / "server.log").open("ab")
    server, address = started(state, port, log)
    if not at_start:
        clients = [Client(address, row) for row in range(1, CHANGERS + 1)]
        stop = threading.Event()
        for client in clients:
            threading.Thread(target=_keep_changing, args=(client, tally, stop), daemon=True).start()
    time.sleep(wait_s)
    family = _below(server.pid)
    server.send_signal(signal.SIGKILL)
    server.wait()
    if not at_start:
        stop.set()
    end = time.monotonic() + ORPHAN_S
    while (left := [pid for pid in family if _alive(pid)]) and time.monotonic() < end:
        time.sleep(0.1)
    tally.orphans = left
    log.close()
    _look_after(state / "uphill.sqlite3", tally)
    return tally


def _keep_changing(client: Client, tally: Round, stop: threading.Event) -> None:
    while not stop.is_set():
        try:
            tally.acknowledged.append((client.setup_id, client.change()))
        except (OSError, LookupError, http.client.HTTPException):
            return


def _look_after(database: Path, tally: Round) -> None:
    with sqlite3.connect(database) as opened:
        there = {row[0] for row in opened.execute("SELECT id FROM setups_revision")}
        tally.lost = [change for change in tally.acknowledged if change[1] not in there]
        whole, keys = opened.execute("PRAGMA integrity_check").fetchall(), opened.execute("PRAGMA foreign_key_check").fetchall()
    tally.unsound = "" if whole == [("ok",)] and not keys else f"{whole} {keys}"


def _below(pid: int) -> list[int]:
    """All processes started by one, and by those."""
    children: dict[int, list[int]] = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                parent = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
            except (OSError, IndexError):
                continue
            children.setdefault(parent, []).append(int(entry.name))
    pids, look = [], [pid]
    while look:
        for child in children.get(look.pop(), []):
            pids.append(child)
            look.append(child)
    return pids


def _alive(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except OSError:
        return False


def main() -> int:
    """The command; 1 if anything was lost, left or unsound, else 0."""
    options = argparse.ArgumentParser(prog="uphill kill", description=__doc__)
    options.add_argument("--times", type=int, default=30)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--port", type=int, default=8870)
    asked = options.parse_args()
    chance, bad, acknowledged = random.Random(asked.seed), 0, 0
    with tempfile.TemporaryDirectory(prefix="uphill-kill-") as folder:
        for number in range(asked.times):
            at_start = number % 3 == 2
            tally = one_round(
                Path(folder), asked.port + number % 20, chance.uniform(0.0, 6.0) if at_start else chance.uniform(0.5, 4.0), at_start
            )
            acknowledged += len(tally.acknowledged)
            bad += bool(tally.lost or tally.orphans or tally.unsound)
            print(f"{number + 1} of {asked.times}: {len(tally.acknowledged)} changes acknowledged, {len(tally.lost)} lost, {len(tally.orphans)} processes left"
                  + (f", UNSOUND {tally.unsound}" if tally.unsound else "") + (" (killed while it was loading)" if at_start else ""), flush=True)  # fmt: skip
    print(f"{acknowledged} changes acknowledged in all; {bad} rounds with something lost, left or unsound")
    return 1 if bad or not acknowledged else 0


if __name__ == "__main__":
    sys.exit(main())
