"""How fast the app is on this machine: medians for each demo setup, and ratios that can be compared between machines."""

from __future__ import annotations

import os
import re
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from tools.endurance.measuring import files_measured
from uphill_lamp import at_start

if TYPE_CHECKING:
    from uphill_lamp.core.document import Setup

at_start.prepare()

ROUNDS = 15
LIMITS_MS = {"measures": 20.0, "gains": 300.0, "fragment": 50.0, "lamp moved": 10.0, "desk moved": 300.0, "new room": 300.0, "year": 2000.0}
# Pictures 640 px wide while a lamp is dragged, drafts while the camera is, and the full picture once it rests.
PICTURE_LIMITS_MS = {"lamp, drafts": 50.0, "camera, draft": 100.0, "camera, full": 400.0}
MEMORY_LIMIT_MB = 500.0
HEAR_LIMIT_S = 2.0  # a sample of some 6 s through a microphone, what it needs imported beforehand
START_LIMIT_S = 2.0
FIRST_PAGE_LIMIT_S = 1.0  # of processor time: a second start, with its first page and the pictures on it
TABLE_LIMIT_S, FRONT_LIMIT_S = 20.0, 2.0  # the ladder: what combinations are worth, and the exact front from that
LADDER_MONEY = 1000.0  # so far that nearly all the catalogue is a candidate


def run() -> int:
    """Prints the figures; 1 if a limit is missed, else 0."""
    with tempfile.TemporaryDirectory(prefix="uphill-bench-") as state:
        os.environ["UPHILL_STATE"] = state
        start_s = min(_start_s(state, 8790 + number) for number in range(2))
        first_page_s = _first_page_s(state, 8792)
        return _report(start_s, first_page_s)


def _start_s(state: str, port: int) -> float:
    """From the command to the printed address, on an installed app with its database [s]."""
    command = [sys.executable, "-m", "uphill_lamp", "demo", "--no-browser", "--port", str(port)]
    began = time.perf_counter()
    with subprocess.Popen(command, env=os.environ | {"UPHILL_STATE": state}, stdout=subprocess.PIPE, text=True) as server:
        assert server.stdout is not None
        server.stdout.readline()
        took = time.perf_counter() - began
        server.kill()
    return took


def _first_page_s(state: str, port: int) -> float:
    """Processor time of a start up to the first page with all its pictures, after they were drawn once [s]."""
    command = [sys.executable, "-m", "uphill_lamp", "demo", "--no-browser", "--port", str(port)]
    for _ in range(2):
        with subprocess.Popen(command, env=os.environ | {"UPHILL_STATE": state}, stdout=subprocess.PIPE, text=True) as server:
            assert server.stdout is not None
            server.stdout.readline()
            address = f"http://127.0.0.1:{port}"
            page = urllib.request.urlopen(address).read().decode()
            for picture in re.findall(r'src="(/picture/[^"]+)"', page):
                urllib.request.urlopen(address + picture).read()
            ticks = Path(f"/proc/{server.pid}/stat").read_text().rsplit(")", 1)[1].split()[11:13]
            server.kill()
    return sum(map(int, ticks)) / os.sysconf("SC_CLK_TCK")


def _forget() -> None:
    """What is in view, and the light on it: each round works it out anew."""
    from uphill_lamp.core.areas.backdrop import behind
    from uphill_lamp.core.field.camera import camera_rays
    from uphill_lamp.core.scene import in_view

    for of in (in_view, camera_rays, behind):
        of.forget()


def _median_ms(work: Callable[[], object], rounds: int = ROUNDS) -> float:
    times = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        times.append(time.perf_counter() - began)
    return 1000 * statistics.median(times)


def _yardstick_ms() -> float:
    """A fixed piece of work in plain Python and numpy, to hold the figures against."""
    import numpy as np

    table = np.linspace(0, 1, 200_000)

    def work() -> float:
        total = sum(number % 7 for number in range(60_000))
        return total + float(np.sqrt(table * table + 1).sum())

    return _median_ms(work)


def _lamp_moved_ms(document: Setup) -> float:
    """Light on the face, reflections included, after one source has moved to where it has not been."""
    from uphill_lamp.core.field.light.lit_scene import lit_scene_of
    from uphill_lamp.core.field.light.sources import PointSource
    from uphill_lamp.core.field.light.windows import sources_of

    shining, steps = sources_of(document), iter(range(1, 1000))
    lamp = next((source for source in shining if isinstance(source, PointSource)), None)
    if lamp is None:
        return 0.0
    others = [source for source in shining if source is not lamp]

    def work() -> object:
        return lit_scene_of(document, (*others, replace(lamp, place=lamp.place + 0.001 * next(steps)))).face_lx

    return _median_ms(work)


def _desk_moved_ms(document: Setup) -> float:
    """The same after the desk has moved to where it has not been: its part of the room solved anew, and all sources lit past it."""
    from uphill_lamp.core.field.light.lit_scene import lit_scene_of

    steps = iter(range(1, 1000))

    def work() -> object:
        desk = document.desk.model_copy(update={"x_m": document.desk.x_m + 0.0001 * next(steps)})
        return lit_scene_of(document.model_copy(update={"desk": desk})).face_lx

    return _median_ms(work, 7)


def _new_room_ms(document: Setup) -> float:
    """Light on the face in a room never seen before: cut, solved and lit."""
    from uphill_lamp.core.field.light.lit_scene import lit_scene_of

    steps = iter(range(1, 1000))

    def work() -> object:
        room = document.room.model_copy(update={"height_m": document.room.height_m + 0.0001 * next(steps)})
        return lit_scene_of(document.model_copy(update={"room": room})).face_lx

    return _median_ms(work, 5)


def _year_ms(document: Setup) -> float:
    """A year's light, 52 560 instants, from a setup not seen before; the room's own solution is there."""
    from uphill_lamp.core.areas.light.day import DayRoom, year_of

    return _median_ms(lambda: year_of(DayRoom.of(document), document.place.call_at.year, document.place.sky), 3)


def _with_lamp_moved(document: Setup) -> Callable[[int], Setup]:
    """The setup with its first lamp some millimetres higher."""

    def moved(step: int) -> Setup:
        first = document.lights[0]
        place = first.position.model_copy(update={"z_m": first.position.z_m - 0.002 * step})
        return document.model_copy(update={"lights": (first.model_copy(update={"position": place}), *document.lights[1:])})

    return moved


def _with_camera_moved(document: Setup) -> Callable[[int], Setup]:
    """The setup with its camera zoomed in a little further: whatever its mount, all of the picture is new."""

    def moved(step: int) -> Setup:
        zoomed = document.main_camera.model_copy(update={"zoom": document.main_camera.zoom + 0.002 * step})
        return document.model_copy(update={"cameras": tuple(zoomed if camera.id == zoomed.id else camera for camera in document.cameras)})

    return moved


def _picture_ms(moved: Callable[[int], Setup], columns: int, draft: bool = False) -> float:
    """A picture that follows a drag, its light worked out anew; what the drag leaves alone is there already."""
    from uphill_lamp.core.field.camera.metering import meter
    from uphill_lamp.core.field.light.lit_scene import lit_scene_of
    from uphill_lamp.drawings.far_side.render import rendered

    metered, steps = meter(lit_scene_of(moved(0))), iter(range(1, 1000))

    def work() -> object:
        return rendered(lit_scene_of(moved(next(steps))), metered, columns, draft)

    work()
    return _median_ms(work, 9)


def _hear_s(document: Setup) -> float:
    """A voice through the microphone in use, worked out anew [s]."""
    from uphill_lamp.listening.render import as_wav, dry_voice, rendered

    def work() -> object:
        assert document.microphone_in_use is not None
        return as_wav(rendered(document, document.microphone_in_use, dry_voice("low")).played)

    work()
    return _median_ms(work, 3) / 1000


def _ladder(document: Setup) -> tuple[int, int, float, float, float]:
    """A ladder from nothing kept: candidate actions, combinations weighed, time for all but the front and for the front, and for another
    with half the money [s]."""
    from unittest.mock import patch

    from uphill_lamp.core.appraisal.appraise import appraise
    from uphill_lamp.core.steps import score_cache
    from uphill_lamp.core.steps.ladder import climbed
    from uphill_lamp.core.steps.table import Table

    fronts: list[float] = []
    front = Table.front

    def timed(table: Table, weights: object) -> object:
        began = time.perf_counter()
        points = front(table, weights)  # type: ignore[arg-type]
        fronts.append(time.perf_counter() - began)
        return points

    _forget()
    score_cache.forget()
    began = time.perf_counter()
    with patch.object(Table, "front", timed):
        ladder = climbed(appraise(document), LADDER_MONEY)
    whole_s = time.perf_counter() - began
    climbed(appraise(document), LADDER_MONEY / 2)
    again_s = time.perf_counter() - began - whole_s
    return len(ladder.actions) + len(ladder.left_out), ladder.combinations, whole_s - sum(fronts), max(fronts), again_s


def _drawing_mb() -> float:
    """The most memory that a process holds which draws a draft and a full picture [MB]; its own, so not as a child's use is
    counted, which begins with all that its parent held."""
    work = (
        "from uphill_lamp.drawings.draftsman import compile_all; compile_all(); "
        "print(next(line.split()[1] for line in open('/proc/self/status') if line.startswith('VmHWM')))"
    )
    run = subprocess.run([sys.executable, "-c", work], check=True, capture_output=True, text=True)
    return int(run.stdout) / 1024


def _report(start_s: float, first_page_s: float) -> int:
    from uphill_lamp.web import running

    running.prepare()
    running._warm()
    from django.test import Client

    from uphill_lamp.core.appraisal.appraise import appraise
    from uphill_lamp.core.document import read_setup
    from uphill_lamp.drawings.far_side.render import FULL_COLUMNS
    from uphill_lamp.web.bench.page import DRAFT_PX
    from uphill_lamp.web.setups import documents
    from uphill_lamp.web.setups.models import Setup as Row

    limits = LIMITS_MS | PICTURE_LIMITS_MS
    yardstick = _yardstick_ms()
    client, missed = Client(HTTP_HOST="localhost", HTTP_X_UPHILL_FRAGMENT="1"), []
    print(f"yardstick {yardstick:.1f} ms; figures are medians of {ROUNDS}, in ms (and times the yardstick)")
    print(f"start, installed: {start_s:.2f} s (limit {START_LIMIT_S:g} s)\n")
    print(f"first page of a second start, with its pictures: {first_page_s:.2f} s of processor time (limit {FIRST_PAGE_LIMIT_S:g} s)")
    print(f"{'setup':34}" + "".join(f"{name:>17}" for name in limits))
    if start_s > START_LIMIT_S:
        missed.append("start")
    if first_page_s > FIRST_PAGE_LIMIT_S:
        missed.append("first page")
    for row in Row.objects.select_related("head"):
        assert row.head is not None
        document = read_setup(row.head.document.encode())
        appraise(document)

        # Each round appraises anew: a cache in front of it would measure itself.
        def measures(document=document):  # type: ignore[no-untyped-def]
            _forget()
            return appraise(document)

        def gains(measures=measures):  # type: ignore[no-untyped-def]
            return measures().findings_with_gains

        def fragment(row=row):  # type: ignore[no-untyped-def]
            documents.forget()
            _forget()
            answer = client.get(f"/setups/{row.pk}/frame/fragment/")
            assert answer.status_code == 200

        measures_ms = _median_ms(measures)
        figures = {
            "measures": measures_ms,
            "gains": _median_ms(gains) - measures_ms,
            "fragment": _median_ms(fragment),
            "lamp moved": _lamp_moved_ms(document),
            "desk moved": _desk_moved_ms(document),
            "new room": _new_room_ms(document),
            "year": _year_ms(document),
            "lamp, drafts": _picture_ms(_with_lamp_moved(document), FULL_COLUMNS, draft=True),
            "camera, draft": _picture_ms(_with_camera_moved(document), DRAFT_PX, draft=True),
            "camera, full": _picture_ms(_with_camera_moved(document), FULL_COLUMNS),
        }
        missed += [f"{name} of {row.name}" for name, limit in limits.items() if figures[name] > limit]
        print(f"{row.name[:33]:34}" + "".join(f"{value:9.1f} ({value / yardstick:4.1f}) " for value in figures.values()))
    print(f"{'limit':34}" + "".join(f"{limit:9.0f}        " for limit in limits.values()))
    heard_s = max(_hear_s(read_setup(row.head.document.encode())) for row in Row.objects.select_related("head") if row.head)
    print(f"a voice heard through a microphone, slowest room: {heard_s:.2f} s (limit {HEAR_LIMIT_S:g} s)")
    if heard_s > HEAR_LIMIT_S:
        missed.append("hear")
    for row in Row.objects.select_related("head"):
        assert row.head is not None
        candidates, combinations, table_s, front_s, again_s = _ladder(read_setup(row.head.document.encode()))
        print(
            f"ladder of {row.name[:33]}: {candidates} candidate actions, {combinations} combinations weighed in {table_s:.1f} s (limit {TABLE_LIMIT_S:g} s), "
            f"front in {front_s:.2f} s (limit {FRONT_LIMIT_S:g} s), with half the money then in {again_s:.1f} s"
        )
        if table_s > TABLE_LIMIT_S or front_s > FRONT_LIMIT_S:
            missed.append(f"ladder of {row.name}")
    missed += files_measured()
    memory_mb = _drawing_mb()
    print(f"most memory of a process that draws drafts and a full picture: {memory_mb:.0f} MB (limit {MEMORY_LIMIT_MB:g})")
    if memory_mb > MEMORY_LIMIT_MB:
        missed.append("memory")
    print("\nover the limit: " + ", ".join(missed) if missed else "\nall within their limits")
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(run())
