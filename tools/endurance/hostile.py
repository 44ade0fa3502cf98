"""Values, bytes and documents that somebody hostile, or bad luck, would send."""

from __future__ import annotations

import json
import random
from typing import Any

from tests.setups import demo, demos
from uphill_lamp.core.catalogue.table import shipped, written_table
from uphill_lamp.core.document import written
from uphill_lamp.core.field.light.ies import written_ies

TEXTS = (
    "", " ", "0", "-1", "1e308", "-1e-320", "nan", "inf", "-inf", "1e999", "9" * 400, "0x10", "٣", "½", "1,5", "2'4\"", "28½\"", "-0", "true", "null",
    "<script>alert(1)</script>", "\"'><img src=x onerror=1>", "{{ 7*7 }}", "{% now %}", "=1+1", "@SUM(A1)", "../../etc/passwd", "a\x00b",
    "\ud800"[:0] + "\ufeff",
    "\u202e\u0000", "😀" * 50, "é" * 5000, "[" * 3000, "%00", "%c3%28", "; drop table setups", "__class__", "/lights/0", "cameras/../x", "lights/", "a" * 300,
    "2026-02-30", "9999-12-31T23:59", "0001-01-01", "2026-11-24T18:30", "-2026-01-01", "//evil.example", "javascript:alert(1)", "1:2",
    "[1](javascript:x)", "![" * 60_000, "- a\n" * 30_000,
)  # fmt: skip
TOKENS = (
    b"{", b"}", b"[", b"]", b'"', b",", b":", b"\\", b"\\ud800", b"1e999", b"-", b"NaN", b"Infinity", b"null", b"\x00", b"\xff\xfe", b"\xef\xbb\xbf", b"\r\n",
    b"TILT=INCLUDE\n", b"9999999999", b"'=", b";", b"#" * 200, b"```", b"<b>", b"[" * 900, b'{"a":' * 300,
)  # fmt: skip
JSON_VALUES: tuple[Any, ...] = (
    None, True, False, 0, -1, 1, 0.5, 1e308, -1e308, 1e-320, 10**400, "", "x", "é" * 5000, "<b>", "\x00", [], {}, [[]], [{}], {"a": {}},
    [None] * 50, "1", "nan",
    ["entered"], {"x_m": 0, "y_m": 0, "z_m": 0}, {"id": "a"}, "2026-02-30T25:61",
)  # fmt: skip


def seeds() -> dict[str, list[bytes]]:
    """Good files of each kind, to be broken."""
    documents = [written(demo(name)).encode() for name in demos()]
    lamp = next(light for light in demo().lights)
    return {
        "setup": documents,
        "catalogue": [written_table(list(shipped().values())[:12]).encode()],
        "photometry": [written_ies(lamp).encode(), b"IESNA:LM-63-2002\nTILT=NONE\n1 -1 1 3 1 1 2 0 0 0\n1 1 10\n0 45 90\n0\n100 70 0\n"],
        "script": [b"# Hello\n\nWelcome, all of you.\n\n- one\n- two [link](x)\n\n> pause **here**\n", "Grüße, 1 000 €\n\n".encode() * 40],
        "voice": [wave()],
    }


def wave(seconds: float = 1.0, rate: int = 16_000) -> bytes:
    """A short recording."""
    import io

    import numpy as np
    import soundfile

    file, instants = io.BytesIO(), np.arange(int(seconds * rate)) / rate
    soundfile.write(file, 0.2 * np.sin(2 * np.pi * 180 * instants) * np.sin(2 * np.pi * 3 * instants), rate, format="WAV")
    return file.getvalue()


def broken(chance: random.Random, good: bytes, others: list[bytes]) -> bytes:
    """A good file after some accidents: bits, holes, doubles, foreign tokens, an early end, two files in one."""
    data = bytearray(good)
    for _ in range(chance.choice((1, 1, 2, 4, 12))):
        at = chance.randrange(len(data) + 1)
        end = min(at + chance.choice((1, 4, 40, 400)), len(data))
        kind = chance.randrange(7)
        if kind == 0 and at < len(data):
            data[at] ^= 1 << chance.randrange(8)
        elif kind == 1:
            del data[at:end]
        elif kind == 2:
            data[at:at] = data[at:end] * chance.choice((1, 2, 60))
        elif kind == 3:
            data[at:at] = chance.choice(TOKENS)
        elif kind == 4:
            data[at:end] = chance.choice(TEXTS).encode(errors="replace")
        elif kind == 5:
            del data[at:]
        else:
            other = chance.choice(others)
            data[at:at] = other[: chance.randrange(len(other) + 1)]
        del data[300_000:]
    return bytes(data)


def odd_document(chance: random.Random, good: bytes) -> bytes:
    """A setup that is sound JSON, with some of its values replaced, taken away, doubled or moved to another place."""
    data = json.loads(good)
    for _ in range(chance.choice((1, 1, 1, 2, 5))):
        spots = list(_spots(data))
        holder, key = chance.choice(spots)
        kind = chance.randrange(6)
        if kind < 3:
            holder[key] = _nearby(chance, holder[key])
        elif kind == 3:
            holder[key] = chance.choice(JSON_VALUES)
        elif kind == 4:
            del holder[key]
        else:
            other, place = chance.choice(spots)
            holder[key] = (
                json.loads(json.dumps(other[place])) if place in other or (isinstance(other, list) and place < len(other)) else None
            )
    return json.dumps(data).encode()


def _nearby(chance: random.Random, value: Any) -> Any:
    """A value of the same kind: often one that a document may have."""
    if isinstance(value, bool):
        return not value
    if isinstance(value, int | float):
        return chance.choice((0, -value, value * 1.1, value * 3, value / 7, value + 1, 0.001, 1, 100, 5000))
    if isinstance(value, str):
        return chance.choice((value.upper(), value + "x", "", "off", "none", "on", value[::-1], chance.choice(TEXTS)))
    if isinstance(value, list):
        return chance.choice(([], value * 2, value[::-1], value[:1]))
    return value


def _spots(data: Any) -> Any:
    """Every place in a document: what holds it, and its key there."""
    for key in list(data) if isinstance(data, dict) else range(len(data)) if isinstance(data, list) else ():
        yield data, key
        yield from _spots(data[key])
