"""The list of keys tells all that the pages and their scripts listen to, and nothing else."""

import re
from importlib.resources import files

WEB = files("diachrom.web")
NAMES = {
    "ArrowUp": "↑",
    "ArrowDown": "↓",
    "ArrowLeft": "←",
    "ArrowRight": "→",
    "PageDown": "Page ↓",
    "Escape": "Esc",
    " ": "space",
    "g": "g",
}
TAPPED = re.compile(r'data-key="([^"{]+)"|, "(\[|\]|o|Delete|Backspace| |[vbmpd])"')
LISTENED = re.compile(
    r'(?:event\.key|event\.detail) === "([^"]+)"|\b(Arrow\w+|PageDown|Enter)\b|^  "?([-+a-z])"?: (?:\(|save)', re.M
)


def listened():
    keys = {"5"}  # of the bench, by its figure
    for path in [*WEB.joinpath("templates").rglob("*.html")]:
        keys |= {one or other for one, other in TAPPED.findall(path.read_text(encoding="utf-8"))}
    for path in WEB.joinpath("static").rglob("*.js"):
        if "vendor" not in path.parts:
            keys |= {next(filter(None, found)) for found in LISTENED.findall(path.read_text(encoding="utf-8"))}
    return {NAMES.get(one, one) for one in keys}


def test_the_list_tells_every_key(client):
    page = client.get("/mix").text
    told = set(re.findall(r"<kbd>\s*([^<]+?)\s*</kbd>", page[page.index('<dialog id="keys"') :]))
    assert listened() - told == set()
    letters = set(re.findall(r'data-letter="(\w)"', page))
    assert len(letters) > 10
    assert letters <= told
    assert told - listened() - letters - {"0", "9", "u", "r", "s", ",", ".", "Page ↑"} == set()
