"""make mutants: changes single places of the package, one at a time, and lists the changes that no test notices.

Which test runs a line, and how long it takes, is measured once and kept in out/mutants/map.json: delete it after tests
were added. Every mutant is tried in a copy of the tree against the tests that run its statement, as many as a minute or
two allow. What survives these may be noticed by others, so the share is a lower bound; with --thorough all are asked.
Left alone are the numbers of `desk`, px and shades of the window; the limits and tolerances that are named at the top
of a file, since tests that held them fast would say them twice; and the statements listed in mutants.txt.
"""

from __future__ import annotations

import ast
import json
import multiprocessing
import os
import random
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from pathlib import Path
from typing import NamedTuple

import click

ROOT = Path(__file__).parent.parent
MAP = ROOT / "out" / "mutants" / "map.json"
MOST_SECONDS = 150.0
"""How long the tests may take, all together, that a mutant is tried against; as measured, which is slower."""
TIMEOUT = 300.0
FEW = 8
"""Files of tests that run a line while they are read; more do so because the package does."""
SCREENS = "tests/desk/test_screens.py"
"""Pictures of the window hold what is painted there: tried at last, however long they take."""
SPAWNED = {
    "chalcedon/__main__.py": ["tests/test_commands.py"],
    "chalcedon/painter/shelving.py": ["tests/desk/test_shelf.py"],
    "chalcedon/painter/working.py": ["tests/desk/test_shelf.py"],
    "chalcedon/desk/app.py": ["tests/desk/test_start.py", "tests/test_commands.py"],
    "chalcedon/tour.py": ["tests/test_commands.py"],
}
"""Files that tests run in processes of their own, which what is measured doesn't show; and those tests."""
DECLARED = "tests/test_docs.py", "tests/craft/test_portraits.py"
"""Tests that hold what the kinds and the library declare."""
ALONE = Path(__file__).with_suffix(".txt")
"""Statements that are left alone, with the reason: what no test could notice, or would only say twice."""
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
    old: str

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
    alone = left_alone().get(name, {})
    written = source.decode().splitlines()
    numbers = (bool,) if name.startswith("chalcedon/desk/") else (int, float, bool)

    tree = ast.parse(source)
    looks = _left_out(tree)

    def spot(line: int, column: int) -> int:
        return starts[line - 1] + column

    def between(left: ast.expr, right: ast.expr, op: ast.AST) -> None:
        a, b = spot(left.end_lineno or 0, left.end_col_offset or 0), spot(right.lineno, right.col_offset)
        at = source.find(WRITTEN[type(op)].encode(), a, b)
        if at >= 0:
            size = len(WRITTEN[type(op)])
            out.append(Mutant(name, right.lineno, at, at + size, SWAPS[type(op)], WRITTEN[type(op)]))

    for node in ast.walk(tree):
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in SWAPS:
            between(node.left, node.comparators[0], node.ops[0])
        elif isinstance(node, ast.BinOp) and type(node.op) in SWAPS and not isinstance(node.left, ast.Constant):
            between(node.left, node.right, node.op)
        elif isinstance(node, ast.BoolOp):
            between(node.values[0], node.values[1], node.op)
        elif isinstance(node, ast.Constant) and type(node.value) in numbers and id(node) not in looks:
            a, b = spot(node.lineno, node.col_offset), spot(node.end_lineno or 0, node.end_col_offset or 0)
            new = str(not node.value) if isinstance(node.value, bool) else repr(node.value + 1)
            out.append(Mutant(name, node.lineno, a, b, new, source[a:b].decode()))
        elif isinstance(node, ast.If | ast.IfExp):
            test = node.test
            a, b = spot(test.lineno, test.col_offset), spot(test.end_lineno or 0, test.end_col_offset or 0)
            old = source[a:b].decode()
            out.append(Mutant(name, test.lineno, a, b, f"not ({old})", old))

    def is_tried(m: Mutant) -> bool:
        changes = alone.get(written[m.line - 1].strip(), set())
        return not {"", f"{m.old} -> {m.new}"} & changes

    return [m for m in out if is_tried(m)]


def _left_out(tree: ast.Module) -> set[int]:
    """The constants that are not changed, by their identity: how a record or zip behaves, what nobody looks at, limits
    and tolerances."""
    calls = (n for n in ast.walk(tree) if isinstance(n, ast.Call))
    looks = {
        id(k.value) for n in calls for k in n.keywords if k.arg in ("frozen", "slots", "strict")
    }  # of records and zip
    for function in (n for n in ast.walk(tree) if isinstance(n, ast.Lambda | ast.FunctionDef)):
        args = function.args  # what is called _ is taken from whoever calls, and not looked at
        pairs = zip(reversed(args.args), reversed(args.defaults), strict=False)
        looks |= {id(default) for arg, default in pairs if arg.arg == "_"}
    for top in tree.body:  # limits and tolerances: any number near it would do as well
        if isinstance(top, ast.Assign):
            target, value = top.targets[0], top.value
            both = isinstance(target, ast.Tuple) and isinstance(value, ast.Tuple)
            for limit, one in zip(target.elts, value.elts, strict=False) if both else [(target, value)]:
                if isinstance(limit, ast.Name) and limit.id.isupper() and _is_number(one):
                    looks |= {id(n) for n in ast.walk(one)}
    return looks


@cache
def left_alone() -> dict[str, dict[str, set[str]]]:
    """By file the lines, as they are written, that are not changed; of each in which ways, an empty one for all."""
    out: dict[str, dict[str, set[str]]] = {}
    file = ""
    for line in ALONE.read_text().splitlines():
        if line.startswith("chalcedon/"):
            file = line
        elif line.startswith("    "):
            text, _, change = line.strip().partition("    # ")
            out.setdefault(file, {}).setdefault(text, set()).add(change)
    return out


PLUGIN = """
import coverage

def pytest_runtest_setup(item):
    coverage.Coverage.current().switch_context(item.nodeid.split("[")[0])
"""
"""Names what a test runs by the test. Coverage's own way takes a function of hypothesis for the test."""


def _is_number(node: ast.expr) -> bool:
    parts = ast.Constant | ast.BinOp | ast.UnaryOp | ast.operator | ast.unaryop
    return all(isinstance(n, parts) for n in ast.walk(node))


def measure() -> dict[str, dict[str, object]]:
    """For every test function how long it takes, and which lines of which files it runs."""
    with tempfile.TemporaryDirectory() as folder:
        tests = sorted(
            p.relative_to(ROOT).as_posix() for p in (ROOT / "tests").rglob("test_*.py") if "fuzz" not in p.name
        )
        rc = Path(folder) / "rc"
        rc.write_text("[run]\nsource = chalcedon\n")
        (Path(folder) / "by_test.py").write_text(PLUGIN)

        def one(test: str) -> tuple[str, Path]:
            name = test.replace("/", ".")
            data = Path(folder) / f"{name}.data"
            base = [sys.executable, "-m", "coverage", "run", f"--rcfile={rc}", f"--data-file={data}", "-m", "pytest"]
            run = [*base, "-p", "by_test", "-vv", "--durations=0", "--durations-min=0", "-p", "no:cacheprovider", test]
            environment = {**_environment(), "PYTHONPATH": f"{folder}:{ROOT}"}
            done = subprocess.run(run, cwd=ROOT, capture_output=True, env=environment, text=True)
            return done.stdout, data

        found: dict[str, dict[str, object]] = {}
        with ThreadPoolExecutor(2) as pool:
            for test, (printed, data) in zip(tests, pool.map(one, tests), strict=True):
                _collect(found, test, printed, data)
    MAP.parent.mkdir(parents=True, exist_ok=True)
    MAP.write_text(json.dumps(found))
    return found


def _collect(found: dict[str, dict[str, object]], test: str, printed: str, data: Path) -> None:
    """Adds what a run of one test file found out."""
    from coverage import CoverageData

    seconds: dict[str, float] = {}
    for took, name in re.findall(r"([\d.]+)s (?:call|setup|teardown) +\S+::(\w+)", printed):
        seconds[name] = seconds.get(name, 0.0) + float(took)
    if not seconds:
        raise click.ClickException(f"{test} ran no test:\n{printed[-2000:]}")
    known = CoverageData(str(data))
    known.read()
    for file in known.measured_files():
        name = Path(file).relative_to(ROOT).as_posix()
        for line, contexts in known.contexts_by_lineno(file).items():
            for context in contexts:
                function = context.rsplit("::", 1)[-1]
                if function in seconds or not context:
                    # without a context: what the file runs while it is read, such as what its tests are given
                    key, took = (f"{test}::{function}", seconds[function]) if context else (test, sum(seconds.values()))
                    about = found.setdefault(key, {"seconds": took, "lines": {}})
                    about["lines"].setdefault(name, []).append(line)  # type: ignore[attr-defined]


def _environment() -> dict[str, str]:
    return {**os.environ, "QT_QPA_PLATFORM": "offscreen", "CI": "1"}


def noticed(mutant: Mutant, tests: list[str], tree: Path) -> str:
    """`noticed`, or `survived`; a mutant that hangs is noticed."""
    target = tree / mutant.file
    source = target.read_bytes()
    target.write_bytes(mutant.apply(source))
    try:
        run = WARM.Process(target=_run, args=(tree, tests))
        run.start()
        run.join(TIMEOUT)
        if run.exitcode is None:
            os.killpg(run.pid or 0, signal.SIGKILL)  # with what the tests started
            run.join()
        return "survived" if run.exitcode == 0 else "noticed"
    finally:
        target.write_bytes(source)


def noticed_by_any(mutant: Mutant, tests: list[str], seconds: dict[str, float], tree: Path) -> str:
    """As `noticed`, however long the tests take: some of them after the other."""
    while tests:
        now = _within(MOST_SECONDS, tests, seconds)
        if noticed(mutant, now, tree) == "noticed":
            return "noticed"
        tests = [t for t in tests if t not in now]
    return "survived"


WARM = multiprocessing.get_context("forkserver")
"""Each run of tests is forked from a process that has the libraries loaded, and nothing of the package."""
WARM.set_forkserver_preload(
    ["PySide6.QtWidgets", "PySide6.QtTest", "hypothesis", "lxml.etree", "numpy", "PIL", "pytest"]
)


def _run(tree: Path, tests: list[str]) -> None:
    """Runs tests in a tree, in a process of its own, and ends it."""
    import pytest

    os.setsid()  # what a test started is not to stay
    sys.path[:] = [str(tree), *(p for p in sys.path if Path(p or ".").resolve() != ROOT)]
    os.environ |= {**_environment(), "PYTHONPATH": str(tree)}
    os.chdir(tree)
    with open(os.devnull, "w") as nowhere:
        os.dup2(nowhere.fileno(), 1)
        os.dup2(nowhere.fileno(), 2)
    os._exit(int(pytest.main(["-q", "-x", "-p", "no:cacheprovider", *tests])))


def statements(file: Path) -> dict[int, range]:
    """For every line the lines of the innermost statement that it belongs to, without the body of a compound one. What
    stands in no function is run when the package is loaded, by whichever test comes first: it is left out."""
    out: dict[int, range] = {}
    inside: set[int] = set()
    for node in ast.walk(ast.parse(file.read_bytes())):  # outer ones first
        if isinstance(node, ast.FunctionDef):
            inside |= set(range(node.body[0].lineno, (node.end_lineno or 0) + 1))
        if isinstance(node, ast.stmt):
            body = getattr(node, "body", None)
            end = body[0].lineno - 1 if body else node.end_lineno
            for line in range(node.lineno, max(node.lineno, end or node.lineno) + 1):
                out[line] = range(node.lineno, max(node.lineno, end or node.lineno) + 1)
    return {line: span for line, span in out.items() if line in inside}


def tests_for(
    mutant: Mutant, lines: range, runs: dict[tuple[str, int], set[str]], seconds: dict[str, float]
) -> list[str]:
    """The tests that run a statement. For half of the time those of its own package, those of its own name before the
    others; then the quickest of every file of tests, the next of every file, and so on."""
    if mutant.file in SPAWNED:
        return SPAWNED[mutant.file]
    found = set().union(*(runs.get((mutant.file, n), set()) for n in lines))
    if not found:
        return _by_share(mutant, runs, seconds)
    own, name = f"tests/{mutant.file.split('/')[1]}/", Path(mutant.file).stem.strip("_")
    quickest = sorted(found, key=lambda t: (seconds[t], t))
    near = [t for t in quickest if t.startswith(own)]
    first = _within(MOST_SECONDS / 2, sorted(near, key=lambda t: name not in t.split("::")[0]), seconds)
    turns: dict[str, int] = {}
    order = []
    for test in quickest:
        file = test.split("::")[0]
        turns[file] = turns.get(file, 0) + 1
        order.append((turns[file], seconds[test], test))
    rest = [test for *_, test in sorted(order) if test not in first]
    chosen = first + _within(MOST_SECONDS - sum(seconds[t] for t in first), rest, seconds)
    return chosen + [t for t in found - set(chosen) if t.startswith(SCREENS) and "/desk/" in mutant.file]


def _by_share(mutant: Mutant, runs: dict[tuple[str, int], set[str]], seconds: dict[str, float]) -> list[str]:
    """For what is run when the package is loaded: the tests that hold what is declared, those that run a lambda of the
    line, then those that run most of the file."""
    share: dict[str, int] = {}
    for (file, _line), tests in runs.items():
        if file == mutant.file:
            for test in tests:
                share[test] = share.get(test, 0) + 1
    declared = [t for t in seconds if t.startswith(DECLARED)]
    there = runs.get((mutant.file, mutant.line), set())
    rest = sorted(share.keys() - set(declared), key=lambda t: (t not in there, -share[t], seconds[t], t))
    return _within(MOST_SECONDS, [*declared, *rest], seconds)


def _within(most: float, tests: list[str], seconds: dict[str, float]) -> list[str]:
    """As many of the tests, in their order, as take no longer all together; the first one in any case."""
    out, total = [], 0.0
    for test in tests:
        if not out or total + seconds[test] <= most:
            total += seconds[test]
            out.append(test)
    return out


@click.command()
@click.option("--seconds", default=600.0, show_default=True, help="For trying mutants, after the map is there.")
@click.option("--seed", default=1, show_default=True)
@click.option("--only", default="", help="Only files whose path holds this.")
@click.option("--thorough", is_flag=True, help="What survives is tried against all other tests that run it, too: slow.")
def main(seconds: float, seed: int, only: str, thorough: bool) -> None:
    """Tries a random sample of single changes and prints those that no test noticed."""
    known = json.loads(MAP.read_text()) if MAP.exists() else measure()
    seconds_of = {test: about["seconds"] for test, about in known.items()}
    runs: dict[tuple[str, int], set[str]] = {}
    for test, about in known.items():
        for name, lines in about["lines"].items():
            for line in lines:
                runs.setdefault((name, line), set()).add(test)
    for place, tests in runs.items():
        reading = {t for t in tests if "::" not in t}
        if len(reading) > FEW:  # the package runs it itself when it is loaded
            runs[place] = tests - reading
    files = [f for f in sorted((ROOT / "chalcedon").rglob("*.py")) if only in f.as_posix()]
    every = [m for f in files for m in mutants_of(f)]
    spans = {f.relative_to(ROOT).as_posix(): statements(f) for f in files}
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
                lines = spans[mutant.file].get(mutant.line, range(0))
                tests = tests_for(mutant, lines, runs, seconds_of)
                state = noticed(mutant, tests, tree) if tests else "no test runs it"
                if thorough and state == "survived":
                    rest = set().union(*(runs.get((mutant.file, n), set()) for n in lines)) - set(tests)
                    state = noticed_by_any(mutant, sorted(rest, key=lambda t: (seconds_of[t], t)), seconds_of, tree)
                results.append((state, mutant))
                if state != "noticed":
                    m = mutant
                    click.echo(f"{len(results):4} {state}: {m.file}:{m.line}  {m.old!r} -> {m.new!r}")

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(work, range(2)))
    seen = sum(state == "noticed" for state, _ in results)
    left = sum(len(lines) for lines in left_alone().values())
    click.echo(f"{left} statements are left alone, see scripts/mutants.txt")
    click.echo(f"{seen} of {len(results)} noticed ({100 * seen / max(1, len(results)):.0f} %)")


if __name__ == "__main__":
    main()
