"""The sheet: each figure that was measured beside what the plan expects of it, what differs, why it may, and what can be taken over."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.check.accept import acceptable, eye_lean_deg, head_turn_deg
from uphill_lamp.core.check.causes import Cause, Seen, cause_of
from uphill_lamp.core.field.camera.spectral_mix import SpectralMix
from uphill_lamp.core.field.light.colour import mired
from uphill_lamp.core.scene.view import REFERENCE_FACE

D65_K = 6504.0
CONTRAST = 1.15  # a camera's own development: stops in a picture are so much more than stops of light (docs/method/measuring.md)


@dataclass(frozen=True)
class Line:
    """One figure of the sheet: measured and expected in its unit, None where there is none.

    ``state`` as planned, off, alone or refused; ``cause`` the likeliest one where it is off; ``accept`` words of what can be taken over
    into the plan, nothing where nothing can; ``good`` the figure of the last good take.
    """

    id: str
    label: str
    measured: Any
    expected: float | None
    unit: str
    tolerance: float | None
    state: str
    refused: str = ""
    cause: Cause | None = None
    usual: str = ""
    accept: str = ""
    good: Any = None

    @property
    def changed(self) -> bool:
        """Whether it differs from the last good take by more than such takes do."""
        most = SAME.get(self.id)
        if most is None or not isinstance(self.measured, float) or not isinstance(self.good, float):
            return False
        return abs(self.measured - self.good) > (most * abs(self.good) if self.id in BY_SHARE else most)

    @property
    def difference(self) -> float | None:
        """Measured less expected, in its unit."""
        return None if self.expected is None or not isinstance(self.measured, float) else self.measured - self.expected


@dataclass(frozen=True)
class _Row:
    label: str
    usual: str = ""
    slack: float = 0.0  # what the plan itself may be off by, in the figure's unit
    share: float = 0.0  # the same as a share of what is expected


DROWNED = "it drowns in the noise at 500 or 1000 Hz: clap louder, or nearer to the microphone"
# What of a take may differ from a good one and still be the same.
SAME = {"picture.eye_line": 0.02, "picture.side_position": 0.02, "picture.head_share": 0.03, "picture.roll": 1.0, "picture.halves": 0.4,
        "picture.backdrop": 0.4, "sound.noise_dbfs": 3.0, "sound.integrated_lufs": 3.0, "sound.speech_active_dbfs": 3.0, "sound.t20_s": 0.1,
        "clip.sync_ms": 15.0}  # fmt: skip
BY_SHARE = frozenset({"picture.head_share"})
# Of these any is too much, or more than so much.
BROKEN = {"sound.hum": 0.0, "sound.clipped_samples": 0.0, "sound.pops_s": 0.0, "sound.dead_channels": 0.0, "clip.dropped": 2.0,
          "clip.shake_by_keys": 0.0, "clip.flicker_share": 0.01}  # fmt: skip
ROWS = {
    "picture.eye_line": _Row("Eye line", slack=0.03),
    "picture.headroom": _Row("Headroom", slack=0.05),
    "picture.head_share": _Row("Head size", slack=0.03),
    "picture.side_position": _Row("Sideways", slack=0.03),
    "picture.roll": _Row("Level", slack=1.0),
    "picture.head_turn": _Row("Face turned to your left", usual="0° looks into the lens.", slack=5.0),
    "picture.view_angle": _Row("View angle", usual="0° is a lens as high as your eyes. For this, look straight ahead and not at the lens.", slack=3.0),
    "picture.halves": _Row("Side to side", slack=0.4),
    "picture.backdrop": _Row("Face against what is behind", slack=0.8),
    "picture.burnt_out": _Row("Burnt out", slack=0.02),
    "picture.crushed": _Row("Black without drawing", usual="Under 5 % is nothing; much of it is light that is missing."),
    "picture.face_burnt": _Row("Burnt out on your face", usual="None is best: forehead and nose go first. Turn the exposure down, or the lamp away."),
    "picture.haze": _Row("Haze round what is bright", usual="Wipe the lens and take another: if it falls, it was the lens."),
    "picture.room_lean": _Row("The room's lines lean", slack=1.0),
    "picture.noise": _Row("Grain", usual="Under 1 % looks clean; from 3 % on it is seen."),
    "picture.paper_cct": _Row("White paper comes out at", usual="6500 K is white; under 6000 is yellow, over 7100 blue: set the white on it.", slack=400.0),
    "picture.paper_lx": _Row("Light on the paper, held at your face", usual="300 lx and more on your face make most cameras' pictures clean.", share=0.3),
    "picture.sharpness": _Row("Sharpness at the eyes", usual="Under 0.04 looks sharp. Wipe the lens and take another to compare."),
    "sound.integrated_lufs": _Row("Loudness", usual="Recordings are made at about −16 to −23 LUFS; a call sets it by itself."),
    "sound.true_peak_dbtp": _Row("Highest peak", usual="Under −1 dBTP nothing breaks on its way."),
    "sound.speech_active_dbfs": _Row("Speech level", usual="About −26 dBFS leaves room above and noise below."),
    "sound.noise_dbfs": _Row("Noise", usual="Under −60 dBFS is quiet."),
    "sound.snr_db": _Row("Speech over noise, unweighted", usual="30 dB and more."),
    "sound.snr_a_db": _Row("Voice over noise", slack=3.0),
    "sound.hum": _Row("Hum of the mains"),
    "sound.clipped_samples": _Row("Clipped samples"),
    "sound.pops_s": _Row("Breath pops at"),
    "sound.keys_s": _Row("Keys heard at", usual="Put the keyboard on a folded cloth, or the microphone on its other side."),
    "sound.dead_channels": _Row("Dead channels"),
    "sound.echo_db": _Row("Your loudspeakers heard back", usual="25 dB under your voice and more; a headset gives none. Else turn them down or away."),
    "sound.tone_db": _Row("Tone against a usual voice", usual="Within 6 dB is natural; little at 125 Hz is no fault, much there booms."),
    "sound.band_edge_hz": _Row("Sound breaks off at", usual="Over 12 kHz. A call or a wireless headset may send less."),
    "sound.t20_s": _Row("Reverberation, 500 to 1000 Hz", slack=0.1),
    "sound.claps_s": _Row("Claps at"),
    "sound.speech_start_s": _Row("Speech begins at"),
    "sound.speech_end_s": _Row("Speech ends at"),
    "sound.words_a_minute": _Row("Pace", usual="120 to 160 words a minute are followed with ease."),
    "clip.fps": _Row("Frame rate", slack=1.0),
    "clip.dropped": _Row("Pictures that never came"),
    "clip.frozen": _Row("Pictures that stood still", usual="A few an hour are nothing; many together are a line or a machine that is too busy."),
    "clip.pumping_stops": _Row("Brightness goes up and down", usual="Under 0.3 stops is not seen. Lock the exposure once it is right."),
    "clip.white_drift": _Row("White wanders", usual="Under 0.15 stops is not seen. Lock the white once it is right."),
    "clip.out_of_focus": _Row("Focus hunts", usual="None is best. Set it to your face once, and lock it."),
    "clip.shake_px": _Row("The picture shakes", usual="Under 1 px is not seen. Take the camera off what your hands and feet touch."),
    "clip.shake_by_keys": _Row("Shaken by your keys"),
    "clip.flicker_share": _Row("Bands from lamps"),
    "clip.eyes_on_lens": _Row("Eyes on the lens", usual="Half of the time and more, while you speak to somebody."),
    "clip.fidgeting": _Row("Your head sways", usual="Nobody sits like a stone: under 10 is calm."),
    "clip.sync_ms": _Row("Sound later than picture", usual="From −45 to 125 ms nobody sees it."),
}  # fmt: skip


def sheet(appraisal: Appraisal, report: Mapping[str, Any], good: Mapping[str, Any] | None = None) -> tuple[Line, ...]:
    """The sheet of a take: what is off first, what is soonest mended before the rest; then what is as planned, stands alone, was refused.

    Args:
        report: what was measured, as ``core.measuring.figure.report`` tells it.
        good: the same of the last take that was marked as a good one.
    """
    takes, lines = acceptable(appraisal, report), []
    before = {figure["id"]: shown_value(figure["id"], figure["value"]) for figure in (good or {}).get("figures", [])}
    for figure in report["figures"]:
        row = ROWS.get(figure["id"])
        if row is None:
            continue
        value = shown_value(figure["id"], figure["value"])
        expected = expected_of(figure["id"], appraisal)
        taken = takes.get(figure["id"])
        lines.append(Line(
            figure["id"], row.label, value, expected, figure["unit"], figure["tolerance"], _state(value, expected, figure, row),
            figure["refused"] or (DROWNED if value is None and figure["value"] is not None else ""),
            None, row.usual, taken.words if taken else "", before.get(figure["id"]),
        ))  # fmt: skip
    seen = Seen(appraisal, {line.id: line.measured for line in lines if line.measured is not None},
                {line.id: line.expected for line in lines if line.expected is not None},
                frozenset(line.id for line in lines if line.state == "off"))  # fmt: skip
    lines = [replace(line, cause=cause_of(line.id, seen)) if line.state == "off" else line for line in lines]
    order = ("off", "as planned", "alone", "refused")
    return tuple(sorted(lines, key=lambda line: (order.index(line.state), line.cause.seconds if line.cause else 0)))


def shown_value(name: str, value: Any) -> Any:
    """A figure as the sheet shows it: of the bands of a decay the two that the plan names."""
    if name != "sound.t20_s" or not isinstance(value, list):
        return float(value) if isinstance(value, int | float) else value
    middle = [band["s"] for band in value if band["hz"] in (500.0, 1000.0) and band["s"] is not None]
    return sum(middle) / 2 if len(middle) == 2 else None  # one of them is not what the plan means by both


def _state(value: Any, expected: float | None, figure: Mapping[str, Any], row: _Row) -> str:
    if value is None:
        return "refused"
    if figure["id"] in BROKEN:
        return "off" if broken(figure["id"], value) else "as planned"
    if expected is None or not isinstance(value, float):
        return "alone"
    within = math.hypot(figure["tolerance"] or 0.0, row.slack, row.share * expected)
    return "as planned" if abs(value - expected) <= within else "off"


def broken(name: str, value: Any) -> bool:
    """Whether of what should not be there is more than nothing, or than does not matter."""
    return bool(value) if isinstance(value, list) else float(value) > BROKEN[name]


def _of_measure(area: str, name: str, factor: float = 1.0) -> Callable[[Appraisal], float | None]:
    def get(appraisal: Appraisal) -> float | None:
        judged = appraisal.area(area)
        value = next((measure.value for measure in judged.measures if measure.id == f"{area}.{name}"), None) if judged else None
        return None if value is None else factor * float(value)

    return get


def _backdrop(appraisal: Appraisal) -> float | None:
    """Face of this skin against what is behind, as a picture shows it [stops]."""
    behind = appraisal.metered.behind_stops
    skin = appraisal.setup.presenter.skin_reflectance
    return None if behind is None else CONTRAST * (math.log2(skin / REFERENCE_FACE) - float(behind))


def _paper_cct_k(appraisal: Appraisal) -> float | None:
    """What white paper at the face comes out at where the camera's white is locked [K]: at D65 if it is locked on the face's own light."""
    balance = appraisal.setup.main_camera.white_balance
    face_k = SpectralMix(appraisal.lit_scene, appraisal.metered).face_cct_k
    if balance.kind != "locked" or balance.cct_k is None or face_k is None:
        return None
    return 1e6 / (mired(D65_K) + mired(face_k) - mired(balance.cct_k))


_EXPECTED: dict[str, Callable[[Appraisal], float | None]] = {
    "picture.eye_line": _of_measure("frame", "eye_line"),
    "picture.headroom": _of_measure("frame", "headroom"),
    "picture.head_share": _of_measure("frame", "head_share"),
    "picture.side_position": _of_measure("frame", "side_position"),
    "picture.roll": lambda appraisal: eye_lean_deg(appraisal.setup),
    "picture.head_turn": lambda appraisal: head_turn_deg(appraisal.setup),
    "picture.view_angle": _of_measure("frame", "view_angle"),
    "picture.room_lean": lambda appraisal: appraisal.setup.main_camera.roll_deg,
    "picture.halves": _of_measure("light", "sides", CONTRAST),
    "picture.backdrop": _backdrop,
    "picture.burnt_out": _of_measure("light", "burnt_out"),
    "picture.paper_cct": _paper_cct_k,
    "picture.paper_lx": lambda appraisal: float(appraisal.lit_scene.face_lx["front"]),
    "sound.snr_a_db": _of_measure("sound", "snr"),
    "clip.fps": lambda appraisal: float(appraisal.setup.main_camera.fps),
    "sound.t20_s": _of_measure("sound", "t60"),
}


def expected_of(name: str, appraisal: Appraisal) -> float | None:
    """What the plan expects of a figure, in its unit; None where it cannot know."""
    get = _EXPECTED.get(name)
    return get(appraisal) if get else None
