"""Texts that were read through and found right: what a test says now is held against them, line by line.

They are written anew when CHALCEDON_RECORDS is set: read what changed before it is committed.
"""

import difflib
import os
import re
from pathlib import Path

HOME = Path(__file__).parent / "records"


NUMBER = re.compile(r"-?\d+(?:\.\d+)?(?:e-?\d+)?")


def assert_as_recorded(name, lines, within=0.0, same=None):
    """`within` is how far numbers may be off: another machine rounds the last digit another way. `same` says of the
    lines of the record whether they are as good."""
    file = HOME / f"{name}.txt"
    now = "\n".join(lines) + "\n"
    if os.environ.get("CHALCEDON_RECORDS"):
        file.parent.mkdir(exist_ok=True)
        file.write_text(now)
    was = file.read_text()
    if within and NUMBER.sub("#", now) == NUMBER.sub("#", was):
        pairs = zip(NUMBER.findall(now), NUMBER.findall(was), strict=True)
        if all(a == b or abs(float(a) - float(b)) <= within for a, b in pairs):
            return
    if same is not None and same(was.splitlines()):
        return
    assert now == was, "\n".join(difflib.unified_diff(was.splitlines(), now.splitlines(), "was", "now", lineterm=""))


def number(value, digits=3):
    """A number as short as it is to so many digits."""
    text = f"{value:.{digits}f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def numbers(values, digits=3):
    return " ".join(number(v, digits) for v in values)


def changed(before, after):
    """The lines that differ between two texts."""
    lines = difflib.unified_diff(before.splitlines(), after.splitlines(), lineterm="", n=0)
    return [line for line in lines if line[:3] not in ("---", "+++") and not line.startswith("@@")]
