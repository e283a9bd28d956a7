"""Asking for the name of a file that is to be written."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget


def file_to_write(owner: QWidget, title: str, start: Path, filters: str, suffixes: Iterable[str]) -> Path | None:
    """A file that the person names; None when they think better of it. A name without one of the endings gets that of
    the chosen filter, such as `PNG pictures (*.png)`, or the first."""
    name, chosen = QFileDialog.getSaveFileName(owner, title, str(start), filters)
    if not name:
        return None
    target, known = Path(name), list(suffixes)
    if target.suffix.lower() in known:
        return target
    suffix = next((s for s in known if f"*{s})" in chosen), known[0])
    return target.with_name(target.name + suffix)
