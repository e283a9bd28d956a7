"""What a display list takes from the scene itself: its page, its palette, its inputs and the way of its y axis."""

from __future__ import annotations

from collections.abc import Sequence

from chalcedon.evaluate.cells import Cell
from chalcedon.evaluate.edges import Edges
from chalcedon.evaluate.formulas import Formulas
from chalcedon.evaluate.node import Node
from chalcedon.evaluate.nodetable import NodeTable, subtree
from chalcedon.scene import Scene
from chalcedon.scene.declare import Stored
from chalcedon.scene.edits import SetValue
from chalcedon.scene.inputs import Input


class OfPage:
    """What a display list knows of its scene."""

    scene: Scene
    root: Node
    formulas: Formulas
    edges: Edges
    _table: NodeTable

    def __init__(self, scene: Scene) -> None:
        self.page: Stored = {}
        """The scene's own values, formulas replaced by what they come to."""
        self.palette: dict[str, str] = dict(scene.stated_plain().get("palette", ()))
        """The colours of the palette, formulas replaced by what they come to."""
        self._page_dirty = False

    def _mark(self, node: Node, what: str) -> None:
        raise NotImplementedError

    def _scene_changed(self, edit: SetValue) -> None:
        self._state_page()
        if edit.name == "inputs":
            self._inputs_changed(edit.old, edit.new)
            return
        self._page_dirty = True
        if edit.name in ("size", "y_axis"):
            self.formulas.touched([("page",)])
        if edit.name == "y_axis" or (edit.name == "size" and self.root.kind.axes_up):
            self._turn_axes()

    def _state_page(self) -> None:
        """Takes what the scene itself states."""
        self.formulas.note(self.root, self.scene)
        cells = self.formulas.cells(self.root) if self.scene._formulas else ()
        self._put_page({**self.scene.stated_plain(), **{cell.name: cell.value for cell in cells}})

    def _put_page(self, page: Stored) -> None:
        self.page = page
        was, self.palette = self.palette, dict(page.get("palette", ()))
        if self.palette != was:
            self._palette_changed(was)

    def _inputs_changed(self, old: Sequence[Input], new: Sequence[Input]) -> None:
        were, are = {v.name: v for v in old}, {v.name: v for v in new}
        if were.keys() == are.keys() and all(are[n].kind == were[n].kind for n in are):
            self.formulas.touched(("input", n) for n in are if are[n].value != were[n].value)
        else:
            self.formulas.look_up_again()

    def _page_came(self, cell: Cell) -> None:
        """Takes in what formulas of the scene itself came to."""
        self._put_page({**self.page, cell.name: cell.value})
        self._page_dirty = True

    def _turn_axes(self) -> None:
        for node in subtree(self.root):
            node.turn_axes()
            for what in ("outline", "place", "paint"):
                self._mark(node, what)

    def _palette_changed(self, old: dict[str, str]) -> None:
        new = self.palette
        names = {name for name, _color in old.items() ^ new.items()}
        if old.keys() == new.keys():
            self.formulas.touched(("palette", name) for name in names)
        else:
            self.formulas.look_up_again()
        for node, what in self.edges.readers_of_palette(names, self._table.every()):
            self._mark(node, what)
