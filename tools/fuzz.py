"""Requests that nobody means: from the API's description by a fuzzer from outside, by every form of every page, and
files that went wrong.

usage: fuzz.py [REQUESTS [SEED]] - so many of each, 10,000 if nothing is said; exit status 1 when one was not handled.
"""

import os
import re
import subprocess
import sys
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from importlib import import_module
from itertools import count, islice
from pathlib import Path
from random import Random
from tempfile import TemporaryDirectory

from starlette.testclient import TestClient

from diachrom.demo.bench import fill
from diachrom.web.app import create_app
from diachrom.web.server import running

HERE = Path(__file__).parents[1]
sys.path.append(str(HERE / "tests"))

awkward, fuzzing = import_module("awkward"), import_module("fuzzing")

A_ROUND = 100  # of each operation
FORMS = ("json", "csv", "xlsx", "gpl", "ase", "cgats", "cxf")
LARGEST, SLOWEST_S = 9_900_000, 15.0
CHECKS = "not_a_server_error,status_code_conformance,content_type_conformance,response_schema_conformance"


def by_description(folder: Path, many: int, seed: int) -> bool:
    """Whether the fuzzer found nothing. In short rounds, each of another seed: in long ones it ponders more than it
    asks."""
    several = os.cpu_count() or 1
    with running(folder) as address, TemporaryDirectory() as elsewhere, ThreadPoolExecutor(several) as pool:

        def round_(seed: int, phases: str = "fuzzing", examples: int = A_ROUND) -> tuple[int, str]:
            command = [
                *(str(Path(sys.executable).with_name("schemathesis")), "run", "--checks", CHECKS, "--phases", phases),
                *("--max-examples", str(examples), "--seed", str(seed), "--suppress-health-check", "all"),
                *("--request-timeout", "120", f"{address}/openapi.json"),
            ]
            run = subprocess.run(command, capture_output=True, text=True, check=False, cwd=elsewhere)
            made = re.search(r"(\d+) generated", run.stdout)
            return int(made[1]) if made else 0, "" if run.returncode == 0 else run.stdout

        made, found = round_(0, "examples,coverage", 1)
        seeds = count(1 + 10_000 * seed)
        while made < many and not found:
            for more, told in pool.map(round_, islice(seeds, several)):
                made, found = made + more, found or told
                if not more and not told:
                    found = "It asked nothing."
    print(found or f"{made} requests by the description, none of which found anything")
    return not found


def by_forms(folder: Path, many: int, seed: int) -> bool:
    """Whether every request was answered; a folder full of awkward rows is asked."""
    awkward.spoil(folder)
    random, statuses, unhandled = Random(11 + seed), Counter[int](), []
    with TestClient(
        create_app(folder), base_url="http://127.0.0.1", follow_redirects=False, raise_server_exceptions=False
    ) as client:
        known = list(fuzzing.routes(client.app))
        for at in range(many):
            if at % 40 == 0:
                awkward.put_cup(folder, random.choice(awkward.ODD_DRAFTS))
            method, path, given = fuzzing.request(random, known)
            status = client.request(method, path, **given).status_code
            statuses[status] += 1
            if status == 500:
                unhandled.append((method, path, str(given)[:300]))
    print(f"{many} requests to {len(known)} routes: {dict(sorted(statuses.items()))}; {len(unhandled)} unhandled")
    for one in unhandled[:20]:
        print(*one)
    return not unhandled


def mutated(random: Random, content: bytes) -> bytes:
    """A file as a bad copy, a bad program or a bad mind would leave it."""
    at, length = random.randrange(len(content)), random.randrange(1, 400)
    piece = content[at : at + length]
    return random.choice(
        (
            content[:at],
            content[:at] + piece * random.choice((2, 50, 8_000_000 // max(len(piece), 1))) + content[at:],
            content[:at] + bytes(random.randrange(256) for _ in range(length)) + content[at + length :],
            content[:at] + b"\0" * length + content[at:],
            content[:at] + random.choice((b"9" * 400, b"<" * 5000, b"[" * 5000, b'"' * 99, b"-1e999")) + content[at:],
        )
    )[:LARGEST]


def by_files(folder: Path, many: int, seed: int) -> bool:
    """Whether files that went wrong are answered within their bounds, and write nothing."""
    random, statuses, slow = Random(5 + seed), Counter[int](), []
    with TestClient(create_app(folder), base_url="http://127.0.0.1", follow_redirects=False) as client:
        good = {suffix: client.get(f"/files/shelf.{suffix}").content for suffix in FORMS}
        for _ in range(many):
            suffix = random.choice(FORMS)
            began = time.monotonic()
            answer = client.post(
                "/files/import", files={"file": (f"a.{suffix}", mutated(random, good[suffix]))}, data={"kind": "opaque"}
            )
            statuses[answer.status_code] += 1
            if time.monotonic() - began > SLOWEST_S:
                slow.append((suffix, time.monotonic() - began))
        left = {suffix: client.get(f"/files/shelf.{suffix}").content for suffix in ("json", "csv")}
    same = all(left[suffix] == good[suffix] for suffix in left)
    print(f"{many} files: {dict(sorted(statuses.items()))}; {len(slow)} took too long; the shelf is as it was: {same}")
    return same and not slow and not any(status >= 500 for status in statuses)


def main() -> int:
    many, seed = (int(one) for one in (*sys.argv[1:], *("10000", "0")[len(sys.argv) - 1 :]))
    good = []
    for way in (by_description, by_forms, by_files):
        with TemporaryDirectory() as folder:
            fill(Path(folder))
            began = time.monotonic()
            good.append(way(Path(folder), many if way is not by_files else many // 50, seed))
            print(f"{way.__name__.replace('_', ' ')}: {time.monotonic() - began:.0f} s")
    return 0 if all(good) else 1


if __name__ == "__main__":
    sys.exit(main())
