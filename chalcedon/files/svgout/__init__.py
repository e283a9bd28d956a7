"""Scenes written as SVG 2: structure, ids and order are kept."""

from chalcedon.files.svgout.document import Written, save_svg, svg_bytes

__all__ = ["Written", "save_svg", "svg_bytes"]
