"""Scripts in one form: two spaces, at most 100 columns, as the formatter has them.

Usage: format_scripts.py [--check]. With --check nothing is written; what differs is named.
"""

import sys
from pathlib import Path

import jsbeautifier

STATIC = Path(__file__).parents[1] / "src/diachrom/web/static"
AS_IT_IS = ("plan_draw.js",)


def formatted(text: str) -> str:
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


def main() -> int:
    differ = []
    for path in sorted([*STATIC.glob("*.js"), *STATIC.glob("kit/*.js")]):
        text = path.read_text(encoding="utf-8")
        if path.name not in AS_IT_IS and formatted(text) != text:
            differ.append(path)
            if "--check" not in sys.argv:
                path.write_text(formatted(text), encoding="utf-8")
    if differ and "--check" in sys.argv:
        print("These scripts are not in their form, run 'make fix':", *(path.name for path in differ), file=sys.stderr)
    return int(bool(differ) and "--check" in sys.argv)


if __name__ == "__main__":
    sys.exit(main())
