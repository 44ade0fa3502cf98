"""A script to be read aloud: its blocks, its words, how long it takes (docs/method/eyes.md)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from uphill_lamp.core.document.faults import Fault, Refused

MOST_CHARACTERS = 2_000_000  # well over 200 000 words
MARKS, MOST_MARKS = "[]!<*_`&\\", 30_000  # each may cost some 30 us to make out
MOST_LINES = 20_000
DEFAULT_WPM, LEAST_WPM, MOST_WPM = 130.0, 40.0, 300.0
HIDDEN = dict.fromkeys([*range(0x09), 0x0B, 0x0C, *range(0x0E, 0x20), 0x7F, *range(0x202A, 0x202F), *range(0x2066, 0x206A)])
# A breath after a paragraph, and a longer one before a heading [s]: working values.
PAUSE_S = {"paragraph": 0.8, "heading": 1.6}


@dataclass(frozen=True, slots=True)
class Block:
    """A paragraph or heading of a script."""

    kind: Literal["paragraph", "heading"]
    text: str

    @property
    def words(self) -> int:
        """How many words are spoken in it; a heading is a pause and is not read out."""
        return len(self.text.split()) if self.kind == "paragraph" else 0

    @property
    def pause_s(self) -> float:
        """Breath that goes with it at an ordinary pace [s]."""
        return PAUSE_S[self.kind]

    @property
    def paced_words(self) -> float:
        """Words and breath together, the breath as the words that would fill it at the ordinary pace."""
        return self.words + self.pause_s * DEFAULT_WPM / 60


def blocks(text: str, markdown: bool) -> list[Block]:
    """A script's paragraphs and headings, as plain text.

    Args:
        text: as typed or opened; markup in it is text.
        markdown: whether headings, lists and emphasis are marked in Markdown.

    Raises:
        Refused: for a text too long to be a script, or one of marks alone.
    """
    if len(text) > MOST_CHARACTERS:
        raise Refused([Fault("/text", f"{len(text)} characters", f"{MOST_CHARACTERS} at most")])
    clean = text.translate(HIDDEN).replace("\r\n", "\n").replace("\r", "\n")
    return _of_markdown(clean) if markdown else [Block("paragraph", " ".join(part.split())) for part in clean.split("\n\n") if part.strip()]


def _of_markdown(text: str) -> list[Block]:
    from markdown_it import MarkdownIt  # only when a script is in Markdown

    for counted, most, words in (
        (sum(map(text.count, MARKS)), MOST_MARKS, "marks such as [ and *"),
        (text.count("\n"), MOST_LINES, "lines"),
    ):
        if counted > most:
            raise Refused([Fault("/text", f"{counted} {words}", f"{most} at most in Markdown; take it as plain text instead")])
    parts, heading = [], False
    for token in MarkdownIt("commonmark", {"html": False}).parse(text):
        if token.type in ("heading_open", "heading_close"):
            heading = token.type == "heading_open"
        elif token.type == "inline":
            words = " ".join("".join(_spoken(child) for child in token.children or ()).split())
            if words:
                parts.append(Block("heading" if heading else "paragraph", words))
        elif token.type in ("code_block", "fence") and token.content.strip():
            parts.append(Block("paragraph", " ".join(token.content.split())))
    return parts


def _spoken(token: object) -> str:
    kind, content = token.type, token.content  # type: ignore[attr-defined]
    return " " if kind in ("softbreak", "hardbreak") else content if kind in ("text", "code_inline", "image") else ""


def duration_s(script: Iterable[Block], words_a_minute: float) -> float:
    """How long reading takes, breaths included [s].

    Args:
        words_a_minute: reading speed [1/min].
    """
    listed = list(script)
    return sum(block.words for block in listed) * 60 / words_a_minute + sum(block.pause_s for block in listed)
