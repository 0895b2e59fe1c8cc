"""Small deliberate faults put into the core, one at a time: which do the tests notice?

`python -m benchmarks.mutations COUNT SEED` takes that many faults at random from `core/geometry`,
`core/recipe` and `core/formats` (others by `--folders`), each in a copy of the last commit, and runs the
core's tests that name the module, then those of whole designs, then all others. What goes unnoticed is
printed as a change of a line: some of it changes nothing (a bound that is never met, a guess that is made
good later), which a person has to say. What a value of a line starts at and ranges over is a choice, and is
left alone.
"""

from __future__ import annotations

import argparse
import ast
import random
import re
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
FOLDERS = ("geometry", "recipe", "formats")
#: Functions that say what a value of a line starts at, and its range.
VALUES = ("length", "ranged", "number", "angle", "percent", "slot")
#: Run for every fault, after those that name its module.
ALWAYS = ("test_recipe.py", "test_whole_designs.py", "test_formats.py")

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
        line = source.count("\n", 0, self.start) + 1
        was = source.splitlines()[line - 1].strip()
        now = self.applied(source).splitlines()[line - 1].strip()
        return f"{self.module.relative_to(ROOT)}:{line}\n    - {was}\n    + {now}"


def faults_of(module: Path) -> Iterator[Fault]:
    """Operators turned round, conditions negated, figures made half as large again.

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
            yield Fault(
                module,
                at(node),
                at(node, end=True),
                repr(node.value * (10 if id(node) in constants else 3 / 2)),
            )
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.Invert):
            yield Fault(module, at(node), at(node.operand), " ")


def noticed(fault: Fault, copy: Path) -> bool:
    """Whether a test fails with the fault in the copy."""
    target = copy / fault.module.relative_to(ROOT)
    source = target.read_text()
    tests = copy / "tests" / "core"
    word = re.compile(rf"\b{fault.module.stem}\b")
    every = [path.name for path in sorted(tests.glob("test_*.py"))]
    named = [name for name in every if word.search((tests / name).read_text()) or fault.module.stem in name]
    first = list(dict.fromkeys([*named, *ALWAYS]))
    try:
        target.write_text(fault.applied(source))
        return _fails(copy, first) or _fails(copy, [name for name in every if name not in first])
    finally:
        target.write_text(source)


def _fails(copy: Path, files: list[str]) -> bool:
    """Whether one of some files of tests fails, or takes so long that somebody would look why."""
    command = [sys.executable, "-m", "pytest", "-q", "-x", "-n", "2", "-p", "no:cacheprovider"]
    command += ["--hypothesis-profile", "failing"]
    command += [str(copy / "tests" / "core" / name) for name in files]
    try:
        return (
            bool(files)
            and subprocess.run(command, cwd=copy, capture_output=True, timeout=1200).returncode != 0
        )
    except subprocess.TimeoutExpired:
        return True


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else "")
    parser.add_argument("count", type=int, nargs="?", default=20)
    parser.add_argument("seed", type=int, nargs="?", default=1)
    parser.add_argument("--folders", nargs="+", default=list(FOLDERS), help="of perigram/core")
    options = parser.parse_args()
    modules = [
        path for name in options.folders for path in sorted((ROOT / "perigram/core" / name).rglob("*.py"))
    ]
    faults = [fault for module in modules for fault in faults_of(module)]
    chosen = random.Random(options.seed).sample(faults, options.count)
    found = 0
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "copy"
        subprocess.run(["git", "clone", "-q", str(ROOT), str(copy)], check=True)
        (copy / "web/node_modules").symlink_to(ROOT / "web/node_modules")
        if _fails(copy, [path.name for path in (copy / "tests/core").glob("test_*.py")]):
            sys.exit("The tests fail without any fault, so nothing could be told from it.")
        for fault in chosen:
            seen = noticed(fault, copy)
            found += seen
            print("noticed  " if seen else "UNNOTICED", fault.told(fault.module.read_text()), flush=True)
    print(f"{found} of {len(chosen)} faults noticed, of {len(faults)} there could be")


if __name__ == "__main__":
    main()
