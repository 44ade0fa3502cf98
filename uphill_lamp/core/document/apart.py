"""Fields that say nothing of where things are, how they shine or how they sound: left out of what areas read."""

from __future__ import annotations

from uphill_lamp.core.document.reads import Read

# Of a camera, what says nothing of where it is and what it takes in.
RESPONSE = frozenset({"name", "entry", "metering", "locked_exposure_lx", "white_balance", "fps", "focus", "latency_s", "framed_in"})
SHINES = frozenset({"name", "luminance_cd_m2", "white_share", "cct_k"})
LOOKS = frozenset(
    {
        "skin_reflectance",
        "hair_colour",
        "hair",
        "face",
        "voice_effort",
        "voice",
        "clothing",
        "glasses",
        "skin_matt",
        "glasses_tipped_deg",
        "glasses_transmittance",
    }
)
WISHES = frozenset({"weights", "budget", "currency", "units", "never", "must", "money_per_point", "rig_stays", "minutes_each_time"})
SOUND_ALONE = frozenset({"furnishings", "measured_t60_s"})  # what is soft in a room: light falls in it without

# What is asked of the picture, and where a person sits: read alike by several areas.
ASKED = (Read("call", without=frozenset({"sound_delay_s"})), Read("preferences", without=WISHES))
PERSON = Read("presenter", without=LOOKS)
SHELL = Read("room", without=SOUND_ALONE)
