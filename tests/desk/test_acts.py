"""What every command does to a scene and says, and what the rows of every shape read, as it was found right."""

import pytest
from greenhouse import greenhouse
from PySide6.QtWidgets import QApplication
from recorded import assert_as_recorded, changed

from chalcedon.desk.commands import COMMANDS
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.source import print_shapes

SELECTIONS = {
    "a star": ["flower"],
    "two that overlap": ["sun", "pane"],
    "three": ["flower", "dial", "pane"],
    "a group": ["bench"],
    "within a group": ["stalk"],
    "nothing": [],
}
MENUS = ("Edit", "Shape", "Order", "Outline", "Place")
LEFT_OUT = ("edit.undo", "edit.redo", "shape.image")
"""Tested by themselves, and one that asks for a file."""


def told(desk, command):
    """What a command does, taken back again."""
    scene, window = desk.session.scene, desk.w
    before, chosen = print_shapes(scene.shapes), desk.chosen
    window.messages.dismiss()
    window.run_command(command.name)
    QApplication.processEvents()
    yield from ("    " + line for line in changed(before, print_shapes(scene.shapes)))
    if scene.undo_name:
        yield f"    undo: {scene.undo_name}"
    if desk.chosen != chosen:
        yield f"    selected: {', '.join(desk.chosen)}"
    if desk.said:
        yield f"    says: {desk.said}"
    popup = QApplication.activePopupWidget()
    if popup is not None:
        popup.close()
    editor = window.ledger.editor
    if editor is not None:
        yield f"    asks for {editor.cell.name}: {editor.text()!r}"
        window.ledger.acts.close_editor()
    window.canvas.set_kind("")
    while scene.undo_name:
        scene.undo()
    desk.session.flush()
    assert print_shapes(scene.shapes) == before


@pytest.mark.parametrize("menu", MENUS)
def test_commands_do_what_they_were_found_to_do(menu, desk):
    def lines():
        for title, ids in SELECTIONS.items():
            yield f"== {title}"
            desk.session.new(greenhouse(), "greenhouse")
            for command in COMMANDS:
                if command.menu == menu and command.name not in LEFT_OUT:
                    desk.session.select([desk[i] for i in ids])
                    offered = command.when is None or bool(command.when(desk.w))
                    yield f"{command.name}{'' if offered else ': not offered'}"
                    if offered:
                        yield from told(desk, command)

    assert_as_recorded(f"acts-{menu.lower()}", lines())


def test_rows_read_as_they_were_found_to_read(desk):
    def lines():
        desk.session.new(greenhouse(), "greenhouse")
        ledger = desk.w.ledger
        for shape in list(desk.session.scene.walk()):
            desk.session.select([shape])
            for all_of_it in (False, True):
                if all_of_it:
                    desk.unfold_all(shape.id)
                yield f"== {shape.id}{', unfolded' if all_of_it else ''}"
                for cell in ledger.row_cells(ledger.index_of(shape)):
                    place = f"{cell.role} {cell.name}{list(cell.path) if cell.path else ''}"
                    yield f"{'    ' if cell.y > 0 else ''}{place}: {cell.text} | {tip_of(cell, desk.session)}"
            ledger.fold(shape)

    assert_as_recorded("rows", lines())
