"""What every command does to a scene and says, and what the rows of every shape read, as it was found right."""

import pytest
from greenhouse import greenhouse
from PySide6.QtWidgets import QApplication
from recorded import assert_as_recorded, changed

from chalcedon.desk.commands import COMMANDS
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.formula import Formula
from chalcedon.scene import Circle, Group, Line, Polyline, Rect, Scene, Step, Text
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


def acts(desk, menu, selections, make):
    """What each command of a menu does to each selection in a scene."""
    for title, ids in selections.items():
        yield f"== {title}"
        desk.session.new(make(), "")
        for command in COMMANDS:
            if command.menu == menu and command.name not in LEFT_OUT:
                desk.session.select([desk[i] for i in ids])
                offered = command.when is None or bool(command.when(desk.w))
                yield f"{command.name}{'' if offered else ': not offered'}"
                if offered:
                    yield from told(desk, command)


@pytest.mark.parametrize("menu", MENUS)
def test_commands_do_what_they_were_found_to_do(menu, desk):
    assert_as_recorded(f"acts-{menu.lower()}", acts(desk, menu, SELECTIONS, greenhouse))


def tide():
    """A scene of which nearly every number is a formula."""

    def now(text, last):
        return Formula(text, last)

    return Scene(
        [
            Rect(id="crate", at=(now("tide", 100), now("tide * 2", 200)), size=(now("40 + tide", 140), 60),
                 corners=now("tide / 10", 10), fill=now("mix('red', 'blue', tide / 200)", "red"),
                 opacity=now("tide / 200", 0.5), steps=[Step("rotate", now("tide / 5", 20))]),
            Circle(id="moon", at=(300, now("tide", 100)), radius=now("tide / 4", 25), stroke="black",
                   stroke_width=now("tide / 20", 5)),
            Polyline(id="rope", at=(now("tide", 100), 40), stroke="red", stroke_width=4,
                     points=[(0, 0), (now("tide", 100), 20), now("(tide, tide)", (100, 100))]),
            Text(id="sign", content=now("f'level {tide}'", "level 100"), at=(now("tide", 100), 300),
                 size=now("tide / 4", 25)),
            Group(id="boat", at=(now("tide + 200", 300), 250), steps=[Step("rotate", now("tide / 10", 10))], children=[
                Rect(id="hull", size=(now("tide", 100), 30), fill="brown"),
                Line(id="mast", at=(now("tide / 2", 50), 0), to=(0, now("-tide", -100)), stroke="black")]),
        ],
        size=(640, 460), inputs={"tide": {"number": 100}},
    )  # fmt: skip


FORMULAS = {"a rect": ["crate"], "a line": ["rope"], "three": ["crate", "moon", "rope"], "a text": ["sign"],
            "a group": ["boat"], "within a group": ["mast"]}  # fmt: skip


@pytest.mark.parametrize("menu", [*MENUS])
def test_commands_on_formulas_do_what_they_were_found_to_do(menu, desk):
    assert_as_recorded(f"formulas-{menu.lower()}", acts(desk, menu, FORMULAS, tide))


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
