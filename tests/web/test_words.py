"""Words on the page: one term for one thing. Every string that somebody may read is collected and held against the list."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from html.parser import HTMLParser
from pathlib import Path
from unittest import TestCase

from tests.setups import ROOT, demo, demos
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.judging import WANTING
from uphill_lamp.web.setups.templatetags import house

APP = ROOT.parent / "uphill_lamp"
WORDS = ("rung", "rungs", "climb", "climbs", "spot", "spots", "what holds it down", "held down by", "held down most by",
    "pictures a second", "in hand")  # fmt: skip
LABELS = ("Keep it", "Set", "Show", "Work it out", "Sheet", "Mind")
READ_OUT = {"title", "alt", "aria-label", "placeholder", "data-said", "label", "content"}
FORBIDDEN = re.compile(r"\b(" + "|".join(WORDS) + r")\b", re.I)
NO_WORDS = re.compile(r"[a-z0-9_./#:*%<>=,{}()\[\]|&?+~^$\\…-]*\Z")  # keys, paths, classes, patterns: nothing that is read


def of_python(path: Path) -> Iterator[str]:
    """Strings of a module that may be read by somebody: all but docstrings and what is one lower-case key."""
    tree = ast.parse(path.read_text())
    docs = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef)) and node.body and isinstance(node.body[0], ast.Expr)
    }
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            whole = "".join(str(part.value) if isinstance(part, ast.Constant) else "…" for part in node.values)
            if not NO_WORDS.match(whole):
                yield whole
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in docs and not NO_WORDS.match(node.value):
            yield node.value


class _Shown(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.found: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.found += [value for name, value in attrs if value and (name in READ_OUT or (tag, name) == ("input", "value"))]

    def handle_data(self, data: str) -> None:
        self.found.append(data)


def of_template(path: Path) -> Iterator[str]:
    """Text and read-out attributes of a template; what Django puts in is left out."""
    text = re.sub(r"\{%.*?%\}|\{\{.*?\}\}|\{#.*?#\}", "", path.read_text(), flags=re.S)
    text = re.sub(r"<style>.*?</style>", "", text, flags=re.S)
    parser = _Shown()
    parser.feed(text)
    yield from (" ".join(shown.split()) for shown in parser.found if shown.strip())


def of_script(path: Path) -> Iterator[str]:
    """Strings of a script; comments, selectors and keys are left out."""
    text = re.sub(r"^\s*//.*$|\s//\s.*$|/\*[\s\S]*?\*/", "", path.read_text(), flags=re.M)
    for match in re.finditer(r'"((?:[^"\\\n]|\\.)*)"|`((?:[^`\\]|\\.)*)`', text):
        shown = re.sub(r"\$\{[^}]*\}", "…", match[1] or match[2] or "")
        if not NO_WORDS.match(shown) and not re.match(r"[.#\[]|\w+\[|\w+:not", shown):
            yield shown


def shown() -> Iterator[tuple[str, str]]:
    """Every string that somebody may read, with the file it stands in."""
    for folder, pattern, read in (
        ("", "*.py", of_python), ("web/templates", "*.html", of_template), ("web/static/app", "*.js", of_script),
    ):  # fmt: skip
        for path in sorted((APP / folder).rglob(pattern)):
            if "migrations" not in path.parts:
                yield from ((path.relative_to(APP).as_posix(), text) for text in read(path))


class Words(TestCase):
    def test_no_string_says_a_word_that_has_another_on_the_page(self) -> None:
        answer = [(where, text) for where, text in shown() if FORBIDDEN.search(text) or text.strip() in LABELS]
        self.assertEqual(answer, [])

    def test_the_collector_sees_what_it_should(self) -> None:
        all_of_it = {text for _, text in shown()}
        self.assertGreater(len(all_of_it), 1500)
        for known in ("What they see", "Undo", "Raise the laptop … and …",
            "The app does not answer. Is it still running? Your last change was not made."):  # fmt: skip
            self.assertTrue(any(known in text for text in all_of_it), known)

    def test_only_what_lies_in_its_band_is_called_good(self) -> None:
        self.assertEqual(house.GOOD_ENOUGH, WANTING)
        words = set()
        for name in demos():
            for measure in appraise(demo(name)).measures.values():
                if measure.band is None or measure.value is None:
                    continue
                word = house.mood_word(measure.utility)
                self.assertEqual(word == "good, ", measure.band.holds(measure.value), measure.id)
                words.add(word)
        self.assertEqual(words, {"good, ", "good enough, ", "fair, ", "off, "})
