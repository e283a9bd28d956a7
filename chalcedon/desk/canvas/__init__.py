"""The picture: tiles, view, overlay, handles and tools."""
