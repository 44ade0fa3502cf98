"""Looks through the style sheets: what cannot be read, variables that nobody sets, and rules said twice."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path

import tinycss2

STATIC = Path(__file__).resolve().parents[1] / "uphill_lamp/web/static/app"
WIDEST = 160


def main() -> int:
    sheets = {path.name: path.read_text() for path in sorted(STATIC.glob("*.css"))}
    variables = {word for text in sheets.values() for word in _set(tinycss2.parse_stylesheet(text, True, True))}
    wrong = [line for name, text in sheets.items() for line in _faults(name, text, variables)]
    print("\n".join(wrong) or f"{len(sheets)} style sheets: nothing to say")
    return 1 if wrong else 0


def _faults(name: str, text: str, variables: set[str]) -> Iterator[str]:
    for number, line in enumerate(text.splitlines(), 1):
        if len(line) > WIDEST:
            yield f"{name}:{number}: {len(line)} characters"
    yield from _rules(name, tinycss2.parse_stylesheet(text, True, True), variables, "")


def _rules(name: str, nodes: list, variables: set[str], inside: str) -> Iterator[str]:  # type: ignore[type-arg]
    seen: dict[tuple[str, str], int] = {}
    for node in nodes:
        if node.type == "error":
            yield f"{name}:{node.source_line}: {node.message}"
        elif node.type == "at-rule" and node.content is not None and node.lower_at_keyword in ("media", "container", "supports", "layer"):
            yield from _rules(
                name, tinycss2.parse_rule_list(node.content, True, True), variables, f"{inside}{tinycss2.serialize(node.prelude)}"
            )
        elif node.type == "qualified-rule":
            selector, listed = tinycss2.serialize(node.prelude).strip(), set[str]()
            for part in tinycss2.parse_declaration_list(node.content, True, True):
                yield from _declaration(name, part, variables, listed)
                if part.type == "declaration" and seen.setdefault((selector, part.lower_name), part.source_line) != part.source_line:
                    yield f"{name}:{part.source_line}: {selector} says {part.name} again, first in line {seen[selector, part.lower_name]}"


def _declaration(name: str, part: tinycss2.ast.Node, variables: set[str], listed: set[str]) -> Iterator[str]:
    if part.type == "error":
        yield f"{name}:{part.source_line}: {part.message}"
    if part.type != "declaration":
        return
    listed.add(part.lower_name)
    for word in _used(part.value):
        if word not in variables:
            yield f"{name}:{part.source_line}: nobody sets {word}"


def _used(tokens: list) -> Iterator[str]:  # type: ignore[type-arg]
    """Variables that a value asks for and gives nothing in their place."""
    for token in tokens:
        if token.type == "function":
            if token.lower_name == "var" and not any(part.type == "literal" and part.value == "," for part in token.arguments):
                yield from (part.value for part in token.arguments if part.type == "ident")
            yield from _used(token.arguments)


def _set(nodes: list) -> Iterator[str]:  # type: ignore[type-arg]
    for node in nodes:
        if getattr(node, "content", None) is not None:
            if node.type == "at-rule" and node.lower_at_keyword in ("media", "container", "supports", "layer"):
                yield from _set(tinycss2.parse_rule_list(node.content, True, True))
            else:
                for part in tinycss2.parse_declaration_list(node.content, True, True):
                    if part.type == "declaration" and part.name.startswith("--"):
                        yield part.name


if __name__ == "__main__":
    sys.exit(main())
