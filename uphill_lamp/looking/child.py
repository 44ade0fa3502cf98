"""What a child does: decodes and measures files within limits, one after another, and says a line for each.

A job has ``path``, ``preview`` and ``known``. Before a file's answer come lines with ``done``, how much of it is, 0-1.
"""

from __future__ import annotations

import base64
import io
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from uphill_lamp.core.measuring.figure import Figure
    from uphill_lamp.core.measuring.heard import Heard

MOST_ADDRESSES, MOST_CPU_S, MOST_CLIP_CPU_S, MOST_FILES = 2_000_000_000, 120, 300, 64
PREVIEW_PX = 1280


def limited(most_cpu_s: int = MOST_CPU_S) -> None:
    """Sets the limits that this process keeps from here on: addresses, processor [s], open files; it can write no file."""
    import resource

    for what, most in (
        (resource.RLIMIT_AS, MOST_ADDRESSES),
        (resource.RLIMIT_CPU, most_cpu_s),
        (resource.RLIMIT_NOFILE, MOST_FILES),
        (resource.RLIMIT_FSIZE, 0),
        (resource.RLIMIT_CORE, 0),
    ):
        resource.setrlimit(what, (most, most))


def measured(
    path: Path, preview: bool = False, known: dict[str, Any] | None = None, tell: Callable[[float], None] = lambda share: None
) -> dict[str, Any]:
    """All figures of a file, as ``docs/measures.schema.json`` says; with a small copy of a picture if so wished.

    Args:
        known: of a clip, when somebody looks into the lens and at the call's window: spans [s] by ``lens_s`` and ``window_s``; of a
            picture, where white ``paper`` is, x and y [px].
        tell: told now and then how much of a clip or a sound is done, 0-1.

    Raises:
        Refused: if it cannot be read.
    """
    from uphill_lamp.core.measuring.figure import report
    from uphill_lamp.looking.decoding import Sound, container_of, decoded

    if container := container_of(path):
        return _clip(path, container, preview, known or {}, tell)
    read = decoded(path, tell)
    if isinstance(read, Sound):
        from uphill_lamp.core.measuring.faults import is_doubled
        from uphill_lamp.core.measuring.sound import products_of

        notes = [f"only the first {read.seconds:.0f} s are looked at"] if read.goes_on else []
        notes += ["both channels carry the same"] if read.pieces and is_doubled(products_of(read.pieces)) else []
        return report("sound", _heard(read.pieces), notes=notes)
    return _still(read, preview, known or {})


def _heard(pieces: list[Heard]) -> list[Figure]:
    """Figures of a recording, with the tone of the voice in it."""
    from uphill_lamp.core.check.tone import tone_figure
    from uphill_lamp.core.measuring.sound import figures_of

    figures = list(figures_of(pieces))
    values = {figure.id: figure.value for figure in figures}
    begin, end = values["sound.speech_start_s"], values["sound.speech_end_s"]
    span = (begin, end) if isinstance(begin, float) and isinstance(end, float) else None
    return [*figures, tone_figure(pieces, span)]


def _still(read: Any, preview: bool, known: dict[str, Any]) -> dict[str, Any]:
    import cv2
    import numpy as np

    from uphill_lamp.core.check.paper import Exposure, paper_figures
    from uphill_lamp.core.measuring.figure import report
    from uphill_lamp.core.measuring.still import still_figures
    from uphill_lamp.looking.faces import found_in
    from uphill_lamp.looking.marks import marks_of
    from uphill_lamp.looking.segments import segments_of

    cv2.setNumThreads(1)
    face = found_in(read.picture)
    marks = marks_of(face) if face is not None else None
    segments = segments_of(read.picture, marks.person if marks else None)
    figures = still_figures(read.picture, marks, read.lossless, read.piece, segments)
    places = {name: [round(value * read.scale, 1) for value in place] for name, place in marks.data().items()} if marks else {}
    exposure, paper = Exposure.of(read.exposure), known.get("paper")
    figures += paper_figures(read.picture, None if paper is None else np.array(paper, float) / read.scale, exposure)
    if paper is not None:
        places["paper"] = [round(float(value), 1) for value in paper]
    notes = ["more faces than one: the largest is taken"] if face is not None and face.others else []
    answer = report("still", figures, places, notes) | ({"exposure": exposure.data()} if exposure else {})
    return answer | _small(read) if preview else answer


def _clip(path: Path, container: str, preview: bool, known: dict[str, Any], tell: Callable[[float], None]) -> dict[str, Any]:
    """Figures of a clip: of its sound, of one of its pictures, and of all of them in time."""
    import cv2

    from uphill_lamp.core.measuring.clip import clip_figures, known_of
    from uphill_lamp.core.measuring.figure import Figure, report
    from uphill_lamp.core.measuring.still import grain_in_time, still_figures
    from uphill_lamp.looking.clips import clip_of
    from uphill_lamp.looking.decoding import Still
    from uphill_lamp.looking.marks import marks_of
    from uphill_lamp.looking.segments import segments_of

    cv2.setNumThreads(1)
    clip, figures = clip_of(path, container, bool(known), tell), list[Figure]()
    if clip.sound is not None:
        figures += _heard(clip.sound.pieces)
    seen = clip.watched
    if seen is None:
        return report("sound", figures, notes=clip.notes)
    marks = marks_of(seen.face) if seen.face is not None else None
    segments = segments_of(seen.still, marks.person if marks else None)
    picture = still_figures(seen.still, marks, lossless=False, segments=segments)
    figures += [grain_in_time(seen.noise, seen.own_grain) if figure.id == "picture.noise" else figure for figure in picture]
    figures += clip_figures(seen.track, known_of(known, {figure.id: figure.value for figure in figures}))
    places = {name: [round(value * seen.scale, 1) for value in place] for name, place in marks.data().items()} if marks else {}
    answer = report("clip", figures, places, clip.notes)
    return answer | _small(Still(seen.still, seen.scale, seen.still, False)) if preview else answer


def _small(read: Any) -> dict[str, Any]:
    """A copy of a picture as text, and the size that its marks are told in [px]."""
    from PIL import Image

    rows, columns = read.picture.shape[:2]
    image, buffer = Image.fromarray(read.picture), io.BytesIO()
    image.thumbnail((PREVIEW_PX, PREVIEW_PX))
    image.save(buffer, "JPEG", quality=86)
    return {"preview": base64.b64encode(buffer.getvalue()).decode(), "size": [round(columns * read.scale), round(rows * read.scale)]}


def work(jobs: list[dict[str, Any]], say: Callable[[dict[str, Any]], None]) -> None:
    """Sets the limits and says the figures of each file, or what is wrong with it, as soon as that is known."""
    from uphill_lamp.looking.decoding import container_of

    limited(sum(MOST_CLIP_CPU_S if container_of(Path(job["path"])) else MOST_CPU_S for job in jobs))
    for job in jobs:
        say(_answer(job, say))


def _answer(job: dict[str, Any], say: Callable[[dict[str, Any]], None]) -> dict[str, Any]:
    from uphill_lamp.core.document.faults import Refused

    try:
        return measured(Path(job["path"]), bool(job.get("preview")), job.get("known"), lambda share: say({"done": round(share, 3)}))
    except Refused as wrong:
        return {"faults": [[fault.path, fault.found, fault.expected] for fault in wrong.faults]}
    except MemoryError:
        return {"faults": [["", "a file that takes too much memory", "a smaller one"]]}
