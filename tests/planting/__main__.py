"""Plants faults in core and says which its own tests miss: `bin/plant --count 100 --seed 1`.

The tests that run a line are known from one run under coverage; of a fault on it these are run,
until one fails. It works on a copy of the tree.
"""

from __future__ import annotations

import argparse
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import SimpleQueue

from coverage import CoverageData

from tests.planting.faults import Fault, faults

CORE, TESTS = "innerhop/core", "tests/core"
_MANY = 60  # tests at once; where more run a line, all are run
_OFTEN = 20  # faults, after which it is told how many were noticed
_LONGEST = 180  # seconds: a fault that never ends is noticed
_PLAIN = ("-q", "-x", "-p", "no:cacheprovider", "-p", "no:xdist")


def main() -> int:
    """Print each fault that was missed, and how many were noticed; fails under the goal."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--count", type=int, default=100, help="how many faults (100)")
    asked.add_argument("--seed", type=int, default=1, help="which ones (1)")
    asked.add_argument("--goal", type=int, default=0, help="per cent that are to be noticed")
    asked.add_argument("--copies", type=int, default=2, help="how many at once (2)")
    told = asked.parse_args()
    with tempfile.TemporaryDirectory(prefix="planted-") as folder:
        roots = [_copy(Path(folder) / f"{at}") for at in range(told.copies)]
        data = _covered(roots[0], Path(folder))
        every = [one for file in sorted((roots[0] / CORE).rglob("*.py")) for one in faults(file)]
        # nosec: which faults are picked is no secret
        picked = random.Random(told.seed).sample(every, min(told.count, len(every)))
        print(f"{len(every)} faults can be planted; {len(picked)} are, by seed {told.seed}.")
        free: SimpleQueue[Path] = SimpleQueue()
        for root in roots:
            free.put(root)
        with ThreadPoolExecutor(len(roots)) as pool:
            noticed = 0
            each = pool.map(lambda one: _tried(one, roots[0], free, data), picked)
            for at, is_noticed in enumerate(each, 1):
                noticed += is_noticed
                if at % _OFTEN == 0:
                    print(f"{noticed} of {at} were noticed so far.", flush=True)
    share = 100 * noticed / max(1, len(picked))
    print(f"{noticed} of {len(picked)} were noticed: {share:.0f} %.")
    return int(share < told.goal)


def _copy(folder: Path) -> Path:
    names = subprocess.run(
        ["git", "ls-files", "-z"], capture_output=True, check=True, text=True
    ).stdout.split("\0")
    for name in filter(None, names):
        if Path(name).is_file():
            (folder / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(name, folder / name)
    return folder


def _covered(root: Path, folder: Path) -> CoverageData:
    """Which tests run which line, by one run of them all."""
    file, settings = folder / "lines", folder / "coverage.ini"
    settings.write_text(f"[run]\ndynamic_context = test_function\nsource = {CORE}\n")
    run = [sys.executable, "-m", "coverage", "run", f"--data-file={file}", f"--rcfile={settings}"]
    done = _run(root, [*run, "-m", "pytest", *_PLAIN, TESTS], None)
    if done is None or done.returncode:
        raise SystemExit("The tests of core fail as they are. Mend these first.")
    data = CoverageData(str(file))
    data.read()
    return data


def _tried(one: Fault, home: Path, free: SimpleQueue[Path], data: CoverageData) -> bool:
    """Whether a fault is noticed. home: the copy that its place is told in."""
    root = free.get()
    file = root / one.file.relative_to(home)
    text = file.read_bytes()
    try:
        file.write_bytes(one.planted(text))
        wanted = _tests_of(one, data)
        done = _run(root, [sys.executable, "-m", "pytest", *_PLAIN, *wanted]) if wanted else None
        is_noticed = bool(wanted) and (done is None or done.returncode != 0)
    finally:
        file.write_bytes(text)
        free.put(root)
    if not is_noticed:
        print(f"missed {'' if wanted else '(no test runs it) '}{one.told(home, text)}", flush=True)
    return is_noticed


def _tests_of(one: Fault, data: CoverageData) -> Sequence[str]:
    """What to run for a fault: the tests that run its lines; all where many do, or where they
    run as modules are loaded; none where nothing does."""
    by_line = data.contexts_by_lineno(str(one.file))
    contexts = {name for line in range(one.first, one.last + 1) for name in by_line.get(line, ())}
    if not contexts:
        return ()
    parts = [name.split(".") for name in contexts if name.startswith("tests.core.test_")]
    found = sorted({f"{TESTS}/{name[2]}.py::{name[-1]}" for name in parts
                    if name[-1].startswith("test_")})  # fmt: skip
    return found if 0 < len(found) <= _MANY else (TESTS,)


def _run(
    root: Path, command: Sequence[str], longest: int | None = _LONGEST
) -> subprocess.CompletedProcess[bytes] | None:
    """None where it doesn't end in time."""
    there = {**os.environ, "PYTHONPATH": str(root), "PYTHONDONTWRITEBYTECODE": "1"}
    try:
        return subprocess.run(command, cwd=root, capture_output=True, timeout=longest, env=there,
                              check=False)  # fmt: skip
    except subprocess.TimeoutExpired:
        return None


if __name__ == "__main__":
    sys.exit(main())
