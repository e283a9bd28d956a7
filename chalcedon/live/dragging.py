"""Dragging with no code: where a dragged shape may go, and what changes when it does."""

from __future__ import annotations

from typing import TYPE_CHECKING

from chalcedon.evaluate.names import back
from chalcedon.evaluate.node import Node
from chalcedon.formula import Formula
from chalcedon.formula.solve import solved
from chalcedon.geometry import Affine
from chalcedon.live.state import Pointer
from chalcedon.live.targets import find
from chalcedon.problems import ValueProblem

if TYPE_CHECKING:
    from chalcedon.evaluate.hulls import NodeHull
    from chalcedon.live.live import Live

Point = tuple[float, float]


class Dragging:
    """Moves what is dragged."""

    def __init__(self, live: Live) -> None:
        self._live = live

    def begin(self, pointer: Pointer) -> None:
        """Notes where it all was."""
        node = self._live.node(pointer.drag)
        x, y = node.at
        pointer.drag_from = (x, y)
        pointer.drag_inputs = {name: self._live.display.input(name) for name in self._live.scene.inputs}

    def go_on(self, pointer: Pointer) -> None:
        """Moves the shape to where the pointer has it. Raises ValueProblem."""
        live = self._live
        node = live.node(pointer.drag)
        now = back(node.parent, (pointer.x, pointer.y))
        then = back(node.parent, (pointer.down_x, pointer.down_y))
        x, y = pointer.drag_from
        wanted = x + now[0] - then[0], y + now[1] - then[1]
        self._put(node, self._allowed(node, wanted, pointer), pointer)

    def _allowed(self, node: Node, wanted: Point, pointer: Pointer) -> Point:
        """The nearest place that the shape may go to."""
        shape, (x, y) = node.shape, wanted
        how = shape.dragging
        if how == "x":
            return x, pointer.drag_from[1]
        if how == "y":
            return pointer.drag_from[0], y
        if how == "grid":
            step = shape.drag_grid
            return (round(x / step) * step, round(y / step) * step) if step > 0 else wanted
        if how == "within":
            return self._within(node, wanted)
        if how == "along":
            hull = self._hull(node)
            spot = hull.nearest(wanted)
            return wanted if spot is None else spot
        return wanted

    def _hull(self, node: Node) -> NodeHull:
        from chalcedon.evaluate.hulls import NodeHull  # NumPy, only where it is needed

        live, on = self._live, node.shape.drag_on
        if not on or on not in live.scene:
            raise ValueProblem(
                f"{node.shape.id} is dragged {node.shape.dragging}, but not of which shape.", "", "Set drag_on."
            )
        other = live.node(on)
        if other.parent is node.parent:
            return NodeHull(other, other.local)
        to = node.parent.inverse if node.parent is not None else None
        return NodeHull(other, (to or Affine.translate(0, 0)).after(other.world))

    def _within(self, node: Node, wanted: Point) -> Point:
        """Inside another shape: the nearest place at which `at` is in it; of the page, the whole box stays on it."""
        live = self._live
        if node.shape.drag_on:
            hull = self._hull(node)
            if hull.inside(wanted):
                return wanted
            return hull.nearest(wanted) or wanted
        width, height = live.scene.size
        box = node.bounds()
        x, y = node.parent.world.map(*node.at) if node.parent is not None else node.at
        px, py = node.parent.world.map(*wanted) if node.parent is not None else wanted
        px = min(max(px, x - box[0]), max(width - (box[2] - x), x - box[0]))
        py = min(max(py, y - box[1]), max(height - (box[3] - y), y - box[1]))
        return back(node.parent, (px, py))

    def _put(self, node: Node, at: Point, pointer: Pointer) -> None:
        """Has the shape stand there: by the inputs that its place follows, as far as that can be solved, else by a
        value of the run's own."""
        live, shape = self._live, node.shape
        stated = shape.stated("at")
        solved_for: set[int] = set()
        if not isinstance(stated, Formula):
            for i, part in enumerate(stated):
                if isinstance(part, Formula) and self._solve(node, i, part.text, at[i], pointer):
                    solved_for.add(i)
        if solved_for:
            live.refresh()
            now = live.display.formulas.cell(node, "at").value  # type: ignore[union-attr]  # it was solved for
            at = tuple(now[i] if i in solved_for else at[i] for i in (0, 1))  # type: ignore[assignment]
            if at == now:  # the inputs say all of it
                live.state.overrides.pop((shape.id, "at"), None)
                live.changed = True
                return
        live.doing.put(find(live.scene, f"{shape.id}.at"), at)

    def _solve(self, node: Node, i: int, text: str, wanted: float, pointer: Pointer) -> bool:
        live = self._live
        cell = live.display.formulas.cell(node, "at")
        if cell is None or cell.problem is not None:
            return False
        parts = [p for p in cell.parts if p.formula.text == text]
        for name in live.scene.inputs:
            spec = live.scene.inputs.worked_out(name)
            if (
                spec.kind != "number"
                or not parts
                or (name,) not in (parts[0].program.reads if parts[0].program else ())
            ):
                continue
            value = solved(parts[0].program, [get() for get in parts[0].gets], (name,), wanted)
            if value is None:
                continue
            low = -1e9 if spec.low is None else spec.low
            high = 1e9 if spec.high is None else spec.high
            live.doing.put(find(live.scene, name), spec.read(min(max(value, low), high)))
            return True
        return False
