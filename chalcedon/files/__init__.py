"""The scene file: reading, writing, checking."""

from chalcedon.files.reader import Opened, open_scene, read_scene
from chalcedon.files.writer import save_scene, scene_bytes

__all__ = ["Opened", "open_scene", "read_scene", "save_scene", "scene_bytes"]
