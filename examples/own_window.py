"""A window of one's own with a scene in it: a click on the lamp switches it, the slider lifts the boat."""

import sys

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QMainWindow, QSlider, QVBoxLayout, QWidget

import chalcedon
from chalcedon.view import Pointer, SceneView


class Harbour(QMainWindow):
    def __init__(self, scene: chalcedon.Scene) -> None:
        super().__init__()
        self.scene = scene
        self.view = SceneView(scene)
        self.view.pressed.connect(self.pressed)
        self.tide = QSlider(Qt.Orientation.Horizontal, minimum=-20, maximum=20)
        self.tide.valueChanged.connect(self.lift)
        box = QVBoxLayout(middle := QWidget())
        box.addWidget(self.view, 1)
        box.addWidget(self.tide)
        self.setCentralWidget(middle)
        self.resize(900, 640)

    def pressed(self, p: Pointer) -> None:
        if any(hit.id == "lamp" for hit in self.view.hits(p.sx, p.sy, radius=4)):
            lamp = self.scene["lamp"]
            lamp.fill = "#fff2c4" if lamp.fill == "#22292e" else "#22292e"

    def lift(self, tide: int) -> None:
        boat = self.scene["boat"]
        boat.at = (boat.at[0], 472 - tide)

    def closeEvent(self, event) -> None:
        self.view.shut()


if __name__ == "__main__":
    app = QApplication(sys.argv)
    window = Harbour(chalcedon.open(sys.argv[1] if len(sys.argv) > 1 else "demo/harbour.chal"))
    window.show()
    sys.exit(app.exec())
