"""The canvas for assistive technology: the handles of what is selected, then the shapes, front to back."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import QAccessible, QAccessibleActionInterface

from chalcedon.craft.hold import Start
from chalcedon.desk.access.part import FOCUS, PRESS, Host, Part, Role, box_of
from chalcedon.desk.canvas import boxhandles
from chalcedon.desk.canvas.select import SelectTool
from chalcedon.desk.canvas.widget import Canvas
from chalcedon.geometry.boxes import is_empty
from chalcedon.scene import Shape
from chalcedon.scene.axes import across
from chalcedon.scene.grips import Handle
from chalcedon.scene.order import names_of
from chalcedon.scene.tidy import spoken
from chalcedon.source import sentence

WAYS = {"move left": (-1, 0), "move right": (1, 0), "move up": (0, -1), "move down": (0, 1)}
"""Names of actions, and where they lead in scene px."""
SIDES = ("top left", "top", "top right", "right", "bottom right", "bottom", "bottom left", "left")
REACH = 5


class CanvasAccess(Host):
    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas, Role.Canvas, canvas.accessibleName())
        self.canvas = canvas

    def grips(self) -> list[Part]:
        """The handles that are shown."""
        tool = self.canvas.tool
        if not isinstance(tool, SelectTool):
            return []
        if found := tool.hold.spots():
            return [self.part(("box", spot), lambda s=spot: BoxPart(self, s)) for spot, _ in found]  # type: ignore[misc]
        held = tool.handles()
        if held is None:
            return []
        shape = held[0].shape
        return [
            self.part((shape, i), lambda i=i: HandlePart(self, shape, i))  # type: ignore[misc]
            for i in range(len(held[1]))
        ]

    def count(self) -> int:
        return len(self.grips()) + len(self.canvas.session.display.order)

    def at(self, index: int) -> Part | None:
        grips = self.grips()
        if index < len(grips):
            return grips[index]
        order = self.canvas.session.display.order
        return self.shape(order[len(order) - 1 - (index - len(grips))].shape)

    def shape(self, shape: Shape) -> Part:
        """The part of a shape."""
        return self.part(shape, lambda: ShapePart(self, shape))

    def at_point(self, point: QPoint) -> Part | None:
        for part in self.grips():
            if part.place().contains(point):
                return part
        hits = self.canvas.session.tester.hit_test(*self.canvas.view.to_scene(point.x(), point.y()), first=True)
        return self.shape(hits[0].shape) if hits else None

    def focused(self) -> Part | None:
        current = self.canvas.session.current
        return self.shape(current) if current is not None else None


class ShapePart(Part):
    """A shape as it is painted."""

    host: CanvasAccess

    def __init__(self, host: CanvasAccess, shape: Shape) -> None:
        super().__init__(host)
        self.shape = shape

    def stands(self) -> bool:
        return self.host.canvas.session.display.find(self.shape) is not None

    def what(self) -> QAccessible.Role:
        return Role.Graphic

    def name(self) -> str:
        return f"{self.shape.id}, {self.shape.kind.replace('_', ' ')}"

    def help(self) -> str:
        return sentence(self.shape)

    def place(self) -> QRect:
        node = self.host.canvas.session.display.find(self.shape)
        box = node.bounds() if node is not None else None
        if box is None or is_empty(box):
            return QRect()
        x0, y0, x1, y1 = self.host.canvas.view.matrix.map_box(box)
        return box_of(x0, y0, x1, y1)

    def tell_state(self, state: QAccessible.State) -> None:
        session, canvas = self.host.canvas.session, self.host.canvas
        state.selected = session.is_selected(self.shape)
        state.focused = canvas.hasFocus() and session.current is self.shape
        node = session.display.find(self.shape)
        state.invisible = node is not None and not node.visible

    def acts(self) -> dict[str, Callable[[], object]]:
        return {PRESS: self._press, FOCUS: self._press}

    def _press(self) -> None:
        self.host.canvas.setFocus()
        self.host.canvas.session.select([self.shape])


class GripPart(Part):
    """What is taken hold of: its place is where it stands."""

    host: CanvasAccess

    def what(self) -> QAccessible.Role:
        return Role.Grip

    def spot(self) -> tuple[float, float] | None:
        """Where it stands, in widget px."""
        raise NotImplementedError

    def stands(self) -> bool:
        return self.spot() is not None

    def place(self) -> QRect:
        spot = self.spot()
        if spot is None:
            return QRect()
        return box_of(spot[0] - REACH, spot[1] - REACH, spot[0] + REACH, spot[1] + REACH)

    def value(self) -> str:
        spot = self.spot()
        if spot is None:
            return ""
        x, y = across(self.host.canvas.session.scene, *self.host.canvas.view.to_scene(*spot))
        return f"{spoken(x)}, {spoken(y)}"


class HandlePart(GripPart):
    """A handle of one shape, which changes a number of it."""

    def __init__(self, host: CanvasAccess, shape: Shape, index: int) -> None:
        super().__init__(host)
        self.shape, self.index = shape, index

    def _handle(self) -> tuple[Start, Handle] | None:
        """What it is of, and what it is, while it stands there."""
        tool = self.host.canvas.tool
        held = tool.handles() if isinstance(tool, SelectTool) else None
        if held is None or held[0].shape is not self.shape or self.index >= len(held[1]):
            return None
        return held[0], held[1][self.index]

    def spot(self) -> tuple[float, float] | None:
        found = self._handle()
        return None if found is None else self.host.canvas.view.to_widget(*found[0].scene_of(found[1].raw))

    def name(self) -> str:
        found = self._handle()
        if found is None:
            return ""
        word = next(iter(found[1].drag(found[1].raw, 2, False).values), found[1].role)
        return f"{word.replace('_', ' ')} of {self.shape.id}, handle {self.index + 1}"

    def acts(self) -> dict[str, Callable[[], object]]:
        return {name: lambda w=way: self._move(*w) for name, way in WAYS.items()}  # type: ignore[misc]

    def _move(self, dx: float, dy: float) -> None:
        tool = self.host.canvas.tool
        if isinstance(tool, SelectTool):
            tool.step_handle(self.index, dx, dy)


class BoxPart(GripPart):
    """A handle of the box around several shapes, or a group."""

    def __init__(self, host: CanvasAccess, handle: boxhandles.Spot) -> None:
        super().__init__(host)
        self.handle = handle

    def spot(self) -> tuple[float, float] | None:
        tool = self.host.canvas.tool
        return dict(tool.hold.spots()).get(self.handle) if isinstance(tool, SelectTool) else None

    def name(self) -> str:
        kind, index = self.handle
        who = names_of(self.host.canvas.session.selection)
        if kind == "strokes":
            return boxhandles.switch_words(self.host.canvas.session.strokes_grow)
        return {
            "size": f"size of {who}, {SIDES[index]}",
            "turn": f"turn {who}",
            "mirror": f"mirror {who} {('left to right', 'top to bottom')[index % 2]}",
        }[kind]

    def acts(self) -> dict[str, Callable[[], object]]:
        tool = self.host.canvas.tool
        if not isinstance(tool, SelectTool):
            return {}
        kind, index = self.handle
        if kind in ("mirror", "strokes"):
            return {PRESS: lambda: tool.hold.press(self.handle)}
        if kind == "turn":
            return {
                QAccessibleActionInterface.increaseAction(): lambda: tool.hold.turn(1.0),
                QAccessibleActionInterface.decreaseAction(): lambda: tool.hold.turn(-1.0),
            }
        return {name: lambda w=way: tool.hold.step(index, *w) for name, way in WAYS.items()}  # type: ignore[misc]
