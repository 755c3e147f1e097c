"""Which systems have a wheel of every locked library, asked of the package index: the table of docs/systems.md."""

import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
PLATFORMS = {
    "Windows, 64 bit": "x86_64-pc-windows-msvc",
    "Windows on ARM": "aarch64-pc-windows-msvc",
    "macOS on Apple's own chips": "aarch64-apple-darwin",
    "macOS on Intel": "x86_64-apple-darwin",
    "Linux, 64 bit": "x86_64-manylinux_2_28",
    "Linux on ARM, 64 bit": "aarch64-manylinux_2_28",
}
PYTHONS = ("3.11", "3.12", "3.13")


def missing(platform: str, python: str) -> str:
    """The library that has no wheel there, "" where all have one."""
    command = [
        str(ROOT / ".venv/bin/uv"),
        "pip",
        "install",
        "--dry-run",
        "--quiet",
        "--only-binary",
        ":all:",
        "--no-deps",
    ]
    where = [
        "--python-platform",
        platform,
        "--python-version",
        python,
        "--requirements",
        str(ROOT / "requirements/run.txt"),
    ]
    with tempfile.TemporaryDirectory() as target:
        asked = subprocess.run([*command, *where, "--target", target], capture_output=True, text=True, check=False)
    if asked.returncode == 0:
        return ""
    told = asked.stderr.split("Because ")[-1].split(" has no")
    return told[0] if len(told) > 1 else asked.stderr.strip()[-200:]


def main() -> int:
    """One row a system; 1 where one of them lacks something."""
    lacking = False
    print(f"| system | {' | '.join(PYTHONS)} |\n|---{'|---' * len(PYTHONS)}|")
    for words, platform in PLATFORMS.items():
        found = [missing(platform, python) for python in PYTHONS]
        lacking |= any(found)
        print(f"| {words} | {' | '.join(f'no: {one}' if one else 'yes' for one in found)} |", flush=True)
    return int(lacking)


if __name__ == "__main__":
    sys.exit(main())
