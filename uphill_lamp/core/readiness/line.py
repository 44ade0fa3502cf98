"""A line of the run sheet, and where lines are done."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Where = Literal["room", "phones", "home", "desk", "camera", "computer", "you", "there"]
# Nobody walks twice: what is due at the same time stands by where it is done.
ORDER: tuple[Where, ...] = ("room", "home", "phones", "desk", "camera", "computer", "you", "there")


@dataclass(frozen=True)
class Line:
    """A line: when at the latest, from the start (negative before, positive after the end) [min]; what; why; how long [s].

    ``source`` is what it stands there for: a finding's id, a path of the document, or what every call needs; ``caution`` what to mind.
    """

    id: str
    at_min: float
    where: Where
    words: str
    why: str
    source: str
    seconds: int
    caution: str = ""
