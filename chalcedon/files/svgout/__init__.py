"""Scenes written as SVG 2: structure, ids and order are kept."""

from chalcedon.files.svgout.document import Written, svg_bytes

__all__ = ["Written", "svg_bytes"]
