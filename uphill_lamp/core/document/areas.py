"""The areas a setup is judged in, by name: what the document's weights and the areas' own records both read."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class AreaName:
    """An area's key in documents and addresses, its label on the page, and how much it counts in the whole unless it is said otherwise."""

    key: str
    label: str
    weight: float


# Sound comes first: a call without a picture goes on, one without a voice does not. What is behind counts once it is judged.
AREA_NAMES = (
    AreaName("sound", "Sound", 33),
    AreaName("light", "Light", 25),
    AreaName("frame", "Frame", 18),
    AreaName("eyes", "Eyes", 9),
    AreaName("backdrop", "Backdrop", 15),
)
BY_KEY = {area.key: area for area in AREA_NAMES}
