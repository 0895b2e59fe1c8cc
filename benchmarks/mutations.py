"""Small deliberate faults put into the core, one at a time: which do the tests notice?

`python -m benchmarks.mutations COUNT SEED` takes that many faults at random from `core/geometry`,
`core/recipe` and `core/formats` (others by `--folders`), each in a copy of the last commit. All tests of the
core and of foreign designs run once without a fault, which takes some ten minutes and tells which of them run
which lines; then those that run a fault's line, the quickest first, until one fails or the next would go
beyond `--seconds` in all. What goes unnoticed is printed as a change of a line: some of it changes nothing (a
bound that is never met, a guess that is made good later), which a person has to say. What a value of a line
starts at and ranges over is a choice, and is left alone. `--keep FOLDER` keeps the copy and what was told of
its tests there, for another run.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import re
import resource
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import accumulate
from pathlib import Path

from coverage import CoverageData

ROOT = Path(__file__).parent.parent
FOLDERS = ("geometry", "recipe", "formats")
#: Functions that say what a value of a line starts at, and its range.
VALUES = ("length", "ranged", "number", "angle", "percent", "slot", "Field")
PYTEST = [sys.executable, "-m", "pytest", "-q", "-n", "2", "-m", "not alone", "-p", "no:cacheprovider"]
PYTEST += ["--hypothesis-profile", "failing"]
#: Bytes of address space a process of the tests may take with a fault.
MOST_MEMORY = 6_000_000_000

SWAPS: dict[type[ast.AST], str] = {
    ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*",
    ast.Lt: ">", ast.Gt: "<", ast.LtE: ">", ast.GtE: "<", ast.Eq: "!=", ast.NotEq: "==",
    ast.BitAnd: "|", ast.BitOr: "&",
}  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """A piece of a module's source, from one offset to another, and what stands there instead."""

    module: Path
    start: int
    end: int
    text: str

    def applied(self, source: str) -> str:
        return source[: self.start] + self.text + source[self.end :]

    def told(self, source: str) -> str:
        line = row_of(source, self.start)
        was = source.splitlines()[line - 1].strip()
        now = self.applied(source).splitlines()[line - 1].strip()
        return f"{self.module.parent.name}/{self.module.name}:{line}\n    - {was}\n    + {now}"


def row_of(source: str, place: int) -> int:
    """The line, from 1, of an offset into a source."""
    return source.count("\n", 0, place) + 1


def rows_that_run(source: str, row: int) -> range:
    """Lines of which one runs whenever something on a line does: its statement's as far as it.

    What a function's arguments are by default runs with any line of it.
    """
    around = [
        node
        for node in ast.walk(ast.parse(source))
        if isinstance(node, ast.stmt) and node.lineno <= row <= (node.end_lineno or 0)
    ]
    inner = around[-1]  # `walk` goes from outer to inner ones
    whole = isinstance(inner, ast.FunctionDef)
    return range(inner.lineno, (inner.end_lineno or row if whole else row) + 1)


def faults_of(module: Path) -> Iterator[Fault]:
    """Operators turned round, conditions negated, figures made half as large again and counts one more.

    A module's constants are made ten times as large: half as much again would be another choice.
    """
    source = module.read_text()
    starts = [0]
    for line in source.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))

    def at(node: ast.expr, end: bool = False) -> int:
        row, column = (node.end_lineno, node.end_col_offset) if end else (node.lineno, node.col_offset)
        assert row is not None
        assert column is not None
        text = source[starts[row - 1] : starts[row]].encode()
        return starts[row - 1] + len(text[:column].decode())

    def between(left: ast.expr, right: ast.expr, swap: str) -> Iterator[Fault]:
        gap = source[at(left, end=True) : at(right)]
        operator = gap.strip(" \n()")
        if operator and not operator.startswith("#"):
            first = at(left, end=True) + gap.index(operator)
            yield Fault(module, first, first + len(operator), swap)

    tree = ast.parse(source)
    chosen = {
        id(inner)
        for node in ast.walk(tree)
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in VALUES
        for inner in ast.walk(node)
    }
    constants = {id(inner) for node in tree.body if isinstance(node, ast.Assign) for inner in ast.walk(node)}
    for node in ast.walk(tree):
        if id(node) in chosen:
            continue
        if isinstance(node, ast.BinOp) and type(node.op) in SWAPS:
            yield from between(node.left, node.right, SWAPS[type(node.op)])
        elif isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in SWAPS:
            yield from between(node.left, node.comparators[0], SWAPS[type(node.ops[0])])
        elif isinstance(node, ast.Constant) and type(node.value) in (int, float) and node.value not in (0, 1):
            other = node.value + 1 if isinstance(node.value, int) else node.value * 3 / 2
            if id(node) in constants:
                other = node.value * 10
            yield Fault(module, at(node), at(node, end=True), repr(other))
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.Invert):
            yield Fault(module, at(node), at(node.operand), " ")


@dataclass(frozen=True)
class Suite:
    """The tests of the core in a copy of the last commit: how long each takes, and which lines it runs."""

    copy: Path
    seconds: dict[str, float]
    runs: CoverageData

    @classmethod
    def of(cls, copy: Path) -> Suite:
        """The tests, run once without any fault and seen to pass."""
        record, times = copy / "coverage", copy / "times.json"
        if not times.exists():
            times.write_text(json.dumps(_timed(copy, record)))
        runs = CoverageData(str(record))
        runs.read()
        return cls(copy, json.loads(times.read_text()), runs)

    def notices(self, fault: Fault, most: float) -> bool:
        """Whether one of the quickest tests that run its line, of `most` seconds in all, fails with a fault
        or takes far too long.
        """
        source = fault.module.read_text()
        by_row = self.runs.contexts_by_lineno(str(fault.module))
        rows = rows_that_run(source, row_of(source, fault.start))
        tests = {context.partition("|")[0] for row in rows for context in by_row.get(row, [])} - {""}
        # What runs as a module is read is behind any test.
        chosen = sorted(tests or self.seconds, key=lambda test: self.seconds.get(test, 0.0))
        spent = accumulate(self.seconds.get(test, 0.0) for test in chosen)
        chosen = [test for test, so_far in zip(chosen, spent, strict=True) if so_far <= most]
        listed = self.copy / "tests.txt"
        listed.write_text("\n".join(chosen))
        limit = 60 + 3 * sum(self.seconds.get(test, 0.0) for test in chosen)
        try:
            fault.module.write_text(fault.applied(source))
            return subprocess.run(
                [*PYTEST, "-x", f"@{listed}"], cwd=self.copy, capture_output=True, timeout=limit, check=False
            ).returncode not in (0, 5)
        except subprocess.TimeoutExpired:
            return True
        finally:
            fault.module.write_text(source)


def _timed(copy: Path, record: Path) -> dict[str, float]:
    """The seconds each test takes without a fault; which lines it runs goes into the record."""
    done = subprocess.run(
        [*PYTEST, "--durations=0", "-vv", "--cov=perigram/core", "--cov-context=test", "--cov-report="]
        + [str(copy / "tests" / name) for name in ("core", "foreign")],
        cwd=copy,
        env=os.environ | {"COVERAGE_FILE": str(record)},
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        sys.exit(f"The tests fail without any fault, so nothing could be told from it:\n{done.stdout}")
    of_each = re.findall(r"^(\S+)s call +(.+)$", done.stdout, re.MULTILINE)
    return {test: float(time) for time, test in of_each}


def _copied(folder: Path) -> Path:
    """The last commit in a folder of its own, which may be there from another run."""
    commit = subprocess.run(
        ["git", "rev-parse", "HEAD"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.strip()
    copy = folder.resolve() / commit
    if not copy.exists():
        subprocess.run(["git", "clone", "-q", str(ROOT), str(copy)], check=True)
        for part in ("web", "tests/foreign"):
            (copy / part / "node_modules").symlink_to(ROOT / part / "node_modules")
    return copy


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else "")
    parser.add_argument("count", type=int, nargs="?", default=20)
    parser.add_argument("seed", type=int, nargs="?", default=1)
    parser.add_argument("--folders", nargs="+", default=list(FOLDERS), help="of perigram/core")
    parser.add_argument("--seconds", type=float, default=200.0, help="of tests to a fault")
    parser.add_argument("--keep", type=Path, help="a folder for the copy")
    options = parser.parse_args()
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    found = 0
    with tempfile.TemporaryDirectory() as folder:
        copy = _copied(options.keep or Path(folder))
        places = [copy / "perigram/core" / name for name in options.folders]
        faults = [
            fault for place in places for path in sorted(place.rglob("*.py")) for fault in faults_of(path)
        ]
        suite = Suite.of(copy)
        for fault in random.Random(options.seed).sample(faults, options.count):
            seen = suite.notices(fault, options.seconds)
            found += seen
            print("noticed  " if seen else "UNNOTICED", fault.told(fault.module.read_text()), flush=True)
    print(f"{found} of {options.count} faults noticed, of {len(faults)} there could be")


if __name__ == "__main__":
    main()
