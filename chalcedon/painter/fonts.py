"""The font that comes with Chalcedon, for words that are painted beside scenes."""

from __future__ import annotations

import importlib.util
from pathlib import Path

from PySide6.QtGui import QFont, QFontDatabase

FAMILY = "Source Sans Pro"


def load_fonts() -> None:
    """Adds Source Sans from its package to the running application. Found without importing it: its import drags in an
    old resource API."""
    if QFontDatabase.hasFamily(FAMILY):
        return
    spec = importlib.util.find_spec("font_source_sans_pro")
    if spec is None or not spec.submodule_search_locations:
        return
    folder = Path(next(iter(spec.submodule_search_locations))) / "files"
    for face in ("Regular", "Semibold", "Bold", "It"):
        QFontDatabase.addApplicationFont(str(folder / f"SourceSansPro-{face}.ttf"))


def face(size: int, bold: bool = False) -> QFont:
    """Source Sans at a size in px."""
    load_fonts()
    out = QFont(FAMILY)
    out.setPixelSize(size)
    out.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return out
