"""The next improvement by the log: what keeps going wrong raises the step that helps against it, until it is refused."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.session.learning import Use, keeps_going_wrong, plain

# What goes wrong whatever the setup: what helps against it, and the step that does it, if one of the app's does.
HELPS: dict[str, tuple[str, str]] = {
    "Others heard themselves": ("Wear headphones: then nothing of the others gets into your microphone", "sound.headphones"),
    "Picture or sound broke off": ("A cable to the network instead of the wireless way", ""),
    "I was not heard at first": ("Tap the microphone before each call, and know where mute is", ""),
    "I was late": ("Begin the run sheet ten minutes earlier, or leave more of it rigged", ""),
    "Somebody came in": ("A note on the door, and tell those at home until when", ""),
    "Something rang": ("Phones in flight mode, and the doorbell off", ""),
}


@dataclass(frozen=True)
class Raised:
    """A wish that the log raises: what went wrong, how often of the last ten, what helps, the moves that do it and the steps of these that
    are weighed now (by id, the best first), and the area it is judged in; nothing where there is none."""

    wrong: str
    times: int
    helps: str
    moves: tuple[str, ...] = ()
    steps: tuple[str, ...] = ()
    area: str = ""


def raised(uses: Sequence[Use], appraisal: Appraisal, steps: Collection[str] = ()) -> Iterator[Raised]:
    """What keeps going wrong and was not refused, most often first.

    Args:
        uses: oldest first.
        steps: ids of those that are weighed now.
    """
    refused = {plain(words) for words in appraisal.setup.session.wishes_refused}
    by_words = {plain(finding.title): finding for finding in appraisal.findings}
    for wrong, times in keeps_going_wrong(uses):
        if plain(wrong) in refused:
            continue
        finding = by_words.get(plain(wrong))
        if finding is not None:
            known = next((gained for gained in appraisal.findings_with_gains if gained.id == finding.id), finding)
            helps, moves = known.moves[0].title if known.moves else known.instead, tuple(move.id for move in known.moves)
        else:
            helps, move = next((pair for words, pair in HELPS.items() if plain(words) == plain(wrong)), ("", ""))
            moves = (move,) if move else ()
        helping = tuple(name for move in moves for name in steps if name.partition("@")[0] == move)
        yield Raised(wrong, times, helps, moves, helping, finding.area if finding is not None else (moves or ("",))[0].partition(".")[0])
