"""The house as its imports draw it."""

import ast
import re
import subprocess
import sys
from pathlib import Path

import grimp

import chalcedon
from scripts.mutants import left_alone

ROOT = Path(chalcedon.__file__).parent


def test_no_modules_import_one_another_in_a_circle():
    """Type hints apart, every module stands above all that it imports, inside functions too."""
    graph = grimp.build_graph("chalcedon", exclude_type_checking_imports=True)
    left = {module: set(graph.find_modules_directly_imported_by(module)) for module in graph.modules}
    assert len(left) > 150
    while left:
        ground = {module for module, imported in left.items() if not imported & left.keys()}
        assert ground, f"in a circle, or above one: {sorted(left)}"
        left = {module: imported for module, imported in left.items() if module not in ground}


def test_files_and_functions_stay_readable():
    for file in ROOT.rglob("*.py"):
        source = file.read_text()
        assert source.count("\n") <= 500, f"{file.name} is asking to be split"
        for node in ast.walk(ast.parse(source)):
            if isinstance(node, ast.FunctionDef):
                assert (node.end_lineno or 0) - node.lineno < 80, f"{file.name}: {node.name} is asking to be split"


def test_what_the_mutants_leave_alone_is_still_there():
    listed = left_alone()
    assert listed
    for file, lines in listed.items():
        written = {line.strip() for line in (ROOT.parent / file).read_text().splitlines()}
        assert lines.keys() <= written, f"{file}: {lines.keys() - written}"
        for line, changes in lines.items():
            assert all(change.split(" -> ")[0] in line for change in changes), f"{file}: {line} has no {changes}"


def test_the_window_starts_without_what_is_slow_to_load():
    """NumPy and colour spaces come when something needs them."""
    slow = "numpy", "scipy", "coloraide", "lxml"
    code = f"import sys, chalcedon.desk.window; print([m for m in {slow} if m in sys.modules])"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def test_every_button_of_the_window_is_one_that_enter_presses():
    for file in (ROOT / "desk").rglob("*.py"):
        if file.name != "buttons.py":
            assert not re.search(r"Q(Push|Tool)Button\(", file.read_text()), file.name
