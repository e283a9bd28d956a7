"""SVG files read as scenes."""

from chalcedon.files.svgin.reading import open_svg, read_svg

__all__ = ["open_svg", "read_svg"]
