"""The window as it was looked at and found right: pictures of it stay as they are, but for what is meant to change.

Those of the documentation are made by `make docs` (with --pictures); the others stand in `screens` and are written anew
when CHALCEDON_SCREENS is set. Either way: open them and look before they are committed.
"""

import os
from pathlib import Path

import numpy as np
import pytest
from agree import pixels
from greenhouse import greenhouse
from PIL import Image
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from chalcedon.files import save_scene
from chalcedon.painter.sheet import sheet_image
from chalcedon.scene import Rect, Scene, Step
from scripts.make_screenshots import VIEWS, Studio

DOCS = Path(__file__).parent.parent.parent / "docs" / "screenshots"
OWN = Path(__file__).parent / "screens"
MOST = 8
"""Px that may differ: what lies between shades."""


def differing(image, file):
    now = pixels(image)
    was = np.asarray(Image.open(file).convert("RGB")).astype(int)
    assert now.shape == was.shape, "another size"
    ys, xs = np.nonzero(np.abs(now - was).max(axis=2) > 24)
    return len(xs), (xs.min(), ys.min(), xs.max(), ys.max()) if len(xs) else ()


@pytest.mark.parametrize("name", VIEWS)
def test_the_pictures_of_the_documentation_show_the_window(name, tmp_path, qapp, monkeypatch):
    studio = Studio(tmp_path)
    studio.fresh()
    VIEWS[name](studio)
    studio.window.finder.hide()
    studio.window.close()
    off, where = differing(QImage(str(tmp_path / f"{name}.png")), DOCS / f"{name}.png")
    assert off <= MOST, f"{off} px differ, in {where}: if that is meant, look at the picture and make it anew"


def focused(desk, id, role, name, path=()):
    desk.session.select([desk[id]])
    ledger = desk.w.ledger
    ledger.setFocus()
    ledger.focus_key = (role, name, path)
    ledger.keys.tell_focus()


def several(desk):
    desk.session.select([desk[n] for n in ("flower", "dial", "sign")])


def drawing(desk):
    desk.w.canvas.set_kind("path")
    desk.drag((100, 300), (140, 260))
    desk.drag((240, 340), (300, 340))
    desk.click(380, 280)
    desk.hover(420, 380)


def dragged_row(desk):
    ledger = desk.w.ledger
    tops = {id: int(ledger.top_of(ledger.index_of(desk[id]))) - ledger.verticalScrollBar().value() for id in desk.order}
    spots = [QPoint(90, tops["sun"] + 14), QPoint(90, tops["sun"] + 22), QPoint(60, tops["flower"] + 2)]
    desk._drag(ledger.viewport(), spots, Qt.KeyboardModifier.NoModifier, release=False)


def measuring(desk):
    desk.w.run_command("view.measure")
    desk.drag((60, 60), (300, 200), release=False)


def resizing(desk):
    desk.session.select([desk["pane"]])
    desk.hover(360, 260)
    desk.drag((360, 260), (400, 300), release=False)
    desk.type("410")


def narrow(desk):
    desk.w.resize(800, 560)
    desk["dial"].outer = 60
    desk.session.flush()
    desk.w.run_command("file.new")


def picking(desk):
    desk.click_cell("pane", "paint", "fill", opened=False)
    return desk.w.ledger.acts.picker


def referring(desk):
    desk.w.show_reference()
    return desk.w.reference_panel


def stepping(desk):
    desk["flower"].steps = [Step("rotate", 20), Step("scale", (1.3, 0.8)), Step("translate", (10, -20))]
    desk.session.flush()
    focused(desk, "flower", "number", "steps", (1, 0))


CROSSED = "M0 0 C40 60 -40 120 10 170 S90 60 20 40 S-60 120 60 150"
"""Two fill rules fill it differently."""


def pointing(desk):
    desk["vine"].data = CROSSED
    desk.session.flush()
    desk.w.canvas.edit_points(desk["vine"])
    tool = desk.w.canvas.tool
    desk.drag(tool._started().scene_of(tool.contours()[0].knots[1]))
    desk.hover(200, 400)


def wrong_line(desk):
    desk.w.newline.entry.setFocus()
    desk.type("circle 100 100 30 fil red", desk.w.newline.entry)
    desk.key(Qt.Key.Key_Return, widget=desk.w.newline.entry)


def half_a_line(desk):
    desk.w.newline.entry.setFocus()
    desk.type("annulus 300 300 20 40 st", desk.w.newline.entry)
    return desk.w.newline.list


def shadowed(desk):
    desk.session.select([desk["pane"]])
    desk.click_cell("pane", "paint", "shadow", (3,))
    return desk.w.ledger.acts.picker


def hovered(desk):
    """The word of a value that is folded away, under the pointer."""
    desk.session.select([desk["dial"]])
    _cell, spot = desk.cell("dial", "offer", "shadow")
    QTest.mouseMove(desk.w.ledger.viewport(), spot)


def checked(desk):
    desk["vine"].data = CROSSED
    desk.session.flush()
    desk.w.run_command("outline.check")


def named(desk):
    desk.w.run_command("shape.palette")
    return desk.w.palette_panel


def sought(desk):
    desk.session.select([desk["dial"]])
    desk.w.ledger.setFocus()
    desk.type("st", desk.w.ledger)


def alive(desk):
    """The scene lives, and its events are listed."""
    desk.w.run_command("live.mode")
    player = desk.session.document.player
    player._timer.stop()
    desk.click(200, 200)
    player.live.advance(0.1)
    player._after()
    desk.w.living.log.refresh()


def inputs(desk):
    desk.w.run_command("live.inputs")
    return desk.w.living.panel


def presets(desk):
    desk.session.select([desk["pane"]])
    desk.w.run_command("shape.presets")
    return desk.w.presets_panel


def ruled(desk):
    desk.w.run_command("view.grid")
    desk.w.run_command("view.hits")
    desk.session.select([desk["dial"]])


def compared(desk):
    desk.session.select([desk["flower"], desk["dial"]])
    desk.w.run_command("outline.compare")


SCREENS = {
    "value-sought": sought,
    "alive": alive,
    "inputs": inputs,
    "presets": presets,
    "ruled": ruled,
    "compared": compared,
    "points": pointing,
    "wrong-line": wrong_line,
    "half-a-line": half_a_line,
    "shadow": shadowed,
    "hovered": hovered,
    "checked": checked,
    "palette": named,
    "several": several,
    "path-drawn": drawing,
    "row-dragged": dragged_row,
    "measuring": measuring,
    "size-typed": resizing,
    "narrow-with-question": narrow,
    "gradient-picker": picking,
    "reference": referring,
    "steps": stepping,
    "rounded": lambda desk: focused(desk, "pane", "number", "corners", (0,)),
    "star": lambda desk: focused(desk, "flower", "number", "inner"),
    "slice": lambda desk: focused(desk, "dial", "number", "sweep"),
    "arc": lambda desk: focused(desk, "draught", "number", "start"),
    "letters": lambda desk: focused(desk, "sign", "number", "size"),
    "radial": lambda desk: focused(desk, "sun", "paint", "fill"),
    "clipped": lambda desk: focused(desk, "stalk", "number", "stroke_width"),
}


def shown(desk, name, theme=None):
    """The window in one of its states, as it looks when the theme is changed in the middle of that."""
    window = desk.w
    desk.session.new(greenhouse(), "greenhouse")
    window.resize(1080, 680)
    window.canvas.fit()
    popup = SCREENS[name](desk)
    if theme is not None:
        window.set_theme(theme)
    canvas = window.canvas
    window.ledger.thumbs.hurried = False
    QApplication.processEvents()
    QTest.qWait(60)
    window.checking.look()  # it would be about now
    QApplication.processEvents()
    canvas.tiles.refine(canvas.view, canvas.width(), canvas.height(), 30.0)
    shot = window.grab()
    if popup is not None:
        painter = QPainter(shot)
        painter.drawPixmap(popup.pos() - window.pos(), popup.grab())
        painter.end()
        popup.close()
    desk.key(Qt.Key.Key_Escape)
    return shot


def assert_as_it_was(name, image):
    file = OWN / f"{name}.png"
    if os.environ.get("CHALCEDON_SCREENS"):
        OWN.mkdir(exist_ok=True)
        image.save(str(file))
        Image.open(file).convert("RGB").save(file, optimize=True)
    off, where = differing(image, file)
    assert off <= MOST, f"{off} px differ, in {where}: if that is meant, look at the picture and write it anew"


@pytest.mark.parametrize("name", SCREENS)
def test_the_window_looks_as_it_did(name, desk):
    assert_as_it_was(name, shown(desk, name).toImage())


def test_a_contact_sheet_looks_as_it_did(qapp, tmp_path):
    (tmp_path / "broken.chal").write_text("[]")
    scenes = {"glass": greenhouse(), "a name that is far too long for its place": Scene([Rect(size=(30, 90))])}
    for name, scene in scenes.items():
        save_scene(scene, tmp_path / f"{name}.chal")
    files = [tmp_path / f"{name}.chal" for name in (*scenes, "broken", "gone")]
    assert_as_it_was("sheet", sheet_image(files, 3, 140.0, notes=(notes := [])))
    assert len(notes) == 2


@pytest.mark.parametrize("name", ["narrow-with-question", "size-typed", "steps", "path-drawn"])
def test_a_theme_changed_in_the_middle_of_it_looks_as_if_it_had_always_been(name, desk, tmp_path):
    shown(desk, name)  # both begin from the same state
    desk.w.messages.dismiss()
    changed = shown(desk, name, "basalt")
    desk.w.messages.dismiss()
    shown(desk, name).save(str(tmp_path / "always.png"))
    desk.w.set_theme("plaster")
    off, where = differing(changed.toImage(), tmp_path / "always.png")
    assert off <= 2 * MOST, f"{off} px are of the other theme, in {where}"
