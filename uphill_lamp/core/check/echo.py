"""What comes back of the loudspeakers: five seconds through them, against the voice of the same take."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from uphill_lamp.core.measuring.figure import Figure, refused

SPEECH = "sound.speech_active_dbfs"


def echo_figure(voice: Iterable[Mapping[str, Any]], back: Iterable[Mapping[str, Any]]) -> Figure:
    """How loud the loudspeakers are heard back, against one's own voice [dB]; both as active levels of one microphone at one gain.

    Args:
        voice: figures of the take in which somebody speaks.
        back: figures of one in which only the loudspeakers do.
    """
    spoken, returned = (next((figure["value"] for figure in figures if figure["id"] == SPEECH), None) for figures in (voice, back))
    if spoken is None:
        return refused("sound.echo_db", "nobody speaks to hold it against", "dB")
    if returned is None:
        return refused("sound.echo_db", "nothing of the loudspeakers comes back over the noise: as it should be", "dB")
    return Figure("sound.echo_db", float(returned) - float(spoken), "dB", 2.0, "fair")
