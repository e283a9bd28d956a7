"""make mutants: changes single places of the package, one at a time, and lists the changes that no test notices.

Which test files run a line is measured once, with coverage, and kept in out/mutants/map.json: delete it after tests
were added. Every mutant is tried in a copy of the tree against the quickest test files that run its line.
"""

from __future__ import annotations

import ast
import json
import random
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple

import click

ROOT = Path(__file__).parent.parent
MAP = ROOT / "out" / "mutants" / "map.json"
MOST_FILES = 4
"""Test files a mutant is tried against."""
TIMEOUT = 240.0
SWAPS: dict[type, str] = {
    ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "==", ast.Is: "is not",
    ast.IsNot: "is", ast.In: "not in", ast.NotIn: "in", ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*",
    ast.And: "or", ast.Or: "and",
}  # fmt: skip
WRITTEN: dict[type, str] = {
    ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!=", ast.Is: "is",
    ast.IsNot: "is not", ast.In: "in", ast.NotIn: "not in", ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/",
    ast.And: "and", ast.Or: "or",
}  # fmt: skip


class Mutant(NamedTuple):
    file: str
    line: int
    start: int
    end: int
    new: str

    def apply(self, source: bytes) -> bytes:
        return source[: self.start] + self.new.encode() + source[self.end :]


def mutants_of(file: Path) -> list[Mutant]:
    """Every single change of a file: an operator, a number, a condition, a truth."""
    source = file.read_bytes()
    starts = [0]
    for line in source.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    name = file.relative_to(ROOT).as_posix()
    out: list[Mutant] = []

    def spot(line: int, column: int) -> int:
        return starts[line - 1] + column

    def between(left: ast.expr, right: ast.expr, op: ast.AST) -> None:
        a, b = spot(left.end_lineno or 0, left.end_col_offset or 0), spot(right.lineno, right.col_offset)
        at = source.find(WRITTEN[type(op)].encode(), a, b)
        if at >= 0:
            size = len(WRITTEN[type(op)])
            out.append(Mutant(name, right.lineno, at, at + size, SWAPS[type(op)]))

    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in SWAPS:
            between(node.left, node.comparators[0], node.ops[0])
        elif isinstance(node, ast.BinOp) and type(node.op) in SWAPS and not isinstance(node.left, ast.Constant):
            between(node.left, node.right, node.op)
        elif isinstance(node, ast.BoolOp):
            between(node.values[0], node.values[1], node.op)
        elif isinstance(node, ast.Constant) and type(node.value) in (int, float, bool):
            a, b = spot(node.lineno, node.col_offset), spot(node.end_lineno or 0, node.end_col_offset or 0)
            new = str(not node.value) if isinstance(node.value, bool) else repr(node.value + 1)
            out.append(Mutant(name, node.lineno, a, b, new))
        elif isinstance(node, ast.If | ast.IfExp):
            test = node.test
            a, b = spot(test.lineno, test.col_offset), spot(test.end_lineno or 0, test.end_col_offset or 0)
            out.append(Mutant(name, test.lineno, a, b, f"not ({source[a:b].decode()})"))
    return out


def measure() -> dict[str, dict[str, object]]:
    """For every test file how long it takes, and which lines of which files it runs."""
    found: dict[str, dict[str, object]] = {}

    def one(test: str) -> None:
        with tempfile.TemporaryDirectory() as folder:
            data = Path(folder) / "data"
            start = time.monotonic()
            base = [sys.executable, "-m", "coverage"]
            run = [*base, "run", f"--data-file={data}", "--source=chalcedon", "-m", "pytest", "-q", "-x", test]
            subprocess.run(run, cwd=ROOT, capture_output=True, env=_environment())
            took = time.monotonic() - start
            out = Path(folder) / "out.json"
            subprocess.run([*base, "json", f"--data-file={data}", "-o", str(out)], cwd=ROOT, capture_output=True)
            files = json.loads(out.read_text())["files"] if out.exists() else {}
            lines = {name: report["executed_lines"] for name, report in files.items()}
            found[test] = {"seconds": took, "lines": lines}

    tests = sorted(p.relative_to(ROOT).as_posix() for p in (ROOT / "tests").rglob("test_*.py"))
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(one, (t for t in tests if "fuzz" not in t)))
    MAP.parent.mkdir(parents=True, exist_ok=True)
    MAP.write_text(json.dumps(found))
    return found


def _environment() -> dict[str, str]:
    import os

    return {**os.environ, "QT_QPA_PLATFORM": "offscreen", "CI": "1"}


def noticed(mutant: Mutant, tests: list[str], tree: Path) -> str:
    """`noticed`, or `survived`; a mutant that hangs is noticed."""
    target = tree / mutant.file
    source = (ROOT / mutant.file).read_bytes()
    target.write_bytes(mutant.apply(source))
    try:
        for test in tests:
            run = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", test]
            environment = {**_environment(), "PYTHONPATH": str(tree)}
            try:
                done = subprocess.run(run, cwd=tree, capture_output=True, timeout=TIMEOUT, env=environment)
            except subprocess.TimeoutExpired:
                return "noticed"
            if done.returncode != 0:
                return "noticed"
        return "survived"
    finally:
        target.write_bytes(source)


@click.command()
@click.option("--seconds", default=600.0, show_default=True, help="For trying mutants, after the map is there.")
@click.option("--seed", default=1, show_default=True)
@click.option("--only", default="", help="Only files whose path holds this.")
def main(seconds: float, seed: int, only: str) -> None:
    """Tries a random sample of single changes and prints those that no test noticed."""
    known = json.loads(MAP.read_text()) if MAP.exists() else measure()
    runs: dict[tuple[str, int], list[tuple[float, str]]] = {}
    for test, about in known.items():
        for name, lines in about["lines"].items():
            for line in lines:
                runs.setdefault((name, line), []).append((about["seconds"], test))
    files = [f for f in sorted((ROOT / "chalcedon").rglob("*.py")) if only in f.as_posix()]
    every = [m for f in files for m in mutants_of(f)]
    random.Random(seed).shuffle(every)
    queue = iter(every)
    end = time.monotonic() + seconds
    results: list[tuple[str, Mutant]] = []

    def work(number: int) -> None:
        with tempfile.TemporaryDirectory() as folder:
            tree = Path(folder) / "tree"
            ignore = shutil.ignore_patterns(".git", ".venv", "out", "__pycache__", ".hypothesis", "*_cache")
            shutil.copytree(ROOT, tree, ignore=ignore)
            while time.monotonic() < end:
                mutant = next(queue, None)
                if mutant is None:
                    return
                tests = [t for _, t in sorted(runs.get((mutant.file, mutant.line), []))][:MOST_FILES]
                state = noticed(mutant, tests, tree) if tests else "no test runs it"
                results.append((state, mutant))

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(work, range(2)))
    for state, m in sorted(results):
        if state != "noticed":
            text = (ROOT / m.file).read_bytes()
            click.echo(f"{state}: {m.file}:{m.line}  {text[m.start : m.end].decode()!r} -> {m.new!r}")
    seen = sum(state == "noticed" for state, _ in results)
    click.echo(f"{seen} of {len(results)} noticed ({100 * seen / max(1, len(results)):.0f} %)")


main()
