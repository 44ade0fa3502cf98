"""All figures of a clip's pictures in time (docs/method/measuring.md, "Clip")."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring import flicker, gaze, steadiness
from uphill_lamp.core.measuring.figure import Figure, refused
from uphill_lamp.core.measuring.frames import rate_of

NAMES = {"fps": "fps", "dropped": "", "frozen": "", "pumping_stops": "stops", "white_drift": "stops", "out_of_focus": "share", "shake_px": "px",
         "shake_by_keys": "", "flicker_share": "share", "eyes_on_lens": "share", "fidgeting": "heads/min", "sync_ms": "ms"}  # fmt: skip
SHORT, NO_FACE = "too short: two seconds at least", "no face was found"
LEAST_S = 2.0
KEYS_S, KEYS_TIMES = 0.15, 2.0  # shaken within so long after a key, so many times as much as else: the keys do it
NEAR_CLAP_S = 0.5
LEAST_MOTION = 3.0  # times the usual: so much moves where hands meet


@dataclass(frozen=True, eq=False)
class Track:
    """What is gathered picture by picture while a clip is decoded.

    Args:
        times_s: when each picture is shown, shape (N,) [s].
        changes: how far each one's pixels differ from the one before on average, shape (N,) [of 255].
        motion: how far parts of it do, grain apart, shape (N,) [of 255].
        lines: mean linear luminance of lines, shape (N, lines).
        places: where each picture stands against the first, shape (N, 2) [px].
        sure: how surely that is told, shape (N,) 0-1.
        looked_s: when the pictures that were looked at closely are shown, shape (M,).
        levels, red, blue: linear luminance of the face or the whole, and its red and blue, shape (M,) each.
        edges: power of the finest changes there, shape (M,).
        eyes: where the middle between the eyes is, shape (M, 2) [px]; not a number without a face.
        looks: irises and turn of the head, shape (M, K).
        head_px: height of the head; 0 without a face.
    """

    times_s: FloatArray
    changes: FloatArray
    motion: FloatArray
    lines: FloatArray
    places: FloatArray
    sure: FloatArray
    looked_s: FloatArray
    levels: FloatArray
    red: FloatArray
    blue: FloatArray
    edges: FloatArray
    eyes: FloatArray
    looks: FloatArray
    head_px: float


@dataclass(frozen=True)
class Known:
    """What is known of a clip from elsewhere: when somebody looks where, speaks, claps and types [s]; how far of the way from the lens to
    the call's window still passes for a look into the lens."""

    lens_s: tuple[tuple[float, float], ...] = ()
    window_s: tuple[tuple[float, float], ...] = ()
    speech_s: tuple[float, float] | None = None
    claps_s: tuple[float, ...] = ()
    keys_s: tuple[float, ...] = ()
    near_lens: float = gaze.HALF_WAY


def known_of(given: Mapping[str, Any], figures: Mapping[str, Any]) -> Known:
    """What is known of a clip: what was told with it, and what its sound says.

    Args:
        given: spans [s] by ``lens_s``, ``window_s`` and ``speech_s``; what is no span counts for nothing. ``near_lens`` where it is known.
        figures: values of its sound's figures by id.
    """
    begin, end = figures.get("sound.speech_start_s"), figures.get("sound.speech_end_s")
    read = _spans(given.get("speech_s"))
    speech = read[0] if read else (float(begin), float(end)) if begin is not None and end is not None else None
    claps, keys = (tuple(float(at) for at in figures.get(name) or ()) for name in ("sound.claps_s", "sound.keys_s"))
    near = float(given.get("near_lens") or gaze.HALF_WAY)
    return Known(_spans(given.get("lens_s")), _spans(given.get("window_s")), speech, claps, keys, near)


def _spans(given: Any) -> tuple[tuple[float, float], ...]:
    spans = []
    for span in given if isinstance(given, list) else ():
        if isinstance(span, list) and len(span) == 2 and all(isinstance(at, int | float) and math.isfinite(at) for at in span):
            spans.append((float(span[0]), float(span[1])))
    return tuple(spans)


def clip_figures(track: Track, known: Known) -> tuple[Figure, ...]:
    """All figures of a clip's pictures in time; those that are not to be had are refused with the reason."""
    rate = rate_of(track.times_s, track.changes)
    if rate is None or track.times_s[-1] - track.times_s[0] < LEAST_S:
        return tuple(refused(f"clip.{name}", SHORT, unit) for name, unit in NAMES.items())
    return (
        Figure("clip.fps", rate.fps, "fps", 0.01 * rate.fps),
        Figure("clip.dropped", float(rate.dropped), "", 0.0),
        Figure("clip.frozen", float(rate.frozen), "", 1.0, "fair"),
        *_wandering(track),
        *_shaken(track, known),
        _flicker(track, rate.fps),
        _gaze(track, known),
        _fidgets(track),
        _sync(track, known),
    )


def _wandering(track: Track) -> tuple[Figure, ...]:
    if len(track.looked_s) < 4:
        return tuple(refused(f"clip.{name}", SHORT, NAMES[name]) for name in ("pumping_stops", "white_drift", "out_of_focus"))
    return (
        Figure("clip.pumping_stops", steadiness.pumping_stops(track.levels, track.looked_s), "stops", 0.1),
        Figure("clip.white_drift", steadiness.drift_stops(track.red, track.blue, track.looked_s), "stops", 0.1, "fair"),
        Figure("clip.out_of_focus", steadiness.out_of_focus_share(track.edges), "share", 0.1, "rough"),
    )


def _shaken(track: Track, known: Known) -> tuple[Figure, ...]:
    sure = track.sure > 0
    if sure.sum() < 0.5 * len(sure) or sure.sum() < 12:
        why = "nothing stands still enough beside the person to tell"
        return refused("clip.shake_px", why, "px"), refused("clip.shake_by_keys", why)
    times_s = track.times_s[sure]
    value, off = steadiness.shake_px(track.places[sure], times_s)
    shake = Figure("clip.shake_px", value, "px", 0.2)
    if not known.keys_s:
        return shake, refused("clip.shake_by_keys", "no key is heard")
    beside = np.min(np.abs(times_s[:, None] - np.array(known.keys_s) - KEYS_S / 2), axis=1) < KEYS_S / 2
    if not beside.any() or beside.all():
        return shake, refused("clip.shake_by_keys", "keys are heard all the time")
    by_keys = float(off[beside].mean()) > KEYS_TIMES * float(off[~beside].mean()) and value > 0.2
    return shake, Figure("clip.shake_by_keys", float(by_keys), "", None, "fair")


def _flicker(track: Track, fps: float) -> Figure:
    bands = flicker.bands_share(track.lines, track.times_s, fps)
    if bands is None:
        return refused("clip.flicker_share", "not to be told: too short, too dark, or bands would stand still at this rate", "share")
    return Figure("clip.flicker_share", bands[0], "share", 0.003)


def _within(times_s: FloatArray, spans: tuple[tuple[float, float], ...]) -> NDArray[np.bool_]:
    inside = np.zeros(len(times_s), dtype=bool)
    for begin, end in spans:
        inside |= (times_s >= begin) & (times_s <= end)
    return inside


def _gaze(track: Track, known: Known) -> Figure:
    seen = np.isfinite(track.looks).all(axis=1) if len(track.looks) else np.zeros(0, dtype=bool)
    if not seen.any():
        return refused("clip.eyes_on_lens", gaze.UNKNOWN if np.isfinite(track.eyes).any() else NO_FACE, "share")
    times_s, looks = track.looked_s[seen], track.looks[seen]
    lens, window = _within(times_s, known.lens_s), _within(times_s, known.window_s)
    speaks = _within(times_s, (known.speech_s,)) if known.speech_s else np.ones(len(times_s), dtype=bool)
    looked = gaze.on_lens(looks, lens, window, speaks & ~lens & ~window, known.near_lens)
    if isinstance(looked, str):
        return refused("clip.eyes_on_lens", looked, "share")
    return Figure("clip.eyes_on_lens", looked.share, "share", 0.1 if looked.apart >= gaze.CLEAR else 0.2,
                  "fair" if looked.apart >= gaze.CLEAR else "rough")  # fmt: skip


def _fidgets(track: Track) -> Figure:
    seen = np.isfinite(track.eyes).all(axis=1) if len(track.eyes) else np.zeros(0, dtype=bool)
    sway = steadiness.fidgets(track.eyes[seen], track.looked_s[seen], track.head_px) if seen.any() and track.head_px else None
    if sway is None:
        return refused("clip.fidgeting", NO_FACE if not seen.any() else "too short: four seconds at least", "heads/min")
    return Figure("clip.fidgeting", sway.travel, "heads/min", 0.3 * sway.travel + 0.5, "rough")


def _sync(track: Track, known: Known) -> Figure:
    """How late the sound is: a clap is seen in the last picture that moves before hands have met, and heard when it is heard."""
    delays = [delay for clap in known.claps_s if (delay := _seen_after(track, clap)) is not None]
    if not delays:
        return refused("clip.sync_ms", "no clap is both seen and heard" if known.claps_s else "nobody claps", "ms")
    frame_ms = 1000 * float(np.median(np.diff(track.times_s)))
    return Figure("clip.sync_ms", 1000 * float(np.median(delays)), "ms", frame_ms, "fair")


def _seen_after(track: Track, clap_s: float) -> float | None:
    """How much later than it is seen a clap is heard [s]; None where nothing stops moving near it."""
    near = np.flatnonzero(np.abs(track.times_s - clap_s) < NEAR_CLAP_S)
    near = near[(near > 0) & (near < len(track.times_s) - 1)]
    usual = float(np.median(track.motion[1:]))
    if len(near) < 3:
        return None
    stops = track.motion[near] - track.motion[near + 1]
    last = int(near[int(np.argmax(stops))])
    return clap_s - float(track.times_s[last]) if track.motion[last] > LEAST_MOTION * usual + 0.2 else None
