"""A scene in a widget: the picture, zoom and pan, the pointer in scene px. For any window, the desk's own included."""

from chalcedon.view.place import View
from chalcedon.view.pointer import Pointer
from chalcedon.view.sceneview import Colors, SceneView

__all__ = ["Colors", "Pointer", "SceneView", "View"]
