"""The project as it is committed: vendored files, neutral colours, no addresses."""

import re
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]


def test_vendored_files_are_those_of_the_manifest():
    run = subprocess.run(
        [sys.executable, ROOT / "tools/vendor.py", "--check"], capture_output=True, text=True, check=False
    )
    assert run.returncode == 0, run.stderr


def test_every_colour_of_the_interface_is_neutral():
    style = "".join(path.read_text() for path in (ROOT / "src/diachrom/web/static").glob("*.css"))
    found = re.findall(r"#([0-9a-f]{3}|[0-9a-f]{6})\b", style)
    assert len(found) > 20
    for colour in found:
        size = len(colour) // 3
        channels = {colour[at : at + size] for at in range(0, len(colour), size)}
        assert len(channels) == 1, colour
    assert not re.search(r"\b(red|blue|green|orange|yellow|hsl|oklch)\b", style)


def test_the_lock_names_hashes_and_no_addresses():
    for lock in (ROOT / "requirements").glob("*.txt"):
        text = lock.read_text()
        assert "--hash=sha256:" in text
        assert "://" not in text


def test_every_source_that_is_cited_stands_in_the_references_and_the_other_way_round():
    texts = [*ROOT.glob("src/diachrom/core/**/*.py"), ROOT / "docs/model.md"]
    cited = set()
    for path in texts:
        for group in re.findall(
            r"\[([a-z][a-z0-9-]+\d+(?:[,;] [a-z][a-z0-9-]+\d+)*)", path.read_text(encoding="utf-8")
        ):
            cited |= set(re.split(r"[,;] ", group))
    known = set(re.findall(r"^@\w+\{([^,]+),", (ROOT / "docs/references.bib").read_text(encoding="utf-8"), re.M))
    assert cited == known
