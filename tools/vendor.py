"""Renew the vendored files: `npm pack` at fixed versions, checked against the manifest, licences kept.

Usage: vendor.py [--check]. With --check nothing is fetched: the files are only compared with the manifest.
"""

import hashlib
import json
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
STATIC = "src/diachrom/web/static/vendor"
TESTS = "tests/vendor"
FONT = "@fontsource-variable/atkinson-hyperlegible"
# package, version, where to, {file in the package: file here}
PACKAGES = [
    (
        "bootstrap",
        "5.3.9",
        STATIC,
        {"dist/css/bootstrap-reboot.min.css": "bootstrap-reboot.min.css", "LICENSE": "bootstrap.LICENSE"},
    ),
    ("htmx.org", "2.0.11", STATIC, {"dist/htmx.min.js": "htmx.min.js", "LICENSE": "htmx.LICENSE"}),
    (
        "idiomorph",
        "0.8.0",
        STATIC,
        {"dist/idiomorph-ext.min.js": "idiomorph-ext.min.js", "LICENSE": "idiomorph.LICENSE"},
    ),
    (
        f"{FONT}-next",
        "5.3.0",
        STATIC,
        {"files/atkinson-hyperlegible-next-latin-wght-normal.woff2": "text.woff2", "LICENSE": "text.LICENSE"},
    ),
    (
        f"{FONT}-mono",
        "5.3.0",
        STATIC,
        {"files/atkinson-hyperlegible-mono-latin-wght-normal.woff2": "mono.woff2", "LICENSE": "mono.LICENSE"},
    ),
    ("three", "0.187.0", STATIC, {"LICENSE": "three.LICENSE"}),
    ("axe-core", "4.14.1", TESTS, {"axe.min.js": "axe.min.js", "LICENSE": "axe.LICENSE"}),
]
BUNDLER = "@esbuild/linux-x64", "0.28.2"
# What is used of three.js, in one module; the bundler leaves out the rest.
PARTS, BUNDLE = ROOT / "tools/three_parts.js", f"{STATIC}/three.min.js"
MANIFEST = ROOT / "tools/vendor.json"


def fetch(package: str, version: str, folder: Path) -> Path:
    """Have npm fetch a package's archive into a folder; npm checks it against the registry's own checksum."""
    command = ["npm", "pack", "--silent", "--pack-destination", str(folder), f"{package}@{version}"]
    name = subprocess.run(command, check=True, capture_output=True, text=True).stdout.split()[-1]
    return folder / name


def digest(content: bytes) -> str:
    return hashlib.sha256(content).hexdigest()


def bundle(folder: Path) -> str:
    """Put the parts of three.js that are used into one module; returns its digest. Archives lie in the folder."""
    modules = folder / "node_modules"
    for archive, name in ((fetch("three", _version("three"), folder), "three"), (fetch(*BUNDLER, folder), "esbuild")):
        with tarfile.open(archive) as packed:
            packed.extractall(modules, filter="data")
        (modules / "package").rename(modules / name)
    entry = folder / PARTS.name
    entry.write_bytes(PARTS.read_bytes())
    options = ("--bundle", "--format=esm", "--minify", "--legal-comments=none", "--log-level=error")
    subprocess.run([modules / "esbuild/bin/esbuild", entry, *options, f"--outfile={ROOT / BUNDLE}"], check=True)
    return digest((ROOT / BUNDLE).read_bytes())


def _version(package: str) -> str:
    return next(version for name, version, *_ in PACKAGES if name == package)


def renew() -> None:
    known = json.loads(MANIFEST.read_text(encoding="utf-8")) if MANIFEST.exists() else {}
    manifest: dict[str, dict[str, Any]] = {}
    with tempfile.TemporaryDirectory() as folder:
        for package, version, where, wanted in PACKAGES:
            archive = fetch(package, version, Path(folder))
            sum_now = digest(archive.read_bytes())
            before = known.get(package, {})
            if before.get("version") == version and before["archive_sha256"] != sum_now:
                sys.exit(f"{package} {version} is not the archive that the manifest knows: nothing was changed.")
            files = {}
            with tarfile.open(archive) as packed:
                for inside, here in wanted.items():
                    member = packed.extractfile(f"package/{inside}")
                    if member is None:
                        sys.exit(f"{package} {version} has no {inside}.")
                    content = member.read()
                    target = ROOT / where / here
                    target.parent.mkdir(parents=True, exist_ok=True)
                    target.write_bytes(content)
                    files[f"{where}/{here}"] = digest(content)
            manifest[package] = {"version": version, "archive_sha256": sum_now, "files": files}
        manifest["three"]["files"][BUNDLE] = bundle(Path(folder))
    MANIFEST.write_text(json.dumps(manifest, indent=2) + "\n", encoding="utf-8")


def check() -> list[str]:
    """The vendored files that are not what the manifest says."""
    manifest = json.loads(MANIFEST.read_text(encoding="utf-8"))
    wrong = []
    for entry in manifest.values():
        for name, wanted in entry["files"].items():
            path = ROOT / name
            if not path.is_file() or digest(path.read_bytes()) != wanted:
                wrong.append(name)
    return wrong


if __name__ == "__main__":
    if "--check" in sys.argv:
        sys.exit("\n".join(check()) or 0)
    renew()
