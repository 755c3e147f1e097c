"""Scripts and styles in one form: two spaces, at most 100 columns. Scripts are as the formatter has them; a rule of a
style stands on one line where it fits, else its declarations fill lines of their own.

Usage: format_static.py [--check]. With --check nothing is written; what differs is named.
"""

import re
import sys
import textwrap
from collections.abc import Iterator
from pathlib import Path

import jsbeautifier

STATIC = Path(__file__).parents[1] / "src/diachrom/web/static"
WIDTH = 100
# What stands between declarations: a comment, a text, a bracket's inside, or one character.
PIECE = re.compile(r"/\*.*?\*/|\"[^\"]*\"|'[^']*'|\([^()]*(?:\([^()]*\)[^()]*)*\)|.", re.S)


def script(text: str) -> str:
    options = jsbeautifier.default_options()
    options.indent_size = 2
    options.wrap_line_length = 100
    options.brace_style = "collapse,preserve-inline"
    options.end_with_newline = True
    options.max_preserve_newlines = 2
    options.operator_position = "before-newline"
    while (again := str(jsbeautifier.beautify(text, options))) != text:  # what it has wrapped once it may indent anew
        text = again
    return text


def style(text: str) -> str:
    """Comments and empty lines stay where they are."""
    return "\n".join(_rules([found[0] for found in PIECE.finditer(text)], "")).strip("\n") + "\n"


def _rules(pieces: list[str], indent: str) -> Iterator[str]:
    head, at = "", 0
    while at < len(pieces):
        piece = pieces[at]
        at += 1
        if piece.startswith("/*") and not head.strip():
            yield from [""] * (head.count("\n") > 1)
            yield from (indent + line.strip() for line in piece.splitlines())
            head = ""
        elif piece == "{":
            start, depth = at, 1
            while depth:
                depth += {"{": 1, "}": -1}.get(pieces[at], 0)
                at += 1
            yield from [""] * (head.count("\n") > 1)
            yield from _rule(" ".join(head.split()), pieces[start : at - 1], indent)
            head = ""
        elif piece == ";":
            yield f"{indent}{' '.join(head.split())};"
            head = ""
        else:
            head += piece


def _rule(selector: str, body: list[str], indent: str) -> Iterator[str]:
    if "{" in body:
        inside = list(_rules(body, indent + "  "))
        whole = f"{indent}{selector} {{ {inside[0].strip()} }}"
        fits = len(inside) == 1 and len(whole) <= WIDTH
        yield from [whole] if fits else [f"{indent}{selector} {{", *inside, f"{indent}}}"]
        return
    declarations, now = [], ""
    for piece in [*body, ";"]:
        if piece == ";" or piece.startswith("/*"):
            own = " ".join(now.split())
            declarations += [f"{own};"] * bool(own) + [piece] * (piece != ";")
            now = ""
        else:
            now += piece
    whole = f"{indent}{selector} {{ {' '.join(declarations)} }}"
    if len(whole) <= WIDTH:
        yield whole
        return
    yield from _filled(f"{selector} {{".split(" "), indent)
    yield from _filled(declarations, indent + "  ")
    yield f"{indent}}}"


def _filled(parts: list[str], indent: str) -> list[str]:
    """Parts that are not broken, as many on a line as fit."""
    joined = " ".join(part.replace(" ", "\u00a0") for part in parts)
    lines = textwrap.wrap(
        joined, WIDTH, initial_indent=indent, subsequent_indent=indent, break_long_words=False, break_on_hyphens=False
    )
    return [line.replace("\u00a0", " ") for line in lines]


def main() -> int:
    differ = []
    for form, paths in ((script, [*STATIC.glob("*.js"), *STATIC.glob("kit/*.js")]), (style, STATIC.rglob("*.css"))):
        for path in sorted(path for path in paths if path.parent.name != "vendor"):
            text = path.read_text(encoding="utf-8")
            if form(text) != text:
                differ.append(path)
                if "--check" not in sys.argv:
                    path.write_text(form(text), encoding="utf-8")
    if differ and "--check" in sys.argv:
        print("These are not in their form, run 'make fix':", *(path.name for path in differ), file=sys.stderr)
    return int(bool(differ) and "--check" in sys.argv)


if __name__ == "__main__":
    sys.exit(main())
