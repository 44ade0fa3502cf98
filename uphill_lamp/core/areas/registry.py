"""The registry: all areas, in the order they are judged and told in. Whatever lists areas reads it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from uphill_lamp.core.areas.area import Area
from uphill_lamp.core.areas.backdrop.record import BACKDROP
from uphill_lamp.core.areas.eyes.record import EYES
from uphill_lamp.core.areas.frame.record import FRAME
from uphill_lamp.core.areas.light.record import LIGHT
from uphill_lamp.core.areas.sound.record import SOUND

_areas: list[Area] = [FRAME, LIGHT, SOUND, BACKDROP, EYES]


def areas() -> tuple[Area, ...]:
    """All areas."""
    return tuple(_areas)


def keys() -> tuple[str, ...]:
    """Their keys."""
    return tuple(area.key for area in _areas)


def area_of(key: str) -> Area | None:
    """The area of a key, if there is one."""
    return next((area for area in _areas if area.key == key), None)


def layers(stage: str) -> frozenset[str]:
    """What drawings show at a stage besides what they always show."""
    area = area_of(stage)
    return area.layers if area else frozenset()


@contextmanager
def also(area: Area) -> Iterator[None]:
    """Another area for a while, to try one out."""
    _areas.append(area)
    try:
        yield
    finally:
        _areas.remove(area)
