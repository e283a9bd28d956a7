"""Runs every measurement, prints the table, and writes it to RESULTS.md."""

import datetime
import os
import platform
import sys
from pathlib import Path

import PySide6

from benchmarks import core, desk, hands, living, memory
from chalcedon.desk.app import make_app


def main():
    make_app()
    only = sys.argv[1:]
    rows = []
    for name, act in (
        ("repaint", lambda: [core.repaint()]),
        ("hits", core.hits),
        ("geometry", core.geometry),
        ("files", core.files),
        ("desk", desk.rows),
        ("hands", hands.rows),
        ("living", living.rows),
        ("memory", memory.rows),
    ):
        if not only or name in only:
            rows += act()
    table = ["| what | median | reference in the same run | ratio | target |", "| --- | --- | --- | --- | --- |"]
    table += [f"| {r.what} | {r.ours} | {r.reference} | {r.ratio} | {r.target} |" for r in rows]
    text = "\n".join(table)
    print(text)
    if not only:
        head = (
            f"# Measured\n\nBy `make bench` on {datetime.date.today()}: {os.cpu_count()} cores, Python "
            f"{platform.python_version()}, PySide6 {PySide6.__version__}, offscreen. A shared machine, noisy by a "
            "factor of two: the ratios count.\n\n"
        )
        Path(__file__).with_name("RESULTS.md").write_text(head + text + "\n")


main()
