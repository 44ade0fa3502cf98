"""From the capsule to numbers: the level a microphone gives, the gain it needs, and what the input adds of noise."""

from __future__ import annotations

from dataclasses import dataclass

from uphill_lamp.core.document.devices import BY_XLR, Input, Microphone

PASCAL_DB = 94.0  # sensitivities are given at this sound level
DBV_TO_DBU = 2.2
WANTED_DBFS = -18.0  # average of speech; its peaks are some 12 to 15 dB higher
POWERED = ("xlr_condenser", "shotgun")  # these want 48 V
TYPICAL_INPUT = Input()


@dataclass(frozen=True)
class Gain:
    """Speech as the microphone gives it [dBu], the gain it needs [dB] and what is missing of that [dB]; noise of the input as the
    capsule would have to hear it [dB(A)] and, with the needed gain, in the numbers [dBFS]."""

    speech_dbu: float
    needed_db: float
    short_db: float
    input_noise_db_a: float
    input_noise_dbfs: float


def input_of(microphone: Microphone) -> Input | None:
    """What an XLR microphone is plugged into, a typical one if nothing is said; None for those with an input of their own."""
    return (microphone.input or TYPICAL_INPUT) if microphone.kind in BY_XLR else None


def unpowered(microphone: Microphone) -> bool:
    """Whether a microphone that wants 48 V gets none, and so gives nothing."""
    into = input_of(microphone)
    return into is not None and microphone.kind in POWERED and not into.phantom_48v


def gain_of(microphone: Microphone, speech_db: float) -> Gain | None:
    """The gain a microphone needs for speech of a level at its capsule [dB SPL]; None where it is set inside the microphone.

    dBV = sensitivity + level - 94; dBu = dBV + 2.2; gain = full scale - 18 - dBu.
    """
    into = input_of(microphone)
    if into is None:
        return None
    speech_dbu = microphone.sensitivity_dbv + speech_db - PASCAL_DB + DBV_TO_DBU
    needed = into.full_scale_dbu + WANTED_DBFS - speech_dbu
    ready = into.gain_max_db + into.booster_db
    return Gain(speech_dbu, needed, max(needed - ready, 0.0), input_noise_db_a(microphone, into),
                into.ein_dbu + max(needed - into.booster_db, 0.0) - into.full_scale_dbu)  # fmt: skip


def input_noise_db_a(microphone: Microphone, into: Input) -> float:
    """The input's own noise as a sound at the capsule that would be as loud [dB(A)]; a booster before it makes it that much less."""
    return into.ein_dbu - DBV_TO_DBU - into.booster_db - microphone.sensitivity_dbv + PASCAL_DB
