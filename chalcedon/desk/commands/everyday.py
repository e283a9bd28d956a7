"""The commands for files, editing, shapes, order and view."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from chalcedon.desk.acts.axis import let_y_run
from chalcedon.desk.commands.command import Act, Command, one, some
from chalcedon.scene.axes import is_up
from chalcedon.scene.shapes import KINDS, MADE
from chalcedon.scene.tidy import article

if TYPE_CHECKING:
    from chalcedon.desk.window import Window


def _one_group(w: Window) -> bool:
    from chalcedon.scene import Group

    return one(w) and isinstance(w.session.current, Group)


def _in_group(w: Window) -> bool:
    current = w.session.current
    return current is not None and current.parent is not None and current.parent.parent is not None


def _undo_text(w: Window) -> str:
    name = w.session.scene.undo_name
    return f"Undo: {name}" if name else "Undo"


def _redo_text(w: Window) -> str:
    name = w.session.scene.redo_name
    return f"Redo: {name}" if name else "Redo"


def _toward(up: bool, text: str) -> Callable[[Window], str]:
    """The ledger's direction decides whether up is back or front."""

    def make(w: Window) -> str:
        return text.format("front" if up == w.ledger.front_first else "back")

    return make


def _switch_text(name: str) -> Callable[[Window], str]:
    return lambda w: f"Switch the {name} {'off' if w.edits.is_paint_on(name) else 'on'}"


def _hidden(w: Window) -> bool:
    return some(w) and not w.session.selection[-1].visible


def _locked(w: Window) -> bool:
    return some(w) and w.session.selection[-1].locked


def _make(kind: str) -> Act:
    return lambda w: w.canvas.set_kind(kind)


def _title(kind: str) -> str:
    return KINDS[kind].title or f"Make {article(kind)}"


def _step(op: str) -> Act:
    def run(w: Window) -> None:
        current = w.session.current
        if current is not None:
            w.ledger.acts.add_step(current, op)

    return run


def _delete(w: Window) -> None:
    if not w.outlining.delete():
        going = [inner.id for shape in w.session.selection for inner in shape.walk()]
        w.edits.delete()
        w.living.tell_readers(going)


EVERYDAY: tuple[Command, ...] = (
    Command("file.new", "New scene", "File", lambda w: w.files.new(), ("Ctrl+N",)),
    Command("file.open", "Open…", "File", lambda w: w.files.open(), ("Ctrl+O",)),
    Command(
        "file.shelf", "Shelf", "File", lambda w: w.show_shelf(), ("Ctrl+Shift+L",), checked=lambda w: w.shelving.shown
    ),
    Command("file.import", "Import an SVG…", "File", lambda w: w.files.import_svg()),
    Command("file.demo", "Open the demo: harbour at night", "File", lambda w: w.files.open_demo("harbour")),
    Command("file.demo_panel", "Open the demo: greenhouse panel", "File", lambda w: w.files.open_demo("greenhouse")),
    Command("file.save", "Save", "File", lambda w: w.files.save(), ("Ctrl+S",), rule=True),
    Command("file.save_as", "Save as…", "File", lambda w: w.files.save_as(), ("Ctrl+Shift+S",)),
    Command(
        "file.reload",
        "Reload from the file",
        "File",
        lambda w: w.files.reload(),
        when=lambda w: w.session.path is not None,
    ),
    Command(
        "file.versions",
        "Versions…",
        "File",
        lambda w: w.files.show_versions(),
        when=lambda w: w.session.path is not None,
    ),
    Command("file.pack", "Pack with all it needs…", "File", lambda w: w.files.pack()),
    Command("file.picture", "Write a picture…", "File", lambda w: w.picturing.picture(), ("Ctrl+Shift+E",), rule=True),
    Command("file.quit", "Quit", "File", lambda w: w.quit(), ("Ctrl+Q",), rule=True),
    Command(
        "edit.undo",
        _undo_text,
        "Edit",
        lambda w: w.session.undo(),
        ("Ctrl+Z",),
        lambda w: bool(w.session.scene.undo_name),
    ),
    Command(
        "edit.redo",
        _redo_text,
        "Edit",
        lambda w: w.session.redo(),
        ("Ctrl+Shift+Z", "Ctrl+Y"),
        lambda w: bool(w.session.scene.redo_name),
    ),
    Command("edit.changed", "What did that change?", "Edit", lambda w: w.show_changes(), ("F3",)),
    Command("edit.cut", "Cut", "Edit", lambda w: w.edits.cut(), ("Ctrl+X",), some, rule=True),
    Command("edit.copy", "Copy as text", "Edit", lambda w: w.edits.copy(), ("Ctrl+C",), some),
    Command("edit.paste", "Paste", "Edit", lambda w: w.dropping.paste(), ("Ctrl+V",)),
    Command("edit.copy_picture", "Copy as a picture", "Edit", lambda w: w.picturing.copy_picture()),
    Command("edit.copy_svg", "Copy as SVG", "Edit", lambda w: w.picturing.copy_svg()),
    Command("edit.duplicate", "Duplicate", "Edit", lambda w: w.edits.duplicate(), ("Ctrl+D",), some),
    Command("edit.delete", "Delete", "Edit", _delete, ("Del",), some),
    Command("edit.all", "Select all", "Edit", lambda w: w.edits.select_all(), ("Ctrl+A",), rule=True),
    Command("edit.none", "Select nothing", "Edit", lambda w: w.session.select([]), ("Ctrl+Shift+A",), some),
    Command(
        "edit.around", "Select the group around", "Edit", lambda w: w.edits.select_around(), ("Ctrl+Up",), _in_group
    ),
    Command(
        "edit.inside", "Select what is inside", "Edit", lambda w: w.edits.select_inside(), ("Ctrl+Down",), _one_group
    ),
    Command("shape.select", "Select and move", "Shape", _make(""), ("V",)),
    *(Command(f"shape.{kind}", _title(kind), "Shape", _make(kind), (KINDS[kind].key,)) for kind in MADE),
    Command("shape.freehand", "Draw freehand", "Shape", _make("freehand"), ("J",)),
    Command("shape.group", "Group", "Shape", lambda w: w.edits.group(), ("Ctrl+G",), some, rule=True),
    Command("shape.ungroup", "Ungroup", "Shape", lambda w: w.edits.ungroup(), ("Ctrl+Shift+G",), _one_group),
    Command("shape.rename", "Rename…", "Shape", lambda w: w.rename(), ("F2",), one),
    Command(
        "shape.visible",
        lambda w: "Show" if _hidden(w) else "Hide",
        "Shape",
        lambda w: w.edits.switch("visible"),
        ("H",),
        some,
        rule=True,
    ),
    Command(
        "shape.locked",
        lambda w: "Unlock" if _locked(w) else "Lock",
        "Shape",
        lambda w: w.edits.switch("locked"),
        ("K",),
        some,
    ),
    Command("shape.rotate", "Add a step: rotate", "Shape", _step("rotate"), (), one, rule=True),
    Command("shape.scale", "Add a step: scale", "Shape", _step("scale"), (), one),
    Command("shape.translate", "Add a step: translate", "Shape", _step("translate"), (), one),
    Command("shape.skew", "Add a step: skew", "Shape", _step("skew"), (), one),
    Command("shape.palette", "Palette of the scene…", "Shape", lambda w: w.show_palette(), ("Ctrl+P",), rule=True),
    Command("shape.presets", "Presets of paint and text…", "Shape", lambda w: w.show_presets(), ("Ctrl+Shift+P",)),
    Command("shape.fill", _switch_text("fill"), "Shape", lambda w: w.edits.switch_paint("fill"), ("Shift+F",), some),
    Command(
        "shape.stroke", _switch_text("stroke"), "Shape", lambda w: w.edits.switch_paint("stroke"), ("Shift+B",), some
    ),
    Command("shape.bake", "Bake the steps into its numbers", "Shape", lambda w: w.edits.bake(), ("Ctrl+B",), some),
    Command(
        "shape.pick",
        "Take the next shape's paint from this one",
        "Shape",
        lambda w: w.edits.pick_paint(),
        ("I",),
        one,
        rule=True,
    ),
    Command(
        "order.up",
        _toward(True, "One row up, toward the {}"),
        "Order",
        lambda w: w.edits.shift_rows(-1),
        ("Alt+Up",),
        some,
    ),
    Command(
        "order.down",
        _toward(False, "One row down, toward the {}"),
        "Order",
        lambda w: w.edits.shift_rows(1),
        ("Alt+Down",),
        some,
    ),
    Command(
        "order.past_up",
        _toward(True, "Past the next that overlaps, toward the {}"),
        "Order",
        lambda w: w.edits.past_next(-1),
        ("Alt+PgUp",),
        one,
        rule=True,
    ),
    Command(
        "order.past_down",
        _toward(False, "Past the next that overlaps, toward the {}"),
        "Order",
        lambda w: w.edits.past_next(1),
        ("Alt+PgDown",),
        one,
    ),
    Command(
        "order.top",
        _toward(True, "To the very {}"),
        "Order",
        lambda w: w.edits.to_end(-1),
        ("Alt+Home",),
        some,
        rule=True,
    ),
    Command("order.bottom", _toward(False, "To the very {}"), "Order", lambda w: w.edits.to_end(1), ("Alt+End",), some),
    Command("view.in", "Zoom in", "View", lambda w: w.canvas.zoom_to(w.canvas.view.step(1)), ("Ctrl+=", "Ctrl++", "+")),
    Command("view.out", "Zoom out", "View", lambda w: w.canvas.zoom_to(w.canvas.view.step(-1)), ("Ctrl+-", "-")),
    Command("view.actual", "Zoom to 100 %", "View", lambda w: w.canvas.zoom_to(1.0), ("1",)),
    Command("view.fit", "Fit the page", "View", lambda w: w.canvas.fit(), ("0",)),
    Command("view.selection", "Fit the selection", "View", lambda w: w.canvas.fit_selection(), ("2",), some),
    Command("view.measure", "Measure between points", "View", lambda w: w.canvas.measure(), ("D",), rule=True),
    Command(
        "view.hits",
        "Hit map",
        "View",
        lambda w: w.session.show_hit_map(not w.session.hit_map),
        ("Ctrl+Shift+H",),
        checked=lambda w: w.session.hit_map,
    ),
    Command(
        "view.snap",
        "Snap to what is near",
        "View",
        lambda w: w.placing.snap(),
        ("Ctrl+Shift+N",),
        rule=True,
        checked=lambda w: w.session.snaps,
    ),
    Command(
        "view.grid",
        "Show a grid",
        "View",
        lambda w: w.placing.grid(),
        ("Ctrl+Shift+R",),
        checked=lambda w: w.session.grid is not None,
    ),
    Command("view.grid_of", "A grid of…", "View", lambda w: w.placing.grid_of()),
    Command("view.guide_x", "Upright guide at…", "View", lambda w: w.placing.guide("x")),
    Command("view.guide_y", "Level guide at…", "View", lambda w: w.placing.guide("y")),
    Command("view.no_guides", "Take the guides away", "View", lambda w: w.placing.no_guides()),
    Command(
        "view.y_up",
        "Let y run up",
        "View",
        lambda w: let_y_run(w.session, "down" if is_up(w.session.scene) else "up"),
        rule=True,
        checked=lambda w: is_up(w.session.scene),
    ),
    Command("view.reference", "Reference picture…", "View", lambda w: w.show_reference()),
    Command(
        "view.freeze",
        "Freeze the probe",
        "View",
        lambda w: w.probe.toggle_frozen(),
        ("F",),
        rule=True,
        checked=lambda w: w.probe.frozen,
    ),
    Command(
        "view.flip",
        "List the front first",
        "View",
        lambda w: w.flip(),
        (),
        rule=True,
        checked=lambda w: w.ledger.front_first,
    ),
    Command("view.fold", "Fold all groups", "View", lambda w: w.ledger.acts.fold_all(True)),
    Command("view.unfold", "Unfold all groups", "View", lambda w: w.ledger.acts.fold_all(False)),
    Command(
        "view.plaster",
        "Plaster (light)",
        "View",
        lambda w: w.set_theme("plaster"),
        (),
        rule=True,
        checked=lambda w: w.theme_name == "plaster",
    ),
    Command(
        "view.basalt",
        "Basalt (dark)",
        "View",
        lambda w: w.set_theme("basalt"),
        (),
        checked=lambda w: w.theme_name == "basalt",
    ),
    Command("view.window", "New window on this scene", "View", lambda w: w.another(), ("Ctrl+Shift+W",), rule=True),
    Command("go.ledger", "Go to the ledger", "View", lambda w: w.ledger.setFocus(), ("F6",), rule=True),
    Command("go.canvas", "Go to the canvas", "View", lambda w: w.canvas.setFocus(), ("F7",)),
    Command("go.line", "Go to the new line", "View", lambda w: w.newline.entry.setFocus(), ("Ctrl+Return",)),
    Command("go.probe", "Go to the probe", "View", lambda w: w.probe.setFocus(), ("F8",)),
    Command("help.find", "Find anything…", "Help", lambda w: w.finder.open(), ("Ctrl+K",)),
    Command("help.keys", "Keys, a list", "Help", lambda w: w.finder.open("keys "), ("F1",)),
    Command("help.about", "About Chalcedon", "Help", lambda w: w.about()),
)
