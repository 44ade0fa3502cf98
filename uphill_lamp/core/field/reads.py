"""What the lit field and the camera's answer to it are worked out from."""

from __future__ import annotations

from uphill_lamp.core.document.apart import ASKED, PERSON, SHELL
from uphill_lamp.core.document.reads import Read

NAMED = frozenset({"name"})
FIELD_READS = (
    Read("place"),
    SHELL,
    Read("desk"),
    PERSON,
    Read("lights", without=NAMED | {"owned", "entry"}),
    Read("reflectors", without=NAMED),
    Read("screens", without=NAMED | {"windows"}),  # what is shown where on a screen bears on no light
)
METERING_READS = (
    Read("cameras", without=NAMED | {"entry", "focus", "latency_s", "framed_in"}),
    Read("backdrop", without=NAMED),
    Read("presenter", only=frozenset({"clothing"})),
    *ASKED,
)
