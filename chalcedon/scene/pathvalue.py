"""Path data as a value."""

from __future__ import annotations

from typing import Any

from chalcedon.geometry.pathdata import parse_path
from chalcedon.scene.values import TextValue


class PathData(TextValue):
    """SVG path data. What is malformed is kept as it was written; what precedes the error is drawn, as SVG says."""

    def remark(self, value: Any) -> str:
        parsed = parse_path(self.plain(value))
        return f"at character {parsed.position + 1}: {parsed.error}." if parsed.error else ""

    def describe(self) -> str:
        return "SVG path data"
